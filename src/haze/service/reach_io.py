"""Reach of a mesh file: `haze reach`."""

from __future__ import annotations

from pydantic import BaseModel

from haze.core.errors import require_range
from haze.core.light.mesh import default_show, prepare
from haze.core.light.visibility import Progress, visibility_table
from haze.formats.meshes import read_mesh
from haze.service.pieces import ready_piece


class PartReach(BaseModel):
    name: str
    area_cm2: float
    reachable_share: float


class ReachOut(BaseModel):
    area_cm2: float
    vertices: int
    reachable_share: float
    bare_area_cm2: float
    parts: list[PartReach]


def reach(
    data: bytes,
    *,
    name: str,
    height_mm: float,
    up: str = "z",
    show: str | None = None,
    progress: Progress | None = None,
) -> ReachOut:
    """Area and the share spray can reach when the piece is held in the air, all in one part."""
    require_range("height_mm", height_mm, 1.0, 2000.0, "mm")
    _, raw = read_mesh(data, name=name)
    mesh = prepare(raw, up=up, show=show or default_show(up))
    piece = ready_piece("", mesh, visibility_table(mesh, progress=progress))
    area = mesh.area_cm2(height_mm)
    return ReachOut(
        area_cm2=area,
        vertices=len(mesh.vertices),
        reachable_share=piece.reachable_share,
        bare_area_cm2=area * (1 - piece.reachable_share),
        parts=[PartReach(name="whole", area_cm2=area, reachable_share=piece.reachable_share)],
    )
