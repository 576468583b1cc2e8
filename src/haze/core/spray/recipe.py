"""A task and a school become one setting inside the clean window: a seeded search.

The search scatters settings over what the school and the task allow, keeps what is clean, and
weighs the risk left against the painter's time: strokes and rests of every pass, a film per pass
that is not the task's, and a hand, a distance or a trigger that is not the usual one.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Array
from haze.core.errors import OutOfRangeError, require_range
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.constants import (
    OWN_THINNER,
    Surface,
    paint_of,
    require_suitable,
    thinner_of,
)
from haze.core.spray.footprint import line_width_mm
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting, make_setting, one_of, side_by_side
from haze.core.spray.specks import resting_splat_factor
from haze.core.spray.tasks import Range, School, SprayTask, box_of, film_of_task, school_of, task_of
from haze.core.spray.unsure import NOMINAL, Latents

__all__ = ("NoRecipe", "Recipe", "find_recipe")

KNOB_LIMITS: dict[str, Range] = {
    "thinner_parts": (0.05, 8.0),
    "trigger": (0.02, 1.0),
    "pressure_psi": (2.0, 45.0),
    "distance_mm": (3.0, 300.0),
    "speed_mm_s": (15.0, 800.0),
}
MARGIN_STEPS = 64
Margin = tuple[float | None, float | None]
KNOBS = ("thinner_parts", "trigger", "pressure_psi", "distance_mm", "speed_mm_s")
SAMPLES = 4000
MOST_PASSES = 60
SHORTLIST = 60
RESTS = ((0.0, 0.0), (10.0, 1.0), (30.0, 1.0), (60.0, 1.0), (120.0, 0.0))
LEAST_SIZE_MM, MOST_SIZE_MM = 0.05, 50.0  # of lines and specks
WANTED_WITHIN = 0.3  # ln of the ratio to a wanted width or speck size
SEED = 19
USUAL_DISTANCE_MM, USUAL_SPEED_MM_S = 70.0, 80.0
PASS_COST = 0.04  # of the score for a pass at usual distance and hand (judged)
REST_COST = 0.01  # for ten seconds of rest before a pass
PACE_COST, PLACE_COST, OPENING_COST = 3.0, 0.8, 0.5  # per squared ln of what is unusual


@dataclass(frozen=True)
class Recipe:
    """A found setting, its outcome, and how far each knob may move and stay clean."""

    setting: Setting
    outcome: Outcome
    passes: int
    job: SprayTask
    clean_share: float  # of the school's box for this paint and needle
    why: str
    latents: Latents = NOMINAL  # the factors it was found for

    @cached_property
    def margins(self) -> dict[str, Margin]:
        """For each knob the range in which it alone may be turned and the spray stays clean."""
        return margins(self.setting, self.job, self.latents)


@dataclass(frozen=True, slots=True)
class NoRecipe:
    """Why nothing clean was found, and what would make one possible."""

    reason: str
    change: str


def _scatter(low: float, high: float, rng: np.random.Generator) -> Array:
    return rng.uniform(low, high, SAMPLES)


def find_recipe(
    paint: str,
    *,
    needle_mm: float,
    task: str,
    school: str,
    thinner: str | None = None,
    temperature_c: float = 20.0,
    humidity_pct: float = 50.0,
    line_mm: float | None = None,
    speck_mm: float | None = None,
    contrast: float | None = None,
    surface: Surface = "matt",
    latents: Latents = NOMINAL,
) -> Recipe | NoRecipe:
    """Search the school's box for a clean setting with wide margins.

    Parameters
    ----------
    paint, task, school, thinner : str, names of the tables; thinner None means the paint's own
    needle_mm : float [mm]
    temperature_c, humidity_pct : float [°C], [%]
    line_mm, speck_mm : float [mm], wanted width of a line or diameter of a speck
    contrast : float [0..1], of a speck against its ground; None for the paint's usual one
    surface : what lies below
    latents : single factors that are believed of this paint in this airbrush
    """
    row, job, box_school = paint_of(paint), task_of(task), school_of(school)
    chosen = thinner or OWN_THINNER[row.chemistry]
    require_suitable(row, thinner_of(chosen))
    if job.name == "line" and not line_mm:
        raise OutOfRangeError("line_mm is missing; a line needs its width in mm.", field="line_mm")
    if job.name == "speck" and not speck_mm:
        raise OutOfRangeError(
            "speck_mm is missing; specks need their size in mm.", field="speck_mm"
        )
    for name, wanted in (("line_mm", line_mm), ("speck_mm", speck_mm)):
        if wanted is not None:
            require_range(name, wanted, LEAST_SIZE_MM, MOST_SIZE_MM, "mm")
    rng = np.random.default_rng(SEED)
    box = box_of(row, thinner=chosen, school=box_school, task=job)
    knobs = {name: _scatter(low, high, rng) for name, (low, high) in box.items()}
    many = make_setting(
        paint,
        thinner=chosen,
        needle_mm=needle_mm,
        temperature_c=temperature_c,
        humidity_pct=humidity_pct,
        contrast=contrast,
        surface=surface,
        **knobs,
    )
    wanted_mm = {"line": line_mm, "speck": speck_mm}.get(job.name)
    ranked, clean_share = _rank(
        many, spray(many, latents), job, wanted_mm, unusual=_unusual(knobs, box_school, job)
    )
    found = _settle(ranked, job=job, clean_share=clean_share, latents=latents)
    if wanted_mm is not None and isinstance(found, Recipe):
        return _check_size(found, job, wanted_mm)
    return found


def _rank(
    many: Setting, once: Outcome, job: SprayTask, wanted_mm: float | None, *, unusual: Array
) -> tuple[_Ranked, float]:
    """The shortlist of settings for a task, and the share of all that is clean."""
    risk = _task_risk(once, job)
    film = film_of_task(job, many.paint)
    passes = np.clip(
        np.ceil(film / np.maximum(once.dry_film_um, 1e-3)), job.least_passes, MOST_PASSES
    )
    fit = _misfit(once, many, job, wanted_mm, passes)
    score = 2.5 * risk + fit + _strokes_cost(many, passes) + unusual
    order = np.argsort(np.where(risk < CLEAN_BELOW, score, score + 100.0))[:SHORTLIST]
    return _Ranked(many, order, passes, score), float(np.mean(risk < CLEAN_BELOW))


def _check_size(found: Recipe, job: SprayTask, wanted_mm: float) -> Recipe | NoRecipe:
    """Refuse a recipe whose line or speck is far from the wanted size."""
    strokes = np.asarray(float(found.passes))
    if float(_miss(found.outcome, found.setting, job, wanted_mm, strokes)) <= WANTED_WITHIN:
        return found
    sizes = (
        line_of(found.outcome, found.setting, strokes=strokes)
        if job.name == "line"
        else speck_of(found.outcome)
    )
    finer = float(sizes) > wanted_mm
    return NoRecipe(
        reason=f"The nearest clean {job.name} in this school is {float(sizes):.2g} mm, "
        f"not {wanted_mm:g} mm.",
        change="Try a finer needle or another school."
        if finer
        else "Try a wider needle or another school.",
    )


def _task_risk(outcome: Outcome, job: SprayTask) -> Array:
    """Worst risk that matters: for specks on purpose, specks are the aim."""
    if job.name == "speck":
        return np.asarray(np.maximum.reduce([outcome.spiders, outcome.dust, outcome.no_flow]))
    return outcome.worst


def line_of(outcome: Outcome, s: Setting, *, strokes: Array) -> Array:
    """Width [mm] of the line these settings draw in so many strokes over each other.

    Parameters
    ----------
    outcome : what the setting does
    s : the setting
    """
    return line_width_mm(
        outcome.dry_film_um * strokes, hiding_um=s.paint.hiding_um or 6.0, distance_mm=s.distance_mm
    )


def speck_of(outcome: Outcome) -> Array:
    """Diameter [mm] of the larger specks: twice the mean droplet, spread as it rests.

    Parameters
    ----------
    outcome : what the setting does
    """
    return np.asarray(2.0 * resting_splat_factor() * outcome.droplet_um / 1000.0)


def _miss(outcome: Outcome, s: Setting, job: SprayTask, wanted_mm: float, strokes: Array) -> Array:
    size = line_of(outcome, s, strokes=strokes) if job.name == "line" else speck_of(outcome)
    return np.asarray(np.abs(np.log(np.maximum(size, 1e-3) / wanted_mm)))


def _misfit(
    outcome: Outcome, s: Setting, job: SprayTask, wanted_mm: float | None, passes: Array
) -> Array:
    if wanted_mm is not None:
        return 8.0 * _miss(outcome, s, job, wanted_mm, passes)
    low, high = job.pass_um
    film = np.maximum(outcome.dry_film_um, 1e-3)
    return np.asarray(np.maximum(np.log(low / film), 0.0) + np.maximum(np.log(film / high), 0.0))


def _strokes_cost(s: Setting, passes: Array) -> Array:
    """What the strokes of all passes cost, against ten passes in a minute of spraying each.

    Strokes lie a share of the distance apart, so their time goes as 1/(distance · speed).
    """
    reference = USUAL_DISTANCE_MM * USUAL_SPEED_MM_S
    return np.asarray(PASS_COST * passes * (0.5 + 0.5 * reference / (s.distance_mm * s.speed_mm_s)))


def _unusual(knobs: dict[str, Array], school: School, job: SprayTask) -> Array:
    """Distance from the hand, the distance and the trigger a painter of the school would choose."""
    if job.name in ("line", "speck"):
        return np.zeros(SAMPLES)
    near, far = school.distance_mm
    usual = (
        ("speed_mm_s", school.pace_mm_s, PACE_COST),
        ("distance_mm", near + job.place * (far - near), PLACE_COST),
        ("trigger", 0.5 * (job.trigger[0] + job.trigger[1]), OPENING_COST),
    )
    off = [cost * np.log(knobs[name] / at) ** 2 for name, at, cost in usual]
    return np.asarray(np.sum(off, axis=0))


@dataclass(frozen=True, slots=True)
class _Ranked:
    """Many settings, the order of the best of them, and passes and score of each."""

    many: Setting
    order: NDArray[np.intp]
    passes: Array
    score: Array


def _settle(
    ranked: _Ranked, *, job: SprayTask, clean_share: float, latents: Latents
) -> Recipe | NoRecipe:
    """The best of the shortlist that stays clean over all its passes, with the shortest rest."""
    many, order, passes, score = ranked.many, ranked.order, ranked.passes, ranked.score
    best: tuple[float, Setting, Outcome, int] | None = None
    for rest, blown in RESTS:
        index = order
        group = many.but(
            **{name: getattr(many, name)[index] for name in KNOBS},
            passes=passes[index],
            rest_s=rest,
            blown=blown,
        )
        risk = _task_risk(spray(group, latents), job)
        rests = REST_COST * rest / 10.0 * np.maximum(passes[index] - 1, 0)
        total = score[index] + 2.5 * risk + rests
        total = np.where(risk < CLEAN_BELOW, total, np.inf)
        i = int(np.argmin(total))
        if np.isfinite(total[i]) and (best is None or total[i] < best[0]):
            setting, outcome, count = _by_hand(
                one_of(many, int(index[i])).but(rest_s=rest, blown=blown),
                passes=int(passes[index[i]]),
                job=job,
                latents=latents,
            )
            if float(_task_risk(outcome, job)) < CLEAN_BELOW:
                best = (float(total[i]), setting, outcome, count)
    if best is None:
        return _explain(many, job, latents)
    _, setting, outcome, count = best
    why = (
        f"{clean_share:.0%} of the settings this school uses are clean here; "
        f"{float(outcome.dry_film_um):.1f} µm dry in a pass, {count} "
        f"{'pass' if count == 1 else 'passes'}."
    )
    return Recipe(setting, outcome, count, job, clean_share, why, latents)


def rounded(setting: Setting) -> Setting:
    """The setting in steps a hand can set: half psi, 5 mm, 5 mm/s, tenth parts, 5 % trigger."""

    def step(name: str, size: float) -> float:
        return max(round(setting.knob(name) / size) * size, size)

    near = setting.knob("distance_mm") < 20
    parts = setting.knob("thinner_parts")
    return setting.but(
        thinner_parts=round(parts * 4) / 4 if parts >= 0.5 else round(parts, 1),
        trigger=round(step("trigger", 0.05 if setting.knob("trigger") >= 0.1 else 0.01), 2),
        pressure_psi=step("pressure_psi", 0.5),
        distance_mm=step("distance_mm", 1.0 if near else 5.0),
        speed_mm_s=step("speed_mm_s", 5.0),
    )


def margins(setting: Setting, job: SprayTask, latents: Latents = NOMINAL) -> dict[str, Margin]:
    """For each knob the range in which it alone may be turned and the spray stays clean.

    An end is None where it stays clean as far as was looked. When the setting is not clean, the
    range nearest to it that would be; a knob that cannot cure it alone is left out.

    Parameters
    ----------
    job : what the setting is for
    latents : single factors that are believed
    """
    found: dict[str, Margin] = {}
    looked = {
        name: np.sort(np.append(np.geomspace(low, high, MARGIN_STEPS), setting.knob(name)))
        for name, (low, high) in KNOB_LIMITS.items()
    }
    turned = [setting.but(**{name: values}) for name, values in looked.items()]
    risk = _task_risk(spray(side_by_side(turned), latents), job).reshape(len(looked), -1)
    for (name, values), each in zip(looked.items(), risk, strict=True):
        clean = each < CLEAN_BELOW
        low, here = KNOB_LIMITS[name][0], setting.knob(name)
        if not clean.any():
            continue
        at = int(np.searchsorted(values, here))
        if not clean[at]:
            away = np.abs(np.log(np.maximum(values, low) / max(here, low)))
            at = int(np.argmin(np.where(clean, away, np.inf)))
        first, last = at, at
        while first > 0 and clean[first - 1]:
            first -= 1
        while last < len(values) - 1 and clean[last + 1]:
            last += 1
        found[name] = (
            _end(values, each, first, first - 1) if first > 0 else None,
            _end(values, each, last, last + 1) if last < len(values) - 1 else None,
        )
    return found


def _end(values: Array, risk: Array, inside: int, outside: int) -> float:
    """Where a risk reaches the limit, between a clean value and the next that is not."""
    share = (CLEAN_BELOW - risk[inside]) / (risk[outside] - risk[inside])
    step = np.log(max(values[outside], 1e-6) / max(values[inside], 1e-6))
    return float(values[inside] * np.exp(share * step))


def _by_hand(
    found: Setting, *, passes: int, job: SprayTask, latents: Latents
) -> tuple[Setting, Outcome, int]:
    """A setting in steps a hand can set, with the passes it then takes to the task's film."""
    setting = rounded(found.but(passes=passes))
    outcome = spray(setting, latents)
    if job.name in ("line", "speck"):
        return setting, outcome, passes
    film = film_of_task(job, setting.paint) / max(float(outcome.dry_film_um), 1e-3)
    count = int(np.clip(np.ceil(film - 1e-9), job.least_passes, MOST_PASSES))
    if count == passes:
        return setting, outcome, passes
    setting = setting.but(passes=count)
    return setting, spray(setting, latents), count


def _explain(many: Setting, job: SprayTask, latents: Latents) -> NoRecipe:
    outcome = spray(many, latents)
    names = (
        ("spiders", "dust", "no_flow")
        if job.name == "speck"
        else (
            "spiders",
            "specks",
            "dust",
            "no_flow",
        )
    )
    mean = {name: float(np.mean(getattr(outcome, name))) for name in names}
    worst = max(mean, key=lambda name: mean[name])
    fixes = {
        "no_flow": "a wider needle or more thinner",
        "spiders": "a finer needle, a school with less pressure, or a shorter task film",
        "specks": "a higher pressure, more thinner, or a ground nearer in lightness",
        "dust": "working nearer, a cooler or damper room, or a retarder",
    }
    needle = float(many.needle_mm)
    return NoRecipe(
        reason=f"Nothing in this school sprays {many.paint.kind} clean through a {needle:g} mm "
        f"needle for this task: {worst.replace('_', ' ')} comes first.",
        change=f"Try {fixes[worst]}.",
    )
