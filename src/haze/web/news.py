"""News over HTTP: one open request that tells a browser at once what changed."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint

from haze.service.bench import Bench
from haze.web.events import events
from haze.web.routes import route_group

PAGE = "X-Page"  # the page that sends a request names itself, so that it need not hear of itself


def sent_by() -> str:
    """The page that sent this request; empty when it does not say."""
    return request.headers.get(PAGE, "")[:64]


def news_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """The route /api/news."""
    api = route_group("news", documented=documented, refuses=(503,))

    @api.get("/news", responses={200: None})
    def news() -> Response:
        """Server-sent events: each plan that has a new version and each
        photo of a card that came or changed, until the page leaves."""
        return events(bench.news.listen())

    return api
