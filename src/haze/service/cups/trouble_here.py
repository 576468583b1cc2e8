"""Causes no setting tells but the piece does: bare spots, overspray, chalk, a turned colour."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from haze.core.day.holding import side_words
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.paint import hiding_um
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.film.srgb import LUMINANCE, lightness_of
from haze.core.onpiece.facts import LANDED_AT
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.edits import ground_under, index_of
from haze.core.spray.trouble import Cause, Symptom
from haze.service.cups.overspray import overspray_of
from haze.service.piece.onpiece import OnPiece

BARE_UM = 1.0
FACES = 0.05  # of a square-on pass: less than that is not sprayed from anywhere
SOFT_STEP, SOFT_ROUND_UM = 15.0, 1.2  # L* and µm a light coat may jump by and lay (judged)
ITS_COLOUR = 3.0  # ΔE00 from the thick colour
MOST_ROUNDS = 24
Weighed = tuple[float, Cause]


def causes_here(plan: Plan, coat: Coat, symptom: Symptom, on: OnPiece) -> tuple[Cause, ...]:
    """Causes as the piece shows them, likeliest first, shares measured; none where it can not.

    Parameters
    ----------
    plan : as it is sprayed
    coat : the one in trouble
    symptom : what is seen
    on : its piece
    """
    look = LOOKS.get(symptom)
    if look is None or coat.off:
        return ()
    found = [(weight, cause) for weight, cause in look(plan, coat, on) if weight > 0]
    total = sum(weight for weight, _ in found)
    causes = [Cause(c.cause, weight / total, c.knob, c.value, c.to, c.why) for weight, c in found]
    return tuple(sorted(causes, key=lambda c: -c.share))


def _said(cause: str, why: str, turn: tuple[str, float, float] | None = None) -> Cause:
    knob, value, to = turn or (None, None, None)
    return Cause(cause, 0.0, knob, value, to, why)


def _bare(plan: Plan, coat: Coat, on: OnPiece) -> Sequence[Weighed]:
    """What stays bare: out of reach, faced by no side that is sprayed from, or thin."""
    place, piece = index_of(plan, coat.id), on.piece
    film = on.step_film(plan, place)
    bare = piece.counted & (film < BARE_UM)
    area = np.where(bare, piece.mesh.vertex_area, 0.0)
    if area.sum() <= 0:
        return ()
    reachable = on.reach.reachable(plan.piece.cones)
    best = piece.nothing()
    for station in coat.stations:
        best = np.maximum(best, on.deposits.spray(station.station))
    if coat.aim:
        best = film / max(on.square_on_um(plan, coat), 1e-6)
    hidden, unfaced = bare & ~reachable, bare & reachable & (best < FACES)
    share = {name: float(area[where].sum() / area.sum()) for name, where in (
        ("hidden", hidden), ("unfaced", unfaced), ("thin", bare & reachable & (best >= FACES)),
    )}  # fmt: skip
    wanted = min(MOST_ROUNDS, coat.most_passes + max(1, round(0.5 * coat.most_passes)))
    return (
        (
            share["hidden"],
            _said(
                f"spray reaches {share['hidden']:.0%} of what stays bare from nowhere",
                "hold the part off that stands before it, or paint it by brush",
            ),
        ),
        (
            share["unfaced"],
            _said(
                f"{share['unfaced']:.0%} of what stays bare faces none of the sides you spray from",
                f"one more side: {_side_that_faces(on, unfaced)}",
            ),
        ),
        (
            share["thin"],
            _said(
                f"{share['thin']:.0%} of what stays bare gets some, but too little",
                "another round closes it",
                ("passes", float(coat.most_passes), float(wanted)),
            ),
        ),
    )


def _side_that_faces(on: OnPiece, where: np.ndarray) -> str:
    """In words, the way most of some vertices face."""
    if not where.any():
        return "where it faces you"
    x, y, z = np.average(
        on.piece.mesh.normals[where], axis=0, weights=on.piece.mesh.vertex_area[where]
    )
    azimuth = float(np.degrees(np.arctan2(-x, -y)))
    elevation = float(np.degrees(np.arctan2(z, np.hypot(x, y))))
    return f"from {side_words(azimuth, elevation)}"


def _overspray(plan: Plan, coat: Coat, on: OnPiece) -> Sequence[Weighed]:
    """How far it shows against how near the next part is, and how much of that is mist."""
    found = overspray_of(plan, coat, on)
    if found is None or found.distance_mm is None or not found.mask:
        return ()
    here, near = coat.spray.distance_mm, found.distance_mm
    mask = _said(
        f"{found.part} is {near:.0f} mm from the edge and overspray shows to "
        f"{found.reach_mm:.0f} mm",
        "mask it, or hold a card before it",
    )
    closer = here * near / max(found.reach_mm, 1e-6)
    if closer < 0.4 * here:
        return ((1.0, mask),)
    return (
        (1.0, mask),
        (near / found.reach_mm, _said("the airbrush is too far off for this gap",
                                     "the spot is smaller", ("distance_mm", here, closer))),
    )  # fmt: skip


def _chalky(plan: Plan, coat: Coat, on: OnPiece) -> Sequence[Weighed]:
    """How high the step is, how much a round lays, and how much chroma it costs."""
    place = index_of(plan, coat.id)
    film = on.step_film(plan, place)
    landed = film >= LANDED_AT * on.square_on_um(plan, coat)
    if not landed.any():
        return ()
    below, after = (
        np.clip(seen(on.below(plan, n)), 0, 1)[:, landed].mean(axis=1) for n in (place, place + 1)
    )
    step = float(lightness_of(after @ LUMINANCE) - lightness_of(below @ LUMINANCE))
    chroma = [float(np.hypot(*lab_of(rgb)[1:])) for rgb in (below, after)]
    a_round = float(on.outcome(plan, coat).dry_film_um)
    lost = max(0.0, chroma[0] - chroma[1])
    trigger = coat.spray.trigger
    return (
        (
            max(0.0, step / SOFT_STEP - 1.0),
            _said(
                f"the coat steps up by {step:.0f} L*, more than {SOFT_STEP:.0f} joins softly",
                "add a tone between",
            ),
        ),
        (
            max(0.0, a_round / SOFT_ROUND_UM - 1.0),
            _said(
                f"a round leaves {a_round:.1f} µm at once",
                "thinner rounds join softly",
                ("trigger", trigger, trigger * max(0.4, SOFT_ROUND_UM / a_round)),
            ),
        ),
        (
            lost / 20.0,
            _said(
                f"it takes {lost:.0f} of {chroma[0]:.0f} chroma away",
                "lighten along the hue instead of with white",
            ),
        ),
    )


def _shifted(plan: Plan, coat: Coat, on: OnPiece) -> Sequence[Weighed]:
    """How far the film still is from its own colour over what lies below."""
    ground = ground_under(plan, index_of(plan, coat.id))
    optics = coat.mix.optics
    a_round = float(on.outcome(plan, coat).dry_film_um)
    rounds = np.arange(1, MOST_ROUNDS + 1)
    films = np.append(rounds * a_round, max(3 * hiding_um(optics), 60.0))
    skin = bare_skin(ground, len(films), single=False)
    lab = lab_of(np.clip(seen(coated(skin, optics, films)).T, 0, 1))
    off = ciede2000(lab[:-1], lab[-1][None, :])
    here = min(coat.most_passes, MOST_ROUNDS)
    now = float(off[here - 1])
    if now <= ITS_COLOUR:
        return ()
    enough = np.flatnonzero(off <= ITS_COLOUR)
    below = _said(
        f"what lies below shows through: ΔE {now:.0f} from its own colour after {here} rounds",
        "white or a warm opaque tone under it",
    )
    if not len(enough):
        return ((1.0, below),)
    to = float(rounds[enough[0]])
    thin = _said(
        f"the film is thin: ΔE {now:.0f} from its own colour after {here} rounds",
        f"{to:.0f} rounds bring it there",
        ("passes", float(here), to),
    )
    return ((1.0, thin), (to / MOST_ROUNDS, below))


LOOKS: dict[Symptom, Callable[[Plan, Coat, OnPiece], Sequence[Weighed]]] = {
    "bare": _bare,
    "overspray": _overspray,
    "chalky": _chalky,
    "shifted": _shifted,
}
