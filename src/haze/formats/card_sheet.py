"""A trial card to print: by itself as SVG, on a sheet with its cover frame as PDF."""

from __future__ import annotations

import io
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import groupby
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph

from haze.core.film.srgb import to_hex
from haze.core.inspect.card import (
    DOTS_S,
    HIGH_MM,
    LINES_AWAY_MM,
    WIDE_MM,
    WINDOW_MM,
    ZONES,
    Rect,
    printed,
    spoken,
)
from haze.core.inspect.trial_card import DOTS_AWAY_MM
from haze.formats.recipe_sheet import BOLD, PAPERS, QUIET, TEXT, Paper, fonts, marked

SMALL_MM = 1.75  # letters on the card
WORD_MM = 2.0
SIDE_Y = 90.0  # where words up the side begin
LEFT_X, RIGHT_X = 12.4, 136.9
FEW = 78  # letters up a side
GAP_MM = 9.0
TOP_MM = 26.0
DASH = (1.4, 1.4)


@dataclass(frozen=True, slots=True)
class CardWords:
    """What is written on a card.

    Attributes
    ----------
    number : of the card
    left, right : up its sides: plan, coat and cup; airbrush and setting
    lines : the same on the sheet, in full lines
    cautions : what can hurt someone, short
    dark : whether the field is printed black
    """

    number: int
    left: str = ""
    right: str = ""
    lines: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    dark: bool = False


def zone_words() -> list[tuple[str, float, float]]:
    """What stands beside each zone, with where it begins [mm]; outside the field."""
    lines = ", ".join(f"{d:g}" for d in LINES_AWAY_MM)
    dots = ", ".join(f"{s:g}" for s in DOTS_S)
    above, below = WINDOW_MM[1] - 0.7, WINDOW_MM[3] + 2.3
    return [
        ("1 one pass", ZONES["onepass"][0], above),
        ("2 solid", ZONES["solid"][0], above),
        ("3 fade, dense to nothing", ZONES["fade"][0], above),
        (f"4 lines from {lines} mm, as dense as 1", ZONES["lines"][0], below),
        (f"5 dots from {DOTS_AWAY_MM:g} mm: {dots} s", ZONES["dots"][0], below),
    ]


def cut(text: str, letters: int = FEW) -> str:
    """Words that fit, cut at a space.

    Parameters
    ----------
    text : any
    letters : int, at most
    """
    if len(text) <= letters:
        return text
    return text[: letters - 1].rsplit(" ", 1)[0].rstrip(" ,·") + "…"


def _runs(rects: Iterable[Rect]) -> list[Rect]:
    """Cells of one ink that lie side by side, as one rectangle: no seams in print."""
    out: list[Rect] = []
    for (_, _, _), row in groupby(rects, key=lambda r: (round(r.y, 4), round(r.h, 4), r.ink)):
        for r in row:
            last = out[-1] if out else None
            if (
                last
                and last.ink == r.ink
                and abs(last.y - r.y) < 1e-6
                and abs(last.h - r.h) < 1e-6
                and abs(last.x + last.w - r.x) < 1e-6
            ):
                out[-1] = Rect(last.x, last.y, last.w + r.w, last.h, last.ink)
            else:
                out.append(r)
    return out


def _ink(share: float) -> str:
    return to_hex([share] * 3)


def svg(words: CardWords) -> str:
    """The card as SVG, in millimetres.

    Parameters
    ----------
    words : what is written on it
    """
    size = f'width="{WIDE_MM:g}mm" height="{HIGH_MM:g}mm" viewBox="0 0 {WIDE_MM:g} {HIGH_MM:g}"'
    dashes = f'stroke="#999" stroke-width=".2" stroke-dasharray="{DASH[0]} {DASH[1]}"'
    inner = f'width="{WIDE_MM - 0.2:g}" height="{HIGH_MM - 0.2:g}"'
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" {size}>',
        f"<title>{escape('Trial card ' + spoken(words.number))}</title>",
        f'<rect width="{WIDE_MM:g}" height="{HIGH_MM:g}" fill="#fff"/>',
        f'<rect x=".1" y=".1" {inner} fill="none" {dashes}/>',
    ]
    for r in _runs(printed(words.number, dark=words.dark)):
        out.append(
            f'<rect x="{r.x:.4g}" y="{r.y:.4g}" width="{r.w:.4g}" height="{r.h:.4g}" '
            f'fill="{_ink(r.ink)}"/>'
        )
    small = f'font-family="sans-serif" font-size="{SMALL_MM}" fill="#555"'
    for text, x, y in zone_words():
        out.append(f'<text x="{x:g}" y="{y:.4g}" {small}>{escape(text)}</text>')
    for text, x in ((words.left, LEFT_X), (words.right, RIGHT_X)):
        turn = f'transform="translate({x:g} {SIDE_Y:g}) rotate(-90)"'
        out.append(f"<text {turn} {small}>{escape(cut(text))}</text>")
    out.append(
        f'<text x="128" y="103.9" {small} text-anchor="start">{escape(spoken(words.number))}</text>'
    )
    out.append("</svg>")
    return "\n".join(out) + "\n"


