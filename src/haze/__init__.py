"""Haze: a planning bench for people who paint with an airbrush."""

__version__ = "1.0.0.dev0"
