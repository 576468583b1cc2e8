"""A day at the booth: its steps, what was done, what was turned, and the rest laid anew."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from pydantic import ValidationError

from haze.service.bench import Bench
from haze.service.booth import booth
from haze.service.booth.booth import (
    AgainBody,
    BoothView,
    EventsBody,
    NotLaidError,
    lay_rest,
    open_booth,
)
from haze.service.booth.checked import OtherDayError, UnknownStepError
from haze.service.booth.pressed import Turned
from haze.service.booth.steps import BoothStep
from haze.service.booth.turning import turned_plans
from haze.service.cups import trials as trial_service
from haze.service.day import days
from haze.service.day.days import AnotherBody, LayBody, PutDay
from haze.service.day.document import OPEN_MIN
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.store import booth as store
from haze.store import trials
from haze.store.connection import MissingError
from helpers import coarse, ended, going


@dataclass
class Booth:
    """A day of three cones at the booth, and a hand that presses."""

    bench: Bench
    day: str
    plan: PlanView
    at_s: int = 0
    presses: int = 0

    def view(self) -> BoothView:
        return open_booth(self.bench.db, self.day, self.bench.on)

    def press(self, step: BoothStep, kind: str = "done", **more: object) -> None:
        self.presses += 1
        self.at_s += 1
        event = {
            "id": f"press-{self.presses:06}",
            "at": f"2026-11-28T13:{self.at_s // 60:02}:{self.at_s % 60:02}Z",
            "minute": self.at_s / 60,
            "kind": kind,
            "step": step.id,
            **more,
        }
        body = EventsBody.model_validate({"events": [event]})
        self.bench.take_presses(self.day, body)

    def do(self, step: BoothStep) -> None:
        for number in range(step.count):
            self.press(step, number=number)


@pytest.fixture
def at_booth(
    bench: Bench, cone: PlanView, on_cone: OnPiece, monkeypatch: pytest.MonkeyPatch
) -> Booth:
    monkeypatch.setattr(days, "SEARCH_S", 0.2)
    monkeypatch.setattr(days, "TRIED_S", 0.05)
    monkeypatch.setattr(booth, "AGAIN_S", 0.2)
    plan = cone.plan.model_copy(deep=True)
    plan.piece = plan.piece.model_copy(update={"copies": 3})
    assert on_cone.piece.size
    saved = plans.save(bench.db, cone.id, version=cone.version, plan=plan, what="Three")
    view = days.of_plan(bench.db, saved.id, today="2026-11-28")
    view = days.put(bench.db, view.id, PutDay(version=0, doc=view.doc))
    days.lay(bench.db, view.id, LayBody(), opened=lambda p, _: bench.on(p), report=going)
    return Booth(bench, view.id, saved)


def test_the_steps_come_in_the_order_of_the_bench(at_booth: Booth) -> None:
    steps = at_booth.view().steps
    assert len({s.id for s in steps}) == len(steps)
    assert steps[0].kind == "caution"
    assert steps[0].cautions
    assert steps[-1].kind == "close"
    first = [s.kind for s in steps[1:] if s.entry == steps[1].entry]
    assert first[:2] == ["cup", "trial"]
    assert first[-1] == "check"
    assert set(first[2:-1]) <= {"hold", "dry"}
    for coat in at_booth.plan.plan.sprayed:
        mine = [s for s in steps if s.coat == coat.id]
        sides = {s.hold.station for s in mine if s.hold is not None}
        assert sides == {s.id for s in coat.stations}
        rounds = sum(
            (s.rounds or 0) for s in mine if s.kind == "hold" and s.which[0] == mine[0].which[0]
        )
        assert rounds == coat.passes
        check = next(s for s in mine if s.kind == "check")
        assert len(check.sides) == len(coat.stations)


def test_a_cup_holds_what_it_serves(at_booth: Booth) -> None:
    cups = [s for s in at_booth.view().steps if s.kind == "cup"]
    assert cups
    for cup in cups:
        assert any("drop" in line or "ml" in line for line in cup.cup)
        assert cup.cautions
        assert cup.spray is not None


def test_what_is_done_has_its_real_times_and_nothing_counts_twice(at_booth: Booth) -> None:
    steps = at_booth.view().steps
    entry = steps[1].entry
    mine = [s for s in steps if s.entry == entry]
    for step in [steps[0], *mine]:
        at_booth.do(step)
    pressed_before = at_booth.presses
    at_booth.presses -= 1
    at_booth.press(mine[-1], number=mine[-1].count - 1)  # the same name once more
    assert at_booth.presses == pressed_before
    view = at_booth.view()
    assert len(view.events) == pressed_before
    held, _ = booth._booth(
        at_booth.bench.db, days.one(at_booth.bench.db, at_booth.day), at_booth.bench.on
    )
    done = booth.done_entries(held)
    assert len(done) == 1
    last = max(e.minute for e in view.events)
    assert done[0].end_min == pytest.approx(last - OPEN_MIN)


def test_the_booth_ends_when_the_day_says_with_its_last_clean(at_booth: Booth) -> None:
    laid = days.one(at_booth.bench.db, at_booth.day).laid
    view = at_booth.view()
    assert laid is not None
    assert view.finish_min == pytest.approx(laid.figures.finish_min)
    assert view.finish_min == pytest.approx(max(s.to_min for s in view.steps))


def test_being_late_moves_the_end_and_the_rest_is_laid_from_now(at_booth: Booth) -> None:
    view = at_booth.view()
    entry = view.steps[1].entry
    at_booth.at_s = 3000  # fifty minutes later than meant
    for step in view.steps:
        if step.entry in (entry, "day-0") and step.kind != "close":
            at_booth.do(step)
    late = at_booth.view()
    assert late.finish_min > view.finish_min
    now = at_booth.at_s / 60 + 2
    again = lay_rest(at_booth.bench.db, at_booth.day, AgainBody(minute=now), at_booth.bench.on)
    assert again.missed == []
    rest = [s for s in again.steps if s.entry not in (entry, "day-0")]
    assert min(s.from_min for s in rest) >= now - 1e-6
    assert again.moved is not None
    assert {s.id for s in again.steps} >= {s.id for s in late.steps if s.entry == entry}
    stored = days.one(at_booth.bench.db, at_booth.day)
    assert stored.laid is not None
    assert stored.stale == ""


def test_a_copy_that_went_wrong_is_passed_over(at_booth: Booth) -> None:
    step = next(s for s in at_booth.view().steps if s.kind == "hold")
    assert step.which == [1, 2, 3]
    at_booth.press(step, "wrong", plan=step.plan, copy_number=2)
    after = next(s for s in at_booth.view().steps if s.id == step.id)
    assert after.which == [1, 3]
    at_booth.press(step, "right", plan=step.plan, copy_number=2)
    assert next(s for s in at_booth.view().steps if s.id == step.id).which == [1, 2, 3]


def test_a_look_at_a_card_teaches_once_and_can_be_taken_back(at_booth: Booth) -> None:
    step = next(s for s in at_booth.view().steps if s.kind == "trial")
    at_booth.press(step, "tried", look="specks")
    rows = trials.every(at_booth.bench.db.connection())
    assert [(r.look, r.taken_back_at) for r in rows] == [("specks", None)]
    assert rows[0].id == f"press-{at_booth.presses:06}"
    at_booth.press(step, "undone")
    rows = trials.every(at_booth.bench.db.connection())
    assert rows[0].taken_back_at is not None


def test_a_knob_is_turned_for_the_rest_of_the_day(at_booth: Booth) -> None:
    step = next(s for s in at_booth.view().steps if s.kind == "trial")
    assert step.spray is not None
    to = step.spray.pressure_psi + 3
    at_booth.press(step, "turned", knob="pressure_psi", to=to, plan=step.plan, coat=step.coat)
    after = next(s for s in at_booth.view().steps if s.id == step.id)
    assert after.spray is not None
    assert after.spray.pressure_psi == pytest.approx(to)
    # the plan itself stays as it is
    kept = plans.open_plan(at_booth.bench.db, at_booth.plan.id).plan
    assert kept == at_booth.plan.plan


def test_turning_keeps_the_film_by_its_rounds(at_booth: Booth) -> None:
    plan, on = at_booth.plan.plan, at_booth.bench.on(at_booth.plan.plan)
    coat = max(plan.sprayed, key=lambda c: c.most_passes)
    half = Turned("me", coat.id, "trigger", coat.spray.trigger / 2)
    (turned,) = turned_plans([("me", plan, on)], [half])
    after = next(c for c in turned.sprayed if c.id == coat.id)
    before_um = on.square_on_um(plan, coat)
    after_um = on.square_on_um(turned, after)
    one_um = float(on.outcome(turned, after).dry_film_um)
    assert abs(after_um - before_um) <= 0.75 * one_um + 1e-9 or after.most_passes in (1, 60)
    nothing = turned_plans([("me", plan, on)], [Turned("other", coat.id, "trigger", 0.1)])
    assert nothing == [plan]


def test_a_booth_needs_a_day_that_is_laid_as_its_plans_are(at_booth: Booth) -> None:
    db = at_booth.bench.db
    plan = at_booth.plan.plan.model_copy(update={"name": "Other"})
    plans.save(db, at_booth.plan.id, version=at_booth.plan.version, plan=plan, what="Renamed")
    with pytest.raises(NotLaidError, match="has changed"):
        at_booth.view()
    with pytest.raises(MissingError):
        open_booth(db, "nobody-there", at_booth.bench.on)


def test_events_of_a_day_that_is_not_there_are_refused_whole(at_booth: Booth) -> None:
    body = EventsBody(events=[])
    with pytest.raises(MissingError):
        at_booth.bench.take_presses("nobody", body)


def body_of(**event: object) -> EventsBody:
    usual = {"id": "press-aaaa", "at": "2026-11-28T13:00:00Z", "minute": 5, "kind": "done"}
    return EventsBody.model_validate({"events": [usual | event]})


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ("{plan}.nothing.0.1:check", "step nothing, which its plan does not have"),
        ("other.{coat}.0.1:check", "plan other, which is not in this day"),
        ("{plan}.{coat}.0.4:check", "copy 4"),
    ],
)
def test_a_press_about_nothing_in_its_day_is_refused_by_name(
    at_booth: Booth, step: str, words: str
) -> None:
    coat = at_booth.plan.plan.sprayed[0].id
    named = step.format(plan=at_booth.plan.id, coat=coat)
    with pytest.raises(UnknownStepError, match=words) as told:
        at_booth.bench.take_presses(at_booth.day, body_of(step=named))
    assert told.value.field == "events.press-aaaa"
    assert at_booth.view().events == []


@pytest.mark.parametrize(
    "more",
    [
        {"step": "day-0"},
        {"step": "{plan}"},
        {"minute": 1e308},
        {"minute": 1e6},
        {"at": "2026-99-99T99:99:99Z"},
    ],
)
def test_what_is_no_press_is_refused(at_booth: Booth, more: dict[str, object]) -> None:
    usual = {"step": "day-0:open"}
    with pytest.raises(ValidationError):
        body_of(**(usual | more))


def test_a_step_the_day_was_planned_with_can_be_pressed_when_the_plan_has_lost_it(
    at_booth: Booth,
) -> None:
    step = next(s for s in at_booth.view().steps if s.kind == "check")
    rest = [c for c in at_booth.plan.plan.coats if c.id != step.coat]
    plan = at_booth.plan.plan.model_copy(update={"coats": rest})
    plans.save(
        at_booth.bench.db, at_booth.plan.id, version=at_booth.plan.version, plan=plan, what="Less"
    )
    assert at_booth.bench.take_presses(at_booth.day, body_of(step=step.id)).events


def test_no_press_is_lost_because_its_plan_cannot_be_read(at_booth: Booth) -> None:
    step = next(s for s in at_booth.view().steps if s.kind == "check")
    with at_booth.bench.db.atomic() as tx:
        tx.execute("UPDATE revision SET document = '{}'")
        tx.execute("UPDATE day SET laid = NULL")
    assert at_booth.bench.take_presses(at_booth.day, body_of(step=step.id)).events


def test_a_name_that_another_day_has_is_refused_by_name(at_booth: Booth) -> None:
    db = at_booth.bench.db
    at_booth.bench.take_presses(at_booth.day, body_of(step="day-0:open"))
    other = days.begin_another(db, at_booth.day, AnotherBody(today="2026-11-29"))
    with pytest.raises(OtherDayError, match="press-aaaa"):
        at_booth.bench.take_presses(other.id, body_of(step="day-0:open"))
    # on its own day it is stored already, and that is fine
    assert len(at_booth.bench.take_presses(at_booth.day, body_of(step="day-0:open")).events) == 1


def tried_now(at_booth: Booth) -> BoothStep:
    return next(s for s in at_booth.view().steps if s.kind == "trial")


def test_what_a_press_teaches_is_not_lost_by_a_cut_between(
    at_booth: Booth, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench, step = at_booth.bench, tried_now(at_booth)
    body = body_of(step=step.id, kind="tried", look="clean")

    def cut(*_: object, **__: object) -> None:
        raise KeyboardInterrupt

    with monkeypatch.context() as cutting:
        cutting.setattr(trial_service, "keep", cut)
        with pytest.raises(KeyboardInterrupt):
            bench.take_presses(at_booth.day, body)
    assert trials.every(bench.db.connection()) == []
    assert [e.id for e in at_booth.view().events] == ["press-aaaa"]
    again = coarse(bench.folder)
    again.warm()
    learned = again.jobs.start(
        f"learn {at_booth.day}", "Learning", lambda _: None, turn="early"
    )  # joins the one that waits
    assert ended(again.jobs, learned).state == "done"
    assert [t.id for t in trials.every(again.db.connection())] == ["press-aaaa"]
    again.close()


def test_a_look_that_is_undone_no_longer_counts_and_both_are_learned_once(
    at_booth: Booth,
) -> None:
    bench, step = at_booth.bench, tried_now(at_booth)
    bench.take_presses(at_booth.day, body_of(step=step.id, kind="tried", look="clean"))
    assert bench.beliefs.tried().of
    undone = body_of(id="press-bbbb", at="2026-11-28T13:01:00Z", step=step.id, kind="undone")
    bench.take_presses(at_booth.day, undone)
    assert bench.beliefs.tried().of == {}
    assert store.untaught(bench.db.connection(), at_booth.day) == []
    # counted again by hand it stays so, for the press was learned from already
    bench.take_trial_back("press-aaaa", back=False)
    bench.take_presses(at_booth.day, EventsBody(events=[]))
    assert bench.beliefs.tried().of


def test_a_look_waits_until_its_day_can_be_read_again(at_booth: Booth) -> None:
    bench, step = at_booth.bench, tried_now(at_booth)
    plan = at_booth.plan.plan.model_copy(update={"name": "Other"})
    plans.save(bench.db, at_booth.plan.id, version=at_booth.plan.version, plan=plan, what="Renamed")
    bench.take_presses(at_booth.day, body_of(step=step.id, kind="tried", look="clean"))
    assert trials.every(bench.db.connection()) == []
    opened = lambda p, _: bench.on(p)  # noqa: E731
    days.lay(bench.db, at_booth.day, LayBody(), opened=opened, report=going)
    bench.take_presses(at_booth.day, EventsBody(events=[]))
    assert [t.id for t in trials.every(bench.db.connection())] == ["press-aaaa"]


def test_a_press_that_cannot_be_read_has_no_say(at_booth: Booth) -> None:
    bench = at_booth.bench
    for n, (column, value) in enumerate(
        (("step", "no step"), ("minute", 1e308), ("at", "2026-99-99T99:99:99Z"), ("told", "[1]"))
    ):
        bench.take_presses(at_booth.day, body_of(id=f"press-{n:04}", step="day-0:open"))
        with bench.db.atomic() as tx:
            tx.execute(
                f"UPDATE booth_event SET {column} = ? WHERE id = ?", (value, f"press-{n:04}")
            )
    assert at_booth.view().events == []
    assert bench.notebook().sessions == []
