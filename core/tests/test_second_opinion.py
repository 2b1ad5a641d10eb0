"""The same answers by other means: plain rotation matrices, simulation, and brute force."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.stats import t as student

from core.basis.refused import Refused
from core.basis.uncertainty import Contribution, combine, coverage_factor
from core.controls.edge_offset import OffsetUncertainty, TrailingEdge, edge_offset
from core.controls.swept import SweptGauge, swept_gauge
from core.controls.template import Card, calibration_square, print_check, template
from core.controls.verdict import Measurement, judge_readings

rad = math.radians


def turned(vector, hinge, angle):
    """A vector turned by `angle` right-handed about a unit hinge (Rodrigues' matrix)."""
    x, y, z = hinge
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    matrix = np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * cross @ cross
    return matrix @ np.asarray(vector)


def shown_by_gauge(deflection, sweep, dihedral, neutral, practice):
    """What the gauge reads at a deflection, straight from the page's description."""
    hinge = np.array(
        [
            math.sin(sweep) * math.cos(dihedral),
            math.cos(sweep) * math.cos(dihedral),
            math.sin(dihedral),
        ]
    )
    line = np.array([math.cos(neutral), 0.0, math.sin(neutral)])
    if practice == "fixed_to_skin":
        return math.asin(turned(line, hinge, -deflection)[2])
    normal = turned(np.cross(line, hinge), hinge, -deflection)
    normal = normal if normal[2] > 0 else -normal
    return math.atan2(-normal[0], normal[2])


class SweptHinge(TestCase):
    @settings(max_examples=150)
    @given(
        st.floats(-35, 35),
        st.floats(-50, 50),
        st.floats(-20, 20),
        st.floats(-15, 15),
        st.sampled_from(["held_streamwise", "fixed_to_skin"]),
    )
    def test_the_closed_form_undoes_the_rotation(self, angle, sweep, dihedral, neutral, practice):
        reading = shown_by_gauge(rad(angle), rad(sweep), rad(dihedral), rad(neutral), practice)
        assume(abs(reading) < rad(79))
        g = SweptGauge(rad(sweep), reading, practice, rad(dihedral), rad(neutral))
        try:
            found = swept_gauge(g).deflection.value
        except Refused:
            self.fail("a reading that a deflection gives was refused")
        # Where two deflections give one reading, the lesser is the answer.
        again = shown_by_gauge(found, rad(sweep), rad(dihedral), rad(neutral), practice)
        self.assertAlmostEqual(again, reading, delta=1e-9)
        self.assertLessEqual(abs(found), abs(rad(angle)) + 1e-9)

    @given(st.floats(1, 40), st.floats(1, 55))
    def test_the_deflection_is_larger_than_the_reading(self, angle, sweep):
        for practice in ("held_streamwise", "fixed_to_skin"):
            reading = shown_by_gauge(rad(angle), rad(sweep), 0.0, 0.0, practice)
            found = swept_gauge(SweptGauge(rad(sweep), reading, practice)).deflection.value
            self.assertGreater(found, reading)


class Simulation(TestCase):
    def test_propagated_uncertainty_is_what_simulation_spreads(self):
        chance = np.random.default_rng(11)
        for practice in ("straight", "perpendicular", "arc"):
            edge = TrailingEdge(0.31, practice, rad(4.0))
            u = OffsetUncertainty(0.0006, 0.0008, rad(0.3))
            found = edge_offset(edge, 0.12, u).deflection
            draws = [
                edge_offset(TrailingEdge(c, practice, f), d).deflection.value
                for d, c, f in zip(
                    chance.normal(0.12, u.offset, 4000),
                    chance.normal(0.31, u.chord, 4000),
                    chance.normal(rad(4.0), u.phi, 4000),
                    strict=True,
                )
            ]
            with self.subTest(practice=practice):
                self.assertAlmostEqual(np.std(draws) / found.combined.u, 1.0, delta=0.05)
                self.assertAlmostEqual(np.mean(draws), found.value, delta=found.combined.u * 0.1)

    def test_the_truth_lies_within_U_about_as_often_as_promised(self):
        chance = np.random.default_rng(12)
        inside = 0
        trials = 1500
        for _ in range(trials):
            error = chance.uniform(-0.2, 0.2)
            readings = tuple(np.round((20.0 + error + chance.normal(0, 0.15, 4)) / 0.1) * 0.1)
            judged = judge_readings(Measurement(readings, 0.2, 0.1), 0.0, 40.0)
            inside += abs(judged.y - 20.0) <= judged.combined.U
        self.assertGreaterEqual(inside / trials, 0.95)

    def test_coverage_factors_are_student_s(self):
        share = math.erf(math.sqrt(2))
        for nu in (1, 2, 3.7, 12, 250):
            self.assertAlmostEqual(coverage_factor(nu), student.ppf(0.5 + share / 2, nu), places=9)
        self.assertAlmostEqual(coverage_factor(1), 13.97, places=2)

    @given(st.lists(st.tuples(st.floats(1e-6, 1), st.floats(1, 50)), min_size=1, max_size=5))
    def test_effective_freedom_lies_between_the_least_and_the_sum(self, parts):
        found = combine(Contribution(u, nu) for u, nu in parts)
        self.assertGreaterEqual(found.nu_eff, min(nu for _, nu in parts) * (1 - 1e-9))
        self.assertLessEqual(found.nu_eff, sum(nu for _, nu in parts) * (1 + 1e-9))


class BruteForce(TestCase):
    def test_the_advised_number_of_repeats_is_the_least_that_settles(self):
        # Patterns that keep mean and spread: the advice promises the same s.
        compared = 0
        for readings in ((17.9, 17.5, 17.8), (20.1, 20.3), (19.9, 20.3, 20.3, 20.2)):
            m = Measurement(readings, 0.05, 0.05)
            judged = judge_readings(m, 17.5, 20.5)
            advice = judged.advice
            if advice is None or advice.repeats_total is None:
                continue
            s = float(np.std(readings, ddof=1))

            def settles(n, s=s, judged=judged):
                parts = [
                    Contribution(0.05 / math.sqrt(3)),
                    Contribution(0.05 / math.sqrt(12)),
                    Contribution(s / math.sqrt(n), n - 1),
                ]
                return abs(judged.margin) + 1e-9 >= combine(parts).U

            first = next(n for n in range(len(readings) + 1, 31) if settles(n))
            self.assertEqual(advice.repeats_total, first)
            compared += 1
        self.assertGreaterEqual(compared, 1)

    def test_the_accuracy_advised_just_settles_and_a_worse_one_does_not(self):
        m = Measurement((20.2, 20.21, 20.2, 20.19), 0.3, 0.05)
        advice = judge_readings(m, 17.5, 20.5).advice
        self.assertEqual(advice.settles, "instrument")

        def verdict(a):
            return judge_readings(Measurement(m.readings, a, min(0.05, a)), 17.5, 20.5).verdict

        self.assertEqual(verdict(advice.accuracy_needed * 0.999), "in")
        self.assertEqual(verdict(advice.accuracy_needed * 1.001), "too close")


class Cards(TestCase):
    @settings(max_examples=80)
    @given(st.floats(95, 265), st.floats(0, 18), st.floats(-3, 3), st.floats(-3, 3))
    def test_every_card_made_is_a_simple_outline_with_its_notch_on_the_circle(
        self, angle, r, aft, up
    ):
        card = Card(rad(angle), 0.16, 0.14, 0.04, r / 1e3, aft / 1e3, up / 1e3)
        try:
            made = template(card)
        except Refused:
            assume(False)
        self.assertGreater(made.area, 0.0)
        if card.notch_radius:
            for u, v in made.notch:
                away = math.hypot(u - card.notch_aft, v - card.notch_up)
                self.assertAlmostEqual(away, card.notch_radius, delta=1e-12)
        # The straight edges still enclose the angle asked for.
        fixed = math.atan2(0.0, -1.0)
        moving = math.atan2(made.moving_end[1], made.moving_end[0])
        self.assertAlmostEqual((fixed - moving) % (2 * math.pi), rad(angle), delta=1e-9)

    def test_the_chords_of_the_notch_stay_within_two_hundredths_of_a_millimetre(self):
        made = template(Card(rad(146), 0.16, 0.14, 0.04, 0.014, 0.002, -0.003))
        a, b = made.notch[3], made.notch[4]
        middle = ((a[0] + b[0]) / 2 - 0.002, (a[1] + b[1]) / 2 + 0.003)
        self.assertLessEqual(0.014 - math.hypot(*middle), 0.00002 + 1e-12)

    def test_bad_cards_are_refused_by_field(self):
        good = {"included": rad(146), "arm_fixed": 0.16, "arm_moving": 0.14, "width": 0.04}
        for field, change in (
            ("included", {"included": rad(59)}),
            ("arm_fixed", {"arm_fixed": 0.039}),
            ("arm_moving", {"included": rad(61), "width": 0.08}),
            ("width", {"width": 0.014}),
            ("notch_radius", {"notch_radius": 0.005, "notch_aft": 0.006}),
            ("notch_radius", {"notch_radius": 0.075, "width": 0.1}),
            ("notch_radius", {"notch_radius": -0.001}),
        ):
            with self.subTest(change=change), self.assertRaises(Refused) as caught:
                template(Card(**(good | change)))
            self.assertEqual(caught.exception.field, field)

    def test_a_printer_that_scales_evenly_keeps_the_angle(self):
        even = print_check(0.1005, 0.1005, rad(146))
        self.assertAlmostEqual(even.error, 0.0, places=12)
        self.assertTrue(even.usable)
        self.assertFalse(print_check(0.102, 0.102, rad(146)).usable)
        side = calibration_square()
        self.assertEqual(side[2], (0.1, 0.1))
