"""First drafts of coats."""

from __future__ import annotations

from haze.core.drafting.coats import passes_to_cover
from helpers import coat


def test_white_takes_more_passes_over_black_than_over_grey() -> None:
    white = coat(kind="white").paint.model_copy(update={"masstone": "#f3f2ec"})
    over_black = passes_to_cover(white, over="#101010", dry_film_um=3)
    assert over_black > passes_to_cover(white, over="#b0b0b0", dry_film_um=3)
