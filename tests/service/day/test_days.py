"""Days as the painter uses them, on real pieces."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import replace

import pytest

from haze.core.day.schedule.checking import faults
from haze.core.day.schedule.problem import Entry
from haze.core.errors import CancelledError, NoOrderError, NothingToDoError
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.day import days
from haze.service.day.days import AnotherBody, DayView, LayBody, PutDay
from haze.service.day.document import CLOSE_MIN, OPEN_MIN, DayDoc, Pause, Wish
from haze.service.day.files import calendar_of, lines_of, table_of
from haze.service.day.lanes import day_of, plan_lane
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.store.connection import MissingError, StaleError
from helpers import going

TODAY = "2026-11-28"


@pytest.fixture(autouse=True)
def _quick(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(days, "SEARCH_S", 0.3)
    monkeypatch.setattr(days, "TRIED_S", 0.1)
    monkeypatch.setattr(days, "AGAIN_S", 0.2)


@pytest.fixture
def two(bench: Bench, cone: PlanView, on_cone: OnPiece) -> list[PlanView]:
    """A unit of six cones and a single one, with the same steps."""
    plan = cone.plan.model_copy(deep=True)
    plan.piece = plan.piece.model_copy(update={"copies": 6})
    wash = HandStep(id="w", name="Bilge Wash", role="rim", paint=plan.sprayed[0].paint)
    plan.coats = [*plan.coats, wash]
    unit = plans.save(bench.db, cone.id, version=cone.version, plan=plan, what="Six of them")
    other = plans.copy(bench.db, cone.plan)
    assert on_cone.piece.size
    return [unit, other]


def laid(bench: Bench, view: DayView, *, near: bool = False) -> DayView:
    return days.lay(
        bench.db,
        view.id,
        LayBody(near=near),
        opened=lambda plan, _: bench.on(plan),
        report=going,
    )


def asked(bench: Bench, plan: str, edit: Callable[[DayDoc], DayDoc] = lambda d: d) -> DayView:
    view = days.of_plan(bench.db, plan, today=TODAY)
    return days.put(bench.db, view.id, PutDay(version=view.version, doc=edit(view.doc)))


def together(two: list[PlanView]) -> Callable[[DayDoc], DayDoc]:
    return lambda doc: doc.model_copy(update={"plans": [p.id for p in two]})


def test_a_plan_in_no_day_begins_one_of_its_own(bench: Bench, two: list[PlanView]) -> None:
    view = days.of_plan(bench.db, two[0].id, today=TODAY)
    assert (view.version, view.laid, view.stale) == (0, None, "")
    assert [p.id for p in view.plans] == [two[0].id]
    assert [p.id for p in view.others] == [two[1].id]
    with pytest.raises(MissingError):
        days.of_plan(bench.db, "nobody", today=TODAY)


def test_a_laid_day_passes_the_check_and_tells_all(bench: Bench, two: list[PlanView]) -> None:
    view = laid(bench, asked(bench, two[0].id, together(two)))
    assert view.laid is not None
    lanes = [plan_lane(p.id, p.plan, bench.on(p.plan)) for p in two]
    entries = [Entry(**e.model_dump() | {"pours": tuple(e.pours)}) for e in view.laid.entries]
    told = {(v.plan, v.copy_from, v.copies) for v in view.laid.lanes}
    ways = [day_of(view.doc, lanes, finer=finer) for finer in (False, True)]
    day, groups = next(
        w for w in ways if {(g.of.identity, g.copy_from, g.copies) for g in w[1]} == told
    )
    assert faults(day, entries) == []
    f = view.laid.figures
    assert f.copies == 7
    assert f.finish_min == rows_end(view)
    assert f.bound_min <= f.total_min
    assert f.coat_by_coat_min is not None
    assert f.one_by_one_min is not None
    assert f.total_min <= f.coat_by_coat_min <= f.one_by_one_min
    rows = view.laid.rows
    assert rows[0].words == "Cautions, mask, extraction on"
    assert rows[-1].kind == "close"
    assert rows[-1].to_min - rows[-1].from_min == CLOSE_MIN
    works = [r for r in rows if r.kind == "work"]
    assert {r.step for r in works} == {c.id for p in two for c in p.plan.done}
    assert all(a.to_min <= b.from_min + 1e-6 for a, b in itertools.pairwise(rows))
    assert len(groups) == len(view.laid.lanes)


def test_a_strand_tells_what_lies_there_at_every_minute(bench: Bench, two: list[PlanView]) -> None:
    view = laid(bench, asked(bench, two[0].id))
    assert view.laid is not None
    for lane in view.laid.lanes:
        segments = lane.segments
        assert segments[0].state == "bare"
        assert segments[0].from_min == 0
        for a, b in itertools.pairwise(segments):
            assert a.to_min == pytest.approx(b.from_min)
        assert {s.state for s in segments} >= {"bare", "worked", "ready"}
    names = [lane.name for lane in view.laid.lanes]
    assert len(names) == 1 or names[0].endswith("1 to 3")


def rows_end(view: DayView) -> float:
    assert view.laid is not None
    return view.laid.rows[-1].to_min


def test_one_cup_for_two_plans_is_told(bench: Bench, two: list[PlanView]) -> None:
    renamed = two[1].plan.model_copy(deep=True)
    renamed.piece = renamed.piece.model_copy(update={"name": "Buoy"})
    plans.save(bench.db, two[1].id, version=two[1].version, plan=renamed, what="Renamed")
    view = laid(bench, asked(bench, two[0].id, together(two)))
    assert view.laid is not None
    assert view.laid.shared
    assert "Buoy" in view.laid.shared[0]
    assert "saved" in view.laid.shared[0]


def test_a_changed_plan_makes_the_day_stale_until_it_is_laid_again(
    bench: Bench, two: list[PlanView]
) -> None:
    view = laid(bench, asked(bench, two[0].id))
    assert view.stale == ""
    plan = two[0].plan.model_copy(update={"name": "Other cones"})
    plans.save(bench.db, two[0].id, version=two[0].version, plan=plan, what="Renamed")
    assert days.one(bench.db, view.id).stale.startswith("Other cones has changed")
    again = laid(bench, view, near=True)
    assert again.stale == ""
    assert again.laid is not None
    assert again.laid.figures.moved == 0


def test_a_step_that_is_pinned_or_left_for_later_is_where_it_was_put(
    bench: Bench, two: list[PlanView]
) -> None:
    first = laid(bench, asked(bench, two[0].id, together(two)))
    assert first.laid is not None
    lane = next(v for v in first.laid.lanes if v.plan == two[1].id)
    step = two[1].plan.coats[0].id

    def wished(kind: str, at: float) -> DayView:
        wish = Wish.model_validate(
            {"plan": lane.plan, "step": step, "copy_from": 1, "kind": kind, "at_min": at}
        )
        view = days.one(bench.db, first.id)
        doc = view.doc.model_copy(update={"wishes": [wish]})
        put = days.put(bench.db, view.id, PutDay(version=view.version, doc=doc))
        return laid(bench, put, near=True)

    pinned = wished("pinned", 90.0)
    assert pinned.laid is not None
    row = next(r for r in pinned.laid.rows if (r.plan, r.step) == (lane.plan, step))
    assert row.wish == "pinned"
    assert 90.0 - 1e-6 <= row.from_min <= 95.0 + 1e-6
    assert pinned.laid.figures.moved is not None
    later = wished("later", 1440.0)
    assert later.laid is not None
    row = next(r for r in later.laid.rows if (r.plan, r.step) == (lane.plan, step))
    assert row.day == 1
    assert "Night 1" in " ".join(later.laid.overnight) or later.laid.figures.days == 2


def test_a_day_stored_twice_from_two_pages_is_refused_the_second_time(
    bench: Bench, two: list[PlanView]
) -> None:
    view = asked(bench, two[0].id)
    days.put(bench.db, view.id, PutDay(version=view.version, doc=view.doc))
    with pytest.raises(StaleError):
        days.put(bench.db, view.id, PutDay(version=view.version, doc=view.doc))
    gone = view.doc.model_copy(update={"plans": ["nobody"]})
    with pytest.raises(MissingError):
        days.put(bench.db, view.id, PutDay(version=view.version + 1, doc=gone))


def test_a_day_that_is_over_makes_room_for_another(bench: Bench, two: list[PlanView]) -> None:
    over = laid(bench, asked(bench, two[0].id, together(two)))
    new = days.begin_another(bench.db, over.id, AnotherBody(today="2026-12-05"))
    assert new.id != over.id
    assert (new.doc.date, new.doc.plans, new.laid) == ("2026-12-05", over.doc.plans, None)
    assert days.of_plan(bench.db, two[0].id, today=TODAY).id == new.id
    assert days.one(bench.db, over.id).laid is not None  # as it was


def test_a_search_that_is_stopped_keeps_the_best_so_far(bench: Bench, two: list[PlanView]) -> None:
    view = asked(bench, two[0].id)

    def enough(share: float, _: str) -> bool:
        return share < 0.3

    found = days.lay(
        bench.db, view.id, LayBody(), opened=lambda plan, _: bench.on(plan), report=enough
    )
    assert found.laid is not None
    assert found.laid.entries


def test_a_plan_without_steps_has_no_day(bench: Bench, two: list[PlanView]) -> None:
    bare = two[0].plan.model_copy(update={"coats": []})
    plans.save(bench.db, two[0].id, version=two[0].version, plan=bare, what="Bare")
    view = asked(bench, two[0].id)
    with pytest.raises(NoOrderError, match="nothing to plan"):
        laid(bench, view)
    with pytest.raises(NothingToDoError):
        calendar_of(view)


def test_a_piece_that_cannot_be_worked_out_stops_the_laying(
    bench: Bench, two: list[PlanView]
) -> None:
    view = asked(bench, two[0].id)

    def opened(_: Plan, __: object) -> OnPiece:
        raise CancelledError("Stopped.")

    with pytest.raises(CancelledError):
        days.lay(bench.db, view.id, LayBody(), opened=opened, report=going)
    assert days.one(bench.db, view.id).laid is None


def test_breaks_are_kept_and_drawn(bench: Bench, two: list[PlanView]) -> None:
    pause = Pause(begin="14:30", end="14:45")
    view = laid(bench, asked(bench, two[0].id, lambda d: d.model_copy(update={"breaks": [pause]})))
    assert view.laid is not None
    rows = [r for r in view.laid.rows if r.kind == "break"]
    assert [(r.from_min, r.to_min) for r in rows] == [(30.0, 45.0)]
    busy = [r for r in view.laid.rows if r.kind in ("work", "clean")]
    assert all(r.to_min <= 30 + 1e-6 or r.from_min >= 45 - 1e-6 for r in busy)


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("date", "28.11.2026"),
        ("start", "25:00"),
        ("stop", "13:00"),
        ("plans", []),
        ("plans", ["a", "a"]),
        ("airbrushes", 3),
        ("breaks", [{"begin": "16:00", "end": "15:00"}]),
    ],
)
def test_what_is_no_day_is_refused(field: str, value: object) -> None:
    given = {"date": TODAY, "plans": ["a"], field: value}
    with pytest.raises(ValueError, match=field):
        DayDoc.model_validate(given)


def test_the_calendar_begins_after_opening_and_ends_before_closing() -> None:
    calendar = DayDoc(date=TODAY, plans=["a"]).calendar
    assert (calendar.start_min, calendar.stop_min) == (840 + OPEN_MIN, 1260 - CLOSE_MIN)
    late = replace(DayDoc(date=TODAY, plans=["a"], stop=None).calendar, cleaned=True)
    assert late.stop_min == 1440 - CLOSE_MIN


def test_the_files_tell_the_day_on_the_painters_clock(bench: Bench, two: list[PlanView]) -> None:
    view = laid(bench, asked(bench, two[0].id))
    lines = lines_of(view)
    assert lines[0].begin.isoformat() == "2026-11-28T14:00:00"
    text = calendar_of(view).decode()
    assert text.count("BEGIN:VEVENT") == len([x for x in lines if x.end > x.begin])
    assert "DTSTART:20261128T140000" in text
    table = table_of(view).splitlines()
    assert table[0].startswith("day,from,to,minutes,what")
    assert len(table) == len(lines) + 1
    assert len({x.identity for x in lines}) == len(lines)


def test_plans_stand_in_the_order_they_were_taken_in(bench: Bench, two: list[PlanView]) -> None:
    both = [two[1].id, two[0].id]
    for later in (0, 1):  # whichever was changed last
        held = plans.open_plan(bench.db, two[later].id)
        plan = held.plan.model_copy(update={"name": f"Changed {later}"})
        plans.save(bench.db, held.id, version=held.version, plan=plan, what="Renamed")
        day = asked(bench, both[0], lambda d: d.model_copy(update={"plans": both}))
        assert [p.id for p in day.plans] == both
