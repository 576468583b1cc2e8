"""Tables of the spray model: paints, thinners and judged numbers, each in one place.

Every value of the paint and thinner tables is *judged*: chosen by us so that the behaviours of
docs/models.md hold, open to correction by a painter's own trials. Physical constants name their
source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple, get_args

from haze.core.errors import IncompatibleError, UnknownNameError

PaintKind = Literal[
    "brush_acrylic",
    "airbrush_acrylic",
    "primer",
    "ink",
    "transparent",
    "metallic",
    "white",
    "lacquer",
    "varnish",
    "enamel_wash",
]
ThinnerKind = Literal[
    "water", "acrylic_thinner", "flow_aid", "alcohol", "lacquer_thinner", "spirit"
]
Chemistry = Literal["water", "lacquer", "enamel"]
PAINT_KINDS: tuple[PaintKind, ...] = get_args(PaintKind)
THINNER_KINDS: tuple[ThinnerKind, ...] = get_args(ThinnerKind)


@dataclass(frozen=True, slots=True)
class Paint:
    """What the spray model knows of a kind of paint (all judged)."""

    kind: PaintKind
    chemistry: Chemistry
    solids: float  # volume share of what stays, -
    crowding: float  # k_d: effective over real solids volume, -
    max_packing: float  # phi_m, -
    medium_mpa_s: float  # liquid phase at 20 °C, mPa·s
    yield_scale_pa: float  # tau*, Pa
    top_size_um: float  # largest pigment, µm
    surface_tension_mn_m: float  # mN/m
    hiding_um: float | None  # dry film that hides, µm; None for clear varnish
    contrast: float  # of a speck against its ground, -
    intrinsic: float = 2.5  # [eta], flakes 5
    lump_um: float = 0.0  # size of unbroken structure when neat, µm
    volatility: float = 1.0  # evaporation relative to water, -
    glaze_um: float | None = None  # dry film that shows a glaze's own colour, µm; else it hides

    @property
    def showing_um(self) -> float | None:
        """Dry film [µm] that shows the paint's own colour; None for clear varnish."""
        return self.glaze_um or self.hiding_um


@dataclass(frozen=True, slots=True)
class Thinner:
    """A thinner as the model sees it (all judged)."""

    kind: ThinnerKind
    viscosity_mpa_s: float
    surface_tension_mn_m: float
    evaporation_cut: float
    suits: tuple[Chemistry, ...]


def _paint(kind: PaintKind, chemistry: Chemistry, *row: float | None, **more: float) -> Paint:
    return Paint(kind, chemistry, *row, **more)  # type: ignore[arg-type]


PAINTS: dict[str, Paint] = {
    p.kind: p
    for p in (
        _paint("brush_acrylic", "water", 0.33, 1.5, 0.58, 30, 0.15, 5, 36, 6, 0.5, lump_um=60.0),
        _paint("airbrush_acrylic", "water", 0.22, 1.25, 0.58, 5, 0.05, 3, 34, 6, 0.5),
        _paint("primer", "water", 0.30, 1.2, 0.56, 7, 0.07, 8, 33, 9, 0.5),
        _paint("ink", "water", 0.10, 1.1, 0.60, 2.5, 0.0, 1, 34, 5, 0.5),
        _paint("transparent", "water", 0.12, 0.8, 0.58, 9, 0.02, 2, 30, 80, 0.4, glaze_um=12.0),
        _paint("metallic", "water", 0.18, 0.9, 0.40, 8, 0.10, 20, 34, 8, 0.8, intrinsic=5.0),
        _paint("white", "water", 0.26, 1.35, 0.58, 6, 0.08, 6, 34, 14, 1.0),
        _paint("lacquer", "lacquer", 0.22, 0.3, 0.58, 55, 0.02, 3, 27, 6, 0.5, volatility=6.0),
        _paint("varnish", "water", 0.25, 1.0, 0.58, 8, 0.02, 2, 33, None, 0.2),
        _paint(
            "enamel_wash",
            "enamel",
            *(0.08, 0.6, 0.58, 1.6, 0.0, 3, 26, 100, 0.4),
            volatility=0.6,
            glaze_um=15.0,
        ),
    )
}

