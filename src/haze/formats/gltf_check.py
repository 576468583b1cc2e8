"""A GLB file looked over before it is read: what it declares must be there, and be a tree."""

from __future__ import annotations

import json
from typing import Annotated, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from haze.core.errors import MeshError
from haze.core.mesh.mesh import MOST_FACES, too_many

HEADER, CHUNK = 12, 8
JSON_CHUNK, BINARY_CHUNK = b"JSON", b"BIN\0"
MOST_JSON_BYTES = 16 * 2**20
MOST_NODES = 2000
COMPONENT_BYTES = {5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4}
COMPONENTS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
DAMAGED = "The GLB file is damaged: {}."
PACKED = "The GLB file is packed in a way Haze does not read ({}); save it not compressed."
TRIANGLES = 4

T = TypeVar("T")
Count = Annotated[int, Field(ge=0, lt=2**53)]
Index = Annotated[int, Field(ge=0, lt=2**31)]


class _Loose(BaseModel):
    model_config = ConfigDict(extra="ignore", strict=True)


class _Buffer(_Loose):
    byteLength: Count
    uri: str | None = None


class _View(_Loose):
    buffer: Index
    byteLength: Count
    byteOffset: Count = 0
    byteStride: Count | None = None


class _Accessor(_Loose):
    componentType: int
    count: Count
    type: str
    bufferView: Index | None = None
    byteOffset: Count = 0
    sparse: dict[str, object] | None = None


class _Primitive(_Loose):
    attributes: dict[str, Index]
    indices: Index | None = None
    mode: Index = TRIANGLES


class _Mesh(_Loose):
    primitives: list[_Primitive]


class _Node(_Loose):
    mesh: Index | None = None
    children: list[Index] = []


class _Scene(_Loose):
    nodes: list[Index] = []


class _Document(_Loose):
    buffers: list[_Buffer] = []
    bufferViews: list[_View] = []
    accessors: list[_Accessor] = []
    meshes: list[_Mesh] = []
    nodes: list[_Node] = []
    scenes: list[_Scene] = []
    extensionsRequired: list[str] = []


def require_sound(data: bytes) -> None:
    """Refuse a GLB file that names more than it holds, or whose nodes are no tree.

    Parameters
    ----------
    data : bytes of the whole file
    """
    if len(data) < HEADER or int.from_bytes(data[8:12], "little") != len(data):
        raise MeshError("The GLB file is cut short: it is not as long as it says.")
    text, binary = _chunks(data)
    found = _document(text)
    if found.extensionsRequired:
        raise MeshError(PACKED.format(", ".join(found.extensionsRequired)[:60]))
    _require_bytes(found, binary)
    _require_faces(found)


def _chunks(data: bytes) -> tuple[bytes, int]:
    """The JSON text, and how many bytes of numbers follow."""
    text, binary, at = b"", 0, HEADER
    while at + CHUNK <= len(data):
        size, kind = int.from_bytes(data[at : at + 4], "little"), data[at + 4 : at + 8]
        if at + CHUNK + size > len(data):
            raise MeshError("The GLB file is cut short: a part of it is not as long as it says.")
        if kind == JSON_CHUNK and not text:
            if size > MOST_JSON_BYTES:
                raise MeshError(
                    f"The GLB file has {size / 2**20:.0f} MiB of description; at most "
                    f"{MOST_JSON_BYTES // 2**20} are accepted."
                )
            text = data[at + CHUNK : at + CHUNK + size]
        elif kind == BINARY_CHUNK and not binary:
            binary = size
        at += CHUNK + size
    return text, binary


def _document(text: bytes) -> _Document:
    try:
        return _Document.model_validate(json.loads(text))
    except (ValueError, RecursionError) as error:
        # a validation error tells which field; its first is enough
        where = ""
        if isinstance(error, ValidationError):
            where = " at " + ".".join(str(part) for part in error.errors()[0]["loc"])
        raise MeshError(DAMAGED.format(f"its description cannot be read{where}")) from None


def _at(things: list[T], index: int, what: str) -> T:
    if index >= len(things):
        raise MeshError(DAMAGED.format(f"it names a {what} it does not have"))
    return things[index]


def _require_bytes(found: _Document, binary: int) -> None:
    for number, buffer in enumerate(found.buffers):
        if buffer.uri is not None or number > 0:
            raise MeshError("The GLB file keeps numbers in other files; save it as one file.")
        if buffer.byteLength > binary:
            raise MeshError(DAMAGED.format("it names more bytes than it holds"))
    for view in found.bufferViews:
        held = _at(found.buffers, view.buffer, "buffer").byteLength
        if view.byteOffset + view.byteLength > held:
            raise MeshError(DAMAGED.format("it names more bytes than it holds"))
    for accessor in found.accessors:
        _require_accessor(found, accessor)


def _require_accessor(found: _Document, accessor: _Accessor) -> None:
    if accessor.bufferView is None or accessor.sparse is not None:
        raise MeshError(PACKED.format("numbers left out"))
    if accessor.componentType not in COMPONENT_BYTES or accessor.type not in COMPONENTS:
        raise MeshError(DAMAGED.format("it has numbers of an unknown kind"))
    view = _at(found.bufferViews, accessor.bufferView, "buffer view")
    one = COMPONENT_BYTES[accessor.componentType] * COMPONENTS[accessor.type]
    stride = view.byteStride or one
    need = accessor.byteOffset + (stride * (accessor.count - 1) + one if accessor.count else 0)
    if need > view.byteLength:
        raise MeshError(DAMAGED.format("it names more numbers than it holds"))


def _require_faces(found: _Document) -> None:
    """Nodes form trees, and all triangles together stay within what is accepted."""
    if len(found.nodes) > MOST_NODES:
        raise MeshError(
            f"The GLB file has {len(found.nodes):,} nodes; at most {MOST_NODES:,} are accepted."
        )
    for scene in found.scenes:
        for number in scene.nodes:
            _at(found.nodes, number, "node")
    _require_trees(found.nodes)
    faces = [_faces_of(found, mesh) for mesh in found.meshes]
    shown = [_at(faces, node.mesh, "mesh") for node in found.nodes if node.mesh is not None]
    if sum(shown) > MOST_FACES:
        raise MeshError(too_many())


def _require_trees(nodes: list[_Node]) -> None:
    children = [child for node in nodes for child in node.children]
    for child in children:
        _at(nodes, child, "node")
    roots = set(range(len(nodes))) - set(children)
    reached, waiting = 0, list(roots)
    while waiting:
        reached += 1
        waiting += nodes[waiting.pop()].children
    # with one parent each, what no root leads to stands in a ring
    if len(children) != len(set(children)) or reached != len(nodes):
        raise MeshError(DAMAGED.format("a node stands in two places, or in itself"))


def _faces_of(found: _Document, mesh: _Mesh) -> int:
    total = 0
    for part in mesh.primitives:
        named = part.attributes.get("POSITION") if part.indices is None else part.indices
        for number in part.attributes.values():
            _at(found.accessors, number, "list of numbers")
        if named is not None:
            total += _at(found.accessors, named, "list of numbers").count // 3
    return total
