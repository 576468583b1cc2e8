"""Write src/haze/demo/history.haze: what the Saltgate club did in three months.

Nobody sprayed any of it: looks are drawn from the spray model with airbrushes and bottles unlike
its tables, photos come from the simulators and say so. Its dates are moved when it is loaded.
"""

from __future__ import annotations

import io
import json
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import Mock, patch

import made_up
import numpy as np

from haze.core.inspect.piece.stand_in import patch_at, pose_from
from haze.core.mesh.detail import COARSE
from haze.core.plan.document import Plan
from haze.core.spray.calibrate import chances
from haze.demo import saltgate
from haze.demo.history import ANCHOR, HISTORY, PLANS
from haze.service.bench import Bench
from haze.service.cards.piece_photos import STAND_IN_PX, PieceStandIn, piece_stand_in
from haze.service.cards.stand_in import unlike_the_tables
from haze.service.cups.trials import ThroughBody
from haze.service.files import written
from haze.service.plan import plans
from haze.store import connection
from haze.web.app import create_app

LOOKS = ("clean", "spiders", "specks", "dust", "nothing")
GROUND = {"surface": "matt", "lightness": 95, "contrast": None}
ROOM = {"temperature_c": 20, "humidity_pct": 50}
THINNERS = {"lacquer": "lacquer-thinner", "enamel_wash": "spirit"}
TARGET = Path(__file__).parent.parent / "src" / "haze" / "demo" / HISTORY


@dataclass
class Club:
    """The club at its bench: a served data folder, and the day it is."""

    client: Any
    bench: Bench
    shelf: dict[str, Any]
    rng: np.random.Generator = field(default_factory=lambda: np.random.default_rng(1876))
    count: int = 0

    def ask(self, method: str, path: str, body: object = None) -> Any:
        answer = self.client.open(f"/api/{path}", method=method, json=body)
        if answer.status_code >= 400:
            raise RuntimeError(f"{method} {path}: {answer.text[:400]}")
        return answer.json

    def post(self, path: str, body: object = None) -> Any:
        return self.ask("POST", path, body)

    def job(self, path: str, body: object) -> dict[str, Any]:
        job = self.post(path, body)
        while job["state"] in ("waiting", "running"):
            events = self.client.get(f"/api/jobs/{job['id']}/events").text
            lines = [line for line in events.splitlines() if line.startswith("data: ")]
            job = json.loads(lines[-1].removeprefix("data: "))
        return dict(job)

    def name(self, what: str) -> str:
        self.count += 1
        return f"{what}-{self.count:05}"

    def paint(self, name: str) -> dict[str, Any]:
        return next(p for p in self.shelf["paints"] if p["name"] == name)

    def airbrush(self, needle_mm: float) -> dict[str, Any]:
        return next(a for a in self.shelf["airbrushes"] if a["needle_mm"] == needle_mm)


@contextmanager
def on_day(days_ago: float, hour: float = 19.0) -> Iterator[None]:
    """Let the program take another moment for now; each look at the clock is some seconds later."""
    at = datetime.combine(ANCHOR, datetime.min.time(), UTC) + timedelta(days=-days_ago, hours=hour)

    clock = Mock(wraps=datetime)
    clock.now.side_effect = lambda tz: at + timedelta(seconds=40 * clock.now.call_count)
    with patch.object(connection, "datetime", clock):
        yield


def setting_of(club: Club, paint: dict[str, Any], airbrush: dict[str, Any]) -> dict[str, Any]:
    """The recipe by all that is known so far, as the screens ask it."""
    wanted = THINNERS.get(paint["kind"], "acrylic-thinner")
    thinner = next(t for t in club.shelf["thinners"] if t["id"] == wanted)
    body = {
        "paint": {"kind": paint["kind"], "drop_ul": paint["drop_ul"]},
        "paint_id": paint["id"],
        "airbrush_id": airbrush["id"],
        "needle_mm": airbrush["needle_mm"],
        "thinner": thinner["kind"],
        "task": "cover",
        "school": "middle",
        "room": ROOM,
        "ground": GROUND,
        "line_mm": None,
        "speck_mm": None,
    }
    found = club.post("recipe/known", body)
    if "none" in found:
        raise RuntimeError(f"{paint['name']}: {found['none']}")
    return {**found, "ground": GROUND, "additives": []}


