"""Results kept by what they depend on."""

from __future__ import annotations

import threading

import pytest

from haze.service.work.memo import Memo
from helpers import WAIT_S


def test_a_result_is_made_once_from_its_key_alone() -> None:
    made: list[int] = []

    def double(key: int) -> int:
        made.append(key)
        return 2 * key

    memo: Memo[int, int] = Memo(8)
    assert [memo.of(k, double) for k in (3, 4, 3)] == [6, 8, 6]
    assert made == [3, 4]
    assert 3 in memo
    assert 5 not in memo
    assert memo.find(5) is None
    memo.put(5, 1)
    assert memo.of(5, double) == 1


def test_the_least_used_goes_first() -> None:
    memo: Memo[str, str] = Memo(2)
    for key in ("a", "b", "a", "c"):
        memo.of(key, str.upper)
    assert [k in memo for k in "abc"] == [True, False, True]


def test_what_fails_is_tried_again_and_blocks_nobody() -> None:
    memo: Memo[str, str] = Memo(2)

    def broken(_: str) -> str:
        raise ZeroDivisionError

    for _ in range(2):
        with pytest.raises(ZeroDivisionError):
            memo.of("a", broken)
    assert memo.of("a", str.upper) == "A"


def test_the_same_result_is_never_made_twice_at_once_and_others_do_not_wait() -> None:
    memo: Memo[str, str] = Memo(4)
    begun, go_on = threading.Event(), threading.Event()
    made: list[str] = []

    def slow(key: str) -> str:
        made.append(key)
        begun.set()
        assert go_on.wait(WAIT_S)
        return key.upper()

    found: list[str] = []
    both = [threading.Thread(target=lambda: found.append(memo.of("a", slow))) for _ in range(2)]
    for thread in both:
        thread.start()
    assert begun.wait(WAIT_S)
    assert memo.of("b", str.upper) == "B"
    assert "a" not in memo
    go_on.set()
    for thread in both:
        thread.join(WAIT_S)
    assert found == ["A", "A"]
    assert made == ["a"]


def test_a_result_may_be_made_from_another_of_the_same_memo() -> None:
    memo: Memo[int, int] = Memo(50)

    def sum_to(n: int) -> int:
        return n + memo.of(n - 1, sum_to) if n else 0

    assert memo.of(30, sum_to) == 465
