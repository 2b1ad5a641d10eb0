"""What was entered is corrected and taken away; what the record stands on stays, and says why."""

from datetime import date

from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.cables.models import Loop
from server.controls.models import Mechanism
from server.hardware.models import Compound, Joint, StockItem
from server.instruments.models import Instrument
from server.signoff.ledger import append
from server.signoff.models import ScopeState
from server.sources.models import Statement
from server.tests.own import OwnPlane, Writing

WHY = "not fitted"
BOLT = {
    "kind": "bolt", "name": "B-13", "grip": "12.7", "length": "22.5", "threads_per_inch": "28",
}  # fmt: skip
NUT = {"kind": "nut", "name": "N-1", "nut_kind": "plain", "height": "5.6"}
TIN = {"name": "Sealant", "expiry_on": "2031-05-01", "batch": "7"}
LEVEL = {
    "name": "Level",
    "kind": "angle",
    "face": "plus_minus_180",
    "accuracy": "0.1",
    "resolution": "0.05",
}


class Away(OwnPlane):
    """On an aircraft that has nothing yet."""

    def stays(self, path, version, said):
        answer = self.gone(path, version, 422)
        self.assertIn(said, answer["reason"])

    def told(self):
        return self.get("since")["changes"][0]["said"]

    def test_each_goes_with_its_version_and_a_reason_and_is_told(self):
        for path, body, model in (
            ("stock", BOLT, StockItem), ("compounds", TIN, Compound), ("instruments", LEVEL, Instrument),
            ("joints", {"name": "Horn bolt", "bay": self.get()["bays"][0]["slug"]}, Joint),
        ):  # fmt: skip
            with self.subTest(path=path):
                self.post(path, body)
                row = model.objects.get(aircraft__slug=self.slug)
                at = f"{path}/{row.slug if path == 'joints' else row.pk}"
                self.gone(at, row.version + 1, 409)
                self.assertEqual(self.gone(at, row.version, 422, " ")["field"], "reason")
                self.assertEqual(model.objects.filter(pk=row.pk).count(), 1)
                self.assertEqual(self.gone(at, row.version), {"gone": body["name"]})
                self.assertEqual(model.objects.filter(pk=row.pk).count(), 0)
                self.assertIn(body["name"], self.told())
                self.assertIn(f"because {WHY}", self.told())
                last = model.history.filter(id=row.pk).latest()
                self.assertEqual((last.history_type, last.history_change_reason), ("-", WHY))
                self.gone(at, row.version, 404)
        self.assertEqual(self.get("joints")["count"], 0)
        self.assertNotIn("Horn bolt", str(self.get("lane")))

    def test_a_bay_s_inspection_covers_no_joint_that_is_gone(self):
        bay = self.get()["bays"][0]["slug"]
        joint = self.post("joints", {"name": "Horn bolt", "bay": bay})
        self.get(f"signatures/bay:{bay}")
        covered = lambda: [
            i for i in ScopeState.objects.get(aircraft__slug=self.slug, scope=f"bay:{bay}").facts
            if i.startswith("joint/")
        ]  # fmt: skip
        self.assertEqual(len(covered()), 1)
        self.gone(f"joints/{joint['slug']}", joint["version"])
        self.assertEqual(covered(), [])
        self.assertEqual(self.get("since")["changes"][0]["bays"], [bay])

    def test_a_document_that_is_cited_stays(self):
        key = self.document("Drawing 9")
        other = self.document("Drawing 8")
        body = {"thing": "Rivets of a rib", "kind": "count", "value": "14", "source": key}
        self.post("statements", body)
        self.assertEqual(self.gone(f"documents/{other}")["gone"], "Drawing 8 rev A")
        self.stays(f"documents/{key}", 1, "statement")

    def test_what_is_in_a_joint_stays_until_the_joint_is_gone(self):
        bolt, nut = (self.post("stock", body)["id"] for body in (BOLT, NUT))
        tin = self.post("compounds", TIN)["id"]
        bay = self.get()["bays"][0]["slug"]
        body = {"name": "Horn bolt", "bay": bay, "bolt": bolt, "nut": nut, "compound": tin}
        joint = self.post("joints", body)
        for at in (f"stock/{bolt}", f"stock/{nut}", f"compounds/{tin}"):
            self.stays(at, 1, "stays: 1 joint in the record")
        self.post("notes", {"text": "tight corner", "target": "joint", "target_id": joint["slug"]})
        self.stays(f"joints/{joint['slug']}", joint["version"], "1 note")
        other = self.post("joints", body | {"name": "Other bolt"})
        self.post(f"joints/{other['slug']}/events", {"doing": "run down"})
        version = self.get(f"joints/{other['slug']}")["version"]
        self.stays(f"joints/{other['slug']}", version, "1 joint event")

    def test_a_corrected_bolt_judges_its_joints_anew(self):
        bolt = self.post("stock", BOLT | {"length": "16"})
        nut = self.post("stock", NUT | {"nut_kind": "self_locking"})["id"]
        bay = self.get()["bays"][0]["slug"]
        joint = self.post("joints", {
            "name": "Horn bolt", "bay": bay, "bolt": bolt["id"], "nut": nut, "layers": "lug 12.5 mm",
            "nut_washers": "1.6; 0.8", "device": "self_locking",
        })  # fmt: skip
        at = f"joints/{joint['slug']}"
        verdict = lambda: next(c["verdict"] for c in self.get(at)["checks"] if c["what"] == "bolt")
        self.assertEqual((verdict(), self.get(at)["verdict"]), ("out", "out"))
        longer = BOLT | {"version": bolt["version"]}
        late = self.patch(f"stock/{bolt['id']}", longer | {"version": 9}, 409)
        self.assertEqual(late["theirs"]["name"], "B-13")
        after = self.patch(f"stock/{bolt['id']}", longer)
        self.assertEqual(self.get("since")["changes"][0]["bays"], [bay])
        self.assertEqual((after["version"], after["typed"]["length"]), (2, "22.5"))
        self.assertEqual((verdict(), self.get(at)["verdict"]), ("in", "not measured"))
        self.refused("kind", "patch", f"stock/{nut}", BOLT | {"version": 1})
        other = self.post("stock", BOLT | {"name": "B-14"})["id"]
        self.refused("name", "patch", f"stock/{other}", BOLT | {"version": 1})
        as_washer = {"kind": "washer", "name": "W", "thickness": "0.8", "version": 2}
        self.refused("kind", "patch", f"stock/{bolt['id']}", as_washer)
        self.refused("nut_kind", "post", "stock", NUT | {"name": "N-2", "nut_kind": ""})

    def test_a_corrected_date_is_judged_in_the_joints_that_have_it(self):
        tin = self.post("compounds", TIN)
        bay = self.get()["bays"][0]["slug"]
        joint = self.post(
            "joints", {"name": "Seal", "bay": bay, "compound": tin["id"], "device": "none"}
        )
        said = lambda: self.get(f"joints/{joint['slug']}")["checks"][-1]["verdict"]
        self.assertEqual(said(), "in")
        over = TIN | {"expiry_on": "2020-05-01", "version": tin["version"]}
        self.assertEqual(self.patch(f"compounds/{tin['id']}", over)["decision"], "expired")
        self.assertEqual(self.get("since")["changes"][0]["bays"], [bay])
        self.assertEqual(said(), "out")
        self.refused("version", "patch", f"compounds/{tin['id']}", TIN)


