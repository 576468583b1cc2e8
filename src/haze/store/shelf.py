"""Paints, thinners and airbrushes."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass


@dataclass(frozen=True, slots=True)
class PaintRow:
    """A paint on the shelf; `drop_ul` in microlitres."""

    id: str
    maker: str
    name: str
    kind: str
    masstone: str
    opacity: str
    finish: str
    drop_ul: float


@dataclass(frozen=True, slots=True)
class ThinnerRow:
    """A thinner on the shelf."""

    id: str
    name: str
    kind: str
    drop_ul: float


@dataclass(frozen=True, slots=True)
class AirbrushRow:
    """An airbrush with the needle it holds."""

    id: str
    name: str
    needle_mm: float
    cup_ml: float


PUT_PAINT = """
INSERT INTO paint (id, maker, name, kind, masstone, opacity, finish, drop_ul)
VALUES (:id, :maker, :name, :kind, :masstone, :opacity, :finish, :drop_ul)
ON CONFLICT (id) DO UPDATE SET maker = :maker, name = :name, kind = :kind, masstone = :masstone,
  opacity = :opacity, finish = :finish, drop_ul = :drop_ul
"""
PAINTS = """
SELECT id, maker, name, kind, masstone, opacity, finish, drop_ul FROM paint ORDER BY name, id
"""
PUT_THINNER = """
INSERT INTO thinner (id, name, kind, drop_ul) VALUES (:id, :name, :kind, :drop_ul)
ON CONFLICT (id) DO UPDATE SET name = :name, kind = :kind, drop_ul = :drop_ul
"""
THINNERS = "SELECT id, name, kind, drop_ul FROM thinner ORDER BY name, id"
PUT_AIRBRUSH = """
INSERT INTO airbrush (id, name, needle_mm, cup_ml) VALUES (:id, :name, :needle_mm, :cup_ml)
ON CONFLICT (id) DO UPDATE SET name = :name, needle_mm = :needle_mm, cup_ml = :cup_ml
"""
AIRBRUSHES = "SELECT id, name, needle_mm, cup_ml FROM airbrush ORDER BY needle_mm, name, id"


def put_paint(db: sqlite3.Connection, row: PaintRow) -> None:
    """Add a paint, or change the one with its id."""
    db.execute(PUT_PAINT, asdict(row))


def paints(db: sqlite3.Connection) -> list[PaintRow]:
    """All paints by name."""
    return [PaintRow(**dict(row)) for row in db.execute(PAINTS)]


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
