"""Who may come in, see and do what; and how errors are told."""

import json
import os
import subprocess
import sys
from io import StringIO

from django.core.management import call_command
from django.test import Client, TestCase, override_settings

from server.accounts.models import KeptWrite, Person, User
from server.config import settings as shipped
from testkit.base import ELEVATOR, PASSWORD, OnTheDemo

# What each role may do on the Fenlark: (path, body) and the statuses of owner, helper, counselor.
SENSE = {"right_way": True, "free": True}
ROUND = {"reason": "rods changed", "number": 1}
SOURCE = {"title": "Drawing 27-09", "revision": "A"}
GAUGE = {
    "name": "Gauge 9",
    "kind": "angle",
    "face": "full_360",
    "accuracy": "0.2",
    "resolution": "0.1",
}


class SigningIn(OnTheDemo):
    def post(self, client, username, password, **headers):
        body = json.dumps({"username": username, "password": password})
        return client.post("/api/session", body, content_type="application/json", headers=headers)

    def test_the_demo_s_people_are_offered_in_demo_mode_only(self):
        people = Client().get("/api/session").json()["demo_people"]
        self.assertEqual({p["username"] for p in people}, set(PASSWORD))
        with override_settings(DEMO=False):
            self.assertEqual(Client().get("/api/session").json()["demo_people"], [])

    def test_signing_in_needs_the_security_token_and_the_right_password(self):
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(self.post(strict, "ansel", PASSWORD["ansel"]).status_code, 403)
        token = strict.get("/api/session").json()["csrf"]
        wrong = self.post(strict, "ansel", "guess", **{"X-CSRFToken": token})
        self.assertEqual((wrong.status_code, wrong.json()["field"]), (422, "password"))
        right = self.post(strict, "ansel", PASSWORD["ansel"], **{"X-CSRFToken": token})
        self.assertEqual((right.status_code, right.json()["name"]), (200, "Ansel Tarnfield"))
        # A write with the session but without a fresh token does nothing.
        path = "/api/aircraft/fenlark/sources"
        self.assertEqual(
            strict.post(
                path, SOURCE, content_type="application/json", headers={"Idempotency-Key": "k" * 9}
            ).status_code,
            403,
        )

    def test_too_many_wrong_passwords_lock_that_name_for_a_while(self):
        client = Client()
        for _ in range(10):
            self.post(client, "ansel", "guess")
        late = self.post(client, "ansel", PASSWORD["ansel"])
        self.assertEqual((late.status_code, late.json()["field"]), (429, "password"))
        self.assertEqual(self.post(client, "odile", PASSWORD["odile"]).status_code, 200)

    def test_in_production_the_demo_s_passwords_open_nothing(self):
        with self.settings(PRODUCTION=True):
            answer = self.post(Client(), "odile", PASSWORD["odile"])
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "password"))
        self.assertEqual(self.post(Client(), "odile", PASSWORD["odile"]).status_code, 200)

    def test_production_takes_no_demo_no_debug_and_no_short_secret(self):
        good = {"ASHLANE_PRODUCTION": "1", "ASHLANE_SECRET_KEY": "k" * 40, "ASHLANE_DEMO": "0"}
        for change, said in (
            ({}, ""), ({"ASHLANE_DEMO": "1"}, "ASHLANE_DEMO"), ({"ASHLANE_DEBUG": "1"}, "ASHLANE_DEBUG"),
            ({"ASHLANE_SECRET_KEY": ""}, "must be set"), ({"ASHLANE_SECRET_KEY": "k" * 39}, "40 characters"),
        ):  # fmt: skip
            done = subprocess.run(
                [sys.executable, "-c", "import server.config.settings"],
                env=os.environ | {"ASHLANE_DEBUG": "0"} | good | change, capture_output=True, text=True,
            )  # fmt: skip
            with self.subTest(change=change):
                self.assertEqual(done.returncode == 0, not said, done.stderr[-300:])
                self.assertIn(said, done.stderr)

    def test_without_signing_in_only_the_rule_book_answers(self):
        self.assertEqual(Client().get("/api/aircraft").status_code, 403)
        self.assertEqual(Client().get("/api/rules").status_code, 200)
        answer = Client().post(
            "/api/rules/controls.ratio",
            {"up_deg": 20, "down_deg": 10, "lo": 1},
            content_type="application/json",
        )
        self.assertEqual(answer.json()["ratio"], 2.0)
        refused = Client().post(
            "/api/rules/controls.ratio",
            {"up_deg": 20, "down_deg": 0, "lo": 1},
            content_type="application/json",
        )
        self.assertEqual((refused.status_code, refused.json()["field"]), (422, "down_deg"))
        self.assertEqual(Client().get("/api/rules/no.such").status_code, 404)
        self.assertEqual(Client().get("/api/no/such").json()["status"], 404)

    def test_passwords_are_kept_as_argon2(self):
        with override_settings(PASSWORD_HASHERS=shipped.PASSWORD_HASHERS):
            user = User.objects.create_user("new", password="a-long-password", person=None)
        self.assertTrue(user.password.startswith("argon2"))


