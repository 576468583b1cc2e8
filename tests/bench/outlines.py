"""How well a photo is laid over its plan by the outline of the piece, before walls and on a handle.

    cd tests && python -m bench.outlines [EACH]

Pieces of the demo are photographed from sides near to the one that is said, by a phone held a
little aslant, and from sides that were not said; prints by how much of its size what is seen lies
beside its place. Nothing is asserted.
"""

from __future__ import annotations

import multiprocessing
import sys
import time
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter

from haze.core.inspect.piece.outline import NoOutlineError
from haze.core.inspect.piece.pose import Pose, drawn, in_view
from haze.core.inspect.piece.pose_by_outline import pose_by_outline
from haze.core.inspect.piece.stand_in import piece_photo, pose_from
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.prepare import prepare
from haze.demo.stand_ins import mesh_of

PIECES = ("warden", "strand-rider", "mud-strider", "herald", "diver", "lamp-stair")
WIDE, HIGH = 1600, 1200
SAID = (20.0, 12.0)


@dataclass(frozen=True, slots=True)
class Laid:
    """One photo: whether it was refused, off and told in shares of the piece's size, seconds."""

    kind: str
    refused: bool
    off: float
    told: float
    seconds: float


def uneven(rng: np.random.Generator, fine_px: float) -> np.ndarray:
    """(HIGH, WIDE) of unit spread."""
    found = gaussian_filter(rng.normal(0, 1, (HIGH, WIDE)), fine_px)
    return np.asarray(found / found.std())


def before(photo: np.ndarray, there: np.ndarray, kind: str, rng: np.random.Generator) -> np.ndarray:
    """The piece before an uneven wall, or over a wooden desk on a handle with a base of its own."""
    rough = (9 * uneven(rng, 12) + 6 * uneven(rng, 2))[..., None]
    falls = np.linspace(1.1, 0.7, HIGH)[:, None, None]
    wall = np.array([150, 140, 120]) * falls + rough
    if kind != "wall":
        wall[int(0.72 * HIGH) :] = np.array([110, 80, 55]) + 1.6 * rough[int(0.72 * HIGH) :]
        rows, columns = np.nonzero(there)
        held = np.zeros(there.shape, dtype=np.uint8)
        middle, low, wide = int(columns.mean()), int(rows.max()) - 10, int(np.ptp(columns))
        cv2.ellipse(held, (middle, low), (int(0.28 * wide), 40), 0, 0, 360, 1, -1)
        by = int(0.15 * wide)
        cv2.rectangle(held, (middle - by, low), (middle + by, HIGH), 1, -1)
        wall[held > 0] = (60, 60, 62)
    return np.clip(np.where(there[..., None], photo, wall), 0, 255).astype(np.uint8)


def ring_around(at: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """(9, 2) [px]: places pressed around what is seen, by a hand that is off by 8 px."""
    hull = cv2.convexHull(at.astype(np.float32))[:, 0]
    closed = np.vstack([hull, hull[:1]])
    along = np.append(0, np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1)))
    stops = np.linspace(0, along[-1], 9, endpoint=False)
    places = np.stack([np.interp(stops, along, closed[:, i]) for i in (0, 1)], axis=1)
    middle = hull.mean(axis=0)
    return np.asarray(middle + 1.06 * (places - middle) + rng.normal(0, 8, places.shape))


def photographed(
    mesh: PreparedMesh, kind: str, rng: np.random.Generator
) -> tuple[np.ndarray, Pose]:
    """A photo of a piece and its camera."""
    beside = rng.uniform((-20, -8), (20, 12)) + ((110, 0) if kind == "another side" else (0, 0))
    straight = pose_from(mesh, *(np.array(SAID) + beside), width=WIDE, height=HIGH)
    roll = rng.normal(0, 0.04)
    c, s = np.cos(roll), np.sin(roll)
    lean = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
    focal_px = straight.focal_px * rng.uniform(0.6, 1.0)
    true = Pose(lean @ straight.turn, lean @ straight.shift, focal_px, straight.middle)
    rises = np.ptp(mesh.vertices[:, 2])
    share = ((mesh.vertices[:, 2] - mesh.vertices[:, 2].min()) / rises)[:, None]
    light = ((1 - share) * [0.03, 0.16, 0.16] + share * [0.5, 0.3, 0.12]).astype(np.float32)
    above = (0.55 + 0.45 * mesh.normals[:, 2].clip(-1, 1)).astype(np.float32)
    photo = piece_photo(mesh, light, above, true, rng, width=WIDE, height=HIGH)
    there = drawn(true, mesh, light, width=WIDE, height=HIGH)[..., 3] > 0
    return before(photo, there, "wall" if kind == "wall" else "handle", rng), true


def one(asked: tuple[str, str, int]) -> Laid:
    """A photo laid.

    Parameters
    ----------
    asked : piece, kind of photo, seed
    """
    name, kind, seed = asked
    cv2.setNumThreads(1)
    rng = np.random.default_rng([PIECES.index(name), seed])
    mesh = prepare(mesh_of(name), up="z", show="-y")
    photo, true = photographed(mesh, kind, rng)
    ring = ring_around(true.seen_at(mesh.vertices)[0], rng)
    begun = time.perf_counter()
    try:
        found = pose_by_outline(mesh, photo, ring, azimuth_deg=SAID[0], elevation_deg=SAID[1])
    except NoOutlineError:
        return Laid(kind, True, 0, 0, time.perf_counter() - begun)
    took = time.perf_counter() - begun
    shown = mesh.vertices[in_view(true, mesh, width=WIDE, height=HIGH)]
    apart = np.linalg.norm(true.seen_at(shown)[0] - found.seen_at(shown)[0], axis=1)
    size = float(np.linalg.norm(np.ptp(true.seen_at(mesh.vertices)[0], axis=0)))
    off = float(np.sqrt(np.mean(apart**2))) / size
    return Laid(kind, False, off, found.off_px / size, took)


def main(each: int) -> None:
    """All of it.

    Parameters
    ----------
    each : photos of every piece and kind
    """
    kinds = ("wall", "handle", "another side")
    asked = [(name, kind, seed) for kind in kinds for name in PIECES for seed in range(each)]
    with multiprocessing.get_context("forkserver").Pool(2) as pool:
        laid = pool.map(one, asked, chunksize=1)
    for kind in kinds:
        of = [x for x in laid if x.kind == kind]
        kept = [x for x in of if not x.refused]
        print(f"{kind}: {len(of)} photos, refused {len(of) - len(kept)}")
        if kept:
            off = np.array([x.off for x in kept])
            told = np.mean([x.told > 0.6 * x.off for x in kept])
            shares = " ".join(f"{v:.2%}" for v in np.quantile(off, [0.5, 0.9, 1.0]))
            took = np.median([x.seconds for x in kept])
            print(f"  beside, middle, nine of ten, most: {shares}; {took:.1f} s")
            print(f"  told at least .6 of what it is: {told:.0%}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 5)
