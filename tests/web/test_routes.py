"""Every route does its work over HTTP on a plan whose piece is worked out."""

from __future__ import annotations

import io
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from haze.service.bench import Bench
from haze.web.app import create_app
from helpers import CARD, done, is_problem

PNG = b"\x89PNG"


def paint(client: FlaskClient, **fields: object) -> dict[str, Any]:
    found = client.get("/api/shelf").json["paints"]
    return next(p for p in found if all(p[k] == v for k, v in fields.items()))


def test_looks_and_pictures(client: FlaskClient, plan: dict) -> None:
    document = plan["plan"]
    drawn = client.post("/api/picture", json={"plan": document, "look": "value"})
    assert drawn.data.startswith(PNG)
    lit = client.post("/api/light/picture", json={"plan": document, "preset": "noon"})
    assert lit.data.startswith(PNG)
    primed = client.post("/api/priming/picture", json={"plan": document, "way": "can"})
    assert primed.data.startswith(PNG)
    assert len({drawn.data, lit.data, primed.data}) == 3


def test_light_plans(client: FlaskClient, plan: dict) -> None:
    presets = client.get("/api/light/presets").json["presets"]
    assert "shoulder" in {p["id"] for p in presets}
    found = client.post("/api/light/preset", json={"plan": plan["plan"], "preset": "noon"}).json
    assert found["lights"][0]["elevation_deg"] > 80
    assert found["schools"]["light"] == "noon"
    told = client.post("/api/light/preset", json={"plan": plan["plan"], "preset": "moon"})
    is_problem(told, 422, "unknown_name")


def test_findings_and_their_fixes(client: FlaskClient, plan: dict) -> None:
    document = plan["plan"]
    document["coats"].reverse()
    found = client.post("/api/findings", json={"plan": document}).json["findings"]
    mended = next(f for f in found if f["fix"])
    body = {"plan": document, "rule": mended["rule"], "step": mended["step"]}
    fixed = client.post("/api/findings/fix", json=body)
    assert fixed.status_code == 200, fixed.json
    assert fixed.json["coats"] != document["coats"]


def test_samples_and_smoothing(client: FlaskClient, plan: dict) -> None:
    document = plan["plan"]
    sample = client.post("/api/sample", json={"plan": document, "at": [0, 0, 10]}).json
    assert [layer["step"] for layer in sample["layers"]] == [c["id"] for c in document["coats"]]
    job = client.post("/api/smooth", json={"plan": document}).json["job"]
    assert job
    done(client, job)
    assert client.post("/api/smooth", json={"plan": document}).json["job"] is None


@pytest.mark.parametrize(
    ("start", "key"),
    [("angles", "coats"), ("priming", "ways"), ("parts/advice", "advice")],
)
def test_work_that_takes_long_ends_in_its_result(
    client: FlaskClient, plan: dict, start: str, key: str
) -> None:
    body: dict[str, Any] = {"plan": plan["plan"]}
    if start == "angles":
        body |= {"coats": [], "stations": 1}
    job = client.post(f"/api/{start}", json=body).json
    done(client, job)
    assert key in client.get(f"/api/{start}/{job['id']}").json
    is_problem(client.get(f"/api/mixes/{job['id']}"), 404, "missing")


def test_a_scheme_is_laid(client: FlaskClient, plan: dict) -> None:
    done(client, client.post("/api/start/ahead", json={"plan": plan["plan"]}).json)
    body = {"plan": plan["plan"], "what": "figure", "colours": ["#4b5a35"], "schools": None}
    job = client.post("/api/start", json=body).json
    done(client, job)
    laid = client.get(f"/api/start/{job['id']}").json
    assert laid["cost"]["steps"] == len(laid["plan"]["coats"]) > 1


@pytest.mark.thorough
def test_all_orders_are_tried(client: FlaskClient, plan: dict) -> None:
    body = {"plan": plan["plan"], "what": "figure", "colours": ["#4b5a35"], "schools": None}
    job = client.post("/api/start/orders", json=body).json
    done(client, job)
    out = client.get(f"/api/start/orders/{job['id']}").json
    assert [one["order"] for one in out["orders"]] == ["climb", "descend", "veil", "span"]
    best = out["orders"][out["best"]]
    assert best["name"] in out["why"]
    looked = {"plan": best["found"]["plan"]}
    told = client.post("/api/workings", json=looked).json["off_colour"]
    assert told["share"] > 0


