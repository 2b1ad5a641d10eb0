"""A hose whose end moves: through the whole of the pedal's travel at each adjustment."""

from __future__ import annotations

import json
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import lru_cache
from typing import Any

import numpy as np

from core.basis.checks import Check
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines.hose_moving import NO_CURVE, End, hang, hung
from core.lines.sheets.saying import DEG, TRADE, deg, mm, points_mm
from core.lines.words import HOSE, PEDALS
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run, said, unsaid
from core.worksheets.things import Turning

STEPS, DRAWN = 21, 24
RULE = "lines.hose_moving"
FOUND = {
    "hose_too_short": "the hose is too short",
    "no_curve": "the hose is nearly taut, or its ends point the wrong way",
    "bend_too_tight": "bends tighter than its maker allows",
    "too_little_slack": "has too little slack",
    "chafe": "comes too near to what stands beside it",
}
LONGEST = 2.0
# What is drawn and can be moved: field, its name among the values, in words.
GRIPS = (
    ("fixed", "fixed_point_m", "Fixed end"),
    ("pivot", "pivot_m", "Pedal’s pivot"),
    ("end", "hose_end_m", "Moving end at pedal 0°"),
)


def _moving(asked: Asked) -> Worked:
    driver: Turning | None = asked.things.get("driver")
    given = dict(asked.values)
    ends = ("pedal_from_rad", "pedal_to_rad")
    if driver is None:
        for name in ends:
            if name not in given:
                raise Refused(name, "enter the pedal’s travel, or choose what moves it")
        return _worked(json.dumps(given, sort_keys=True))
    for name in ends:
        if name in given:
            raise Refused(
                name, f"is that of {driver.name}: leave it empty, or choose nothing there"
            )
    if "sense" not in given:
        raise Refused("sense", "say which way it turns here as the control turns it")
    sense = int(given["sense"])
    travel = sorted((sense * driver.low_rad, sense * driver.high_rad))
    found = _worked(json.dumps(given | dict(zip(ends, travel, strict=True)), sort_keys=True))
    moved = ("Moved by", f"{driver.name}, {driver.said}")
    checks = [
        replace(
            c,
            origins={k: v.replace("the pedal’s", f"{driver.name}’s") for k, v in c.origins.items()},
        )
        for c in found.checks
    ]
    return replace(found, checks=tuple(checks), facts=(moved, *found.facts))


@lru_cache(maxsize=128)
def _worked(values: str) -> Worked:
    """Of the same hose once: its shapes take a while."""
    asked = Asked("", json.loads(values), date.min)
    v = asked.values
    angles = _angles(v["pedal_from_rad"], v["pedal_to_rad"])
    settings = [[r["u_m"], r["w_m"]] for r in v.get("adjustments_m", [])] or [[0.0, 0.0]]
    names = [r.get("id", str(n)) for n, r in enumerate(v.get("adjustments_m", []), 1)] or [""]
    at = run(
        "lines.pedal_positions",
        {
            **asked.only("pivot_m", "hose_end_m", "hose_end_angle_rad"),
            "pedal_angles_rad": angles,
            "adjustments_m": settings,
        },
    )["positions"]
    inputs = {"positions": at} | asked.only(
        "fixed_point_m", "fixed_angle_rad", "length_m", "min_radius_m", "end_fitting_m",
        "hose_od_m", "min_clearance_m", "slack_min",
    )  # fmt: skip
    around = [
        {"point_m": [o["u_m"], o["w_m"]], "radius_m": o["radius_m"]} for o in v.get("obstacles", [])
    ]
    if around:
        inputs["obstacles"] = around
    found = _found(inputs)
    where = [(n, a) for n in names for a in angles]
    checks = tuple(_checks(found["positions"], where, names, inputs))
    if around and "min_clearance_m" not in inputs:
        checks += (unsaid("clearance", "clearance", "how far it must stay from what is beside it"),)
    facts = tuple(_facts(found, inputs))
    if any(c.verdict is Verdict.OUT for c in checks):
        facts += (("A hose that would do here", _would(inputs)),)
    return Worked(checks, facts, _figure(inputs, found, where, v))


def _found(inputs: Mapping[str, Any]) -> dict[str, Any]:
    """What the rule says; where one position has no curve, of each position by itself."""
    try:
        return run(RULE, inputs)
    except Refused as refusal:
        if refusal.reason != NO_CURVE:
            raise
    each = []
    for p in inputs["positions"]:
        try:
            each += run(RULE, {**inputs, "positions": [p]})["positions"]
        except Refused:
            each.append({"finding": "no_curve", "slack": 0.0})
    return {"positions": each, "verdict": "out"}


