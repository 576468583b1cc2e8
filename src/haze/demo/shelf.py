"""The club's shelf: about ninety made-up paints of three made-up makers, of every kind."""

from __future__ import annotations

from haze.core.spray.constants import PaintKind
from haze.service.shelf.files import slug
from haze.store.shelf import PaintRow

# name, colour; grouped by maker, range, kind, opacity, finish, drop [µl]
_TIDELINE = """
Harbour Grey #6f757b · Slate #4a5058 · Fog Bank #a9b0b4 · Gull Wing #c9cdcd
Pewter Rain #8b9196 · Wrack Green #4b5a35 · Eelgrass #5f7a3c · Samphire #8aa24f
Spring Moss #b6c274 · Bottle Dark #26362b · Shoal Blue #3f6f8c · Deep Channel #24405c
Slack Water #6f9cb0 · Ice Float #b9d3da · Storm Petrel #2b3442 · Buoy Red #a8322c
Cockle Shell #c98d7b · Sunset Net #d1623a · Rust Chain #7d4327 · Brick Quay #8d5241
Gannet Yellow #e0b23a · Sand Spit #cdb88a · Wet Sand #9d8763 · Heron Mauve #6d5a78
Sea Holly #7c86a8 · Urchin Plum #5a2f43 · Oilskin Ochre #b98a2e · Kipper Brown #5d4029
Signal Orange #d9762b
"""
_ROPEWALK = """
Rope Buff #b79a68 · Tar Brown #3b2a20 · Hemp #c8b78c · Caulk #6b5a48 · Old Canvas #d8ccb0
Dock Oak #7a5a3a · Sailcloth #ece2c8 · Flesh Tallow #d8a98a · Weathered Cheek #b47a5e
Lee Shadow #55463f · Pilot Navy #1f2c47 · Ensign Red #8f1f24 · Kelp Bed #3d4a2a
Dune Grass #a7a46a · Thrift Pink #c77f93
"""
_GLASS = """
Lamp Amber #f2a01c · Dawn Rose #e08a86 · Pool Glow #5ecfc4 · Bottle Green #4a9a63
Deep Blue Glass #3f74b8 · Port Light #d2413c · Violet Hour #8a62b0 · Smoke #8a8076
Honey Varnish #d9a860 · Copper Sun #d9793f · Weed Glass #7f9a3e · Night Water #33506e
"""
_INKS = """
Kelp Ink #2f5a3c · Cuttle Ink #2b2622 · Mussel Ink #2c3658 · Rust Ink #8a4a24
Whelk Ink #6a2f52
"""
_METALS = """
Brass Rail #a98545 · Bright Steel #b4b8bb · Gun Barrel #5a5d61 · Anchor Iron #3f4042
Bell Bronze #8a6338 · Copper Pipe #a9623e · Old Pewter #84878a
"""


def _named(text: str) -> list[tuple[str, str]]:
    entries = [e.strip() for e in text.replace("\n", "·").split("·") if e.strip()]
    return [(e[: e.rindex("#")].strip(), e[e.rindex("#") :]) for e in entries]


def _row(
    maker: str,
    line: str,
    name: str,
    kind: PaintKind,
    colour: str,
    opacity: str,
    *,
    finish: str = "matt",
    drop_ul: float = 50.0,
    ml_left: float = 12.0,
    fluorescent: float = 0.0,
) -> PaintRow:
    return PaintRow(
        id=slug(maker, name),
        maker=maker,
        name=name,
        kind=kind,
        masstone=colour,
        opacity=opacity,
        finish=finish,
        drop_ul=drop_ul,
        range=line,
        ml_left=ml_left,
        fluorescent=fluorescent,
    )


def _left(name: str, bottle_ml: float) -> float:
    """What is left of a bottle; nobody uses all alike."""
    return round(bottle_ml * (0.25 + 0.7 * (sum(map(ord, name)) % 17) / 16), 1)


