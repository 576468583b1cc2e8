"""Film colour as JSON: `haze film`, with mixes, finishes, metal, fluorescence and the wet look."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from haze.core.errors import HazeError
from haze.core.film.finish import Finish, inside_film, mixed_surface, outside_film, surface_of
from haze.core.film.gamut import into_gamut
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import (
    Opacity,
    PaintOptics,
    covering_um,
    film_over,
    fluorescent,
    metallic,
    paint_optics,
)
from haze.core.film.skin import Skin, coated
from haze.core.film.spectra import rgb_of, spectrum_of_hex, to_hex
from haze.core.film.wet import wet_rgb
from haze.core.plan.document import Hex
from haze.service.spray_io import Strict


class FilmPart(Strict):
    """One paint of a mix, and its drops."""

    masstone: Hex
    opacity: Opacity = "opaque"
    drops: float = Field(gt=0, le=1000)
    drop_ul: float = Field(default=50.0, ge=5, le=200)
    strength: float = Field(default=1.0, ge=0.05, le=20)
    finish: Finish = "matt"


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
    finishes: dict[Finish, float] = Field(default_factory=dict)
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
    if coat.kind == "metallic":
        made = metallic(coat.masstone or coat.mix[0].masstone, finish=coat.finish)
    elif coat.mix:
        made = mixed(
            [
                Share(
                    paint_optics(p.masstone, opacity=p.opacity, finish=p.finish),
                    p.drops * p.drop_ul,
                    p.strength,
                )
                for p in coat.mix
            ]
        )
    else:
        made = paint_optics(coat.masstone or "", opacity=coat.opacity, finish=coat.finish)
    if coat.fluorescent and coat.masstone:
        made = fluorescent(made, masstone=coat.masstone, strength=coat.fluorescent)
    return finished(made, coat.finishes)


def finished(optics: PaintOptics, parts: dict[Finish, float]) -> PaintOptics:
    """The same film under a mix of varnish finishes by parts; as it is when none are given."""
    if not parts:
        return optics
    if min(parts.values()) < 0 or sum(parts.values()) <= 0:
        raise HazeError(
            "finishes takes parts that are not negative and not all 0.", field="finishes"
        )
    return replace(optics, surface=mixed_surface(parts))


def film_colours(given: FilmIn) -> FilmOut:
    """Colour after each coat, dry and wet."""
    one = np.float32
    ground = inside_film(spectrum_of_hex(given.ground), given.ground_finish)
    skin = Skin(
        ground.astype(one)[:, None],
        np.full(1, surface_of(given.ground_finish), dtype=one),
        np.zeros(1, dtype=one),
    )
    inside, on_top = ground, float(surface_of(given.ground_finish))
    out = FilmOut(colours=[], wet=[], covering_um=[], metal=[])
    for coat in given.coats:
        optics = coat_optics(coat)
        out.covering_um.append(round(covering_um(optics, ground=inside), 2))
        wet = wet_rgb(optics, ground=inside, film_um=coat.dry_film_um)
        skin = coated(skin, optics, np.full(1, coat.dry_film_um, dtype=one))
        inside = film_over(optics, inside, coat.dry_film_um)
        on_top = optics.surface if coat.dry_film_um > 0 else on_top
        dry = rgb_of(outside_film(inside, on_top))
        if skin.emission is not None:
            dry = dry + skin.emission[:, 0]
        out.colours.append(to_hex(into_gamut(dry)[0]) if skin.emission is None else to_hex(dry))
        out.wet.append(to_hex(into_gamut(wet)[0]))
        out.metal.append(round(float(skin.metal[0]), 3))
    return out
