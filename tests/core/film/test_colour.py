from __future__ import annotations

import importlib.util
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError
from haze.core.film.difference import (
    ciede2000,
    hue_turn,
    lab_of,
    lightness_of,
    luminance_of_lightness,
    oklch_of,
)
from haze.core.film.paint import paint_optics
from haze.core.film.spectra import (
    BAND_TO_RGB,
    decode_srgb,
    encode_srgb,
    parse_hex,
    rgb_of,
    spectrum_of_hex,
)
from haze.core.film.stack import (
    add_coat,
    colours_of_stack,
    encode_bytes,
    linear_rgb,
    start_ground,
    value_bytes,
)

# Sharma, Wu & Dalal 2005, table 1: L*a*b* pairs and ΔE00
SHARMA = [
    ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
    ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
    ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
    ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0000),
    ((50, -1.1848, -84.8006), (50, 0, -82.7485), 1.0000),
    ((50, -0.9009, -85.5211), (50, 0, -82.7485), 1.0000),
    ((50, 0, 0), (50, -1, 2), 2.3669),
    ((50, -1, 2), (50, 0, 0), 2.3669),
    ((50, 2.49, -0.001), (50, -2.49, 0.0009), 7.1792),
    ((50, 2.49, -0.001), (50, -2.49, 0.0010), 7.1792),
    ((50, 2.49, -0.001), (50, -2.49, 0.0011), 7.2195),
    ((50, 2.49, -0.001), (50, -2.49, 0.0012), 7.2195),
    ((50, -0.001, 2.49), (50, 0.0009, -2.49), 4.8045),
    ((50, -0.001, 2.49), (50, 0.0011, -2.49), 4.7461),
    ((50, 2.5, 0), (50, 0, -2.5), 4.3065),
    ((50, 2.5, 0), (73, 25, -18), 27.1492),
    ((50, 2.5, 0), (61, -5, 29), 22.8977),
    ((50, 2.5, 0), (56, -27, -3), 31.9030),
    ((50, 2.5, 0), (58, 24, 15), 19.4535),
    ((50, 2.5, 0), (50, 3.1736, 0.5854), 1.0000),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((63.0109, -31.0961, -5.8663), (62.8187, -29.7946, -4.0864), 1.2630),
    ((35.0831, -44.1164, 3.7933), (35.0232, -40.0716, 1.5901), 1.8645),
    ((22.7233, 20.0904, -46.6940), (23.0331, 14.9730, -42.5619), 2.0373),
    ((90.8027, -2.0831, 1.4410), (91.1528, -1.6435, 0.0447), 1.4441),
    ((6.7747, -0.2908, -2.4247), (5.8714, -0.0985, -2.2286), 0.6377),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]
hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


@pytest.mark.parametrize(("one", "two", "expected"), SHARMA)
def test_ciede2000_published_pairs(
    one: tuple[float, ...], two: tuple[float, ...], expected: float
) -> None:
    assert float(ciede2000(one, two)) == pytest.approx(expected, abs=1e-4)


def test_ciede2000_of_many_equals_one_by_one() -> None:
    one = np.array([p[0] for p in SHARMA], dtype=float)
    two = np.array([p[1] for p in SHARMA], dtype=float)
    assert ciede2000(one, two) == pytest.approx([p[2] for p in SHARMA], abs=1e-4)


