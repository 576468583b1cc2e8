"""The colours a scheme was asked for, on the piece."""

from __future__ import annotations

import numpy as np

from haze.core.film.srgb import linear_of_hex
from haze.core.plan.document import Asked, Plan
from haze.service.piece.asked import guide, off_colour, off_colour_of, wanted_on
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece


def asked_for(plan: Plan, colour: str, coats: int) -> tuple[Plan, Asked]:
    asked = Asked(colours=(colour,))
    return plan.model_copy(update={"coats": plan.coats[:coats], "asked": asked}), asked


def test_wanted_colours_run_from_shade_to_light(lantern: Plan, on_lantern: OnPiece) -> None:
    plan, asked = asked_for(lantern, "#2f7a3a", 1)
    wanted = wanted_on(on_lantern, plan, asked)
    value = on_lantern.lit.value(plan)
    assert wanted.shape == (on_lantern.piece.size, 3)
    dark, light = wanted[value.argmin()].sum(), wanted[value.argmax()].sum()
    assert dark < linear_of_hex("#2f7a3a").sum() < light


def test_a_gradient_may_follow_the_piece_instead_of_the_light(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    mesh = on_lantern.piece.mesh
    by_height = guide(on_lantern, lantern, "height")
    across = guide(on_lantern, lantern, "across")
    facing = guide(on_lantern, lantern, "facing")
    for way, axis in ((by_height, 2), (across, 0)):
        order = np.argsort(mesh.vertices[:, axis])
        assert way[order[0]] == 0
        assert way[order[-1]] == 1
        assert (np.diff(way[order]) >= -1e-6).all()
    assert facing[mesh.normals[:, 2].argmax()] > 0.95
    assert facing[mesh.normals[:, 2].argmin()] < 0.05
    asked = Asked(colours=("#1f4fa0", "#e0a818"), along="height")
    wanted = wanted_on(on_lantern, lantern, asked)
    assert wanted[by_height == 0, 2].min() > wanted[by_height == 0, 0].max()
    assert wanted[by_height == 1, 0].min() > wanted[by_height == 1, 2].max()


def test_how_far_a_plan_ends_from_what_was_asked(lantern: Plan, on_lantern: OnPiece) -> None:
    ground = lantern.coats[0]
    assert ground.kind == "spray"
    near, own = asked_for(lantern, ground.paint.masstone, 1)
    far, cyan = asked_for(lantern, "#12e0ff", 1)
    close, apart = (
        off_colour_of(on_lantern, near),
        off_colour_of(on_lantern, far),
    )
    assert close is not None
    assert apart is not None
    assert close.mean < 12 < apart.mean
    assert close.share > 0.3 > apart.share
    assert f"Close to what you asked on {close.share:.0%} of the front" in close.words
    assert apart.words.endswith("the rest is darker.")
    everywhere = off_colour(on_lantern, far, cyan)
    assert everywhere.min() > 15
    assert np.median(off_colour(on_lantern, near, own)) < np.median(everywhere)
    assert off_colour_of(on_lantern, lantern) is None
    bare = far.model_copy(update={"coats": []})
    assert off_colour_of(on_lantern, bare) is None


def test_looks_show_what_is_wanted_and_where_it_is_missed(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    plan, _ = asked_for(lantern, "#2f7a3a", 3)
    wanted = colours(on_lantern, plan, after=3, look="colour_wanted")
    green = wanted.astype(int)
    assert (green[:, 1] > green[:, 0]).mean() > 0.9
    missed = colours(on_lantern, plan, after=3, look="off_colour")
    assert (missed[:, 0] == missed[:, 1]).all()
    hit, _ = asked_for(lantern, "#e8e6e0", 3)
    assert colours(on_lantern, hit, after=3, look="off_colour").mean() > missed.mean()
    painted = colours(on_lantern, lantern, after=3, look="as_painted")
    assert np.array_equal(colours(on_lantern, lantern, after=3, look="off_colour"), painted)
