"""Trial cards over HTTP: printed, photographed, read, learned from."""

from __future__ import annotations

from typing import Annotated

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.core.inspect.card import MOST
from haze.service.bench import Bench
from haze.service.cards import cards, learned, photos, practice, trash
from haze.service.cards.cards import CardBody, CardView, DrillOut
from haze.service.cards.learned import AgreeBody, CardTaught, WouldTeachList
from haze.service.cards.photos import CardPhotoView, CardsView
from haze.service.cards.practice import PracticeAnswer, PracticeView
from haze.service.cards.stand_in import StandInBody
from haze.service.cards.trash import AwayPhoto, CardsTrash
from haze.web.files import PaperQuery
from haze.web.news import sent_by
from haze.web.plans import Emptied
from haze.web.routes import route_group


class CardPath(BaseModel):
    number: int = Field(ge=0, le=MOST)


class WantedQuery(BaseModel):
    card: int | None = Field(default=None, ge=0, le=MOST)


class SheetsQuery(PaperQuery):
    """Which cards, a page each."""

    numbers: list[Annotated[int, Field(ge=0, le=MOST)]] = Field(min_length=1, max_length=12)


class CardPhotoPath(BaseModel):
    photo_id: str = Field(max_length=64)


class PracticePath(BaseModel):
    practice_id: str = Field(max_length=64)


def _announce(bench: Bench, photo: str) -> None:
    """Tell every page."""
    bench.news.tell_card(photo, by=sent_by())


def cards_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Cards and their photos."""
    api = route_group("cards", documented=documented)

    _print_cards(api, bench)
    _read_photos(api, bench)
    _practise(api, bench)
    return api


def _print_cards(api: APIBlueprint, bench: Bench) -> None:
    """Cards that are made and printed."""
    db = bench.db

    @api.get("/cards", responses={200: CardsView})
    def all_cards() -> CardsView:
        return photos.everything(db)

    @api.post("/cards", responses={201: CardView})
    def make_card(body: CardBody) -> tuple[CardView, int]:
        return cards.make(db, bench.shelf(), body), 201

    @api.get("/cards/<number>/card.svg", responses={200: None})
    def card_svg(path: CardPath) -> Response:
        return Response(cards.as_svg(db, path.number), mimetype="image/svg+xml")

    @api.get("/cards/<number>/card.pdf", responses={200: None})
    def card_pdf(path: CardPath, query: PaperQuery) -> Response:
        made = cards.as_pdf(db, [path.number], paper=query.paper)
        name = f"trial-card-{path.number:06d}.pdf"
        headers = {"Content-Disposition": f'inline; filename="{name}"'}
        return Response(made, mimetype="application/pdf", headers=headers)

    @api.post("/cards/drill", responses={201: DrillOut})
    def make_drill(body: CardBody) -> tuple[DrillOut, int]:
        made = cards.make_drill(db, bench.shelf(), bench.beliefs, body)
        return made, 201

    @api.get("/cards/sheets.pdf", responses={200: None})
    def card_sheets(query: SheetsQuery) -> Response:
        made = cards.as_pdf(db, query.numbers, paper=query.paper)
        headers = {"Content-Disposition": 'inline; filename="trial-cards.pdf"'}
        return Response(made, mimetype="application/pdf", headers=headers)


def _read_photos(api: APIBlueprint, bench: Bench) -> None:
    """Photos of cards: reading, trash, and what they teach."""
    db = bench.db

    @api.post("/cards/photos", responses={200: CardPhotoView})
    def read_card(query: WantedQuery) -> CardPhotoView:
        found = photos.take_in(
            db, bench.shelf(), bench.beliefs, request.get_data(), wanted=query.card
        )
        _announce(bench, found.id)
        return found

    @api.post("/cards/<number>/stand-in", responses={200: CardPhotoView})
    def stand_in(path: CardPath, body: StandInBody) -> CardPhotoView:
        found = photos.stand_in(db, bench.shelf(), bench.beliefs, path.number, body)
        _announce(bench, found.id)
        return found

    @api.get("/cards/photos/<photo_id>.jpg", responses={200: None})
    def card_photo(path: CardPhotoPath) -> Response:
        image = photos.photo_bytes(db, path.photo_id)
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(image, mimetype="image/jpeg", headers=headers)

    @api.get("/cards/trash", responses={200: CardsTrash})
    def all_trashed() -> CardsTrash:
        return trash.cards_trash(db)

    @api.post("/cards/trash", responses={200: CardsTrash})
    def put_photo_away(body: AwayPhoto) -> CardsTrash:
        found = trash.put_away(db, body)
        if body.of == "card":
            _announce(bench, body.id)
        return found

    @api.delete("/cards/trash", responses={200: Emptied})
    def empty_cards_trash() -> Emptied:
        return Emptied(deleted=trash.empty_trash(db))

    @api.get("/cards/photos/<photo_id>/would", responses={200: WouldTeachList})
    def would_teach(path: CardPhotoPath) -> WouldTeachList:
        return learned.would_teach(db, bench.beliefs, path.photo_id)

    @api.post("/cards/photos/<photo_id>/agree", responses={200: CardTaught})
    def agree_with_card(path: CardPhotoPath, body: AgreeBody) -> CardTaught:
        found = learned.agree(db, bench.beliefs, path.photo_id, body)
        _announce(bench, path.photo_id)
        return found

    @api.post("/cards/photos/<photo_id>/back", responses={200: CardPhotoView})
    def take_card_back(path: CardPhotoPath) -> CardPhotoView:
        found = learned.take_back(db, bench.beliefs, path.photo_id)
        _announce(bench, path.photo_id)
        return found


def _practise(api: APIBlueprint, bench: Bench) -> None:
    """Practice cards."""
    db = bench.db

    @api.post("/practice", responses={200: PracticeView})
    def practise() -> PracticeView:
        return practice.practice_card(db, bench.shelf(), bench.beliefs)

    @api.post("/practice/<practice_id>/answer", responses={200: PracticeView})
    def answer_practice(path: PracticePath, body: PracticeAnswer) -> PracticeView:
        return practice.practice_answer(db, path.practice_id, body)

    @api.get("/practice/<practice_id>.png", responses={200: None})
    def practice_picture(path: PracticePath) -> Response:
        image = practice.practice_png(db, path.practice_id)
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(image, mimetype="image/png", headers=headers)
