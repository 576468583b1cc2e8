"""Steps of a plan: sprayed coats with their stations or aim, and steps by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from haze.core.film.paint import PaintOptics
from haze.core.light.stations import LEAST_SPREAD_DEG, MOST_SPREAD_DEG, Station
from haze.core.plan.base import Azimuth, Elevation, Identity, Name, Note, Point, Strict, Value
from haze.core.plan.knobs import (
    Distance,
    FlowAidParts,
    Passes,
    Pressure,
    Rest,
    RetarderParts,
    Speed,
    ThinnerParts,
    Trigger,
)
from haze.core.plan.masks import MASKS, MaskKind, MaskOf
from haze.core.plan.mix import MOST_DROPS, NO_PAINT, Mix
from haze.core.plan.paint import PaintUsed, ThinnerUsed
from haze.core.plan.roles import HANDS, SEEN_THROUGH, HandRole, TaskName

MOST_STATIONS = 12
MOST_PAINTS = 4
Drops = Annotated[int, Field(ge=1, le=MOST_DROPS)]
Spread = Annotated[float, Field(ge=LEAST_SPREAD_DEG, le=MOST_SPREAD_DEG)]


class MixPart(Value):
    """One more paint of a mix, and its drops."""

    paint: PaintUsed
    drops: Drops = 1


class StationAt(Value):
    """One spray position: azimuth, elevation, sweep (half angle) [°] and passes."""

    id: Identity
    azimuth_deg: Azimuth
    elevation_deg: Elevation
    spread_deg: Spread = 10.0
    passes: Passes = 1

    @property
    def station(self) -> Station:
        """Where it stands and how far it sweeps."""
        return Station(self.azimuth_deg, self.elevation_deg, self.spread_deg)


class SprayAt(Value):
    """Everything the painter sets for one coat."""

    thinner_parts: ThinnerParts
    flow_aid_parts: FlowAidParts = 0.0
    retarder_parts: RetarderParts = 0.0
    trigger: Trigger
    pressure_psi: Pressure
    distance_mm: Distance
    speed_mm_s: Speed
    rest_s: Rest = 0.0
    blown: bool = False


FieldName = Literal["recesses", "panels", "edges", "ramp", "glow", "part"]


class Aim(Value):
    """Where an aimed coat goes, instead of sweeping the whole silhouette.

    `start` and `end` of a ramp lie in the axes and units of the mesh file; `light` names a glow,
    `part` a part; `margin_mm` is how far a panel's middle or a part's edge takes to fade.
    """

    field: FieldName
    passes: Passes = 2
    reversed: bool = False
    start: Point | None = None
    end: Point | None = None
    light: Identity | None = None
    part: Identity | None = None
    margin_mm: Annotated[float, Field(ge=0, le=200)] = 2.0

    @model_validator(mode="after")
    def _is_complete(self) -> Aim:
        wanted = {"ramp": ("start", "end"), "glow": ("light",), "part": ("part",)}
        for name in wanted.get(self.field, ()):
            if getattr(self, name) is None:
                raise ValueError(f"an aimed coat by {self.field} needs its {name}")
        return self


class Coat(Strict):
    """One sprayed coat: what, thinned with what, set how, swept from stations or aimed at a field.

    `drops` of `paint` and those of `also` are the mix; alone, a paint counts as one drop.
    """

    kind: Literal["spray"] = "spray"
    id: Identity
    name: Name
    task: TaskName
    off: bool = False
    note: Note = ""
    paint: PaintUsed
    drops: Drops = 1
    also: list[MixPart] = Field(default=[], max_length=MOST_PAINTS - 1)
    thinner: ThinnerUsed
    spray: SprayAt
    stations: Annotated[list[StationAt], Field(max_length=MOST_STATIONS)]
    aim: Aim | None = None

    @model_validator(mode="after")
    def _is_sprayed(self) -> Coat:
        if bool(self.stations) == (self.aim is not None):
            raise ValueError("a coat needs at least one station, or an aim and no stations")
        return self

    @property
    def mix(self) -> Mix:
        """What is in its cup, without thinner."""
        return Mix.of((self.paint, self.drops), *((m.paint, m.drops) for m in self.also))

    @property
    def optics(self) -> PaintOptics:
        """What it lays on."""
        return self.mix.optics

    @property
    def washes(self) -> bool:
        """Whether it runs into recesses."""
        return self.task == "wash"

    @property
    def seen_through(self) -> bool:
        """Whether what lies below it still shows: a tint, a veil, a wash, a varnish."""
        return self.task in SEEN_THROUGH and self.paint.kind != "metallic"

    @property
    def patch_um(self) -> None:
        """A sprayed coat is no patchwork."""
        return None

    @property
    def passes(self) -> int:
        """All passes of the coat."""
        return self.aim.passes if self.aim else sum(s.passes for s in self.stations)

    @property
    def most_passes(self) -> int:
        """Passes of the busiest station: what a surface square to it gets."""
        return self.aim.passes if self.aim else max(s.passes for s in self.stations)

    def mixed_as(self, mix: Mix) -> Coat:
        """The same coat with another mix in its cup.

        Parameters
        ----------
        mix : at most four paints
        """
        (paint, drops), *also = mix.parts
        more = [MixPart(paint=p, drops=d) for p, d in also]
        return self.model_copy(update={"paint": paint, "drops": drops, "also": more})


class HandStep(Strict):
    """A step by hand: brush, weathering, mask, rest.

    `strength` 0 to 1 is how much of its usual film it leaves; `aim` grades it by zone; `minutes`
    the wait after it, None for the usual one. A mask covers its part, or its zone where that is
    at least half full; one that is taken off is named by the same part or zone, or all are.
    """

    kind: Literal["hand"] = "hand"
    id: Identity
    name: Name
    role: HandRole
    off: bool = False
    note: Note = ""
    paint: PaintUsed | None = None
    strength: Annotated[float, Field(ge=0.05, le=1)] = 0.6
    part: Identity | None = None
    aim: Aim | None = None
    mask: MaskKind = "tape"
    minutes: Annotated[float, Field(ge=0, le=20_000)] | None = None

    @model_validator(mode="after")
    def _has_what_it_needs(self) -> HandStep:
        hand = HANDS[self.role]
        if hand.paint and self.paint is None:
            raise ValueError(f"{hand.label.lower()} needs a paint")
        if self.role == "mask_on" and self.part is None and self.aim is None:
            raise ValueError("a mask needs the part or the zone it covers")
        return self

    @property
    def mix(self) -> Mix | None:
        """What it lays on; None without paint."""
        return Mix.of((self.paint, 1)) if self.paint else None

    @property
    def optics(self) -> PaintOptics:
        """What it lays on; without paint, nothing at all."""
        return self.paint.optics if self.paint else NO_PAINT

    @property
    def washes(self) -> bool:
        """Whether it runs into recesses."""
        return self.role == "wash"

    @property
    def seen_through(self) -> bool:
        """Whether what lies below it still shows."""
        return self.washes

    @property
    def full_um(self) -> float:
        """Dry film [µm] where it lies fully."""
        return HANDS[self.role].film_um * self.strength

    @property
    def patch_um(self) -> float | None:
        """Dry film [µm] of what lies in patches with nothing beside them; None for other steps."""
        return self.full_um if HANDS[self.role].patches else None

    @property
    def about_part(self) -> str | None:
        """The part it goes to, or that its zone is about."""
        return self.part or (self.aim.part if self.aim else None)

    @property
    def masks(self) -> MaskOf | None:
        """What kind of mask it lays on; None when it lays on none."""
        return MASKS[self.mask] if self.role == "mask_on" else None

    @property
    def wait_min(self) -> float:
        """Minutes to wait after it."""
        if self.minutes is not None:
            return self.minutes
        return self.masks.dries_min if self.masks else HANDS[self.role].minutes

    @property
    def hands_min(self) -> float:
        """Minutes it takes on a copy of usual size."""
        return self.masks.hands_min if self.masks else HANDS[self.role].hands_min

    @property
    def words(self) -> str:
        """How it is done."""
        return self.masks.words if self.masks else HANDS[self.role].words


Step = Annotated[Coat | HandStep, Field(discriminator="kind")]
