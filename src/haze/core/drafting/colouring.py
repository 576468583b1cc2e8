"""The colour that is asked, as a row of coats: paints, mixes, rounds and sweeps chosen together.

All of it is judged as it ends, after wash, gloss and finish (docs/models.md C10).
"""

from __future__ import annotations

from collections.abc import Callable, Container, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.drafting.pools import Pools
from haze.core.drafting.recipes import Pass
from haze.core.drafting.sites import END, EVERY, PANELS, PLACES, Places, Sites
from haze.core.drafting.slots import ORDERS, SHARED, Open, Over, task_of
from haze.core.drafting.stock import Stock
from haze.core.drafting.targets import goal_of
from haze.core.errors import NoRecipeError
from haze.core.film.layering import ChosenRow, Goal, Later, Layering, Slot
from haze.core.film.srgb import to_hex
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import TaskName
from haze.core.progress import Progress, part_of

ROUND_COST, SIDE_COST = 0.008, 0.012  # of the score for a round, and for each of its sides
# where no opaque mix comes nearer than so many ΔE00, the opaque coats are built for a glaze too
WORTH_GLAZING, GLAZE_ROUNDS, GLAZED = 4.0, (6,), ("climb", "span")
ROUGH_SHARE = 0.6  # of the time
WHITE_HEX = "#f2f2ee"  # what a white ground about is


@dataclass(frozen=True, slots=True)
class ChosenLayer:
    """A chosen coat: its task, mix and sweep, and the square-on film [µm] of each station."""

    task: TaskName
    mix: Mix
    sweep: int
    film_um: float


@dataclass(frozen=True, slots=True)
class ColouredRow:
    """A chosen row of coats, and the colours it ends in, (p, 3) linear sRGB.

    `unlit` is what it would end in without the whites under its clears; None where none are laid.
    """

    layers: tuple[ChosenLayer, ...]
    rgb: Array
    score: float
    unlit: Array | None = None


class PassOf(Protocol):
    """What a pass of a paint leaves in a task over "#rrggbb"; whether it is aimed."""

    def __call__(self, paint: PaintUsed, task: TaskName, over: str, *, aimed: bool) -> Pass: ...


