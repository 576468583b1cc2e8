"""What a setting would leave on a card, drawn droplet by droplet (docs/models.md F).

Droplets fall where the footprint and the strokes let them, Poisson by size class; each leaves its
splat. Where the spider number of the standing film passes 1, rivulets are driven outward; where too
much lands half dry the film is grainy; where the flow stops it spits. The film becomes colour by
the film model. The same seed draws the same card.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.optimize import nnls
from scipy.special import erf

from haze.core.arrays import Array, Bytes, Floats, Mask
from haze.core.film.finish import SURFACE, inside_film
from haze.core.film.looks import shown_bytes
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import Skin, coated, seen
from haze.core.film.spectra import spectrum_of_hex
from haze.core.inspect.landing import Landing, Splats

Grid = NDArray[Any]

PAPER = "#f2f0ea"
TOOTH_MM, TOOTH = 0.12, 0.05  # grain of the paper, and how much it takes of a film (judged)
REACH = 4.2  # sigmas from a mark's middle beyond which nothing of it is drawn
FINEST_PX = 0.45  # radius under which a splat is a point
FINGER_MM = 1.1  # rim for each rivulet (judged)
FINGER_WIDE_MM = (0.13, 0.3)
LONGEST_FINGER_MM = 8.0
BRANCHES = 0.28  # a millimetre of finger
FORKS = 2  # branches of branches, no more
STEP_MM = 0.14
UNSPREAD = 1.15  # diameter of a half-dry grain over its droplet's
LEAST_DUSTY, LEAST_SHARE = 0.01, 1e-7
STANDS_OUT, HIDDEN_UM = 1.8, 1.8  # film over that beside it, and film in which nothing is seen
MOST_FILM_UM, STEPS = 160.0, 600
MANY = 12.0  # droplets a pixel from which on their count is as good as normal
SELDOM = 0.02  # droplets a pixel under which each is thrown by itself
CLUMP_MM, CLUMPED = 0.35, 1.3  # of half-dry grains: size, and spread in ln (judged)
STOPS_FROM = 0.5  # risk of no flow from which on a stroke is broken
STOP_MM = 5.0  # of stroke between stops of a clogged airbrush


@dataclass(frozen=True, slots=True)
class Stroke:
    """A stroke of the hand over a card: from and to (x, y) [mm].

    `slowly` is the time it takes over that of the setting's own hand.
    """

    landing: Landing
    start: tuple[float, float]
    end: tuple[float, float]
    slowly: float = 1.0


@dataclass(frozen=True, slots=True)
class Dot:
    """A burst on one place (x, y) [mm], with the hand still, for some seconds."""

    landing: Landing
    at: tuple[float, float]
    seconds: float


@dataclass(frozen=True, slots=True, eq=False)
class Fine:
    """Film [µm, dry] in splats finer than a pixel, rows and columns it lies in, and its splats."""

    film_um: Floats
    box: tuple[slice, slice]
    splats: Splats


@dataclass(frozen=True, slots=True)
class Laid:
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


Mark = Stroke | Dot


def lay(
    marks: Sequence[Mark], *, width_mm: float, height_mm: float, px_mm: float, seed: int
) -> Laid:
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
        boxes = [_box(mark, px_mm, h, w) for mark in group]
        rows, columns = (
            slice(min(b[k].start for b in boxes), max(b[k].stop for b in boxes)) for k in (0, 1)
        )
        wet = np.zeros((h, w), dtype=np.float32)
        for mark, box in zip(group, boxes, strict=True):
            wet[box] += _landed(mark, x[box[1]], y[box[0]], rng)
        whole, points = _splats(landing, wet[rows, columns], px_mm, rng)
        film[rows, columns] += whole * np.float32(landing.dry_share)
        dry = np.asarray(points * np.float32(landing.dry_share))
        fine.append(Fine(dry, (rows, columns), _points(landing, px_mm)))
    paths = [
        _seen(p, film, px_mm, mark=n) for n, mark in enumerate(marks) for p in rivulets(mark, rng)
    ]
    _draw(paths, film, fingers, px_mm)
    tooth = _blurred(rng.standard_normal((h, w), dtype=np.float32), TOOTH_MM * px_mm)
    tooth_of = np.clip(1 + TOOTH * tooth / max(float(tooth.std()), 1e-9), 0.6, 1.4)
    film *= tooth_of
    for part in fine:
        part.film_um[...] *= tooth_of[part.box]
    return Laid(film, fingers, px_mm, tuple(paths), tuple(fine))


def card_bytes(laid: Laid, optics: PaintOptics, *, paper: str = PAPER) -> Bytes:
    """(h, w, 3) uint8: a card in its colours, encoded sRGB.

    Parameters
    ----------
    laid : what lies on it
    optics : of the paint
    paper : "#rrggbb", of the bare card
    """
    h, w = laid.film_um.shape
    film = shown_film_um(laid, optics, paper=paper).reshape(-1)
    inside = inside_film(spectrum_of_hex(paper), "matt").astype(np.float32)
    bare = Skin(
        np.repeat(inside[:, None], film.size, axis=1),
        np.full(film.size, SURFACE["matt"], dtype=np.float32),
        np.zeros(film.size, dtype=np.float32),
    )
    return shown_bytes(seen(coated(bare, optics, film))).reshape(h, w, 3)


def shown_film_um(laid: Laid, optics: PaintOptics, *, paper: str = PAPER) -> Floats:
    """(h, w) float32 [µm, dry]: even films that look as what lies there does.

    Splats finer than a pixel leave gaps between them: what is seen is the mean of places under
    none, one, two of them (Poisson), which is lighter than the mean film spread evenly.

    Parameters
    ----------
    laid : what lies there
    optics : of the paint
    paper : "#rrggbb", of the bare card
    """
    films = np.linspace(0, np.sqrt(MOST_FILM_UM), STEPS) ** 2
    shares = closing(film_colours(optics, films, paper=paper))
    out = laid.film_um.copy()
    for part in laid.fine:
        even = np.interp(sprinkled(films, shares, part.splats), shares, films)
        out[part.box] += np.interp(part.film_um, films, np.minimum(even - films, 0))
    return np.asarray(np.maximum(out, 0), dtype=np.float32)


def sprinkled(films_um: Array, shares: Array, splats: Splats) -> Array:
    """(n,) float: mean shares of sprinkled films, where even ones have `shares`.

    Splats fall at random; over a place lie none, one, two of each class (Poisson). A share that
    rises as a sum of 1 − exp(−a X) does so sprinkled too, with a X become
    X Σ s (1 − exp(−a h)) / h: the compound Poisson mean, exactly.

    Parameters
    ----------
    films_um : (n,) float [µm, dry], rising from 0
    shares : (n,) float [-], rising from 0
    splats : what the film is made of
    """
    rates = np.geomspace(0.01, 30, 28)
    weights = nnls(-np.expm1(-np.outer(films_um, rates)), shares)[0]
    thick = np.maximum(splats.thick_um, 1e-4)
    part = splats.shares / max(float(splats.shares.sum()), 1e-12)
    slower = (-np.expm1(-np.outer(rates, thick)) / thick) @ part
    mean = -np.expm1(-np.outer(films_um, slower)) @ weights
    return np.asarray(np.maximum.accumulate(mean) + np.arange(len(mean)) * 1e-9)


def closing(colours: Floats) -> Array:
    """(n,) float [0..1], rising: how far colours lie on the way from the first to the last.

    Parameters
    ----------
    colours : (n, 3) float, linear light by rising film
    """
    way = (colours[-1] - colours[0]).astype(np.float64)
    share = (colours - colours[0]) @ way / max(float(way @ way), 1e-9)
    return np.asarray(np.maximum.accumulate(share) + np.arange(len(share)) * 1e-9)


def film_colours(
    optics: PaintOptics, films_um: Array, *, paper: str = PAPER, ink: float = 1.0
) -> Floats:
    """(n, 3) float32: linear sRGB of even films over paper, or over what is printed on it.

    Parameters
    ----------
    optics : of the paint
    films_um : (n,) float [µm, dry]
    paper : "#rrggbb", of the bare card
    ink : float, reflectance of what is printed over that of the paper
    """
    inside = inside_film(spectrum_of_hex(paper), "matt") * ink
    bare = Skin(
        np.repeat(inside[:, None], len(films_um), axis=1),
        np.full(len(films_um), SURFACE["matt"] * ink),
        np.zeros(len(films_um)),
    )
    return np.asarray(seen(coated(bare, optics, films_um)).T, dtype=np.float32)


def _by_landing(marks: Sequence[Mark]) -> list[tuple[Landing, list[Mark]]]:
    groups: dict[int, tuple[Landing, list[Mark]]] = {}
    for mark in marks:
        groups.setdefault(id(mark.landing), (mark.landing, []))[1].append(mark)
    return list(groups.values())


# where it lands ----------------------------------------------------------------------------------


def _ends(mark: Mark) -> tuple[Array, Array]:
    if isinstance(mark, Dot):
        return np.array(mark.at), np.array(mark.at)
    return np.array(mark.start), np.array(mark.end)


def _box(mark: Mark, px_mm: float, h: int, w: int) -> tuple[slice, slice]:
    a, b = _ends(mark)
    reach = REACH * mark.landing.sigma_mm
    low = np.floor((np.minimum(a, b) - reach) * px_mm).astype(int)
    high = np.ceil((np.maximum(a, b) + reach) * px_mm).astype(int) + 1
    x0, x1 = np.clip([low[0], high[0]], 0, w)
    y0, y1 = np.clip([low[1], high[1]], 0, h)
    return slice(int(y0), int(y1)), slice(int(x0), int(x1))


def _landed(mark: Mark, x: Grid, y: Grid, rng: Generator) -> Grid:
    """(rows, columns) float [µm, wet]: the mean film of a mark at rows `y` and columns `x`."""
    a, b = _ends(mark)
    stops = mark.landing.stops > STOPS_FROM
    if (a[0] == b[0] or a[1] == b[1]) and not stops:  # upright or level: rows times columns
        mx, my = _middle(mark)
        middle = float(_mean_wet_um(mark, mx, my)[0])
        if middle > 0:
            rows, columns = _mean_wet_um(mark, mx, y), _mean_wet_um(mark, x, my)
            return np.asarray(np.outer(rows, columns / middle), dtype=np.float32)
    px, py = np.meshgrid(x, y)
    found = _mean_wet_um(mark, px, py)
    return np.asarray(found * _flowing(mark, px, py, rng) if stops else found, dtype=np.float32)


def _along(mark: Mark, x: Grid, y: Grid) -> tuple[Grid, Grid, float]:
    """Millimetres along a stroke and beside it, and how long it is."""
    a, b = _ends(mark)
    length = float(np.hypot(*(b - a)))
    u = (b - a) / length if length > 0 else np.array([1.0, 0.0])
    return (
        (x - a[0]) * u[0] + (y - a[1]) * u[1],
        -(x - a[0]) * u[1] + (y - a[1]) * u[0],
        length,
    )


def _mean_wet_um(mark: Mark, x: Grid, y: Grid) -> Grid:
    """Wet film [µm] that lands on the mean: a Gaussian, swept along a stroke or held still."""
    sigma = mark.landing.sigma_mm
    along, beside, length = _along(mark, x, y)
    across = np.exp(-0.5 * (beside / sigma) ** 2)
    if isinstance(mark, Dot):
        held = mark.landing.volume_mm3_s * mark.seconds / (2 * np.pi * sigma**2) * 1e3
        return np.asarray(held * across * np.exp(-0.5 * (along / sigma) ** 2))
    root = np.sqrt(2) * sigma
    ends = 0.5 * (erf(along / root) - erf((along - length) / root))
    return np.asarray(mark.slowly * mark.landing.wet_um * across * ends)


def _flowing(mark: Mark, x: Grid, y: Grid, rng: Generator) -> Grid | float:
    """Share of the flow that comes, along a stroke: it stops and spits where it clogs."""
    stops = float(np.clip((mark.landing.stops - STOPS_FROM) / (1 - STOPS_FROM), 0, 1))
    if stops == 0:
        return 1.0
    if isinstance(mark, Dot):
        return float(rng.uniform(0, 1) > stops) * 0.8 + 0.05
    along, _, length = _along(mark, x, y)
    knots = max(3, round(length / STOP_MM) + 2)
    comes = np.interp(along, np.linspace(0, length, knots), rng.uniform(0, 1, knots) - stops)
    return np.asarray(np.clip(comes / 0.15, 0.02 * (1 - stops), 1))


def _splats(landing: Landing, wet: Grid, px_mm: float, rng: Generator) -> tuple[Grid, Grid]:
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


def _classes(landing: Landing, px_mm: float, *, half_dry: bool) -> list[tuple[float, float, float]]:
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


def _points(landing: Landing, px_mm: float) -> Splats:
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


# rivulets ----------------------------------------------------------------------------------------


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
    peak_um = float(_mean_wet_um(mark, *_middle(mark)).max())
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


def _middle(mark: Mark) -> tuple[Array, Array]:
    a, b = _ends(mark)
    return np.array([(a[0] + b[0]) / 2]), np.array([(a[1] + b[1]) / 2])


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
    a, b = _ends(mark)
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


def _seen(path: Rivulet, film: Grid, px_mm: float, *, mark: int) -> Rivulet:
    """A rivulet with how much of it stands out from what lies there."""
    h, w = film.shape
    x, y = (path.points * px_mm).astype(int).T
    inside = (x >= 0) & (x < w) & (y >= 0) & (y < h)
    there = film[y[inside], x[inside]]
    stands = (there < path.dry_um / STANDS_OUT) & (there < HIDDEN_UM)
    return replace(path, seen=float(stands.sum()) / len(path.points), mark=mark)


def _draw(paths: Sequence[Rivulet], film: Grid, fingers: Grid, px_mm: float) -> None:
    """Lay rivulets on a film, all their points at once."""
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


def under_fingers(laid: Laid) -> Mask:
    """(h, w) bool: where rivulets lie.

    Parameters
    ----------
    laid : what lies on a card
    """
    return np.asarray(laid.fingers > 0.5)
