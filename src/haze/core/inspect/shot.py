"""How a picture of a card is taken: as a careful hand does, and what may go wrong with it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, get_args

import numpy as np
from numpy.random import Generator

Fault = Literal["dark", "cropped", "bent", "far", "glare", "uneven", "blurred", "shaken", "steep"]
FAULTS: tuple[Fault, ...] = get_args(Fault)


@dataclass(frozen=True, slots=True)
class Shot:
    """How a picture is taken.

    Attributes
    ----------
    px_mm : float, pixels a millimetre at the middle of the card
    tilt_deg, toward_deg : float [°], how far the camera leans, and to which side
    roll_deg : float [°], how the picture is turned
    off : (x, y) float, where the middle of the card lies off that of the picture, in shares of it
    bend_mm : float [mm], how far the middle of the card bows to a side
    light : float, of the paper in the picture, 1 being as light as it can be
    tint : (3,) float, colour of the light
    vignette, slope : float [0..1], what is lost at the corners, and from one side to the other
    shadow : float [0..1], depth of a soft shadow over part of the card
    glare : float [0..1], light of a mirrored lamp
    blur_px, shake_px : float [px], spread of the lens, and length of a movement
    noise : float, of a light pixel
    table : (3,) float, reflectance of what the card lies on
    """

    px_mm: float = 21.0
    tilt_deg: float = 12.0
    toward_deg: float = 60.0
    roll_deg: float = 3.0
    off: tuple[float, float] = (0.0, 0.0)
    bend_mm: float = 0.0
    light: float = 0.72
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    vignette: float = 0.15
    slope: float = 0.1
    slope_toward_deg: float = 30.0
    shadow: float = 0.0
    glare: float = 0.0
    blur_px: float = 0.9
    shake_px: float = 0.0
    noise: float = 0.008
    table: tuple[float, float, float] = (0.12, 0.1, 0.08)


def usual(rng: Generator) -> Shot:
    """A picture as a careful hand takes it.

    Parameters
    ----------
    rng : what it is drawn from
    """
    warm = float(rng.normal(0, 0.14))
    tilt = float(abs(rng.normal(0, 14)))
    grey = float(rng.uniform(0.03, 0.5))
    return Shot(
        px_mm=float(rng.uniform(18.5, 22.5)),
        tilt_deg=min(tilt, 34.0),
        toward_deg=float(rng.uniform(0, 360)),
        roll_deg=float(rng.normal(0, 5) + rng.choice([0, 0, 0, 180])),
        off=(float(rng.normal(0, 0.012)), float(rng.normal(0, 0.015))),
        bend_mm=float(rng.normal(0, 0.03)),
        light=float(rng.uniform(0.45, 0.88)),
        tint=(float(np.exp(warm)), 1.0, float(np.exp(-1.2 * warm))),
        vignette=float(rng.uniform(0.05, 0.25)),
        slope=float(rng.uniform(0, 0.3)),
        slope_toward_deg=float(rng.uniform(0, 360)),
        blur_px=float(rng.uniform(0.6, 1.25)),
        noise=float(rng.uniform(0.004, 0.016)),
        table=(grey, grey * float(rng.uniform(0.8, 1)), grey * float(rng.uniform(0.6, 1))),
    )


def with_fault(shot: Shot, fault: Fault, rng: Generator) -> Shot:
    """A picture in which one thing went wrong.

    Parameters
    ----------
    shot : as it would have been
    fault : which thing
    rng : how badly
    """
    if fault == "dark":
        return replace(shot, light=float(rng.uniform(0.01, 0.03)))
    if fault == "cropped":
        side = float(rng.choice([-1, 1]))
        return replace(shot, off=(side * float(rng.uniform(0.24, 0.32)), shot.off[1]))
    if fault == "bent":
        return replace(shot, bend_mm=float(rng.uniform(1.4, 3.0)))
    if fault == "far":
        return replace(shot, px_mm=float(rng.uniform(7.0, 11.5)), tilt_deg=min(shot.tilt_deg, 20))
    if fault == "glare":
        return replace(shot, glare=float(rng.uniform(1.2, 2.2)))
    if fault == "uneven":
        return replace(shot, shadow=float(rng.uniform(0.45, 0.7)))
    if fault == "blurred":
        return replace(shot, blur_px=float(rng.uniform(3.0, 6.0)))
    if fault == "shaken":
        return replace(shot, shake_px=float(rng.uniform(14, 30)))
    return replace(shot, tilt_deg=float(rng.uniform(56, 64)), px_mm=22.0)
