"""Mixes and ladders as JSON: the same models for the command line and the web."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from haze.core.errors import HazeError
from haze.core.film.difference import ciede2000, hue_turn, lab_of, oklab_of, oklch_of
from haze.core.film.finish import Finish, inside_film
from haze.core.film.gamut import into_gamut
from haze.core.film.ladder import (
    CHALK_WARNS,
    EVEN,
    Ladder,
    anchors_from_one,
    find_ladder,
    paints_for,
    with_rest,
)
from haze.core.film.match import MOST_DROPS, MOST_PAINTS, nearest_mixes
from haze.core.film.overshoot import Film, after_films, aim_before
from haze.core.film.paint import (
    Opacity,
    PaintOptics,
    is_clear,
    masstone_rgb,
    paint_optics,
    swatch_rgb,
)
from haze.core.film.palette import Candidate, Over, Palette, mix_rgb
from haze.core.film.spectra import decode_srgb, parse_hex, spectrum_of_hex, to_hex
from haze.core.plan.amounts import CUP_REST_ML
from haze.core.plan.document import Hex
from haze.service.jobs import Report
from haze.service.spray_io import Strict

Array = NDArray[np.float64]

SHOWN_MIXES = 8
LOOKED_AT = 8
CLOSE = 2.0  # ΔE00 below which a mix counts as the colour (judged)
SIMPLER_WITHIN = 1.0  # ΔE00 a simpler mix may be worse by
MOST_SHELF = 400


class MixPaint(Strict):
    """A paint to mix with; `drop_ul` and `strength` as on the shelf."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    masstone: Hex
    opacity: Opacity = "opaque"
    finish: Finish = "matt"
    drop_ul: float = Field(default=50.0, ge=5, le=200)
    strength: float = Field(default=1.0, ge=0.05, le=20)


class FilmLater(Strict):
    """A film that comes later, such as a wash or a tint."""

    masstone: Hex
    opacity: Opacity = "transparent"
    finish: Finish = "matt"
    dry_film_um: float = Field(ge=0, le=200)


class MixWish(Strict):
    """A colour to mix: thick, or as a film `over` a ground, and what comes over it later."""

    target: Hex
    max_paints: int = Field(default=3, ge=1, le=MOST_PAINTS)
    max_drops: int = Field(default=8, ge=1, le=MOST_DROPS)
    over: Hex | None = None
    dry_film_um: float = Field(default=6.0, gt=0, le=500)
    then: list[FilmLater] = Field(default_factory=list, max_length=8)


class MixIn(MixWish):
    paints: Annotated[list[MixPaint], Field(min_length=1, max_length=MOST_SHELF)]


class PouredDrops(BaseModel):
    what: str
    drops: int


class MixOut(BaseModel):
    """One mix: drops by name, in pouring order, its colour and its distance ΔE00 to the target."""

    drops: dict[str, int]
    cup: list[PouredDrops]
    colour: str
    delta_e: float
    words: str


class MixesOut(BaseModel):
    """Mixes, nearest first; `simplest` is the place of the plainest one within 1 ΔE00 of it."""

    mixes: list[MixOut]
    simplest: int
    aim: str
    missing: str | None


def optics_in(paint: MixPaint | FilmLater) -> PaintOptics:
    """The optics of a paint as it is given."""
    return paint_optics(paint.masstone, opacity=paint.opacity, finish=paint.finish)


def films_of(later: list[FilmLater]) -> list[Film]:
    """Films that come later."""
    return [Film(optics_in(f), f.dry_film_um) for f in later]


def palette_of(paints: list[MixPaint]) -> Palette:
    """The paints as the search takes them; names must differ."""
    names = [p.name for p in paints]
    if len(set(names)) != len(names):
        twice = next(n for n in names if names.count(n) > 1)
        raise HazeError(f"paints holds {twice!r} twice; names must differ.", field="paints")
    return Palette.of(
        [optics_in(p) for p in paints],
        drop=[p.drop_ul for p in paints],
        strength=[p.strength for p in paints],
    )


def over_of(ground: str | None, film_um: float) -> Over | None:
    """A film over a ground colour; None for a thick film."""
    if ground is None:
        return None
    return Over(inside_film(spectrum_of_hex(ground), "matt"), film_um)


def mix(given: MixIn) -> MixesOut:
    """The mixes of given paints nearest to a colour."""
    return mixes_of(given, palette_of(given.paints), [p.name for p in given.paints])


