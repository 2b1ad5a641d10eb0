"""The house itself: what it tells in trouble, who came and went, what it keeps and for how long."""

import errno
import io
import json
import time
import uuid
from datetime import UTC, datetime, timedelta
from unittest import mock

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import InterfaceError, OperationalError
from django.test import Client
from PIL import Image, ImageCms

from server.accounts.keeping import purge
from server.accounts.models import KeptWrite
from server.accounts.sessions import EVERY_S, USED
from server.aircraft.models import Member
from server.record.models import Photo
from server.record.pictures import picture
from server.tests.own import Writing
from testkit.base import PASSWORD

LOG = "ashlane.security"
FRAME = "server.closing.frame.frame"


class NoRoom(Exception):
    """As the database says it."""

    sqlstate = "53100"


def full():
    """As the framework hands it on: an error of its own around the database's."""
    error = OperationalError("no space")
    error.__cause__ = NoRoom()
    return error


class Trouble(Writing):
    def asked(self):
        client = self.as_("ansel")
        client.raise_request_exception = False
        return client.get(self.at())

    def test_a_database_that_is_away_and_a_full_disk_are_said_plainly(self):
        for error, status, said in (
            (OperationalError("gone"), 503, "The database does not answer"),
            (InterfaceError("closed"), 503, "try again in a moment"),
            (full(), 507, "disk is full"),
            (OSError(errno.ENOSPC, "no space"), 507, "nothing was kept"),
            (OSError(errno.EDQUOT, "quota"), 507, "disk is full"),
        ):
            # In a view, and before any view is asked.
            for place in (FRAME, "server.config.idempotency.KeptOnce._is_write"):
                with self.subTest(error=error, place=place), mock.patch(place, side_effect=error):
                    with self.assertLogs("ashlane", "ERROR"):
                        answer = self.asked()
                    self.assertEqual(answer.status_code, status)
                    self.assertEqual(answer.json()["status"], status)
                    self.assertIn(said, answer.json()["title"])
                    self.assertEqual(answer.get("Retry-After"), "5" if status == 503 else None)

    def test_a_fault_of_the_program_is_not_called_trouble(self):
        with mock.patch(FRAME, side_effect=OSError(errno.EPERM, "no")):
            answer = self.asked()
        self.assertEqual(answer.status_code, 500)
        self.assertIn("Something broke in the program", answer.json()["title"])

    def test_a_disk_that_fills_while_a_picture_is_kept_leaves_no_file(self):
        out = io.BytesIO()
        Image.new("RGB", (80, 60)).save(out, "JPEG")
        body = {
            "file": SimpleUploadedFile("x.jpg", out.getvalue()),
            "target": "bay",
            "target_id": "nose",
        }
        storage = Photo._meta.get_field("file").storage
        listed = lambda: {d: sorted(storage.listdir(d)[1]) for d in storage.listdir("")[0]}
        before = listed()
        full = OSError(errno.ENOSPC, "no space")
        with mock.patch("server.record.models.Photo.save", side_effect=full):
            with self.assertLogs("ashlane", "ERROR"):
                answer = self.as_("ansel").post(
                    self.at("photos"), body, headers={"Idempotency-Key": uuid.uuid4().hex}
                )
        self.assertEqual(answer.status_code, 507)
        self.assertEqual(listed(), before)

    def test_a_telephone_s_pictures(self):
        """Several in one file; and one so large that only a part of it is decoded."""
        first, second = Image.new("RGB", (400, 300), "#456"), Image.new("RGB", (200, 150))
        out = io.BytesIO()
        colours = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        more = {"append_images": [second], "icc_profile": colours}
        first.save(out, "MPO", save_all=True, **more)
        self.assertIn(b"MPF\0", out.getvalue())
        kept = picture(out.getvalue(), datetime.now(UTC))
        self.assertEqual((kept.media_type, kept.width, kept.height), ("image/jpeg", 400, 300))
        self.assertEqual(Image.open(io.BytesIO(kept.data)).format, "JPEG")
        self.assertNotIn(b"MPF\0", kept.data)
        self.assertEqual(Image.open(io.BytesIO(kept.data)).info["icc_profile"], colours)
        out = io.BytesIO()
        turned = Image.Exif()
        turned[0x0112] = 6
        Image.new("L", (12_000, 4_000)).save(out, "JPEG", exif=turned)
        kept = picture(out.getvalue(), datetime.now(UTC))
        self.assertEqual((kept.width, kept.height), (4_000, 12_000))
        self.assertLessEqual(max(Image.open(io.BytesIO(kept.thumb)).size), 480)


