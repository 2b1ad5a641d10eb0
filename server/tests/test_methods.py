"""Each way of measuring, from text typed to a verdict, on the demo's surfaces."""

from testkit.base import ELEVATOR, OnTheDemo

FLAPS = "/api/aircraft/fenlark/controls/flaps"
AILERONS = "/api/aircraft/fenlark/controls/ailerons"
RUDDER = "/api/aircraft/fenlark/controls/rudder"


class Ways(OnTheDemo):
    def keep(self, path, body):
        answer = self.write("ansel", path, body)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def result(self, sheet, surface, position, kind="travel"):
        return next(
            q["result"]
            for q in sheet["requirements"]
            if (q["surface"], q["position"], q["kind"]) == (surface, position, kind)
        )

    def last_set(self, sheet, surface, position):
        return self.result(sheet, surface, position)["sets"][-1]

    def test_an_included_angle_rests_on_the_surface_s_neutral_angle(self):
        body = self.reading(
            "145.8; 145.75",
            "up_stop",
            method="included_angle",
            skin="upper",
            instrument=self.instrument("Adjustable square"),
            conditions={"gap": "0.4 mm", "arm": "140 mm"},
        )
        found = self.last_set(self.keep(f"{ELEVATOR}/readings", body), "elevator", "up_stop")
        self.assertAlmostEqual(found["value_deg"], 172 - 145.775, places=9)
        self.assertEqual(found["method_why"]["inputs"]["gap_mm"], 0.4)

    def test_a_lower_skin_opens_where_the_upper_closes(self):
        body = self.reading(
            "198.2",
            "up_stop",
            method="included_angle",
            skin="lower",
            instrument=self.instrument("Adjustable square"),
        )
        found = self.last_set(self.keep(f"{ELEVATOR}/readings", body), "elevator", "up_stop")
        self.assertAlmostEqual(found["value_deg"], 26.2, places=9)

    def test_an_offset_along_each_practice_means_another_angle(self):
        values = {}
        for practice in ("straight", "perpendicular", "arc"):
            body = self.reading(
                "124 mm",
                "up_stop",
                method="edge_offset",
                practice=practice,
                instrument=self.instrument("Steel rule 300 mm"),
            )
            values[practice] = self.last_set(
                self.keep(f"{ELEVATOR}/readings", body), "elevator", "up_stop"
            )["value_deg"]
        self.assertLess(values["arc"], values["straight"])
        self.assertLess(values["straight"], values["perpendicular"])

    def test_a_swept_hinge_needs_its_sweep_and_then_turns_more_than_the_gauge(self):
        body = self.reading("-18.2", method="swept_gauge", practice="held_streamwise")
        sheet = self.keep(f"{ELEVATOR}/readings", body)
        self.assertIn("sweep", self.last_set(sheet, "elevator", "down_stop")["missing"])
        surface = next(s for s in sheet["surfaces"] if s["slug"] == "elevator")
        change = {
            "version": surface["version"],
            "chord": "281 mm",
            "u_chord": "0.6 mm",
            "sweep": "12",
        }
        self.write("ansel", "/api/aircraft/fenlark/surfaces/elevator", change, method="patch")
        neutral = self.reading("0", "neutral", method="swept_gauge", practice="held_streamwise")
        found = self.last_set(self.keep(f"{ELEVATOR}/readings", neutral), "elevator", "down_stop")
        self.assertGreater(found["value_deg"], 18.2)
        self.assertAlmostEqual(found["value_deg"], 18.586, delta=0.01)

    def test_a_hinge_at_the_skin_counts_its_edge_s_own_angle(self):
        rule = {"method": "edge_offset", "practice": "perpendicular"}
        body = self.reading(
            "93 mm", "up_stop", instrument=self.instrument("Steel rule 300 mm"), **rule
        )
        surface = {
            "version": 1,
            "chord": "265 mm",
            "u_chord": "0.6 mm",
            "phi": "-8.5",
            "u_phi": "0.3",
        }
        path = "/api/aircraft/fenlark/surfaces/elevator"
        self.assertEqual(self.write("ansel", path, surface, method="patch").status_code, 200)
        found = self.last_set(self.keep(f"{ELEVATOR}/readings", body), "elevator", "up_stop")
        self.assertAlmostEqual(found["value_deg"], 20.2202861, places=6)
        for field, value in (
            ("phi", "50"),
            ("dihedral", "31"),
            ("u_sweep", "-1"),
            ("sweep", "steep"),
        ):
            answer = self.write(
                "ansel", path, surface | {"version": 2, field: value}, method="patch"
            )
            with self.subTest(field=field):
                self.assertEqual((answer.status_code, answer.json()["field"]), (422, field))

    def test_a_card_is_suggested_for_the_skin_and_way_of_its_travel_and_never_guessed(self):
        def cards(control):
            return {
                (q["surface"], q["position"]): q["template"]
                for q in self.sheet(control)["requirements"]
                if q["template"]
            }

        elevator, flaps, rudder = cards("elevator"), cards("flaps"), cards("rudder")
        for card, angle in (
            (elevator["elevator", "up_stop"], 172 - 26.5),
            (elevator["elevator", "down_stop"], 172 + 19),
            (flaps["left-flap", "detent_24"], 176.5 + 24),
        ):
            self.assertEqual(card["skin"], "upper")
            self.assertAlmostEqual(card["included_deg"], angle, places=9)
        self.assertEqual(rudder["rudder", "left_stop"], {"skin": "right", "included_deg": None})

    def test_a_face_without_sign_asks_for_the_side_and_never_guesses(self):
        gauge = {
            "name": "Quadrant",
            "kind": "angle",
            "face": "quadrant_90",
            "accuracy": "0.25",
            "resolution": "0.5",
        }
        self.write("ansel", "/api/aircraft/fenlark/instruments", gauge)
        quadrant = {"instrument": self.instrument("Quadrant"), "zero": "level"}
        self.keep(f"{ELEVATOR}/readings", self.reading("3.5", "neutral", side=-1, **quadrant))
        sheet = self.keep(f"{ELEVATOR}/readings", self.reading("17", "up_stop", **quadrant))
        found = self.last_set(sheet, "elevator", "up_stop")
        self.assertEqual(
            (found["verdict"], [round(c, 6) for c in found["candidates_deg"]]),
            ("not measured", [13.5, 20.5]),
        )
        sheet = self.keep(f"{ELEVATOR}/readings", self.reading("17", "up_stop", side=1, **quadrant))
        self.assertAlmostEqual(
            self.last_set(sheet, "elevator", "up_stop")["value_deg"], 20.5, places=9
        )

    def test_a_gauge_zeroed_at_neutral_needs_no_neutral_reading(self):
        sheet = self.keep(f"{ELEVATOR}/readings", self.reading("26.3", "up_stop", zero="neutral"))
        found = self.last_set(sheet, "elevator", "up_stop")
        self.assertAlmostEqual(found["value_deg"], 26.3, places=9)
        self.assertTrue(found["method_why"]["inputs"]["zeroed"])

    def test_a_level_is_no_use_on_a_rudder(self):
        body = self.reading("24", "left_stop", zero="level") | {"surface": "rudder"}
        answer = self.write("ansel", f"{RUDDER}/readings", body)
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "method"))

    def test_readings_taken_with_the_wrong_sense_say_that_the_surface_moved_the_wrong_way(self):
        sheet = self.keep(f"{ELEVATOR}/readings", self.reading("18.5; 18.55; 18.5", zero="neutral"))
        found = self.result(sheet, "elevator", "down_stop")
        self.assertTrue(found["disagree"])
        self.assertTrue(any("wrong way" in a for a in found["advice"]))

    def test_symmetry_ratio_and_repeatability_follow_the_readings_of_both_sides(self):
        sheet = self.sheet("ailerons")
        self.assertEqual(self.result(sheet, "", "down_stop", "symmetry")["verdict"], "out")
        self.assertAlmostEqual(
            self.result(sheet, "right-aileron", "", "ratio")["value"], 1.387, places=2
        )
        self.assertEqual(
            self.result(sheet, "right-aileron", "neutral", "repeatability")["verdict"],
            "not measured",
        )
        for approach, value in (("above", "0.2; 0.25"), ("below", "0; 0.05")):
            body = self.reading(value, "neutral", approach=approach) | {"surface": "right-aileron"}
            sheet = self.keep(f"{AILERONS}/readings", body)
        found = self.result(sheet, "right-aileron", "neutral", "repeatability")
        self.assertEqual(found["verdict"], "in")
        self.assertAlmostEqual(found["value"], 0.2, places=9)

    def test_an_instrument_changed_later_leaves_earlier_readings_as_they_were(self):
        level = next(
            i
            for i in self.as_("ansel").get("/api/aircraft/fenlark/instruments").json()["results"]
            if i["name"] == "Digital level"
        )
        before = self.result(self.sheet(), "elevator", "up_stop")["U"]
        body = {
            "version": level["version"],
            "name": level["name"],
            "kind": "angle",
            "face": level["face"],
            "accuracy": "0.4°",
            "resolution": "0.05°",
        }
        path = f"/api/aircraft/fenlark/instruments/{level['id']}"
        self.assertEqual(self.write("ansel", path, body, method="patch").status_code, 200)
        self.assertEqual(self.result(self.sheet(), "elevator", "up_stop")["U"], before)
        self.assertEqual(self.write("ansel", path, body, method="patch").status_code, 409)

    def test_a_new_requirement_is_judged_with_the_readings_that_are_there(self):
        source = self.as_("ansel").get("/api/aircraft/fenlark/sources").json()["results"][0]["id"]
        body = {
            "surface": "elevator",
            "position": "up_stop",
            "kind": "travel",
            "nominal": "30",
            "plus": "1",
            "minus": "1",
            "source": source,
            "page": "note 4",
        }
        sheet = self.write("ansel", f"{ELEVATOR}/requirements", body).json()
        new = sheet["requirements"][-1]
        self.assertEqual(
            (new["as_typed"], new["result"]["conflict"]["relation"]), ("30 +1 -1", "apart")
        )
        self.assertEqual(new["result"]["verdict"], "too close")
        for change, field in (
            ({"minus": ""}, "minus"),
            ({"nominal": "95"}, "nominal"),
            ({"source": 0}, "source"),
            ({"position": "detent_9"}, "position"),
            ({"surface": "rudder"}, "surface"),
        ):
            answer = self.write("ansel", f"{ELEVATOR}/requirements", body | change)
            with self.subTest(change=change):
                self.assertEqual((answer.status_code, answer.json()["field"]), (422, field))
