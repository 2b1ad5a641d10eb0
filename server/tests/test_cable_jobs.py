"""A cable from its drawing to its lock: entered from nothing, made, gauged, loaded, measured."""

import json
import math

from core.rulebook import rule
from server.cables.models import CableEvent, CableReading
from server.journal.models import Change
from server.tests.own import Writing

LBF = 4.4482216152605
FLAPS = "controls/flaps/cables"
RUDDER = "controls/rudder/cables"


def straight(**side):
    """Two straight cables between two levers, as the page begins them."""
    one = {
        "construction": "7x19", "diameter_in": 0.125, "material": "galvanised", "supports": [], "fittings": [],
    } | side  # fmt: skip
    return {
        "format": "ash-lane cables", "edition": 1,
        "driver": {
            "pivot": [1.8, 0, 0.5], "axis": [0, 0, 1], "A": [1.8, 0.12, 0.5], "B": [1.8, -0.12, 0.5],
            "range": [-0.35, 0.35], "positive": "lever forward",
        },
        "driven": {"pivot": [5.9, 0, 0.5], "axis": [0, 0, 1], "A": [5.9, 0.085, 0.5], "B": [5.9, -0.085, 0.5]},
        "sides": {"A": {"name": "Right cable"} | one, "B": {"name": "Left cable"} | one},
        "target": None,
    }  # fmt: skip


