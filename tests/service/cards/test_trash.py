"""Photos put away come back until they are deleted for good."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from haze.service.bench import Bench
from haze.service.cards import learned, photos, piece_photos, trash
from haze.service.cards.cards import CardView
from haze.service.cards.learned import AgreeBody
from haze.service.cards.photos import CardPhotoView
from haze.service.cards.piece_photos import PiecePhotoView
from haze.service.cards.trash import AwayPhoto, TrashedPhoto
from haze.service.plan.plans import PlanView
from haze.store import trials as trial_store
from haze.store.connection import MissingError
from service.cards.printed import DEEP, read, simulated


def test_a_photo_put_away_comes_back_and_leaves_what_it_taught(
    club: Bench, photo: CardPhotoView
) -> None:
    assert photo.card is not None
    learned.agree(club.db, club.beliefs, photo.id, AgreeBody(id="agree-0004", look="clean"))
    away = trash.put_away(club.db, AwayPhoto(of="card", id=photo.id, trashed=True))
    name = f"Card {photo.card.spoken}, {DEEP}"
    assert away.photos == [TrashedPhoto(of="card", id=photo.id, at=photo.at, name=name)]
    assert photo.id not in [p.id for p in photos.everything(club.db).photos]
    assert trial_store.one(club.db.connection(), "agree-0004").taken_back_at is None
    assert trash.put_away(club.db, AwayPhoto(of="card", id=photo.id, trashed=False)).photos == []
    back = next(p for p in photos.everything(club.db).photos if p.id == photo.id)
    assert (back.trial, back.found) == ("agree-0004", photo.found)
    learned.take_back(club.db, club.beliefs, photo.id)


def test_a_photo_in_the_trash_that_is_read_again_comes_out_of_it(
    club: Bench, photo: CardPhotoView, jpeg: bytes
) -> None:
    trash.put_away(club.db, AwayPhoto(of="card", id=photo.id, trashed=True))
    assert read(club, jpeg).id == photo.id
    assert trash.cards_trash(club.db).photos == []


def test_only_what_lies_in_the_trash_is_deleted(club: Bench, card: CardView) -> None:
    kept, gone = (
        read(club, simulated(club, card, number=card.number, seed=seed)) for seed in (5, 6)
    )
    trash.put_away(club.db, AwayPhoto(of="card", id=gone.id, trashed=True))
    assert trash.empty_trash(club.db) == 1
    assert photos.photo_bytes(club.db, kept.id)
    with pytest.raises(MissingError):
        photos.photo_bytes(club.db, gone.id)
    with pytest.raises(MissingError):
        trash.put_away(club.db, AwayPhoto(of="card", id=gone.id, trashed=False))


def test_a_photo_of_a_piece_is_named_by_its_plan(bench: Bench, cone: PlanView) -> None:
    photo = taken_in(bench, cone)
    (away,) = trash.put_away(bench.db, AwayPhoto(of="piece", id=photo.id, trashed=True)).photos
    assert (away.of, away.name) == ("piece", cone.plan.name)
    assert piece_photos.piece_photos(bench.db).photos == []
    assert taken_in(bench, cone).id == photo.id  # the same photo again comes out of it
    assert trash.cards_trash(bench.db).photos == []
    trash.put_away(bench.db, AwayPhoto(of="piece", id=photo.id, trashed=True))
    assert trash.empty_trash(bench.db) == 1
    with pytest.raises(MissingError):
        piece_photos.piece_photo_bytes(bench.db, photo.id)


def taken_in(bench: Bench, cone: PlanView) -> PiecePhotoView:
    out = io.BytesIO()
    Image.new("RGB", (900, 700), "#808080").save(out, "JPEG")
    return piece_photos.take_in_piece(bench.db, cone.id, out.getvalue())


def test_a_plan_that_cannot_be_read_keeps_no_photo_from_the_trash(
    bench: Bench, cone: PlanView
) -> None:
    photo = taken_in(bench, cone)
    with bench.db.atomic() as tx:
        tx.execute("UPDATE revision SET document = '{}'")
    (away,) = trash.put_away(bench.db, AwayPhoto(of="piece", id=photo.id, trashed=True)).photos
    assert away.name == "A damaged plan"
