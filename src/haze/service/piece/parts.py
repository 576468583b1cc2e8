"""Parts as the screens show them: reach of each, what leaving one off gains, splitting one."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from haze.core.errors import SplitError
from haze.core.light.reach import share
from haze.core.onpiece.aiming import part_number
from haze.core.plan.document import Plan
from haze.core.plan.piece import Cut, Part
from haze.service.forms.wire import Strict
from haze.service.piece.onpiece import OnPiece
from haze.service.work.jobs import Report

LEAST_GAIN_CM2 = 0.05


class PartView(BaseModel):
    """A part with what it means for the spray; the document's fields come along for changing it."""

    part: Part
    area_cm2: float
    reachable_share: float
    unreached_cm2: float


class PartAdvice(BaseModel):
    """What leaving one part off gains."""

    part: str
    name: str
    gain_cm2: float
    on_part_cm2: float
    on_rest_cm2: float
    words: str


class AdviceList(BaseModel):
    advice: list[PartAdvice]


def part_views(plan: Plan, on: OnPiece) -> list[PartView]:
    """Every part with its area and reach."""
    piece = on.piece
    reached = on.reach.reachable(plan.piece.cones)
    scale = piece.mesh.mm_per_unit(plan.piece.height_mm) ** 2 / 100.0
    area = piece.mesh.vertex_area
    out = []
    for i, part in enumerate(piece.parts_in(plan)):
        own = piece.counted & (piece.part == i)
        surface = float(area[own].sum()) * scale
        got = share(reached, area=area, counted=own)
        out.append(
            PartView(
                part=part,
                area_cm2=surface,
                reachable_share=got,
                unreached_cm2=surface * (1 - got),
            )
        )
    return out


def _where(on_part: float, on_rest: float) -> str:
    if on_part < 0.1 * on_rest:
        return "of the rest"
    if on_rest < 0.1 * on_part:
        return "of its own hidden sides"
    return "of it and the rest"


def advice(plan: Plan, on: OnPiece, report: Report) -> AdviceList:
    """Which attached part to leave off, best first, with the surface that comes within reach."""
    scale = on.piece.mesh.mm_per_unit(plan.piece.height_mm) ** 2 / 100.0
    parts = on.piece.parts_in(plan)
    out = []
    for gain in on.reach.gains(plan.piece.cones, report):
        on_part, on_rest = gain.on_part * scale, gain.on_rest * scale
        if on_part + on_rest < LEAST_GAIN_CM2:
            continue
        name = parts[gain.part].name
        out.append(
            PartAdvice(
                part=parts[gain.part].id,
                name=name,
                gain_cm2=on_part + on_rest,
                on_part_cm2=on_part,
                on_rest_cm2=on_rest,
                words=(
                    f"Leave {name} off: {on_part + on_rest:.2g} cm² more "
                    f"{_where(on_part, on_rest)} can be reached."
                ),
            )
        )
    return AdviceList(advice=out)


class SplitBody(Strict):
    """Split a part: into its bodies, or by a level cut at a share of its height."""

    plan: Plan
    part: str = Field(max_length=64)
    way: Literal["bodies", "level"]
    at: float = Field(default=0.5, ge=0.001, le=0.999)


class PartList(BaseModel):
    parts: list[Part]


def split(given: SplitBody, on: OnPiece) -> PartList:
    """All parts of the piece after the split; `HazeError` when it cannot be split that way."""
    piece = on.piece
    parts = piece.parts_in(given.plan)
    index = part_number(parts, given.part)
    part = parts[index]
    used = {p.id for p in parts}

    def fresh(name: str, **change: object) -> Part:
        identity = next(f"part-{i}" for i in range(1, 10_000) if f"part-{i}" not in used)
        used.add(identity)
        return part.model_copy(update={"id": identity, "name": name[:120], **change})

    if given.way == "bodies":
        if len(part.bodies) < 2:
            raise SplitError(
                f"{part.name} is one body; split it by a level cut instead.", field="part"
            )
        pieces = _largest_first(part, on)
        made = [fresh(f"{part.name} {i + 1}", bodies=bodies) for i, bodies in enumerate(pieces)]
    else:
        z = piece.mesh.vertices[piece.part == index, 2]
        level = float(z.min() + given.at * np.ptp(z))
        frame = piece.mesh.frame
        normal = frame[2, :3] / np.linalg.norm(frame[2, :3])
        offset = (level - frame[2, 3]) / np.linalg.norm(frame[2, :3])
        across = (float(normal[0]), float(normal[1]), float(normal[2]))
        made = [
            fresh(
                f"{part.name}, {word}",
                cuts=[*part.cuts, Cut(normal=across, offset=float(offset), above=above)],
            )
            for word, above in (("upper", True), ("lower", False))
        ]
    return PartList(parts=[*parts[:index], *made, *parts[index + 1 :]])


MOST_PIECES = 12


def _largest_first(part: Part, on: OnPiece) -> list[list[int]]:
    """The bodies of a part by surface; what is beyond the most stays together as the last."""
    mesh = on.piece.mesh
    area = {b: float(mesh.vertex_area[mesh.body == b].sum()) for b in part.bodies}
    order = sorted(part.bodies, key=lambda b: -area[b])
    rest = order[MOST_PIECES - 1 :]
    return [[b] for b in order[: MOST_PIECES - 1]] + ([rest] if rest else [])
