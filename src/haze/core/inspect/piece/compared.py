"""Values of a painted piece on its photo beside those of its plan, region by region.

A photo shows paint times light. The light is taken as even from all sides, so that a place gets
as much of it as it is open (`openness`); a patch of known lightness tells the exposure. What is
left is compared as L*, robustly: medians over the lightest, the middle and the darkest.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter, map_coordinates

from haze.core.arrays import Array, Bytes, Floats, Ints, Longs, Mask
from haze.core.errors import HazeError
from haze.core.film.srgb import LUMINANCE, decode_srgb, lightness_of, luminance_of_lightness
from haze.core.inspect.piece.pose import Pose

ENDS = 0.12  # of what is seen in a region is its lightest, and as much its darkest
LEAST_PLACES = 40
PATCH_SHARE = 0.008  # radius of a reference patch over the photo's longer side
SMOOTH_PX = 1.2
LEAST_OPEN = 0.2  # deeper lie recesses whose light is a guess
PATCH_UNSURE = 3.0  # L*: what a patch held beside the piece may be off by its own slant (judged)
PATCH_CLIPPED = 250
SHORT_BY, OVER_BY = 4.0, 8.0  # L* beyond what is sure, from where it is reported


class PatchError(HazeError):
    """The place that was marked is no reference."""

    code = "patch"


@dataclass(frozen=True, slots=True)
class Ends:
    """Median L* of the lightest, the middle and the darkest part of a region."""

    light: float
    middle: float
    dark: float


@dataclass(frozen=True, slots=True)
class Region:
    """A part of the piece: planned and seen [L*], and how far what is seen may be off [L*].

    `wander` is how far [L*] each moves when the photo is laid a little beside the plan; `share` is
    how much of its area the photo shows, `lightest` and `darkest` are vertices there.
    """

    part: int
    planned: Ends
    seen: Ends
    unsure: float
    wander: Ends
    share: float
    lightest: Longs
    darkest: Longs


def exposure(photo: Bytes, at: tuple[float, float], lightness: float) -> float:
    """What luminance on the photo is multiplied by to be that of the paint.

    Parameters
    ----------
    photo : (h, w, 3) uint8, encoded sRGB
    at : (x, y) [px], in the middle of a patch that is evenly lit
    lightness : float [L*], of that patch

    Raises
    ------
    PatchError where the patch is burnt out, or too dark to tell anything
    """
    high, wide = photo.shape[:2]
    r = max(2, round(PATCH_SHARE * max(high, wide)))
    x, y = (int(np.clip(v, r, size - r - 1)) for v, size in zip(at, (wide, high), strict=True))
    patch = photo[y - r : y + r + 1, x - r : x + r + 1].reshape(-1, 3)
    if np.median(patch.max(axis=1)) >= PATCH_CLIPPED:
        raise PatchError(
            "The paper is burnt out there: its light is lost. Take the photo again a little "
            "darker, or mark a grey patch.",
            field="patch",
        )
    luminance = float(np.median(decode_srgb(patch / 255.0) @ LUMINANCE))
    if luminance < 0.01:
        raise PatchError("It is dark there; mark the middle of the paper.", field="patch")
    return float(luminance_of_lightness(lightness)) / luminance


def lightness_on_photo(
    photo: Bytes,
    pose: Pose,
    vertices: Floats,
    *,
    openness: Floats,
    factor: float,
    beside: tuple[float, float] = (0.0, 0.0),
) -> Array:
    """(n,) float [L*]: of the paint at each vertex as the photo shows it.

    Parameters
    ----------
    photo : (h, w, 3) uint8, encoded sRGB
    pose : of its camera
    vertices : (n, 3) float32, in units of the prepared mesh
    openness : (n,) float32 [0..1]
    factor : float, of `exposure`
    beside : (x, y) [px], how far beside its place on the photo it is read
    """
    luminance = gaussian_filter(decode_srgb(photo / 255.0) @ LUMINANCE, SMOOTH_PX)
    at, _ = pose.seen_at(vertices)
    read = map_coordinates(
        luminance, [at[:, 1] - 0.5 + beside[1], at[:, 0] - 0.5 + beside[0]], order=1, mode="nearest"
    )
    return lightness_of(np.clip(read * factor / np.maximum(openness, LEAST_OPEN), 0, 1))


def regions(
    planned: Array,
    seen: Array,
    *,
    beside: Sequence[Array] = (),
    shown: Mask,
    part: Ints,
    area: Floats,
    openness: Floats,
) -> list[Region]:
    """Every part of which the photo shows enough.

    Parameters
    ----------
    planned, seen : (n,) float [L*], by the plan and on the photo
    beside : (n,) float [L*] each, read a little beside its place
    shown : (n,) bool, vertices that the photo shows
    part : (n,) int, which part each belongs to
    area : (n,) float
    openness : (n,) float32 [0..1]; deep places do not count
    """
    counts = shown & (openness >= LEAST_OPEN)
    out = []
    for number in np.unique(part[counts]).tolist():
        here = np.flatnonzero(counts & (part == number))
        if len(here) < LEAST_PLACES:
            continue
        order = here[np.argsort(planned[here], kind="stable")]
        each = max(int(ENDS * len(order)), 8)
        dark, light = order[:each], order[-each:]
        middle = order[(len(order) - each) // 2 :][:each]
        off = seen[here] - planned[here]
        spread = 1.4826 * float(np.median(np.abs(off - np.median(off))))
        found = _ends(seen, light, middle, dark)
        moved = [_ends(other, light, middle, dark) for other in beside]
        share = float(area[here].sum() / max(area[part == number].sum(), 1e-12))
        out.append(
            Region(
                part=number,
                planned=_ends(planned, light, middle, dark),
                seen=found,
                unsure=float(np.hypot(PATCH_UNSURE, 0.5 * spread)),
                wander=_wander(found, moved),
                share=share,
                lightest=light,
                darkest=dark,
            )
        )
    return out


def _ends(values: Array, light: Longs, middle: Longs, dark: Longs) -> Ends:
    return Ends(*(float(np.median(values[at])) for at in (light, middle, dark)))


def _wander(found: Ends, moved: Sequence[Ends]) -> Ends:
    def off(end: str) -> float:
        by = [abs(getattr(m, end) - getattr(found, end)) for m in moved]
        return float(np.mean(by)) if by else 0.0

    return Ends(off("light"), off("middle"), off("dark"))


def falls_short(region: Region) -> float:
    """By how much [L*] the lightest of a region is darker than planned; 0 when that is not sure."""
    short = region.planned.light - region.seen.light
    return short if short > SHORT_BY + np.hypot(region.unsure, region.wander.light) else 0.0


def too_light_below(region: Region) -> float:
    """By how much [L*] the darkest of a region is lighter than planned; 0 when it is not sure."""
    over = region.seen.dark - region.planned.dark
    return over if over > OVER_BY + np.hypot(region.unsure, 2 * region.wander.dark) else 0.0


def share_reached(shares: Sequence[float], lightness: Array, seen: float) -> float | None:
    """How much of a coat's film lies there, by how light its place is; None when none explains it.

    Parameters
    ----------
    shares : (k,) of the planned film, rising
    lightness : (k,) float [L*], of the place with that share
    seen : float [L*]
    """
    if not lightness.min() <= seen <= lightness.max():
        return None
    rising = np.maximum.accumulate(lightness)
    return float(np.interp(seen, rising, shares))
