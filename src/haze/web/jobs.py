"""Long work over HTTP: a job's state, one open request that follows it, and its end."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.service.bench import Bench
from haze.service.work.jobs import JobView
from haze.web.events import events
from haze.web.routes import route_group


class JobPath(BaseModel):
    job_id: str = Field(max_length=64)


def jobs_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/jobs."""
    api = route_group("jobs", documented=documented)

    @api.get("/jobs/<job_id>", responses={200: JobView})
    def job(path: JobPath) -> JobView:
        return bench.jobs.get(path.job_id)

    @api.get("/jobs/<job_id>/events", responses={200: None})
    def job_events(path: JobPath) -> Response:
        """Server-sent events: the job now and whenever it changes, until it ends."""
        return events(bench.jobs.watch(path.job_id))

    @api.delete("/jobs/<job_id>", responses={200: JobView})
    def cancel_job(path: JobPath) -> JobView:
        return bench.jobs.cancel(path.job_id)

    return api
