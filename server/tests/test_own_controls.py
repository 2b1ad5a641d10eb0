"""Controls of one's own: made from nothing, corrected and taken away, with all that is asked."""

import io

from core.controls.patterns import PATTERNS
from server.controls.models import Control, Requirement
from server.tests.own import OwnPlane, Writing

LIMITS = {"nominal": "", "plus": "", "minus": "", "lo": "", "hi": "", "page": "4"}


class OwnControls(OwnPlane):
    def pattern(self, name, **more):
        p = next(
            p
            for p in self.as_("ansel").get("/api/control-patterns").json()["results"]
            if p["name"] == name
        )
        body = {
            "name": p["name"], "sense_check": p["sense_check"], "positions": p["positions"],
            "surfaces": [s | {"bay": ""} for s in p["surfaces"]],
            "primary": not p["not_primary"], "reason": p["not_primary"],
        }  # fmt: skip
        return body | more

    def make(self, name="Elevator", **more):
        return self.post("controls", self.pattern(name, **more))

    def ask(self, control, status=201, **given):
        body = (
            LIMITS
            | {"surface": "", "position": "", "kind": "travel", "source": self.source}
            | given
        )
        return self.send("post", f"controls/{control}/requirements", body, status)

    def setUp(self):
        super().setUp()
        self.source = self.document()

    def printed(self, control):
        """The words of the printed sheet."""
        from pypdf import PdfReader

        pages = PdfReader(io.BytesIO(self.get(f"controls/{control}/sheet.pdf").content)).pages
        return " ".join(" ".join(p.extract_text() for p in pages).split())

    def level(self):
        body = {
            "name": "Level",
            "kind": "angle",
            "accuracy": "0.1 deg",
            "resolution": "0.05 deg",
            "face": "plus_minus_180",
        }
        self.post("instruments", body)
        return next(i["id"] for i in self.get("instruments")["results"] if i["name"] == "Level")

    def read(self, value, position="up_stop", surface="elevator", control="elevator", **more):
        body = {
            "surface": surface, "position": position, "method": "gauge_difference", "value": value,
            "zero": "fixed surface", "skin": "upper", "instrument": self.instrument_id,
        }  # fmt: skip
        return self.post(f"controls/{control}/readings", body | more)


class Making(OwnControls):
    def test_every_pattern_makes_a_control_of_which_nothing_is_measured_or_asked(self):
        for p in PATTERNS:
            with self.subTest(pattern=p.name):
                sheet = self.make(p.name)
                self.assertEqual(sheet["name"], p.name)
                self.assertEqual([s["name"] for s in sheet["surfaces"]], [x.name for x in p.parts])
                self.assertEqual(sheet["positions"], list(p.positions))
                self.assertEqual((sheet["requirements"], sheet["readings"]), ([], []))
                self.assertEqual(sheet["verdict"], "not measured")
                self.assertEqual(sheet["primary"], p.not_primary == "")
        rows = self.get("controls")["results"]
        self.assertEqual([r["name"] for r in rows], [p.name for p in PATTERNS])
        self.assertEqual({r["verdict"] for r in rows}, {"not measured"})
        self.assertIn("Flaperons, travel sheet", self.printed("flaperons"))
        told = [c["said"] for c in self.get("since")["changes"]]
        self.assertTrue(all(any(p.name in said for said in told) for p in PATTERNS))

    def test_what_is_no_control_is_refused_by_field(self):
        self.make()
        own = self.pattern("Ailerons")
        left, right = own["surfaces"]
        for field, change in (
            ("name", {"name": "  "}),
            ("name", {"name": "ELEVATOR"}),
            ("sense_check", {"sense_check": " "}),
            ("positions", {"positions": []}),
            ("positions", {"positions": ["up_stop", "up_stop"]}),
            ("positions", {"positions": ["left_stop"]}),
            ("positions", {"positions": ["detent_0"]}),
            ("surfaces", {"surfaces": []}),
            ("surfaces.1.name", {"surfaces": [left, right | {"name": "left AILERON"}]}),
            ("surfaces", {"surfaces": [left, right | {"positive": "trailing_edge_right"}]}),
            ("bay", {"surfaces": [left | {"bay": "attic"}]}),
            ("reason", {"primary": False, "reason": "no"}),
        ):
            with self.subTest(change=change):
                self.refused(field, "post", "controls", own | change)
        self.assertEqual(Control.objects.filter(aircraft__slug=self.slug).count(), 1)

    def test_only_the_owner_makes_and_takes_away(self):
        body = self.pattern("Elevator")
        for who, want in (("ines", 404), ("corin", 404)):
            answer = self.write(who, self.at("controls"), body)
            self.assertEqual(answer.status_code, want)

    def test_detents_stand_in_their_order_after_the_stops(self):
        sheet = self.make("Flaps", positions=["detent_20", "neutral", "detent_5", "detent_40"])
        self.assertEqual(sheet["positions"], ["neutral", "detent_5", "detent_20", "detent_40"])

    def test_it_is_renamed_and_keeps_its_address(self):
        sheet = self.make()
        body = {
            "version": sheet["version"],
            "name": "Stabilator",
            "sense_check": "Stick back: leading edge down",
        }
        after = self.patch("controls/elevator", body)
        self.assertEqual((after["name"], after["slug"]), ("Stabilator", "elevator"))
        self.assertEqual(after["sense_check"], "Stick back: leading edge down")
        self.assertEqual(after["positions"], sheet["positions"])
        self.assertTrue(after["primary"])
        self.refused("version", "patch", "controls/elevator", {"name": "X"})
        late = self.write("ansel", self.at("controls/elevator"), body, method="patch")
        self.assertEqual(late.status_code, 409)
        self.assertEqual(late.json()["theirs"]["name"], "Stabilator")

    def test_a_position_goes_only_where_nothing_stands_at_it(self):
        sheet = self.make()
        self.instrument_id = self.level()
        self.ask("elevator", surface="elevator", position="up_stop", lo="25", hi="28")
        sheet = self.read("18", "down_stop")
        for kept in (["neutral", "down_stop"], ["neutral", "up_stop"]):
            self.refused(
                "positions",
                "patch",
                "controls/elevator",
                {"version": sheet["version"], "positions": kept},
            )
        after = self.patch(
            "controls/elevator",
            {"version": sheet["version"], "positions": ["down_stop", "up_stop", "detent_3"]},
        )
        self.assertEqual(after["positions"], ["up_stop", "down_stop", "detent_3"])


