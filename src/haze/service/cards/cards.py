"""Trial cards: printed for a setting, photographed, read, learned from once the painter agrees."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from functools import partial
from random import SystemRandom
from zlib import crc32

import numpy as np
from pydantic import BaseModel, Field

from haze.core.errors import UnknownNameError
from haze.core.film.srgb import to_hex
from haze.core.inspect.card import BLACK, MOST, spoken
from haze.core.inspect.card_colours import PAPER
from haze.core.plan.base import Identity
from haze.core.plan.words import airbrush_words
from haze.core.rules.cautions import MIST, SOLVENT, SOLVENT_THINNERS
from haze.core.spray.advice import BOUNDS
from haze.core.spray.calibrate import Look, Trial, believe, believed, tables
from haze.core.spray.drill import drill
from haze.core.spray.recipe import rounded
from haze.core.spray.setting import one_of
from haze.core.spray.unsure import Latents
from haze.formats.card_sheet import CardWords, pdf, svg
from haze.formats.recipe_sheet import Paper
from haze.service import apart
from haze.service.cards.reading import CardRead, Known, ReadPhoto, read_apart
from haze.service.cards.stand_in import Sprayed, StandInBody, stand_in_photo
from haze.service.cards.swatch import ClearSwatchError, CupBody, in_the_cup, needs_dark
from haze.service.cups import trials
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.setting import GroundIn, setting_words
from haze.service.cups.trials import Taught, TrialBody
from haze.service.shelf.shelf import Shelf
from haze.service.wire import Strict
from haze.store import cards as store
from haze.store.cards import CardPhotoRow, CardRow
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


class CardPhotoView(BaseModel):
    """A photo of a card and what was read; `trial` is the trial it became, if that counts.

    `look` is what the painter said then.
    """

    id: str
    at: str
    card: CardView | None
    width: int
    height: int
    found: CardRead
    trial: str | None
    look: Look | None


class CardsView(BaseModel):
    """All cards and photos, the newest first."""

    cards: list[CardView]
    photos: list[CardPhotoView]


class AgreeBody(Strict):
    """Which look the painter sees on the card; the trial's id is made by the browser."""

    id: str = Field(pattern=r"^[A-Za-z0-9-]{8,64}$")
    look: Look


class WouldTeach(BaseModel):
    """What agreeing with a look would change: how likely clean is here, before and after."""

    look: Look
    before: float
    after: float


class WouldTeachList(BaseModel):
    """The same for the likeliest looks."""

    would: list[WouldTeach]


class CardTaught(BaseModel):
    """What a card taught, in words too."""

    photo: CardPhotoView
    taught: Taught
    words: list[str]


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
        told=tuple(t for t in (card.title, cup, f"{through} · {card.setting}") if t),
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


def known_of(row: CardRow, shelf: Shelf, beliefs: Beliefs) -> Known:
    """What is known of a card beforehand: what was believed of its paint and airbrush counts."""
    asked = CardBody.model_validate_json(row.asked)
    try:
        optics = in_the_cup(asked, shelf).optics
    except (ClearSwatchError, UnknownNameError):
        optics = None  # the paint is no longer on the shelf: the solid will say its colour
    point, _ = believed(beliefs.of(asked.through))
    return Known(asked.sprayed, optics, point, row.dark)


def take_in(
    db: Database, shelf: Shelf, beliefs: Beliefs, data: bytes, *, wanted: int | None
) -> CardPhotoView:
    """Read a photo and keep it; nothing is learned from it yet.

    Raises
    ------
    PhotoError, TooLongError, TooMuchRoomError, MissingError
    """
    held = db.connection()
    rows = [one(db, wanted)] if wanted is not None else store.newest(held, KNOWN)
    known = {row.number: known_of(row, shelf, beliefs) for row in rows}
    return keep(db, read_apart(data, known, wanted=wanted))


def keep(db: Database, got: ReadPhoto) -> CardPhotoView:
    """Keep a photo that was read; the same one again is read anew in its place."""
    with db.atomic() as tx:
        number = got.found.trial
        row = CardPhotoRow(
            id=uuid.uuid4().hex,
            at=now(),
            hash=got.hash,
            card=number if number is not None and store.find(tx, number) else None,
            width=got.width,
            height=got.height,
            found=got.found.model_dump_json(),
        )
        return _photo(db, store.add_photo(tx, row, data=got.jpeg))


def stand_in(
    db: Database, shelf: Shelf, beliefs: Beliefs, number: int, body: StandInBody
) -> CardPhotoView:
    """Take in a photo of a card as the stand-in would take it; it is marked as simulated.

    A card is sprayed once, and an airbrush with a paint is the same on every card.
    """
    row = one(db, number)
    asked = CardBody.model_validate_json(row.asked)
    cup = crc32(f"{asked.paint.name}/{asked.airbrush.name}".encode())
    work = partial(
        stand_in_photo,
        setting=asked.sprayed,
        optics=in_the_cup(asked, shelf).optics,
        number=number,
        dark=row.dark,
        sprayed=Sprayed(cup, store.before(db.connection(), row)),
        body=body,
    )
    data: bytes = apart.run(work, limits=SIMULATING)
    return take_in(db, shelf, beliefs, data, wanted=None)


