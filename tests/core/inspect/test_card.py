"""The card's geometry: what is printed, where, and how it tells its number."""

from __future__ import annotations

import itertools

import cv2
import numpy as np
import pytest
from cv2 import aruco
from hypothesis import given
from hypothesis import strategies as st

from haze.core.errors import OutOfRangeError
from haze.core.inspect import card
from haze.core.inspect.card import Mark, Rect

NUMBER = 12003
numbers = st.integers(0, card.MOST)


def box(r: Rect) -> tuple[float, float, float, float]:
    return r.x, r.y, r.x + r.w, r.y + r.h


def apart(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    return one[2] <= other[0] or other[2] <= one[0] or one[3] <= other[1] or other[3] <= one[1]


def test_marks_tell_the_number_as_the_card_says() -> None:
    assert [m.identity for m in card.marks_of(NUMBER)] == [
        0,
        1,
        2,
        3,
        11,
        130,
        213,
        310 + 1 + 60 + 21,
    ]
    assert card.marks_of(NUMBER)[4] == Mark(11, 70.0, 2.5)


@given(numbers)
def test_a_number_is_read_back_from_its_marks_and_its_code(number: int) -> None:
    seen = [m.identity for m in card.marks_of(number)]
    assert card.number_of(seen) == number
    assert card.number_of(seen[:7]) == number  # without the check
    assert card.number_of_text(card.code_text(number)) == number
    assert all(
        card.place_of(m.identity, number) == m == card.place_of(m.identity)
        for m in card.marks_of(number)
    )


@given(numbers, st.integers(1, 96))
def test_marks_of_two_cards_are_no_number(number: int, off: int) -> None:
    seen = [m.identity for m in card.marks_of(number)]
    check = 310 + (seen[7] - 310 + off) % 97
    assert card.number_of([*seen[:7], check]) is None
    assert card.number_of(seen[:4]) is None
    assert card.number_of([*seen, 10 + (seen[4] - 9) % 100]) is None


@pytest.mark.parametrize(
    "text", ["", "HZ", "HZ12345", "HZ1234567", "XZ123456", "HZ12345x", "HZ１２３４５６"]
)
def test_another_code_is_no_card(text: str) -> None:
    assert card.number_of_text(text) is None


def test_numbers_are_spoken_in_pairs_and_bounded() -> None:
    assert card.spoken(NUMBER) == "1 20 03"
    with pytest.raises(OutOfRangeError):
        card.marks_of(card.MOST + 1)


def test_nothing_printed_lies_on_anything_else_or_in_the_field() -> None:
    patches = [Rect(p["x"], p["y"], p["w"], p["h"], 1.0) for p in card.LAYOUT["patches"]]
    marks = [Rect(m.x, m.y, card.MARK_MM, card.MARK_MM, 0.0) for m in card.marks_of(NUMBER)]
    code = card.LAYOUT["qr"]
    all_ = [*patches, *marks, Rect(code["x"], code["y"], 21 * 0.45, 21 * 0.45, 0.0)]
    for one, other in itertools.combinations(all_, 2):
        assert apart(box(one), box(other)), (one, other)
    for one in all_:
        assert apart(box(one), card.WINDOW_MM)
        assert one.x >= 0 <= one.y
        assert one.x + one.w <= card.WIDE_MM
        assert one.y + one.h <= card.HIGH_MM


def test_zones_lines_and_dots_lie_in_the_frames_window() -> None:
    x0, y0, x1, y1 = card.WINDOW_MM
    for zone in card.ZONES.values():
        assert x0 <= zone[0] < zone[2] <= x1
        assert y0 <= zone[1] < zone[3] <= y1
    lines, dots = card.ZONES["lines"], card.ZONES["dots"]
    assert all(lines[1] < y < lines[3] for y in card.LINES_Y)
    assert all(dots[0] < x < dots[2] and dots[1] < y < dots[3] for x, y in card.DOTS_AT)


def test_what_is_printed_is_found_by_what_reads_it() -> None:
    image = (card.raster(card.printed(NUMBER), 10.0) * 255).astype(np.uint8)
    family = aruco.getPredefinedDictionary(aruco.DICT_APRILTAG_36h11)
    corners, found, _ = aruco.ArucoDetector(family).detectMarkers(image)
    by_number = {int(i): c.reshape(4, 2) for i, c in zip(found.ravel(), corners, strict=True)}
    for mark in card.marks_of(NUMBER):
        assert by_number[mark.identity] == pytest.approx(np.array(mark.corners) * 10 - 0.5, abs=1.0)
    code = cv2.resize(image[135:245, 10:130], None, fx=4, fy=4)
    assert cv2.QRCodeDetector().detectAndDecode(code)[0] == card.code_text(NUMBER)


def test_ink_is_as_dark_as_it_says_and_edges_by_their_share() -> None:
    image = card.raster([Rect(10.0, 10.0, 5.25, 4.0, 0.2)], 4.0)
    assert image[42, 45] == pytest.approx(0.2)
    assert image[0, 0] == 1.0
    # 0.25 mm of the last column of 4 px a mm is the whole pixel; half of one is half as dark
    half = card.raster([Rect(10.0, 10.0, 5.125, 4.0, 0.2)], 4.0)
    assert half[42, 60] == pytest.approx(1 - 0.8 * 0.5)
    assert half.sum() == pytest.approx(half.size - 0.8 * 5.125 * 4 * 16, rel=1e-5)


def test_cells_beside_each_other_leave_no_seam() -> None:
    image = card.raster([Rect(1 + 0.45 * i, 1.0, 0.45, 0.45, card.BLACK) for i in range(8)], 10.0)
    assert np.ptp(image[12, 11:44]) < 1e-5


def test_a_dark_card_has_a_black_field_and_white_papers() -> None:
    image = card.raster(card.printed(NUMBER, dark=True), 4.0)
    assert image[200, 300] == pytest.approx(card.BLACK)
    paper = next(p for p in card.LAYOUT["patches"] if p["ink"] == "paper")
    assert image[round((paper["y"] + 2) * 4), round((paper["x"] + 2) * 4)] == 1.0
