"""Write the demo meshes that ship with Haze: `make meshes`.

Every mesh comes with a small file that names its parts by the bodies they consist of, and its true
height.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

import fast_simplification
import numpy as np
import trimesh
from numpy.typing import NDArray

from haze.core.mesh.bodies import body_of_vertices
from haze.core.mesh.corners import merge_corners
from haze.formats.meshes import write_ply
from meshes import bust, crawler, stair, warden

FOLDER = Path(__file__).parents[2] / "src" / "haze" / "demo"
Mesh = tuple[NDArray[np.floating], NDArray[np.integer]]


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


def write(stem: str, parts: dict[str, Mesh], *, height_mm: float) -> None:
    """One file of all parts, and the names of their bodies."""
    vertices, faces, owner = [], [], []
    at = 0
    for index, (v, f) in enumerate(parts.values()):
        vertices.append(np.asarray(v, dtype=np.float32))
        faces.append(np.asarray(f, dtype=np.int32) + at)
        owner.append(np.full(len(f), index))
        at += len(v)
    joined = np.concatenate(vertices), np.concatenate(faces)
    (FOLDER / f"{stem}.ply").write_bytes(write_ply(*joined))
    merged, kept, number = merge_corners(joined[0].astype(np.float64), joined[1])
    body = body_of_vertices(kept, number, len(merged))
    part_of_face = np.concatenate(owner)
    named = [
        {
            "name": name,
            "bodies": sorted({int(b) for b in np.unique(body) if part_of_face[b] == index}),
        }
        for index, name in enumerate(parts)
    ]
    text = json.dumps({"height_mm": height_mm, "parts": named}, indent=1)
    (FOLDER / f"{stem}.json").write_text(text + "\n", "utf-8")


def main() -> None:
    """Build and write each mesh."""
    write(
        "warden",
        {
            "Warden": thinned(warden.figure(), 52_000),
            "Base": thinned(warden.base(), 18_000),
            "Lamp": thinned(warden.lamp(), 9_000),
        },
        height_mm=46.0,  # to the ring of the lamp; the man himself is a 32 mm figure
    )
    write(
        "marrow",
        {name: solids(bodies) for name, bodies in crawler.build().items()},
        height_mm=75.0,
    )
    write(
        "lamp-stair",
        {
            "Wall and shore": thinned(stair.groundwork(), 60_000),
            "Beacon": thinned(stair.beacon(), 12_000),
        },
        height_mm=100.0,
    )
    write(
        "herald",
        {"Herald": thinned(bust.bust(), 54_000), "Plinth": thinned(bust.plinth(), 7_000)},
        height_mm=86.0,
    )


if __name__ == "__main__":
    main()
