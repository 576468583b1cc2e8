"""A photo of the painted piece beside its plan."""
