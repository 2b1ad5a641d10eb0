"""A tube's way from what was typed: its corners, its bends one after the other, or points taken
along the straights of an old tube. A tube that was measured on the bench has no place."""

from __future__ import annotations

from dataclasses import dataclass, field

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.lines.again import as_removed
from core.lines.bend import lra_to_xyz
from core.lines.tables import ROUNDING_M

WAYS = ("corners", "bends", "old tube")
MISSES = {
    "lines_miss_at_bend": "its straights miss each other at bend {}",
    "straight_not_straight": "straight {} is not straight",
}


@dataclass(frozen=True)
class Route:
    """Corners, m; whether they are where the tube lies in the aircraft; what measuring showed."""

    points_m: list[list[float]]
    placed: bool = True
    findings: list[str] = field(default_factory=list)


def rows(text: str, units: tuple[str, ...], kinds: tuple[str, ...]) -> list[list[list[float]]]:
    """Numbers by line, in blocks parted by an empty line; SI."""
    blocks: list[list[list[float]]] = [[]]
    for n, row in enumerate(text.splitlines(), 1):
        parts = row.replace(";", " ").replace("\t", " ").split()
        if not parts:
            if blocks[-1]:
                blocks.append([])
            continue
        if len(parts) > len(units):
            raise Refused("points", f"line {n}: has more than {len(units)} numbers")
        pairs = zip(parts, kinds, units, strict=False)
        blocks[-1].append([parse(p, kind, u, "points").si for p, kind, u in pairs])
    return [b for b in blocks if b]


def corners(text: str, unit: str) -> Route:
    """A corner on each line: station, butt line, water line."""
    found = [p for b in rows(text, (unit,) * 3, ("length",) * 3) for p in b]
    for n, p in enumerate(found, 1):
        if len(p) != 3:
            raise Refused("points", f"corner {n}: must be station, butt line and water line")
    if len(found) < 2:
        raise Refused("points", "needs at least two corners, each on its own line")
    return Route(found)


def by_bends(text: str, unit: str, radii_m: list[float]) -> Route:
    """A straight on each line with the bend after it: length, turn of the plane, angle; the last
    line is the last straight alone."""
    found = [r for b in rows(text, (unit, "deg", "deg"), ("length", "angle", "angle")) for r in b]
    if not found or len(found[-1]) != 1 or any(len(r) != 3 for r in found[:-1]):
        said = "each line must be length, turn and angle; the last line a length alone"
        raise Refused("points", said)
    try:
        made = lra_to_xyz(
            [r[0] for r in found],
            [r[2] for r in found[:-1]],
            [r[1] for r in found[1:-1]],
            radii_m,
            (0.0, 0.0, 0.0),
            (1.0, 0.0, 0.0),
            (0.0, 0.0, 1.0),
        )
    except Refused as refusal:
        name = "radii" if refusal.field == "radii_m" else "points"
        raise Refused(name, refusal.reason) from None
    return Route([list(v) for v in made.vertices_m], placed=False)


def old_tube(text: str, unit: str, radii_m: list[float], gap_m: float) -> Route:
    """Two or more points along each straight, in order; straights parted by an empty line."""
    straights = rows(text, (unit,) * 3, ("length",) * 3)
    if any(len(p) != 3 for s in straights for p in s):
        said = "each line must be three numbers, straights parted by an empty line"
        raise Refused("points", said)
    if len(straights) < 2 or any(len(s) < 2 for s in straights):
        raise Refused("points", "needs two straights or more, each of at least two points")
    try:
        found = as_removed(straights, radii_m, straights[0][0], straights[-1][-1], gap_m)
    except Refused as refusal:
        name = "radii" if refusal.field == "radii_m" else "points"
        raise Refused(name, refusal.reason) from None
    told = [MISSES[code].format(n) for code, n in found.findings]
    worst = max((*found.gaps_m, *found.residuals_m), default=0.0)
    if told and worst > ROUNDING_M:
        told.append(f"at most {worst * 1e3:.1f} mm")
    return Route([list(v) for v in found.vertices_m], placed=False, findings=told)
