"""The day as an ordered list of steps: pour, try, spray, dry, rinse; with times from the start."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from haze.core.day.amounts import CoatAmounts
from haze.core.day.holding import aim_words, holding_words
from haze.core.day.waits import Waits, hand_wait_s
from haze.core.plan.coat import Aim, Coat, HandStep, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.roles import HANDS
from haze.core.units import psi_to_bar

Kind = Literal["pour", "trial", "spray", "dry", "rinse", "hand", "rest"]
# hands-on times of the bench, judged
POUR_S = 60.0
TRIAL_S = 30.0
RINSE_S = 120.0


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the day; `beside` steps pass while the hands are free or do something else."""

    coat: str
    kind: Kind
    text: str
    start_s: float
    seconds: float
    beside: bool = False
    station: str | None = None
    passes: int | None = None


def _drops(count: int) -> str:
    return f"{count} drop{'' if count == 1 else 's'}"


def pour_words(amounts: CoatAmounts) -> str:
    """What goes into the cup, in order.

    Parameters
    ----------
    amounts : what goes into the cup
    """
    listed = ", then ".join(f"{_drops(p.drops)} {p.what}" for p in amounts.cup)
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


def rest_seconds(coat: Coat, *, one_pass_s: float, copies: int) -> float:
    """Idle time [s] between passes that spraying the other copies does not fill.

    Parameters
    ----------
    coat : sprayed or planned
    one_pass_s : float [s], of a stroke over the whole piece
    """
    return max(0.0, coat.spray.rest_s - one_pass_s * (copies - 1))


def _spray(coat: Coat, station: StationAt, *, start: float, one_pass_s: float, copies: int) -> Step:
    idle = rest_seconds(coat, one_pass_s=one_pass_s, copies=copies)
    seconds = station.passes * one_pass_s * copies + idle * station.passes
    times = f"{station.passes} pass{'' if station.passes == 1 else 'es'}"
    hold = holding_words(station.azimuth_deg, station.elevation_deg)
    spread = f", sweeping ± {station.spread_deg:g}°"
    dry = ", blown dry between" if coat.spray.blown and station.passes > 1 else ""
    text = f"{times}{spread}{dry}: {hold}."
    return Step(coat.id, "spray", text, start, seconds, station=station.id, passes=station.passes)


def _aimed(coat: Coat, aim: Aim, *, start: float, seconds: float, copies: int) -> Step:
    idle = rest_seconds(coat, one_pass_s=seconds / aim.passes, copies=copies)
    times = f"{aim.passes} pass{'' if aim.passes == 1 else 'es'}"
    text = f"{times}, {aim_words(aim)}; turn the piece so that each spot faces the airbrush."
    return Step(
        coat.id, "spray", text, start, seconds * copies + idle * aim.passes, passes=aim.passes
    )


def hand_words(step: HandStep, part: str | None) -> str:
    """What the hands do in a step by hand.

    Parameters
    ----------
    part : name of the part it is for; None for the whole piece
    """
    hand = HANDS[step.role]
    what = f"{step.paint.name}: " if step.paint else ""
    where = f" On {part} only." if part else ""
    zone = f" {aim_words(step.aim).capitalize()}." if step.aim else ""
    return f"{hand.label}. {what}{hand.words}{where}{zone}"


@dataclass(frozen=True, slots=True)
class Sprayed:
    """What a sprayed coat needs for its steps of the day."""

    amounts: CoatAmounts
    waits: Waits


def run_sheet(
    plan: Plan, *, sprayed: Mapping[str, Sprayed], parts: Mapping[str, str]
) -> list[Step]:
    """All steps of a plan in order; those that are switched off are left out.

    The cup is rinsed while the coat dries; the next cup is poured when both are done.

    Parameters
    ----------
    sprayed : amounts and waits of each sprayed coat by its id
    parts : names of the parts by id
    """
    steps: list[Step] = []
    todo = plan.done
    copies = plan.piece.copies
    clock = 0.0
    for i, one in enumerate(todo):
        last = i == len(todo) - 1
        if one.kind == "hand":
            clock = _by_hand(steps, one, start=clock, copies=copies, part=parts.get(one.part or ""))
        else:
            clock = _sprayed(steps, one, sprayed[one.id], start=clock, copies=copies, last=last)
    return steps


def _by_hand(
    steps: list[Step], step: HandStep, *, start: float, copies: int, part: str | None
) -> float:
    hands = 60.0 * HANDS[step.role].hands_min * copies
    clock = start
    if step.role != "rest":
        steps.append(Step(step.id, "hand", hand_words(step, part), clock, hands))
        clock += hands
    wait = hand_wait_s(step)
    if wait > 0:
        words = step.note or ("Leave it alone." if step.role == "rest" else "Wait until it is dry.")
        steps.append(Step(step.id, "rest", words, clock, wait, beside=True))
    return clock + wait


def _sprayed(
    steps: list[Step], coat: Coat, need: Sprayed, *, start: float, copies: int, last: bool
) -> float:
    clock = start
    steps.append(Step(coat.id, "pour", pour_words(need.amounts), clock, POUR_S))
    clock += POUR_S
    steps.append(Step(coat.id, "trial", trial_words(coat), clock, TRIAL_S))
    clock += TRIAL_S
    strokes = need.amounts.strokes_s
    if coat.aim:
        steps.append(_aimed(coat, coat.aim, start=clock, seconds=strokes, copies=copies))
        clock += steps[-1].seconds
    for station in coat.stations:
        one_pass = strokes / max(coat.passes, 1)
        steps.append(_spray(coat, station, start=clock, one_pass_s=one_pass, copies=copies))
        clock += steps[-1].seconds
    wait = need.waits
    after = "handling" if last else "the next step"
    dried = "blown" if wait.blown else "in still air"
    text = f"Dries {dried} before {after}."
    steps.append(Step(coat.id, "dry", text, clock, wait.recoat_s, beside=True))
    steps.append(Step(coat.id, "rinse", "Empty and rinse the cup.", clock, RINSE_S))
    return clock + max(wait.recoat_s, RINSE_S)


def total_seconds(steps: Sequence[Step]) -> float:
    """Length of the day [s].

    Parameters
    ----------
    steps : of the run sheet
    """
    return max((s.start_s + s.seconds for s in steps), default=0.0)
