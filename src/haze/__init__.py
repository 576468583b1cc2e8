"""Haze: a planning bench for people who paint with an airbrush."""

__version__ = "0.1.0"
