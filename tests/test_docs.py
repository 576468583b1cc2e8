"""The nomenclature page is complete, and no document is left behind."""

from __future__ import annotations

import ast
import json
import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from importlib import import_module
from pathlib import Path
from pkgutil import walk_packages

import haze.core
from haze.cli import parser
from haze.core.plan import document

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src" / "haze" / "core"
LINKS = re.compile(r"\]\(([\w./-]+)")
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


def test_every_command_is_described_and_every_view_shown() -> None:
    page = (ROOT / "docs" / "command-line.md").read_text("utf-8")
    readme = (ROOT / "README.md").read_text("utf-8")
    commands = next(a for a in parser()._actions if a.metavar == "command").choices
    assert commands is not None
    for name in commands:
        assert f"haze {name}" in page
    shots = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert 5 <= len(shots) < 20
    for shot in shots:
        assert f"docs/screenshots/{shot}" in readme


def test_links_between_documents_lead_somewhere() -> None:
    pages = [*(ROOT / "docs").glob("*.md"), ROOT / "README.md", ROOT / "CONTRIBUTING.md"]
    links = [(page, link) for page in pages for link in LINKS.findall(page.read_text("utf-8"))]
    assert len(links) > 40
    assert [(p.name, link) for p, link in links if not (p.parent / link).exists()] == []


def test_lock_files_name_no_host() -> None:
    for name in ("requirements.lock", "requirements-dev.lock"):
        assert "://" not in (ROOT / name).read_text("utf-8"), name
    packages = json.loads((ROOT / "ui" / "package-lock.json").read_text("utf-8"))["packages"]
    assert len(packages) > 100
    # where a package asks for support is no place it is fetched from
    told = [{k: v for k, v in p.items() if k != "funding"} for p in packages.values()]
    assert "://" not in json.dumps(told)


def rows(page: str, heading: str) -> list[list[str]]:
    """The rows of the table under a heading, cells stripped, head and rule left out."""
    text = page.split(f"## {heading}", 1)[1].split("\n## ", 1)[0]
    lines = [line for line in text.splitlines() if line.startswith("|")][2:]
    return [[cell.strip() for cell in line.strip("|").split("|")] for line in lines]


def test_the_architecture_says_where_things_are() -> None:
    page = (ROOT / "docs" / "architecture.md").read_text("utf-8")
    places = rows(page, "Where is …")
    assert len(places) >= 25
    for what, where in places:
        assert (ROOT / where.strip("`")).exists(), what
    assert len({what for what, _ in places}) == len(places)
    named = {name.strip("`/, ") for row in rows(page, "Rooms") for name in row[0].split(",")}
    there = {p.name for p in CORE.parent.iterdir() if p.is_dir() and p.name != "__pycache__"}
    assert there <= named


def test_how_to_add_something_names_files_there_are() -> None:
    page = (ROOT / "CONTRIBUTING.md").read_text("utf-8")
    ways = page.split("## How to add a …", 1)[1].split("\n## ", 1)[0]
    kinds = re.findall(r"^\*\*(.+)\.\*\*$", ways, re.MULTILINE)
    assert len(kinds) == 8
    named = re.findall(r"`((?:src|ui|tests|tools)/[\w./-]+)`", ways)
    assert len(named) >= 25
    assert [path for path in named if not (ROOT / path).exists()] == []
    targets = re.findall(r"`make (\w+)`", ways)
    makefile = (ROOT / "Makefile").read_text("utf-8")
    assert [t for t in targets if f"\n{t}:" not in makefile] == []


def test_the_walks_name_what_is_there() -> None:
    page = (ROOT / "docs" / "architecture.md").read_text("utf-8")
    walks = page.split("## Five walks", 1)[1].split("\n## ", 1)[0]
    assert walks.count("**") == 10
    named = re.findall(r"`((?:film|plan|spray|onpiece|service)/[a-z_/]+)\.(\w+)`", walks)
    assert len(named) > 12
    for module, name in named:
        room = "haze." if module.startswith("service/") else "haze.core."
        found = import_module(room + module.replace("/", "."))
        assert hasattr(found, name), (module, name)


