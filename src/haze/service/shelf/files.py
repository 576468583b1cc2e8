"""Paints in and out: CSV, palette, a pasted list; nothing is half-imported."""

from __future__ import annotations

import re
import unicodedata
from typing import Any, Literal

from pydantic import BaseModel, ValidationError

from haze.core.errors import HazeError, TwinError
from haze.core.plan.named import usual_opacity
from haze.core.spray.constants import PaintKind
from haze.formats import palette as palettes
from haze.formats.paint_list import read_list
from haze.formats.palette import PaletteFile, Swatch
from haze.formats.shelf_csv import CsvLine, read_lines, write_rows
from haze.service.shelf.paints import PaintOnShelf, key_of, paint_of, row_of
from haze.service.shelf.shelf import step
from haze.store import shelf, shelf_steps
from haze.store.connection import Database

NO_COLOUR = (
    "There is no colour: write #rrggbb after the name; a name with a colour in it, such as blue "
    "grey or dark rust, is taken at its word."
)


class RejectedLine(BaseModel):
    line: int
    reason: str


class ImportLine(BaseModel):
    """What a line would do."""

    line: int
    name: str
    what: Literal["new", "changed", "same"]
    fields: list[str]
    masstone: str
    guessed: bool


class ImportPreview(BaseModel):
    """What a file would change; `applied` when it has been done."""

    applied: bool
    new: int
    changed: int
    same: int
    lines: list[ImportLine]
    rejected: list[RejectedLine]


def slug(*words: str) -> str:
    """An id of plain letters from names."""
    text = unicodedata.normalize("NFKD", "-".join(w for w in words if w)).lower()
    text = "".join(c for c in text if not unicodedata.combining(c))
    text = re.sub(r"[^a-z0-9]+", "-", text).strip("-")
    return text[:56] or "paint"


def export_csv(db: Database) -> bytes:
    """The shelf as CSV."""
    rows = []
    for row in shelf.paints(db.connection()):
        cells: dict[str, object] = {
            "maker": row.maker,
            "range": row.range,
            "name": row.name,
            "kind": row.kind,
            "colour": row.masstone,
            "opacity": row.opacity,
            "finish": row.finish,
            "ml_left": row.ml_left,
            "drop_ul": row.drop_ul,
            "strength": row.strength,
            "fluorescent": row.fluorescent,
            "over_dark": row.over_dark,
            "over_light": row.over_light,
            "swatch_um": row.swatch_um,
            "colour_from": row.colour_from,
        }
        rows.append(cells)
    return write_rows(rows)


def _from_line(line: CsvLine, have: PaintOnShelf | None, usual: PaintKind) -> PaintOnShelf:
    """A paint from its cells; what a line leaves empty stays as it is on the shelf.

    A colour that was guessed from the name never replaces one that is there.
    """
    cells = {k: v for k, v in line.cells.items() if v}
    if have and cells.get("colour_from") == "guessed":
        cells.pop("colour", None)
        cells.pop("colour_from")
    elif "colour" in cells:
        cells.setdefault("colour_from", "given")
    swatches = [cells.pop(k, None) for k in ("over_dark", "over_light", "swatch_um")]
    if "colour" in cells:
        cells["masstone"] = _hex(cells.pop("colour"))
    for name in ("kind", "opacity", "finish"):
        if name in cells:
            cells[name] = cells[name].lower().replace(" ", "_").replace("-", "_")
    if have:
        base = have.model_dump()
    else:
        kind: Any = cells.get("kind", usual)
        base = {"kind": kind, "opacity": usual_opacity(kind)}
    if swatches[0] and swatches[1]:
        base["swatches"] = {
            "over_dark": _hex(swatches[0]),
            "over_light": _hex(swatches[1]),
            "film_um": swatches[2] or 10.0,
        }
    base.setdefault("id", slug(cells.get("maker", ""), cells.get("name", "")))
    return PaintOnShelf.model_validate(base | cells)


def _hex(text: str) -> str:
    text = text.strip().lower()
    return text if text.startswith("#") else f"#{text}"


def _reason(error: ValidationError) -> str:
    first = error.errors(include_url=False)[0]
    column = str(first["loc"][0]) if first["loc"] else "line"
    column = {"masstone": "colour"}.get(column, column)
    if column == "colour" and first["type"] == "missing":
        return NO_COLOUR
    given = first.get("input")
    shown = f" {given!r:.40}" if isinstance(given, str | int | float) else ""
    return f"{column}{shown}: {first['msg']}"


def import_csv(db: Database, data: bytes, *, apply: bool) -> ImportPreview:
    """What a CSV would change on the shelf, and, when asked, the change itself in one go."""
    return _import(db, read_lines(data), apply=apply)


