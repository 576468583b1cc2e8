"""One record that cannot be read takes no screen with it, whatever it holds and whatever it is."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from harmed import Harm, harmed, harms, side_by_side
from haze.service.bench import Bench
from haze.web.app import create_app
from helpers import coarse, is_problem
from lived_in import lived_in, opened_screens

LATER = "2026-99-99T99:99:99Z"


@pytest.fixture(scope="module")
def lived(
    tmp_path_factory: pytest.TempPathFactory, cone_stl: bytes, cone_cache: Path
) -> Iterator[Bench]:
    """A bench after some evenings: something in every table."""
    held = coarse(tmp_path_factory.mktemp("lived") / "data")
    shutil.copytree(cone_cache, held.cache.folder, dirs_exist_ok=True)
    lived_in(held, cone_stl)
    yield held
    held.close()


@pytest.fixture(scope="module")
def screens(lived: Bench) -> FlaskClient:
    return create_app(lived).test_client()


@pytest.mark.thorough
def test_every_screen_opens_on_a_folder_that_was_lived_in(screens: FlaskClient) -> None:
    assert list(opened_screens(screens)) == []
    assert screens.get("/api/unreadable").json == {"records": []}


@pytest.mark.thorough
def test_a_harmed_cell_takes_no_screen_with_it(lived: Bench, screens: FlaskClient) -> None:
    tried, failed, set_aside = 0, [], 0
    for together in side_by_side(list(harms(lived.folder, thorough=False))):
        with ExitStack() as held:
            done = [one for one in together if held.enter_context(harmed(lived.folder, one))]
            tried += len(done)
            lived.beliefs.changed()
            failed += [(done, *bad) for bad in opened_screens(screens)]
            set_aside += len(screens.get("/api/unreadable").json["records"])
    lived.beliefs.changed()
    assert not failed, "\n".join(map(str, failed[:20]))
    assert tried > 110
    assert set_aside > 40
    assert list(opened_screens(screens)) == []


@pytest.mark.parametrize(
    "one",
    [
        Harm("day", "document", '{"date": "2026-02-31", "plans": ["x"]}'),
        Harm("booth_event", "step", "no step at all"),
        Harm("booth_event", "minute", 1e308),
        Harm("trial", "setting", "{}"),
        Harm("plan", "current", 99),
        Harm("session", "began_at", LATER),
    ],
    ids=lambda one: f"{one.table}.{one.column}",
)
def test_haze_starts_beside_a_record_it_cannot_read(lived: Bench, one: Harm) -> None:
    with harmed(lived.folder, one) as done:
        assert done
        again = coarse(lived.folder)
        again.tidy()
        assert again.notices == []
        again.close()


def test_what_cannot_be_read_is_listed_exported_and_deleted(
    lived: Bench, screens: FlaskClient
) -> None:
    one = Harm("session", "document", '{"name": "of another Haze"}')
    with harmed(lived.folder, one):
        held = screens.get("/api/unreadable").json["records"]
        [record] = held
        assert (record["kind"], record["name"]) == ("session", "Wardens")
        query = f"kind=session&id={record['id']}"
        stored = screens.get(f"/api/unreadable/record.json?{query}").json
        assert stored["session"]["document"] == one.value
        assert stored["photo"]
        # what can be read is deleted where it is shown
        day = screens.get("/api/plans").json["plans"][0]["id"]
        told = screens.delete(f"/api/unreadable?kind=plan&id={day}")
        is_problem(told, 422, "readable")
        is_problem(screens.delete("/api/unreadable?kind=plan&id=none"), 404, "missing")
        assert screens.delete(f"/api/unreadable?{query}").json == {"gone": True}
    assert screens.get("/api/unreadable").json == {"records": []}
    assert record["id"] not in {s["id"] for s in screens.get("/api/notebook").json["sessions"]}
