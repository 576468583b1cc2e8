"""Droplets: mean size, spread, and the largest drop the jet cannot break (docs/models.md A4).

Sources: Nukiyama & Tanasawa 1939 (mean diameter), Rosin & Rammler 1933 (spread), Weber number
limit with the Ohnesorge correction of Brodkey 1967, Rayleigh 1878 (break-up of a ligament).
"""

from __future__ import annotations

from math import gamma

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.air import Air
from haze.core.spray.constants import constant
from haze.core.spray.rheology import Mixture

TORN_SIZES = np.array([0.6, 0.85, 1.15, 1.6])
TORN_VOLUMES = np.array([0.2, 0.3, 0.3, 0.2])


def sauter_mean_um(mixture: Mixture, *, flow_ml_min: Array, air: Air) -> Array:
    """Volume-to-surface mean droplet diameter [µm].

    Parameters
    ----------
    mixture : thinned paint
    flow_ml_min : (...) float [ml/min], of paint
    air : air through the nozzle at that pressure
    """
    sigma = mixture.surface_tension_mn_m
    rho = mixture.density_kg_m3 / 1000.0
    poise = mixture.viscosity_mpa_s / 100.0
    liquid_to_air = flow_ml_min / np.maximum(air.volume_l_min, 1e-6)  # equals 1000 Q_L/Q_A
    return np.asarray(
        585.0 / np.maximum(air.speed_m_s, 1.0) * np.sqrt(sigma / rho)
        + 597.0 * (poise / np.sqrt(sigma * rho)) ** 0.45 * liquid_to_air**1.5
    )


def characteristic_um(sauter_um: Array) -> Array:
    """Rosin–Rammler size X [µm] with the given Sauter mean: X = D32·Γ(1 − 1/q).

    Parameters
    ----------
    sauter_um : (...) float [µm], Sauter mean
    """
    return np.asarray(sauter_um * gamma(1.0 - 1.0 / constant("rosin_rammler_q")))


def volume_below(diameter_um: Array, *, characteristic: Array) -> Array:
    """Share of spray volume in droplets smaller than a diameter [µm].

    Parameters
    ----------
    diameter_um : (...) float [µm]
    characteristic : (...) float [µm], the size that 63 % of the volume is finer than
    """
    q = constant("rosin_rammler_q")
    return np.asarray(1.0 - np.exp(-((diameter_um / characteristic) ** q)))


def largest_stable_um(mixture: Mixture, *, air_speed_m_s: Array) -> Array:
    """Largest droplet [µm] that survives the jet: We = 12 (1 + 1.077 Oh^1.6).

    Parameters
    ----------
    mixture : thinned paint
    air_speed_m_s : (...) float [m/s], of the air against the drop
    """
    sigma = mixture.surface_tension_mn_m * 1e-3
    rho = mixture.density_kg_m3
    inviscid = 12.0 * sigma / (constant("air_density") * np.maximum(air_speed_m_s, 1.0) ** 2)
    d = inviscid
    for _ in range(12):
        oh = mixture.viscosity_mpa_s * 1e-3 / np.sqrt(rho * sigma * d)
        d = np.sqrt(d * inviscid * (1.0 + 1.077 * oh**1.6))
    return np.asarray(d * 1e6)


def torn_share(air: Air, *, paint_kg_s: Array) -> Array:
    """Share of spray volume torn off as coarse ligament drops when the air is weak [0..1].

    exp(−(q/q₀)⁴)·(1 − exp(−(6 ṁ_L/ṁ_A)²)) with q = ½ρU²: it goes within a few psi, and grows as the
    trigger opens. Judged.

    Parameters
    ----------
    air : air through the nozzle at that pressure
    paint_kg_s : (...) float [kg/s], mass flow of paint
    """
    pressure = 0.5 * constant("air_density") * air.speed_m_s**2 / 1e3
    weak = np.exp(-((pressure / constant("torn_pressure_kpa")) ** 4))
    load = constant("torn_load") * paint_kg_s / np.maximum(air.mass_flow_kg_s, 1e-9)
    return np.asarray(weak * -np.expm1(-(load**2)))


def torn_drops_um(gap_um: Array) -> Array:
    """(4, ...) float [µm]: sizes of torn drops; their volumes are `TORN_VOLUMES`.

    A ligament as thick as the gap breaks into drops of 1.89 times its width (Rayleigh 1878), in a
    judged spread.

    Parameters
    ----------
    gap_um : (...) float [µm], between needle and nozzle
    """
    spread = TORN_SIZES.reshape((-1,) + (1,) * np.ndim(gap_um))
    return np.asarray(constant("ligament_drop") * gap_um * spread)
