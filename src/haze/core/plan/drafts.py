"""First drafts: a coat from a task, and the coats a fresh plan starts with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import ceil

from haze.core.errors import HazeError
from haze.core.film.finish import inside_film
from haze.core.film.paint import covering_um
from haze.core.film.spectra import spectrum_of_hex
from haze.core.plan.document import (
    Aim,
    AirbrushUsed,
    Coat,
    KeyLight,
    PaintUsed,
    Room,
    Schools,
    SprayAt,
    StationAt,
    ThinnerUsed,
)
from haze.core.plan.painting import optics_of
from haze.core.plan.roles import TaskName, recipe_task
from haze.core.spray.recipe import NoRecipe, Recipe, find_recipe

ALL_ROUND: tuple[tuple[float, float], ...] = (
    (45, 25),
    (135, 25),
    (225, 25),
    (315, 25),
    (0, 0),
    (0, -45),
    (180, -45),
)
MOST_PASSES = 12
LEAST_GROUND_PASSES = 2  # one pass from each side leaves recesses bare


@dataclass(frozen=True, slots=True)
class Angle:
    """A station before it has passes: azimuth, elevation, sweep [°]."""

    azimuth_deg: float
    elevation_deg: float
    spread_deg: float


def ground_angles() -> list[Angle]:
    """A ground coat comes from all round and from below."""
    return [Angle(a, e, 25.0) for a, e in ALL_ROUND] + [Angle(0, 90, 25.0)]


# a whole sequence asks for the same few recipes again and again
_found_recipe = lru_cache(maxsize=256)(find_recipe)


def recipe_for(
    paint: PaintUsed,
    *,
    task: str,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
) -> Recipe:
    """The school's recipe for a coat; `HazeError` says why there is none and what would help."""
    found = _found_recipe(
        paint.kind,
        needle_mm=airbrush.needle_mm,
        task=task,
        school=schools.pressure,
        thinner=thinner.kind,
        temperature_c=room.temperature_c,
        humidity_pct=room.humidity_pct,
    )
    if isinstance(found, NoRecipe):
        raise HazeError(f"{found.reason} {found.change}", field="spray")
    return found


def close_recipe_for(
    paint: PaintUsed,
    *,
    task: str,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
) -> Recipe:
    """A recipe for aiming: near and quiet when that can be clean, so that the spot is small."""
    quiet = schools.model_copy(update={"pressure": "whisper"})
    for school in (quiet, schools):
        try:
            return recipe_for(
                paint, task=task, thinner=thinner, airbrush=airbrush, room=room, schools=school
            )
        except HazeError:
            if school is schools:
                raise
    raise AssertionError("one of the schools answers or refuses")


def spray_of(recipe: Recipe) -> SprayAt:
    """The recipe's setting as a plan holds it."""
    s = recipe.setting
    return SprayAt(
        thinner_parts=s.knob("thinner_parts"),
        flow_aid_parts=s.knob("flow_aid_parts"),
        trigger=s.knob("trigger"),
        pressure_psi=s.knob("pressure_psi"),
        distance_mm=s.knob("distance_mm"),
        speed_mm_s=s.knob("speed_mm_s"),
        rest_s=s.knob("rest_s"),
        blown=s.knob("blown") > 0.5,
    )


def passes_to_cover(paint: PaintUsed, *, over: str, dry_film_um: float) -> int:
    """Passes until the colour lies within ΔE00 3 of its thick colour over this ground."""
    ground = inside_film(spectrum_of_hex(over), "matt")
    return ceil(covering_um(optics_of(paint), ground=ground) / max(dry_film_um, 1e-3))


def draft_coat(
    identity: str,
    *,
    task: TaskName,
    paint: PaintUsed,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    angles: list[Angle],
    over: str,
    film_um: float | None = None,
    aim: Aim | None = None,
) -> Coat:
    """A coat with the school's recipe and passes for its task.

    Parameters
    ----------
    over : "#rrggbb", the ground this coat goes over, for the passes of a covering coat
    film_um : float [µm, dry] wanted on a square-on surface; None lets the task decide
    aim : a field to aim at instead of sweeping from the angles
    """
    choose = close_recipe_for if aim else recipe_for
    recipe = choose(
        paint,
        task=recipe_task(task),
        thinner=thinner,
        airbrush=airbrush,
        room=room,
        schools=schools,
    )
    per_pass = float(recipe.outcome.dry_film_um)
    if film_um is not None:
        passes = ceil(film_um / per_pass)
    elif task in ("prime", "cover"):
        passes = passes_to_cover(paint, over=over, dry_film_um=per_pass)
    else:
        passes = recipe.passes
    passes = min(max(passes, 1), MOST_PASSES)
    each = passes if len(angles) < 3 else max(LEAST_GROUND_PASSES, ceil(passes / 2))
    return Coat(
        id=identity,
        name=paint.name,
        task=task,
        paint=paint,
        thinner=thinner,
        spray=spray_of(recipe),
        aim=aim and aim.model_copy(update={"passes": passes}),
        stations=[
            StationAt(
                id=f"{identity}-{i + 1}",
                azimuth_deg=a.azimuth_deg,
                elevation_deg=a.elevation_deg,
                spread_deg=a.spread_deg,
                passes=each,
            )
            for i, a in enumerate([] if aim else angles)
        ],
    )


def first_coats(
    paints: Mapping[str, PaintUsed],
    *,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    light: KeyLight,
    surface: str,
) -> list[Coat]:
    """Dark ground, mid tone from the light, white from overhead, one transparent veil.

    Parameters
    ----------
    paints : the paints called "dark", "mid", "light" and "veil"
    """
    dark, mid = paints["dark"].masstone, paints["mid"].masstone
    from_light = [Angle(light.azimuth_deg, light.elevation_deg, light.softness_deg)]
    overhead = [Angle(light.azimuth_deg, 70.0, 9.0)]
    every_side = [Angle(a, 35, 30) for a in (0.0, 120.0, 240.0)]

    def coat(
        name: str, task: TaskName, angles: list[Angle], over: str, film_um: float | None
    ) -> Coat:
        return draft_coat(
            name,
            task=task,
            paint=paints[name],
            thinner=thinner,
            airbrush=airbrush,
            room=room,
            schools=schools,
            angles=angles,
            over=over,
            film_um=film_um,
        )

    return [
        coat("dark", "prime", ground_angles(), surface, None),
        coat("mid", "light", from_light, dark, 1.2),
        coat("light", "light", overhead, mid, 9.0),
        coat("veil", "veil", every_side, paints["light"].masstone, 9.0),
    ]
