"""A plan shown at the club: turning, and as stills."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import pytest
from PIL import Image

from haze.core.errors import CancelledError
from haze.core.light.turntable import PLACES, moments
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.formats.turntable import LINE_PX
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import turntable
from haze.service.plan.pictures import looks_after, pictures_after
from haze.service.plan.turntable import made, show, shown_as
from haze.store.connection import MissingError
from helpers import going, stopping


@pytest.fixture(autouse=True)
def small(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(turntable, "WIDTH", 60)
    monkeypatch.setattr(turntable, "HEIGHT", 80)


def test_steps_that_are_off_or_not_seen_have_no_picture(lantern: Plan, on_lantern: OnPiece) -> None:
    all_of_them = [step.id for _, step, _ in looks_after(lantern, on_lantern)]
    off = lantern.coats[1].model_copy(update={"off": True})
    fewer = lantern.model_copy(update={"coats": [lantern.coats[0], off, *lantern.coats[2:]]})
    found = list(looks_after(fewer, on_lantern))
    assert off.id in all_of_them
    assert off.id not in [step.id for _, step, _ in found]
    assert [number for number, _, _ in found] == list(range(1, len(found) + 1))
    assert list(pictures_after(lantern, on_lantern)) == all_of_them


def test_a_step_that_changes_nothing_has_no_picture(lantern: Plan, on_lantern: OnPiece) -> None:
    rest = HandStep(id="rest-1", name="It dries", role="rest", minutes=20)
    longer = lantern.model_copy(update={"coats": [lantern.coats[0], rest, *lantern.coats[1:]]})
    found = list(looks_after(longer, on_lantern))
    assert rest.id not in [step.id for _, step, _ in found]
    assert [number for number, _, _ in found] == [1, *range(3, len(longer.coats) + 1)]


def test_a_turntable_has_a_picture_for_every_moment(
    lantern: Plan, on_lantern: OnPiece, tmp_path: Path
) -> None:
    path = tmp_path / "shown.webp"
    out = show(lantern, on_lantern, "webp", path, going)
    looks = 1 + len(list(looks_after(lantern, on_lantern)))
    assert out.pictures == len(moments(looks)) > PLACES
    assert out.bytes == path.stat().st_size
    with Image.open(path) as image:
        assert image.size == (60, 80 + LINE_PX)
        assert image.n_frames > PLACES
    again = path.stat().st_mtime_ns
    assert show(lantern, on_lantern, "webp", path, stopping) == out
    assert path.stat().st_mtime_ns == again


def test_a_stopped_turntable_leaves_nothing(
    lantern: Plan, on_lantern: OnPiece, tmp_path: Path
) -> None:
    path = tmp_path / "shown.gif"
    with pytest.raises(CancelledError):
        show(lantern, on_lantern, "gif", path, stopping)
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(MissingError, match="not made yet"):
        made(path)


def test_stills_are_one_a_coat_in_order(lantern: Plan, on_lantern: OnPiece, tmp_path: Path) -> None:
    path = tmp_path / "shown.zip"
    out = show(lantern, on_lantern, "zip", path, going)
    with made(path) as file, zipfile.ZipFile(file) as pack:
        assert pack.namelist() == [f"{n:02}.png" for n in range(out.pictures)]
        sizes = {Image.open(io.BytesIO(pack.read(name))).size for name in pack.namelist()}
    assert sizes == {(turntable.STILL_WIDTH, turntable.STILL_HEIGHT + LINE_PX)}


def test_another_plan_or_trial_is_another_file(lantern: Plan, tmp_path: Path) -> None:
    named = lantern.model_copy(update={"name": "Lantern by another name"})
    paths = {
        shown_as(tmp_path, one, form, taught)
        for one in (lantern, named)
        for form in ("webp", "gif")
        for taught in ("", "more")
    }
    assert len(paths) == 8
