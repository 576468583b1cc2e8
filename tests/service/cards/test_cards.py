"""Cards from print to what they teach: nothing is learned unless the painter agrees."""

from __future__ import annotations

import io
import sqlite3
from typing import Any

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import PhotoError
from haze.core.inspect.card import MOST
from haze.core.spray.calibrate import believed
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.cards import cards
from haze.service.cards.cards import AgreeBody, CardBody, CardPhotoView, CardView
from haze.service.cards.stand_in import Sprayed, StandInBody, stand_in_photo
from haze.service.cards.swatch import ClearSwatchError, in_the_cup
from haze.service.files.written import trials_csv
from haze.store import trials as trial_store
from haze.store.connection import MissingError
from service.cards.test_swatch import body as swatch_body

DEEP = "Bilge Black"


@pytest.fixture(scope="module")
def club(tmp_path_factory: pytest.TempPathFactory) -> Bench:
    bench = Bench(tmp_path_factory.mktemp("club"))
    saltgate.load_shelf(bench.db)
    return bench


def body(club: Bench, name: str, *, title: str = "", **knobs: Any) -> CardBody:
    given = swatch_body(club, name, **knobs).model_dump(exclude={"sharp"})
    return CardBody.model_validate({**given, "title": title})


@pytest.fixture(scope="module")
def card(club: Bench) -> CardView:
    return cards.make(club.db, club.shelf(), body(club, DEEP, title="Wardens, shade"))


def simulated(club: Bench, card: CardView, *, number: int, seed: int) -> bytes:
    return stand_in_photo(
        lambda _: True,
        setting=card.asked.sprayed,
        optics=in_the_cup(card.asked, club.shelf()).optics,
        number=number,
        dark=card.dark,
        sprayed=Sprayed(seed, seed),
        body=StandInBody(seed=seed),
    )


@pytest.fixture(scope="module")
def jpeg(club: Bench, card: CardView) -> bytes:
    """A photo of the card, sprayed with a wider jet and more flow than the tables say."""
    return simulated(club, card, number=card.number, seed=4)


def read(club: Bench, data: bytes, wanted: int | None = None) -> CardPhotoView:
    return cards.take_in(club.db, club.shelf(), club.beliefs, data, wanted=wanted)


@pytest.fixture(scope="module")
def photo(club: Bench, jpeg: bytes) -> CardPhotoView:
    return read(club, jpeg)


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


def test_a_photo_is_known_by_its_card(photo: CardPhotoView, card: CardView) -> None:
    assert photo.card is not None
    assert photo.card.number == card.number == photo.found.trial
    assert (photo.found.refused, photo.trial) == (None, None)
    assert photo.found.sure == photo.found.looks[0].share
    for name in ("line_15_mm", "line_25_mm", "line_40_mm", "pass_film_um"):
        m = photo.found.measures[name]
        assert m.low <= m.value <= m.high
        assert m.foreseen is not None
        assert m.words
    # places are shares of the photo
    for spots in photo.found.spots.values():
        assert all(0 <= s.x <= 1 and 0 <= s.y <= 1 and s.r > 0 for s in spots)
    assert len(photo.found.outline) == 4


def test_what_is_kept_of_a_photo_is_pixels(club: Bench, photo: CardPhotoView, jpeg: bytes) -> None:
    tagged = Image.open(io.BytesIO(jpeg))
    exif = Image.Exif()
    exif[0x8825] = {1: "N", 2: (51.0, 0.0, 0.0)}
    out = io.BytesIO()
    tagged.save(out, "JPEG", quality=90, exif=exif)
    kept = cards.photo_bytes(club.db, read(club, out.getvalue()).id)
    with Image.open(io.BytesIO(kept)) as image:
        assert max(image.size) == 1600
        assert not image.getexif()
    assert photo.width == 1600


def test_the_same_photo_again_is_the_one_there_is(
    club: Bench, photo: CardPhotoView, jpeg: bytes
) -> None:
    before = len(cards.everything(club.db).photos)
    assert read(club, jpeg).id == photo.id
    assert len(cards.everything(club.db).photos) == before


