"""Pieces over their cache folder."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from haze.core.errors import CancelledError
from haze.service.bench import Bench
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.plans import PlanView
from helpers import ended


def test_pieces_come_back_from_the_cache_and_survive_its_loss(
    bench: Bench, cone: PlanView, on_cone: OnPiece, tmp_path: Path
) -> None:
    piece = cone.plan.piece
    bench.cache._held.clear()
    again = bench.cache.ready(piece)
    assert again is not None
    assert np.array_equal(again.table, on_cone.piece.table)
    for ending in ("npz", "npy"):
        file = next(bench.cache.folder.glob(f"*.{ending}"))
        file.write_bytes(file.read_bytes()[:1000])
        bench.cache._held.clear()
        assert bench.cache.ready(piece) is None
        assert not file.exists()
        bench.cache.make(piece, lambda *_: True)
        assert bench.cache.ready(piece) is not None


def test_a_piece_is_made_by_a_job_that_tells_its_progress(bench: Bench, cone: PlanView) -> None:
    piece = cone.plan.piece
    key, job = bench.prepare(piece)
    assert job is not None
    _, same = bench.prepare(piece)
    assert same is None or same.id == job.id
    assert ended(bench.jobs, job).progress == 1
    assert bench.prepare(piece) == (key, None)


def test_a_stopped_job_leaves_no_piece(bench: Bench, cone: PlanView) -> None:
    with pytest.raises(CancelledError):
        bench.cache.make(cone.plan.piece, lambda *_: False)
    assert list(bench.cache.folder.glob("*")) == []
