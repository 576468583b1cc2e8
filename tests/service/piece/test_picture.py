"""All that the browser draws a look from."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.srgb import decode_srgb
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.core.plan.texture import MOST_TEXTURES
from haze.service.piece.looks import Look, colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.picture import Layout, broken_up, drawn, glossiness


def by_hand(plan: Plan, *roles: str) -> Plan:
    """The plan, and steps by hand on top."""
    paint = plan.sprayed[-1].paint
    steps = [
        HandStep.model_validate({"id": f"hand-{i}", "name": role, "role": role, "paint": paint})
        for i, role in enumerate(roles)
    ]
    return plan.model_copy(update={"coats": [*plan.coats, *steps]})


def parted(data: bytes, layout: Layout, vertices: int) -> dict[str, np.ndarray]:
    """The bytes by what they are."""
    flat = np.frombuffer(data, dtype=np.uint8)
    out = {"colour": flat[: 3 * vertices].reshape(-1, 3)}
    at = 3 * vertices
    for name in ("metal", "gloss"):
        if getattr(layout, name):
            out[name] = flat[at : at + vertices]
            at += vertices
    for k in range(len(layout.textures)):
        out[f"over{k}"] = flat[at : at + 4 * vertices].reshape(-1, 4)
        at += 4 * vertices
    assert at == len(flat)
    return out


def test_a_look_without_textures_is_its_colours(lantern: Plan, on_lantern: OnPiece) -> None:
    look: Look
    for look in ("reach", "still_bare", "this_coat", "off_plan"):
        data, layout = drawn(on_lantern, lantern, after=3, look=look, fine=True)
        assert data == colours(on_lantern, lantern, after=3, look=look).tobytes()
        assert not layout.textures
        assert not layout.gloss
    data, layout = drawn(on_lantern, lantern, after=99, look="value", fine=True)
    end = len(lantern.coats)
    assert data == colours(on_lantern, lantern, after=end, look="value").tobytes()


@pytest.mark.parametrize("role", ["chips", "streaks", "dry_brush"])
def test_gaps_and_patches_together_are_the_mean(
    role: str, lantern: Plan, on_lantern: OnPiece
) -> None:
    plan = by_hand(lantern, role)
    end, size = len(plan.coats), on_lantern.piece.size
    data, layout = drawn(on_lantern, plan, after=end, look="as_painted", fine=True)
    fine = parted(data, layout, size)
    coarse, plain = drawn(on_lantern, plan, after=end, look="as_painted", fine=False)
    assert not plain.textures
    assert [t.pattern for t in layout.textures] == [
        {"chips": "flakes", "streaks": "runs", "dry_brush": "skips"}[role]
    ]
    share = fine["over0"][:, 3:] / 255
    assert 0.2 < share.max() <= 1
    gap, patch = (decode_srgb(fine[k][:, :3] / 255) for k in ("colour", "over0"))
    mean = decode_srgb(parted(coarse, plain, size)["colour"] / 255)
    # surfaces are mixed inside the binder, so near enough is a few bytes of light
    assert np.abs(gap + (patch - gap) * share - mean).max() < 0.03
    below = colours(on_lantern, lantern, after=end - 1, look="as_painted")
    assert np.array_equal(fine["colour"], below), "beside the patches lies nothing of it"


def test_the_topmost_are_visibly_changed_and_the_others_by_their_mean(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    plan = by_hand(lantern, "dry_brush", "streaks", "chips", "wash")
    end = len(plan.coats)
    broken = broken_up(on_lantern, plan, end)
    assert [b.step for b in broken] == [end - 3, end - 2, end - 1]
    assert len(broken) == MOST_TEXTURES
    _, layout = drawn(on_lantern, plan, after=end - 1, look="as_painted", fine=True)
    assert [t.pattern for t in layout.textures] == ["skips", "runs", "flakes"]
    assert layout.textures[1].long > 5 > layout.textures[2].long
    # a chip of .9 mm, in units of the piece
    scale = on_lantern.piece.mesh.mm_per_unit(plan.piece.height_mm)
    assert layout.textures[2].size * scale == pytest.approx(0.9)


def test_a_wash_lies_between_its_film_on_flats_and_in_recesses(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    plan = by_hand(lantern, "wash")
    (wash,) = broken_up(on_lantern, plan, len(plan.coats))
    film = on_lantern.step_film(plan, len(plan.coats) - 1)
    mean = wash.without + (wash.within - wash.without) * wash.share
    assert mean == pytest.approx(film, rel=1e-4)
    assert wash.share == pytest.approx(1 - on_lantern.piece.openness, abs=1e-6)


def test_gloss_is_told_by_the_finish_on_top(lantern: Plan, on_lantern: OnPiece) -> None:
    assert glossiness(np.array([0.04, 0.03, 0.012, 0.003], dtype=np.float32)) == pytest.approx(
        [0, 0, 2 / 3, 1], abs=1e-6
    )
    data, layout = drawn(on_lantern, lantern, after=2, look="as_painted", fine=False)
    assert layout.gloss
    assert not layout.metal
    surface = on_lantern.below(lantern, 2).surface
    told = parted(data, layout, on_lantern.piece.size)["gloss"]
    assert told == pytest.approx(np.round(255 * glossiness(surface)), abs=1)


def test_splats_are_drawn_only_where_they_are_seen(lantern: Plan, on_lantern: OnPiece) -> None:
    light = lantern.light_coats()[-1]

    def textures(**knobs: float) -> list[str]:
        plan = lantern.model_copy(deep=True)
        coat = plan.sprayed[light]
        coat.spray = coat.spray.model_copy(update=knobs)
        told = broken_up(on_lantern, plan, light + 1)
        return [b.texture.pattern for b in told if b.step == light]

    assert textures() == []
    coarse = {"pressure_psi": 4.0, "thinner_parts": 2.0, "trigger": 0.8, "distance_mm": 120.0}
    assert textures(**coarse) == ["dots"]
    # as large, but so many that they close to a film: no speck is seen
    closed = {"pressure_psi": 18.0, "thinner_parts": 2.0, "trigger": 0.9, "distance_mm": 60.0}
    assert textures(**closed) == []
