"""Trouble on a piece: what stays bare and why, overspray, chalk, a colour that has turned."""

from __future__ import annotations

import pytest

from haze.core.plan.coat import Coat, StationAt
from haze.core.plan.document import Plan
from haze.core.spray.trouble import Cause
from haze.service.bench import Bench
from haze.service.cups.overspray import overspray_of
from haze.service.cups.trouble import TroubleOfBody, trouble_of
from haze.service.cups.trouble_here import causes_here
from haze.service.piece.onpiece import OnPiece
from helpers import coat as some_coat
from helpers import for_part, with_spray


def last(plan: Plan, **change: object) -> tuple[Plan, Coat]:
    """A plan whose last coat is changed, and that coat."""
    coats = [*plan.coats[:-1], plan.coats[-1].model_copy(update=change)]
    plan = plan.model_copy(update={"coats": coats})
    coat = plan.coats[-1]
    assert coat.kind == "spray"
    return plan, coat


def sure(causes: tuple[Cause, ...]) -> tuple[Cause, ...]:
    """Causes whose shares are those of a whole, the largest first."""
    assert sum(c.share for c in causes) == pytest.approx(1.0)
    assert [c.share for c in causes] == sorted((c.share for c in causes), reverse=True)
    return causes


def side(azimuth: float, passes: int) -> StationAt:
    return StationAt(id="s", azimuth_deg=azimuth, elevation_deg=20, spread_deg=12, passes=passes)


def test_what_faces_no_side_asks_for_one_from_there(lantern: Plan, on_lantern: OnPiece) -> None:
    plan, coat = last(lantern, stations=[side(0, 40)])
    found = sure(causes_here(plan, coat, "bare", on_lantern))
    assert "faces none of the sides" in found[0].cause
    assert "back" in found[0].why
    assert found[0].knob is None
    behind, coat = last(lantern, stations=[side(180, 40)])
    assert "front" in sure(causes_here(behind, coat, "bare", on_lantern))[0].why


def test_where_all_sides_are_sprayed_too_thin_another_round_closes_it(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    around = [
        side(a, 2).model_copy(update={"id": f"s{a}{e}", "elevation_deg": e})
        for a in (0, 90, 180, 270)
        for e in (-45, 45)
    ]
    plan, coat = last(lantern, stations=around)
    plan = with_spray(plan, len(plan.coats) - 1, trigger=0.12, speed_mm_s=300.0)
    coat = plan.coats[-1]
    assert coat.kind == "spray"
    found = sure(causes_here(plan, coat, "bare", on_lantern))
    assert "too little" in found[0].cause
    assert (found[0].knob, found[0].value, found[0].to) == ("passes", 2.0, 3.0)


def test_overspray_names_the_part_and_how_near_it_is(lantern: Plan, on_lantern: OnPiece) -> None:
    plan = for_part(lantern)
    coat = plan.coats[-1]
    assert coat.kind == "spray"
    told = overspray_of(plan, coat, on_lantern)
    found = sure(causes_here(plan, coat, "overspray", on_lantern))
    assert told is not None
    assert f"shows to {told.reach_mm:.0f} mm" in found[0].cause
    assert "mask" in found[0].why
    swept = lantern.coats[0]
    assert swept.kind == "spray"
    assert causes_here(lantern, swept, "overspray", on_lantern) == ()


def test_a_high_step_is_chalky_by_its_height(lantern: Plan, on_lantern: OnPiece) -> None:
    white = some_coat().paint.model_copy(update={"masstone": "#fbfbf5", "kind": "white"})
    plan, coat = last(lantern, paint=white, also=[], stations=[side(0, 30)], task="light")
    found = sure(causes_here(plan, coat, "chalky", on_lantern))
    assert "L*" in found[0].cause
    assert found[0].why == "add a tone between"


def test_a_thin_film_over_dark_has_turned_and_says_how_many_rounds_bring_it_there(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    yellow = some_coat().paint.model_copy(update={"masstone": "#f2c200", "opacity": "semi_opaque"})
    plan, coat = last(lantern, paint=yellow, also=[], stations=[side(0, 1)])
    found = sure(causes_here(plan, coat, "shifted", on_lantern))
    assert "own colour after 1 rounds" in found[0].cause
    plan, many = last(lantern, paint=some_coat().paint, also=[], stations=[side(0, 60)])
    assert causes_here(plan, many, "shifted", on_lantern) == ()


def test_symptoms_the_piece_does_not_tell_are_left_to_the_model(
    club: Bench, lantern: Plan, on_lantern: OnPiece
) -> None:
    coat = lantern.coats[-1]
    assert coat.kind == "spray"
    assert causes_here(lantern, coat, "spiders", on_lantern) == ()
    assert causes_here(lantern, coat.model_copy(update={"off": True}), "bare", on_lantern) == ()
    body = {
        "paint": {"id": coat.paint.id, "name": coat.paint.name, "kind": coat.paint.kind},
        "airbrush": {"id": "a", "name": "A", "needle_mm": 0.3},
        "setting": {
            "paint": {"kind": coat.paint.kind},
            "thinner": coat.thinner.kind,
            "needle_mm": 0.3,
            **{
                k: v
                for k, v in coat.spray.model_dump().items()
                if k not in ("flow_aid_parts", "retarder_parts")
            },
        },
        "symptom": "bare",
    }
    trade = trouble_of(club.beliefs, lambda _: on_lantern, TroubleOfBody.model_validate(body))
    assert not trade.measured
    body |= {"plan": lantern.model_dump(), "step": coat.id}
    here = trouble_of(club.beliefs, lambda _: on_lantern, TroubleOfBody.model_validate(body))
    assert here.measured
    assert here.causes[0].cause != trade.causes[0].cause
    assert here.repair == trade.repair