def mixes_of(
    given: MixWish, palette: Palette, names: list[str], report: Report | None = None
) -> MixesOut:
    """The mixes of a palette nearest to a colour; drops by the paints' names."""
    over = over_of(given.over, given.dry_film_um)
    target = decode_srgb(parse_hex(given.target, field="target"))
    aimed = aim_before(target, films_of(given.then)).rgb if given.then else target
    found = nearest_mixes(
        aimed,
        palette,
        over=over,
        most_paints=given.max_paints,
        most_drops=given.max_drops,
        keep=LOOKED_AT,
        progress=(lambda done: report(done, "Trying mixes")) if report else None,
    )
    ranked = sorted(
        ((c, mix_rgb(palette.mix(c.paints, c.drops), over)) for c in found),
        key=lambda one: _delta_e(one[1], aimed),
    )[:SHOWN_MIXES]
    mixes = [_mix_out(c, rgb, aimed, names) for c, rgb in ranked]
    return MixesOut(
        mixes=mixes,
        simplest=_simplest(mixes),
        aim=to_hex(into_gamut(aimed)[0]),
        missing=_missing(ranked[0][1], aimed) if mixes[0].delta_e > CLOSE else None,
    )


def _delta_e(rgb: Array, target: Array) -> float:
    return float(ciede2000(lab_of(rgb), lab_of(target)))


def _simplest(mixes: list[MixOut]) -> int:
    near = [i for i, m in enumerate(mixes) if m.delta_e <= mixes[0].delta_e + SIMPLER_WITHIN]
    return min(near, key=lambda i: (len(mixes[i].drops), sum(mixes[i].drops.values()), i))


def _mix_out(found: Candidate, rgb: Array, target: Array, names: list[str]) -> MixOut:
    parts = sorted(zip(found.paints, found.drops, strict=True), key=lambda p: (-p[1], p[0]))
    return MixOut(
        drops={names[i]: d for i, d in parts},
        cup=[PouredDrops(what=names[i], drops=d) for i, d in parts],
        colour=to_hex(into_gamut(rgb)[0]),
        delta_e=round(_delta_e(rgb, target), 4),
        words=difference_words(rgb, target),
    )


def difference_words(rgb: Array, target: Array) -> str:
    """How a colour differs from the wanted one, in the painter's words."""
    have, want = oklch_of(np.clip(rgb, 0, None)), oklch_of(target)
    off = _delta_e(rgb, target)
    if off < 1.0:
        return "looks the same"
    words = []
    if abs(have[0] - want[0]) > 0.012:
        words.append("lighter" if have[0] > want[0] else "darker")
    if abs(have[1] - want[1]) > 0.012:
        words.append("stronger" if have[1] > want[1] else "duller")
    turn = float(hue_turn(have[2], want[2]))
    if min(have[1], want[1]) > 0.03 and abs(turn) > 4:
        words.append(f"{_toward(float(want[2]), turn)}")
    return "a little " + " and ".join(words) if off < 4 and words else " and ".join(words) or "off"


HUES = ((25, "red"), (60, "orange"), (100, "yellow"), (145, "green"), (200, "blue-green"))
HUES_ROUND = (*HUES, (260, "blue"), (305, "violet"), (350, "pink"), (385, "red"))


def hue_word(hue_deg: float) -> str:
    """The name of a hue."""
    hue = hue_deg % 360
    return min(HUES_ROUND, key=lambda h: min(abs(h[0] - hue), abs(h[0] - hue - 360)))[1]


def _toward(hue: float, turn: float) -> str:
    for step in range(10, 100, 10):
        word = hue_word(hue + np.sign(turn) * step)
        if word != hue_word(hue):
            return f"more {word}"
    return "of another hue"


def _missing(best: Array, target: Array) -> str:
    """What kind of paint would close the gap."""
    have, want = oklch_of(np.clip(best, 0, None)), oklch_of(target)
    off = _delta_e(best, target)
    said = f"Nothing on the list comes close: the best is {off:.1f} off."
    hue = hue_word(float(want[2]))
    if want[1] > have[1] + 0.02:
        kind = "light" if want[0] > 0.72 else "dark" if want[0] < 0.4 else "strong"
        return f"{said} A {kind}, clean {hue} is missing: every mix is too dull."
    if want[0] > have[0] + 0.02:
        return f"{said} Something lighter is missing: every mix is too dark over this."
    if want[0] < have[0] - 0.02:
        return f"{said} Something darker is missing: every mix is too light."
    if want[1] > 0.03:
        return f"{said} A {hue} nearer to this hue is missing."
    return f"{said} A cleaner grey is missing: every mix has a tint."


# ladders ------------------------------------------------------------------------------------------

Order = Literal["climb", "descend", "veil", "span", "hue_ground"]


class LadderWish(Strict):
    """One to three colours, dark to light; `rungs` null for as many as smooth steps need."""

    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    rungs: int | None = Field(default=None, ge=2, le=12)
    order: Order = "climb"
    cup: Literal["rinse", "carry"] = "rinse"
    over: Hex = "#17181a"
    dry_film_um: float = Field(default=6.0, gt=0, le=200)
    max_drops: int = Field(default=8, ge=2, le=MOST_DROPS)
    use: list[str] = Field(default_factory=list, max_length=5)
    then: list[FilmLater] = Field(default_factory=list, max_length=8)


