"""Cables as a person keeps them: today's tension, turns, locks, ends, what moves near what."""

import json
from io import BytesIO

from django.db import transaction
from pypdf import PdfReader

from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from instruments.cables import pluck
from server.cables.models import CableEvent, CableReading, Loop
from server.controls.scopes import control_scope
from server.signoff.models import ScopeState
from testkit.base import OnTheDemo

RUDDER = "/api/aircraft/fenlark/controls/rudder/cables"
ELEVATOR = "/api/aircraft/moorhen/controls/elevator/cables"


class Cables(OnTheDemo):
    def cables(self, path=RUDDER, person="ansel"):
        return self.as_(person).get(path).json()

    def check(self, key, path=RUDDER, person="ansel"):
        return next(c for c in self.cables(path, person)["checks"] if c["key"] == key)

    def today(self, **asked):
        return self.write("ansel", f"{RUDDER}/today", asked).json()

    def measured(self, side, readings, temperature="14 C"):
        body = {
            "side": side,
            "method": "card",
            "temperature": temperature,
            "instrument": self.instrument("Cable tension gauge"),
            "typed": {"readings": readings},
        }
        return self.write("ansel", f"{RUDDER}/readings", body)

    def did(self, doing, side="", path=RUDDER, person="ansel", **typed):
        return self.write(person, f"{path}/events", {"doing": doing, "side": side, "typed": typed})

    def test_the_demo_s_faults_are_found_from_its_data(self):
        gap = self.check("gap A turnbuckle")
        self.assertEqual((gap["verdict"], gap["step"]), ("out", "clearance"))
        self.assertIn("Right fairlead 4265", gap["said"])
        self.assertIn("full left pedal", gap["said"])
        self.assertEqual(self.check("gap B turnbuckle")["verdict"], "in")
        self.assertNotEqual(self.check("tension A")["verdict"], "in")
        sleeve = self.check("sleeve B B", ELEVATOR, "corin")
        self.assertEqual((sleeve["verdict"], sleeve["state"]), ("accepted", "passed"))
        self.assertIn("Drawing M-27 rev A", sleeve["said"])
        loose = self.as_("corin").get("/api/aircraft/moorhen/loose-ends").json()
        self.assertIn("the final rig", json.dumps(loose))

    def test_today_says_what_to_turn_and_what_thread_is_left(self):
        day = self.today(temperature="14 C")
        turns = {t["side"]: t for t in day["turns"]}
        self.assertEqual((turns["A"]["turns"], turns["B"]["turns"]), (1.0, -0.5))
        self.assertEqual(turns["A"]["after_showing"], [1.0, 1.0])
        self.assertIn("Right cable: 1 turn shorter", turns["A"]["said"])
        self.assertEqual(day["why"]["rule"], "cables.turnbuckle_turns")
        cold = self.today(temperature="-20 C")
        self.assertTrue(cold["sides"][0]["slack"])
        self.assertIn("measured at 14.0 °C", cold["refused"])
        self.assertLess(cold["curves"][0]["slack_C"], -5)

    def test_turning_ends_the_readings_and_leaves_a_loose_end_until_it_is_safetied(self):
        self.assertEqual(self.did("turned", "A", turns="1").status_code, 201)
        self.did("turned", "B", turns="-0.5")
        self.assertEqual(self.check("tension A")["verdict"], "not measured")
        loose = json.dumps(self.as_("ansel").get("/api/aircraft/fenlark/loose-ends").json())
        self.assertIn("turnbuckle of right cable", loose)
        for side in "AB":
            self.assertEqual(self.measured(side, "21; 21.5; 21.5").status_code, 201)
        self.assertEqual(self.check("tension A")["verdict"], "in")
        day = self.today(temperature="14 C")
        self.assertIn("Your turns show", day["learnt"]["said"])
        self.did("safetied", "A", recheck_after="10 h")
        self.assertEqual(self.check("turnbuckle A")["state"], "final")
        loose = json.dumps(self.as_("ansel").get("/api/aircraft/fenlark/loose-ends").json())
        self.assertIn("tension after bedding in", loose)

    def test_what_cannot_be_is_refused_by_field(self):
        def refused(answer):
            self.assertEqual(answer.status_code, 422, answer.content)
            return answer.json()["field"]

        self.assertEqual(refused(self.did("turned", "A", turns="3")), "turns")
        self.assertEqual(refused(self.did("turned", "A", turns="0.3")), "turns")
        self.assertEqual(refused(self.measured("A", "99")), "readings")
        self.assertEqual(refused(self.measured("A", "20", "")), "temperature")
        pull = {"side": "A", "method": "pull", "temperature": "14 C"}
        for typed, field in (
            ({"span": "0", "force": "1 lb", "deflection": "9 mm"}, "span"),
            ({"span": "900 mm", "force": "1 lb", "deflection": "900 mm"}, "deflection_m"),
            ({"span": "900 mm", "deflection": "9 mm"}, "force"),
        ):
            answer = self.write("ansel", f"{RUDDER}/try", pull | {"typed": typed})
            self.assertEqual(refused(answer), field)
        cold = self.write("ansel", f"{RUDDER}/today", {"temperature": "-70 C"})
        self.assertEqual(refused(cold), "temperature_K")
        card = f"/api/aircraft/fenlark/instruments/{self.instrument('Cable tension gauge')}/card"
        for typed, field in (
            ("2; 1/8 in; 12; 10 lb\n2; 1/8 in; 10; 20 lb", "tables"),
            ("2; 1/8 in; 12; 10 lb", "tables.0.points"),
            ("2; 1/8 in; twelve; 10 lb", "card.1.reading"),
        ):
            answer = self.write("ansel", card, {"version": 1, "typed": typed}, method="put")
            self.assertEqual(refused(answer), field)
        file = self.cables()["document"]
        del file["sides"]["A"]["supports"][0]["sense"]
        answer = self.write("ansel", f"{RUDDER}/assess", {"document": file})
        self.assertEqual(refused(answer), "sides.A.supports.0.sense")

    def test_moving_the_fairlead_mends_the_gap(self):
        kept = self.cables()
        rows = "A;Right fairlead 4265;fairlead;4290 mm;118 mm;385 mm"
        asked = {"document": kept["document"], "side": "A", "rows": rows}
        tried = self.write("ansel", f"{RUDDER}/assess", asked).json()
        gap = next(c for c in tried["solved"]["checks"] if c["key"] == "gap A turnbuckle")
        self.assertEqual(gap["verdict"], "in")
        self.assertEqual(self.check("gap A turnbuckle")["verdict"], "out")
        body = {"version": kept["version"], "document": tried["document"]}
        self.assertEqual(self.write("ansel", RUDDER, body, method="put").status_code, 200)
        self.assertEqual(self.check("gap A turnbuckle")["verdict"], "in")
        self.assertEqual(self.write("ansel", RUDDER, body, method="put").status_code, 409)

    def test_a_trial_tells_each_verdict_that_keeping_it_then_changes_of_tension_and_size_too(self):
        kept = self.cables()
        file = kept["document"]
        file["target"]["tension"] = "60 lb"
        file["sides"]["A"]["diameter_in"] = 0.09375
        file["sides"]["B"]["fittings"].insert(
            1, {"id": "sleeve", "kind": "sleeve", "at": [2.5, 2.55]}
        )
        tried = self.write("ansel", f"{RUDDER}/assess", {"document": file}).json()
        body = {"version": kept["version"], "document": file}
        answer = self.write("ansel", RUDDER, body, method="put")
        self.assertEqual(answer.status_code, 200, answer.content)
        was = {c["what"]: c["verdict"] for c in kept["checks"]}
        now = {c["what"]: c["verdict"] for c in self.cables()["checks"]}
        differ = {
            (w, was.get(w), now.get(w)) for w in was.keys() | now.keys() if was.get(w) != now.get(w)
        }
        told = [(s["what"], s["before"], s["after"]) for s in tried["shifts"]]
        self.assertEqual(set(told), differ)
        self.assertEqual(len(told), len(differ))
        self.assertTrue(any("tension" in what.lower() for what, _, _ in told), told)

    def test_a_pulley_that_is_new_brings_its_guard_as_a_joint(self):
        kept = self.cables()
        file = kept["document"]
        file["sides"]["A"]["supports"][0]["id"] = "Right pulley renewed"
        names = lambda: str(self.as_("ansel").get("/api/aircraft/fenlark/joints?size=200").json())
        self.assertNotIn("guard, Right pulley renewed", names())
        body = {"version": kept["version"], "document": file}
        self.assertEqual(self.write("ansel", RUDDER, body, method="put").status_code, 200)
        self.assertIn("guard, Right pulley renewed", names())

    def test_a_pull_counts_how_well_the_cable_s_stiffness_is_known(self):
        typed = {"span": "900 mm", "force": "1 lb", "deflection": "9 mm", "levers": "pinned"}
        pull = {"side": "A", "method": "pull", "temperature": "14 C", "typed": typed}
        inputs = self.write("ansel", f"{RUDDER}/try", pull).json()["why"]["inputs"]
        cable = Rigged(rigging_from(self.cables()["document"])).rigging.cables["A"].data
        share = inputs["u_compliance_m_per_N"] / inputs["compliance_m_per_N"]
        self.assertAlmostEqual(share, cable.u_ae_N / cable.ae_N)

    def test_the_linkage_is_driven_through_the_cables(self):
        linkage = "/api/aircraft/fenlark/controls/rudder/linkage"
        before = self.as_("ansel").get(linkage).json()
        file = self.cables()["document"]
        for side, sign in (("A", 1), ("B", -1)):
            file["driven"][side] = [6.0, 0.1 * sign, 0.5]
        body = {"version": self.cables()["version"], "document": file}
        self.write("ansel", RUDDER, body, method="put")
        after = self.as_("ansel").get(linkage).json()
        self.assertEqual(before["document"], after["document"])
        self.assertNotEqual(before["solved"], after["solved"])

    def test_a_signature_covers_the_cables(self):
        def covered():
            return ScopeState.objects.get(aircraft=self.fenlark, scope="control:rudder").facts

        before = covered()
        self.assertTrue(any(k.startswith("cable check/") for k in before))
        self.did("turned", "A", turns="0.25")
        self.assertTrue(any(k.startswith("cable event/") for k in covered().keys() - before.keys()))
        scope = control_scope(self.fenlark, "rudder")
        self.assertTrue(any(said.startswith("Cables: ") for said in scope.not_ready))

    def test_a_press_that_leaves_something_off_for_good_is_stopped(self):
        file = self.cables(ELEVATOR, "corin")["document"]
        file["sides"]["B"]["slide_on"] = [{"name": "boot", "bore": 0.005}]
        version = self.cables(ELEVATOR, "corin")["version"]
        body = {"version": version, "document": file}
        self.write("corin", ELEVATOR, body, method="put")
        found = self.check("slide on B", ELEVATOR, "corin")
        self.assertEqual((found["verdict"], found["state"]), ("out", "cannot be put on"))

    def test_a_recording_is_read_or_refused_with_its_reason(self):
        def heard(content, **typed):
            form = {"side": "A", "temperature": "14 C", "file": BytesIO(content)}
            form |= {
                f"typed.{k}": v for k, v in ({"span": "1.1 m", "clear": "yes"} | typed).items()
            }
            return self.as_("ansel").post(f"{RUDDER}/hear", form)

        good = pluck("fenlark", "rudder", "A", 1.1, {}, 3)
        answer = heard(good).json()
        self.assertLess(abs(answer["tension_N"] - 73), 2 * answer["u_N"])
        self.assertEqual(answer["confirm"], [])
        for content, typed, field in (
            (b"", {}, "file"),
            (bytes(17_000_000), {}, "file"),
            (good, {"clear": ""}, "clear"),
            (good, {"span": "0"}, "span"),
            (good, {"frequency": "11"}, "frequency"),
            (good[:20000], {}, "samples"),
        ):
            refused = heard(content, **typed)
            self.assertEqual(refused.status_code, 422, refused.content)
            self.assertEqual(refused.json()["field"], field)

    def test_the_sheet_is_printed_on_one_page_with_what_to_turn_and_what_is_open(self):
        pdf = self.as_("ansel").get(f"{RUDDER}/rigging-sheet.pdf?temperature=14 C")
        pages = PdfReader(BytesIO(pdf.content)).pages
        self.assertEqual(len(pages), 1)
        text = pages[0].extract_text()
        for said in ("23.8 lb", "Right cable: 1 turn shorter", "Right fairlead 4265", "Sense seen"):
            self.assertIn(said, text)

    def test_steps_need_what_they_are_about(self):
        refused = self.did("step", step="tension set")
        self.assertEqual(refused.json()["field"], "step")
        self.assertEqual(self.did("step", step="stops set").status_code, 201)
        done = {s["step"]: s["done"] for s in self.cables()["steps"]}
        self.assertTrue(done["stops set"])
        self.did("turned", A="0.5", B="-0.5")
        done = {s["step"]: s["done"] for s in self.cables()["steps"]}
        self.assertFalse(done["stops set"])
        self.assertTrue(done["neutral locked"])

    def test_the_last_thing_done_can_be_taken_back_and_only_that(self):
        self.did("turned", "A", turns="1")
        events = self.cables()["events"]
        undo = lambda e: self.write("ansel", f"{RUDDER}/events/{e['id']}/undo", {})
        self.assertEqual(undo(events[1]).status_code, 422)
        self.assertEqual(undo(events[0]).status_code, 201)
        side = next(s for s in self.cables()["sides"] if s["side"] == "A")
        self.assertEqual(side["showing"], [2.0, 2.0])

    def test_supports_go_out_as_csv_and_come_in_as_rows(self):
        text = self.as_("ansel").get(f"{RUDDER}/supports.csv").content.decode()
        file = self.cables()["document"]
        back = self.write("ansel", f"{RUDDER}/assess", {"document": file, "rows": text}).json()
        self.assertEqual(back["document"], file)
        for rows, field in (("C;x;fairlead;1;2;3", "rows.1.side"), ("A;x;fairlead;1;2", "rows.1")):
            answer = self.write("ansel", f"{RUDDER}/assess", {"document": file, "rows": rows})
            self.assertEqual(answer.json()["field"], field)

    def test_readings_and_events_are_never_changed(self):
        for model in (CableReading, CableEvent):
            row = model.objects.first()
            with self.assertRaisesMessage(Exception, "append-only"):
                with transaction.atomic():
                    model.objects.filter(pk=row.pk).update(at=row.at)
        first = self.cables()["readings"][0]
        path = f"{RUDDER}/readings/{first['id']}/withdraw"
        self.assertEqual(self.write("ansel", path, {"reason": "slipped off"}).status_code, 201)
        self.assertNotIn(first["id"], [r["id"] for r in self.cables()["readings"]])

    def test_a_counselor_reads_and_checks_but_does_not_turn(self):
        self.assertEqual(self.as_("odile").get(RUDDER).status_code, 200)
        answer = self.write("odile", f"{RUDDER}/events", {"doing": "turned", "side": "A"})
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(Loop.objects.count(), 2)
