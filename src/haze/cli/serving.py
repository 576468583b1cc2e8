"""The commands that serve a data folder to the browser and to tablets."""

from __future__ import annotations

import argparse
import contextlib
import shutil
import sys
import threading
import webbrowser
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any

from haze.cli.shared import Command, data_folder
from haze.core.errors import PortError
from haze.core.mesh.detail import COARSE, FINE
from haze.service.work import apart
from haze.store import lock
from haze.web import LOOPBACK

DEFAULT_PORT = 8760
MOST_PORT = 65535
STAYS = (
    "Haze stays on 127.0.0.1: on {host} everybody in this network could read and change all there "
    "is. Add --tablets, and a tablet is let in by a code that is shown on the desk."
)


def add(command: Command) -> None:
    """Add them."""
    demo = command("demo", "serve the Saltgate demo", _demo)
    demo.add_argument("--port", type=int, default=DEFAULT_PORT)
    demo.add_argument("--data", help="its data folder")
    demo.add_argument("--no-browser", action="store_true")
    demo.add_argument(
        "--no-history",
        action="store_true",
        help="without the club's last three months: no sessions, trials, cards or photos",
    )
    demo.add_argument("--reset", action="store_true", help="put the old folder aside first")
    serve = command("serve", "serve a data folder", _serve_command)
    serve.add_argument("--data", required=True)
    serve.add_argument("--port", type=int, default=DEFAULT_PORT)
    for served in (demo, serve):
        served.add_argument("--host", default=LOOPBACK, help="the address tablets come to")
        served.add_argument(
            "--tablets",
            action="store_true",
            help="let tablets in at --host, over TLS, each by a code shown on the desk",
        )
        served.add_argument(
            "--on-demand",
            action="store_true",
            help="work out pieces and pictures when they are opened, not ahead (saves a battery)",
        )
        served.add_argument(
            "--coarse",
            action="store_true",
            help="pieces with fewer points: several times quicker on a slow machine, less even",
        )


def _demo(args: argparse.Namespace) -> None:
    folder = Path(args.data) if args.data else data_folder().parent / "haze-demo"
    if args.reset and folder.exists():
        with lock.held(folder):  # not under the hands of a Haze that serves it
            aside = folder.with_name(f"{folder.name}-{datetime.now():%Y%m%d-%H%M%S}")
        shutil.move(folder, aside)
        print(f"The old demo folder is now {aside}.")
    _serve(
        _Serving(
            folder,
            args.port,
            host=args.host,
            tablets=args.tablets,
            browser=not args.no_browser,
            demo=True,
            past=not args.no_history,
            on_demand=args.on_demand,
            coarse=args.coarse,
        )
    )


def _serve_command(args: argparse.Namespace) -> None:
    _serve(
        _Serving(
            Path(args.data),
            args.port,
            host=args.host,
            tablets=args.tablets,
            on_demand=args.on_demand,
            coarse=args.coarse,
        )
    )


@dataclass(frozen=True, slots=True)
class _Serving:
    """What is served, and where."""

    folder: Path
    port: int
    host: str = LOOPBACK
    tablets: bool = False
    browser: bool = False
    demo: bool = False
    past: bool = False
    on_demand: bool = False
    coarse: bool = False

    @property
    def local(self) -> bool:
        from haze.web.guard import THIS_MACHINE  # with the web, as below

        return self.host in THIS_MACHINE


def _require_address(serving: _Serving) -> None:
    most = MOST_PORT - 1 if serving.tablets else MOST_PORT  # tablets come in one port further
    if not 0 <= serving.port <= most:
        raise PortError(f"--port is {serving.port}; accepted is 0 to {most}.", field="port")
    if serving.tablets and serving.local:
        raise PortError(
            "--tablets needs the address they come to: --host with the address of this machine in "
            "your network, or 0.0.0.0 for all of them.",
            field="host",
        )


def _serve(serving: _Serving) -> None:
    # the web is only loaded here, so that a computing command starts quickly
    from haze.demo import saltgate
    from haze.service.bench import Bench
    from haze.web.app import create_app
    from haze.web.server import listening, make_server

    _require_address(serving)
    with lock.held(serving.folder), listening(LOOPBACK, serving.port) as at:
        if not serving.on_demand:
            apart.warm()
        bench = Bench(
            serving.folder,
            ahead=not serving.on_demand,
            detail=COARSE if serving.coarse else FINE,
        )
        try:
            bench.tidy()
            if serving.demo:
                bench.at_start("The demo", partial(saltgate.load, bench.db, past=serving.past))
            if not serving.local and not serving.tablets:
                print(f"haze: {STAYS.format(host=serving.host)}", file=sys.stderr)
            app = create_app(bench)
            bench.warm()
            server = make_server(app, at)
            address = f"http://{LOOPBACK}:{server.effective_port}/"
            print(
                f"Haze is ready at {address}  (data in {serving.folder}; Ctrl+C stops it)",
                flush=True,
            )
            door = _door(app, bench, serving, int(server.effective_port) + 1)
            if serving.browser:
                threading.Thread(target=webbrowser.open, args=(address,), daemon=True).start()
            with contextlib.suppress(KeyboardInterrupt):
                server.run()
            if door is not None:
                door.stop()
        finally:
            bench.close()


def _door(app: Any, bench: Any, serving: _Serving, port: int) -> Any:
    """The way in for tablets, open; None when none was asked for."""
    if not serving.tablets:
        return None
    from haze.service.booth.tablets import DoorAddress
    from haze.web.certificate import address_here, certificate_for
    from haze.web.door import Door

    try:
        address = address_here(serving.host)
    except (OSError, ValueError) as error:
        raise PortError(f"{serving.host} is no address of this machine.", field="host") from error
    certificate = certificate_for(serving.folder / "tablets", address)
    door = Door(app, host=serving.host, port=port, certificate=certificate)
    bench.tablets.door = DoorAddress(f"https://{address}:{port}", certificate.fingerprint)
    threading.Thread(target=door.serve, name="door", daemon=True).start()
    print(f"Tablets pair at https://{address}:{port}/  (the code stands in Settings)", flush=True)
    return door
