"""The club's shelf, in a data folder of its own."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from haze.demo.shelf import paints
from haze.service.bench import Bench
from haze.service.shelf import Shelf, shelf_of
from haze.store import shelf as rows


def fill(held: Bench) -> Bench:
    """The club's ninety paints beside the starter shelf."""
    with held.db.atomic() as tx:
        for row in paints():
            rows.put_paint(tx, row)
    return held


@pytest.fixture
def stocked(bench: Bench) -> Bench:
    """A fresh shelf, to be changed."""
    return fill(bench)


@pytest.fixture(scope="module")
def club(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Bench]:
    """One shelf for all tests of a module, not to be changed."""
    held = fill(Bench(tmp_path_factory.mktemp("club") / "data"))
    yield held
    held.close()


@pytest.fixture(scope="module")
def shelf(club: Bench) -> Shelf:
    """Its shelf as a plan would use it."""
    return shelf_of(club.db)
