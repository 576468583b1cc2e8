"""Parts of the spray model against hand-worked and published figures."""

from __future__ import annotations

from dataclasses import fields, replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError, OutOfRangeError, UnknownNameError
from haze.core.spray.air import air_through_nozzle
from haze.core.spray.atomise import (
    TORN_SIZES,
    TORN_VOLUMES,
    characteristic_um,
    torn_drops_um,
    torn_share,
    volume_below,
)
from haze.core.spray.constants import (
    CONSTANTS,
    PAINT_KINDS,
    PAINTS,
    THINNER_KINDS,
    THINNERS,
    TOOTH_UM,
    constant,
    usual_contrast,
)
from haze.core.spray.drying import droplet_rate_um2_s, saturation_pa, wet_bulb_c
from haze.core.spray.film_motion import free_film_um, standing_film_um
from haze.core.spray.flow import annulus_factor, needle_gap_mm, paint_flow_ml_min
from haze.core.spray.footprint import footprint_sigma_mm, impaction, line_width_mm, wet_film_um
from haze.core.spray.model import RISKS, Outcome, drying_rate, spray
from haze.core.spray.rheology import mix, parts_of_equal_viscosity
from haze.core.spray.risk import any_of, logistic
from haze.core.spray.setting import make_setting
from haze.core.spray.specks import (
    droplets_per_cm2,
    resting_splat_factor,
    splat_opacity,
    visible_share,
)
from haze.core.spray.unsure import NOMINAL, SPREAD, bands, clean_words, prior

A = np.asarray


def test_viscosity_of_half_thinned_brush_paint_by_hand() -> None:
    # x .5, phi .2475, phi/phi_m .4267, medium share .335/.835 = .4012, water at 20 °C
    # eta_c = 30^.4012 = 3.914; (1 - .4267)^-1.45 = 2.240; product 8.77
    mixed = mix(
        PAINTS["brush_acrylic"],
        thinner=THINNERS["water"],
        thinner_parts=A(1.0),
        flow_aid_parts=A(0.0),
        temperature_c=A(20.0),
    )
    assert float(mixed.viscosity_mpa_s) == pytest.approx(8.77, rel=0.01)
    # .15 · (.5733^-2 - 1) = .306
    assert float(mixed.yield_pa) == pytest.approx(0.306, rel=0.01)


def test_paint_thins_when_warm() -> None:
    cold, warm = (
        float(
            mix(
                PAINTS["ink"],
                thinner=THINNERS["water"],
                thinner_parts=A(0.5),
                flow_aid_parts=A(0.0),
                temperature_c=A(t),
            ).viscosity_mpa_s
        )
        for t in (15.0, 30.0)
    )
    assert warm < cold


def flowing(**paint: float) -> float:
    """Flow [ml/min] of a made-up paint through .3 mm at full trigger in air of 200 m/s."""
    mixture = mix(
        PAINTS["ink"],
        thinner=THINNERS["water"],
        thinner_parts=A(0.5),
        flow_aid_parts=A(0.0),
        temperature_c=A(20.0),
    )
    changed = replace(mixture, **{name: A(value) for name, value in paint.items()})
    return float(
        paint_flow_ml_min(changed, needle_mm=A(0.3), trigger=A(0.25), air_speed_m_s=A(200.0))
    )


def test_flow_balances_the_pressures_that_drive_and_hold_it() -> None:
    # Casson at the wall through a slit of 48 µm round a bore of .3 mm, and the loss of an orifice
    eta, tau, rho = 0.05, 12.0, 1050.0
    q = flowing(viscosity_mpa_s=eta * 1e3, yield_pa=tau, density_kg_m3=rho) / 6e7
    outer, gap = 150e-6, 48e-6
    inner = outer - gap
    g = outer**4 - inner**4 - (outer**2 - inner**2) ** 2 / np.log(outer / inner)
    shear = 4 * gap * q / (np.pi * g)
    apparent = (np.sqrt(tau / shear) + np.sqrt(eta)) ** 2
    land = constant("nozzle_land_mm") * 1e-3
    area = np.pi * (outer**2 - inner**2)
    held = 8 * apparent * land * q / (np.pi * g)
    held += 0.5 * rho * (q / (constant("paint_discharge") * area)) ** 2
    driven = constant("suction_share") * 0.5 * constant("air_density") * 200.0**2
    driven += rho * 9.81 * constant("cup_head_mm") * 1e-3
    assert held == pytest.approx(driven, rel=1e-6)


