"""The notebook over HTTP: sessions, notes, photos, what is known, and doing it again."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.forms.wire import Identity, Strict
from haze.service.notebook import known, notebook, photos
from haze.service.notebook.again import DoAgainBody, DoAgainOut, KeepBody
from haze.service.notebook.known import KnownList, KnownPage
from haze.service.notebook.notebook import FindQuery, MarkBody, Notebook, PhotoView, SessionView
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.plans import Emptied
from haze.web.problems import Problem


class SessionPath(BaseModel):
    session_id: Identity


class PhotoPath(BaseModel):
    photo_id: Identity


class KnownPath(BaseModel):
    known_id: Identity


class OfSession(BaseModel):
    session: Identity


class SizeQuery(BaseModel):
    small: bool = False


class AwayBody(Strict):
    """Whether it lies in the trash."""

    trashed: bool


class PhotoNoteBody(Strict):
    note: str = Field(max_length=500)


def notebook_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for the notebook."""
    db = bench.db
    api = APIBlueprint(
        "notebook",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="notebook")],
        doc_ui=documented,
        abp_responses={404: Problem, 422: Problem},
    )

    @api.get("/notebook", responses={200: Notebook})
    def all_sessions(query: FindQuery) -> dict[str, object]:
        return bench.notebook(query.find).model_dump()

    @api.delete("/notebook/trash", responses={200: Emptied})
    def empty_trash() -> dict[str, object]:
        return Emptied(deleted=notebook.empty_trash(db)).model_dump()

    @api.get("/sessions/<session_id>", responses={200: SessionView})
    def one_session(path: SessionPath) -> dict[str, object]:
        return _view(path).model_dump(by_alias=True)

    def _view(path: SessionPath) -> SessionView:
        return notebook.one(db, bench.beliefs, path.session_id, bench.on)

    @api.put("/sessions/<session_id>", responses={200: SessionView})
    def mark_session(path: SessionPath, body: MarkBody) -> dict[str, object]:
        notebook.mark(db, path.session_id, body)
        return _view(path).model_dump(by_alias=True)

    @api.post("/sessions/<session_id>/trash", responses={200: AwayBody})
    def trash_session(path: SessionPath, body: AwayBody) -> dict[str, object]:
        notebook.put_away(db, path.session_id, trashed=body.trashed)
        return body.model_dump()

    @api.get("/sessions/<session_id>/plan", responses={200: Plan})
    def plan_then(path: SessionPath) -> dict[str, object]:
        return notebook.plan_then(db, path.session_id).model_dump()

    @api.get("/sessions/<session_id>/picture.png", responses={200: None})
    def picture_then(path: SessionPath) -> Response:
        plan = notebook.plan_then(db, path.session_id)
        image = bench.thumbnail(plan)
        headers = {"Cache-Control": "private, max-age=3600"}
        return Response(image, mimetype="image/png", headers=headers)

    @api.post("/again", responses={200: JobView})
    def do_again(body: DoAgainBody) -> dict[str, object]:
        return bench.again(body).model_dump()

    @api.get("/again/<job_id>", responses={200: DoAgainOut})
    def done_again(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, DoAgainOut).model_dump()

    @api.post("/again/keep", responses={201: PlanView})
    def keep_again(body: KeepBody) -> tuple[dict[str, object], int]:
        return plans.add(db, body.plan, what=body.what).model_dump(), 201

    @api.post("/photos", responses={200: PhotoView})
    def add_photo(query: OfSession) -> dict[str, object]:
        return photos.add(db, query.session, request.get_data()).model_dump()

    @api.get("/photos/<photo_id>.jpg", responses={200: None})
    def one_photo(path: PhotoPath, query: SizeQuery) -> Response:
        image = photos.read(db, path.photo_id, small=query.small)
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(image, mimetype="image/jpeg", headers=headers)

    @api.put("/photos/<photo_id>", responses={200: PhotoView})
    def mark_photo(path: PhotoPath, body: PhotoNoteBody) -> dict[str, object]:
        return photos.mark(db, path.photo_id, note=body.note).model_dump()

    @api.post("/photos/<photo_id>/trash", responses={200: AwayBody})
    def trash_photo(path: PhotoPath, body: AwayBody) -> dict[str, object]:
        photos.put_away(db, path.photo_id, trashed=body.trashed)
        return body.model_dump()

    @api.get("/notebook/known", responses={200: KnownList})
    def all_known() -> dict[str, object]:
        return known.known_list(db).model_dump()

    @api.get("/notebook/paint/<known_id>", responses={200: KnownPage})
    def known_paint(path: KnownPath) -> dict[str, object]:
        return known.paint_page(db, bench.beliefs, path.known_id).model_dump(by_alias=True)

    @api.get("/notebook/airbrush/<known_id>", responses={200: KnownPage})
    def known_airbrush(path: KnownPath) -> dict[str, object]:
        return known.airbrush_page(db, bench.beliefs, path.known_id).model_dump(by_alias=True)

    return api
