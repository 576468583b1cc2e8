"""What all trials together say of a paint in an airbrush, worked out when it is asked for."""

from __future__ import annotations

import hashlib
import threading
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, partial
from typing import NamedTuple

from pydantic import Field

from haze.core.errors import UnknownNameError
from haze.core.spray.calibrate import (
    CLASS_OF,
    Belief,
    Measured,
    Message,
    PaintThrough,
    Trial,
    before_trials,
    believe,
    message,
)
from haze.core.spray.constants import PAINTS
from haze.service.cups.setting import AssessIn, setting_of
from haze.service.forms.records import Unreadable, is_readable
from haze.service.forms.wire import Strict
from haze.service.work.jobs import Report
from haze.service.work.memo import Memo
from haze.store import trials as store
from haze.store.connection import Database
from haze.store.trials import TrialRow

KEPT_BELIEFS = 200
KEPT_MESSAGES = 2000
Said = tuple[PaintThrough, tuple[str, ...]]


class BeliefKey(NamedTuple):
    """What a belief depends on: which trials count, of which pair, and which are left out."""

    fingerprint: str
    pair: PaintThrough
    lacking: tuple[str, ...]


@dataclass(frozen=True)
class Tried:
    """All trials that count, by paint and needle."""

    of: Mapping[PaintThrough, tuple[TrialRow, ...]]

    @cached_property
    def fingerprint(self) -> str:
        """Hash of which trials count."""
        ids = sorted(row.id for rows in self.of.values() for row in rows)
        return hashlib.sha256(" ".join(ids).encode()).hexdigest()


def pair_of(row: TrialRow) -> PaintThrough:
    """The paint and needle of a trial."""
    return PaintThrough(row.kind, row.paint, row.airbrush, row.needle_mm)  # type: ignore[arg-type]


def trial_of(row: TrialRow) -> Trial:
    """A stored trial as the model takes it."""
    measured = MeasuredIn.model_validate_json(row.measured).measured if row.measured else None
    setting = setting_of(AssessIn.model_validate_json(row.setting))
    if row.look not in CLASS_OF or row.kind not in PAINTS:
        raise UnknownNameError(f"No look is {row.look!r}, or no paint is {row.kind!r}.")
    return Trial(setting, row.look, measured)


def can_be_read(row: TrialRow) -> bool:
    """Whether a stored trial says what it should."""
    return is_readable("trial", row.id, partial(trial_of, row))


def named_trial(row: TrialRow) -> Unreadable:
    """What can be said of a stored trial without reading it."""
    return Unreadable(kind="trial", id=row.id, name=f"Trial of {row.paint_name}", at=row.at)


class MeasuredIn(Strict):
    """What a card's photo measured, over what the tables say; null where it was not."""

    width: float | None = Field(default=None, ge=0.1, le=10)
    width_unsure: float = Field(default=0.1, ge=0.02, le=2)
    film: float | None = Field(default=None, ge=0.01, le=100)
    film_unsure: float = Field(default=0.3, ge=0.05, le=3)

    @property
    def measured(self) -> Measured:
        """The same as the model takes it."""
        return Measured(self.width, self.width_unsure, self.film, self.film_unsure)


class Beliefs:
    """Beliefs of one database's trials, kept by which trials count; safe from several threads."""

    def __init__(self, db: Database) -> None:
        self._db = db
        self._lock = threading.Lock()
        self._tried: Tried | None = None
        self._held: Memo[BeliefKey, Belief | None] = Memo(KEPT_BELIEFS)
        self._messages: Memo[Said, Message] = Memo(KEPT_MESSAGES)

    def changed(self) -> None:
        """Trials changed: they are read again when they are asked for."""
        with self._lock:
            self._tried = None

    def tried(self) -> Tried:
        """All trials that count and can be read."""
        with self._lock:
            if self._tried is None:
                of: dict[PaintThrough, list[TrialRow]] = defaultdict(list)
                for row in store.every(self._db.connection()):
                    if row.taken_back_at is None and can_be_read(row):
                        of[pair_of(row)].append(row)
                self._tried = Tried({pair: tuple(rows) for pair, rows in of.items()})
            return self._tried

    @property
    def fingerprint(self) -> str:
        """Changes with every trial that comes to count or no longer counts."""
        return self.tried().fingerprint

    def of(self, pair: PaintThrough) -> Belief | None:
        """What is believed of a pair; None while no trial says anything of it."""
        return self.without(pair)

    def without(self, pair: PaintThrough, *trials: str) -> Belief | None:
        """What would be believed without some trials of the pair."""
        tried = self.tried()
        asked = BeliefKey(tried.fingerprint, pair, trials)
        return self._held.of(asked, lambda _: self._from(tried, pair, trials))

    def if_tried(self, pair: PaintThrough, trial: Trial) -> Belief:
        """What would be believed of a pair with one trial more."""
        tried = self.tried()
        measured = [*(trial_of(row) for row in tried.of.get(pair, ())), trial]
        return believe(measured, before_trials(pair, self._others(tried, pair)))

    def get_ready(self, report: Report) -> None:
        """Work out what each pair's trials say, so that the first page that asks need not wait."""
        tried = self.tried().of
        for done, (pair, rows) in enumerate(tried.items()):
            if not report(done / len(tried), "Reading trials"):
                return
            self._message(pair, rows)

    def _from(self, tried: Tried, pair: PaintThrough, lacking: tuple[str, ...]) -> Belief | None:
        rows = tuple(row for row in tried.of.get(pair, ()) if row.id not in lacking)
        others = self._others(tried, pair)
        if not rows and not others:
            return None
        return believe([trial_of(row) for row in rows], before_trials(pair, others))

    def _others(self, tried: Tried, pair: PaintThrough) -> dict[PaintThrough, Message]:
        return {
            other: self._message(other, measured)
            for other, measured in tried.of.items()
            if other != pair and _related(other, pair)
        }

    def _message(self, pair: PaintThrough, rows: tuple[TrialRow, ...]) -> Message:
        key = pair, tuple(row.id for row in rows)
        return self._messages.of(key, lambda _: message([trial_of(row) for row in rows]))


def _related(one: PaintThrough, other: PaintThrough) -> bool:
    return one.kind == other.kind or one.airbrush == other.airbrush
