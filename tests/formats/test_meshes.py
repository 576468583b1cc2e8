from __future__ import annotations

import io
import zipfile

import numpy as np
import pytest
import trimesh

from haze.core.errors import MeshError
from haze.formats import meshes
from haze.formats.meshes import STL_RECORD, read_mesh, write_ply, write_stl

BOX = trimesh.creation.box((1, 2, 3))
TEXT_STL = trimesh.exchange.stl.export_stl_ascii(BOX).encode()
BINARY_STL = write_stl(BOX.vertices, BOX.faces)
OBJ = b"# box\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nf 1/1/1 2/2/1 3/3/1 4/4/1\nf -5 -4 -1\n"


def area(raw: meshes.RawMesh) -> float:
    return float(trimesh.Trimesh(raw.vertices, raw.faces).area)


def test_binary_and_text_stl_hold_the_same_box() -> None:
    for data in (BINARY_STL, TEXT_STL, TEXT_STL.replace(b"\n", b"\r\n")):
        kind, raw = read_mesh(data, name="box.stl")
        assert kind == "stl"
        assert area(raw) == pytest.approx(22.0)


def test_a_binary_stl_may_begin_with_the_word_solid() -> None:
    data = b"solid but binary".ljust(80) + BINARY_STL[80:]
    assert area(read_mesh(data, name="x.stl")[1]) == pytest.approx(22.0)


def test_obj_with_quads_and_counted_back_corners() -> None:
    kind, raw = read_mesh(OBJ, name="box.obj")
    assert kind == "obj"
    assert len(raw.faces) == 3
    assert raw.faces[2].tolist() == [0, 1, 4]


def test_contents_decide_not_the_ending() -> None:
    assert read_mesh(BINARY_STL, name="box.obj")[0] == "stl"
    assert read_mesh(OBJ, name="box.stl")[0] == "obj"


def zipped() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("box.stl", BINARY_STL)
    return out.getvalue()


def with_nan() -> bytes:
    records = np.frombuffer(BINARY_STL, dtype=STL_RECORD, offset=84).copy()
    records["corners"][0, 0, 0] = np.nan
    return BINARY_STL[:84] + records.tobytes()


FLAT = write_stl(np.zeros((3, 3)), np.array([[0, 1, 2]]))
PLY_POINTS = (
    b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\n"
    b"property float z\nend_header\n0 0 0\n1 0 0\n0 1 0\n"
)
EMPTY_GLB = b"glTF\x02\x00\x00\x00\x0c\x00\x00\x00"
NO_FACES = write_stl(np.zeros((3, 3)), np.zeros((0, 3), dtype=int))
BAD = {
    "empty": (b"", "The file is empty"),
    "truncated": (BINARY_STL[:-20], "cut short: it names 12 triangles"),
    "text truncated": (TEXT_STL[: len(TEXT_STL) // 2], "cut short|fewer than three"),
    "web page": (b"<!DOCTYPE html><html><body>No such file</body></html>", "web page"),
    "nan": (with_nan(), "not numbers"),
    "zero area": (FLAT, "no surface"),
    "no faces": (NO_FACES, "no triangles"),
    "zip": (zipped(), "zip archive"),
    "ply": (b"ply\nformat ascii 1.0\n", "PLY file is damaged"),
    "ply points": (PLY_POINTS, "points but no triangles"),
    "glb": (b"glTF\x02\x00\x00\x00", "GLB file is cut short"),
    "glb empty": (EMPTY_GLB, "GLB file"),
    "words": (b"this is not a mesh at all, just words" * 9, "no triangles Haze can read|cut short"),
    "bad obj": (b"v 0 0 0\nv 1 0 0\nv x 1 0\nf 1 2 3\n", "not three numbers"),
    "bad obj face": (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 two 3\n", "cannot read"),
    "obj without faces": (b"v 0 0 0\nv 1 0 0\nf \n", "fewer than three corners"),
    "obj corner missing": (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "does not have"),
}


@pytest.mark.parametrize("case", BAD)
def test_each_bad_file_gets_one_sentence(case: str) -> None:
    data, words = BAD[case]
    with pytest.raises(MeshError, match=words) as caught:
        read_mesh(data, name="mesh.stl" if "obj" not in case else "mesh.obj")
    assert caught.value.message.count("\n") == 0
    assert caught.value.message.endswith(".")


def test_a_file_over_the_limit_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(meshes, "MOST_BYTES", 100)
    with pytest.raises(MeshError, match="at most"):
        read_mesh(BINARY_STL, name="box.stl")


def test_stl_round_trip_keeps_every_corner() -> None:
    _, raw = read_mesh(BINARY_STL, name="x.stl")
    again = write_stl(raw.vertices, raw.faces)
    assert again[84:] == BINARY_STL[84:]


def test_ply_round_trip_keeps_corners_and_faces() -> None:
    solid = trimesh.creation.icosphere(subdivisions=2)
    form, raw = read_mesh(write_ply(solid.vertices, solid.faces), name="ball.ply")
    assert form == "ply"
    assert raw.vertices == pytest.approx(solid.vertices, abs=1e-6)
    assert np.array_equal(raw.faces, solid.faces)


@pytest.mark.parametrize("encoding", ["ascii", "binary"])
def test_ply_files_of_others_are_read(encoding: str) -> None:
    solid = trimesh.creation.box((2, 3, 4))
    _, raw = read_mesh(solid.export(file_type="ply", encoding=encoding), name="box")
    assert len(raw.faces) == 12
    assert np.ptp(raw.vertices, axis=0) == pytest.approx([2, 3, 4])


def test_a_glb_scene_is_read_with_its_parts_in_place() -> None:
    scene = trimesh.Scene()
    scene.add_geometry(trimesh.creation.box((2, 2, 2)))
    moved = trimesh.transformations.translation_matrix([10, 0, 0])
    scene.add_geometry(trimesh.creation.box((2, 2, 2)), transform=moved)
    form, raw = read_mesh(scene.export(file_type="glb"), name="two.glb")
    assert form == "glb"
    assert len(raw.faces) == 24
    assert np.ptp(raw.vertices, axis=0) == pytest.approx([12, 2, 2])
