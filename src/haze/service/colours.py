"""Colours from the painter's own shelf: mixes, ladders, and ladders put on the piece."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from haze.core.errors import CancelledError, HazeError
from haze.core.film.palette import Palette
from haze.core.light.angles import find_share
from haze.core.plan.document import Coat, Identity, MixPart, PaintUsed, Plan
from haze.core.plan.drafts import Angle
from haze.core.plan.fixes import drafted, fresh_id
from haze.core.plan.painting import mix_hex, optics_of
from haze.service.angles import station_of
from haze.service.colour_io import (
    LadderOut,
    LadderWish,
    MixesOut,
    MixWish,
    ladder_of,
    mixes_of,
)
from haze.service.findings import stock_of
from haze.service.jobs import Report
from haze.service.painter import Painter
from haze.service.shelf import Shelf
from haze.service.spray_io import Strict

NOT_MIXED = ("metallic", "varnish", "enamel_wash", "lacquer")
LEAST_COVER = 0.03


class ShelfMix(MixWish):
    """A colour to mix from the shelf, or from some of its paints."""

    only: list[Identity] = Field(default_factory=list, max_length=400)


class ShelfLadder(LadderWish):
    """A ladder from the shelf; `use` names paints by id."""


def palette_from(shelf: Shelf, only: list[str] | None = None) -> tuple[Palette, list[str]]:
    """The paints of the shelf that mix with each other, and their ids."""
    paints = [
        p for p in shelf.paints if p.kind not in NOT_MIXED and (not only or p.id in set(only))
    ]
    if not paints:
        raise HazeError(
            "No paint on the shelf can be mixed here: metals, varnishes, washes and lacquers are "
            "left out.",
            field="only",
        )
    palette = Palette.of(
        [optics_of(p) for p in paints],
        drop=[p.drop_ul for p in paints],
        strength=[p.strength for p in paints],
    )
    return palette, [p.id for p in paints]


def mix_from(wish: ShelfMix, shelf: Shelf, report: Report) -> MixesOut:
    """The mixes of owned paints nearest to a colour; drops by paint id."""
    palette, ids = palette_from(shelf, list(wish.only))
    return mixes_of(wish, palette, ids, report)


def ladder_from(wish: ShelfLadder, shelf: Shelf, report: Report) -> LadderOut:
    """A ladder of owned paints; drops by paint id."""
    if not report(0.1, "Trying rungs"):
        raise CancelledError("Stopped; nothing was changed.")
    palette, ids = palette_from(shelf)
    return ladder_of(wish, palette, ids)


class RungWish(Strict):
    """A rung to put on the piece: its drops by paint id, and the share it should still cover."""

    drops: dict[str, Annotated[int, Field(ge=1, le=20)]] = Field(min_length=1, max_length=4)
    cover: float = Field(ge=0.01, le=1)
    note: str = Field(default="", max_length=400)


class RungsBody(Strict):
    """Rungs to put on the piece after so many steps of the plan."""

    plan: Plan
    after: int = Field(ge=0, le=60)
    rungs: Annotated[list[RungWish], Field(min_length=1, max_length=12)]


class RungsOut(BaseModel):
    coats: list[Coat]
    covers: list[float]


def put_on(body: RungsBody, painter: Painter, shelf: Shelf, report: Report) -> RungsOut:
    """Coats for the rungs of a ladder, each from stations that reach its share of the surface."""
    by_id = {p.id: p for p in shelf.paints}
    known = {m.paint.id: m.paint for c in body.plan.sprayed for m in c.also}
    studio = painter.studio
    plan = body.plan.model_copy(deep=True)
    atoms = studio.atoms(plan)
    value = studio.light_value(plan)[studio.sampled]
    coats: list[Coat] = []
    covers: list[float] = []
    for n, rung in enumerate(body.rungs):
        if not report(n / len(body.rungs), f"Finding stations for rung {n + 1}"):
            raise CancelledError("Stopped; nothing was changed.")
        parts = [(_owned(i, known | by_id), d) for i, d in rung.drops.items()]
        coat = rung_coat(plan, parts, shelf, note=rung.note)
        found, share = find_share(atoms, wanted=max(rung.cover, LEAST_COVER), toward=value)
        passes = max(1, coat.most_passes)
        coat.stations = [station_of(coat, i + 1, s, passes) for i, s in enumerate(found)]
        coats.append(coat)
        covers.append(share)
        plan.coats.append(coat)
    return RungsOut(coats=coats, covers=covers)


def _owned(identity: str, paints: dict[str, PaintUsed]) -> PaintUsed:
    if identity not in paints:
        raise HazeError("A paint of this rung is no longer on the shelf.", field="drops")
    return paints[identity]


def rung_coat(
    plan: Plan, parts: list[tuple[PaintUsed, int]], shelf: Shelf, *, note: str = ""
) -> Coat:
    """A rung of a mix, drafted by the plan's schools from its key light."""
    parts = sorted(parts, key=lambda p: -p[1])
    main, drops = parts[0]
    light = plan.key_light
    under = [h for h in (mix_hex(s) for s in plan.done) if h]
    coat = drafted(
        plan,
        stock_of(shelf),
        stem=fresh_id(plan, "rung"),
        task="rung",
        paint=main,
        angles=[Angle(light.azimuth_deg, light.elevation_deg, light.softness_deg)],
        over=under[-1] if under else plan.piece.surface,
    )
    return coat.model_copy(
        update={
            "name": mix_name(parts),
            "drops": drops,
            "also": [MixPart(paint=p, drops=d) for p, d in parts[1:]],
            "note": note,
        }
    )


def mix_name(parts: list[tuple[PaintUsed, int]]) -> str:
    """A mix told by its paints and drops."""
    if len(parts) == 1:
        return parts[0][0].name
    names = " + ".join(p.name for p, _ in parts)
    return f"{names} {':'.join(str(d) for _, d in parts)}"[:120]
