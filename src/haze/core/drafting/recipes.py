"""Recipes for the coats of a plan, by its schools, for what is in the cup and what it goes over."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil

from haze.core.drafting.stock import Stock, own_thinner
from haze.core.errors import NoRecipeError
from haze.core.film.finish import inside_film
from haze.core.film.paint import covering_um
from haze.core.film.spectra import spectrum_of_hex
from haze.core.plan.coat import SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.piece import Room
from haze.core.plan.roles import TaskName, recipe_task
from haze.core.plan.schools import Schools
from haze.core.progress import Progress
from haze.core.spray.constants import PaintKind
from haze.core.spray.recipe import NoRecipe, Recipe, find_recipe
from haze.core.spray.unsure import NOMINAL, Latents

# a whole sequence asks for the same few recipes again and again
_found_recipe = lru_cache(maxsize=256)(find_recipe)
CONTRAST_STEPS = 4  # grounds of like contrast share a recipe


@dataclass(frozen=True, slots=True)
class Cup:
    """All that the recipe for a coat depends on.

    Attributes
    ----------
    paint, thinner, airbrush : what is sprayed with what
    task : what the coat is for
    room : where
    schools : the pressure school counts
    over : "#rrggbb", what it goes over
    latents : single factors that are believed of the paint in the airbrush
    """

    paint: PaintUsed
    task: TaskName
    thinner: ThinnerUsed
    airbrush: AirbrushUsed
    room: Room
    schools: Schools
    over: str
    latents: Latents = NOMINAL

    @classmethod
    def of(
        cls,
        plan: Plan,
        stock: Stock,
        paint: PaintUsed,
        task: TaskName,
        *,
        over: str,
        thinner: ThinnerUsed | None = None,
    ) -> Cup:
        """A cup for a coat of a plan.

        Parameters
        ----------
        plan : gives schools, airbrush and room
        stock : gives what is believed of the paint, and its own thinner
        paint, task : what is sprayed, for what
        over : "#rrggbb", what it goes over
        thinner : None for the paint's own

        Raises
        ------
        NothingFitsError : when no thinner goes with the paint
        """
        return cls(
            paint,
            task,
            thinner or own_thinner(paint, stock),
            plan.airbrush,
            plan.room,
            plan.schools,
            over,
            stock.latents_of(paint, plan.airbrush),
        )


def recipe_for(cup: Cup, *, aimed: bool = False) -> Recipe:
    """The school's recipe for a coat.

    For aiming it is near and quiet when that can be clean, so that the spot is small.

    Parameters
    ----------
    cup : what is sprayed, for what, over what
    aimed : whether the coat is aimed at a field

    Raises
    ------
    NoRecipeError : says why there is none and what would help
    """
    step = ceil(Mix.of((cup.paint, 1)).contrast_over(cup.over) * CONTRAST_STEPS)
    refused: list[NoRecipe] = []
    for school in schools_for(cup.schools, aimed=aimed):
        found = _found(replace(cup, schools=school), step)
        if isinstance(found, Recipe):
            return found
        refused.append(found)
    raise NoRecipeError(f"{refused[-1].reason} {refused[-1].change}", field="spray")


def _found(cup: Cup, step: int) -> Recipe | NoRecipe:
    return _found_recipe(
        cup.paint.kind,
        needle_mm=cup.airbrush.needle_mm,
        task=recipe_task(cup.task),
        school=cup.schools.pressure,
        thinner=cup.thinner.kind,
        temperature_c=cup.room.temperature_c,
        humidity_pct=cup.room.humidity_pct,
        contrast=step / CONTRAST_STEPS,
        latents=cup.latents,
    )


# what a sequence lays of each kind of paint
LAID_OF: dict[PaintKind, tuple[TaskName, ...]] = {
    "primer": ("prime", "light"),
    "white": ("cover", "light", "rung"),
    "brush_acrylic": ("cover", "rung"),
    "airbrush_acrylic": ("cover", "rung"),
    "transparent": ("veil",),
    "ink": ("veil",),
    "varnish": ("matt",),
}


def find_ahead(plan: Plan, stock: Stock, *, progress: Progress | None = None) -> None:
    """Find the recipes a sequence will ask for, so that it comes at once.

    Parameters
    ----------
    plan : gives schools, airbrush and room
    stock : whose kinds of paint count
    progress : called with the share done, 0 to 1; it stops when that returns False
    """
    first = {p.kind: p for p in reversed(stock.paints)}
    wanted = [
        (kind, task, step)
        for kind, tasks in LAID_OF.items()
        for task in tasks
        for step in range(1, CONTRAST_STEPS + 1)
        if kind in first
    ]
    for done, (kind, task, step) in enumerate(wanted):
        if progress is not None and not progress(done / len(wanted)):
            return
        paint = first[kind]
        cup = Cup.of(plan, stock, paint, task, over=paint.masstone)
        _found(replace(cup, latents=NOMINAL), step)


def schools_for(schools: Schools, *, aimed: bool) -> list[Schools]:
    """Whose recipes are tried, in turn: for aiming near and quiet first, so that the spot is small.

    Parameters
    ----------
    schools : of the plan
    aimed : whether the coat is aimed at a field
    """
    quiet = schools.model_copy(update={"pressure": "whisper"})
    return [quiet, schools] if aimed else [schools]


def spray_of(recipe: Recipe) -> SprayAt:
    """The recipe's setting as a plan holds it.

    Parameters
    ----------
    recipe : a found one
    """
    s = recipe.setting
    return SprayAt(
        thinner_parts=s.knob("thinner_parts"),
        flow_aid_parts=s.knob("flow_aid_parts"),
        retarder_parts=s.knob("retarder_parts"),
        trigger=s.knob("trigger"),
        pressure_psi=s.knob("pressure_psi"),
        distance_mm=s.knob("distance_mm"),
        speed_mm_s=s.knob("speed_mm_s"),
        rest_s=s.knob("rest_s"),
        blown=s.knob("blown") > 0.5,
    )


def passes_to_cover(paint: PaintUsed, *, over: str, dry_film_um: float) -> int:
    """Passes until the colour lies within ΔE00 3 of its thick colour over this ground.

    Parameters
    ----------
    paint : the paint
    over : "#rrggbb", the ground
    dry_film_um : float [µm], of one pass
    """
    ground = inside_film(spectrum_of_hex(over), "matt")
    return ceil(covering_um(paint.optics, ground=ground) / max(dry_film_um, 1e-3))


@dataclass(frozen=True, slots=True)
class Pass:
    """What a pass leaves square-on: dry film [µm], and the dry thickness of one splat [µm]."""

    film_um: float
    splat_um: float


def pass_left(
    plan: Plan, stock: Stock, paint: PaintUsed, task: TaskName, *, over: str, aimed: bool = False
) -> Pass:
    """What a pass of a drafted coat will leave.

    Parameters
    ----------
    plan : gives schools, airbrush and room
    stock : gives the thinner
    paint, task : what is sprayed, for what
    over : "#rrggbb", what it goes over
    aimed : whether it is aimed at a field

    Raises
    ------
    NoRecipeError, NothingFitsError
    """
    cup = Cup.of(plan, stock, paint, task, over=over)
    outcome = recipe_for(cup, aimed=aimed).outcome
    return Pass(float(outcome.dry_film_um), float(outcome.splat_dry_um))
