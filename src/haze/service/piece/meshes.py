"""Mesh files brought in: received, checked in a process of its own, kept as they came."""

from __future__ import annotations

import hashlib
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from functools import partial
from pathlib import Path
from typing import IO

from pydantic import BaseModel

from haze.core.mesh.detail import FINE, Detail
from haze.core.mesh.frame import UpAxis
from haze.core.mesh.guess import GuessedStand, stands
from haze.core.mesh.mesh import PreparedMesh, RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.progress import Progress
from haze.formats.meshes import MeshFormat, read_mesh
from haze.service.forms.records import Unreadable, readable
from haze.service.piece.ready import Stance
from haze.service.work import apart
from haze.service.work.jobs import Report, share_of
from haze.store import meshes
from haze.store.connection import Database
from haze.store.meshes import MeshRow

BLOCK_BYTES = 2**20
USUAL_UP: dict[MeshFormat, UpAxis] = {"glb": "y"}
READ = 0.4  # share of making a mesh ready that reading it takes; preparing its surface the rest


class MeshView(BaseModel):
    """A stored mesh."""

    id: str
    name: str
    format: MeshFormat
    size_bytes: int
    faces: int


class MeshTaken(MeshView):
    """A mesh that was just brought in, and how it most likely stands."""

    up: UpAxis
    height_mm: float
    unit: str


@dataclass(frozen=True, slots=True)
class MeshFacts:
    """What reading a mesh file found."""

    format: MeshFormat
    faces: int
    stands: GuessedStand


@dataclass(frozen=True, slots=True)
class Received:
    """A file as it came: where it lies, and its digest."""

    path: Path
    digest: str


def named_mesh(row: MeshRow) -> Unreadable:
    """What can be said of a mesh without reading it."""
    return Unreadable(kind="mesh", id=row.id, name=row.name, at=row.created_at)


def view(row: MeshRow) -> MeshView:
    """A stored mesh for the screen."""
    return MeshView(
        id=row.id, name=row.name, format=row.format, size_bytes=row.size_bytes, faces=row.faces
    )


def every(db: Database) -> list[MeshView]:
    """All stored meshes."""
    return readable(meshes.every(db.connection()), view, named_mesh).views


def require(db: Database, identity: str) -> None:
    """`MissingError` unless the mesh is stored."""
    meshes.get(db.connection(), identity)


def opened(db: Database, identity: str) -> IO[bytes]:
    """The original file, to be read; it closes itself when it is let go."""
    file = tempfile.TemporaryFile()  # noqa: SIM115
    try:
        meshes.write_out(db.connection(), identity, file)
    except BaseException:
        file.close()
        raise
    file.seek(0)
    return file


def receive(folder: Path, stream: IO[bytes]) -> Received:
    """A file written down as it arrives, a block at a time."""
    folder.mkdir(parents=True, exist_ok=True)
    digest = hashlib.sha256()
    with tempfile.NamedTemporaryFile(dir=folder, suffix=".part", delete=False) as file:
        try:
            while block := stream.read(BLOCK_BYTES):
                digest.update(block)
                file.write(block)
        except BaseException:
            Path(file.name).unlink(missing_ok=True)
            raise
    return Received(Path(file.name), digest.hexdigest())


def take_in(db: Database, received: Received, *, name: str, report: Report) -> MeshTaken:
    """Check a received file and keep it; nothing is stored when it cannot be used."""
    facts = apart.run(
        partial(read_facts, path=received.path, name=name),
        limits=apart.READING,
        progress=share_of(report, "Reading the mesh"),
    )
    report(1.0, "Keeping the mesh")
    with received.path.open("rb") as file:
        kept = _keep(db, received.digest, name=name, facts=facts, file=file)
    return MeshTaken(**kept.model_dump(), **asdict(facts.stands))


def read_facts(progress: Progress, *, path: Path, name: str) -> MeshFacts:
    """What a mesh file holds."""
    form, raw = read_mesh(path.read_bytes(), name=name, progress=progress)
    return _facts(form, raw)


def _facts(form: MeshFormat, raw: RawMesh) -> MeshFacts:
    return MeshFacts(form, len(raw.faces), stands(raw, usual=USUAL_UP.get(form, "z")))


def add_mesh(db: Database, data: bytes, *, name: str) -> MeshView:
    """Check a mesh of our own and keep it."""
    form, raw = read_mesh(data, name=name)
    with tempfile.TemporaryFile() as file:
        file.write(data)
        file.seek(0)
        facts = _facts(form, raw)
        return _keep(db, hashlib.sha256(data).hexdigest(), name=name, facts=facts, file=file)


def _keep(db: Database, digest: str, *, name: str, facts: MeshFacts, file: IO[bytes]) -> MeshView:
    with db.atomic() as tx:
        row = meshes.add(
            tx,
            identity=digest,
            name="".join(c for c in name if c.isprintable()).strip()[:200] or "mesh",
            form=facts.format,
            faces=facts.faces,
            file=file,
        )
    return view(row)


@contextmanager
def written_out(db: Database, identity: str, folder: Path) -> Iterator[tuple[Path, str]]:
    """A stored mesh as a file for a while, and its name."""
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=folder, suffix=".part") as file:
        name = meshes.write_out(db.connection(), identity, file)
        file.flush()
        yield Path(file.name), name


def stand(
    db: Database, stance: Stance, folder: Path, progress: Progress, *, detail: Detail = FINE
) -> PreparedMesh:
    """A stored mesh prepared the way it stands."""
    with written_out(db, stance.mesh, folder) as (path, name):
        return apart.run(
            partial(read_and_prepare, path=path, name=name, stance=stance, detail=detail),
            limits=apart.PREPARING,
            progress=progress,
        )


def read_and_prepare(
    progress: Progress, *, path: Path, name: str, stance: Stance, detail: Detail = FINE
) -> PreparedMesh:
    """A mesh file prepared the way it stands."""
    _, raw = read_mesh(path.read_bytes(), name=name, progress=lambda done: progress(READ * done))
    return prepare(
        raw,
        up=stance.up,
        show=stance.show,
        turn_deg=stance.turn_deg,
        detail=detail,
        progress=lambda done: progress(READ + (1 - READ) * done),
    )
