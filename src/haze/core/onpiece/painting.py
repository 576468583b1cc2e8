"""From a plan's coats to film on every vertex, and the values each result depends on.

What a result depends on is a frozen value; what is worked out takes that value and nothing else of
the plan, so that a cache by it can not forget anything.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from haze.core.arrays import Floats
from haze.core.light.stations import Station
from haze.core.onpiece.aiming import AimedAt, AimedDeposit, MaskAt, part_number
from haze.core.plan.coat import Coat, HandStep, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import ground_under, index_of, surface_under
from haze.core.plan.masks import MASKS, MaskKind
from haze.core.plan.paint import AirbrushUsed
from haze.core.plan.piece import Part, Room
from haze.core.plan.roles import HandRole
from haze.core.spray.calibrate import Belief, PaintThrough
from haze.core.spray.constants import PaintKind, Surface, ThinnerKind, constant
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import NOMINAL, Latents

DEEPEST = 3.0  # times what gets under a mask's edge; deeper is nothing
HALO_FOOTPRINTS = 3.0  # missed mist spreads this many footprints wide (judged)


@dataclass(frozen=True, slots=True)
class Spraying:
    """All that the spray model's outcome of a coat depends on.

    Attributes
    ----------
    paint, thinner : kinds of the tables; of a mix, that of its first paint
    spray : what the painter sets
    needle_mm : float [mm]
    room : where it is sprayed
    most_passes : int, of the busiest station
    contrast : float [0..1], of the mix against what lies below
    surface : what lies below, by its tooth
    belief : what trials say of this paint in this airbrush; None for what the tables say
    """

    paint: PaintKind
    thinner: ThinnerKind
    spray: SprayAt
    needle_mm: float
    room: Room
    most_passes: int
    contrast: float
    surface: Surface
    belief: Belief | None = None

    @classmethod
    def of(cls, plan: Plan, coat: Coat, belief: Belief | None = None) -> Spraying:
        """How a coat is sprayed.

        Parameters
        ----------
        plan : gives airbrush, room, and what lies below
        coat : one of its coats
        belief : what trials say of its paint in this airbrush
        """
        place = index_of(plan, coat.id)
        return cls(
            paint=coat.paint.kind,
            thinner=coat.thinner.kind,
            spray=coat.spray,
            needle_mm=plan.airbrush.needle_mm,
            room=plan.room,
            most_passes=coat.most_passes,
            contrast=coat.mix.contrast_over(ground_under(plan, place)),
            surface=surface_under(plan, place),
            belief=belief,
        )

    @property
    def landing(self) -> Spraying:
        """What its film depends on: what lies below decides the risks alone."""
        return replace(self, contrast=1.0, surface="matt")

    @property
    def setting(self) -> Setting:
        """The spray model's setting: all passes of the busiest station."""
        s = self.spray
        return make_setting(
            self.paint,
            thinner=self.thinner,
            thinner_parts=s.thinner_parts,
            flow_aid_parts=s.flow_aid_parts,
            retarder_parts=s.retarder_parts,
            needle_mm=self.needle_mm,
            trigger=s.trigger,
            pressure_psi=s.pressure_psi,
            distance_mm=s.distance_mm,
            speed_mm_s=s.speed_mm_s,
            temperature_c=self.room.temperature_c,
            humidity_pct=self.room.humidity_pct,
            passes=float(self.most_passes),
            rest_s=s.rest_s,
            blown=float(s.blown),
            contrast=self.contrast,
            surface=self.surface,
        )

    @property
    def latents(self) -> Latents:
        """The factors that are believed."""
        return NOMINAL if self.belief is None else self.belief.point

    def outcome(self) -> Outcome:
        """What the setting does."""
        return spray(self.setting, self.latents)


def sprayed_by(coat: Coat, airbrush: AirbrushUsed) -> PaintThrough:
    """The paint and needle whose trials tell of a coat; of a mix, its first paint counts.

    Parameters
    ----------
    coat : gives the paint
    airbrush : it is sprayed with
    """
    return PaintThrough(coat.paint.kind, coat.paint.id, airbrush.id, airbrush.needle_mm)


@dataclass(frozen=True, slots=True)
class SprayedFilm:
    """All that the film of a sprayed coat depends on, on one piece.

    Attributes
    ----------
    spraying : how it is sprayed
    swept : stations and passes of each; empty for an aimed coat
    fresh : whether the deposit of each station was traced with rays of its own
    aimed : where an aimed coat goes, and its passes
    washes : whether it runs into recesses
    masks : those that lie on the piece meanwhile
    """

    spraying: Spraying
    swept: tuple[tuple[Station, int], ...]
    fresh: tuple[bool, ...]
    aimed: tuple[AimedDeposit, int] | None
    washes: bool
    masks: tuple[MaskAt, ...]

    @property
    def stations(self) -> tuple[Station, ...]:
        """From where it is swept."""
        return tuple(station for station, _ in self.swept)

    @property
    def passes(self) -> tuple[int, ...]:
        """Passes of each station, or of the aim."""
        return (self.aimed[1],) if self.aimed else tuple(passes for _, passes in self.swept)


