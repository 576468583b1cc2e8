"""All light coats of a plan together: stations and rounds whose end comes nearest to the wish.

Painters judge the end, not one coat. Every coat in turn is fitted to what is still wanted, by the
slope of the end lightness over its film; then all rounds together by damped least squares; then
they are made whole and moved to neighbouring stations while that helps. A step is kept only when
the true end comes nearer. Sources: Levenberg 1944, Marquardt 1963 (damping); Chen, Billings & Luo
1989, doi:10.1080/00207178908953472 (few stations); Lawson & Hanson 1974 (weights not negative).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from haze.core.arrays import Array, Floats
from haze.core.directions import direction_of
from haze.core.light.fit import few, nonnegative
from haze.core.light.stations import Station
from haze.core.onpiece.stack import Stack
from haze.core.progress import Progress, tell

SLOPE_UM = 0.5
DAMPINGS = (0.03, 0.3, 3.0)
SCALES = (0.7, 1.0, 1.4)
MOST_SWEEPS = 6
ENOUGH = 0.01  # a sweep that gains less is the last
REFINEMENTS = 6
ROUND_COST = 0.2  # L*²: what a round must gain
MOST_ROUNDS = 24  # of a coat
NEIGHBOURS = 13
SPREAD_STEP_DEG = 12.0  # how far apart two sweeps of one direction count
STARTING_UM = tuple(0.25 * 1.45**n for n in range(14))  # .25 to 31 µm
UNSTEADY_DEG, UNSTEADY_FILM, UNSTEADY_SEED = 7.0, 0.2, 3  # a hand that is not sure (judged)
STOPPED = "Stopped; your stations are as they were."

Rounds = dict[int, float]  # of each station of a coat, by the number of its atom


@dataclass(frozen=True, slots=True)
class LightCoat:
    """What one round of a light coat leaves [µm, dry]: square-on, and as mist on open surface."""

    pass_um: float
    mist_um: float


@dataclass(frozen=True, slots=True)
class Fit:
    """The wish, and what there is to meet it with, at the places that count.

    Attributes
    ----------
    stack : the plan there
    coats : its light coats
    where : stations to choose from
    lit : (m, n) float32 [-], what one square-on pass from each lands
    openness : (n,) float32 [0..1], carries the mist
    wanted : (n,) float32 [L*]
    weight : (n,) float32, above 0
    stations : most stations of a coat
    """

    stack: Stack
    coats: Sequence[LightCoat]
    where: Sequence[Station]
    lit: Floats
    openness: Floats
    wanted: Floats
    weight: Floats
    stations: int = 3

    def film(self, number: int, rounds: Rounds) -> Floats:
        """(n,) float32 [µm]: film of a coat.

        Parameters
        ----------
        number : of the coat
        rounds : of its stations
        """
        coat = self.coats[number]
        film = np.zeros(self.lit.shape[1], dtype=np.float32)
        for atom, count in rounds.items():
            film += np.float32(count) * self.landed(coat, atom)
        return film

    def landed(self, coat: LightCoat, atom: int) -> Floats:
        """(n,) float32 [µm]: film of one round of a coat from a station.

        Parameters
        ----------
        coat : which
        atom : number of the station
        """
        mist = np.float32(coat.mist_um) * self.openness
        return np.asarray(np.float32(coat.pass_um) * self.lit[atom] + mist)

    def cost(self, off: Floats) -> float:
        """Weighted mean of (ended − wanted)² [L*²].

        Parameters
        ----------
        off : (n,) float [L*], ended less wanted
        """
        return float((self.weight * off * off).sum() / self.weight.sum())


@dataclass(slots=True)
class State:
    """Rounds of every light coat, their films, and how far the end is off [L*]."""

    rounds: list[Rounds]
    films: list[Floats]
    off: Floats
    cost: float = field(default=0.0)

    @property
    def total(self) -> float:
        """The cost with what its rounds cost."""
        return self.cost + ROUND_COST * sum(sum(r.values()) for r in self.rounds)


def state_of(
    fit: Fit, rounds: Sequence[Rounds], *, like: State | None = None, but: int | None = None
) -> State:
    """What these rounds give.

    Parameters
    ----------
    fit : the wish and the stations
    rounds : of every coat
    like : a state whose films are the same but for one coat
    but : that coat
    """
    films = [
        like.films[i] if like is not None and but is not None and i != but else fit.film(i, one)
        for i, one in enumerate(rounds)
    ]
    off = fit.stack.lightness(films) - fit.wanted
    return State([dict(r) for r in rounds], films, off, fit.cost(off))


def _with(fit: Fit, state: State, number: int, rounds: Rounds) -> State:
    changed = [*state.rounds]
    changed[number] = rounds
    return state_of(fit, changed, like=state, but=number)


def coat_by_coat(fit: Fit) -> State:
    """Every coat in turn gets the thinnest film that brings each place to the wish.

    Parameters
    ----------
    fit : the wish and the stations
    """
    state = state_of(fit, [{} for _ in fit.coats])
    for number, coat in enumerate(fit.coats):
        target = _thinnest(fit, state, number)
        scale = np.sqrt(fit.weight) * np.float32(max(coat.pass_um, 1e-3))
        chosen, found = few(fit.lit * scale, target * np.sqrt(fit.weight), count=fit.stations)
        state = _with(fit, state, number, dict(zip(chosen, found.tolist(), strict=True)))
    return state


def _thinnest(fit: Fit, state: State, number: int) -> Floats:
    """(n,) float32 [µm]: the film of a coat with which each place ends nearest to the wish."""
    nearest = np.abs(state.off)
    best = state.films[number].copy()
    films = [*state.films]
    for um in STARTING_UM:
        films[number] = np.full(fit.stack.places, um, dtype=np.float32)
        off = np.abs(fit.stack.lightness(films) - fit.wanted)
        better = off < nearest - 0.25
        best = np.where(better, np.float32(um), best)
        nearest = np.where(better, off, nearest)
    return best


def slope(fit: Fit, state: State, number: int) -> Floats:
    """(n,) float32 [L*/µm]: how the end follows the film of a coat.

    Parameters
    ----------
    fit : the wish and the stations
    state : from where
    number : of the coat
    """
    films = [*state.films]
    films[number] = films[number] + np.float32(SLOPE_UM)
    here = state.off + fit.wanted
    return np.asarray((fit.stack.lightness(films) - here) / np.float32(SLOPE_UM))


def _refit(fit: Fit, state: State, number: int) -> State:
    """One coat fitted again to what is still wanted; the state as it was when nothing helps."""
    coat = fit.coats[number]
    rising = slope(fit, state, number)
    film = state.films[number]
    best = state
    usual = float((fit.weight * rising * rising).mean())
    for damping in DAMPINGS:
        # Σ w (s·(f' − f) + off)² + λ (f' − f)² is least squares of f' toward one goal
        stiff = fit.weight * rising * rising + np.float32(damping * usual + 1e-9)
        goal = film - fit.weight * rising * state.off / stiff
        root = np.sqrt(stiff)
        scale = root * np.float32(max(coat.pass_um, 1e-3))
        chosen, found = few(fit.lit * scale, goal * root, count=fit.stations)
        for factor in SCALES:
            rounds = {
                atom: factor * float(count)
                for atom, count in zip(chosen, found, strict=True)
                if count > 1e-6
            }
            tried = _with(fit, state, number, rounds)
            if tried.cost < best.cost:
                best = tried
    return best


def _together(fit: Fit, state: State) -> State:
    """All rounds refined at once, their stations as they are."""
    places = [(i, atom) for i, rounds in enumerate(state.rounds) for atom in rounds]
    if not places:
        return state
    damping = 0.1
    for _ in range(REFINEMENTS):
        rising = [slope(fit, state, i) for i in range(len(fit.coats))]
        root = np.sqrt(fit.weight)
        columns = np.stack(
            [root * rising[i] * fit.landed(fit.coats[i], atom) for i, atom in places]
        ).astype(np.float64)
        x = np.array([state.rounds[i][atom] for i, atom in places])
        gram = columns @ columns.T
        ridge = np.diag(damping * gram.diagonal() + 1e-9)
        toward = gram @ x - columns @ (root * state.off) + ridge @ x
        moved = nonnegative(gram + ridge, toward)
        rounds: list[Rounds] = [{} for _ in fit.coats]
        for (i, atom), count in zip(places, moved.tolist(), strict=True):
            rounds[i][atom] = count
        tried = state_of(fit, rounds)
        if tried.cost < state.cost:
            gained = 1 - tried.cost / max(state.cost, 1e-12)
            state, damping = tried, damping / 3
            if gained < ENOUGH / 4:
                break
        else:
            damping *= 5
    return state


def solve(fit: Fit, starts: Sequence[State], *, progress: Progress | None = None) -> State:
    """Whole rounds from few stations whose end comes nearest to the wish.

    Parameters
    ----------
    fit : the wish and the stations
    starts : where to begin; the best is returned when nothing comes nearer
    progress : called with the share done, 0 to 1; None for silence
    """
    found = [_swept(fit, start, n, len(starts), progress) for n, start in enumerate(starts)]
    whole = [_whole(fit, state) for state in found]
    best = min(whole, key=lambda state: state.total)
    tell(progress, 0.75, STOPPED)
    best = _moved(fit, best, lambda done: tell(progress, 0.75 + 0.25 * done, STOPPED))
    return _whole(fit, best)


def _swept(fit: Fit, state: State, start: int, starts: int, progress: Progress | None) -> State:
    for sweep in range(MOST_SWEEPS):
        before = state.cost
        for number in range(len(fit.coats)):
            state = _refit(fit, state, number)
        state = _together(fit, state)
        tell(progress, 0.7 * (start + (sweep + 1) / MOST_SWEEPS) / starts, STOPPED)
        if state.cost > before * (1 - ENOUGH):
            break
    return state


def _whole(fit: Fit, state: State) -> State:
    """Whole rounds: rounded, then moved by one or two, in pairs, or dropped while that helps."""
    rounds: list[Rounds] = []
    for one in state.rounds:
        scale = min(1.0, MOST_ROUNDS / max(sum(one.values()), 1e-9))
        kept: Rounds = {a: float(round(n * scale)) for a, n in one.items() if n * scale >= 0.5}
        while sum(kept.values()) > MOST_ROUNDS:
            kept[max(kept, key=lambda a: kept[a])] -= 1.0
        if not kept:  # every coat keeps a round: an empty cup is a step left out
            first = max(one, key=lambda a: one[a]) if one else _likeliest(fit)
            kept = {first: 1.0}
        rounds.append(kept)
    state = state_of(fit, rounds)
    while True:
        better = min(
            (_with(fit, state, i, r) for i, r in _steps(state)),
            key=lambda s: s.total,
            default=state,
        )
        if better.total >= state.total - 1e-6:
            return state
        state = better


def _likeliest(fit: Fit) -> int:
    """The station that lands most where most light is wanted."""
    return int(np.argmax(fit.lit @ (fit.wanted * fit.weight)))


def _steps(state: State) -> list[tuple[int, Rounds]]:
    """Every small change of whole rounds: ±1, ±2, one up and one down, one station dropped."""
    out: list[tuple[int, Rounds]] = []
    for number, rounds in enumerate(state.rounds):
        atoms = list(rounds)
        changes = [{a: by} for a in atoms for by in (1, -1, 2, -2)]
        changes += [{a: 1, b: -1} for a in atoms for b in atoms if a != b]
        changes += [{a: -int(rounds[a])} for a in atoms]
        for change in changes:
            new = {a: n + change.get(a, 0) for a, n in rounds.items()}
            if min(new.values()) < 0 or not 1 <= sum(new.values()) <= MOST_ROUNDS:
                continue
            out.append((number, {a: n for a, n in new.items() if n > 0}))
    return out


def _moved(fit: Fit, state: State, tell_done: Callable[[float], None]) -> State:
    """Each station moved among its neighbours while the end comes nearer."""
    directions = np.array([direction_of(s.azimuth_deg, s.elevation_deg) for s in fit.where])
    spreads = np.array([s.spread_deg for s in fit.where])
    places = [(i, atom) for i, rounds in enumerate(state.rounds) for atom in rounds]
    for done, (number, atom) in enumerate(places):
        at = atom
        for near in _neighbours(directions, spreads, atom):
            rounds = state.rounds[number]
            if near in rounds or at not in rounds:
                continue
            moved = {(near if a == at else a): n for a, n in rounds.items()}
            tried = _with(fit, state, number, moved)
            if tried.total < state.total:
                state, at = tried, near
        tell_done((done + 1) / len(places))
    return state


def _neighbours(directions: Array, spreads: Array, atom: int) -> list[int]:
    apart = np.degrees(np.arccos(np.clip(directions @ directions[atom], -1, 1)))
    steps = np.abs(np.log2(spreads / spreads[atom]))
    far = apart + SPREAD_STEP_DEG * steps
    far[atom] = np.inf
    return [int(i) for i in np.argsort(far, kind="stable")[:NEIGHBOURS]]


def unsteady(
    fit: Fit,
    state: State,
    landed: Callable[[Station], Floats],
    share: Callable[[Floats], float],
    *,
    draws: int = 24,
) -> tuple[float, float]:
    """Band of a share when a hand is off by some degrees and by some film (10 and 90 %).

    Parameters
    ----------
    fit : the wish and the stations
    state : whole rounds
    landed : what one square-on pass from a station lands, (n,) float32
    share : of the end's distance from the wish, (n,) float32 [L*]
    draws : int, how often it is tried
    """
    rng = np.random.default_rng(UNSTEADY_SEED)
    found = []
    for _ in range(draws):
        films = []
        for coat, rounds in zip(fit.coats, state.rounds, strict=True):
            film = np.zeros(fit.stack.places, dtype=np.float32)
            for atom, count in rounds.items():
                at = fit.where[atom]
                off = rng.normal(0, UNSTEADY_DEG, 2)
                tilt = float(np.clip(at.elevation_deg + off[1], -90, 90))
                near = Station(float(at.azimuth_deg + off[0]) % 360.0, tilt, at.spread_deg)
                mist = np.float32(coat.mist_um) * fit.openness
                film += np.float32(count) * (np.float32(coat.pass_um) * landed(near) + mist)
            factor = np.exp(rng.normal(0, UNSTEADY_FILM))
            films.append(np.asarray(film * np.float32(factor)))
        found.append(share(fit.stack.lightness(films) - fit.wanted))
    low, high = np.quantile(found, (0.1, 0.9))
    return float(low), float(high)
