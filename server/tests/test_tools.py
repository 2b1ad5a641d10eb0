"""The tools around the program: what they measure, sow, count and serve."""

import json
import os
import subprocess
import sys
from contextlib import redirect_stdout
from io import StringIO
from pathlib import Path
from unittest import TestCase

from bench.report import Report, quantile, took
from testkit.contract import operations, resolved, schema

ROOT = Path(__file__).parents[2]


class Bench(TestCase):
    def report(self, *lines):
        report = Report()
        with redirect_stdout(StringIO()) as out:
            for ask, value, wanted in lines:
                getattr(report, ask)("thing", value, wanted)
        return report, out.getvalue()

    def test_a_figure_is_within_or_over_and_the_limit_itself_is_within(self):
        for ask, value, wanted, fine in (
            ("at_most", 49.9, 50, True), ("at_most", 50, 50, True), ("at_most", 50.1, 50, False),
            ("at_least", 40, 40, True), ("at_least", 39.9, 40, False), ("at_least", 400, 40, True),
        ):  # fmt: skip
            report, said = self.report((ask, value, wanted))
            with self.subTest(ask=ask, value=value):
                self.assertEqual(report.over, 0 if fine else 1)
                self.assertIn("within" if fine else "OVER", said)
                self.assertIn(f"{wanted:g}", said)

    def test_every_figure_over_counts(self):
        report, _ = self.report(("at_most", 2, 1), ("at_most", 1, 1), ("at_least", 0, 1))
        self.assertEqual((report.over, len(report.lines)), (2, 3))

    def test_a_quantile_is_one_of_the_values_and_no_smaller_than_its_share(self):
        values = [float(n) for n in range(1, 101)]
        self.assertEqual(quantile(values, 0.95), 95.0)
        self.assertEqual(quantile(values[::-1], 0.5), 50.0)
        self.assertEqual(quantile([7.0], 0.95), 7.0)
        self.assertEqual(quantile([1.0, 2.0, 3.0], 1.0), 3.0)

    def test_the_first_call_is_not_counted(self):
        calls = []

        def work():
            calls.append(len(calls))

        self.assertGreaterEqual(took(work, times=3), 0.0)
        self.assertEqual(len(calls), 4)


class Contract(TestCase):
    def test_no_two_forms_share_a_name_in_the_schema(self):
        """The body that an operation asks has the fields of the form that reads it."""
        from django.urls import resolve

        for op in operations():
            if op.body is None:
                continue
            view = resolve(op.at()).func
            method = getattr(view.cls, op.method, None)
            asked = getattr(getattr(method, "kwargs", None), "get", lambda *_: None)("schema")
            self.assertIsNotNone(method, op.name)
            if asked is None:
                continue
            form = getattr(asked, "request", None)
            names = set(getattr(form, "_declared_fields", {}))
            if names:
                with self.subTest(op=op.name):
                    self.assertEqual(set(op.body.get("properties", {})), names)

    def test_bodies_that_were_once_mixed_up_are_those_of_their_own_trade(self):
        bodies = {f"{op.method} {op.path}": op.body for op in operations()}
        joint = bodies["post /api/aircraft/{slug}/joints/{joint}/events"]["properties"]
        cable = bodies["post /api/aircraft/{slug}/controls/{control}/cables/events"]["properties"]
        self.assertEqual(set(joint), {"doing", "value", "instrument", "note"})
        self.assertEqual(set(cable), {"doing", "side", "typed", "note"})
        linkage = bodies["post /api/aircraft/{slug}/controls/{control}/linkage/assess"][
            "properties"
        ]
        self.assertIn("lengths_mm", linkage)

    def test_a_reference_is_followed_to_what_it_names(self):
        name, part = next(iter(schema()["components"]["schemas"].items()))
        self.assertEqual(resolved({"$ref": f"#/components/schemas/{name}"}), part)
        self.assertEqual(resolved({"type": "string"}), {"type": "string"})


class Command(TestCase):
    """The rule book from the command line, as another program asks it."""

    def asked(self, *words, send=""):
        return subprocess.run(
            [sys.executable, "-m", "core.rulebook", *words], input=send, capture_output=True,
            text=True, cwd=ROOT, env=os.environ | {"PYTHONPATH": str(ROOT)},
        )  # fmt: skip

    def test_many_questions_at_once_are_answered_in_their_order(self):
        asked = [
            {"rule": "controls.ratio", "inputs": {"up_deg": 20, "down_deg": 10, "lo": 1, "hi": 3}},
            {"rule": "controls.ratio", "inputs": {"up_deg": 20, "down_deg": 0}},
            {"rule": "no.such", "inputs": {}},
        ]
        done = self.asked("batch", send=json.dumps(asked))
        self.assertEqual(done.returncode, 0, done.stderr)
        first, second, third = json.loads(done.stdout)
        self.assertEqual(first["ratio"], 2.0)
        self.assertEqual(second["refused"]["field"], "down_deg")
        self.assertIn("refused", third)

    def test_what_is_no_question_is_told_and_not_answered(self):
        for send in ("", "nonsense", "{}", "[3]"):
            done = self.asked("batch", send=send)
            with self.subTest(send=send):
                answered = done.returncode == 0 and "refused" not in done.stdout
                self.assertFalse(answered, done.stdout[:200])
