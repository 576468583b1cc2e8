"""What spray gets to on one piece, and what leaving parts off would gain."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Floats, Longs, Mask
from haze.core.directions import Cone, fibonacci_directions, free_directions
from haze.core.light.parts import Gain, gains, unreached
from haze.core.onpiece.parts import shapes_of
from haze.service.piece.ready import ReadyPiece
from haze.service.work.jobs import Report, share_of
from haze.service.work.memo import Memo

KEPT = 8
Cones = tuple[Cone, ...]


class Reach:
    """Reach on one piece, for the parts of the sky that are blocked."""

    def __init__(self, piece: ReadyPiece) -> None:
        self.piece = piece
        self._reachable: Memo[Cones, Mask] = Memo(KEPT)
        self._best: Memo[Cones, Floats] = Memo(KEPT)

    def free_rows(self, cones: Cones) -> Longs:
        """Numbers of the directions spray may come from."""
        return free_directions(cones)

    def reachable(self, cones: Cones) -> Mask:
        """(n,) bool: some direction that is not blocked sees the point with n·d ≥ .2."""
        return self._reachable.of(
            cones, lambda c: np.asarray(~unreached(self.piece.table, self.free_rows(c)))
        )

    def best_seen(self, cones: Cones) -> Floats:
        """(n,) float32 [-]: best cosine × unoccluded over the directions spray may come from."""
        return self._best.of(cones, self._best_seen)

    def _best_seen(self, cones: Cones) -> Floats:
        top = np.zeros(self.piece.size, dtype=np.uint8)
        for row in self.free_rows(cones):
            np.maximum(top, self.piece.table[row], out=top)
        return np.asarray(top / np.float32(255), dtype=np.float32)

    def gains(self, cones: Cones, report: Report) -> list[Gain]:
        """What leaving each attached part off would gain [prepared units²], best first."""
        return gains(
            self.piece.mesh,
            self.piece.part,
            shapes_of(self.piece.parts),
            table=self.piece.table,
            rows=self.free_rows(cones),
            directions=fibonacci_directions(),
            counted=self.piece.counted,
            progress=share_of(report, "Trying each part off"),
        )
