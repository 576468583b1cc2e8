"""Errors that carry one sentence for the painter, and a code for programs.

Every refusal a program could act on has a class and a code of its own; the base is never raised.
"""

from __future__ import annotations

__all__ = ("HazeError",)


class HazeError(Exception):
    """Base of all errors whose message may be shown as it stands."""

    code = "error"

    def __init__(self, message: str, *, field: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.field = field


class OutOfRangeError(HazeError):
    """A number lies outside what the model accepts."""

    code = "out_of_range"


class UnknownNameError(HazeError):
    """A name that no table holds; the accepted ones are listed."""

    code = "unknown_name"


class ColourTextError(HazeError):
    """A text that should be a colour and is none."""

    code = "bad_colour"


class MeshError(HazeError):
    """A mesh file that cannot be used."""

    code = "bad_mesh"


class PhotoError(HazeError):
    """A photo that cannot be read, or a place on it that tells no colour."""

    code = "bad_photo"


class SwatchError(HazeError):
    """Swatches or a test mix that tell nothing of a paint."""

    code = "bad_swatch"


class IncompatibleError(HazeError):
    """A thinner that spoils this paint, or paints that do not mix."""

    code = "incompatible"


class NothingFitsError(HazeError):
    """Nothing among the given or owned things does what was asked."""

    code = "nothing_fits"


class NoRecipeError(HazeError):
    """No clean setting for this coat; the sentence says why and what would help."""

    code = "no_recipe"


class LadderError(HazeError):
    """These paints and rungs make no ladder."""

    code = "no_ladder"


class NoLightError(HazeError):
    """The light reaches nothing, or nothing that this coat could make lighter."""

    code = "no_light"


class BlockedError(HazeError):
    """Every direction spray could come from is blocked."""

    code = "blocked"


class NotSprayedError(HazeError):
    """A change for sprayed coats with stations, asked of another step."""

    code = "not_sprayed"


class NotInPlanError(HazeError):
    """A step, part or light that this plan does not have."""

    code = "not_in_plan"


class EmptyMixError(HazeError):
    """A mix without paint."""

    code = "empty_mix"


class TwinError(HazeError):
    """A name or id that stands there already."""

    code = "twin"


class NothingToDoError(HazeError):
    """A request that would change nothing."""

    code = "nothing_to_do"


class LastOneError(HazeError):
    """The last of something that a plan needs; it can not be put away."""

    code = "last_one"


class BadFileError(HazeError):
    """A table or palette that is none, or is too large."""

    code = "bad_file"


class BadInputError(HazeError):
    """Input of a command that cannot be read or is not what it takes."""

    code = "bad_input"


class PortError(HazeError):
    """An address that cannot be served on."""

    code = "port"


class SplitError(HazeError):
    """A part that cannot be split this way."""

    code = "cannot_split"


class TooManyError(HazeError):
    """More than there is room for."""

    code = "too_many"


class NoOrderError(HazeError):
    """No order of a day keeps all that was asked of it."""

    code = "no_order"


class CancelledError(HazeError):
    """A job was cancelled by the painter."""

    code = "cancelled"


def require_range(name: str, value: float, low: float, high: float, unit: str = "") -> None:
    """Raise `OutOfRangeError` unless low <= value <= high; NaN never passes.

    Parameters
    ----------
    name : str, the field as the painter knows it
    value, low, high : float [unit]
    unit : str, shown after the numbers
    """
    if not (low <= value <= high):
        suffix = f" {unit}" if unit else ""
        raise OutOfRangeError(
            f"{name} is {value:g}{suffix}; accepted is {low:g} to {high:g}{suffix}.", field=name
        )
