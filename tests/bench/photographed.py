"""Simulated cards photographed and read: what was true beside what was read."""

from __future__ import annotations

import multiprocessing
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np

from bench.simulated import CARD_PX_MM, looks, print_of, unknown
from haze.core.inspect.camera import photographed
from haze.core.inspect.card_colours import coloured
from haze.core.inspect.reading.depth import Ink
from haze.core.inspect.reading.measures import Measures
from haze.core.inspect.reading.outcome import Likely
from haze.core.inspect.reading.read import read
from haze.core.inspect.reading.refusal import Reason
from haze.core.inspect.shot import FAULTS, Fault, usual, with_fault
from haze.core.inspect.trial_card import Truth, one_pass_share, sprayed_card, truth_of
from haze.core.spray.calibrate import Look

Photo = np.ndarray
Drawn = Callable[[int, Look], tuple[Photo, Truth, Ink, int]]


@dataclass(frozen=True, slots=True)
class CardTried:
    """One card: its truth, what went wrong with its photo, and what was read."""

    seed: int
    truth: Truth
    framed: bool
    fault: Fault | None
    refused: Reason | None
    number_right: bool
    measures: Measures | None
    looks: tuple[Likely, ...]
    share: float
    seconds: float


def ours(seed: int, fault: Fault | None) -> CardTried:
    """A card of our own renderer, by its seed.

    Parameters
    ----------
    seed : of everything about it
    fault : what goes wrong with its photo
    """
    cv2.setNumThreads(1)
    rng = np.random.default_rng(10_000 + seed)
    wanted = looks(1, rng)[0]
    card = unknown(wanted, rng)
    sprayed = sprayed_card(
        card.setting,
        latents=card.latents,
        hand=card.hand,
        framed=card.framed,
        px_mm=CARD_PX_MM,
        seed=seed * 7,
    )
    light = coloured(sprayed.laid, print_of(card.number), card.optics)
    shot = usual(rng)
    if fault is not None:
        shot = with_fault(shot, fault, rng)
    photo = photographed(light, CARD_PX_MM, shot, rng)
    hiding = card.setting.paint.hiding_um or Ink().hiding_um
    lines = tuple(one.splats for one in sprayed.lines)
    ink = Ink(card.optics, hiding, sprayed.here.splats, lines)
    return judged(
        _jpeg(photo, int(rng.integers(80, 95))),
        CardTried(
            seed=seed,
            truth=truth_of(sprayed),
            framed=card.framed,
            fault=fault,
            refused=None,
            number_right=False,
            measures=None,
            looks=(),
            share=one_pass_share(sprayed.here.sigma_mm),
            seconds=0.0,
        ),
        ink,
        card.number,
    )


def judged(photo: Photo, about: CardTried, ink: Ink, number: int) -> CardTried:
    """A photo read, and how long that took.

    Parameters
    ----------
    photo : (h, w, 3) uint8
    about : what is known of it
    ink : what the reader is told of the paint
    number : of the card
    """
    begun = time.perf_counter()
    found = read(photo, ink_of=lambda _: ink)
    return replace(
        about,
        refused=found.refused,
        number_right=found.number == number,
        measures=found.measures,
        looks=found.looks,
        seconds=time.perf_counter() - begun,
    )


def _jpeg(photo: Photo, quality: int) -> Photo:
    packed = cv2.imencode(".jpg", photo, [cv2.IMWRITE_JPEG_QUALITY, quality])[1]
    return np.asarray(cv2.imdecode(packed, cv2.IMREAD_COLOR))


def tried(
    seeds: Iterable[int],
    *,
    fault: Fault | None = None,
    draw: Callable[[int, Fault | None], CardTried] = ours,
    processes: int = 2,
) -> list[CardTried]:
    """Cards by their seeds, in several processes.

    Parameters
    ----------
    seeds : of the cards
    fault : what goes wrong with their photos
    draw : which renderer makes them
    processes : int
    """
    with multiprocessing.get_context("forkserver").Pool(processes) as pool:
        return pool.map(partial(draw, fault=fault), list(seeds), chunksize=1)


def one_of_each_fault(first: int, each: int) -> list[tuple[int, Fault]]:
    """Seeds with a fault each.

    Parameters
    ----------
    first : seed
    each : cards of every fault
    """
    return [(first + i * each + k, fault) for i, fault in enumerate(FAULTS) for k in range(each)]
