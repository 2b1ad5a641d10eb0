"""When a live value has settled: the last eight lie within two steps of the display."""

from __future__ import annotations

from collections.abc import Sequence

ENOUGH = 8
STEPS = 2.0


def settled(values: Sequence[float], resolution: float) -> bool:
    """True when the last eight values, in one unit with `resolution`, lie within two steps."""
    last = values[-ENOUGH:]
    return len(last) == ENOUGH and max(last) - min(last) <= STEPS * resolution * (1 + 1e-9)
