"""Light plans."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import UnknownNameError
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight, KeyLight
from haze.service.bench import Bench
from haze.service.light.lights import PresetBody, light_picture, light_study, lights_of, preset_list
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from helpers import going


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_every_preset_gives_a_light_plan_with_shares(plan: Plan, on: OnPiece) -> None:
    for one in preset_list().presets:
        found = lights_of(PresetBody(plan=plan, preset=one.id), on)
        assert found.lights
        assert found.study.show.lit + found.study.show.dark <= 1 + 1e-6
        assert (found.study.meeting is not None) == (one.id == "two_sides")
    with pytest.raises(UnknownNameError, match="accepted are noon"):
        lights_of(PresetBody(plan=plan, preset="moon"), on)


def test_a_preset_keeps_glows_and_names_its_school(plan: Plan, on: OnPiece) -> None:
    glow = GlowLight(id="lamp", at=(0, 0, 20))
    lamp = plan.model_copy(update={"lights": [KeyLight(), glow]})
    found = lights_of(PresetBody(plan=lamp, preset="noon"), on)
    assert found.lights[-1] == glow
    assert [light.kind for light in found.lights].count("glow") == 1
    assert found.schools.light == "noon"
    assert found.study == lights_of(PresetBody(plan=plan, preset="noon"), on).study
    kept = lights_of(PresetBody(plan=lamp, preset="as_planned"), on)
    assert kept.lights == lamp.lights
    assert kept.schools == lamp.schools
    turned = lights_of(PresetBody(plan=lamp, preset="opposite"), on)
    assert turned.lights[:2] == lamp.lights
    assert turned.lights[2].azimuth_deg == pytest.approx(-140)


def test_stage_models_the_show_side_more_than_noon_and_shoulder(plan: Plan, on: OnPiece) -> None:
    piece = on.piece
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    weight = np.where(show, piece.mesh.vertex_area, 0)

    def spread(preset: str) -> float:
        lights = lights_of(PresetBody(plan=plan, preset=preset), on).lights
        value = on.lit.value(plan.model_copy(update={"lights": lights}))
        mean = np.average(value, weights=weight)
        return float(np.sqrt(np.average((value - mean) ** 2, weights=weight)))

    assert spread("stage") >= spread("noon") - 1e-3
    assert spread("stage") >= spread("shoulder") - 0.02


def test_lights_add_and_keep_their_colours(plan: Plan, on: OnPiece) -> None:
    key = KeyLight(azimuth_deg=60, elevation_deg=20, softness_deg=10, colour="#ff8080")
    other = KeyLight(id="k2", azimuth_deg=-120, elevation_deg=20, softness_deg=10, colour="#8080ff")
    both = plan.model_copy(update={"lights": [key, other]})
    colour = on.lit.colour(both)
    value = [on.lit.one(light, both.piece.height_mm) for light in (key, other)]
    first, second = int(np.argmax(value[0] - value[1])), int(np.argmax(value[1] - value[0]))
    assert colour[0, first] > colour[2, first]
    assert colour[2, second] > colour[0, second]
    met = light_study([key, other], both, on).meeting
    assert met is not None
    assert met.both + met.first + met.second + met.neither == pytest.approx(1)
    dim = plan.model_copy(update={"lights": [key.model_copy(update={"strength": 0.5})]})
    full = plan.model_copy(update={"lights": [key]})
    assert on.lit.value(dim) == pytest.approx(0.5 * on.lit.value(full), abs=1e-6)
    none = plan.model_copy(update={"lights": []})
    assert on.lit.value(none).max() == 0
    assert colours(on, none, after=4, look="light_wanted").max() < 60


def test_a_glow_moves_with_the_piece_and_grows_with_it(
    club: Bench, plan: Plan, on: OnPiece
) -> None:
    glow = GlowLight(at=(-14, -8, 6), reach_mm=1.5, radius_mm=0.1)
    lit = plan.model_copy(update={"lights": [glow]})
    value = on.lit.value(lit)
    turned = lit.model_copy(deep=True)
    turned.piece.turn_deg = 90
    club.cache.make(turned.piece, going)
    other = club.on(turned)
    again = other.lit.value(turned)
    brightest = on.piece.mesh.to_file(on.piece.mesh.vertices[[np.argmax(value)]].astype(float))
    there = other.piece.mesh.to_file(other.piece.mesh.vertices[[np.argmax(again)]].astype(float))
    assert np.linalg.norm(brightest - there) < 2.0
    assert float(value.mean()) == pytest.approx(float(again.mean()), rel=0.1)
    # twice as tall and twice the reach is the same picture
    tall = lit.model_copy(deep=True)
    tall.piece.height_mm *= 2
    tall.lights = [glow.model_copy(update={"reach_mm": 3.0, "radius_mm": 2 * glow.radius_mm})]
    assert on.lit.value(tall) == pytest.approx(value, abs=1e-3)


def test_light_pictures_are_pictures(plan: Plan, on: OnPiece) -> None:
    data = light_picture(PresetBody(plan=plan, preset="noon"), on)
    assert data.startswith(b"\x89PNG")
    assert data != light_picture(PresetBody(plan=plan, preset="low_sun"), on)
