"""Mesh files made to do harm: each names more than it holds, or is no mesh where it says it is."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import trimesh

from haze.formats.meshes import write_ply, write_stl

BOX = trimesh.creation.box((1, 2, 3))
PLY_HEADER = (
    "ply\nformat {form} 1.0\nelement vertex {vertices}\nproperty float x\nproperty float y\n"
    "property float z\nelement face {faces}\nproperty list uchar int vertex_indices\nend_header\n"
)
CORNERS = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], dtype="<f4").tobytes()


def glb(document: dict[str, Any] | bytes, binary: bytes = b"") -> bytes:
    """A GLB file around a description."""
    text = document if isinstance(document, bytes) else json.dumps(document).encode()
    text += b" " * (-len(text) % 4)
    binary += b"\0" * (-len(binary) % 4)
    chunks = len(text).to_bytes(4, "little") + b"JSON" + text
    if binary:
        chunks += len(binary).to_bytes(4, "little") + b"BIN\0" + binary
    return b"glTF" + (2).to_bytes(4, "little") + (12 + len(chunks)).to_bytes(4, "little") + chunks


def triangle(**change: Any) -> dict[str, Any]:
    """The description of one triangle, its corners and then its three indices."""
    document = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"mesh": 0}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}, "indices": 1}]}],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"},
            {"bufferView": 1, "componentType": 5125, "count": 3, "type": "SCALAR"},
        ],
        "bufferViews": [
            {"buffer": 0, "byteOffset": 0, "byteLength": 36},
            {"buffer": 0, "byteOffset": 36, "byteLength": 12},
        ],
        "buffers": [{"byteLength": 48}],
    }
    return document | change


def indices(*numbers: int) -> bytes:
    return CORNERS + np.array(numbers, dtype="<u4").tobytes()


def accessors(**change: Any) -> list[dict[str, Any]]:
    first, second = triangle()["accessors"]
    return [{k: v for k, v in (first | change).items() if v is not None}, second]


def ply(rows: bytes | str, *, form: str = "ascii", vertices: int = 3, faces: int = 1) -> bytes:
    """A PLY file that names so many rows, and has these."""
    header = PLY_HEADER.format(form=form, vertices=vertices, faces=faces).encode()
    return header + (rows.encode() if isinstance(rows, str) else rows)


def chained(count: int) -> dict[str, Any]:
    nodes: list[dict[str, Any]] = [{"children": [i + 1]} for i in range(count - 1)]
    return triangle(nodes=[*nodes, {"mesh": 0}])


GOOD_GLB = glb(triangle(), indices(0, 1, 2))
GOOD = {
    "stl": write_stl(BOX.vertices, BOX.faces),
    "text_stl": trimesh.exchange.stl.export_stl_ascii(BOX).encode(),
    "obj": trimesh.exchange.obj.export_obj(BOX).encode(),
    "ply": write_ply(BOX.vertices, BOX.faces),
    "text_ply": BOX.export(file_type="ply", encoding="ascii"),
    "glb": trimesh.Scene(BOX).export(file_type="glb"),
}
FOUR_ROWS = "0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n"
HOSTILE: dict[str, bytes] = {
    "glb, numbers left out": glb(
        triangle(accessors=accessors(bufferView=None, count=300_000_000)), indices(0, 1, 2)
    ),
    "glb, more numbers than bytes": glb(
        triangle(accessors=accessors(count=300_000_000)), indices(0, 1, 2)
    ),
    "glb, sparse numbers": glb(
        triangle(accessors=accessors(sparse={"count": 10**9})), indices(0, 1, 2)
    ),
    "glb, a stride beyond the end": glb(
        triangle(bufferViews=[{"buffer": 0, "byteLength": 36, "byteStride": 252}] * 2),
        indices(0, 1, 2),
    ),
    "glb, a buffer longer than the file": glb(
        triangle(buffers=[{"byteLength": 2**40}]), indices(0, 1, 2)
    ),
    "glb, a negative count": glb(triangle(accessors=accessors(count=-3)), indices(0, 1, 2)),
    "glb, indices above 2^31": glb(triangle(), indices(0, 1, 2**32 - 1)),
    "glb, indices it does not have": glb(triangle(), indices(0, 1, 7)),
    "glb, a node in itself": glb(triangle(nodes=[{"mesh": 0, "children": [0]}]), indices(0, 1, 2)),
    "glb, a ring of nodes": glb(
        triangle(nodes=[{"mesh": 0}, {"children": [2]}, {"children": [1]}]), indices(0, 1, 2)
    ),
    "glb, a node in two places": glb(
        triangle(nodes=[{"children": [1, 2]}, {"children": [2]}, {"mesh": 0}]), indices(0, 1, 2)
    ),
    "glb, 20,000 nodes": glb(chained(20_000), indices(0, 1, 2)),
    "glb, a mesh it does not have": glb(triangle(nodes=[{"mesh": 9}]), indices(0, 1, 2)),
    "glb, numbers in other files": glb(
        triangle(buffers=[{"byteLength": 48, "uri": "../../secret"}]), indices(0, 1, 2)
    ),
    "glb, packed": glb(triangle(extensionsRequired=["KHR_squeezed"]), indices(0, 1, 2)),
    "glb, nested 100,000 deep": glb(b"[" * 100_000 + b"]" * 100_000),
    "glb, not JSON": glb(b"{\xff\xfe}"),
    "glb, no description": b"glTF" + (2).to_bytes(4, "little") + (12).to_bytes(4, "little"),
    "glb, a part longer than the file": GOOD_GLB[:12] + b"\xff\xff\xff\x7fJSON" + GOOD_GLB[20:],
    "ply, fewer faces than named": ply(FOUR_ROWS, faces=1_000_000),
    "ply, fewer faces, one short": ply(FOUR_ROWS * 20, vertices=3, faces=78),
    "ply, a billion corners": ply(CORNERS, form="binary_little_endian", vertices=10**9),
    "ply, ten to the 30 corners": ply(FOUR_ROWS, vertices=10**30),
    "ply, rows without columns": ply(FOUR_ROWS).replace(
        b"element face", b"element nothing 900000000\nelement face"
    ),
    "ply, indices above 2^31": ply(FOUR_ROWS.replace("1 2\n", "1 4294967295\n")),
    "ply, indices below zero": ply(FOUR_ROWS.replace("0 1 2\n", "0 1 -2\n")),
    "ply, a face of four billion": ply("0 0 0\n1 0 0\n0 1 0\n4000000000 0 1 2\n"),
    "ply, a face of two": ply("0 0 0\n1 0 0\n0 1 0\n2 0 1\n"),
    "ply, words for numbers": ply("0 0 0\none two three\n0 1 0\n3 0 1 2\n"),
    "ply, no header's end": b"ply\nformat ascii 1.0\nelement vertex 3\n" + b"comment x\n" * 20_000,
    "ply, half a type": ply(FOUR_ROWS).replace(b"property float x", b"property half x"),
    "stl, more triangles than bytes": GOOD["stl"][:80] + (2**31).to_bytes(4, "little") + b"\0" * 50,
    "text stl, words for numbers": GOOD["text_stl"].replace(b"vertex", b"vertex up", 1),
    "text stl, two numbers": b"solid x\nfacet\nvertex 1 2\nvertex 1 2\nendfacet\nendsolid",
    "obj, an index of thirty digits": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 " + b"9" * 30 + b"\n",
    "obj, an index above 2^31": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4294967299\n",
    "obj, an index with a line under it": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 0_3\n",
    "obj, an index of nothing": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n",
    "obj, counted back too far": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf -1 -2 -9\n",
    "obj, words for numbers": b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf one two three\n",
    "obj, an endless number": b"v 0 0 0\nv 1e999 0 0\nv 0 1 0\nf 1 2 3\n",
    "obj, a huge number": b"v 0 0 0\nv 1e300 0 0\nv 0 1e300 0\nf 1 2 3\n",
    "obj, a line without end": b"v 0 0 0\nf 1 1 1\n" + b"f" + b" 1" * 4_000_000,
}
