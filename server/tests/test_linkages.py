"""Linkages through the API: advice from readings, half-turns recorded, what they reopen."""

import copy

import numpy as np

from server.controls.models import Adjustment, Rod
from server.hardware.models import Joint
from server.record.models import LooseEnd
from testkit.base import OnTheDemo

AILERONS = "/api/aircraft/fenlark/controls/ailerons"
LINKAGE = f"{AILERONS}/linkage"
ELEVATOR = "/api/aircraft/fenlark/controls/elevator/linkage"


class Linkages(OnTheDemo):
    def linkage(self, path=LINKAGE):
        return self.as_("ansel").get(path).json()

    def advice(self, path=LINKAGE, **asked):
        return self.write("ansel", f"{path}/advice", asked).json()

    def turn(self, changes, path=LINKAGE, person="ansel", version=None):
        version = version or self.linkage(path)["version"]
        body = {"version": version, "changes": changes, "note": "from the advice"}
        return self.write(person, f"{path}/adjustments", body)

    def test_the_left_aileron_is_advised_shorter_and_the_right_stays_inside(self):
        found = self.advice()
        self.assertEqual((found["output"], found["found"], found["guarded"]), ("left", True, True))
        self.assertEqual([c["id"] for c in found["changes"]], ["rod_left"])
        self.assertLess(found["changes"][0]["half_turns"], 0)
        self.assertEqual({f["after"] for f in found["forecast"]}, {"in"})
        self.assertEqual(len({f["surface"] for f in found["forecast"]}), 2)
        self.assertEqual(found["why"]["rule"], "controls.advise")

    def test_the_surface_stands_where_its_row_says_at_the_input_that_it_says(self):
        solved = self.linkage(ELEVATOR)["solved"]
        axis, (output, *_) = solved["axes"][0]["values"], solved["outputs"]
        rows = [r for r in solved["travel"] if r["input"] is not None and r["value"] is not None]
        self.assertGreater(len(rows), 1)
        for r in rows:
            there = abs(float(np.interp(r["input"], axis, output["values"])))
            self.assertAlmostEqual(there, abs(r["value"]), delta=0.3)

    def test_a_trial_is_advised_on_as_if_it_were_built_so(self):
        document = self.linkage()["document"]
        for stop in document["stops"]:
            if stop["id"] == "left_down":
                stop["at"] = 0.2
        found = self.advice(output="left", document=document)
        self.assertNotEqual(found["changes"], self.advice(output="left")["changes"])
        self.assertEqual(self.advice(document={"bodies": []})["errors"][0]["field"], "inputs")

    def test_a_turn_opens_a_round_for_what_it_moves_and_leaves_jam_nuts_loose(self):
        before = LooseEnd.objects.filter(ended_at=None).count()
        self.assertEqual(self.turn({"rod_left": -4}).status_code, 201)
        sheet = self.sheet("ailerons")
        self.assertEqual(sheet["round"], 2)
        words = {
            (q["surface"], q["position"]): q["result"]["verdict"]
            for q in sheet["requirements"]
            if q["kind"] in ("travel", "neutral")
        }
        self.assertEqual(words["left-aileron", "down_stop"], "not measured")
        self.assertEqual(words["right-aileron", "down_stop"], "in")
        # Both jam nuts are joints of their own: torqued ones would be loose again.
        self.assertEqual(LooseEnd.objects.filter(ended_at=None).count(), before + 2)
        nuts = Joint.objects.filter(name__startswith="Jam nut, rod left at")
        self.assertEqual({j.state for j in nuts}, {"finger-tight"})
        self.assertEqual({j.bay.slug for j in nuts}, {"left-mid"})
        row = Adjustment.objects.get()
        self.assertEqual((row.changes, row.affects), ({"rod_left": -4}, ["left-aileron"]))
        rod = next(r for r in self.linkage()["rods"] if r["id"] == "rod_left")
        self.assertEqual(rod["half_turns"], -4)
        self.assertAlmostEqual(rod["ends"][0]["engaged_mm"], 13.6 + 2 * 0.9071428571)
        self.assertEqual(self.turn({"rod_left": 4}).status_code, 201)
        self.assertEqual(Rod.objects.get(slug="rod_left").half_turns, 0)

    def test_a_turn_makes_the_signatures_stale(self):
        path = "/api/aircraft/fenlark/controls/rudder/linkage"
        body = self.turn({"pedal_rod_left": 1}, path)
        self.assertEqual(body.status_code, 201)
        scope = "/api/aircraft/fenlark/signatures/control:rudder"
        shown = self.as_("ansel").get(scope).json()
        self.assertIn("rod", str(shown))

    def test_what_cannot_be_turned_or_is_old_is_refused(self):
        wrong = {"nobody": 1, "left_up": 1}
        for name, n in wrong.items():
            answer = self.turn({name: n})
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, f"changes.{name}"))
        self.assertEqual(self.turn({"rod_left": 0}).json()["field"], "changes")
        self.assertEqual(self.turn({"rod_left": -1}, version=77).status_code, 409)
        self.assertEqual(self.turn({"rod_left": -1}, person="odile").status_code, 403)

    def test_reversed_readings_stop_the_advice(self):
        level = {"surface": "left-aileron"}
        for position, value in (("up_stop", "-21; -21"), ("down_stop", "14; 14")):
            sheet = self.sheet("ailerons")
            for old in sheet["readings"]:
                if (old["surface"], old["position"]) == ("left-aileron", position) and old[
                    "current"
                ]:
                    self.write(
                        "ansel",
                        f"/api/aircraft/fenlark/readings/{old['id']}/corrections",
                        {"value": "", "withdraw": True, "reason": "read again"},
                    )
            self.write("ansel", f"{AILERONS}/readings", self.reading(value, position, **level))
        found = self.advice(output="left")
        self.assertEqual(found["stop"], "Stop: this control moves the wrong way.")
        self.assertFalse(found["found"])

    def test_the_rod_end_with_too_little_thread_blocks_its_bay(self):
        rods = {r["id"]: r for r in self.linkage(ELEVATOR)["rods"]}
        end = rods["mid"]["ends"][1]
        self.assertEqual((end["verdict"], end["bay"]), ("out", "aft-fuselage"))
        self.assertIn("inspection hole", end["said"])
        gate = self.as_("ansel").get("/api/aircraft/fenlark/closures/aft-top-skin").json()
        self.assertIn("thread in rod mid at bellcrank", str(gate))

    def test_points_pasted_into_what_is_no_linkage_are_refused_by_its_field(self):
        for document, field in (
            (False, "document.bodies"), ([], "document.bodies"), ({"bodies": 3}, "document.bodies"),
            ({"bodies": [3]}, "document.bodies.0"), ({"bodies": [{"id": 1}]}, "document.bodies.0"),
            ({"bodies": [{"id": "a", "points": 3}]}, "document.bodies.0.points"),
        ):  # fmt: skip
            body = {"document": document, "points": "stick; grip; 1; 2; 3"}
            told = self.write("ansel", f"{ELEVATOR}/assess", body)
            self.assertEqual((told.status_code, told.json()["field"]), (422, field))

    def test_an_import_with_a_fault_names_it_and_changes_nothing(self):
        kept = self.linkage(ELEVATOR)
        faulty = copy.deepcopy(kept["document"])
        faulty["bodies"][1]["axis"] = [0, 0, 0]
        answer = self.write(
            "ansel", ELEVATOR, {"version": kept["version"], "document": faulty}, method="put"
        )
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "bodies.idler.axis"))
        self.assertEqual(self.linkage(ELEVATOR)["version"], kept["version"])
        kept["document"]["stops"][2]["at"] = 0.5
        body = {"version": kept["version"], "document": kept["document"]}
        self.assertEqual(self.write("ansel", ELEVATOR, body, method="put").status_code, 200)
        self.assertEqual(self.linkage(ELEVATOR)["document"], kept["document"])

    def test_pasted_points_and_what_if_save_nothing_and_variants_are_kept(self):
        rows = "bellcrank\ttop\t4600\t0\t637"
        tried = self.write("ansel", f"{ELEVATOR}/assess", {"points": rows}).json()
        body = next(b for b in tried["document"]["bodies"] if b["id"] == "bellcrank")
        self.assertEqual(body["points"]["top"], [4.6, 0, 0.637])
        up = next(t for t in tried["solved"]["travel"] if t["position"] == "up_stop")
        self.assertEqual(up["stop"], "elevator_up")
        self.assertNotEqual(self.linkage(ELEVATOR)["document"], tried["document"])
        bad = self.write("ansel", f"{ELEVATOR}/assess", {"points": "idler,low,3.5 x,0,0"})
        self.assertEqual(bad.json()["field"], "points.1.station")
        kept = {"name": "Longer top arm", "document": tried["document"]}
        answer = self.write("ansel", f"{ELEVATOR}/variants", kept)
        self.assertEqual([v["name"] for v in answer.json()["variants"]], ["Longer top arm"])
        self.assertEqual(self.write("ansel", f"{ELEVATOR}/variants", kept).json()["field"], "name")

    def test_play_strength_and_balance_are_worked_out_from_the_linkage(self):
        asked = {"output": "elevator", "clearances": {"aft": "0.1 mm", "fwd": "0.05 mm"}}
        found = self.write("ansel", f"{ELEVATOR}/play", asked | {"limit": "1"}).json()
        self.assertEqual((found["first"], found["verdict"]), ("aft", "in"))
        self.assertAlmostEqual(found["rows"][0]["share_deg"], 0.0897, places=3)
        path = "/api/aircraft/fenlark/controls/elevator/part-checks"
        rows = self.as_("ansel").get(path).json()["results"]
        self.assertEqual({r["verdict"] for r in rows}, {"in"})
        heavy = {"kind": "rod_strength", "subject": "fwd", "typed": {"pilot_force": "900 N"}}
        answer = self.write("ansel", path, heavy).json()["results"]
        self.assertEqual(next(r for r in answer if r["subject"] == "fwd")["verdict"], "out")
        none = {"kind": "rod_strength", "subject": "servo_rod", "typed": {"pilot_force": "1 N"}}
        self.assertEqual(self.write("ansel", path, none).json()["field"], "record.od")

    def test_files_go_out_in_open_formats(self):
        client = self.as_("ansel")
        data = client.get(f"{ELEVATOR}/file.json")
        self.assertEqual(data.json()["id"], "fenlark-elevator")
        text = client.get(f"{ELEVATOR}/points.csv").content.decode()
        self.assertIn("bellcrank,top,4600,0,635", text)
        self.assertEqual(client.get("/api/schemas/mechanism").json()["type"], "object")

    def test_with_the_servo_connected_and_disconnected_the_worse_one_speaks(self):
        readings = "/api/aircraft/fenlark/controls/elevator/readings"

        def keep(value, servo):
            body = self.reading(value, "up_stop", conditions={"servo": servo})
            sheet = self.write("ansel", readings, body).json()
            return next(q["result"] for q in sheet["requirements"] if q["position"] == "up_stop")

        one = keep("26.5; 26.5; 26.5; 26.5", "connected")
        self.assertTrue(any("servo disconnected too" in a for a in one["advice"]))
        both = keep("28.9; 28.9; 28.9; 28.9", "disconnected")
        self.assertEqual(both["verdict"], "out")
        self.assertEqual(both["sets"][both["governing"]]["servo"], "disconnected")
