"""The size every prepared mesh is brought to."""

DIAGONAL = 100.0