class FromNothing(Writing):
    def begin(self, **side):
        self.put(FLAPS, {"version": 0, "document": straight(**side)})
        return self.get(FLAPS)

    def test_two_straight_cables_and_nothing_that_nobody_said(self):
        page = self.begin()
        self.assertEqual([s["name"] for s in page["sides"]], ["Right cable", "Left cable"])
        words = {c["key"]: c["verdict"] for c in page["checks"]}
        for side in "AB":
            self.assertEqual(words[f"tension {side}"], "not measured")
            for end in "AB":
                self.assertEqual(words[f"end {side} {end}"], "not measured")
        self.assertNotIn("in", {words[k] for k in words if k.startswith(("tension", "end"))})

    def test_the_gear_of_two_levers_is_that_of_their_arms(self):
        solved = self.begin()["solved"]
        for p in solved["positions"]:
            if abs(p["driver_deg"]) < 3:
                self.assertAlmostEqual(p["driven_deg"], p["driver_deg"] * 0.12 / 0.085, delta=0.02)
        self.assertAlmostEqual(solved["gear"], 0.12 / 0.085, 2)
        for side in "AB":
            self.assertAlmostEqual(solved["lengths_m"][side], math.hypot(4.1, 0.035), 5)

    def test_a_drawing_that_cannot_be_is_refused_by_its_place(self):
        for field, change in (
            ("sides.A.diameter_in", lambda d: d["sides"]["A"].update(diameter_in=0.13)),
            ("sides.B.material", lambda d: d["sides"]["B"].update(material="string")),
            ("driver", lambda d: d.pop("driver")),
            ("sides", lambda d: d.pop("sides")),
            ("driver.axis", lambda d: d["driver"].update(axis=[0, 0, 0])),
            ("driven.A", lambda d: d["driven"].update(A=[5.9, 0, 0.5])),
            ("format", lambda d: d.update(format="another")),
            ("colour", lambda d: d.update(colour="red")),
            ("sides.A.length", lambda d: d["sides"]["A"].update(length=3)),
        ):
            document = json.loads(json.dumps(straight()))
            change(document)
            answer = self.write(
                "ansel", self.at(FLAPS), {"version": 0, "document": document}, method="put"
            )
            with self.subTest(field=field):
                self.assertEqual(answer.status_code, 422, answer.content[:200])
                told = answer.json()["field"].removeprefix("document.")
                self.assertTrue(told.startswith(field.split(".")[0]), answer.json())
        self.assertFalse(
            any(r["control"] == "flaps" and r["has_cables"] for r in self.get("cables")["results"])
        )

    def test_a_target_and_an_airframe_give_the_day_s_tension(self):
        document = straight()
        document["target"] = {
            "tension": "30 lb",
            "at": "21 C",
            "minus": "3 lb",
            "plus": "3 lb",
            "source": "Drawing 1",
        }
        document["airframe"] = [{"material": "aluminium alloy", "length": 4.1}]
        self.put(FLAPS, {"version": 0, "document": document})
        for temperature, colder in (("21 C", False), ("5 C", True)):
            day = self.post(f"{FLAPS}/today", {"temperature": temperature}, status=200)
            self.assertAlmostEqual(day["target_N"], 30 * LBF, 3)
            for side in day["sides"]:
                if colder:
                    self.assertLess(side["set_N"], 30 * LBF)
                else:
                    self.assertAlmostEqual(side["set_N"], 30 * LBF, 2)
        self.assertEqual(self.get(FLAPS)["document"]["target"]["source"], "Drawing 1")

    def test_without_a_target_no_tension_is_asked(self):
        self.begin()
        answer = self.write("ansel", self.at(f"{FLAPS}/today"), {"temperature": "21 C"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("target", answer.json()["field"])

    def test_what_was_entered_is_given_back_as_it_was_entered(self):
        document = straight()
        document["sides"]["A"] |= {
            "fittings": [
                {"id": "turnbuckle", "kind": "turnbuckle", "at": [3.0, 3.12]},
                {"id": "shackle", "kind": "shackle", "at": [5.6, 5.63], "radius": 0.004},
            ],
            "turnbuckle": {"threads_per_inch": [32, 32], "showing": [2, 2]},
            "slide_on": [{"name": "boot", "bore": 0.009}],
            "ends": {
                "A": {"kind": "sleeve with thimble", "made_by": "builder", "pin": "nut and cotter"}
            },
        }
        self.put(FLAPS, {"version": 0, "document": document})
        kept = self.get(FLAPS)["document"]
        for key in ("fittings", "slide_on"):
            self.assertEqual(kept["sides"]["A"][key], document["sides"]["A"][key])
        self.assertEqual(kept["sides"]["A"]["turnbuckle"]["threads_per_inch"], [32, 32])
        self.assertEqual(kept["sides"]["A"]["ends"]["A"]["made_by"], "builder")
        again = self.get(FLAPS)
        self.put(FLAPS, {"version": again["version"], "document": kept})
        self.assertEqual(self.get(FLAPS)["document"], kept)


class Making(Writing):
    """Ends of a new cable, by the work on it."""

    def setUp(self):
        super().setUp()
        ends = {
            "A": {"kind": "sleeve with thimble", "made_by": "builder", "pin": "nut and cotter", "size": 0.0065},
            "B": {"kind": "fork terminal", "made_by": "supplier", "pin": "nut and cotter", "size": 0.012},
        }  # fmt: skip
        more = {
            "ends": ends, "slide_on": [{"name": "boot", "bore": 0.005}, {"name": "tube", "bore": 0.005}],
            "turnbuckle": {"threads_per_inch": [32, 32], "showing": [2, 2]},
            "fittings": [{"id": "turnbuckle", "kind": "turnbuckle", "at": [3.0, 3.12]}],
        }  # fmt: skip
        self.put(FLAPS, {"version": 0, "document": straight(**more)})

    def did(self, doing, side="A", status=201, **typed):
        body = {"doing": doing, "side": side, "typed": typed}
        answer = self.write("ansel", self.at(f"{FLAPS}/events"), body)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def check(self, key):
        return next(c for c in self.get(FLAPS)["checks"] if c["key"] == key)

    SLEEVE = {
        "end": "A", "presses": "3", "presses_required": "3", "after": "8.70 mm; 8.72 mm; 8.71 mm", "go_max": "8.80 mm",
        "u": "0.02 mm",
    }  # fmt: skip

    def test_a_sleeve_is_gauged_by_the_rule_and_named_in_the_journal(self):
        self.assertEqual(self.check("sleeve A A")["verdict"], "not measured")
        for change, verdict in (
            ({}, "in"),
            ({"go_max": "8.60 mm"}, "out"),
            ({"presses": "2"}, "out"),
            ({"go_max": "8.73 mm"}, "too close"),
        ):
            self.did("sleeve", **(self.SLEEVE | change))
            found = self.check("sleeve A A")
            with self.subTest(change=change):
                self.assertEqual(found["verdict"], verdict)
                again = rule(found["why"]["rule"]).run(found["why"]["inputs"])
                self.assertEqual(again["verdict"], verdict)
        line = Change.objects.filter(aircraft=self.fenlark, kind="rigging").order_by("-pk").first()
        self.assertIn("sleeve at end A", line.said)
        self.assertTrue(line.work)

    def test_a_gauging_that_says_nothing_is_refused_by_its_field(self):
        for field, change in (
            ("end", {"end": "C"}), ("end", {"end": "B"}), ("presses", {"presses": "some"}),
            ("go_max", {"go_max": ""}), ("after", {"after": "8.7 kg"}), ("go_max", {"go_max": "-1 mm"}),
        ):  # fmt: skip
            told = self.did("sleeve", status=422, **(self.SLEEVE | change))
            with self.subTest(change=change):
                self.assertTrue(told["field"].startswith(field), told)

    PROOF = {
        "applied": "5400 N", "held": "185", "hold_required": "180", "length_before": "4100 mm",
        "length_loaded": "4153.5 mm", "length_after": "4104 mm", "set_limit": "6 mm", "mark_slip": "0 mm",
    }  # fmt: skip

    def test_a_proof_load_by_force_time_set_and_slip(self):
        self.assertEqual(self.check("proof A")["verdict"], "not measured")
        for change, verdict in (
            ({}, "in"), ({"applied": "5000 N"}, "out"), ({"held": "170"}, "out"), ({"length_after": "4107 mm"}, "out"),
            ({"mark_slip": "1 mm"}, "out"), ({"applied": "1214 lb"}, "in"),
        ):  # fmt: skip
            self.did("proof", **(self.PROOF | change))
            with self.subTest(change=change):
                self.assertEqual(self.check("proof A")["verdict"], verdict)
        self.assertEqual(self.check("proof B")["verdict"], "not measured")
        for field, change in (
            ("applied", {"applied": "9000 N"}),
            ("length", {"length_loaded": "4000 mm"}),
        ):
            self.assertTrue(
                self.did("proof", status=422, **(self.PROOF | change))["field"].startswith(field)
            )

    def test_a_measured_stiffness_takes_the_place_of_the_assumed(self):
        before = next(s for s in self.get(FLAPS)["sides"] if s["side"] == "A")
        self.assertFalse(before["measured_stiffness"])
        self.did(
            "stretch", length="4100 mm", load_low="200 N", load_high="1200 N", stretch="10.5 mm"
        )
        after = {s["side"]: s for s in self.get(FLAPS)["sides"]}
        self.assertAlmostEqual(after["A"]["ae_N"], 4.1 * 1000 / 0.0105, 1)
        self.assertTrue(after["A"]["measured_stiffness"])
        self.assertFalse(after["B"]["measured_stiffness"])
        told = self.did(
            "stretch",
            status=422,
            length="4100 mm",
            load_low="200 N",
            load_high="100 N",
            stretch="10 mm",
        )
        self.assertIn("load", told["field"])

    def test_what_must_be_slid_on_first_and_the_press_that_would_lock_it_out(self):
        side = lambda: next(s for s in self.get(FLAPS)["sides"] if s["side"] == "A")
        self.assertEqual(side()["missing"], ["boot", "tube"])
        self.did("slid on", item="tube", end="A")
        self.did("pressed", end="B")
        told = self.did("pressed", status=422, end="A")
        self.assertEqual(told["field"], "end")
        self.assertIn("stop", told["reason"])
        self.did("slid on", item="boot", end="A")
        self.assertEqual(side()["missing"], [])
        self.did("pressed", end="A")
        self.assertEqual(sorted(side()["pressed"]), ["A", "B"])
        self.assertEqual(self.check("slide on A")["verdict"], "in")
        self.did("slid on", status=422, item="boot", end="A")

    def test_an_end_is_not_pressed_over_while_nobody_said_its_size(self):
        cables = self.get(FLAPS)
        document = cables["document"]
        for side in document["sides"].values():
            for end in side.get("ends", {}).values():
                end.pop("size", None)
        self.put(FLAPS, {"version": cables["version"], "document": document})
        told = self.did("pressed", status=422, end="A")
        self.assertEqual(told["field"], "end")
        self.assertIn("end A and end B", told["reason"])
        self.assertIn("Not said: the outer size", self.check("slide on A")["said"])

    def test_wear_is_what_a_person_says_it_is(self):
        for found, fit, verdict in (
            ("no broken wires", "yes", "in"),
            ("four broken", "no", "out"),
            ("", "yes", None),
        ):
            if verdict is None:
                self.assertEqual(
                    self.did("inspected", status=422, found=found, fit=fit)["field"], "found"
                )
                continue
            self.did("inspected", found=found, fit=fit)
            self.assertEqual(self.check("inspection A")["verdict"], verdict)
        self.assertEqual(
            self.did("inspected", status=422, found="x", fit="yes", next_due="soon")["field"],
            "next_due",
        )


class Measuring(Writing):
    """The three ways, tried and kept, each by its rule."""

    def tried(self, method, status=200, **typed):
        tools = {i["name"]: i["id"] for i in self.get("instruments")["results"]}
        body = {
            "side": "A", "method": method, "temperature": "14 C", "typed": typed,
            "instrument": tools["Cable tension gauge"] if method == "card" else None,
        }  # fmt: skip
        answer = self.write("ansel", self.at(f"{RUDDER}/try"), body)
        self.assertEqual(answer.status_code, status, answer.content[:200])
        return answer.json(), body

    def test_a_trial_is_the_rule_and_keeps_nothing(self):
        before = CableReading.objects.count()
        for method, typed in (
            ("card", {"readings": "20; 21; 20.5"}),
            (
                "pull",
                {"span": "1200 mm", "force": "1.5 lb", "deflection": "12.3 mm", "levers": "free"},
            ),
            ("pull", {"span": "48 in", "force": "7 N", "deflection": "1/2 in", "levers": "pinned"}),
        ):
            found, _ = self.tried(method, **typed)
            again = rule(found["why"]["rule"]).run(found["why"]["inputs"])
            with self.subTest(method=method):
                self.assertAlmostEqual(found["tension_N"], again["tension_N"], 6)
                self.assertGreater(found["u_N"], 0)
        self.assertEqual(CableReading.objects.count(), before)

    def test_a_pull_with_both_levers_held_stretches_one_cable_only(self):
        typed = {"span": "1200 mm", "force": "1.5 lb", "deflection": "12.3 mm"}
        free, _ = self.tried("pull", **typed, levers="free")
        held, _ = self.tried("pull", **typed, levers="pinned")
        softer = free["why"]["inputs"]["compliance_m_per_N"]
        stiffer = held["why"]["inputs"]["compliance_m_per_N"]
        self.assertGreater(softer, stiffer)
        self.assertGreater(free["tension_N"], held["tension_N"])

    def test_what_is_kept_speaks_and_can_be_withdrawn_with_a_reason(self):
        _, body = self.tried("card", readings="21; 21.5; 21.5")
        kept = self.post(f"{RUDDER}/readings", body)
        mine = max(kept["readings"], key=lambda r: r["id"])
        self.assertTrue(mine["current"])
        self.assertAlmostEqual(mine["temperature_C"], 14.0)
        self.write("ansel", self.at(f"{RUDDER}/readings/{mine['id']}/withdraw"), {"reason": ""})
        self.assertIn(mine["id"], {r["id"] for r in self.get(RUDDER)["readings"]})
        self.post(f"{RUDDER}/readings/{mine['id']}/withdraw", {"reason": "gauge slipped"})
        self.assertNotIn(mine["id"], {r["id"] for r in self.get(RUDDER)["readings"]})
        self.post(f"{RUDDER}/readings/{mine['id']}/withdraw", {"reason": "again"}, status=422)

    def test_a_card_is_typed_once_in_any_units(self):
        gauge = next(
            i for i in self.get("instruments")["results"] if i["name"] == "Cable tension gauge"
        )
        version = next(c for c in self.get("cards")["results"] if c["instrument"] == gauge["id"])[
            "version"
        ]
        rows = "2; 1/8 in; 12; 10 lb\n2; 3.175 mm; 19; 88.964 N\n2; 1/8 in; 25; 30 lb"
        self.put(
            f"instruments/{gauge['id']}/card", {"version": version, "typed": rows, "u": "1 lb"}
        )
        found, _ = self.tried("card", readings="19")
        self.assertAlmostEqual(found["tension_N"], 20 * LBF, 1)
        self.assertGreaterEqual(found["u_N"], LBF - 1e-9)
        self.put(
            f"instruments/{gauge['id']}/card",
            {"version": version, "typed": rows, "u": ""},
            status=409,
        )

    def test_events_are_undone_in_their_order_and_stay_written(self):
        count = CableEvent.objects.count()
        first = self.post(
            f"{RUDDER}/events", {"doing": "turned", "side": "A", "typed": {"turns": "0.25"}}
        )["events"][0]
        second = self.post(
            f"{RUDDER}/events", {"doing": "turned", "side": "A", "typed": {"turns": "0.25"}}
        )["events"][0]
        self.post(f"{RUDDER}/events/{first['id']}/undo", {}, status=422)
        self.post(f"{RUDDER}/events/{second['id']}/undo", {})
        self.post(f"{RUDDER}/events/{first['id']}/undo", {})
        self.assertEqual(CableEvent.objects.count(), count + 4)
