"""Plans and the notebook as files: written, wiped, taken in again; hostile ones change nothing."""

from __future__ import annotations

import io
import json
import random
import shutil
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from begun import begun
from haze.core.errors import BadFileError, HazeError
from haze.core.plan.document import Plan
from haze.core.spray.calibrate import PaintThrough
from haze.service.bench import Bench
from haze.service.cups.trials import TrialBody
from haze.service.files import looked, taken, unreadable, upkeep, written
from haze.service.files.documents import HazeFile
from haze.service.files.looked import FileLook
from haze.service.files.taken import TakeBody, TakenIn
from haze.service.notebook import notebook, photos
from haze.service.notebook.notebook import MarkBody
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.shelf.paints import paint_of
from haze.service.work import apart
from haze.store import shelf as rows
from haze.store.connection import MissingError
from haze.store.connection import now as moment
from helpers import CARD, coarse, going
from service.files.carded import carded


def tried(bench: Bench, plan: Plan, looks: list[str]) -> None:
    """Cards of the plan's first paint, and of another paint of the same kind."""
    used, brush = plan.sprayed[0].paint, plan.airbrush
    for n, look in enumerate(looks):
        paint = {"id": used.id, "name": used.name, "kind": used.kind}
        if n % 3 == 2:
            paint = {"id": "another", "name": "Another", "kind": used.kind}
        body = {
            "id": f"trial-{len(bench.beliefs.tried().of):02}-{n:04}",
            "look": look,
            "paint": paint,
            "airbrush": {"id": brush.id, "name": brush.name, "needle_mm": brush.needle_mm},
            "setting": CARD | {"pressure_psi": 12 + n},
            "plan": None,
        }
        bench.log_trial(TrialBody.model_validate(body))


def file_of(bench: Bench, plan: str) -> bytes:
    out = io.BytesIO()
    written.write_plan(bench.db, plan, out, bench.pictured)
    return out.getvalue()


def all_of(bench: Bench) -> bytes:
    out = io.BytesIO()
    written.write_notebook(bench.db, out)
    return out.getvalue()


def look_at(bench: Bench, data: bytes) -> FileLook:
    token = looked.keep(bench.incoming, io.BytesIO(data))
    return looked.look(bench.db, bench.incoming, token)


def took(bench: Bench, data: bytes, **choices: str) -> TakenIn:
    body = TakeBody.model_validate({"token": look_at(bench, data).token, "paints": choices})
    done = taken.take_in(bench.db, bench.incoming, body, going)
    bench.beliefs.changed()
    return done


def all_rows(bench: Bench) -> dict[str, list[tuple[Any, ...]]]:
    """Everything the database holds."""
    tables = ["plan", "revision", "mesh", "paint", "airbrush", "thinner", "trial", "way",
              "session", "photo", "card", "card_photo", "piece_photo", "practice_card"]  # fmt: skip
    tx = bench.db.connection()
    return {t: [tuple(r) for r in tx.execute(f"SELECT * FROM {t} ORDER BY 1, 2")] for t in tables}


@pytest.fixture
def kept(bench: Bench, cone: PlanView) -> PlanView:
    """A plan with trials, a marked session, a photo, a card, its photo and the piece's."""
    tried(bench, cone.plan, ["specks", "clean", "specks", "spiders"])
    first = next(iter(bench.beliefs.tried().of.values()))[0].id
    bench.take_trial_back(first, back=True)
    session = bench.notebook().sessions[0].id
    notebook.mark(bench.db, session, MarkBody(note="by the window", rating=4))
    out = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").save(out, "JPEG")
    photos.add(bench.db, session, out.getvalue())
    carded(bench, cone)
    return cone


