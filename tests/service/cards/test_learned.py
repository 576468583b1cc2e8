"""What a card teaches: nothing unless the painter agrees."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.inspect.card import MOST
from haze.core.spray.calibrate import believed
from haze.service.bench import Bench
from haze.service.cards import learned, photos
from haze.service.cards.cards import CardView
from haze.service.cards.learned import AgreeBody
from haze.service.cards.photos import CardPhotoView
from haze.service.files.written import trials_csv
from haze.store import trials as trial_store
from haze.store.connection import MissingError
from service.cards.printed import read, simulated


def test_a_card_teaches_when_the_painter_agrees_and_only_then(
    club: Bench, photo: CardPhotoView
) -> None:
    assert photo.card is not None
    through = photo.card.asked.through
    assert club.beliefs.of(through) is None
    told = learned.agree(club.db, club.beliefs, photo.id, AgreeBody(id="agree-0001", look="clean"))
    assert told.photo.trial == told.taught.trial == "agree-0001"
    assert told.words[-1].startswith("Clean here: ")
    point, _ = believed(club.beliefs.of(through))
    assert photo.found.measured is not None
    assert photo.found.measured.width is not None
    # what was measured of the width is what is believed of it now, drawn a little to the tables
    measured = np.log(photo.found.measured.width)
    assert float(np.log(point.width)) == pytest.approx(measured, abs=0.08)
    row = trial_store.one(club.db.connection(), "agree-0001")
    assert row.measured is not None
    assert trials_csv(club.db).count(b"Bilge Black") == 1
    back = learned.take_back(club.db, club.beliefs, photo.id)
    assert back.trial is None
    assert club.beliefs.of(through) is None
    # and agreed with anew, as something else
    again = AgreeBody(id="agree-0002", look="specks")
    said = learned.agree(club.db, club.beliefs, photo.id, again).photo
    assert (said.trial, said.look) == ("agree-0002", "specks")
    # taken back in the notebook or the window it counts nowhere, counted again it does
    for back, trial in ((True, None), (False, "agree-0002")):
        club.take_trial_back("agree-0002", back=back)
        shown = {p.id: p.trial for p in photos.everything(club.db).photos}
        assert shown[photo.id] == trial
    assert learned.take_back(club.db, club.beliefs, photo.id).trial is None


def test_a_photo_of_an_unknown_card_is_read_but_teaches_nothing(
    club: Bench, card: CardView
) -> None:
    strange = simulated(club, card, number=(card.number + 1) % MOST, seed=9)
    found = read(club, strange)
    assert (found.card, found.found.refused) == (None, None)
    assert found.found.trial == (card.number + 1) % MOST
    with pytest.raises(MissingError, match="setting is not known"):
        learned.agree(club.db, club.beliefs, found.id, AgreeBody(id="agree-0003", look="clean"))
    assert read(club, strange, wanted=card.number).found.reason == "wrong"


def test_what_a_look_would_teach_is_told_before_and_then_taught(club: Bench, jpeg: bytes) -> None:
    photo = read(club, jpeg)
    would = learned.would_teach(club.db, club.beliefs, photo.id).would
    assert [one.look for one in would] == [one.look for one in photo.found.looks[:2]]
    for n, one in enumerate(would):
        said = AgreeBody(id=f"would-{n:04}", look=one.look)
        got = learned.agree(club.db, club.beliefs, photo.id, said).taught
        assert getattr(got.before, one.look) == pytest.approx(one.before, abs=1e-9)
        assert getattr(got.after, one.look) == pytest.approx(one.after, abs=1e-9)
        # once it has taught there is nothing more to tell
        assert learned.would_teach(club.db, club.beliefs, photo.id).would == []
        learned.take_back(club.db, club.beliefs, photo.id)


def test_what_came_and_went_is_not_measured(club: Bench, photo: CardPhotoView) -> None:
    assert photo.found.measured is not None
    learned.agree(club.db, club.beliefs, photo.id, AgreeBody(id="gone-0001", look="nothing"))
    assert trial_store.one(club.db.connection(), "gone-0001").measured is None
    learned.take_back(club.db, club.beliefs, photo.id)
