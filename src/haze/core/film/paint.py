"""A paint's absorption and scattering from one hex and an opacity grade (docs/models.md C3).

All numbers of the scattering table are judged, until a painter's swatches replace them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import brentq

from haze.core.arrays import Array
from haze.core.errors import UnknownNameError
from haze.core.film.difference import ciede2000, lab_of, oklch_of
from haze.core.film.finish import inside_film, outside_film, surface_of
from haze.core.film.kubelka_munk import absorption_ratio, film, thick
from haze.core.film.spectra import BAND_CENTRES_NM, BANDS, luminance_of, rgb_of, spectrum_of_hex
from haze.core.film.srgb import linear_of_hex, parse_hex, tone_of_rgb

__all__ = ("PaintOptics", "covering_um", "paint_optics")

Opacity = Literal["opaque", "semi_opaque", "semi_transparent", "transparent"]
OPACITIES: tuple[Opacity, ...] = get_args(Opacity)

SCATTER_PER_UM: dict[str, float] = {
    "opaque": 0.28,
    "semi_opaque": 0.12,
    "semi_transparent": 0.035,
    "transparent": 0.006,
}
LEAST_HIDING_UM: dict[str, float] = {"opaque": 6.0, "semi_opaque": 14.0, "semi_transparent": 40.0}
HUE_FACTOR: tuple[tuple[float, float], ...] = (
    (0, 0.40),
    (28, 0.45),
    (60, 0.55),
    (100, 0.50),
    (145, 0.55),
    (200, 0.50),
    (264, 0.40),
    (310, 0.40),
    (360, 0.40),
)
EARTH_FACTOR, EARTH_HUE, EARTH_WIDTH, EARTH_CHROMA = 0.8, 62.0, 25.0, 0.10
DARK_FACTOR, DARK_CHROMA = 0.25, 0.05
WHITENESS_GAIN = 2.2
MASSTONE: tuple[str, ...] = ("opaque", "semi_opaque")
SWATCH_UM = 5.0  # a transparent paint shows its colour at about that film
BLACK_CARD, WHITE_CARD = "#0c0c0d", "#f6f6f2"
HIDING_SHARE = 0.98
THINNEST_UM, NEVER_UM = 0.05, 999.0  # films reported as hiding lie between
CLEAR_SCATTER, CLEAR_HIDES_UM = 0.03, 15.0  # less scattering, and later hiding, is clear (judged)
FINE_DIFFERENCE = 3.0  # ΔE00 a painter accepts as covered


@dataclass(frozen=True, slots=True)
class PaintOptics:
    """What a paint, or a mix of paints, does to light; bands are 12 of 25 nm, 400 to 700 nm.

    `surface` is the surface term of its dry finish; `flake` the share of the film that is metal
    flake, which shows `flake_inside` where it lies; `emission` what fluorescence adds in linear RGB
    on a white ground at full strength.
    """

    absorb_per_um: Array
    scatter_per_um: Array
    surface: float
    flake: float = 0.0
    flake_inside: Array | None = None
    emission: Array | None = None


def whiteness(linear_rgb: Array) -> float:
    """w = min(1, 2.2 √(smallest linear channel)) [-].

    Parameters
    ----------
    linear_rgb : (3,) float [0..1], linear
    """
    return float(min(1.0, WHITENESS_GAIN * np.sqrt(max(float(np.min(linear_rgb)), 0.0))))


def scatter_factor(linear_rgb: Array) -> float:
    """f [-]: how well pigments of this hue scatter against white (judged table).

    Parameters
    ----------
    linear_rgb : (3,) float [0..1], linear
    """
    _, chroma, hue = (float(v) for v in oklch_of(linear_rgb))
    angles, factors = zip(*HUE_FACTOR, strict=True)
    by_hue = float(np.interp(hue, angles, factors))
    earth = np.exp(-0.5 * ((hue - EARTH_HUE) / EARTH_WIDTH) ** 2) * max(
        0.0, 1.0 - chroma / EARTH_CHROMA
    )
    by_hue += (EARTH_FACTOR - by_hue) * float(earth)
    grey = max(0.0, 1.0 - chroma / DARK_CHROMA)
    by_hue += (DARK_FACTOR - by_hue) * grey
    return by_hue + (1.0 - by_hue) * whiteness(linear_rgb)


def scattering(linear_rgb: Array, opacity: str) -> Array:
    """(12,) float [1/µm]: S = S_grade · f · (550/λ)^(w/2).

    Parameters
    ----------
    linear_rgb : (3,) float [0..1], linear
    opacity : one of the grades
    """
    w = whiteness(linear_rgb)
    return np.asarray(
        SCATTER_PER_UM[opacity]
        * scatter_factor(linear_rgb)
        * (550.0 / BAND_CENTRES_NM) ** (0.5 * w)
    )


def _solve_absorption(scatter: Array, goal: Array, ground: Array) -> Array:
    """K per band whose film of 5 µm over the white card shows `goal` (inside the binder)."""
    low, high = np.zeros_like(goal), np.full_like(goal, 20.0)
    for _ in range(60):
        middle = 0.5 * (low + high)
        bright = film(middle, scatter, ground, SWATCH_UM) > goal
        low, high = np.where(bright, middle, low), np.where(bright, high, middle)
    return 0.5 * (low + high)


FLAKE_UM = 1.5  # film over which metal flake closes [µm] (judged)
GLOW_UM = 4.0  # film over which a fluorescent paint gives most of its light [µm] (judged)
EMISSION = 0.55  # linear RGB a fully fluorescent paint adds over white (judged)


def flake_cover(optics: PaintOptics, film_um: ArrayLike) -> Array:
    """Share of the surface [-] that metal flake closes: 1 − e^(−X/1.5 µm).

    Parameters
    ----------
    optics : of the paint
    film_um : (...) float [µm], dry
    """
    return np.asarray(1.0 - np.exp(-optics.flake * np.asarray(film_um) / FLAKE_UM))


def film_over(optics: PaintOptics, ground: ArrayLike, film_um: ArrayLike) -> Array:
    """(12, ...) float [-]: reflectance inside the binder of a film of this paint.

    Parameters
    ----------
    ground : (12, ...) float [-], inside the binder
    film_um : float or (...) float [µm, dry]
    optics : of the paint
    """
    below = np.asarray(ground, dtype=np.float64)
    x = np.asarray(film_um, dtype=np.float64)
    rank = (-1,) + (1,) * max(below.ndim - 1, x.ndim)
    if below.ndim < len(rank):
        below = below.reshape((12,) + (1,) * (len(rank) - below.ndim) + below.shape[1:])
    k, s = optics.absorb_per_um.reshape(rank), optics.scatter_per_um.reshape(rank)
    out = film(k, s, below, x)
    if optics.flake_inside is not None and optics.flake > 0:
        cover = flake_cover(optics, x)
        out = cover * optics.flake_inside.reshape(rank) + (1 - cover) * out
    return out


def masstone_inside(optics: PaintOptics) -> Array:
    """(12,) float [-]: an endless film, inside the binder; flake hides what is mixed into it.

    Parameters
    ----------
    optics : of the paint
    """
    if optics.flake_inside is not None and optics.flake > 0:
        return optics.flake_inside
    return thick(optics.absorb_per_um, optics.scatter_per_um)


def masstone_rgb(optics: PaintOptics) -> Array:
    """(3,) float: linear sRGB of an endless film as seen dry.

    Parameters
    ----------
    optics : of the paint
    """
    return rgb_of(outside_film(masstone_inside(optics), optics.surface))


def masstone_tone(optics: PaintOptics) -> float:
    """CIE L* [0..100] of an endless film as seen dry.

    Parameters
    ----------
    optics : of the paint or mix
    """
    return tone_of_rgb(masstone_rgb(optics))


def is_clear(optics: PaintOptics) -> bool:
    """Whether a paint is one to be seen through: it scatters little and hides late.

    Parameters
    ----------
    optics : of the paint
    """
    if optics.flake > 0 or float(optics.scatter_per_um.mean()) >= CLEAR_SCATTER:
        return False
    return contrast_ratio(optics, CLEAR_HIDES_UM) < HIDING_SHARE


def swatch_rgb(optics: PaintOptics) -> Array:
    """(3,) float: what a chip shows: an endless film, or 5 µm over white for a transparent one.

    Parameters
    ----------
    optics : of the paint
    """
    if optics.flake == 0 and not optics.scatter_per_um.any():
        return linear_of_hex(WHITE_CARD)  # clear varnish: the card itself
    if is_clear(optics):
        white = inside_film(spectrum_of_hex(WHITE_CARD), "matt")
        return rgb_of(outside_film(film_over(optics, white, SWATCH_UM), optics.surface))
    return masstone_rgb(optics)


def contrast_ratio(optics: PaintOptics, film_um: float) -> float:
    """Y over black by Y over white [-] of a dry film [µm].

    Parameters
    ----------
    optics : of the paint
    film_um : float [µm], dry
    """
    black, white = (
        luminance_of(
            outside_film(
                film(optics.absorb_per_um, optics.scatter_per_um, ground, film_um), optics.surface
            )
        )
        for ground in _cards()
    )
    return float(black / white)


@lru_cache(maxsize=1)
def _cards() -> tuple[Array, Array]:
    """(12,) each: the black and the white card, inside the binder."""
    black, white = (inside_film(spectrum_of_hex(c), "matt") for c in (BLACK_CARD, WHITE_CARD))
    return black, white


def hiding_um(optics: PaintOptics) -> float:
    """Dry film [µm] at which Y over black is 98 % of Y over white; 999 when it never is.

    Parameters
    ----------
    optics : of the paint
    """

    def short(log_um: float) -> float:
        return contrast_ratio(optics, float(np.exp(log_um))) - HIDING_SHARE

    low, high = np.log([THINNEST_UM, NEVER_UM])
    if short(high) < 0:
        return NEVER_UM
    if short(low) >= 0:
        return THINNEST_UM
    return float(np.exp(brentq(short, low, high, xtol=1e-10)))


@lru_cache(maxsize=8192)
def _cached_paint(text: str, opacity: str, finish: str) -> PaintOptics:
    rgb = linear_of_hex(text)
    goal = inside_film(spectrum_of_hex(text), finish)
    s = scattering(rgb, opacity)
    surface = float(surface_of(finish))
    if opacity in MASSTONE:
        optics = PaintOptics(absorption_ratio(goal) * s, s, surface)
        scale = min(1.0, hiding_um(optics) / LEAST_HIDING_UM[opacity])
        return PaintOptics(optics.absorb_per_um * scale, s * scale, surface)
    white = inside_film(spectrum_of_hex(WHITE_CARD), "matt")
    optics = PaintOptics(_solve_absorption(s, goal, white), s, surface)
    if opacity != "semi_transparent":
        return optics
    for _ in range(4):  # a dark tint hides by absorbing: the floor may stay out of reach
        reach = hiding_um(optics) / LEAST_HIDING_UM[opacity]
        if reach >= 1.0:
            break
        s = s * max(reach, 0.25)
        optics = PaintOptics(_solve_absorption(s, goal, white), s, surface)
    return optics


def paint_optics(masstone: str, *, opacity: str, finish: str = "matt") -> PaintOptics:
    """K and S of a paint.

    Parameters
    ----------
    masstone : str, "#rrggbb": colour of a thick dry film, or of 5 µm over white for the two
        transparent grades
    opacity : str, one of `OPACITIES`
    finish : str, one of the finishes: how the paint dries
    """
    parse_hex(masstone, field="masstone")
    if opacity not in OPACITIES:
        raise UnknownNameError(
            f"opacity is {opacity!r}; accepted are {', '.join(OPACITIES)}.", field="opacity"
        )
    return _cached_paint(masstone.lower(), opacity, finish)


def metallic(masstone: str, *, finish: str = "satin") -> PaintOptics:
    """A metallic paint: flake that closes with thickness; nothing else of it shows.

    Parameters
    ----------
    masstone : #rrggbb, in a thick film
    finish : one of the finishes
    """
    none = np.zeros(BANDS)
    seen = inside_film(spectrum_of_hex(masstone), finish)
    return PaintOptics(none, none, float(surface_of(finish)), flake=1.0, flake_inside=seen)


def fluorescent(optics: PaintOptics, *, masstone: str, strength: float) -> PaintOptics:
    """The paint with an emission of its own hue, `strength` 0 to 1.

    Parameters
    ----------
    optics : of the paint
    masstone : #rrggbb, in a thick film
    """
    rgb = linear_of_hex(masstone)
    own = rgb / max(float(rgb.max()), 1e-6)
    return replace(optics, emission=EMISSION * strength * own)


def covering_um(optics: PaintOptics, *, ground: Array) -> float:
    """Dry film [µm] at which the colour is within ΔE00 3 of its thick colour over this ground.

    Parameters
    ----------
    ground : (12,) float [-], reflectance inside the binder
    optics : of the paint
    """
    goal = lab_of(masstone_rgb(optics))
    x = np.geomspace(0.1, 1000.0, 400)
    inside = film_over(optics, np.asarray(ground), x)
    seen = lab_of(rgb_of(outside_film(inside, optics.surface)).T)
    off = ciede2000(seen, goal) > FINE_DIFFERENCE
    last = np.nonzero(off)[0]
    if not len(last):
        return float(x[0])
    return float(x[min(last[-1] + 1, len(x) - 1)])
