"""Trials on card: logged by one press, believed at once, taken back by another."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from sqlite3 import Connection

from pydantic import BaseModel, Field

from haze.core.day.amounts import Bottle
from haze.core.plan.base import Identity, Name
from haze.core.plan.coat import SprayAt
from haze.core.plan.knobs import Needle
from haze.core.plan.roles import TaskName, recipe_task
from haze.core.spray.advice import BOUNDS
from haze.core.spray.calibrate import (
    Belief,
    Look,
    PaintThrough,
    believe,
    believed,
    odd_ones,
    tables,
)
from haze.core.spray.constants import PaintKind
from haze.core.spray.recipe import Margin, margins
from haze.core.spray.setting import Setting
from haze.core.spray.tasks import task_of
from haze.core.spray.window import Edge, edges
from haze.service.cups.beliefs import Beliefs, pair_of, trial_of
from haze.service.cups.learn import LatentOut, LooksOut, NextOut, latents_out, looks_out, next_trial
from haze.service.cups.setting import (
    AssessIn,
    AssessOut,
    CupLine,
    RecipeIn,
    RecipeNone,
    RecipeOut,
    assessment,
    recipe,
    setting_of,
    small_cup,
)
from haze.service.cups.trial_session import RoomThen, keep_trial
from haze.service.cups.window import WindowIn, WindowOut, opened
from haze.service.forms.records import read_or_none, reading
from haze.service.forms.wire import Strict
from haze.store import trials as store
from haze.store.connection import Database, now
from haze.store.trials import TrialRow, Whose

FAULT_WORDS = {
    "spiders": "Spiders come",
    "specks": "Specks come",
    "dust": "Dust comes",
    "no_flow": "No flow comes",
}


class PaintNamed(Strict):
    """A paint on the shelf."""

    id: Identity
    name: Name
    kind: PaintKind


class AirbrushNamed(Strict):
    """An airbrush with the needle it holds."""

    id: Identity
    name: Name
    needle_mm: Needle


class ThroughBody(Strict):
    """A paint through a needle, as it is set."""

    paint: PaintNamed
    airbrush: AirbrushNamed
    setting: AssessIn

    @property
    def through(self) -> PaintThrough:
        """Whose trials tell of it."""
        return PaintThrough(
            self.paint.kind, self.paint.id, self.airbrush.id, self.airbrush.needle_mm
        )

    @property
    def whole(self) -> AssessIn:
        """The setting with this paint and this needle, whatever it names itself."""
        paint = self.setting.paint.model_copy(update={"kind": self.paint.kind})
        own = {"needle_mm": self.airbrush.needle_mm, "paint": paint}
        return self.setting.model_copy(update=own)

    @property
    def sprayed(self) -> Setting:
        """The same as the model takes it."""
        return setting_of(self.whole)


class TurnedBody(ThroughBody):
    """A setting while it is turned; `task` says what it is for."""

    task: TaskName = "cover"


class KnownSetting(BaseModel):
    """What a setting does by all that is known, how far each knob may go, and a small cup.

    `sure` stands after the verdict, `first` says which fault comes first and where.
    """

    spray: AssessOut
    margins: dict[str, Margin]
    cup: list[CupLine]
    sure: str
    first: str | None


class RecipeOfBody(RecipeIn):
    """A recipe for a paint on the shelf in an airbrush."""

    paint_id: Identity
    airbrush_id: Identity


class TrialBody(ThroughBody):
    """One trial; its id is made by the browser, so that it is stored once."""

    id: str = Field(pattern=r"^[A-Za-z0-9-]{8,64}$")
    look: Look
    plan: Identity | None = None
    step: Identity | None = None


class BackBody(Strict):
    """Whether a trial no longer counts."""

    back: bool = True


class WindowOfBody(WindowIn):
    """A window over what is known of a paint on the shelf in an airbrush."""

    paint_id: Identity
    airbrush_id: Identity


class TrialView(BaseModel):
    """A trial as it lies on the window; `odd` when all others make its look unlikely."""

    id: str
    at: str
    look: Look
    setting: AssessIn
    odd: bool


class Known(BaseModel):
    """What is known of a paint through a needle at a setting.

    `next` is the trial that would teach most.
    """

    trials: list[TrialView]
    others: bool
    looks: LooksOut
    latents: dict[str, LatentOut]
    next: NextOut | None


class Taught(BaseModel):
    """A trial that was logged or taken back: how likely clean was before and is now."""

    trial: str
    before: LooksOut
    after: LooksOut
    sure_before: str
    sure_after: str
    odd: bool


class WayAsked(Strict):
    """Whose own setting is asked."""

    paint: Identity
    airbrush: Identity
    needle_mm: Needle
    task: TaskName


class WayBody(WayAsked):
    """A painter's own setting for a task; null lets go of it."""

    spray: SprayAt | None = None