class TakingAway(OwnControls):
    def remove(self, path, version, status=200, reason="entered by mistake"):
        return self.post(f"{path}/removal", {"version": version, "reason": reason}, status=status)

    def test_a_control_goes_with_what_was_asked_of_it_and_stays_in_the_record(self):
        sheet = self.make()
        sheet = self.ask("elevator", surface="elevator", position="up_stop", lo="25", hi="28")
        self.refused(
            "reason",
            "post",
            "controls/elevator/removal",
            {"version": sheet["version"], "reason": "x"},
        )
        self.remove("controls/elevator", 99, status=409)
        left = self.remove("controls/elevator", sheet["version"])
        self.assertEqual(left["count"], 0)
        self.get("controls/elevator", status=404)
        said = [c["said"] for c in self.get("since")["changes"]]
        self.assertIn("Control taken away: Elevator, because entered by mistake", said)
        self.assertEqual(Control.history.filter(name="Elevator", history_type="-").count(), 1)
        self.assertEqual(self.get("find?q=elevator")["count"], 0)
        # Another of that name is another: nothing that was noted of the first becomes its own.
        self.assertEqual(self.make()["slug"], "elevator-2")

    def test_what_something_stands_on_stays_with_the_reason(self):
        sheet = self.make()
        self.instrument_id = self.level()
        sheet = self.read("26")
        body = {"version": sheet["version"], "reason": "entered by mistake"}
        self.assertIn(
            "readings", self.refused("control", "post", "controls/elevator/removal", body)
        )
        self.assertIn(
            "only one",
            self.refused(
                "surface", "post", "surfaces/elevator/removal", {"version": 1, "reason": "wrong"}
            ),
        )

    def test_a_surface_is_added_named_and_taken_away(self):
        self.make("Flaps")
        bay = self.get()["bays"][0]["slug"]
        more = {"name": "Centre flap", "side": "", "bay": bay, "positive": "trailing_edge_down"}
        for field, change in (
            ("name", {"name": "left flap"}), ("positive", {"positive": "trailing_edge_right"}),
            ("side", {"side": "middle"}), ("bay", {"bay": "attic"}),
        ):  # fmt: skip
            self.refused(field, "post", "controls/flaps/surfaces", more | change)
        sheet = self.post("controls/flaps/surfaces", more)
        centre = sheet["surfaces"][2]
        self.assertEqual(
            (centre["name"], centre["bay"], centre["slug"]), ("Centre flap", bay, "centre-flap")
        )
        body = {"version": centre["version"], "name": "Middle flap", "bay": "", "chord": "300 mm"}
        sheet = self.patch("surfaces/centre-flap", body)
        centre = sheet["surfaces"][2]
        self.assertEqual(
            (centre["name"], centre["bay"], centre["chord_mm"]), ("Middle flap", "", 300)
        )
        self.remove("surfaces/centre-flap", centre["version"])
        self.assertEqual(len(self.get("controls/flaps")["surfaces"]), 2)

    def test_what_is_compared_keeps_both_its_sides_and_both_its_stops(self):
        self.make("Ailerons")
        self.ask("ailerons", surface="left-aileron", kind="ratio", lo="1.3", hi="1.7")
        sheet = self.ask("ailerons", kind="symmetry", position="up_stop", hi="1")
        keep = {"version": sheet["version"], "positions": ["neutral", "up_stop"]}
        self.refused("positions", "patch", "controls/ailerons", keep)
        right = {"version": 1, "reason": "not there"}
        self.assertIn(
            "compared", self.refused("surface", "post", "surfaces/right-aileron/removal", right)
        )
        self.refused("side", "patch", "surfaces/right-aileron", {"version": 1, "side": ""})
        self.patch("surfaces/right-aileron", {"version": 1, "name": "Starboard aileron"})

    def test_a_requirement_goes_with_its_reason(self):
        self.make()
        sheet = self.ask("elevator", surface="elevator", position="up_stop", lo="25", hi="28")
        q = sheet["requirements"][0]
        sheet = self.remove(f"requirements/{q['id']}", q["version"], reason="of another model")
        self.assertEqual(sheet["requirements"], [])
        said = self.get("since")["changes"][0]["said"]
        self.assertIn("because of another model", said)
        self.assertIn("25 to 28", said)
        gone = Requirement.history.get(id=q["id"], history_type="-")
        self.assertEqual(gone.history_change_reason, "of another model")


