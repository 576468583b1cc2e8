"""The plan: one versioned document that holds everything a piece's coats need.

Values of paints and gear are copied in as they were used, so an old revision still means the same.
Angles, passes and films are as models.md part 0 defines them.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from haze.core.plan.base import Hex, Identity, Name, Note, Strict, Value, require_single
from haze.core.plan.coat import Coat, HandStep, Step
from haze.core.plan.lights import MOST_LIGHTS, GlowLight, KeyLight, Light
from haze.core.plan.older import SCHEMA, brought_up
from haze.core.plan.paint import AirbrushUsed
from haze.core.plan.piece import Piece, Room
from haze.core.plan.schools import Schools

MOST_COATS = 60
MOST_SILENCED = 200


class Silenced(Value):
    """A finding the painter does not want to see again on a step, and why."""

    rule: Identity
    step: Identity
    note: Note = ""


Along = Literal["light", "height", "across", "facing"]


class Asked(Value):
    """What colour a scheme was asked for: one, or two or three of a gradient.

    It runs along the light from shade to light, from foot to top, across from left to
    right, or by what faces down and up (belly and back).
    """

    colours: tuple[Hex, ...] = Field(min_length=1, max_length=3)
    along: Along = "light"


class Plan(Strict):
    """A whole plan; `coats` run from the first step to the last, sprayed and by hand."""

    schema_version: Literal[3] = SCHEMA
    name: Name
    schools: Schools = Schools()
    piece: Piece
    lights: list[Light] = Field(default=[KeyLight()], max_length=MOST_LIGHTS)
    airbrush: AirbrushUsed
    room: Room = Room()
    coats: list[Step] = Field(default=[], max_length=MOST_COATS)
    silenced: list[Silenced] = Field(default=[], max_length=MOST_SILENCED)
    asked: Asked | None = None

    @model_validator(mode="before")
    @classmethod
    def _from_older(cls, given: Any) -> Any:
        return brought_up(given)

    @model_validator(mode="after")
    def _identities_are_single(self) -> Plan:
        require_single([c.id for c in self.coats], "coats")
        require_single([s.id for c in self.sprayed for s in c.stations], "stations")
        require_single([light.id for light in self.lights], "lights")
        glows = {light.id for light in self.glows}
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
    def glows(self) -> list[GlowLight]:
        """The lights so near that distance counts."""
        return [light for light in self.lights if light.kind == "glow"]

    @property
    def key_light(self) -> KeyLight:
        """The first key light, or the default one."""
        return next((light for light in self.lights if light.kind == "key"), KeyLight())

    def light_coats(self) -> list[int]:
        """Places of the coats that paint the light: light coats, else rungs swept from stations."""
        for task in ("light", "rung"):
            found = [
                i
                for i, step in enumerate(self.coats)
                if step.kind == "spray" and step.task == task and step.stations and not step.off
            ]
            if found:
                return found
        return []
