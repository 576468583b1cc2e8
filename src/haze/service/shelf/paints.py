"""A paint on the shelf, and the one way between it, its row and a paint in a plan."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from haze.core.plan.paint import PaintUsed, Swatches
from haze.store.shelf import PaintRow

Millilitres = Annotated[float, Field(ge=0, le=100_000)]


class PaintOnShelf(PaintUsed):
    """A paint and what is left of it; `ml_left` null when nobody counts."""

    ml_left: Millilitres | None = None

    @property
    def used(self) -> PaintUsed:
        """The paint as a plan takes it: without what is left of it."""
        return PaintUsed.model_validate(self.model_dump(exclude={"ml_left"}))


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
    )


def key_of(maker: str, name: str) -> tuple[str, str]:
    """What no two paints of the shelf may share."""
    return maker.strip().casefold(), name.strip().casefold()
