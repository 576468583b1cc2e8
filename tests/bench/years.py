"""Two years of use: plans, sessions, trials, photos; how long every screen then takes."""

from __future__ import annotations

import hashlib
import io
import random
import sys
import threading
import time
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np
from figures import say
from PIL import Image

sys.path.insert(0, str(Path(__file__).parents[1]))

from haze.core.plan.document import Plan
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.cups.setting import AssessIn
from haze.service.files import upkeep
from haze.service.notebook.summary import CoatDone, Summary, TroubleMet, words_of
from haze.service.plan import plans
from haze.store import photos, sessions, trials
from haze.store.photos import PhotoRow
from haze.store.sessions import SessionRow
from haze.store.trials import TrialRow
from haze.web.app import create_app

PLANS, SESSIONS, TRIALS, PHOTOS = 80, 300, 2000, 400
SEED = 20
TIMES = 3
LOOKS = ("clean", "clean", "clean", "specks", "spiders", "dust")


def filled(bench: Bench) -> None:
    """Two years of a painter who is at the bench three evenings a week."""
    saltgate.load(bench.db)
    rng = random.Random(SEED)
    held = [plans.open_plan(bench.db, p.id) for p in plans.every(bench.db)]
    while len(held) < PLANS:
        one = rng.choice(held[:4]).plan.model_copy(update={"name": f"Plan {len(held)}"})
        held.append(plans.add(bench.db, one, what="Begun"))
    for view in held:
        version, plan = view.version, view.plan
        for n in range(12):
            plan = plan.model_copy(update={"name": f"{view.plan.name} {n}"})
            version = plans.save(
                bench.db, view.id, version=version, plan=plan, what="Moved"
            ).version
    own = _sessions(bench, [v.plan for v in held], [v.id for v in held], rng)
    _trials(bench, [v.plan for v in held[:4]], own, rng)
    _photos(bench, own, rng)


def _sessions(bench: Bench, documents: list[Plan], ids: list[str], rng: random.Random) -> list[str]:
    own = []
    with bench.db.atomic() as tx:
        for n in range(SESSIONS):
            at = rng.randrange(len(documents))
            plan, day = documents[at], date(2024, 12, 1) + timedelta(days=2 * n)
            told = Summary(
                minutes=rng.uniform(40, 300),
                planned_min=rng.uniform(40, 300),
                coats=[
                    CoatDone(
                        id=c.id,
                        name=c.name,
                        colour="#4b5a35",
                        planned=c.spray,
                        planned_rounds=4,
                        done=c.spray,
                        done_rounds=4,
                        planned_min=10,
                        done_min=11,
                        copies=1,
                        skipped=False,
                        again=0,
                    )
                    for c in plan.sprayed
                ],
                copies_done=plan.piece.copies,
                copies=plan.piece.copies,
                wrong=[],
                troubles=[TroubleMet(coat=plan.sprayed[0].name, symptom="Visible specks")]
                * (n % 3),
                cards=2,
                piece=plan.piece.name,
                airbrush=plan.airbrush.name,
            )
            row = SessionRow(
                id=f"session-{n:04}",
                kind="booth",
                date=day.isoformat(),
                began_at=f"{day}T18:00:00.000+00:00",
                ended_at=f"{day}T21:00:00.000+00:00",
                name=plan.name,
                plan=ids[at],
                document=plan.model_dump_json(),
                mesh=plan.piece.mesh,
                note=f"evening {n}, the {rng.choice(['cold', 'damp', 'warm'])} room",
            )
            sessions.add(tx, row)
            sessions.tell(
                tx, row.id, told=told.model_dump_json(), words=words_of(row, told, [], [])
            )
            own.append(row.id)
    return own


