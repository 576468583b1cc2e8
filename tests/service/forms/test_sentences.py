"""Lists in sentences."""

from __future__ import annotations

import pytest

from haze.service.forms.sentences import listed


@pytest.mark.parametrize(
    ("names", "words"),
    [(["a"], "a"), (["a", "b"], "a and b"), (("a", "b", "c"), "a, b and c")],
)
def test_names_are_listed_as_one_says_them(names: list[str], words: str) -> None:
    assert listed(names) == words
