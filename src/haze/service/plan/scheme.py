"""A whole sequence for asked colours, for programs: `haze scheme`."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from haze.core.drafting.sequence import What
from haze.core.film.paint import Opacity
from haze.core.mesh.frame import UpAxis
from haze.core.plan.base import Hex, Name
from haze.core.plan.document import Along, Plan
from haze.core.plan.paint import PaintUsed, ThinnerUsed
from haze.core.spray.constants import PaintKind
from haze.service.forms.wire import Strict
from haze.service.light.lights import PresetBody, lights_of
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.sequence import StartBody, started
from haze.service.shelf.shelf import Shelf

GROUNDS = {"two_tone": "two_tone", "three_tone": "three_tone", "hue": "hue_ground"}
# what every bench has, beside paints that are given by name and colour alone
STANDING: tuple[tuple[str, PaintKind, str, Opacity, str], ...] = (
    ("dark primer", "primer", "#17181a", "opaque", "matt"),
    ("pale primer", "primer", "#c9cbc8", "opaque", "matt"),
    ("matt varnish", "varnish", "#f6f6f2", "transparent", "matt"),
    ("satin varnish", "varnish", "#f6f6f2", "transparent", "satin"),
    ("gloss varnish", "varnish", "#f6f6f2", "transparent", "gloss"),
)


class PaintGiven(Strict):
    name: Name
    masstone: Hex
    opacity: Opacity


class SchemeIn(Strict):
    """What is asked; `paints` null takes the demo's shelf."""

    mesh: str | None = Field(default=None, max_length=4000)
    stand_in: str | None = Field(default=None, max_length=40)
    height_mm: float | None = Field(default=None, ge=1, le=2000)
    up: UpAxis = "z"
    what: What = "figure"
    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    gradient: bool = False
    along: Along = "light"
    wash: bool = False
    worn: bool = False
    order: Literal["climb", "descend", "veil", "span", "hue_ground"] = "climb"
    ground: Literal["two_tone", "three_tone", "hue"] = "three_tone"
    light: str = Field(default="shoulder", max_length=40)
    paints: list[PaintGiven] | None = Field(default=None, max_length=600)

    @model_validator(mode="after")
    def _one_piece(self) -> SchemeIn:
        if (self.mesh is None) == (self.stand_in is None):
            raise ValueError("give either mesh, a path, or stand_in, a name")
        if self.mesh is not None and self.height_mm is None:
            raise ValueError("height_mm is missing; a mesh needs its true height")
        return self


class SchemeStep(BaseModel):
    name: str
    task: str
    cup: list[dict[str, int | str]]
    film_um: float


class SchemeLands(BaseModel):
    shade: str
    middle: str
    light: str


class SchemeOut(BaseModel):
    """`delta_e` and `chroma_kept` are of the middle against the first asked colour."""

    steps: list[SchemeStep]
    lands: SchemeLands
    delta_e: float
    best_delta_e: float
    chroma_kept: float | None
    notes: list[str]


def shelf_given(paints: list[PaintGiven]) -> Shelf:
    """A shelf of paints known by colour alone, and what every bench has beside them.

    Parameters
    ----------
    paints : at least one
    """
    own = [
        PaintUsed(
            id=f"given-{n}",
            name=p.name,
            kind="transparent" if "transparent" in p.opacity else "airbrush_acrylic",
            masstone=p.masstone,
            opacity=p.opacity,
        )
        for n, p in enumerate(paints)
    ]
    standing = [
        PaintUsed.model_validate(
            {
                "id": name.replace(" ", "-"),
                "name": name,
                "kind": kind,
                "masstone": masstone,
                "opacity": opacity,
                "finish": finish,
            }
        )
        for name, kind, masstone, opacity, finish in STANDING
    ]
    thinner = ThinnerUsed(id="thinner", name="acrylic thinner", kind="acrylic_thinner")
    return Shelf(paints=[*own, *standing], thinners=[thinner], airbrushes=[])


def scheme(given: SchemeIn, plan: Plan, on: OnPiece, shelf: Shelf) -> SchemeOut:
    """A sequence for the asked colours, and where it lands.

    Parameters
    ----------
    given : what is asked
    plan : an empty one on its piece
    on : the piece
    shelf : what may be taken
    """
    order = "climb" if given.order == "hue_ground" else given.order
    ground = "hue_ground" if given.order == "hue_ground" else GROUNDS[given.ground]
    schools = plan.schools.model_copy(update={"order": order, "ground": ground})
    lights = lights_of(PresetBody(plan=plan, preset=given.light), on).lights
    asked = plan.model_copy(update={"schools": schools, "lights": lights})
    body = StartBody(
        plan=asked,
        what=given.what,
        colours=given.colours,
        gradient=given.gradient,
        along=given.along,
        wash=given.wash,
        worn=given.worn,
    )
    found = started(body, on, shelf, lambda *_: True)
    return SchemeOut(
        steps=[
            SchemeStep(
                name=step.name,
                task=step.task if step.kind == "spray" else step.role,
                cup=[
                    {"what": paint.name, "drops": drops}
                    for paint, drops in (step.mix.parts if step.mix else ())
                ],
                film_um=round(on.square_on_um(found.plan, step), 2),
            )
            for step in found.plan.coats
        ],
        lands=SchemeLands(
            shade=found.lands.shade, middle=found.lands.middle, light=found.lands.light
        ),
        delta_e=round(found.lands.delta_e, 2),
        best_delta_e=round(found.lands.best_delta_e, 2),
        chroma_kept=None if found.lands.chroma_kept is None else round(found.lands.chroma_kept, 3),
        notes=found.notes,
    )
