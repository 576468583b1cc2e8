"""Lists of paints as people keep them in their notes."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.errors import BadFileError
from haze.formats.paint_list import read_list
from haze.formats.shelf_csv import MOST_LINES


def cells(line: str) -> dict[str, str]:
    (one,) = read_list(line)
    return one.cells


@pytest.mark.parametrize(
    "line",
    [
        "Wrack Green, #4b5a35, Oddmere",
        "- Wrack Green #4B5A35, Oddmere",
        "12. Wrack Green; Oddmere; #4b5a35",
        "Wrack Green\tOddmere\t#4b5a35",
        "• #4b5a35 Wrack Green, Oddmere",
    ],
)
def test_name_maker_and_colour_are_found_where_they_stand(line: str) -> None:
    assert cells(line) == {"name": "Wrack Green", "maker": "Oddmere", "colour": "#4b5a35"}


def test_what_a_cell_is_follows_from_its_words() -> None:
    assert cells(
        "Tallow, brush acrylic, semi-opaque, satin, Tolvane, Ropewalk, 17 ml, #e6d7ae"
    ) == {
        "name": "Tallow",
        "kind": "brush_acrylic",
        "opacity": "semi_opaque",
        "finish": "satin",
        "maker": "Tolvane",
        "range": "Ropewalk",
        "ml_left": "17",
        "colour": "#e6d7ae",
    }


def test_a_name_gives_what_nothing_else_does() -> None:
    assert cells("Dark Rust Ink, transparent") == {
        "name": "Dark Rust Ink",
        "kind": "ink",
        "opacity": "transparent",
        "colour": cells("Dark Rust")["colour"],
        "colour_from": "guessed",
    }
    assert cells("Quay Matt Varnish; 2,5 ml")["finish"] == "matt"
    assert cells("Quay Matt Varnish; 2,5 ml")["ml_left"] == "2.5"
    assert "colour" not in cells("Moonlit")
    assert "colour_from" not in cells("Tern White #ffffff")


def test_lines_keep_their_numbers_and_empty_ones_are_none() -> None:
    assert [line.number for line in read_list("\nRed\n\n  \nBlue\n")] == [2, 5]


def test_a_table_with_a_heading_is_a_table() -> None:
    (line,) = read_list("Name\tColour\tmaker\nTallow\te6d7ae\tTolvane\n")
    assert line.cells == {"name": "Tallow", "colour": "e6d7ae", "maker": "Tolvane"}


def test_nothing_and_too_much_are_refused() -> None:
    with pytest.raises(BadFileError, match="no line yet"):
        read_list(" \n\t\n")
    with pytest.raises(BadFileError, match=f"at most {MOST_LINES}"):
        read_list("Red\n" * (MOST_LINES + 1))


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        lines = read_list(text)
    except BadFileError:
        return
    assert all(isinstance(value, str) for line in lines for value in line.cells.values())
    assert [line.number for line in lines] == sorted({line.number for line in lines})
