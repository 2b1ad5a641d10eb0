"""Tubes through the interface: entered, judged in their bays, corrected, taken away and made again."""

import csv
import io
from io import BytesIO
from itertools import pairwise

import ezdxf
from pypdf import PdfReader

from server.journal.models import Change
from server.lines.entering import line_of
from server.runs.models import Run
from server.tests.every_write import LEAK, TUBE
from server.tests.own import Writing

FIT = {"grip": "60", "start_straight": "40", "end_straight": "40"}


class Lines(Writing):
    def line(self, **more):
        return self.post("lines", TUBE | FIT | more)

    def check(self, line, key):
        return next(c for c in line["checks"] if c["key"] == key)

    def no(self, field, **more):
        answer = self.post("lines", TUBE | FIT | more, 422)
        self.assertEqual(answer["field"], field, answer)
        return answer["reason"]

    def test_a_tube_has_its_card_its_bays_and_its_verdicts(self):
        line = self.line()
        self.assertEqual(self.check(line, "bends")["verdict"], "in")
        self.assertEqual(self.check(line, "supports")["verdict"], "in")
        self.assertEqual({s["bay"] for s in line["stretches"]}, {"footwell", "cabin-floor"})
        bends = line["card"]["bends"]
        self.assertEqual([round(b["angle_deg"]) for b in bends], [42, 42, 90])
        self.assertEqual(bends[1]["plane_turns_deg"], -bends[1]["tube_turns_deg"])
        self.assertIsNone(bends[0]["plane_turns_deg"])
        # On the bench the tube is as long after each bend; before the first it is straight.
        drawn = line["card"]["bench_mm"]
        self.assertEqual(len(drawn), 4)
        self.assertAlmostEqual(drawn[0][-1][0], line["card"]["developed_mm"], 1)
        lane = self.get("bays/footwell/contents")
        self.assertIn("Feed tube", str(lane))

    def test_what_nobody_said_is_not_measured_and_what_is_wrong_is_out(self):
        bare = self.post("lines", TUBE | {"supports": ""})
        self.assertEqual(self.check(bare, "bends")["verdict"], "not measured")
        self.assertIn("not said", self.check(bare, "bends")["said"])
        self.assertEqual(self.check(bare, "supports")["verdict"], "not measured")
        far = self.line(name="b", supports="", held=True)
        self.assertEqual(self.check(far, "supports")["verdict"], "out")
        self.assertIn("missing at", self.check(far, "supports")["said"])
        tight = self.line(name="c", radii="20")
        self.assertEqual(self.check(tight, "bends")["verdict"], "out")
        self.assertIn("Bend 1 is tighter than 23.8 mm", self.check(tight, "bends")["said"])
        short = self.line(name="d", grip="90")
        self.assertIn("Straight 1 is shorter", self.check(short, "bends")["said"])
        other = self.line(name="e", material="other")
        self.assertEqual(self.check(other, "bends")["verdict"], "not measured")

    def test_a_maker_s_figure_has_its_document_and_comes_first(self):
        source = self.get("sources")["results"][0]["id"]
        own = self.line(min_radius="35", source=source, page="7")
        self.assertEqual(self.check(own, "bends")["verdict"], "out")
        why = self.check(own, "bends")["why"]
        self.assertIn("7", why["origins"]["min_radius_m"])
        self.no("source", min_radius="35")

    def test_two_trial_bends_teach_how_far_to_bend(self):
        line = self.line(first_trial="46; 45", second_trial="93; 91")
        self.assertIn("Comes back by", line["card"]["springback"])
        for b in line["card"]["bends"]:
            self.assertGreater(b["bend_to_deg"], b["angle_deg"])
        one = line_of(Run.objects.get(slug=line["slug"]))
        for to, after in ((46, 45), (93, 91)):
            back = one.springback_a_rad * 57.29577951 + one.springback_b * to
            self.assertAlmostEqual(back, to - after, 6)
        self.no("second_trial", first_trial="46; 45")
        self.no("second_trial", first_trial="46; 45", second_trial="50; 49")
        self.no("first_trial", first_trial="45; 46", second_trial="93; 91")

    def test_what_is_no_tube_is_refused_by_its_field_and_nothing_is_kept(self):
        for field, more in (
            ("points", {"points": "2050 -100 180"}),
            ("points", {"points": "2050 -100\n1860 -100 180"}),
            ("points", {"points": "2050 -100 180\n2050 -100 180\n1 2 3"}),
            ("points", {"points": "2050 -100 180\n1950 -100 180\n1860 -100 180"}),
            ("radii", {"radii": "300"}), ("radii", {"radii": "30; 30"}), ("radii", {"radii": "0"}),
            ("od", {"od": "-1"}), ("name", {"name": "  "}), ("grip", {"grip": "-1"}),
            ("supports", {"supports": "a lot"}), ("source", {"source": 9999}),
            ("bender_offset", {"bender_offset": "-900"}),
        ):  # fmt: skip
            with self.subTest(field=field, more=more):
                self.no(field, **more)
        self.assertFalse(Run.objects.filter(name__in=("Feed tube", "")).exists())

    def test_holes_are_judged_by_their_edges_and_told_in_the_record(self):
        hole = {"id": "frame 1", "station": "2050", "y": "-100", "z": "180", "d": "18"}
        self.assertEqual(self.check(self.line(name="unsaid"), "holes")["verdict"], "not measured")
        none = self.line(name="none", no_holes=True)
        self.assertEqual(self.check(none, "holes")["verdict"], "in")
        made = self.line(name="bare", holes=[hole | {"guard": "none"}])
        self.assertEqual(self.check(made, "holes")["verdict"], "not measured")
        change = TUBE | {"name": "bare", "version": made["version"]}
        made = self.patch(
            f"lines/{made['slug']}", change | {"holes": [hole | {"guard": "grommet"}]}
        )
        self.assertEqual(self.check(made, "holes")["verdict"], "in")
        said = Change.objects.filter(said__contains="goes through").latest("pk").said
        self.assertIn("bulkhead frame 1 at 2050 -100 180, 18, edge: a grommet", said)
        for field, more in (
            ("holes", {"holes": [hole | {"station": "900"}]}),
            ("holes", {"holes": [hole | {"d": "wide"}]}),
            ("holes", {"holes": [hole, hole]}),
            ("no_holes", {"holes": [hole], "no_holes": True}),
            ("source", {"edge_gap": "6 mm"}),
            (
                "holes",
                {"holes": [hole], "way": "bends", "points": "178.5 0 42\n110", "radii": "30"},
            ),
        ):
            with self.subTest(field=field, more=more):
                self.no(field, **more)

    def test_a_tube_is_made_again_from_its_bends_or_from_an_old_one(self):
        there = self.line()
        card = there["card"]
        turns = [0.0, *(b["plane_turns_deg"] for b in card["bends"][1:])]
        bends = [
            f"{s:.6f} {turn:.6f} {b['angle_deg']:.6f}"
            for s, turn, b in zip(card["straights_mm"], turns, card["bends"], strict=False)
        ]
        again = self.line(
            name="again", way="bends", points="\n".join([*bends, f"{card['straights_mm'][-1]:.6f}"])
        )
        self.assertAlmostEqual(again["card"]["cut_mm"], card["cut_mm"], 3)
        for one, other in zip(again["card"]["bends"], card["bends"], strict=True):
            self.assertAlmostEqual(one["mark_mm"], other["mark_mm"], 3)
        # On the bench it has no place: it is in no bay.
        self.assertEqual(again["stretches"], [])
        corners = [[float(x) for x in row.split()] for row in TUBE["points"].splitlines()]
        along = [
            "\n".join(
                " ".join(f"{a + share * (b - a):.6f}" for a, b in zip(p, q, strict=True))
                for share in (0.3, 0.7)
            )
            for p, q in pairwise(corners)
        ]
        old = self.line(name="old", way="old tube", points="\n\n".join(along))
        self.assertEqual(
            [round(b["angle_deg"], 3) for b in old["card"]["bends"]],
            [round(b["angle_deg"], 3) for b in card["bends"]],
        )
        bent = self.line(
            name="bent",
            way="old tube",
            points="\n\n".join(along)
            .replace("1700", "1706", 1)
            .replace("1668.000000 -160.000000 220", "1668 -150 225"),
        )
        self.assertEqual(self.check(bent, "measured")["verdict"], "too close")
        self.assertIn("measure again", self.check(bent, "measured")["said"])
        for field, more in (
            ("points", {"way": "bends", "points": "100 0 45\n100 0 45"}),
            ("points", {"way": "bends", "points": "100 0 200\n100"}),
            ("radii", {"way": "bends", "points": "100 0 45\n100", "radii": "30; 30"}),
            ("points", {"way": "old tube", "points": "1 2 3\n4 5 6"}),
            ("points", {"way": "old tube", "points": "1 2 3\n\n4 5 6"}),
            ("on_former", {"way": "bends", "points": "100 0 45\n100", "on_former": True}),
            ("way", {"way": "guess"}),
        ):  # fmt: skip
            with self.subTest(more=more):
                self.no(field, **more)

    def test_a_change_is_told_with_what_it_was_and_a_maker_s_figure_has_a_reason(self):
        source = self.get("sources")["results"][0]["id"]
        line = self.line(min_radius="28", source=source)
        at = f"lines/{line['slug']}"
        body = TUBE | FIT | {"version": 1, "min_radius": "25", "source": source}
        self.assertEqual(self.patch(at, body, 422)["field"], "reason")
        changed = self.patch(at, body | {"reason": "revision C", "grip": "55"})
        self.assertEqual(changed["version"], 2)
        said = self.get("since")["changes"][0]["said"]
        for word in ("least bend radius: 28 is now 25", "grip: 60 is now 55", "because revision C"):
            self.assertIn(word, said)

    def test_another_tube_is_tested_again_and_a_corrected_name_is_not(self):
        line = self.line()
        at = f"lines/{line['slug']}"
        self.post(f"{at}/leak-tests", LEAK)
        named = self.patch(at, TUBE | FIT | {"version": 1, "name": "Feed"})
        self.assertEqual(self.check(named, "leak")["verdict"], "in")
        other = TUBE["points"].replace("1620 -160 80", "1620 -160 60")
        moved = self.patch(at, TUBE | FIT | {"version": 2, "points": other})
        self.assertEqual(self.check(moved, "leak")["verdict"], "stale")
        self.assertEqual(moved["done"][0]["note"], "the tube was changed")

    def test_a_tank_that_looks_bad_and_is_not_is_in_and_opened_it_is_stale(self):
        line = self.line()
        self.assertEqual(self.check(line, "leak")["verdict"], "not measured")
        # The page's case: the gauge fell by 240 Pa, the air cooled by 0.6 K.
        tried = self.post("leak-trial", LEAK, 200)
        self.assertEqual(tried["verdict"], "in")
        self.assertAlmostEqual(tried["no_leak_end_kPa"], 2.209, 3)
        self.assertGreater(tried["alone_ml_min"], 1.2)
        self.assertAlmostEqual(tried["wait_min"], 5378.37 / 60, 1)
        at = f"lines/{line['slug']}"
        tested = self.post(f"{at}/leak-tests", LEAK)
        self.assertEqual(self.check(tested, "leak")["verdict"], "in")
        self.assertIn("allowed 1.20", self.check(tested, "leak")["said"])
        origins = self.check(tested, "leak")["why"]["origins"]
        self.assertEqual(origins["max_test_Pa"], LEAK["source"])
        unsure = self.post("leak-trial", LEAK | {"u_temperature": ""}, 200)
        self.assertEqual(unsure["verdict"], "not measured")
        # As warm as before it would have been a leak.
        warm = self.post("leak-trial", LEAK | {"end_temperature": "21.5 C"}, 200)
        self.assertEqual(warm["verdict"], "out")
        opened = self.post(f"{at}/opened", {"note": "for a fitting"})
        self.assertEqual(self.check(opened, "leak")["verdict"], "stale")
        event = opened["done"][0]["id"]
        back = self.post(f"{at}/events/{event}/undo")
        self.assertEqual(self.check(back, "leak")["verdict"], "in")
        self.post(f"{at}/events/{event}/undo", status=422)
        # What was done stays: the line cannot go.
        stays = self.post(f"{at}/removal", {"version": 1, "reason": "another"}, 422)
        self.assertIn("things done to it", stays["reason"])
        for field, more in (
            ("start_gauge", {"max_test": "2 kPa"}), ("volume", {"volume": ""}),
            ("end_temperature", {"end_temperature": "200 C"}), ("minutes", {"minutes": "0"}),
            ("start_barometer", {"start_barometer": "10 kPa"}), ("u_gauge", {"u_gauge": "-1 Pa"}),
            ("end_gauge", {"end_gauge": "much"}), ("source", {"source": " "}),
        ):  # fmt: skip
            with self.subTest(field=field):
                answer = self.post(f"{at}/leak-tests", LEAK | more, 422)
                self.assertEqual(answer["field"], field)

    def test_what_was_read_live_is_kept_with_its_test(self):
        line = self.line()
        series = [[0.0, 2.45, 21.5, 101.12], [30.0, 2.33, 21.2, 101.13], [60.0, 2.21, 20.9, 101.15]]
        at = f"lines/{line['slug']}/leak-tests"
        kept = self.post(at, LEAK | {"series": series})
        self.assertEqual(kept["done"][0]["series"], series)
        for wrong in ([series[1], series[0]], [series[0], series[0]]):
            answer = self.post(at, LEAK | {"series": wrong}, 422)
            self.assertEqual(answer["field"], "series")
        self.post(at, LEAK | {"series": [[0.0, 1.0]]}, 422)
        typed = f"leak {line['name']} 20 min 2.4 kPa 2.3 kPa 21 C 21 C"
        self.assertNotIn("series", self.post("entry", {"line": typed}, 200)["body"])

    def test_its_card_is_printed_on_one_page(self):
        line = self.line()
        answer = self.as_("ansel").get(self.at(f"lines/{line['slug']}/card.pdf"))
        pages = PdfReader(BytesIO(answer.content)).pages
        self.assertEqual(len(pages), 1)
        text = pages[0].extract_text()
        self.assertIn(f"Cut {line['card']['cut_mm']:.1f} mm", text)
        for b in line["card"]["bends"]:
            self.assertIn(f"{b['mark_mm']:.1f}", text)
            self.assertIn(f"{b['bend_to_deg']:.1f}°", text)

    def test_it_is_corrected_with_its_version_and_taken_away_with_a_reason(self):
        line = self.line()
        at = f"lines/{line['slug']}"
        other = (
            TUBE
            | FIT
            | {"version": 1, "points": TUBE["points"].replace("1620 -160 80", "1620 -160 60")}
        )
        changed = self.patch(at, other)
        self.assertGreater(changed["card"]["cut_mm"], line["card"]["cut_mm"])
        self.patch(at, other, 409)
        self.assertEqual(self.get(at)["typed"]["points"], other["points"])
        self.assertIn("Feed tube", str(self.get("find?q=feed")))
        self.post(f"{at}/removal", {"version": 2, "reason": "another route"}, 200)
        self.get(at, 404)
        self.assertNotIn(line["slug"], [r["slug"] for r in self.get("lines")["results"]])
        again = self.line()
        self.assertNotEqual(again["slug"], line["slug"])

    def test_its_card_goes_out_as_rows(self):
        line = self.line(name="=Feed")
        answer = self.as_("ansel").get(self.at(f"lines/{line['slug']}/card"))
        rows = list(csv.reader(io.StringIO(answer.content.decode())))
        self.assertEqual(rows[0][0], "'=Feed")
        self.assertEqual(
            [float(r[1]) for r in rows[2:]], [round(b["mark_mm"], 1) for b in line["card"]["bends"]]
        )


