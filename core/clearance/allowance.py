"""How far a line may hang, be pushed or swing beside where it was measured: an allowance to its
radius (`clearance.slack_reach`, `taut_push`, `beam_sag`, `span_allowance`,
`segment_allowances`)."""

from __future__ import annotations

import itertools
import math
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from typing import Annotated

from core.basis.forms import Named, Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.clearance.words import CAUTION
from core.runs.path import Points, corners, distances, turning

# Beyond this share of its span the formulas of small sag hold no more.
SMALL = 0.05
ALONG_M = 1e-9
TOO_MUCH = "would sag by more than 5 % of it: the formula holds no more"
Row = Sequence[float]
Table = Annotated[Sequence[Row], "Rows [span m, allowance m]; measured: push it and see."]


@rule(
    "clearance.slack_reach",
    title="Where a slack line can get to",
    purpose="How far from straight can a line be, that is longer than its span?",
    source="The points whose distances to both supports add up to the length: a spheroid.",
    validity="Held at both supports; at a support it still goes on past it.",
    caution=CAUTION,
)
def slack_reach(
    span: Annotated[float, "Between the supports.", Unit("m")],
    length: Annotated[float, "Of the line between them.", Unit("m")],
    x: Annotated[float, "From one support.", Unit("m")],
) -> Annotated[float, "Sideways there.", Named("value"), Unit("m")]:
    """Sideways reach, m. Refuses a length below the span (`length`) and a place outside (`x`)."""
    straight, long = positive(span, "span"), positive(length, "length")
    if long < straight:
        raise Refused("length", "is less than the span")
    if not 0.0 <= finite(x, "x") <= straight:
        raise Refused("x", "must lie between the supports")
    half = long / 2.0
    across = 0.5 * math.sqrt((long - straight) * (long + straight))
    return across * math.sqrt(max(0.0, 1.0 - ((x - straight / 2.0) / half) ** 2))


@rule(
    "clearance.taut_push",
    title="How far a cable can be pushed aside",
    purpose="How far does a tensioned cable give at mid-span, pushed and under load?",
    source="Equilibrium of a taut string: F L / 4 T + n w L² / 8 T.",
    validity="Up to 5 % of the span; take the lowest tension that it ever has.",
    caution=CAUTION,
)
def taut_push(
    span: Annotated[float, "Between the supports.", Unit("m")],
    tension: Annotated[float, "Lowest: the coldest day, the slack side.", Unit("N")],
    force: Annotated[float, "Sideways at mid-span.", Unit("N")],
    weight_per_m: Annotated[float, "Of the cable.", Unit("N/m")] = 0.0,
    load_factor: Annotated[float, "In gusts and turns."] = 1.0,
) -> Annotated[float, "At mid-span.", Named("value"), Unit("m")]:
    """Sideways, m. Refuses where the formula holds no more (`span`)."""
    long, taut = positive(span, "span"), positive(tension, "tension")
    pushed = not_negative(force, "force") * long / (4.0 * taut)
    load = not_negative(load_factor, "load_factor") * not_negative(weight_per_m, "weight_per_m")
    return _small(pushed + load * long**2 / (8.0 * taut), long)


@rule(
    "clearance.beam_sag",
    title="How far a tube or rod sags",
    purpose="How far does a tube or rod between two supports bend under its weight?",
    source="Simply supported beam: 5 n w L⁴ / 384 E I.",
    validity="Up to 5 % of the span; not for rods in compression near buckling.",
    caution=CAUTION,
)
def beam_sag(
    span: Annotated[float, "Between the supports.", Unit("m")],
    weight_per_m: Annotated[float, "With what is in it.", Unit("N/m")],
    E: Annotated[float, "Modulus of elasticity.", Unit("Pa")],
    outer_d: Annotated[float, "Outside diameter.", Unit("m")],
    inner_d: Annotated[float, "Inside diameter; 0: solid.", Unit("m")],
    load_factor: Annotated[float, "In gusts and turns."],
) -> Annotated[float, "At mid-span.", Named("value"), Unit("m")]:
    """Sag, m. Refuses a wall of none (`inner_d`) and where the formula holds no more (`span`)."""
    long, weight = positive(span, "span"), not_negative(weight_per_m, "weight_per_m")
    stiff, outer = positive(E, "E"), positive(outer_d, "outer_d")
    inner, n = not_negative(inner_d, "inner_d"), not_negative(load_factor, "load_factor")
    if inner >= outer:
        raise Refused("inner_d", "must be less than the outside diameter")
    second = math.pi * (outer**4 - inner**4) / 64.0
    if stiff * second == 0.0:
        raise Refused("outer_d", "is too small for a tube")
    return _small(5.0 * n * weight * long**4 / (384.0 * stiff * second), long)


