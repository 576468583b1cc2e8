"""Specks: how far a droplet spreads and when its splat is seen (docs/models.md A8).

Source: splat factor of Pasandideh-Fard et al. 1996, capped by a resting drop of 30° contact angle.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.atomise import characteristic_um, volume_below
from haze.core.spray.constants import constant
from haze.core.spray.rheology import Mixture
from haze.core.spray.risk import EPS

# droplets that could be seen; finer ones never reach the eye's limit
DIAMETERS_UM = np.geomspace(12.0, 500.0, 22)


def resting_splat_factor() -> float:
    """Diameter of a resting drop over its diameter in flight (spherical cap volume)."""
    theta = np.deg2rad(constant("splat_contact_deg"))
    cap = (2 + np.cos(theta)) * (1 - np.cos(theta)) ** 2
    return float(2 * (0.5 * np.sin(theta) ** 3 / cap) ** (1 / 3))


def splat_factor(mixture: Mixture, *, diameter_um: Array, speed_m_s: Array) -> Array:
    """Splat diameter over droplet diameter [-].

    Parameters
    ----------
    mixture : thinned paint
    diameter_um : (...) float [µm]
    speed_m_s : (...) float [m/s], at the surface
    """
    d = diameter_um * 1e-6
    rho, sigma = mixture.density_kg_m3, mixture.surface_tension_mn_m * 1e-3
    eta = mixture.viscosity_mpa_s * 1e-3
    weber = rho * speed_m_s**2 * d / sigma
    reynolds = np.maximum(rho * speed_m_s * d / eta, 1e-6)
    theta = np.deg2rad(constant("splat_contact_deg"))
    spread = np.sqrt((weber + 12) / (3 * (1 - np.cos(theta)) + 4 * weber / np.sqrt(reynolds)))
    return np.asarray(np.clip(spread, 1.0, resting_splat_factor()))


def droplet_cover(wet_um: Array, *, sauter_um: Array, splat: Array) -> Array:
    """Summed splat area over surface area [-] of a wet film: 1.5 h β²/D32.

    Parameters
    ----------
    wet_um : (...) float [µm], of one pass
    sauter_um : (...) float [µm], Sauter mean
    """
    return np.asarray(1.5 * wet_um / np.maximum(sauter_um, 1e-6) * splat**2)


def visible_specks_per_cm2(
    *,
    wet_um: Array,
    sauter_um: Array,
    splat: Array,
    dry_share: Array,
    hiding_um: float | None,
    contrast: Array,
    cover: Array,
) -> Array:
    """Splats per cm² that can be told from the film around them.

    A splat is seen when D²·contrast >= (.1 mm)²·.5; its contrast grows with its own dry thickness
    over the hiding film and fades as droplets cover the ground (Poisson).

    Parameters
    ----------
    wet_um : (...) float [µm], of one pass
    sauter_um : (...) float [µm], Sauter mean
    dry_share : (...) float [-], of the wet volume that stays
    hiding_um : float [µm], dry film that hides
    """
    shape = np.broadcast(wet_um, sauter_um, splat, dry_share, contrast, cover).shape
    d = DIAMETERS_UM.reshape((-1,) + (1,) * len(shape))
    dry_um = dry_share * d / (1.5 * splat**2)
    hiding = 1.0 - np.exp(-3.9 * dry_um / hiding_um) if hiding_um else np.ones_like(dry_um)
    seen_as = contrast * hiding * np.exp(-np.minimum(cover, 50.0))
    limit = (constant("eye_mm") * 1e3) ** 2 * 0.5
    # a soft threshold, one size class wide, keeps the number smooth in every setting
    visible = 1.0 / (1.0 + (limit / np.maximum((d * splat) ** 2 * seen_as, EPS)) ** 4)
    below = volume_below(d, characteristic=characteristic_um(sauter_um))
    share = np.diff(below, axis=0)
    middle = np.sqrt(d[1:] * d[:-1])
    count = wet_um * share / (np.pi / 6 * middle**3) * 1e8  # per cm²
    return np.asarray(np.sum(count * 0.5 * (visible[1:] + visible[:-1]), axis=0))
