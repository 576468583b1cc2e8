"""Spray beside what it is aimed at: Gaussian tails on a plane, across a gap, never behind."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.light.overspray import beside, halo, tail

SIDE = np.arange(-60.0, 60.5, 1.0)
X, Y = (a.ravel() for a in np.meshgrid(SIDE, SIDE))


def plane(z: float = 0.0, *, up: bool = True) -> tuple[np.ndarray, np.ndarray]:
    points = np.stack([X, Y, np.full_like(X, z)], axis=1).astype(np.float32)
    normals = np.zeros_like(points)
    normals[:, 2] = 1.0 if up else -1.0
    return points, normals


AREA = np.ones(len(X), dtype=np.float32)
HALF = (X < 0).astype(np.float32)  # the half plane, its edge at x = −0.5
ALONG = (np.abs(Y) < 0.1) & (np.abs(X) < 28)


@pytest.mark.parametrize("sigma", [3.0, 6.0, 12.0])
def test_beside_a_half_plane_lies_the_gaussian_tail(sigma: float) -> None:
    points, normals = plane()
    got = beside(points, normals, HALF, area=AREA, sigma=sigma)[ALONG]
    assert got == pytest.approx(tail(X[ALONG] + 0.5, sigma=sigma), abs=0.025)
    mist = halo(points, HALF, area=AREA, sigma=sigma)[ALONG]
    assert mist == pytest.approx(got, abs=1e-5), "on one plane they are the same Gaussian"


def test_the_tail_is_one_inside_half_at_the_edge_and_a_sixth_at_one_sigma() -> None:
    assert tail(np.array([-50.0, 0.0, 4.0, 50.0]), sigma=4.0) == pytest.approx(
        [1.0, 0.5, 0.158655, 0.0], abs=1e-5
    )


def test_it_crosses_a_gap_and_not_a_wall() -> None:
    # a shelf aimed at, its underside, and a face that stands at its end
    top, up = plane(0.0)
    under, down = plane(-1.5, up=False)
    points, normals = np.concatenate([top, under]), np.concatenate([up, down])
    area = np.concatenate([AREA, AREA])
    aimed = np.concatenate([HALF, np.zeros_like(HALF)])
    got = beside(points, normals, aimed, area=area, sigma=4.0)
    assert got[len(X) :].max() == 0.0, "the underside faces away from the jet"
    mist = halo(points, aimed, area=area, sigma=4.0)
    assert mist[len(X) :].max() > 0.5, "mist settles there all the same"
    shelf = top + np.array([0, 0, 3], dtype=np.float32)
    near = beside(
        np.concatenate([top, shelf]), np.concatenate([up, up]), aimed, area=area, sigma=4.0
    )
    across = near[len(X) :][ALONG & (X < -20)]
    assert across == pytest.approx(np.exp(-0.5 * (3 / 4) ** 2), abs=0.06)


def test_a_slope_gets_its_cosine() -> None:
    points, normals = plane()
    tilt = np.radians(60.0)
    normals = normals.copy()
    normals[X > 3] = [0.0, np.sin(tilt), np.cos(tilt)]
    flat = beside(*plane(), HALF, area=AREA, sigma=6.0)
    sloped = beside(points, normals, HALF, area=AREA, sigma=6.0)
    at = ALONG & (X > 3) & (X < 12)
    assert sloped[at] == pytest.approx(0.5 * flat[at], rel=1e-4)


def test_nothing_aimed_at_lands_nowhere_and_inputs_stay() -> None:
    points, normals = plane()
    before = points.copy(), normals.copy(), HALF.copy()
    assert beside(points, normals, 0 * HALF, area=AREA, sigma=5.0).max() == 0.0
    beside(points, normals, HALF, area=AREA, sigma=5.0)
    assert all(np.array_equal(a, b) for a, b in zip(before, (points, normals, HALF), strict=True))
    wider = [halo(points, HALF, area=AREA, sigma=s)[ALONG & (X == 8)][0] for s in (2.0, 5.0, 9.0)]
    assert wider == sorted(wider)
