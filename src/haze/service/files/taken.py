"""Taking files in: read with care, told what they would add, then all of it or nothing.

Nothing that is there is overwritten. A plan of the same identity that differs comes in as one of
its own; a paint that is on the shelf under another identity is the painter's to choose.
"""

from __future__ import annotations

import hashlib
import re
import tempfile
import time
import uuid
from collections.abc import Mapping
from contextlib import ExitStack
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from sqlite3 import Connection as Tx
from typing import IO, Annotated, Literal

from pydantic import BaseModel, Field, ValidationError

from haze.core.errors import BadFileError
from haze.core.plan.base import MOST_NAME
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.formats.archive import MOST_BYTES as MOST_FILE_BYTES
from haze.formats.archive import Reader
from haze.formats.meshes import MOST_BYTES as MOST_MESH_BYTES
from haze.service import apart
from haze.service.files.documents import (
    ALLOWED,
    MANIFEST,
    MOST_MANIFEST,
    MOST_PHOTO,
    VERSION,
    HazeFile,
    MeshPart,
    PlanPart,
    SessionPart,
    TrialPart,
)
from haze.service.jobs import Report, share_of
from haze.service.notebook.photos import Sized, sized
from haze.service.piece.meshes import MeshFacts, read_facts
from haze.service.shelf.paints import PaintOnShelf, key_of, paint_of, row_of
from haze.service.shelf.shelf import step
from haze.service.wire import Strict
from haze.store import meshes, photos, plans, sessions, shelf, trials
from haze.store.connection import Database, MissingError
from haze.store.photos import PhotoRow
from haze.store.sessions import SessionRow
from haze.store.shelf import AirbrushRow, ThinnerRow
from haze.store.trials import TrialRow, Whose

FROM_FILE = ", from a file"
KEPT_S = 3600.0  # a file that was looked at and never taken in
TOKEN = re.compile(r"[0-9a-f]{32}")

PlanState = Literal["new", "same", "other"]
PaintChoice = Literal["mine", "add"]


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
    meshes_new: int
    size_bytes: int


class TakeBody(Strict):
    """Take a file in that was looked at; for each paint: mine, or add it. Mine where there is one
    and nothing is said."""

    token: Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")]
    paints: dict[str, PaintChoice] = Field(default={}, max_length=5000)


class TakenIn(BaseModel):
    """What was added; `plan` is the first of its plans as it is called here."""

    plans: int
    paints: int
    trials: int
    sessions: int
    photos: int
    plan: str | None


def keep(folder: Path, stream: IO[bytes]) -> str:
    """Receive a file to be looked at; its token. Older ones nobody took in are let go."""
    folder.mkdir(parents=True, exist_ok=True)
    for left in folder.glob("*.haze.part"):
        if time.time() - left.stat().st_mtime > KEPT_S:
            left.unlink(missing_ok=True)
    token = uuid.uuid4().hex
    path = _path(folder, token)
    size = 0
    try:
        with path.open("wb") as file:
            while block := stream.read(2**20):
                size += len(block)
                if size > MOST_FILE_BYTES:
                    raise BadFileError(
                        f"The file is over {MOST_FILE_BYTES // 2**20} MiB; no more is accepted."
                    )
                file.write(block)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return token


def _path(folder: Path, token: str) -> Path:
    if not TOKEN.fullmatch(token):
        raise MissingError("This file is not here any more; choose it again.", field="token")
    return folder / f"{token}.haze.part"


def let_go(folder: Path, token: str) -> None:
    """Forget a file that was looked at."""
    _path(folder, token).unlink(missing_ok=True)


def read(file: IO[bytes]) -> tuple[HazeFile, Reader]:
    """What a file holds, and the archive it lies in; `BadFileError` in one sentence.

    Parameters
    ----------
    file : the archive
    """
    archive = Reader(file, ALLOWED)
    text = archive.read(MANIFEST, most=MOST_MANIFEST)
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
    return found, archive