def test_every_model_names_its_module() -> None:
    page = (ROOT / "docs" / "models.md").read_text("utf-8")
    spray = rows(page, "A. Spray (`core/spray`)")
    assert len(spray) > 12
    for row in spray:
        assert (CORE / row[-1].strip("`")).exists(), row[0]
    titles = re.findall(r"^(?:- )?\*\*([A-Z][a-z -]+)\*\*(.*)$", page.split("## B.", 1)[1], re.M)
    assert len(titles) > 20
    for title, rest in titles:
        assert "(`" in rest[:3], f"{title} names no module"
    for path in re.findall(r"`((?:\w+/)+\w+\.py)`", page):
        under = ROOT if path.startswith(("tests/", "tools/")) else CORE
        assert (under / path.removeprefix("core/")).exists(), path


def public_functions(body: list[ast.stmt]) -> Iterator[ast.FunctionDef]:
    for node in body:
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from public_functions(node.body)
        elif isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield node


def test_public_functions_of_the_core_say_every_parameter() -> None:
    seen, silent = 0, []
    for file in CORE.rglob("*.py"):
        # rules share their parameters; rule.py says them once
        shared = {"plan", "facts", "step", "stock"} if file.parent.name == "rules" else set()
        for function in public_functions(ast.parse(file.read_text("utf-8")).body):
            seen += 1
            told = set(re.findall(r"\w+", ast.get_docstring(function) or ""))
            given = function.args
            names = {a.arg for a in (*given.posonlyargs, *given.args, *given.kwonlyargs)}
            missing = names - {"self", "cls"} - shared - told
            silent += [f"{file.name}: {function.name}: {name}" for name in missing]
    assert seen > 400
    assert silent == []


GUIDE = (ROOT / "docs" / "guide.md").read_text("utf-8")


def on_screens() -> str:
    """All texts of the screens, and of what the core gives them to say."""
    found = [
        p.read_text("utf-8")
        for p in (ROOT / "ui" / "src").rglob("*")
        if p.suffix in (".vue", ".ts")
    ]
    found += [p.read_text("utf-8") for p in (ROOT / "src" / "haze").rglob("*.py")]
    return re.sub(r"\s+", " ", "\n".join(found))


def test_the_guide_names_only_what_stands_on_the_screens() -> None:
    screens = on_screens()
    labels = {
        re.sub(r"\s+", " ", label) for label in re.findall(r"\*\*(.+?)\*\*", GUIDE, re.DOTALL)
    }
    assert len(labels) > 30
    assert {label for label in labels if label != "bold" and label not in screens} == set()


def test_the_guide_names_only_keys_and_commands_there_are() -> None:
    listed = (ROOT / "ui" / "src" / "keys.ts").read_text("utf-8")
    keys = set(re.findall(r"`\[(.+?)\]`", GUIDE)) - {"so"}
    assert len(keys) >= 7
    known = set(re.findall(r"\['(.+?)',", listed))
    known |= {part for key in known for part in key.split()}
    assert {key for key in keys if key not in known} == set()
    commands = next(a for a in parser()._actions if a.metavar == "command").choices
    assert commands is not None
    named = set(re.findall(r"`haze ([a-z]+)", GUIDE))
    assert named
    assert named <= set(commands)


def test_the_guide_shows_pictures_there_are_and_goes_in_the_order_of_the_work() -> None:
    for picture in re.findall(r"!\[.+?\]\((.+?)\)", GUIDE):
        assert (ROOT / "docs" / picture).exists()
    assert re.findall(r"^## (.+)$", GUIDE, re.MULTILINE) == [
        "A first plan in five minutes",
        "A unit of ten",
        "A vehicle",
        "Terrain",
        "A glow",
        "Two colours of light",
        "Something wrong at the bench",
        "Cards",
        "Doing it again",
        "A new computer",
        "Words",
    ]
