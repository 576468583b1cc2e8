"""Specks: how far a droplet spreads and when its splat is seen (docs/models.md A8).

Source: splat factor of Pasandideh-Fard et al. 1996, capped by a resting drop of 30° contact angle.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import constant
from haze.core.spray.rheology import Mixture
from haze.core.spray.risk import EPS

# droplets that could be seen; finer ones never reach the eye's limit
DIAMETERS_UM = np.geomspace(12.0, 500.0, 22)
DECADES = 3.9  # ln 50: a film of the hiding thickness lets 2 % of the contrast through


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


def splat_opacity(dry_um: Array, *, showing_um: float | None) -> Array:
    """How much of its own colour a dry film shows [0..1]: 1 − exp(−3.9 X/h), 98 % at h.

    Parameters
    ----------
    dry_um : (...) float [µm, dry]
    showing_um : float [µm], dry film that shows its own colour; None when it has none to show
    """
    if showing_um is None:
        return np.ones_like(dry_um)
    return np.asarray(-np.expm1(-DECADES * dry_um / showing_um))


def visible_share(
    diameter_um: Array,
    *,
    splat: Array,
    dry_share: Array,
    film_um: Array,
    showing_um: float | None,
    contrast: Array,
) -> Array:
    """Share of droplets of one size whose splats stand out from the film around them [0..1].

    A splat is seen when D²·contrast ≥ eye²·.5. Its contrast is that of the paint over its ground,
    as far as its own dry thickness shows it, and fades as the film of the pass takes its colour.

    Parameters
    ----------
    diameter_um : (...) float [µm], in flight
    splat : (...) float [-], splat diameter over droplet diameter
    dry_share : (...) float [-], of the wet volume that stays
    film_um : (...) float [µm, dry], of one pass
    showing_um : float [µm], dry film that shows its own colour; None when it has none to show
    contrast : (...) float [0..1], of the paint against its ground
    """
    own_um = dry_share * diameter_um / (1.5 * splat**2)
    fades = 1.0 - splat_opacity(film_um, showing_um=showing_um) if showing_um else 1.0
    seen_as = contrast * splat_opacity(own_um, showing_um=showing_um) * fades
    limit = (constant("eye_mm") * 1e3) ** 2 * 0.5
    # a soft threshold, one size class wide, keeps the number smooth in every setting
    return np.asarray(
        1.0 / (1.0 + (limit / np.maximum((diameter_um * splat) ** 2 * seen_as, EPS)) ** 4)
    )


def droplets_per_cm2(wet_um: Array, *, diameter_um: Array) -> Array:
    """Droplets of one size in a wet film [1/cm²].

    Parameters
    ----------
    wet_um : (...) float [µm], film that lands in droplets of this size
    diameter_um : (...) float [µm]
    """
    return np.asarray(wet_um / (np.pi / 6 * diameter_um**3) * 1e8)
