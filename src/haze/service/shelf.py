"""The shelf: paints as chips, gear, files in and out; nothing is half-imported."""

from __future__ import annotations

import io
import re
import unicodedata
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import BaseModel, Field, ValidationError

from haze.core.errors import HazeError
from haze.core.film.difference import oklch_of
from haze.core.film.finish import Finish, inside_film, nearest_finish, outside_film
from haze.core.film.gamut import into_gamut
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import Opacity, covering_um, film_over, swatch_rgb
from haze.core.film.spectra import rgb_of, spectrum_of_hex, to_hex
from haze.core.film.wet import wet_rgb
from haze.core.inspect.swatch import patch, picked
from haze.core.plan.document import (
    AirbrushUsed,
    Identity,
    MixPart,
    PaintUsed,
    Swatches,
    ThinnerUsed,
)
from haze.core.plan.painting import optics_of
from haze.core.spray.constants import PaintKind
from haze.formats import palette as palettes
from haze.formats.palette import PaletteFile, Swatch
from haze.formats.shelf_csv import Line, read_lines, write_rows
from haze.service import starter
from haze.service.spray_io import Strict
from haze.store import shelf
from haze.store.connection import Database
from haze.store.shelf import AirbrushRow, CompressorRow, PaintRow, ThinnerRow

GROUNDS = {"dark": "#17181a", "mid": "#77787a", "light": "#f3f2ec"}
CHIP_UM = 6.0  # dry film a chip is shown with
PASS_UM = 3.0  # what a pass usually leaves, for "about so many passes"
MOST_PASSES_TOLD = 40
MOST_PHOTO_BYTES = 24 * 2**20
PHOTO_SIDE = 2000
Millilitres = Annotated[float, Field(ge=0, le=100_000)]


class Shelf(BaseModel):
    """Everything on the shelf, as a plan would use it."""

    paints: list[PaintUsed]
    thinners: list[ThinnerUsed]
    airbrushes: list[AirbrushUsed]


class PaintOnShelf(PaintUsed):
    """A paint and what is left of it; `ml_left` null when nobody counts."""

    ml_left: Millilitres | None = None


class Chip(BaseModel):
    """A paint as its chip shows it: one film over dark, mid and light, and its own colour.

    `passes` is how many usual passes bring its own colour over dark, mid and light; null for more
    than 40.
    """

    paint: PaintOnShelf
    own: str
    over_dark: str
    over_mid: str
    over_light: str
    passes_dark: int | None
    passes_mid: int | None
    passes_light: int | None
    lightness: float
    chroma: float
    hue_deg: float


class ThinnerOnShelf(ThinnerUsed):
    """A thinner and what is left of it."""

    ml_left: Millilitres | None = None


