"""Plans and coats that tests build on."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from haze.core.drafting.sites import PANELS, Places, Sites, Sweep, sweeps_for
from haze.core.mesh.detail import COARSE
from haze.core.onpiece.painting import Spraying
from haze.core.plan.coat import Aim, Coat, SprayAt, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.piece import Piece
from haze.core.spray.model import Outcome
from haze.service.bench import Bench
from haze.service.plan.scheme import PaintGiven
from haze.service.shelf import starter
from haze.service.work.jobs import Jobs, JobView
from haze.store import shelf as rows

MESH = "0" * 64
WAIT_S = 300.0  # far more than anything takes, on a machine that is busy with other things


def coarse(folder: Path, *, ahead: bool = True) -> Bench:
    """A bench with the example shelf, whose pieces have few points and are soon worked out."""
    bench = Bench(folder, ahead=ahead, detail=COARSE)
    with bench.db.atomic() as tx:
        if not rows.paints(tx) and not rows.trashed_paints(tx):
            for paint in starter.PAINTS:
                rows.put_paint(tx, paint)
    return bench


def going(_: float, __: str) -> bool:
    """A report that lets work go on."""
    return True


def stopping(_: float, __: str) -> bool:
    """A report that stops work at once."""
    return False


def ended(jobs: Jobs, job: JobView) -> JobView:
    """The last view of a job."""
    last = [view for view in jobs.watch(job.id) if view is not None][-1]
    assert last.state in ("done", "failed", "cancelled")
    return last


def with_station(plan: Plan, coat: int, **change: float) -> Plan:
    """A plan whose coat has its first station changed."""
    changed = plan.model_copy(deep=True)
    step = changed.coats[coat]
    assert step.kind == "spray"
    step.stations = [step.stations[0].model_copy(update=change), *step.stations[1:]]
    return changed


def with_spray(plan: Plan, coat: int, **change: float) -> Plan:
    """A plan whose coat is set otherwise."""
    changed = plan.model_copy(deep=True)
    step = changed.coats[coat]
    assert step.kind == "spray"
    step.spray = step.spray.model_copy(update=change)
    return changed


def coat(identity: str = "c1", *, kind: str = "airbrush_acrylic", **spray: float) -> Coat:
    settings = {
        "thinner_parts": 1.0,
        "trigger": 0.3,
        "pressure_psi": 20.0,
        "distance_mm": 75.0,
        "speed_mm_s": 150.0,
    }
    thinner = {"lacquer": "lacquer_thinner", "enamel_wash": "spirit"}.get(kind, "acrylic_thinner")
    return Coat(
        id=identity,
        name="Wrack Green",
        task="cover",
        paint=PaintUsed(
            id="p", name="Wrack Green", kind=kind, masstone="#4b5a35", opacity="opaque"
        ),
        thinner=ThinnerUsed(id="t", name="own thinner", kind=thinner),
        spray=SprayAt(**(settings | spray)),
        stations=[StationAt(id=f"{identity}-1", azimuth_deg=0, elevation_deg=30, passes=2)],
    )


def plan(*coats: Coat, copies: int = 1) -> Plan:
    return Plan(
        name="Test",
        piece=Piece(mesh=MESH, name="ball", height_mm=32, copies=copies),
        airbrush=AirbrushUsed(id="a", name="All-round", needle_mm=0.3),
        coats=list(coats),
    )


def outcome_of(coat: Coat) -> Outcome:
    """What a coat's setting does through the plan's needle."""
    p = plan(coat)
    return Spraying.of(p, coat).outcome()


def is_problem(response: TestResponse, status: int, code: str) -> dict[str, Any]:
    """The body of a refusal, which has a status, a code and a whole sentence."""
    assert response.status_code == status
    assert response.mimetype == "application/problem+json"
    body = json.loads(response.data)
    assert {"type", "title", "status", "detail", "code"} <= set(body)
    assert body["code"] == code
    assert body["detail"].endswith(".")
    return body


def last_view(client: FlaskClient, job: dict[str, Any]) -> dict[str, Any]:
    """A job's last view, followed on one open request."""
    events = client.get(f"/api/jobs/{job['id']}/events").data
    last = [line for line in events.split(b"\n") if line.startswith(b"data: ")][-1]
    return json.loads(last.removeprefix(b"data: "))


