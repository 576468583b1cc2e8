"""Evaporation of droplets, films and the tip (docs/models.md A7).

Sources: d² law with the Spalding number (Spalding 1953), psychrometric wet bulb, Chilton & Colburn
1934 analogy for films, stagnation-point flow .763 Sc^.4 for blown air.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import constant
from haze.core.spray.footprint import half_radius_m
from haze.core.units import celsius_to_kelvin

WATER_KG_MOL_RATIO = 0.622
PSYCHROMETRIC_PA_K = 66.0
SCHMIDT = 0.6
WATER_KG_M3 = 1000.0


def saturation_pa(temperature_c: Array) -> Array:
    """Vapour pressure of water [Pa] (Magnus form, Alduchov & Eskridge 1996).

    Parameters
    ----------
    temperature_c : (...) float [°C]
    """
    return np.asarray(610.94 * np.exp(17.625 * temperature_c / (temperature_c + 243.04)))


def wet_bulb_c(temperature_c: Array, *, humidity_pct: Array) -> Array:
    """Wet-bulb temperature [°C] by bisection of the psychrometric equation.

    Parameters
    ----------
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    vapour = saturation_pa(temperature_c) * humidity_pct / 100.0
    low = np.broadcast_to(-30.0, np.broadcast(temperature_c, vapour).shape)
    high = np.broadcast_to(temperature_c, low.shape)
    for _ in range(30):
        middle = 0.5 * (low + high)
        warm = saturation_pa(middle) - vapour > PSYCHROMETRIC_PA_K * (temperature_c - middle)
        high, low = np.where(warm, middle, high), np.where(warm, low, middle)
    return np.asarray(0.5 * (low + high))


def vapour_diffusivity_m2_s(temperature_c: Array) -> Array:
    """Diffusivity of water vapour in air [m²/s].

    Parameters
    ----------
    temperature_c : (...) float [°C]
    """
    kelvin = celsius_to_kelvin(temperature_c)  # type: ignore[arg-type]
    return np.asarray(2.42e-5 * (kelvin / 293.15) ** 1.81)


def spalding_number(temperature_c: Array, *, humidity_pct: Array) -> Array:
    """Mass transfer number B [-] of water at its wet bulb in this room.

    Parameters
    ----------
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    if np.ndim(temperature_c) == 0 and np.ndim(humidity_pct) == 0:
        return np.asarray(_spalding_of_room(float(temperature_c), float(humidity_pct)))
    return _spalding(temperature_c, humidity_pct)


@lru_cache(maxsize=64)
def _spalding_of_room(temperature_c: float, humidity_pct: float) -> float:
    return float(_spalding(np.asarray(temperature_c), np.asarray(humidity_pct)))


def _spalding(temperature_c: Array, humidity_pct: Array) -> Array:
    ambient = constant("ambient_kpa") * 1e3
    bulb = wet_bulb_c(temperature_c, humidity_pct=humidity_pct)
    y_s = WATER_KG_MOL_RATIO * saturation_pa(bulb) / ambient
    y_room = WATER_KG_MOL_RATIO * saturation_pa(temperature_c) * humidity_pct / 100 / ambient
    return np.asarray(np.maximum((y_s - y_room) / (1 - y_s), 1e-5))


def droplet_rate_um2_s(temperature_c: Array, *, humidity_pct: Array) -> Array:
    """K of the d² law for water [µm²/s]: d² falls by K every second.

    Parameters
    ----------
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    b = spalding_number(temperature_c, humidity_pct=humidity_pct)
    d = vapour_diffusivity_m2_s(temperature_c)
    return np.asarray(8 * constant("air_density") * d / WATER_KG_M3 * np.log1p(b) * 1e12)


def flight_time_s(centre_speed: Array, *, distance_mm: Array) -> Array:
    """Time [s] in the jet: centre speed falls as 1/x, so t = x / (2·U_c(x)).

    Parameters
    ----------
    centre_speed : (...) float [m/s], of the jet on its axis
    distance_mm : (...) float [mm], nozzle to surface
    """
    return np.asarray(distance_mm * 1e-3 / (2 * np.maximum(centre_speed, 1e-6)))


def half_dried_um(rate_um2_s: Array, *, time_s: Array, dry_share: Array) -> Array:
    """Largest droplet [µm] that has lost half its liquid after a time.

    Parameters
    ----------
    rate_um2_s : (...) float [µm²/s], loss of squared diameter
    time_s : (...) float [s], in flight
    dry_share : (...) float [-], of the wet volume that stays
    """
    left = (1 - 0.5 * (1 - dry_share)) ** (2 / 3)
    return np.asarray(np.sqrt(rate_um2_s * time_s / np.maximum(1 - left, 1e-9)))


def still_film_rate_um_s(temperature_c: Array, *, humidity_pct: Array) -> Array:
    """Water lost by a film in a quiet room [µm/s]: laminar plate in a slow draught.

    Parameters
    ----------
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    d = vapour_diffusivity_m2_s(temperature_c)
    length, draught = constant("plate_mm") * 1e-3, constant("still_air_m_s")
    nu = constant("air_viscosity") / constant("air_density")
    reynolds = draught * length / nu
    transfer = d / length * 0.664 * np.sqrt(reynolds) * SCHMIDT ** (1 / 3)
    return _film_rate(transfer, temperature_c, humidity_pct)


def blown_film_rate_um_s(
    momentum_m2_s: Array, *, temperature_c: Array, humidity_pct: Array
) -> Array:
    """Water lost by a film under the bare air of the airbrush [µm/s]: stagnation flow.

    Parameters
    ----------
    momentum_m2_s : (...) float [m²/s], kinematic, of the jet: speed × half radius
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    distance = np.asarray(constant("blow_distance_mm"))
    speed = constant("jet_decay") * momentum_m2_s / (distance * 1e-3)
    strain = speed / (2 * half_radius_m(distance))
    nu = constant("air_viscosity") / constant("air_density")
    d = vapour_diffusivity_m2_s(temperature_c)
    transfer = d * 0.763 * SCHMIDT**0.4 * np.sqrt(strain / nu)
    return _film_rate(transfer, temperature_c, humidity_pct)


def _film_rate(transfer_m_s: Array, temperature_c: Array, humidity_pct: Array) -> Array:
    b = spalding_number(temperature_c, humidity_pct=humidity_pct)
    flux = transfer_m_s * constant("air_density") * np.log1p(b)
    return np.asarray(flux / WATER_KG_M3 * 1e6)


def tip_life_min(
    *,
    volatility: Array,
    thinner_parts: Array,
    flow_aid_parts: Array,
    retarder_parts: Array,
    dry_rate: Array,
) -> Array:
    """Minutes until paint dries on the needle tip; the order is meant, not the number.

    Parameters
    ----------
    volatility : float [-], evaporation relative to water
    thinner_parts, flow_aid_parts, retarder_parts : float [-], to one part of paint
    dry_rate : float [-], room's drying rate relative to 20 °C and 50 %
    """
    held = constant("tip_hold_flow_aid") * flow_aid_parts
    held = held + constant("tip_hold_retarder") * retarder_parts
    relief = np.sqrt(1.0 + thinner_parts) * (1.0 + held)
    speed = np.maximum(volatility, 0.05) ** 0.5 * np.maximum(dry_rate, 0.05)
    return np.asarray(constant("tip_life_min") * relief / speed)
