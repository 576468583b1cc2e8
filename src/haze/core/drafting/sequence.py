"""A whole sequence from three answers: what it is, what light, what colours; by the schools.

The order is the trade's: seal, ground, light, colour, metal and tint, gloss, wash, weather, finish.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from haze.core.arrays import Array
from haze.core.day.waits import SPIRIT_OVER_VARNISH_S
from haze.core.directions import signed_azimuth
from haze.core.drafting.coats import GROUND, drafted, every_side
from haze.core.drafting.stock import Stock, palette_of, pick, varnish_of
from haze.core.errors import NothingFitsError
from haze.core.film.difference import hue_turn, lch_of, oklab_of
from haze.core.film.finish import inside_film
from haze.core.film.ladder import find_ladder
from haze.core.film.ladder_ends import anchors_from_one
from haze.core.film.paint import is_clear, swatch_rgb
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import linear_of_hex, tone_of_rgb
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import fresh_id, ground_under
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import HANDS, HandRole, TaskName

What = Literal["figure", "bust", "vehicle", "terrain"]
RUNGS = ((5.0, 1.6), (4.0, 1.2), (3.0, 0.9), (2.0, 0.6))  # µm dry, sweep over the light's (judged)
HUE_FIRST = (0.3, 1.0, 1.0)  # OKLab: paints of the hue come before paints of the lightness
MOST_LADDER_SHELF = 60  # paints a ladder is looked for among, nearest in hue first
LADDER_FILM_UM = 6.0
OTHER_HUE, OTHER_CHROMA = 0.2, 0.03  # of half a turn, OKLab: a veil of another hue
FINISH_OF: dict[str, TaskName] = {
    "figure": "matt",
    "bust": "satin",
    "vehicle": "satin",
    "terrain": "matt",
}


@dataclass(frozen=True, slots=True)
class Started:
    """A plan with its whole sequence, and what the shelf could not give."""

    plan: Plan
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Answers:
    """What the painter said: what it is, and one to three colours: main, shade, accent."""

    what: What
    colours: tuple[str, ...]


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
    ) -> None:
        """Lay a step by hand.

        Parameters
        ----------
        role : which step by hand
        paint : what is brushed on; None for steps without
        strength : float [0..1], of the usual film
        part : identity of the part it is for; None for the whole piece
        aim : the zone it is graded by; None for all over
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
            )
        )

    def clear(
        self, goal: Array, *, but: PaintUsed | None = None, missing: str = "transparent paint"
    ) -> PaintUsed:
        """The transparent paint nearest to a colour; a note when it is of another hue.

        Parameters
        ----------
        goal : (3,) float, OKLab of the colour to come near
        but : a paint not to take; None for any
        missing : the sentence when nothing fits
        """
        paint = _nearest(
            self.stock, lambda p: _is_clear(p) and (but is None or p.id != but.id), goal, missing
        )
        if float(np.hypot(*goal[1:])) > OTHER_CHROMA and _turn(_chip(paint), goal) > OTHER_HUE:
            self.notes.append(
                f"The shelf has no {missing} of this hue; taken is {paint.name}. "
                "Add one for a truer colour."
            )
        return paint

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


def _nearest(
    stock: Stock, fits: Callable[[PaintUsed], bool], goal: Array, missing: str
) -> PaintUsed:
    def off(paint: PaintUsed) -> float:
        own = _chip(paint)
        apart = float(np.linalg.norm(own - goal))
        # its film sets how dark and strong a transparent paint is: the hue is what counts
        return _turn(own, goal) + 0.4 * apart if _is_clear(paint) else apart

    return pick(stock, fits, off, missing)


def _chip(paint: PaintUsed) -> Array:
    """(3,) float: OKLab of what its chip shows."""
    return oklab_of(np.clip(swatch_rgb(paint.optics), 0, 1))


def _turn(one: Array, other: Array) -> float:
    """How far two OKLab colours lie apart in hue, 0 to 1; greys count as half."""
    chroma = min(float(np.hypot(*one[1:])), float(np.hypot(*other[1:])))
    if chroma < 0.02:
        return 0.5
    own, wanted = (np.degrees(np.arctan2(c[2], c[1])) for c in (one, other))
    return abs(float(hue_turn(own, wanted))) / 180.0


