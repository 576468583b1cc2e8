"""An empty Haze has equipment and no paint; made-up ones come when somebody asks for them."""

from __future__ import annotations

from pathlib import Path

import pytest

from haze.core.errors import NothingToDoError
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.shelf import starter
from haze.service.shelf.paints import PaintOnShelf
from haze.service.shelf.shelf import add_example, put_away, put_paint, screen, shelf_of, undo


@pytest.fixture
def fresh(tmp_path: Path) -> Bench:
    return Bench(tmp_path / "data", ahead=False)


OWN = PaintOnShelf(
    id="own",
    name="Rope Buff",
    maker="Tolvane",
    kind="brush_acrylic",
    masstone="#b0905f",
    opacity="opaque",
)


def test_a_new_folder_has_equipment_and_no_paint(fresh: Bench) -> None:
    have = shelf_of(fresh.db)
    assert have.paints == []
    assert {a.needle_mm for a in have.airbrushes} == {0.2, 0.3, 0.5}
    assert {t.kind for t in have.thinners} >= {"water", "acrylic_thinner"}


def test_the_example_comes_beside_what_is_there_and_is_undone(fresh: Bench) -> None:
    put_paint(fresh.db, OWN)
    names = [chip.paint.name for chip in add_example(fresh.db).chips]
    assert len(names) == len(starter.PAINTS)  # one of them is the painter's own already
    assert names.count("Rope Buff") == 1
    with pytest.raises(NothingToDoError, match="already"):
        add_example(fresh.db)
    assert [chip.paint.id for chip in undo(fresh.db).chips] == ["own"]


def test_what_was_deleted_does_not_come_back_by_it(fresh: Bench) -> None:
    add_example(fresh.db)
    gone = starter.PAINTS[0].id
    put_away(fresh.db, [gone], trashed=True)
    with pytest.raises(NothingToDoError):
        add_example(fresh.db)
    assert gone not in {chip.paint.id for chip in screen(fresh.db).chips}


def test_the_demo_leaves_own_paints_on_the_shelf(fresh: Bench) -> None:
    put_paint(fresh.db, OWN.model_copy(update={"name": "Mine alone"}))
    saltgate.load_shelf(fresh.db)
    ids = {chip.paint.id for chip in screen(fresh.db).chips}
    assert "own" in ids
    assert len(ids) > 80
