"""Speed, measured as ratios within one run: `make bench`. Nothing here is asserted.

Seconds on a shared machine drift; the ratios hold. Each figure is a median unless it says so.
"""

from __future__ import annotations

import argparse
import itertools
import math
import resource
import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh
from scipy.optimize import nnls

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
sys.path.insert(0, str(Path(__file__).parents[1]))

from drag import browser, point, release
from figures import median, say
from laid_days import days
from learning import learning, windows
from screens_open import screens_open
from years import years

import shapes
from enumeration import every_mix
from haze.core.directions import Cone, fibonacci_directions, free_directions
from haze.core.film.finish import inside_film, outside_film, surface_of
from haze.core.film.kubelka_munk import film as film64
from haze.core.film.looks import encode_bytes
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import paint_optics
from haze.core.film.palette import Over, Palette
from haze.core.film.skin import add_coat, bare_skin, linear_rgb
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import decode_srgb, parse_hex, to_hex
from haze.core.light.angles import find_stations
from haze.core.light.atoms import Atoms, samples
from haze.core.light.lights import glow
from haze.core.light.stations import Station, deposit, direction_weights, lobe
from haze.core.light.visibility import mean_visibility, visibility_table
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.scene import OFFSET, origins_of, scene_of
from haze.core.onpiece.wanted import nearness
from haze.core.onpiece.whole_light import coat_by_coat
from haze.core.plan.document import Plan
from haze.core.plan.paint import APART
from haze.core.plan.piece import Piece
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.constants import PAINTS, usual_contrast
from haze.core.spray.model import RISKS, spray
from haze.core.spray.recipe import NoRecipe, find_recipe
from haze.core.spray.setting import make_setting
from haze.core.spray.tasks import SCHOOLS, TASKS
from haze.demo import saltgate
from haze.demo import shelf as club
from haze.demo.stand_ins import mesh_of
from haze.formats.meshes import read_mesh, write_stl
from haze.service.bench import Bench
from haze.service.light.angles import AnglesBody, fit_of, work_out
from haze.service.light.lights import PresetBody, lights_of
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.ready import piece_from
from haze.service.plan import plans
from haze.service.plan.findings import look_over
from haze.service.plan.whole import worked_out
from helpers import coat, plan, with_station


def shipped(stem: str) -> PreparedMesh:
    return prepare(mesh_of(stem), up="z", show="-y")


def light() -> OnPiece:
    mesh = shipped("warden")
    n = len(mesh.vertices)
    print(f"harbour warden: {n} vertices, {len(mesh.faces)} faces")
    begun = time.perf_counter()
    table = visibility_table(mesh)
    ours = time.perf_counter() - begun
    # the same rays through trimesh, a sample of the directions scaled up
    sample = fibonacci_directions()[::32]
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    solid.ray.intersects_any([[0, 0, 500]], [[0, 0, -1]])
    begun = time.perf_counter()
    for d in sample:
        facing = mesh.normals @ d > 0
        origins = mesh.vertices[facing] + OFFSET * mesh.normals[facing]
        solid.ray.intersects_any(origins, np.broadcast_to(d, origins.shape))
    theirs = (time.perf_counter() - begun) * len(fibonacci_directions()) / len(sample)
    say(
        "visibility, 512 directions, against intersects_any",
        f"{theirs / ours:.1f} x ({ours:.2f} s)",
        ">= 3 x",
    )
    station = Station(40, 45, 12)
    moved = median(lambda: deposit(table, station), 31)
    rows, _ = direction_weights(station)
    begun = time.perf_counter()
    visibility_table(mesh, directions=fibonacci_directions()[rows])
    traced = time.perf_counter() - begun
    say(
        "deposit of a moved station, against tracing it again",
        f"{traced / moved:.0f} x ({moved * 1e3:.2f} ms)",
        ">= 50 x",
    )
    target = np.empty((len(rows), n), dtype=np.uint8)
    copied = median(lambda: np.copyto(target, table[rows]), 31)
    say("deposit of one station, against copying its bytes", f"{moved / copied:.1f} x", "<= 8 x")
    scene = scene_of(mesh)
    at = np.array([0.0, -20.0, 0.0])
    near = median(
        lambda: glow(mesh, scene, shape="sphere", at=at, to=at, radius=2.0, reach=20.0), 7
    )
    say("near light recomputed, 16 points", f"{near * 1e3:.0f} ms", "<= 300 ms")
    directions = lobe(station, count=112)
    fresh = median(lambda: mean_visibility(scene, origins_of(mesh), mesh.normals, directions), 5)
    say("fresh rays for one station, 112 each", f"{fresh * 1e3:.0f} ms", "about 400 ms")
    piece = Piece(mesh="0" * 64, name="warden", height_mm=46)
    return OnPiece(piece_from(mesh, piece))


