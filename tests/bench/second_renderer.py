"""Cards drawn another way than the program draws them, so that reading is not tried on itself.

Splats are soft ovals of lognormal sizes, paper has fibres, film becomes colour by plain absorption
in red, green and blue, rivulets are jagged lines of even width; light comes from a near lamp, noise
is blotchy, the lens bends.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.random import Generator

from bench.photographed import CardTried, judged
from bench.simulated import CARD_PX_MM as PX
from bench.simulated import Unknown, looks, print_of, unknown
from haze.core.film.srgb import encode_srgb, linear_of_hex
from haze.core.inspect.camera import HIGH_PX, WIDE_PX, homography
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
from haze.core.inspect.reading.depth import Ink
from haze.core.inspect.shot import Fault, usual
from haze.core.inspect.trial_card import DOTS_AWAY_MM, Truth, near, one_pass_share
from haze.core.spray.footprint import STROKE

PAPER = np.array([0.86, 0.85, 0.82], dtype=np.float32)
SIZE = (round(HIGH_MM * PX), round(WIDE_MM * PX))
Grid = np.ndarray
SHADES = 3  # ways a splat is stamped
LEAST_UM = 1e-4  # of wet film that is sprayed at all
REACH_PX = 40
NONE = 1e-3  # splats of one size on the whole card
MOST = 900_000  # splats of one size that are stamped one by one


def theirs(seed: int, fault: Fault | None = None) -> CardTried:
    """A card of the second renderer, by its seed.

    Parameters
    ----------
    seed : of everything about it
    fault : none is taken here
    """
    del fault
    cv2.setNumThreads(1)
    rng = np.random.default_rng(500_000 + seed)
    card = unknown(looks(1, rng)[0], rng)
    film, truth, here = _laid(card, rng)
    colour = linear_of_hex(str(rng.choice(["#22324f", "#3a1c16", "#1f3a26", "#2b2b2e"])))
    hiding = card.setting.paint.hiding_um or 6.0
    light = _coloured(film, colour.astype(np.float32), hiding, print_of(card.number), rng)
    photo = _photo(light, rng)
    lines = tuple(
        landing_of(near(card.setting, d, card.latents), card.latents) for d in LINES_AWAY_MM
    )
    about = CardTried(
        seed=seed,
        truth=truth,
        framed=card.framed,
        fault=None,
        refused=None,
        number_right=False,
        measures=None,
        looks=(),
        share=one_pass_share(here.sigma_mm),
        seconds=0.0,
    )
    ink = Ink(None, hiding, here.splats, tuple(one.splats for one in lines))
    return judged(photo, about, ink, card.number)


def _laid(card: Unknown, rng: Generator) -> tuple[Grid, Truth, SprayLanding]:
    s, latents = card.setting, card.latents
    here = landing_of(s, latents)
    film = np.zeros(SIZE, dtype=np.float32)
    seen_mm = 0.0
    y, x = ((np.arange(n, dtype=np.float32) + 0.5) / PX for n in SIZE)

    def stroke(
        one: SprayLanding, a: tuple[float, float], b: tuple[float, float], times: float
    ) -> Grid:
        steps = max(2, int(np.hypot(b[0] - a[0], b[1] - a[1]) / (0.25 * one.sigma_mm)))
        cx, cy = np.linspace(a, b, steps, dtype=np.float32).T
        down = np.exp(-0.5 * ((y - cy[:, None]) / np.float32(one.sigma_mm)) ** 2)
        along = np.exp(-0.5 * ((x - cx[:, None]) / np.float32(one.sigma_mm)) ** 2)
        out = down.T @ along
        length = float(np.hypot(b[0] - a[0], b[1] - a[1]))
        return out * np.float32(
            times * one.wet_um * length / steps / (np.sqrt(2 * np.pi) * one.sigma_mm)
        )

    worked = np.zeros(SIZE, dtype=np.float32)
    each = max(here.wet_um * here.dry_share, 1e-3)
    passes = int(np.clip(np.ceil(1.2 * (s.paint.hiding_um or 20) / each), 1, 9))
    for zone, times in (("onepass", 1), ("solid", passes)):
        x0, y0, x1, y1 = ZONES[zone]
        apart = STROKE * here.sigma_mm
        count = max(1, int((y1 - y0) / apart))
        for row in (y0 + y1) / 2 + apart * (np.arange(count) - (count - 1) / 2):
            at = float(row + rng.normal(0, 0.08 * apart))
            worked += stroke(here, (x0, at), (x1, at), times * rng.lognormal(0, 0.1))
    x0, y0, x1, y1 = ZONES["fade"]
    apart = card.hand.fade_apart * here.sigma_mm
    for column in np.arange(x0, x1, apart):
        left = passes * max(0.0, 1 - (column - x0) / (x1 - x0))
        worked += stroke(here, (column, y0), (column, y1), left)
    film += _stamped(worked, here, rng)
    number = float(here.wetness(np.array([here.wet_um]))[0][0])
    if number > 1:
        for zone in ("onepass", "solid", "fade"):
            x0, y0, x1, y1 = ZONES[zone]
            for _ in range(int(min(26, 7 * (number - 1) + 3))):
                low = rng.uniform() < 0.5
                at = (rng.uniform(x0, x1), (y0 if low else y1) + rng.normal(0, 0.5))
                seen_mm += _finger(film, at, -np.pi / 2 if low else np.pi / 2, number, each, rng)
    sigmas, peaks = [], []
    for row, away in zip(LINES_Y, LINES_AWAY_MM, strict=True):
        one = landing_of(near(s, away, latents), latents)
        slow = float(rng.lognormal(0, 0.12))
        at = row + rng.normal(0, 0.4)
        film += _stamped(stroke(one, (LINES_X[0], at), (LINES_X[1], at), slow), one, rng)
        sigmas.append(one.sigma_mm)
        peaks.append(slow * one.wet_um * one.dry_share)
    dot = landing_of(near(s, DOTS_AWAY_MM, latents), latents)
    for (cx, cy), seconds in zip(DOTS_AT, DOTS_S, strict=True):
        held = dot.volume_mm3_s * seconds / (2 * np.pi * dot.sigma_mm**2) * 1e3
        spot = held * np.outer(
            np.exp(-0.5 * ((y - cy) / dot.sigma_mm) ** 2),
            np.exp(-0.5 * ((x - cx) / dot.sigma_mm) ** 2),
        )
        film += _stamped(spot.astype(np.float32), dot, rng)
        drive = float(dot.wetness(np.array([held]))[0][0])
        for turn in rng.uniform(0, 2 * np.pi, int(min(24, 4 * max(drive - 1, 0)))):
            out = (cx + dot.sigma_mm * np.cos(turn), cy + dot.sigma_mm * np.sin(turn))
            _finger(film, out, float(turn), drive, each * 2, rng)
    if card.framed:
        x0, y0, x1, y1 = (round(v * PX) for v in WINDOW_MM)
        kept = np.zeros_like(film)
        kept[y0:y1, x0:x1] = film[y0:y1, x0:x1]
        film = kept
    truth = Truth(
        finger_mm=seen_mm,
        specks_cm2=here.specks_cm2,
        dusty=here.dusty,
        stops=here.stops,
        sigma_mm=tuple(sigmas),
        lines_um=tuple(peaks),
        pass_um=each,
    )
    return film, truth, here


def _stamped(wet: Grid, one: SprayLanding, rng: Generator) -> Grid:
    """The film where it is sprayed; nothing is thrown elsewhere."""
    stops = np.clip((one.stops - 0.5) / 0.5, 0, 1)
    if stops > 0:
        patchy = cv2.resize(rng.uniform(size=(14, 20)).astype(np.float32), SIZE[::-1])
        wet = wet * np.clip((patchy - stops) * 3, 0, 1).astype(np.float32)
    there = [np.flatnonzero(wet.max(axis=axis) > LEAST_UM) for axis in (1, 0)]
    out = np.zeros_like(wet)
    if len(there[0]):
        box = tuple(slice(max(t[0] - REACH_PX, 0), t[-1] + 1 + REACH_PX) for t in there)
        out[box] = _thrown(wet[box], one, rng)
    return out


def _thrown(wet: Grid, one: SprayLanding, rng: Generator) -> Grid:
    """The film as ovals of every size, each thrown by itself; of the finest only their scatter."""
    out, fine, scatter = (np.zeros_like(wet) for _ in range(3))
    drops = np.pi / 6 * (one.sizes_um * 1e-3) ** 3
    for part, half_dry in ((1 - one.dusty, False), (one.dusty, True)):
        field = wet * np.float32(part * 1e-3 / PX**2)
        if half_dry:
            cloud = cv2.GaussianBlur(
                rng.standard_normal(wet.shape).astype(np.float32), (0, 0), 0.2 * PX
            )
            field = field * np.exp(1.2 * cloud / cloud.std() - 0.72)
        for drop, share, splat in zip(drops, one.shares, one.splats_mm, strict=True):
            mean = field * np.float32(share / drop)
            total = float(mean.sum())
            um = np.float32(drop * PX**2 * 1e3)  # of one splat on one pixel
            if total < NONE:
                continue
            across = (1.1 * (drop * 6 / np.pi) ** (1 / 3) if half_dry else splat) * PX
            if across < 1.1 or total > MOST:
                fine += mean * um
                scatter += mean * um**2
                continue
            reached = np.cumsum(mean.reshape(-1), dtype=np.float64)
            thrown = np.sort(rng.uniform(0, reached[-1], rng.poisson(total)))
            at = np.searchsorted(reached, thrown)
            at = np.minimum(at, mean.size - 1)
            way = rng.integers(0, SHADES, len(at))
            for shade in range(SHADES):
                hits = np.bincount(at[way == shade], minlength=mean.size).reshape(wet.shape)
                if hits.any():
                    size = across * float(np.exp(0.15 * rng.standard_normal()))
                    stamp = _oval(size, float(rng.uniform(0.75, 1)), float(rng.uniform(0, np.pi)))
                    hits = cv2.filter2D(hits.astype(np.float32), -1, stamp)
                    out += hits * um
    out += np.maximum(fine + np.sqrt(scatter) * rng.standard_normal(wet.shape, dtype=np.float32), 0)
    return np.asarray(np.maximum(out, 0) * np.float32(one.dry_share))


def _oval(across: float, flat: float, turn: float) -> Grid:
    n = int(np.ceil(across))
    y, x = np.mgrid[-n : n + 1, -n : n + 1].astype(np.float32)
    u, v = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
    r = np.hypot(u, v / flat) / (across / 2)
    stamp = 1 / (1 + np.exp((r - 1) * 6))
    return np.asarray(stamp / stamp.sum(), dtype=np.float32)


def _finger(
    film: Grid, at: tuple[float, float], way: float, number: float, dry: float, rng: Generator
) -> float:
    """One jagged rivulet; how much of it [mm] is seen."""
    far = float(min(7.0, 2.5 * (number - 1) ** 0.35 * rng.lognormal(0, 0.4)))
    points, x, y = [at], *at
    for _ in range(max(2, int(far / 0.5))):
        way += float(rng.normal(0, 0.25))
        x, y = x + 0.5 * np.cos(way), y + 0.5 * np.sin(way)
        points.append((x, y))
    line = (np.array(points) * PX * 8).astype(np.int32).reshape(-1, 1, 2)
    mask = np.zeros(SIZE, dtype=np.uint8)
    cv2.polylines(mask, [line], False, 255, max(2, round(0.18 * PX)), cv2.LINE_AA, 3)
    there = mask > 0
    seen = float(np.mean(film[there] < min(1.8, 0.5 * dry * 1.3))) if there.any() else 0.0
    np.maximum(film, np.float32(max(dry * 1.3, 3.0)) * (mask / np.float32(255)), out=film)
    return 0.5 * (len(points) - 1) * seen


def _coloured(film: Grid, colour: Grid, hiding: float, print_: Grid, rng: Generator) -> Grid:
    """Film over fibres: each channel closes as a film of that hiding does."""
    fibres = cv2.GaussianBlur(rng.standard_normal(SIZE).astype(np.float32), (0, 0), 3, sigmaY=0.8)
    paper = 1 + 0.008 * fibres / fibres.std()
    open_ = np.exp(-3.9 * film / np.float32(hiding))[..., None]
    bare = PAPER * (print_ * paper)[..., None]
    return np.asarray(colour + (bare - colour) * open_, dtype=np.float32)


def _photo(light: Grid, rng: Generator) -> Grid:
    """A picture by a near lamp and a lens that bends."""
    shot = usual(rng)
    plane = np.linalg.inv(homography(shot, WIDE_PX, HIGH_PX))
    y, x = np.mgrid[0:HIGH_PX, 0:WIDE_PX].astype(np.float32)
    u, v = (x - WIDE_PX / 2) / 2000, (y - HIGH_PX / 2) / 2000
    bend = 1 + np.float32(rng.uniform(-0.015, 0.015)) * (u * u + v * v)
    px, py = WIDE_PX / 2 + u * 2000 * bend, HIGH_PX / 2 + v * 2000 * bend
    below = plane[2, 0] * px + plane[2, 1] * py + plane[2, 2]
    mx = (plane[0, 0] * px + plane[0, 1] * py + plane[0, 2]) / below
    my = (plane[1, 0] * px + plane[1, 1] * py + plane[1, 2]) / below
    image = cv2.remap(
        light,
        (mx * PX - 0.5).astype(np.float32),
        (my * PX - 0.5).astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_CONSTANT,
        borderValue=(0.2, 0.18, 0.15),
    )
    n = round(2 * rng.uniform(1, 2)) + 1
    image = cv2.blur(image, (n, n)) * 0.5 + image * 0.5
    lamp = rng.uniform(-0.7, 0.7, 2)
    fall = 1 / (1 + ((u - lamp[0]) ** 2 + (v - lamp[1]) ** 2) / 5.5) ** 1.5
    tint = np.exp(rng.normal(0, 0.1, 3)).astype(np.float32)
    image = image * (fall[..., None] * (tint / tint.max() * np.float32(rng.uniform(0.55, 0.9))))
    blotch = rng.standard_normal((HIGH_PX, WIDE_PX, 3), dtype=np.float32)
    image = image + 0.007 * cv2.GaussianBlur(blotch, (0, 0), 0.7)
    encoded = encode_srgb(np.clip(image, 0, 1)) * 255
    packed = cv2.imencode(".jpg", encoded.astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 87])[1]
    return np.asarray(cv2.imdecode(packed, cv2.IMREAD_COLOR))
