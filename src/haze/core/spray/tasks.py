"""What a coat is for and how the schools spray: tables, and the box of settings they allow.

All judged (models.md A10, A11): the trigger belongs to the task, pressure, distance and hand to the
school, thinning to the paint, the school and the task.
"""

from __future__ import annotations

from dataclasses import dataclass

from haze.core.errors import UnknownNameError
from haze.core.spray.constants import Paint, PaintKind, paint_of, thinner_of
from haze.core.spray.rheology import parts_of_equal_viscosity

Range = tuple[float, float]


@dataclass(frozen=True, slots=True)
class School:
    """A pressure and thinning school; `brush_parts` is meant for brush paint.

    `pace_mm_s` is the hand it keeps: one pace for all coats, which a person can hold.
    """

    name: str
    pressure_psi: Range
    brush_parts: Range
    distance_mm: Range
    speed_mm_s: Range
    pace_mm_s: float


@dataclass(frozen=True, slots=True)
class SprayTask:
    """What a coat is for.

    `film_um` is the dry film wanted in all on a surface square to it, `pass_um` that of one pass,
    `trigger` how far it is open, `place` where in the school's distances it is sprayed from (0 near
    .. 1 far).
    """

    name: str
    film_um: float
    pass_um: Range
    least_passes: int
    trigger: Range
    place: float


SCHOOLS: dict[str, School] = {
    s.name: s
    for s in (
        School("whisper", (5, 10), (0.8, 1.4), (25, 55), (30, 80), 55),
        School("middle", (18, 22), (2.0, 4.0), (45, 90), (50, 120), 80),
        School("brisk", (25, 30), (1.0, 2.0), (70, 120), (80, 180), 120),
    )
}
TASKS: dict[str, SprayTask] = {
    t.name: t
    for t in (
        SprayTask("prime", 12.0, (0.8, 2.2), 2, (0.40, 0.55), 0.8),
        SprayTask("cover", 8.0, (0.8, 2.5), 2, (0.35, 0.50), 0.6),
        SprayTask("light", 5.0, (0.4, 1.2), 2, (0.20, 0.34), 0.5),
        SprayTask("rung", 4.0, (0.3, 0.9), 2, (0.12, 0.28), 0.3),
        SprayTask("veil", 5.0, (0.2, 0.8), 2, (0.10, 0.25), 0.4),
        SprayTask("line", 1.5, (0.1, 3.0), 1, (0.03, 0.12), 0.0),
        SprayTask("speck", 0.6, (0.05, 1.5), 1, (0.30, 1.00), 1.0),
        SprayTask("metal", 4.0, (0.5, 1.5), 2, (0.30, 0.50), 0.4),
        SprayTask("varnish", 8.0, (0.8, 1.6), 2, (0.35, 0.50), 0.7),
    )
}
# these come ready to spray; solvent acrylic is thick in the bottle whatever the school
READY: tuple[PaintKind, ...] = ("primer", "varnish", "ink")
READY_PARTS: Range = (0.0, 0.3)
LACQUER_PARTS: Range = (1.5, 3.0)
METAL_MOST_PARTS = 1.0  # beyond that flakes float apart
VEIL_MORE: Range = (0.5, 1.0)  # parts a veil is thinned beyond the school's own
LINE_BOX: dict[str, Range] = {"distance_mm": (5.0, 18.0), "speed_mm_s": (30.0, 120.0)}
SPECK_BOX: dict[str, Range] = {
    "pressure_psi": (2.0, 5.0),
    "distance_mm": (80.0, 200.0),
    "speed_mm_s": (100.0, 400.0),
}
LEAST_HIDING_UM, MOST_HIDING_UM = 3.0, 14.0  # paints whose film a covering task goes by
USUAL_HIDING_UM = 6.0
BY_HIDING = ("cover", "light", "rung")


def school_of(name: str) -> School:
    """The school of this name; the error lists the accepted ones."""
    if name not in SCHOOLS:
        raise UnknownNameError(
            f"school is {name!r}; accepted are {', '.join(SCHOOLS)}.", field="school"
        )
    return SCHOOLS[name]


def task_of(name: str) -> SprayTask:
    """The task of this name; the error lists the accepted ones."""
    if name not in TASKS:
        raise UnknownNameError(f"task is {name!r}; accepted are {', '.join(TASKS)}.", field="task")
    return TASKS[name]


def thinning(paint: Paint, *, thinner: str, school: School, task: SprayTask) -> Range:
    """Parts of thinner for this paint: the school's ratio of equal viscosity, thinner for veils.

    Parameters
    ----------
    paint : what is thinned
    thinner : name of a thinner
    school, task : who sprays, and what for
    """
    if paint.kind in READY:
        return READY_PARTS
    if paint.kind == "lacquer":
        return LACQUER_PARTS
    brush, own = paint_of("brush_acrylic"), thinner_of("acrylic_thinner")
    low, high = (
        parts_of_equal_viscosity(
            paint, thinner=thinner_of(thinner), like=brush, like_thinner=own, parts=parts
        )
        for parts in school.brush_parts
    )
    if task.name == "veil":
        low, high = low + VEIL_MORE[0], high + VEIL_MORE[1]
    if paint.kind == "metallic":
        low, high = min(low, METAL_MOST_PARTS - 0.2), min(high, METAL_MOST_PARTS)
    return low, max(high, low + 0.2)


def box_of(paint: Paint, *, thinner: str, school: School, task: SprayTask) -> dict[str, Range]:
    """The range of every knob that the school and the task leave.

    Parameters
    ----------
    paint : what is sprayed
    thinner : name of a thinner
    school, task : who sprays, and what for
    """
    box = {
        "thinner_parts": thinning(paint, thinner=thinner, school=school, task=task),
        "trigger": task.trigger,
        "pressure_psi": school.pressure_psi,
        "distance_mm": school.distance_mm,
        "speed_mm_s": school.speed_mm_s,
    }
    if task.name == "line":
        low, high = school.pressure_psi
        box |= LINE_BOX | {"pressure_psi": (low, min(high, 2 * low))}
    return box | (SPECK_BOX if task.name == "speck" else {})


def film_of_task(task: SprayTask, paint: Paint) -> float:
    """Dry film [µm] the task wants with this paint: what hides counts for the covering tasks.

    Parameters
    ----------
    task : what the coat is for
    paint : what is sprayed
    """
    hides = paint.hiding_um
    if task.name in BY_HIDING and hides and LEAST_HIDING_UM <= hides <= MOST_HIDING_UM:
        return task.film_um * hides / USUAL_HIDING_UM
    return task.film_um
