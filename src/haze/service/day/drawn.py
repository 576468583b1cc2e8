"""A laid day as it is drawn and told: what the hands do, the strands, figures, and sentences.

Times here count from the start of the first day, when the bench is opened.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from haze.core.day.amounts import ADDITIVE_DROP_UL, CUP_REST_ML, TRIAL_ML
from haze.core.day.cleaning import RINSE_S
from haze.core.day.holding import rounds_words
from haze.core.day.schedule.cups import CARRIED_MIN, THOROUGH_MIN
from haze.core.day.schedule.planning import Laid, Usual
from haze.core.day.schedule.problem import DAY_MIN, REFILL_MIN, Day, Entry, Task, lags
from haze.core.day.tasks import DayTask
from haze.core.day.totals import long_words
from haze.core.plan.coat import Coat, HandStep
from haze.core.units import ml_to_drops
from haze.service.day.asked import EntryOut
from haze.service.day.document import (
    CLOSE_MIN,
    OPEN_MIN,
    DayDoc,
    Drawn,
    Figures,
    LaneView,
    Row,
    Segment,
)
from haze.service.day.lanes import Group, copies_words, part_of_step, wish_for
from haze.service.forms.sentences import listed

WORTH_MIN = 0.75  # a shorter pause is not shown
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


@dataclass(frozen=True, slots=True)
class LaidDay:
    """A day, what its lanes stand for, and the order found for it."""

    doc: DayDoc
    day: Day
    groups: Sequence[Group]
    found: Laid
    usual: Usual

    def task(self, e: Entry) -> Task:
        """The task of an entry."""
        return self.day.lanes[e.lane].tasks[e.step]

    def from_plan(self, e: Entry) -> DayTask:
        """The same, with the step of the plan it comes from."""
        return self.groups[e.lane].of.tasks[e.step]

    def coat(self, e: Entry) -> Coat | HandStep:
        """The step of the plan it comes from."""
        step = self.from_plan(e).step
        return next(c for c in self.groups[e.lane].of.plan.coats if c.id == step)

    @property
    def work(self) -> list[Entry]:
        """What the hands do, in order."""
        return [e for e in self.found.entries if self.task(e).kind != "rest"]


def drawn(laid: LaidDay, *, version: int, plans: dict[str, int], moved: int | None) -> Drawn:
    """A planned day as the screens show it.

    Parameters
    ----------
    laid : the day
    version : of what was asked
    plans : versions of the plans it was laid from
    moved : neighbours that were turned round since it was laid before; None the first time
    """
    rows = [_named(laid, row) for row in _joined(_rows(laid))]
    return Drawn(
        version=version,
        plans=plans,
        entries=[EntryOut.of(e) for e in laid.found.entries],
        rows=rows,
        lanes=[_strand(laid, lane) for lane in range(len(laid.groups))],
        figures=_figures(laid, rows, moved),
        overnight=list(_overnight(laid)),
        shared=list(_shared(laid)),
        notes=list(_notes(laid)),
    )


# what the hands do -------------------------------------------------------------------------------


def _rows(laid: LaidDay) -> Iterator[Row]:
    held: dict[int, Entry] = {}
    at, day = 0.0, -1
    for e in laid.work:
        begin = e.start_min - e.setup_min + OPEN_MIN
        on = int((begin - OPEN_MIN + 1e-6) // DAY_MIN)
        if on != day:
            if day >= 0:
                yield _close(at, day)
            day = on
            # nobody opens the bench long before there is something to do
            at = begin
            yield Row(
                kind="open",
                day=day,
                from_min=begin - OPEN_MIN,
                to_min=begin,
                words="Cautions, mask, extraction on",
            )
        yield from _pause(laid, at, begin, day, e)
        yield from _cup(laid, e, held, day)
        yield _work(laid, e, day)
        at = e.end_min + OPEN_MIN
    if day >= 0:
        yield _close(at, day)


def _close(at: float, day: int) -> Row:
    words = "Clean thoroughly, drain the tank, unplug"
    return Row(kind="close", day=day, from_min=at, to_min=at + CLOSE_MIN, words=words)


def _pause(laid: LaidDay, at: float, until: float, day: int, following: Entry) -> Iterator[Row]:
    """Breaks, and time in which everything dries."""
    start = laid.doc.calendar.start_min - OPEN_MIN
    breaks = sorted(
        (a - start + day * DAY_MIN, b - start + day * DAY_MIN) for a, b in laid.doc.calendar.breaks
    )
    for begin, end in [*breaks, (until, until)]:
        if (end <= at + 1e-6 and end != until) or begin > until + 1e-6:
            continue
        if begin - at >= WORTH_MIN:
            yield Row(
                kind="free",
                day=day,
                from_min=at,
                to_min=begin,
                words=_free_words(laid, following, end > begin),
            )
        if end > begin:
            yield Row(kind="break", day=day, from_min=begin, to_min=end, words="a break")
        at = max(at, end)


def _free_words(laid: LaidDay, following: Entry, pause: bool) -> str:
    """Why the hands are free: a break comes, or something dries."""
    before = [
        e for e in laid.found.entries if (e.lane, e.step) == (following.lane, following.step - 1)
    ]
    if before and abs(_ready(laid, before[0]) - following.start_min) < 1.0:
        return f"free: {laid.groups[following.lane].name} dries"
    return "free: nothing more fits before the break" if pause else "free"


def _ready(laid: LaidDay, e: Entry) -> float:
    """When the next step of an entry's lane may begin at the earliest."""
    lane, task = laid.day.lanes[e.lane], laid.task(e)
    after = lane.tasks[e.step + 1]
    if task.kind == "rest":
        return e.end_min
    return e.start_min + lags(task, after, lane.copies, blown=(e.blown, False))[0]


