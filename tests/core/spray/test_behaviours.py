"""What painters know to be true of the spray, as facts the model must show (docs/models.md A9).

Margins: a setting counts as clean below risk .3 and as failing above it, the verdict's own limit.
"""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.spray.model import Outcome, spray
from haze.core.spray.recipe import NoRecipe, Recipe, find_recipe, line_of
from haze.core.spray.setting import Setting, make_setting

CLEAN = 0.3
HIDING_MID_GREY_UM = 7.5


def brush(**knobs: float) -> Setting:
    base = {
        "thinner_parts": 1.0,
        "needle_mm": 0.3,
        "trigger": 0.4,
        "pressure_psi": 20.0,
        "distance_mm": 60.0,
        "speed_mm_s": 120.0,
    }
    return make_setting("brush_acrylic", thinner="acrylic_thinner", **(base | knobs))


def kind(paint: str, **knobs: float) -> Setting:
    thinner = "lacquer_thinner" if paint == "lacquer" else "acrylic_thinner"
    base = {
        "thinner_parts": 1.0,
        "needle_mm": 0.3,
        "trigger": 0.35,
        "pressure_psi": 20.0,
        "distance_mm": 75.0,
        "speed_mm_s": 150.0,
    }
    return make_setting(paint, thinner=thinner, **(base | knobs))


def passes_to_hide(outcome: Outcome) -> float:
    return HIDING_MID_GREY_UM / float(outcome.dry_film_um)


@pytest.mark.parametrize("needle", [0.2, 0.3, 0.4])
@pytest.mark.parametrize("pressure", [10, 20, 40])
def test_neat_brush_paint_gives_no_useful_flow(needle: float, pressure: float) -> None:
    for trigger in (0.2, 0.5, 1.0):
        neat = spray(
            brush(thinner_parts=0, needle_mm=needle, pressure_psi=pressure, trigger=trigger)
        )
        assert neat.no_flow > 0.6


@pytest.mark.parametrize("needle", [0.2, 0.3, 0.4])
def test_barely_thinned_brush_paint_still_clogs(needle: float) -> None:
    assert spray(brush(thinner_parts=0.2, needle_mm=needle)).no_flow > 0.6


@pytest.mark.parametrize("parts", [1, 2, 3, 4])
def test_thinned_brush_paint_sprays_clean(parts: float) -> None:
    assert spray(brush(thinner_parts=parts, trigger=0.3)).worst < CLEAN


def test_thinning_costs_hiding_per_wet_film() -> None:
    share = [
        float(out.dry_film_um / out.wet_film_um)
        for out in (spray(brush(thinner_parts=p)) for p in (1, 2, 4))
    ]
    assert share[0] > share[1] > share[2]


@pytest.mark.parametrize("pressure", [3, 4, 5])
def test_weak_air_and_open_trigger_speckle(pressure: float) -> None:
    assert spray(brush(pressure_psi=pressure, trigger=0.8, speed_mm_s=100)).specks > CLEAN


def test_whisper_setting_is_clean_and_slow() -> None:
    whisper = spray(
        brush(needle_mm=0.2, trigger=0.15, pressure_psi=5, distance_mm=40, speed_mm_s=60)
    )
    assert whisper.worst < CLEAN
    assert 10 < passes_to_hide(whisper) <= 25


@pytest.mark.parametrize("pressure", [25, 30])
@pytest.mark.parametrize("trigger", [0.4, 0.5])
def test_brisk_setting_is_clean_in_two_to_four_passes(pressure: float, trigger: float) -> None:
    brisk = kind(
        "airbrush_acrylic",
        thinner_parts=0.5,
        trigger=trigger,
        pressure_psi=pressure,
        distance_mm=90,
        speed_mm_s=170,
        passes=3,
        rest_s=20,
        blown=1,
    )
    out = spray(brisk)
    assert out.worst < CLEAN
    assert 1.5 <= passes_to_hide(out) <= 4.5


def test_middle_setting_takes_a_few_more_passes_than_brisk() -> None:
    middle = find_recipe("airbrush_acrylic", needle_mm=0.3, task="cover", school="middle")
    brisk = find_recipe("airbrush_acrylic", needle_mm=0.3, task="cover", school="brisk")
    assert isinstance(middle, Recipe)
    assert isinstance(brisk, Recipe)
    assert middle.outcome.worst < CLEAN
    assert middle.passes >= brisk.passes


def spidering() -> Setting:
    return brush(
        thinner_parts=3, trigger=0.4, pressure_psi=28, distance_mm=45, speed_mm_s=110, passes=3
    )


CURES = {
    "back off": {"distance_mm": 90.0},
    "close the trigger": {"trigger": 0.2},
    "lower the pressure": {"pressure_psi": 15.0},
    "bursts with drying": {"rest_s": 60.0, "blown": 1.0},
}


def test_thin_close_strong_and_open_spiders() -> None:
    assert spray(spidering()).spiders > 0.6


@pytest.mark.parametrize("cure", CURES)
def test_each_cure_of_spiders_helps(cure: str) -> None:
    assert spray(spidering().but(**CURES[cure])).spiders < spray(spidering()).spiders


def test_the_cures_together_stop_spiders() -> None:
    together = {knob: value for cure in CURES.values() for knob, value in cure.items()}
    assert spray(spidering().but(**together)).worst < CLEAN


