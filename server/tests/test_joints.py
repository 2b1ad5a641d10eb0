"""Joints and what is done to them; stock, the bolt chooser, the fit checker, compounds."""

from datetime import date, timedelta

from core.rulebook.registry import rule
from server.hardware.models import Joint, JointEvent
from server.instruments.models import Instrument
from server.record.models import LooseEnd
from server.tests.test_lane import AT, OnTheLane

BELLCRANK = "joints/elevator-bellcrank-bolt"


class Joints(OnTheLane):
    def event(self, joint, doing, status=201, **more):
        return self.post(f"joints/{joint}/events", {"doing": doing, **more}, status=status)

    def new(self, status=201, **more):
        return self.post("joints", {"name": "Test bolt", "bay": "nose", **more}, status=status)

    def stock(self, name):
        return next(s["id"] for s in self.get("stock")["results"] if s["name"] == name)

    def test_one_tap_each_and_the_state_follows(self):
        joint = self.new(device="cotter", rotating=True, witness_needed=True)
        self.assertEqual((joint["state"], joint["verdict"]), ("open", "not measured"))
        for doing, state in (
            ("run down", "snug"),
            ("torqued", "torqued"),
            ("safetied", "safetied"),
            ("sealed", "sealed"),
        ):
            self.assertEqual(self.event("test-bolt", doing)["state"], state)
        done = self.get("joints/test-bolt")
        self.assertEqual((done["verdict"], done["why"]), ("in", []))
        self.assertEqual({e["by"] for e in done["events"]}, {"Ansel Tarnfield"})

    def test_safetying_before_torque_is_refused_and_nothing_is_kept(self):
        self.new(device="cotter")
        answer = self.event("test-bolt", "safetied", status=422)
        self.assertEqual(answer["errors"][0]["field"], "safetied")
        self.assertEqual(JointEvent.objects.filter(joint__slug="test-bolt").count(), 0)

    def test_loosening_clears_everything_and_leaves_a_loose_end_that_securing_ends(self):
        self.event("elevator-horn-bolt", "loosened", note="rod end turned")
        joint = self.get("joints/elevator-horn-bolt")
        self.assertEqual(joint["state"], "finger-tight")
        self.assertTrue(joint["temporary"])
        end = LooseEnd.objects.get(joint__slug="elevator-horn-bolt")
        self.assertIsNone(end.ended_at)
        self.event("elevator-horn-bolt", "torqued", value="35 in-lb")
        self.event("elevator-horn-bolt", "safetied")
        self.event("elevator-horn-bolt", "sealed")
        end.refresh_from_db()
        self.assertIsNotNone(end.ended_at)
        self.assertEqual(self.get("joints/elevator-horn-bolt")["why"], [])

    def test_the_last_thing_done_is_taken_back_and_stays_in_the_record(self):
        self.new(device="none")
        self.event("test-bolt", "torqued")
        event = self.event("test-bolt", "sealed")["events"][-1]["id"]
        first = self.get("joints/test-bolt")["events"][0]["id"]
        refused = self.post("joints/test-bolt/undo", {"event": first}, status=422)
        self.assertIn("only the last", refused["errors"][0]["reason"])
        joint = self.post("joints/test-bolt/undo", {"event": event})
        self.assertEqual(joint["state"], "torqued")
        self.assertEqual([e["stands"] for e in joint["events"]], [True, False])

    def test_torque_outside_its_range_and_a_wrench_past_its_calibration(self):
        wrench = Instrument.objects.get(name="Torque wrench")
        self.new(torque="50 to 70 in-lb", drag="0.9 Nm", device="self_locking")
        joint = self.event("test-bolt", "torqued", value="50 in-lb", instrument=wrench.pk)
        self.assertEqual(joint["checks"][0]["verdict"], "out")
        joint = self.event("test-bolt", "torqued", value="7.6 Nm", instrument=wrench.pk)
        self.assertEqual(joint["verdict"], "in")
        joint = self.event("test-bolt", "torqued", value="7.6 Nm")
        self.assertEqual(joint["checks"][0]["verdict"], "too close")
        wrench.calibration_due = date.today() - timedelta(days=1)
        wrench.save()
        joint = self.event("test-bolt", "torqued", value="7.6 Nm", instrument=wrench.pk)
        wrong = next(c for c in joint["checks"] if c["what"] == "wrench")
        self.assertEqual(wrong["verdict"], "too close")
        outside = self.get("lane")["outside"]
        self.assertTrue(any("calibration was due" in i["subject"] for i in outside))

    def test_a_nonmetallic_insert_needs_its_temperature_and_wire_a_drilled_head(self):
        nut = self.stock("Self-locking 1/4")
        body = {"nut": nut, "device": "self_locking", "insert": "nonmetallic"}
        self.assertEqual(self.new(**body)["checks"][0]["verdict"], "not measured")
        hot = self.new(**body, temperature_max="125 C")["checks"][0]
        self.assertEqual((hot["verdict"], hot["said"]), ("out", "too hot for a nonmetallic insert"))
        # The list tells what cannot be used, also where it is not in yet.
        listed = next(j for j in self.get("joints")["results"] if hot in j["checks"])
        self.assertIn("too hot for a nonmetallic insert", listed["open"])
        self.assertEqual(self.new(**body, temperature_max="45 C")["verdict"], "not measured")
        bolt = {"kind": "bolt", "name": "W-13", "grip": "12.7", "length": "23.8"}
        bolt |= {"threads_per_inch": "28", "head_drilled": True}
        wired = {"nut": nut, "device": "wire", "bolt": self.post("stock", bolt)["id"]}
        chosen = self.new(name="Wired bolt", torque="5 to 8 Nm", **wired)["checks"][-1]
        self.assertEqual(chosen["verdict"], "not measured")
        self.assertEqual(chosen["said"], "safety wire may be used here; it is not in yet")
        listed = next(j for j in self.get("joints")["results"] if j["slug"] == "wired-bolt")
        self.assertEqual(sum("in yet" in x or x == "not safetied" for x in listed["open"]), 1)
        for doing in ("run down", "torqued", "safetied"):
            done = self.event("wired-bolt", doing)
        wired_now = next(c for c in done["checks"] if c["what"] == "safetying")
        self.assertEqual(
            (wired_now["verdict"], wired_now["said"]), ("in", "secured by safety wire")
        )
        bare = self.new(**wired | {"bolt": self.stock("B-13")})["checks"][0]
        self.assertIn("drilled head", bare["said"])

    def test_what_nobody_said_of_its_securing_keeps_it_open(self):
        joint = self.new()
        self.assertEqual((joint["device"], joint["checks"][0]["verdict"]), ("", "not measured"))
        self.event("test-bolt", "run down")
        joint = self.event("test-bolt", "torqued")
        self.assertEqual(joint["why"], ["what secures it is not said"])
        self.assertNotIn("safetied", joint["can"])
        said = {"name": "Test bolt", "bay": "nose", "version": joint["version"], "device": "none"}
        body = self.write("ansel", f"{AT}/joints/test-bolt", said, method="patch").json()
        self.assertEqual((body["why"], body["checks"]), ([], []))

    def test_a_verdict_s_rule_gives_it_again_from_the_very_inputs_shown(self):
        for joint in self.get("joints?size=100")["results"]:
            for check in joint["checks"]:
                if check["rule"]:
                    out = rule(check["rule"]).run(check["inputs"])
                    said = out.get("verdict") or {"use": "in"}.get(out["decision"], "out")
                    if "not in yet" in check["said"]:
                        said = "not measured"
                    self.assertEqual(said, check["verdict"], joint["name"])

    def test_a_torque_range_whose_unit_cannot_be_torque_is_refused(self):
        for torque in ("50 to 70 mm", "50 to 70 lb", "70 to 50 in-lb", "tight"):
            with self.subTest(torque=torque):
                answer = self.new(status=422, torque=torque)
                self.assertEqual(answer["errors"][0]["field"], "torque")

    def test_a_joint_outside_every_bay_is_warned_of_and_kept(self):
        joint = self.new(bay="", station="9000", butt_line="0", water_line="0")
        self.assertIn("outside all bays", joint["warnings"][0])
        self.assertEqual(joint["bay"], "")
        self.assertTrue(any(i["subject"] == "Test bolt" for i in self.get("lane")["outside"]))
        inside = self.new(bay="", station="1000", butt_line="0", water_line="500")
        self.assertEqual((inside["bay"], inside["warnings"]), ("nose", []))
        other = self.new(bay="fin", station="1000", butt_line="0", water_line="500")
        self.assertIn("does not lie in Fin, but in nose", other["warnings"][0])

    def test_a_change_on_an_old_version_shows_both_sides_and_loses_nothing(self):
        joint = self.get(BELLCRANK)
        body = {"name": "Bellcrank bolt", "bay": "aft-fuselage", "version": joint["version"] + 5}
        answer = self.write("ansel", f"{AT}/{BELLCRANK}", body, method="patch")
        self.assertEqual(answer.status_code, 409)
        self.assertEqual(answer.json()["theirs"]["name"], joint["name"])
        self.assertEqual(answer.json()["yours"]["name"], "Bellcrank bolt")

    def test_the_demo_s_bolt_is_short_of_thread_and_the_chooser_says_what_to_take(self):
        short = self.get("joints/rudder-pulley-bracket-bolt")
        self.assertEqual(short["verdict"], "out")
        body = {
            "layers": "bracket 3.0 mm; frame 9.6 mm",
            "nut": self.stock("Self-locking 1/4"),
        }
        found = self.post("bolt-choice", body, status=200)
        self.assertEqual(found["outputs"]["bolt"], "B-13")
        self.assertEqual(found["outputs"]["verdict"], "in")
        self.assertLess(len(found["outputs"]["nut_washers_m"]), 3)
        none = self.post("bolt-choice", body | {"layers": "40 mm"}, status=200)
        self.assertIn("No bolt in stock does", none["said"])
        self.assertIn("longer grip", none["said"])

    def test_the_fit_checker_and_the_wrench(self):
        fit = {"hole": "12.700; 12.705", "shaft": "12.715; 12.718", "need": "turn"}
        bare = self.post("fit-check", fit, status=422)
        self.assertEqual(bare["errors"][0]["field"], "u_hole")
        fit |= {"u_hole": "0.002", "u_shaft": "0.002"}
        found = self.post("fit-check", fit, status=200)
        self.assertTrue(found["outputs"]["do_not_press"])
        wrong = self.post("fit-check", fit | {"shaft": "12.7 in"}, status=422)
        self.assertEqual(wrong["errors"][0]["field"], "shaft")
        wrench = {"torque": "50 to 70 in-lb", "drag": "0.9 Nm", "wrench": "280 mm"}
        found = self.post("wrench-setting", wrench | {"extension": "50 mm"}, status=200)
        self.assertAlmostEqual(found["outputs"]["set_low_Nm"], 5.55693, 5)
        back = self.post(
            "wrench-setting", wrench | {"extension": "250 mm", "angle": "180"}, status=422
        )
        self.assertEqual(back["errors"][0]["field"], "extension_m")

    def test_a_tin_past_its_date_is_kept_and_says_so(self):
        yesterday = (date.today() - timedelta(days=1)).isoformat()
        tin = self.post("compounds", {"name": "Old sealant", "expiry_on": yesterday})
        self.assertEqual(tin["decision"], "expired")
        joint = self.new(compound=tin["id"])
        self.assertEqual(joint["verdict"], "out")
        self.assertIn("expired", joint["checks"][-1]["said"])
        month = self.post("compounds", {"name": "x", "expiry_on": "2027-02"}, status=422)
        self.assertEqual(month["errors"][0]["field"], "expiry_on")

    def test_a_joint_is_torqued_again_when_the_hours_say_so(self):
        self.new(device="none", retorque_at_hours=25)
        self.event("test-bolt", "torqued")
        self.get("signatures/bay:nose")
        frame = self.get()
        body = {"name": "Fenlark", "length_unit": "mm", "version": frame["version"]}
        body |= {"hours_run": 25, "arm": "650", "arm_width": "120", "facts": "serial=40"}
        self.assertEqual(self.write("ansel", AT, body, method="patch").status_code, 200)
        self.assertEqual(self.get("joints/test-bolt")["why"], ["re-torque due"])
        self.assertTrue(self.write("ansel", f"{AT}/ledger/check", {}).json()["ok"])
        lone = self.write(
            "ansel", AT, body | {"version": frame["version"] + 1, "arm": ""}, method="patch"
        )
        self.assertEqual(lone.json()["errors"][0]["field"], "arm")

    def test_a_joint_moved_to_another_bay_disturbs_the_inspection_of_both(self):
        for bay in ("cabin-floor", "nose"):
            body = {"doing": "inspected", "password": "fresh-eyes-88"}
            self.post(f"signatures/bay:{bay}", body, person="odile")
        joint = self.get("joints/stick-pivot-bolt")
        body = {
            "name": joint["name"],
            "bay": "nose",
            "version": joint["version"],
            "device": "cotter",
        }
        answer = self.write("ansel", f"{AT}/joints/stick-pivot-bolt", body, method="patch")
        self.assertEqual(answer.status_code, 200, answer.content)
        for bay in ("cabin-floor", "nose"):
            self.assertFalse(self.get(f"signatures/bay:{bay}")["entries"][0]["fresh"])
        self.assertTrue(self.write("ansel", f"{AT}/ledger/check", {}).json()["ok"])

    def test_two_documents_on_one_torque_are_found(self):
        sources = {s["title"]: s["id"] for s in self.get("documents")["documents"]}
        body = {
            "thing": "Stick pivot bolt: torque",
            "kind": "range",
            "dimension": "torque",
            "value": "60 to 85 in-lb",
            "source": sources["Drawing 27-01"],
        }
        groups = self.post("statements", body)["groups"]
        mine = next(g for g in groups if g["thing"] == "Stick pivot bolt: torque")
        self.assertEqual(mine["pairs"][0]["result"], "disjoint")
        self.assertTrue(mine["open"])

    def test_who_may_do_what(self):
        body = {"doing": "torqued"}
        path = f"{AT}/{BELLCRANK}/events"
        self.assertEqual(self.write("odile", path, body).status_code, 403)
        self.assertEqual(self.write("corin", path, body).status_code, 404)
        self.assertEqual(self.write("ines", path, body).status_code, 201)
        stranger = self.as_("corin").get(f"{AT}/joints")
        self.assertEqual(stranger.status_code, 404)

    def test_the_list_is_paged_and_narrowed(self):
        self.assertEqual(self.get("joints?bay=aft-fuselage")["count"], 5)
        self.assertLess(self.get("joints?open=1")["count"], Joint.objects.count())
        self.assertEqual(len(self.get("joints?size=2")["results"]), 2)
