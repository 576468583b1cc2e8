"""What travels between screens, command line and core, and is shared by many of them."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from haze.core.film.described import Described, optics_of
from haze.core.film.finish import Finish
from haze.core.film.overshoot import Film
from haze.core.film.paint import Opacity, PaintOptics
from haze.core.plan.base import Digest, Hex, Identity, Strict
from haze.core.plan.document import Plan
from haze.core.plan.paint import DropUl, Strength
from haze.core.spray.constants import PaintKind

__all__ = [
    "Coloured",
    "Digest",
    "FilmLater",
    "Hex",
    "Identity",
    "Kept",
    "MixPaint",
    "PaintIn",
    "PlanBody",
    "PouredDrops",
    "Strict",
    "holds_nothing",
]
MOST_LATER_UM = 200.0
NOTHING = re.compile(r"(?<!\\)(?:\\\\)*\\u0000")  # the character 0, not its name in a text
DryFilm = Annotated[float, Field(ge=0, le=MOST_LATER_UM)]


def holds_nothing(text: str) -> bool:
    """Whether a JSON text names the character 0: a text ends at it for the database only."""
    return NOTHING.search(text) is not None


class Kept(BaseModel):
    """What is sent and stored in one form; in an imported file every number must be finite."""

    model_config = ConfigDict(allow_inf_nan=False)


class PlanBody(Strict):
    """A plan as it stands on the screen."""

    plan: Plan


class PaintIn(Strict):
    """A paint as the spray model takes it."""

    kind: PaintKind
    drop_ul: DropUl = 50.0


class Coloured(Strict):
    """A paint's colour by masstone and opacity."""

    masstone: Hex
    opacity: Opacity = "opaque"
    finish: Finish = "matt"

    @property
    def optics(self) -> PaintOptics:
        """What it does to light."""
        return optics_of(Described(self.masstone.lower(), self.opacity, self.finish))


class MixPaint(Coloured):
    """A paint to mix with; `drop_ul` and `strength` as on the shelf."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    drop_ul: DropUl = 50.0
    strength: Strength = 1.0


class FilmLater(Coloured):
    """A film that comes later, such as a wash or a tint."""

    opacity: Opacity = "transparent"
    dry_film_um: DryFilm

    @property
    def film(self) -> Film:
        """The film itself."""
        return Film(self.optics, self.dry_film_um)


class PouredDrops(BaseModel):
    what: str
    drops: int