class LadderIn(LadderWish):
    paints: Annotated[list[MixPaint], Field(min_length=1, max_length=MOST_SHELF)]


class RungOut(BaseModel):
    """One rung in spraying order; `cover` is the share of the light side it should still reach."""

    drops: dict[str, int]
    cup: list[PouredDrops]
    add: dict[str, int]
    colour: str
    after_all: str
    lightness: float
    step: float
    chalk: float
    hue_turn_deg: float
    cover: float
    notes: list[str]


class LadderOut(BaseModel):
    rungs: list[RungOut]
    evenness: float
    even: bool
    paints: list[str]
    notes: list[str]
    instead: str | None


def ladder(given: LadderIn) -> LadderOut:
    """Rungs in whole drops of given paints."""
    return ladder_of(given, palette_of(given.paints), [p.name for p in given.paints])


def ladder_of(given: LadderWish, palette: Palette, names: list[str]) -> LadderOut:
    """Rungs in whole drops from one colour to another, in the order they are sprayed."""
    wanted = [decode_srgb(parse_hex(c, field="colours")) for c in given.colours]
    anchors = anchors_from_one(wanted[0]) if len(wanted) == 1 else wanted
    anchors = sorted(anchors, key=lambda rgb: float(oklab_of(rgb)[0]))
    later = films_of(given.then)
    aims = [aim_before(rgb, later) for rgb in anchors]
    notes = [_left_over_words(a.left_over) for a in aims if a.left_over > CLOSE][:1]
    if given.order in ("descend", "span"):
        aims = aims[::-1] if given.order == "descend" else aims
    chosen = _allowed(given, palette, names, [a.rgb for a in aims])
    found = _find(given, palette, [a.rgb for a in aims], chosen)
    instead = None
    if not given.use and given.order != "descend":
        instead = _without_chalk(given, palette, names, [a.rgb for a in aims], found)
    rungs = _rungs_out(given, palette, names, found, later)
    if given.order == "span":
        rungs = _from_the_middle(rungs)
    even = found.evenness <= EVEN
    if not even:
        notes.append(_uneven_words(found))
    used = list(dict.fromkeys(n for r in rungs for n in r.drops))
    return LadderOut(
        rungs=rungs,
        evenness=round(found.evenness, 3),
        even=even,
        paints=used,
        notes=notes,
        instead=instead,
    )


def _allowed(
    given: LadderWish, palette: Palette, names: list[str], anchors: list[Array]
) -> list[int]:
    """The paints to build from: those that were named, or those whose mixes come nearest."""
    if given.use:
        unknown = [n for n in given.use if n not in names]
        if unknown:
            raise HazeError(f"use names {unknown[0]!r}, which is not among paints.", field="use")
        return [names.index(n) for n in given.use]
    clear = [is_clear(o) for o in palette.optics]
    wanted = given.order == "descend"
    fitting = [i for i, seen_through in enumerate(clear) if seen_through == wanted]
    if len(fitting) < 2 and wanted:
        raise HazeError(
            "Descending goes from light to dark with transparent paints; give at least two of them "
            "(opacity transparent or semi_transparent).",
            field="paints",
        )
    if len(fitting) < 2:
        fitting = list(range(len(palette.optics)))
    few = Palette.of(
        [palette.optics[i] for i in fitting],
        drop=[palette.drop[i] for i in fitting],
        strength=[palette.strength[i] for i in fitting],
    )
    return [fitting[i] for i in paints_for(anchors, few)]


def _find(given: LadderWish, palette: Palette, anchors: list[Array], chosen: list[int]) -> Ladder:
    return find_ladder(
        anchors,
        palette,
        rungs=given.rungs,
        ground=_ground(given, anchors[0]),
        film_um=given.dry_film_um,
        paints=chosen,
        most_drops=given.max_drops,
    )


def _ground(given: LadderWish, darkest: Array) -> Array:
    """What the first rung goes over: a hue ground is the dark of the final hue itself."""
    ground = to_hex(darkest) if given.order == "hue_ground" else given.over
    return inside_film(spectrum_of_hex(ground), "matt")


