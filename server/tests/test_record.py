"""Loose ends, findings, notes, pictures, documents, finding things, and what is new."""

import io
import uuid
from datetime import UTC, datetime, timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import ExifTags, Image

from server.aircraft.models import Closure
from server.demo.pictures import drawing
from server.journal.models import Change
from server.record.models import Photo
from server.tests.test_lane import AT, OnTheLane


def jpeg(size=(80, 60), taken=None, gps=True):
    image = Image.new("RGB", size, "#446")
    exif = image.getexif()
    if taken:
        inner = exif.get_ifd(ExifTags.IFD.Exif)
        inner[ExifTags.Base.DateTimeOriginal] = taken.strftime("%Y:%m:%d %H:%M:%S")
        inner[ExifTags.Base.OffsetTimeOriginal] = "+00:00"
    if gps:
        exif.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitude] = (47.0, 11.0, 12.0)
    out = io.BytesIO()
    image.save(out, "JPEG", exif=exif)
    return out.getvalue()


class Record(OnTheLane):
    def upload(self, data, person="ansel", name="x.jpg", **more):
        body = {"file": SimpleUploadedFile(name, data), "target": "bay", "target_id": "nose"}
        headers = {"Idempotency-Key": uuid.uuid4().hex}
        return self.as_(person).post(f"{AT}/photos", body | more, headers=headers)

    def test_a_photo_keeps_its_time_and_its_pixels_and_loses_its_place(self):
        taken = datetime.now(UTC).replace(microsecond=0) - timedelta(days=3)
        data = jpeg(taken=taken)
        answer = self.upload(data, caption="gascolator")
        self.assertEqual(answer.status_code, 201, answer.content)
        shown = answer.json()
        self.assertEqual(datetime.fromisoformat(shown["taken_at"]), taken)
        kept = self.as_("ansel").get(shown["file"])
        self.assertEqual(kept.headers["Content-Type"], "image/jpeg")
        image = Image.open(io.BytesIO(kept.content))
        self.assertEqual(dict(image.getexif().get_ifd(ExifTags.IFD.GPSInfo)), {})
        self.assertIn(ExifTags.Base.DateTimeOriginal, image.getexif().get_ifd(ExifTags.IFD.Exif))
        before = Image.open(io.BytesIO(data))
        self.assertEqual(image.tobytes(), before.tobytes())
        self.assertEqual(self.as_("corin").get(shown["file"]).status_code, 404)

    def test_png_and_webp_lose_their_metadata_too(self):
        for kind in ("PNG", "WEBP"):
            image = Image.new("RGB", (40, 30), "#a53")
            exif = image.getexif()
            exif[ExifTags.Base.ImageDescription] = "secret place"
            out = io.BytesIO()
            image.save(out, kind, exif=exif)
            shown = self.upload(out.getvalue()).json()
            kept = self.as_("ansel").get(shown["file"]).content
            self.assertNotIn(b"secret place", kept)
            before = Image.open(io.BytesIO(out.getvalue()))
            self.assertEqual(Image.open(io.BytesIO(kept)).tobytes(), before.tobytes())

    def test_what_is_no_picture_is_refused_with_the_reason(self):
        whole = drawing("aft", datetime.now(UTC))
        huge = io.BytesIO()
        Image.new("1", (20_000, 10_000)).save(huge, "PNG")
        for data, said in (
            (b"", "is empty"),
            (b"<html><script>alert(1)</script>", "is not a JPEG, PNG or WebP"),
            (whole[: len(whole) // 2], "is damaged"),
            (huge.getvalue(), "megapixels"),
            (b"GIF89a" + bytes(40), "is not a JPEG, PNG or WebP"),
        ):
            answer = self.upload(data)
            self.assertEqual(answer.status_code, 422)
            error = answer.json()["errors"][0]
            self.assertEqual(error["field"], "file")
            self.assertIn(said, error["reason"])
        self.assertEqual(Photo.objects.filter(bay__slug="nose").count(), 0)

    def test_marks_are_drawn_on_top_and_the_picture_stays_as_it_was(self):
        shown = self.upload(jpeg()).json()
        before = self.as_("ansel").get(shown["file"]).content
        mark = {"kind": "label", "x0": 0.1, "y0": 0.2, "x1": 0.1, "y1": 0.2, "text": "drain"}
        body = {"version": 1, "caption": "bowl", "overlay": [mark]}
        path = f"{AT}/photos/{shown['id']}"
        self.assertEqual(self.write("ansel", path, body, method="patch").status_code, 200)
        self.assertEqual(self.as_("ansel").get(shown["file"]).content, before)
        self.assertEqual(self.write("ansel", path, body, method="patch").status_code, 409)
        wrong = body | {"version": 2, "overlay": [mark | {"x0": 1.5}]}
        answer = self.write("ansel", path, wrong, method="patch")
        self.assertEqual(answer.json()["errors"][0]["field"], "overlay.0.x0")
        self.assertTrue(self.get("find?q=drain")["bays"])

    def test_a_picture_of_a_witness_mark_older_than_the_torque_does_not_count(self):
        body = {"name": "Seal bolt", "bay": "nose", "witness_needed": True, "photo_needed": True}
        self.post("joints", body)
        for doing in ("torqued", "sealed"):
            self.post("joints/seal-bolt/events", {"doing": doing})

        def state():
            items = self.get("bays/nose/contents")
            every = [*items["items"], *items["done"]]
            return next(i["state"] for i in every if i["id"] == "photo seal-bolt")

        self.assertEqual(state(), "missing")
        of = {"target": "joint", "target_id": "seal-bolt", "shows": "witness mark"}
        self.upload(jpeg(taken=datetime.now(UTC) - timedelta(days=2)), **of)
        self.assertEqual(state(), "older than the torque")
        self.upload(jpeg(), **of)
        self.assertEqual(state(), "present")

    def test_a_photo_before_closing_must_be_younger_than_the_last_work(self):
        def state():
            item = self.items("front-belly-skin").get(("photo", "photo front-belly-skin footwell"))
            return item["state"] if item else "present"

        of = {"target": "bay", "target_id": "footwell", "shows": "before closing"}
        self.assertEqual(state(), "missing")
        self.upload(jpeg(), **of)
        self.assertEqual(state(), "present")
        self.post("joints/brake-reservoir-bracket-bolt/events", {"doing": "torqued"})
        self.assertEqual(state(), "older than the last work")

    def test_a_finding_is_answered_by_the_builder_and_closed_by_who_raised_it(self):
        finding = self.get("findings?bay=footwell")["results"][0]
        path = f"findings/{finding['id']}"
        refused = self.write("ansel", f"{AT}/{path}", {"how": "clamp fitted", "close": True})
        self.assertEqual(refused.status_code, 403)
        self.post(path, {"how": "clamp fitted", "close": False})
        self.assertIn("finding", {s for s, _ in self.items("glareshield")})
        closed = self.post(path, {"how": "", "close": True}, person="odile")
        self.assertEqual(
            (closed["answer"], closed["closed_by"]), ("clamp fitted", "Odile Harrowgate")
        )
        self.assertNotIn("finding", {s for s, _ in self.items("glareshield")})
        helper = self.write("ines", f"{AT}/findings", {"text": "x", "bay": "nose"})
        self.assertEqual(helper.status_code, 403)

    def test_notes_are_taken_back_by_their_writer_alone(self):
        note = self.post("notes", {"text": "mind the edge", "target": "bay", "target_id": "nose"})
        other = self.write("ines", f"{AT}/notes/{note['id']}/withdraw", {})
        self.assertEqual(other.status_code, 403)
        self.post(f"notes/{note['id']}/withdraw", {})
        self.assertEqual(self.get("notes?bay=nose")["count"], 0)


class Documents(OnTheLane):
    def test_a_decision_needs_a_reason_and_a_new_revision_makes_it_stale(self):
        documents = {d["title"]: d for d in self.get("documents")["documents"]}
        for value, title in (("14", "Drawing 53-04"), ("16", "Manual chapter 9")):
            body = {"thing": "Doubler rivets", "kind": "count", "value": value}
            self.post("statements", body | {"source": documents[title]["id"], "bay": "baggage"})
        group = self.group("Doubler rivets")
        self.assertEqual(group["pairs"][0]["result"], "conflict")
        self.assertIn(("conflict", "conflict Doubler rivets"), self.items("baggage-floor"))
        chosen = {"thing": "Doubler rivets", "chosen": group["sides"][1]["key"]}
        short = self.post("resolutions", chosen | {"reason": "asked"}, status=422)
        self.assertEqual(short["errors"][0]["field"], "reason")
        self.post("resolutions", chosen | {"reason": "kit maker's letter of 3 March"})
        self.assertFalse(self.group("Doubler rivets")["open"])
        told = Change.objects.filter(aircraft=self.fenlark, said__startswith="Decided").last()
        self.assertEqual(told.bays, ["baggage"])
        self.assertEqual(self.get("ledger")["results"][0]["kind"], "resolution")
        body = {
            "version": documents["Drawing 53-04"]["version"],
            "revision": "B",
            "reason": "drawn anew",
        }
        path = f"{AT}/documents/{documents['Drawing 53-04']['id']}"
        self.assertEqual(self.write("ansel", path, body, method="patch").status_code, 200)
        self.assertTrue(self.group("Doubler rivets")["stale"])

    def group(self, thing):
        return next(g for g in self.get("documents")["groups"] if g["thing"] == thing)

    def test_a_document_against_a_travel_blocks_until_decided_and_a_new_word_opens_it_again(self):
        documents = {d["title"]: d["id"] for d in self.get("documents")["documents"]}
        thing = next(
            g["thing"] for g in self.get("documents")["groups"] if g["thing"].startswith("Flaps")
        )
        thing = thing.replace("36", "24")
        body = {"thing": thing, "kind": "range", "dimension": "angle", "bay": "left-root"}
        body |= {"value": "20 to 22 deg", "source": documents["Drawing 27-01"]}
        self.post("statements", body)
        self.assertIn(("conflict", f"conflict {thing}"), self.items("left-tank-cover"))
        travel = next(
            s["key"] for s in self.group(thing)["sides"] if s["key"].startswith("requirement")
        )
        self.post(
            "resolutions",
            {"thing": thing, "chosen": travel, "reason": "the drawing of the flap counts"},
        )
        self.assertNotIn(("conflict", f"conflict {thing}"), self.items("left-tank-cover"))
        self.post(
            "statements", body | {"value": "26 to 28 deg", "source": documents["Drawing 53-04"]}
        )
        self.assertTrue(self.group(thing)["stale"])
        self.assertIn(("conflict", f"conflict {thing}"), self.items("left-tank-cover"))
        self.post("statements", body | {"value": "26 to 28 mm", "dimension": "length"})
        self.assertIn("cannot be compared", self.group(thing)["trouble"])

    def test_the_flap_conflict_is_decided_on_its_page_as_on_the_control_s(self):
        flap = next(g for g in self.get("documents")["groups"] if g["open"])
        self.assertIn("flap", flap["thing"].lower())
        body = {
            "thing": flap["thing"],
            "chosen": flap["sides"][0]["key"],
            "reason": "the drawing is the later one",
        }
        groups = self.post("resolutions", body)["groups"]
        self.assertFalse(next(g for g in groups if g["thing"] == flap["thing"])["open"])

    def test_a_revised_document_makes_the_signature_that_cited_it_stale(self):
        self.mend_elevator()
        sign = {"doing": "done", "password": "shed-lamp-42"}
        self.post("signatures/control:elevator", sign)
        drawing = next(
            d for d in self.get("documents")["documents"] if d["title"] == "Drawing 27-01"
        )
        self.write(
            "ansel",
            f"{AT}/documents/{drawing['id']}",
            {"version": 1, "revision": "D", "reason": "drawn anew"},
            method="patch",
        )
        entry = self.get("signatures/control:elevator")["entries"][-1]
        self.assertFalse(entry["fresh"])

    def test_what_must_be_seen_is_covered_by_the_signature(self):
        self.mend_elevator()
        self.post("signatures/control:elevator", {"doing": "done", "password": "shed-lamp-42"})
        asked = self.get("controls/elevator")
        became = "Stick back: the trailing edge rises, both halves alike"
        body = {"version": asked["version"], "name": asked["name"], "sense_check": became}
        self.write("ansel", f"{AT}/controls/elevator", body, method="patch")
        entry = self.get("signatures/control:elevator")["entries"][-1]
        self.assertFalse(entry["fresh"])
        told = [f for c in entry["changes"] for f in c["fields"] if f["field"] == "must_be_seen"]
        self.assertEqual([(f["was"], f["now"]) for f in told], [(asked["sense_check"], became)])

    def test_bulletins_apply_fall_due_and_are_deviated_from_with_approval(self):
        documents = {d["title"]: d["id"] for d in self.get("documents")["documents"]}
        body = {
            "title": "Look at the idler bracket",
            "source": documents["Drawing 27-01"],
            "bays": ["baggage"],
            "applies": "model=Fenlark, serial=12..88; pump=P-30",
            "steps": ["look"],
            "first_hours": 5,
        }
        self.post("directives", body)
        found = self.bulletin()
        self.assertEqual((found["state"], found["applying"]), ("due soon", "yes"))
        self.assertIn(("directive", f"directive {found['id']}"), self.items("baggage-floor"))
        path = f"directives/{found['id']}/compliance"
        done = {"done_on": "2026-01-10", "hours": 0, "deviation": True}
        self.assertEqual(self.post(path, done, status=422)["errors"][0]["field"], "approved_by")
        more = {"approved_by": "Odile", "reference": "L-4", "reason": "another bracket is fitted"}
        self.post(path, done | more)
        self.assertEqual(
            (self.bulletin()["state"], self.bulletin()["verdict"]), ("deviation", "accepted")
        )
        for applies in ("", "serial", "serial="):
            answer = self.post("directives", body | {"applies": applies}, status=422)
            self.assertEqual(answer["errors"][0]["field"], "applies")
        never = body | {"first_hours": None}
        self.assertEqual(self.post("directives", never, status=422)["errors"][0]["field"], "first")

    def bulletin(self):
        rows = self.get("documents")["directives"]
        return next(d for d in rows if d["title"].startswith("Look"))


class Find(OnTheLane):
    def test_a_joint_behind_a_closed_panel_tells_what_to_open(self):
        Closure.objects.filter(slug="aft-top-skin").update(closed=True)
        (bay,) = (
            b for b in self.get("find?q=bellcrank bolt")["bays"] if b["bay"] == "aft-fuselage"
        )
        found = next(r for r in bay["results"] if r["title"] == "Elevator bellcrank bolt")
        self.assertEqual(found["way"][:15], "Open Left hatch")
        self.assertEqual(found["reach"], "by opening")
        self.assertTrue(bay["photo"])
        self.assertIn("Aft top skin (permanent, closed)", bay["closures"])

    def test_words_beginnings_and_slips_are_found(self):
        for q, title in (
            ("bellcr", "Elevator bellcrank bolt"),
            ("BELLCRANK", "Elevator bellcrank bolt"),
            ("belcrank bolt", "Elevator bellcrank bolt"),
            ("static line", "Static line runs under"),
            ("gascolator", "Gascolator bracket bolt"),
            ("tail cone", "Tail cone"),
            ("27-01", "Drawing 27-01 rev C"),
            ("until final", "Cotter pin left out"),
        ):
            with self.subTest(q=q):
                found = [r["title"] for b in self.get(f"find?q={q}")["bays"] for r in b["results"]]
                self.assertTrue(any(t.startswith(title) for t in found), found)
        self.assertEqual(self.get("find?q=zzzzqq")["count"], 0)

    def test_odd_searches_are_refused_and_never_fail(self):
        client = self.as_("ansel")
        for q in ("", "x" * 10_000, "' | & !", "):*"):
            answer = client.get(f"{AT}/find", {"q": q})
            self.assertEqual(answer.status_code, 422)
            self.assertEqual(answer.json()["errors"][0]["field"], "q")
        self.assertEqual(client.get(f"{AT}/find", {"q": "bolt') -- &|!"}).status_code, 200)
        self.assertEqual(self.as_("corin").get(f"{AT}/find?q=bolt").status_code, 404)

    def test_what_is_new_begins_again_after_a_visit(self):
        self.assertGreater(self.get("since", "odile")["count"], 10)
        self.assertEqual(self.get("since", "odile")["soon"][0]["name"], "Aft top skin")
        self.assertEqual(self.get("since", "odile")["stale"][0]["scope"], "control:rudder")
        self.post("since", {}, person="odile")
        self.assertEqual(self.get("since", "odile")["count"], 0)
        self.post("joints/elevator-idler-bolt/events", {"doing": "safetied"})
        changes = self.get("since", "odile")["changes"]
        self.assertEqual([c["said"] for c in changes], ["Elevator idler bolt: safetied"])


class EntryLine(OnTheLane):
    def understood(self, line, bay="", status=200):
        return self.post("entry", {"line": line, "bay": bay}, status=status)

    def test_each_kind_of_line_says_what_it_would_write_and_how_it_is_undone(self):
        for line, kind, path in (
            ("elev up 26.4", "reading", "controls/elevator/readings"),
            ("torque 35 inlb elev idler", "joint", "joints/elevator-idler-bolt/events"),
            ("pin elev idler", "joint", "joints/elevator-idler-bolt/events"),
            ("loose cotter elevator horn: until final rig", "loose end", "loose-ends"),
            ("note aft: sealant skinned over", "note", "notes"),
        ):
            with self.subTest(line=line):
                said = self.understood(line)
                self.assertEqual((said["kind"], said["path"]), (kind, path))
                made = self.post(said["path"], said["body"])
                rows = made.get("readings") or made.get("events") or [made]
                key = max(r["id"] for r in rows)
                body = {"event": key} if kind == "joint" else said["undo_body"]
                self.post(said["undo_path"].format(key), body)

    def test_a_loose_end_and_a_note_go_to_the_bay_selected_on_the_lane(self):
        self.assertEqual(
            self.understood("loose rag: before closing", "nose")["body"]["bay"], "nose"
        )
        self.assertEqual(self.understood("note dusty", "fin")["body"]["target_id"], "fin")
        self.assertEqual(self.understood("go aft")["page"], "bays/aft-fuselage")

    def test_what_could_mean_two_things_is_asked_back(self):
        said = self.understood("pin bellcrank bushing")
        self.assertEqual(said["kind"], "which")
        self.assertIn("pin left aileron bellcrank bushing", said["options"])
        found = self.post("entry/completions", {"line": "torque 42 inlb elevator b"}, status=200)
        self.assertIn("torque 42 inlb elevator bellcrank bolt", found["options"])

    def test_a_line_that_means_nothing_is_refused(self):
        for line in ("", "wibble", "torque 42 mm elev idler", "loose x", "x" * 1999):
            answer = self.understood(line, status=422)
            self.assertEqual(answer["errors"][0]["field"], "entry")


class Airframe(OnTheLane):
    def test_a_new_aircraft_from_a_few_words_has_a_lane_and_is_its_maker_s(self):
        words = {"name": "Dunnock", "engine": "pusher", "wing": "high", "gear": "tailwheel"}
        made = self.write("corin", "/api/aircraft", words)
        self.assertEqual(made.status_code, 201, made.content)
        frame = self.as_("corin").get("/api/aircraft/dunnock").json()
        self.assertEqual((frame["role"], frame["overlaps"]), ("owner", []))
        self.assertEqual(len(frame["bays"]), 15)
        lane = self.as_("corin").get("/api/aircraft/dunnock/lane").json()
        self.assertTrue(all(c["state"] == "blocked" for c in lane["closings"]))
        self.assertEqual(self.as_("ansel").get("/api/aircraft/dunnock").status_code, 404)
        again = self.write("corin", "/api/aircraft", words)
        self.assertEqual(again.json()["slug"], "dunnock-2")
        wrong = self.write("corin", "/api/aircraft", words | {"length": "60 ft"})
        self.assertEqual(wrong.json()["errors"][0]["field"], "length")

    def bay(self, method="patch", path="bays/nose", **to):
        body = {"name": "Nose", "part": "fuselage", "version": 1} | to
        return self.write("ansel", f"{AT}/{path}", body, method=method)

    def test_limits_are_typed_in_any_unit_overlaps_are_shown_and_inverted_ones_refused(self):
        moved = self.bay(x1="1600 mm").json()
        nose = next(b for b in moved["bays"] if b["slug"] == "nose")
        self.assertEqual(nose["x_m"], [0.55, 1.6])
        self.assertEqual(moved["overlaps"], [["nose", "footwell"]])
        back = self.bay(x1="59 1/16 in", version=2).json()
        self.assertEqual(back["overlaps"], [["nose", "footwell"]])
        for to, field in (
            ({"x1": "500"}, "x1"),
            ({"x1": "half"}, "x1"),
            ({"x1": "9000 ft"}, "limits"),
            ({"name": " "}, "name"),
        ):
            answer = self.bay(version=3, **to)
            self.assertEqual(answer.status_code, 422)
            self.assertEqual(answer.json()["errors"][0]["field"], field)
        self.assertEqual(self.bay(version=1).status_code, 409)

    def test_a_closure_that_opens_no_bay_and_an_opening_with_thickness_are_refused(self):
        body = {"name": "Lid", "permanent": False, "above": True, "bays": []}
        body |= {"inspection_needed": False, "photo_needed": False}
        self.assertEqual(self.post("closures", body, status=422)["errors"][0]["field"], "bays")
        self.post("closures", body | {"bays": ["nose"]})
        hole = dict(zip(("x0", "x1", "y0", "y1", "z0", "z1"), "123456", strict=True))
        hole |= {"name": "Hole", "bay_a": "nose", "width": "100"}
        answer = self.post("openings", hole, status=422)
        self.assertIn("flat", answer["errors"][0]["reason"])
        made = self.post("openings", hole | {"x1": "1"})
        self.assertTrue(any(o["name"] == "Hole" for o in made["openings"]))
        away = {"version": 1, "reason": "none there"}
        self.post("openings/hole/removal", away, status=200)
        self.assertFalse(any(o["name"] == "Hole" for o in self.get("")["openings"]))
        full = self.post("bays/nose/removal", away, status=422)
        self.assertEqual(full["errors"][0]["field"], "bay")
