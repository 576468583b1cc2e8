"""How well photos of cards are read: on our own simulated cards, and on those of a second renderer.

    cd tests && python -m bench.cards OURS THEIRS EACH_FAULT

Prints shares and the table of confusions; nothing is asserted. The cards were not in the fit.
"""

from __future__ import annotations

import multiprocessing
import resource
import sys

import cv2
import numpy as np

from bench.photographed import CardTried, one_of_each_fault, ours, tried
from bench.second_renderer import theirs
from bench.simulated import CARD_PX_MM
from haze.core.inspect.camera import photographed
from haze.core.inspect.card import printed, raster
from haze.core.inspect.reading.outcome import SURE, specks_per_cm2
from haze.core.inspect.shot import usual
from haze.core.inspect.trial_card import FAULT_FROM
from haze.core.spray.calibrate import CLASSES
from haze.service.cards.describe import read_photo

FIRST = 90_000
RIGHT: dict[str, tuple[str, ...]] = {
    "dark": ("dark",),
    "cropped": ("marks",),
    "bent": ("bent",),
    "far": ("far",),
    "glare": ("glare", "marks"),
    "uneven": ("uneven", "dark"),
    "blurred": ("blurred",),
    "shaken": ("blurred",),
    "steep": ("far", "marks"),
}


def report(cards: list[CardTried], title: str) -> None:
    """What was read of cards beside what was true.

    Parameters
    ----------
    cards : that were photographed with care
    title : printed over it
    """
    read = [c for c in cards if c.measures is not None and c.looks]
    print(f"\n{title}: {len(cards)} cards")
    painted = [c for c in cards if c.refused == "painted"]
    refused = [c for c in cards if c.refused not in (None, "painted")]
    print(f"  refused {len(refused)}, painted over at the edge {len(painted)}")
    if not read:
        return
    right = [c.looks[0].look == c.truth.look for c in read]
    among = [c.truth.look in [one.look for one in c.looks[:2]] for c in read]
    sure = [c for c in read if c.looks[0].share > SURE]
    wrong = sum(c.looks[0].look != c.truth.look for c in sure)
    print(f"  fault right {np.mean(right):.1%}, among the first two {np.mean(among):.1%}")
    print(
        f"  very likely: {len(sure) / len(read):.0%} of cards, wrong {wrong}; stored unasked: none"
    )
    print(f"  number right {np.mean([c.number_right for c in read]):.1%}")
    widths = [w for c in read for w in _widths(c)]
    near = np.mean(np.abs(widths) < 0.1)
    print(f"  footprint of a line within 10 %: {near:.1%} of {len(widths)}")
    limit = FAULT_FROM["specks_cm2"]
    sides = [
        (specks_per_cm2(c.measures) > limit) == (c.truth.specks_cm2 > limit)
        for c in read
        if c.measures and c.truth.look in ("clean", "specks", "spiders")
    ]
    print(f"  above or below {limit:.0f} specks a cm²: {np.mean(sides):.1%} of {len(sides)}")
    print(f"  seconds a card, median {np.median([c.seconds for c in read]):.1f}")
    print("  true \\ read   " + " ".join(f"{name:>8}" for name in CLASSES))
    for name in CLASSES:
        of = [c.looks[0].look for c in read if c.truth.look == name]
        print(f"  {name:>12}   " + " ".join(f"{of.count(other):>8}" for other in CLASSES))


def _widths(card: CardTried) -> list[float]:
    """What the footprint of each line is off, where there is a line to speak of."""
    if card.measures is None or card.truth.look == "nothing":
        return []
    return [
        line.sigma_mm / true - 1
        for line, true in zip(card.measures.lines, card.truth.sigma_mm, strict=False)
        if line.sigma_mm > 0
    ]


def one_fault(asked: tuple[int, str]) -> CardTried:
    """A card whose photo went wrong.

    Parameters
    ----------
    asked : its seed, and what went wrong
    """
    return ours(asked[0], asked[1])  # type: ignore[arg-type]


def faults(each: int, processes: int = 2) -> None:
    """How many faulty photos are refused, and with the right reason.

    Parameters
    ----------
    each : photos of every fault
    processes : int
    """
    with multiprocessing.get_context("forkserver").Pool(processes) as pool:
        cards = pool.map(one_fault, one_of_each_fault(FIRST + 5_000, each), chunksize=1)
    told = [c.refused in RIGHT[str(c.fault)] for c in cards]
    print(f"\nFaulty photos: {len(cards)}, refused for the right reason {np.mean(told):.1%}")
    for fault in RIGHT:
        print(f"  {fault:>8}: {[c.refused for c in cards if c.fault == fault]}")


def peak_mib(photo: bytes) -> float:
    """Memory [MiB] that a fresh process has taken at most when it has read a photo.

    Parameters
    ----------
    photo : JPEG of 12 megapixels
    """
    read_photo(lambda _: True, data=photo, known={}, wanted=None)
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def memory() -> None:
    """What reading a photo of a bare card takes; a painted one takes no more."""
    rng = np.random.default_rng(FIRST)
    light = raster(printed(FIRST), CARD_PX_MM)[..., None] * np.ones(3, dtype=np.float32)
    shot = photographed(light, CARD_PX_MM, usual(rng), rng)
    photo = cv2.imencode(".jpg", shot)[1].tobytes()
    with multiprocessing.get_context("spawn").Pool(1) as pool:
        took = pool.apply(peak_mib, [photo])
    print(f"\nReading {shot.shape[1]} x {shot.shape[0]} px takes {took:.0f} MiB")


def main(count: int, other: int, each: int) -> None:
    """All of it.

    Parameters
    ----------
    count, other, each : cards of our renderer, of the second, and photos of every fault
    """
    report(tried(range(FIRST, FIRST + count)), "Our renderer")
    report(tried(range(other), draw=theirs), "Second renderer")
    faults(each)
    memory()


if __name__ == "__main__":
    main(*(int(v) for v in (sys.argv[1:4] if len(sys.argv) > 3 else (300, 100, 5))))