@dataclass(frozen=True, slots=True)
class HandFilm:
    """All that the film of a step by hand depends on, on one piece.

    Attributes
    ----------
    role : what is done
    full_um : float [µm, dry], where it lies fully
    zone : where it goes; None for everywhere
    part : number of the only part it goes to; None for all
    masks : those that lie on the piece meanwhile
    """

    role: HandRole
    full_um: float
    zone: AimedAt | None
    part: int | None
    masks: tuple[MaskAt, ...] = ()

    @property
    def washes(self) -> bool:
        """Whether it runs into recesses."""
        return self.role == "wash"

    @classmethod
    def of(
        cls,
        step: HandStep,
        plan: Plan,
        parts: Sequence[Part],
        masks: tuple[MaskAt, ...] = (),
    ) -> HandFilm:
        """What a step by hand of a plan leaves.

        Parameters
        ----------
        step : the step
        plan : gives glows and height
        parts : of its piece
        masks : those that lie on it meanwhile
        """
        if not step.full_um:
            return cls(step.role, 0.0, None, None)
        return cls(
            role=step.role,
            full_um=step.full_um,
            zone=AimedAt.of(step.aim, plan, parts) if step.aim else None,
            part=part_number(parts, step.part) if step.part is not None else None,
            masks=masks,
        )


Laid = SprayedFilm | HandFilm


@dataclass(frozen=True, slots=True)
class Through:
    """What masks let through: (n,) float32 [0..1] of the film and of the mist."""

    film: Floats
    mist: Floats


def under_edge(depth_mm: Floats, *, kind: MaskKind) -> Floats:
    """(n,) float32 [0..1]: share of the film that gets under a mask's edge.

    exp(−2 (d/d₀)²), an eighth of it at the depth d₀ of the kind (judged).

    Parameters
    ----------
    depth_mm : (n,) float32 [mm], along the surface from the edge inwards; 0 beside the mask
    kind : of the mask
    """
    deep = depth_mm / MASKS[kind].under_mm
    share = np.where(deep < DEEPEST, np.exp(-2.0 * deep**2), 0.0)
    return np.asarray(share, dtype=np.float32)


def landed_passes(passes: Sequence[int], deposits: Sequence[Floats]) -> Floats:
    """(n,) float32 [-]: Σ passes × deposit.

    Parameters
    ----------
    passes : of each station, or of an aim
    deposits : (n,) float32 [-] for each of them
    """
    total = deposits[0] * np.float32(passes[0])
    for count, share in zip(passes[1:], deposits[1:], strict=True):
        total = total + share * np.float32(count)
    return total


def mist_um(outcome: Outcome, *, passes: float) -> float:
    """Film [µm, dry] that missed mist leaves on an open surface, whichever way it faces.

    What misses spreads over a halo of three footprints; a judged part of it lands.

    Parameters
    ----------
    outcome : of the coat
    passes : float [-], all of them
    """
    transfer = max(float(outcome.transfer), 1e-3)
    missed = float(outcome.dry_film_um) * (1 - transfer) / transfer
    return missed * passes * constant("mist_landing") / HALO_FOOTPRINTS**2


def sprayed_film_um(
    passes: Sequence[int],
    *,
    outcome: Outcome,
    deposits: Sequence[Floats],
    openness: Floats,
    mist_at: Floats | None = None,
    through: Through | None = None,
) -> Floats:
    """(n,) float32 [µm, dry]: film of one sprayed coat.

    Parameters
    ----------
    passes : of each station, or of an aim
    outcome : of the coat
    deposits : one (n,) float32 [-] per station, or one for an aimed coat
    openness : (n,) float32 [-], mean openness to all sides, carries the mist
    mist_at : (n,) float32 [0..1], share of the mist at each point; None for all of it
    through : what masks let through; None without
    """
    film = landed_passes(passes, deposits) * np.float32(outcome.dry_film_um)
    mist = openness * np.float32(mist_um(outcome, passes=sum(passes)))
    if mist_at is not None:
        mist = mist * mist_at
    if through is not None:
        film, mist = film * through.film, mist * through.mist
    return np.asarray(film + mist, dtype=np.float32)