def test_a_card_teaches_when_the_painter_agrees_and_only_then(
    club: Bench, photo: CardPhotoView
) -> None:
    assert photo.card is not None
    through = photo.card.asked.through
    assert club.beliefs.of(through) is None
    told = cards.agree(club.db, club.beliefs, photo.id, AgreeBody(id="agree-0001", look="clean"))
    assert told.photo.trial == told.taught.trial == "agree-0001"
    assert told.words[-1].startswith("Clean here: ")
    point, _ = believed(club.beliefs.of(through))
    assert photo.found.measured is not None
    assert photo.found.measured.width is not None
    # what was measured of the width is what is believed of it now, drawn a little to the tables
    measured = np.log(photo.found.measured.width)
    assert float(np.log(point.width)) == pytest.approx(measured, abs=0.08)
    row = trial_store.one(club.db.connection(), "agree-0001")
    assert row.measured is not None
    assert trials_csv(club.db).count(b"Bilge Black") == 1
    back = cards.take_back(club.db, club.beliefs, photo.id)
    assert back.trial is None
    assert club.beliefs.of(through) is None
    # and agreed with anew, as something else
    again = AgreeBody(id="agree-0002", look="specks")
    said = cards.agree(club.db, club.beliefs, photo.id, again).photo
    assert (said.trial, said.look) == ("agree-0002", "specks")
    # taken back in the notebook or the window it counts nowhere, counted again it does
    for back, trial in ((True, None), (False, "agree-0002")):
        club.take_trial_back("agree-0002", back=back)
        shown = {p.id: p.trial for p in cards.everything(club.db).photos}
        assert shown[photo.id] == trial
    assert cards.take_back(club.db, club.beliefs, photo.id).trial is None


def test_a_photo_is_read_when_a_cards_paint_is_no_longer_owned(
    club: Bench, photo: CardPhotoView, jpeg: bytes
) -> None:
    left = [p for p in club.shelf().paints if p.name != DEEP]
    without = club.shelf().model_copy(update={"paints": left})
    found = cards.take_in(club.db, without, club.beliefs, jpeg, wanted=None)
    assert (found.id, found.found.refused) == (photo.id, None)
    assert "solid_delta_e" not in found.found.measures
    read(club, jpeg)


def test_a_photo_of_an_unknown_card_is_read_but_teaches_nothing(
    club: Bench, card: CardView
) -> None:
    strange = simulated(club, card, number=(card.number + 1) % MOST, seed=9)
    found = read(club, strange)
    assert (found.card, found.found.refused) == (None, None)
    assert found.found.trial == (card.number + 1) % MOST
    with pytest.raises(MissingError, match="setting is not known"):
        cards.agree(club.db, club.beliefs, found.id, AgreeBody(id="agree-0003", look="clean"))
    assert read(club, strange, wanted=card.number).found.reason == "wrong"


@pytest.mark.parametrize("data", [b"", b"no photo", b"\xff\xd8\xff\xe0" + b"0" * 400])
def test_what_is_no_photo_is_refused_and_nothing_is_kept(club: Bench, data: bytes) -> None:
    before = len(cards.everything(club.db).photos)
    with pytest.raises(PhotoError):
        read(club, data)
    assert len(cards.everything(club.db).photos) == before


def test_a_photo_thrown_away_leaves_what_it_taught(club: Bench, photo: CardPhotoView) -> None:
    cards.agree(club.db, club.beliefs, photo.id, AgreeBody(id="agree-0004", look="clean"))
    cards.throw_away(club.db, photo.id)
    with pytest.raises(MissingError):
        cards.photo_bytes(club.db, photo.id)
    assert trial_store.is_known(club.db.connection(), "agree-0004")
    with pytest.raises(MissingError):
        cards.throw_away(club.db, photo.id)


def test_a_number_is_given_once(club: Bench, card: CardView) -> None:
    from haze.store import cards as store

    with pytest.raises(sqlite3.IntegrityError), club.db.atomic() as tx:
        store.add(tx, cards.one(club.db, card.number))


def test_the_stand_in_sprays_a_card_once_and_an_airbrush_stays_as_it_is(
    club: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[Sprayed] = []

    def run(work: Any, **_: Any) -> bytes:
        asked.append(work.keywords["sprayed"])
        return b""

    monkeypatch.setattr(cards.apart, "run", run)
    monkeypatch.setattr(cards, "take_in", lambda *_, **__: None)
    one, other = (cards.make(club.db, club.shelf(), body(club, DEEP)) for _ in range(2))
    for card, seed in ((one, 0), (one, 1), (other, 0)):
        how = StandInBody(seed=seed)
        cards.stand_in(club.db, club.shelf(), club.beliefs, card.number, how)
    assert asked[0] == asked[1] != asked[2]
    assert asked[0].cup == asked[2].cup


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


def test_what_a_look_would_teach_is_told_before_and_then_taught(club: Bench, jpeg: bytes) -> None:
    photo = read(club, jpeg)
    would = cards.would_teach(club.db, club.beliefs, photo.id).would
    assert [one.look for one in would] == [one.look for one in photo.found.looks[:2]]
    first = would[0]
    got = cards.agree(club.db, club.beliefs, photo.id, AgreeBody(id="would-0001", look=first.look))
    assert got.taught.before.clean == pytest.approx(first.before, abs=1e-9)
    assert got.taught.after.clean == pytest.approx(first.after, abs=1e-9)
    # once it has taught there is nothing more to tell
    assert cards.would_teach(club.db, club.beliefs, photo.id).would == []
    cards.take_back(club.db, club.beliefs, photo.id)
