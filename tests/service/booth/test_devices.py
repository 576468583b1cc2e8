"""The devices together: switched, driven, heard."""

from __future__ import annotations

import pytest

from haze.core.errors import NothingToDoError
from haze.service.booth.devices import Devices, DriveBody


def test_switched_off_there_are_none() -> None:
    devices = Devices()
    view = devices.view()
    assert (view.simulated, view.compressor, view.room) == (False, None, None)
    with pytest.raises(NothingToDoError):
        devices.drive(DriveBody(set_psi=20))


def test_the_panel_drives_each() -> None:
    devices = Devices()
    devices.switch(on=True)
    view = devices.drive(
        DriveBody(set_psi=24, compressor_fault="wet", temperature_c=28, humidity_pct=30)
    )
    assert view.compressor is not None
    assert view.room is not None
    assert view.compressor.set_psi == 24
    assert view.room.temperature_c == pytest.approx(28, abs=0.5)
    assert devices.drive(DriveBody(room_fault="silent")).room is None
    assert devices.drive(DriveBody(press="long")).presses == 1
    assert devices.view().last_press == "long"


def test_what_needs_the_painter_is_a_sentence() -> None:
    devices = Devices()
    devices.switch(on=True)
    devices.compressor._now = devices.compressor._now.__class__(
        set_psi=30,
        line_psi=20,
        tank_psi=20,
        motor=False,
        duty_share=0.6,
        moisture=0.9,
        spraying=False,
    )
    view = devices.view()
    assert view.compressor is not None
    assert len(view.compressor.warnings) == 3
    assert all(w.endswith(".") for w in view.compressor.warnings)


def test_a_listener_hears_at_once_and_when_something_changes() -> None:
    devices = Devices()
    devices.switch(on=True)
    told = devices.listen()
    first = next(told)
    assert first is not None
    assert first.presses == 0
    devices.drive(DriveBody(press="short"))
    second = next(told)
    assert second is not None
    assert second.presses == 1
    told.close()
