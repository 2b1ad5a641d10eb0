"""Rule book: deflection from what is measured (`controls.gauge_difference` and the rest)."""

from __future__ import annotations

import math
from typing import Any

from core.basis.refused import Refused
from core.controls.deflection import Deflection
from core.controls.edge_offset import PRACTICES as EDGE_PRACTICES
from core.controls.edge_offset import OffsetUncertainty, TrailingEdge, edge_offset, offset_for
from core.controls.gauge import FACES, GaugeReadings, SideUnknown, gauge_difference
from core.controls.included_angle import OPENS, Fit, Included, included_angle, included_for
from core.controls.swept import PRACTICES as SWEPT_PRACTICES
from core.controls.swept import SweptGauge, swept_gauge
from core.rulebook.fields import Field
from core.rulebook.rules.entry import DEFLECTION, LIMITS, Entry

WAYS = ", ".join(dict.fromkeys(way for way, _ in OPENS))
SKINS = ", ".join(dict.fromkeys(skin for _, skin in OPENS))
GUM = "JCGM 100:2008 (propagation), JCGM 106:2012, 8.3 (guard band)."


def shown(d: Deflection) -> dict[str, Any]:
    """A deflection under the page's names, in SI."""
    out: dict[str, Any] = {
        "deflection_deg": d.value,
        "u_deg": d.combined.u,
        "U_deg": d.combined.U,
        "k": d.combined.k,
    }
    return out | ({"verdict": d.verdict.value} if d.verdict else {})


def _take(x: dict[str, Any], *names: str) -> dict[str, Any]:
    return {n: x[n] for n in names if n in x}


def _gauge(x: dict[str, Any]) -> dict[str, Any]:
    names = ("face", "readings", "neutral", "sense", "side", "neutral_side", "zeroed")
    result = gauge_difference(
        GaugeReadings(**_take(x, *names, "accuracy", "resolution")), x.get("lo"), x.get("hi")
    )
    if isinstance(result, SideUnknown):
        return {"candidates_deg": list(result.candidates), "verdict": "not measured"}
    return shown(result)


def _swept(x: dict[str, Any]) -> dict[str, Any]:
    lo, hi = x.pop("lo", None), x.pop("hi", None)
    result = swept_gauge(SweptGauge(**x), lo, hi)
    return shown(result.deflection) | {"naive_deg": result.naive}


def _edge(x: dict[str, Any]) -> dict[str, Any]:
    edge = TrailingEdge(**_take(x, "chord", "practice", "phi"))
    if ("offset" in x) == ("deflection" in x):
        raise Refused("offset", "give either the offset or the deflection")
    if "deflection" in x:
        return {"offset_mm": offset_for(edge, x["deflection"])}
    u = OffsetUncertainty(x.get("u_offset", 0.0), x.get("u_chord", 0.0), x.get("u_phi", 0.0))
    result = edge_offset(edge, x["offset"], u, x.get("lo"), x.get("hi"))
    return shown(result.deflection) | {"per_mm_offset_deg": result.per_offset}


def _included(x: dict[str, Any]) -> dict[str, Any]:
    skins = Included(x["positive"], x["skin"], x["neutral_included"])
    if ("included" in x) == ("deflection" in x):
        raise Refused("included", "give either the included angle or the deflection")
    if "deflection" in x:
        return {"included_deg": included_for(skins, x["deflection"])}
    fit = Fit(**_take(x, "accuracy", "neutral_u", "gap", "arm"))
    return shown(included_angle(skins, x["included"], fit, x.get("lo"), x.get("hi")))


