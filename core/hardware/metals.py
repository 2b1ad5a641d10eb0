"""Rivets near an edge, and metals that touch (`hardware.rivet_layout`, `hardware.galvanic`)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.forms import OneOf
from core.basis.reference import table
from core.basis.refused import Refused, choice, finite, not_negative, numbers, positive
from core.basis.rules import rule
from core.basis.verdicts import Verdict, judge, worst

LIMITS_V = {"harsh": 0.15, "normal": 0.25, "controlled": 0.50}
REMEDIES = ("none", "wet sealant", "wet primer", "barrier")
CARBON = "carbon laminate"
_CARBON_FROM_V = 0.60
_SLACK_V = 1e-9
ADVICE = (
    "Prime both, assemble with wet primer or sealant, seal the edge, keep it drained. Small "
    "anode on a large cathode is worst: make the fastener the nobler part."
)


@dataclass(frozen=True)
class RivetLayout:
    """Verdicts of edge distance and pitch, and the least edge distance in diameters."""

    edge: Annotated[Verdict, "Verdict of the edge distance."]
    pitch: Annotated[Verdict, "Verdict of the pitch."]
    worst_edge_d: Annotated[float, "Least edge distance in diameters."]


@rule(
    "hardware.rivet_layout",
    title="Rivets: edge distance and pitch",
    purpose="Are the holes far enough from the edge and from each other?",
    source="AC 43.13-1B ch. 4 (minimums).",
    validity="The drawing overrides; countersunk rivets usually ask more: enter it.",
)
def rivet_layout(
    diameter_m: Annotated[float, "Rivet diameter D."],
    edge_m: Annotated[Sequence[float], "Hole centres to the edge."],
    pitch_m: Annotated[Sequence[float], "Between hole centres."] = (),
    u_m: Annotated[float, "Standard uncertainty of each distance."] = 0.0,
    edge_min_d: Annotated[float, "Least edge distance in D (default 2)."] = 2.0,
    pitch_min_d: Annotated[float, "Least pitch in D (default 3)."] = 3.0,
    pitch_max_m: Annotated[float | None, "Greatest pitch."] = None,
) -> RivetLayout:
    """Hole centre to edge at least 2 D, pitch at least 3 D, unless the drawing asks else.

    Distances, m, each with standard uncertainty u_m (√2 of it on a pitch). Refuses no edge
    distance and multiples under 1. Source: AC 43.13-1B ch. 4 (minimums).
    """
    d = positive(diameter_m, "diameter_m")
    edges = [positive(e, "edge_m") for e in numbers(edge_m, "edge_m")]
    not_negative(u_m, "u_m")
    for name, value in (("edge_min_d", edge_min_d), ("pitch_min_d", pitch_min_d)):
        if finite(value, name) < 1:
            raise Refused(name, "must be 1 or more")
    if pitch_max_m is not None and positive(pitch_max_m, "pitch_max_m") < pitch_min_d * d:
        raise Refused("pitch_max_m", "is below the least pitch")
    edge = worst(judge(e, 2.0 * u_m, edge_min_d * d, None) for e in edges)
    U = 2.0 * math.sqrt(2.0) * u_m
    pitches = [positive(p, "pitch_m") for p in pitch_m]
    pitch = worst(judge(p, U, pitch_min_d * d, pitch_max_m) for p in pitches)
    return RivetLayout(edge, pitch, min(edges) / d)


@dataclass(frozen=True)
class Galvanic:
    """The difference, V, which corrodes, whether something must be done, and the verdict."""

    difference_V: Annotated[float | None, "Difference of the anodic indices."]
    anode: Annotated[str | None, "The one that corrodes."]
    remedy_needed: Annotated[bool, "Something must be put between."]
    verdict: Annotated[Verdict, "In, out, too close or not measured."]
    advice: Annotated[str | None, "What to do."]


@rule(
    "hardware.galvanic",
    title="Two metals in contact",
    purpose="Which corrodes, and must something be put between?",
    source="MIL-F-14072, MIL-STD-889 practice.",
    validity="Carbon laminate is taken as strongly noble (this product's rule). Titanium"
    " and others: "
    "enter the index.",
)
def galvanic(
    a: Annotated[str, "One material, as in the table."],
    b: Annotated[str, "The other."],
    environment: Annotated[
        str, "Default harsh.", OneOf(("harsh", "normal", "controlled"))
    ] = "harsh",
    remedy: Annotated[str, "wet sealant, wet primer, barrier or none."] = "none",
    a_index_V: Annotated[float | None, "Anodic index of a material outside the table."] = None,
    b_index_V: Annotated[float | None, "The same for the other."] = None,
) -> Galvanic:
    """Do these two materials need a remedy where they touch?

    a_index_V, b_index_V: the user's own anodic index, V, for a material outside the table.
    Carbon laminate is treated as strongly noble: against any index of 0.60 V or more a
    barrier is required, nothing less (this product's rule). Refuses unknown materials,
    environments and remedies. Source: MIL-F-14072, MIL-STD-889 practice.
    """
    choice(environment, tuple(LIMITS_V), "environment")
    choice(remedy, REMEDIES, "remedy")
    ia, ib = _index(a, a_index_V), _index(b, b_index_V)
    if ia is None or ib is None:
        return _with_carbon(a, b, ia, ib, remedy)
    difference = abs(ia - ib)
    anode = None if difference == 0 else (a if ia > ib else b)
    needed = difference > LIMITS_V[environment] + _SLACK_V
    verdict = Verdict.OUT if needed and remedy == "none" else Verdict.IN
    return Galvanic(difference, anode, needed, verdict, ADVICE if needed else None)


def _index(material: str, own: float | None) -> float | None:
    """The anodic index, V; None for carbon laminate."""
    if own is not None:
        return not_negative(own, "index_V")
    if material == CARBON:
        return None
    rows = table("anodic_index")["rows"]
    if material not in rows:
        raise Refused("material", "not in the table; enter its anodic index")
    return float(rows[material])


def _with_carbon(a: str, b: str, ia: float | None, ib: float | None, remedy: str) -> Galvanic:
    other, index = (b, ib) if ia is None else (a, ia)
    if index is None:
        return Galvanic(None, None, False, Verdict.IN, None)
    needed = index >= _CARBON_FROM_V
    verdict = Verdict.OUT if needed and remedy != "barrier" else Verdict.IN
    advice = f"Carbon needs a barrier. {ADVICE}" if needed else None
    return Galvanic(None, other, needed, verdict, advice)
