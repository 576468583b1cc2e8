"""Where brush steps and washes leave paint."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.light.brush import SKIPPED, STREAKED, chips, dry_brushed, settled, streaks
from haze.core.light.fields import upper_edges
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.surface import Surface


def test_a_wash_keeps_its_volume_and_gathers_where_it_is_deep() -> None:
    rng = np.random.default_rng(2)
    um = np.full(500, 4.0, dtype=np.float32)
    cavity, area = (rng.uniform(0.1, 1, 500).astype(np.float32) for _ in range(2))
    before = um.copy()
    ran = settled(um, cavity=cavity, area=area, gathers=3.0)
    assert float((area * ran).sum()) == pytest.approx(float((area * um).sum()), rel=1e-5)
    assert ran[np.argmax(cavity)] > 4.0 > ran[np.argmin(cavity)]
    # twice as deep: 1 + 3 against 1 + 0
    pair = settled(
        np.full(2, 1.0, np.float32),
        cavity=np.array([0, 1], np.float32),
        area=np.ones(2, np.float32),
        gathers=3.0,
    )
    assert pair[1] / pair[0] == pytest.approx(4.0)
    assert np.array_equal(um, before)


@pytest.fixture(scope="module")
def crate() -> Surface:
    """A box on its face: four upright sides, sharp upper edges, a flat top."""
    box = trimesh.creation.box((30, 30, 24))
    raw = RawMesh(np.asarray(box.vertices, dtype=float), box.faces.astype(np.int32))
    return Surface(prepare(raw, up="z", show="-y"))


def test_chips_gather_on_upper_edges_and_are_few_on_flats(crate: Surface) -> None:
    share = chips(crate)
    edge = upper_edges(crate) > 0.8
    flat = upper_edges(crate) < 0.02
    assert share[edge].mean() > 15 * share[flat].mean() > 0
    assert 0 <= share.min() <= share.max() <= 0.9
    # some edges are worn more than others, none all the way
    assert np.quantile(share[edge], 0.9) > 2 * np.quantile(share[edge], 0.1)
    assert 0.15 < share[edge].mean() < 0.6


def test_streaks_run_on_upright_faces_only(crate: Surface) -> None:
    share = streaks(crate)
    up = crate.mesh.normals[:, 2]
    assert share[up > 0.9].max() == 0
    assert 0.5 * STREAKED < share[np.abs(up) < 0.1].mean() < 1.5 * STREAKED


def test_a_dry_brush_skips_some_of_each_edge(crate: Surface) -> None:
    share, edge = dry_brushed(crate), upper_edges(crate)
    assert share == pytest.approx((1 - SKIPPED) * edge, abs=1e-6)
