"""The window over two knobs, as JSON for the command line and the web."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.plan.base import Strict
from haze.core.spray.calibrate import Belief, believed
from haze.core.spray.model import RISKS
from haze.core.spray.setting import RANGES
from haze.core.spray.tasks import SCHOOLS, box_of, task_of
from haze.core.spray.window import LEAST_STEPS, MOST_STEPS, Axis, Word, window
from haze.service.cups.setting import AssessIn, setting_of

Knob = Literal[
    "thinner_parts",
    "trigger",
    "pressure_psi",
    "distance_mm",
    "speed_mm_s",
    "needle_mm",
    "passes",
    "rest_s",
]
DIGITS = 4


class AxisIn(Strict):
    """One knob from a value to another."""

    knob: Knob
    low: float = Field(alias="from", ge=0, le=RANGES["rest_s"][1])
    high: float = Field(alias="to", ge=0, le=RANGES["rest_s"][1])
    steps: int = Field(default=40, ge=LEAST_STEPS, le=MOST_STEPS)

    def axis(self) -> Axis:
        """The core's."""
        return Axis(self.knob, self.low, self.high, self.steps)


class WindowIn(AssessIn):
    """A setting and the two knobs that are opened round it; `task` draws the schools' fields."""

    across: AxisIn
    up: AxisIn
    task: Literal["prime", "cover", "light", "rung", "veil", "metal", "varnish"] | None = None


class SchoolField(BaseModel):
    """What a school uses of the two knobs here; an end beyond the window is cut off."""

    school: str
    across: tuple[float, float]
    up: tuple[float, float]


Grid = list[list[float]]


class WindowOut(BaseModel):
    """Rows run along `up`.

    `<risk>` is the fault at what is believed, `<risk>_share` the share of airbrushes like this one
    in which it strikes, and `clean_share` that in which none does.
    """

    across: list[float]
    up: list[float]
    spiders: Grid
    specks: Grid
    dust: Grid
    no_flow: Grid
    spiders_share: Grid
    specks_share: Grid
    dust_share: Grid
    no_flow_share: Grid
    clean_share: Grid
    words: dict[str, Word]
    schools: list[SchoolField]


def _grid(values: Array) -> Grid:
    grid: Grid = values.round(DIGITS).tolist()
    return grid


def opened(given: WindowIn, belief: Belief | None = None) -> WindowOut:
    """`haze window`.

    Parameters
    ----------
    given : setting and axes
    belief : of this paint in this airbrush; None for what the tables say
    """
    latents, alike = believed(belief)
    across, up = given.across.axis(), given.up.axis()
    found = window(setting_of(given), across=across, up=up, latents=latents, alike=alike)
    return WindowOut(
        across=across.values.round(6).tolist(),
        up=up.values.round(6).tolist(),
        clean_share=_grid(found.clean_share),
        words=found.words,
        schools=_schools(given, across, up),
        **{name: _grid(found.risks[name]) for name in RISKS},
        **{f"{name}_share": _grid(found.beyond[name]) for name in RISKS},
    )


def _schools(given: WindowIn, across: Axis, up: Axis) -> list[SchoolField]:
    if given.task is None:
        return []
    setting = setting_of(given)
    out = []
    for school in SCHOOLS.values():
        box = box_of(setting.paint, thinner=given.thinner, school=school, task=task_of(given.task))
        if across.knob not in box or up.knob not in box:
            continue
        ends = []
        for axis in (across, up):
            low, high = box[axis.knob]
            ends.append((max(low, axis.low), min(high, axis.high)))
        if all(low < high for low, high in ends):
            out.append(SchoolField(school=school.name, across=ends[0], up=ends[1]))
    return out
