"""Pieces ready for light: a mesh prepared one way up, with what each point sees, cached by content.

Preparation depends on the mesh and how it stands; what is seen depends on which parts stand
together. Each is cached on its own, so that taking a part off and putting it back costs once.
"""

from __future__ import annotations

import hashlib
import os
import tempfile
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO
from zipfile import BadZipFile

import numpy as np
from numpy.typing import NDArray

from haze.core.light import mesh as meshing
from haze.core.light import visibility as seeing
from haze.core.light.directions import COUNT
from haze.core.light.mesh import PreparedMesh, prepare
from haze.core.light.parts import members_together, part_of_vertices
from haze.core.light.reach import buried
from haze.core.light.stations import ambient
from haze.core.plan.document import Part, Piece, Plan
from haze.core.plan.parts import parts_of, shapes_of
from haze.formats.meshes import read_mesh
from haze.service.jobs import Report
from haze.store import meshes
from haze.store.connection import Database

Floats = NDArray[np.float32]
Table = NDArray[np.uint8]
Mask = NDArray[np.bool_]
KEPT_PIECES = 6
SEEING = "Working out which sides each point sees"


@dataclass(frozen=True, slots=True)
class ReadyPiece:
    """A prepared mesh, its parts, and what each vertex sees."""

    key: str
    mesh: PreparedMesh
    parts: tuple[Part, ...]
    part: NDArray[np.int32]  # (n,) index of the part of each vertex
    spray_groups: tuple[Mask, ...]  # what is sprayed together
    light_groups: tuple[Mask, ...]  # what is lit together
    table: Table  # (directions, n) what spray sees
    light_table: Table  # (directions, n) what light sees; the same array when nothing is tacked
    openness: Floats
    counted: Mask  # False for what cannot be seen when all parts are in place

    def parts_in(self, plan: Plan) -> list[Part]:
        """The parts as a plan names them now; what they are made of is the same."""
        return list(plan.piece.parts or self.parts)


def base_key(piece: Piece) -> str:
    """Hash of all that the prepared mesh depends on."""
    what = f"{piece.mesh} {piece.up} {piece.show} {piece.turn_deg % 360:.3f} {meshing.ALGORITHM}"
    return hashlib.sha256(what.encode()).hexdigest()


def key_of(piece: Piece) -> str:
    """Hash of all that a ready piece depends on: its mesh, how it stands, what stands together."""
    parts = "|".join(
        f"{p.bodies} {[c.model_dump() for c in p.cuts]} {p.state}" for p in piece.parts
    )
    what = f"{base_key(piece)} {parts} {seeing.ALGORITHM} {COUNT}"
    return hashlib.sha256(what.encode()).hexdigest()


def _group_key(base: str, members: Mask) -> str:
    packed = np.packbits(members).tobytes()
    return hashlib.sha256(f"{base} {seeing.ALGORITHM} {COUNT} ".encode() + packed).hexdigest()


