"""Worksheets of wires: each says what its rule says, and assumes nothing that nobody said."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path
from typing import Any
from unittest import TestCase

import core.wiring.sheets  # noqa: F401
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.rulebook import rule
from core.worksheets.kinds import KINDS, Asked, Worked, kind_of, work
from core.worksheets.reading import read

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "fenlark-wires.json").read_text())
CURVE = [{"multiple": m, "least": t} for m, t in (("1.5", "30"), ("2", "10"), ("4", "1.2"))]
BATTERY = {"capacity": "18", "rate": "20", "peukert": "1.18", "cold": "85", "age": "90",
           "reserve": "10"}  # fmt: skip
# One good sheet of each kind that the demo has not, everything said.
MORE: dict[str, dict[str, Any]] = {
    "inrush": {"inrush": "38", "lasts": "0.08", "rating": "10", "curve": CURVE},
    "link": {"awg": "16", "link": "20"},
    "dead short": {"emf": "13.2", "battery": "7", "loop": "5", "breaks": "1500", "u": "10"},
    "coverage": {
        "sources": "battery", "loads": "strobe",
        "edges": [{"id": "w", "a": "battery", "b": "bus", "kind": "wire"},
                  {"id": "cb", "a": "bus", "b": "strobe", "kind": "protector"}],
    },
    "endurance": {**BATTERY, "must": "30", "steps": [{"current": "18", "lasts": "4"}, {"current": "7.4"}]},
    "bundle": {
        "wires": [{"id": "W1", "od": "2.2", "awg": "20", "rating": "150", "current": "0.5"},
                  {"id": "W2", "od": "3", "awg": "18", "rating": "150", "current": "1"}],
        "conduit": "8", "radius": "33", "u": "2",
    },
    "ties": {"length": "200", "thick": "11", "school": "ties", "held": "yes", "fitted": [
        {"id": f"t{n}", "at": str(38 * n), "kind": "tie"} for n in range(1, 6)]},
    "bonds": {"bonds": [{"id": "engine", "measured": "2", "u": "0.2"}]},
    "connectors": {
        "connectors": [{"id": "P1", "contacts": "pin", "pins": "1-2 24 20"}],
        "conductors": [{"id": "W1", "awg": "20", "length": "2000", "a": "P1.1", "b": "P1.2"}],
    },
    "finished": {"conductors": [{"id": "W1", "circuit": "strobe", "run": "yes", "a": "yes",
                                 "b": "yes", "tested": "yes", "labelled": "yes"}]},
    "continuity": {"t": "12", "contacts": "12", "leads": "80", "u": "3",
                   "wires": [{"id": "W1", "awg": "20", "length": "5200", "measured": "243"}]},
    "insulation": {"limit": "10", "u": "15", "circuits": [{"id": "strobe", "measured": "12"}]},
    "over time": {
        "gap": "3", "u": "1", "samples": [{"t": str(t), "value": "50"} for t in range(0, 12, 2)],
        "windows": [{"id": "steady", "from": "0", "to": "10", "rule": "every", "low": "40"}],
    },
    "field": {"at": "4900; 100; 550", "earth": "20", "limit": "2", "circuits": [
        {"id": "flap", "current": "2.4", "points": "3750; -200; 300; 5900; -200; 450"}]},
    "headings": {"earth": "20", "limit": "3", "heading": "60", "states": [
        {"id": "up", "field": "0.4; -0.2; 0.1"}, {"id": "down", "field": "-0.3; 0.5; 0"}]},
    "pair": {"current": "4.2", "distance": "50", "spacing": "3", "pitch": "60"},
    "sensor place": {
        "at": "4900; 100; 550", "axis": "1; 0; 0", "required": [{"id": "steel", "least": "300"}],
        "items": [{"id": "cable", "class": "steel", "radius": "1.6",
                   "points": "3750; -350; 300; 5900; -300; 500"}],
    },
    "coax": {"length": "4.6", "loss": "0.16", "connectors": "0.1; 0.1", "vswr": "1.8", "most": "2"},
    "antenna": {
        "frequency": "121.5", "plane": "620",
        "antennas": [{"id": "a", "at": "4100; 0; 1100"}, {"id": "b", "at": "5000; 0; 1050"}],
        "apart": [{"a": "a", "b": "b", "least": "800", "u": "5"}],
    },
    "sky": {"at": "3130; 0; 950", "least": "60", "mask": "5", "attitudes": [{"pitch": "0"}],
            "boxes": [{"id": "fin", "low": "5710; -70; 600", "high": "6270; 70; 1870"}]},
}  # fmt: skip


def sheet(kind: str, typed: dict[str, Any]) -> Worked:
    """A sheet as typed, worked out."""
    k = kind_of(kind)
    values, things = read(k, typed, "mm", lambda f, at: None)
    return work(k, Asked("A", values, date(2031, 3, 9), "the manual", things))


def demo(kind: str) -> dict[str, Any]:
    return dict(next(s["typed"] for s in DEMO["worksheets"] if s["kind"] == kind))


EVERY = {s["kind"]: s["typed"] for s in DEMO["worksheets"]} | MORE


def verdicts(kind: str, **more: Any) -> dict[str, str]:
    typed = {k: v for k, v in (EVERY[kind] | more).items() if v is not None}
    return {c.key: c.verdict.value for c in sheet(kind, typed).checks}


class Sheets(TestCase):
    def test_every_kind_is_tried_and_all_said_and_right_is_in(self) -> None:
        wires = {k.id for k in KINDS.values() if k.trade == "wires"}
        self.assertEqual(set(EVERY), wires)
        for kind in MORE:
            found = set(verdicts(kind).values())
            self.assertEqual(found, set() if kind == "pair" else {"in"}, kind)

    def test_each_check_with_a_rule_can_be_worked_again(self) -> None:
        for kind, typed in EVERY.items():
            for c in sheet(kind, typed).checks:
                if c.rule:
                    rule(c.rule).run(dict(c.inputs))
                    self.assertEqual(set(c.origins), set(c.inputs), f"{kind} {c.key}")

    def test_what_nobody_said_is_not_measured(self) -> None:
        for kind, unsaid, key in (
            ("link", "link", "link"), ("dead short", "u", "short"), ("endurance", "must", "endurance"),
            ("endurance", "cold", "endurance"), ("endurance", "age", "endurance"),
            ("shedding", "cold", "shedding"), ("bundle", "radius", "bend"), ("bundle", "u", "bend"),
            ("continuity", "u", "continuity W1"), ("insulation", "u", "insulation strobe"),
            ("over time", "u", "window steady"), ("over time", "samples", "samples"),
            ("field", "limit", "field"), ("headings", "limit", "swing"), ("coax", "most", "loss"),
            ("antenna", "plane", "plane"), ("sky", "least", "sky"),
            ("grounds", "most", "coupling"), ("grounds", "school", "loop bond, case-radio, g-radio, g-tabs"),
        ):  # fmt: skip
            with self.subTest(kind=kind, unsaid=unsaid):
                self.assertEqual(verdicts(kind, **{unsaid: None})[key], "not measured")
        rows = demo("wire apart")["rows"]
        for column in ("u", "above", "parallel"):
            said = [{k: v for k, v in rows[0].items() if k != column}]
            (verdict,) = verdicts("wire apart", rows=said).values()
            self.assertEqual(verdict, "not measured", column)
        held = [
            {k: v for k, v in demo("captive")["ends"][0].items() if k != "held"} | {"reach": "900"}
        ]
        self.assertEqual(list(verdicts("captive", ends=held).values()), ["not measured"])
        bare = [{"id": "engine"}, {"id": "tank", "measured": "2"}]
        self.assertEqual(set(verdicts("bonds", bonds=bare).values()), {"not measured"})
        wires = MORE["bundle"]["wires"]
        less = [wires[0], {k: v for k, v in wires[1].items() if k != "current"}]
        self.assertEqual(verdicts("bundle", wires=less)["load"], "not measured")

    def test_a_circuit_says_its_gauge_its_protector_and_why(self) -> None:
        found = verdicts("circuits")
        self.assertEqual(found["gauge landing light"], "out")
        self.assertEqual(found["protector flap motor"], "out")
        rows = demo("circuits")["circuits"]
        thicker = verdicts("circuits", circuits=[rows[0] | {"awg": "10", "limit": "30"}])
        self.assertEqual(set(thicker.values()), {"in"})
        unlimited = {k: v for k, v in rows[0].items() if k != "limit"} | {"awg": "10"}
        found = verdicts("circuits", circuits=[unlimited])
        self.assertEqual(list(found.values()), ["in", "not measured"])
        less = {k: v for k, v in rows[2].items() if k not in ("awg", "protector_A")}
        self.assertEqual(set(verdicts("circuits", circuits=[less]).values()), {"not measured"})
        lossy = verdicts(
            "circuits", circuits=[rows[0] | {"structure": "5.1", "awg": "0", "limit": "30"}]
        )
        self.assertEqual(lossy["gauge landing light"], "out")
        never = sheet("circuits", {"system": "14", "circuits": [rows[0] | {"contacts": "80"}]})
        self.assertIn("contacts and structure alone", never.checks[0].said)
        with self.assertRaises(Refused) as caught:
            verdicts("circuits", circuits=[rows[1] | {"back_long": ""}])
        self.assertEqual(caught.exception.field, "circuits")
        self.assertIn("strobes: length_m", caught.exception.reason)

    def test_a_phase_without_alternator_is_left_to_the_battery(self) -> None:
        found = verdicts("phases")
        self.assertEqual((found["phase start"], found["phase taxi"]), ("not measured", "out"))
        self.assertEqual(found["phase cruise"], "in")
        bars = {p["name"]: p for p in sheet("phases", demo("phases")).figure["phases"]}
        self.assertAlmostEqual(sum(x["A"] for x in bars["landing"]["parts"]), 23.075, 9)
        loads = demo("phases")["loads"]
        with self.assertRaises(Refused) as caught:
            verdicts("phases", loads=[*loads, {"id": "fan", "current": "1", "duty": "taxi"}])
        self.assertEqual(caught.exception.field, "loads")
        charged = [
            p | ({"charge": "10"} if p["id"] == "cruise" else {}) for p in demo("phases")["phases"]
        ]
        self.assertEqual(verdicts("phases", phases=charged)["phase cruise"], "out")

    def test_rings_are_broken_or_accepted_with_a_reason(self) -> None:
        self.assertEqual(
            [v for k, v in verdicts("grounds").items() if k.startswith("loop")], ["out", "out"]
        )
        edges = [e for e in demo("grounds")["edges"] if e["id"] not in ("sh-mic", "case-radio")]
        apart = verdicts("grounds", edges=edges, quiet="radio", to="radio")
        self.assertEqual(apart["loops"], "in")
        why = [{"edge": "sh-mic", "why": "as the maker says"}]
        accepted = verdicts("grounds", excepted=why)
        self.assertEqual(accepted["loop bond, g-audio, g-tabs, jack-bond, sh-mic"], "accepted")
        local = verdicts("grounds", school="local")
        self.assertEqual(local["loop bond, case-radio, g-radio, g-tabs"], "too close")

    def test_pins_are_read_as_written_and_what_is_odd_is_refused(self) -> None:
        one = MORE["connectors"]["connectors"][0]
        for pins in ("1 24", "4-2 24 20", "1-9999 24 20", "1-2 24 19"):
            with self.assertRaises(Refused) as caught:
                verdicts("connectors", connectors=[one | {"pins": pins}])
            self.assertEqual(caught.exception.field, "connectors")
        wire = MORE["connectors"]["conductors"][0]
        self.assertEqual(
            verdicts("connectors", conductors=[wire | {"b": ""}]),
            {"unterminated W1.b": "not measured"},
        )
        both = verdicts("connectors", conductors=[wire | {"shield": "both"}])
        self.assertEqual(both, {"shield_both_ends W1": "out"})
        accepted = verdicts("connectors", conductors=[wire | {"shield": "both"}],
                            excepted=[{"where": "W1", "why": "radio frequency"}])  # fmt: skip
        self.assertEqual(accepted, {"shield_both_ends W1": "accepted"})
        with self.assertRaises(Refused):
            verdicts("connectors", conductors=[wire | {"b": "P1"}])

    def test_power_waits_for_everything_that_is_begun(self) -> None:
        self.assertEqual(verdicts("first power"), {"power": "in"})
        rows = demo("first power")["circuits"]
        undone = [rows[0] | {"labelled": "no"}, *rows[1:]]
        self.assertEqual(verdicts("first power", circuits=undone), {"not_labelled strobe": "out"})
        self.assertEqual(
            verdicts("first power", polarity=None), {"battery_polarity battery": "out"}
        )
        with self.assertRaises(Refused):
            verdicts(
                "first power", circuits=[{k: v for k, v in rows[0].items() if k != "expected"}]
            )

    def test_crossed_leads_of_a_switch_are_told_and_right_ones_pass(self) -> None:
        self.assertEqual(verdicts("switch")["device left ignition"], "out")
        terminals = [t | ({"device": "left ignition"} if t["id"] == "L" else
                          {"device": "right ignition"} if t["id"] == "R" else {})
                     for t in demo("switch")["terminals"]]  # fmt: skip
        self.assertEqual(set(verdicts("switch", terminals=terminals).values()), {"in"})
        with self.assertRaises(Refused) as caught:
            verdicts("switch", closed=[{"id": "off", "pairs": "L"}])
        self.assertEqual(caught.exception.field, "closed")

    def test_a_sensor_too_near_is_told_where_it_would_do(self) -> None:
        required = [{"id": "steel", "least": "600"}]
        found = sheet("sensor place", MORE["sensor place"] | {"required": required})
        self.assertEqual(found.checks[0].verdict, Verdict.OUT)
        self.assertIn("along the axis", dict(found.facts)["It would do, moved"])

    def test_every_field_is_of_its_own(self) -> None:
        for k in (k for k in KINDS.values() if k.trade == "wires"):
            keys = [f.key for f in k.fields]
            self.assertEqual(len(keys), len(set(keys)), k.id)
            for f in k.fields:
                names = [c.key for c in f.columns]
                self.assertEqual(len(names), len(set(names)), f"{k.id} {f.key}")
