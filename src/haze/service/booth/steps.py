"""The booth's steps of a laid day, in the order they are done: one clear thing at a time."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import inf
from typing import Literal

from pydantic import BaseModel

from haze.core.day.amounts import CUP_REST_ML, TRIAL_ML, coat_cup, drops_words
from haze.core.day.cleaning import cleaning
from haze.core.day.hands import round_counts
from haze.core.day.holding import aim_words, holding_words, side_words
from haze.core.day.runsheet import trial_words
from haze.core.day.schedule.problem import CUP_ML, DAY_MIN, Entry, Task, timing
from haze.core.plan.coat import Coat, HandStep, MixPart, SprayAt, StationAt
from haze.core.plan.document import Plan
from haze.core.rules.cautions import Caution, plan_cautions, step_cautions
from haze.service.booth.pressed import Pressed
from haze.service.booth.step_id import StepId, Stretch
from haze.service.cups.setting import AssessIn, asked_of
from haze.service.cups.trials import AirbrushNamed, PaintNamed
from haze.service.day.document import CLOSE_MIN, OPEN_MIN
from haze.service.day.drawn import LaidDay
from haze.service.day.lanes import Group, part_of_step
from haze.service.piece.layers import LayerView
from haze.service.piece.onpiece import OnPiece

MOST_ROUND_PRESSES = 20  # of a coat: so few rounds are counted one by one
MOST_COPY_PRESSES = 60  # of a coat: so few copies held are counted one by one
LANDS_LITTLE = 0.02  # of a part: what gets less is not on its check list
StepKind = Literal["caution", "clean", "cup", "trial", "hold", "dry", "hand", "check", "close"]


class HoldView(BaseModel):
    """How a piece is held for a side; the angles draw the sketch."""

    azimuth_deg: float
    elevation_deg: float
    side: str
    words: str
    station: str


class ThroughView(BaseModel):
    """A paint through a needle as it is set: what a trial or trouble is about."""

    paint: PaintNamed
    airbrush: AirbrushNamed
    setting: AssessIn


class AfterView(BaseModel):
    """What must be over before: the step of an earlier one, and so many minutes after it.

    `latest_min` is how long one may wait at most; null without haste.
    """

    step: str
    minutes: float
    latest_min: float | None


class PartShare(BaseModel):
    """A part and the share of it this coat lands on."""

    name: str
    share: float


class BoothStep(BaseModel):
    """One step at the booth: what it says, how often it is pressed, what it waits for.

    `count` is how often it is pressed, each `unit` once; `which` are the copies in turn. `entry`
    names the stretch of the day it belongs to, which is planned from `from_min` to `to_min`.
    `mixed` is given at a trial of a mix: what is in the cup.
    """

    id: str
    entry: str
    kind: StepKind
    day: int
    from_min: float
    to_min: float
    title: str
    about: str
    words: list[str]
    count: int
    unit: Literal["round", "copy", "side", "step"]
    which: list[int]
    rounds: int | None = None
    colour: str | None = None
    spray: SprayAt | None = None
    hold: HoldView | None = None
    cup: list[str] = []
    cautions: list[Caution] = []
    sides: list[str] = []
    parts: list[PartShare] = []
    after: AfterView | None = None
    plan: str | None = None
    coat: str | None = None
    through: ThroughView | None = None
    mixed: list[MixPart] = []


@dataclass(frozen=True)
class BoothDay:
    """A laid day at the booth: plans as they are sprayed now, their pieces, what was pressed."""

    laid: LaidDay
    plans: dict[str, Plan]
    pieces: dict[str, OnPiece]
    pressed: Pressed
    layers: dict[str, dict[str, LayerView]]

    @cached_property
    def steps(self) -> list[BoothStep]:
        """All steps, in order."""
        return list(_steps(self))

    @cached_property
    def by_entry(self) -> dict[str, list[BoothStep]]:
        """The steps of each stretch of the day."""
        found: dict[str, list[BoothStep]] = {}
        for step in self.steps:
            found.setdefault(step.entry, []).append(step)
        return found


def entry_id(group: Group, step: int) -> str:
    """The name of a stretch of the day; it stays when the day is replanned."""
    tasks = group.of.tasks
    part = part_of_step(tasks, step)
    return str(Stretch(group.of.identity, tasks[step].step, part, group.copy_from))


def _steps(booth: BoothDay) -> Iterator[BoothStep]:
    laid = booth.laid
    day, end = -1, 0.0
    held: dict[int, Entry] = {}
    for n, e in enumerate(laid.work):
        on = int((e.start_min - e.setup_min + 1e-6) // DAY_MIN)
        if on != day:
            if day >= 0:
                yield _close(booth, day, end)
            day = on
            yield _open(booth, day, e.start_min - e.setup_min)
        end = e.end_min
        yield from _stretch(booth, e, laid.work[n + 1 :], held, day)
    if day >= 0:
        yield _close(booth, day, end)


def _stretch(
    booth: BoothDay, e: Entry, later: Sequence[Entry], held: dict[int, Entry], day: int
) -> Iterator[BoothStep]:
    """All steps of one stretch of the day; the first of them waits for what comes before."""
    group = booth.laid.groups[e.lane]
    plan = booth.plans[group.of.identity]
    step = next(c for c in plan.coats if c.id == group.of.tasks[e.step].step)
    made = _Stretch(booth, e, group, plan, day)
    if step.kind == "spray":
        last = held.get(e.airbrush or 1)
        held[e.airbrush or 1] = e
        steps = list(_sprayed(made, step, last, later))
    else:
        steps = [_by_hand(made, step)]
    after = _after(booth, e)
    for one in steps:
        # cleaning, pouring and trying can be done while it dries
        waits = one.kind in ("hold", "hand") and after is not None
        yield one.model_copy(update={"after": after}) if waits else one


@dataclass(frozen=True, slots=True)
class _Stretch:
    """What all steps of a stretch have in common."""

    booth: BoothDay
    e: Entry
    group: Group
    plan: Plan
    day: int

    @property
    def copies(self) -> list[int]:
        """The copies that have not gone wrong; all of them when all have."""
        whole = range(self.group.copy_from, self.group.copy_from + self.group.copies)
        wrong = self.booth.pressed.wrong
        left = [n for n in whole if (self.group.of.identity, n) not in wrong]
        return left or list(whole)

    def step(self, name: str, kind: StepKind, title: str, **more: object) -> BoothStep:
        """One step of it."""
        entry = entry_id(self.group, self.e.step)
        task = self.group.of.tasks[self.e.step]
        usual: dict[str, object] = {
            "id": f"{entry}:{name}",
            "entry": entry,
            "kind": kind,
            "day": self.day,
            "from_min": self.e.start_min + OPEN_MIN,
            "to_min": self.e.end_min + OPEN_MIN,
            "title": title,
            "about": f"{task.task.name} · {self.group.name}",
            "words": [],
            "count": 1,
            "unit": "step",
            "which": self.copies,
            "colour": task.colour,
            "plan": self.group.of.identity,
            "coat": task.step,
        }
        return BoothStep.model_validate(usual | more)


def _open(booth: BoothDay, day: int, begin: float) -> BoothStep:
    found = {c.id: c for plan in booth.plans.values() for c in plan_cautions(plan)}
    cautions = sorted(found.values(), key=lambda c: c.sign != "stop")
    step_id = StepId(None, "open", day)
    return BoothStep(
        id=str(step_id),
        entry=step_id.entry,
        kind="caution",
        day=day,
        from_min=begin,
        to_min=begin + OPEN_MIN,
        title="Before you start",
        about="Label and data sheet come first",
        words=[],
        count=1,
        unit="step",
        which=[],
        cautions=list(cautions),
    )


def _close(booth: BoothDay, day: int, end: float) -> BoothStep:
    step_id = StepId(None, "close", day)
    return BoothStep(
        id=str(step_id),
        entry=step_id.entry,
        kind="close",
        day=day,
        from_min=end + OPEN_MIN,
        to_min=end + OPEN_MIN + CLOSE_MIN,
        title="Clean up",
        about="The end of this sitting",
        words=[
            "Clean the airbrush thoroughly: needle out and wiped to the tip, nozzle clean.",
            "Drain the water from tank and trap. Unplug the compressor.",
            "Solvent rags into a closed metal container. Lids on, cups away.",
        ],
        count=1,
        unit="step",
        which=[],
    )


def _sprayed(
    made: _Stretch, coat: Coat, last: Entry | None, later: Sequence[Entry]
) -> Iterator[BoothStep]:
    e, booth = made.e, made.booth
    through = _through(made, coat)
    setting: dict[str, object] = {"spray": coat.spray, "through": through}
    if e.setup_min > 0:
        if last is not None:
            yield from _cleaned(made, coat, last)
        poured, more = _cup(made, coat, later)
        yield made.step(
            "cup",
            "cup",
            coat.mix.name,
            cup=poured,
            words=more,
            cautions=list(step_cautions(coat)),
            **setting,
        )
        mixed = [MixPart(paint=coat.paint, drops=coat.drops), *coat.also] if coat.also else []
        words = [trial_words(coat)]
        yield made.step("trial", "trial", "Try on card", words=words, mixed=mixed, **setting)
    yield from _held(made, coat, setting)
    if e.blown:
        seconds = 60.0 * (booth.laid.task(e).blow_min or 0.0)
        words = [f"Air only, from 80 mm: about {max(seconds, 5):.0f} s on each copy."]
        yield made.step("dry", "dry", "Blow it dry", words=words, **_by_copy(made))
    yield _check(made, coat, through)


def _cleaned(made: _Stretch, coat: Coat, last: Entry) -> Iterator[BoothStep]:
    """How the last cup is cleaned out; nothing when its rest goes into this one."""
    booth = made.booth
    task = booth.laid.task(made.e)
    if made.e.setup_min - task.setup_min < 1.0:
        return
    group = booth.laid.groups[last.lane]
    before = next(
        c for c in booth.plans[group.of.identity].coats if c.id == group.of.tasks[last.step].step
    )
    if before.kind != "spray":
        return
    cleaned = cleaning(before, coat)
    minutes = made.e.setup_min - task.setup_min
    yield made.step(
        "clean",
        "clean",
        "Clean thoroughly" if cleaned.level == "thorough" else "Rinse",
        words=[*cleaned.steps, f"About {minutes:.0f} min: {cleaned.why}."],
    )


def _cup(made: _Stretch, coat: Coat, later: Sequence[Entry]) -> tuple[list[str], list[str]]:
    """What goes into the cup for all that is sprayed from it, and more to know."""
    laid = made.booth.laid
    served = [made.e]
    for e in later:
        if e.airbrush is None or e.airbrush != made.e.airbrush:
            continue
        if e.setup_min > 0:
            break
        served.append(e)
    ml = sum(laid.task(e).ml_per_copy * laid.day.lanes[e.lane].copies for e in served)
    mix_ml = min(ml + CUP_REST_ML + TRIAL_ML, CUP_ML)
    poured = [f"{drops_words(p)} {p.what}" for p in coat_cup(coat, mix_ml=mix_ml)]
    more = []
    if len(served) > 1:
        names = list(dict.fromkeys(laid.groups[e.lane].name for e in served))
        more.append(f"It serves {', '.join(names)}.")
    if ml + CUP_REST_ML + TRIAL_ML > CUP_ML:
        more.append(f"In all {ml:.1f} ml are sprayed: fill it again when it runs low.")
    return poured, more


def _by_copy(made: _Stretch) -> dict[str, object]:
    return {"count": len(made.copies), "unit": "copy"}


def _held(made: _Stretch, coat: Coat, setting: dict[str, object]) -> Iterator[BoothStep]:
    """Every side in turn; where rounds must set between, all sides are gone round again."""
    counts = round_counts(coat)
    turns = max(counts) if coat.spray.rest_s and max(counts) > 1 else 1
    copies = len(made.copies)
    if sum(counts) * copies <= MOST_ROUND_PRESSES:
        unit = "round"
    elif len(counts) * turns * copies <= MOST_COPY_PRESSES:
        unit = "copy"
    else:
        unit = "side"
    for turn in range(turns):
        for n, count in enumerate(counts):
            rounds = count if turns == 1 else 1
            if turns > 1 and turn >= count:
                continue
            station = coat.stations[n] if coat.stations else None
            yield made.step(
                f"hold.{station.id if station else 'aim'}{f'.{turn + 1}' if turns > 1 else ''}",
                "hold",
                _side_title(coat, station),
                words=_side_words(coat, station, turn, turns),
                hold=_hold(station) if station else None,
                rounds=rounds,
                unit=unit,
                count=_presses(unit, rounds, copies),
                **setting,
            )


def _side_title(coat: Coat, station: StationAt | None) -> str:
    if station is None:
        assert coat.aim is not None
        return aim_words(coat.aim).capitalize()
    return side_words(station.azimuth_deg, station.elevation_deg).capitalize()


def _side_words(coat: Coat, station: StationAt | None, turn: int, turns: int) -> list[str]:
    how = "Turn the piece so that each spot faces the airbrush."
    words = [f"Sweep ± {station.spread_deg:g}°." if station else how]
    if turns > 1:
        words.append(f"Time {turn + 1} of {turns} round the piece.")
        if turn:
            blown = "Blow it dry" if coat.spray.blown else "Let it set"
            words.append(f"{blown}, {coat.spray.rest_s:g} s since the last time.")
    return words


def _hold(station: StationAt) -> HoldView:
    azimuth, elevation = station.azimuth_deg, station.elevation_deg
    return HoldView(
        azimuth_deg=azimuth,
        elevation_deg=elevation,
        side=side_words(azimuth, elevation),
        words=holding_words(azimuth, elevation),
        station=station.id,
    )


def _presses(unit: str, rounds: int, copies: int) -> int:
    return {"round": rounds * copies, "copy": copies, "side": 1}[unit]


def _check(made: _Stretch, coat: Coat, through: ThroughView) -> BoothStep:
    """Sides and parts of a coat, so that none is forgotten."""
    on = made.booth.pieces[made.group.of.identity]
    layer = made.booth.layers[made.group.of.identity][coat.id]
    named = {part.id: part.name for part in on.piece.parts_in(made.plan)}
    parts = [
        PartShare(name=named.get(p.part, "the piece"), share=p.landed_share)
        for p in layer.parts
        if p.landed_share >= LANDS_LITTLE
    ]
    sides = [side_words(s.azimuth_deg, s.elevation_deg) for s in coat.stations]
    if coat.aim:
        sides = [aim_words(coat.aim)]
    return made.step(
        "check",
        "check",
        "Turn it once round",
        sides=sides,
        parts=parts,
        through=through,
        **_by_copy(made),
    )


def _by_hand(made: _Stretch, step: HandStep) -> BoothStep:
    return made.step(
        "hand",
        "hand",
        step.name,
        words=[made.group.of.tasks[made.e.step].words],
        cautions=list(step_cautions(step)),
        **_by_copy(made),
    )


def _through(made: _Stretch, coat: Coat) -> ThroughView:
    on = made.booth.pieces[made.group.of.identity]
    airbrush = made.plan.airbrush
    return ThroughView(
        paint=PaintNamed(id=coat.paint.id, name=coat.paint.name, kind=coat.paint.kind),
        airbrush=AirbrushNamed(id=airbrush.id, name=airbrush.name, needle_mm=airbrush.needle_mm),
        setting=asked_of(on.spraying(made.plan, coat), drop_ul=coat.paint.drop_ul),
    )


def _after(booth: BoothDay, e: Entry) -> AfterView | None:
    """What a stretch waits for: the stretch of its lane before it, and how long after its end."""
    laid = booth.laid
    group = laid.groups[e.lane]
    working = [n for n in range(e.step) if laid.day.lanes[e.lane].tasks[n].kind != "rest"]
    if not working:
        return None
    tasks: tuple[Task, ...] = laid.day.lanes[e.lane].tasks
    before = working[-1]
    blown = any(x.blown for x in laid.work if (x.lane, x.step) == (e.lane, before))
    copies = laid.day.lanes[e.lane].copies
    ends = timing(tasks[before], copies, blown=blown).ends
    starts = timing(tasks[e.step], copies, blown=e.blown).starts
    apart = [b - a for b, a in zip(ends, starts, strict=True)]
    dry = 0.0 if blown else tasks[before].dry_min
    dry += sum(tasks[n].dry_min for n in range(before + 1, e.step))
    latest = tasks[before].latest_min
    most = inf if latest is None else min(apart) + latest - max(ends)
    return AfterView(
        step=entry_id(group, before),
        minutes=max(0.0, max(apart) + dry - max(ends)),
        latest_min=None if most == inf else most,
    )