def pdf(*cards: CardWords, paper: Paper) -> bytes:
    """Each card on a sheet, its cover frame below it, with what to do.

    Parameters
    ----------
    cards : what is written on each
    paper : its size
    """
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPERS[paper], pageCompression=1)
    one = f"Trial card {spoken(cards[0].number)}"
    canvas.setTitle(one if len(cards) == 1 else f"{len(cards)} trial cards")
    canvas.setCreator("Haze")
    wide, high = PAPERS[paper]
    left = (wide - WIDE_MM * mm) / 2
    card_top = high - TOP_MM * mm
    for words in cards:
        _head(canvas, words, left, high)
        _card(canvas, words, left, card_top)
        _frame(canvas, words, left, card_top - (HIGH_MM + GAP_MM) * mm)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _head(canvas: Canvas, words: CardWords, left: float, high: float) -> None:
    canvas.setFillColor(colors.black)
    canvas.setFont(BOLD, 13)
    canvas.drawString(left, high - 13 * mm, f"Trial card {spoken(words.number)}")
    style = ParagraphStyle("lines", fontName=TEXT, fontSize=8, leading=9.6, textColor=QUIET)
    text = Paragraph("<br/>".join(marked(line) for line in words.lines), style)
    width = (WIDE_MM - 52) * mm
    text.wrap(width, 20 * mm)
    text.drawOn(canvas, left + 52 * mm, high - 9.5 * mm - min(text.height, 15 * mm))
    canvas.setFillColor(QUIET)
    canvas.setFont(TEXT, 7.5)
    canvas.drawString(left, high - 17.5 * mm, "Print at 100 %, on matt paper. The bar")
    canvas.drawString(left, high - 21 * mm, "at the card's foot is 100 mm long.")


def _card(canvas: Canvas, words: CardWords, left: float, top: float) -> None:
    canvas.saveState()
    canvas.translate(left, top)
    for r in _runs(printed(words.number, dark=words.dark)):
        # the ink's reflectance, as sRGB
        canvas.setFillColor(colors.HexColor(_ink(r.ink)))
        canvas.rect(r.x * mm, -(r.y + r.h) * mm, r.w * mm, r.h * mm, stroke=0, fill=1)
    _cut_line(canvas, 0, 0, WIDE_MM, HIGH_MM)
    canvas.setFillColor(QUIET)
    canvas.setFont(TEXT, SMALL_MM * mm)
    for text, x, y in zone_words():
        canvas.drawString(x * mm, -y * mm, text)
    for text, x in ((words.left, LEFT_X), (words.right, RIGHT_X)):
        canvas.saveState()
        canvas.translate(x * mm, -SIDE_Y * mm)
        canvas.rotate(90)
        canvas.drawString(0, 0, cut(text))
        canvas.restoreState()
    canvas.drawString(128 * mm, -103.9 * mm, spoken(words.number))
    canvas.restoreState()


STEPS = (
    "1  Cut out both. Lay the frame on the card: paint over the marks is why most photos fail.",
    "2  Spray 1 to 3 from your own distance: one pass, as many as hide, a fade from there to none.",
    "3  Spray 4 and 5 from as near as is written, the trigger opened until a line is dense as 1.",
    "4  Lift the frame. Let the card dry. Lay it flat in even light, away from lamps that mirror.",
    "5  Photograph it from above, the whole card, as large as the picture lets you.",
)


def _frame(canvas: Canvas, words: CardWords, left: float, top: float) -> None:
    canvas.saveState()
    canvas.translate(left, top)
    _cut_line(canvas, 0, 0, WIDE_MM, HIGH_MM)
    x0, y0, x1, y1 = WINDOW_MM
    _cut_line(canvas, x0, y0, x1 - x0, y1 - y0)
    canvas.setFillColor(QUIET)
    canvas.setFont(BOLD, 8)
    canvas.drawString(x0 * mm, -8.2 * mm, "Cover frame: it is essential. Cut out the middle.")
    canvas.setFont(TEXT, WORD_MM * mm)
    for text, x, y in zone_words():
        canvas.drawString(x * mm, -(y if y < HIGH_MM / 2 else y + 1.4) * mm, text)
    style = ParagraphStyle("steps", fontName=TEXT, fontSize=9.5, leading=13, textColor=QUIET)
    y = -(y0 + 8) * mm
    for line in (*STEPS, *words.cautions):
        text = Paragraph(marked(line), style)
        text.wrap((x1 - x0 - 14) * mm, 60 * mm)
        text.drawOn(canvas, (x0 + 7) * mm, y - text.height)
        y -= text.height + 2 * mm
    canvas.restoreState()


def _cut_line(canvas: Canvas, x: float, y: float, w: float, h: float) -> None:
    canvas.setStrokeColor(colors.HexColor("#999999"))
    canvas.setLineWidth(0.2 * mm)
    canvas.setDash(*(d * mm for d in DASH))
    canvas.rect(x * mm, -(y + h) * mm, w * mm, h * mm, stroke=1, fill=0)
    canvas.setDash()
