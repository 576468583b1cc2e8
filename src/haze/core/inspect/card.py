"""The trial card: what is printed on it, where, and whose trial it is (docs/models.md F).

Millimetres, origin top left, y down. The geometry is one file, `card.json`, that other readers and
renderers may agree on; marks are of the AprilTag family 36h11 (Wang & Olson 2016), the code in the
corner is a QR code (ISO/IEC 18004). Inks are reflectances over that of the bare paper.
"""

from __future__ import annotations

import json
import re
from collections.abc import Collection
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np
import segno

from haze.core.arrays import Floats, Mask
from haze.core.errors import require_range

LAYOUT: dict[str, Any] = json.loads(
    (resources.files("haze.core.inspect") / "card.json").read_text("utf-8")
)
WIDE_MM, HIGH_MM = (float(v) for v in LAYOUT["size_mm"])
CORNERS_MM = np.array([[0, 0], [WIDE_MM, 0], [WIDE_MM, HIGH_MM], [0, HIGH_MM]])  # clockwise
WINDOW_MM = (13.0, 13.0, 135.0, 92.0)  # of the cover frame: left, top, right, bottom
MARK_MM = float(LAYOUT["marks"]["size_mm"])
CELLS = 8  # of a mark a side, its border among them
QR_MODULE_MM = float(LAYOUT["qr"]["module_mm"])
BLACK = 0.045
GUIDE = 0.72  # ink of what only guides the hand
GUIDE_MM = 0.2
TICK_MM = 1.6
FIRST_IDS = (10, 110, 210, 310)  # of the marks that tell the trial
CHECK_MOD = 97
MOST = 999_999
Zone = tuple[float, float, float, float]
ZONES: dict[str, Zone] = {name: tuple(box) for name, box in LAYOUT["zones"].items()}
LINES_Y = tuple(float(y) for y in LAYOUT["lines"]["y"])
LINES_X = tuple(float(x) for x in LAYOUT["lines"]["x"])
LINES_AWAY_MM = tuple(float(d) for d in LAYOUT["lines"]["distance_mm"])
DOTS_AT = tuple((float(x), float(y)) for x, y in LAYOUT["dots"]["centres"])
DOTS_S = tuple(float(s) for s in LAYOUT["dots"]["trigger_s"])
CODE = re.compile(r"HZ([0-9]{6})")
INKS = {"paper": 1.0, "grey .45": 0.45, "grey .20": 0.20, "black .045": BLACK}


@dataclass(frozen=True, slots=True)
class Rect:
    """A printed rectangle: its corner and sides [mm], and its ink as a share of bare paper."""

    x: float
    y: float
    w: float
    h: float
    ink: float


@dataclass(frozen=True, slots=True)
class Mark:
    """A mark by its number, and the corner [mm] of its black border."""

    identity: int
    x: float
    y: float

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """Its four corners [mm], clockwise from the top left."""
        m = MARK_MM
        return (
            (self.x, self.y),
            (self.x + m, self.y),
            (self.x + m, self.y + m),
            (self.x, self.y + m),
        )


def marks_of(number: int) -> tuple[Mark, ...]:
    """The eight marks of a card: four at its corners, four that tell its number.

    Parameters
    ----------
    number : int, 0 to 999,999
    """
    require_range("number", number, 0, MOST, "")
    a, b, c = number // 10_000, number // 100 % 100, number % 100
    numbers = (10 + a, 110 + b, 210 + c, 310 + (a + 3 * b + 7 * c) % CHECK_MOD)
    fixed = [Mark(m["id"], m["x"], m["y"]) for m in LAYOUT["marks"]["corners"]]
    places = LAYOUT["marks"]["trial"]
    return (*fixed, *(Mark(i, p["x"], p["y"]) for i, p in zip(numbers, places, strict=True)))


def number_of(seen: Collection[int]) -> int | None:
    """The card's number by its marks; None when one is missing or they contradict each other.

    Parameters
    ----------
    seen : numbers of the marks that were found
    """
    found: list[int] = []
    for first in FIRST_IDS[:3]:
        here = [i - first for i in seen if first <= i < first + 100]
        if len(here) != 1:
            return None
        found.append(here[0])
    a, b, c = found
    checks = [i - FIRST_IDS[3] for i in seen if i >= FIRST_IDS[3]]
    if checks and checks != [(a + 3 * b + 7 * c) % CHECK_MOD]:
        return None
    return 10_000 * a + 100 * b + c


def place_of(identity: int, number: int | None = None) -> Mark | None:
    """Where a mark lies on every card; None for one no card has.

    Parameters
    ----------
    identity : of the mark
    number : of the card, when it must be a mark of that card; None for any
    """
    if number is not None:
        return next((m for m in marks_of(number) if m.identity == identity), None)
    for m in LAYOUT["marks"]["corners"]:
        if m["id"] == identity:
            return Mark(identity, m["x"], m["y"])
    counts = (100, 100, 100, CHECK_MOD)
    for first, count, p in zip(FIRST_IDS, counts, LAYOUT["marks"]["trial"], strict=True):
        if first <= identity < first + count:
            return Mark(identity, p["x"], p["y"])
    return None


