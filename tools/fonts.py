"""Make the fonts of paper from those of the screen: static, merged, with signs they lack.

Run by hand when a font changes; needs fonttools and brotli, and DejaVu Sans for other scripts.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from fontTools import subset
from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

ROOT = Path(__file__).parent.parent
SCREEN = ROOT / "ui/node_modules/@fontsource-variable/atkinson-hyperlegible-next/files"
TARGET = ROOT / "src/haze/formats/fonts"
WEIGHTS = {"text": 400, "bold": 700}
# Latin, Greek, Cyrillic, signs of punctuation, arrows, sums, boxes
MORE = "U+0020-058F,U+1E00-1EFF,U+2000-206F,U+2070-20CF,U+2100-22FF,U+2500-25FF"


def static(weight: int, folder: Path) -> list[str]:
    """The Latin parts of the screen's font at one weight."""
    made = []
    for part in ("latin", "latin-ext"):
        font = TTFont(SCREEN / f"atkinson-hyperlegible-next-{part}-wght-normal.woff2")
        fixed = instantiateVariableFont(font, {"wght": weight})
        fixed.flavor = None
        for table in ("GSUB", "GPOS", "GDEF", "STAT"):
            if table in fixed:
                del fixed[table]
        path = folder / f"{part}-{weight}.ttf"
        fixed.save(path)
        made.append(str(path))
    return made


def main(more: str) -> None:
    TARGET.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for name, weight in WEIGHTS.items():
            font = Merger().merge(static(weight, Path(folder)))
            # each its own name: what draws a page tells fonts apart by it
            for record in font["name"].names:
                record.string = f"Haze{name.capitalize()}"
            font.save(TARGET / f"{name}.ttf")
    subset.main([more, f"--unicodes={MORE}", f"--output-file={TARGET / 'more.ttf'}",
                 "--layout-features=", "--no-hinting"])  # fmt: skip


if __name__ == "__main__":
    main(sys.argv[1])
