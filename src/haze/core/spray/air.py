"""Air through the nozzle: isentropic flow, choked above the critical ratio (docs/models.md A2)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import constant
from haze.core.units import celsius_to_kelvin, psi_to_kpa

GAMMA = 1.4
CRITICAL_RATIO = (2.0 / (GAMMA + 1.0)) ** (GAMMA / (GAMMA - 1.0))


@dataclass(frozen=True, slots=True)
class Air:
    """Air at the nozzle and the jet it makes."""

    mass_flow_kg_s: Array
    volume_l_min: Array  # at room pressure
    speed_m_s: Array  # fully expanded
    momentum_m2_s: Array  # M = sqrt(4 mdot U / (pi rho))


def air_through_nozzle(pressure_psi: Array, *, needle_mm: Array, temperature_c: Array) -> Air:
    """Air flow and jet momentum.

    Parameters
    ----------
    pressure_psi : float [psi, gauge]
    needle_mm : float [mm]
    temperature_c : float [°C]
    """
    ambient = constant("ambient_kpa") * 1e3
    gas, c_p = constant("air_gas_constant"), constant("air_heat_capacity")
    kelvin = celsius_to_kelvin(temperature_c)  # type: ignore[arg-type]
    gauge = psi_to_kpa(pressure_psi) * 1e3  # type: ignore[arg-type]
    p0 = ambient + constant("valve_loss") * gauge
    ratio = ambient / p0
    area = (
        np.pi
        * (needle_mm + constant("air_annulus_offset_mm"))
        * constant("air_annulus_gap_mm")
        * 1e-6
    )
    # (1) throat ratio never falls below the critical one
    r = np.maximum(ratio, CRITICAL_RATIO)
    flux = np.sqrt(
        2 * GAMMA / ((GAMMA - 1) * gas * kelvin) * (r ** (2 / GAMMA) - r ** ((GAMMA + 1) / GAMMA))
    )
    mass_flow = constant("air_discharge") * area * p0 * flux
    # (2) expanded speed
    speed = np.sqrt(2 * c_p * kelvin * (1 - ratio ** (2 / 7)))
    rho = constant("air_density")
    return Air(
        mass_flow_kg_s=np.asarray(mass_flow),
        volume_l_min=np.asarray(mass_flow / rho * 6e4),
        speed_m_s=np.asarray(speed),
        momentum_m2_s=np.asarray(np.sqrt(4 * mass_flow * speed / (np.pi * rho))),
    )
