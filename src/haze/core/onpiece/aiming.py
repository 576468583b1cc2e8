"""Where aimed steps and glows go, as values: all that their fields on a piece depend on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from haze.core.directions import Cone
from haze.core.errors import NotInPlanError
from haze.core.light.lights import GlowShape
from haze.core.plan.coat import Aim, FieldName
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight
from haze.core.plan.masks import MaskKind
from haze.core.plan.piece import Part

FilePoint = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class GlowAt:
    """Where a glow sits and how it is shaped; its strength and colour only scale what it gives.

    Attributes
    ----------
    shape : sphere, strip or pool
    at, to : (3,) float, in the axes and units of the mesh file
    radius_mm, reach_mm, clear_mm : float [mm]
    height_mm : float [mm], true height of the piece
    """

    shape: GlowShape
    at: FilePoint
    to: FilePoint
    radius_mm: float
    reach_mm: float
    clear_mm: float
    height_mm: float

    @classmethod
    def of(cls, light: GlowLight, *, height_mm: float) -> GlowAt:
        """Where a light of a plan sits.

        Parameters
        ----------
        light : the glow
        height_mm : float [mm], true height of the piece
        """
        return cls(
            shape=light.shape,
            at=light.at,
            to=light.to or light.at,
            radius_mm=light.radius_mm,
            reach_mm=light.reach_mm,
            clear_mm=light.clear_mm,
            height_mm=height_mm,
        )


@dataclass(frozen=True, slots=True)
class AimedAt:
    """All that the field of an aimed step depends on.

    Attributes
    ----------
    field : which one
    reversed : whether everywhere but there
    start, end : (3,) float, of a ramp, in the axes and units of the mesh file
    glow : the glow it goes round
    part : number of the part it goes to
    margin_mm : float [mm]
    height_mm : float [mm], true height of the piece
    """

    field: FieldName
    reversed: bool
    start: FilePoint | None
    end: FilePoint | None
    glow: GlowAt | None
    part: int | None
    margin_mm: float
    height_mm: float

    @classmethod
    def of(cls, aim: Aim, plan: Plan, parts: Sequence[Part]) -> AimedAt:
        """Where an aim of a plan goes.

        Parameters
        ----------
        aim : of one of its steps
        plan : gives glows and height
        parts : of its piece
        """
        glow = next((light for light in plan.glows if light.id == aim.light), None)
        return cls(
            field=aim.field,
            reversed=aim.reversed,
            start=aim.start,
            end=aim.end,
            glow=GlowAt.of(glow, height_mm=plan.piece.height_mm) if glow else None,
            part=part_number(parts, aim.part) if aim.field == "part" else None,
            margin_mm=aim.margin_mm,
            height_mm=plan.piece.height_mm,
        )


@dataclass(frozen=True, slots=True)
class AimedDeposit:
    """All that one pass of an aimed coat depends on.

    Attributes
    ----------
    at : where it goes
    distance_mm : float [mm], of the airbrush
    cones : from where nothing is sprayed
    """

    at: AimedAt
    distance_mm: float
    cones: tuple[Cone, ...]


def part_number(parts: Sequence[Part], identity: str | None) -> int:
    """Number of a part, from 0.

    Parameters
    ----------
    parts : of a piece
    identity : id of one of them

    Raises
    ------
    NotInPlanError, which names the parts there are
    """
    for i, part in enumerate(parts):
        if part.id == identity:
            return i
    raise NotInPlanError(
        f"The piece has no part {identity!r}; its parts are {', '.join(p.name for p in parts)}.",
        field="part",
    )


@dataclass(frozen=True, slots=True)
class MaskAt:
    """All that what a mask lets through depends on.

    Attributes
    ----------
    kind : of what it is
    part : number of the part it covers; None when it covers a zone
    zone : what it covers where at least half full; None when it covers a part
    height_mm : float [mm], true height of the piece
    """

    kind: MaskKind
    part: int | None
    zone: AimedAt | None
    height_mm: float


def lying_masks(plan: Plan, before: int, parts: Sequence[Part]) -> tuple[MaskAt, ...]:
    """The masks that lie on a piece after its first steps, in the order they were laid.

    Parameters
    ----------
    plan : gives steps, glows and height
    before : int, how many steps are done
    parts : of the piece
    """
    lying: dict[tuple[int | None, AimedAt | None], MaskAt] = {}
    for step in plan.coats[:before]:
        if step.off or step.kind != "hand" or step.role not in ("mask_on", "mask_off"):
            continue
        zone = AimedAt.of(step.aim, plan, parts) if step.aim else None
        part = part_number(parts, step.part) if step.part is not None and not zone else None
        if step.role == "mask_on":
            lying.pop((part, zone), None)
            lying[part, zone] = MaskAt(step.mask, part, zone, plan.piece.height_mm)
        elif part is None and zone is None:
            lying.clear()
        else:
            lying.pop((part, zone), None)
    return tuple(lying.values())
