"""Cards of settings nobody told the reader, photographed with every fault of light and hand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from haze.core.film.difference import speck_contrast
from haze.core.film.paint import PaintOptics, masstone_rgb, paint_optics
from haze.core.film.srgb import linear_of_hex
from haze.core.inspect.card import printed, raster
from haze.core.inspect.card_colours import PAPER
from haze.core.inspect.landing import landing_of
from haze.core.inspect.trial_card import Hand
from haze.core.spray.calibrate import Look
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import SPREAD, Latents

CARD_PX_MM = 20.0
WANTED: dict[Look, float] = {
    "clean": 0.36,
    "spiders": 0.2,
    "specks": 0.18,
    "dust": 0.16,
    "nothing": 0.1,
}
KINDS = {
    "brush_acrylic": ("acrylic_thinner", (0.5, 4.0), "opaque"),
    "airbrush_acrylic": ("acrylic_thinner", (0.2, 4.0), "opaque"),
    "primer": ("acrylic_thinner", (0.0, 1.5), "opaque"),
    "ink": ("water", (0.0, 1.0), "semi_opaque"),
    "lacquer": ("lacquer_thinner", (1.0, 4.0), "opaque"),
}
COLOURS = ("#1d3f8a", "#23262b", "#5a2317", "#27502e", "#6a1f4a", "#3c2f25", "#8a2a1e", "#174a52")
FRAMELESS = 0.3


@dataclass(frozen=True, slots=True)
class Unknown:
    """A card nobody was told of."""

    setting: Setting
    latents: Latents
    optics: PaintOptics
    hand: Hand
    framed: bool
    number: int


def unknown(look: Look, rng: Generator) -> Unknown:
    """A setting that comes out with a look, as far as its strongest number tells."""
    while True:
        kind = str(rng.choice(list(KINDS)))
        thinner, parts, opacity = KINDS[kind]
        optics = paint_optics(str(rng.choice(COLOURS)), opacity=opacity)
        contrast = float(speck_contrast(masstone_rgb(optics), linear_of_hex(PAPER)))
        far = look == "dust"
        setting = make_setting(
            kind,
            thinner=thinner,
            thinner_parts=float(rng.uniform(*parts)),
            needle_mm=float(rng.choice([0.2, 0.3, 0.35, 0.4])),
            trigger=float(rng.uniform(0.12, 0.6)),
            pressure_psi=float(rng.uniform(3, 8) if look == "specks" else rng.uniform(8, 32)),
            distance_mm=float(rng.uniform(90, 200) if far else rng.uniform(30, 110)),
            speed_mm_s=float(rng.uniform(40, 140)),
            temperature_c=float(rng.uniform(22, 34) if far else rng.uniform(15, 26)),
            humidity_pct=float(rng.uniform(15, 45) if far else rng.uniform(35, 65)),
            contrast=contrast,
        )
        logs = [rng.normal(0, s) for s in SPREAD.values()]
        latents = Latents(*(np.asarray(np.exp(v)) for v in logs))
        if _guess(setting, latents) == look:
            break
    return Unknown(
        setting,
        latents,
        optics,
        Hand(fade_apart=float(rng.uniform(1.2, 2.9))),
        bool(rng.uniform() > FRAMELESS),
        int(rng.integers(0, 1_000_000)),
    )


def _guess(setting: Setting, latents: Latents) -> Look:
    here = landing_of(setting, latents)
    if here.stops > 0.6:
        return "nothing"
    number = float(here.wetness(np.array([here.wet_um]))[0][0])
    strong: dict[Look, float] = {
        "spiders": number,
        "specks": here.specks_cm2 / 20,
        "dust": here.dusty / 0.12,
    }
    worst = max(strong, key=strong.__getitem__)
    return worst if strong[worst] >= 1 else "clean"


def looks(count: int, rng: Generator) -> list[Look]:
    """Looks in the shares wanted, in any order."""
    names = list(WANTED)
    return [names[i] for i in rng.choice(len(names), size=count, p=list(WANTED.values()))]


def print_of(number: int) -> np.ndarray:
    """What is printed on a card, as fine as cards are made here."""
    return raster(printed(number), CARD_PX_MM)
