"""How a scope stands by the signatures that hold: by whom, in which role, over which facts."""

import itertools
import json
from types import SimpleNamespace
from unittest import TestCase

from server.signoff.standing import _state

NOW = {"fact": "a"}


def signed(by, role, holds=True):
    facts = [{"id": "fact", "hash": "a" if holds else "b"}]
    return SimpleNamespace(by_id=by, body=json.dumps({"role": role, "facts": facts}))


class OfAScope(TestCase):
    def test_two_persons_of_whom_one_is_independent_make_it_fresh(self):
        for rows, state in (
            ([signed(1, "builder"), signed(2, "independent")], "fresh"),
            ([signed(2, "independent"), signed(1, "builder")], "fresh"),
            ([signed(1, "builder"), signed(1, "independent")], "inspected"),
            ([signed(1, "independent")], "inspected"),
            ([signed(1, "builder")], "signed by the builder alone"),
            ([signed(1, "builder"), signed(2, "builder")], "signed by the builder alone"),
            ([signed(1, "builder", False), signed(2, "independent", False)], "stale"),
            ([signed(1, "builder", False), signed(2, "independent")], "inspected"),
            ([signed(1, "builder"), signed(2, "independent", False)], "signed by the builder alone"),
        ):  # fmt: skip
            told = [json.loads(r.body) for r in rows]
            with self.subTest(rows=[(t["role"], t["facts"]) for t in told]):
                self.assertEqual(_state(rows, NOW), state)

    def test_it_is_fresh_exactly_as_counted_by_hand(self):
        kinds = list(itertools.product((1, 2), ("builder", "independent"), (True, False)))
        for chosen in itertools.product(kinds, repeat=3):
            hold = [(by, role) for by, role, holds in chosen if holds]
            two = len({by for by, _ in hold}) > 1
            fresh = two and "independent" in {role for _, role in hold}
            self.assertEqual(_state([signed(*c) for c in chosen], NOW) == "fresh", fresh, chosen)