def _photo(db: Database, row: CardPhotoRow) -> CardPhotoView:
    card = store.find(db.connection(), row.card) if row.card is not None else None
    return CardPhotoView(
        id=row.id,
        at=row.at,
        card=view(card) if card else None,
        width=row.width,
        height=row.height,
        found=CardRead.model_validate_json(row.found),
        trial=row.trial,
        look=row.look,
    )


def everything(db: Database) -> CardsView:
    """Cards and photos, the newest first."""
    held = db.connection()
    return CardsView(
        cards=[view(row) for row in store.newest(held, LISTED)],
        photos=[_photo(db, row) for row in store.newest_photos(held, LISTED_PHOTOS)],
    )


def photo_bytes(db: Database, photo: str) -> bytes:
    """JPEG of a photo."""
    return store.photo_data(db.connection(), photo)


def throw_away(db: Database, photo: str) -> None:
    """Delete a photo; the trial it became stays."""
    with db.atomic() as tx:
        store.photo(tx, photo)
        store.delete_photo(tx, photo)


def agree(db: Database, beliefs: Beliefs, photo: str, body: AgreeBody) -> CardTaught:
    """Learn from a card what the painter says it shows, and what was measured on it.

    Raises
    ------
    MissingError when the photo is of no card that was printed here
    """
    row = store.photo(db.connection(), photo)
    if row.card is None:
        raise MissingError(
            "This photo is of no card that was printed here, so its setting is not known. Print a "
            "card for a setting, or log a trial in Window.",
            field="photo",
        )
    found = CardRead.model_validate_json(row.found)
    asked = view(one(db, row.card)).asked
    trial = TrialBody(
        id=body.id,
        look=body.look,
        paint=asked.paint,
        airbrush=asked.airbrush,
        setting=asked.setting,
        plan=asked.plan,
        step=asked.step,
    )
    before, _ = believed(beliefs.of(asked.through))
    measured = found.measured.model_dump_json() if found.measured else None
    taught = trials.log(db, beliefs, trial, measured=measured)
    with db.atomic() as tx:
        store.taught(tx, photo, trial=taught.trial)
    after, _ = believed(beliefs.of(asked.through))
    shown = _photo(db, store.photo(db.connection(), photo))
    return CardTaught(photo=shown, taught=taught, words=_taught_words(before, after, taught))


def would_teach(db: Database, beliefs: Beliefs, photo: str) -> WouldTeachList:
    """What each of the likeliest looks would teach; nothing is learned by asking.

    Raises
    ------
    MissingError when there is no such photo
    """
    row = store.photo(db.connection(), photo)
    found = CardRead.model_validate_json(row.found)
    if row.card is None or row.trial is not None or not found.looks:
        return WouldTeachList(would=[])
    asked = view(one(db, row.card)).asked
    setting = asked.sprayed
    measured = found.measured.told if found.measured else None
    now_ = beliefs.of(asked.through) or believe([], tables())
    before = float(now_.looks(setting)[0])
    would = []
    for likely in found.looks[:2]:
        then = beliefs.if_told(asked.through, Trial(setting, likely.look, measured))
        after = float(then.looks(setting)[0])
        would.append(WouldTeach(look=likely.look, before=before, after=after))
    return WouldTeachList(would=would)


def take_back(db: Database, beliefs: Beliefs, photo: str) -> CardPhotoView:
    """Let what a card taught no longer count; the photo can be agreed with anew."""
    row = store.photo(db.connection(), photo)
    if row.trial is not None:
        trials.take_back(db, beliefs, row.trial, back=True)
    return _photo(db, store.photo(db.connection(), photo))


FACTORS = (
    ("width", "The spray is {} than the tables say", ("wider", "narrower")),
    ("flow", "This needle passes {} at a stop of the trigger", ("more", "less")),
    ("viscosity", "This paint is {} than its kind", ("thicker", "thinner")),
    ("creep", "It creeps {} than its kind", ("sooner", "later")),
    ("droplet", "Its droplets are {} than reckoned", ("larger", "finer")),
)
LEAST_TOLD = 0.04


def _taught_words(before: Latents, after: Latents, taught: Taught) -> list[str]:
    """What changed most, in words."""
    changes = []
    for name, form, (more, less) in FACTORS:
        was, now_ = float(getattr(before, name)), float(getattr(after, name))
        if abs(now_ / was - 1) > LEAST_TOLD:
            share = abs(now_ - 1)
            side = f"{share:.0%} {more if now_ > 1 else less}".replace("%", " %")
            changes.append((abs(now_ / was - 1), f"{form.format(side)}."))
    told = [words for _, words in sorted(changes, reverse=True)[:2]]
    clean = f"Clean here: {taught.before.clean:.0%} before, {taught.after.clean:.0%} now."
    return [*told, clean.replace("%", " %")]
