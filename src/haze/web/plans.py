"""Plans over HTTP: list, open, save, undo; what they do, what would spoil them, first drafts."""

from __future__ import annotations

from typing import Annotated, TypeVar

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.forms.wire import PlanBody, Strict
from haze.service.notebook.notebook import done_so_far
from haze.service.plan import plans
from haze.service.plan.findings import FindingList, FixBody, fixed, look_over
from haze.service.plan.orders import OrdersOut
from haze.service.plan.pictures import PictureBody, plan_picture
from haze.service.plan.plans import (
    DamagedPlan,
    PlanSummary,
    PlanView,
    UnusedMeshes,
    VersionNamed,
)
from haze.service.plan.priming import PrimingBody, PrimingOut, PrimingPictureBody
from haze.service.plan.sample import SampleBody, SampleOut, take_sample
from haze.service.plan.sequence import StartBody, StartedOut
from haze.service.plan.start import NewCoatBody, NewPlan, draft, start
from haze.service.plan.whole import PlanWorkings, worked_out
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.news import sent_by
from haze.web.routes import route_group

V = TypeVar("V", PlanView, PlanSummary)


class PlanPath(BaseModel):
    plan_id: str = Field(max_length=64)


Version = Annotated[int, Field(ge=1, le=2**53)]


class VersionBody(Strict):
    version: Version


class TrashBody(Strict):
    version: Version
    trashed: bool


class SaveBody(Strict):
    version: Version
    what: str = Field(default="", max_length=200)
    plan: Plan


class PlanList(BaseModel):
    """All plans; those that cannot be read are named on their own."""

    plans: list[PlanSummary]
    trashed: list[PlanSummary]
    damaged: list[DamagedPlan]
    unused_meshes: UnusedMeshes


class MaybeJob(BaseModel):
    """The job that does it; null when there is nothing to do."""

    job: JobView | None


class VersionPath(PlanPath):
    number: int = Field(ge=1, le=2**53)


class VersionList(BaseModel):
    versions: list[VersionNamed]


class GroupBody(Strict):
    group: str = Field(max_length=60)


class Emptied(BaseModel):
    deleted: int


def _announced(bench: Bench, changed: V) -> V:
    """Tell every page."""
    bench.news.tell(changed.id, changed.version, by=sent_by())
    return changed


