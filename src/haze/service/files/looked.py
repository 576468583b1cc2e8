"""Checks a file before it is imported: reads it with care, and lists what it would add."""

from __future__ import annotations

import re
import time
import uuid
from collections.abc import Sequence
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import IO, Literal

from pydantic import BaseModel, ValidationError

from haze.core.errors import BadFileError
from haze.core.plan.document import Plan
from haze.core.progress import Progress
from haze.formats.archive import Reader
from haze.service.booth.checked import UnknownStepError, require_of_one_plan
from haze.service.files import cards
from haze.service.files.documents import (
    ALLOWED,
    MANIFEST,
    MOST_MANIFEST,
    PICTURE,
    VERSION,
    HazeFile,
    PlanPart,
    SessionPart,
)
from haze.service.forms.records import UnreadableError, reading
from haze.service.forms.wire import holds_nothing
from haze.service.piece.meshes import receive
from haze.service.shelf.paints import PaintOnShelf, key_of
from haze.service.shelf.shelf import paints
from haze.service.work import apart
from haze.store import meshes, plans, sessions, trials
from haze.store.connection import Database, MissingError

LOOKING = apart.Limits(seconds=30.0, room=3 * apart.GIB // 4)
KEPT_S = 3600.0  # a file that was looked at and never taken in
TOKEN = re.compile(r"[0-9a-f]{32}")

PlanState = Literal["new", "same", "other"]


class PlanComing(BaseModel):
    """A plan of the file: new, here already, or here and other; then it comes in as a copy."""

    id: str
    name: str
    piece: str
    copies: int
    coats: int
    state: PlanState


class PaintComing(BaseModel):
    """A paint of the file; `mine` is the one on the shelf it could be, with its name."""

    id: str
    name: str
    maker: str
    masstone: str
    mine: str | None
    mine_name: str | None
    mine_masstone: str | None
    same: bool


class FileLook(BaseModel):
    """What a file holds and what taking it in would add; `token` names it for that."""

    token: str
    made_at: str
    plans: list[PlanComing]
    paints: list[PaintComing]
    trials_new: int
    trials_known: int
    sessions_new: int
    sessions_known: int
    photos_new: int
    cards_new: int
    practice_new: int
    meshes_new: int
    size_bytes: int


def keep(folder: Path, stream: IO[bytes]) -> str:
    """Receive a file to be looked at; its token. Older ones nobody took in are let go."""
    for left in folder.glob("*.haze.part"):
        if time.time() - left.stat().st_mtime > KEPT_S:
            left.unlink(missing_ok=True)
    token = uuid.uuid4().hex
    receive(folder, stream).path.rename(_place(folder, token))
    return token


def _place(folder: Path, token: str) -> Path:
    return folder / f"{token}.haze.part"


def kept(folder: Path, token: str) -> Path:
    """Where a kept file lies; `MissingError` when the token names none."""
    if not TOKEN.fullmatch(token) or not _place(folder, token).exists():
        raise MissingError("This file is not here any more; choose it again.", field="token")
    return _place(folder, token)


def let_go(folder: Path, token: str) -> None:
    """Forget a file that was looked at."""
    with suppress(MissingError):
        kept(folder, token).unlink(missing_ok=True)


def read_apart(path: Path, report: Progress | None = None) -> HazeFile:
    """What a file holds, read in a process of its own; `HazeError` in one sentence.

    Parameters
    ----------
    path : of the archive
    report : called with the share done
    """
    return apart.run(partial(_read_path, path=path), limits=LOOKING, progress=report)


def _read_path(_: Progress, *, path: Path) -> HazeFile:
    with path.open("rb") as file:
        return read(file)


def read(file: IO[bytes]) -> HazeFile:
    """What a file holds; `BadFileError` in one sentence.

    Parameters
    ----------
    file : the archive
    """
    archive = Reader(file, ALLOWED)
    text = archive.read(MANIFEST, most=MOST_MANIFEST)
    if holds_nothing(text.decode("utf-8", "replace")):
        raise BadFileError("The file holds a text with the character 0, which is none.")
    try:
        found = HazeFile.model_validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        if first["loc"][:1] == ("format",) or first["type"] == "json_invalid":
            raise BadFileError("This is no file of Haze that can be read.") from error
        where = ".".join(str(part) for part in first["loc"])
        raise BadFileError(f"The file cannot be read at {where}: {first['msg']}.") from error
    if found.version > VERSION:
        raise BadFileError(
            f"This file was written by a newer Haze (form {found.version}); this one reads form "
            f"{VERSION}. Nothing was changed."
        )
    _require_whole(found, archive)
    return found


def _require_whole(found: HazeFile, archive: Reader) -> None:
    """Everything that is named is there, once, and nothing else."""
    named = [*(m.entry for m in found.meshes), *(p.entry for p in found.pictures)]
    _require_each_once(found, named)
    for name in named:
        if name not in archive.names:
            raise BadFileError(f"The file lacks {name}.")
    for name in sorted(set(archive.names) - {MANIFEST, PICTURE, *named}):
        raise BadFileError(f"The file holds {name}, which its {MANIFEST} does not name.")
    for session in found.sessions:
        _require_known(session)
    _require_owners(found)


def _require_each_once(found: HazeFile, entries: Sequence[str]) -> None:
    """No two parts of a kind have one name."""
    names: dict[str, Sequence[object]] = {
        "meshes or photos": entries,
        "plans": [p.id for p in found.plans],
        "paints": [p.id for p in found.paints],
        "trials": [t.id for t in found.trials],
        "sessions": [s.id for s in found.sessions],
        "cards": [c.number for c in found.cards],
        "practice cards": [p.id for p in found.practice],
    }
    for what, many in names.items():
        if len(set(many)) != len(many):
            raise BadFileError(f"The file names two {what} alike.")


def _require_owners(found: HazeFile) -> None:
    """What belongs to a mesh, a session, a plan or a card comes with it."""
    documents = [p.plan for p in found.plans] + [s.document for s in found.sessions if s.document]
    meshes: set[object] = {m.id for m in found.meshes}
    sessions: set[object] = {s.id for s in found.sessions}
    plans: set[object] = {p.id for p in found.plans}
    cards: set[object] = {None, *(c.number for c in found.cards)}  # a photo may be of no card
    for owners, have, words in (
        ([plan.piece.mesh for plan in documents], meshes, "lacks the mesh of one of its plans"),
        ([p.session for p in found.photos], sessions, "holds a photo of no session"),
        ([p.plan for p in found.piece_photos], plans, "holds a photo of a piece without its plan"),
        ([p.card for p in found.card_photos], cards, "holds a photo of a card that it lacks"),
    ):
        if not have.issuperset(owners):
            raise BadFileError(f"The file {words}.")


def _require_known(session: SessionPart) -> None:
    """The presses of a session are about its plan, and its numbers can be counted with."""
    if session.ended_at < session.began_at:
        raise BadFileError(f"Session {session.id} ends before it begins.")
    if session.log and session.document is None:
        raise BadFileError(f"Session {session.id} has presses, and no plan they are about.")
    try:
        require_of_one_plan(session.log)
    except UnknownStepError as error:
        raise BadFileError(f"In session {session.id}: {error.message}") from error


def look(db: Database, folder: Path, token: str) -> FileLook:
    """What a kept file would add, found in a process of its own; nothing is changed."""
    work = partial(_look, path=kept(folder, token), token=token, database=db.path)
    return apart.run(work, limits=LOOKING)


def _look(_: Progress, *, path: Path, token: str, database: Path) -> FileLook:
    with path.open("rb") as file:
        found = read(file)
    db = Database.beside(database)
    try:
        return _beside(db, found, path, token)
    finally:
        db.close()


def _beside(db: Database, found: HazeFile, path: Path, token: str) -> FileLook:
    tx = db.connection()
    trial_new = [t for t in found.trials if not trials.is_known(tx, t.id)]
    session_new = {s.id for s in found.sessions if not sessions.is_known(tx, s.id)}
    mine = mine_of(db, found)
    coming = [_plan_coming(db, p) for p in found.plans]
    printed = cards.coming(tx, found, {p.id for p in coming if p.state == "other"})
    return FileLook(
        token=token,
        made_at=found.made_at,
        plans=coming,
        paints=[_paint_coming(p, mine.get(p.id)) for p in found.paints],
        trials_new=len(trial_new),
        trials_known=len(found.trials) - len(trial_new),
        sessions_new=len(session_new),
        sessions_known=len(found.sessions) - len(session_new),
        photos_new=sum(p.session in session_new for p in found.photos)
        + len(printed.card_photos)
        + len(printed.piece_photos),
        cards_new=len(printed.cards),
        practice_new=len(printed.practice),
        meshes_new=len([m for m in found.meshes if not has_mesh(db, m.id)]),
        size_bytes=path.stat().st_size,
    )


def has_mesh(db: Database, mesh: str) -> bool:
    """Whether a mesh is here already."""
    try:
        meshes.get(db.connection(), mesh)
    except MissingError:
        return False
    return True


def _plan_coming(db: Database, part: PlanPart) -> PlanComing:
    piece = part.plan.piece
    return PlanComing(
        id=part.id,
        name=part.plan.name,
        piece=piece.name,
        copies=piece.copies,
        coats=len(part.plan.coats),
        state=plan_state(db, part),
    )


def plan_state(db: Database, part: PlanPart) -> PlanState:
    """Whether a plan of the file is here already, as it is there."""
    try:
        have = plans.get(db.connection(), part.id)
    except MissingError:
        return "new"
    try:
        with reading("plan", part.id):
            same = Plan.model_validate_json(have.document) == part.plan
    except UnreadableError:
        same = False
    return "same" if same and have.trashed_at is None else "other"


def mine_of(db: Database, found: HazeFile) -> dict[str, PaintOnShelf]:
    """For each paint of the file the one on the shelf it could be: by identity, else by name."""
    have = paints(db.connection()).views
    by_id = {p.id: p for p in have}
    by_name = {key_of(p.maker, p.name): p for p in have}
    pairs = ((p.id, by_id.get(p.id) or by_name.get(key_of(p.maker, p.name))) for p in found.paints)
    return {identity: paint for identity, paint in pairs if paint is not None}


def _paint_coming(paint: PaintOnShelf, mine: PaintOnShelf | None) -> PaintComing:
    return PaintComing(
        id=paint.id,
        name=paint.name,
        maker=paint.maker,
        masstone=paint.masstone,
        mine=mine.id if mine else None,
        mine_name=mine.name if mine else None,
        mine_masstone=mine.masstone if mine else None,
        same=mine is not None and mine.used == paint.used,
    )
