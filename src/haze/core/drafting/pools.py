"""What the shelf offers toward wanted colours: mixes that hide, clears, whites and primers."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from haze.core.arrays import Array
from haze.core.drafting.sites import MIDDLE
from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import NothingFitsError
from haze.core.film.difference import delta_e, lab_of, lch_of, oklab_of, oklch_of
from haze.core.film.gamut import into_gamut, rgb_of_oklch
from haze.core.film.ladder_ends import CHALK_WARNS, chalk_of
from haze.core.film.layering import Goal, Later
from haze.core.film.match import nearest_mixes
from haze.core.film.overshoot import Film, aim_before
from haze.core.film.paint import swatch_rgb
from haze.core.film.palette import Palette
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.words import SHELF_LACKS

HUE_FIRST = (0.35, 1.0, 1.0)  # OKLab: paints of the hue come before paints of the lightness
LEAST_FADE = 3.0  # L* by which panels are lighter than the middle, and shades darker
MOST_SHELF, KEEP, SINGLES, CLEARS, PAIRED, DARK_CLEARS = 48, 6, 5, 14, 5, 6
CHROMA_TRIED = (1.0, 1.3)
GREY = 0.03  # OKLab chroma that has nothing to lose to white
SHARED_OFF = 6.0  # ΔE00 beyond the nearest a shared rung may lie from the middle


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
            raise NothingFitsError(f"{SHELF_LACKS} opaque paint to build on.", field="paint")
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

    def lights(self, place: int) -> list[Mix]:
        """Of the mixes for a light those that keep the strength of the hue; all when none does.

        Parameters
        ----------
        place : int
        """
        found, middle = self.opaque(place), self._goal.asked
        if float(lch_of(middle)[1]) < GREY:
            return found
        return [m for m in found if chalk_of(m.rgb, middle=middle) <= CHALK_WARNS] or found

    def between(self) -> list[Mix]:
        """The opaque mixes nearest to the middle, for what two ends of a gradient share."""
        off = {m: delta_e(m.rgb, self._goal.asked) for m in self.opaque(MIDDLE, paints=3)}
        most = min(off.values()) + SHARED_OFF
        return [m for m, apart in off.items() if apart <= most]

    def opaque_off(self) -> float:
        """ΔE00 of the nearest opaque mix from the asked colour."""
        return min(delta_e(m.rgb, self._goal.asked) for m in self.opaque(MIDDLE, paints=3))

    def _stronger(self, place: int, more: float) -> Array:
        level, chroma, hue = (float(v) for v in oklch_of(self._goal.rgb[place]))
        stronger = rgb_of_oklch(np.array([level, chroma * more, hue]))
        return np.asarray(np.clip(into_gamut(stronger[:, None])[:, 0], 0, 1))

    def clears(self, place: int = MIDDLE, *, needed: bool = True) -> list[Mix]:
        """Transparent paints near the hue wanted at a place, and pairs of the nearest.

        Parameters
        ----------
        place : int
        needed : whether it is refused when the shelf has none
        """
        asked = oklch_of(self._goal.rgb[place])
        if not self._clear and not needed:
            return []
        if not self._clear:
            raise NothingFitsError(
                f"{SHELF_LACKS} transparent paint; add one first.", field="paint"
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
            raise NothingFitsError(f"{SHELF_LACKS} primer; add one first.", field="paint")
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
