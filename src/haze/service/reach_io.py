"""Reach and angles of a mesh file: `haze reach` and `haze angles`."""

from __future__ import annotations

from pydantic import BaseModel

from haze.core.errors import require_range
from haze.core.light.angles import Atoms, find_stations, free_directions
from haze.core.light.mesh import default_show, prepare
from haze.core.light.reach import share
from haze.core.light.stations import MOST_SPREAD_DEG, Station
from haze.core.light.visibility import Progress
from haze.core.plan.document import Piece
from haze.formats.meshes import read_mesh
from haze.service.pieces import piece_from
from haze.service.studio import Studio

NO_MESH = "0" * 64


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


class StationOut(BaseModel):
    azimuth_deg: float
    elevation_deg: float
    spread_deg: float
    passes: float


class AnglesFileOut(BaseModel):
    """Passes are in units of the light: a pass that lands 1 where the light is 1."""

    stations: list[StationOut]
    residual: float
    dense_residual: float


def studio_of(
    data: bytes,
    *,
    name: str,
    height_mm: float,
    up: str = "z",
    show: str | None = None,
    progress: Progress | None = None,
) -> Studio:
    """A mesh file worked out, all its parts attached."""
    require_range("height_mm", height_mm, 1.0, 2000.0, "mm")
    _, raw = read_mesh(data, name=name)
    show = show or default_show(up)
    mesh = prepare(raw, up=up, show=show)
    piece = Piece.model_validate(
        {"mesh": NO_MESH, "name": "mesh", "height_mm": height_mm, "up": up, "show": show}
    )
    return Studio(
        piece_from(mesh, piece, report=(lambda done, _: progress(done)) if progress else None)
    )


def reach(
    data: bytes,
    *,
    name: str,
    height_mm: float,
    up: str = "z",
    show: str | None = None,
    progress: Progress | None = None,
) -> ReachOut:
    """Area and the share spray can reach on a piece held in the air, over all and by part."""
    studio = studio_of(data, name=name, height_mm=height_mm, up=up, show=show, progress=progress)
    piece = studio.piece
    reached, area = studio.reachable([]), piece.mesh.vertex_area
    whole = piece.mesh.area_cm2(height_mm)
    got = share(reached, area=area, counted=piece.counted)
    to_cm2 = piece.mesh.mm_per_unit(height_mm) ** 2 / 100.0
    parts = []
    for i, part in enumerate(piece.parts):
        own = piece.part == i
        parts.append(
            PartReach(
                name=part.name,
                area_cm2=float(area[own].sum()) * to_cm2,
                reachable_share=share(reached, area=area, counted=piece.counted & own),
            )
        )
    return ReachOut(
        area_cm2=whole,
        vertices=len(piece.mesh.vertices),
        reachable_share=got,
        bare_area_cm2=whole * (1 - got),
        parts=parts,
    )


def angles(
    data: bytes,
    *,
    name: str,
    height_mm: float,
    light: tuple[float, float],
    softness_deg: float,
    stations: int,
    up: str = "z",
    show: str | None = None,
    progress: Progress | None = None,
) -> AnglesFileOut:
    """Few stations whose deposit is most like the light, traced with rays of its own."""
    azimuth, elevation = light
    spread = Station(azimuth, elevation, softness_deg, 1.0).spread_deg
    require_range("softness_deg", spread, 2.0, MOST_SPREAD_DEG, "°")
    studio = studio_of(data, name=name, height_mm=height_mm, up=up, show=show, progress=progress)
    key = ("spray", azimuth, elevation, spread)
    studio.refresh([key])
    target = studio.deposit(azimuth, elevation, spread)[studio.sampled]
    atoms = Atoms(
        studio.piece.table,
        rows=free_directions([]),
        chosen=studio.sampled,
        also=[(azimuth, elevation, spread)],
    )
    found = find_stations(atoms, target, stations=stations)
    return AnglesFileOut(
        stations=[
            StationOut(
                azimuth_deg=round(s.azimuth_deg % 360.0, 2),
                elevation_deg=round(s.elevation_deg, 2),
                spread_deg=s.spread_deg,
                passes=round(s.passes, 4),
            )
            for s in found.stations
        ],
        residual=found.residual,
        dense_residual=found.dense_residual,
    )
