"""A plan on one sheet of paper, as PDF and as PNG: coat by coat, in black and white too.

Drawn with reportlab, fonts inside; one page as long as it can be read, more where it cannot.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any, Literal
from xml.sax.saxutils import escape

import pypdfium2
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Image, Paragraph, Table, TableStyle

Paper = Literal["a4", "letter"]
PAPERS = {"a4": A4, "letter": LETTER}
TEXT, BOLD, MORE = "haze-text", "haze-bold", "haze-more"
SIZES = (9.5, 9.0, 8.5, 8.0, 7.5, 7.0, 6.5, 6.0)  # pt; below, it is no longer read at the bench
MARGIN = 12 * mm
PICTURE = 42 * mm
FOOT = 6 * mm
CHIP = 3.4 * mm
NUMBER, GAP = 6 * mm, 1.4 * mm
SMALL = 4.8  # height of the pictures in the rows, of the size of the type
SMALL_WIDE = 0.8  # their width, of their height
INK = colors.HexColor("#1f1f1f")
QUIET = colors.HexColor("#4a4a4a")
LINE = colors.HexColor("#b5b5b5")
PNG_SCALE = 2.0  # of 72 dpi


@dataclass(frozen=True, slots=True)
class RecipeRow:
    """A step on the sheet, each cell in words; `colour` is "#rrggbb" or None.

    `picture` is a PNG of the piece after it, None where nothing is to be seen.
    """

    number: int
    name: str
    colour: str | None
    what: str
    cup: str
    setting: str
    sides: str
    wait: str
    picture: bytes | None = None


@dataclass(frozen=True, slots=True)
class RecipePage:
    """All that stands on the sheet.

    Parameters
    ----------
    title : of the plan
    about : lines under it: piece, light, gear, sums
    picture : PNG of the piece as planned, or None
    rows : the steps, in order
    cautions : what can hurt someone, and what to do
    foot : where and when it was made
    """

    title: str
    about: tuple[str, ...]
    picture: bytes | None
    rows: tuple[RecipeRow, ...]
    cautions: tuple[str, ...]
    foot: str


@cache
def fonts() -> frozenset[int]:
    """Register the fonts of all sheets once; the code points the text font holds."""
    folder = resources.files("haze.formats") / "fonts"
    held: set[int] = set()
    for name, file in ((TEXT, "text.ttf"), (BOLD, "bold.ttf"), (MORE, "more.ttf")):
        font = TTFont(name, io.BytesIO((folder / file).read_bytes()))
        pdfmetrics.registerFont(font)
        if name == TEXT:
            held = set(font.face.charToGlyph)
    return frozenset(held)


def marked(text: str) -> str:
    """Text as a paragraph takes it, signs the text font lacks in another font.

    Parameters
    ----------
    text : any
    """
    held = fonts()
    out, strange = [], ""
    for sign in [*text, ""]:
        if sign and ord(sign) not in held and not sign.isspace():
            strange += sign
            continue
        if strange:
            out.append(f'<font name="{MORE}">{escape(strange)}</font>')
            strange = ""
        out.append(escape(sign))
    return "".join(out)


def pdf(page: RecipePage, *, paper: Paper) -> bytes:
    """The sheet as PDF.

    Parameters
    ----------
    page : what stands on it
    paper : its size
    """
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPERS[paper], pageCompression=1)
    canvas.setTitle(page.title)
    canvas.setCreator("Haze")
    width, height = PAPERS[paper]
    for size in SIZES:
        sheet = _Sheet(page, size, width - 2 * MARGIN)
        if sheet.height <= height - 2 * MARGIN - FOOT:
            break
    sheets = list(sheet.pages(height - 2 * MARGIN - FOOT))
    for number, parts in enumerate(sheets, start=1):
        y = height - MARGIN
        for part, tall in parts:
            part.drawOn(canvas, MARGIN, y - tall)
            y -= tall
        if number == 1 and page.picture is not None:
            _draw_picture(canvas, page.picture, width, height)
        of = f", sheet {number} of {len(sheets)}" if len(sheets) > 1 else ""
        canvas.setFont(TEXT, 7)
        canvas.setFillColor(QUIET)
        canvas.drawString(MARGIN, MARGIN - 1 * mm, f"{page.foot}{of}")
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def png(page: RecipePage, *, paper: Paper) -> bytes:
    """The first sheet as PNG.

    Parameters
    ----------
    page : what stands on it
    paper : its size
    """
    document = pypdfium2.PdfDocument(pdf(page, paper=paper))
    try:
        image = document[0].render(scale=PNG_SCALE).to_pil()
        out = io.BytesIO()
        image.save(out, "PNG")
        return out.getvalue()
    finally:
        document.close()


def _draw_picture(canvas: Canvas, picture: bytes, width: float, height: float) -> None:
    image = ImageReader(io.BytesIO(picture))
    wide, tall = image.getSize()
    scale = PICTURE / max(wide, tall)
    canvas.drawImage(
        image,
        width - MARGIN - wide * scale,
        height - MARGIN - tall * scale,
        wide * scale,
        tall * scale,
        mask="auto",
    )


class _Sheet:
    """The parts of a sheet set in one size of type."""

    def __init__(self, page: RecipePage, size: float, width: float) -> None:
        self._size, self._width = size, width
        usual = {"fontName": TEXT, "fontSize": size, "leading": size * 1.22, "textColor": INK}
        self._text = ParagraphStyle("text", **usual)
        self._bold = ParagraphStyle("bold", **(usual | {"fontName": BOLD}))
        self._head = ParagraphStyle("head", **(usual | {"textColor": QUIET}))
        title = {"fontName": BOLD, "fontSize": size * 1.9, "leading": size * 2.3}
        self._title = ParagraphStyle("title", **(usual | title))
        self._top = self._top_of(page)
        self._rows = [self._cells(row) for row in page.rows]
        self._end = self._end_of(page)
        self._heights = [self._tall(part) for part in self._top]

    @property
    def height(self) -> float:
        """All of it on one page."""
        table = self._table(self._rows)
        return sum(self._heights) + self._tall(table) + sum(map(self._tall, self._end))

    def pages(self, room: float) -> Iterator[list[tuple[Any, float]]]:
        """Parts with their heights, page by page."""
        parts = [(part, self._tall(part)) for part in self._top]
        used = sum(tall for _, tall in parts)
        rows = list(self._rows)
        while rows:
            count = len(rows)
            while count > 1 and used + self._tall(self._table(rows[:count])) > room:
                count -= 1
            table = self._table(rows[:count])
            parts.append((table, self._tall(table)))
            used += parts[-1][1]
            rows = rows[count:]
            if rows:
                yield parts
                parts, used = [], 0.0
        end = [(part, self._tall(part)) for part in self._end]
        if parts and used + sum(tall for _, tall in end) > room:
            yield parts
            parts = []
        yield [*parts, *end]

    def _tall(self, part: Any) -> float:
        return float(part.wrap(self._width, 10_000)[1])

    def _p(self, text: str, style: ParagraphStyle) -> Paragraph:
        return Paragraph(marked(text), style)

    def _top_of(self, page: RecipePage) -> list[Any]:
        beside = PICTURE + 4 * mm if page.picture is not None else 0.0
        lines = [self._p(page.title, self._title), *(self._p(t, self._text) for t in page.about)]
        head = Table([[lines, ""]], colWidths=[self._width - beside, beside])
        least = PICTURE + 2 * mm if page.picture is not None else 0.0
        tall = max(float(head.wrap(self._width, 10_000)[1]), least)
        fixed = Table([[lines, ""]], colWidths=[self._width - beside, beside], rowHeights=[tall])
        flat = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]
        fixed.setStyle(TableStyle([*flat, ("TOPPADDING", (0, 0), (-1, -1), 0)]))
        return [fixed]

    def _cells(self, row: RecipeRow) -> list[Any]:
        name = [self._p(row.name, self._bold), self._p(row.what, self._head)]
        cells = [self._p(t, self._text) for t in (row.cup, row.setting, row.sides, row.wait)]
        number = [self._p(str(row.number), self._head), _Chip(row.colour)]
        return [number, self._small(row.picture), name, *cells]

    def _small(self, picture: bytes | None) -> Image | str:
        """The piece after a step, as tall as the type is large."""
        if picture is None:
            return ""
        wide, tall = ImageReader(io.BytesIO(picture)).getSize()
        height = SMALL * self._size
        return Image(io.BytesIO(picture), width=height * wide / tall, height=height)

    def _table(self, rows: list[list[Any]]) -> Table:
        heads = ("", "", "Step", "Cup, in this order", "Setting", "Sides and rounds", "Then")
        fixed = (NUMBER, SMALL * SMALL_WIDE * self._size + GAP)
        room = self._width - sum(fixed)
        widths = [*fixed, *(share * room for share in (0.16, 0.21, 0.22, 0.29, 0.12))]
        table = Table(
            [[self._p(t, self._head) for t in heads], *rows],
            colWidths=widths,
        )
        gap = self._size * 0.22
        table.setStyle(
            TableStyle(
                [
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
                    ("LINEBELOW", (0, 1), (-1, -1), 0.35, LINE),
                    ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("RIGHTPADDING", (0, 0), (-1, -1), GAP),
                    ("TOPPADDING", (0, 0), (-1, -1), gap),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), gap),
                ]
            )
        )
        return table

    def _end_of(self, page: RecipePage) -> list[Any]:
        if not page.cautions:
            return []
        lines = [self._p("Cautions: label, data sheet and local rules come first.", self._bold)]
        lines.append(self._p(" · ".join(page.cautions), self._text))
        table = Table([[lines]], colWidths=[self._width])
        sides = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("TOPPADDING", (0, 0), (-1, -1), 2 * mm)]
        table.setStyle(TableStyle(sides))
        return [table]


class _Chip(Paragraph):  # type: ignore[misc]
    """A square of a colour with an edge, so that white is seen and black differs from no paint."""

    def __init__(self, colour: str | None) -> None:
        super().__init__("", ParagraphStyle("chip"))
        self._colour = colour

    def wrap(self, *_: float) -> tuple[float, float]:
        return (CHIP, CHIP)

    def draw(self) -> None:
        if self._colour is None:
            return
        self.canv.setFillColor(colors.HexColor(self._colour))
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(0.5)
        self.canv.rect(0, -0.2 * mm, CHIP, CHIP, stroke=1, fill=1)

    def split(self, *_: float) -> list[Any]:
        return [self]
