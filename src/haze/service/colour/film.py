"""Film colour as JSON, `haze film`, with mixes, finishes, metal, fluorescence and the wet look."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from haze.core.errors import OutOfRangeError
from haze.core.film.described import Described, optics_of
from haze.core.film.finish import Finish, mixed_surface
from haze.core.film.looks import shown
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import (
    Opacity,
    PaintOptics,
    covering_um,
)
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.film.wet import wet_rgb
from haze.core.plan.base import Hex
from haze.core.plan.paint import DropUl, Strength
from haze.service.forms.wire import Coloured, Strict


class FilmPart(Coloured):
    """One paint of a mix, and its drops."""

    drops: float = Field(ge=0.01, le=1000)
    drop_ul: DropUl = 50.0
    strength: Strength = 1.0


class FilmCoat(Strict):
    """A coat: one paint by masstone and opacity, or a `mix`; dry film in µm.

    `kind` metallic is flake that covers; `fluorescent` is 0 to 1; `finish` of a mix is that of its
    paints unless `finishes` gives parts of varnish finishes.
    """

    masstone: Hex | None = None
    opacity: Opacity = "opaque"
    mix: list[FilmPart] = Field(default_factory=list, max_length=8)
    kind: Literal["paint", "metallic"] = "paint"
    dry_film_um: float = Field(ge=0, le=2000)
    finish: Finish = "matt"
    finishes: dict[Finish, Annotated[float, Field(ge=0, le=1000)]] = Field(default_factory=dict)
    fluorescent: float = Field(default=0.0, ge=0, le=1)

    @model_validator(mode="after")
    def _one_way(self) -> FilmCoat:
        if bool(self.mix) == (self.masstone is not None):
            raise ValueError("a coat has either a masstone or a mix")
        return self


class FilmIn(Strict):
    ground: Hex
    ground_finish: Finish = "matt"
    coats: Annotated[list[FilmCoat], Field(max_length=200)]


class FilmOut(Strict):
    """After each coat: dry and wet colour, and the film that reaches its own colour there."""

    colours: list[str]
    wet: list[str]
    covering_um: list[float]
    metal: list[float]


def coat_optics(coat: FilmCoat) -> PaintOptics:
    """The optics of a coat as it is given."""
    if coat.mix and coat.kind == "paint":
        made = mixed([Share(p.optics, p.drops * p.drop_ul, p.strength) for p in coat.mix])
    else:
        paint = Described(
            (coat.masstone or coat.mix[0].masstone).lower(),
            coat.opacity,
            coat.finish,
            body="flake" if coat.kind == "metallic" else "pigment",
            fluorescent=coat.fluorescent if coat.masstone else 0.0,
        )
        made = optics_of(paint)
    return finished(made, coat.finishes)


def finished(optics: PaintOptics, parts: dict[Finish, float]) -> PaintOptics:
    """The same film under a mix of varnish finishes by parts; as it is when none are given."""
    if not parts:
        return optics
    if min(parts.values()) < 0 or sum(parts.values()) <= 0:
        raise OutOfRangeError(
            "finishes takes parts that are not negative and not all 0.", field="finishes"
        )
    return replace(optics, surface=mixed_surface(parts))


def film_colours(given: FilmIn) -> FilmOut:
    """Colour after each coat, dry and wet."""
    skin = bare_skin(given.ground, 1, finish=given.ground_finish, single=False)
    out = FilmOut(colours=[], wet=[], covering_um=[], metal=[])
    for coat in given.coats:
        optics = coat_optics(coat)
        below = np.asarray(skin.inside[:, 0], dtype=np.float64)
        skin = coated(skin, optics, np.array([coat.dry_film_um]))
        out.covering_um.append(round(covering_um(optics, ground=below), 2))
        out.wet.append(shown(wet_rgb(optics, ground=below, film_um=coat.dry_film_um)))
        out.colours.append(shown(seen(skin)[:, 0]))
        out.metal.append(round(float(skin.metal[0]), 3))
    return out