def test_a_paint_that_stands_by_itself_does_not_flow() -> None:
    assert flowing(yield_pa=4000.0) == 0.0
    assert flowing(yield_pa=0.0) > flowing(yield_pa=20.0) > 0.0


def held(parts: float, **more: float) -> Outcome:
    given = {"thinner_parts": 1.0, "trigger": 0.35, "pressure_psi": 20.0, "distance_mm": 70.0}
    one = make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        needle_mm=0.3,
        speed_mm_s=80.0,
        retarder_parts=parts,
        **(given | more),
    )
    return spray(one)


def test_a_tenth_of_retarder_doubles_the_life_of_the_tip_and_half_again_the_drying() -> None:
    without, tenth = held(0.0), held(0.1)
    # tip life goes as (1 + 10 parts) / √volatility, drying as 1 / volatility; 1 + 5 × .1 = 1.5
    assert float(tenth.tip_dry_min / without.tip_dry_min) == pytest.approx(2 * 1.5**0.5, rel=0.05)
    slower = float(tenth.touch_dry_still_s / without.touch_dry_still_s)
    wetter = float(tenth.wet_film_um / without.wet_film_um)
    assert slower / wetter == pytest.approx(1.5, rel=0.06)


def test_retarder_lays_dust_in_a_warm_dry_room_and_is_never_half() -> None:
    warm = {"temperature_c": 33.0, "humidity_pct": 20.0, "distance_mm": 150.0}
    assert float(held(0.15, **warm).dust) < float(held(0.0, **warm).dust)
    with pytest.raises(OutOfRangeError, match="retarder_parts"):
        held(0.6)


def test_equal_viscosity_is_found_and_zero_when_thin_already() -> None:
    brush, ink = PAINTS["brush_acrylic"], PAINTS["ink"]
    own = THINNERS["acrylic_thinner"]
    same = parts_of_equal_viscosity(brush, thinner=own, like=brush, like_thinner=own, parts=2.0)
    assert same == pytest.approx(2.0, abs=1e-6)
    assert parts_of_equal_viscosity(ink, thinner=own, like=brush, like_thinner=own, parts=1.0) == 0


def test_choked_air_by_hand() -> None:
    # 40 psi: p0 = 101.3 + .75·275.8 = 308.2 kPa, choked: flux .0404/√293.15 kg/(s·m²·Pa)
    # A = π·.94·.14 mm² = .4134 mm²; mdot = .85·.4134e-6·308.2e3·.002360 = 2.556e-4 kg/s
    air = air_through_nozzle(A(40.0), needle_mm=A(0.3), temperature_c=A(20.0))
    assert float(air.mass_flow_kg_s) == pytest.approx(2.556e-4, rel=0.005)
    # U = √(2·1005·293.15·(1 − (101.3/308.2)^(2/7))) = 400 m/s
    assert float(air.speed_m_s) == pytest.approx(401, rel=0.01)


def test_air_flow_has_no_jump_where_it_chokes() -> None:
    psi = np.linspace(15, 18, 600)
    flow = air_through_nozzle(psi, needle_mm=A(0.3), temperature_c=A(20.0)).mass_flow_kg_s
    assert np.abs(np.diff(np.diff(flow))).max() < 1e-9


def test_annulus_limits() -> None:
    # open pipe: G → R⁴; narrow slot: G → (4/3)·R·h³ to first order
    assert annulus_factor(A(1.0), A(1e-9)) == pytest.approx(1.0, rel=0.06)
    h = 1e-3
    assert annulus_factor(A(1.0), A(1 - h)) == pytest.approx(4 / 3 * h**3, rel=2e-3)


def test_needle_gap_opens_with_the_trigger_up_to_the_nozzle() -> None:
    gap = needle_gap_mm(np.linspace(0, 1, 50), needle_mm=A(0.2))
    assert gap[0] == 0
    assert np.all(np.diff(gap) >= 0)
    assert gap[-1] == pytest.approx(0.1)


