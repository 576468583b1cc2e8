"""Pieces ready for light: a mesh prepared one way up, with what each point sees, cached by content.

Preparation depends on the mesh and how it stands; what is seen depends on which parts stand
together. Each is cached on its own, so that taking a part off and putting it back costs once.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from pathlib import Path
from zipfile import BadZipFile

import numpy as np

from haze.core.arrays import Mask, Table
from haze.core.directions import COUNT
from haze.core.light import visibility as seeing
from haze.core.mesh.detail import FINE, Detail
from haze.core.mesh.mesh import PreparedMesh
from haze.core.plan.piece import Piece
from haze.core.progress import tell
from haze.service.piece.files import prune, used, write_whole
from haze.service.piece.meshes import READ, stand
from haze.service.piece.ready import SEEING, ReadyPiece, Stance, Together, assemble, digest, key_of
from haze.service.work.apart import HEARD_EVERY_S, STOPPED
from haze.service.work.jobs import Report
from haze.service.work.memo import Memo
from haze.store.connection import Database

KEPT_PIECES = 6
MOST_CACHE_BYTES = 2 * 2**30


class PieceCache:
    """Ready pieces in memory, over a cache folder that may be deleted at any time."""

    def __init__(
        self,
        db: Database,
        folder: Path,
        *,
        detail: Detail = FINE,
        waiting: Callable[[], AbstractContextManager[None]] = nullcontext,
    ) -> None:
        """Pieces of one detail in one folder.

        `waiting` is held while somebody waits for a piece that another makes.
        """
        self._db = db
        self.folder = folder
        self._detail = detail
        self._waiting = waiting
        self._held: Memo[str, ReadyPiece] = Memo(KEPT_PIECES)
        self._plain: Memo[str, PreparedMesh] = Memo(1)  # while what it sees is worked out
        self._made_now: dict[str, threading.Lock] = {}
        self._lock = threading.Lock()

    def key(self, standing: str) -> str:
        """Key of the piece here; `standing` is its key whatever the detail (`key_of`)."""
        if self._detail == FINE:
            return standing
        return digest((standing, self._detail))

    def plain(self, key: str) -> PreparedMesh | None:
        """The surface of the piece that is being worked out, once it is prepared."""
        return self._plain.find(key)

    def held(self, key: str) -> ReadyPiece | None:
        """The piece when it is in memory, else None."""
        return self._held.find(key)

    def ready(self, piece: Piece) -> ReadyPiece | None:
        """The piece when it is worked out already, in memory or in the cache folder, else None."""
        key = self.key(key_of(piece))
        found = self.held(key)
        if found is not None:
            return found
        stance = Stance.of(piece)
        mesh = self._load_mesh(stance) if self._path(key, "ready").exists() else None
        if mesh is None:
            return None
        loaded = assemble(key, mesh, piece, lambda members: self._load_table(stance, members))
        if loaded is not None:
            self._hold(loaded)
        return loaded

    def known(self, standing: str) -> bool:
        """Whether the piece was worked out, in memory or in the cache folder."""
        key = self.key(standing)
        return key in self._held or self._path(key, "ready").exists()

    def make(self, piece: Piece, report: Report) -> ReadyPiece:
        """Prepare a stored mesh and work out what it sees; `report` is called and may cancel.

        Who asks for a piece that is made just now waits for it: none is made twice at once.
        """
        with self._alone(key_of(piece), report):
            return self.ready(piece) or self._make(piece, report)

    @contextmanager
    def _alone(self, key: str, report: Report) -> Iterator[None]:
        with self._lock:
            mine = self._made_now.setdefault(key, threading.Lock())
        if not mine.acquire(blocking=False):
            with self._waiting():
                while not mine.acquire(timeout=HEARD_EVERY_S):
                    tell(lambda done: report(done, SEEING), 0.0, STOPPED)
        try:
            yield
        finally:
            mine.release()

    def _make(self, piece: Piece, report: Report) -> ReadyPiece:
        stance, key = Stance.of(piece), self.key(key_of(piece))
        mesh = self.surface(stance, report)
        self._plain.put(key, mesh)
        report(0.3, SEEING)
        started = [0]

        def table(members: Mask) -> Table:
            loaded = self._load_table(stance, members)
            if loaded is not None:
                return loaded
            share, begun = float(members.mean()), 0.3 + 0.68 * min(started[0] / 2, 0.5)
            made = seeing.visibility_table(
                mesh,
                members=members,
                progress=lambda done: report(begun + 0.68 * share * done, SEEING),
            )
            started[0] += 1
            self._save_table(stance, members, made)
            return made

        made = assemble(key, mesh, piece, table)
        assert made is not None
        write_whole(self._path(key, "ready"), lambda file: file.write(b"ready"))
        self._hold(made)
        self.prune()
        return made

    def surface(self, stance: Stance, report: Report) -> PreparedMesh:
        """A mesh prepared the way it stands, from the cache folder when it is there."""
        return self._load_mesh(stance) or self._prepare(stance, report)

    def standing(self, stance: Stance) -> PreparedMesh | None:
        """The same when it is there already, else None."""
        return self._load_mesh(stance)

    def prune(self) -> None:
        """Let go of what was used longest ago, when the folder is over its size."""
        prune(self.folder, MOST_CACHE_BYTES)

    def _prepare(self, stance: Stance, report: Report) -> PreparedMesh:
        def step(done: float) -> bool:
            doing = "Reading the mesh" if done < READ else "Preparing the surface"
            return report(0.02 + 0.28 * done, doing)

        made = stand(self._db, stance, self.folder, step, detail=self._detail)
        self._save_mesh(stance, made)
        return made

    def _hold(self, piece: ReadyPiece) -> None:
        self._held.put(piece.key, piece)

    def _path(self, key: str, ending: str) -> Path:
        return self.folder / f"{key}.{ending}"

    def _save_table(self, stance: Stance, members: Mask, table: Table) -> None:
        path = self._path(digest(Together.of(stance, members)), "npy")
        write_whole(path, lambda file: np.save(file, table))

    def _load_table(self, stance: Stance, members: Mask) -> Table | None:
        path = self._path(digest(Together.of(stance, members)), "npy")
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
        used(path)
        return table

    def _save_mesh(self, stance: Stance, m: PreparedMesh) -> None:
        write_whole(
            self._path(digest(stance), "npz"),
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

    def _load_mesh(self, stance: Stance) -> PreparedMesh | None:
        path = self._path(digest(stance), "npz")
        if not path.exists():
            return None
        used(path)
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
