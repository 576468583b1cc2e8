"""Mesh files brought in: checked apart, kept whole or not at all, nothing left lying about."""

from __future__ import annotations

import hashlib
import io
from pathlib import Path

import pytest

from formats.hostile import HOSTILE
from haze.core.errors import CancelledError, MeshError
from haze.service.bench import Bench
from haze.service.piece import meshes
from helpers import ended, going, stopping


def sent(bench: Bench, data: bytes, *, name: str = "a.stl") -> meshes.Received:
    return meshes.receive(bench.incoming, io.BytesIO(data))


def test_a_file_is_received_a_block_at_a_time(tmp_path: Path) -> None:
    data = bytes(range(256)) * 9000
    got = meshes.receive(tmp_path, io.BytesIO(data))
    assert got.path.read_bytes() == data
    assert got.digest == hashlib.sha256(data).hexdigest()


def test_a_broken_upload_leaves_nothing(tmp_path: Path) -> None:
    class Cut(io.BytesIO):
        def read(self, size: int | None = -1) -> bytes:
            raise OSError("the connection ended")

    with pytest.raises(OSError, match="ended"):
        meshes.receive(tmp_path, Cut())
    assert list(tmp_path.iterdir()) == []


def test_a_mesh_is_checked_and_kept_as_it_came(bench: Bench, cone_stl: bytes) -> None:
    job = bench.take_mesh(io.BytesIO(cone_stl), name="  cone.stl ")
    assert ended(bench.jobs, job).state == "done"
    found = bench.jobs.result(job.id, meshes.MeshView)
    assert (found.name, found.format, found.size_bytes) == ("cone.stl", "stl", len(cone_stl))
    with meshes.written_out(bench.db, found.id, bench.incoming) as (path, name):
        assert (path.read_bytes(), name) == (cone_stl, "cone.stl")
    with meshes.opened(bench.db, found.id) as file:
        assert file.read() == cone_stl
    bench.jobs.close()
    assert list(bench.incoming.iterdir()) == []
    assert meshes.add_mesh(bench.db, cone_stl, name="again.stl").id == found.id
    assert len(meshes.every(bench.db)) == 1


@pytest.mark.parametrize("case", ["glb, numbers left out", "ply, a billion corners"])
def test_a_hostile_file_is_refused_and_not_kept(bench: Bench, case: str) -> None:
    job = bench.take_mesh(io.BytesIO(HOSTILE[case]), name=case)
    told = ended(bench.jobs, job)
    assert (told.state, told.code) == ("failed", "bad_mesh")
    assert meshes.every(bench.db) == []
    bench.jobs.close()
    assert list(bench.incoming.iterdir()) == []


def test_reading_stops_when_asked_and_keeps_nothing(bench: Bench, cone_stl: bytes) -> None:
    got = sent(bench, cone_stl)
    with pytest.raises(CancelledError):
        meshes.take_in(bench.db, got, name="a.stl", report=stopping)
    assert meshes.every(bench.db) == []


def test_a_mesh_is_prepared_apart(bench: Bench, cone_stl: bytes) -> None:
    mesh = meshes.take_in(bench.db, sent(bench, cone_stl), name="a.stl", report=going)
    stance = meshes.Stance(mesh.id, "z", "-y", 0.0)
    told: list[float] = []
    made = meshes.stand(bench.db, stance, bench.incoming, lambda done: not told.append(done))
    assert len(made.vertices) > 40
    assert told == sorted(told)
    assert told[-1] > 0.6
    with pytest.raises(MeshError):
        meshes.read_facts(lambda _: True, path=Path(__file__), name="a.stl")
