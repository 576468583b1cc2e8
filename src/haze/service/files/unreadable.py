"""Every stored record that cannot be read: listed, written out as it is, deleted when asked."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from functools import partial
from typing import Annotated, TypeVar

from pydantic import BaseModel, Field

from haze.core.errors import HazeError
from haze.core.plan.document import Plan
from haze.core.plan.paint import AirbrushUsed
from haze.service.booth import pressed
from haze.service.cards.cards import named_card
from haze.service.cards.cards import view as card_view
from haze.service.cards.photos import named_photo, photo_view
from haze.service.cards.piece_photos import named_piece_photo
from haze.service.cards.piece_photos import view as piece_photo_view
from haze.service.cards.practice import named_practice, read_practice
from haze.service.cups.beliefs import named_trial, trial_of
from haze.service.day.days import named_day, read_day
from haze.service.forms.records import Kind, Unreadable, readable
from haze.service.notebook.notebook import named_session, named_session_photo, read_session
from haze.service.notebook.notebook import photo_view as session_photo_view
from haze.service.piece.meshes import named_mesh
from haze.service.piece.meshes import view as mesh_view
from haze.service.plan.plans import DAMAGED
from haze.service.shelf.paints import paint_of
from haze.service.shelf.shelf import Compressor, ThinnerOnShelf, named_on_shelf
from haze.store import (
    booth,
    cards,
    days,
    meshes,
    photos,
    piece_photos,
    plans,
    practice,
    records,
    sessions,
    shelf,
    trials,
)
from haze.store.connection import Database
from haze.store.plans import PlanRow

R = TypeVar("R")


class ReadableError(HazeError):
    """A record that can be read, to be deleted on its own screen."""

    code = "readable"


class UnreadableList(BaseModel):
    """Records that cannot be read."""

    records: list[Unreadable]


class RecordQuery(BaseModel):
    """Which record."""

    kind: Kind
    id: Annotated[str, Field(max_length=4000)]


def everything(db: Database) -> UnreadableList:
    """All stored records that cannot be read.

    Parameters
    ----------
    db : read from
    """
    tx = db.connection()

    def bad(
        rows: list[R], read: Callable[[R], object], name: Callable[[R], Unreadable]
    ) -> Iterator[Unreadable]:
        yield from readable(rows, read, name).unreadable

    def on_shelf(kind: Kind, rows: list[R], read: Callable[[R], object]) -> Iterator[Unreadable]:
        return bad(rows, read, partial(named_on_shelf, kind))

    return UnreadableList(
        records=[
            *bad([*plans.live(tx), *plans.trashed(tx)], _plan, _named_plan),
            *bad(sessions.every(tx), read_session, named_session),
            *bad(days.every(tx), read_day, named_day),
            *bad(booth.every(tx), pressed.event_of, pressed.named),
            *bad(trials.every(tx), trial_of, named_trial),
            *bad(cards.every(tx), card_view, named_card),
            *bad(cards.every_photo(tx), partial(photo_view, db), named_photo),
            *bad(piece_photos.every(tx), piece_photo_view, named_piece_photo),
            *bad(photos.every(tx), session_photo_view, named_session_photo),
            *bad(practice.every(tx), read_practice, named_practice),
            *on_shelf("paint", [*shelf.paints(tx), *shelf.trashed_paints(tx)], paint_of),
            *on_shelf("thinner", shelf.thinners(tx), partial(_gear, ThinnerOnShelf)),
            *on_shelf("airbrush", shelf.airbrushes(tx), partial(_gear, AirbrushUsed)),
            *on_shelf("compressor", shelf.compressors(tx), partial(_gear, Compressor)),
            *bad(meshes.every(tx), mesh_view, named_mesh),
        ]
    )


def _gear(model: type[BaseModel], row: object) -> BaseModel:
    return model.model_validate(row, from_attributes=True)


def _plan(row: PlanRow) -> Plan:
    return Plan.model_validate_json(row.document)


def _named_plan(row: PlanRow) -> Unreadable:
    return Unreadable(kind="plan", id=row.id, name=DAMAGED, at=row.updated_at)


def export(db: Database, kind: Kind, identity: str) -> bytes:
    """A record and what belongs to it as JSON, cell by cell as it is stored.

    Parameters
    ----------
    db : read from
    kind, identity : which record

    Raises
    ------
    MissingError
    """
    return json.dumps(records.whole(db.connection(), kind, identity), indent=1).encode()


def delete(db: Database, kind: Kind, identity: str) -> None:
    """Delete a record that cannot be read, for good, with what belongs to it.

    Parameters
    ----------
    db : deleted from
    kind, identity : which record

    Raises
    ------
    MissingError, ReadableError
    """
    if not any((one.kind, one.id) == (kind, identity) for one in everything(db).records):
        records.whole(db.connection(), kind, identity)
        raise ReadableError(
            "This record can be read; delete it on its own screen. Nothing was changed.", field="id"
        )
    with db.atomic() as tx:
        records.delete(tx, kind, identity)
