"""What a Haze file holds: a zip archive of JSON, mesh files and pictures, in a published form.

`docs/haze-file.md` describes it; its JSON Schema is written from these models. A new version of
the form adds a number to `VERSION` and a way to bring older ones up.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from haze.core.inspect.card import MOST
from haze.core.plan.base import Digest, Identity, Name
from haze.core.plan.coat import SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.knobs import Needle
from haze.core.plan.paint import AirbrushUsed
from haze.core.plan.roles import TaskName
from haze.core.spray.calibrate import Look
from haze.core.spray.constants import PaintKind
from haze.service.booth.pressed import EventOut
from haze.service.cards.card_read import CardRead
from haze.service.cards.cards import CardBody
from haze.service.cards.comparison import Compared
from haze.service.cards.piece_photos import Marks
from haze.service.cards.practice import PracticeAsked, PracticeKept
from haze.service.cups.beliefs import MeasuredIn
from haze.service.cups.setting import AssessIn
from haze.service.cups.trial_session import RoomThen
from haze.service.forms.moments import Date, Moment
from haze.service.notebook.summary import Summary
from haze.service.shelf.paints import PaintOnShelf
from haze.service.shelf.shelf import ThinnerOnShelf

FORMAT = "haze"
VERSION = 2
MIME = "application/vnd.haze+zip"
MANIFEST = "haze.json"
PICTURE = "picture.png"
MESH = r"meshes/[0-9a-f]{64}\.(stl|obj|ply|glb)"
PHOTO = r"(photos|card-photos|piece-photos)/[A-Za-z0-9-]{8,64}\.jpg"
ALLOWED = (r"haze\.json", r"picture\.png", MESH, PHOTO)
MOST_MANIFEST = 64 * 2**20
MOST_PHOTO = 8 * 2**20
MOST_PRACTICE = 50_000
OwnId = Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]


class FilePart(BaseModel):
    """A part of the file; fields of a later form are left alone."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)


class MeshPart(FilePart):
    """A mesh: its entry is `meshes/<id>.<format>`, its id the SHA-256 of it."""

    id: Digest
    name: Annotated[str, Field(min_length=1, max_length=200)]
    format: Literal["stl", "obj", "ply", "glb"]

    @property
    def entry(self) -> str:
        """Where it lies in the archive."""
        return f"meshes/{self.id}.{self.format}"


class PlanPart(FilePart):
    """A plan as it stands."""

    id: Identity
    plan: Plan


class TrialPart(FilePart):
    """A trial on card; one that was taken back no longer counts."""

    id: OwnId
    at: Moment
    paint: Identity
    paint_name: Name
    kind: PaintKind
    airbrush: Identity
    airbrush_name: Name
    needle_mm: Needle
    setting: AssessIn
    look: Look
    plan: Identity | None = None
    step: Identity | None = None
    taken_back_at: Moment | None = None
    session: Identity | None = None
    measured: MeasuredIn | None = None


class WayPart(FilePart):
    """The painter's own setting of a paint through a needle for a task."""

    paint: Identity
    airbrush: Identity
    needle_mm: Needle
    task: TaskName
    spray: SprayAt


class PhotoPart(FilePart):
    """A photo of a session: its entry is `photos/<id>.jpg`."""

    id: OwnId
    session: Identity
    at: Moment
    note: Annotated[str, Field(max_length=500)] = ""

    @property
    def entry(self) -> str:
        """Where it lies in the archive."""
        return f"photos/{self.id}.jpg"


class SessionPart(FilePart):
    """What was done on a day, with the plan as it was, what came of it, and every press (`log`)."""

    id: Identity
    kind: Literal["booth", "cards"]
    date: Date
    began_at: Moment
    ended_at: Moment
    name: Annotated[str, Field(min_length=1, max_length=250)]
    plan: Identity | None = None
    paint: Identity | None = None
    airbrush: Identity | None = None
    document: Plan | None = None
    room: RoomThen | None = None
    told: Summary | None = None
    note: Annotated[str, Field(max_length=4000)] = ""
    rating: Annotated[int, Field(ge=1, le=5)] | None = None
    log: Annotated[list[EventOut], Field(max_length=50_000)] = []


class CardPart(FilePart):
    """A printed card: its number, and what it was made for."""

    number: Annotated[int, Field(ge=0, le=MOST)]
    made_at: Moment
    dark: bool
    asked: CardBody


class CardPhotoPart(FilePart):
    """A photo of a card with what was read: its entry is `card-photos/<id>.jpg`.

    `card` is the number of a card of the file, `trial` the trial it became.
    """

    id: OwnId
    at: Moment
    card: Annotated[int, Field(ge=0, le=MOST)] | None = None
    trial: OwnId | None = None
    found: CardRead

    @property
    def entry(self) -> str:
        """Where it lies in the archive."""
        return f"card-photos/{self.id}.jpg"


class PiecePhotoPart(FilePart):
    """A photo of a painted piece with the marks on it: its entry is `piece-photos/<id>.jpg`."""

    id: OwnId
    at: Moment
    plan: Identity
    marks: Marks | None = None
    told: Compared | None = None

    @property
    def entry(self) -> str:
        """Where it lies in the archive."""
        return f"piece-photos/{self.id}.jpg"


Picture = PhotoPart | CardPhotoPart | PiecePhotoPart


class PracticePart(FilePart):
    """A card to practise on, and what it was taken for."""

    id: OwnId
    at: Moment
    asked: PracticeAsked
    answer: PracticeKept


class HazeFile(FilePart):
    """`haze.json`: everything of the file but meshes and pictures."""

    format: Literal["haze"]
    version: Annotated[int, Field(ge=1)]
    made_at: Moment
    program: Annotated[str, Field(max_length=40)] = ""
    plans: Annotated[list[PlanPart], Field(max_length=1000)] = []
    meshes: Annotated[list[MeshPart], Field(max_length=1000)] = []
    paints: Annotated[list[PaintOnShelf], Field(max_length=5000)] = []
    thinners: Annotated[list[ThinnerOnShelf], Field(max_length=500)] = []
    airbrushes: Annotated[list[AirbrushUsed], Field(max_length=500)] = []
    trials: Annotated[list[TrialPart], Field(max_length=50_000)] = []
    ways: Annotated[list[WayPart], Field(max_length=50_000)] = []
    sessions: Annotated[list[SessionPart], Field(max_length=10_000)] = []
    photos: Annotated[list[PhotoPart], Field(max_length=10_000)] = []
    cards: Annotated[list[CardPart], Field(max_length=50_000)] = []
    card_photos: Annotated[list[CardPhotoPart], Field(max_length=10_000)] = []
    piece_photos: Annotated[list[PiecePhotoPart], Field(max_length=5000)] = []
    practice: Annotated[list[PracticePart], Field(max_length=MOST_PRACTICE)] = []

    @property
    def pictures(self) -> list[Picture]:
        """Every photo of it."""
        return [*self.photos, *self.card_photos, *self.piece_photos]
