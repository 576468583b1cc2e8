"""One error body over every route: RFC 9457 problem details with a sentence for the painter."""

from __future__ import annotations

import logging
import uuid
from typing import Annotated

from flask import Flask, Response, jsonify, request
from pydantic import BaseModel, Field, ValidationError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from haze.core.errors import HazeError
from haze.store.connection import Database, MissingError, StaleError
from haze.store.troubles import DiskFullError, StoreError
from haze.web.events import TooManyStreamsError

log = logging.getLogger(__name__)

STATUS: tuple[tuple[type[HazeError], int], ...] = (
    (MissingError, 404),
    (StaleError, 409),
    (TooManyStreamsError, 503),
    (DiskFullError, 507),
    (StoreError, 503),
    (HazeError, 422),
)
SENTENCES = {
    400: "The request could not be read: it is no JSON, is nested too deep, or holds the character "
    "0. Nothing was changed.",
    404: "There is nothing at this address.",
    405: "This address does not do that.",
    413: "This is too large. Nothing was changed.",
    415: "The request must be JSON.",
}


# refusals of the web itself; those of the work have a class each
OF_THE_WEB = (
    "bad_request",
    "desk",
    "host",
    "internal",
    "invalid",
    "method_not_allowed",
    "missing",
    "not_found",
    "not_paired",
    "origin",
    "refused",
    "too_large",
    "unsupported_media_type",
)


def codes() -> list[str]:
    """Every code a problem can have, in order."""
    known, found = [HazeError], set(OF_THE_WEB)
    while known:
        below = known.pop().__subclasses__()
        found.update(kind.code for kind in below)
        known.extend(below)
    return sorted(found)


class Problem(BaseModel):
    """What went wrong, in words and for programs."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: Annotated[str, Field(json_schema_extra=lambda schema: schema.update(enum=codes()))]
    field: str | None = None
    request_id: str | None = None


def problem(status: int, *, code: str, detail: str, field: str | None = None) -> Response:
    """A problem response."""
    body = Problem(
        title=code.replace("_", " "),
        status=status,
        detail=detail,
        code=code,
        field=field,
        request_id=uuid.uuid4().hex if code == "internal" else None,
    )
    answer: Response = jsonify(body.model_dump(exclude_none=True))
    answer.status_code = status
    answer.mimetype = "application/problem+json"
    if body.request_id:
        log.error("request %s failed", body.request_id, exc_info=True)
    return answer


def invalid(error: ValidationError) -> Response:
    """The first wrong field of a request, by name."""
    first = error.errors(include_url=False, include_context=False)[0]
    field = ".".join(str(part) for part in first["loc"])
    given = first.get("input")
    shown = f" (given: {given!r:.60})" if not isinstance(given, dict | list) else ""
    return problem(
        422,
        code="invalid",
        detail=f"{field or 'the request'}: {_said(first['msg'])}{shown}. Nothing was changed.",
        field=field or None,
    )


def _said(message: str) -> str:
    """What a check of ours says, without the words its library puts before it."""
    return message.removeprefix("Value error, ")


def install(app: Flask, db: Database) -> None:
    """Answer every error of the app with a problem body."""

    def refused(error: HazeError) -> Response:
        status = next(code for kind, code in STATUS if isinstance(error, kind))
        return problem(status, code=error.code, detail=error.message, field=error.field)

    @app.errorhandler(HazeError)
    def _known(error: HazeError) -> Response:
        return refused(error)

    @app.errorhandler(ValidationError)
    def _invalid(error: ValidationError) -> Response:
        return invalid(error)

    @app.errorhandler(RequestEntityTooLarge)
    def _too_large(_: RequestEntityTooLarge) -> Response:
        limit = (request.max_content_length or 0) / 2**20
        return problem(
            413,
            code="too_large",
            detail=f"This is too large; at most {limit:g} MiB are accepted. Nothing was changed.",
        )

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        status = error.code or 500
        detail = SENTENCES.get(status, "The request was refused.")
        name = error.name.lower().replace(" ", "_")
        return problem(status, code=name if name in OF_THE_WEB else "refused", detail=detail)

    @app.errorhandler(Exception)
    def _unknown(error: Exception) -> Response:
        known = db.translated(error)
        if isinstance(known, HazeError):
            return refused(known)
        return problem(
            500,
            code="internal",
            detail="Something went wrong here, not with what you gave. Nothing was saved.",
        )
