"""A camera stand-in for pieces: the piece as it would be painted, in even light, with paper."""

from __future__ import annotations

import numpy as np
from numpy.random import Generator
from scipy.ndimage import gaussian_filter

from haze.core.arrays import Bytes, Floats
from haze.core.film.looks import encode_bytes
from haze.core.film.srgb import linear_of_hex
from haze.core.inspect.card_colours import PAPER
from haze.core.inspect.piece.pose import Pose, drawn, turn_from
from haze.core.mesh.mesh import PreparedMesh

FILLS = 0.8  # of the photo's height
AWAY = 4.0  # times the height of the piece, to the camera
TABLE = 0.21  # linear light of what it stands on
PATCH = (0.06, 0.08, 0.16, 0.2)  # of the paper beside it: left, top, right, bottom, in shares
BLUR_PX, NOISE, FALLS_OFF = 0.7, 0.006, 0.12  # of lens and chip


def patch_at(width: int, height: int) -> tuple[float, float]:
    """(x, y) [px] of the middle of the paper.

    Parameters
    ----------
    width, height : int [px], of the photo
    """
    x0, y0, x1, y1 = PATCH
    return (x0 + x1) / 2 * width, (y0 + y1) / 2 * height


def pose_from(
    mesh: PreparedMesh, azimuth_deg: float, elevation_deg: float, *, width: int, height: int
) -> Pose:
    """A camera that looks at the middle of the piece.

    Parameters
    ----------
    mesh : prepared
    azimuth_deg, elevation_deg : float [°], where it stands
    width, height : int [px], of its photos
    """
    turn = turn_from(azimuth_deg, elevation_deg)
    low, high = mesh.vertices.min(axis=0), mesh.vertices.max(axis=0)
    size = float((mesh.vertices @ turn[1]).max() - (mesh.vertices @ turn[1]).min())
    away = AWAY * max(size, float((high - low).max()))
    middle = (low + high) / 2
    wide = float(np.ptp(mesh.vertices @ turn[0]))
    focal = FILLS * away * min(height / size, width / wide)
    eye = middle - away * turn[2]
    return Pose(turn, -turn @ eye, float(focal), np.array([width / 2, height / 2]))


def piece_photo(
    mesh: PreparedMesh,
    light: Floats,
    openness: Floats,
    pose: Pose,
    rng: Generator,
    *,
    width: int,
    height: int,
    exposure: float = 0.8,
) -> Bytes:
    """(h, w, 3) uint8: a photo in even light, a white paper at its left.

    Parameters
    ----------
    mesh : prepared
    light : (n, 3) float32, linear sRGB of the paint at every vertex
    openness : (n,) float32 [0..1], what it gets of the light
    pose : of the camera
    rng : decides noise
    width, height : int [px]
    exposure : float, light of a white patch on the photo
    """
    there = drawn(pose, mesh, light * openness[:, None], width=width, height=height)
    image = np.where(there[..., 3:] > 0, there[..., :3], np.float32(TABLE))
    x0, y0, x1, y1 = (
        round(share * size) for share, size in zip(PATCH, (width, height) * 2, strict=True)
    )
    image[y0:y1, x0:x1] = linear_of_hex(PAPER)
    y, x = np.mgrid[0:height, 0:width]
    off = np.hypot((x - width / 2) / width, (y - height / 2) / height)
    image = exposure * image * (1 - FALLS_OFF * off[..., None] ** 2)
    image = gaussian_filter(image, (BLUR_PX, BLUR_PX, 0))
    image = image + rng.normal(0, NOISE, image.shape) * np.sqrt(np.maximum(image, 0.02))
    flat = np.clip(image, 0, 1).reshape(-1, 3).T.astype(np.float32)
    return encode_bytes(np.ascontiguousarray(flat)).reshape(height, width, 3)
