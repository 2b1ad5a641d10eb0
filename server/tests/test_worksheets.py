"""Worksheets through the interface: kept as typed, judged where they belong, told with what they
were, and judged anew when what they are about changes."""

import csv
from copy import deepcopy
from datetime import UTC, date, datetime, timedelta
from io import BytesIO, StringIO
from math import degrees

from pypdf import PdfReader

from core.controls.linkage.turning import turns
from core.worksheets.kinds import kind_of
from server.aircraft.models import Aircraft
from server.controls.linkage.built import lengths_of, stops_of
from server.controls.linkage.keeping import document_of
from server.controls.linkage.models import Mechanism
from server.journal.models import Change
from server.kit.models import Check
from server.kit.standing import differences, settle
from server.tests.every_write import LEAK, SHEET, TUBE
from server.tests.own import Writing
from server.worksheets.models import Worksheet
from testkit.base import PASSWORD


def demo_typed(kind):
    """What the demo has on its first sheet of a kind."""
    return deepcopy(Worksheet.objects.filter(kind=kind).first().typed)


class Worksheets(Writing):
    def sheet(self, status=201, **more):
        return self.post("worksheets", SHEET | more, status)

    def no(self, field, **more):
        answer = self.sheet(422, **more)
        self.assertEqual(answer["field"], field, answer)
        return answer["reason"]

    def change(self, sheet, status=200, **more):
        body = SHEET | {"version": sheet["version"]} | more
        return self.patch(f"worksheets/{sheet['slug']}", body, status)

    def concerns(self, sheet):
        settle()
        return Check.objects.filter(trade="worksheets", subject=sheet["slug"])

    def test_it_is_kept_as_typed_judged_in_its_bays_and_found(self):
        made = self.sheet(bays=["nose"])
        self.assertEqual(made["typed"], SHEET["typed"])
        self.assertEqual(made["stands_in"], ["nose"])
        self.assertEqual(made["verdict"], "out")
        self.assertIn("too wide", made["worked"]["checks"][0]["said"])
        self.assertEqual([c.bays for c in self.concerns(made)], [["nose"]])
        self.assertIn("Clamp at the firewall", str(self.get("bays/nose/contents")))
        found = self.get("find?q=clamp+firewall")
        self.assertIn("Clamp at the firewall", str(found))
        listed = self.get("worksheets?trade=lines")
        self.assertIn(made["slug"], [r["slug"] for r in listed["results"]])
        self.assertEqual(self.get("worksheets?trade=none")["kinds"], [])

    def test_of_no_bay_it_stands_in_every_one(self):
        made = self.sheet()
        self.assertEqual(len(made["stands_in"]), len(self.get()["bays"]))

    def test_what_cannot_be_worked_out_is_refused_by_its_field_and_nothing_is_kept(self):
        before = Worksheet.objects.count()
        self.no("kind", kind="nothing")
        self.no("typed", typed=[])
        self.no("od", typed={})
        self.no("bore", typed=SHEET["typed"] | {"bore": "wide"})
        self.no("colour", typed=SHEET["typed"] | {"colour": "red"})
        self.no("bays", bays=["cellar"])
        self.no("source", source=10**6)
        self.no("name", name="  ")
        self.assertEqual(Worksheet.objects.count(), before)

    def test_a_limit_needs_its_document_and_a_changed_one_its_reason(self):
        limit = {"kind": "flare", "name": "Nut", "typed": {
            "od": "1/4 in", "material": "aluminium", "fitting": "37", "tube": "37",
            "low": "10 Nm", "high": "12 Nm"}}  # fmt: skip
        self.no("source", **limit)
        source = self.get("sources")["results"][0]["id"]
        made = self.sheet(**limit, source=source, page="9")
        self.assertIn("10.0 to 12.0", made["worked"]["checks"][0]["said"])
        self.assertIn("9", made["worked"]["checks"][0]["why"]["origins"]["max_Nm"])
        other = limit | {"typed": limit["typed"] | {"high": "14 Nm"}, "source": source, "page": "9"}
        self.assertEqual(self.change(made, 422, **other)["field"], "reason")
        self.change(made, **other, reason="the new revision of the table")
        told = Change.objects.order_by("-pk")[0].said
        self.assertIn("12 Nm is now 14 Nm, because the new revision of the table", told)

    def test_a_change_is_told_with_what_it_was_and_an_old_version_gets_both_sides(self):
        made = self.sheet(bays=["nose"])
        changed = self.change(made, typed=SHEET["typed"] | {"bore": "11.2"}, bays=["footwell"])
        self.assertEqual(changed["verdict"], "in")
        last = Change.objects.order_by("-pk")[0]
        self.assertIn("12.7 mm is now 11.2", last.said)
        self.assertEqual(set(last.bays), {"footwell", "nose"})
        late = self.change(made, 409)
        self.assertEqual(late["theirs"]["typed"]["bore"], "11.2")
        self.assertEqual(self.change(changed, 422, kind="ends", typed={})["field"], "kind")

    def test_what_is_tried_is_not_kept(self):
        before = Worksheet.objects.count(), Change.objects.count()
        body = {"kind": SHEET["kind"], "typed": SHEET["typed"]}
        tried = self.post("worksheet-trial", body, 200)
        self.assertEqual(tried["verdict"], "out")
        self.assertEqual((Worksheet.objects.count(), Change.objects.count()), before)

    def test_a_sheet_about_a_tube_lies_where_it_does_and_follows_it(self):
        tube = self.post("lines", TUBE)
        about = {"kind": "water", "name": "Water in it", "bays": []}
        about["typed"] = {"line": tube["slug"], "pitch": "0"}
        made = self.sheet(**about)
        self.assertEqual(set(made["stands_in"]), {"footwell", "cabin-floor"})
        self.assertEqual(made["verdict"], "in")
        gone = self.post(f"lines/{tube['slug']}/removal",
                         {"version": tube["version"], "reason": "another way"}, 422)  # fmt: skip
        self.assertIn("1 worksheet", gone["reason"])
        deep = TUBE | {"points": "2150 -100 180\n1960 -100 80\n1860 -100 180", "supports": ""}
        self.patch(f"lines/{tube['slug']}", deep | {"version": tube["version"]}, 200)
        self.assertEqual(self.get(f"worksheets/{made['slug']}")["verdict"], "out")
        self.assertEqual(differences(Aircraft.objects.get(slug="fenlark").pk), [])

    def test_a_hose_moves_as_its_control_does_and_is_judged_anew_with_it(self):
        offered = self.get("worksheets?trade=lines")["things"]["turning"]
        words = {t["value"]: t["word"] for t in offered}
        self.assertEqual(words["rudder/cable driver"], "Rudder: what drives its cables")
        self.assertIn("elevator/stick", words)
        demo = Worksheet.objects.get(kind="moving hose")
        typed = {k: v for k, v in demo.typed.items() if k not in ("from", "to")}
        about = {"kind": "moving hose", "name": "Driven", "bays": ["footwell"]}
        about |= {"source": demo.source_id, "page": "44"}
        about["typed"] = typed | {"driver": "elevator/stick", "sense": "1"}
        made = self.sheet(**about)
        facts = {f["label"]: f["text"] for f in made["worked"]["facts"]}
        self.assertIn("Elevator: stick", facts["Moved by"])
        self.no("driver", **about | {"typed": about["typed"] | {"driver": "elevator/nobody"}})
        shapes = made["worked"]["figure"]["shapes"]
        ends = [s["pedal_deg"] for s in shapes if s["setting"] == "near"]
        m = Mechanism.objects.get(control__slug="elevator")
        low, high = turns(document_of(m), "stick", lengths_of(m, document_of(m)), stops_of(m))
        self.assertAlmostEqual(ends[0], degrees(low), 2)
        self.assertAlmostEqual(ends[-1], degrees(high), 2)
        self.tampered = True  # The stop is moved in its row alone.
        stop = m.stops.first()
        stop.at *= 0.5
        stop.save()
        settle()
        after = self.get(f"worksheets/{made['slug']}")["worked"]["figure"]["shapes"]
        self.assertNotEqual([s["pedal_deg"] for s in after], [s["pedal_deg"] for s in shapes])

    def test_a_tank_is_tested_in_one_line_judged_before_and_taken_back(self):
        tank = Worksheet.objects.get(kind="tank leak")
        before = self.get(f"worksheets/{tank.slug}")
        line = f"leak {tank.name} 20 min 3.1 kPa 2.9 kPa 14 C 15 C"
        seen = self.post("entry", {"line": line}, 200)
        self.assertEqual((seen["kind"], seen["would"]["verdict"]), ("leak test", "not measured"))
        line += f" {tank.typed['start_b']} hPa {tank.typed['end_b']} hPa"
        seen = self.post("entry", {"line": line}, 200)
        self.assertEqual(seen["would"]["verdict"], "out")
        kept = self.post(seen["path"], seen["body"])
        self.assertEqual(kept["worked"]["checks"][0]["said"], seen["would"]["said"])
        typed = before["typed"] | seen["body"]["typed"]
        self.assertEqual(typed.pop("opened"), "")
        self.assertEqual((kept["typed"], typed["on"]), (typed, date.today().isoformat()))
        back = self.post(seen["undo_path"], {})
        self.assertEqual(
            (back["typed"], back["verdict"], back["version"]),
            (before["typed"], before["verdict"], before["version"] + 2),
        )
        self.assertIn("taken back", Change.objects.latest("pk").said)
        for body, field in (({"allowed": "9"}, "allowed"), ({"colour": "1"}, "colour")):
            answer = self.post(f"worksheets/{tank.slug}/readings", {"typed": body}, 422)
            self.assertEqual(answer["field"], field)
        made = self.sheet()
        self.post(f"worksheets/{made['slug']}/undo", {}, 422)

    def test_a_limit_is_not_taken_back_without_a_reason_and_is_told(self):
        tank = Worksheet.objects.get(kind="tank leak")
        before = self.get(f"worksheets/{tank.slug}")
        kept = {k: before[k] for k in ("kind", "name", "bays", "source", "page", "version")}
        looser = kept | {"typed": before["typed"] | {"allowed": "9"}, "reason": "maker's letter"}
        self.patch(f"worksheets/{tank.slug}", looser, 200)
        at = f"worksheets/{tank.slug}/undo"
        self.assertEqual(self.post(at, {}, 422)["field"], "note")
        self.assertEqual(self.get(f"worksheets/{tank.slug}")["typed"]["allowed"], "9")
        self.post(at, {"note": "the letter was of another tank"})
        said = Change.objects.latest("pk").said
        self.assertIn("the letter was of another tank", said)
        self.assertIn("Allowed leak", said)

    def test_a_bay_that_a_sheet_was_put_in_stays(self):
        self.sheet(bays=["nose"])
        version = next(b["version"] for b in self.get()["bays"] if b["slug"] == "nose")
        said = self.post("bays/nose/removal", {"version": version, "reason": "no such bay"}, 422)
        self.assertIn("worksheet", said["reason"])

    def test_it_is_taken_away_with_a_reason_and_its_check_goes_with_it(self):
        made = self.sheet(bays=["nose"])
        self.assertTrue(self.concerns(made).exists())
        at = f"worksheets/{made['slug']}/removal"
        self.post(at, {"version": made["version"], "reason": "x"}, 422)
        self.post(at, {"version": made["version"], "reason": "entered twice"}, 200)
        self.assertFalse(self.concerns(made).exists())
        self.assertEqual(Worksheet.history.filter(slug=made["slug"]).first().history_type, "-")

    def test_the_calendar_turns_a_hose_without_anybody_touching_it(self):
        source = self.get("sources")["results"][0]["id"]
        day = datetime.now(UTC).date()
        cured = day - timedelta(days=365)
        typed = {"cure": cured.isoformat(), "life_cure": "24"}
        made = self.sheet(kind="hose", name="Oil hose", typed=typed, source=source)
        life = self.concerns(made).get(key="life")
        self.assertEqual(life.verdict, "in")
        life.later = [{**life.later[1], "on": day.isoformat()}]
        life.due_on = day
        life.save()
        shown = self.get(f"worksheets/{made['slug']}")["worked"]["checks"]
        self.assertEqual(next(c["verdict"] for c in shown if c["key"] == "life"), "out")
        Check.objects.filter(pk=life.pk).delete()
        Worksheet.objects.get(slug=made["slug"]).save()
        settle()


