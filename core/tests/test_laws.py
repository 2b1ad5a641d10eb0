"""Laws of all rules: schema and answer agree, and nothing typed is ignored or breaks it."""

from itertools import islice
from unittest import TestCase

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.rulebook import RULES
from testkit.laws import JUNK, Lawful, add, at, drop, places, put

LAWFUL = {name: Lawful(r) for name, r in RULES.items()}
# Cases that answer, by rule.
GOOD = {name: [c.inputs for c in r.cases if "refused" not in c.expect] for name, r in RULES.items()}


class OfEveryRule(TestCase):
    def test_worked_cases_are_of_the_shape_that_the_schemas_say(self):
        for name, law in LAWFUL.items():
            for case in RULES[name].cases:
                with self.subTest(rule=name, case=case.id):
                    self.assertIsNone(law.fault(case.inputs))

    def test_a_key_that_is_not_asked_for_is_refused_by_its_name_at_every_depth(self):
        for name, law in LAWFUL.items():
            for inputs in GOOD[name][:2]:
                for where in places(inputs):
                    if not isinstance(at(inputs, where), dict):
                        continue
                    wrong = add(inputs, where, "no_such_key")
                    if law.asked.is_valid(wrong):
                        continue  # An object that takes any key, and says so.
                    with self.subTest(rule=name, where=where):
                        got = law.answer(wrong)
                        self.assertIsInstance(got, Refused)
                        self.assertIn("no_such_key", str(got))

    def test_leaving_out_what_is_needed_is_refused_and_the_rest_is_not_needed(self):
        for name, law in LAWFUL.items():
            for inputs in GOOD[name][:1]:
                for where in places(inputs):
                    if not where or isinstance(where[-1], int):
                        continue
                    less = drop(inputs, where)
                    with self.subTest(rule=name, where=where):
                        self.assertIsNone(law.fault(less))

    def test_junk_at_every_place_of_a_worked_case_is_read_or_refused(self):
        for name, law in LAWFUL.items():
            for inputs in GOOD[name][:1]:
                for where in islice(places(inputs), 40):
                    for junk in JUNK:
                        with self.subTest(rule=name, where=where, junk=repr(junk)[:40]):
                            self.assertIsNone(law.fault(put(inputs, where, junk)))

    @settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.data())
    def test_any_number_anywhere_is_answered_with_numbers_or_refused(self, data):
        name = data.draw(st.sampled_from(sorted(n for n in GOOD if GOOD[n])))
        inputs = data.draw(st.sampled_from(GOOD[name]))
        numbers = [
            p
            for p in places(inputs)
            if isinstance(at(inputs, p), (int, float)) and not isinstance(at(inputs, p), bool)
        ]
        if not numbers:
            return
        for _ in range(data.draw(st.integers(1, 3))):
            where = data.draw(st.sampled_from(numbers))
            value = data.draw(st.floats(-1e6, 1e6) | st.floats() | st.integers(-1000, 1000))
            inputs = put(inputs, where, value)
        self.assertIsNone(LAWFUL[name].fault(inputs))