ENTRIES = (
    Entry(
        "controls.gauge_difference",
        "Deflection from two gauge readings",
        "The angle between neutral and a position, from readings of an angle gauge whose face"
        " may turn over or show no sign.",
        (
            Field("face", "text", "How the gauge's face counts.", True, tuple(FACES)),
            Field("readings_deg", "numbers", "Readings at the position.", True),
            Field("neutral_deg", "numbers", "Readings at neutral."),
            Field("sense", "integer", "+1: the reading grows with positive deflection."),
            Field("side", "integer", "Quadrant face: +1 trailing edge above level, -1 below."),
            Field("neutral_side", "integer", "Quadrant face: side of level at neutral."),
            Field("zeroed", "flag", "The gauge was set to zero at neutral."),
            Field("accuracy_deg", doc="Maker's limit, half-width."),
            Field("resolution_deg", doc="One full step of the display or scale."),
            *LIMITS,
        ),
        (*DEFLECTION, Field("candidates_deg", "numbers", "What it could be, a side missing.")),
        _gauge,
        GUM,
        "Gravity gauges serve hinge lines near level, not a rudder. Take the gauge off and set"
        " it again between repeats, or the spread shows nothing.",
        "A face without sign cannot tell up from down: give the side that was read.",
    ),
    Entry(
        "controls.swept_gauge",
        "Deflection of a swept hinge from a stream-wise gauge",
        "The angle about a swept or canted hinge from a gauge in the fore-and-aft plane.",
        (
            Field("sweep_deg", doc="Hinge line swept aft, -60 to 60.", required=True),
            Field("dihedral_deg", doc="Hinge line's dihedral, -30 to 30."),
            Field("neutral_deg", doc="Gauge line at neutral, trailing edge up +, -45 to 45."),
            Field("reading_deg", doc="Gauge line now, -80 to 80.", required=True),
            Field(
                "practice",
                "text",
                "Held in the plane, or clamped to the skin.",
                True,
                SWEPT_PRACTICES,
            ),
            Field("u_reading_deg", doc="Standard uncertainty of the reading."),
            Field("u_neutral_deg", doc="Standard uncertainty of the neutral reading."),
            Field("u_sweep_deg", doc="Standard uncertainty of the sweep."),
            *LIMITS,
        ),
        (*DEFLECTION, Field("naive_deg", doc="Plain difference of the two readings.")),
        _swept,
        "Rotation of a line or plane about a skew axis; " + GUM,
        "The skin must contain the hinge direction; on a strongly tapered one measure square to"
        " the hinge. The deflection is larger than the reading.",
        "Say which practice was used: the two differ by tenths of a degree.",
    ),
    Entry(
        "controls.edge_offset",
        "Deflection from the trailing edge's offset",
        "The angle from a ruler or tape at the trailing edge; or the offset for an angle.",
        (
            Field(
                "chord_mm", doc="Hinge axis to trailing edge, square to the hinge.", required=True
            ),
            Field("offset_mm", doc="How far the edge moved."),
            Field("deflection_deg", doc="Instead of the offset: 0 to 90."),
            Field("practice", "text", "What the offset was measured along.", True, EDGE_PRACTICES),
            Field("phi_deg", doc="Line hinge to edge above the neutral plane, -45 to 45."),
            Field("u_offset_mm", doc="Standard uncertainty of the offset."),
            Field("u_chord_mm", doc="Standard uncertainty of the chord."),
            Field("u_phi_deg", doc="Standard uncertainty of phi."),
            *LIMITS,
        ),
        (
            *DEFLECTION,
            Field(
                "per_mm_offset_deg", doc="Degrees for each mm.", unit="°/mm", scale=0.18 / math.pi
            ),
            Field("offset_mm", doc="The offset that shows the deflection."),
        ),
        _edge,
        "Motion on a circle about the hinge; " + GUM,
        "Up to 90°, and only where the edge does not turn back. The result has no sign.",
        "The same offset means different angles by practice: never record one without it.",
    ),
    Entry(
        "controls.included_angle",
        "Deflection from the included angle",
        "The angle from a template between fixed and moving skin; or the template's angle.",
        (
            Field("positive", "text", f"Where positive deflection goes: {WAYS}.", True),
            Field("skin", "text", f"The skin that the template stands on: {SKINS}.", True),
            Field(
                "neutral_included_deg", doc="Included angle at neutral, 90 to 270.", required=True
            ),
            Field("included_deg", doc="Included angle now, 45 to 315."),
            Field("deflection_deg", doc="Instead of the included angle."),
            Field("accuracy_deg", doc="Accuracy of the template, half-width."),
            Field("neutral_u_deg", doc="Standard uncertainty of the neutral angle."),
            Field("gap_mm", doc="Gap seen at the end of an arm."),
            Field("arm_mm", doc="Length of that arm."),
            *LIMITS,
        ),
        (*DEFLECTION, Field("included_deg", doc="The included angle that shows the deflection.")),
        _included,
        "Plane angles; " + GUM,
        "The template must stand square to the hinge line. On curved skin use the stations and"
        " arm lengths of the drawing.",
        "Without the neutral angle only the drawing's own angle can be checked.",
    ),
)
