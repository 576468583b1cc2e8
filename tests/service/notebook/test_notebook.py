"""The notebook: what was pressed and tried comes into it by itself, and can be found again."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image

from haze.core.errors import PhotoError
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.booth.booth import EventsBody, learn_from_presses, open_booth, take_events
from haze.service.cups.trial_session import RoomThen
from haze.service.cups.trials import TrialBody
from haze.service.day import days
from haze.service.day.days import LayBody, PutDay
from haze.service.files import looked, taken, written
from haze.service.files.taken import TakeBody
from haze.service.notebook import known, notebook, photos
from haze.service.notebook.notebook import MarkBody, query_of
from haze.service.notebook.summary import plan_as_sprayed, summarised
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.store import booth as booth_store
from haze.store import sessions
from haze.store import trials as trial_store
from haze.store.connection import MissingError
from helpers import CARD, coarse, going


def trial(n: int, look: str = "specks", *, paint: str = "tern-white") -> TrialBody:
    return TrialBody.model_validate(
        {
            "id": f"trial-{n:04}",
            "look": look,
            "paint": {"id": paint, "name": paint.replace("-", " ").title(), "kind": "white"},
            "airbrush": {"id": "all-round", "name": "All-round", "needle_mm": 0.3},
            "setting": CARD,
        }
    )


class Evening:
    """A day of three cones at the booth, and a hand that presses every minute or two."""

    def __init__(self, bench: Bench, plan: PlanView) -> None:
        self.bench, self.plan = bench, plan
        view = days.of_plan(bench.db, plan.id, today="2026-11-21")
        view = days.put(bench.db, view.id, PutDay(version=0, doc=view.doc))
        days.lay(bench.db, view.id, LayBody(), opened=lambda p, _: bench.on(p), report=going)
        self.day = view.id
        self.minute = 0.0
        self.presses = 0

    def press(self, step: str, kind: str = "done", **more: object) -> None:
        self.presses += 1
        self.minute += 1 + self.presses % 3 / 2
        whole, part = divmod(int(self.minute * 60), 3600)
        event = {
            "id": f"press-{self.presses:06}",
            "at": f"2026-11-21T{13 + whole:02}:{part // 60:02}:{part % 60:02}Z",
            "minute": self.minute,
            "kind": kind,
            "step": step,
            **more,
        }
        room = RoomThen(temperature_c=19.4, humidity_pct=52, measured=True)
        body = EventsBody.model_validate({"events": [event]})
        take_events(self.bench.db, self.day, body, measured=room)
        learn_from_presses(self.bench.db, self.bench.beliefs, self.day, self.bench.on)

    def all_of_it(self, *, problem_at: str = "") -> None:
        for step in open_booth(self.bench.db, self.day, self.bench.on).steps:
            if step.kind == problem_at:
                problem_at = ""
                about = {"plan": step.plan, "coat": step.coat}
                self.press(step.id, "problem", symptom="specks", **about)
                self.press(step.id, "turned", knob="pressure_psi", to=24.0, **about)
            for number in range(step.count):
                look = {"look": "clean"} if step.kind == "trial" else {}
                self.press(step.id, "tried" if look else "done", number=number, **look)


@pytest.fixture
def evening(
    bench: Bench, cone: PlanView, on_cone: OnPiece, monkeypatch: pytest.MonkeyPatch
) -> Evening:
    monkeypatch.setattr(days, "SEARCH_S", 0.2)
    monkeypatch.setattr(days, "TRIED_S", 0.05)
    plan = cone.plan.model_copy(deep=True)
    plan.piece = plan.piece.model_copy(update={"copies": 3})
    assert on_cone.piece.size
    saved = plans.save(bench.db, cone.id, version=cone.version, plan=plan, what="Three")
    return Evening(bench, saved)


def only(bench: Bench, find: str = "") -> notebook.SessionLine:
    [line] = bench.notebook(find).sessions
    return line


def test_an_evening_at_the_booth_stands_in_the_notebook_planned_beside_done(
    bench: Bench, evening: Evening
) -> None:
    evening.all_of_it()
    line = only(bench)
    assert (line.kind, line.date, line.name) == ("booth", "2026-11-21", evening.plan.plan.name)
    # it begins when the bench is open, and closing it is no work on a piece
    events = booth_store.since(bench.db.connection(), evening.day, 0)
    assert line.minutes == pytest.approx(events[-2].minute - events[0].minute)
    view = notebook.one(bench.db, bench.beliefs, line.id, bench.on)
    assert view.told.copies_done == view.told.copies == 3
    assert [c.id for c in view.told.coats] == [c.id for c in evening.plan.plan.done]
    assert all(c.copies == 3 and c.planned_min > 0 and c.done_min > 0 for c in view.told.coats)
    laid = days.one(bench.db, evening.day).laid
    assert laid is not None
    rows = [r for r in laid.rows if r.kind == "work"]
    opened = next(r for r in laid.rows if r.kind == "open").to_min
    # one plan alone in the day: everything from the open bench to the last press is its own
    assert view.told.planned_min == pytest.approx(max(r.to_min for r in rows) - opened, abs=0.1)
    assert view.room == RoomThen(temperature_c=19.4, humidity_pct=52, measured=True)


@pytest.mark.parametrize("what", ["document", "laid"])
def test_a_press_is_kept_even_when_the_notebook_cannot_read_its_day(
    bench: Bench, evening: Evening, what: str
) -> None:
    step = open_booth(bench.db, evening.day, bench.on).steps[1]
    with bench.db.atomic() as tx:
        tx.execute(f"UPDATE day SET {what} = '{{}}'")
    evening.press(step.id)
    assert [e.step for e in booth_store.since(bench.db.connection(), evening.day, 0)] == [step.id]
    lines = bench.notebook().sessions if what == "laid" else []
    assert [line.planned_min for line in lines] == ([None] if what == "laid" else [])


def test_a_coat_is_finished_on_a_copy_when_it_was_looked_over(
    bench: Bench, evening: Evening
) -> None:
    first = evening.plan.plan.coats[0].id
    steps = open_booth(bench.db, evening.day, bench.on).steps
    own = [s for s in steps if s.coat == first]
    for step in own:
        if step.kind != "check":
            for number in range(step.count):
                evening.press(step.id, number=number)
    coat = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on).told.coats[0]
    assert (coat.copies, coat.done) == (0, None)
    check = next(s for s in own if s.kind == "check")
    evening.press(check.id, number=0)
    evening.press(check.id, number=1)
    coat = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on).told.coats[0]
    assert coat.copies == 2
    assert coat.done == evening.plan.plan.sprayed[0].spray


def test_what_was_turned_stands_beside_what_was_planned(bench: Bench, evening: Evening) -> None:
    evening.all_of_it(problem_at="hold")
    view = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on)
    [trouble] = view.told.troubles
    assert (trouble.symptom, trouble.knob, trouble.to) == ("Visible specks", "pressure_psi", 24.0)
    first = view.told.coats[0]
    assert first.planned is not None
    assert first.done is not None
    assert first.done.pressure_psi == 24.0 != first.planned.pressure_psi
    assert (
        first.done.model_copy(update={"pressure_psi": first.planned.pressure_psi}) == first.planned
    )


def test_a_session_keeps_the_plan_of_its_day(bench: Bench, evening: Evening) -> None:
    evening.all_of_it()
    line = only(bench)
    now = plans.open_plan(bench.db, evening.plan.id)
    later = now.plan.model_copy(update={"name": "Repainted", "coats": now.plan.coats[:1]})
    plans.save(bench.db, now.id, version=now.version, plan=later, what="Later")
    assert notebook.plan_then(bench.db, line.id) == evening.plan.plan
    # even when the plan is deleted for good, with its mesh
    gone = plans.open_plan(bench.db, now.id)
    plans.put_away(bench.db, now.id, version=gone.version, trashed=True)
    plans.empty_trash(bench.db)
    view = notebook.one(bench.db, bench.beliefs, line.id, bench.on)
    assert not view.plan_exists
    then = notebook.plan_then(bench.db, line.id)
    assert then == evening.plan.plan
    assert plans.add(bench.db, then, what="Again").plan == then


def test_a_session_from_a_file_is_told_by_what_was_pressed(
    bench: Bench, evening: Evening, tmp_path: Path
) -> None:
    evening.all_of_it(problem_at="hold")
    line = only(bench)
    before = sessions.one(bench.db.connection(), line.id)
    out = io.BytesIO()
    written.write_plan(bench.db, evening.plan.id, out, lambda _: None)
    other = coarse(tmp_path / "other")
    try:
        token = looked.keep(other.incoming, io.BytesIO(out.getvalue()))
        taken.take_in(other.db, other.incoming, TakeBody(token=token), going)
        row = sessions.one(other.db.connection(), line.id)
        assert row.day is None
        # the piece is that of this bench: films are worked out on it
        then = summarised(other.db, row, bench.on)
        was = summarised(bench.db, before, bench.on)
        # what was planned, and the opening of the bench before the first press, are the day's
        apart = {"planned_min", "done_min"}
        assert [c.model_dump(exclude=apart) for c in then.coats] == [
            c.model_dump(exclude=apart) for c in was.coats
        ]
        assert [c.done_min for c in then.coats[1:]] == [c.done_min for c in was.coats[1:]]
        assert then.troubles == was.troubles
        sprayed = plan_as_sprayed(other.db, row, bench.on)
        assert sprayed.sprayed[0].spray.pressure_psi == 24.0
        assert sprayed == plan_as_sprayed(bench.db, before, bench.on)
    finally:
        other.close()


def test_what_was_turned_outlives_the_plan(bench: Bench, evening: Evening) -> None:
    evening.all_of_it(problem_at="hold")
    line = only(bench)
    gone = plans.open_plan(bench.db, evening.plan.id)
    plans.put_away(bench.db, gone.id, version=gone.version, trashed=True)
    plans.empty_trash(bench.db)
    row = sessions.one(bench.db.connection(), line.id)
    assert plan_as_sprayed(bench.db, row, bench.on).sprayed[0].spray.pressure_psi == 24.0
    assert summarised(bench.db, row, bench.on).troubles[0].to == 24.0


def test_a_card_tried_at_the_booth_belongs_to_its_session(bench: Bench, evening: Evening) -> None:
    evening.all_of_it()
    view = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on)
    assert view.told.cards == len(view.trials) >= 1
    assert all(t.counts and t.look == "clean" for t in view.trials)
    assert [t.trials for t in view.taught]
    assert all(t.words.endswith("so.") for t in view.taught)


def test_trials_on_card_are_a_session_a_paint_and_a_day(bench: Bench) -> None:
    for n, look in enumerate(["specks", "clean", "specks"]):
        bench.log_trial(trial(n, look))
    bench.log_trial(trial(9, paint="gull-wing"))
    lines = bench.notebook().sessions
    assert {(s.name, s.what, s.troubles) for s in lines} == {
        ("Trial cards, Tern White", "3 cards", 2),
        ("Trial cards, Gull Wing", "one card", 1),
    }


def test_what_a_session_taught_is_taken_back_and_counted_again(bench: Bench) -> None:
    for n in range(3):
        bench.log_trial(trial(n, "specks"))
    line = only(bench)
    taught = notebook.one(bench.db, bench.beliefs, line.id, bench.on).taught[0]
    assert taught.words.startswith("Tern White in the All-round: ")
    assert "3 trials say so." in taught.words
    before = known.paint_page(bench.db, bench.beliefs, "tern-white").pairs[0].looks
    for one in taught.trials:
        bench.take_trial_back(one, back=True)
    back = notebook.one(bench.db, bench.beliefs, line.id, bench.on).taught[0]
    assert (
        back.words == "Tern White in the All-round: its 3 trials were taken back and teach nothing."
    )
    assert not back.counts
    for one in taught.trials:
        bench.take_trial_back(one, back=False)
    assert known.paint_page(bench.db, bench.beliefs, "tern-white").pairs[0].looks == before


@pytest.mark.parametrize(
    "find",
    ["cone", "CONE prac", "specks", "chalk", "dried after the thírd", "third-coat", "window"],
)
def test_a_session_is_found_by_piece_trouble_and_note(
    bench: Bench, evening: Evening, find: str
) -> None:
    evening.all_of_it(problem_at="hold")
    line = only(bench)
    body = MarkBody(note="Chalky by the window, dried after the third coat", rating=4)
    notebook.mark(bench.db, line.id, body)
    assert only(bench, find).rating == 4
    assert bench.notebook(f"{find} lighthouse").sessions == []


@pytest.mark.parametrize("find", ['"', "a OR", "NEAR(", "* *", "-", "col:x", "'; DROP", "\x01"])
def test_signs_of_the_search_language_are_words_like_others(bench: Bench, find: str) -> None:
    bench.log_trial(trial(1))
    bench.notebook(find)


def test_words_are_looked_for_all_and_by_their_beginnings() -> None:
    assert query_of("  Tern-White 18psi ") == '"Tern"* "White"* "18psi"*'
    assert query_of(" - ") == ""


def test_a_session_goes_into_the_trash_and_comes_back(bench: Bench) -> None:
    bench.log_trial(trial(1))
    line = only(bench)
    notebook.put_away(bench.db, line.id, trashed=True)
    held = bench.notebook()
    assert (held.sessions, [s.id for s in held.trashed]) == ([], [line.id])
    assert bench.beliefs.tried().of, "its trials go on counting"
    notebook.put_away(bench.db, line.id, trashed=False)
    assert only(bench).id == line.id
    notebook.put_away(bench.db, line.id, trashed=True)
    assert notebook.empty_trash(bench.db) == 1
    assert bench.notebook().trashed == []
    assert bench.notebook("tern").sessions == []
    assert trial_store.one(bench.db.connection(), "trial-0001").session is None
    with pytest.raises(MissingError):
        notebook.one(bench.db, bench.beliefs, line.id, bench.on)


def picture(width: int = 3000, height: int = 2000, *, form: str = "JPEG") -> bytes:
    out = io.BytesIO()
    image = Image.linear_gradient("L").resize((width, height)).convert("RGB")
    exif = Image.Exif()
    exif[0x0112] = 6  # lies on its side
    exif[0x010F] = "maker of the phone"
    exif.get_ifd(0x8825)[2] = (53.0, 33.0, 0.0)  # latitude
    image.save(out, form, exif=exif)
    return out.getvalue()


def test_a_photo_is_turned_upright_sized_down_and_loses_where_it_was_taken(bench: Bench) -> None:
    bench.log_trial(trial(1))
    session = only(bench).id
    given = picture()
    assert Image.open(io.BytesIO(given)).getexif().get_ifd(0x8825)
    kept = photos.add(bench.db, session, given)
    assert (kept.width, kept.height) == (1067, 1600)
    for small in (False, True):
        image = Image.open(io.BytesIO(photos.read(bench.db, kept.id, small=small)))
        assert not image.getexif()
        assert image.info.keys() <= {"jfif", "jfif_version", "jfif_unit", "jfif_density"}
        assert image.height > image.width
    assert photos.add(bench.db, session, given) == kept, "the same photo twice is one"
    view = notebook.one(bench.db, bench.beliefs, session, bench.on)
    assert [p.id for p in view.photos] == [kept.id]


def test_a_photo_is_found_by_its_note_and_comes_back_from_the_trash(bench: Bench) -> None:
    bench.log_trial(trial(1))
    session = only(bench).id
    kept = photos.add(bench.db, session, picture(80, 60, form="PNG"))
    photos.mark(bench.db, kept.id, note=" Left cheek, too bright ")
    assert only(bench, "cheek").id == session
    photos.put_away(bench.db, kept.id, trashed=True)
    held = bench.notebook()
    assert [(p.id, p.note) for p in held.trashed_photos] == [(kept.id, "Left cheek, too bright")]
    assert bench.notebook("cheek").sessions == []
    photos.put_away(bench.db, kept.id, trashed=False)
    assert only(bench, "cheek").id == session
    photos.put_away(bench.db, kept.id, trashed=True)
    assert notebook.empty_trash(bench.db) == 1
    with pytest.raises(MissingError):
        photos.read(bench.db, kept.id, small=True)


@pytest.mark.parametrize("data", [b"", b"GIF89a not accepted", picture(40, 40)[:200], b"\x89PNG"])
def test_what_is_no_photo_is_refused_and_nothing_kept(bench: Bench, data: bytes) -> None:
    bench.log_trial(trial(1))
    session = only(bench).id
    with pytest.raises(PhotoError, match="JPEG, PNG and WebP"):
        photos.add(bench.db, session, data)
    assert notebook.one(bench.db, bench.beliefs, session, bench.on).photos == []
    with pytest.raises(MissingError):
        photos.add(bench.db, "no-session", picture(40, 40))


def test_a_page_tells_what_is_known_of_a_paint_and_an_airbrush(stocked: Bench) -> None:
    bench = stocked
    paint = next(c.paint for c in [_shelf_paint(bench)])
    for n in range(4):
        bench.log_trial(trial(n, "specks", paint=paint))
    page = known.paint_page(bench.db, bench.beliefs, paint)
    assert page.on_shelf
    assert page.colour
    [pair] = page.pairs
    assert len(pair.trials) == 4
    assert "4 trials" in pair.sure
    assert sum(pair.looks.model_dump().values()) == pytest.approx(1)
    assert [s.name for s in page.sessions] == [only(bench).name]
    brush = known.airbrush_page(bench.db, bench.beliefs, "all-round")
    assert [p.paint for p in brush.pairs] == [paint]
    listed = {(k.what, k.id): k.trials for k in known.known_list(bench.db).known}
    assert listed == {("paint", paint): 4, ("airbrush", "all-round"): 4}
    with pytest.raises(MissingError):
        known.paint_page(bench.db, bench.beliefs, "nobody-has-it")


class _Named:
    def __init__(self, paint: str) -> None:
        self.paint = paint


def _shelf_paint(bench: Bench) -> _Named:
    return _Named(bench.shelf().paints[0].id)


def test_days_pressed_before_there_was_a_notebook_come_into_it(
    bench: Bench, evening: Evening
) -> None:
    evening.all_of_it()
    before = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on)
    with bench.db.atomic() as tx:
        tx.execute("UPDATE trial SET session = NULL")
        tx.execute("DELETE FROM session")
    notebook.catch_up(bench.db)
    after = notebook.one(bench.db, bench.beliefs, only(bench).id, bench.on)
    assert after.told == before.told
    assert after.trials == before.trials
    assert (
        Plan.model_validate_json(sessions.one(bench.db.connection(), after.line.id).document or "")
        == evening.plan.plan
    )
    notebook.catch_up(bench.db)
    assert only(bench).id == after.line.id
