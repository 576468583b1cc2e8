"""Trial cards as they are made: for a setting, with a number of their own, printed."""

from __future__ import annotations

from collections.abc import Sequence
from random import SystemRandom

import numpy as np
from pydantic import BaseModel, Field

from haze.core.film.srgb import to_hex
from haze.core.inspect.card import BLACK, MOST, spoken
from haze.core.inspect.card_colours import PAPER
from haze.core.plan.base import Identity
from haze.core.plan.words import airbrush_words
from haze.core.rules.cautions import MIST, SOLVENT, SOLVENT_THINNERS
from haze.core.spray.advice import BOUNDS
from haze.core.spray.calibrate import believe, tables
from haze.core.spray.drill import drill
from haze.core.spray.recipe import rounded
from haze.core.spray.setting import one_of
from haze.formats.card_sheet import CardWords, pdf, svg
from haze.formats.recipe_sheet import Paper
from haze.service.cards.swatch import CupBody, in_the_cup, needs_dark
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.setting import GroundIn, setting_words
from haze.service.forms.records import Unreadable, reading
from haze.service.shelf.shelf import Shelf
from haze.service.work import apart
from haze.store import cards as store
from haze.store.cards import CardRow
from haze.store.connection import Database, MissingError, now

LISTED, LISTED_PHOTOS = 60, 60
DRILLED, MAPPED = 5, 16  # cards of a drill, and settings along each side of what they map
MAPPED_PSI = (8.0, 28.0)
MAPPED_THINNER = (1 / 3, 2.0)  # of the setting's own parts: what a painter would still try
BLACK_FIELD = to_hex([BLACK] * 3)
KNOWN = 300  # cards that a photo may be of without being asked for
TRIES = 50
RANDOM = SystemRandom()
SIMULATING = apart.Limits(seconds=120.0, room=3 * apart.GIB)


class CardBody(CupBody):
    """What a card is made for: a setting, what is in the cup, and its place in a plan."""

    plan: Identity | None = None
    step: Identity | None = None
    title: str = Field(default="", max_length=200)


class CardView(BaseModel):
    """A printed card."""

    number: int
    spoken: str
    made_at: str
    dark: bool
    paint: str
    airbrush: str
    title: str
    setting: str
    asked: CardBody


class DrillOut(BaseModel):
    """Cards that map a window together, in the order they are best sprayed."""

    cards: list[CardView]


def make(db: Database, shelf: Shelf, body: CardBody) -> CardView:
    """A new card with a number of its own; `ClearSwatchError` for what leaves nothing to see."""
    (made,) = _make(db, shelf, [body])
    return made


def make_drill(db: Database, shelf: Shelf, beliefs: Beliefs, body: CardBody) -> DrillOut:
    """Five cards that together tell most of a paint in an airbrush, over its window.

    Raises
    ------
    ClearSwatchError for what leaves nothing to see
    """
    setting = body.sprayed
    low, high = BOUNDS["thinner_parts"]
    here = max(setting.knob("thinner_parts"), low)
    least, most = (float(np.clip(here * factor, low, high)) for factor in MAPPED_THINNER)
    parts, psi = np.meshgrid(np.geomspace(least, most, MAPPED), np.geomspace(*MAPPED_PSI, MAPPED))
    grid = setting.but(thinner_parts=parts.ravel(), pressure_psi=psi.ravel())
    belief = beliefs.of(body.through) or believe([], tables())
    bodies = []
    for n, place in enumerate(drill(grid, belief, count=DRILLED), 1):
        one = rounded(one_of(grid, place))
        turned = {k: one.knob(k) for k in ("thinner_parts", "pressure_psi")}
        asked = {"setting": body.setting.model_copy(update=turned)}
        bodies.append(body.model_copy(update=asked | {"title": f"Drill {n} of {DRILLED}"}))
    return DrillOut(cards=_make(db, shelf, bodies))


def _make(db: Database, shelf: Shelf, bodies: Sequence[CardBody]) -> list[CardView]:
    asked = [_on_card(body, shelf) for body in bodies]
    rows = []
    with db.atomic() as tx:
        for dark, body in asked:
            numbers = (RANDOM.randint(1, MOST) for _ in range(TRIES))
            number = next(n for n in numbers if store.find(tx, n) is None)
            rows.append(CardRow(number, now(), dark, body.model_dump_json()))
            store.add(tx, rows[-1])
    return [view(row) for row in rows]


def _on_card(body: CardBody, shelf: Shelf) -> tuple[bool, CardBody]:
    """Whether its field is black, and the setting with a card below it, whatever it was for."""
    cup = in_the_cup(body, shelf)
    dark = needs_dark(cup)
    contrast = cup.contrast_over(BLACK_FIELD if dark else PAPER)
    ground = GroundIn(contrast=contrast, surface="matt")
    setting = body.setting.model_copy(update={"ground": ground})
    return dark, body.model_copy(update={"setting": setting})


def view(row: CardRow) -> CardView:
    """A card as the screens show it."""
    with reading("card", row.number):
        asked = CardBody.model_validate_json(row.asked)
    return CardView(
        number=row.number,
        spoken=spoken(row.number),
        made_at=row.made_at,
        dark=row.dark,
        paint=asked.paint.name,
        airbrush=asked.airbrush.name,
        title=asked.title,
        setting=setting_words(asked.setting),
        asked=asked,
    )


def named_card(row: CardRow) -> Unreadable:
    """What can be said of a card without reading it."""
    number = row.number if 0 <= row.number <= MOST else 0
    return Unreadable(
        kind="card", id=str(row.number), name=f"Card {spoken(number)}", at=row.made_at
    )


def one(db: Database, number: int) -> CardRow:
    """A card; `MissingError` when it was not printed here."""
    row = store.find(db.connection(), number)
    if row is None:
        raise MissingError(f"Card {spoken(number)} was not printed here.", field="card")
    return row


def words_of(row: CardRow) -> CardWords:
    """What is written on a card."""
    card = view(row)
    through = airbrush_words(card.airbrush, card.asked.airbrush.needle_mm)
    cup = _cup_words(card.asked)
    cautions = [MIST.short]
    if card.asked.setting.thinner in SOLVENT_THINNERS:
        cautions.append(SOLVENT.short)
    return CardWords(
        number=row.number,
        left=" · ".join(t for t in (card.title, cup) if t),
        right=f"{through} · {card.setting}",
        lines=tuple(t for t in (card.title, cup, f"{through} · {card.setting}") if t),
        cautions=tuple(f"{c}." for c in cautions),
        dark=row.dark,
    )


def _cup_words(asked: CardBody) -> str:
    if not asked.parts:
        return asked.paint.name
    return ", ".join(
        f"{p.drops} {'drop' if p.drops == 1 else 'drops'} {p.paint.name}" for p in asked.parts
    )


def as_svg(db: Database, number: int) -> str:
    """A card as SVG."""
    return svg(words_of(one(db, number)))


def as_pdf(db: Database, numbers: Sequence[int], *, paper: Paper) -> bytes:
    """Cards with their cover frames as PDF, a page each."""
    return pdf(*(words_of(one(db, number)) for number in numbers), paper=paper)
