"""A whole sequence from three answers: what it is, what light, what colours; by the schools.

The order is the trade's: seal, ground, light, colour, metal and tint, gloss, wash, weather, finish.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from haze.core.errors import HazeError
from haze.core.film.difference import hue_turn, oklab_of, oklch_of
from haze.core.film.finish import inside_film
from haze.core.film.ladder import anchors_from_one, find_ladder
from haze.core.film.paint import is_clear, masstone_rgb, swatch_rgb
from haze.core.film.palette import Palette
from haze.core.film.spectra import decode_srgb, parse_hex, spectrum_of_hex
from haze.core.plan.document import Aim, Coat, HandStep, MixPart, PaintUsed, Plan
from haze.core.plan.drafts import Angle, ground_angles
from haze.core.plan.facts import Stock, lightness_of_rgb
from haze.core.plan.fixes import drafted, fresh_id, is_opaque, tone_of, varnish_of
from haze.core.plan.painting import optics_of
from haze.core.plan.roles import HANDS, HandRole, TaskName

Array = NDArray[np.float64]
What = Literal["figure", "bust", "vehicle", "terrain"]

RUNGS = 4
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
        self.over = plan.piece.surface

    def spray(
        self,
        task: TaskName,
        paint: PaintUsed,
        angles: list[Angle],
        *,
        film_um: float | None = None,
        aim: Aim | None = None,
        name: str | None = None,
        also: Sequence[tuple[PaintUsed, int]] = (),
        drops: int = 1,
    ) -> Coat:
        """Lay a sprayed coat."""
        coat = drafted(
            self.plan,
            self.stock,
            stem=task,
            task=task,
            paint=paint,
            angles=angles,
            over=self.over,
            aim=aim,
            film_um=film_um,
        )
        coat = coat.model_copy(
            update={
                "name": name or paint.name,
                "drops": drops,
                "also": [MixPart(paint=p, drops=d) for p, d in also],
            }
        )
        self.plan.coats.append(coat)
        if is_opaque(paint):
            self.over = paint.masstone
        return coat

    def hand(
        self,
        role: HandRole,
        paint: PaintUsed | None = None,
        *,
        strength: float = 0.6,
        part: str | None = None,
        aim: Aim | None = None,
    ) -> None:
        """Lay a step by hand."""
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
        """The transparent paint nearest to a colour; a note when it is of another hue."""
        paint = _nearest(
            self.stock, lambda p: _is_clear(p) and (but is None or p.id != but.id), goal, missing
        )
        own = oklab_of(np.clip(swatch_rgb(optics_of(paint)), 0, 1))
        if float(np.hypot(*goal[1:])) > OTHER_CHROMA and _turn(own, goal) > OTHER_HUE:
            self.notes.append(
                f"The shelf has no {missing} of this hue; taken is {paint.name}. "
                "Add one for a truer colour."
            )
        return paint

    def rest(self, minutes: float, name: str) -> None:
        """Leave it alone for a while."""
        self.plan.coats.append(
            HandStep(id=fresh_id(self.plan, "rest"), name=name, role="rest", minutes=minutes)
        )


def _nearest(
    stock: Stock, fits: Callable[[PaintUsed], bool], goal: Array, missing: str
) -> PaintUsed:
    found = [p for p in stock.paints if fits(p)]
    if not found:
        raise HazeError(f"The shelf has no {missing}; add one first.", field="paints")

    def off(paint: PaintUsed) -> tuple[float, str]:
        own = oklab_of(np.clip(swatch_rgb(optics_of(paint)), 0, 1))
        if _is_clear(paint):
            # its film sets how dark and strong a transparent paint is: the hue is what counts
            return _turn(own, goal) + 0.4 * float(np.linalg.norm(own - goal)), paint.name
        return float(np.linalg.norm(own - goal)), paint.name

    return min(found, key=off)


def _turn(one: Array, other: Array) -> float:
    """How far two OKLab colours lie apart in hue, 0 to 1; greys count as half."""
    chroma = min(float(np.hypot(*one[1:])), float(np.hypot(*other[1:])))
    if chroma < 0.02:
        return 0.5
    own, wanted = (np.degrees(np.arctan2(c[2], c[1])) for c in (one, other))
    return abs(float(hue_turn(own, wanted))) / 180.0


def _grey(level: float) -> Array:
    return np.array([level, 0.0, 0.0])


def _is_clear(paint: PaintUsed) -> bool:
    return paint.kind in ("transparent", "airbrush_acrylic") and is_clear(optics_of(paint))


def start_sequence(plan: Plan, answers: Answers, stock: Stock) -> Started:
    """The plan with a complete sequence for its piece, by its schools.

    Parameters
    ----------
    plan : with piece, lights, airbrush, room and schools; its coats are replaced
    """
    seq = StepBuilder(plan, stock)
    main = decode_srgb(parse_hex(answers.colours[0], field="colours"))
    if plan.piece.groundwork != "none":
        varnish = varnish_of(stock, ("matt", "satin", "ultra_matt", "gloss"))
        seq.spray("seal", varnish, ground_angles())
    _ground(seq, main)
    _colour(seq, main, answers)
    _more_colours(seq, answers)
    _weather(seq, answers.what)
    finish = FINISH_OF[answers.what]
    wanted = {"matt": ("matt", "ultra_matt", "satin"), "satin": ("satin", "matt", "gloss")}[finish]
    seq.spray(finish, varnish_of(stock, wanted), ground_angles())
    return Started(seq.plan, tuple(dict.fromkeys(seq.notes)))


def start_ground(plan: Plan, stock: Stock) -> Plan:
    """The plan with only a dark ground and the light coats of its schools, in greys."""
    seq = StepBuilder(plan, stock)
    _ground(seq, np.full(3, 0.4))
    return seq.plan


def _from_light(plan: Plan, *, rise: float = 0.0, narrow: float = 1.0) -> list[Angle]:
    key = plan.key_light
    return [
        Angle(
            key.azimuth_deg,
            min(88.0, key.elevation_deg + rise),
            max(5.0, key.softness_deg * narrow),
        )
    ]


def _ground(seq: StepBuilder, main: Array) -> None:
    plan, stock = seq.plan, seq.stock
    school = plan.schools.ground
    descending = plan.schools.order == "descend"
    dark = _nearest(
        stock, lambda p: p.kind == "primer" and tone_of(p) < 35, _grey(0.2), "dark primer"
    )
    seq.spray("prime", dark, ground_angles())
    if school == "hue_ground":
        level, chroma, hue = (float(v) for v in oklch_of(main))
        low = np.array([max(0.2, level - 0.25), *_ab(0.8 * chroma, hue)])
        seq.spray(
            "cover",
            _nearest(stock, lambda p: is_opaque(p) and tone_of(p) < 55, low, "dark of this hue"),
            ground_angles(),
        )
    if school == "three_tone":
        mid = _nearest(
            stock, lambda p: is_opaque(p) and 40 < tone_of(p) < 68, _grey(0.62), "mid grey"
        )
        seq.spray("light", mid, _from_light(plan), film_um=6.0)
    light = _nearest(stock, lambda p: is_opaque(p) and tone_of(p) > 80, _grey(0.96), "white")
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
        every_side = [Angle(a, 35, 30) for a in (0.0, 120.0, 240.0)]
        seq.spray("veil", veil, every_side, film_um=7.0)
    elif order == "descend":
        clear = seq.clear(oklab_of(main))
        seq.spray("veil", clear, [Angle(a, 30, 30) for a in (0.0, 120.0, 240.0)], film_um=6.0)
        low = anchors_from_one(main)[0]
        darker = seq.clear(oklab_of(low), but=clear, missing="dark transparent paint")
        below = [Angle(a, -20, 20) for a in (60.0, 180.0, 300.0)]
        seq.spray("tint", darker, below, film_um=3.0)
        seq.spray("tint", darker, [], aim=Aim(field="recesses"), film_um=5.0)
    else:
        _rungs(seq, main, order)
    if answers.what == "vehicle" and order in ("climb", "span"):
        _panel_fade(seq, main)


def _rungs(seq: StepBuilder, main: Array, order: str) -> None:
    paints = sorted(
        (p for p in seq.stock.paints if is_opaque(p) and p.kind != "primer"),
        key=lambda p: float(
            np.linalg.norm((oklab_of(masstone_rgb(optics_of(p))) - oklab_of(main)) * [0.3, 1, 1])
        ),
    )[:MOST_LADDER_SHELF]
    if not paints:
        raise HazeError("The shelf has no opaque paint to build a ladder from.", field="paints")
    palette = Palette.of(
        [optics_of(p) for p in paints],
        drop=[p.drop_ul for p in paints],
        strength=[p.strength for p in paints],
    )
    found = find_ladder(
        anchors_from_one(main),
        palette,
        rungs=RUNGS,
        ground=inside_film(spectrum_of_hex(seq.over), "matt"),
        film_um=LADDER_FILM_UM,
    )
    rungs = list(enumerate(found.rungs))
    if order == "span":
        rungs = [*rungs[1:], rungs[0]]
    for n, rung in rungs:
        parts = sorted(((paints[i], d) for i, d in rung.drops.items()), key=lambda p: -p[1])
        (first, drops), also = parts[0], parts[1:]
        angles = _from_light(seq.plan, rise=10.0 * n, narrow=(1.6, 1.2, 0.9, 0.6)[n])
        if n == 0:
            below = order == "span"
            angles = [Angle(a, -15 if below else 25, 28) for a in (0.0, 120.0, 240.0)]
        film = (5.0, 4.0, 3.0, 2.0)[n]
        name = " + ".join(p.name for p, _ in parts)
        if also:
            name += f" {':'.join(str(d) for _, d in parts)}"
        seq.spray(
            "cover" if n == 0 and order != "span" else "rung",
            first,
            angles,
            film_um=film,
            name=name[:120],
            also=also,
            drops=drops,
        )


def _panel_fade(seq: StepBuilder, main: Array) -> None:
    light = anchors_from_one(main)[2]
    paint = _nearest(
        seq.stock,
        lambda p: is_opaque(p) and tone_of(p) > lightness_of_rgb(main) + 4,
        oklab_of(light),
        "lighter paint of this hue",
    )
    seq.spray("rung", paint, [], aim=Aim(field="panels", margin_mm=3), film_um=3.0)


def _more_colours(seq: StepBuilder, answers: Answers) -> None:
    colours = [decode_srgb(parse_hex(c, field="colours")) for c in answers.colours[1:3]]
    if colours:
        tint = seq.clear(oklab_of(colours[0]))
        key = seq.plan.key_light
        away = [Angle((key.azimuth_deg + 360) % 360 - 180, -10, 18)]
        seq.spray("tint", tint, away, film_um=4.0)
    if len(colours) > 1:
        accent = _nearest(seq.stock, is_opaque, oklab_of(colours[1]), "opaque paint")
        seq.hand("edge_lines", accent)


def _weather(seq: StepBuilder, what: What) -> None:
    stock = seq.stock
    gloss = varnish_of(stock, ("gloss", "satin"))
    washes = [p for p in stock.paints if p.kind == "enamel_wash"]
    dark_inks = [p for p in stock.paints if p.kind == "ink"]
    wash = next(iter(sorted(washes, key=lambda p: p.name)), None) or next(
        iter(sorted(dark_inks, key=tone_of)), None
    )
    if wash is None:
        return
    seq.spray("gloss", gloss, ground_angles())
    if wash.kind == "enamel_wash":
        seq.rest(24 * 60, "Varnish cures")
    seq.hand("wash", wash, strength=0.25)
    if what == "vehicle":
        if wash.kind == "enamel_wash":
            seq.hand("streaks", wash, strength=0.7)
        chip = _nearest(stock, lambda p: is_opaque(p) and tone_of(p) < 30, _grey(0.3), "dark")
        seq.hand("chips", chip)
    if what == "terrain":
        pale = _nearest(
            stock,
            lambda p: is_opaque(p) and tone_of(p) > 65,
            np.array([0.85, 0.01, 0.03]),
            "pale",
        )
        seq.hand("dry_brush", pale, strength=0.5)
