"""The bench: one data folder, opened, with everything that works on it."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from pathlib import Path

from haze.core.errors import HazeError
from haze.core.plan.document import Piece, Plan
from haze.service import shelf
from haze.service.angles import AnglesBody, work_out
from haze.service.colours import (
    RungsBody,
    ShelfLadder,
    ShelfMix,
    ladder_from,
    mix_from,
    put_on,
)
from haze.service.compare import StartBody, started
from haze.service.jobs import Jobs, JobView, Report
from haze.service.painter import Painter, Painters
from haze.service.parts import advice
from haze.service.pieces import Pieces, ReadyPiece, key_of
from haze.service.priming import (
    PrimingBody,
    PrimingPictureBody,
    compare_priming,
    priming_picture,
)
from haze.store.connection import Database, MissingError


class Bench:
    """Database, cache, jobs and painters of one data folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.db = Database(folder)
        shelf.stock(self.db)
        self.jobs = Jobs()
        self.pieces = Pieces(self.db, folder / "cache")
        self.painters = Painters()

    def close(self) -> None:
        """Stop jobs and close the database."""
        self.jobs.close()
        self.db.close()

    def prepare(self, piece: Piece) -> tuple[str, JobView | None]:
        """The piece's key, and the job that makes it when it is not ready."""
        key = key_of(piece)
        if self.pieces.ready(piece) is not None:
            return key, None

        def work(report: Report) -> None:
            self.pieces.make(piece, report)

        return key, self.jobs.start(key, "Waiting for its turn", work)

    def geometry(self, key: str) -> ReadyPiece:
        """A piece in memory by its key; `MissingError` when it is not there."""
        found = self.pieces.held(key)
        if found is None:
            raise MissingError("This piece is not worked out yet.", field="piece")
        return found

    def painter(self, plan: Plan) -> Painter:
        """The painter of a plan's piece."""
        ready = self.pieces.ready(plan.piece)
        if ready is None:
            raise MissingError("This piece is not worked out yet.", field="piece")
        return self.painters.of(ready)

    def smooth(self, plan: Plan) -> JobView | None:
        """The job that traces fresh rays for what was moved; None when all is smooth.

        It also collects the stations to choose from, so that the angles come at once when asked.
        """
        studio = self.painter(plan).studio
        wanted = studio.coarse(plan)
        if not wanted and studio.has_atoms(plan):
            return None

        def work(report: Report) -> None:
            studio.refresh(wanted, report)
            # with all of the sky blocked there are none; that is told when angles are asked for
            with suppress(HazeError):
                studio.atoms(plan)

        return self.jobs.start(
            f"smooth {key_of(plan.piece)} {wanted}", "Smoothing the shadows", work, beside=True
        )

    def advise(self, plan: Plan) -> JobView:
        """The job that tries each part off."""
        painter = self.painter(plan)
        key = f"advice {key_of(plan.piece)} {plan.piece.height_mm} {plan.piece.blocked}"
        return self.jobs.start(
            key, "Trying each part off", lambda report: advice(plan, painter, report)
        )

    def angles(self, wanted: AnglesBody) -> JobView:
        """The job that works out stations."""
        painter = self.painter(wanted.plan)
        key = f"angles {wanted.model_dump_json()}"
        return self.jobs.start(
            key, "Working out the angles", lambda report: work_out(wanted, painter, report)
        )

    def mixes(self, wish: ShelfMix) -> JobView:
        """The job that looks for mixes of owned paints."""
        owned = shelf.shelf_of(self.db)
        key = f"mix {wish.model_dump_json()} {_fingerprint(owned)}"
        return self.jobs.start(key, "Trying mixes", lambda report: mix_from(wish, owned, report))

    def ladder(self, wish: ShelfLadder) -> JobView:
        """The job that builds a ladder of owned paints."""
        owned = shelf.shelf_of(self.db)
        key = f"ladder {wish.model_dump_json()} {_fingerprint(owned)}"
        return self.jobs.start(key, "Trying rungs", lambda report: ladder_from(wish, owned, report))

    def rungs(self, body: RungsBody) -> JobView:
        """The job that finds stations for the rungs of a ladder."""
        painter, owned = self.painter(body.plan), shelf.shelf_of(self.db)
        key = f"rungs {body.model_dump_json()} {_fingerprint(owned)}"
        return self.jobs.start(
            key, "Finding stations", lambda report: put_on(body, painter, owned, report)
        )

    def sequence(self, body: StartBody) -> JobView:
        """The job that lays a whole sequence."""
        painter, owned = self.painter(body.plan), shelf.shelf_of(self.db)
        key = f"start {body.model_dump_json()} {_fingerprint(owned)}"
        return self.jobs.start(
            key, "Choosing paints", lambda report: started(body, painter, owned, report)
        )

    def priming(self, body: PrimingBody) -> JobView:
        """The job that compares ways to prime."""
        painter, owned = self.painter(body.plan), shelf.shelf_of(self.db)
        key = f"priming {body.model_dump_json()} {_fingerprint(owned)}"
        return self.jobs.start(
            key, "Trying three ways", lambda report: compare_priming(body, painter, owned, report)
        )

    def priming_picture(self, body: PrimingPictureBody) -> bytes:
        """PNG of the piece primed one way."""
        return priming_picture(body, self.painter(body.plan), shelf.shelf_of(self.db))


def _fingerprint(owned: shelf.Shelf) -> str:
    return hashlib.sha256(owned.model_dump_json().encode()).hexdigest()
