"""Rule book: hinge line and mass balance of a surface."""

from __future__ import annotations

from typing import Any

from core.basis.refused import Refused, finite
from core.controls.hinge import Weighing, hinge_fraction, hinge_straightness, mass_balance
from core.rulebook.fields import Field
from core.rulebook.rules.entry import VERDICT, Entry
from core.rulebook.rules.hardware_bolts import numbers_of

FLUTTER = (
    "Flutter. Balance and hinge limits come from the maker only; a repaint or repair changes"
    " them; balance weights need the maker's attachment. In here is no statement about flutter"
    " speed (14 CFR 23.629, 23.659 as reading)."
)


def _fraction(x: dict[str, Any]) -> dict[str, Any]:
    stations = []
    for i, s in enumerate(x["stations"]):
        given = numbers_of(s, f"stations.{i}", ("ahead_mm", "chord_mm"))
        pair = [finite(given[k], f"stations.{i}.{k}") / 1e3 for k in ("ahead_mm", "chord_mm")]
        stations.append((pair[0], pair[1]))
    rows, worst = hinge_fraction(stations, x.get("lo"), x.get("hi"), x.get("accuracy", 0.0))
    shown = [
        {"fraction": r.fraction, "overhang": r.overhang, "U": r.U, "verdict": r.verdict.value}
        for r in rows
    ]
    return {"rows": shown, "worst": worst.value}


def _straightness(x: dict[str, Any]) -> dict[str, Any]:
    points = []
    for i, p in enumerate(x["points"]):
        if not isinstance(p, list) or len(p) != 3:
            raise Refused(f"points.{i}", "must be three numbers")
        points.append([finite(v, f"points.{i}") / 1e3 for v in p])
    s = hinge_straightness(points)
    return {
        "fit_deviation_mm": s.fit_deviation,
        "max_fit_mm": s.max_fit,
        "off_end_line_mm": s.off_end_line,
        "max_off_mm": s.max_off,
    }


def _balance(x: dict[str, Any]) -> dict[str, Any]:
    b = mass_balance(
        Weighing(
            x["scale_kg"],
            x["arm"],
            x.get("tare_kg", 0.0),
            x.get("surface_mass_kg"),
            x.get("scale_accuracy_kg", 0.0),
            x.get("arm_accuracy", 0.0),
        ),
        x.get("weight_arm"),
        x.get("aim_Nm"),
        x.get("lo_Nm"),
        x.get("hi_Nm"),
    )
    out: dict[str, Any] = {"moment_Nm": b.moment, "U_Nm": b.U}
    if b.verdict is not None:
        out["verdict"] = b.verdict.value
    if b.cg_aft is not None:
        out["cg_aft_mm"] = b.cg_aft
    if b.weight_change is not None:
        out["weight_change_kg"] = b.weight_change
    return out


ENTRIES = (
    Entry(
        "controls.hinge_fraction",
        "Hinge position on the chord",
        "Does the hinge lie where the maker wants it, at every station?",
        (
            Field("stations", "list", "{ahead_mm nose to hinge, chord_mm}, by station.", True),
            Field("lo", doc="Least fraction."),
            Field("hi", doc="Greatest fraction."),
            Field("accuracy_mm", doc="Half-width of each length."),
        ),
        (
            Field("rows", "list", "Fraction, overhang, U and verdict by station."),
            Field("worst", "text", "The worst verdict."),
        ),
        _fraction,
        "Plane geometry; JCGM 106:2012, 8.3 for the verdict.",
        "Square to the hinge line.",
        FLUTTER,
    ),
    Entry(
        "controls.hinge_straightness",
        "Are the hinges in one line",
        "How far does each hinge point lie off the line of all, and off the line of the ends?",
        (Field("points_mm", "list", "Three or more [x, y, z], in order.", True),),
        (
            Field("fit_deviation_mm", "numbers", "Off the best line."),
            Field("max_fit_mm", doc="The greatest."),
            Field("off_end_line_mm", "numbers", "Off the line through the first and the last."),
            Field("max_off_mm", doc="The greatest."),
        ),
        _straightness,
        "Total least squares (first principal direction through the mean).",
        "Bearing play decides the limit: yours.",
        FLUTTER,
    ),
    Entry(
        "controls.mass_balance",
        "Mass balance of a surface",
        "How heavy is the trailing edge, and what weight brings it to the aim?",
        (
            Field("scale_kg", doc="Scale under the trailing edge.", required=True),
            Field("tare_kg", doc="What stands on the scale besides (negative: held down)."),
            Field("arm_mm", doc="Scale behind the hinge.", required=True),
            Field("surface_mass_kg", doc="Mass of the surface."),
            Field("weight_arm_mm", doc="Balance weight ahead of the hinge."),
            Field("aim_Nm", doc="Hinge moment to reach, + trailing-edge heavy."),
            Field("scale_accuracy_kg", doc="Half-width of the scale."),
            Field("arm_accuracy_mm", doc="Half-width of the arm."),
            Field("lo_Nm", doc="Low limit, the maker's."),
            Field("hi_Nm", doc="High limit, the maker's."),
        ),
        (
            Field("moment_Nm", doc="Hinge moment, + trailing-edge heavy."),
            Field("U_Nm", doc="Expanded uncertainty."),
            VERDICT,
            Field("cg_aft_mm", doc="Centre of mass aft of the hinge."),
            Field("weight_change_kg", doc="Weight to add (negative: take off)."),
        ),
        _balance,
        "Statics; g = 9.80665 m/s² (exact by definition).",
        "Weigh with paint, tabs, rod and fittings as flown; hinge friction under the scale's"
        " resolution; chord level within 5°.",
        FLUTTER,
    ),
)
