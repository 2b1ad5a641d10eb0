"""Clearances: from an empty aircraft to accepted, measured and taken away; and on the demo."""

import csv
import time
from io import StringIO

from server.controls.models import Requirement
from server.find.models import Findable
from server.journal.models import Change
from server.kit.models import Check
from server.kit.standing import settle
from server.tests.own import OwnPlane, Writing

LINE = {"sort": "structure", "form": "line", "od": "10 mm"}
LOOM = "1940; 300; 160; 3700; 300; 160"


def corners(*points):
    return [dict(zip("xyz", map(str, p), strict=True)) for p in points]


class Clearance(Writing):
    def row(self, kind, name, status=201, **typed):
        more = {k: typed.pop(k) for k in ("source", "page", "reason") if k in typed}
        return self.post("clearance", {"kind": kind, "name": name, "typed": typed} | more, status)

    def change(self, slug, status=200, typed=None, **more):
        row = self.get(f"clearance/rows/{slug}")
        kept = {k: row[k] for k in ("version", "kind", "name", "typed", "source", "page")}
        kept["typed"] = kept["typed"] | (typed or {})
        return self.patch(f"clearance/rows/{slug}", kept | more, status)

    def done(self, doing, a, b, status=201, **said):
        return self.post("clearance/pairs", {"doing": doing, "a": a, "b": b} | said, status)

    def pairs(self):
        return {p["name"]: p for p in self.get("clearance")["pairs"]}

    def pair(self, a, b):
        found = self.pairs()
        return found.get(f"{a} – {b}") or found[f"{b} – {a}"]


