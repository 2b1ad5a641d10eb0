"""Protectors: size, trip, link, interrupting (`wiring.protect`, `wiring.trip_check`,
`wiring.fusible_link`, `wiring.fault_current`) and what is fed past them (`wiring.coverage`)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.forms import ABSENT
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.tables import EVEN, GAUGES, PROTECTORS, RATED_A, at_most, by_gauge, gauge
from core.wiring.words import CAUTION, CHAPTER_11, CIRCUIT, TABLE_11_3

NO_RATING = "no rating in the list is large enough"
OVER_WIRE = "protector is larger than the wire allows"
OVER_HERE = "protector above the wire's rating here"
UNDER_LOAD = "protector is below the load rule"


@dataclass(frozen=True)
class Protected:
    """A protector against its load and its wires, A."""

    least_rating_A: Annotated[float, "By the load rule."]
    wire_limit_A: Annotated[float, "Least of the wires' limits."]
    limiting_awg: Annotated[str, "Whose limit that is."]
    least_allowable_A: Annotated[float | None, "Least that a wire may carry where it runs."]
    rating_A: Annotated[float | None, "Fitted or picked; null: none fits."]
    verdict: Annotated[Verdict, "In where it protects the wire and carries the load."]
    wire_needed: Annotated[str | None, "Thinnest gauge that the rating allows."]
    reason: Annotated[str | None, "Why not.", ABSENT] = None


@rule(
    "wiring.protect",
    title="Breaker or fuse for a wire",
    purpose="Which rating protects every piece of this wire and carries the load?",
    source=f"{TABLE_11_3} The rating where the wire runs: {CHAPTER_11}",
    validity="Bundles of 15 wires or more at 135 °F up to 30,000 ft, at most 20 % of their"
    " capacity, protectors at 75 to 85 °F; hotter or tighter: enter lower limits. Rows that are"
    " not certain are not built in.",
    caution=CAUTION,
)
def protect(
    load_A: Annotated[float, "Continuous load."],
    wires: Annotated[Sequence[str], "Gauges up to the next protector or the load."],
    factor: Annotated[float, "Rating over load, at least 1; your rule."] = 1.25,
    kind: Annotated[Literal["breaker", "fuse"], "Which."] = "breaker",
    wire_limit_A: Annotated[dict[str, float] | None, "By gauge; replaces a row."] = None,
    ratings_A: Annotated[Sequence[float], "There are."] = RATED_A,
    rating_A: Annotated[float | None, "Fitted already."] = None,
    allowable_A: Annotated[dict[str, float] | None, "By gauge, where it runs."] = None,
) -> Protected:
    """The protector protects the wire. Refuses a wire without a limit (`wire_limit_A`)."""
    load = positive(load_A, "load_A")
    if finite(factor, "factor") < 1.0:
        raise Refused("factor", "must be at least 1")
    if not wires:
        raise Refused("wires", "needs at least one gauge")
    limits = PROTECTORS[kind] | by_gauge(wire_limit_A or {}, "wire_limit_A")
    for awg in wires:
        if gauge(awg, "wires") not in limits:
            raise Refused("wire_limit_A", f"enter wire_limit_A for AWG {awg}: none is built in")
    here = None if allowable_A is None else by_gauge(allowable_A, "allowable_A")
    if here is not None and any(w not in here for w in wires):
        raise Refused("allowable_A", "needs every gauge of the wires")
    if not ratings_A:
        raise Refused("ratings_A", "needs at least one")
    least, limiting = factor * load, min(wires, key=lambda w: limits[w])
    limit = limits[limiting]
    allowed = None if here is None else min(here[w] for w in wires)
    ratings = sorted(positive(x, "ratings_A") for x in ratings_A)
    picked = next((x for x in ratings if x >= least - EVEN), None)
    taken = picked if rating_A is None else positive(rating_A, "rating_A")
    if taken is None:
        return Protected(least, limit, limiting, allowed, None, Verdict.OUT, None, NO_RATING)
    reason = needed = None
    if taken > limit + EVEN or (allowed is not None and taken > allowed + EVEN):
        reason = OVER_WIRE if taken > limit + EVEN else OVER_HERE
        needed = next((w for w in GAUGES if _allows(w, taken, limits, here)), None)
    elif taken < least - EVEN:
        reason = UNDER_LOAD
    shown = rating_A if reason in (OVER_WIRE, OVER_HERE) else taken
    verdict = Verdict.OUT if reason else Verdict.IN
    return Protected(least, limit, limiting, allowed, shown, verdict, needed, reason)


def _allows(
    awg: str, rating: float, limits: Mapping[str, float], here: Mapping[str, float] | None
) -> bool:
    if limits.get(awg, 0.0) < rating - EVEN:
        return False
    return here is None or here.get(awg, 0.0) >= rating - EVEN


@dataclass(frozen=True)
class Trip:
    """Whether an inrush trips."""

    multiple: Annotated[float, "Of the rating."]
    least_trip_s: Annotated[float | None, "Least time to trip; null outside the curve."]
    verdict: Annotated[Verdict, "In where it does not trip."]


@rule(
    "wiring.trip_check",
    title="Does the inrush trip it?",
    purpose="Does the protector hold while a lamp, motor or supply starts?",
    source="The protector maker's curve, straight between its points in logarithms.",
    validity="Inside the curve; the least trip time counts.",
    caution=CAUTION,
)
def trip_check(
    inrush_A: Annotated[float, "At its start."],
    inrush_s: Annotated[float, "How long."],
    rating_A: Annotated[float, "Of the protector."],
    curve: Annotated[tuple[tuple[float, float], ...], "[multiple of rating, least trip time s]."],
) -> Trip:
    """Refuses a curve that does not fall over rising multiples."""
    multiple = positive(inrush_A, "inrush_A") / positive(rating_A, "rating_A")
    lasts = positive(inrush_s, "inrush_s")
    if len(curve) < 2:
        raise Refused("curve", "needs at least two points")
    for (m, t), (n, u) in itertools.pairwise(curve):
        if not (1.0 < m < n and 0.0 < u < t):
            raise Refused("curve", "multiples must be over 1 and rise, times fall")
    if multiple <= 1.0:
        return Trip(multiple, None, Verdict.IN)
    first, last = curve[0], curve[-1]
    if multiple < first[0]:
        held = lasts < first[1]
        return Trip(multiple, None, Verdict.IN if held else Verdict.NOT_MEASURED)
    if multiple > last[0]:
        return Trip(multiple, None, Verdict.NOT_MEASURED)
    least = last[1]
    for (m, t), (n, u) in itertools.pairwise(curve):
        if m <= multiple <= n:
            share = math.log(multiple / m) / math.log(n / m)
            least = math.exp(math.log(t) + share * math.log(u / t))
            break
    return Trip(multiple, least, Verdict.IN if lasts < least else Verdict.OUT)


@dataclass(frozen=True)
class Link:
    """A fusible link."""

    link_awg: Annotated[str, "Its gauge."]


@rule(
    "wiring.fusible_link",
    title="Fusible link",
    purpose="How thin is the link for this wire?",
    source="Practice, not a standard: the wire's number and four more.",
    validity="Even sizes of the table. Sleeved, short as its maker says, reachable, never spliced"
    " into a bundle.",
    caution=CAUTION,
)
def fusible_link(
    awg: Annotated[str, "Of the wire."],
    steps: Annotated[int, "Added to its number; your rule."] = 4,
) -> Link:
    """Refuses where the link's gauge is not in the table."""
    if steps < 1:
        raise Refused("steps", "must be at least 1")
    number = -1 if gauge(awg) == "00" else int(awg)
    found = str(number + steps)
    if found not in GAUGES or int(found) % 2:
        raise Refused("awg", f"its link would be AWG {found}, which is no even size of the table")
    return Link(found)


