"""A look at a whole database, read only: its pages, its references, what it holds."""

from __future__ import annotations

import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from haze.store.opening import up_to_date

TABLES = ("plan", "revision", "mesh", "session", "trial", "photo", "card_photo", "piece_photo")
DOCUMENTS = "SELECT plan_id, number, document FROM revision ORDER BY plan_id, number"


@contextmanager
def read_only(path: Path) -> Iterator[sqlite3.Connection]:
    """A connection that changes nothing, not even how a backup keeps its journal.

    An older one is looked at as it would be after it was brought up.
    """
    with tempfile.TemporaryDirectory() as room:
        ready = up_to_date(path, Path(room))
        with closing(sqlite3.connect(f"{ready.resolve().as_uri()}?mode=ro", uri=True)) as db:
            db.row_factory = sqlite3.Row
            yield db


def pages(db: sqlite3.Connection) -> list[str]:
    """What is wrong with its pages and indexes; none when nothing is."""
    said = [str(row[0]) for row in db.execute("PRAGMA integrity_check(20)")]
    return [] if said == ["ok"] else said


def references(db: sqlite3.Connection) -> list[tuple[str, str]]:
    """Tables with a row that refers to one that is not there, and of which table that was."""
    return [(str(row[0]), str(row[2])) for row in db.execute("PRAGMA foreign_key_check")]


def documents(db: sqlite3.Connection) -> Iterator[tuple[str, int, str]]:
    """Every revision of every plan: the plan, its number, the document."""
    for row in db.execute(DOCUMENTS):
        yield str(row["plan_id"]), int(row["number"]), str(row["document"])


def counts(db: sqlite3.Connection) -> dict[str, int]:
    """How many rows the tables of a painter's own work hold."""
    return {
        table: int(db.execute(f"SELECT count(*) FROM {table}").fetchone()[0]) for table in TABLES
    }
