"""Each rule on its own: when it speaks, when it is still, and that its fix ends it.

Every film lies evenly on a flat piece, so that what a rule sees can be told by hand.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from haze.core.drafting.stock import Stock
from haze.core.errors import IncompatibleError, NothingFitsError
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import Aim, Coat, HandStep
from haze.core.plan.document import Plan, Silenced
from haze.core.plan.lights import GlowLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed
from haze.core.plan.roles import HandRole, TaskName
from haze.core.rules.findings import BY_ID, RULES, findings
from haze.core.rules.rule import Finding
from helpers import coat, plan

N = 40
FULL_UM = 12.0


def sprayed(identity: str, paint: PaintUsed, task: TaskName = "cover", **change: object) -> Coat:
    one = coat(identity).mixed_as(Mix.of((paint, 1)))
    return one.model_copy(update={"name": paint.name, "task": task, **change})


def by_hand(
    identity: str, role: HandRole, paint: PaintUsed | None = None, **more: object
) -> HandStep:
    given = {"id": identity, "name": role, "role": role, "paint": paint, **more}
    return HandStep.model_validate(given)


def flat(of: Plan, *, um: dict[str, float] | None = None, **change: object) -> Facts:
    """What a plan does on a flat piece: each film even, `um` thick where it is not usual."""
    films = [0.0 if c.off or not c.paint else (um or {}).get(c.id, FULL_UM) for c in of.coats]

    def through(left_out: int | None = None) -> list[np.ndarray]:
        skin = bare_skin(of.piece.surface, N)
        told = [seen(skin).T]
        for i, (step, film) in enumerate(zip(of.coats, films, strict=True)):
            if film and i != left_out:
                skin = coated(skin, step.optics, np.full(N, film, dtype=np.float32))
            told.append(seen(skin).T)
        return told

    up = np.tile(np.array([0, 0, 1], dtype=np.float32), (N, 1))
    rows = [through(i)[-1] for i in range(len(of.coats))]
    facts = Facts(
        normals=up,
        reachable=np.ones(N, dtype=bool),
        light=np.linspace(0, 1, N, dtype=np.float32),
        film_um=np.array([np.full(N, f) for f in films], dtype=np.float32).reshape(-1, N),
        full_um=np.array(films),
        rgb=np.array(through(), dtype=np.float32),
        without=np.array(rows, dtype=np.float32).reshape(-1, N, 3),
        no_flow=np.zeros(len(films)),
    )
    return replace(facts, **change)  # type: ignore[arg-type]


def told(rule: str, of: Plan, facts: Facts | None = None) -> list[Finding]:
    return list(BY_ID[rule].look(of, facts or flat(of)))


def mended(rule: str, of: Plan, stock: Stock) -> Plan:
    """The plan after the one press that mends it; only what the rule names may change."""
    found = told(rule, of)
    assert [f.rule for f in found] == [rule]
    assert found[0].what.endswith(".")
    after = BY_ID[rule].fix(of, found[0].step, stock)
    assert told(rule, after) == []
    return after


def test_groundwork_is_sealed_before_anything_else(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    soft = plan(sprayed("a", paint["Bilge Black"], "prime"))
    for kind, sign in (("plaster", "mind"), ("cork", "mind"), ("foam", "stop")):
        soft.piece = soft.piece.model_copy(update={"groundwork": kind})
        assert told("groundwork_unsealed", soft)[0].sign == sign
    after = mended("groundwork_unsealed", soft, stock)
    assert [c.task for c in after.sprayed] == ["seal", "prime"]
    assert told("groundwork_unsealed", plan(sprayed("a", paint["Slate"]))) == []


def test_spirit_needs_varnish_under_it(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    wash = sprayed("w", paint["Bilge Wash"], "wash", thinner=stock.thinners[2])
    bare = plan(sprayed("a", paint["Wrack Green"]), wash)
    assert told("spirit_unprotected", bare)[0].sign == "stop"
    after = mended("spirit_unprotected", bare, stock)
    assert [c.task for c in after.sprayed] == ["cover", "satin", "wash"]
    assert told("spirit_unprotected", plan(wash)) == [], "nothing below that could lift"
    pulled = plan(sprayed("a", paint["Slate"]), by_hand("s", "streaks", paint["Bilge Wash"]))
    assert told("spirit_unprotected", pulled)


def test_metals_come_before_colours(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    ground = sprayed("p", paint["Bilge Black"], "prime")
    colour = sprayed("a", paint["Wrack Green"])
    metal = sprayed("m", paint["Bright Steel"], "metal")
    after = mended("metal_late", plan(ground, colour, metal), stock)
    assert [c.id for c in after.coats] == ["p", "m", "a"]
    assert told("metal_late", plan(ground, metal, colour)) == []
    masked = plan(ground, colour, by_hand("k", "mask_on", part="hat"), metal)
    assert told("metal_late", masked) == []
    aim = Aim(field="part", part="hat")
    aimed = plan(ground, colour, metal.model_copy(update={"stations": [], "aim": aim}))
    assert told("metal_late", aimed) == []


def test_a_wash_runs_on_gloss(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    green = sprayed("a", paint["Wrack Green"])
    matt = sprayed("v", paint["Quay Matt"], "matt")
    wash = by_hand("w", "wash", paint["Bilge Wash"])
    after = mended("wash_on_matt", plan(green, matt, wash), stock)
    assert [c.paint.name for c in after.sprayed][-1] == "Quay Gloss"
    assert told("wash_on_matt", plan(green, sprayed("v", paint["Quay Gloss"], "gloss"), wash)) == []


def test_ink_is_sealed_before_what_is_transparent(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    ink = paint["Bottle Green"].model_copy(update={"kind": "ink", "id": "ink", "name": "Kelp Ink"})
    under, veil = sprayed("i", ink, "veil"), sprayed("v", paint["Lamp Amber"], "veil")
    after = mended("ink_unsealed", plan(under, veil), stock)
    assert [c.task for c in after.sprayed] == ["veil", "satin", "veil"]
    assert told("ink_unsealed", plan(under, sprayed("c", paint["Wrack Green"]))) == []


def test_primer_cures_before_a_dry_brush_or_tape(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    prime = sprayed("p", paint["Bilge Black"], "prime")
    brush = by_hand("d", "dry_brush", paint["Slate"])
    after = mended("dry_brush_early", plan(prime, brush), stock)
    rest = after.coats[1]
    assert rest.kind == "hand"
    assert rest.wait_min == 24 * 60
    short = plan(prime, by_hand("r", "rest", minutes=60), brush)
    more = mended("dry_brush_early", short, stock).coats[2]
    assert more.kind == "hand"
    assert more.minutes == 23 * 60
    tape = plan(prime, by_hand("k", "mask_on", part="hat"))
    assert "Hard tape" in told("dry_brush_early", tape)[0].what


def test_matt_comes_behind_the_last_wash(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    steps = (
        sprayed("v", paint["Quay Matt"], "matt"),
        by_hand("w", "wash", paint["Bilge Wash"]),
        by_hand("x", "wash", paint["Bilge Wash"]),
        by_hand("r", "rim", paint["Slate"]),
    )
    after = mended("matt_before_wash", plan(*steps), stock)
    assert [c.id for c in after.coats] == ["w", "x", "v", "r"]


def test_a_thinner_of_another_chemistry_is_a_stop(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    spoiled = plan(sprayed("a", paint["Wrack Green"], thinner=stock.thinners[2]))
    assert told("thinner_spoils", spoiled)[0].sign == "stop"
    assert mended("thinner_spoils", spoiled, stock).sprayed[0].thinner.kind == "acrylic_thinner"


def test_flakes_need_a_wide_needle(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    metal = plan(sprayed("m", paint["Bright Steel"], "metal"))
    clogs = flat(metal, no_flow=np.array([0.4]))
    assert "40%" in told("needle_too_fine", metal, clogs)[0].what
    assert told("needle_too_fine", metal, flat(metal, no_flow=np.array([0.2]))) == []
    green = plan(sprayed("a", paint["Wrack Green"]))
    assert told("needle_too_fine", green, flat(green, no_flow=np.array([0.9]))) == []
    wide = metal.model_copy(update={"airbrush": AirbrushUsed(id="w", name="Wide", needle_mm=0.5)})
    assert told("needle_too_fine", wide, flat(wide, no_flow=np.array([0.9]))) == []
    with pytest.raises(NothingFitsError, match=r"needle over 0\.3 mm"):
        BY_ID["needle_too_fine"].fix(metal, "m", stock)
    more = replace(stock, airbrushes=(metal.airbrush, wide.airbrush))
    assert BY_ID["needle_too_fine"].fix(metal, "m", more).airbrush == wide.airbrush


def test_white_wants_a_mid_tone_between(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    black = sprayed("p", paint["Bilge Black"], "prime")
    white = sprayed("w", paint["Tern White"], "light")
    after = mended("white_over_black", plan(black, white), stock)
    assert after.sprayed[1].paint.name in ("Slate", "Pewter Rain")
    assert told("white_over_black", plan(sprayed("p", paint["Pewter Rain"]), white)) == []


def test_thin_yellow_over_black_turns(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    yellow = paint["Spring Slick"].model_copy(
        update={"id": "y", "name": "Gorse", "masstone": "#f2c200"}
    )
    thin = plan(sprayed("p", paint["Bilge Black"], "prime"), sprayed("y", yellow))
    found = told("colour_turns", thin, flat(thin, um={"y": 4.0}))
    assert [f.step for f in found] == ["y"]
    assert told("colour_turns", thin, flat(thin, um={"y": 400.0})) == []
    after = BY_ID["colour_turns"].fix(thin, "y", stock)
    assert after.sprayed[1].paint.tone > 68
    assert told("colour_turns", after, flat(after, um={"y": 4.0, after.coats[1].id: 60.0})) == []


def test_rungs_far_apart_get_their_mix_between(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    low, high = (
        sprayed("a", paint["Deep Weed"], "rung"),
        sprayed("b", paint["Spring Slick"], "rung"),
    )
    after = BY_ID["step_too_high"].fix(plan(low, high), "b", stock)
    assert [f.step for f in told("step_too_high", plan(low, high))] == ["b"]
    between = after.sprayed[1]
    assert {p.name for p in between.mix.paints} == {"Deep Weed", "Spring Slick"}
    assert paint["Deep Weed"].tone < between.mix.tone < paint["Spring Slick"].tone
    assert len({s.id for c in after.sprayed for s in c.stations}) == 3
    enamel = sprayed("a", paint["Bilge Wash"], "rung")
    with pytest.raises(IncompatibleError, match="do not mix"):
        BY_ID["step_too_high"].fix(plan(enamel, high), "b", stock)
    with pytest.raises(NothingFitsError, match="no rung below"):
        BY_ID["step_too_high"].fix(plan(high), "b", stock)


def test_white_makes_a_ladder_chalky(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    strong = paint["Wrack Green"].model_copy(update={"id": "s", "masstone": "#5a8a1c"})
    green = sprayed("a", strong, "rung")
    pale = paint["Tern White"].model_copy(update={"id": "p", "masstone": "#d4d6cc"})
    chalk = sprayed("b", pale, "rung")
    after = mended("chalky", plan(green, chalk), stock)
    assert after.sprayed[1].mix.paints == (paint["Spring Slick"],)
    assert told("chalky", plan(green)) == []


def test_transparent_paint_makes_nothing_lighter(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    dark = sprayed("p", paint["Bilge Black"], "prime")
    amber = sprayed("l", paint["Lamp Amber"], "light")
    after = mended("transparent_light", plan(dark, amber), stock)
    assert after.sprayed[1].paint.hides
    assert told("transparent_light", plan(sprayed("p", paint["Tern White"]), amber)) == []


def test_what_nobody_sees_can_be_left_out(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    hidden = plan(
        sprayed("p", paint["Bilge Black"], "prime"),
        sprayed("a", paint["Wrack Green"]),
        sprayed("b", paint["Slate"]),
    )
    facts = flat(hidden, um={"b": 200.0})
    assert [f.step for f in told("nobody_sees", hidden, facts)] == ["a"]
    after = BY_ID["nobody_sees"].fix(hidden, "a", stock)
    assert [c.off for c in after.coats] == [False, True, False]
    assert told("nobody_sees", after, flat(after, um={"b": 200.0})) == []


def test_a_tint_must_not_sink_the_highlight(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    white = sprayed("l", paint["Tern White"], "light")
    tint = sprayed("t", paint["Bottle Green"], "tint")
    sunk = plan(white, tint)
    deep = flat(sunk, um={"l": 100.0, "t": 30.0})
    assert [f.step for f in told("highlight_sinks", sunk, deep)] == ["t"]
    assert told("highlight_sinks", sunk, flat(sunk, um={"l": 100.0, "t": 0.2})) == []
    before = BY_ID["highlight_sinks"].fix(sunk, "t", stock)
    assert before.sprayed[1].passes < tint.passes
    once = tint.model_copy(update={"stations": [tint.stations[0].model_copy(update={"passes": 1})]})
    faster = BY_ID["highlight_sinks"].fix(plan(white, once), "t", stock).sprayed[1]
    assert faster.spray.speed_mm_s == 2 * once.spray.speed_mm_s
    brushed = by_hand("t", "wash", paint["Bilge Wash"], strength=0.6)
    weaker = BY_ID["highlight_sinks"].fix(plan(white, brushed), "t", stock).coats[1]
    assert weaker.kind == "hand"
    assert weaker.strength == pytest.approx(0.27)


def test_a_glow_outshines_what_is_round_it(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    aim = Aim(field="glow", light="lamp", passes=2)
    dim = sprayed("g", paint["Bottle Green"], "glow", stations=[], aim=aim)
    lit = plan(sprayed("p", paint["Slate"], "prime"))
    lit.lights = [*lit.lights, GlowLight(id="lamp", at=(0, 0, 0))]
    lit.coats = [*lit.coats, dim]
    glow = {"lamp": np.linspace(0, 1, N, dtype=np.float32)}
    assert [f.step for f in told("glow_too_dark", lit, flat(lit, glow=glow))] == ["g"]
    shown = flat(lit, glow=glow)
    shown.rgb[-1][glow["lamp"] > 0.3] = 1.0
    assert told("glow_too_dark", lit, shown) == []
    after = BY_ID["glow_too_dark"].fix(lit, "g", stock)
    hot = after.sprayed[1]
    assert (hot.task, hot.paint.name, hot.aim and hot.aim.light) == ("glow", "Tern White", "lamp")


def test_a_ground_comes_from_below_too(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    ground = plan(sprayed("p", paint["Bilge Black"], "prime"))
    down = np.tile(np.array([0, 0, -1], dtype=np.float32), (N, 1))
    bare = flat(ground, um={"p": 0.5}, normals=down)
    assert "100%" in told("underside_bare", ground, bare)[0].what
    assert told("underside_bare", ground, flat(ground, normals=down)) == []
    hidden = flat(ground, um={"p": 0.5}, normals=down, reachable=np.zeros(N, dtype=bool))
    assert told("underside_bare", ground, hidden) == []
    after = BY_ID["underside_bare"].fix(ground, "p", stock)
    stations = after.sprayed[0].stations
    assert len(stations) == len(ground.sprayed[0].stations) + 4
    assert all(s.elevation_deg == -50 for s in stations[-4:])
    full = stations[:1] * 10
    many = ground.sprayed[0].model_copy(
        update={"stations": [s.model_copy(update={"id": f"s{n}"}) for n, s in enumerate(full)]}
    )
    assert len(BY_ID["underside_bare"].fix(plan(many), "p", stock).sprayed[0].stations) == 12


def test_steps_left_out_and_quieted_findings_are_not_told(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    both = plan(
        sprayed("p", paint["Bilge Black"], "prime"),
        sprayed("w", paint["Tern White"], "light"),
        sprayed("t", paint["Wrack Green"], thinner=stock.thinners[2]),
    )
    rules = [f.rule for f in findings(both, flat(both))]
    assert rules[0] == "thinner_spoils", "the gravest first"
    assert "white_over_black" in rules
    quiet = both.model_copy(update={"silenced": [Silenced(rule="white_over_black", step="w")]})
    assert "white_over_black" not in [f.rule for f in findings(quiet, flat(quiet))]
    off = both.model_copy(deep=True)
    off.coats[2].off = True
    assert "thinner_spoils" not in [f.rule for f in findings(off, flat(off))]


def test_an_empty_plan_has_nothing_to_mind() -> None:
    empty = plan()
    assert findings(empty, flat(empty)) == []
    assert len(BY_ID) == len(RULES) == 21
