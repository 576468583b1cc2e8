"""The piece as it is held for a side: seen from the airbrush, light where its spray lands."""

from __future__ import annotations

import numpy as np

from haze.core.errors import NotInPlanError
from haze.core.light.stations import Station
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of

WIDTH, HEIGHT = 560, 520
DARKEST, LIGHTEST = 34, 236
TURNED_DEG = 18.0  # looked at a little from the side, so that the spray's edge is seen


def hold_picture(plan: Plan, coat: str, station: str, on: OnPiece) -> bytes:
    """PNG of what a station of a coat reaches; `NotInPlanError` when there is none."""
    _, found = coat_at(plan, coat)
    at = next((s for s in found.stations if s.id == station), None)
    if at is None:
        raise NotInPlanError("This side is no longer in the plan.", field="station")
    landed = on.deposits.spray(Station(at.azimuth_deg, at.elevation_deg, at.spread_deg))
    share = np.clip(landed / max(float(np.quantile(landed, 0.98)), 1e-6), 0, 1)
    grey = (DARKEST + (LIGHTEST - DARKEST) * np.sqrt(share)).astype(np.uint8)
    return png_of(
        on.piece.mesh,
        np.repeat(grey[:, None], 3, axis=1),
        width=WIDTH,
        height=HEIGHT,
        azimuth_deg=at.azimuth_deg + TURNED_DEG,
        elevation_deg=float(np.clip(at.elevation_deg, -80, 80)),
    )
