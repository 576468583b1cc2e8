"""What a new data folder starts with: usual equipment; made-up paints only for who asks."""

from __future__ import annotations

from haze.store.shelf import AirbrushRow, CompressorRow, PaintRow, ThinnerRow


def _paint(
    maker: str,
    name: str,
    kind: str,
    masstone: str,
    opacity: str,
    *,
    finish: str = "matt",
    drop_ul: float = 50.0,
) -> PaintRow:
    identity = f"{maker}-{name}".lower().replace(" ", "-")
    return PaintRow(identity, maker, name, kind, masstone, opacity, finish, drop_ul)


PAINTS: tuple[PaintRow, ...] = (
    _paint("Oddmere", "Bilge Black", "primer", "#17181a", "opaque"),
    _paint("Oddmere", "Harbour Grey", "airbrush_acrylic", "#6f757b", "opaque"),
    _paint("Oddmere", "Slate", "airbrush_acrylic", "#4a5058", "opaque"),
    _paint("Oddmere", "Tern White", "white", "#f3f2ec", "opaque"),
    _paint("Oddmere", "Wrack Green", "airbrush_acrylic", "#4b5a35", "opaque"),
    _paint("Oddmere", "Shoal Blue", "airbrush_acrylic", "#3f6f8c", "opaque"),
    _paint("Tolvane", "Rope Buff", "brush_acrylic", "#b79a68", "opaque", drop_ul=45.0),
    _paint("Tolvane", "Tallow", "brush_acrylic", "#e6d7ae", "semi_opaque", drop_ul=45.0),
    _paint("Tolvane", "Tar Brown", "brush_acrylic", "#3b2a20", "opaque", drop_ul=45.0),
    _paint("Tolvane", "Brass Rail", "metallic", "#a98545", "opaque", finish="satin"),
    _paint("Brindlecot", "Lamp Amber", "transparent", "#f2a01c", "transparent", finish="satin"),
    _paint("Brindlecot", "Dawn Rose", "transparent", "#e08a86", "transparent", finish="satin"),
    _paint("Brindlecot", "Pool Glow", "transparent", "#5ecfc4", "transparent", finish="satin"),
    _paint("Brindlecot", "Kelp Ink", "ink", "#2f5a3c", "semi_transparent", finish="satin"),
    _paint("Brindlecot", "Quay Matt", "varnish", "#f6f6f2", "transparent"),
    _paint("Brindlecot", "Quay Satin", "varnish", "#f6f6f2", "transparent", finish="satin"),
    _paint("Brindlecot", "Quay Gloss", "varnish", "#f6f6f2", "transparent", finish="gloss"),
    _paint("Tolvane", "Keel Lacquer", "lacquer", "#23262a", "opaque", finish="satin"),
)
THINNERS: tuple[ThinnerRow, ...] = (
    ThinnerRow("acrylic-thinner", "acrylic thinner", "acrylic_thinner", 50.0),
    ThinnerRow("water", "water", "water", 50.0),
    ThinnerRow("lacquer-thinner", "lacquer thinner", "lacquer_thinner", 30.0),
    ThinnerRow("spirit", "white spirit", "spirit", 30.0),
)
AIRBRUSHES: tuple[AirbrushRow, ...] = (
    AirbrushRow("fine-02", "Fine, 0.2 mm", 0.2, 2.0),
    AirbrushRow("all-03", "All-round, 0.3 mm", 0.3, 7.0),
    AirbrushRow("wide-05", "Wide, 0.5 mm", 0.5, 7.0),
)
COMPRESSOR = CompressorRow("bench", "Bench compressor", 60.0, 3.0)
FIRST_AIRBRUSH = "all-03"
FIRST_THINNER = "acrylic-thinner"
FIRST_PAINTS = {
    "dark": "oddmere-bilge-black",
    "mid": "oddmere-slate",
    "light": "oddmere-tern-white",
    "veil": "brindlecot-lamp-amber",
}
