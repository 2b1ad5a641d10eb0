"""Rule book: loops of cable between levers, their sense, and what moves along."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from core.basis.refused import Refused, finite
from core.cables.lever import Lever
from core.cables.loop import CAUTION, RANGE, Loop, Side, item_travel, loop_solve
from core.cables.path import Pulley, vec
from core.cables.quadrant import quadrant_loop
from core.cables.sense import CAUTION as CROSSED
from core.cables.sense import MEANT, sense_check
from core.rulebook.fields import Field
from core.rulebook.rules.cables_tension import item_of, known
from core.rulebook.rules.entry import Entry

STATICS = "Statics of an elastic loop over pulleys (any mechanics text)."
# A refusal deep in a loop is named by the page under these short names.
SHORT = ("sense", "radius_m", "axis", "centre")


def lever_of(thing: Any, field: str) -> Lever:
    """A lever from {pivot, axis, A, B}."""
    given = item_of(thing, field)
    known(given, field, ("pivot", "axis", "A", "B"), ())
    try:
        return Lever(*(vec(given[k], k) for k in ("pivot", "axis", "A", "B")))
    except Refused as refusal:
        raise Refused(f"{field}.{refusal.field}", refusal.reason) from None


def pulleys_of(things: Any, field: str) -> tuple[Pulley, ...]:
    """Pulleys from {centre, axis, radius_m, sense}."""
    if not isinstance(things, list):
        raise Refused(field, "must be a list")
    found = []
    for i, thing in enumerate(things):
        at = f"{field}.{i}"
        given = item_of(thing, at)
        known(given, at, ("centre",), ("axis", "radius_m", "sense"))
        try:
            found.append(
                Pulley(
                    vec(given["centre"], "centre"),
                    vec(given.get("axis", [0, 0, 1]), "axis"),
                    finite(given.get("radius_m", 0.0), "radius_m"),
                    given.get("sense", 1),
                )
            )
        except Refused as refusal:
            raise Refused(f"{at}.{refusal.field}", refusal.reason) from None
    return tuple(found)


def loop_of(thing: Any) -> Loop:
    """A loop from {driver, driven, sides}."""
    given = item_of(thing, "loop")
    known(given, "loop", ("driver", "driven", "sides"), ())
    sides = {}
    both = item_of(given["sides"], "sides")
    known(both, "sides", ("A", "B"), ())
    for name, side in both.items():
        at = f"sides.{name}"
        s = item_of(side, at)
        known(s, at, ("compliance_m_per_N", "tension_N"), ("pulleys",))
        sides[name] = Side(
            pulleys_of(s.get("pulleys", []), f"{at}.pulleys"),
            finite(s["compliance_m_per_N"], f"{at}.compliance_m_per_N"),
            finite(s["tension_N"], f"{at}.tension_N"),
        )
    return Loop(lever_of(given["driver"], "driver"), lever_of(given["driven"], "driven"), sides)


def _short(refusal: Refused) -> Refused:
    tail = refusal.field.rpartition(".")[2]
    if tail not in SHORT:
        return refusal
    where = refusal.field.rpartition(".")[0]
    return Refused(tail, f"{refusal.reason} ({where})")


def _solve(x: dict[str, Any]) -> dict[str, Any]:
    try:
        s = loop_solve(
            loop_of(x["loop"]),
            x["driver_rad"],
            x.get("hinge_moment_Nm", 0.0),
            x.get("driven_range_rad", RANGE),
            x.get("guess_rad"),
        )
    except Refused as refusal:
        raise _short(refusal) from None
    return {
        "status": s.status,
        "driven_rad": s.driven_rad,
        "driven_low_rad": s.driven_low_rad,
        "driven_high_rad": s.driven_high_rad,
        "tension_A_N": s.tension_A_N,
        "tension_B_N": s.tension_B_N,
        "driver_moment_Nm": s.driver_moment_Nm,
    }


def _item(x: dict[str, Any]) -> dict[str, Any]:
    try:
        low, high = item_travel(
            lever_of(x["lever"], "lever"),
            x["side"],
            pulleys_of(x.get("pulleys", []), "pulleys"),
            x["far_point"],
            x["angles"],
        )
    except Refused as refusal:
        raise _short(refusal) from None
    return {"low_m": low, "high_m": high}


def _quadrants(x: dict[str, Any]) -> dict[str, Any]:
    q = quadrant_loop(**x)
    return asdict(q) | {"slack": list(q.slack)}


def _vector(name: str, doc: str) -> Field:
    return Field(name, "numbers", doc, required=True)


ENTRIES = (
    Entry(
        "cables.loop_solve",
        "A loop of cable between two levers",
        "Where the driven lever stands, and what both sides pull.",
        (
            Field(
                "loop",
                "object",
                "{driver, driven: {pivot, axis, A, B}, sides: {A, B: {pulleys: [{centre, axis, "
                "radius_m, sense}], compliance_m_per_N, tension_N}}}.",
                required=True,
            ),
            Field("driver_rad", doc="Within ±1.5.", required=True),
            Field("hinge_moment_Nm", doc="By the surface on the driven lever."),
            Field("driven_range_rad", "numbers", "Default -1.2 to 1.2."),
            Field("guess_rad", doc="Default: followed from neutral."),
        ),
        (
            Field("status", "text", "taut, slack A, slack B or both slack."),
            Field("driven_rad", doc="Where the driven lever stands."),
            Field("driven_low_rad", doc="Both slack: free from here,"),
            Field("driven_high_rad", doc="to here."),
            Field("tension_A_N", doc="Side A."),
            Field("tension_B_N", doc="Side B."),
            Field("driver_moment_Nm", doc="To hold the driver."),
        ),
        _solve,
        STATICS,
        "Frictionless; elastic sides; stable equilibrium followed from neutral.",
        CAUTION,
    ),
    Entry(
        "cables.quadrant_loop",
        "A loop between quadrants",
        "The same in closed form where the arms do not change.",
        (
            Field("driver_radius_m", doc="Driver's quadrant.", required=True),
            Field("driven_radius_m", doc="Driven quadrant.", required=True),
            Field("driver_rad", doc="Angle of the driver.", required=True),
            Field("tension_N", doc="Rigged.", required=True),
            Field(
                "compliance_A_m_per_N", doc="Of side A with its share of the frame.", required=True
            ),
            Field("compliance_B_m_per_N", doc="Of side B.", required=True),
            Field("hinge_moment_Nm", doc="By the surface on the driven quadrant."),
        ),
        (
            Field("driven_rad", doc="Where the driven lever stands."),
            Field("tension_A_N", doc="Side A."),
            Field("tension_B_N", doc="Side B."),
            Field("slack", "list", "Slack sides."),
        ),
        _quadrants,
        STATICS,
        "Quadrants; side A pulls the driven one positive.",
        CAUTION,
    ),
    Entry(
        "cables.sense_check",
        "Sense from pilot to surface",
        "Whether the pilot's motion moves the trailing edge the way it is meant.",
        (
            Field("control", "text", doc="Which control.", required=True, choices=tuple(MEANT)),
            Field(
                "pilot_motion",
                "text",
                doc="What the pilot does, as the rule names it.",
                required=True,
            ),
            Field("gains", "numbers", "Signed ratios of the stages.", required=True),
            _vector("surface_axis", "Axis of the surface."),
            _vector("hinge_point", "A point of the hinge line."),
            _vector("trailing_edge", "A point of the trailing edge."),
        ),
        (
            Field("correct", "flag", doc="It moves the right way."),
            Field("overall_gain", doc="Product of the stages.", unit=""),
        ),
        lambda x: asdict(sense_check(**x)),
        "Kinematics; the convention of pedals and stick.",
        "Small movements about neutral.",
        CROSSED,
    ),
    Entry(
        "cables.item_travel",
        "How far a fitting moves",
        "Movement along the route of what is fixed to the cable.",
        (
            Field("lever", "object", "{pivot, axis, A, B}.", required=True),
            Field(
                "side", "text", doc="Which side of the lever.", required=True, choices=("A", "B")
            ),
            Field("pulleys", "list", "Between lever and item."),
            _vector("far_point", "A fixed point of the route beyond the item."),
            Field("angles", "numbers", "Of the lever.", required=True, unit="rad"),
        ),
        (
            Field("low_m", doc="Farthest towards this lever."),
            Field("high_m", doc="Positive away from this lever."),
        ),
        _item,
        "Geometry of the path.",
        "Stretch of the cable ignored.",
        "",
    ),
)
