"""A whole trial card as a setting would leave it, under a hand that is not quite even.

One pass, a solid, a fade, three lines and four dots, each as the card asks for it. What is known of
it beforehand (`Truth`) is what a reading of its photo is measured against.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from scipy.special import erf

from haze.core.arrays import Array
from haze.core.inspect.card import (
    DOTS_AT,
    DOTS_S,
    HIGH_MM,
    LINES_AWAY_MM,
    LINES_X,
    LINES_Y,
    WIDE_MM,
    WINDOW_MM,
    ZONES,
)
from haze.core.inspect.landing import SprayLanding, landing_of
from haze.core.inspect.sprayed import LaidCard, lay
from haze.core.inspect.strokes import Dot, Mark, Stroke
from haze.core.spray.calibrate import Look
from haze.core.spray.constants import constant
from haze.core.spray.footprint import STROKE, footprint_sigma_mm
from haze.core.spray.model import dry_film_um
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import NOMINAL, Latents

DOTS_AWAY_MM = 40.0  # the card says so beside the dots
MATCHED_MM = 25.0  # from where a line is as dense as the one pass
LEAST_OPEN = 0.01
MOST_PASSES = 9  # of a solid
MIDDLE_INSET_MM = 6.0  # of the one pass, where its film is read
EVEN, SLOW = 0.08, 0.12  # of a usual hand: rows apart, and time a stroke takes (spread in ln)
FAULT_FROM = {  # where each fault begins to count
    "finger_mm": 12.0,
    "specks_cm2": constant("specks_per_cm2"),
    "dusty": constant("dust_share"),
    "stops": 0.6,
}


@dataclass(frozen=True, slots=True)
class Hand:
    """How even a hand is: spread (ln) of rows and of time, mm it errs, rows of a fade apart.

    `fade_apart` is in widths of a footprint's sigma: over about 2.2 the fade shows bands.
    """

    rows: float = EVEN
    time: float = SLOW
    errs_mm: float = 0.4
    fade_apart: float = STROKE


@dataclass(frozen=True, slots=True)
class SprayedCard:
    """A card that was sprayed: what lies on it, and what each part was sprayed with.

    `line_slowly` is the time each line took over that of the setting's hand, `worked` how many
    strokes came first, from the setting's own distance.
    """

    laid: LaidCard
    here: SprayLanding
    lines: tuple[SprayLanding, ...]
    dots: SprayLanding
    line_slowly: tuple[float, ...]
    worked: int


def sprayed_card(
    setting: Setting,
    *,
    latents: Latents = NOMINAL,
    hand: Hand | None = None,
    framed: bool = True,
    px_mm: float,
    seed: int,
) -> SprayedCard:
    """A card sprayed with a setting.

    Parameters
    ----------
    setting : of single values, at the distance it is worked from
    latents : single factors of what the tables do not know
    hand : how even it is; None for a usual one
    framed : whether the cover frame lies on the card
    px_mm : float, pixels a millimetre
    seed : int; the same seed sprays the same card
    """
    hand = hand or Hand()
    rng = np.random.default_rng(seed)
    here = landing_of(setting, latents)
    marking = near(setting, DOTS_AWAY_MM, latents)
    dots = landing_of(marking, latents)
    lines = tuple(landing_of(marking.but(distance_mm=d), latents) for d in LINES_AWAY_MM)
    marks: list[Mark] = []
    marks += _rows(here, "onepass", 1, hand, rng)
    marks += _rows(here, "solid", _solid_passes(here), hand, rng)
    marks += _fade(here, hand, rng)
    worked, slowly = len(marks), []
    for landing, y in zip(lines, LINES_Y, strict=True):
        slow = float(rng.lognormal(0, hand.time))
        slowly.append(slow)
        at = [y + rng.normal(0, hand.errs_mm) for _ in range(2)]
        marks.append(Stroke(landing, (LINES_X[0], at[0]), (LINES_X[1], at[1]), slow))
    for (x, y), seconds in zip(DOTS_AT, DOTS_S, strict=True):
        errs = rng.normal(0, hand.errs_mm, 2)
        held = seconds * float(rng.lognormal(0, hand.time))
        marks.append(Dot(dots, (x + errs[0], y + errs[1]), held))
    laid = lay(marks, width_mm=WIDE_MM, height_mm=HIGH_MM, px_mm=px_mm, seed=seed + 1)
    if framed:
        under_frame(laid)
    return SprayedCard(laid, here, lines, dots, tuple(slowly), worked)


def near(setting: Setting, away_mm: float, latents: Latents = NOMINAL) -> Setting:
    """The setting as it is held for a line or a dot: near, the trigger opened by eye.

    The card asks for lines as dense as the one pass; a line from `MATCHED_MM` is, those from
    nearer are denser and those from farther thinner. At the setting's own trigger all would flood.

    Parameters
    ----------
    setting : of single values
    away_mm : float [mm], nozzle to card
    latents : single factors of what the tables do not know; the eye sees what they do
    """
    wanted = float(dry_film_um(setting, latents))
    stops = np.linspace(LEAST_OPEN, max(setting.knob("trigger"), 2 * LEAST_OPEN), 60)
    films = dry_film_um(setting.but(distance_mm=MATCHED_MM, trigger=stops), latents)
    trigger = float(np.interp(wanted, np.maximum.accumulate(films), stops))
    return setting.but(distance_mm=away_mm, trigger=trigger)


def under_frame(laid: LaidCard) -> None:
    """Take away what the cover frame held off, in place.

    Parameters
    ----------
    laid : what lies on a whole card
    """
    x0, y0, x1, y1 = (round(v * laid.px_mm) for v in WINDOW_MM)
    for field in (laid.film_um, laid.fingers):
        field[:y0], field[y1:], field[:, :x0], field[:, x1:] = 0, 0, 0, 0


def _solid_passes(here: SprayLanding) -> int:
    """Passes until it hides."""
    hiding = here.setting.paint.hiding_um or 20.0
    each = max(here.wet_um * here.dry_share, 1e-3)
    return int(np.clip(np.ceil(1.2 * hiding / each), 1, MOST_PASSES))


def one_pass_share(sigma_mm: float) -> float:
    """Mean film in the middle of the one pass over that on the axis of a stroke [-].

    Parameters
    ----------
    sigma_mm : float [mm], of the footprint
    """
    x0, y0, x1, y1 = ZONES["onepass"]
    rows = _row_places(sigma_mm, y0, y1)
    y = np.linspace(y0 + MIDDLE_INSET_MM, y1 - MIDDLE_INSET_MM, 40)[:, None]
    x = np.linspace(x0 + MIDDLE_INSET_MM, x1 - MIDDLE_INSET_MM, 40)
    across = np.exp(-0.5 * ((y - rows) / sigma_mm) ** 2).sum(axis=1)
    root = np.sqrt(2) * sigma_mm
    along = 0.5 * (erf((x - x0) / root) - erf((x - x1) / root))
    return float(across.mean() * along.mean())


def one_pass_film_um(setting: Setting, latents: Latents) -> float:
    """Mean film [µm, dry] in the middle of the one pass.

    Parameters
    ----------
    setting : it is sprayed with
    latents : of the airbrush and the paint
    """
    sigma = float(latents.width * footprint_sigma_mm(setting.distance_mm))
    return float(dry_film_um(setting, latents)) * one_pass_share(sigma)


def _row_places(sigma_mm: float, y0: float, y1: float) -> Array:
    """Where strokes lie in a zone [mm], as far apart as they lie in a pass."""
    apart = STROKE * sigma_mm
    count = max(1, int((y1 - y0) / apart))
    return np.asarray((y0 + y1) / 2 + apart * (np.arange(count) - (count - 1) / 2))


def _rows(here: SprayLanding, zone: str, passes: int, hand: Hand, rng: Generator) -> list[Mark]:
    """Strokes to and fro over a zone, as far apart as they lie in a pass."""
    x0, y0, x1, y1 = ZONES[zone]
    apart, places = STROKE * here.sigma_mm, _row_places(here.sigma_mm, y0, y1)
    out: list[Mark] = []
    for _ in range(passes):
        jitter = rng.normal(0, hand.rows * apart, len(places))
        rows = places + rng.uniform(-0.3, 0.3) * apart + jitter
        for y in rows.tolist():
            out.append(Stroke(here, (x0, y), (x1, y), float(rng.lognormal(0, hand.time))))
    return out


def _fade(here: SprayLanding, hand: Hand, rng: Generator) -> list[Mark]:
    """Strokes up and down, fewer and quicker the further right they lie."""
    x0, y0, x1, y1 = ZONES["fade"]
    apart = hand.fade_apart * here.sigma_mm
    columns = np.arange(x0, x1 + apart / 2, apart)
    passes = _solid_passes(here)
    out: list[Mark] = []
    for x in columns.tolist():
        left = passes * max(0.0, 1 - (x - x0) / (x1 - x0))
        while left > 0.05:
            slow = min(1.0, left) * float(rng.lognormal(0, hand.time))
            at = x + float(rng.normal(0, hand.rows * apart))
            out.append(Stroke(here, (at, y0), (at, y1), slow))
            left -= 1.0
    return out


# what is known of it -----------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Truth:
    """What a card shows, known because it was made.

    Attributes
    ----------
    finger_mm : float [mm], rivulets that are seen where the setting itself was sprayed
    specks_cm2 : float [1/cm²], specks that are seen in one pass, by the model
    dusty : float [0..1], share that lands half dry
    stops : float [0..1], risk that nothing flows
    sigma_mm : (3,) of the lines' footprints
    lines_um : (3,) float [µm, dry], film on the axis of the lines
    pass_um : float [µm, dry], on the mean of one pass
    """

    finger_mm: float
    specks_cm2: float
    dusty: float
    stops: float
    sigma_mm: tuple[float, ...]
    lines_um: tuple[float, ...]
    pass_um: float

    @property
    def strengths(self) -> dict[Look, float]:
        """How strong each fault is, 1 where it begins to count."""
        return {
            "spiders": self.finger_mm / FAULT_FROM["finger_mm"],
            "specks": self.specks_cm2 / FAULT_FROM["specks_cm2"],
            "dust": self.dusty / FAULT_FROM["dusty"],
            "nothing": self.stops / FAULT_FROM["stops"],
        }

    @property
    def look(self) -> Look:
        """The strongest fault; clean when none counts."""
        found = self.strengths
        if found["nothing"] >= 1:
            return "nothing"
        worst = max(found, key=found.__getitem__)
        return worst if found[worst] >= 1 else "clean"


def truth_of(card: SprayedCard) -> Truth:
    """What is known of a card that was made.

    Parameters
    ----------
    card : as it was sprayed
    """
    long_mm = sum(path.seen_mm for path in card.laid.paths if path.mark < card.worked)
    return Truth(
        finger_mm=long_mm,
        specks_cm2=card.here.specks_cm2,
        dusty=card.here.dusty,
        stops=card.here.stops,
        sigma_mm=tuple(one.sigma_mm for one in card.lines),
        lines_um=tuple(
            slow * one.wet_um * one.dry_share
            for one, slow in zip(card.lines, card.line_slowly, strict=True)
        ),
        pass_um=card.here.wet_um * card.here.dry_share,
    )