def done(client: FlaskClient, job: dict[str, Any]) -> None:
    """Follow a job to its end, which must be a good one."""
    view = last_view(client, job)
    assert view["state"] == "done", view


def taken(client: FlaskClient, data: bytes, *, name: str) -> dict[str, Any]:
    """A mesh file sent, checked and kept."""
    job = client.post(f"/api/meshes?name={name}", data=data).json
    done(client, job)
    return client.get(f"/api/meshes/taken/{job['id']}").json


def plain_places(light: KeyLight | None = None, *, panels: bool = False) -> Places:
    """A figure lit from the shoulder, as measured on one: films of each sweep at five places.

    With `panels` it has some, which take half of what is aimed at them.
    """
    films = (
        (0.31, 0.83, 0.78, 0.81, 0.90),
        (1.24, 1.78, 2.00, 1.91, 2.03),
        (0.03, 0.20, 0.26, 0.38, 0.48),
        (0.00, 0.10, 0.28, 0.52, 0.71),
        (0.00, 0.10, 0.29, 0.50, 0.71),
        (0.00, 0.08, 0.28, 0.53, 0.64),
        (0.63, 0.33, 0.54, 0.35, 0.46),
        (0.55, 0.20, 0.05, 0.00, 0.00),
    )
    swept = sweeps_for(light or KeyLight())
    sweeps = {n: Sweep(s, np.array(f)) for n, (s, f) in enumerate(zip(swept, films, strict=True))}
    if panels:
        sweeps[PANELS] = Sweep((), np.full(len(films[0]), 0.5), Aim(field="panels"))
    return Places(
        sweeps,
        np.array([1.28, 0.82, 0.58, 0.66, 0.54]),
        np.zeros(len(films[0])),
    )


def plain_sites(light: KeyLight | None = None, *, panels: bool = False) -> Sites:
    """The same piece roughly and finely."""
    places = plain_places(light, panels=panels)
    return Sites(places, places)


# a shelf known by colour alone
PAINTS = [
    PaintGiven(name=name, masstone=colour, opacity=opacity)  # type: ignore[arg-type]
    for name, colour, opacity in (
        ("White", "#f3f2ec", "opaque"),
        ("Black", "#17181a", "opaque"),
        ("Grey", "#70757a", "opaque"),
        ("Red", "#a81c1c", "semi_opaque"),
        ("Orange", "#d86a1c", "semi_opaque"),
        ("Green", "#2f7a3a", "opaque"),
        ("Sand", "#c9ab6a", "opaque"),
        ("Red glass", "#b0261e", "transparent"),
        ("Brown glass", "#5a3a20", "transparent"),
    )
]


PART = Aim(field="part", part="part-2", margin_mm=0, passes=4)


def for_part(plan: Plan, **aim: object) -> Plan:
    """The last coat of a plan, red and for one part."""
    last = plan.coats[-1]
    assert last.kind == "spray"
    red = last.paint.model_copy(update={"masstone": "#b01818", "opacity": "opaque"})
    change = {"stations": [], "aim": PART.model_copy(update=aim), "task": "cover"}
    coats = [*plan.coats[:-1], last.model_copy(update=change | {"paint": red, "also": []})]
    return plan.model_copy(update={"coats": coats})


CARD: dict[str, Any] = {
    "paint": {"kind": "white"},
    "thinner": "acrylic_thinner",
    "thinner_parts": 1.0,
    "needle_mm": 0.3,
    "trigger": 0.3,
    "pressure_psi": 18,
    "distance_mm": 60,
    "speed_mm_s": 80,
    "room": {"temperature_c": 19.4, "humidity_pct": 52},
}
"""The setting of a trial on card."""