def _grey(level: float) -> Array:
    return np.array([level, 0.0, 0.0])


def _colours(paint: PaintUsed) -> bool:
    """Whether a paint hides and is no ground of its own."""
    return paint.hides and paint.kind != "primer"


def _is_clear(paint: PaintUsed) -> bool:
    return paint.kind in ("transparent", "airbrush_acrylic") and is_clear(paint.optics)


def start_sequence(plan: Plan, answers: Answers, stock: Stock) -> Started:
    """The plan with a complete sequence for its piece, by its schools.

    Parameters
    ----------
    plan : with piece, lights, airbrush, room and schools; its coats are replaced
    answers : what the painter said
    stock : what is on the shelf

    Raises
    ------
    NothingFitsError, NoRecipeError, LadderError
    """
    seq = StepBuilder(plan, stock)
    main = linear_of_hex(answers.colours[0], field="colours")
    if plan.piece.groundwork != "none":
        varnish = varnish_of(stock, ("matt", "satin", "ultra_matt", "gloss"))
        seq.spray("seal", varnish, GROUND)
    _ground(seq, main)
    _colour(seq, main, answers)
    _more_colours(seq, answers)
    _weather(seq, answers.what)
    finish = FINISH_OF[answers.what]
    wanted = {"matt": ("matt", "ultra_matt", "satin"), "satin": ("satin", "matt", "gloss")}[finish]
    seq.spray(finish, varnish_of(stock, wanted), GROUND)
    return Started(seq.plan, tuple(dict.fromkeys(seq.notes)))


def start_ground(plan: Plan, stock: Stock) -> Plan:
    """The plan with only a dark ground and the light coats of its schools, in greys.

    Parameters
    ----------
    plan : with piece, lights, airbrush, room and schools; its coats are replaced
    stock : what is on the shelf
    """
    seq = StepBuilder(plan, stock)
    _ground(seq, np.full(3, 0.4))
    return seq.plan


def _from_light(plan: Plan, *, rise: float = 0.0, narrow: float = 1.0) -> list[Station]:
    key = plan.key_light
    return [
        Station(
            key.azimuth_deg,
            min(88.0, key.elevation_deg + rise),
            max(5.0, key.softness_deg * narrow),
        )
    ]


def _ground(seq: StepBuilder, main: Array) -> None:
    plan, stock = seq.plan, seq.stock
    school = plan.schools.ground
    descending = plan.schools.order == "descend"
    dark = _nearest(stock, lambda p: p.kind == "primer" and p.tone < 35, _grey(0.2), "dark primer")
    seq.spray("prime", dark, GROUND)
    if school == "hue_ground":
        level, chroma, hue = lch_of(main)
        low = np.array([max(0.2, level - 0.25), *_ab(0.8 * chroma, hue)])
        own = _nearest(stock, lambda p: _colours(p) and p.tone < 55, low, "dark of this hue")
        seq.spray("cover", own, GROUND)
    if school == "three_tone":
        mid = _nearest(stock, lambda p: p.hides and 40 < p.tone < 68, _grey(0.62), "mid grey")
        seq.spray("light", mid, _from_light(plan), film_um=6.0)
    light = _nearest(stock, lambda p: p.hides and p.tone > 80, _grey(0.96), "white")
    if school != "hue_ground" or descending:
        film = 24.0 if descending else 9.0
        rise = 0.0 if descending else 25.0
        seq.spray("light", light, _from_light(plan, rise=rise), film_um=film)


def _ab(chroma: float, hue: float) -> tuple[float, float]:
    return chroma * float(np.cos(np.radians(hue))), chroma * float(np.sin(np.radians(hue)))


