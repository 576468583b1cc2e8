"""Overspray of a coat for one part, against how near the other parts stand."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel
from scipy.spatial import cKDTree

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.looks import shown
from haze.core.film.skin import seen
from haze.core.onpiece.aiming import AimedAt
from haze.core.onpiece.beside import reach_mm, showing_um
from haze.core.onpiece.facts import SHOWS
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.edits import index_of
from haze.service.piece.onpiece import OnPiece

AIMED_FROM = 0.5  # of a zone: inside its edge


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
    away = _away_mm(plan, at, on)
    outcome = on.outcome(plan, coat)
    before, after = on.below(plan, place), on.below(plan, place + 1)
    turned = ciede2000(*(lab_of(np.clip(seen(s).T, 0, 1)) for s in (before, after)))
    worst: tuple[float, int] | None = None
    for number in range(len(parts)):
        mine = (on.piece.part == number) & on.piece.counted
        if number == at.part or not mine.any():
            continue
        off = float(np.quantile(turned[mine], 0.9))
        near = float(away[mine].min())
        # the one that turns most; where none does, the nearest
        rank = off if off > SHOWS else -near
        if worst is None or rank > worst[0]:
            worst = rank, number
    reach = reach_mm(
        outcome,
        passes=aim.passes,
        distance_mm=coat.spray.distance_mm,
        showing=_showing(plan, coat, on, place, None if worst is None else worst[1]),
    )
    if worst is None:
        words = f"Overspray shows to {reach:.0f} mm; there is no other part."
        return OversprayView(
            reach_mm=reach, part=None, distance_mm=None, delta_e=None, mask=False, words=words
        )
    mine = (on.piece.part == worst[1]) & on.piece.counted
    off, near = float(np.quantile(turned[mine], 0.9)), float(away[mine].min())
    mask, name = off > SHOWS, parts[worst[1]].name
    return OversprayView(
        reach_mm=reach,
        part=name,
        distance_mm=near,
        delta_e=off,
        mask=mask,
        words=_words(reach, name, near, mask=mask, masked=_is_masked(on, plan, place, worst[1])),
    )


def _away_mm(plan: Plan, at: AimedAt, on: OnPiece) -> np.ndarray:
    """(n,) float [mm]: from each vertex to the nearest place that is aimed at."""
    mesh = on.piece.mesh
    aimed = on.fields.zone(at) >= AIMED_FROM
    if not aimed.any():
        return np.full(on.piece.size, np.inf)
    found, _ = cKDTree(mesh.vertices[aimed]).query(mesh.vertices)
    return np.asarray(found * mesh.mm_per_unit(plan.piece.height_mm))


def _showing(plan: Plan, coat: Coat, on: OnPiece, place: int, part: int | None) -> float:
    """Least film [µm] that is seen on the part that suffers, by its mean colour."""
    rgb = np.clip(seen(on.below(plan, place)), 0, 1)
    mine = on.piece.counted if part is None else on.piece.counted & (on.piece.part == part)
    return showing_um(coat.mix.optics, over=shown(rgb[:, mine].mean(axis=1)))


def _is_masked(on: OnPiece, plan: Plan, place: int, part: int) -> bool:
    laid = on.laid(plan, place)
    masks = getattr(laid, "masks", ())
    mine = on.piece.part == part
    return any(bool(on.fields.covered(m)[mine].mean() > AIMED_FROM) for m in masks)


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
