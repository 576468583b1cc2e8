"""What was pressed stands the same whatever way the presses came."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from haze.service.bench import Bench
from haze.service.booth.pressed import EventIn, EventOut, event_of, events_of, pressed, row_of
from haze.store import booth, days

STEPS = ("plan.a.0.1:check", "plan.b.0.1:check")
A, B = STEPS


def event(number: int, second: int, kind: str, step: str, count: int) -> EventOut:
    return EventOut.model_validate(
        {
            "seq": number,
            "id": f"event-{number:04}",
            "at": f"2026-11-28T14:{second // 60:02}:{second % 60:02}.000Z",
            "minute": second / 60,
            "kind": kind,
            "step": step,
            "number": count,
        }
    )


EVENTS = st.lists(
    st.tuples(
        st.integers(0, 600),
        st.sampled_from(["done", "tried", "undone", "skipped", "redone"]),
        st.sampled_from(STEPS),
        st.integers(0, 3),
    ),
    max_size=25,
).map(lambda raw: [event(n, *one) for n, one in enumerate(raw)])


@given(EVENTS, st.randoms(use_true_random=False))
def test_the_order_of_coming_and_coming_twice_change_nothing(
    events: list[EventOut], random: object
) -> None:
    shuffled = [*events, *events]
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    assert pressed(shuffled) == pressed(events)


def test_two_tabs_that_press_the_same_count_have_pressed_it_once() -> None:
    state = pressed([event(1, 10, "done", A, 0), event(2, 11, "done", A, 0)])
    assert not state.over(A, 2)
    assert state.over(A, 1)


def test_the_last_word_about_a_count_holds() -> None:
    said = [event(1, 10, "done", A, 0), event(2, 20, "undone", A, 0)]
    assert not pressed(said).over(A, 1)
    assert pressed([*said, event(3, 30, "done", A, 0)]).over(A, 1)
    assert not pressed([event(1, 10, "skipped", A, 0), event(2, 20, "redone", A, 0)]).over(A, 1)


def test_a_knob_turned_again_counts_once_and_last() -> None:
    def turned(n: int, to: float, knob: str = "pressure_psi") -> EventOut:
        more = {"kind": "turned", "knob": knob, "to": to, "plan": "p", "coat": "c"}
        return event(n, n, "done", A, 0).model_copy(update=more)

    found = pressed([turned(1, 20), turned(2, 0.3, "trigger"), turned(3, 18)]).turned
    assert [(t.knob, t.to) for t in found] == [("trigger", 0.3), ("pressure_psi", 18)]


def test_a_copy_that_went_wrong_can_be_right_again() -> None:
    def said(n: int, kind: str) -> EventOut:
        more = {"kind": kind, "plan": "p", "copy_number": 2}
        return event(n, n, "done", A, 0).model_copy(update=more)

    assert pressed([said(1, "wrong")]).wrong == {("p", 2)}
    assert pressed([said(1, "wrong"), said(2, "right")]).wrong == frozenset()


def test_an_event_is_stored_once_and_reads_back(bench: Bench) -> None:
    given_event = EventIn.model_validate(
        {
            "id": "0123456789abcdef",
            "at": "2026-11-28T14:00:01.5Z",
            "minute": 0.025,
            "kind": "problem",
            "step": "plan.coat.0.1:hold.s-1",
            "symptom": "specks",
            "plan": "p",
        }
    )
    with bench.db.atomic() as tx:
        days.put(tx, "day-1234", version=0, document="{}", plans=[])
        assert booth.add(tx, row_of("day-1234", given_event))
        assert not booth.add(tx, row_of("day-1234", given_event))
    rows = booth.since(bench.db.connection(), "day-1234", 0)
    assert len(rows) == 1
    read = event_of(rows[0])
    assert (read.symptom, read.plan, read.knob, read.minute) == ("specks", "p", None, 0.025)
    assert events_of(booth.since(bench.db.connection(), "day-1234", rows[0].seq)) == []
