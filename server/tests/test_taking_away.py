"""What was entered is corrected and taken away; what the record stands on stays, and says why."""

from server.cables.models import Loop
from server.controls.models import Mechanism
from server.hardware.models import Compound, Joint, StockItem
from server.instruments.models import Instrument
from server.signoff.models import ScopeState
from server.tests.own import OwnPlane, Writing

WHY = "entered by mistake"
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

    def gone(self, path, version=1, status=200, reason=WHY):
        return self.post(f"{path}/removal", {"version": version, "reason": reason}, status=status)

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


class OnTheDemo(Writing):
    def gone(self, path, version, status=200, person=""):
        body = {"version": version, "reason": WHY}
        return self.post(f"{path}/removal", body, status=status, person=person)

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
