"""Where a mechanism locks: the first position on a way that a rod cannot follow."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from core.basis.refused import Refused, positive
from core.controls.linkage.solving import Plan, solve

STEPS = 720


@dataclass(frozen=True)
class Lock:
    """The input (rad or m) at which it locks, and the rod that does."""

    input: float
    rod: str


def first_lock(
    p: Plan,
    name: str,
    limit: float,
    others: Mapping[str, float] | None = None,
    lengths: Mapping[str, float] | None = None,
) -> Lock | None:
    """The first lock-up moving one input from 0 to `limit` (signed; rad or m), or None.

    Steps of 1/720 of the limit, then bisection. Others are held (absent: 0).
    """
    grid = limit * np.arange(STEPS + 1) / STEPS
    motion = solve(p, {**(others or {}), name: grid}, lengths)
    locked = np.broadcast_to(np.asarray(motion.lock) >= 0, grid.shape)
    if not locked.any():
        return None
    first = int(np.argmax(locked))
    if first == 0:
        return Lock(0.0, motion.rod_locked((0,)) if motion.lock.shape else motion.rod_locked())  # type: ignore[arg-type]
    low, high = float(grid[first - 1]), float(grid[first])
    for _ in range(80):
        middle = (low + high) / 2.0
        if middle in (low, high):
            break
        if solve(p, {**(others or {}), name: middle}, lengths).lock >= 0:
            high = middle
        else:
            low = middle
    rod = solve(p, {**(others or {}), name: high}, lengths).rod_locked()
    assert rod is not None
    return Lock(low, rod)


def lockup(
    p: Plan, name: str, limit: float, others: Mapping[str, float] | None = None
) -> tuple[Lock | None, Lock | None]:
    """First lock-up in the positive and in the negative direction of an input, or None.

    limit: how far to look each way, rad (at most half a turn) or m. Refuses unknown inputs.
    """
    check_input(p, name, limit)
    return first_lock(p, name, limit, others), first_lock(p, name, -limit, others)


def check_input(p: Plan, name: str, limit: float) -> None:
    """Refuses an unknown input and a limit that is not over 0 and, for a turn, at most π."""
    if name not in p.mechanism.inputs:
        raise Refused("input", f"{name} is not an input of this mechanism")
    positive(limit, "limit")
    if p.mechanism.inputs[name] == "rad" and limit > np.pi * (1 + 1e-12):
        raise Refused("limit", "must be at most 180 degrees")
