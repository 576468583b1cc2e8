"""Paint through the gap between needle and nozzle (docs/models.md A3).

Exact laminar flow in a concentric annulus (Bird, Stewart & Lightfoot, *Transport Phenomena*) plus
an orifice loss; Casson viscosity at the wall.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import NEEDLE_GAPS_UM, TRIGGER_STOPS, constant
from haze.core.spray.rheology import Mixture, casson_viscosity
from haze.core.spray.risk import EPS

GRAVITY = 9.81
M3_S_IN_ML_MIN = 6e7


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
    eta, tau_y = mixture.viscosity_mpa_s * 1e-3, mixture.yield_pa
    loss = 0.5 * rho / (constant("paint_discharge") * area) ** 2
    shear_per_q = 4 * gap / (np.pi * g)  # mean wall shear rate of the annulus
    # Casson: eta_app·Q·8L/(πG) = (sqrt(τy·a) + sqrt(η·shear·a))², a = 8L/(πG·shear_per_q)
    a = 8 * land / (np.pi * g * shear_per_q)

    def needed(q: Array) -> Array:
        shear = shear_per_q * q
        return np.asarray(a * casson_viscosity(eta, tau_y, shear) * shear + loss * q * q)

    shape = np.broadcast(drive, a, eta).shape
    low, high = np.full(shape, np.log(1e-15)), np.full(shape, np.log(1e-5))
    for _ in range(32):
        middle = 0.5 * (low + high)
        too_much = needed(np.exp(middle)) > drive
        high = np.where(too_much, middle, high)
        low = np.where(too_much, low, middle)
    flow = np.exp(0.5 * (low + high)) * M3_S_IN_ML_MIN
    return np.asarray(np.where((flow < 1e-6) | (gap <= 0), 0.0, flow))
