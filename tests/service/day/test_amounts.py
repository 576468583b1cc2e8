"""Amounts of a plan or a day against the shelf, and bottles counted down."""

from __future__ import annotations

from dataclasses import replace

import pytest

from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.day.amounts import (
    AmountsBody,
    PremixBody,
    UseBody,
    UsedUp,
    amounts,
    premix_of,
    use_up,
)
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.plans import PlanView
from haze.service.plan.whole import worked_out
from haze.service.shelf import shelf as shelves
from haze.store import shelf as rows


def keep(bench: Bench, identity: str, left: float | None) -> None:
    with bench.db.atomic() as tx:
        row = next(p for p in rows.paints(tx) if p.id == identity)
        rows.put_paint(tx, replace(row, ml_left=left))


def left(bench: Bench, identity: str) -> float | None:
    return next(p for p in rows.paints(bench.db.connection()) if p.id == identity).ml_left


def test_needed_is_what_the_cups_say_and_the_shelf_tells_what_is_left(
    stocked: Bench, lantern: Plan, on_lantern: OnPiece
) -> None:
    plan = lantern.model_copy(deep=True)
    plan.piece.copies = 6
    out = amounts(stocked.db, lambda _: on_lantern, AmountsBody(plan=plan))
    work = worked_out(plan, on_lantern)
    poured = sum(p.ml * c.cup.loads for c in work.coats for p in c.cup.poured)
    assert sum(r.ml for r in out.rows) == pytest.approx(poured)
    paint = next(r for r in out.rows if r.role == "paint")
    keep(stocked, paint.id, paint.ml / 2)
    short = amounts(stocked.db, lambda _: on_lantern, AmountsBody(plan=plan))
    row = next(r for r in short.rows if r.id == paint.id)
    assert row.short_ml == pytest.approx(paint.ml / 2)
    assert row.after_ml == 0
    assert f"{paint.what} lasts for 3 of 6" in " ".join(short.runs_out)
    keep(stocked, paint.id, None)
    free = amounts(stocked.db, lambda _: on_lantern, AmountsBody(plan=plan))
    row = next(r for r in free.rows if r.id == paint.id)
    assert (row.left_ml, row.after_ml, row.short_ml) == (None, None, 0.0)
    assert not any(paint.what in words for words in free.runs_out)


def test_a_day_of_two_plans_needs_what_both_need(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    plan = cone.plan
    one = amounts(bench.db, lambda _: on_cone, AmountsBody(plan=plan))
    two = amounts(bench.db, lambda _: on_cone, AmountsBody(plan=plan, others=[cone.id]))
    assert [r.id for r in two.rows] == [r.id for r in one.rows]
    assert [r.ml for r in two.rows] == pytest.approx([2 * r.ml for r in one.rows])
    assert [r.cups for r in two.rows] == [2 * r.cups for r in one.rows]


def test_a_session_counts_bottles_down_once_and_the_shelf_can_undo_it(stocked: Bench) -> None:
    counted = next(
        p.id for p in rows.paints(stocked.db.connection()) if p.ml_left and p.ml_left > 3
    )
    free = next(p.id for p in rows.paints(stocked.db.connection()) if p.id != counted)
    keep(stocked, free, None)
    before = left(stocked, counted)
    assert before is not None
    used = [UsedUp(id=counted, ml=2.0), UsedUp(id=free, ml=2.0), UsedUp(id="none", ml=1.0)]
    told = use_up(stocked.db, UseBody(what="Wardens", used=used))
    assert told.counted == 1
    assert left(stocked, counted) == pytest.approx(before - 2.0)
    assert left(stocked, free) is None
    use_up(stocked.db, UseBody(what="Wardens", used=[UsedUp(id=counted, ml=9000)]))
    assert left(stocked, counted) == 0.0
    shelves.undo(stocked.db)
    shelves.undo(stocked.db)
    assert left(stocked, counted) == before


def test_a_bottle_of_a_mix_says_how_it_is_thinned(lantern: Plan) -> None:
    coat = lantern.sprayed[0]
    plain = premix_of(PremixBody(plan=lantern, step=coat.id, ml=10))
    assert sum(r.ml for r in plain.rows) == pytest.approx(10, abs=0.02)
    assert any("to spray: thin" in w for w in plain.words)
    ready = premix_of(PremixBody(plan=lantern, step=coat.id, ml=10, thinned=True))
    assert ready.rows[0].what == coat.thinner.name
    assert any("ready to spray" in w for w in ready.words)
    assert plain.words[0] == coat.mix.name