def _trials(bench: Bench, documents: list[Plan], own: list[str], rng: random.Random) -> None:
    coats = [(p, c) for p in documents for c in p.sprayed]
    with bench.db.atomic() as tx:
        for n in range(TRIALS):
            plan, coat = rng.choice(coats)
            s = coat.spray
            setting = AssessIn.model_validate(
                {
                    "paint": {"kind": coat.paint.kind},
                    "thinner": coat.thinner.kind,
                    "thinner_parts": s.thinner_parts,
                    "needle_mm": plan.airbrush.needle_mm,
                    "trigger": s.trigger,
                    "pressure_psi": min(40, s.pressure_psi * rng.uniform(0.7, 1.4)),
                    "distance_mm": s.distance_mm,
                    "speed_mm_s": s.speed_mm_s,
                }
            )
            trials.add(
                tx,
                TrialRow(
                    id=f"trial-{n:06}",
                    paint=coat.paint.id,
                    paint_name=coat.paint.name,
                    kind=coat.paint.kind,
                    airbrush=plan.airbrush.id,
                    airbrush_name=plan.airbrush.name,
                    needle_mm=plan.airbrush.needle_mm,
                    setting=setting.model_dump_json(),
                    look=rng.choice(LOOKS),
                    at=f"2025-06-01T18:{n // 60 % 60:02}:{n % 60:02}.000+00:00",
                    session=rng.choice(own),
                ),
            )


def _photos(bench: Bench, own: list[str], rng: random.Random) -> None:
    noise = np.random.default_rng(SEED)
    with bench.db.atomic() as tx:
        for n in range(PHOTOS):
            rough = noise.integers(0, 255, (75, 100, 3), dtype=np.uint8)
            image = Image.fromarray(rough).resize((1600, 1200))
            out, small = io.BytesIO(), io.BytesIO()
            image.save(out, "JPEG", quality=84)
            image.resize((360, 270)).save(small, "JPEG", quality=84)
            data = out.getvalue()
            row = PhotoRow(
                id=f"photo-{n:05}",
                session=rng.choice(own),
                at="2025-06-01T18:00:00.000+00:00",
                hash=hashlib.sha256(data).hexdigest(),
                width=1600,
                height=1200,
            )
            photos.add(tx, row, data=data, small=small.getvalue())


def took_ms(work: Any) -> float:
    """The median of a few goes; the first of them warms what a painter has warm too."""
    work()
    found = []
    for _ in range(TIMES):
        begin = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - begin))
    return sorted(found)[TIMES // 2]


def years(folder: Path) -> None:
    """Print how long every screen's requests take after two years, and how large it all is."""
    bench = Bench(folder)
    try:
        filled(bench)
        bench.beliefs.changed()
        client = create_app(bench).test_client()
        first = plans.every(bench.db)[0].id
        paint = next(p for p in bench.shelf().paints if p.name == "Tern White").id
        made = f"{PLANS} plans, {SESSIONS} sessions"
        say("two years of use", made, f"{TRIALS} trials, {PHOTOS} photos")
        begin = time.perf_counter()
        bench.beliefs.get_ready(lambda *_: True)
        say("  trials read at start, beside", f"{time.perf_counter() - begin:.1f} s", "told")
        for name, path in (  # every screen's first request
            ("Plans", "plans"),
            ("Shelf", "shelf/screen"),
            ("Notebook", "notebook"),
            ("search", "notebook?find=damp+specks"),
            ("a session", "sessions/session-0007"),
            ("what is known", "notebook/known"),
            ("a paint", f"notebook/paint/{paint}"),
            ("an airbrush", f"notebook/airbrush/{bench.shelf().airbrushes[0].id}"),
            ("a plan", f"plans/{first}"),
            ("Settings", "data"),
        ):

            def get(path: str = path) -> None:
                answer = client.get(f"/api/{path}", headers={"Host": "127.0.0.1:8760"})
                assert answer.status_code == 200, answer.text

            say(f"  {name}", f"{took_ms(get):.0f} ms", "100 ms" if name == "search" else "500 ms")
        size = upkeep.data_view(bench.db, folder).database_bytes
        say("  database", f"{size / 2**20:.0f} MiB", "told")
        _backed_up(bench, folder)
    finally:
        bench.close()


def _backed_up(bench: Bench, folder: Path) -> None:
    """A backup while a second hand writes without pause; then it is checked."""
    target, stop, wrote = folder / "backup.sqlite3", threading.Event(), []

    def write() -> None:
        while not stop.is_set():
            with bench.db.atomic() as tx:
                sessions.mark(tx, "session-0001", note=f"written {len(wrote)}", rating=3)
            wrote.append(1)

    hand = threading.Thread(target=write)
    hand.start()
    begin = time.perf_counter()
    upkeep.backup_to(bench.db, target)
    seconds = time.perf_counter() - begin
    stop.set()
    hand.join()
    found = upkeep.check(target)
    state = "sound" if found.ok else "; ".join(found.faults)
    say("  backup, then checked", f"{seconds:.1f} s, {state}", f"sound beside {len(wrote)} writes")
