"""Cautions follow from the materials."""

from __future__ import annotations

from haze.core.rules.cautions import coat_cautions, plan_cautions
from helpers import coat, plan


def test_solvent_coats_call_for_a_vapour_cartridge() -> None:
    water = {c.id for c in coat_cautions(coat())}
    solvent = coat_cautions(coat(kind="lacquer"))
    assert "mist" in water
    assert "solvent" not in water
    assert solvent[0].id == "solvent"
    assert solvent[0].sign == "stop"
    high = {c.id for c in coat_cautions(coat(pressure_psi=55))}
    assert "high_pressure" in high


def test_a_plan_tells_each_caution_once_and_the_gravest_first() -> None:
    told = plan_cautions(plan(coat("a"), coat("b", kind="lacquer"), coat("c")))
    assert len({c.id for c in told}) == len(told)
    assert told[0].sign == "stop"
    assert {"mist", "skin", "air", "home", "label", "solvent"} <= {c.id for c in told}