def test_a_plan_that_is_written_and_taken_in_elsewhere_is_equal(
    bench: Bench, kept: PlanView, other: Bench, on_cone: OnPiece
) -> None:
    data = file_of(bench, kept.id)
    names = set(zipfile.ZipFile(io.BytesIO(data)).namelist())
    assert {"haze.json", "picture.png", f"meshes/{kept.plan.piece.mesh}.stl"} <= names
    done = took(other, data)
    assert (done.plans, done.trials, done.plan) == (1, 4, kept.id)
    assert plans.open_plan(other.db, kept.id).plan == kept.plan
    # equal pictures: the very same colours on the very same piece
    shutil.copytree(bench.cache.folder, other.cache.folder, dirs_exist_ok=True)
    assert other.thumbnail(kept.plan) == bench.thumbnail(kept.plan)
    assert other.beliefs.fingerprint == bench.beliefs.fingerprint
    # equal calibration: what is believed of its paints is bit for bit the same
    for c in kept.plan.sprayed:
        pair = PaintThrough(
            c.paint.kind, c.paint.id, kept.plan.airbrush.id, kept.plan.airbrush.needle_mm
        )
        mine, theirs = bench.beliefs.of(pair), other.beliefs.of(pair)
        if mine is None:
            assert theirs is None
        else:
            assert theirs is not None
            assert (mine.logs == theirs.logs).all()
            assert (mine.weights == theirs.weights).all()


