"""Text meshes read in blocks are the same wherever the blocks end."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import CancelledError, MeshError
from haze.formats import text_meshes, tokens
from haze.formats.meshes import read_mesh

BALL = trimesh.creation.icosphere(subdivisions=2)
TEXTS = {
    "stl": trimesh.exchange.stl.export_stl_ascii(BALL).encode(),
    "obj": trimesh.exchange.obj.export_obj(BALL).encode(),
    "ply": BALL.export(file_type="ply", encoding="ascii"),
}
ROWS = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv .5 1.5 0\n"


def test_blocks_end_where_lines_end_and_leave_nothing_out(monkeypatch: pytest.MonkeyPatch) -> None:
    data = b"".join(b"%d\n" % n for n in range(1000)) + b"last"
    for size in (7, 64, 10**6):
        monkeypatch.setattr(tokens, "BLOCK_BYTES", size)
        parts = [block for _, block in tokens.blocks(data)]
        assert b"".join(parts) == data
        assert all(part.endswith(b"\n") for part in parts[:-1])
    begun = list(tokens.blocks(data, begin=2))
    assert begun[0][1] == data[2:]
    assert begun[-1][0] == len(data)


def test_words_know_their_line_and_place() -> None:
    words = tokens.Words.of(b"  v 1 2\n\n\tf  3\nVertex 4 5 6")
    assert words.count.tolist() == [3, 2, 4]
    assert words.line.tolist() == [0, 0, 0, 1, 1, 2, 2, 2, 2]
    assert words.place.tolist() == [0, 1, 2, 0, 1, 0, 1, 2, 3]
    assert words.begin_with(b"v").tolist() == [True, False, False]
    assert words.begin_with(b"vertex").tolist() == [False, False, True]
    assert words.said(1) == "f  3"
    assert words.numbers(words.place == 1).tolist() == [1, 3, 4]
    assert words.whole_numbers(words.place == 9).tolist() == []


@pytest.mark.parametrize("kind", TEXTS)
def test_a_mesh_is_the_same_wherever_its_blocks_end(
    kind: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    _, whole = read_mesh(TEXTS[kind], name=f"ball.{kind}")
    assert trimesh.Trimesh(whole.vertices, whole.faces).area == pytest.approx(BALL.area, rel=1e-5)
    monkeypatch.setattr(tokens, "BLOCK_BYTES", 301)
    _, parts = read_mesh(TEXTS[kind], name=f"ball.{kind}")
    assert np.array_equal(parts.vertices, whole.vertices)
    assert np.array_equal(parts.faces, whole.faces)


def test_faces_of_many_corners_become_fans() -> None:
    data = ROWS + b"f 1//7 2/3 3 4/1/2\nf 1 2 3\nf -5 -4 -3 -2 -1\n"
    faces = text_meshes.read_obj(data).faces.tolist()
    assert faces == [[0, 1, 2], [0, 2, 3], [0, 1, 2], [0, 1, 2], [0, 2, 3], [0, 3, 4]]


def test_corners_count_back_from_where_the_face_stands(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(tokens, "BLOCK_BYTES", 20)
    data = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nf -3 -2 -1\nv 9 9 9\nf -4 -3 -1\n"
    assert text_meshes.read_obj(data).faces.tolist() == [[0, 1, 2], [0, 1, 3]]


def test_the_line_that_is_wrong_is_told() -> None:
    with pytest.raises(MeshError, match="'f 1 2 three'"):
        text_meshes.read_obj(ROWS + b"f 1 2 3\nf 1 2 three\n")
    with pytest.raises(MeshError, match="'v 1 2'"):
        text_meshes.read_obj(b"v 0 0 0\nv 1 2\n")
    with pytest.raises(MeshError, match="'v 1 x 3'"):
        text_meshes.read_obj(b"v 0 0 0\nv 1 x 3\nf 1 2 3\n")
    with pytest.raises(MeshError, match="fewer than three"):
        text_meshes.read_obj(ROWS + b"f 1 2\n")


def test_columns_of_other_programs_do_not_disturb() -> None:
    data = (
        b"ply\r\nformat ascii 1.0\r\nelement mark 1\r\nproperty int n\r\nelement vertex 4\r\n"
        b"property uchar red\r\nproperty float x\r\nproperty float y\r\nproperty float z\r\n"
        b"property float nx\r\nelement face 1\r\nproperty int flags\r\n"
        b"property list uchar int vertex_indices\r\nproperty uchar blue\r\nend_header\r\n"
        b"5\r\n9 0 0 0 7\r\n9 1 0 0 7\r\n9 1 1 0 7\r\n9 0 1 0 7\r\n3 4 0 1 2 3 255\r\n"
    )
    _, raw = read_mesh(data, name="a.ply")
    assert raw.vertices.tolist() == [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]]
    assert raw.faces.tolist() == [[0, 1, 2], [0, 2, 3]]


@pytest.mark.parametrize("kind", TEXTS)
def test_reading_tells_how_far_it_is_and_stops_when_asked(
    kind: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(tokens, "BLOCK_BYTES", 1000)
    told: list[float] = []
    read_mesh(TEXTS[kind], name=f"ball.{kind}", progress=lambda done: not told.append(done))
    assert told == sorted(told)
    assert len(told) > 3
    assert told[-1] == 1.0
    with pytest.raises(CancelledError):
        read_mesh(TEXTS[kind], name=f"ball.{kind}", progress=lambda done: done < 0.5)


def test_too_many_triangles_are_counted_before_they_are_read(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(text_meshes, "MOST_FACES", 100)
    monkeypatch.setattr(text_meshes, "_words", None)  # nothing is read
    for kind in ("stl", "obj"):
        with pytest.raises(MeshError, match="at most"):
            read_mesh(TEXTS[kind] * 5, name=f"ball.{kind}")
