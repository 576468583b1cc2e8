"""Lights of a plan: keys, sky and glows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from haze.core.light.stations import Station
from haze.core.plan.base import Azimuth, Elevation, Hex, Identity, Name, Point, Value
from haze.core.plan.coat import Spread

MOST_LIGHTS = 12
Power = Annotated[float, Field(ge=0, le=4)]


class KeyLight(Value):
    """Light from one direction, from hard to wide (half angle) [°]."""

    kind: Literal["key"] = "key"
    id: Identity = "key"
    name: Name = "Key"
    azimuth_deg: Azimuth = 40.0
    elevation_deg: Elevation = 45.0
    softness_deg: Spread = 15.0
    strength: Power = 1.0
    colour: Hex = "#ffffff"

    @property
    def station(self) -> Station:
        """Where a coat stands that is sprayed as this light shines."""
        return Station(self.azimuth_deg, self.elevation_deg, self.softness_deg)


class SkyLight(Value):
    """An evenly bright dome."""

    kind: Literal["sky"] = "sky"
    id: Identity = "sky"
    name: Name = "Sky"
    strength: Power = 0.4
    colour: Hex = "#ffffff"


class GlowLight(Value):
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
    strength: Power = 1.0
    colour: Hex = "#8fe8dc"


Light = Annotated[KeyLight | SkyLight | GlowLight, Field(discriminator="kind")]
