"""Working out the angles: against dense least squares, brute force and hand-made cases."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import nnls

import shapes
from haze.core.directions import Cone, direction_of, free_directions
from haze.core.errors import CancelledError, HazeError, OutOfRangeError
from haze.core.light.angles import find_share, find_stations
from haze.core.light.atoms import Atoms, samples
from haze.core.light.fit import best_pair
from haze.core.light.stations import Station, deposit
from haze.core.light.visibility import visibility_table
from haze.core.mesh.detail import COARSE
from haze.core.mesh.prepare import prepare
from haze.demo.stand_ins import mesh_of

HANDLE = Cone(0, -90, 35)


LIGHTS = {
    "hard from the shoulder": (55, 45, 6),
    "soft from the shoulder": (55, 45, 30),
    "noon": (0, 90, 20),
    "wide": (-40, 30, 60),
}


BOUND = {2: 2.0, 3: 1.45, 4: 1.25}


def shipped(stem: str):  # type: ignore[no-untyped-def]
    return prepare(mesh_of(stem), up="z", show="-y", detail=COARSE)


@pytest.fixture(scope="module")
def pieces() -> dict[str, tuple[np.ndarray, np.ndarray, Atoms]]:
    """Table, samples and atoms of the warden, the lamp stair and three shapes."""
    meshes = {
        "warden": prepare(mesh_of("warden"), up="z", show="-y"),  # one at full size
        "lamp stair": shipped("lamp-stair"),
        "cross": shapes.prepared(shapes.cross()),
        "table": shapes.prepared(shapes.table()),
        "ball on a plate": shapes.prepared(shapes.ball_on_plate()),
    }
    out = {}
    for name, mesh in meshes.items():
        table = visibility_table(mesh)
        chosen = samples(mesh.vertex_area, table.max(axis=0) > 0, count=1500)
        out[name] = (table, chosen, Atoms(table, rows=free_directions([HANDLE]), chosen=chosen))
    return out


def wanted_film(table: np.ndarray, chosen: np.ndarray, light: tuple[float, float, float]):  # type: ignore[no-untyped-def]
    """A film [µm] that grows faster than the light, as white over black must."""
    return 8 * np.clip(deposit(table, Station(*light))[chosen], 0, 1) ** 2


@pytest.mark.parametrize("stations", BOUND)
def test_few_stations_come_near_to_any_number(pieces, stations: int) -> None:  # type: ignore[no-untyped-def]
    ratios = []
    for (table, chosen, atoms), light in itertools.product(pieces.values(), LIGHTS.values()):
        target = wanted_film(table, chosen, light)
        found = find_stations(atoms, target, stations=stations)
        assert 1 <= len(found.stations) <= stations
        assert found.residual >= found.dense_residual - 1e-6
        ratios.append(found.residual / found.dense_residual)
    assert float(np.median(ratios)) <= BOUND[stations]


def test_more_stations_are_never_worse(pieces) -> None:  # type: ignore[no-untyped-def]
    table, chosen, atoms = pieces["warden"]
    target = wanted_film(table, chosen, LIGHTS["wide"])
    residuals = [find_stations(atoms, target, stations=k).residual for k in (1, 2, 3, 4)]
    assert residuals == sorted(residuals, reverse=True)


def test_the_dense_fit_is_the_one_of_the_library(pieces) -> None:  # type: ignore[no-untyped-def]
    table, chosen, atoms = pieces["cross"]
    target = wanted_film(table, chosen, LIGHTS["noon"])
    _, left = nnls(atoms.lit.T.astype(float), target.astype(float), maxiter=10_000)
    found = find_stations(atoms, target, stations=2)
    assert found.dense_residual == pytest.approx(left / np.linalg.norm(target), rel=2e-3)


def test_two_stations_equal_brute_force_over_all_pairs(pieces) -> None:  # type: ignore[no-untyped-def]
    table, chosen, atoms = pieces["table"]
    keep = np.arange(0, len(atoms.lit), 17)
    lit = atoms.lit[keep].astype(float)
    target = wanted_film(table, chosen, LIGHTS["soft from the shoulder"]).astype(float)
    best = min(
        nnls(lit[list(pair)].T, target)[1] for pair in itertools.combinations(range(len(keep)), 2)
    )
    pair = best_pair(lit @ lit.T, lit @ target)[0]
    assert nnls(lit[list(pair)].T, target)[1] == pytest.approx(best, rel=1e-9)


def test_the_light_itself_is_found_when_it_is_among_the_stations(ball_table: np.ndarray) -> None:
    area = np.ones(ball_table.shape[1], dtype=np.float32)
    chosen = samples(area, np.ones(len(area), dtype=bool), count=800)
    light = Station(33.0, 41.0, 26.0)
    atoms = Atoms(ball_table, rows=free_directions([]), chosen=chosen, also=[light])
    found = find_stations(atoms, 0.7 * deposit(ball_table, light)[chosen], stations=2)
    assert found.stations[0].station == light
    assert sum(s.passes for s in found.stations) == pytest.approx(0.7, abs=0.01)
    assert found.residual < 1e-3


sector = st.builds(Cone, st.floats(0, 359), st.floats(-90, 90), st.floats(5, 100))


@settings(max_examples=12, deadline=None)
@given(st.lists(sector, max_size=3), st.floats(0, 359), st.floats(-60, 90))
def test_no_station_stands_in_a_blocked_sector(
    ball_table: np.ndarray, sectors: list[Cone], azimuth: float, elevation: float
) -> None:
    chosen = np.arange(0, ball_table.shape[1], 40)
    rows = free_directions(sectors)
    target = deposit(ball_table, Station(azimuth, elevation, 20))[chosen]
    if not len(rows):
        with pytest.raises(HazeError, match="blocked"):
            Atoms(ball_table, rows=rows, chosen=chosen)
        return
    found = find_stations(Atoms(ball_table, rows=rows, chosen=chosen), target, stations=3)
    for station in found.stations:
        d = direction_of(station.station.azimuth_deg, station.station.elevation_deg)
        for s in sectors:
            middle = direction_of(s.azimuth_deg, s.elevation_deg)
            angle = np.degrees(np.arccos(np.clip(float(d @ middle), -1, 1)))
            assert angle >= s.half_angle_deg - 1e-6


@pytest.mark.parametrize("wanted", [0.1, 0.2, 0.33, 0.5])
def test_a_coat_that_covers_a_share_reaches_it(pieces, wanted: float) -> None:  # type: ignore[no-untyped-def]
    table, chosen, atoms = pieces["ball on a plate"]
    toward = deposit(table, Station(40, 50, 20))[chosen]
    stations, share = find_share(atoms, wanted=wanted, toward=toward)
    assert share == pytest.approx(wanted, abs=0.05)
    landed = sum(deposit(table, s.station) for s in stations)
    assert float((landed[chosen] >= 0.5).mean()) == pytest.approx(share, abs=1e-6)


def test_weighting_leaves_out_what_does_not_matter(pieces) -> None:  # type: ignore[no-untyped-def]
    table, chosen, atoms = pieces["cross"]
    value = deposit(table, Station(20, 40, 12))[chosen]
    weight = (np.arange(len(chosen)) % 2 == 0).astype(np.float32)
    spoilt = np.where(weight > 0, value, 5.0).astype(np.float32)
    found = find_stations(atoms.weighted(weight), spoilt * weight, stations=3)
    clean = find_stations(atoms.weighted(weight), value * weight, stations=3)
    assert found == clean


def test_refusals_say_what_to_do(ball_table: np.ndarray) -> None:
    chosen = np.arange(0, ball_table.shape[1], 60)
    atoms = Atoms(ball_table, rows=free_directions([]), chosen=chosen)
    with pytest.raises(HazeError, match="reaches nothing"):
        find_stations(atoms, np.zeros(len(chosen), dtype=np.float32), stations=2)
    with pytest.raises(OutOfRangeError, match="stations is 5"):
        find_stations(atoms, np.ones(len(chosen), dtype=np.float32), stations=5)
    with pytest.raises(CancelledError):
        find_stations(
            atoms, np.ones(len(chosen), dtype=np.float32), stations=3, progress=lambda _: False
        )
    with pytest.raises(HazeError, match="seen from outside"):
        samples(np.ones(4, dtype=np.float32), np.zeros(4, dtype=bool))


def test_the_brightest_station_of_a_ball_faces_the_light() -> None:
    piece, table = shapes.seen(trimesh.creation.icosphere(subdivisions=3))
    chosen = samples(piece.vertex_area, np.ones(len(piece.vertices), dtype=bool), count=900)
    atoms = Atoms(table, rows=free_directions([]), chosen=chosen)
    target = np.maximum(piece.normals[chosen] @ direction_of(70, 30), 0).astype(np.float32)
    found = find_stations(atoms, target, stations=1).stations[0].station
    toward = direction_of(found.azimuth_deg, found.elevation_deg)
    assert np.degrees(np.arccos(toward @ direction_of(70, 30))) < 8
    assert found.spread_deg == 8.0
