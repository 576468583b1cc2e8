"""Practice: a card made with the painter's own paints and airbrushes, named, judged, explained."""

from __future__ import annotations

import io
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Annotated

import numpy as np
from numpy.random import Generator
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.drafting.stock import own_thinner
from haze.core.errors import NothingFitsError
from haze.core.film.difference import speck_contrast
from haze.core.film.looks import encode_bytes
from haze.core.film.paint import is_clear, masstone_rgb
from haze.core.film.srgb import linear_of_hex
from haze.core.inspect.card import MOST, printed, raster
from haze.core.inspect.card_colours import PAPER, coloured
from haze.core.inspect.practice import (
    PX_MM,
    Answer,
    Change,
    Judged,
    Level,
    LookStanding,
    NoCardError,
    Sheet,
    Worth,
    comes_next,
    judge,
    on_card,
    sheet,
    standings,
    well_changed,
)
from haze.core.inspect.trial_card import FAULT_FROM
from haze.core.plan.knobs import by_hand
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.piece import Room
from haze.core.spray.calibrate import CLASSES, Look, PaintThrough, believed
from haze.core.spray.constants import PAINTS
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.tasks import school_of, task_of, thinning
from haze.core.spray.unsure import NOMINAL, Latents
from haze.service.cards.swatch import needs_dark
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.setting import AssessIn, GroundIn, setting_of
from haze.service.forms.records import Unreadable, is_readable, readable, reading
from haze.service.forms.wire import PaintIn, Strict
from haze.service.shelf.shelf import Shelf
from haze.store import practice as store
from haze.store.connection import Database, now
from haze.store.practice import PracticeRow

REMEMBERED = 400
FACTORS = len(Latents.__dataclass_fields__)
Factor = Annotated[float, Field(gt=0, le=1000)]
PAIRS_TRIED = 5
FAR_THINNED, THICK = 1.8, 0.15  # over, and under, what a painter would thin to
PRACTICE_PAINT = PaintUsed(
    id="practice", name="A deep blue", kind="brush_acrylic", masstone="#1d3f8a", opacity="opaque"
)
PRACTICE_THINNER = ThinnerUsed(id="practice", name="Acrylic thinner", kind="acrylic_thinner")
PRACTICE_AIRBRUSH = AirbrushUsed(id="practice", name="A usual airbrush", needle_mm=0.3)


@dataclass(frozen=True, slots=True)
class Pair:
    """A paint with its thinner in an airbrush, and what is believed of them."""

    paint: PaintUsed
    thinner: ThinnerUsed
    airbrush: AirbrushUsed
    latents: Latents

    def draw(self, rng: Generator, count: int) -> Setting:
        """(n,) settings from too thick to too thin, near to far, in rooms cool to hot."""
        u = rng.uniform
        kind = self.paint.kind
        low, high = thinning(
            PAINTS[kind],
            thinner=self.thinner.kind,
            school=school_of("middle"),
            task=task_of("cover"),
        )
        masstone = masstone_rgb(self.paint.optics)
        return make_setting(
            kind,
            thinner=self.thinner.kind,
            thinner_parts=u(low * THICK, high * FAR_THINNED, count),
            needle_mm=self.airbrush.needle_mm,
            trigger=u(0.1, 0.7, count),
            pressure_psi=u(4, 32, count),
            distance_mm=u(30, 180, count),
            speed_mm_s=u(40, 160, count),
            temperature_c=np.round(u(16, 32, count)),
            humidity_pct=np.round(u(20, 60, count) / 5) * 5,
            contrast=float(speck_contrast(masstone, linear_of_hex(PAPER))),
        )


class PracticeAsked(Strict):
    """What a practice card was made of; never sent before it is answered."""

    paint: PaintUsed
    airbrush: AirbrushUsed
    setting: AssessIn
    latents: tuple[Factor, ...] = Field(min_length=FACTORS, max_length=FACTORS)
    look: Look
    level: Level
    seed: int = Field(ge=0, le=MOST)
    finger_mm: float
    specks_cm2: float
    dusty: float
    stops: float

    @property
    def factors(self) -> Latents:
        """Of that airbrush and paint, as they were believed when it was made."""
        return Latents(*(np.asarray(v) for v in self.latents))


class PracticeAnswer(Strict):
    """What a card is taken for, and the one change that is made."""

    look: Look
    change: Change


class PracticeKept(PracticeAnswer):
    """An answer with what its change was worth."""

    changed_well: bool


class ChangeJudged(BaseModel):
    """What one change would do; `to` in steps a hand can set, None for leaving it."""

    change: Change
    does: Worth
    knob: str | None
    value: float | None
    to: float | None


