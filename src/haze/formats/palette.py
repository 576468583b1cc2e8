"""Palettes: named colours in the plain text form that most open drawing programs read.

The first line is the form's own mark; then a name, columns, and one `R G B name` a line.
"""

from __future__ import annotations

from dataclasses import dataclass

from haze.core.errors import BadFileError

MARK = "GIMP Palette"
MOST_BYTES = 2**20
MOST_COLOURS = 5000


@dataclass(frozen=True, slots=True)
class Swatch:
    """A colour with its name."""

    name: str
    hex: str


@dataclass(frozen=True, slots=True)
class PaletteFile:
    """A named list of colours."""

    name: str
    swatches: tuple[Swatch, ...]


def write_palette(palette: PaletteFile, *, columns: int = 8) -> bytes:
    """The palette as text in UTF-8."""
    lines = [MARK, f"Name: {_plain(palette.name)}", f"Columns: {columns}", "#"]
    for swatch in palette.swatches:
        r, g, b = (int(swatch.hex[i : i + 2], 16) for i in (1, 3, 5))
        lines.append(f"{r:3d} {g:3d} {b:3d}\t{_plain(swatch.name)}")
    return ("\n".join(lines) + "\n").encode("utf-8")


def _plain(name: str) -> str:
    return " ".join(name.split()) or "Untitled"


def read_palette(data: bytes) -> PaletteFile:
    """A palette from its text; `HazeError` names the line that cannot be read."""
    if len(data) > MOST_BYTES:
        raise BadFileError("The file is over 1 MiB; a palette is far smaller.")
    try:
        lines = data.decode("utf-8-sig").splitlines()
    except UnicodeDecodeError:
        raise BadFileError("The file is not text in UTF-8.") from None
    if not lines or lines[0].strip() != MARK:
        raise BadFileError(f"This is no palette of this form: its first line must be {MARK!r}.")
    name, found = "Palette", []
    for number, line in enumerate(lines[1:], start=2):
        text = line.strip()
        if text.lower().startswith("name:"):
            name = text[5:].strip() or name
        elif text and not text.startswith("#") and not text.lower().startswith("columns:"):
            found.append(_swatch(text, number))
    if len(found) > MOST_COLOURS:
        raise BadFileError(f"The palette has {len(found)} colours; at most {MOST_COLOURS} go.")
    return PaletteFile(name, tuple(found))


def _swatch(text: str, number: int) -> Swatch:
    cells = text.split(None, 3)
    try:
        r, g, b = (int(cell) for cell in cells[:3])
    except ValueError:
        raise BadFileError(
            f"Line {number} is not three numbers and a name: {text[:60]!r}."
        ) from None
    if not all(0 <= c <= 255 for c in (r, g, b)):
        raise BadFileError(f"Line {number} has a number outside 0 to 255: {text[:60]!r}.")
    hex_text = f"#{r:02x}{g:02x}{b:02x}"
    return Swatch(cells[3].strip() if len(cells) > 3 else hex_text, hex_text)
