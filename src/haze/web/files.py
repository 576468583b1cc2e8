"""Files over HTTP: plans and the notebook written out, files looked over and taken in, backup."""

from __future__ import annotations

import re
import tempfile
import unicodedata
from collections.abc import Iterator
from datetime import date
from typing import IO, Annotated, Literal

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.formats import recipe_sheet as sheet
from haze.service.bench import Bench
from haze.service.files import looked, unreadable, upkeep, written
from haze.service.files.documents import MIME
from haze.service.files.looked import FileLook
from haze.service.files.recipe import recipe_page
from haze.service.files.taken import TakeBody, TakenIn
from haze.service.files.unreadable import RecordQuery, UnreadableList
from haze.service.files.upkeep import CheckOut, DataView
from haze.service.forms import settings
from haze.service.plan import plans
from haze.service.plan.pictures import pictures_after
from haze.service.plan.turntable import ShownBody, ShownForm, ShownOut, made
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.plans import PlanPath
from haze.web.routes import route_group

BLOCK_BYTES = 2**18
SPILLED_BYTES = 8 * 2**20
LONGEST_NAME = 80
SHOWN: dict[ShownForm, str] = {
    "webp": "image/webp",
    "gif": "image/gif",
    "zip": "application/zip",
}


class TokenPath(BaseModel):
    token: Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")]


class RecipePath(PlanPath):
    form: Literal["pdf", "png"]


class ShownPath(PlanPath):
    form: ShownForm


class PaperQuery(BaseModel):
    paper: sheet.Paper = "a4"


class TablePath(BaseModel):
    table: Literal["sessions", "trials"]


class Gone(BaseModel):
    gone: bool


