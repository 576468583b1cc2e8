"""Ladders as JSON: from given paints or the painter's own shelf, and put on the piece."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.day.amounts import CUP_REST_ML
from haze.core.drafting.coats import rung_coat
from haze.core.errors import CancelledError, NothingFitsError, UnknownNameError
from haze.core.film.carry import rest_after, with_rest
from haze.core.film.difference import oklab_of
from haze.core.film.finish import inside_film
from haze.core.film.ladder import EVEN, Ladder, Rung, find_ladder
from haze.core.film.ladder_ends import (
    CHALK_WARNS,
    anchors_from_one,
    lighter_than_white,
    paints_allowed,
)
from haze.core.film.ladder_words import (
    covers_of,
    from_the_middle,
    left_over_words,
    rung_notes,
    uneven_words,
)
from haze.core.film.looks import shown
from haze.core.film.match import MOST_DROPS
from haze.core.film.overshoot import Film, after_films, aim_before
from haze.core.film.paint import swatch_rgb
from haze.core.film.palette import Palette
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import linear_of_hex
from haze.core.light.angles import find_share
from haze.core.plan.coat import Coat, Drops
from haze.core.plan.document import MOST_COATS, Plan
from haze.core.plan.edits import ground_under, inserted
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.service.colour.mixes import (
    CLOSE,
    MOST_LATER,
    MOST_SHELF,
    given_palette,
    shelf_palette,
)
from haze.service.forms.wire import FilmLater, Hex, MixPaint, PouredDrops, Strict
from haze.service.light.angles import found_station
from haze.service.piece.onpiece import OnPiece
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report

Order = Literal["climb", "descend", "veil", "span", "hue_ground"]
LEAST_COVER = 0.03
CLEARER_BY = 0.1  # chalk another paint must save to be worth a word


class LadderWish(Strict):
    """One to three colours, dark to light; `rungs` null for as many as smooth steps need."""

    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    rungs: int | None = Field(default=None, ge=2, le=12)
    order: Order = "climb"
    cup: Literal["rinse", "carry"] = "rinse"
    over: Hex = "#17181a"
    dry_film_um: float = Field(default=6.0, ge=0.01, le=200)
    max_drops: int = Field(default=8, ge=2, le=MOST_DROPS)
    use: list[Annotated[str, Field(max_length=120)]] = Field(default_factory=list, max_length=5)
    then: list[FilmLater] = Field(default_factory=list, max_length=MOST_LATER)


class LadderIn(LadderWish):
    paints: Annotated[list[MixPaint], Field(min_length=1, max_length=MOST_SHELF)]


class ShelfLadder(LadderWish):
    """A ladder from the shelf; `use` names paints by id."""


class RungOut(BaseModel):
    """One rung in spraying order; `cover` is the share of the light side it should still reach."""

    drops: dict[str, int]
    cup: list[PouredDrops]
    add: dict[str, int]
    colour: str
    after_all: str
    lightness: float
    step: float
    chalk: float
    hue_turn_deg: float
    cover: float
    notes: list[str]


class LadderOut(BaseModel):
    rungs: list[RungOut]
    evenness: float
    even: bool
    paints: list[str]
    notes: list[str]
    instead: str | None


def ladder(given: LadderIn) -> LadderOut:
    """Rungs in whole drops of given paints."""
    return _Builder(given, *given_palette(given.paints)).out()


def ladder_from(wish: ShelfLadder, shelf: Shelf, report: Report) -> LadderOut:
    """A ladder of owned paints; drops by paint id."""
    if not report(0.1, "Trying rungs"):
        raise CancelledError("Stopped; nothing was changed.")
    return _Builder(wish, *shelf_palette(shelf)).out()


class _Builder:
    """A ladder of one wish and one palette."""

    def __init__(self, wish: LadderWish, palette: Palette, names: list[str]) -> None:
        self.wish, self.palette, self.names = wish, palette, names
        wanted = [linear_of_hex(c, field="colours") for c in wish.colours]
        anchors = anchors_from_one(wanted[0]) if len(wanted) == 1 else wanted
        anchors = sorted(anchors, key=lambda rgb: float(oklab_of(rgb)[0]))
        self.later: list[Film] = [f.film for f in wish.then]
        aims = [aim_before(rgb, self.later) for rgb in anchors]
        self.left_over = [a.left_over for a in aims if a.left_over > CLOSE][:1]
        self.anchors = [a.rgb for a in (aims[::-1] if wish.order == "descend" else aims)]

    def out(self) -> LadderOut:
        """Rungs from one colour to another, in the order they are sprayed."""
        found = self._find(self.anchors)
        instead = None
        if not self.wish.use and self.wish.order != "descend":
            instead = self._without_chalk(found)
        rungs = self._rungs(found)
        if self.wish.order == "span":
            rungs = from_the_middle(rungs)
        even = found.evenness <= EVEN
        notes = [left_over_words(left) for left in self.left_over]
        return LadderOut(
            rungs=rungs,
            evenness=round(found.evenness, 3),
            even=even,
            paints=list(dict.fromkeys(n for r in rungs for n in r.drops)),
            notes=notes if even else [*notes, uneven_words(found)],
            instead=instead,
        )

    def _allowed(self, anchors: list[Array]) -> list[int]:
        """The paints to build from: those that were named, or those whose mixes come nearest."""
        use, names = self.wish.use, self.names
        unknown = [n for n in use if n not in names]
        if unknown:
            raise UnknownNameError(
                f"use names {unknown[0]!r}, which is not among paints.", field="use"
            )
        if use:
            return [names.index(n) for n in use]
        return paints_allowed(anchors, self.palette, descending=self.wish.order == "descend")

    def _find(self, anchors: list[Array]) -> Ladder:
        # a hue ground is the dark of the final hue itself
        ground = shown(anchors[0]) if self.wish.order == "hue_ground" else self.wish.over
        return find_ladder(
            anchors,
            self.palette,
            rungs=self.wish.rungs,
            ground=inside_film(spectrum_of_hex(ground), "matt"),
            film_um=self.wish.dry_film_um,
            paints=self._allowed(anchors),
            most_drops=self.wish.max_drops,
        )

    def _without_chalk(self, found: Ladder) -> str | None:
        """A paint that keeps the highlight's colour, when white makes it chalky."""
        worst = max(r.chalk for r in found.rungs)
        if worst <= CHALK_WARNS:
            return None
        middle = self.anchors[len(self.anchors) // 2]
        used = {i for r in found.rungs for i in r.drops}
        best: tuple[float, int] | None = None
        for i in lighter_than_white(self.palette, middle, used=used):
            tried = self._find([*self.anchors[:-1], swatch_rgb(self.palette.optics[i])])
            chalk = max(r.chalk for r in tried.rungs)
            if chalk < worst - CLEARER_BY and (best is None or chalk < best[0]):
                best = (chalk, i)
        if best is None:
            return "No lighter, stronger paint of this hue is on the list; white will look chalky."
        return (
            f"Lighten with {self.names[best[1]]} instead of white: "
            f"{best[0]:.0%} of the colour is lost at the top, not {worst:.0%}."
        )

    def _rungs(self, found: Ladder) -> list[RungOut]:
        out: list[RungOut] = []
        used = sorted({i for r in found.rungs for i in r.drops})
        rest: dict[int, float] = {}
        rest_volume = CUP_REST_ML * 1000
        for n, rung in enumerate(found.rungs):
            add = rung.drops
            if self.wish.cup == "carry" and rest:
                add, _ = with_rest(
                    self.palette,
                    rung.drops,
                    rest,
                    rest_volume=rest_volume,
                    paints=used,
                    most_drops=self.wish.max_drops,
                )
            rest = rest_after(self.palette, rest, add, rest_volume=rest_volume)
            out.append(self._rung(found, n, rung, add))
        return out

    def _rung(self, found: Ladder, n: int, rung: Rung, add: dict[int, int]) -> RungOut:
        after = after_films(rung.inside, self.later) if self.later else rung.rgb
        drops = self._named(rung.drops)
        return RungOut(
            drops=drops,
            cup=[PouredDrops(what=name, drops=d) for name, d in drops.items()],
            add=self._named(add),
            colour=shown(rung.rgb),
            after_all=shown(after),
            lightness=round(rung.lightness, 2),
            step=round(rung.step, 4),
            chalk=round(rung.chalk, 3),
            hue_turn_deg=round(rung.hue_turn_deg, 1),
            cover=covers_of(len(found.rungs))[n],
            notes=rung_notes(found, n),
        )

    def _named(self, drops: dict[int, int]) -> dict[str, int]:
        """Drops by name, most first."""
        order = sorted(drops.items(), key=lambda p: (-p[1], p[0]))
        return {self.names[i]: d for i, d in order}


class RungWish(Strict):
    """A rung to put on the piece: its drops by paint id, and the share it should still cover."""

    drops: dict[str, Drops] = Field(min_length=1, max_length=4)
    cover: float = Field(ge=0.01, le=1)
    note: str = Field(default="", max_length=400)


class RungsBody(Strict):
    """Rungs to put on the piece after so many steps of the plan."""

    plan: Plan
    after: int = Field(ge=0, le=MOST_COATS)
    rungs: Annotated[list[RungWish], Field(min_length=1, max_length=12)]


class RungsOut(BaseModel):
    coats: list[Coat]
    covers: list[float]


def put_on(body: RungsBody, on: OnPiece, shelf: Shelf, report: Report) -> RungsOut:
    """Coats for the rungs of a ladder, each from stations that reach its share of the surface.

    They come after so many steps of the plan, each over what lies below it there.
    """
    plan, place = body.plan, min(body.after, len(body.plan.coats))
    paints = {m.paint.id: m.paint for c in plan.sprayed for m in c.also}
    paints |= {p.id: p for p in shelf.paints}
    atoms = on.atoms(plan)
    value = on.lit.value(plan)[on.sampled]
    coats: list[Coat] = []
    covers: list[float] = []
    for n, rung in enumerate(body.rungs):
        if not report(n / len(body.rungs), f"Finding stations for rung {n + 1}"):
            raise CancelledError("Stopped; nothing was changed.")
        mix = Mix.of(*((_owned(i, paints), d) for i, d in rung.drops.items()))
        coat = rung_coat(plan, mix, shelf.stock, over=ground_under(plan, place + n), note=rung.note)
        found, share = find_share(atoms, wanted=max(rung.cover, LEAST_COVER), toward=value)
        passes = max(1, coat.most_passes)
        coat.stations = [found_station(coat, i, s, passes) for i, s in enumerate(found, start=1)]
        coats.append(coat)
        covers.append(share)
        plan = inserted(plan, place + n, coat)
    return RungsOut(coats=coats, covers=covers)


def _owned(identity: str, paints: dict[str, PaintUsed]) -> PaintUsed:
    if identity not in paints:
        raise NothingFitsError("A paint of this rung is no longer on the shelf.", field="drops")
    return paints[identity]
