"""The entry bar on the real aircraft, and finding things again by beginnings and slips."""

from server.find.models import Findable
from server.tests.own import Writing


class Entry(Writing):
    def said(self, line, status=200, **more):
        return self.post("entry", {"line": line, **more}, status=status)

    def test_examples_are_of_this_aircraft_and_mean_something(self):
        lines = self.get("entry/examples")["options"]
        self.assertEqual(len(lines), 4)
        for line in lines:
            self.assertNotEqual(self.said(line)["kind"], "which", line)

    def test_a_torque_is_judged_before_it_is_kept_as_it_will_be_after(self):
        joint = self.post("joints", {"name": "Idler bolt", "torque": "50 to 70 in-lb"})
        wrench = next(
            i["name"] for i in self.get("instruments")["results"] if i["kind"] == "torque"
        )
        for value, verdict in (("60", "in"), ("90", "out"), ("50", "too close")):
            seen = self.said(f"torque {value} inlb idler bolt with {wrench.lower()}")
            self.assertEqual(seen["would"]["verdict"], verdict, seen)
            self.post(f"joints/{joint['slug']}/events", seen["body"])
            kept = self.get(f"joints/{joint['slug']}")["checks"]
            (torque,) = [c for c in kept if c["what"] == "torque"]
            self.assertEqual((torque["verdict"], torque["said"]), (verdict, seen["would"]["said"]))
        self.post("joints", {"name": "Plain screw"})
        plain = self.said("torque 20 inlb plain screw")
        self.assertIsNone(plain["would"])

    def test_a_jump_goes_to_the_page_or_bay_that_is_named(self):
        for line, page in (
            ("go lane", ""), ("go joints", "joints"), ("go loose ends", "loose-ends"),
            ("go sign", "sign-off"), ("go rule book", "/rules"), ("go elevator", "controls/elevator"),
            ("go find", "find"), ("go airframe", "airframe"), ("go nose", "bays/nose"),
            ("go tail", "bays/tail-cone"),
        ):  # fmt: skip
            found = self.said(line)
            with self.subTest(line=line):
                self.assertEqual((found["kind"], found["page"]), ("jump", page))
                self.assertFalse(found["path"])

    def test_what_a_line_would_write_can_be_written_as_it_stands_and_taken_back(self):
        for line, kind in (
            ("elev down 18.6", "reading"), ("torque 35 inlb elevator horn bolt", "joint"),
            ("loose cap in nose: the first start", "loose end"), ("note nose: mind the edge", "note"),
        ):  # fmt: skip
            found = self.said(line)
            with self.subTest(line=line):
                self.assertEqual(found["kind"], kind)
                answer = self.write("ansel", self.at(found["path"]), found["body"])
                self.assertEqual(answer.status_code, 201, answer.content[:300])
                made = answer.json()
                key = {
                    "reading": lambda m: m["readings"][-1]["id"], "joint": lambda m: m["events"][-1]["id"],
                    "loose end": lambda m: m["id"], "note": lambda m: m["id"],
                }[kind](made)  # fmt: skip
                undo = self.at(found["undo_path"].format(key))
                body = {k: key if v == "{}" else v for k, v in found["undo_body"].items()}
                back = self.write("ansel", undo, body)
                self.assertIn(back.status_code, (200, 201), back.content[:300])

    def test_a_preview_is_what_the_page_itself_would_say(self):
        found = self.said("elev down 18.6")
        again = self.post(found["path"].replace("/readings", "/assess"), found["body"], status=200)
        self.assertEqual(found["preview"]["said"], again["said"])
        self.assertEqual(found["preview"]["result"]["value"], again["result"]["value"])

    def test_the_bay_chosen_on_the_lane_is_meant_where_none_is_named(self):
        for bay, where in (("nose", "nose"), ("", ""), ("attic", "")):
            found = self.said("note mind the edge", bay=bay)
            self.assertEqual(found["body"]["target_id"], where)
            loose = self.said("loose cap: the first start", bay=bay)
            self.assertEqual(loose["body"]["bay"], where)

    def test_what_could_mean_two_things_is_asked_back_with_lines_that_mean_one(self):
        for line in ("ail up 20", "go left"):
            found = self.said(line)
            with self.subTest(line=line):
                self.assertEqual(found["kind"], "which")
                self.assertGreater(len(found["options"]), 1)
                for option in found["options"]:
                    self.assertNotEqual(self.said(option)["kind"], "which", option)

    def test_what_means_nothing_is_refused_and_says_what_does(self):
        for line in (
            "",
            "banana",
            "elev up",
            "torque horn bolt",
            "go nowhere",
            "loose x",
            "elev up 3 kg",
        ):
            answer = self.write("ansel", self.at("entry"), {"line": line})
            with self.subTest(line=line):
                self.assertEqual(answer.status_code, 422)
                self.assertTrue(answer.json()["reason"])

    def test_every_completion_begins_as_the_line_began(self):
        for line in ("e", "el", "go ", "torque 42 ", "ail ", "note n", "pin "):
            options = self.post("entry/completions", {"line": line}, status=200)["options"]
            with self.subTest(line=line):
                self.assertTrue(options)
                for option in options:
                    self.assertTrue(option.lower().startswith(line.lower().rstrip()), option)


