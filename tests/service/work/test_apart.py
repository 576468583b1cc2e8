"""Work apart does not take the server with it."""

from __future__ import annotations

import os
from functools import partial

import pytest

import harmful
from haze.core.errors import CancelledError, HazeError, MeshError
from haze.service.work import apart
from haze.service.work.apart import Limits, run

SHORT = Limits(seconds=60.0, room=2**30)


def test_work_is_done_in_a_process_of_its_own_and_tells_how_far_it_is() -> None:
    told: list[float] = []
    work = partial(harmful.counts, to=5)
    assert run(work, limits=SHORT, progress=lambda done: not told.append(done)) == 5
    assert told == sorted(told)
    assert run(harmful.says_where, limits=SHORT) != os.getpid()


def test_what_the_work_refuses_comes_back_as_it_was() -> None:
    with pytest.raises(MeshError, match="joke") as told:
        run(harmful.refuses, limits=SHORT)
    assert told.value.field == "mesh"


@pytest.mark.parametrize("work", [harmful.takes_room, harmful.dies])
def test_work_that_takes_all_room_or_breaks_is_told(work: object) -> None:
    with pytest.raises(apart.TooMuchRoomError, match="1 GiB"):
        run(work, limits=SHORT)  # type: ignore[arg-type]
    assert run(partial(harmful.counts, to=1), limits=SHORT) == 1


def test_work_may_take_the_room_it_is_given_beyond_what_the_program_needs() -> None:
    room = Limits(seconds=60.0, room=400 * 2**20)
    assert run(partial(harmful.takes, mib=300), limits=room) == 300
    with pytest.raises(apart.TooMuchRoomError):
        run(partial(harmful.takes, mib=500), limits=room)


@pytest.mark.parametrize("work", [harmful.never_ends, harmful.works_on])
def test_work_that_never_ends_is_stopped(work: object) -> None:
    with pytest.raises(apart.TooLongError, match="longer than 1 s"):
        run(work, limits=Limits(seconds=1.0, room=2**30))  # type: ignore[arg-type]


def test_work_that_gives_way_may_take_longer_by_the_clock() -> None:
    slow = partial(harmful.sleeps, seconds=1.5)
    assert run(slow, limits=Limits(seconds=1.0, room=2**30)) == 1.5


@pytest.mark.parametrize("work", [harmful.breaks, harmful.nests])
def test_work_that_fails_shows_nothing_of_its_inside(work: object) -> None:
    with pytest.raises(HazeError) as told:
        run(work, limits=SHORT)  # type: ignore[arg-type]
    assert told.value.code == "broken_work"
    assert "nobody foresaw" not in told.value.message


def test_work_stops_when_asked() -> None:
    with pytest.raises(CancelledError):
        run(harmful.never_ends, limits=SHORT, progress=lambda _: False)
