"""Cards as they are made and printed."""

from __future__ import annotations

import sqlite3

import pytest

from haze.core.inspect.card import MOST
from haze.service.bench import Bench
from haze.service.cards import cards
from haze.service.cards.cards import CardView
from haze.service.cards.swatch import ClearSwatchError
from haze.store.connection import MissingError
from service.cards.printed import DEEP, body


def test_each_card_has_a_number_of_its_own(club: Bench, card: CardView) -> None:
    other = cards.make(club.db, club.shelf(), body(club, DEEP))
    assert card.number != other.number
    assert 1 <= card.number <= MOST
    assert (card.paint, card.title, card.dark) == (DEEP, "Wardens, shade", False)
    assert "18 psi · 2 : 1 · trigger 35 % · 60 mm · 80 mm/s" in card.setting


def test_a_light_paint_goes_on_black_and_a_clear_one_on_nothing(club: Bench) -> None:
    assert cards.make(club.db, club.shelf(), body(club, "Tern White")).dark
    varnish = next(p.name for p in club.shelf().paints if p.kind == "varnish")
    with pytest.raises(ClearSwatchError):
        cards.make(club.db, club.shelf(), body(club, varnish))


def test_the_sheet_says_what_it_is_for(club: Bench, card: CardView) -> None:
    told = cards.words_of(cards.one(club.db, card.number))
    assert told.left == f"Wardens, shade · {DEEP}"
    assert card.setting in told.right
    assert any("Mist" in c for c in told.cautions)
    assert f"Trial card {card.spoken}" in cards.as_svg(club.db, card.number)
    assert cards.as_pdf(club.db, [card.number], paper="letter").startswith(b"%PDF")
    with pytest.raises(MissingError, match="was not printed here"):
        cards.as_svg(club.db, 0)


def test_solvents_are_cautioned(club: Bench) -> None:
    lacquer = next((p.name for p in club.shelf().paints if p.kind == "lacquer"), None)
    asked = body(club, lacquer or DEEP, thinner="lacquer_thinner" if lacquer else "spirit")
    told = cards.words_of(cards.one(club.db, cards.make(club.db, club.shelf(), asked).number))
    assert any("vapour" in c for c in told.cautions)


def test_a_number_is_given_once(club: Bench, card: CardView) -> None:
    from haze.store import cards as store

    with pytest.raises(sqlite3.IntegrityError), club.db.atomic() as tx:
        store.add(tx, cards.one(club.db, card.number))


def test_a_drill_is_five_cards_of_one_cup_on_five_sheets(club: Bench) -> None:
    made = cards.make_drill(club.db, club.shelf(), club.beliefs, body(club, DEEP)).cards
    assert [one.title for one in made] == [f"Drill {n} of 5" for n in range(1, 6)]
    assert len({one.number for one in made}) == 5
    assert len({one.setting for one in made}) == 5
    usual = body(club, DEEP).setting.thinner_parts
    for one in made:
        assert usual / 3.4 <= one.asked.setting.thinner_parts <= 2.2 * usual
        assert 8 <= one.asked.setting.pressure_psi <= 28
    pages = cards.as_pdf(club.db, [one.number for one in made], paper="a4")
    assert pages.count(b"/Type /Page\n") == 5
