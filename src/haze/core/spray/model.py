"""From a setting to what it does: the whole spray model in one vectorised call."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.air import Air, air_through_nozzle
from haze.core.spray.atomise import (
    TORN_VOLUMES,
    characteristic_um,
    largest_stable_um,
    sauter_mean_um,
    torn_drops_um,
    torn_share,
    volume_below,
)
from haze.core.spray.constants import constant
from haze.core.spray.drying import (
    blown_film_rate_um_s,
    droplet_rate_um2_s,
    flight_time_s,
    half_dried_um,
    still_film_rate_um_s,
    tip_life_min,
)
from haze.core.spray.film_motion import (
    free_film_um,
    free_length_m,
    mobile_share,
    run_number,
    spider_number,
    standing_film_um,
)
from haze.core.spray.flow import needle_gap_mm, paint_flow_ml_min
from haze.core.spray.footprint import (
    centre_speed_m_s,
    footprint_sigma_mm,
    impaction,
    wet_film_um,
)
from haze.core.spray.rheology import Mixture, mix
from haze.core.spray.risk import any_of, logistic
from haze.core.spray.setting import Setting
from haze.core.spray.specks import (
    DIAMETERS_UM,
    droplet_cover,
    droplets_per_cm2,
    splat_factor,
    visible_share,
)
from haze.core.spray.unsure import NOMINAL, Latents

__all__ = ("Outcome", "spray")

RISKS = ("spiders", "specks", "dust", "no_flow")
PASS_PAUSE_S = 1.0  # the hand needs this long to begin the next pass
QUANTILES = (np.arange(7) + 0.5) / 7
MIST_TIME_S = 0.5
BRIDGE, BRIDGE_CROWDED = 5.0, 20.0  # bores of that many particles clog (judged)
ML_MIN_IN_M3_S = 6e7


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a setting does; arrays of the setting's broadcast shape."""

    viscosity_mpa_s: Array
    air_l_min: Array
    flow_ml_min: Array
    droplet_um: Array
    footprint_mm: Array
    transfer: Array
    wet_film_um: Array
    dry_film_um: Array
    spiders: Array
    specks: Array
    dust: Array
    no_flow: Array
    touch_dry_still_s: Array
    touch_dry_blown_s: Array
    tip_dry_min: Array
    splat_dry_um: Array

    @property
    def worst(self) -> Array:
        """Largest of the four risks."""
        return np.asarray(np.maximum.reduce([self.spiders, self.specks, self.dust, self.no_flow]))


def drying_rate(temperature_c: Array, *, humidity_pct: Array) -> Array:
    """Drying speed of a room relative to 20 °C and 50 % humidity [-].

    Parameters
    ----------
    temperature_c : (...) float [°C]
    humidity_pct : (...) float [%], relative
    """
    here = still_film_rate_um_s(np.asarray(temperature_c), humidity_pct=np.asarray(humidity_pct))
    return np.asarray(here / still_film_rate_um_s(np.asarray(20.0), humidity_pct=np.asarray(50.0)))


@dataclass(frozen=True, slots=True)
class OnePass:
    """What leaves the airbrush and lands in one pass, in the units of `Outcome`.

    `sizes` (k, ...) are droplet diameters [µm] of equal volume, `characteristic` their
    Rosin–Rammler size [µm], `torn` the share [-] of volume in coarse drops of a weak jet, `centre`
    the speed [m/s] of the jet where it lands, `splat` a splat's diameter over its droplet's.
    """

    mixture: Mixture
    air: Air
    flow: Array
    sauter: Array
    sizes: Array
    characteristic: Array
    torn: Array
    centre: Array
    transfer: Array
    wet: Array
    splat: Array


@dataclass(frozen=True, slots=True)
class _Film:
    """The wet film of all passes [µm], and how fast films dry in still and in blown air [µm/s]."""

    standing: Array
    still: Array
    blown: Array


