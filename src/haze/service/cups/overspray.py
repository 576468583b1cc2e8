"""Overspray of a coat for one part, against how near the other parts stand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.looks import shown
from haze.core.film.skin import seen
from haze.core.onpiece.aiming import AimedAt, lying_masks
from haze.core.onpiece.beside import reach_mm, showing_um
from haze.core.onpiece.facts import SHOWS
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.edits import index_of
from haze.service.piece.fields import COVERED_AT
from haze.service.piece.onpiece import OnPiece


class OversprayView(BaseModel):
    """How far overspray shows, the part that suffers most, and whether it asks for a mask.

    `reach_mm` counts from the edge of what is aimed at; `delta_e` is how far the colour of the
    worst tenth of that part turns.
    """

    reach_mm: float
    part: str | None
    distance_mm: float | None
    delta_e: float | None
    mask: bool
    words: str


def overspray_of(plan: Plan, coat: Coat, on: OnPiece) -> OversprayView | None:
    """What a coat that is aimed at one part does to the others; None for any other coat."""
    aim = coat.aim
    if aim is None or aim.field != "part" or aim.reversed:
        return None
    place, parts = index_of(plan, coat.id), on.piece.parts_in(plan)
    at = AimedAt.of(aim, plan, parts)
    worst = _worst(plan, place, at, on)
    reach = reach_mm(
        on.outcome(plan, coat),
        passes=aim.passes,
        distance_mm=coat.spray.distance_mm,
        showing=_showing(plan, coat, on, place, worst),
    )
    if worst is None:
        words = f"Overspray shows to {reach:.0f} mm; there is no other part."
        return OversprayView(
            reach_mm=reach, part=None, distance_mm=None, delta_e=None, mask=False, words=words
        )
    mask, name = worst.delta_e > SHOWS, parts[worst.part].name
    mine = on.piece.part == worst.part
    masks = lying_masks(plan, place, parts)
    masked = any(on.fields.covered(m)[mine].mean() > COVERED_AT for m in masks)
    return OversprayView(
        reach_mm=reach,
        part=name,
        distance_mm=worst.away_mm,
        delta_e=worst.delta_e,
        mask=mask,
        words=_words(reach, name, worst.away_mm, mask=mask, masked=masked),
    )


@dataclass(frozen=True, slots=True)
class _Part:
    """A part beside: its number, how far its worst tenth turns, and how far off it is [mm]."""

    part: int
    delta_e: float
    away_mm: float

    @property
    def rank(self) -> float:
        """The one that turns most comes first; where none does, the nearest."""
        return self.delta_e if self.delta_e > SHOWS else -self.away_mm


def _worst(plan: Plan, place: int, at: AimedAt, on: OnPiece) -> _Part | None:
    """The part beside that suffers most; None when there is no other."""
    before, after = on.below(plan, place), on.below(plan, place + 1)
    turned = ciede2000(*(lab_of(np.clip(seen(s).T, 0, 1)) for s in (before, after)))
    gaps, scale = on.fields.gaps(at), on.piece.mesh.mm_per_unit(plan.piece.height_mm)
    found = []
    for number in range(len(on.piece.parts)):
        mine = (on.piece.part == number) & on.piece.counted
        if number != at.part and mine.any():
            off = float(np.quantile(turned[mine], 0.9))
            found.append(_Part(number, off, gaps[number] * scale))
    return max(found, key=lambda one: one.rank, default=None)


def _showing(plan: Plan, coat: Coat, on: OnPiece, place: int, worst: _Part | None) -> float:
    """Least film [µm] that is seen on the part that suffers, by its mean colour."""
    rgb = np.clip(seen(on.below(plan, place)), 0, 1)
    mine = on.piece.counted if worst is None else on.piece.part == worst.part
    return showing_um(coat.mix.optics, over=shown(rgb[:, mine].mean(axis=1)))


def _words(reach: float, name: str, near: float, *, mask: bool, masked: bool) -> str:
    off = "touches it" if near < 0.5 else f"is {near:.0f} mm off"
    about = f"Overspray shows to {reach:.0f} mm; {name.lower()} {off}"
    if masked:
        return (
            f"{about}: paint gets under its mask, take a harder edge."
            if mask
            else (f"{about} and masked.")
        )
    return f"{about}: mask it." if mask else f"{about}: freehand will do."
