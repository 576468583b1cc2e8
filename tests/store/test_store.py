from __future__ import annotations

import io
import os
import re
import signal
import sqlite3
import subprocess
import sys
import textwrap
import threading
from pathlib import Path

import pytest

from haze import __version__
from haze.store import meshes, plans, settings, shelf
from haze.store.connection import FILE_NAME, Database, MissingError, StaleError
from haze.store.opening import migrations, statements
from haze.store.troubles import StoreError
from helpers import MESH, coat, plan


@pytest.fixture
def db(tmp_path: Path) -> Database:
    held = Database(tmp_path)
    with held.atomic() as tx:
        meshes.add(
            tx, identity=MESH, name="ball.stl", form="stl", faces=1, file=io.BytesIO(b"x" * 10)
        )
    return held


def document(name: str) -> str:
    made = plan(coat())
    made.name = name
    return made.model_dump_json()


def start(db: Database, name: str = "one") -> plans.PlanRow:
    with db.atomic() as tx:
        return plans.add(tx, identity="p1", document=document(name), mesh=MESH, what="Started")


def save(db: Database, version: int, name: str) -> plans.PlanRow:
    with db.atomic() as tx:
        return plans.save(
            tx, identity="p1", version=version, document=document(name), mesh=MESH, what=name
        )


def undo(db: Database, version: int) -> plans.PlanRow:
    with db.atomic() as tx:
        return plans.undo(tx, identity="p1", version=version)


def redo(db: Database, version: int) -> plans.PlanRow:
    with db.atomic() as tx:
        return plans.redo(tx, identity="p1", version=version)


def name_of(row: plans.PlanRow) -> str:
    return str(plan().model_validate_json(row.document).name)


def test_undo_and_redo_walk_along_the_revisions(db: Database) -> None:
    start(db)
    save(db, 1, "two")
    row = save(db, 2, "three")
    row = undo(db, row.version)
    assert name_of(row) == "two"
    row = undo(db, row.version)
    assert (name_of(row), row.parent) == ("one", None)
    row = undo(db, row.version)
    assert name_of(row) == "one"
    row = redo(db, row.version)
    row = redo(db, row.version)
    assert (name_of(row), row.child) == ("three", None)


def test_a_change_after_undo_starts_a_branch_and_loses_nothing(db: Database) -> None:
    start(db)
    row = save(db, 1, "two")
    row = undo(db, row.version)
    row = save(db, row.version, "other")
    assert row.child is None
    row = undo(db, row.version)
    row = redo(db, row.version)
    assert name_of(row) == "other"
    kept = db.connection().execute("SELECT count(*) FROM revision").fetchone()[0]
    assert kept == 3


def test_a_stale_write_is_refused_and_changes_nothing(db: Database) -> None:
    start(db)
    save(db, 1, "two")
    with pytest.raises(StaleError, match="changed elsewhere"):
        save(db, 1, "late")
    for move in (undo, redo):
        with pytest.raises(StaleError):
            move(db, 1)
    row = plans.get(db.connection(), "p1")
    assert (row.version, name_of(row)) == (2, "two")
    assert db.connection().execute("SELECT count(*) FROM revision").fetchone()[0] == 2


