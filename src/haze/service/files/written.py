"""Writing files: a plan with all it needs, the whole notebook, tables for other programs."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import IO

from haze import __version__
from haze.core.onpiece.painting import sprayed_by
from haze.core.plan.coat import SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.paint import AirbrushUsed
from haze.formats.archive import Writer
from haze.formats.shelf_csv import as_text
from haze.service.cups.beliefs import MeasuredIn
from haze.service.cups.setting import AssessIn
from haze.service.files import cards
from haze.service.files.documents import (
    FORMAT,
    MANIFEST,
    PICTURE,
    VERSION,
    HazeFile,
    MeshPart,
    PhotoPart,
    Picture,
    PlanPart,
    SessionPart,
    TrialPart,
    WayPart,
)
from haze.service.notebook.keep import RoomThen
from haze.service.notebook.told import Told, log_of
from haze.service.shelf.paints import paint_of
from haze.service.shelf.shelf import ThinnerOnShelf
from haze.store import meshes, photos, plans, sessions, shelf, trials
from haze.store.connection import Database, now
from haze.store.sessions import SessionRow
from haze.store.trials import TrialRow

Pictured = Callable[[Plan], bytes | None]


def write_plan(db: Database, identity: str, file: IO[bytes], pictured: Pictured) -> str:
    """Write a plan with its mesh, paints, gear, trials, sessions, cards and photos; its name.

    The trials are all that what is believed of its paints follows from: those of the same kinds of
    paint and of the same airbrush too.

    Parameters
    ----------
    db : holds it
    identity : of the plan
    file : written to
    pictured : PNG of the piece as planned; None when it is not worked out
    """
    tx = db.connection()
    row = plans.get(tx, identity)
    plan = Plan.model_validate_json(row.document)
    held = [s for s in sessions.every(tx) if s.plan == identity and s.trashed_at is None]
    documents = [plan, *_documents(held)]
    printed = cards.of_plan(tx, identity)
    pairs = {sprayed_by(c, p.airbrush) for p in documents for c in p.sprayed}
    kinds, brushes = {p.kind for p in pairs}, {p.airbrush for p in pairs}
    through = {(p.paint, p.airbrush, p.needle_mm) for p in pairs}
    wanted = _Wanted(
        paints={q.id for p in documents for c in p.coats if c.mix for q in c.mix.paints}
        | {c.asked.paint.id for c in printed.cards},
        thinners={c.thinner.id for p in documents for c in p.sprayed},
        airbrushes=brushes
        | {p.airbrush.id for p in documents}
        | {c.asked.airbrush.id for c in printed.cards},
    )
    manifest = _manifest(
        db,
        plans=[PlanPart(id=identity, plan=plan)],
        held=held,
        told=[r for r in trials.every(tx) if r.kind in kinds or r.airbrush in brushes],
        ways=[w for w in _ways(db) if (w.paint, w.airbrush, w.needle_mm) in through],
        printed=printed,
        wanted=wanted,
    )
    _write(db, manifest, file, pictured(plan))
    return plan.name


def write_notebook(db: Database, file: IO[bytes]) -> None:
    """Write everything: plans, shelf, trials, sessions, cards, photos, practice.

    Parameters
    ----------
    db : holds it
    file : written to
    """
    _write(db, _everything(db), file, None)


def notebook_json(db: Database) -> bytes:
    """The same without meshes and photos, as one JSON document."""
    return _everything(db).model_dump_json(indent=1).encode()


def _everything(db: Database) -> HazeFile:
    tx = db.connection()
    held = plans.live(tx)
    return _manifest(
        db,
        plans=[PlanPart(id=r.id, plan=Plan.model_validate_json(r.document)) for r in held],
        held=sessions.every(tx),
        told=trials.every(tx),
        ways=_ways(db),
        printed=cards.everything(tx, {r.id for r in held}),
    )


@dataclass(frozen=True, slots=True)
class _Wanted:
    """Identities of what is taken from the shelf."""

    paints: set[str]
    thinners: set[str]
    airbrushes: set[str]


def _documents(held: Sequence[SessionRow]) -> list[Plan]:
    return [Plan.model_validate_json(s.document) for s in held if s.document]


def _manifest(
    db: Database,
    *,
    plans: list[PlanPart],
    held: Sequence[SessionRow],
    told: Sequence[TrialRow],
    ways: list[WayPart],
    printed: cards.OfCards,
    wanted: _Wanted | None = None,
) -> HazeFile:
    """What a file says: some plans and sessions with all they need; without `wanted` the shelf."""
    tx = db.connection()
    own = {s.id for s in held}
    used = {p.plan.piece.mesh for p in plans} | {p.piece.mesh for p in _documents(held)}
    return HazeFile(
        format=FORMAT,
        version=VERSION,
        made_at=now(),
        program=__version__,
        plans=plans,
        meshes=_meshes(db, used),
        paints=[
            p for p in map(paint_of, shelf.paints(tx)) if wanted is None or p.id in wanted.paints
        ],
        thinners=[
            ThinnerOnShelf.model_validate(t, from_attributes=True)
            for t in shelf.thinners(tx)
            if wanted is None or t.id in wanted.thinners
        ],
        airbrushes=[
            AirbrushUsed.model_validate(a, from_attributes=True)
            for a in shelf.airbrushes(tx)
            if wanted is None or a.id in wanted.airbrushes
        ],
        trials=[_trial(r, own) for r in told],
        ways=ways,
        sessions=[_session(db, s) for s in held],
        photos=_photos(db, own),
        cards=printed.cards,
        card_photos=printed.card_photos,
        piece_photos=printed.piece_photos,
        practice=printed.practice,
    )


def _write(db: Database, manifest: HazeFile, file: IO[bytes], picture: bytes | None) -> None:
    out = Writer(file)
    out.put(MANIFEST, manifest.model_dump_json(indent=1).encode())
    if picture is not None:
        out.put(PICTURE, picture)
    for mesh in manifest.meshes:
        with out.open(mesh.entry) as entry:
            meshes.write_out(db.connection(), mesh.id, entry)
    for photo in manifest.pictures:
        out.put(photo.entry, _picture(db, photo))
    out.close()


def _picture(db: Database, part: Picture) -> bytes:
    if isinstance(part, PhotoPart):
        return photos.read(db.connection(), part.id, small=False)
    return cards.picture_of(db.connection(), part)


def _meshes(db: Database, wanted: set[str]) -> list[MeshPart]:
    found = [meshes.get(db.connection(), identity) for identity in sorted(wanted)]
    return [MeshPart(id=m.id, name=m.name, format=m.format) for m in found]


def _trial(row: TrialRow, held: set[str]) -> TrialPart:
    return TrialPart(
        id=row.id,
        at=row.at,
        paint=row.paint,
        paint_name=row.paint_name,
        kind=row.kind,
        airbrush=row.airbrush,
        airbrush_name=row.airbrush_name,
        needle_mm=row.needle_mm,
        setting=AssessIn.model_validate_json(row.setting),
        look=row.look,
        plan=row.plan,
        step=row.step,
        taken_back_at=row.taken_back_at,
        session=row.session if row.session in held else None,
        measured=MeasuredIn.model_validate_json(row.measured) if row.measured else None,
    )


def _ways(db: Database) -> list[WayPart]:
    return [
        WayPart(
            paint=whose.paint,
            airbrush=whose.airbrush,
            needle_mm=whose.needle_mm,
            task=whose.task,
            spray=SprayAt.model_validate_json(setting),
        )
        for whose, setting in trials.ways(db.connection())
    ]


def _session(db: Database, row: SessionRow) -> SessionPart:
    return SessionPart(
        id=row.id,
        kind=row.kind,
        date=row.date,
        began_at=row.began_at,
        ended_at=row.ended_at,
        name=row.name,
        plan=row.plan,
        paint=row.paint,
        airbrush=row.airbrush,
        document=Plan.model_validate_json(row.document) if row.document else None,
        room=RoomThen.model_validate_json(row.room) if row.room else None,
        told=Told.model_validate_json(row.told) if row.told else None,
        note=row.note,
        rating=row.rating,
        log=log_of(db, row),
    )


def _photos(db: Database, wanted: set[str]) -> list[PhotoPart]:
    return [
        PhotoPart(id=p.id, session=p.session, at=p.at, note=p.note)
        for p in photos.every(db.connection())
        if p.session in wanted and p.trashed_at is None
    ]


SESSION_COLUMNS = (
    "date",
    "name",
    "kind",
    "minutes",
    "planned_min",
    "copies_done",
    "copies",
    "troubles",
    "rating",
    "airbrush",
    "temperature_c",
    "humidity_pct",
    "note",
)
TRIAL_COLUMNS = (
    "at",
    "paint",
    "kind",
    "airbrush",
    "needle_mm",
    "look",
    "pressure_psi",
    "thinner_parts",
    "trigger",
    "distance_mm",
    "speed_mm_s",
    "temperature_c",
    "humidity_pct",
    "counts",
)


def sessions_csv(db: Database) -> bytes:
    """All sessions that are not in the trash as a table."""
    return _table(SESSION_COLUMNS, map(_session_cells, sessions.live(db.connection())))


def _session_cells(row: SessionRow) -> dict[str, object]:
    told = Told.model_validate_json(row.told) if row.told else None
    room = RoomThen.model_validate_json(row.room) if row.room else None
    return {
        "date": row.date,
        "name": row.name,
        "kind": row.kind,
        "minutes": round(told.minutes, 1) if told else None,
        "planned_min": round(told.planned_min, 1) if told and told.planned_min else None,
        "copies_done": told.copies_done if told else None,
        "copies": told.copies if told else None,
        "troubles": "; ".join(f"{t.coat}: {t.symptom}" for t in told.troubles) if told else None,
        "rating": row.rating,
        "airbrush": told.airbrush if told else None,
        "temperature_c": room.temperature_c if room else None,
        "humidity_pct": room.humidity_pct if room else None,
        "note": row.note,
    }


def trials_csv(db: Database) -> bytes:
    """All trials as a table."""
    return _table(TRIAL_COLUMNS, map(_trial_cells, trials.every(db.connection())))


def _trial_cells(row: TrialRow) -> dict[str, object]:
    setting = AssessIn.model_validate_json(row.setting)
    return {
        "at": row.at,
        "paint": row.paint_name,
        "kind": row.kind,
        "airbrush": row.airbrush_name,
        "needle_mm": row.needle_mm,
        "look": row.look,
        "pressure_psi": setting.pressure_psi,
        "thinner_parts": setting.thinner_parts,
        "trigger": setting.trigger,
        "distance_mm": setting.distance_mm,
        "speed_mm_s": setting.speed_mm_s,
        "temperature_c": setting.room.temperature_c,
        "humidity_pct": setting.room.humidity_pct,
        "counts": "no" if row.taken_back_at else "yes",
    }


def _table(columns: Sequence[str], rows: Iterable[dict[str, object]]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for cells in rows:
        writer.writerow([_cell(cells[name]) for name in columns])
    return out.getvalue().encode("utf-8-sig")


def _cell(value: object) -> str:
    if value is None:
        return ""
    return as_text(value) if isinstance(value, str) else str(value)
