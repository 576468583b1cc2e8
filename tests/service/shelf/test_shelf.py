"""The shelf: every change is whole, and can be undone; the trash; gear."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from haze.core.errors import HazeError
from haze.core.plan.paint import AirbrushUsed, Swatches
from haze.service.bench import Bench
from haze.service.shelf import files as shelf_files
from haze.service.shelf import shelf
from haze.service.shelf.paints import PaintOnShelf
from haze.service.shelf.shelf import BulkChange, Compressor, ShelfScreen, ThinnerOnShelf
from haze.store import shelf_steps
from haze.store.connection import MissingError


def names(bench: Bench) -> list[str]:
    return [c.paint.name for c in shelf.screen(bench.db).chips]


def paint(**change: object) -> PaintOnShelf:
    given_fields: dict[str, object] = {
        "id": "mine",
        "maker": "Oddmere",
        "name": "Quay Stone",
        "kind": "airbrush_acrylic",
        "masstone": "#8a8478",
        "opacity": "opaque",
    }
    return PaintOnShelf.model_validate(given_fields | change)


def test_the_same_change_to_many_is_all_or_none(stocked: Bench) -> None:
    ids = [c.paint.id for c in shelf.screen(stocked.db).chips[:4]]
    after = shelf.change_many(stocked.db, BulkChange(ids=ids, finish="gloss", ml_left=7))
    changed = [c.paint for c in after.chips if c.paint.id in ids]
    assert {(p.finish, p.ml_left) for p in changed} == {("gloss", 7)}
    with pytest.raises(HazeError, match="not on the shelf"):
        shelf.change_many(stocked.db, BulkChange(ids=[*ids, "nobody"], finish="matt"))
    same = [c.paint.finish for c in shelf.screen(stocked.db).chips if c.paint.id in ids]
    assert set(same) == {"gloss"}
    with pytest.raises(HazeError, match="at least one thing"):
        shelf.change_many(stocked.db, BulkChange(ids=ids))


def test_paints_go_to_the_trash_and_come_back(stocked: Bench) -> None:
    all_names = names(stocked)
    ids = [c.paint.id for c in shelf.screen(stocked.db).chips[:2]]
    gone = shelf.put_away(stocked.db, ids, trashed=True)
    assert len(gone.chips) == len(all_names) - 2
    assert {p.id for p in gone.trashed} == set(ids)
    back = shelf.put_away(stocked.db, ids, trashed=False)
    assert [c.paint.name for c in back.chips] == all_names
    shelf.put_away(stocked.db, ids, trashed=True)
    assert shelf.empty_trash(stocked.db).trashed == []
    with pytest.raises(MissingError):
        shelf.put_away(stocked.db, ids, trashed=False)


def test_a_paint_has_one_place_and_swatches_must_tell_something(stocked: Bench) -> None:
    chip = shelf.put_paint(stocked.db, paint())
    assert chip.own == "#8a8478"
    with pytest.raises(HazeError, match="on the shelf already"):
        shelf.put_paint(stocked.db, paint(id="other", name="quay stone "))
    same = Swatches(over_dark="#804020", over_light="#804020", film_um=30)
    with pytest.raises(HazeError, match="look alike"):
        shelf.put_paint(stocked.db, paint(swatches=same))
    kept = next(c.paint for c in shelf.screen(stocked.db).chips if c.paint.id == "mine")
    assert kept.swatches is None


def test_gear_can_be_added_and_put_away_but_not_the_last(bench: Bench) -> None:
    shelf.put_airbrush(bench.db, AirbrushUsed(id="mine", name="Mine", needle_mm=0.4, cup_ml=5))
    shelf.put_thinner(bench.db, ThinnerOnShelf(id="mine", name="Mine", kind="water", ml_left=80))
    after = shelf.put_compressor(
        bench.db, Compressor(id="mine", name="Attic", most_psi=45, tank_l=2.5)
    )
    assert "Mine" in {a.name for a in after.airbrushes}
    assert next(t for t in after.thinners if t.id == "mine").ml_left == 80
    assert next(c for c in after.compressors if c.id == "mine").tank_l == 2.5
    for left in list(after.airbrushes)[1:]:
        shelf.drop_gear(bench.db, "airbrush", left.id)
    with pytest.raises(HazeError, match="last airbrush stays"):
        shelf.drop_gear(bench.db, "airbrush", after.airbrushes[0].id)
    for machine in after.compressors:
        last = shelf.drop_gear(bench.db, "compressor", machine.id)
    assert last.compressors == []
    with pytest.raises(MissingError):
        shelf.drop_gear(bench.db, "compressor", "mine")


# undo ---------------------------------------------------------------------------------------------


def state(bench: Bench) -> ShelfScreen:
    """The shelf without the words of its next steps."""
    return shelf.screen(bench.db).model_copy(update={"undo": None, "redo": None})


def add(bench: Bench) -> None:
    shelf.put_paint(bench.db, paint())


def recolour(bench: Bench) -> None:
    first = shelf.screen(bench.db).chips[0].paint
    shelf.put_paint(bench.db, first.model_copy(update={"masstone": "#102030", "ml_left": 1.5}))


def many(bench: Bench) -> None:
    ids = [c.paint.id for c in shelf.screen(bench.db).chips[:5]]
    shelf.change_many(bench.db, BulkChange(ids=ids, maker="Tolvane", drop_ul=30))


def away(bench: Bench) -> None:
    shelf.put_away(bench.db, [c.paint.id for c in shelf.screen(bench.db).chips[3:6]], trashed=True)


def brought_in(bench: Bench) -> None:
    table = b"name,maker,colour\nNew Blue,Tolvane,#2244aa\nSlate,Oddmere,#123456\n"
    shelf_files.import_csv(bench.db, table, apply=True)


def airbrush(bench: Bench) -> None:
    shelf.put_airbrush(bench.db, AirbrushUsed(id="mine", name="Mine", needle_mm=0.4, cup_ml=5))


def thinner(bench: Bench) -> None:
    shelf.put_thinner(bench.db, ThinnerOnShelf(id="mine", name="Mine", kind="water", ml_left=80))


def no_compressor(bench: Bench) -> None:
    shelf.drop_gear(bench.db, "compressor", shelf.screen(bench.db).compressors[0].id)


CHANGES = (add, recolour, many, away, brought_in, airbrush, thinner, no_compressor)


@pytest.mark.parametrize("change", CHANGES, ids=[c.__name__ for c in CHANGES])
def test_every_change_can_be_undone_and_done_again(
    stocked: Bench, change: Callable[[Bench], None]
) -> None:
    before = state(stocked)
    change(stocked)
    after = state(stocked)
    assert after != before
    told = shelf.screen(stocked.db)
    assert told.undo is not None
    assert told.redo is None
    undone = shelf.undo(stocked.db)
    assert state(stocked) == before
    assert (undone.undo, undone.redo) == (None, told.undo)
    shelf.redo(stocked.db)
    assert state(stocked) == after


def test_steps_are_undone_last_first_and_a_new_one_ends_the_redoing(stocked: Bench) -> None:
    seen = [state(stocked)]
    for change in CHANGES:
        change(stocked)
        seen.append(state(stocked))
    for expected in reversed(seen[:-1]):
        shelf.undo(stocked.db)
        assert state(stocked) == expected
    with pytest.raises(MissingError, match="nothing to undo"):
        shelf.undo(stocked.db)
    for expected in seen[1:4]:
        shelf.redo(stocked.db)
        assert state(stocked) == expected
    thinner(stocked)
    with pytest.raises(MissingError, match="nothing to redo"):
        shelf.redo(stocked.db)
    shelf.undo(stocked.db)
    assert state(stocked) == seen[3]


def test_a_change_that_changes_nothing_is_no_step(stocked: Bench) -> None:
    first = shelf.screen(stocked.db).chips[0].paint
    shelf.put_paint(stocked.db, first)
    assert shelf.screen(stocked.db).undo is None
    with pytest.raises(HazeError, match="on the shelf already"):
        shelf.put_paint(stocked.db, first.model_copy(update={"id": "twin"}))
    assert shelf.screen(stocked.db).undo is None


def test_emptying_the_trash_is_for_good(stocked: Bench) -> None:
    away(stocked)
    emptied = shelf.empty_trash(stocked.db)
    assert (emptied.trashed, emptied.undo, emptied.redo) == ([], None, None)


def test_a_paint_does_not_come_back_beside_its_twin(stocked: Bench) -> None:
    old = shelf.screen(stocked.db).chips[0].paint
    shelf.put_away(stocked.db, [old.id], trashed=True)
    shelf.put_paint(stocked.db, old.model_copy(update={"id": "twin"}))
    with pytest.raises(HazeError, match="on the shelf already"):
        shelf.put_away(stocked.db, [old.id], trashed=False)
    assert [p.id for p in shelf.screen(stocked.db).trashed] == [old.id]


def test_a_power_cut_in_an_undo_leaves_the_shelf_and_the_step(
    stocked: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    many(stocked)
    after = shelf.screen(stocked.db)
    put, count = shelf_steps._put, 0

    def power_cut(*args: object) -> None:
        nonlocal count
        count += 1
        if count == 3:
            raise RuntimeError("power cut")
        put(*args)  # type: ignore[arg-type]

    monkeypatch.setattr(shelf_steps, "_put", power_cut)
    with pytest.raises(RuntimeError):
        shelf.undo(stocked.db)
    assert shelf.screen(stocked.db) == after


def test_only_the_last_steps_are_kept(stocked: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shelf_steps, "KEPT", 3)
    for ml in range(6):
        shelf.put_paint(stocked.db, paint(ml_left=ml))
    for _ in range(3):
        shelf.undo(stocked.db)
    assert shelf.screen(stocked.db).undo is None
    kept = next(c.paint for c in shelf.screen(stocked.db).chips if c.paint.id == "mine")
    assert kept.ml_left == 2
