"""Cards, photos of them and of a piece, and practice, as a painter has them after a while."""

from __future__ import annotations

import hashlib
import io

from PIL import Image

from haze.core.plan.paint import PaintUsed
from haze.service.bench import Bench
from haze.service.cards import cards, photos, piece_photos, practice
from haze.service.cards.card_read import CardRead, MeasureOut, ReadPhoto
from haze.service.cards.cards import CardBody, CardView
from haze.service.cards.comparison import Compared
from haze.service.cards.piece_photos import PiecePhotoView
from haze.service.cards.practice import PracticeAnswer
from haze.service.plan.plans import PlanView
from haze.store import cards as card_store
from haze.store import piece_photos as piece_store
from helpers import CARD


def jpeg(shade: int, size: tuple[int, int] = (64, 48)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (shade, shade, shade)).save(out, "JPEG", quality=92)
    return out.getvalue()


def printed(bench: Bench, view: PlanView, paint: PaintUsed) -> CardView:
    """A card for the plan, of a paint on the shelf."""
    brush = view.plan.airbrush
    asked = {
        "paint": {"id": paint.id, "name": paint.name, "kind": paint.kind},
        "airbrush": {"id": brush.id, "name": brush.name, "needle_mm": brush.needle_mm},
        "setting": CARD,
        "plan": view.id,
        "title": "Shade",
    }
    return cards.make(bench.db, bench.shelf(), CardBody.model_validate(asked))


def photographed(bench: Bench, number: int | None, shade: int = 90) -> photos.CardPhotoView:
    data = jpeg(shade)
    found = CardRead(
        trial=number,
        refused=None,
        reason=None,
        measures={"line_15_mm": MeasureOut(value=5, low=4, high=6, unit="mm", words="")},
        outcome="clean",
        sure=0.9,
        looks=[],
        spots={},
        outline=[(0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)],
        quality=None,
        measured=None,
    )
    return photos.keep(bench.db, ReadPhoto(found, data, 64, 48, hashlib.sha256(data).hexdigest()))


def compared(bench: Bench, view: PlanView, shade: int = 140) -> PiecePhotoView:
    """A photo of the piece that was marked and told of."""
    photo = piece_photos.take_in_piece(bench.db, view.id, jpeg(shade, (900, 700)))
    marks = piece_photos.Marks.model_validate({"points": [], "patch": {"x": 0.1, "y": 0.9}})
    told = Compared(regions=[], off_share=0.004, trust=["Even light."])
    with bench.db.atomic() as tx:
        piece_store.tell(tx, photo.id, marks=marks.model_dump_json(), told=told.model_dump_json())
    return piece_photos.piece_photos(bench.db).photos[0]


def practised(bench: Bench) -> None:
    card = practice.practice_card(bench.db, bench.shelf(), bench.beliefs)
    answer = PracticeAnswer.model_validate({"look": "clean", "change": "leave"})
    practice.practice_answer(bench.db, card.id, answer)


def carded(bench: Bench, view: PlanView) -> CardView:
    """One of each; the photo of the card taught the first trial of the notebook."""
    card = printed(bench, view, bench.shelf().paints[0])
    photo = photographed(bench, card.number)
    trial = next(iter(bench.beliefs.tried().of.values()))[-1].id
    with bench.db.atomic() as tx:
        card_store.taught(tx, photo.id, trial=trial)
    compared(bench, view)
    practised(bench)
    return card
