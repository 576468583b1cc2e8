"""Stations and what they deposit on each vertex (docs/models.md part 0 and B3)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats, Longs, Table
from haze.core.directions import direction_of, fibonacci_directions, voronoi_weights
from haze.core.errors import require_range

TILE = 4096
LEAST_SPREAD_DEG = 2.0
MOST_SPREAD_DEG = 90.0
NEGLIGIBLE = 1e-3
LEAST_KERNEL_DEG = 4.5  # the spacing of 512 directions is about 10°: less would show as patches


@dataclass(frozen=True, slots=True)
class Station:
    """Where the airbrush stands as seen from the piece, and how far it sweeps (half angle) [°]."""

    azimuth_deg: float
    elevation_deg: float
    spread_deg: float

    def __post_init__(self) -> None:
        require_range("elevation_deg", self.elevation_deg, -90.0, 90.0, "°")
        require_range("azimuth_deg", self.azimuth_deg, -360.0, 360.0, "°")
        require_range("spread_deg", self.spread_deg, LEAST_SPREAD_DEG, MOST_SPREAD_DEG, "°")


def direction_weights(station: Station) -> tuple[Longs, Floats]:
    """Directions a station sweeps over, and their weights, (k,) each; the weights sum to 1.

    w ∝ Voronoi area · exp(−½(angle/spread)²), cut where it no longer matters. A station narrower
    than the spacing of the set is interpolated from its nearest directions.

    Parameters
    ----------
    station : where it stands and how far it sweeps
    """
    d = fibonacci_directions()
    target = direction_of(station.azimuth_deg, station.elevation_deg)
    angle = np.degrees(np.arccos(np.clip(d @ target, -1, 1)))
    spread = max(station.spread_deg, LEAST_KERNEL_DEG)
    w = voronoi_weights() * np.exp(-0.5 * (angle / spread) ** 2)
    keep = np.nonzero(w > NEGLIGIBLE * w.max())[0]
    kept = w[keep] / w[keep].sum()
    return keep, kept.astype(np.float32)


def lobe(station: Station, *, count: int) -> Floats:
    """(count, 3) float32: equally weighted directions of a station's sweep.

    A spiral whose angle from the middle follows the quantiles of exp(−½(θ/spread)²) sin θ: fresh
    directions as dense as the sweep is narrow, where the standard set would show as patches.

    Parameters
    ----------
    station : where it stands and how far it sweeps
    count : int, how many directions
    """
    spread_deg = station.spread_deg
    theta = np.linspace(0, min(180.0, 4.2 * spread_deg), 2048)
    density = np.exp(-0.5 * (theta / spread_deg) ** 2) * np.sin(np.radians(theta))
    cumulative = np.cumsum(density)
    i = np.arange(count) + 0.5
    off = np.radians(np.interp(i / count, cumulative / cumulative[-1], theta))
    turn = np.pi * (1 + np.sqrt(5.0)) * i
    middle = direction_of(station.azimuth_deg, station.elevation_deg)
    helper = np.array([1.0, 0, 0]) if abs(middle[2]) > 0.9 else np.array([0, 0, 1.0])
    side = np.cross(helper, middle)
    side /= np.linalg.norm(side)
    other = np.cross(middle, side)
    around = np.cos(turn)[:, None] * side + np.sin(turn)[:, None] * other
    d = np.cos(off)[:, None] * middle + np.sin(off)[:, None] * around
    return np.ascontiguousarray(d, dtype=np.float32)


def weighted_rows(table: Table, rows: Longs, weights: Floats) -> Floats:
    """(n,) float32 [-]: Σ weight × row / 255, in tiles that stay in cache.

    Parameters
    ----------
    table : visibility by direction and vertex
    rows : (k,) int, directions of the table
    weights : (k,) float, summing to 1
    """
    out = np.empty(table.shape[1], dtype=np.float32)
    scaled = (weights / 255.0).astype(np.float32)
    for start in range(0, table.shape[1], TILE):
        block = table[rows, start : start + TILE].astype(np.float32)
        out[start : start + TILE] = scaled @ block
    return out


def deposit(table: Table, station: Station) -> Floats:
    """(n,) float32 [-]: share of a square-on pass that lands at each vertex; passes not counted.

    Parameters
    ----------
    table : visibility by direction and vertex
    station : where the airbrush stands and how far it sweeps
    """
    rows, weights = direction_weights(station)
    return weighted_rows(table, rows, weights)


def ambient(table: Table) -> Floats:
    """(n,) float32 [-]: mean cosine-weighted openness to all sides; 1 on a convex piece.

    Parameters
    ----------
    table : visibility by direction and vertex
    """
    return 4.0 * weighted_rows(
        table, np.arange(table.shape[0]), voronoi_weights(table.shape[0]).astype(np.float32)
    )