class FromNothing(Clearance, OwnPlane):
    def setUp(self):
        super().setUp()
        self.manual = self.document("Manual")

    def two(self, z="40"):
        self.row(
            "shape",
            "Feed",
            **LINE | {"sort": "fuel"},
            corners=corners((1000, 0, 100), (2000, 0, 100)),
        )
        self.row("shape", "Loom", **LINE | {"sort": "wire"},
                 corners=corners((1000, 0, f"{100 + int(z)}"), (2000, 0, f"{100 + int(z)}")))  # fmt: skip

    def test_nothing_entered_is_nothing_near(self):
        page = self.get("clearance")
        self.assertEqual((page["pairs"], page["things"], page["verdict"]), ([], [], None))
        self.assertIn("both stops", page["caution"])
        self.assertTrue(all("confirm" in r["source"] for r in page["apart"]))

    def test_from_two_lines_to_accepted_measured_and_taken_back(self):
        self.two()
        pair = self.pair("Feed", "Loom")
        self.assertEqual((pair["gap"], pair["rule"], pair["verdict"]), (30.0, 50.8, "out"))
        self.assertFalse(pair["acceptable"])
        self.row("sureness", "Sure", shapes="2 mm")
        self.assertTrue(self.pair("Feed", "Loom")["acceptable"])
        self.refused("reason", "post", "clearance/pairs",
                     {"doing": "accepted", "a": "Feed", "b": "Loom", "mitigation": "sleeve"})  # fmt: skip
        pair = self.done("accepted", "Feed", "Loom", mitigation="sleeve", reason="no other way")
        self.assertEqual((pair["verdict"], pair["state"]), ("accepted", "accepted"))
        self.assertIn("Accepted by", pair["check"]["said"])
        event = pair["events"][0]["id"]
        self.post(f"clearance/pairs/{event}/undo")
        self.assertEqual(self.pair("Feed", "Loom")["verdict"], "out")
        self.post(f"clearance/pairs/{event}/undo", status=422)
        told = Change.objects.filter(said__contains="accepted with sleeve").values_list(
            "said", flat=True
        )
        self.assertEqual(len(told), 2, list(told))

    def test_acceptance_ends_with_the_geometry_it_was_for(self):
        self.two()
        self.row("sureness", "Sure", shapes="2 mm")
        self.done("accepted", "Loom", "Feed", mitigation="clamped", reason="checked")
        self.change("loom", typed={"corners": corners((1000, 0, 139), (2000, 0, 140))})
        pair = self.pair("Feed", "Loom")
        self.assertEqual(pair["verdict"], "out")
        self.assertIn("changed since", pair["check"]["said"])

    def test_a_measured_gap_overrules_the_model(self):
        self.two()
        self.row("sureness", "Sure", shapes="20 mm")
        self.assertEqual(self.pair("Feed", "Loom")["verdict"], "too close")
        self.done("measured", "Feed", "Loom", gap="27.5", u="0.3 mm", at="by feeler")
        pair = self.pair("Feed", "Loom")
        self.assertEqual(pair["verdict"], "out")
        self.assertTrue(pair["acceptable"])
        self.assertIn("27.5 mm ± 0.3 mm", pair["check"]["said"])
        self.assertAlmostEqual(pair["check"]["why"]["inputs"]["gap_best"], 0.0275, 9)
        for field, more in (("gap", {"gap": "", "u": "1"}), ("u", {"gap": "20", "u": "0"}),
                            ("gap", {"gap": "-3", "u": "1"})):  # fmt: skip
            self.refused(field, "post", "clearance/pairs",
                         {"doing": "measured", "a": "Feed", "b": "Loom"} | more)  # fmt: skip

    def test_what_touches_or_is_clear_is_not_accepted(self):
        self.two("8")
        self.row("sureness", "Sure", shapes="1 mm")
        body = {"doing": "accepted", "a": "Feed", "b": "Loom", "mitigation": "x", "reason": "y"}
        self.assertIn("touches", self.refused("doing", "post", "clearance/pairs", body))
        self.change("loom", typed={"corners": corners((1000, 0, 200), (2000, 0, 200))})
        self.assertIn("nothing to accept", self.refused("doing", "post", "clearance/pairs", body))
        self.refused("a", "post", "clearance/pairs", body | {"a": "Nobody"})

    def test_a_door_its_edge_and_what_it_meets(self):
        self.row("mover", "Door", origin="0; 0; 500", axis="-1; 0; 0", to="120")
        self.row("shape", "Edge", **LINE, on="Door", corners=corners((0, 0, 100), (400, 0, 100)))
        self.row("shape", "Wing", sort="structure", form="box", centre="200; -600; 700",
                 size="600; 1000; 4")  # fmt: skip
        self.row("sureness", "Sure", shapes="1 mm")
        page = self.get("clearance")
        said = {c["key"]: c["said"] for c in page["checks"]}
        self.assertIn("It may open to 118.", said["door door edge"])
        film = self.as_(self.person).get(
            self.at("clearance/film"), {"pair": page["pairs"][0]["key"]}
        )
        reel = film.json()["reels"][0]
        self.assertEqual(reel["name"], "Door")
        gaps = [f["gap"] for f in reel["frames"]]
        self.assertLessEqual(min(gaps), 0)
        self.assertGreater(gaps[0], 100)
        # A row that names it follows its name.
        self.change("door", name="Left door")
        self.assertEqual(self.get("clearance/rows/edge")["typed"]["on"], "Left door")
        self.assertIn("stays: 1 row of clearances", str(self.gone("clearance/rows/door", 2, 422)))
        self.gone("clearance/rows/edge", 2)
        self.gone("clearance/rows/door", 2)

    def test_distances_of_ones_own_with_their_document(self):
        self.two()
        self.row("sureness", "Sure", shapes="1 mm")
        body = {"kind": "rule", "name": "Own", "typed": {"a": "fuel", "b": "wire", "least": "25"}}
        self.refused("source", "post", "clearance", body)
        self.row("rule", "Own", a="fuel", b="wire", least="25 mm", source=self.manual, page="7")
        pair = self.pair("Feed", "Loom")
        self.assertEqual((pair["rule"], pair["verdict"]), (25.0, "in"))
        self.assertIn("page 7", pair["rule_said"])
        self.refused("b", "post", "clearance", body | {"name": "Twice", "source": self.manual})
        self.assertIn("why", self.change("own", 422, {"least": "20"})["reason"])
        self.change("own", typed={"least": "20"}, reason="misprint")

    def test_many_pasted_all_or_none(self):
        rows = [
            {
                "name": f"Stringer {n}",
                **LINE,
                "corners": corners((0, n * 100, 0), (900, n * 100, 0)),
            }
            for n in range(3)
        ]
        bad = [*rows, {"name": "Bad", **LINE, "corners": corners((0, 0, 0))}]
        body = {"kind": "shape", "rows": bad}
        self.assertIn("row 4, corners", self.refused("rows", "post", "clearance/pasted", body))
        self.post("clearance/pasted", body | {"rows": rows})
        self.assertEqual(len(self.get("clearance")["things"]), 3)
        many = [rows[0]] * 10_000
        self.assertIn(
            "500", self.refused("rows", "post", "clearance/pasted", body | {"rows": many})
        )

    def test_what_it_would_change_before_it_is_kept(self):
        self.two()
        self.row("sureness", "Sure", shapes="1 mm")
        up = "1000 mm; 0 mm; 200 mm; 2000 mm; 0 mm; 200 mm"
        (pair,) = self.post("clearance/move", {"thing": "Loom", "corners": up}, 200)["pairs"]
        self.assertEqual((pair["was"], pair["gap"]), (30.0, 90.0))
        self.assertEqual((pair["was_verdict"], pair["verdict"]), ("out", "in"))
        self.assertEqual(self.pair("Feed", "Loom")["gap"], 30.0)
        far = "1000; 0; 900; 2000; 0; 900"
        (pair,) = self.post("clearance/move", {"thing": "Loom", "corners": far}, 200)["pairs"]
        self.assertIsNone(pair["gap"])
        self.refused("corners", "post", "clearance/move", {"thing": "Loom", "corners": "1; 2"})
        self.refused("thing", "post", "clearance/move", {"thing": "Nobody", "corners": far})

    def test_taken_away_as_a_table_that_is_safe_in_a_spreadsheet(self):
        self.two()
        self.change("loom", name="=Loom")
        text = self.get("clearance/list").content.decode("utf-8-sig")
        head, one = list(csv.reader(StringIO(text)))[:2]
        self.assertEqual(head[:3], ["one", "other", "gap mm"])
        self.assertIn("'=Loom", one)
        self.assertIn("30", one)
        self.assertTrue(Findable.objects.filter(title="=Loom", kind="shape").exists())

    def test_fields_that_nobody_knows_are_refused(self):
        body = {"kind": "zone", "name": "Z", "typed": {"colour": "red"}}
        self.refused("colour", "post", "clearance", body)
        self.refused("doing", "post", "clearance/pairs", {"doing": "hoped", "a": "x", "b": "y"})

    def test_a_counselor_measures_nothing(self):
        self.two()
        self.assertEqual(self.as_("odile").get("/api/aircraft/fenlark/clearance").status_code, 200)
        self.post("clearance", {"kind": "sureness", "name": "S", "typed": {}}, 404, person="odile")