class Compressor(Strict):
    """A compressor; `tank_l` 0 without a tank."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    most_psi: float = Field(ge=1, le=300)
    tank_l: float = Field(default=0, ge=0, le=1000)


class ShelfScreen(BaseModel):
    """The shelf with its chips, and what lies in the trash."""

    chips: list[Chip]
    trashed: list[PaintOnShelf]
    thinners: list[ThinnerOnShelf]
    airbrushes: list[AirbrushUsed]
    compressors: list[Compressor]


class BulkChange(Strict):
    """The same change to many paints; null leaves a field as it is."""

    ids: Annotated[list[Identity], Field(min_length=1, max_length=5000)]
    maker: Annotated[str, Field(max_length=120)] | None = None
    range: Annotated[str, Field(max_length=120)] | None = None
    kind: PaintKind | None = None
    opacity: Opacity | None = None
    finish: Finish | None = None
    drop_ul: Annotated[float, Field(ge=5, le=200)] | None = None
    ml_left: Millilitres | None = None


class RejectedLine(BaseModel):
    line: int
    reason: str


class ImportLine(BaseModel):
    """What a line would do."""

    line: int
    name: str
    what: Literal["new", "changed", "same"]
    fields: list[str]
    masstone: str


class ImportPreview(BaseModel):
    """What a file would change; `applied` when it has been done."""

    applied: bool
    new: int
    changed: int
    same: int
    lines: list[ImportLine]
    rejected: list[RejectedLine]


class PickOut(BaseModel):
    hex: str
    lightness: float
    spread: float
    warning: str | None


def paint_of(row: PaintRow) -> PaintOnShelf:
    """A stored paint."""
    swatches = None
    if row.over_dark and row.over_light:
        swatches = Swatches(
            over_dark=row.over_dark, over_light=row.over_light, film_um=row.swatch_um or CHIP_UM
        )
    return PaintOnShelf(
        id=row.id,
        maker=row.maker,
        range=row.range,
        name=row.name,
        kind=row.kind,
        masstone=row.masstone,
        opacity=row.opacity,
        finish=row.finish,
        drop_ul=row.drop_ul,
        strength=row.strength,
        fluorescent=row.fluorescent,
        swatches=swatches,
        ml_left=row.ml_left,
    )


def row_of(paint: PaintOnShelf) -> PaintRow:
    """A paint as it is stored."""
    return PaintRow(
        id=paint.id,
        maker=paint.maker,
        range=paint.range,
        name=paint.name,
        kind=paint.kind,
        masstone=paint.masstone.lower(),
        opacity=paint.opacity,
        finish=paint.finish,
        drop_ul=paint.drop_ul,
        ml_left=paint.ml_left,
        strength=paint.strength,
        fluorescent=paint.fluorescent,
        over_dark=paint.swatches.over_dark if paint.swatches else None,
        over_light=paint.swatches.over_light if paint.swatches else None,
        swatch_um=paint.swatches.film_um if paint.swatches else None,
    )


def as_used(paint: PaintOnShelf) -> PaintUsed:
    """A paint as a plan takes it: without what is left of it."""
    return PaintUsed.model_validate(paint.model_dump(exclude={"ml_left"}))


def stock(db: Database) -> None:
    """Put the starter shelf into a data folder that has none."""
    with db.atomic() as tx:
        if shelf.paints(tx) or shelf.airbrushes(tx) or shelf.trashed_paints(tx):
            return
        for paint in starter.PAINTS:
            shelf.put_paint(tx, paint)
        for thinner in starter.THINNERS:
            shelf.put_thinner(tx, thinner)
        for airbrush in starter.AIRBRUSHES:
            shelf.put_airbrush(tx, airbrush)
        shelf.put_compressor(tx, starter.COMPRESSOR)


def shelf_of(db: Database) -> Shelf:
    """Paints, thinners and airbrushes as a plan would use them."""
    tx = db.connection()
    return Shelf(
        paints=[as_used(paint_of(row)) for row in shelf.paints(tx)],
        thinners=[
            ThinnerUsed(id=t.id, name=t.name, kind=t.kind, drop_ul=t.drop_ul)
            for t in shelf.thinners(tx)
        ],
        airbrushes=[
            AirbrushUsed.model_validate(row, from_attributes=True) for row in shelf.airbrushes(tx)
        ],
    )


def chip_of(paint: PaintOnShelf) -> Chip:
    """How a paint's chip looks."""
    made = _chip(as_used(paint).model_dump_json())
    return made.model_copy(update={"paint": paint})


@lru_cache(maxsize=2048)
def _chip(used: str) -> Chip:
    paint = PaintOnShelf.model_validate_json(used)
    optics = optics_of(paint)
    seen, passes = {}, {}
    for name, ground in GROUNDS.items():
        inside = inside_film(spectrum_of_hex(ground), "matt")
        shown = rgb_of(outside_film(film_over(optics, inside, CHIP_UM), optics.surface))
        if optics.emission is not None:
            shown = shown + optics.emission * float(inside.mean())
        seen[name] = to_hex(into_gamut(np.clip(shown, 0, 1))[0])
        um = covering_um(optics, ground=inside)
        passes[name] = int(np.ceil(um / PASS_UM)) if um <= MOST_PASSES_TOLD * PASS_UM else None
    own = swatch_rgb(optics)
    lightness, chroma, hue = (float(v) for v in oklch_of(np.clip(own, 0, 1)))
    return Chip(
        paint=paint,
        own=to_hex(into_gamut(own)[0]),
        over_dark=seen["dark"],
        over_mid=seen["mid"],
        over_light=seen["light"],
        passes_dark=passes["dark"],
        passes_mid=passes["mid"],
        passes_light=passes["light"],
        lightness=lightness,
        chroma=chroma,
        hue_deg=hue,
    )


class GroundLook(BaseModel):
    """Dry and wet over one ground, and passes to the mix's own colour; null for more than 40."""

    ground: str
    dry: str
    wet: str
    passes: int | None


class MixLook(BaseModel):
    """How a mix looks as one film over dark, mid and light, and the finish it dries to."""

    own: str
    finish: str
    grounds: list[GroundLook]


