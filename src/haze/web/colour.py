"""Mixes, ladders, core samples, findings, comparisons over HTTP."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from haze.core.plan.document import Plan
from haze.service import shelf
from haze.service.bench import Bench
from haze.service.colour_io import LadderOut, MixesOut
from haze.service.colours import RungsBody, RungsOut, ShelfLadder, ShelfMix
from haze.service.compare import PictureBody, StartBody, StartedOut, plan_picture
from haze.service.findings import FindingList, FixBody, fixed, look_over
from haze.service.jobs import JobView
from haze.service.priming import PrimingBody, PrimingOut, PrimingPictureBody
from haze.service.sample import SampleBody, SampleOut, take_sample
from haze.web.pieces import JobPath, PlanBody
from haze.web.problems import Problem


def colour_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for colours and the order of a plan."""
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

    @api.post("/sample", responses={200: SampleOut})
    def sample(body: SampleBody) -> dict[str, object]:
        return take_sample(body, bench.painter(body.plan)).model_dump()

    @api.post("/findings", responses={200: FindingList})
    def findings(body: PlanBody) -> dict[str, object]:
        return look_over(body.plan, bench.painter(body.plan)).model_dump()

    @api.post("/findings/fix", responses={200: Plan})
    def fix(body: FixBody) -> dict[str, object]:
        return fixed(body, shelf.shelf_of(bench.db)).model_dump()

    @api.post("/start", responses={200: JobView})
    def start_sequence(body: StartBody) -> dict[str, object]:
        return bench.sequence(body).model_dump()

    @api.get("/start/<job_id>", responses={200: StartedOut})
    def sequence_laid(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, StartedOut).model_dump()

    @api.post("/picture", responses={200: None})
    def picture(body: PictureBody) -> Response:
        return Response(plan_picture(body, bench.painter(body.plan)), mimetype="image/png")

    @api.post("/priming", responses={200: JobView})
    def priming(body: PrimingBody) -> dict[str, object]:
        return bench.priming(body).model_dump()

    @api.get("/priming/<job_id>", responses={200: PrimingOut})
    def priming_compared(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, PrimingOut).model_dump()

    @api.post("/priming/picture", responses={200: None})
    def priming_image(body: PrimingPictureBody) -> Response:
        return Response(bench.priming_picture(body), mimetype="image/png")

    return api
