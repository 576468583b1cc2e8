"""Cards, their photos and practice in files: with what they need, once, and never mixed up."""

from __future__ import annotations

import io
import json
import re
import zipfile

import pytest

from haze.core.errors import BadFileError
from haze.service.bench import Bench
from haze.service.cards import cards, photos, piece_photos, trash
from haze.service.cards.trash import AwayPhoto
from haze.service.files.documents import HazeFile
from haze.service.plan.plans import PlanView
from haze.store import cards as store
from haze.store import practice
from service.files.carded import carded, compared, photographed, practised, printed
from service.files.test_files import all_of, file_of, look_at, took, tried


@pytest.fixture
def club(bench: Bench, cone: PlanView) -> Bench:
    tried(bench, cone.plan, ["clean"])
    carded(bench, cone)
    return bench


def manifest(data: bytes) -> HazeFile:
    return HazeFile.model_validate_json(zipfile.ZipFile(io.BytesIO(data)).read("haze.json"))


def rewritten(data: bytes, found: HazeFile) -> bytes:
    """The same archive with another manifest."""
    old, out = zipfile.ZipFile(io.BytesIO(data)), io.BytesIO()
    with zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            text = found.model_dump_json() if name == "haze.json" else old.read(name)
            new.writestr(name, text)
    return out.getvalue()


def test_cards_and_practice_come_back_with_their_photos(club: Bench, other: Bench) -> None:
    data = all_of(club)
    look = look_at(other, data)
    assert (look.cards_new, look.practice_new, look.photos_new) == (1, 1, 2)
    done = took(other, data)
    assert (done.cards, done.photos) == (1, 2)
    assert photos.everything(other.db) == photos.everything(club.db)
    assert photos.everything(other.db).photos[0].look == "clean"
    assert piece_photos.piece_photos(other.db) == piece_photos.piece_photos(club.db)
    mine, theirs = (practice.answered(b.db.connection(), 9) for b in (club, other))
    assert mine == theirs
    again = look_at(other, data)
    assert (again.cards_new, again.practice_new, again.photos_new) == (0, 0, 0)


def test_a_plan_takes_its_own_cards_along_and_no_others(
    club: Bench, cone: PlanView, other: Bench
) -> None:
    elsewhere = printed(
        club, cone.model_copy(update={"id": "another-plan"}), club.shelf().paints[1]
    )
    photographed(club, elsewhere.number, shade=30)
    photographed(club, None, shade=31)
    found = manifest(file_of(club, cone.id))
    assert [c.asked.plan for c in found.cards] == [cone.id]
    assert [p.card for p in found.card_photos] == [found.cards[0].number]
    assert (len(found.piece_photos), found.practice) == (1, [])
    assert {c.asked.paint.id for c in found.cards} <= {p.id for p in found.paints}
    took(other, file_of(club, cone.id))
    assert [c.number for c in photos.everything(other.db).cards] == [found.cards[0].number]


def test_what_lies_in_the_trash_stays_there(club: Bench, cone: PlanView) -> None:
    for of, photo in (
        ("card", photos.everything(club.db).photos[0]),
        ("piece", compared(club, cone)),
    ):
        trash.put_away(
            club.db, AwayPhoto.model_validate({"of": of, "id": photo.id, "trashed": True})
        )
    found = manifest(all_of(club))
    assert (found.card_photos, found.piece_photos, len(found.cards)) == ([], [], 1)


def test_a_number_that_another_card_has_here_stays_that_cards(
    club: Bench, cone: PlanView, other: Bench
) -> None:
    data = all_of(club)
    number = manifest(data).cards[0].number
    row = cards.one(club.db, number)
    with other.db.atomic() as tx:
        store.add(tx, store.CardRow(number, "2026-01-01T00:00:00Z", True, row.asked))
    done = took(other, data)
    assert (done.cards, done.photos) == (0, 2)
    assert cards.one(other.db, number).made_at == "2026-01-01T00:00:00Z"
    assert photos.everything(other.db).photos[0].card is None


