"""The club's three months come into a fresh demo, dated from today, and into nothing else."""

from __future__ import annotations

from datetime import date, timedelta
from importlib import resources

import pytest

from haze.demo import saltgate
from haze.demo.history import ANCHOR, HISTORY, moved
from haze.service.bench import Bench
from haze.service.cards import photos, piece_photos
from haze.service.files.unreadable import everything as unreadable
from haze.service.notebook import notebook
from haze.store import trials
from haze.web.app import create_app


@pytest.fixture
def demo(bench: Bench) -> Bench:
    saltgate.load(bench.db, past=True)
    bench.beliefs.changed()
    return bench


def counts(bench: Bench) -> tuple[int, int, int, int]:
    return (
        len(bench.notebook().sessions),
        len(trials.every(bench.db.connection())),
        len(photos.everything(bench.db).photos),
        len(piece_photos.piece_photos(bench.db).photos),
    )


def test_it_is_small() -> None:
    assert (resources.files("haze.demo") / HISTORY).stat().st_size < 6e6  # type: ignore[attr-defined]


def test_every_part_of_the_notebook_has_something_to_show(demo: Bench) -> None:
    sessions, tried, cards, pieces = counts(demo)
    assert sessions >= 8
    assert tried >= 30
    assert (cards, pieces) == (6, 3)
    rows = trials.every(demo.db.connection())
    assert len({row.paint for row in rows}) >= 9
    assert len({row.airbrush for row in rows}) == 3
    assert {row.look for row in rows} > {"clean"}
    views = [
        notebook.one(demo.db, demo.beliefs, line.id, demo.on) for line in demo.notebook().sessions
    ]
    assert any(view.line.rating == 5 for view in views)
    assert any("Specks" in view.note for view in views)
    assert unreadable(demo.db).records == []


def test_it_ends_yesterday(demo: Bench) -> None:
    days = [date.fromisoformat(line.date) for line in demo.notebook().sessions]
    assert max(days) in (date.today(), date.today() - timedelta(days=1))
    assert min(days) > date.today() - timedelta(days=100)


def test_it_comes_once_and_never_to_plans_of_ones_own(demo: Bench, bench: Bench) -> None:
    before = counts(demo)
    notebook.put_away(demo.db, demo.notebook().sessions[0].id, trashed=True)
    saltgate.load(demo.db, past=True)
    assert counts(demo)[1:] == before[1:]
    assert counts(demo)[0] == before[0] - 1


def test_plans_that_are_there_already_get_no_past(bench: Bench) -> None:
    saltgate.load(bench.db)
    saltgate.load(bench.db, past=True)
    assert counts(bench) == (0, 0, 0, 0)


def test_the_demo_opened_among_own_plans_brings_plans_only(bench: Bench) -> None:
    assert create_app(bench).test_client().post("/api/demo").status_code == 201
    assert counts(bench) == (0, 0, 0, 0)


def test_dates_move_and_nothing_else_does() -> None:
    part = {"at": "2026-11-30T13:40:00.000+00:00", "date": "2026-11-30", "n": 3, "note": "2026"}
    assert moved([part], timedelta(days=32)) == [
        {"at": "2027-01-01T13:40:00.000+00:00", "date": "2027-01-01", "n": 3, "note": "2026"}
    ]
    assert moved(part, date(2026, 12, 1) - ANCHOR) == part
