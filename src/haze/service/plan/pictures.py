"""Pictures of plans: for the list, cached by what they show, and for comparing."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from pathlib import Path

from PIL import Image
from pydantic import Field

from haze.core.arrays import Bytes
from haze.core.light.picture import shot_of
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.service.forms.wire import PlanBody
from haze.service.piece.files import cached_as, write_whole
from haze.service.piece.looks import Look, colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of
from haze.service.piece.ready import key_of

THUMB_WIDTH, THUMB_HEIGHT = 340, 304
WIDTH, HEIGHT = 300, 340


ROW_WIDTH, ROW_HEIGHT = 160, 200


class PictureBody(PlanBody):
    look: Look = "as_painted"
    azimuth_deg: float = Field(default=20, ge=-360, le=360)
    elevation_deg: float = Field(default=12, ge=-90, le=90)


def plan_picture(body: PictureBody, on: OnPiece) -> bytes:
    """PNG of a plan on its piece."""
    return png_of(
        on.piece.mesh,
        colours(on, body.plan, after=len(body.plan.coats), look=body.look),
        width=WIDTH,
        height=HEIGHT,
        azimuth_deg=body.azimuth_deg,
        elevation_deg=body.elevation_deg,
    )


def thumbnail(
    plan: Plan, opened: Callable[[Plan], OnPiece], folder: Path, *, taught: str = ""
) -> bytes:
    """PNG of the piece as planned, from the cache folder when it is there.

    `opened` is asked for the piece only when it is not; `taught` is the fingerprint of the trials
    that count.
    """
    path = cached_as(folder, f"{key_of(plan.piece)} {plan.model_dump_json()} {taught}", "png")
    if path.exists():
        return path.read_bytes()
    on = opened(plan)
    rgb = colours(on, plan, after=len(plan.coats), look="as_painted")
    image = png_of(on.piece.mesh, rgb, width=THUMB_WIDTH, height=THUMB_HEIGHT)
    write_whole(path, lambda file: file.write(image))
    return image


def looks_after(plan: Plan, on: OnPiece) -> Iterator[tuple[int, Coat | HandStep, Bytes]]:
    """Number, step and colours after it, (n, 3) uint8, of each step that is done and shows."""
    last = colours(on, plan, after=0, look="as_painted")
    number = 0
    for index, step in enumerate(plan.coats):
        if step.off:
            continue
        number += 1
        look = colours(on, plan, after=index + 1, look="as_painted")
        if (look != last).any():
            yield number, step, look
        last = look


def pictures_after(plan: Plan, on: OnPiece) -> dict[str, bytes]:
    """Small PNG of the piece after each step that shows, by the step's id."""
    shot = shot_of(on.piece.mesh, width=ROW_WIDTH, height=ROW_HEIGHT)
    found = {}
    for _, step, look in looks_after(plan, on):
        out = io.BytesIO()
        Image.fromarray(shot.coloured(look)).save(out, "PNG")
        found[step.id] = out.getvalue()
    return found