def test_a_card_asks_for_the_paint_that_is_taken_instead(club: Bench, other: Bench) -> None:
    data = all_of(club)
    found = manifest(data)
    there = found.cards[0].asked.paint
    fresh = next(p for p in found.paints if p.id == there.id)
    renamed = fresh.model_copy(update={"id": "their-own-id"})
    asked = found.cards[0].asked.model_copy(
        update={"paint": there.model_copy(update={"id": "their-own-id"})}
    )
    took(
        other,
        rewritten(
            data,
            found.model_copy(
                update={
                    "paints": [renamed if p.id == there.id else p for p in found.paints],
                    "cards": [found.cards[0].model_copy(update={"asked": asked})],
                }
            ),
        ),
    )
    # the starter shelf has that paint under the name it has in the file
    assert photos.everything(other.db).cards[0].asked.paint.id == there.id


def test_photos_of_a_piece_follow_a_copy_of_its_plan(
    club: Bench, cone: PlanView, other: Bench
) -> None:
    data = all_of(club)
    took(other, data)
    from haze.service.plan import plans

    held = plans.open_plan(other.db, cone.id)
    turned = held.plan.model_copy(update={"name": "Mine by now"})
    plans.save(other.db, cone.id, version=held.version, plan=turned, what="Renamed")
    assert look_at(other, data).photos_new == 1
    done = took(other, data)
    ids = {p.plan for p in piece_photos.piece_photos(other.db).photos}
    assert (ids, done.photos) == ({cone.id, done.plan}, 1)


@pytest.mark.parametrize(
    ("part", "change", "words"),
    [
        ("cards", {"number": 1}, "a card that it lacks"),
        ("piece_photos", {"plan": "no-such-plan"}, "without its plan"),
        ("card_photos", {"id": "00000000-none"}, "lacks card-photos"),
    ],
)
def test_a_file_that_lacks_what_its_cards_need_changes_nothing(
    club: Bench, other: Bench, part: str, change: dict[str, object], words: str
) -> None:
    data = all_of(club)
    found = manifest(data)
    broken = [getattr(found, part)[0].model_copy(update=change)]
    with pytest.raises(BadFileError, match=words):
        took(other, rewritten(data, found.model_copy(update={part: broken})))
    assert photos.everything(other.db).cards == []


def test_a_number_without_end_is_refused(club: Bench, other: Bench) -> None:
    data = all_of(club)
    old, out = zipfile.ZipFile(io.BytesIO(data)), io.BytesIO()
    with zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            text = old.read(name)
            new.writestr(name, text.replace(b'"off_share": 0.004', b'"off_share": 1e999'))
    with pytest.raises(BadFileError, match=r"piece_photos\.0\.told\.off_share"):
        took(other, out.getvalue())


def test_a_file_of_the_first_form_knew_no_cards_and_is_taken_in(club: Bench, other: Bench) -> None:
    data = all_of(club)
    source, out = zipfile.ZipFile(io.BytesIO(data)), io.BytesIO()
    text = json.loads(source.read("haze.json")) | {"version": 1}
    with zipfile.ZipFile(out, "w") as old:
        for name in source.namelist():
            if not re.match("haze.json|card-photos|piece-photos", name):
                old.writestr(name, source.read(name))
        later = ("cards", "card_photos", "piece_photos", "practice")
        kept = {k: v for k, v in text.items() if k not in later}
        old.writestr("haze.json", json.dumps(kept))
    done = took(other, out.getvalue())
    assert (done.plans, done.trials, done.cards, done.photos) == (1, 1, 0, 0)


def test_practice_comes_in_once(club: Bench, other: Bench) -> None:
    took(other, all_of(club))
    practised(club)
    assert look_at(other, all_of(club)).practice_new == 1
    took(other, all_of(club))
    assert len(practice.answered(other.db.connection(), 9)) == 2
