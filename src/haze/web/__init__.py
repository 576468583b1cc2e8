"""Haze over HTTP."""

LOOPBACK = "127.0.0.1"
