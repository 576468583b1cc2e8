"""Array types of the whole core; axis order, shape and unit stand in each docstring."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Ints = NDArray[np.int32]
Longs = NDArray[np.int64]
Bytes = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Table = NDArray[np.uint8]  # (directions, vertices): cosine × unoccluded, 255 square-on and open


def share_bytes(share: Floats) -> Bytes:
    """(...) uint8: shares of 0 to 1 as bytes of 0 to 255.

    Parameters
    ----------
    share : (...) float32 [-], clipped to 0..1
    """
    return np.asarray(np.round(np.clip(share, 0, 1) * 255), dtype=np.uint8)
