"""Only this machine and paired tablets, only our own pages: Host and Origin, sizes of bodies."""

from __future__ import annotations

from ipaddress import ip_address
from urllib.parse import urlsplit

from flask import Flask, Response, request
from werkzeug.exceptions import RequestEntityTooLarge

from haze.formats import archive, meshes, photos, shelf_csv
from haze.web.problems import problem
from haze.web.tablets import is_outside

THIS_MACHINE = {"127.0.0.1", "localhost", "::1"}
SMALL_BODY = 2 * 2**20
CHANGES = {"POST", "PUT", "PATCH", "DELETE"}
# what a route takes beyond that
UPLOADS = {
    "/api/meshes": meshes.MOST_BYTES,
    "/api/shelf/photo": photos.MOST_BYTES,
    "/api/files": archive.MOST_BYTES,
    "/api/photos": photos.MOST_BYTES,
    "/api/cards/photos": photos.MOST_BYTES,
    "/api/piece-photos": photos.MOST_BYTES,
    "/api/shelf/csv": shelf_csv.MOST_BYTES,
    "/api/shelf/palette": shelf_csv.MOST_BYTES,
}
LARGEST_BODY = max(UPLOADS.values())
FOREIGN = {"cross-site", "same-site"}
POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)
SEALS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=(), payment=(), usb=()",
}


def _netloc(address: str) -> str | None:
    """Host and port of an address; None when it is none."""
    try:
        return urlsplit(address).netloc
    except ValueError:
        return None


def _name(host: str) -> str:
    try:
        return urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return ""


def _is_foreign() -> bool:
    """Whether another site's page sent this request."""
    origin = request.headers.get("Origin")
    if origin is not None and _netloc(origin) != request.host:
        return True
    return request.headers.get("Sec-Fetch-Site") in FOREIGN


def _is_address(name: str) -> bool:
    try:
        ip_address(name)
    except ValueError:
        return False
    return True


def _is_expected(host: str) -> bool:
    """Whether a request may name this host.

    A foreign page can make its own name lead here, but not an address; and only this machine can
    truly ask for its loopback. Through the door for tablets one asks for its address.
    """
    name = _name(host)
    if is_outside():
        return _is_address(name)
    return name in THIS_MACHINE and _is_this_machine(request.remote_addr)


def _is_this_machine(peer: str | None) -> bool:
    return peer is None or (_is_address(peer) and ip_address(peer).is_loopback)


def install(app: Flask) -> None:
    """Check every request before it reaches a route."""

    @app.before_request
    def _check() -> Response | None:
        request.max_content_length = UPLOADS.get(request.path, SMALL_BODY)
        if (request.content_length or 0) > request.max_content_length:
            raise RequestEntityTooLarge
        if not _is_expected(request.host):
            return problem(
                403, code="host", detail="Haze answers only to this machine's own address."
            )
        if request.method in CHANGES and _is_foreign():
            return problem(
                403, code="origin", detail="Only Haze's own pages may change anything here."
            )
        if request.is_json and request.content_length:
            request.get_json()  # what is no JSON is refused as that, not as a missing field
        return None

    @app.after_request
    def _seal(response: Response) -> Response:
        for name, seal in SEALS.items():
            response.headers.setdefault(name, seal)
        return response