class _Search:
    """The slots of an order on one piece.

    Parameters
    ----------
    order : climb, span, veil or descend
    open_slots : its slots
    pass_of : what a pass of a paint leaves
    over : "#rrggbb" for each of what a slot may go over
    aimed : numbers of the sweeps that are aimed
    """

    def __init__(
        self,
        order: str,
        open_slots: list[Open],
        pass_of: PassOf,
        over: dict[Over, str],
        aimed: Container[int],
    ) -> None:
        self._order, self._aimed = order, aimed
        self._over = over
        self._hides: dict[Mix, bool] = {}
        self._pass_of = pass_of
        self._open = [replace(one, mixes=self._sprayable(one)) for one in open_slots]

    def _sprayable(self, one: Open) -> list[Mix]:
        found, refused = [], None
        for mix in one.mixes:
            try:
                for sweep in {sweep for sweep, _ in one.ways}:
                    self.laid(one, mix, sweep)
            except NoRecipeError as error:
                refused = error
            else:
                found.append(mix)
        if not found and refused:
            raise refused
        return found

    def slots(self, places: Places) -> list[Slot]:
        """What the search may choose from, on these points.

        Parameters
        ----------
        places : of the piece
        """
        return [self._slot(one, places) for one in self._open]

    def _slot(self, one: Open, places: Places) -> Slot:
        rounds = np.array([n for _, n in one.ways], dtype=float)
        sides = np.array([max(1, len(places.sweeps[s].stations)) for s, _ in one.ways])
        each = [[self.laid(one, mix, s) for s, _ in one.ways] for mix in one.mixes]
        return Slot(
            tuple(mix.optics for mix in one.mixes),
            np.stack([n * places.sweeps[s].film for s, n in one.ways]),
            _judged(one.judged),
            rounds * (ROUND_COST + SIDE_COST * sides),
            np.array([[p.film_um for p in row] for row in each]),
            np.array([row[0].splat_um for row in each]),
        )

    def laid(self, one: Open, mix: Mix, sweep: int) -> Pass:
        """What a pass of a mix leaves in a sweep of a slot.

        Parameters
        ----------
        one, mix, sweep : which
        """
        task = self._task(mix, sweep)
        return self._pass_of(mix.main, task, self._over[one.over], aimed=sweep in self._aimed)

    def _task(self, mix: Mix, sweep: int) -> TaskName:
        hides = self._hides.get(mix)
        if hides is None:
            hides = self._hides[mix] = mix.hides
        return task_of(mix, hides=hides, sweep=sweep, order=self._order)

    def place_of(self, mix: Mix, rounds: int) -> tuple[int, int, int]:
        """Slot, paint and way of a glaze.

        Parameters
        ----------
        mix, rounds : of the glaze
        """
        slot = next(n for n, one in enumerate(self._open) if one.glaze)
        one = self._open[slot]
        return slot, one.mixes.index(mix), one.ways.index((EVERY, rounds))

    def without_whites(self, row: ChosenRow) -> tuple[tuple[int, int], ...]:
        """A row without the whites under its clears.

        Parameters
        ----------
        row : what was found
        """
        return tuple(
            (paint, next(n for n, (_, rounds) in enumerate(one.ways) if not rounds))
            if one.lit and one.ways[way][1]
            else (paint, way)
            for one, (paint, way) in zip(self._open, row.chosen, strict=True)
        )

    def layers(self, row: ChosenRow) -> tuple[ChosenLayer, ...]:
        """The chosen layers that are laid at all.

        Parameters
        ----------
        row : what was found
        """
        out = []
        for one, (paint, way) in zip(self._open, row.chosen, strict=True):
            (sweep, rounds), mix = one.ways[way], one.mixes[paint]
            if rounds > 0:
                film = rounds * self.laid(one, mix, sweep).film_um
                out.append(ChosenLayer(self._task(mix, sweep), mix, sweep, film))
        return tuple(out)


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What lies under and over the coats that are chosen, at the points of `Places`.

    Attributes
    ----------
    ground : (12, n) float32, inside the binder of what lies there before
    later : what comes over the coats
    """

    ground: Floats
    later: Sequence[Later]


def coloured(
    asked: Array,
    *,
    order: str,
    stock: Stock,
    sites: Sites,
    around: Callable[[Places], Surroundings],
    pass_of: PassOf,
    below: str,
    surface: float,
    progress: Progress | None = None,
) -> ColouredRow:
    """The coats that land on an asked colour.

    Found at a point for each light value, then chosen again at points of the whole show side.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB: the middle, or from shade to light
    order : climb, span, veil or descend
    stock : what is on the shelf
    sites : of the piece
    around : what lies under and over the coats, at some points
    pass_of : what a pass of a paint leaves in a task over something
    below : "#rrggbb" of the ground
    surface : float, surface term at the end
    progress : called with the share done, 0 to 1; None for silence

    Raises
    ------
    NothingFitsError
    """
    over: dict[Over, str] = {"ground": below, "white": WHITE_HEX}
    quest = _Quest(order, goal_of(asked, order), sites, pass_of, over, surface)
    rough, fine = around(sites.rough), around(sites.fine)
    pools = Pools(stock, quest.goal, rough.later)
    tries = _glazes(pools) if order in GLAZED else []
    share = ROUGH_SHARE / (len(tries) + 1)
    found = [quest.looked(pools, None, rough, part_of(progress, 0.0, share))]
    for number, (mix, rounds) in enumerate(tries, start=1):
        own = Pools(stock, quest.goal, [quest.glazed(mix, rounds), *rough.later])
        report = part_of(progress, number * share, (number + 1) * share)
        found.append(quest.looked(own, (mix, rounds), rough, report))
    search, rows = min(found, key=lambda one: one[1][0].score)
    finely = quest.layering(search, sites.fine, fine)
    row = finely.best_of(rows, progress=part_of(progress, ROUGH_SHARE, 1.0))
    without = search.without_whites(row)
    unlit = None if without == row.chosen else finely.ends_of(without)
    return ColouredRow(search.layers(row), row.rgb, row.score, unlit)


@dataclass(frozen=True, slots=True)
class _Quest:
    """A colour that is looked for by an order of colour on the sites of a piece."""

    order: str
    goal: Goal
    sites: Sites
    pass_of: PassOf
    over: dict[Over, str]  # "#rrggbb" of the ground and of white
    surface: float

    def looked(
        self,
        pools: Pools,
        glaze: tuple[Mix, int] | None,
        rough: Surroundings,
        progress: Progress | None,
    ) -> tuple[_Search, list[ChosenRow]]:
        """Rows found roughly with these paints, under a glaze that is foreseen."""
        sweeps = self.sites.rough.sweeps
        slots = (SHARED if END in sweeps else ORDERS)[self.order]
        opened = [o for o in slots(pools) if PANELS in sweeps or o.ways[0][0] != PANELS]
        aimed = {number for number, sweep in sweeps.items() if sweep.aim}
        over: dict[Over, str] = {**self.over, "asked": self.asked_hex}
        search = _Search(self.order, opened, self.pass_of, over, aimed)
        foreseen = search.place_of(*glaze) if glaze else None
        layering = self.layering(search, self.sites.rough, rough)
        return search, layering.rows(foreseen=foreseen, progress=progress)

    def layering(self, search: _Search, places: Places, given: Surroundings) -> Layering:
        """The search over films at some points."""
        return Layering(
            given.ground,
            search.slots(places),
            later=given.later,
            surface=self.surface,
            goal=self.goal,
            place=places.place,
        )

    def glazed(self, mix: Mix, rounds: int) -> Later:
        """A glaze in rounds from every side."""
        each = self.pass_of(mix.main, "veil", self.asked_hex, aimed=False).film_um
        return Later(mix.optics, rounds * each * self.sites.rough.sweeps[EVERY].film)

    @property
    def asked_hex(self) -> str:
        """The colour asked for, "#rrggbb"."""
        return to_hex(self.goal.asked)


def _glazes(pools: Pools) -> list[tuple[Mix, int]]:
    """Clears in rounds that the opaque coats may be built for, where these alone fall short."""
    clears = pools.clears(needed=False)
    if not clears or pools.opaque_off() < WORTH_GLAZING:
        return []
    return [(clears[0], rounds) for rounds in GLAZE_ROUNDS]


def _judged(places: Sequence[int]) -> Mask:
    out = np.zeros(len(PLACES), dtype=bool)
    out[list(places)] = True
    return out
