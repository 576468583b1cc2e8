"""A piece ready for light and spray: a prepared mesh, its parts, and what each vertex sees."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Floats, Ints, Mask, Table, share_bytes
from haze.core.directions import COUNT
from haze.core.light import visibility as seeing
from haze.core.light.parts import PartShape, members_together, part_of_vertices
from haze.core.light.reach import buried
from haze.core.light.stations import ambient
from haze.core.mesh import prepare as meshing
from haze.core.mesh.frame import ShowSide, UpAxis
from haze.core.mesh.mesh import PreparedMesh
from haze.core.onpiece.parts import parts_of, shapes_of
from haze.core.plan.document import Plan
from haze.core.plan.piece import Part, Piece
from haze.service.work.jobs import Report

SEEING = "Working out which sides each point sees"


@dataclass(frozen=True, slots=True)
class ReadyPiece:
    """A prepared mesh, its parts, and what each vertex sees."""

    key: str
    mesh: PreparedMesh
    parts: tuple[Part, ...]
    part: Ints  # (n,) index of the part of each vertex
    spray_groups: tuple[Mask, ...]  # what is sprayed together
    light_groups: tuple[Mask, ...]  # what is lit together
    table: Table  # (directions, n) what spray sees
    light_table: Table  # (directions, n) what light sees; the same array when nothing is tacked
    openness: Floats
    counted: Mask  # False for what cannot be seen when all parts are in place

    @property
    def size(self) -> int:
        """How many vertices it has."""
        return len(self.mesh.vertices)

    @property
    def area(self) -> Floats:
        """(n,) float32 [prepared units²]: surface of each vertex that counts; 0 for the others."""
        return np.where(self.counted, self.mesh.vertex_area, 0).astype(np.float32)

    def nothing(self) -> Floats:
        """(n,) float32: zeros."""
        return np.zeros(self.size, dtype=np.float32)

    def parts_in(self, plan: Plan) -> list[Part]:
        """The parts as a plan names them now; what they are made of is the same."""
        return list(plan.piece.parts or self.parts)


@dataclass(frozen=True, slots=True)
class Stance:
    """All that a prepared mesh depends on: the file by its hash, and how it stands."""

    mesh: str
    up: UpAxis
    show: ShowSide
    turn_deg: float
    algorithm: int = meshing.ALGORITHM

    @classmethod
    def of(cls, piece: Piece) -> Stance:
        """How a piece of a plan stands."""
        return cls(piece.mesh, piece.up, piece.show, round(piece.turn_deg % 360.0, 3))


@dataclass(frozen=True, slots=True)
class PieceStanding:
    """All that a ready piece depends on: its mesh, and which parts stand together."""

    stance: Stance
    parts: tuple[PartShape, ...]
    algorithm: int = seeing.ALGORITHM
    directions: int = COUNT

    @classmethod
    def of(cls, piece: Piece) -> PieceStanding:
        """How a piece of a plan stands, part by part."""
        return cls(Stance.of(piece), tuple(shapes_of(piece.parts)))


@dataclass(frozen=True, slots=True)
class Together:
    """All that a table of what is seen depends on: a mesh, and which vertices stand there."""

    stance: Stance
    members: bytes  # one bit a vertex
    algorithm: int = seeing.ALGORITHM
    directions: int = COUNT

    @classmethod
    def of(cls, stance: Stance, members: Mask) -> Together:
        """Some vertices of a mesh."""
        return cls(stance, np.packbits(members).tobytes())


def digest(value: object) -> str:
    """Hash of a value by its `repr`, for the name of a file and for the browser."""
    return hashlib.sha256(repr(value).encode()).hexdigest()


def key_of(piece: Piece) -> str:
    """Key of a ready piece."""
    return digest(PieceStanding.of(piece))


def _gathered(groups: list[Mask], table_of: Callable[[Mask], Table | None]) -> Table | None:
    """(directions, n) one table from the tables of the groups; None when one is missing."""
    if len(groups) == 1:
        return table_of(groups[0])
    out: Table | None = None
    for members in groups:
        one = table_of(members)
        if one is None:
            return None
        if out is None:
            out = np.zeros((one.shape[0], len(members)), dtype=np.uint8)
        out[:, members] = one
    return out


def assemble(
    key: str, mesh: PreparedMesh, piece: Piece, table_of: Callable[[Mask], Table | None]
) -> ReadyPiece | None:
    parts = parts_of(piece, mesh)
    shapes = shapes_of(parts)
    part = part_of_vertices(mesh, shapes)
    spray_groups = members_together(part, shapes, for_light=False)
    light_groups = members_together(part, shapes, for_light=True)
    table = _gathered(spray_groups, table_of)
    if table is None:
        return None
    apart = any(p.state == "tacked" for p in parts)
    light_table = _gathered(light_groups, table_of) if apart else table
    whole = [np.ones(len(part), dtype=bool)]
    together = table if len(spray_groups) == 1 else _gathered(whole, table_of)
    if light_table is None or together is None:
        return None
    return ReadyPiece(
        key=key,
        mesh=mesh,
        parts=tuple(parts),
        part=part,
        spray_groups=tuple(spray_groups),
        light_groups=tuple(light_groups),
        table=table,
        light_table=light_table,
        openness=ambient(table),
        counted=~buried(together),
    )


def piece_from(mesh: PreparedMesh, piece: Piece, *, report: Report | None = None) -> ReadyPiece:
    """A ready piece without a cache, as the command line and tests need it."""
    made = assemble(
        "",
        mesh,
        piece,
        lambda members: seeing.visibility_table(
            mesh,
            members=members,
            progress=(lambda done: report(done, SEEING)) if report else None,
        ),
    )
    assert made is not None
    return made


def geometry_bytes(piece: ReadyPiece) -> bytes:
    """The piece for the browser, little endian.

    uint32 vertices n, uint32 faces m; float32 (n, 3) positions; int8 (n, 4) normals × 127;
    uint8 (n) openness × 255, padded to four; uint8 (n) part, padded to four; uint32 (m, 3) corners.
    """
    return _packed(piece.mesh, share_bytes(piece.openness), piece.part.astype(np.uint8))


def plain_bytes(mesh: PreparedMesh) -> bytes:
    """A surface of which nothing is known yet, as `geometry_bytes` packs it: open and in one part.

    Parameters
    ----------
    mesh : prepared
    """
    n = len(mesh.vertices)
    return _packed(mesh, np.full(n, 255, dtype=np.uint8), np.zeros(n, dtype=np.uint8))


def _packed(m: PreparedMesh, openness: NDArray[np.uint8], part: NDArray[np.uint8]) -> bytes:
    n = len(m.vertices)
    normals = np.zeros((n, 4), dtype=np.int8)
    normals[:, :3] = np.round(m.normals * 127)
    pad = b"\0" * (-n % 4)
    return b"".join(
        (
            np.array([n, len(m.faces)], dtype="<u4").tobytes(),
            m.vertices.astype("<f4").tobytes(),
            normals.tobytes(),
            openness.tobytes() + pad,
            part.tobytes() + pad,
            m.faces.astype("<u4").tobytes(),
        )
    )
