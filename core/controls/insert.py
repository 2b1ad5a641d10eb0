"""Rivets of a rod-end insert in a tube end: edge distance, pitch, and the tapped hole.

Source: AC 43.13-1B chapter 4 (edge distance 2D). Pitch and clearance are the user's data.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import ABSENT, DEG, MM, Named, OneOf
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge

KINDS = ("radial", "through")
EDGE_MIN_D = 2.0


@dataclass(frozen=True)
class Insert:
    """An insert in a tube, m. `reach`: from the tube's outside to the bottom of the hole."""

    tube_od: Annotated[float, "Tube outside diameter.", MM]
    wall: Annotated[float, "Tube wall.", MM]
    insert_len: Annotated[float, "Tube end to the insert's inner end.", MM]
    tapped_dia: Annotated[float, "Tapped hole.", MM]
    tapped_depth: Annotated[float, "From the tube end, with drill point.", MM]
    kind: Annotated[str, "Radial or on a diameter.", OneOf(("radial", "through"))]
    reach: Annotated[float | None, "Radial: outside of the tube to the bottom of the hole.", MM] = (
        None
    )


@dataclass(frozen=True)
class Rivet:
    """A rivet: x from the tube end, m; phi about the tube, rad."""

    x: Annotated[float, "From the tube's end.", MM]
    phi: Annotated[float, "Round the tube.", DEG]


@dataclass(frozen=True)
class InsertRivets:
    """Distances, m, and verdicts; None where a single rivet has no pitch."""

    tube_edge: Annotated[float, "To the tube's end.", MM]
    insert_edge: Annotated[float, "To the insert's inner end.", MM]
    pitch: Annotated[float | None, "Least pitch.", MM]
    tip_gap: Annotated[float | None, "Between holes at their bottoms.", MM, ABSENT]
    clearance: Annotated[float, "To the tapped hole.", MM]
    required_edge: Annotated[float, "Edge distance asked.", MM]
    required_pitch: Annotated[float, "Pitch asked.", MM]
    tube_edge_verdict: Annotated[Verdict, "Verdict.", Named("tube_edge")]
    insert_edge_verdict: Annotated[Verdict, "Verdict.", Named("insert_edge")]
    clearance_verdict: Annotated[Verdict, "Verdict.", Named("clearance")]
    pitch_verdict: Annotated[Verdict | None, "Verdict.", Named("pitch"), ABSENT]


@rule(
    "controls.insert_rivets",
    title="Rivets of a rod-end insert",
    purpose="Do the rivets keep their distance from the edges, each other and the tapped hole?",
    source="AC 43.13-1B chapter 4 (edge distance 2D).",
    validity="Straight distances; two holes on diameters always meet at the axis.",
    caution="A rivet in the tapped hole stops the rod end short and weakens it; try the rod end to"
    " full depth before riveting.",
)
def insert_rivets(
    i: Insert,
    rivet_dia: Annotated[float, "Rivet diameter.", MM],
    rivets: Annotated[Sequence[Rivet], "{x_mm from the tube end, phi_deg}."],
    pitch_min_d: Annotated[float, "Least pitch in diameters (yours).", Named("pitch_min_D")],
    clear_min: Annotated[float, "Least distance to the tapped hole (yours).", MM],
    edge_min_d: Annotated[
        float, "Least edge distance in diameters (default 2).", Named("edge_min_D")
    ] = EDGE_MIN_D,
    U: Annotated[float, "Expanded uncertainty of a length.", MM] = 0.0,
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
