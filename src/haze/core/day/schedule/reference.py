"""What a day would take the usual ways, to compare with."""

from __future__ import annotations

from haze.core.day.schedule.laying import Choice, lay
from haze.core.day.schedule.problem import Day, single_copies
from haze.core.day.schedule.tables import NEVER, Tables


def coat_by_coat_min(day: Day) -> float | None:
    """Finish [min] when one lane after the other is done, each coat on all its copies.

    Parameters
    ----------
    day : with its lanes as they are meant; None when latest times cannot be kept this way
    """
    tables = Tables(day)
    blown = [False] * len(tables.active)
    for t in tables.blowable:
        one = tables.active[t]
        copies = day.lanes[one.lane].copies
        blown[t] = copies * (one.task.blow_min or 0.0) < one.task.dry_min
    order = [lane for lane, tasks in enumerate(tables.of_lane) for _ in tasks]
    sums = lay(tables, Choice(order, blown, [0] * len(blown)))
    return sums.finish if sums.late < 1e-6 and sums.finish < NEVER else None


def one_by_one_min(day: Day) -> float | None:
    """Finish [min] when every copy is finished before the next is begun.

    Parameters
    ----------
    day : with its lanes as they are meant; None when latest times cannot be kept this way
    """
    return coat_by_coat_min(single_copies(day))