class WayOut(BaseModel):
    """The painter's own setting; null when there is none."""

    spray: SprayAt | None


def _or_prior(belief: Belief | None) -> Belief:
    return believe([], tables()) if belief is None else belief


def known(beliefs: Beliefs, body: ThroughBody) -> Known:
    """What is known of a paint through a needle, at a setting.

    Parameters
    ----------
    beliefs : of all trials
    body : paint, airbrush, setting
    """
    belief, setting = beliefs.of(body.through), body.sprayed
    rows = beliefs.tried().of.get(body.through, ())
    odd = set(odd_ones([trial_of(r) for r in rows], belief)) if belief else set()
    known = _or_prior(belief)
    return Known(
        trials=[_view(row, odd=place in odd) for place, row in enumerate(rows)],
        others=belief is not None and not rows,
        looks=looks_out(setting, known),
        latents=latents_out(known),
        next=next_trial(setting, known),
    )


def setting_known(beliefs: Beliefs, body: TurnedBody) -> KnownSetting:
    """What a setting does by all that is known of its paint through its needle."""
    belief, setting = beliefs.of(body.through), body.sprayed
    point, _ = believed(belief)
    bottle = Bottle(body.paint.name, body.setting.paint.drop_ul)
    ends = _edges(setting, belief, *WHERE)
    return KnownSetting(
        spray=assessment(setting, belief),
        margins=margins(setting, task_of(recipe_task(body.task)), point),
        cup=small_cup(setting, bottle),
        sure=sure_words(ends.get("pressure_psi"), belief),
        first=first_words(ends),
    )


def recipe_known(beliefs: Beliefs, body: RecipeOfBody) -> RecipeOut | RecipeNone:
    """A recipe by all that is known of a paint through a needle."""
    through = PaintThrough(body.paint.kind, body.paint_id, body.airbrush_id, body.needle_mm)
    return recipe(body, beliefs.of(through))


def _view(row: TrialRow, *, odd: bool) -> TrialView:
    return TrialView(
        id=row.id,
        at=row.at,
        look=row.look,
        setting=AssessIn.model_validate_json(row.setting),
        odd=odd,
    )


def _edges(setting: Setting, belief: Belief | None, *knobs: str) -> dict[str, Edge]:
    latents, alike = believed(belief)
    return edges(setting, {knob: BOUNDS[knob][1] for knob in knobs}, latents=latents, alike=alike)


def sure_words(pressure: Edge | None, belief: Belief | None) -> str:
    """How sure the edge of the clean field is, and from how many trials.

    Parameters
    ----------
    pressure : where it leaves the clean field when turned up; None when it does not
    belief : None while nothing was tried
    """
    about = "" if pressure is None else f"± {max((pressure.high - pressure.low) / 2, 0.5):.0f} psi"
    if belief is None:
        return f"{about} from the model, untried".strip()
    count = belief.trials
    if count == 0:
        return f"{about} from trials of its kind or this airbrush".strip()
    return f"{about} after {count} trial{'' if count == 1 else 's'}".strip()


WHERE = {
    "pressure_psi": lambda v, alone: f"at {v:.0f} psi",
    "thinner_parts": lambda v, alone: f"{'at ' if alone else ''}{v:.1f} : 1",
}


def first_words(ends: Mapping[str, Edge]) -> str | None:
    """Which fault comes first when pressure or thinning go up, and where; None when none does.

    Parameters
    ----------
    ends : where pressure and thinning leave the clean field
    """
    if not ends:
        return None
    fault = next(iter(ends.values())).fault
    knobs = " or ".join(
        WHERE[knob](found.value, len(ends) == 1)
        for knob, found in ends.items()
        if found.fault == fault
    )
    return f"{FAULT_WORDS[fault]} first, {knobs}."


