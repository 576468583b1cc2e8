"""Cards to practise on, and what they were taken for."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store.connection import MissingError

ADD = "INSERT INTO practice_card (id, at, asked) VALUES (:id, :at, :asked)"
ONE = "SELECT id, at, asked, answer FROM practice_card WHERE id = :id"
OPEN = """SELECT id, at, asked, answer FROM practice_card
WHERE answer IS NULL ORDER BY at DESC, rowid DESC"""
EVERY = "SELECT id, at, asked, answer FROM practice_card ORDER BY at, rowid"
ANSWER = "UPDATE practice_card SET answer = :answer WHERE id = :id AND answer IS NULL"
ANSWERED = """SELECT id, at, asked, answer FROM practice_card
WHERE answer IS NOT NULL ORDER BY at DESC, rowid DESC LIMIT :most"""
COUNT = "SELECT count(*) FROM practice_card"


@dataclass(frozen=True, slots=True)
class PracticeRow:
    """A card; `asked` and `answer` are JSON, `answer` None until it was given."""

    id: str
    at: str
    asked: str
    answer: str | None = None


def _row(found: sqlite3.Row) -> PracticeRow:
    return PracticeRow(**dict(found))


def add(db: sqlite3.Connection, row: PracticeRow) -> None:
    """Store a card that waits for its answer."""
    db.execute(ADD, {k: v for k, v in asdict(row).items() if k != "answer"})


def one(db: sqlite3.Connection, identity: str) -> PracticeRow:
    """A card; `MissingError` when there is none."""
    found = db.execute(ONE, {"id": identity}).fetchone()
    if found is None:
        raise MissingError("This practice card is not known.", field="practice")
    return _row(found)


def is_known(db: sqlite3.Connection, identity: str) -> bool:
    """Whether there is a card."""
    return db.execute(ONE, {"id": identity}).fetchone() is not None


def waiting(db: sqlite3.Connection) -> list[PracticeRow]:
    """The cards that wait for their answer, the last first."""
    return [_row(found) for found in db.execute(OPEN)]


def every(db: sqlite3.Connection) -> list[PracticeRow]:
    """All cards, the oldest first."""
    return [_row(found) for found in db.execute(EVERY)]


def answer(db: sqlite3.Connection, identity: str, *, answer: str) -> None:
    """Keep the answer to a card; a second one changes nothing."""
    db.execute(ANSWER, {"id": identity, "answer": answer})


def answered(db: sqlite3.Connection, most: int) -> list[PracticeRow]:
    """The cards answered last, the oldest first."""
    return [_row(row) for row in db.execute(ANSWERED, {"most": most})][::-1]


def count(db: sqlite3.Connection) -> int:
    """How many cards there were."""
    return int(db.execute(COUNT).fetchone()[0])
