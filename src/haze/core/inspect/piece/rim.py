"""The rim of a piece as a camera sees it, and where it lies on the photo."""

from __future__ import annotations

import numpy as np
from scipy.spatial import ConvexHull

from haze.core.arrays import Array, Mask
from haze.core.inspect.piece.pose import Pose, turn_from
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import between, scene_of

AROUND = 2  # cells about the piece on the picture its rim is found on


class Rims:
    """A piece whose rim is drawn again and again.

    Parameters
    ----------
    mesh : of the piece, prepared
    width, height : int [px], of the photo
    """

    def __init__(self, mesh: PreparedMesh, *, width: int, height: int) -> None:
        self.mesh, self.width, self.height = mesh, width, height
        self.middle = np.array([width / 2, height / 2])
        self.corners = mesh.vertices[ConvexHull(mesh.vertices).vertices].astype(np.float64)
        self.about = (self.corners.min(axis=0) + self.corners.max(axis=0)) / 2
        self._scene = scene_of(mesh)

    def held(self, pose: Pose, points: Array) -> tuple[Array, Array]:
        """(n, 3) points turned about the middle of the piece, (3,) where that lies, as a camera
        has them.

        Parameters
        ----------
        pose : of the camera
        points : (n, 3), in units of the prepared mesh
        """
        return (points - self.about) @ pose.turn.T, pose.turn @ self.about + pose.shift

    def posed(self, turn: Array, lies: Array, focal_px: float) -> Pose:
        """A camera by how it turns the piece and where it has the piece's middle.

        Parameters
        ----------
        turn : (3, 3)
        lies : (3,), in units of the prepared mesh
        focal_px : float [px]
        """
        return Pose(turn, lies - turn @ self.about, focal_px, self.middle)

    def filling(
        self, low: Array, high: Array, azimuth_deg: float, elevation_deg: float, focal_px: float
    ) -> Pose:
        """A camera from a side, in which the piece fills a box of the photo.

        Parameters
        ----------
        low, high : (2,) float [px], corners of the box
        azimuth_deg, elevation_deg : float [°], from where
        focal_px : float [px]
        """
        turn = turn_from(azimuth_deg, elevation_deg)
        seen = ((self.corners - self.about) @ turn.T)[:, :2]
        least, most = seen.min(axis=0), seen.max(axis=0)
        depth = focal_px * float(np.linalg.norm(most - least) / np.linalg.norm(high - low))
        beside = ((low + high) / 2 - self.middle) * depth / focal_px - (least + most) / 2
        return self.posed(turn, np.array([*beside, depth]), focal_px)

    def silhouette(self, pose: Pose, longer_px: int) -> Mask:
        """(h', w') bool: where the piece lies on a copy of the photo.

        Parameters
        ----------
        pose : of the camera
        longer_px : int [px], longer side of the copy
        """
        scale = longer_px / max(self.width, self.height)
        wide, high = round(self.width * scale), round(self.height * scale)
        x, y = np.meshgrid((np.arange(wide) + 0.5) / scale, (np.arange(high) + 0.5) / scale)
        face, _, _ = self._scene.met(*pose.rays(np.stack([x, y], axis=-1).reshape(-1, 2)))
        return np.asarray(face >= 0).reshape(high, wide)

    def rim(self, pose: Pose, cells: int) -> tuple[Array, Array]:
        """(n, 3) places of the piece along its rim, and (n, 2) [px] where its edge is beside them.

        Parameters
        ----------
        pose : of the camera
        cells : int, over the longer side of the piece, on which the rim is found
        """
        import cv2  # late: the program starts without it

        at, _ = pose.seen_at(self.corners)
        low, high = at.min(axis=0), at.max(axis=0)
        cell = float((high - low).max()) / cells
        wide, tall = (np.ceil((high - low) / cell).astype(int) + 2 * AROUND).tolist()
        x, y = np.meshgrid(np.arange(wide) + 0.5 - AROUND, np.arange(tall) + 0.5 - AROUND)
        px = low + cell * np.stack([x, y], axis=-1).reshape(-1, 2)
        face, u, v = self._scene.met(*pose.rays(px))
        there = np.asarray(face >= 0).reshape(tall, wide)
        inner = cv2.erode(there.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
        rim = (there & ~inner).ravel()
        points = between(self.mesh, self.mesh.vertices, (face[rim], u[rim], v[rim]))
        return points.astype(np.float64), px[rim] + _outward(there)[rim] * cell / 2


def _outward(there: Mask) -> Array:
    """(n, 2) unit vectors out of the piece, for every place of a picture."""
    import cv2

    soft = cv2.GaussianBlur(there.astype(np.float64), (5, 5), 1.2)
    down, across = np.gradient(soft)
    out = -np.stack([across, down], axis=-1).reshape(-1, 2)
    return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9))
