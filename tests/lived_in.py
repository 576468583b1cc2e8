"""A data folder as it is after some evenings, and every screen opened on it."""

from __future__ import annotations

from collections.abc import Iterator

from flask.testing import FlaskClient

from begun import begun
from haze.core.plan.coat import SprayAt
from haze.service.bench import Bench
from haze.service.booth.booth import EventsBody, open_booth
from haze.service.cards import cards, piece_photos, practice, trash
from haze.service.cards.cards import CardBody
from haze.service.cards.practice import PracticeAnswer
from haze.service.cups.trials import TrialBody, WayBody, keep_way
from haze.service.day import days
from haze.service.day.days import LayBody, PutDay
from haze.service.notebook import notebook
from haze.service.notebook import photos as session_photos
from haze.service.notebook.notebook import MarkBody
from haze.service.piece.meshes import add_mesh
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan
from haze.service.shelf import shelf
from haze.service.shelf.shelf import BulkChange
from helpers import CARD, going
from service.files.carded import jpeg, photographed

PAINT = {"id": "tern-white", "name": "Tern White", "kind": "white"}
FOR = {"task": "cover"}
AIRBRUSH = {"id": "all-round", "name": "All-round", "needle_mm": 0.3}


def lived_in(bench: Bench, mesh: bytes) -> None:
    """Fill a bench by what a painter does, so that no table is empty.

    Parameters
    ----------
    bench : of a fresh folder in whose cache the piece is worked out
    mesh : of the cone
    """
    kept = add_mesh(bench.db, mesh, name="cone.stl")
    first, second, away = (
        begun(bench.db, NewPlan(mesh=kept.id, name=name, height_mm=25))
        for name in ("Wardens", "Stair", "Herald")
    )
    plans.put_away(bench.db, away.id, version=away.version, trashed=True)
    bench.cache.make(first.plan.piece, going)
    _at_the_booth(bench, first)
    for n, look in enumerate(("specks", "clean", "spiders")):
        bench.log_trial(_trial(n, look))
    bench.take_trial_back("trial-0002", back=True)
    keep_way(bench.db, _way())
    _on_cards(bench, second)
    for line in bench.notebook().sessions:
        notebook.mark(bench.db, line.id, MarkBody(note="The left lamp was too hot", rating=4))
        for shade in (40, 60):
            photo = session_photos.add(bench.db, line.id, jpeg(shade))
        session_photos.put_away(bench.db, photo.id, trashed=True)
    held = shelf.shelf_of(bench.db).paints
    shelf.change_many(bench.db, BulkChange(ids=[held[0].id], ml_left=12))
    shelf.put_away(bench.db, [held[1].id], trashed=True)
    bench.tablets.new_code()
    code = bench.tablets.view().code
    assert code
    bench.tablets.pair(code, "Tablet at the bench")


def _at_the_booth(bench: Bench, plan: PlanView) -> None:
    view = days.of_plan(bench.db, plan.id, today="2026-11-28")
    view = days.put(bench.db, view.id, PutDay(version=0, doc=view.doc))
    days.lay(bench.db, view.id, LayBody(), opened=lambda p, _: bench.on(p), report=going)
    steps = open_booth(bench.db, view.id, bench.on).steps
    pressed = []
    for n, step in enumerate(steps[:12]):
        told = {"look": "clean"} if step.kind == "trial" else {}
        pressed.append(
            {
                "id": f"press-{n:06}",
                "at": f"2026-11-28T14:{n:02}:00Z",
                "minute": float(n),
                "kind": "tried" if told else "done",
                "step": step.id,
                **told,
            }
        )
    held = next(s for s in steps if s.kind == "hold")
    about = {"step": held.id, "plan": held.plan, "coat": held.coat}
    moment = {"at": "2026-11-28T14:30:00Z", "minute": 30.0}
    pressed.append({"id": "problem-01", "kind": "problem", "symptom": "specks", **about, **moment})
    turned = {"kind": "turned", "knob": "pressure_psi", "to": 24.0}
    pressed.append({"id": "turned-001", **turned, **about, **moment})
    bench.take_presses(view.id, EventsBody.model_validate({"events": pressed}))


def _trial(n: int, look: str) -> TrialBody:
    about = {"paint": PAINT, "airbrush": AIRBRUSH, "setting": CARD}
    return TrialBody.model_validate({"id": f"trial-{n:04}", "look": look, **about})


def _way() -> WayBody:
    spray = SprayAt(thinner_parts=1.0, trigger=0.3, pressure_psi=18, distance_mm=70, speed_mm_s=120)
    return WayBody(
        paint="tern-white", airbrush="all-round", needle_mm=0.3, task="cover", spray=spray
    )


