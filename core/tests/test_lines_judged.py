"""What is said of a line from what was entered and done: nothing in favour of In."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.verdicts import Verdict
from core.lines.bend import springback
from core.lines.judging import judge
from core.lines.line import Line
from core.lines.tested import Done, leak_check
from core.rulebook import rule
from core.tests.test_tubes import refused, tubes, walked

LINE = Line(
    "feed", "aluminium", 0.009525,
    ((2.05, -0.1, 0.18), (1.86, -0.1, 0.18), (1.78, -0.16, 0.22), (1.62, -0.16, 0.22)),
    (0.03, 0.03), grip_m=0.05, start_straight_m=0.05, end_straight_m=0.05, supports_m=(0.2,), holes=(),
)  # fmt: skip


def said(line, key="bends"):
    return next(c for c in judge(line) if c.key == key)


class Judged(TestCase):
    def test_all_said_and_right_is_in_and_anything_unsaid_is_not_measured(self):
        self.assertIs(said(LINE).verdict, Verdict.IN)
        self.assertIs(said(LINE, "supports").verdict, Verdict.IN)
        for name in ("grip_m", "start_straight_m", "end_straight_m"):
            self.assertIs(said(replace(LINE, **{name: None})).verdict, Verdict.NOT_MEASURED)
        self.assertIs(
            said(replace(LINE, supports_m=None), "supports").verdict, Verdict.NOT_MEASURED
        )
        other = replace(LINE, material="other")
        self.assertIs(said(other).verdict, Verdict.NOT_MEASURED)
        self.assertIs(said(other, "supports").verdict, Verdict.NOT_MEASURED)
        own = replace(other, min_radius_m=0.02, max_spacing_m=0.4, source="Drawing 28-1")
        self.assertEqual([c.verdict for c in judge(own)], [Verdict.IN] * 3)
        self.assertEqual(said(own).origins["min_radius_m"], "Drawing 28-1")

    def test_each_fault_is_told_with_where_it_is(self):
        for more, key, words in (
            ({"radii_m": (0.03, 0.02)}, "bends", "Bend 2 is tighter than 23.8 mm"),
            ({"grip_m": 0.09}, "bends", "Straight 1 is shorter"),
            ({"start_straight_m": 0.3}, "bends", "The first straight"),
            ({"end_straight_m": 0.3}, "bends", "The last straight"),
            ({"supports_m": ()}, "supports", "a clamp is missing at"),
            (
                {"measured": ("its straights miss each other at bend 1",)},
                "measured",
                "measure again",
            ),
        ):
            found = said(replace(LINE, **more), key)
            self.assertIn(words, found.said)
            self.assertIn(found.verdict, (Verdict.OUT, Verdict.TOO_CLOSE))
        self.assertIn("Cannot be bent so", said(replace(LINE, radii_m=(0.3, 0.3))).said)

    @settings(max_examples=40, deadline=None)
    @given(tubes())
    def test_on_the_bench_it_grows_bend_by_bend_into_the_tube(self, tube):
        there = walked(tube)
        line = Line("x", "steel", 0.0095, there.vertices_m, tuple(tube[3]))
        long = line.card.developed_m
        for n in range(len(tube[1]) + 1):
            path = line.on_the_bench(n)
            steps = np.linalg.norm(np.diff(path, axis=0), axis=1)
            self.assertAlmostEqual(float(steps.sum()) / long, 1.0, 1)
            self.assertLessEqual(float(steps.sum()), long + 1e-9)
        self.assertEqual(len(line.on_the_bench(0)), 2)
        # Finished it is as it lies in the aircraft, but for where it is and how it is turned.
        made, lies = line.on_the_bench(len(tube[1])), line.in_the_aircraft()
        for i, j in ((0, -1), (0, len(made) // 2), (len(made) // 3, -1)):
            self.assertAlmostEqual(
                float(np.linalg.norm(made[i] - made[j])),
                float(np.linalg.norm(lies[i] - lies[j])),
                9,
            )
        refused("bends", line.on_the_bench, len(tube[1]) + 1)

    @given(st.floats(0, 0.05), st.floats(0, 0.2), st.floats(0.5, 1.2), st.floats(1.6, 2.6))
    def test_two_trial_bends_give_back_what_made_them(self, a, b, small, large):
        trials = [(to, to - a - b * to) for to in (small, large)]
        found = springback(*trials)
        np.testing.assert_allclose(found, (a, b), atol=1e-9)
        np.testing.assert_allclose(springback(*trials[::-1]), (a, b), atol=1e-9)

    def test_trials_that_say_nothing_are_refused(self):
        refused("first_trial", springback, (0.8, 0.9), (1.6, 1.5))
        refused("second_trial", springback, (0.8, 0.79), (1.0, 0.98))
        refused("second_trial", springback, (0.8, 0.70), (1.6, 1.55))


class Tested(TestCase):
    def done(self, **more):
        case = next(c for c in rule("lines.leak_decay").cases if c.id == "W25")
        inputs = case.inputs | more
        return Done(
            "leak test", "2027-03-01", "Ansel", inputs, rule("lines.leak_decay").run(inputs)
        )

    def verdict(self, *done, service="fuel"):
        return leak_check(service, done).verdict

    def test_it_counts_until_the_line_is_opened_and_the_last_one_speaks(self):
        good, opened = self.done(), Done("opened", "2027-03-02", "Ansel")
        bad = self.done(end_temp_K=294.65)
        self.assertIs(self.verdict(), Verdict.NOT_MEASURED)
        self.assertIs(self.verdict(good), Verdict.IN)
        self.assertIs(self.verdict(good, opened), Verdict.STALE)
        self.assertIs(self.verdict(good, opened, good), Verdict.IN)
        self.assertIs(self.verdict(opened, good), Verdict.IN)
        self.assertIs(self.verdict(good, bad), Verdict.OUT)
        self.assertIs(self.verdict(bad, good), Verdict.IN)
        self.assertIs(self.verdict(opened), Verdict.NOT_MEASURED)

    def test_a_line_that_holds_nothing_is_not_asked_for_a_test_but_one_counts(self):
        self.assertIsNone(leak_check("vent", ()))
        self.assertIs(self.verdict(self.done(), service="vent"), Verdict.IN)

    def test_a_test_of_which_nobody_said_how_well_it_is_known_is_none(self):
        for name, word in (
            ("u_gauge_Pa", "the gauge"), ("u_temp_K", "the thermometer"),
            ("u_baro_Pa", "the barometer"), ("u_volume_rel", "the air space"),
        ):  # fmt: skip
            test = self.done()
            less = replace(test, inputs={k: v for k, v in test.inputs.items() if k != name})
            found = leak_check("fuel", [less])
            self.assertIs(found.verdict, Verdict.NOT_MEASURED)
            self.assertIn(f"not said how well these are known: {word}.", found.said)

    def test_a_test_without_a_limit_or_before_the_air_settled_is_none(self):
        unsaid = self.done(allowed_std_m3_s=None)
        self.assertIn("what is allowed is not said", leak_check("fuel", [unsaid]).said)
        self.assertIs(self.verdict(unsaid), Verdict.NOT_MEASURED)
        rising = self.done(end_gauge_Pa=2600.0)
        self.assertIn("had not settled", leak_check("fuel", [rising]).said)
        self.assertIs(self.verdict(rising), Verdict.NOT_MEASURED)
        self.assertIn("−0.01 ± 0.45 ml", leak_check("fuel", [self.done()]).said)
