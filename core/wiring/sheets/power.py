"""The first power, and what a switch really does."""

from __future__ import annotations

from typing import Any

from core.wiring import power  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Refused,
    Verdict,
    Worked,
    amps,
    ident,
    number,
    run,
    said,
    sheet,
    yes,
)  # fmt: skip
from core.wiring.words import CAUTION, FIRST_POWER, IGNITION

FIRST, SWITCH = "wiring.power_up", "wiring.switch_logic"
STEPS = ("run", "terminated", "tested", "labelled")
BLOCKS = {
    "battery_polarity": "the battery’s polarity is not checked at the lugs",
    "breaker_in": "is not pulled",
    "no_protection": "has no protection",
    "bare_pin": "is bare",
    "unmated_connector": "is open and uncapped",
    "not_terminated": "is not run or not terminated",
    "not_tested": "is not tested",
    "insulation": "has no good insulation test",
    "not_labelled": "is not labelled",
}
VERDICTS = (("in", "good"), ("out", "bad"), ("not measured", "not tested"))


def _first(asked: Asked) -> Worked:
    v = asked.values
    inputs: dict[str, Any] = asked.only("breakers_in", "bare_pins", "unmated", "bus_A")
    inputs |= asked.only("window_rel", "window_A")
    inputs["polarity"] = v.get("polarity", "not measured")
    circuits = []
    for c in v["circuits"]:
        one: dict[str, Any] = {"id": c["id"], "done": [s for s in STEPS if c.get(s) is True]}
        one |= {k: c[k] for k in ("breaker", "insulation") if k in c}
        if one["done"] and "expected_A" not in c:
            raise Refused("circuits", f"{c['id']}: say which current is expected")
        circuits.append(one | {"expected_A": c.get("expected_A", 0.0)})
    inputs["circuits"] = circuits
    found = run(FIRST, inputs)
    checks = []
    for code, subject in found["blockers"]:
        words = BLOCKS[code] if code == "battery_polarity" else f"{subject} {BLOCKS[code]}"
        checks.append(
            said(f"{code} {subject}", "first power", f"{words[:1].upper()}{words[1:]}.",
                 Verdict.OUT, FIRST, inputs)
        )  # fmt: skip
    if not checks:
        steps = ", ".join(s["breaker"] for s in found["sequence"])
        words = f"Nothing stands in its way. One at a time: {steps}."
        checks.append(said("power", "first power", words, Verdict.IN, FIRST, inputs))
    facts = [
        (
            f"{n}. {s['breaker']}" + (f" ({', '.join(s['circuits'])})" if s["circuits"] else ""),
            f"from {s['low_A']:.1f} to {s['high_A']:.1f} A more; {s['total_A']:.1f} A in all",
        )
        for n, s in enumerate(found["sequence"], 1)
    ]
    if found["stay_out"]:
        facts.append(("Stay out", ", ".join(found["stay_out"])))
    return Worked(tuple(checks), tuple(facts))


sheet(
    "first power", "tests", "First power", "May power be applied, and which breaker goes in when?",
    (
        Field("polarity", "polarity", "Battery’s polarity at the lugs", "choice", choices=VERDICTS),
        Field("circuits", "circuits", "Circuits", "table", needed=True, columns=(
            ident("Circuit", "strobe"), Field("breaker", "breaker", "Breaker", hint="CB3"),
            yes("run", "run", "Run"), yes("terminated", "terminated", "Terminated"),
            yes("tested", "tested", "Tested"), yes("labelled", "labelled", "Labelled"),
            amps("expected", "expected_A", "Expected"),
            Field("insulation", "insulation", "Insulation", "choice", choices=VERDICTS),
        )),
        Field("in", "breakers_in", "Breakers that are in", "words", hint="bus; CB2"),
        Field("bare", "bare_pins", "Bare pins", "words", hint="P1.3"),
        Field("open", "unmated", "Connectors open and uncapped", "words", hint="P9"),
        amps("bus", "bus_A", "The bus alone"),
        number("rel", "window_rel", "It may differ by, %", scale=0.01, hint="20",
               limit=True),
        amps("window", "window_A", "And at least by", hint="0.2", limit=True),
    ),
    _first, CAUTION + FIRST_POWER, "test",
)  # fmt: skip
NEEDS = (("ground", "ground"), ("bus", "bus"), ("open", "open"), ("any", "any"))


def _pairs(text: list[str], position: str) -> list[list[str]]:
    found = []
    for part in text:
        ends = [x.strip() for x in part.split("-")]
        if len(ends) != 2 or not all(ends):
            raise Refused("closed", f"{position}: write two terminals, as L-G")
        found.append(ends)
    return found


def _switch(asked: Asked) -> Worked:
    v = asked.values
    positions = v["positions"]
    closed: dict[str, list[list[str]]] = {p: [] for p in positions}
    for row in v.get("closed", []):
        closed[row["id"]] = _pairs(row.get("pairs", []), row["id"])
    needs: dict[str, dict[str, str]] = {}
    for row in v["needs"]:
        needs.setdefault(row["device"], {})[row["position"]] = row["need"]
    inputs = {
        "positions": positions,
        "terminals": {r["id"]: r["device"] for r in v["terminals"]},
        "contacts": closed,
        "needs": needs,
    }
    found = run(SWITCH, inputs)
    checks = []
    for device in needs:
        wrong = [m for m in found["mismatches"] if m[0] == device]
        words = "; ".join(f"in {p} it is {got}, it needs {need}" for _, p, need, got in wrong)
        verdict = Verdict.OUT if wrong else Verdict.IN
        told = f"{words[:1].upper()}{words[1:]}." if words else "As it needs in every position."
        checks.append(said(f"device {device}", device, told, verdict, SWITCH, inputs))
    for p in found["shorts"]:
        words = f"In {p} it joins bus and ground."
        checks.append(said(f"short {p}", "short", words, Verdict.OUT, SWITCH, inputs))
    rows = [{"id": d, **found["table"][d]} for d in needs]
    return Worked(tuple(checks), (), {"rows": rows, "rule": SWITCH, "inputs": inputs})


sheet(
    "switch", "tests", "What a switch really does",
    "Does each position do to each device what it needs?",
    (
        Field("positions", "positions", "Positions, parted by ;", "words", needed=True,
              hint="off; right; left; both; start"),
        Field("terminals", "terminals", "Terminals", "table", needed=True, columns=(
            ident("Terminal", "L"),
            Field("device", "device", "Goes to: a device, ground or bus", needed=True),
        )),
        Field("closed", "closed", "Closed in each position; none: leave it out", "table", columns=(
            ident("Position", "off"), Field("pairs", "pairs", "Closed", "words", hint="L-G; R-G"),
        )),
        Field("needs", "needs", "What each device needs", "table", needed=True, columns=(
            Field("device", "device", "Device", needed=True, hint="left ignition"),
            Field("position", "position", "In", needed=True, hint="off"),
            Field("need", "need", "Needs", "choice", choices=NEEDS, needed=True),
        )),
    ),
    _switch, CAUTION + IGNITION, "test",
)  # fmt: skip
