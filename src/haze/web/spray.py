"""Assess, recipe and film over HTTP: the same models as the command line."""

from __future__ import annotations

from flask_openapi3 import APIBlueprint, Tag
from pydantic import RootModel

from haze.service import film_io, spray_io
from haze.service.film_io import FilmIn, FilmOut
from haze.service.spray_io import AssessIn, AssessOut, RecipeIn, RecipeNone, RecipeOut
from haze.web.problems import Problem


class RecipeAnswer(RootModel[RecipeOut | RecipeNone]):
    """A recipe, or why there is none."""


def spray_blueprint(*, documented: bool) -> APIBlueprint:
    """Routes that compute without a plan."""
    api = APIBlueprint(
        "spray",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="spray")],
        doc_ui=documented,
        abp_responses={422: Problem},
    )

    @api.post("/assess", responses={200: AssessOut})
    def assess(body: AssessIn) -> dict[str, object]:
        return spray_io.assess(body).model_dump(by_alias=True)

    @api.post("/recipe", responses={200: RecipeAnswer})
    def recipe(body: RecipeIn) -> dict[str, object]:
        return spray_io.recipe(body).model_dump()

    @api.post("/film", responses={200: FilmOut})
    def film(body: FilmIn) -> dict[str, object]:
        return film_io.film_colours(body).model_dump()

    return api