class Roles(OnTheDemo):
    def test_each_role_s_bounds(self):
        base = "/api/aircraft/fenlark"
        down = next(q for q in self.sheet()["requirements"] if q["position"] == "down_stop")
        change = {
            "version": down["version"],
            "lo": "17",
            "hi": "21",
            "source": down["source"]["id"],
            "reason": "revision B",
        }
        surface = {"version": 1, "chord": "282 mm", "u_chord": "0.6 mm"}
        for method, path, body, wanted in [
            ("post", f"{ELEVATOR}/readings", self.reading("-18.5"), (201, 201, 201)),
            ("post", f"{ELEVATOR}/sense-checks", SENSE, (201, 201, 201)),
            ("post", f"{ELEVATOR}/rounds", ROUND, (201, 409, 403)),
            ("post", f"{base}/sources", SOURCE, (201, 403, 403)),
            ("post", f"{base}/instruments", GAUGE, (201, 422, 403)),
            ("patch", f"{base}/requirements/{down['id']}", change, (200, 403, 403)),
            ("patch", f"{base}/surfaces/elevator", surface, (200, 409, 403)),
        ]:
            got = tuple(
                self.write(p, path, body, method=method).status_code
                for p in ("ansel", "ines", "odile")
            )
            with self.subTest(path=path):
                self.assertEqual(got, wanted)

    def test_a_reader_reads_and_nothing_else(self):
        person = Person.objects.create(slug="visitor", name="A visitor")
        User.objects.create_user("visitor", password="x-long-enough", person=person)
        self.fenlark.members.create(person=person, role="reader")
        self.assertEqual(self.as_("visitor").get(ELEVATOR).status_code, 200)
        self.assertEqual(
            self.write("visitor", f"{ELEVATOR}/readings", self.reading("-18.5")).status_code, 403
        )
        self.assertEqual(self.write("visitor", f"{ELEVATOR}/sense-checks", SENSE).status_code, 403)
        state = self.as_("visitor").get("/api/aircraft/fenlark/signatures/control:elevator").json()
        self.assertEqual(state["can"], [])

    def test_the_counselor_sees_both_builds_and_each_builder_their_own(self):
        for person, names in (
            ("ansel", ["Fenlark"]),
            ("corin", ["Moorhen"]),
            ("odile", ["Fenlark", "Moorhen"]),
        ):
            rows = self.as_(person).get("/api/aircraft").json()
            self.assertEqual([a["name"] for a in rows["results"]], names)
        first = self.as_("odile").get("/api/aircraft?size=1").json()
        self.assertEqual((first["count"], len(first["results"])), (2, 1))

    def test_what_is_not_there_is_a_404(self):
        for path in (
            "/api/aircraft/heron",
            "/api/aircraft/fenlark/controls/canard",
            "/api/aircraft/fenlark/signatures/control:canard",
            "/api/aircraft/fenlark/signatures/gear:left",
            "/api/aircraft/moorhen",
            "/api/template.gif",
        ):
            with self.subTest(path=path):
                self.assertEqual(self.as_("ansel").get(path).status_code, 404)

    def test_a_write_without_a_key_is_refused_and_a_refused_one_leaves_no_trace(self):
        client = self.as_("ansel")
        bare = client.post(f"{ELEVATOR}/sense-checks", SENSE, content_type="application/json")
        self.assertEqual((bare.status_code, bare.json()["field"]), (422, "Idempotency-Key"))
        before = KeptWrite.objects.count()
        self.write("ansel", f"{ELEVATOR}/readings", self.reading("up"), key="try-again-1")
        self.assertEqual(KeptWrite.objects.count(), before)
        again = self.write(
            "ansel", f"{ELEVATOR}/readings", self.reading("-18.5"), key="try-again-1"
        )
        self.assertEqual(again.status_code, 201)


