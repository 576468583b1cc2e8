"""All orders of colour tried for one wish, and which suits this shelf and piece best."""

from __future__ import annotations

from pydantic import BaseModel

from haze.core.errors import CancelledError, HazeError
from haze.core.plan.schools import SCHOOLS, Schools
from haze.service.forms.sentences import listed
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.sequence import StartBody, StartedOut, started
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report

MINUTE_COST = 0.02  # ΔE00 a minute of hands is worth (judged)
MORE_CHROMA, MORE_MINUTES = 0.05, 10.0  # less is not worth a word


class OrderTried(BaseModel):
    """One order of colour: the sequence laid by it, or why there is none."""

    order: str
    name: str
    found: StartedOut | None
    refused: str | None


class OrdersOut(BaseModel):
    """All orders, the number of the best, from 0, and why it is; null when none can be laid."""

    orders: list[OrderTried]
    best: int | None
    why: str


def orders_tried(body: StartBody, on: OnPiece, shelf: Shelf, report: Report) -> OrdersOut:
    """A sequence by each order of colour.

    Parameters
    ----------
    body : what is asked; its other schools stay
    on : the piece
    shelf : what may be taken
    report : called with how far it is
    """
    schools = body.schools or body.plan.schools
    names = {key: name for key, (name, _) in SCHOOLS["order"].items()}
    tried = []
    for number, (order, name) in enumerate(names.items()):

        def part(done: float, doing: str, n: int = number, name: str = name) -> bool:
            return report((n + done) / len(names), f"{name}: {doing.lower()}")

        tried.append(_tried(body, schools, order, name, on, shelf, part))
    best = _best(tried)
    return OrdersOut(orders=tried, best=best, why=why(tried, best))


def _tried(
    body: StartBody,
    schools: Schools,
    order: str,
    name: str,
    on: OnPiece,
    shelf: Shelf,
    report: Report,
) -> OrderTried:
    own = schools.model_copy(update={"order": order})
    try:
        found = started(body.model_copy(update={"schools": own}), on, shelf, report)
    except CancelledError:
        raise
    except HazeError as error:
        return OrderTried(order=order, name=name, found=None, refused=error.message)
    return OrderTried(order=order, name=name, found=found, refused=None)


def _score(found: StartedOut) -> float:
    return found.lands.score + MINUTE_COST * found.cost.minutes


def _best(tried: list[OrderTried]) -> int | None:
    laid = [(n, _score(one.found)) for n, one in enumerate(tried) if one.found]
    return min(laid, key=lambda pair: pair[1])[0] if laid else None


def why(tried: list[OrderTried], best: int | None) -> str:
    """Why an order is the best: what it does better than the next, and what that costs.

    Parameters
    ----------
    tried : all orders
    best : int, number of the best; None when there is none
    """
    if best is None:
        return "None of the orders can be done from this shelf."
    one = tried[best]
    assert one.found
    rest = [other for other in tried if other.found and other is not one]
    if not rest:
        return f"{one.name} is the only order this shelf allows."
    second = min(rest, key=lambda other: _score(other.found) if other.found else 0.0)
    assert second.found
    mine, its = one.found.lands, second.found.lands
    reasons = [
        f"ends ΔE {mine.delta_e:.1f} from the asked colour ({second.name} {its.delta_e:.1f})"
    ]
    kept, other = mine.chroma_kept, its.chroma_kept
    if kept is not None and other is not None and abs(kept - other) >= MORE_CHROMA:
        reasons.append(
            f"keeps {min(kept, 1):.0%} of the colour's strength (the other {min(other, 1):.0%})"
        )
    more = one.found.cost.minutes - second.found.cost.minutes
    if abs(more) >= MORE_MINUTES:
        amount = f"{abs(round(more / 5) * 5):.0f} min {'more' if more > 0 else 'less'}"
        reasons.append(f"takes {amount} of hands")
    return f"{one.name} suits this shelf best: it {listed(reasons)}."
