"""What must rise or fall with each knob, whatever the others are, and what holds at the limits."""

from __future__ import annotations

from dataclasses import fields

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.spray.constants import OWN_THINNER, PAINT_KINDS, constant, paint_of, thinner_of
from haze.core.spray.model import RISKS, Outcome, spray
from haze.core.spray.rheology import mix
from haze.core.spray.setting import RANGES, Setting, make_setting
from haze.core.spray.unsure import NOMINAL, SPREAD, Latents

KNOBS = {
    "thinner_parts": (0.0, 8.0),
    "flow_aid_parts": (0.0, 0.5),
    "retarder_parts": (0.0, 0.3),
    "needle_mm": (0.15, 0.6),
    "trigger": (0.05, 1.0),
    "pressure_psi": (3.0, 40.0),
    "distance_mm": (10.0, 200.0),
    "speed_mm_s": (20.0, 300.0),
    "temperature_c": (8.0, 35.0),
    "humidity_pct": (15.0, 85.0),
    "contrast": (0.05, 1.0),
    "rest_s": (0.0, 120.0),
}
# a knob, what it moves, and whether more of it makes more of that
RISES = [
    ("thinner_parts", "viscosity_mpa_s", False),
    ("trigger", "flow_ml_min", True),
    ("trigger", "no_flow", False),
    ("pressure_psi", "flow_ml_min", True),
    ("pressure_psi", "air_l_min", True),
    ("distance_mm", "footprint_mm", True),
    ("distance_mm", "transfer", False),
    ("distance_mm", "wet_film_um", False),
    ("speed_mm_s", "wet_film_um", False),
    ("speed_mm_s", "spiders", False),
    ("speed_mm_s", "touch_dry_still_s", False),
    ("temperature_c", "tip_dry_min", False),
    ("humidity_pct", "touch_dry_still_s", True),
    ("humidity_pct", "touch_dry_blown_s", True),
    ("humidity_pct", "tip_dry_min", True),
    ("humidity_pct", "dust", False),
    ("contrast", "specks", True),
    ("retarder_parts", "tip_dry_min", True),
    ("flow_aid_parts", "tip_dry_min", True),
]
SLACK = 1e-7
WHOLE = [n for n in RANGES if n not in ("blown", "tooth_um")]


@st.composite
def sprayed(draw: st.DrawFn) -> Setting:
    """Any paint with its own thinner, anyhow set, in any room."""
    kind = draw(st.sampled_from(PAINT_KINDS))
    knobs = {name: draw(st.floats(*ends)) for name, ends in KNOBS.items()}
    return make_setting(
        kind,
        thinner=OWN_THINNER[paint_of(kind).chemistry],
        passes=float(draw(st.integers(1, 12))),
        blown=float(draw(st.booleans())),
        surface=draw(st.sampled_from(("matt", "satin", "gloss", "bare"))),
        **knobs,
    )


def along(of: Setting, knob: str) -> Outcome:
    low, high = KNOBS.get(knob, RANGES[knob][:2])
    return spray(of.but(**{knob: np.linspace(low, high, 25)}))


@pytest.mark.parametrize(("knob", "moves", "more"), RISES, ids=lambda v: str(v))
@settings(max_examples=40, deadline=None)
@given(of=sprayed())
def test_a_knob_moves_one_way_whatever_the_others(
    knob: str, moves: str, more: bool, of: Setting
) -> None:
    steps = np.diff(getattr(along(of, knob), moves))
    assert np.all(steps >= -SLACK) if more else np.all(steps <= SLACK)


@settings(max_examples=120, deadline=None)
@given(of=sprayed())
def test_film_is_flow_over_width_and_hand(of: Setting) -> None:
    one, twice = spray(of), spray(of.but(speed_mm_s=2 * of.knob("speed_mm_s")))
    assert float(twice.wet_film_um) == pytest.approx(0.5 * float(one.wet_film_um), rel=1e-9)
    sigma_mm = float(one.footprint_mm) / 4
    landed = float(one.flow_ml_min) * 1000 / 60 * float(one.transfer)  # mm³/s
    square_on = landed / (np.sqrt(2 * np.pi) * sigma_mm * of.knob("speed_mm_s")) * 1000
    assert float(one.wet_film_um) == pytest.approx(square_on, rel=1e-6)
    assert 0 < float(one.dry_film_um) <= float(one.wet_film_um)


