"""The day as an ordered list of steps: pour, try, spray, dry, rinse; with times from the start."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from haze.core.day.alike import Alike
from haze.core.day.amounts import CoatAmounts, drops_words
from haze.core.day.cleaning import cleaning
from haze.core.day.hands import Round, by_hand_s, idle_s, round_counts, side_hands_s
from haze.core.day.holding import aim_words, holding_words, side_words
from haze.core.day.waits import Waits, hand_wait_s
from haze.core.plan.coat import Aim, Coat, HandStep, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.roles import HANDS
from haze.core.plan.words import ZONE_WORDS
from haze.core.units import psi_to_bar

Kind = Literal["pour", "trial", "spray", "dry", "rinse", "hand", "rest"]
# hands-on times of the bench, judged
POUR_S = 60.0
TRIAL_S = 30.0


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the day; `beside` steps pass while the hands are free or do something else.

    `idle_s` is the part of `seconds` in which nothing can be done between rounds.
    """

    coat: str
    kind: Kind
    text: str
    start_s: float
    seconds: float
    beside: bool = False
    station: str | None = None
    rounds: int | None = None
    idle_s: float = 0.0


def pour_words(amounts: CoatAmounts) -> str:
    """What goes into the cup, in order.

    Parameters
    ----------
    amounts : what goes into the cup
    """
    listed = ", then ".join(f"{drops_words(p)} {p.what}" for p in amounts.cup)
    loads = "" if amounts.cup_loads == 1 else f" Mix {amounts.cup_loads} such cups."
    return f"{listed}; stir.{loads}"


def trial_words(coat: Coat) -> str:
    """The setting to try on card before the piece.

    Parameters
    ----------
    coat : sprayed or planned
    """
    s = coat.spray
    return (
        f"Try on card at {s.pressure_psi:g} psi ({psi_to_bar(s.pressure_psi):.2g} bar), "
        f"{s.distance_mm:g} mm, trigger stop "
        f"{s.trigger:.0%}."
    )


def _times(count: int) -> str:
    return f"{count} round{'' if count == 1 else 's'}"


def _side(
    coat: Coat, station: StationAt, one: Round, *, start: float, copies: int, idle: float
) -> Step:
    """All rounds from one side."""
    seconds = side_hands_s(station.passes, one, copies=copies) + idle
    side = side_words(station.azimuth_deg, station.elevation_deg)
    hold = holding_words(station.azimuth_deg, station.elevation_deg)
    text = f"{_times(station.passes)} {side}, sweeping ± {station.spread_deg:g}°: {hold}."
    return Step(
        coat.id,
        "spray",
        text,
        start,
        seconds,
        station=station.id,
        rounds=station.passes,
        idle_s=idle,
    )


def _aimed(coat: Coat, aim: Aim, one: Round, *, start: float, copies: int, idle: float) -> Step:
    text = (
        f"{_times(aim.passes)}, {aim_words(aim)}; turn the piece so that each spot faces the "
        "airbrush."
    )
    seconds = side_hands_s(aim.passes, one, copies=copies) + idle
    return Step(coat.id, "spray", text, start, seconds, rounds=aim.passes, idle_s=idle)


def going_round(coat: Coat, *, copies: int, idle: float) -> str | None:
    """How rounds and rests are laid when there is a rest between them; None when there is none.

    Parameters
    ----------
    coat : sprayed or planned
    copies : int
    idle : float [s], of the whole coat
    """
    counts = round_counts(coat)
    if not counts or max(counts) < 2 or not coat.spray.rest_s:
        return None
    turn = []
    if len(counts) > 1:
        turn.append("one round from each side")
    if copies > 1:
        turn.append(f"all {copies} copies")
    order = f"Go round: {', '.join(turn)}, then again. " if turn else ""
    blown = "blow it dry" if coat.spray.blown else "let it set"
    if idle > 0:
        return f"{order}Between rounds {blown} for {coat.spray.rest_s:g} s."
    return f"{order}It sets meanwhile: no waiting."


def hand_words(step: HandStep, part: str | None) -> str:
    """What the hands do in a step by hand.

    Parameters
    ----------
    part : name of the part it is for, or that its zone is about; None for the whole piece
    """
    if step.masks:
        over = f"Over {_region(step, part)}."
        kind = f"{step.masks.label}, which leaves {step.masks.edge}"
        return f"{HANDS[step.role].label}: {kind}. {over} {step.words}"
    what = f"{step.paint.name}: " if step.paint else ""
    where = f" On {part} only." if part and step.part else ""
    zone = f" {aim_words(step.aim).capitalize()}." if step.aim else ""
    return f"{HANDS[step.role].label}. {what}{step.words}{where}{zone}"