def files_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for files."""
    api = route_group("files", documented=documented)
    _write_files(api, bench)
    _take_files(api, bench)
    _keep_data(api, bench)
    return api


def _write_files(api: APIBlueprint, bench: Bench) -> None:
    """Files that go out."""
    db = bench.db

    @api.get("/plans/<plan_id>/plan.haze", responses={200: None})
    def plan_file(path: PlanPath) -> Response:
        file = _room()
        name = written.write_plan(db, path.plan_id, file, bench.pictured)
        return _sent(file, MIME, f"{plain_name(name)}.haze")

    @api.get("/plans/<plan_id>/recipe.<form>", responses={200: None})
    def recipe(path: RecipePath, query: PaperQuery) -> Response:
        plan = plans.open_plan(db, path.plan_id).plan
        on = bench.on(plan)
        page = recipe_page(
            plan,
            on,
            picture=bench.pictured(plan),
            after=pictures_after(plan, on),
            unit=settings.read(db)["pressure_unit"],
            today=date.today(),
        )
        data = (sheet.pdf if path.form == "pdf" else sheet.png)(page, paper=query.paper)
        kind = "application/pdf" if path.form == "pdf" else "image/png"
        name = f"{plain_name(plan.name)}.{path.form}"
        headers = {"Content-Disposition": f'inline; filename="{name}"', "Cache-Control": "no-store"}
        return Response(data, content_type=kind, headers=headers)

    @api.post("/plans/<plan_id>/shown", responses={200: JobView})
    def show_plan(path: PlanPath, body: ShownBody) -> JobView:
        return bench.shown(plans.open_plan(db, path.plan_id).plan, body)

    @api.get("/shown/<job_id>", responses={200: ShownOut})
    def shown_plan(path: JobPath) -> ShownOut:
        return bench.jobs.result(path.job_id, ShownOut)

    @api.get("/plans/<plan_id>/shown.<form>", responses={200: None})
    def shown_file(path: ShownPath) -> Response:
        plan = plans.open_plan(db, path.plan_id).plan
        file = made(bench.shown_file(plan, path.form))
        return _sent(file, SHOWN[path.form], f"{plain_name(plan.name)}.{path.form}")

    @api.get("/notebook/notebook.haze", responses={200: None})
    def notebook_file() -> Response:
        file = _room()
        written.write_notebook(db, file)
        return _sent(file, MIME, "notebook.haze")

    @api.get("/notebook/<table>.csv", responses={200: None})
    def notebook_table(path: TablePath) -> Response:
        make = written.sessions_csv if path.table == "sessions" else written.trials_csv
        headers = {"Content-Disposition": f'attachment; filename="{path.table}.csv"'}
        return Response(make(db), content_type="text/csv; charset=utf-8", headers=headers)

    @api.get("/notebook/notebook.json", responses={200: None})
    def notebook_json() -> Response:
        headers = {"Content-Disposition": 'attachment; filename="notebook.json"'}
        data = written.notebook_json(db)
        return Response(data, content_type="application/json", headers=headers)


def _take_files(api: APIBlueprint, bench: Bench) -> None:
    """Haze files that come in."""
    db = bench.db

    @api.post("/files", responses={200: FileLook})
    def look_at_file() -> FileLook:
        token = looked.keep(bench.incoming, request.stream)
        try:
            return looked.look(db, bench.incoming, token)
        except BaseException:
            looked.let_go(bench.incoming, token)
            raise

    @api.post("/files/take", responses={200: JobView})
    def take_file(body: TakeBody) -> JobView:
        return bench.take_file(body)

    @api.get("/files/taken/<job_id>", responses={200: TakenIn})
    def file_taken(path: JobPath) -> TakenIn:
        return bench.jobs.result(path.job_id, TakenIn)

    @api.delete("/files/<token>", responses={200: Gone})
    def forget_file(path: TokenPath) -> Gone:
        looked.let_go(bench.incoming, path.token)
        return Gone(gone=True)


def _keep_data(api: APIBlueprint, bench: Bench) -> None:
    """Backup, check, and records that cannot be read."""
    db = bench.db

    @api.get("/backup", responses={200: None})
    def make_backup() -> Response:
        return _sent(
            upkeep.backup(db, bench.folder), "application/vnd.sqlite3", "haze-backup.sqlite3"
        )

    @api.get("/data", responses={200: DataView})
    def about_data() -> DataView:
        return upkeep.data_view(db, bench.folder)

    @api.get("/unreadable", responses={200: UnreadableList})
    def all_unreadable() -> UnreadableList:
        return unreadable.everything(db)

    @api.get("/unreadable/record.json", responses={200: None})
    def export_unreadable(query: RecordQuery) -> Response:
        data = unreadable.export(db, query.kind, query.id)
        headers = {"Content-Disposition": f'attachment; filename="{query.kind}.json"'}
        return Response(data, content_type="application/json", headers=headers)

    @api.delete("/unreadable", responses={200: Gone})
    def delete_unreadable(query: RecordQuery) -> Gone:
        unreadable.delete(db, query.kind, query.id)
        return Gone(gone=True)

    @api.post("/data/check", responses={200: CheckOut})
    def check_data() -> CheckOut:
        return upkeep.check(db.path)


def plain_name(name: str) -> str:
    """A file name of plain letters from a plan's name."""
    text = unicodedata.normalize("NFKD", name)
    text = "".join(c for c in text if not unicodedata.combining(c))
    return re.sub(r"[^A-Za-z0-9]+", "-", text).strip("-").lower()[:LONGEST_NAME] or "plan"


def _room() -> IO[bytes]:
    return tempfile.SpooledTemporaryFile(max_size=SPILLED_BYTES)


def _sent(file: IO[bytes], kind: str, name: str) -> Response:
    """A file sent a block at a time and let go afterwards."""
    size = file.seek(0, 2)
    file.seek(0)

    def blocks() -> Iterator[bytes]:
        with file:
            while block := file.read(BLOCK_BYTES):
                yield block

    headers = {
        "Content-Disposition": f'attachment; filename="{name}"',
        "Content-Length": str(size),
        "Cache-Control": "no-store",
    }
    return Response(blocks(), content_type=kind, headers=headers)