class Signed(Writing):
    """A line and a sheet are signed by themselves; work on them makes the signature stale."""

    def sign(self, scope, doing, person, status=201):
        seen = self.get(f"signatures/{scope}", person=person)
        body = {"doing": doing, "seen": seen["seen"], "password": PASSWORD[person]}
        return self.post(f"signatures/{scope}", body, status, person=person)

    def test_a_sheet_that_is_in_is_signed_and_a_change_is_told(self):
        made = self.post("worksheets", SHEET | {"typed": SHEET["typed"] | {"bore": "11.2"}})
        scope = f"worksheet:{made['slug']}"
        self.sign(scope, "done", "ansel")
        self.sign(scope, "inspected", "odile")
        self.assertTrue(self.get(f"signatures/{scope}")["dual_ok"])
        gone = self.post(f"worksheets/{made['slug']}/removal",
                         {"version": 1, "reason": "not wanted"}, 422)  # fmt: skip
        self.assertIn("entries of the ledger", gone["reason"])
        self.patch(f"worksheets/{made['slug']}", SHEET | {"version": 1}, 200)
        stale = self.get(f"signatures/{scope}")
        self.assertFalse(stale["dual_ok"])
        self.assertIn("Not everything is in: clamp: out.", stale["why_not"])
        told = [c for e in stale["entries"] for c in e["changes"]]
        self.assertIn("11.2", str(told))
        self.assertTrue(self.post("ledger/check", {}, 200)["ok"])

    def test_a_line_is_signed_and_opening_it_or_a_test_is_work_on_it(self):
        line = self.post("lines", TUBE | {"service": "vent", "grip": "60", "start_straight": "40",
                                          "end_straight": "40", "no_holes": True})  # fmt: skip
        scope = f"line:{line['slug']}"
        self.sign(scope, "done", "ansel")
        self.sign(scope, "inspected", "odile")
        self.post(
            f"lines/{line['slug']}/leak-tests", LEAK | {"source": "the manual"}, person="ines"
        )
        stale = self.get(f"signatures/{scope}")
        self.assertFalse(stale["dual_ok"])
        self.assertEqual(self.get(f"signatures/{scope}", person="ines")["can"], [])
        self.assertTrue(self.post("ledger/check", {}, 200)["ok"])

    def test_who_entered_it_is_not_its_independent_inspector(self):
        made = self.post("worksheets", SHEET | {"typed": SHEET["typed"] | {"bore": "11.2"}})
        scope = f"worksheet:{made['slug']}"
        self.sign(scope, "inspected", "ansel", 422)
        self.get("signatures/worksheet:none", 404)


