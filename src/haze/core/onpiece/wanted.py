"""The lightness a plan's light wants on every place, and how near a plan comes to it.

A fair wish is one the plan's paints can meet: at each place light runs from how light it ends
without the light coats to how light it can end with one of them, later coats included, and linearly
in luminance, as light itself does (docs/models.md B5a).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats, Mask
from haze.core.film.srgb import lightness_of, luminance_of_lightness
from haze.core.onpiece.stack import Stack

WISH_FILMS_UM = (2.0, 4.0, 8.0, 16.0, 28.0, 40.0)
OFF_BY = 8.0  # L*: nearer is as wanted (judged)
SHOW_WEIGHT = 3.0  # what people look at counts so much more than the rest
OTHER_FILM_UM = 0.5  # where an aimed coat leaves more, it decides, not the light
GLOW_FROM = 0.1  # value of a glow from which it decides
LEAST_SHARE, LEAST_REASON = 0.02, 2.0  # share of places, and L*, from which a reason is given
LEAST_OPEN = 0.25  # deeper lie recesses, which hold their own dark


@dataclass(frozen=True, slots=True)
class WantedLight:
    """What the light wants [L*] at some places, and the ends it runs between.

    Attributes
    ----------
    lightness : (n,) float32
    dark, light : (n,) float32, where no light falls and where all of it does
    """

    lightness: Floats
    dark: Floats
    light: Floats


def wish_of(stack: Stack, value: Floats) -> WantedLight:
    """The wish for a plan.

    Parameters
    ----------
    stack : the plan at some places
    value : (n,) float [0..1], of the light there
    """
    none = stack.none()
    dark = stack.lightness(none)
    light = dark
    for number in range(len(none)):
        for um in WISH_FILMS_UM:
            films = [*none]
            films[number] = np.full(stack.places, um, dtype=np.float32)
            light = np.maximum(light, stack.lightness(films))
    low, high = luminance_of_lightness(dark), luminance_of_lightness(light)
    wanted = lightness_of(low + np.clip(value, 0, 1) * (high - low)).astype(np.float32)
    return WantedLight(wanted, dark, light)


def place_weights(
    *, show: Mask, reached: Mask, openness: Floats, glow: Floats, other_um: Floats
) -> Floats:
    """(n,) float32: how much each place counts; 0 where the light coats do not decide.

    Parameters
    ----------
    show : (n,) bool, of the front
    reached : (n,) bool, whether spray gets there
    openness : (n,) float [0..1]
    glow : (n,) float [-], value of all glows
    other_um : (n,) float [µm, dry], film of aimed coats, and of brushes
    """
    counts = reached & (openness >= LEAST_OPEN) & (glow <= GLOW_FROM) & (other_um <= OTHER_FILM_UM)
    return np.where(counts, np.where(show, SHOW_WEIGHT, 1.0), 0.0).astype(np.float32)


@dataclass(frozen=True, slots=True)
class Nearness:
    """How near a plan comes to its light: mean |ΔL*| and shares within `OFF_BY` L*."""

    mean: float
    show_share: float
    share: float


def nearness(off: Floats, *, weight: Floats, area: Floats) -> Nearness:
    """How near a plan comes to its light.

    Parameters
    ----------
    off : (n,) float [L*], ended less wanted
    weight : (n,) float, as `place_weights` gives it
    area : (n,) float, of each place
    """
    near = np.abs(off) <= OFF_BY

    def share(where: Mask) -> float:
        total = float(area[where].sum())
        return float(area[where & near].sum()) / total if total > 0 else 1.0

    counted = weight > 0
    total = max(float(area[counted].sum()), 1e-12)
    return Nearness(
        mean=float((np.abs(off) * area)[counted].sum()) / total,
        show_share=share(weight >= SHOW_WEIGHT),
        share=share(counted),
    )


def within_words(near: Nearness) -> str:
    """How near a plan ends to its light, for a painter.

    Parameters
    ----------
    near : to its light
    """
    return (
        f"Within {OFF_BY:.0f} L* of the light you drew on {near.show_share:.0%} of the front "
        f"and {near.share:.0%} all round"
    )


def off_reasons(
    off: Floats, *, weight: Floats, without: Sequence[tuple[str, Floats]]
) -> tuple[str | None, str | None]:
    """Why it ends too dark and too light where it does: the later step that costs or adds most.

    Parameters
    ----------
    off : (n,) float [L*], ended less wanted
    weight : (n,) float, as `place_weights` gives it
    without : name of each later step, and (n,) float [L*] by which the end would differ without it
    """
    dark, light = (off < -OFF_BY) & (weight > 0), (off > OFF_BY) & (weight > 0)
    return _most(dark, without, sign=1.0), _most(light, without, sign=-1.0)


def _most(where: Mask, without: Sequence[tuple[str, Floats]], *, sign: float) -> str | None:
    if where.mean() < LEAST_SHARE:
        return None
    costs = [(sign * float(change[where].mean()), name) for name, change in without]
    most, name = max(costs, default=(0.0, ""))
    if most < LEAST_REASON:
        return None
    if sign > 0:
        return f"Where it is too dark, {name} above costs {most:.0f} L*."
    return f"Where it is too light, {name} above adds {most:.0f} L*."