class Entry(OnTheDemo):
    def ask(self, line, person="ansel"):
        return self.write(person, "/api/aircraft/fenlark/entry", {"line": line})

    def test_a_line_takes_what_it_leaves_open_from_the_last_reading_here(self):
        seen = self.ask("rud r 6-7/8 in").json()
        self.assertEqual(
            (seen["body"]["method"], seen["body"]["practice"]), ("edge_offset", "straight")
        )
        self.assertEqual(seen["preview"]["said"], "6-7/8 in = 174.62 mm")
        self.assertEqual(seen["preview"]["result"]["verdict"], "in")

    def test_the_first_reading_of_a_surface_needs_its_instrument(self):
        self.assertIn("instrument", self.ask("trim up 8.1").json()["reason"])
        self.assertEqual(self.ask("trim up 8.1 digital").status_code, 200)

    def test_jumps_and_what_is_not_understood(self):
        self.assertEqual(self.ask("go sign").json()["page"], "sign-off")
        self.assertEqual(self.ask("go flaps").json()["page"], "controls/flaps")
        for line in ("", "canard up 3", "elev sideways 3", "ail"):
            with self.subTest(line=line):
                answer = self.ask(line)
                self.assertEqual((answer.status_code, answer.json()["field"]), (422, "entry"))


class Commands(OnTheDemo):
    def test_verify_ledger_says_what_holds_and_prints_the_head(self):
        out = StringIO()
        call_command("verify_ledger", stdout=out)
        lines = out.getvalue().splitlines()
        self.assertRegex(
            lines[0], r"^fenlark: holds; 2 entries, \d+ fact revisions, head 2:[0-9a-f]{64}$"
        )
        self.assertIn("only a witness shows: give --witness SEQ:HASH", lines[1])
        self.assertRegex(lines[2], r"^moorhen: holds; 0 entries")
        witnessed = StringIO()
        head = lines[0].rpartition(" ")[2]
        call_command("verify_ledger", "fenlark", witness=head, stdout=witnessed)
        self.assertIn("It still has the entry of the witness", witnessed.getvalue())

    def test_preparing_twice_keeps_what_is_there_and_follows_the_stand_in(self):
        out = StringIO()
        moved = "TCPIP0::127.0.0.1::12::SOCKET"
        others = [f"TCPIP0::127.0.0.1::{n}::SOCKET" for n in (13, 14, 15)]
        with override_settings(INSTRUMENT_ADDRESSES=[moved, *others]):
            call_command("prepare", stdout=out)
        self.assertEqual(out.getvalue(), "")
        from server.instruments.models import Instrument

        self.assertEqual(Instrument.objects.get(name="Digital level").address, moved)
        gauge = Instrument.objects.get(name="Cable tension gauge")
        self.assertEqual(gauge.address, others[0])


class Pages(TestCase):
    def test_headers_keep_the_page_to_itself(self):
        answer = Client().get("/a/fenlark")
        self.assertIn("default-src 'self'", answer.headers["Content-Security-Policy"])
        self.assertIn("frame-ancestors 'none'", answer.headers["Content-Security-Policy"])
        self.assertEqual(Client().get("/assets/gone.js").status_code, 404)
