"""The harness from an empty aircraft: entered, done step by step, tested, signed, taken away."""

import csv
from io import BytesIO, StringIO

from pypdf import PdfReader

from server.find.models import Findable
from server.journal.models import Change
from server.kit.models import Check
from server.kit.standing import settle
from server.runs.models import Run
from server.tests.own import OwnPlane, Writing
from server.wires.models import HarnessRow
from server.wires.trade import _covered

LAMP = {
    "current": "2.2", "duty": "continuous", "system": "14", "ambient": "45", "rating": "150",
    "back": "structure", "structure": "2 mohm", "contacts": "8 mohm", "protector": "breaker",
    "protector_A": "5",
}  # fmt: skip
W1 = {"circuit": "Lamp", "part": "feed", "awg": "18", "from": "CB1.1", "to": "P3.7"}
METER = {"measured": "102 mohm", "u": "1 mohm", "leads": "40 mohm", "contacts": "10 mohm"}


class Harness(Writing):
    def row(self, kind, name, status=201, **typed):
        more = {k: typed.pop(k) for k in ("source", "page", "reason") if k in typed}
        typed = {k.rstrip("_"): v for k, v in typed.items()}
        return self.post("harness", {"kind": kind, "name": name, "typed": typed} | more, status)

    def change(self, row, status=200, **more):
        kept = {k: row[k] for k in ("version", "kind", "name", "typed", "source", "page")}
        return self.patch(f"harness/rows/{row['slug']}", kept | more, status)

    def step(self, slug, doing, status=201, **read):
        return self.post(f"harness/rows/{slug}/steps", {"doing": doing} | read, status)

    def one(self, slug):
        return self.get(f"harness/rows/{slug}")


