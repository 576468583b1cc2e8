"""Stations to choose from, and what each would land on samples of the surface."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.linalg.blas import ssyrk

from haze.core.arrays import Array, Floats, Longs, Mask, Table
from haze.core.directions import angles_of, fibonacci_directions
from haze.core.errors import BlockedError, NoLightError
from haze.core.light.stations import Station, direction_weights

SPREADS_DEG = (8.0, 20.0, 40.0)
SAMPLES = 3000
RIDGE = 1e-9


def samples(area: Floats, counted: Mask, *, count: int = SAMPLES) -> Longs:
    """Vertices that stand for equal shares of the counted surface, in order along it.

    Parameters
    ----------
    area : (n,) float [mesh unit²], of each vertex
    count : int, how many
    """
    weight = np.where(counted, area, 0.0).astype(np.float64)
    total = weight.sum()
    if total <= 0:
        raise NoLightError("Nothing of this piece can be seen from outside.", field="piece")
    steps = (np.arange(count) + 0.5) / count * total
    return np.asarray(np.minimum(np.searchsorted(np.cumsum(weight), steps), len(area) - 1))


class Atoms:
    """Everything about a piece that does not depend on the wanted light, worked out once.

    Parameters
    ----------
    table : (k, n) uint8, what spray sees
    rows : directions that may be sprayed from
    chosen : (s,) sample vertices, each standing for the same area
    also : further stations to choose from, such as those that stand where the lights are
    """

    def __init__(
        self,
        table: Table,
        *,
        rows: Longs,
        chosen: Longs,
        also: Sequence[Station] = (),
    ) -> None:
        seen = np.ascontiguousarray(table[:, chosen]).astype(np.float32) / np.float32(255)
        azimuth, elevation = angles_of(fibonacci_directions(table.shape[0]))
        columns: list[Floats] = []
        where: list[Station] = []
        for spread in SPREADS_DEG:
            kernel = np.zeros((len(rows), table.shape[0]), dtype=np.float32)
            for i, row in enumerate(rows):
                at = Station(float(azimuth[row]), float(elevation[row]), spread)
                keep, weights = direction_weights(at)
                where.append(at)
                kernel[i, keep] = weights
            columns.append(kernel @ seen)
        for one in also:
            keep, weights = direction_weights(one)
            columns.append((weights @ seen[keep])[None, :])
            where.append(one)
        lit = np.concatenate(columns) if columns else np.zeros((0, len(chosen)), np.float32)
        # what reaches next to nothing of the piece is no use and would only upset the algebra
        useful = (lit > 0.05).mean(axis=1) > 0.002 if len(lit) else np.zeros(0, bool)
        if not useful.any():
            raise BlockedError(
                "Every direction that reaches the piece is blocked; free a part of the sky.",
                field="blocked",
            )
        self.lit = np.ascontiguousarray(lit[useful])
        self.where = [w for w, u in zip(where, useful, strict=True) if u]
        self.gram = _gram(self.lit)

    def weighted(self, weight: Floats) -> Atoms:
        """The same stations where some samples matter more than others.

        Parameters
        ----------
        weight : (s,) float32, not negative; the wanted light must be multiplied by it too
        """
        out = object.__new__(Atoms)
        out.where = self.where
        out.lit = np.ascontiguousarray(self.lit * weight)
        out.gram = _gram(out.lit)
        return out

    def project(self, target: Floats) -> Array:
        """(atoms,) float: inner products with a wanted light given at the samples.

        Parameters
        ----------
        target : (n,) float, what is wanted at each sample
        """
        return np.asarray(self.lit @ target.astype(np.float32), dtype=np.float64)


def _gram(lit: Floats) -> Array:
    lower = ssyrk(1.0, lit.T, trans=1, lower=1)
    out = np.asarray(lower, dtype=np.float64)
    out += np.tril(out, -1).T
    # a trace on the diagonal keeps atoms that are nearly alike solvable
    out[np.diag_indices_from(out)] = out.diagonal() * (1 + RIDGE) + 1e-9 * float(
        out.diagonal().max()
    )
    return out
