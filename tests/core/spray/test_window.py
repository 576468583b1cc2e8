"""The window: its fields, how sure they are, where a knob leaves the clean one."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import OutOfRangeError, UnknownNameError
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.model import RISKS, spray
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import NOMINAL, Latents, prior
from haze.core.spray.window import Axis, Window, edges, window

ACROSS, UP = Axis("thinner_parts", 0.0, 4.5, 31), Axis("pressure_psi", 3.0, 35.0, 26)


def setting() -> Setting:
    return make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=0.75,
        needle_mm=0.3,
        trigger=0.4,
        pressure_psi=18.0,
        distance_mm=65.0,
        speed_mm_s=80.0,
    )


@pytest.fixture(scope="module")
def opened() -> Window:
    return window(setting(), across=ACROSS, up=UP, latents=NOMINAL, alike=prior())


def test_each_cell_is_the_setting_of_its_row_and_column(opened: Window) -> None:
    alone = spray(setting().but(thinner_parts=ACROSS.values[20], pressure_psi=UP.values[4]))
    for name in RISKS:
        assert opened.risks[name].shape == (26, 31)
        assert float(opened.risks[name][4, 20]) == pytest.approx(float(getattr(alone, name)))


def test_how_sure_a_field_is_stands_beside_many_airbrushes_one_by_one(opened: Window) -> None:
    each = Latents(*(getattr(prior(), n)[:, None, None] for n in Latents.__slots__))
    grid = setting().but(
        thinner_parts=ACROSS.values[None, None, :], pressure_psi=UP.values[None, :, None]
    )
    out = spray(grid, each)
    for name in RISKS:
        struck = (np.asarray(getattr(out, name)) >= CLEAN_BELOW).mean(axis=0)
        off = np.abs(struck - opened.beyond[name])
        assert off.mean() < 0.02
        assert off.max() < 0.2
    clean = (out.worst < CLEAN_BELOW).mean(axis=0)
    assert np.abs(clean - opened.clean_share).mean() < 0.03


def test_thin_paint_under_high_pressure_spiders_and_weak_air_specks(opened: Window) -> None:
    assert opened.beyond["spiders"][-1, -1] > 0.75
    assert opened.beyond["specks"][0, 12] > 0.5
    assert opened.clean_share[15, 5] > 0.8
    word = opened.words["spiders"]
    row, column = round(word.up * 25), round(word.across * 30)
    assert opened.risks["spiders"][row, column] >= CLEAN_BELOW
    assert word.share == pytest.approx(
        float((opened.risks["spiders"] >= CLEAN_BELOW).mean()), abs=0.1
    )


def test_no_word_stands_for_a_fault_that_is_nowhere(opened: Window) -> None:
    for name in RISKS:
        if not (opened.risks[name] >= CLEAN_BELOW).any():
            assert name not in opened.words


def test_any_two_knobs_lie_on_the_axes_and_one_twice_is_refused() -> None:
    far = window(
        setting(),
        across=Axis("distance_mm", 20.0, 200.0, 12),
        up=Axis("trigger", 0.1, 1.0, 9),
        latents=NOMINAL,
        alike=prior(),
    )
    assert far.clean_share.shape == (9, 12)
    near_and_open = far.beyond["spiders"][-1, 0]
    assert near_and_open > far.beyond["spiders"][0, -1]
    with pytest.raises(OutOfRangeError, match="same knob"):
        window(setting(), across=UP, up=UP, latents=NOMINAL, alike=prior())


@pytest.mark.parametrize(
    ("knob", "low", "high", "steps"),
    [
        ("pressure_psi", 0.0, 30.0, 10),
        ("pressure_psi", 30.0, 10.0, 10),
        ("pressure_psi", 5.0, 90.0, 10),
        ("pressure_psi", 5.0, 30.0, 3),
        ("pressure_psi", 5.0, 30.0, 201),
    ],
)
def test_an_axis_says_what_it_takes(knob: str, low: float, high: float, steps: int) -> None:
    with pytest.raises(OutOfRangeError):
        Axis(knob, low, high, steps)


def test_an_axis_names_the_knobs_there_are() -> None:
    with pytest.raises(UnknownNameError, match="thinner_parts"):
        Axis("weather", 0.0, 1.0, 5)


def test_an_edge_is_where_the_first_fault_begins() -> None:
    found = edges(setting(), {"thinner_parts": 6.0}, latents=NOMINAL, alike=prior())[
        "thinner_parts"
    ]
    assert found.fault == "spiders"
    before, after = (setting().but(thinner_parts=found.value * f) for f in (0.97, 1.03))
    assert float(spray(before).worst) < CLEAN_BELOW <= float(spray(after).worst)
    assert found.low <= found.value <= found.high
    assert found.low < found.high


def test_there_is_no_edge_where_none_is_met_or_the_setting_is_not_clean() -> None:
    one = {"latents": NOMINAL, "alike": prior()}
    assert edges(setting(), {"pressure_psi": 19.0}, **one) == {}  # type: ignore[arg-type]
    wild = setting().but(distance_mm=15.0, thinner_parts=4.0)
    assert edges(wild, {"pressure_psi": 35.0}, **one) == {}  # type: ignore[arg-type]
