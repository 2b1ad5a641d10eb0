"""Every operation keeps the house's promises: who may, what is refused, and what is answered."""

import json
import uuid

from django.test import Client
from django.urls import resolve

from server.accounts.models import Person, User
from server.aircraft.models import Member
from server.journal.models import Change
from server.signoff.models import LedgerEntry
from testkit.base import OnTheDemo
from testkit.contract import PLACES, UNKNOWN, operations

WRITES = ("post", "put", "patch", "delete")
OPEN = {"GET /api/session", "POST /api/session", "DELETE /api/session"}
# Tried on all fields of a form at once; and on each alone where nothing else is needed with it.
ALONE = (None, 1e308, "−", [1], {UNKNOWN: 1}, "a\0b", "\ud800", "٣")
TOGETHER = (
    *ALONE,
    *(True, -1, "", "x" * 10_000, [], {}, "12\0", "\udfff", "١٢", "²", "--3", "1e999"),
    *(10**400, -(10**18), {"a\0": 1}, [["\ud800"]], "NaN", "1 000", "9" * 40),
)
DEEP = "[" * 100_000 + "]" * 100_000, '{"a":' * 3_000 + "1" + "}" * 3_000


def ask(client, op, body=None, key=True):
    headers = {"Idempotency-Key": uuid.uuid4().hex} if key else {}
    if op.method == "get":
        return client.get(op.at())
    text = json.dumps({} if body is None else body)
    return getattr(client, op.method)(
        op.at(), text, content_type="application/json", headers=headers
    )


class Asking(OnTheDemo):
    def left(self):
        """What a refused write must not add to."""
        return Change.objects.count(), LedgerEntry.objects.count()


class Promises(Asking):
    def someone(self, role=""):
        """A person who has that role on the aircraft; none: who has nothing to do with it."""
        name = role or "passer-by"
        who = Person.objects.create(slug=name, name=name.title())
        if role:
            Member.objects.create(aircraft=self.fenlark, person=who, role=role)
        client = Client(raise_request_exception=False)
        client.force_login(
            User.objects.create(username=name, person=who),
            backend="django.contrib.auth.backends.ModelBackend",
        )
        return client

    def test_nobody_gets_anything_of_an_aircraft_without_signing_in(self):
        for op in operations():
            with self.subTest(op=op.name):
                status = ask(Client(raise_request_exception=False), op).status_code
                if op.of_aircraft or op.path == "/api/aircraft":
                    self.assertIn(status, (401, 403))
                else:
                    self.assertLess(status, 500)

    def test_a_stranger_is_not_even_told_that_the_aircraft_exists(self):
        before, stranger = self.left(), self.someone()
        for op in operations():
            if op.of_aircraft:
                with self.subTest(op=op.name):
                    self.assertEqual(ask(stranger, op).status_code, 404)
        self.assertEqual(self.left(), before)

    def test_a_reader_reads_everything_and_writes_nothing(self):
        reader, before = self.someone("reader"), self.left()
        owner = self.as_("ansel")
        for op in operations():
            if not op.of_aircraft:
                continue
            with self.subTest(op=op.name):
                got = ask(reader, op)
                if op.method == "get":
                    self.assertEqual(got.status_code, ask(owner, op).status_code)
                else:
                    self.assertLess(got.status_code, 500)
        # Only that a reader has seen what is new is kept of a reader.
        self.assertEqual(self.left(), before)

    def test_an_account_that_is_no_person_s_gets_nothing_and_breaks_nothing(self):
        client = Client(raise_request_exception=False)
        client.force_login(
            User.objects.create(username="nobody"),
            backend="django.contrib.auth.backends.ModelBackend",
        )
        before = self.left()
        for op in operations():
            with self.subTest(op=op.name):
                status = ask(client, op).status_code
                self.assertLess(status, 500)
                if op.of_aircraft:
                    self.assertEqual(status, 404)
        self.assertEqual(self.left(), before)

    def test_what_is_answered_is_of_the_shape_that_the_schema_says(self):
        owner = self.as_("ansel")
        for op in operations():
            if op.method != "get":
                continue
            with self.subTest(op=op.name):
                got = ask(owner, op)
                self.assertIn(str(got.status_code), op.spec["responses"])
                if "json" in got["Content-Type"]:
                    self.assertIsNone(op.wrong(got.status_code, got.json()))

    def test_a_write_without_its_key_is_refused_before_anything_happens(self):
        owner, before = self.as_("ansel"), self.left()
        for op in operations():
            if op.method in WRITES and op.name not in OPEN:
                with self.subTest(op=op.name):
                    got = ask(owner, op, {}, key=False)
                    if got.status_code < 300:
                        # What only answers needs no key.
                        self.assertIn("200", op.spec["responses"])
                        self.assertEqual(op.method, "post")
        self.assertEqual(self.left(), before)

    def test_every_path_of_the_schema_is_served(self):
        for op in operations():
            with self.subTest(op=op.name):
                self.assertIsNotNone(resolve(op.at()).func)


