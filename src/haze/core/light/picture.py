"""A picture of a painted piece by ray casting, for plan strips and for checks without a browser."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Array, Bytes, Floats, Ints
from haze.core.directions import facing
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import scene_of

CARD_GREY = 131  # L* 55, the card every piece stands on
MARGIN = 1.08
FAR = 500.0  # units of the mesh, from where rays come


@dataclass(frozen=True, slots=True, eq=False)
class Side:
    """A piece looked at from afar, filling a picture: unit vectors, and units of the mesh a pixel.

    `middle` (2,) is what lies in the middle of the picture, along right and up.
    """

    toward: Array
    right: Array
    up: Array
    scale: float
    middle: Array
    width: int
    height: int

    def rays(self, x: Array, y: Array) -> tuple[Floats, Floats]:
        """(n, 3) origins and directions of rays through places of the picture.

        Parameters
        ----------
        x, y : (n,) float [px], from the left and from the top
        """
        across = (x - self.width / 2) * self.scale + self.middle[0]
        along = (self.height / 2 - y) * self.scale + self.middle[1]
        origins = across[:, None] * self.right + along[:, None] * self.up + FAR * self.toward
        away = np.broadcast_to(-self.toward, origins.shape)
        return origins.astype(np.float32), away.astype(np.float32)


def side_of(
    mesh: PreparedMesh, azimuth_deg: float, elevation_deg: float, *, width: int, height: int
) -> Side:
    """How a piece is looked at so that it fills a picture, orthographic.

    Parameters
    ----------
    mesh : a prepared one
    azimuth_deg, elevation_deg : float [°], from where
    width, height : int [px], of the picture
    """
    toward, right, up = facing(azimuth_deg, elevation_deg)
    flat = mesh.vertices @ np.stack([right, up], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = MARGIN * max((high[0] - low[0]) / width, (high[1] - low[1]) / height)
    return Side(toward, right, up, float(scale), 0.5 * (low + high), width, height)


@dataclass(frozen=True, slots=True, eq=False)
class Shot:
    """What a side shows of a piece before it has colours: the same for all of them.

    `seen` (pixels,) bool are the rays that met it; `corners` (k, 3) int and `shares` (k, 3)
    float32 say which vertices they met it between, and how near to each.
    """

    seen: NDArray[np.bool_]
    corners: Ints
    shares: Floats
    width: int
    height: int
    supersample: int

    @classmethod
    def taken(cls, mesh: PreparedMesh, side: Side, *, supersample: int) -> Shot:
        """Look at a piece.

        Parameters
        ----------
        mesh : a prepared one
        side : from where, in pixels before they are averaged
        supersample : int, rays a pixel and axis
        """
        x, y = np.meshgrid(np.arange(side.width) + 0.5, np.arange(side.height) + 0.5)
        face, u, v = scene_of(mesh).met(*side.rays(x.ravel(), y.ravel()))
        seen = face >= 0
        u, v = u[seen], v[seen]
        shares = np.stack([1 - u - v, u, v], axis=1).astype(np.float32)
        size = side.width // supersample, side.height // supersample
        return cls(seen, mesh.faces[face[seen]], shares, *size, supersample)

    def coloured(self, colours: Bytes, lit: Floats | None = None) -> Bytes:
        """(height, width, 3) uint8: the picture in some colours, on a mid grey card.

        Parameters
        ----------
        colours : (n, 3) uint8, encoded sRGB per vertex
        lit : (n,) float32 [-], light of a room on each vertex, 1 for full; None is even light
        """
        linear = (colours.astype(np.float32) / 255.0) ** 2.2
        if lit is not None:
            linear *= lit[:, None]
        image = np.full((len(self.seen), 3), (CARD_GREY / 255.0) ** 2.2, dtype=np.float32)
        image[self.seen] = np.einsum("kc,kcx->kx", self.shares, linear[self.corners])
        more = self.supersample
        image = image.reshape(self.height, more, self.width, more, 3).mean(axis=(1, 3))
        return np.asarray(np.round(np.clip(image, 0, 1) ** (1 / 2.2) * 255), dtype=np.uint8)


def shot_of(
    mesh: PreparedMesh,
    *,
    width: int,
    height: int,
    azimuth_deg: float = 20.0,
    elevation_deg: float = 12.0,
    supersample: int = 2,
) -> Shot:
    """A piece looked at so that it fills a picture, orthographic, ready for any colours.

    Parameters
    ----------
    mesh : a prepared one
    width, height : int [px]
    azimuth_deg, elevation_deg : float [°], from where it is looked at
    supersample : int, rays a pixel and axis
    """
    size = {"width": width * supersample, "height": height * supersample}
    side = side_of(mesh, azimuth_deg, elevation_deg, **size)
    return Shot.taken(mesh, side, supersample=supersample)


def picture(
    mesh: PreparedMesh,
    colours: Bytes,
    *,
    width: int,
    height: int,
    azimuth_deg: float = 20.0,
    elevation_deg: float = 12.0,
) -> Bytes:
    """(height, width, 3) uint8: the piece on a mid grey card, orthographic.

    Parameters
    ----------
    mesh : a prepared one
    colours : (n, 3) uint8, encoded sRGB per vertex
    width, height : int [px]
    azimuth_deg, elevation_deg : float [°], from where it is looked at
    """
    return shot_of(
        mesh, width=width, height=height, azimuth_deg=azimuth_deg, elevation_deg=elevation_deg
    ).coloured(colours)
