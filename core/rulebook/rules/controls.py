"""Rule book: rules of controls whose page asks or answers in another shape than the core.

Everything else is declared beside its function; what stands here only reshapes.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import ABSENT, DEG, FLAT, MM, Unit
from core.basis.refused import Refused
from core.basis.rules import rule
from core.basis.verdicts import Verdict
from core.controls import travel_checks
from core.controls.deflection import Deflection
from core.controls.edge_offset import OffsetUncertainty, TrailingEdge, edge_offset, offset_for
from core.controls.gauge import GaugeReadings, SideUnknown, gauge_difference
from core.controls.included_angle import Fit, Included, included_angle, included_for
from core.controls.swept import SweptGauge, swept_gauge
from core.controls.verdict import Advice, Judged, Measurement, judge_readings, range_of
from core.controls.words import GUM, METROLOGY

ANY_VERDICT = "In, out, too close or not measured."


@dataclass(frozen=True)
class Limits:
    """Limits of an angle, where the result is to be judged."""

    lo: Annotated[float | None, "Low limit, if the result is to be judged.", DEG] = None
    hi: Annotated[float | None, "High limit, if the result is to be judged.", DEG] = None


@dataclass(frozen=True)
class Turned:
    """A deflection with its uncertainty, and the verdict where it was judged."""

    deflection: Annotated[float, "Deflection about the hinge.", DEG]
    u: Annotated[float, "Combined standard uncertainty.", DEG]
    U: Annotated[float, "Expanded uncertainty, 95.45 %.", DEG]
    k: Annotated[float, "Coverage factor."]
    verdict: Annotated[Verdict | None, ANY_VERDICT, ABSENT] = None


def turned(d: Deflection) -> Turned:
    """A deflection as the page shows it."""
    return Turned(d.value, d.combined.u, d.combined.U, d.combined.k, d.verdict)


@dataclass(frozen=True)
class Candidates:
    """A side was not said: what the deflection could be."""

    candidates: Annotated[tuple[float, float], "What it could be, a side missing.", DEG]
    verdict: Annotated[Verdict, ANY_VERDICT] = Verdict.NOT_MEASURED


@rule(
    "controls.gauge_difference",
    title="Deflection from two gauge readings",
    purpose="The angle between neutral and a position, from readings of an angle gauge whose face"
    " may turn over or show no sign.",
    edition=2,
    source=GUM,
    validity="Gravity gauges serve hinge lines near level, not a rudder. Take the gauge off and set"
    " it again between repeats, or the spread shows nothing.",
    caution="A face without sign cannot tell up from down: give the side that was read.",
)
def by_gauge(g: GaugeReadings, limits: Limits) -> Turned | Candidates:
    """`gauge_difference` as the page has it."""
    found = gauge_difference(g, limits.lo, limits.hi)
    return Candidates(found.candidates) if isinstance(found, SideUnknown) else turned(found)


@dataclass(frozen=True)
class Swept:
    """The deflection about a swept hinge, and what a plain difference would say."""

    found: Annotated[Turned, FLAT]
    naive: Annotated[float, "Plain difference of the two readings.", DEG]


@rule(
    "controls.swept_gauge",
    title="Deflection of a swept hinge from a stream-wise gauge",
    purpose="The angle about a swept or canted hinge from a gauge in the fore-and-aft plane.",
    source="Rotation of a line or plane about a skew axis; " + GUM,
    validity="The skin must contain the hinge direction; on a strongly tapered one measure"
    " square to"
    " the hinge. The deflection is larger than the reading.",
    caution="Say which practice was used: the two differ by tenths of a degree.",
)
def by_swept_gauge(g: SweptGauge, limits: Limits) -> Swept:
    """`swept_gauge` as the page has it."""
    found = swept_gauge(g, limits.lo, limits.hi)
    return Swept(turned(found.deflection), found.naive)


@dataclass(frozen=True)
class Edge:
    """The deflection that an offset shows."""

    found: Annotated[Turned, FLAT]
    per_mm_offset_deg: Annotated[float, "Degrees for each mm.", Unit("°/mm", DEG.per_si / 1e3)]


@dataclass(frozen=True)
class EdgeFor:
    """The offset that shows a deflection."""

    offset: Annotated[float, "The offset that shows the deflection.", MM]


@rule(
    "controls.edge_offset",
    title="Deflection from the trailing edge's offset",
    purpose="The angle from a ruler or tape at the trailing edge; or the offset for an angle.",
    source="Motion on a circle about the hinge; " + GUM,
    validity="Up to 90°, and only where the edge does not turn back. The result has no sign.",
    caution="The same offset means different angles by practice: never record one without it.",
)
def by_edge(
    edge: TrailingEdge,
    u: OffsetUncertainty,
    limits: Limits,
    offset: Annotated[float | None, "How far the edge moved.", MM] = None,
    deflection: Annotated[float | None, "Instead of the offset: 0 to 90.", DEG] = None,
) -> Edge | EdgeFor:
    """`edge_offset`, and its inverse."""
    if deflection is not None and offset is None:
        return EdgeFor(offset_for(edge, deflection))
    if offset is None or deflection is not None:
        raise Refused("offset", "give either the offset or the deflection")
    found = edge_offset(edge, offset, u, limits.lo, limits.hi)
    return Edge(turned(found.deflection), found.per_offset)


@dataclass(frozen=True)
class IncludedFor:
    """The included angle that shows a deflection."""

    included: Annotated[float, "The included angle that shows the deflection.", DEG]


@rule(
    "controls.included_angle",
    title="Deflection from the included angle",
    purpose="The angle from a template between fixed and moving skin; or the template's angle.",
    source="Plane angles; " + GUM,
    validity="The template must stand square to the hinge line. On curved skin use the stations and"
    " arm lengths of the drawing.",
    caution="Without the neutral angle only the drawing's own angle can be checked.",
)
def by_included_angle(
    skins: Included,
    fit: Fit,
    limits: Limits,
    included: Annotated[float | None, "Included angle now, 45 to 315.", DEG] = None,
    deflection: Annotated[float | None, "Instead of the included angle.", DEG] = None,
) -> Turned | IncludedFor:
    """`included_angle`, and its inverse."""
    if deflection is not None and included is None:
        return IncludedFor(included_for(skins, deflection))
    if included is None or deflection is not None:
        raise Refused("included", "give either the included angle or the deflection")
    return turned(included_angle(skins, included, fit, limits.lo, limits.hi))


@dataclass(frozen=True)
class Asked:
    """What is asked: limits, or a nominal value with tolerances."""

    lo: Annotated[float | None, "Low limit, or null."] = None
    hi: Annotated[float | None, "High limit, or null."] = None
    nominal: Annotated[float | None, "Instead of limits: the value asked for."] = None
    tol_plus: Annotated[float | None, "Tolerance above nominal."] = None
    tol_minus: Annotated[float | None, "Tolerance below nominal."] = None

    def limits(self) -> tuple[float | None, float | None]:
        """Both limits. Refuses limits beside a nominal, and one without its tolerances."""
        if self.nominal is None:
            return self.lo, self.hi
        if self.lo is not None or self.hi is not None:
            raise Refused("nominal", "give either the limits or nominal with tolerances")
        if self.tol_plus is None or self.tol_minus is None:
            missing = "tol_plus" if self.tol_plus is None else "tol_minus"
            raise Refused(missing, "is needed with nominal")
        return range_of(self.nominal, self.tol_plus, self.tol_minus)


@dataclass(frozen=True)
class Verdicted:
    """A value against its limits, with what would settle it."""

    y: Annotated[float, "The value judged."]
    n: Annotated[int, "How many readings."]
    u: Annotated[float, "Combined standard uncertainty."]
    nu_eff: Annotated[float | None, "Effective degrees of freedom, null if infinite."]
    k: Annotated[float, "Coverage factor."]
    U: Annotated[float, "Expanded uncertainty, 95.45 %."]
    margin: Annotated[float, "Least distance to a limit, negative outside."]
    verdict: Annotated[Verdict, ANY_VERDICT]
    p_inside: Annotated[float, "Probability that the value lies inside."]
    single: Annotated[bool, "One reading: spread not known."]
    spread_flag: Annotated[bool, "The readings spread more than the instrument explains."]
    can_never_be_in: Annotated[bool | None, "The range is narrower than 2 U.", ABSENT]
    advice: Annotated[Advice | None, FLAT]


@dataclass(frozen=True)
class Unread:
    """No reading yet."""

    verdict: Annotated[Verdict, ANY_VERDICT] = Verdict.NOT_MEASURED


@rule(
    "controls.verdict",
    title="A requirement against readings",
    purpose="Is the value in, out or too close to call, and what would settle it?",
    source=METROLOGY,
    validity="One unit throughout. Averaging never reduces the instrument's own error. Two readings"
    " have one degree of freedom: take four.",
    caution="In is about this measurement; the maker's limits and an inspector's judgement stand"
    " above it.",
)
def verdict(asked: Asked, m: Measurement) -> Verdicted | Unread:
    """`judge_readings` as the page has it."""
    lo, hi = asked.limits()
    found = judge_readings(m, lo, hi)
    return Unread() if found is None else _verdicted(found)


def _verdicted(j: Judged) -> Verdicted:
    c = j.combined
    never = True if j.can_never_be_in else None
    return Verdicted(
        *(j.y, j.n, c.u, c.nu_eff, c.k, c.U, j.margin, j.verdict, j.p_inside),
        *(j.single, j.spread_flag, never, j.advice),
    )


@dataclass(frozen=True)
class Difference:
    """Left less right."""

    difference: Annotated[float, "Left minus right.", DEG]
    U: Annotated[float, "Expanded uncertainty.", DEG]
    verdict: Annotated[Verdict, ANY_VERDICT]


@rule(
    "controls.symmetry",
    title="Left against right",
    purpose="Do both sides travel alike?",
    source=METROLOGY,
    validity="Both sides measured the same way, from each side's own neutral.",
)
def symmetry(
    left: Annotated[float, "Left travel, without sign.", DEG],
    right: Annotated[float, "Right travel, without sign.", DEG],
    tol: Annotated[float, "Greatest difference allowed.", DEG],
    u_left: Annotated[float, "Standard uncertainty, left.", DEG] = 0.0,
    u_right: Annotated[float, "Standard uncertainty, right.", DEG] = 0.0,
) -> Difference:
    """`travel_checks.symmetry` as the page has it."""
    c = travel_checks.symmetry(left, right, tol, u_left, u_right)
    return Difference(c.value, c.U, c.verdict)


@dataclass(frozen=True)
class Ratio:
    """Up over down."""

    ratio: Annotated[float, "Up over down."]
    U: Annotated[float, "Expanded uncertainty."]
    verdict: Annotated[Verdict, ANY_VERDICT]


@rule(
    "controls.ratio",
    title="Differential: up over down",
    purpose="Is the differential what the drawing asks?",
    source=METROLOGY,
    validity="First-order propagation: for uncertainties small against the angles.",
)
def ratio(
    up: Annotated[float, "Up travel, over 0.", DEG],
    down: Annotated[float, "Down travel, over 0.", DEG],
    lo: Annotated[float | None, "Low limit of the ratio."] = None,
    hi: Annotated[float | None, "High limit of the ratio."] = None,
    u_up: Annotated[float, "Standard uncertainty, up.", DEG] = 0.0,
    u_down: Annotated[float, "Standard uncertainty, down.", DEG] = 0.0,
) -> Ratio:
    """`travel_checks.ratio` as the page has it."""
    c = travel_checks.ratio(up, down, lo, hi, u_up, u_down)
    return Ratio(c.value, c.U, c.verdict)


@dataclass(frozen=True)
class Repeated:
    """Neutral from both sides."""

    hysteresis: Annotated[float, "From above minus from below.", DEG]
    U: Annotated[float, "Expanded uncertainty.", DEG]
    k: Annotated[float, "Coverage factor."]
    neutral: Annotated[float, "Mean of both.", DEG]
    verdict: Annotated[Verdict, ANY_VERDICT]


@rule(
    "controls.repeatability",
    title="Neutral from above and from below",
    purpose="Does the surface come back to the same neutral from either side?",
    source=METROLOGY,
    validity="The instrument stays on the surface between approaches: its accuracy cancels.",
    caution="High hysteresis is friction or play: mend that before rigging.",
)
def repeatability(
    from_above: Annotated[tuple[float, ...], "Neutral, coming from above (two or more).", DEG],
    from_below: Annotated[tuple[float, ...], "Neutral, coming from below (two or more).", DEG],
    limit: Annotated[float, "Greatest difference allowed.", DEG],
    resolution: Annotated[float, "One step of the display.", DEG] = 0.0,
) -> Repeated:
    """`travel_checks.repeatability` as the page has it."""
    r = travel_checks.repeatability(from_above, from_below, limit, resolution)
    return Repeated(r.hysteresis, r.combined.U, r.combined.k, r.neutral, r.verdict)
