"""Mixing backwards as JSON: from given paints, or from the painter's own shelf."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.drafting.stock import palette_of
from haze.core.errors import NothingFitsError, TwinError
from haze.core.film.difference import delta_e
from haze.core.film.finish import inside_film
from haze.core.film.looks import shown
from haze.core.film.match import MOST_DROPS, MOST_PAINTS, nearest_mixes
from haze.core.film.overshoot import aim_before
from haze.core.film.paint import PaintOptics, masstone_rgb
from haze.core.film.palette import Candidate, Over, Palette
from haze.core.film.skin import one_film
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import linear_of_hex
from haze.core.film.words import difference_words, missing_words
from haze.core.progress import Progress
from haze.service.forms.wire import FilmLater, Hex, Identity, MixPaint, PouredDrops, Strict
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report, share_of

SHOWN_MIXES = 8
LOOKED_AT = 8
CLOSE = 2.0  # ΔE00 below which a mix counts as the colour (judged)
SIMPLER_WITHIN = 1.0  # ΔE00 a simpler mix may be worse by
MOST_SHELF = 400
MOST_LATER = 8


class MixWish(Strict):
    """A colour to mix: thick, or as a film `over` a ground, and what comes over it later."""

    target: Hex
    max_paints: int = Field(default=3, ge=1, le=MOST_PAINTS)
    max_drops: int = Field(default=8, ge=1, le=MOST_DROPS)
    over: Hex | None = None
    dry_film_um: float = Field(default=6.0, ge=0.01, le=500)
    then: list[FilmLater] = Field(default_factory=list, max_length=MOST_LATER)


class MixIn(MixWish):
    paints: Annotated[list[MixPaint], Field(min_length=1, max_length=MOST_SHELF)]


class ShelfMix(MixWish):
    """A colour to mix from the shelf, or from some of its paints."""

    only: list[Identity] = Field(default_factory=list, max_length=MOST_SHELF)


class MixOut(BaseModel):
    """One mix: drops by name, in pouring order, its colour and its distance ΔE00 to the target."""

    drops: dict[str, int]
    cup: list[PouredDrops]
    colour: str
    delta_e: float
    words: str


class MixesOut(BaseModel):
    """Mixes, nearest first; `simplest` is the place of the plainest one within 1 ΔE00 of it."""

    mixes: list[MixOut]
    simplest: int
    aim: str
    missing: str | None


def given_palette(paints: list[MixPaint]) -> tuple[Palette, list[str]]:
    """Given paints as the search takes them, and their names, which must differ."""
    names = [p.name for p in paints]
    if len(set(names)) != len(names):
        twice = next(n for n in names if names.count(n) > 1)
        raise TwinError(f"paints holds {twice!r} twice; names must differ.", field="paints")
    palette = Palette.of(
        [p.optics for p in paints],
        drop=[p.drop_ul for p in paints],
        strength=[p.strength for p in paints],
    )
    return palette, names


def shelf_palette(shelf: Shelf, only: list[str] | None = None) -> tuple[Palette, list[str]]:
    """The paints of the shelf that mix with each other, and their ids."""
    paints = [p for p in shelf.paints if p.mixes and (not only or p.id in set(only))]
    if not paints:
        raise NothingFitsError(
            "No paint on the shelf can be mixed here: metals, varnishes, washes and lacquers are "
            "left out.",
            field="only",
        )
    return palette_of(paints), [p.id for p in paints]


def mix(given: MixIn) -> MixesOut:
    """The mixes of given paints nearest to a colour."""
    return _mixes(given, *given_palette(given.paints))


def mix_from(wish: ShelfMix, shelf: Shelf, report: Report) -> MixesOut:
    """The mixes of owned paints nearest to a colour; drops by paint id."""
    palette, ids = shelf_palette(shelf, list(wish.only))
    return _mixes(wish, palette, ids, share_of(report, "Trying mixes"))


def _mixes(
    given: MixWish, palette: Palette, names: list[str], progress: Progress | None = None
) -> MixesOut:
    over = None
    if given.over is not None:
        over = Over(inside_film(spectrum_of_hex(given.over), "matt"), given.dry_film_um)
    target = linear_of_hex(given.target, field="target")
    aimed = aim_before(target, [f.film for f in given.then]).rgb if given.then else target
    found = nearest_mixes(
        aimed,
        palette,
        over=over,
        most_paints=given.max_paints,
        most_drops=given.max_drops,
        keep=LOOKED_AT,
        progress=progress,
    )
    ranked = sorted(
        ((c, _seen(palette.mix(c.paints, c.drops), over)) for c in found),
        key=lambda one: delta_e(one[1], aimed),
    )[:SHOWN_MIXES]
    mixes = [_mix_out(c, rgb, aimed, names) for c, rgb in ranked]
    return MixesOut(
        mixes=mixes,
        simplest=_simplest(mixes),
        aim=shown(aimed),
        missing=missing_words(ranked[0][1], aimed) if mixes[0].delta_e > CLOSE else None,
    )


def _seen(optics: PaintOptics, over: Over | None) -> Array:
    """(3,) float: a mix as it is seen, thick or as a film over a ground."""
    return masstone_rgb(optics) if over is None else one_film(optics, over.ground, over.film_um)


def _simplest(mixes: list[MixOut]) -> int:
    near = [i for i, m in enumerate(mixes) if m.delta_e <= mixes[0].delta_e + SIMPLER_WITHIN]
    return min(near, key=lambda i: (len(mixes[i].drops), sum(mixes[i].drops.values()), i))


def _mix_out(found: Candidate, rgb: Array, target: Array, names: list[str]) -> MixOut:
    parts = sorted(zip(found.paints, found.drops, strict=True), key=lambda p: (-p[1], p[0]))
    return MixOut(
        drops={names[i]: d for i, d in parts},
        cup=[PouredDrops(what=names[i], drops=d) for i, d in parts],
        colour=shown(rgb),
        delta_e=round(delta_e(rgb, target), 4),
        words=difference_words(rgb, target),
    )