@settings(max_examples=150, deadline=None)
@given(of=sprayed(), tooth=st.floats(1.0, 6.0), creep=st.floats(1.0, 4.0))
def test_spiders_come_sooner_on_less_tooth_with_more_rounds_and_a_readier_paint(
    of: Setting, tooth: float, creep: float
) -> None:
    here = of.but(tooth_um=6.0, passes=1.0)
    base = float(spray(here).spiders)
    assert float(spray(here.but(tooth_um=tooth)).spiders) >= base - SLACK
    assert float(spray(here.but(passes=6.0)).spiders) >= base - SLACK
    readier = Latents(*(np.asarray(creep if name == "creep" else 1.0) for name in SPREAD))
    assert float(spray(here, readier).spiders) >= base - SLACK


@settings(max_examples=150, deadline=None)
@given(of=sprayed())
def test_resting_and_blowing_never_make_it_run(of: Setting) -> None:
    many = of.but(passes=8.0, blown=0.0)
    rested = spray(many.but(rest_s=np.linspace(0, 300, 13))).spiders
    assert np.all(np.diff(rested) <= SLACK)
    blown = spray(many.but(blown=1.0, rest_s=30.0)).spiders
    still = spray(many.but(blown=0.0, rest_s=30.0)).spiders
    faster = spray(many).touch_dry_blown_s <= spray(many).touch_dry_still_s
    assert not faster or float(blown) <= float(still) + SLACK


@settings(max_examples=300, deadline=None)
@given(
    kind=st.sampled_from(PAINT_KINDS),
    share=st.lists(st.floats(0, 1), min_size=len(WHOLE), max_size=len(WHOLE)),
)
def test_within_all_that_is_accepted_every_number_is_one(kind: str, share: list[float]) -> None:
    knobs = {
        n: RANGES[n][0] + s * (RANGES[n][1] - RANGES[n][0])
        for n, s in zip(WHOLE, share, strict=True)
    }
    out = spray(make_setting(kind, thinner=OWN_THINNER[paint_of(kind).chemistry], **knobs))
    for member in fields(Outcome):
        value = float(getattr(out, member.name))
        assert not np.isnan(value), member.name
        assert value >= 0, member.name
    assert all(0 <= float(getattr(out, risk)) <= 1 for risk in RISKS)


@pytest.mark.parametrize("kind", PAINT_KINDS)
def test_paint_without_end_of_thinner_is_thinner(kind: str) -> None:
    paint = paint_of(kind)
    thinner = thinner_of(OWN_THINNER[paint.chemistry])
    endless = mix(
        paint,
        thinner=thinner,
        thinner_parts=np.asarray(1e6),
        flow_aid_parts=np.asarray(0.0),
        temperature_c=np.asarray(20.0),
    )
    assert float(endless.viscosity_mpa_s) == pytest.approx(thinner.viscosity_mpa_s, rel=1e-3)
    assert float(endless.surface_tension_mn_m) == pytest.approx(thinner.surface_tension_mn_m, 1e-3)
    assert float(endless.yield_pa) == pytest.approx(0.0, abs=1e-4)
    assert float(endless.dry_share) == pytest.approx(0.0, abs=1e-5)


def test_a_closed_trigger_gives_nothing_and_far_off_nothing_lands() -> None:
    here = make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=1.0,
        needle_mm=0.3,
        trigger=0.01,
        pressure_psi=20.0,
        distance_mm=70.0,
        speed_mm_s=80.0,
    )
    assert float(spray(here).no_flow) > 0.9
    far = spray(here.but(trigger=0.35, distance_mm=400.0))
    near = spray(here.but(trigger=0.35, distance_mm=20.0))
    assert float(far.transfer) < 0.35 < 0.7 < float(near.transfer)
    assert constant("mist_landing") < 1
    assert spray(here, NOMINAL).viscosity_mpa_s == spray(here).viscosity_mpa_s
