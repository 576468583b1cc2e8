"""Thinned paint: solids, viscosity, yield stress, surface tension.

Sources: Grunberg & Nissan 1949 (liquid mixtures, interaction term 0), Krieger & Dougherty 1959
(suspensions), Casson 1959 (flow law). See docs/models.md A1.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import Paint, Thinner, constant, thinner_of
from haze.core.units import celsius_to_kelvin

GAS_CONSTANT = 8.314  # J/(mol·K)
MEDIUM_ACTIVATION = 25_000.0  # J/mol
THINNER_ACTIVATION = 17_000.0  # J/mol
REFERENCE_K = 293.15
NO_PARTS = np.asarray(0.0)


@dataclass(frozen=True, slots=True)
class Mixture:
    """A thinned paint; all members are float arrays that broadcast together."""

    paint_share: Array  # x, volume of paint over volume of mix, -
    crowded_solids: Array  # phi, -
    dry_share: Array  # volume that stays over wet volume, -
    viscosity_mpa_s: Array  # at high shear
    yield_pa: Array
    surface_tension_mn_m: Array
    density_kg_m3: Array
    lump_um: Array  # largest pigment or unbroken structure
    volatility: Array  # evaporation relative to water, -

    def thicker(self, factor: Array) -> Mixture:
        """The same paint, its viscosity and yield stress times a factor.

        Parameters
        ----------
        factor : (...) float [-]
        """
        return replace(
            self,
            viscosity_mpa_s=self.viscosity_mpa_s * factor,
            yield_pa=self.yield_pa * factor,
        )


def _arrhenius(viscosity: Array | float, energy: float, temperature_c: Array) -> Array:
    kelvin = celsius_to_kelvin(temperature_c)  # type: ignore[arg-type]
    return np.asarray(
        viscosity * np.exp(energy / GAS_CONSTANT * (1.0 / kelvin - 1.0 / REFERENCE_K))
    )


def _liquid_mpa_s(paint: Paint, x: Array, thin_mpa_s: Array, temperature_c: Array) -> Array:
    """Viscosity of the paint's medium in what thins it, mixed on a log scale by volume."""
    medium = (1.0 - paint.solids) * x
    x_m = medium / (medium + 1.0 - x)
    eta_m = _arrhenius(paint.medium_mpa_s, MEDIUM_ACTIVATION, temperature_c)
    eta_th = _arrhenius(thin_mpa_s, THINNER_ACTIVATION, temperature_c)
    return np.asarray(np.exp(x_m * np.log(eta_m) + (1.0 - x_m) * np.log(eta_th)))


def mix(
    paint: Paint,
    *,
    thinner: Thinner,
    thinner_parts: Array,
    flow_aid_parts: Array,
    temperature_c: Array,
    retarder_parts: Array = NO_PARTS,
) -> Mixture:
    """Properties of paint thinned by parts.

    Parameters
    ----------
    paint, thinner : rows of the tables
    thinner_parts : float [-], parts of thinner to one part of paint
    flow_aid_parts : float [-], parts of flow aid to one part of paint
    temperature_c : float [°C]
    retarder_parts : float [-], parts of retarder to one part of paint
    """
    aid = thinner_of("flow_aid")
    total = 1.0 + thinner_parts + flow_aid_parts + retarder_parts
    x = 1.0 / total
    added = np.maximum(total - 1.0, 1e-12)
    aid_share, held_share = flow_aid_parts / added, retarder_parts / added
    thin_share = 1.0 - aid_share - held_share
    # (1) liquid phase
    eta_thin = (
        thin_share * thinner.viscosity_mpa_s
        + aid_share * aid.viscosity_mpa_s
        + held_share * constant("retarder_mpa_s")
    )
    eta_c = _liquid_mpa_s(paint, x, eta_thin, temperature_c)
    # (2) suspension
    phi = paint.crowding * paint.solids * x
    packed = phi / paint.max_packing
    eta = eta_c * (1.0 - packed) ** (-paint.intrinsic * paint.max_packing)
    # (3) yield stress
    tau_y = paint.yield_scale_pa * ((1.0 - packed) ** -2 - 1.0)
    # (4) judged: structure left by too little thinner passes no narrow gap
    onset = constant("structure_onset")
    whole = paint.crowding * paint.solids / paint.max_packing
    structure = np.clip((packed - onset) / max(whole - onset, 1e-9), 0.0, 1.0)
    tension_thin = (
        thin_share * thinner.surface_tension_mn_m
        + aid_share * aid.surface_tension_mn_m
        + held_share * constant("retarder_mn_m")
    )
    cut = (1.0 - x) * (thin_share * thinner.evaporation_cut + aid_share * aid.evaporation_cut)
    held = 1.0 + constant("retarder_hold") * retarder_parts
    return Mixture(
        paint_share=np.asarray(x),
        crowded_solids=np.asarray(phi),
        dry_share=np.asarray(paint.solids * x),
        viscosity_mpa_s=np.asarray(eta),
        yield_pa=np.asarray(tau_y),
        surface_tension_mn_m=np.asarray(x * paint.surface_tension_mn_m + (1 - x) * tension_thin),
        density_kg_m3=np.asarray(1000.0 + 600.0 * paint.solids * x),
        lump_um=np.asarray(paint.top_size_um + paint.lump_um * structure),
        volatility=np.asarray(paint.volatility * (1.0 - cut) / held),
    )


def parts_of_equal_viscosity(
    paint: Paint, *, thinner: Thinner, like: Paint, like_thinner: Thinner, parts: float
) -> float:
    """Parts of thinner that make `paint` as thin as `like` thinned by `parts`; 0 when it is.

    Solved by bisection between 0 and 12 parts at 20 °C.

    Parameters
    ----------
    like_thinner : the thinner whose effect to match
    """
    room = np.asarray(20.0)
    none = np.asarray(0.0)

    def eta(p: Paint, t: Thinner, r: float) -> float:
        thinned = mix(
            p,
            thinner=t,
            thinner_parts=np.asarray(r),
            flow_aid_parts=none,
            temperature_c=room,
        )
        return float(thinned.viscosity_mpa_s)

    goal = eta(like, like_thinner, parts)
    low, high = 0.0, 12.0
    if eta(paint, thinner, low) <= goal:
        return low
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if eta(paint, thinner, middle) > goal else (low, middle)
    return 0.5 * (low + high)
