"""Core samples."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.srgb import parse_hex
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.sample import SampleBody, take_sample


@pytest.fixture
def plan(globe: Plan) -> Plan:
    return globe


@pytest.fixture
def on(on_globe: OnPiece) -> OnPiece:
    return on_globe


def test_a_core_sample_tells_the_films_at_one_point(plan: Plan, on: OnPiece) -> None:
    top = take_sample(SampleBody(plan=plan, at=(0, 0, 24)), on)
    assert [layer.step for layer in top.layers] == [c.id for c in plan.coats]
    assert top.at[2] == pytest.approx(24, abs=0.6)
    at = int(
        np.argmin(
            np.linalg.norm(
                on.piece.mesh.vertices - on.piece.mesh.from_file(np.array([top.at]))[0],
                axis=1,
            )
        )
    )
    films = [film.film_um[at] for film in on.layers(plan, len(plan.coats))]
    assert [layer.film_um for layer in top.layers] == pytest.approx(films)
    assert top.total_um == pytest.approx(sum(films), rel=1e-5)
    seen = colours(on, plan, after=len(plan.coats), look="as_painted")[at]
    last = parse_hex(top.layers[-1].colour) * 255
    assert np.abs(last - seen).max() <= 2
    low = take_sample(SampleBody(plan=plan, at=(0, 0, -2)), on)
    assert low.light < top.light
    assert low.part


def test_a_core_sample_leaves_out_what_leaves_no_paint(plan: Plan, on: OnPiece) -> None:
    rested = plan.model_copy(deep=True)
    rested.coats.insert(1, HandStep(id="rest", name="Rest", role="rest", minutes=30))
    body = SampleBody(plan=rested, at=(0, 0, 24))
    assert "rest" not in {layer.step for layer in take_sample(body, on).layers}
    with_rest = take_sample(body, on)
    without = take_sample(SampleBody(plan=plan, at=(0, 0, 24)), on)
    assert with_rest.layers[-1].colour == without.layers[-1].colour
    assert with_rest.total_um == pytest.approx(without.total_um)
