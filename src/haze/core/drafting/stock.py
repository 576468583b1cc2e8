"""What lies on the shelf, and what a draft or a fix takes from it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from haze.core.errors import NothingFitsError
from haze.core.film.palette import Palette
from haze.core.plan.coat import Coat
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.words import SHELF_LACKS
from haze.core.spray.calibrate import Known, PaintThrough, nothing_known
from haze.core.spray.constants import OWN_THINNER, PAINTS, THINNERS, suits
from haze.core.spray.unsure import NOMINAL, Latents


@dataclass(frozen=True, slots=True)
class Stock:
    """What a draft or a fix may take from the shelf, and what trials say of it."""

    paints: tuple[PaintUsed, ...] = ()
    thinners: tuple[ThinnerUsed, ...] = ()
    airbrushes: tuple[AirbrushUsed, ...] = ()
    known: Known = nothing_known

    def latents_of(self, paint: PaintUsed, airbrush: AirbrushUsed) -> Latents:
        """The factors that are believed of a paint in an airbrush.

        Parameters
        ----------
        paint, airbrush : which
        """
        through = PaintThrough(paint.kind, paint.id, airbrush.id, airbrush.needle_mm)
        found = self.known(through)
        return NOMINAL if found is None else found.point


def own_thinner(paint: PaintUsed, stock: Stock) -> ThinnerUsed:
    """The shelf's thinner for a paint's chemistry: its own kind first.

    Parameters
    ----------
    paint : what is thinned
    stock : what is on the shelf

    Raises
    ------
    NothingFitsError
    """
    kind = OWN_THINNER[PAINTS[paint.kind].chemistry]
    fitting = [t for t in stock.thinners if suits(PAINTS[paint.kind], THINNERS[t.kind])]
    if not fitting:
        raise NothingFitsError(
            f"No thinner on the shelf suits {paint.name}; add {kind.replace('_', ' ')}.",
            field="thinner",
        )
    return next((t for t in fitting if t.kind == kind), fitting[0])


def suited(coat: Coat, stock: Stock) -> Coat:
    """The coat with a thinner that suits its paint; as it is when it does.

    Parameters
    ----------
    coat : perhaps with a new paint
    stock : what is on the shelf
    """
    if suits(PAINTS[coat.paint.kind], THINNERS[coat.thinner.kind]):
        return coat
    return coat.model_copy(update={"thinner": own_thinner(coat.paint, stock)})


def pick(
    stock: Stock,
    fits: Callable[[PaintUsed], bool],
    off: Callable[[PaintUsed], float],
    missing: str,
) -> PaintUsed:
    """The paint of the shelf that fits and lies least off.

    Parameters
    ----------
    stock : what is on the shelf
    fits : whether a paint may be taken at all
    off : how far a paint is from what is wanted, in any unit
    missing : str, what there is none of when nothing fits

    Raises
    ------
    NothingFitsError
    """
    found = [p for p in stock.paints if fits(p)]
    if not found:
        raise NothingFitsError(f"{SHELF_LACKS} {missing}; add one first.", field="paint")
    return min(found, key=lambda p: (off(p), p.name))


def varnish_of(stock: Stock, finishes: Sequence[str]) -> PaintUsed:
    """A varnish of the first finish the shelf has.

    Parameters
    ----------
    stock : what is on the shelf
    finishes : names of finishes, the one wanted most first
    """
    return pick(
        stock,
        lambda p: p.kind == "varnish" and p.finish in finishes,
        lambda p: finishes.index(p.finish),
        f"{' or '.join(finishes)} varnish",
    )


def palette_of(paints: Sequence[PaintUsed]) -> Palette:
    """Paints as the search for mixes takes them.

    Parameters
    ----------
    paints : none of them metal
    """
    return Palette.of(
        [p.optics for p in paints],
        drop=[p.drop_ul for p in paints],
        strength=[p.strength for p in paints],
    )
