"""Cards, their photos, photos of painted pieces and practice, as files hold them."""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Container, Mapping
from dataclasses import dataclass
from sqlite3 import Connection as Tx

from haze.service.cards.card_read import CardRead
from haze.service.cards.cards import CardBody, named_card
from haze.service.cards.comparison import Compared
from haze.service.cards.photos import named_photo
from haze.service.cards.piece_photos import Marks, named_piece_photo
from haze.service.cards.practice import PracticeAsked, PracticeKept, named_practice
from haze.service.files.called import Called, card_with_names
from haze.service.files.documents import (
    MOST_PRACTICE,
    CardPart,
    CardPhotoPart,
    HazeFile,
    PiecePhotoPart,
    PracticePart,
)
from haze.service.forms.records import readable
from haze.service.notebook.photos import Sized
from haze.store import cards, piece_photos, practice, trials
from haze.store.cards import CardPhotoRow, CardRow
from haze.store.piece_photos import PiecePhotoRow
from haze.store.practice import PracticeRow


@dataclass(frozen=True, slots=True)
class OfCards:
    """What of cards goes into a file, or comes with one."""

    cards: list[CardPart]
    card_photos: list[CardPhotoPart]
    piece_photos: list[PiecePhotoPart]
    practice: list[PracticePart]


def everything(tx: Tx, plans: set[str]) -> OfCards:
    """All that does not lie in the trash.

    Parameters
    ----------
    tx : read from
    plans : identities of the plans of the file
    """
    made = _cards(tx)
    return OfCards(
        cards=made,
        card_photos=_card_photos(tx, {None, *(card.number for card in made)}),
        piece_photos=_piece_photos(tx, plans),
        practice=readable(practice.answered(tx, MOST_PRACTICE), _practice, named_practice).views,
    )


def _practice(row: PracticeRow) -> PracticePart:
    return PracticePart(
        id=row.id,
        at=row.at,
        asked=PracticeAsked.model_validate_json(row.asked),
        answer=PracticeKept.model_validate_json(row.answer or ""),
    )


def of_plan(tx: Tx, plan: str) -> OfCards:
    """Cards that were made for a plan, their photos, and those of its piece.

    Parameters
    ----------
    tx : read from
    plan : its identity
    """
    made = [card for card in _cards(tx) if card.asked.plan == plan]
    return OfCards(
        cards=made,
        card_photos=_card_photos(tx, {card.number for card in made}),
        piece_photos=_piece_photos(tx, {plan}),
        practice=[],
    )


def _cards(tx: Tx) -> list[CardPart]:
    return readable(cards.every(tx), _card, named_card).views


def _card(row: CardRow) -> CardPart:
    asked = CardBody.model_validate_json(row.asked)
    return CardPart(number=row.number, made_at=row.made_at, dark=row.dark, asked=asked)


def _card_photos(tx: Tx, numbers: Container[int | None]) -> list[CardPhotoPart]:
    held = [r for r in cards.every_photo(tx) if r.trashed_at is None and r.card in numbers]
    return readable(held, _card_photo, named_photo).views


def _card_photo(row: CardPhotoRow) -> CardPhotoPart:
    return CardPhotoPart(
        id=row.id,
        at=row.at,
        card=row.card,
        trial=row.trial,
        found=CardRead.model_validate_json(row.found),
    )


def _piece_photos(tx: Tx, plans: Container[str]) -> list[PiecePhotoPart]:
    held = [r for r in piece_photos.every(tx) if r.trashed_at is None and r.plan in plans]
    return readable(held, _piece_photo, named_piece_photo).views


def _piece_photo(row: PiecePhotoRow) -> PiecePhotoPart:
    return PiecePhotoPart(
        id=row.id,
        at=row.at,
        plan=row.plan,
        marks=Marks.model_validate_json(row.marks) if row.marks else None,
        told=Compared.model_validate_json(row.told) if row.told else None,
    )


def picture_of(tx: Tx, part: CardPhotoPart | PiecePhotoPart) -> bytes:
    """JPEG of a photo that goes into a file."""
    read = cards.photo_data if isinstance(part, CardPhotoPart) else piece_photos.data
    return read(tx, part.id)


def coming(tx: Tx, found: HazeFile, copied: Container[str]) -> OfCards:
    """What of the cards in a file is not here yet, by number and identity.

    Parameters
    ----------
    tx : what is here
    found : what the file holds
    copied : plans of the file that come in as a copy, and their photos with them
    """
    return OfCards(
        cards=[c for c in found.cards if cards.find(tx, c.number) is None],
        card_photos=[p for p in found.card_photos if not cards.photo_is_known(tx, p.id)],
        piece_photos=[
            p for p in found.piece_photos if p.plan in copied or not piece_photos.is_known(tx, p.id)
        ],
        practice=[p for p in found.practice if not practice.is_known(tx, p.id)],
    )


@dataclass(frozen=True, slots=True)
class Added:
    """How many cards and photos of a file were added."""

    cards: int
    photos: int


def add(tx: Tx, found: HazeFile, made: Mapping[str, Sized], called: Called) -> Added:
    """Add what of the cards in a file is not here yet.

    A number that another card has here stays that card's; photos then are of no card.

    Parameters
    ----------
    tx : added to
    found : what the file holds
    made : each photo as it is kept, by its entry in the file
    called : identities here, by those in the file
    """
    new = coming(tx, found, {there for there, here in called.plans.items() if there != here})
    for card in new.cards:
        asked = card_with_names(card.asked, called).model_dump_json()
        cards.add(tx, CardRow(card.number, card.made_at, card.dark, asked))
    made_at = {card.number: card.made_at for card in found.cards}
    ours = {n for n, at in made_at.items() if (row := cards.find(tx, n)) and row.made_at == at}
    kept = [_add_card_photo(tx, p, made[p.entry], ours) for p in new.card_photos]
    kept += [_add_piece_photo(tx, p, made[p.entry], called) for p in new.piece_photos]
    for one in new.practice:
        practice.add(tx, PracticeRow(one.id, one.at, one.asked.model_dump_json()))
        practice.answer(tx, one.id, answer=one.answer.model_dump_json())
    return Added(len(new.cards), sum(kept))


def _add_card_photo(tx: Tx, part: CardPhotoPart, made: Sized, ours: Container[int | None]) -> bool:
    row = CardPhotoRow(
        id=part.id,
        at=part.at,
        hash=hashlib.sha256(made.data).hexdigest(),
        card=part.card if part.card in ours else None,
        width=made.width,
        height=made.height,
        found=part.found.model_dump_json(),
    )
    if cards.photo_is_known(tx, row.hash):
        return False
    cards.add_photo(tx, row, data=made.data)
    if part.trial and trials.is_known(tx, part.trial):
        cards.taught(tx, part.id, trial=part.trial)
    return True


def _add_piece_photo(tx: Tx, part: PiecePhotoPart, made: Sized, called: Called) -> bool:
    row = PiecePhotoRow(
        id=uuid.uuid4().hex if piece_photos.is_known(tx, part.id) else part.id,
        at=part.at,
        hash=hashlib.sha256(made.data).hexdigest(),
        plan=called.plans.get(part.plan, part.plan),
        width=made.width,
        height=made.height,
    )
    if piece_photos.add(tx, row, data=made.data).id != row.id:
        return False
    if part.marks and part.told:
        comparison = part.told.model_dump_json()
        piece_photos.tell(tx, row.id, marks=part.marks.model_dump_json(), told=comparison)
    return True