ANGLE_LIGHTS = ((55, 45, 6), (55, 45, 30), (0, 90, 20), (-40, 30, 60))
ANGLE_BOUNDS = {2: 2.0, 3: 1.45, 4: 1.25}


def wanted_film(
    table: np.ndarray, chosen: np.ndarray, given: tuple[float, float, float]
) -> np.ndarray:
    """A film [µm] that grows faster than the light, as white over black must."""
    return 8 * np.clip(deposit(table, Station(*given))[chosen], 0, 1) ** 2


def angles() -> None:
    """Few stations against dense least squares, in residual and in time."""
    made = {
        "warden": shipped("warden"),
        "lamp stair": shipped("lamp-stair"),
        "cross": shapes.prepared(shapes.cross()),
        "table": shapes.prepared(shapes.table()),
        "ball on plate": shapes.prepared(shapes.ball_on_plate()),
    }
    ratios: dict[int, list[float]] = {k: [] for k in ANGLE_BOUNDS}
    for name, mesh in made.items():
        table = visibility_table(mesh)
        chosen = samples(mesh.vertex_area, table.max(axis=0) > 0)
        rows = free_directions([Cone(0, -90, 30)])
        begun = time.perf_counter()
        atoms = Atoms(table, rows=rows, chosen=chosen)
        collected = time.perf_counter() - begun
        for given in ANGLE_LIGHTS:
            target = wanted_film(table, chosen, given)
            told = []
            for k in ANGLE_BOUNDS:
                begun = time.perf_counter()
                found = find_stations(atoms, target, stations=k)
                took = time.perf_counter() - begun
                ratio = found.residual / found.dense_residual
                ratios[k].append(ratio)
                told.append(f"k={k} {found.residual:.3f} ({ratio:.2f} x, {took * 1e3:.0f} ms)")
            print(f"  {name:<14} {given!s:<14} dense {found.dense_residual:.3f}  {'  '.join(told)}")
        if name == "warden":
            for given in ANGLE_LIGHTS:
                against_dense(atoms, wanted_film(table, chosen, given), given)
            say("stations to choose from, once per piece", f"{collected * 1e3:.0f} ms", "<= 600 ms")
    for k, bound in ANGLE_BOUNDS.items():
        say(
            f"residual of {k} stations against any number, median of {len(ratios[k])}",
            f"{statistics.median(ratios[k]):.2f} x",
            f"<= {bound} x",
        )


def against_dense(atoms: Atoms, target: np.ndarray, given: tuple[float, float, float]) -> None:
    """Three stations in the time of dense least squares; a narrow light is an easy one for it."""
    whole = atoms.lit.T.astype(float)
    begun = time.perf_counter()
    nnls(whole, target.astype(float), maxiter=20_000)
    dense = time.perf_counter() - begun
    few = median(lambda: find_stations(atoms, target, stations=3), rounds=5)
    say(
        f"angles, three stations for {given}, against dense least squares",
        f"1/{dense / few:.1f} of its time ({few * 1e3:.0f} ms)",
        "<= 1/5",
    )


