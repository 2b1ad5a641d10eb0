"""Two sticks on parallel axes, joined by a link between their lower ends: do they agree?"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from core.basis.refused import Refused, positive, within
from core.controls.linkage.mechanism import Body, ByInput, ByRod, End, Mechanism, Rod
from core.controls.linkage.solving import plan, solve


@dataclass(frozen=True)
class TwinSticks:
    """Second stick against the first, rad. `travel_ratio`: its whole travel over the first's."""

    neutral_difference: float
    max_difference: float
    at_min: float
    at_max: float
    travel_ratio: float
    parallel: bool


def twin_sticks(
    arm1: float, arm2: float, pivot_gap: float, link: float, low: float, high: float, tol: float
) -> TwinSticks:
    """Compare the sticks over the range of the first, every degree.

    arms, gap between the pivots and link, m; range low < 0 < high and tolerance, rad. Angles
    right-handed about +x with y right and z up (lower end moves right). Equal arms and a link
    as long as the gap agree exactly; unequal arms cannot be mended by the link. Refuses a
    link with which they lock up.
    """
    for name, value in (("arm1", arm1), ("arm2", arm2), ("pivot_gap", pivot_gap), ("link", link)):
        positive(value, name)
    if not low < 0.0 < high:
        raise Refused("range", "must go from below 0 to above 0")
    within(low, -math.pi, 0.0, "range", "at most 180 degrees each way")
    within(high, 0.0, math.pi, "range", "at most 180 degrees each way")
    mechanism = Mechanism(
        "twin sticks",
        {"stick": "rad"},
        (
            Body("one", "turn", (1.0, 0.0, 0.0), ByInput("stick"), points={"low": (0, 0, -arm1)}),
            Body(
                "two",
                "turn",
                (1.0, 0.0, 0.0),
                ByRod("link"),
                pivot=(0.0, pivot_gap, 0.0),
                points={"low": (0.0, pivot_gap, -arm2)},
            ),
        ),
        (Rod("link", End("one", "low"), End("two", "low"), link),),
    )
    try:
        p = plan(mechanism)
    except Refused as refusal:
        raise Refused("link", f"the sticks lock up: {refusal.reason}") from None
    count = round(np.degrees(high - low)) + 1
    first = np.linspace(low, high, count)
    motion = solve(p, {"stick": np.append(first, 0.0)})
    if (motion.lock >= 0).any():
        raise Refused("link", "the sticks lock up in this range")
    second = motion.q["two"][:-1]
    worst = float(np.max(np.abs(second - first)))
    return TwinSticks(
        neutral_difference=float(motion.q["two"][-1]),
        max_difference=worst,
        at_min=float(second[0]),
        at_max=float(second[-1]),
        travel_ratio=float((second[-1] - second[0]) / (high - low)),
        parallel=worst <= tol + 1e-9,
    )
