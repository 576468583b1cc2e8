"""What a setting does, and a recipe, over HTTP: the same models as the command line."""

from __future__ import annotations

import time

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field, RootModel

from haze.service.bench import Bench
from haze.service.cards.swatch import ClearSwatchError, SwatchBody, swatch
from haze.service.cups.schools import SchoolsBody, SchoolsOut, schools_of
from haze.service.cups.setting import (
    AssessIn,
    AssessOut,
    RecipeIn,
    RecipeNone,
    RecipeOut,
    assess,
    recipe,
)
from haze.service.cups.trials import (
    BackBody,
    Known,
    KnownSetting,
    RecipeOfBody,
    Taught,
    ThroughBody,
    TrialBody,
    TurnedBody,
    WayAsked,
    WayBody,
    WayOut,
    WindowOfBody,
    keep_way,
    known,
    recipe_known,
    setting_known,
    way_of,
    window_of,
)
from haze.service.cups.trouble import (
    SymptomList,
    TroubleOfBody,
    TroubleOut,
    symptoms,
    trouble_of,
)
from haze.service.cups.window import WindowOut
from haze.service.day.amounts import (
    AmountsBody,
    AmountsOut,
    PremixBody,
    PremixOut,
    UseBody,
    UsedOut,
    amounts,
    premix_of,
    use_up,
)
from haze.web.routes import route_group


class RecipeAnswer(RootModel[RecipeOut | RecipeNone]):
    """A recipe, or why there is none."""


class TrialPath(BaseModel):
    trial_id: str = Field(max_length=64)


def cups_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Settings, the window, trials and trouble."""
    api = route_group("cups", documented=documented, refuses=(422,))
    _assess(api, bench)
    _learn(api, bench)
    _measure(api, bench)
    return api


def _assess(api: APIBlueprint, bench: Bench) -> None:
    """Settings, recipes, windows and swatches."""

    @api.post("/assess", responses={200: AssessOut})
    def assess_setting(body: AssessIn) -> AssessOut:
        return assess(body)

    @api.post("/recipe", responses={200: RecipeAnswer})
    def find_recipe(body: RecipeIn) -> RecipeAnswer:
        return RecipeAnswer(recipe(body))

    @api.post("/window", responses={200: WindowOut})
    def open_window(body: WindowOfBody) -> WindowOut:
        with bench.urgent.first():
            return window_of(bench.beliefs, body)

    @api.post("/setting", responses={200: KnownSetting})
    def tell_setting(body: TurnedBody) -> KnownSetting:
        with bench.urgent.first():
            return setting_known(bench.beliefs, body)

    @api.post("/swatch", responses={200: None, 204: None})
    def show_swatch(body: SwatchBody) -> Response:
        """PNG of what a setting leaves on card; 204 of a clear coat, of which nothing is seen."""
        begun = time.perf_counter()
        let_by = bench.urgent.let_by
        try:
            found = swatch(body, beliefs=bench.beliefs, shelf=bench.shelf(), let_by=let_by)
        except ClearSwatchError:
            return Response(status=204)
        took = (time.perf_counter() - begun) * 1e3
        return Response(
            found.png,
            mimetype="image/png",
            headers={
                "X-Card": "dark" if found.dark else "white",
                "Server-Timing": f"swatch;dur={took:.1f}",
            },
        )

    @api.post("/recipe/known", responses={200: RecipeAnswer})
    def recipe_by_trials(body: RecipeOfBody) -> RecipeAnswer:
        return RecipeAnswer(recipe_known(bench.beliefs, body))


def _learn(api: APIBlueprint, bench: Bench) -> None:
    """What trials teach, and trouble."""

    @api.post("/known", responses={200: Known})
    def what_is_known(body: ThroughBody) -> Known:
        return known(bench.beliefs, body)

    @api.post("/trials", responses={200: Taught})
    def log_trial(body: TrialBody) -> Taught:
        return bench.log_trial(body)

    @api.post("/trials/<trial_id>/back", responses={200: Taught})
    def take_trial_back(path: TrialPath, body: BackBody) -> Taught:
        return bench.take_trial_back(path.trial_id, back=body.back)

    @api.get("/symptoms", responses={200: SymptomList})
    def all_symptoms() -> SymptomList:
        return symptoms()

    @api.post("/trouble", responses={200: TroubleOut})
    def in_trouble(body: TroubleOfBody) -> TroubleOut:
        return trouble_of(bench.beliefs, bench.on, body)


def _measure(api: APIBlueprint, bench: Bench) -> None:
    """Amounts, premixes, schools and the painter’s own way."""

    @api.post("/amounts", responses={200: AmountsOut})
    def what_is_needed(body: AmountsBody) -> AmountsOut:
        return amounts(bench.db, bench.on, body)

    @api.post("/amounts/used", responses={200: UsedOut})
    def use_from_shelf(body: UseBody) -> UsedOut:
        return use_up(bench.db, body)

    @api.post("/premix", responses={200: PremixOut})
    def premix_a_bottle(body: PremixBody) -> PremixOut:
        return premix_of(body)

    @api.post("/schools", responses={200: SchoolsOut})
    def all_schools(body: SchoolsBody) -> SchoolsOut:
        return schools_of(body, bench.on(body.plan))

    @api.post("/way", responses={200: WayOut})
    def own_way(body: WayAsked) -> WayOut:
        return way_of(bench.db, body)

    @api.put("/way", responses={200: WayOut})
    def keep_own_way(body: WayBody) -> WayOut:
        return keep_way(bench.db, body)
