"""What a setting would leave on card, small and at once: solid, line and dot in one picture."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PIL import Image
from pydantic import Field

from haze.core.arrays import Bytes
from haze.core.errors import HazeError, UnknownNameError
from haze.core.film.paint import is_clear
from haze.core.inspect.card_colours import PAPER, cards_bytes
from haze.core.inspect.landing import SprayLanding, landing_of
from haze.core.inspect.sprayed import lay
from haze.core.inspect.strokes import Dot, Mark, Stroke
from haze.core.inspect.trial_card import DOTS_AWAY_MM, near
from haze.core.plan.coat import MOST_PAINTS, MixPart
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.spray.calibrate import believed
from haze.core.spray.footprint import STROKE
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.trials import TurnedBody
from haze.service.shelf.shelf import Shelf

PX_MM = 6.0
SOLID_MM, LINE_MM, DOT_MM = (34.0, 35.0), (36.0, 6.5), (36.0, 27.0)
MARGIN_MM = 4.0  # about the solid and the line
GAP_MM = 1.5
LINE_AWAY_MM = 15.0  # as the first line of a card
DOT_S = 0.7
SEED = 20
DARK_CARD = "#26272a"
LIGHT_FROM = 72.0  # L* of a paint from which it is shown on a dark card


class ClearSwatchError(HazeError):
    """A clear coat leaves nothing to see."""

    code = "clear_swatch"


class CupBody(TurnedBody):
    """A setting, and what is in the cup; without parts, the paint on the shelf alone."""

    parts: list[MixPart] = Field(default=[], max_length=MOST_PAINTS)


class SwatchBody(CupBody):
    """A swatch of a setting, sharper for fine screens."""

    sharp: float = Field(default=1.0, ge=0.5, le=3)


@dataclass(frozen=True, slots=True)
class CardSwatch:
    """A PNG, and whether it shows a dark card."""

    png: bytes
    dark: bool


def _at_once() -> None:
    """Nobody is let by."""


def swatch(
    body: SwatchBody, *, beliefs: Beliefs, shelf: Shelf, let_by: Callable[[], None] = _at_once
) -> CardSwatch:
    """The picture of a setting.

    Parameters
    ----------
    body : the setting
    beliefs : of all trials
    shelf : where the paint stands when no parts are given
    let_by : called between its steps of some 10 ms, to wait for what is more urgent

    Raises
    ------
    ClearSwatchError for a varnish or medium, which leaves nothing to see
    """
    cup = in_the_cup(body, shelf)
    optics = cup.optics
    point, _ = believed(beliefs.of(body.through))
    setting = body.sprayed
    here = landing_of(setting, point)
    let_by()
    held = near(setting, LINE_AWAY_MM, point)
    close = landing_of(held, point)
    let_by()
    dot = landing_of(held.but(distance_mm=DOTS_AWAY_MM), point)
    paper = DARK_CARD if needs_dark(cup) else PAPER
    px = PX_MM * body.sharp
    parts: dict[tuple[float, float], list[Mark]] = {
        SOLID_MM: _solid(here),
        LINE_MM: [_line(close)],
        DOT_MM: [Dot(dot, (DOT_MM[0] / 2, DOT_MM[1] / 2), DOT_S)],
    }
    laid = []
    for i, ((wide, high), marks) in enumerate(parts.items()):
        let_by()
        laid.append(lay(marks, width_mm=wide, height_mm=high, px_mm=px, seed=SEED + i))
    let_by()
    shown = cards_bytes(laid, optics, paper=paper)
    let_by()
    out = io.BytesIO()
    Image.fromarray(_together(shown, round(GAP_MM * px))).save(out, "PNG", compress_level=1)
    return CardSwatch(out.getvalue(), dark=paper == DARK_CARD)


def in_the_cup(body: CupBody, shelf: Shelf) -> Mix:
    """What is sprayed.

    Raises
    ------
    ClearSwatchError for a varnish or medium, UnknownNameError for a paint that is not on the shelf
    """
    parts = [(p.paint, p.drops) for p in body.parts] or [(_on_shelf(body.paint.id, shelf), 1)]
    cup = Mix.of(*parts)
    if is_clear(cup.optics):
        raise ClearSwatchError(
            f"{body.paint.name} is clear: on card there is nothing to see of it.", field="paint"
        )
    return cup


def needs_dark(cup: Mix) -> bool:
    """Whether it is too light to show on a white card."""
    return cup.tone > LIGHT_FROM


def _on_shelf(identity: str, shelf: Shelf) -> PaintUsed:
    for paint in shelf.paints:
        if paint.id == identity:
            return paint
    raise UnknownNameError(
        f"There is no paint {identity!r} on the shelf; give the parts of the cup instead.",
        field="paint",
    )


def _solid(here: SprayLanding) -> list[Mark]:
    """One pass: strokes as far apart as they lie in a pass."""
    wide, high = SOLID_MM
    apart = STROKE * here.sigma_mm
    count = int((high - 2 * MARGIN_MM) / apart) + 1
    rows = high / 2 + apart * (np.arange(count) - (count - 1) / 2)
    return [
        Stroke(here, (MARGIN_MM, float(y)), (wide - MARGIN_MM, float(y))) for y in rows.tolist()
    ]


def _line(close: SprayLanding) -> Stroke:
    wide, high = LINE_MM
    return Stroke(close, (MARGIN_MM, high / 2), (wide - MARGIN_MM, high / 2))


def _together(shown: list[Bytes], gap: int) -> Bytes:
    """Solid at the left, line over dot at the right, clear between."""
    solid, line, dot = shown
    high = max(solid.shape[0], line.shape[0] + gap + dot.shape[0])
    wide = solid.shape[1] + gap + line.shape[1]
    out = np.zeros((high, wide, 4), dtype=np.uint8)

    def put(image: Bytes, y: int, x: int) -> None:
        h, w = image.shape[:2]
        out[y : y + h, x : x + w, :3] = image
        out[y : y + h, x : x + w, 3] = 255

    put(solid, 0, 0)
    put(line, 0, solid.shape[1] + gap)
    put(dot, line.shape[0] + gap, solid.shape[1] + gap)
    return out
