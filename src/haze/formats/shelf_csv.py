"""A shelf as a table: CSV with a heading, one paint a line; comma, semicolon or tab.

Lines that cannot be read are listed with their number and the reason; they never stop the others.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from haze.core.errors import BadFileError

if TYPE_CHECKING:
    from _csv import Reader

COLUMNS = (
    "maker",
    "range",
    "name",
    "kind",
    "colour",
    "opacity",
    "finish",
    "ml_left",
    "drop_ul",
    "strength",
    "fluorescent",
    "over_dark",
    "over_light",
    "swatch_um",
    "colour_from",
)
NEEDED = ("name", "colour")
NUMBERS = ("ml_left", "drop_ul", "strength", "fluorescent", "swatch_um")
MOST_BYTES = 4 * 2**20
MOST_LINES = 5000
NO_TEXT = "The file is not text in UTF-8; save it as CSV UTF-8 and try again."
DELIMITERS = ",;\t"
# a spreadsheet takes a cell that begins so for a formula; a quote before it makes it text
FORMULA = ("=", "+", "-", "@", "\t", "\r", "'")
QUOTE = "'"


@dataclass(frozen=True, slots=True)
class CsvLine:
    """One line of the file: its number, and its cells by column; numbers as text with a point."""

    number: int
    cells: dict[str, str]


def read_lines(data: bytes) -> list[CsvLine]:
    """Lines of a shelf file; `HazeError` says what a file must be."""
    if len(data) > MOST_BYTES:
        raise BadFileError(f"The file is over {MOST_BYTES // 2**20} MiB; a shelf is far smaller.")
    text = _decoded(data).lstrip()
    if not text:
        raise BadFileError("The file is empty; its first line must name the columns.")
    first = text.splitlines()[0]
    delimiter = max(DELIMITERS, key=first.count)
    rows = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    try:
        return _lines(rows, comma=delimiter != ",")
    except csv.Error as error:
        raise BadFileError(
            f"Line {rows.line_num} of the file is no line of a table ({error}); quotes must come "
            "in pairs, and a cell must stay under 131,072 letters."
        ) from None


def _lines(rows: Reader, *, comma: bool) -> list[CsvLine]:
    heading = [name.strip().lower().replace(" ", "_") for name in next(rows)]
    missing = [name for name in NEEDED if name not in heading]
    if missing:
        raise BadFileError(
            f"The first line must name the columns; {' and '.join(missing)} "
            f"{'is' if len(missing) == 1 else 'are'} missing. Accepted are {', '.join(COLUMNS)}."
        )
    unknown = [name for name in heading if name and name not in COLUMNS]
    if unknown:
        raise BadFileError(f"There is no column {unknown[0]!r}; accepted are {', '.join(COLUMNS)}.")
    found = [
        CsvLine(rows.line_num, _cells(heading, row, comma=comma))
        for row in rows
        if any(cell.strip() for cell in row)
    ]
    if len(found) > MOST_LINES:
        raise BadFileError(f"The file has {len(found)} paints; at most {MOST_LINES} are accepted.")
    return found


def _decoded(data: bytes) -> str:
    for encoding in (
        ("utf-8-sig", "utf-16") if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig",)
    ):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\0" in text:
            raise BadFileError(NO_TEXT)
        return text
    raise BadFileError(NO_TEXT)


def _cells(heading: Sequence[str], row: Sequence[str], *, comma: bool) -> dict[str, str]:
    cells = {name: _read(cell) for name, cell in zip(heading, row, strict=False) if name}
    for name in NUMBERS:
        if comma and name in cells:
            cells[name] = cells[name].replace(",", ".")
    return cells


def _read(cell: str) -> str:
    cell = cell.strip()
    return cell[1:] if cell.startswith(QUOTE) and cell[1:].startswith(FORMULA) else cell


def write_rows(rows: Sequence[Mapping[str, object]]) -> bytes:
    """CSV in UTF-8 of paints given by column."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    for row in rows:
        writer.writerow({name: _written(row.get(name)) for name in COLUMNS})
    return out.getvalue().encode("utf-8")


def _written(value: object) -> str:
    if value is None:
        return ""
    return as_text(value) if isinstance(value, str) else f"{value:g}"


def as_text(cell: str) -> str:
    """A cell that a spreadsheet takes for the text it is."""
    return QUOTE + cell if cell.startswith(FORMULA) else cell
