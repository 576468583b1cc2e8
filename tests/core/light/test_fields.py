"""The fields of aimed coats."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

import shapes
from haze.core.light import fields
from haze.core.light.stations import ambient
from haze.core.mesh.detail import FINE
from haze.core.mesh.surface import Surface


@pytest.fixture(scope="module")
def box() -> Surface:
    return Surface(shapes.prepared(trimesh.creation.box((20, 14, 10))))


def test_a_box_has_six_panels_that_are_full_in_their_middles(box: Surface) -> None:
    middles = fields.panel_middles(box, margin=3.0)
    scale = 100 / np.linalg.norm([20, 14, 10])
    top = box.mesh.normals[:, 2] > 0.99
    centre = top & (np.abs(box.mesh.vertices[:, :2]).max(axis=1) < 2 * scale)
    assert middles[centre].min() == pytest.approx(1.0)
    assert middles[box.inset < 0.2].max() < 0.2
    fit = fields.panel_fit(box, mm_per_unit=1 / scale, sigma_mm=2.0)
    # widths 10 (four sides) and 14 (top and bottom) against a spot of 8
    assert (fit.panels, fit.too_small, fit.spot_mm) == (6, 0, 8.0)
    assert fit.narrowest_mm == pytest.approx(10, rel=0.1)
    wide = fields.panel_fit(box, mm_per_unit=1 / scale, sigma_mm=3.0)
    assert wide.too_small == 4


def test_edges_that_face_up_are_found_and_no_others(box: Surface) -> None:
    edges = fields.upper_edges(box)
    z = box.mesh.vertices[:, 2]
    upper = (z > z.max() - 0.01) & (box.inset < 0.01)
    lower = (z < z.min() + 0.01) & (box.inset < 0.01)
    assert edges[upper].mean() > 0.5
    assert edges[lower].max() < 0.05
    assert edges[box.inset > 8].max() < 0.1


def test_recesses_are_where_little_is_seen() -> None:
    mesh, table = shapes.seen(shapes.cross(), detail=FINE)  # an inner edge is narrow
    field = fields.recesses(ambient(table))
    outer = np.abs(mesh.vertices).max(axis=1) > 0.99 * np.abs(mesh.vertices).max()
    inner = np.linalg.norm(mesh.vertices, axis=1) < 15
    seen = table.max(axis=0) > 0
    assert field[outer].max() < 0.05
    assert field[inner & seen].mean() > field[outer].mean() + 0.05


def test_a_ramp_rises_evenly_between_its_ends() -> None:
    points = np.array([[0, 0, -1], [0, 0, 0], [5, 0, 1], [0, 3, 2], [0, 0, 9]], dtype=np.float32)
    field = fields.ramp(points, start=np.array([0.0, 0, 0]), end=np.array([0.0, 0, 2]))
    assert field.tolist() == [0, 0, 0.5, 1, 1]
    back = fields.ramp(points, start=np.array([0.0, 0, 2]), end=np.array([0.0, 0, 0]))
    assert back == pytest.approx(1 - field)
    assert fields.ramp(points, start=np.zeros(3), end=np.zeros(3)).max() == 0


def test_near_a_part_fades_along_the_surface(box: Surface) -> None:
    z = box.mesh.vertices[:, 2]
    inside = z > z.max() - 0.01
    field = fields.near_part(box, inside, fade=6.0)
    assert field[inside].min() == 1.0
    below = z < z.max() - 8
    assert field[below].max() == 0.0
    assert 0 < field[~inside & ~below].mean() < 1
    assert np.array_equal(fields.near_part(box, inside, fade=0.0), inside.astype(np.float32))


def test_what_lands_is_limited_by_reach_and_by_the_part_that_is_there(box: Surface) -> None:
    n = len(box.mesh.vertices)
    sees = np.linspace(0, 1, n).astype(np.float32)
    only = np.arange(n) % 2 == 0
    none = np.zeros(n, np.float32)
    full = np.ones(n, np.float32)
    got = fields.landed(box, full, sigma=2.0, sees=sees, beside=none, members=only)
    assert got[~only].max() == 0
    assert np.all(got <= sees + 1e-6)
    past = fields.landed(box, none, sigma=2.0, sees=sees, beside=0.5 * full)
    assert past == pytest.approx(0.5 * sees)


def test_a_coat_round_a_glow_leaves_dark_what_is_hardly_lit() -> None:
    glow = np.array([0.0, 0.05, 0.08, 0.25, 1.0, 4.0], dtype=np.float32)
    field = fields.round_glow(glow)
    assert field[:3].tolist() == [0, 0, 0]
    assert 0 < field[3] < glow[3]
    assert field[4:].tolist() == [1, 1]
