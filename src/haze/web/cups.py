"""What a setting does, and a recipe, over HTTP: the same models as the command line."""

from __future__ import annotations

from flask_openapi3 import APIBlueprint, Tag
from pydantic import RootModel

from haze.service.cups.setting import (
    AssessIn,
    AssessOut,
    RecipeIn,
    RecipeNone,
    RecipeOut,
    assess,
    recipe,
)
from haze.web.problems import Problem


class RecipeAnswer(RootModel[RecipeOut | RecipeNone]):
    """A recipe, or why there is none."""


def cups_blueprint(*, documented: bool) -> APIBlueprint:
    """Routes that compute without a plan."""
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

    return api
