"""What a setting lands, as numbers a picture is drawn from: widths, droplets, wetness."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.atomise import TORN_VOLUMES, torn_drops_um, volume_below
from haze.core.spray.flow import needle_gap_mm
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.model import (
    ML_MIN_IN_M3_S,
    OnePass,
    dusty_share,
    no_flow,
    one_pass,
    specks_seen_cm2,
    tip_min,
    wet_numbers,
)
from haze.core.spray.setting import Setting
from haze.core.spray.specks import splat_factor
from haze.core.spray.unsure import NOMINAL, Latents

MM3_IN_M3 = 1e9
EDGES = np.geomspace(0.25, 2.6, 17)  # of size classes, over the characteristic size


@dataclass(frozen=True, slots=True, eq=False)
class Splats:
    """Splats by class: (k,) thickness [µm, dry], and (k,) share of the film in each."""

    thick_um: Array
    shares: Array


@dataclass(frozen=True, slots=True)
class SprayLanding:
    """One setting, at one distance.

    Attributes
    ----------
    setting : the setting itself, of single values
    one : what it lands in one pass, by the spray model
    creep : float [-], factor on the spider number
    sigma_mm : float [mm], of the Gaussian footprint
    wet_um : float [µm], wet film on the axis of one stroke
    dry_share : float [-], of the wet volume that stays
    volume_mm3_s : float [mm³/s], wet, that lands
    sizes_um : (k,) float [µm], droplet diameters
    shares : (k,) float [-], of the landed volume in each size; they sum to 1
    splats_mm : (k,) float [mm], splat diameter of each size
    dusty : float [0..1], share of what lands that is half dry
    stops : float [0..1], risk that nothing flows
    specks_cm2 : float [1/cm²], splats that are seen after one pass
    """

    setting: Setting
    one: OnePass
    creep: float
    sigma_mm: float
    wet_um: float
    dry_share: float
    volume_mm3_s: float
    sizes_um: Array
    shares: Array
    splats_mm: Array
    dusty: float
    stops: float
    specks_cm2: float

    @property
    def splats(self) -> Splats:
        """What its droplets become on the card."""
        areas = np.pi / 4 * self.splats_mm**2
        thick = self.dry_share * np.pi / 6 * (self.sizes_um * 1e-3) ** 3 / areas * 1e3
        return Splats(thick, self.shares)

    def wetness(self, standing_um: Array) -> tuple[Array, Array]:
        """Spider number and run number [-] of wet films; 1 is a spider, or a run.

        Parameters
        ----------
        standing_um : (...) float [µm], wet film that has not dried
        """
        return wet_numbers(self.setting, self.one, standing_um, creep=self.creep)


def landing_of(s: Setting, latents: Latents = NOMINAL) -> SprayLanding:
    """What one setting lands.

    Parameters
    ----------
    s : of single values
    latents : single factors of what the tables do not know
    """
    one = one_pass(s, latents)
    centre = np.asarray(one.centre)
    torn = float(one.torn)
    gap_um = needle_gap_mm(s.trigger, needle_mm=s.needle_mm) * 1e3
    coarse = torn_drops_um(np.maximum(gap_um, 1e-3))
    fine, volumes = _fine(float(one.characteristic))
    sizes = np.concatenate([fine, coarse])
    shares = np.concatenate([(1 - torn) * volumes, torn * TORN_VOLUMES])
    spread = splat_factor(one.mixture, diameter_um=sizes, speed_m_s=centre)
    flow_mm3_s = float(one.flow) / ML_MIN_IN_M3_S * MM3_IN_M3
    return SprayLanding(
        setting=s,
        one=one,
        creep=float(latents.creep),
        sigma_mm=float(latents.width * footprint_sigma_mm(s.distance_mm)),
        wet_um=float(one.wet),
        dry_share=float(one.mixture.dry_share),
        volume_mm3_s=flow_mm3_s * float(one.transfer),
        sizes_um=sizes,
        shares=shares,
        splats_mm=spread * sizes * 1e-3,
        dusty=float(dusty_share(s, one)),
        stops=float(no_flow(s, one, tip=tip_min(s, one.mixture), opens=latents.flow)),
        specks_cm2=float(specks_seen_cm2(s, one)),
    )


def _fine(characteristic_um: float) -> tuple[Array, Array]:
    """Diameters [µm] of droplets, and the share of volume in each: seldom ones too, they show."""
    edges = np.concatenate([[0.0], EDGES * characteristic_um])
    shares = np.diff(volume_below(edges, characteristic=np.asarray(characteristic_um)))
    middles = np.concatenate([[0.8 * edges[1]], np.sqrt(edges[1:-1] * edges[2:])])
    return middles, shares / shares.sum()
