"""Supports, clamps, flares and sealing compound (`lines.support_spacing`, `lines.clamp_size`,
`lines.flare_torque`, `lines.sealant`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.quantities import to_si
from core.basis.refused import Refused, choice, finite, not_negative, positive
from core.basis.verdicts import Verdict, judge
from core.lines.tables import INCH_M, MATERIALS, ROUNDING_M, SIXTEENTH_M, column
from core.lines.words import CHAPTER_9, TABLE_9_2, TABLE_9_3

HOSE_SPACING_M = 24 * INCH_M
FLARES = (37, 45)
EXACT_M = 1e-5


@dataclass(frozen=True)
class Spacing:
    """Spans between supports, m."""

    max_spacing_m: Annotated[float, "Greatest span allowed."]
    spans_m: Annotated[tuple[float, ...], "Between supports, ends counted."]
    worst_span_m: Annotated[float, "The longest."]
    add_at_m: Annotated[tuple[float, ...], "Where clamps are missing."]
    verdict: Annotated[Verdict, "In where no span is too long."]


@rule(
    "lines.support_spacing",
    title="Is the line held often enough?",
    purpose="Spans between clamps against the greatest allowed, and where clamps are missing.",
    source=TABLE_9_3 + " Hose at least every 24 in: FAA-H-8083-31.",
    validity="1/8 to 1 in; the end fittings count as supports.",
    caution="Also support each bend that hangs, and heavy fittings (AC 43.13-1B ch. 9 s. 2).",
)
def support_spacing(
    od_m: Annotated[float, "Outside diameter."],
    material: Annotated[Literal["aluminium", "steel", "hose"], "Of the line."],
    support_positions_m: Annotated[Sequence[float], "Along the line, rising."],
    length_m: Annotated[float, "Of the line."],
    max_spacing_m: Annotated[float | None, "The maker's greatest span, instead."] = None,
) -> Spacing:
    """Spans over the limit get equally spaced clamps. Refuses supports off the line."""
    long = positive(length_m, "length_m")
    least = positive(max_spacing_m, "max_spacing_m") if max_spacing_m is not None else None
    limit = _span(positive(od_m, "od_m"), material) if least is None else least
    at = [finite(x, "support_positions_m") for x in support_positions_m]
    for before, x in zip([None, *at], at, strict=False):
        if not 0.0 <= x <= long:
            raise Refused("support_positions_m", "a support lies off the line")
        if before is not None and x <= before:
            raise Refused("support_positions_m", "must rise")
    ends = [0.0, *at, long]
    spans = [b - a for a, b in itertools.pairwise(ends)]
    added = [
        a + k * span / pieces
        for a, span in zip(ends, spans, strict=False)
        if span > limit + ROUNDING_M
        for pieces in (math.ceil(span / limit - ROUNDING_M),)
        for k in range(1, pieces)
    ]
    verdict = Verdict.OUT if added else Verdict.IN
    return Spacing(limit, tuple(spans), max(spans), tuple(added), verdict)


def _span(od: float, material: str) -> float:
    """The built-in span: the row of that size, or the next smaller one."""
    if material == "hose":
        return HOSE_SPACING_M
    rows = column("spacing", choice(material, MATERIALS, "material"))
    if not rows[0][0] - ROUNDING_M <= od <= rows[-1][0] + ROUNDING_M:
        raise Refused("od_m", "outside the built-in rows, 1/8 to 1 in")
    return float(max(r for r in rows if r[0] <= od + ROUNDING_M)[1]) * INCH_M


@dataclass(frozen=True)
class Clamp:
    """Which cushioned clamp, and whether this one is it."""

    diameter_m: Annotated[float, "What it holds."]
    sixteenths: Annotated[float, "The same for ordering, in sixteenths of an inch."]
    difference_m: Annotated[float | None, "Bore less what it holds."]
    finding: Annotated[str | None, "loose, crushes or none; null: no clamp yet."]


@rule(
    "lines.clamp_size",
    title="Which clamp?",
    purpose="What bore holds this line in its sleeve, and does this clamp fit?",
    source="Geometry; the tolerance is this product's assumption.",
    validity="The bore is that of the closed cushion.",
    caution="A loose clamp saws through the line; a tight one marks it.",
)
def clamp_size(
    od_m: Annotated[float, "Outside diameter."],
    sleeve_thickness_m: Annotated[float, "Of what is slid over it."] = 0.0,
    clamp_bore_m: Annotated[float | None, "Of the closed cushion."] = None,
    tolerance_m: Annotated[float, "How far they may differ."] = 0.0004,
) -> Clamp:
    """Diameter with sleeve, and the finding on a clamp."""
    hold = positive(od_m, "od_m") + 2 * not_negative(sleeve_thickness_m, "sleeve_thickness_m")
    slack = not_negative(tolerance_m, "tolerance_m")
    if clamp_bore_m is None:
        return Clamp(hold, hold / SIXTEENTH_M, None, None)
    off = positive(clamp_bore_m, "clamp_bore_m") - hold
    finding = "loose" if off > slack + 1e-9 else "crushes" if off < -slack - 1e-9 else "none"
    return Clamp(hold, hold / SIXTEENTH_M, off, finding)


@dataclass(frozen=True)
class FlareTorque:
    """The window of a flared nut, N·m, and where the measured torque is in it."""

    min_Nm: Annotated[float, "Least."]
    max_Nm: Annotated[float, "Greatest."]
    verdict: Annotated[Verdict, "Of the measured torque; not measured without one."]


@rule(
    "lines.flare_torque",
    title="Torque of a flared nut",
    purpose="How tight is a flared fitting, and do tube and fitting match?",
    source=TABLE_9_2 + " Both flares: SAE J533.",
    validity="Built in: 37°, steel tube of 1/4, 3/8 and 1/2 in. All others are entered.",
    caution="Dry or lubricated as the maker says. Over-torque does not cure a leak, it splits the"
    " flare: slacken, inspect, re-make; never seal a flare. Soft thin-wall aluminium tube up to"
    " 3/8 in takes a double flare (AC 43.13-1B ch. 9).",
)
def flare_torque(
    od_m: Annotated[float, "Outside diameter."],
    material: Annotated[Literal["aluminium", "steel"], "Of the tube."],
    fitting_flare_deg: Annotated[float, "37 or 45."],
    tube_flare_deg: Annotated[float, "The same as the fitting's."],
    measured_Nm: Annotated[float | None, "As torqued."] = None,
    u_Nm: Annotated[float, "Its standard uncertainty."] = 0.0,
    min_Nm: Annotated[float | None, "Entered window, with its source."] = None,
    max_Nm: Annotated[float | None, "Entered window."] = None,
    source: Annotated[str | None, "Where the window stands."] = None,
) -> FlareTorque:
    """The window and the verdict. Refuses flares that differ, and a size without a figure."""
    od = positive(od_m, "od_m")
    for name, flare in (
        ("fitting_flare_deg", fitting_flare_deg),
        ("tube_flare_deg", tube_flare_deg),
    ):
        if finite(flare, name) not in FLARES:
            raise Refused(name, "must be 37 or 45")
    if fitting_flare_deg != tube_flare_deg:
        raise Refused("tube_flare_deg", "a 45° and a 37° flare touch on a line, leak and crack")
    low, high = _window(od, material, fitting_flare_deg, min_Nm, max_Nm, source)
    u = not_negative(u_Nm, "u_Nm")
    if measured_Nm is None:
        return FlareTorque(low, high, Verdict.NOT_MEASURED)
    return FlareTorque(low, high, judge(positive(measured_Nm, "measured_Nm"), 2 * u, low, high))


def _window(
    od: float,
    material: str,
    flare: float,
    low: float | None,
    high: float | None,
    source: str | None,
) -> tuple[float, float]:
    if low is not None or high is not None:
        if low is None or high is None:
            raise Refused("min_Nm" if low is None else "max_Nm", "a window needs both ends")
        if not (source or "").strip():
            raise Refused("source", "say where the window stands")
        if positive(high, "max_Nm") < positive(low, "min_Nm"):
            raise Refused("max_Nm", "is below the low end")
        return low, high
    rows = _built_in() if flare == 37 and material == "steel" else {}
    for size, (a, b) in rows.items():
        if abs(od - size) <= EXACT_M:
            return to_si(a, "inlb", "torque"), to_si(b, "inlb", "torque")
    raise Refused("material", "no built-in torque: enter it with its source")


def _built_in() -> dict[float, tuple[float, float]]:
    """Built-in torque of steel tube by its diameter, lbf·in."""
    return dict(column("torque", "steel"))


SYSTEMS = ("fuel", "oil", "brake", "coolant", "instrument", "vacuum")
COMPOUNDS = ("none", "tape", "paste")
# Fitting -> compound on the thread, how sure, cautions.
SEALING: dict[str, tuple[bool, str, tuple[str, ...]]] = {
    "pipe": (
        True,
        "certain",
        (
            "from the second thread on, never on the first",
            "only a compound named for the fluid",
        ),
    ),
    "o_ring": (
        False,
        "certain",
        ("the ring seals: a new ring, wet with the system's fluid",),
    ),
    "flare": (False, "certain", ("metal seals on metal: never seal a flare",)),
    "bite": (False, "certain", ("the pre-set sleeve seals: inspect its bite",)),
    "banjo": (False, "certain", ("new crush washers each time, both faces clean",)),
    "barb": (False, "practice", ("the hose seals: clamp behind the bead",)),
}


@dataclass(frozen=True)
class Sealing:
    """Whether compound belongs on a thread, and whether this one may be there."""

    used: Annotated[bool, "Compound belongs on the thread."]
    verdict: Annotated[Verdict, "Of this compound in this system."]
    reason: Annotated[
        str | None, "no_compound_here, compound_needed, tape_shreds, not_named_for_system."
    ]
    not_allowed: Annotated[tuple[str, ...], "Compounds that would be out."]
    cautions: Annotated[tuple[str, ...], "In words."]
    sure: Annotated[str, "certain, or practice."]


@rule(
    "lines.sealant",
    title="Sealing compound by fitting",
    purpose="What seals this fitting, and may this compound be in this system?",
    source=CHAPTER_9 + " The compound's data sheet names its systems.",
    validity="Oxygen: only as its maker says.",
    caution="Shreds of tape block valves, jets and instruments.",
)
def sealant(
    fitting: Annotated[Literal["pipe", "o_ring", "flare", "bite", "banjo", "barb"], "Its kind."],
    system: Annotated[
        Literal["fuel", "oil", "brake", "coolant", "instrument", "vacuum"], "What is in it."
    ],
    compound: Annotated[Literal["none", "tape", "paste"], "On the thread."] = "none",
    rated_for: Annotated[tuple[str, ...], "Systems named in its data sheet."] = (),
) -> Sealing:
    """The first reason that applies. Refuses unknown words."""
    choice(fitting, tuple(SEALING), "fitting")
    choice(system, SYSTEMS, "system")
    choice(compound, COMPOUNDS, "compound")
    for named in rated_for:
        choice(named, SYSTEMS, "rated_for")
    used, sure, cautions = SEALING[fitting]
    verdict, reason = _sealed(used, system, compound, rated_for)
    out = tuple(sorted(c for c in COMPOUNDS if _sealed(used, system, c, SYSTEMS)[0] is Verdict.OUT))
    return Sealing(used, verdict, reason, out, cautions, sure)


def _sealed(
    used: bool, system: str, compound: str, rated: Sequence[str]
) -> tuple[Verdict, str | None]:
    if not used:
        here = compound == "none"
        return (Verdict.IN, None) if here else (Verdict.OUT, "no_compound_here")
    if compound == "none":
        return Verdict.OUT, "compound_needed"
    if compound == "tape" and system in ("fuel", "instrument"):
        return Verdict.OUT, "tape_shreds"
    if system not in rated:
        return Verdict.NOT_MEASURED, "not_named_for_system"
    return Verdict.IN, None
