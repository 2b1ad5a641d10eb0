"""What follows from cables elsewhere: bays and gates, joints, find, instruments, people."""

import json
from datetime import date, timedelta

from core.basis.verdicts import Verdict
from server.aircraft.models import Bay
from server.cables.models import CableReading, CalibrationCard, Loop
from server.demo.cables import load_cables
from server.hardware.models import Joint
from server.instruments.models import Instrument
from server.kit.standing import concerns
from testkit.base import OnTheDemo

RUDDER = "/api/aircraft/fenlark/controls/rudder/cables"


class CableWork(OnTheDemo):
    def cables(self, path=RUDDER, person="ansel"):
        return self.as_(person).get(path).json()

    def check(self, key):
        return next(c for c in self.cables()["checks"] if c["key"] == key)

    def told(self):
        return {c.id.split(" ", 2)[2]: c for c in concerns(self.fenlark.pk) if c.id[:6] == "cable "}

    def keep(self, method, typed, side="A", temperature="14 C", person="ansel", **more):
        body = {"side": side, "method": method, "temperature": temperature, "typed": typed} | more
        return self.write(person, f"{RUDDER}/readings", body)

    def test_each_check_lies_in_its_bay_and_counts_under_its_step(self):
        told = self.told()
        self.assertEqual(told["gap A turnbuckle"].bays, ("aft-fuselage",))
        self.assertEqual(told["gap A turnbuckle"].step, "clearance")
        self.assertFalse(told["gap A turnbuckle"].passes)
        self.assertTrue(told["gap B turnbuckle"].passes)
        self.assertEqual(told["turnbuckle A"].step, "joint")
        self.assertEqual(told["pulley A Right pulley 3150"].bays, ("baggage",))
        self.assertIn("cables/rudder?part=route", told["gap A turnbuckle"].link)
        self.assertGreater(len(told["inspection A"].bays), 2)

    def test_a_bay_whose_edge_moves_takes_what_lies_in_it_along(self):
        aft = Bay.objects.get(aircraft=self.fenlark, slug="aft-fuselage")
        baggage = Bay.objects.get(aircraft=self.fenlark, slug="baggage")
        for bay, edge in ((aft, "x0_m"), (baggage, "x1_m")):
            setattr(bay, edge, 4.30)
            bay.save()
        self.assertEqual(self.told()["gap A turnbuckle"].bays, ("baggage",))

    def test_an_inspection_past_its_date_is_due_again(self):
        typed = {"found": "no broken wires", "fit": "yes"}
        typed["next_due"] = (date.today() - timedelta(days=1)).isoformat()
        body = {"doing": "inspected", "side": "A", "typed": typed}
        self.assertEqual(self.write("ansel", f"{RUDDER}/events", body).status_code, 201)
        self.assertEqual(self.told()["inspection A"].state, "due")
        body["typed"] = {"found": "four broken wires at the fairlead", "fit": "no"}
        self.write("ansel", f"{RUDDER}/events", body)
        self.assertEqual(self.told()["inspection A"].verdict, Verdict.OUT)
        body["typed"] = {"found": "", "fit": "yes"}
        self.assertEqual(self.write("ansel", f"{RUDDER}/events", body).json()["field"], "found")

    def test_guards_and_clevis_pins_are_joints_made_once(self):
        names = set(Joint.objects.filter(control="rudder").values_list("name", flat=True))
        self.assertIn("Rudder: guard, Right pulley 4900", names)
        self.assertIn("Rudder: Clevis pin, left cable at end A", names)
        pin = Joint.objects.get(name="Rudder: Clevis pin, right cable at end B")
        self.assertTrue(pin.temporary)
        kept = self.cables()
        body = {"version": kept["version"], "document": kept["document"]}
        self.write("ansel", RUDDER, body, method="put")
        self.assertEqual(
            set(Joint.objects.filter(control="rudder").values_list("name", flat=True)), names
        )

    def test_find_tells_where_the_cable_runs_and_where_its_fairlead_is(self):
        def found(words):
            return self.as_("ansel").get(f"/api/aircraft/fenlark/find?q={words}").json()

        bays = {b["bay"] for b in found("right cable")["bays"]}
        self.assertLessEqual({"baggage", "aft-fuselage"}, bays)
        fairlead = found("right fairlead 4265")
        self.assertEqual([b["bay"] for b in fairlead["bays"]], ["aft-fuselage"])
        self.assertIn("cables/rudder?part=route", json.dumps(fairlead))

    def test_ways_that_contradict_each_other_are_never_in(self):
        gauge = self.instrument("Cable tension gauge")
        self.keep("card", {"readings": "21.5; 21.5; 22"}, instrument=gauge)
        self.assertEqual(self.check("tension A")["verdict"], "in")
        pull = {"span": "900 mm", "force": "1 lb", "deflection": "5 mm", "levers": "pinned"}
        self.assertEqual(self.keep("pull", pull).status_code, 201)
        said = self.check("tension A")
        self.assertEqual(said["verdict"], "too close")
        self.assertIn("contradict", said["said"])

    def test_a_gauge_past_its_calibration_cannot_make_it_in(self):
        gauge = Instrument.objects.get(name="Cable tension gauge")
        Instrument.objects.filter(pk=gauge.pk).update(
            calibration_due=date.today() - timedelta(days=3)
        )
        self.keep("card", {"readings": "21.5; 21.5; 22"}, instrument=gauge.pk)
        said = self.check("tension A")
        self.assertEqual(said["verdict"], "too close")
        self.assertIn("calibration was due", said["said"])

    def test_a_reading_keeps_the_card_it_was_converted_by(self):
        gauge = self.instrument("Cable tension gauge")
        before = CableReading.objects.filter(method="card").first()
        card = CalibrationCard.objects.get(instrument=gauge)
        typed = card.typed.replace("25; 30 lb", "25; 33 lb")
        body = {"version": card.version, "typed": typed, "u": "1 lb"}
        path = f"/api/aircraft/fenlark/instruments/{gauge}/card"
        answer = self.write("ansel", path, body, method="put")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.write("ansel", path, body, method="put").status_code, 409)
        again = CableReading.objects.get(pk=before.pk)
        self.assertEqual(again.inputs["tables"], before.inputs["tables"])
        self.assertNotEqual(CalibrationCard.objects.get(pk=card.pk).tables, before.inputs["tables"])

    def test_where_a_cable_set_right_is_slack_nothing_is_judged(self):
        gauge = self.instrument("Cable tension gauge")
        self.keep("card", {"readings": "12; 12"}, temperature="-20 C", instrument=gauge)
        rows = CableReading.objects.filter(side="A", method="card")
        self.assertEqual(rows.count(), 2)
        said = self.check("tension A")
        self.assertEqual(said["verdict"], "not measured")
        self.assertIn("slack", said["said"])

    def test_everyone_does_what_their_role_may(self):
        reading = {"angle": "0.1"}
        self.assertEqual(self.keep("straight", reading, side="", person="ines").status_code, 201)
        self.assertEqual(self.keep("straight", reading, side="", person="odile").status_code, 201)
        self.assertTrue(CableReading.objects.latest("id").check_reading)
        self.assertEqual(self.as_("corin").get(RUDDER).status_code, 404)
        kept = self.cables()
        body = {"version": kept["version"], "document": kept["document"]}
        self.assertEqual(self.write("ines", RUDDER, body, method="put").status_code, 403)

    def test_a_control_without_cables_says_so_and_takes_its_first(self):
        path = "/api/aircraft/fenlark/controls/ailerons/cables"
        self.assertIsNone(self.cables(path)["solved"])
        answer = self.write("ansel", f"{path}/today", {"temperature": "14 C"})
        self.assertEqual(answer.json()["field"], "cables")
        file = self.cables()["document"]
        for lever in ("driver", "driven"):
            file[lever] = {k: v for k, v in file[lever].items() if k != "body"}
        file["target"], file["id"] = None, "ailerons"
        body = {"version": 0, "document": file}
        self.assertEqual(self.write("ansel", path, body, method="put").status_code, 200)
        answer = self.write("ansel", f"{path}/today", {"temperature": "14 C"})
        self.assertEqual(answer.json()["field"], "target")
        self.assertEqual(self.as_("ansel").get(f"{path}/rigging-sheet.pdf").status_code, 200)
        self.assertEqual(self.as_("ansel").get("/api/aircraft/fenlark/cables").json()["count"], 5)

    def test_a_lever_that_the_linkage_does_not_have_is_refused(self):
        kept = self.cables()
        kept["document"]["driver"]["body"] = "crankshaft"
        body = {"version": kept["version"], "document": kept["document"]}
        answer = self.write("ansel", RUDDER, body, method="put")
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "driver.body"))

    def test_a_counted_thread_begins_anew_and_a_turn_beyond_it_is_refused(self):
        def turned(turns):
            body = {"doing": "turned", "side": "A", "typed": {"turns": turns}}
            return self.write("ansel", f"{RUDDER}/events", body)

        turned("1.5")
        kept = self.cables()
        self.assertEqual(kept["sides"][0]["showing"], [0.5, 0.5])
        self.assertEqual(turned("0.75").json()["field"], "turns")
        kept["document"]["sides"]["A"]["turnbuckle"]["showing"] = [1.0, 1.25]
        body = {"version": kept["version"], "document": kept["document"]}
        self.write("ansel", RUDDER, body, method="put")
        self.assertEqual(self.cables()["sides"][0]["showing"], [1.0, 1.25])
        self.assertEqual(turned("0.75").status_code, 201)
        self.assertEqual(self.cables()["sides"][0]["showing"], [0.25, 0.5])

    def test_what_was_kept_loads_again_as_it_was(self):
        file = self.cables()["document"]
        self.assertEqual(Loop.objects.filter(aircraft=self.fenlark).count(), 1)
        control = self.fenlark.controls.get(slug="trim")
        owner = Loop.objects.get(aircraft=self.fenlark).changed_by
        plain = file | {"id": "again"}
        load_cables(control, owner, plain, {"events": [], "readings": []})
        again = self.cables("/api/aircraft/fenlark/controls/trim/cables")["document"]
        self.assertEqual(again, plain)