class PracticeJudged(BaseModel):
    """The answer beside the truth."""

    look: Look
    named: Look
    right: bool
    change: Change
    changed_well: bool
    shows: str
    changes: list[ChangeJudged]


class PracticeStanding(BaseModel):
    """How one look is known: of the last cards of it; `level` is that of the next."""

    look: Look
    asked: int
    right: int
    changed_well: int
    level: Level
    taken_for: Look | None


class PracticeView(BaseModel):
    """A card to practise on, and how each look is known; `judged` once it is answered."""

    id: str
    paint: str
    airbrush: str
    needle_mm: float
    setting: AssessIn
    level: Level
    judged: PracticeJudged | None
    standings: list[PracticeStanding]
    answered: int = Field(ge=0)


def practice_card(db: Database, shelf: Shelf, beliefs: Beliefs) -> PracticeView:
    """The card that waits for its answer; a new one when none does."""
    held = db.connection()
    waiting = (row for row in store.waiting(held) if can_be_read(row))
    row = next(waiting, None)
    if row is None:
        answers = _answers(db)
        seed = store.count(held)
        asked = _made(shelf, beliefs, *comes_next(answers, seed=seed), seed=seed)
        row = PracticeRow(uuid.uuid4().hex, now(), asked.model_dump_json())
        with db.atomic() as tx:
            store.add(tx, row)
    return _view(db, row)


def practice_answer(db: Database, card: str, body: PracticeAnswer) -> PracticeView:
    """Judge an answer and keep it; a card that was answered is returned as it was.

    Raises
    ------
    MissingError
    """
    asked = _asked_of(store.one(db.connection(), card))
    changes = judge(setting_of(asked.setting), asked.factors)
    kept = PracticeKept(
        look=body.look, change=body.change, changed_well=well_changed(changes, body.change)
    )
    with db.atomic() as tx:
        store.answer(tx, card, answer=kept.model_dump_json())
        row = store.one(tx, card)
    return _view(db, row)


def practice_png(db: Database, card: str) -> bytes:
    """PNG of a card.

    Raises
    ------
    MissingError
    """
    asked = _asked_of(store.one(db.connection(), card))
    made = on_card(setting_of(asked.setting), latents=asked.factors, seed=asked.seed)
    light = coloured(made.laid, raster(printed(asked.seed), PX_MM), asked.paint.optics)
    out = io.BytesIO()
    shown = encode_bytes(np.ascontiguousarray(light.reshape(-1, 3).T)).reshape(light.shape)
    Image.fromarray(shown).save(out, "PNG", compress_level=3)
    return out.getvalue()


def _answers(db: Database) -> list[Answer]:
    return readable(store.answered(db.connection(), REMEMBERED), _answer, named_practice).views


def named_practice(row: PracticeRow) -> Unreadable:
    """What can be said of a card without reading it."""
    return Unreadable(kind="practice_card", id=row.id, name="A practice card", at=row.at)


def read_practice(row: PracticeRow) -> None:
    """Read a stored card, and its answer where there is one; refused when it cannot be."""
    (_answer if row.answer is not None else _asked_of)(row)


def can_be_read(row: PracticeRow) -> bool:
    """Whether a stored card, and its answer where there is one, can be read."""
    return is_readable("practice_card", row.id, partial(read_practice, row))


def _asked_of(row: PracticeRow) -> PracticeAsked:
    with reading("practice_card", row.id):
        return PracticeAsked.model_validate_json(row.asked)


def _answer(row: PracticeRow) -> Answer:
    asked = _asked_of(row)
    given = PracticeKept.model_validate_json(row.answer or "")
    return Answer(asked.look, asked.level, given.look, given.changed_well)


def _made(shelf: Shelf, beliefs: Beliefs, look: Look, level: Level, *, seed: int) -> PracticeAsked:
    """A card of the painter's own gear; plainer, or of usual gear, when that shows no such."""
    levels: list[Level] = [level, *(one for one in (2, 1, 0) if one < level)]
    for plainer in levels:
        for pair in _pairs(shelf, beliefs, np.random.default_rng(seed)):
            try:
                made = sheet(look, plainer, pair.draw, latents=pair.latents, seed=seed)
            except NoCardError:
                continue
            return _asked(pair, made)
    raise NoCardError("No card could be made for this.", field="look")


