"""What is told to whom, and what a file may do to whoever opens it."""

import copy
import csv
import io
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from server.config.cells import STARTS, cell, plain
from server.tests.own import Writing


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