def sure_at(setting: Setting, belief: Belief | None) -> str:
    """How sure the edge of the clean field is at a setting, and from how many trials."""
    ends = _edges(setting, belief, "pressure_psi")
    return sure_words(ends.get("pressure_psi"), belief)


def log(
    db: Database,
    beliefs: Beliefs,
    body: TrialBody,
    *,
    measured: str | None = None,
    marked: Callable[[Connection], None] | None = None,
) -> Taught:
    """Keep a trial and say what it taught; a trial that is kept already is answered again.

    Parameters
    ----------
    db : holds trials
    beliefs : of all trials
    body : the trial
    measured : JSON, what the photo of its card measured
    marked : what is written with the trial, or not at all
    """
    before = beliefs.without(body.through, body.id)
    with db.atomic() as tx:
        keep(tx, body, measured=measured)
        if marked is not None:
            marked(tx)
    beliefs.changed()
    return _taught(beliefs, body.through, body.sprayed, before, trial=body.id)


def keep(
    tx: Connection, body: TrialBody, *, session: str | None = None, measured: str | None = None
) -> None:
    """Keep a trial; one that is kept already stays as it is.

    Parameters
    ----------
    tx : of the transaction it belongs to
    body : the trial
    session : the one at the booth it belongs to; else it goes to the cards of its day
    measured : JSON, what the photo of its card measured
    """
    row = TrialRow(
        id=body.id,
        paint=body.paint.id,
        paint_name=body.paint.name,
        kind=body.paint.kind,
        airbrush=body.airbrush.id,
        airbrush_name=body.airbrush.name,
        needle_mm=body.airbrush.needle_mm,
        setting=body.whole.model_dump_json(),
        look=body.look,
        plan=body.plan,
        step=body.step,
        at=now(),
        measured=measured,
    )
    if not store.is_known(tx, row.id):
        room = RoomThen(**body.setting.room.model_dump(), measured=False)
        own = session or keep_trial(tx, row, at=row.at, room=room)
        store.add(tx, replace(row, session=own))


def take_back(db: Database, beliefs: Beliefs, trial: str, *, back: bool) -> Taught:
    """Let a trial no longer count, or count again, and say what that changes."""
    row = store.one(db.connection(), trial)
    with reading("trial", trial):
        setting = trial_of(row).setting
    through = pair_of(row)
    before = beliefs.of(through)
    with db.atomic() as tx:
        store.take_back(tx, trial, back=back)
    beliefs.changed()
    return _taught(beliefs, through, setting, before, trial=trial)


def _taught(
    beliefs: Beliefs, through: PaintThrough, setting: Setting, before: Belief | None, *, trial: str
) -> Taught:
    after = beliefs.of(through)
    rows = beliefs.tried().of.get(through, ())
    odd = odd_ones([trial_of(r) for r in rows], after) if after else []
    return Taught(
        trial=trial,
        before=looks_out(setting, _or_prior(before)),
        after=looks_out(setting, _or_prior(after)),
        sure_before=sure_at(setting, before),
        sure_after=sure_at(setting, after),
        odd=any(rows[place].id == trial for place in odd),
    )


def window_of(beliefs: Beliefs, body: WindowOfBody) -> WindowOut:
    """The window over what is known of a paint through a needle."""
    through = PaintThrough(body.paint.kind, body.paint_id, body.airbrush_id, body.needle_mm)
    return opened(body, beliefs.of(through))


def keep_way(db: Database, body: WayBody) -> WayOut:
    """Keep, or let go of, the painter's own setting for a task."""
    whose = _whose(body)
    with db.atomic() as tx:
        if body.spray is None:
            store.forget_way(tx, whose)
        else:
            store.put_way(tx, whose, setting=body.spray.model_dump_json())
    return WayOut(spray=body.spray)


def _whose(asked: WayAsked) -> Whose:
    return Whose(asked.paint, asked.airbrush, asked.needle_mm, asked.task)


def way_of(db: Database, body: WayAsked) -> WayOut:
    """The painter's own setting for a task."""
    return WayOut(spray=own_way(db.connection(), _whose(body)))


def own_way(tx: Connection, whose: Whose) -> SprayAt | None:
    """The painter's own setting; None when there is none, or none that can be read.

    Parameters
    ----------
    tx : read from
    whose : of which paint through which needle, for which task
    """
    found = store.way(tx, whose)
    if found is None:
        return None
    return read_or_none("trial", whose, partial(SprayAt.model_validate_json, found))