def _on_cards(bench: Bench, plan: PlanView) -> None:
    paint = bench.shelf().paints[0]
    asked = {"paint": {"id": paint.id, "name": paint.name, "kind": paint.kind}}
    asked |= {"airbrush": AIRBRUSH, "setting": CARD, "plan": plan.id, "title": "Shade"}
    card = cards.make(bench.db, bench.shelf(), CardBody.model_validate(asked))
    for shade in (90, 120):
        shown = photographed(bench, card.number, shade)
    away = trash.AwayPhoto(of="card", id=shown.id, trashed=True)
    trash.put_away(bench.db, away)
    for shade in (140, 160):
        photo = piece_photos.take_in_piece(bench.db, plan.id, jpeg(shade, (900, 700)))
    trash.put_away(bench.db, trash.AwayPhoto(of="piece", id=photo.id, trashed=True))
    answer = PracticeAnswer.model_validate({"look": "clean", "change": "leave"})
    for _ in range(2):
        asked_now = practice.practice_card(bench.db, bench.shelf(), bench.beliefs)
        practice.practice_answer(bench.db, asked_now.id, answer)
    practice.practice_card(bench.db, bench.shelf(), bench.beliefs)


# what each screen of the rail asks when it is opened
LISTS = (
    "/api/plans",
    "/api/settings",
    "/api/shelf",
    "/api/shelf/screen",
    "/api/shelf/shelf.csv",
    "/api/meshes",
    "/api/notebook",
    "/api/notebook/known",
    "/api/notebook/notebook.json",
    "/api/notebook/sessions.csv",
    "/api/notebook/trials.csv",
    "/api/cards",
    "/api/cards/trash",
    "/api/piece-photos",
    "/api/tablets",
    "/api/data",
    "/api/unreadable",
)


def opened_screens(client: FlaskClient) -> Iterator[tuple[str, int, str]]:
    """Open every list, then whatever it names; what failed, with its status and words.

    A list must answer; what is opened by name may be refused in words.
    """
    for path in LISTS:
        answer = client.get(path)
        if answer.status_code != 200:
            yield path, answer.status_code, answer.text[:300]
    for path in named(client):
        answer = client.get(path)
        if answer.status_code >= 500:
            yield path, answer.status_code, answer.text[:300]
    for path, body in (
        ("/api/known", {"paint": PAINT, "airbrush": AIRBRUSH, "setting": CARD}),
        ("/api/practice", None),
        ("/api/way", {"paint": "tern-white", "airbrush": "all-round", "needle_mm": 0.3} | FOR),
        ("/api/data/check", None),
        ("/api/shelf/undo", None),
    ):  # fmt: skip
        answer = client.post(path, json=body)
        if answer.status_code >= 500:
            yield path, answer.status_code, answer.text[:300]


def named(client: FlaskClient) -> Iterator[str]:
    """What the lists name, each to be opened."""
    listed = client.get("/api/plans").json or {}
    days_of = []
    for plan in [*listed.get("plans", []), *listed.get("damaged", [])]:
        own = f"/api/plans/{plan['id']}"
        yield from (own, f"{own}/versions", f"{own}/picture.png", f"{own}/plan.haze")
        day = client.get(f"{own}/day?today=2026-12-01")
        yield f"{own}/day?today=2026-12-01"
        if day.status_code == 200:
            days_of.append(day.json["id"])  # type: ignore[index]
    for day_id in days_of:
        yield from (
            f"/api/days/{day_id}",
            f"/api/days/{day_id}/booth",
            f"/api/days/{day_id}/day.csv",
            f"/api/days/{day_id}/day.ics",
        )
    for session in (client.get("/api/notebook").json or {}).get("sessions", []):
        own = f"/api/sessions/{session['id']}"
        yield from (own, f"{own}/plan")
        for photo in (client.get(own).json or {}).get("photos", []):
            yield f"/api/photos/{photo['id']}.jpg"
    for known in (client.get("/api/notebook/known").json or {}).get("known", []):
        yield f"/api/notebook/{known['what']}/{known['id']}"
    held = client.get("/api/cards").json or {}
    for card in held.get("cards", []):
        yield f"/api/cards/{card['number']}/card.svg"
    for photo in held.get("photos", []):
        yield f"/api/cards/photos/{photo['id']}.jpg"
        yield f"/api/cards/photos/{photo['id']}/would"
    for one in (client.get("/api/unreadable").json or {}).get("records", []):
        yield f"/api/unreadable/record.json?kind={one['kind']}&id={one['id']}"
