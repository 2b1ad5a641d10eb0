"""Rivets of a rod-end insert in a tube end: edge distance, pitch, and the tapped hole.

Source: AC 43.13-1B chapter 4 (edge distance 2D). Pitch and clearance are the user's data.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.verdicts import Verdict, judge

KINDS = ("radial", "through")
EDGE_MIN_D = 2.0


@dataclass(frozen=True)
class Insert:
    """An insert in a tube, m. `reach`: from the tube's outside to the bottom of the hole."""

    tube_od: float
    wall: float
    insert_len: float
    tapped_dia: float
    tapped_depth: float
    kind: str
    reach: float | None = None


@dataclass(frozen=True)
class Rivet:
    """A rivet: x from the tube end, m; phi about the tube, rad."""

    x: float
    phi: float


@dataclass(frozen=True)
class InsertRivets:
    """Distances, m, and verdicts; None where a single rivet has no pitch."""

    tube_edge: float
    insert_edge: float
    pitch: float | None
    tip_gap: float | None
    clearance: float
    required_edge: float
    required_pitch: float
    tube_edge_verdict: Verdict
    insert_edge_verdict: Verdict
    clearance_verdict: Verdict
    pitch_verdict: Verdict | None


def insert_rivets(
    i: Insert,
    rivet_dia: float,
    rivets: Sequence[Rivet],
    pitch_min_d: float,
    clear_min: float,
    edge_min_d: float = EDGE_MIN_D,
    U: float = 0.0,
) -> InsertRivets:
    """Check a pattern of rivets (lengths m, spacing in rivet diameters).

    Refuses a hole that reaches the axis of a radial pattern, a rivet outside the insert, and
    a tapped hole wider than the insert.
    """
    _check(i, rivet_dia, rivets)
    positive(pitch_min_d, "pitch_min_D")
    positive(edge_min_d, "edge_min_D")
    not_negative(clear_min, "clear_min")
    not_negative(U, "U")
    surface = i.tube_od / 2.0 - i.wall
    tip = i.tube_od / 2.0 - i.reach if i.kind == "radial" and i.reach is not None else 0.0
    tube_edge = min(r.x for r in rivets)
    insert_edge = min(i.insert_len - r.x for r in rivets)
    pairs = list(itertools.combinations(rivets, 2))
    pitch = tip_gap = None
    if pairs and i.kind == "through":
        pitch = min(abs(a.x - b.x) for a, b in pairs)
    elif pairs:
        pitch = min(_apart(a, b, surface) for a, b in pairs)
        tip_gap = min(_apart(a, b, tip) for a, b in pairs) - rivet_dia
    beside = tip - i.tapped_dia / 2.0 if i.kind == "radial" else -math.inf
    clearance = min(max(r.x - rivet_dia / 2.0 - i.tapped_depth, beside) for r in rivets)
    edge, spacing = edge_min_d * rivet_dia, pitch_min_d * rivet_dia
    pitch_verdict = None if pitch is None else judge(pitch, U, spacing, None)
    if tip_gap is not None and tip_gap <= 0.0:
        pitch_verdict = Verdict.OUT
    return InsertRivets(
        tube_edge=tube_edge,
        insert_edge=insert_edge,
        pitch=pitch,
        tip_gap=tip_gap,
        clearance=clearance,
        required_edge=edge,
        required_pitch=spacing,
        tube_edge_verdict=judge(tube_edge, U, edge, None),
        insert_edge_verdict=judge(insert_edge, U, edge, None),
        clearance_verdict=judge(clearance, U, clear_min, None),
        pitch_verdict=pitch_verdict,
    )


def _apart(a: Rivet, b: Rivet, radius: float) -> float:
    return math.hypot(a.x - b.x, 2.0 * radius * math.sin((a.phi - b.phi) / 2.0))


def _check(i: Insert, rivet_dia: float, rivets: Sequence[Rivet]) -> None:
    positive(rivet_dia, "rivet_dia")
    for name in ("tube_od", "wall", "insert_len", "tapped_dia"):
        positive(getattr(i, name), name)
    not_negative(i.tapped_depth, "tapped_depth")
    choice(i.kind, KINDS, "kind")
    if i.wall >= i.tube_od / 2.0:
        raise Refused("wall", "is half the diameter or more")
    if i.tapped_dia >= i.tube_od - 2.0 * i.wall:
        raise Refused("tapped_dia", "is wider than the insert")
    if i.kind == "radial":
        if i.reach is None:
            raise Refused("reach", "is needed for radial rivets")
        if positive(i.reach, "reach") >= i.tube_od / 2.0:
            raise Refused("reach", "the hole reaches the axis: it is not radial")
    if not rivets:
        raise Refused("rivets", "needs at least one")
    for n, r in enumerate(rivets):
        finite(r.phi, f"rivets.{n}.phi_deg")
        if not 0.0 <= finite(r.x, f"rivets.{n}.x_mm") <= i.insert_len:
            raise Refused(f"rivets.{n}.x_mm", "lies outside the insert")
