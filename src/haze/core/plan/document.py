"""The plan: one versioned document that holds everything a piece's coats need.

Values of paints and gear are copied in as they were used, so an old revision still means the same.
Angles, passes and films are as models.md part 0 defines them.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity
from haze.core.spray.constants import PaintKind, ThinnerKind

MOST_COATS = 40
MOST_STATIONS = 12

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Hex = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Identity = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
DropUl = Annotated[float, Field(ge=5, le=200)]


class Document(BaseModel):
    """Base: unknown fields are refused, so that nothing a user made is lost unseen."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class PaintUsed(Document):
    """A paint as it was when used."""

    id: Identity
    maker: Annotated[str, Field(max_length=120)] = ""
    name: Name
    kind: PaintKind
    masstone: Hex
    opacity: Opacity
    finish: Finish = "matt"
    drop_ul: DropUl = 50.0


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


TaskName = Literal["prime", "cover", "light", "rung", "veil", "metal", "varnish"]


class Coat(Document):
    """One coat: what, thinned with what, set how, from where."""

    id: Identity
    name: Name
    task: TaskName
    paint: PaintUsed
    thinner: ThinnerUsed
    spray: SprayAt
    stations: Annotated[list[StationAt], Field(min_length=1, max_length=MOST_STATIONS)]


UpAxis = Literal["z", "y", "x", "-z", "-y", "-x"]
ShowSide = Literal["-y", "+y", "-x", "+x", "-z", "+z"]


class Piece(Document):
    """The piece: a mesh, its true size, which way is up, and which side people look at."""

    mesh: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
    name: Name
    height_mm: Annotated[float, Field(ge=1, le=2000)]
    up: UpAxis = "z"
    show: ShowSide = "-y"
    turn_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    copies: Annotated[int, Field(ge=1, le=500)] = 1
    surface: Hex = "#8d8e8c"

    @model_validator(mode="after")
    def _axes_differ(self) -> Piece:
        if self.up[-1] == self.show[-1]:
            raise ValueError("up and show side lie on the same axis; choose another")
        return self


class KeyLight(Document):
    """Where the light comes from, and how soft it is (half angle) [°]."""

    azimuth_deg: Annotated[float, Field(ge=-360, le=360)] = 40.0
    elevation_deg: Annotated[float, Field(ge=-90, le=90)] = 45.0
    softness_deg: Annotated[float, Field(ge=2, le=90)] = 15.0


class Schools(Document):
    """One school in each row; sets defaults and is named on the plan."""

    pressure: Literal["whisper", "middle", "brisk"] = "middle"
    light: Literal["noon", "shoulder", "stage"] = "shoulder"
    ground: Literal["two_tone", "three_tone", "hue_ground"] = "three_tone"
    order: Literal["climb", "descend", "veil", "span"] = "climb"
    cup: Literal["rinse", "carry"] = "rinse"
    thinner: Literal["own", "water_flow_aid", "any_of_kind"] = "own"


class Plan(Document):
    """A whole plan; `coats` run from the first sprayed to the last."""

    schema_version: Literal[1] = 1
    name: Name
    schools: Schools = Schools()
    piece: Piece
    light: KeyLight = KeyLight()
    airbrush: AirbrushUsed
    room: Room = Room()
    coats: Annotated[list[Coat], Field(max_length=MOST_COATS)] = []

    @model_validator(mode="after")
    def _identities_are_single(self) -> Plan:
        coats = [c.id for c in self.coats]
        stations = [s.id for c in self.coats for s in c.stations]
        if len(set(coats)) != len(coats) or len(set(stations)) != len(stations):
            raise ValueError("two coats or two stations share an id")
        return self
