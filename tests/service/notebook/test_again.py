"""Doing a plan again on real pieces: the list of differences is that of the two documents."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from haze.core.errors import UnknownNameError
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight
from haze.core.plan.paint import AirbrushUsed
from haze.core.plan.piece import Room
from haze.core.repeat.differences import differences, leaves
from haze.core.repeat.repeated import Changes, repeated
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.notebook.again import DoAgainBody, DoAgainOut, again, between
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.store import shelf as rows
from haze.store.connection import MissingError
from haze.store.shelf import AirbrushRow
from helpers import coarse, going

FINE = AirbrushRow(id="fine-two", name="Fine", needle_mm=0.2, cup_ml=2.0)


@pytest.fixture(scope="module", autouse=True)
def fine(club: Bench) -> None:
    with club.db.atomic() as tx:
        rows.put_airbrush(tx, FINE)


def done(club: Bench, plan: Plan, **more: object) -> tuple[Plan, DoAgainOut]:
    kept = plans.add(club.db, plan, what="To be done again")
    body = DoAgainBody.model_validate({"plan": kept.id, "name": "Again", **more})
    return kept.plan, again(club.db, club.beliefs, club.shelf(), body, club.opened, going)


def require_complete(before: Plan, out: DoAgainOut) -> None:
    old, new = leaves(before), leaves(out.plan)
    changed = {p for p in old.keys() | new.keys() if old.get(p, "none") != new.get(p, "none")}
    for leaf in changed:
        assert sum(leaf == d.path or leaf.startswith(f"{d.path}.") for d in out.differences) == 1
    for d in out.differences:
        assert any(leaf == d.path or leaf.startswith(f"{d.path}.") for leaf in changed)
        assert d.why


def test_with_a_finer_needle_in_a_cold_damp_room_every_number_is_worked_out_anew(
    club: Bench, globe: Plan, on_globe: OnPiece
) -> None:
    cold = Room(temperature_c=12, humidity_pct=70)
    before, out = done(club, globe, airbrush=FINE.id, room=cold.model_dump(), copies=6)
    require_complete(before, out)
    assert out.plan.room == cold
    assert out.plan.airbrush.needle_mm == 0.2
    assert out.plan.piece.copies == 6
    for was, now in zip(before.sprayed, out.plan.sprayed, strict=True):
        assert was.spray != now.spray
        whys = {d.why for d in out.differences if d.path.startswith(f"coats.{now.id}.spray")}
        assert whys == {"for the 0.2 mm needle and 12 °C and 70 %"}
    assert out.after.hands_min > out.before.hands_min
    assert out.after.rounds > out.before.rounds
    assert out.after.paint_ml > out.before.paint_ml


def test_the_bust_in_practice_light_with_a_fine_needle_in_a_cold_damp_room(tmp_path: Path) -> None:
    bench = coarse(tmp_path / "demo")
    try:
        saltgate.load(bench.db)
        herald = next(p for p in plans.every(bench.db) if p.name.startswith("Herald"))
        before = plans.open_plan(bench.db, herald.id).plan
        airbrush = AirbrushUsed(id=FINE.id, name=FINE.name, needle_mm=0.2)
        wish = Changes("Again", airbrush=airbrush, room=Room(temperature_c=12, humidity_pct=70))
        found = repeated(before, wish, bench.shelf().stock)
    finally:
        bench.close()
    told = differences(before, found.plan, found.why)
    old, new = leaves(before), leaves(found.plan)
    changed = {p for p in old.keys() | new.keys() if old.get(p, "none") != new.get(p, "none")}
    for leaf in changed:
        assert sum(leaf == d.path or leaf.startswith(f"{d.path}.") for d in told) == 1
    set_anew = {d.where for d in told if ".spray." in d.path}
    kept = {words.split(" keeps its setting")[0] for words in found.problems}
    assert set_anew | kept == {c.name for c in before.sprayed}
    assert len(set_anew) >= 5


def test_on_the_piece_of_another_plan_glows_lie_at_the_same_share_of_it(
    club: Bench, globe: Plan, lantern: Plan, on_globe: OnPiece, on_lantern: OnPiece
) -> None:
    foot, top = (
        on_globe.piece.mesh.to_file(
            getattr(on_globe.piece.mesh.vertices, how)(axis=0).astype(np.float64)[None, :]
        )[0]
        for how in ("min", "max")
    )
    glow = GlowLight(id="g", at=tuple(foot), to=tuple(top))
    lit = globe.model_copy(update={"lights": [*globe.lights, glow]})
    other = plans.add(club.db, lantern, what="Other piece")
    before, out = done(club, lit, piece_of=other.id)
    require_complete(before, out)
    assert out.plan.piece == lantern.piece
    moved = out.plan.glows[0]
    points = on_lantern.piece.mesh.to_file(
        np.stack(
            [getattr(on_lantern.piece.mesh.vertices, h)(axis=0) for h in ("min", "max")]
        ).astype(np.float64)
    )
    assert moved.at == pytest.approx(tuple(points[0]), abs=1e-3)
    assert moved.to == pytest.approx(tuple(points[1]), abs=1e-3)
    assert any("work the angles out again" in words for words in out.problems)


def test_on_its_own_piece_a_point_stays_where_it_is(on_globe: OnPiece) -> None:
    point = on_globe.piece.mesh.to_file(on_globe.piece.mesh.vertices[:1].astype(np.float64))[0]
    assert between(on_globe, on_globe)(tuple(point)) == pytest.approx(tuple(point), abs=1e-6)


def test_what_is_not_there_is_refused(club: Bench, globe: Plan) -> None:
    with pytest.raises(UnknownNameError, match="not on the shelf"):
        done(club, globe, airbrush="nobody-has-it")
    with pytest.raises(MissingError):
        done(club, globe, piece_of="no-such-plan")
    with pytest.raises(ValueError, match="either a session or a plan"):
        DoAgainBody(name="Again")
    with pytest.raises(ValueError, match="either a session or a plan"):
        DoAgainBody(name="Again", plan="a", session="b")
