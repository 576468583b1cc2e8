"""Write the demo meshes that ship with Haze: `make meshes`.

Every mesh comes with a small file that names its parts by the bodies they consist of, its true
height, and a picture.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

import fast_simplification
import numpy as np
import trimesh
from PIL import Image

from haze.core.film.looks import encode_bytes
from haze.core.light.picture import shot_of
from haze.core.light.stations import Station, ambient, deposit
from haze.core.light.visibility import visibility_table
from haze.core.mesh.bodies import body_of_vertices
from haze.core.mesh.corners import merge_corners
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare
from haze.demo.stand_ins import SHIPPED
from haze.formats.compact import read_compact, write_compact
from meshes import beasts, bust, crawler, machines, stair, troops, warden
from meshes.solid import Mesh

FOLDER = Path(__file__).parents[2] / "src" / "haze" / "demo" / "pieces"
PICTURE_PX = 300
PICTURE_LIGHT = Station(40, 45, 16)


def thinned(mesh: Mesh, faces: int) -> Mesh:
    """A mesh with about this many faces."""
    vertices, triangles = mesh
    share = max(0.0, 1.0 - faces / len(triangles))
    v, f = fast_simplification.simplify(
        vertices.astype(np.float32), triangles.astype(np.int32), target_reduction=share
    )
    return v, f


def solids(bodies: Sequence[trimesh.Trimesh]) -> Mesh:
    """Several closed solids as one mesh."""
    joined = trimesh.util.concatenate(list(bodies))
    return np.asarray(joined.vertices), np.asarray(joined.faces)


def write(stem: str, parts: dict[str, Mesh], *, height_mm: float | None) -> None:
    """One file of all parts, and the names of their bodies."""
    vertices, faces, owner = [], [], []
    at = 0
    for index, (v, f) in enumerate(parts.values()):
        vertices.append(np.asarray(v, dtype=np.float32))
        faces.append(np.asarray(f, dtype=np.int32) + at)
        owner.append(np.full(len(f), index))
        at += len(v)
    data = write_compact(np.concatenate(vertices), np.concatenate(faces))
    (FOLDER / f"{stem}.npz").write_bytes(data)
    raw = read_compact(data)
    draw(stem, raw)
    merged, kept, number = merge_corners(raw.vertices, raw.faces)
    body = body_of_vertices(kept, number, len(merged))
    part_of_face = np.concatenate(owner)
    named = [
        {
            "name": name,
            "bodies": sorted({int(b) for b in np.unique(body) if part_of_face[b] == index}),
        }
        for index, name in enumerate(parts)
    ]
    tall = height_mm or round(float(np.ptp(raw.vertices[:, 2])), 1)
    text = json.dumps({"height_mm": tall, "parts": named}, indent=1)
    (FOLDER / f"{stem}.json").write_text(text + "\n", "utf-8")


def draw(stem: str, raw: RawMesh) -> None:
    """A picture of a piece, dark all over and light from the left shoulder."""
    mesh = prepare(raw, up="z", show="-y")
    table = visibility_table(mesh)
    light = 0.05 + 0.95 * deposit(table, PICTURE_LIGHT)
    grey = encode_bytes(
        np.broadcast_to(0.02 + 0.82 * light * ambient(table) ** 0.5, (3, len(mesh.vertices)))
    )
    shot = shot_of(mesh, width=PICTURE_PX, height=PICTURE_PX, azimuth_deg=22, supersample=3)
    image = shot.coloured(grey)
    Image.fromarray(image).save(FOLDER / f"{stem}.webp", quality=82, method=6)


BUILT: dict[str, tuple[float | None, Callable[[], dict[str, Mesh]]]] = {
    "warden": (
        46.0,  # to the ring of the lamp; the man himself is a 32 mm figure
        lambda: {
            "Warden": thinned(warden.figure(), 52_000),
            "Base": thinned(warden.base(), 18_000),
            "Lamp": thinned(warden.lamp(), 9_000),
        },
    ),
    "marrow": (
        75.0,
        lambda: {name: solids(bodies) for name, bodies in crawler.build().items()},
    ),
    "lamp-stair": (
        100.0,
        lambda: {
            "Wall and shore": thinned(stair.groundwork(), 60_000),
            "Beacon": thinned(stair.beacon(), 12_000),
        },
    ),
    "herald": (
        86.0,
        lambda: {"Herald": thinned(bust.bust(), 54_000), "Plinth": thinned(bust.plinth(), 7_000)},
    ),
    "diver": (
        None,
        lambda: {
            "Diver": thinned(troops.trooper(), 50_000),
            "Pack": thinned(troops.pack(), 14_000),
            "Long gun": thinned(troops.long_gun(), 10_000),
            "Base": thinned(troops.trooper_base(), 12_000),
        },
    ),
    "breakwater": (
        None,
        lambda: {
            "Guard": thinned(troops.guard(), 44_000),
            "Cloak": thinned(troops.cloak(), 18_000),
            "Shield": thinned(troops.shield(), 12_000),
            "Base": thinned(troops.guard_base(), 12_000),
        },
    ),
    "strand-rider": (
        None,
        lambda: {
            "Rider": thinned(beasts.rider(), 30_000),
            "Horse": thinned(beasts.mount(), 34_000),
            "Lance": thinned(beasts.lance(), 8_000),
            "Base": thinned(beasts.strand(), 8_000),
        },
    ),
    "cliff-wing": (
        None,
        lambda: {
            "Beast": thinned(beasts.winged(), 50_000),
            "Near wing": thinned(beasts.wing(-1.0), 14_000),
            "Far wing": thinned(beasts.wing(1.0), 14_000),
            "Rock": thinned(beasts.winged_rock(), 10_000),
        },
    ),
    "silt-back": (
        None,
        lambda: {
            "Beast": thinned(beasts.crawler_beast(), 66_000),
            "Base": thinned(beasts.crawler_ground(), 12_000),
        },
    ),
    "mud-strider": (
        None,
        lambda: {
            "Cab": solids(machines.walker_cab()),
            "Legs": solids(machines.walker_legs()),
            "Arms": solids(machines.walker_arms()),
            "Base": thinned(machines.walker_base(), 12_000),
        },
    ),
    "salt-car": (
        None,
        lambda: {
            "Body": solids(machines.car_body()),
            "Running gear": solids(machines.car_gear()),
            "Track": solids(machines.car_track()),
            "Ballast": thinned(machines.car_ballast(), 24_000),
        },
    ),
    "cracked-shore": (
        None,
        lambda: {
            "Shore": thinned(machines.shore(), 66_000),
            "Pool": thinned(machines.pool(), 5_000),
        },
    ),
}
SOLIDS = tuple(identity for identity, shipped in SHIPPED.items() if shipped.solid)


def main(wanted: Sequence[str]) -> None:
    """Build and write each mesh, or those that are named."""
    for stem, (height_mm, make) in BUILT.items():
        if wanted and stem not in wanted:
            continue
        write(stem, make(), height_mm=height_mm)
    for identity in SOLIDS:
        solid = SHIPPED[identity].solid
        assert solid
        made = solid()
        draw(identity, RawMesh(np.asarray(made.vertices), np.asarray(made.faces, dtype=np.int32)))


if __name__ == "__main__":
    main(sys.argv[1:])
