"""Free play of a surface from the clearances of its chain, weighed by the linkage."""

from __future__ import annotations

import math

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.vectors import cross, minus, size
from core.controls.linkage.document import Document
from core.controls.linkage.solving import rates, solve
from core.rulebook.registry import rule
from server.controls.linkage import shapes
from server.controls.linkage.solved import Asked
from server.kit.showing import why


def play(
    d: Document, asked: Asked, output: str, typed: dict[str, str], limit: str
) -> shapes.PlayShown:
    """typed: diametral clearance at each rod (both its ends together), by rod, as typed."""
    if output not in d.outputs:
        raise Refused("output", "is not an output of this linkage")
    body = d.mechanism.outputs[output].body
    drive = d.plan.drives.get(body)
    surface = asked.surfaces.get(d.outputs[output].surface)
    if drive is None or d.mechanism.body(body).kind != "turn":
        raise Refused("output", "is not a surface on a rod: its play is not worked out here")
    if surface is None or surface.chord_m is None:
        raise Refused("chord", "enter the chord from hinge axis to trailing edge first")
    motion = solve(d.plan, {})
    arm = _arm(d, body, drive.near.point)
    joints, rows = [], []
    for rod, text in typed.items():
        if not text.strip():
            continue
        if rod not in d.plan.lengths:
            raise Refused(f"clearances.{rod}", "is not a rod of this linkage")
        clearance = parse(text, "length", "mm", f"clearances.{rod}").si
        ratio = abs(float(rates(motion, {}, {rod: 1.0})[body])) * arm
        joints.append({"clearance_m": clearance, "ratio": ratio})
        share = math.degrees(2.0 * math.asin(min(1.0, ratio * clearance / (2.0 * arm))))
        rows.append(
            shapes.PlayRow(rod=rod, clearance_mm=clearance * 1e3, ratio=ratio, share_deg=share)
        )
    inputs: dict[str, object] = {
        "joints": joints,
        "driven_arm_m": arm,
        "chord_m": surface.chord_m,
    }
    if limit.strip():
        inputs["limit_rad"] = parse(limit, "angle", "deg", "limit").si
    out = rule("hardware.free_play").run(inputs)
    worst = rows[out["largest"]]["rod"].replace("_", " ")
    said = f"Mend {worst} first: it gives most of the play."
    if not limit.strip():
        said += " Enter the maker's limit to judge it."
    return shapes.PlayShown(
        output=output,
        rows=rows,
        worst_deg=math.degrees(out["worst_rad"]),
        likely_deg=math.degrees(out["likely_rad"]),
        trailing_edge_mm=out["trailing_edge_m"] * 1e3,
        first=worst,
        verdict=out["verdict"],
        said=said,
        why=why("hardware.free_play", inputs, WHERE),
    )


WHERE = {
    "joints": "the linkage as drawn, with the play typed here",
    "driven_arm_m": "the linkage as drawn",
    "chord_m": "the surface's measures",
    "limit_rad": "the maker's, typed here",
}


def _arm(d: Document, body: str, point: str) -> float:
    b = d.mechanism.body(body)
    return float(size(cross(b.axis, minus(b.points[point], b.pivot))))
