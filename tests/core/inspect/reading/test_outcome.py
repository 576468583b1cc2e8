"""How measures are judged: by the table that is shipped, and by one made by hand."""

from __future__ import annotations

import json
from dataclasses import replace
from importlib import resources

import numpy as np
import pytest

from haze.core.inspect.reading import outcome
from haze.core.inspect.reading.fade import Fade
from haze.core.inspect.reading.features import NAMES
from haze.core.inspect.reading.fingers import Fingers
from haze.core.inspect.reading.lines import Line
from haze.core.inspect.reading.measures import WORKED, Measures
from haze.core.inspect.reading.outcome import (
    Table,
    added_up,
    likely,
    shares_of,
    specks_per_cm2,
    table,
)
from haze.core.inspect.reading.specks import Grain, Specks
from haze.core.spray.calibrate import CLASSES

MEASURES = len(NAMES)


def card(
    steps: tuple[float, ...] = (12, 2, 0, 0), *, pass_um: float = 1.2, sigma: float = 1.4
) -> Measures:
    """An even card with so many specks by how visible they are."""
    line = Line(
        away_mm=60.0,
        y_mm=55.0,
        sigma_mm=sigma,
        peak_um=2.0,
        width_mm=3.0,
        unsure=0.02,
        broken=0.0,
        uneven=0.1,
    )
    return Measures(
        contrast=0.8,
        fingers=Fingers(np.zeros((4, 4), dtype=bool), np.zeros((0, 4))),
        specks=Specks(np.array(steps, dtype=float), 8.0, np.zeros((0, 3))),
        lumps=np.full(4, 1e-4),
        grain=Grain(0.5, 0.05),
        lines=(line,) * 3,
        fade=Fade(bands=0.0, wave_mm=0.0, span=40.0),
        solid=np.zeros(3),
        pass_um=pass_um,
        solid_share=1.0,
        gaps=0.0,
    )


def by_hand() -> Table:
    """Only the first measure speaks: for the second look, and for specks."""
    at = np.tile([0.0, 1.0, 3.0], (MEASURES, 1))
    looks = np.zeros((len(CLASSES), MEASURES, 3))
    looks[1, 0] = [0.0, np.log(3), np.log(3)]
    specks = np.zeros((MEASURES, 3))
    specks[0] = [0.0, 1.0, 5.0]
    offsets = np.array([0.0, 0.0, 0.0, np.log(2), 0.0])
    return Table(at, looks, offsets, specks, 0.5)


def test_curves_are_straight_between_their_places_and_flat_beyond() -> None:
    by = by_hand()
    for value, wanted in ((-4, 0.0), (0.5, 0.5), (2.0, 3.0), (9, 5.0)):
        one = np.zeros(MEASURES)
        one[0] = value
        assert added_up(one, by.at, by.specks) == pytest.approx(wanted)


def test_curves_of_all_measures_add_up() -> None:
    at = np.tile([0.0, 1.0], (MEASURES, 1))
    curves = np.column_stack([np.zeros(MEASURES), np.arange(MEASURES)])
    assert added_up(np.ones(MEASURES), at, curves) == pytest.approx(MEASURES * (MEASURES - 1) / 2)


def test_shares_are_a_softmax_of_what_the_curves_give() -> None:
    many = np.zeros((2, MEASURES))
    many[1, 0] = 1.0
    even, three = shares_of(many, by_hand())
    assert even == pytest.approx(np.array([1, 1, 1, 2, 1]) / 6)
    assert three == pytest.approx(np.array([1, 3, 1, 2, 1]) / 8)


def test_the_table_has_a_curve_for_every_measure_and_look() -> None:
    text = (resources.files("haze.core.inspect.reading") / "outcome.json").read_text("utf-8")
    assert list(json.loads(text)["measures"]) == list(NAMES)
    kept = table()
    assert kept.looks.shape == (len(CLASSES), *kept.at.shape)
    assert kept.specks.shape == kept.at.shape == (MEASURES, kept.at.shape[1])
    assert np.all(np.diff(kept.at, axis=1) > 0)


@pytest.mark.parametrize(
    ("look", "measures"),
    [
        ("spiders", ("fingers_worked", "fingers_lines", "fingers_dots")),
        ("specks", ("specks_1", "specks_2", "specks_4", "specks_8", "lumps_1", "lumps_2")),
        ("dust", ("coarse", "specks_coarse", "specks_8", "lumps_4")),
        ("nothing", ("gaps", "broken")),
    ],
)
def test_what_is_typical_of_a_look_speaks_for_it(look: str, measures: tuple[str, ...]) -> None:
    kept = table()
    little = kept.at[:, 1].copy()
    much = little.copy()
    for at in (NAMES.index(name) for name in measures):
        much[at] = kept.at[at, -1]
    here = CLASSES.index(look)
    assert shares_of(much, kept)[here] > 2 * shares_of(little, kept)[here]


def test_fingers_where_the_setting_was_sprayed_are_never_clean() -> None:
    x, y, wide, high = WORKED
    seen = []
    for finger_mm in (0.0, 6.0, 12.0, 60.0):
        piece = np.array([[x + wide / 2, y + high / 2, finger_mm, 0.2]])
        fingers = Fingers(np.zeros((4, 4), dtype=bool), piece)
        looks = likely(replace(card(), fingers=fingers))
        assert sum(one.share for one in looks) == pytest.approx(1)
        seen.append(next(one.share for one in looks if one.look == "clean"))
    assert seen == sorted(seen, reverse=True)
    assert seen[-1] < 0.1 < seen[0]


def test_specks_by_eye_rise_with_what_is_seen() -> None:
    few, many = specks_per_cm2(card((12, 2, 0, 0))), specks_per_cm2(card((120, 80, 40, 12)))
    assert 0 <= few < 20 < many


def test_specks_are_told_from_the_logarithm_of_one_more(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(outcome, "table", by_hand)
    # no finger anywhere: nothing but the offset
    assert specks_per_cm2(card()) == pytest.approx(np.exp(0.5) - 1)


def test_a_card_without_paint_shows_that_nothing_came() -> None:
    bare = likely(card(pass_um=0.0, sigma=0.0))
    assert bare[0].look == "nothing"
    assert sum(one.share for one in bare) == pytest.approx(1)
    even = likely(card())
    assert even[0].look == "clean"
    assert sorted((one.share for one in even), reverse=True) == [one.share for one in even]
