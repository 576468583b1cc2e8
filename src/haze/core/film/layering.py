"""Which paints, in which films, one over the other, land on wanted colours at a few places.

A sequence is a row of slots; each takes one of its paints or mixes in one of its ways, and a way is
a film at every place. States grow slot by slot, the best are kept (beam search), then each slot is
chosen again with the others as they are. What comes later and is not asked for, such as a wash, is
laid over every state before it is judged. A place is a point of the piece, or several: then it ends
as their median, and how far they scatter counts too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats, Longs, Mask
from haze.core.film.difference import ciede2000, hue_turn, lab_of, oklch_of
from haze.core.film.finish import outside_film
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import Reals, add_coat
from haze.core.film.spectra import BAND_TO_RGB
from haze.core.progress import Progress, tell

BEAM = 24
BEAM_UNJUDGED = 400  # before anything can be judged
ALIKE = 4  # states kept that end in the same paint
REFINED, REFINED_HERE, SWEEPS = 3, 4, 3
CHROMA_COST = 25.0  # for all of the asked chroma that lacks
HUE_FREE_DEG, HUE_COST = 7.0, 0.25
RISE = 0.6
SPAN_COST = 0.2  # for an L* of wanted span that lacks
FAR, FAR_COST = 4.0, 0.6  # ΔE00 of a place from which it counts more, by its weight
SCATTER_COST = 0.3  # for the mean ΔE00 of the points of the middle from what is wanted there
LIFT_COST = 0.8  # for an L* by which the lightest place does not rise above the middle as it must
ORDER_COST = 0.5  # for an L* by which a lighter place does not rise as it should
GREY_CHROMA = 0.035  # OKLab: below it a colour has no hue to keep
STOPPED = "Stopped; the plan is as it was."


@dataclass(frozen=True, slots=True)
class Slot:
    """One layer to choose.

    Attributes
    ----------
    optics : of each paint or mix it may be
    ways : (w, n) float, what each way to lay it leaves at every point, in films of a pass
    judged : (p,) bool, places that can be judged once it is laid; none for what only prepares
    effort : (w,) float, what each way adds to the score
    pass_um : (m, w) float [µm], film of a pass of each paint in each way; None for 1
    splat_um : (m,) float [µm], dry thickness of a splat of each paint; None for closed films
    """

    optics: tuple[PaintOptics, ...]
    ways: Array
    judged: Mask
    effort: Array
    pass_um: Array | None = None
    splat_um: Array | None = None

    def film_um(self, paint: int) -> Floats:
        """(w, n) float32 [µm]: film of one of its paints at every point, for each way.

        Parameters
        ----------
        paint : int, which
        """
        scale = 1.0 if self.pass_um is None else self.pass_um[paint][:, None]
        return np.asarray(self.ways * scale, dtype=np.float32)

    def splat_of(self, paint: int) -> float | None:
        """Dry thickness [µm] of a splat of one of its paints.

        Parameters
        ----------
        paint : int, which
        """
        return None if self.splat_um is None else float(self.splat_um[paint])


@dataclass(frozen=True, slots=True)
class Goal:
    """What is wanted at the places.

    Attributes
    ----------
    rgb : (p, 3) float, linear sRGB
    weight : (p,) float, how much each counts
    chroma : (p,) float [OKLab], least chroma
    asked : (3,) float, linear sRGB asked for, which lies in the middle
    lift : float [L*], how much lighter than the middle the last place is to be at least
    """

    rgb: Array
    weight: Array
    chroma: Array
    asked: Array
    lift: float = 0.0


@dataclass(frozen=True, slots=True)
class Later:
    """A film that comes over everything: its paint, and its film at every point (n,) [µm]."""

    optics: PaintOptics
    film_um: Array


@dataclass(frozen=True, slots=True)
class ChosenRow:
    """A chosen row: paint and way of each slot, what it ends as (p, 3), and its score."""

    chosen: tuple[tuple[int, int], ...]
    rgb: Array
    score: float


class Layering:
    """The search for one goal over one ground.

    Parameters
    ----------
    ground : (12, n) float, inside the binder at every point
    slots : the layers to choose, lowest first
    later : what comes over them
    surface : float, surface term at the end
    goal : what is wanted
    place : (n,) int, the place each point belongs to; None when they are the places
    """

    def __init__(
        self,
        ground: Reals,
        slots: Sequence[Slot],
        *,
        later: Sequence[Later],
        surface: float,
        goal: Goal,
        place: Longs | None = None,
    ) -> None:
        self._ground = ground.astype(np.float32)
        self._slots = slots
        self._later = later
        self._surface = np.float32(surface)
        self._goal = goal
        self._points = ground.shape[1]
        self._members = (
            None if place is None else [np.flatnonzero(place == n) for n in range(len(goal.rgb))]
        )
        self._middle = int(np.argmax(goal.weight))
        self._lab = lab_of(goal.rgb)
        self._wanted_chroma, self._hue = oklch_of(goal.rgb)[:, 1:].T
        self._most_chroma = float(self._wanted_chroma.max())

    def solve(self, *, progress: Progress | None = None) -> ChosenRow:
        """The best row found.

        Parameters
        ----------
        progress : called with the share done, 0 to 1; None for silence
        """
        return self.rows(progress=progress)[0]

    def rows(
        self,
        *,
        foreseen: tuple[int, int, int] | None = None,
        progress: Progress | None = None,
    ) -> list[ChosenRow]:
        """The best rows found, best first.

        Parameters
        ----------
        foreseen : slot, paint and way of a layer that those below it are judged under
        progress : called with the share done, 0 to 1; None for silence
        """
        grown = self._grown(foreseen, progress)
        best = [self._refined(row) for row in _unlike(grown)[:REFINED]]
        tell(progress, 1.0, STOPPED)
        return _unlike(sorted([*best, *grown], key=lambda row: row.score))

    def best_of(self, rows: Sequence[ChosenRow], *, progress: Progress | None = None) -> ChosenRow:
        """The best that rows found elsewhere lead to here.

        Parameters
        ----------
        rows : of the same slots, at other points
        progress : called with the share done, 0 to 1; None for silence
        """
        here = sorted((self._row(row.chosen) for row in rows), key=lambda row: row.score)
        best = []
        for number, row in enumerate(here[:REFINED_HERE]):
            tell(progress, number / REFINED_HERE, STOPPED)
            best.append(self._refined(row))
        tell(progress, 1.0, STOPPED)
        return min(best, key=lambda row: row.score)

    def ends_of(self, chosen: Sequence[tuple[int, int]]) -> Array:
        """(p, 3) float: linear sRGB at the places at the end of a row.

        Parameters
        ----------
        chosen : paint and way of each slot
        """
        return self._row(chosen).rgb

    def _row(self, chosen: Sequence[tuple[int, int]]) -> ChosenRow:
        inside = self._ground[None]
        for i, (paint, way) in enumerate(chosen):
            inside = self._one(inside, i, paint, way)
        ends = self.ended(inside)
        score = float(self._scores(ends, self._everywhere)[0]) + sum(
            float(slot.effort[way]) for slot, (_, way) in zip(self._slots, chosen, strict=True)
        )
        return ChosenRow(tuple(chosen), self._medians(ends)[0], score)

    def _grown(
        self, foreseen: tuple[int, int, int] | None, progress: Progress | None
    ) -> list[ChosenRow]:
        chosen: list[tuple[tuple[int, int], ...]] = [()]
        inside = self._ground[None]
        score = effort = np.zeros(1)
        for number, slot in enumerate(self._slots):
            tell(progress, 0.6 * number / len(self._slots), STOPPED)
            made = self._laid(inside, slot)
            paints, ways = made.shape[1:3]
            flat = made.reshape(-1, *self._ground.shape)
            score = effort = (effort[:, None, None] + np.tile(slot.effort, (paints, 1))).reshape(-1)
            if slot.judged.any():
                under = flat
                if foreseen and number < foreseen[0]:
                    under = self._one(flat, *foreseen)
                score = effort + self._scores(self.ended(under), slot.judged)
            where = np.argsort(score, kind="stable")
            most = BEAM if slot.judged.any() else BEAM_UNJUDGED
            kept = self._some(where, paints, ways, most, judged=bool(slot.judged.any()))
            chosen = [
                (*chosen[i // (paints * ways)], ((i // ways) % paints, i % ways)) for i in kept
            ]
            inside, score, effort = flat[kept], score[kept], effort[kept]
        ends = self._medians(self.ended(inside))
        return [
            ChosenRow(c, end, float(s))
            for c, end, s in zip(chosen, ends, score.tolist(), strict=True)
        ]

    def _some(
        self, order: np.ndarray, paints: int, ways: int, most: int, *, judged: bool
    ) -> list[int]:
        if not judged:
            return [int(i) for i in order[:most]]
        used: dict[int, int] = {}
        kept = []
        for i in order.tolist():
            paint = (i // ways) % paints
            if used.get(paint, 0) >= ALIKE:
                continue
            used[paint] = used.get(paint, 0) + 1
            kept.append(i)
            if len(kept) == most:
                break
        return kept

    @property
    def _everywhere(self) -> Mask:
        return np.ones(len(self._goal.rgb), dtype=bool)

    def _laid(self, inside: Floats, slot: Slot) -> Floats:
        """(s, paints, ways, 12, n) float32: each state under each paint in each way."""
        states, ways = len(inside), len(slot.ways)
        below = np.repeat(inside[:, None], ways, axis=1)  # (s, w, 12, n)
        columns = np.moveaxis(below, 2, 0).reshape(self._ground.shape[0], -1)
        out = np.empty((states, len(slot.optics), ways, *self._ground.shape), dtype=np.float32)
        for n, optics in enumerate(slot.optics):
            film = np.broadcast_to(slot.film_um(n), (states, *slot.ways.shape)).reshape(-1)
            after = add_coat(columns, optics, film, droplet_um=slot.splat_of(n))
            out[:, n] = np.moveaxis(after.reshape(-1, states, ways, self._points), 0, 2)
        return out

    def ended(self, inside: Floats) -> Array:
        """(s, n, 3) float: linear sRGB at every point at the end of states (s, 12, n).

        Parameters
        ----------
        inside : (s, 12, n) float32, inside the binder before what comes later
        """
        columns = np.moveaxis(inside, 1, 0).reshape(self._ground.shape[0], -1)
        for later in self._later:
            film = np.tile(later.film_um.astype(np.float32), len(inside))
            columns = add_coat(np.ascontiguousarray(columns), later.optics, film)
        seen = outside_film(columns, np.full(columns.shape[1], self._surface))
        rgb = BAND_TO_RGB.T.astype(np.float32) @ seen
        return np.asarray(np.clip(rgb.T, 0, 1).reshape(len(inside), self._points, 3))

    def _medians(self, ends: Array) -> Array:
        """(s, p, 3) float: linear sRGB of the places, from that of their points (s, n, 3)."""
        if self._members is None:
            return ends
        return np.stack([np.median(ends[:, m], axis=1) for m in self._members], axis=1)

    def _scores(self, ends: Array, judged: Mask) -> Array:
        """(s,) float: how far ends (s, n, 3) are from the goal at the places that are judged."""
        goal, at = self._goal, np.flatnonzero(judged)
        rgb = self._medians(ends)
        weight = goal.weight[at] / goal.weight.sum()
        lab = lab_of(rgb[:, at])
        apart = ciede2000(lab, np.broadcast_to(self._lab[at], lab.shape))
        off = (apart + FAR_COST * np.maximum(apart - FAR, 0)) @ weight
        if self._members is not None:
            points = lab_of(ends[:, self._members[self._middle]])
            middle = np.broadcast_to(self._lab[self._middle], points.shape)
            off = off + SCATTER_COST * ciede2000(points, middle).mean(axis=1)
        if self._most_chroma > GREY_CHROMA:
            own = oklch_of(rgb[:, at])
            lacks = np.maximum(goal.chroma[at] - own[..., 1], 0) / self._most_chroma
            turned = np.abs(hue_turn(own[..., 2], self._hue[at])) - HUE_FREE_DEG
            seen = (own[..., 1] > GREY_CHROMA / 2) & (self._wanted_chroma[at] > GREY_CHROMA)
            turned = np.where(seen, np.maximum(turned, 0), 0)
            off = off + (CHROMA_COST * lacks + HUE_COST * turned) @ weight
        wanted = float(self._lab[at, 0].max() - self._lab[at, 0].min())
        span = np.ptp(lab[..., 0], axis=1)
        # where a place is to be lighter than the one before, it is, by part of the wanted step
        step = np.diff(self._lab[at, 0])
        lacks = np.maximum(RISE * step - np.diff(lab[..., 0], axis=1), 0)
        order = np.where(step > 0, lacks, 0).sum(axis=1)
        if judged[self._middle] and judged[-1]:
            off = off + LIFT_COST * np.maximum(goal.lift - _lift(lab, at, self._middle), 0)
        return np.asarray(off + SPAN_COST * np.maximum(wanted - span, 0) + ORDER_COST * order)

    def _refined(self, row: ChosenRow) -> ChosenRow:
        """Each slot chosen again with the others as they are, until nothing is better."""
        best = row
        for _ in range(SWEEPS):
            before = best.score
            for number in range(len(self._slots)):
                best = min(best, self._again(best, number), key=lambda r: r.score)
            if best.score > before - 1e-6:
                break
        return best

    def _again(self, row: ChosenRow, number: int) -> ChosenRow:
        inside = self._ground[None]
        for i, (paint, way) in enumerate(row.chosen[:number]):
            inside = self._one(inside, i, paint, way)
        slot = self._slots[number]
        state = self._laid(inside, slot).reshape(-1, *self._ground.shape)
        for i, (paint, way) in enumerate(row.chosen[number + 1 :], start=number + 1):
            state = self._one(state, i, paint, way)
        ends = self.ended(state)
        others = sum(
            float(self._slots[i].effort[w]) for i, (_, w) in enumerate(row.chosen) if i != number
        )
        effort = others + np.tile(slot.effort, len(slot.optics))
        score = self._scores(ends, self._everywhere) + effort
        best, ways = int(np.argmin(score)), len(slot.ways)
        chosen = (
            *row.chosen[:number],
            (best // ways, best % ways),
            *row.chosen[number + 1 :],
        )
        return ChosenRow(chosen, self._medians(ends[best : best + 1])[0], float(score[best]))

    def _one(self, inside: Floats, slot: int, paint: int, way: int) -> Floats:
        one = self._slots[slot]
        columns = np.ascontiguousarray(np.moveaxis(inside, 1, 0)).reshape(inside.shape[1], -1)
        film = np.tile(one.film_um(paint)[way], len(inside))
        after = add_coat(columns, one.optics[paint], film, droplet_um=one.splat_of(paint))
        return np.moveaxis(after.reshape(-1, len(inside), self._points), 0, 1)


def _unlike(rows: Sequence[ChosenRow]) -> list[ChosenRow]:
    """The first of those rows that take the same paints."""
    first: dict[tuple[int, ...], ChosenRow] = {}
    for row in rows:
        first.setdefault(tuple(paint for paint, _ in row.chosen), row)
    return list(first.values())


def _lift(lab: Array, at: Longs, middle: int) -> Array:
    """(s,) float [L*]: how far the last place lies above the middle, of the places `at`."""
    return np.asarray(lab[:, -1, 0] - lab[:, int(np.flatnonzero(at == middle)[0]), 0])
