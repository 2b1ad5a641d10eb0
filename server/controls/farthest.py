"""How far a travel counts for clearances: permitted or measured, whichever is larger."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from server.controls.models import Requirement

TRAVEL = ("travel", "neutral")


def farthest(hi: float | None, result: dict[str, Any] | None) -> tuple[float | None, bool]:
    """What is permitted or what was measured with its U, whichever is larger, rad; whether it is
    the measured one."""
    value, U = (result or {}).get("value"), (result or {}).get("U")
    measured = None if value is None else math.radians(value + (U or 0.0))
    if measured is not None and (hi is None or measured > hi):
        return measured, True
    return hi, False


def wanted_of(requirements: Iterable[Requirement], results: dict[int, Any]) -> dict[str, Any]:
    """By surface and position, how far it must be taken and by what; as JSON."""
    found: dict[str, Any] = {}
    for r in requirements:
        far, measured = farthest(r.hi, results.get(r.pk))
        if far is None or r.surface is None:
            continue
        key = f"{r.surface.slug}|{r.position}"
        words = "what was measured, with U" if measured else "what is permitted, with its tolerance"
        if key not in found or found[key][0] < far:
            found[key] = [far, words]
    return found
