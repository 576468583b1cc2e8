"""A plan as a recipe on paper: cup, setting, sides and rounds, waits, step by step."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from haze.core.day.holding import aim_words, all_sides_words, side_words
from haze.core.day.totals import long_words
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.roles import HANDS, SPRAYED
from haze.core.plan.words import airbrush_words
from haze.core.rules.cautions import plan_cautions
from haze.core.units import psi_to_bar
from haze.formats.recipe_sheet import RecipePage, RecipeRow
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.run_sheet import PouredOut, SheetStep, sheet_of


def recipe_page(
    plan: Plan,
    on: OnPiece,
    *,
    picture: bytes | None,
    after: Mapping[str, bytes],
    unit: str,
    today: date,
) -> RecipePage:
    """What stands on the recipe sheet of a plan.

    Parameters
    ----------
    plan : the plan
    on : its piece
    picture : PNG of it as planned
    after : PNG of it after each step that shows, by the step's id
    unit : "psi" or "bar", which comes first
    today : printed at the foot
    """
    sheet = sheet_of(plan, on)
    steps = {s.coat: s for s in sheet.steps}
    copies = "one" if plan.piece.copies == 1 else f"{plan.piece.copies}"
    key = plan.key_light
    brush = airbrush_words(plan.airbrush.name, plan.airbrush.needle_mm)
    about = (
        f"{copies} × {plan.piece.name}, {plan.piece.height_mm:g} mm high. {plan.schools.words}.",
        f"Light {side_words(key.azimuth_deg, key.elevation_deg)}.",
        f"{brush}. Room {plan.room.temperature_c:g} °C, {plan.room.humidity_pct:g} %.",
        f"{sheet.words[0].upper()}{sheet.words[1:]}",
    )
    parts = {part.id: part.name for part in on.piece.parts_in(plan)}
    rows = tuple(
        replace(_row(number, step, steps[step.id], unit, parts), picture=after.get(step.id))
        for number, step in enumerate(plan.done, start=1)
    )
    return RecipePage(
        title=plan.name,
        about=about,
        picture=picture,
        rows=rows,
        cautions=tuple(dict.fromkeys(c.short for c in plan_cautions(plan))),
        foot=f"Haze, {today.isoformat()}. Amounts are for all {plan.piece.copies} copies."
        if plan.piece.copies > 1
        else f"Haze, {today.isoformat()}.",
    )


def _row(
    number: int, step: Coat | HandStep, sheet: SheetStep, unit: str, parts: Mapping[str, str]
) -> RecipeRow:
    colour = step.mix.hex if step.mix else None
    wait = f"wait {long_words(60 * sheet.wait_min)}" if sheet.wait_min >= 1 else ""
    if step.kind == "hand":
        how = "" if step.role == "rest" else "by hand"
        return RecipeRow(
            number=number,
            name=step.name,
            colour=colour,
            what=HANDS[step.role].word,
            cup=step.mix.name if step.mix else "",
            setting=f"{step.masks.label}, {step.masks.edge}" if step.masks else how,
            sides=_where(step, parts),
            wait=wait,
        )
    dried = "blow it dry" if step.spray.blown else ""
    sides = all_sides_words(step)
    return RecipeRow(
        number=number,
        name=step.mix.name,
        colour=colour,
        what=SPRAYED[step.task].word,
        cup=", ".join(_poured(p) for p in sheet.cup),
        setting=_setting(step, unit),
        sides=f"{_rounds(step.aim.passes)} {_where(step, parts)}" if step.aim else sides,
        wait=", ".join(t for t in (dried, wait) if t) or "go on",
    )


def _where(step: Coat | HandStep, parts: Mapping[str, str]) -> str:
    """Where a step goes, with the name of its part."""
    name = parts.get(step.about_part or "") if step.kind == "hand" else None
    if step.aim is None:
        return f"on {name}" if name else ""
    name = parts.get(step.aim.part or "", name or "")
    if step.aim.field == "part" and name:
        return f"everywhere but {name}" if step.aim.reversed else f"over {name} only"
    return aim_words(step.aim)


def _poured(poured: PouredOut) -> str:
    if poured.drops is not None:
        return f"{poured.drops} {'drop' if poured.drops == 1 else 'drops'} {poured.what}"
    return f"{poured.ml:.1f} ml {poured.what}"


def _setting(coat: Coat, unit: str) -> str:
    s = coat.spray
    psi, bar = f"{s.pressure_psi:.3g} psi", f"{psi_to_bar(s.pressure_psi):.2g} bar"
    pressure = f"{bar} ({psi})" if unit == "bar" else f"{psi} ({bar})"
    rest = f", {s.rest_s:.0f} s between rounds" if s.rest_s else ""
    thinned = f"{s.thinner_parts:g}:1" if s.thinner_parts else "unthinned"
    return (
        f"{pressure}, {thinned}, trigger {s.trigger:.0%}, {s.distance_mm:.0f} mm, "
        f"{s.speed_mm_s:.0f} mm/s{rest}"
    ).replace("%", " %")


def _rounds(count: int) -> str:
    return "1 round" if count == 1 else f"{count} rounds"
