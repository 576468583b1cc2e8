"""A database is created whole, looked over, and refused in one sentence when it is not ours."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from haze.store import opening, plans, settings
from haze.store.connection import FILE_NAME, Database
from haze.store.opening import migrations, statements
from haze.store.troubles import (
    BusyError,
    DamagedError,
    NewerError,
    NotHazeError,
    ReadOnlyError,
    StoreError,
)

LONE = """INSERT INTO plan (id, current, version, created_at, updated_at)
  VALUES ('lone', 7, 1, 'x', 'x')"""  # its revision is not there


def of_version(folder: Path, newest: int) -> Path:
    """A database as an older Haze left it."""
    path = folder / FILE_NAME
    db = sqlite3.connect(path, isolation_level=None)
    for number, script in migrations():
        if number <= newest:
            for statement in statements(script):
                db.execute(statement)
            db.execute(f"PRAGMA user_version = {number}")
    db.close()
    return path


def set_version(path: Path, version: int) -> None:
    db = sqlite3.connect(path)
    db.execute(f"PRAGMA user_version = {version}")
    db.close()


def foreign(path: Path, version: int) -> None:
    db = sqlite3.connect(path)
    db.execute("CREATE TABLE recipe (dish TEXT)")
    db.execute(f"PRAGMA user_version = {version}")
    db.commit()
    db.close()


def damaged(path: Path) -> None:
    held = Database(path.parent)
    with held.atomic() as tx:
        for n in range(300):
            settings.put(tx, f"setting {n}", "x" * 400)
    held.close()
    data = bytearray(path.read_bytes())
    size = len(data) // 4096
    for page in range(size - 3, size):
        data[page * 4096 : page * 4096 + 200] = b"\xff" * 200
    path.write_bytes(data)


def spoil(case: str, path: Path) -> None:
    if case == "no bytes":
        path.write_bytes(b"")
    elif case == "a folder":
        path.mkdir()
    elif case == "words":
        path.write_bytes(b"not a database, just words" * 400)
    elif case == "version below 0":
        set_version(of_version(path.parent, 9), -1)
    elif case == "newer":
        set_version(of_version(path.parent, 9), 9999)
    elif case == "of another program":
        foreign(path, 0)
    elif case == "of another program, numbered":
        foreign(path, 3)
    else:
        damaged(path)


CASES: dict[str, tuple[type[StoreError], str]] = {
    "no bytes": (NotHazeError, "is empty"),
    "a folder": (NotHazeError, "is a folder"),
    "words": (NotHazeError, "does not begin as a database does"),
    "version below 0": (NotHazeError, "schema -1"),
    "newer": (NewerError, "newer Haze"),
    "of another program": (NotHazeError, "another program"),
    "of another program, numbered": (NotHazeError, "another program"),
    "damaged": (DamagedError, "is damaged"),
}


@pytest.mark.parametrize("case", CASES)
def test_what_cannot_be_used_is_told_in_words_and_left_as_it_is(case: str, tmp_path: Path) -> None:
    path = tmp_path / FILE_NAME
    spoil(case, path)
    (tmp_path / "haze.before-0002.sqlite3").write_bytes(b"an older copy")
    before = path.read_bytes() if path.is_file() else None
    kind, words = CASES[case]
    with pytest.raises(kind, match=words) as told:
        Database(tmp_path)
    assert (path.read_bytes() if path.is_file() else None) == before
    assert told.value.message.endswith(".")
    assert "\n" not in told.value.message
    if kind is not NewerError:
        assert "haze.before-0002.sqlite3" in told.value.message


def test_a_folder_that_is_a_file_is_told(tmp_path: Path) -> None:
    (tmp_path / "data").write_text("a note")
    for folder in (tmp_path / "data", tmp_path / "data" / "deeper"):
        with pytest.raises(NotHazeError, match="is a file"):
            Database(folder)
    assert (tmp_path / "data").read_text() == "a note"


def test_a_new_database_is_there_whole_or_not_at_all(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = migrations()
    with monkeypatch.context() as broken:
        broken.setattr(opening, "migrations", lambda: [*whole[:2], (3, "CREATE TABLE paint (x);")])
        with pytest.raises(sqlite3.OperationalError):
            Database(tmp_path)
    assert list(tmp_path.iterdir()) == []
    held = Database(tmp_path)
    found = held.connection().execute("PRAGMA user_version").fetchone()[0]
    assert found == whole[-1][0]
    held.close()


def test_another_process_that_was_quicker_is_not_overwritten(tmp_path: Path) -> None:
    Database(tmp_path).close()
    path = tmp_path / FILE_NAME
    before = path.stat().st_ino
    opening._create(path)
    assert path.stat().st_ino == before


def test_a_kill_between_two_steps_leaves_the_first_done_and_the_second_not(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    of_version(tmp_path, 1)
    whole = migrations()
    with monkeypatch.context() as cut:
        half = (3, whole[2][1] + "\nSELECT no_such_thing;")
        cut.setattr(opening, "migrations", lambda: [*whole[:2], half])
        with pytest.raises(sqlite3.OperationalError):
            Database(tmp_path)
    db = sqlite3.connect(tmp_path / FILE_NAME)
    assert db.execute("PRAGMA user_version").fetchone()[0] == 2
    db.close()
    held = Database(tmp_path)
    assert held.connection().execute("PRAGMA user_version").fetchone()[0] == whole[-1][0]
    assert held.connection().execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    held.close()
    kept = {p.name for p in tmp_path.glob("*.before-*")}
    assert kept == {f"haze.before-{n:04}.sqlite3" for n, _ in whole[1:]}


def test_looking_over_a_large_database_takes_no_longer_than_it_may(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / FILE_NAME
    damaged(path)
    db = opening.connect(path)
    monkeypatch.setattr(opening, "CHECK_S", -1.0)
    monkeypatch.setattr(opening, "OPCODES", 1)
    assert opening._quick_check(db) == "ok"  # no time to see that it is not
    monkeypatch.setattr(opening, "CHECK_S", 60.0)
    assert opening._quick_check(db) != "ok"
    db.close()


def test_a_database_held_by_another_program_is_told(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(opening, "BUSY_MS", 50)
    held = Database(tmp_path)
    other = sqlite3.connect(held.path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    with pytest.raises(BusyError, match="Another program"), held.atomic():
        pass
    other.execute("ROLLBACK")
    with held.atomic() as tx:
        assert plans.live(tx) == []
    other.close()
    held.close()


def test_a_backup_is_whole_or_not_there(tmp_path: Path) -> None:
    held = Database(tmp_path / "data")
    with pytest.raises((ReadOnlyError, sqlite3.Error)):
        held.backup(tmp_path / "nowhere" / "copy.sqlite3")
    (tmp_path / "copy.sqlite3.part").write_bytes(b"half of an older try")
    held.backup(tmp_path / "copy.sqlite3")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["copy.sqlite3", "data"]
    held.close()


def test_a_row_that_leads_nowhere_keeps_no_step_from_being_made(tmp_path: Path) -> None:
    path = of_version(tmp_path, 13)
    db = sqlite3.connect(path)
    db.execute(LONE)
    db.commit()
    db.close()
    held = Database(tmp_path)
    assert held.connection().execute("PRAGMA user_version").fetchone()[0] == migrations()[-1][0]
    assert held.connection().execute("SELECT id FROM plan").fetchone()[0] == "lone"
    held.close()


def test_a_step_that_would_lose_a_reference_is_not_made(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    of_version(tmp_path, 13)
    whole = migrations()
    bad = (14, f"{LONE};")
    monkeypatch.setattr(opening, "migrations", lambda: [*whole[:13], bad])
    with pytest.raises(StoreError, match="Step 0014 would leave"):
        Database(tmp_path)
    db = sqlite3.connect(tmp_path / FILE_NAME)
    assert db.execute("SELECT count(*) FROM plan").fetchone()[0] == 0
    db.close()