class Papers(OwnPlane):
    """What documents say, and bulletins."""

    def setUp(self):
        super().setUp()
        self.first, self.second = self.document("Drawing 1"), self.document("Drawing 2")
        self.bays = [b["slug"] for b in self.get()["bays"]]

    def stays(self, path, version, said):
        self.assertEqual(self.gone(path, version, 422)["reason"], f"stays: {said} in the record")

    def page(self):
        return self.get("documents")

    def said(self, source, value):
        body = {
            "thing": "Sleeve, diameter", "kind": "range", "dimension": "length", "value": value,
            "source": source, "bay": self.bays[0],
        }  # fmt: skip
        self.post("statements", body)
        return body, self.page()["statements"][-1]

    def test_what_one_document_alone_says_is_there_to_be_corrected(self):
        body, one = self.said(self.first, "26.9 to 27.1 mm")
        self.assertEqual((one["value"], one["cited"]), ("26.9 to 27.1 mm", "Drawing 1 rev A"))
        self.assertEqual(self.page()["groups"], [])
        at = f"statements/{one['id']}"
        change = body | {"version": 1, "value": "27 to 27.1 mm", "bay": self.bays[1], "page": "4"}
        self.refused("reason", "patch", at, change | {"reason": "no"})
        self.refused("value", "patch", at, change | {"value": "soon", "reason": "misread"})
        self.refused("source", "patch", at, change | {"source": 0, "reason": "misread"})
        self.refused("thing", "patch", at, change | {"thing": " ", "reason": "misread"})
        self.patch(at, change | {"reason": "misread"})
        self.assertEqual(self.patch(at, change | {"reason": "misread"}, 409)["theirs"]["page"], "4")
        told = self.get("since")["changes"][0]
        self.assertEqual(
            told["said"],
            "Statement corrected: Sleeve, diameter: 26.9 to 27.1 mm (Drawing 1 rev A) is now"
            " Sleeve, diameter: 27 to 27.1 mm (Drawing 1 rev A), because misread",
        )
        self.assertEqual(told["bays"], sorted(self.bays[:2]))
        count = body | {"kind": "count", "value": "46", "dimension": "", "version": 2}
        self.patch(at, count | {"reason": "it is a count"})
        row = Statement.objects.get(pk=one["id"])
        self.assertEqual((row.lo, row.hi, row.unit, row.resolution), (46, 46, "", 0))
        self.gone(at, 3)
        self.assertEqual(self.page()["statements"], [])

    def test_a_statement_that_a_decision_weighed_stays_and_corrected_it_is_asked_again(self):
        self.said(self.first, "26.9 to 27.1 mm")
        body, two = self.said(self.second, "28 to 29 mm")
        group = lambda: self.page()["groups"][0]
        self.assertTrue(group()["open"])
        chosen = {"thing": body["thing"], "chosen": f"statement:{two['id']}"}
        self.post("resolutions", chosen | {"reason": "the kit maker wrote so"})
        self.assertFalse(group()["open"])
        self.stays(f"statements/{two['id']}", 1, "1 decision")
        change = body | {"version": 1, "value": "28 to 30 mm", "reason": "misread"}
        self.patch(f"statements/{two['id']}", change)
        self.assertEqual((group()["open"], group()["stale"]), (True, True))

    def test_a_bulletin_is_corrected_and_stays_once_it_was_done(self):
        frame = self.get()
        serial = {
            "version": frame["version"], "name": "Test Plane", "summary": "", "datum": "",
            "length_unit": "mm", "arm": "", "arm_width": "", "hours_run": 100, "facts": "serial=40",
        }  # fmt: skip
        self.patch("", serial)
        body = {
            "title": "Hoses", "source": self.first, "applies": "serial=1..39; pump=P-3",
            "first_hours": 90, "bays": [self.bays[0]],
        }  # fmt: skip
        self.post("directives", body)
        one = lambda: self.page()["directives"][0]
        at = f"directives/{one()['id']}"
        self.assertEqual((one()["state"], one()["applying"]), ("overdue", "not known"))
        self.assertEqual(one()["applies_typed"], "serial=1..39; pump=P-3")
        self.stays(f"bays/{self.bays[0]}", 1, "1 closure, 1 bulletin")
        change = body | {"version": 1, "applies": "serial=1..40", "bays": self.bays[:2]}
        self.refused("reason", "patch", at, change | {"reason": " "})
        self.refused("bays", "patch", at, change | {"bays": ["attic"], "reason": "misread"})
        self.refused("first", "patch", at, change | {"first_hours": None, "reason": "misread"})
        self.patch(at, change | {"every_months": 12, "warn_days": 5, "reason": "misread"})
        self.assertEqual(
            (one()["state"], one()["applying"], one()["every_months"], one()["warn_days"]),
            ("overdue", "yes", 12, 5),
        )
        told = self.get("since")["changes"][0]
        self.assertEqual(
            told["said"],
            "Bulletin corrected: Hoses (serial=1..39; pump=P-3, first at 90 h) is now"
            " Hoses (serial=1..40, first at 90 h, every 12 months), because misread",
        )
        self.assertEqual(told["bays"], sorted(self.bays[:2]))
        self.assertEqual(self.patch(at, change | {"reason": "misread"}, 409)["status"], 409)
        done = {"done_on": date.today().isoformat(), "hours": 100, "note": "no cracks"}
        self.post(f"{at}/compliance", done)
        self.stays(at, 2, "1 compliance")
        self.post("directives", body | {"title": "Other"})
        other = self.page()["directives"][1]
        self.gone(f"directives/{other['id']}", 1)
        self.assertEqual(len(self.page()["directives"]), 1)

    def test_a_new_revision_says_what_is_new(self):
        at, body = f"documents/{self.first}", {"version": 1, "revision": "B"}
        self.refused("reason", "patch", at, body | {"reason": "-"})
        self.refused("reason", "patch", at, body)
        self.patch(at, body | {"reason": "sheet 3 drawn anew"})
        told = self.get("since")["changes"][0]["said"]
        self.assertEqual(told, "Drawing 1 rev A is now rev B, because sheet 3 drawn anew")


