"""What a write answers is what is read afterwards: nothing is only said to be kept."""

from datetime import date, timedelta

from server.controls.models import Control
from server.entry.readings import as_reading
from server.find.indexing import rebuild
from server.find.models import Findable
from server.instruments.models import Instrument
from server.kit import standing
from server.tests.every_write import OWNER, WRITES, filled
from server.tests.own import Writing
from server.tests.test_every_write import EveryWrite

# Where the answer of a write is read again; the longest beginning that fits counts.
PAGES = {
    "": "", "bays": "", "closures": "", "openings": "",
    "closures/bulkhead-cover/tools": "closures/bulkhead-cover", "compounds": "stock", "stock": "stock",
    "controls/elevator": "controls/elevator", "controls/flaps": "controls/flaps", "controls/trim": "controls/trim",
    "controls/rudder/cables": "controls/rudder/cables", "controls/elevator/linkage": "controls/elevator/linkage",
    "controls/elevator/part-checks": "controls/elevator/part-checks", "instruments": "instruments",
    "joints/elevator-horn-bolt": "joints/elevator-horn-bolt", "people": "people", "sources": "sources",
    "surfaces/elevator": "controls/elevator", "requirements": "controls/trim", "statements": "documents",
    "directives": "documents",
}  # fmt: skip
# These answer with what they made.
MADE = {
    "controls": "controls/{slug}",
    "joints": "joints/{slug}",
    "lines": "lines/{slug}",
    "worksheets": "worksheets/{slug}",
    "harness": "harness/rows/{slug}",
    "harness/rows/w31/steps": "harness/rows/{slug}",
    "harness/rows/tail-beacon/steps": "harness/rows/{slug}",
    "harness/rows/night-bus/steps": "harness/rows/{slug}",
    "harness/rows/headset-audio": "harness/rows/{slug}",
    "harness/wires": "harness",
    "weight": "weight/rows/{slug}",
    "weight/pasted": "weight",
    "weight/rows/first-weighing/steps": "weight/rows/{slug}",
    "weight/rows/second-radio": "weight/rows/{slug}",
    "clearance": "clearance/rows/{slug}",
    "clearance/pasted": "clearance",
    "clearance/pairs": "clearance/pairs?pair={key}",
    "clearance/rows/park-brake-line": "clearance/rows/{slug}",
}


def page_of(path):
    fits = [p for p in PAGES if path == p or path.startswith(f"{p}/") or not p]
    return PAGES[max(fits, key=len)]


class ReadAgain(EveryWrite):
    def test_every_write_answers_what_a_new_reading_of_its_page_shows(self):
        compared = 0
        for one in WRITES:
            if one.stateless:
                continue
            ids = self.ids()
            path = filled(one.path, ids)
            answer = self.sent(one, OWNER, ids)
            if answer.status_code not in (200, 201):
                continue
            said = answer.json()
            page = MADE[path].format(**said) if path in MADE else page_of(path)
            if path.split("/")[0] in ("findings", "notes", "loose-ends") or path.endswith(
                "none-here"
            ):
                continue
            with self.subTest(write=one.name, page=page):
                read = self.get(page)
                if page == "stock":
                    self.assertIn(said, [*read["results"], *read["compounds"]])
                    compared += 1
                    continue
                shared = set(said) & set(read) if isinstance(said, dict) else set()
                self.assertTrue(shared, (sorted(said), sorted(read)))
                for key in sorted(shared - {"warnings"}):
                    self.assertEqual(read[key], said[key], key)
                compared += 1
        self.assertGreater(compared, 25)

    def test_a_version_counts_up_by_one_with_every_change(self):
        versions = {
            "controls/elevator": lambda: self.get("controls/elevator")["version"],
            "surfaces/elevator": lambda: self.get("controls/elevator")["surfaces"][0]["version"],
            "": lambda: self.get("")["version"],
            "controls/rudder/cables": lambda: self.get("controls/rudder/cables")["version"],
            "controls/elevator/linkage": lambda: self.get("controls/elevator/linkage")["version"],
        }
        for one in WRITES:
            if one.path in versions and "version" in one.body:
                before = versions[one.path]()
                self.assertIn(self.sent(one, OWNER, self.ids()).status_code, (200, 201))
                with self.subTest(write=one.name):
                    self.assertEqual(versions[one.path](), before + 1)

    def test_an_instrument_s_version_counts_up_by_one(self):
        rows = lambda: {i["name"]: i for i in self.get("instruments")["results"]}
        level = rows()["Digital level"]
        body = {
            "version": level["version"], "name": "Digital level", "kind": "angle", "face": level["face"],
            "accuracy": "0.3", "resolution": "0.05",
        }  # fmt: skip
        self.patch(f"instruments/{level['id']}", body)
        self.assertEqual(rows()["Digital level"]["version"], level["version"] + 1)
        self.assertEqual(rows()["Digital level"]["accuracy_typed"], "0.3")


