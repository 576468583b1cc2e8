"""The bench: one data folder, opened, with everything that works on it."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import IO, NamedTuple

from haze.core.errors import BlockedError, NoLightError
from haze.core.mesh.detail import FINE, Detail
from haze.core.mesh.frame import UpAxis, default_show
from haze.core.plan.document import Plan
from haze.core.plan.piece import Piece
from haze.service.booth.booth import EventsBody, EventsOut, learn_from_presses, take_events
from haze.service.booth.devices import Devices
from haze.service.booth.tablets import Tablets
from haze.service.colour.ladders import RungsBody, ShelfLadder, ladder_from, put_on
from haze.service.colour.mixes import ShelfMix, mix_from
from haze.service.cups import trials
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.trial_session import RoomThen
from haze.service.cups.trials import Taught, TrialBody
from haze.service.day import days
from haze.service.day.days import DayView, LayBody
from haze.service.files import taken as taken_files
from haze.service.files.taken import TakeBody, TakenIn
from haze.service.forms import settings
from haze.service.light.angles import AnglesBody, work_out
from haze.service.notebook.again import DoAgainBody, again
from haze.service.notebook.notebook import Notebook, Telling, catch_up, everything, summarise_all
from haze.service.piece import meshes
from haze.service.piece.cache import PieceCache
from haze.service.piece.files import clear_parts
from haze.service.piece.onpiece import OnPiece, Pieces
from haze.service.piece.parts import advice
from haze.service.piece.pictures import plain_picture
from haze.service.piece.ready import Stance, geometry_bytes, key_of, plain_bytes
from haze.service.plan import plans
from haze.service.plan.orders import orders_tried
from haze.service.plan.pictures import thumbnail
from haze.service.plan.plans import PlanSummary, Stands
from haze.service.plan.priming import (
    PrimingBody,
    PrimingPictureBody,
    compare_priming,
    priming_picture,
)
from haze.service.plan.sequence import StartBody, made_ready, started
from haze.service.plan.stands import keep_stands, known_stands, stands_of
from haze.service.plan.turntable import ShownBody, ShownForm, show, shown_as
from haze.service.shelf import shelf as shelves
from haze.service.shelf.shelf import Shelf, equip, shelf_of
from haze.service.work.jobs import Jobs, JobView, NotReadyError, Report
from haze.service.work.memo import Memo
from haze.service.work.news import News
from haze.service.work.urgent import Urgent
from haze.store import booth as events
from haze.store.connection import Database, MissingError

KEPT_STANDS = 500
log = logging.getLogger(__name__)


def _nobody(_: float, __: str) -> bool:
    """A report that nobody reads."""
    return True


class StandsOf(NamedTuple):
    """What a plan's standing depends on: the plan, and which trials count."""

    plan: str
    version: int
    taught: str


