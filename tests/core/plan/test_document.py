"""The plan document: what it takes, refuses and brings up from older schemas."""

from __future__ import annotations

import json

import pytest
from pydantic import ValidationError

from haze.core.plan.coat import Aim, HandStep, Step
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight, KeyLight, SkyLight
from haze.core.plan.piece import BlockedSector
from haze.core.plan.schools import Schools
from helpers import coat, plan


def test_plans_survive_json_and_refuse_what_they_do_not_know() -> None:
    p = plan(coat())
    assert Plan.model_validate_json(p.model_dump_json()) == p
    with pytest.raises(ValidationError, match="surprise"):
        Plan.model_validate({**p.model_dump(), "surprise": 1})
    with pytest.raises(ValidationError, match="share an id"):
        plan(coat("a"), coat("a"))
    with pytest.raises(ValidationError, match="same axis"):
        Plan.model_validate_json(p.model_dump_json().replace('"show":"-y"', '"show":"-z"'))


@pytest.mark.parametrize(
    ("where", "least", "most"),
    [
        (("coats", 0, "stations", 0, "passes"), 1, 200),
        (("coats", 0, "stations", 0, "spread_deg"), 2, 90),
        (("coats", 0, "stations", 0, "elevation_deg"), -90, 90),
        (("coats", 0, "stations", 0, "azimuth_deg"), -360, 360),
        (("coats", 0, "spray", "trigger"), 0.01, 1),
        (("coats", 0, "spray", "pressure_psi"), 1, 60),
        (("coats", 0, "spray", "distance_mm"), 3, 400),
        (("coats", 0, "spray", "speed_mm_s"), 5, 1000),
        (("coats", 0, "spray", "thinner_parts"), 0, 12),
        (("coats", 0, "spray", "flow_aid_parts"), 0, 2),
        (("coats", 0, "spray", "rest_s"), 0, 36000),
        (("coats", 0, "drops"), 1, 20),
        (("coats", 0, "paint", "drop_ul"), 5, 200),
        (("coats", 0, "paint", "strength"), 0.05, 20),
        (("coats", 0, "paint", "fluorescent"), 0, 1),
        (("airbrush", "needle_mm"), 0.1, 1),
        (("room", "temperature_c"), 0, 45),
        (("room", "humidity_pct"), 1, 99),
        (("piece", "copies"), 1, 500),
        (("piece", "height_mm"), 1, 2000),
        (("lights", 0, "strength"), 0, 4),
        (("lights", 0, "softness_deg"), 2, 90),
    ],
)
def test_numbers_are_taken_up_to_their_limits_and_no_further(
    where: tuple[str | int, ...], least: float, most: float
) -> None:
    def with_value(value: float) -> dict:  # type: ignore[type-arg]
        document = plan(coat()).model_dump()
        inner = document
        for key in where[:-1]:
            inner = inner[key]
        assert where[-1] in inner
        inner[where[-1]] = value
        return document

    step = 1 if isinstance(least, int) and where[-1] in ("passes", "drops", "copies") else 1e-6
    for value in (least, most):
        Plan.model_validate(with_value(value))
    for value in (least - step, most + step, float("nan"), float("inf")):
        with pytest.raises(ValidationError, match=str(where[-1])):
            Plan.model_validate(with_value(value))


def test_an_aimed_coat_must_be_whole() -> None:
    with pytest.raises(ValidationError, match="needs its start"):
        Aim(field="ramp")
    with pytest.raises(ValidationError, match="needs its part"):
        Aim(field="part")
    document = plan(coat()).model_dump()
    document["coats"][0]["aim"] = {"field": "recesses"}
    with pytest.raises(ValidationError, match="an aim and no stations"):
        Plan.model_validate(document)
    document["coats"][0]["stations"] = []
    assert Plan.model_validate(document).coats[0].passes == 2  # type: ignore[union-attr]
    document["coats"][0]["aim"] = {"field": "glow", "light": "none"}
    with pytest.raises(ValidationError, match="not in the plan"):
        Plan.model_validate(document)