def test_rosin_rammler_has_the_sauter_mean_it_was_given() -> None:
    d = np.geomspace(0.05, 300, 200_000)
    volume = volume_below(d, characteristic=characteristic_um(A(15.0)))
    share = np.diff(volume)
    middle = np.sqrt(d[1:] * d[:-1])
    assert share.sum() / (share / middle).sum() == pytest.approx(15.0, rel=0.01)


def test_half_of_the_droplets_hit_at_the_half_impaction_size() -> None:
    # Stk = .24: d² = .24·18·1.81e-5·.094·.08/(1050·15)
    d = np.sqrt(0.24 * 18 * 1.81e-5 * 0.094 * 0.08 / (1050 * 15.0)) * 1e6
    got = impaction(A(d), density_kg_m3=A(1050.0), centre_speed=A(15.0), distance_mm=A(80.0))
    assert float(got) == pytest.approx(0.5)


def test_wet_film_is_what_the_strokes_share_out() -> None:
    # .6 ml/min on strokes √(2π)·.07·50 mm apart at 100 mm/s, all landed: 11.40 µm
    film = wet_film_um(A(0.6), transfer=A(1.0), distance_mm=A(50.0), speed_mm_s=A(100.0))
    assert float(film) == pytest.approx(11.40, rel=1e-3)


def test_water_vapour_figures() -> None:
    assert float(saturation_pa(A(20.0))) == pytest.approx(2339, rel=0.005)  # steam tables
    assert float(wet_bulb_c(A(20.0), humidity_pct=A(50.0))) == pytest.approx(13.8, abs=0.2)
    assert float(wet_bulb_c(A(20.0), humidity_pct=A(99.99))) == pytest.approx(20.0, abs=0.05)
    # models.md: about 550 and 1350 µm²/s
    assert float(droplet_rate_um2_s(A(20.0), humidity_pct=A(50.0))) == pytest.approx(550, rel=0.15)
    assert float(droplet_rate_um2_s(A(33.0), humidity_pct=A(20.0))) == pytest.approx(1350, rel=0.2)


def test_drying_rate_is_one_in_the_reference_room() -> None:
    assert float(drying_rate(A(20.0), humidity_pct=A(50.0))) == pytest.approx(1.0)
    assert float(drying_rate(A(30.0), humidity_pct=A(30.0))) > 1.5


def test_standing_film_sums_what_has_not_gelled() -> None:
    assert standing_film_um(A(10.0), passes=A(3.0), mobile_share=A(0.0)) == pytest.approx(10)
    assert standing_film_um(A(10.0), passes=A(3.0), mobile_share=A(1.0)) == pytest.approx(30)
    assert standing_film_um(A(10.0), passes=A(3.0), mobile_share=A(0.5)) == pytest.approx(17.5)


def test_a_resting_drop_of_thirty_degrees_is_twice_as_wide() -> None:
    # spherical cap of 30°: base over drop diameter 2.135
    assert resting_splat_factor() == pytest.approx(2.135, abs=0.01)


def test_line_width_of_a_stroke_ten_times_over_the_threshold() -> None:
    # 2·σ·√(2 ln 10), σ = .7 mm
    width = line_width_mm(A(6.0), hiding_um=6.0, distance_mm=A(10.0))
    assert float(width) == pytest.approx(2 * 0.7 * np.sqrt(2 * np.log(10)))


def test_logistic_and_any_of() -> None:
    assert logistic(A(1.0), spread=0.4) == pytest.approx(0.5)
    assert logistic(A(0.0), spread=0.4) == pytest.approx(0, abs=1e-9)
    assert any_of(A(0.5), A(0.5)) == pytest.approx(0.75)


KNOBS = st.fixed_dictionaries(
    {
        "thinner_parts": st.floats(0, 8),
        "needle_mm": st.floats(0.15, 0.6),
        "trigger": st.floats(0.02, 1),
        "pressure_psi": st.floats(2, 50),
        "distance_mm": st.floats(4, 300),
        "speed_mm_s": st.floats(15, 800),
        "temperature_c": st.floats(5, 40),
        "humidity_pct": st.floats(10, 95),
        "passes": st.floats(1, 20),
        "rest_s": st.floats(0, 300),
    }
)


