"""The edge of a piece on its photo: found inside a ring and near to where it is thought to be."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.inspect.piece.outline import LEAST_RING, NoOutlineError, near_to, ringed

WIDE, HIGH = 640, 480
SQUARE = slice(160, 320), slice(220, 420)
RING = np.array([[200, 140], [440, 140], [440, 340], [200, 340], [190, 240]], dtype=float)


def photo(*, piece: tuple[int, int, int] = (60, 110, 150), hole: bool = False) -> np.ndarray:
    """A painted square before a wall, both of them uneven."""
    rng = np.random.default_rng(3)
    image = np.full((HIGH, WIDE, 3), (150, 140, 120), dtype=float)
    image[SQUARE] = piece
    if hole:
        image[210:270, 290:350] = (150, 140, 120)
    image += np.linspace(-15, 15, WIDE)[None, :, None] + rng.normal(0, 4, image.shape)
    return np.clip(image, 0, 255).astype(np.uint8)


def box_of(line: np.ndarray) -> list[float]:
    return [*line.min(axis=0), *line.max(axis=0)]


def test_a_ring_pressed_loosely_finds_the_edge_within_a_pixel_or_two() -> None:
    (edge,) = ringed(photo(), RING)
    assert box_of(edge) == pytest.approx([220, 160, 420, 320], abs=2)


def test_a_ring_that_cuts_a_little_into_the_piece_still_finds_it() -> None:
    tight = np.array([[226, 154], [426, 154], [426, 326], [226, 326], [214, 240]], dtype=float)
    (edge,) = ringed(photo(), tight)
    assert box_of(edge) == pytest.approx([220, 160, 420, 320], abs=2)


def test_what_shows_through_the_piece_has_an_edge_of_its_own() -> None:
    lines = sorted(ringed(photo(hole=True), RING), key=len)
    assert len(lines) == 2
    assert box_of(lines[0]) == pytest.approx([290, 210, 350, 270], abs=3)


def test_a_large_photo_is_cut_small_and_its_edge_told_in_its_own_pixels() -> None:
    large = photo().repeat(3, axis=0).repeat(3, axis=1)
    (edge,) = ringed(large, 3 * RING)
    assert box_of(edge) == pytest.approx([660, 480, 1260, 960], abs=9)


def test_a_part_of_the_walls_own_colour_is_found_where_the_piece_is_thought_to_be() -> None:
    half = photo()
    half[SQUARE[0], 330:420] = photo()[SQUARE[0], 430:520]
    (lost,) = ringed(half, RING)
    assert lost[:, 0].max() < 340
    thought = np.zeros((HIGH, WIDE), dtype=bool)
    thought[164:324, 216:416] = True
    (edge,) = near_to(half, thought, 0.03)
    assert edge[:, 0].max() > 390
    assert box_of(edge)[:2] == pytest.approx([220, 160], abs=3)


def test_a_handle_below_is_left_out_where_the_piece_is_thought_to_end() -> None:
    held = photo()
    held[320:, 290:350] = (60, 110, 150)
    thought = np.zeros((HIGH // 2, WIDE // 2), dtype=bool)
    thought[80:160, 110:210] = True
    (edge,) = near_to(held, thought, 0.02)
    assert edge[:, 1].max() < 340


def test_wrong_rings_and_pieces_that_cannot_be_told_are_refused_in_words() -> None:
    with pytest.raises(NoOutlineError, match=f"at least {LEAST_RING} places"):
        ringed(photo(), RING[:3])
    with pytest.raises(NoOutlineError, match="too small"):
        ringed(photo(), 300 + RING / 60)
    with pytest.raises(NoOutlineError, match="not clear"):
        ringed(np.full((HIGH, WIDE, 3), 128, dtype=np.uint8), RING)
    with pytest.raises(NoOutlineError, match="not clear"):
        ringed(photo(), np.array([[-9, -9], [700, -9], [700, 500], [-9, 500], [-9, 200]]))


def test_a_tiny_photo_and_a_piece_thought_to_be_beside_it_are_refused_in_words() -> None:
    with pytest.raises(NoOutlineError, match="not clear"):
        ringed(np.zeros((9, 12, 3), dtype=np.uint8), RING / 60)
    nowhere = np.zeros((HIGH, WIDE), dtype=bool)
    for thought in (nowhere, ~nowhere):
        with pytest.raises(NoOutlineError, match="not clear"):
            near_to(photo(), thought, 0.03)
