"""Cards of the club, and photos of them, as tests ask for them."""

from __future__ import annotations

from typing import Any

from haze.service.bench import Bench
from haze.service.cards import photos
from haze.service.cards.cards import CardBody, CardView
from haze.service.cards.photos import CardPhotoView
from haze.service.cards.stand_in import StandInBody, StandInSeeds, stand_in_photo
from haze.service.cards.swatch import in_the_cup
from service.cards.test_swatch import body as swatch_body

DEEP = "Bilge Black"


def body(club: Bench, name: str, *, title: str = "", **knobs: Any) -> CardBody:
    given = swatch_body(club, name, **knobs).model_dump(exclude={"sharp"})
    return CardBody.model_validate({**given, "title": title})


def simulated(club: Bench, card: CardView, *, number: int, seed: int) -> bytes:
    return stand_in_photo(
        lambda _: True,
        setting=card.asked.sprayed,
        optics=in_the_cup(card.asked, club.shelf()).optics,
        number=number,
        dark=card.dark,
        sprayed=StandInSeeds(seed, seed),
        body=StandInBody(seed=seed),
    )


def read(club: Bench, data: bytes, wanted: int | None = None) -> CardPhotoView:
    return photos.take_in(club.db, club.shelf(), club.beliefs, data, wanted=wanted)
