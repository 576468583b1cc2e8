"""A piece that turns while it is painted."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from haze.core.errors import CancelledError
from haze.core.light.picture import CARD_GREY, picture, shot_of
from haze.core.light.turntable import PLACES, moments, sides, turned
from haze.core.mesh.mesh import PreparedMesh
from shapes import prepared

WIDE, TALL = 24, 32


@pytest.fixture(scope="module")
def post() -> PreparedMesh:
    """A low slab with a post far from its middle: seen from all sides it is never the same."""
    slab = trimesh.creation.box((10, 4, 1))
    mast = trimesh.creation.cylinder(radius=0.6, height=8)
    mast.apply_translation((4, 0, 4))
    return prepared(trimesh.util.concatenate([slab, mast]))


def plain(mesh: PreparedMesh, level: int) -> np.ndarray:
    return np.full((len(mesh.vertices), 3), level, dtype=np.uint8)


@given(st.integers(1, 60))
def test_each_coat_comes_up_once_and_the_last_goes_round_whole(looks: int) -> None:
    order = moments(looks)
    assert len(order) % PLACES == 0
    assert [m.place for m in order] == [n % PLACES for n in range(len(order))]
    heights = [m.look + m.risen for m in order]
    assert heights == sorted(heights)
    assert {m.look for m in order if m.risen == 1} == set(range(looks))
    assert all(m.look == looks - 1 and m.risen == 1 for m in order[-PLACES:])


def test_it_keeps_its_size_and_turns_about_its_middle(post: PreparedMesh) -> None:
    around = sides(post, width=WIDE, height=TALL)
    assert len({side.scale for side in around}) == 1
    for side in around:
        across = (post.vertices @ side.right - side.middle[0]) / side.scale
        along = (post.vertices @ side.up - side.middle[1]) / side.scale
        assert np.abs(across).max() < WIDE / 2
        assert np.abs(along).max() < TALL / 2
    opposite = sum(float(side.toward[:2] @ around[0].toward[:2]) for side in around)
    assert opposite == pytest.approx(0, abs=1e-9)


def test_pictures_show_coats_rising_over_what_was_there(post: PreparedMesh) -> None:
    frames = list(turned(post, [plain(post, 140), plain(post, 255)], width=WIDE, height=TALL))
    order = moments(2)
    assert len(frames) == len(order)
    brightest = [int(frame.max()) for frame in frames]
    rising = [level for level, m in zip(brightest, order, strict=True) if m.look == 1][:4]
    assert rising == sorted(set(rising))
    assert CARD_GREY < brightest[0] < rising[0]
    three = [plain(post, level) for level in (140, 200, 255)]
    light = [int(frame.max()) for frame in turned(post, three, width=WIDE, height=TALL)]
    second = next(n for n, m in enumerate(moments(3)) if m.look == 2)
    assert light[second] >= light[second - 1]  # it rises over the first coat, not over bare
    first_round = frames[-PLACES]
    assert any((frame != first_round).any() for frame in frames[-PLACES + 1 :])


def test_one_flat_colour_still_shows_its_form(post: PreparedMesh) -> None:
    (first, *_) = turned(post, [plain(post, 200)], width=WIDE, height=TALL)
    on_it = first[..., 0][first[..., 0] != CARD_GREY]
    assert np.ptp(on_it.astype(int)) > 30


def test_it_is_stopped(post: PreparedMesh) -> None:
    done: list[float] = []

    def progress(share: float) -> bool:
        done.append(share)
        return len(done) < 3

    with pytest.raises(CancelledError, match="No turntable"):
        list(turned(post, [plain(post, 20)], width=WIDE, height=TALL, progress=progress))
    assert len(done) == 3
    assert done == sorted(done)


def test_a_shot_in_colours_is_the_picture_in_them(post: PreparedMesh) -> None:
    colours = np.random.default_rng(7).integers(0, 256, (len(post.vertices), 3)).astype(np.uint8)
    size = {"width": WIDE, "height": TALL}
    shot = shot_of(post, **size)
    assert (shot.coloured(colours) == picture(post, colours, **size)).all()
    assert (
        shot.coloured(colours, np.ones(len(post.vertices), np.float32)) == shot.coloured(colours)
    ).all()
    dim = shot.coloured(colours, np.full(len(post.vertices), 0.5, np.float32))
    assert dim.mean() < shot.coloured(colours).mean()
