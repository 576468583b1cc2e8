"""The booth over HTTP: its steps, what is pressed, replanning the rest, and how a piece is held."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from haze.service.bench import Bench
from haze.service.booth.booth import (
    AgainBody,
    BoothView,
    EventsBody,
    EventsOut,
    lay_rest,
    open_booth,
)
from haze.service.booth.drift import DriftOut, drift
from haze.service.booth.pictures import hold_picture
from haze.service.cups.trials import ThroughBody
from haze.service.forms.wire import Identity
from haze.service.plan import plans
from haze.web.day import DayPath
from haze.web.routes import route_group


class HoldPath(BaseModel):
    plan_id: Identity
    coat_id: Identity
    station_id: Identity


def booth_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for the booth."""
    db = bench.db
    api = route_group("booth", documented=documented, refuses=(404, 409, 422))

    @api.get("/days/<day_id>/booth", responses={200: BoothView})
    def at_the_booth(path: DayPath) -> BoothView:
        return open_booth(db, path.day_id, bench.on)

    @api.post("/days/<day_id>/events", responses={200: EventsOut})
    def take(path: DayPath, body: EventsBody) -> EventsOut:
        return bench.take_presses(path.day_id, body)

    @api.post("/days/<day_id>/again", responses={200: BoothView})
    def again(path: DayPath, body: AgainBody) -> BoothView:
        return lay_rest(db, path.day_id, body, bench.on)

    @api.post("/booth/drift", responses={200: DriftOut})
    def booth_drift(body: ThroughBody) -> DriftOut:
        return drift(bench.beliefs, body, bench.devices.view())

    @api.get("/hold/<plan_id>/<coat_id>/<station_id>.png", responses={200: None})
    def hold(path: HoldPath) -> Response:
        plan = plans.open_plan(db, path.plan_id).plan
        image = hold_picture(plan, path.coat_id, path.station_id, bench.on(plan))
        headers = {"Cache-Control": "private, max-age=3600"}
        return Response(image, mimetype="image/png", headers=headers)

    return api
