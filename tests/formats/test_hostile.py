"""No mesh file does harm: it is read, or refused in one sentence before room is taken for it."""

from __future__ import annotations

import tracemalloc

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from formats.hostile import GOOD, GOOD_GLB, HOSTILE, glb, indices, triangle
from haze.core.errors import MeshError
from haze.formats import gltf_check
from haze.formats.meshes import read_mesh

ROOM = 200 * 2**20


@pytest.mark.parametrize("case", HOSTILE)
def test_a_hostile_file_is_refused_in_one_sentence_without_taking_room(case: str) -> None:
    tracemalloc.start()
    try:
        with pytest.raises(MeshError) as told:
            read_mesh(HOSTILE[case], name=f"a.{case.split(',')[0].split()[-1]}")
        assert tracemalloc.get_traced_memory()[1] < ROOM
    finally:
        tracemalloc.stop()
    assert told.value.message.endswith(".")
    assert "\n" not in told.value.message
    assert len(told.value.message) < 250


@pytest.mark.parametrize("kind", GOOD)
def test_the_same_files_unharmed_are_read(kind: str) -> None:
    form, raw = read_mesh(GOOD[kind], name=f"box.{kind.split('_')[-1]}")
    assert form == kind.split("_")[-1]
    assert len(raw.faces) == 12
    assert np.ptp(raw.vertices, axis=0) == pytest.approx([1, 2, 3])


def test_one_triangle_is_read() -> None:
    assert read_mesh(GOOD_GLB, name="one.glb")[1].faces.tolist() == [[0, 1, 2]]


def test_a_mesh_that_stands_in_many_places_counts_each_time(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    twice = glb(
        triangle(nodes=[{"mesh": 0}, {"mesh": 0}], scenes=[{"nodes": [0, 1]}]), indices(0, 1, 2)
    )
    assert len(read_mesh(twice, name="two.glb")[1].faces) == 2
    monkeypatch.setattr(gltf_check, "MOST_FACES", 1)
    with pytest.raises(MeshError, match="more than"):
        read_mesh(twice, name="two.glb")


@settings(max_examples=150, deadline=None)
@given(
    kind=st.sampled_from(sorted(GOOD)),
    places=st.lists(st.tuples(st.integers(0, 10**6), st.integers(0, 255)), min_size=1, max_size=12),
    cut=st.integers(0, 400),
)
def test_whatever_is_broken_in_a_file_it_is_read_or_refused(
    kind: str, places: list[tuple[int, int]], cut: int
) -> None:
    data = bytearray(GOOD[kind])
    for at, value in places:
        data[at % len(data)] = value
    if cut < 100:
        del data[-cut - 1 :]
    try:
        _, raw = read_mesh(bytes(data), name=f"box.{kind.split('_')[-1]}")
    except MeshError:
        return
    assert np.isfinite(raw.vertices).all()
    assert 0 <= raw.faces.min() <= raw.faces.max() < len(raw.vertices)
