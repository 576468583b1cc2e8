"""The size every prepared mesh is brought to."""

from __future__ import annotations

DIAGONAL = 100.0
