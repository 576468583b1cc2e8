"""Trials and own ways in a real file."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from pathlib import Path

import pytest

from haze.store import trials
from haze.store.connection import Database, MissingError
from haze.store.trials import TrialRow, Whose

ROW = TrialRow(
    id="trial-0001",
    paint="slate",
    paint_name="Slate",
    kind="airbrush_acrylic",
    airbrush="all-round",
    airbrush_name="All-round",
    needle_mm=0.3,
    setting="{}",
    look="clean",
    plan="p1",
    step="c1",
)


@pytest.fixture
def db(tmp_path: Path) -> Database:
    return Database(tmp_path)


def test_a_trial_comes_back_as_it_was_stored_and_only_once(db: Database) -> None:
    with db.atomic() as tx:
        stored = trials.add(tx, ROW)
        trials.add(tx, replace(ROW, look="spiders"))
    assert stored == replace(ROW, at=stored.at)
    assert trials.every(db.connection()) == [stored]


def test_a_trial_taken_back_stays_and_can_count_again(db: Database) -> None:
    with db.atomic() as tx:
        trials.add(tx, ROW)
        back = trials.take_back(tx, ROW.id, back=True)
        assert back.taken_back_at
        assert trials.take_back(tx, ROW.id, back=False).taken_back_at is None
        with pytest.raises(MissingError):
            trials.take_back(tx, "trial-0002", back=True)


@pytest.mark.parametrize(
    "wrong",
    [{"look": "fine"}, {"needle_mm": 3.0}, {"setting": "{"}, {"paint_name": ""}, {"id": "short"}],
)
def test_what_cannot_be_a_trial_is_refused(db: Database, wrong: dict[str, object]) -> None:
    with pytest.raises(sqlite3.IntegrityError):
        trials.add(db.connection(), replace(ROW, **wrong))  # type: ignore[arg-type]


def test_a_way_is_of_its_paint_airbrush_needle_and_task(db: Database) -> None:
    whose = Whose("slate", "all-round", 0.3, "cover")
    with db.atomic() as tx:
        trials.put_way(tx, whose, setting='{"a": 1}')
        trials.put_way(tx, whose, setting='{"a": 2}')
    held = db.connection()
    assert trials.way(held, whose) == '{"a": 2}'
    for other in (
        replace(whose, paint="dun"),
        replace(whose, airbrush="fine"),
        replace(whose, needle_mm=0.2),
        replace(whose, task="light"),
    ):
        assert trials.way(held, other) is None
        trials.forget_way(held, other)
    assert trials.way(held, whose) == '{"a": 2}'
    trials.forget_way(held, whose)
    assert trials.way(held, whose) is None
