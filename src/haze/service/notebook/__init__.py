"""The notebook: what was done, what it taught, and how to do it again."""
