"""What painters know to be true of the spray (docs/models.md A9, A11).

The facts are data (facts.py); a setting counts as clean below risk .3, the verdict's own limit.
"""

from __future__ import annotations

import numpy as np
import pytest

from core.spray.facts import FACTS, Fact, holds, kept, line_mm, setting
from haze.core.spray.model import spray
from haze.core.spray.recipe import NoRecipe, Recipe, find_recipe

LEAST_KEPT, MEAN_KEPT = 0.6, 0.9


@pytest.mark.parametrize("fact", FACTS, ids=lambda f: f.says)
def test_the_model_shows(fact: Fact) -> None:
    assert holds(fact)
    assert kept(fact) >= LEAST_KEPT, "settings scattered by a fifth tell the same"


def test_most_scattered_settings_keep_their_verdict() -> None:
    assert np.mean([kept(fact) for fact in FACTS]) >= MEAN_KEPT


def test_thinning_at_the_same_flow_trades_specks_for_passes() -> None:
    triggers = np.linspace(0.02, 1.0, 300)
    weak = {"pressure_psi": 8.0, "speed_mm_s": 120.0}
    thick = spray(setting("white", thinner_parts=0.5, trigger=0.5, **weak))
    thin = spray(setting("white", thinner_parts=2.0, trigger=triggers, **weak))
    same = int(np.argmin(np.abs(thin.flow_ml_min - thick.flow_ml_min)))
    assert thin.specks[same] < thick.specks
    assert thin.dry_film_um[same] < thick.dry_film_um


def test_thinning_at_the_same_trigger_raises_the_flow() -> None:
    flow = [float(spray(setting("white", thinner_parts=p)).flow_ml_min) for p in (0.5, 1, 2, 3)]
    assert flow == sorted(flow)
    assert flow[-1] > 1.5 * flow[0]


@pytest.mark.parametrize("needle", [0.2, 0.3, 0.4])
def test_a_barely_open_trigger_gives_what_drops_and_minutes_of_the_trade_imply(
    needle: float,
) -> None:
    flow = [
        float(
            spray(
                setting("brush_acrylic", thinner_parts=p, needle_mm=needle, trigger=0.25)
            ).flow_ml_min
        )
        for p in (1.0, 2.0)
    ]
    assert 0.1 < flow[0] < flow[1] < 0.9


def test_lines_narrow_when_nearer_with_less_trigger_or_less_pressure() -> None:
    # one stroke of so little ink is hardly seen; take one that is
    seen = {"trigger": 0.1, "distance_mm": 10.0}
    assert line_mm(**(seen | {"distance_mm": 7.0})) < line_mm(**seen)
    assert line_mm(**(seen | {"trigger": 0.08})) < line_mm(**seen)
    assert line_mm(**(seen | {"pressure_psi": 8.0})) < line_mm(**seen)


def test_the_footprint_of_a_line_grows_with_distance() -> None:
    near, far = (spray(setting("ink", distance_mm=d)).footprint_mm for d in (10.0, 20.0))
    assert float(far / near) == pytest.approx(2.0)


def test_the_finest_clean_line_is_about_a_millimetre() -> None:
    finest, wanted = (
        find_recipe("ink", needle_mm=0.2, task="line", school="whisper", line_mm=mm)
        for mm in (0.2, 1.0)
    )
    assert isinstance(finest, NoRecipe)
    assert isinstance(wanted, Recipe)
    assert wanted.outcome.worst < 0.3
