"""Can a tool get to a bolt, as a worksheet."""

from __future__ import annotations

import math
from typing import Any

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.plan.tool_access import CAUTION
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said

ACCESS = "plan.tool_access"
POINT = "station; butt line; water line"


def _tool(v: dict[str, Any], side: str) -> dict[str, Any] | None:
    found: dict[str, Any] = {}
    if f"{side}_barrel_length" in v or f"{side}_barrel_od" in v:
        found["barrel"] = {
            "radius": v.get(f"{side}_barrel_od", 0.0) / 2.0,
            "length": v.get(f"{side}_barrel_length", 0.0),
        }
    if f"{side}_handle" in v:
        handle = {"length": v[f"{side}_handle"], "swing_rad": v.get(f"{side}_swing", 0.0)}
        handle["standoff"] = v.get(f"{side}_standoff", 0.0)
        if f"{side}_width" in v:
            handle |= {"width": v[f"{side}_width"], "thickness": v.get(f"{side}_thick", 0.0)}
        else:
            handle["radius"] = v.get(f"{side}_thick", 0.0) / 2.0
        found["handle"] = handle
    return found or None


# What the rule calls the parts of a tool, as the form asks them.
PARTS = {
    "": "handle", "barrel.radius": "barrel_od", "barrel.length": "barrel_length",
    "handle.length": "handle", "handle.radius": "thick", "handle.thickness": "thick",
    "handle.width": "width", "handle.swing_rad": "swing", "handle.standoff": "standoff",
}  # fmt: skip


def _asked_as(field: str) -> str:
    """The form's field behind a rule's."""
    tool, _, part = field.partition(".")
    if tool in ("head_tool", "nut_tool"):
        return f"{tool.removesuffix('_tool')}_{PARTS.get(part, 'handle')}"
    return tool


def _around(row: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {"id": row["id"]}
    if "half" in row:
        found["box"] = {"centre": row["start"], "half": row["half"]}
    else:
        found |= {"points": [row["start"], row.get("end", row["start"])],
                  "radius": row.get("od", 0.0) / 2.0}  # fmt: skip
    if "closure" in row:
        found["closure"] = row["closure"]
    return found


def _access(asked: Asked) -> Worked:
    v = dict(asked.values)
    inputs: dict[str, Any] = asked.only("head", "nut", "gap_m", "closed", "later")
    inputs["around"] = [_around(r) for r in v.get("around", ())]
    for side in ("head", "nut"):
        tool = _tool(v, side)
        if tool is not None:
            inputs[f"{side}_tool"] = tool
    try:
        found = run(ACCESS, inputs)
    except Refused as refusal:
        raise Refused(_asked_as(refusal.field), refusal.reason) from None
    checks = []
    for side in ("head", "nut"):
        one = found[side]
        if one is None:
            continue
        words = "It gets there"
        if one["free_arc_rad"] is not None:
            free, left = (math.degrees(one[n]) for n in ("free_arc_rad", "swing_left_rad"))
            words += f" and turns freely through {free:.0f}°, {abs(left):.0f}°"
            words += " more than it must" if left >= 0 else " less than it must"
        if not one["reachable"]:
            words = f"In its way: {', '.join(one['blocked_by'])}. {words}"
        verdict = Verdict.IN if one["reachable"] else Verdict.OUT
        checks.append(said(side, f"tool for the {side}", f"{words}.", verdict, ACCESS, inputs))
    facts = [("Taken away by", ", ".join(found["taken_by"]))] if found["taken_by"] else []
    return Worked(tuple(checks), tuple(facts))


def _side(side: str) -> tuple[Field, ...]:
    under = f"Tool for the {side}"
    return (
        Field(f"{side}_barrel_od", f"{side}_barrel_od", "Socket’s outside", "length", under=under),
        Field(f"{side}_barrel_length", f"{side}_barrel_length", "Socket with extension, length",
              "length", under=under),
        Field(f"{side}_handle", f"{side}_handle", "Handle’s length from the axis", "length",
              under=under),
        Field(f"{side}_thick", f"{side}_thick", "Handle’s thickness", "length", under=under),
        Field(f"{side}_width", f"{side}_width", "Handle’s width, if it is flat", "length",
              under=under),
        Field(f"{side}_standoff", f"{side}_standoff", "Handle stands off the seat by", "length",
              under=under),
        Field(f"{side}_swing", f"{side}_swing", "It must swing by", "angle", "deg", hint="60",
              under=under),
    )  # fmt: skip


declare(
    Kind(
        "tool access",
        "clearance",
        "crossings",
        "Tool at a bolt",
        "Does the tool get there and turn far enough, and which closure takes that away?",
        (
            Field("head", "head", f"Seat of the head: {POINT}", "length", many=3, needed=True),
            Field("nut", "nut", f"Seat of the nut: {POINT}", "length", many=3, needed=True),
            *_side("head"),
            *_side("nut"),
            Field("around", "around", "What stands around", "table", columns=(
                Field("id", "id", "What", needed=True, hint="rib web"),
                Field("from", "start", f"One end, or middle of a box: {POINT}", "length", many=3,
                      needed=True),
                Field("to", "end", "Other end of a line", "length", many=3),
                Field("od", "od", "Thickness of a line", "length"),
                Field("half", "half", "Half sizes of a box: along; across; up", "length", many=3),
                Field("closure", "closure", "Only when this closure is on"),
            )),
            Field("gap", "gap_m", "Free from this gap on", "length"),
            Field("closed", "closed", "Closures that are on, parted by ;", "words"),
            Field("later", "later", "Closures to come, parted by ;", "words"),
        ),
        _access,
        CAUTION,
        "reach",
    )
)  # fmt: skip
