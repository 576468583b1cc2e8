from __future__ import annotations

import itertools

import numpy as np
import pytest

from haze.core.errors import HazeError, UnknownNameError
from haze.core.spray.advice import CLEAN_BELOW, advise, verdict
from haze.core.spray.constants import OWN_THINNER, PAINTS, usual_contrast
from haze.core.spray.model import RISKS, spray
from haze.core.spray.recipe import (
    NoRecipe,
    Recipe,
    find_recipe,
    margins,
    speck_of,
)
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.tasks import SCHOOLS, TASKS, box_of, film_of_task, task_of


def setting(**knobs: float) -> Setting:
    base = {
        "thinner_parts": 3.0,
        "needle_mm": 0.3,
        "trigger": 0.5,
        "pressure_psi": 28.0,
        "distance_mm": 45.0,
        "speed_mm_s": 70.0,
    }
    return make_setting("brush_acrylic", thinner="acrylic_thinner", **(base | knobs))


def followed(start: Setting, knobs: dict[str, float]) -> Setting:
    changed = start.but(**knobs)
    return changed.but(blown=1.0) if "rest_s" in knobs else changed


def test_a_clean_setting_needs_no_advice() -> None:
    calm = setting(thinner_parts=1.0, pressure_psi=18.0, distance_mm=75.0, trigger=0.3)
    assert verdict(spray(calm)) == ("clean", None)
    assert advise(calm) == []


def test_every_single_knob_of_the_advice_makes_the_setting_clean() -> None:
    start = setting()
    sign, limiting = verdict(spray(start))
    assert (sign, limiting) == ("stop", "spiders")
    found = advise(start)
    assert found
    for a in found:
        assert a.value == pytest.approx(start.knob(a.knob))
        assert spray(followed(start, a.knobs())).worst < 0.3


def test_the_smallest_change_comes_first() -> None:
    sizes = [abs(np.log(a.to / a.value)) for a in advise(setting())]
    assert len(sizes) > 1
    assert sizes == sorted(sizes)


def test_specks_are_never_hidden_by_flooding() -> None:
    speckled = make_setting(
        "white",
        thinner="acrylic_thinner",
        thinner_parts=0.5,
        needle_mm=0.3,
        trigger=0.5,
        pressure_psi=7.0,
        distance_mm=75.0,
        speed_mm_s=150.0,
    )
    assert verdict(spray(speckled))[1] == "specks"
    for a in advise(speckled):
        assert not (a.knob in ("distance_mm", "speed_mm_s") and a.to < a.value)
        assert a.knob != "pressure_psi" or a.to <= 35


def test_more_thinner_closes_the_trigger_so_that_the_flow_holds() -> None:
    thick = setting(thinner_parts=0.45, pressure_psi=20.0, trigger=0.5, distance_mm=70.0)
    assert verdict(spray(thick))[1] == "no_flow"
    more = next(a for a in advise(thick) if a.knob == "thinner_parts")
    assert more.to > 0.45
    assert more.knobs()["trigger"] < 0.5
    assert float(spray(thick.but(**more.knobs())).flow_ml_min) == pytest.approx(
        float(spray(thick).flow_ml_min), rel=0.25
    )


@pytest.mark.parametrize("paint", sorted(PAINTS))
@pytest.mark.parametrize("school", sorted(SCHOOLS))
def test_recipes_stay_in_their_school_and_inside_the_clean_window(paint: str, school: str) -> None:
    found = find_recipe(paint, needle_mm=0.3, task="cover", school=school)
    assert isinstance(found, Recipe)
    s, box = found.setting, SCHOOLS[school]
    assert s.thinner.kind == OWN_THINNER[PAINTS[paint].chemistry]
    assert found.outcome.worst < 0.3
    assert box.pressure_psi[0] <= s.knob("pressure_psi") <= box.pressure_psi[1]
    assert box.distance_mm[0] - 5 <= s.knob("distance_mm") <= box.distance_mm[1] + 5
    for knob, (low, high) in found.margins.items():
        here = s.knob(knob)
        assert low is None or low <= here * 1.001
        assert high is None or high >= here * 0.999
        middle = np.sqrt(max(low or here, 1e-3) * (high or here))
        assert spray(s.but(**{knob: middle})).worst < 0.31


ROOMS = ((20.0, 50.0), (12.0, 70.0), (32.0, 25.0))
LINES_AND_SPECKS: dict[str, dict[str, float]] = {
    "line": {"line_mm": 1.0},
    "speck": {"speck_mm": 0.5},
}


@pytest.mark.parametrize("paint", sorted(PAINTS))
@pytest.mark.parametrize("ground", [8.0, 92.0], ids=["over black", "over white"])
def test_a_recipe_is_clean_by_the_own_model_or_plainly_none(paint: str, ground: float) -> None:
    # needle and room of each are drawn, so that all four and three come by; the bench runs them all
    rng = np.random.default_rng(len(paint) + int(ground))
    for task, school in itertools.product(sorted(TASKS), sorted(SCHOOLS)):
        needle = float(rng.choice([0.2, 0.3, 0.4, 0.5]))
        warm, damp = ROOMS[rng.integers(3)]
        found = find_recipe(
            paint,
            needle_mm=needle,
            task=task,
            school=school,
            temperature_c=warm,
            humidity_pct=damp,
            contrast=usual_contrast(paint, lightness=ground),
            **LINES_AND_SPECKS.get(task, {}),
        )
        asked = f"{task}, {school}, {needle} mm, {warm} °C"
        if isinstance(found, NoRecipe):
            assert found.reason.endswith("."), asked
            assert found.change.startswith("Try "), asked
            continue
        again = spray(found.setting)
        risks = {name: float(getattr(again, name)) for name in RISKS}
        if task == "speck":
            del risks["specks"]  # they are what is wanted
        assert max(risks.values()) < CLEAN_BELOW, f"{asked}: {risks}"
        assert found.passes == found.setting.knob("passes")
        film = found.passes * float(again.dry_film_um)
        wanted = film_of_task(found.job, PAINTS[paint])
        assert task in ("line", "speck") or film >= 0.999 * wanted or found.passes == 60, asked


