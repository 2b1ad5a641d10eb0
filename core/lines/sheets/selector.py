"""Where a selector valve goes and how it is turned, so that its hoses bend easily."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from core.basis.verdicts import Verdict
from core.lines.hose_moving import End, hang, hung
from core.lines.sheets.saying import DEG, TRADE, deg, mm, points_mm
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said

RULE = "lines.selector_place"


def _selector(asked: Asked) -> Worked:
    v = asked.values
    first, last = v["from_m"], v.get("to_m", v["from_m"])
    inputs: dict[str, Any] = asked.only("ports", "hoses", "panel_m", "rotation_step_rad")
    inputs["handle"] = asked.only("length_m", "from_rad", "to_rad")
    if "steps_up" in v:
        low = [min(pair) for pair in zip(first, last, strict=True)]
        high = [max(pair) for pair in zip(first, last, strict=True)]
        steps = [v.get("steps", 0), v["steps_up"]]
        inputs["rectangle"] = {"from_m": low, "to_m": high, "steps": steps}
    else:
        inputs["line"] = {"from_m": first, "to_m": last, "steps": v.get("steps", 0)}
    found = run(RULE, inputs)
    best = found.get("best")
    origins: dict[str, str] = {
        k: "the places entered on this sheet" for k in ("line", "rectangle") if k in inputs
    }
    origins["handle"] = "the lever as entered here"
    if best is None:
        words = f"No place of {found['candidates']} suits: hoses or lever find no room."
        check = said("place", "selector’s place", words, Verdict.OUT, RULE, inputs, origins=origins)
        return Worked((check,))
    words = (
        f"Best at {mm(best['centre_m'][0])} across, {mm(best['centre_m'][1])} up, turned"
        f" {deg(best['rotation_rad'])}: {best['margin'] * 100:.0f} % room, least for"
        f" {best['governed_by']}."
    )
    check = said("place", "selector’s place", words, Verdict.IN, RULE, inputs, origins=origins)
    as_drawn = _as_it_is(inputs)
    facts = (
        ("Places and turns looked at", str(found["candidates"])),
        ("As drawn, not turned, at the first place", as_drawn),
    )
    return Worked((check,), facts, _figure(inputs, best))


def _as_it_is(inputs: Mapping[str, Any]) -> str:
    """What the first place without a turn would give."""
    at = (inputs.get("line") or inputs["rectangle"])["from_m"]
    one = {k: x for k, x in inputs.items() if k != "rectangle"}
    one["line"] = {"from_m": at, "to_m": at, "steps": 0}
    one["rotation_step_rad"] = 2.0 * math.pi
    best = run(RULE, one).get("best")
    if best is None:
        return "does not suit"
    return f"{best['margin'] * 100:.0f} % room, least for {best['governed_by']}"


def _figure(inputs: Mapping[str, Any], best: Mapping[str, Any]) -> dict[str, Any]:
    ports = {p["id"]: p for p in inputs["ports"]}
    (cu, cw), turn = best["centre_m"], best["rotation_rad"]
    paths, faces = [], []
    for p in ports.values():
        a = p["angle_rad"] + turn
        at = (cu + p["reach_m"] * math.cos(a), cw + p["reach_m"] * math.sin(a))
        faces.append({"id": p["id"], "at_mm": points_mm([at])[0]})
    for h in inputs["hoses"]:
        p = ports[h["port"]]
        a = p["angle_rad"] + turn
        at = (cu + p["reach_m"] * math.cos(a), cw + p["reach_m"] * math.sin(a))
        turning = math.remainder(a + math.pi - h["fixed_angle_rad"], 2.0 * math.pi)
        end = End(at, h["fixed_angle_rad"] + turning)
        hose = hang(
            h["fixed_point_m"], h["fixed_angle_rad"], h["length_m"], h.get("end_fitting_m", 0.0)
        )
        shape = hung(hose, [end])[0].path
        path = () if shape is None else shape[:: max(1, len(shape) // 24)]
        paths.append({"id": h["id"], "path_mm": points_mm([h["fixed_point_m"], *path, at])})
    handle = inputs["handle"]
    return {
        "centre_mm": points_mm([best["centre_m"]])[0],
        "panel_mm": [x * 1e3 for x in inputs["panel_m"]],
        "ports": faces,
        "hoses": paths,
        "lever": {
            "length_mm": handle["length_m"] * 1e3,
            "from_deg": (handle["from_rad"] + turn) * DEG,
            "to_deg": (handle["to_rad"] + turn) * DEG,
        },
    }


LEVER, PLACES = "The lever", "Where it might go"
declare(
    Kind(
        "selector",
        TRADE,
        "fuel",
        "Selector’s place",
        "Where does the valve go, and how is it turned, so that its hoses and its lever have room?",
        (
            Field(
                "ports", "ports", "Ports of the valve, not turned", "table", needed=True,
                columns=(
                    Field("id", "id", "Port", needed=True, hint="left in"),
                    Field("angle", "angle_rad", "Points to, ° counter-clockwise", "angle", "deg",
                          needed=True),
                    Field("reach", "reach_m", "Centre to its face", "length", needed=True),
                ),
            ),
            Field(
                "hoses", "hoses", "Hoses that come to them", "table", needed=True,
                columns=(
                    Field("id", "id", "Hose", needed=True),
                    Field("port", "port", "To port", needed=True),
                    Field("fixed", "fixed_point_m", "Begins at: across; up", "length", many=2,
                          needed=True, hint="-350; 220"),
                    Field("angle", "fixed_angle_rad", "Leaves there at", "angle", "deg",
                          needed=True),
                    Field("length", "length_m", "Length", "length", needed=True),
                    Field("radius", "min_radius_m", "Least radius", "length", needed=True,
                          limit=True),
                    Field("fitting", "end_fitting_m", "Fitting", "length"),
                ),
            ),
            Field("lever", "length_m", "Length of the lever", "length", needed=True, under=LEVER),
            Field("from", "from_rad", "First position at", "angle", "deg", needed=True,
                  under=LEVER),
            Field("to", "to_rad", "Last position, counter-clockwise, at", "angle", "deg",
                  needed=True, under=LEVER),
            Field("panel", "panel_m", "It must sweep inside: left; low; right; high", "length",
                  many=4, needed=True, under=LEVER, hint="-120; -100; 160; 120"),
            Field("first", "from_m", "First place: across; up", "length", many=2, needed=True,
                  under=PLACES, hint="-40; 0"),
            Field("last", "to_m", "Last place: across; up", "length", many=2, under=PLACES),
            Field("steps", "steps", "Steps between them", "whole", under=PLACES, hint="4"),
            Field("steps_up", "steps_up", "Or over a rectangle: steps up", "whole", under=PLACES),
            Field("turns", "rotation_step_rad", "Turned in steps of", "angle", "deg",
                  under=PLACES, hint="45°"),
        ),
        _selector,
        "Try the handle with seats and covers in place.",
        "clearance",
    )
)  # fmt: skip
