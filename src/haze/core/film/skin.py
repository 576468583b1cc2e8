"""What lies on every vertex of a piece, coat by coat: colour, finish, metal, fluorescence.

Band-major float32 in chunks (see `stack`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from haze.core.film.finish import SURFACE
from haze.core.film.paint import GLOW_UM, PaintOptics, flake_cover
from haze.core.film.stack import LUMINANCE_32, add_coat, linear_rgb, start_ground

Floats = NDArray[np.float32]

SKIN_UM = 1.0  # film over which a coat's own finish takes over the surface [µm] (judged)
OWN_SHINE = 0.25  # part of a fluorescent paint's light that needs no light ground (judged)


@dataclass(frozen=True, slots=True)
class Skin:
    """The surface after some coats.

    Attributes
    ----------
    inside : (12, n) float32 [-], reflectance inside the binder
    surface : (n,) float32 [-], surface term of the finish on top
    metal : (n,) float32 [0..1], share of what is seen that comes from metal flake
    emission : (3, n) float32 or None, linear RGB added by fluorescence
    """

    inside: Floats
    surface: Floats
    metal: Floats
    emission: Floats | None = None

    def at(self, where: NDArray[np.int64]) -> Skin:
        """The surface at some of its vertices."""
        return Skin(
            self.inside[:, where],
            self.surface[where],
            self.metal[where],
            None if self.emission is None else self.emission[:, where],
        )


def bare_skin(ground: str, vertices: int, *, finish: str = "matt") -> Skin:
    """The bare piece."""
    return Skin(
        start_ground(ground, vertices),
        np.full(vertices, SURFACE[finish], dtype=np.float32),
        np.zeros(vertices, dtype=np.float32),
    )


def two_way(optics: PaintOptics, film_um: Floats) -> Floats:
    """(n,) float32 [-]: how much of the light from below still comes through, there and back.

    Kubelka–Munk transmittance squared, of the paint's mean K and S.
    """
    k = max(float(optics.absorb_per_um.mean()), 1e-7)
    s = float(optics.scatter_per_um.mean())
    gamma = np.sqrt(k * (k + 2 * s))
    rho = s / (k + s + gamma)
    once = np.exp(np.float32(-gamma) * film_um)
    through = np.float32(1 - rho**2) * once / (1 - np.float32(rho**2) * once**2)
    return np.asarray(through**2, dtype=np.float32)


def coated(
    skin: Skin, optics: PaintOptics, film_um: Floats, *, droplet_um: float | None = None
) -> Skin:
    """The surface after one more coat.

    Parameters
    ----------
    film_um : (n,) float32 [µm, dry]
    droplet_um : float [µm, dry], thickness of one splat; None for a closed film
    """
    inside = add_coat(skin.inside, optics, film_um, droplet_um=droplet_um)
    takes = (1 - np.exp(film_um * np.float32(-1 / SKIN_UM))).astype(np.float32)
    surface = skin.surface + (np.float32(optics.surface) - skin.surface) * takes
    metal, emission = skin.metal, skin.emission
    if metal.any() or emission is not None:
        through = two_way(optics, film_um)
        metal = metal * through
        emission = None if emission is None else emission * through
    if optics.flake_inside is not None and optics.flake > 0:
        cover = flake_cover(optics, film_um).astype(np.float32)
        inside += cover * (optics.flake_inside.astype(np.float32)[:, None] - inside)
        metal = cover + (1 - cover) * metal
        emission = None if emission is None else emission * (1 - cover)
    if optics.emission is not None:
        below = LUMINANCE_32 @ np.clip(linear_rgb(skin.inside, skin.surface), 0, 1)
        shine = np.float32(OWN_SHINE) + np.float32(1 - OWN_SHINE) * below
        shine *= 1 - np.exp(film_um * np.float32(-1 / GLOW_UM))
        added = optics.emission.astype(np.float32)[:, None] * shine
        emission = added if emission is None else emission + added
    return Skin(inside, surface, metal, emission)


def seen(skin: Skin) -> Floats:
    """(3, n) float32: linear sRGB as seen, dry."""
    out = linear_rgb(skin.inside, skin.surface)
    return out if skin.emission is None else out + skin.emission