def _without_chalk(
    given: LadderWish,
    palette: Palette,
    names: list[str],
    anchors: list[Array],
    found: Ladder,
) -> str | None:
    """A lighter saturated paint that keeps the highlight's colour, when white makes it chalky."""
    worst = max(r.chalk for r in found.rungs)
    if worst <= CHALK_WARNS:
        return None
    middle = oklch_of(anchors[len(anchors) // 2])
    used = {i for r in found.rungs for i in r.drops}
    best: tuple[float, int] | None = None
    for i, optics in enumerate(palette.optics):
        level, chroma, hue = (float(v) for v in oklch_of(masstone_rgb(optics)))
        turn = abs(float(hue_turn(hue, middle[2])))
        if i in used or level < float(middle[0]) + 0.08 or chroma < 0.05 or turn > 50:
            continue
        if is_clear(optics):
            continue
        goal = [*anchors[:-1], swatch_rgb(optics)]
        tried = _find(given, palette, goal, _allowed(given, palette, names, goal))
        chalk = max(r.chalk for r in tried.rungs)
        if chalk < worst - 0.1 and (best is None or chalk < best[0]):
            best = (chalk, i)
    if best is None:
        return "No lighter, stronger paint of this hue is on the list; white will look chalky."
    return (
        f"Lighten with {names[best[1]]} instead of white: "
        f"{best[0]:.0%} of the colour is lost at the top, not {worst:.0%}."
    )


def _rungs_out(
    given: LadderWish, palette: Palette, names: list[str], found: Ladder, later: list[Film]
) -> list[RungOut]:
    out: list[RungOut] = []
    used = sorted({i for r in found.rungs for i in r.drops})
    rest: dict[int, float] = {}
    covers = covers_of(len(found.rungs))
    for n, rung in enumerate(found.rungs):
        add = rung.drops
        if given.cup == "carry" and rest:
            add, _ = with_rest(
                palette,
                rung.drops,
                rest,
                rest_volume=CUP_REST_ML * 1000,
                paints=used,
                most_drops=given.max_drops,
            )
        rest = _rest_after(palette, rest, add)
        parts = sorted(rung.drops.items(), key=lambda p: (-p[1], p[0]))
        out.append(
            RungOut(
                drops={names[i]: d for i, d in parts},
                cup=[PouredDrops(what=names[i], drops=d) for i, d in parts],
                add={names[i]: d for i, d in sorted(add.items(), key=lambda p: (-p[1], p[0]))},
                colour=to_hex(into_gamut(rung.rgb)[0]),
                after_all=to_hex(into_gamut(_after(rung.inside, later, rung.rgb))[0]),
                lightness=round(rung.lightness, 2),
                step=round(rung.step, 4),
                chalk=round(rung.chalk, 3),
                hue_turn_deg=round(rung.hue_turn_deg, 1),
                cover=covers[n],
                notes=_rung_notes(n, found),
            )
        )
    return out


def _after(inside: Array, later: list[Film], rgb: Array) -> Array:
    return after_films(inside, later) if later else rgb


def _rest_after(palette: Palette, rest: dict[int, float], add: dict[int, int]) -> dict[int, float]:
    """Volume shares of what stays in the cup after a rung, paint only."""
    volumes = {i: share * CUP_REST_ML * 1000 for i, share in rest.items()}
    for i, drops in add.items():
        volumes[i] = volumes.get(i, 0.0) + drops * palette.drop[i]
    whole = sum(volumes.values())
    return {i: v / whole for i, v in volumes.items()}


# most, half, a third, a fifth, a touch (P10)
COVERS = (0.9, 0.5, 0.33, 0.2, 0.08)


def covers_of(rungs: int) -> list[float]:
    """Share of the surface each rung should still reach, from most to a touch."""
    at = np.linspace(0, len(COVERS) - 1, rungs)
    return [round(float(v), 2) for v in np.interp(at, range(len(COVERS)), COVERS)]


def _rung_notes(n: int, found: Ladder) -> list[str]:
    rung = found.rungs[n]
    notes = []
    steps = [r.step for r in found.rungs[1:]]
    middle = float(np.median(steps))
    if n and rung.step > EVEN * middle:
        notes.append("step too high")
    if rung.chalk > CHALK_WARNS:
        notes.append(f"chalky: {rung.chalk:.0%} of the colour is lost")
    if abs(rung.hue_turn_deg) > 12:
        notes.append(f"hue turns {abs(rung.hue_turn_deg):.0f}°")
    return notes


def _uneven_words(found: Ladder) -> str:
    first, last = found.ends_off
    end = "first" if first > last else "last"
    if max(first, last) > 0.03:
        return (
            f"The steps are uneven: the {end} colour cannot be reached with these paints at this "
            "film. Give more passes, or name another paint."
        )
    return "The steps are uneven: these paints make too few mixes between. Allow more drops."


def _left_over_words(left: float) -> str:
    return (
        f"The films that come later pull it farther than any paint can make up for: {left:.0f} "
        "stay off. Make them thinner, or aim for a calmer colour."
    )


def _from_the_middle(rungs: list[RungOut]) -> list[RungOut]:
    """Span: begin in the middle, up to the brightest, then down into the darkest."""
    middle = len(rungs) // 2
    return [*rungs[middle:], *rungs[:middle][::-1]]
