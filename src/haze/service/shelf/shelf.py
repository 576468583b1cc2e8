"""The shelf: paints, thinners, airbrushes and compressors, and every change to them."""

from __future__ import annotations

import hashlib
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Annotated, TypeVar

from pydantic import BaseModel, Field, PrivateAttr

from haze.core.drafting.stock import Stock
from haze.core.errors import LastOneError, NothingToDoError, TwinError
from haze.core.film.finish import Finish
from haze.core.film.paint import Opacity
from haze.core.plan.base import Identity
from haze.core.plan.paint import AirbrushUsed, DropUl, Maker, PaintUsed, ThinnerUsed
from haze.core.spray.calibrate import Known, nothing_known
from haze.core.spray.constants import PaintKind
from haze.service.forms.records import (
    Kind,
    Readable,
    Unreadable,
    readable,
    reading,
)
from haze.service.forms.wire import Strict
from haze.service.shelf import starter
from haze.service.shelf.chips import Chip, chip_of, wall_order
from haze.service.shelf.paints import Millilitres, PaintOnShelf, key_of, paint_of, row_of
from haze.service.work.jobs import Report
from haze.store import shelf, shelf_steps
from haze.store.connection import Database, MissingError
from haze.store.shelf import AirbrushRow, CompressorRow, PaintRow, ThinnerRow

GearRow = ThinnerRow | AirbrushRow | CompressorRow
M = TypeVar("M", bound=BaseModel)


class Shelf(BaseModel):
    """Everything on the shelf, as a plan would use it."""

    paints: list[PaintUsed]
    thinners: list[ThinnerUsed]
    airbrushes: list[AirbrushUsed]
    _known: Known = PrivateAttr(default_factory=lambda: nothing_known)

    def knowing(self, known: Known) -> Shelf:
        """The same with what trials say of it."""
        self._known = known
        return self

    @property
    def stock(self) -> Stock:
        """What drafts and fixes may take from it."""
        have = tuple(self.paints), tuple(self.thinners), tuple(self.airbrushes)
        return Stock(*have, known=self._known)

    @property
    def fingerprint(self) -> str:
        """Hash of all that stands there."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()


class ThinnerOnShelf(ThinnerUsed):
    """A thinner and what is left of it."""

    ml_left: Millilitres | None = None


class Compressor(Strict):
    """A compressor; `tank_l` 0 without a tank."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    most_psi: float = Field(ge=1, le=300)
    tank_l: float = Field(default=0, ge=0, le=1000)


class ShelfScreen(BaseModel):
    """The shelf with its chips, what lies in the trash, and what undo and redo would do."""

    chips: list[Chip]
    trashed: list[PaintOnShelf]
    thinners: list[ThinnerOnShelf]
    airbrushes: list[AirbrushUsed]
    compressors: list[Compressor]
    undo: str | None
    redo: str | None
    unreadable: list[Unreadable]


class BulkChange(Strict):
    """The same change to many paints; null leaves a field as it is."""

    ids: Annotated[list[Identity], Field(min_length=1, max_length=5000)]
    maker: Maker | None = None
    range: Maker | None = None
    kind: PaintKind | None = None
    opacity: Opacity | None = None
    finish: Finish | None = None
    drop_ul: DropUl | None = None
    ml_left: Millilitres | None = None


def equip(db: Database) -> None:
    """Put the usual equipment into a data folder that has none: no paint, that is the painter's."""
    with db.atomic() as tx:
        if shelf.paints(tx) or shelf.airbrushes(tx) or shelf.trashed_paints(tx):
            return
        for thinner in starter.THINNERS:
            shelf.put_thinner(tx, thinner)
        for airbrush in starter.AIRBRUSHES:
            shelf.put_airbrush(tx, airbrush)
        shelf.put_compressor(tx, starter.COMPRESSOR)


def shelf_of(db: Database) -> Shelf:
    """Paints, thinners and airbrushes as a plan would use them."""
    tx = db.connection()
    return Shelf(
        paints=[p.used for p in _paints(shelf.paints(tx)).views],
        thinners=[
            ThinnerUsed(id=t.id, name=t.name, kind=t.kind, drop_ul=t.drop_ul)
            for t in thinners(tx).views
        ],
        airbrushes=airbrushes(tx).views,
    )


