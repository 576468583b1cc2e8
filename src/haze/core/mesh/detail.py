"""How finely a surface is divided into points."""

from __future__ import annotations

from dataclasses import dataclass

from haze.core.mesh.scale import DIAGONAL

__all__ = ("COARSE", "FINE", "Detail")


@dataclass(frozen=True, slots=True)
class Detail:
    """Bounds on the points of a prepared mesh.

    Parameters
    ----------
    least_vertices : int, below which long edges are split further
    most_vertices : int, above which triangles are merged
    longest_edge : float [prepared units]
    """

    least_vertices: int
    most_vertices: int
    longest_edge: float


FINE = Detail(20_000, 60_000, DIAGONAL / 75.0)
COARSE = Detail(4_000, 8_000, DIAGONAL / 25.0)
