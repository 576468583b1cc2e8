"""First drafts: a coat from a task, and the coats a fresh plan starts with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import ceil

from haze.core.drafting.stock import Stock, own_thinner
from haze.core.errors import NoRecipeError
from haze.core.film.finish import inside_film
from haze.core.film.paint import covering_um
from haze.core.film.spectra import spectrum_of_hex
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim, Coat, SprayAt, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import fresh_id
from haze.core.plan.lights import KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.piece import Room
from haze.core.plan.roles import ALL_ROUND, TaskName, recipe_task
from haze.core.plan.schools import Schools
from haze.core.progress import Progress
from haze.core.spray.constants import PaintKind
from haze.core.spray.recipe import NoRecipe, Recipe, find_recipe
from haze.core.spray.unsure import NOMINAL, Latents

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

# a whole sequence asks for the same few recipes again and again
_found_recipe = lru_cache(maxsize=256)(find_recipe)
CONTRAST_STEPS = 4  # contrasts told apart, so that alike grounds share a recipe


def every_side(elevation_deg: float, spread_deg: float, *, first_deg: float = 0.0) -> list[Station]:
    """Three stations round the piece.

    Parameters
    ----------
    elevation_deg, spread_deg : float [°], of each
    first_deg : float [°], azimuth of the first
    """
    return [Station(first_deg + turn, elevation_deg, spread_deg) for turn in (0.0, 120.0, 240.0)]


def recipe_for(
    paint: PaintUsed,
    *,
    task: TaskName,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    over: str,
    latents: Latents = NOMINAL,
) -> Recipe:
    """The school's recipe for a coat.

    Parameters
    ----------
    paint, thinner, airbrush, room : what is sprayed with what, where
    task : what the coat is for
    schools : the pressure school counts
    over : "#rrggbb", what it goes over
    latents : single factors that are believed of the paint in the airbrush

    Raises
    ------
    NoRecipeError, which says why there is none and what would help
    """
    found = _found(
        paint.kind,
        task=task,
        thinner=thinner,
        airbrush=airbrush,
        room=room,
        schools=schools,
        step=ceil(Mix.of((paint, 1)).contrast_over(over) * CONTRAST_STEPS),
        latents=latents,
    )
    if isinstance(found, NoRecipe):
        raise NoRecipeError(f"{found.reason} {found.change}", field="spray")
    return found


def _found(
    kind: PaintKind,
    *,
    task: TaskName,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    step: int,
    latents: Latents = NOMINAL,
) -> Recipe | NoRecipe:
    return _found_recipe(
        kind,
        needle_mm=airbrush.needle_mm,
        task=recipe_task(task),
        school=schools.pressure,
        thinner=thinner.kind,
        temperature_c=room.temperature_c,
        humidity_pct=room.humidity_pct,
        contrast=step / CONTRAST_STEPS,
        latents=latents,
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
        _found(
            kind,
            task=task,
            thinner=own_thinner(first[kind], stock),
            airbrush=plan.airbrush,
            room=plan.room,
            schools=plan.schools,
            step=step,
        )


def schools_for(schools: Schools, *, aimed: bool) -> list[Schools]:
    """Whose recipes are tried, in turn: for aiming near and quiet first, so that the spot is small.

    Parameters
    ----------
    schools : of the plan
    aimed : whether the coat is aimed at a field
    """
    quiet = schools.model_copy(update={"pressure": "whisper"})
    return [quiet, schools] if aimed else [schools]


def close_recipe_for(
    paint: PaintUsed,
    *,
    task: TaskName,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    over: str,
    latents: Latents = NOMINAL,
) -> Recipe:
    """A recipe for aiming: near and quiet when that can be clean, so that the spot is small.

    Parameters
    ----------
    paint, task, thinner, airbrush, room, schools, over, latents : as `recipe_for` takes them
    """
    for school in schools_for(schools, aimed=True):
        try:
            return recipe_for(
                paint,
                task=task,
                thinner=thinner,
                airbrush=airbrush,
                room=room,
                schools=school,
                over=over,
                latents=latents,
            )
        except NoRecipeError:
            if school is schools:
                raise
    raise AssertionError("one of the schools answers or refuses")


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
    choose = close_recipe_for if aimed else recipe_for
    outcome = choose(
        paint,
        task=task,
        thinner=own_thinner(paint, stock),
        airbrush=plan.airbrush,
        room=plan.room,
        schools=plan.schools,
        over=over,
        latents=stock.latents_of(paint, plan.airbrush),
    ).outcome
    return Pass(float(outcome.dry_film_um), float(outcome.splat_dry_um))


def draft_coat(
    identity: str,
    *,
    task: TaskName,
    paint: PaintUsed,
    thinner: ThinnerUsed,
    airbrush: AirbrushUsed,
    room: Room,
    schools: Schools,
    stations: Sequence[Station],
    over: str,
    film_um: float | None = None,
    each_um: float | None = None,
    aim: Aim | None = None,
    latents: Latents = NOMINAL,
) -> Coat:
    """A coat with the school's recipe and passes for its task.

    Parameters
    ----------
    identity : its id
    task, paint, thinner, airbrush, room, schools : as `recipe_for` takes them
    stations : from where it is swept
    over : "#rrggbb", the ground this coat goes over
    film_um : float [µm, dry] wanted on a square-on surface; None lets the task decide
    each_um : float [µm, dry] every station is to leave square-on to it, instead
    aim : a field to aim at instead of sweeping from the stations
    latents : single factors that are believed of the paint in the airbrush
    """
    choose = close_recipe_for if aim else recipe_for
    recipe = choose(
        paint,
        task=task,
        thinner=thinner,
        airbrush=airbrush,
        room=room,
        schools=schools,
        over=over,
        latents=latents,
    )
    per_pass = float(recipe.outcome.dry_film_um)
    if film_um is not None:
        passes = ceil(film_um / per_pass)
    elif task == "cover":
        passes = passes_to_cover(paint, over=over, dry_film_um=per_pass)
    else:
        passes = recipe.passes
    passes = min(max(passes, 1), MOST_PASSES)
    each = passes if len(stations) < 3 else max(LEAST_GROUND_PASSES, ceil(passes / 2))
    if each_um is not None:
        each = passes = min(max(round(each_um / per_pass), 1), MOST_PASSES)
    return Coat(
        id=identity,
        name=paint.name,
        task=task,
        paint=paint,
        thinner=thinner,
        spray=spray_of(recipe),
        aim=aim and aim.model_copy(update={"passes": passes}),
        stations=[
            station_at(f"{identity}-{n}", station, passes=each)
            for n, station in enumerate([] if aim else stations, start=1)
        ],
    )


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
    task, paint, stations, over, aim, film_um, each_um : as `draft_coat` takes them
    """
    return draft_coat(
        fresh_id(plan, stem),
        task=task,
        paint=paint,
        thinner=own_thinner(paint, stock),
        airbrush=plan.airbrush,
        room=plan.room,
        schools=plan.schools,
        stations=stations,
        over=over,
        aim=aim,
        film_um=film_um,
        each_um=each_um,
        latents=stock.latents_of(paint, plan.airbrush),
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
    thinner, airbrush, room, schools : as `draft_coat` takes them
    light : where the light comes from
    surface : "#rrggbb", the bare piece
    """
    overhead = [Station(light.azimuth_deg, 70.0, 9.0)]

    def coat(
        name: str, task: TaskName, stations: Sequence[Station], over: str, film_um: float | None
    ) -> Coat:
        return draft_coat(
            name,
            task=task,
            paint=paints[name],
            thinner=thinner,
            airbrush=airbrush,
            room=room,
            schools=schools,
            stations=stations,
            over=over,
            film_um=film_um,
        )

    return [
        coat("dark", "prime", GROUND, surface, None),
        coat("mid", "light", [light.station], paints["dark"].masstone, 1.2),
        coat("light", "light", overhead, paints["mid"].masstone, 9.0),
        coat("veil", "veil", every_side(35.0, 30.0), paints["light"].masstone, 4.5),
    ]