def through(paint: dict[str, Any], airbrush: dict[str, Any]) -> dict[str, Any]:
    return {
        "paint": {key: paint[key] for key in ("id", "name", "kind")},
        "airbrush": {key: airbrush[key] for key in ("id", "name", "needle_mm")},
    }


def look_of(club: Club, body: dict[str, Any]) -> str:
    """What a card would look like through an airbrush and a bottle unlike the tables."""
    given = ThroughBody.model_validate({k: body[k] for k in ("paint", "airbrush", "setting")})
    cup = zlib.crc32(f"{body['paint']['name']}/{body['airbrush']['name']}".encode())
    odds = np.asarray(chances(given.sprayed, unlike_the_tables(cup)), dtype=float).ravel()
    return str(club.rng.choice(LOOKS, p=odds / odds.sum()))


def an_evening_of_trials(club: Club, pairs: list[tuple[str, float]], *, steps: int = 2) -> None:
    """Cards sprayed by recipe, then with more and with less air."""
    for name, needle in pairs:
        paint, airbrush = club.paint(name), club.airbrush(needle)
        for factor in (1.0, 0.6, 1.7)[:steps]:
            setting = setting_of(club, paint, airbrush)
            setting["pressure_psi"] = round(2 * factor * setting["pressure_psi"]) / 2
            body = {**through(paint, airbrush), "setting": setting}
            body |= {"id": club.name("history-trial"), "look": look_of(club, body)}
            club.post("trials", body)


def cards_with_photos(club: Club, sprayed: list[tuple[str, float, float, str]]) -> None:
    """Cards printed, sprayed with some share of the recipe's air, photographed.

    The look is what one sees on the photo, read or not.
    """
    for name, needle, air, look in sprayed:
        paint, airbrush = club.paint(name), club.airbrush(needle)
        setting = setting_of(club, paint, airbrush)
        setting["pressure_psi"] = round(2 * air * setting["pressure_psi"]) / 2
        body = {**through(paint, airbrush), "setting": setting}
        card = club.post("cards", {**body, "task": "cover"})
        photo = club.post(f"cards/{card['number']}/stand-in", {"seed": card["number"] + 1})
        agreed = {"id": club.name("history-card"), "look": look}
        club.post(f"cards/photos/{photo['id']}/agree", agreed)


def at_the_booth(
    club: Club, plan: str, day: date, *, share: float = 1.0, went_wrong: bool = False
) -> None:
    """A day of a plan, pressed through; `share` of it where it was left."""
    view = club.ask("GET", f"plans/{plan}/day?today={day.isoformat()}")
    view = club.ask("PUT", f"days/{view['id']}", {"version": view["version"], "doc": view["doc"]})
    club.job(f"days/{view['id']}/lay", {"near": False})
    steps = club.ask("GET", f"days/{view['id']}/booth")["steps"]
    steps = steps[: max(1, round(share * len(steps)))]
    start = datetime.combine(day, datetime.min.time(), UTC) + timedelta(hours=13.5)
    events = made_up.presses(view["id"], steps, start, trouble=went_wrong)
    club.post(f"days/{view['id']}/events", {"events": events})


def compared(club: Club, plan: str, azimuth_deg: float, reached: float) -> None:
    """A photo of the piece, the light coats short of the plan, laid over it by a ring."""
    view = plan_of(club.bench, plan)
    on = club.bench.on(view)
    how = PieceStandIn(azimuth_deg=azimuth_deg, elevation_deg=16, reached=reached)
    photo = piece_stand_in(club.bench.db, plan, view, on, how)
    wide, high = STAND_IN_PX
    pose = pose_from(on.piece.mesh, azimuth_deg, 16, width=wide, height=high)
    at, _ = pose.seen_at(on.piece.mesh.vertices)
    (left, top), (right, foot) = (
        np.clip((at.min(axis=0) - 25) / STAND_IN_PX, 0, 1),
        np.clip((at.max(axis=0) + 25) / STAND_IN_PX, 0, 1),
    )
    corners = [(left, top), (right, top), (right, foot), ((left + right) / 2, foot), (left, foot)]
    x, y = patch_at(wide, high)
    marks = {
        "ring": [{"x": float(x), "y": float(y)} for x, y in corners],
        "side": {"azimuth_deg": azimuth_deg, "elevation_deg": 16},
        "patch": {"x": x / wide, "y": y / high},
    }
    found = club.post(f"piece-photos/{photo.id}/compare", marks)
    print("compared", view.name, str(found["told"])[:160])


