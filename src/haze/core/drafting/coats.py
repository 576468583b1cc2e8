"""First drafts: a coat from a task, and the coats a fresh plan starts with."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil

from haze.core.drafting.recipes import Cup, passes_to_cover, recipe_for, spray_of
from haze.core.drafting.stock import Stock
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim, Coat, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import fresh_id
from haze.core.plan.lights import KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import ALL_ROUND, TaskName
from haze.core.spray.recipe import Recipe

# a ground coat comes from all round and from below, as much on every side (measured on the demo's
# pieces: open faces get 1.8 to 2.2 square-on passes whichever way they look)
GROUND: tuple[Station, ...] = (
    *(
        Station(azimuth, elevation, 25.0)
        for elevation in (20.0, -30.0)
        for azimuth in (0.0, 90.0, 180.0, 270.0)
    ),
    Station(0.0, 90.0, 25.0),
)
MOST_PASSES = 12
LEAST_GROUND_PASSES = 2  # one pass from each side leaves recesses bare


def every_side(elevation_deg: float, spread_deg: float, *, first_deg: float = 0.0) -> list[Station]:
    """Three stations round the piece.

    Parameters
    ----------
    elevation_deg, spread_deg : float [°], of each
    first_deg : float [°], azimuth of the first
    """
    return [Station(first_deg + turn, elevation_deg, spread_deg) for turn in (0.0, 120.0, 240.0)]


def draft_coat(
    identity: str,
    cup: Cup,
    *,
    stations: Sequence[Station],
    film_um: float | None = None,
    each_um: float | None = None,
    aim: Aim | None = None,
) -> Coat:
    """A coat with the school's recipe and passes for its task.

    Parameters
    ----------
    identity : its id
    cup : what is sprayed, for what, over what
    stations : from where it is swept
    film_um : float [µm, dry] wanted on a square-on surface; None lets the task decide
    each_um : float [µm, dry] every station is to leave square-on to it, instead
    aim : a field to aim at instead of sweeping from the stations

    Raises
    ------
    NoRecipeError
    """
    recipe = recipe_for(cup, aimed=aim is not None)
    per_pass = float(recipe.outcome.dry_film_um)
    passes = _passes(cup, recipe, film_um)
    each = passes if len(stations) < 3 else max(LEAST_GROUND_PASSES, ceil(passes / 2))
    if each_um is not None:
        each = passes = min(max(round(each_um / per_pass), 1), MOST_PASSES)
    return Coat(
        id=identity,
        name=cup.paint.name,
        task=cup.task,
        paint=cup.paint,
        thinner=cup.thinner,
        spray=spray_of(recipe),
        aim=aim and aim.model_copy(update={"passes": passes}),
        stations=[
            station_at(f"{identity}-{n}", station, passes=each)
            for n, station in enumerate([] if aim else stations, start=1)
        ],
    )


def _passes(cup: Cup, recipe: Recipe, film_um: float | None) -> int:
    """Passes for a film, or as many as the task takes."""
    per_pass = float(recipe.outcome.dry_film_um)
    if film_um is not None:
        passes = ceil(film_um / per_pass)
    elif cup.task == "cover":
        passes = passes_to_cover(cup.paint, over=cup.over, dry_film_um=per_pass)
    else:
        passes = recipe.passes
    return min(max(passes, 1), MOST_PASSES)


def station_at(identity: str, station: Station, *, passes: int) -> StationAt:
    """A station as a plan holds it.

    Parameters
    ----------
    identity : its id
    station : where it stands
    passes : how many
    """
    return StationAt(
        id=identity,
        azimuth_deg=station.azimuth_deg,
        elevation_deg=station.elevation_deg,
        spread_deg=station.spread_deg,
        passes=passes,
    )


def drafted(
    plan: Plan,
    stock: Stock,
    *,
    stem: str,
    task: TaskName,
    paint: PaintUsed,
    stations: Sequence[Station],
    over: str,
    aim: Aim | None = None,
    film_um: float | None = None,
    each_um: float | None = None,
) -> Coat:
    """A coat drafted into a plan, by its schools and in its room.

    Parameters
    ----------
    plan : gives schools, airbrush and room, and the ids that are taken
    stock : gives the thinner
    stem : what its id begins with
    task, paint, over : as in `Cup`
    stations, aim, film_um, each_um : as `draft_coat` takes them
    """
    return draft_coat(
        fresh_id(plan, stem),
        Cup.of(plan, stock, paint, task, over=over),
        stations=stations,
        aim=aim,
        film_um=film_um,
        each_um=each_um,
    )


def usual_stations(task: TaskName, light: KeyLight) -> list[Station]:
    """From where a coat of a task is swept first: all round, or where the light stands.

    Parameters
    ----------
    task : what the coat is for
    light : the plan's key light
    """
    return list(GROUND) if task in ALL_ROUND else [light.station]


def rung_coat(plan: Plan, mix: Mix, stock: Stock, *, over: str, note: str = "") -> Coat:
    """A rung of a mix, drafted by the plan's schools from its key light.

    Parameters
    ----------
    plan : the plan it goes into
    mix : what is in its cup
    stock : gives the thinner
    over : "#rrggbb", what it goes over
    note : str, a word to the painter
    """
    mix = mix.most_first()
    coat = drafted(
        plan,
        stock,
        stem="rung",
        task="rung",
        paint=mix.main,
        stations=[plan.key_light.station],
        over=over,
    )
    return coat.mixed_as(mix).model_copy(update={"name": mix.name, "note": note})