class Asking(OwnControls):
    def test_every_kind_is_asked_and_judged(self):
        self.make("Ailerons")
        self.instrument_id = self.level()
        side = {"surface": "left-aileron"}
        self.ask("ailerons", **side, position="up_stop", nominal="21", plus="1.5", minus="1.5")
        self.ask("ailerons", **side, kind="neutral", lo="-0.5", hi="0.5")
        self.ask("ailerons", kind="symmetry", position="up_stop", hi="1")
        self.ask("ailerons", **side, kind="ratio", lo="1.3", hi="1.7")
        sheet = self.ask("ailerons", **side, kind="repeatability", hi="0.5")
        self.assertEqual({q["result"]["verdict"] for q in sheet["requirements"]}, {"not measured"})
        shown = {q["kind"]: (q["position"], q["lo"], q["hi"]) for q in sheet["requirements"]}
        near = lambda got, want: [
            self.assertAlmostEqual(a, b, 9) for a, b in zip(got[1:], want, strict=True)
        ]
        near(shown["travel"], (19.5, 22.5))
        near(shown["symmetry"], (-1, 1))
        near(shown["ratio"], (1.3, 1.7))
        near(shown["repeatability"], (-0.5, 0.5))
        self.assertEqual(shown["neutral"][0], "neutral")
        for surface in ("left-aileron", "right-aileron"):
            for position, value in (
                ("up_stop", "21; 21.05; 21"),
                ("down_stop", "-14; -14; -14.05"),
            ):
                self.read(value, position, surface, "ailerons")
        for approach in ("above", "below"):
            sheet = self.read(
                "0.05; 0.05; 0", "neutral", "left-aileron", "ailerons", approach=approach
            )
        self.assertEqual(
            {q["kind"]: q["result"]["verdict"] for q in sheet["requirements"]},
            dict.fromkeys(("travel", "neutral", "symmetry", "ratio", "repeatability"), "in"),
        )

    def test_what_cannot_be_asked_is_refused_by_field(self):
        self.make()
        self.make("Ailerons")
        at = {"surface": "elevator", "position": "up_stop"}
        one = LIMITS | {"surface": "", "position": "", "kind": "travel", "source": self.source}
        for field, given in (
            ("surface", {"position": "up_stop", "lo": "1", "hi": "2"}),
            ("position", at | {"position": "detent_4", "lo": "1", "hi": "2"}),
            ("position", at | {"position": "neutral", "lo": "1", "hi": "2"}),
            ("lo", at | {"lo": "3", "hi": "2"}),
            ("plus", at | {"nominal": "26", "minus": "1"}),
            ("plus", at | {"nominal": "26", "plus": "-1", "minus": "1"}),
            ("hi", at | {"lo": "20", "hi": "91"}),
            ("nominal", at | {"no_tolerance": True}),
            ("plus", at | {"no_tolerance": True, "nominal": "26", "plus": "1"}),
            ("kind", {"kind": "symmetry", "position": "up_stop", "hi": "1"}),
            ("lo", at | {"kind": "ratio", "lo": "-1", "hi": "2"}),
            ("lo", at | {"kind": "ratio", "lo": "1.3 mm", "hi": "2"}),
            ("hi", at | {"kind": "repeatability"}),
            ("hi", at | {"kind": "repeatability", "hi": "0"}),
            ("nominal", at | {"kind": "repeatability", "nominal": "1", "hi": "1"}),
            ("no_tolerance", at | {"kind": "repeatability", "hi": "1", "no_tolerance": True}),
            ("source", at | {"lo": "1", "hi": "2", "source": 0}),
        ):  # fmt: skip
            with self.subTest(given=given):
                self.refused(field, "post", "controls/elevator/requirements", one | given)

    def test_by_a_figure_without_tolerance_nothing_is_in_or_out(self):
        self.make()
        self.instrument_id = self.level()
        at = {"surface": "elevator", "position": "up_stop"}
        sheet = self.ask("elevator", **at, nominal="26", no_tolerance=True)
        self.assertEqual(sheet["requirements"][0]["result"]["verdict"], "not measured")
        for value in ("26; 26; 26", "12; 12; 12"):
            result = self.read(value)["requirements"][0]["result"]
            self.assertIn("26°, no tolerance given", self.printed("elevator"))
            self.assertEqual(result["verdict"], "too close")
            self.assertIn("no tolerance given", result["advice"][0])

    def test_a_changed_limit_stands_in_the_sheet_and_in_what_is_new_with_its_reason(self):
        self.make()
        at = {"surface": "elevator", "position": "up_stop"}
        q = self.ask("elevator", **at, nominal="20.5", plus="1", minus="1")["requirements"][0]
        self.assertEqual(q["changes"], [])
        body = LIMITS | {
            "version": q["version"],
            "nominal": "23",
            "plus": "1",
            "minus": "1",
            "source": self.source,
        }
        self.patch(
            f"documents/{self.source}", {"version": 1, "revision": "B", "reason": "drawn anew"}
        )
        self.refused("reason", "patch", f"requirements/{q['id']}", body)
        self.refused("reason", "patch", f"requirements/{q['id']}", body | {"reason": " "})
        sheet = self.patch(
            f"requirements/{q['id']}", body | {"reason": "revision B of the drawing"}
        )
        (change,) = sheet["requirements"][0]["changes"]
        self.assertEqual(
            (change["by"], change["reason"]), ("Ansel Tarnfield", "revision B of the drawing")
        )
        # Each cites the document as it was when that stood.
        self.assertEqual(change["was"], "20.5 +1 -1 (Drawing 1 rev A, page 4)")
        self.assertEqual(change["became"], "23 +1 -1 (Drawing 1 rev B, page 4)")
        said = self.get("since")["changes"][0]["said"]
        for words in ("20.5", "23", "because revision B of the drawing"):
            self.assertIn(words, said)
        self.assertIn("revision B of the drawing", self.printed("elevator"))
        again = body | {"version": q["version"] + 1, "nominal": "24", "reason": "misread"}
        sheet = self.patch(f"requirements/{q['id']}", again)
        self.assertEqual(
            [c["reason"] for c in sheet["requirements"][0]["changes"]],
            ["revision B of the drawing", "misread"],
        )


