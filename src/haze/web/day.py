"""Days over HTTP: what is asked, laying it as a job, and its files."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from haze.service.bench import Bench
from haze.service.day import days
from haze.service.day.days import AnotherBody, DayView, LayBody, PutDay
from haze.service.day.files import calendar_of, table_of
from haze.service.forms.moments import Date
from haze.service.forms.wire import Identity
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.plans import PlanPath
from haze.web.problems import Problem


class DayPath(BaseModel):
    day_id: Identity


class TodayQuery(BaseModel):
    today: Date  # on the painter's own clock


def day_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for days."""
    db = bench.db
    api = APIBlueprint(
        "day",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="day")],
        doc_ui=documented,
        abp_responses={404: Problem, 409: Problem, 422: Problem},
    )

    @api.get("/plans/<plan_id>/day", responses={200: DayView})
    def day_of_plan(path: PlanPath, query: TodayQuery) -> dict[str, object]:
        return days.of_plan(db, path.plan_id, today=query.today).model_dump()

    @api.get("/days/<day_id>", responses={200: DayView})
    def one_day(path: DayPath) -> dict[str, object]:
        return days.one(db, path.day_id).model_dump()

    @api.put("/days/<day_id>", responses={200: DayView})
    def put_day(path: DayPath, body: PutDay) -> dict[str, object]:
        return days.put(db, path.day_id, body).model_dump()

    @api.post("/days/<day_id>/another", responses={200: DayView})
    def another_day(path: DayPath, body: AnotherBody) -> dict[str, object]:
        return days.begin_another(db, path.day_id, body).model_dump()

    @api.post("/days/<day_id>/lay", responses={200: JobView})
    def lay_day(path: DayPath, body: LayBody) -> dict[str, object]:
        return bench.lay_day(path.day_id, body).model_dump()

    @api.get("/days/laid/<job_id>", responses={200: DayView})
    def day_laid(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, DayView).model_dump()

    @api.get("/days/<day_id>/day.ics", responses={200: None})
    def day_calendar(path: DayPath) -> Response:
        return _file(calendar_of(days.one(db, path.day_id)), "text/calendar", "day.ics")

    @api.get("/days/<day_id>/day.csv", responses={200: None})
    def day_table(path: DayPath) -> Response:
        return _file(table_of(days.one(db, path.day_id)), "text/csv", "day.csv")

    return api


def _file(body: bytes | str, mimetype: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(body, mimetype=mimetype, headers=headers)
