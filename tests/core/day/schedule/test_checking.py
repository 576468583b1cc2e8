"""The checker is independent: it passes what was laid, and refuses it mutated."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import replace

import pytest

from days import drawn_day, quickly, spray
from haze.core.day.schedule.checking import faults
from haze.core.day.schedule.problem import Calendar, Day, Entry, Lane, Task

MUTATIONS = 100
Mutation = Callable[[Day, list[Entry], random.Random], None]


def _some(day: Day, entries: list[Entry], rng: random.Random, *, sprayed: bool = False) -> int:
    fits = [
        n
        for n, e in enumerate(entries)
        if day.lanes[e.lane].tasks[e.step].kind != "rest"
        and (e.airbrush is not None or not sprayed)
    ]
    return rng.choice(fits)


def _earlier(day: Day, entries: list[Entry], rng: random.Random) -> None:
    n, by = _some(day, entries, rng), rng.uniform(0.5, 60)
    e = entries[n]
    entries[n] = replace(
        e, start_min=e.start_min - by, end_min=e.end_min - by, pours=tuple(p - by for p in e.pours)
    )


def _swapped(day: Day, entries: list[Entry], rng: random.Random) -> None:
    lane = rng.choice([n for n, one in enumerate(day.lanes) if len(one.tasks) > 1])
    a, b = rng.sample([n for n, e in enumerate(entries) if e.lane == lane], 2)
    one, other = entries[a], entries[b]
    entries[a], entries[b] = replace(one, step=other.step), replace(other, step=one.step)


def _lost(day: Day, entries: list[Entry], rng: random.Random) -> None:
    del entries[rng.randrange(len(entries))]


def _twice(day: Day, entries: list[Entry], rng: random.Random) -> None:
    entries.append(entries[rng.randrange(len(entries))])


def _shorter(day: Day, entries: list[Entry], rng: random.Random) -> None:
    n = _some(day, entries, rng)
    entries[n] = replace(entries[n], end_min=entries[n].end_min - rng.uniform(0.1, 0.4))


def _no_rinse(day: Day, entries: list[Entry], rng: random.Random) -> None:
    fits = [n for n, e in enumerate(entries) if e.setup_min > 0]
    n = rng.choice(fits)
    entries[n] = replace(entries[n], setup_min=0.25)


def _unpoured(day: Day, entries: list[Entry], rng: random.Random) -> None:
    fits = [n for n, e in enumerate(entries) if e.pours]
    n = rng.choice(fits)
    entries[n] = replace(entries[n], pours=entries[n].pours[1:])


def _into_the_night(day: Day, entries: list[Entry], rng: random.Random) -> None:
    n = _some(day, entries, rng)
    e = entries[n]
    by = 8 * 60.0 - e.start_min % 1440 + 1440 * (e.start_min // 1440)
    entries[n] = replace(
        e, start_min=e.start_min + by, end_min=e.end_min + by, pours=tuple(p + by for p in e.pours)
    )


def _wrong_airbrush(day: Day, entries: list[Entry], rng: random.Random) -> None:
    n = _some(day, entries, rng, sprayed=True)
    entries[n] = replace(entries[n], airbrush=None)


def _dried(day: Day, entries: list[Entry], rng: random.Random) -> None:
    n = _some(day, entries, rng)
    entries[n] = replace(entries[n], blown=not entries[n].blown)


KINDS: tuple[Mutation, ...] = (
    _earlier,
    _swapped,
    _lost,
    _twice,
    _shorter,
    _no_rinse,
    _unpoured,
    _into_the_night,
    _wrong_airbrush,
    _dried,
)


@pytest.mark.parametrize("seed", range(8))
@pytest.mark.parametrize("airbrushes", [1, 2])
def test_what_is_laid_passes(seed: int, airbrushes: int) -> None:
    day = drawn_day(seed, airbrushes=airbrushes)
    found = quickly(day)
    assert not found.late
    assert faults(day, found.entries) == []


BRUSH = Task("brush", "hand", hands_min_per_copy=10.0, dry_min=20.0, latest_min=60.0)
AFTER = Task("after", "hand", hands_min_per_copy=5.0)
WHITE = spray("white", "white", 10.0, ml_per_copy=3.0, life_min=40.0, dry_min=0.0)


@pytest.mark.parametrize(
    ("begin", "words"),
    [(30.0, None), (69.9, None), (29.0, "before it is dry"), (71.0, "too late"), (8.0, "goes on")],
)
def test_one_rule_alone_is_told_by_its_own_words(begin: float, words: str | None) -> None:
    day = Day((Lane("p", (BRUSH, AFTER)),), Calendar(840.0))
    entries = [Entry(0, 0, None, 0.0, 10.0), Entry(0, 1, None, begin, begin + 5.0)]
    found = faults(day, entries)
    assert found == [] if words is None else any(words in fault for fault in found)


def _sprayed(lane: int, start: float, setup: float, *, poured: bool) -> Entry:
    return Entry(lane, 0, 1, start, start + 10.0, setup, pours=(start,) if poured else ())


@pytest.mark.parametrize(
    ("second", "third", "words"),
    [
        (_sprayed(1, 11.5, 0.0, poured=False), _sprayed(2, 22.5, 1.0, poured=True), None),
        (_sprayed(1, 11.5, 0.0, poured=False), _sprayed(2, 21.5, 0.0, poured=False), "empty cup"),
        (_sprayed(1, 41.0, 0.0, poured=False), _sprayed(2, 55.0, 3.5, poured=True), "too long"),
        (_sprayed(1, 60.0, 1.0, poured=True), _sprayed(2, 71.0, 1.0, poured=True), "another time"),
        (_sprayed(1, 60.0, 3.5, poured=True), _sprayed(2, 71.0, 1.0, poured=True), None),
    ],
)
def test_a_cup_is_held_to_its_volume_and_its_age(
    second: Entry, third: Entry, words: str | None
) -> None:
    day = Day(tuple(Lane(f"p{n}", (WHITE,)) for n in range(3)), Calendar(840.0))
    found = faults(day, [_sprayed(0, 1.5, 1.5, poured=True), second, third])
    assert found == [] if words is None else any(words in fault for fault in found)


def test_a_hundred_mutations_are_refused() -> None:
    days = [(day, quickly(day)) for day in (drawn_day(seed) for seed in range(5))]
    passed = []
    for n in range(MUTATIONS):
        rng = random.Random(n)
        day, found = days[n % len(days)]
        entries = list(found.entries)
        KINDS[n % len(KINDS)](day, entries, rng)
        if not faults(day, entries):
            passed.append(KINDS[n % len(KINDS)].__name__)
    assert passed == []
