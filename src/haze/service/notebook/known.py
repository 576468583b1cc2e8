"""A page for each paint and each airbrush: what is known of it, how sure, and what is left."""

from __future__ import annotations

from collections.abc import Iterable
from sqlite3 import Connection
from typing import Literal

from pydantic import BaseModel

from haze.core.spray.calibrate import PaintThrough, believe, tables
from haze.core.spray.taught import shifted
from haze.service.cups.beliefs import Beliefs, can_be_read, trial_of
from haze.service.cups.learn import LatentOut, LooksOut, latents_out, looks_out
from haze.service.cups.trials import sure_at
from haze.service.forms.records import readable
from haze.service.notebook.notebook import (
    SessionLine,
    TrialOfSession,
    line_of,
    named_session,
    trial_view,
)
from haze.store import sessions, shelf, trials
from haze.store.connection import Database, MissingError
from haze.store.trials import TrialRow

What = Literal["paint", "airbrush"]


class PairKnown(BaseModel):
    """What is known of a paint through a needle, at the setting it was last tried at.

    `words` say what moved most; `latents` are factors of what the tables say.
    """

    paint: str
    paint_name: str
    airbrush: str
    airbrush_name: str
    needle_mm: float
    words: str
    sure: str
    looks: LooksOut
    latents: dict[str, LatentOut]
    trials: list[TrialOfSession]


class KnownPage(BaseModel):
    """A paint or an airbrush; `colour` and `ml_left` of paints, null where nobody counts."""

    what: What
    id: str
    name: str
    about: str
    colour: str | None
    ml_left: float | None
    on_shelf: bool
    pairs: list[PairKnown]
    sessions: list[SessionLine]


class KnownLine(BaseModel):
    """A paint or an airbrush that was tried."""

    what: What
    id: str
    name: str
    trials: int


class KnownList(BaseModel):
    """All paints and airbrushes that were tried, the most tried first."""

    known: list[KnownLine]


def known_list(db: Database) -> KnownList:
    """All paints and airbrushes that were tried."""
    found: dict[tuple[What, str], KnownLine] = {}
    for row in _tried(db.connection()):
        if row.taken_back_at is not None:
            continue
        named: tuple[tuple[What, str, str], ...] = (
            ("paint", row.paint, row.paint_name),
            ("airbrush", row.airbrush, row.airbrush_name),
        )
        for what, identity, name in named:
            line = found.setdefault(
                (what, identity), KnownLine(what=what, id=identity, name=name, trials=0)
            )
            line.trials += 1
            line.name = name
    return KnownList(known=sorted(found.values(), key=lambda k: (-k.trials, k.what, k.name)))


def paint_page(db: Database, beliefs: Beliefs, paint: str) -> KnownPage:
    """What is known of a paint; `MissingError` when it is not on the shelf and was never tried."""
    tx = db.connection()
    rows = [row for row in _tried(tx) if row.paint == paint]
    held = next((p for p in (*shelf.paints(tx), *shelf.trashed_paints(tx)) if p.id == paint), None)
    if held is None and not rows:
        raise MissingError("This paint is neither on the shelf nor was it tried.", field="paint")
    return KnownPage(
        what="paint",
        id=paint,
        name=held.name if held else rows[-1].paint_name,
        about=(held.kind if held else rows[-1].kind).replace("_", " "),
        colour=held.masstone if held else None,
        ml_left=held.ml_left if held else None,
        on_shelf=any(p.id == paint for p in shelf.paints(tx)),
        pairs=_pairs(beliefs, rows),
        sessions=_sessions(tx, paint),
    )


def airbrush_page(db: Database, beliefs: Beliefs, airbrush: str) -> KnownPage:
    """What is known of an airbrush; `MissingError` when nobody has it."""
    tx = db.connection()
    rows = [row for row in _tried(tx) if row.airbrush == airbrush]
    held = next((a for a in shelf.airbrushes(tx) if a.id == airbrush), None)
    if held is None and not rows:
        raise MissingError(
            "This airbrush is neither on the shelf nor was it tried.", field="airbrush"
        )
    return KnownPage(
        what="airbrush",
        id=airbrush,
        name=held.name if held else rows[-1].airbrush_name,
        about=f"{held.needle_mm if held else rows[-1].needle_mm:g} mm needle",
        colour=None,
        ml_left=None,
        on_shelf=held is not None,
        pairs=_pairs(beliefs, rows),
        sessions=_sessions(tx, airbrush),
    )


def _tried(tx: Connection) -> list[TrialRow]:
    return [row for row in trials.every(tx) if can_be_read(row)]


def _sessions(tx: Connection, identity: str) -> list[SessionLine]:
    return readable(sessions.naming(tx, identity), line_of, named_session).views


def _pairs(beliefs: Beliefs, rows: Iterable[TrialRow]) -> list[PairKnown]:
    of: dict[PaintThrough, list[TrialRow]] = {}
    for row in rows:
        pair = PaintThrough(row.kind, row.paint, row.airbrush, row.needle_mm)  # type: ignore[arg-type]
        of.setdefault(pair, []).append(row)
    return [_pair(beliefs, pair, tried) for pair, tried in of.items()]


def _pair(beliefs: Beliefs, pair: PaintThrough, rows: list[TrialRow]) -> PairKnown:
    last = rows[-1]
    nothing = believe([], tables())
    belief = beliefs.of(pair)
    moved = shifted(nothing.gaussian, belief.gaussian) if belief else None
    setting = trial_of(last).setting
    return PairKnown(
        paint=last.paint,
        paint_name=last.paint_name,
        airbrush=last.airbrush,
        airbrush_name=last.airbrush_name,
        needle_mm=last.needle_mm,
        words=f"{moved.words}".capitalize() + "." if moved else "As the tables say, so far.",
        sure=sure_at(setting, belief),
        looks=looks_out(setting, belief or nothing),
        latents=latents_out(belief or nothing),
        trials=[trial_view(row) for row in reversed(rows)],
    )
