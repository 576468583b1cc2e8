"""What plans do on one piece, kept step by step so that a moved station redraws at once."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from haze.core.arrays import Floats, Longs
from haze.core.day.hands import Silhouette, silhouette_of
from haze.core.directions import Cone, is_free
from haze.core.film.skin import Skin, bare_skin, coated, seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.atoms import Atoms, samples
from haze.core.light.brush import settled
from haze.core.light.stations import Station
from haze.core.onpiece.aiming import AimedAt, AimedDeposit, lying_masks
from haze.core.onpiece.painting import (
    HandFilm,
    Laid,
    SprayedFilm,
    Spraying,
    sprayed_by,
    sprayed_film_um,
)
from haze.core.onpiece.parts import MirroredPair, mirrored
from haze.core.onpiece.stack import Laying, Stack
from haze.core.onpiece.wanted import WantedLight, place_weights, wish_of
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.mix import Mix
from haze.core.plan.roles import WASH_GATHERS
from haze.core.spray.calibrate import Known, nothing_known
from haze.core.spray.model import Outcome
from haze.service.piece.deposits import Deposits
from haze.service.piece.fields import Fields
from haze.service.piece.lit import Lit
from haze.service.piece.reach import Reach
from haze.service.piece.ready import ReadyPiece
from haze.service.work.memo import Memo

KEPT_OUTCOMES = 300
KEPT_FILMS = 60
KEPT_ATOMS = 2
KEPT_WISHES = 6
EVERYWHERE = slice(None)
KEPT_PIECES = 4


@dataclass(frozen=True, slots=True)
class Choices:
    """All that the stations to choose from depend on: where the sky is free, and the key lights."""

    cones: tuple[Cone, ...]
    lights: tuple[Station, ...]


@dataclass(frozen=True, slots=True)
class WishOn:
    """All that the wish of a plan depends on, but for the light coats' own films.

    `sampled` is whether at the samples only, `lights` are the plan's in words, `coarse` how many
    of them still come from the table, `steps` what each leaves, None for a light coat, and its mix.
    """

    sampled: bool
    surface: str
    height_mm: float
    lights: str
    coarse: int
    steps: tuple[tuple[Laid | None, Mix | None], ...]


@dataclass(frozen=True, slots=True)
class Layer:
    """A step on the piece: what its film depends on, its mix, its film, the surface after it."""

    laid: Laid | None
    mix: Mix | None
    film_um: Floats
    after: Skin


class OnPiece:
    """Films and surfaces of plans on one piece; safe to call from several threads."""

    def __init__(self, piece: ReadyPiece, known: Known = nothing_known) -> None:
        """`known` tells what trials say of a paint in an airbrush."""
        self.piece = piece
        self._known = known
        self.deposits = Deposits(piece)
        self.lit = Lit(self.deposits)
        self.reach = Reach(piece)
        self.fields = Fields(self.lit, self.reach)
        self._outcomes: Memo[Spraying, Outcome] = Memo(KEPT_OUTCOMES)
        self._films: Memo[Laid, Floats] = Memo(KEPT_FILMS)
        self._silhouettes: Memo[tuple[float, float], list[Silhouette]] = Memo(KEPT_OUTCOMES)
        self._wishes: Memo[WishOn, WantedLight] = Memo(KEPT_WISHES)
        self._atoms: Memo[Choices, Atoms] = Memo(KEPT_ATOMS)
        self._lock = threading.RLock()
        self._chain: list[Layer] = []
        self._ground: tuple[str, Skin] | None = None

    # spray --------------------------------------------------------------------------------------

    def outcome(self, plan: Plan, coat: Coat) -> Outcome:
        """What a coat's setting does."""
        return self._outcomes.of(self.spraying(plan, coat), Spraying.outcome)

    def spraying(self, plan: Plan, coat: Coat) -> Spraying:
        """How a coat is sprayed, with what is known of its paint in the plan's airbrush."""
        return Spraying.of(plan, coat, self._known(sprayed_by(coat, plan.airbrush)))

    def square_on_um(self, plan: Plan, step: Coat | HandStep) -> float:
        """Film [µm] a surface gets that faces a coat's busiest station, or a brush's full film."""
        if step.kind == "hand":
            return step.full_um
        return float(self.outcome(plan, step).dry_film_um) * step.most_passes

    def splat_um(self, plan: Plan, step: Coat | HandStep) -> float | None:
        """Dry thickness [µm] of one splat of a sprayed coat; a brush lays a closed film."""
        return None if step.kind == "hand" else float(self.outcome(plan, step).splat_dry_um)

    def silhouettes(self, azimuth_deg: float, elevation_deg: float) -> list[Silhouette]:
        """Outlines, in prepared units, of the groups of parts that are sprayed together."""
        return self._silhouettes.of((azimuth_deg, elevation_deg), self._outlines)

    def _outlines(self, seen_from: tuple[float, float]) -> list[Silhouette]:
        azimuth, elevation = seen_from
        return [
            silhouette_of(
                self.piece.mesh.vertices[members], azimuth_deg=azimuth, elevation_deg=elevation
            )
            for members in self.piece.spray_groups
        ]

    # films --------------------------------------------------------------------------------------

    def laid(self, plan: Plan, index: int) -> Laid | None:
        """All that the film of a step depends on; None when it is switched off."""
        step, parts = plan.coats[index], self.piece.parts_in(plan)
        if step.off:
            return None
        if step.kind == "hand":
            return HandFilm.of(step, plan, parts, lying_masks(plan, index, parts))
        aimed = None
        if step.aim:
            at = AimedAt.of(step.aim, plan, parts)
            deposit = AimedDeposit(at, step.spray.distance_mm, plan.piece.cones)
            aimed = (deposit, step.aim.passes)
        return SprayedFilm(
            spraying=self.spraying(plan, step).landing,
            swept=tuple((s.station, s.passes) for s in step.stations),
            fresh=tuple(self.deposits.is_fresh(s.station) for s in step.stations),
            aimed=aimed,
            washes=step.washes,
            masks=lying_masks(plan, index, parts),
        )

    def step_film(self, plan: Plan, index: int) -> Floats:
        """(n,) float32 [µm, dry]: what the step at an index leaves; none when it is off."""
        return self._film_of(self.laid(plan, index))

    def _film_of(self, laid: Laid | None) -> Floats:
        return self.piece.nothing() if laid is None else self._films.of(laid, self._film)

    def _film(self, laid: Laid) -> Floats:
        if isinstance(laid, HandFilm):
            film = self.fields.by_hand(laid) * np.float32(laid.full_um)
        else:
            film = self._sprayed(laid)
        if laid.washes:
            film = settled(
                film,
                cavity=1.0 - self.piece.openness,
                area=self.piece.mesh.vertex_area,
                gathers=WASH_GATHERS,
            )
        return film

    def _sprayed(self, laid: SprayedFilm) -> Floats:
        if laid.aimed:
            deposits = [self.fields.aimed(laid.aimed[0])]
        else:
            deposits = [self.deposits.spray(station) for station in laid.stations]
        return sprayed_film_um(
            laid.passes,
            outcome=self._outcomes.of(laid.spraying, Spraying.outcome),
            deposits=deposits,
            openness=self.piece.openness,
            mist_at=self.fields.mist_at(laid.aimed[0]) if laid.aimed else None,
            through=self.fields.through(laid.masks) if laid.masks else None,
        )

    # surfaces -----------------------------------------------------------------------------------

    def ground(self, plan: Plan) -> Skin:
        """The bare piece."""
        with self._lock:
            if self._ground is None or self._ground[0] != plan.piece.surface:
                start = bare_skin(plan.piece.surface, self.piece.size)
                self._ground = (plan.piece.surface, start)
                self._chain = []
            return self._ground[1]

    def layers(self, plan: Plan, count: int) -> list[Layer]:
        """The first steps on the piece; what lies below a change is not laid again."""
        with self._lock:
            skin = self.ground(plan)
            for i, step in enumerate(plan.coats[:count]):
                laid = self.laid(plan, i)
                held = self._chain[i] if i < len(self._chain) else None
                if held is None or held.laid != laid or held.mix != step.mix:
                    del self._chain[i:]
                    film = self._film_of(laid)
                    skin = self._coated(plan, step, skin, film)
                    self._chain.append(Layer(laid, step.mix, film, skin))
                skin = self._chain[i].after
            return self._chain[:count]

    def _coated(self, plan: Plan, step: Coat | HandStep, skin: Skin, film: Floats) -> Skin:
        if step.off or step.mix is None:
            return skin
        splat = self.splat_um(plan, step)
        return coated(skin, step.optics, film, droplet_um=splat, patch_um=step.patch_um)

    def with_films(self, plan: Plan, after: int, instead: Mapping[int, Floats]) -> Skin:
        """The surface after the first steps, the films of some of them others than they are."""
        layers, first = self.layers(plan, after), min(instead)
        skin = layers[first - 1].after if first else self.ground(plan)
        for i in range(first, after):
            film = instead.get(i, layers[i].film_um)
            skin = self._coated(plan, plan.coats[i], skin, film)
        return skin

    def below(self, plan: Plan, after: int) -> Skin:
        """The surface after the first steps."""
        layers = self.layers(plan, after)
        return layers[-1].after if layers else self.ground(plan)

    def total_film(self, plan: Plan, after: int) -> Floats:
        """(n,) float32 [µm, dry]: film of the first coats together."""
        total = self.piece.nothing()
        for layer in self.layers(plan, after):
            total = total + layer.film_um
        return total

    def sampled_skins(self, plan: Plan, count: int) -> list[Skin]:
        """The surface at the samples: bare, and after each of the first steps.

        A plan that is being tried does not push the painter's own coats out of the chain.
        """
        skin = bare_skin(plan.piece.surface, len(self.sampled))
        skins = [skin]
        for i, step in enumerate(plan.coats[:count]):
            skin = self._coated(plan, step, skin, self.step_film(plan, i)[self.sampled])
            skins.append(skin)
        return skins

    def sampled_without(self, plan: Plan, skins: list[Skin], left: int) -> Skin:
        """The surface at the samples at the end when one step is left out."""
        skin = skins[left]
        for i in range(left + 1, len(plan.coats)):
            film = self.step_film(plan, i)[self.sampled]
            skin = self._coated(plan, plan.coats[i], skin, film)
        return skin

    # light --------------------------------------------------------------------------------------

    def stack(
        self,
        plan: Plan,
        where: Longs | slice = EVERYWHERE,
        *,
        open_at: Sequence[int] | None = None,
    ) -> Stack:
        """The plan at some vertices, its light coats or the steps at `open_at` left open."""
        light = set(plan.light_coats() if open_at is None else open_at)
        skin = bare_skin(plan.piece.surface, len(np.arange(self.piece.size)[where]))
        return Stack(
            skin,
            [
                Laying(
                    step.optics,
                    self.splat_um(plan, step),
                    None if i in light else self.step_film(plan, i)[where],
                    step.patch_um,
                )
                for i, step in enumerate(plan.coats)
                if not step.off and step.mix is not None
            ],
        )

    def wish(self, plan: Plan, *, sampled: bool = False) -> WantedLight:
        """What the light wants, kept while nothing but the light coats' own films changes.

        Parameters
        ----------
        plan : the plan
        sampled : whether at the samples only, which is quicker
        """
        light = set(plan.light_coats())
        key = WishOn(
            sampled,
            plan.piece.surface,
            plan.piece.height_mm,
            repr(plan.lights),
            len(self.deposits.coarse_lights(plan)),
            tuple(
                (None if i in light else self.laid(plan, i), step.mix)
                for i, step in enumerate(plan.coats)
                if not step.off
            ),
        )
        where = self.sampled if sampled else EVERYWHERE
        return self._wishes.of(
            key, lambda _: wish_of(self.stack(plan, where), self.lit.value(plan)[where])
        )

    def place_weights(self, plan: Plan) -> Floats:
        """(n,) float32: how much each vertex counts for the light."""
        piece, nothing = self.piece, self.piece.nothing()
        other, masked = nothing, np.zeros(piece.size, dtype=bool)
        light = plan.light_coats()
        parts = piece.parts_in(plan)
        for i in light:
            for mask in lying_masks(plan, i, parts):
                masked |= self.fields.covered(mask)
        for i in range(light[-1] if light else len(plan.coats), len(plan.coats)):
            step = plan.coats[i]
            if not step.off and (step.aim or (step.kind == "hand" and not step.washes)):
                other = np.maximum(other, self.step_film(plan, i))
        glow = nothing
        for near in plan.glows:
            glow = glow + np.float32(near.strength) * self.lit.one(near, plan.piece.height_mm)
        return place_weights(
            show=piece.mesh.normals[:, 1] < 0,
            reached=piece.counted & ~masked & self.reach.reachable(plan.piece.cones),
            openness=piece.openness,
            glow=glow,
            other_um=other,
        )

    def off_plan(self, plan: Plan) -> Floats:
        """(n,) float32 [L*]: lightness at the end of the plan less what the light wants."""
        have = lightness_of_rgb(seen(self.below(plan, len(plan.coats))))
        return np.asarray(have - self.wish(plan).lightness, dtype=np.float32)

    # angles and parts ---------------------------------------------------------------------------

    @cached_property
    def sampled(self) -> Longs:
        """Vertices that stand for equal shares of the surface."""
        return samples(self.piece.mesh.vertex_area, self.piece.counted)

    @cached_property
    def pairs(self) -> list[MirroredPair]:
        """Parts that mirror each other."""
        return mirrored(self.piece.mesh, self.piece.part, len(self.piece.parts))

    def _choices(self, plan: Plan) -> Choices:
        cones = plan.piece.cones
        keys = [light.station for light in plan.lights if light.kind == "key"]
        free = tuple(k for k in keys if is_free(k.azimuth_deg, k.elevation_deg, cones))
        return Choices(cones, free)

    def has_atoms(self, plan: Plan) -> bool:
        """Whether the stations to choose from are collected already, or cannot be."""
        choices = self._choices(plan)
        return choices in self._atoms or not len(self.reach.free_rows(choices.cones))

    def atoms(self, plan: Plan) -> Atoms:
        """Stations to choose from for a plan's lights and blocked sectors."""
        return self._atoms.of(self._choices(plan), self._collected)

    def _collected(self, choices: Choices) -> Atoms:
        return Atoms(
            self.piece.table,
            rows=self.reach.free_rows(choices.cones),
            chosen=self.sampled,
            also=choices.lights,
        )


class Pieces:
    """What plans do on each piece, the last few pieces kept."""

    def __init__(self, known: Known = nothing_known) -> None:
        self._known = known
        self._held: Memo[str, OnPiece] = Memo(KEPT_PIECES)

    def of(self, piece: ReadyPiece) -> OnPiece:
        """What plans do on a piece."""
        return self._held.of(piece.key, lambda _: OnPiece(piece, self._known))
