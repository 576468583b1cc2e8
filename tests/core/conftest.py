"""A small shelf: enough for every scheme."""

from __future__ import annotations

import pytest

from haze.core.drafting.stock import Stock
from haze.core.plan.paint import PaintUsed, ThinnerUsed

ROWS = (
    ("Bilge Black", "primer", "#17181a", "opaque", "matt"),
    ("Chalk Ground", "primer", "#e9e8e2", "opaque", "matt"),
    ("Slate", "airbrush_acrylic", "#6f7478", "opaque", "matt"),
    ("Pewter Rain", "airbrush_acrylic", "#8b9093", "opaque", "matt"),
    ("Wrack Green", "airbrush_acrylic", "#4b5a35", "opaque", "satin"),
    ("Deep Weed", "airbrush_acrylic", "#2c3a24", "opaque", "matt"),
    ("Spring Slick", "airbrush_acrylic", "#a3b06a", "opaque", "matt"),
    ("Tern White", "white", "#f3f2ec", "opaque", "matt"),
    ("Lamp Amber", "transparent", "#f2a01c", "transparent", "satin"),
    ("Bottle Green", "transparent", "#2f6b3a", "transparent", "satin"),
    ("Bright Steel", "metallic", "#b4b8bb", "opaque", "satin"),
    ("Bilge Wash", "enamel_wash", "#3a2a1c", "transparent", "matt"),
    ("Quay Matt", "varnish", "#f6f6f2", "transparent", "matt"),
    ("Quay Satin", "varnish", "#f6f6f2", "transparent", "satin"),
    ("Quay Gloss", "varnish", "#f6f6f2", "transparent", "gloss"),
)


@pytest.fixture(scope="session")
def stock() -> Stock:
    paints = tuple(
        PaintUsed.model_validate(
            {
                "id": name.lower().replace(" ", "-"),
                "name": name,
                "kind": kind,
                "masstone": masstone,
                "opacity": opacity,
                "finish": finish,
            }
        )
        for name, kind, masstone, opacity, finish in ROWS
    )
    thinners = (
        ThinnerUsed(id="w", name="water", kind="water"),
        ThinnerUsed(id="a", name="acrylic thinner", kind="acrylic_thinner"),
        ThinnerUsed(id="s", name="white spirit", kind="spirit"),
    )
    return Stock(paints=paints, thinners=thinners)


@pytest.fixture(scope="session")
def paint(stock: Stock) -> dict[str, PaintUsed]:
    """Its paints by name."""
    return {p.name: p for p in stock.paints}
