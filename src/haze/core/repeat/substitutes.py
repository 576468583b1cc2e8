"""Paints that are no longer owned, and what on the shelf comes nearest to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import EmptyMixError
from haze.core.film.difference import delta_e
from haze.core.film.match import nearest_mixes
from haze.core.plan.coat import MOST_PAINTS
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed

MOST_OFF = 12.0  # ΔE00: farther off it is another colour, not a substitute (judged)
BETTER_BY = 1.0  # ΔE00 a mix must gain on a single paint to be worth its drops


@dataclass(frozen=True, slots=True)
class Substitute:
    """What takes the place of a mix.

    Parameters
    ----------
    mix : of the shelf; None when nothing on it can take the place
    delta_e : float [ΔE00], how far it looks from what it replaces; 0 for the very same paint
    why : a sentence, empty when nothing was replaced
    """

    mix: Mix | None
    delta_e: float
    why: str


def owned(paint: PaintUsed, stock: Stock) -> PaintUsed | None:
    """The same paint as it stands on the shelf now; None when it is gone.

    Parameters
    ----------
    paint : as it was used
    stock : what is on the shelf
    """
    for held in stock.paints:
        if held.id == paint.id:
            return held
    named = (paint.maker.casefold(), paint.name.casefold())
    for held in stock.paints:
        if (held.maker.casefold(), held.name.casefold()) == named and held.kind == paint.kind:
            return held
    return None


def substitute(mix: Mix, stock: Stock, *, mixes: bool) -> Substitute:
    """A mix of paints that are owned: the very same, or the nearest there is.

    Parameters
    ----------
    mix : as it was used
    stock : what is on the shelf
    mixes : whether several paints may take the place of one
    """
    have = [owned(paint, stock) for paint in mix.paints]
    gone = [p.name for p, held in zip(mix.paints, have, strict=True) if held is None]
    if not gone:
        pairs = zip(have, (drops for _, drops in mix.parts), strict=True)
        return Substitute(Mix.of(*((p, d) for p, d in pairs if p is not None)), 0.0, "")
    found = _nearest(mix, stock, mixes=mixes)
    names = " and ".join(gone)
    if found is None or (off := delta_e(found.rgb, mix.rgb)) > MOST_OFF:
        return Substitute(
            None, 0.0, f"{names} is not on the shelf, and nothing there can take its place."
        )
    return Substitute(
        found,
        off,
        f"{names} {'is' if len(gone) == 1 else 'are'} not on the shelf any more; this comes "
        f"nearest, ΔE00 {off:.1f}.",
    )


def _alike(mix: Mix, stock: Stock) -> Sequence[PaintUsed]:
    """Paints that can do the same work: the same kind, and clear or hiding as it is."""
    main = mix.main
    same = [p for p in stock.paints if p.kind == main.kind and p.hides == main.hides]
    if main.kind == "varnish":
        return [p for p in same if p.finish == main.finish]
    return same


def _nearest(mix: Mix, stock: Stock, *, mixes: bool) -> Mix | None:
    """One paint, or a mix where it comes nearer by enough."""
    one, several = _single(mix, stock), _mixed(mix, stock) if mixes else None
    return min(
        (m for m in (one, several) if m is not None),
        key=lambda m: delta_e(m.rgb, mix.rgb) + (BETTER_BY if len(m.parts) > 1 else 0.0),
        default=None,
    )


def _single(mix: Mix, stock: Stock) -> Mix | None:
    alike = _alike(mix, stock)
    if not alike:
        return None
    best = min(alike, key=lambda p: (delta_e(p.rgb, mix.rgb), p.name))
    return Mix.of((best, 1))


def _mixed(mix: Mix, stock: Stock) -> Mix | None:
    if not mix.hides:
        return None
    paints = [p for p in stock.paints if p.hides and p.kind != "primer"]
    try:
        found = nearest_mixes(mix.rgb, palette_of(paints), keep=1)
    except EmptyMixError:
        return None
    parts = [
        (paints[n], drops)
        for n, drops in zip(found[0].paints[:MOST_PAINTS], found[0].drops, strict=False)
    ]
    return Mix.of(*parts).most_first()
