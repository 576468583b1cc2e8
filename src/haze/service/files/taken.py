"""Taking files in: all of it or nothing.

Nothing that is there is overwritten. A plan of the same identity that differs comes in as one of
its own; a paint that is on the shelf under another identity is the painter's to choose.
"""

from __future__ import annotations

import hashlib
import tempfile
import uuid
from collections.abc import Mapping
from contextlib import ExitStack
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from sqlite3 import Connection as Tx
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from haze.core.errors import BadFileError
from haze.core.plan.base import MOST_NAME
from haze.core.plan.paint import AirbrushUsed
from haze.formats.archive import Reader
from haze.formats.meshes import MOST_BYTES as MOST_MESH_BYTES
from haze.service.files import cards
from haze.service.files.called import Called, with_names
from haze.service.files.documents import (
    ALLOWED,
    MOST_PHOTO,
    HazeFile,
    MeshPart,
    PhotoPart,
    Picture,
    SessionPart,
    TrialPart,
    WayPart,
)
from haze.service.files.looked import has_mesh, kept, mine_of, plan_state, read_apart
from haze.service.forms.wire import Strict
from haze.service.notebook.photos import Sized, sized
from haze.service.piece.meshes import MeshFacts, read_facts
from haze.service.shelf.paints import row_of
from haze.service.shelf.shelf import step
from haze.service.work import apart
from haze.service.work.jobs import Report, share_of
from haze.store import meshes, photos, plans, sessions, shelf, trials
from haze.store.connection import Database
from haze.store.photos import PhotoRow
from haze.store.sessions import SessionRow
from haze.store.shelf import AirbrushRow, ThinnerRow
from haze.store.trials import TrialRow, Whose

FROM_FILE = ", from a file"
PaintChoice = Literal["mine", "add"]


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
    cards: int
    plan: str | None


@dataclass(frozen=True, slots=True)
class _Checked:
    """Meshes and photos of a file, looked into in a process of their own."""

    meshes: Mapping[str, tuple[Path, MeshFacts]]
    photos: Mapping[str, Sized]  # by their entries


def take_in(db: Database, folder: Path, body: TakeBody, report: Report) -> TakenIn:
    """Add what a kept file holds: all of it, or nothing.

    Parameters
    ----------
    db : added to
    folder : where files that came in lie
    body : which file, and what becomes of its paints
    report : called with the share done
    """
    path = kept(folder, body.token)
    found = read_apart(path, share_of(report, "Reading the file"))
    with ExitStack() as held:
        archive = Reader(held.enter_context(path.open("rb")), ALLOWED)
        room = Path(held.enter_context(tempfile.TemporaryDirectory(dir=folder, suffix=".part")))
        checked = _check(db, found, archive, room, report)
        report(0.9, "Adding it")
        taken = _add(db, found, checked, body.paints)
    path.unlink(missing_ok=True)
    return taken


def _check(db: Database, found: HazeFile, archive: Reader, room: Path, report: Report) -> _Checked:
    """Every mesh and photo that is not here yet, read as strange files are."""
    tx = db.connection()
    wanted = [m for m in found.meshes if not has_mesh(db, m.id)]
    new = {s.id for s in found.sessions if not sessions.is_known(tx, s.id)}
    copied = {p.id for p in found.plans if plan_state(db, p) == "other"}
    printed = cards.coming(tx, found, copied)
    pictures: list[Picture] = [
        *(p for p in found.photos if p.session in new),
        *printed.card_photos,
        *printed.piece_photos,
    ]
    whole = max(len(wanted) + len(pictures), 1)
    have: dict[str, tuple[Path, MeshFacts]] = {}
    for n, mesh in enumerate(wanted):
        report(0.85 * n / whole, f"Reading {mesh.name}")
        have[mesh.id] = _mesh(mesh, archive, room, report)
    shown: dict[str, Sized] = {}
    for n, photo in enumerate(pictures, start=len(wanted)):
        report(0.85 * n / whole, "Looking at photos")
        data = archive.read(photo.entry, most=MOST_PHOTO)
        shown[photo.entry] = apart.run(partial(sized, data=data, as_is=True), limits=apart.PICTURE)
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


def add(db: Database, found: HazeFile, photos: Mapping[str, Sized]) -> TakenIn:
    """Add what is known to be whole and whose meshes are here: all of it, or nothing.

    Parameters
    ----------
    db : added to
    found : what is added
    photos : its pictures by their entries
    """
    return _add(db, found, _Checked({}, photos), {})


def _add(
    db: Database, found: HazeFile, checked: _Checked, choices: Mapping[str, PaintChoice]
) -> TakenIn:
    called = Called()
    with step(db, "Paints from a file") as tx:
        paints = _add_paints(db, tx, found, choices, called)
        _add_gear(tx, found, called)
        _add_meshes(tx, found, checked)
        _add_plans(db, tx, found, called)
        own = {part.id for part in found.sessions if _add_session(tx, part, called)}
        tried = sum(_add_trial(tx, part, called) for part in found.trials)
        for way in found.ways:
            _add_way(tx, way, called)
        shown = [part for part in found.photos if part.session in own]
        for photo in shown:
            _add_photo(tx, photo, checked.photos[photo.entry])
        printed = cards.add(tx, found, checked.photos, called)
    first = found.plans[0].id if found.plans else None
    return TakenIn(
        plans=len(called.plans),
        paints=paints,
        trials=tried,
        sessions=len(own),
        photos=len(shown) + printed.photos,
        cards=printed.cards,
        plan=next(iter(called.plans.values()), first),
    )