def million() -> None:
    """A mesh of about a million triangles, a tenth of them flipped, from file to visibility."""
    balls = [
        trimesh.creation.icosphere(subdivisions=7, radius=r).apply_translation([x, 0, 0])
        for r, x in ((5, 0), (3, 7), (1, 0))
    ]
    solid = trimesh.util.concatenate(balls)
    faces = solid.faces.copy()
    flipped = np.random.default_rng(0).random(len(faces)) < 0.1
    faces[flipped] = faces[flipped][:, ::-1]
    data = write_stl(solid.vertices, faces)
    begun = time.perf_counter()
    mesh = prepare(read_mesh(data, name="million.stl")[1], up="z", show="-y")
    visibility_table(mesh)
    took = time.perf_counter() - begun
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20
    say(f"{len(faces):,} triangles, ready", f"{took:.0f} s, {most:.1f} GB in all", "<= 60 s, 3 GB")


def film(n: int) -> None:
    optics = [paint_optics(c, opacity="opaque") for c in ("#17181a", "#f3f2ec")] * 5
    rng = np.random.default_rng(5)
    um = rng.uniform(0, 6, n).astype(np.float32)

    def ours() -> None:
        inside = bare_skin("#8d8e8c", n).inside
        for paint in optics:
            inside = add_coat(inside, paint, um)
        encode_bytes(linear_rgb(inside, surface_of("matt")))

    def plain() -> None:
        inside = np.full((n, 12), 0.2)
        for paint in optics:
            inside = film64(paint.absorb_per_um, paint.scatter_per_um, inside, um[:, None])
        rgb_of(outside_film(inside, "matt").T)

    fast, slow = median(ours, 5), median(plain, 3)
    say(
        "film, ten coats, against plain float64 by rows",
        f"{slow / fast:.1f} x ({fast * 1e3:.0f} ms)",
        ">= 8 x",
    )


def window() -> None:
    pressure, parts = np.meshgrid(np.linspace(3, 35, 40), np.linspace(0.1, 5, 40))
    fixed = {"needle_mm": 0.3, "trigger": 0.4, "distance_mm": 60.0, "speed_mm_s": 100.0}

    def many() -> None:
        spray(
            make_setting(
                "white", thinner="water", thinner_parts=parts, pressure_psi=pressure, **fixed
            )
        )

    def single() -> None:
        spray(make_setting("white", thinner="water", thinner_parts=1.0, pressure_psi=20.0, **fixed))

    together, alone = median(many), median(single, 31)
    say(
        "window of 40 x 40 settings, against one at a time",
        f"{1600 * alone / together:.0f} x ({together * 1e3:.0f} ms)",
        ">= 100 x, <= 100 ms",
    )
    rng = np.random.default_rng(1)
    n = 10_000
    knobs = {
        "thinner_parts": rng.uniform(0, 4, n),
        "trigger": rng.uniform(0.1, 0.8, n),
        "pressure_psi": rng.uniform(5, 35, n),
        "distance_mm": rng.uniform(30, 120, n),
        "speed_mm_s": rng.uniform(40, 300, n),
    }
    setting = make_setting("white", thinner="acrylic_thinner", needle_mm=0.3, **knobs)
    say("10,000 settings", f"{median(lambda: spray(setting)) * 1e3:.0f} ms", "<= 400 ms")


def recipes() -> None:
    """Every paint over dark and light, task, school, needle and room: clean, or plainly none."""
    rooms = ((20.0, 50.0), (12.0, 70.0), (32.0, 25.0))
    sizes: dict[str, dict[str, float]] = {"line": {"line_mm": 1.0}, "speck": {"speck_mm": 0.5}}
    every = list(
        itertools.product(PAINTS, (8.0, 92.0), TASKS, SCHOOLS, (0.2, 0.3, 0.4, 0.5), rooms)
    )
    begun, clean, none, faulty = time.perf_counter(), 0, 0, 0
    for kind, ground, task, school, needle, (warm, damp) in every:
        found = find_recipe(
            kind,
            needle_mm=needle,
            task=task,
            school=school,
            temperature_c=warm,
            humidity_pct=damp,
            contrast=usual_contrast(kind, lightness=ground),
            **sizes.get(task, {}),
        )
        if isinstance(found, NoRecipe):
            none += 1
            continue
        again = spray(found.setting)
        names = [n for n in RISKS if n != "specks" or task != "speck"]
        ok = max(float(getattr(again, n)) for n in names) < CLEAN_BELOW
        clean, faulty = clean + ok, faulty + (not ok)
    each = (time.perf_counter() - begun) / len(every) * 1e3
    say(
        f"recipes for {len(every)} wishes, {each:.0f} ms each",
        f"{clean} clean, {none} none, {faulty} faulty",
        "0 faulty",
    )


