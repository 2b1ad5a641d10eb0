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
            ("wing", {"wing": "delta"}), ("gear", {"gear": "skids"}), ("length", {"length": "long"}),
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
        self.delete("bays/oil-cooler-bay")
        self.assertNotIn("oil-cooler-bay", {b["slug"] for b in self.get()["bays"]})

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
        answer = self.write("ansel", self.at("bays/small-bay"), {}, method="delete")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("holds joints", answer.json()["reason"])
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
        self.delete("closures/own-cover/edit")
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
        self.delete(f"openings/{hatch['slug']}")
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


class Papers(OwnPlane):
    def test_two_documents_that_disagree_are_found_in_their_family(self):
        first, second = self.document("Drawing 1"), self.document("Manual", "3")
        body = {"thing": "Bolt A: torque", "kind": "range", "dimension": "torque", "bay": "nose"}
        for value, result in (
            ("5.65 to 7.91 Nm", "agree"), ("60 to 80 in-lb", "overlap"), ("80 to 90 in-lb", "disjoint"),
        ):  # fmt: skip
            with self.subTest(value=value):
                thing = f"Bolt {result}: torque"
                self.post(
                    "statements",
                    body | {"thing": thing, "value": "50 to 70 in-lb", "source": first},
                )
                groups = self.post(
                    "statements", body | {"thing": thing, "value": value, "source": second}
                )["groups"]  # fmt: skip
                group = next(g for g in groups if g["thing"] == thing)
                self.assertEqual(group["pairs"][0]["result"], result)
                self.assertEqual(group["open"], result != "agree")

    def test_statements_that_say_nothing_are_refused(self):
        source = self.document()
        good = {"thing": "Rivets", "kind": "count", "value": "14", "source": source}
        for field, change in (
            ("thing", {"thing": ""}), ("kind", {"kind": "wish"}), ("value", {"value": "many"}),
            ("source", {"source": 999999}), ("bay", {"bay": "attic"}),
            ("value", {"kind": "range", "dimension": "angle", "value": "40 to 30 deg"}),
            ("value", {"kind": "range", "dimension": "angle", "value": "3 to 4 mm"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                answer = self.write("ansel", self.at("statements"), good | change)
                self.assertIn(answer.status_code, (400, 422), answer.content[:200])
                self.assertEqual(answer.json()["field"], field)

    def test_a_bulletin_by_hours_and_months(self):
        source = self.document("Bulletin 4")
        frame = self.get()
        body = {
            "version": frame["version"], "name": "Test Plane", "summary": "", "datum": "",
            "length_unit": "mm", "arm": "", "arm_width": "", "hours_run": 100, "facts": "serial=40",
        }  # fmt: skip
        self.patch("", body)
        self.post(
            "directives",
            {
                "title": "Look at the hose", "source": source, "bays": ["nose"],
                "applies": "serial=12..88", "steps": ["open the cowl"], "every_hours": 50,
                "every_months": 12, "first_hours": 90,
            },
        )  # fmt: skip
        one = self.get("documents")["directives"][0]
        self.assertEqual((one["applying"], one["state"]), ("yes", "overdue"))
        today = date.today()
        for hours, state in ((61, "complied until due"), (60, "due soon"), (40, "overdue")):
            done = {"done_on": today.isoformat(), "hours": hours, "note": "no cracks"}
            self.post(f"directives/{one['id']}/compliance", done)
            again = self.get("documents")["directives"][0]
            self.assertEqual(again["state"], state, again)
        late = {"done_on": (today + timedelta(days=1)).isoformat(), "hours": 1}
        answer = self.write("ansel", self.at(f"directives/{one['id']}/compliance"), late)
        self.assertEqual(answer.json()["field"], "done_on")
        for missing in ("approved_by", "reference", "reason"):
            deviation = {
                "done_on": today.isoformat(), "hours": 1, "deviation": True, "approved_by": "the maker",
                "reference": "letter 7", "reason": "hose replaced by another kind",
            } | {missing: ""}  # fmt: skip
            answer = self.write("ansel", self.at(f"directives/{one['id']}/compliance"), deviation)
            self.assertEqual(answer.status_code, 422, missing)

    def test_a_bulletin_for_others_does_not_apply_and_one_of_unknown_serial_counts(self):
        source = self.document("Bulletin 5")
        for applies, want in (
            ("serial=90..99", "no"),
            ("pump=P-30", "not known"),
            ("serial=40", "yes"),
        ):
            frame = self.get()
            body = {
                "version": frame["version"], "name": "Test Plane", "summary": "", "datum": "",
                "length_unit": "mm", "arm": "", "arm_width": "", "hours_run": 0, "facts": "serial=40",
            }  # fmt: skip
            self.patch("", body)
            title = f"For {applies}"
            self.post(
                "directives",
                {"title": title, "source": source, "applies": applies, "first_hours": 5},
            )
            one = next(d for d in self.get("documents")["directives"] if d["title"] == title)
            self.assertEqual(one["applying"], want)
            self.assertEqual(one["state"] == "does not apply", want == "no")
        for field, change in (
            ("applies", {"applies": "everyone"}), ("applies", {"applies": ";"}), ("bays", {"bays": ["attic"]}),
            ("title", {"title": ""}), ("source", {"source": 999999}), ("every_months", {"every_months": 0}),
        ):  # fmt: skip
            with self.subTest(change=change):
                good = {"title": "T", "source": source, "applies": "serial=40", "first_hours": 5}
                answer = self.write("ansel", self.at("directives"), good | change)
                self.assertIn(answer.status_code, (400, 422))
                self.assertEqual(answer.json()["field"], field)


class Record(OwnPlane):
    def test_a_loose_end_from_leaving_it_to_ending_it(self):
        end = self.post(
            "loose-ends", {"what": "cap off", "ends_with": "the first start", "bay": "nose"}
        )
        self.assertEqual((end["bay"], end["left_by"]), ("nose", "Ansel Tarnfield"))
        self.assertEqual(self.get("loose-ends")["count"], 1)
        self.assertEqual(self.bay("nose")["loose_ends"], 1)
        self.assertEqual(self.get("loose-ends?bay=nose")["count"], 1)
        ended = self.post(f"loose-ends/{end['id']}/end", {"how": "cap fitted"})
        self.assertEqual((ended["how"], ended["ended_by"]), ("cap fitted", "Ansel Tarnfield"))
        self.assertEqual(self.get("loose-ends")["count"], 0)
        self.assertEqual(self.get("loose-ends?ended=1")["count"], 1)
        self.post(f"loose-ends/{end['id']}/end", {"how": "again"}, status=422)
        for field, change in (
            ("what", {"what": ""}),
            ("ends_with", {"ends_with": ""}),
            ("bay", {"bay": "attic"}),
        ):
            self.refused(
                field, "post", "loose-ends", {"what": "x", "ends_with": "y", "bay": "nose"} | change
            )

    def test_notes_and_findings_where_they_lie(self):
        for target, target_id in (("aircraft", ""), ("bay", "nose")):
            note = self.post(
                "notes", {"text": "mind the edge", "target": target, "target_id": target_id}
            )
            self.assertEqual(note["text"], "mind the edge")
        self.assertEqual(self.get("notes?bay=nose")["count"], 1)
        for field, body in (
            ("text", {"text": ""}), ("bay", {"text": "x", "target": "bay", "target_id": "attic"}),
            ("target", {"text": "x", "target": "moon"}),
        ):  # fmt: skip
            self.refused(field, "post", "notes", body)
        finding = self.post("findings", {"text": "chafed hose", "bay": "nose"})
        self.assertEqual(self.get("findings?bay=nose")["count"], 1)
        open_ = self.bay("nose")["open"]
        self.post(f"findings/{finding['id']}", {"how": "replaced", "close": True})
        self.assertEqual(self.bay("nose")["open"], open_ - 1)
        self.refused("text", "post", "findings", {"text": "", "bay": "nose"})

    def test_everything_that_was_written_can_be_read_in_what_is_new(self):
        self.document("Drawing 8")
        self.post("loose-ends", {"what": "tape on", "ends_with": "paint", "bay": "nose"})
        self.post("joints", {"name": "Bolt 7", "bay": "nose"})
        said = str(self.get("since?days=30"))
        for word in ("Drawing 8", "tape on", "Bolt 7"):
            self.assertIn(word, said)

    def test_it_can_all_be_found_again(self):
        self.post("joints", {"name": "Mizzen bolt", "bay": "nose"})
        self.post("loose-ends", {"what": "mizzen tape", "ends_with": "paint", "bay": "nose"})
        self.post("notes", {"text": "mizzen note", "target": "bay", "target_id": "nose"})
        found = str(self.get("find?q=mizzen"))
        for word in ("Mizzen bolt", "mizzen tape", "mizzen note"):
            self.assertIn(word, found)
        self.assertEqual(self.get("find?q=zzzz")["bays"], [])


class Instruments(OwnPlane):
    GOOD = {
        "name": "Level",
        "kind": "angle",
        "face": "plus_minus_180",
        "accuracy": "0.2",
        "resolution": "0.05",
    }

    def test_every_kind_with_its_units(self):
        for kind, accuracy, si in (
            ("angle", "12'", 0.00349066), ("length", "1/64 in", 0.000396875), ("torque", "4 in lb", 0.451939),
            ("temperature", "0.5 C", 0.5),
        ):  # fmt: skip
            body = {
                "name": f"My {kind}",
                "kind": kind,
                "accuracy": accuracy,
                "resolution": accuracy,
            }
            if kind == "angle":
                body["face"] = "full_360"
            self.post("instruments", body)
            from server.instruments.models import Instrument

            row = Instrument.objects.get(name=f"My {kind}")
            self.assertAlmostEqual(row.accuracy, si, 5)
            self.assertEqual(row.accuracy_typed, accuracy)

    def test_it_is_renewed_and_what_it_was_stays_with_its_readings(self):
        self.post("instruments", self.GOOD)
        one = self.get("instruments")["results"][0]
        due = (date.today() - timedelta(days=1)).isoformat()
        change = self.GOOD | {"version": one["version"], "accuracy": "0.1", "calibration_due": due}
        self.patch(f"instruments/{one['id']}", change)
        again = self.get("instruments")["results"][0]
        self.assertEqual((again["accuracy_typed"], again["overdue"]), ("0.1", True))
        self.patch(f"instruments/{one['id']}", change, status=409)

    def test_what_measures_nothing_is_refused(self):
        for field, change in (
            ("name", {"name": ""}), ("kind", {"kind": "taste"}), ("face", {"face": "round"}),
            ("accuracy", {"accuracy": ""}), ("accuracy", {"accuracy": "-1"}), ("resolution", {"resolution": "fine"}),
            ("accuracy", {"accuracy": "2 mm"}), ("calibration_due", {"calibration_due": "soon"}),
        ):  # fmt: skip
            with self.subTest(change=change):
                answer = self.write("ansel", self.at("instruments"), self.GOOD | change)
                self.assertIn(answer.status_code, (400, 422), answer.content[:200])
                self.assertEqual(answer.json()["field"], field)
