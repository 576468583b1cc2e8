"""What a photo of a painted piece shows beside its plan, in numbers and in words."""

from __future__ import annotations

import math
from dataclasses import astuple
from functools import partial
from typing import Literal

import numpy as np
from pydantic import Field

from haze.core.arrays import Bytes, Longs
from haze.core.day.holding import side_words
from haze.core.directions import angles_of
from haze.core.film.skin import seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.inspect.piece.compared import (
    Ends,
    Region,
    falls_short,
    lightness_on_photo,
    regions,
    share_reached,
    too_light_below,
)
from haze.core.inspect.piece.pose import CHECKED_FROM, Pose, in_view
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.service.forms.wire import Kept
from haze.service.piece.onpiece import OnPiece

SHARES = np.linspace(0.0, 1.0, 26)
LEAST_ROUNDS = 0.3  # of a round that lacks is none
LANDS_UM = 0.1
PASSED_OVER = 8.0  # L*
AS_PLANNED = "As planned, as far as the photo tells."
NOT_SURE = (
    "It differs, but marks that lie a little beside would explain it. Mark more points, on sharp "
    "tips and corners."
)
MISSED_BY, LEAST_MISSED = 1.3, 0.002  # of what points miss by, and of the piece's size (judged)


class RegionOut(Kept):
    """A part of the piece: planned and seen, how sure [L*], the share of it shown, what to do."""

    part: str
    planned: Ends
    seen: Ends
    unsure: float
    share: float
    sign: Literal["clean", "mind", "unknown"]
    words: str


class CameraOut(Kept):
    """A camera: its turn row by row, its shift in units of the prepared mesh, focal length [px]."""

    turn: list[float] = Field(min_length=9, max_length=9)
    shift: list[float] = Field(min_length=3, max_length=3)
    focal_px: float

    def pose(self, width: int, height: int) -> Pose:
        """As it was found for a photo of some pixels."""
        turn = np.array(self.turn).reshape(3, 3)
        middle = np.array([width / 2, height / 2])
        return Pose(turn, np.array(self.shift), self.focal_px, middle)


class Compared(Kept):
    """A photo beside its plan, and from where it was taken.

    `off_share` is by how much of the piece's size points miss, or by an outline what is seen may.
    """

    regions: list[RegionOut]
    off_share: float
    trust: list[str]
    camera: CameraOut | None = None


def compared(
    pixels: Bytes, pose: Pose, *, factor: float, points: int | None, plan: Plan, on: OnPiece
) -> Compared:
    """A photo whose camera is known beside its plan.

    Parameters
    ----------
    pixels : (h, w, 3) uint8, encoded sRGB
    pose : of its camera
    factor : of `exposure`
    points : int, how many were marked; None for an outline
    plan : the plan
    on : its piece
    """
    high, wide = pixels.shape[:2]
    piece = on.piece
    shown = in_view(pose, piece.mesh, width=wide, height=high)
    size = float(np.linalg.norm(np.ptp(pose.seen_at(piece.mesh.vertices)[0], axis=0)))
    by = MISSED_BY * pose.off_px + LEAST_MISSED * size
    read = partial(
        lightness_on_photo,
        pixels,
        pose,
        piece.mesh.vertices,
        openness=piece.openness,
        factor=factor,
    )
    lightness = read()
    planned = lightness_of_rgb(seen(on.below(plan, len(plan.coats)))).astype(np.float64)
    found = regions(
        planned,
        lightness,
        beside=[read(beside=(x * by, y * by)) for x, y in ((1, 0), (-1, 0), (0, 1), (0, -1))],
        shown=shown,
        part=piece.part,
        area=piece.mesh.vertex_area,
        openness=piece.openness,
    )
    parts = piece.parts_in(plan)
    names = [part.name for part in parts]
    return Compared(
        regions=[_region(one, names[one.part], plan, on) for one in found],
        off_share=pose.off_px / max(size, 1.0),
        trust=[*_placed(pose, size, points), *_trust(found)],
        camera=CameraOut(
            turn=pose.turn.ravel().tolist(), shift=pose.shift.tolist(), focal_px=pose.focal_px
        ),
    )