class TakenAway(Writing):
    """A sheet on paper, what is drawn 1:1, and its days for a calendar."""

    def text(self, at):
        pages = PdfReader(BytesIO(self.get(at).content)).pages
        return "\n".join(p.extract_text() for p in pages)

    def test_every_sheet_of_the_demo_prints_what_was_entered_and_found(self):
        rows = [r for t in ("lines", "wires") for r in self.get(f"worksheets?trade={t}")["results"]]
        self.assertGreater(len(rows), 15)
        for row in rows:
            text = self.text(f"worksheets/{row['slug']}/sheet.pdf").replace("\n", " ")
            self.assertIn(row["name"], text)
            for said in row["open"]:
                self.assertIn(said[-25:], text)
            self.assertIn("Caution.", text)
        self.get("worksheets/fuel-system/scale.pdf", 404)
        self.get("worksheets/none/sheet.pdf", 404)

    def test_rows_go_to_a_spreadsheet_as_typed_and_no_word_is_a_formula(self):
        typed = demo_typed("circuits")
        typed["circuits"][0] |= {"id": "=1+1", "ambient": "-5"}
        about = {"kind": "circuits", "name": "Rows", "typed": typed, "bays": ["nose"]}
        self.assertEqual(self.post("worksheets", about, 422)["field"], "source")  # Of a column.
        about["source"] = self.get("sources")["results"][0]["id"]
        made = self.post("worksheets", about)
        answer = self.as_("ansel").get(self.at(f"worksheets/{made['slug']}/rows/circuits.csv"))
        self.assertEqual(answer["Content-Type"], "text/csv; charset=utf-8")
        head, first, *rest = list(csv.reader(StringIO(answer.content.decode("utf-8-sig"))))
        columns = [c.key for c in kind_of("circuits").fields[0].columns]
        self.assertEqual(head[:3], ["Circuit", "Current, A", "Gauge there"])
        row = dict(zip(columns, first, strict=True))
        self.assertEqual((row["id"], row["ambient"], row["awg"]), ("'=1+1", "-5", "AWG 12"))
        self.assertEqual(len(rest), len(typed["circuits"]) - 1)
        self.get(f"worksheets/{made['slug']}/rows/none.csv", 404)

    def test_a_hole_and_a_ladder_are_drawn_at_full_size(self):
        self.assertIn("hole 17.5 mm", self.text("worksheets/left-tank-sender-hole/scale.pdf"))
        typed = {"speed": "120 kt", "instruments": [{"id": "airspeed", "speed": "200 kt"}]}
        made = self.post("worksheets", {"kind": "pitot test", "name": "Pitot", "typed": typed})
        text = self.text(f"worksheets/{made['slug']}/scale.pdf")
        for step in made["worked"]["figure"]["ladder"]:
            self.assertIn(f"{step['kt']} kt {step['mm']:.1f} mm", " ".join(text.split()))

    def test_the_end_of_a_hose_goes_into_a_calendar(self):
        source = self.get("sources")["results"][0]["id"]
        day = datetime.now(UTC).date()
        typed = {"cure": day.isoformat(), "life_cure": "12", "warn": "30"}
        made = self.post("worksheets", {"kind": "hose", "name": "Oil; long", "typed": typed,
                                        "source": source})  # fmt: skip
        told = self.get(f"worksheets/{made['slug']}/due.ics").content.decode()
        life = next(c for c in made["worked"]["checks"] if c["key"] == "life")
        self.assertIn(f"DTSTART;VALUE=DATE:{life['due'].replace('-', '')}", told)
        self.assertEqual(told.count("BEGIN:VEVENT"), 2)
        self.assertIn("Oil\\; long", told)
        self.assertTrue(all(len(x.encode()) <= 75 for x in told.split("\r\n")))
        self.get("worksheets/fuel-system/due.ics", 404)
