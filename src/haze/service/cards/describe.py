"""Describes a reading of a photo in words and numbers, beside what the model foresaw."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any, Literal

import cv2
import numpy as np
from PIL import Image

from haze.core.film.difference import delta_e
from haze.core.film.paint import PaintOptics
from haze.core.inspect.card import BLACK, LINES_AWAY_MM, LINES_X
from haze.core.inspect.card_colours import film_colours
from haze.core.inspect.landing import landing_of
from haze.core.inspect.reading.depth import USUAL_HIDING_UM, Ink
from haze.core.inspect.reading.finding import Place
from haze.core.inspect.reading.lines import Line
from haze.core.inspect.reading.measured import measured_of
from haze.core.inspect.reading.measures import WORKED, Measures
from haze.core.inspect.reading.outcome import SURE, Likely, specks_per_cm2
from haze.core.inspect.reading.read import Reading, read
from haze.core.inspect.reading.refusal import WORDS
from haze.core.inspect.trial_card import near, one_pass_film_um
from haze.core.progress import Progress
from haze.core.spray.calibrate import Look
from haze.core.spray.constants import constant
from haze.core.spray.footprint import line_width_mm
from haze.core.spray.model import dry_film_um, one_pass, specks_seen_cm2
from haze.formats.photos import as_jpeg, opened
from haze.service.cards.card_read import (
    CardRead,
    KnownCard,
    LookShare,
    MeasureOut,
    Quality,
    ReadPhoto,
    Spot,
)
from haze.service.cups.beliefs import MeasuredIn

MOST_SIDE = 4600  # px: more than a card needs is thrown away at once
KEPT_SIDE = 1600
FAINT_MM = 0.2  # narrower is no line: nowhere does it cover by a tenth
MIDDLE_MM = float(np.mean(LINES_X))
CLOSED_UM = 60.0
LEAST_FINGERS_MM, CLUMPY = 4.0, 0.03
REACH_MM = 5.0  # of a finger's ring
MOST_SPOTS, MOST_RINGS, TOGETHER_MM, LEAST_RING_MM = 60, 5, 9.0, 1.0


def read_photo(
    _: Progress, *, data: bytes, known: Mapping[int, KnownCard], wanted: int | None
) -> ReadPhoto:
    """Read a photo, wherever this runs.

    Parameters
    ----------
    data : bytes of the whole file
    known : what is known of each card by its number
    wanted : the card it must be; None for any
    """
    cv2.setNumThreads(1)
    image = opened(data, side=MOST_SIDE)
    pixels = np.asarray(image)

    def about(number: int | None) -> KnownCard:
        return known.get(number, KnownCard()) if number is not None else KnownCard()

    reading = read(pixels, ink_of=lambda number: ink_of(about(number)), wanted=wanted)
    found = describe(reading, about(reading.number), wide=image.width, high=image.height)
    kept = image.copy()
    kept.thumbnail((KEPT_SIDE, KEPT_SIDE), Image.Resampling.LANCZOS)
    jpeg = as_jpeg(kept)
    return ReadPhoto(found, jpeg, kept.width, kept.height, hashlib.sha256(jpeg).hexdigest())


def ink_of(known: KnownCard) -> Ink:
    """What the reading needs of the paint.

    Parameters
    ----------
    known : of the card
    """
    if known.setting is None:
        return Ink(known.optics, dark=known.dark)
    lines = [near(known.setting, away, known.latents) for away in LINES_AWAY_MM]
    return Ink(
        known.optics,
        known.setting.paint.hiding_um or USUAL_HIDING_UM,
        landing_of(known.setting, known.latents).splats,
        tuple(landing_of(line, known.latents).splats for line in lines),
        known.dark,
    )


def describe(reading: Reading, known: KnownCard, *, wide: int, high: int) -> CardRead:
    """A reading in words and numbers.

    Parameters
    ----------
    reading : of a photo
    known : what is known of its card
    wide, high : int [px], of the photo
    """
    size = np.array([wide, high], dtype=float)
    outline = [(float(x), float(y)) for x, y in (reading.outline() / size).tolist()]
    quality = _quality(reading)
    if reading.refused or reading.measures is None or reading.place is None:
        words = WORDS[reading.refused] if reading.refused else None
        return CardRead(
            trial=reading.number,
            refused=words,
            reason=reading.refused,
            measures={},
            outcome=None,
            sure=0.0,
            looks=[],
            spots={},
            outline=outline,
            quality=quality,
            measured=None,
        )
    m = reading.measures
    looks = [_look_share(one, m) for one in reading.looks]
    return CardRead(
        trial=reading.number,
        refused=None,
        reason=None,
        measures=_measures(m, known),
        outcome=looks[0].look,
        sure=looks[0].share,
        looks=looks,
        spots=_spots(m, reading.place, size),
        outline=outline,
        quality=quality,
        measured=_measured(m, known),
    )


def _quality(reading: Reading) -> Quality | None:
    if reading.flat is None or reading.place is None:
        return None
    flat, place = reading.flat, reading.place
    least = max(0.085, 1.6 * flat.blur_mm)
    return Quality(
        marks=reading.marks,
        px_mm=place.px_mm,
        uneven=flat.uneven,
        sharp_mm=flat.blur_mm,
        words=f"{reading.marks} of 8 marks · {place.px_mm:.0f} px a mm · light even to "
        f"{max(flat.uneven * 100, 1):.0f} % · sharp enough for {least:.2f} mm",
    )


SURE_WORDS: tuple[tuple[float, Literal["very likely", "likely", "possible"]], ...] = (
    (SURE, "very likely"),
    (0.5, "likely"),
    (0.0, "possible"),
)


def _look_share(one: Likely, m: Measures) -> LookShare:
    sure = next(word for least, word in SURE_WORDS if one.share >= least)
    return LookShare(look=one.look, share=one.share, sure=sure, why=_why(one.look, m))


def _why(look: Look, m: Measures) -> str:
    if look == "spiders":
        return f"{_fingers_sentence(m)}; longer than 1.2 mm count"
    if look == "specks":
        limit = constant("specks_per_cm2")
        side = "more" if specks_per_cm2(m) > limit else "fewer"
        return f"{side} than {limit:.0f} specks a cm² in one pass"
    if look == "dust":
        return "the film is grainy in clumps" if m.grain.coarse > CLUMPY else "hardly any clumps"
    if look == "nothing":
        return f"{m.gaps:.0%} of the one pass is bare".replace("%", " %")
    words = _fingers_sentence(m)
    return f"{'but for ' if words[0].isdigit() else ''}{words}; few specks, an even film"


def _fingers_sentence(m: Measures) -> str:
    words = _finger_words(m)
    return f"fingers {words}" if words.startswith("on ") else words


def _measures(m: Measures, known: KnownCard) -> dict[str, MeasureOut]:
    """Every measure that may be promised, with what was foreseen."""
    out = {
        "specks_per_cm2": _specks(m, known),
        "finger_mm": _fingers(m, known),
    }
    for line in m.lines:
        if line.sigma_mm > 0:
            out[f"line_{line.away_mm:g}_mm"] = _line(line, known)
    film = m.pass_um
    out["pass_film_um"] = MeasureOut(
        value=film,
        low=film / 1.35,
        high=film * 1.35,
        unit="µm",
        words=f"{film / 1.35:.1f} to {film * 1.35:.1f} µm",
        **_foreseen(_film_foreseen(known), "{:.1f} µm"),
    )
    bands = m.fade.bands
    out["fade_bands_l"] = MeasureOut(
        value=bands,
        low=max(bands - 1, 0),
        high=bands + 1,
        unit="L*",
        words=f"bands, {m.fade.wave_mm:.0f} mm apart" if m.fade.banded else "no bands",
    )
    if known.optics is not None:
        off = _solid_off(m, known.optics, dark=known.dark)
        out["solid_delta_e"] = MeasureOut(
            value=off,
            low=max(off - 1.5, 0),
            high=off + 1.5,
            unit="ΔE00",
            words=f"ΔE {off:.1f} from the chip",
        )
    return out


def _foreseen(value: float | None, form: str) -> dict[str, Any]:
    if value is None:
        return {}
    return {"foreseen": value, "foreseen_words": f"foreseen {form.format(value)}"}


def _specks(m: Measures, known: KnownCard) -> MeasureOut:
    count, limit = specks_per_cm2(m), constant("specks_per_cm2")
    expected: dict[str, Any] = {}
    if known.setting is not None:
        foreseen = float(specks_seen_cm2(known.setting, one_pass(known.setting, known.latents)))
        side = "above" if foreseen > limit else "under"
        expected = {"foreseen": foreseen, "foreseen_words": f"foreseen {side}"}
    side = "above" if count > limit else "under"
    return MeasureOut(
        value=count,
        low=count / 2.5,
        high=count * 2.5 + 2,
        unit="1/cm²",
        words=f"{side} {limit:.0f} a cm²",
        **expected,
    )


def _fingers(m: Measures, known: KnownCard) -> MeasureOut:
    """Fingers where the setting itself was sprayed; those of lines and dots are named beside."""
    worked = m.fingers.within(WORKED)
    long_mm = float(worked[:, 2].sum()) if len(worked) else 0.0
    expected: dict[str, Any] = {}
    if known.setting is not None:
        here = landing_of(known.setting, known.latents)
        some = float(here.wetness(np.array([here.wet_um]))[0][0]) > 1
        expected = {"foreseen_words": "foreseen some" if some else "foreseen none"}
    return MeasureOut(
        value=long_mm,
        low=0.6 * long_mm,
        high=1.8 * long_mm + 1.5,
        unit="mm",
        words=_finger_words(m),
        **expected,
    )


def _finger_words(m: Measures) -> str:
    worked = m.fingers.within(WORKED)
    long_mm = float(worked[:, 2].sum()) if len(worked) else 0.0
    if long_mm >= LEAST_FINGERS_MM:
        return f"{len(worked)} fingers, {long_mm:.0f} mm"
    return "on lines and dots only" if len(m.fingers.pieces) > len(worked) + 2 else "no fingers"


def _line(line: Line, known: KnownCard) -> MeasureOut:
    off = max(1.3 * line.unsure * line.width_mm, 0.1)
    foreseen = None
    if known.setting is not None:
        s = near(known.setting, line.away_mm, known.latents)
        hiding = s.paint.hiding_um or USUAL_HIDING_UM
        dry = dry_film_um(s, known.latents)
        foreseen = float(
            known.latents.width
            * line_width_mm(dry, hiding_um=hiding, distance_mm=np.asarray(line.away_mm))
        )
    expected = {}
    if foreseen is not None:
        words = "faint" if foreseen < FAINT_MM else f"{foreseen:.1f} mm"
        expected = {"foreseen": foreseen, "foreseen_words": f"foreseen {words}"}
    faint = f"faint, over {4 * line.sigma_mm:.0f} mm"
    return MeasureOut(
        value=line.width_mm,
        low=max(line.width_mm - off, 0),
        high=line.width_mm + off,
        unit="mm",
        words=faint if line.width_mm < FAINT_MM else f"{line.width_mm:.1f} mm ± {off:.1f}",
        **expected,
    )


def _film_foreseen(known: KnownCard) -> float | None:
    return None if known.setting is None else one_pass_film_um(known.setting, known.latents)


def _measured(m: Measures, known: KnownCard) -> MeasuredIn | None:
    found = None if known.setting is None else measured_of(m, known.setting)
    return None if found is None else MeasuredIn(**asdict(found))


def _solid_off(m: Measures, optics: PaintOptics, *, dark: bool) -> float:
    closed = film_colours(optics, np.array([CLOSED_UM]), ink=BLACK if dark else 1.0)[0]
    paper = film_colours(optics, np.zeros(1))[0].astype(np.float64)
    return delta_e(m.solid * paper, closed.astype(np.float64))


def _gathered(mm: np.ndarray, across_mm: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Spots that lie together as one ring each: middles and diameters [mm], the largest first."""
    groups: list[list[int]] = []
    for i in range(len(mm)):
        beside = [g for g in groups if np.hypot(*(mm[g].mean(axis=0) - mm[i])) < TOGETHER_MM]
        if beside:
            beside[0].append(i)
        else:
            groups.append([i])
    groups.sort(key=lambda g: -float(across_mm[g].sum()))
    middles, wide = np.zeros((0, 2)), np.zeros(0)
    for g in groups[:MOST_RINGS]:
        middle = mm[g].mean(axis=0)
        reach = np.hypot(*(mm[g] - middle).T) + across_mm[g] / 2
        middles = np.vstack([middles, middle])
        wide = np.append(wide, 2 * max(float(reach.max()), LEAST_RING_MM))
    return middles, wide


