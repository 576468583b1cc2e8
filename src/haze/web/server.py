"""The server under the application: limits of connections, and sealed answers of its own."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from waitress import create_server
from waitress.channel import HTTPChannel
from waitress.task import ErrorTask

from haze.core.errors import PortError
from haze.web.guard import LARGEST_BODY, SEALS
from haze.web.problems import OF_THE_WEB, SENTENCES, Problem

THREADS = 32  # each page that waits for a job, or for news, holds one
MOST_CONNECTIONS = 500  # under what a process may have open
IDLE_S = 20  # a connection that says nothing for so long makes room for others
LOOK_EVERY_S = 5
Wsgi = Callable[..., Any]
WORDS = SENTENCES | {400: "The request could not be read."}


class _SealedError(ErrorTask):
    """The server's own refusals: the same body and seals as every other."""

    def execute(self) -> None:
        error = self.request.error
        code = (
            "too_large" if error.code == 413 else "bad_request" if error.code == 400 else "refused"
        )
        assert code in OF_THE_WEB
        detail = WORDS.get(error.code, "The request was refused.")
        body = Problem(
            title=code.replace("_", " "), status=error.code, detail=detail, code=code
        ).model_dump_json(exclude_none=True)
        self.status = f"{error.code} {error.reason}"
        self.response_headers.extend(
            [("Content-Type", "application/problem+json"), ("Connection", "close"), *SEALS.items()]
        )
        self.set_close_on_finish()
        data = body.encode()
        self.content_length = len(data)
        self.write(data)


class _Channel(HTTPChannel):
    error_task_class = _SealedError


def make_server(app: Wsgi, *, host: str, port: int) -> Any:
    """A server that listens already; `PortError` when it cannot.

    Parameters
    ----------
    app : what answers
    host : str, name or address
    port : int, 0 for any that is free
    """
    listening: dict[int, Any] = {}
    try:
        server = create_server(
            app,
            map=listening,
            host=host,
            port=port,
            threads=THREADS,
            ident="Haze",
            max_request_body_size=LARGEST_BODY + 2**20,
            connection_limit=MOST_CONNECTIONS,
            channel_timeout=IDLE_S,
            cleanup_interval=LOOK_EVERY_S,
            asyncore_use_poll=True,
            channel_request_lookahead=1,  # so that a page that leaves is noticed while it waits
        )
    except (OSError, ValueError) as error:
        why = getattr(error, "strerror", None) or error
        raise PortError(
            f"Port {port} on {host} cannot be used ({why}); choose another with --port."
        ) from error
    for one in listening.values():
        if hasattr(one, "channel_class"):
            one.channel_class = _Channel
    return server