def spray(s: Setting, latents: Latents = NOMINAL) -> Outcome:
    """Outcome of every setting in `s` (models.md A1–A8); no loops over settings.

    Parameters
    ----------
    s : one setting, or many whose members broadcast together
    latents : factors of what the tables do not know; they broadcast with the setting
    """
    one = one_pass(s, latents)
    mixture, wet, sauter = one.mixture, one.wet, one.sauter
    film = _film_of_passes(s, one)
    tip = tip_min(s, mixture)
    stops = no_flow(s, one, tip=tip, opens=latents.flow)
    liquid = constant("touch_dry_loss") * film.standing * (1 - mixture.dry_share)
    out = np.broadcast(film.standing, tip, stops, s.contrast, s.tooth_um).shape

    def full(a: Array) -> Array:
        return np.broadcast_to(a, out)

    return Outcome(
        viscosity_mpa_s=full(mixture.viscosity_mpa_s),
        air_l_min=full(one.air.volume_l_min),
        flow_ml_min=full(one.flow),
        droplet_um=full(sauter),
        footprint_mm=full(4 * latents.width * footprint_sigma_mm(s.distance_mm)),
        transfer=full(one.transfer),
        wet_film_um=full(wet),
        dry_film_um=full(wet * mixture.dry_share),
        spiders=full(_spiders(s, one, film.standing, creep=latents.creep)),
        specks=full(_specks(s, one)),
        dust=full(_dust(s, one)),
        no_flow=full(stops),
        touch_dry_still_s=full(liquid / film.still),
        touch_dry_blown_s=full(liquid / film.blown),
        tip_dry_min=full(tip),
        # a droplet's volume over its splat's area
        splat_dry_um=full(sauter * mixture.dry_share / (1.5 * one.splat**2)),
    )


def flow_ml_min(s: Setting, latents: Latents = NOMINAL) -> Array:
    """Paint flow [ml/min] of every setting, without all else it does.

    Parameters
    ----------
    s : one setting, or many whose members broadcast together
    latents : factors of what the tables do not know; they broadcast with the setting
    """
    return _let_through(s, latents)[2]


def _let_through(s: Setting, latents: Latents) -> tuple[Mixture, Air, Array]:
    """The thinned paint, the air, and the paint's flow [ml/min]."""
    mixture = mix(
        s.paint,
        thinner=s.thinner,
        thinner_parts=s.thinner_parts,
        flow_aid_parts=s.flow_aid_parts,
        temperature_c=s.temperature_c,
        retarder_parts=s.retarder_parts,
    ).thicker(latents.viscosity)
    air = air_through_nozzle(s.pressure_psi, needle_mm=s.needle_mm, temperature_c=s.temperature_c)
    flow = latents.flow * paint_flow_ml_min(
        mixture, needle_mm=s.needle_mm, trigger=s.trigger, air_speed_m_s=air.speed_m_s
    )
    return mixture, air, flow


def one_pass(s: Setting, latents: Latents = NOMINAL) -> OnePass:
    """What leaves the airbrush and lands in one pass of every setting.

    Parameters
    ----------
    s : one setting, or many whose members broadcast together
    latents : factors of what the tables do not know; they broadcast with the setting
    """
    mixture, air, flow = _let_through(s, latents)
    sauter = latents.droplet * sauter_mean_um(mixture, flow_ml_min=flow, air=air)
    centre = centre_speed_m_s(air.momentum_m2_s, distance_mm=s.distance_mm)
    characteristic = characteristic_um(sauter)
    # the room matters to droplets in flight only
    shape = np.broadcast(characteristic, centre, s.temperature_c, s.humidity_pct).shape
    sizes = characteristic * (-np.log(1 - QUANTILES.reshape((-1,) + (1,) * len(shape)))) ** (
        1 / constant("rosin_rammler_q")
    )
    landed = impaction(
        sizes,
        density_kg_m3=mixture.density_kg_m3,
        centre_speed=centre,
        distance_mm=s.distance_mm,
    )
    torn = torn_share(air, paint_kg_s=flow / ML_MIN_IN_M3_S * mixture.density_kg_m3)
    transfer = torn + (1 - torn) * landed.mean(axis=0)  # coarse drops do not follow the air
    square_on = wet_film_um(
        flow, transfer=transfer, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s
    )
    wet = square_on / latents.width
    splat = splat_factor(mixture, diameter_um=sauter, speed_m_s=centre)
    return OnePass(
        mixture, air, flow, sauter, sizes, characteristic, torn, centre, transfer, wet, splat
    )


