"""Commands on a data folder: run sheet, files in and out, backup and check."""

from __future__ import annotations

import argparse
from pathlib import Path

from haze.cli.shared import Command, data_folder, open_bench, show_progress, write_json, write_whole
from haze.core.errors import BadInputError
from haze.store import lock

TABLES = {"notebook": (".haze", ".csv", ".json"), "trials": (".csv",), "shelf": (".csv",)}


def add(command: Command) -> None:
    """Add them."""
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


def _report(done: float, _: str) -> bool:
    """The share done, without what is being done."""
    return show_progress(done)


def _sheet(args: argparse.Namespace) -> None:
    from haze.service.plan.plans import plan_named
    from haze.service.plan.run_sheet import sheet_of

    bench = open_bench(args)
    try:
        plan = plan_named(bench.db, args.plan)
        bench.cache.make(plan.piece, _report)
        write_json(sheet_of(plan, bench.on(plan)))
    finally:
        bench.close()


def _export(args: argparse.Namespace) -> None:
    from haze.service.files import written
    from haze.service.plan.plans import id_named
    from haze.service.shelf.files import export_csv

    bench = open_bench(args)
    target = Path(args.file)
    try:
        kind = target.suffix.lower()
        if args.what in TABLES:
            if kind not in TABLES[args.what]:
                accepted = " or ".join(TABLES[args.what])
                raise BadInputError(f"{target.name}: {args.what} is written as {accepted}.")
            if args.what == "notebook" and kind == ".haze":
                write_whole(target, lambda file: written.write_notebook(bench.db, file))
                return
            make = {
                ("notebook", ".csv"): written.sessions_csv,
                ("notebook", ".json"): written.notebook_json,
                ("trials", ".csv"): written.trials_csv,
                ("shelf", ".csv"): export_csv,
            }[args.what, kind]
            write_whole(target, lambda file: file.write(make(bench.db)))
            return
        identity = id_named(bench.db, args.what)
        write_whole(target, lambda f: written.write_plan(bench.db, identity, f, bench.pictured))
    finally:
        bench.close()


def _import(args: argparse.Namespace) -> None:
    from haze.service.files import looked, taken
    from haze.service.shelf.files import import_csv

    path = Path(args.file)
    if not path.is_file():
        raise BadInputError(f"{path} cannot be read: give a .haze file, or a shelf as CSV.")
    bench = open_bench(args, made=not args.look)
    try:
        with path.open("rb") as file, lock.held(bench.folder):
            if path.suffix.lower() == ".csv":
                write_json(import_csv(bench.db, file.read(), apply=not args.look))
                return
            token = looked.keep(bench.incoming, file)
            try:
                look = looked.look(bench.db, bench.incoming, token)
                if args.look:
                    write_json(look)
                    return
                body = taken.TakeBody(token=token)
                write_json(taken.take_in(bench.db, bench.incoming, body, _report))
            finally:
                looked.let_go(bench.incoming, token)
    except OSError as error:
        raise BadInputError(f"{path} cannot be read: {error.strerror}.") from error
    finally:
        bench.close()


def _backup(args: argparse.Namespace) -> None:
    from haze.service.files import upkeep

    bench = open_bench(args)
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
    write_json(found)
    if not found.ok:
        raise BadInputError(found.faults[0])
