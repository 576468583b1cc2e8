"""The notebook over HTTP: sessions, notes, photos, what is known, and doing it again."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint
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
from haze.web.routes import route_group


class SessionPath(BaseModel):
    session_id: Identity


class PhotoPath(BaseModel):
    photo_id: Identity


class KnownPath(BaseModel):
    known_id: Identity


class OfSession(BaseModel):
    session: Identity


class PhotoSizeQuery(BaseModel):
    small: bool = False


class AwayBody(Strict):
    """Whether it lies in the trash."""

    trashed: bool


class PhotoNoteBody(Strict):
    note: str = Field(max_length=500)


def notebook_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for the notebook."""
    api = route_group("notebook", documented=documented)
    _keep_sessions(api, bench)
    _do_again(api, bench)
    _keep_photos(api, bench)
    _show_known(api, bench)
    return api


def _keep_sessions(api: APIBlueprint, bench: Bench) -> None:
    """Sessions as they were."""
    db = bench.db

    @api.get("/notebook", responses={200: Notebook})
    def all_sessions(query: FindQuery) -> Notebook:
        return bench.notebook(query.find)

    @api.delete("/notebook/trash", responses={200: Emptied})
    def empty_trash() -> Emptied:
        return Emptied(deleted=notebook.empty_trash(db))

    @api.get("/sessions/<session_id>", responses={200: SessionView})
    def one_session(path: SessionPath) -> SessionView:
        return _view(path)

    def _view(path: SessionPath) -> SessionView:
        return notebook.one(db, bench.beliefs, path.session_id, bench.on)

    @api.put("/sessions/<session_id>", responses={200: SessionView})
    def mark_session(path: SessionPath, body: MarkBody) -> SessionView:
        notebook.mark(db, path.session_id, body)
        return _view(path)

    @api.post("/sessions/<session_id>/trash", responses={200: AwayBody})
    def trash_session(path: SessionPath, body: AwayBody) -> AwayBody:
        notebook.put_away(db, path.session_id, trashed=body.trashed)
        return body

    @api.get("/sessions/<session_id>/plan", responses={200: Plan})
    def plan_then(path: SessionPath) -> Plan:
        return notebook.plan_then(db, path.session_id)

    @api.get("/sessions/<session_id>/picture.png", responses={200: None})
    def picture_then(path: SessionPath) -> Response:
        plan = notebook.plan_then(db, path.session_id)
        image = bench.thumbnail(plan)
        headers = {"Cache-Control": "private, max-age=3600"}
        return Response(image, mimetype="image/png", headers=headers)


def _do_again(api: APIBlueprint, bench: Bench) -> None:
    """A session done again, by a job."""
    db = bench.db

    @api.post("/again", responses={200: JobView})
    def do_again(body: DoAgainBody) -> JobView:
        return bench.again(body)

    @api.get("/again/<job_id>", responses={200: DoAgainOut})
    def done_again(path: JobPath) -> DoAgainOut:
        return bench.jobs.result(path.job_id, DoAgainOut)

    @api.post("/again/keep", responses={201: PlanView})
    def keep_again(body: KeepBody) -> tuple[PlanView, int]:
        return plans.add(db, body.plan, what=body.what), 201


def _keep_photos(api: APIBlueprint, bench: Bench) -> None:
    """Photos of sessions."""
    db = bench.db

    @api.post("/photos", responses={200: PhotoView})
    def add_photo(query: OfSession) -> PhotoView:
        return photos.add(db, query.session, request.get_data())

    @api.get("/photos/<photo_id>.jpg", responses={200: None})
    def one_photo(path: PhotoPath, query: PhotoSizeQuery) -> Response:
        image = photos.read(db, path.photo_id, small=query.small)
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(image, mimetype="image/jpeg", headers=headers)

    @api.put("/photos/<photo_id>", responses={200: PhotoView})
    def mark_photo(path: PhotoPath, body: PhotoNoteBody) -> PhotoView:
        return photos.mark(db, path.photo_id, note=body.note)

    @api.post("/photos/<photo_id>/trash", responses={200: AwayBody})
    def trash_photo(path: PhotoPath, body: AwayBody) -> AwayBody:
        photos.put_away(db, path.photo_id, trashed=body.trashed)
        return body


def _show_known(api: APIBlueprint, bench: Bench) -> None:
    """What is known of each paint and airbrush."""
    db = bench.db

    @api.get("/notebook/known", responses={200: KnownList})
    def all_known() -> KnownList:
        return known.known_list(db)

    @api.get("/notebook/paint/<known_id>", responses={200: KnownPage})
    def known_paint(path: KnownPath) -> KnownPage:
        return known.paint_page(db, bench.beliefs, path.known_id)

    @api.get("/notebook/airbrush/<known_id>", responses={200: KnownPage})
    def known_airbrush(path: KnownPath) -> KnownPage:
        return known.airbrush_page(db, bench.beliefs, path.known_id)
