"""Film colour as JSON: `haze film`."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity, paint_optics
from haze.core.film.stack import colours_of_stack
from haze.core.plan.document import Hex
from haze.service.spray_io import Strict


class FilmCoat(Strict):
    masstone: Hex
    opacity: Opacity
    dry_film_um: float = Field(ge=0, le=2000)
    finish: Finish = "matt"


class FilmIn(Strict):
    ground: Hex
    coats: Annotated[list[FilmCoat], Field(max_length=200)]


class FilmOut(Strict):
    colours: list[str]


def film_colours(given: FilmIn) -> FilmOut:
    """Dry colour after each coat."""
    coats = [
        (paint_optics(c.masstone, opacity=c.opacity, finish=c.finish), c.dry_film_um)
        for c in given.coats
    ]
    return FilmOut(colours=colours_of_stack(given.ground, coats))
