"""The jet in flight, what it lands and how wide (docs/models.md A5).

Sources: round turbulent free jet (Schlichting, *Boundary-Layer Theory*); impaction of droplets by
Stokes number.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import constant

STROKE = np.sqrt(2 * np.pi)  # strokes of a pass lie this many sigma apart


def centre_speed_m_s(momentum_m2_s: Array, *, distance_mm: Array) -> Array:
    """Air speed [m/s] on the axis of the jet at the piece.

    Parameters
    ----------
    momentum_m2_s : (...) float [m²/s], kinematic, of the jet: speed × half radius
    distance_mm : (...) float [mm], nozzle to surface
    """
    return np.asarray(constant("jet_decay") * momentum_m2_s / (distance_mm * 1e-3))


def half_radius_m(distance_mm: Array) -> Array:
    """Radius [m] at which the jet has half its centre speed.

    Parameters
    ----------
    distance_mm : (...) float [mm], nozzle to surface
    """
    return np.asarray(constant("jet_half_radius") * distance_mm * 1e-3)


def footprint_sigma_mm(distance_mm: Array) -> Array:
    """Standard deviation [mm] of the paint's Gaussian footprint; the spot is four of these wide.

    Parameters
    ----------
    distance_mm : (...) float [mm], nozzle to surface
    """
    return np.asarray(constant("footprint_share") * distance_mm)


def impaction(
    diameter_um: Array, *, density_kg_m3: Array, centre_speed: Array, distance_mm: Array
) -> Array:
    """Share of droplets of one size that hit the surface instead of following the air.

    Parameters
    ----------
    diameter_um : (...) float [µm]
    density_kg_m3 : (...) float [kg/m³], of the droplet
    centre_speed : (...) float [m/s], of the jet on its axis
    distance_mm : (...) float [mm], nozzle to surface
    """
    d = diameter_um * 1e-6
    stokes = (
        density_kg_m3
        * d
        * d
        * centre_speed
        / (18 * constant("air_viscosity") * half_radius_m(distance_mm))
    )
    half = constant("impaction_half_stk")
    return np.asarray(stokes**2 / (stokes**2 + half**2))


def wet_film_um(
    flow_ml_min: Array, *, transfer: Array, distance_mm: Array, speed_mm_s: Array
) -> Array:
    """Wet film [µm] of one pass on a surface square to the jet.

    Parameters
    ----------
    flow_ml_min : (...) float [ml/min], of paint
    transfer : (...) float [0..1], share of the paint that lands
    distance_mm : (...) float [mm], nozzle to surface
    speed_mm_s : (...) float [mm/s], of the hand
    """
    flow = flow_ml_min / 6e7
    sigma = footprint_sigma_mm(distance_mm) * 1e-3
    return np.asarray(flow * transfer / (STROKE * sigma * speed_mm_s * 1e-3) * 1e6)


def line_width_mm(
    dry_film_um: Array, *, hiding_um: float, distance_mm: Array, seen_share: float = 0.1
) -> Array:
    """Width [mm] of a line of one stroke: where its film exceeds a share of the hiding film.

    The stroke's cross-section is Gaussian with the footprint's sigma, so the width is
    2 sigma sqrt(2 ln(peak / seen)); 0 when even the middle is not seen. Judged threshold.

    Parameters
    ----------
    dry_film_um : (...) float [µm], dry, on the axis of the stroke
    hiding_um : float [µm], dry film that hides
    distance_mm : (...) float [mm], nozzle to surface
    seen_share : float [-], of the hiding film at which the eye sees the edge
    """
    peak = np.maximum(dry_film_um / (seen_share * hiding_um), 1.0)
    return np.asarray(2.0 * footprint_sigma_mm(distance_mm) * np.sqrt(2.0 * np.log(peak)))