def code_text(number: int) -> str:
    """What the code in the corner says.

    Parameters
    ----------
    number : of the card
    """
    return f"HZ{number:06d}"


def number_of_text(text: str) -> int | None:
    """The card's number by what its code says; None for another code.

    Parameters
    ----------
    text : read from a photo
    """
    found = CODE.fullmatch(text)
    return int(found[1]) if found else None


def spoken(number: int) -> str:
    """A card's number as it is written: in pairs, without leading noughts.

    Parameters
    ----------
    number : of the card
    """
    return f"{number // 10_000} {number // 100 % 100:02d} {number % 100:02d}"


@cache
def mark_cells(identity: int) -> Mask:
    """(8, 8) bool: the black cells of a mark.

    Parameters
    ----------
    identity : of the mark
    """
    from cv2 import aruco

    family = aruco.getPredefinedDictionary(aruco.DICT_APRILTAG_36h11)
    return np.asarray(aruco.generateImageMarker(family, identity, CELLS) < 128)


def printed(number: int, *, dark: bool = False) -> list[Rect]:
    """Everything that is printed on a card, in the order it is laid down; words left out.

    Parameters
    ----------
    number : of the card
    dark : whether the field to be sprayed is black, for paints that do not show on white
    """
    out: list[Rect] = []
    if dark:
        x0, y0, x1, y1 = WINDOW_MM
        out.append(Rect(x0, y0, x1 - x0, y1 - y0, BLACK))
    out += [
        Rect(p["x"], p["y"], p["w"], p["h"], INKS[p["ink"]])
        for p in LAYOUT["patches"]
        if p["ink"] != "paper"
    ]
    for mark in marks_of(number):
        cell = MARK_MM / CELLS
        for row, column in np.argwhere(mark_cells(mark.identity)).tolist():
            out.append(Rect(mark.x + column * cell, mark.y + row * cell, cell, cell, BLACK))
    out += _code(number)
    out += _check_bar()
    if not dark:
        out += guides()
    return out


def _code(number: int) -> list[Rect]:
    code = segno.make_qr(code_text(number), error="q", boost_error=False)
    x, y, m = LAYOUT["qr"]["x"], LAYOUT["qr"]["y"], QR_MODULE_MM
    return [
        Rect(x + column * m, y + row * m, m, m, BLACK)
        for row, cells in enumerate(code.matrix)
        for column, cell in enumerate(cells)
        if cell
    ]


def _check_bar() -> list[Rect]:
    bar = LAYOUT["check_bar"]
    (x0, x1), y = bar["x"], bar["y"]
    ends = [Rect(x - 0.1, y - 0.6, 0.2, 1.2, BLACK) for x in (x0, (x0 + x1) / 2, x1)]
    return [Rect(x0, y - 0.1, x1 - x0, 0.2, BLACK), *ends]


@cache
def guides() -> list[Rect]:
    """Thin grey ticks at the corners of the zones and the ends of the lines."""
    out: list[Rect] = []
    for x0, y0, x1, y1 in ZONES.values():
        for x, y, dx, dy in ((x0, y0, 1, 1), (x1, y0, -1, 1), (x0, y1, 1, -1), (x1, y1, -1, -1)):
            left, top = min(x, x + dx * TICK_MM), min(y, y + dy * TICK_MM)
            out.append(Rect(left, y - GUIDE_MM / 2, TICK_MM, GUIDE_MM, GUIDE))
            out.append(Rect(x - GUIDE_MM / 2, top, GUIDE_MM, TICK_MM, GUIDE))
    for y in LINES_Y:
        for x in (LINES_X[0] - 4 - TICK_MM, LINES_X[1] + 4):
            out.append(Rect(x, y - GUIDE_MM / 2, TICK_MM, GUIDE_MM, GUIDE))
    return out


def raster(rects: list[Rect], px_mm: float) -> Floats:
    """(h, w) float32 [0..1]: reflectance over that of bare paper, edges by the share they cover.

    Parameters
    ----------
    rects : what is printed
    px_mm : float, pixels a millimetre
    """
    h, w = round(HIGH_MM * px_mm), round(WIDE_MM * px_mm)
    image = np.ones((h, w), dtype=np.float32)
    for r in rects:
        rows, cy = _covered(r.y * px_mm, (r.y + r.h) * px_mm, h)
        columns, cx = _covered(r.x * px_mm, (r.x + r.w) * px_mm, w)
        here = image[rows, columns]
        here += np.float32(r.ink - 1) * np.outer(cy, cx)  # neighbours share an edge without seam
    return np.clip(image, BLACK, 1)


def _covered(start: float, end: float, size: int) -> tuple[slice, Floats]:
    first, last = max(0, int(start)), min(size, int(np.ceil(end)))
    edges = np.arange(first, last + 1, dtype=np.float32)
    share = np.minimum(edges[1:], end) - np.maximum(edges[:-1], start)
    return slice(first, last), np.clip(share, 0, 1).astype(np.float32)
