"""Working out the angles of a plan's light coats: few stations and whole rounds for its light."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.arrays import Floats, Longs
from haze.core.drafting.coats import station_at
from haze.core.errors import CancelledError, NoLightError, NotInPlanError, NotSprayedError
from haze.core.light.angles import MOST_STATIONS, FoundStation, find_share
from haze.core.light.atoms import Atoms
from haze.core.light.stations import Station, deposit
from haze.core.onpiece.painting import mist_um
from haze.core.onpiece.wanted import Nearness, nearness, within_words
from haze.core.onpiece.whole_light import (
    Fit,
    LightCoat,
    Rounds,
    State,
    coat_by_coat,
    solve,
    state_of,
    unsteady,
)
from haze.core.plan.base import Identity
from haze.core.plan.coat import Coat, StationAt
from haze.core.plan.document import Plan
from haze.core.progress import Progress
from haze.service.forms.wire import Strict
from haze.service.piece.onpiece import OnPiece
from haze.service.work.jobs import Report

FITTED_PLACES = 1500  # that count; more do not change the answer and cost time
LEAST_PLACES = 40
BELOW_LIGHT_DEG = 20.0
DOES_LITTLE = 0.05  # of the front: a coat that gains less says so
LEAST_SPAN = 2.0  # L* between the darkest and the lightest wish; below it there is no light


class AnglesBody(Strict):
    """Coats to find stations for; none named means every light coat of the plan, together."""

    plan: Plan
    coats: Annotated[list[Identity], Field(max_length=40)] = Field(default_factory=list)
    stations: int = Field(default=3, ge=1, le=MOST_STATIONS)
    cover_share: float | None = Field(default=None, ge=0.01, le=1)


class CoatAngles(BaseModel):
    """Stations found for one coat."""

    coat: str
    stations: list[StationAt]
    covered_share: float
    words: str


class AnglesOut(BaseModel):
    """Stations of each coat; how near the plan ends to its light before and after.

    `unsteady_low` and `unsteady_high` hold the share of the front for a hand that is 7° and a
    fifth of the film off, in eight of ten tries.
    """

    coats: list[CoatAngles]
    before: Nearness | None = None
    after: Nearness | None = None
    unsteady_low: float | None = None
    unsteady_high: float | None = None
    words: str


def _chosen(body: AnglesBody) -> list[int]:
    plan = body.plan
    if not body.coats:
        if not plan.light_coats():
            raise NoLightError(
                "The plan has no light coat; add one, or choose a coat.", field="coats"
            )
        return plan.light_coats()
    found = [i for i, c in enumerate(plan.coats) if c.id in body.coats]
    if len(found) != len(set(body.coats)):
        raise NotInPlanError("A coat that was named is not in the plan.", field="coats")
    for step in (plan.coats[i] for i in found):
        if step.kind == "hand":
            raise NotSprayedError(
                f"{step.name} is done by hand and has no stations.", field="coats"
            )
        if step.aim:
            raise NotSprayedError(
                f"{step.name} is an aimed coat and has no stations.", field="coats"
            )
    return found


def _sprayed(plan: Plan, index: int) -> Coat:
    coat = plan.coats[index]
    assert coat.kind == "spray"  # the chosen ones are
    return coat


def work_out(body: AnglesBody, on: OnPiece, report: Report) -> AnglesOut:
    """Stations for the chosen coats, all together; the others stay as they are."""
    plan = body.plan
    chosen = _chosen(body)

    def tell(done: float, doing: str) -> None:
        if not report(done, doing):
            raise CancelledError("Stopped; your stations are as they were.")

    tell(0.05, "Looking at the light")
    on.deposits.refresh(
        on.deposits.coarse_lights(plan),
        lambda done, _: report(0.05 + 0.2 * done, "Looking at the light"),
    )
    tell(0.25, "Collecting stations to choose from")
    atoms = on.atoms(plan)
    if body.cover_share is not None:
        value = on.lit.value(plan)[on.sampled]
        coats = [_cover(_sprayed(plan, index), atoms, value, body.cover_share) for index in chosen]
        return AnglesOut(coats=coats, words=" ".join(c.words for c in coats))
    tell(0.4, "Trying stations")
    return _together(
        plan,
        chosen,
        on,
        stations=body.stations,
        progress=lambda done: report(0.4 + 0.55 * done, "Trying stations"),
    )


@dataclass(frozen=True, slots=True)
class _Counted:
    """The places that count, as vertices and as samples; and how much."""

    vertices: Longs
    samples: Longs
    weight: Floats


def _counted(plan: Plan, on: OnPiece) -> _Counted:
    weight = on.place_weights(plan)[on.sampled]
    counted = np.flatnonzero(weight > 0)
    if len(counted) < LEAST_PLACES:
        raise NoLightError(
            "Light coats decide next to nothing of the end here: aimed coats, glows and recesses "
            "take it all.",
            field="coats",
        )
    counted = counted[:: max(1, len(counted) // FITTED_PLACES)]
    return _Counted(on.sampled[counted], counted, weight[counted])


def fit_of(plan: Plan, chosen: Sequence[int], on: OnPiece, *, stations: int) -> Fit:
    """The wish of a plan, and what there is to meet it with.

    Parameters
    ----------
    plan : the plan
    chosen : places of the coats whose stations are asked for
    on : its piece
    stations : int, most of a coat
    """
    places = _counted(plan, on)
    atoms = on.atoms(plan)
    above = np.flatnonzero([s.elevation_deg >= _lowest(plan) for s in atoms.where])
    own = _stations(plan, chosen)
    landed = [on.deposits.spray(station)[places.vertices] for station in own]
    wish = on.wish(plan, sampled=True)
    coats = []
    for index in chosen:
        outcome = on.outcome(plan, _sprayed(plan, index))
        coats.append(LightCoat(float(outcome.dry_film_um), mist_um(outcome, passes=1)))
    return Fit(
        stack=on.stack(plan, places.vertices, open_at=chosen),
        coats=coats,
        where=[*own, *(atoms.where[i] for i in above)],
        lit=np.concatenate([np.stack(landed), atoms.lit[np.ix_(above, places.samples)]]),
        openness=on.piece.openness[places.vertices],
        wanted=wish.lightness[places.samples],
        weight=places.weight,
        stations=stations,
    )


def _stations(plan: Plan, chosen: Sequence[int]) -> list[Station]:
    """The stations of some coats as they are, each once."""
    return list(dict.fromkeys(s.station for i in chosen for s in _sprayed(plan, i).stations))


def _as_it_is(plan: Plan, chosen: Sequence[int], fit: Fit) -> State:
    """The plan's own stations and rounds."""
    rounds: list[Rounds] = []
    for index in chosen:
        own: Rounds = {}
        for s in _sprayed(plan, index).stations:
            atom = fit.where.index(s.station)
            own[atom] = own.get(atom, 0.0) + s.passes
        rounds.append(own)
    return state_of(fit, rounds)


