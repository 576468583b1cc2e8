"""The command line: the same core without a browser."""

from __future__ import annotations

import argparse
import logging
import sys
from collections.abc import Sequence

from threadpoolctl import threadpool_limits

from haze import __version__
from haze.cli import cards, computing, files, meshes, serving
from haze.cli.shared import Run
from haze.core.errors import HazeError


def parser() -> argparse.ArgumentParser:
    """All commands and their options."""
    top = argparse.ArgumentParser(prog="haze", description="A planning bench for the airbrush.")
    top.add_argument("--version", action="version", version=f"haze {__version__}")
    commands = top.add_subparsers(required=True, metavar="command")

    def command(name: str, text: str, run: Run) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    for group in (serving, computing, cards, files, meshes):
        group.add(command)
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
