"""Rivulets that the air drives out of a wet film: spiders, as a card shows them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from haze.core.arrays import Array
from haze.core.inspect.strokes import Dot, Grid, Mark, ends, mean_wet_um, middle

FINGER_MM = 1.1  # rim for each rivulet (judged)
FINGER_WIDE_MM = (0.13, 0.3)
LONGEST_FINGER_MM = 8.0
BRANCHES = 0.28  # a millimetre of finger
FORKS = 2  # branches of branches, no more
STEP_MM = 0.14
STANDS_OUT, HIDDEN_UM = 1.8, 1.8  # film over that beside it, and film in which nothing is seen


@dataclass(frozen=True, slots=True)
class Rivulet:
    """The way of one rivulet or branch.

    Attributes
    ----------
    points : (n, 2) float [mm], x and y
    wide_mm : (n,) float [mm]
    dry_um : float [µm, dry], of the film under it
    main : whether it is no branch
    seen : float [0..1], share of its length that stands out from the film round it
    mark : place of the stroke or dot it grew from, in the order they were sprayed
    """

    points: Array
    wide_mm: Array
    dry_um: float
    main: bool
    seen: float = 1.0
    mark: int = 0

    @property
    def seen_mm(self) -> float:
        """Its length [mm] that stands out."""
        return self.seen * STEP_MM * len(self.points)


def rivulets(mark: Mark, rng: Generator) -> list[Rivulet]:
    """What the air drives out of a wet mark; nothing where the spider number stays under 1.

    Parameters
    ----------
    mark : a stroke or a dot
    rng : of the card
    """
    landing = mark.landing
    peak_um = float(mean_wet_um(mark, *middle(mark)).max())
    radii = np.linspace(0, 3, 60)
    numbers = landing.wetness(peak_um * np.exp(-0.5 * radii**2))[0]
    drive = float(numbers[0])
    if drive <= 1:
        return []
    # as far as the film is still wet enough to be driven
    edge_mm = float(radii[np.nonzero(numbers >= 1)[0][-1]]) * landing.sigma_mm + 0.2
    dry_um = landing.dry_share * peak_um * 1.15
    found: list[Rivulet] = []
    for x, y, heading in _starts(mark, edge_mm, drive, rng):
        far = 0.9 * edge_mm * (drive - 1) ** 0.4 * rng.lognormal(0, 0.45)
        wide = float(rng.uniform(*FINGER_WIDE_MM))
        _grow(found, rng, (x, y), heading, min(LONGEST_FINGER_MM, far), wide, dry_um, forks=FORKS)
    return found


def _starts(
    mark: Mark, edge_mm: float, drive: float, rng: Generator
) -> list[tuple[float, float, float]]:
    """Where rivulets begin, and which way they are driven [rad]."""
    often = 1 - np.exp(-(drive - 1))
    if isinstance(mark, Dot):
        count = round(2 * np.pi * edge_mm / FINGER_MM * often)
        apart = (np.arange(count) + rng.uniform(-0.35, 0.35, count)) / max(count, 1)
        turns = rng.uniform(0, 2 * np.pi) + 2 * np.pi * apart
        return [
            (mark.at[0] + 0.6 * edge_mm * np.cos(t), mark.at[1] + 0.6 * edge_mm * np.sin(t), t)
            for t in turns
        ]
    a, b = ends(mark)
    length = float(np.hypot(*(b - a)))
    way = float(np.arctan2(*(b - a)[::-1]))
    found = []
    for t in rng.uniform(0.03, 0.97, round(length / (2 * FINGER_MM) * often)):
        side = float(rng.choice([-1.0, 1.0]))
        out = way + side * np.pi / 2
        at = a + (b - a) * t + 0.7 * edge_mm * np.array([np.cos(out), np.sin(out)])
        # the hand leaves it behind: it leans along the stroke
        found.append((float(at[0]), float(at[1]), out - side * float(rng.uniform(0, 0.5))))
    return found


def _grow(
    found: list[Rivulet],
    rng: Generator,
    at: tuple[float, float],
    heading: float,
    far_mm: float,
    wide_mm: float,
    dry_um: float,
    *,
    forks: int,
) -> None:
    """One rivulet: it wanders, thins, forks, and ends in a bead."""
    steps = max(2, int(far_mm / STEP_MM))
    # wandering that is drawn back to the way it is driven
    drift, turns = 0.0, np.empty(steps)
    for i, kick in enumerate(rng.normal(0, 0.16, steps).tolist()):
        drift = 0.94 * drift + kick
        turns[i] = heading + drift
    ways = np.stack([np.cos(turns), np.sin(turns)], axis=1) * STEP_MM
    points = np.array(at) + np.cumsum(ways, axis=0)
    left = 1 - np.arange(steps) / steps
    wide = wide_mm * (0.55 + 0.45 * left)
    wide[-1] = 1.25 * wide_mm
    found.append(Rivulet(points, wide, dry_um, forks == FORKS))
    if not forks:
        return
    for i in np.flatnonzero(rng.uniform(size=steps) < BRANCHES * STEP_MM).tolist():
        if left[i] > 0.2:
            fork = float(turns[i] + rng.choice([-1, 1]) * rng.uniform(0.4, 0.9))
            short = 0.5 * far_mm * float(left[i])
            begin = float(points[i, 0]), float(points[i, 1])
            _grow(found, rng, begin, fork, short, 0.8 * wide_mm, dry_um, forks=forks - 1)


def standing_out(path: Rivulet, film: Grid, px_mm: float, *, mark: int) -> Rivulet:
    """A rivulet with how much of it stands out from what lies there.

    Parameters
    ----------
    path : the rivulet
    film : (h, w) float [µm, dry], before it is drawn
    px_mm : float, pixels a millimetre
    mark : place of the stroke or dot it grew from
    """
    h, w = film.shape
    x, y = (path.points * px_mm).astype(int).T
    inside = (x >= 0) & (x < w) & (y >= 0) & (y < h)
    there = film[y[inside], x[inside]]
    stands = (there < path.dry_um / STANDS_OUT) & (there < HIDDEN_UM)
    return replace(path, seen=float(stands.sum()) / len(path.points), mark=mark)


def draw(paths: Sequence[Rivulet], film: Grid, fingers: Grid, px_mm: float) -> None:
    """Lay rivulets on a film, all their points at once, in place.

    Parameters
    ----------
    paths : rivulets and branches
    film : (h, w) float [µm, dry]
    fingers : (h, w) float [0..1], how much of a pixel is under one
    px_mm : float, pixels a millimetre
    """
    if not paths:
        return
    h, w = film.shape
    at = np.concatenate([p.points for p in paths]) * px_mm - 0.5
    radius = np.maximum(0.5 * px_mm * np.concatenate([p.wide_mm for p in paths]), 0.5)
    dry = np.concatenate([np.full(len(p.points), p.dry_um) for p in paths])
    n = int(np.ceil(radius.max() + 1))
    oy, ox = (o.reshape(1, -1) for o in np.mgrid[-n : n + 1, -n : n + 1])
    px, py = np.round(at[:, :1]).astype(int) + ox, np.round(at[:, 1:]).astype(int) + oy
    cover = np.clip(radius[:, None] + 0.5 - np.hypot(px - at[:, :1], py - at[:, 1:]), 0, 1)
    inside = (cover > 0) & (px >= 0) & (px < w) & (py >= 0) & (py < h)
    where = py[inside], px[inside]
    np.maximum.at(film, where, (dry[:, None] * cover)[inside])
    np.maximum.at(fingers, where, cover[inside])
