"""One-click fixes of the order rules: each changes one thing of a plan at the step concerned.

A fix that needs a paint takes it from the shelf; `HazeError` says what is missing there.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import ceil

from haze.core.errors import HazeError
from haze.core.film.difference import hue_turn, oklch_of
from haze.core.film.ladder import CHALK_WARNS, chalk_of
from haze.core.film.paint import is_clear, masstone_rgb
from haze.core.film.spectra import decode_srgb, parse_hex
from haze.core.plan.document import (
    Aim,
    Coat,
    HandStep,
    MixPart,
    PaintUsed,
    Plan,
    SprayAt,
    StationAt,
    ThinnerUsed,
)
from haze.core.plan.drafts import Angle, draft_coat, ground_angles
from haze.core.plan.facts import Stock, lightness_of_rgb
from haze.core.plan.painting import coat_optics, coat_outcome, optics_of
from haze.core.plan.roles import TaskName, is_wash
from haze.core.plan.waits import before_tape_s
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.constants import OWN_THINNER, PAINTS, THINNERS, suits

MORE_FILM = 0.45  # of a tint's passes that stay when it is laid thinner (judged)
Step = Coat | HandStep


def index_of(plan: Plan, step: str) -> int:
    """Place of a step in its plan."""
    for i, one in enumerate(plan.coats):
        if one.id == step:
            return i
    raise HazeError(f"The plan has no step {step!r}.", field="step")


def _with(plan: Plan, steps: Sequence[Step]) -> Plan:
    return plan.model_copy(update={"coats": list(steps)})


def _inserted(plan: Plan, at: int, step: Step) -> Plan:
    return _with(plan, [*plan.coats[:at], step, *plan.coats[at:]])


def _replaced(plan: Plan, at: int, step: Step) -> Plan:
    return _with(plan, [*plan.coats[:at], step, *plan.coats[at + 1 :]])


def _moved(plan: Plan, at: int, to: int) -> Plan:
    steps = [*plan.coats[:at], *plan.coats[at + 1 :]]
    steps.insert(to, plan.coats[at])
    return _with(plan, steps)


def fresh_id(plan: Plan, stem: str) -> str:
    """A step id that the plan does not use yet."""
    taken = {s.id for s in plan.coats}
    n = 1
    while f"{stem}-{n}" in taken:
        n += 1
    return f"{stem}-{n}"


def own_thinner(paint: PaintUsed, stock: Stock) -> ThinnerUsed:
    """The shelf's thinner for a paint's chemistry: its own kind first."""
    kind = OWN_THINNER[PAINTS[paint.kind].chemistry]
    fitting = [t for t in stock.thinners if suits(PAINTS[paint.kind], THINNERS[t.kind])]
    if not fitting:
        raise HazeError(
            f"No thinner on the shelf suits {paint.name}; add {kind.replace('_', ' ')}.",
            field="thinner",
        )
    return next((t for t in fitting if t.kind == kind), fitting[0])


def _angles_of(coat: Coat) -> list[Angle]:
    return [Angle(s.azimuth_deg, s.elevation_deg, s.spread_deg) for s in coat.stations]


def drafted(
    plan: Plan,
    stock: Stock,
    *,
    stem: str,
    task: TaskName,
    paint: PaintUsed,
    angles: list[Angle],
    over: str,
    aim: Aim | None = None,
    film_um: float | None = None,
) -> Coat:
    """A coat drafted into a plan, by its schools and in its room."""
    return draft_coat(
        fresh_id(plan, stem),
        task=task,
        paint=paint,
        thinner=own_thinner(paint, stock),
        airbrush=plan.airbrush,
        room=plan.room,
        schools=plan.schools,
        angles=angles,
        over=over,
        aim=aim,
        film_um=film_um,
    )


def tone_of(paint: PaintUsed) -> float:
    """L* of a paint when it covers."""
    return lightness_of_rgb(masstone_rgb(optics_of(paint)))


def is_opaque(paint: PaintUsed) -> bool:
    """A paint that hides, and is neither metal, varnish nor wash."""
    if paint.kind in ("metallic", "varnish", "enamel_wash", "lacquer"):
        return False
    return not is_clear(optics_of(paint))


def _pick(
    stock: Stock,
    fits: Callable[[PaintUsed], bool],
    off: Callable[[PaintUsed], float],
    missing: str,
) -> PaintUsed:
    found = [p for p in stock.paints if fits(p)]
    if not found:
        raise HazeError(f"The shelf has no {missing}; add one first.", field="paint")
    return min(found, key=lambda p: (off(p), p.name))


def varnish_of(stock: Stock, finishes: Sequence[str]) -> PaintUsed:
    """A varnish of the first finish the shelf has."""
    return _pick(
        stock,
        lambda p: p.kind == "varnish" and p.finish in finishes,
        lambda p: finishes.index(p.finish),
        f"{' or '.join(finishes)} varnish",
    )


def _coat_at(plan: Plan, step: str) -> tuple[int, Coat]:
    at = index_of(plan, step)
    coat = plan.coats[at]
    if coat.kind != "spray":
        raise HazeError(f"{coat.name} is done by hand; this change is for a sprayed coat.")
    return at, coat


def _ground_hex(plan: Plan, at: int) -> str:
    """Colour of the last covering coat below a step, or of the bare surface."""
    for under in reversed(plan.coats[:at]):
        if under.kind == "spray" and not under.off and is_opaque(under.paint):
            return under.paint.masstone
    return plan.piece.surface


# fixes --------------------------------------------------------------------------------------------


def suiting_thinner(plan: Plan, step: str, stock: Stock) -> Plan:
    """Take a thinner of the paint's own chemistry."""
    at, coat = _coat_at(plan, step)
    return _replaced(plan, at, coat.model_copy(update={"thinner": own_thinner(coat.paint, stock)}))