def _spots(m: Measures, place: Place, size: np.ndarray) -> dict[str, list[Spot]]:
    """Where each measure was seen on the photo."""
    out: dict[str, list[Spot]] = {}

    def put(name: str, mm: np.ndarray, across_mm: np.ndarray) -> None:
        if len(mm) == 0:
            return
        at = place.pixels(mm) / size
        out[name] = [
            Spot(x=float(x), y=float(y), r=float(d / 2 * place.px_mm / size[0]))
            for (x, y), d in zip(at, across_mm, strict=True)
        ]

    pieces = m.fingers.pieces[np.argsort(-m.fingers.pieces[:, 2])][:MOST_SPOTS]
    # fingers that touch are one piece: its length says nothing of how far it reaches
    put("finger_mm", *_gathered(pieces[:, :2], np.minimum(pieces[:, 2], REACH_MM)))
    specks = m.specks.spots[:MOST_SPOTS]
    put("specks_per_cm2", *_gathered(specks[:, :2], specks[:, 2]))
    for line in m.lines:
        if line.sigma_mm > 0:
            middle = np.array([[MIDDLE_MM, line.y_mm]])
            put(
                f"line_{line.away_mm:g}_mm",
                middle,
                np.array([max(line.width_mm, 2 * line.sigma_mm)]),
            )
    return out
