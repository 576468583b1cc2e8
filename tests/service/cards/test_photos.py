"""Photos of cards: known by their card, kept as pixels, once."""

from __future__ import annotations

import io
from typing import Any

import pytest
from PIL import Image

from haze.core.errors import PhotoError
from haze.service.bench import Bench
from haze.service.cards import cards, photos
from haze.service.cards.cards import CardView
from haze.service.cards.photos import CardPhotoView
from haze.service.cards.stand_in import StandInBody, StandInSeeds
from service.cards.printed import DEEP, body, read


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
    kept = photos.photo_bytes(club.db, read(club, out.getvalue()).id)
    with Image.open(io.BytesIO(kept)) as image:
        assert max(image.size) == 1600
        assert not image.getexif()
    assert photo.width == 1600


def test_the_same_photo_again_is_the_one_there_is(
    club: Bench, photo: CardPhotoView, jpeg: bytes
) -> None:
    before = len(photos.everything(club.db).photos)
    assert read(club, jpeg).id == photo.id
    assert len(photos.everything(club.db).photos) == before


def test_a_photo_is_read_when_a_cards_paint_is_no_longer_owned(
    club: Bench, photo: CardPhotoView, jpeg: bytes
) -> None:
    left = [p for p in club.shelf().paints if p.name != DEEP]
    without = club.shelf().model_copy(update={"paints": left})
    found = photos.take_in(club.db, without, club.beliefs, jpeg, wanted=None)
    assert (found.id, found.found.refused) == (photo.id, None)
    assert "solid_delta_e" not in found.found.measures
    read(club, jpeg)


@pytest.mark.parametrize("data", [b"", b"no photo", b"\xff\xd8\xff\xe0" + b"0" * 400])
def test_what_is_no_photo_is_refused_and_nothing_is_kept(club: Bench, data: bytes) -> None:
    before = len(photos.everything(club.db).photos)
    with pytest.raises(PhotoError):
        read(club, data)
    assert len(photos.everything(club.db).photos) == before


def test_the_stand_in_sprays_a_card_once_and_an_airbrush_stays_as_it_is(
    club: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[StandInSeeds] = []

    def run(work: Any, **_: Any) -> bytes:
        asked.append(work.keywords["sprayed"])
        return b""

    monkeypatch.setattr(photos.apart, "run", run)
    monkeypatch.setattr(photos, "take_in", lambda *_, **__: None)
    one, other = (cards.make(club.db, club.shelf(), body(club, DEEP)) for _ in range(2))
    for card, seed in ((one, 0), (one, 1), (other, 0)):
        how = StandInBody(seed=seed)
        photos.stand_in(club.db, club.shelf(), club.beliefs, card.number, how)
    assert asked[0] == asked[1] != asked[2]
    assert asked[0].cup == asked[2].cup
