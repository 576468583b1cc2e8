"""The demo's plans: what the club means to do on each piece of The Spring Tide."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from haze.core.day.waits import SPIRIT_OVER_VARNISH_S
from haze.core.drafting.builder import StepBuilder
from haze.core.drafting.coats import GROUND, every_side
from haze.core.drafting.stock import Stock
from haze.core.errors import NothingFitsError
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight, KeyLight, Light, SkyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.plan.roles import TaskName

DAWN = KeyLight(
    id="dawn",
    name="Dawn from the sea",
    azimuth_deg=48,
    elevation_deg=38,
    softness_deg=12,
    colour="#ffd9cc",
)
HAZE = SkyLight(id="sky", name="Morning sky", strength=0.3, colour="#dfe7f5")
EVERY_SIDE = every_side(35.0, 30.0)


@dataclass(frozen=True, slots=True)
class DemoPlan:
    """A plan of the demo: its piece, its lights, and how its steps are laid."""

    name: str
    stand_in: str
    copies: int
    lights: tuple[Light, ...]
    steps: Callable[[Plan, Stock], Plan]


class NamedBuilder(StepBuilder):
    """Steps by the names of the club's paints."""

    def paint(self, name: str) -> PaintUsed:
        """A paint of the shelf by its name; `NothingFitsError` when it is not there."""
        found = next((p for p in self.stock.paints if p.name == name), None)
        if found is None:
            raise NothingFitsError(f"The demo needs {name}, which is not on the shelf.")
        return found

    def lit(self, task: TaskName, name: str, sides: Sequence[tuple[int, int, int, int]]) -> None:
        """Lay a light coat from stations as they were worked out for the plan's light.

        Parameters
        ----------
        task : light or rung
        name : of the paint
        sides : azimuth, elevation, sweep [°] and rounds of each
        """
        self.spray(task, self.paint(name), [Station(a, e, s) for a, e, s, _ in sides])
        coat = self.plan.coats[-1]
        assert coat.kind == "spray"
        coat.stations = [
            station.model_copy(update={"passes": rounds})
            for station, (_, _, _, rounds) in zip(coat.stations, sides, strict=True)
        ]


def _wardens(plan: Plan, stock: Stock) -> Plan:
    """Three-tone, a veil, the rose of dawn, a wet base, the pool on boots and hem."""
    b = NamedBuilder(plan, stock)
    b.spray("prime", b.paint("Bilge Black"), GROUND)
    b.lit("light", "Slate", ((342, 52, 8, 2), (20, 22, 40, 1)))
    b.lit("light", "Pewter Rain", ((60, 18, 8, 1),))
    b.lit("light", "Tern White", ((74, 45, 8, 5), (77, 30, 8, 3)))
    low = every_side(-5.0, 30.0, first_deg=60.0)
    b.spray("veil", b.paint("Lamp Amber"), [*EVERY_SIDE, *low], film_um=6.5)
    b.spray("tint", b.paint("Dawn Rose"), [Station(95, 5, 14)], film_um=4.5)
    base = Aim(field="part", part="base", margin_mm=0)
    stone = Mix.of((b.paint("Bottle Dark"), 1), (b.paint("Shoal Blue"), 1))
    boots = base.model_copy(update={"reversed": True})
    b.hand("mask_on", aim=boots, mask="foam")
    b.spray("cover", stone, [], aim=base, film_um=6.0, name="Wet stone")
    b.hand("mask_off")
    b.rest(120, "Stone dries")
    b.hand("dry_brush", b.paint("Shoal Blue"), strength=0.4, aim=base)
    pool = Aim(field="glow", light="pool")
    b.spray("glow", b.paint("Tern White"), [], aim=pool, film_um=7.0, name="Pool, white hot")
    b.spray("glow", b.paint("Pool Glow"), [], aim=pool, film_um=14.0)
    b.spray("satin", b.paint("Quay Satin"), GROUND)
    return b.plan


def _crawler(plan: Plan, stock: Stock) -> Plan:
    """Metal first and masked, panels faded lighter, then gloss, wash, weather and satin."""
    b = NamedBuilder(plan, stock)
    arm = Aim(field="part", part="bucket-arm", margin_mm=0)
    b.spray("prime", b.paint("Bilge Black"), GROUND)
    b.spray("metal", b.paint("Bright Steel"), [], aim=arm, film_um=5.0)
    b.spray("tint", b.paint("Honey Varnish"), [], aim=arm, film_um=2.5)
    b.rest(120, "Metal cures before tape")
    b.hand("mask_on", part="bucket-arm")
    b.spray("cover", b.paint("Wrack Green"), GROUND, film_um=9.0)
    b.spray("rung", b.paint("Eelgrass"), [], aim=Aim(field="panels", margin_mm=3), film_um=4.0)
    b.lit("rung", "Samphire", ((42, 44, 20, 2), (50, 37, 8, 2), (209, 67, 40, 1)))
    b.hand("mask_off", part="bucket-arm")
    b.spray("gloss", b.paint("Quay Gloss"), GROUND)
    b.rest(SPIRIT_OVER_VARNISH_S / 60, "Gloss cures before spirit")
    b.hand("wash", b.paint("Bilge Wash"), strength=0.7)
    b.hand("streaks", b.paint("Rust Streak"), strength=0.8)
    b.hand("chips", b.paint("Anchor Iron"))
    b.rest(24 * 60, "Enamel dries before varnish")
    b.spray("satin", b.paint("Quay Satin"), GROUND)
    return b.plan


