"""Each measure by itself, on fields made by hand."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.paint import paint_optics
from haze.core.inspect.card import BLACK, HIGH_MM, LINES_X, LINES_Y, WIDE_MM, ZONES
from haze.core.inspect.card_colours import film_colours
from haze.core.inspect.landing import Splats
from haze.core.inspect.reading.depth import Depth, Granular, Ink, depth_of
from haze.core.inspect.reading.fade import fade_of
from haze.core.inspect.reading.features import NAMES, features
from haze.core.inspect.reading.fingers import fingers_in
from haze.core.inspect.reading.flattening import PX_MM, box_px
from haze.core.inspect.reading.lines import lines_of
from haze.core.inspect.reading.measures import measured
from haze.core.inspect.reading.outcome import likely
from haze.core.inspect.reading.specks import (
    SEEN_MM2,
    SPREADS_MM,
    WIDER,
    blurred,
    grain_in,
    lumps_in,
    specks_in,
)

SHAPE = (round(HIGH_MM * PX_MM), round(WIDE_MM * PX_MM))
DEEP = paint_optics("#1d3f8a", opacity="opaque")
ALL = np.ones(SHAPE, dtype=bool)
Y, X = (np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]] + 0.5) / PX_MM


def bare() -> np.ndarray:
    return np.zeros(SHAPE, dtype=np.float32)


def disc(field: np.ndarray, x: float, y: float, across: float, share: float = 1.0) -> None:
    here = np.hypot(X - x, Y - y) < across / 2
    field[here] = share


def thick(um: float) -> Splats:
    return Splats(np.array([um]), np.array([1.0]))


def straight() -> Granular:
    return Granular(np.linspace(0, 20, 200), np.linspace(0, 20, 200) / 10)


@pytest.fixture(scope="module")
def evenly() -> np.ndarray:
    """A card evenly under 1.5 µm of a deep paint but for its solid."""
    films = np.full(SHAPE, 1.5)
    x0, y0, x1, y1 = ZONES["solid"]
    films[box_px(x0, y0, x1 - x0, y1 - y0)] = 60.0
    steps = np.array([0.0, 1.5, 60.0])
    colours = film_colours(DEEP, steps)
    return colours[np.searchsorted(steps, films)] / colours[0]


# depth -------------------------------------------------------------------------------------------


def test_a_film_is_found_again_from_its_colour(evenly: np.ndarray) -> None:
    depth = depth_of(evenly, Ink(DEEP, 6.0, thick(0.02)))  # splats too thin to leave gaps
    x0, y0, *_ = ZONES["dots"]
    there = depth.shares[box_px(x0, y0, 20, 20)].mean()
    assert float(depth.granular.film_um(there)) == pytest.approx(1.5, rel=0.08)
    assert depth.contrast > 0.6
    x0, y0, *_ = ZONES["solid"]
    assert depth.shares[box_px(x0 + 5, y0 + 5, 20, 20)].mean() == pytest.approx(1, abs=0.01)


def test_grainy_films_show_less_than_even_ones() -> None:
    flat = np.ones((*SHAPE, 3), dtype=np.float32)
    x0, y0, x1, y1 = ZONES["solid"]
    flat[box_px(x0, y0, x1 - x0, y1 - y0)] = 0.05
    even, grainy = (depth_of(flat, Ink(DEEP, 6.0, thick(h))).granular for h in (0.05, 2.0))
    share = np.array([0.2, 0.5])
    assert np.all(grainy.film_um(share) > even.film_um(share))
    for one in (even, grainy):
        assert np.all(np.diff(one.shares) > 0)
        assert one.film_um(np.zeros(1))[0] == pytest.approx(0, abs=1e-6)


def test_a_white_paint_is_read_on_a_black_card() -> None:
    white = paint_optics("#f4f2ee", opacity="opaque")
    flat = np.full((*SHAPE, 3), BLACK, dtype=np.float32)
    x0, y0, x1, y1 = ZONES["solid"]
    flat[box_px(x0, y0, x1 - x0, y1 - y0)] = 0.95
    depth = depth_of(flat, Ink(white, 6.0, thick(0.5), dark=True))
    assert depth.shares[box_px(100, 80, 10, 5)].mean() == pytest.approx(0, abs=0.01)
    assert depth.contrast == pytest.approx(0.9, abs=0.02)


def test_an_unsprayed_card_has_nothing_to_measure() -> None:
    m = measured(np.ones((*SHAPE, 3), dtype=np.float32), Ink())
    assert (m.lines, m.pass_um, m.gaps) == ((), 0.0, 1.0)
    assert likely(m)[0].look == "nothing"


# specks ------------------------------------------------------------------------------------------


def test_specks_are_counted_by_how_visible_they_are() -> None:
    field = bare()
    rng = np.random.default_rng(1)
    places = [(20 + 4 * (i % 6), 20 + 4 * (i // 6)) for i in range(24)]
    for x, y in places:
        disc(field, x + rng.uniform(-0.5, 0.5), y + rng.uniform(-0.5, 0.5), 0.3)
    field = blurred(field, 0.04)
    found = specks_in(field, (16, 16, 30, 26), contrast=0.9)
    assert found.area_cm2 == pytest.approx(7.8, rel=0.02)
    # .3 mm across at .9 is .081 mm²: over eight times the least
    assert found.steps[3] == pytest.approx(24 / 7.8, rel=0.15)
    assert found.steps[0] < 1.5 * found.steps[3]
    assert np.median(found.spots[:, 2]) == pytest.approx(0.3, rel=0.25)
    assert specks_in(field, (16, 16, 30, 26), contrast=0.05).steps[3] == 0


def test_the_least_speck_that_is_seen() -> None:
    for across, seen in ((0.14, True), (0.04, False)):
        field = bare()
        disc(field, 30, 30, across)
        found = specks_in(field, (25, 25, 10, 10), contrast=1.0)
        assert bool(found.steps[0]) is seen
    assert pytest.approx(0.085**2) == SEEN_MM2


FIELD = (16.0, 16.0, 60.0, 40.0)


def thrown(count: float, weight: float, seed: int) -> np.ndarray:
    """A field of points, so many a pixel on the mean, each of a share."""
    rng = np.random.default_rng(seed)
    return (weight * rng.poisson(count, SHAPE)).astype(np.float32)


def kernel(spread_mm: float) -> np.ndarray:
    point = np.zeros((101, 101), dtype=np.float32)
    point[50, 50] = 1.0
    return blurred(point, spread_mm) - blurred(point, WIDER * spread_mm)


@pytest.mark.parametrize("count", [0.02, 0.1])
def test_lumps_are_those_of_single_splats_however_many_overlap(count: float) -> None:
    weight = 2.0
    found = lumps_in(thrown(count, weight, 3), FIELD)
    for n, s in enumerate(SPREADS_MM):
        # the moment of the sum is that of one splat times how many there are
        wanted = weight**2 * float((kernel(s) ** 3).sum())
        if s < 0.2:  # of larger ones there are too few places here
            assert found[n] == pytest.approx(wanted, rel=0.25)


def test_noise_of_a_camera_has_no_third_moment() -> None:
    few = thrown(0.05, 2.0, 4)
    noise = np.random.default_rng(5).normal(0, 0.05, SHAPE).astype(np.float32)
    clean, noisy = (lumps_in(f, FIELD) for f in (few, few + noise))
    assert noisy[0] == pytest.approx(clean[0], rel=0.1)


def test_coarser_splats_of_the_same_film_make_larger_lumps() -> None:
    fine, coarse = (lumps_in(thrown(0.2 / w, w, 6), FIELD) for w in (1.0, 4.0))
    assert coarse[0] == pytest.approx(16 * fine[0], rel=0.25)


def test_lumps_are_only_told_of_a_thin_film_that_is_not_left_out() -> None:
    for field, beside in ((bare(), None), (np.ones(SHAPE, np.float32), None), (bare() + 0.1, ALL)):
        assert not lumps_in(field, FIELD, beside=beside).any()


def test_specks_under_fingers_and_in_closed_paint_do_not_count() -> None:
    field = bare()
    disc(field, 30, 30, 0.3)
    assert specks_in(field, (25, 25, 10, 10), contrast=1, beside=ALL).steps[0] == 0
    closed = np.full(SHAPE, 0.84, dtype=np.float32)
    disc(closed, 30, 30, 0.6, 1.0)
    assert specks_in(closed, (25, 25, 10, 10), contrast=1).steps[0] == 0


def test_clumps_are_coarse_and_a_mist_is_fine() -> None:
    rng = np.random.default_rng(2)
    mist = (rng.uniform(size=SHAPE) < 0.4).astype(np.float32)
    clumps = np.kron(rng.uniform(size=(SHAPE[0] // 8, SHAPE[1] // 8)) < 0.4, np.ones((8, 8)))
    clumps = clumps.astype(np.float32)
    box = (16, 16, 30, 20)
    fine, coarse = (grain_in(f, box, noise=0.0, beside=None) for f in (mist, clumps))
    assert coarse.coarse > 3 * fine.coarse
    assert fine.fine > 0.2


# fingers -----------------------------------------------------------------------------------------


def test_fingers_are_long_and_thin() -> None:
    field = bare()
    for n, y in enumerate((20.0, 26.0, 32.0)):
        field[(np.abs(Y - y) < 0.1) & (X > 20) & (23 + n > X)] = 0.9
    disc(field, 60, 30, 1.2)
    disc(field, 70, 30, 0.2)
    field[(np.abs(Y - 40) < 0.1) & (X > 20) & (X < 21.0)] = 0.9  # too short
    found = fingers_in(field, noise=0.005, inside=ALL)
    assert sorted(np.round(found.pieces[:, 2])) == [3, 4, 5]
    assert found.pieces[:, 1] == pytest.approx([20, 26, 32], abs=0.1)
    assert len(found.within((19, 19, 10, 3))) == 1
    assert found.mask[round(26 * PX_MM), round(21 * PX_MM)]


def test_the_edge_of_a_film_is_no_finger() -> None:
    field = bare()
    field[(Y > 20) & (Y < 40) & (X > 20) & (X < 60)] = 0.95
    field = blurred(field, 0.5)  # as soft as spray gets when it is nearest
    assert len(fingers_in(field, noise=0.005, inside=ALL).pieces) == 0


def test_noise_is_no_finger() -> None:
    noise = np.random.default_rng(3).normal(0, 0.05, SHAPE).astype(np.float32)
    assert len(fingers_in(noise, noise=0.05, inside=ALL).pieces) == 0


# lines and fades ---------------------------------------------------------------------------------


def lined(sigmas: tuple[float, ...], peaks: tuple[float, ...], slant: float = 0.0) -> Depth:
    film = np.full(SHAPE, 0.3)
    inside = (LINES_X[0] < X) & (LINES_X[1] > X)
    for y, sigma, peak in zip(LINES_Y, sigmas, peaks, strict=True):
        at = y + slant * (X - 48) / 28
        film += inside * peak * np.exp(-0.5 * ((Y - at) / sigma) ** 2)
    return Depth(
        (film / 10).astype(np.float32), 0.9, np.zeros(3), 0.005, straight(), (straight(),) * 3
    )


@pytest.mark.parametrize("slant", [0.0, 0.8])
def test_lines_are_as_wide_as_they_were_made(slant: float) -> None:
    sigmas, peaks = (1.0, 1.75, 2.6), (4.0, 3.0, 2.0)
    for line, sigma, peak in zip(
        lines_of(lined(sigmas, peaks, slant), hiding_um=6.0), sigmas, peaks, strict=True
    ):
        assert line.sigma_mm == pytest.approx(sigma, rel=0.04)
        assert line.peak_um == pytest.approx(peak, rel=0.05)
        # seen where the film exceeds .6 µm
        assert line.width_mm == pytest.approx(2 * sigma * np.sqrt(2 * np.log(peak / 0.6)), rel=0.06)
        assert line.broken == 0
        assert line.unsure < 0.1


def test_a_broken_line_tells_how_much_is_missing_and_none_is_none() -> None:
    depth = lined((1.0, 1.75, 2.6), (4.0, 3.0, 0.0))
    shares = depth.shares.copy()
    shares[round(53 * PX_MM) : round(63 * PX_MM), round(48 * PX_MM) :] = 0.03
    broken = Depth(shares, 0.9, np.zeros(3), 0.005, straight(), (straight(),) * 3)
    first, _, none = lines_of(broken, hiding_um=6.0)
    assert first.broken == pytest.approx(0.5, abs=0.08)
    assert (none.sigma_mm, none.width_mm) == (0.0, 0.0)


@pytest.mark.parametrize(("height", "banded"), [(0.0, False), (0.06, True)])
def test_bands_in_a_fade_are_waves_off_a_rising_curve(height: float, banded: bool) -> None:
    light = 0.15 + 0.6 * np.clip((X - 90) / 42, 0, 1) + height * np.sin(2 * np.pi * X / 6)
    flat = np.repeat(light[..., None], 3, axis=2).astype(np.float32)
    found = fade_of(flat)
    assert found.banded is banded
    if banded:
        assert found.wave_mm == pytest.approx(6, abs=0.6)
    assert found.span > 30


# what a fault is judged by ------------------------------------------------------------------------


def test_features_are_numbers(evenly: np.ndarray) -> None:
    values = features(measured(evenly, Ink(DEEP)))
    assert values.shape == (len(NAMES),)
    assert np.all(np.isfinite(values))