def test_the_whole_notebook_comes_back_as_it_was(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    data = all_of(bench)
    took(other, data)
    first, second = (b.notebook() for b in (bench, other))
    assert second.sessions == first.sessions
    line = first.sessions[-1]
    views = [notebook.one(b.db, b.beliefs, line.id, b.on) for b in (bench, other)]
    assert views[0] == views[1]
    for photo in views[0].photos:
        both = [photos.read(b.db, photo.id, small=False) for b in (bench, other)]
        assert both[0] == both[1]
    # written once more it is the same file but for the moment it was made
    again = all_of(other)
    parts = []
    for one in (data, again):
        archive = zipfile.ZipFile(io.BytesIO(one))
        text = json.loads(archive.read("haze.json")) | {"made_at": ""}
        parts.append((text, {n: archive.read(n) for n in archive.namelist() if n != "haze.json"}))
    assert parts[0][1] == parts[1][1]
    for key, value in parts[0][0].items():
        if isinstance(value, list):
            own = parts[1][0][key]
            assert sorted(map(json.dumps, value)) == sorted(map(json.dumps, own)), key


def test_what_is_here_already_is_not_added_twice(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    data = file_of(bench, kept.id)
    took(other, data)
    before = all_rows(other)
    look = look_at(other, data)
    assert [p.state for p in look.plans] == ["same"]
    assert (look.trials_new, look.sessions_new, look.photos_new, look.meshes_new) == (0, 0, 0, 0)
    assert look.cards_new == 0
    done = took(other, data)
    assert (done.plans, done.trials, done.sessions, done.photos, done.paints) == (0, 0, 0, 0, 0)
    assert all_rows(other) == before


def test_a_plan_that_differs_comes_in_as_a_copy_and_overwrites_nothing(
    bench: Bench, kept: PlanView
) -> None:
    data = file_of(bench, kept.id)
    mine = kept.plan.model_copy(update={"coats": kept.plan.coats[:2]})
    plans.save(bench.db, kept.id, version=kept.version, plan=mine, what="Mine")
    assert look_at(bench, data).plans[0].state == "other"
    done = took(bench, data)
    assert done.plan not in (None, kept.id)
    assert plans.open_plan(bench.db, kept.id).plan == mine
    copy = plans.open_plan(bench.db, done.plan or "").plan
    assert copy.name == f"{kept.plan.name}, from a file"
    assert copy.coats == kept.plan.coats


def test_paints_merge_as_the_painter_chooses(bench: Bench, kept: PlanView, other: Bench) -> None:
    used = kept.plan.sprayed[0].paint
    mine = next(p for p in rows.paints(other.db.connection()) if p.id == used.id)
    with other.db.atomic() as tx:  # the same paint, measured otherwise, under another identity
        tx.execute("DELETE FROM paint WHERE id = :id", {"id": used.id})
        rows.put_paint(tx, type(mine)(**{**_cells(mine), "id": "my-own", "masstone": "#123456"}))
    data = file_of(bench, kept.id)
    coming = next(p for p in look_at(other, data).paints if p.id == used.id)
    assert (coming.mine, coming.same, coming.mine_masstone) == ("my-own", False, "#123456")
    took(other, data, **{used.id: "mine"})
    plan = plans.open_plan(other.db, kept.id).plan
    assert plan.sprayed[0].paint == used.model_copy(update={"id": "my-own"})
    shelf = {p.id: paint_of(p) for p in rows.paints(other.db.connection())}
    assert shelf["my-own"].masstone == "#123456"
    assert used.id not in shelf


def _cells(row: object) -> dict[str, Any]:
    return {name: getattr(row, name) for name in row.__dataclass_fields__}  # type: ignore[attr-defined]


def test_a_paint_that_is_added_beside_mine_gets_a_name_of_its_own(
    bench: Bench, kept: PlanView
) -> None:
    data = file_of(bench, kept.id)
    used = kept.plan.sprayed[0].paint
    plans.put_away(bench.db, kept.id, version=kept.version, trashed=True)
    plans.empty_trash(bench.db)
    took(bench, data, **{used.id: "add"})
    names = [p.name for p in rows.paints(bench.db.connection()) if p.name.startswith(used.name)]
    assert sorted(names) == [used.name, f"{used.name}, from a file"]
    plan = plans.open_plan(bench.db, kept.id).plan
    assert plan.sprayed[0].paint.id != used.id


# the web takes no text with the character 0
NAMES = st.text(st.characters(exclude_characters="\x00"), min_size=1, max_size=40).filter(str.strip)
COLOURS = st.from_regex(r"#[0-9a-f]{6}", fullmatch=True)


@settings(
    max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    names=st.lists(NAMES, min_size=4, max_size=4),
    colours=st.lists(COLOURS, min_size=4, max_size=4),
    psi=st.lists(st.floats(5, 40), min_size=4, max_size=4),
    copies=st.integers(1, 500),
    looks=st.lists(st.sampled_from(["clean", "specks", "dust", "nothing"]), max_size=5),
)
def test_whatever_the_plan_it_comes_back_equal(
    tmp_path_factory: pytest.TempPathFactory,
    cone_stl: bytes,
    names: list[str],
    colours: list[str],
    psi: list[float],
    copies: int,
    looks: list[str],
) -> None:
    from haze.service.piece.meshes import add_mesh
    from haze.service.plan.start import NewPlan

    folder = tmp_path_factory.mktemp("any")
    one, two = coarse(folder / "one"), coarse(folder / "two")
    try:
        mesh = add_mesh(one.db, cone_stl, name="cone.stl")
        view = begun(one.db, NewPlan(mesh=mesh.id, name="Cone", height_mm=25))
        given_plan = view.plan.model_dump()
        given_plan["name"] = names[0]
        given_plan["piece"]["copies"] = copies
        for c, name, colour, p in zip(given_plan["coats"], names, colours, psi, strict=True):
            c["name"] = name
            c["paint"] |= {"masstone": colour, "name": name}
            c["spray"]["pressure_psi"] = p
        try:
            plan = Plan.model_validate(given_plan)
        except ValueError:
            return  # a name of nothing but signs that are none
        kept_view = plans.save(one.db, view.id, version=view.version, plan=plan, what="Any")
        tried(one, plan, looks)
        took(two, file_of(one, view.id))
        assert plans.open_plan(two.db, view.id).plan == kept_view.plan
        assert two.beliefs.fingerprint == one.beliefs.fingerprint
    finally:
        one.close()
        two.close()


MUTATIONS = 300  # the soak takes more


def mutated(data: bytes, rng: random.Random) -> bytes:
    """A file harmed in one of many ways, within its manifest or as bytes."""
    way = rng.randrange(6)
    if way == 0:  # flipped bytes
        out = bytearray(data)
        for _ in range(rng.randint(1, 20)):
            out[rng.randrange(len(out))] ^= 1 << rng.randrange(8)
        return bytes(out)
    if way == 1:  # cut short, or something put in
        at = rng.randrange(len(data))
        return data[:at] + (
            rng.randbytes(rng.randint(0, 50)) + data[at:] if rng.random() < 0.5 else b""
        )
    source = zipfile.ZipFile(io.BytesIO(data))
    entries = {n: source.read(n) for n in source.namelist()}
    manifest = json.loads(entries["haze.json"])
    if way == 2:
        name = rng.choice(["../evil", "/tmp/evil", "photos/../../x.jpg", "evil.py", "a" * 300])
        entries[name] = b"evil"
    elif way == 3:
        del entries[rng.choice(list(entries))]
    else:
        for _ in range(rng.randint(1, 3)):
            harm(manifest, rng)
    if "haze.json" in entries:
        entries["haze.json"] = json.dumps(manifest).encode()
    out_file = io.BytesIO()
    with zipfile.ZipFile(out_file, "w") as out:
        for name, body in entries.items():
            out.writestr(name, body)
    return out_file.getvalue()


STRANGE: tuple[Any, ...] = (
    None, -1, 1e308, "", "x" * 5000, "../../etc", [], {}, [[]], True, "\u0000", "<script>", 10**30,
)  # fmt: skip


def harm(value: Any, rng: random.Random) -> None:
    """Change, drop or double something somewhere in a document."""
    while True:
        keys: list[Any] = list(value) if isinstance(value, dict) else list(range(len(value)))
        if not keys:
            return
        key = rng.choice(keys)
        below = value[key]
        if isinstance(below, dict | list) and below and rng.random() < 0.85:
            value = below
            continue
        what = rng.random()
        if what < 0.2:
            del value[key]
        elif what < 0.3 and isinstance(value, list):
            value.append(json.loads(json.dumps(below)))
        else:
            value[key] = rng.choice(STRANGE)
        return


def tried_to_take(bench: Bench, data: bytes) -> TakenIn | str:
    try:
        return took(bench, data)
    except HazeError as error:
        return error.message


@pytest.mark.thorough
def test_hundreds_of_harmed_files_change_nothing_or_come_in_whole(
    bench: Bench, kept: PlanView, tmp_path: Path
) -> None:
    data = file_of(bench, kept.id)
    plans.save(
        bench.db,
        kept.id,
        version=kept.version,
        plan=kept.plan.model_copy(update={"name": "Mine"}),
        what="Mine",
    )
    before = all_rows(bench)
    around = sorted(str(p) for p in tmp_path.rglob("*") if ".part" not in p.name)
    rng = random.Random(15)
    refused = 0
    for _ in range(MUTATIONS):
        harmed = mutated(data, rng)
        done = tried_to_take(bench, harmed)
        if isinstance(done, str):
            refused += 1
            assert done.endswith("."), done
            assert "Traceback" not in done
            assert all_rows(bench) == before
            continue
        now = all_rows(bench)
        assert len(now["plan"]) == len(before["plan"]) + done.plans
        assert len(now["trial"]) == len(before["trial"]) + done.trials
        assert len(now["session"]) == len(before["session"]) + done.sessions
        for table, held in before.items():
            assert set(held) <= set(now[table]), table
        before = now
    assert refused > MUTATIONS / 2
    left = sorted(str(p) for p in tmp_path.rglob("*") if ".part" not in p.name)
    assert [p for p in left if p not in around and "incoming" not in p] == []


def test_a_newer_file_and_one_that_is_none_are_refused_in_a_sentence(
    bench: Bench, kept: PlanView
) -> None:
    source = zipfile.ZipFile(io.BytesIO(file_of(bench, kept.id)))
    manifest = json.loads(source.read("haze.json"))
    for change, words in (
        ({"version": 99}, "written by a newer Haze"),
        ({"format": "other"}, "no file of Haze"),
        ({"plans": 5}, "cannot be read at plans"),
        ({"meshes": [], "card_photos": [], "piece_photos": []}, "lacks the mesh"),
    ):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as harmed:
            harmed.writestr("haze.json", json.dumps(manifest | change))
        with pytest.raises(BadFileError, match=words):
            look_at(bench, out.getvalue())


def test_a_plan_of_an_older_form_inside_a_file_is_brought_up(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    source = zipfile.ZipFile(io.BytesIO(file_of(bench, kept.id)))
    manifest = json.loads(source.read("haze.json"))
    plan = manifest["plans"][0]["plan"]
    light = next(one for one in plan.pop("lights") if one["kind"] == "key")
    plan |= {"schema_version": 1, "light": {k: v for k, v in light.items() if k != "kind"}}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as older:
        for name in source.namelist():
            older.writestr(name, source.read(name) if name != "haze.json" else json.dumps(manifest))
    took(other, out.getvalue())
    assert plans.open_plan(other.db, kept.id).plan.coats == kept.plan.coats


def test_a_mesh_that_is_not_what_it_says_is_refused(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    source = zipfile.ZipFile(io.BytesIO(file_of(bench, kept.id)))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as harmed:
        for name in source.namelist():
            body = source.read(name)
            harmed.writestr(name, body[:-1] + b"\x01" if name.startswith("meshes/") else body)
    before = all_rows(other)
    with pytest.raises(BadFileError, match="not the mesh it says"):
        took(other, out.getvalue())
    assert all_rows(other) == before


def test_a_file_that_was_let_go_is_asked_for_again(bench: Bench, kept: PlanView) -> None:
    token = look_at(bench, file_of(bench, kept.id)).token
    looked.let_go(bench.incoming, token)
    with pytest.raises(MissingError, match="choose it again"):
        taken.take_in(bench.db, bench.incoming, TakeBody(token=token), going)
    assert not list(bench.incoming.glob("*"))


def test_what_was_put_away_is_not_written_over(bench: Bench, kept: PlanView, other: Bench) -> None:
    used = kept.plan.sprayed[0].paint
    with other.db.atomic() as tx:
        rows.set_paints_trashed(tx, [used.id], trashed=True)
    before = rows.trashed_paints(other.db.connection())
    took(other, file_of(bench, kept.id))
    assert rows.trashed_paints(other.db.connection()) == before
    plan = plans.open_plan(other.db, kept.id).plan
    assert plan.sprayed[0].paint.id not in {row.id for row in before}


def test_an_airbrush_that_is_called_as_a_paint_is_stays_an_airbrush(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    used = kept.plan.sprayed[0].paint
    brush = kept.plan.airbrush.model_copy(update={"id": used.id, "name": "Namesake"})
    plan = kept.plan.model_copy(update={"airbrush": brush})
    plans.save(bench.db, kept.id, version=kept.version, plan=plan, what="Namesake")
    with bench.db.atomic() as tx:
        rows.put_airbrush(tx, rows.AirbrushRow(**brush.model_dump()))
    took(other, file_of(bench, kept.id), **{used.id: "add"})
    come = plans.open_plan(other.db, kept.id).plan
    assert come.airbrush.id == used.id
    assert come.sprayed[0].paint.id != used.id


def test_a_text_with_the_character_that_is_none_is_refused(bench: Bench, kept: PlanView) -> None:
    session = bench.notebook().sessions[0].id
    with bench.db.atomic() as tx:
        tx.execute(
            "UPDATE session SET plan = :plan WHERE id = :id", {"plan": kept.id, "id": session}
        )
    whole = zipfile.ZipFile(io.BytesIO(file_of(bench, kept.id)))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as harmed:
        for name in whole.namelist():
            body = whole.read(name)
            harmed.writestr(name, body.replace(b'"by the window"', b'"by\\u0000the window"'))
    with pytest.raises(BadFileError, match="character 0"):
        look_at(bench, out.getvalue())


def test_tables_hold_a_line_for_each_and_no_formula(bench: Bench, kept: PlanView) -> None:
    session = bench.notebook().sessions[0].id
    notebook.mark(bench.db, session, MarkBody(note="=cmd|calc", rating=3))
    lines = written.sessions_csv(bench.db).decode("utf-8-sig").splitlines()
    assert len(lines) == 1 + len(bench.notebook().sessions)
    assert "'=cmd|calc" in lines[1] + lines[2]
    assert len(written.trials_csv(bench.db).decode("utf-8-sig").splitlines()) == 5
    document = HazeFile.model_validate_json(written.notebook_json(bench.db))
    assert [p.id for p in document.plans] == [kept.id]


def test_a_backup_taken_while_something_is_written_is_whole(
    bench: Bench, kept: PlanView, tmp_path: Path
) -> None:
    target = tmp_path / "backup.sqlite3"
    with bench.db.atomic() as tx:  # under way, so not part of the copy
        tx.execute("UPDATE plan SET updated_at = :at", {"at": moment()})
        _in_a_thread(lambda: bench.db.backup(target))
    assert target.stat().st_size > 0
    found = upkeep.check(target)
    assert (found.ok, found.faults, found.plans, found.trials) == (True, [], 1, 4)
    restored = tmp_path / "restored"
    restored.mkdir()
    shutil.copy(target, restored / "haze.sqlite3")
    again = coarse(restored)
    try:
        assert plans.open_plan(again.db, kept.id).plan == kept.plan
        assert [s.id for s in again.notebook().sessions] == [
            s.id for s in bench.notebook().sessions
        ]
    finally:
        again.close()


def _in_a_thread(work: Any) -> Any:
    from concurrent.futures import ThreadPoolExecutor

    with ThreadPoolExecutor(1) as pool:
        return pool.submit(work).result()


def test_a_folder_that_was_moved_and_renamed_opens(tmp_path: Path, cone_stl: bytes) -> None:
    from haze.service.piece.meshes import add_mesh
    from haze.service.plan.start import NewPlan

    first = coarse(tmp_path / "here")
    mesh = add_mesh(first.db, cone_stl, name="cone.stl")
    view = begun(first.db, NewPlan(mesh=mesh.id, name="Cone", height_mm=25))
    tried(first, view.plan, ["specks"])
    first.close()
    (tmp_path / "elsewhere").mkdir()
    (tmp_path / "here").rename(tmp_path / "elsewhere" / "bënch two")
    again = coarse(tmp_path / "elsewhere" / "bënch two")
    try:
        again.tidy()
        assert plans.open_plan(again.db, view.id).plan == view.plan
        assert len(again.notebook().sessions) == 1
    finally:
        again.close()


def test_check_finds_what_is_damaged(bench: Bench, kept: PlanView) -> None:
    assert upkeep.check(bench.db.path).ok
    with bench.db.atomic() as tx:
        tx.execute("UPDATE revision SET document = '{}'")
        tx.execute("UPDATE photo SET data = x'00'")
    found = upkeep.check(bench.db.path)
    assert not found.ok
    assert len(found.faults) == 2
    assert any("Revision 1" in f for f in found.faults)
    assert any(f.startswith("Photo") for f in found.faults)


def test_a_backup_of_an_older_haze_is_looked_at_and_left_as_it_is(
    bench: Bench, kept: PlanView, tmp_path: Path
) -> None:
    old = tmp_path / "older.sqlite3"
    bench.db.backup(old)
    with closing(sqlite3.connect(old)) as db:
        for table in ("card_photo", "piece_photo"):
            db.execute(f"ALTER TABLE {table} DROP COLUMN trashed_at")
        db.execute("DROP TABLE written_by")
        db.execute("ALTER TABLE paint DROP COLUMN colour_from")
        db.execute("DROP INDEX booth_event_untaught")
        db.execute("ALTER TABLE booth_event DROP COLUMN taught")
        db.execute("PRAGMA user_version = 11")
    before = old.read_bytes()
    found = upkeep.check(old)
    assert (found.faults, found.plans, found.photos) == ([], 1, 3)
    assert old.read_bytes() == before
    with closing(sqlite3.connect(old)) as db:
        db.execute("UPDATE photo SET data = x'00'")
        db.commit()
    assert [f[:5] for f in upkeep.check(old).faults] == ["Photo"]


def test_a_reminder_comes_after_a_month_without_backup(
    bench: Bench, kept: PlanView, tmp_path: Path
) -> None:
    assert not upkeep.data_view(bench.db, bench.folder).remind
    with bench.db.atomic() as tx:
        tx.execute("UPDATE plan SET created_at = '2026-01-01T00:00:00.000+00:00'")
    view = upkeep.data_view(bench.db, bench.folder)
    assert view.remind
    assert view.database_bytes > 0
    upkeep.backup_to(bench.db, tmp_path / "b")
    assert not upkeep.data_view(bench.db, bench.folder).remind


def remade(data: bytes, manifest: dict[str, Any], **more: bytes) -> bytes:
    """A file with another manifest, and more entries by name."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as other:
        for name in source.namelist():
            text = json.dumps(manifest) if name == "haze.json" else source.read(name)
            other.writestr(name, text)
        for name, body in more.items():
            other.writestr(name, body)
    return out.getvalue()


def manifest_of(data: bytes) -> dict[str, Any]:
    with zipfile.ZipFile(io.BytesIO(data)) as source:
        found: dict[str, Any] = json.loads(source.read("haze.json"))
    return found


PRESS = {
    "seq": 1,
    "id": "press-00001",
    "at": "2026-11-28T13:00:00Z",
    "minute": 5.0,
    "kind": "done",
    "step": "plan.coat.0.1:check",
    "number": 0,
}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"log": [PRESS | {"step": "plan"}]}, "sessions.0.log.0.step"),
        ({"log": [PRESS | {"step": ""}]}, "sessions.0.log.0.step"),
        ({"log": [PRESS | {"minute": 1e308}]}, "sessions.0.log.0.minute"),
        ({"log": [PRESS | {"minute": -1e308}]}, "sessions.0.log.0.minute"),
        ({"log": [PRESS | {"at": "2026-02-31T13:00:00Z"}]}, "sessions.0.log.0.at"),
        ({"log": [PRESS, PRESS | {"step": "other.coat.0.1:check"}]}, "plan other"),
        ({"log": [PRESS | {"knob": "volume"}]}, "the knob 'volume'"),
        ({"log": [PRESS], "document": None}, "no plan they are about"),
        ({"began_at": "2026-99-99T99:99:99Z"}, "sessions.0.began_at"),
        ({"date": "2026-02-31"}, "sessions.0.date"),
        ({"ended_at": "1971-01-01T00:00:00Z"}, "ends before it begins"),
    ],
)
def test_a_session_that_cannot_be_counted_with_is_refused_before_it_is_stored(
    bench: Bench, kept: PlanView, other: Bench, change: dict[str, Any], words: str
) -> None:
    data = file_of(bench, kept.id)
    manifest = manifest_of(data)
    session = {
        "id": "evening", "kind": "booth", "date": "2026-11-28", "name": "Evening",
        "began_at": "2026-11-28T13:00:00Z", "ended_at": "2026-11-28T14:00:00Z",
        "plan": kept.id, "document": manifest["plans"][0]["plan"],
    }  # fmt: skip
    before = all_rows(other)
    manifest["sessions"] = [session | {"log": [PRESS]}]
    manifest["photos"] = []
    sound = remade(data, manifest)
    assert look_at(other, sound).sessions_new == 1
    manifest["sessions"] = [session | change]
    with pytest.raises(BadFileError, match=words):
        look_at(other, remade(data, manifest))
    assert all_rows(other) == before


def test_a_photo_the_manifest_does_not_name_is_refused(bench: Bench, kept: PlanView) -> None:
    data = file_of(bench, kept.id)
    stray = {"photos/stray-photo.jpg": b"\xff\xd8\xff"}
    with pytest.raises(BadFileError, match="does not name"):
        look_at(bench, remade(data, manifest_of(data), **stray))


def test_a_manifest_made_to_take_all_memory_is_refused_apart(
    bench: Bench, kept: PlanView, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(looked, "LOOKING", apart.Limits(seconds=20, room=64 * 2**20))
    out = io.BytesIO()
    trials = ",".join(["{}"] * 3_000_000)
    head = '{"format": "haze", "version": 2, "made_at": "2026-11-28T13:00:00Z"'
    with zipfile.ZipFile(out, "w") as file:
        file.writestr("haze.json", f'{head}, "trials": [{trials}]}}')
    with pytest.raises(apart.TooMuchRoomError):
        look_at(bench, out.getvalue())
    assert bench.notebook().sessions


def test_what_cannot_be_read_is_left_out_of_a_file(
    bench: Bench, kept: PlanView, other: Bench
) -> None:
    with bench.db.atomic() as tx:
        tx.execute("UPDATE trial SET setting = '{}' WHERE rowid = (SELECT min(rowid) FROM trial)")
        tx.execute("UPDATE card SET asked = '[]'")
    held = len(bench.db.connection().execute("SELECT id FROM trial").fetchall())
    taken_in = took(other, all_of(bench))
    assert (taken_in.plans, taken_in.trials, taken_in.cards) == (1, held - 1, 0)
    assert b"cannot be read" in written.trials_csv(bench.db)
    assert [r.kind for r in unreadable.everything(bench.db).records] == ["trial", "card"]