class TakenAway(Writing):
    """Papers and files of a tube: at full size, and the same shape in each."""

    FLAT = TUBE | {
        "name": "Flat",
        "points": "2150 -100 180\n1960 -100 180\n1960 -100 300\n1700 -100 300",
        "supports": "",
    }

    def pages(self, at):
        return PdfReader(BytesIO(self.get(at).content)).pages

    def test_a_flat_tube_has_a_template_at_full_size_and_another_says_why_not(self):
        made = self.post("lines", self.FLAT)
        self.assertTrue(made["card"]["flat"])
        pages = self.pages(f"lines/{made['slug']}/template.pdf")
        # 450 by 120 mm and its room, on pages that overlap.
        self.assertEqual(len(pages), 3)
        self.assertIn("100 mm", pages[0].extract_text())
        other = self.post("lines", TUBE)
        self.assertFalse(other["card"]["flat"])
        self.assertIn("do not lie flat", str(self.get(f"lines/{other['slug']}/template.pdf", 422)))

    def test_turns_are_on_a_strip_as_long_as_the_tube_is_around(self):
        made = self.post("lines", TUBE)
        text = self.pages(f"lines/{made['slug']}/turns.pdf")[0].extract_text()
        self.assertIn(f"{3.14159265 * (9.525 + 0.1):.1f} mm once around", text)
        for n, b in enumerate(made["card"]["bends"][1:], 1):
            turn = f"{b['plane_turns_deg']:+.1f}°".replace("-", "−")
            self.assertIn(f"bend {n} to {n + 1}: {turn}", text)

    def test_the_dxf_has_the_corners_in_the_aircraft_and_the_json_the_card(self):
        made = self.post("lines", TUBE)
        doc = ezdxf.read(io.StringIO(self.get(f"lines/{made['slug']}/shape.dxf").content.decode()))
        found = {
            p.dxf.layer: [tuple(v.dxf.location) for v in p.vertices]
            for p in doc.modelspace().query("POLYLINE")
        }
        self.assertEqual(found["CORNERS"], [tuple(p) for p in made["points_mm"]])
        self.assertEqual(found["CENTRELINE"][0], found["CORNERS"][0])
        self.assertEqual(found["CENTRELINE"][-1], found["CORNERS"][-1])
        told = self.get(f"lines/{made['slug']}/shape.json")
        self.assertEqual(told["card"]["bends"], made["card"]["bends"])
        self.get(f"lines/{made['slug']}/shape.step", 404)


