"""Paints, thinners, airbrushes and the compressor; what is put away lies in the trash."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from haze.store.connection import MissingError, now


@dataclass(frozen=True, slots=True)
class PaintRow:
    """A paint on the shelf; `drop_ul` in microlitres, `ml_left` None when nobody counts.

    `over_dark`, `over_light` and `swatch_um` are two swatches, or all None. `colour_from` is
    "given", or "guessed" from the name.
    """

    id: str
    maker: str
    name: str
    kind: str
    masstone: str
    opacity: str
    finish: str
    drop_ul: float
    range: str = ""
    ml_left: float | None = None
    strength: float = 1.0
    fluorescent: float = 0.0
    over_dark: str | None = None
    over_light: str | None = None
    swatch_um: float | None = None
    colour_from: str = "given"


@dataclass(frozen=True, slots=True)
class ThinnerRow:
    """A thinner on the shelf."""

    id: str
    name: str
    kind: str
    drop_ul: float
    ml_left: float | None = None


@dataclass(frozen=True, slots=True)
class AirbrushRow:
    """An airbrush with the needle it holds."""

    id: str
    name: str
    needle_mm: float
    cup_ml: float


@dataclass(frozen=True, slots=True)
class CompressorRow:
    """A compressor: the highest pressure it gives [psi], and its tank [l], 0 without one."""

    id: str
    name: str
    most_psi: float
    tank_l: float


PAINT_COLUMNS = (
    'id, maker, "range", name, kind, masstone, opacity, finish, drop_ul, ml_left, strength, '
    "fluorescent, over_dark, over_light, swatch_um, colour_from"
)
PUT_PAINT = f"""
INSERT INTO paint ({PAINT_COLUMNS})
VALUES (:id, :maker, :range, :name, :kind, :masstone, :opacity, :finish, :drop_ul, :ml_left,
  :strength, :fluorescent, :over_dark, :over_light, :swatch_um,
  :colour_from)
ON CONFLICT (id) DO UPDATE SET maker = :maker, "range" = :range, name = :name, kind = :kind,
  masstone = :masstone, opacity = :opacity, finish = :finish, drop_ul = :drop_ul,
  ml_left = :ml_left, strength = :strength, fluorescent = :fluorescent, over_dark = :over_dark,
  over_light = :over_light, swatch_um = :swatch_um,
  colour_from = :colour_from, trashed_at = NULL
"""
PAINTS = f"SELECT {PAINT_COLUMNS} FROM paint WHERE trashed_at IS NULL ORDER BY name, id"
TRASHED_PAINTS = f"""
SELECT {PAINT_COLUMNS} FROM paint WHERE trashed_at IS NOT NULL ORDER BY trashed_at DESC, name, id
"""
TRASH_PAINT = "UPDATE paint SET trashed_at = :at WHERE id = :id"
EMPTY_PAINTS = "DELETE FROM paint WHERE trashed_at IS NOT NULL"
PUT_THINNER = """
INSERT INTO thinner (id, name, kind, drop_ul, ml_left)
VALUES (:id, :name, :kind, :drop_ul, :ml_left)
ON CONFLICT (id) DO UPDATE SET name = :name, kind = :kind, drop_ul = :drop_ul,
  ml_left = :ml_left, trashed_at = NULL
"""
THINNERS = """
SELECT id, name, kind, drop_ul, ml_left FROM thinner WHERE trashed_at IS NULL ORDER BY name, id
"""
TRASH_THINNER = "UPDATE thinner SET trashed_at = :at WHERE id = :id AND trashed_at IS NULL"
PUT_AIRBRUSH = """
INSERT INTO airbrush (id, name, needle_mm, cup_ml) VALUES (:id, :name, :needle_mm, :cup_ml)
ON CONFLICT (id) DO UPDATE SET name = :name, needle_mm = :needle_mm, cup_ml = :cup_ml,
  trashed_at = NULL
"""
AIRBRUSHES = """
SELECT id, name, needle_mm, cup_ml FROM airbrush WHERE trashed_at IS NULL
ORDER BY needle_mm, name, id
"""
TRASH_AIRBRUSH = "UPDATE airbrush SET trashed_at = :at WHERE id = :id AND trashed_at IS NULL"
PUT_COMPRESSOR = """
INSERT INTO compressor (id, name, most_psi, tank_l) VALUES (:id, :name, :most_psi, :tank_l)
ON CONFLICT (id) DO UPDATE SET name = :name, most_psi = :most_psi, tank_l = :tank_l,
  trashed_at = NULL
"""
COMPRESSORS = """
SELECT id, name, most_psi, tank_l FROM compressor WHERE trashed_at IS NULL ORDER BY name, id
"""
TRASH_COMPRESSOR = "UPDATE compressor SET trashed_at = :at WHERE id = :id AND trashed_at IS NULL"


def put_paint(db: sqlite3.Connection, row: PaintRow) -> None:
    """Add a paint, or change the one with its id."""
    db.execute(PUT_PAINT, asdict(row))


def paints(db: sqlite3.Connection) -> list[PaintRow]:
    """All paints by name."""
    return [PaintRow(**dict(row)) for row in db.execute(PAINTS)]


def trashed_paints(db: sqlite3.Connection) -> list[PaintRow]:
    """Paints in the trash, last put there first."""
    return [PaintRow(**dict(row)) for row in db.execute(TRASHED_PAINTS)]


def set_paints_trashed(db: sqlite3.Connection, ids: Sequence[str], *, trashed: bool) -> None:
    """Put paints into the trash, or take them out; `MissingError` when one is not there."""
    at = now() if trashed else None
    for identity in ids:
        if db.execute(TRASH_PAINT, {"id": identity, "at": at}).rowcount != 1:
            raise MissingError("A paint that was named is not on the shelf.", field="ids")


def empty_paint_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash; how many paints went."""
    return int(db.execute(EMPTY_PAINTS).rowcount)


def put_thinner(db: sqlite3.Connection, row: ThinnerRow) -> None:
    """Add a thinner, or change the one with its id."""
    db.execute(PUT_THINNER, asdict(row))


def thinners(db: sqlite3.Connection) -> list[ThinnerRow]:
    """All thinners by name."""
    return [ThinnerRow(**dict(row)) for row in db.execute(THINNERS)]


def put_airbrush(db: sqlite3.Connection, row: AirbrushRow) -> None:
    """Add an airbrush, or change the one with its id."""
    db.execute(PUT_AIRBRUSH, asdict(row))


def airbrushes(db: sqlite3.Connection) -> list[AirbrushRow]:
    """All airbrushes, finest needle first."""
    return [AirbrushRow(**dict(row)) for row in db.execute(AIRBRUSHES)]


def put_compressor(db: sqlite3.Connection, row: CompressorRow) -> None:
    """Add a compressor, or change the one with its id."""
    db.execute(PUT_COMPRESSOR, asdict(row))


def compressors(db: sqlite3.Connection) -> list[CompressorRow]:
    """All compressors by name."""
    return [CompressorRow(**dict(row)) for row in db.execute(COMPRESSORS)]


TRASH_GEAR = {
    "thinner": TRASH_THINNER,
    "airbrush": TRASH_AIRBRUSH,
    "compressor": TRASH_COMPRESSOR,
}


def trash_gear(db: sqlite3.Connection, what: str, identity: str) -> None:
    """Put a thinner, an airbrush or a compressor away; `MissingError` when it is not there."""
    if db.execute(TRASH_GEAR[what], {"id": identity, "at": now()}).rowcount != 1:
        raise MissingError(f"This {what} is not on the shelf.", field="id")