def plans_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/plans."""
    api = route_group("plans", documented=documented, refuses=(404, 409, 422))

    _keep_plans(api, bench)
    _change_plans(api, bench)
    _work_out_plans(api, bench)
    _lay_plans(api, bench)
    return api


def _keep_plans(api: APIBlueprint, bench: Bench) -> None:
    """All plans: listing, starting, copying and the trash."""
    db = bench.db

    @api.get("/plans", responses={200: PlanList})
    def list_plans() -> PlanList:
        found = plans.every(db)
        bench.summarise_sessions()
        sessions = done_so_far(db)
        for one in found:
            one.pictured = bench.cache.known(one.piece_key)
            one.stands = bench.stands(one)
            one.done = sessions.get(one.id)
        return PlanList(
            plans=found,
            trashed=plans.in_trash(db),
            damaged=plans.damaged(db),
            unused_meshes=plans.unused_meshes(db),
        )

    @api.post("/plans", responses={201: PlanView})
    def start_plan(body: NewPlan) -> tuple[PlanView, int]:
        return start(db, body), 201

    @api.post("/plans/copy", responses={201: PlanView})
    def copy_plan(body: PlanBody) -> tuple[PlanView, int]:
        return plans.copy(db, body.plan), 201

    @api.post("/plans/<plan_id>/mend", responses={200: PlanView})
    def mend_plan(path: PlanPath, body: VersionBody) -> PlanView:
        return _announced(bench, plans.mend(db, path.plan_id, version=body.version))

    @api.delete("/trash", responses={200: Emptied})
    def empty_trash() -> Emptied:
        return Emptied(deleted=plans.empty_trash(db))


def _change_plans(api: APIBlueprint, bench: Bench) -> None:
    """One plan: opening, saving, undo and its picture."""
    db = bench.db

    @api.get("/plans/<plan_id>", responses={200: PlanView})
    def open_plan(path: PlanPath) -> PlanView:
        return plans.open_plan(db, path.plan_id)

    @api.get("/plans/<plan_id>/versions", responses={200: VersionList})
    def list_versions(path: PlanPath) -> VersionList:
        return VersionList(versions=plans.versions(db, path.plan_id))

    @api.get("/plans/<plan_id>/versions/<number>", responses={200: Plan})
    def open_version(path: VersionPath) -> Plan:
        return plans.at_version(db, path.plan_id, path.number)

    @api.put("/plans/<plan_id>", responses={200: PlanView})
    def save_plan(path: PlanPath, body: SaveBody) -> PlanView:
        saved = plans.save(db, path.plan_id, version=body.version, plan=body.plan, what=body.what)
        return _announced(bench, saved)

    @api.post("/plans/<plan_id>/undo", responses={200: PlanView})
    def undo_plan(path: PlanPath, body: VersionBody) -> PlanView:
        return _announced(bench, plans.undo(db, path.plan_id, version=body.version))

    @api.post("/plans/<plan_id>/redo", responses={200: PlanView})
    def redo_plan(path: PlanPath, body: VersionBody) -> PlanView:
        return _announced(bench, plans.redo(db, path.plan_id, version=body.version))

    @api.post("/plans/<plan_id>/trash", responses={200: PlanSummary})
    def trash_plan(path: PlanPath, body: TrashBody) -> PlanSummary:
        done = plans.put_away(db, path.plan_id, version=body.version, trashed=body.trashed)
        return _announced(bench, done)

    @api.put("/plans/<plan_id>/group", responses={200: PlanSummary})
    def group_plan(path: PlanPath, body: GroupBody) -> PlanSummary:
        return _announced(bench, plans.put_in_group(db, path.plan_id, group=body.group))

    @api.get("/plans/<plan_id>/picture.png", responses={200: None})
    def thumbnail(path: PlanPath) -> Response:
        image = bench.thumbnail(plans.open_plan(db, path.plan_id).plan)
        return Response(image, mimetype="image/png", headers={"Cache-Control": "no-cache"})


def _work_out_plans(api: APIBlueprint, bench: Bench) -> None:
    """What a plan does on its piece, and what would spoil it."""

    @api.post("/workings", responses={200: PlanWorkings})
    def work_out(body: PlanBody) -> PlanWorkings:
        return worked_out(body.plan, bench.on(body.plan))

    @api.post("/smooth", responses={200: MaybeJob})
    def smooth(body: PlanBody) -> MaybeJob:
        return MaybeJob(job=bench.smooth(body.plan))

    @api.post("/coats/draft", responses={200: Coat})
    def draft_one(body: NewCoatBody) -> Coat:
        return draft(body, bench.shelf().stock)

    @api.post("/sample", responses={200: SampleOut})
    def sample(body: SampleBody) -> SampleOut:
        return take_sample(body, bench.on(body.plan))

    @api.post("/findings", responses={200: FindingList})
    def plan_findings(body: PlanBody) -> FindingList:
        return look_over(body.plan, bench.on(body.plan))

    @api.post("/findings/fix", responses={200: Plan})
    def fix(body: FixBody) -> Plan:
        return fixed(body, bench.shelf())


def _lay_plans(api: APIBlueprint, bench: Bench) -> None:
    """Schemes, orders of colour and ways to prime, by jobs."""

    @api.post("/start", responses={200: JobView})
    def start_sequence(body: StartBody) -> JobView:
        return bench.sequence(body)

    @api.post("/start/ahead", responses={200: JobView})
    def sequence_ahead(body: PlanBody) -> JobView:
        return bench.sequence_ahead(body.plan)

    @api.get("/start/<job_id>", responses={200: StartedOut})
    def sequence_laid(path: JobPath) -> StartedOut:
        return bench.jobs.result(path.job_id, StartedOut)

    @api.post("/start/orders", responses={200: JobView})
    def try_orders(body: StartBody) -> JobView:
        return bench.orders(body)

    @api.get("/start/orders/<job_id>", responses={200: OrdersOut})
    def orders_laid(path: JobPath) -> OrdersOut:
        return bench.jobs.result(path.job_id, OrdersOut)

    @api.post("/picture", responses={200: None})
    def drawn_plan(body: PictureBody) -> Response:
        return Response(plan_picture(body, bench.on(body.plan)), mimetype="image/png")

    @api.post("/priming", responses={200: JobView})
    def priming(body: PrimingBody) -> JobView:
        return bench.priming(body)

    @api.get("/priming/<job_id>", responses={200: PrimingOut})
    def priming_compared(path: JobPath) -> PrimingOut:
        return bench.jobs.result(path.job_id, PrimingOut)

    @api.post("/priming/picture", responses={200: None})
    def priming_image(body: PrimingPictureBody) -> Response:
        return Response(bench.priming_picture(body), mimetype="image/png")