def dry_film_um(s: Setting, latents: Latents = NOMINAL) -> Array:
    """Dry film [µm] of one pass of every setting, without all else it does.

    Parameters
    ----------
    s : one setting, or many whose members broadcast together
    latents : factors of what the tables do not know; they broadcast with the setting
    """
    one = one_pass(s, latents)
    return np.asarray(one.wet * one.mixture.dry_share)


def _film_of_passes(s: Setting, one: OnePass) -> _Film:
    volatility = one.mixture.volatility
    still = volatility * still_film_rate_um_s(s.temperature_c, humidity_pct=s.humidity_pct)
    blown = volatility * blown_film_rate_um_s(
        one.air.momentum_m2_s, temperature_c=s.temperature_c, humidity_pct=s.humidity_pct
    )
    share = mobile_share(
        one.wet,
        dry_share=one.mixture.dry_share,
        rate_um_s=np.where(s.blown > 0.5, blown, still),
        rest_s=s.rest_s + PASS_PAUSE_S,
    )
    standing = standing_film_um(one.wet, passes=s.passes, mobile_share=share)
    return _Film(standing, still, blown)


def wet_numbers(
    s: Setting, one: OnePass, standing_um: Array, *, creep: Array | float = 1.0
) -> tuple[Array, Array]:
    """Spider number and run number [-] of a wet film; 1 is a spider, or a run on an upright face.

    Parameters
    ----------
    s : the setting
    one : what it lands in one pass
    standing_um : (...) float [µm], wet film that has not dried; it broadcasts with the setting
    creep : (...) float [-], factor on the spider number
    """
    free = free_length_m(
        one.splat * one.sauter,
        coverage=droplet_cover(standing_um, sauter_um=one.sauter, splat=one.splat),
        distance_mm=s.distance_mm,
    )
    crept = creep * spider_number(
        one.mixture,
        creeping_um=free_film_um(standing_um, tooth_um=s.tooth_um),
        free_length=free,
        momentum_m2_s=one.air.momentum_m2_s,
        centre_speed=one.centre,
        distance_mm=s.distance_mm,
        speed_mm_s=s.speed_mm_s,
    )
    return crept, run_number(one.mixture, standing_um=standing_um, free_length=free)


def _spiders(s: Setting, one: OnePass, standing: Array, *, creep: Array) -> Array:
    """Risk that the standing film is pushed along by the jet, or runs."""
    crept, run = wet_numbers(s, one, standing, creep=creep)
    return any_of(logistic(crept, spread=0.4), logistic(run, spread=0.3))


def specks_seen_cm2(s: Setting, one: OnePass) -> Array:
    """Splats [1/cm²] that are seen after one pass; those of the first are the ones that stay.

    Parameters
    ----------
    s : the setting
    one : what it lands in one pass
    """
    mixture = one.mixture

    def shown(diameter: Array, splat: Array) -> Array:
        return visible_share(
            diameter,
            splat=splat,
            dry_share=mixture.dry_share,
            film_um=one.wet * mixture.dry_share,
            showing_um=s.paint.showing_um,
            contrast=s.contrast,
        )

    shape = np.broadcast(one.wet, s.contrast).shape

    def first(values: Array) -> Array:
        return values.reshape((-1,) + (1,) * len(shape))

    d = first(DIAMETERS_UM)
    share = np.diff(volume_below(d, characteristic=one.characteristic), axis=0)
    visible = shown(d, one.splat)
    fine = droplets_per_cm2(one.wet * (1 - one.torn) * share, diameter_um=np.sqrt(d[1:] * d[:-1]))
    seen = np.sum(fine * 0.5 * (visible[1:] + visible[:-1]), axis=0)
    gap = np.broadcast_to(needle_gap_mm(s.trigger, needle_mm=s.needle_mm) * 1e3, shape)
    coarse = torn_drops_um(np.maximum(gap, 1e-3))
    splat = splat_factor(mixture, diameter_um=coarse, speed_m_s=one.centre)
    torn = droplets_per_cm2(one.wet * one.torn * first(TORN_VOLUMES), diameter_um=coarse)
    return np.asarray(seen + np.sum(torn * shown(coarse, splat), axis=0))


