"""How far something fixed to a cable travels along its route: `cables.item_travel`."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from core.basis.refused import Refused, finite
from core.basis.vectors import Point, vec
from core.cables.lever import SIDES, Lever
from core.cables.path import Path, Pulley

Floats = NDArray[np.float64]


def item_travel(
    lever: Lever,
    side: str,
    pulleys: Sequence[Pulley],
    far_point: Sequence[float],
    angles: Sequence[float] | Floats,
) -> tuple[float, float]:
    """How far a point fixed to the cable moves along the route, m: low and high, 0 included.

    Positive away from this lever. pulleys: those between the lever and the item. far_point: a
    fixed point of the route beyond the item.
    """
    if side not in SIDES:
        raise Refused("side", "must be A or B")
    far: Point = vec(far_point, "far_point")
    path = Path(pulleys)
    path.refuse_at(getattr(lever, side), far)
    turned = np.asarray([finite(float(a), "angles") for a in angles])
    moved = float(path.length(getattr(lever, side), far)) - path.length(
        lever.attachment(side, turned), far
    )
    if np.any(np.isnan(moved)):
        for angle in turned:
            path.refuse_at(lever.attachment(side, float(angle)), far)
    return float(min(0.0, moved.min(initial=0.0))), float(max(0.0, moved.max(initial=0.0)))
