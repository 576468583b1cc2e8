"""The plan: one versioned document that holds everything a piece's coats need.

Values of paints and gear are copied in as they were used, so an old revision still means the same.
Angles, passes and films are as models.md part 0 defines them.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity
from haze.core.plan.roles import HANDS, HandRole, TaskName
from haze.core.spray.constants import PaintKind, ThinnerKind

MOST_COATS = 60
MOST_STATIONS = 12
MOST_PARTS = 60
MOST_LIGHTS = 12
MOST_SECTORS = 8

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Hex = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Identity = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
DropUl = Annotated[float, Field(ge=5, le=200)]
Length = Annotated[float, Field(ge=-1e6, le=1e6)]
Point = Annotated[list[Length], Field(min_length=3, max_length=3)]


class Document(BaseModel):
    """Base: unknown fields are refused, so that nothing a user made is lost unseen."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Swatches(Document):
    """A paint's own colours over a dark and a light ground, at one dry film [µm]."""

    over_dark: Hex
    over_light: Hex
    dark: Hex = "#0c0c0d"
    light: Hex = "#f6f6f2"
    film_um: Annotated[float, Field(ge=0.5, le=500)] = 10.0


class PaintUsed(Document):
    """A paint as it was when used.

    Its colour is its masstone with an opacity grade; two swatches, where there are some, replace
    both. `strength` is its tinting strength in mixes, `fluorescent` how much light of its own it
    gives, 0 to 1.
    """

    id: Identity
    maker: Annotated[str, Field(max_length=120)] = ""
    range: Annotated[str, Field(max_length=120)] = ""
    name: Name
    kind: PaintKind
    masstone: Hex
    opacity: Opacity
    finish: Finish = "matt"
    drop_ul: DropUl = 50.0
    strength: Annotated[float, Field(ge=0.05, le=20)] = 1.0
    fluorescent: Annotated[float, Field(ge=0, le=1)] = 0.0
    swatches: Swatches | None = None


class MixPart(Document):
    """One more paint of a mix, and its drops."""

    paint: PaintUsed
    drops: Annotated[int, Field(ge=1, le=20)] = 1


class ThinnerUsed(Document):
    """A thinner as it was when used."""

    id: Identity
    name: Name
    kind: ThinnerKind
    drop_ul: DropUl = 50.0


class AirbrushUsed(Document):
    """An airbrush with its needle as it was when used."""

    id: Identity
    name: Name
    needle_mm: Annotated[float, Field(ge=0.1, le=1.0)]
    cup_ml: Annotated[float, Field(gt=0, le=100)] = 7.0


class Room(Document):
    """Temperature [°C] and relative humidity [%] where the piece is sprayed."""

    temperature_c: Annotated[float, Field(ge=0, le=45)] = 20.0
    humidity_pct: Annotated[float, Field(ge=1, le=99)] = 50.0


class StationAt(Document):
    """One spray position: azimuth, elevation, sweep (half angle) [°] and passes."""

    id: Identity
    azimuth_deg: Annotated[float, Field(ge=-360, le=360)]
    elevation_deg: Annotated[float, Field(ge=-90, le=90)]
    spread_deg: Annotated[float, Field(ge=2, le=90)] = 10.0
    passes: Annotated[int, Field(ge=1, le=200)] = 1


class SprayAt(Document):
    """Everything the painter sets for one coat."""

    thinner_parts: Annotated[float, Field(ge=0, le=12)]
    flow_aid_parts: Annotated[float, Field(ge=0, le=2)] = 0.0
    trigger: Annotated[float, Field(ge=0.01, le=1)]
    pressure_psi: Annotated[float, Field(ge=1, le=60)]
    distance_mm: Annotated[float, Field(ge=3, le=400)]
    speed_mm_s: Annotated[float, Field(ge=5, le=1000)]
    rest_s: Annotated[float, Field(ge=0, le=36000)] = 0.0
    blown: bool = False


FieldName = Literal["recesses", "panels", "edges", "ramp", "glow", "part"]


class Aim(Document):
    """Where an aimed coat goes, instead of sweeping the whole silhouette.

    `start` and `end` of a ramp lie in the axes and units of the mesh file; `light` names a glow,
    `part` a part; `margin_mm` is how far a panel's middle or a part's edge takes to fade.
    """

    field: FieldName
    passes: Annotated[int, Field(ge=1, le=200)] = 2
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


Note = Annotated[str, Field(max_length=400)]


