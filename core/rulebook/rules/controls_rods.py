"""Rule book: rod length, thread engagement, strength, and riveted inserts."""

from __future__ import annotations

import math
from typing import Any

from core.basis.refused import Refused, finite
from core.controls.insert import Insert, Rivet, insert_rivets
from core.controls.rod_length import engagement, rod_step
from core.controls.rod_strength import Tube, rod_load, rod_strength
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry
from core.rulebook.rules.hardware_bolts import numbers_of

THREAD = "Thread geometry (1/4-28 thread: pitch 25.4/28 mm)."


def _step(x: dict[str, Any]) -> dict[str, Any]:
    s = rod_step(**x)
    return {
        "length_change_mm": s.length_change,
        "engaged_change_a_mm": s.engaged_change_a,
        "engaged_change_b_mm": s.engaged_change_b,
    }


def _engagement(x: dict[str, Any]) -> dict[str, Any]:
    e = engagement(**x)
    return {
        "required_mm": e.required,
        "set_by": e.set_by,
        "margin_mm": e.margin,
        "verdict": e.verdict.value,
        "half_turns_out": e.half_turns_out,
        "half_turns_in": e.half_turns_in,
        "half_turns_to_mend": e.half_turns_to_mend,
    }


def _strength(x: dict[str, Any]) -> dict[str, Any]:
    tube = Tube(**{k: x[k] for k in ("od", "wall", "length", "E", "Fcy", "K") if k in x})
    load = x.get("rod_limit_N")
    by_pilot = [x.get(k) for k in ("pilot_force_N", "grip_arm", "rod_arm")]
    if load is None:
        for name, value in zip(("pilot_force_N", "grip_arm", "rod_arm"), by_pilot, strict=True):
            if value is None:
                raise Refused(name, "is needed, or give rod_limit_N")
        load = rod_load(x["pilot_force_N"], x["grip_arm"], x["rod_arm"])
    elif any(v is not None for v in by_pilot):
        raise Refused("rod_limit_N", "give either the rod's load or the pilot's force with arms")
    given = {k: x[k] for k in ("ultimate_factor", "special_factor") if k in x}
    s = rod_strength(tube, load, **given)
    return {
        "area_mm2": s.area,
        "inertia_mm4": s.inertia,
        "gyration_mm": s.gyration,
        "slenderness": s.slenderness,
        "slenderness_limit": s.slenderness_limit,
        "regime": s.regime,
        "critical_N": s.critical,
        "limit_N": s.limit,
        "ultimate_N": s.ultimate,
        "reserve": s.reserve,
        "verdict": s.verdict.value,
    }


def _insert(x: dict[str, Any]) -> dict[str, Any]:
    rivets = []
    for i, r in enumerate(x["rivets"]):
        given = numbers_of(r, f"rivets.{i}", ("x_mm", "phi_deg"))
        at = finite(given["x_mm"], f"rivets.{i}.x_mm") / 1e3
        rivets.append(Rivet(at, math.radians(finite(given["phi_deg"], f"rivets.{i}.phi_deg"))))
    names = ("tube_od", "wall", "insert_len", "tapped_dia", "tapped_depth", "kind", "reach")
    r = insert_rivets(
        Insert(**{k: x[k] for k in names if k in x}),
        x["rivet_dia"],
        rivets,
        x["pitch_min_D"],
        x["clear_min"],
        x.get("edge_min_D", 2.0),
        x.get("U", 0.0),
    )
    out = {
        "tube_edge_mm": r.tube_edge,
        "insert_edge_mm": r.insert_edge,
        "pitch_mm": r.pitch,
        "clearance_mm": r.clearance,
        "required_edge_mm": r.required_edge,
        "required_pitch_mm": r.required_pitch,
        "tube_edge": r.tube_edge_verdict.value,
        "insert_edge": r.insert_edge_verdict.value,
        "clearance": r.clearance_verdict.value,
    }
    if r.pitch_verdict is not None:
        out["pitch"] = r.pitch_verdict.value
    if r.tip_gap is not None:
        out["tip_gap_mm"] = r.tip_gap
    return out


