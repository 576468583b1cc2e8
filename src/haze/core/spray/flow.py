"""Paint through the gap between needle and nozzle (docs/models.md A3).

Exact laminar flow in a concentric annulus (Bird, Stewart & Lightfoot, *Transport Phenomena*) plus
an orifice loss; Casson viscosity at the wall.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import NEEDLE_GAPS_UM, TRIGGER_STOPS, constant
from haze.core.spray.rheology import Mixture
from haze.core.spray.risk import EPS

GRAVITY = 9.81
M3_S_IN_ML_MIN = 6e7
LEAST_FLOW_ML_MIN = 1e-6  # less is none
NEWTON_STEPS = 10


def needle_gap_mm(trigger: Array, *, needle_mm: Array) -> Array:
    """Gap [mm] between needle and nozzle wall for a trigger stop 0..1.

    The needle's own taper, whatever the nozzle, and at most the nozzle's radius.

    Parameters
    ----------
    needle_mm : (...) float [mm], bore of the nozzle
    """
    radius = needle_mm / 2.0
    gap = np.interp(trigger, TRIGGER_STOPS, NEEDLE_GAPS_UM) * 1e-3
    return np.asarray(np.minimum(radius, gap))


def annulus_factor(outer: Array, inner: Array) -> Array:
    """G of laminar annular flow: R1⁴ − R2⁴ − (R1² − R2²)²/ln(R1/R2), 0 for no gap [m⁴].

    Parameters
    ----------
    outer : (...) float [m], radius of the nozzle
    inner : (...) float [m], radius of the needle in the gap
    """
    ratio = np.maximum(inner / outer, 1e-9)
    log = np.maximum(-np.log(np.minimum(ratio, 1 - 1e-12)), EPS)
    g = outer**4 - inner**4 - (outer**2 - inner**2) ** 2 / log
    return np.asarray(np.maximum(g, 0.0))


def paint_flow_ml_min(
    mixture: Mixture, *, needle_mm: Array, trigger: Array, air_speed_m_s: Array
) -> Array:
    """Paint flow [ml/min] that the suction of the jet and the cup's head drive.

    Parameters
    ----------
    mixture : thinned paint
    needle_mm : float [mm]
    trigger : float [-], 0 closed .. 1 fully open
    air_speed_m_s : float [m/s]
    """
    rho = mixture.density_kg_m3
    drive = (
        constant("suction_share") * 0.5 * constant("air_density") * air_speed_m_s**2
        + rho * GRAVITY * constant("cup_head_mm") * 1e-3
    )
    outer = needle_mm / 2 * 1e-3
    gap = needle_gap_mm(trigger, needle_mm=needle_mm) * 1e-3
    inner = outer - gap
    g = np.maximum(annulus_factor(outer, inner), EPS)
    area = np.maximum(np.pi * (outer**2 - inner**2), EPS)
    land = constant("nozzle_land_mm") * 1e-3
    # pressure over s = √Q, Casson at the wall: (√(aτy) + s·√(aηk))² + loss·s⁴, k = γ̇/Q
    loss = 0.5 * rho / (constant("paint_discharge") * area) ** 2
    shear_per_q = 4 * gap / (np.pi * g)  # mean wall shear rate of the annulus
    a = 8 * land / (np.pi * g * np.maximum(shear_per_q, EPS))
    at_rest = a * mixture.yield_pa
    viscous = a * mixture.viscosity_mpa_s * 1e-3 * shear_per_q
    mixed = 2 * np.sqrt(at_rest * viscous)
    excess = drive - at_rest
    root = _root(np.maximum(excess, 0.0), mixed, viscous, loss)
    flow = root * root * M3_S_IN_ML_MIN
    return np.asarray(np.where((flow < LEAST_FLOW_ML_MIN) | (gap <= 0), 0.0, flow))


def _root(drive: Array, linear: Array, square: Array, fourth: Array) -> Array:
    """Positive s of linear·s + square·s² + fourth·s⁴ = drive; no coefficient is negative.

    The sum is convex, so that Newton's method falls to the root from what either of the last two
    terms alone would need.
    """
    s = np.minimum(np.sqrt(drive / np.maximum(square, EPS)), (drive / fourth) ** 0.25)
    for _ in range(NEWTON_STEPS):
        value = s * (linear + s * (square + s * s * fourth)) - drive
        slope = linear + s * (2 * square + 4 * s * s * fourth)
        s = np.maximum(s - value / np.maximum(slope, EPS), 0.0)
    return np.asarray(s)
