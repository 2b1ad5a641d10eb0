"""How far each lever of a linkage turns through the whole travel of its control."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from core.basis.refused import Refused
from core.controls.linkage.document import Document
from core.controls.linkage.lockup import first_lock
from core.controls.linkage.mechanism import Body
from core.controls.linkage.solving import solve
from core.controls.linkage.stops import stops_of

STEPS = 41


def levers(d: Document) -> list[Body]:
    """Those that turn about an axis that nothing carries."""
    return [b for b in d.mechanism.bodies if b.kind == "turn" and b.carried_by is None]


def free_range(
    d: Document, name: str, lengths: Mapping[str, float] | None = None
) -> tuple[tuple[float, float], dict[int, str]]:
    """How far an input can go each way before something locks (rad or m), and by which rod, by
    the side (-1, 1)."""
    limit, rods = d.inputs[name].limit, {}
    ends = [-limit, limit]
    for n, side in enumerate((-1, 1)):
        lock = first_lock(d.plan, name, side * limit, None, lengths)
        if lock:
            ends[n], rods[side] = lock.input, lock.rod
    return (ends[0], ends[1]), rods


def travel(
    d: Document,
    name: str,
    lengths: Mapping[str, float] | None = None,
    stops_at: Mapping[str, float] | None = None,
) -> tuple[float, float]:
    """From stop to stop (rad or m); a way without a stop goes on to where something locks."""
    (low, high), _ = free_range(d, name, lengths)
    if not d.stops:
        return low, high
    for output in d.outputs:
        if d.input_of(output) != name:
            continue
        found = stops_of(d, output, lengths, stops_at)
        for way in (found.plus, found.minus):
            if way is not None:
                low, high = (low, min(high, way.input)) if way.input > 0 else (
                    max(low, way.input), high
                )  # fmt: skip
    return low, high


def turns(
    d: Document,
    body: str,
    lengths: Mapping[str, float] | None = None,
    stops_at: Mapping[str, float] | None = None,
) -> tuple[float, float]:
    """The least and greatest angle of a lever over the travel of every input, rad.

    Refuses (`body`) one that is carried by another, or that does not turn.
    """
    if body not in {b.id for b in levers(d)}:
        raise Refused("body", f"{body} is no lever that turns about a fixed axis")
    names = list(d.mechanism.inputs)
    ways = [np.linspace(*travel(d, n, lengths, stops_at), STEPS) for n in names]
    grids = dict(zip(names, np.meshgrid(*ways, indexing="ij"), strict=True))
    motion = solve(d.plan, {n: g.ravel() for n, g in grids.items()}, lengths)
    angles = np.broadcast_to(np.asarray(motion.q[body], dtype=float), grids[names[0]].size)
    free = np.broadcast_to(np.asarray(motion.lock) < 0, angles.shape)
    return float(np.nanmin(angles[free])), float(np.nanmax(angles[free]))
