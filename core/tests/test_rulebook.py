"""The rule book as its four readers meet it: command, schema, names and refusals."""

import json
import math
import subprocess
import sys
from pathlib import Path
from unittest import TestCase

import jsonschema

from core.basis.forms import fields_of, is_form, kinds_in
from core.basis.refused import Refused
from core.rulebook import RULES, rule

ROOT = Path(__file__).parents[2]


def command(*words, given=""):
    """The command's exit code and what it printed."""
    done = subprocess.run(
        [sys.executable, "-m", "core.rulebook", *words], input=given, capture_output=True, text=True
    )
    return done.returncode, done.stdout, done.stderr


class Command(TestCase):
    def test_list_names_every_rule(self):
        code, said, _ = command("list")
        self.assertEqual(code, 0)
        self.assertEqual([line.split()[0] for line in said.splitlines()], list(RULES))

    def test_show_gives_source_limits_fields_and_cases(self):
        code, said, _ = command("show", "controls.edge_offset")
        shown = json.loads(said)
        self.assertEqual(code, 0)
        self.assertIn("Confirm against the current edition", shown["source"])
        self.assertEqual(shown["inputs"]["required"], ["chord_mm", "practice"])
        self.assertEqual(shown["inputs"]["properties"]["chord_mm"]["x-unit"], "mm")
        self.assertGreater(len(shown["cases"]), 3)

    def test_run_prints_outputs_or_the_refusal(self):
        inputs = {"chord_mm": 310, "offset_mm": 137, "practice": "straight"}
        _, said, _ = command("run", "controls.edge_offset", given=json.dumps(inputs))
        self.assertAlmostEqual(json.loads(said)["deflection_deg"], 25.531759, places=6)
        _, said, _ = command(
            "run", "controls.edge_offset", given=json.dumps(inputs | {"chord_mm": -1})
        )
        self.assertEqual(json.loads(said)["refused"]["field"], "chord_mm")

    def test_batch_keeps_the_order_and_refuses_each_bad_item_alone(self):
        good = {
            "rule": "controls.ratio",
            "inputs": {"up_deg": 20, "down_deg": 10, "lo": 1, "hi": 3},
        }
        asked = [good, {"rule": "no.such", "inputs": {}}, 7, good]
        _, said, _ = command("batch", given=json.dumps(asked))
        answers = json.loads(said)
        self.assertEqual([a.get("ratio") for a in answers], [2.0, None, None, 2.0])
        self.assertEqual(answers[1]["refused"]["field"], "rule")

    def test_what_cannot_be_read_ends_with_words_not_a_traceback(self):
        for words, given in (
            (("run", "controls.ratio"), "not json"),
            (("show", "no.such"), ""),
            (("batch",), '{"a": 1}'),
        ):
            with self.subTest(words=words):
                code, _, said = command(*words, given=given)
                self.assertNotEqual(code, 0)
                self.assertNotIn("Traceback", said)


class Fields(TestCase):
    def test_every_case_fits_its_rule_s_schema_in_and_out(self):
        for r in RULES.values():
            for case in r.cases:
                if "refused" in case.expect:
                    continue
                with self.subTest(rule=r.id, case=case.id):
                    jsonschema.validate(case.inputs, r.input_schema())
                    jsonschema.validate(r.run(case.inputs), r.output_schema())

    def test_values_of_the_wrong_kind_are_refused_by_the_page_s_name(self):
        edge = {"chord_mm": 310, "offset_mm": 137, "practice": "straight"}
        for field, value in (
            ("chord_mm", "310"),
            ("chord_mm", True),
            ("chord_mm", float("nan")),
            ("chord_mm", float("inf")),
            ("chord_mm", 10**400),
            ("chord_mm", [310]),
            ("practice", "bent"),
            ("practice", 3),
        ):
            with self.subTest(field=field, value=value), self.assertRaises(Refused) as caught:
                rule("controls.edge_offset").run(edge | {field: value})
            self.assertEqual(caught.exception.field, field)
        for inputs in (None, [], "x"):
            with self.assertRaises(Refused):
                rule("controls.edge_offset").run(inputs)

    def test_a_unit_is_as_many_to_one_of_si_as_its_name_says_wherever_it_is_declared(self):
        per = {"mm": 1e3, "mm²": 1e6, "mm⁴": 1e12, "°": 180 / math.pi, "GPa": 1e-9, "MPa": 1e-6}
        per |= {"°/mm": 180 / math.pi / 1e3}
        seen = set()

        def walk(fields):
            for f in fields:
                with self.subTest(unit=f.unit, name=f.name):
                    if f.per_si != 1.0:  # Else it is computed in that unit.
                        self.assertAlmostEqual(f.per_si / per[f.unit], 1.0, 12)
                for kind in kinds_in(f.kind):
                    if is_form(kind) and kind not in seen:
                        seen.add(kind)
                        walk(fields_of(kind))

        for r in RULES.values():
            walk(r.entry.inputs)
            walk(r.entry.outputs)
        self.assertGreater(len(seen), 20)

    def test_null_is_the_same_as_absent(self):
        inputs = {"lo": None, "hi": 0.5, "readings": [0.3, 0.31], "accuracy": 0.05, "nominal": None}
        absent = {k: v for k, v in inputs.items() if v is not None}
        self.assertEqual(rule("controls.verdict").run(inputs), rule("controls.verdict").run(absent))

    def test_limits_and_nominal_exclude_each_other(self):
        for inputs, field in (
            ({"nominal": 26, "lo": 25, "tol_plus": 1, "tol_minus": 1}, "nominal"),
            ({"nominal": 26, "tol_plus": 1}, "tol_minus"),
            ({"nominal": 26, "tol_plus": 1, "tol_minus": -1}, "tol_minus"),
            ({"lo": 3, "hi": 2}, "lo"),
            ({}, "lo"),
            ({"lo": 1, "readings": [2], "accuracy": -1}, "accuracy"),
            ({"lo": 1, "readings": [2], "pooled_s": 1}, "pooled_dof"),
            ({"lo": 1, "readings": [2], "other": [{"u": -1}]}, "other.0.u"),
        ):
            with self.subTest(inputs=inputs), self.assertRaises(Refused) as caught:
                rule("controls.verdict").run(inputs)
            self.assertEqual(caught.exception.field, field)

    def test_no_reading_is_not_measured_and_nothing_else(self):
        self.assertEqual(rule("controls.verdict").run({"lo": 1}), {"verdict": "not measured"})


class Documentation(TestCase):
    def test_the_table_in_the_documentation_is_the_one_that_is_printed(self):
        code, said, _ = command("table")
        self.assertEqual(code, 0)
        self.assertIn(said.strip(), (ROOT / "docs" / "rules.md").read_text())
        for name in RULES:
            self.assertEqual(said.count(f"| `{name}` |"), 1, name)

    def test_every_figure_that_is_shipped_names_a_source_to_be_confirmed(self):
        for r in RULES.values():
            self.assertIn("onfirm", r.shown()["source"], r.id)
