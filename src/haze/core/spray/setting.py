"""A spray setting: everything the painter can turn, with its accepted range."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import OutOfRangeError
from haze.core.spray.constants import (
    TOOTH_UM,
    Paint,
    Surface,
    Thinner,
    paint_of,
    require_suitable,
    thinner_of,
)

__all__ = ("Setting", "make_setting")

RANGES: dict[str, tuple[float, float, str]] = {
    "thinner_parts": (0.0, 12.0, "parts to one of paint"),
    "flow_aid_parts": (0.0, 2.0, "parts to one of paint"),
    "retarder_parts": (0.0, 0.5, "parts to one of paint"),
    "needle_mm": (0.1, 1.0, "mm"),
    "trigger": (0.01, 1.0, "(0 closed, 1 fully open)"),
    "pressure_psi": (1.0, 60.0, "psi"),
    "distance_mm": (3.0, 400.0, "mm"),
    "speed_mm_s": (5.0, 1000.0, "mm/s"),
    "temperature_c": (0.0, 45.0, "°C"),
    "humidity_pct": (1.0, 99.0, "%"),
    "passes": (1.0, 200.0, ""),
    "rest_s": (0.0, 36000.0, "s"),
    "blown": (0.0, 1.0, ""),
    "contrast": (0.0, 1.0, "(1 white over black)"),
    "tooth_um": (0.0, 50.0, "µm"),
}


NUMBERS = tuple(RANGES)


def _value(number: float) -> Array:
    return np.asarray(number, dtype=np.float64)


@dataclass(frozen=True, slots=True)
class Setting:
    """One setting, or many at once when members are arrays that broadcast together.

    `blown` is 0 or 1: whether the airbrush's bare air dries the film during rests.
    `contrast` is that of a speck of this paint against this ground, 1 for white over black.
    `tooth_um` is the roughness of what lies below.
    """

    paint: Paint
    thinner: Thinner
    thinner_parts: Array
    needle_mm: Array
    trigger: Array
    pressure_psi: Array
    distance_mm: Array
    speed_mm_s: Array
    temperature_c: Array
    humidity_pct: Array
    flow_aid_parts: Array
    retarder_parts: Array
    passes: Array
    rest_s: Array
    blown: Array
    contrast: Array
    tooth_um: Array

    def but(self, **changes: Array | float) -> Setting:
        """A copy with some knobs changed."""
        return replace(self, **{k: _value(v) for k, v in changes.items()})  # type: ignore[arg-type]

    def knob(self, name: str) -> float:
        """A knob of a single setting as a plain float.

        Parameters
        ----------
        name : field of the setting
        """
        return float(getattr(self, name))


def one_of(many: Setting, place: int) -> Setting:
    """A single one of many settings.

    Parameters
    ----------
    many : (n,) settings; members that are the same in all may be single
    place : int
    """
    members = {name: getattr(many, name) for name in NUMBERS}
    return many.but(**{k: float(v[place]) for k, v in members.items() if v.ndim})


def side_by_side(settings: Sequence[Setting]) -> Setting:
    """Many settings of one paint and thinner as one, their members end to end.

    Parameters
    ----------
    settings : each single, or many that broadcast together
    """
    shapes = [np.broadcast_shapes(*(getattr(s, n).shape for n in NUMBERS)) for s in settings]
    sizes = [int(np.prod(shape)) for shape in shapes]
    found = {}
    for name in NUMBERS:
        members = [getattr(s, name) for s in settings]
        first = members[0]
        if first.ndim == 0 and all(m is first for m in members):
            found[name] = first  # the same in all
            continue
        flat = np.empty(sum(sizes))
        start = 0
        for member, shape, size in zip(members, shapes, sizes, strict=True):
            flat[start : start + size].reshape(shape)[...] = member
            start += size
        found[name] = flat
    return replace(settings[0], **found)


def make_setting(
    paint: str,
    *,
    thinner: str,
    thinner_parts: float | Array,
    needle_mm: float | Array,
    trigger: float | Array,
    pressure_psi: float | Array,
    distance_mm: float | Array,
    speed_mm_s: float | Array,
    temperature_c: float | Array = 20.0,
    humidity_pct: float | Array = 50.0,
    flow_aid_parts: float | Array = 0.0,
    retarder_parts: float | Array = 0.0,
    passes: float | Array = 1.0,
    rest_s: float | Array = 0.0,
    blown: float | Array = 0.0,
    contrast: float | Array | None = None,
    surface: Surface = "matt",
) -> Setting:
    """Checked setting; `OutOfRangeError` names the field, its value and what is accepted.

    Parameters
    ----------
    paint : a paint's kind
    thinner : a thinner's kind
    thinner_parts : (...) float, parts to one of paint
    needle_mm : (...) float [mm], bore of the nozzle
    trigger : (...) float, 0 closed to 1 fully open
    pressure_psi : (...) float [psi], gauge
    distance_mm : (...) float [mm], nozzle to surface
    speed_mm_s : (...) float [mm/s], of the hand
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    flow_aid_parts, retarder_parts : (...) float, parts to one of paint
    passes : (...) float, over the same place
    rest_s : (...) float [s], between passes
    blown : (...) float, 1 when rests are blown dry, else 0
    contrast : (...) float [-], of a speck against its ground; None for the paint's usual one
    surface : what lies below, by its tooth
    """
    row, thin = paint_of(paint), thinner_of(thinner)
    require_suitable(row, thin)
    given = dict(locals()) | {"tooth_um": TOOTH_UM[surface]}
    if contrast is None:
        given["contrast"] = row.contrast
    numbers = {
        f.name: np.array(given[f.name], dtype=np.float64)
        for f in fields(Setting)
        if f.name in RANGES
    }
    for name, value in numbers.items():
        _require_in_range(name, value)
    return Setting(paint=row, thinner=thin, **numbers)


def _require_in_range(name: str, value: Array) -> None:
    low, high, unit = RANGES[name]
    bad = ~((value >= low) & (value <= high))
    if np.any(bad):
        worst = float(value[bad].flat[0])
        raise OutOfRangeError(
            f"{name} is {worst:g}; accepted is {low:g} to {high:g} {unit}".rstrip() + ".",
            field=name,
        )