@settings(max_examples=80, deadline=None)
@given(KNOBS, st.sampled_from(sorted(PAINT_KINDS)))
def test_every_accepted_setting_gives_finite_numbers_and_risks_in_range(
    knobs: dict[str, float], paint: str
) -> None:
    thinner = {"lacquer": "lacquer_thinner", "enamel": "spirit"}.get(
        PAINTS[paint].chemistry, "acrylic_thinner"
    )
    out = spray(make_setting(paint, thinner=thinner, **knobs))
    for f in fields(Outcome):
        assert np.isfinite(getattr(out, f.name)), f.name
    for name in RISKS:
        assert 0 <= float(getattr(out, name)) <= 1
    assert 0 <= float(out.transfer) <= 1


def test_many_settings_at_once_equal_one_at_a_time() -> None:
    rng = np.random.default_rng(3)
    n = 12
    knobs = {
        "thinner_parts": rng.uniform(0, 4, n),
        "trigger": rng.uniform(0.05, 1, n),
        "pressure_psi": rng.uniform(4, 40, n),
        "distance_mm": rng.uniform(20, 150, n),
        "speed_mm_s": rng.uniform(40, 300, n),
    }
    before = {k: v.copy() for k, v in knobs.items()}
    together = spray(make_setting("white", thinner="water", needle_mm=0.3, **knobs))
    for i in range(n):
        alone = spray(
            make_setting(
                "white", thinner="water", needle_mm=0.3, **{k: v[i] for k, v in knobs.items()}
            )
        )
        for f in fields(Outcome):
            assert getattr(together, f.name)[i] == pytest.approx(
                float(getattr(alone, f.name)), rel=1e-9
            )
    assert all(np.array_equal(knobs[k], before[k]) for k in knobs)


def test_wrong_settings_are_refused_by_name() -> None:
    good = {
        "thinner_parts": 1.0,
        "needle_mm": 0.3,
        "trigger": 0.3,
        "pressure_psi": 20.0,
        "distance_mm": 60.0,
        "speed_mm_s": 100.0,
    }
    with pytest.raises(OutOfRangeError, match=r"pressure_psi is 500; accepted is 1 to 60 psi"):
        make_setting("ink", thinner="water", **(good | {"pressure_psi": 500.0}))
    with pytest.raises(OutOfRangeError, match="trigger is nan"):
        make_setting("ink", thinner="water", **(good | {"trigger": float("nan")}))
    with pytest.raises(UnknownNameError, match="accepted are brush_acrylic"):
        make_setting("soup", thinner="water", **good)
    with pytest.raises(HazeError, match="spirit, which spoils ink; accepted are water"):
        make_setting("ink", thinner="spirit", **good)


def test_tables_are_complete() -> None:
    assert set(PAINTS) == set(PAINT_KINDS)
    assert set(THINNERS) == set(THINNER_KINDS)
    for name, row in CONSTANTS.items():
        assert row.unit, name
        assert row.source, name
        assert row.sure in ("measured", "derived", "judged")


def test_a_footprint_is_seven_hundredths_of_the_distance() -> None:
    assert float(footprint_sigma_mm(A(100.0))) == pytest.approx(7.0)


def test_tooth_holds_a_thin_film_and_no_more_than_itself_of_a_thick_one() -> None:
    # 6 − 6 (1 − 1/e) = 6/e = 2.207
    assert float(free_film_um(A(6.0), tooth_um=A(6.0))) == pytest.approx(6 / np.e)
    assert float(free_film_um(A(60.0), tooth_um=A(6.0))) == pytest.approx(54.0, abs=0.01)
    # h²/2t for films far thinner than the tooth
    assert float(free_film_um(A(0.1), tooth_um=A(6.0))) == pytest.approx(0.01 / 12, rel=0.01)
    assert list(TOOTH_UM.values()) == sorted(TOOTH_UM.values(), reverse=True)


