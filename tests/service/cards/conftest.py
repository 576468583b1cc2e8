"""A club with one card and its photo."""

from __future__ import annotations

import pytest

from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.cards import cards
from haze.service.cards.cards import CardView
from haze.service.cards.photos import CardPhotoView
from helpers import coarse
from service.cards.printed import DEEP, body, read, simulated


@pytest.fixture(scope="module")
def club(tmp_path_factory: pytest.TempPathFactory) -> Bench:
    bench = coarse(tmp_path_factory.mktemp("club"))
    saltgate.load_shelf(bench.db)
    return bench


@pytest.fixture(scope="module")
def card(club: Bench) -> CardView:
    return cards.make(club.db, club.shelf(), body(club, DEEP, title="Wardens, shade"))


@pytest.fixture(scope="module")
def jpeg(club: Bench, card: CardView) -> bytes:
    """A photo of the card, sprayed with a wider jet and more flow than the tables say."""
    return simulated(club, card, number=card.number, seed=4)


@pytest.fixture(scope="module")
def photo(club: Bench, jpeg: bytes) -> CardPhotoView:
    return read(club, jpeg)