def _specks(s: Setting, one: OnePass) -> Array:
    """Risk that splats are seen."""
    return logistic(specks_seen_cm2(s, one) / constant("specks_per_cm2"), spread=1.0)


def dusty_share(s: Setting, one: OnePass) -> Array:
    """Share [0..1] of what lands that is half dry: dried in flight, or mist that comes down later.

    Parameters
    ----------
    s : the setting
    one : what it lands in one pass
    """
    dry_share, transfer = one.mixture.dry_share, one.transfer
    k = one.mixture.volatility * droplet_rate_um2_s(s.temperature_c, humidity_pct=s.humidity_pct)
    flight = flight_time_s(one.centre, distance_mm=s.distance_mm)
    in_flight = volume_below(
        half_dried_um(k, time_s=flight, dry_share=dry_share), characteristic=one.characteristic
    )
    late = half_dried_um(k, time_s=np.asarray(MIST_TIME_S), dry_share=dry_share)
    mist = constant("mist_landing") * (1 - transfer) * (one.sizes < late).mean(axis=0)
    return np.asarray((in_flight * transfer + mist) / np.maximum(transfer + mist, 1e-6))


def _dust(s: Setting, one: OnePass) -> Array:
    return logistic(dusty_share(s, one) / constant("dust_share"), spread=0.5)


def tip_min(s: Setting, mixture: Mixture) -> Array:
    """Minutes [min] until the tip is dry.

    Parameters
    ----------
    s : the setting
    mixture : its thinned paint
    """
    return tip_life_min(
        volatility=mixture.volatility,
        thinner_parts=s.thinner_parts,
        flow_aid_parts=s.flow_aid_parts,
        retarder_parts=s.retarder_parts,
        dry_rate=drying_rate(s.temperature_c, humidity_pct=s.humidity_pct),
    )


def no_flow(s: Setting, one: OnePass, *, tip: Array, opens: Array) -> Array:
    """Risk that nothing comes, or in spits.

    Parameters
    ----------
    s : the setting
    one : what it lands in one pass
    tip : float [min], until the tip is dry
    opens : float [-], factor of the flow that the tables do not know
    """
    mixture, flow, air_speed = one.mixture, one.flow, one.air.speed_m_s
    full = opens * paint_flow_ml_min(
        mixture, needle_mm=s.needle_mm, trigger=np.asarray(1.0), air_speed_m_s=air_speed
    )
    least = constant("full_flow_ml_min") * (s.needle_mm / 0.3) ** 2
    gap_um = needle_gap_mm(s.trigger, needle_mm=s.needle_mm) * 1e3
    clear = (1.5 + 6 * mixture.crowded_solids) * mixture.lump_um
    # particles lock into an arch over an opening of a few of their own size
    arch = (BRIDGE + BRIDGE_CROWDED * mixture.crowded_solids) * mixture.lump_um
    stable = largest_stable_um(mixture, air_speed_m_s=air_speed)
    return any_of(
        logistic(least / np.maximum(full, 1e-9), spread=0.3),
        logistic(constant("set_flow_share") * least / np.maximum(flow, 1e-9), spread=0.3),
        logistic(clear / np.maximum(gap_um, 1e-9), spread=0.2),
        logistic(arch / (s.needle_mm * 1e3), spread=0.2),
        logistic(stable / constant("stable_drop_um"), spread=0.3),
        logistic(constant("least_tip_life_min") / tip, spread=0.3),
    )
