"""Lights of a plan: presets by school, what they give together, how much of the piece is lit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats, Mask, Table
from haze.core.directions import angles_of, fibonacci_directions, signed_azimuth
from haze.core.errors import UnknownNameError
from haze.core.film.srgb import decode_srgb, parse_hex
from haze.core.light.reach import share
from haze.core.light.stations import Station, deposit
from haze.core.plan.lights import KeyLight, Light, SkyLight

LIT_ABOVE, DARK_BELOW = 0.5, 0.15  # light value that counts as lit, and as dark (judged)
FELT_ABOVE = 0.25  # a light of several counts as arriving above this (judged)
UNLIT = 0.02  # linear light of an unlit point in the look `light wanted`
FULL_LIGHT = 0.86  # linear light of a fully lit point there
OPPOSITE_COLOUR, OPPOSITE_STRENGTH = "#9fc4ff", 0.8
STAGE_SOFTNESS_DEG = 25.0
STAGE_HALF_TURN_DEG = 80.0
STAGE_ELEVATIONS_DEG = (15.0, 75.0)
STAGE_LEAST_LIT = 0.3


@dataclass(frozen=True, slots=True)
class Preset:
    """A light plan to start from."""

    name: str
    words: str
    lights: tuple[Light, ...]


PRESETS: dict[str, Preset] = {
    "noon": Preset(
        "Noon",
        "straight down",
        (KeyLight(azimuth_deg=0, elevation_deg=90, softness_deg=20),),
    ),
    "shoulder": Preset(
        "Shoulder",
        "45°, front of one shoulder",
        (KeyLight(azimuth_deg=55, elevation_deg=45, softness_deg=12),),
    ),
    "stage": Preset(
        "Stage",
        "chosen for the front",
        (KeyLight(azimuth_deg=20, elevation_deg=55, softness_deg=STAGE_SOFTNESS_DEG),),
    ),
    "overcast": Preset("Overcast", "a soft sky alone", (SkyLight(strength=1.0),)),
    "low_sun": Preset(
        "Low sun",
        "a hard low key under a cool sky",
        (
            KeyLight(
                azimuth_deg=-60, elevation_deg=18, softness_deg=6, colour="#ffc9b8", name="Sun"
            ),
            SkyLight(strength=0.35, colour="#cfdcf2"),
        ),
    ),
    "two_sides": Preset(
        "Two sides",
        "two colours from opposite sides",
        (
            KeyLight(
                id="key",
                name="Warm key",
                azimuth_deg=65,
                elevation_deg=30,
                softness_deg=14,
                colour="#ffd0a0",
            ),
            KeyLight(
                id="key-2",
                name="Cold key",
                azimuth_deg=-115,
                elevation_deg=25,
                softness_deg=14,
                strength=0.8,
                colour="#9fc4ff",
            ),
        ),
    ),
}


def preset(name: str) -> Preset:
    """A preset by name; `UnknownNameError` lists the accepted ones."""
    if name not in PRESETS:
        raise UnknownNameError(
            f"There is no light preset {name!r}; accepted are {', '.join(PRESETS)}.",
            field="preset",
        )
    return PRESETS[name]


def with_opposite(lights: Sequence[Light], key: KeyLight) -> list[Light]:
    """The lights and a second key from the other side, as high and as soft, a little weaker.

    Parameters
    ----------
    lights : of a plan
    key : the one it stands opposite to
    """
    taken = {light.id for light in lights}
    identity = next(f"key-{n}" for n in range(2, len(taken) + 3) if f"key-{n}" not in taken)
    other = key.model_copy(
        update={
            "id": identity,
            "name": "Opposite key",
            "azimuth_deg": signed_azimuth(key.azimuth_deg + 180.0),
            "colour": OPPOSITE_COLOUR,
            "strength": OPPOSITE_STRENGTH * key.strength,
        }
    )
    return [*lights, other]


def stage_light(table: Table, *, area: Floats, show: Mask) -> KeyLight:
    """The key light that models the show side most.

    Of all directions in front and above, the one with the widest spread of values on the show side
    (area-weighted standard deviation) that still lights a good part of it.

    Parameters
    ----------
    table : visibility by direction and vertex
    """
    azimuth, elevation = angles_of(fibonacci_directions(table.shape[0]))
    signed = np.array([signed_azimuth(a) for a in azimuth.tolist()])
    low, high = STAGE_ELEVATIONS_DEG
    wanted = (np.abs(signed) <= STAGE_HALF_TURN_DEG) & (elevation >= low) & (elevation <= high)
    weight = np.where(show, area, 0.0).astype(np.float64)
    weight /= max(float(weight.sum()), 1e-12)
    best: tuple[bool, float, int] = (False, -1.0, int(np.flatnonzero(wanted)[0]))
    for i in np.flatnonzero(wanted).tolist():
        station = Station(float(azimuth[i]), float(elevation[i]), STAGE_SOFTNESS_DEG)
        value = deposit(table, station)
        mean = float(weight @ value)
        spread = float(np.sqrt(max(0.0, float(weight @ (value - mean) ** 2))))
        lit = float(weight[value >= LIT_ABOVE].sum())
        best = max(best, (lit >= STAGE_LEAST_LIT, spread, i))
    i = best[2]
    return KeyLight(
        azimuth_deg=round(float(signed[i])),
        elevation_deg=round(float(elevation[i])),
        softness_deg=STAGE_SOFTNESS_DEG,
    )


def total_value(lights: Sequence[Light], values: Mapping[str, Floats]) -> Floats:
    """(n,) float32 [0..1]: light of all lights together.

    Parameters
    ----------
    values : (n,) float32 for each light's id, at strength 1
    """
    total = sum((values[light.id] * np.float32(light.strength) for light in lights), np.float32(0))
    return np.clip(np.asarray(total, dtype=np.float32), 0.0, 1.0)


def total_colour(lights: Sequence[Light], values: Mapping[str, Floats]) -> Floats:
    """(3, n) float32: linear light of all lights together on a light matt surface.

    Parameters
    ----------
    values : (n,) float [0..1] by light
    """
    total: Floats | None = None
    for light in lights:
        tint = decode_srgb(parse_hex(light.colour)).astype(np.float32)
        one = tint[:, None] * (values[light.id] * np.float32(light.strength))[None, :]
        total = one if total is None else total + one
    if total is None:
        raise ValueError("no lights")
    return UNLIT + (FULL_LIGHT - UNLIT) * np.clip(total, 0.0, 1.0)


@dataclass(frozen=True, slots=True)
class Shares:
    """Shares of a surface in light, in half light and dark; they sum to 1."""

    lit: float
    half: float
    dark: float


def shares(value: Floats, *, area: Floats, counted: Mask) -> Shares:
    """How much of the counted surface a light leaves lit, half lit and dark.

    Parameters
    ----------
    value : (n,) float [0..1], of the light
    area : (n,) float [mesh unit²], of each vertex
    """
    lit = share(value >= LIT_ABOVE, area=area, counted=counted)
    dark = share(value < DARK_BELOW, area=area, counted=counted)
    return Shares(lit, max(0.0, 1.0 - lit - dark), dark)


@dataclass(frozen=True, slots=True)
class Meeting:
    """Shares of a surface that both of two lights reach, either alone, and neither."""

    both: float
    first: float
    second: float
    neither: float


def meeting(first: Floats, second: Floats, *, area: Floats, counted: Mask) -> Meeting:
    """Where two lights meet, and which surface gets neither.

    Parameters
    ----------
    first : (n,) float [0..1], value of the first light
    second : (n,) float [0..1], value of the second light
    area : (n,) float [mesh unit²], of each vertex
    counted : (n,) bool, vertices that take part
    """
    a, b = first >= FELT_ABOVE, second >= FELT_ABOVE
    return Meeting(
        both=share(a & b, area=area, counted=counted),
        first=share(a & ~b, area=area, counted=counted),
        second=share(b & ~a, area=area, counted=counted),
        neither=share(~a & ~b, area=area, counted=counted),
    )
