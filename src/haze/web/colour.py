"""Mixes, ladders, films and chips over HTTP."""

from __future__ import annotations

from flask_openapi3 import APIBlueprint

from haze.service.bench import Bench
from haze.service.colour.film import FilmIn, FilmOut, film_colours
from haze.service.colour.ladders import LadderOut, RungsBody, RungsOut, ShelfLadder
from haze.service.colour.mixes import MixesOut, ShelfMix
from haze.service.colour.strength import StrengthOut, WhiteMix, strength_from
from haze.service.shelf.chips import Chip, MixBody, MixLook, chip_of, mix_look
from haze.service.shelf.paints import PaintOnShelf
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.routes import route_group


def colour_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for colours."""
    api = route_group("colour", documented=documented)

    @api.post("/mixes", responses={200: JobView})
    def mixes(body: ShelfMix) -> JobView:
        return bench.mixes(body)

    @api.get("/mixes/<job_id>", responses={200: MixesOut})
    def mixes_found(path: JobPath) -> MixesOut:
        return bench.jobs.result(path.job_id, MixesOut)

    @api.post("/ladder", responses={200: JobView})
    def ladder(body: ShelfLadder) -> JobView:
        return bench.ladder(body)

    @api.get("/ladder/<job_id>", responses={200: LadderOut})
    def ladder_found(path: JobPath) -> LadderOut:
        return bench.jobs.result(path.job_id, LadderOut)

    @api.post("/rungs", responses={200: JobView})
    def rungs(body: RungsBody) -> JobView:
        return bench.rungs(body)

    @api.get("/rungs/<job_id>", responses={200: RungsOut})
    def rungs_found(path: JobPath) -> RungsOut:
        return bench.jobs.result(path.job_id, RungsOut)

    @api.post("/film", responses={200: FilmOut})
    def film(body: FilmIn) -> FilmOut:
        return film_colours(body)

    @api.post("/shelf/chip", responses={200: Chip})
    def chip(body: PaintOnShelf) -> Chip:
        return chip_of(body)

    @api.post("/shelf/mix", responses={200: MixLook})
    def mixed(body: MixBody) -> MixLook:
        return mix_look(body)

    @api.post("/shelf/strength", responses={200: StrengthOut})
    def strength(body: WhiteMix) -> StrengthOut:
        return strength_from(body)

    return api
