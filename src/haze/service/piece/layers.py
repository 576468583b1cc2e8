"""The film column: what each step leaves on the piece and on each of its parts."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Array, Floats, Longs, Mask
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.gamut import into_gamut
from haze.core.film.looks import shown
from haze.core.film.skin import Skin, coated, seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.reach import bare
from haze.core.onpiece.parts import uneven
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.piece import Part
from haze.service.piece.onpiece import OnPiece

TRANSPARENT_ABOVE = 3.0  # ΔE00 between the two halves of a layer
DARK_SHARE, LIGHT_SHARE = 0.05, 0.95  # quantiles of lightness the halves lie over


class PartLayer(BaseModel):
    """What one coat does on one part; bare counts all coats so far."""

    part: str
    landed_share: float
    covered_share: float
    bare_cm2: float


class UnevenView(BaseModel):
    """A mirrored pair of parts of which one got much less."""

    less: str
    more: str
    words: str


class LayerView(BaseModel):
    """One layer of the film column; it lands where it leaves at least 1 µm, and what lies in
    patches on the share of each place that they take."""

    dry_um: float
    over_dark: str
    over_light: str
    transparent: bool
    landed_share: float
    covered_share: float
    bare_cm2: float
    parts: list[PartLayer]
    uneven: list[UnevenView]


def layers_of(plan: Plan, on: OnPiece) -> dict[str, LayerView]:
    """A layer of the film column for every step, by its id."""
    parts = on.piece.parts_in(plan)
    areas_cm2 = _areas_cm2(on, len(parts), on.piece.mesh.mm_per_unit(plan.piece.height_mm))
    found: dict[str, LayerView] = {}
    below, total = on.ground(plan), on.piece.nothing()
    for step, layer in zip(plan.coats, on.layers(plan, len(plan.coats)), strict=True):
        total = total + layer.film_um
        square_um = on.square_on_um(plan, step)
        lands = _lands(layer.film_um, square_um=square_um, patch_um=step.patch_um)
        sums = _sums(*lands, total, areas_cm2=areas_cm2)
        over_dark, over_light = _halves(step, on, below, square_um)
        dark, light = lab_of(over_dark), lab_of(over_light)
        whole, *each = (PartLayer(part=name, **row) for name, row in _rows(sums, parts))
        found[step.id] = LayerView(
            dry_um=square_um,
            over_dark=shown(over_dark),
            over_light=shown(over_light),
            transparent=float(ciede2000(dark, light)) > TRANSPARENT_ABOVE,
            landed_share=whole.landed_share,
            covered_share=whole.covered_share,
            bare_cm2=whole.bare_cm2,
            parts=each,
            uneven=_uneven(step, on, layer.film_um, parts),
        )
        below = layer.after
    return found


def _areas_cm2(on: OnPiece, parts: int, mm_per_unit: float) -> Floats:
    """(1 + parts, n) float32 [cm²]: area of each vertex that counts, over all and part by part."""
    area = on.piece.area * np.float32(mm_per_unit**2 / 100)
    each = [area * (on.piece.part == i) for i in range(parts)]
    return np.stack([area, *each]).astype(np.float32)


def _lands(
    film: Floats, *, square_um: float, patch_um: float | None
) -> tuple[Floats | Mask, Floats | Mask]:
    """(n,) twice: how much of each place a step lands on, and covers; of patches their share."""
    if patch_um:
        share = np.minimum(film / np.float32(patch_um), 1)
        return share, share
    return ~bare(film), film >= 0.5 * square_um


def _sums(
    lands: Floats | Mask, covers: Floats | Mask, total: Floats, *, areas_cm2: Floats
) -> Floats:
    """(4, 1 + parts) float32 [cm²]: all, landed, covered, still bare."""
    columns = [np.ones_like(total), lands, covers, bare(total)]
    return np.asarray(np.stack(columns).astype(np.float32) @ areas_cm2.T)


def _rows(sums: Floats, parts: list[Part]) -> list[tuple[str, dict[str, float]]]:
    landed, covered = sums[1:3] / np.maximum(sums[0], 1e-9)
    names = ["", *(part.id for part in parts)]
    return [
        (
            name,
            {
                "landed_share": float(landed[i]),
                "covered_share": float(covered[i]),
                "bare_cm2": float(sums[3][i]),
            },
        )
        for i, name in enumerate(names)
    ]


def _ends(below: Skin, sampled: Longs) -> Longs:
    """(2,) int: a vertex at the dark end and one at the light end of the surface below a step."""
    order = sampled[np.argsort(lightness_of_rgb(seen(below.at(sampled))), kind="stable")]
    last = len(order) - 1
    return order[[round(last * DARK_SHARE), round(last * LIGHT_SHARE)]]


def _halves(
    step: Coat | HandStep, on: OnPiece, below: Skin, square_um: float
) -> tuple[Array, Array]:
    """(3,) float twice: the step's full film over the dark and the light end of what lies below."""
    spots = below.at(_ends(below, on.sampled))
    laid = coated(spots, step.optics, np.full(2, square_um, dtype=np.float32))
    dark, light = into_gamut(seen(laid).astype(np.float64)).T
    return dark, light


def _uneven(
    step: Coat | HandStep, on: OnPiece, film: Floats, parts: list[Part]
) -> list[UnevenView]:
    """Left and right compared; light from one side is meant to differ."""
    if step.kind == "hand" or (step.task == "light" and not step.aim):
        return []
    found = uneven(film, area=on.piece.area, part=on.piece.part, pairs=on.pairs)
    return [
        UnevenView(
            less=parts[u.less].id,
            more=parts[u.more].id,
            words=(
                f"Left and right differ: {parts[u.less].name} got {u.less_um:.1f} µm, "
                f"{parts[u.more].name} {u.more_um:.1f} µm. Repeat the coat on that side."
            ),
        )
        for u in found
    ]
