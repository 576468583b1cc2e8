"""From where a photo was taken, by the outline of the piece on it.

The rim of the piece, as a camera sees it, is laid on the outline that was found on the photo: each
place of one belongs to the nearest of the other, and only what they are off across the edge counts
(Chen and Medioni, Object modelling by registration of multiple range images, 1992), in a few
Gauss-Newton steps, the rim drawn again for each. What differs for good, a stand or a hand, counts
for nothing (biweight: Beaton and Tukey, The fitting of power series, 1974).
"""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from itertools import product

import numpy as np
from scipy.spatial import KDTree
from scipy.spatial.transform import Rotation

from haze.core.arrays import Array, Bytes
from haze.core.inspect.piece.outline import WORK_PX, NoOutlineError, near_to, ringed
from haze.core.inspect.piece.pose import USUAL_FOCAL, Pose
from haze.core.inspect.piece.rim import Rims
from haze.core.mesh.mesh import PreparedMesh

TURNS, TILTS = (0.0, -18.0, 18.0, -36.0, 36.0), (0.0, -14.0, 14.0)  # ° beside the side shown
ROUGH_CELLS, FINE_CELLS = 90, 260  # over the piece, on which its rim is found
ROUGH_STEPS, FINE_STEPS = 7, 14
# shares of the piece's size on the photo
FAR, NEARER, NEAR = 0.12, 0.036, 0.012  # what is farther off counts nothing: first, then, last
BANDS = (0.06, 0.03)  # beside where it is thought to be, its edge is looked for again
SMOOTH = 5  # places along an edge, against the stairs of its pixels
TOGETHER = 0.05  # along its edge an outline is off alike (judged)
LEAST_OFF = 0.002  # an edge on a photo is no surer (judged)
ON_IT = 0.006
MET, SURELY_MET = 0.75, 0.85  # of rim and outline lie on each other, or it is another side
ALIKE_DEG, ALIKE = 12.0, 0.85  # turned on its stand so far, as much is met
TRIED = 3  # of the rough ones
PLACES = 400  # of the outline
# how far a photo may be from what was said of it: turn about its own axes (tilt, round, roll) [rad]
# and the logarithm of its focal length (judged)
SURE = np.array([0.3, 0.4, 0.12, 0.5])
SAID = [0, 1, 2, 6]  # of what is solved for: turn (3), shift over distance (3), ln of focal length
SAID_COUNTS = 0.005  # beside what edges are apart, where starts are chosen
MOST_STEP = 0.3
NOT_THAT = (
    "The outline on the photo is not that of the piece from about this side. Turn the plan till it "
    "looks as on the photo, mark the ring nearer to the piece, or mark points instead."
)


@dataclass(frozen=True, slots=True, eq=False)
class OutlineEdge:
    """An outline on a photo.

    Attributes
    ----------
    at : (n, 2) float [px]
    across : (n, 2) float, unit vectors across it there
    length : float [px], of all of it
    tree : of `at`
    """

    at: Array
    across: Array
    length: float
    tree: KDTree

    @property
    def size(self) -> float:
        """Diagonal of what it fills [px]."""
        return float(np.linalg.norm(np.ptp(self.at, axis=0)))


