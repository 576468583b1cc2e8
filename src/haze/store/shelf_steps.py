"""Changes to the shelf as rows before and after, to undo them and do them again."""

from __future__ import annotations

import json
import sqlite3
from typing import NamedTuple

from haze.store.connection import MissingError, now

TABLES = ("paint", "thinner", "airbrush", "compressor")
KEPT = 200

Row = dict[str, str | float | int | None]
Rows = dict[tuple[str, str], Row]

EVERY = {table: f"SELECT * FROM {table}" for table in TABLES}
DELETE = {table: f"DELETE FROM {table} WHERE id = :id" for table in TABLES}
COLUMNS = "SELECT name FROM pragma_table_info(:table)"
ADD = """
INSERT INTO shelf_step (at, what, before, after) VALUES (:at, :what, :before, :after)
"""
DROP_UNDONE = "DELETE FROM shelf_step WHERE undone = 1"
DROP_OLD = "DELETE FROM shelf_step WHERE n <= (SELECT max(n) FROM shelf_step) - :kept"
FORGET = "DELETE FROM shelf_step"
NEXT_UNDO = """
SELECT n, what, before AS change FROM shelf_step WHERE undone = 0 ORDER BY n DESC LIMIT 1
"""
NEXT_REDO = "SELECT n, what, after AS change FROM shelf_step WHERE undone = 1 ORDER BY n LIMIT 1"
MARK = "UPDATE shelf_step SET undone = :undone WHERE n = :n"


class Steps(NamedTuple):
    """What the next undo and redo would take back or do again; None when there is nothing."""

    undo: str | None
    redo: str | None


def every_row(db: sqlite3.Connection) -> Rows:
    """All rows of the shelf, trash included, by table and id."""
    return {
        (table, row["id"]): dict(row) for table, query in EVERY.items() for row in db.execute(query)
    }


def record(db: sqlite3.Connection, what: str, *, before: Rows) -> None:
    """Keep what has changed since `before` as one step; nothing when nothing did.

    Steps that were undone can not be done again afterwards.
    """
    after = every_row(db)
    changed = [key for key in before.keys() | after.keys() if before.get(key) != after.get(key)]
    if not changed:
        return
    db.execute(DROP_UNDONE)
    db.execute(
        ADD,
        {
            "at": now(),
            "what": what[:200],
            "before": _text(changed, before),
            "after": _text(changed, after),
        },
    )
    db.execute(DROP_OLD, {"kept": KEPT})


def _text(changed: list[tuple[str, str]], rows: Rows) -> str:
    return json.dumps(
        [[table, identity, rows.get((table, identity))] for table, identity in changed]
    )


def steps(db: sqlite3.Connection) -> Steps:
    """The next steps to undo and to redo."""
    undo, redo = db.execute(NEXT_UNDO).fetchone(), db.execute(NEXT_REDO).fetchone()
    return Steps(undo["what"] if undo else None, redo["what"] if redo else None)


def undo(db: sqlite3.Connection) -> str:
    """Take the last step back; what it was."""
    return _move(db, NEXT_UNDO, undone=1, missing="There is nothing to undo on the shelf.")


def redo(db: sqlite3.Connection) -> str:
    """Do the step again that was undone last; what it was."""
    return _move(db, NEXT_REDO, undone=0, missing="There is nothing to redo on the shelf.")


def forget(db: sqlite3.Connection) -> None:
    """Drop all steps."""
    db.execute(FORGET)


def _move(db: sqlite3.Connection, query: str, *, undone: int, missing: str) -> str:
    step = db.execute(query).fetchone()
    if step is None:
        raise MissingError(missing)
    for table, identity, row in json.loads(step["change"]):
        if row is None:
            db.execute(DELETE[table], {"id": identity})
        else:
            _put(db, table, row)
    db.execute(MARK, {"undone": undone, "n": step["n"]})
    return str(step["what"])


def _put(db: sqlite3.Connection, table: str, row: Row) -> None:
    known = [c["name"] for c in db.execute(COLUMNS, {"table": table}) if c["name"] in row]
    names = ", ".join(f'"{c}"' for c in known)
    values = ", ".join(f":{c}" for c in known)
    db.execute(f"INSERT OR REPLACE INTO {table} ({names}) VALUES ({values})", row)
