"""Looking after the data folder: backup, check, and how large it is."""

from __future__ import annotations

import hashlib
import sqlite3
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path
from typing import IO

from pydantic import BaseModel, ValidationError

from haze.core.errors import BadInputError
from haze.core.plan.document import Plan
from haze.store import cards, checking, meshes, photos, piece_photos, plans, sessions
from haze.store import settings as stored
from haze.store.connection import Database, now
from haze.store.troubles import StoreError

BACKED_UP = "backed_up_at"
REMIND_AFTER = timedelta(days=31)
PHOTOS = (photos, cards, piece_photos)  # where photos are kept


class CheckOut(BaseModel):
    """What a look at everything found; `faults` are sentences, none when all is well."""

    ok: bool
    plans: int
    revisions: int
    meshes: int
    sessions: int
    trials: int
    photos: int
    size_bytes: int
    faults: list[str]


class DataView(BaseModel):
    """Where data lies, how large it is [bytes], and when it was last backed up."""

    folder: str
    database_bytes: int
    cache_bytes: int
    photos: int
    photo_bytes: int
    backed_up_at: str | None
    remind: bool


def backup_to(db: Database, target: Path) -> int:
    """Write one consistent copy of the database while it is in use; its size [bytes].

    Raises
    ------
    BadInputError : when the target is a folder, or the database itself
    """
    if target.is_dir():
        raise BadInputError(f"{target} is a folder; give the name of a file.")
    if target.exists() and target.samefile(db.path):
        raise BadInputError(f"{target} is the database itself; give another file.")
    db.backup(target)
    _note(db)
    return target.stat().st_size


def backup(db: Database, folder: Path) -> IO[bytes]:
    """One consistent copy as a file that vanishes when it is let go."""
    with tempfile.TemporaryDirectory(dir=folder, suffix=".part") as room:
        target = Path(room) / "backup"
        db.backup(target)
        file = target.open("rb")
    _note(db)
    return file


def _note(db: Database) -> None:
    with db.atomic() as tx:
        stored.put(tx, BACKED_UP, now())


def backup_due(db: Database) -> bool:
    """Whether there is something to lose, and it was not backed up for a month."""
    tx = db.connection()
    since = stored.every(tx).get(BACKED_UP) or plans.oldest(tx)
    if since is None:
        return False
    try:
        return datetime.now(UTC) - datetime.fromisoformat(since) > REMIND_AFTER
    except (ValueError, TypeError):  # a moment that cannot be read says nothing of a backup
        return True


def data_view(db: Database, folder: Path) -> DataView:
    """Where data lies, how large it is, and whether a backup is due."""
    tx = db.connection()
    last = stored.every(tx).get(BACKED_UP)
    count, size = map(sum, zip(*(kept.size(tx) for kept in PHOTOS), strict=True))
    return DataView(
        folder=str(folder),
        database_bytes=_size_of(db.path),
        cache_bytes=sum(f.stat().st_size for f in folder.glob("cache*/*") if f.is_file()),
        photos=count,
        photo_bytes=size,
        backed_up_at=last,
        remind=backup_due(db),
    )


def _size_of(path: Path) -> int:
    return sum(f.stat().st_size for f in path.parent.glob(f"{path.name}*") if f.is_file())


def check(path: Path) -> CheckOut:
    """Look at everything a database holds; nothing is changed.

    Parameters
    ----------
    path : of the database, or of a backup of one
    """
    faults: list[str] = []
    counts: dict[str, int] = {}
    try:
        with checking.read_only(path) as db:
            for look in (_pages, _references, _documents, _meshes, _photos):
                faults.extend(look(db))
            counts = checking.counts(db)
    except StoreError as error:
        faults.append(str(error))
    except sqlite3.DatabaseError as error:
        faults.append(f"The database is damaged: {error}.")
    return CheckOut(
        ok=not faults,
        plans=counts.get("plan", 0),
        revisions=counts.get("revision", 0),
        meshes=counts.get("mesh", 0),
        sessions=counts.get("session", 0),
        trials=counts.get("trial", 0),
        photos=sum(counts.get(table, 0) for table in ("photo", "card_photo", "piece_photo")),
        size_bytes=_size_of(path),
        faults=faults,
    )


def _pages(db: sqlite3.Connection) -> Iterator[str]:
    yield from (f"The database is damaged: {one}." for one in checking.pages(db))


def _references(db: sqlite3.Connection) -> Iterator[str]:
    for table, of in checking.references(db):
        yield f"A row of {table} refers to one of {of} that is not there."


def _documents(db: sqlite3.Connection) -> Iterator[str]:
    for plan, number, document in checking.documents(db):
        if not _is_plan(document):
            yield f"Revision {number} of plan {plan} is damaged."
    for session in sessions.every(db):
        if session.document is not None and not _is_plan(session.document):
            yield f"The plan of session {session.name} is damaged."


def _is_plan(document: str) -> bool:
    try:
        Plan.model_validate_json(document)
    except ValidationError:
        return False
    return True


def _meshes(db: sqlite3.Connection) -> Iterator[str]:
    for mesh in meshes.every(db):
        with tempfile.TemporaryFile() as file:
            meshes.write_out(db, mesh.id, file)
            file.seek(0)
            if hashlib.file_digest(file, "sha256").hexdigest() != mesh.id:
                yield f"Mesh {mesh.name} is damaged."


def _photos(db: sqlite3.Connection) -> Iterator[str]:
    kept = (
        (photo, read(db, photo.id))
        for every, read in (
            (photos.every, partial(photos.read, small=False)),
            (cards.every_photo, cards.photo_data),
            (piece_photos.every, piece_photos.data),
        )
        for photo in every(db)
    )
    for photo, data in kept:
        if hashlib.sha256(data).hexdigest() != photo.hash:
            yield f"Photo {photo.id} is damaged."
