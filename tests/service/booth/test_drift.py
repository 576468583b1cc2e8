"""Gauge and room against what a setting was made for."""

from __future__ import annotations

import pytest

from haze.core.plan.document import Plan
from haze.core.plan.piece import Room
from haze.service.bench import Bench
from haze.service.booth.devices import CompressorView, DevicesView, RoomView
from haze.service.booth.drift import drift
from haze.service.cups.setting import asked_of
from haze.service.cups.trials import AirbrushNamed, PaintNamed, ThroughBody
from haze.service.piece.onpiece import OnPiece


def devices(*, line: float, spraying: bool = False, celsius: float = 20.0, pct: float = 50.0):  # type: ignore[no-untyped-def]
    return DevicesView(
        simulated=True,
        compressor=CompressorView(
            set_psi=20.0,
            line_psi=line,
            tank_psi=55.0,
            motor=False,
            duty_share=0.1,
            moisture=0.1,
            spraying=spraying,
            sags=spraying and line < 19.0,
            fault="none",
            warnings=[],
        ),
        room=RoomView(temperature_c=celsius, humidity_pct=pct),
        room_fault="none",
        presses=0,
        last_press="short",
    )


@pytest.fixture
def through(club: Bench, lantern: Plan, on_lantern: OnPiece) -> ThroughBody:
    coat = lantern.sprayed[0]
    setting = asked_of(on_lantern.spraying(lantern, coat), drop_ul=50.0)
    return ThroughBody(
        paint=PaintNamed(id=coat.paint.id, name=coat.paint.name, kind=coat.paint.kind),
        airbrush=AirbrushNamed(
            id=lantern.airbrush.id,
            name=lantern.airbrush.name,
            needle_mm=lantern.airbrush.needle_mm,
        ),
        setting=setting,
    )


def test_nothing_is_said_while_all_is_as_planned(club: Bench, through: ThroughBody) -> None:
    planned = through.setting.pressure_psi
    said = drift(club.beliefs, through, devices(line=planned + 0.3, celsius=20.8, pct=53))
    assert (said.sign, said.words, said.knob) == ("clean", [], None)


def test_a_sag_is_told_with_how_far_to_turn(club: Bench, through: ThroughBody) -> None:
    planned = through.setting.pressure_psi
    said = drift(club.beliefs, through, devices(line=planned - 4, spraying=True))
    words = " ".join(said.words)
    assert "sags" in words
    assert "up by 4.0 psi" in words
    assert said.sign in ("mind", "stop")


def test_a_regulator_set_wrong_is_no_sag(club: Bench, through: ThroughBody) -> None:
    said = drift(club.beliefs, through, devices(line=through.setting.pressure_psi + 5))
    assert "down by 5.0 psi" in " ".join(said.words)


def test_a_hot_dry_room_that_spoils_it_is_told_with_the_one_thing_to_change(
    club: Bench, through: ThroughBody
) -> None:
    planned = through.setting.pressure_psi
    far = through.setting.model_copy(update={"distance_mm": 150.0, "thinner_parts": 0.2})
    body = through.model_copy(update={"setting": far})
    said = drift(club.beliefs, body, devices(line=planned, celsius=38, pct=15))
    assert "38.0 °C" in said.words[0]
    if said.sign == "stop" and said.knob:
        assert said.to is not None
        assert "no longer clean" in " ".join(said.words)
    else:
        assert said.words[-1].startswith("It ")


def test_without_devices_nothing_is_judged(club: Bench, through: ThroughBody) -> None:
    off = devices(line=5).model_copy(update={"compressor": None, "room": None})
    assert drift(club.beliefs, through, off).words == []


@pytest.mark.parametrize(("celsius", "pct"), [(26.0, 51.0), (20.5, 62.0)])
def test_a_room_that_is_off_in_one_thing_alone_is_told(
    club: Bench, through: ThroughBody, celsius: float, pct: float
) -> None:
    planned = through.setting
    body = through.model_copy(
        update={
            "setting": planned.model_copy(
                update={"room": Room(temperature_c=20.0, humidity_pct=50.0)}
            )
        }
    )
    said = drift(club.beliefs, body, devices(line=planned.pressure_psi, celsius=celsius, pct=pct))
    assert f"{celsius:.1f} °C and {pct:.0f} %" in said.words[0]
