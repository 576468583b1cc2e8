"""The command for trial cards: drawn, read, simulated."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from haze.cli.shared import Command, parsed, read_text, write_json, write_whole
from haze.core.errors import BadInputError


def add(command: Command) -> None:
    """Add it."""
    card = command("card", "a trial card drawn, its photo read, or one simulated", _card)
    card.add_argument("what", choices=("draw", "read", "simulate"))
    card.add_argument("photo", metavar="PHOTO", nargs="?", help="read, or written by simulate")
    card.add_argument("--in", dest="file", metavar="FILE", help="the trial, instead of stdin")
    card.add_argument("--fault", help="of a simulated photo, such as blurred or glare")
    card.add_argument("--no-frame", action="store_true", help="simulated without cover frame")
    card.add_argument("--seed", type=int, default=1)


def _card(args: argparse.Namespace) -> None:
    from haze.service.cards import commands
    from haze.service.cards.stand_in import StandInBody

    if args.what == "draw":
        sys.stdout.write(commands.drawn(parsed(commands.CardIn, read_text(args.file))))
        return
    if args.photo is None:
        raise BadInputError(f"card {args.what} needs the name of a photo.")
    photo = Path(args.photo)
    if args.what == "simulate":
        asked = {"fault": args.fault, "framed": not args.no_frame, "off": False, "seed": args.seed}
        how = parsed(StandInBody, json.dumps(asked))
        made = commands.simulated(parsed(commands.CardIn, read_text(args.file)), how)
        write_whole(photo, lambda file: file.write(made))
        return
    text = read_text(args.file) if args.file or not sys.stdin.isatty() else ""
    given = parsed(commands.CardIn, text) if text.strip() else None
    try:
        data = photo.read_bytes()
    except OSError as error:
        raise BadInputError(f"{photo} cannot be read: {error.strerror}.") from error
    write_json(commands.read_given(data, given))
