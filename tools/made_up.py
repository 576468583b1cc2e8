"""Sessions and trials as a painter would leave them, pressed through the server's interface."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import count as counted
from itertools import groupby
from typing import Any

from serving import ask, follow

LEAST_MIN = 0.15  # between two presses
SLOWER = 0.6  # minutes later with every forty presses


def painted(address: str, plan: str, *, date: str) -> str:
    """Do a whole day of one plan at the booth, with a speck and a pressure turned for it.

    The identity of the day. Presses follow the laid times, each stretch a little slower.
    """
    view = ask(address, f"plans/{plan}/day?today={date}")
    doc = view["doc"] | {"date": date, "stop": None}
    view = ask(
        address, f"days/{view['id']}", {"version": view["version"], "doc": doc}, method="PUT"
    )
    follow(address, ask(address, f"days/{view['id']}/lay", {}))
    steps = ask(address, f"days/{view['id']}/booth")["steps"]
    start = datetime.fromisoformat(f"{date}T{doc['start']}").astimezone(UTC)
    events = presses(view["id"], steps, start)
    for begin in range(0, len(events), 400):
        ask(address, f"days/{view['id']}/events", {"events": events[begin : begin + 400]})
    return str(view["id"])


def presses(
    day: str, steps: list[dict[str, Any]], start: datetime, *, trouble: bool = True
) -> list[dict[str, Any]]:
    """The presses through steps of a day, as the booth tells them.

    Parameters
    ----------
    day : its identity
    steps : those that are done, as the booth lists them
    start : when the day began, in UTC
    trouble : whether specks come after a while, and a pressure is turned for them
    """
    numbers = counted(1)
    over = not trouble
    minute = 1.0

    def event(step: dict[str, Any], kind: str, number: int = 0, **more: object) -> dict[str, Any]:
        at = start + timedelta(minutes=minute)
        return {
            "id": f"{day[:20]}-{next(numbers):06}",
            "at": at.strftime("%Y-%m-%dT%H:%M:%SZ"),
            "minute": minute,
            "kind": kind,
            "step": step["id"],
            "number": number,
            **more,
        }

    events: list[dict[str, Any]] = []
    for _, stretch in groupby(steps, key=lambda step: step["entry"]):
        own = list(stretch)
        many = sum(step["count"] for step in own)
        ends = max(minute + many * LEAST_MIN, own[-1]["to_min"] + SLOWER * len(events) / 40)
        each = (ends - minute) / max(many, 1)
        for step in own:
            if step["kind"] == "hold" and not over and len(events) > 40:
                over = True
                about = {"plan": step["plan"], "coat": step["coat"]}
                psi = step["spray"]["pressure_psi"] + 2
                events.append(event(step, "problem", symptom="specks", **about))
                events.append(event(step, "turned", knob="pressure_psi", to=psi, **about))
            for number in range(step["count"]):
                minute += each
                look = {"look": "clean"} if step["kind"] == "trial" else {}
                events.append(event(step, "tried" if look else "done", number, **look))
    return events


def tried(address: str, paint: str, looks: list[str], *, psi: float = 18.0) -> None:
    """Cards of one paint of the shelf in the first airbrush."""
    shelf = ask(address, "shelf")
    used = next(p for p in shelf["paints"] if p["name"] == paint)
    airbrush = shelf["airbrushes"][0]
    for n, look in enumerate(looks):
        setting = {
            "paint": {"kind": used["kind"]},
            "thinner": "acrylic_thinner",
            "thinner_parts": 1.0 + n / 2,
            "needle_mm": airbrush["needle_mm"],
            "trigger": 0.3,
            "pressure_psi": psi,
            "distance_mm": 60,
            "speed_mm_s": 80,
            "room": {"temperature_c": 19.4, "humidity_pct": 52},
        }
        body = {
            "id": f"card-{used['id'][:20]}-{n:03}",
            "look": look,
            "paint": {"id": used["id"], "name": used["name"], "kind": used["kind"]},
            "airbrush": {k: airbrush[k] for k in ("id", "name", "needle_mm")},
            "setting": setting,
        }
        ask(address, "trials", body)


def card(address: str, paint: str, *, title: str = "") -> int:
    """A printed card for a paint of the shelf, too thin and from too near; its number."""
    shelf = ask(address, "shelf")
    used = next(p for p in shelf["paints"] if p["name"] == paint)
    airbrush = shelf["airbrushes"][0]
    setting = {
        "paint": {"kind": used["kind"]},
        "thinner": "acrylic_thinner",
        "thinner_parts": 3.4,
        "needle_mm": airbrush["needle_mm"],
        "trigger": 0.4,
        "pressure_psi": 28,
        "distance_mm": 45,
        "speed_mm_s": 70,
    }
    body = {
        "paint": {k: used[k] for k in ("id", "name", "kind")},
        "airbrush": {k: airbrush[k] for k in ("id", "name", "needle_mm")},
        "title": title or f"Card of {paint}",
        "setting": setting,
    }
    return int(ask(address, "cards", body)["number"])
