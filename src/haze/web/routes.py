"""How a route answers, and how a group of routes begins."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, OpenAPI, Tag
from pydantic import BaseModel

from haze.web.problems import Problem


class Application(OpenAPI):
    """Flask whose routes return models: alone, or in a tuple with the status."""

    def make_response(self, rv: Any) -> Response:
        """A response from what a route returned."""
        rest = rv[1:] if isinstance(rv, tuple) else ()
        body = _plain(rv[0] if rest else rv)
        answer: Response = super().make_response((body, *rest) if rest else body)
        return answer


def _plain(body: Any) -> Any:
    return body.model_dump(by_alias=True) if isinstance(body, BaseModel) else body


def route_group(
    name: str, *, documented: bool, tag: str | None = None, refuses: Sequence[int] = (404, 422)
) -> APIBlueprint:
    """A blueprint under /api.

    Parameters
    ----------
    name : of the blueprint
    documented : whether the API document describes it
    tag : it stands under in that document; `name` when None
    refuses : statuses of the problem details any of its routes may answer
    """
    return APIBlueprint(
        name,
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name=tag or name)],
        doc_ui=documented,
        abp_responses=dict.fromkeys(refuses, Problem),
    )
