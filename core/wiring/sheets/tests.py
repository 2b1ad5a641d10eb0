"""What a meter and a clock say: continuity, insulation, a device over time."""

from __future__ import annotations

from typing import Any

from core.wiring import finishing, functional  # noqa: F401
from core.wiring.sheets.asking import (
    Asked,
    Field,
    Verdict,
    Worked,
    awg,
    checked,
    each,
    ident,
    number,
    ohms,
    plain,
    run,
    said,
    sheet,
    shown,
    yes,
)  # fmt: skip
from core.wiring.words import CAUTION, VOLTAGE

WIRE, INSULATED, OVER_TIME = "wiring.continuity", "wiring.insulation", "wiring.functional_test"
SIDES = {"low": "another path, the wrong wire, a thicker or shorter one",
         "high": "a bad crimp, the wrong wire, a thinner one"}  # fmt: skip


def _meter(asked: Asked) -> Worked:
    whole = asked.only("t_C", "leads_ohm", "U_ohm", "contacts_ohm_max")
    checks = []
    for row in asked.values["wires"]:
        if "measured_ohm" not in row:
            checks.append(checked(row, "continuity", "Not measured.", Verdict.NOT_MEASURED, "", {}))
            continue
        asks = lambda r: whole | plain(r, "awg", "length_m", "measured_ohm")
        _, inputs, found = next(iter(each([row], "wires", WIRE, asks)))
        words = (
            f"{found['corrected_ohm'] * 1e3:.1f} mΩ without the leads, right from"
            f" {found['low_ohm'] * 1e3:.1f} to {found['high_ohm'] * 1e3:.1f} mΩ."
        )
        if found["side"]:
            words += f" Too {found['side']}: {SIDES[found['side']]}."
        missing = [] if "U_ohm" in whole else ["how well the meter knows it"]
        verdict, words = shown(found["verdict"], words, missing)
        checks.append(checked(row, "continuity", words, verdict, WIRE, inputs))
    return Worked(tuple(checks))


METER = "The meter"
sheet(
    "continuity", "tests", "Continuity", "Is it this wire, and is it whole?",
    (
        Field("wires", "wires", "Wires", "table", needed=True, columns=(
            ident("Wire", "W10"), awg("awg", "awg", "Gauge", needed=True),
            Field("length", "length_m", "Length", "length", needed=True),
            ohms("measured", "measured_ohm", "Measured", "mohm"),
        )),
        number("t", "t_C", "Temperature of the wires, °C", hint="20"),
        ohms("contacts", "contacts_ohm_max", "Contacts of each, at most", "mohm", limit=True),
        ohms("leads", "leads_ohm", "The leads alone", "mohm", under=METER),
        ohms("u", "U_ohm", "U of a reading", "mohm", under=METER),
    ),
    _meter, CAUTION, "test",
)  # fmt: skip


def _insulation(asked: Asked) -> Worked:
    whole = asked.only("limit_ohm", "U_rel")
    checks = []
    for row in asked.values["circuits"]:
        if "measured_ohm" not in row:
            words = "Not measured."
            checks.append(checked(row, "insulation", words, Verdict.NOT_MEASURED, "", {}))
            continue
        inputs = whole | plain(row, "measured_ohm", "over_range")
        found = run(INSULATED, inputs)
        over = "more than " if row.get("over_range") else ""
        words = f"{over}{row['measured_ohm'] / 1e6:g} MΩ, at least {whole['limit_ohm'] / 1e6:g} MΩ."
        missing = [] if "U_rel" in whole or over else ["how well the tester knows it"]
        verdict, words = shown(found["verdict"], words, missing)
        words = f"{words[:1].upper()}{words[1:]}"
        checks.append(checked(row, "insulation", words, verdict, INSULATED, inputs))
    return Worked(tuple(checks))


sheet(
    "insulation", "tests", "Insulation", "Is the insulation of each circuit good enough?",
    (
        Field("circuits", "circuits", "Circuits", "table", needed=True, columns=(
            ident("Circuit", "strobe"), ohms("measured", "measured_ohm", "Measured", "Mohm"),
            yes("over", "over_range", "It says: more than"),
        )),
        ohms("limit", "limit_ohm", "At least", "Mohm", needed=True, limit=True),
        number("u", "U_rel", "U of a reading, %", scale=0.01),
    ),
    _insulation, CAUTION + VOLTAGE, "test",
)  # fmt: skip

RULES = (("every", "every sample"), ("any", "any sample"), ("last", "the last"),
         ("mean", "their mean"), ("settles", "it settles"))  # fmt: skip


def _over_time(asked: Asked) -> Worked:
    v = asked.values
    samples = v.get("samples", [])
    if not samples:
        words = "No samples yet."
        return Worked((said("samples", "test over time", words, Verdict.NOT_MEASURED),))
    inputs: dict[str, Any] = {
        "t_s": [s["t_s"] for s in samples],
        "value": [s["value"] for s in samples],
        "windows": [
            {"name": w["id"]} | plain(w, "from_s", "to_s", "rule", "low", "high", "by_s")
            for w in v["windows"]
        ],
    } | asked.only("U", "max_gap_s")
    found = run(OVER_TIME, inputs)
    missing = [] if "U" in v else ["how well a reading is known"]
    checks = []
    for w in found["windows"]:
        words = {
            "in": "As it should be.",
            "out": "Not as it should be.",
            "too close": "Too close to its bound to say.",
            "not measured": "There are not enough samples in this time.",
        }[w["verdict"]]
        if w["first_out_s"] is not None:
            words += f" First out at {w['first_out_s']:g} s."
        if w["settled_s"] is not None:
            words += f" Settled from {w['settled_s']:g} s on."
        verdict, words = shown(w["verdict"], words, missing)
        checks.append(said(f"window {w['name']}", w["name"], words, verdict, OVER_TIME, inputs))
    figure = {
        "samples": [[s["t_s"], s["value"]] for s in samples],
        "windows": [
            plain(w, "from_s", "to_s", "low", "high") | {"name": w["id"], "verdict": f["verdict"]}
            for w, f in zip(v["windows"], found["windows"], strict=True)
        ],
    }
    return Worked(tuple(checks), (), figure)


sheet(
    "over time", "tests", "Does it do what it should?",
    "Does a device answer over time as its maker says?",
    (
        Field("windows", "windows", "What is expected", "table", needed=True, limit=True, columns=(
            ident("What", "settles in clean air"),
            Field("from", "from_s", "From", "time", "s", needed=True),
            Field("to", "to_s", "To", "time", "s", needed=True),
            Field("rule", "rule", "By", "choice", choices=RULES, needed=True),
            number("low", "low", "Least"), number("high", "high", "Greatest"),
            Field("by", "by_s", "Settled by", "time", "s"),
        )),
        Field("gap", "max_gap_s", "Greatest gap between samples", "time", "s", needed=True),
        number("u", "U", "U of a reading"),
        Field("samples", "samples", "Samples; time 0 is the trigger", "table", columns=(
            Field("t", "t_s", "Time", "time", "s", needed=True),
            number("value", "value", "Reading", needed=True),
        )),
    ),
    _over_time, CAUTION, "test",
)  # fmt: skip
