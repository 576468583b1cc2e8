"""What a setting would leave on a card, drawn droplet by droplet (docs/models.md F).

Droplets fall where the footprint and the strokes let them, Poisson by size class; each leaves its
splat. Where the spider number of the standing film passes 1, rivulets are driven outward; where too
much lands half dry the film is grainy; where the flow stops it spits. The same seed draws the
same card.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from haze.core.arrays import Array, Floats
from haze.core.inspect.landing import Splats, SprayLanding
from haze.core.inspect.rivulets import Rivulet, draw, rivulets, standing_out
from haze.core.inspect.strokes import Grid, Mark, box_of, landed

TOOTH_MM, TOOTH = 0.12, 0.05  # grain of the paper, and how much it takes of a film (judged)
FINEST_PX = 0.45  # radius under which a splat is a point
UNSPREAD = 1.15  # diameter of a half-dry grain over its droplet's
LEAST_DUSTY, LEAST_SHARE = 0.01, 1e-7
MANY = 12.0  # droplets a pixel from which on their count is as good as normal
SELDOM = 0.02  # droplets a pixel under which each is thrown by itself
CLUMP_MM, CLUMPED = 0.35, 1.3  # of half-dry grains: size, and spread in ln (judged)


@dataclass(frozen=True, slots=True, eq=False)
class Fine:
    """Film [µm, dry] in splats finer than a pixel, rows and columns it lies in, and its splats."""

    film_um: Floats
    box: tuple[slice, slice]
    splats: Splats


@dataclass(frozen=True, slots=True)
class LaidCard:
    """What lies on a card, (h, w) each.

    Attributes
    ----------
    film_um : float32 [µm, dry]
    fingers : float32 [0..1], how much of a pixel is under a rivulet
    px_mm : float, pixels a millimetre
    paths : the rivulets and their branches
    fine : what of the film lies in splats finer than a pixel, by what it was sprayed with
    """

    film_um: Floats
    fingers: Floats
    px_mm: float
    paths: tuple[Rivulet, ...]
    fine: tuple[Fine, ...]

    @property
    def rivulets(self) -> int:
        """How many there are, branches not counted."""
        return sum(path.main for path in self.paths)


def lay(
    marks: Sequence[Mark], *, width_mm: float, height_mm: float, px_mm: float, seed: int
) -> LaidCard:
    """What some strokes and dots leave on a card.

    Parameters
    ----------
    marks : in the order they are sprayed
    width_mm, height_mm : float [mm], of what is drawn; its corner is the origin
    px_mm : float, pixels a millimetre
    seed : int
    """
    rng = np.random.default_rng(seed)
    h, w = max(1, round(height_mm * px_mm)), max(1, round(width_mm * px_mm))
    y, x = ((np.arange(n, dtype=np.float32) + 0.5) / px_mm for n in (h, w))
    film, fingers = (np.zeros((h, w), dtype=np.float32) for _ in range(2))
    fine: list[Fine] = []
    # what one setting lands is drawn at once, however many strokes it takes
    for landing, group in _by_landing(marks):
        boxes = [box_of(mark, px_mm, h, w) for mark in group]
        rows, columns = (
            slice(min(b[k].start for b in boxes), max(b[k].stop for b in boxes)) for k in (0, 1)
        )
        wet = np.zeros((h, w), dtype=np.float32)
        for mark, box in zip(group, boxes, strict=True):
            wet[box] += landed(mark, x[box[1]], y[box[0]], rng)
        whole, points = _splats(landing, wet[rows, columns], px_mm, rng)
        film[rows, columns] += whole * np.float32(landing.dry_share)
        dry = np.asarray(points * np.float32(landing.dry_share))
        fine.append(Fine(dry, (rows, columns), _points(landing, px_mm)))
    paths = [
        standing_out(p, film, px_mm, mark=n)
        for n, mark in enumerate(marks)
        for p in rivulets(mark, rng)
    ]
    draw(paths, film, fingers, px_mm)
    tooth = _blurred(rng.standard_normal((h, w), dtype=np.float32), TOOTH_MM * px_mm)
    tooth_of = np.clip(1 + TOOTH * tooth / max(float(tooth.std()), 1e-9), 0.6, 1.4)
    film *= tooth_of
    for part in fine:
        part.film_um[...] *= tooth_of[part.box]
    return LaidCard(film, fingers, px_mm, tuple(paths), tuple(fine))


def _by_landing(marks: Sequence[Mark]) -> list[tuple[SprayLanding, list[Mark]]]:
    groups: dict[int, tuple[SprayLanding, list[Mark]]] = {}
    for mark in marks:
        groups.setdefault(id(mark.landing), (mark.landing, []))[1].append(mark)
    return list(groups.values())


def _splats(landing: SprayLanding, wet: Grid, px_mm: float, rng: Generator) -> tuple[Grid, Grid]:
    """(h, w) float [µm, wet] each: the film as droplets with their splats; its finest part."""
    area_mm2 = px_mm**-2
    film, fine = np.zeros_like(wet), np.zeros_like(wet)
    for part, half_dry in ((1 - landing.dusty, False), (landing.dusty, True)):
        if part < LEAST_DUSTY:
            continue
        mean = wet * np.float32(1e-3 * part * area_mm2)  # mm³ a pixel
        if half_dry:
            mean = mean * _clumps(wet.shape, px_mm, rng)
        for drop_mm3, share, radius in _classes(landing, px_mm, half_dry=half_dry):
            count = _poisson(mean * np.float32(share / drop_mm3), rng)
            if radius >= FINEST_PX:
                count = _spread(count, _disc(radius))
            count *= np.float32(drop_mm3 / area_mm2 * 1e3)
            film += count
            if radius < FINEST_PX:
                fine += count
    return film, fine


def _classes(
    landing: SprayLanding, px_mm: float, *, half_dry: bool
) -> list[tuple[float, float, float]]:
    """Volume [mm³] of a droplet, share of what lands, and radius [px] of the splat of each size.

    Splats that are points are one class, of the volume that leaves the same scatter: Σ s V.
    """
    drops = np.pi / 6 * (landing.sizes_um * 1e-3) ** 3
    across = landing.sizes_um * UNSPREAD * 1e-3 if half_dry else landing.splats_mm
    radii = 0.5 * across * px_mm
    points = radii < FINEST_PX
    found = [
        (float(v), float(s), float(r))
        for v, s, r in zip(drops[~points], landing.shares[~points], radii[~points], strict=True)
        if s > LEAST_SHARE
    ]
    share = float(landing.shares[points].sum())
    if share > LEAST_SHARE:
        mean = float((landing.shares[points] * drops[points]).sum() / share)
        found.append((mean, share, 0.0))
    return found


def _points(landing: SprayLanding, px_mm: float) -> Splats:
    """Splats of a landing that are finer than a pixel."""
    fine = 0.5 * landing.splats_mm * px_mm < FINEST_PX
    every = landing.splats
    return Splats(every.thick_um[fine], every.shares[fine])


def _poisson(mean: Grid, rng: Generator) -> Grid:
    """Counts; seldom ones are thrown one by one, of many a normal draw is the same and quicker."""
    total = float(mean.sum())
    if total < SELDOM * mean.size:
        reached = np.cumsum(mean.reshape(-1))
        thrown = rng.uniform(0, total, rng.poisson(total))
        at = np.minimum(np.searchsorted(reached, thrown), mean.size - 1)
        return np.bincount(at, minlength=mean.size).reshape(mean.shape).astype(np.float32)
    many = mean > MANY
    count = np.zeros_like(mean)
    few = (mean > 0) & ~many
    count[few] = rng.poisson(mean[few])
    if many.any():
        there = mean[many]
        drawn = there + np.sqrt(there) * rng.standard_normal(there.shape, dtype=np.float32)
        count[many] = np.maximum(drawn, 0)
    return count


def _spread(count: Grid, disc: Array) -> Grid:
    """Each droplet as its splat."""
    import cv2  # late: the program starts without it

    spread = cv2.filter2D(count, -1, disc, borderType=cv2.BORDER_CONSTANT)
    return np.asarray(np.maximum(spread, 0))


def _blurred(noise: Grid, sigma_px: float) -> Grid:
    import cv2

    return np.asarray(cv2.GaussianBlur(noise, (0, 0), sigma_px))


def _disc(radius: float) -> Array:
    """A disc of so many pixels, its edge softened by half a pixel; sums to 1."""
    n = int(np.ceil(radius + 0.5))
    y, x = np.mgrid[-n : n + 1, -n : n + 1]
    disc = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1)
    return np.asarray(disc / disc.sum())


def _clumps(shape: tuple[int, ...], px_mm: float, rng: Generator) -> Grid:
    noise = _blurred(rng.standard_normal(shape, dtype=np.float32), max(CLUMP_MM * px_mm / 2, 0.5))
    noise *= CLUMPED / max(float(noise.std()), 1e-9)
    return np.asarray(np.exp(noise - np.float32(0.5 * CLUMPED**2)))
