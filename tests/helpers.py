"""Plans and coats that tests build on."""

from __future__ import annotations

from collections.abc import Sequence

from haze.core.light.stations import Station
from haze.core.plan.document import (
    AirbrushUsed,
    Coat,
    PaintUsed,
    Piece,
    Plan,
    SprayAt,
    StationAt,
    ThinnerUsed,
)

MESH = "0" * 64


def coat(identity: str = "c1", *, kind: str = "airbrush_acrylic", **spray: float) -> Coat:
    settings = {
        "thinner_parts": 1.0,
        "trigger": 0.3,
        "pressure_psi": 20.0,
        "distance_mm": 75.0,
        "speed_mm_s": 150.0,
    }
    thinner = {"lacquer": "lacquer_thinner", "enamel_wash": "spirit"}.get(kind, "acrylic_thinner")
    return Coat(
        id=identity,
        name="Wrack Green",
        task="cover",
        paint=PaintUsed(
            id="p", name="Wrack Green", kind=kind, masstone="#4b5a35", opacity="opaque"
        ),
        thinner=ThinnerUsed(id="t", name="own thinner", kind=thinner),
        spray=SprayAt(**(settings | spray)),
        stations=[StationAt(id=f"{identity}-1", azimuth_deg=0, elevation_deg=30, passes=2)],
    )


def coat_with_stations(stations: Sequence[Station]) -> Coat:
    made = coat()
    made.stations = [
        StationAt(
            id=f"s{i}",
            azimuth_deg=s.azimuth_deg,
            elevation_deg=s.elevation_deg,
            spread_deg=s.spread_deg,
            passes=int(s.passes),
        )
        for i, s in enumerate(stations)
    ]
    return made


def plan(*coats: Coat, copies: int = 1) -> Plan:
    return Plan(
        name="Test",
        piece=Piece(mesh=MESH, name="ball", height_mm=32, copies=copies),
        airbrush=AirbrushUsed(id="a", name="All-round", needle_mm=0.3),
        coats=list(coats),
    )
