"""Commands that compute: one JSON object in, one out."""

from __future__ import annotations

import argparse
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel

from haze.cli.shared import (
    Command,
    Run,
    parsed,
    read_mesh_file,
    read_text,
    show_progress,
    write_json,
)
from haze.service.colour import film, ladders, mixes
from haze.service.cups import learn, setting, trouble, window
from haze.service.day import asked

M = TypeVar("M", bound=BaseModel)


def add(command: Command) -> None:
    """Add them."""
    for name, (text, run) in COMPUTING.items():
        sub = command(name, f"{text}: one JSON object in, one out", run)
        sub.add_argument("--in", dest="file", metavar="FILE", help="instead of standard input")


def _compute(model: type[M], work: Callable[[M], BaseModel]) -> Run:
    def run(args: argparse.Namespace) -> None:
        write_json(work(parsed(model, read_text(args.file))))

    return run


def _assess(args: argparse.Namespace) -> None:
    text = read_text(args.file)
    if text.lstrip().startswith("["):
        write_json(setting.assess_many(parsed(setting.AssessManyIn, text)))
    else:
        write_json(setting.assess(parsed(setting.AssessIn, text)))


def _scheme(args: argparse.Namespace) -> None:
    from haze.demo import saltgate
    from haze.demo.stand_ins import stand_in
    from haze.service.bench import Bench
    from haze.service.piece.meshes import add_mesh
    from haze.service.plan.scheme import SchemeIn, scheme, shelf_given
    from haze.service.plan.start import NewPlan, start

    given = parsed(SchemeIn, read_text(args.file))
    with tempfile.TemporaryDirectory() as folder:
        bench = Bench(Path(folder))
        try:
            if given.stand_in is not None:
                piece = stand_in(bench.db, given.stand_in)
                mesh, height = piece.mesh.id, given.height_mm or piece.height_mm
            else:
                data, name = read_mesh_file(given.mesh or "")
                mesh, height = add_mesh(bench.db, data, name=name).id, given.height_mm or 0.0
            saltgate.load_shelf(bench.db)
            view = start(bench.db, NewPlan(mesh=mesh, name="Scheme", height_mm=height, up=given.up))
            bench.cache.make(view.plan.piece, lambda done, _: show_progress(done))
            shelf = bench.shelf() if given.paints is None else shelf_given(given.paints)
            write_json(scheme(given, view.plan, bench.on(view.plan), shelf))
        finally:
            bench.close()


COMPUTING: dict[str, tuple[str, Run]] = {
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
    "scheme": ("a whole sequence for asked colours", _scheme),
}
