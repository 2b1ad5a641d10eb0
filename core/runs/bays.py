"""What lies in which bay: stretches of a run, and single items (`clearance.run_in_bays`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import Named
from core.basis.refused import Refused, finite
from core.basis.rules import rule
from core.runs.words import CAUTION

OUTSIDE = "outside all bays"
_JOIN = 1e-9
Point = tuple[float, float, float]


@dataclass(frozen=True)
class Box:
    """A closed box `lo`-`hi`, m: station, butt line, water line."""

    id: str
    lo: Point
    hi: Point

    def __post_init__(self) -> None:
        for a, b in zip(self.lo, self.hi, strict=True):
            if finite(a, f"bays.{self.id}") > finite(b, f"bays.{self.id}"):
                raise Refused(f"bays.{self.id}", "its low corner is above its high corner")

    def holds(self, p: Sequence[float]) -> bool:
        """Whether the point lies in the box, its walls included."""
        return all(a <= x <= b for a, x, b in zip(self.lo, p, self.hi, strict=True))

    def overlaps(self, other: Box, slack: float = 1e-6) -> bool:
        """Whether both share a volume; touching walls do not count."""
        return all(
            min(b, d) - max(a, c) > slack
            for a, b, c, d in zip(self.lo, self.hi, other.lo, other.hi, strict=True)
        )


def point(value: Sequence[float], field: str) -> Point:
    """Three finite coordinates; refuses any other number of them."""
    if len(value) != 3:
        raise Refused(field, "needs three coordinates: station, butt line, water line")
    return finite(value[0], field), finite(value[1], field), finite(value[2], field)


def bays_of(p: Sequence[float], bays: Sequence[Box]) -> tuple[str, ...]:
    """Every bay that holds this point; on a shared wall both. Empty: outside all bays."""
    at = point(p, "point")
    return tuple(b.id for b in bays if b.holds(at))


def overlapping(bays: Sequence[Box]) -> tuple[tuple[str, str], ...]:
    """Pairs of bays that share a volume."""
    return tuple((a.id, b.id) for i, a in enumerate(bays) for b in bays[i + 1 :] if a.overlaps(b))


@rule(
    "clearance.run_in_bays",
    title="A run through the bays",
    purpose="Which stretch of a run lies in which bay?",
    source="Geometry: the run is clipped against each box.",
    validity="Bays are boxes, walls included; overlapping bays both count.",
    caution=CAUTION,
)
def run_in_bays(
    pts: Annotated[Sequence[Sequence[float]], "Points [station, butt line, water line], m."],
    bays: Annotated[Sequence[Box], "Boxes: id, lo, hi; m."],
) -> Annotated[
    dict[str, list[tuple[float, float]]], "Stretches along the run in this bay, m.", Named("*")
]:
    """Stretches of a run in each bay, as distances along it, m; and outside all bays.

    pts: N x 3 points, m, N of two or more. A stretch in two overlapping bays belongs to
    both. Refuses fewer than two points and boxes inside out.
    """
    if len(pts) < 2:
        raise Refused("pts", "needs at least two points")
    line = [point(p, "pts") for p in pts]
    found: dict[str, list[tuple[float, float]]] = {b.id: [] for b in bays}
    along = 0.0
    for a, b in itertools.pairwise(line):
        length = math.dist(a, b)
        for box in bays:
            clip = _clip(a, b, box)
            if clip is not None:
                _add(found[box.id], along + clip[0] * length, along + clip[1] * length)
        along += length
    outside = _rest(along, [s for stretches in found.values() for s in stretches])
    return found | ({OUTSIDE: outside} if outside else {})


def _clip(a: Point, b: Point, box: Box) -> tuple[float, float] | None:
    """The part of the segment within the box, slab by slab, as shares of it."""
    t0, t1 = 0.0, 1.0
    for x0, x1, lo, hi in zip(a, b, box.lo, box.hi, strict=True):
        step = x1 - x0
        if step == 0.0:
            if not lo <= x0 <= hi:
                return None
            continue
        near, far = sorted(((lo - x0) / step, (hi - x0) / step))
        t0, t1 = max(t0, near), min(t1, far)
    return (t0, t1) if t0 <= t1 else None


def _add(stretches: list[tuple[float, float]], s0: float, s1: float) -> None:
    if stretches and s0 <= stretches[-1][1] + _JOIN:
        stretches[-1] = (stretches[-1][0], max(stretches[-1][1], s1))
    else:
        stretches.append((s0, s1))


def _rest(total: float, covered: list[tuple[float, float]]) -> list[tuple[float, float]]:
    rest, at = [], 0.0
    for s0, s1 in sorted(covered):
        if s0 > at + _JOIN:
            rest.append((at, s0))
        at = max(at, s1)
    if total > at + _JOIN:
        rest.append((at, total))
    return rest
