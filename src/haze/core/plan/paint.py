"""Paints, thinners and airbrushes as they were when used."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from haze.core.arrays import Array
from haze.core.film.described import Body, Described, optics_of
from haze.core.film.difference import lch_of
from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity, PaintOptics, is_clear, masstone_rgb, masstone_tone
from haze.core.film.swatches import LEAST_FILM_UM, MOST_FILM_UM, TwoSwatches
from haze.core.plan.base import Hex, Identity, Name, Value
from haze.core.plan.knobs import Needle
from haze.core.spray.constants import PaintKind, ThinnerKind

DropUl = Annotated[float, Field(ge=5, le=200)]
Strength = Annotated[float, Field(ge=0.05, le=20)]
Maker = Annotated[str, Field(max_length=120)]
# neither mixed toward a colour nor laid to hide: metals, varnishes, washes and lacquers
APART: tuple[str, ...] = ("metallic", "varnish", "enamel_wash", "lacquer")
BODIES: dict[str, Body] = {"metallic": "flake", "varnish": "clear"}


class Swatches(Value):
    """A paint's own colours over a dark and a light ground, at one dry film [µm]."""

    over_dark: Hex
    over_light: Hex
    dark: Hex = "#0c0c0d"
    light: Hex = "#f6f6f2"
    film_um: Annotated[float, Field(ge=LEAST_FILM_UM, le=MOST_FILM_UM)] = 10.0


class Covering:
    """What a paint or a mix looks like when it covers, from its `optics`."""

    __slots__ = ()

    @property
    def optics(self) -> PaintOptics:
        """What it does to light."""
        raise NotImplementedError

    @property
    def tone(self) -> float:
        """CIE L* when it covers."""
        return masstone_tone(self.optics)

    @property
    def rgb(self) -> Array:
        """(3,) float: linear sRGB when it covers."""
        return masstone_rgb(self.optics)

    @property
    def lch(self) -> tuple[float, float, float]:
        """OKLCh when it covers: lightness [0..1], chroma [-], hue [°]."""
        return lch_of(self.rgb)


class PaintUsed(Covering, Value):
    """A paint as it was when used.

    Its colour is its masstone with an opacity grade; two swatches, where there are some, replace
    both. `strength` is its tinting strength in mixes, `fluorescent` how much light of its own it
    gives, 0 to 1.
    """

    id: Identity
    maker: Maker = ""
    range: Maker = ""
    name: Name
    kind: PaintKind
    masstone: Hex
    opacity: Opacity
    finish: Finish = "matt"
    drop_ul: DropUl = 50.0
    strength: Strength = 1.0
    fluorescent: Annotated[float, Field(ge=0, le=1)] = 0.0
    swatches: Swatches | None = None

    @property
    def described(self) -> Described:
        """All that its optics follow from."""
        two = TwoSwatches(**self.swatches.model_dump()) if self.swatches else None
        return Described(
            masstone=self.masstone.lower(),
            opacity=self.opacity,
            finish=self.finish,
            body=BODIES.get(self.kind, "pigment"),
            fluorescent=self.fluorescent,
            swatches=two,
        )

    @property
    def optics(self) -> PaintOptics:
        """What it does to light."""
        return optics_of(self.described)

    @property
    def mixes(self) -> bool:
        """Whether it is mixed toward a colour."""
        return self.kind not in APART

    @property
    def hides(self) -> bool:
        """Whether it is laid to hide what lies below it."""
        return self.mixes and not is_clear(self.optics)

    @property
    def tints(self) -> bool:
        """Whether it mixes and is one to be seen through."""
        return self.mixes and is_clear(self.optics)


class ThinnerUsed(Value):
    """A thinner as it was when used."""

    id: Identity
    name: Name
    kind: ThinnerKind
    drop_ul: DropUl = 50.0


class AirbrushUsed(Value):
    """An airbrush with its needle as it was when used."""

    id: Identity
    name: Name
    needle_mm: Needle
    cup_ml: Annotated[float, Field(ge=0.1, le=100)] = 7.0
