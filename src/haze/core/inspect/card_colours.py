"""What lies on a card as colour: by the film model, gaps between fine splats counted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import nnls

from haze.core.arrays import Array, Bytes, Floats
from haze.core.film.finish import SURFACE, inside_film
from haze.core.film.looks import shown_bytes
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import Skin, coated, seen
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import linear_of_hex, tone_of_rgb
from haze.core.inspect.card import BLACK
from haze.core.inspect.landing import Splats
from haze.core.inspect.sprayed import LaidCard

PAPER = "#f2f0ea"
PAPER_LIGHTNESS = round(tone_of_rgb(linear_of_hex(PAPER)), 1)  # L*
MOST_FILM_UM, STEPS = 160.0, 600
FILMS = 4096
RATES = np.geomspace(0.01, 30, 28)  # 1/µm, at which films close
INKED = 0.999  # reflectance over the paper's under which something is printed


def cards_bytes(
    laid: Sequence[LaidCard], optics: PaintOptics, *, paper: str = PAPER
) -> list[Bytes]:
    """(h, w, 3) uint8 each: cards of one paint in their colours, encoded sRGB.

    Parameters
    ----------
    laid : what lies on each
    optics : of the paint
    paper : "#rrggbb", of the bare cards
    """
    table = shown_bytes(film_colours(optics, film_steps(), paper=paper).T)
    over = _closing_over(optics, paper)
    return [np.asarray(table[_step(_shown_film_um(one, over))]) for one in laid]


def coloured(laid: LaidCard, print_: Floats, optics: PaintOptics, *, paper: str = PAPER) -> Floats:
    """(h, w, 3) float32: linear light of a sprayed card, what is printed on it below.

    Parameters
    ----------
    laid : what lies on it
    print_ : (h, w) float32, reflectance of the print over that of the paper
    optics : of the paint
    paper : "#rrggbb", of the bare card
    """
    white = film_colours(optics, film_steps(), paper=paper)
    step = _step(shown_film_um(laid, optics, paper=paper))
    over = white[step]
    ink = print_ < INKED
    if ink.any():
        black = film_colours(optics, film_steps(), paper=paper, ink=BLACK)[step[ink]]
        bare = ((print_[ink] - BLACK) / np.float32(1 - BLACK))[:, None]
        over[ink] = black + (over[ink] - black) * bare
    return np.asarray(over, dtype=np.float32)


@cache
def film_steps() -> Array:
    """(4096,) float [µm, dry]: films of a table of colours, closer where it is thin."""
    return np.asarray(np.linspace(0, np.sqrt(MOST_FILM_UM), FILMS) ** 2)


def _step(film_um: Floats) -> NDArray[np.uint16]:
    """Place of a film among `film_steps`."""
    place = np.sqrt(film_um * np.float32(1 / MOST_FILM_UM)) * np.float32(FILMS - 1)
    return np.asarray(np.minimum(place + np.float32(0.5), FILMS - 1), dtype=np.uint16)


def shown_film_um(laid: LaidCard, optics: PaintOptics, *, paper: str = PAPER) -> Floats:
    """(h, w) float32 [µm, dry]: even films that look as what lies there does.

    Splats finer than a pixel leave gaps between them: what is seen is the mean of places under
    none, one, two of them (Poisson), which is lighter than the mean film spread evenly.

    Parameters
    ----------
    laid : what lies there
    optics : of the paint
    paper : "#rrggbb", of the bare card
    """
    return _shown_film_um(laid, _closing_over(optics, paper))


def _shown_film_um(laid: LaidCard, over: Closing) -> Floats:
    films = over.films_um
    out = laid.film_um.copy()
    for part in laid.fine:
        even = np.interp(over.sprinkled(part.splats), over.shares, films)
        out[part.box] += np.interp(part.film_um, films, np.minimum(even - films, 0))
    return np.asarray(np.maximum(out, 0), dtype=np.float32)


def _closing_over(optics: PaintOptics, paper: str) -> Closing:
    films = np.linspace(0, np.sqrt(MOST_FILM_UM), STEPS) ** 2
    return Closing.fitted(films, closing(film_colours(optics, films, paper=paper)))


@dataclass(frozen=True, slots=True, eq=False)
class Closing:
    """How a paint closes over a ground.

    Attributes
    ----------
    films_um : (n,) float [µm, dry], even films rising from 0
    shares : (n,) float [-], how far each closes, rising from 0
    weights : of 1 − exp(−a X) for each of `RATES`; their sum is near the shares
    """

    films_um: Array
    shares: Array
    weights: Array

    @classmethod
    def fitted(cls, films_um: Array, shares: Array) -> Closing:
        """How even films close, as a sum of exponentials.

        Parameters
        ----------
        films_um : (n,) float [µm, dry], rising from 0
        shares : (n,) float [-], rising from 0
        """
        return cls(films_um, shares, nnls(-np.expm1(-np.outer(films_um, RATES)), shares)[0])

    def sprinkled(self, splats: Splats) -> Array:
        """(n,) float: mean shares of films that are sprinkled.

        Splats fall at random; over a place lie none, one, two of each class (Poisson). A share that
        rises as a sum of 1 − exp(−a X) does so sprinkled too, with a X become
        X Σ s (1 − exp(−a h)) / h: the compound Poisson mean, exactly.

        Parameters
        ----------
        splats : what the film is made of
        """
        thick = np.maximum(splats.thick_um, 1e-4)
        part = splats.shares / max(float(splats.shares.sum()), 1e-12)
        slower = (-np.expm1(-np.outer(RATES, thick)) / thick) @ part
        mean = -np.expm1(-np.outer(self.films_um, slower)) @ self.weights
        return np.asarray(np.maximum.accumulate(mean) + np.arange(len(mean)) * 1e-9)


def closing(colours: Floats) -> Array:
    """(n,) float [0..1], rising: how far colours lie on the way from the first to the last.

    Parameters
    ----------
    colours : (n, 3) float, linear light by rising film
    """
    way = (colours[-1] - colours[0]).astype(np.float64)
    share = (colours - colours[0]) @ way / max(float(way @ way), 1e-9)
    return np.asarray(np.maximum.accumulate(share) + np.arange(len(share)) * 1e-9)


def film_colours(
    optics: PaintOptics, films_um: Array, *, paper: str = PAPER, ink: float = 1.0
) -> Floats:
    """(n, 3) float32: linear sRGB of even films over paper, or over what is printed on it.

    Parameters
    ----------
    optics : of the paint
    films_um : (n,) float [µm, dry]
    paper : "#rrggbb", of the bare card
    ink : float, reflectance of what is printed over that of the paper
    """
    inside = inside_film(spectrum_of_hex(paper), "matt") * ink
    bare = Skin(
        np.repeat(inside[:, None], len(films_um), axis=1),
        np.full(len(films_um), SURFACE["matt"] * ink),
        np.zeros(len(films_um)),
    )
    return np.asarray(seen(coated(bare, optics, films_um)).T, dtype=np.float32)