class MixBody(Strict):
    """Paints and their drops; `pass_um` is the dry film one pass leaves."""

    parts: Annotated[list[MixPart], Field(min_length=1, max_length=4)]
    pass_um: float = Field(default=PASS_UM, gt=0, le=100)


def mix_look(body: MixBody) -> MixLook:
    """How a mix of paints looks over dark, mid and light."""
    optics = mixed(
        [Share(optics_of(p.paint), p.drops * p.paint.drop_ul, p.paint.strength) for p in body.parts]
    )
    looks = []
    for name, ground in GROUNDS.items():
        inside = inside_film(spectrum_of_hex(ground), "matt")
        um = covering_um(optics, ground=inside)
        passes = int(np.ceil(um / body.pass_um))
        dry = rgb_of(outside_film(film_over(optics, inside, CHIP_UM), optics.surface))
        looks.append(
            GroundLook(
                ground=name,
                dry=_shown(dry),
                wet=_shown(wet_rgb(optics, ground=inside, film_um=CHIP_UM)),
                passes=passes if passes <= MOST_PASSES_TOLD else None,
            )
        )
    return MixLook(
        own=_shown(swatch_rgb(optics)), finish=nearest_finish(optics.surface), grounds=looks
    )


def _shown(rgb: NDArray[np.float64]) -> str:
    return to_hex(into_gamut(np.clip(rgb, 0, 1))[0])


HUE_BANDS = 12
GREY_CHROMA = 0.03


def _wall_order(chip: Chip) -> tuple[int, float, str]:
    """Greys first, then hue by hue; from light to dark in each."""
    band = 0 if chip.chroma < GREY_CHROMA else 1 + int((chip.hue_deg + 15) % 360 / 360 * HUE_BANDS)
    return (band, -chip.lightness, chip.paint.name)


def screen(db: Database) -> ShelfScreen:
    """The whole shelf, chips ordered by hue and lightness."""
    tx = db.connection()
    return ShelfScreen(
        chips=sorted((chip_of(paint_of(row)) for row in shelf.paints(tx)), key=_wall_order),
        trashed=[paint_of(row) for row in shelf.trashed_paints(tx)],
        thinners=[
            ThinnerOnShelf.model_validate(row, from_attributes=True) for row in shelf.thinners(tx)
        ],
        airbrushes=[
            AirbrushUsed.model_validate(row, from_attributes=True) for row in shelf.airbrushes(tx)
        ],
        compressors=[
            Compressor.model_validate(row, from_attributes=True) for row in shelf.compressors(tx)
        ],
    )


def put_paint(db: Database, paint: PaintOnShelf) -> Chip:
    """Add a paint, or change the one with its id; refused when its swatches tell nothing."""
    chip = chip_of(paint)
    with db.atomic() as tx:
        _no_twin(tx, paint)
        shelf.put_paint(tx, row_of(paint))
    return chip


def _no_twin(tx: Any, paint: PaintOnShelf) -> None:
    for row in shelf.paints(tx):
        if row.id != paint.id and _key(row.maker, row.name) == _key(paint.maker, paint.name):
            raise HazeError(
                f"{paint.name} of {paint.maker or 'no maker'} is on the shelf already. Nothing was "
                "changed.",
                field="name",
            )


def _key(maker: str, name: str) -> tuple[str, str]:
    return maker.strip().casefold(), name.strip().casefold()


def change_many(db: Database, change: BulkChange) -> ShelfScreen:
    """The same change to many paints, all or none."""
    fields = change.model_dump(exclude={"ids"}, exclude_none=True)
    if not fields:
        raise HazeError("Choose at least one thing to change.")
    with db.atomic() as tx:
        known = {row.id: row for row in shelf.paints(tx)}
        for identity in change.ids:
            if identity not in known:
                raise HazeError("A paint that was named is not on the shelf.", field="ids")
            changed = paint_of(known[identity]).model_copy(update=fields)
            shelf.put_paint(tx, row_of(PaintOnShelf.model_validate(changed.model_dump())))
    return screen(db)


def put_away(db: Database, ids: list[str], *, trashed: bool) -> ShelfScreen:
    """Paints into the trash, or out of it."""
    with db.atomic() as tx:
        shelf.set_paints_trashed(tx, ids, trashed=trashed)
    return screen(db)


def empty_trash(db: Database) -> ShelfScreen:
    """Delete for good what is in the trash."""
    with db.atomic() as tx:
        shelf.empty_paint_trash(tx)
    return screen(db)


