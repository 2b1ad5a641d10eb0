"""Tubes through the interface: entered, judged in their bays, corrected, taken away and made again."""

import csv
import io

from server.lines.entering import line_of
from server.runs.models import Run
from server.tests.every_write import TUBE
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
        self.assertEqual(line["verdict"], "in")
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
        self.assertEqual(Run.objects.count(), 0)

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
        self.assertEqual(self.get("lines")["count"], 0)
        again = self.line()
        self.assertNotEqual(again["slug"], line["slug"])

    def test_its_card_goes_out_as_rows_and_a_trial_keeps_nothing(self):
        line = self.line(name="=Feed")
        answer = self.as_("ansel").get(self.at(f"lines/{line['slug']}/card"))
        rows = list(csv.reader(io.StringIO(answer.content.decode())))
        self.assertEqual(rows[0][0], "'=Feed")
        self.assertEqual(
            [float(r[1]) for r in rows[2:]], [round(b["mark_mm"], 1) for b in line["card"]["bends"]]
        )
        tried = self.post("line-trial", TUBE, 200)
        self.assertEqual(tried["cut_mm"], line["card"]["cut_mm"])
        self.assertEqual(Run.objects.count(), 1)
