"""Where aimed coats and steps by hand go on one piece."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from scipy.spatial import cKDTree

from haze.core.arrays import Floats, Mask
from haze.core.light import brush, fields, overspray
from haze.core.mesh.surface import Surface
from haze.core.onpiece.aiming import AimedAt, AimedDeposit, MaskAt
from haze.core.onpiece.painting import DEEPEST, HALO_FOOTPRINTS, HandFilm, Through, under_edge
from haze.core.plan.masks import MASKS
from haze.core.plan.roles import HandRole
from haze.core.spray.footprint import footprint_sigma_mm
from haze.service.piece.lit import Lit
from haze.service.piece.reach import Reach
from haze.service.work.memo import Memo

KEPT = 24
COVERED_AT = 0.5  # of a zone: inside its edge, where a mask over it lies
GLANCE = 64  # of so many points one is looked at first
LEAST_MARGIN = 0.2  # [prepared units] of a panel's middle


class Fields:
    """Fields on one piece."""

    def __init__(self, lit: Lit, reach: Reach) -> None:
        self.piece = lit.piece
        self._lit, self._reach = lit, reach
        self._zones: Memo[AimedAt, Floats] = Memo(KEPT)
        self._aimed: Memo[AimedDeposit, Floats] = Memo(KEPT)
        self._mists: Memo[AimedDeposit, Floats] = Memo(KEPT)
        self._gaps: Memo[AimedAt, tuple[float, ...]] = Memo(KEPT)
        self._through: Memo[MaskAt, Through] = Memo(KEPT)
        self._hands: Memo[HandRole, Floats] = Memo(KEPT)

    @cached_property
    def surface(self) -> Surface:
        """The surface as a graph."""
        return Surface(self.piece.mesh)

    def aimed(self, wanted: AimedDeposit) -> Floats:
        """(n,) float32 [-]: what one pass of an aimed coat lands."""
        return self._aimed.of(wanted, self._aimed_deposit)

    def _aimed_deposit(self, wanted: AimedDeposit) -> Floats:
        scale = self.piece.mesh.mm_per_unit(wanted.at.height_mm)
        sigma = float(footprint_sigma_mm(np.asarray(wanted.distance_mm))) / scale
        zone = self.zone(wanted.at)
        return fields.landed(
            self.surface,
            zone,
            sigma=sigma,
            sees=self._reach.best_seen(wanted.cones),
            beside=self._beside(wanted.at, sigma),
            members=self._alone(wanted.at.part),
        )

    def elsewhere(self, at: AimedAt) -> Mask:
        """(n,) bool: bodies that are not aimed at; on the others spray runs along the surface."""
        body = self.piece.mesh.body
        return ~np.isin(body, np.unique(body[self.zone(at) > 0]))

    def _beside(self, at: AimedAt, sigma: float) -> Floats:
        mesh, elsewhere = self.piece.mesh, self.elsewhere(at)
        if not elsewhere.any():
            return self.piece.nothing()
        found = overspray.beside(
            mesh.vertices, mesh.normals, self.zone(at), area=mesh.vertex_area, sigma=sigma
        )
        return np.where(elsewhere, found, np.float32(0))

    def mist_at(self, wanted: AimedDeposit) -> Floats:
        """(n,) float32 [0..1]: share of the mist of an aimed coat that comes down at each point."""
        return self._mists.of(wanted, self._mist_at)

    def _mist_at(self, wanted: AimedDeposit) -> Floats:
        mesh = self.piece.mesh
        scale = mesh.mm_per_unit(wanted.at.height_mm)
        sigma = float(footprint_sigma_mm(np.asarray(wanted.distance_mm))) / scale
        found = overspray.halo(
            mesh.vertices,
            self.zone(wanted.at),
            area=mesh.vertex_area,
            sigma=HALO_FOOTPRINTS * sigma,
        )
        members = self._alone(wanted.at.part)
        return found if members is None else np.where(members, found, np.float32(0))

    def gaps(self, at: AimedAt) -> tuple[float, ...]:
        """For each part how far its nearest point is from what is aimed at [prepared units]."""
        return self._gaps.of(at, self._nearest)

    def _nearest(self, at: AimedAt) -> tuple[float, ...]:
        vertices, aimed = self.piece.mesh.vertices, self.zone(at) >= COVERED_AT
        if not aimed.any():
            return (np.inf,) * len(self.piece.parts)
        tree = cKDTree(vertices[aimed])
        found = []
        for number in range(len(self.piece.parts)):
            mine = vertices[(self.piece.part == number) & self.piece.counted]
            # what a few of them find bounds the search for all the others
            bound = float(tree.query(mine[::GLANCE])[0].min(initial=np.inf))
            near, _ = tree.query(mine, distance_upper_bound=bound * (1 + 1e-6) + 1e-6)
            found.append(float(near.min(initial=np.inf)))
        return tuple(found)

    def covered(self, mask: MaskAt) -> Mask:
        """(n,) bool: what a mask lies on."""
        if mask.zone is None:
            return np.asarray(self.piece.part == mask.part)
        return np.asarray(self.zone(mask.zone) >= COVERED_AT)

    def through(self, masks: Sequence[MaskAt]) -> Through:
        """What gets past all of these masks."""
        film = mist = np.ones(self.piece.size, dtype=np.float32)
        for mask in masks:
            one = self._through.of(mask, self._past)
            film, mist = film * one.film, mist * one.mist
        return Through(film, mist)

    def _past(self, mask: MaskAt) -> Through:
        covered = self.covered(mask)
        scale = self.piece.mesh.mm_per_unit(mask.height_mm)
        kind = MASKS[mask.kind]
        limit = DEEPEST * kind.under_mm / scale
        depth = np.where(covered, self.surface.distance(~covered, limit=limit), 0.0) * scale
        film = under_edge(depth.astype(np.float32), kind=mask.kind)
        return Through(film, np.maximum(film, np.where(covered, np.float32(kind.mist), 1.0)))

    def _alone(self, part: int | None) -> Mask | None:
        """(n,) bool: the only part that is there when it is sprayed; None for all."""
        if part is None or self.piece.parts[part].state == "attached":
            return None
        return np.asarray(self.piece.part == part)

    def zone(self, at: AimedAt) -> Floats:
        """(n,) float32 [0..1]: where an aimed step goes."""
        return self._zones.of(at, self._zone)

    def _zone(self, at: AimedAt) -> Floats:
        field = self._plain(at)
        return np.asarray(1.0 - field if at.reversed else field, dtype=np.float32)

    def _plain(self, at: AimedAt) -> Floats:
        mesh = self.piece.mesh
        margin = at.margin_mm / mesh.mm_per_unit(at.height_mm)
        if at.field == "recesses":
            return fields.recesses(self.piece.openness)
        if at.field == "edges":
            return fields.upper_edges(self.surface)
        if at.field == "panels":
            return fields.panel_middles(self.surface, margin=max(margin, LEAST_MARGIN))
        if at.field == "ramp":
            start, end = mesh.from_file(np.array([at.start, at.end], dtype=np.float64))
            return fields.ramp(mesh.vertices, start=start, end=end)
        if at.field == "part":
            return fields.near_part(self.surface, self.piece.part == at.part, fade=margin)
        assert at.glow is not None
        return fields.round_glow(self._lit.glow(at.glow))

    def by_hand(self, step: HandFilm) -> Floats:
        """(n,) float32 [0..1]: where a step by hand leaves its paint."""
        if not step.full_um:
            return self.piece.nothing()
        field = self.hand(step.role)
        if step.zone:
            field = field * self.zone(step.zone)
        if step.part is not None:
            field = np.where(self.piece.part == step.part, field, 0.0)
        if step.masks:
            field = field * self.through(step.masks).film
        return np.asarray(field, dtype=np.float32)

    def hand(self, role: HandRole) -> Floats:
        """(n,) float32 [0..1]: where a step by hand of this role goes on the whole piece."""
        return self._hands.of(role, self._hand)

    def _hand(self, role: HandRole) -> Floats:
        make = BRUSHED.get(role)
        return make(self.surface) if make else np.ones(self.piece.size, dtype=np.float32)


BRUSHED = {
    "dry_brush": brush.dry_brushed,
    "edge_lines": brush.edge_lines,
    "chips": brush.chips,
    "streaks": brush.streaks,
    "rim": brush.rim,
}
