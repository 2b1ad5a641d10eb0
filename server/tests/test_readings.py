"""Readings through the API: understood or refused by field, kept once, corrected, never lost."""

from datetime import UTC, datetime, timedelta

from django.db import DatabaseError, connection, transaction

from server.controls.models import Assessment, Reading
from testkit.base import ELEVATOR, OnTheDemo


class Readings(OnTheDemo):
    def test_the_demo_shows_its_faults_from_its_data(self):
        found = {
            (q["surface"], q["kind"], q["position"]): q["result"]
            for c in ("elevator", "ailerons", "rudder", "flaps")
            for q in self.sheet(c)["requirements"]
        }
        self.assertEqual(found["elevator", "travel", "down_stop"]["verdict"], "too close")
        self.assertEqual(found["left-aileron", "travel", "down_stop"]["verdict"], "out")
        flap = found["left-flap", "travel", "detent_36"]
        self.assertEqual((flap["verdict"], flap["conflict"]["relation"]), ("too close", "apart"))
        lane = self.as_("ansel").get("/api/aircraft/fenlark").json()["bays"]
        self.assertEqual({b["slug"]: b["verdict"] for b in lane}["fin"], "stale")

    def test_bad_input_is_a_422_that_names_the_field(self):
        tomorrow = (datetime.now(UTC) + timedelta(days=1)).isoformat()
        rule = {
            "method": "edge_offset",
            "practice": "straight",
            "instrument": self.instrument("Steel rule 300 mm"),
        }
        bad = [
            ("value", self.reading("")),
            ("value", self.reading("up")),
            ("value", self.reading("NaN")),
            ("value", self.reading("inf")),
            ("value", self.reading("4 mm")),
            ("value", self.reading("1,234")),
            ("value", self.reading("200")),
            ("value", self.reading("-3", **rule)),
            ("value", self.reading("600", **rule)),
            ("value", self.reading("4 mm 3 in", **rule)),
            ("practice", self.reading("90", **(rule | {"practice": ""}))),
            ("instrument", self.reading("26", instrument=self.instrument("Old angle gauge"))),
            ("instrument", self.reading("26", **(rule | {"method": "gauge_difference"}))),
            ("instrument", self.reading("26", instrument=0)),
            ("taken_at", self.reading("26", taken_at=tomorrow)),
            ("position", self.reading("26", position="left_stop")),
            ("method", self.reading("26", method="guess")),
            ("temperature", self.reading("26", conditions={"temperature": "warm"})),
            ("arm", self.reading("145", method="included_angle", conditions={"gap": "0.4 mm"})),
        ]
        before = Reading.objects.count()
        for field, body in bad:
            with self.subTest(field=field, value=body["value"]):
                for path in ("readings", "assess"):
                    answer = self.write("ansel", f"{ELEVATOR}/{path}", body)
                    self.assertEqual(answer.status_code, 422, answer.content)
                    self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
                    self.assertEqual(answer.json()["field"].split(".")[-1], field)
        self.assertEqual(Reading.objects.count(), before)

    def test_a_preview_says_what_it_understood_and_saves_nothing(self):
        before = Reading.objects.count()
        seen = self.write("ansel", f"{ELEVATOR}/assess", self.reading("-18°36'")).json()
        self.assertEqual(seen["said"], "-18.60°")
        self.assertEqual(seen["result"]["n"], 1)
        self.assertEqual(Reading.objects.count(), before)

    def test_the_same_write_twice_is_kept_once(self):
        body, before = self.reading("-18.6"), Reading.objects.count()
        first = self.write("ansel", f"{ELEVATOR}/readings", body, key="k" * 12)
        again = self.write("ansel", f"{ELEVATOR}/readings", body, key="k" * 12)
        self.assertEqual((first.status_code, first.content), (201, again.content))
        self.assertEqual(Reading.objects.count(), before + 1)
        other = self.write("ansel", f"{ELEVATOR}/readings", self.reading("-19"), key="k" * 12)
        self.assertEqual((other.status_code, other.json()["field"]), (422, "Idempotency-Key"))

    def test_a_correction_is_a_new_row_and_the_second_one_gets_both_sides(self):
        old = next(r for r in self.sheet()["readings"] if r["position"] == "down_stop")
        path = f"/api/aircraft/fenlark/readings/{old['id']}/corrections"
        body = {"value": "-18.5", "reason": "misread the scale"}
        self.assertEqual(self.write("ines", path, body).status_code, 201)
        late = self.write("ansel", path, body | {"value": "-18.0"})
        self.assertEqual(late.status_code, 409)
        self.assertEqual(
            (late.json()["theirs"]["as_typed"], late.json()["yours"]["value"]), ("-18.5", "-18.0")
        )
        rows = {r["id"]: r for r in self.sheet()["readings"]}
        self.assertEqual(
            (rows[old["id"]]["current"], rows[old["id"]]["as_typed"]), (False, old["as_typed"])
        )

    def test_readings_are_append_only_in_the_database_itself(self):
        for statement in ("UPDATE controls_reading SET value = 0", "DELETE FROM controls_reading"):
            with (
                self.assertRaisesRegex(DatabaseError, "append-only"),
                transaction.atomic(),
                connection.cursor() as c,
            ):
                c.execute(statement)

    def test_measuring_all_again_keeps_the_old_round(self):
        body = {"reason": "aft rod one turn longer", "number": 1}
        after = self.write("ansel", f"{ELEVATOR}/rounds", body).json()
        self.assertEqual(
            (after["round"], after["verdict"], after["readings"]), (2, "not measured", [])
        )
        self.assertEqual(self.write("ansel", f"{ELEVATOR}/rounds", body).status_code, 409)
        old = self.as_("ansel").get(f"{ELEVATOR}?round=1").json()
        self.assertEqual(len(old["readings"]), 10)

    def test_stored_verdicts_are_those_of_the_sheet_and_link_to_their_rule(self):
        for q in self.sheet("ailerons")["requirements"]:
            kept = Assessment.objects.get(requirement=q["id"])
            self.assertEqual(kept.verdict, q["result"]["verdict"])
            why = q["result"]["why"]
            if why is None:
                self.assertEqual(kept.verdict, "not measured")
                continue
            again = self.as_("ansel").post(
                f"/api/rules/{why['rule']}", why["inputs"], content_type="application/json"
            )
            self.assertEqual(again.json()["verdict"], kept.verdict)

    def test_a_stale_version_gets_both_sides_and_limits_the_wrong_way_round_are_refused(self):
        q = next(q for q in self.sheet()["requirements"] if q["position"] == "up_stop")
        path, body = (
            f"/api/aircraft/fenlark/requirements/{q['id']}",
            {"version": q["version"], "source": q["source"]["id"], "reason": "revision B"},
        )
        swapped = self.write("ansel", path, body | {"lo": "28", "hi": "25"}, method="patch")
        self.assertEqual((swapped.status_code, swapped.json()["field"]), (422, "lo"))
        self.assertEqual(
            self.write("ansel", path, body | {"lo": "25", "hi": "27"}, method="patch").status_code,
            200,
        )
        late = self.write("ansel", path, body | {"lo": "24", "hi": "27"}, method="patch")
        self.assertEqual(
            (late.status_code, late.json()["theirs"]["hi"], late.json()["yours"]["lo"]),
            (409, 27.0, "24"),
        )

    def test_an_instrument_needs_its_accuracy(self):
        body = {"name": "New gauge", "kind": "angle", "face": "full_360", "resolution": "0.1"}
        for accuracy in ("", "0", "-0.2", "1 mm"):
            answer = self.write(
                "ansel", "/api/aircraft/fenlark/instruments", body | {"accuracy": accuracy}
            )
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, "accuracy"))

    def test_another_person_s_aircraft_is_not_there_and_each_role_has_its_bounds(self):
        self.assertEqual(self.as_("corin").get("/api/aircraft/fenlark").status_code, 404)
        self.assertEqual(
            self.write("corin", f"{ELEVATOR}/readings", self.reading("-18")).status_code, 404
        )
        old = next(r for r in self.sheet()["readings"] if r["position"] == "up_stop")
        path = f"/api/aircraft/fenlark/readings/{old['id']}/corrections"
        self.assertEqual(self.write("odile", path, {"value": "1", "reason": "no"}).status_code, 403)
        self.assertEqual(
            self.write("odile", f"{ELEVATOR}/rounds", {"reason": "x", "number": 1}).status_code, 403
        )
        check = self.write("odile", f"{ELEVATOR}/readings", self.reading("-18.6")).json()
        self.assertTrue(
            next(r for r in check["readings"] if r["as_typed"] == "-18.6")["check_reading"]
        )

    def test_lists_and_sheets_take_a_bounded_number_of_queries(self):
        client = self.as_("ansel")
        for path, most in (
            ("/api/aircraft", 30),
            ("/api/aircraft/fenlark", 50),
            ("/api/aircraft/fenlark/controls", 8),
            ("/api/aircraft/fenlark/controls/ailerons", 14),
            ("/api/aircraft/fenlark/ledger", 9),
        ):
            with self.subTest(path=path), self.assertNumQueriesUnder(most):
                self.assertEqual(client.get(path).status_code, 200)

    def assertNumQueriesUnder(self, most):
        from django.test.utils import CaptureQueriesContext

        test = self

        class Under(CaptureQueriesContext):
            def __exit__(self, kind, value, trace):
                super().__exit__(kind, value, trace)
                test.assertLessEqual(len(self), most)

        return Under(connection)
