"""What a hand waits for goes first."""

from __future__ import annotations

import threading
import time

import pytest

from haze.service.work import urgent as module
from haze.service.work.urgent import Urgent


def test_longer_work_stands_aside_until_all_that_is_urgent_is_done() -> None:
    urgent, order = Urgent(), []
    begun = threading.Barrier(2)

    def longer() -> None:
        begun.wait()
        urgent.let_by()
        order.append("longer")

    worker = threading.Thread(target=longer)
    with urgent.first(), urgent.first():
        worker.start()
        begun.wait()
        time.sleep(0.02)
        order.append("urgent")
    worker.join(5)
    assert order == ["urgent", "longer"]


def test_without_anything_urgent_nobody_waits(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "PATIENCE_S", 60.0)
    urgent = Urgent()
    urgent.let_by()
    with pytest.raises(ZeroDivisionError), urgent.first():
        raise ZeroDivisionError
    urgent.let_by()  # what failed is over too


def test_longer_work_comes_on_beside_a_hand_that_never_rests(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(module, "PATIENCE_S", 0.01)
    urgent = Urgent()
    with urgent.first():
        urgent.let_by()