class Bench:
    """Database, cache, jobs and pieces of one data folder."""

    def __init__(self, folder: Path, *, ahead: bool = True, detail: Detail = FINE) -> None:
        """Open a data folder.

        Parameters
        ----------
        folder : made when it is not there
        ahead : whether pieces and pictures are worked out before anybody asks for them
        detail : how finely pieces are divided
        """
        self.folder = folder
        self._ahead = ahead
        self.db = Database(folder)
        equip(self.db)
        self.jobs = Jobs(self.db.translated)
        self.incoming = folder / "incoming"
        kept_in = folder / ("cache" if detail == FINE else "cache-coarse")
        self.cache = PieceCache(self.db, kept_in, detail=detail, waiting=self.jobs.idle)
        self.beliefs = Beliefs(self.db)
        self.pieces = Pieces(self.beliefs.of)
        self.news = News()
        self.urgent = Urgent()
        self.tablets = Tablets(self.db)
        self.devices = Devices()
        self.devices.switch(on=settings.read(self.db)["devices"] == "simulated")
        self._stands: Memo[StandsOf, Stands] = Memo(KEPT_STANDS)
        self.notices: list[str] = []  # what stands on every screen until Haze is restarted

    def tidy(self) -> None:
        """Clear what a cut left behind, and what of the cache is over its size; at start."""
        self.at_start("Files that a cut left behind", self._clear_left_over)
        self.at_start("The cache", self.cache.prune)
        self.at_start("The notebook", partial(catch_up, self.db))

    def _clear_left_over(self) -> None:
        for folder in (self.folder, self.incoming, *self.folder.glob("cache*")):
            clear_parts(folder)

    def at_start(self, what: str, work: Callable[[], object]) -> None:
        """Do work that a start can do without; when it fails a notice says so, and Haze starts.

        Parameters
        ----------
        what : begins the notice
        work : done now
        """
        try:
            work()
        except Exception:
            log.exception("at start: %s", what)
            self.notices.append(
                f"{what} could not be made ready when Haze started. What you made is safe; the "
                "details are in the log."
            )

    def close(self) -> None:
        """Stop jobs and close the database."""
        self.news.close()
        self.devices.close()
        self.jobs.close()
        self.db.close()

    def take_mesh(self, stream: IO[bytes], *, name: str) -> JobView:
        """Receive a mesh file; the job that checks and keeps it."""
        got = meshes.receive(self.incoming, stream)
        return self.jobs.start(
            f"mesh {got.path.name}",
            "Waiting for its turn",
            lambda report: meshes.take_in(self.db, got, name=name, report=report),
            ended=lambda: got.path.unlink(missing_ok=True),
        )

    def prepare(self, piece: Piece) -> tuple[str, JobView | None]:
        """The piece's key, and the job that makes it when it is not ready."""
        key = self.cache.key(key_of(piece))
        if self.cache.ready(piece) is not None:
            return key, None

        def work(report: Report) -> None:
            self.cache.make(piece, report)

        return key, self.jobs.start(key, "Waiting for its turn", work)

    def stand(self, mesh: str, up: UpAxis) -> JobView | None:
        """The job that prepares a mesh one way up, to be looked at; None when it is ready."""
        meshes.require(self.db, mesh)
        stance = Stance(mesh, up, default_show(up), 0.0)
        if self.cache.standing(stance) is not None:
            return None

        def work(report: Report) -> None:
            self.cache.surface(stance, report)

        return self.jobs.start(f"stand {stance}", "Reading the mesh", work)

    def standing_picture(self, mesh: str, up: UpAxis) -> bytes:
        """PNG of a mesh in plain grey, one way up; `MissingError` until it is prepared."""
        found = self.cache.standing(Stance(mesh, up, default_show(up), 0.0))
        if found is None:
            raise MissingError("This mesh is not prepared yet.", field="mesh")
        return plain_picture(found)

    def warm(self) -> None:
        """Read trials and shelf, work out all pieces and pictures, the newest first, unasked."""
        self.at_start("What there is", self._warm)

    def _warm(self) -> None:
        for day in events.days_untaught(self.db.connection()):
            self._learn_later(day)
        if not self._ahead:
            return
        self.jobs.start("trials", "Reading trials", self.beliefs.get_ready, turn="early")
        chips = partial(shelves.get_ready, self.db)
        self.jobs.start("shelf", "Laying out the shelf", chips, turn="early")
        for place, one in enumerate(plans.every(self.db)):
            made = partial(self._make, one.id)
            self.jobs.start(one.piece_key, "Getting ready", made, turn="early")
            if place == 0:  # the plan that is most likely opened next
                painted = partial(self._paint, one.id)
                self.jobs.start(f"colours {one.id}", "Painting it", painted, turn="early")
            pictured = partial(self._picture, one, self.cache.known(one.piece_key))
            self.jobs.start(f"picture {one.id}", "Painting it", pictured, turn="early")

    def stands(self, one: PlanSummary) -> Stands | None:
        """Where a plan stands when that is known; else it is worked out, and sent as news."""
        taught = self.beliefs.fingerprint
        key = StandsOf(one.id, one.version, taught)
        found = self._stands.find(key) or known_stands(one, self.cache.folder, taught=taught)
        if found is not None:
            self._stands.put(key, found)
        elif self.cache.known(one.piece_key):
            self.jobs.start(
                f"stands {one.id} {one.version}",
                "Looking it over",
                partial(self._look_over, one),
                turn="early",
            )
        return found

    def _look_over(self, one: PlanSummary, _: Report) -> None:
        view, taught = plans.open_plan(self.db, one.id), self.beliefs.fingerprint
        found = stands_of(view.plan, self.on(view.plan))
        if view.version == one.version:
            keep_stands(one, found, self.cache.folder, taught=taught)
        self._stands.put(StandsOf(one.id, view.version, taught), found)
        self.news.tell(one.id, view.version, by="")

    def _make(self, plan: str, report: Report) -> None:
        self.cache.make(plans.open_plan(self.db, plan).plan.piece, report)

    def _paint(self, identity: str, _: Report) -> None:
        plan = plans.open_plan(self.db, identity).plan
        self.on(plan).below(plan, len(plan.coats))

    def _picture(self, one: PlanSummary, known: bool, _: Report) -> None:
        self.thumbnail(plans.open_plan(self.db, one.id).plan)
        if not known:
            self.news.tell(one.id, one.version, by="")

    def geometry(self, key: str) -> bytes:
        """A piece for the browser: worked out, or plain as soon as its surface is prepared.

        `MissingError` when it is not there.
        """
        found = self.cache.held(key)
        if found is not None:
            return geometry_bytes(found)
        mesh = self.cache.plain(key)
        if mesh is None:
            raise MissingError("This piece is not worked out yet.", field="piece")
        return plain_bytes(mesh)

    def on(self, plan: Plan) -> OnPiece:
        """What plans do on a plan's piece; `NotReadyError` when it is not worked out."""
        ready = self.cache.ready(plan.piece)
        if ready is None:
            raise NotReadyError(plan.piece)
        return self.pieces.of(ready)

    def shelf(self) -> Shelf:
        """What stands on the shelf, as a plan would use it."""
        return shelf_of(self.db).knowing(self.beliefs.of)

    def smooth(self, plan: Plan) -> JobView | None:
        """The job that traces fresh rays for what was moved; None when all is smooth.

        Afterwards the stations to choose from are collected, so that the angles come at once when
        asked.
        """
        on = self.on(plan)
        wanted = on.deposits.coarse(plan)
        if not wanted:
            self._collect(plan, on)
            return None

        def work(report: Report) -> None:
            on.deposits.refresh(wanted, report)
            self._collect(plan, on)

        key = f"smooth {on.piece.key} {wanted}"
        return self.jobs.start(key, "Smoothing the shadows", work, turn="beside")

    def _collect(self, plan: Plan, on: OnPiece) -> None:
        if on.has_atoms(plan):
            return

        def work(report: Report) -> None:
            # with all of the sky blocked there are none; that is said when angles are asked for
            with suppress(BlockedError, NoLightError):
                on.atoms(plan)

        key = f"atoms {on.piece.key} {plan.piece.cones} {plan.lights}"
        self.jobs.start(key, "Collecting stations", work, turn="beside")

    def advise(self, plan: Plan) -> JobView:
        """The job that tries each part off."""
        on = self.on(plan)
        key = f"advice {on.piece.key} {plan.piece.height_mm} {plan.piece.cones}"
        return self.jobs.start(key, "Trying each part off", lambda report: advice(plan, on, report))

    def angles(self, wanted: AnglesBody) -> JobView:
        """The job that works out stations."""
        on = self.on(wanted.plan)
        key = f"angles {wanted.model_dump_json()}"
        return self.jobs.start(
            key, "Working out the angles", lambda report: work_out(wanted, on, report)
        )

    def mixes(self, wish: ShelfMix) -> JobView:
        """The job that looks for mixes of owned paints."""
        shelf = self.shelf()
        key = f"mix {wish.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(key, "Trying mixes", lambda report: mix_from(wish, shelf, report))

    def ladder(self, wish: ShelfLadder) -> JobView:
        """The job that builds a ladder of owned paints."""
        shelf = self.shelf()
        key = f"ladder {wish.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(key, "Trying rungs", lambda report: ladder_from(wish, shelf, report))

    def rungs(self, body: RungsBody) -> JobView:
        """The job that finds stations for the rungs of a ladder."""
        on, shelf = self.on(body.plan), self.shelf()
        key = f"rungs {body.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(
            key, "Finding stations", lambda report: put_on(body, on, shelf, report)
        )

    def sequence(self, body: StartBody) -> JobView:
        """The job that lays a whole sequence."""
        on, shelf = self.on(body.plan), self.shelf()
        key = f"start {body.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(
            key, "Choosing paints", lambda report: started(body, on, shelf, report)
        )

    def sequence_ahead(self, plan: Plan) -> JobView:
        """The early job that works out what a sequence will need."""
        on, shelf = self.on(plan), self.shelf()
        key = f"ahead {on.piece.key} {plan.schools} {plan.airbrush} {plan.room} {shelf.fingerprint}"
        return self.jobs.start(
            key,
            "Getting ready",
            lambda report: made_ready(plan, on, shelf, report),
            turn="early",
        )

    def orders(self, body: StartBody) -> JobView:
        """The job that lays a whole sequence by each order of colour."""
        on, shelf = self.on(body.plan), self.shelf()
        key = f"orders {body.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(
            key, "Trying all orders", lambda report: orders_tried(body, on, shelf, report)
        )

    def priming(self, body: PrimingBody) -> JobView:
        """The job that compares ways to prime."""
        on, shelf = self.on(body.plan), self.shelf()
        key = f"priming {body.model_dump_json()} {shelf.fingerprint}"
        return self.jobs.start(
            key, "Trying three ways", lambda report: compare_priming(body, on, shelf, report)
        )

    def priming_picture(self, body: PrimingPictureBody) -> bytes:
        """PNG of the piece primed one way."""
        return priming_picture(body, self.on(body.plan), self.shelf())

    def lay_day(self, day: str, body: LayBody) -> JobView:
        """The job that lays a day; when it is stopped, the best order so far is kept."""
        held = days.one(self.db, day)

        def work(report: Report) -> DayView:
            return days.lay(self.db, day, body, opened=self.opened, report=report)

        return self.jobs.start(f"day {day} {held.version} {body.near}", "Reading the plans", work)

    def take_file(self, body: TakeBody) -> JobView:
        """The job that takes a file in; what it brings is worked out unasked afterwards."""

        def work(report: Report) -> TakenIn:
            taken = taken_files.take_in(self.db, self.incoming, body, report)
            self.beliefs.changed()
            self.warm()
            return taken

        return self.jobs.start(f"file {body.token}", "Reading the file", work)

    def pictured(self, plan: Plan) -> bytes | None:
        """PNG of the piece as planned; None when it is not worked out."""
        try:
            return self.thumbnail(plan)
        except MissingError:
            return None

    def shown(self, plan: Plan, body: ShownBody) -> JobView:
        """The job that makes a turntable, or stills, of a plan; the file is `shown_file`."""
        on, path = self.on(plan), self.shown_file(plan, body.form)
        return self.jobs.start(
            f"shown {path.name}",
            "Painting it coat by coat",
            lambda report: show(plan, on, body.form, path, report),
        )

    def shown_file(self, plan: Plan, form: ShownForm) -> Path:
        """Where a turntable of a plan lies once it is made."""
        return shown_as(self.cache.folder, plan, form, self.beliefs.fingerprint)

    def again(self, body: DoAgainBody) -> JobView:
        """The job that does a plan again."""
        shelf = self.shelf()
        key = f"again {body.model_dump_json()} {shelf.fingerprint} {self.beliefs.fingerprint}"
        return self.jobs.start(
            key,
            "Reading what was done",
            lambda report: again(self.db, self.beliefs, shelf, body, self.opened, report),
        )

    def opened(self, plan: Plan, report: Report = _nobody) -> OnPiece:
        """What plans do on a plan's piece, worked out first where it was not."""
        self.cache.make(plan.piece, report)
        return self.on(plan)

    def take_presses(self, day: str, body: EventsBody) -> EventsOut:
        """Store what was pressed on a day, and learn from it, now or as soon as it can be."""
        said = self.devices.view().room
        room = None if said is None else RoomThen(**said.model_dump(), measured=True)
        taken = take_events(self.db, day, body, measured=room)
        try:
            learn_from_presses(self.db, self.beliefs, day, self.on)
        except NotReadyError:
            self._learn_later(day)
        return taken

    def _learn_later(self, day: str) -> None:
        def work(report: Report) -> None:
            opened = partial(self.opened, report=report)
            learn_from_presses(self.db, self.beliefs, day, opened)

        self.jobs.start(f"learn {day}", "Learning from cards", work, turn="early")

    def summarise_sessions(self) -> Telling:
        """Work out what came of sessions; those whose piece is not ready follow later."""
        found = summarise_all(self.db, self.on)
        if found.waiting:

            def work(report: Report) -> None:
                summarise_all(self.db, partial(self.opened, report=report))

            self.jobs.start("sessions", "Reading the notebook", work, turn="early")
        return found

    def notebook(self, find: str = "") -> Notebook:
        """All sessions, or those that are found by some words."""
        return everything(self.db, self.summarise_sessions().failed, find)

    def log_trial(self, body: TrialBody) -> Taught:
        """Keep a trial on card, and what it taught."""
        return trials.log(self.db, self.beliefs, body)

    def take_trial_back(self, trial: str, *, back: bool) -> Taught:
        """Let a trial no longer count, or count again."""
        return trials.take_back(self.db, self.beliefs, trial, back=back)

    def thumbnail(self, plan: Plan) -> bytes:
        """PNG of the piece as planned; `MissingError` until the piece is worked out."""
        return thumbnail(plan, self.on, self.cache.folder, taught=self.beliefs.fingerprint)
