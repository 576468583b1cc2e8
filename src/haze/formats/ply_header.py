"""What the first lines of a PLY file say, held against the bytes that follow."""

from __future__ import annotations

from dataclasses import dataclass

from haze.core.errors import MeshError
from haze.core.mesh.mesh import MOST_FACES, too_many

SIZES = {
    "char": 1, "uchar": 1, "int8": 1, "uint8": 1, "short": 2, "ushort": 2, "int16": 2,
    "uint16": 2, "int": 4, "uint": 4, "int32": 4, "uint32": 4, "float": 4, "float32": 4,
    "double": 8, "float64": 8,
}  # fmt: skip
MOST_HEADER_BYTES = 64 * 1024
DAMAGED = "The PLY file is damaged: {}."


@dataclass(frozen=True, slots=True)
class Property:
    """A column: its name, and its types; `of` is None unless it is a list."""

    name: str
    kind: str
    of: str | None = None


@dataclass(frozen=True, slots=True)
class Element:
    """A table of the file."""

    name: str
    count: int
    properties: tuple[Property, ...]

    def scalars_from(self, *names: str) -> int:
        """How many numbers stand before these, which follow one another; lists may come later."""
        found = [p.name for p in self.properties]
        at = found.index(names[0]) if names[0] in found else -1
        if at < 0 or tuple(found[at : at + len(names)]) != names:
            raise MeshError(DAMAGED.format("its corners have no x, y, z"))
        if any(p.of for p in self.properties[:at]):
            raise MeshError(DAMAGED.format("lists stand before its corners' x, y, z"))
        return at

    def list_after(self) -> int:
        """How many numbers stand before the list of a face's corners."""
        for at, one in enumerate(self.properties):
            if one.of:
                return at
        raise MeshError(DAMAGED.format("its faces name no corners"))

    @property
    def least_bytes(self) -> int:
        """Bytes the shortest row takes; an empty list takes its count only."""
        return sum(SIZES[p.kind] for p in self.properties)


@dataclass(frozen=True, slots=True)
class PlyHeader:
    """The form, the tables in order, and where the rows begin."""

    text: bool
    elements: tuple[Element, ...]
    size: int

    def element(self, name: str) -> Element:
        """A table by name."""
        for one in self.elements:
            if one.name == name:
                return one
        raise MeshError("The PLY file holds points but no triangles; a mesh needs at least one.")

    def rows_before(self, name: str | None) -> int:
        """Rows that stand before a table; before None stand all."""
        rows = 0
        for one in self.elements:
            if one.name == name:
                break
            rows += one.count
        return rows


def read_header(data: bytes) -> PlyHeader:
    """The header of a PLY file, refused when the file is too short for what it names.

    Parameters
    ----------
    data : bytes of the whole file
    """
    end = data.find(b"end_header", 0, MOST_HEADER_BYTES)
    line = data.find(b"\n", end) if end >= 0 else -1
    if line < 0:
        raise MeshError(DAMAGED.format("its header has no end"))
    lines = data[:end].decode("ascii", "replace").splitlines()
    form = next((words.split() for words in lines if words.startswith("format ")), [])
    if len(form) != 3 or form[1] not in ("ascii", "binary_little_endian", "binary_big_endian"):
        raise MeshError(DAMAGED.format("it does not say how its rows are written"))
    found = PlyHeader(form[1] == "ascii", tuple(_elements(lines)), line + 1)
    _require_room(found, len(data) - found.size)
    return found


def _elements(lines: list[str]) -> list[Element]:
    found: list[Element] = []
    for line in lines:
        words = line.split()
        if words[:1] == ["element"]:
            if len(words) != 3 or not words[2].isdecimal() or len(words[2]) > 18:
                raise MeshError(DAMAGED.format(f"{line[:60]!r} names no table and count"))
            found.append(Element(words[1], int(words[2]), ()))
        elif words[:1] == ["property"]:
            if not found:
                raise MeshError(DAMAGED.format("a column stands before any table"))
            last = found[-1]
            found[-1] = Element(last.name, last.count, (*last.properties, _property(words)))
    return found


def _property(words: list[str]) -> Property:
    if len(words) == 5 and words[1] == "list" and words[2] in SIZES and words[3] in SIZES:
        return Property(words[4], words[2], words[3])
    if len(words) == 3 and words[1] in SIZES:
        return Property(words[2], words[1])
    raise MeshError(DAMAGED.format(f"{' '.join(words)[:60]!r} is no column"))


def _require_room(header: PlyHeader, room: int) -> None:
    need = 0
    for one in header.elements:
        # in text each number takes a letter and what parts it from the next
        least = 2 * len(one.properties) if header.text else one.least_bytes
        if not least and one.count:
            raise MeshError(DAMAGED.format(f"its table {one.name[:40]!r} has rows but no columns"))
        need += one.count * least
    if need > room + header.text:
        raise MeshError(
            f"The PLY file is cut short: what it names needs {need:,} bytes, and {room:,} follow."
        )
    if header.element("face").count > MOST_FACES:
        raise MeshError(too_many())
