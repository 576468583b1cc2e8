"""A photo read from beginning to end: found, flattened, measured, or refused with its reason."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from cv2 import aruco

from core.inspect.reading.conftest import NUMBER, SHOT, Taken
from haze.core.inspect.camera import HIGH_PX, WIDE_PX, homography
from haze.core.inspect.card import marks_of
from haze.core.inspect.reading.finding import Place, marks_in, place_in
from haze.core.inspect.reading.flattening import PX_MM, Flat, box_px, flattened
from haze.core.inspect.reading.read import Reading, read
from haze.core.inspect.reading.refusal import WORDS
from haze.core.inspect.trial_card import one_pass_share

Retake = Callable[..., np.ndarray]


@pytest.fixture(scope="module")
def place(clean: Taken) -> Place:
    found = place_in(clean.photo, marks_in(clean.photo))
    assert found is not None
    return found


@pytest.fixture(scope="module")
def flat(clean: Taken, place: Place) -> Flat:
    return flattened(clean.photo, place)


@pytest.fixture(scope="module")
def reading(clean: Taken) -> Reading:
    return read(clean.photo, ink_of=lambda _: clean.ink, wanted=NUMBER)


def test_every_mark_is_found_where_it_lies(clean: Taken, place: Place) -> None:
    assert place.number == NUMBER
    assert len(place.marks) == 8
    true = homography(SHOT, WIDE_PX, HIGH_PX)
    mm = np.array([m.corners for m in marks_of(NUMBER)]).reshape(-1, 2)
    p = np.column_stack([mm, np.ones(len(mm))]) @ true.T
    off = np.linalg.norm(place.pixels(mm) - p[:, :2] / p[:, 2:], axis=1)
    assert off.max() / SHOT.px_mm < 0.08  # mm
    assert place.residual_mm < 0.06
    assert 0.8 * SHOT.px_mm * np.cos(np.deg2rad(14)) < place.px_mm < SHOT.px_mm


def test_a_card_upside_down_is_the_same_card(clean: Taken, retake: Retake) -> None:
    found = read(retake(roll_deg=184.0), ink_of=lambda _: clean.ink)
    assert (found.refused, found.number) == (None, NUMBER)


def test_light_and_tint_are_taken_out(flat: Flat) -> None:
    def mean(x: float, y: float) -> np.ndarray:
        return flat.shares[box_px(x + 1.2, y + 1.2, 2.6, 3.6)].mean(axis=(0, 1))

    # printed greys check what the papers told: .45, .20 and .045 of the paper, in every channel
    for x, y, ink in (
        (21.0, 3.5, 0.45),
        (36.0, 3.5, 0.2),
        (89.0, 95.0, 0.45),
        (119.0, 95.0, 0.045),
    ):
        assert mean(x, y) == pytest.approx([ink] * 3, abs=0.025)
    assert mean(58.5, 3.5) == pytest.approx([1.0] * 3, abs=0.01)
    assert flat.uneven < 0.01
    assert flat.shares.shape == (round(105 * PX_MM), round(148 * PX_MM), 3)


def test_an_edge_is_as_soft_as_the_lens_made_it(clean: Taken, flat: Flat, retake: Retake) -> None:
    assert 0.03 < flat.blur_mm < 0.09
    soft = retake(blur_px=2.2)
    at = place_in(soft, marks_in(soft))
    assert at is not None
    # 2.2 px at 21 px a mm is .105 mm
    assert flattened(soft, at).blur_mm == pytest.approx(0.115, abs=0.03)


def test_a_clean_card_is_measured(clean: Taken, reading: Reading) -> None:
    assert reading.refused is None
    m = reading.measures
    assert m is not None
    for line, sigma, film in zip(m.lines, clean.truth.sigma_mm, clean.truth.lines_um, strict=True):
        assert line.sigma_mm == pytest.approx(sigma, rel=0.08)
        assert line.peak_um == pytest.approx(film, rel=0.2)
        assert line.broken == 0
    foreseen = clean.truth.pass_um * one_pass_share(clean.card.here.sigma_mm)
    assert m.pass_um == pytest.approx(foreseen, rel=0.2)
    assert m.solid_share > 0.95
    assert not m.fade.banded
    worked = m.fingers.pieces[m.fingers.pieces[:, 1] < 50]
    assert worked[:, 2].sum() < 5


def test_its_outline_lies_in_the_photo(reading: Reading) -> None:
    corners = reading.outline()
    assert corners.shape == (4, 2)
    assert np.all(corners >= 0)
    assert np.all(corners <= [WIDE_PX, HIGH_PX])


def test_a_flooded_card_shows_its_fingers(flooded: Taken) -> None:
    found = read(flooded.photo, ink_of=lambda _: flooded.ink)
    assert found.measures is not None
    assert found.looks[0].look == "spiders"
    long_mm = found.measures.fingers.pieces[:, 2].sum()
    seen = sum(p.seen_mm for p in flooded.card.laid.paths)
    assert 0.25 * seen < long_mm < 1.5 * seen
    assert sum(one.share for one in found.looks) == pytest.approx(1)


def test_nothing_need_be_known_of_the_paint(clean: Taken) -> None:
    found = read(clean.photo)
    assert found.refused is None
    assert found.measures is not None
    assert [line.sigma_mm for line in found.measures.lines] == pytest.approx(
        list(clean.truth.sigma_mm), rel=0.2
    )


@pytest.mark.parametrize(
    ("reason", "changes"),
    [
        ("dark", {"light": 0.02}),
        ("marks", {"off": (0.3, 0.0)}),
        ("bent", {"bend_mm": 2.0}),
        ("far", {"px_mm": 9.0}),
        ("glare", {"glare": 1.6}),
        ("uneven", {"shadow": 0.6}),
        ("blurred", {"blur_px": 4.0}),
        ("blurred", {"shake_px": 22.0}),
        ("far", {"tilt_deg": 58.0}),
    ],
)
def test_a_bad_photo_is_refused_with_its_reason(
    retake: Retake, reason: str, changes: dict[str, object]
) -> None:
    found = read(retake(**changes))
    assert found.refused == reason
    assert (found.measures, found.looks) == (None, ())
    assert len(WORDS[found.refused]) > 20


def test_another_card_than_asked_for_is_refused(clean: Taken) -> None:
    assert read(clean.photo, wanted=NUMBER + 1).refused == "wrong"


def test_no_card_at_all_is_refused() -> None:
    rng = np.random.default_rng(1)
    for image in (
        np.full((1500, 2000, 3), 200, dtype=np.uint8),
        rng.integers(0, 255, (1500, 2000, 3), dtype=np.uint8),
    ):
        assert read(image).refused == "marks"


@pytest.mark.parametrize("size", [(1, 1), (4600, 1), (2, 4600), (1000, 1400)])
def test_a_photo_of_too_few_pixels_is_refused_before_anything_is_looked_for(
    size: tuple[int, int],
) -> None:
    assert read(np.full((*size, 3), 200, dtype=np.uint8)).refused == "small"


def tags(numbers: list[int], across: int) -> np.ndarray:
    """Marks in rows on white, none where a card has them."""
    family = aruco.getPredefinedDictionary(aruco.DICT_APRILTAG_36h11)
    cell, mark = 112, 80
    rows = -(-len(numbers) // across)
    sheet = np.full((max(rows * cell, 1200), max(across * cell, 1200)), 255, dtype=np.uint8)
    for n, number in enumerate(numbers):
        y, x = cell * (n // across) + 16, cell * (n % across) + 16
        sheet[y : y + mark, x : x + mark] = aruco.generateImageMarker(family, number, mark)
    return np.repeat(sheet[..., None], 3, axis=2)


@pytest.mark.parametrize(
    "numbers", [list(range(300)), [0] * 200, [0, 1, 2, 3, 22, 113, 224, 320], [0, 1, 2, 3]]
)
def test_marks_that_are_no_card_are_refused(numbers: list[int]) -> None:
    found = read(tags(numbers, across=20))
    assert found.refused in ("marks", "far", "bent", "number")
    assert found.measures is None


def test_a_photo_harmed_within_its_card_is_refused_or_read_and_never_breaks(clean: Taken) -> None:
    rng = np.random.default_rng(2)
    high, wide = clean.photo.shape[:2]
    middle = (slice(high // 4, -high // 4), slice(wide // 4, -wide // 4))
    for fill in (0, 255, rng.integers(0, 256, clean.photo[middle].shape, dtype=np.uint8)):
        harmed = clean.photo.copy()
        harmed[middle] = fill
        found = read(harmed)
        assert (found.refused is None) is (found.measures is not None)
        for one in found.looks:
            assert 0 <= one.share <= 1
    assert read(255 - clean.photo).refused == "marks"
    assert read(np.ascontiguousarray(clean.photo[:, ::-1])).refused == "marks"