class FromNothing(Harness, OwnPlane):
    """A new owner's own."""

    def lamp(self):
        self.row("circuit", "Lamp", **LAMP)
        self.row("connector", "CB1", contacts="terminal", pins="1-4 22 12")
        self.row("connector", "P3", contacts="socket", pins="1-9 24 18")
        return self.row("wire", "W1", length="3 m", **W1)

    def test_a_wire_is_entered_done_tested_and_its_circuit_becomes_whole(self):
        self.assertEqual(self.get("harness")["progress"], None)
        wire = self.lamp()
        self.assertEqual((wire["slug"], wire["verdict"]), ("w1", "not measured"))
        self.assertEqual(self.one("lamp")["progress"], {"percent": 0, "open": 1, "wires": 1})
        self.assertEqual(self.step("w1", "tested", 422, **METER)["field"], "doing")
        self.assertEqual(self.step("w1", "run", 422, measured="1 ohm")["field"], "measured")
        seen = []
        for doing in ("run", "end_a", "end_b", "labelled"):
            seen.append(self.step("w1", doing)["done"])
        self.assertEqual(seen[-1], ["run", "end_a", "end_b", "labelled"])
        self.assertEqual(self.step("w1", "run", 422)["field"], "doing")
        self.assertEqual(self.step("w1", "tested", 422)["field"], "measured")
        self.assertEqual(self.step("w1", "tested", 422, **METER | {"u": "2 kg"})["field"], "u")
        done = self.step("w1", "tested", **METER)
        self.assertEqual(done["missing"], [])
        circuit = self.one("lamp")
        self.assertEqual(circuit["progress"], {"percent": 100, "open": 0, "wires": 1})
        self.assertEqual(circuit["verdict"], "in", circuit["checks"])
        pins = {p["pin"]: (p["wire"], p["state"]) for p in self.one("p3")["pins"]}
        self.assertEqual((pins["7"], pins["1"]), (("W1", "done"), ("", "spare")))
        # Of another length the test says nothing any more.
        self.change(self.one("w1"), typed={**W1, "length": "3.4 m"})
        after = self.one("lamp")
        self.assertEqual((after["verdict"], after["progress"]["open"]), ("stale", 1))
        self.step("w1", "tested", **METER | {"measured": "110 mohm"})
        self.assertEqual(self.one("lamp")["verdict"], "in")

    def test_only_the_last_thing_done_is_taken_back_and_both_are_told(self):
        self.lamp()
        first = self.step("w1", "run")["events"][0]["id"]
        last = self.step("w1", "labelled")["events"][0]["id"]
        at = "harness/rows/w1/steps"
        self.assertEqual(self.post(f"{at}/{first}/undo", {}, 422)["field"], "event")
        self.assertEqual(self.post(f"{at}/{last}/undo", {})["done"], ["run"])
        self.assertEqual(self.post(f"{at}/{first}/undo", {})["done"], [])
        self.post(f"{at}/{first}/undo", {}, 422)
        said = [c.said for c in Change.objects.order_by("pk")]
        self.assertEqual(said[-2:], ["wire W1: taken back: labelled", "wire W1: taken back: run"])

    def test_what_cannot_be_is_refused_by_its_field_and_nothing_is_kept(self):
        self.lamp()
        for kind, name, typed, field in (
            ("wire", "w1", W1, "name"),
            ("wire", "W2", W1 | {"circuit": "Radio"}, "circuit"),
            ("wire", "W2", W1 | {"awg": "19"}, "awg"),
            ("wire", "W2", W1 | {"length": "-3 kg"}, "length"),
            ("wire", "W2", W1 | {"weight": "3"}, "weight"),
            ("connector", "P.4", {"contacts": "pin", "pins": "1 24 20"}, "name"),
            ("connector", "P4", {"contacts": "pin", "pins": "9-1 24 20"}, "pins"),
            ("circuit", "Radio", LAMP | {"limit": "4"}, "source"),
            ("harness", "X", {}, "kind"),
        ):
            body = {"kind": kind, "name": name, "typed": typed}
            self.refused(field, "post", "harness", body)

    def test_rows_are_pasted_all_or_none(self):
        self.lamp()
        rows = [{"name": f"W{n}", "circuit": "Lamp", "part": "signal"} for n in range(20, 26)]
        bad = [*rows, {"name": "W99", "circuit": "Lamp", "part": "signal", "awg": "17"}]
        said = self.refused("rows", "post", "harness/wires", {"rows": bad})
        self.assertTrue(said.startswith("row 7, awg"), said)
        self.refused("rows", "post", "harness/wires", {"rows": []})
        made = self.post("harness/wires", {"rows": rows})
        self.assertEqual(made["count"], 4 + 6)

    def test_a_new_name_is_followed_and_what_is_named_stays(self):
        self.lamp()
        self.row("connector", "J3", contacts="pin", pins="1-9 24 18", mate="P3")
        self.row("bundle", "Aft", points="2000; 0; 200; 4000; 0; 200")
        wire = self.one("w1")
        self.change(wire, typed=wire["typed"] | {"bundles": "Aft"})
        for slug, name in (("lamp", "Cabin lamp"), ("p3", "P33"), ("aft", "Floor")):
            self.change(self.one(slug), name=name)
        typed = self.one("w1")["typed"]
        self.assertEqual(
            (typed["circuit"], typed["to"], typed["from"], typed["bundles"]),
            ("Cabin lamp", "P33.7", "CB1.1", "Floor"),
        )
        self.assertEqual(self.one("j3")["typed"]["mate"], "P33")
        for slug in ("lamp", "p3", "aft"):
            said = self.gone(f"harness/rows/{slug}", self.one(slug)["version"], 422)
            self.assertIn("of the harness", said["reason"])
        j3 = self.one("j3")
        self.assertEqual(self.change(j3, 422, name="CB1")["field"], "name")
        bad = {"typed": j3["typed"] | {"pins": "9-1 24 18"}}
        self.assertEqual(self.change(j3, 422, name="J33", **bad)["field"], "pins")
        self.gone("harness/rows/j3", self.one("j3")["version"])
        self.step("w1", "run")
        self.assertIn(
            "thing", self.gone("harness/rows/w1", self.one("w1")["version"], 422)["reason"]
        )

    def test_a_limit_stands_in_a_document_and_is_changed_with_a_reason(self):
        self.post("sources", {"title": "Manual", "revision": "A"})
        source = self.get("sources")["results"][0]["id"]
        way = {"points": "2000; 0; 200; 4000; 0; 200", "supports": "500; 1000; 1500", "span": "610"}
        self.assertEqual(self.row("bundle", "Aft", 422, **way)["field"], "source")
        aft = self.row("bundle", "Aft", source=source, page="12", **way)
        typed = aft["typed"] | {"span": "900"}
        self.assertEqual(self.change(aft, 422, typed=typed)["field"], "reason")
        self.change(aft, typed=typed, reason="revision B says so")
        said = Change.objects.latest("pk").said
        self.assertIn("revision B says so", said)
        self.assertEqual(self.change(aft, 409, typed=typed)["status"], 409)

    def test_lists_are_taken_away_and_no_word_is_a_formula(self):
        self.lamp()
        self.row("wire", "W2", **W1 | {"from": "", "to": "", "colour": "=1+1", "part": "signal"})
        text = self.get("harness/lists/labels").content.decode("utf-8-sig")
        rows = list(csv.reader(StringIO(text)))
        self.assertEqual(rows[1], ["W1", "CB1.1", "P3.7", "Lamp", "AWG 18"])
        self.assertEqual(rows[2], ["W1", "P3.7", "CB1.1", "Lamp", "AWG 18"])
        cut = self.get("harness/lists/cut-list").content.decode("utf-8-sig")
        self.assertIn("'=1+1", cut)
        table = [r for r in csv.reader(StringIO(cut)) if r]
        self.assertIn(["AWG 18", "", "W1", "3.000"], table)
        # Ten in a hundred to spare, then up to the next half metre.
        self.assertIn(["AWG 18", "", "3.5", "0"], table)
        self.assertIn(["AWG 18", "'=1+1", "0.0", "1"], table)
        self.get("harness/lists/none", 404)

    def ready(self):
        """A lamp on a bus with nothing in the way of its first power but the person's own part."""
        self.post("sources", {"title": "Manual", "revision": "A"})
        source = self.get("sources")["results"][0]["id"]
        self.row("bus", "Main bus", alone="0.3")
        more = {"expected": "2.2", "insulation": "5 Mohm"}
        self.row("circuit", "Lamp", source=source, page="9", **LAMP | more)
        self.row("connector", "CB1", contacts="terminal", pins="1-4 22 12", state="covered")
        self.row("connector", "P3", contacts="terminal", pins="1-9 24 18", state="covered")
        self.row("wire", "W1", length="3 m", **W1)
        for doing in ("run", "end_a", "end_b", "labelled"):
            self.step("w1", doing)
        self.step("w1", "tested", **METER)
        return self.step("lamp", "insulated", measured="80 Mohm", u="10 %")

    def test_the_first_power_goes_breaker_by_breaker(self):
        self.assertEqual(self.ready()["verdict"], "in")
        power = self.one("main-bus")["power"]
        self.assertEqual([b["row"] for b in power["blockers"]], ["main-bus", "main-bus"])
        said = self.step("main-bus", "in", 422, breaker="bus", measured="0.3", u="0.02")
        self.assertEqual(said["field"], "breaker")
        self.step("main-bus", "polarity", measured="-12.4")
        self.assertEqual(len(self.step("main-bus", "pulled")["power"]["blockers"]), 1)
        power = self.step("main-bus", "polarity", measured="12.4")["power"]
        self.assertEqual((power["blockers"], power["next"]), ([], "bus"))
        for field, read in (
            ("measured", {"breaker": "bus"}), ("measured", {"breaker": "bus", "measured": "-1"}),
            ("breaker", {"breaker": "CB1.1", "measured": "2"}),
            ("leads", {"breaker": "bus", "measured": "1", "leads": "1 ohm"}),
            ("over", {"breaker": "bus", "measured": "1", "over": True}),
        ):  # fmt: skip
            self.assertEqual(self.step("main-bus", "in", 422, **read)["field"], field)
        self.step("main-bus", "in", breaker="bus", measured="0.31", u="0.02")
        seen = self.step("main-bus", "in", breaker="CB1.1", measured="3.5", u="0.02")
        self.assertEqual((seen["verdict"], seen["power"]["next"]), ("out", "CB1.1"))
        seen = self.step("main-bus", "in", breaker="CB1.1", measured="2.5", u="0.02")
        self.assertTrue(seen["power"]["done"])
        self.assertEqual(seen["verdict"], "in")
        self.assertAlmostEqual(seen["power"]["steps"][1]["rise"], 2.19)
        last = seen["events"][0]
        self.assertIn("CB1.1 put in: 2.50 A", last["said"])
        back = self.post(f"harness/rows/main-bus/steps/{last['id']}/undo", {})
        self.assertEqual(back["verdict"], "out")
        # What is undone later stops it again, though its breaker is in.
        wire = self.one("w1")
        self.change(wire, typed={**wire["typed"], "length": "4 m"})
        self.assertTrue(self.one("main-bus")["power"]["blockers"])

    def test_a_step_belongs_to_its_kind_and_a_bus_is_followed_by_its_name(self):
        self.ready()
        for slug, doing in (("w1", "pulled"), ("lamp", "run"), ("cb1", "run")):
            self.assertEqual(self.step(slug, doing, 422)["field"], "doing")
        self.assertEqual(self.step("lamp", "insulated", 422, measured="5", u="x")["field"], "u")
        self.assertEqual(self.step("lamp", "insulated", 422, measured="-5")["field"], "measured")
        said = self.step("lamp", "insulated", measured="200 Mohm", over=True)["events"][0]["said"]
        self.assertIn("More than 200 MΩ", said)
        lamp = self.one("lamp")
        self.assertEqual(self.change(lamp, 422, typed=lamp["typed"] | {"bus": "X"})["field"], "bus")
        self.change(lamp, typed=lamp["typed"] | {"bus": "Main bus"})
        self.change(self.one("main-bus"), name="Day bus")
        self.assertEqual(self.one("lamp")["typed"]["bus"], "Day bus")
        self.gone("harness/rows/main-bus", self.one("main-bus")["version"], 422)

    def test_what_a_device_is_set_to_is_covered_by_the_circuit_s_signature(self):
        self.ready()
        lamp = self.one("lamp")
        set_to = [{"what": "software", "is": "version 2.1"}]
        self.change(lamp, typed=lamp["typed"] | {"settings": set_to})
        self.assertIn("version 2.1", Change.objects.latest("pk").said)
        row = HarnessRow.objects.get(aircraft__slug=self.slug, slug="lamp")
        self.assertIn("version 2.1", str(_covered(row)))

    def test_sheets_are_begun_from_it(self):
        self.ready()
        kinds = {k["id"]: k for k in self.get("worksheets?trade=wires")["kinds"]}
        live = {k: [s for s in v["starters"] if s["live"]] for k, v in kinds.items()}
        self.assertEqual(
            live["phases"][0]["typed"], {"loads": [{"id": "Lamp", "current": "2.2 A"}]}
        )
        typed = live["coverage"][0]["typed"]
        tried = self.post("worksheet-trial", {"kind": "coverage", "typed": typed}, 200)
        self.assertEqual(tried["verdict"], "in", tried)
        self.assertEqual(live["coax"], [])


