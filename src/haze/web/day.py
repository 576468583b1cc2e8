"""Days over HTTP: what is asked, laying it as a job, and its files."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
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
from haze.web.routes import route_group


class DayPath(BaseModel):
    day_id: Identity


class TodayQuery(BaseModel):
    today: Date  # on the painter's own clock


def day_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for days."""
    db = bench.db
    api = route_group("day", documented=documented, refuses=(404, 409, 422))

    @api.get("/plans/<plan_id>/day", responses={200: DayView})
    def day_of_plan(path: PlanPath, query: TodayQuery) -> DayView:
        return days.of_plan(db, path.plan_id, today=query.today)

    @api.get("/days/<day_id>", responses={200: DayView})
    def one_day(path: DayPath) -> DayView:
        return days.one(db, path.day_id)

    @api.put("/days/<day_id>", responses={200: DayView})
    def put_day(path: DayPath, body: PutDay) -> DayView:
        return days.put(db, path.day_id, body)

    @api.post("/days/<day_id>/another", responses={200: DayView})
    def another_day(path: DayPath, body: AnotherBody) -> DayView:
        return days.begin_another(db, path.day_id, body)

    @api.post("/days/<day_id>/lay", responses={200: JobView})
    def lay_day(path: DayPath, body: LayBody) -> JobView:
        return bench.lay_day(path.day_id, body)

    @api.get("/days/laid/<job_id>", responses={200: DayView})
    def day_laid(path: JobPath) -> DayView:
        return bench.jobs.result(path.job_id, DayView)

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
