from __future__ import annotations

import threading
import time
from pathlib import Path

import numpy as np
import pytest

from haze.core.errors import CancelledError, HazeError, MeshError
from haze.core.plan.document import Plan
from haze.service import plans, settings
from haze.service.bench import Bench
from haze.service.jobs import Jobs, JobView, Report
from haze.service.painter import Painter
from haze.service.pieces import geometry_bytes
from haze.service.plans import NewPlan, PlanView
from haze.service.thumbnails import thumbnail
from haze.service.workings import workings
from haze.store.connection import MissingError


def wait(jobs: Jobs, job: JobView, *states: str) -> JobView:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        view = jobs.get(job.id)
        if view.state in states:
            return view
        threading.Event().wait(0.01)
    raise AssertionError(f"job stayed {view.state}")


@pytest.fixture
def started(bench: Bench, cone_stl: bytes) -> PlanView:
    mesh = plans.add_mesh(bench.db, cone_stl, name="cone.stl")
    return plans.start(bench.db, NewPlan(mesh=mesh.id, name="Practice cone", height_mm=25))


@pytest.fixture
def painter(bench: Bench, started: PlanView) -> Painter:
    bench.pieces.make(started.plan.piece, lambda *_: True)
    return bench.painter(started.plan)


def test_a_new_plan_has_four_clean_coats(started: PlanView, painter: Painter) -> None:
    work = workings(started.plan, painter)
    assert [c.task for c in started.plan.coats] == ["prime", "light", "light", "veil"]
    assert all(c.spray.verdict == "clean" for c in work.coats)
    assert work.to_mind == 0
    # a cone of 10 mm radius and 25 mm height: π r (r + √(r² + h²)) = 11.6 cm²
    assert work.area_cm2 == pytest.approx(11.6, rel=0.02)
    assert all(c.cup.poured[0].role == "thinner" for c in work.coats)
    assert work.coats[0].layer.covered_share > work.coats[2].layer.covered_share
    for told in work.coats:
        whole, parts = told.layer, told.layer.parts
        assert 0 <= whole.covered_share <= 1
        assert 0 <= whole.landed_share <= 1
        assert min(p.landed_share for p in parts) <= whole.landed_share + 1e-6
        assert max(p.landed_share for p in parts) >= whole.landed_share - 1e-6
        assert whole.bare_cm2 == pytest.approx(sum(p.bare_cm2 for p in parts), abs=1e-3)
    assert work.coats[3].layer.transparent
    assert not work.coats[0].layer.transparent
    for shares in (work.light.show, work.light.around):
        assert shares.lit + shares.half + shares.dark == pytest.approx(1, abs=1e-6)
    assert work.light.show.lit > work.light.around.lit
    assert {s.coat for s in work.steps} == {c.id for c in started.plan.coats}


def test_a_moved_station_gives_the_same_colours_as_a_fresh_painter(
    started: PlanView, painter: Painter
) -> None:
    plan = started.plan
    painter.colours(plan, after=4, look="as_painted")
    moved = plan.model_copy(deep=True)
    moved.coats[1].stations[0].azimuth_deg += 35
    quick = painter.colours(moved, after=4, look="as_painted")
    fresh = Painter(painter.piece).colours(moved, after=4, look="as_painted")
    assert np.array_equal(quick, fresh)
    back = painter.colours(plan, after=4, look="as_painted")
    assert not np.array_equal(quick, back)


def test_looks_show_what_they_say(started: PlanView, painter: Painter) -> None:
    plan = started.plan
    bare = painter.colours(plan, after=0, look="as_painted")
    assert np.ptp(bare.astype(int), axis=0).max() == 0
    value = painter.colours(plan, after=4, look="value")
    assert np.array_equal(value[:, 0], value[:, 2])
    film = painter.layers(plan, 3)[-1][0]
    shown = painter.colours(plan, after=3, look="this_coat").astype(int).sum(axis=1)
    order = np.argsort(film)
    assert np.all(np.diff(shown[order]) >= 0)
    assert painter.square_on_um(plan, plan.coats[2]) > 0


def test_changing_the_room_or_needle_changes_the_film(started: PlanView, painter: Painter) -> None:
    plan = started.plan
    here = painter.layers(plan, 1)[0][0]
    wide = plan.model_copy(deep=True)
    wide.airbrush.needle_mm = 0.5
    assert not np.array_equal(painter.layers(wide, 1)[0][0], here)


def test_an_empty_plan_works_out_to_nothing(started: PlanView, painter: Painter) -> None:
    empty = started.plan.model_copy(update={"coats": []})
    work = workings(empty, painter)
    assert work.coats == []
    assert work.total_s == 0
    assert painter.colours(empty, after=0, look="as_painted").shape[1] == 3


