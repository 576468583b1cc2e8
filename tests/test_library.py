"""What docs/core.md says of the core as a library."""

from __future__ import annotations

import doctest
import re
from importlib import import_module
from inspect import getdoc
from pathlib import Path

PAGE = Path(__file__).parents[1] / "docs" / "core.md"
ROW = re.compile(r"^\| `(haze\.[\w.]+)` \| (.+) \|$", re.MULTILINE)


def promised() -> dict[str, set[str]]:
    """Names of each module that may be relied on."""
    return {
        module: set(re.findall(r"`(\w+)`", names))
        for module, names in ROW.findall(PAGE.read_text("utf-8"))
    }


def test_the_examples_give_what_they_say() -> None:
    found = doctest.testfile(str(PAGE), module_relative=False)
    assert found.attempted > 35
    assert found.failed == 0


def test_modules_say_the_same_as_the_page() -> None:
    core = Path(__file__).parents[1] / "src" / "haze" / "core"
    declared = {
        ".".join(("haze", "core", *path.relative_to(core).with_suffix("").parts))
        for path in core.rglob("*.py")
        if re.search(r"^__all__", path.read_text("utf-8"), re.MULTILINE)
    }
    assert declared == set(promised())
    for module, names in promised().items():
        assert set(import_module(module).__all__) == names, module


def test_what_is_promised_is_documented() -> None:
    for module, names in promised().items():
        for name in names:
            thing = getattr(import_module(module), name)
            assert getdoc(thing), f"{module}.{name}"
