"""What light and spray do on one piece: deposits, lights, fields and reach, kept by input."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from haze.core.errors import CancelledError, HazeError
from haze.core.light import brush, fields
from haze.core.light.angles import Atoms, Sector, free_directions, samples
from haze.core.light.directions import direction_of, fibonacci_directions
from haze.core.light.lights import glow, sky
from haze.core.light.parts import Gain, gains, unreached
from haze.core.light.stations import LEAST_SPREAD_DEG, Station, deposit, lobe
from haze.core.light.surface import Surface
from haze.core.light.visibility import Scene, mean_visibility, origins_of, scene_of
from haze.core.plan.document import (
    Aim,
    BlockedSector,
    Coat,
    GlowLight,
    HandStep,
    KeyLight,
    Light,
    Plan,
)
from haze.core.plan.lighting import total_colour, total_value
from haze.core.plan.parts import Pair, mirrored, shapes_of
from haze.core.plan.roles import HANDS, HandRole
from haze.core.spray.footprint import footprint_sigma_mm
from haze.service.jobs import Report
from haze.service.pieces import ReadyPiece
from haze.service.remember import remembered

Floats = NDArray[np.float32]
Mask = NDArray[np.bool_]
Longs = NDArray[np.int64]
Key = tuple[str, float, float, float]

KEPT_DEPOSITS = 160
KEPT_FIELDS = 24
FRESH_RAYS = 112
FRESH_UP_TO_DEG = 16.0  # wider sweeps use enough of the standard directions to be smooth


class Studio:
    """Light and spray on one piece; safe to call from several threads."""

    def __init__(self, piece: ReadyPiece) -> None:
        self.piece = piece
        self._lock = threading.RLock()
        self._deposits: OrderedDict[Key, Floats] = OrderedDict()
        self._fresh: set[Key] = set()
        self._scenes: dict[tuple[str, int], Scene] = {}
        self._fields: OrderedDict[str, Floats] = OrderedDict()
        self._atoms: OrderedDict[str, Atoms] = OrderedDict()
        self._reach: OrderedDict[str, Mask] = OrderedDict()

    # deposits -----------------------------------------------------------------------------------

    def _key(self, azimuth: float, elevation: float, spread: float, *, light: bool) -> Key:
        # light and spray are the same thing when nothing is tacked
        apart = light and self.piece.light_table is not self.piece.table
        return ("light" if apart else "spray", azimuth, elevation, spread)

    def _deposit(self, key: Key) -> Floats:
        with self._lock:
            if key in self._deposits:
                self._deposits.move_to_end(key)
                return self._deposits[key]
            table = self.piece.light_table if key[0] == "light" else self.piece.table
            made = deposit(table, Station(key[1], key[2], max(key[3], LEAST_SPREAD_DEG), 1.0))
            self._keep(key, made)
            return made

    def _keep(self, key: Key, value: Floats) -> None:
        self._deposits[key] = value
        while len(self._deposits) > KEPT_DEPOSITS:
            gone, _ = self._deposits.popitem(last=False)
            self._fresh.discard(gone)

    def deposit(self, azimuth: float, elevation: float, spread: float) -> Floats:
        """(n,) float32 [-]: what one pass from a station lands."""
        return self._deposit(self._key(azimuth, elevation, spread, light=False))

    def is_fresh(self, azimuth: float, elevation: float, spread: float) -> bool:
        """Whether the deposit of a station was traced with rays of its own."""
        return self._key(azimuth, elevation, spread, light=False) in self._fresh

    def coarse(self, plan: Plan) -> list[Key]:
        """Stations and key lights of a plan whose deposits still come from the table."""
        stations = [
            self._key(s.azimuth_deg, s.elevation_deg, s.spread_deg, light=False)
            for coat in plan.sprayed
            for s in coat.stations
        ]
        return self._not_fresh(stations) + self.coarse_lights(plan, besides=stations)

    def coarse_lights(self, plan: Plan, *, besides: Sequence[Key] = ()) -> list[Key]:
        """Key lights whose light still comes from the table."""
        keys = [self._light_key(light) for light in plan.lights if light.kind == "key"]
        return self._not_fresh([k for k in keys if k not in besides])

    def _not_fresh(self, keys: Sequence[Key]) -> list[Key]:
        with self._lock:
            return [
                k for k in dict.fromkeys(keys) if k not in self._fresh and k[3] <= FRESH_UP_TO_DEG
            ]

    def _light_key(self, light: KeyLight) -> Key:
        return self._key(light.azimuth_deg, light.elevation_deg, light.softness_deg, light=True)

    def refresh(self, wanted: Sequence[Key], report: Report | None = None) -> None:
        """Trace fresh rays for these stations, so that no patches show in their half shadow."""
        for i, key in enumerate(wanted):
            if report and not report(i / len(wanted), "Smoothing the shadows"):
                raise CancelledError("Stopped; the shadows stay a little patchy.")
            made = self._traced(key)
            with self._lock:
                self._keep(key, made)
                self._fresh.add(key)

    def _traced(self, key: Key) -> Floats:
        directions = lobe(key[1], key[2], max(key[3], LEAST_SPREAD_DEG), count=FRESH_RAYS)
        origins, normals = origins_of(self.piece.mesh), self.piece.mesh.normals
        out = np.zeros(len(origins), dtype=np.float32)
        groups = self.piece.light_groups if key[0] == "light" else self.piece.spray_groups
        for i, members in enumerate(groups):
            scene = self._scene(key[0], i, members)
            out[members] = mean_visibility(scene, origins[members], normals[members], directions)
        return out

    def _scene(self, kind: str, index: int, members: Mask) -> Scene:
        with self._lock:
            if (kind, index) not in self._scenes:
                self._scenes[kind, index] = scene_of(self.piece.mesh, members)
            return self._scenes[kind, index]

    # lights -------------------------------------------------------------------------------------

    def value_of(self, light: Light, plan: Plan) -> Floats:
        """(n,) float32: one light at strength 1."""
        if light.kind == "key":
            return self._deposit(self._light_key(light))
        if light.kind == "sky":
            return self._field("sky", lambda: sky(self.piece.light_table))
        return self.glow_of(light, plan.piece.height_mm)

    def glow_of(self, light: GlowLight, height_mm: float) -> Floats:
        """(n,) float32: a glow at strength 1; 1 square to it at its reach."""
        geometry = light.model_dump_json(
            include={"shape", "at", "to", "radius_mm", "reach_mm", "clear_mm"}
        )
        return self._field(f"glow {geometry} {height_mm}", lambda: self._glow(light, height_mm))

    def _glow(self, light: GlowLight, height_mm: float) -> Floats:
        mesh = self.piece.mesh
        unit = 1.0 / mesh.mm_per_unit(height_mm)
        at, to = mesh.from_file(np.array([light.at, light.to or light.at], dtype=np.float64))
        out = np.zeros(len(mesh.vertices), dtype=np.float32)
        for i, members in enumerate(self.piece.light_groups):
            out += glow(
                mesh,
                self._scene("light", i, members),
                shape=light.shape,
                at=at,
                to=to,
                radius=light.radius_mm * unit,
                reach=light.reach_mm * unit,
                clear=light.clear_mm * unit,
                members=members,
            )
        return out

    def light_values(self, plan: Plan) -> dict[str, Floats]:
        """(n,) float32 for each light of the plan, at strength 1."""
        return {light.id: self.value_of(light, plan) for light in plan.lights}

    def light_value(self, plan: Plan) -> Floats:
        """(n,) float32 [0..1]: the light wanted."""
        if not plan.lights:
            return np.zeros(len(self.piece.mesh.vertices), dtype=np.float32)
        return total_value(plan.lights, self.light_values(plan))

    def light_colour(self, plan: Plan) -> Floats:
        """(3, n) float32: the light wanted in its colours, linear."""
        if not plan.lights:
            return np.full((3, len(self.piece.mesh.vertices)), 0.02, dtype=np.float32)
        return total_colour(plan.lights, self.light_values(plan))

    # fields of aimed coats ----------------------------------------------------------------------

    @cached_property
    def surface(self) -> Surface:
        """The surface as a graph."""
        return Surface(self.piece.mesh)

    def _field(self, key: str, make: Callable[[], Floats]) -> Floats:
        with self._lock:
            return remembered(self._fields, key, make, KEPT_FIELDS)

    def aim_key(self, plan: Plan, step: Coat | HandStep) -> str:
        """All that an aimed step's field depends on."""
        aim = step.aim
        light = next((g for g in plan.lights if aim and g.id == aim.light), None)
        return "|".join(
            (
                aim.model_dump_json(exclude={"passes"}) if aim else "",
                light.model_dump_json() if light else "",
                str(step.spray.distance_mm) if step.kind == "spray" else step.role,
                str(plan.piece.height_mm),
                str([(p.id, p.bodies[:1]) for p in plan.piece.parts]),
                _sectors_key(plan.piece.blocked),
            )
        )

    def aimed(self, plan: Plan, coat: Coat) -> Floats:
        """(n,) float32 [-]: what one pass of an aimed coat lands."""
        return self._field(f"aim {self.aim_key(plan, coat)}", lambda: self._aimed(plan, coat))

    def _aimed(self, plan: Plan, coat: Coat) -> Floats:
        scale = self.piece.mesh.mm_per_unit(plan.piece.height_mm)
        sigma = float(footprint_sigma_mm(np.asarray(coat.spray.distance_mm))) / scale
        assert coat.aim is not None
        field = self._aim_field(plan, coat.aim, scale)
        only = None
        if coat.aim.field == "part":
            only = self._alone(plan, coat.aim.part)
        sees = self._best_seen(plan.piece.blocked)
        return fields.landed(self.surface, field, sigma=sigma, sees=sees, members=only)

    def _aim_field(self, plan: Plan, aim: Aim, scale: float) -> Floats:
        field = self._plain_field(plan, aim, scale)
        return np.asarray(1.0 - field if aim.reversed else field, dtype=np.float32)

    def _plain_field(self, plan: Plan, aim: Aim, scale: float) -> Floats:
        mesh = self.piece.mesh
        if aim.field == "recesses":
            return fields.recesses(self.piece.openness)
        if aim.field == "edges":
            return fields.upper_edges(self.surface)
        if aim.field == "panels":
            return fields.panel_middles(self.surface, margin=max(aim.margin_mm / scale, 0.2))
        if aim.field == "ramp":
            start, end = mesh.from_file(np.array([aim.start, aim.end], dtype=np.float64))
            return fields.ramp(mesh.vertices, start=start, end=end)
        if aim.field == "part":
            inside = self.piece.part == self.part_index(plan, aim.part)
            return fields.near_part(self.surface, inside, fade=aim.margin_mm / scale)
        light = next(g for g in plan.lights if g.id == aim.light)
        assert light.kind == "glow"
        return fields.round_glow(self.glow_of(light, plan.piece.height_mm))

    def brushed(self, plan: Plan, step: HandStep) -> Floats:
        """(n,) float32 [0..1]: where a step by hand leaves its paint."""
        if not HANDS[step.role].film_um:
            return np.zeros(len(self.piece.mesh.vertices), dtype=np.float32)
        field = self.hand_field(step.role)
        if step.aim:
            scale = self.piece.mesh.mm_per_unit(plan.piece.height_mm)
            zone = self._field(
                f"zone {self.aim_key(plan, step)}",
                lambda: self._aim_field(plan, step.aim, scale),  # type: ignore[arg-type]
            )
            field = field * zone
        if step.part is not None:
            field = np.where(self.piece.part == self.part_index(plan, step.part), field, 0.0)
        return np.asarray(field, dtype=np.float32)

    def hand_field(self, role: HandRole) -> Floats:
        """(n,) float32 [0..1]: where a step by hand of this role goes on the whole piece."""
        return self._field(f"hand {role}", lambda: self._hand_field(role))

    def _hand_field(self, role: HandRole) -> Floats:
        if role == "dry_brush":
            return brush.dry_brushed(self.surface)
        if role == "edge_lines":
            return brush.edge_lines(self.surface)
        if role == "chips":
            return brush.chips(self.surface)
        if role == "streaks":
            return brush.streaks(self.surface)
        if role == "rim":
            return brush.rim(self.surface)
        return np.ones(len(self.piece.mesh.vertices), dtype=np.float32)

    def masked(self, plan: Plan, index: int) -> Mask | None:
        """(n,) bool: what a mask covers while the step at an index is done; None for nothing."""
        covered: dict[str, int] = {}
        for step in plan.coats[:index]:
            if step.off or step.kind != "hand":
                continue
            if step.role == "mask_on" and step.part is not None:
                covered[step.part] = self.part_index(plan, step.part)
            elif step.role == "mask_off":
                if step.part is None:
                    covered.clear()
                covered.pop(step.part or "", None)
        return np.isin(self.piece.part, list(covered.values())) if covered else None

    def part_index(self, plan: Plan, identity: str | None) -> int:
        """Index of a part; `HazeError` when the piece has no such part."""
        parts = self.piece.parts_in(plan)
        for i, part in enumerate(parts):
            if part.id == identity:
                return i
        raise HazeError(
            f"The piece has no part {identity!r}; its parts are "
            f"{', '.join(p.name for p in parts)}.",
            field="part",
        )

    def _alone(self, plan: Plan, identity: str | None) -> Mask | None:
        index = self.part_index(plan, identity)
        if self.piece.parts[index].state == "attached":
            return None
        return np.asarray(self.piece.part == index)

    # reach --------------------------------------------------------------------------------------

    def free_rows(self, blocked: Sequence[BlockedSector]) -> Longs:
        """Directions spray may come from."""
        return free_directions(sectors_of(blocked))

    def reachable(self, blocked: Sequence[BlockedSector]) -> Mask:
        """(n,) bool: some direction that is not blocked sees the point with n·d ≥ .2."""
        rows = self.free_rows(blocked)
        with self._lock:
            return remembered(
                self._reach,
                _sectors_key(blocked),
                lambda: np.asarray(~unreached(self.piece.table, rows)),
                8,
            )

    def _best_seen(self, blocked: Sequence[BlockedSector]) -> Floats:
        rows = self.free_rows(blocked)

        def best() -> Floats:
            top = np.zeros(self.piece.table.shape[1], dtype=np.uint8)
            for row in rows:
                np.maximum(top, self.piece.table[row], out=top)
            return np.asarray(top / np.float32(255), dtype=np.float32)

        return self._field(f"seen {_sectors_key(blocked)}", best)

    def gains(self, blocked: Sequence[BlockedSector], report: Report) -> list[Gain]:
        """What leaving each attached part off would gain [prepared units²], best first."""
        return gains(
            self.piece.mesh,
            self.piece.part,
            shapes_of(self.piece.parts),
            table=self.piece.table,
            rows=self.free_rows(blocked),
            directions=fibonacci_directions(),
            counted=self.piece.counted,
            progress=lambda done: report(done, "Trying each part off"),
        )

    @cached_property
    def pairs(self) -> list[Pair]:
        """Parts that mirror each other."""
        return mirrored(self.piece.mesh, self.piece.part, len(self.piece.parts))

    # angles -------------------------------------------------------------------------------------

    @cached_property
    def sampled(self) -> Longs:
        """Vertices that stand for equal shares of the surface."""
        return samples(self.piece.mesh.vertex_area, self.piece.counted)

    def _stations_at_lights(self, plan: Plan) -> list[tuple[float, float, float]]:
        sectors = sectors_of(plan.piece.blocked)
        return [
            (key.azimuth_deg, key.elevation_deg, max(key.softness_deg, LEAST_SPREAD_DEG))
            for key in plan.lights
            if key.kind == "key" and is_free(key.azimuth_deg, key.elevation_deg, sectors)
        ]

    def _atoms_key(self, plan: Plan) -> str:
        return f"{_sectors_key(plan.piece.blocked)} {self._stations_at_lights(plan)}"

    def has_atoms(self, plan: Plan) -> bool:
        """Whether the stations to choose from are collected already, or cannot be."""
        return self._atoms_key(plan) in self._atoms or not len(self.free_rows(plan.piece.blocked))

    def atoms(self, plan: Plan) -> Atoms:
        """Stations to choose from for a plan's lights and blocked sectors."""
        key = self._atoms_key(plan)
        held = self._atoms.get(key)
        # worked out without the lock: the piece must stay quick to redraw meanwhile
        made = held or Atoms(
            self.piece.table,
            rows=self.free_rows(plan.piece.blocked),
            chosen=self.sampled,
            also=self._stations_at_lights(plan),
        )
        with self._lock:
            return remembered(self._atoms, key, lambda: made, 2)


def sectors_of(blocked: Sequence[BlockedSector]) -> list[Sector]:
    """Blocked sectors as the light model takes them."""
    return [Sector(s.azimuth_deg, s.elevation_deg, s.half_angle_deg) for s in blocked]


def is_free(azimuth: float, elevation: float, sectors: Sequence[Sector]) -> bool:
    """Whether a direction lies outside every blocked sector."""
    return bool(len(free_directions(sectors, direction_of([azimuth], [elevation]))))


def _sectors_key(blocked: Sequence[BlockedSector]) -> str:
    return str([(s.azimuth_deg, s.elevation_deg, s.half_angle_deg) for s in blocked])