def ten_coats(on: OnPiece) -> None:
    document = plan(*(coat(f"c{i}") for i in range(10)))
    colours(on, document, after=10, look="as_painted")
    taken = []
    for i in range(30):
        document = with_station(document, 4, azimuth_deg=(i * 5 + 2.5) % 360)
        begun = time.perf_counter()
        colours(on, document, after=10, look="as_painted")
        taken.append((time.perf_counter() - begun) * 1e3)
    worst = sorted(taken)[int(0.95 * len(taken))]
    say(
        "station moved in a ten-coat plan (coat 5), server",
        f"{statistics.median(taken):.0f} ms, p95 {worst:.0f} ms",
        "<= 60 ms",
    )


MIX_TARGETS = ("#7a8f5c", "#c04030", "#d8c8a0", "#204060", "#808080", "#5a3a70")
PLAIN_PAINTS = 24  # enumeration of all 120 would take minutes: it is timed on these and scaled up


def shelf_of_120() -> Palette:
    """The club's paints that mix, and mixes of neighbours as further ones, 120 in all."""
    have = [r for r in club.paints() if r.kind not in APART]
    colours = [(r.masstone, r.opacity, r.finish, r.drop_ul) for r in have]
    between = itertools.cycle(itertools.pairwise(have))
    while len(colours) < 120:
        a, b = next(between)
        mid = (decode_srgb(parse_hex(a.masstone)) + 2 * decode_srgb(parse_hex(b.masstone))) / 3
        colours.append((to_hex(mid), b.opacity, b.finish, a.drop_ul))
    return Palette.of(
        [paint_optics(c, opacity=o, finish=f) for c, o, f, _ in colours],
        drop=[d for *_, d in colours],
    )


def mixing() -> None:
    """Mixing backwards over 120 paints against plain enumeration, and the same optimum."""
    whole = shelf_of_120()
    few = Palette.of(whole.optics[:PLAIN_PAINTS], drop=whole.drop[:PLAIN_PAINTS])
    over = Over(inside_film(spectrum_of_hex("#23262a"), "matt"), 6.0)
    for what, ground in (("thick", None), ("film over a ground", over)):
        taken, worst = [], 0.0
        for target in MIX_TARGETS:
            rgb = decode_srgb(parse_hex(target))
            begun = time.perf_counter()
            nearest_mixes(rgb, whole, over=ground)
            taken.append(time.perf_counter() - begun)
            best, plain = (
                nearest_mixes(rgb, few, over=ground)[0],
                every_mix(rgb, few, over=ground)[0],
            )
            worst = max(worst, abs(best.distance - plain.distance))
        begun = time.perf_counter()
        every_mix(decode_srgb(parse_hex(MIX_TARGETS[0])), few, over=ground)
        # triples are nearly all there is to enumerate
        scaled = (time.perf_counter() - begun) * math.comb(120, 3) / math.comb(PLAIN_PAINTS, 3)
        middle = statistics.median(taken)
        say(
            f"mixing backwards, 120 paints, {what}, against enumeration",
            f"{scaled / middle:.0f} x ({middle:.2f} s, worst {max(taken):.2f} s)",
            ">= 8 x, <= 1 s",
        )
        say(
            f"the same optimum on {PLAIN_PAINTS} paints, {what}, off by at most",
            f"{worst:.0e}",
            "<= 1e-6",
        )


