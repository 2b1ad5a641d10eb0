"""Facts of travel: each method finds the angle again, and doubt never shrinks by worse input."""

import math
from dataclasses import replace
from unittest import TestCase

from hypothesis import assume, given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.uncertainty import coverage_factor
from core.basis.verdicts import SEVERITY, Verdict, judge, worst
from core.controls.advice import next_step
from core.controls.edge_offset import PRACTICES, TrailingEdge, edge_offset, offset_for
from core.controls.included_angle import OPENS, Included, included_angle, included_for
from core.controls.sources import Range
from core.controls.swept import SweptGauge, swept_gauge
from core.controls.travel import (
    Missing,
    ReadingSet,
    Surface,
    direction,
    judge_conflict,
    judge_sets,
    measurement,
    neutral_alignment,
)
from core.controls.verdict import Measurement, judge_readings

rad = math.radians
ELEVATOR = Surface("trailing_edge_up", chord=0.281, u_chord=0.0006, neutral_included=rad(172))
RUDDER = Surface("trailing_edge_right", chord=0.42)
DOWN = ReadingSet(
    "gauge_difference",
    (rad(-17.9), rad(-17.5), rad(-17.8)),
    rad(0.2),
    rad(0.1),
    direction=-1,
    neutral=(rad(0.1), rad(0.1)),
)


def held_elevation(delta, sweep):
    return math.atan(math.tan(delta) * math.cos(sweep))


class Methods(TestCase):
    @given(st.floats(0.5, 80), st.floats(0.05, 0.9), st.sampled_from(PRACTICES), st.floats(-9, 9))
    def test_the_offset_that_shows_an_angle_gives_that_angle(self, angle, chord, practice, phi):
        edge = TrailingEdge(chord, practice, rad(phi))
        offset = offset_for(edge, rad(angle))
        self.assertAlmostEqual(edge_offset(edge, offset).deflection.value, rad(angle), delta=1e-6)

    @given(st.floats(-60, 60), st.floats(-45, 45))
    def test_a_swept_hinge_held_and_fixed_follow_their_laws(self, sweep, angle):
        held = swept_gauge(
            SweptGauge(rad(sweep), held_elevation(rad(angle), rad(sweep)), "held_streamwise")
        )
        self.assertAlmostEqual(held.deflection.value, rad(angle), delta=1e-9)
        reading = math.asin(math.sin(rad(angle)) * math.cos(rad(sweep)))
        fixed = swept_gauge(SweptGauge(rad(sweep), reading, "fixed_to_skin"))
        self.assertAlmostEqual(fixed.deflection.value, rad(angle), delta=1e-9)

    @given(st.floats(-40, 40), st.floats(-60, 60), st.floats(-30, 30), st.floats(-20, 20))
    def test_a_mirrored_hinge_reads_the_same_about_its_own_side(self, reading, sweep, dihedral, e0):
        g = SweptGauge(rad(sweep), rad(reading), "fixed_to_skin", rad(dihedral), rad(e0))
        mirrored = replace(g, sweep=-g.sweep, dihedral=-g.dihedral)
        try:
            value = swept_gauge(g).deflection.value
        except Refused:
            assume(False)
        self.assertAlmostEqual(swept_gauge(mirrored).deflection.value, value, delta=1e-9)

    @given(st.sampled_from(sorted(OPENS)), st.floats(-44, 44), st.floats(91, 269))
    def test_an_included_angle_comes_back(self, skins, angle, neutral):
        asked = Included(*skins, rad(neutral))
        included = included_for(asked, rad(angle))
        self.assertAlmostEqual(included_angle(asked, included).value, rad(angle), delta=1e-9)

    @given(st.floats(0.01, 1), st.floats(0, 1), st.floats(1.0, 4.0))
    def test_uncertainty_never_shrinks_when_the_instrument_gets_worse(self, a, r, worse):
        m = Measurement((25.1, 25.3, 25.2), a, r)
        U = judge_readings(m, 20, 30).combined
        for m2 in (replace(m, accuracy=a * worse), replace(m, resolution=r * worse)):
            self.assertGreaterEqual(judge_readings(m2, 20, 30).combined.u, U.u)
        self.assertEqual(coverage_factor(None), 2.0)

    @given(st.floats(-40, 40), st.floats(0, 5), st.floats(-30, 0), st.floats(0, 30))
    def test_in_and_out_mirror_about_zero_and_exclude_each_other(self, y, U, lo, hi):
        self.assertEqual(judge(y, U, lo, hi), judge(-y, U, -hi, -lo))

    def test_the_worst_of_several_is_first_in_severity(self):
        self.assertEqual(worst(list(Verdict)), Verdict.OUT)
        self.assertEqual(worst([]), Verdict.NOT_MEASURED)
        self.assertEqual(set(SEVERITY), set(Verdict))


