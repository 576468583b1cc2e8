"""A plan done again: every coat is set again where what it depends on has changed.

What worked is kept: a coat whose paint, thinner, needle and room are as they were, and of which no
trial has said anything new, keeps its setting. Else the school's recipe is found for what is used
now, and its rounds change so that the same film lies (film per pass: models.md part A).
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass, field

from haze.core.drafting.recipes import schools_for, spray_of
from haze.core.drafting.stock import Stock, own_thinner
from haze.core.errors import NothingFitsError
from haze.core.onpiece.painting import Spraying, sprayed_by
from haze.core.plan.base import Point
from haze.core.plan.coat import Aim, Coat, HandStep, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import with_rounds
from haze.core.plan.lights import GlowLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, ThinnerUsed
from haze.core.plan.piece import Piece, Room
from haze.core.plan.roles import SPRAYED, TaskName, recipe_task
from haze.core.repeat.substitutes import substitute
from haze.core.spray.calibrate import PaintThrough, believed
from haze.core.spray.constants import PAINTS, THINNERS, suits
from haze.core.spray.recipe import NoRecipe, find_recipe

ASKED = "as you asked"
LEAST_UM = 1e-3
AS_ON_SHELF = "as it stands on the shelf now"
Moved = Callable[[Point], Point]
OwnWay = Callable[[PaintThrough, TaskName], SprayAt | None]


def no_way(pair: PaintThrough, task: TaskName) -> SprayAt | None:
    """Of a painter without own settings: None.

    Parameters
    ----------
    pair : paint and needle
    task : what it is for
    """
    del pair, task
    return None


@dataclass(frozen=True, slots=True)
class _Old:
    """A coat as it was, with its plan."""

    plan: Plan
    coat: Coat


@dataclass(frozen=True, slots=True)
class _Since:
    """What has been learned and kept since then."""

    taught: Collection[PaintThrough]
    own_way: OwnWay


@dataclass(frozen=True, slots=True)
class Changes:
    """What is other this time; None leaves it as it was.

    Parameters
    ----------
    name : of the new plan
    piece : what it is sprayed on
    copies : of the piece
    airbrush : with its needle
    room : where it is sprayed
    """

    name: str
    piece: Piece | None = None
    copies: int | None = None
    airbrush: AirbrushUsed | None = None
    room: Room | None = None


@dataclass(slots=True)
class Repeated:
    """The plan as it is done this time.

    Parameters
    ----------
    plan : the new one
    why : why something differs, by its path in the document (such as "coats.c1.spray")
    problems : what could not be done again, as sentences
    """

    plan: Plan
    why: dict[str, str] = field(default_factory=dict)
    problems: list[str] = field(default_factory=list)


def repeated(
    plan: Plan,
    wish: Changes,
    stock: Stock,
    *,
    moved: Moved | None = None,
    taught: Collection[PaintThrough] = (),
    own_way: OwnWay = no_way,
) -> Repeated:
    """A plan done again.

    Parameters
    ----------
    plan : as it was done
    wish : what is other this time
    stock : what is on the shelf, and what trials say of it
    moved : where a point of the old mesh lies in the new one, in the axes and units of each file
    taught : paints and needles of which there are trials since then
    own_way : the painter's own setting of a paint through a needle for a task
    """
    done = Repeated(plan.model_copy(update={"name": wish.name}), {"name": ASKED})
    _piece(plan, wish, done, moved)
    if wish.airbrush is not None:
        done.plan = done.plan.model_copy(update={"airbrush": wish.airbrush})
        done.why["airbrush"] = ASKED
    if wish.room is not None:
        done.plan = done.plan.model_copy(update={"room": wish.room})
        done.why["room"] = ASKED
    since = _Since(taught, own_way)
    for step in plan.coats:
        now = next(c for c in done.plan.coats if c.id == step.id)
        fresh = (
            _sprayed(_Old(plan, step), now, done, stock, since)
            if step.kind == "spray" and now.kind == "spray"
            else _by_hand(now, done, stock)
        )
        coats = [fresh if c.id == step.id else c for c in done.plan.coats]
        done.plan = done.plan.model_copy(update={"coats": coats})
    done.plan = Plan.model_validate(done.plan.model_dump())
    return done


def _piece(plan: Plan, wish: Changes, done: Repeated, moved: Moved | None) -> None:
    piece = wish.piece or plan.piece
    if wish.copies is not None:
        piece = piece.model_copy(update={"copies": wish.copies})
    done.why["piece"] = ASKED
    coats: list[Coat | HandStep] = list(plan.coats)
    lights = list(plan.lights)
    if wish.piece is not None and wish.piece.mesh != plan.piece.mesh:
        coats = [_on_part(plan.piece, piece, step, done) for step in coats]
        if moved is not None:
            coats = [_ramp(step, moved, done) for step in coats]
            lights = [_glow(light, moved) if light.kind == "glow" else light for light in lights]
            done.why["lights"] = "the glow lies at the same place of another piece: look at it"
        done.problems.append(
            "The sides are those of the old piece. Check the light, and work the angles out again."
        )
    done.plan = done.plan.model_copy(update={"piece": piece, "coats": coats, "lights": lights})


def _on_part(old: Piece, new: Piece, step: Coat | HandStep, done: Repeated) -> Coat | HandStep:
    """A step on the part of the same name; switched off where the new piece has none."""
    asked = {"aim": step.aim.part if step.aim else None}
    if step.kind == "hand":
        asked["part"] = step.part
    names = {p.id: p.name for p in old.parts}
    there = {p.name.casefold(): p.id for p in new.parts}
    for place, part in asked.items():
        if part is None:
            continue
        now = there.get(names.get(part, "").casefold())
        if now is None:
            if not step.off:
                done.why[f"coats.{step.id}.off"] = (
                    f"this piece has no part called {names.get(part, part)}"
                )
                done.problems.append(
                    f"{step.name} is left out: this piece has no part called "
                    f"{names.get(part, part)}."
                )
            return step.model_copy(update={"off": True})
        done.why[f"coats.{step.id}.{place}"] = "the part of the same name"
        if place == "part":
            step = step.model_copy(update={"part": now})
        elif step.aim is not None:
            step = step.model_copy(update={"aim": step.aim.model_copy(update={"part": now})})
    return step


def _ramp(step: Coat | HandStep, moved: Moved, done: Repeated) -> Coat | HandStep:
    aim: Aim | None = step.aim
    if aim is None or aim.start is None or aim.end is None:
        return step
    done.why[f"coats.{step.id}.aim"] = "it runs from and to the same places of another piece"
    ends = {"start": moved(aim.start), "end": moved(aim.end)}
    return step.model_copy(update={"aim": aim.model_copy(update=ends)})


def _glow(light: GlowLight, moved: Moved) -> GlowLight:
    to = None if light.to is None else moved(light.to)
    return light.model_copy(update={"at": moved(light.at), "to": to})


def _by_hand(step: Coat | HandStep, done: Repeated, stock: Stock) -> Coat | HandStep:
    if step.kind != "hand" or step.paint is None:
        return step
    found = substitute(Mix.of((step.paint, 1)), stock, mixes=False)
    if found.mix is None:
        done.problems.append(f"{step.name}: {found.why}")
        return step
    done.why[f"coats.{step.id}.paint"] = found.why or AS_ON_SHELF
    if found.why and step.name == step.paint.name:
        done.why[f"coats.{step.id}.name"] = found.why
        step = step.model_copy(update={"name": found.mix.main.name})
    return step.model_copy(update={"paint": found.mix.main})


def _sprayed(old: _Old, now: Coat, done: Repeated, stock: Stock, since: _Since) -> Coat:
    """A sprayed coat with what is owned, set for what it depends on now."""
    now = _with_paints(old.coat, now, done, stock)
    now = _with_thinner(now, done, stock)
    coats = [now if c.id == now.id else c for c in done.plan.coats]
    plan_now = done.plan.model_copy(update={"coats": coats})
    causes = _causes(old, plan_now, now)
    through = sprayed_by(now, plan_now.airbrush)
    if not causes and through in since.taught:
        causes = ["what trials taught since"]
    if not causes or now.off:
        return now
    spray, why = _set_anew(plan_now, now, stock, since.own_way)
    if spray is None:
        done.problems.append(f"{now.name} keeps its setting: {why}")
        return now
    done.why[f"coats.{now.id}.spray"] = f"for {' and '.join(causes)}{why}"
    fresh = now.model_copy(update={"spray": spray})
    return _same_film(old, plan_now, fresh, done, stock)


def _with_paints(was: Coat, now: Coat, done: Repeated, stock: Stock) -> Coat:
    kinds = SPRAYED[was.task].kinds
    found = substitute(was.mix, stock, mixes=not kinds)
    if found.mix is None:
        done.problems.append(f"{was.name}: {found.why}")
        return now
    for name in ("paint", "also", "drops"):
        done.why[f"coats.{was.id}.{name}"] = found.why or AS_ON_SHELF
    if found.why and was.name in (was.paint.name, was.mix.name):
        done.why[f"coats.{was.id}.name"] = found.why
        now = now.model_copy(update={"name": found.mix.name})
    return now.mixed_as(found.mix)


def _with_thinner(now: Coat, done: Repeated, stock: Stock) -> Coat:
    held: ThinnerUsed | None = next(
        (t for t in stock.thinners if t.id == now.thinner.id),
        next((t for t in stock.thinners if t.kind == now.thinner.kind), None),
    )
    why = AS_ON_SHELF
    if held is None or not suits(PAINTS[now.paint.kind], THINNERS[held.kind]):
        why = (
            f"{now.thinner.name} is not on the shelf"
            if held is None
            else f"{held.name} does not suit {now.paint.name}"
        )
        try:
            held = own_thinner(now.paint, stock)
        except NothingFitsError as error:
            done.problems.append(f"{now.name}: {error.message}")
            return now
    done.why[f"coats.{now.id}.thinner"] = why
    return now.model_copy(update={"thinner": held})


def _causes(old: _Old, plan_now: Plan, now: Coat) -> list[str]:
    """What a setting depends on that is other than it was."""
    was, new = Spraying.of(old.plan, old.coat), Spraying.of(plan_now, now)
    causes = []
    if was.needle_mm != new.needle_mm:
        causes.append(f"the {new.needle_mm:g} mm needle")
    elif old.plan.airbrush.id != plan_now.airbrush.id:
        causes.append(f"the {plan_now.airbrush.name}")
    if was.room != new.room:
        causes.append(f"{new.room.temperature_c:g} °C and {new.room.humidity_pct:g} %")
    if was.paint != new.paint:
        causes.append(f"{now.paint.name}, which is of another kind")
    if was.thinner != new.thinner:
        causes.append(now.thinner.name)
    return causes


def _set_anew(
    plan_now: Plan, now: Coat, stock: Stock, own_way: OwnWay
) -> tuple[SprayAt | None, str]:
    """The painter's own setting, else the school's recipe; None, and why, when there is none."""
    through = sprayed_by(now, plan_now.airbrush)
    way = own_way(through, now.task)
    if way is not None:
        return way, ", your own way"
    as_set = Spraying.of(plan_now, now)
    latents, _ = believed(stock.known(through))
    why = ""
    for school in schools_for(plan_now.schools, aimed=now.aim is not None):
        found = find_recipe(
            now.paint.kind,
            needle_mm=plan_now.airbrush.needle_mm,
            task=recipe_task(now.task),
            school=school.pressure,
            thinner=now.thinner.kind,
            temperature_c=plan_now.room.temperature_c,
            humidity_pct=plan_now.room.humidity_pct,
            contrast=as_set.contrast,
            surface=as_set.surface,
            latents=latents,
        )
        if not isinstance(found, NoRecipe):
            return spray_of(found), ""
        why = f"{found.reason} {found.change}"
    return None, why


def _same_film(old: _Old, plan_now: Plan, fresh: Coat, done: Repeated, stock: Stock) -> Coat:
    """A coat with the rounds that lay the film it had."""
    was = Spraying.of(old.plan, old.coat, stock.known(sprayed_by(old.coat, old.plan.airbrush)))
    coats = [fresh if c.id == fresh.id else c for c in plan_now.coats]
    belief = stock.known(sprayed_by(fresh, plan_now.airbrush))
    now = Spraying.of(plan_now.model_copy(update={"coats": coats}), fresh, belief)
    was_um, now_um = float(was.outcome().dry_film_um), float(now.outcome().dry_film_um)
    for place in ("stations", "aim.passes"):
        done.why[f"coats.{fresh.id}.{place}"] = (
            f"a round leaves {now_um:.1f} µm instead of {was_um:.1f}"
        )
    return with_rounds(fresh, was_um / max(now_um, LEAST_UM))
