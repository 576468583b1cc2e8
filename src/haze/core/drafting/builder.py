"""A plan built step by step, and the paints of a shelf nearest to what a step wants."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

import numpy as np

from haze.core.arrays import Array
from haze.core.drafting.coats import drafted
from haze.core.drafting.stock import Stock, pick
from haze.core.film.difference import hue_turn, oklab_of
from haze.core.film.finish import Finish
from haze.core.film.paint import swatch_rgb
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import fresh_id, ground_under
from haze.core.plan.masks import MaskKind
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import HANDS, HandRole, TaskName
from haze.core.plan.words import SHELF_LACKS

OTHER_HUE, OTHER_CHROMA = 0.2, 0.03  # of half a turn, OKLab: a veil of another hue


class StepBuilder:
    """A plan whose steps are laid one on another."""

    def __init__(self, plan: Plan, stock: Stock) -> None:
        self.plan = plan.model_copy(update={"coats": []}, deep=True)
        self.stock = stock
        self.notes: list[str] = []

    @property
    def ground(self) -> str:
        """ "#rrggbb" of what the next step goes over."""
        return ground_under(self.plan, len(self.plan.coats))

    def spray(
        self,
        task: TaskName,
        what: PaintUsed | Mix,
        stations: Sequence[Station],
        *,
        film_um: float | None = None,
        each_um: float | None = None,
        aim: Aim | None = None,
        name: str | None = None,
    ) -> None:
        """Lay a sprayed coat of a paint or a mix, called by it when it has no name of its own.

        Parameters
        ----------
        task : what the coat is for
        what : the paint or mix
        stations : where it is sprayed from
        film_um : float [µm], dry, to lay; None for the usual one
        each_um : float [µm], dry, every station is to lay square-on, instead
        aim : where it goes instead of a sweep; None for one
        """
        mix = what if isinstance(what, Mix) else Mix.of((what, 1))
        coat = drafted(
            self.plan,
            self.stock,
            stem=task,
            task=task,
            paint=mix.main,
            stations=stations,
            over=self.ground,
            aim=aim,
            film_um=film_um,
            each_um=each_um,
        )
        self.plan.coats.append(coat.mixed_as(mix).model_copy(update={"name": name or mix.name}))

    def hand(
        self,
        role: HandRole,
        paint: PaintUsed | None = None,
        *,
        strength: float = 0.6,
        part: str | None = None,
        aim: Aim | None = None,
        mask: MaskKind = "tape",
    ) -> None:
        """Lay a step by hand.

        Parameters
        ----------
        role : which step by hand
        paint : what is brushed on; None for steps without
        strength : float [0..1], of the usual film
        part : identity of the part it is for; None for the whole piece
        aim : the zone it is graded by, or a mask covers; None for all over
        mask : what kind of mask
        """
        self.plan.coats.append(
            HandStep(
                id=fresh_id(self.plan, role.replace("_", "-")),
                name=paint.name if paint else HANDS[role].label,
                role=role,
                paint=paint,
                strength=strength,
                part=part,
                aim=aim,
                mask=mask,
            )
        )

    def clear(self, goal: Array) -> PaintUsed:
        """The transparent paint nearest to a colour; a note when it is of another hue.

        Parameters
        ----------
        goal : (3,) float, OKLab of the colour to come near
        """
        paint = nearest(self.stock, lambda p: p.tints, goal, "transparent paint")
        if float(np.hypot(*goal[1:])) > OTHER_CHROMA and _turn(chip_lab(paint), goal) > OTHER_HUE:
            self.notes.append(
                f"{SHELF_LACKS} transparent paint of this hue; taken is {paint.name}. "
                "Add one for a truer colour."
            )
        return paint

    def varnish(self, finishes: Sequence[Finish], use: str) -> PaintUsed | None:
        """A varnish of the first finish the shelf has; a note when it has none of them.

        Parameters
        ----------
        finishes : the one wanted most first
        use : str, what it is for, as in "to finish with"
        """
        found = [p for p in self.stock.paints if p.kind == "varnish" and p.finish in finishes]
        if not found:
            self.notes.append(
                f"{SHELF_LACKS} {' or '.join(finishes[:2])} varnish {use}; add one, or leave it."
            )
        return min(found, key=lambda p: (finishes.index(p.finish), p.name), default=None)

    def ground_paint(
        self,
        fits: Callable[[PaintUsed], bool],
        instead: Callable[[PaintUsed], bool],
        level: float,
        missing: str,
    ) -> PaintUsed | None:
        """The nearest paint for a ground, or what stands in for it, with a note.

        Parameters
        ----------
        fits : whether a paint is right for it
        instead : whether it may stand in
        level : float [0..1], OKLab lightness of the grey that is wanted
        missing : str, what it is, for the note
        """
        for allowed in (fits, instead):
            paint = closest(filter(allowed, self.stock.paints), grey(level))
            if paint and allowed is instead:
                self.notes.append(f"{SHELF_LACKS} {missing}; {paint.name} stands in for it.")
            if paint:
                return paint
        return None

    def rest(self, minutes: float, name: str) -> None:
        """Leave it alone for a while.

        Parameters
        ----------
        minutes : float [min]
        name : what the rest is called
        """
        self.plan.coats.append(
            HandStep(id=fresh_id(self.plan, "rest"), name=name, role="rest", minutes=minutes)
        )


def closest(paints: Iterable[PaintUsed], goal: Array) -> PaintUsed | None:
    """The paint nearest to a colour; None of none.

    Parameters
    ----------
    paints : those that may be taken
    goal : (3,) float, OKLab
    """
    return min(paints, key=lambda p: (_off(p, goal), p.name), default=None)


def nearest(
    stock: Stock, fits: Callable[[PaintUsed], bool], goal: Array, missing: str
) -> PaintUsed:
    """The paint of the shelf that fits and is nearest to a colour.

    Parameters
    ----------
    stock : what is on the shelf
    fits : whether a paint may be taken at all
    goal : (3,) float, OKLab
    missing : str, what there is none of when nothing fits

    Raises
    ------
    NothingFitsError
    """
    return pick(stock, fits, lambda p: _off(p, goal), missing)


def _off(paint: PaintUsed, goal: Array) -> float:
    own = chip_lab(paint)
    apart = float(np.linalg.norm(own - goal))
    # its film sets how dark and strong a transparent paint is: the hue is what counts
    return _turn(own, goal) + 0.4 * apart if paint.tints else apart


def chip_lab(paint: PaintUsed) -> Array:
    """(3,) float: OKLab of what a paint's chip shows.

    Parameters
    ----------
    paint : which
    """
    return oklab_of(np.clip(swatch_rgb(paint.optics), 0, 1))


def _turn(one: Array, other: Array) -> float:
    """How far two OKLab colours lie apart in hue, 0 to 1; greys count as half."""
    chroma = min(float(np.hypot(*one[1:])), float(np.hypot(*other[1:])))
    if chroma < 0.02:
        return 0.5
    own, wanted = (np.degrees(np.arctan2(c[2], c[1])) for c in (one, other))
    return abs(float(hue_turn(own, wanted))) / 180.0


def grey(level: float) -> Array:
    """(3,) float: OKLab of a grey.

    Parameters
    ----------
    level : float [0..1], its OKLab lightness
    """
    return np.array([level, 0.0, 0.0])
