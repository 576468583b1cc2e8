"""Settings of the house: text values by name; defaults and checks live in the service."""

from __future__ import annotations

import sqlite3

SELECT = "SELECT name, value FROM setting ORDER BY name"
PUT = """
INSERT INTO setting (name, value) VALUES (:name, :value)
ON CONFLICT (name) DO UPDATE SET value = :value
"""


def every(db: sqlite3.Connection) -> dict[str, str]:
    """All stored settings."""
    return {row["name"]: row["value"] for row in db.execute(SELECT)}


def put(db: sqlite3.Connection, name: str, value: str) -> None:
    """Store one setting."""
    db.execute(PUT, {"name": name, "value": value})
