"""The colour that is asked, as a row of coats: paints, mixes, films and sweeps chosen together.

The asked colour is the middle: it owns the half light and most of the lit side. Shades below it and
lights above it keep as much of its chroma as the shelf can, along the hue's own way. All of it is
judged as it ends, after wash, gloss and finish (docs/models.md C10).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, Protocol

import numpy as np

from haze.core.arrays import Array, Floats, Longs, Mask
from haze.core.directions import signed_azimuth
from haze.core.drafting.coats import GROUND, Pass, every_side
from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import NoRecipeError, NothingFitsError
from haze.core.film.difference import delta_e, lab_of, oklab_of, oklch_of
from haze.core.film.gamut import into_gamut, rgb_of_oklch
from haze.core.film.layering import Goal, Later, Layering, Row, Slot
from haze.core.film.match import nearest_mixes
from haze.core.film.overshoot import Film, aim_before
from haze.core.film.paint import swatch_rgb
from haze.core.film.palette import Palette
from haze.core.film.srgb import to_hex
from haze.core.light.stations import Station
from haze.core.plan.lights import KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import TaskName
from haze.core.progress import Progress, part_of

PLACES = (0.05, 0.3, 0.5, 0.75, 0.95)  # light values the colours are judged at
MIDDLE = 2
STEPS_L = np.array([-22.0, -9.0, 0.0, 7.0, 12.0])  # L* about the middle
KEEPS = np.array([0.70, 0.90, 1.0, 0.97, 0.92])  # share of the asked chroma wanted there
NEEDS = np.array([0.50, 0.75, 0.90, 0.85, 0.80])  # share below which it lacks
WEIGHTS = np.array([0.5, 0.6, 4.0, 1.0, 1.2])
LIFTS = {"climb": 6.0, "span": 6.0, "veil": 7.0, "descend": 9.5}  # L* of lights above the middle
EVEN_WEIGHTS, GRADIENT_NEED = np.array([2.0, 1.0, 2.2, 1.0, 2.0]), 0.8  # of colours given for each
AWAY_DEG = 115.0
ROUND_COST, SIDE_COST = 0.008, 0.012  # of the score for a round, and for each of its sides
WAY_DEG = 10.0  # hue of the lightest place, along the hue's own way
DARKEST_L, LIGHTEST_L = 6.0, 96.0
# where no opaque mix comes nearer than so many ΔE00, the opaque coats are built for a glaze too
WORTH_GLAZING, GLAZE_ROUNDS, GLAZED = 4.0, (6,), ("climb", "span")
ROUGH_SHARE = 0.6  # of the time
WHITE_HEX = "#f2f2ee"  # what a white ground about is
ROUNDS = (1, 2, 3, 4, 6, 8, 12)
OR_NONE = (0, *ROUNDS)
HUE_FIRST = (0.35, 1.0, 1.0)  # OKLab: paints of the hue come before paints of the lightness
LEAST_FADE = 3.0  # L* by which panels are lighter than the middle, and shades darker
MOST_SHELF, KEEP, SINGLES, CLEARS, PAIRED, DARK_CLEARS = 48, 6, 5, 14, 5, 6
CHROMA_TRIED = (1.0, 1.3)
EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY, PANELS = range(9)  # sweeps; panels are aimed at


@dataclass(frozen=True, slots=True)
class Sweep:
    """Where a coat may be swept from, and what a round from all its stations leaves, mist and all.

    `film` (n,) is the film at each point, 1 for a pass square-on.
    """

    stations: tuple[Station, ...]
    film: Array


@dataclass(frozen=True, slots=True)
class Places:
    """The show side of the piece as the colours meet it.

    Attributes
    ----------
    sweeps : in the order EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY; PANELS where panels are
        to fade, which has no stations
    wash, brushed : (n,) float [-], share of a wash's and of a dry brush's full film at each point
    place : (n,) int, number of the place among `PLACES` each point belongs to; None when each point
        stands for one
    """

    sweeps: tuple[Sweep, ...]
    wash: Array
    brushed: Array
    place: Longs | None = None


@dataclass(frozen=True, slots=True)
class Sites:
    """The piece twice: roughly, a point for each light value, and finely, points of each range."""

    rough: Places
    fine: Places


@dataclass(frozen=True, slots=True)
class Layer:
    """A chosen coat: its task, mix and sweep, and the square-on film [µm] of each station."""

    task: TaskName
    mix: Mix
    sweep: int
    film_um: float


@dataclass(frozen=True, slots=True)
class Coloured:
    """A chosen row of coats, and the colours it ends in, (p, 3) linear sRGB.

    `unlit` is what it would end in without the whites under its clears; None where none are laid.
    """

    layers: tuple[Layer, ...]
    rgb: Array
    score: float
    unlit: Array | None = None


def sweeps_for(light: KeyLight) -> tuple[tuple[Station, ...], ...]:
    """Stations of each sweep: EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY.

    Parameters
    ----------
    light : the plan's key light
    """

    def lit(rise: float, spread: float) -> tuple[Station, ...]:
        return (
            Station(light.azimuth_deg, min(88.0, light.elevation_deg + rise), max(5.0, spread)),
        )

    soft = light.softness_deg
    # the shade of the show side lies a good quarter turn from the light, toward the front
    side = -AWAY_DEG if signed_azimuth(light.azimuth_deg) >= 0 else AWAY_DEG
    return (
        tuple(every_side(25.0, 28.0)),
        GROUND,
        lit(0.0, max(35.0, soft)),
        lit(0.0, soft),
        lit(12.0, 0.8 * soft),
        lit(25.0, 0.55 * soft),
        tuple(every_side(-20.0, 20.0, first_deg=60.0)),
        (Station((light.azimuth_deg + side) % 360.0, -10.0, 20.0),),
    )


def wanted_colours(asked: Array) -> Array:
    """(p, 3) float: linear sRGB wanted at each place.

    One colour is the middle, with shades and lights of its own. Two are those of the shade and of
    the light, three those of shade, middle and light, even in OKLab between them.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB, one to three
    """
    if len(asked) > 1:
        return _between(asked)
    return _about(asked[0])


def wanted_at(asked: Array, value: Floats) -> Floats:
    """(n, 3) float32: linear sRGB wanted where the light has a value, even in OKLab between places.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB, as `wanted_colours` takes it
    value : (n,) float [0..1], of the light
    """
    lab = oklab_of(wanted_colours(asked))
    mixed = np.stack([np.interp(value, PLACES, axis) for axis in lab.T], axis=1)
    return _rgb_of_oklab(mixed).astype(np.float32)


def _between(asked: Array) -> Array:
    ends = np.linspace(PLACES[0], PLACES[-1], len(asked))
    mixed = np.stack([np.interp(PLACES, ends, axis) for axis in oklab_of(asked).T], axis=1)
    out = _rgb_of_oklab(mixed)
    out[0], out[-1] = asked[0], asked[-1]
    if len(asked) > 2:
        out[MIDDLE] = asked[1]
    return np.asarray(out)


def _rgb_of_oklab(lab: Array) -> Array:
    """(n, 3) float: linear sRGB in gamut."""
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360.0
    lch = np.stack([lab[:, 0], np.hypot(lab[:, 1], lab[:, 2]), hue], axis=1)
    return np.asarray(np.clip(into_gamut(rgb_of_oklch(lch).T), 0, 1).T)


def _about(asked: Array) -> Array:
    _, chroma, hue = (float(v) for v in oklch_of(asked))
    tone = float(lab_of(asked)[0])
    sign = 1.0 if hue < 105.0 or hue >= 285.0 else -1.0
    out: list[Array] = []
    for step, keeps in zip(STEPS_L, KEEPS, strict=True):
        level = float(np.clip(tone + step, min(DARKEST_L, tone), max(LIGHTEST_L, tone)))
        turned = hue + sign * WAY_DEG * step / float(STEPS_L[-1]) * (1.0 if step > 0 else 0.5)
        out.append(_at_tone(level, keeps * chroma, turned))
    out[MIDDLE] = np.asarray(asked)
    return np.stack(out)


def _at_tone(tone: float, chroma: float, hue: float) -> Array:
    """The colour of a CIE L*, an OKLCh chroma and hue, in gamut."""
    low, high = 0.0, 1.0
    rgb = np.zeros(3)
    for _ in range(24):
        level = 0.5 * (low + high)
        rgb = into_gamut(rgb_of_oklch(np.array([level, chroma, hue]))[:, None])[:, 0]
        if float(lab_of(rgb)[0]) < tone:
            low = level
        else:
            high = level
    return np.clip(rgb, 0.0, 1.0)


def _goal(asked: Array, order: str) -> Goal:
    wanted = wanted_colours(asked)
    chroma = oklch_of(wanted)[:, 1]
    if len(asked) > 1:
        return Goal(wanted, EVEN_WEIGHTS, GRADIENT_NEED * chroma, wanted[MIDDLE])
    tones = lab_of(wanted)[:, 0]
    lift = min(LIFTS[order], float(tones[-1] - tones[MIDDLE]))
    return Goal(wanted, WEIGHTS, NEEDS * chroma[MIDDLE], wanted[MIDDLE], lift)


class Pools:
    """What the shelf offers toward the wanted colours: mixes that hide, and clears.

    Parameters
    ----------
    stock : what is on the shelf
    goal : what is wanted
    later : what comes over everything
    """

    def __init__(self, stock: Stock, goal: Goal, later: Sequence[Later]) -> None:
        self._goal = goal
        self._later = later
        self._primers = sorted(
            (p for p in stock.paints if p.kind == "primer"), key=lambda p: (-p.tone, p.name)
        )
        # a fluorescent shines by itself: it is no paint to build a colour of
        plain = [p for p in stock.paints if not p.fluorescent]
        self._opaque = self._nearest([p for p in plain if p.hides and p.kind != "primer"])
        self._clear = [p for p in plain if p.tints]
        self._palette = palette_of(self._opaque) if self._opaque else None
        self._found: dict[tuple[int, int], list[Mix]] = {}

    def _nearest(self, paints: list[PaintUsed]) -> list[PaintUsed]:
        wanted = oklab_of(self._goal.rgb)

        def off(paint: PaintUsed) -> float:
            apart = (oklab_of(paint.rgb) - wanted) * HUE_FIRST
            return float(np.linalg.norm(apart, axis=1).min())

        return sorted(paints, key=lambda p: (off(p), p.name))[:MOST_SHELF]

    def opaque(self, place: int, *, paints: int = 2) -> list[Mix]:
        """Mixes nearest to what must lie at a place before what comes later, and single paints.

        Parameters
        ----------
        place : int
        paints : int, most in a mix
        """
        if self._palette is None:
            raise NothingFitsError("The shelf has no opaque paint to build on.", field="paint")
        if (place, paints) not in self._found:
            self._found[place, paints] = self._searched(place, paints, self._palette)
        return self._found[place, paints]

    def _searched(self, place: int, paints: int, palette: Palette) -> list[Mix]:
        later = [Film(c.optics, float(c.film_um[place])) for c in self._later if c.film_um[place]]
        found: list[Mix] = []
        for more in CHROMA_TRIED:
            aim = aim_before(self._stronger(place, more), later).rgb
            near = nearest_mixes(aim, palette, most_paints=paints, keep=KEEP)
            found += [
                Mix.of(*((self._opaque[i], d) for i, d in zip(c.paints, c.drops, strict=True)))
                for c in near
            ]
        found += [Mix.of((p, 1)) for p in self._opaque[:SINGLES]]
        return list(dict.fromkeys(m.most_first() for m in found))

    def opaque_off(self) -> float:
        """ΔE00 of the nearest opaque mix from the asked colour."""
        return min(delta_e(m.rgb, self._goal.asked) for m in self.opaque(MIDDLE, paints=3))

    def _stronger(self, place: int, more: float) -> Array:
        level, chroma, hue = (float(v) for v in oklch_of(self._goal.rgb[place]))
        stronger = rgb_of_oklch(np.array([level, chroma * more, hue]))
        return np.asarray(np.clip(into_gamut(stronger[:, None])[:, 0], 0, 1))

    def clears(self, *, needed: bool = True) -> list[Mix]:
        """Transparent paints near the asked hue, and pairs of the nearest.

        Parameters
        ----------
        needed : whether it is refused when the shelf has none
        """
        asked = oklch_of(self._goal.asked)
        if not self._clear and not needed:
            return []
        if not self._clear:
            raise NothingFitsError(
                "The shelf has no transparent paint; add one first.", field="paint"
            )

        def off(paint: PaintUsed) -> float:
            own = oklch_of(np.clip(swatch_rgb(paint.optics), 0, 1))
            turn = abs((own[2] - asked[2] + 180) % 360 - 180) / 180
            return float(turn + 0.3 * abs(own[0] - asked[0]))

        ordered = sorted(self._clear, key=lambda p: (off(p), p.name))
        singles = [Mix.of((p, 1)) for p in ordered[:CLEARS]]
        pairs = [
            Mix.of((one, a), (two, b))
            for n, one in enumerate(ordered[:PAIRED])
            for two in ordered[n + 1 : PAIRED]
            for a, b in ((2, 1), (1, 1), (1, 2))
        ]
        return singles + pairs

    def dark_clears(self) -> list[Mix]:
        """Transparent paints for the shade: those of the hue and of all hues that are darkest."""
        tones = {p.id: float(oklch_of(np.clip(swatch_rgb(p.optics), 0, 1))[0]) for p in self._clear}
        dark = sorted(self._clear, key=lambda p: (tones[p.id], p.name))[:DARK_CLEARS]
        return list(dict.fromkeys([*self.clears(needed=False), *(Mix.of((p, 1)) for p in dark)]))

    def primers(self) -> list[Mix]:
        """The primers, the palest first."""
        if not self._primers:
            raise NothingFitsError("The shelf has no primer; add one first.", field="paint")
        return [Mix.of((p, 1)) for p in self._primers]

    def shades(self) -> list[Mix]:
        """What may darken the side away from the light: deep clears, and mixes that hide."""
        most = float(lab_of(self._goal.asked)[0]) - LEAST_FADE
        dark = [m for m in self.opaque(0) if m.tone <= most] if self._opaque else []
        return [*self.dark_clears(), *dark]

    def lighter(self) -> list[Mix]:
        """Opaque mixes lighter than the middle; the lightest there is when none is."""
        least = float(lab_of(self._goal.asked)[0]) + LEAST_FADE
        found = [*self.opaque(3), *self.opaque(4)]
        return [m for m in found if m.tone >= least] or [max(found, key=lambda m: m.tone)]

    def whites(self) -> list[Mix]:
        """The lightest paints that hide."""
        light = sorted(self._whites(), key=lambda p: (-p.tone, p.name))
        return [Mix.of((p, 1)) for p in light[:2]]

    def _whites(self) -> list[PaintUsed]:
        return [p for p in self._opaque if p.tone > 75] or self._opaque


Over = Literal["ground", "white", "asked"]


@dataclass(frozen=True, slots=True)
class _Open:
    """A slot that is to be chosen: its mixes, its ways as (sweep, rounds), what it goes over."""

    mixes: list[Mix]
    ways: list[tuple[int, int]]
    judged: tuple[int, ...]
    over: Over = "asked"
    glaze: bool = False
    lit: bool = False  # a white under clears


EVERYWHERE = tuple(range(len(PLACES)))


def _ways(sweeps: Sequence[int], rounds: Sequence[int]) -> list[tuple[int, int]]:
    found = [(s, n) for s in sweeps for n in rounds if n > 0]
    return found + ([(sweeps[0], 0)] if 0 in rounds else [])


def _climb(pools: Pools) -> list[_Open]:
    return [
        _Open([*pools.opaque(0), *pools.whites()], _ways((BASE,), (2, 3, 4, 6)), (), "ground"),
        _Open(
            pools.opaque(MIDDLE, paints=3),
            _ways((BASE, EVERY, WIDE, LIGHT), ROUNDS),
            (0, 1, 2),
        ),
        _Open(pools.opaque(3), _ways((LIGHT, HIGH), OR_NONE), (0, 1, 2, 3)),
        _Open(pools.opaque(4), _ways((HIGH, TOP), OR_NONE), EVERYWHERE),
        *_fade(pools),
        *_glaze(pools),
        *_shade(pools),
    ]


def _fade(pools: Pools) -> list[_Open]:
    """Something lighter in the middle of panels."""
    return [_Open(pools.lighter(), _ways((PANELS,), (1, 2, 3)), EVERYWHERE)]


def _shade(pools: Pools) -> list[_Open]:
    """A deep clear on the side away from the light, where the shelf has one."""
    clears = pools.dark_clears()
    return [_Open(clears, _ways((AWAY, BELOW), OR_NONE), EVERYWHERE)] if clears else []


def _glaze(pools: Pools) -> list[_Open]:
    """A thin clear over all, where the shelf has one: what chroma the opaque paints lack."""
    clears = pools.clears(needed=False)
    return [_Open(clears, _ways((EVERY,), OR_NONE), EVERYWHERE, glaze=True)] if clears else []


def _span(pools: Pools) -> list[_Open]:
    return [
        _Open(pools.opaque(MIDDLE, paints=3), _ways((BASE,), (2, 3, 4, 6)), (2,), "ground"),
        _Open(pools.opaque(3), _ways((LIGHT, HIGH), OR_NONE), (2, 3)),
        _Open(pools.opaque(4), _ways((HIGH, TOP), OR_NONE), (2, 3, 4)),
        _Open(pools.opaque(0), _ways((BELOW,), OR_NONE), EVERYWHERE),
        *_fade(pools),
        *_glaze(pools),
    ]


def _veils(pools: Pools) -> list[_Open]:
    """Clears over the lit grounds, then the shade."""
    return [
        _Open(pools.clears(), _ways((EVERY, BASE), ROUNDS), EVERYWHERE, "white"),
        _Open(pools.clears(), _ways((EVERY, BELOW), OR_NONE), EVERYWHERE, "white"),
        _Open(pools.shades(), _ways((BELOW, AWAY), OR_NONE), EVERYWHERE, "white"),
    ]


def _veil(pools: Pools) -> list[_Open]:
    return [
        _Open(pools.whites(), _ways((EVERY, WIDE, LIGHT), OR_NONE), (), "ground", lit=True),
        _Open(pools.whites(), _ways((LIGHT, HIGH), (0, 2, 4, 8)), (), "white", lit=True),
        *_veils(pools),
    ]


def _descend(pools: Pools) -> list[_Open]:
    return [
        _Open(pools.primers(), _ways((BASE,), (3,)), (), "ground"),
        _Open(pools.whites(), _ways((EVERY, WIDE, LIGHT, HIGH), OR_NONE), (), "ground", lit=True),
        _Open(pools.whites(), _ways((LIGHT, HIGH), (0, 2, 4, 8, 12)), (), "white", lit=True),
        *_veils(pools),
    ]


ORDERS = {"climb": _climb, "span": _span, "veil": _veil, "descend": _descend}


def _task_of(mix: Mix, *, hides: bool, sweep: int, order: str) -> TaskName:
    """What a layer is: what hides is a base, a light ground or a rung, the rest are clears."""
    if mix.main.kind == "primer":
        return "prime"
    if not hides:
        return "tint" if sweep in (AWAY, BELOW) else "veil"
    if order in ("veil", "descend") and sweep not in (AWAY, BELOW):
        return "cover" if sweep == EVERY else "light"
    return "cover" if sweep in (BASE, EVERY) else "rung"


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
    """

    def __init__(
        self, order: str, open_slots: list[_Open], pass_of: PassOf, over: dict[Over, str]
    ) -> None:
        self._order = order
        self._over = over
        self._hides: dict[Mix, bool] = {}
        self._pass_of = pass_of
        self._open = [replace(one, mixes=self._sprayable(one)) for one in open_slots]

    def _sprayable(self, one: _Open) -> list[Mix]:
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

    def _slot(self, one: _Open, places: Places) -> Slot:
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

    def laid(self, one: _Open, mix: Mix, sweep: int) -> Pass:
        """What a pass of a mix leaves in a sweep of a slot.

        Parameters
        ----------
        one, mix, sweep : which
        """
        task = self._task(mix, sweep)
        return self._pass_of(mix.main, task, self._over[one.over], aimed=sweep == PANELS)

    def _task(self, mix: Mix, sweep: int) -> TaskName:
        hides = self._hides.get(mix)
        if hides is None:
            hides = self._hides[mix] = mix.hides
        return _task_of(mix, hides=hides, sweep=sweep, order=self._order)

    def place_of(self, mix: Mix, rounds: int) -> tuple[int, int, int]:
        """Slot, paint and way of a glaze.

        Parameters
        ----------
        mix, rounds : of the glaze
        """
        slot = next(n for n, one in enumerate(self._open) if one.glaze)
        one = self._open[slot]
        return slot, one.mixes.index(mix), one.ways.index((EVERY, rounds))

    def without_whites(self, row: Row) -> tuple[tuple[int, int], ...]:
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

    def layers(self, row: Row) -> tuple[Layer, ...]:
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
                out.append(Layer(self._task(mix, sweep), mix, sweep, film))
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
) -> Coloured:
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
    progress : told the share done, 0 to 1; None for silence

    Raises
    ------
    NothingFitsError
    """
    goal = _goal(asked, order)
    over: dict[Over, str] = {"ground": below, "white": WHITE_HEX, "asked": to_hex(goal.asked)}
    rough, fine = around(sites.rough), around(sites.fine)
    fades = len(sites.rough.sweeps) > PANELS

    def looked(
        pools: Pools, glaze: tuple[Mix, int] | None, told: Progress | None
    ) -> tuple[_Search, list[Row]]:
        opened = [o for o in ORDERS[order](pools) if fades or o.ways[0][0] != PANELS]
        search = _Search(order, opened, pass_of, over)
        foreseen = search.place_of(*glaze) if glaze else None
        layering = layering_of(search, sites.rough, rough)
        return search, layering.rows(foreseen=foreseen, progress=told)

    def layering_of(search: _Search, places: Places, given: Surroundings) -> Layering:
        return Layering(
            given.ground,
            search.slots(places),
            later=given.later,
            surface=surface,
            goal=goal,
            place=places.place,
        )

    pools = Pools(stock, goal, rough.later)
    tries = _glazes(pools) if order in GLAZED else []
    share = ROUGH_SHARE / (len(tries) + 1)
    found = [looked(pools, None, part_of(progress, 0.0, share))]
    for number, (mix, rounds) in enumerate(tries, start=1):
        each = pass_of(mix.main, "veil", over["asked"], aimed=False).film_um
        film = Later(mix.optics, rounds * each * sites.rough.sweeps[EVERY].film)
        own = Pools(stock, goal, [film, *rough.later])
        told = part_of(progress, number * share, (number + 1) * share)
        found.append(looked(own, (mix, rounds), told))
    search, rows = min(found, key=lambda one: one[1][0].score)
    finely = layering_of(search, sites.fine, fine)
    row = finely.best_of(rows, progress=part_of(progress, ROUGH_SHARE, 1.0))
    without = search.without_whites(row)
    unlit = None if without == row.chosen else finely.ends_of(without)
    return Coloured(search.layers(row), row.rgb, row.score, unlit)


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
