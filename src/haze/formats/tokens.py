"""Words of large text files, found by numpy a block at a time: memory stays a few blocks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Array, Bytes, Mask
from haze.core.errors import MeshError

BLOCK_BYTES = 4 * 2**20
MOST_LINE_BYTES = 2**20
Where = NDArray[np.int64]


def blocks(data: bytes, *, begin: int = 0) -> Iterator[tuple[int, bytes]]:
    """Pieces of a text that end where a line ends, and where each ends in the text.

    Parameters
    ----------
    data : bytes of the whole file
    begin : int, where the text begins

    Raises
    ------
    MeshError for a line longer than any mesh file has
    """
    at = begin
    while at < len(data):
        end = min(at + BLOCK_BYTES, len(data))
        if end < len(data):
            end = data.rfind(b"\n", at, end) + 1 or _line_end(data, end)
        if end - at > BLOCK_BYTES + MOST_LINE_BYTES:
            raise MeshError("The file has a line of over a million letters; it is no mesh.")
        yield end, data[at:end]
        at = end


def _line_end(data: bytes, at: int) -> int:
    found = data.find(b"\n", at)
    return found + 1 if found >= 0 else len(data)


@dataclass(frozen=True)
class Words:
    """The words of a block: where each begins and ends, and the lines they stand in."""

    block: bytes
    text: Bytes  # (b,) uint8
    starts: Where  # (w,) first letter of each word
    ends: Where  # (w,) after its last
    first: Where  # (l,) first word of each line that is not empty

    @classmethod
    def of(cls, block: bytes) -> Words:
        """Split a block at white space."""
        text = np.frombuffer(block, dtype=np.uint8)
        inside = np.zeros(len(text) + 2, dtype=bool)
        np.greater(text, 32, out=inside[1:-1])
        edges = np.flatnonzero(inside[1:] != inside[:-1])
        starts, ends = edges[::2], edges[1::2]
        # the first word after the end of each line; lines without any have that of the next
        after = np.searchsorted(starts, np.flatnonzero(text == ord("\n")))
        first = np.concatenate([[0], after])
        return cls(block, text, starts, ends, first[np.diff(first, append=len(starts)) > 0])

    @cached_property
    def count(self) -> Where:
        """(l,) how many words each line has."""
        return np.diff(self.first, append=len(self.starts))

    @cached_property
    def line(self) -> Where:
        """(w,) the line of each word."""
        return np.repeat(np.arange(len(self.first)), self.count)

    @cached_property
    def place(self) -> Where:
        """(w,) how many words stand before it in its line."""
        return np.arange(len(self.starts)) - np.repeat(self.first, self.count)

    def begin_with(self, word: bytes) -> Mask:
        """(l,) lines whose first word is this one, in small or capital letters."""
        starts = self.starts[self.first]
        same = self.ends[self.first] - starts == len(word)
        for i, letter in enumerate(word):
            # the first word of a last line may be shorter than what is compared
            at = np.minimum(starts + i, len(self.text) - 1)
            same &= (self.text[at] | 32) == letter
        return np.asarray(same)

    def said(self, line: int | np.integer[Any]) -> str:
        """A line as it stands, shortened."""
        first = self.first[line]
        last = first + self.count[line] - 1
        return self.block[self.starts[first] : self.ends[last]].decode("utf-8", "replace")[:60]

    def only(self, chosen: Mask, *, ends: Where | None = None) -> bytes:
        """The block with all but the chosen words blank.

        Parameters
        ----------
        chosen : (w,) bool
        ends : (w,) int, where each word shall end; where it does when None
        """
        edge = np.zeros(len(self.text) + 1, dtype=np.int8)
        edge[self.starts[chosen]] += 1
        edge[(self.ends if ends is None else ends)[chosen]] -= 1
        inside = np.cumsum(edge[:-1], dtype=np.int8).astype(bool)
        return np.where(inside, self.text, np.uint8(32)).tobytes()

    def numbers(self, chosen: Mask) -> Array:
        """(k,) float64: the chosen words as numbers; `ValueError` when one is none.

        Parameters
        ----------
        chosen : (w,) bool
        """
        return np.array(self.only(chosen).split(), dtype=np.float64)

    def whole_numbers(self, chosen: Mask, *, ends: Where | None = None) -> Where:
        """(k,) int64: the chosen words as whole numbers; `ValueError` when one is none.

        Parameters
        ----------
        chosen : (w,) bool
        ends : (w,) int, where each word shall end; where it does when None
        """
        if not chosen.any():
            return np.zeros(0, dtype=np.int64)
        found = np.fromstring(self.only(chosen, ends=ends).decode("latin-1"), np.int64, sep=" ")
        if len(found) != int(chosen.sum()):
            raise ValueError("a word is no whole number")
        return found