def marked(club: Club, words: str, rating: int | None, *, day: date | None = None) -> None:
    """Write beside the session of a day, or beside the newest one."""
    held = club.ask("GET", "notebook")["sessions"]
    one = next(s for s in held if day is None or s["date"] == day.isoformat())
    club.ask("PUT", f"sessions/{one['id']}", {"note": words, "rating": rating})


def made(folder: Path) -> bytes:
    """The whole archive of the history."""
    bench = Bench(folder, ahead=False, detail=COARSE)
    saltgate.load(bench.db)
    app = create_app(bench)
    club = Club(app.test_client(), bench, {})
    club.shelf = club.ask("GET", "shelf")
    known = {p["name"]: p["id"] for p in club.ask("GET", "plans")["plans"]}
    for identity in known.values():
        bench.opened(plan_of(bench, identity))
    herald, stair, marrow, wardens = (known[name] for name in PLANS)
    three_months(club, herald, stair, marrow, wardens)
    with tempfile.TemporaryFile() as file:
        written.write_notebook(bench.db, file)
        file.seek(0)
        return trimmed(file, {identity: PLANS[name] for name, identity in known.items()})


def plan_of(bench: Bench, identity: str) -> Plan:
    return plans.open_plan(bench.db, identity).plan


def three_months(club: Club, herald: str, stair: str, marrow: str, wardens: str) -> None:
    """Evening after evening."""
    with on_day(84):
        an_evening_of_trials(
            club, [("Wrack Green", 0.3), ("Tern White", 0.3), ("Slate", 0.3)], steps=3
        )
        marked(club, "First evening with the cards. White wants more air than green.", None)
    with on_day(70):
        at_the_booth(club, herald, ANCHOR - timedelta(days=70))
        marked(club, "Went as planned. The face came out smooth.", 4)
        compared(club, herald, 20, 0.9)
        compared(club, herald, 320, 0.9)
    with on_day(56):
        cards_with_photos(
            club,
            [
                ("Tern White", 0.3, 1.0, "clean"),
                ("Shoal Blue", 0.2, 2.2, "spiders"),
                ("Bilge Black", 0.5, 0.4, "specks"),
            ],
        )
        marked(club, "Photos by the window, no lamp.", None)
    with on_day(42):
        an_evening_of_trials(
            club, [("Bilge Black", 0.5), ("Lamp Amber", 0.2), ("Shoal Blue", 0.3)], steps=3
        )
    with on_day(35):
        day = ANCHOR - timedelta(days=35)
        at_the_booth(club, stair, day, went_wrong=True)
        words = "Specks on the wall. Two psi more, and they went."
        marked(club, words, 3, day=day)
    with on_day(30):
        compared(club, stair, 15, 0.6)
    with on_day(21):
        cards_with_photos(
            club,
            [
                ("Slate", 0.3, 1.0, "clean"),
                ("Rope Buff", 0.2, 0.5, "clean"),
                ("Wrack Green", 0.3, 1.8, "spiders"),
            ],
        )
        an_evening_of_trials(club, [("Pool Glow", 0.2), ("Dawn Rose", 0.2)], steps=2)
    with on_day(12):
        at_the_booth(club, marrow, ANCHOR - timedelta(days=12))
        marked(club, "The rust on the bucket is the best we did. Keep this recipe.", 5)
    with on_day(1):
        at_the_booth(club, wardens, ANCHOR - timedelta(days=1), share=0.5)
        marked(club, "Left after the veil; goes on tomorrow.", None)


def trimmed(file: Any, plans: dict[str, str]) -> bytes:
    """The archive without what the demo has anyway; plans have names that are always theirs."""
    out = io.BytesIO()
    with zipfile.ZipFile(file) as whole, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        text = whole.read("haze.json").decode()
        for identity, name in plans.items():
            text = text.replace(identity, name)
        held = json.loads(text)
        for part in ("plans", "meshes", "paints", "thinners", "airbrushes", "practice"):
            held[part] = []
        pack.writestr("haze.json", json.dumps(held, separators=(",", ":")))
        for name in whole.namelist():
            if name.startswith(("photos/", "card-photos/", "piece-photos/")):
                pack.writestr(zipfile.ZipInfo(name), whole.read(name))
    return out.getvalue()


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        TARGET.write_bytes(made(Path(folder)))
    print(f"{TARGET.name}: {TARGET.stat().st_size / 1e6:.1f} MB")


if __name__ == "__main__":
    main()
