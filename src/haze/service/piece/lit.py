"""The light wanted on one piece: keys, sky and glows, alone and together."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Floats
from haze.core.light.lights import glow, sky
from haze.core.onpiece.aiming import GlowAt
from haze.core.onpiece.lighting import UNLIT, total_colour, total_value
from haze.core.plan.document import Plan
from haze.core.plan.lights import Light
from haze.service.piece.deposits import Deposits
from haze.service.work.memo import Memo

KEPT = 24


class Lit:
    """Light on one piece."""

    def __init__(self, deposits: Deposits) -> None:
        self.piece = deposits.piece
        self._deposits = deposits
        self._glows: Memo[GlowAt, Floats] = Memo(KEPT)
        self._sky: Memo[str, Floats] = Memo(1)

    def one(self, light: Light, height_mm: float) -> Floats:
        """(n,) float32: one light at strength 1."""
        if light.kind == "key":
            return self._deposits.light(light)
        if light.kind == "sky":
            return self._sky.of("sky", lambda _: sky(self.piece.light_table))
        return self.glow(GlowAt.of(light, height_mm=height_mm))

    def glow(self, at: GlowAt) -> Floats:
        """(n,) float32: a glow at strength 1; 1 square to it at its reach."""
        return self._glows.of(at, self._glow)

    def _glow(self, glowing: GlowAt) -> Floats:
        mesh = self.piece.mesh
        unit = 1.0 / mesh.mm_per_unit(glowing.height_mm)
        at, to = mesh.from_file(np.array([glowing.at, glowing.to], dtype=np.float64))
        out = self.piece.nothing()
        for i, members in enumerate(self.piece.light_groups):
            out += glow(
                mesh,
                self._deposits.scene("light", i),
                shape=glowing.shape,
                at=at,
                to=to,
                radius=glowing.radius_mm * unit,
                reach=glowing.reach_mm * unit,
                clear=glowing.clear_mm * unit,
                members=members,
            )
        return out

    def _each(self, plan: Plan) -> dict[str, Floats]:
        return {light.id: self.one(light, plan.piece.height_mm) for light in plan.lights}

    def value(self, plan: Plan) -> Floats:
        """(n,) float32 [0..1]: the light wanted."""
        return total_value(plan.lights, self._each(plan)) if plan.lights else self.piece.nothing()

    def colour(self, plan: Plan) -> Floats:
        """(3, n) float32: the light wanted in its colours, linear."""
        if not plan.lights:
            return np.full((3, self.piece.size), UNLIT, dtype=np.float32)
        return total_colour(plan.lights, self._each(plan))
