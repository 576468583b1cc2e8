"""Only this machine, only our own pages: Host and Origin are checked, bodies are limited."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, Response, request
from werkzeug.exceptions import RequestEntityTooLarge

from haze.formats import meshes, shelf_csv
from haze.service.colour import photo
from haze.web.problems import problem

LOOPBACK = {"127.0.0.1", "localhost", "[::1]", "::1"}
SMALL_BODY = 2 * 2**20
CHANGES = {"POST", "PUT", "PATCH", "DELETE"}
# what a route takes beyond that
UPLOADS = {
    "/api/meshes": meshes.MOST_BYTES,
    "/api/shelf/photo": photo.MOST_PHOTO_BYTES,
    "/api/shelf/csv": shelf_csv.MOST_BYTES,
    "/api/shelf/palette": shelf_csv.MOST_BYTES,
}
LARGEST_BODY = max(UPLOADS.values())
FOREIGN = {"cross-site", "same-site"}
POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


def _name(host: str) -> str:
    return urlsplit(f"//{host}").hostname or ""


def _is_foreign() -> bool:
    """Whether another site's page sent this request."""
    origin = request.headers.get("Origin")
    if origin is not None and urlsplit(origin).netloc != request.host:
        return True
    return request.headers.get("Sec-Fetch-Site") in FOREIGN


def install(app: Flask, *, extra_hosts: tuple[str, ...] = ()) -> None:
    """Check every request before it reaches a route."""
    allowed = {_name(h) or h for h in LOOPBACK} | set(extra_hosts)

    @app.before_request
    def _check() -> Response | None:
        request.max_content_length = UPLOADS.get(request.path, SMALL_BODY)
        if (request.content_length or 0) > request.max_content_length:
            raise RequestEntityTooLarge
        if _name(request.host) not in allowed:
            return problem(
                403, code="host", detail="Haze answers only to this machine's own address."
            )
        if request.method in CHANGES and _is_foreign():
            return problem(
                403, code="origin", detail="Only Haze's own pages may change anything here."
            )
        return None

    @app.after_request
    def _seal(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response
