"""What a setting does, and a recipe, over HTTP: the same models as the command line."""

from __future__ import annotations

import time

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
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
from haze.web.problems import Problem


class RecipeAnswer(RootModel[RecipeOut | RecipeNone]):
    """A recipe, or why there is none."""


class TrialPath(BaseModel):
    trial_id: str = Field(max_length=64)


def cups_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Settings, the window, trials and trouble."""
    api = APIBlueprint(
        "cups",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="cups")],
        doc_ui=documented,
        abp_responses={422: Problem},
    )

    @api.post("/assess", responses={200: AssessOut})
    def assess_setting(body: AssessIn) -> dict[str, object]:
        return assess(body).model_dump(by_alias=True)

    @api.post("/recipe", responses={200: RecipeAnswer})
    def find_recipe(body: RecipeIn) -> dict[str, object]:
        return recipe(body).model_dump()

    @api.post("/window", responses={200: WindowOut})
    def open_window(body: WindowOfBody) -> dict[str, object]:
        with bench.urgent.first():
            return window_of(bench.beliefs, body).model_dump()

    @api.post("/setting", responses={200: KnownSetting})
    def tell_setting(body: TurnedBody) -> dict[str, object]:
        with bench.urgent.first():
            return setting_known(bench.beliefs, body).model_dump(by_alias=True)

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
    def recipe_by_trials(body: RecipeOfBody) -> dict[str, object]:
        return recipe_known(bench.beliefs, body).model_dump()

    @api.post("/known", responses={200: Known})
    def what_is_known(body: ThroughBody) -> dict[str, object]:
        return known(bench.beliefs, body).model_dump(by_alias=True)

    @api.post("/trials", responses={200: Taught})
    def log_trial(body: TrialBody) -> dict[str, object]:
        return bench.log_trial(body).model_dump()

    @api.post("/trials/<trial_id>/back", responses={200: Taught})
    def take_trial_back(path: TrialPath, body: BackBody) -> dict[str, object]:
        return bench.take_trial_back(path.trial_id, back=body.back).model_dump()

    @api.get("/symptoms", responses={200: SymptomList})
    def all_symptoms() -> dict[str, object]:
        return symptoms().model_dump()

    @api.post("/trouble", responses={200: TroubleOut})
    def in_trouble(body: TroubleOfBody) -> dict[str, object]:
        return trouble_of(bench.beliefs, bench.on, body).model_dump(by_alias=True)

    @api.post("/amounts", responses={200: AmountsOut})
    def what_is_needed(body: AmountsBody) -> dict[str, object]:
        return amounts(bench.db, bench.on, body).model_dump()

    @api.post("/amounts/used", responses={200: UsedOut})
    def use_from_shelf(body: UseBody) -> dict[str, object]:
        return use_up(bench.db, body).model_dump()

    @api.post("/premix", responses={200: PremixOut})
    def premix_a_bottle(body: PremixBody) -> dict[str, object]:
        return premix_of(body).model_dump()

    @api.post("/schools", responses={200: SchoolsOut})
    def all_schools(body: SchoolsBody) -> dict[str, object]:
        return schools_of(body, bench.on(body.plan)).model_dump()

    @api.post("/way", responses={200: WayOut})
    def own_way(body: WayAsked) -> dict[str, object]:
        return way_of(bench.db, body).model_dump()

    @api.put("/way", responses={200: WayOut})
    def keep_own_way(body: WayBody) -> dict[str, object]:
        return keep_way(bench.db, body).model_dump()

    return api
