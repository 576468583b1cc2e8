"""What a setting would leave on a card: volumes kept, widths, grain, rivulets, stops."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.film.paint import paint_optics
from haze.core.film.srgb import to_hex
from haze.core.inspect.card_colours import PAPER, cards_bytes
from haze.core.inspect.landing import SprayLanding, landing_of
from haze.core.inspect.rivulets import rivulets
from haze.core.inspect.sprayed import lay
from haze.core.inspect.strokes import Dot, Stroke
from haze.core.spray.model import spray
from haze.core.spray.setting import Setting, make_setting

PX = 6.0


def setting(**knobs: float) -> Setting:
    usual: dict[str, float] = {
        "thinner_parts": 2.0,
        "needle_mm": 0.3,
        "trigger": 0.35,
        "pressure_psi": 18.0,
        "distance_mm": 60.0,
        "speed_mm_s": 80.0,
    }
    return make_setting("airbrush_acrylic", thinner="acrylic_thinner", **{**usual, **knobs})


@pytest.fixture(scope="module")
def clean() -> SprayLanding:
    return landing_of(setting())


@pytest.fixture(scope="module")
def wet() -> SprayLanding:
    """Thin paint, strong air, near."""
    return landing_of(setting(thinner_parts=4.0, pressure_psi=28.0, distance_mm=40.0))


def volume_mm3(film_um: np.ndarray, px: float = PX) -> float:
    return float(film_um.sum() * 1e-3 / px**2)


def test_a_landing_is_what_the_model_says(clean: SprayLanding) -> None:
    s = setting()
    out = spray(s)
    assert clean.shares.sum() == pytest.approx(1)
    assert clean.wet_um * clean.dry_share == pytest.approx(float(out.dry_film_um))
    assert 4 * clean.sigma_mm == pytest.approx(float(out.footprint_mm))
    assert np.all(clean.splats_mm * 1e3 >= clean.sizes_um * (1 - 1e-9))
    # 1 ml/min is 16.7 mm³ a second
    landed = float(out.flow_ml_min) * 1000 / 60 * float(out.transfer)
    assert clean.volume_mm3_s == pytest.approx(landed)
    spiders = clean.wetness(np.array([clean.wet_um]))[0]
    assert spiders.shape == (1,)


@settings(max_examples=12, deadline=None)
@given(psi=st.floats(10, 28), away=st.floats(25, 90), seed=st.integers(0, 10**6))
def test_a_stroke_keeps_its_volume_and_its_width(psi: float, away: float, seed: int) -> None:
    landing = landing_of(setting(pressure_psi=psi, distance_mm=away))
    sigma = landing.sigma_mm
    high = 9 * sigma
    laid = lay(
        [Stroke(replace(landing, creep=0.0), (-60.0, high / 2), (160.0, high / 2))],
        width_mm=100,
        height_mm=high,
        px_mm=PX,
        seed=seed,
    )
    across = laid.film_um.mean(axis=1)
    expected = landing.wet_um * landing.dry_share * sigma * np.sqrt(2 * np.pi)
    assert across.sum() / PX == pytest.approx(expected, rel=0.04)
    y = (np.arange(len(across)) + 0.5) / PX - high / 2
    width = np.sqrt((across * y**2).sum() / across.sum())
    assert width == pytest.approx(sigma, rel=0.06)


def test_a_burst_lands_what_flows_in_its_time(clean: SprayLanding) -> None:
    size = 10 * clean.sigma_mm
    laid = lay(
        [Dot(replace(clean, creep=0.0), (size / 2, size / 2), 0.5)],
        width_mm=size,
        height_mm=size,
        px_mm=PX,
        seed=3,
    )
    assert volume_mm3(laid.film_um) == pytest.approx(
        clean.volume_mm3_s * 0.5 * clean.dry_share, rel=0.04
    )
    assert laid.rivulets == 0


def test_two_passes_lay_twice_as_much(clean: SprayLanding) -> None:
    def mean(passes: int) -> float:
        stroke = Stroke(clean, (-50, 10), (90, 10), slowly=passes)
        return float(lay([stroke], width_mm=40, height_mm=20, px_mm=PX, seed=5).film_um.mean())

    assert mean(2) == pytest.approx(2 * mean(1), rel=0.03)


def test_the_same_seed_draws_the_same_card_and_another_does_not(wet: SprayLanding) -> None:
    marks = [Dot(wet, (12, 12), 0.5), Stroke(wet, (4, 22), (20, 22))]
    one, two, other = (
        lay(marks, width_mm=24, height_mm=26, px_mm=PX, seed=seed) for seed in (1, 1, 2)
    )
    assert np.array_equal(one.film_um, two.film_um)
    assert not np.array_equal(one.film_um, other.film_um)


def grain(landing: SprayLanding) -> float:
    """Scatter of the film over its mean, where the mean is even."""
    rows = [Stroke(landing, (-80.0, y), (110.0, y)) for y in np.arange(-60.0, 90.0, 4.0)]
    film = lay(rows, width_mm=30, height_mm=30, px_mm=PX, seed=9).film_um
    return float(film.std() / film.mean())


def test_coarse_droplets_and_half_dry_ones_are_grainy(clean: SprayLanding) -> None:
    smooth = grain(clean)
    weak = landing_of(setting(pressure_psi=5.0, trigger=0.8, distance_mm=60.0))
    assert float(weak.one.torn) > 0.1
    assert weak.shares.sum() == pytest.approx(1)
    assert grain(weak) > 1.5 * smooth
    assert grain(replace(clean, dusty=0.6)) > 1.3 * smooth
    # the paper's tooth alone scatters by a twentieth
    assert smooth > 0.05


def test_scatter_of_points_is_that_of_their_droplets(clean: SprayLanding) -> None:
    one_size = replace(
        clean,
        sizes_um=np.array([40.0]),
        shares=np.array([1.0]),
        splats_mm=np.array([0.05]),
        dusty=0.0,
    )
    film = np.concatenate(
        [
            lay(
                [Stroke(one_size, (-80.0, 0.25), (140.0, 0.25))],
                width_mm=60,
                height_mm=0.5,
                px_mm=PX,
                seed=s,
            ).film_um.ravel()
            for s in range(8)
        ]
    )
    drop_um = np.pi / 6 * 0.04**3 * PX**2 * 1e3 * clean.dry_share  # one droplet on a pixel
    poisson = np.sqrt(drop_um * film.mean())
    tooth = 0.05 * film.mean()
    assert film.std() == pytest.approx(np.hypot(poisson, tooth), rel=0.08)


def test_rivulets_start_where_the_spider_number_passes_one(
    clean: SprayLanding, wet: SprayLanding
) -> None:
    rng = np.random.default_rng(0)
    assert not rivulets(Stroke(clean, (0, 0), (50, 0)), rng)
    dot = Dot(wet, (15, 15), 0.5)
    paths = rivulets(dot, rng)
    main = [p for p in paths if p.main]
    assert len(main) > 10
    assert len(paths) > len(main), "some fork"
    ends = np.array([p.points[-1] - 15 for p in main])
    begins = np.array([p.points[0] - 15 for p in main])
    assert np.hypot(*ends.T).mean() > np.hypot(*begins.T).mean() + 2, "they are driven outward"
    longer = rivulets(
        Dot(replace(wet, creep=3 * wet.creep), (15, 15), 0.5), np.random.default_rng(0)
    )

    def length(all_paths: list) -> float:  # type: ignore[type-arg]
        return float(np.mean([len(p.points) for p in all_paths if p.main]))

    assert length(longer) >= length(paths)
    laid = lay([dot], width_mm=30, height_mm=30, px_mm=PX, seed=4)
    assert laid.rivulets > 10
    y, x = np.mgrid[:180, :180] / PX - 15
    far = np.hypot(x, y) > 4 * wet.sigma_mm
    mist = laid.film_um[far & (laid.fingers == 0)].mean()
    assert laid.film_um[far & (laid.fingers > 0.5)].min() > 5 * max(mist, 0.01)


def test_a_clogged_airbrush_breaks_its_stroke(clean: SprayLanding) -> None:
    def along(stops: float) -> np.ndarray:
        stroke = Stroke(replace(clean, stops=stops), (2, 5), (98, 5))
        return lay([stroke], width_mm=100, height_mm=10, px_mm=PX, seed=6).film_um.mean(axis=0)

    whole, broken = along(0.1), along(0.85)
    assert (whole[60:-60] > 0.3 * whole.mean()).all()
    assert (broken < 0.1 * whole.mean()).mean() > 0.3


def test_a_card_in_its_colours(clean: SprayLanding) -> None:
    bare = lay([], width_mm=5, height_mm=4, px_mm=PX, seed=1)
    shown = cards_bytes([bare], paint_optics("#2b3442", opacity="opaque"))[0]
    assert shown.shape == (24, 30, 3)
    assert to_hex((shown[3, 3] / 255.0) ** 2.2)[1:3] != "00"
    paper = np.array([int(PAPER[i : i + 2], 16) for i in (1, 3, 5)])
    assert np.abs(shown.astype(int) - paper).max() <= 1
    rows = [Stroke(clean, (-60.0, y), (80.0, y), slowly=12.0) for y in np.arange(-40.0, 60.0, 3.0)]
    thick = lay(rows, width_mm=8, height_mm=8, px_mm=PX, seed=1)
    covered = cards_bytes([thick], paint_optics("#2b3442", opacity="opaque"))[0].astype(int)
    assert np.abs(covered.mean(axis=(0, 1)) - [0x2B, 0x34, 0x42]).max() < 8


def test_splats_wider_than_a_pixel_keep_their_volume(clean: SprayLanding) -> None:
    coarse = replace(
        clean,
        sizes_um=np.array([200.0]),
        shares=np.array([1.0]),
        splats_mm=np.array([0.5]),
        dusty=0.0,
        creep=0.0,
    )
    size = 12 * coarse.sigma_mm
    dot = Dot(coarse, (size / 2, size / 2), 2.0)
    laid = lay([dot], width_mm=size, height_mm=size, px_mm=PX, seed=2)
    expected = coarse.volume_mm3_s * 2.0 * coarse.dry_share
    assert volume_mm3(laid.film_um) == pytest.approx(expected, rel=0.05)