def seal_first(plan: Plan, step: str, stock: Stock) -> Plan:
    """Begin with a thin seal all round."""
    paint = varnish_of(stock, ("matt", "satin", "ultra_matt", "gloss"))
    seal = drafted(
        plan,
        stock,
        stem="seal",
        task="seal",
        paint=paint,
        angles=ground_angles(),
        over=plan.piece.surface,
    )
    return _inserted(plan, index_of(plan, step), seal)


def _varnished(plan: Plan, step: str, stock: Stock, finishes: Sequence[str]) -> Plan:
    at = index_of(plan, step)
    paint = varnish_of(stock, finishes)
    task: TaskName = "gloss" if paint.finish == "gloss" else "satin"
    coat = drafted(
        plan,
        stock,
        stem="varnish",
        task=task,
        paint=paint,
        angles=ground_angles(),
        over=_ground_hex(plan, at),
    )
    return _inserted(plan, at, coat)


def gloss_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A gloss varnish under a wash."""
    return _varnished(plan, step, stock, ("gloss", "satin"))


def varnish_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A protecting varnish under a step."""
    return _varnished(plan, step, stock, ("satin", "gloss"))


def mid_tone_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A grey half way between the ground and the light coat, from the same stations."""
    at, coat = _coat_at(plan, step)
    dark = _ground_hex(plan, at)
    ground = lightness_of_rgb(masstone_rgb(coat_optics(coat)))
    middle = 0.5 * (ground + _hex_lightness(dark))

    def off(paint: PaintUsed) -> float:
        chroma = float(oklch_of(masstone_rgb(optics_of(paint)))[1])
        return abs(tone_of(paint) - middle) + 120 * chroma

    paint = _pick(
        stock,
        lambda p: is_opaque(p) and abs(tone_of(p) - middle) < 15,
        off,
        f"opaque paint near {middle:.0f} L*",
    )
    mid = drafted(
        plan,
        stock,
        stem="mid",
        task=coat.task,
        paint=paint,
        angles=_angles_of(coat),
        over=dark,
        aim=coat.aim,
    )
    return _inserted(plan, at, mid)


def _hex_lightness(text: str) -> float:
    return lightness_of_rgb(decode_srgb(parse_hex(text)))


def light_ground_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A light paint of the same hue, or white, under a colour that turns; as much as covers."""
    at, coat = _coat_at(plan, step)
    own = oklch_of(masstone_rgb(coat_optics(coat)))

    def off(paint: PaintUsed) -> float:
        lch = oklch_of(masstone_rgb(optics_of(paint)))
        turn = abs(float(hue_turn(lch[2], own[2]))) if lch[1] > 0.03 else 20.0
        return turn + 100 * abs(float(lch[0]) - 0.9)

    paint = _pick(
        stock,
        lambda p: (
            is_opaque(p) and p.opacity == "opaque" and p.id != coat.paint.id and tone_of(p) > 68
        ),
        off,
        "light opaque paint",
    )
    ground = drafted(
        plan,
        stock,
        stem="ground",
        task="light",
        paint=paint,
        angles=_angles_of(coat),
        over=_ground_hex(plan, at),
        aim=coat.aim,
        film_um=20.0,
    )
    return _inserted(plan, at, ground)


