"""Pictures of plans for the list, cached by what they show."""

from __future__ import annotations

import hashlib
import io

from PIL import Image

from haze.core.light.picture import picture
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.pieces import key_of

WIDTH, HEIGHT = 150, 190
VERSION = 1


def thumbnail(bench: Bench, plan: Plan) -> bytes:
    """PNG of the piece as planned; `MissingError` until the piece is worked out."""
    key = hashlib.sha256(
        f"{VERSION} {key_of(plan.piece)} {plan.model_dump_json()}".encode()
    ).hexdigest()
    path = bench.folder / "cache" / f"{key}.png"
    if path.exists():
        return path.read_bytes()
    painter = bench.painter(plan)
    colours = painter.colours(plan, after=len(plan.coats), look="as_painted")
    image = picture(painter.piece.mesh, colours, width=WIDTH, height=HEIGHT)
    out = io.BytesIO()
    Image.fromarray(image).save(out, format="PNG")
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    part.write_bytes(out.getvalue())
    part.replace(path)
    return out.getvalue()
