"""A shelf as a table: how its numbers are written by whoever wrote it."""

from __future__ import annotations

import pytest

from haze.formats.shelf_csv import read_lines

HEADING = ("name", "colour", "drop_ul", "ml_left")


@pytest.mark.parametrize("between", [";", "\t"])
def test_a_decimal_comma_is_read_where_it_does_not_part_the_columns(between: str) -> None:
    line = ("Tern White, old", "#f3f2ec", "47,5", "3,25")
    [read] = read_lines("\n".join([between.join(HEADING), between.join(line)]).encode())
    assert read.cells == {
        "name": "Tern White, old",
        "colour": "#f3f2ec",
        "drop_ul": "47.5",
        "ml_left": "3.25",
    }


def test_between_commas_a_number_has_a_point() -> None:
    [read] = read_lines(b'name,colour,drop_ul,ml_left\nTern White,#f3f2ec,47.5,"3,25"\n')
    assert (read.cells["drop_ul"], read.cells["ml_left"]) == ("47.5", "3,25")