def put_thinner(db: Database, thinner: ThinnerOnShelf) -> ShelfScreen:
    """Add or change a thinner."""
    with db.atomic() as tx:
        shelf.put_thinner(
            tx,
            ThinnerRow(thinner.id, thinner.name, thinner.kind, thinner.drop_ul, thinner.ml_left),
        )
    return screen(db)


def put_airbrush(db: Database, airbrush: AirbrushUsed) -> ShelfScreen:
    """Add or change an airbrush."""
    with db.atomic() as tx:
        shelf.put_airbrush(
            tx, AirbrushRow(airbrush.id, airbrush.name, airbrush.needle_mm, airbrush.cup_ml)
        )
    return screen(db)


def put_compressor(db: Database, given: Compressor) -> ShelfScreen:
    """Add or change a compressor."""
    with db.atomic() as tx:
        shelf.put_compressor(tx, CompressorRow(given.id, given.name, given.most_psi, given.tank_l))
    return screen(db)


def drop_gear(db: Database, what: str, identity: str) -> ShelfScreen:
    """Put a thinner, an airbrush or a compressor away."""
    with db.atomic() as tx:
        left = {"thinner": len(shelf.thinners(tx)), "airbrush": len(shelf.airbrushes(tx))}
        if left.get(what, 2) < 2:
            raise HazeError(f"The last {what} stays: a plan needs one.", field="id")
        shelf.trash_gear(tx, what, identity)
    return screen(db)


# files --------------------------------------------------------------------------------------------


def slug(*words: str) -> str:
    """An id of plain letters from names."""
    text = unicodedata.normalize("NFKD", "-".join(w for w in words if w)).lower()
    text = re.sub(r"[^a-z0-9]+", "-", text).strip("-")
    return text[:56] or "paint"


def export_csv(db: Database) -> bytes:
    """The shelf as CSV."""
    rows = []
    for row in shelf.paints(db.connection()):
        cells: dict[str, object] = {
            "maker": row.maker,
            "range": row.range,
            "name": row.name,
            "kind": row.kind,
            "colour": row.masstone,
            "opacity": row.opacity,
            "finish": row.finish,
            "ml_left": row.ml_left,
            "drop_ul": row.drop_ul,
            "strength": row.strength,
            "fluorescent": row.fluorescent,
            "over_dark": row.over_dark,
            "over_light": row.over_light,
            "swatch_um": row.swatch_um,
        }
        rows.append(cells)
    return write_rows(rows)


def _from_line(line: Line, have: PaintOnShelf | None) -> PaintOnShelf:
    """A paint from its cells; what a line leaves empty stays as it is on the shelf."""
    base: dict[str, Any] = {"kind": "airbrush_acrylic", "opacity": "opaque"}
    if have:
        base = have.model_dump()
    cells = {k: v for k, v in line.cells.items() if v}
    swatches = [cells.pop(k, None) for k in ("over_dark", "over_light", "swatch_um")]
    if "colour" in cells:
        cells["masstone"] = _hex(cells.pop("colour"))
    for name in ("kind", "opacity", "finish"):
        if name in cells:
            cells[name] = cells[name].lower().replace(" ", "_").replace("-", "_")
    if swatches[0] and swatches[1]:
        base["swatches"] = {
            "over_dark": _hex(swatches[0]),
            "over_light": _hex(swatches[1]),
            "film_um": swatches[2] or 10.0,
        }
    base.setdefault("id", slug(cells.get("maker", ""), cells.get("name", "")))
    return PaintOnShelf.model_validate(base | cells)


def _hex(text: str) -> str:
    text = text.strip().lower()
    return text if text.startswith("#") else f"#{text}"


def _reason(error: ValidationError) -> str:
    first = error.errors(include_url=False)[0]
    column = str(first["loc"][0]) if first["loc"] else "line"
    column = {"masstone": "colour"}.get(column, column)
    given = first.get("input")
    shown = f" {given!r:.40}" if isinstance(given, str | int | float) else ""
    return f"{column}{shown}: {first['msg']}"