def test_mixes_ladders_and_rungs(client: FlaskClient, plan: dict) -> None:
    job = client.post("/api/mixes", json={"target": "#7a7a7a", "max_paints": 2}).json
    done(client, job)
    mixes = client.get(f"/api/mixes/{job['id']}").json["mixes"]
    assert mixes
    job = client.post("/api/ladder", json={"colours": ["#333333", "#cccccc"], "rungs": 3}).json
    done(client, job)
    rungs = client.get(f"/api/ladder/{job['id']}").json["rungs"]
    assert len(rungs) == 3
    wish = [{"drops": r["drops"], "cover": r["cover"]} for r in rungs]
    job = client.post("/api/rungs", json={"plan": plan["plan"], "after": 2, "rungs": wish}).json
    done(client, job)
    coats = client.get(f"/api/rungs/{job['id']}").json["coats"]
    assert [c["task"] for c in coats] == ["rung"] * 3


def test_parts_are_split(client: FlaskClient, plan: dict) -> None:
    work = client.post("/api/workings", json={"plan": plan["plan"]}).json
    part = work["parts"][0]["part"]["id"]
    body = {"plan": plan["plan"], "part": part, "way": "level", "at": 0.5}
    assert len(client.post("/api/parts/split", json=body).json["parts"]) == 2


def test_settings_of_the_house(client: FlaskClient) -> None:
    assert client.get("/api/settings").json["settings"]["pressure_unit"] == "psi"
    changed = client.put("/api/settings", json={"name": "pressure_unit", "value": "bar"})
    assert changed.json["settings"]["pressure_unit"] == "bar"
    told = client.put("/api/settings", json={"name": "pressure_unit", "value": "stones"})
    assert told.status_code == 422
    assert client.get("/api/settings").json["settings"]["pressure_unit"] == "bar"


def test_stand_ins_and_the_demo(client: FlaskClient) -> None:
    ids = [s["id"] for s in client.get("/api/stand-ins").json["stand_ins"]]
    one = client.post(f"/api/stand-ins/{ids[0]}")
    assert one.status_code == 201
    assert one.json["height_mm"] > 0
    assert client.post("/api/demo").json["plan"]["coats"]


def test_paints_come_change_and_go(client: FlaskClient) -> None:
    one = paint(client, kind="airbrush_acrylic") | {"id": "new-one", "name": "Slip Grey"}
    chip = client.put("/api/shelf/paint", json=one).json
    assert chip["paint"]["name"] == "Slip Grey"
    assert client.post("/api/shelf/chip", json=one).json["over_dark"] == chip["over_dark"]
    bulk = {"ids": ["new-one"], "maker": "Tolvane"}
    shown = client.post("/api/shelf/bulk", json=bulk).json["chips"]
    assert next(c for c in shown if c["paint"]["id"] == "new-one")["paint"]["maker"] == "Tolvane"
    client.post("/api/shelf/undo")
    client.post("/api/shelf/redo")
    gone = client.post("/api/shelf/trash", json={"ids": ["new-one"], "trashed": True}).json
    assert "new-one" not in {c["paint"]["id"] for c in gone["chips"]}
    assert client.delete("/api/shelf/trash").status_code == 200
    assert len(client.get("/api/shelf/screen").json["chips"]) == len(gone["chips"])


def test_gear_comes_and_goes(client: FlaskClient) -> None:
    brush = {"id": "broad", "name": "Broad", "needle_mm": 0.6, "cup_ml": 7}
    thinner = {"id": "t9", "name": "Soft water", "kind": "water", "drop_ul": 50, "ml_left": None}
    compressor = {"id": "c9", "name": "Attic", "most_psi": 60, "tank_l": 3}
    for what, body in (("airbrush", brush), ("thinner", thinner), ("compressor", compressor)):
        shown = client.put(f"/api/shelf/{what}", json=body)
        assert shown.status_code == 200, shown.json
        assert client.delete(f"/api/shelf/{what}/{body['id']}").status_code == 200
    is_problem(client.delete("/api/shelf/airbrush/none"), 404, "missing")


