"""The command line: the same core without a browser."""

from __future__ import annotations

import argparse
import contextlib
import json
import logging
import os
import shutil
import sys
import tempfile
import threading
import webbrowser
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError
from threadpoolctl import threadpool_limits

from haze import __version__
from haze.core.errors import BadInputError, HazeError, PortError
from haze.core.mesh.detail import COARSE, FINE
from haze.core.mesh.frame import SHOW_SIDES, UP_AXES
from haze.formats.meshes import MOST_BYTES
from haze.service.colour import film, ladders, mixes
from haze.service.cups import learn, setting, trouble, window
from haze.service.day import asked
from haze.service.light import mesh_file
from haze.service.work import apart
from haze.store import lock
from haze.web import LOOPBACK

DEFAULT_PORT = 8760
MOST_PORT = 65535
STAYS = (
    "Haze stays on 127.0.0.1: on {host} everybody in this network could read and change all there "
    "is. Add --tablets, and a tablet is let in by a code that is shown on the desk."
)
M = TypeVar("M", bound=BaseModel)


def data_folder() -> Path:
    """The user's data folder by the platform's habit."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "haze"


def _text(path: str | None) -> str:
    try:
        return Path(path).read_text("utf-8") if path else sys.stdin.read()
    except (OSError, UnicodeDecodeError) as error:
        raise BadInputError(f"{path or 'standard input'} cannot be read: {error}.") from error


def _parsed(model: type[M], text: str) -> M:
    try:
        return model.model_validate_json(text)
    except ValidationError as error:
        raise BadInputError(sentence(error)) from error


def sentence(error: ValidationError) -> str:
    """The first wrong field: its name, what was given, what is accepted."""
    first = error.errors(include_url=False)[0]
    field = ".".join(str(part) for part in first["loc"]) or "input"
    given = first.get("input")
    shown = "" if isinstance(given, dict | list) else f" is {json.dumps(given, default=str)[:80]}"
    return f"{field}{shown}: {first['msg']}."


def _write(result: BaseModel) -> None:
    json.dump(result.model_dump(by_alias=True), sys.stdout, indent=2, ensure_ascii=False)
    sys.stdout.write("\n")


def _compute(
    model: type[M], work: Callable[[M], BaseModel]
) -> Callable[[argparse.Namespace], None]:
    def run(args: argparse.Namespace) -> None:
        _write(work(_parsed(model, _text(args.file))))

    return run


def _assess(args: argparse.Namespace) -> None:
    text = _text(args.file)
    if text.lstrip().startswith("["):
        _write(setting.assess_many(_parsed(setting.AssessManyIn, text)))
    else:
        _write(setting.assess(_parsed(setting.AssessIn, text)))


def _sheet(args: argparse.Namespace) -> None:
    from haze.service.plan.plans import plan_named
    from haze.service.plan.run_sheet import sheet_of

    bench = _bench(args)
    try:
        plan = plan_named(bench.db, args.plan)
        bench.cache.make(plan.piece, lambda done, _: _progress(done))
        _write(sheet_of(plan, bench.on(plan)))
    finally:
        bench.close()


def _bench(args: argparse.Namespace, *, made: bool = False) -> Any:
    """The bench of a data folder that is there; with `made`, of one that is made when it is not."""
    from haze.service.bench import Bench
    from haze.store.connection import FILE_NAME

    folder = Path(args.data) if args.data else data_folder()
    if not made and not (folder / FILE_NAME).exists():
        raise BadInputError(f"{folder} holds no data of Haze; give its data folder with --data.")
    return Bench(folder)


def _export(args: argparse.Namespace) -> None:
    from haze.service.files import written
    from haze.service.plan.plans import id_named
    from haze.service.shelf.files import export_csv

    bench = _bench(args)
    target = Path(args.file)
    try:
        kind = target.suffix.lower()
        if args.what in TABLES:
            if kind not in TABLES[args.what]:
                accepted = " or ".join(TABLES[args.what])
                raise BadInputError(f"{target.name}: {args.what} is written as {accepted}.")
            if args.what == "notebook" and kind == ".haze":
                _written(target, lambda file: written.write_notebook(bench.db, file))
                return
            make = {
                ("notebook", ".csv"): written.sessions_csv,
                ("notebook", ".json"): written.notebook_json,
                ("trials", ".csv"): written.trials_csv,
                ("shelf", ".csv"): export_csv,
            }[args.what, kind]
            _written(target, lambda file: file.write(make(bench.db)))
            return
        identity = id_named(bench.db, args.what)
        _written(target, lambda f: written.write_plan(bench.db, identity, f, bench.pictured))
    finally:
        bench.close()


TABLES = {"notebook": (".haze", ".csv", ".json"), "trials": (".csv",), "shelf": (".csv",)}


def _written(target: Path, write: Callable[[Any], object]) -> None:
    """A file written whole, in the place of an older one, or not at all."""
    part = target.with_name(f"{target.name}.part")
    try:
        with part.open("wb") as file:
            write(file)
        part.replace(target)
    except OSError as error:
        raise BadInputError(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        part.unlink(missing_ok=True)
    print(f"{target} ({target.stat().st_size / 2**20:.1f} MiB)")


def _import(args: argparse.Namespace) -> None:
    from haze.service.files import looked, taken
    from haze.service.shelf.files import import_csv

    path = Path(args.file)
    if not path.is_file():
        raise BadInputError(f"{path} cannot be read: give a .haze file, or a shelf as CSV.")
    bench = _bench(args, made=not args.look)
    try:
        with path.open("rb") as file, lock.held(bench.folder):
            if path.suffix.lower() == ".csv":
                _write(import_csv(bench.db, file.read(), apply=not args.look))
                return
            token = looked.keep(bench.incoming, file)
            try:
                look = looked.look(bench.db, bench.incoming, token)
                if args.look:
                    _write(look)
                    return
                body = taken.TakeBody(token=token)
                _write(
                    taken.take_in(bench.db, bench.incoming, body, lambda done, _: _progress(done))
                )
            finally:
                looked.let_go(bench.incoming, token)
    except OSError as error:
        raise BadInputError(f"{path} cannot be read: {error.strerror}.") from error
    finally:
        bench.close()


def _backup(args: argparse.Namespace) -> None:
    from haze.service.files import upkeep

    bench = _bench(args)
    try:
        size = upkeep.backup_to(bench.db, Path(args.file))
    finally:
        bench.close()
    print(f"{args.file} ({size / 2**20:.1f} MiB)")


def _check(args: argparse.Namespace) -> None:
    from haze.service.files import upkeep
    from haze.store.connection import FILE_NAME

    folder = Path(args.data) if args.data else data_folder()
    path = Path(args.file) if args.file else folder / FILE_NAME
    if not path.is_file():
        raise BadInputError(f"{path} is not there; give a data folder with --data.")
    found = upkeep.check(path)
    _write(found)
    if not found.ok:
        raise BadInputError(found.faults[0])


def _scheme(args: argparse.Namespace) -> None:
    from haze.demo import saltgate
    from haze.demo.stand_ins import stand_in
    from haze.service.bench import Bench
    from haze.service.piece.meshes import add_mesh
    from haze.service.plan.scheme import SchemeIn, scheme, shelf_given
    from haze.service.plan.start import NewPlan, start

    given = _parsed(SchemeIn, _text(args.file))
    with tempfile.TemporaryDirectory() as folder:
        bench = Bench(Path(folder))
        try:
            if given.stand_in is not None:
                piece = stand_in(bench.db, given.stand_in)
                mesh, height = piece.mesh.id, given.height_mm or piece.height_mm
            else:
                data, name = _mesh_file(given.mesh or "")
                mesh, height = add_mesh(bench.db, data, name=name).id, given.height_mm or 0.0
            saltgate.load_shelf(bench.db)
            view = start(bench.db, NewPlan(mesh=mesh, name="Scheme", height_mm=height, up=given.up))
            bench.cache.make(view.plan.piece, lambda done, _: _progress(done))
            shelf = bench.shelf() if given.paints is None else shelf_given(given.paints)
            _write(scheme(given, view.plan, bench.on(view.plan), shelf))
        finally:
            bench.close()


def _mesh_file(mesh: str) -> tuple[bytes, str]:
    path = Path(mesh)
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BadInputError(
                f"{path.name} has {path.stat().st_size / 2**20:.0f} MiB; "
                f"at most {MOST_BYTES // 2**20} are accepted."
            )
        return path.read_bytes(), path.name
    except OSError as error:
        raise BadInputError(f"{path} cannot be read: {error.strerror}.") from error


def _progress(done: float) -> bool:
    if sys.stderr.isatty():
        sys.stderr.write(f"\r{done:4.0%} worked out")
        sys.stderr.flush()
    return True


def _reach(args: argparse.Namespace) -> None:
    data, name = _mesh_file(args.mesh)
    _write(
        mesh_file.reach(
            data,
            name=name,
            height_mm=args.height_mm,
            up=args.up,
            show=args.show,
            progress=_progress,
        )
    )


def _light(text: str) -> tuple[float, float]:
    try:
        azimuth, elevation = (float(part) for part in text.split(","))
    except ValueError:
        raise argparse.ArgumentTypeError(
            f"{text!r} is not AZIMUTH,ELEVATION in degrees, such as 40,45"
        ) from None
    return azimuth, elevation


def _angles(args: argparse.Namespace) -> None:
    data, name = _mesh_file(args.mesh)
    _write(
        mesh_file.angles(
            data,
            name=name,
            height_mm=args.height_mm,
            light=args.light,
            softness_deg=args.softness,
            stations=args.stations,
            up=args.up,
            show=args.show,
            progress=_progress,
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
                bench.at_start("The demo", partial(saltgate.load, bench.db))
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
    from haze.service.booth.tablets import Door
    from haze.web.certificate import address_here, certificate_for
    from haze.web.door import Door as TabletDoor

    try:
        address = address_here(serving.host)
    except (OSError, ValueError) as error:
        raise PortError(f"{serving.host} is no address of this machine.", field="host") from error
    certificate = certificate_for(serving.folder / "tablets", address)
    door = TabletDoor(app, host=serving.host, port=port, certificate=certificate)
    bench.tablets.door = Door(f"https://{address}:{port}", certificate.fingerprint)
    threading.Thread(target=door.serve, name="door", daemon=True).start()
    print(f"Tablets pair at https://{address}:{port}/  (the code stands in Settings)", flush=True)
    return door


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


def _card(args: argparse.Namespace) -> None:
    from haze.service.cards import commands
    from haze.service.cards.stand_in import StandInBody

    if args.what == "draw":
        sys.stdout.write(commands.drawn(_parsed(commands.CardIn, _text(args.file))))
        return
    if args.photo is None:
        raise BadInputError(f"card {args.what} needs the name of a photo.")
    photo = Path(args.photo)
    if args.what == "simulate":
        asked = {"fault": args.fault, "framed": not args.no_frame, "off": False, "seed": args.seed}
        how = _parsed(StandInBody, json.dumps(asked))
        made = commands.simulated(_parsed(commands.CardIn, _text(args.file)), how)
        _written(photo, lambda file: file.write(made))
        return
    text = _text(args.file) if args.file or not sys.stdin.isatty() else ""
    given = _parsed(commands.CardIn, text) if text.strip() else None
    try:
        data = photo.read_bytes()
    except OSError as error:
        raise BadInputError(f"{photo} cannot be read: {error.strerror}.") from error
    _write(commands.read_given(data, given))


COMPUTING: dict[str, tuple[str, Callable[[argparse.Namespace], None]]] = {
    "assess": (
        "what a spray setting does and what to change; a list gives a list",
        _assess,
    ),
    "recipe": (
        "a setting inside the clean window",
        _compute(setting.RecipeIn, setting.recipe),
    ),
    "window": (
        "the four risks over two knobs, with how sure they are",
        _compute(window.WindowIn, window.opened),
    ),
    "learn": (
        "what trials taught of a paint through a needle, and which trial would teach most",
        _compute(learn.LearnIn, learn.learn),
    ),
    "trouble": (
        "what a symptom comes from at a setting, the one knob to turn, and how to save the piece",
        _compute(trouble.TroubleIn, trouble.trouble),
    ),
    "day": (
        "an order for a day of lanes, cups and drying, with the bound no order beats",
        _compute(asked.DayIn, asked.laid_out),
    ),
    "film": (
        "colour after each coat",
        _compute(film.FilmIn, film.film_colours),
    ),
    "mix": (
        "the mixes of given paints nearest to a colour, in whole drops",
        _compute(mixes.MixIn, mixes.mix),
    ),
    "ladder": (
        "rungs from one colour to another, in whole drops",
        _compute(ladders.LadderIn, ladders.ladder),
    ),
}


def parser() -> argparse.ArgumentParser:
    """All commands and their options."""
    top = argparse.ArgumentParser(prog="haze", description="A planning bench for the airbrush.")
    top.add_argument("--version", action="version", version=f"haze {__version__}")
    commands = top.add_subparsers(required=True, metavar="command")

    def command(name: str, text: str, run: Callable[[argparse.Namespace], None]) -> Any:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    demo = command("demo", "serve the Saltgate demo", _demo)
    demo.add_argument("--port", type=int, default=DEFAULT_PORT)
    demo.add_argument("--data", help="its data folder")
    demo.add_argument("--no-browser", action="store_true")
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
    for name, (text, run) in COMPUTING.items():
        sub = command(name, f"{text}: one JSON object in, one out", run)
        sub.add_argument("--in", dest="file", metavar="FILE", help="instead of standard input")
    scheme = command(
        "scheme", "a whole sequence for asked colours: one JSON object in, one out", _scheme
    )
    scheme.add_argument("--in", dest="file", metavar="FILE", help="instead of standard input")
    card = command("card", "a trial card drawn, its photo read, or one simulated", _card)
    card.add_argument("what", choices=("draw", "read", "simulate"))
    card.add_argument("photo", metavar="PHOTO", nargs="?", help="read, or written by simulate")
    card.add_argument("--in", dest="file", metavar="FILE", help="the trial, instead of stdin")
    card.add_argument("--fault", help="of a simulated photo, such as blurred or glare")
    card.add_argument("--no-frame", action="store_true", help="simulated without cover frame")
    card.add_argument("--seed", type=int, default=1)
    sheet = command("sheet", "the run sheet of a plan", _sheet)
    sheet.add_argument("--data", required=True, help="the data folder")
    sheet.add_argument("--plan", metavar="NAME", help="the plan last changed when not given")
    export = command("export", "a plan, the notebook or the shelf as a file", _export)
    export.add_argument("what", metavar="PLAN", help="a plan's name; notebook, trials or shelf")
    export.add_argument("file", metavar="FILE", help="written whole, an older one is replaced")
    take = command("import", "what a file holds: added, nothing is overwritten", _import)
    take.add_argument("file", metavar="FILE", help="a .haze file, or a shelf as CSV")
    take.add_argument("--look", action="store_true", help="only say what it would add")
    backup = command("backup", "one consistent copy of the database, also while it runs", _backup)
    backup.add_argument("file", metavar="FILE")
    check = command("check", "look at everything the data folder holds", _check)
    check.add_argument("file", metavar="FILE", nargs="?", help="a backup, instead")
    for sub in (export, take, backup, check):
        sub.add_argument("--data", help="the data folder; yours when not given")
    for name, text, run in (
        ("reach", "area of a mesh and the share spray can reach, by part", _reach),
        ("angles", "few stations that paint a light on a mesh", _angles),
    ):
        sub = command(name, text, run)
        sub.add_argument("mesh", metavar="MESH")
        sub.add_argument("--height-mm", type=float, required=True)
        sub.add_argument("--up", choices=UP_AXES, default="z")
        sub.add_argument("--show", choices=SHOW_SIDES)
        if name == "angles":
            sub.add_argument("--light", type=_light, default=(40.0, 45.0), metavar="AZ,EL")
            sub.add_argument("--softness", type=float, default=15.0, metavar="DEG")
            sub.add_argument("--stations", type=int, default=3, metavar="K")
    return top


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; 0 when done, 2 with one sentence on standard error when refused."""
    # one product is small: a second BLAS thread only gets in its way
    threadpool_limits(limits=1, user_api="blas")
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    args = parser().parse_args(arguments)
    try:
        args.run(args)
    except HazeError as error:
        print(f"haze: {error.message}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 1
    return 0