class Frames(OwnPlane):
    """Bays, closures and openings."""

    def test_a_closure_that_was_photographed_or_overridden_stays(self):
        cover = self.get()["closures"][0]
        at = f"closures/{cover['slug']}"
        self.post("notes", {"text": "sealed", "target": "closure", "target_id": cover["slug"]})
        answer = self.gone(at, cover["version"], 422)
        self.assertEqual(answer["reason"], "stays: 1 note in the record")
        other = self.get()["closures"][1]
        aircraft, by = Aircraft.objects.get(slug=self.slug), Person.objects.get(slug="ansel")
        scope = f"closure:{other['slug']}"
        body = {"at": "2026-01-01T00:00:00Z", "by": by.slug, "scope": scope, "reason": "none"}
        append(aircraft, "override", scope, by, body)
        answer = self.gone(f"closures/{other['slug']}", other["version"], 422)
        self.assertEqual(answer["reason"], "stays: 1 entry of the ledger in the record")

    def test_counted_tools_go_with_the_closure_that_was_never_closed(self):
        cover = self.get()["closures"][0]
        at = f"closures/{cover['slug']}"
        self.post(f"{at}/tools", {"name": "torch", "went_in": 1, "came_out": 1})
        self.gone(at, cover["version"])
        self.assertNotIn(cover["slug"], [c["slug"] for c in self.get()["closures"]])