def test_a_step_by_hand_must_have_what_it_needs() -> None:
    with pytest.raises(ValueError, match="dry brush needs a paint"):
        HandStep(id="a", name="Dry brush", role="dry_brush")
    with pytest.raises(ValueError, match="the part or the zone it covers"):
        HandStep(id="a", name="Mask", role="mask_on")
    rest = HandStep(id="a", name="Rest", role="rest", minutes=90)
    assert rest.wait_min == 90
    assert HandStep(id="b", name="Rest", role="rest").wait_min == 60
    liquid = HandStep(id="c", name="Mask", role="mask_on", part="hull", mask="liquid")
    assert (liquid.wait_min, liquid.hands_min) == (20, 5)
    assert "dry" in liquid.words
    off = HandStep(id="d", name="Mask", role="mask_off", mask="liquid")
    assert (off.wait_min, off.masks) == (0, None)
    steps: list[Step] = [rest]
    assert steps[0].kind == "hand"
    assert rest.mix is None
    assert rest.full_um == 0


def test_what_one_sees_through() -> None:
    veil = coat().model_copy(update={"task": "veil"})
    assert veil.seen_through
    assert not coat().seen_through
    metal = coat(kind="metallic").model_copy(update={"task": "tint"})
    assert not metal.seen_through
    wash = HandStep(id="w", name="Wash", role="wash", paint=coat().paint, strength=0.5)
    assert wash.seen_through
    assert wash.washes
    # half of the two micrometres a wash leaves where it lies fully
    assert wash.full_um == pytest.approx(1.0)
    assert not HandStep(id="d", name="Dry", role="dry_brush", paint=coat().paint).seen_through


def test_passes_are_summed_and_the_busiest_station_counts() -> None:
    c = coat()
    (one,) = c.stations
    c.stations = [one, one.model_copy(update={"id": "b", "passes": 7})]
    assert (c.passes, c.most_passes) == (9, 7)


def test_steps_done_lights_and_light_coats() -> None:
    light = coat("b").model_copy(update={"task": "light"})
    off = coat("c").model_copy(update={"task": "light", "off": True})
    p = plan(coat("a"), light, off)
    assert [s.id for s in p.done] == ["a", "b"]
    assert p.light_coats() == [1]
    assert p.key_light == KeyLight()
    glow = GlowLight(at=(0, 0, 1))
    lit = p.model_copy(update={"lights": [SkyLight(), glow, KeyLight(azimuth_deg=7)]})
    assert lit.glows == [glow]
    assert lit.key_light.azimuth_deg == 7
    assert p.model_copy(update={"lights": [glow]}).key_light == KeyLight()


def test_schools_are_told_in_the_words_of_the_trade() -> None:
    assert Schools().words == "Middle, Shoulder, Three-tone, Climb"
    assert Schools(ground="hue_ground", order="veil").words == "Middle, Shoulder, Hue ground, Veil"


def test_a_blocked_sector_is_a_cone_of_the_sky() -> None:
    p = plan(coat())
    p.piece.blocked = [BlockedSector(id="h", name="Hand", azimuth_deg=10, half_angle_deg=35)]
    (cone,) = p.piece.cones
    assert (cone.azimuth_deg, cone.elevation_deg, cone.half_angle_deg) == (10, -90, 35)
    assert p.sprayed[0].stations[0].station.spread_deg == 10


def test_a_plan_of_the_first_schema_opens_with_its_light() -> None:
    new = plan(coat())
    old = json.loads(new.model_dump_json())
    old["schema_version"] = 1
    del old["lights"]
    old["light"] = {"azimuth_deg": 33, "elevation_deg": 44, "softness_deg": 5}
    for name in ("parts", "blocked"):
        del old["piece"][name]
    for step in old["coats"]:
        del step["aim"]
        del step["kind"]
    opened = Plan.model_validate(old)
    assert opened.schema_version == 3
    assert (opened.key_light.azimuth_deg, opened.key_light.elevation_deg) == (33, 44)
    assert opened.coats == new.coats


@pytest.mark.parametrize(
    ("finish", "task"), [("matt", "matt"), ("ultra_matt", "matt"), ("gloss", "gloss")]
)
def test_one_task_for_every_varnish_becomes_one_for_each_finish(finish: str, task: str) -> None:
    old = json.loads(plan(coat(kind="varnish")).model_dump_json())
    old["schema_version"] = 2
    old["coats"][0] |= {"task": "varnish"}
    old["coats"][0]["paint"]["finish"] = finish
    del old["coats"][0]["kind"]
    assert Plan.model_validate(old).sprayed[0].task == task