class Small(Writing):
    def test_what_is_kept_is_kept_by_this_program_s_own_sources(self):
        self.assertTrue((standing.ROOT / "core" / "rulebook").is_dir())

    def test_an_instrument_can_be_used_to_the_end_of_its_last_day(self):
        gauge = Instrument.objects.get(aircraft=self.fenlark, name="Cable tension gauge")
        body = {"side": "A", "method": "card", "temperature": "14 C", "instrument": gauge.pk}
        body["typed"] = {"readings": "20; 20"}
        for days, overdue in ((0, False), (-1, True)):
            due = date.today() + timedelta(days=days)
            Instrument.objects.filter(pk=gauge.pk).update(calibration_due=due)
            said = self.post("controls/rudder/cables/try", body, 200)["said"]
            self.assertEqual("Calibration was due" in said, overdue, said)

    def test_the_index_made_anew_is_the_index_as_it_was_kept(self):
        kept = {
            (f.kind, f.key): (f.title, f.text, f.bays, f.link)
            for f in Findable.objects.filter(aircraft=self.fenlark)
        }
        self.assertEqual(rebuild(self.fenlark), len(kept))
        anew = {
            (f.kind, f.key): (f.title, f.text, f.bays, f.link)
            for f in Findable.objects.filter(aircraft=self.fenlark)
        }
        self.assertEqual(anew, kept)
        self.assertGreater(len(kept), 40)

    def test_a_line_reads_as_it_was_read_last_at_that_position(self):
        said = self.post("entry", {"line": "elev up 26.4"}, 200)["body"]
        rows = [r for r in self.sheet()["readings"] if r["surface"] == "elevator"]
        last = [r for r in rows if r["position"] == "up_stop"][-1]
        self.assertEqual((said["method"], said["zero"]), (last["method"], last["zero"]))
        other = {
            "surface": "elevator",
            "position": "down_stop",
            "value": "174",
            "instrument": self.instrument("Steel rule 300 mm"),
        }
        ruler = self.reading(
            "124 mm",
            method="edge_offset",
            practice="straight",
            instrument=other["instrument"],
            zero="level",
        )
        self.assertEqual(
            self.write("ansel", self.at("controls/elevator/readings"), ruler).status_code, 201
        )
        down = self.post("entry", {"line": "elev down 124"}, 200)["body"]
        up = self.post("entry", {"line": "elev up 26.4"}, 200)["body"]
        self.assertEqual((down["method"], up["method"]), ("edge_offset", last["method"]))
        typed = type(
            "T",
            (),
            {
                "surface": "elevator",
                "position": "down_stop",
                "instrument": "Steel rule 300 mm",
                "value": "1",
            },
        )()
        control = Control.objects.get(aircraft=self.fenlark, slug="elevator")
        found = as_reading(
            self.fenlark, control, typed, list(Instrument.objects.filter(aircraft=self.fenlark))
        )
        self.assertEqual(found["method"], "edge_offset")

    def test_a_length_is_understood_in_millimetres_and_an_angle_in_degrees(self):
        ruler = self.instrument("Steel rule 300 mm")
        for value, more, want in (
            (
                "124 mm",
                {"method": "edge_offset", "practice": "straight", "instrument": ruler},
                124.0,
            ),
            (
                "4 7/8 in",
                {"method": "edge_offset", "practice": "straight", "instrument": ruler},
                123.825,
            ),
            ("-18 36'", {}, -18.6),
        ):
            found = self.post("controls/elevator/assess", self.reading(value, **more), 200)
            with self.subTest(value=value):
                self.assertAlmostEqual(found["understood"][0]["value"], want, 6)

    def test_more_than_six_things_undone_are_counted_not_listed(self):
        for n in range(9):
            self.post(
                "loose-ends", {"what": f"cap {n}", "ends_with": "the first start", "bay": "nose"}
            )
        (why,) = self.get("signatures/bay:nose", person="odile")["why_not"]
        listed = why.count("loose end")
        self.assertEqual(listed, 6)
        more = int(why.partition(" and ")[2].split()[0])
        before = sum(1 for j in self.get("joints?bay=nose")["results"] if j["why"])
        self.assertEqual(more, 9 + before - 6)

    def test_what_of_the_cables_is_not_in_stands_in_the_way_of_signing(self):
        checks = self.get("controls/rudder/cables")["checks"]
        bad = {
            f"{c['what']}: {c['verdict']}" for c in checks if c["verdict"] not in ("in", "accepted")
        }
        (why,) = [
            w for w in self.get("signatures/control:rudder")["why_not"] if w.startswith("Cables: ")
        ]
        self.assertEqual(set(why.removeprefix("Cables: ").removesuffix(".").split("; ")), bad)
        self.assertTrue(bad)

    def test_a_what_if_is_dropped_told_and_gone(self):
        document = self.get("controls/elevator/linkage")["document"]
        self.post(
            "controls/elevator/linkage/variants", {"name": "Longer arm", "document": document}
        )
        (row,) = self.get("controls/elevator/linkage")["variants"]
        self.delete(f"controls/elevator/linkage/variants/{row['id']}")
        self.assertEqual(self.get("controls/elevator/linkage")["variants"], [])
        self.assertIn("what-if dropped: Longer arm", self.get("since")["changes"][0]["said"])
        self.delete(f"controls/elevator/linkage/variants/{row['id']}", 404)

    def test_a_pasted_pulley_turns_across_unless_it_was_said_otherwise(self):
        at = "controls/rudder/cables/assess"
        document = self.get("controls/rudder/cables")["document"]
        named = next(s["id"] for s in document["sides"]["A"]["supports"] if s["kind"] == "pulley")
        rows = "\n".join(
            [
                "side, id, kind, station, butt line, water line, radius, sense, bank",
                "A, new pulley, pulley, 3000, 120, 480, 30, 1, new bank",
                f"A, {named}, pulley, 2900, 121, 481, 31, -1, ",
            ]
        )
        tried = self.post(at, {"document": document, "rows": rows}, 200)["document"]
        made = {s["id"]: s for s in tried["sides"]["A"]["supports"]}
        self.assertEqual(made["new pulley"]["axis"], [0, 1, 0])
        self.assertEqual(made["new pulley"]["centre"], [3.0, 0.12, 0.48])
        was = next(s for s in document["sides"]["A"]["supports"] if s["id"] == named)
        self.assertEqual(made[named]["axis"], was["axis"])
        self.assertEqual((made[named]["radius"], made[named]["sense"]), (0.031, -1))

    def test_play_is_shared_by_the_rods_as_their_clearances_turn_the_surface(self):
        linkage = self.get("controls/elevator/linkage")
        rods = [r["id"] for r in linkage["document"]["rods"]]
        typed = dict.fromkeys(rods, "0.05 mm")
        one = self.post(
            "controls/elevator/linkage/play", {"output": "elevator", "clearances": typed}, 200
        )
        two = self.post(
            "controls/elevator/linkage/play",
            {"output": "elevator", "clearances": dict.fromkeys(rods, "0.1 mm")},
            200,
        )
        for a, b in zip(one["rows"], two["rows"], strict=True):
            self.assertAlmostEqual(b["share_deg"], 2 * a["share_deg"], 4)
            self.assertAlmostEqual(a["ratio"], b["ratio"], 9)
        self.assertGreater(max(a["share_deg"] for a in one["rows"]), 0)
