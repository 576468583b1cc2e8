"""The day as an ordered list of steps: pour, try, spray, dry, rinse; with times from the start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from haze.core.plan.amounts import CoatAmounts
from haze.core.plan.document import Coat, StationAt
from haze.core.plan.holding import holding_words
from haze.core.plan.waits import Waits
from haze.core.units import psi_to_bar

Kind = Literal["pour", "trial", "spray", "dry", "rinse"]

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
    """What goes into the cup, in order."""
    listed = ", then ".join(f"{_drops(p.drops)} {p.what}" for p in amounts.cup)
    loads = "" if amounts.cup_loads == 1 else f" Mix {amounts.cup_loads} such cups."
    return f"{listed}; stir.{loads}"


def trial_words(coat: Coat) -> str:
    """The setting to try on card before the piece."""
    s = coat.spray
    return (
        f"Try on card at {s.pressure_psi:g} psi ({psi_to_bar(s.pressure_psi):.2g} bar), "
        f"{s.distance_mm:g} mm, trigger stop "
        f"{s.trigger:.0%}."
    )


def rest_seconds(coat: Coat, *, one_pass_s: float, copies: int) -> float:
    """Idle time [s] between passes that spraying the other copies does not fill."""
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


def run_sheet(
    coats: Sequence[Coat],
    *,
    amounts: Sequence[CoatAmounts],
    waits: Sequence[Waits],
    copies: int,
) -> list[Step]:
    """All steps of a plan in order.

    The cup is rinsed while the coat dries; the next cup is poured when both are done.
    """
    steps: list[Step] = []
    clock = 0.0
    for i, (coat, need, wait) in enumerate(zip(coats, amounts, waits, strict=True)):
        steps.append(Step(coat.id, "pour", pour_words(need), clock, POUR_S))
        clock += POUR_S
        steps.append(Step(coat.id, "trial", trial_words(coat), clock, TRIAL_S))
        clock += TRIAL_S
        passes = max(sum(s.passes for s in coat.stations), 1)
        for station in coat.stations:
            step = _spray(
                coat,
                station,
                start=clock,
                one_pass_s=need.strokes_s / passes,
                copies=copies,
            )
            steps.append(step)
            clock += step.seconds
        last = i == len(coats) - 1
        after = "handling" if last else "the next coat"
        dried = "blown" if wait.blown else "in still air"
        steps.append(
            Step(
                coat.id, "dry", f"Dries {dried} before {after}.", clock, wait.recoat_s, beside=True
            )
        )
        steps.append(Step(coat.id, "rinse", "Empty and rinse the cup.", clock, RINSE_S))
        clock += max(wait.recoat_s, RINSE_S)
    return steps


def total_seconds(steps: Sequence[Step]) -> float:
    """Length of the day [s]."""
    return max((s.start_s + s.seconds for s in steps), default=0.0)
