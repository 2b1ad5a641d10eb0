"""From an empty aircraft through the API: documents, the record, instruments."""

from datetime import date, timedelta

from server.tests.own import OwnPlane


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
        told = self.get("since")["changes"][0]["said"]
        was = self.GOOD["accuracy"]
        self.assertEqual(
            told,
            f"{one['name']}: accuracy: ±{was} is now ±0.1; calibration due: not said is now {due}",
        )
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
