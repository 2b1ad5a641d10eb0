"""What the drawings of clearances need: lines at rest, a pair through its positions. mm."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from core.clearance.distance import Array
from core.clearance.pairs import Met, pieces
from core.clearance.scene import Scene
from core.clearance.table import Pair, Thing, axes_of, posed

FRAMES = 41
EDGES = (
    (0, 1), (1, 3), (3, 2), (2, 0), (4, 5), (5, 7), (7, 6), (6, 4), (0, 4), (1, 5), (2, 6), (3, 7),
)  # fmt: skip
Lines = list[list[list[float]]]


def _mm(points: Array) -> list[list[float]]:
    found: list[list[float]] = np.round(np.asarray(points) * 1e3, 1).tolist()
    return found


def lines_of(t: Thing, corners: Array) -> Lines:
    """A line as itself, a box as its twelve edges."""
    if t.half is None:
        return [_mm(corners)]
    turn = corners[1:] - corners[0]
    signs = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)])
    tips = corners[0] + (signs * t.half) @ turn
    return [_mm(tips[[a, b]]) for a, b in EDGES]


def at_rest(scene: Scene, t: Thing) -> Lines:
    """Where it lies with everything at neutral."""
    return lines_of(t, posed(t, [scene.axes[n] for n in t.axes], {}))


def ends_of(scene: Scene, t: Thing) -> Lines:
    """Where it lies with each of its controls at either end: drawn faint."""
    over = [scene.axes[n] for n in t.axes]
    found: Lines = []
    for x in over:
        for q in (x.nodes[0], x.nodes[-1]):
            found += lines_of(t, posed(t, over, {x.id: q}))
    return found


def film(scene: Scene, m: Met) -> dict[str, Any]:
    """A pair through each of what moves it, the others where it is nearest."""
    assert m.near is not None
    over = axes_of(m.a, m.b, scene.axes)
    parts = [Pair(a, b, scene.axes) for a, b in pieces(m.a, m.b, m.cuts)]
    reels = []
    for x in over:
        places = sorted({*np.linspace(x.nodes[0], x.nodes[-1], FRAMES).tolist(), m.near.at[x.id]})
        if x.notched:
            places = list(x.nodes)
        reels.append(
            {
                "axis": x.id,
                "name": x.name,
                "positive": x.positive,
                "said": x.said,
                "frames": [_frame(parts, m, over, x, q) for q in places],
            }
        )
    return {
        "worst": _frame(parts, m, over, None, 0.0),
        "reels": reels,
        "on_a": _mm(np.array([m.near.on_a]))[0],
        "on_b": _mm(np.array([m.near.on_b]))[0],
        "od_a": round(2e3 * m.a.radius_m, 2),
        "od_b": round(2e3 * m.b.radius_m, 2),
    }


def _frame(parts: Sequence[Pair], m: Met, over: Any, x: Any, q: float) -> dict[str, Any]:
    assert m.near is not None
    at: Mapping[str, float] = m.near.at if x is None else {**m.near.at, x.id: q}
    words = "" if x is None else x.words(q).removeprefix(x.name).strip()
    return {
        "said": words,
        "gap": round((m.near.gap_m if x is None else min(p.gap_at(at) for p in parts)) * 1e3, 2),
        "a": lines_of(m.a, posed(m.a, over, at)),
        "b": lines_of(m.b, posed(m.b, over, at)),
    }
