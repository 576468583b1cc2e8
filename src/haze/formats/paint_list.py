"""A list of paints as people keep it in their notes: one paint a line, its name first.

Cells are parted by tabs, semicolons or commas: the name, then in any order "#rrggbb", a kind, an
opacity, a finish, what is left ("17 ml"); a cell that is none of these is the maker. A name may
carry its colour after it without a comma. A colour that is not given is guessed from the name.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from haze.core.errors import BadFileError
from haze.core.plan.named import colour_named, finish_named, kind_named
from haze.core.plan.words import FINISH_WORDS, OPACITY_WORDS, PAINT_KINDS
from haze.formats.shelf_csv import DELIMITERS, MOST_LINES, NEEDED, CsvLine, read_lines

BULLET = re.compile(r"^\s*(?:[-*•–]|\d{1,4}[.)])\s+")
COLOUR = re.compile(r"#([0-9a-fA-F]{6})\b")
LEFT = re.compile(r"^(\d{1,5}(?:[.,]\d{1,2})?)\s*ml$", re.IGNORECASE)
CHOICES: tuple[tuple[str, Mapping[str, str]], ...] = (
    ("kind", PAINT_KINDS),
    ("opacity", OPACITY_WORDS),
    ("finish", FINISH_WORDS),
)


def read_list(text: str) -> list[CsvLine]:
    """Paints of a pasted list, as lines of a shelf file; a table with a heading is read as one.

    A line without a colour has none in its cells when its name suggests none either; where it was
    guessed, the cell `colour_from` says so.

    Parameters
    ----------
    text : str, at most `MOST_LINES` paints

    Raises
    ------
    BadFileError
        when there is no line, when there are too many, or when a table is none
    """
    rows = [(n, row) for n, row in enumerate(text.splitlines(), 1) if row.strip()]
    if not rows:
        raise BadFileError("There is no line yet: one paint a line, its name first.")
    heading = {cell.strip().lower() for cell in _cells(rows[0][1])}
    if set(NEEDED) <= heading:
        return read_lines(text.encode("utf-8"))
    if len(rows) > MOST_LINES:
        raise BadFileError(f"The list has {len(rows)} lines; at most {MOST_LINES} are accepted.")
    return [CsvLine(n, _paint(row)) for n, row in rows]


def _cells(row: str) -> list[str]:
    """A row in its cells; the rarest delimiter that stands in it parts it."""
    delimiter = next((d for d in "\t;," if d in row), None)
    return [cell.strip() for cell in (row.split(delimiter) if delimiter else [row])]


def _paint(row: str) -> dict[str, str]:
    row = BULLET.sub("", row)
    cells: dict[str, str] = {}
    if colour := COLOUR.search(row):
        cells["colour"] = f"#{colour[1].lower()}"
        row = COLOUR.sub("", row, count=1)
    first, *others = _cells(row) or [""]
    cells["name"] = first.strip(" " + DELIMITERS)
    for cell in filter(None, others):
        _take(cell, cells)
    if kind := kind_named(cells["name"]):
        cells.setdefault("kind", kind)
    if finish := finish_named(cells["name"]):
        cells.setdefault("finish", finish)
    guess = None if "colour" in cells else colour_named(cells["name"])
    if guess:
        cells |= {"colour": guess, "colour_from": "guessed"}
    return cells


def _take(cell: str, cells: dict[str, str]) -> None:
    """Put a cell where it belongs; the first that is nothing else is the maker."""
    if left := LEFT.match(cell):
        cells["ml_left"] = left[1].replace(",", ".")
        return
    for column, words in CHOICES:
        if column == "kind" and cell.lower() in OPACITY_WORDS and kind_named(cells["name"]):
            continue  # a transparent ink is an ink
        found = [key for key, word in words.items() if cell.lower() in (key, word)]
        if found and column not in cells:
            cells[column] = found[0]
            return
    cells["range" if "maker" in cells else "maker"] = cell
