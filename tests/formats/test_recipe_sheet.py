"""The recipe on paper: one page, fonts inside, every step on it, in any script."""

from __future__ import annotations

import io

import pypdfium2
import pytest
from PIL import Image

from haze.formats.recipe_sheet import (
    PAPERS,
    RecipePage,
    RecipeRow,
    marked,
    pdf,
    png,
)


def row(number: int, name: str = "Wrack Green", sides: str = "4 rounds all round") -> RecipeRow:
    return RecipeRow(
        number=number,
        name=f"{name} {number}",
        colour="#4b5a35",
        what="base",
        cup="4 drops acrylic thinner, 4 drops Wrack Green",
        setting="18.5 psi (1.3 bar), 1:1, trigger 25 %, 65 mm, 90 mm/s",
        sides=sides,
        wait="blow it dry",
    )


def page(*rows: RecipeRow, picture: bytes | None = None, title: str = "Wardens") -> RecipePage:
    return RecipePage(
        title=title,
        about=("6 × Harbour warden, 46 mm high.", "Light from the left, 38° up."),
        picture=picture,
        rows=rows,
        cautions=("Mist: extraction and a particle filter mask",),
        foot="Haze, 2026-11-27.",
    )


def read(data: bytes) -> tuple[int, str, tuple[float, float]]:
    """How many pages, all their text on one line, and the size of the first."""
    document = pypdfium2.PdfDocument(data)
    text = " ".join(p.get_textpage().get_text_bounded() for p in document)
    return len(document), " ".join(text.split()), document[0].get_size()


@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_a_usual_plan_is_one_page_with_its_fonts_inside(paper: str) -> None:
    data = pdf(page(*(row(n) for n in range(1, 15))), paper=paper)  # type: ignore[arg-type]
    pages, text, size = read(data)
    assert pages == 1
    assert size == pytest.approx(PAPERS[paper], abs=0.1)
    assert data.count(b"/FontFile2") >= 2
    for n in range(1, 15):
        assert f"Wrack Green {n}" in text
    for words in (
        "Wardens",
        "Harbour warden",
        "18.5 psi (1.3 bar)",
        "particle filter",
        "2026-11-27",
    ):
        assert words in text


@pytest.mark.parametrize("count", [1, 30, 60])
def test_every_step_is_on_paper_however_many_there_are(count: int) -> None:
    long = "; ".join(f"{n} rounds from the left shoulder, {n}° up" for n in range(1, 9))
    pages, text, _ = read(pdf(page(*(row(n, sides=long) for n in range(1, count + 1))), paper="a4"))
    assert [n for n in range(1, count + 1) if f"Wrack Green {n} " not in f"{text} "] == []
    assert "Cautions" in text
    if pages > 1:
        assert f"sheet {pages} of {pages}" in text


def test_a_short_recipe_is_set_no_larger_than_it_is_read_at_the_bench() -> None:
    document = pypdfium2.PdfDocument(pdf(page(row(1)), paper="a4"))
    words = document[0].get_textpage()
    at = words.get_text_range().index("18.5 psi")
    left, bottom, right, top = words.get_charbox(at)
    assert 4 < top - bottom < 8  # a figure of 9.5 pt
    assert right > left


def test_any_script_and_sign_is_drawn_with_a_font_that_has_it() -> None:
    names = "Причал Ξύλο Łódź → ≥ □ <b>&amp;"
    _, text, _ = read(pdf(page(row(1), title=names), paper="a4"))
    assert names in text
    assert marked("a < b & c") == "a &lt; b &amp; c"
    assert marked("x → y").count('<font name="haze-more">→</font>') == 1


def test_the_picture_stands_at_the_top_right_and_the_png_is_the_same_page() -> None:
    out = io.BytesIO()
    Image.new("RGB", (340, 304), (200, 30, 30)).save(out, "PNG")
    image = Image.open(io.BytesIO(png(page(row(1), picture=out.getvalue()), paper="a4")))
    assert image.size == (1191, 1684)
    wide = image.width
    assert image.convert("RGB").getpixel((wide - 150, 150)) == (200, 30, 30)
    assert image.convert("RGB").getpixel((150, 700)) == (255, 255, 255)


def test_in_grey_light_and_dark_chips_are_told_from_no_paint() -> None:
    white, none = (
        RecipeRow(**{**{f: getattr(row(1), f) for f in RecipeRow.__slots__}, "colour": c})
        for c in ("#ffffff", None)
    )
    first, second = (
        Image.open(io.BytesIO(png(page(r), paper="a4"))).convert("L") for r in (white, none)
    )
    assert first.tobytes() != second.tobytes(), "a white chip has an edge"
