"""Practice over a shelf: made of what is there, judged once, remembered."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from haze.core.inspect.practice import CLASSES
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.cards import practice
from haze.service.cards.practice import PracticeAnswer, PracticeView
from haze.service.shelf.shelf import Shelf
from haze.store.connection import MissingError
from helpers import coarse


@pytest.fixture(scope="module")
def club(tmp_path_factory: pytest.TempPathFactory) -> Bench:
    bench = coarse(tmp_path_factory.mktemp("club"))
    saltgate.load_shelf(bench.db)
    return bench


def shown(bench: Bench) -> PracticeView:
    return practice.practice_card(bench.db, bench.shelf(), bench.beliefs)


def test_a_card_waits_for_its_answer_and_tells_nothing_before(club: Bench) -> None:
    one = shown(club)
    assert one.judged is None
    assert shown(club).id == one.id
    assert one.paint in [p.name for p in club.shelf().paints] or one.paint == "A deep blue"
    image = np.asarray(Image.open(io.BytesIO(practice.practice_png(club.db, one.id))))
    assert image.shape == (1050, 1480, 3)
    told = one.model_dump_json()
    assert '"look":' not in told.split('"standings"')[0]


def test_an_answer_is_judged_once_and_counts(club: Bench) -> None:
    one = shown(club)
    first = practice.practice_answer(club.db, one.id, PracticeAnswer(look="dust", change="leave"))
    assert first.judged is not None
    truth = first.judged.look
    assert first.judged.right == (truth == "dust")
    assert first.answered == one.answered + 1
    again = practice.practice_answer(club.db, one.id, PracticeAnswer(look=truth, change="faster"))
    assert again.judged == first.judged
    assert again.answered == first.answered
    standing = next(s for s in again.standings if s.look == truth)
    assert standing.asked == 1
    assert shown(club).id != one.id


def test_every_look_is_shown_and_its_measure_told(club: Bench) -> None:
    seen = set()
    for _ in range(8):
        one = shown(club)
        told = practice.practice_answer(
            club.db, one.id, PracticeAnswer(look="clean", change="leave")
        )
        assert told.judged is not None
        seen.add(told.judged.look)
        if told.judged.look == "clean":
            assert told.judged.changed_well
        else:
            assert not told.judged.changed_well
            assert any(c.does in ("best", "helps") for c in told.judged.changes)
        assert any(ch.isdigit() for ch in told.judged.shows)
    assert len(seen) >= 4 <= len(CLASSES)


def test_an_empty_shelf_is_practised_on_with_usual_gear(tmp_path: Path) -> None:
    bench = coarse(tmp_path)
    nothing = Shelf(paints=[], thinners=[], airbrushes=[])
    one = practice.practice_card(bench.db, nothing, bench.beliefs)
    assert (one.paint, one.needle_mm) == ("A deep blue", 0.3)


def test_an_unknown_card_is_refused(club: Bench) -> None:
    with pytest.raises(MissingError):
        practice.practice_png(club.db, "nobody-knows")
    with pytest.raises(MissingError):
        practice.practice_answer(
            club.db, "nobody-knows", PracticeAnswer(look="dust", change="nearer")
        )