def paints() -> list[PaintRow]:
    """The whole shelf."""
    rows = [
        _row("Oddmere", "Tideline", n, "airbrush_acrylic", c, "opaque", ml_left=_left(n, 17))
        for n, c in _named(_TIDELINE)
    ]
    rows += [
        _row(
            "Tolvane", "Ropewalk", n, "brush_acrylic", c, "opaque", drop_ul=45, ml_left=_left(n, 12)
        )
        for n, c in _named(_ROPEWALK)
    ]
    rows += [
        _row(
            "Brindlecot",
            "Glasswork",
            n,
            "transparent",
            c,
            "transparent",
            finish="satin",
            ml_left=_left(n, 15),
        )
        for n, c in _named(_GLASS)
    ]
    rows += [
        _row(
            "Brindlecot",
            "Ink pot",
            n,
            "ink",
            c,
            "semi_transparent",
            finish="satin",
            ml_left=_left(n, 20),
        )
        for n, c in _named(_INKS)
    ]
    rows += [
        _row(
            "Tolvane",
            "Foundry",
            n,
            "metallic",
            c,
            "opaque",
            finish="satin",
            drop_ul=45,
            ml_left=_left(n, 12),
        )
        for n, c in _named(_METALS)
    ]
    return [*rows, *_single()]


def _single() -> list[PaintRow]:
    """Primers, whites, varnishes, washes, lacquers and what glows."""
    clear = "#f6f6f2"
    return [
        _row("Oddmere", "Ground", "Bilge Black", "primer", "#17181a", "opaque", ml_left=140),
        _row("Oddmere", "Ground", "Hull Grey", "primer", "#7b7e80", "opaque", ml_left=90),
        _row("Oddmere", "Ground", "Chalk Ground", "primer", "#e9e8e2", "opaque", ml_left=60),
        _row("Oddmere", "Ground", "Red Lead", "primer", "#6f3325", "opaque", ml_left=45),
        _row("Oddmere", "Tideline", "Tern White", "white", "#f3f2ec", "opaque", ml_left=14),
        _row("Tolvane", "Ropewalk", "Bone Wash White", "white", "#efe9da", "opaque", drop_ul=45),
        _row(
            "Tolvane", "Ropewalk", "Tallow", "brush_acrylic", "#e6d7ae", "semi_opaque", drop_ul=45
        ),
        _row("Oddmere", "Tideline", "Primrose", "airbrush_acrylic", "#f0e08a", "semi_opaque"),
        _row("Oddmere", "Tideline", "Shell Pink", "airbrush_acrylic", "#eec4b4", "semi_opaque"),
        _row("Oddmere", "Tideline", "Sea Glass", "airbrush_acrylic", "#bfe0cf", "semi_opaque"),
        _row("Oddmere", "Tideline", "Beacon Yellow", "airbrush_acrylic", "#f2c200", "semi_opaque"),
        _row(
            "Brindlecot",
            "Phosphor",
            "Plankton Glow",
            "airbrush_acrylic",
            "#57e6b0",
            "semi_transparent",
            fluorescent=0.8,
        ),
        _row(
            "Brindlecot",
            "Phosphor",
            "Flare Orange",
            "airbrush_acrylic",
            "#ff7a3c",
            "semi_transparent",
            fluorescent=0.8,
        ),
        _row("Brindlecot", "Quay", "Quay Matt", "varnish", clear, "transparent", ml_left=60),
        _row(
            "Brindlecot",
            "Quay",
            "Quay Deep Matt",
            "varnish",
            clear,
            "transparent",
            finish="ultra_matt",
            ml_left=30,
        ),
        _row("Brindlecot", "Quay", "Quay Satin", "varnish", clear, "transparent", finish="satin"),
        _row("Brindlecot", "Quay", "Quay Gloss", "varnish", clear, "transparent", finish="gloss"),
        _row(
            "Tolvane",
            "Bilge",
            "Bilge Wash",
            "enamel_wash",
            "#4a3f34",
            "transparent",
            drop_ul=30,
            ml_left=30,
        ),
        _row(
            "Tolvane",
            "Bilge",
            "Rust Streak",
            "enamel_wash",
            "#8f4f24",
            "transparent",
            drop_ul=30,
            ml_left=22,
        ),
        _row(
            "Tolvane",
            "Bilge",
            "Green Slime",
            "enamel_wash",
            "#5f6e33",
            "transparent",
            drop_ul=30,
            ml_left=26,
        ),
        _row("Tolvane", "Keel", "Keel Lacquer", "lacquer", "#23262a", "opaque", finish="satin"),
        _row("Tolvane", "Keel", "Boottop Red", "lacquer", "#7c2620", "opaque", finish="gloss"),
    ]
