"""Mixes, ladders, films and chips over HTTP."""

from __future__ import annotations

from flask_openapi3 import APIBlueprint, Tag

from haze.service.bench import Bench
from haze.service.colour.film import FilmIn, FilmOut, film_colours
from haze.service.colour.ladders import LadderOut, RungsBody, RungsOut, ShelfLadder
from haze.service.colour.mixes import MixesOut, ShelfMix
from haze.service.colour.strength import StrengthOut, WhiteMix, strength_from
from haze.service.shelf.chips import Chip, MixBody, MixLook, chip_of, mix_look
from haze.service.shelf.paints import PaintOnShelf
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.problems import Problem


def colour_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for colours."""
    api = APIBlueprint(
        "colour",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="colour")],
        doc_ui=documented,
        abp_responses={404: Problem, 422: Problem},
    )

    @api.post("/mixes", responses={200: JobView})
    def mixes(body: ShelfMix) -> dict[str, object]:
        return bench.mixes(body).model_dump()

    @api.get("/mixes/<job_id>", responses={200: MixesOut})
    def mixes_found(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, MixesOut).model_dump()

    @api.post("/ladder", responses={200: JobView})
    def ladder(body: ShelfLadder) -> dict[str, object]:
        return bench.ladder(body).model_dump()

    @api.get("/ladder/<job_id>", responses={200: LadderOut})
    def ladder_found(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, LadderOut).model_dump()

    @api.post("/rungs", responses={200: JobView})
    def rungs(body: RungsBody) -> dict[str, object]:
        return bench.rungs(body).model_dump()

    @api.get("/rungs/<job_id>", responses={200: RungsOut})
    def rungs_found(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, RungsOut).model_dump()

    @api.post("/film", responses={200: FilmOut})
    def film(body: FilmIn) -> dict[str, object]:
        return film_colours(body).model_dump()

    @api.post("/shelf/chip", responses={200: Chip})
    def chip(body: PaintOnShelf) -> dict[str, object]:
        return chip_of(body).model_dump()

    @api.post("/shelf/mix", responses={200: MixLook})
    def mixed(body: MixBody) -> dict[str, object]:
        return mix_look(body).model_dump()

    @api.post("/shelf/strength", responses={200: StrengthOut})
    def strength(body: WhiteMix) -> dict[str, object]:
        return strength_from(body).model_dump()

    return api