@dataclass(frozen=True)
class Fault:
    """A dead short, A."""

    fault_A: Annotated[float, "What flows."]
    U_A: Annotated[float, "Its uncertainty."]
    margin_A: Annotated[float, "To what the protector interrupts."]
    verdict: Annotated[Verdict, "Whether it can break it."]


@rule(
    "wiring.fault_current",
    title="Can it break a dead short?",
    purpose="Does a short draw more than the protector can interrupt?",
    source=CIRCUIT,
    validity="Take the least resistance: new, warm, full battery and a short loop.",
    caution=CAUTION,
)
def fault_current(
    emf_V: Annotated[float, "Of the battery."],
    battery_ohm: Annotated[float, "Inside it."],
    interrupting_A: Annotated[float, "Rated interrupting current."],
    loop_ohm: Annotated[float, "Feed and return up to the short, cold."] = 0.0,
    U_rel: Annotated[float, "Of the current, 0 to 1."] = 0.0,
) -> Fault:
    """I = emf / (battery + loop). Refuses no resistance at all (`battery_ohm`)."""
    emf, rated = positive(emf_V, "emf_V"), positive(interrupting_A, "interrupting_A")
    ohm = not_negative(battery_ohm, "battery_ohm") + not_negative(loop_ohm, "loop_ohm")
    if ohm == 0.0:
        raise Refused("battery_ohm", "both resistances are 0")
    if not 0.0 <= finite(U_rel, "U_rel") <= 1.0:
        raise Refused("U_rel", "must be from 0 to 1")
    flows = emf / ohm
    U = U_rel * flows
    return Fault(flows, U, rated - flows, at_most(flows, U, rated))