ENTRIES = (
    Entry(
        "controls.rod_step",
        "Turning a rod",
        "What do half-turns do to the length and to the thread engaged at each end?",
        (
            Field("pitch_a_mm", doc="Thread pitch at end a.", required=True),
            Field("pitch_b_mm", doc="Thread pitch at end b.", required=True),
            Field("turned", "text", "What is turned.", True, ("tube", "end_a", "end_b")),
            Field(
                "hands", "text", "Of the two threads, for the tube.", False, ("opposite", "same")
            ),
            Field("half_turns", "integer", "Half-turns, + lengthens.", True),
        ),
        (
            Field("length_change_mm", doc="Change of length."),
            Field("engaged_change_a_mm", doc="Change of engaged thread at end a."),
            Field("engaged_change_b_mm", doc="Change of engaged thread at end b."),
        ),
        _step,
        THREAD,
        "Half-turns only, so that the eye lines up.",
        "Check both ends after every turn of the tube; jam nuts tight and marked.",
    ),
    Entry(
        "controls.engagement",
        "Thread in a rod end",
        "Is enough thread in, and how far may the end still be turned?",
        (
            Field("engaged_mm", doc="Thread engaged.", required=True),
            Field("pitch_mm", doc="Thread pitch.", required=True),
            Field("thread_dia_mm", doc="Thread diameter.", required=True),
            Field("min_engaged_mm", doc="The maker's minimum (default 1.5 diameters)."),
            Field("hole_depth_mm", doc="Centre of the inspection hole from the insert's face."),
            Field("hole_dia_mm", doc="Diameter of the inspection hole."),
            Field("max_engaged_mm", doc="Where the thread bottoms or the jam nut meets."),
            Field("U_mm", doc="Expanded uncertainty of the engaged length."),
        ),
        (
            Field("required_mm", doc="Least engagement."),
            Field("set_by", "text", "What sets it."),
            Field("margin_mm", doc="Least distance to a limit, negative outside."),
            VERDICT,
            Field("half_turns_out", "integer", "Half-turns out still allowed."),
            Field("half_turns_in", "integer", "Half-turns in still allowed."),
            Field("half_turns_to_mend", "integer", "Half-turns in that mend it."),
        ),
        _engagement,
        "Engagement of 1.5 thread diameters: common shop practice, only a default.",
        "A wire must not pass the inspection hole.",
        "A rod end that is not in far enough can pull out in flight.",
    ),
    Entry(
        "controls.rod_strength",
        "Will a rod buckle",
        "Does the rod carry the pilot's limit load without buckling?",
        (
            Field("od_mm", doc="Outside diameter.", required=True),
            Field("wall_mm", doc="Wall.", required=True),
            Field("length_mm", doc="Ball centre to ball centre.", required=True),
            Field("E_GPa", doc="Modulus, from the material's data.", required=True),
            Field("Fcy_MPa", doc="Compressive yield, from the material's data.", required=True),
            Field("K", doc="Effective length factor, 1 = pinned (default)."),
            Field("rod_limit_N", doc="Limit load in the rod."),
            Field("pilot_force_N", doc="Pilot's limit force at the grip."),
            Field("grip_arm_mm", doc="Grip to the stick's axis."),
            Field("rod_arm_mm", doc="Least arm of the rod on that lever."),
            Field("ultimate_factor", doc="1.5 or more (default 1.5)."),
            Field("special_factor", doc="1 or more (default 1)."),
        ),
        (
            Field("area_mm2", doc="Section."),
            Field("inertia_mm4", doc="Second moment of area."),
            Field("gyration_mm", doc="Radius of gyration."),
            Field("slenderness", doc="K L / r."),
            Field("slenderness_limit", doc="Where Euler begins."),
            Field("regime", "text", "Euler or Johnson."),
            Field("critical_N", doc="Buckling load."),
            Field("limit_N", doc="Limit load."),
            Field("ultimate_N", doc="Ultimate load."),
            Field("reserve", doc="Buckling load over ultimate load."),
            VERDICT,
        ),
        _strength,
        "Euler and Johnson columns; 14 CFR 23.303 (factor 1.5, old amendment); pilot forces from"
        " the certification basis (14 CFR 23.397 or the rule that applies).",
        "Not covered: bent or dented rods, off-centre ends, rod-end and bolt strength, ends"
        " thinner than the tube, joint wear factors (14 CFR 23.693), vibration.",
        "A rod that buckles disconnects the surface; this check does not replace the maker's"
        " stress data.",
    ),
    Entry(
        "controls.insert_rivets",
        "Rivets of a rod-end insert",
        "Do the rivets keep their distance from the edges, each other and the tapped hole?",
        (
            Field("rivet_dia_mm", doc="Rivet diameter.", required=True),
            Field("tube_od_mm", doc="Tube outside diameter.", required=True),
            Field("wall_mm", doc="Tube wall.", required=True),
            Field("insert_len_mm", doc="Tube end to the insert's inner end.", required=True),
            Field("tapped_dia_mm", doc="Tapped hole.", required=True),
            Field("tapped_depth_mm", doc="From the tube end, with drill point.", required=True),
            Field("kind", "text", "Radial or on a diameter.", True, ("radial", "through")),
            Field("reach_mm", doc="Radial: outside of the tube to the bottom of the hole."),
            Field("rivets", "list", "{x_mm from the tube end, phi_deg}.", True),
            Field("edge_min_D", doc="Least edge distance in diameters (default 2)."),
            Field("pitch_min_D", doc="Least pitch in diameters (yours).", required=True),
            Field("clear_min_mm", doc="Least distance to the tapped hole (yours).", required=True),
            Field("U_mm", doc="Expanded uncertainty of a length."),
        ),
        (
            Field("tube_edge_mm", doc="To the tube's end."),
            Field("insert_edge_mm", doc="To the insert's inner end."),
            Field("tip_gap_mm", doc="Between holes at their bottoms."),
            Field("pitch_mm", doc="Least pitch."),
            Field("clearance_mm", doc="To the tapped hole."),
            Field("required_edge_mm", doc="Edge distance asked."),
            Field("required_pitch_mm", doc="Pitch asked."),
            Field("tube_edge", "text", "Verdict."),
            Field("insert_edge", "text", "Verdict."),
            Field("clearance", "text", "Verdict."),
            Field("pitch", "text", "Verdict."),
        ),
        _insert,
        "AC 43.13-1B chapter 4 (edge distance 2D).",
        "Straight distances; two holes on diameters always meet at the axis.",
        "A rivet in the tapped hole stops the rod end short and weakens it; try the rod end to"
        " full depth before riveting.",
    ),
)
