"""The club."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import trimesh

from begun import begun
from haze.core.film.srgb import lightness_of_rgb
from haze.core.plan.document import Plan
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.service.piece.looks import colours
from haze.service.piece.meshes import add_mesh
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.ready import SEEING, key_of
from haze.service.plan.start import NewPlan
from haze.store.connection import MissingError
from helpers import coarse, ended


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_smoothing_is_asked_for_once_and_changes_only_what_is_coarse(
    club: Bench, plan: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    on = OnPiece(club.on(plan).piece)
    monkeypatch.setattr(club, "on", lambda _: on)
    wanted = on.deposits.coarse(plan)
    assert wanted
    before = colours(on, plan, after=4, look="as_painted")
    job = club.smooth(plan)
    assert job is not None
    assert ended(club.jobs, job).state == "done"
    assert on.deposits.coarse(plan) == []
    assert club.smooth(plan) is None
    after = colours(on, plan, after=4, look="as_painted")
    assert not np.array_equal(before, after)
    moved = lightness_of_rgb((after.T / 255.0).astype(np.float32)) - lightness_of_rgb(
        (before.T / 255.0).astype(np.float32)
    )
    assert float(np.sqrt(np.mean(moved**2))) < 6


def test_pieces_and_pictures_are_made_before_anybody_asks(
    bench: Bench, cone_stl: bytes, cone_cache: Path
) -> None:
    mesh = add_mesh(bench.db, cone_stl, name="cone.stl")
    view = begun(bench.db, NewPlan(mesh=mesh.id, name="Cone", height_mm=25))
    told = bench.news.listen()
    bench.warm()
    news = next(one for one in told if one is not None)
    assert (news.plan, news.by) == (view.id, "")
    assert bench.cache.known(key_of(view.plan.piece))
    assert len(list(bench.cache.folder.glob("*.png"))) == 1
    _, job = bench.prepare(view.plan.piece)
    assert job is None
    # a folder in which all is ready tells nothing
    bench.warm()
    again = bench.jobs.start("last", "", lambda _: None, turn="early")
    assert ended(bench.jobs, again).state == "done"
    assert bench.news._count == 1


def test_nothing_is_made_ahead_where_that_is_not_wanted(tmp_path: Path, cone_stl: bytes) -> None:
    held = coarse(tmp_path / "data", ahead=False)
    mesh = add_mesh(held.db, cone_stl, name="cone.stl")
    view = begun(held.db, NewPlan(mesh=mesh.id, name="Cone", height_mm=25))
    held.warm()
    last = held.jobs.start("last", "", lambda _: None, turn="early")
    assert ended(held.jobs, last).state == "done"
    assert not held.cache.known(key_of(view.plan.piece))
    held.close()


def test_a_piece_is_shown_plain_until_it_is_worked_out(bench: Bench) -> None:
    pipe = trimesh.creation.annulus(r_min=4, r_max=6, height=20)
    mesh = add_mesh(bench.db, write_stl(pipe.vertices, pipe.faces), name="pipe.stl")
    piece = begun(bench.db, NewPlan(mesh=mesh.id, name="Pipe", height_mm=25)).plan.piece
    key = bench.cache.key(key_of(piece))
    with pytest.raises(MissingError):
        bench.geometry(key)
    plain: list[bytes] = []

    def report(_: float, doing: str) -> bool:
        if doing == SEEING and not plain:
            plain.append(bench.geometry(key))
        return True

    made = bench.cache.make(piece, report)
    whole = bench.geometry(key)
    assert len(plain[0]) == len(whole)
    n = made.size
    assert plain[0][: 8 + 16 * n] == whole[: 8 + 16 * n]  # the same surface
    openness = slice(8 + 16 * n, 8 + 17 * n)
    assert set(plain[0][openness]) == {255}
    assert len(set(whole[openness])) > 10


def test_haze_starts_whatever_a_cut_left_behind(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    left = coarse(folder)
    left.close()
    (folder / "incoming" / "tmpabc.part").mkdir(parents=True)
    (folder / "incoming" / "tmpabc.part" / "backup").write_bytes(b"half")
    (folder / "tmpdef.part").mkdir()
    (folder / "x.part").write_bytes(b"half")
    (left.cache.folder / "a-folder").mkdir(parents=True)
    (left.cache.folder / "lost.part").symlink_to(folder / "nowhere")
    again = coarse(folder)
    again.tidy()
    assert not list(folder.rglob("*.part"))
    assert again.notices == []
    again.close()


def test_what_cannot_be_cleared_keeps_no_start_from_going_on(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "data"
    (folder / "incoming" / "tmp.part").mkdir(parents=True)
    held = coarse(folder)

    def refused(_: object) -> None:
        raise PermissionError(13, "not yours")

    with monkeypatch.context() as kept:
        kept.setattr("haze.service.piece.files.shutil.rmtree", refused)
        held.tidy()
    assert held.notices == []
    held.close()


def test_work_at_start_that_fails_is_told_and_haze_starts(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    held = coarse(tmp_path / "data")
    monkeypatch.setattr("haze.service.bench.catch_up", broken)
    monkeypatch.setattr(held, "_warm", broken)
    held.tidy()
    held.warm()
    assert [n.split(" could not")[0] for n in held.notices] == ["The notebook", "What there is"]
    assert held.shelf().paints
    held.close()
