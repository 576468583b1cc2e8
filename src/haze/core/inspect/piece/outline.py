"""The edge of a piece on its photo, found inside a ring that was marked around it by hand.

Colours inside the ring are cut from those outside it by graph cuts (Rother, Kolmogorov and Blake,
"GrabCut": interactive foreground extraction using iterated graph cuts, 2004).
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array, Bytes, Mask
from haze.core.errors import HazeError

LEAST_RING, MOST_RING = 5, 40
WORK_PX = 480  # longer side of the photo while it is cut
ROUNDS = 4
LEAST_PX = 60  # on either side of the edge, to tell their colours by
MODEL = 65  # numbers a mixture of colours is held in
SPARE = 0.02  # of the longer side: a ring may cut into the piece by so much
LEAST_INSIDE, MOST_INSIDE = 0.25, 0.985  # of the ring is piece, or its edge was not found
LEAST_RING_SHARE = 0.02  # of the photo
LEAST_HOLE = 0.01  # of the piece
NOT_CLEAR = (
    "The edge of the piece is not clear on this photo. Put it before a plain wall or paper of "
    "another colour, or mark points instead."
)


class NoOutlineError(HazeError):
    """The edge of the piece was not found."""

    code = "no_outline"


def ringed(photo: Bytes, ring: Array) -> list[Array]:
    """(n, 2) [px] each: the edge of the piece on a photo, and of what shows through it.

    Parameters
    ----------
    photo : (h, w, 3) uint8, encoded sRGB
    ring : (k, 2) float [px], marked around the piece, in order

    Raises
    ------
    NoOutlineError for a ring of too few points or too small, and where no edge is clear in it
    """
    if len(ring) < LEAST_RING:
        raise NoOutlineError(
            f"Mark at least {LEAST_RING} places around the piece; there are {len(ring)}.",
            field="ring",
        )
    small, scale = _small(photo)
    inside = _grown(_filled(ring * scale, small.shape[:2]), SPARE * max(small.shape))
    if inside.mean() < LEAST_RING_SHARE:
        raise NoOutlineError("The ring is too small; mark it around the whole piece.", field="ring")
    piece = _cut(small, inside, np.zeros_like(inside))
    if not LEAST_INSIDE <= piece.sum() / inside.sum() <= MOST_INSIDE:
        raise NoOutlineError(NOT_CLEAR, field="ring")
    return _edges(piece, scale)


def near_to(photo: Bytes, seen: Mask, band: float) -> list[Array]:
    """(n, 2) [px] each: the edge of the piece that lies near to where it is thought to be.

    Parameters
    ----------
    photo : (h, w, 3) uint8, encoded sRGB
    seen : (h', w') bool, where the piece is thought to be, of any size
    band : how far the edge may lie beside that, over the longer side of the photo

    Raises
    ------
    NoOutlineError where no edge is clear
    """
    import cv2  # late: the program starts without it

    small, scale = _small(photo)
    there = cv2.resize(seen.astype(np.uint8), small.shape[1::-1], interpolation=cv2.INTER_NEAREST)
    by = max(2.0, band * max(small.shape))
    outside = _grown(there == 0, by)
    piece = _cut(small, _grown(there > 0, by), ~outside)
    if not piece.any():
        raise NoOutlineError(NOT_CLEAR, field="ring")
    return _edges(piece, scale)


def _small(photo: Bytes) -> tuple[Bytes, float]:
    import cv2

    scale = min(1.0, WORK_PX / max(photo.shape[:2]))
    small = cv2.resize(photo, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    return np.asarray(small, dtype=np.uint8), scale


def _filled(ring: Array, shape: tuple[int, ...]) -> Mask:
    import cv2

    drawn = np.zeros(shape, dtype=np.uint8)
    cv2.fillPoly(drawn, [np.round(ring).astype(np.int32)], 1)
    return np.asarray(drawn > 0)


def _grown(there: Mask, by_px: float) -> Mask:
    import cv2

    by = max(1, round(by_px))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * by + 1, 2 * by + 1))
    return np.asarray(cv2.dilate(there.astype(np.uint8), disc) > 0)


def _cut(photo: Bytes, inside: Mask, surely: Mask) -> Mask:
    """(h, w) bool: the piece, its largest part: within what may be, with what surely is."""
    import cv2

    if min(inside.sum(), (~inside).sum()) < LEAST_PX:
        return np.zeros_like(inside)
    cv2.setRNGSeed(0)
    held = np.where(inside, cv2.GC_PR_FGD, cv2.GC_BGD).astype(np.uint8)
    held[surely] = cv2.GC_FGD
    behind, before = np.zeros((1, MODEL)), np.zeros((1, MODEL))
    no_box = (0, 0, 1, 1)  # not read where a mask is given
    cv2.grabCut(photo, held, no_box, behind, before, ROUNDS, cv2.GC_INIT_WITH_MASK)
    piece = np.isin(held, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.uint8)
    opened = cv2.morphologyEx(piece, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(opened)
    if count < 2:
        return np.zeros(inside.shape, dtype=bool)
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    return np.asarray(labels == largest)


def _edges(piece: Mask, scale: float) -> list[Array]:
    import cv2

    found, _ = cv2.findContours(piece.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    least = LEAST_HOLE * piece.sum()
    kept = [c[:, 0].astype(float) for c in found if cv2.contourArea(c) >= least]
    return [(edge + 0.5) / scale for edge in kept]
