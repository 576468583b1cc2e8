from __future__ import annotations

import io
import json
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest
import trimesh

from begun import begun
from haze import cli
from haze.service.piece.meshes import add_mesh
from haze.service.plan.start import NewPlan
from helpers import coarse

ASSESS = {
    "paint": {"kind": "brush_acrylic"},
    "thinner": "acrylic_thinner",
    "thinner_parts": 1.0,
    "needle_mm": 0.2,
    "trigger": 0.15,
    "pressure_psi": 6,
    "distance_mm": 40,
    "speed_mm_s": 60,
    "room": {"temperature_c": 20, "humidity_pct": 50},
    "additives": [{"kind": "flow_aid", "parts": 0.1}],
    "passes": 1,
    "rest_s": 0,
    "blown": False,
}


def run(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], *args: str, given: object
) -> tuple[int, str, str]:
    text = given if isinstance(given, str) else json.dumps(given)
    monkeypatch.setattr(sys, "stdin", io.StringIO(text))
    code = cli.main(list(args))
    out = capsys.readouterr()
    return code, out.out, out.err


def test_assess_has_its_fields(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, _ = run(monkeypatch, capsys, "assess", given=ASSESS)
    assert code == 0
    told = json.loads(out)
    assert {
        "viscosity_mpa_s",
        "air_l_min",
        "flow_ml_min",
        "droplet_um",
        "footprint_mm",
        "wet_film_um",
        "dry_film_um",
        "risks",
        "verdict",
        "limiting",
        "advice",
        "touch_dry_s",
        "tip_dry_min",
    } <= set(told)
    assert set(told["risks"]) == {"spiders", "specks", "dust", "no_flow"}
    assert told["verdict"] == "clean"
    assert told["limiting"] is None
    assert told["advice"] == []
    assert told["footprint_mm"] == pytest.approx(11.2)


def test_assess_advises_with_from_and_to(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    wild = ASSESS | {"thinner_parts": 4, "pressure_psi": 30, "trigger": 0.6}
    _, out, _ = run(monkeypatch, capsys, "assess", given=wild)
    advice = json.loads(out)["advice"]
    assert advice
    assert {"knob", "from", "to", "why"} <= set(advice[0])


@pytest.mark.parametrize(
    ("given", "words"),
    [
        (ASSESS | {"needle_mm": 9}, "needle_mm is 9: Input should be less than or equal to 1"),
        (ASSESS | {"thinner": "spirit"}, "spoils brush_acrylic; accepted are water"),
        (ASSESS | {"paint": {"kind": "soup"}}, "paint.kind is"),
        ("", "Invalid JSON"),
        ("[1", "Invalid JSON"),
        (ASSESS | {"colour": 1}, "colour"),
    ],
)
def test_bad_input_is_one_sentence_and_exit_2(
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    given: object,
    words: str,
) -> None:
    code, out, err = run(monkeypatch, capsys, "assess", given=given)
    assert (code, out) == (2, "")
    assert words in err
    assert len(err.strip().split("\n")) == 1


def test_recipe_can_be_assessed_and_is_clean(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    ask = {"paint": {"kind": "white"}, "needle_mm": 0.3, "task": "light", "school": "middle"}
    file = tmp_path / "ask.json"
    file.write_text(json.dumps(ask))
    code, out, _ = run(monkeypatch, capsys, "recipe", "--in", str(file), given="")
    assert code == 0
    recipe = json.loads(out)
    assert [line["what"] for line in recipe["cup"]] == ["acrylic_thinner", "white"]
    assert recipe["margins"]["pressure_psi"][0] <= recipe["pressure_psi"]
    assert recipe["passes_low"] <= recipe["passes"] <= recipe["passes_high"]
    _, out, _ = run(monkeypatch, capsys, "assess", given=recipe)
    assert json.loads(out)["verdict"] == "clean"


def test_recipe_says_why_there_is_none(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    ask = {
        "paint": {"kind": "ink"},
        "needle_mm": 0.5,
        "task": "line",
        "school": "brisk",
        "line_mm": 0.1,
    }
    code, out, _ = run(monkeypatch, capsys, "recipe", given=ask)
    assert code == 0
    assert set(json.loads(out)) == {"none", "change"}


def test_film_gives_a_colour_after_each_coat(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    given = {
        "ground": "#0c0c0d",
        "coats": [
            {"masstone": "#f2c200", "opacity": "opaque", "dry_film_um": 6.0},
            {"masstone": "#f2c200", "opacity": "opaque", "dry_film_um": 500.0},
        ],
    }
    _, out, _ = run(monkeypatch, capsys, "film", given=given)
    colours = json.loads(out)["colours"]
    assert len(colours) == 2
    assert colours[1][:5] == "#f2c2"


def test_reach_of_a_cone(
    tmp_path: Path, cone_stl: bytes, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "cone.stl"
    file.write_bytes(cone_stl)
    assert cli.main(["reach", str(file), "--height-mm", "25"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["area_cm2"] == pytest.approx(11.6, rel=0.02)
    assert told["reachable_share"] > 0.999
    assert told["bare_area_cm2"] < 0.02
    assert [p["name"] for p in told["parts"]] == ["Whole piece"]
    assert told["parts"][0]["area_cm2"] == pytest.approx(told["area_cm2"], rel=0.01)


def test_reach_tells_each_body_of_a_mesh(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    balls = [trimesh.creation.icosphere(radius=r) for r in (6, 4)]
    balls[1].apply_translation([14, 0, 0])
    file = tmp_path / "two.ply"
    file.write_bytes(trimesh.util.concatenate(balls).export(file_type="ply"))
    assert cli.main(["reach", str(file), "--height-mm", "12"]) == 0
    parts = json.loads(capsys.readouterr().out)["parts"]
    assert [p["name"] for p in parts] == ["Part 1", "Part 2"]
    # surfaces of balls of 6 and 4 mm
    assert [p["area_cm2"] for p in parts] == pytest.approx([4.52, 2.01], rel=0.03)


def test_angles_find_the_light_on_a_cone(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], cone_stl: bytes
) -> None:
    file = tmp_path / "cone.stl"
    file.write_bytes(cone_stl)
    ask = ["angles", str(file), "--height-mm", "25", "--light", "70,30", "--softness", "20"]
    assert cli.main([*ask, "--stations", "2"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert set(told) == {"stations", "residual", "dense_residual"}
    assert 1 <= len(told["stations"]) <= 2
    first = told["stations"][0]
    assert set(first) == {"azimuth_deg", "elevation_deg", "spread_deg", "passes"}
    assert (first["azimuth_deg"], first["elevation_deg"], first["spread_deg"]) == (70, 30, 20)
    assert told["dense_residual"] <= told["residual"] < 0.05


@pytest.mark.parametrize(
    ("more", "words"),
    [
        (["--stations", "9"], "stations is 9; accepted is 1 to 4"),
        (["--softness", "0"], "softness_deg is 0"),
        (["--light", "10,99"], "elevation_deg is 99"),
    ],
)
def test_angles_refuse_what_is_no_light(
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    cone_stl: bytes,
    more: list[str],
    words: str,
) -> None:
    file = tmp_path / "cone.stl"
    file.write_bytes(cone_stl)
    assert cli.main(["angles", str(file), "--height-mm", "25", *more]) == 2
    assert words in capsys.readouterr().err


def test_reach_refuses_what_is_no_mesh(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "page.stl"
    file.write_text("<html>")
    assert cli.main(["reach", str(file), "--height-mm", "25"]) == 2
    assert "web page" in capsys.readouterr().err
    assert cli.main(["reach", str(tmp_path / "none.stl"), "--height-mm", "25"]) == 2
    assert "cannot be read" in capsys.readouterr().err
    file.write_bytes(b"")
    assert cli.main(["reach", str(file), "--height-mm", "0"]) == 2


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def run_with(
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    given: object,
    *arguments: str,
) -> tuple[int, str, str]:
    monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps(given)))
    code = cli.main(list(arguments))
    return code, *capsys.readouterr()


def test_a_list_of_settings_gives_a_list(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    both = [ASSESS, ASSESS | {"pressure_psi": 25}]
    code, out, _ = run_with(monkeypatch, capsys, both, "assess")
    first, second = json.loads(out)
    assert code == 0
    alone = json.loads(run_with(monkeypatch, capsys, ASSESS, "assess")[1])
    assert first == alone
    assert second["air_l_min"] > first["air_l_min"]
    assert json.loads(run_with(monkeypatch, capsys, [], "assess")[1]) == []


def test_the_wrong_setting_of_a_list_is_told_by_its_place(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    spoiled = [ASSESS, ASSESS | {"thinner": "spirit"}]
    code, out, told = run_with(monkeypatch, capsys, spoiled, "assess")
    assert (code, out) == (2, "")
    assert "1.thinner is spirit, which spoils" in told
    wrong = [ASSESS, ASSESS, ASSESS | {"trigger": 7}]
    code, out, told = run_with(monkeypatch, capsys, wrong, "assess")
    assert (code, out) == (2, "")
    assert told.startswith("haze: 2.trigger is 7")


def test_the_run_sheet_of_a_plan(
    tmp_path: Path, cone_stl: bytes, capsys: pytest.CaptureFixture[str]
) -> None:
    held = coarse(tmp_path)
    mesh = add_mesh(held.db, cone_stl, name="cone.stl")
    begun(held.db, NewPlan(mesh=mesh.id, name="Buoy", height_mm=25, copies=2))
    held.close()
    assert cli.main(["sheet", "--data", str(tmp_path), "--plan", "Buoy"]) == 0
    sheet = json.loads(capsys.readouterr().out)
    assert sheet["plan"] == "Buoy"
    assert {s["copies"] for s in sheet["steps"]} == {2}
    assert 0 < sheet["hands_min"] < sheet["elapsed_min"]
    for arguments, words in (
        (["--data", str(tmp_path), "--plan", "Pier"], "Buoy"),
        (["--data", str(tmp_path / "none")], "holds no data of Haze"),
    ):
        assert cli.main(["sheet", *arguments]) == 2
        assert words in capsys.readouterr().err
    assert not (tmp_path / "none").exists()


@pytest.mark.thorough
def test_a_scheme_lands_on_the_demo_shelf(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    asked = {"stand_in": "ball", "colours": ["#2f7a3a"], "order": "veil"}
    code, out, _ = run(monkeypatch, capsys, "scheme", given=asked)
    assert code == 0
    found = json.loads(out)
    assert set(found) == {
        *("steps", "lands", "delta_e", "best_delta_e", "chroma_kept", "notes"),
    }
    assert set(found["lands"]) == {"shade", "middle", "light"}
    assert found["delta_e"] < 9
    assert found["chroma_kept"] > 0.65
    assert all(set(s) == {"name", "task", "cup", "film_um"} for s in found["steps"])
    none = {"stand_in": "ball", "mesh": "x.stl", "height_mm": 30, "colours": ["#2f7a3a"]}
    code, _, told = run(monkeypatch, capsys, "scheme", given=none)
    assert code == 2
    assert "either mesh" in told


@pytest.mark.parametrize(
    ("given", "words"),
    [
        (["--port", "-1"], "accepted is 0 to 65535"),
        (["--port", "99999"], "accepted is 0 to 65535"),
        (["--port", "65535", "--tablets", "--host", "0.0.0.0"], "accepted is 0 to 65534"),
        (["--tablets"], "needs the address they come to"),
    ],
)
def test_an_address_that_will_not_do_is_told_before_anything_is_made(
    given: list[str], words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert cli.main(["serve", "--data", str(tmp_path / "data"), *given]) == 2
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1
    assert not (tmp_path / "data").exists()


@pytest.mark.parametrize("case", ["no bytes", "words", "a file", "inside a file"])
def test_a_folder_that_will_not_do_is_told_in_one_sentence(
    case: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    folder = tmp_path / "data"
    if case == "a file":
        folder.write_text("a note")
    elif case == "inside a file":
        (tmp_path / "note").write_text("a note")
        folder = tmp_path / "note" / "data"
    else:
        folder.mkdir()
        (folder / "haze.sqlite3").write_bytes(b"" if case == "no bytes" else b"words " * 2000)
    assert cli.main(["serve", "--data", str(folder), "--port", "0"]) == 2
    told = capsys.readouterr().err
    assert told.startswith("haze: ")
    assert told.count("\n") == 1


def test_demo_serves_the_warden_on_loopback_and_keeps_its_folder(tmp_path: Path) -> None:
    port = free_port()
    command = [
        sys.executable,
        "-m",
        "haze",
        "demo",
        "--no-browser",
        "--on-demand",
        "--port",
        str(port),
        "--data",
        str(tmp_path / "demo"),
    ]
    for again in (False, True):
        child = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            assert child.stdout is not None
            line = child.stdout.readline()
            assert f"http://127.0.0.1:{port}/" in line
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/plans") as answer:
                listed = json.load(answer)["plans"]
            assert listed[0]["name"] == "Wardens of the spring tide"
            assert listed[0]["copies"] == 6
            assert len(listed) == 4
            if again:
                continue
            blocked = subprocess.run(command, capture_output=True, text=True, check=False)
            assert blocked.returncode == 2
            assert "Another Haze serves" in blocked.stderr
            elsewhere = [*command[:-1], str(tmp_path / "other")]
            blocked = subprocess.run(elsewhere, capture_output=True, text=True, check=False)
            assert blocked.returncode == 2
            assert "cannot be used" in blocked.stderr
        finally:
            child.kill()
            child.wait()


SHELF = [
    {"name": "Wrack Green", "masstone": "#4b5a35"},
    {"name": "Sailcloth", "masstone": "#ece2c8"},
    {"name": "Shoal Blue", "masstone": "#3f6f8c"},
    {"name": "Lamp Amber", "masstone": "#f2a01c", "opacity": "transparent"},
]


def answer(
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
    command: str,
    **given: object,
) -> dict[str, object]:
    code, out, _ = run(monkeypatch, capsys, command, given=given)
    assert code == 0
    found: dict[str, object] = json.loads(out)
    return found


def test_mix_finds_a_mix_of_its_paints_again(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    mixed = [
        {"masstone": p["masstone"], "drops": d} for p, d in zip(SHELF, (3, 2, 1), strict=False)
    ]
    thick = answer(
        capsys,
        monkeypatch,
        "film",
        ground="#000000",
        coats=[{"mix": mixed, "dry_film_um": 2000}],
    )
    (target,) = thick["colours"]  # type: ignore[misc]
    found = answer(capsys, monkeypatch, "mix", target=target, paints=SHELF)
    best = found["mixes"][0]  # type: ignore[index]
    assert best["delta_e"] <= 0.6, "a hex has steps of its own"
    assert set(best) >= {"drops", "cup", "colour", "delta_e"}
    assert [c["what"] for c in best["cup"]] == list(best["drops"])


def test_ladder_gives_rungs_in_whole_drops(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    found = answer(
        capsys, monkeypatch, "ladder", colours=["#4b5a35", "#ece2c8"], paints=SHELF, rungs=4
    )
    rungs = found["rungs"]
    assert len(rungs) == 4  # type: ignore[arg-type]
    assert all(isinstance(d, int) for r in rungs for d in r["drops"].values())  # type: ignore[attr-defined]


def test_film_knows_finishes_metal_and_the_wet_look(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    grey = {"masstone": "#5a5a5a", "dry_film_um": 40.0}
    found = answer(
        capsys,
        monkeypatch,
        "film",
        ground="#ffffff",
        coats=[
            grey,
            {"masstone": "#b4b8bb", "kind": "metallic", "dry_film_um": 9.0},
            grey | {"finishes": {"gloss": 1, "matt": 1}},
        ],
    )
    matt, steel, mixed = found["colours"]  # type: ignore[misc]
    assert matt == "#5a5a5a"
    assert steel == "#b4b8bb"
    assert mixed < matt, "half gloss is darker"
    assert found["metal"][1] > 0.99  # type: ignore[index]
    assert found["wet"][0] < matt  # type: ignore[index]


@pytest.mark.parametrize(
    ("command", "given", "said"),
    [
        ("mix", {"target": "green", "paints": SHELF}, "target"),
        ("mix", {"target": "#112233", "paints": []}, "paints"),
        ("mix", {"target": "#112233", "paints": SHELF, "max_drops": 9}, "max_drops"),
        ("mix", {"target": "#112233", "paints": [SHELF[0], SHELF[0]]}, "twice"),
        ("ladder", {"colours": [], "paints": SHELF}, "colours"),
        ("ladder", {"colours": ["#112233"], "paints": SHELF, "use": ["Tar"]}, "Tar"),
        ("film", {"ground": "#000000", "coats": [{"dry_film_um": 3}]}, "masstone or a mix"),
    ],
)
def test_colour_commands_refuse_by_field_with_one_sentence(
    command: str,
    given: dict[str, object],
    said: str,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    code, out, err = run(monkeypatch, capsys, command, given=given)
    assert code == 2
    assert out == ""
    assert said in err
    assert len(err.strip().splitlines()) == 1


def test_window_gives_four_risks_over_two_knobs(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    axes = {
        "across": {"knob": "thinner_parts", "from": 0, "to": 4, "steps": 5},
        "up": {"knob": "pressure_psi", "from": 4, "to": 34, "steps": 4},
    }
    code, told, _ = run(monkeypatch, capsys, "window", given=ASSESS | axes)
    assert code == 0
    out = json.loads(told)
    assert out["across"] == [0, 1, 2, 3, 4]
    assert out["up"] == [4, 14, 24, 34]
    for name in ("spiders", "specks", "dust", "no_flow", "clean_share"):
        assert [len(row) for row in out[name]] == [5] * 4
    code, _, error = run(monkeypatch, capsys, "window", given=ASSESS | {"across": axes["across"]})
    assert code == 2
    assert "up" in error
    assert error.count("\n") == 1


def test_learn_and_trouble_have_their_fields(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    given = {
        "paint": {"kind": "brush_acrylic"},
        "needle_mm": 0.2,
        "trials": [{"setting": ASSESS, "outcome": "clean"}],
        "ask": [ASSESS],
    }
    out = json.loads(run(monkeypatch, capsys, "learn", given=given)[1])
    assert set(out["latents"]) == {"viscosity", "droplet", "creep", "width", "flow"}
    assert all(v["low"] < v["mean"] < v["high"] for v in out["latents"].values())
    assert set(out["ask"][0]) == {"clean", "spiders", "specks", "dust", "nothing"}
    assert sum(out["ask"][0].values()) == pytest.approx(1.0)
    assert out["next"] is None or out["next"]["why"]
    asked = {"setting": ASSESS, "symptom": "band"}
    said = json.loads(run(monkeypatch, capsys, "trouble", given=asked)[1])
    assert set(said["causes"][0]) == {"cause", "share", "knob", "from", "to", "why"}
    assert said["repair"]


def test_a_plan_goes_out_and_comes_in_by_commands(
    tmp_path: Path, cone_stl: bytes, capsys: pytest.CaptureFixture[str]
) -> None:
    one, two, file = tmp_path / "one", tmp_path / "two", tmp_path / "buoy.haze"
    for folder in (one, two):
        held = coarse(folder)
        if folder == one:
            mesh = add_mesh(held.db, cone_stl, name="cone.stl")
            begun(held.db, NewPlan(mesh=mesh.id, name="Buoy", height_mm=25, copies=2))
        held.close()
    assert cli.main(["export", "Buoy", str(file), "--data", str(one)]) == 0
    capsys.readouterr()
    assert cli.main(["import", str(file), "--look", "--data", str(two)]) == 0
    look = json.loads(capsys.readouterr().out)
    assert [(p["name"], p["state"]) for p in look["plans"]] == [("Buoy", "new")]
    assert cli.main(["import", str(file), "--data", str(two)]) == 0
    assert json.loads(capsys.readouterr().out)["plans"] == 1
    assert cli.main(["import", str(file), "--data", str(two)]) == 0
    assert json.loads(capsys.readouterr().out)["plans"] == 0
    for name in ("n.haze", "n.csv", "n.json"):
        assert cli.main(["export", "notebook", str(tmp_path / name), "--data", str(two)]) == 0
        assert (tmp_path / name).stat().st_size > 50
    assert cli.main(["export", "shelf", str(tmp_path / "s.csv"), "--data", str(two)]) == 0
    capsys.readouterr()
    assert cli.main(["import", str(tmp_path / "s.csv"), "--data", str(two)]) == 0
    assert json.loads(capsys.readouterr().out)["new"] == 0
    # on a new computer there is no folder yet: it is made, unless one only looks
    new = tmp_path / "new" / "computer"
    assert cli.main(["import", str(file), "--look", "--data", str(new)]) == 2
    assert not new.exists()
    capsys.readouterr()
    assert cli.main(["import", str(file), "--data", str(new)]) == 0
    assert json.loads(capsys.readouterr().out)["plans"] == 1
    assert cli.main(["import", str(tmp_path / "none.haze"), "--data", str(tmp_path / "x")]) == 2
    assert not (tmp_path / "x").exists()
    assert not list(tmp_path.glob("*.part"))


def test_a_backup_is_checked_and_damage_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    held = coarse(tmp_path / "data")
    held.close()
    copy = tmp_path / "copy.sqlite3"
    where = ["--data", str(tmp_path / "data")]
    assert cli.main(["backup", str(copy), *where]) == 0
    capsys.readouterr()
    assert cli.main(["check", str(copy)]) == 0
    assert json.loads(capsys.readouterr().out)["ok"]
    assert cli.main(["check", *where]) == 0
    capsys.readouterr()
    data = bytearray(copy.read_bytes())
    data[4096 * 3 : 4096 * 6] = bytes(4096 * 3)
    copy.write_bytes(data)
    assert cli.main(["check", str(copy)]) == 2
    assert "damaged" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["export", "Pier", "pier.haze"], "no plan 'Pier'"),
        (["export", "notebook", "n.txt"], "is written as"),
        (["export", "shelf", "no/such/folder/s.csv"], "cannot be written"),
        (["import", "nowhere.haze"], "cannot be read"),
        (["backup", "."], "is a folder"),
    ],
)
def test_what_cannot_be_done_with_files_is_said_in_one_sentence(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    arguments: list[str],
    words: str,
) -> None:
    coarse(tmp_path / "data").close()
    monkeypatch.chdir(tmp_path)
    assert cli.main([*arguments, "--data", str(tmp_path / "data")]) == 2
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1
    assert cli.main([*arguments, "--data", str(tmp_path / "none")]) == 2
    # a file that comes in makes its folder; one that is not there makes none
    expected = words if arguments[0] == "import" else "holds no data of Haze"
    assert expected in capsys.readouterr().err
    assert not (tmp_path / "none").exists()


CARD = {
    "trial": 12003,
    "setting": {
        "paint": {"kind": "airbrush_acrylic"},
        "thinner": "acrylic_thinner",
        "thinner_parts": 2,
        "needle_mm": 0.3,
        "trigger": 0.35,
        "pressure_psi": 18,
        "distance_mm": 60,
        "speed_mm_s": 80,
    },
    "colour": {"masstone": "#1d3f8a"},
    "title": "Wardens, shade",
}


def test_a_card_is_drawn_simulated_and_read(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    trial = tmp_path / "trial.json"
    trial.write_text(json.dumps(CARD), "utf-8")
    assert cli.main(["card", "draw", "--in", str(trial)]) == 0
    drawn = capsys.readouterr().out
    assert drawn.startswith("<svg")
    assert "1 20 03" in drawn
    assert "18 psi" in drawn
    photo = tmp_path / "card.jpg"
    assert cli.main(["card", "simulate", str(photo), "--in", str(trial)]) == 0
    capsys.readouterr()
    assert cli.main(["card", "read", str(photo), "--in", str(trial)]) == 0
    found = json.loads(capsys.readouterr().out)
    assert (found["trial"], found["refused"]) == (12003, None)
    for name in ("specks_per_cm2", "line_25_mm", "pass_film_um"):
        measure = found["measures"][name]
        assert measure["low"] <= measure["value"] <= measure["high"]
        assert measure["unit"]
    assert found["outcome"] in ("clean", "spiders", "specks", "dust", "nothing")
    assert 0 <= found["sure"] <= 1
    assert found["spots"]["line_25_mm"]
    # without a trial it is read as well
    monkeypatch.setattr(sys, "stdin", io.StringIO(""))
    assert cli.main(["card", "read", str(photo)]) == 0
    assert json.loads(capsys.readouterr().out)["trial"] == 12003


def test_a_card_refuses_with_one_sentence(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sys, "stdin", io.StringIO('{"trial": 1}'))
    assert cli.main(["card", "read", str(tmp_path / "none.jpg")]) == 2
    assert "cannot be read" in capsys.readouterr().err
    wrong = tmp_path / "wrong.jpg"
    wrong.write_bytes(b"no photo")
    for what, told in (("read", "no photo that can be read"), ("simulate", "setting is missing")):
        monkeypatch.setattr(sys, "stdin", io.StringIO('{"trial": 1}'))
        assert cli.main(["card", what, str(wrong)]) == 2
        assert told in capsys.readouterr().err
    monkeypatch.setattr(sys, "stdin", io.StringIO('{"trial": 1000000}'))
    assert cli.main(["card", "draw"]) == 2
    assert "trial is 1000000" in capsys.readouterr().err
    assert cli.main(["card", "read"]) == 2
    assert "name of a photo" in capsys.readouterr().err
    monkeypatch.setattr(sys, "stdin", io.StringIO(json.dumps(CARD)))
    assert cli.main(["card", "simulate", str(wrong), "--fault", "rain"]) == 2
    assert "glare" in capsys.readouterr().err