def _small(sag: float, span: float) -> float:
    if sag > SMALL * span:
        raise Refused("span", TOO_MUCH)
    return sag


@rule(
    "clearance.span_allowance",
    title="Your allowance for a span",
    purpose="How far may a line of this span swing, by your own table?",
    source="Your table, straight between its rows; none is shipped.",
    validity="Within the table.",
    caution=CAUTION,
)
def span_allowance(
    table: Table, span: Annotated[float, "Between supports.", Unit("m")]
) -> Annotated[float, "Sideways at mid-span.", Named("value"), Unit("m")]:
    """Between the rows, m. Refuses under two rows or equal spans (`table`), and a span outside
    (`span`)."""
    return _read(_rows(table), not_negative(span, "span"))


def _rows(table: Table) -> list[tuple[float, float]]:
    if len(table) < 2:
        raise Refused("table", "needs at least two rows")
    rows = []
    for row in table:
        if not isinstance(row, (list, tuple)) or len(row) != 2:
            raise Refused("table", "must be rows of span and allowance")
        rows.append((not_negative(row[0], "table"), not_negative(row[1], "table")))
    rows.sort()
    if any(a[0] == b[0] for a, b in itertools.pairwise(rows)):
        raise Refused("table", "has one span twice")
    return rows


def _read(rows: Sequence[tuple[float, float]], span: float) -> float:
    spans = [r[0] for r in rows]
    if not spans[0] - ALONG_M <= span <= spans[-1] + ALONG_M:
        said = f"of {span:.6g} m lies outside the table ({spans[0]:g} to {spans[-1]:g} m)"
        raise Refused("span", said)
    n = min(max(bisect_left(spans, span), 1), len(rows) - 1)
    (x0, y0), (x1, y1) = rows[n - 1], rows[n]
    return y0 + (y1 - y0) * (min(max(span, x0), x1) - x0) / (x1 - x0)


@rule(
    "clearance.segment_allowances",
    title="Allowance along a run",
    purpose="How far may each straight of a run swing between its supports?",
    source="Over a span the table’s allowance a has the shape 4 a f (1 − f).",
    validity="Ends count as held; a free end needs a row of its own.",
    caution=CAUTION,
)
def segment_allowances(
    pts: Points,
    support_s: Annotated[Sequence[float], "Supports, along the corners, m."],
    table: Table,
    fixed: Annotated[float, "Everywhere besides, for vibration.", Unit("m")] = 0.0,
) -> Annotated[tuple[float, ...], "Of each straight, the greatest on it, m.", Named("value")]:
    """Greatest allowance on each straight, m. Refuses a support beyond the run (`support_s`)."""
    line = corners(pts)
    turning(line)
    at, rows = distances(line), _rows(table)
    held = sorted(finite(s, "support_s") for s in support_s)
    if any(not -ALONG_M <= s <= at[-1] + ALONG_M for s in held):
        raise Refused("support_s", f"is beyond the run, which is {at[-1]:.6g} m long")
    more = not_negative(fixed, "fixed")
    ends = sorted({0.0, at[-1], *(min(max(s, 0.0), at[-1]) for s in held)})
    most = [_read(rows, b - a) for a, b in itertools.pairwise(ends)]
    return tuple(_greatest(a, b, ends, most) + more for a, b in itertools.pairwise(at))


def _greatest(a: float, b: float, ends: Sequence[float], most: Sequence[float]) -> float:
    """The greatest allowance between a and b along the run: at mid-span, else at the nearer end."""
    first = max(bisect_right(ends, a) - 1, 0)
    best = 0.0
    for n in range(first, len(most)):
        x0, x1 = ends[n], ends[n + 1]
        if x0 >= b:
            break
        middle = min(max((x0 + x1) / 2.0, a, x0), b, x1)
        f = (middle - x0) / (x1 - x0)
        best = max(best, 4.0 * most[n] * f * (1.0 - f))
    return best