def test_the_band_matrix_is_the_one_its_script_derives() -> None:
    path = Path(__file__).parents[3] / "tools" / "derive_bands.py"
    spec = importlib.util.spec_from_file_location("derive_bands", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    assert pytest.approx(module.band_matrix(), abs=5e-9) == BAND_TO_RGB


def test_lightness_of_published_greys() -> None:
    assert float(lightness_of(0.184187)) == pytest.approx(50.0, abs=1e-3)
    assert float(luminance_of_lightness(50.0)) == pytest.approx(0.184187, abs=1e-5)
    assert lab_of([1.0, 1.0, 1.0]) == pytest.approx([100, 0, 0], abs=1e-6)


@settings(max_examples=60, deadline=None)
@given(hexes)
def test_a_hex_survives_its_spectrum(colour: str) -> None:
    spectrum = spectrum_of_hex(colour)
    assert np.all((spectrum > 0) & (spectrum < 1))
    back = encode_srgb(rgb_of(spectrum))
    assert np.abs(back - parse_hex(colour)).max() <= 0.01


@given(st.floats(0, 1))
def test_srgb_encoding_has_an_inverse(v: float) -> None:
    assert float(decode_srgb(encode_srgb(v))) == pytest.approx(v, abs=1e-6)


def test_a_spectrum_of_the_wrong_length_is_refused() -> None:
    with pytest.raises(HazeError, match="12 bands"):
        rgb_of(np.ones(11))


def test_thin_yellow_over_black_turns_green_and_comes_back() -> None:
    yellow = paint_optics("#f2c200", opacity="semi_opaque")
    seen = [
        decode_srgb(parse_hex(colours_of_stack("#0c0c0d", [(yellow, x)])[0])) for x in (3, 1000)
    ]
    masstone = decode_srgb(parse_hex("#f2c200"))
    hue = [float(oklch_of(c)[2]) for c in (*seen, masstone)]
    assert hue[0] - hue[2] >= 8
    assert float(ciede2000(lab_of(seen[1]), lab_of(masstone))) < 0.5


def test_thin_white_over_black_stays_grey() -> None:
    white = paint_optics("#f4f4f0", opacity="opaque")
    thin, thicker = (
        float(lab_of(decode_srgb(parse_hex(colours_of_stack("#0c0c0d", [(white, x)])[0])))[0])
        for x in (3, 9)
    )
    assert 50 <= thin <= 70
    assert 72 <= thicker <= 86


@settings(max_examples=40, deadline=None)
@given(hexes, st.floats(0.5, 30))
def test_a_transparent_colour_keeps_the_order_of_values(colour: str, um: float) -> None:
    veil = paint_optics(colour, opacity="transparent")
    ramp = np.linspace(0.02, 0.9, 30)
    ground = np.repeat(ramp[None, :], 12, axis=0).astype(np.float32)
    after = add_coat(ground, veil, np.full(30, um, dtype=np.float32))
    luminance = np.array([0.2126, 0.7152, 0.0722]) @ linear_rgb(after, "matt")
    assert np.all(np.diff(luminance) > -1e-5)


def test_vertices_agree_with_the_single_stack() -> None:
    paints = [
        (paint_optics("#17181a", opacity="opaque"), 4.0),
        (paint_optics("#f3f2ec", opacity="opaque"), 6.0),
        (paint_optics("#f2a01c", opacity="transparent", finish="satin"), 5.0),
    ]
    inside = start_ground("#8d8e8c", 5000)
    for optics, um in paints:
        inside = add_coat(inside, optics, np.full(5000, um, dtype=np.float32))
    colours = encode_bytes(linear_rgb(inside, "satin"))
    expected = np.round(parse_hex(colours_of_stack("#8d8e8c", paints)[-1]) * 255)
    assert np.abs(colours.astype(int) - expected).max() <= 1
    assert len({tuple(c) for c in colours}) == 1


def test_no_film_changes_nothing_and_inputs_stay() -> None:
    ground = start_ground("#604020", 100)
    before = ground.copy()
    after = add_coat(ground, paint_optics("#ffffff", opacity="opaque"), np.zeros(100, np.float32))
    assert np.array_equal(ground, before)
    assert after == pytest.approx(ground, abs=1e-5)


def test_values_are_the_grey_of_equal_lightness() -> None:
    linear = np.array([[0.5], [0.1], [0.3]], dtype=np.float32)
    grey = value_bytes(linear)[0]
    assert grey[0] == grey[1] == grey[2]
    y = 0.212639 * 0.5 + 0.7151687 * 0.1 + 0.0721923 * 0.3
    assert grey[0] == pytest.approx(float(encode_srgb(y)) * 255, abs=1)


@given(st.floats(0, 360), st.floats(-180, 180))
def test_a_hue_turn_is_the_short_way_round(hue: float, turn: float) -> None:
    found = float(hue_turn(hue + turn, hue))
    assert -180 <= found <= 180
    assert abs(found - turn) < 1e-9 or abs(abs(found) - 180) < 1e-9
    assert hue_turn(350, 20) == -30
    assert hue_turn(20, 350) == 30
