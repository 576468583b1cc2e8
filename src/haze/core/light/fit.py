"""Few columns of a matrix that add up to a wanted one, with weights that are not negative.

Sources: Chen, Billings & Luo 1989, doi:10.1080/00207178908953472 (orthogonal least squares);
Lawson & Hanson 1974, *Solving Least Squares Problems*, ch. 23 (the dense fit).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from haze.core.arrays import Array, Floats, Longs
from haze.core.progress import Progress, tell

STARTS = 40
MOST_SWAPS = 8
PAIR_BLOCK = 32  # rows of pairs tried at a time: they stay in cache
FEW_STARTS, FEW_APART, FEW_SWAPS = 3, 12, 2
RIDGE = 1e-9
DENSE_ATOMS = 120
DENSE_TOLERANCE = 1e-5


class Columns:
    """Inner products of the columns to choose from, worked out when they are asked for.

    Parameters
    ----------
    columns : (m, n) float32, each at the places
    """

    def __init__(self, columns: Floats) -> None:
        self._columns = columns
        self._rows: dict[int, Array] = {}
        self.own = np.einsum("ij,ij->i", columns, columns).astype(np.float64)

    def __getitem__(self, index: Longs) -> Array:
        for i in index.tolist():
            if i not in self._rows:
                self._rows[i] = (self._columns @ self._columns[i]).astype(np.float64)
        rows = np.stack([self._rows[i] for i in index.tolist()])
        rows[np.arange(len(index)), index] = self.own[index] * (1 + RIDGE)
        return rows


Gram = Array | Columns


def _solve(gram: Array, b: Array, chosen: Sequence[int] | Longs) -> Array:
    index = np.array(chosen)
    return np.asarray(np.linalg.solve(gram[np.ix_(index, index)], b[index]))


def explained(gram: Gram, b: Array, chosen: Sequence[int]) -> tuple[float, Array]:
    """How much of ‖t‖² a set explains with weights that are not negative, and the weights (k,).

    Parameters
    ----------
    gram : (n, n) float [-], inner products of the atoms
    b : (n,) float [-], inner products with the wanted light
    chosen : numbers of k atoms
    """
    index = np.array(chosen)
    own, toward = gram[index][:, index], b[index]
    x = np.linalg.solve(own, toward)
    if (x < 0).any():
        x = nonnegative(own, toward)
    return float(2 * x @ toward - x @ own @ x), x


def best_pair(gram: Array, b: Array, *, keep: int = 1) -> list[tuple[int, int]]:
    """The pairs that explain most with weights that are not negative, best first.

    Every pair is tried; of those with the same lower-numbered atom the best is kept.

    For a pair in closed form: x = G⁻¹b, explained = bᵀx. Where a weight would be negative the pair
    is no better than the other atom alone, which other pairs contain.

    Parameters
    ----------
    gram : (m, m) float, products of every two atoms
    b : (m,) float, each atom times the target
    keep : int, how many to keep
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


def _grow(gram: Gram, own: Array, b: Array, chosen: list[int]) -> int | None:
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


def _swap(
    gram: Gram, own: Array, b: Array, chosen: list[int], *, most: int = MOST_SWAPS
) -> tuple[float, list[int]]:
    """Replace one member at a time by the best atom until nothing improves."""
    best = explained(gram, b, chosen)[0]
    for _ in range(most):
        better = False
        for member in list(chosen):
            others = [c for c in chosen if c != member]
            if not others:
                continue
            new = _grow(gram, own, b, others)
            if new is None:
                continue
            value = explained(gram, b, [*others, new])[0]
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
    gram : (m, m) float, products of every two atoms
    b : (m,) float, each atom times the target
    progress : called with the share done, 0 to 1; None for silence
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
        tell(progress, (i + 1) / len(starts), "Stopped; your stations are as they were.")
    return best[1]


def few(columns: Floats, target: Floats, *, count: int) -> tuple[list[int], Array]:
    """A few columns that add up to a target, and their weights, without all inner products.

    Orthogonal least squares from the few best single columns, with swaps.

    Parameters
    ----------
    columns : (m, n) float32
    target : (n,) float32
    count : int, at most so many
    """
    gram = Columns(columns)
    b = (columns @ target).astype(np.float64)
    own = gram.own * (1 + RIDGE) + RIDGE * float(gram.own.max())
    gain = np.maximum(b, 0) ** 2 / own
    best: tuple[float, list[int]] = (-np.inf, [])
    first = np.argsort(-gain, kind="stable")[: FEW_STARTS * FEW_APART : FEW_APART]
    for start in first.tolist():
        chosen = [start]
        while len(chosen) < count:
            new = _grow(gram, own, b, chosen)
            if new is None:
                break
            chosen.append(new)
        best = max(best, _swap(gram, own, b, chosen, most=FEW_SWAPS), key=lambda one: one[0])
    return best[1], explained(gram, b, best[1])[1]


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

    Parameters
    ----------
    gram : (m, m) float, products of every two atoms
    b : (m,) float, each atom times the target
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