class OnTheLinkage(Writing):
    def test_what_the_linkage_moves_stays(self):
        sheet = self.get("controls/ailerons")
        for stop in ("up_stop", "down_stop"):
            kept = [p for p in sheet["positions"] if p != stop]
            self.refused(
                "positions",
                "patch",
                "controls/ailerons",
                {"version": sheet["version"], "positions": kept},
            )
        control = Control.objects.get(aircraft=self.fenlark, slug="ailerons")
        control.requirements.all().delete()
        kept = {"version": sheet["version"], "positions": ["neutral", "down_stop"]}
        self.assertIn("linkage", self.refused("positions", "patch", "controls/ailerons", kept))

    def test_a_sense_check_of_other_words_is_none(self):
        self.mend_elevator()
        ready = lambda: self.get("signatures/control:elevator")["why_not"]
        self.assertFalse([w for w in ready() if "sense" in w])
        version = self.get("controls/elevator")["version"]
        self.patch(
            "controls/elevator",
            {"version": version, "sense_check": "Stick back: leading edge down"},
        )
        self.assertTrue([w for w in ready() if "What must be seen was changed" in w])
        self.post("controls/elevator/sense-checks", {"right_way": True, "free": True})
        self.assertFalse([w for w in ready() if "What must be seen was changed" in w])

    def test_no_turn_is_advised_by_a_figure_without_tolerance_and_documents_say_so(self):
        rows = Requirement.objects.filter(
            surface__slug="left-aileron", position="up_stop", kind="travel"
        )
        for q in rows:
            body = LIMITS | {
                "version": q.version,
                "nominal": "21",
                "no_tolerance": True,
                "source": q.source_id,
                "reason": "as printed",
            }
            self.patch(f"requirements/{q.pk}", body)
        found = self.post("controls/ailerons/linkage/advice", {"output": "left"}, 200)
        self.assertFalse(found["found"])
        self.assertFalse(found["changes"])
