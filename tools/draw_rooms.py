"""Draw docs/rooms.svg: the rooms of Haze, and which of them imports which, from the imports.

An arrow stands only where no longer way leads there. With `--check` nothing is written; a stale
picture ends the run with status 1.
"""

from __future__ import annotations

import sys
from html import escape
from itertools import groupby
from pathlib import Path

import grimp
import networkx as nx

TARGET = Path(__file__).parent.parent / "docs" / "rooms.svg"
DIVIDED = ("haze.core", "haze.service")  # whose rooms are drawn one by one
WIDE, HIGH, GAP_X, GAP_Y, MARGIN = 118, 30, 22, 26, 16
COLUMNS = {"service": 1.6, "core": 4.2}  # middles, in rooms; all others stand at 0
FILLS = {"service": "#e8eef4", "core": "#f3ece2"}
STYLE = (
    "text{font:12px sans-serif;text-anchor:middle;fill:#222}"
    "path{fill:none;stroke:#777}rect{stroke:#555}"
)
HEAD = (
    '<defs><marker id="head" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" '
    'markerHeight="7" orient="auto"><path d="M0 1L7 4L0 7"/></marker></defs>'
)


def rooms() -> nx.DiGraph:
    """Rooms as nodes, an edge from each to those it imports, without what a longer way says."""
    graph = grimp.build_graph("haze")
    tops = sorted(graph.find_children("haze") - {"haze.__main__"})
    names = [r for top in tops for r in (graph.find_children(top) if top in DIVIDED else [top])]
    found = nx.DiGraph()
    found.add_nodes_from(sorted(names))
    for one in names:
        for other in names:
            if one != other and graph.direct_import_exists(
                importer=one, imported=other, as_packages=True
            ):
                found.add_edge(one, other)
    return nx.transitive_reduction(found)


def levels(found: nx.DiGraph) -> dict[str, int]:
    """How far each room lies below the top: below all that import it."""
    level: dict[str, int] = {}
    for room in nx.topological_sort(found):
        level[room] = max((level[p] + 1 for p in found.predecessors(room)), default=0)
    return level


def places(found: nx.DiGraph) -> dict[str, tuple[float, float]]:
    """Middle of each room [px]: rows by level, columns by what it is part of."""
    level = levels(found)
    by_place = sorted(found.nodes, key=lambda r: (level[r], _column(r), r))
    placed: dict[str, tuple[float, float]] = {}
    for (row, column), together in groupby(by_place, key=lambda r: (level[r], _column(r))):
        members = list(together)
        for n, room in enumerate(members):
            x = (column + n - (len(members) - 1) / 2) * (WIDE + GAP_X)
            placed[room] = (x, MARGIN + HIGH / 2 + row * (HIGH + GAP_Y))
    least = min(x for x, _ in placed.values()) - WIDE / 2 - MARGIN
    return {room: (x - least, y) for room, (x, y) in placed.items()}


def _column(room: str) -> float:
    return COLUMNS.get(room.split(".")[1], 0.0)


def svg() -> str:
    """The picture."""
    found = rooms()
    at = places(found)
    wide = max(x for x, _ in at.values()) + WIDE / 2 + MARGIN
    high = max(y for _, y in at.values()) + HIGH / 2 + MARGIN
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide:.0f} {high:.0f}">',
        f"<title>Rooms of Haze and what they import</title><style>{STYLE}</style>",
        HEAD,
    ]
    for one, other in sorted(found.edges):
        (x0, y0), (x1, y1) = at[one], at[other]
        y0, y1, middle = y0 + HIGH / 2, y1 - HIGH / 2, (y0 + y1) / 2
        lines.append(
            f'<path marker-end="url(#head)" d="M{x0:.0f} {y0:.0f}C{x0:.0f} {middle:.0f} '
            f'{x1:.0f} {middle:.0f} {x1:.0f} {y1:.0f}"/>'
        )
    for room, (x, y) in sorted(at.items()):
        top, name = room.split(".")[1], room.rsplit(".", 1)[-1]
        words = name if top == name else f"{top} · {name}"
        lines.append(
            f'<rect x="{x - WIDE / 2:.0f}" y="{y - HIGH / 2:.0f}" width="{WIDE}" height="{HIGH}" '
            f'rx="4" fill="{FILLS.get(top, "#ffffff")}"/>'
            f'<text x="{x:.0f}" y="{y + 4:.0f}">{escape(words)}</text>'
        )
    return "\n".join([*lines, "</svg>\n"])


def main() -> int:
    """Write it, or say whether it is stale."""
    made = svg()
    if "--check" in sys.argv:
        if TARGET.exists() and TARGET.read_text("utf-8") == made:
            return 0
        print(f"{TARGET.name} is stale: run `make rooms`", file=sys.stderr)
        return 1
    TARGET.write_text(made, "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
