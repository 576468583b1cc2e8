"""Plans over HTTP: list, open, save, undo, workings."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from haze.core.plan.document import Coat, Plan
from haze.service import plans
from haze.service.bench import Bench
from haze.service.plans import NewCoatBody, NewPlan, PlanSummary, PlanView
from haze.service.spray_io import Strict
from haze.service.thumbnails import thumbnail
from haze.service.workings import PlanWorkings, workings
from haze.web.pieces import PlanBody
from haze.web.problems import Problem


class PlanPath(BaseModel):
    plan_id: str = Field(max_length=64)


class VersionBody(Strict):
    version: int = Field(ge=1)


class TrashBody(Strict):
    version: int = Field(ge=1)
    trashed: bool


class SaveBody(Strict):
    version: int = Field(ge=1)
    what: str = Field(default="", max_length=200)
    plan: Plan


class PlanList(BaseModel):
    plans: list[PlanSummary]
    trashed: list[PlanSummary]


class Emptied(BaseModel):
    deleted: int


def plans_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/plans."""
    api = APIBlueprint(
        "plans",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="plans")],
        doc_ui=documented,
        abp_responses={404: Problem, 409: Problem, 422: Problem},
    )
    db = bench.db

    @api.get("/plans", responses={200: PlanList})
    def list_plans() -> dict[str, object]:
        found = plans.every(db)
        for one in found:
            one.pictured = bench.pieces.known(one.piece_key)
        return PlanList(plans=found, trashed=plans.in_trash(db)).model_dump()

    @api.post("/plans", responses={201: PlanView})
    def start_plan(body: NewPlan) -> tuple[dict[str, object], int]:
        return plans.start(db, body).model_dump(), 201

    @api.delete("/trash", responses={200: Emptied})
    def empty_trash() -> dict[str, object]:
        return Emptied(deleted=plans.empty_trash(db)).model_dump()

    @api.get("/plans/<plan_id>", responses={200: PlanView})
    def open_plan(path: PlanPath) -> dict[str, object]:
        return plans.open_plan(db, path.plan_id).model_dump()

    @api.put("/plans/<plan_id>", responses={200: PlanView})
    def save_plan(path: PlanPath, body: SaveBody) -> dict[str, object]:
        saved = plans.save(db, path.plan_id, version=body.version, plan=body.plan, what=body.what)
        return saved.model_dump()

    @api.post("/plans/<plan_id>/undo", responses={200: PlanView})
    def undo_plan(path: PlanPath, body: VersionBody) -> dict[str, object]:
        return plans.undo(db, path.plan_id, version=body.version).model_dump()

    @api.post("/plans/<plan_id>/redo", responses={200: PlanView})
    def redo_plan(path: PlanPath, body: VersionBody) -> dict[str, object]:
        return plans.redo(db, path.plan_id, version=body.version).model_dump()

    @api.post("/plans/<plan_id>/trash", responses={200: PlanSummary})
    def trash_plan(path: PlanPath, body: TrashBody) -> dict[str, object]:
        done = plans.put_away(db, path.plan_id, version=body.version, trashed=body.trashed)
        return done.model_dump()

    @api.get("/plans/<plan_id>/picture.png", responses={200: None})
    def plan_picture(path: PlanPath) -> Response:
        image = thumbnail(bench, plans.open_plan(db, path.plan_id).plan)
        return Response(image, mimetype="image/png", headers={"Cache-Control": "no-cache"})

    @api.post("/workings", responses={200: PlanWorkings})
    def work_out(body: PlanBody) -> dict[str, object]:
        return workings(body.plan, bench.painter(body.plan)).model_dump(by_alias=True)

    @api.post("/coats/draft", responses={200: Coat})
    def draft_one(body: NewCoatBody) -> dict[str, object]:
        return plans.draft(body).model_dump()

    return api
