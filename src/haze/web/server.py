"""The server under the application: limits of connections, and sealed answers of its own."""

from __future__ import annotations

import socket
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
BACKLOG = 256
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


def listening(host: str, port: int) -> socket.socket:
    """A socket that holds a port; who comes waits until a server answers.

    Parameters
    ----------
    host : str, name or address
    port : int, 0 for any that is free

    Raises
    ------
    PortError, when the port is taken or the address is not one of this machine
    """
    try:
        return socket.create_server((host, port), backlog=BACKLOG)
    except (OSError, ValueError) as error:
        why = getattr(error, "strerror", None) or error
        raise PortError(
            f"Port {port} on {host} cannot be used ({why}); choose another with --port."
        ) from error


def make_server(app: Wsgi, at: socket.socket) -> Any:
    """A server on a socket that listens.

    Parameters
    ----------
    app : what answers
    at : where it listens, as `listening` gives it
    """
    parts: dict[int, Any] = {}
    server = create_server(
        app,
        map=parts,
        sockets=[at],
        threads=THREADS,
        ident="Haze",
        max_request_body_size=LARGEST_BODY + 2**20,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=LOOK_EVERY_S,
        asyncore_use_poll=True,
        channel_request_lookahead=1,  # so that a page that leaves is noticed while it waits
    )
    for one in parts.values():
        if hasattr(one, "channel_class"):
            one.channel_class = _Channel
    return server
