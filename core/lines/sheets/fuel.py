"""A fuel system as it is joined: each finding by name, in every state of its selectors."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from core.basis.refused import Refused
from core.lines import fuel_topology  # noqa: F401
from core.lines.sheets.saying import TRADE, caution, connections, joined, schematic
from core.worksheets.kinds import Asked, Field, Kind, Worked, declare, run

RULE = "lines.fuel_topology"
WORDS = {
    "port_open": "{} leads nowhere: no line is joined to it.",
    "port_multiple": "{} has more than one line on it.",
    "tank_cannot_feed": "{} cannot feed the engine in any position.",
    "opposed": "{} stands against the flow.",
    "no_off": "Fuel to {} cannot be shut off by a valve on the airframe (14 CFR 23.995).",
    "dead_branch": "{} is on no path: nothing flows through it.",
    "vent_missing": "{} has no vent to the open air.",
    "vent_shared": "{} vents more than one tank.",
    "drain_missing": "{} has no drain valve.",
    "drain_not_low": "Not said that the drain of {} is at its lowest point.",
    "outlet_screen_missing": "Not said that {} has a screen at its outlet (14 CFR 23.977).",
    "strainer_missing": "Fuel of {} meets the engine or its pump before any strainer"
    " (14 CFR 23.997).",
    "gascolator_no_drain": "Not said that {} has a drain.",
    "gascolator_not_low": "{} is not the lowest point: water stands lower.",
    "return_blocked": "What the engine returns goes nowhere with {}.",
    "return_wrong_tank": "What the engine returns goes to another tank than it draws from"
    " with {}: a tank may overflow.",
    "pump_not_in_series": "Fuel can pass {} by.",
    "pump_not_in_parallel": "{} is not beside the other pump on a path of its own.",
    "parallel_pump_without_check": "{} needs a check valve of its own.",
    "pump_draws_two_tanks": "One pump draws from two tanks with {}: air of the empty one stops the"
    " engine (14 CFR 23.951).",
    "vents_not_interconnected": "Two tanks feed together with {} and their vents are not joined"
    " (14 CFR 23.975).",
    "not_fire_resistant": "{} is in the engine bay: it must resist fire (14 CFR 23.1183).",
    "no_flex": "{} joins airframe and engine: it must be flexible (14 CFR 23.993).",
}
# What may be true of a part, in words, and what the rule calls it.
IS = {
    "return": "has_return",
    "screen": "outlet_screen",
    "drain low": "drain_at_low_point",
    "drain": "has_drain",
    "engine-driven": "engine_driven",
}
KINDS = (
    ("tank", "tank"), ("selector", "selector or shut-off"), ("filter", "filter"),
    ("gascolator", "gascolator"), ("pump", "pump"), ("check_valve", "check valve"),
    ("tee", "tee"), ("vent_opening", "vent opening"), ("drain_valve", "drain valve"),
    ("cap", "cap"), ("sensor", "sensor"), ("engine", "engine"),
)  # fmt: skip


def _fuel(asked: Asked) -> Worked:
    inputs = inputs_of(asked)
    found = run(RULE, inputs)["findings"]
    checks = joined(
        found,
        WORDS,
        RULE,
        inputs,
        "Joined right in every position of its selectors.",
        "fuel system",
        [(code, subject) for code, subject in found if _unsaid(code, subject, inputs)],
    )
    return Worked(tuple(checks), (), schematic(inputs, found, WORDS))


def _unsaid(code: str, subject: str, inputs: Mapping[str, Any]) -> bool:
    """Whether a finding only says that nobody said the thing."""
    if code in ("drain_not_low", "outlet_screen_missing", "gascolator_no_drain"):
        return True
    field = {"not_fire_resistant": "fire_resistant", "no_flex": "flexible"}.get(code)
    return any(field and x["id"] == subject and field not in x for x in inputs["connections"])


def inputs_of(asked: Asked) -> dict[str, Any]:
    """What was typed, as the rule takes it. Refuses words that say nothing of a part."""
    v = asked.values
    design: dict[str, Any] = asked.only("return_to", "vents_interconnected")
    if "pumps" in v:
        design["pumps"] = {"arrangement": v.get("arrangement", "series"), "ids": v["pumps"]}
    return {
        "components": [_component(c) for c in v["components"]],
        "connections": v["connections"],
        "design": design,
    }


def _component(row: Mapping[str, Any]) -> dict[str, Any]:
    found = {k: v for k, v in row.items() if k not in ("is", "positions")}
    for word in row.get("is", []):
        if word not in IS:
            raise Refused("components", f"{row['id']}: say one of {', '.join(IS)}; not {word}")
        found[IS[word]] = True
    if row["kind"] == "selector":
        found["positions"] = positions(row)
    return found


def positions(row: Mapping[str, Any]) -> dict[str, list[list[str]]]:
    """`left: in-out, ret-back; off:` as the rule has it. Refuses what is no such thing."""
    found: dict[str, list[list[str]]] = {}
    for text in row.get("positions", []):
        name, colon, pairs = text.partition(":")
        if not colon or not name.strip():
            raise Refused("components", f"{row['id']}: a position is “name: port>port, port>port”")
        found[name.strip()] = [
            [end.strip() for end in pair.split(">")] for pair in pairs.split(",") if pair.strip()
        ]
        if any(len(p) != 2 for p in found[name.strip()]):
            raise Refused("components", f"{row['id']}, {name.strip()}: joins ports two by two")
    if not found:
        raise Refused("components", f"{row['id']}: enter what each position of it joins")
    return found


START = {
    "Two tanks, one selector, engine-driven pump": {
        "parts": [
            {"id": "left tank", "kind": "tank", "z": "900"},
            {"id": "right tank", "kind": "tank", "z": "900"},
            {"id": "left vent", "kind": "vent_opening"},
            {"id": "right vent", "kind": "vent_opening"},
            {"id": "left sump", "kind": "drain_valve"},
            {"id": "right sump", "kind": "drain_valve"},
            {
                "id": "selector",
                "kind": "selector",
                "z": "200",
                "ports": "left; right; out",
                "positions": "left: left>out; right: right>out; off:",
            },
            {"id": "gascolator", "kind": "gascolator", "z": "50"},
            {"id": "engine pump", "kind": "pump", "mount": "engine", "is": "engine-driven"},
            {"id": "engine", "kind": "engine", "mount": "engine"},
        ],
        "lines": [
            {"id": "L1", "a": "left tank.outlet", "b": "selector.left"},
            {"id": "L2", "a": "right tank.outlet", "b": "selector.right"},
            {"id": "L3", "a": "selector.out", "b": "gascolator.in"},
            {"id": "H1", "a": "gascolator.out", "b": "engine pump.in", "flexible": "yes"},
            {"id": "H2", "a": "engine pump.out", "b": "engine.in", "flexible": "yes"},
            {"id": "V1", "a": "left tank.vent", "b": "left vent.a"},
            {"id": "V2", "a": "right tank.vent", "b": "right vent.a"},
            {"id": "D1", "a": "left tank.drain", "b": "left sump.a"},
            {"id": "D2", "a": "right tank.drain", "b": "right sump.a"},
        ],
    }
}
YESNO = (("yes", "yes"), ("no", "no"))
DESIGN = "How it is meant"
LINES = connections()
declare(
    Kind(
        "fuel system",
        TRADE,
        "fuel",
        "Fuel system",
        "Is it joined right: does each tank feed, vent, drain and shut off in every position?",
        (
            Field(
                "parts", "components", "Parts, with what is true of them", "table", needed=True,
                columns=(
                    Field("id", "id", "Part", needed=True, hint="left tank"),
                    Field("kind", "kind", "Kind", "choice", needed=True, choices=KINDS),
                    Field("mount", "mount", "On the", "choice",
                          choices=(("airframe", "airframe"), ("engine", "engine"))),
                    Field("z", "z", "Water line", "length"),
                    Field("is", "is", "Said of it", "words", hint=" ; ".join(IS)),
                    Field("ports", "ports", "A selector’s ports", "words",
                          hint="left; right; out"),
                    Field("positions", "positions", "Its positions: what each joins", "words",
                          hint="left: left>out; off:"),
                ),
            ),
            Field(
                LINES.key, LINES.name, LINES.label, "table", needed=True,
                columns=(
                    *LINES.columns,
                    Field("flexible", "flexible", "Flexible", "yes", choices=YESNO),
                    Field("fire", "fire_resistant", "Resists fire", "yes", choices=YESNO),
                    Field("zone", "engine_zone", "In the engine bay", "yes", choices=YESNO),
                ),
            ),
            Field("arrangement", "arrangement", "Pumps are meant", "choice",
                  choices=(("series", "one after the other"), ("parallel", "side by side")),
                  under=DESIGN),
            Field("pumps", "pumps", "These pumps, parted by ;", "words", under=DESIGN),
            Field("return_to", "return_to", "What returns goes to (none: the tank that feeds)",
                  under=DESIGN),
            Field("vents", "vents_interconnected", "Vents are joined by design", "yes",
                  choices=YESNO, under=DESIGN),
        ),
        _fuel,
        caution(RULE),
        "test",
        starters=START,
    )
)  # fmt: skip
