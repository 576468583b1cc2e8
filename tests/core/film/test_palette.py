"""Drops of a mix."""

from __future__ import annotations

from math import gcd

from haze.core.film.palette import compositions


def test_compositions_are_all_and_none_twice() -> None:
    found = compositions(3, 8)
    assert len(found) == len(set(found)) == 52
    assert all(sum(c) <= 8 and min(c) >= 1 and gcd(*c) == 1 for c in found)
    assert compositions(1, 8) == ((1,),)
    assert (2, 2) not in compositions(2, 8)
