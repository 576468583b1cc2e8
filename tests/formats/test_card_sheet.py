"""A card on paper: true to size, fonts inside, one page."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import numpy as np
import pypdfium2
import pytest

from haze.core.inspect.card import HIGH_MM, WIDE_MM, printed
from haze.formats.card_sheet import CardWords, cut, pdf, svg, zone_words
from haze.formats.recipe_sheet import PAPERS, Paper

WORDS = CardWords(
    12003,
    "Wardens of the spring tide, shade · 6 drops Bilge Black <&>",
    "All-round, 0.3 mm · 18 psi · 1.5 : 1",
    ("Wardens of the spring tide, shade", "6 drops Bilge Black"),
    ("Mist: extraction and a particle filter mask.",),
)
NS = "{http://www.w3.org/2000/svg}"


def test_the_svg_is_in_millimetres_and_draws_all_that_is_printed() -> None:
    root = ET.fromstring(svg(WORDS))
    assert (root.get("width"), root.get("height")) == (f"{WIDE_MM:g}mm", f"{HIGH_MM:g}mm")
    assert root.get("viewBox") == f"0 0 {WIDE_MM:g} {HIGH_MM:g}"
    drawn = [r for r in root.iter(f"{NS}rect") if r.get("fill") not in ("#fff", "none")]
    area = sum(float(r.get("width", 0)) * float(r.get("height", 0)) for r in drawn)
    assert area == pytest.approx(sum(r.w * r.h for r in printed(WORDS.number)), rel=1e-3)
    said = " ".join(t.text or "" for t in root.iter(f"{NS}text"))
    assert "1 20 03" in said
    assert "Bilge Black <&>" in said
    for words, _, _ in zone_words():
        assert words in said


def test_a_dark_card_is_black_in_its_field() -> None:
    dark = ET.fromstring(svg(CardWords(1, dark=True)))
    boxes = [r for r in dark.iter(f"{NS}rect") if r.get("width") == "122"]
    assert [b.get("height") for b in boxes] == ["79"]


@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_the_pdf_is_one_page_with_its_fonts_and_true_to_size(paper: Paper) -> None:
    made = pdf(WORDS, paper=paper)
    document = pypdfium2.PdfDocument(made)
    assert len(document) == 1
    assert document[0].get_size() == pytest.approx(PAPERS[paper], abs=0.1)
    assert b"/FontFile2" in made
    said = document[0].get_textpage().get_text_range()
    for words in ("Trial card 1 20 03", "Cover frame", "100 mm long", "Mist: extraction"):
        assert words in said
    # the check bar, as it will lie on paper: 100 mm of black
    image = document[0].render(scale=300 / 72).to_pil().convert("L")
    dark = np.asarray(image) < 128
    longest = max(_longest(row) for row in dark)
    assert longest / 300 * 25.4 == pytest.approx(100.2, abs=0.4)


def _longest(row: np.ndarray) -> int:
    ends = np.flatnonzero(np.diff(np.concatenate([[0], row.astype(int), [0]])))
    return int((ends[1::2] - ends[::2]).max()) if len(ends) else 0


def test_long_words_are_cut_at_a_space() -> None:
    assert cut("short") == "short"
    long = cut("Spring tide wardens " * 20)
    assert len(long) <= 78
    assert long.endswith(("wardens…", "tide…", "Spring…"))