def _region(one: Region, name: str, plan: Plan, on: OnPiece) -> RegionOut:
    short, over = falls_short(one), too_light_below(one)
    words = []
    if short:
        words.append(
            f"Lightest {one.seen.light:.0f} L*, planned {one.planned.light:.0f}: "
            f"{_more_light(one, plan, on)}."
        )
    if over:
        words.append(
            f"Darkest {one.seen.dark:.0f} L*, planned {one.planned.dark:.0f}: mist of the light "
            "coats lies in the shadows, or the shade went on thin; a thin round of the shade from "
            "below brings them back."
        )
    if one.seen.light - one.planned.light > 4 + np.hypot(one.unsure, one.wander.light):
        words.append(
            f"Lightest {one.seen.light:.0f} L*, planned {one.planned.light:.0f}: lighter than "
            "planned; leave out the last round."
        )
    return RegionOut(
        part=name,
        planned=one.planned,
        seen=one.seen,
        unsure=float(np.hypot(one.unsure, one.wander.light)),
        share=one.share,
        sign="mind" if words else ("unknown" if _off(one) else "clean"),
        words=" ".join(words) or (NOT_SURE if _off(one) else AS_PLANNED),
    )


def _off(one: Region) -> bool:
    """Whether something differs by more than an eye would pass over, sure or not."""
    pairs = zip(astuple(one.planned), astuple(one.seen), strict=True)
    return any(abs(planned - painted) > PASSED_OVER for planned, painted in pairs)


def _more_light(one: Region, plan: Plan, on: OnPiece) -> str:
    """What brings the lightest places up: rounds of the coat that lights them last, or of all."""
    coats = [i for i in plan.light_coats() if _lands(plan, on, i, one.lightest)]
    if not coats:
        return "no light coat of the plan reaches it; put one there, or lay it by brush"
    for short in (coats[-1:], coats):
        reached = _reached(short, one, plan, on)
        if reached is not None:
            words = [_rounds_more(plan.coats[i], reached) for i in short]
            return f"about {', and '.join(words)}"
    return (
        "darker than before any light coat by the model, so the coats below fall short, or the "
        "photo shows it too dark"
    )


def _lands(plan: Plan, on: OnPiece, index: int, where: Longs) -> bool:
    return float(np.median(on.step_film(plan, index)[where])) >= LANDS_UM


def _reached(short: list[int], one: Region, plan: Plan, on: OnPiece) -> float | None:
    """The share of the films of some light coats at which the place is as light as it is seen."""
    stack = on.stack(plan, one.lightest, open_at=short)
    films = [on.step_film(plan, i)[one.lightest] for i in short]
    places = [
        float(np.median(stack.lightness([(f * share).astype(np.float32) for f in films])))
        for share in SHARES
    ]
    return share_reached(list(SHARES), np.array(places), one.seen.light)


def _rounds_more(coat: Coat | HandStep, reached: float) -> str:
    assert coat.kind == "spray"
    rounds = (1 - reached) * sum(s.passes for s in coat.stations)
    count = max(1, math.ceil(rounds - LEAST_ROUNDS))
    return f"{count} round{'' if count == 1 else 's'} more of {coat.name} {_side(coat)}"


def _side(coat: Coat) -> str:
    best = max(coat.stations, key=lambda s: s.passes)
    return side_words(best.azimuth_deg, best.elevation_deg)


def _placed(pose: Pose, size: float, points: int | None) -> list[str]:
    """How well the plan lies on the photo."""
    off = 100 * pose.off_px / max(size, 1.0)
    if points is None:
        round_deg, up_deg = angles_of(-pose.turn[2])
        beside = (round_deg + 180) % 360 - 180
        side = f"By its outline it was taken from {beside:.0f}° round and {up_deg:.0f}° up; what "
        return [f"{side}is seen may lie {off:.1f} % of the piece beside. Half shows how it lies."]
    words = [f"The points agree to {off:.1f} % of the piece."]
    if points < CHECKED_FROM:
        words.append(
            f"{points} points leave little check on each other: with {CHECKED_FROM} the place is "
            "surer."
        )
    return words


def _trust(found: list[Region]) -> list[str]:
    words = []
    if found:
        unsure = float(np.median([np.hypot(r.unsure, r.wander.middle) for r in found]))
        words.append(
            f"Values are good to about ± {unsure:.0f} L* in even light from all sides; a lamp "
            "from one side adds light and shadow of its own, which is taken for paint. Recesses "
            "and what is aslant are left out; gloss and metal mirror the room."
        )
    else:
        words.append("Too little of the piece is seen to compare anything.")
    return words
