"""Databases of older versions."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from haze.store.connection import FILE_NAME, Database
from haze.store.opening import migrations, statements


def test_an_older_database_keeps_its_meshes_and_takes_new_kinds(tmp_path: Path) -> None:
    (number, script), *_ = migrations()
    old = sqlite3.connect(tmp_path / FILE_NAME)
    for statement in statements(script):
        old.execute(statement)
    old.execute("INSERT INTO mesh VALUES (?, 'a', 'stl', 3, 1, x'010203', 'now')", ("a" * 64,))
    old.execute("INSERT INTO plan VALUES ('p', 1, 1, 'now', 'now', NULL)")
    old.execute("INSERT INTO revision VALUES ('p', 1, NULL, 'x', '{}', ?, 'now')", ("a" * 64,))
    old.execute(f"PRAGMA user_version = {number}")
    old.commit()
    old.close()
    db = Database(tmp_path)
    tx = db.connection()
    assert tx.execute("SELECT data FROM mesh").fetchone()[0] == b"\x01\x02\x03"
    assert tx.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    tx.execute("INSERT INTO mesh VALUES (?, 'b', 'glb', 1, 1, x'00', 'now')", ("b" * 64,))
    with pytest.raises(sqlite3.IntegrityError):
        tx.execute("DELETE FROM mesh WHERE id = ?", ("a" * 64,))
    assert list(tmp_path.glob("*before-0002*"))
    db.close()
