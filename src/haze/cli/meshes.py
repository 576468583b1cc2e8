"""Commands on a mesh: what spray reaches, and from where to paint a light."""

from __future__ import annotations

import argparse

from haze.cli.shared import Command, read_mesh_file, show_progress, write_json
from haze.core.mesh.frame import SHOW_SIDES, UP_AXES
from haze.service.light import mesh_file


def add(command: Command) -> None:
    """Add them."""
    reach = command("reach", "area of a mesh and the share spray can reach, by part", _reach)
    angles = command("angles", "few stations that paint a light on a mesh", _angles)
    for sub in (reach, angles):
        sub.add_argument("mesh", metavar="MESH")
        sub.add_argument("--height-mm", type=float, required=True)
        sub.add_argument("--up", choices=UP_AXES, default="z")
        sub.add_argument("--show", choices=SHOW_SIDES)
    angles.add_argument("--light", type=_light, default=(40.0, 45.0), metavar="AZ,EL")
    angles.add_argument("--softness", type=float, default=15.0, metavar="DEG")
    angles.add_argument("--stations", type=int, default=3, metavar="K")


def _reach(args: argparse.Namespace) -> None:
    data, name = read_mesh_file(args.mesh)
    write_json(
        mesh_file.reach(
            data,
            name=name,
            height_mm=args.height_mm,
            up=args.up,
            show=args.show,
            progress=show_progress,
        )
    )


def _angles(args: argparse.Namespace) -> None:
    data, name = read_mesh_file(args.mesh)
    write_json(
        mesh_file.angles(
            data,
            name=name,
            height_mm=args.height_mm,
            light=args.light,
            softness_deg=args.softness,
            stations=args.stations,
            up=args.up,
            show=args.show,
            progress=show_progress,
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
