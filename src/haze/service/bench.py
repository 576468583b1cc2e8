"""The bench: one data folder, opened, with everything that works on it."""

from __future__ import annotations

from pathlib import Path

from haze.core.plan.document import Plan
from haze.service import plans
from haze.service.jobs import Jobs, JobView, Report
from haze.service.painter import Painter, Painters
from haze.service.pieces import Pieces, ReadyPiece, key_of, piece_key
from haze.store.connection import Database, MissingError


class Bench:
    """Database, cache, jobs and painters of one data folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.db = Database(folder)
        plans.stock(self.db)
        self.jobs = Jobs()
        self.pieces = Pieces(self.db, folder / "cache")
        self.painters = Painters()

    def close(self) -> None:
        """Stop jobs and close the database."""
        self.jobs.close()
        self.db.close()

    def prepare(
        self, mesh: str, *, up: str, show: str, turn_deg: float
    ) -> tuple[str, JobView | None]:
        """The piece's key, and the job that makes it when it is not ready."""
        key = piece_key(mesh, up=up, show=show, turn_deg=turn_deg)
        if self.pieces.ready(key) is not None:
            return key, None

        def work(report: Report) -> None:
            self.pieces.make(mesh, up=up, show=show, turn_deg=turn_deg, report=report)

        return key, self.jobs.start(key, "Waiting for its turn", work)

    def piece(self, key: str) -> ReadyPiece:
        """A piece that has been worked out; `MissingError` when it has not."""
        found = self.pieces.ready(key)
        if found is None:
            raise MissingError("This piece is not worked out yet.", field="piece")
        return found

    def painter(self, plan: Plan) -> Painter:
        """The painter of a plan's piece."""
        return self.painters.of(self.piece(key_of(plan.piece)))