def _angles(first: float, last: float) -> list[float]:
    """The whole of the travel in even steps, both ends among them."""
    if first == last:
        return [first]
    return [float(a) for a in np.linspace(first, last, STEPS)]


def _checks(
    found: list[dict[str, Any]],
    where: list[tuple[str, float]],
    names: list[str],
    inputs: Mapping[str, Any],
) -> Iterable[Check]:
    """One check for each adjustment: its worst position by name."""
    for name in names:
        here = [
            (f, a, p)
            for f, (n, a), p in zip(found, where, inputs["positions"], strict=True)
            if n == name
        ]
        bad = [(f, a) for f, a, _ in here if f["finding"] != "none"]
        # The rule has no answer for a position without a curve: it is told in words alone.
        of = [p for f, _, p in here if f["finding"] != "no_curve"]
        own, rule = {**inputs, "positions": of}, RULE
        if not bad:
            tight = min(f["min_radius_m"] for f, _, _ in here)
            slack = min(f["slack"] for f, _, _ in here)
            words = (
                f"Tightest bend {mm(tight, 1)}, at least {mm(inputs['min_radius_m'], 1)};"
                f" least slack {slack * 100:.0f} %."
            )
            verdict = Verdict.IN
        else:
            order = list(FOUND)
            worst, a = min(bad, key=lambda x: (order.index(x[0]["finding"]), x[0]["slack"]))
            words = f"At pedal {deg(a)} {FOUND[worst['finding']]}{_much(worst, inputs)}."
            verdict = Verdict.OUT
            if worst["finding"] == "no_curve":
                own, rule = {}, ""
        what = f"through travel, {name}" if name else "through travel"
        told = f"the pedal’s travel in {STEPS} steps at this adjustment"
        origins = {"positions": told} if own else {}
        yield said(
            f"travel {name}".strip(), what, words, verdict, rule, own,
            step="clearance", origins=origins,
        )  # fmt: skip


def _much(f: Mapping[str, Any], inputs: Mapping[str, Any]) -> str:
    if f["finding"] == "no_curve":
        return ""
    if f["finding"] == "hose_too_short":
        return f": its ends are {mm(f['chord_m'])} apart"
    if f["finding"] == "bend_too_tight":
        got = mm(f["min_radius_m"], 1) if f.get("min_radius_m") else "no shape"
        return f": {got} of {mm(inputs['min_radius_m'], 1)}"
    if f["finding"] == "too_little_slack":
        return f": {f['slack'] * 100:.1f} %"
    return f": {mm(f['clearance_m'], 1)}"


def _facts(found: Mapping[str, Any], inputs: Mapping[str, Any]) -> Iterable[tuple[str, str]]:
    gaps = [p["clearance_m"] for p in found["positions"] if p.get("clearance_m") is not None]
    if gaps:
        yield "Least clearance", mm(min(gaps), 1)
    yield "Positions looked at", str(len(found["positions"]))


def _would(inputs: Mapping[str, Any]) -> str:
    """The shortest hose between the same ends, or that there is none."""
    keep = ("fixed_point_m", "fixed_angle_rad", "positions", "min_radius_m", "end_fitting_m",
            "slack_min")  # fmt: skip
    asked = {k: inputs[k] for k in keep if k in inputs}
    try:
        found = run(
            "lines.hose_free_length", asked | {"max_length_m": LONGEST * inputs["length_m"]}
        )
    except Refused:
        return f"None up to {mm(LONGEST * inputs['length_m'])}: tie it elsewhere and try."
    return f"{math.ceil(found['length_m'] * 1e3)} mm, governed by its {found['governed_by']}"


def _worst(positions: Sequence[Mapping[str, Any]]) -> int:
    """The position that is to be looked at first: the worst finding, else the tightest bend."""
    bad = [n for n, p in enumerate(positions) if p["finding"] != "none"]
    if bad:
        order = list(FOUND)
        return min(bad, key=lambda n: (order.index(positions[n]["finding"]), positions[n]["slack"]))
    return min(range(len(positions)), key=lambda n: positions[n]["min_radius_m"])