def _cup(laid: LaidDay, e: Entry, held: dict[int, Entry], day: int) -> Iterator[Row]:
    """What lies between two cups of an airbrush."""
    if e.airbrush is None:
        return
    last = held.get(e.airbrush)
    held[e.airbrush] = e
    if e.setup_min <= 0:
        return
    task = laid.task(e)
    rinse = 0.0 if last is None else e.setup_min - task.setup_min
    if last is not None and laid.task(last).key == task.key and e.setup_min <= REFILL_MIN + 1e-6:
        words = "pour the same again"
    elif rinse >= THOROUGH_MIN - 1e-6:
        words = "deep clean, pour, try on card"
    elif 0 < rinse <= CARRIED_MIN + 1e-6:
        words = "the rest stays in the cup; pour, try on card"
    elif rinse > 0:
        words = "rinse, pour, try on card"
    else:
        words = "pour, try on card"
    begin = e.start_min - e.setup_min + OPEN_MIN
    yield Row(
        kind="clean",
        day=day,
        from_min=begin,
        to_min=e.start_min + OPEN_MIN,
        words=words,
        airbrush=e.airbrush,
        lane=e.lane,
    )


def _work(laid: LaidDay, e: Entry, day: int) -> Row:
    group, one, coat = laid.groups[e.lane], laid.from_plan(e), laid.coat(e)
    what = laid.task(e).name
    small = [_from_where(coat)]
    if e.blown:
        small.append("blown dry")
    refills = sum(p > e.start_min + 1e-6 for p in e.pours)
    if refills:
        small.append(f"the cup is filled again {_times(refills)}")
    wish = wish_for(laid.doc.wishes, group, e.step)
    return Row(
        kind="work",
        day=day,
        from_min=e.start_min + OPEN_MIN,
        to_min=e.end_min + OPEN_MIN,
        words=what,
        small=" · ".join(s for s in small if s),
        colour=one.colour,
        lane=e.lane,
        plan=group.of.identity,
        step=one.step,
        part=part_of_step(group.of.tasks, e.step),
        copies_from=[group.copy_from],
        airbrush=e.airbrush,
        wish=wish.kind if wish else None,
        ready_min=_ready(laid, e) + OPEN_MIN if e.step + 1 < len(group.of.tasks) else None,
    )


def _joined(rows: Iterable[Row]) -> Iterator[Row]:
    """Rows in which groups that are worked on one after the other in the same way are one."""
    last: Row | None = None
    for row in rows:
        if last is not None and _goes_on(last, row):
            copies = [*last.copies_from, *row.copies_from]
            update = {"to_min": row.to_min, "copies_from": copies, "ready_min": row.ready_min}
            last = last.model_copy(update=update)
            continue
        if last is not None:
            yield last
        last = row
    if last is not None:
        yield last


def _named(laid: LaidDay, row: Row) -> Row:
    """A row of work with its piece, and which of its copies."""
    if row.kind != "work" or row.lane is None:
        return row
    of = laid.groups[row.lane].of
    size = {g.copy_from: g.copies for g in laid.groups if g.of is of}
    copies = [n for first in row.copies_from for n in range(first, first + size[first])]
    return row.model_copy(update={"words": f"{row.words} · {copies_words(of, copies)}"})


def _goes_on(last: Row, row: Row) -> bool:
    alike = ("kind", "day", "plan", "step", "part", "airbrush", "small", "wish")
    same = all(getattr(last, name) == getattr(row, name) for name in alike)
    return same and row.kind == "work" and abs(row.from_min - last.to_min) < 1e-6


def _times(count: int) -> str:
    return ("once", "twice")[count - 1] if count < 3 else f"{count} times"


def _from_where(coat: Coat | HandStep) -> str:
    return rounds_words(coat) if coat.kind == "spray" else "by hand"


# strands -----------------------------------------------------------------------------------------


