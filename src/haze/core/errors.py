"""Errors that carry one sentence for the painter."""

from __future__ import annotations


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
    """A name that no table holds."""

    code = "unknown_name"


class MeshError(HazeError):
    """A mesh file that cannot be used."""

    code = "bad_mesh"


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