def test_of_many_writers_at_once_one_wins(db: Database) -> None:
    start(db)
    outcomes: list[str] = []

    def write(i: int) -> None:
        try:
            save(db, 1, f"w{i}")
            outcomes.append("saved")
        except StaleError:
            outcomes.append("stale")

    threads = [threading.Thread(target=write, args=(i,)) for i in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(outcomes) == ["saved"] + ["stale"] * 5


def test_the_trash_can_be_emptied_and_taken_back_from(db: Database) -> None:
    row = start(db)
    with db.atomic() as tx:
        row = plans.set_trashed(tx, identity="p1", version=row.version, trashed=True)
    assert plans.live(db.connection()) == []
    assert [p.id for p in plans.trashed(db.connection())] == ["p1"]
    with db.atomic() as tx:
        row = plans.set_trashed(tx, identity="p1", version=row.version, trashed=False)
    assert [p.id for p in plans.live(db.connection())] == ["p1"]
    with db.atomic() as tx:
        plans.set_trashed(tx, identity="p1", version=row.version, trashed=True)
        assert plans.empty_trash(tx) == 1
    assert db.connection().execute("SELECT count(*) FROM revision").fetchone()[0] == 0


def test_a_failed_transaction_leaves_nothing(db: Database) -> None:
    def break_off() -> None:
        with db.atomic() as tx:
            plans.add(tx, identity="p2", document=document("x"), mesh=MESH, what="Started")
            raise RuntimeError("power cut")

    with pytest.raises(RuntimeError):
        break_off()
    with pytest.raises(MissingError):
        plans.get(db.connection(), "p2")


PAINT = (
    "INSERT INTO paint (id, maker, name, kind, masstone, opacity, finish) "
    "VALUES ('p','m','n','ink','{colour}','{opacity}','matt')"
)


def test_the_schema_checks_what_it_holds(db: Database) -> None:
    def put(sql: str) -> None:
        with db.atomic() as tx:
            tx.execute(sql)

    for sql in (
        PAINT.format(colour="red", opacity="opaque"),
        PAINT.format(colour="#ff0000", opacity="milky"),
        "INSERT INTO airbrush (id, name, needle_mm, cup_ml) VALUES ('a','n',9,5)",
        "INSERT INTO compressor VALUES ('c','n',999,5,NULL)",
        "INSERT INTO revision VALUES ('none',1,NULL,'w','{}','nomesh','now')",
        "INSERT INTO mesh VALUES ('short','n','stl',1,1,x'00','now')",
    ):
        with pytest.raises(sqlite3.IntegrityError):
            put(sql)


def test_the_same_mesh_twice_is_stored_once(db: Database) -> None:
    with db.atomic() as tx:
        meshes.add(
            tx, identity=MESH, name="again.stl", form="stl", faces=1, file=io.BytesIO(b"x" * 10)
        )
    assert len(meshes.every(db.connection())) == 1
    out = io.BytesIO()
    assert meshes.write_out(db.connection(), MESH, out) == "ball.stl"
    assert out.getvalue() == b"x" * 10
    with pytest.raises(MissingError):
        meshes.write_out(db.connection(), "f" * 64, io.BytesIO())


def test_shelf_and_settings_replace_by_identity(db: Database) -> None:
    row = shelf.PaintRow("p", "Oddmere", "Slate", "ink", "#555555", "opaque", "matt", 50.0)
    with db.atomic() as tx:
        shelf.put_paint(tx, row)
        shelf.put_paint(tx, shelf.PaintRow("p", "Oddmere", "Slate 2", *_rest(row)))
        settings.put(tx, "theme", "daylight")
        settings.put(tx, "theme", "lamp_off")
    assert [p.name for p in shelf.paints(db.connection())] == ["Slate 2"]
    assert settings.every(db.connection()) == {"theme": "lamp_off"}


def _rest(row: shelf.PaintRow) -> tuple[str, str, str, str, float]:
    return row.kind, row.masstone, row.opacity, row.finish, row.drop_ul


def test_a_newer_database_is_refused_and_left_alone(tmp_path: Path) -> None:
    held = Database(tmp_path)
    held.connection().execute("PRAGMA user_version = 99")
    held.close()
    before = held.path.read_bytes()
    with pytest.raises(StoreError, match="newer Haze"):
        Database(tmp_path)
    assert held.path.read_bytes() == before


def test_a_newer_database_names_the_version_that_is_needed(tmp_path: Path) -> None:
    held = Database(tmp_path)
    held.connection().execute("UPDATE written_by SET version = '2.3.0'")
    held.connection().execute("PRAGMA user_version = 99")
    held.close()
    with pytest.raises(StoreError, match=re.escape("written by Haze 2.3.0 (schema 99)")):
        Database(tmp_path)


def test_who_wrote_last_is_noted_when_it_is_another(tmp_path: Path) -> None:
    held = Database(tmp_path)
    assert held.connection().execute("SELECT version FROM written_by").fetchone()[0] == __version__
    held.connection().execute("UPDATE written_by SET version = '0.0.9'")
    held.close()
    again = Database(tmp_path)
    assert (
        again.connection().execute("SELECT version FROM written_by").fetchall()[0]["version"]
        == __version__
    )
    again.close()


def test_something_else_under_the_name_is_refused(tmp_path: Path) -> None:
    (tmp_path / "haze.sqlite3").write_bytes(b"not a database, just words" * 99)
    with pytest.raises((StoreError, sqlite3.DatabaseError)):
        Database(tmp_path)


def test_a_backup_holds_everything(db: Database, tmp_path: Path) -> None:
    start(db)
    db.backup(tmp_path / "copy.sqlite3")
    copy = sqlite3.connect(tmp_path / "copy.sqlite3")
    assert copy.execute("SELECT count(*) FROM plan").fetchone()[0] == 1
    assert copy.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    copy.close()


def test_migrations_are_cut_into_statements() -> None:
    script = "-- note\nCREATE TABLE a (x);\nINSERT INTO a VALUES (';');\n"
    assert len(list(statements(script))) == 2
    with pytest.raises(StoreError):
        list(statements("CREATE TABLE a (x)"))


WRITER = textwrap.dedent(
    """
    import sys
    sys.path.insert(0, sys.argv[2])
    from pathlib import Path
    from helpers import MESH, coat, plan
    from haze.store import plans
    from haze.store.connection import Database
    db = Database(Path(sys.argv[1]))
    version = 1
    while True:
        made = plan(coat())
        made.name = f"saved {version + 1}"
        with db.atomic() as tx:
            row = plans.save(tx, identity="p1", version=version,
                             document=made.model_dump_json(), mesh=MESH, what="w")
        version = row.version
        print(version, flush=True)
    """
)


@pytest.mark.thorough
def test_a_kill_in_the_middle_of_saving_loses_nothing_that_was_told_as_saved(
    db: Database, tmp_path: Path
) -> None:
    start(db)
    db.close()
    for _ in range(3):
        current = plans.get(Database(tmp_path).connection(), "p1").version
        script = WRITER.replace("version = 1\n", f"version = {current}\n")
        child = subprocess.Popen(
            [sys.executable, "-c", script, str(tmp_path), str(Path(__file__).parents[1])],
            stdout=subprocess.PIPE,
            text=True,
        )
        assert child.stdout is not None
        told = 0
        for line in child.stdout:
            told = int(line)
            if told >= current + 8:
                break
        os.kill(child.pid, signal.SIGKILL)
        rest = child.stdout.read().split()
        child.wait()
        told = max([told, *(int(t) for t in rest)])
        again = Database(tmp_path)
        row = plans.get(again.connection(), "p1")
        assert row.version >= told
        assert name_of(row) == f"saved {row.version}"
        assert again.connection().execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        again.close()


def test_sql_stands_in_the_store_only() -> None:
    source = Path(plans.__file__).parents[1]
    found = [
        path
        for path in source.rglob("*.py")
        if "store" not in path.parts and ".execute(" in path.read_text("utf-8")
    ]
    assert found == []


def test_a_paint_put_away_can_be_taken_back_or_lost_for_good(db: Database) -> None:
    row = shelf.PaintRow(
        "p", "Oddmere", "Slate", "ink", "#555555", "opaque", "matt", 50.0, range="Tide", ml_left=3.5
    )
    with db.atomic() as tx:
        shelf.put_paint(tx, row)
        shelf.set_paints_trashed(tx, ["p"], trashed=True)
    assert shelf.paints(db.connection()) == []
    assert shelf.trashed_paints(db.connection()) == [row]
    with db.atomic() as tx:
        shelf.set_paints_trashed(tx, ["p"], trashed=False)
    assert shelf.paints(db.connection()) == [row]
    with pytest.raises(MissingError, match="not on the shelf"), db.atomic() as tx:
        shelf.set_paints_trashed(tx, ["p", "nobody"], trashed=True)
    assert shelf.paints(db.connection()) == [row], "all or none"
    with db.atomic() as tx:
        shelf.set_paints_trashed(tx, ["p"], trashed=True)
        assert shelf.empty_paint_trash(tx) == 1


@pytest.mark.parametrize("version", [1, 2, 3])
def test_a_shelf_of_an_older_version_keeps_its_paints(tmp_path: Path, version: int) -> None:
    path = tmp_path / FILE_NAME
    old = sqlite3.connect(path)
    for _, sql in migrations()[:version]:
        for statement in statements(sql):
            old.execute(statement)
    old.execute(f"PRAGMA user_version = {version}")
    old.execute(PAINT.format(colour="#aabbcc", opacity="opaque"))
    old.execute("INSERT INTO thinner (id, name, kind) VALUES ('t','water','water')")
    old.commit()
    old.close()
    held = Database(tmp_path)
    (paint,) = shelf.paints(held.connection())
    assert (paint.masstone, paint.range, paint.strength, paint.ml_left) == (
        "#aabbcc",
        "",
        1.0,
        None,
    )
    assert [t.id for t in shelf.thinners(held.connection())] == ["t"]
    held.close()
