"""Which paints, in which films, one over the other, land on wanted colours at a few places.

A sequence is a row of slots; each takes one of its paints or mixes in one of its ways, and a way is
a film at every place. States grow slot by slot, the best are kept (beam search), then each slot is
chosen again with the others as they are. What comes later and is not asked for, such as a wash, is
laid over every state before it is judged.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.film.difference import ciede2000, hue_turn, lab_of, oklch_of
from haze.core.film.finish import outside_film
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import add_coat
from haze.core.film.spectra import BAND_TO_RGB
from haze.core.progress import Progress, tell

BEAM = 24
BEAM_UNJUDGED = 400  # before anything can be judged
ALIKE = 4  # states kept that end in the same paint
REFINED, SWEEPS = 5, 3
CHROMA_COST = 25.0  # for all of the asked chroma that lacks
HUE_FREE_DEG, HUE_COST = 7.0, 0.25
RISE = 0.4
SPAN_COST = 0.2  # for an L* of wanted span that lacks
ORDER_COST = 0.3  # for an L* by which a lighter place does not rise as it should
GREY_CHROMA = 0.035  # OKLab: below it a colour has no hue to keep
STOPPED = "Stopped; the plan is as it was."


@dataclass(frozen=True, slots=True)
class Slot:
    """One layer to choose.

    Attributes
    ----------
    optics : of each paint or mix it may be
    ways : (w, p) float [µm], film at every place for each way to lay it
    judged : (p,) bool, places that can be judged once it is laid; none for what only prepares
    effort : (w,) float, what each way adds to the score
    """

    optics: tuple[PaintOptics, ...]
    ways: Array
    judged: Mask
    effort: Array


@dataclass(frozen=True, slots=True)
class Goal:
    """What is wanted at the places.

    Attributes
    ----------
    rgb : (p, 3) float, linear sRGB
    weight : (p,) float, how much each counts
    chroma : (p,) float [-], least share of the asked chroma
    asked : (3,) float, linear sRGB asked for, which lies in the middle
    """

    rgb: Array
    weight: Array
    chroma: Array
    asked: Array


@dataclass(frozen=True, slots=True)
class Later:
    """A film that comes over everything: its paint, and its film at every place (p,) [µm]."""

    optics: PaintOptics
    film_um: Array


@dataclass(frozen=True, slots=True)
class Row:
    """A chosen row: paint and way of each slot, what it ends as (p, 3), and its score."""

    chosen: tuple[tuple[int, int], ...]
    rgb: Array
    score: float


class Layering:
    """The search for one goal over one ground.

    Parameters
    ----------
    ground : (12, p) float, inside the binder at every place
    slots : the layers to choose, lowest first
    later : what comes over them
    surface : float, surface term at the end
    goal : what is wanted
    """

    def __init__(
        self,
        ground: Array,
        slots: Sequence[Slot],
        *,
        later: Sequence[Later],
        surface: float,
        goal: Goal,
    ) -> None:
        self._ground = ground.astype(np.float32)
        self._slots = slots
        self._later = later
        self._surface = np.float32(surface)
        self._goal = goal
        self._places = ground.shape[1]
        self._lab = lab_of(goal.rgb)
        self._asked_chroma = float(oklch_of(goal.asked)[1])
        self._hue = oklch_of(goal.rgb)[:, 2]

    def solve(self, *, progress: Progress | None = None) -> Row:
        """The best row found.

        Parameters
        ----------
        progress : told the share done, 0 to 1; None for silence
        """
        rows = self._grown(progress)
        best = [self._refined(row) for row in rows[:REFINED]]
        tell(progress, 1.0, STOPPED)
        return min(best, key=lambda row: row.score)

    def _grown(self, progress: Progress | None) -> list[Row]:
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
                score = effort + self._scores(self.ended(flat), slot.judged)
            where = np.argsort(score, kind="stable")
            most = BEAM if slot.judged.any() else BEAM_UNJUDGED
            kept = self._some(where, paints, ways, most, judged=bool(slot.judged.any()))
            chosen = [
                (*chosen[i // (paints * ways)], ((i // ways) % paints, i % ways)) for i in kept
            ]
            inside, score, effort = flat[kept], score[kept], effort[kept]
        ends = self.ended(inside)
        return [
            Row(c, end, float(s)) for c, end, s in zip(chosen, ends, score.tolist(), strict=True)
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

    def _laid(self, inside: Floats, slot: Slot) -> Floats:
        """(s, paints, ways, 12, p) float32: each state under each paint in each way."""
        states, ways = len(inside), len(slot.ways)
        below = np.repeat(inside[:, None], ways, axis=1)  # (s, w, 12, p)
        columns = np.moveaxis(below, 2, 0).reshape(self._ground.shape[0], -1)
        film = np.broadcast_to(slot.ways.astype(np.float32), (states, *slot.ways.shape)).reshape(-1)
        out = np.empty((states, len(slot.optics), ways, *self._ground.shape), dtype=np.float32)
        for n, optics in enumerate(slot.optics):
            after = add_coat(columns, optics, film)
            out[:, n] = np.moveaxis(after.reshape(-1, states, ways, self._places), 0, 2)
        return out

    def ended(self, inside: Floats) -> Array:
        """(s, p, 3) float: linear sRGB at the end of states (s, 12, p).

        Parameters
        ----------
        inside : (s, 12, p) float32, inside the binder before what comes later
        """
        columns = np.moveaxis(inside, 1, 0).reshape(self._ground.shape[0], -1)
        for later in self._later:
            film = np.tile(later.film_um.astype(np.float32), len(inside))
            columns = add_coat(np.ascontiguousarray(columns), later.optics, film)
        seen = outside_film(columns, np.full(columns.shape[1], self._surface))
        rgb = BAND_TO_RGB.T.astype(np.float32) @ seen
        return np.asarray(np.clip(rgb.T, 0, 1).reshape(len(inside), self._places, 3))

    def _scores(self, rgb: Array, judged: Mask) -> Array:
        """(s,) float: how far ends (s, p, 3) are from the goal at the places that are judged."""
        goal, at = self._goal, np.flatnonzero(judged)
        weight = goal.weight[at] / goal.weight.sum()
        lab = lab_of(rgb[:, at])
        off = ciede2000(lab, np.broadcast_to(self._lab[at], lab.shape)) @ weight
        if self._asked_chroma > GREY_CHROMA:
            own = oklch_of(rgb[:, at])
            lacks = np.maximum(goal.chroma[at] - own[..., 1] / self._asked_chroma, 0)
            turned = np.abs(hue_turn(own[..., 2], self._hue[at])) - HUE_FREE_DEG
            turned = np.where(own[..., 1] > GREY_CHROMA / 2, np.maximum(turned, 0), 0)
            off = off + (CHROMA_COST * lacks + HUE_COST * turned) @ weight
        wanted = float(self._lab[at, 0].max() - self._lab[at, 0].min())
        span = lab[..., 0].max(axis=1) - lab[..., 0].min(axis=1)
        # from dark to light each place is lighter than the one before, by part of the wanted step
        rise = RISE * np.diff(self._lab[at, 0]) - np.diff(lab[..., 0], axis=1)
        order = np.maximum(rise, 0).sum(axis=1)
        return np.asarray(off + SPAN_COST * np.maximum(wanted - span, 0) + ORDER_COST * order)

    def _refined(self, row: Row) -> Row:
        """Each slot chosen again with the others as they are, until nothing is better."""
        best = row
        for _ in range(SWEEPS):
            before = best.score
            for number in range(len(self._slots)):
                best = min(best, self._again(best, number), key=lambda r: r.score)
            if best.score > before - 1e-6:
                break
        return best

    def _again(self, row: Row, number: int) -> Row:
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
        everywhere = np.ones(self._places, dtype=bool)
        effort = others + np.tile(slot.effort, len(slot.optics))
        score = self._scores(ends, everywhere) + effort
        best, ways = int(np.argmin(score)), len(slot.ways)
        chosen = (
            *row.chosen[:number],
            (best // ways, best % ways),
            *row.chosen[number + 1 :],
        )
        return Row(chosen, ends[best], float(score[best]))

    def _one(self, inside: Floats, slot: int, paint: int, way: int) -> Floats:
        columns = np.ascontiguousarray(np.moveaxis(inside, 1, 0)).reshape(inside.shape[1], -1)
        film = np.tile(self._slots[slot].ways[way].astype(np.float32), len(inside))
        after = add_coat(columns, self._slots[slot].optics[paint], film)
        return np.moveaxis(after.reshape(-1, len(inside), self._places), 0, 1)
