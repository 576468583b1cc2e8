"""Whole sequences."""

from __future__ import annotations

import pytest

from haze.core.errors import CancelledError, HazeError
from haze.core.film.difference import delta_e
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.document import Along, Asked, Plan
from haze.core.plan.schools import Schools
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.sequence import StartBody, started, tidied
from haze.service.plan.whole import worked_out
from haze.service.shelf.shelf import Shelf
from helpers import going, stopping


@pytest.fixture
def plan(globe: Plan) -> Plan:
    return globe


@pytest.fixture
def on(on_globe: OnPiece) -> OnPiece:
    return on_globe


@pytest.mark.parametrize(
    ("what", "order"),
    [
        ("figure", "climb"),
        ("vehicle", "descend"),
        *(
            pytest.param(what, order, marks=pytest.mark.thorough)
            for what, order in (
                ("figure", "veil"),
                ("bust", "descend"),
                ("vehicle", "span"),
                ("terrain", "veil"),
            )
        ),
    ],
)
def test_three_answers_give_a_whole_sequence(
    what: str, order: str, plan: Plan, on: OnPiece, shelf: Shelf
) -> None:
    schools = Schools.model_validate({"order": order})
    body = StartBody.model_validate(
        {
            "plan": plan,
            "what": what,
            "colours": ["#4b7a35", "#33506e", "#e6d7ae"],
            "schools": schools,
            "wash": True,
            "worn": True,
        }
    )
    out = started(body, on, shelf, going)
    assert look_over(out.plan, on).findings == []
    tasks = [c.task if c.kind == "spray" else c.role for c in out.plan.coats]
    assert tasks[0] == "prime"
    assert tasks[-1] in ("matt", "satin")
    assert tasks.index("gloss") < tasks.index("wash")
    assert out.plan.schools == schools
    assert out.plan.piece == plan.piece
    assert out.cost.steps == len(tasks)
    assert out.cost.minutes > 10
    stops = [c for c in worked_out(out.plan, on).coats if c.spray.verdict == "stop"]
    assert stops == []
    wanted = {"climb": "rung", "descend": "tint", "veil": "veil", "span": "rung"}[order]
    assert wanted in tasks
    if what == "vehicle":
        assert "chips" in tasks
    if what == "terrain":
        assert "dry_brush" in tasks


def test_soft_groundwork_is_sealed_first(plan: Plan, on: OnPiece, shelf: Shelf) -> None:
    soft = plan.model_copy(deep=True)
    soft.piece.groundwork = "plaster"
    body = StartBody(plan=soft, what="terrain", colours=["#6f757b"], schools=None)
    first, *_ = started(body, on, shelf, going).plan.coats
    assert first.kind == "spray"
    assert first.task == "seal"


def test_an_empty_shelf_says_what_is_missing(plan: Plan, on: OnPiece) -> None:
    with pytest.raises(HazeError, match="dark primer"):
        started(
            StartBody(plan=plan, what="figure", colours=["#4b7a35"]),
            on,
            Shelf(paints=[], thinners=[], airbrushes=[]),
            going,
        )


@pytest.mark.thorough
def test_a_colour_the_shelf_cannot_reach_is_told(plan: Plan, on: OnPiece, shelf: Shelf) -> None:
    def laid(owned: Shelf, colour: str) -> list[str]:
        schools = plan.schools.model_copy(update={"order": "veil"})
        body = StartBody(plan=plan, what="figure", colours=[colour], schools=schools)
        notes = started(body, on, owned, going).notes
        return [note for note in notes if "missing" in note]

    few = [p for p in shelf.paints if p.kind != "transparent" or p.name == "Lamp Amber"]
    lacking = shelf.model_copy(update={"paints": few})
    assert laid(shelf, "#4b7a35") == []
    assert laid(lacking, "#c98a20") == []
    (note,) = laid(lacking, "#1f3fd0")
    assert "blue is missing" in note


@pytest.mark.parametrize("along", ["height", "facing"])
def test_two_regions_meet_in_a_shared_rung(
    along: Along, plan: Plan, on: OnPiece, shelf: Shelf
) -> None:
    body = StartBody(
        plan=plan, what="figure", colours=["#2f7a3a", "#d8c49a"], gradient=True, along=along
    )
    out = started(body, on, shelf, going)
    assert out.plan.asked == Asked(colours=("#2f7a3a", "#d8c49a"), along=along)
    shared = next(c for c in out.plan.sprayed if c.task == "cover")
    assert delta_e(shared.mix.rgb, linear_of_hex(out.asked)) < 12
    assert any(shared.name in note and "share it" in note for note in out.notes)
    ramps = [c for c in out.plan.sprayed if c.aim and c.aim.field == "ramp"]
    assert bool(ramps) == (along == "height")
    # each end is met at its own place, and is not at the other
    start, end = (linear_of_hex(c) for c in (out.lands.shade, out.lands.light))
    green, bone = (linear_of_hex(c) for c in body.colours)
    assert delta_e(start, green) < 15 < delta_e(start, bone)
    assert delta_e(end, bone) < 15 < delta_e(end, green)
    assert out.lands.delta_e < 9


def test_laying_a_sequence_can_be_stopped(plan: Plan, on: OnPiece, shelf: Shelf) -> None:
    body = StartBody(plan=plan, what="figure", colours=["#4b7a35"])
    with pytest.raises(CancelledError):
        started(body, on, shelf, stopping)


def test_what_would_not_show_is_taken_out_and_said(plan: Plan, on: OnPiece, shelf: Shelf) -> None:
    first, *rest = plan.coats
    buried = plan.model_copy(update={"coats": [first, rest[0], *plan.coats[1:]]}, deep=True)
    buried.coats[1] = rest[0].model_copy(update={"id": "under", "name": "Buried"})
    cover = buried.sprayed[0].model_copy(update={"id": "over", "task": "cover"}, deep=True)
    twelve = [s.model_copy(update={"passes": 12}) for s in cover.stations]
    cover.stations = [s.model_copy(update={"id": f"over-{n}"}) for n, s in enumerate(twelve)]
    buried.coats.insert(2, cover)
    done, notes = tidied(buried, on, shelf.stock)
    assert "under" not in [step.id for step in done.coats]
    assert any(note.startswith("Buried would not show") for note in notes)
    assert [s.rule for s in done.silenced] == [
        f.rule for f in look_over(done.model_copy(update={"silenced": []}), on).findings
    ]
