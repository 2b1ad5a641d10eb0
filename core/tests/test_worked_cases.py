"""Every worked case of every rule in the book passes to its digits, through the command."""

import json
import math
import subprocess
import sys
from unittest import TestCase

from core.basis.refused import Refused
from core.rulebook import RULES, rule


def differs(got, want, rtol, atol, path=""):
    """Where `got` differs from what the case expects; extra keys of an object are allowed."""
    if isinstance(want, dict) and isinstance(got, dict):
        for key, value in want.items():
            if key not in got:
                return f"{path}.{key} is missing"
            if found := differs(got[key], value, rtol, atol, f"{path}.{key}"):
                return found
        return None
    if isinstance(want, list) and isinstance(got, (list, tuple)):
        if len(want) != len(got):
            return f"{path}: {got} for {want}"
        found = (
            differs(g, w, rtol, atol, f"{path}.{i}")
            for i, (g, w) in enumerate(zip(got, want, strict=True))
        )
        return next((f for f in found if f), None)
    if isinstance(want, float) and isinstance(got, (int, float)) and not isinstance(got, bool):
        return (
            None
            if math.isclose(got, want, rel_tol=rtol, abs_tol=atol)
            else f"{path}: {got} for {want}"
        )
    return None if got == want else f"{path}: {got!r} for {want!r}"


class WorkedCases(TestCase):
    def test_every_case_passes_through_the_command(self):
        cases = [(r.id, c) for r in RULES.values() for c in r.cases]
        asked = [{"rule": rule_id, "inputs": c.inputs} for rule_id, c in cases]
        answer = subprocess.run(
            [sys.executable, "-m", "core.rulebook", "batch"],
            input=json.dumps(asked),
            capture_output=True,
            text=True,
            check=True,
        )
        for (rule_id, case), got in zip(cases, json.loads(answer.stdout), strict=True):
            with self.subTest(rule=rule_id, case=case.id):
                if "refused" in case.expect:
                    got = got.get("refused", {}).get("field")
                    want = case.expect["refused"].partition(":")[0]
                    self.assertEqual(got, want)
                else:
                    self.assertIsNone(differs(got, case.expect, case.rtol, case.atol))

    def test_every_rule_has_a_case_a_source_and_described_fields(self):
        for r in RULES.values():
            with self.subTest(rule=r.id):
                self.assertTrue(r.cases and r.entry.source and r.entry.validity)
                for schema in (r.input_schema(), r.output_schema()):
                    for name, field in schema["properties"].items():
                        self.assertTrue(field.get("description"), name)

    def test_a_misspelt_or_missing_input_is_refused_by_name(self):
        with self.assertRaisesRegex(Refused, "cord_mm: is not an input"):
            rule("controls.edge_offset").run({"cord_mm": 310, "practice": "arc"})
        with self.assertRaisesRegex(Refused, "chord_mm: is needed"):
            rule("controls.edge_offset").run({"offset_mm": 3, "practice": "arc"})
