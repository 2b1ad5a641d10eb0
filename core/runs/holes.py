"""The holes that a run goes through, as its builder said them, and what the rule says of them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Any

from core.basis.checks import Check
from core.basis.refused import Refused, positive
from core.basis.rules import DECLARED
from core.basis.verdicts import Verdict, worst
from core.runs import passing
from core.runs.bays import Point
from core.runs.path import Points, corners

RULE = "clearance.pass_throughs"
UNSAID, BARE = "", "none"
GUARDS = {
    "grommet": "a grommet",
    "bulkhead_fitting": "a bulkhead fitting",
    "pass_through": "a pass-through seal",
    "fairlead": "a fairlead",
}
NEAR_M = 0.001
# How far a plate reaches is not asked: wherever the run changes its side counts.
WIDE = ((-1e3, -1e3), (1e3, -1e3), (1e3, 1e3), (-1e3, 1e3))


@dataclass(frozen=True)
class Hole:
    """A round hole by its centre, m: in a plate at a station, or in a rib at a butt line.

    guard: what keeps the run off its edge: one of `GUARDS`, `BARE`, or `UNSAID`.
    """

    id: str
    station_m: float
    y_m: float
    z_m: float
    d_m: float
    guard: str = UNSAID
    rib: bool = False

    @property
    def seen(self) -> Hole:
        """As a plate at a station: a rib with span and length changed over."""
        if not self.rib:
            return self
        return replace(self, station_m=self.y_m, y_m=self.station_m, rib=False)

    @property
    def where(self) -> str:
        """Its plate, in words."""
        line, at = ("butt line", self.y_m) if self.rib else ("station", self.station_m)
        return f"{line} {at * 1e3:g} mm"


def check_holes(pts: Points, holes: Sequence[Hole]) -> None:
    """Refuses (`holes`) a hole without size or name, named twice, or whose plate is not passed."""
    names = [h.id for h in holes]
    for h in holes:
        if not h.id or names.count(h.id) > 1:
            raise Refused("holes", "each needs a name of its own")
        positive(h.d_m, "holes")
        if h.guard not in (UNSAID, BARE, *GUARDS):
            raise Refused("holes", f"{h.id}: {h.guard} is not a guard of an edge")
        if not passing.crossings(_seen(pts, h.rib), h.seen.station_m):
            raise Refused("holes", f"{h.id}: the run does not pass {h.where}")


def _seen(pts: Points, rib: bool) -> list[Point]:
    """The run as `Hole.seen` has its hole."""
    return [(y, x, z) if rib else (x, y, z) for x, y, z in corners(pts)]


def holes_checks(
    pts: Points,
    radius_m: float,
    holes: Sequence[Hole] | None,
    edge_gap_m: float | None,
    origins: dict[str, str],
) -> Iterable[Check]:
    """Whether the run goes through its holes and is kept off their edges: of bulkheads and of
    ribs. holes: None where nobody said whether it goes through any. edge_gap_m: to a bare edge
    that needs no guard."""
    if holes is None:
        unsaid = "Not said which bulkheads and ribs it goes through."
        yield _check("holes", unsaid, Verdict.NOT_MEASURED)
    elif not holes:
        yield _check("holes", "Goes through no bulkhead or rib, as was said.", Verdict.IN)
    for key, rib in (("holes", False), ("ribs", True)):
        these = [h for h in holes or () if h.rib is rib]
        if these:
            yield _one_kind(key, pts, radius_m, these, edge_gap_m, origins)


def _one_kind(
    key: str,
    pts: Points,
    radius_m: float,
    given: Sequence[Hole],
    edge_gap_m: float | None,
    origins: dict[str, str],
) -> Check:
    inputs = inputs_of(pts, radius_m, given, edge_gap_m)
    holes = [h.seen for h in given]
    found = DECLARED[RULE].run(inputs)["value"]
    told = list(_told(holes, found, radius_m, edge_gap_m))
    verdict = worst(v for v, _ in told)
    order = (Verdict.OUT, Verdict.TOO_CLOSE, Verdict.NOT_MEASURED)
    bad = [w for v in order for got, w in told if got is v]
    said = "; ".join(bad or (w for _, w in told))
    return _check(key, f"{said[:1].upper()}{said[1:]}.", verdict, inputs, origins)


def inputs_of(
    pts: Points, radius_m: float, given: Sequence[Hole], edge_gap_m: float | None
) -> dict[str, Any]:
    """Under the names of `clearance.pass_throughs`; holes of one station are in one plate. All
    in bulkheads or all in ribs: of ribs with span and length changed over."""
    line, holes = _seen(pts, given[0].rib), [h.seen for h in given]
    by_station = groupby(sorted(holes, key=lambda h: h.station_m), key=lambda h: h.station_m)
    plates = [(station, list(these)) for station, these in by_station]
    guards = []
    for h in holes:
        met = passing.crossings(line, h.station_m) if h.guard in GUARDS else []
        if met:
            s, _ = min(met, key=lambda c: math.dist(c[1][1:], (h.y_m, h.z_m)))
            guards.append({"s": s, "kind": h.guard})
    return {
        "pts": [list(p) for p in line],
        "bulkheads": [
            {
                "id": ", ".join(h.id for h in these),
                "station": station,
                "outline": [list(c) for c in WIDE],
                "holes": [{"y": h.y_m, "z": h.z_m, "d": h.d_m} for h in these],
            }
            for station, these in plates
        ],
        "supports": guards,
        "radius": radius_m,
        "tol": NEAR_M,
        "edge_gap": edge_gap_m or 0.0,
    }


def _told(
    holes: Sequence[Hole],
    found: Iterable[dict[str, Any]],
    radius: float,
    edge_gap: float | None,
) -> Iterable[tuple[Verdict, str]]:
    """A verdict and words for each crossing of a plate and for each hole that none goes through."""
    used = set()
    for c in found:
        there = [h for h in holes if c["bulkhead"].split(", ").count(h.id)]
        near = min(there, key=lambda h: math.dist(c["point"][1:], (h.y_m, h.z_m)) - h.d_m / 2)
        apart = math.dist(c["point"][1:], (near.y_m, near.z_m)) - near.d_m / 2
        if apart > radius:
            at = f"{c['s'] * 1e3:.0f} mm along it"
            yield Verdict.NOT_MEASURED, f"no hole is said where it passes {near.id}’s plate {at}"
            continue
        used.add(near.id)
        yield _one(near, c, edge_gap)
    for h in holes:
        if h.id not in used:
            yield Verdict.OUT, f"it does not go through {h.id}"


def _one(h: Hole, c: dict[str, Any], edge_gap: float | None) -> tuple[Verdict, str]:
    if c["state"] == passing.NO_HOLE:
        return Verdict.OUT, f"it cuts the edge of {h.id}"
    gap = f"{c['edge_gap'] * 1e3:.1f} mm from the edge of {h.id}"
    if c["state"] == passing.PROTECTED:
        return Verdict.IN, f"{h.id} has {GUARDS[h.guard]}"
    if edge_gap is None:
        guard = "which has no guard" if h.guard == BARE else "not said what guards it"
        return Verdict.NOT_MEASURED, f"{gap}, {guard}; not said how near to a bare edge it may be"
    least = f"at least {edge_gap * 1e3:.1f} mm without a guard"
    if c["state"] == passing.CLEAR:
        return Verdict.IN, f"{gap}, {least}"
    if h.guard == BARE:
        return Verdict.OUT, f"{gap}, which has no guard: {least}"
    return Verdict.NOT_MEASURED, f"{gap}, not said what guards it; {least}"


def _check(
    key: str,
    said: str,
    verdict: Verdict,
    inputs: dict[str, Any] | None = None,
    origins: dict[str, str] | None = None,
) -> Check:
    given = inputs or {}
    return Check(
        key=key,
        what="ribs that it goes through" if key == "ribs" else "holes that it goes through",
        said=said,
        verdict=verdict,
        step="clearance",
        rule=RULE if given else "",
        inputs=given,
        origins={k: (origins or {}).get(k, "entered for this run") for k in given},
        part="holes",
    )