class Seen(Writing):
    def sign_in(self, name, password):
        body = json.dumps({"username": name, "password": password})
        return Client().post("/api/session", body, content_type="application/json")

    def lines(self, do):
        with self.assertLogs(LOG, "INFO") as told, self.captureOnCommitCallbacks(execute=True):
            do()
        lines = [line.partition(f"{LOG}:")[2] for line in told.output]
        # The tests' own way of signing in has no address.
        return [line for line in lines if not line.endswith("from=")]

    def test_who_signs_in_fails_is_locked_out_or_denied_stands_in_the_log(self):
        line = self.lines(lambda: self.sign_in("ansel", PASSWORD["ansel"]))[0]
        self.assertEqual(line, "sign-in user=ansel from=127.0.0.1")
        told = self.lines(lambda: [self.sign_in("ansel", "guess") for _ in range(11)])
        self.assertEqual(told[0], "wrong-password user=ansel from=127.0.0.1")
        self.assertTrue(any(line.startswith("locked-out user=ansel") for line in told))
        self.assertNotIn("guess", " ".join(told))
        forged = self.lines(lambda: self.sign_in("x\nsign-in user=odile", "guess"))
        self.assertEqual([line.count("\n") for line in forged], [0])

    def test_roles_and_signatures_stand_in_it_once_they_are_kept(self):
        change = {"was": "helper", "role": "reader", "second_inspector": False}
        told = self.lines(lambda: self.patch("people/ines", change))
        self.assertIn("role person=ansel aircraft=fenlark", told[0])
        denied = self.lines(
            lambda: self.write("ines", self.at("sources"), {"title": "x", "revision": "1"})
        )
        self.assertEqual(
            denied, ["denied user=ines path=/api/aircraft/fenlark/sources from=127.0.0.1"]
        )
        refuse = {"doing": "refuse", "reason": "the horn is loose", "password": PASSWORD["odile"]}
        told = self.lines(
            lambda: self.write("odile", self.at("signatures/control:elevator"), refuse)
        )
        self.assertIn("refusal person=odile aircraft=fenlark scope=control:elevator", told[-1])
        self.assertNotIn("loose", " ".join(told))

    def test_who_is_not_signed_in_is_no_denial(self):
        with self.assertNoLogs(LOG, "INFO"):
            self.assertEqual(Client().get(self.at("pulse")).status_code, 403)


class While(Writing):
    def test_a_sign_in_lives_while_it_is_used_and_notes_that_seldom(self):
        client = self.as_("ansel")
        begun = client.session[USED]
        client.get(self.at())
        self.assertEqual(client.session[USED], begun)
        with mock.patch("server.accounts.sessions.time.time", return_value=begun + EVERY_S):
            # What an open page asks by itself is no use of it.
            client.get(self.at("pulse"))
            client.get("/a/fenlark")
        self.assertEqual(client.session[USED], begun)
        for later, noted in ((EVERY_S - 1, False), (EVERY_S + 1, True)):
            with mock.patch("server.accounts.sessions.time.time", return_value=begun + later):
                client.get(self.at())
            self.assertEqual(client.session[USED] > begun, noted)
        self.assertEqual(client.session.get_expiry_age(), 72 * 3600)
        past = time.time() + 73 * 3600
        with mock.patch(
            "django.utils.timezone.now", return_value=datetime.fromtimestamp(past, UTC)
        ):
            self.assertEqual(client.get(self.at()).status_code, 403)

    def test_the_page_itself_asks_nothing_of_the_database(self):
        """So that it comes, and says what it cannot reach, while the database is away."""
        client = self.as_("ansel")
        with self.assertNumQueries(0):
            client.get("/a/fenlark")

    def test_what_was_kept_for_sending_twice_goes_after_a_month(self):
        user = get_user_model().objects.get(username="ansel")
        for days, key in ((29, "young-one"), (31, "old-enough")):
            row = KeptWrite.objects.create(user=user, key=key, digest="", status=200, body="")
            at = datetime.now(UTC) - timedelta(days=days)
            KeptWrite.objects.filter(pk=row.pk).update(at=at)
        self.assertEqual(purge(), 1)
        self.assertFalse(KeptWrite.objects.filter(key="old-enough").exists())
        self.assertTrue(KeptWrite.objects.filter(key="young-one").exists())

    def test_the_answer_to_a_write_is_not_given_again_to_who_has_left(self):
        body, key = {"text": "mind the edge", "target": "bay", "target_id": "nose"}, "k" * 20
        first = self.write("ines", self.at("notes"), body, key)
        again = self.write("ines", self.at("notes"), body, key)
        self.assertEqual(again.content, first.content)
        Member.objects.filter(aircraft=self.fenlark, person__slug="ines").delete()
        self.assertEqual(self.write("ines", self.at("notes"), body, key).status_code, 404)

    def test_nor_where_the_address_is_the_aircraft_s_own(self):
        fields = ("name", "summary", "datum", "length_unit", "hours_run", "version")
        now = self.get()
        body = {f: now[f] for f in fields} | {
            "summary": "s",
            "arm": "",
            "arm_width": "",
            "facts": "",
        }
        key = "m" * 20
        self.assertEqual(self.write("ansel", self.at(), body, key, "patch").status_code, 200)
        Member.objects.filter(aircraft=self.fenlark, person__slug="ansel").update(role="reader")
        self.assertEqual(self.write("ansel", self.at(), body, key, "patch").status_code, 200)
        Member.objects.filter(aircraft=self.fenlark, person__slug="ansel").delete()
        self.assertEqual(self.write("ansel", self.at(), body, key, "patch").status_code, 404)