def one_colour_changed() -> None:
    """A paint's colour changed in the crawler's plan: the piece, then all that is told of it."""
    with tempfile.TemporaryDirectory() as folder:
        bench = Bench(Path(folder))
        saltgate.load(bench.db)
        found = next(p for p in plans.every(bench.db) if p.piece.startswith("Dredge"))
        plan = plans.open_plan(bench.db, found.id).plan
        bench.cache.make(plan.piece, lambda *_: True)
        on = bench.on(plan)
        count = len(plan.coats)
        colours(on, plan, after=count, look="as_painted")
        worked_out(plan, on)
        piece, told = [], []
        for i in range(12):
            plan = plan.model_copy(deep=True)
            fourth = plan.sprayed[3]
            fourth.paint = fourth.paint.model_copy(update={"masstone": f"#4b5a{30 + i:02x}"})
            begun = time.perf_counter()
            colours(on, plan, after=count, look="as_painted")
            piece.append((time.perf_counter() - begun) * 1e3)
            worked_out(plan, on)
            look_over(plan, on)
            told.append((time.perf_counter() - begun) * 1e3)
        bench.close()
    say(
        f"one colour changed in the crawler's {count} steps, the piece",
        f"{statistics.median(piece):.0f} ms",
        "<= 200 ms",
    )
    say(
        "all that is told of it, one thing after the other",
        f"{statistics.median(told):.0f} ms",
        "-",
    )


WHOLE_LIGHTS = ("noon", "shoulder", "stage")


def whole_light() -> None:
    """How near the demo's plans end to their light: as planned, coat by coat, and together."""
    with tempfile.TemporaryDirectory() as folder:
        bench = Bench(Path(folder))
        saltgate.load(bench.db)
        for row in plans.every(bench.db):
            plan = plans.open_plan(bench.db, row.id).plan
            bench.cache.make(plan.piece, lambda *_: True)
            on = bench.on(plan)
            one_light(plan, on, "its own light")
            for name in WHOLE_LIGHTS:
                lights = lights_of(PresetBody(plan=plan, preset=name), on).lights
                one_light(plan.model_copy(update={"lights": lights}), on, name)
        bench.close()


def one_light(plan: Plan, on: OnPiece, name: str) -> None:
    chosen = plan.light_coats()
    on.atoms(plan)
    fit = fit_of(plan, chosen, on, stations=3)
    ones = np.ones(fit.stack.places)

    def told(off: np.ndarray) -> str:
        near = nearness(off, weight=fit.weight, area=ones)
        return f"{near.mean:4.1f} L*, {near.show_share:4.0%} / {near.share:4.0%}"

    begun = time.perf_counter()
    single = coat_by_coat(fit)
    apart = time.perf_counter() - begun
    begun = time.perf_counter()
    found = work_out(AnglesBody(plan=plan), on, lambda *_: True)
    together = time.perf_counter() - begun
    solved = plan.model_copy(deep=True)
    for angles_of_coat in found.coats:
        coat = next(c for c in solved.sprayed if c.id == angles_of_coat.coat)
        coat.stations = angles_of_coat.stations
    on.deposits.refresh(on.deposits.coarse(solved), lambda *_: True)
    off, weight = on.off_plan(solved), on.place_weights(solved)
    whole = nearness(off, weight=weight, area=on.piece.mesh.vertex_area)
    assert found.before is not None
    was = found.before
    before = f"{was.mean:4.1f} L*, {was.show_share:4.0%} / {was.share:4.0%}"
    print(
        f"{plan.piece.name[:12]:12} {name:14} as planned {before} · coat by coat {told(single.off)}"
        f" ({apart:.1f} s) · together {whole.mean:4.1f} L*, {whole.show_share:4.0%} / "
        f"{whole.share:4.0%} ({together:.1f} s) · unsteady {found.unsteady_low:.0%} to "
        f"{found.unsteady_high:.0%}"
    )


def quick() -> None:
    """A few seconds of it, so that a test can tell that it starts and measures."""
    film(2_000)


def main() -> None:
    """Everything, or a few seconds of it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--quick", action="store_true", help="a few seconds of it")
    if parser.parse_args().quick:
        quick()
        return
    on = light()
    angles()
    whole_light()
    million()
    film(40_000)
    mixing()
    one_colour_changed()
    window()
    ten_coats(on)
    windows()
    recipes()
    learning()
    with tempfile.TemporaryDirectory() as folder:
        days(Path(folder))
    with tempfile.TemporaryDirectory() as folder:
        years(Path(folder) / "data")
        screens_open(Path(folder) / "data")
    browser(100, "ten a second")
    browser(0, "without pause")
    point()
    release()


if __name__ == "__main__":
    main()
