"""A plan to be shown at the club: the piece coming up coat by coat while it turns, and stills."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Literal

from pydantic import BaseModel

from haze.core.arrays import Bytes
from haze.core.light.picture import shot_of
from haze.core.light.turntable import PLACES, moments, turned
from haze.core.plan.document import Plan
from haze.core.plan.roles import HANDS, SPRAYED
from haze.core.progress import part_of, tell
from haze.formats.turntable import Caption, Form, animated, still
from haze.service.forms.wire import Strict
from haze.service.piece.files import cached_as, write_whole
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.ready import key_of
from haze.service.plan.pictures import looks_after
from haze.service.work.jobs import Report, share_of
from haze.store.connection import MissingError

WIDTH, HEIGHT = 360, 480
STILL_WIDTH, STILL_HEIGHT = 600, 800
PACKED = 0.9  # share of the work after which the pictures are packed into one file

ShownForm = Literal["webp", "gif", "zip"]


class ShownBody(Strict):
    """As what a plan is to be shown: an animated WebP or GIF, or stills in a zip."""

    form: ShownForm


class ShownOut(BaseModel):
    """A file that was made: its size, and how many pictures it holds."""

    form: ShownForm
    bytes: int
    pictures: int


def shown_as(folder: Path, plan: Plan, form: ShownForm, taught: str) -> Path:
    """Where such a file of a plan is kept.

    Parameters
    ----------
    folder : the cache folder
    plan : the plan
    form : of the file
    taught : fingerprint of the trials that count
    """
    return cached_as(folder, f"shown {key_of(plan.piece)} {plan.model_dump_json()} {taught}", form)


def made(path: Path) -> IO[bytes]:
    """The file that shows a plan, open; `MissingError` when it was not made."""
    try:
        return path.open("rb")
    except FileNotFoundError:
        raise MissingError("This was not made yet, or the plan has changed since.") from None


def show(plan: Plan, on: OnPiece, form: ShownForm, path: Path, report: Report) -> ShownOut:
    """Make a file that shows a plan, unless it is there.

    Parameters
    ----------
    plan, on : the plan on its piece
    form : of the file
    path : where it is kept, see `shown_as`
    report : of progress

    Raises
    ------
    CancelledError
        when it is stopped; nothing is left lying
    """
    looks = list(_looks(plan, on))
    count = len(looks) if form == "zip" else len(moments(len(looks)))
    if not path.exists():
        data = _stills(looks, on) if form == "zip" else _turning(plan.name, looks, on, form, report)
        write_whole(path, lambda file: file.write(data))
    return ShownOut(form=form, bytes=path.stat().st_size, pictures=count)


def _looks(plan: Plan, on: OnPiece) -> Iterator[tuple[Bytes, Caption]]:
    """The bare piece, and the piece after each step that shows."""
    bare = colours(on, plan, after=0, look="as_painted")
    yield bare, Caption(f"{plan.piece.name}, bare", None)
    for number, step, look in looks_after(plan, on):
        word = HANDS[step.role].word if step.kind == "hand" else SPRAYED[step.task].word
        name = step.mix.name if step.mix else step.name
        text = name if word.lower() == name.lower() else f"{name}: {word}"
        yield look, Caption(f"{number}  {text}", step.mix.hex if step.mix else None)


def _turning(
    name: str, looks: list[tuple[Bytes, Caption]], on: OnPiece, form: Form, report: Report
) -> bytes:
    frames = turned(
        on.piece.mesh,
        [look for look, _ in looks],
        width=WIDTH,
        height=HEIGHT,
        progress=part_of(share_of(report, "Turning the piece"), 0.0, PACKED),
    )
    order = moments(len(looks))
    captions = [looks[m.look][1] for m in order]
    captions[-PLACES:] = [Caption(name, None)] * PLACES
    pictures = list(zip(frames, captions, strict=True))
    tell(share_of(report, "Packing the pictures"), PACKED, "No turntable was made.")
    return animated(pictures, form)


def _stills(looks: list[tuple[Bytes, Caption]], on: OnPiece) -> bytes:
    shot = shot_of(on.piece.mesh, width=STILL_WIDTH, height=STILL_HEIGHT)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as pack:
        for n, (look, caption) in enumerate(looks):
            pack.writestr(f"{n:02}.png", still(shot.coloured(look), caption))
    return out.getvalue()
