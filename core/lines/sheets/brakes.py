"""Brakes: joined right from both seats, and what a pedal moves."""

from __future__ import annotations

from typing import Any

from core.basis.verdicts import Verdict
from core.lines import brakes  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, connections, joined, mm, schematic
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, lacking, run, said, unsaid

JOINED, MOVES = "lines.brake_topology", "lines.brake_displacement"
WORDS = {
    "port_open": "{} leads nowhere: no line is joined to it.",
    "port_multiple": "{} has more than one line on it.",
    "no_caliper": "{} reaches no caliper.",
    "wrong_wheel": "{}: it brakes the wheel of the other side.",
    "pressure_to_reservoir": "Pressed, {} pushes its fluid back through a released cylinder"
    " instead of to the wheel.",
    "no_reservoir": "{} gets no fluid from a reservoir.",
    "sides_share": "{} belongs to both sides: one pedal brakes both wheels.",
    "no_bleed_point": "Not said that {} has a bleed point.",
    "not_braked_from": "{}: this wheel cannot be braked from that seat.",
}
KINDS = (
    ("cylinder", "cylinder"), ("caliper", "caliper"), ("reservoir", "reservoir"), ("tee", "tee"),
    ("shuttle", "shuttle valve"), ("park_valve", "park valve"), ("cap", "cap"),
)  # fmt: skip


def _brakes(asked: Asked) -> Worked:
    inputs = {
        "components": [_part(c) for c in asked.values["components"]],
        "connections": asked.values["connections"],
    }
    found = run(JOINED, inputs)["findings"]
    unsaid_ = [(code, s) for code, s in found if code == "no_bleed_point"]
    fine = "Each pedal of each seat brakes its own wheel alone."
    checks = joined(found, WORDS, JOINED, inputs, fine, "brakes", unsaid_)
    return Worked(tuple(checks), (), schematic(inputs, found, WORDS))


def _part(row: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in row.items() if k != "bleed"} | (
        {"bleed_point": row["bleed"]} if "bleed" in row else {}
    )


YESNO = (("yes", "yes"), ("no", "no"))
SIDES = (("left", "left"), ("right", "right"))


def _seat(side: str) -> list[dict[str, str]]:
    return [
        {"id": f"second {side}", "kind": "cylinder", "station": "second seat", "side": side},
        {"id": f"first {side}", "kind": "cylinder", "station": "first seat", "side": side},
        {"id": f"{side} caliper", "kind": "caliper", "side": side, "bleed": "yes"},
    ]


def _pipes(side: str, n: str) -> list[dict[str, str]]:
    return [
        {"id": f"B{n}1", "a": f"reservoir.{side}", "b": f"second {side}.in"},
        {"id": f"B{n}2", "a": f"second {side}.out", "b": f"first {side}.in"},
        {"id": f"B{n}3", "a": f"first {side}.out", "b": f"{side} caliper.in"},
    ]


declare(
    Kind(
        "brake system",
        TRADE,
        "brakes",
        "Brake system",
        "Does each pedal of each seat brake its own wheel, and no other?",
        (
            Field(
                "parts", "components", "Parts", "table", needed=True,
                columns=(
                    Field("id", "id", "Part", needed=True, hint="first left"),
                    Field("kind", "kind", "Kind", "choice", needed=True, choices=KINDS),
                    Field("station", "station", "Seat of a cylinder", hint="first seat"),
                    Field("side", "side", "Side", "choice", choices=SIDES),
                    Field("bleed", "bleed", "Bleed point", "yes", choices=YESNO),
                    Field("ports", "ports", "A reservoir’s ports", "words", hint="left; right"),
                ),
            ),
            connections(),
        ),
        _brakes,
        caution(JOINED),
        "test",
        starters={
            "Toe brakes of two seats, in series": {
                "parts": [
                    {"id": "reservoir", "kind": "reservoir", "ports": "left; right"},
                    *_seat("left"),
                    *_seat("right"),
                ],
                "lines": [*_pipes("left", "1"), *_pipes("right", "2")],
            }
        },
    )
)  # fmt: skip


def _pedal(asked: Asked) -> Worked:
    inputs = asked.only(
        "pistons", "piston_m", "gap_m", "pedal_N", "pedal_ratio", "bore_m", "stroke_available_m"
    )
    inputs["hoses"] = asked.values.get("hoses", [])
    rated = {r["id"]: r["rated_Pa"] for r in asked.values.get("rated", [])}
    if rated:
        inputs["rated_Pa"] = rated
    found = run(MOVES, inputs)
    bar = f"{found['pressure_Pa'] / 1e6:.2f} MPa"
    facts = (
        ("Pressure at the pistons", bar),
        ("Fluid moved", f"{found['volume_m3'] * 1e6:.2f} ml"),
        ("Stroke of the cylinder", mm(found["stroke_m"], 1)),
        ("Travel of the pedal", mm(found["pedal_travel_m"], 1)),
    )
    missing = lacking(
        inputs,
        ("rated_Pa", "what each part is rated for"),
        ("stroke_available_m", "the cylinder’s stroke"),
    )
    if missing and found["verdict"] != "out":
        return Worked((unsaid("pedal", "pedal", *missing),), facts)
    words = f"{bar} at the pistons, stroke {mm(found['stroke_m'], 1)}"
    if "stroke_available_m" in inputs:
        words += f" of {mm(inputs['stroke_available_m'], 1)}"
    if found.get("weakest"):
        words += f"; weakest is {found['weakest']}, rated {found['rated_Pa'] / 1e6:.2f} MPa"
    check = said("pedal", "pedal", f"{words}.", Verdict(found["verdict"]), MOVES, inputs)
    return Worked((check,), facts)


declare(
    Kind(
        "brake pedal",
        TRADE,
        "brakes",
        "What a brake pedal moves",
        "Does its stroke suffice, and does every part hold the pressure?",
        (
            Field("force", "pedal_N", "Force of the foot", "force", "N", "300 N", needed=True),
            Field("ratio", "pedal_ratio", "Foot travel over cylinder travel", "number", "1",
                  "2.5", needed=True),
            Field("bore", "bore_m", "Bore of the cylinder", "length", hint="15.9", needed=True),
            Field("stroke", "stroke_available_m", "Its stroke to its stop", "length", hint="12.5"),
            Field("pistons", "pistons", "Pistons moved in this circuit", "whole", hint="2",
                  needed=True),
            Field("piston", "piston_m", "Diameter of each", "length", hint="38", needed=True),
            Field("gap", "gap_m", "Pads to disc, both sides together", "length", hint="0.4",
                  needed=True),
            Field(
                "hoses", "hoses", "Hoses in it (none: hard tube)", "table",
                columns=(
                    Field("length", "length_m", "Length", "length", needed=True),
                    Field("swell", "swell_m3_per_m_Pa", "Swells, ml in a metre at 1 MPa",
                          "number", "1", needed=True, scale=1e-12),
                ),
            ),
            Field(
                "rated", "rated", "What each part is rated for", "table", limit=True,
                columns=(
                    Field("id", "id", "Part", needed=True),
                    Field("rated", "rated_Pa", "Rated", "pressure", "MPa", needed=True),
                ),
            ),
        ),
        _pedal,
        caution(MOVES),
    )
)  # fmt: skip