def _paints(rows: Sequence[PaintRow]) -> Readable[PaintOnShelf]:
    return readable(rows, paint_of, lambda row: named_on_shelf("paint", row))


def paints(tx: sqlite3.Connection) -> Readable[PaintOnShelf]:
    """Paints that are not in the trash."""
    return _paints(shelf.paints(tx))


def thinners(tx: sqlite3.Connection) -> Readable[ThinnerOnShelf]:
    """Thinners that are not put away."""
    return _gear("thinner", shelf.thinners(tx), ThinnerOnShelf)


def airbrushes(tx: sqlite3.Connection) -> Readable[AirbrushUsed]:
    """Airbrushes that are not put away."""
    return _gear("airbrush", shelf.airbrushes(tx), AirbrushUsed)


def _gear(kind: Kind, rows: Sequence[GearRow], model: type[M]) -> Readable[M]:
    return readable(
        rows,
        lambda row: model.model_validate(row, from_attributes=True),
        lambda row: named_on_shelf(kind, row),
    )


def named_on_shelf(kind: Kind, row: PaintRow | GearRow) -> Unreadable:
    """What can be said of a paint or a piece of gear without reading it."""
    return Unreadable(kind=kind, id=row.id, name=row.name or kind)


def get_ready(db: Database, report: Report) -> None:
    """Work out the chips, so that the first look at the shelf need not wait.

    Parameters
    ----------
    db : where the shelf stands
    report : hears how far it is; ends it by False
    """
    held = paints(db.connection()).views
    for done, paint in enumerate(held):
        if not report(done / len(held), "Laying out the shelf"):
            return
        chip_of(paint)


def screen(db: Database) -> ShelfScreen:
    """The whole shelf, chips ordered by hue and lightness."""
    tx = db.connection()
    steps = shelf_steps.steps(tx)
    chips = readable(
        shelf.paints(tx),
        lambda row: chip_of(paint_of(row)),
        lambda row: named_on_shelf("paint", row),
    )
    trashed = _paints(shelf.trashed_paints(tx))
    thin, brushes = thinners(tx), airbrushes(tx)
    compressors = _gear("compressor", shelf.compressors(tx), Compressor)
    return ShelfScreen(
        chips=sorted(chips.views, key=wall_order),
        trashed=trashed.views,
        thinners=thin.views,
        airbrushes=brushes.views,
        compressors=compressors.views,
        undo=steps.undo,
        redo=steps.redo,
        unreadable=[
            *chips.unreadable,
            *trashed.unreadable,
            *thin.unreadable,
            *brushes.unreadable,
            *compressors.unreadable,
        ],
    )


@contextmanager
def step(db: Database, what: str) -> Iterator[sqlite3.Connection]:
    """One change to the shelf, whole or not at all, that can be undone."""
    with db.atomic() as tx:
        before = shelf_steps.every_row(tx)
        yield tx
        shelf_steps.record(tx, what, before=before)


def undo(db: Database) -> ShelfScreen:
    """Take the last change to the shelf back."""
    with _stepping(), db.atomic() as tx:
        shelf_steps.undo(tx)
    return screen(db)


def redo(db: Database) -> ShelfScreen:
    """Do the change again that was undone last."""
    with _stepping(), db.atomic() as tx:
        shelf_steps.redo(tx)
    return screen(db)


def add_example(db: Database) -> ShelfScreen:
    """The example shelf beside what is there; `NothingToDoError` when all of it is."""
    with step(db, "Example shelf added") as tx:
        known = {row.id for row in (*shelf.paints(tx), *shelf.trashed_paints(tx))}
        names = {key_of(row.maker, row.name) for row in shelf.paints(tx)}
        new = [
            row
            for row in starter.PAINTS
            if row.id not in known and key_of(row.maker, row.name) not in names
        ]
        if not new:
            raise NothingToDoError("The example shelf is here already. Nothing was changed.")
        for row in new:
            shelf.put_paint(tx, row)
    return screen(db)


@contextmanager
def _stepping() -> Iterator[None]:
    """A stored change that cannot be read, or no longer fits, is refused in words."""
    try:
        yield
    except (sqlite3.IntegrityError, ValueError, KeyError, TypeError, AttributeError) as error:
        raise NothingToDoError(
            "The last change to the shelf cannot be read any more, so it cannot be undone. Nothing "
            "was changed."
        ) from error


def _counted(count: int) -> str:
    return "1 paint" if count == 1 else f"{count} paints"