class Pieces:
    """Ready pieces in memory, over a cache folder that may be deleted at any time."""

    def __init__(self, db: Database, folder: Path) -> None:
        self._db = db
        self._folder = folder
        self._held: OrderedDict[str, ReadyPiece] = OrderedDict()
        self._lock = threading.Lock()

    def held(self, key: str) -> ReadyPiece | None:
        """The piece when it is in memory, else None."""
        with self._lock:
            found = self._held.get(key)
            if found is not None:
                self._held.move_to_end(key)
            return found

    def ready(self, piece: Piece) -> ReadyPiece | None:
        """The piece when it is worked out already, in memory or in the cache folder, else None."""
        key = key_of(piece)
        found = self.held(key)
        if found is not None:
            return found
        base = base_key(piece)
        mesh = self._load_mesh(base) if self._path(key, "ready").exists() else None
        if mesh is None:
            return None
        loaded = _assemble(key, mesh, piece, lambda members: self._load_table(base, members))
        if loaded is not None:
            self._hold(loaded)
        return loaded

    def known(self, key: str) -> bool:
        """Whether the piece was worked out, in memory or in the cache folder."""
        return key in self._held or self._path(key, "ready").exists()

    def make(self, piece: Piece, report: Report) -> ReadyPiece:
        """Prepare a stored mesh and work out what it sees; `report` is told and may cancel."""
        have = self.ready(piece)
        if have is not None:
            return have
        base, key = base_key(piece), key_of(piece)
        mesh = self._load_mesh(base) or self._prepare(piece, base, report)
        report(0.3, SEEING)
        started = [0]

        def table(members: Mask) -> Table:
            loaded = self._load_table(base, members)
            if loaded is not None:
                return loaded
            share, begun = float(members.mean()), 0.3 + 0.68 * min(started[0] / 2, 0.5)
            made = seeing.visibility_table(
                mesh,
                members=members,
                progress=lambda done: report(begun + 0.68 * share * done, SEEING),
            )
            started[0] += 1
            self._save_table(base, members, made)
            return made

        made = _assemble(key, mesh, piece, table)
        assert made is not None
        self._write(self._path(key, "ready"), lambda file: file.write(b"ready"))
        self._hold(made)
        return made

    def _prepare(self, piece: Piece, base: str, report: Report) -> PreparedMesh:
        report(0.02, "Reading the mesh")
        data, name = meshes.data_of(self._db.connection(), piece.mesh)
        _, raw = read_mesh(data, name=name)
        doing = "Preparing the surface"
        report(0.05, doing)
        made = prepare(
            raw,
            up=piece.up,
            show=piece.show,
            turn_deg=piece.turn_deg,
            progress=lambda done: report(0.05 + 0.25 * done, doing),
        )
        self._save_mesh(base, made)
        return made

    def _hold(self, piece: ReadyPiece) -> None:
        with self._lock:
            self._held[piece.key] = piece
            while len(self._held) > KEPT_PIECES:
                self._held.popitem(last=False)

    def _path(self, key: str, ending: str) -> Path:
        return self._folder / f"{key}.{ending}"

    def _write(self, path: Path, fill: Callable[[BinaryIO], object]) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=self._folder, suffix=".part")
        try:
            with os.fdopen(handle, "wb") as file:
                fill(file)
            os.replace(name, path)
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise

    def _save_table(self, base: str, members: Mask, table: Table) -> None:
        path = self._path(_group_key(base, members), "npy")
        self._write(path, lambda file: np.save(file, table))

    def _load_table(self, base: str, members: Mask) -> Table | None:
        path = self._path(_group_key(base, members), "npy")
        try:
            table: Table = np.load(path)
        except FileNotFoundError:
            return None
        except (OSError, ValueError, EOFError):
            path.unlink(missing_ok=True)  # a damaged cache file is worked out again
            return None
        if table.shape != (COUNT, int(members.sum())):
            path.unlink(missing_ok=True)
            return None
        return table

    def _save_mesh(self, base: str, m: PreparedMesh) -> None:
        self._write(
            self._path(base, "npz"),
            lambda file: np.savez(
                file,
                vertices=m.vertices,
                faces=m.faces,
                normals=m.normals,
                vertex_area=m.vertex_area,
                body=m.body,
                numbers=np.array([m.height, m.raw_area]),
                frame=m.frame,
            ),
        )

    def _load_mesh(self, base: str) -> PreparedMesh | None:
        path = self._path(base, "npz")
        if not path.exists():
            return None
        try:
            with np.load(path) as file:
                height, area = (float(v) for v in file["numbers"])
                return PreparedMesh(
                    vertices=file["vertices"],
                    faces=file["faces"],
                    normals=file["normals"],
                    vertex_area=file["vertex_area"],
                    body=file["body"],
                    height=height,
                    raw_area=area,
                    frame=file["frame"],
                )
        except (OSError, ValueError, KeyError, EOFError, BadZipFile):
            path.unlink(missing_ok=True)  # a damaged cache file is worked out again
            return None


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


def _assemble(
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
    made = _assemble(
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
    m = piece.mesh
    n = len(m.vertices)
    normals = np.zeros((n, 4), dtype=np.int8)
    normals[:, :3] = np.round(m.normals * 127)
    openness = np.round(np.clip(piece.openness, 0, 1) * 255).astype(np.uint8)
    pad = b"\0" * (-n % 4)
    return b"".join(
        (
            np.array([n, len(m.faces)], dtype="<u4").tobytes(),
            m.vertices.astype("<f4").tobytes(),
            normals.tobytes(),
            openness.tobytes() + pad,
            piece.part.astype(np.uint8).tobytes() + pad,
            m.faces.astype("<u4").tobytes(),
        )
    )
