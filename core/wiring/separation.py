"""What wires keep away from (`wiring.fluid_separation`, `wiring.control_cable_separation`,
`wiring.segregation`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.forms import ABSENT, Named
from core.basis.refused import Refused, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.spans import Line, distance, inside, length, line, merged
from core.wiring.tables import EVEN, INCH_M, at_least
from core.wiring.words import CAUTION, CHAPTER_11, HANDBOOK, HOUSE

CLAMPED_M, CROSSING_M, PREFERRED_M = 0.5 * INCH_M, 2 * INCH_M, 6 * INCH_M
CONTROL_M = 3 * INCH_M
BELOW, LESS = "wire below the line", "less than the preferred separation"


@dataclass(frozen=True)
class Separated:
    """A distance against what is required, m."""

    required_m: Annotated[float, "Least distance."]
    margin_m: Annotated[float, "To it."]
    verdict: Annotated[Verdict, "In where it is kept."]
    remarks: Annotated[tuple[str, ...] | None, "Beside it.", ABSENT] = None


@rule(
    "wiring.fluid_separation",
    title="Wire beside a fluid line",
    purpose="Is the wire far enough from a line with fuel, oil, hydraulic fluid or oxygen?",
    source=CHAPTER_11,
    validity="Surface to surface. The separation clamp never carries the bundle. A direct"
    " connection, such as a sender, is exempt with a reason.",
    caution=CAUTION,
)
def fluid_separation(
    distance_m: Annotated[float, "Surface to surface."],
    above: Annotated[bool, "Whether the wire is above the line."],
    parallel: Annotated[bool, "Whether they run side by side."],
    U_m: Annotated[float, "Of the distance."] = 0.0,
    clamped: Annotated[bool, "Held to it, by the same structure."] = False,
) -> Separated:
    """Half an inch where it is clamped, 2 in where they cross, else 6 in."""
    far, U = not_negative(distance_m, "distance_m"), not_negative(U_m, "U_m")
    required = CLAMPED_M if clamped else PREFERRED_M if parallel else CROSSING_M
    remarks = ([] if above else [BELOW]) + ([LESS] if far < PREFERRED_M - EVEN else [])
    return Separated(required, far - required, at_least(far, U, required), tuple(remarks))


@rule(
    "wiring.control_cable_separation",
    title="Wire beside a control cable",
    purpose="Is the wire far enough from a control cable, or guarded?",
    source=HANDBOOK + " 3 in, or a guard.",
    validity="Distances over the whole of the cable's travel.",
    caution=CAUTION,
)
def control_cable_separation(
    distance_m: Annotated[float, "Least, over the whole travel."],
    U_m: Annotated[float, "Of the distance."] = 0.0,
    guard: Annotated[bool, "Whether a guard keeps them apart."] = False,
    required_m: Annotated[float | None, "Your own."] = None,
) -> Separated:
    """With a guard only contact is out."""
    far, U = not_negative(distance_m, "distance_m"), not_negative(U_m, "U_m")
    own = CONTROL_M if required_m is None else positive(required_m, "required_m")
    required = 0.0 if guard else own
    verdict = Verdict.OUT if guard and far == 0.0 else at_least(far, U, required)
    return Separated(required, far - required, verdict)


@dataclass(frozen=True)
class Run:
    """A wire or bundle and its class."""

    id: Annotated[str, "Its name."]
    of: Annotated[str, "Noisy or sensitive: strobe, audio, sensor …", Named("class")]
    points_m: Annotated[Sequence[Sequence[float]], "Its corners."]
    radius_m: Annotated[float, "Half its thickness."] = 0.0
    bundle: Annotated[str | None, "The bundle it lies in."] = None


@dataclass(frozen=True)
class Apart:
    """Two classes and how far apart they stay."""

    classes: Annotated[tuple[str, str], "Both."]
    least_m: Annotated[float, "Surface to surface."]


@dataclass(frozen=True)
class Between:
    """Two runs whose classes stay apart."""

    runs: Annotated[tuple[str, str], "Sorted."]
    same_bundle: Annotated[bool, "Whether they lie in one."]
    verdict: Annotated[Verdict, "In where they are far enough apart."]
    distance_m: Annotated[float | None, "Surface to surface.", ABSENT] = None
    exposed_m: Annotated[float | None, "Of the sensitive one, within the distance.", ABSENT] = None


@dataclass(frozen=True)
class Segregated:
    """All pairs of runs whose classes stay apart."""

    conflicts: Annotated[tuple[Between, ...], "Those that are out."]
    checked: Annotated[int, "How many."]
    pairs: Annotated[tuple[Between, ...], "All, in the order of the runs."]


@rule(
    "wiring.segregation",
    title="Noisy and quiet wires apart",
    purpose="Which noisy wires come too near to which sensitive ones, and along how much?",
    source="Geometry. The distances are yours, or the equipment maker's. " + HOUSE,
    validity="Other side of the bay, crossing at right angles, twist or shield, an own return:"
    " what is exposed gets less.",
    caution=CAUTION,
)
def segregation(
    runs: Annotated[tuple[Run, ...], "All wires and bundles."],
    pairs: Annotated[tuple[Apart, ...], "Which classes stay apart."],
    sensitive: Annotated[Sequence[str], "Classes that are disturbed."] = (),
) -> Segregated:
    """Refuses names twice, and lines of fewer than two points."""
    if len({r.id for r in runs}) < len(runs):
        raise Refused("runs", "two have the same name")
    least: dict[frozenset[str], float] = {}
    for p in pairs:
        key = frozenset(p.classes)
        least[key] = max(least.get(key, 0.0), not_negative(p.least_m, "least_m"))
    drawn = {r.id: line(r.points_m) for r in runs}
    found = [
        _between(a, b, least[frozenset((a.of, b.of))], drawn, sensitive)
        for a, b in itertools.combinations(runs, 2)
        if frozenset((a.of, b.of)) in least
    ]
    out = tuple(f for f in found if f.verdict is Verdict.OUT)
    return Segregated(out, len(found), tuple(found))


def _between(
    a: Run, b: Run, least: float, drawn: dict[str, Line], sensitive: Sequence[str]
) -> Between:
    names = (min(a.id, b.id), max(a.id, b.id))
    if a.bundle is not None and a.bundle == b.bundle:
        return Between(names, True, Verdict.OUT)
    radii = not_negative(a.radius_m, "radius_m") + not_negative(b.radius_m, "radius_m")
    apart = min(distance(p, q) for p in drawn[a.id] for q in drawn[b.id]) - radii
    quiet, loud = (b, a) if b.of in sensitive and a.of not in sensitive else (a, b)
    exposed = math.fsum(_exposed(drawn[quiet.id], drawn[loud.id], least + radii))
    verdict = Verdict.OUT if apart < least - EVEN else Verdict.IN
    return Between(names, False, verdict, apart, exposed)


def _exposed(quiet: Line, loud: Line, within: float) -> Iterable[float]:
    """Lengths of the quiet line's pieces that lie within a distance of the loud one."""
    for piece in quiet:
        shares = [s for other in loud if (s := inside(piece, other, within)) is not None]
        yield length(piece) * math.fsum(hi - lo for lo, hi in merged(shares))
