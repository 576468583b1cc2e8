"""Sessions of the notebook that begin and go on by trial cards."""

from __future__ import annotations

import sqlite3
import uuid
from datetime import datetime

from haze.service.forms.wire import Kept
from haze.store import sessions
from haze.store.sessions import SessionRow
from haze.store.trials import TrialRow


class RoomThen(Kept):
    """The room of a session; `measured` tells it from one that was typed."""

    temperature_c: float
    humidity_pct: float
    measured: bool


def keep_trial(tx: sqlite3.Connection, row: TrialRow, *, at: str, room: RoomThen) -> str:
    """Begin a session of trial cards for a trial, or go on with that of the day; its identity.

    Parameters
    ----------
    tx : of the same transaction the trial is stored in
    row : the trial
    at : when, UTC, ISO 8601
    room : as it was set for the trial
    """
    return sessions.keep(
        tx,
        SessionRow(
            id=uuid.uuid4().hex,
            kind="cards",
            date=datetime.fromisoformat(at).astimezone().date().isoformat(),
            began_at=at,
            ended_at=at,
            name=f"Trial cards, {row.paint_name}",
            paint=row.paint,
            airbrush=row.airbrush,
            room=room.model_dump_json(),
        ),
    )