@pytest.mark.parametrize("school", sorted(SCHOOLS))
@pytest.mark.parametrize(
    ("paint", "task"),
    [
        ("primer", "prime"),
        ("airbrush_acrylic", "cover"),
        ("white", "light"),
        ("brush_acrylic", "rung"),
        ("transparent", "veil"),
        ("metallic", "metal"),
        ("varnish", "varnish"),
    ],
)
def test_recipes_know_the_task(school: str, paint: str, task: str) -> None:
    found = find_recipe(paint, needle_mm=0.3, task=task, school=school)
    assert isinstance(found, Recipe)
    job, pace = TASKS[task], SCHOOLS[school].pace_mm_s
    low, high = job.trigger
    # a hand sets the trigger in steps of a twentieth
    assert low - 0.025 <= found.setting.knob("trigger") <= high + 0.025
    assert 0.8 * pace <= found.setting.knob("speed_mm_s") <= 1.25 * pace
    assert 2 <= found.passes <= 12
    if paint in ("primer", "varnish"):
        assert found.setting.knob("thinner_parts") <= 0.3


def test_the_tasks_differ_in_trigger_and_a_veil_is_thinner() -> None:
    opening = {t: sum(TASKS[t].trigger) for t in ("prime", "cover", "light", "rung", "veil")}
    assert list(opening.values()) == sorted(opening.values(), reverse=True)
    row = PAINTS["transparent"]
    veil, cover = (
        box_of(row, thinner="acrylic_thinner", school=SCHOOLS["middle"], task=TASKS[t])
        for t in ("veil", "cover")
    )
    assert veil["thinner_parts"][0] >= cover["thinner_parts"][0] + 0.5


def test_a_knob_that_never_spoils_the_spray_has_no_margin_on_that_side() -> None:
    calm = setting(thinner_parts=1.5, pressure_psi=18.0, distance_mm=75.0, trigger=0.2)
    found = margins(calm, task_of("cover"))
    assert found["speed_mm_s"][1] is None, "a quick hand stays clean as far as was looked"
    assert found["distance_mm"][1] is not None, "far away it dusts"
    dusty = calm.but(distance_mm=float(found["distance_mm"][1]) * 1.1)
    assert spray(dusty).worst >= 0.3


def test_a_recipe_is_the_same_every_time() -> None:
    one, two = (find_recipe("white", needle_mm=0.3, task="light", school="middle") for _ in "ab")
    assert isinstance(one, Recipe)
    assert isinstance(two, Recipe)
    assert one.setting.knob("trigger") == two.setting.knob("trigger")
    assert one.why == two.why


def test_speck_recipe_meets_the_wanted_size_or_says_what_it_can() -> None:
    found = find_recipe("white", needle_mm=0.3, task="speck", school="middle", speck_mm=0.2)
    assert isinstance(found, Recipe)
    assert float(speck_of(found.outcome)) == pytest.approx(0.2, rel=0.3)
    huge = find_recipe("white", needle_mm=0.3, task="speck", school="middle", speck_mm=5.0)
    assert isinstance(huge, NoRecipe)
    assert "not 5 mm" in huge.reason


def test_recipes_ask_for_what_they_need() -> None:
    with pytest.raises(HazeError, match="line needs its width"):
        find_recipe("ink", needle_mm=0.2, task="line", school="whisper")
    with pytest.raises(UnknownNameError, match="accepted are whisper, middle, brisk"):
        find_recipe("ink", needle_mm=0.2, task="cover", school="loud")
    with pytest.raises(UnknownNameError, match="accepted are prime"):
        find_recipe("ink", needle_mm=0.2, task="dunk", school="brisk")


def test_where_nothing_is_clean_the_reason_names_the_fault() -> None:
    none = find_recipe("enamel_wash", needle_mm=0.6, task="cover", school="whisper")
    assert isinstance(none, NoRecipe)
    assert "spiders" in none.reason
    assert none.change.startswith("Try ")


def test_a_bad_setting_is_cured_by_two_knobs_at_once() -> None:
    severe = setting(
        thinner_parts=3.0, trigger=0.8, pressure_psi=30.0, distance_mm=40.0, speed_mm_s=50.0
    ).but(passes=6.0)
    found = advise(severe)
    assert found
    assert found[0].alongside
    for a in found:
        assert spray(followed(severe, a.knobs())).worst < 0.3


def test_where_it_is_not_clean_the_range_shown_is_the_one_that_would_cure_it() -> None:
    start = setting()
    found = margins(start, task_of("cover"))
    for a in advise(start):
        if a.knob in found and not a.alongside:
            low, high = found[a.knob]
            here = start.knob(a.knob)
            assert (low is not None and here < low) or (high is not None and here > high)
            assert spray(start.but(**{a.knob: (low or high)})).worst < 0.31