def _strand(laid: LaidDay, lane: int) -> LaneView:
    group = laid.groups[lane]
    mine = sorted((e for e in laid.found.entries if e.lane == lane), key=lambda e: e.step)
    colours = group.of.colours
    end = max((e.end_min for e in laid.work), default=0.0) + OPEN_MIN + CLOSE_MIN
    found: list[Segment] = []
    at, colour = 0.0, colours[0]
    for e, after in pairwise([*mine, None]):
        assert e is not None
        task = laid.task(e)
        if task.kind == "rest":
            continue
        begin, done = e.start_min + OPEN_MIN, e.end_min + OPEN_MIN
        found.append(_segment(at, begin, colour, "ready" if found else "bare"))
        colour = colours[e.step + 1]
        found.append(_segment(begin, done, laid.from_plan(e).colour or colour, "worked"))
        dry = done + (0.0 if e.blown else task.dry_min)
        until = after.start_min + OPEN_MIN if after else end
        found.append(_segment(done, min(dry, max(until, done)), colour, "wet"))
        at = min(dry, max(until, done))
    found.append(_segment(at, max(end, at), colour, "ready" if mine else "bare"))
    return LaneView(
        plan=group.of.identity,
        name=group.name,
        piece=group.of.plan.piece.name,
        which=group.which,
        copy_from=group.copy_from,
        copies=group.copies,
        segments=[s for s in found if s.to_min > s.from_min + 1e-9],
    )


def _segment(begin: float, end: float, colour: str, state: str) -> Segment:
    return Segment.model_validate(
        {"from_min": begin, "to_min": end, "colour": colour, "state": state}
    )


# figures and sentences ---------------------------------------------------------------------------


def _figures(laid: LaidDay, rows: Sequence[Row], moved: int | None) -> Figures:
    around = OPEN_MIN + CLOSE_MIN
    # what was done already is in the rows, and no longer in the sums of what was found
    end = max((r.to_min for r in rows), default=0.0)
    usual = laid.usual
    plans = {id(g.of): g.of for g in laid.groups}.values()
    return Figures(
        total_min=end,
        finish_min=end,
        hands_min=sum(r.to_min - r.from_min for r in rows if r.kind not in ("free", "break")),
        idle_min=sum(r.to_min - r.from_min for r in rows if r.kind == "free"),
        bound_min=laid.found.bound_min + around,
        one_by_one_min=None if usual.one_by_one_min is None else usual.one_by_one_min + around,
        coat_by_coat_min=(
            None if usual.coat_by_coat_min is None else usual.coat_by_coat_min + around
        ),
        changes=sum(r.kind == "clean" and not r.words.startswith("pour") for r in rows),
        deep_cleans=sum(r.words.startswith("deep clean") for r in rows),
        days=len({r.day for r in rows}),
        coats=sum(len(p.plan.done) for p in plans),
        copies=sum(p.plan.piece.copies for p in plans),
        moved=moved,
    )


def _overnight(laid: LaidDay) -> Iterator[str]:
    """What waits over a night without harm, and what must not and so begins the next day."""
    last_of: dict[int, Entry] = {}
    waits: dict[int, list[str]] = {}
    for e in laid.work:
        day = int((e.start_min + 1e-6) // DAY_MIN)
        before = last_of.get(e.lane)
        if before is not None:
            night = int((before.start_min + 1e-6) // DAY_MIN)
            if night < day:
                name, then = laid.task(before).name, laid.task(e).name
                text = f"{laid.groups[e.lane].name}: {name} waits for {then}"
                waits.setdefault(night, []).append(text)
                latest = laid.task(e).latest_min
                if latest is not None:
                    yield (
                        f"{then} on {laid.groups[e.lane].name} must be followed within "
                        f"{long_words(60.0 * latest)}, so it begins fresh on day {day + 1}."
                    )
        last_of[e.lane] = e
    for night, texts in sorted(waits.items()):
        yield f"Night {night + 1}, no harm done: {'; '.join(texts)}."


def _shared(laid: LaidDay) -> Iterator[str]:
    """Cups that serve more than one group, and what that saves."""
    cups: list[list[Entry]] = []
    open_cup: dict[int, list[Entry]] = {}
    for e in laid.work:
        if e.airbrush is None:
            continue
        cup = open_cup.get(e.airbrush)
        if (
            cup is not None
            and laid.task(cup[-1]).key == laid.task(e).key
            and (e.setup_min <= REFILL_MIN + 1e-6)
        ):
            cup.append(e)
            continue
        open_cup[e.airbrush] = [e]
        cups.append(open_cup[e.airbrush])
    for cup in cups:
        names = list(dict.fromkeys(laid.groups[e.lane].of.plan.piece.name for e in cup))
        if len(names) < 2:
            continue
        task = laid.task(cup[0])
        saved = sum(task.setup_min + RINSE_S / 60 - e.setup_min for e in cup[1:])
        drops = ml_to_drops(CUP_REST_ML + TRIAL_ML, drop_ul=ADDITIVE_DROP_UL) * (len(cup) - 1)
        yield (
            f"{laid.from_plan(cup[0]).words} serves {listed(names)}: {saved:.0f} min and "
            f"{drops:.0f} drops saved."
        )


def _notes(laid: LaidDay) -> Iterator[str]:
    for lane, step, minutes in laid.found.late:
        name, what = laid.groups[lane].name, laid.day.lanes[lane].tasks[step].name
        yield (
            f"{what} on {name} comes {minutes:.0f} min later than it should; no order was found "
            "that keeps it."
        )