def _add_paints(
    db: Database, tx: Tx, found: HazeFile, choices: Mapping[str, PaintChoice], called: Called
) -> int:
    mine = mine_of(db, found)
    away = {row.id for row in shelf.trashed_paints(tx)}  # what was put away stays as it is
    added = 0
    for paint in found.paints:
        held = mine.get(paint.id)
        if held is not None and choices.get(paint.id, "mine") == "mine":
            called.paints[paint.id] = held.id
            continue
        fresh = paint
        if held is not None:
            fresh = fresh.model_copy(update={"name": _other_name(paint.name)})
        if held is not None or paint.id in away:
            fresh = fresh.model_copy(update={"id": uuid.uuid4().hex})
        called.paints[paint.id] = fresh.id
        shelf.put_paint(tx, row_of(fresh))
        added += 1
    return added


def _other_name(name: str) -> str:
    return f"{name[: MOST_NAME - len(FROM_FILE)]}{FROM_FILE}"


def _add_gear(tx: Tx, found: HazeFile, called: Called) -> None:
    brushes = shelf.airbrushes(tx)
    for airbrush in found.airbrushes:
        held = next((b for b in brushes if _is_same(b, airbrush)), None)
        called.airbrushes[airbrush.id] = held.id if held else airbrush.id
        if held is None:
            shelf.put_airbrush(tx, AirbrushRow(**airbrush.model_dump()))
    thinners = {t.id for t in shelf.thinners(tx)}
    for thinner in found.thinners:
        if thinner.id not in thinners:
            shelf.put_thinner(tx, ThinnerRow(**thinner.model_dump()))


def _is_same(mine: AirbrushRow, airbrush: AirbrushUsed) -> bool:
    named = (airbrush.name.casefold(), airbrush.needle_mm)
    return mine.id == airbrush.id or (mine.name.casefold(), mine.needle_mm) == named


def _add_meshes(tx: Tx, found: HazeFile, checked: _Checked) -> None:
    for mesh in found.meshes:
        if mesh.id not in checked.meshes:
            continue
        path, facts = checked.meshes[mesh.id]
        with path.open("rb") as file:
            meshes.add(
                tx,
                identity=mesh.id,
                name=mesh.name,
                form=facts.format,
                faces=facts.faces,
                file=file,
            )


def _add_plans(db: Database, tx: Tx, found: HazeFile, called: Called) -> None:
    for part in found.plans:
        state = plan_state(db, part)
        if state == "same":
            continue
        plan, identity = with_names(part.plan, called), part.id
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
        called.plans[part.id] = identity


def _add_session(tx: Tx, part: SessionPart, called: Called) -> bool:
    if sessions.is_known(tx, part.id):
        return False
    document = None if part.document is None else with_names(part.document, called)
    log = ",".join(press.model_dump_json(exclude_none=True) for press in part.log)
    row = SessionRow(
        id=part.id,
        kind=part.kind,
        date=part.date,
        began_at=part.began_at,
        ended_at=part.ended_at,
        name=part.name,
        plan=called.plan(part.plan),
        paint=None if part.paint is None else called.paint(part.paint),
        airbrush=None if part.airbrush is None else called.airbrush(part.airbrush),
        document=None if document is None else document.model_dump_json(),
        mesh=None if document is None else document.piece.mesh,
        room=None if part.room is None else part.room.model_dump_json(),
        told=None if part.told is None else part.told.model_dump_json(),
        log=f"[{log}]",
        note=part.note,
        rating=part.rating,
    )
    sessions.add(tx, row)
    return True


def _add_trial(tx: Tx, part: TrialPart, called: Called) -> bool:
    if trials.is_known(tx, part.id):
        return False
    own = part.session
    row = TrialRow(
        id=part.id,
        paint=called.paint(part.paint),
        paint_name=part.paint_name,
        kind=part.kind,
        airbrush=called.airbrush(part.airbrush),
        airbrush_name=part.airbrush_name,
        needle_mm=part.needle_mm,
        setting=part.setting.model_dump_json(),
        look=part.look,
        plan=called.plan(part.plan),
        step=part.step,
        at=part.at,
        taken_back_at=part.taken_back_at,
        session=own if own and sessions.is_known(tx, own) else None,
        measured=part.measured.model_dump_json() if part.measured else None,
    )
    trials.add(tx, row)
    return True


def _add_way(tx: Tx, way: WayPart, called: Called) -> None:
    """The painter's own settings come before those of a file."""
    whose = Whose(called.paint(way.paint), called.airbrush(way.airbrush), way.needle_mm, way.task)
    if trials.way(tx, whose) is None:
        trials.put_way(tx, whose, setting=way.spray.model_dump_json())


def _add_photo(tx: Tx, part: PhotoPart, made: Sized) -> None:
    row = PhotoRow(
        id=part.id,
        session=part.session,
        at=part.at,
        hash=hashlib.sha256(made.data).hexdigest(),
        width=made.width,
        height=made.height,
        note=part.note,
    )
    photos.add(tx, row, data=made.data, small=made.small)
