"""What a bundle comes near to, out of the ways themselves: tubes, control cables, other bundles."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict
from core.runs.beside import TUBE, Beside
from core.wiring.harness import BUNDLE, Harness, Row
from core.wiring.separation import PREFERRED_M
from core.wiring.spans import Point, line, nearest
from core.worksheets.kinds import known_to, lacking, run, said, unsaid

FLUID, CONTROL, CLASSES = (
    "wiring.fluid_separation", "wiring.control_cable_separation", "wiring.segregation",
)  # fmt: skip
THICK = "wiring.bundle_diameter"
# A tube of which nobody said what it carries counts as one with fluid.
DRY = ("pitot", "static", "vacuum")
# Side by side below this angle: more and they cross.
CROSSES_RAD = math.radians(45.0)
# What lies farther away than this is not told.
TOLD_M = 2.0 * PREFERRED_M
DRAWN = "the ways as entered, less half of each thickness"


def thickness(b: Row, wires: Sequence[Row]) -> tuple[dict[str, Any], dict[str, Any]] | None:
    """What its thickness follows from, and what the rule says; None while a diameter is open."""
    if not wires or not all("od_m" in w.values for w in wires):
        return None
    inputs: dict[str, Any] = {"od_m": [w.values["od_m"] for w in wires]}
    inputs |= {k: b.values[k] for k in ("wrap_m", "conduit_id_m") if k in b.values}
    return inputs, run(THICK, inputs)


@dataclass(frozen=True)
class Near:
    """Where a bundle and something beside it come nearest. gap_m: from surface to surface."""

    gap_m: float
    at: Point
    other: Point
    angle_rad: float
    where: str = ""

    @property
    def above(self) -> bool:
        """Whether the bundle is the higher one there."""
        return self.at[2] > self.other[2]


def nearest_to(b: Row, radius: float, one: Beside) -> Near:
    """Of all positions that are looked at, the nearest."""
    way = line(b.way_m)
    found = []
    for n, other in enumerate(one.ways):
        far, p, q, angle = nearest(way, line(other))
        where = one.moves[n] if n < len(one.moves) else ""
        found.append(Near(max(0.0, far - radius - (one.radius_m or 0.0)), p, q, angle, where))
    return min(found, key=lambda x: x.gap_m)


def near_checks(h: Harness, b: Row, radius: float | None) -> Iterable[Check]:
    """Each tube and cable that a bundle comes near to, and bundles whose classes stay apart.
    radius: half of its thickness; None: not known, and taken as nothing for the telling."""
    if not b.way_m:
        return
    missing = [] if radius is not None else ["the diameters of its wires"]
    for one in h.beside:
        if one.kind == TUBE and one.service in DRY:
            continue
        near = nearest_to(b, radius or 0.0, one)
        if near.gap_m <= TOLD_M:
            yield _beside(b, one, near, missing)
    yield from _classes(h, b, radius, missing)


def _beside(b: Row, one: Beside, near: Near, missing: list[str]) -> Check:
    inputs: dict[str, Any] = {"distance_m": near.gap_m}
    if "way_U_m" in b.values:
        inputs["U_m"] = b.values["way_U_m"]
    if one.kind == TUBE:
        inputs |= {"above": near.above, "parallel": near.angle_rad < CROSSES_RAD}
        inputs["clamped"] = _named(b, "held_to", one.name)
        rule = FLUID
    else:
        inputs["guard"] = _named(b, "guarded", one.name)
        if "cable_gap_m" in b.values:
            inputs["required_m"] = b.values["cable_gap_m"]
        rule = CONTROL
    found = run(rule, inputs)
    words = f"{near.gap_m * 1e3:.0f} mm at station {near.at[0] * 1e3:.0f}"
    words += f", {near.where}" if near.where else ""
    least = found["required_m"] * 1e3
    words += f"; at least {least:.0f} mm." if least else "; a guard is between."
    if found.get("remarks"):
        words += f" Mind: {'; '.join(found['remarks'])}."
    # Thinner than it is it is out already.
    thin = [] if found["verdict"] == Verdict.OUT else missing
    unknown = [*thin, *lacking(inputs, ("U_m", "its way"))]
    verdict, words = known_to(Verdict(found["verdict"]), words, unknown)
    check = said(f"near {one.kind} {one.slug}", f"{b.name}: beside {one.name}", words, verdict,
                 rule, inputs, step="clearance", quiet=verdict is Verdict.IN)  # fmt: skip
    origin = dict.fromkeys(inputs, "entered for the harness")
    origin |= {"distance_m": DRAWN, "above": DRAWN, "parallel": DRAWN}
    if "required_m" in inputs and b.cited:
        origin["required_m"] = b.cited
    return replace(check, at=near.at, origins={k: origin[k] for k in inputs})


def _named(b: Row, field: str, name: str) -> bool:
    """Whether a list of names has this one: whole, or the cable's without its control."""
    listed = {str(n).casefold() for n in b.values.get(field, ())}
    return bool(listed & {name.casefold(), name.rpartition(": ")[2].casefold()})


def _classes(h: Harness, b: Row, radius: float | None, missing: list[str]) -> Iterable[Check]:
    """Other bundles that hold a class which stays apart from one in this."""
    pairs = [[x.strip().casefold() for x in p.split("/")] for p in b.values.get("apart", ())]
    own = _held(h, b)
    for other in h.of(BUNDLE):
        if other.slug == b.slug or not other.way_m:
            continue
        theirs = _held(h, other)
        for one, two in pairs:
            for mine, its in ((one, two), (two, one)):
                if mine in own and its in theirs:
                    yield _apart(h, b, other, mine, its, radius, missing)


def _held(h: Harness, b: Row) -> set[str]:
    return {str(w.values.get("class", "")).casefold() for w in h.wires_in(b)} - {""}


def _apart(h: Harness, b: Row, other: Row, mine: str, its: str, radius: float | None,
           missing: list[str]) -> Check:  # fmt: skip
    what, key = f"{b.name}: {mine} from {its} in {other.name}", f"class {other.slug} {mine} {its}"
    if "apart_by_m" not in b.values:
        return unsaid(key, what, f"how far {mine} and {its} stay apart")
    thick = thickness(other, h.wires_in(other))
    if thick is None:
        missing = [*missing, f"the diameters of the wires in {other.name}"]
    its_radius = 0.0 if thick is None else thick[1]["diameter_m"] / 2.0
    runs = [
        {"id": b.slug, "class": mine, "points_m": b.way_m, "radius_m": radius or 0.0},
        {"id": other.slug, "class": its, "points_m": other.way_m, "radius_m": its_radius},
    ]
    inputs = {"runs": runs, "pairs": [{"classes": [mine, its], "least_m": b.values["apart_by_m"]}]}
    (found,) = run(CLASSES, inputs)["pairs"]
    words = (
        f"{found['distance_m'] * 1e3:.0f} mm at the nearest, at least"
        f" {b.values['apart_by_m'] * 1e3:.0f} mm"
    )
    if found["exposed_m"]:
        words += f"; {found['exposed_m'] * 1e3:.0f} mm of it lie nearer"
    verdict = Verdict(found["verdict"])
    # Thinner than they are it is out already.
    missing = [] if verdict is Verdict.OUT else missing
    verdict, words = known_to(verdict, f"{words}.", missing)
    check = said(key, what, words, verdict, CLASSES, inputs, step="clearance",
                 quiet=verdict is Verdict.IN)  # fmt: skip
    return replace(check, origins={"runs": DRAWN, "pairs": b.cited or "entered for the harness"})
