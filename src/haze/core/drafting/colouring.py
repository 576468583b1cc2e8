"""The colour that is asked, as a row of coats: paints, mixes, films and sweeps chosen together.

The asked colour is the middle: it owns the half light and most of the lit side. Shades below it and
lights above it keep as much of its chroma as the shelf can, along the hue's own way. All of it is
judged as it ends, after wash, gloss and finish (docs/models.md C10).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Mask
from haze.core.directions import signed_azimuth
from haze.core.drafting.coats import GROUND, every_side
from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import NothingFitsError
from haze.core.film.difference import lab_of, oklab_of, oklch_of
from haze.core.film.gamut import into_gamut, rgb_of_oklch
from haze.core.film.layering import Goal, Later, Layering, Slot
from haze.core.film.match import nearest_mixes
from haze.core.film.overshoot import Film, aim_before
from haze.core.film.paint import swatch_rgb
from haze.core.light.stations import Station
from haze.core.plan.lights import KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.progress import Progress

PLACES = (0.05, 0.3, 0.5, 0.75, 0.95)  # light values the colours are judged at
MIDDLE = 2
STEPS_L = np.array([-22.0, -9.0, 0.0, 10.0, 18.0])  # L* about the middle
KEEPS = np.array([0.70, 0.90, 1.0, 0.95, 0.85])  # share of the asked chroma wanted there
NEEDS = np.array([0.50, 0.75, 0.85, 0.78, 0.72])  # share below which it lacks
WEIGHTS = np.array([0.8, 0.8, 3.0, 1.1, 1.0])
AWAY_DEG = 115.0
FILM_COST, SIDE_COST = 0.008, 0.012  # of the score for a micrometre, and for one from each side
WAY_DEG = 10.0  # hue of the lightest place, along the hue's own way
DARKEST_L, LIGHTEST_L = 6.0, 96.0
FILMS_UM = (1.1, 2.2, 3.3, 4.5, 6.5, 9.0, 13.0)
THIN_UM = (0.0, 0.6, 1.2, 2.2, 3.3, 5.0, 7.5)
VEILS_UM = (0.6, 1.2, 1.8, 2.5, 3.5, 5.0, 7.0)
HUE_FIRST = (0.35, 1.0, 1.0)  # OKLab: paints of the hue come before paints of the lightness
MOST_SHELF, KEEP, SINGLES, CLEARS, PAIRED, DARK_CLEARS = 48, 6, 5, 14, 5, 6
CHROMA_TRIED = (1.0, 1.3)
EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY = range(8)  # sweeps


@dataclass(frozen=True, slots=True)
class Sweep:
    """Where a coat may be swept from, and what one square-on micrometre from each station leaves.

    `film` (p,) is the film at each place [µm] when every station gives 1 µm square-on.
    """

    stations: tuple[Station, ...]
    film: Array


@dataclass(frozen=True, slots=True)
class Places:
    """The piece as the colours meet it: a place for each of `PLACES`, on the show side.

    Attributes
    ----------
    sweeps : all of them, in the order EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY
    wash : (p,) float [-], share of a wash's full film that stays there
    """

    sweeps: tuple[Sweep, ...]
    wash: Array


@dataclass(frozen=True, slots=True)
class Layer:
    """A chosen coat: its mix, its sweep by number, and the square-on film [µm] of each station."""

    mix: Mix
    sweep: int
    film_um: float


@dataclass(frozen=True, slots=True)
class Coloured:
    """A chosen row of coats, and the colours it ends in, (p, 3) linear sRGB."""

    layers: tuple[Layer, ...]
    rgb: Array
    score: float


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
    """(p, 3) float: linear sRGB wanted at each place for one colour.

    Parameters
    ----------
    asked : (3,) float, linear sRGB of the middle
    """
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


def _goal(asked: Array) -> Goal:
    return Goal(wanted_colours(asked), WEIGHTS, NEEDS, asked)


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
        self._opaque = self._nearest([p for p in stock.paints if p.hides and p.kind != "primer"])
        self._clear = [p for p in stock.paints if p.tints]
        self._palette = palette_of(self._opaque) if self._opaque else None

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
        later = [Film(c.optics, float(c.film_um[place])) for c in self._later if c.film_um[place]]
        found: list[Mix] = []
        for more in CHROMA_TRIED:
            aim = aim_before(self._stronger(place, more), later).rgb
            near = nearest_mixes(aim, self._palette, most_paints=paints, keep=KEEP)
            found += [
                Mix.of(*((self._opaque[i], d) for i, d in zip(c.paints, c.drops, strict=True)))
                for c in near
            ]
        found += [Mix.of((p, 1)) for p in self._opaque[:SINGLES]]
        return list(dict.fromkeys(m.most_first() for m in found))

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

    def whites(self) -> list[Mix]:
        """The lightest paints that hide."""
        light = sorted(self._whites(), key=lambda p: (-p.tone, p.name))
        return [Mix.of((p, 1)) for p in light[:2]]

    def _whites(self) -> list[PaintUsed]:
        return [p for p in self._opaque if p.tone > 75] or self._opaque


@dataclass(frozen=True, slots=True)
class _Open:
    """A slot that is to be chosen: its mixes, and its ways as (sweep, film)."""

    mixes: list[Mix]
    ways: list[tuple[int, float]]
    judged: tuple[int, ...]


def _ways(sweeps: Sequence[int], films: Sequence[float]) -> list[tuple[int, float]]:
    found = [(s, um) for s in sweeps for um in films if um > 0]
    return found + ([(sweeps[0], 0.0)] if 0.0 in films else [])


def _climb(pools: Pools) -> list[_Open]:
    return [
        _Open([*pools.opaque(0), *pools.whites()], _ways((BASE,), (2.2, 3.3, 4.5, 6.5)), ()),
        _Open(
            pools.opaque(MIDDLE, paints=3),
            _ways((BASE, EVERY, WIDE, LIGHT), FILMS_UM),
            (0, 1, 2),
        ),
        _Open(pools.opaque(3), _ways((LIGHT, HIGH), THIN_UM), (0, 1, 2, 3)),
        _Open(pools.opaque(4), _ways((HIGH, TOP), THIN_UM), (0, 1, 2, 3, 4)),
        *_glaze(pools),
        *_shade(pools),
    ]


def _shade(pools: Pools) -> list[_Open]:
    """A deep clear on the side away from the light, where the shelf has one."""
    clears = pools.dark_clears()
    if not clears:
        return []
    return [_Open(clears, _ways((AWAY, BELOW), (0.0, *VEILS_UM)), tuple(range(len(PLACES))))]


def _glaze(pools: Pools) -> list[_Open]:
    """A thin clear over all, where the shelf has one: what chroma the opaque paints lack."""
    clears = pools.clears(needed=False)
    if not clears:
        return []
    return [_Open(clears, _ways((EVERY,), (0.0, *VEILS_UM[:5])), tuple(range(len(PLACES))))]


def _span(pools: Pools) -> list[_Open]:
    return [
        _Open(pools.opaque(MIDDLE, paints=3), _ways((BASE,), (2.2, 3.3, 4.5, 6.5)), (2,)),
        _Open(pools.opaque(3), _ways((LIGHT, HIGH), THIN_UM), (2, 3)),
        _Open(pools.opaque(4), _ways((HIGH, TOP), THIN_UM), (2, 3, 4)),
        _Open(pools.opaque(0), _ways((BELOW,), THIN_UM), (0, 1, 2, 3, 4)),
        *_glaze(pools),
    ]


def _veil(pools: Pools) -> list[_Open]:
    everywhere = tuple(range(len(PLACES)))
    return [
        _Open(pools.whites(), _ways((EVERY, WIDE, LIGHT), (*FILMS_UM, 0.0)), ()),
        _Open(pools.whites(), _ways((LIGHT, HIGH), (2.2, 4.5, 9.0, 0.0)), ()),
        _Open(pools.clears(), _ways((EVERY,), VEILS_UM), everywhere),
        _Open(pools.clears(), _ways((EVERY, BELOW), (0.0, *VEILS_UM[:5])), everywhere),
        _Open(pools.dark_clears(), _ways((BELOW, AWAY), (0.0, *VEILS_UM)), everywhere),
    ]


def _descend(pools: Pools) -> list[_Open]:
    everywhere = tuple(range(len(PLACES)))
    return [
        _Open(pools.whites(), _ways((EVERY, WIDE, LIGHT, HIGH), (*FILMS_UM, 0.0)), ()),
        _Open(pools.whites(), _ways((LIGHT, HIGH), (2.2, 4.5, 9.0, 13.0, 0.0)), ()),
        _Open(pools.clears(), _ways((EVERY,), VEILS_UM), everywhere),
        _Open(pools.clears(), _ways((EVERY, BELOW), (0.0, *VEILS_UM[:5])), everywhere),
        _Open(pools.dark_clears(), _ways((BELOW, AWAY), (0.0, *VEILS_UM)), everywhere),
    ]


ORDERS = {"climb": _climb, "span": _span, "veil": _veil, "descend": _descend}


def coloured(
    asked: Array,
    *,
    order: str,
    stock: Stock,
    places: Places,
    ground: Array,
    later: Sequence[Later],
    surface: float,
    progress: Progress | None = None,
) -> Coloured:
    """The coats that land on an asked colour.

    Parameters
    ----------
    asked : (3,) float, linear sRGB
    order : climb, span, veil or descend
    stock : what is on the shelf
    places : of the piece
    ground : (12, p) float, inside the binder of what lies there before
    later : what comes over the coats
    surface : float, surface term at the end
    progress : told the share done, 0 to 1; None for silence

    Raises
    ------
    NothingFitsError
    """
    goal = _goal(asked)
    open_slots = ORDERS[order](Pools(stock, goal, later))
    films = np.stack([sweep.film for sweep in places.sweeps])
    sides = [len(sweep.stations) for sweep in places.sweeps]
    slots = [
        Slot(
            tuple(mix.optics for mix in one.mixes),
            np.stack([um * films[sweep] for sweep, um in one.ways]),
            _places(one.judged),
            np.array([um * (FILM_COST + SIDE_COST * sides[s]) for s, um in one.ways]),
        )
        for one in open_slots
    ]
    row = Layering(ground, slots, later=later, surface=surface, goal=goal).solve(progress=progress)
    layers = []
    for one, (paint, way) in zip(open_slots, row.chosen, strict=True):
        sweep, um = one.ways[way]
        if um > 0:
            layers.append(Layer(one.mixes[paint], sweep, um))
    return Coloured(tuple(layers), row.rgb, row.score)


def _places(judged: Sequence[int]) -> Mask:
    out = np.zeros(len(PLACES), dtype=bool)
    out[list(judged)] = True
    return out
