"""What is told to whom, and what a file may do to whoever opens it."""

import copy
import csv
import io
import json
from unittest import TestCase

from django.core.cache import cache
from django.test import Client, RequestFactory, override_settings
from hypothesis import given
from hypothesis import strategies as st

from core.rulebook import RULES
from server.accounts.addresses import address
from server.config.bounds import MOST_NUMBERS, MOST_ROWS, MOST_THINGS, bounded
from server.config.cells import STARTS, cell, plain
from server.rulebook.api import MOST_ASKED
from server.tests.own import Writing
from testkit.base import OnTheDemo


class Words(TestCase):
    @given(st.text(max_size=12))
    def test_no_word_is_a_formula_and_each_comes_back_as_it_was(self, word):
        written = cell(word)
        self.assertFalse(written.startswith(STARTS))
        self.assertEqual(plain(written), word)


class Cells(Writing):
    def test_a_support_named_as_a_formula_is_none_in_the_file_and_comes_back_by_its_name(self):
        at = "controls/rudder/cables"
        cables = self.get(at)
        document = copy.deepcopy(cables["document"])
        document["sides"]["A"]["supports"][0]["id"] = "=1+1"
        self.put(at, {"version": cables["version"], "document": document})
        text = self.get(f"{at}/supports.csv").content.decode()
        rows = list(csv.reader(io.StringIO(text)))
        self.assertFalse([c for row in rows[1:] for c in row[:3] if c.startswith("=")])
        again = self.post(f"{at}/assess", {"document": document, "rows": text}, 200)["document"]
        ids = lambda d: [s["id"] for s in d["sides"]["A"]["supports"]]
        self.assertEqual(ids(again), ids(document))


class Headers(Writing):
    def test_answers_of_the_api_are_kept_by_nobody(self):
        for path in (
            "",
            "controls/elevator",
            "since",
            "controls/elevator/sheet.pdf",
            "no-such-page",
        ):
            answer = self.as_("ansel").get(self.at(path))
            self.assertEqual(answer.headers["Cache-Control"], "no-store", path)

    def test_no_page_may_be_framed_moved_or_sent_elsewhere(self):
        policy = self.as_("ansel").get("/").headers["Content-Security-Policy"]
        for said in (
            "base-uri 'none'",
            "form-action 'self'",
            "frame-ancestors 'none'",
            "object-src 'none'",
            "default-src 'self'",
        ):
            self.assertIn(said, policy)


class Addresses(TestCase):
    def test_an_address_is_believed_only_from_as_many_proxies_as_there_are(self):
        told = "203.0.113.7, 198.51.100.2, 198.51.100.1"
        for proxies, header, want in (
            (0, told, "192.0.2.1"), (0, "", "192.0.2.1"), (1, told, "198.51.100.1"),
            (2, told, "198.51.100.2"), (3, told, "203.0.113.7"), (9, told, "203.0.113.7"),
            (1, "", "192.0.2.1"),
        ):  # fmt: skip
            more = {"HTTP_X_FORWARDED_FOR": header} if header else {}
            with override_settings(PROXIES=proxies):
                asked = RequestFactory().get("/", REMOTE_ADDR="192.0.2.1", **more)
                self.assertEqual(address(asked), want, (proxies, header))


class OpenBook(OnTheDemo):
    """The rule book is open to everybody, in reason."""

    def setUp(self):
        super().setUp()
        cache.clear()
        self.addCleanup(cache.clear)

    def asked(self, path, body, who=None, **more):
        text = body if isinstance(body, str) else json.dumps(body)
        return (who or Client()).post(f"/api/rules/{path}", text, "application/json", **more)

    def test_how_it_is_worked_out_is_told_to_anybody(self):
        case = next(c for c in RULES["controls.verdict"].cases if "readings" in c.inputs)
        units = {"": "°", "readings": "°"}
        told = self.asked("controls.verdict/working", {"inputs": case.inputs, "units": units})
        self.assertEqual(told.status_code, 200)
        body = told.json()
        self.assertEqual(body["answer"], RULES["controls.verdict"].run(case.inputs))
        self.assertTrue(any(s["value"] == body["answer"]["U"] for s in body["steps"]))
        self.assertEqual({s["unit"] for s in body["steps"]}, {"°", ""})
        for wrong in ({}, {"inputs": 3}, {"inputs": {}, "more": 1}, {"inputs": {"no": 1}}):
            self.assertIn(self.asked("controls.verdict/working", wrong).status_code, (400, 422))
        self.assertEqual(self.asked("controls.none/working", {"inputs": {}}).status_code, 404)

    def test_lists_and_bodies_have_a_most_and_it_is_named(self):
        for rule, inputs, field in (
            ("controls.advise", {"rods": [{}] * (MOST_THINGS + 1)}, "rods"),
            ("controls.advise", {"mechanism": {"bodies": [{}] * 201}}, "mechanism.bodies"),
            ("clearance.run_in_bays", {"pts": [[0, 0, 0]] * (MOST_ROWS + 1)}, "pts"),
            ("cables.pluck_frequency", {"samples": [0] * (MOST_NUMBERS + 1)}, "samples"),
        ):
            for path, body in ((rule, inputs), (f"{rule}/working", {"inputs": inputs})):
                told = self.asked(path, body)
                self.assertEqual((told.status_code, told.json()["field"]), (422, field))
        most = [0] * MOST_NUMBERS
        self.assertEqual(
            bounded({"samples": most, "x": [{}] * 200, "y": [[]] * 2000})["x"], [{}] * 200
        )
        large = self.asked("controls.verdict", '{"x": "' + "a" * MOST_ASKED + '"}')
        self.assertEqual(large.status_code, 413)

    def test_who_has_not_signed_in_asks_twice_a_second_at_most(self):
        case = RULES["controls.symmetry"].cases[0].inputs
        here, there = {"REMOTE_ADDR": "192.0.2.1"}, {"REMOTE_ADDR": "192.0.2.2"}
        for _ in range(120):
            self.assertEqual(self.asked("controls.symmetry", case, **here).status_code, 200)
        # An address that the asker makes up is not another address.
        more = here | {"HTTP_X_FORWARDED_FOR": "192.0.2.9"}
        self.assertEqual(self.asked("controls.symmetry", case, **more).status_code, 429)
        self.assertEqual(self.asked("controls.symmetry", case, **there).status_code, 200)
        for n in range(61):
            body = {"username": f"nobody{n}", "password": "not-the-one"}
            told = Client(**here).post("/api/session", json.dumps(body), "application/json")
            self.assertEqual(told.status_code == 429, n == 60)
        member = self.as_("ansel")
        self.assertEqual(self.asked("controls.symmetry", case, member, **here).status_code, 200)
