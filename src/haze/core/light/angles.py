"""From where to spray: few stations that reproduce a wanted light (docs/models.md B5).

The deposit is linear in the passes of the stations, so the wanted light t is fitted by a few atoms
(direction × sweep) with weights that are not negative. Two stations are found by trying every
pair; more of them by orthogonal least squares from many starts, with swaps until none helps.
Source: Chen, Billings & Luo (1989), Int. J. Control 50, 1873, orthogonal least squares; Lawson &
Hanson (1974) for the dense fit.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.blas import ssyrk

from haze.core.errors import CancelledError, HazeError, require_range
from haze.core.light.directions import angles_of, direction_of, fibonacci_directions
from haze.core.light.stations import Table, direction_weights

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Longs = NDArray[np.int64]
Mask = NDArray[np.bool_]
Progress = Callable[[float], bool]

SPREADS_DEG = (8.0, 20.0, 40.0)
SAMPLES = 3000
STARTS = 40
MOST_STATIONS = 4
MOST_SWAPS = 8
PAIR_BLOCK = 32  # rows of pairs tried at a time: they stay in cache
AS_GOOD = 1e-8  # of ‖t‖²: nearer to the dense fit nothing can be told
RIDGE = 1e-9
SHARE_NEAR = 0.02  # shares this near are as good as equal
DENSE_ATOMS = 120
DENSE_TOLERANCE = 1e-5


@dataclass(frozen=True, slots=True)
class Sector:
    """A blocked part of the sky: nothing is sprayed from within this cone."""

    azimuth_deg: float
    elevation_deg: float
    half_angle_deg: float


@dataclass(frozen=True, slots=True)
class FoundStation:
    """One station of an answer; passes are in units of the wanted light."""

    azimuth_deg: float
    elevation_deg: float
    spread_deg: float
    passes: float


@dataclass(frozen=True, slots=True)
class Angles:
    """An answer: its stations, its residual, and what any number of stations could reach."""

    stations: tuple[FoundStation, ...]
    residual: float
    dense_residual: float
    dense_stations: int


def free_directions(sectors: Sequence[Sector], directions: Array | None = None) -> Longs:
    """Indices of the directions outside every blocked sector."""
    d = fibonacci_directions() if directions is None else directions
    free = np.ones(len(d), dtype=bool)
    for s in sectors:
        middle = direction_of(s.azimuth_deg, s.elevation_deg)
        free &= d @ middle < np.cos(np.radians(s.half_angle_deg))
    return np.flatnonzero(free)


def samples(area: Floats, counted: Mask, *, count: int = SAMPLES) -> Longs:
    """Vertices that stand for equal shares of the counted surface, in order along it."""
    weight = np.where(counted, area, 0.0).astype(np.float64)
    total = weight.sum()
    if total <= 0:
        raise HazeError("Nothing of this piece can be seen from outside.", field="piece")
    steps = (np.arange(count) + 0.5) / count * total
    return np.asarray(np.minimum(np.searchsorted(np.cumsum(weight), steps), len(area) - 1))


class Atoms:
    """Everything about a piece that does not depend on the wanted light, worked out once.

    Parameters
    ----------
    table : (k, n) uint8, what spray sees
    rows : directions that may be sprayed from
    chosen : (s,) sample vertices, each standing for the same area
    also : further stations (azimuth, elevation, sweep [°]) to choose from, such as those that
        stand where the lights are
    """

    def __init__(
        self,
        table: Table,
        *,
        rows: Longs,
        chosen: Longs,
        also: Sequence[tuple[float, float, float]] = (),
    ) -> None:
        seen = np.ascontiguousarray(table[:, chosen]).astype(np.float32) / np.float32(255)
        azimuth, elevation = angles_of(fibonacci_directions(table.shape[0]))
        columns, where = [], []
        for spread in SPREADS_DEG:
            kernel = np.zeros((len(rows), table.shape[0]), dtype=np.float32)
            for i, row in enumerate(rows):
                keep, weights = direction_weights(azimuth[row], elevation[row], spread)
                kernel[i, keep] = weights
            columns.append(kernel @ seen)
            where += [(float(azimuth[r]), float(elevation[r]), spread) for r in rows]
        for one in also:
            keep, weights = direction_weights(*one)
            columns.append((weights @ seen[keep])[None, :])
            where.append(one)
        lit = np.concatenate(columns) if columns else np.zeros((0, len(chosen)), np.float32)
        # what reaches next to nothing of the piece is no use and would only upset the algebra
        useful = (lit > 0.05).mean(axis=1) > 0.002 if len(lit) else np.zeros(0, bool)
        if not useful.any():
            raise HazeError(
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
        """(atoms,) float: inner products with a wanted light given at the samples."""
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


def _solve(gram: Array, b: Array, chosen: Sequence[int] | Longs) -> Array:
    index = np.array(chosen)
    return np.asarray(np.linalg.solve(gram[np.ix_(index, index)], b[index]))


def _explained(gram: Array, b: Array, chosen: Sequence[int]) -> tuple[float, Array]:
    """How much of ‖t‖² a set explains with weights that are not negative, and the weights."""
    index = np.array(chosen)
    own, toward = gram[index[:, None], index], b[index]
    x = np.linalg.solve(own, toward)
    if (x < 0).any():
        x = nonnegative(own, toward)
    return float(2 * x @ toward - x @ own @ x), x


def best_pair(gram: Array, b: Array, *, keep: int = 1) -> list[tuple[int, int]]:
    """The pairs that explain most with weights that are not negative, best first.

    Every pair is tried; of those with the same lower-numbered atom the best is kept.

    For a pair in closed form: x = G⁻¹b, explained = bᵀx. Where a weight would be negative the pair
    is no better than the other atom alone, which other pairs contain.
    """
    n = len(b)
    if n == 1:
        return [(0, 0)]
    own = np.diag(gram).copy()
    partner = np.zeros(n, dtype=np.int64)
    gain = np.full(n, -np.inf)
    for start in range(0, n, PAIR_BLOCK):
        i = np.arange(start, min(start + PAIR_BLOCK, n))
        mine, other = slice(start, start + len(i)), slice(start, n)
        cross = gram[mine, other]
        both = own[mine, None] * own[None, other]
        det = both - cross**2
        first = b[mine, None] * own[None, other] - b[None, other] * cross
        second = b[None, other] * own[mine, None] - b[mine, None] * cross
        fits = (det > 1e-6 * both) & (first >= 0) & (second >= 0)
        fits &= np.arange(start, n)[None, :] > i[:, None]
        first *= b[mine, None]
        second *= b[None, other]
        first += second
        value = np.full_like(first, -np.inf)
        np.divide(first, det, out=value, where=fits)
        best = np.argmax(value, axis=1)
        partner[mine] = start + best
        gain[mine] = value[np.arange(len(i)), best]
    top = np.argsort(-gain, kind="stable")[:keep]
    found = [(int(t), int(partner[t])) for t in top if np.isfinite(gain[t])]
    return found or [(int(np.argmax(b / np.sqrt(own))),) * 2]


def _grow(gram: Array, own: Array, b: Array, chosen: list[int]) -> int | None:
    """The atom whose joining explains most with all weights ≥ 0; None when none helps.

    Exact gain: with x the weights of the set S, r = b − G_S x and d = G_cc − G_cS G_SS⁻¹ G_Sc, the
    new weight is r_c/d_c, the others move by −G_SS⁻¹G_Sc r_c/d_c, and the gain is r_c²/d_c.
    `own` is the diagonal of `gram`, contiguous.
    """
    index = np.array(chosen)
    rows = gram[index]
    inverse = np.linalg.inv(rows[:, index])
    x, toward = inverse @ b[index], inverse @ rows
    rest = b - x @ rows
    left = own - (rows * toward).sum(axis=0)
    usable = (left > 1e-6 * own) & (rest > 0)
    weight = np.divide(rest, left, out=np.zeros_like(rest), where=usable)
    usable &= (toward * weight <= x[:, None]).all(axis=0)
    gain = np.where(usable, weight * rest, -np.inf)
    gain[index] = -np.inf
    best = int(np.argmax(gain))
    return best if gain[best] > 0 else None


def _swap(gram: Array, own: Array, b: Array, chosen: list[int]) -> tuple[float, list[int]]:
    """Replace one member at a time by the best atom until nothing improves."""
    best = _explained(gram, b, chosen)[0]
    for _ in range(MOST_SWAPS):
        better = False
        for member in list(chosen):
            others = [c for c in chosen if c != member]
            if not others:
                continue
            new = _grow(gram, own, b, others)
            if new is None:
                continue
            value = _explained(gram, b, [*others, new])[0]
            if value > best * (1 + 1e-9):
                best, chosen, better = value, [*others, new], True
        if not better:
            break
    return best, chosen


def sparse(
    gram: Array,
    b: Array,
    *,
    stations: int,
    enough: float = np.inf,
    progress: Progress | None = None,
) -> list[int]:
    """At most `stations` atoms that explain the wanted light best.

    Parameters
    ----------
    enough : float, the search ends when this much of ‖t‖² is explained
    """
    if stations == 1:
        return [int(np.argmax(np.maximum(b, 0) ** 2 / np.diag(gram)))]
    pairs = best_pair(gram, b, keep=STARTS * 25)
    if stations == 2:
        return sorted(set(pairs[0]))
    best: tuple[float, list[int]] = (-np.inf, list(dict.fromkeys(pairs[0])))
    seen: set[frozenset[int]] = set()
    starts = _spread_out(pairs, STARTS)
    own = np.diag(gram).copy()
    for i, pair in enumerate(starts):
        chosen: list[int] = list(dict.fromkeys(pair))
        while len(chosen) < stations:
            new = _grow(gram, own, b, chosen)
            if new is None:
                break
            chosen.append(new)
        if frozenset(chosen) in seen:
            continue
        seen.add(frozenset(chosen))
        best = max(best, _swap(gram, own, b, chosen), key=lambda found: found[0])
        if best[0] >= enough:
            break
        if progress and not progress((i + 1) / len(starts)):
            raise CancelledError("Stopped; your stations are as they were.")
    return best[1]


def _spread_out(pairs: list[tuple[int, int]], count: int) -> list[tuple[int, int]]:
    """Pairs of which no atom occurs often, so that the starts differ."""
    used: dict[int, int] = {}
    out = []
    for pair in pairs:
        if all(used.get(i, 0) < 3 for i in pair):
            out.append(pair)
            for i in set(pair):
                used[i] = used.get(i, 0) + 1
        if len(out) == count:
            break
    return out


def nonnegative(gram: Array, b: Array, *, most: int = DENSE_ATOMS) -> Array:
    """(n,) float: minimiser of xᵀGx − 2bᵀx with x ≥ 0 (Lawson & Hanson on the Gram matrix).

    Stops when nothing could gain a noticeable share any more, or at `most` atoms.
    """
    x = np.zeros(len(b))
    active = np.zeros(0, dtype=np.int64)
    slope = b.copy()
    for _ in range(2 * most):
        new = int(np.argmax(np.where(x > 0, -np.inf, slope)))
        if slope[new] <= DENSE_TOLERANCE * float(np.abs(b).max()) or len(active) >= most:
            break
        active = np.append(active, new)
        while True:
            s = _solve(gram, b, active)
            if (s > 0).all():
                break
            old = x[active]
            low = s <= 0
            step = float(np.min(old[low] / np.maximum(old[low] - s[low], 1e-300)))
            kept = old + step * (s - old)
            x[active] = np.where(kept > 1e-12, kept, 0.0)
            if len(active) == int((kept > 1e-12).sum()):
                return x  # the newest atom cannot join: rounding
            active = active[kept > 1e-12]
            if not len(active):
                return x
        x[:] = 0.0
        x[active] = s
        slope = b - gram[:, active] @ s
    return x


def residual_of(explained: float, norm2: float) -> float:
    """‖fit − t‖ / ‖t‖ from the explained part of ‖t‖²."""
    return float(np.sqrt(max(0.0, 1 - explained / norm2))) if norm2 > 0 else 0.0


def find_stations(
    atoms: Atoms, target: Floats, *, stations: int, progress: Progress | None = None
) -> Angles:
    """Few stations that paint a wanted light.

    Parameters
    ----------
    atoms : of the piece
    target : (s,) float32, wanted deposit at the samples, not negative
    stations : int, 1 to 4
    """
    require_range("stations", stations, 1, MOST_STATIONS)
    norm2 = float(target.astype(np.float64) @ target)
    if norm2 <= 0:
        raise HazeError("The light reaches nothing of the piece; move it or make it softer.")
    b = atoms.project(target)
    dense = nonnegative(atoms.gram, b)
    dense_explained = float(2 * dense @ b - dense @ (atoms.gram @ dense))
    enough = dense_explained - AS_GOOD * norm2
    chosen = sparse(atoms.gram, b, stations=stations, enough=enough, progress=progress)
    explained, weights = _explained(atoms.gram, b, chosen)
    found = tuple(
        FoundStation(*atoms.where[i], passes=float(w))
        for i, w in sorted(zip(chosen, weights, strict=True), key=lambda pair: -pair[1])
        if w > 1e-6
    )
    return Angles(
        stations=found,
        residual=residual_of(explained, norm2),
        dense_residual=residual_of(max(dense_explained, explained), norm2),
        dense_stations=int((dense > 0).sum()),
    )


def find_share(
    atoms: Atoms, *, wanted: float, toward: Floats
) -> tuple[tuple[FoundStation, ...], float]:
    """Stations, as few as will do, that cover a wanted share of the surface; and that share.

    Covered is what gets at least half of a square-on pass. One station is enough for most shares;
    a further one is taken only when it comes clearly nearer. Of the stations that come equally near
    the one whose deposit is most like the light is taken.

    Parameters
    ----------
    wanted : float [-], share of the surface
    toward : (s,) float32, the light at the samples
    """
    require_range("cover_share", wanted, 0.01, 1.0)
    likeness = atoms.project(toward) / np.sqrt(np.diag(atoms.gram))
    likeness = likeness / max(float(likeness.max()), 1e-12)
    found: list[int] = []
    landed = np.zeros(atoms.lit.shape[1], dtype=np.float32)
    share = 0.0
    while len(found) < MOST_STATIONS:
        covers = (atoms.lit + landed >= 0.5).mean(axis=1)
        off = np.abs(covers - wanted)
        allowed = off <= max(float(off.min()), SHARE_NEAR)
        best = int(np.argmax(np.where(allowed, likeness, -np.inf)))
        if found and abs(share - wanted) - off[best] < SHARE_NEAR:
            break
        found.append(best)
        landed = landed + atoms.lit[best]
        share = float(covers[best])
        if abs(share - wanted) <= SHARE_NEAR:
            break
    return tuple(FoundStation(*atoms.where[i], passes=1.0) for i in found), share