def _require_whole(found: HazeFile, archive: Reader) -> None:
    """Everything that is named is there, once, and nothing else."""
    named = [*(m.entry for m in found.meshes), *(p.entry for p in found.photos)]
    for many, what in (
        (named, "meshes or photos"),
        ([p.id for p in found.plans], "plans"),
        ([p.id for p in found.paints], "paints"),
        ([t.id for t in found.trials], "trials"),
        ([s.id for s in found.sessions], "sessions"),
    ):
        if len(set(many)) != len(many):
            raise BadFileError(f"The file names two {what} alike.")
    for name in named:
        if name not in archive.names:
            raise BadFileError(f"The file lacks {name}.")
    have = {m.id for m in found.meshes}
    documents = [p.plan for p in found.plans] + [s.document for s in found.sessions if s.document]
    if any(plan.piece.mesh not in have for plan in documents):
        raise BadFileError("The file lacks the mesh of one of its plans.")
    own = {s.id for s in found.sessions}
    if any(p.session not in own for p in found.photos):
        raise BadFileError("The file holds a photo of no session.")


def look(db: Database, folder: Path, token: str) -> FileLook:
    """What a kept file would add; nothing is changed."""
    path = _path(folder, token)
    if not path.exists():
        raise MissingError("This file is not here any more; choose it again.", field="token")
    with path.open("rb") as file:
        found, _ = read(file)
    tx = db.connection()
    trial_new = [t for t in found.trials if not trials.is_known(tx, t.id)]
    session_new = {s.id for s in found.sessions if not sessions.is_known(tx, s.id)}
    mine = _mine(db, found)
    return FileLook(
        token=token,
        made_at=found.made_at,
        plans=[_plan_coming(db, p) for p in found.plans],
        paints=[_paint_coming(p, mine.get(p.id)) for p in found.paints],
        trials_new=len(trial_new),
        trials_known=len(found.trials) - len(trial_new),
        sessions_new=len(session_new),
        sessions_known=len(found.sessions) - len(session_new),
        photos_new=sum(p.session in session_new for p in found.photos),
        meshes_new=len([m for m in found.meshes if not _has_mesh(db, m.id)]),
        size_bytes=path.stat().st_size,
    )


def _has_mesh(db: Database, mesh: str) -> bool:
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
        state=_plan_state(db, part),
    )


def _plan_state(db: Database, part: PlanPart) -> PlanState:
    try:
        have = plans.get(db.connection(), part.id)
    except MissingError:
        return "new"
    try:
        same = Plan.model_validate_json(have.document) == part.plan
    except ValidationError:
        same = False
    return "same" if same and have.trashed_at is None else "other"


def _mine(db: Database, found: HazeFile) -> dict[str, PaintOnShelf]:
    """For each paint of the file the one on the shelf it could be: by identity, else by name."""
    have = [paint_of(row) for row in shelf.paints(db.connection())]
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


@dataclass(frozen=True, slots=True)
class _Checked:
    """Meshes and photos of a file, looked into in a process of their own."""

    meshes: Mapping[str, tuple[Path, MeshFacts]]
    photos: Mapping[str, Sized]


def take_in(db: Database, folder: Path, body: TakeBody, report: Report) -> TakenIn:
    """Add what a kept file holds: all of it, or nothing.

    Parameters
    ----------
    db : added to
    folder : where files that came in lie
    body : which file, and what becomes of its paints
    report : told the share done
    """
    path = _path(folder, body.token)
    if not path.exists():
        raise MissingError("This file is not here any more; choose it again.", field="token")
    with ExitStack() as held:
        file = held.enter_context(path.open("rb"))
        found, archive = read(file)
        room = Path(held.enter_context(tempfile.TemporaryDirectory(dir=folder, suffix=".part")))
        checked = _check(db, found, archive, room, report)
        report(0.9, "Adding it")
        taken = _add(db, found, checked, body)
    path.unlink(missing_ok=True)
    return taken


def _check(db: Database, found: HazeFile, archive: Reader, room: Path, report: Report) -> _Checked:
    """Every mesh and photo that is not here yet, read as strange files are."""
    tx = db.connection()
    wanted = [m for m in found.meshes if not _has_mesh(db, m.id)]
    new = {s.id for s in found.sessions if not sessions.is_known(tx, s.id)}
    pictures = [p for p in found.photos if p.session in new]
    whole = max(len(wanted) + len(pictures), 1)
    have: dict[str, tuple[Path, MeshFacts]] = {}
    for n, mesh in enumerate(wanted):
        report(0.85 * n / whole, f"Reading {mesh.name}")
        have[mesh.id] = _mesh(mesh, archive, room, report)
    shown: dict[str, Sized] = {}
    for n, photo in enumerate(pictures, start=len(wanted)):
        report(0.85 * n / whole, "Looking at photos")
        data = archive.read(photo.entry, most=MOST_PHOTO)
        shown[photo.id] = apart.run(partial(sized, data=data, as_is=True), limits=apart.PICTURE)
    return _Checked(have, shown)


