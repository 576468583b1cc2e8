"""Printed trial cards by their number, and photos of them with what was read."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store import putting_away
from haze.store.connection import MissingError

# a trial that was taken back, wherever that was, is none
LISTED = """
p.id, p.at, p.hash, p.card, p.width, p.height, p.found, p.trashed_at, t.id AS trial, t.look AS look
FROM card_photo AS p LEFT JOIN trial AS t ON t.id = p.trial AND t.taken_back_at IS NULL
"""
ADD = "INSERT INTO card (number, made_at, dark, asked) VALUES (:number, :made_at, :dark, :asked)"
ONE = "SELECT number, made_at, dark, asked FROM card WHERE number = :number"
BEFORE = "SELECT count(*) FROM card WHERE (made_at, number) < (:made_at, :number)"
NEWEST = "SELECT number, made_at, dark, asked FROM card ORDER BY made_at DESC, number LIMIT :most"
ADD_PHOTO = """
INSERT INTO card_photo (id, at, hash, card, width, height, data, found)
VALUES (:id, :at, :hash, :card, :width, :height, :data, :found)
ON CONFLICT (hash) DO UPDATE SET found = :found, card = :card, trashed_at = NULL
"""
ONE_PHOTO = f"SELECT {LISTED} WHERE p.id = :id"
BY_HASH = f"SELECT {LISTED} WHERE p.hash = :hash"
NEWEST_PHOTOS = f"SELECT {LISTED} WHERE p.trashed_at IS NULL ORDER BY p.at DESC, p.id LIMIT :most"
TRASHED = f"SELECT {LISTED} WHERE p.trashed_at IS NOT NULL ORDER BY p.trashed_at DESC, p.id"
EVERY = "SELECT number, made_at, dark, asked FROM card ORDER BY made_at, number"
EVERY_PHOTO = f"SELECT {LISTED} ORDER BY p.at, p.id"
KNOWN_PHOTO = "SELECT 1 FROM card_photo WHERE :which IN (id, hash)"
DATA = "SELECT data FROM card_photo WHERE id = :id"
TAUGHT = "UPDATE card_photo SET trial = :trial WHERE id = :id"


@dataclass(frozen=True, slots=True)
class CardRow:
    """A printed card; `asked` is JSON: what it was made for."""

    number: int
    made_at: str
    dark: bool
    asked: str


@dataclass(frozen=True, slots=True)
class CardPhotoRow:
    """A photo of a card without its bytes; `found` is JSON, `trial` and `look` what it became."""

    id: str
    at: str
    hash: str
    card: int | None
    width: int
    height: int
    found: str
    trial: str | None = None
    look: str | None = None
    trashed_at: str | None = None


def _card(row: sqlite3.Row) -> CardRow:
    return CardRow(row["number"], row["made_at"], bool(row["dark"]), row["asked"])


def add(db: sqlite3.Connection, card: CardRow) -> None:
    """Store a card; its number must be free."""
    db.execute(ADD, asdict(card) | {"dark": int(card.dark)})


def find(db: sqlite3.Connection, number: int) -> CardRow | None:
    """A card by its number; None when it was not printed here."""
    row = db.execute(ONE, {"number": number}).fetchone()
    return None if row is None else _card(row)


def before(db: sqlite3.Connection, card: CardRow) -> int:
    """How many cards were printed before one."""
    asked = {"made_at": card.made_at, "number": card.number}
    return int(db.execute(BEFORE, asked).fetchone()[0])


def newest(db: sqlite3.Connection, most: int) -> list[CardRow]:
    """The cards printed last, the newest first."""
    return [_card(row) for row in db.execute(NEWEST, {"most": most})]


def every(db: sqlite3.Connection) -> list[CardRow]:
    """All cards, the oldest first."""
    return [_card(row) for row in db.execute(EVERY)]


def add_photo(db: sqlite3.Connection, row: CardPhotoRow, *, data: bytes) -> CardPhotoRow:
    """Store a photo; the same one again, by its hash, keeps its place with what is read now."""
    db.execute(ADD_PHOTO, asdict(row) | {"data": data})
    return CardPhotoRow(**dict(db.execute(BY_HASH, {"hash": row.hash}).fetchone()))


def photo(db: sqlite3.Connection, identity: str) -> CardPhotoRow:
    """A photo; `MissingError` when there is none."""
    row = db.execute(ONE_PHOTO, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This photo of a card is not known.", field="photo")
    return CardPhotoRow(**dict(row))


def newest_photos(db: sqlite3.Connection, most: int) -> list[CardPhotoRow]:
    """The photos taken in last, the newest first."""
    return [CardPhotoRow(**dict(row)) for row in db.execute(NEWEST_PHOTOS, {"most": most})]


def photo_is_known(db: sqlite3.Connection, which: str) -> bool:
    """Whether there is a photo of an identity or a hash, in the trash or not."""
    return db.execute(KNOWN_PHOTO, {"which": which}).fetchone() is not None


def photo_data(db: sqlite3.Connection, identity: str) -> bytes:
    """A photo's bytes (JPEG)."""
    row = db.execute(DATA, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This photo of a card is not known.", field="photo")
    return bytes(row[0])


def taught(db: sqlite3.Connection, identity: str, *, trial: str) -> None:
    """Keep which trial a photo became."""
    db.execute(TAUGHT, {"id": identity, "trial": trial})


def trashed_photos(db: sqlite3.Connection) -> list[CardPhotoRow]:
    """The photos in the trash, the last first."""
    return [CardPhotoRow(**dict(row)) for row in db.execute(TRASHED)]


def every_photo(db: sqlite3.Connection) -> list[CardPhotoRow]:
    """All photos, in the trash or not, the oldest first."""
    return [CardPhotoRow(**dict(row)) for row in db.execute(EVERY_PHOTO)]


def set_photo_trashed(db: sqlite3.Connection, identity: str, *, trashed: bool) -> CardPhotoRow:
    """Put a photo into the trash, or take it out; the trial it became stays."""
    putting_away.move(db, "card_photo", identity, trashed=trashed)
    return photo(db, identity)


def empty_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash; how many photos went."""
    return putting_away.empty(db, "card_photo")


def size(db: sqlite3.Connection) -> tuple[int, int]:
    """How many photos there are, and their bytes."""
    return putting_away.size(db, "card_photo")