def import_list(
    db: Database, text: str, *, maker: str, kind: PaintKind, apply: bool
) -> ImportPreview:
    """What a pasted list would add, and, when asked, the paints themselves in one go.

    Parameters
    ----------
    db : the database
    text : one paint a line, or a table
    maker, kind : of lines that name none
    apply : whether the shelf is changed
    """
    lines = read_list(text)
    for line in lines:
        if not line.cells.get("maker"):
            line.cells["maker"] = maker.strip()
    return _import(db, lines, usual=kind, apply=apply)


def _import(
    db: Database, lines: list[CsvLine], *, usual: PaintKind = "airbrush_acrylic", apply: bool
) -> ImportPreview:
    """Look at lines without holding anybody up; put their paints on the shelf when asked.

    The change is one short transaction, made only when the shelf still is as it was looked at.
    """
    while True:
        before = shelf_steps.every_row(db.connection())
        out, paints = _looked_at(db, lines, usual)
        if not apply:
            return out
        with step(db, "list brought in") as tx:
            if shelf_steps.every_row(tx) != before:
                continue  # changed meanwhile: look again
            for paint in paints:
                shelf.put_paint(tx, row_of(paint))
        return out.model_copy(update={"applied": True})


def _looked_at(
    db: Database, lines: list[CsvLine], usual: PaintKind
) -> tuple[ImportPreview, list[PaintOnShelf]]:
    """What the lines would change, and the paints to put on the shelf for it."""
    tx = db.connection()
    known = {key_of(r.maker, r.name): paint_of(r) for r in shelf.paints(tx)}
    taken = {p.id for p in known.values()} | {r.id for r in shelf.trashed_paints(tx)}
    out = ImportPreview(applied=False, new=0, changed=0, same=0, lines=[], rejected=[])
    paints: list[PaintOnShelf] = []
    read: set[tuple[str, str]] = set()
    for line in lines:
        try:
            paint, row = _read_line(line, known, read, taken, usual)
        except ValidationError as error:
            out.rejected.append(RejectedLine(line=line.number, reason=_reason(error)))
            continue
        except HazeError as error:
            out.rejected.append(RejectedLine(line=line.number, reason=error.message))
            continue
        out.lines.append(row)
        setattr(out, row.what, getattr(out, row.what) + 1)
        if row.what != "same":
            paints.append(paint)
    return out, paints


def _read_line(
    line: CsvLine,
    known: dict[tuple[str, str], PaintOnShelf],
    read: set[tuple[str, str]],
    taken: set[str],
    usual: PaintKind,
) -> tuple[PaintOnShelf, ImportLine]:
    key = key_of(line.cells.get("maker", ""), line.cells.get("name", ""))
    if key in read:
        raise TwinError("The same maker and name stand in an earlier line.")
    have = known.get(key)
    paint = _from_line(line, have, usual)
    if have is None:
        paint = paint.model_copy(update={"id": _free_id(paint.id, taken)})
        taken.add(paint.id)
    if paint.swatches:
        _ = paint.optics  # swatches that tell nothing are refused here
    read.add(key)
    before = have.model_dump() if have else {}
    fields = [k for k, v in paint.model_dump().items() if have and before[k] != v]
    what: Literal["new", "changed", "same"] = (
        "new" if have is None else "changed" if fields else "same"
    )
    return paint, ImportLine(
        line=line.number,
        name=paint.name,
        what=what,
        fields=fields,
        masstone=paint.masstone,
        guessed=paint.colour_from == "guessed",
    )


def _free_id(stem: str, taken: set[str]) -> str:
    n, identity = 1, stem
    while identity in taken:
        n += 1
        identity = f"{stem}-{n}"
    return identity


def export_palette(db: Database) -> bytes:
    """The shelf's own colours as a palette."""
    swatches = tuple(
        Swatch(" ".join(w for w in (row.maker, row.name) if w), row.masstone)
        for row in shelf.paints(db.connection())
    )
    return palettes.write_palette(PaletteFile("Shelf", swatches))


def import_palette(db: Database, data: bytes, *, apply: bool) -> ImportPreview:
    """Paints from a palette: names and colours, the rest as usual for a new paint."""
    swatches = palettes.read_palette(data).swatches
    makers = {row.maker for row in shelf.paints(db.connection()) if row.maker}
    rows = [_named(s, makers) for s in swatches]
    body = write_rows([{"maker": m, "name": n, "colour": h} for m, n, h in rows])
    return import_csv(db, body, apply=apply)


def _named(swatch: Swatch, makers: set[str]) -> tuple[str, str, str]:
    """A name that begins with a maker of the shelf is split there."""
    for maker in makers:
        if swatch.name.startswith(f"{maker} "):
            return maker, swatch.name[len(maker) + 1 :], swatch.hex
    return "", swatch.name, swatch.hex
