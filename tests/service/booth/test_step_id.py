"""A step at the booth has one name, and what is none is refused."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.service.booth.step_id import StepId, Stretch, parse

NAMES = st.from_regex(r"[A-Za-z0-9_-]{1,64}", fullmatch=True)
STRETCHES = st.builds(
    Stretch, plan=NAMES, step=NAMES, part=st.integers(0, 99), copy_from=st.integers(0, 999)
)
WHATS = st.sampled_from(["clean", "cup", "trial", "dry", "check", "hand", "hold.left", "hold.s.12"])


@given(STRETCHES, WHATS)
def test_what_is_written_is_read_again(stretch: Stretch, what: str) -> None:
    step = StepId(stretch, what)
    assert parse(str(step)) == step
    assert step.plan == stretch.plan
    assert step.entry == str(stretch)


def test_a_step_of_a_sitting_is_of_no_plan() -> None:
    step = parse("day-12:close")
    assert (step.stretch, step.sitting, step.what, step.entry) == (None, 12, "close", "day-12")
    assert step.plan is None


def test_its_parts_are_visibly_changed() -> None:
    step = parse("wardens.coat-2.1.4:hold.left.3")
    assert step.stretch == Stretch("wardens", "coat-2", 1, 4)
    assert step.what == "hold.left.3"


@pytest.mark.parametrize(
    "text",
    ["", "wardens", "wardens:check", "wardens.coat", "wardens.coat.0.1", "wardens.coat.0.1:",
     ".coat.0.1:check", "wardens..0.1:check", "wardens.coat.a.1:check", "wardens.coat.0:check",
     "wardens.coat.0.1:dance", "wardens.coat.0.1:open", "day-0:check", "day-x:open",
     "wardens.coat.\u0660.1:check", "wardens.coat.0.1:hold", "wardens.coat.0.1:hold.a.b",
     "wardens.coat.0.1:check\n", "wardens.coat.0.1:check:check"],
)  # fmt: skip
def test_what_is_no_step_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match="names no step"):
        parse(text)