class Coat(Document):
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
    drops: Annotated[int, Field(ge=1, le=20)] = 1
    also: Annotated[list[MixPart], Field(max_length=3)] = []
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
    def passes(self) -> int:
        """All passes of the coat."""
        return self.aim.passes if self.aim else sum(s.passes for s in self.stations)

    @property
    def most_passes(self) -> int:
        """Passes of the busiest station: what a surface square to it gets."""
        return self.aim.passes if self.aim else max(s.passes for s in self.stations)


class HandStep(Document):
    """A step by hand: brush, weathering, mask, rest.

    `strength` 0 to 1 is how much of its usual film it leaves; `aim` grades it by zone; `minutes`
    the wait after it, None for the usual one.
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
    minutes: Annotated[float, Field(ge=0, le=20_000)] | None = None

    @model_validator(mode="after")
    def _has_what_it_needs(self) -> HandStep:
        hand = HANDS[self.role]
        if hand.paint and self.paint is None:
            raise ValueError(f"{hand.label.lower()} needs a paint")
        if self.role == "mask_on" and self.part is None:
            raise ValueError("a mask needs the part it covers")
        return self

    @property
    def wait_min(self) -> float:
        """Minutes to wait after it."""
        return HANDS[self.role].minutes if self.minutes is None else self.minutes


Step = Annotated[Coat | HandStep, Field(discriminator="kind")]

UpAxis = Literal["z", "y", "x", "-z", "-y", "-x"]
ShowSide = Literal["-y", "+y", "-x", "+x", "-z", "+z"]


PartState = Literal["attached", "tacked", "held_off"]


class Cut(Document):
    """A flat cut through a body in the axes and units of the file: normal · p ≥ offset is above."""

    normal: Point
    offset: Length
    above: bool


class Part(Document):
    """A part of the piece: bodies of the mesh by the lowest number of their faces in the file."""

    id: Identity
    name: Name
    bodies: Annotated[list[Annotated[int, Field(ge=0)]], Field(min_length=1, max_length=20_000)]
    cuts: Annotated[list[Cut], Field(max_length=8)] = []
    state: PartState = "attached"


class BlockedSector(Document):
    """A cone of the sky from which nothing is sprayed: a handle, a hand, a bench."""

    id: Identity
    name: Name
    azimuth_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    elevation_deg: Annotated[float, Field(ge=-90, le=90)] = -90.0
    half_angle_deg: Annotated[float, Field(ge=1, le=120)] = 30.0


Groundwork = Literal["none", "plaster", "cork", "foam"]


class Piece(Document):
    """The piece: a mesh, its true size, which way is up, and which side people look at.

    Without `parts` every body of the mesh is a part of its own, all attached. `groundwork` is what
    of it is soft or dissolves: plaster in water, cork drinks paint, foam melts in solvent.
    """

    mesh: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
    name: Name
    height_mm: Annotated[float, Field(ge=1, le=2000)]
    up: UpAxis = "z"
    show: ShowSide = "-y"
    turn_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    copies: Annotated[int, Field(ge=1, le=500)] = 1
    surface: Hex = "#8d8e8c"
    groundwork: Groundwork = "none"
    parts: Annotated[list[Part], Field(max_length=MOST_PARTS)] = []
    blocked: Annotated[list[BlockedSector], Field(max_length=MOST_SECTORS)] = []

    @model_validator(mode="after")
    def _axes_differ(self) -> Piece:
        if self.up[-1] == self.show[-1]:
            raise ValueError("up and show side lie on the same axis; choose another")
        _single([p.id for p in self.parts], "parts")
        _single([s.id for s in self.blocked], "blocked sectors")
        return self


def _single(identities: list[str], what: str) -> None:
    if len(set(identities)) != len(identities):
        raise ValueError(f"two {what} share an id")


Strength = Annotated[float, Field(ge=0, le=4)]


class KeyLight(Document):
    """Light from one direction, from hard to wide (half angle) [°]."""

    kind: Literal["key"] = "key"
    id: Identity = "key"
    name: Name = "Key"
    azimuth_deg: Annotated[float, Field(ge=-360, le=360)] = 40.0
    elevation_deg: Annotated[float, Field(ge=-90, le=90)] = 45.0
    softness_deg: Annotated[float, Field(ge=2, le=90)] = 15.0
    strength: Strength = 1.0
    colour: Hex = "#ffffff"


class SkyLight(Document):
    """An evenly bright dome."""

    kind: Literal["sky"] = "sky"
    id: Identity = "sky"
    name: Name = "Sky"
    strength: Strength = 0.4
    colour: Hex = "#ffffff"


class GlowLight(Document):
    """A light on or beside the piece, so near that distance counts.

    `at` (and `to`, the other end of a strip) lie in the axes and units of the mesh file; at
    `reach_mm` a surface square to it gets full light; within `clear_mm` nothing throws a shadow.
    """

    kind: Literal["glow"] = "glow"
    id: Identity = "glow"
    name: Name = "Glow"
    shape: Literal["sphere", "strip", "pool"] = "sphere"
    at: Point
    to: Point | None = None
    radius_mm: Annotated[float, Field(ge=0.1, le=500)] = 2.0
    reach_mm: Annotated[float, Field(ge=0.5, le=1000)] = 8.0
    clear_mm: Annotated[float, Field(ge=0, le=100)] = 0.0
    strength: Strength = 1.0
    colour: Hex = "#8fe8dc"


Light = Annotated[KeyLight | SkyLight | GlowLight, Field(discriminator="kind")]


class Schools(Document):
    """One school in each row; sets defaults and is named on the plan."""

    pressure: Literal["whisper", "middle", "brisk"] = "middle"
    light: Literal["noon", "shoulder", "stage"] = "shoulder"
    ground: Literal["two_tone", "three_tone", "hue_ground"] = "three_tone"
    order: Literal["climb", "descend", "veil", "span"] = "climb"
    cup: Literal["rinse", "carry"] = "rinse"
    thinner: Literal["own", "water_flow_aid", "any_of_kind"] = "own"


class Silenced(Document):
    """A finding the painter does not want to see again on a step, and why."""

    rule: Identity
    step: Identity
    note: Note = ""


class Plan(Document):
    """A whole plan; `coats` run from the first step to the last, sprayed and by hand."""

    schema_version: Literal[3] = 3
    name: Name
    schools: Schools = Schools()
    piece: Piece
    lights: Annotated[list[Light], Field(max_length=MOST_LIGHTS)] = [KeyLight()]
    airbrush: AirbrushUsed
    room: Room = Room()
    coats: Annotated[list[Step], Field(max_length=MOST_COATS)] = []
    silenced: Annotated[list[Silenced], Field(max_length=200)] = []

    @model_validator(mode="before")
    @classmethod
    def _from_older(cls, given: Any) -> Any:
        """Plans of older schemas, brought up one version at a time."""
        if isinstance(given, dict) and given.get("schema_version") == 1:
            given = _with_lights(given)
        if isinstance(given, dict) and given.get("schema_version") == 2:
            given = _with_steps(given)
        return given

    @model_validator(mode="after")
    def _identities_are_single(self) -> Plan:
        _single([c.id for c in self.coats], "coats")
        _single([s.id for c in self.sprayed for s in c.stations], "stations")
        _single([light.id for light in self.lights], "lights")
        glows = {light.id for light in self.lights if light.kind == "glow"}
        for coat in self.coats:
            if coat.aim and coat.aim.light is not None and coat.aim.light not in glows:
                raise ValueError(f"{coat.name} is aimed round a glow that is not in the plan")
        return self

    @property
    def sprayed(self) -> list[Coat]:
        """The sprayed coats, switched off or not."""
        return [c for c in self.coats if c.kind == "spray"]

    @property
    def done(self) -> list[Coat | HandStep]:
        """The steps that are not switched off."""
        return [c for c in self.coats if not c.off]

    @property
    def key_light(self) -> KeyLight:
        """The first key light, or the default one."""
        return next((light for light in self.lights if light.kind == "key"), KeyLight())


def _with_lights(given: dict[str, Any]) -> dict[str, Any]:
    """Schema 1 had one key light and nothing else."""
    light = given.get("light")
    lights = [{"kind": "key", **light}] if isinstance(light, dict) else [{"kind": "key"}]
    rest = {k: v for k, v in given.items() if k != "light"}
    return {**rest, "schema_version": 2, "lights": lights}


def _with_steps(given: dict[str, Any]) -> dict[str, Any]:
    """Schema 2 had sprayed coats only, and one task for every varnish."""
    coats = given.get("coats")
    if not isinstance(coats, list):
        return {**given, "schema_version": 3}
    return {**given, "schema_version": 3, "coats": [_step_of(c) for c in coats]}


def _step_of(coat: Any) -> Any:
    if not isinstance(coat, dict):
        return coat
    task = coat.get("task")
    if task == "varnish":
        paint = coat.get("paint")
        finish = paint.get("finish", "matt") if isinstance(paint, dict) else "matt"
        task = "matt" if finish == "ultra_matt" else finish
    return {"kind": "spray", **coat, "task": task}
