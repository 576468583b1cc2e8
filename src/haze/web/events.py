"""Server-sent events: one open request that tells until it ends."""

from __future__ import annotations

from collections.abc import Generator

from flask import Response
from pydantic import BaseModel

STILL_THERE = ": still there\n\n"


def events(told: Generator[BaseModel | None, None, None]) -> Response:
    """A stream of what is told, as JSON; None keeps the connection alive.

    Parameters
    ----------
    told : closed when the page leaves, even before the first word
    """
    stream = (f"data: {one.model_dump_json()}\n\n" if one else STILL_THERE for one in told)
    answer = Response(stream, mimetype="text/event-stream", headers={"Cache-Control": "no-store"})
    answer.call_on_close(told.close)
    return answer
