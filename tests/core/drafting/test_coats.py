"""First drafts of coats."""

from __future__ import annotations

from dataclasses import fields, replace
from math import ceil

import numpy as np

from haze.core.drafting.coats import (
    GROUND,
    LEAST_GROUND_PASSES,
    MOST_PASSES,
    draft_coat,
    drafted,
    every_side,
    rung_coat,
    usual_stations,
)
from haze.core.drafting.recipes import (
    Cup,
    pass_left,
)
from haze.core.drafting.stock import Stock
from haze.core.light.stations import Station, deposit
from haze.core.mesh.mesh import PreparedMesh
from haze.core.plan.coat import Aim, Coat
from haze.core.plan.lights import KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed
from haze.core.plan.piece import Room
from haze.core.plan.roles import TaskName
from haze.core.plan.schools import Schools
from haze.core.spray.calibrate import Belief, PaintThrough
from helpers import coat, outcome_of, plan

BRUSH = AirbrushUsed(id="a", name="All-round", needle_mm=0.3)
ONE = [Station(40, 45, 15)]
SIDES = ((0, -1, 0), (-1, 0, 0), (0, 1, 0), (1, 0, 0))


def draft(stock: Stock, paint: PaintUsed, task: TaskName, stations=ONE, **more: object) -> Coat:  # type: ignore[no-untyped-def]
    cup = Cup(paint, task, stock.thinners[1], BRUSH, Room(), Schools(), "#17181a")
    names = {field.name for field in fields(Cup)}
    cup = replace(cup, **{k: v for k, v in more.items() if k in names})  # type: ignore[arg-type]
    rest = {k: v for k, v in more.items() if k not in names}
    return draft_coat("c", cup, stations=stations, **rest)  # type: ignore[arg-type]


def test_a_coat_lays_at_least_the_film_it_is_asked_for(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    one = draft(stock, paint["Wrack Green"], "light", film_um=5.0)
    per_pass = float(outcome_of(one).dry_film_um)
    assert one.most_passes == min(ceil(5.0 / per_pass), MOST_PASSES)
    assert draft(stock, paint["Wrack Green"], "light", film_um=500.0).most_passes == MOST_PASSES
    assert draft(stock, paint["Wrack Green"], "light", film_um=0.01).most_passes == 1


def test_a_covering_coat_takes_the_passes_its_ground_asks_for(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    hard = draft(stock, paint["Tern White"], "cover", over="#17181a")
    easy = draft(stock, paint["Tern White"], "cover", over="#f0f0ea")
    assert hard.most_passes > easy.most_passes


def test_passes_are_shared_where_stations_overlap(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    alone = draft(stock, paint["Wrack Green"], "light", film_um=20.0)
    pair = draft(stock, paint["Wrack Green"], "light", stations=ONE * 2, film_um=20.0)
    ring = draft(stock, paint["Wrack Green"], "light", stations=every_side(30, 20), film_um=20.0)
    assert pair.most_passes == alone.most_passes
    assert ring.most_passes == max(LEAST_GROUND_PASSES, ceil(alone.most_passes / 2))
    assert [s.azimuth_deg for s in ring.stations] == [0.0, 120.0, 240.0]
    assert len({s.id for s in ring.stations}) == 3
    thin = draft(stock, paint["Wrack Green"], "light", stations=GROUND, film_um=0.01)
    assert thin.most_passes == LEAST_GROUND_PASSES, "one pass leaves recesses bare"


def test_an_aimed_coat_has_its_passes_on_the_aim_and_comes_near(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    aimed = draft(stock, paint["Wrack Green"], "light", aim=Aim(field="recesses"), film_um=5.0)
    swept = draft(stock, paint["Wrack Green"], "light", film_um=5.0)
    assert aimed.stations == []
    assert aimed.aim is not None
    assert aimed.aim.passes == aimed.passes >= 1
    assert aimed.spray.distance_mm < swept.spray.distance_mm


def test_grounds_and_varnishes_come_from_all_round_the_others_from_the_light() -> None:
    key = KeyLight(azimuth_deg=70, elevation_deg=30, softness_deg=12)
    assert usual_stations("prime", key) == list(GROUND)
    assert usual_stations("matt", key) == list(GROUND)
    assert usual_stations("rung", key) == [Station(70, 30, 12)]


def test_a_drafted_coat_has_an_id_of_its_own(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    before = plan(coat("rung"), coat("rung-2"))
    one = drafted(
        before,
        stock,
        stem="rung",
        task="rung",
        paint=paint["Wrack Green"],
        stations=ONE,
        over="#17181a",
    )
    assert one.id not in {"rung", "rung-2"}
    assert one.thinner.kind == "acrylic_thinner"


def test_a_rung_is_called_by_its_mix_most_first(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    mix = Mix.of((paint["Wrack Green"], 1), (paint["Tern White"], 4))
    rung = rung_coat(plan(coat()), mix, stock, over="#4b5a35", note="Add to the rest")
    assert (rung.paint.name, rung.drops) == ("Tern White", 4)
    assert [(m.paint.name, m.drops) for m in rung.also] == [("Wrack Green", 1)]
    assert rung.name == "Tern White + Wrack Green 4:1"
    assert (rung.task, rung.note) == ("rung", "Add to the rest")
    assert rung.stations[0].azimuth_deg == KeyLight().azimuth_deg


def test_rounds_are_as_many_as_leave_the_film_asked(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    def laid(film_um: float) -> float:
        cup = Cup.of(plan(), stock, paint["Tern White"], "light", over="#6f7478")
        found = draft_coat("white", cup, stations=ONE, film_um=film_um)
        each = float(outcome_of(found).dry_film_um)
        assert 0 <= found.most_passes * each - film_um < each
        return found.most_passes * each

    assert laid(1.2) < laid(9.0)


def test_a_ground_coat_lands_as_much_on_every_side(
    ball: PreparedMesh, ball_table: np.ndarray
) -> None:
    landed = np.sum([deposit(ball_table, station) for station in GROUND], axis=0)
    # a handle hides what looks straight down; all else of a ball is open
    level = np.abs(ball.normals[:, 2]) < 0.6
    assert landed[level].min() > 0.85 * landed[level].mean()
    by_side = [landed[ball.normals @ np.array(d) > 0.9].mean() for d in SIDES]
    assert max(by_side) < 1.1 * min(by_side)
    assert landed[ball.normals[:, 2] > 0.9].mean() > 0.75 * landed[level].mean()


def test_a_draft_hears_what_trials_say_of_its_paint(stock: Stock) -> None:
    started = plan()
    white = next(p for p in stock.paints if p.kind == "white")
    through = PaintThrough(white.kind, white.id, started.airbrush.id, started.airbrush.needle_mm)
    before = pass_left(started, stock, white, "light", over="#808080")
    thin = Belief(np.log([[0.4, 1.0, 1.6, 1.0, 1.5]]), np.ones(1), 3)
    taught = replace(stock, known=lambda one: thin if one == through else None)
    after = pass_left(started, taught, white, "light", over="#808080")
    assert after.film_um != before.film_um
    other = next(p for p in stock.paints if p.kind == "primer")
    same = [pass_left(started, s, other, "prime", over="#808080") for s in (stock, taught)]
    assert same[0] == same[1]
