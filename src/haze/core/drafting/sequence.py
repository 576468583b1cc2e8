"""A whole sequence from three answers: what it is, what light, what colours; by the schools.

The order is the trade's: seal, ground, light, colour, metal and tint, gloss, wash, weather, finish.
Where the shelf lacks a paint of the usual kind, the nearest one stands in or the step is left out,
and a note says so; refused is only what nothing on the shelf can do.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np

from haze.core.arrays import Array, Floats
from haze.core.day.waits import SPIRIT_OVER_VARNISH_S
from haze.core.directions import signed_azimuth
from haze.core.drafting.builder import OTHER_CHROMA, StepBuilder, chip_lab, closest, grey, nearest
from haze.core.drafting.coats import GROUND
from haze.core.drafting.colouring import GLAZED, ChosenLayer, ColouredRow, Surroundings, coloured
from haze.core.drafting.recipes import Pass, pass_left
from haze.core.drafting.sites import BASE, LIGHT, MIDDLE, TOP, Places, Sites
from haze.core.drafting.stock import Stock
from haze.core.drafting.targets import wanted_colours
from haze.core.errors import NothingFitsError
from haze.core.film.difference import delta_e, lch_of, oklab_of
from haze.core.film.finish import SURFACE, Finish, inside_film, outside_film
from haze.core.film.layering import Later
from haze.core.film.paint import film_over
from haze.core.film.skin import add_coat
from haze.core.film.spectra import rgb_of, spectrum_of_hex, spectrum_of_rgb
from haze.core.film.srgb import linear_of_hex
from haze.core.film.words import hue_word
from haze.core.light.stations import Station
from haze.core.plan.document import Along, Asked, Plan
from haze.core.plan.edits import ground_under
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import ALL_ROUND, HANDS, TaskName
from haze.core.plan.words import SHELF_LACKS
from haze.core.progress import Progress

What = Literal["figure", "bust", "vehicle", "terrain"]
WASH_STRENGTH, LEAST_WASH = 0.25, 0.08
DARK_OF = {"yellow": "an ochre one", "orange": "a brown one"}  # what goes dark in these hues
LEAST_LOSS = 0.05  # of the asked chroma: less is not worth a word
DARK_GROUND, DARK_INSTEAD, LIGHT_INSTEAD = 35.0, 42.0, 60.0  # L*
GREY_CHROMA = 0.05  # OKLab; a mid grey or white of a ground is no colour of its own
DRY_BRUSH = 0.5
DRY_BRUSH_UM = DRY_BRUSH * HANDS["dry_brush"].film_um
WASH_MOVES = 2.5  # ΔE00 a wash may move the middle by
FINISH_OF: dict[str, TaskName] = {
    "figure": "matt",
    "bust": "satin",
    "vehicle": "satin",
    "terrain": "matt",
}
SHIELDS: tuple[Finish, ...] = ("gloss", "satin")  # what a spirit wash does not get through
VARNISHES: dict[str, tuple[Finish, ...]] = {
    "matt": ("matt", "ultra_matt", "satin"),
    "satin": ("satin", "matt", "gloss"),
}


@dataclass(frozen=True, slots=True)
class Started:
    """A plan with its whole sequence, what the shelf could not give, and the colours foreseen."""

    plan: Plan
    notes: tuple[str, ...]
    found: ColouredRow


@dataclass(frozen=True, slots=True)
class Answers:
    """What the painter said: what it is, and one to three colours.

    They are main, shade and accent; of a gradient those of its start and end, or of start, middle
    and end, `along` the light or another way. `wash` asks for a wash in the recesses, `worn` for
    chips and streaks on a vehicle and dry-brushed edges on anything else.
    """

    what: What
    colours: tuple[str, ...]
    gradient: bool = False
    along: Along = "light"
    wash: bool = False
    worn: bool = False

    @property
    def asked(self) -> Asked:
        """What is to land."""
        if not self.gradient:
            return Asked(colours=self.colours[:1])
        return Asked(colours=self.colours, along=self.along)


def _colours(paint: PaintUsed) -> bool:
    """Whether a paint hides and is no ground of its own."""
    return paint.hides and paint.kind != "primer"


def start_sequence(
    plan: Plan,
    answers: Answers,
    stock: Stock,
    sites: Sites,
    *,
    progress: Progress | None = None,
) -> Started:
    """The plan with a complete sequence for its piece, by its schools.

    Parameters
    ----------
    plan : with piece, lights, airbrush, room and schools; its coats are replaced
    answers : what the painter said
    stock : what is on the shelf
    sites : of the piece, where the colours are judged
    progress : called with the share done, 0 to 1; None for silence

    Raises
    ------
    NothingFitsError, NoRecipeError, LadderError
    """
    seq = StepBuilder(plan.model_copy(update={"asked": answers.asked}), stock)
    asked = np.stack([linear_of_hex(c, field="colours") for c in answers.asked.colours])
    main = wanted_colours(asked)[MIDDLE]
    if plan.piece.groundwork != "none":
        sealer = seq.varnish(("matt", "satin", "ultra_matt", "gloss"), "to seal the groundwork")
        if sealer:
            seq.spray("seal", sealer, GROUND)
    wash = _asked_wash(seq, main, sites.rough) if answers.wash else None
    finish = FINISH_OF[answers.what]
    dusted = _pale(stock) if answers.worn and answers.what != "vehicle" else None
    order = plan.schools.order
    _ground(seq, main, white=order in ("climb", "span"))
    varnish = seq.varnish(VARNISHES[finish], "to finish with")

    @cache
    def pass_of(paint: PaintUsed, task: TaskName, over: str, *, aimed: bool) -> Pass:
        return pass_left(plan, stock, paint, task, over=over, aimed=aimed)

    def around(places: Places) -> Surroundings:
        later = [Later(wash.paint.optics, wash.film_um * places.wash)] if wash else []
        if dusted:
            later.append(Later(dusted.optics, DRY_BRUSH_UM * places.brushed))
        return Surroundings(_ground_inside(seq, places), later)

    found = coloured(
        asked,
        order=order,
        stock=stock,
        sites=sites,
        around=around,
        pass_of=pass_of,
        below=seq.ground,
        surface=varnish.optics.surface if varnish else SURFACE[finish],
        progress=progress,
    )
    seq.notes += [*_wash_notes(wash, main), *_ground_notes(found, main)]
    if order in GLAZED:
        seq.notes += _shared_notes(found, answers.asked)
    for layer in found.layers:
        _lay(seq, layer, sites.rough)
    _more_colours(seq, answers)
    if wash:
        _wash(seq, wash)
    if answers.worn:
        _wear(seq, answers.what, wash, dusted)
    if varnish:
        seq.spray(finish, varnish, GROUND)
    return Started(seq.plan, tuple(dict.fromkeys(seq.notes)), found)


def _lay(seq: StepBuilder, layer: ChosenLayer, places: Places) -> None:
    """A chosen layer as a coat."""
    seq.spray(
        layer.task,
        layer.mix,
        places.sweeps[layer.sweep].stations,
        each_um=layer.film_um,
        aim=places.sweeps[layer.sweep].aim,
    )


def _ground_inside(seq: StepBuilder, places: Places) -> Floats:
    """(12, n) float32: inside the binder of the ground at the points."""
    count = len(places.wash)
    inside = np.repeat(
        inside_film(spectrum_of_hex(seq.plan.piece.surface), "matt")[:, None], count, axis=1
    ).astype(np.float32)
    level = seq.plan.key_light.elevation_deg
    for place, coat in enumerate(seq.plan.coats):
        if coat.kind != "spray":
            continue
        raised = coat.stations[0].elevation_deg > level
        sweep = BASE if coat.task in ALL_ROUND else TOP if raised else LIGHT
        below = ground_under(seq.plan, place)
        each = pass_left(seq.plan, seq.stock, coat.paint, coat.task, over=below)
        film = coat.most_passes * each.film_um * places.sweeps[sweep].film
        inside = add_coat(inside, coat.optics, film.astype(np.float32), droplet_um=each.splat_um)
    return inside


@dataclass(frozen=True, slots=True)
class _Wash:
    """A wash and how strong it is, of its usual film."""

    paint: PaintUsed
    strength: float

    @property
    def film_um(self) -> float:
        """What it leaves where it does not run [µm]."""
        return self.strength * HANDS["wash"].film_um


def _wash_for(main: Array, stock: Stock, places: Places) -> _Wash | None:
    """The wash or dark ink that moves the asked colour least, as strong as it may be."""
    washes = [p for p in stock.paints if p.kind in ("enamel_wash", "ink")]
    inside = inside_film(spectrum_of_rgb(main), "matt")
    stays = HANDS["wash"].film_um * float(places.wash[MIDDLE])

    def moves(paint: PaintUsed, strength: float) -> float:
        film = film_over(paint.optics, inside, strength * stays)
        return delta_e(rgb_of(outside_film(film, "matt")), main)

    paint = min(washes, key=lambda p: (moves(p, WASH_STRENGTH), p.name), default=None)
    if paint is None:
        return None
    steps = np.arange(WASH_STRENGTH, LEAST_WASH, -0.01)
    strong = next((float(s) for s in steps if moves(paint, float(s)) <= WASH_MOVES), LEAST_WASH)
    return _Wash(paint, round(strong, 2))


def _asked_wash(seq: StepBuilder, main: Array, places: Places) -> _Wash | None:
    """The wash that was asked for; a note where the shelf has none, or nothing to keep it off."""
    wash = _wash_for(main, seq.stock, places)
    if wash is None:
        seq.notes.append(f"{SHELF_LACKS} wash and no ink: the recesses get none.")
        return None
    shields = any(p.kind == "varnish" and p.finish in SHIELDS for p in seq.stock.paints)
    if wash.paint.kind == "enamel_wash" and not shields:
        seq.notes.append(
            f"{wash.paint.name} would lift the colour without gloss or satin varnish under it: it "
            "is left out."
        )
        return None
    return wash


def _wash_notes(wash: _Wash | None, main: Array) -> list[str]:
    if wash is None or wash.strength >= WASH_STRENGTH:
        return []
    hue = hue_word(lch_of(main)[2])
    dark = DARK_OF.get(hue, f"a dark {hue} one")
    if lch_of(main)[1] < OTHER_CHROMA:
        dark = "a neutral dark one"
    words = f"{wash.paint.name} is thinned to {wash.strength:.0%} so that the colour stays"
    return [f"{words}; {dark} could go on stronger."]


def _ground_notes(found: ColouredRow, main: Array) -> list[str]:
    """What the whites under clears are for, by the loss without them."""
    asked = lch_of(main)[1]
    if found.unlit is None or asked < OTHER_CHROMA:
        return []
    bare, lit = (lch_of(np.clip(rgb[MIDDLE], 0, 1))[1] / asked for rgb in (found.unlit, found.rgb))
    if lit - bare < LEAST_LOSS:
        return []
    words = f"Over primer alone it would look duller ({bare:.0%} of its strength)"
    return [f"{words}; over the white laid first it keeps {min(lit, 1.0):.0%}."]


def _shared_notes(found: ColouredRow, asked: Asked) -> list[str]:
    """What the ends of a gradient share where it does not follow the light."""
    first = next((layer for layer in found.layers if layer.task == "cover"), None)
    if asked.along == "light" or first is None:
        return []
    return [f"{first.mix.name} lies all over; both ends go over it and share it where they meet."]


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


def _ground(seq: StepBuilder, main: Array, *, white: bool = True) -> None:
    """What lies below the colour, by the ground school; `white` when its light coat is fixed."""
    plan, stock = seq.plan, seq.stock
    school = plan.schools.ground
    if plan.schools.order == "descend":
        return  # its primer is chosen with its coats
    dark = seq.ground_paint(
        lambda p: p.kind == "primer" and p.tone < DARK_GROUND,
        lambda p: p.hides and p.kind != "metallic" and p.tone < DARK_INSTEAD,
        0.2,
        "dark primer",
    )
    if dark is None:
        raise NothingFitsError(
            f"{SHELF_LACKS} dark primer and no dark paint for the ground; add one first.",
            field="paint",
        )
    seq.spray("prime", dark, GROUND)
    if school == "hue_ground":
        level, chroma, hue = lch_of(main)
        low = np.array([max(0.2, level - 0.25), *_ab(0.8 * chroma, hue)])
        own = nearest(stock, lambda p: _colours(p) and p.tone < 55, low, "dark of this hue")
        seq.spray("cover", own, GROUND)
    if school == "three_tone":
        _mid_light(seq)
    if white and school != "hue_ground":
        _top_light(seq)


def _is_grey(paint: PaintUsed) -> bool:
    return float(np.hypot(*chip_lab(paint)[1:])) < GREY_CHROMA


def _mid_light(seq: StepBuilder) -> None:
    """The mid grey of a three-tone ground; without one the light is left at two tones."""
    mid = [p for p in seq.stock.paints if p.hides and 40 < p.tone < 68 and _is_grey(p)]
    paint = closest(mid, grey(0.62))
    if paint is None:
        seq.notes.append(f"{SHELF_LACKS} mid grey: the light under the colour has two tones.")
        return
    seq.spray("light", paint, _from_light(seq.plan), film_um=6.0)


def _top_light(seq: StepBuilder) -> None:
    """White from above the light, or the lightest paint there is."""
    white = seq.ground_paint(
        lambda p: p.hides and p.tone > 80 and _is_grey(p),
        lambda p: p.hides and p.kind != "metallic" and p.tone > LIGHT_INSTEAD,
        0.96,
        "white",
    )
    if white is None:
        seq.notes.append(f"{SHELF_LACKS} white and no light paint: the colour goes on without.")
        return
    seq.spray("light", white, _from_light(seq.plan, rise=25.0), film_um=9.0)


def _ab(chroma: float, hue: float) -> tuple[float, float]:
    return chroma * float(np.cos(np.radians(hue))), chroma * float(np.sin(np.radians(hue)))


def _more_colours(seq: StepBuilder, answers: Answers) -> None:
    others = () if answers.gradient else answers.colours[1:3]
    colours = [linear_of_hex(c, field="colours") for c in others]
    if colours and not any(p.tints for p in seq.stock.paints):
        seq.notes.append(f"{SHELF_LACKS} transparent paint: the shade colour is left out.")
    elif colours:
        tint = seq.clear(oklab_of(colours[0]))
        key = seq.plan.key_light
        away = [Station(signed_azimuth(key.azimuth_deg + 180.0), -10, 18)]
        seq.spray("tint", tint, away, film_um=2.0)
    if len(colours) > 1:
        accent = nearest(seq.stock, lambda p: p.hides, oklab_of(colours[1]), "opaque paint")
        seq.hand("edge_lines", accent)


def _wash(seq: StepBuilder, wash: _Wash) -> None:
    """A wash over gloss, which lets it run and keeps its solvent off the colour."""
    gloss = seq.varnish(SHIELDS, "under the wash")
    if gloss:
        seq.spray("gloss", gloss, GROUND)
        if wash.paint.kind == "enamel_wash":
            seq.rest(SPIRIT_OVER_VARNISH_S / 60, "Varnish cures")
    seq.hand("wash", wash.paint, strength=wash.strength)


def _wear(seq: StepBuilder, what: What, wash: _Wash | None, dusted: PaintUsed | None) -> None:
    if what == "vehicle":
        if wash and wash.paint.kind == "enamel_wash":
            seq.hand("streaks", wash.paint, strength=0.7)
        dark = closest((p for p in seq.stock.paints if p.hides and p.tone < 30), grey(0.3))
        if dark:
            seq.hand("chips", dark)
        else:
            seq.notes.append(f"{SHELF_LACKS} dark paint for chips: they are left out.")
    elif dusted:
        seq.hand("dry_brush", dusted, strength=DRY_BRUSH)
    else:
        seq.notes.append(f"{SHELF_LACKS} pale paint to dry-brush with: edges stay as they are.")


def _pale(stock: Stock) -> PaintUsed | None:
    """What edges are dry-brushed with; None without a pale paint."""
    warm = np.array([0.85, 0.01, 0.03])
    return closest((p for p in stock.paints if p.hides and p.tone > 65), warm)