def mix_between(plan: Plan, step: str, stock: Stock) -> Plan:
    """A rung of both paints, one to one, between two that lie too far apart."""
    at, high = _coat_at(plan, step)
    below = [
        c
        for c in plan.coats[:at]
        if c.kind == "spray" and not c.off and c.task in ("light", "rung")
    ]
    if not below or below[-1].kind != "spray":
        raise HazeError("There is no rung below to mix with.", field="step")
    low = below[-1]
    rung = high.model_copy(
        deep=True,
        update={
            "id": fresh_id(plan, "between"),
            "name": f"{low.paint.name} and {high.paint.name}"[:120],
            "paint": low.paint,
            "drops": 1,
            "also": [MixPart(paint=high.paint, drops=_even_drops(low.paint, high.paint))],
        },
    )
    if PAINTS[low.paint.kind].chemistry != PAINTS[high.paint.kind].chemistry:
        raise HazeError(f"{low.paint.name} and {high.paint.name} do not mix.", field="paint")
    rung.stations = [
        s.model_copy(update={"id": f"{rung.id}-{n + 1}"}) for n, s in enumerate(high.stations)
    ]
    return _inserted(plan, at, rung)


def _even_drops(low: PaintUsed, high: PaintUsed) -> int:
    """Drops of the lighter paint to one of the darker that land nearest to half way."""
    goal = 0.5 * (tone_of(low) + tone_of(high))

    def off(drops: int) -> float:
        probe = _probe(low, high, drops)
        return abs(lightness_of_rgb(masstone_rgb(coat_optics(probe))) - goal)

    return min(range(1, 9), key=off)


def _probe(low: PaintUsed, high: PaintUsed, drops: int) -> Coat:
    return Coat(
        id="probe",
        name="probe",
        task="rung",
        paint=low,
        also=[MixPart(paint=high, drops=drops)],
        thinner=ThinnerUsed(id="t", name="t", kind="acrylic_thinner"),
        spray=SprayAt(
            thinner_parts=1, trigger=0.3, pressure_psi=15, distance_mm=60, speed_mm_s=100
        ),
        stations=[StationAt(id="probe-1", azimuth_deg=0, elevation_deg=0)],
    )


def lighter_of_its_hue(plan: Plan, step: str, stock: Stock) -> Plan:
    """A light paint of the ladder's hue instead of a chalky one."""
    at, coat = _coat_at(plan, step)
    rungs = [c for c in plan.coats[:at] if c.kind == "spray" and not c.off and c.task == "rung"]
    strongest = max(rungs, key=lambda c: float(oklch_of(masstone_rgb(coat_optics(c)))[1]))
    middle = masstone_rgb(coat_optics(strongest))
    hue = float(oklch_of(middle)[2])
    wanted = lightness_of_rgb(masstone_rgb(coat_optics(coat)))

    def fits(paint: PaintUsed) -> bool:
        rgb = masstone_rgb(optics_of(paint))
        _, chroma, own = (float(v) for v in oklch_of(rgb))
        near = chroma > 0.03 and abs(float(hue_turn(own, hue))) < 45
        lighter = tone_of(paint) > lightness_of_rgb(middle) + 6
        return is_opaque(paint) and near and lighter and chalk_of(rgb, middle=middle) <= CHALK_WARNS

    paint = _pick(
        stock, fits, lambda p: abs(tone_of(p) - wanted), "light, strong paint of this hue"
    )
    changed = coat.model_copy(update={"paint": paint, "drops": 1, "also": [], "name": paint.name})
    return _replaced(plan, at, _suited(changed, stock))


def _suited(coat: Coat, stock: Stock) -> Coat:
    if suits(PAINTS[coat.paint.kind], THINNERS[coat.thinner.kind]):
        return coat
    return coat.model_copy(update={"thinner": own_thinner(coat.paint, stock)})


def opaque_instead(plan: Plan, step: str, stock: Stock) -> Plan:
    """The opaque paint nearest in colour instead of a transparent one."""
    at, coat = _coat_at(plan, step)
    own = oklch_of(masstone_rgb(coat_optics(coat)))
    ground = _hex_lightness(_ground_hex(plan, at))

    def off(paint: PaintUsed) -> float:
        lch = oklch_of(masstone_rgb(optics_of(paint)))
        turn = abs(float(hue_turn(lch[2], own[2]))) if own[1] > 0.03 else 0.0
        return turn + 60 * abs(float(lch[1] - own[1]))

    paint = _pick(
        stock,
        lambda p: is_opaque(p) and tone_of(p) > max(ground + 8, 40),
        off,
        "opaque paint lighter than the ground",
    )
    changed = coat.model_copy(update={"paint": paint, "drops": 1, "also": [], "name": paint.name})
    return _replaced(plan, at, _suited(changed, stock))


def metal_first(plan: Plan, step: str, stock: Stock) -> Plan:
    """Metal straight after the grounds, before the first colour."""
    at = index_of(plan, step)
    first = next(
        i
        for i, s in enumerate(plan.coats)
        if s.kind != "spray" or s.task not in ("seal", "prime", "gloss", "satin", "matt")
    )
    return _moved(plan, at, min(first, at))


