"""Trials: kept once, believed at once, taken back whole."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from haze.core.plan.coat import SprayAt
from haze.core.spray.calibrate import PaintThrough
from haze.service.bench import Bench
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.learn import LearnIn, learn
from haze.service.cups.setting import AssessIn, RecipeOut, assess
from haze.service.cups.trials import (
    RecipeOfBody,
    ThroughBody,
    TrialBody,
    TurnedBody,
    WayAsked,
    WayBody,
    WindowOfBody,
    keep_way,
    known,
    recipe_known,
    setting_known,
    way_of,
    window_of,
)
from haze.service.cups.trouble import TroubleIn, TroubleOfBody, symptoms, trouble, trouble_of
from haze.service.cups.window import WindowIn, opened
from haze.store.connection import MissingError

SETTING: dict[str, Any] = {
    "paint": {"kind": "airbrush_acrylic"},
    "thinner": "acrylic_thinner",
    "thinner_parts": 1.25,
    "needle_mm": 0.3,
    "trigger": 0.4,
    "pressure_psi": 18,
    "distance_mm": 55,
    "speed_mm_s": 80,
    "passes": 2,
}
PAINT = {"id": "slate", "name": "Slate", "kind": "airbrush_acrylic"}
AIRBRUSH = {"id": "all-round", "name": "All-round", "needle_mm": 0.3}
THROUGH = PaintThrough("airbrush_acrylic", "slate", "all-round", 0.3)
OF = {"paint_id": "slate", "airbrush_id": "all-round"}


def body(**more: object) -> dict[str, Any]:
    return {"paint": PAINT, "airbrush": AIRBRUSH, "setting": SETTING, **more}


def trial(n: int, look: str = "spiders", **more: object) -> TrialBody:
    return TrialBody.model_validate(body(id=f"trial-{n:04d}", look=look, **more))


def test_a_trial_is_kept_once_and_believed_at_once(bench: Bench) -> None:
    asked = ThroughBody.model_validate(body())
    before = known(bench.beliefs, asked)
    assert before.trials == []
    assert setting_known(bench.beliefs, TurnedBody.model_validate(body())).sure.endswith(
        "from the model, untried"
    )
    first = bench.log_trial(trial(1))
    assert first.before.clean > first.after.clean
    assert first.sure_after.endswith("after 1 trial")
    again = bench.log_trial(trial(1))
    assert again.after == first.after
    assert again.before == first.before
    after = known(bench.beliefs, asked)
    assert [t.id for t in after.trials] == ["trial-0001"]
    assert after.looks == first.after
    assert after.latents["creep"].mean > before.latents["creep"].mean
    assert after.next is not None
    assert "clean in" in after.next.why
    two = bench.log_trial(trial(2))
    assert two.sure_after.endswith("after 2 trials")


def test_a_trial_is_taken_back_and_counts_again(bench: Bench) -> None:
    logged = bench.log_trial(trial(1))
    back = bench.take_trial_back("trial-0001", back=True)
    assert back.before == logged.after
    assert back.after == logged.before
    assert bench.beliefs.of(THROUGH) is None
    again = bench.take_trial_back("trial-0001", back=False)
    assert again.after == logged.after
    with pytest.raises(MissingError):
        bench.take_trial_back("trial-0009", back=True)


def test_what_was_learned_is_there_after_a_restart(bench: Bench) -> None:
    bench.log_trial(trial(1))
    fresh = Beliefs(bench.db).of(THROUGH)
    here = bench.beliefs.of(THROUGH)
    assert fresh is not None
    assert here is not None
    assert fresh.gaussian.mean == pytest.approx(here.gaussian.mean)


def test_another_bottle_of_its_kind_hears_of_it_and_a_stranger_does_not(bench: Bench) -> None:
    bench.log_trial(trial(1))
    bottle = PaintThrough("airbrush_acrylic", "dun", "fine", 0.2)
    stranger = PaintThrough("white", "tern", "fine", 0.2)
    assert bench.beliefs.of(bottle) is not None
    assert bench.beliefs.of(stranger) is None
    other = body() | {"paint": PAINT | {"id": "dun", "name": "Dun"}}
    heard = known(bench.beliefs, ThroughBody.model_validate(other))
    assert heard.others
    said = setting_known(bench.beliefs, TurnedBody.model_validate(other))
    assert said.sure.endswith("from trials of its kind or this airbrush")


def test_all_that_tells_of_a_setting_follows_the_trials(bench: Bench) -> None:
    turned = TurnedBody.model_validate(body(task="cover"))
    window = WindowOfBody.model_validate(SETTING | OF | AXES)
    wish = RecipeOfBody.model_validate(
        {"paint": {"kind": "airbrush_acrylic"}, "needle_mm": 0.3, "task": "cover", **OF}
    )
    before = setting_known(bench.beliefs, turned), window_of(bench.beliefs, window)
    recipe = recipe_known(bench.beliefs, wish)
    for n in range(3):
        bench.log_trial(trial(n))
    after = setting_known(bench.beliefs, turned), window_of(bench.beliefs, window)
    assert after[0].spray.risks.spiders > before[0].spray.risks.spiders
    assert after[0].spray.clean_share < before[0].spray.clean_share
    grids = [sum(map(sum, w.spiders_share)) for w in (before[1], after[1])]
    assert grids[1] > grids[0]
    quieter = recipe_known(bench.beliefs, wish)
    assert isinstance(recipe, RecipeOut)
    assert isinstance(quieter, RecipeOut)
    assert quieter != recipe
    found = assess(AssessIn.model_validate(quieter.model_dump()))
    assert found.clean_share >= 0.7
    seen = TroubleOfBody.model_validate(body(symptom="spiders"))
    causes = trouble_of(bench.beliefs, bench.on, seen)
    fresh = trouble(TroubleIn.model_validate({"setting": SETTING, "symptom": "spiders"}))
    assert causes.expected is not None
    assert fresh.expected is not None
    assert causes.expected > fresh.expected


AXES = {
    "across": {"knob": "thinner_parts", "from": 0, "to": 4, "steps": 9},
    "up": {"knob": "pressure_psi", "from": 4, "to": 34, "steps": 7},
    "task": "cover",
}


def test_a_window_has_its_grids_words_and_schools() -> None:
    out = opened(WindowIn.model_validate(SETTING | AXES))
    assert len(out.up) == len(out.spiders) == len(out.clean_share) == 7
    assert len(out.across) == len(out.spiders[0]) == 9
    assert {s.school for s in out.schools} == {"whisper", "middle", "brisk"}
    for s in out.schools:
        assert out.across[0] <= s.across[0] < s.across[1] <= out.across[-1]
        assert out.up[0] <= s.up[0] < s.up[1] <= out.up[-1]
    assert opened(WindowIn.model_validate(SETTING | AXES | {"task": None})).schools == []
    apart = {"across": AXES["across"] | {"knob": "passes", "from": 1, "to": 9}}  # type: ignore[operator]
    assert opened(WindowIn.model_validate(SETTING | AXES | apart)).schools == []


def test_the_same_trials_by_command_say_the_same(bench: Bench) -> None:
    for n in range(2):
        bench.log_trial(trial(n))
    given = LearnIn.model_validate(
        {
            "paint": {"kind": "airbrush_acrylic"},
            "needle_mm": 0.3,
            "trials": [{"setting": SETTING, "outcome": "spiders"}] * 2,
            "ask": [SETTING],
        }
    )
    said, here = learn(given), known(bench.beliefs, ThroughBody.model_validate(body()))
    assert said.ask[0].clean == pytest.approx(here.looks.clean)
    assert said.latents == here.latents
    assert said.next is not None
    none = learn(LearnIn.model_validate(given.model_dump() | {"trials": [], "ask": []}))
    assert none.next is None


def test_an_own_way_is_kept_replaced_and_let_go(bench: Bench) -> None:
    whose = {"paint": "slate", "airbrush": "all-round", "needle_mm": 0.3, "task": "cover"}
    spray = SprayAt(thinner_parts=1.5, trigger=0.3, pressure_psi=14, distance_mm=60, speed_mm_s=90)
    asked = WayAsked.model_validate(whose)
    assert way_of(bench.db, asked).spray is None
    keep_way(bench.db, WayBody.model_validate(whose | {"spray": spray}))
    other = spray.model_copy(update={"pressure_psi": 16.0})
    keep_way(bench.db, WayBody.model_validate(whose | {"spray": other}))
    assert way_of(bench.db, asked).spray == other
    assert way_of(bench.db, asked.model_copy(update={"task": "light"})).spray is None
    assert way_of(bench.db, asked.model_copy(update={"needle_mm": 0.2})).spray is None
    keep_way(bench.db, WayBody.model_validate(whose))
    assert way_of(bench.db, asked).spray is None


def test_a_trial_with_a_wrong_look_or_name_is_refused() -> None:
    for wrong in ({"look": "lovely"}, {"id": "x"}, {"id": "a b c d e f g h"}):
        with pytest.raises(ValidationError):
            TrialBody.model_validate(body(id="trial-0001", look="clean") | wrong)


def test_every_symptom_is_listed_by_words() -> None:
    listed = symptoms().symptoms
    assert len({s.id for s in listed}) == len(listed) >= 15
    assert all(s.label[0].isupper() for s in listed)


def test_a_knob_of_a_cause_stands_where_a_hand_can_set_it() -> None:
    found = trouble(TroubleIn.model_validate({"setting": SETTING, "symptom": "spiders"}))
    for cause in found.causes:
        if cause.knob == "distance_mm":
            assert cause.to is not None
            assert cause.to % 5 == 0
            assert cause.to > 55