class Addresses(Asking):
    ODD = ("²", "٣", "9" * 40, "-1", "--3", "a%00b", "%ff", "..%2f", "x" * 3000, "%ed%a0%80")

    def test_an_odd_address_is_nothing_and_an_odd_question_is_refused_or_read(self):
        owner, before = self.as_("ansel"), self.left()
        owner.raise_request_exception = False
        for op in operations():
            asked = [p["name"] for p in op.spec.get("parameters", ()) if p["in"] == "query"]
            named = [n for n in PLACES if f"{{{n}}}" in op.path]
            for odd in self.ODD:
                for address in (
                    *(op.at(**{n: odd}) for n in named),
                    *(f"{op.at()}?{n}={odd}" for n in asked),
                ):
                    with self.subTest(op=op.name, address=address[:120]):
                        self.assertLess(self.sent(owner, op, address).status_code, 500)
        # A question that nobody asks is looked at before any operation is.
        for odd in self.ODD:
            self.assertLess(owner.get(f"/api/aircraft/fenlark?{odd}={odd}").status_code, 500)
        self.assertEqual(self.left(), before)

    @staticmethod
    def sent(client, op, address):
        if op.method == "get":
            return client.get(address)
        headers = {"Idempotency-Key": uuid.uuid4().hex}
        body = json.dumps({UNKNOWN: 1})
        method = getattr(client, op.method)
        return method(address, body, content_type="application/json", headers=headers)


class Bodies(Asking):
    """Every form of the aircraft itself and its records."""

    def mine(self, path):
        return "{control}" not in path

    def test_no_body_brings_it_down_and_what_is_refused_leaves_nothing(self):
        owner = self.as_("ansel")
        owner.raise_request_exception = False
        for op in operations():
            if op.body is None or op.name in OPEN or not self.mine(op.path):
                continue
            names = op.body.get("properties", {})
            bodies = [None, [], "text", 3, {UNKNOWN: 1}]
            # A field that others are needed with is refused for want of them: it goes no deeper
            # alone than together with them.
            needed = {*op.body.get("required", ()), *({"version"} & set(names))}
            bodies += [{n: junk} for n in names if needed <= {n} for junk in ALONE]
            bodies += [dict.fromkeys(names, junk) for junk in TOGETHER]
            before = self.left()
            for text in (*DEEP, *map(json.dumps, bodies)):
                with self.subTest(op=op.name, body=text[:80]):
                    got = getattr(owner, op.method)(
                        op.at(),
                        text,
                        content_type="application/json",
                        headers={"Idempotency-Key": uuid.uuid4().hex},
                    )
                    # Nothing answers at an instrument's address here, and that is said.
                    silent = got.status_code == 503 and op.name.endswith("/poll")
                    self.assertTrue(silent or got.status_code < 500, got.status_code)
                    self.assertIsNone(op.wrong(got.status_code, got.json()))
                    after = self.left()
                    if got.status_code >= 400:
                        self.assertEqual(after, before)
                    before = after
                    if got.status_code == 400:
                        told = got.json()
                        self.assertTrue(told["field"] and told["reason"])


class BodiesOfControls(Bodies):
    """Every form of a control, its linkage and its cables."""

    def mine(self, path):
        return "{control}" in path
