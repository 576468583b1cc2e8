"""What all parts of a document share: the strict base, and the texts and points in it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, WithJsonSchema

MOST_NAME = 120
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=MOST_NAME)]
Hex = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Identity = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
Digest = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
Note = Annotated[str, Field(max_length=400)]
Length = Annotated[float, Field(ge=-1e6, le=1e6)]
Point = Annotated[  # in the axes and units of the mesh file
    tuple[Length, Length, Length],
    WithJsonSchema(
        {
            "type": "array",
            "items": {"type": "number", "minimum": -1e6, "maximum": 1e6},
            "minItems": 3,
            "maxItems": 3,
        }
    ),
]
Azimuth = Annotated[float, Field(ge=-360, le=360)]
Elevation = Annotated[float, Field(ge=-90, le=90)]


class Strict(BaseModel):
    """The one base: unknown fields and numbers that are none are refused, so nothing is lost."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Value(Strict):
    """A part of a document that is a value: it never changes, and may stand in a cache key."""

    model_config = ConfigDict(frozen=True)


def require_single(identities: Sequence[str], what: str) -> None:
    """Refuse an id that stands twice (`ValueError`, for a validator).

    Parameters
    ----------
    identities : the ids
    what : str, what they name, in the plural
    """
    if len(set(identities)) != len(identities):
        raise ValueError(f"two {what} share an id")