def _figure(
    inputs: Mapping[str, Any],
    found: Mapping[str, Any],
    where: list[tuple[str, float]],
    given: Mapping[str, Any],
) -> dict[str, Any]:
    hose = hang(
        inputs["fixed_point_m"],
        inputs["fixed_angle_rad"],
        inputs["length_m"],
        inputs.get("end_fitting_m", 0.0),
    )
    ends = [End(tuple(p["point_m"]), p["angle_rad"]) for p in inputs["positions"]]
    shapes = []
    for h, (name, angle), f, end in zip(
        hung(hose, ends), where, found["positions"], ends, strict=True
    ):
        path = () if h.path is None else h.path[:: max(1, len(h.path) // DRAWN)]
        last = () if h.path is None else [h.path[-1], end.point_m]
        shapes.append(
            {
                "setting": name,
                "pedal_deg": round(angle * DEG, 2),
                "finding": f["finding"],
                "path_mm": points_mm([inputs["fixed_point_m"], *path, *last])
                if h.path is not None
                else points_mm([inputs["fixed_point_m"], end.point_m]),
            }
        )
    around = [
        {"at_mm": points_mm([o["point_m"]])[0], "radius_mm": o["radius_m"] * 1e3}
        for o in inputs.get("obstacles", [])
    ]
    return {
        "shapes": shapes,
        "worst": _worst(found["positions"]),
        "obstacles": around,
        "od_mm": inputs.get("hose_od_m", 0.010) * 1e3,
        "grips": [
            {"key": key, "word": word, "at_mm": points_mm([given[name]])[0]}
            for key, name, word in GRIPS
        ],
    }


PEDAL, HANG = "The pedal", "What stands beside it"
FIELDS = (
    Field("fixed", "fixed_point_m", "Fixed end: across; up", "length", many=2, needed=True,
          hint="200; 0"),
    Field("fixed_angle", "fixed_angle_rad", "It leaves there at", "angle", "deg", "90°",
          needed=True),
    Field("length", "length_m", "Length of the hose with fittings", "length", needed=True,
          hint="420"),
    Field("fitting", "end_fitting_m", "Rigid length of each fitting", "length", hint="15"),
    Field("radius", "min_radius_m", "The maker’s least bend radius", "length", needed=True,
          limit=True, hint="60"),
    Field("od", "hose_od_m", "Outside diameter", "length", hint="11"),
    Field("pivot", "pivot_m", "Pedal’s pivot: across; up", "length", many=2, needed=True,
          under=PEDAL, hint="0; -120"),
    Field("end", "hose_end_m", "Moving end at pedal 0°: across; up", "length", many=2,
          needed=True, under=PEDAL, hint="0; 60"),
    Field("end_angle", "hose_end_angle_rad", "It arrives there at, along the hose", "angle",
          "deg", "258°", needed=True, under=PEDAL),
    Field("driver", "driver", "What moves it, through its whole travel", "thing",
          under=PEDAL, things="turning"),
    Field("sense", "sense", "Here it turns, as its control’s angle grows", "choice", under=PEDAL,
          choices=(("1", "counter-clockwise"), ("-1", "clockwise"))),
    Field("from", "pedal_from_rad", "Or: pedal from", "angle", "deg", "-17°", under=PEDAL),
    Field("to", "pedal_to_rad", "Pedal to", "angle", "deg", "20°", under=PEDAL),
    Field(
        "adjustments", "adjustments_m", "Adjustments: how far each setting moves the pivot",
        "table", under=PEDAL,
        columns=(
            Field("id", "id", "Setting", hint="nearest"),
            Field("u", "u_m", "Across", "length", needed=True),
            Field("w", "w_m", "Up", "length", needed=True),
        ),
    ),
    Field(
        "obstacles", "obstacles", "Round things in its plane", "table", under=HANG,
        columns=(
            Field("u", "u_m", "Across", "length", needed=True),
            Field("w", "w_m", "Up", "length", needed=True),
            Field("radius", "radius_m", "Radius", "length", needed=True),
        ),
    ),
    Field("clearance", "min_clearance_m", "Least clearance to them", "length", under=HANG),
    Field("slack", "slack_min", "Least slack, % of its length", "number", "1", scale=0.01,
          under=HANG, hint="5"),
)  # fmt: skip

declare(
    Kind(
        "moving hose",
        TRADE,
        "hoses",
        "Hose whose end moves",
        "Does it reach, bend and clear at every pedal position and adjustment?",
        FIELDS,
        _moving,
        PEDALS + " " + HOSE,
        "clearance",
    )
)
