"""Wet paint under the jet: spiders and runs (docs/models.md A6).

Sources: wall shear of an impinging jet (Phares, Smedley & Flagan 2000), pinning (Furmidge 1962),
rivulet wavelength of a driven film (Troian, Herbolzheimer, Safran & Joanny 1989).
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import constant
from haze.core.spray.footprint import STROKE, footprint_sigma_mm, half_radius_m
from haze.core.spray.rheology import Mixture
from haze.core.spray.risk import EPS

GRAVITY = 9.81
PERCOLATION_SOFTNESS = 0.15


def standing_film_um(wet_um: Array, *, passes: Array, mobile_share: Array) -> Array:
    """Wet film [µm] that can still creep after the last pass of a burst.

    Each rest leaves `mobile_share` of what stood before: a geometric sum.

    Parameters
    ----------
    wet_um : (...) float [µm], of one pass
    passes : (...) float, over the same place
    """
    c = np.clip(mobile_share, 0.0, 1.0 - 1e-9)
    return np.asarray(wet_um * (1.0 - c**passes) / (1.0 - c))


def mobile_share(wet_um: Array, *, dry_share: Array, rate_um_s: Array, rest_s: Array) -> Array:
    """Share [-] of a pass that has not gelled after a rest.

    Parameters
    ----------
    wet_um : (...) float [µm], of one pass
    dry_share : (...) float [-], of the wet volume that stays
    rate_um_s : (...) float [µm/s], loss of film
    rest_s : (...) float [s], between passes
    """
    liquid = np.maximum(wet_um * (1.0 - dry_share), EPS)
    lost = rate_um_s * rest_s / (constant("gel_loss") * liquid)
    return np.asarray(np.clip(1.0 - lost, 0.0, 1.0))


def free_length_m(splat_um: Array, *, coverage: Array, distance_mm: Array) -> Array:
    """Length [m] over which wet paint is connected: a splat, or past percolation the footprint.

    Parameters
    ----------
    splat_um : (...) float [µm], diameter on the surface
    coverage : (...) float [-], mean number of splats over a point
    distance_mm : (...) float [mm], nozzle to surface
    """
    x = np.clip((coverage - constant("percolation_cover")) / PERCOLATION_SOFTNESS, -40, 40)
    joined = 1.0 / (1.0 + np.exp(-x))
    foot = np.minimum(4 * footprint_sigma_mm(distance_mm), constant("longest_face_mm")) * 1e-3
    splat = np.maximum(splat_um * 1e-6, 1e-7)
    return np.asarray(splat ** (1 - joined) * foot**joined)


def free_film_um(standing_um: Array, *, tooth_um: Array) -> Array:
    """Wet film [µm] that is free to creep: h − t (1 − exp(−h/t)); the rest lies in the roughness.

    Nothing of a film far thinner than the tooth, all but t of a far thicker one. Judged form.

    Parameters
    ----------
    standing_um : (...) float [µm], wet film that has not dried
    tooth_um : (...) float [µm], roughness of what lies below
    """
    tooth = np.maximum(tooth_um, 1e-3)
    return np.asarray(standing_um - tooth * -np.expm1(-standing_um / tooth))


def spider_number(
    mixture: Mixture,
    *,
    creeping_um: Array,
    free_length: Array,
    momentum_m2_s: Array,
    centre_speed: Array,
    distance_mm: Array,
    speed_mm_s: Array,
) -> Array:
    """Creep during the dwell of a stroke over the rivulet wavelength [-]; 1 is a spider.

    Parameters
    ----------
    mixture : thinned paint
    creeping_um : (...) float [µm], wet film that is free to creep
    free_length : (...) float [m], the way wet paint can run before it meets dry surface
    momentum_m2_s : (...) float [m²/s], kinematic, of the jet: speed × half radius
    centre_speed : (...) float [m/s], of the jet on its axis
    distance_mm : (...) float [mm], nozzle to surface
    speed_mm_s : (...) float [mm/s], of the hand
    """
    rho_air = constant("air_density")
    nu = constant("air_viscosity") / rho_air
    x = distance_mm * 1e-3
    h = np.maximum(creeping_um, 1e-3) * 1e-6
    gamma = mixture.surface_tension_mn_m * 1e-3
    eta = mixture.viscosity_mpa_s * 1e-3
    reynolds = np.maximum(momentum_m2_s / nu, 1.0)
    # (1) shear of the wall jet, and the pressure that falls off from its centre
    shear = 44.6 * rho_air * (momentum_m2_s / x) ** 2 / np.sqrt(reynolds)
    push = (2 / 3) * h * 0.5 * rho_air * centre_speed**2 / half_radius_m(distance_mm)
    held = gamma * constant("pinning") / free_length
    tau = np.maximum(shear + push - held, 0.0)
    # (2) Casson film
    slip = np.maximum(np.sqrt(tau) - np.sqrt(mixture.yield_pa), 0.0)
    u = 0.5 * slip**2 * h / eta
    dwell = STROKE * footprint_sigma_mm(distance_mm) / speed_mm_s
    creep = constant("creep_share") * u * dwell
    capillary = np.maximum(eta * u / gamma, 1e-12)
    wavelength = 14.0 * h * (3.0 * capillary) ** (-1 / 3)
    return np.asarray(creep / np.maximum(wavelength, 0.5e-3))


def run_number(mixture: Mixture, *, standing_um: Array, free_length: Array) -> Array:
    """Weight of the wet film over what pins it [-]; 1 is a run on an upright face.

    Parameters
    ----------
    mixture : thinned paint
    standing_um : (...) float [µm], wet film that has not dried
    free_length : (...) float [m], the way wet paint can run before it meets dry surface
    """
    gamma = mixture.surface_tension_mn_m * 1e-3
    weight = mixture.density_kg_m3 * GRAVITY * standing_um * 1e-6 * free_length
    return np.asarray(weight / (gamma * constant("pinning")))