THINNERS: dict[str, Thinner] = {
    t.kind: t
    for t in (
        Thinner("water", 1.0, 48, 0.0, ("water",)),
        Thinner("acrylic_thinner", 1.3, 32, 0.1, ("water",)),
        Thinner("flow_aid", 2.5, 30, 0.5, ("water",)),
        Thinner("alcohol", 2.2, 27, 0.0, ("water",)),
        Thinner("lacquer_thinner", 0.65, 25, 0.0, ("lacquer",)),
        Thinner("spirit", 1.0, 25, 0.3, ("enamel",)),
    )
}

OWN_THINNER: dict[Chemistry, ThinnerKind] = {
    "water": "acrylic_thinner",
    "lacquer": "lacquer_thinner",
    "enamel": "spirit",
}


WHITE_TONE, TONE_SPAN = 95.0, 90.0  # L* of white paint; from black to white paint


class Constant(NamedTuple):
    """One number of the model with its unit, its source and how sure we are."""

    value: float
    unit: str
    source: str
    sure: Literal["measured", "derived", "judged"]


CONSTANTS: dict[str, Constant] = {
    "air_density": Constant(1.20, "kg/m³", "ideal gas at 20 °C, 101.3 kPa", "derived"),
    "air_viscosity": Constant(1.81e-5, "Pa·s", "Sutherland 1893 at 20 °C", "measured"),
    "air_gas_constant": Constant(287.05, "J/(kg·K)", "dry air", "measured"),
    "air_heat_capacity": Constant(1005.0, "J/(kg·K)", "dry air, 20 °C", "measured"),
    "ambient_kpa": Constant(101.325, "kPa", "standard atmosphere", "measured"),
    "valve_loss": Constant(0.75, "-", "share of gauge pressure left at the nozzle", "judged"),
    "air_discharge": Constant(0.85, "-", "annular air nozzle", "judged"),
    "air_annulus_offset_mm": Constant(0.64, "mm", "air cap over needle, mean diameter", "judged"),
    "air_annulus_gap_mm": Constant(0.14, "mm", "air gap", "judged"),
    "suction_share": Constant(0.04, "-", "of jet dynamic pressure, draws paint", "judged"),
    "cup_head_mm": Constant(30.0, "mm", "paint level over nozzle", "judged"),
    "nozzle_land_mm": Constant(0.45, "mm", "length of the narrow annulus", "judged"),
    "paint_discharge": Constant(0.6, "-", "sharp orifice", "measured"),
    "structure_onset": Constant(0.45, "-", "phi/phi_m where paint structure is broken", "judged"),
    "rosin_rammler_q": Constant(2.5, "-", "drop size spread", "judged"),
    "jet_decay": Constant(5.8, "-", "round free jet, centre line", "measured"),
    "jet_half_radius": Constant(0.094, "-", "round free jet, half-velocity radius", "measured"),
    "footprint_share": Constant(0.07, "-", "paint sigma over distance", "judged"),
    "impaction_half_stk": Constant(0.24, "-", "Stokes number of half impaction", "judged"),
    "mist_landing": Constant(0.3, "-", "part of the missed mist that lands later", "judged"),
    "pinning": Constant(0.3, "-", "cos receding minus cos advancing angle", "judged"),
    "longest_face_mm": Constant(15.0, "mm", "longest unbroken face", "judged"),
    "percolation_cover": Constant(1.128, "-", "area of overlapping discs that connect", "measured"),
    "creep_share": Constant(0.22, "-", "of the dwell, under the shear ring", "judged"),
    "torn_pressure_kpa": Constant(20.0, "kPa", "jet pressure below which ligaments tear", "judged"),
    "torn_load": Constant(6.0, "-", "weight of paint over air by mass in torn volume", "judged"),
    "ligament_drop": Constant(1.89, "-", "drop over ligament diameter", "derived"),
    "splat_contact_deg": Constant(30.0, "°", "equilibrium contact angle of a splat", "judged"),
    "eye_mm": Constant(
        0.085, "mm", "smallest dot of half contrast seen at reading distance", "judged"
    ),
    "still_air_m_s": Constant(0.1, "m/s", "draught in a quiet room", "judged"),
    "plate_mm": Constant(30.0, "mm", "length of a face in a draught", "judged"),
    "blow_distance_mm": Constant(80.0, "mm", "airbrush used as a dryer", "judged"),
    "touch_dry_loss": Constant(0.85, "-", "liquid lost at touch-dry", "judged"),
    "gel_loss": Constant(0.6, "-", "liquid lost when the film stops creeping", "judged"),
    "tip_life_min": Constant(7.0, "min", "neat water paint, 20 °C, 50 %", "judged"),
    "retarder_mpa_s": Constant(6.0, "mPa·s", "glycol in water", "judged"),
    "retarder_mn_m": Constant(36.0, "mN/m", "glycol in water", "judged"),
    "retarder_hold": Constant(5.0, "-", "slows drying by 1 + this × parts to paint", "judged"),
    "tip_hold_flow_aid": Constant(4.0, "-", "tip life × 1 + this × parts to paint", "judged"),
    "tip_hold_retarder": Constant(10.0, "-", "tip life × 1 + this × parts to paint", "judged"),
    "full_flow_ml_min": Constant(0.4, "ml/min", "least full-trigger flow at 0.3 mm", "judged"),
    "set_flow_share": Constant(1 / 80, "-", "least set flow over least full flow", "judged"),
    "stable_drop_um": Constant(60.0, "µm", "largest drop the jet may leave whole", "judged"),
    "least_tip_life_min": Constant(1.5, "min", "shorter than this stops work", "judged"),
    "specks_per_cm2": Constant(20.0, "1/cm²", "visible specks that are a fault", "judged"),
    "dust_share": Constant(0.12, "-", "solids landed dry that feel rough", "judged"),
}
# Gap between needle and nozzle against the trigger: a short blunt tip leaves its seat at once, a
# long slender taper follows, then the shoulder. Judged from drops and minutes of the trade.
TRIGGER_STOPS = (0.0, 0.15, 0.25, 0.40, 0.50, 0.75, 1.0)
NEEDLE_GAPS_UM = (0.0, 45.0, 48.0, 56.0, 63.0, 110.0, 200.0)

