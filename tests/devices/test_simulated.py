"""The simulated devices behave as the real ones do, on a clock that is turned by hand."""

from __future__ import annotations

import pytest

from haze.core.errors import OutOfRangeError
from haze.devices.compressor import CUT_IN_PSI, CUT_OUT_PSI, SimulatedCompressor
from haze.devices.pedal import SimulatedPedal
from haze.devices.room import SWAY_C, SimulatedRoom


class Clock:
    def __init__(self) -> None:
        self.now_s = 0.0

    def __call__(self) -> float:
        return self.now_s


@pytest.fixture
def clock() -> Clock:
    return Clock()


def test_the_line_sags_while_spraying_and_recovers(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    compressor.set_psi(18.0)
    clock.now_s = 10
    assert compressor.read().line_psi == pytest.approx(18.0, abs=0.05)
    compressor.fault = "sag"
    compressor.spray(spraying=True)
    clock.now_s = 20
    sagged = compressor.read().line_psi
    assert sagged == pytest.approx(18.0 * 0.84, abs=0.1)
    compressor.spray(spraying=False)
    clock.now_s = 21
    assert sagged < compressor.read().line_psi < 18.0
    clock.now_s = 30
    assert compressor.read().line_psi == pytest.approx(18.0, abs=0.05)


def test_the_motor_runs_between_cut_in_and_cut_out(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    compressor.spray(spraying=True)
    seen = []
    for second in range(0, 900, 3):
        clock.now_s = float(second)
        seen.append(compressor.read())
    assert any(s.motor for s in seen)
    assert any(not s.motor for s in seen)
    assert all(CUT_IN_PSI - 2 <= s.tank_psi <= CUT_OUT_PSI for s in seen)
    assert seen[-1].moisture > seen[0].moisture
    compressor.drain()
    assert compressor.read().moisture == 0.0


def test_a_motor_that_ran_too_long_rests_and_the_line_falls_with_the_tank(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    compressor.fault = "hot"
    compressor.set_psi(30.0)
    compressor.spray(spraying=True)
    clock.now_s = 170.0
    said = compressor.read()
    assert not said.motor
    assert said.tank_psi < 15
    assert said.line_psi <= said.tank_psi + 1.0


def test_a_leak_empties_the_tank_without_spraying(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    compressor.fault = "leak"
    clock.now_s = 40.0
    assert compressor.read().tank_psi < CUT_OUT_PSI - 5


def test_a_regulator_has_its_range(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    with pytest.raises(OutOfRangeError, match="accepted is 0 to 60"):
        compressor.set_psi(80.0)
    assert compressor.read().set_psi == 20.0


def test_a_long_silence_is_settled_quickly(clock: Clock) -> None:
    compressor = SimulatedCompressor(clock)
    compressor.set_psi(25.0)
    clock.now_s = 1e7
    assert compressor.read().line_psi == pytest.approx(25.0, abs=0.05)


def test_a_room_drifts_to_where_it_is_driven(clock: Clock) -> None:
    room = SimulatedRoom(clock)
    room.drive(30.0, 20.0, at_once=False)
    clock.now_s = 60.0
    soon = room.read()
    clock.now_s = 1500.0
    then = room.read()
    assert soon is not None
    assert then is not None
    assert 20.0 < soon.temperature_c < 27.0
    assert then.temperature_c == pytest.approx(30.0, abs=SWAY_C + 0.1)
    assert then.humidity_pct == pytest.approx(20.0, abs=2.0)
    room.drive(18.0, 60.0, at_once=True)
    now = room.read()
    assert now is not None
    assert now.temperature_c == pytest.approx(18.0, abs=SWAY_C + 0.1)


def test_a_silent_sensor_says_nothing(clock: Clock) -> None:
    room = SimulatedRoom(clock)
    room.fault = "silent"
    assert room.read() is None
    with pytest.raises(OutOfRangeError):
        room.drive(80.0, 50.0, at_once=True)


def test_a_pedal_counts() -> None:
    pedal = SimulatedPedal()
    pedal.press("short")
    pedal.press("long")
    assert (pedal.read().presses, pedal.read().last) == (2, "long")