def _mesh(mesh: MeshPart, archive: Reader, room: Path, report: Report) -> tuple[Path, MeshFacts]:
    path = room / mesh.id
    with path.open("wb") as out:
        archive.copy(mesh.entry, out, most=MOST_MESH_BYTES)
    with path.open("rb") as file:
        if hashlib.file_digest(file, "sha256").hexdigest() != mesh.id:
            raise BadFileError(f"{mesh.name} is not the mesh it says it is; the file is damaged.")
    facts = apart.run(
        partial(read_facts, path=path, name=f"mesh.{mesh.format}"),
        limits=apart.READING,
        progress=share_of(report, f"Reading {mesh.name}"),
    )
    if facts.format != mesh.format:
        raise BadFileError(f"{mesh.name} is no {mesh.format.upper()} file.")
    return path, facts


def _add(db: Database, found: HazeFile, checked: _Checked, body: TakeBody) -> TakenIn:
    mine = _mine(db, found)
    with step(db, "Paints from a file") as tx:
        renamed: dict[str, str] = {}
        added = 0
        for paint in found.paints:
            held = mine.get(paint.id)
            choice = body.paints.get(paint.id, "mine" if held else "add")
            if choice == "mine" and held is not None:
                renamed[paint.id] = held.id
                continue
            fresh = paint
            if held is not None:
                fresh = paint.model_copy(
                    update={"id": uuid.uuid4().hex, "name": _other_name(paint.name)}
                )
            renamed[paint.id] = fresh.id
            shelf.put_paint(tx, row_of(fresh))
            added += 1
        _add_gear(tx, found, renamed)
        for mesh in found.meshes:
            got = checked.meshes.get(mesh.id)
            if got is not None:
                with got[0].open("rb") as file:
                    meshes.add(
                        tx,
                        identity=mesh.id,
                        name=mesh.name,
                        form=got[1].format,
                        faces=got[1].faces,
                        file=file,
                    )
        plans_of = _add_plans(db, tx, found, renamed)
        own = _add_sessions(tx, found, renamed, plans_of)
        tried = sum(_add_trial(tx, t, renamed, plans_of) for t in found.trials)
        for way in found.ways:
            whose = Whose(
                renamed.get(way.paint, way.paint),
                renamed.get(way.airbrush, way.airbrush),
                way.needle_mm,
                way.task,
            )
            if trials.way(tx, whose) is None:
                trials.put_way(tx, whose, setting=way.spray.model_dump_json())
        shown = 0
        for photo in found.photos:
            made = checked.photos.get(photo.id)
            if made is None or photo.session not in own:
                continue
            row = PhotoRow(
                id=photo.id,
                session=photo.session,
                at=photo.at,
                hash=hashlib.sha256(made.data).hexdigest(),
                width=made.width,
                height=made.height,
                note=photo.note,
            )
            photos.add(tx, row, data=made.data, small=made.small)
            shown += 1
    came = [plans_of[p.id] for p in found.plans if p.id in plans_of]
    return TakenIn(
        plans=sum(p.id in plans_of for p in found.plans),
        paints=added,
        trials=tried,
        sessions=len(own),
        photos=shown,
        plan=came[0] if came else (found.plans[0].id if found.plans else None),
    )


def _other_name(name: str) -> str:
    return f"{name[: MOST_NAME - len(FROM_FILE)]}{FROM_FILE}"


def _add_gear(tx: Tx, found: HazeFile, renamed: dict[str, str]) -> None:
    brushes = shelf.airbrushes(tx)
    for airbrush in found.airbrushes:
        held = next(
            (
                b
                for b in brushes
                if b.id == airbrush.id
                or (b.name.casefold(), b.needle_mm)
                == (airbrush.name.casefold(), airbrush.needle_mm)
            ),
            None,
        )
        renamed[airbrush.id] = held.id if held else airbrush.id
        if held is None:
            shelf.put_airbrush(tx, AirbrushRow(**airbrush.model_dump()))
    thinners = {t.id for t in shelf.thinners(tx)}
    for thinner in found.thinners:
        if thinner.id not in thinners:
            shelf.put_thinner(tx, ThinnerRow(**thinner.model_dump()))