class Find(Writing):
    def found(self, q):
        return self.get(f"find?q={q}")

    def titles(self, q):
        return {r["title"] for b in self.found(q)["bays"] for r in b["results"]}

    def test_a_beginning_is_enough_and_a_slip_is_forgiven(self):
        whole = self.titles("bellcrank")
        self.assertTrue(whole)
        self.assertLessEqual(whole, self.titles("bellcr"))
        self.assertTrue(whole & self.titles("belcrank"))
        self.assertEqual(self.titles("BELLCRANK"), whole)

    def test_more_words_find_no_more(self):
        one = self.titles("bellcrank")
        both = self.titles("elevator bellcrank")
        self.assertTrue(both)
        self.assertTrue(any("levator" in t for t in both))
        self.assertTrue(both & one)

    def test_every_joint_is_found_by_its_own_name_in_its_own_bay(self):
        for joint in self.get("joints?size=100")["results"]:
            found = self.found(joint["name"])
            places = {
                b["bay"] for b in found["bays"] for r in b["results"] if r["title"] == joint["name"]
            }
            with self.subTest(joint=joint["name"]):
                self.assertIn(joint["bay"], places)

    def test_what_is_found_says_how_it_is_reached_and_links_to_its_page(self):
        for bay in self.found("bolt")["bays"]:
            for row in bay["results"]:
                self.assertTrue(row["link"] or row["kind"])
                if row["reach"]:
                    self.assertIn(row["reach"], ("now", "by opening", "lost", "never"))
                    self.assertTrue(row["way"])

    def test_no_word_or_too_long_a_one_is_refused(self):
        for q in ("", "   ", "!!", "x" * 121):
            answer = self.as_("ansel").get(self.at(f"find?q={q}"))
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, "q"))
        self.assertEqual(self.found("zzzzqqq")["count"], 0)

    def test_another_s_things_are_not_found(self):
        mine = Findable.objects.filter(aircraft=self.fenlark).count()
        self.assertGreater(mine, 20)
        for title in Findable.objects.exclude(aircraft=self.fenlark).values_list(
            "title", flat=True
        )[:8]:
            if Findable.objects.filter(aircraft=self.fenlark, title=title).exists():
                continue
            words = "".join(c for c in title if c.isalnum() or c == " ").strip()
            if words:
                self.assertNotIn(title, self.titles(words))

    def test_a_thing_taken_away_is_not_found_any_more(self):
        note = self.post("notes", {"text": "quixotic remark", "target": "bay", "target_id": "nose"})
        self.assertEqual(self.found("quixotic")["count"], 1)
        self.post(f"notes/{note['id']}/withdraw", {})
        self.assertEqual(self.found("quixotic")["count"], 0)


class Papers(Writing):
    def test_every_file_that_can_be_taken_away_has_its_kind_and_its_content(self):
        for path, kind, begins in (
            ("controls/elevator/sheet.pdf", "application/pdf", b"%PDF"),
            ("controls/rudder/cables/rigging-sheet.pdf?temperature=14 C", "application/pdf", b"%PDF"),
            ("controls/elevator/linkage/file.json", "application/json", b"{"),
            ("controls/elevator/linkage/points.csv", "text/csv", b""),
            ("controls/rudder/cables/file.json", "application/json", b"{"),
            ("controls/rudder/cables/supports.csv", "text/csv", b""),
        ):  # fmt: skip
            answer = self.as_("ansel").get(self.at(path))
            with self.subTest(path=path):
                self.assertEqual(answer.status_code, 200)
                self.assertIn(kind, answer.headers["Content-Type"])
                self.assertTrue(answer.content.startswith(begins))
                self.assertEqual(self.as_("corin").get(self.at(path)).status_code, 404)

    def test_a_file_that_went_out_comes_in_again_as_the_same(self):
        for page, key in (
            ("controls/rudder/cables", "cables"),
            ("controls/elevator/linkage", "linkage"),
        ):
            file = self.as_("ansel").get(self.at(f"{page}/file.json")).json()
            before = self.get(page)
            self.put(page, {"version": before["version"], "document": file})
            after = self.get(page)
            with self.subTest(file=key):
                self.assertEqual(after["document"], before["document"])
                self.assertEqual(after["solved"], before["solved"])

    def test_templates_are_cut_from_what_is_asked_and_refuse_what_cannot_be_cut(self):
        good = "included=146&arm_fixed=160&arm_moving=140&width=40&notch_radius=14&notch_aft=2&notch_up=-3"
        client = self.as_("ansel")
        for kind, begins in (("pdf", b"%PDF"), ("svg", b"<?xml"), ("dxf", b"")):
            answer = client.get(f"/api/template.{kind}?{good}&title=Elevator up")
            self.assertEqual(answer.status_code, 200, answer.content[:200])
            self.assertTrue(answer.content.startswith(begins) or b"<svg" in answer.content[:200])
        for change, field in (
            ("included=30", "included"), ("arm_fixed=10", "arm_fixed"), ("width=5", "width"),
            ("included=steep", "included"), ("notch_radius=1", "notch"),
        ):  # fmt: skip
            name = change.partition("=")[0]
            kept = "&".join(p for p in good.split("&") if not p.startswith(f"{name}="))
            answer = client.get(f"/api/template.pdf?{kept}&{change}")
            self.assertEqual(answer.status_code, 422, change)
            self.assertTrue(answer.json()["field"].startswith(field), answer.json())