def _region(step: HandStep, part: str | None) -> str:
    """What a mask covers, in words."""
    if step.aim is None:
        return (part or "its part").lower()
    named = part if part and step.aim.field == "part" else ZONE_WORDS[step.aim.field]
    return f"{'everything but ' if step.aim.reversed else ''}{named.lower()}"


@dataclass(frozen=True, slots=True)
class CoatNeeds:
    """What a sprayed coat needs for its steps of the day; a round for each of its sides.

    `alike` tells how far rounds and wait differ in airbrushes like this one.
    """

    amounts: CoatAmounts
    waits: Waits
    rounds: Sequence[Round]
    alike: Alike


def run_sheet(
    plan: Plan,
    *,
    sprayed: Mapping[str, CoatNeeds],
    parts: Mapping[str, str],
    areas_cm2: Mapping[str, float],
) -> list[Step]:
    """All steps of a plan in order; those that are switched off are left out.

    The cup is rinsed while the coat dries; the next cup is poured when both are done. A rung whose
    rest is carried into the next is not rinsed out. After the last step nothing is waited for.

    Parameters
    ----------
    sprayed : amounts, waits and rounds of each sprayed coat by its id
    parts : names of the parts by id
    areas_cm2 : float [cm²], what each step by hand is done on, of one copy, by its id
    """
    steps: list[Step] = []
    todo = plan.done
    clock = 0.0
    for one, after in pairwise([*todo, None]):
        assert one is not None
        if one.kind == "hand":
            clock = _by_hand(
                steps,
                one,
                start=clock,
                hands=by_hand_s(one, copies=plan.piece.copies, area_cm2=areas_cm2[one.id]),
                part=parts.get(one.about_part or ""),
                last=after is None,
            )
        else:
            clock = _sprayed(steps, plan, one, sprayed[one.id], start=clock, after=after)
    return steps


def _by_hand(
    steps: list[Step], step: HandStep, *, start: float, hands: float, part: str | None, last: bool
) -> float:
    clock = start
    if step.role != "rest":
        steps.append(Step(step.id, "hand", hand_words(step, part), clock, hands))
        clock += hands
    wait = 0.0 if last else hand_wait_s(step)
    if wait > 0:
        words = step.note or ("Leave it alone." if step.role == "rest" else "Wait until it is dry.")
        steps.append(Step(step.id, "rest", words, clock, wait, beside=True))
    return clock + wait


def _sprayed(
    steps: list[Step],
    plan: Plan,
    coat: Coat,
    need: CoatNeeds,
    *,
    start: float,
    after: Coat | HandStep | None,
) -> float:
    copies = plan.piece.copies
    clock = start
    steps.append(Step(coat.id, "pour", pour_words(need.amounts), clock, POUR_S))
    clock += POUR_S
    idle = idle_s(coat, need.rounds, copies=copies)
    words = [trial_words(coat), going_round(coat, copies=copies, idle=idle)]
    text = " ".join(w for w in words if w)
    steps.append(Step(coat.id, "trial", text, clock, TRIAL_S))
    clock += TRIAL_S
    share = idle / max(len(need.rounds), 1)
    if coat.aim:
        steps.append(_aimed(coat, coat.aim, need.rounds[0], start=clock, copies=copies, idle=share))
        clock += steps[-1].seconds
    for station, one in zip(coat.stations, need.rounds if coat.stations else (), strict=True):
        steps.append(_side(coat, station, one, start=clock, copies=copies, idle=share))
        clock += steps[-1].seconds
    wait = 0.0
    if after is not None:
        wait = need.waits.recoat_s
        dried = "blown" if need.waits.blown else "in still air"
        text = f"Dries {dried} before the next step."
        steps.append(Step(coat.id, "dry", text, clock, wait, beside=True))
    if is_carried(plan, coat, after):
        return clock + wait
    cleaned = cleaning(coat, next_sprayed(plan, coat))
    steps.append(Step(coat.id, "rinse", cleaned.words, clock, cleaned.seconds))
    return clock + max(wait, cleaned.seconds)


def next_sprayed(plan: Plan, coat: Coat) -> Coat | None:
    """The sprayed coat that comes next; None after the last.

    Parameters
    ----------
    plan : whose coats
    coat : one of them
    """
    sprayed = [c for c in plan.done if c.kind == "spray"]
    place = next((n for n, c in enumerate(sprayed) if c.id == coat.id), len(sprayed))
    return next(iter(sprayed[place + 1 :]), None)


def is_carried(plan: Plan, coat: Coat, after: Coat | HandStep | None) -> bool:
    """Whether the rest of a coat's cup goes into the next one.

    Parameters
    ----------
    plan : whose school for cups it follows
    coat : in the cup now
    after : the step that follows; None after the last
    """
    if plan.schools.cup != "carry" or after is None or after.kind != "spray":
        return False
    return coat.task == after.task == "rung"
