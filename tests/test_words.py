"""Screens, findings, help and pages say each thing by the one word of docs/nomenclature.md."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "nomenclature.md"
CODE, SCREENS = ROOT / "src" / "haze", ROOT / "ui" / "src"
ROW = re.compile(r"^\| .+ \| (.+) \|$", re.MULTILINE)
REMARKS = re.compile(r"<!--.*?-->|/\*.*?\*/|(?<![:'\"`])//[^\n]*", re.DOTALL)
FIRST_WORDS = "## On screen"


def replaced() -> list[str]:
    """What is not said any more, from the second column of the table."""
    rows = ROW.findall(PAGE.read_text("utf-8").split(FIRST_WORDS)[1])
    return [
        word.strip() for row in rows[1:] for word in re.split("; " if "; " in row else ", ", row)
    ]


def as_words(old: str) -> re.Pattern[str]:
    """Not as a part of a longer word, and not as a name in code, which stands alone in quotes."""
    return re.compile(rf"(?<![\w'\"-]){re.escape(old)}(?![\w'-])")


OLD = [(old, as_words(old)) for old in replaced()]


def strings(path: Path) -> Iterator[str]:
    """The texts of a module that somebody may read; no docstrings, no names of things."""
    tree = ast.parse(path.read_text("utf-8"))
    doc = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in doc:
            yield "" if node.value.isidentifier() else node.value


def texts() -> list[Path]:
    pages = [p for p in (ROOT / "docs").glob("*.md") if p != PAGE] + [ROOT / "README.md"]
    screens = [p for p in SCREENS.rglob("*") if p.suffix in (".vue", ".ts")]
    generated = {SCREENS / "api" / "schema.d.ts"}
    return pages + [p for p in screens if p not in generated] + list(CODE.rglob("*.py"))


def read(path: Path) -> str:
    if path.suffix == ".py":
        return "\n".join(strings(path))
    text = path.read_text("utf-8")
    return text if path.suffix == ".md" else REMARKS.sub("", text)


def met(text: str) -> list[str]:
    return [old for old, pattern in OLD if pattern.search(text)]


def test_no_word_that_was_replaced_is_used() -> None:
    found = {str(p.relative_to(ROOT)): words for p in texts() if (words := met(read(p)))}
    assert not found


def test_the_table_is_read_and_old_words_are_seen() -> None:
    assert len(OLD) > 60
    assert met("Press Unpin, not Pin it here") == ["Pin it here"]
    assert met("It was tacked; nothing is blown") == ["tacked"]
    assert met("manewed, attacked, tacked-on") == []
