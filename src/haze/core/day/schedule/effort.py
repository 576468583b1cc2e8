"""How long an order is looked for: by orders tried, or by whoever holds a clock."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

__all__ = ("Effort",)

ORDERS_A_WORK = 20_000  # orders that cost about as much as one unit of the solver's work (measured)
EXACT_SHARE = 0.25  # of the effort that goes to the exact solver, on small days


def _never() -> bool:
    return False


@dataclass(frozen=True, slots=True)
class Effort:
    """What may be spent on an order.

    Parameters
    ----------
    spent : of the orders tried so far: the share [0..1] of the effort spent
    exact_seconds : float [s], the exact solver's; None where its work is counted
    exact_work : float, the exact solver's deterministic work; None where it has seconds
    stopped : whether somebody asked to stop; asked often
    """

    spent: Callable[[int], float]
    exact_seconds: float | None = None
    exact_work: float | None = None
    stopped: Callable[[], bool] = _never

    @classmethod
    def of_orders(cls, orders: int) -> Effort:
        """So many orders; the same seed then gives the same day.

        Parameters
        ----------
        orders : int, to try
        """
        work = EXACT_SHARE * orders / ORDERS_A_WORK
        return cls(lambda tried: tried / orders, exact_work=work)

    def share(self, tried: int) -> float:
        """The share [0..1] spent; 1 when stopped.

        Parameters
        ----------
        tried : int, orders so far
        """
        return 1.0 if self.stopped() else self.spent(tried)
