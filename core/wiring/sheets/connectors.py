"""Connectors with their pins and wires, ends that would vanish, how much is really done."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from core.wiring import connectors, finishing  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Refused,
    Verdict,
    Worked,
    awg,
    ident,
    plain,
    run,
    said,
    sheet,
    shown,
    yes,
)  # fmt: skip
from core.wiring.words import CAPTIVE, CAUTION

PINS, CAPTIVES, DONE = "wiring.connector_check", "wiring.captive_end", "wiring.completeness"
WORDS = {
    "unterminated": "ends nowhere",
    "unknown_pin": "is no pin of a connector here",
    "contact_gauge": "does not take that gauge",
    "duplicate_pin": "has two wires or more",
    "same_contacts_mated": "have the same contacts",
    "mate_not_mutual": "and its mate do not name each other",
    "no_wire_opposite": "has no wire opposite",
    "too_many_splices": "has too many splices",
    "splice_near_end": "has a splice too near its end",
    "shield_floating": "has a shield that is grounded nowhere",
    "shield_both_ends": "has a shield that is grounded at both ends",
}
UNDONE = ("unterminated", "no_wire_opposite")


def pins_of(text: Sequence[str], name: str, field: str = "connectors") -> dict[str, list[str]]:
    """`1-4 24 20`: pins 1 to 4 take AWG 24 to 20."""
    found: dict[str, list[str]] = {}
    for part in text:
        words = part.split()
        if len(words) != 3:
            raise Refused(field, f"{name}: write pins and both gauges, as 1-4 24 20")
        span = re.fullmatch(r"(\d+)-(\d+)", words[0])
        pins = [words[0]]
        if span:
            low, high = int(span[1]), int(span[2])
            if not low <= high < low + 200:
                raise Refused(field, f"{name}: {words[0]} is no row of pins")
            pins = [str(n) for n in range(low, high + 1)]
        found |= {p: words[1:] for p in pins}
    return found


def place_of(text: str | None, name: str, field: str = "conductors") -> dict[str, str] | None:
    """`P1.3`: pin 3 of connector P1."""
    if not text:
        return None
    connector, dot, pin = text.rpartition(".")
    if not dot:
        raise Refused(field, f"{name}: write connector and pin, as P1.3")
    return {"connector": connector, "pin": pin}


SHIELD = {"a": (True, False), "b": (False, True), "both": (True, True), "none": (False, False)}


def _connectors(asked: Asked) -> Worked:
    v = asked.values
    wires = []
    for w in v["conductors"]:
        one: dict[str, Any] = plain(w, "id", "awg", "length_m", "splices_m")
        one |= {end: place_of(w.get(end), w["id"]) for end in "ab"}
        if "shield" in w:
            a, b = SHIELD[w["shield"]]
            one["shield"] = {"a": a, "b": b}
        wires.append(one)
    inputs = {
        "connectors": [
            plain(c, "id", "contacts", "mate") | {"pins": pins_of(c["pins"], c["id"])}
            for c in v["connectors"]
        ],
        "conductors": wires,
    } | asked.only("max_splices", "splice_clear_m")
    found = run(PINS, inputs)
    excepted = {r["where"]: r["why"] for r in v.get("excepted", [])}
    checks = []
    for code, where in found["findings"]:
        words, verdict = f"{where} {WORDS[code]}.", Verdict.OUT
        if code in UNDONE:
            verdict = Verdict.NOT_MEASURED
        if where in excepted:
            verdict, words = Verdict.ACCEPTED, f"{words} Accepted: {excepted[where]}."
        checks.append(said(f"{code} {where}", where, words, verdict, PINS, inputs))
    if not checks:
        words = "Every wire ends on a pin that takes it."
        checks.append(said("connectors", "connectors", words, Verdict.IN, PINS, inputs))
    facts = tuple((f"Spare pins of {c}", str(n)) for c, n in found["spare_pins"].items())
    return Worked(tuple(checks), facts)


RULES = "Splices"
sheet(
    "connectors", "connectors", "Connectors and wires",
    "Does every wire end where it belongs, on a pin that takes its gauge?",
    (
        Field("connectors", "connectors", "Connectors", "table", needed=True, columns=(
            ident("Connector", "P1"),
            Field("contacts", "contacts", "Contacts", "choice", needed=True,
                  choices=(("pin", "pins"), ("socket", "sockets"))),
            Field("mate", "mate", "Goes with", hint="J1"),
            Field("pins", "pins", "Pins with thinnest and thickest gauge", "words", needed=True,
                  hint="1-4 24 20; 5 20 16"),
        )),
        Field("conductors", "conductors", "Wires", "table", needed=True, columns=(
            ident("Wire", "W10"), awg("awg", "awg", "Gauge", needed=True),
            Field("length", "length_m", "Length", "length", needed=True),
            Field("a", "a", "End a", hint="P1.1"), Field("b", "b", "End b", hint="J2.4"),
            Field("splices", "splices_m", "Splices from end a", "length", many=0),
            Field("shield", "shield", "Shield grounded", "choice",
                  choices=(("a", "at end a"), ("b", "at end b"), ("both", "at both"),
                           ("none", "nowhere"))),
        )),
        Field("excepted", "excepted", "Accepted on purpose", "table", columns=(
            Field("where", "where", "Where", needed=True, hint="P1.1"),
            Field("why", "why", "Because", needed=True, hint="double crimp as its maker allows"),
        )),
        Field("most", "max_splices", "Splices in a wire, at most", "whole", under=RULES, hint="1",
              limit=True),
        Field("clear", "splice_clear_m", "From a termination, at least", "length", under=RULES,
              hint="12 in", limit=True),
    ),
    _connectors, CAUTION,
)  # fmt: skip


def _captive(asked: Asked) -> Worked:
    checks = []
    for row in asked.values["ends"]:
        end = plain(row, "id", "end_m", "support_m", "reach_m", "held", "connector_m", "hole_m",
                    "U_m")  # fmt: skip
        if end.get("held") == "no":
            end.pop("held")
        inputs = {"ends": [end]}
        found = run(CAPTIVES, inputs)["ends"][0]
        words = (
            f"Let go it lies up to {found['farthest_m'] * 1e3:.0f} mm behind the opening, a hand"
            f" reaches {row['reach_m'] * 1e3:.0f} mm."
        )
        if found["verdict"] != "in":
            words += " Tie it before the last screw is out."
        missing = [] if "U_m" in row else ["how well the lengths are known"]
        if "held" not in row:
            missing.append("whether anything holds it")
        verdict, words = shown(found["verdict"], words, missing)
        if row.get("held") in ("tie", "bracket"):
            held = "tied" if row["held"] == "tie" else "held by a bracket"
            verdict, words = Verdict.IN, f"It is {held}."
        elif row.get("held") == "connector" and found["slips_back_m"] == 0.0:
            words = "Its connector does not pass the hole." + words.partition(".")[2]
        name = f"captive {row['id']}"
        checks.append(said(name, f"{row['id']}: stays in reach", words, verdict, CAPTIVES, inputs))
    return Worked(tuple(checks))


HELD = (
    ("no", "nothing"),
    ("tie", "a tie"),
    ("bracket", "a bracket"),
    ("connector", "its connector"),
)
sheet(
    "captive", "connectors", "Ends that would vanish",
    "Which wire ends slip out of reach once the unit is out?",
    (
        Field("ends", "ends", "Ends at the opening", "table", needed=True, columns=(
            ident("End", "W20.a"),
            Field("end", "end_m", "From its nearest support to the end", "length", needed=True),
            Field("support", "support_m", "From that support to the opening", "length",
                  needed=True),
            Field("reach", "reach_m", "A hand reaches behind it", "length", needed=True),
            Field("held", "held", "Held by", "choice", choices=HELD),
            Field("connector", "connector_m", "Connector’s least width", "length"),
            Field("hole", "hole_m", "Widest hole there", "length"),
            Field("u", "U_m", "U of the lengths", "length"),
        )),
    ),
    _captive, CAUTION + CAPTIVE,
)  # fmt: skip

STEPS = ("run", "end_a", "end_b", "tested", "labelled")


def _done(asked: Asked) -> Worked:
    rows = asked.values["conductors"]
    inputs: dict[str, Any] = {
        "conductors": [
            {"id": r["id"], "done": [s for s in STEPS if r.get(s) is True]} for r in rows
        ]
    }
    found = run(DONE, inputs)
    words = f"{found['shown']} % finished"
    if found["open"]:
        words += f"; open: {', '.join(found['open'])}."
        verdict = Verdict.NOT_MEASURED
    else:
        words, verdict = words + ".", Verdict.IN
    facts = []
    for group in ("circuit", "connector"):
        for name in sorted({r[group] for r in rows if group in r}):
            part = [
                c for c, r in zip(inputs["conductors"], rows, strict=True) if r.get(group) == name
            ]
            facts.append(
                (f"{group.capitalize()} {name}", f"{run(DONE, {'conductors': part})['shown']} %")
            )
    return Worked((said("done", "finished", words, verdict, DONE, inputs),), tuple(facts))


sheet(
    "finished", "connectors", "How much is really finished",
    "How much of these wires is run, terminated, tested and labelled?",
    (
        Field("conductors", "conductors", "Wires", "table", needed=True, columns=(
            ident("Wire", "W10"), Field("circuit", "circuit", "Circuit", hint="strobe"),
            Field("connector", "connector", "Connector", hint="P1"), yes("run", "run", "Run"),
            yes("a", "end_a", "End a on"), yes("b", "end_b", "End b on"),
            yes("tested", "tested", "Tested"), yes("labelled", "labelled", "Labelled"),
        )),
    ),
    _done, CAUTION,
)  # fmt: skip
