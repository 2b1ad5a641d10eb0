"""What every rule refuses of the numbers and words that it takes, and what it answers where one
is left out, or a number is somewhat more or less: kept, so that none is lost.

A rule that refuses more, or less, was changed on purpose: ASHLANE_KEEP_PRINTS=1 keeps it anew.
"""

import hashlib
import json
import math
import os
from functools import reduce
from pathlib import Path
from unittest import TestCase

from core.basis.refused import Refused
from core.rulebook import RULES
from testkit.laws import put, rounded

KEPT = Path(__file__).with_name("refusals.json")
NUMBERS = (-1, 0, -1e-6, None)
WORDS = ("", "no-such-word", None)


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


def refused_by(rule, inputs):
    """The field that is refused; empty where it is worked out."""
    try:
        rule.run(inputs)
    except Refused as refusal:
        return refusal.field
    return ""


def numbers(value):
    """All numbers in an answer, in their order."""
    if isinstance(value, dict):
        return [n for v in value.values() for n in numbers(v)]
    if isinstance(value, (list, tuple)):
        return [n for v in value for n in numbers(v)]
    return [float(value)] if isinstance(value, (int, float)) else []


def answer_without(rule, inputs, key):
    """What comes out without one input, each member as a word or a sum; or what is refused."""
    try:
        found = rule.run({k: v for k, v in inputs.items() if k != key})
    except Refused as refusal:
        return f"refused: {refusal.field}"
    return {
        k: v if isinstance(v, str) else float(f"{math.fsum(numbers(v)):.9g}")
        for k, v in found.items()
    }


def answer(rule, inputs):
    """Every word and number that comes out, to six digits, or what is refused."""
    try:
        found = rule.run(inputs)
    except Refused as refusal:
        return f"refused: {refusal.field}"
    return json.dumps(rounded(found), sort_keys=True)


def nudged(rule, inputs, path):
    """A digest of what comes out where one number is a seventh more, or less, than in the case."""
    before = reduce(lambda inside, key: inside[key], path, inputs)
    came = [answer(rule, put(inputs, path, before * by)) for by in (8 / 7, 6 / 7)]
    return hashlib.sha256(json.dumps(came).encode()).hexdigest()[:8]


class Kept(TestCase):
    def test_what_is_refused_stays_refused_and_by_its_field(self):
        made = {}
        for name, rule in sorted(RULES.items()):
            for case in [c for c in rule.cases if "refused" not in c.expect][:4]:
                for key in case.inputs:
                    came = answer_without(rule, case.inputs, key)
                    made[f"{name} {case.id} without {key}"] = came
                for path, values in places(case.inputs):
                    fields = [refused_by(rule, put(case.inputs, path, v)) for v in values]
                    at = f"{name} {case.id} {'.'.join(map(str, path))}"
                    made[at] = fields
                    if values is NUMBERS:
                        made[f"{at} nudged"] = nudged(rule, case.inputs, path)
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in made.items())
            KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(KEPT.read_text())
        self.assertEqual(set(made), set(kept))
        for place, came in made.items():
            self.same(came, kept[place], place)
        refused = [f for f in kept.values() if isinstance(f, list)]
        self.assertGreater(sum(any(f) for f in refused), 0.5 * len(refused))

    def same(self, came, kept, place):
        """Words to the letter, numbers to six digits: the last ones hang on the machine."""
        if not isinstance(came, dict) or not isinstance(kept, dict):
            self.assertEqual(came, kept, place)
            return
        self.assertEqual(set(came), set(kept), place)
        for key, value in came.items():
            if isinstance(value, str):
                self.assertEqual(value, kept[key], place)
            else:
                off = abs(value - kept[key])
                self.assertLessEqual(off, 1e-6 * max(1e-3, abs(kept[key])), (place, key))
