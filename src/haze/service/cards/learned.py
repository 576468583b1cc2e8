"""What a card teaches once the painter agrees with what its photo shows."""

from __future__ import annotations

from pydantic import BaseModel, Field

from haze.core.spray.calibrate import CLASSES, Look, Trial, believe, believed, tables
from haze.core.spray.unsure import Latents
from haze.service.cards.card_read import CardRead
from haze.service.cards.cards import one, view
from haze.service.cards.photos import CardPhotoView, photo_view
from haze.service.cups import trials
from haze.service.cups.beliefs import Beliefs, MeasuredIn
from haze.service.cups.trials import Taught, TrialBody
from haze.service.forms.records import reading
from haze.service.forms.wire import Strict
from haze.store import cards as store
from haze.store.connection import Database, MissingError


class AgreeBody(Strict):
    """Which look the painter sees on the card; the trial's id is made by the browser."""

    id: str = Field(pattern=r"^[A-Za-z0-9-]{8,64}$")
    look: Look


class WouldTeach(BaseModel):
    """What agreeing with a look would change: how likely that look is here, before and after."""

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
    with reading("card_photo", photo):
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
    measured = _measured(found, body.look)
    taught = trials.log(
        db,
        beliefs,
        trial,
        measured=measured.model_dump_json() if measured else None,
        marked=lambda tx: store.taught(tx, photo, trial=body.id),
    )
    after, _ = believed(beliefs.of(asked.through))
    shown = photo_view(db, store.photo(db.connection(), photo))
    return CardTaught(photo=shown, taught=taught, words=_taught_words(before, after, taught))


def would_teach(db: Database, beliefs: Beliefs, photo: str) -> WouldTeachList:
    """What each of the likeliest looks would teach; nothing is learned by asking.

    Raises
    ------
    MissingError when there is no such photo
    """
    row = store.photo(db.connection(), photo)
    with reading("card_photo", photo):
        found = CardRead.model_validate_json(row.found)
    if row.card is None or row.trial is not None or not found.looks:
        return WouldTeachList(would=[])
    asked = view(one(db, row.card)).asked
    setting = asked.sprayed
    before = (beliefs.of(asked.through) or believe([], tables())).looks(setting)
    would = []
    for look in (likely.look for likely in found.looks[:2]):
        measured = _measured(found, look)
        trial = Trial(setting, look, measured.measured if measured else None)
        after = beliefs.if_tried(asked.through, trial).looks(setting)
        n = CLASSES.index(look)
        would.append(WouldTeach(look=look, before=float(before[n]), after=float(after[n])))
    return WouldTeachList(would=would)


def _measured(found: CardRead, look: Look) -> MeasuredIn | None:
    """What was measured; of what came and went neither width nor film says how the jet is."""
    return None if look == "nothing" else found.measured


def take_back(db: Database, beliefs: Beliefs, photo: str) -> CardPhotoView:
    """Let what a card taught no longer count; the photo can be agreed with again."""
    row = store.photo(db.connection(), photo)
    if row.trial is not None:
        trials.take_back(db, beliefs, row.trial, back=True)
    return photo_view(db, store.photo(db.connection(), photo))


FACTORS = (
    ("width", "The spray is {} than the tables say", ("wider", "narrower")),
    ("flow", "This needle passes {} at a stop of the trigger", ("more", "less")),
    ("viscosity", "This paint is {} than its kind", ("thicker", "thinner")),
    ("creep", "It creeps {} than its kind", ("sooner", "later")),
    ("droplet", "Its droplets are {} than reckoned", ("larger", "finer")),
)
LEAST_CHANGE = 0.04


def _taught_words(before: Latents, after: Latents, taught: Taught) -> list[str]:
    """What changed most, in words."""
    changes = []
    for name, form, (more, less) in FACTORS:
        was, now_ = float(getattr(before, name)), float(getattr(after, name))
        if abs(now_ / was - 1) > LEAST_CHANGE:
            share = abs(now_ - 1)
            side = f"{share:.0%} {more if now_ > 1 else less}".replace("%", " %")
            changes.append((abs(now_ / was - 1), f"{form.format(side)}."))
    changed = [words for _, words in sorted(changes, reverse=True)[:2]]
    clean = f"Clean here: {taught.before.clean:.0%} before, {taught.after.clean:.0%} now."
    return [*changed, clean.replace("%", " %")]