class FromTheEntryBar(Writing):
    def test_a_leak_test_is_typed_in_one_line_judged_before_and_taken_back(self):
        line = "leak selector to gasc 20 min 20 kPa 19.93 kPa 20.4 C 20.3 C 1012 hPa 1012.1 hPa"
        seen = self.post("entry", {"line": line}, 200)
        self.assertEqual((seen["kind"], seen["would"]["verdict"]), ("leak test", "in"))
        kept = self.post(seen["path"], seen["body"])
        check = next(c for c in kept["checks"] if c["key"] == "leak")
        self.assertIn(seen["would"]["said"], check["said"])
        newest = max(d["id"] for d in kept["done"])
        self.post(seen["undo_path"].format(newest), {})
        self.assertEqual(self.get("lines/selector-to-gascolator")["done"][0]["doing"], "undone")

    def test_without_the_weather_it_settles_nothing_and_says_so(self):
        line = "leak selector to gasc 20 min 20 kPa 19.93 kPa 20.4 C 20.3 C"
        seen = self.post("entry", {"line": line}, 200)
        self.assertEqual(seen["would"]["verdict"], "not measured")
        self.assertIn("the barometer", seen["would"]["said"])

    def test_a_line_never_tested_is_tested_on_its_page_first(self):
        line = "leak pitot 20 min 20 kPa 19.93 kPa 20.4 C 20.3 C"
        self.assertIn("once on its page first", str(self.post("entry", {"line": line}, 422)))
