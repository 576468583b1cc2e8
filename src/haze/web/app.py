"""The Flask application over one bench."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from flask import Response, jsonify, request, send_from_directory
from flask.json.provider import DefaultJSONProvider
from flask_openapi3 import Info, OpenAPI

from haze import __version__
from haze.service.bench import Bench
from haze.service.forms.wire import holds_nothing
from haze.service.work.jobs import JobView, NotReadyError
from haze.web import guard, problems
from haze.web.booth import booth_blueprint
from haze.web.cards import cards_blueprint
from haze.web.colour import colour_blueprint
from haze.web.cups import cups_blueprint
from haze.web.day import day_blueprint
from haze.web.devices import devices_blueprint
from haze.web.events import STREAMS, Streams
from haze.web.files import files_blueprint
from haze.web.jobs import jobs_blueprint
from haze.web.light import light_blueprint
from haze.web.news import news_blueprint
from haze.web.notebook import notebook_blueprint
from haze.web.piece import piece_blueprint
from haze.web.piece_photos import piece_photos_blueprint
from haze.web.plans import plans_blueprint
from haze.web.routes import Application
from haze.web.shelf import shelf_blueprint
from haze.web.tablets import tablets_blueprint, watch_door

STATIC = Path(__file__).parent / "static"
MADE_MEANWHILE = JobView(id="", state="done", progress=1.0, doing="")
NOT_BUILT = "The screens are not built yet. Run `make demo` once; the HTTP API answers already."


GROUPS = (
    plans_blueprint,
    piece_blueprint,
    light_blueprint,
    colour_blueprint,
    shelf_blueprint,
    cards_blueprint,
    piece_photos_blueprint,
    cups_blueprint,
    day_blueprint,
    booth_blueprint,
    devices_blueprint,
    tablets_blueprint,
    files_blueprint,
    jobs_blueprint,
    news_blueprint,
    notebook_blueprint,
)


class _Json(DefaultJSONProvider):
    """JSON as the application reads and writes it.

    What is nested too deep is refused, and so is the character that is none: a text ends at it for
    the database, and goes on for everybody else.
    """

    sort_keys = False

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        text = s.decode("utf-8") if isinstance(s, bytes) else s
        if holds_nothing(text):
            raise ValueError("a text holds the character 0")
        try:
            return super().loads(text, **kwargs)
        except RecursionError:
            raise ValueError("nested too deep") from None


def create_app(bench: Bench, *, documented: bool = False) -> OpenAPI:
    """The application; one blueprint for each group of screens.

    Describing every route takes seconds, so only a `documented` application does it; the others
    make one when they are asked for `/api/openapi.json`.
    """
    app = Application(
        __name__,
        info=Info(title="Haze", version=__version__),
        static_folder=None,
        validation_error_status=422,
        validation_error_model=problems.Problem,
        validation_error_callback=problems.invalid,
        doc_ui=False,
        security_schemes={},
    )
    app.json = _Json(app)
    app.extensions["bench"] = bench
    app.extensions[STREAMS] = Streams()
    problems.install(app, bench.db)
    guard.install(app)
    watch_door(app, bench.tablets)

    @app.errorhandler(NotReadyError)
    def not_ready(error: NotReadyError) -> Response:
        """202: the job to wait for; the same request is answered when it has ended."""
        _, job = bench.prepare(error.piece)
        answer: Response = jsonify((job or MADE_MEANWHILE).model_dump())
        answer.status_code = 202
        answer.headers["Cache-Control"] = "no-store"
        return answer

    @app.before_request
    def moved() -> None:
        if request.method in guard.CHANGES:
            bench.jobs.moved()

    for group in GROUPS:
        app.register_api(group(bench, documented=documented))

    @app.get("/api/openapi.json", doc_ui=False)
    def openapi_document() -> dict[str, object]:
        described = app if documented else create_app(bench, documented=True)
        document: dict[str, object] = described.api_doc
        return document

    _serve_screens(app)
    return app


def _serve_screens(app: Application) -> None:
    """The page and its parts; a path of none of them leads to the page, which knows its screens."""

    @app.route("/", defaults={"path": ""})
    @app.route("/<path:path>")
    def screens(path: str) -> Response:
        if path.startswith("api/"):
            return problems.problem(404, code="missing", detail=problems.SENTENCES[404])
        if not (STATIC / "index.html").exists():
            return Response(NOT_BUILT, status=503, mimetype="text/plain")
        # a name too long for the file system is no file; Path.is_file would fail on it
        if path and os.path.isfile(STATIC / path):
            response = send_from_directory(STATIC, path)
            if path.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        response = send_from_directory(STATIC, "index.html")
        response.headers["Cache-Control"] = "no-cache"
        return response