def import_csv(db: Database, data: bytes, *, apply: bool) -> ImportPreview:
    """What a CSV would change on the shelf, and, when asked, the change itself in one go."""
    lines = read_lines(data)
    with db.atomic() as tx:
        known = {_key(r.maker, r.name): paint_of(r) for r in shelf.paints(tx)}
        taken = {p.id for p in known.values()} | {r.id for r in shelf.trashed_paints(tx)}
        out = ImportPreview(applied=apply, new=0, changed=0, same=0, lines=[], rejected=[])
        read: set[tuple[str, str]] = set()
        for line in lines:
            try:
                paint, told = _read_line(line, known, read, taken)
            except ValidationError as error:
                out.rejected.append(RejectedLine(line=line.number, reason=_reason(error)))
                continue
            except HazeError as error:
                out.rejected.append(RejectedLine(line=line.number, reason=error.message))
                continue
            out.lines.append(told)
            setattr(out, told.what, getattr(out, told.what) + 1)
            if apply and told.what != "same":
                shelf.put_paint(tx, row_of(paint))
    return out


def _read_line(
    line: Line,
    known: dict[tuple[str, str], PaintOnShelf],
    read: set[tuple[str, str]],
    taken: set[str],
) -> tuple[PaintOnShelf, ImportLine]:
    key = _key(line.cells.get("maker", ""), line.cells.get("name", ""))
    if key in read:
        raise HazeError("The same maker and name stand in an earlier line.")
    have = known.get(key)
    paint = _from_line(line, have)
    if have is None:
        paint = paint.model_copy(update={"id": _free_id(paint.id, taken)})
        taken.add(paint.id)
    optics_of(paint)  # swatches that tell nothing are refused here
    read.add(key)
    before = have.model_dump() if have else {}
    fields = [k for k, v in paint.model_dump().items() if have and before[k] != v]
    what: Literal["new", "changed", "same"] = (
        "new" if have is None else "changed" if fields else "same"
    )
    return paint, ImportLine(
        line=line.number, name=paint.name, what=what, fields=fields, masstone=paint.masstone
    )


def _free_id(stem: str, taken: set[str]) -> str:
    n, identity = 1, stem
    while identity in taken:
        n += 1
        identity = f"{stem}-{n}"
    return identity


def export_palette(db: Database) -> bytes:
    """The shelf's own colours as a palette."""
    swatches = tuple(
        Swatch(" ".join(w for w in (row.maker, row.name) if w), row.masstone)
        for row in shelf.paints(db.connection())
    )
    return palettes.write_palette(PaletteFile("Shelf", swatches))


def import_palette(db: Database, data: bytes, *, apply: bool) -> ImportPreview:
    """Paints from a palette: names and colours, the rest as usual for a new paint."""
    swatches = palettes.read_palette(data).swatches
    makers = {row.maker for row in shelf.paints(db.connection()) if row.maker}
    rows = [_named(s, makers) for s in swatches]
    body = write_rows([{"maker": m, "name": n, "colour": h} for m, n, h in rows])
    return import_csv(db, body, apply=apply)


def _named(swatch: Swatch, makers: set[str]) -> tuple[str, str, str]:
    """A name that begins with a maker of the shelf is split there."""
    for maker in makers:
        if swatch.name.startswith(f"{maker} "):
            return maker, swatch.name[len(maker) + 1 :], swatch.hex
    return "", swatch.name, swatch.hex


class PhotoPick(Strict):
    """Where the grey and the swatch lie in a photo, as shares of its width and height."""

    grey_x: float = Field(ge=0, le=1)
    grey_y: float = Field(ge=0, le=1)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    radius: float = Field(default=0.02, gt=0, le=0.2)
    grey_lightness: float = Field(default=50.0, ge=10, le=98)


def pick_from_photo(data: bytes, where: PhotoPick) -> PickOut:
    """A colour from a photo of a swatch beside something grey."""
    if len(data) > MOST_PHOTO_BYTES:
        raise HazeError(f"The photo is over {MOST_PHOTO_BYTES // 2**20} MiB.", field="photo")
    try:
        with Image.open(io.BytesIO(data)) as opened:
            image = ImageOps.exif_transpose(opened).convert("RGB")
            image.thumbnail((PHOTO_SIDE, PHOTO_SIDE))
            pixels = np.asarray(image)
    except (UnidentifiedImageError, OSError, Image.DecompressionBombError):
        raise HazeError(
            "This is no photo that can be read; accepted are PNG, JPEG and WebP.", field="photo"
        ) from None
    found = picked(
        patch(pixels, x=where.x, y=where.y, radius=where.radius),
        patch(pixels, x=where.grey_x, y=where.grey_y, radius=where.radius),
        grey_lightness=where.grey_lightness,
    )
    return PickOut(
        hex=found.hex, lightness=found.lightness, spread=found.spread, warning=found.warning
    )
