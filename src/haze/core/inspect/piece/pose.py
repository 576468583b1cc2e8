"""From where a photo was taken: a pinhole camera found from a few points seen on piece and photo.

Its place and turn are solved from points for many focal lengths (SQPnP: Terzakis and Lourakis, A
consistently fast and globally optimal solution to the perspective-n-point problem, 2020) and
refined (Levenberg–Marquardt); the focal length whose points agree best is kept.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.directions import facing
from haze.core.errors import HazeError
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scale import DIAGONAL
from haze.core.mesh.scene import between, origins_of, scene_of

LEAST_POINTS, MOST_POINTS = 4, 12
CHECKED_FROM = 6  # fewer leave little check on each other
FOCALS = np.geomspace(0.55, 6.0, 25)  # of the photo's longer side: wide lens to long one
USUAL_FOCAL, UNUSUAL = 1.6, 0.0015  # of a phone drawn near a little; cost of being far from it
MOST_OFF = 0.05  # of the piece's size on the photo
LEAST_FACING = 0.3  # cosine to the camera: more aslant a value cannot be read


class NoPoseError(HazeError):
    """The points do not belong together."""

    code = "no_pose"


@dataclass(frozen=True, slots=True, eq=False)
class Pose:
    """A camera: x = turn · p + shift, seen at middle + focal_px · (x₀, x₁) / x₂.

    Attributes
    ----------
    turn : (3, 3) float, orthonormal
    shift : (3,) float, in units of the prepared mesh
    focal_px : float [px]
    middle : (2,) float [px], of the photo
    off_px : float [px], root mean square by which the points miss
    """

    turn: Array
    shift: Array
    focal_px: float
    middle: Array
    off_px: float = 0.0

    @property
    def eye(self) -> Array:
        """(3,) where the camera stands, in units of the prepared mesh."""
        return np.asarray(-self.turn.T @ self.shift)

    def seen_at(self, points: Array | Floats) -> tuple[Array, Array]:
        """(n, 2) [px] where points are on the photo, and (n,) how far before the camera.

        Parameters
        ----------
        points : (n, 3), in units of the prepared mesh
        """
        held = points @ self.turn.T + self.shift
        depth = held[:, 2]
        return self.middle + self.focal_px * held[:, :2] / np.maximum(depth, 1e-6)[:, None], depth

    def rays(self, px: Array) -> tuple[Floats, Floats]:
        """(n, 3) origins and directions of rays through places of the photo.

        Parameters
        ----------
        px : (n, 2) float [px]
        """
        ways = np.column_stack([(px - self.middle) / self.focal_px, np.ones(len(px))]) @ self.turn
        ways = (ways / np.linalg.norm(ways, axis=1, keepdims=True)).astype(np.float32)
        return np.broadcast_to(self.eye, ways.shape).astype(np.float32), ways


def turn_from(azimuth_deg: float, elevation_deg: float) -> Array:
    """(3, 3) turn of an upright camera that looks at the piece from a side.

    Parameters
    ----------
    azimuth_deg, elevation_deg : float [°], where it stands
    """
    toward, right, up = facing(azimuth_deg, elevation_deg)
    return np.stack([right, -up, -toward])


def pose_of(points: Array, seen: Array, *, width: int, height: int) -> Pose:
    """The camera that sees points of the piece where they were marked on the photo.

    Parameters
    ----------
    points : (n, 3), on the piece, in units of the prepared mesh
    seen : (n, 2) [px], the same on the photo
    width, height : int [px], of the photo

    Raises
    ------
    NoPoseError for fewer than four points, for such as lie together, and for such as disagree
    """
    if len(points) < LEAST_POINTS:
        raise NoPoseError(
            f"Mark at least {LEAST_POINTS} points on the piece and on the photo; there are "
            f"{len(points)}.",
            field="points",
        )
    size = float(np.linalg.norm(np.ptp(seen, axis=0)))
    if np.linalg.norm(np.ptp(points, axis=0)) < 0.1 * DIAGONAL or size < 20:
        raise NoPoseError(
            "The points lie too near to each other; spread them over the piece.", field="points"
        )
    long_px = max(width, height)
    middle = np.array([width / 2, height / 2])
    found = [_solved(points, seen, f * long_px, middle) for f in FOCALS]
    far = UNUSUAL * np.log(FOCALS / USUAL_FOCAL) ** 2 * size
    costs = [np.inf if p is None else p.off_px + c for p, c in zip(found, far, strict=True)]
    best = found[int(np.argmin(costs))]
    if best is None or best.off_px > MOST_OFF * size:
        raise NoPoseError(
            "The points disagree: one of them is at another place on the photo than on the piece. "
            "Mark them again, on edges and tips that are clear in both.",
            field="points",
        )
    return best


def _solved(points: Array, seen: Array, focal_px: float, middle: Array) -> Pose | None:
    import cv2  # late: the program starts without it

    camera = np.array([[focal_px, 0, middle[0]], [0, focal_px, middle[1]], [0, 0, 1]], dtype=float)
    there, here = np.asarray(points, dtype=float), np.asarray(seen, dtype=float)
    good, turned, shift = cv2.solvePnP(there, here, camera, None, flags=cv2.SOLVEPNP_SQPNP)
    if not good:
        return None
    turned, shift = cv2.solvePnPRefineLM(there, here, camera, None, turned, shift)
    turn = np.asarray(cv2.Rodrigues(turned)[0], dtype=float)
    pose = Pose(turn, np.asarray(shift, dtype=float).ravel(), focal_px, middle)
    at, depth = pose.seen_at(there)
    if not np.isfinite(at).all() or (depth <= 0).any():
        return None
    off = float(np.sqrt(np.mean(np.sum((at - here) ** 2, axis=1))))
    return Pose(pose.turn, pose.shift, focal_px, middle, off)


def in_view(pose: Pose, mesh: PreparedMesh, *, width: int, height: int) -> Mask:
    """(n,) bool: vertices that the photo shows, not too aslant to be read.

    Parameters
    ----------
    pose : of the camera
    mesh : of the piece, prepared
    width, height : int [px], of the photo
    """
    to_eye = pose.eye - mesh.vertices
    away = np.linalg.norm(to_eye, axis=1)
    toward = (to_eye / away[:, None]).astype(np.float32)
    at, depth = pose.seen_at(mesh.vertices)
    inside = (depth > 0) & (at >= 0).all(axis=1) & (at[:, 0] < width) & (at[:, 1] < height)
    facing = np.einsum("ij,ij->i", toward, mesh.normals) >= LEAST_FACING
    shown = np.flatnonzero(inside & facing)
    free = ~scene_of(mesh).blocked(
        origins_of(mesh)[shown], toward[shown], within=away[shown].astype(np.float32)
    )
    out = np.zeros(len(mesh.vertices), dtype=bool)
    out[shown[free]] = True
    return out


def drawn(pose: Pose, mesh: PreparedMesh, light: Floats, *, width: int, height: int) -> Floats:
    """(h, w, 4) float32: linear light of the piece as the camera sees it, and where it is.

    Parameters
    ----------
    pose : of the camera
    mesh : of the piece, prepared
    light : (n, 3) float32, linear sRGB a vertex
    width, height : int [px], of the photo
    """
    x, y = np.meshgrid(np.arange(width) + 0.5, np.arange(height) + 0.5)
    rays = pose.rays(np.stack([x, y], axis=-1).reshape(-1, 2))
    face, u, v = scene_of(mesh).met(*rays)
    met = face >= 0
    out = np.zeros((height * width, 4), dtype=np.float32)
    out[met, :3] = between(mesh, light, (face[met], u[met], v[met]))
    out[met, 3] = 1
    return out.reshape(height, width, 4)
