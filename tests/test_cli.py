from __future__ import annotations

import io
import json
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest

from haze import cli

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
    setting = {k: v for k, v in recipe.items() if k not in ("cup", "margins", "why")}
    _, out, _ = run(monkeypatch, capsys, "assess", given=setting)
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
    assert told["parts"][0]["name"] == "whole"


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


def test_demo_serves_the_warden_on_loopback_and_keeps_its_folder(tmp_path: Path) -> None:
    port = free_port()
    command = [
        sys.executable,
        "-m",
        "haze.cli",
        "demo",
        "--no-browser",
        "--port",
        str(port),
        "--data",
        str(tmp_path / "demo"),
    ]
    for _ in range(2):
        child = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            assert child.stdout is not None
            line = child.stdout.readline()
            assert f"http://127.0.0.1:{port}/" in line
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/plans") as answer:
                listed = json.load(answer)["plans"]
            assert [p["name"] for p in listed] == ["Wardens of the spring tide"]
            assert listed[0]["copies"] == 6
            blocked = subprocess.run(command, capture_output=True, text=True, check=False)
            assert blocked.returncode == 2
            assert "cannot be used" in blocked.stderr
        finally:
            child.kill()
            child.wait()
