from __future__ import annotations

from importlib import resources

import numpy as np
import pytest
import trimesh

from haze.core.light.mesh import MOST_VERTICES, prepare
from haze.demo import saltgate, warden
from haze.demo.solid import Solid, ellipsoid, limb
from haze.formats.meshes import read_mesh
from haze.service.bench import Bench


def test_a_solid_ball_has_the_volume_of_a_ball() -> None:
    s = Solid((-6, -6, -6), (6, 6, 6), 0.25)
    s.add(ellipsoid((0, 0, 0), (4, 4, 4)), (-5, -5, -5), (5, 5, 5), 0.0)
    v, f = s.mesh()
    solid = trimesh.Trimesh(v, f)
    assert solid.volume == pytest.approx(4 / 3 * np.pi * 64, rel=0.02)


def test_cutting_takes_away() -> None:
    s = Solid((-6, -6, -6), (6, 6, 6), 0.3)
    s.add(limb((-3, 0, 0), (3, 0, 0), 2, 2), (-6, -6, -6), (6, 6, 6), 0.0)
    v, f = s.mesh()
    whole = trimesh.Trimesh(v, f).volume
    s.cut(ellipsoid((0, 0, 2), (1, 1, 1)), (-3, -3, 0), (3, 3, 4))
    v, f = s.mesh()
    assert trimesh.Trimesh(v, f).volume < whole - 1


def test_the_shipped_warden_is_what_its_builder_makes() -> None:
    data = (resources.files("haze.demo") / saltgate.WARDEN_FILE).read_bytes()
    assert len(data) < 4 * 2**20
    _, shipped = read_mesh(data, name="warden.stl")
    built, _ = warden.build(0.2)
    for one, two in zip(
        (shipped.vertices.min(0), shipped.vertices.max(0)),
        (built.min(0), built.max(0)),
        strict=True,
    ):
        assert one == pytest.approx(two, abs=0.4)


def test_the_warden_prepares_to_a_piece_with_gradients() -> None:
    data = (resources.files("haze.demo") / saltgate.WARDEN_FILE).read_bytes()
    _, raw = read_mesh(data, name="warden.stl")
    piece = prepare(raw, up="z", show="-y")
    assert 38_000 <= len(piece.vertices) <= MOST_VERTICES
    assert float(piece.vertex_area.sum()) == pytest.approx(piece.raw_area, rel=0.01)


def test_loading_the_demo_twice_keeps_the_painters_changes(bench: Bench) -> None:
    from haze.service import plans

    first = saltgate.load(bench.db)
    changed = first.plan.model_copy(deep=True)
    changed.coats[1].stations[0].azimuth_deg = 123
    plans.save(bench.db, first.id, version=first.version, plan=changed, what="Mine")
    again = saltgate.load(bench.db)
    assert again.id == first.id
    assert again.plan == changed
    names = {c.name for c in again.plan.coats}
    assert names == {"Bilge Black", "Slate", "Tern White", "Lamp Amber"}
    elevations = [s.elevation_deg for s in again.plan.coats[0].stations]
    assert min(elevations) < 0 < max(elevations)
