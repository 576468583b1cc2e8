"""Colours of a plan on its piece, kept coat by coat so that a moved station redraws at once."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from threadpoolctl import threadpool_limits

from haze.core.film.spectra import decode_srgb, parse_hex
from haze.core.film.stack import (
    add_coat,
    encode_bytes,
    linear_rgb,
    start_ground,
    value_bytes,
)
from haze.core.plan.document import Coat, Plan, StationAt
from haze.core.plan.painting import coat_film_um, coat_outcome, optics_of, station_deposit
from haze.core.spray.model import Outcome
from haze.service.pieces import ReadyPiece

Look = Literal["as_painted", "value", "this_coat"]
Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]

KEPT_DEPOSITS = 120
KEPT_OUTCOMES = 200
UNCOATED_GREY = 0.03  # linear light of "nothing landed" in the look of one coat

# one product is small: a second BLAS thread only gets in its way
_single = threadpool_limits(limits=1, user_api="blas")


class Painter:
    """Films and colours of plans on one piece; safe to call from several threads."""

    def __init__(self, piece: ReadyPiece) -> None:
        self.piece = piece
        self._lock = threading.RLock()
        self._deposits: OrderedDict[tuple[float, float, float], Floats] = OrderedDict()
        self._outcomes: OrderedDict[str, Outcome] = OrderedDict()
        self._chain: list[tuple[str, Floats, Floats]] = []  # key, film, reflectance after it
        self._ground: tuple[str, Floats] | None = None

    def deposit(self, station: StationAt) -> Floats:
        """(n,) float32 [-]: what one pass from a station lands."""
        key = (station.azimuth_deg, station.elevation_deg, station.spread_deg)
        with self._lock:
            held = self._deposits.get(key)
            if held is None:
                held = station_deposit(self.piece.table, station)
                self._deposits[key] = held
                while len(self._deposits) > KEPT_DEPOSITS:
                    self._deposits.popitem(last=False)
            else:
                self._deposits.move_to_end(key)
            return held

    def outcome(self, plan: Plan, coat: Coat) -> Outcome:
        """The spray model's outcome of a coat, remembered by what it depends on."""
        key = "|".join(
            (
                coat.spray.model_dump_json(),
                coat.paint.kind,
                coat.thinner.kind,
                plan.room.model_dump_json(),
                str(plan.airbrush.needle_mm),
                str(max(s.passes for s in coat.stations)),
            )
        )
        with self._lock:
            held = self._outcomes.get(key)
            if held is None:
                held = coat_outcome(coat, airbrush=plan.airbrush, room=plan.room)
                self._outcomes[key] = held
                while len(self._outcomes) > KEPT_OUTCOMES:
                    self._outcomes.popitem(last=False)
            return held

    def film(self, plan: Plan, coat: Coat) -> Floats:
        """(n,) float32 [µm, dry]: film of one coat."""
        return coat_film_um(
            coat,
            outcome=self.outcome(plan, coat),
            deposits=[self.deposit(s) for s in coat.stations],
            openness=self.piece.openness,
        )

    def ground(self, plan: Plan) -> Floats:
        """(12, n) float32: the bare piece."""
        with self._lock:
            if self._ground is None or self._ground[0] != plan.piece.surface:
                start = start_ground(plan.piece.surface, len(self.piece.mesh.vertices))
                self._ground = (plan.piece.surface, start)
                self._chain = []
            return self._ground[1]

    def layers(self, plan: Plan, count: int) -> list[tuple[Floats, Floats]]:
        """Film [µm] and reflectance inside the binder after each of the first coats."""
        with self._lock:
            inside = self.ground(plan)
            for i, coat in enumerate(plan.coats[:count]):
                key = self._key(plan, coat)
                if i < len(self._chain) and self._chain[i][0] == key:
                    inside = self._chain[i][2]
                    continue
                del self._chain[i:]
                film = self.film(plan, coat)
                inside = add_coat(inside, optics_of(coat.paint), film)
                self._chain.append((key, film, inside))
            return [(film, after) for _, film, after in self._chain[:count]]

    def _key(self, plan: Plan, coat: Coat) -> str:
        return "|".join(
            (
                coat.model_dump_json(),
                plan.room.model_dump_json(),
                str(plan.airbrush.needle_mm),
            )
        )

    def linear(self, plan: Plan, after: int) -> Floats:
        """(3, n) float32: linear sRGB as seen after the first `after` coats."""
        layers = self.layers(plan, after)
        if not layers:
            return linear_rgb(self.ground(plan), "matt")
        return linear_rgb(layers[-1][1], plan.coats[after - 1].paint.finish)

    def colours(self, plan: Plan, *, after: int, look: Look) -> Bytes:
        """(n, 3) uint8: encoded sRGB of a look after the first `after` coats (0: bare piece)."""
        after = min(max(after, 0), len(plan.coats))
        if look == "this_coat":
            return self._this_coat(plan, after)
        linear = self.linear(plan, after)
        return value_bytes(linear) if look == "value" else encode_bytes(linear)

    def _this_coat(self, plan: Plan, after: int) -> Bytes:
        """Dark where nothing of the coat landed, its own colour where a square-on film lies."""
        n = len(self.piece.mesh.vertices)
        if after == 0:
            return encode_bytes(np.full((3, n), UNCOATED_GREY, dtype=np.float32))
        coat = plan.coats[after - 1]
        film = self.layers(plan, after)[-1][0]
        share = np.clip(film / max(square_on_um(coat, self.outcome(plan, coat)), 1e-6), 0, 1)
        own = decode_srgb(parse_hex(coat.paint.masstone)).astype(np.float32)
        # a dark paint would vanish against the uncoated grey: show it as light film instead
        shown = own if float(own.max()) > 0.12 else np.full(3, 0.6, dtype=np.float32)
        return encode_bytes(UNCOATED_GREY + share[None, :] * (shown[:, None] - UNCOATED_GREY))


def square_on_um(coat: Coat, outcome: Outcome) -> float:
    """Film [µm] a surface gets that faces the coat's busiest station square on."""
    return float(outcome.dry_film_um) * max(s.passes for s in coat.stations)


class Painters:
    """A painter per piece, the last few kept."""

    def __init__(self) -> None:
        self._held: OrderedDict[str, Painter] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, piece: ReadyPiece) -> Painter:
        """The painter of a piece."""
        with self._lock:
            held = self._held.get(piece.key)
            if held is None:
                held = Painter(piece)
                self._held[piece.key] = held
                while len(self._held) > 4:
                    self._held.popitem(last=False)
            else:
                self._held.move_to_end(piece.key)
            return held
