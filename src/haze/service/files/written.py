"""Writing files: a plan with all it needs, the whole notebook, tables for other programs."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import IO, TypeVar

from haze import __version__
from haze.core.onpiece.painting import sprayed_by
from haze.core.plan.coat import SprayAt
from haze.core.plan.document import Plan
from haze.formats.archive import Writer
from haze.formats.shelf_csv import as_text
from haze.service.cups.beliefs import MeasuredIn, can_be_read, named_trial
from haze.service.cups.setting import AssessIn
from haze.service.cups.trial_session import RoomThen
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
from haze.service.forms.records import Unreadable, is_readable, readable, reading
from haze.service.notebook.notebook import named_session, named_session_photo
from haze.service.notebook.summary import Summary, log_of
from haze.service.shelf.shelf import airbrushes, paints, thinners
from haze.store import meshes, photos, plans, sessions, trials
from haze.store.connection import Database, now
from haze.store.sessions import SessionRow
from haze.store.trials import TrialRow

Pictured = Callable[[Plan], bytes | None]
R = TypeVar("R")


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
    with reading("plan", identity):
        plan = _with_mesh(db, row.document)
    held = [s for s in _sessions(db) if s.plan == identity and s.trashed_at is None]
    documents = [plan, *_documents(held)]
    printed = cards.of_plan(tx, identity)
    pairs = {sprayed_by(c, p.airbrush) for p in documents for c in p.sprayed}
    kinds, brushes = {p.kind for p in pairs}, {p.airbrush for p in pairs}
    through = {(p.paint, p.airbrush, p.needle_mm) for p in pairs}
    manifest = _manifest(
        db,
        plans=[PlanPart(id=identity, plan=plan)],
        held=held,
        trials=[r for r in _trials(db) if r.kind in kinds or r.airbrush in brushes],
        ways=[w for w in _ways(db) if (w.paint, w.airbrush, w.needle_mm) in through],
        printed=printed,
        wanted=_wanted_by(documents, brushes, printed),
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
    held = readable(
        plans.live(tx),
        lambda row: PlanPart(id=row.id, plan=_with_mesh(db, row.document)),
        lambda row: Unreadable(kind="plan", id=row.id, name="A plan"),
    ).views
    return _manifest(
        db,
        plans=held,
        held=_sessions(db),
        trials=_trials(db),
        ways=_ways(db),
        printed=cards.everything(tx, {part.id for part in held}),
    )


def _with_mesh(db: Database, document: str) -> Plan:
    """A plan whose mesh can be read too; without it a file could not be imported."""
    plan = Plan.model_validate_json(document)
    _mesh(db, plan.piece.mesh)
    return plan


def _sessions(db: Database) -> list[SessionRow]:
    """Sessions that can be read."""
    return [
        row
        for row in sessions.every(db.connection())
        if is_readable("session", row.id, partial(_session, db, row))
    ]


def _trials(db: Database) -> list[TrialRow]:
    """Trials that can be read."""
    return [
        row
        for row in trials.every(db.connection())
        if can_be_read(row) and is_readable("trial", row.id, partial(_trial, row, set()))
    ]


@dataclass(frozen=True, slots=True)
class _Wanted:
    """Identities of what is taken from the shelf."""

    paints: set[str]
    thinners: set[str]
    airbrushes: set[str]


def _wanted_by(documents: Sequence[Plan], sprayed: set[str], printed: cards.OfCards) -> _Wanted:
    """What plans and cards take from the shelf; `sprayed` are the airbrushes of their coats."""
    asked = [card.asked for card in printed.cards]
    mixed = {q.id for p in documents for c in p.coats if c.mix for q in c.mix.paints}
    return _Wanted(
        paints=mixed | {a.paint.id for a in asked},
        thinners={c.thinner.id for p in documents for c in p.sprayed},
        airbrushes=sprayed | {p.airbrush.id for p in documents} | {a.airbrush.id for a in asked},
    )


def _documents(held: Sequence[SessionRow]) -> list[Plan]:
    return [Plan.model_validate_json(s.document) for s in held if s.document]


def _manifest(
    db: Database,
    *,
    plans: list[PlanPart],
    held: Sequence[SessionRow],
    trials: Sequence[TrialRow],
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
        paints=[p for p in paints(tx).views if wanted is None or p.id in wanted.paints],
        thinners=[t for t in thinners(tx).views if wanted is None or t.id in wanted.thinners],
        airbrushes=[a for a in airbrushes(tx).views if wanted is None or a.id in wanted.airbrushes],
        trials=[_trial(r, own) for r in trials],
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
    return [_mesh(db, identity) for identity in sorted(wanted)]


def _mesh(db: Database, identity: str) -> MeshPart:
    row = meshes.get(db.connection(), identity)
    return MeshPart(id=row.id, name=row.name, format=row.format)


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
    return readable(
        trials.ways(db.connection()),
        lambda way: WayPart(
            paint=way[0].paint,
            airbrush=way[0].airbrush,
            needle_mm=way[0].needle_mm,
            task=way[0].task,
            spray=SprayAt.model_validate_json(way[1]),
        ),
        lambda way: Unreadable(kind="trial", id=way[0].paint, name="An own setting"),
    ).views


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
        document=_with_mesh(db, row.document) if row.document else None,
        room=RoomThen.model_validate_json(row.room) if row.room else None,
        told=Summary.model_validate_json(row.told) if row.told else None,
        note=row.note,
        rating=row.rating,
        log=log_of(db, row),
    )


def _photos(db: Database, wanted: set[str]) -> list[PhotoPart]:
    held = [
        p for p in photos.every(db.connection()) if p.session in wanted and p.trashed_at is None
    ]
    return readable(
        held,
        lambda p: PhotoPart(id=p.id, session=p.session, at=p.at, note=p.note),
        named_session_photo,
    ).views


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
    return _table(
        SESSION_COLUMNS,
        _cells(sessions.live(db.connection()), _session_cells, named_session, "name"),
    )


def _session_cells(row: SessionRow) -> dict[str, object]:
    room = RoomThen.model_validate_json(row.room) if row.room else None
    return {
        "date": row.date,
        "name": row.name,
        "kind": row.kind,
        **(_summary_cells(Summary.model_validate_json(row.told)) if row.told else {}),
        "rating": row.rating,
        "temperature_c": room.temperature_c if room else None,
        "humidity_pct": room.humidity_pct if room else None,
        "note": row.note,
    }


def _summary_cells(summary: Summary) -> dict[str, object]:
    return {
        "minutes": round(summary.minutes, 1),
        "planned_min": round(summary.planned_min, 1) if summary.planned_min else None,
        "copies_done": summary.copies_done,
        "copies": summary.copies,
        "troubles": "; ".join(f"{t.coat}: {t.symptom}" for t in summary.troubles),
        "airbrush": summary.airbrush,
    }


def trials_csv(db: Database) -> bytes:
    """All trials as a table."""
    return _table(
        TRIAL_COLUMNS, _cells(trials.every(db.connection()), _trial_cells, named_trial, "paint")
    )


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


def _cells(
    rows: Iterable[R],
    cells: Callable[[R], dict[str, object]],
    named: Callable[[R], Unreadable],
    column: str,
) -> Iterable[dict[str, object]]:
    """Cells of each row; of one that cannot be read, that it cannot, in a column that is named."""
    found = readable(rows, cells, named)
    lost: list[dict[str, object]] = [
        {column: f"{one.name}: cannot be read"} for one in found.unreadable
    ]
    return [*found.views, *lost]


def _table(columns: Sequence[str], rows: Iterable[dict[str, object]]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for cells in rows:
        writer.writerow([_cell(cells.get(name)) for name in columns])
    return out.getvalue().encode("utf-8-sig")


def _cell(value: object) -> str:
    if value is None:
        return ""
    return as_text(value) if isinstance(value, str) else str(value)