@dataclass(frozen=True)
class Edge:
    """A piece of the supply between two places."""

    id: Annotated[str, "Its name."]
    a: Annotated[str, "From."]
    b: Annotated[str, "To."]
    kind: Annotated[Literal["wire", "switch", "splice", "protector"], "What it is."]


@dataclass(frozen=True)
class Covered:
    """What is fed past no protector."""

    unfed: Annotated[tuple[str, ...], "Loads without a way from the source."]
    unprotected: Annotated[tuple[str, ...], "Loads with a way that passes no protector."]
    exempt: Annotated[tuple[str, ...], "The same, with a reason."]


@rule(
    "wiring.coverage",
    title="Is everything behind a protector?",
    purpose="Which loads can be fed past every breaker and fuse?",
    source="Graph search; switches count as closed.",
    validity="One source; with two, ask for each. How long the unprotected wire is, is judged by"
    " your own limit.",
    caution=CAUTION,
)
def coverage(
    source: Annotated[str, "Battery positive or generator output."],
    edges: Annotated[tuple[Edge, ...], "All pieces."],
    loads: Annotated[Sequence[str], "What is fed."],
    exempt: Annotated[dict[str, str] | None, "Load: reason."] = None,
) -> Covered:
    """Refuses ids twice, an edge to itself, no load, a reason that is empty."""
    if not loads:
        raise Refused("loads", "needs at least one")
    _once(edges)
    reasons = exempt or {}
    for load, why in reasons.items():
        if load not in loads:
            raise Refused("exempt", f"{load} is not a load")
        if not why.strip():
            raise Refused("exempt", f"{load} needs a reason")
    fed = reached(source, edges)
    bare = reached(source, [e for e in edges if e.kind != "protector"])
    open_ = sorted({x for x in loads if x in bare})
    return Covered(
        tuple(sorted({x for x in loads if x not in fed})),
        tuple(x for x in open_ if x not in reasons),
        tuple(x for x in open_ if x in reasons),
    )


def _once(edges: Sequence[Edge]) -> None:
    if len({e.id for e in edges}) < len(edges):
        raise Refused("edges", "two pieces have the same name")
    for e in edges:
        if e.a == e.b:
            raise Refused("edges", f"{e.id} goes to itself")


def reached(start: str, edges: Iterable[Edge]) -> set[str]:
    """Every place that can be reached from one, itself among them."""
    joined: dict[str, list[str]] = {}
    for e in edges:
        joined.setdefault(e.a, []).append(e.b)
        joined.setdefault(e.b, []).append(e.a)
    found, more = {start}, [start]
    while more:
        for other in joined.get(more.pop(), ()):
            if other not in found:
                found.add(other)
                more.append(other)
    return found
