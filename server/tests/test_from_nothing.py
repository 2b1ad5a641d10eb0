"""Everything of an aircraft that its owner begins from nothing: entered, corrected, taken away."""

from datetime import date, timedelta

from core.rulebook import rule
from server.aircraft.models import Aircraft
from server.tests.own import OwnPlane

BOX = {"x0": "1200", "x1": "1500", "y0": "-300", "y1": "300", "z0": "0", "z1": "500"}


class Airframe(OwnPlane):
    def test_the_first_airframe_is_somewhere_to_begin(self):
        frame = self.get()
        self.assertEqual((frame["role"], frame["name"]), ("owner", "Test Plane"))
        self.assertTrue(frame["bays"] and frame["closures"])
        for bay in frame["bays"]:
            for axis in ("x_m", "y_m", "z_m"):
                self.assertLess(bay[axis][0], bay[axis][1], bay["name"])
        self.assertAlmostEqual(
            max(b["end_m"] for b in frame["bays"] if b["part"] == "fuselage"), 6.5, 1
        )
        widest = max(abs(y) for b in frame["bays"] for y in b["y_m"])
        self.assertAlmostEqual(widest, 4.2, 1)
        known = {b["slug"] for b in frame["bays"]}
        for closure in frame["closures"]:
            self.assertTrue(set(closure["bays"]) <= known)
            self.assertFalse(closure["closed"])

    def test_nobody_else_knows_of_it_and_its_name_may_be_another_s_too(self):
        for person in ("ines", "odile", "corin"):
            self.get(status=404, person=person)
        body = {"name": "Test Plane", "engine": "pusher", "wing": "high", "gear": "nose wheel"}
        again = self.write("corin", "/api/aircraft", body).json()
        self.assertNotEqual(again["slug"], self.slug)
        self.assertEqual(Aircraft.objects.filter(name="Test Plane").count(), 2)

    def test_what_is_no_aircraft_is_refused(self):
        good = {"name": "A", "engine": "tractor", "wing": "low", "gear": "tailwheel"}
        for field, change in (
            ("name", {"name": "—"}), ("name", {"name": ""}), ("engine", {"engine": "rocket"}),
            ("wing", {"wing": "delta"}), ("gear", {"gear": "skids"}), ("tail", {"tail": "two"}), ("length", {"length": "long"}),
            ("span", {"span": "9 kg"}), ("colour", {"colour": "red"}), ("length_unit", {"length_unit": "cm"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                answer = self.write("ansel", "/api/aircraft", good | change)
                self.assertIn(answer.status_code, (400, 422))
                self.assertEqual(answer.json()["field"], field)

    def test_a_bay_is_added_measured_again_renamed_and_taken_away(self):
        self.post("bays", {"name": "Oil cooler bay", "part": "fuselage", **BOX})
        bay = self.bay("oil-cooler-bay")
        self.assertEqual(bay["x_m"], [1.2, 1.5])
        change = {
            "name": "Cooler bay",
            "part": "fuselage",
            "version": bay["version"],
            "x1": "60 in",
        }
        self.patch("bays/oil-cooler-bay", change)
        again = self.bay("oil-cooler-bay")
        self.assertEqual(again["name"], "Cooler bay")
        self.assertAlmostEqual(again["x_m"][1], 1.524)
        self.assertEqual(again["y_m"], bay["y_m"])
        self.patch("bays/oil-cooler-bay", change, status=409)
        self.gone("bays/oil-cooler-bay", 2)
        self.assertEqual(
            self.get("since")["changes"][0]["said"],
            "Taken away: bay Cooler bay, because not fitted",
        )
        self.assertNotIn("oil-cooler-bay", {b["slug"] for b in self.get()["bays"]})

    def test_bays_that_leave_a_gap_are_told_and_those_of_the_template_leave_none(self):
        frame = self.get()
        self.assertEqual((frame["gaps"], frame["overlaps"]), ([], []))
        tail = {b["part"]: b for b in frame["bays"] if b["part"].endswith("tail")}
        self.assertEqual(set(tail), {"left tail", "right tail"})
        self.assertLess(tail["left tail"]["start_m"], tail["left tail"]["end_m"])
        bay = self.bay("baggage")
        end = bay["x_m"][1] - 0.04
        change = {"name": "Baggage", "part": "fuselage", "version": 1, "x1": f"{end * 1e3:.1f} mm"}
        self.patch("bays/baggage", change)
        self.assertEqual(
            self.get()["gaps"], [{"before": "baggage", "after": "aft-fuselage", "mm": 40.0}]
        )

    def test_a_bay_that_cannot_be_is_refused(self):
        good = {"name": "X", "part": "fuselage", **BOX}
        for field, change in (
            ("x1", {"x1": "1000"}), ("y0", {"y0": ""}), ("z1", {"z1": "0"}), ("name", {"name": " "}),
            ("part", {"part": "tail"}), ("x0", {"x0": "12 lb"}), ("x0", {"x0": "near the front"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                self.refused(field, "post", "bays", good | change)

    def test_a_bay_in_which_something_lies_stays(self):
        self.post("bays", {"name": "Small bay", "part": "fuselage", **BOX})
        self.post("joints", {"name": "A bolt", "bay": "small-bay"})
        self.assertIn("1 joint in the record", self.gone("bays/small-bay", 1, 422)["reason"])
        self.assertIn("small-bay", {b["slug"] for b in self.get()["bays"]})

    def test_a_closure_and_the_bays_that_it_opens(self):
        first, second = (b["slug"] for b in self.get()["bays"][:2])
        body = {
            "name": "Own cover", "permanent": False, "above": True, "bays": [first],
            "inspection_needed": False, "photo_needed": False,
        }  # fmt: skip
        self.post("closures", body)
        made = self.get("closures/own-cover")
        self.assertEqual((made["bays"], made["permanent"]), ([first], False))
        version = next(c for c in self.get()["closures"] if c["slug"] == "own-cover")["version"]
        planned = (date.today() + timedelta(days=30)).isoformat()
        change = body | {
            "version": version, "bays": [first, second], "permanent": True, "planned_on": planned,
            "inspection_needed": True, "photo_needed": True,
        }  # fmt: skip
        self.patch("closures/own-cover/edit", change)
        shown = next(c for c in self.get()["closures"] if c["slug"] == "own-cover")
        self.assertEqual(sorted(shown["bays"]), sorted([first, second]))
        self.assertEqual((shown["planned_on"], shown["permanent"]), (planned, True))
        steps = {i["step"] for i in self.get("closures/own-cover")["items"]}
        self.assertTrue({"signature", "photo", "count"} <= steps)
        self.patch("closures/own-cover/edit", change, status=409)
        self.gone("closures/own-cover", version + 1)
        self.get("closures/own-cover", status=404)

    def test_a_closure_opens_a_bay_that_there_is(self):
        good = {
            "name": "C", "permanent": False, "above": True, "bays": ["nose"],
            "inspection_needed": False, "photo_needed": False,
        }  # fmt: skip
        self.refused("bays", "post", "closures", good | {"bays": []})
        self.refused("bays", "post", "closures", good | {"bays": ["attic"]})
        self.refused("name", "post", "closures", good | {"name": ""})

    def test_an_opening_and_what_an_arm_reaches_through_it(self):
        bay = next(b for b in self.get()["bays"] if b["part"] == "fuselage")
        (x0, _), (y0, y1), (_, z1) = bay["x_m"], bay["y_m"], bay["z_m"]
        mm = lambda m: f"{m * 1e3:.1f}"
        closure = next(c["slug"] for c in self.get()["closures"] if bay["slug"] in c["bays"])
        body = {
            "name": "Hatch", "bay_a": bay["slug"], "bay_b": "", "closure": closure,
            "x0": mm(x0 + 0.1), "x1": mm(x0 + 0.3), "y0": mm(y0 / 2), "y1": mm(y1 / 2),
            "z0": mm(z1), "z1": mm(z1), "width": "200",
        }  # fmt: skip
        self.post("openings", body)
        hatch = next(o for o in self.get()["openings"] if o["name"] == "Hatch")
        self.assertAlmostEqual(hatch["width_m"], 0.2)
        self.patch(
            f"openings/{hatch['slug']}", body | {"version": hatch["version"], "width": "8 in"}
        )
        again = next(o for o in self.get()["openings"] if o["name"] == "Hatch")
        self.assertAlmostEqual(again["width_m"], 0.2032)
        for field, change in (
            ("bay_a", {"bay_a": "attic"}), ("bay_b", {"bay_b": bay["slug"]}),
            ("closure", {"closure": "lid"}), ("width", {"width": "0"}), ("width", {"width": "-3"}),
            ("x1", {"x1": mm(x0)}), ("x1", {"z1": mm(z1 + 0.1)}),
        ):  # fmt: skip
            with self.subTest(change=change):
                self.refused(field, "post", "openings", body | change)
        self.gone(f"openings/{hatch['slug']}", 1, 409)
        self.gone(f"openings/{hatch['slug']}", 2)
        self.assertEqual([o for o in self.get()["openings"] if o["name"] == "Hatch"], [])

    def test_what_is_said_of_the_aircraft_itself(self):
        frame = self.get()
        body = {
            "version": frame["version"], "name": "Other Name", "summary": "two seats",
            "datum": "firewall", "length_unit": "in", "arm": "26", "arm_width": "5 in",
            "hours_run": 12.5, "facts": "model=Test, serial=40, engine=E-1",
        }  # fmt: skip
        self.patch("", body)
        again = self.get()
        self.assertEqual(
            (again["name"], again["datum"], again["length_unit"]), ("Other Name", "firewall", "in")
        )
        self.assertAlmostEqual(again["arm_mm"], 660.4)
        self.assertEqual(again["facts"], {"model": "Test", "serial": 40, "engine": "E-1"})
        told = self.get("since")["changes"][0]["said"]
        self.assertIn(f"Datum: {frame['datum']} is now firewall; Bare lengths: mm is now in", told)
        self.assertIn("Reach of an arm: not said is now 660.4 mm, 127 wide", told)
        body["version"] += 1
        for field, change in (
            ("arm", {"arm": "3 m"}), ("arm", {"arm": ""}), ("arm_width", {"arm_width": ""}),
            ("facts", {"facts": "serial"}), ("facts", {"facts": "=3"}), ("hours_run", {"hours_run": -1}),
            ("name", {"name": ""}), ("length_unit", {"length_unit": "cm"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                self.refused(field, "patch", "", body | change)

    def test_a_bay_is_never_ready_because_nobody_said_anything_of_it(self):
        for closure in self.get()["closures"]:
            gate = self.get(f"closures/{closure['slug']}")
            self.assertNotEqual(gate["state"], "ready", closure["name"])
            self.assertFalse(closure["ready"])


class Hardware(OwnPlane):
    STOCK = (
        {"kind": "bolt", "name": "B1", "thread": "1/4-28", "grip": "11.1", "length": "22.2", "threads_per_inch": "28"},
        {"kind": "bolt", "name": "B2", "thread": "1/4-28", "grip": "12.7", "length": "23.8", "threads_per_inch": "28"},
        {"kind": "bolt", "name": "B3", "thread": "1/4-28", "grip": "14.3", "length": "25.4", "pitch": "0.9071429"},
        {"kind": "nut", "name": "N1", "thread": "1/4-28", "nut_kind": "self_locking", "height": "7.2"},
        {"kind": "washer", "name": "thin", "thickness": "0.8"},
        {"kind": "washer", "name": "thick", "thickness": "1.6"},
    )  # fmt: skip

    def stocked(self):
        for item in self.STOCK:
            self.post("stock", item)
        return {s["name"]: s["id"] for s in self.get("stock")["results"]}

    def test_what_is_in_the_drawers_is_what_the_chooser_takes_from(self):
        nut = self.stocked()["N1"]
        for layers, stack in (
            ("12.5", 0.0125),
            ("lug 3.2; tube 7.0; lug 3.2", 0.0134),
            ("13.0 mm", 0.013),
        ):
            found = self.post("bolt-choice", {"layers": layers, "nut": nut}, status=200)
            bolts = [
                {"name": n, "grip_m": g / 1e4, "length_m": (g + 111) / 1e4, "pitch_m": 0.0254 / 28}
                for n, g in (("B1", 111), ("B2", 127), ("B3", 143))
            ]
            want = rule("hardware.choose_bolt").run(
                {
                    "stack_m": stack, "bolts": bolts, "washers_m": [0.0008, 0.0016],
                    "nut": {"kind": "self_locking", "height_m": 0.0072},
                }
            )  # fmt: skip
            self.assertEqual(found["outputs"].get("bolt"), want.get("bolt"), layers)
            self.assertEqual(found["rule"], "hardware.choose_bolt")
            self.assertTrue(found["said"])

    def test_stock_that_cannot_be_is_refused_by_field(self):
        bolt, nut = self.STOCK[0], self.STOCK[3]
        for field, body in (
            ("grip", bolt | {"grip": ""}), ("length", bolt | {"length": "11.1"}),
            ("grip", bolt | {"grip": "short"}), ("height", nut | {"height": "0"}),
            ("name", bolt | {"name": ""}), ("kind", bolt | {"kind": "rivet"}),
            ("slot_depth", nut | {"nut_kind": "castellated"}), ("thickness", {"kind": "washer", "name": "w"}),
            ("hole_from_head", bolt | {"drilled": True}),
        ):  # fmt: skip
            with self.subTest(body=body):
                answer = self.write("ansel", self.at("stock"), body)
                self.assertIn(answer.status_code, (400, 422), answer.content)
                self.assertIn(field, answer.json()["field"])

    def test_a_joint_from_its_parts_to_its_seal(self):
        ids = self.stocked()
        source = self.document()
        joint = self.post(
            "joints",
            {
                "name": "Idler bolt", "bay": "nose", "layers": "lug 3.2; tube 6.1; lug 3.2",
                "bolt": ids["B2"], "nut": ids["N1"], "nut_washers": "1.6; 0.8", "device": "self_locking",
                "torque": "50 to 70 in-lb", "torque_source": source, "torque_page": "4",
                "drag": "0.5 Nm", "witness_needed": True,
            },
        )  # fmt: skip
        bolt = next(c for c in joint["checks"] if c["rule"] == "hardware.bolt_check")
        want = rule("hardware.bolt_check").run(bolt["inputs"])
        self.assertEqual(bolt["verdict"], want["verdict"])
        self.assertAlmostEqual(bolt["inputs"]["stack_m"], 0.0125)
        for doing, more in (("run down", {}), ("torqued", {"value": "60 in-lb"}), ("sealed", {})):
            joint = self.post("joints/idler-bolt/events", {"doing": doing, **more})
        self.assertEqual((joint["state"], joint["why"]), ("sealed", []))
        change = {
            "name": "Idler bolt", "bay": "nose", "version": joint["version"], "layers": "40 mm",
            "bolt": ids["B2"], "nut": ids["N1"],
        }  # fmt: skip
        worse = self.patch("joints/idler-bolt", change)
        self.assertEqual(worse["verdict"], "out")
        self.patch("joints/idler-bolt", change, status=409)

    def test_a_joint_that_cannot_be_is_refused(self):
        ids = self.stocked()
        good = {"name": "J", "bay": "nose"}
        for field, change in (
            ("name", {"name": ""}), ("bay", {"bay": "attic"}), ("layers", {"layers": "lug"}),
            ("layers", {"layers": "lug 0"}), ("bolt", {"bolt": ids["N1"]}), ("nut", {"nut": 999999}),
            ("torque", {"torque": "70 to 50 Nm"}), ("torque", {"torque": "hard"}),
            ("drag", {"drag": "-1 Nm"}), ("torque_source", {"torque_source": 999999}),
            ("device", {"device": "glue"}), ("temperature_max", {"temperature_max": "hot"}),
            ("control", {"control": "none-such"}), ("butt_line", {"station": "here"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                answer = self.write("ansel", self.at("joints"), good | change)
                self.assertIn(answer.status_code, (400, 422), (change, answer.content[:200]))
                self.assertEqual(answer.json()["field"].partition(".")[0], field)

    def test_a_tin_opened_keeps_for_its_days_only(self):
        today = date.today()
        for opened, life, want in ((10, 10, "use"), (10, 9, "expired"), (None, None, "use")):
            tin = self.post(
                "compounds",
                {
                    "name": f"Tin {opened} {life}", "expiry_on": (today + timedelta(days=90)).isoformat(),
                    "opened_on": None if opened is None else (today - timedelta(days=opened)).isoformat(),
                    "life_open_days": life,
                },
            )  # fmt: skip
            self.assertEqual(tin["decision"], want)
            self.assertEqual(tin["use_before"] <= (today + timedelta(days=90)).isoformat(), True)
            joint = self.post(
                "joints", {"name": f"With {opened} {life}", "bay": "nose", "compound": tin["id"]}
            )
            words = {c["what"]: c["verdict"] for c in joint["checks"]}
            self.assertEqual("out" in words.values(), want == "expired", words)
        self.refused(
            "life_open_days", "post", "compounds",
            {"name": "x", "expiry_on": today.isoformat(), "opened_on": today.isoformat()},
        )  # fmt: skip
        future = (today + timedelta(days=1)).isoformat()
        answer = self.write(
            "ansel", self.at("compounds"),
            {"name": "x", "expiry_on": future, "opened_on": future, "life_open_days": 3},
        )  # fmt: skip
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "opened_on"))
