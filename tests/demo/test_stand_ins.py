"""Pieces that come along: sizes, pictures, and what they weigh."""

from __future__ import annotations

import io
from importlib import resources

import pytest
from PIL import Image

from haze.core.errors import UnknownNameError
from haze.demo.stand_ins import SHIPPED, picture, stand_in, stand_ins
from haze.service.bench import Bench

PACKAGE_MIB = 25


def test_usual_sizes_are_the_same_piece_larger_or_smaller(bench: Bench) -> None:
    view = next(s for s in stand_ins().stand_ins if s.id == "diver")
    assert view.usual == "32 mm figure"
    heights = {s.label: s.height_mm for s in view.sizes}
    own = stand_in(bench.db, "diver")
    assert own.height_mm == heights["32 mm figure"]
    large = stand_in(bench.db, "diver", size="54 mm")
    assert large.height_mm == pytest.approx(own.height_mm * 54 / 32, abs=0.06)
    assert large.height_mm == heights["54 mm"]
    assert large.mesh.id == own.mesh.id
    assert [p.name for p in large.parts] == view.parts == ["Diver", "Pack", "Long gun", "Base"]
    with pytest.raises(UnknownNameError, match="accepted are 28 mm figure"):
        stand_in(bench.db, "diver", size="1:35")


@pytest.mark.parametrize("identity", SHIPPED)
def test_each_has_a_picture(identity: str) -> None:
    image = Image.open(io.BytesIO(picture(identity)))
    assert image.format == "WEBP"
    assert image.width == image.height >= 200


def test_the_package_stays_small() -> None:
    def weight(folder) -> int:  # type: ignore[no-untyped-def]
        return sum(
            weight(f) if f.is_dir() else len(f.read_bytes())
            for f in folder.iterdir()
            if f.name != "__pycache__"
        )

    assert weight(resources.files("haze")) < PACKAGE_MIB * 2**20