def _add_plans(db: Database, tx: Tx, found: HazeFile, renamed: Mapping[str, str]) -> dict[str, str]:
    """Plans that are not here yet, by the identity they have in the file: what they are here."""
    came: dict[str, str] = {}
    for part in found.plans:
        state = _plan_state(db, part)
        if state == "same":
            continue
        plan, identity = with_names(part.plan, renamed), part.id
        if state == "other":
            identity = uuid.uuid4().hex
            plan = plan.model_copy(update={"name": _other_name(plan.name)})
        plans.add(
            tx,
            identity=identity,
            document=plan.model_dump_json(),
            mesh=plan.piece.mesh,
            what="From a file",
        )
        came[part.id] = identity
    return came


def with_names(plan: Plan, renamed: Mapping[str, str]) -> Plan:
    """A plan whose paints and airbrush are called as they are here; their values stay.

    Parameters
    ----------
    plan : of a file
    renamed : identities here, by those in the file
    """

    def paint(used: object) -> object:
        identity = getattr(used, "id", "")
        return used.model_copy(update={"id": renamed.get(identity, identity)})  # type: ignore[attr-defined]

    def changed(one: Coat | HandStep) -> Coat | HandStep:
        if one.kind == "hand":
            return one if one.paint is None else one.model_copy(update={"paint": paint(one.paint)})
        also = [m.model_copy(update={"paint": paint(m.paint)}) for m in one.also]
        return one.model_copy(update={"paint": paint(one.paint), "also": also})

    update = {"airbrush": paint(plan.airbrush), "coats": [changed(c) for c in plan.coats]}
    return plan.model_copy(update=update)


def _add_sessions(
    tx: Tx, found: HazeFile, renamed: Mapping[str, str], plans_of: Mapping[str, str]
) -> set[str]:
    new: set[str] = set()
    for part in found.sessions:
        if sessions.is_known(tx, part.id):
            continue
        new.add(part.id)
        row = _session_row(part, renamed, plans_of)
        if row.plan is not None and not plans.is_known(tx, row.plan):
            row = replace(row, plan=None)
        sessions.add(tx, row)
    return new


def _session_row(
    part: SessionPart, renamed: Mapping[str, str], plans_of: Mapping[str, str]
) -> SessionRow:
    document = None if part.document is None else with_names(part.document, renamed)
    log = "[" + ",".join(p.model_dump_json(exclude_none=True) for p in part.log) + "]"
    return SessionRow(
        id=part.id,
        kind=part.kind,
        date=part.date,
        began_at=part.began_at,
        ended_at=part.ended_at,
        name=part.name,
        plan=None if part.plan is None else plans_of.get(part.plan, part.plan),
        paint=None if part.paint is None else renamed.get(part.paint, part.paint),
        airbrush=None if part.airbrush is None else renamed.get(part.airbrush, part.airbrush),
        document=None if document is None else document.model_dump_json(),
        mesh=None if document is None else document.piece.mesh,
        room=None if part.room is None else part.room.model_dump_json(),
        told=None if part.told is None else part.told.model_dump_json(),
        log=log,
        note=part.note,
        rating=part.rating,
    )


def _add_trial(
    tx: Tx, part: TrialPart, renamed: Mapping[str, str], plans_of: Mapping[str, str]
) -> bool:
    if trials.is_known(tx, part.id):
        return False
    own = part.session
    trials.add(
        tx,
        TrialRow(
            id=part.id,
            paint=renamed.get(part.paint, part.paint),
            paint_name=part.paint_name,
            kind=part.kind,
            airbrush=renamed.get(part.airbrush, part.airbrush),
            airbrush_name=part.airbrush_name,
            needle_mm=part.needle_mm,
            setting=part.setting.model_dump_json(),
            look=part.look,
            plan=None if part.plan is None else plans_of.get(part.plan, part.plan),
            step=part.step,
            at=part.at,
            taken_back_at=part.taken_back_at,
            session=own if own and sessions.is_known(tx, own) else None,
        ),
    )
    return True