def rest_before(plan: Plan, step: str, stock: Stock) -> Plan:
    """A rest that lets the paint below cure."""
    at = index_of(plan, step)
    waited, kind = 0.0, ""
    for under in reversed(plan.coats[:at]):
        if under.off:
            continue
        if under.kind == "spray":
            kind = under.paint.kind
            break
        waited += under.wait_min
    minutes = ceil(before_tape_s(kind) / 60.0 - waited)
    rest = HandStep(id=fresh_id(plan, "rest"), name="Let it cure", role="rest", minutes=minutes)
    return _inserted(plan, at, rest)


def behind_last_wash(plan: Plan, step: str, stock: Stock) -> Plan:
    """The matt varnish behind the last wash."""
    at = index_of(plan, step)
    last = max(i for i, s in enumerate(plan.coats) if is_wash(s) and not s.off)
    return _moved(plan, at, last)


def switch_off(plan: Plan, step: str, stock: Stock) -> Plan:
    """Leave a step out without losing it."""
    at = index_of(plan, step)
    return _replaced(plan, at, plan.coats[at].model_copy(update={"off": True}))


def thinner_tint(plan: Plan, step: str, stock: Stock) -> Plan:
    """Fewer passes of a tint; a wash by brush a good deal weaker."""
    at = index_of(plan, step)
    one = plan.coats[at]
    if one.kind == "hand":
        weaker = one.model_copy(update={"strength": max(0.05, one.strength * MORE_FILM)})
        return _replaced(plan, at, weaker)
    if one.aim:
        aim = one.aim.model_copy(update={"passes": max(1, int(one.aim.passes * MORE_FILM))})
        return _replaced(plan, at, one.model_copy(update={"aim": aim}))
    stations = [
        s.model_copy(update={"passes": max(1, int(s.passes * MORE_FILM))}) for s in one.stations
    ]
    changed = one.model_copy(update={"stations": stations})
    if changed == one:
        # one pass is the least: a faster hand lays less in it
        spray = one.spray.model_copy(update={"speed_mm_s": min(1000.0, one.spray.speed_mm_s * 2)})
        changed = one.model_copy(update={"spray": spray})
    return _replaced(plan, at, changed)


def white_under_glow(plan: Plan, step: str, stock: Stock) -> Plan:
    """White round the same glow, under its colour."""
    at, coat = _coat_at(plan, step)
    paint = _pick(
        stock,
        lambda p: is_opaque(p) and tone_of(p) > 88,
        lambda p: -tone_of(p),
        "white",
    )
    white = drafted(
        plan,
        stock,
        stem="hot",
        task="glow",
        paint=paint,
        angles=[],
        over=_ground_hex(plan, at),
        aim=coat.aim,
        film_um=24.0,
    )
    return _inserted(plan, at, white)


BELOW: tuple[tuple[float, float], ...] = ((45, -50), (135, -50), (225, -50), (315, -50))


def stations_below(plan: Plan, step: str, stock: Stock) -> Plan:
    """Stations from below for the ground coat."""
    at, coat = _coat_at(plan, step)
    passes = max(s.passes for s in coat.stations)
    taken = {s.id for c in plan.sprayed for s in c.stations}
    added: list[StationAt] = []
    for azimuth, elevation in BELOW:
        n = 1
        while f"{coat.id}-below-{n}"[-64:] in taken:
            n += 1
        name = f"{coat.id}-below-{n}"[-64:]
        taken.add(name)
        added.append(
            StationAt(
                id=name, azimuth_deg=azimuth, elevation_deg=elevation, spread_deg=25, passes=passes
            )
        )
    room = 12 - len(coat.stations)
    return _replaced(
        plan, at, coat.model_copy(update={"stations": [*coat.stations, *added[:room]]})
    )


def wider_needle(plan: Plan, step: str, stock: Stock) -> Plan:
    """The finest of the wider airbrushes that lets this paint through, or the widest."""
    _, coat = _coat_at(plan, step)
    wider = sorted(
        (a for a in stock.airbrushes if a.needle_mm > plan.airbrush.needle_mm),
        key=lambda a: a.needle_mm,
    )
    if not wider:
        raise HazeError(
            f"The shelf has no airbrush with a needle over {plan.airbrush.needle_mm:g} mm.",
            field="airbrush",
        )
    passing = [
        a
        for a in wider
        if float(coat_outcome(coat, airbrush=a, room=plan.room).no_flow) < CLEAN_BELOW
    ]
    return plan.model_copy(update={"airbrush": (passing or wider[-1:])[0]})
