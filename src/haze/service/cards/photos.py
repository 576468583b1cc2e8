"""Photos of trial cards: read, kept beside their cards, looked at again."""

from __future__ import annotations

import uuid
from functools import partial
from zlib import crc32

from pydantic import BaseModel

from haze.core.errors import UnknownNameError
from haze.core.spray.calibrate import Look, believed
from haze.service.cards.card_read import CardRead, KnownCard, ReadPhoto
from haze.service.cards.cards import CardBody, CardView, named_card, one, view
from haze.service.cards.reading import read_apart
from haze.service.cards.stand_in import StandInBody, StandInSeeds, stand_in_photo
from haze.service.cards.swatch import ClearSwatchError, in_the_cup
from haze.service.cups.beliefs import Beliefs
from haze.service.forms.records import Unreadable, is_readable, read_or_none, readable
from haze.service.shelf.shelf import Shelf
from haze.service.work import apart
from haze.store import cards as store
from haze.store.cards import CardPhotoRow, CardRow
from haze.store.connection import Database, now

LISTED, LISTED_PHOTOS = 60, 60
KNOWN = 300  # cards that a photo may be of without being asked for
SIMULATING = apart.Limits(seconds=120.0, room=3 * apart.GIB)


class CardPhotoView(BaseModel):
    """A photo of a card and what was read; `trial` is the trial it became, if that counts.

    `look` is what the painter said then.
    """

    id: str
    at: str
    card: CardView | None
    width: int
    height: int
    found: CardRead
    trial: str | None
    look: Look | None


class CardsView(BaseModel):
    """All cards and photos, the newest first, and what could not be read."""

    cards: list[CardView]
    photos: list[CardPhotoView]
    unreadable: list[Unreadable]


def known_of(row: CardRow, shelf: Shelf, beliefs: Beliefs) -> KnownCard:
    """What is known of a card beforehand: what was believed of its paint and airbrush counts."""
    asked = CardBody.model_validate_json(row.asked)
    try:
        optics = in_the_cup(asked, shelf).optics
    except (ClearSwatchError, UnknownNameError):
        optics = None  # the paint is no longer on the shelf: the solid will say its colour
    point, _ = believed(beliefs.of(asked.through))
    return KnownCard(asked.sprayed, optics, point, row.dark)


def take_in(
    db: Database, shelf: Shelf, beliefs: Beliefs, data: bytes, *, wanted: int | None
) -> CardPhotoView:
    """Read a photo and keep it; nothing is learned from it yet.

    Raises
    ------
    PhotoError, TooLongError, TooMuchRoomError, MissingError
    """
    held = db.connection()
    rows = [one(db, wanted)] if wanted is not None else store.newest(held, KNOWN)
    known = {
        row.number: known_of(row, shelf, beliefs)
        for row in rows
        if is_readable("card", row.number, partial(view, row))
    }
    return keep(db, read_apart(data, known, wanted=wanted))


def keep(db: Database, got: ReadPhoto) -> CardPhotoView:
    """Keep a photo that was read; the same one again replaces it."""
    with db.atomic() as tx:
        number = got.found.trial
        row = CardPhotoRow(
            id=uuid.uuid4().hex,
            at=now(),
            hash=got.hash,
            card=number if number is not None and store.find(tx, number) else None,
            width=got.width,
            height=got.height,
            found=got.found.model_dump_json(),
        )
        return photo_view(db, store.add_photo(tx, row, data=got.jpeg))


def stand_in(
    db: Database, shelf: Shelf, beliefs: Beliefs, number: int, body: StandInBody
) -> CardPhotoView:
    """Take in a photo of a card as the stand-in would take it; it is marked as simulated.

    A card is sprayed once, and an airbrush with a paint is the same on every card.
    """
    row = one(db, number)
    asked = CardBody.model_validate_json(row.asked)
    cup = crc32(f"{asked.paint.name}/{asked.airbrush.name}".encode())
    work = partial(
        stand_in_photo,
        setting=asked.sprayed,
        optics=in_the_cup(asked, shelf).optics,
        number=number,
        dark=row.dark,
        sprayed=StandInSeeds(cup, store.before(db.connection(), row)),
        body=body,
    )
    data: bytes = apart.run(work, limits=SIMULATING)
    return take_in(db, shelf, beliefs, data, wanted=None)


def photo_view(db: Database, row: CardPhotoRow) -> CardPhotoView:
    """A photo as the screens show it."""
    card = store.find(db.connection(), row.card) if row.card is not None else None
    return CardPhotoView(
        id=row.id,
        at=row.at,
        card=read_or_none("card", card.number, partial(view, card)) if card else None,
        width=row.width,
        height=row.height,
        found=CardRead.model_validate_json(row.found),
        trial=row.trial,
        look=row.look,
    )


def everything(db: Database) -> CardsView:
    """Cards and photos, the newest first."""
    held = db.connection()
    made = readable(store.newest(held, LISTED), view, named_card)
    taken = readable(store.newest_photos(held, LISTED_PHOTOS), partial(photo_view, db), named_photo)
    return CardsView(
        cards=made.views,
        photos=taken.views,
        unreadable=[*made.unreadable, *taken.unreadable],
    )


def named_photo(row: CardPhotoRow) -> Unreadable:
    """What can be said of a photo without reading it."""
    return Unreadable(kind="card_photo", id=row.id, name="A photo of a card", at=row.at)


def photo_bytes(db: Database, photo: str) -> bytes:
    """JPEG of a photo."""
    return store.photo_data(db.connection(), photo)
