"""A paint on the shelf, and the one way between it, its row and a paint in a plan."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity
from haze.core.plan.named import colour_named, finish_named, kind_named, usual_opacity
from haze.core.plan.paint import PaintUsed, Swatches
from haze.core.spray.constants import PaintKind
from haze.store.shelf import PaintRow

Millilitres = Annotated[float, Field(ge=0, le=100_000)]


class PaintOnShelf(PaintUsed):
    """A paint, what is left of it, and whether its colour was given or guessed from its name.

    `ml_left` is null when nobody counts.
    """

    ml_left: Millilitres | None = None
    colour_from: Literal["given", "guessed"] = "given"

    @property
    def used(self) -> PaintUsed:
        """The paint as a plan takes it: without what only the shelf holds."""
        return PaintUsed.model_validate(self.model_dump(exclude={"ml_left", "colour_from"}))


class NamedPaint(BaseModel):
    """What a paint's name suggests; null what it says nothing of."""

    colour: str | None
    kind: PaintKind | None
    opacity: Opacity | None
    finish: Finish | None


def named(name: str) -> NamedPaint:
    """What a name suggests about a paint that is being added."""
    kind = kind_named(name)
    return NamedPaint(
        colour=colour_named(name),
        kind=kind,
        opacity=usual_opacity(kind) if kind else None,
        finish=finish_named(name),
    )


def paint_of(row: PaintRow) -> PaintOnShelf:
    """A stored paint."""
    cells: dict[str, Any] = {
        "id": row.id,
        "maker": row.maker,
        "range": row.range,
        "name": row.name,
        "kind": row.kind,
        "masstone": row.masstone,
        "opacity": row.opacity,
        "finish": row.finish,
        "drop_ul": row.drop_ul,
        "strength": row.strength,
        "fluorescent": row.fluorescent,
        "ml_left": row.ml_left,
        "colour_from": row.colour_from,
    }
    if row.over_dark and row.over_light:
        two = {"over_dark": row.over_dark, "over_light": row.over_light}
        cells["swatches"] = Swatches(**two, **({"film_um": row.swatch_um} if row.swatch_um else {}))
    return PaintOnShelf.model_validate(cells)


def row_of(paint: PaintOnShelf) -> PaintRow:
    """A paint as it is stored."""
    two = paint.swatches
    return PaintRow(
        id=paint.id,
        maker=paint.maker,
        range=paint.range,
        name=paint.name,
        kind=paint.kind,
        masstone=paint.masstone.lower(),
        opacity=paint.opacity,
        finish=paint.finish,
        drop_ul=paint.drop_ul,
        ml_left=paint.ml_left,
        strength=paint.strength,
        fluorescent=paint.fluorescent,
        over_dark=two.over_dark if two else None,
        over_light=two.over_light if two else None,
        swatch_um=two.film_um if two else None,
        colour_from=paint.colour_from,
    )


def key_of(maker: str, name: str) -> tuple[str, str]:
    """What no two paints of the shelf may share."""
    return maker.strip().casefold(), name.strip().casefold()
