"""Plants small faults in a room of the code, one at a time, and counts what its own tests catch.

`python tools/mutants.py core/day/schedule --count 30` works on copies: the code is not touched.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from copy import deepcopy
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

ROOT = Path(__file__).parents[1]
CODE, TESTS = ROOT / "src" / "haze", ROOT / "tests"
LEAST_LIMIT_S = 60.0
SWAPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.And: ast.Or,
    ast.Or: ast.And,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
SWAPPED_NAMES = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Mutant:
    """One fault: the `number`-th place of a module that can be made wrong."""

    module: Path
    number: int
    line: int
    was: str
    now: str


def changed(node: ast.AST) -> ast.AST | None:
    """The node with a small fault; None where it has no place for one."""
    out = deepcopy(node)
    if isinstance(out, ast.Compare):
        out.ops[0] = SWAPPED[type(out.ops[0])]()  # type: ignore[assignment]
    elif isinstance(out, ast.BoolOp | ast.BinOp | ast.AugAssign) and type(out.op) in SWAPPED:
        out.op = SWAPPED[type(out.op)]()  # type: ignore[assignment]
    elif isinstance(out, ast.UnaryOp) and isinstance(out.op, ast.Not):
        return out.operand
    elif isinstance(out, ast.Constant) and type(out.value) in (int, float):
        out.value = out.value + 1 if type(out.value) is int else out.value * 1.5 + 0.1
    elif isinstance(out, ast.Name) and out.id in SWAPPED_NAMES:
        out.id = SWAPPED_NAMES[out.id]
    elif isinstance(out, ast.IfExp):
        out.body, out.orelse = out.orelse, out.body
    elif isinstance(out, ast.Break | ast.Continue):
        return ast.copy_location(ast.Pass(), out)
    else:
        return None
    return out


class Planter(ast.NodeTransformer):
    """Goes through the places of a module in order and makes one of them wrong."""

    def __init__(self, number: int | None = None) -> None:
        self._number = number
        self.places: list[tuple[ast.AST, ast.AST]] = []

    def visit(self, node: ast.AST) -> ast.AST:
        wrong = changed(node)
        if wrong is not None:
            self.places.append((node, wrong))
            if len(self.places) - 1 == self._number:
                return wrong
        return super().visit(node)

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        if node.value:
            node.value = self.visit(node.value)
        return node

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        node.body = [self.visit(one) for one in node.body]
        return node


def mutants(module: Path) -> Iterator[Mutant]:
    """All faults that can be planted in a module."""
    planter = Planter()
    planter.visit(ast.parse(module.read_text("utf-8")))
    for n, (node, wrong) in enumerate(planter.places):
        yield Mutant(module, n, node.lineno, _short(node), _short(wrong))  # type: ignore[attr-defined]


def _short(node: ast.AST) -> str:
    return " ".join(ast.unparse(node).split())[:70]


def planted(mutant: Mutant) -> str:
    """The source of a module with its fault."""
    tree = ast.parse(mutant.module.read_text("utf-8"))
    return ast.unparse(ast.fix_missing_locations(Planter(mutant.number).visit(tree)))


def copied(folder: Path) -> Path:
    """A copy of the code; data and screens are linked."""
    shutil.copytree(
        CODE,
        folder / "haze",
        ignore=shutil.ignore_patterns("__pycache__", "static"),
    )
    (folder / "haze" / "web" / "static").symlink_to(CODE / "web" / "static")
    return folder


def passes(folder: Path, room: str, limit_s: float) -> bool:
    """Whether the room's own tests pass on a copy of the code; too slow is a failure."""
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider"]
    environment = os.environ | {"PYTHONPATH": str(folder), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        done = subprocess.run(
            [*command, str(TESTS / room)],
            cwd=ROOT,
            env=environment,
            capture_output=True,
            timeout=limit_s,
        )
    except subprocess.TimeoutExpired:
        return False
    return done.returncode == 0


def survives(mutant: Mutant, room: str, free: SimpleQueue[Path], limit_s: float) -> bool:
    """Whether the tests pass in spite of the fault."""
    folder = free.get()
    path = folder / "haze" / mutant.module.relative_to(CODE)
    try:
        path.write_text(planted(mutant), "utf-8")
        return passes(folder, room, limit_s)
    finally:
        shutil.copy(mutant.module, path)
        free.put(folder)


def chosen(room: str, count: int, seed: int) -> list[Mutant]:
    """Some of all faults of a room, the same for the same seed."""
    found = CODE / room
    modules = sorted(found.rglob("*.py")) if found.is_dir() else [found.with_suffix(".py")]
    every = [mutant for module in modules for mutant in mutants(module)]
    return sorted(
        random.Random(seed).sample(every, min(count, len(every))),
        key=lambda mutant: (mutant.module, mutant.number),
    )


def main() -> None:
    """Plant, test and report."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("room", help="a folder or module under src/haze, such as core/day/schedule")
    asked.add_argument(
        "--tests", help="folder or file under tests; the mirrored one when not given"
    )
    asked.add_argument("--count", type=int, default=30)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--at-once", type=int, default=2)
    given = asked.parse_args()
    tests = given.tests or given.room
    with tempfile.TemporaryDirectory() as folder:
        free: SimpleQueue[Path] = SimpleQueue()
        for n in range(given.at_once):
            free.put(copied(Path(folder) / str(n)))
        begun = time.monotonic()
        if not passes(Path(folder) / "0", tests, 600.0):
            sys.exit(f"The tests of {given.room} do not pass as the code is.")
        took = time.monotonic() - begun
        limit = max(LEAST_LIMIT_S, 4 * took)
        planted_now = chosen(given.room, given.count, given.seed)
        with ThreadPoolExecutor(given.at_once) as pool:
            alive = list(pool.map(lambda m: survives(m, tests, free, limit), planted_now))
    for mutant in (m for m, living in zip(planted_now, alive, strict=True) if living):
        where = mutant.module.relative_to(CODE)
        print(f"survived  {where}:{mutant.line}  {mutant.was}  →  {mutant.now}")
    caught = len(alive) - sum(alive)
    print(
        f"{given.room}: {caught} of {len(alive)} caught ({caught / len(alive):.0%}); "
        f"its tests take {took:.0f} s"
    )


if __name__ == "__main__":
    main()