def test_ligaments_tear_in_weak_air_more_as_the_trigger_opens() -> None:
    # 4 psi: U² = 2·1005·293.15·(1 − (101.325/122.01)^(2/7)) = 3.05e4, q = 18.3 kPa, exp(−.70) = .50
    air = air_through_nozzle(A(4.0), needle_mm=A(0.3), temperature_c=A(20.0))
    assert float(air.speed_m_s**2) == pytest.approx(3.05e4, rel=0.02)
    # 6 ṁ_L/ṁ_A = 1: 1 − 1/e of what tears
    one = torn_share(air, paint_kg_s=air.mass_flow_kg_s / 6)
    assert float(one) == pytest.approx(0.50 * (1 - 1 / np.e), rel=0.05)
    half = torn_share(air, paint_kg_s=air.mass_flow_kg_s / 12)
    assert float(half / one) == pytest.approx((1 - np.exp(-0.25)) / (1 - np.exp(-1)), rel=0.01)
    strong = air_through_nozzle(A(9.0), needle_mm=A(0.3), temperature_c=A(20.0))
    assert float(torn_share(strong, paint_kg_s=A(1e-4))) < 1e-3
    assert float(torn_share(air, paint_kg_s=A(0.0))) == 0.0


def test_torn_drops_are_rayleighs_of_a_ligament_as_thick_as_the_gap() -> None:
    drops = torn_drops_um(A([50.0, 100.0]))
    assert drops.shape == (4, 2)
    assert drops[:, 0] == pytest.approx(94.5 * TORN_SIZES)
    assert TORN_VOLUMES.sum() == pytest.approx(1.0)


def test_a_splat_is_seen_by_size_contrast_and_its_own_film() -> None:
    knobs = {"splat": A(2.0), "dry_share": A(0.2), "showing_um": 6.0, "contrast": A(1.0)}

    def seen(d: float, **more: object) -> float:
        return float(visible_share(A(d), **(knobs | {"film_um": A(0.0)} | more)))  # type: ignore[arg-type]

    assert seen(20.0) < 0.05 < 0.95 < seen(120.0)
    # the size at which half are seen goes as 1/√contrast
    assert seen(60.0, contrast=A(0.25)) < seen(60.0)
    assert seen(60.0, film_um=A(6.0)) < 0.05, "a film of its colour hides it"
    assert seen(60.0, showing_um=None) >= seen(60.0)
    assert float(splat_opacity(A(6.0), showing_um=6.0)) == pytest.approx(0.98, abs=0.001)
    # 1 µm in drops of 100 µm: 1e-4 cm³ per cm² over 5.24e-7 cm³
    assert float(droplets_per_cm2(A(1.0), diameter_um=A(100.0))) == pytest.approx(191.0, rel=0.01)


def test_contrast_of_a_kind_follows_its_ground() -> None:
    assert usual_contrast("white", lightness=5.0) == pytest.approx(1.0)
    assert usual_contrast("white", lightness=50.0) == pytest.approx(0.5)
    assert usual_contrast("primer", lightness=100.0) == pytest.approx(0.5)
    assert usual_contrast("primer", lightness=50.0) == pytest.approx(0.25)


def test_a_band_holds_the_number_and_the_prior_has_its_spreads() -> None:
    draws = prior()
    for name, spread in SPREAD.items():
        logs = np.log(getattr(draws, name))
        assert float(logs.mean()) == pytest.approx(0.0, abs=0.05)
        assert float(logs.std()) == pytest.approx(spread, rel=0.1)
    s = make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=0.75,
        needle_mm=0.3,
        trigger=0.45,
        pressure_psi=20.0,
        distance_mm=75.0,
        speed_mm_s=80.0,
    )
    told, alike = spray(s), spray(s, draws)
    names = ("flow_ml_min", "dry_film_um", "footprint_mm")
    found = bands([getattr(told, n) for n in names], [getattr(alike, n) for n in names])
    assert all(one.low < one.value < one.high for one in found)
    flow = found[0]
    assert 1.3 < flow.high / flow.value < 1.8, "flow is known to a factor of about one and a half"
    assert float(spray(s, NOMINAL).spiders) == float(told.spiders)
    assert clean_words(0.81) == "clean in 8 of 10 airbrushes like yours"
    assert clean_words(0.0) == "clean in none of 10 airbrushes like yours"