class OnTheDemo(Clearance):
    def test_what_the_demo_must_show_is_found_from_its_data(self):
        touch = self.pair("Rudder: Left cable", "Park brake line")
        self.assertLessEqual(touch["gap"], 0)
        self.assertIn("left pedal forward", touch["at"])
        film = self.as_("ansel").get(self.at("clearance/film"), {"pair": touch["key"]}).json()
        reel = next(r for r in film["reels"] if r["name"] == "Rudder pedals")
        gaps = [f["gap"] for f in reel["frames"]]
        # Only near the one end of the travel: everywhere else they are apart.
        self.assertLess(sum(g <= 0 for g in gaps), 6)
        self.assertGreater(gaps[0], 20)
        near = self.pair("Selector to gascolator", "Panel bundle")
        self.assertEqual((near["verdict"], near["rule"]), ("out", 50.8))
        said = {c["key"]: c for c in self.get("clearance")["checks"]}
        self.assertIn("It may open to", said["door left-door left-door-edge"]["said"])

    def test_too_near_pairs_stand_in_their_bays(self):
        settle()
        kept = Check.objects.filter(aircraft__slug="fenlark", trade="clearance")
        touch = kept.get(key__contains="park-brake-line", verdict="out")
        self.assertEqual((touch.bays, touch.step), (["footwell"], "clearance"))

    def test_nothing_else_in_the_aircraft_sets_how_far_a_control_is_looked_at(self):
        """Permitted travel with its tolerance, and what the person says goes beyond."""
        axes = {a["name"]: a for a in self.get("clearance")["axes"]}
        self.assertIn(
            "permitted, with its tolerance, and 1.5° beyond", axes["Rudder pedals"]["said"]
        )
        self.assertEqual(axes["Rudder adjust"]["said"], "its notches")
        before = axes["Elevator"]["high"]
        up = Requirement.objects.get(
            control__aircraft__slug="fenlark",
            surface__slug="elevator",
            position="up_stop",
            kind="travel",
        )
        up.hi += 0.05
        up.save()
        after = {a["name"]: a for a in self.get("clearance")["axes"]}["Elevator"]["high"]
        self.assertGreater(float(after.split("°")[0]), float(before.split("°")[0]))

    def test_moving_a_bundle_in_the_harness_judges_it_anew(self):
        row = next(r for r in self.get("harness")["results"] if r["slug"] == "panel-bundle")
        typed = row["typed"] | {"points": "1950; 180; 680; 1940; 60; 580; 1900; 60; 330"}
        kept = {k: row[k] for k in ("version", "kind", "name", "source", "page")} | {"reason": ""}
        self.patch("harness/rows/panel-bundle", kept | {"typed": typed})
        pair = self.pairs().get("Selector to gascolator – Panel bundle")
        self.assertTrue(pair is None or pair["gap"] > 60)

    def test_a_gap_at_the_entry_bar(self):
        seen = self.post("entry", {"line": "gap w30 gascolator 36 mm"}, 200)
        self.assertIn("Panel bundle", seen["said"])
        self.assertEqual(seen["would"]["verdict"], "out")
        self.assertIn("not said how sure", seen["would"]["said"])
        seen = self.post("entry", {"line": "gap pedal left gascolator 4 mm ± 0.3 mm"}, 200)
        self.assertIn("counts before the model", seen["would"]["said"])
        made = self.post(seen["path"], seen["body"])
        self.assertEqual(made["gap"], 4.0)
        event = made["events"][0]["id"]
        self.assertEqual(self.post(seen["undo_path"].format(event), {})["events"], [])
        for line in ("gap nobody fuel 3 mm", "gap panel", "gap panel gascolator 3 kg"):
            self.assertEqual(self.post("entry", {"line": line}, 422)["field"], "entry")

    def test_dragging_answers_soon(self):
        corners = "1940; 300; 160; 3700; 300; 170; 5200; 120; 320"
        self.post("clearance/move", {"thing": "Aft bundle", "corners": corners}, 200)
        begun = time.perf_counter()
        self.post(
            "clearance/move", {"thing": "Aft bundle", "corners": corners.replace("170", "171")}, 200
        )
        self.assertLess(time.perf_counter() - begun, 2.0)