def _stair(plan: Plan, stock: Stock) -> Plan:
    """Sealed groundwork, a ladder of stone, a ladder of weed, and the pool on the steps."""
    plan = plan.model_copy(deep=True)
    plan.piece.groundwork = "plaster"
    b = NamedBuilder(plan, stock)
    b.spray("seal", b.paint("Quay Matt"), GROUND)
    b.spray("prime", b.paint("Bilge Black"), GROUND)
    b.spray("cover", b.paint("Slate"), EVERY_SIDE, film_um=8.0)
    b.lit("rung", "Harbour Grey", ((40, 20, 8, 1), (28, 17, 40, 1)))
    b.lit("rung", "Fog Bank", ((42, 44, 8, 3), (59, 61, 8, 2), (189, 72, 40, 1)))
    low = Aim(field="ramp", start=(0, 0, 42), end=(0, 0, 6))
    lower = Aim(field="ramp", start=(0, 0, 24), end=(0, 0, 2))
    b.spray("rung", b.paint("Wrack Green"), [], aim=low, film_um=3.0)
    b.spray("rung", b.paint("Eelgrass"), [], aim=lower, film_um=2.5)
    b.spray("gloss", b.paint("Quay Gloss"), GROUND)
    b.hand("wash", b.paint("Cuttle Ink"), strength=0.15)
    b.rest(120, "Varnish cures before the brush")
    b.hand("dry_brush", b.paint("Gull Wing"), strength=0.5)
    # after the dry brush, or its pale edges would stand in the glow
    pool = Aim(field="glow", light="pool")
    b.spray("glow", b.paint("Tern White"), [], aim=pool, film_um=12.0, name="Pool, white hot")
    b.spray("glow", b.paint("Pool Glow"), [], aim=pool, film_um=16.0)
    b.hand("rim", b.paint("Bottle Dark"))
    b.spray("matt", b.paint("Quay Matt"), GROUND)
    return b.plan


def _herald(plan: Plan, stock: Stock) -> Plan:
    """Descend: a white ground, then transparent colour, darker and deeper with every coat."""
    plan = plan.model_copy(deep=True)
    plan.schools = plan.schools.model_copy(update={"order": "descend"})
    b = NamedBuilder(plan, stock)
    b.spray("prime", b.paint("Chalk Ground"), GROUND)
    b.lit("light", "Tern White", ((34, 50, 8, 4), (17, 36, 8, 2)))
    b.spray("veil", b.paint("Honey Varnish"), EVERY_SIDE, film_um=8.0)
    b.spray(
        "tint", b.paint("Copper Sun"), [Station(a, -10, 16) for a in (-75.0, 110.0)], film_um=4.5
    )
    b.spray(
        "tint", b.paint("Violet Hour"), [Station(a, 0, 20) for a in (190.0, -105.0)], film_um=6.0
    )
    shade = [Station(a, e, 18) for a, e in ((0.0, -45.0), (180.0, -40.0), (-125.0, -20.0))]
    b.spray("tint", b.paint("Night Water"), shade, film_um=3.0)
    b.spray("tint", b.paint("Smoke"), [], aim=Aim(field="recesses"), film_um=5.0)
    b.spray("satin", b.paint("Quay Satin"), GROUND)
    return b.plan


DEMO_PLANS: tuple[DemoPlan, ...] = (
    DemoPlan(
        "Herald in practice light",
        "herald",
        1,
        (KeyLight(azimuth_deg=35, elevation_deg=50, softness_deg=25),),
        _herald,
    ),
    DemoPlan(
        "Lamp stair at low tide",
        "lamp-stair",
        1,
        (
            DAWN,
            HAZE,
            GlowLight(
                id="pool",
                name="Tide pool",
                shape="pool",
                at=(-24, -24, 6.5),
                radius_mm=9,
                reach_mm=34,
                colour="#7fe3d6",
            ),
            GlowLight(
                id="beacon",
                name="Beacon",
                at=(38, 29, 80),
                radius_mm=2.5,
                reach_mm=18,
                clear_mm=8,
                colour="#ffc56b",
            ),
        ),
        _stair,
    ),
    DemoPlan(
        "Marrow before the spring tide",
        "marrow",
        1,
        (DAWN.model_copy(update={"softness_deg": 20.0}), HAZE),
        _crawler,
    ),
    DemoPlan(
        "Wardens of the spring tide",
        "warden",
        6,
        (
            DAWN.model_copy(update={"azimuth_deg": 72.0}),
            HAZE.model_copy(update={"strength": 0.08}),  # early: the side away from dawn stays dark
            GlowLight(
                id="lamp",
                name="Lamp",
                at=(8.9, -2.4, 39.5),
                radius_mm=0.8,
                reach_mm=5,
                clear_mm=3.2,
                colour="#ffc56b",
            ),
            GlowLight(
                id="pool",
                name="Tide pool",
                at=(-15, -14, 3),
                radius_mm=2.8,
                reach_mm=16,
                colour="#7fe3d6",
            ),
        ),
        _wardens,
    ),
)
