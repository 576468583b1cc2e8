"""What stations deposit and key lights light on one piece: quick from a table, or by fresh rays."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from haze.core.arrays import Floats, Mask
from haze.core.errors import CancelledError
from haze.core.light.stations import Station, deposit, lobe
from haze.core.light.visibility import mean_visibility
from haze.core.mesh.scene import Scene, origins_of, scene_of
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight
from haze.service.piece.ready import ReadyPiece
from haze.service.work.jobs import Report
from haze.service.work.memo import Memo

KEPT = 160
FRESH_RAYS = 72
FRESH_UP_TO_DEG = 16.0  # wider sweeps use enough of the standard directions to be smooth
Kind = Literal["spray", "light"]


@dataclass(frozen=True, slots=True)
class Seen:
    """A station, and whether what spray or what light sees counts."""

    kind: Kind
    station: Station


class Deposits:
    """Deposits on one piece; a fresh one takes the place of the quick one."""

    def __init__(self, piece: ReadyPiece) -> None:
        self.piece = piece
        self._quick: Memo[Seen, Floats] = Memo(KEPT)
        self._fresh: Memo[Seen, Floats] = Memo(KEPT)
        self._scenes: Memo[tuple[Kind, int], Scene] = Memo(KEPT)

    def spray(self, station: Station) -> Floats:
        """(n,) float32 [-]: what one pass from a station lands."""
        return self._of(Seen("spray", station))

    def light(self, light: KeyLight) -> Floats:
        """(n,) float32 [-]: a key light at strength 1."""
        return self._of(self._lit(light))

    def _lit(self, light: KeyLight) -> Seen:
        # light and spray are the same thing when nothing is tacked
        apart = self.piece.light_table is not self.piece.table
        return Seen("light" if apart else "spray", light.station)

    def _of(self, seen: Seen) -> Floats:
        fresh = self._fresh.find(seen)
        return self._quick.of(seen, self._from_table) if fresh is None else fresh

    def _from_table(self, seen: Seen) -> Floats:
        table = self.piece.light_table if seen.kind == "light" else self.piece.table
        return deposit(table, seen.station)

    # fresh rays ---------------------------------------------------------------------------------

    def is_fresh(self, station: Station) -> bool:
        """Whether the deposit of a station was traced with rays of its own."""
        return Seen("spray", station) in self._fresh

    def coarse(self, plan: Plan) -> list[Seen]:
        """Stations and key lights of a plan whose deposits still come from the table."""
        stations = [Seen("spray", s.station) for coat in plan.sprayed for s in coat.stations]
        return self._not_fresh([*stations, *self._key_lights(plan)])

    def coarse_lights(self, plan: Plan) -> list[Seen]:
        """Key lights of a plan whose light still comes from the table."""
        return self._not_fresh(self._key_lights(plan))

    def _key_lights(self, plan: Plan) -> list[Seen]:
        return [self._lit(light) for light in plan.lights if light.kind == "key"]

    def _not_fresh(self, wanted: Sequence[Seen]) -> list[Seen]:
        return [
            seen
            for seen in dict.fromkeys(wanted)
            if seen.station.spread_deg <= FRESH_UP_TO_DEG and seen not in self._fresh
        ]

    def refresh(self, wanted: Sequence[Seen], report: Report | None = None) -> None:
        """Trace fresh rays for these, so that no patches show in their half shadow."""
        for i, seen in enumerate(wanted):
            if report and not report(i / len(wanted), "Smoothing the shadows"):
                raise CancelledError("Stopped; the shadows stay a little patchy.")
            self._fresh.put(seen, self._traced(seen))

    def _traced(self, seen: Seen) -> Floats:
        directions = lobe(seen.station, count=FRESH_RAYS)
        origins, normals = origins_of(self.piece.mesh), self.piece.mesh.normals
        out = self.piece.nothing()
        for i, members in enumerate(self._groups(seen.kind)):
            scene = self.scene(seen.kind, i)
            out[members] = mean_visibility(scene, origins[members], normals[members], directions)
        return out

    def _groups(self, kind: Kind) -> tuple[Mask, ...]:
        return self.piece.light_groups if kind == "light" else self.piece.spray_groups

    def scene(self, kind: Kind, group: int) -> Scene:
        """The ray scene of a group of parts that are lit, or sprayed, together."""
        return self._scenes.of(
            (kind, group), lambda key: scene_of(self.piece.mesh, self._groups(key[0])[key[1]])
        )