def edge_of(outline: list[Array]) -> OutlineEdge:
    """Places along an outline, spread evenly.

    Parameters
    ----------
    outline : (n, 2) float [px] each, closed lines
    """
    at, across, length = [], [], 0.0
    step = max(1, sum(len(line) for line in outline) // PLACES)
    for line in outline:
        even = np.mean([np.roll(line, k - SMOOTH // 2, axis=0) for k in range(SMOOTH)], axis=0)
        along = np.roll(even, -2, axis=0) - np.roll(even, 2, axis=0)
        length += float(np.linalg.norm(even - np.roll(even, 1, axis=0), axis=1).sum())
        at.append(even[::step])
        across.append(np.stack([along[:, 1], -along[:, 0]], axis=1)[::step])
    places, normal = np.concatenate(at), np.concatenate(across)
    normal = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-9)
    return OutlineEdge(places, normal, length, KDTree(places))


@dataclass(frozen=True, slots=True, eq=False)
class _Pairs:
    """Places of the piece (n, 3) on its edge: across it, off across it, apart from it [px]."""

    points: Array
    across: Array
    off: Array
    apart: Array


@dataclass(frozen=True, slots=True, eq=False)
class _Laid:
    """A piece laid on an outline, and the turn (3, 3) that was said of it."""

    rims: Rims
    edge: OutlineEdge
    said: Array
    focal_px: float

    def pairs(self, pose: Pose, cells: int) -> _Pairs:
        points, seen = self.rims.rim(pose, cells)
        if not len(seen):
            raise NoOutlineError(NOT_THAT, field="ring")
        apart, nearest = self.edge.tree.query(seen)
        back, mine = KDTree(seen).query(self.edge.at)
        across = np.concatenate([self.edge.across[nearest], self.edge.across])
        off = np.concatenate([seen - self.edge.at[nearest], seen[mine] - self.edge.at])
        return _Pairs(
            np.concatenate([points, points[mine]]),
            across,
            np.sum(off * across, axis=1),
            np.concatenate([apart, back]),
        )

    def cost(self, pose: Pose, cells: int) -> float:
        """How badly both edges lie on each other."""
        apart = self.pairs(pose, cells).apart / (NEARER * self.edge.size)
        beside = SAID_COUNTS * np.sum(self.beside(pose) ** 2)
        return float(np.mean(np.minimum(apart, 1) ** 2) + beside)

    def beside(self, pose: Pose) -> Array:
        """(4,) how far a camera is from what was said of it, in what that may be off."""
        turned = Rotation.from_matrix(pose.turn @ self.said.T).as_rotvec()
        return np.asarray([*turned, np.log(pose.focal_px / self.focal_px)] / SURE)

    def slopes(self, pose: Pose, points: Array, across: Array) -> Array:
        """(n, 7) how far [px] places move across the edge by turn, shift and focal length."""
        turned, lies = self.rims.held(pose, points)
        held = turned + lies
        flat = np.sum(across * held[:, :2], axis=1) / held[:, 2]
        by = pose.focal_px / held[:, 2:]
        toward = by * np.column_stack([across, -flat])
        return np.column_stack(
            [np.cross(turned, toward), toward * lies[2], pose.focal_px * flat],
        )

    def normal(self, pose: Pose, pairs: _Pairs, gate: float) -> tuple[Array, Array]:
        """(7, 7) and (7,) normal equations of a step, where only places nearer than a gate count.

        Neighbours along the edge are off alike: all of them count as `TOGETHER` says.
        """
        nearer = np.minimum(pairs.apart / (gate * self.edge.size), 1)
        weight = (1 - nearer**2) ** 2
        weight = weight / max(weight.sum(), 1e-9)
        noise = max(np.sqrt(np.sum(weight * pairs.off**2)), LEAST_OFF * self.edge.size)
        weight = weight * self.edge.length / (TOGETHER * self.edge.size) / noise**2
        slope = self.slopes(pose, pairs.points, pairs.across)
        info = np.eye(7) + slope.T @ (slope * weight[:, None])
        pull = slope.T @ (weight * pairs.off)
        info[SAID, SAID] += 1 / SURE**2
        pull[SAID] += self.beside(pose) / SURE
        return info, pull

    def steps(self, pose: Pose, cells: int, count: int, *, first: float, last: float) -> Pose:
        """A camera after some steps, the gate closing."""
        for gate in np.geomspace(first, last, count):
            info, pull = self.normal(pose, self.pairs(pose, cells), gate)
            step = -np.linalg.solve(info, pull)
            step = step / max(1.0, np.abs(step).max() / MOST_STEP)
            _, lies = self.rims.held(pose, self.rims.corners)
            turn = Rotation.from_rotvec(step[:3]).as_matrix() @ pose.turn
            pose = self.rims.posed(
                turn, lies + step[3:6] * lies[2], pose.focal_px * float(np.exp(step[6]))
            )
        return pose

    def met(self, pose: Pose) -> float:
        """How much of rim and outline lie on each other."""
        on = self.pairs(pose, FINE_CELLS).apart < ON_IT * self.edge.size
        count = len(self.edge.at)
        return float(on[:-count].mean() + on[-count:].mean()) / 2

    def looks_alike(self, pose: Pose, met: float) -> bool:
        """Whether as much is met when the piece is turned on its stand."""
        _, lies = self.rims.held(pose, self.rims.corners)
        other = [
            self.rims.posed(
                pose.turn @ Rotation.from_euler("z", way, degrees=True).as_matrix(),
                lies,
                pose.focal_px,
            )
            for way in (-ALIKE_DEG, ALIKE_DEG)
        ]
        return min(self.met(one) for one in other) > ALIKE * met

    def off_px(self, pose: Pose) -> float:
        """How far [px] what is seen may lie beside its place, by how the edges lie."""
        spread = np.linalg.inv(self.normal(pose, self.pairs(pose, FINE_CELLS), 2 * NEAR)[0])
        every = max(1, len(self.rims.mesh.vertices) // PLACES)
        some = self.rims.mesh.vertices[::every].astype(np.float64)
        ways = [self.slopes(pose, some, np.broadcast_to(w, (len(some), 2))) for w in np.eye(2)]
        by = [np.einsum("ni,ij,nj->n", way, spread, way) for way in ways]
        return float(np.sqrt(np.mean(by[0] + by[1])))


def pose_by_outline(
    mesh: PreparedMesh, photo: Bytes, ring: Array, *, azimuth_deg: float, elevation_deg: float
) -> Pose:
    """The camera that sees the piece as it lies on a photo, by its edge inside a ring.

    `off_px` of it is how far what is seen may be off, from how well the edges lie on each other.

    Parameters
    ----------
    mesh : of the piece, prepared
    photo : (h, w, 3) uint8, encoded sRGB
    ring : (k, 2) float [px], marked around the piece, in order
    azimuth_deg, elevation_deg : float [°], from about where the photo was taken

    Raises
    ------
    NoOutlineError where no edge is clear, none of the sides near to that one looks like it, or the
    outline alone does not tell which it is
    """
    high, wide = photo.shape[:2]
    rims = Rims(mesh, width=wide, height=high)
    edge, focal_px = edge_of(ringed(photo, ring)), USUAL_FOCAL * max(wide, high)

    def start(turn: float, tilt: float) -> Pose:
        box = edge.at.min(axis=0), edge.at.max(axis=0)
        return rims.filling(
            *box, azimuth_deg + turn, float(np.clip(elevation_deg + tilt, -85, 85)), focal_px
        )

    laid = _Laid(rims, edge, start(0, 0).turn, focal_px)
    rough = []
    for turn, tilt in product(TURNS, TILTS):
        with suppress(NoOutlineError):
            pose = laid.steps(start(turn, tilt), ROUGH_CELLS, ROUGH_STEPS, first=FAR, last=NEARER)
            rough.append((laid.cost(pose, ROUGH_CELLS), pose))
    tried = []
    for _, pose in sorted(rough, key=lambda one: one[0])[:TRIED]:
        with suppress(NoOutlineError):
            tried.append(_finer(photo, laid, pose))
            if tried[-1][2] >= SURELY_MET:
                break
    likeliest = max(tried, key=lambda one: one[2], default=None)
    if likeliest is None or likeliest[2] < MET:
        raise NoOutlineError(NOT_THAT, field="ring")
    laid, best, met = likeliest
    if laid.looks_alike(best, met):
        raise NoOutlineError(
            "The outline alone does not tell from which side the photo was taken: the piece looks "
            "alike from several. Mark points instead.",
            field="ring",
        )
    return replace(best, off_px=laid.off_px(best))


def _finer(photo: Bytes, laid: _Laid, pose: Pose) -> tuple[_Laid, Pose, float]:
    """A camera after its edge was looked for near to where it has the piece; how much is met."""
    for band in BANDS:
        beside = band * laid.edge.size / max(photo.shape[:2])
        found = near_to(photo, laid.rims.silhouette(pose, WORK_PX), beside)
        laid = replace(laid, edge=edge_of(found))
        pose = laid.steps(pose, FINE_CELLS, FINE_STEPS, first=band, last=NEAR)
    return laid, pose, laid.met(pose)
