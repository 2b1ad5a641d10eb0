"""What must lie above what: wires over cables over fuel (`clearance.layering`)."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np

from core.basis.forms import ABSENT, Unit
from core.basis.refused import positive
from core.basis.rules import rule
from core.clearance.distance import Array, line_of, listed
from core.clearance.words import CAUTION
from core.runs.path import Points

SLACK, TINY = 1e-12, 1e-24


@dataclass(frozen=True)
class Layered:
    """The worst place."""

    height: Annotated[float, "Upper less lower; below 0: it lies under it.", Unit("m"), ABSENT]
    on_a: Annotated[tuple[float, ...], "Where on the upper line, m.", ABSENT]
    plan_distance: Annotated[float, "Beside each other there, seen from above.", Unit("m"), ABSENT]
    value: Annotated[float | None, "Null where they are never near.", ABSENT] = None


@rule(
    "clearance.layering",
    title="Which lies above",
    purpose="Does the upper line lie above the lower one wherever they are near?",
    source="Wire above or level with fluid lines: AC 43.13-1B ch. 11. Control cables between them"
    " are custom: a warning.",
    validity="Near is seen from above; each point of a against the nearest of each straight of b.",
    caution=CAUTION,
    answers=Layered,
)
def layering(
    a: Annotated[Points, "The line that should lie above."],
    b: Annotated[Points, "The line below."],
    near: Annotated[float, "Near is within this, seen from above.", Unit("m")],
) -> dict[str, Any]:
    """Worst height difference within `near`, m; {"value": None} where nothing is near."""
    upper, lower = line_of(a, "a"), line_of(b, "b")
    within = positive(near, "near")
    best: tuple[float, Array, float] | None = None
    for p0, p1 in itertools.pairwise(upper):
        for q0, q1 in itertools.pairwise(lower):
            found = _lowest(p0, p1, q0, q1, within)
            if found and (best is None or found[0] < best[0]):
                best = found
    if best is None:
        return {"value": None}
    return {"height": best[0], "on_a": listed(best[1]), "plan_distance": best[2]}


def _lowest(
    p0: Array, p1: Array, q0: Array, q1: Array, near: float
) -> tuple[float, Array, float] | None:
    """The least height of a point of one straight over the point of the other that is nearest to
    it in plan, where that is near.

    The nearest point moves in proportion until it stops at an end, and near is one stretch: the
    least lies at an end of the stretch or where the nearest point comes to an end.
    """
    u, v, w = p1 - p0, q1 - q0, p0 - q0
    flat, uu = float(v[:2] @ v[:2]), float(u[:2] @ v[:2])
    shares = [0.0, 1.0]
    if flat > TINY and abs(uu) > TINY:
        shares += [(end * flat - float(w[:2] @ v[:2])) / uu for end in (0.0, 1.0)]
        # Beside the other straight itself: how far, at a share s, from its middle line.
        across = np.array([-v[1], v[0]]) / math.sqrt(flat)
        rate, start = float(u[:2] @ across), float(w[:2] @ across)
        if abs(rate) > TINY:
            shares += [(side * near - start) / rate for side in (-1.0, 1.0)]
    for end in (q0, q1):
        shares += _rim(p0[:2] - end[:2], u[:2], near)
    best = None
    for s in shares:
        if not -SLACK <= s <= 1.0 + SLACK:
            continue
        at = p0 + min(max(s, 0.0), 1.0) * u
        t = 0.0
        if flat > TINY:
            t = min(1.0, max(0.0, float((at - q0)[:2] @ v[:2]) / flat))
        elif v[2] > 0.0:
            t = 1.0  # It stands upright: its upper end counts.
        under = q0 + t * v
        beside = math.hypot(*(at - under)[:2])
        height = float(at[2] - under[2])
        if beside <= near * (1.0 + 1e-9) and (best is None or height < best[0]):
            best = (height, at, beside)
    return best


def _rim(start: Array, way: Array, near: float) -> list[float]:
    """The shares at which start + share · way is as far as near."""
    a, b, c = float(way @ way), float(start @ way), float(start @ start) - near * near
    root = b * b - a * c
    if a <= TINY or root < 0.0:
        return []
    return [(-b - math.sqrt(root)) / a, (-b + math.sqrt(root)) / a]
