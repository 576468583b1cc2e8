"""Plans of older schemas, brought up one version at a time."""

from __future__ import annotations

from typing import Any, Literal

SCHEMA: Literal[3] = 3


def brought_up(given: Any) -> Any:
    """A plan as JSON in today's schema; what is no plan of an older one stays as it is.

    Parameters
    ----------
    given : parsed JSON
    """
    if isinstance(given, dict) and given.get("schema_version") == 1:
        given = _with_lights(given)
    if isinstance(given, dict) and given.get("schema_version") == 2:
        given = _with_steps(given)
    return given


def _with_lights(given: dict[str, Any]) -> dict[str, Any]:
    """Schema 1 had one key light and nothing else."""
    light = given.get("light")
    lights = [{"kind": "key", **light}] if isinstance(light, dict) else [{"kind": "key"}]
    rest = {k: v for k, v in given.items() if k != "light"}
    return {**rest, "schema_version": 2, "lights": lights}


def _with_steps(given: dict[str, Any]) -> dict[str, Any]:
    """Schema 2 had sprayed coats only, and one task for every varnish."""
    coats = given.get("coats")
    if not isinstance(coats, list):
        return {**given, "schema_version": 3}
    return {**given, "schema_version": 3, "coats": [_step_of(c) for c in coats]}


def _step_of(coat: Any) -> Any:
    if not isinstance(coat, dict):
        return coat
    task = coat.get("task")
    if task == "varnish":
        paint = coat.get("paint")
        finish = paint.get("finish", "matt") if isinstance(paint, dict) else "matt"
        task = "matt" if finish == "ultra_matt" else finish
    return {"kind": "spray", **coat, "task": task}