def put_paint(db: Database, paint: PaintOnShelf) -> Chip:
    """Add a paint, or change the one with its id; refused when its swatches tell nothing."""
    chip = chip_of(paint)
    with step(db, f"{paint.name} kept") as tx:
        _no_twin(tx, paint)
        shelf.put_paint(tx, row_of(_settled(tx, paint)))
    return chip


def _settled(tx: sqlite3.Connection, paint: PaintOnShelf) -> PaintOnShelf:
    """The paint; a guessed colour that was changed, or has swatches now, is a given one."""
    was = next((row.masstone for row in shelf.paints(tx) if row.id == paint.id), paint.masstone)
    if paint.colour_from == "guessed" and (paint.swatches or was != paint.masstone.lower()):
        return paint.model_copy(update={"colour_from": "given"})
    return paint


def _no_twin(tx: sqlite3.Connection, paint: PaintOnShelf) -> None:
    for row in shelf.paints(tx):
        if row.id != paint.id and key_of(row.maker, row.name) == key_of(paint.maker, paint.name):
            raise TwinError(
                f"{paint.name} of {paint.maker or 'no maker'} is on the shelf already. Nothing was "
                "changed.",
                field="name",
            )


def change_many(db: Database, change: BulkChange) -> ShelfScreen:
    """The same change to many paints, all or none."""
    fields = change.model_dump(exclude={"ids"}, exclude_none=True)
    if not fields:
        raise NothingToDoError("Choose at least one thing to change.")
    with step(db, f"{_counted(len(set(change.ids)))} changed") as tx:
        known = {row.id: row for row in shelf.paints(tx)}
        for identity in change.ids:
            if identity not in known:
                raise MissingError("A paint that was named is not on the shelf.", field="ids")
            with reading("paint", identity):
                changed = paint_of(known[identity]).model_copy(update=fields)
            shelf.put_paint(tx, row_of(PaintOnShelf.model_validate(changed.model_dump())))
    return screen(db)


def put_away(db: Database, ids: list[str], *, trashed: bool) -> ShelfScreen:
    """Paints into the trash, or out of it."""
    what = "put away" if trashed else "taken back"
    with step(db, f"{_counted(len(set(ids)))} {what}") as tx:
        if not trashed:
            for row in shelf.trashed_paints(tx):
                if row.id in ids:
                    with reading("paint", row.id):
                        _no_twin(tx, paint_of(row))
        shelf.set_paints_trashed(tx, ids, trashed=trashed)
    return screen(db)


def empty_trash(db: Database) -> ShelfScreen:
    """Delete for good what is in the trash; earlier changes can not be undone after it."""
    with db.atomic() as tx:
        shelf.empty_paint_trash(tx)
        shelf_steps.forget(tx)
    return screen(db)


def put_thinner(db: Database, thinner: ThinnerOnShelf) -> ShelfScreen:
    """Add or change a thinner."""
    with step(db, f"{thinner.name} kept") as tx:
        shelf.put_thinner(
            tx,
            ThinnerRow(thinner.id, thinner.name, thinner.kind, thinner.drop_ul, thinner.ml_left),
        )
    return screen(db)


def put_airbrush(db: Database, airbrush: AirbrushUsed) -> ShelfScreen:
    """Add or change an airbrush."""
    with step(db, f"{airbrush.name} kept") as tx:
        shelf.put_airbrush(
            tx, AirbrushRow(airbrush.id, airbrush.name, airbrush.needle_mm, airbrush.cup_ml)
        )
    return screen(db)


def put_compressor(db: Database, given: Compressor) -> ShelfScreen:
    """Add or change a compressor."""
    with step(db, f"{given.name} kept") as tx:
        shelf.put_compressor(tx, CompressorRow(given.id, given.name, given.most_psi, given.tank_l))
    return screen(db)


def drop_gear(db: Database, what: str, identity: str) -> ShelfScreen:
    """Put a thinner, an airbrush or a compressor away."""
    with step(db, f"{what} put away") as tx:
        left = {"thinner": len(shelf.thinners(tx)), "airbrush": len(shelf.airbrushes(tx))}
        if left.get(what, 2) < 2:
            raise LastOneError(f"The last {what} stays: a plan needs one.", field="id")
        shelf.trash_gear(tx, what, identity)
    return screen(db)
