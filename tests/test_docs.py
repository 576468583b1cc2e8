"""The nomenclature page is complete, and no document is left behind."""

from __future__ import annotations

import json
import re
from dataclasses import fields, is_dataclass
from importlib import import_module
from pathlib import Path
from pkgutil import walk_packages

import haze.core
from haze.cli import parser
from haze.core.plan import document

ROOT = Path(__file__).parents[1]
PAGE = (ROOT / "docs" / "nomenclature.md").read_text("utf-8")
UNITLESS = re.compile(r"(share|parts|trigger|passes|copies|cut|contrast|solids|crowding|transfer)")
LOOKS_LIKE_A_UNIT = re.compile(
    r"_(mm|cm|m|um|nm|ml|ul|l|kg|g|pa|psi|bar|kpa|n|mn|s|min|h|deg|rad|c|f|k|pct|in|inch)2?3?$"
)


def endings() -> set[str]:
    return set(re.findall(r"`(_[a-z0-9_]+)`", PAGE))


def quantities() -> set[str]:
    found: set[str] = set()
    for info in walk_packages(haze.core.__path__, "haze.core."):
        for thing in vars(import_module(info.name)).values():
            if is_dataclass(thing) and isinstance(thing, type):
                found |= {f.name for f in fields(thing)}
    for thing in vars(document).values():
        found |= set(getattr(thing, "model_fields", {}))
    return found


def test_every_unit_in_a_name_is_on_the_page() -> None:
    known = endings()
    assert len(known) > 20
    names = {n for n in quantities() if LOOKS_LIKE_A_UNIT.search(n) and not UNITLESS.search(n)}
    assert len(names) > 40
    missing = {n for n in names if not any(n.endswith(e) for e in known)}
    assert missing == set()


def test_the_readme_names_every_command_and_shows_every_view() -> None:
    readme = (ROOT / "README.md").read_text("utf-8")
    commands = next(a for a in parser()._actions if a.metavar == "command").choices
    assert commands is not None
    for name in commands:
        assert f"haze {name}" in readme
    shots = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert 5 <= len(shots) < 20
    for shot in shots:
        assert f"docs/screenshots/{shot}" in readme


def test_lock_files_name_no_host() -> None:
    for name in ("requirements.lock", "requirements-dev.lock"):
        assert "://" not in (ROOT / name).read_text("utf-8"), name
    packages = json.loads((ROOT / "ui" / "package-lock.json").read_text("utf-8"))["packages"]
    assert len(packages) > 100
    # where a package asks for support is no place it is fetched from
    told = [{k: v for k, v in p.items() if k != "funding"} for p in packages.values()]
    assert "://" not in json.dumps(told)