class OnTheDemo(Harness):
    def concerns(self, slug):
        settle()
        return {c.key: c for c in Check.objects.filter(trade="harness", subject=slug)}

    def test_the_demo_shows_its_faults(self):
        word = {
            (slug, key): self.concerns(slug)[key].verdict
            for slug, key in (
                ("right-landing-light", "gauge Right landing light"),
                ("panel-bundle", "apart"),
                ("p3", "no_wire_opposite P3.1"),
                ("tail-beacon", "test w10"),
            )
        }
        self.assertEqual(list(word.values()), ["out", "out", "not measured", "in"])

    def test_each_stands_in_the_bays_that_it_passes(self):
        bays = {c.key: set(c.bays) for c in self.concerns("tail-beacon").values()}
        self.assertEqual(bays["wire w11"], {"footwell", "cabin-floor", "baggage", "aft-fuselage"})
        self.assertEqual(set(self.concerns("p7")["pins"].bays), {"aft-fuselage"})
        every = {b["slug"] for b in self.get()["bays"]}
        self.row("circuit", "Nowhere")
        self.assertEqual(set(self.concerns("nowhere")["wires"].bays), every)

    def test_it_is_found_and_a_line_in_the_entry_bar_does_it_and_takes_it_back(self):
        self.assertTrue(Findable.objects.filter(kind="wire", title="W10", text__contains="P7.1"))
        for line, said in (
            ("pin P3-2 terminated", "W31: its start terminated"),
            ("pin GB1.2 terminated", "W31: its end terminated"),
        ):
            seen = self.post("entry", {"line": line}, 200)
            self.assertEqual(seen["said"], said)
            made = self.post(seen["path"], seen["body"])
        self.assertEqual(made["done"], ["run", "end_a", "end_b"])
        seen = self.post("entry", {"line": "test w31 60 mohm"}, 200)
        self.assertEqual(seen["would"]["verdict"], "in", seen)
        kept = self.post(seen["path"], seen["body"])
        self.assertIn("tested", kept["done"])
        back = self.post(seen["undo_path"].format(kept["events"][0]["id"]), seen["undo_body"])
        self.assertNotIn("tested", back["done"])

    def test_a_circuit_is_signed_with_its_wires_and_work_on_one_makes_it_stale(self):
        at = "signatures/circuit:tail-beacon"
        body = {"doing": "inspected", "password": "fresh-eyes-88"}
        answer = self.write("odile", self.at(at), body)
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        self.assertTrue(self.get(at)["entries"][0]["fresh"])
        wire = self.one("w11")
        self.change(wire, typed=wire["typed"] | {"colour": "brown"})
        entry = self.get(at)["entries"][0]
        self.assertFalse(entry["fresh"])
        self.assertIn("brown", str(entry))
        self.get("signatures/circuit:p7", 404)

    def test_a_tube_that_is_moved_to_a_bundle_is_told_at_once(self):
        before = {k for k in self.concerns("aft-bundle") if k.startswith("near tube")}
        tube = Run.objects.filter(aircraft__slug="fenlark").first()
        near = (3.0, 0.31, 0.17)
        by = [b - a for a, b in zip(tube.points_m[0], near, strict=True)]
        tube.points_m = [[x + d for x, d in zip(p, by, strict=True)] for p in tube.points_m]
        tube.service = "fuel"
        tube.save()
        found = self.concerns("aft-bundle")
        (key,) = {k for k in found if k.startswith("near tube")} - before
        self.assertEqual((found[key].verdict, found[key].step), ("out", "clearance"))
        cut = self.get("harness/section?at=3000 mm")["cuts"]
        names = {c["name"]: c for c in cut}
        self.assertEqual([w["name"] for w in names["Aft bundle"]["wires"]], ["W10", "W11"])
        self.assertAlmostEqual(names[tube.name]["y_mm"], 310.0)
        self.assertIn("Rudder: Right cable", names)
        self.get("harness/section?at=", 422)
        self.get("harness/section?at=5 kg", 422)

    def test_labels_are_printed_with_a_code_for_each_end(self):
        answer = self.get("harness/labels.pdf")
        self.assertEqual(answer["Content-Type"], "application/pdf")
        text = PdfReader(BytesIO(answer.content)).pages[0].extract_text()
        self.assertEqual(text.count("W10"), 2)
        self.assertIn("CB1.4 → P7.1", text)