def _lowest(plan: Plan) -> float:
    """Elevation [°] under which no light coat is sprayed: nobody paints light from below it."""
    keys = [light.elevation_deg for light in plan.lights if light.kind == "key"]
    return min([0.0, *(e - BELOW_LIGHT_DEG for e in keys)])


def _together(
    plan: Plan, chosen: Sequence[int], on: OnPiece, *, stations: int, progress: Progress
) -> AnglesOut:
    fit = fit_of(plan, chosen, on, stations=stations)
    own = _as_it_is(plan, chosen, fit)
    before = _near(fit, own.off)
    if float(fit.wanted.max() - fit.wanted.min()) < LEAST_SPAN:
        raise NoLightError(
            "No light coat makes anything lighter at the end; choose a lighter paint or move the "
            "light.",
            field="coats",
        )
    starts = [coat_by_coat(fit)]
    if all(len(rounds) <= stations for rounds in own.rounds):
        starts.append(own)
    best = solve(fit, starts, progress=progress)
    after = _near(fit, best.off)
    seen_by = on.piece.table[:, _counted(plan, on).vertices]
    low, high = unsteady(
        fit,
        best,
        lambda station: deposit(seen_by, station),
        lambda off: _near(fit, off).show_share,
    )
    return AnglesOut(
        coats=[
            _found(_sprayed(plan, index), fit, best, number) for number, index in enumerate(chosen)
        ],
        before=before,
        after=after,
        unsteady_low=low,
        unsteady_high=high,
        words=near_words(before, after, low, high),
    )


def _near(fit: Fit, off: Floats) -> Nearness:
    return nearness(off, weight=fit.weight, area=np.ones_like(off))


def _found(coat: Coat, fit: Fit, best: State, number: int) -> CoatAngles:
    rounds, film = best.rounds[number], best.films[number]
    films = [*best.films]
    films[number] = np.zeros_like(film)
    without = _near(fit, fit.stack.lightness(films) - fit.wanted).show_share
    most = max(rounds.values()) * fit.coats[number].pass_um
    ordered = sorted(rounds.items(), key=lambda pair: -pair[1])
    return CoatAngles(
        coat=coat.id,
        stations=[
            found_station(coat, n + 1, FoundStation(fit.where[atom], count), int(count))
            for n, (atom, count) in enumerate(ordered)
        ],
        covered_share=float((film >= 0.5 * most).mean()),
        words=_coat_words(rounds, share=_near(fit, best.off).show_share, without=without),
    )


def _coat_words(rounds: Rounds, *, share: float, without: float) -> str:
    sides, whole = len(rounds), int(sum(rounds.values()))
    text = f"{whole} round{'' if whole == 1 else 's'} from {sides} side{'' if sides == 1 else 's'}"
    if without > share - DOES_LITTLE:
        return f"{text}; it does little here: {without:.0%} of the front without it."
    return f"{text}."


def near_words(before: Nearness, after: Nearness, low: float, high: float) -> str:
    """How near the plan ends to its light, before and after, for a painter.

    Parameters
    ----------
    before, after : as planned, and with the stations found
    low, high : float [0..1], share of the front for an unsteady hand
    """
    text = (
        f"{within_words(after)}; before it was {before.show_share:.0%} and {before.share:.0%}. "
        f"On average {after.mean:.1f} L* off, before {before.mean:.1f}."
    )
    if low < after.show_share - 0.02:
        text += f" A hand that is not steady: {low:.0%} to {high:.0%} of the front."
    return text


def found_station(coat: Coat, number: int, found: FoundStation, passes: int) -> StationAt:
    """A found station as a plan holds it, in angles a hand can hold."""
    at = found.station
    rounded = Station(round(at.azimuth_deg % 360.0, 1), round(at.elevation_deg, 1), at.spread_deg)
    return station_at(f"{coat.id}-{number}"[-64:], rounded, passes=passes)


def _cover(coat: Coat, atoms: Atoms, value: Floats, wanted: float) -> CoatAngles:
    stations, share = find_share(atoms, wanted=wanted, toward=value)
    near = abs(share - wanted) <= 0.03
    words = f"Covers {share:.0%} of the surface" + (
        "." if near else f"; no few stations come nearer to {wanted:.0%}."
    )
    return CoatAngles(
        coat=coat.id,
        stations=[found_station(coat, i + 1, s, coat.most_passes) for i, s in enumerate(stations)],
        covered_share=share,
        words=words,
    )
