"""Working out the angles for the coats of a plan: few stations that paint the light wanted."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.arrays import Floats
from haze.core.drafting.coats import station_at
from haze.core.errors import CancelledError, NoLightError, NotInPlanError, NotSprayedError
from haze.core.film.skin import seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.angles import MOST_STATIONS, FoundStation, find_share, find_stations
from haze.core.light.atoms import Atoms
from haze.core.light.stations import Station
from haze.core.onpiece.wanted import (
    OFF_BY,
    film_for,
    visibility_of_film,
    wanted_lightness,
    whole_passes,
)
from haze.core.plan.base import Identity
from haze.core.plan.coat import Coat, StationAt
from haze.core.plan.document import Plan
from haze.core.progress import Progress
from haze.service.jobs import Report
from haze.service.piece.onpiece import OnPiece
from haze.service.wire import Strict


class AnglesBody(Strict):
    """Coats to find stations for; none named means every light coat of the plan."""

    plan: Plan
    coats: Annotated[list[Identity], Field(max_length=40)] = Field(default_factory=list)
    stations: int = Field(default=3, ge=1, le=MOST_STATIONS)
    cover_share: float | None = Field(default=None, ge=0.01, le=1)


class CoatAngles(BaseModel):
    """Stations found for one coat, and how near they come to what any number could do."""

    coat: str
    stations: list[StationAt]
    residual: float | None = None
    dense_residual: float | None = None
    covered_share: float
    words: str


class AnglesOut(BaseModel):
    coats: list[CoatAngles]
    off_share: float  # share of the surface more than 10 L* from the light wanted afterwards


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
    """Stations for each chosen coat in turn, each over what the coats before it leave."""
    plan = body.plan.model_copy(deep=True)
    chosen = _chosen(body)

    def tell(done: float, doing: str) -> None:
        if not report(done, doing):
            raise CancelledError("Stopped; your stations are as they were.")

    tell(0.05, "Looking at the light")
    on.deposits.refresh(
        on.deposits.coarse_lights(plan),
        lambda done, _: report(0.05 + 0.2 * done, "Looking at the light"),
    )
    value = on.lit.value(plan)[on.sampled]
    dark, light = on.lightness_ends(plan)
    wanted = wanted_lightness(value, dark=dark, light=light)
    tell(0.3, "Collecting stations to choose from")
    atoms = on.atoms(plan)
    out = []
    for step, index in enumerate(chosen):
        begun = 0.45 + 0.5 * step / len(chosen)
        tell(begun, f"Trying stations for {plan.coats[index].name}")
        coat = _sprayed(plan, index)
        if body.cover_share is not None:
            found = _cover(coat, atoms, value, body.cover_share)
        else:
            found = _reproduce(
                plan,
                index,
                on,
                atoms,
                wanted,
                body.stations,
                tell=lambda d, b=begun: report(b + 0.5 * d / len(chosen), "Trying stations"),  # type: ignore[misc]
            )
        coat.stations = found.stations
        out.append(found)
    off = np.abs(_lightness_after(plan, on) - wanted) > OFF_BY
    return AnglesOut(coats=out, off_share=float(off.mean()))


def _lightness_after(plan: Plan, on: OnPiece) -> Floats:
    return lightness_of_rgb(seen(on.sampled_skins(plan, len(plan.coats))[-1]))


def found_station(coat: Coat, number: int, found: FoundStation, passes: int) -> StationAt:
    """A found station as a plan holds it, in angles a hand can hold."""
    at = found.station
    rounded = Station(round(at.azimuth_deg % 360.0, 1), round(at.elevation_deg, 1), at.spread_deg)
    return station_at(f"{coat.id}-{number}"[-64:], rounded, passes=passes)


def _reproduce(
    plan: Plan,
    index: int,
    on: OnPiece,
    atoms: Atoms,
    wanted: Floats,
    stations: int,
    *,
    tell: Progress,
) -> CoatAngles:
    coat = _sprayed(plan, index)
    inside = on.sampled_skins(plan, index)[-1].inside
    target = film_for(coat.optics, inside=inside, lightness=wanted)
    if float(target.max()) <= 0:
        raise NoLightError(
            f"{coat.name} makes nothing lighter that the light wants lighter; choose a lighter "
            "paint or move the light.",
            field="coats",
        )
    pass_um = float(on.outcome(plan, coat).dry_film_um)
    shows = visibility_of_film(coat.optics, inside=inside, film_um=target)
    weighted, goal = atoms.weighted(shows), target * shows
    found = find_stations(weighted, goal, stations=stations, progress=tell)
    places = [atoms.where.index(s.station) for s in found.stations]
    passes = whole_passes(
        [s.passes for s in found.stations], lit=weighted.lit[places], target=goal, pass_um=pass_um
    )
    kept = [i for i, n in enumerate(passes) if n > 0]
    film = (np.array(passes) * pass_um) @ atoms.lit[places]
    residual = float(np.linalg.norm(film * shows - goal) / np.linalg.norm(goal))
    return CoatAngles(
        coat=coat.id,
        stations=[
            found_station(coat, n + 1, found.stations[i], passes[i]) for n, i in enumerate(kept)
        ],
        residual=residual,
        dense_residual=found.dense_residual,
        covered_share=float((film >= 0.5 * max(passes) * pass_um).mean()),
        words=_words(len(kept), residual, found.residual, found.dense_residual),
    )


def _words(count: int, residual: float, exact: float, dense: float) -> str:
    stations = "One station leaves" if count == 1 else f"{count} stations leave"
    text = (
        f"{stations} {residual:.0%} of the wanted film off where it shows; any number of them "
        f"could do {dense:.0%}."
    )
    if residual > exact + 0.05:
        text += (
            f" Whole passes cost {residual - exact:.0%} of that: thin the paint more, or sweep "
            "faster, so that a pass gives less."
        )
    return text


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