def _pairs(shelf: Shelf, beliefs: Beliefs, rng: Generator) -> Iterator[Pair]:
    """Paints that show on white card in airbrushes that are there; usual ones at the end."""
    paints = [p for p in shelf.paints if _shows(p)]
    pairs = [(p, a) for p in paints for a in shelf.airbrushes]
    for at in rng.permutation(len(pairs))[:PAIRS_TRIED].tolist():
        paint, airbrush = pairs[at]
        through = PaintThrough(paint.kind, paint.id, airbrush.id, airbrush.needle_mm)
        try:
            thinner = own_thinner(paint, shelf.stock)
        except NothingFitsError:
            continue
        yield Pair(paint, thinner, airbrush, believed(beliefs.of(through))[0])
    yield Pair(PRACTICE_PAINT, PRACTICE_THINNER, PRACTICE_AIRBRUSH, NOMINAL)


def _shows(paint: PaintUsed) -> bool:
    mix = Mix.of((paint, 1))
    return not (is_clear(mix.optics) or mix.optics.flake > 0 or needs_dark(mix))


def _asked(pair: Pair, made: Sheet) -> PracticeAsked:
    s, t = made.setting, made.truth
    room = Room(temperature_c=s.knob("temperature_c"), humidity_pct=s.knob("humidity_pct"))
    setting = AssessIn(
        paint=PaintIn(kind=pair.paint.kind, drop_ul=pair.paint.drop_ul),
        thinner=pair.thinner.kind,
        thinner_parts=s.knob("thinner_parts"),
        needle_mm=s.knob("needle_mm"),
        trigger=s.knob("trigger"),
        pressure_psi=s.knob("pressure_psi"),
        distance_mm=s.knob("distance_mm"),
        speed_mm_s=s.knob("speed_mm_s"),
        room=room,
        ground=GroundIn(contrast=s.knob("contrast")),
    )
    return PracticeAsked(
        paint=pair.paint,
        airbrush=pair.airbrush,
        setting=setting,
        latents=tuple(float(getattr(pair.latents, n)) for n in Latents.__dataclass_fields__),
        look=made.look,
        level=made.level,
        seed=made.seed,
        finger_mm=t.finger_mm,
        specks_cm2=t.specks_cm2,
        dusty=t.dusty,
        stops=t.stops,
    )


def _view(db: Database, row: PracticeRow) -> PracticeView:
    asked = _asked_of(row)
    answers = _answers(db)
    known = standings(answers)
    return PracticeView(
        id=row.id,
        paint=asked.paint.name,
        airbrush=asked.airbrush.name,
        needle_mm=asked.airbrush.needle_mm,
        setting=asked.setting,
        level=asked.level,
        judged=_judged(asked, row.answer) if row.answer and can_be_read(row) else None,
        standings=[_standing(look, known[look]) for look in CLASSES],
        answered=len(answers),
    )


def _standing(look: Look, of: LookStanding) -> PracticeStanding:
    return PracticeStanding(
        look=look,
        asked=of.asked,
        right=of.right,
        changed_well=of.changed_well,
        level=of.level,
        taken_for=of.taken_for,
    )


def _judged(asked: PracticeAsked, answer: str) -> PracticeJudged:
    given = PracticeKept.model_validate_json(answer)
    changes = judge(setting_of(asked.setting), asked.factors)
    return PracticeJudged(
        look=asked.look,
        named=given.look,
        right=given.look == asked.look,
        change=given.change,
        changed_well=given.changed_well,
        shows=shows_words(asked),
        changes=[_change(one) for one in changes],
    )


def _change(one: Judged) -> ChangeJudged:
    to = one.to
    if one.knob is not None and one.value is not None and to is not None and to != one.value:
        to = by_hand(one.knob, one.value, to)
    return ChangeJudged(change=one.change, does=one.does, knob=one.knob, value=one.value, to=to)


SHOWS: dict[Look, Callable[[PracticeAsked], str]] = {
    "spiders": lambda a: (
        f"{a.finger_mm:.0f} mm of fingers in one pass, the solid and the fade; "
        f"they count from {FAULT_FROM['finger_mm']:.0f} mm"
    ),
    "specks": lambda a: (
        f"{a.specks_cm2:.0f} specks to the cm² are seen in one pass; "
        f"they count from {FAULT_FROM['specks_cm2']:.0f}"
    ),
    "dust": lambda a: (
        f"{100 * a.dusty:.0f} % of what lands is half dry; "
        f"it feels rough from {100 * FAULT_FROM['dusty']:.0f} %"
    ),
    "nothing": lambda a: (
        f"paint stops in {100 * a.stops:.0f} of a hundred strokes; "
        f"told from {100 * FAULT_FROM['stops']:.0f}"
    ),
    "clean": lambda a: (
        f"{a.specks_cm2:.0f} specks to the cm², {a.finger_mm:.0f} mm of fingers, "
        f"{100 * a.dusty:.0f} % half dry: nothing reaches its limit"
    ),
}


def shows_words(asked: PracticeAsked) -> str:
    """What was measured on a card as it was made."""
    return SHOWS[asked.look](asked)
