"""Cards without a browser: drawn, read and simulated by the command line."""

from __future__ import annotations

from pydantic import Field

from haze.core.errors import BadInputError
from haze.core.film.described import Described, optics_of
from haze.core.inspect.card import MOST
from haze.core.spray.calibrate import Look
from haze.formats.card_sheet import CardWords, svg
from haze.service.cards.card_read import CardRead, KnownCard
from haze.service.cards.describe import read_photo
from haze.service.cards.stand_in import StandInBody, StandInSeeds, stand_in_photo
from haze.service.cups.setting import AssessIn, setting_of, setting_words
from haze.service.forms.wire import Coloured, Strict

USUAL = Described("#23345c", "opaque", "matt")  # a paint of unknown colour


class CardIn(Strict):
    """A trial as a card is made for it: its number, setting, colour, and words to write on it."""

    trial: int = Field(default=0, ge=0, le=MOST)
    setting: AssessIn | None = None
    colour: Coloured | None = None
    title: str = Field(default="", max_length=200)
    dark: bool = False
    outcome: Look | None = None

    @property
    def known(self) -> KnownCard:
        """What it tells beforehand."""
        return KnownCard(
            setting_of(self.setting) if self.setting else None,
            self.colour.optics if self.colour else None,
            dark=self.dark,
        )


def drawn(given: CardIn) -> str:
    """SVG of a card."""
    s = given.setting
    right = f"{s.needle_mm:g} mm · {setting_words(s)}" if s else ""
    return svg(CardWords(given.trial, given.title, right, dark=given.dark))


def read_given(data: bytes, given: CardIn | None) -> CardRead:
    """What a photo shows; a trial that is given tells the setting and colour of its card.

    Parameters
    ----------
    data : bytes of the photo
    given : the trial of its card; None when nothing is known
    """
    known = {given.trial: given.known} if given else {}
    return read_photo(_nobody, data=data, known=known, wanted=None).found


def simulated(given: CardIn, how: StandInBody) -> bytes:
    """JPEG of a card as the setting would leave it; `BadInputError` without a setting."""
    if given.setting is None:
        raise BadInputError("setting is missing: a card is simulated from what sprays it.")
    return stand_in_photo(
        _nobody,
        setting=setting_of(given.setting),
        optics=given.colour.optics if given.colour else optics_of(USUAL),
        number=given.trial,
        dark=given.dark,
        sprayed=StandInSeeds(how.seed, how.seed),
        body=how,
    )


def _nobody(_: float) -> bool:
    return True