class OnTheDemo(Writing):
    def test_what_was_read_with_keeps_its_instrument(self):
        row = Instrument.objects.get(aircraft__slug="fenlark", name="Digital level")
        answer = self.gone(f"instruments/{row.pk}", row.version, 422)
        self.assertRegex(answer["reason"], r"^stays: \d+ readings in the record$")

    def test_cables_that_were_measured_and_rods_that_were_turned_stay(self):
        loop = Loop.objects.get(aircraft__slug="fenlark")
        answer = self.gone("controls/rudder/cables", loop.version, 422)
        self.assertIn("cable readings", answer["reason"])
        m = Mechanism.objects.get(control__slug="elevator", aircraft__slug="fenlark")
        body = {"version": m.version, "changes": {"mid": 2}, "note": ""}
        self.post("controls/elevator/linkage/adjustments", body)
        version = self.get("controls/elevator/linkage")["version"]
        answer = self.gone("controls/elevator/linkage", version, 422)
        self.assertIn("1 adjustment", answer["reason"])

    def test_a_linkage_that_nothing_was_turned_on_goes_with_its_rods_and_makes_signatures_stale(
        self,
    ):
        m = Mechanism.objects.get(control__slug="rudder", aircraft__slug="fenlark")
        self.assertEqual(self.gone("controls/rudder/linkage", m.version)["gone"], "Rudder")
        self.assertIsNone(self.get("controls/rudder/linkage")["document"])
        entry = self.get("signatures/control:rudder")["entries"][-1]
        self.assertIn(
            "rod", " ".join(c["id"] for c in entry["changes"] if c["change"] == "removed")
        )
        self.assertTrue(self.post("ledger/check", {}, status=200)["ok"])

    def test_only_who_may_change_facts_takes_a_document_or_a_linkage_away(self):
        for path in ("controls/rudder/linkage", "controls/rudder/cables", "documents/1"):
            self.gone(path, 1, 403, person="odile")
