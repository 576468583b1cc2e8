"""Write the demo meshes that ship with Haze: `python -m haze.demo.build`."""

from __future__ import annotations

from pathlib import Path

import fast_simplification
import numpy as np

from haze.demo import warden
from haze.formats.meshes import write_stl

FACES = 78_000  # keeps a shipped file under 4 MB and every fold of the coat
FOLDER = Path(__file__).parent


def main() -> None:
    """Build and write each mesh."""
    vertices, faces = warden.build()
    share = 1.0 - FACES / len(faces)
    v, f = fast_simplification.simplify(vertices, faces, target_reduction=share)
    (FOLDER / "warden.stl").write_bytes(write_stl(v.astype(np.float32), f))


if __name__ == "__main__":
    main()
