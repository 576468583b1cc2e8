"""Reach and angles of a mesh file: `haze reach` and `haze angles`."""

from __future__ import annotations

from pydantic import BaseModel

from haze.core.directions import free_directions
from haze.core.errors import require_range
from haze.core.light.angles import MOST_STATIONS, find_stations
from haze.core.light.atoms import Atoms
from haze.core.light.reach import share
from haze.core.light.stations import LEAST_SPREAD_DEG, MOST_SPREAD_DEG, Station
from haze.core.mesh.frame import default_show
from haze.core.mesh.prepare import prepare
from haze.core.plan.piece import Piece
from haze.core.progress import Progress
from haze.formats.meshes import read_mesh
from haze.service.piece.deposits import Seen
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.ready import piece_from

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


def on_mesh(
    data: bytes,
    *,
    name: str,
    height_mm: float,
    up: str = "z",
    show: str | None = None,
    progress: Progress | None = None,
) -> OnPiece:
    """A mesh file worked out, all its parts attached."""
    require_range("height_mm", height_mm, 1.0, 2000.0, "mm")
    _, raw = read_mesh(data, name=name)
    show = show or default_show(up)
    mesh = prepare(raw, up=up, show=show)
    piece = Piece.model_validate(
        {"mesh": NO_MESH, "name": "mesh", "height_mm": height_mm, "up": up, "show": show}
    )
    return OnPiece(
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
    on = on_mesh(data, name=name, height_mm=height_mm, up=up, show=show, progress=progress)
    piece = on.piece
    reached, area = on.reach.reachable(()), piece.mesh.vertex_area
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
    # what cannot be asked is refused before rays are traced
    azimuth, elevation = light
    require_range("stations", stations, 1, MOST_STATIONS)
    require_range("softness_deg", softness_deg, LEAST_SPREAD_DEG, MOST_SPREAD_DEG, "°")
    lit = Station(azimuth, elevation, softness_deg)
    on = on_mesh(data, name=name, height_mm=height_mm, up=up, show=show, progress=progress)
    on.deposits.refresh([Seen("spray", lit)])
    target = on.deposits.spray(lit)[on.sampled]
    atoms = Atoms(on.piece.table, rows=free_directions([]), chosen=on.sampled, also=[lit])
    found = find_stations(atoms, target, stations=stations)
    return AnglesFileOut(
        stations=[
            StationOut(
                azimuth_deg=round(s.station.azimuth_deg % 360.0, 2),
                elevation_deg=round(s.station.elevation_deg, 2),
                spread_deg=s.station.spread_deg,
                passes=round(s.passes, 4),
            )
            for s in found.stations
        ],
        residual=found.residual,
        dense_residual=found.dense_residual,
    )
