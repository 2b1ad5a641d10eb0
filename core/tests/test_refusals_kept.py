"""What every rule refuses of the numbers and words that it takes: kept, so that none is lost.

A rule that refuses more, or less, was changed on purpose: ASHLANE_KEEP_PRINTS=1 keeps it anew.
"""

import copy
import json
import os
from pathlib import Path
from unittest import TestCase

from core.basis.refused import Refused
from core.rulebook import RULES

KEPT = Path(__file__).with_name("refusals.json")
NUMBERS = (-1, 0, -1e-6)
WORDS = ("", "no-such-word")


def places(value, path=()):
    """Every number and word in a case's inputs, and the first of each list."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from places(inner, (*path, key))
    elif isinstance(value, list):
        for n, inner in enumerate(value[:1]):
            yield from places(inner, (*path, n))
    elif isinstance(value, (int, float, str)) and not isinstance(value, bool):
        yield path, WORDS if isinstance(value, str) else NUMBERS


def put(inputs, path, value):
    changed = copy.deepcopy(inputs)
    at = changed
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return changed


def refused_by(rule, inputs):
    """The field that is refused; empty where it is worked out."""
    try:
        rule.run(inputs)
    except Refused as refusal:
        return refusal.field
    return ""


class Kept(TestCase):
    def test_what_is_refused_stays_refused_and_by_its_field(self):
        made = {}
        for name, rule in sorted(RULES.items()):
            for case in [c for c in rule.cases if "refused" not in c.expect][:2]:
                for path, values in places(case.inputs):
                    fields = [refused_by(rule, put(case.inputs, path, v)) for v in values]
                    made[f"{name} {case.id} {'.'.join(map(str, path))}"] = fields
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in made.items())
            KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(KEPT.read_text())
        self.assertEqual(set(made), set(kept))
        for place, fields in made.items():
            self.assertEqual(fields, kept[place], place)
        self.assertGreater(sum(any(f) for f in kept.values()), 0.5 * len(kept))
