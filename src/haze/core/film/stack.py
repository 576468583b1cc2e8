"""Coats over coats: colours after each, for one point or for every vertex of a piece.

Vertex arrays are band-major float32 in chunks that stay in cache (docs/models.md C8).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from haze.core.film.difference import lightness_of
from haze.core.film.finish import inside_film, outside_film, surface_of
from haze.core.film.kubelka_munk import INTERNAL_REFLECTION
from haze.core.film.paint import PaintOptics, film_over
from haze.core.film.spectra import (
    BAND_TO_RGB,
    LUMINANCE,
    encode_srgb,
    rgb_of,
    spectrum_of_hex,
    to_hex,
)

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]

CHUNK = 4096
ENCODE_STEPS = 4096
# index by the square root of linear light: dark steps stay below one byte
ENCODE_TABLE: Bytes = np.round(encode_srgb(np.linspace(0.0, 1.0, ENCODE_STEPS) ** 2) * 255).astype(
    np.uint8
)
BAND_TO_RGB_32: Floats = BAND_TO_RGB.astype(np.float32)
LUMINANCE_32: Floats = LUMINANCE.astype(np.float32)


def colours_of_stack(
    ground: str,
    coats: Sequence[tuple[PaintOptics, float]],
    *,
    ground_finish: str = "matt",
) -> list[str]:
    """ "#rrggbb" after each coat, dry, over a ground colour.

    Parameters
    ----------
    ground : "#rrggbb"
    coats : pairs of paint and dry film [µm]
    """
    inside = inside_film(spectrum_of_hex(ground), ground_finish)
    seen: list[str] = []
    for optics, film_um in coats:
        inside = film_over(optics, inside, film_um)
        seen.append(to_hex(rgb_of(outside_film(inside, optics.surface))))
    return seen


def start_ground(ground: str, vertices: int) -> Floats:
    """(12, n) float32 [-]: a bare surface of one colour, inside the binder."""
    inside = inside_film(spectrum_of_hex(ground), "matt").astype(np.float32)
    return np.repeat(inside[:, None], vertices, axis=1)


def add_coat(
    ground: Floats, optics: PaintOptics, film_um: Floats, *, droplet_um: float | None = None
) -> Floats:
    """Reflectance inside the binder after one more coat; flake is laid on by `skin`.

    A coat of few splats is no closed film. The number of splats over a point is Poisson with mean
    X/h, and the mean of e^(−2γkh) over it is e^(−X(1 − e^(−2γh))/h): the film's own decay with
    2γ replaced by (1 − e^(−2γh))/h. The reflectance is taken at that mean.

    Parameters
    ----------
    ground : (12, n) float32 [-]
    film_um : (n,) float32 [µm, dry]
    droplet_um : float [µm, dry], h, thickness of one splat; None for a closed film
    """
    # a trace of absorption keeps γ above zero, where float32 would lose the lossless limit
    k = np.maximum(optics.absorb_per_um, 1e-7)
    s = optics.scatter_per_um
    gamma = np.sqrt(k * (k + 2 * s))
    rho = (s / np.maximum(k + s + gamma, 1e-12)).astype(np.float32)[:, None]
    loss = 2 * gamma
    if droplet_um:
        loss = -np.expm1(-loss * droplet_um) / droplet_um
    decay = (-loss).astype(np.float32)[:, None]
    out = np.empty_like(ground)
    for start in range(0, ground.shape[1], CHUNK):
        part = slice(start, start + CHUNK)
        g = ground[:, part]
        e = decay * film_um[part]
        np.exp(e, out=e)
        v = rho * g
        np.subtract(1, v, out=v)
        np.divide(g - rho, v, out=v)
        v *= e
        np.multiply(rho, v, out=e)
        e += 1
        v += rho
        np.divide(v, e, out=out[:, part])
    return out


def linear_rgb(inside: Floats, finish: str | float | Floats) -> Floats:
    """(3, n) float32: linear sRGB as seen, from inside the binder, band-major.

    Parameters
    ----------
    finish : a finish by name, its surface term, or (n,) float32 surface terms
    """
    every = finish if isinstance(finish, np.ndarray) else np.float32(surface_of(finish))
    k2 = np.float32(INTERNAL_REFLECTION)
    out = np.empty((3, inside.shape[1]), dtype=np.float32)
    for start in range(0, inside.shape[1], CHUNK):
        r = inside[:, start : start + CHUNK]
        s = every[start : start + CHUNK] if isinstance(every, np.ndarray) else every
        y = (1 - k2) * r / (1 - k2 * r)
        seen = np.minimum(y * (y + s) / (y + s / 4), 1)
        out[:, start : start + CHUNK] = BAND_TO_RGB_32.T @ seen
    return out


def encode_bytes(linear: Floats) -> Bytes:
    """(n, 3) uint8: encoded sRGB of (3, n) linear light, clipped to the display."""
    index = np.sqrt(np.clip(linear, 0, 1)) * (ENCODE_STEPS - 1) + 0.5
    return np.ascontiguousarray(ENCODE_TABLE[index.astype(np.uint16)].T)


def value_bytes(linear: Floats) -> Bytes:
    """(n, 3) uint8: the grey of equal luminance."""
    grey = LUMINANCE_32 @ np.clip(linear, 0, 1)
    return encode_bytes(np.broadcast_to(grey, linear.shape))


def lightness_of_rgb(linear: Floats) -> Floats:
    """(n,) float32: CIE L* of (3, n) linear light."""
    return lightness_of(LUMINANCE_32 @ np.clip(linear, 0, 1)).astype(np.float32)
