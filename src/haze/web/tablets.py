"""Pairing: the code at the desk, the page a tablet is shown before it is let in, and the door."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from flask import Flask, Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from haze.service.bench import Bench
from haze.service.booth.tablets import Tablets, TabletsView, WrongCodeError
from haze.service.forms.wire import Identity
from haze.web.events import CLIENT
from haze.web.problems import problem
from haze.web.routes import route_group

COOKIE = "haze-tablet"
OUTSIDE = "haze.outside"  # in the environment of every request that came through the door
YEAR_S = 365 * 24 * 3600
DESK_ONLY = ("/api/tablets",)
PAGE = """<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Haze</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<style>
body {{ margin: 0; display: grid; place-items: center; min-height: 100vh; background: #e9e9e9;
  color: #1f1f1f; font: 18px/1.4 system-ui, sans-serif; }}
form {{ display: grid; gap: 16px; width: min(420px, 88vw); padding: 28px; border-radius: 10px;
  background: #fafafa; }}
h1 {{ margin: 0; font-size: 28px; }} p {{ margin: 0; }}
label {{ display: grid; gap: 4px; }}
input {{ padding: 10px 12px; border: 0; border-bottom: 2px solid #838383; background: #efefef;
  font: inherit; font-size: 24px; }}
button {{ padding: 14px; border: 0; border-radius: 8px; background: #1f1f1f; color: #fafafa;
  font: inherit; font-weight: 700; }}
.stop {{ padding-left: 10px; border-left: 4px solid #a4262c; }}
</style>
<form method="post" action="/pair">
<h1>Haze</h1>
<p>Type the code that stands in Settings on the desk.</p>{said}
<label>Code <input name="code" value="{code}" inputmode="numeric" autocomplete="one-time-code"
  maxlength="12" required autofocus></label>
<label>Name of this tablet <input name="name" maxlength="60" value="Tablet at the bench"></label>
<button>Pair</button>
</form></html>
"""


class TabletPath(BaseModel):
    tablet_id: Identity


def is_outside() -> bool:
    """Whether a request came through the door for tablets."""
    return bool(request.environ.get(OUTSIDE))


def watch_door(app: Flask, tablets: Tablets) -> None:
    """Let nothing through the door but pairing, and those who are paired."""

    @app.before_request
    def _door() -> Response | None:
        if not is_outside() or request.path == "/pair":
            return None
        if request.path.startswith(DESK_ONLY):
            return problem(403, code="desk", detail="This can be done at the desk only.")
        token = request.cookies.get(COOKIE, "")
        if tablets.knows(token):
            request.environ[CLIENT] = token
            return None
        if request.method == "GET" and not request.path.startswith("/api/"):
            return Response(status=303, headers={"Location": "/pair"})
        return problem(401, code="not_paired", detail="This tablet is not paired with Haze.")

    @app.after_request
    def _while_paired(answer: Response) -> Response:
        """A stream to a tablet ends when the tablet is shown out."""
        if is_outside() and answer.mimetype == "text/event-stream":
            events: Iterator[str] = iter(answer.response)  # type: ignore[arg-type]
            answer.response = _watched(events, tablets, request.cookies.get(COOKIE, ""))
        return answer

    @app.route("/pair", methods=["GET", "POST"])
    def pair() -> Response:
        """The page a tablet is shown, and its answer."""
        if not is_outside():
            return Response(status=303, headers={"Location": "/"})
        if request.method == "GET":
            return _page(request.args.get("code", "")[:12])
        given = request.form.get("code", "")[:40]
        try:
            token = tablets.pair(given, request.form.get("name", "")[:200])
        except WrongCodeError as error:
            return _page("", error.message, status=401)
        answer = Response(status=303, headers={"Location": "/"})
        answer.set_cookie(
            COOKIE, token, max_age=YEAR_S, secure=True, httponly=True, samesite="Strict"
        )
        return answer


def _watched(events: Iterator[str], tablets: Tablets, token: str) -> Iterator[str]:
    for one in events:
        if not tablets.knows(token):
            return
        yield one


def _page(code: str, said: str = "", *, status: int = 200) -> Response:
    warning = f'\n<p class="stop" role="alert">{escape(said)}</p>' if said else ""
    page = PAGE.format(code=escape(code, quote=True), said=warning)
    # without a referrer a form tells no origin, and would be taken for a foreign page's
    headers = {"Cache-Control": "no-store", "Referrer-Policy": "same-origin"}
    return Response(page, status=status, mimetype="text/html", headers=headers)


def tablets_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/tablets, for the desk."""
    api = route_group("tablets", documented=documented, refuses=(403, 404, 422))

    @api.get("/tablets", responses={200: TabletsView})
    def all_tablets() -> TabletsView:
        return bench.tablets.view()

    @api.post("/tablets/code", responses={200: TabletsView})
    def new_code() -> TabletsView:
        return bench.tablets.new_code()

    @api.delete("/tablets/<tablet_id>", responses={200: TabletsView})
    def revoke(path: TabletPath) -> TabletsView:
        return bench.tablets.revoke(path.tablet_id)

    return api