def test_pieces_come_back_from_the_cache_and_survive_its_loss(
    bench: Bench, started: PlanView, painter: Painter, tmp_path: Path
) -> None:
    piece = started.plan.piece
    bench.pieces._held.clear()
    again = bench.pieces.ready(piece)
    assert again is not None
    assert np.array_equal(again.table, painter.piece.table)
    for ending in ("npz", "npy"):
        file = next((bench.folder / "cache").glob(f"*.{ending}"))
        file.write_bytes(file.read_bytes()[:1000])
        bench.pieces._held.clear()
        assert bench.pieces.ready(piece) is None
        assert not file.exists()
        bench.pieces.make(piece, lambda *_: True)
        assert bench.pieces.ready(piece) is not None


def test_a_piece_is_made_by_a_job_that_tells_its_progress(bench: Bench, started: PlanView) -> None:
    piece = started.plan.piece
    key, job = bench.prepare(piece)
    assert job is not None
    _, same = bench.prepare(piece)
    assert same is None or same.id == job.id
    assert wait(bench.jobs, job, "done").progress == 1
    assert bench.prepare(piece) == (key, None)


def test_a_stopped_job_leaves_no_piece(bench: Bench, started: PlanView) -> None:
    with pytest.raises(CancelledError):
        bench.pieces.make(started.plan.piece, lambda *_: False)
    assert list((bench.folder / "cache").glob("*")) == []


def test_jobs_fail_with_a_sentence_and_can_be_cancelled() -> None:
    jobs = Jobs()
    begun, go_on = threading.Event(), threading.Event()

    def slow(report: Report) -> None:
        begun.set()
        while report(0.5, "Working"):
            go_on.wait(0.01)
        raise CancelledError("Stopped.")

    def wrong(_: Report) -> None:
        raise HazeError("The mesh is soup.")

    def broken(_: Report) -> None:
        raise ZeroDivisionError("secret")

    job = jobs.start("a", "Waiting", slow)
    assert begun.wait(10)
    queued = jobs.start("b", "Waiting", wrong)
    jobs.cancel(queued.id)
    jobs.cancel(job.id)
    assert wait(jobs, job, "cancelled").error == "Stopped."
    assert wait(jobs, queued, "cancelled")
    assert wait(jobs, jobs.start("c", "", wrong), "failed").error == "The mesh is soup."
    told = wait(jobs, jobs.start("d", "", broken), "failed").error
    assert told is not None
    assert "secret" not in told
    with pytest.raises(MissingError):
        jobs.get("none")
    jobs.close()


def test_geometry_travels_whole(painter: Painter) -> None:
    data = geometry_bytes(painter.piece)
    n, m = np.frombuffer(data, "<u4", 2)
    mesh = painter.piece.mesh
    assert (n, m) == (len(mesh.vertices), len(mesh.faces))
    assert np.frombuffer(data, "<f4", n * 3, 8).reshape(-1, 3) == pytest.approx(mesh.vertices)
    corners = np.frombuffer(data, "<u4", m * 3, len(data) - m * 12).reshape(-1, 3)
    assert np.array_equal(corners, mesh.faces)


def test_pictures_are_drawn_once_and_show_the_piece(
    bench: Bench, started: PlanView, painter: Painter
) -> None:
    one = thumbnail(bench, started.plan)
    assert one.startswith(b"\x89PNG")
    assert thumbnail(bench, started.plan) == one
    other = started.plan.model_copy(deep=True)
    other.coats = other.coats[:1]
    assert thumbnail(bench, other) != one


def test_a_bad_mesh_leaves_nothing_behind(bench: Bench) -> None:
    with pytest.raises(MeshError):
        plans.add_mesh(bench.db, b"<html></html>", name="x.stl")
    assert plans.every_mesh(bench.db) == []


def test_everything_is_there_after_a_restart(tmp_path: Path, cone_stl: bytes) -> None:
    one = Bench(tmp_path)
    mesh = plans.add_mesh(one.db, cone_stl, name="cone.stl")
    made = plans.start(one.db, NewPlan(mesh=mesh.id, name="Stays"))
    changed = made.plan.model_copy(deep=True)
    changed.coats[0].spray.pressure_psi = 17.5
    saved = plans.save(one.db, made.id, version=made.version, plan=changed, what="Pressure")
    settings.write(one.db, "theme", "lamp_off")
    one.close()
    two = Bench(tmp_path)
    found = plans.open_plan(two.db, made.id)
    assert found == saved
    assert found.can_undo
    assert settings.read(two.db)["theme"] == "lamp_off"
    assert plans.undo(two.db, made.id, version=found.version).plan == made.plan
    two.close()


def test_a_plan_on_a_mesh_that_is_not_there_is_refused(bench: Bench, started: PlanView) -> None:
    lost: Plan = started.plan.model_copy(deep=True)
    lost.piece.mesh = "e" * 64
    with pytest.raises(MissingError):
        plans.save(bench.db, started.id, version=started.version, plan=lost, what="x")
    assert plans.open_plan(bench.db, started.id).version == started.version


def test_settings_are_checked(bench: Bench) -> None:
    with pytest.raises(HazeError, match="accepted are psi, bar"):
        settings.write(bench.db, "pressure_unit", "atm")
    with pytest.raises(HazeError, match="There is no setting"):
        settings.write(bench.db, "colour", "blue")
    assert settings.write(bench.db, "pressure_unit", "bar")["pressure_unit"] == "bar"
