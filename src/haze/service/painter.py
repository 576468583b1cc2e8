"""Colours of a plan on its piece, kept coat by coat so that a moved station redraws at once."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Literal, TypeVar, cast

import numpy as np
from numpy.typing import NDArray
from threadpoolctl import threadpool_limits

from haze.core.film.difference import luminance_of_lightness
from haze.core.film.skin import Skin, bare_skin, coated, seen
from haze.core.film.spectra import decode_srgb, parse_hex
from haze.core.film.stack import encode_bytes, lightness_of_rgb, value_bytes
from haze.core.light.brush import settled
from haze.core.light.reach import bare
from haze.core.plan.document import Coat, HandStep, Plan, StationAt
from haze.core.plan.painting import coat_film_um, coat_optics, coat_outcome, mix_hex
from haze.core.plan.roles import HANDS, WASH_GATHERS, is_wash
from haze.core.plan.wanted import lightness_range, wanted_lightness
from haze.core.spray.model import Outcome
from haze.service.pieces import ReadyPiece
from haze.service.remember import remembered
from haze.service.studio import Studio

Look = Literal[
    "as_painted", "value", "this_coat", "reach", "still_bare", "light_wanted", "off_plan"
]
Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]
T = TypeVar("T")

KEPT_ANSWERS = 600
KEPT_FILMS = 60
UNCOATED_GREY = 0.03  # linear light of "nothing landed" in the look of one coat
DARK_SIGN, LIGHT_SIGN = 0.02, 0.62  # linear light of "no" and "yes" in looks that answer one
OFF_FULL = 40.0  # L* off plan at which the look is fully dark or fully light

# one product is small: a second BLAS thread only gets in its way
_single = threadpool_limits(limits=1, user_api="blas")


class Painter:
    """Films and colours of plans on one piece; safe to call from several threads."""

    def __init__(self, piece: ReadyPiece) -> None:
        self.piece = piece
        self.studio = Studio(piece)
        self._lock = threading.RLock()
        self._said: OrderedDict[str, object] = OrderedDict()
        self._films: OrderedDict[str, Floats] = OrderedDict()
        self._chain: list[tuple[str, Floats, Skin]] = []  # key, film, the surface after it
        self._ground: tuple[str, Skin] | None = None

    def deposit(self, station: StationAt) -> Floats:
        """(n,) float32 [-]: what one pass from a station lands."""
        return self.studio.deposit(station.azimuth_deg, station.elevation_deg, station.spread_deg)

    def outcome_key(self, plan: Plan, coat: Coat) -> str:
        """All that the spray model's outcome of a coat depends on."""
        return "|".join(
            (
                coat.spray.model_dump_json(),
                coat.paint.kind,
                coat.thinner.kind,
                plan.room.model_dump_json(),
                str(plan.airbrush.needle_mm),
                str(coat.most_passes),
            )
        )

    def outcome(self, plan: Plan, coat: Coat) -> Outcome:
        """What a coat's setting does, remembered."""
        return self.remembered(
            f"outcome {self.outcome_key(plan, coat)}",
            lambda: coat_outcome(coat, airbrush=plan.airbrush, room=plan.room),
        )

    def remembered(self, key: str, make: Callable[[], T]) -> T:
        """What was worked out before for the same key, or now."""
        with self._lock:
            return cast(T, remembered(self._said, key, make, KEPT_ANSWERS))

    def step_film(self, plan: Plan, index: int) -> Floats:
        """(n,) float32 [µm, dry]: what the step at an index leaves; none when it is off."""
        step = plan.coats[index]
        if step.off:
            return np.zeros(len(self.piece.mesh.vertices), dtype=np.float32)
        film = self.film(plan, step) if step.kind == "spray" else self.brushed(plan, step)
        if is_wash(step):
            film = settled(
                film,
                cavity=1.0 - self.piece.openness,
                area=self.piece.mesh.vertex_area,
                gathers=WASH_GATHERS,
            )
        covered = self.studio.masked(plan, index) if step.kind == "spray" else None
        return film if covered is None else np.where(covered, np.float32(0), film)

    def brushed(self, plan: Plan, step: HandStep) -> Floats:
        """(n,) float32 [µm, dry]: film of a step by hand."""
        full = np.float32(HANDS[step.role].film_um * step.strength)
        return self.studio.brushed(plan, step) * full

    def film(self, plan: Plan, coat: Coat) -> Floats:
        """(n,) float32 [µm, dry]: film of one sprayed coat."""
        if coat.aim:
            landed = self.studio.aimed(plan, coat)
            area = self.piece.mesh.vertex_area
            share = float((area * landed).sum() / area.sum())
            deposits, sprayed = [landed], share
        else:
            deposits, sprayed = [self.deposit(s) for s in coat.stations], 1.0
        return coat_film_um(
            coat,
            outcome=self.outcome(plan, coat),
            deposits=deposits,
            openness=self.piece.openness,
            sprayed_share=sprayed,
        )

    def ground(self, plan: Plan) -> Skin:
        """The bare piece."""
        with self._lock:
            if self._ground is None or self._ground[0] != plan.piece.surface:
                start = bare_skin(plan.piece.surface, len(self.piece.mesh.vertices))
                self._ground = (plan.piece.surface, start)
                self._chain = []
            return self._ground[1]

    def layers(self, plan: Plan, count: int) -> list[tuple[Floats, Skin]]:
        """Film [µm] and the surface after each of the first steps."""
        with self._lock:
            skin = self.ground(plan)
            for i, step in enumerate(plan.coats[:count]):
                key = self._key(plan, i)
                if i < len(self._chain) and self._chain[i][0] == key:
                    skin = self._chain[i][2]
                    continue
                film_key = self._film_key(plan, i)
                film = self._films.get(film_key)
                if film is None:
                    film = self.step_film(plan, i)
                del self._chain[i:]
                skin = self._laid(plan, step, skin, film)
                self._chain.append((key, film, skin))
                self._films[film_key] = film
                while len(self._films) > KEPT_FILMS:
                    self._films.popitem(last=False)
            return [(film, after) for _, film, after in self._chain[:count]]

    def _laid(self, plan: Plan, step: Coat | HandStep, skin: Skin, film: Floats) -> Skin:
        if step.off or (step.kind == "hand" and step.paint is None):
            return skin
        return coated(skin, coat_optics(step), film, droplet_um=self.splat_um(plan, step))

    def splat_um(self, plan: Plan, step: Coat | HandStep) -> float | None:
        """Dry thickness [µm] of one splat of a sprayed coat; a brush lays a closed film."""
        if step.kind == "hand":
            return None
        return float(self.outcome(plan, step).splat_dry_um)

    def _film_key(self, plan: Plan, index: int) -> str:
        """All that the film of a step depends on; its colour is not among it."""
        step = plan.coats[index]
        if step.kind == "hand":
            own = step.model_dump_json(include={"role", "strength", "part", "off"})
            return f"{own} {self.studio.aim_key(plan, step)}"
        fresh = [
            self.studio.is_fresh(s.azimuth_deg, s.elevation_deg, s.spread_deg)
            for s in step.stations
        ]
        covered = [
            (s.role, s.part)
            for s in plan.coats[:index]
            if s.kind == "hand" and not s.off and s.part
        ]
        return "|".join(
            (
                step.model_dump_json(include={"task", "off", "spray", "stations", "aim"}),
                step.paint.kind,
                step.thinner.kind,
                plan.room.model_dump_json(),
                str(plan.airbrush.needle_mm),
                str(fresh),
                str(covered),
                self.studio.aim_key(plan, step) if step.aim else "",
            )
        )

    def _key(self, plan: Plan, index: int) -> str:
        step = plan.coats[index]
        colour = step.model_dump_json(include={"paint", "drops", "also"})
        return f"{self._film_key(plan, index)} {colour}"

    def below(self, plan: Plan, after: int) -> Skin:
        """The surface after the first steps."""
        layers = self.layers(plan, after)
        return layers[-1][1] if layers else self.ground(plan)

    def linear(self, plan: Plan, after: int) -> Floats:
        """(3, n) float32: linear sRGB as seen after the first `after` steps."""
        return seen(self.below(plan, after))

    def colours(self, plan: Plan, *, after: int, look: Look) -> Bytes:
        """(n, 3) uint8: encoded sRGB of a look after the first `after` coats (0: bare piece)."""
        after = min(max(after, 0), len(plan.coats))
        if look == "this_coat":
            return self._this_coat(plan, after)
        if look == "reach":
            return self._sign(self.studio.reachable(plan.piece.blocked))
        if look == "still_bare":
            return self._sign(~bare(self.total_film(plan, after)))
        if look == "light_wanted":
            return encode_bytes(self.studio.light_colour(plan))
        if look == "off_plan":
            off = self.off_plan(plan, after) / OFF_FULL
            grey = luminance_of_lightness(50 + 42 * np.clip(off, -1, 1)).astype(np.float32)
            return encode_bytes(np.broadcast_to(grey, (3, len(grey))))
        linear = self.linear(plan, after)
        return value_bytes(linear) if look == "value" else encode_bytes(linear)

    def sheen(self, plan: Plan, *, after: int, look: Look) -> Bytes | None:
        """(n,) uint8: how much of each vertex is metal; None where a look shows none."""
        metal = self.below(plan, min(max(after, 0), len(plan.coats))).metal
        if look != "as_painted" or not metal.any():
            return None
        return np.asarray(np.round(np.clip(metal, 0, 1) * 255), dtype=np.uint8)

    def _sign(self, yes: NDArray[np.bool_]) -> Bytes:
        grey = np.where(yes, LIGHT_SIGN, DARK_SIGN).astype(np.float32)
        return encode_bytes(np.broadcast_to(grey, (3, len(grey))))

    def total_film(self, plan: Plan, after: int) -> Floats:
        """(n,) float32 [µm, dry]: film of the first coats together."""
        total = np.zeros(len(self.piece.mesh.vertices), dtype=np.float32)
        for film, _ in self.layers(plan, after):
            total = total + film
        return total

    def lightness_ends(self, plan: Plan) -> tuple[float, float]:
        """Dark and light end [L*] of the plan: what lies under its light coats, and the last."""
        light = [c for c in plan.sprayed if c.task == "light" and not c.off]
        first = plan.coats.index(light[0]) if light else min(1, len(plan.coats))
        below = lightness_of_rgb(self.linear(plan, first))
        weight = np.where(self.piece.counted, self.piece.mesh.vertex_area, 0).astype(np.float32)
        return lightness_range(below, weight=weight, light_coats=light)

    def off_plan(self, plan: Plan, after: int) -> Floats:
        """(n,) float32 [L*]: predicted less wanted lightness after the first coats."""
        dark, light = self.lightness_ends(plan)
        wanted = wanted_lightness(self.studio.light_value(plan), dark=dark, light=light)
        return np.asarray(lightness_of_rgb(self.linear(plan, after)) - wanted, dtype=np.float32)

    def _this_coat(self, plan: Plan, after: int) -> Bytes:
        """Dark where nothing of the coat landed, its own colour where a square-on film lies."""
        n = len(self.piece.mesh.vertices)
        if after == 0:
            return encode_bytes(np.full((3, n), UNCOATED_GREY, dtype=np.float32))
        step = plan.coats[after - 1]
        film = self.layers(plan, after)[-1][0]
        share = np.clip(film / max(self.square_on_um(plan, step), 1e-6), 0, 1)
        own = decode_srgb(parse_hex(mix_hex(step) or "#808080")).astype(np.float32)
        # a dark paint would vanish against the uncoated grey: show it as light film instead
        shown = own if float(own.max()) > 0.12 else np.full(3, 0.6, dtype=np.float32)
        return encode_bytes(UNCOATED_GREY + share[None, :] * (shown[:, None] - UNCOATED_GREY))

    def square_on_um(self, plan: Plan, step: Coat | HandStep) -> float:
        """Film [µm] a surface gets that faces a coat's busiest station, or a brush's full film."""
        if step.kind == "hand":
            return HANDS[step.role].film_um * step.strength
        return float(self.outcome(plan, step).dry_film_um) * step.most_passes


def sampled_skins(plan: Plan, count: int, painter: Painter) -> list[Skin]:
    """The surface at the studio's samples: bare, and after each of the first steps.

    Films come fresh from the stations, so that a plan that is being tried does not push the
    painter's own coats out of the chain.
    """
    at = painter.studio.sampled
    skin = bare_skin(plan.piece.surface, len(at))
    skins = [skin]
    for i, step in enumerate(plan.coats[:count]):
        if not step.off and (step.kind == "spray" or step.paint is not None):
            film = painter.step_film(plan, i)[at]
            droplet = painter.splat_um(plan, step)
            skin = coated(skin, coat_optics(step), film, droplet_um=droplet)
        skins.append(skin)
    return skins


class Painters:
    """A painter per piece, the last few kept."""

    def __init__(self) -> None:
        self._held: OrderedDict[str, Painter] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, piece: ReadyPiece) -> Painter:
        """The painter of a piece."""
        with self._lock:
            return remembered(self._held, piece.key, lambda: Painter(piece), 4)
