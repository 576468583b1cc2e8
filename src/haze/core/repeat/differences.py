"""Every number in which two plans differ, grouped as a painter would tell them, and why.

A difference names a place in the document; all that changed below that place belongs to it. The
list is complete: each leaf of the two documents that differs lies under exactly one of them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from haze.core.day.holding import aim_words
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.knobs import DIALS
from haze.core.plan.lights import Light
from haze.core.plan.words import airbrush_words

Leaf = str | int | float | bool | None
SPRAY_LABELS = {
    **{name: dial.label for name, dial in DIALS.items()},
    "flow_aid_parts": "Flow aid to paint",
    "blown": "Blown dry",
}
STEP_LABELS = {
    "name": "Name",
    "task": "Task",
    "off": "Left out",
    "note": "Note",
    "paint": "Paint",
    "also": "Mixed with",
    "drops": "Drops",
    "thinner": "Thinner",
    "stations": "Rounds",
    "aim": "Aim",
    "role": "Step",
    "strength": "Strength",
    "part": "Part",
    "mask": "Mask",
    "minutes": "Wait after it",
    "kind": "Kind",
}
PLAN_LABELS = {
    "name": "Name",
    "airbrush": "Airbrush",
    "asked": "Colours asked for",
    "silenced": "Silenced findings",
    "order": "Order of steps",
    "schema_version": "Form of the document",
    "room.temperature_c": "Temperature",
    "room.humidity_pct": "Humidity",
    "piece.mesh": "Mesh",
    "piece.name": "Piece",
    "piece.height_mm": "Height",
    "piece.up": "Which way is up",
    "piece.show": "Front",
    "piece.turn_deg": "Turned by",
    "piece.copies": "Copies",
    "piece.surface": "Bare colour",
    "piece.groundwork": "Groundwork",
    "piece.parts": "Parts",
    "piece.blocked": "Held or blocked",
    "schools.pressure": "School of pressure",
    "schools.light": "School of light",
    "schools.ground": "School of ground",
    "schools.order": "School of colour",
}
UNITS = {"room.temperature_c": "°C", "room.humidity_pct": "%", "piece.height_mm": "mm"}


@dataclass(frozen=True, slots=True)
class Difference:
    """One difference.

    Parameters
    ----------
    path : place in the document; all leaves below it belong to this difference
    where : the step's name, empty for the whole plan
    what : what differs, as it is called on the screens
    before, after : in words; empty when it is not there
    knob : of a sprayed coat's setting, whose numbers are `before_value` and `after_value`
    why : a sentence without a stop, empty when nobody said why
    """

    path: str
    where: str
    what: str
    before: str
    after: str
    knob: str | None = None
    before_value: float | None = None
    after_value: float | None = None
    why: str = ""


def leaves(plan: Plan) -> dict[str, Leaf]:
    """Every single value of a document by its path; members of lists go by their id.

    Parameters
    ----------
    plan : the document
    """
    found: dict[str, Leaf] = {}
    _walk("", plan.model_dump(mode="json"), found)
    found["order"] = " ".join(c.id for c in plan.coats)
    return found


def _walk(path: str, value: Any, found: dict[str, Leaf]) -> None:
    if isinstance(value, Mapping):
        for name, below in value.items():
            _walk(f"{path}.{name}" if path else str(name), below, found)
    elif isinstance(value, list):
        for place, below in enumerate(value):
            own = below.get("id") if isinstance(below, Mapping) else None
            _walk(f"{path}.{own if own is not None else place}", below, found)
    else:
        found[path] = value


def differences(
    before: Plan, after: Plan, why: Mapping[str, str] | None = None
) -> list[Difference]:
    """All differences of two plans: those of the whole first, then step by step.

    Parameters
    ----------
    before, after : the plans
    why : sentences by path; the nearest above a difference is its own
    """
    old, new = leaves(before), leaves(after)
    steps = {c.id for c in before.coats} & {c.id for c in after.coats}
    places: dict[str, None] = {}
    for path in [*new, *(p for p in old if p not in new)]:
        if path not in old or path not in new or old[path] != new[path]:
            places[_group(path, steps)] = None
    order = {c.id: n for n, c in enumerate([*after.coats, *before.coats])}
    found = [_difference(place, before, after, why or {}) for place in places]
    return sorted(found, key=lambda d: _rank(d.path, order))


def _group(path: str, steps: set[str]) -> str:
    """The place a leaf is listed under."""
    parts = path.split(".")
    if parts[0] == "coats" and len(parts) > 1:
        if parts[1] not in steps:
            return ".".join(parts[:2])
        deep = parts[2] == "spray" or parts[2:4] == ["aim", "passes"]
        return ".".join(parts[: 4 if deep else 3])
    return ".".join(parts[: 2 if parts[0] in ("room", "piece", "schools", "lights") else 1])


def _rank(path: str, order: Mapping[str, int]) -> tuple[int, int]:
    parts = path.split(".")
    if parts[0] != "coats" or len(parts) == 1:
        return (0, 0)
    return (1, order.get(parts[1], len(order)))


def _why(path: str, why: Mapping[str, str]) -> str:
    parts = path.split(".")
    for length in range(len(parts), 0, -1):
        words = why.get(".".join(parts[:length]))
        if words is not None:
            return words
    return ""


def _difference(path: str, before: Plan, after: Plan, why: Mapping[str, str]) -> Difference:
    parts = path.split(".")
    said = _why(path, why)
    if len(parts) > 1 and parts[0] == "lights":
        one, other = (_by_id(p.lights, parts[1]) for p in (before, after))
        name = (other or one or before.key_light).name
        return Difference(path, "", f"Light: {name}", _light(one), _light(other), why=said)
    if len(parts) > 1 and parts[0] == "coats":
        was, now = (_by_id(p.coats, parts[1]) for p in (before, after))
        return _of_step(path, parts[2:], was, now, said)
    label = PLAN_LABELS.get(path, path)
    return Difference(path, "", label, _whole(path, before), _whole(path, after), why=said)


def _of_step(path: str, at: Sequence[str], was: Any, now: Any, why: str) -> Difference:
    """A difference of one step, or the whole of it; `at` is where in it."""
    name = (now or was).name
    if not at:
        before, after = (step.name if step else "" for step in (was, now))
        return Difference(path, name, "Step", before, after, why=why)
    if at[0] == "spray" and was is not None and now is not None:
        return _knob(path, at[1] if len(at) > 1 else "", was, now, why)
    if list(at[:2]) == ["aim", "passes"]:
        return Difference(path, name, "Rounds", _rounds(was), _rounds(now), why=why)
    label = STEP_LABELS.get(at[0], at[0])
    return Difference(path, name, label, _step(at[0], was), _step(at[0], now), why=why)


def _by_id(many: Sequence[Any], identity: str) -> Any:
    return next((one for one in many if one.id == identity), None)


def _knob(path: str, knob: str, was: Coat, now: Coat, why: str) -> Difference:
    values = [getattr(step.spray, knob, None) for step in (was, now)]
    turned = knob in DIALS
    numbers = [float(v) if turned and v is not None else None for v in values]
    return Difference(
        path,
        now.name,
        SPRAY_LABELS.get(knob, "Setting"),
        _value(values[0]),
        _value(values[1]),
        knob=knob if turned else None,
        before_value=numbers[0],
        after_value=numbers[1],
        why=why,
    )


def _value(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def _whole(path: str, plan: Plan) -> str:
    """What stands at a place of the whole plan, in words."""
    if path == "airbrush":
        return airbrush_words(plan.airbrush.name, plan.airbrush.needle_mm)
    if path == "order":
        return ", ".join(c.name for c in plan.coats)
    if path == "silenced":
        return f"{len(plan.silenced)}"
    if path == "asked":
        return ", ".join(plan.asked.colours) if plan.asked else ""
    value: Any = plan
    for part in path.split("."):
        value = getattr(value, part)
    if path == "piece.mesh":
        return f"{value[:8]}…"
    if isinstance(value, list):
        return ", ".join(one.name for one in value) or "none"
    return f"{_value(value)} {UNITS.get(path, '')}".strip()


def _light(light: Light | None) -> str:
    if light is None:
        return ""
    if light.kind == "key":
        return f"{light.azimuth_deg:g}°, {light.elevation_deg:g}° up"
    return ", ".join(f"{c:.1f}" for c in light.at) if light.kind == "glow" else light.colour


def _rounds(step: Coat | HandStep | None) -> str:
    if step is None or step.aim is None:
        return ""
    return str(step.aim.passes)


def _step(field: str, step: Coat | HandStep | None) -> str:
    """What stands at a place of a step, in words."""
    if step is None:
        return ""
    value = getattr(step, field, None)
    if field == "stations" and step.kind == "spray":
        return _sides(step)
    if field == "aim" and step.aim is not None:
        return aim_words(step.aim)
    if field == "also" and step.kind == "spray":
        return ", ".join(f"{m.paint.name} {m.drops}" for m in step.also) or "nothing"
    name = getattr(value, "name", None)
    return str(name) if name is not None else _value(value)


def _sides(coat: Coat) -> str:
    rounds = [s.passes for s in coat.stations]
    sides = "1 side" if len(rounds) == 1 else f"{len(rounds)} sides"
    if len(set(rounds)) == 1:
        return (
            f"{rounds[0]} from {sides}" if len(rounds) == 1 else f"{rounds[0]} from each of {sides}"
        )
    return f"{' + '.join(map(str, rounds))} from {sides}"
