"""When no turn mends it: which arm's hole, moved by how much, would.

The hole moves along its arm; the rod is set again so that neutral comes to the middle of its
limits. A proposal for the maker or designer, never a drilling instruction.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from core.basis.refused import Refused
from core.basis.vectors import cross, dot, minus, plus, size, times
from core.controls.linkage.advising import Aim
from core.controls.linkage.contact import Bench, at_stops, check, places
from core.controls.linkage.mechanism import Body, Mechanism, Vector
from core.controls.linkage.solving import plan, rates, solve

FARTHEST = 0.3
SAMPLES = 6
STEP_M = 0.0005


@dataclass(frozen=True)
class Hole:
    """Move this hole outward (+) by `outward`, m: the arm goes from `arm` to arm + outward."""

    rod: str
    body: str
    point: str
    arm: float
    outward: float
    worst_margin: float


def arm_holes(b: Bench, aim: Aim) -> tuple[Hole, ...]:
    """The smallest move of each arm's hole that brings everything inside by U, least first.

    Looks up to 30 % of the arm each way, in steps of half a millimetre. Empty if none does.
    """
    check(b)
    one = np.zeros(1, dtype=int)
    start = at_stops(b, {}, one, places(b.stops))
    base = {k: float(getattr(start, k)[0]) for k in ("neutral", "plus", "minus")}
    if any(math.isnan(v) for v in base.values()):
        raise Refused("stops", "without a change the control meets no stop")
    found = []
    for rod, body, point in _holes(b):
        arm = _arm(body, body.points[point])
        move = _smallest(b, aim, base, (rod, body, point), arm)
        if move is not None:
            margin = _margin(b, aim, base, (rod, body, point), move)
            found.append(Hole(rod, body.id, point, arm, move, margin))
    return tuple(sorted(found, key=lambda h: abs(h.outward)))


def _holes(b: Bench) -> Iterator[tuple[str, Body, str]]:
    wanted = set(b.plan.upstream([b.plan.mechanism.outputs[b.output].body]))
    for r in b.plan.mechanism.rods:
        for end in (r.a, r.b):
            body = b.plan.mechanism.body(end.body)
            if body.kind == "turn" and {r.a.body, r.b.body} <= wanted:
                yield r.id, body, end.point


def _arm(body: Body, point: Vector) -> float:
    return float(size(cross(body.axis, minus(point, body.pivot))))


def _smallest(
    b: Bench, aim: Aim, base: dict[str, float], hole: tuple[str, Body, str], arm: float
) -> float | None:
    """The least move for which the worst margin reaches U, in whole steps; None if none."""
    best: float | None = None
    for side in (1, -1):
        far = [side * FARTHEST * arm * i / SAMPLES for i in range(1, SAMPLES + 1)]
        near = 0.0
        for s in far:
            if _margin(b, aim, base, hole, s) >= aim.U:
                count = math.ceil(abs(s - near) / STEP_M)
                for i in range(1, count + 1):
                    fine = side * STEP_M * math.ceil(abs(near) / STEP_M + i - 1e-9)
                    if _margin(b, aim, base, hole, fine) >= aim.U:
                        if best is None or abs(fine) < abs(best):
                            best = fine
                        break
                break
            near = s
    return best


def _margin(
    b: Bench, aim: Aim, base: dict[str, float], hole: tuple[str, Body, str], outward: float
) -> float:
    """Worst margin with the hole moved, -inf where that cannot be."""
    rod, body, point = hole
    try:
        changed = replace(b, plan=plan(_moved(b.plan.mechanism, rod, body, point, outward)))
        length = _set_again(changed, b, aim, base, rod)
    except Refused:
        return -math.inf
    one = np.zeros(1, dtype=int)
    found = at_stops(changed, {rod: np.array([length])}, one, places(b.stops))
    margins = []
    for key, (lo, hi) in aim.required.items():
        if key not in base:
            continue
        y = aim.measured[key] + float(getattr(found, key)[0]) - base[key]
        if math.isnan(y):
            return -math.inf
        margins += [] if lo is None else [y - lo]
        margins += [] if hi is None else [hi - y]
    return min(margins, default=-math.inf)


def _moved(m: Mechanism, rod: str, body: Body, point: str, outward: float) -> Mechanism:
    w = minus(body.points[point], body.pivot)
    across = minus(w, times(dot(body.axis, w), body.axis))
    far = plus(body.points[point], times(outward / float(size(across)), across))
    points = {**body.points, point: (float(far[0]), float(far[1]), float(far[2]))}
    bodies = tuple(replace(x, points=points) if x.id == body.id else x for x in m.bodies)
    rods = tuple(replace(r, length=None) if r.id == rod else r for r in m.rods)
    return replace(m, bodies=bodies, rods=rods)


def _set_again(changed: Bench, b: Bench, aim: Aim, base: dict[str, float], rod: str) -> float:
    """The rod's length, m, that brings the measured neutral to the middle of its limits."""
    lo, hi = aim.required.get("neutral", (None, None))
    middle = (lo + hi) / 2.0 if lo is not None and hi is not None else aim.measured["neutral"]
    target = base["neutral"] + middle - aim.measured["neutral"]
    length = changed.plan.lengths[rod]
    out = changed.plan.mechanism.outputs[b.output]
    for _ in range(4):
        motion = solve(changed.plan, dict(b.others), {rod: length})
        slope = out.sign * float(rates(motion, {}, {rod: 1.0})[out.body])
        if not math.isfinite(slope) or slope == 0.0:
            raise Refused(f"rods.{rod}", "does not move this output")
        length += (target - float(motion.output(b.output))) / slope
    return length
