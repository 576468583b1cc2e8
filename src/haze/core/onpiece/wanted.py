"""From the light wanted to the film a coat must leave: part C turned round over this ground.

Wanted lightness runs evenly from the dark end to the light end of the plan as the light value runs
from 0 to 1. A coat owes each point the thinnest film that brings it there, or, where its paint is
not light enough, the film at which it is nearly as light as it gets.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from haze.core.arrays import Floats
from haze.core.film.paint import PaintOptics, covering_um
from haze.core.film.skin import add_coat, linear_rgb
from haze.core.film.srgb import lightness_of_rgb

FILM_STEPS = 28
LEAST_COVER_UM, MOST_COVER_UM = 1.0, 60.0
SLOPE_STEP_UM = 0.5
LEAST_SHOWN = 0.15  # a highlight must get there although its last films hardly show
NEARLY_THERE = 0.92  # of the way to the paint's own lightness: the rest costs films nobody sees
DARK_END = 0.05  # quantile of lightness taken for a plan's dark end
OFF_BY = 10.0  # L* that counts as off plan (judged)


def lightness_range(
    below: Floats, *, weight: Floats, tones: Sequence[float]
) -> tuple[float, float]:
    """Dark and light end [L*] of the plan: the ground below, and its lightest light coat.

    Parameters
    ----------
    below : (n,) float32 [L*], surface under the first light coat
    weight : (n,) float32, area
    tones : (k,) float [L*], of the paints
    """
    dark = float(np.quantile(below, DARK_END, weights=weight, method="inverted_cdf"))
    light = max(tones, default=dark)
    return dark, max(light, dark)


def wanted_lightness(value: Floats, *, dark: float, light: float) -> Floats:
    """(n,) float32 [L*]: what the light asks for.

    Parameters
    ----------
    value : (n,) float [0..1], of the light
    dark : float [L*], where no light falls
    """
    return np.asarray(dark + value * np.float32(light - dark), dtype=np.float32)


def film_for(optics: PaintOptics, *, inside: Floats, lightness: Floats) -> Floats:
    """(n,) float32 [µm, dry]: thinnest film that brings each point to a lightness.

    Where the paint cannot reach it, the film that goes nearly all the way is given; where the
    surface is there already, none. Exact on a grid of films, linear between.

    Parameters
    ----------
    inside : (12, n) float32 [-], reflectance inside the binder below
    lightness : (n,) float32 [L*], wanted
    optics : of the paint
    """
    middle = np.asarray(inside, dtype=np.float64).mean(axis=1)
    most = float(np.clip(covering_um(optics, ground=middle), LEAST_COVER_UM, MOST_COVER_UM))
    grid = most * np.linspace(0, 1, FILM_STEPS) ** 1.5
    seen = np.empty((FILM_STEPS, inside.shape[1]), dtype=np.float32)
    for i, um in enumerate(grid):
        after = add_coat(inside, optics, np.full(inside.shape[1], um, dtype=np.float32))
        seen[i] = lightness_of_rgb(linear_rgb(after, optics.surface))
    lighter = seen[-1] > seen[0]
    nearly = seen[0] + NEARLY_THERE * (seen[-1] - seen[0])
    goal = np.where(lighter, np.minimum(lightness, nearly), seen[0])
    # lightness rises along the grid; a dip at its start is smoothed away
    rising = np.maximum.accumulate(seen, axis=0)
    step = np.clip((rising < goal).sum(axis=0), 1, FILM_STEPS - 1)
    at = np.arange(inside.shape[1])
    low, high = rising[step - 1, at], rising[step, at]
    part = np.clip((goal - low) / np.maximum(high - low, 1e-6), 0.0, 1.0)
    out = grid[step - 1] + part * (grid[step] - grid[step - 1])
    return np.where(goal > seen[0] + 0.5, out, 0.0).astype(np.float32)


def visibility_of_film(optics: PaintOptics, *, inside: Floats, film_um: Floats) -> Floats:
    """(n,) float32 [0..1]: how much a micrometre more or less shows there, against where most.

    The slope of lightness over film around the wanted film: where a film covers already, or makes
    nothing lighter, it matters little what it is.

    Parameters
    ----------
    optics : of the paint
    inside : (12, n) float [0..1], reflectance within the film below
    film_um : (n,) float [µm], dry
    """
    step = np.float32(SLOPE_STEP_UM)

    def lightness(um: Floats) -> Floats:
        return lightness_of_rgb(linear_rgb(add_coat(inside, optics, um), optics.surface))

    low = np.maximum(film_um - step, 0.0)
    rise = (lightness(film_um + step) - lightness(low)) / (film_um + step - low)
    rise = np.maximum(rise, 0.0)
    shown = rise / max(float(rise.max()), 1e-6)
    return np.asarray(np.maximum(shown, LEAST_SHOWN), dtype=np.float32)


def whole_passes(
    weights_um: Sequence[float], *, lit: Floats, target: Floats, pass_um: float
) -> list[int]:
    """Whole passes for each station that come nearest to the wanted film.

    Every rounding up or down of the exact passes is tried; a station that rounds to nothing stays
    out, unless all would.

    Parameters
    ----------
    weights_um : film [µm] each station should give a surface square to it
    lit : (k, s) float32 [-], deposit of each station at the samples
    target : (s,) float32 [µm]
    pass_um : float [µm, dry], film of one pass
    """
    exact = np.asarray(weights_um, dtype=np.float64) / max(pass_um, 1e-6)
    count = len(exact)
    best: tuple[float, tuple[int, ...]] | None = None
    for mask in range(2**count):
        up = np.array([(mask >> i) & 1 for i in range(count)])
        whole = np.minimum(np.floor(exact) + up, 200)
        if not whole.any():
            continue
        gap = (whole * pass_um) @ lit - target
        error = float(gap @ gap)
        if best is None or error < best[0]:
            best = (error, tuple(int(w) for w in whole))
    assert best is not None
    return list(best[1])
