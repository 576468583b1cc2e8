"""The door for tablets: TLS in front of a server of its own, so that no client holds up another.

Handshakes and requests that never end cost no thread: the handshake is done by an event loop, with
a limit of time, and the server behind it reads requests without a thread for each. One address may
hold so many connections and no more; of those that have not said a word the oldest makes room.
"""

from __future__ import annotations

import asyncio
import contextlib
import logging
import socket
import ssl
import threading
from collections import Counter, OrderedDict
from typing import Any

from flask import Flask

from haze.web import LOOPBACK
from haze.web.certificate import Certificate
from haze.web.server import listening, make_server
from haze.web.tablets import OUTSIDE

HANDSHAKE_S = 5.0
GOODBYE_S = 1.0
MOST_OF_ADDRESS = 32  # a browser holds six
MOST_SILENT = 64  # of one address, whose handshake is not done
BLOCK_BYTES = 2**16
log = logging.getLogger(__name__)


class Door:
    """A server over TLS that listens already; `serve` answers until `stop` is called."""

    def __init__(self, app: Flask, *, host: str, port: int, certificate: Certificate) -> None:
        """Listen; `PortError` when that cannot be.

        Parameters
        ----------
        app : what answers; it learns which requests came this way
        host : str, address it listens on
        port : int, 0 for any that is free
        certificate : Certificate
        """

        def outside(environ: dict[str, Any], start_response: Any) -> Any:
            return app.wsgi_app({**environ, OUTSIDE: True}, start_response)

        self._socket = listening(host, port)
        self._socket.setblocking(False)
        self._context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self._context.load_cert_chain(certificate.certificate, certificate.key)
        self._server = make_server(outside, listening(LOOPBACK, 0))
        self._loop = asyncio.new_event_loop()
        self._held: Counter[str] = Counter()
        self._silent: dict[str, OrderedDict[asyncio.Task[None], None]] = {}
        self._closing = asyncio.Event()

    @property
    def port(self) -> int:
        """The port it listens on."""
        return int(self._socket.getsockname()[1])

    def serve(self) -> None:
        """Answer until `stop` is called."""
        asyncio.set_event_loop(self._loop)
        threading.Thread(target=self._server.run, name="behind the door", daemon=True).start()
        with contextlib.closing(self._loop):
            self._loop.run_until_complete(self._accept())
        self._server.close()

    def stop(self) -> None:
        """Let everybody go, from another thread."""
        with contextlib.suppress(RuntimeError):  # it has ended already
            self._loop.call_soon_threadsafe(self._closing.set)

    async def _accept(self) -> None:
        """Take connections as they come, each in a task of its own."""
        closing = asyncio.create_task(self._closing.wait())
        tasks: set[asyncio.Task[Any]] = set()
        with self._socket:
            while not self._closing.is_set():
                coming = asyncio.create_task(self._loop.sock_accept(self._socket))
                await asyncio.wait({coming, closing}, return_when=asyncio.FIRST_COMPLETED)
                if not coming.done():
                    coming.cancel()
                    break
                try:
                    connection, peer = coming.result()
                except OSError as error:  # as many are open as there may be
                    log.warning("the door for tablets: %s", error)
                    await asyncio.sleep(GOODBYE_S)
                    continue
                task = self._loop.create_task(self._served(connection, str(peer[0])))
                tasks.add(task)
                task.add_done_callback(tasks.discard)
                self._make_room(task, str(peer[0]))
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)

    def _make_room(self, task: asyncio.Task[None], address: str) -> None:
        silent = self._silent.setdefault(address, OrderedDict())
        silent[task] = None
        if len(silent) > MOST_SILENT:
            oldest, _ = silent.popitem(last=False)
            oldest.cancel()

    def _spoke(self, address: str) -> None:
        """The task that runs now has done its handshake, or is over."""
        silent = self._silent.get(address)
        task = asyncio.current_task()
        if silent is None or task is None:
            return
        silent.pop(task, None)
        if not silent:
            del self._silent[address]

    async def _served(self, connection: socket.socket, address: str) -> None:
        """Do the handshake, then pass bytes both ways until either side has ended."""
        reader = asyncio.StreamReader(BLOCK_BYTES)
        protocol = asyncio.StreamReaderProtocol(reader)
        try:
            transport, _ = await self._loop.connect_accepted_socket(
                lambda: protocol,
                connection,
                ssl=self._context,
                ssl_handshake_timeout=HANDSHAKE_S,
                ssl_shutdown_timeout=GOODBYE_S,
            )
        except OSError:
            return  # no handshake, or none in time: the loop has closed it
        finally:
            self._spoke(address)
        writer = asyncio.StreamWriter(transport, protocol, reader, self._loop)
        if self._held[address] >= MOST_OF_ADDRESS:
            transport.abort()
            return
        self._held[address] += 1
        try:
            await self._passed_on(reader, writer)
        finally:
            self._held[address] -= 1
            if not self._held[address]:
                del self._held[address]
            transport.abort()

    async def _passed_on(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        port = self._server.effective_port
        there, here = await asyncio.open_connection(LOOPBACK, port, limit=BLOCK_BYTES)
        pumps = (_pumped(reader, here), _pumped(there, writer))
        ways = {asyncio.create_task(pump) for pump in pumps}
        try:
            await asyncio.wait(ways, return_when=asyncio.FIRST_COMPLETED)
            writer.close()
            with contextlib.suppress(OSError, TimeoutError):
                await asyncio.wait_for(writer.wait_closed(), GOODBYE_S)
        finally:
            for way in ways:
                way.cancel()
            await asyncio.gather(*ways, return_exceptions=True)
            here.transport.abort()


async def _pumped(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """Pass bytes on until there are no more."""
    with contextlib.suppress(OSError):
        while block := await reader.read(BLOCK_BYTES):
            writer.write(block)
            await writer.drain()
