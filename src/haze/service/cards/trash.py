"""Photos of cards and of painted pieces that were put away, until they are deleted for good."""

from __future__ import annotations

from functools import partial
from typing import Literal

from pydantic import BaseModel

from haze.service.cards.photos import photo_view
from haze.service.forms.records import read_or_none
from haze.service.forms.wire import Identity, Strict
from haze.service.plan.plans import name_of
from haze.store import cards, piece_photos
from haze.store.connection import Database

PhotoOf = Literal["card", "piece"]


class AwayPhoto(Strict):
    """A photo, and whether it goes into the trash or comes out of it."""

    of: PhotoOf
    id: Identity
    trashed: bool


class TrashedPhoto(BaseModel):
    """A photo in the trash; `name` tells the card or the plan it is of."""

    of: PhotoOf
    id: str
    at: str
    name: str


class CardsTrash(BaseModel):
    """What lies in the trash."""

    photos: list[TrashedPhoto]


def cards_trash(db: Database) -> CardsTrash:
    """What lies in the trash: photos of cards, then of pieces, the last first."""
    tx = db.connection()
    of_cards = [
        TrashedPhoto(of="card", id=row.id, at=row.at, name=_card_name(db, row))
        for row in cards.trashed_photos(tx)
    ]
    of_pieces = [
        TrashedPhoto(of="piece", id=row.id, at=row.at, name=name_of(db, row.plan))
        for row in piece_photos.trashed(tx)
    ]
    return CardsTrash(photos=[*of_cards, *of_pieces])


def _card_name(db: Database, row: cards.CardPhotoRow) -> str:
    photo = read_or_none("card_photo", row.id, partial(photo_view, db, row))
    if photo is None:
        return "A photo of a card that cannot be read"
    card = photo.card
    return f"Card {card.spoken}, {card.paint}" if card else "Another card"


def put_away(db: Database, body: AwayPhoto) -> CardsTrash:
    """Into the trash, or out of it; what a photo taught stays.

    Raises
    ------
    MissingError
    """
    with db.atomic() as tx:
        move = cards.set_photo_trashed if body.of == "card" else piece_photos.set_trashed
        move(tx, body.id, trashed=body.trashed)
    return cards_trash(db)


def empty_trash(db: Database) -> int:
    """Delete for good what is in the trash; how many photos went."""
    with db.atomic() as tx:
        return cards.empty_trash(tx) + piece_photos.empty_trash(tx)