def test_a_mix_is_looked_at_and_its_strength_learned(client: FlaskClient) -> None:
    white, blue = paint(client, kind="white"), paint(client, kind="airbrush_acrylic")
    parts = [{"paint": blue, "drops": 1}, {"paint": white, "drops": 4}]
    look = client.post("/api/shelf/mix", json={"parts": parts, "pass_um": 3}).json
    assert [g["ground"] for g in look["grounds"]] == ["dark", "mid", "light"]
    body = {"paint": blue, "white": white, "paint_drops": 1, "white_drops": 4}
    told = client.post("/api/shelf/strength", json=body | {"colour": white["masstone"]})
    is_problem(told, 422, "bad_swatch")


def test_shelf_files_go_out_and_come_in(client: FlaskClient) -> None:
    table = client.get("/api/shelf/shelf.csv")
    assert table.data.startswith(b"maker,range,name,kind,")
    assert client.get("/api/shelf/shelf.gpl").data.startswith(b"GIMP Palette")
    more = b"name,maker,colour\nChart Red,Tolvane,#c01020\n"
    seen = client.post("/api/shelf/csv?apply=false", data=more).json
    assert (seen["new"], seen["applied"]) == (1, False)
    palette = b"GIMP Palette\nName: Harbour\n192 16 32 Chart Red\n"
    assert client.post("/api/shelf/palette?apply=false", data=palette).json["new"] == 1


def test_a_colour_is_picked_from_a_photo(client: FlaskClient) -> None:
    image = Image.new("RGB", (200, 100), "#777777")
    image.paste("#4b7a35", (100, 0, 200, 100))
    out = io.BytesIO()
    image.save(out, format="PNG")
    query = "grey_x=0.2&grey_y=0.5&x=0.8&y=0.5&grey_lightness=50"
    picked = client.post(f"/api/shelf/photo?{query}", data=out.getvalue()).json
    assert picked["hex"].startswith("#")


def test_the_model_answers_without_a_plan(client: FlaskClient) -> None:
    setting = {
        "paint": {"kind": "airbrush_acrylic"},
        "thinner": "acrylic_thinner",
        "thinner_parts": 1,
        "needle_mm": 0.3,
        "trigger": 0.3,
        "pressure_psi": 20,
        "distance_mm": 75,
        "speed_mm_s": 150,
    }
    said = client.post("/api/assess", json=setting).json
    assert said["verdict"] in ("clean", "mind", "stop")
    recipe = client.post(
        "/api/recipe", json={"paint": setting["paint"], "needle_mm": 0.3, "task": "prime"}
    )
    assert recipe.status_code == 200
    coat = {"masstone": "#4b5a35", "opacity": "opaque", "dry_film_um": 6}
    film = client.post("/api/film", json={"ground": "#202020", "coats": [coat]})
    assert film.status_code == 200, film.json


def test_every_route_is_in_the_api_document(bench: Bench) -> None:
    app = create_app(bench, documented=True)
    paths = set(app.api_doc["paths"])
    served = {
        rule.rule.replace("<", "{").replace(">", "}")
        for rule in app.url_map.iter_rules()
        if rule.rule.startswith("/api/")
    }
    undocumented = {"/api/openapi.json", "/api/{path:_}"}
    assert served - paths <= undocumented, served - paths


def test_a_trial_changes_what_a_plan_is_told_until_it_is_taken_back(
    client: FlaskClient, plan: dict
) -> None:
    def coat() -> dict[str, Any]:
        coats = client.post("/api/workings", json={"plan": plan["plan"]}).json["coats"]
        found: dict[str, Any] = coats[0]
        return found

    first = plan["plan"]["coats"][0]
    paint = {key: first["paint"][key] for key in ("id", "name", "kind")}
    airbrush = {key: plan["plan"]["airbrush"][key] for key in ("id", "name", "needle_mm")}
    before = coat()
    body = {
        "paint": paint,
        "airbrush": airbrush,
        "setting": before["setting"] | {"distance_mm": 40},
        "id": "0123456789abcdef",
        "look": "spiders",
    }
    taught = client.post("/api/trials", json=body).json
    assert taught["after"]["clean"] < taught["before"]["clean"]
    after = coat()
    assert after["spray"]["dry_film_um"] != before["spray"]["dry_film_um"]
    assert after["layer"]["dry_um"] != before["layer"]["dry_um"]
    asked = {key: body[key] for key in ("paint", "airbrush", "setting")}
    assert len(client.post("/api/known", json=asked).json["trials"]) == 1
    turned = client.post("/api/setting", json=asked | {"task": first["task"]}).json
    assert turned["cup"][0]["drops"] > 0
    back = client.post("/api/trials/0123456789abcdef/back", json={"back": True}).json
    assert back["after"] == taught["before"]
    assert coat() == before
    is_problem(client.post("/api/trials/none/back", json={}), 404, "missing")


