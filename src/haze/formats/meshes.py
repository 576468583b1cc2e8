"""Read mesh files: STL (binary and text), OBJ, PLY and GLB. One clear sentence for each bad one."""

from __future__ import annotations

import io
import logging
from typing import Any, Literal

import numpy as np
import trimesh
from numpy.typing import NDArray

from haze.core.errors import MeshError
from haze.core.mesh.mesh import MOST_FACES, RawMesh, require_usable, soup, too_many
from haze.core.progress import Progress
from haze.formats.gltf_check import require_sound
from haze.formats.ply_header import read_header
from haze.formats.text_meshes import LARGEST_INDEX, read_obj, read_text_ply, read_text_stl

MeshFormat = Literal["stl", "obj", "ply", "glb"]
ACCEPTED = "STL (binary or text), OBJ, PLY and GLB"
log = logging.getLogger(__name__)

MOST_BYTES = 160 * 1024 * 1024
STL_HEADER = 84
STL_RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
SIGNATURES: tuple[tuple[bytes, str], ...] = (
    (b"PK\x03\x04", "a zip archive; unpack it and give the mesh inside"),
    (b"\x1f\x8b", "a gzip archive; unpack it and give the mesh inside"),
    (b"7z\xbc\xaf", "an archive; unpack it and give the mesh inside"),
    (b"%PDF", "a PDF document"),
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
)


def read_mesh(
    data: bytes, *, name: str, progress: Progress | None = None
) -> tuple[MeshFormat, RawMesh]:
    """The mesh in a file, checked for use; what a file declares is held against what it has first.

    Parameters
    ----------
    data : bytes of the whole file
    name : str, its name; the contents decide, the ending only helps
    progress : called with the share read [0..1] of a large text; may stop it

    Raises
    ------
    MeshError, whose sentence says what was wrong and what is accepted
    """
    if not data:
        raise MeshError(f"The file is empty; accepted are {ACCEPTED}.")
    if len(data) > MOST_BYTES:
        raise MeshError(
            f"The file has {len(data) / 2**20:.0f} MiB; at most {MOST_BYTES // 2**20} are accepted."
        )
    for signature, what in SIGNATURES:
        if data.startswith(signature):
            raise MeshError(f"This is {what}; accepted are {ACCEPTED}.")
    start = data[:1024].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if start.startswith((b"<!doctype", b"<html", b"<?xml", b"<")):
        raise MeshError(f"This is a web page or XML, not a mesh; accepted are {ACCEPTED}.")
    if data.startswith(b"glTF"):
        kind, raw = "glb", _read_glb(data)
    elif data.startswith((b"ply\n", b"ply\r")):
        kind, raw = "ply", _read_ply(data, progress)
    elif _is_binary_stl(data):
        kind, raw = "stl", _read_binary_stl(data)
    elif start.startswith(b"solid") and b"facet" in data[:4096].lower():
        kind, raw = "stl", read_text_stl(data, progress)
    elif name.lower().endswith(".obj") or _looks_like_obj(data):
        kind, raw = "obj", read_obj(data, progress)
    elif name.lower().endswith(".stl"):
        raise MeshError(_truncated(data))
    else:
        raise MeshError(f"This is not a mesh Haze can read; accepted are {ACCEPTED}.")
    require_usable(raw)
    return kind, raw  # type: ignore[return-value]


def _count(data: bytes) -> int:
    return int.from_bytes(data[80:84], "little")


def _is_binary_stl(data: bytes) -> bool:
    return len(data) >= STL_HEADER and len(data) == STL_HEADER + STL_RECORD.itemsize * _count(data)


def _truncated(data: bytes) -> str:
    if len(data) >= STL_HEADER and 0 < _count(data) < 2**28:
        whole = STL_HEADER + STL_RECORD.itemsize * _count(data)
        return (
            f"The STL file is cut short: it names {_count(data):,} triangles, which need "
            f"{whole:,} bytes, but has {len(data):,}."
        )
    return f"This STL file holds no triangles Haze can read; accepted are {ACCEPTED}."


def _read_binary_stl(data: bytes) -> RawMesh:
    if _count(data) > MOST_FACES:
        raise MeshError(too_many(_count(data)))
    records = np.frombuffer(data, dtype=STL_RECORD, offset=STL_HEADER)
    return soup(records["corners"].reshape(-1, 3).astype(np.float64))


def _looks_like_obj(data: bytes) -> bool:
    head = data[:65536]
    return b"\x00" not in head and (b"\nv " in head or head.startswith(b"v ")) and b"f " in data


def _loaded(data: bytes, form: str) -> Any:
    """What the mesh library makes of a file; any failure of it becomes one sentence."""
    try:
        # pictures inside are never unpacked
        return trimesh.load(io.BytesIO(data), file_type=form, process=False, skip_materials=True)
    except MemoryError:
        raise  # the worker it runs in tells of that
    except Exception as error:
        log.info("%s not read: %s", form, error)
        raise MeshError(
            f"The {form.upper()} file is damaged, cut short, or packed in a way Haze does not "
            f"read; accepted are {ACCEPTED}, not compressed."
        ) from error


def _read_ply(data: bytes, progress: Progress | None) -> RawMesh:
    header = read_header(data)
    if header.text:
        return read_text_ply(data, header, progress)
    found = _loaded(data, "ply")
    if not isinstance(found, trimesh.Trimesh) or not len(found.faces):
        raise MeshError("The PLY file holds points but no triangles; a mesh needs at least one.")
    return _indexed(found)


def _read_glb(data: bytes) -> RawMesh:
    require_sound(data)
    scene = _loaded(data, "glb")
    solids = [g for g in scene.dump() if isinstance(g, trimesh.Trimesh)]
    if not solids:
        raise MeshError("The GLB file holds no triangles; a mesh needs at least one.")
    return _indexed(trimesh.util.concatenate(solids))


def _indexed(found: Any) -> RawMesh:
    faces = np.asarray(found.faces)
    if len(faces) > MOST_FACES:
        raise MeshError(too_many(len(faces)))
    if len(faces) and not 0 <= int(faces.min()) <= int(faces.max()) <= LARGEST_INDEX:
        raise MeshError("The mesh names corners it does not have; the file is damaged.")
    return RawMesh(np.asarray(found.vertices, dtype=np.float64), faces.astype(np.int32))


def write_ply(vertices: NDArray[np.floating], faces: NDArray[np.integer]) -> bytes:
    """A binary PLY file of an indexed mesh: a third of the size of an STL file."""
    header = (
        "ply\nformat binary_little_endian 1.0\ncomment Haze\n"
        f"element vertex {len(vertices)}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {len(faces)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    rows = np.zeros(len(faces), dtype=[("count", "u1"), ("corners", "<i4", 3)])
    rows["count"], rows["corners"] = 3, faces
    return header.encode() + np.asarray(vertices, dtype="<f4").tobytes() + rows.tobytes()


def write_stl(vertices: NDArray[np.floating], faces: NDArray[np.integer]) -> bytes:
    """A binary STL file of an indexed mesh."""
    records = np.zeros(len(faces), dtype=STL_RECORD)
    corners = np.asarray(vertices, dtype=np.float32)[faces]
    records["corners"] = corners
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    records["normal"] = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-20)
    return b"Haze".ljust(80, b"\0") + len(faces).to_bytes(4, "little") + records.tobytes()
