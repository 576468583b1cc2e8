"""Cells of a database that come to hold what nothing in Haze would write there."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from itertools import zip_longest
from pathlib import Path
from typing import NamedTuple

from haze.store.connection import FILE_NAME

Value = str | int | float | bytes | None
TEXTS = (
    "",
    "{}",
    "[1",
    "null",
    '[{"x": 1e999}]',
    "2026-99-99T99:99:99Z",
    "\u0662\u0660\u0662\u0666-02-31",
    "../../x\u2028\U0001f5ff" * 40,
)
WORST = {"TEXT": "2026-99-99T99:99:99Z", "INTEGER": 2**62, "REAL": 1e308, "BLOB": b""}
EVERY: dict[str, tuple[Value, ...]] = {
    "TEXT": TEXTS,
    "INTEGER": (-1, 0, 2**62),
    "REAL": (-1e308, 1e308, 0.0),
    "BLOB": (b"", b"\xff" * 9),
}
OF_SQLITE = ("sqlite_", "found")


class Harm(NamedTuple):
    """A cell of the first row of a table, and what it comes to hold."""

    table: str
    column: str
    value: Value


def _connected(folder: Path) -> sqlite3.Connection:
    db = sqlite3.connect(folder / FILE_NAME, isolation_level=None, timeout=30)
    db.execute("PRAGMA ignore_check_constraints = ON")
    db.execute("PRAGMA foreign_keys = OFF")
    return db


def harms(folder: Path, *, thorough: bool) -> Iterator[Harm]:
    """Ways to harm a cell of each column of each table.

    Parameters
    ----------
    folder : the data folder
    thorough : with every value; else with the worst of its kind, and for JSON one of another shape
    """
    with closing(_connected(folder)) as db:
        names = [n for (n,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        for table in (n for n in names if not n.startswith(OF_SQLITE)):
            for _, column, kind, *_ in db.execute(f"PRAGMA table_info({table})").fetchall():
                held = db.execute(f'SELECT "{column}" FROM {table} LIMIT 1').fetchone()
                shape = '[{"x": 1e999}]' if str(held and held[0])[:1] in "[{" else WORST[kind]
                for value in EVERY[kind] if thorough else (shape,):
                    yield Harm(table, column, value)


def side_by_side(every: Iterable[Harm]) -> list[tuple[Harm, ...]]:
    """Harms of different tables together, so that each is tried and few rounds do."""
    by_table: dict[str, list[Harm]] = {}
    for one in every:
        by_table.setdefault(one.table, []).append(one)
    rounds = zip_longest(*by_table.values())
    return [tuple(one for one in together if one) for together in rounds]


def harm(folder: Path, one: Harm) -> tuple[int, object] | None:
    """Harm one cell, whatever its checks say.

    Returns
    -------
    Its row and what it held; None when there is no row, or the table takes no such value.
    """
    with closing(_connected(folder)) as db:
        row = db.execute(f'SELECT rowid, "{one.column}" FROM {one.table} LIMIT 1').fetchone()
        if row is None:
            return None
        try:
            db.execute(_change(one), (one.value, row[0]))
        except sqlite3.Error:
            return None
        return int(row[0]), row[1]


def _change(one: Harm) -> str:
    return f'UPDATE {one.table} SET "{one.column}" = ? WHERE rowid = ?'


@contextmanager
def harmed(folder: Path, one: Harm) -> Iterator[bool]:
    """Hold one cell harmed while nothing else writes; False when it cannot be."""
    before = harm(folder, one)
    yield before is not None
    if before is None:
        return
    number, value = before
    with closing(_connected(folder)) as db:
        # where the column is the row's own number, it has moved
        at = db.execute(f"SELECT rowid FROM {one.table} WHERE rowid = ?", (number,)).fetchone()
        db.execute(_change(one), (value, number if at else one.value))