def test_a_window_a_trouble_and_a_recipe_of_a_paint_on_the_shelf(
    client: FlaskClient, plan: dict
) -> None:
    coat = client.post("/api/workings", json={"plan": plan["plan"]}).json["coats"][0]
    of = {"paint_id": "slate", "airbrush_id": "all-round"}
    axes = {
        "across": {"knob": "thinner_parts", "from": 0, "to": 4, "steps": 12},
        "up": {"knob": "pressure_psi", "from": 4, "to": 34, "steps": 10},
    }
    shown = client.post("/api/window", json=coat["setting"] | of | axes).json
    assert len(shown["clean_share"]) == 10
    twice = client.post("/api/window", json=coat["setting"] | of | {**axes, "up": axes["across"]})
    is_problem(twice, 422, "out_of_range")
    symptoms = client.get("/api/symptoms").json["symptoms"]
    asked = {"setting": coat["setting"], "symptom": symptoms[0]["id"]}
    named = {
        "paint": {"id": "slate", "name": "Slate", "kind": coat["setting"]["paint"]["kind"]},
        "airbrush": {"id": "all-round", "name": "All-round", "needle_mm": 0.3},
    }
    assert client.post("/api/trouble", json=asked | named).json["causes"]
    of_plan = {"plan": plan["plan"], "step": coat["id"], "symptom": "bare"}
    assert client.post("/api/trouble", json=asked | named | of_plan).json["causes"]
    lost = client.post("/api/trouble", json=asked | named | of_plan | {"step": "nobody"})
    is_problem(lost, 422, "not_in_plan")
    wish = {"paint": coat["setting"]["paint"], "needle_mm": 0.3, "task": "cover"}
    assert client.post("/api/recipe/known", json=wish | of).json["passes"] > 0


def test_schools_say_what_they_would_set_for_the_same_film(client: FlaskClient, plan: dict) -> None:
    coat = plan["plan"]["coats"][0]
    told = client.post("/api/schools", json={"plan": plan["plan"], "step": coat["id"]}).json
    now, others = told["now"], told["schools"]
    assert now["spray"] == coat["spray"]
    assert [s["school"] for s in others] == ["whisper", "middle", "brisk"]
    film = now["film_um"] * now["rounds"]
    for s in others:
        if s["none"] is None:
            # rounds are whole: the film is the planned one within half a round
            assert abs(s["film_um"] * s["rounds"] - film) <= 0.8 * s["film_um"]
            assert 0 <= s["clean_share"] <= 1
            assert s["hands_min"] > 0


def test_an_own_way_over_http(client: FlaskClient, plan: dict) -> None:
    coat = plan["plan"]["coats"][0]
    whose = {"paint": "slate", "airbrush": "all-round", "needle_mm": 0.3, "task": "cover"}
    assert client.post("/api/way", json=whose).json["spray"] is None
    client.put("/api/way", json=whose | {"spray": coat["spray"]})
    assert client.post("/api/way", json=whose).json["spray"] == coat["spray"]


def test_a_clear_coat_has_no_swatch_and_is_no_mistake(client: FlaskClient) -> None:
    varnish = paint(client, kind="varnish")
    body = {
        "paint": {k: varnish[k] for k in ("id", "name", "kind")},
        "airbrush": {"id": "all-round", "name": "All-round", "needle_mm": 0.3},
        "setting": CARD | {"paint": {"kind": "varnish"}},
    }
    told = client.post("/api/swatch", json=body)
    assert (told.status_code, told.data) == (204, b"")
