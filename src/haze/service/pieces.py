"""Pieces ready for light: a mesh prepared one way up, with its visibility, cached by content."""

from __future__ import annotations

import hashlib
import os
import tempfile
import threading
from collections import OrderedDict
from dataclasses import dataclass
from pathlib import Path
from zipfile import BadZipFile

import numpy as np
from numpy.typing import NDArray

from haze.core.light import mesh as meshing
from haze.core.light import visibility as seeing
from haze.core.light.directions import COUNT
from haze.core.light.mesh import PreparedMesh, prepare
from haze.core.light.reach import buried, reachable, share
from haze.core.light.stations import ambient
from haze.core.plan.document import Piece
from haze.formats.meshes import read_mesh
from haze.service.jobs import Report
from haze.store import meshes
from haze.store.connection import Database

Floats = NDArray[np.float32]
KEPT_PIECES = 6


@dataclass(frozen=True, slots=True)
class ReadyPiece:
    """A prepared mesh and what each vertex sees."""

    key: str
    mesh: PreparedMesh
    table: NDArray[np.uint8]
    openness: Floats
    counted: NDArray[np.bool_]  # False for buried vertices
    reachable_share: float


def piece_key(mesh: str, *, up: str, show: str, turn_deg: float) -> str:
    """Hash of all that the prepared piece and its visibility depend on."""
    what = f"{mesh} {up} {show} {turn_deg % 360:.3f} {meshing.ALGORITHM} {seeing.ALGORITHM} {COUNT}"
    return hashlib.sha256(what.encode()).hexdigest()


def key_of(piece: Piece) -> str:
    """Cache key of a plan's piece."""
    return piece_key(piece.mesh, up=piece.up, show=piece.show, turn_deg=piece.turn_deg)


class Pieces:
    """Ready pieces in memory, over a cache folder that may be deleted at any time."""

    def __init__(self, db: Database, folder: Path) -> None:
        self._db = db
        self._folder = folder
        self._held: OrderedDict[str, ReadyPiece] = OrderedDict()
        self._lock = threading.Lock()

    def _path(self, key: str) -> Path:
        return self._folder / f"{key}.npz"

    def ready(self, key: str) -> ReadyPiece | None:
        """The piece when it is worked out already, else None."""
        with self._lock:
            held = self._held.get(key)
            if held is not None:
                self._held.move_to_end(key)
                return held
        loaded = self._load(key)
        if loaded is not None:
            self._hold(loaded)
        return loaded

    def known(self, key: str) -> bool:
        """Whether the piece is worked out, in memory or in the cache folder."""
        return key in self._held or self._path(key).exists()

    def _hold(self, piece: ReadyPiece) -> None:
        with self._lock:
            self._held[piece.key] = piece
            while len(self._held) > KEPT_PIECES:
                self._held.popitem(last=False)

    def make(self, mesh: str, *, up: str, show: str, turn_deg: float, report: Report) -> ReadyPiece:
        """Prepare a stored mesh and work out its visibility; `report` is told and may cancel."""
        key = piece_key(mesh, up=up, show=show, turn_deg=turn_deg)
        have = self.ready(key)
        if have is not None:
            return have
        report(0.02, "Reading the mesh")
        data, name = meshes.data_of(self._db.connection(), mesh)
        _, raw = read_mesh(data, name=name)
        report(0.08, "Preparing the surface")
        prepared = prepare(raw, up=up, show=show, turn_deg=turn_deg)
        doing = "Working out which sides each point sees"
        table = seeing.visibility_table(
            prepared, progress=lambda done: report(0.25 + 0.72 * done, doing)
        )
        piece = ready_piece(key, prepared, table)
        self._save(piece)
        self._hold(piece)
        return piece

    def _save(self, piece: ReadyPiece) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        m = piece.mesh
        handle, name = tempfile.mkstemp(dir=self._folder, suffix=".part")
        try:
            with os.fdopen(handle, "wb") as file:
                np.savez(
                    file,
                    vertices=m.vertices,
                    faces=m.faces,
                    normals=m.normals,
                    vertex_area=m.vertex_area,
                    numbers=np.array([m.height, m.raw_area]),
                    table=piece.table,
                )
            os.replace(name, self._path(piece.key))
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise

    def _load(self, key: str) -> ReadyPiece | None:
        path = self._path(key)
        if not path.exists():
            return None
        try:
            with np.load(path) as file:
                height, area = (float(v) for v in file["numbers"])
                prepared = PreparedMesh(
                    file["vertices"],
                    file["faces"],
                    file["normals"],
                    file["vertex_area"],
                    height,
                    area,
                )
                return ready_piece(key, prepared, file["table"])
        except (OSError, ValueError, KeyError, EOFError, BadZipFile):
            path.unlink(missing_ok=True)  # a damaged cache file is worked out again
            return None


def ready_piece(key: str, prepared: PreparedMesh, table: NDArray[np.uint8]) -> ReadyPiece:
    """A piece with the sums that every screen needs."""
    counted = ~buried(table)
    return ReadyPiece(
        key=key,
        mesh=prepared,
        table=table,
        openness=ambient(table),
        counted=counted,
        reachable_share=share(reachable(table), area=prepared.vertex_area, counted=counted),
    )


def geometry_bytes(piece: ReadyPiece) -> bytes:
    """The piece for the browser, little endian.

    uint32 vertices n, uint32 faces m; float32 (n, 3) positions; int8 (n, 4) normals × 127;
    uint8 (n) openness × 255, padded to four; uint32 (m, 3) corners.
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
            m.faces.astype("<u4").tobytes(),
        )
    )