class Travels(TestCase):
    def judged(self, surface, *sets, lo=17.5, hi=20.5):
        return judge_sets([measurement(surface, s) for s in sets], rad(lo), rad(hi))

    def test_travel_counts_positive_in_the_direction_asked_for(self):
        travel = self.judged(ELEVATOR, DOWN)
        self.assertAlmostEqual(math.degrees(travel.sets[0].y), 17.8333333, places=6)
        self.assertEqual(direction("trailing_edge_down", "up_stop"), -1)
        self.assertEqual(direction("trailing_edge_down", "detent_36"), 1)

    def test_a_surface_that_moves_the_wrong_way_is_out_and_said_so(self):
        travel = self.judged(ELEVATOR, replace(DOWN, values=(rad(18.0), rad(18.1))))
        self.assertEqual(travel.verdict, Verdict.OUT)
        self.assertIn("reversed", next_step(travel, rad(17.5), rad(20.5))[0])

    def test_the_most_certain_way_speaks_and_a_contradiction_is_never_in(self):
        near = ReadingSet(
            "edge_offset", (0.0885, 0.0885, 0.089, 0.0885), 0.0003, 0.0005, -1, "straight"
        )
        travel = self.judged(ELEVATOR, DOWN, near)
        self.assertEqual(
            (travel.governing, travel.verdict, travel.disagree), (1, Verdict.IN, False)
        )
        far = replace(near, values=(0.098, 0.098, 0.0985))
        travel = self.judged(ELEVATOR, DOWN, far)
        self.assertEqual((travel.verdict, travel.disagree), (Verdict.TOO_CLOSE, True))

    def test_what_is_missing_is_named_and_nothing_is_guessed(self):
        missing = measurement(ELEVATOR, replace(DOWN, neutral=()))
        self.assertIsInstance(missing, Missing)
        self.assertIn("neutral", missing.reason)
        quadrant = replace(DOWN, face="quadrant_90", values=(rad(17),), neutral=(rad(3.5),))
        unsure = measurement(ELEVATOR, quadrant)
        self.assertEqual([round(math.degrees(c), 6) for c in unsure.candidates], [13.5, 20.5])
        self.assertIn("fixed surface", neutral_alignment(DOWN).reason)

    def test_bad_readings_are_refused_by_field(self):
        bad = [
            ("instrument", replace(DOWN, accuracy=0.0)),
            ("readings", replace(DOWN, values=(rad(140),))),
            ("value", replace(DOWN, face="plus_minus_90", values=(rad(95),))),
            ("value", ReadingSet("edge_offset", (-0.1,), 0.001, 0.001, practice="arc")),
            ("offset", ReadingSet("edge_offset", (0.9,), 0.001, 0.001, practice="straight")),
        ]
        for field, s in bad:
            with self.subTest(field=field), self.assertRaises(Refused) as caught:
                measurement(ELEVATOR, s)
            self.assertEqual(caught.exception.field, field)

    def test_sources_that_disagree_leave_the_verdict_open_until_someone_decides(self):
        travel = self.judged(ELEVATOR, replace(DOWN, accuracy=rad(0.05)), lo=17, hi=19)
        both = [Range("drawing", rad(17), rad(19)), Range("manual", rad(20), rad(22))]
        self.assertEqual(judge_conflict(travel, both).verdict, "conflict open")

    def test_more_repeats_or_a_better_gauge_is_what_the_advice_asks_for(self):
        calm = replace(DOWN, accuracy=rad(0.05), resolution=rad(0.05), best_accuracy=rad(0.05))
        travel = self.judged(ELEVATOR, calm)
        advice = travel.sets[0].advice
        self.assertEqual(travel.verdict, Verdict.TOO_CLOSE)
        enough = judge_readings(
            replace(measurement(ELEVATOR, calm), readings=calm.values * 10), rad(17.5), rad(20.5)
        )
        self.assertEqual((advice.settles, enough.verdict), ("repeats", Verdict.IN))
        self.assertTrue(4 <= advice.repeats_total <= 30)
        self.assertTrue(any("Measure" in s for s in next_step(travel, rad(17.5), rad(20.5))))
