"""The piece: its mesh, how it stands, its parts, and what keeps spray away."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from haze.core.directions import Cone
from haze.core.mesh.frame import ShowSide, UpAxis
from haze.core.plan.base import (
    Azimuth,
    Digest,
    Elevation,
    Hex,
    Identity,
    Length,
    Name,
    Point,
    Strict,
    Value,
    require_single,
)
from haze.core.plan.knobs import Humidity, Temperature

BARE_HEX = "#8d8e8c"  # grey plastic or resin
MOST_PARTS = 60
MOST_SECTORS = 8
MOST_BODIES = 20_000
MOST_CUTS = 8
MOST_COPIES = 500

PartState = Literal["attached", "tacked", "held_off"]
Groundwork = Literal["none", "plaster", "cork", "foam"]
Height = Annotated[float, Field(ge=1, le=2000)]
Copies = Annotated[int, Field(ge=1, le=MOST_COPIES)]
Face = Annotated[int, Field(ge=0, le=2**31 - 1)]


class Room(Value):
    """Temperature [°C] and relative humidity [%] where the piece is sprayed."""

    temperature_c: Temperature = 20.0
    humidity_pct: Humidity = 50.0


class Cut(Value):
    """A flat cut through a body in the axes and units of the file: normal · p ≥ offset is above."""

    normal: Point
    offset: Length
    above: bool


class Part(Strict):
    """A part of the piece: bodies of the mesh by the lowest number of their faces in the file."""

    id: Identity
    name: Name
    bodies: Annotated[list[Face], Field(min_length=1, max_length=MOST_BODIES)]
    cuts: list[Cut] = Field(default=[], max_length=MOST_CUTS)
    state: PartState = "attached"


class BlockedSector(Value):
    """A cone of the sky from which nothing is sprayed: a handle, a hand, a bench."""

    id: Identity
    name: Name
    azimuth_deg: Azimuth = 0.0
    elevation_deg: Elevation = -90.0
    half_angle_deg: Annotated[float, Field(ge=1, le=120)] = 30.0

    @property
    def cone(self) -> Cone:
        """Where it lies."""
        return Cone(self.azimuth_deg, self.elevation_deg, self.half_angle_deg)


class Piece(Strict):
    """The piece: a mesh, its true size, which way is up, and which side people look at.

    Without `parts` every body of the mesh is a part of its own, all attached. `groundwork` is what
    of it is soft or dissolves: plaster in water, cork drinks paint, foam melts in solvent.
    """

    mesh: Digest
    name: Name
    height_mm: Height
    up: UpAxis = "z"
    show: ShowSide = "-y"
    turn_deg: Azimuth = 0.0
    copies: Copies = 1
    surface: Hex = BARE_HEX
    groundwork: Groundwork = "none"
    parts: list[Part] = Field(default=[], max_length=MOST_PARTS)
    blocked: list[BlockedSector] = Field(default=[], max_length=MOST_SECTORS)

    @model_validator(mode="after")
    def _axes_differ(self) -> Piece:
        if self.up[-1] == self.show[-1]:
            raise ValueError("up and front lie on the same axis; choose another")
        require_single([p.id for p in self.parts], "parts")
        require_single([s.id for s in self.blocked], "blocked sectors")
        return self

    @property
    def cones(self) -> tuple[Cone, ...]:
        """From where nothing is sprayed."""
        return tuple(sector.cone for sector in self.blocked)