def _colour(seq: StepBuilder, main: Array, answers: Answers) -> None:
    order = seq.plan.schools.order
    if order == "veil":
        veil = seq.clear(oklab_of(main))
        seq.spray("veil", veil, every_side(35.0, 30.0), film_um=3.5)
    elif order == "descend":
        clear = seq.clear(oklab_of(main))
        seq.spray("veil", clear, every_side(30.0, 30.0), film_um=3.0)
        low = anchors_from_one(main)[0]
        darker = seq.clear(oklab_of(low), but=clear, missing="dark transparent paint")
        below = every_side(-20.0, 20.0, first_deg=60.0)
        seq.spray("tint", darker, below, film_um=1.5)
        seq.spray("tint", darker, [], aim=Aim(field="recesses"), film_um=2.5)
    else:
        _rungs(seq, main, order)
    if answers.what == "vehicle" and order in ("climb", "span"):
        _panel_fade(seq, main)


def _rungs(seq: StepBuilder, main: Array, order: str) -> None:
    paints = sorted(
        (p for p in seq.stock.paints if _colours(p)),
        key=lambda p: float(np.linalg.norm((oklab_of(p.rgb) - oklab_of(main)) * HUE_FIRST)),
    )[:MOST_LADDER_SHELF]
    if not paints:
        raise NothingFitsError(
            "The shelf has no opaque paint to build a ladder from.", field="paint"
        )
    found = find_ladder(
        anchors_from_one(main),
        palette_of(paints),
        rungs=len(RUNGS),
        ground=inside_film(spectrum_of_hex(seq.ground), "matt"),
        film_um=LADDER_FILM_UM,
    )
    rungs = list(enumerate(found.rungs))
    if order == "span":
        rungs = [*rungs[1:], rungs[0]]
    for n, rung in rungs:
        mix = Mix.of(*((paints[i], d) for i, d in rung.drops.items())).most_first()
        film, narrow = RUNGS[n]
        stations = _from_light(seq.plan, rise=10.0 * n, narrow=narrow)
        if n == 0:
            stations = every_side(-15.0 if order == "span" else 25.0, 28.0)
        task: TaskName = "cover" if n == 0 and order != "span" else "rung"
        seq.spray(task, mix, stations, film_um=film)


def _panel_fade(seq: StepBuilder, main: Array) -> None:
    light = anchors_from_one(main)[2]
    paint = _nearest(
        seq.stock,
        lambda p: p.hides and p.tone > tone_of_rgb(main) + 4,
        oklab_of(light),
        "lighter paint of this hue",
    )
    seq.spray("rung", paint, [], aim=Aim(field="panels", margin_mm=3), film_um=3.0)


def _more_colours(seq: StepBuilder, answers: Answers) -> None:
    colours = [linear_of_hex(c, field="colours") for c in answers.colours[1:3]]
    if colours:
        tint = seq.clear(oklab_of(colours[0]))
        key = seq.plan.key_light
        away = [Station(signed_azimuth(key.azimuth_deg + 180.0), -10, 18)]
        seq.spray("tint", tint, away, film_um=2.0)
    if len(colours) > 1:
        accent = _nearest(seq.stock, lambda p: p.hides, oklab_of(colours[1]), "opaque paint")
        seq.hand("edge_lines", accent)


def _weather(seq: StepBuilder, what: What) -> None:
    stock = seq.stock
    gloss = varnish_of(stock, ("gloss", "satin"))
    washes = [p for p in stock.paints if p.kind == "enamel_wash"]
    dark_inks = [p for p in stock.paints if p.kind == "ink"]
    wash = next(iter(sorted(washes, key=lambda p: p.name)), None) or next(
        iter(sorted(dark_inks, key=lambda p: p.tone)), None
    )
    if wash is None:
        return
    seq.spray("gloss", gloss, GROUND)
    if wash.kind == "enamel_wash":
        seq.rest(SPIRIT_OVER_VARNISH_S / 60, "Varnish cures")
    seq.hand("wash", wash, strength=0.25)
    if what == "vehicle":
        if wash.kind == "enamel_wash":
            seq.hand("streaks", wash, strength=0.7)
        chip = _nearest(stock, lambda p: p.hides and p.tone < 30, _grey(0.3), "dark")
        seq.hand("chips", chip)
    if what == "terrain":
        pale = _nearest(
            stock,
            lambda p: p.hides and p.tone > 65,
            np.array([0.85, 0.01, 0.03]),
            "pale",
        )
        seq.hand("dry_brush", pale, strength=0.5)