Surface = Literal["matt", "satin", "gloss", "bare"]
# Roughness [µm] of what lies below: paint in it, and what it drinks, does not creep. Judged.
TOOTH_UM: dict[Surface, float] = {"matt": 6.0, "satin": 3.5, "gloss": 1.5, "bare": 1.0}


def constant(name: str) -> float:
    """Value of a named constant in its table unit.

    Parameters
    ----------
    name : as it stands in the table
    """
    return CONSTANTS[name].value


def paint_of(kind: str) -> Paint:
    """The paint of this kind; `UnknownNameError` names the accepted ones."""
    if kind not in PAINTS:
        raise UnknownNameError(
            f"paint.kind is {kind!r}; accepted are {', '.join(PAINTS)}.", field="paint.kind"
        )
    return PAINTS[kind]


def usual_contrast(kind: str, *, lightness: float) -> float:
    """Contrast [0..1] of a speck of a kind of paint whose colour is not known, on a ground.

    White goes by its distance from the ground; any other paint has its usual contrast on black and
    on white and half of it on a mid grey.

    Parameters
    ----------
    kind : name of a paint's kind
    lightness : float [L*], of the ground
    """
    paint = paint_of(kind)
    if kind == "white":
        return min(abs(WHITE_TONE - lightness) / TONE_SPAN, 1.0)
    return paint.contrast * (0.5 + abs(lightness - 50.0) / 100.0)


def thinner_of(kind: str) -> Thinner:
    """The thinner of this kind; `UnknownNameError` names the accepted ones."""
    if kind not in THINNERS:
        raise UnknownNameError(
            f"thinner is {kind!r}; accepted are {', '.join(THINNERS)}.", field="thinner"
        )
    return THINNERS[kind]


def suits(paint: Paint, thinner: Thinner) -> bool:
    """Whether the thinner belongs to the paint's chemistry."""
    return paint.chemistry in thinner.suits


def require_suitable(paint: Paint, thinner: Thinner) -> None:
    """Refuse a thinner that would curdle or not wet this paint."""
    if not suits(paint, thinner):
        good = ", ".join(t.kind for t in THINNERS.values() if suits(paint, t))
        raise IncompatibleError(
            f"thinner is {thinner.kind}, which spoils {paint.kind}; accepted are {good}.",
            field="thinner",
        )