def test_ink_sprays_neat_and_floods_when_overdone() -> None:
    neat = spray(kind("ink", thinner_parts=0, trigger=0.25, speed_mm_s=120))
    flood = spray(kind("ink", thinner_parts=0, trigger=0.8, distance_mm=40, speed_mm_s=40))
    assert neat.worst < CLEAN
    assert flood.spiders > 0.6


def test_white_over_dark_specks_sooner_than_dark_over_dark() -> None:
    knobs = {"thinner_parts": 0.5, "pressure_psi": 8.0, "trigger": 0.5, "speed_mm_s": 300.0}
    white = spray(kind("white", **knobs))
    dark = spray(kind("airbrush_acrylic", **knobs))
    assert white.specks > dark.specks + 0.15
    assert white.specks > CLEAN


def test_a_grey_ground_halves_the_contrast_and_calms_white() -> None:
    knobs = {"thinner_parts": 0.5, "pressure_psi": 8.0, "trigger": 0.5, "speed_mm_s": 300.0}
    over_black = spray(kind("white", **knobs))
    over_grey = spray(kind("white", **knobs, contrast_scale=0.5))
    assert over_grey.specks < over_black.specks


def test_thinning_at_the_same_flow_trades_specks_for_passes() -> None:
    triggers = np.linspace(0.05, 1.0, 200)
    thick = spray(kind("white", thinner_parts=0.5, pressure_psi=8, trigger=0.5, speed_mm_s=300))
    thin_many = spray(
        kind("white", thinner_parts=2.0, pressure_psi=8, speed_mm_s=300).but(trigger=triggers)
    )
    same = int(np.argmin(np.abs(thin_many.flow_ml_min - thick.flow_ml_min)))
    assert thin_many.specks[same] < thick.specks
    assert thin_many.dry_film_um[same] < thick.dry_film_um


def test_thinning_at_the_same_trigger_raises_the_flow() -> None:
    flow = [float(spray(kind("white", thinner_parts=p)).flow_ml_min) for p in (0.5, 1, 2, 3)]
    assert flow == sorted(flow)
    assert flow[-1] > 1.5 * flow[0]


def test_far_warm_and_dry_gives_dust_and_lacquer_sooner() -> None:
    here = spray(kind("airbrush_acrylic")).dust
    far = spray(kind("airbrush_acrylic", distance_mm=220)).dust
    hot = spray(kind("airbrush_acrylic", distance_mm=220, temperature_c=33, humidity_pct=20)).dust
    lacquer = spray(kind("lacquer", distance_mm=150)).dust
    water = spray(kind("airbrush_acrylic", distance_mm=150)).dust
    assert here < far < hot
    assert here < CLEAN
    assert lacquer > water
    assert lacquer > CLEAN


def test_metallic_clogs_fine_needles_first_and_sprays_thinned_from_three_tenths() -> None:
    neat = [
        float(spray(kind("metallic", thinner_parts=0, needle_mm=n, trigger=0.5)).no_flow)
        for n in (0.15, 0.2, 0.3, 0.4)
    ]
    assert neat == sorted(neat, reverse=True)
    assert neat[0] > CLEAN
    assert spray(kind("metallic", thinner_parts=1, trigger=0.5)).no_flow < CLEAN


def test_a_thin_film_dries_in_minutes_still_and_well_under_two_blown() -> None:
    thin = spray(kind("airbrush_acrylic", speed_mm_s=350))
    assert 60 < thin.touch_dry_still_s < 900
    assert thin.touch_dry_blown_s < 100


def test_humid_air_dries_two_to_three_times_slower() -> None:
    dry = spray(kind("airbrush_acrylic", humidity_pct=50)).touch_dry_still_s
    damp = spray(kind("airbrush_acrylic", humidity_pct=80)).touch_dry_still_s
    assert 2.0 <= damp / dry <= 3.2


def line(**knobs: float) -> float:
    setting = kind(
        "ink",
        **(
            {
                "thinner_parts": 0.0,
                "needle_mm": 0.2,
                "trigger": 0.12,
                "pressure_psi": 10.0,
                "distance_mm": 8.0,
                "speed_mm_s": 100.0,
            }
            | knobs
        ),
    )
    return float(line_of(spray(setting), setting, strokes=np.asarray(1.0)))


def test_lines_narrow_when_nearer_or_with_less_trigger() -> None:
    assert line(distance_mm=5) < line(distance_mm=8)
    assert line(trigger=0.10) < line(trigger=0.16)


def test_lower_pressure_narrows_a_line() -> None:
    assert line(pressure_psi=7) < line(pressure_psi=14)


def test_the_footprint_of_a_line_grows_with_distance() -> None:
    near, far = (spray(kind("ink", distance_mm=d)).footprint_mm for d in (10, 20))
    assert float(far / near) == pytest.approx(2.0)


def test_the_finest_clean_line_is_about_a_millimetre() -> None:
    found = [
        find_recipe("ink", needle_mm=0.2, task="line", school="whisper", line_mm=mm)
        for mm in (0.2, 1.0)
    ]
    assert isinstance(found[0], NoRecipe)
    assert isinstance(found[1], Recipe)
    assert found[1].outcome.worst < CLEAN
