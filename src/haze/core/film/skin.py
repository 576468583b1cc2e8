"""What lies on every vertex of a piece, coat by coat: colour, finish, metal, fluorescence.

Vertex arrays are band-major float32 in chunks that stay in cache (docs/models.md C8); single
colours go the same way in float64. Whatever is shown anywhere was laid here.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Array, Longs
from haze.core.film.finish import SURFACE, inside_film, outside_film
from haze.core.film.kubelka_munk import coefficients, layered
from haze.core.film.paint import GLOW_UM, PaintOptics, flake_cover
from haze.core.film.spectra import BAND_TO_RGB, spectrum_of_hex
from haze.core.film.srgb import LUMINANCE

__all__ = ("Skin", "bare_skin", "coated", "seen")

Reals = NDArray[Any]  # float32 for a piece, float64 for single colours

CHUNK = 4096
SKIN_UM = 1.0  # film over which a coat's own finish takes over the surface [µm] (judged)
OWN_SHINE = 0.25  # part of a fluorescent paint's light that needs no light ground (judged)
LEAST_ABSORB = 1e-7  # 1/µm: keeps γ above zero, where float32 would lose the lossless limit


@dataclass(frozen=True, slots=True)
class Skin:
    """The surface after some coats; float32, or float64 for single colours.

    Attributes
    ----------
    inside : (12, n) float [-], reflectance inside the binder
    surface : (n,) float [-], surface term of the finish on top
    metal : (n,) float [0..1], share of what is seen that comes from metal flake
    emission : (3, n) float or None, linear RGB added by fluorescence
    """

    inside: Reals
    surface: Reals
    metal: Reals
    emission: Reals | None = None

    def at(self, where: Longs) -> Skin:
        """The surface at some of its vertices.

        Parameters
        ----------
        where : (k,) int, their numbers
        """
        return Skin(
            self.inside[:, where],
            self.surface[where],
            self.metal[where],
            None if self.emission is None else self.emission[:, where],
        )


def bare_skin(ground: str, vertices: int, *, finish: str = "matt", single: bool = True) -> Skin:
    """A bare surface of one colour.

    Parameters
    ----------
    ground : "#rrggbb", as seen dry
    vertices : int
    finish : its own finish by name
    single : whether in float32, for many vertices, or in float64
    """
    kind: type[np.floating[Any]] = np.float32 if single else np.float64
    inside = inside_film(spectrum_of_hex(ground), finish).astype(kind)
    return Skin(
        np.repeat(inside[:, None], vertices, axis=1),
        np.full(vertices, SURFACE[finish], dtype=kind),
        np.zeros(vertices, dtype=kind),
    )


def add_coat(
    ground: Reals, optics: PaintOptics, film_um: Reals, *, droplet_um: float | None = None
) -> Reals:
    """Reflectance inside the binder after one more coat, (12, n) like the ground; without flake.

    A coat of few splats is no closed film. The number of splats over a point is Poisson with mean
    X/h, and the mean of e^(−2γkh) over it is e^(−X(1 − e^(−2γh))/h): the film's own decay with
    2γ replaced by (1 − e^(−2γh))/h. The reflectance is taken at that mean.

    Parameters
    ----------
    ground : (12, n) float [-]
    optics : of the paint
    film_um : (n,) float [µm, dry]
    droplet_um : float [µm, dry], h, thickness of one splat; None for a closed film
    """
    kind = ground.dtype.type
    gamma, rho = coefficients(np.maximum(optics.absorb_per_um, LEAST_ABSORB), optics.scatter_per_um)
    loss = 2 * gamma
    if droplet_um:
        loss = -np.expm1(-loss * droplet_um) / droplet_um
    own, decay = rho.astype(kind)[:, None], (-loss).astype(kind)[:, None]
    out = np.empty_like(ground)
    for start in range(0, ground.shape[1], CHUNK):
        part = slice(start, start + CHUNK)
        left = decay * film_um[part]
        np.exp(left, out=left)
        layered(ground[:, part], own, left, out=out[:, part])
    return out


def linear_rgb(inside: Reals, surface: Reals | float) -> Reals:
    """(3, n) float: linear sRGB as seen, from inside the binder.

    Parameters
    ----------
    inside : (12, n) float [-], band-major
    surface : (n,) float [-], surface terms, or one for all
    """
    kind = inside.dtype.type
    to_rgb = BAND_TO_RGB.T.astype(kind)
    every = np.broadcast_to(np.asarray(surface, dtype=kind), inside.shape[1:])
    out = np.empty((3, inside.shape[1]), dtype=kind)
    for start in range(0, inside.shape[1], CHUNK):
        part = slice(start, start + CHUNK)
        out[:, part] = to_rgb @ outside_film(inside[:, part], every[part])
    return out


def two_way(optics: PaintOptics, film_um: Reals) -> Reals:
    """(n,) float [-]: how much of the light from below still comes through, there and back.

    Kubelka–Munk transmittance squared, of the paint's mean K and S.

    Parameters
    ----------
    optics : of the paint
    film_um : (n,) float [µm, dry]
    """
    kind = film_um.dtype.type
    k = max(float(optics.absorb_per_um.mean()), LEAST_ABSORB)
    gamma, rho = (float(v) for v in coefficients(np.array(k), optics.scatter_per_um.mean()))
    once = np.exp(kind(-gamma) * film_um)
    through = kind(1 - rho**2) * once / (1 - kind(rho**2) * once**2)
    return np.asarray(through**2)


def from_below(inside: Reals, optics: PaintOptics, film_um: Reals) -> Reals:
    """(n,) float [0..1]: share of what is seen that comes from under a film, not from its own haze.

    What the film sends back over black is its own; a clear colour takes light away and adds none,
    so that metal under it stays metal in another colour.

    Parameters
    ----------
    inside : (12, n) float [-], as it is with the film on
    optics : of the paint
    film_um : (n,) float [µm, dry]
    """
    own = add_coat(np.zeros_like(inside), optics, film_um)
    seen_sum = np.maximum(inside.sum(axis=0), inside.dtype.type(1e-6))
    return np.asarray(np.clip(1 - own.sum(axis=0) / seen_sum, 0, 1))


def shine(skin: Skin, optics: PaintOptics, film_um: Reals) -> Reals:
    """(3, n) float: linear RGB a fluorescent coat adds over what lies below it.

    Most of its light needs a light ground: (a + (1 − a) Y) (1 − e^(−X/4 µm)), a judged.

    Parameters
    ----------
    skin : the surface below
    optics : of the paint, with an emission
    film_um : (n,) float [µm, dry]
    """
    kind = film_um.dtype.type
    below = LUMINANCE.astype(kind) @ np.clip(linear_rgb(skin.inside, skin.surface), 0, 1)
    share = kind(OWN_SHINE) + kind(1 - OWN_SHINE) * below
    share *= 1 - np.exp(film_um * kind(-1 / GLOW_UM))
    assert optics.emission is not None
    return np.asarray(optics.emission.astype(kind)[:, None] * share)


def coated(
    skin: Skin,
    optics: PaintOptics,
    film_um: Reals,
    *,
    droplet_um: float | None = None,
    patch_um: float | None = None,
) -> Skin:
    """The surface after one more coat.

    Parameters
    ----------
    skin : the surface below
    optics : of the paint or mix
    film_um : (n,) float [µm, dry], of the type of the skin; of patches their mean
    droplet_um : float [µm, dry], thickness of one splat; None for a closed film
    patch_um : float [µm, dry], of a film that lies in patches, each so thick, with nothing beside
        them: the light that comes back is the mean over patches and gaps; None for a whole film
    """
    if patch_um:
        return _patched(skin, optics, film_um, patch_um=patch_um, droplet_um=droplet_um)
    kind = skin.inside.dtype.type
    inside = add_coat(skin.inside, optics, film_um, droplet_um=droplet_um)
    takes = 1 - np.exp(film_um * kind(-1 / SKIN_UM))
    surface = skin.surface + (kind(optics.surface) - skin.surface) * takes
    metal, emission = skin.metal, skin.emission
    if metal.any():
        metal = metal * from_below(inside, optics, film_um)
    if emission is not None:
        emission = emission * two_way(optics, film_um)
    if optics.flake_inside is not None and optics.flake > 0:
        cover = flake_cover(optics, film_um).astype(kind)
        inside += cover * (optics.flake_inside.astype(kind)[:, None] - inside)
        metal = cover + (1 - cover) * metal
        emission = None if emission is None else emission * (1 - cover)
    if optics.emission is not None:
        added = shine(skin, optics, film_um)
        emission = added if emission is None else emission + added
    return Skin(inside, surface, metal, emission)


def _patched(
    skin: Skin, optics: PaintOptics, film_um: Reals, *, patch_um: float, droplet_um: float | None
) -> Skin:
    """Coated where patches lie; most of a piece has none, and stays as it was."""
    where = np.flatnonzero(film_um > 0)
    here = skin.at(where)
    share = np.minimum(film_um[where] / film_um.dtype.type(patch_um), 1)
    whole = coated(here, optics, np.full_like(share, patch_um), droplet_um=droplet_um)
    found = _blended(here, whole, share)
    inside, surface, metal = skin.inside.copy(), skin.surface.copy(), skin.metal.copy()
    inside[:, where], surface[where], metal[where] = found.inside, found.surface, found.metal
    emission = skin.emission
    if found.emission is not None:
        blank = np.zeros((3, inside.shape[1]), dtype=inside.dtype)
        emission = blank if emission is None else emission.copy()
        emission[:, where] = found.emission
    return Skin(inside, surface, metal, emission)


def _blended(one: Skin, other: Skin, share: Reals) -> Skin:
    """Area means of two surfaces, `share` of each place being the other."""

    def mean(a: Reals, b: Reals) -> Reals:
        return np.asarray(a + (b - a) * share)

    emission = None
    if one.emission is not None or other.emission is not None:
        none = np.zeros((3, one.inside.shape[1]), dtype=one.inside.dtype)
        emission = mean(
            none if one.emission is None else one.emission,
            none if other.emission is None else other.emission,
        )
    return Skin(
        mean(one.inside, other.inside),
        mean(one.surface, other.surface),
        mean(one.metal, other.metal),
        emission,
    )


def seen(skin: Skin) -> Reals:
    """(3, n) float: linear sRGB as seen, dry; may lie out of a display's gamut.

    Parameters
    ----------
    skin : the surface
    """
    out = linear_rgb(skin.inside, skin.surface)
    return out if skin.emission is None else out + skin.emission


def one_film(optics: PaintOptics, ground: Array, film_um: float) -> Array:
    """(3,) float: linear sRGB of one closed film over a ground, as seen dry.

    Parameters
    ----------
    optics : of the paint or mix
    ground : (12,) float [-], inside the binder; what lies on it is matt
    film_um : float [µm, dry]
    """
    below = Skin(ground.astype(np.float64)[:, None], np.array([SURFACE["matt"]]), np.zeros(1))
    return np.asarray(seen(coated(below, optics, np.array([film_um])))[:, 0], dtype=np.float64)
