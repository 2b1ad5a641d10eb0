"""Checks across readings, documents that disagree, gauges' faces, and the words of the advice."""

import math
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis import verdicts
from core.basis.quantities import format_quantity, from_si, to_si
from core.basis.refused import Refused
from core.basis.uncertainty import sample_deviation
from core.basis.verdicts import Verdict, judge, verdict_of
from core.controls import sources, travel_checks
from core.controls.advice import Better, asked, degrees, next_step
from core.controls.edge_offset import OffsetUncertainty, TrailingEdge, edge_offset, offset_for
from core.controls.gauge import FACES, GaugeReadings, gauge_difference, unwrapped
from core.controls.included_angle import Fit, Included, included_angle
from core.controls.sources import Decision, Range
from core.controls.swept import SweptGauge, swept_gauge
from core.controls.travel import ReadingSet, Surface, judge_sets, measurement, suits, with_best
from core.signoff.documents import Statement, compare_sources

rad = math.radians


class Verdicts(TestCase):
    def test_a_value_exactly_U_inside_its_limit_is_in_and_exactly_U_outside_is_not_out(self):
        self.assertEqual(judge(18.0, 0.5, 17.5, 20.5), Verdict.IN)
        self.assertEqual(judge(17.999, 0.5, 17.5, 20.5), Verdict.TOO_CLOSE)
        self.assertEqual(judge(17.0, 0.5, 17.5, 20.5), Verdict.TOO_CLOSE)
        self.assertEqual(judge(16.999, 0.5, 17.5, 20.5), Verdict.OUT)

    def test_one_sided_limits_leave_the_other_side_open(self):
        self.assertEqual(judge(1e6, 0.5, 17.5, None), Verdict.IN)
        self.assertEqual(judge(-1e6, 0.5, None, 20.5), Verdict.IN)
        with self.assertRaises(Refused):
            judge(1.0, 0.1, None, None)

    def test_other_rules_words_fall_into_the_one_enum(self):
        for word, verdict in (
            ("clear", "in"),
            ("touch", "out"),
            ("conflict open", "too close"),
            ("deviation", "accepted"),
        ):
            self.assertEqual(verdict_of(word), verdict)
        with self.assertRaises(Refused):
            verdict_of("fine")

    @given(st.floats(-50, 50), st.floats(0, 5), st.floats(0, 5))
    def test_more_uncertainty_never_turns_too_close_into_a_sure_word(self, y, U, more):
        if judge(y, U, -10, 10) is Verdict.TOO_CLOSE:
            self.assertEqual(judge(y, U + more, -10, 10), Verdict.TOO_CLOSE)

    def test_the_margin_is_the_least_distance_to_a_limit(self):
        self.assertAlmostEqual(verdicts.margin(18.0, 17.5, 20.5), 0.5)
        self.assertAlmostEqual(verdicts.margin(21.0, 17.5, 20.5), -0.5)


class Faces(TestCase):
    @given(
        st.sampled_from(["full_360", "plus_minus_180", "plus_minus_90"]),
        st.floats(-40, 40),
        st.floats(-85, 85),
    )
    def test_where_a_face_turns_over_does_not_matter(self, face, start, turn):
        f = FACES[face]

        def shown(angle):
            value = (angle - f.low) % f.period + f.low
            return min(max(value, f.low), f.high)

        g = GaugeReadings(face, (shown(rad(start + turn)),), (shown(rad(start)),))
        self.assertAlmostEqual(gauge_difference(g).value, rad(turn), delta=1e-9)

    def test_readings_on_both_sides_of_the_turn_average_as_neighbours(self):
        near = unwrapped((rad(359.9), rad(0.1)), "full_360")
        self.assertAlmostEqual(math.degrees(sum(near) / 2), 360.0)

    def test_zeroed_counts_the_gauge_s_error_once(self):
        twice = gauge_difference(GaugeReadings("full_360", (rad(26),), (0.0,), accuracy=rad(0.2)))
        once = gauge_difference(
            GaugeReadings("full_360", (rad(26),), zeroed=True, accuracy=rad(0.2))
        )
        self.assertAlmostEqual(twice.combined.u, once.combined.u * math.sqrt(2))

    def test_what_does_not_fit_together_is_refused(self):
        good = GaugeReadings("full_360", (rad(26),), (0.0,))
        for field, change in (
            ("neutral", {"zeroed": True}),
            ("neutral", {"neutral": ()}),
            ("sense", {"sense": 0}),
            ("side", {"side": 2}),
            ("face", {"face": "round"}),
            ("accuracy", {"accuracy": -1.0}),
            ("readings", {"readings": ()}),
            ("readings", {"readings": (float("nan"),)}),
        ):
            with self.subTest(change=change), self.assertRaises(Refused) as caught:
                gauge_difference(replace(good, **change))
            self.assertEqual(caught.exception.field, field)


class OtherRefusals(TestCase):
    def test_each_method_refuses_by_its_own_field(self):
        edge = TrailingEdge(0.3, "straight")
        up = Included("trailing_edge_up", "upper", rad(172))
        for field, attempt in (
            ("chord", lambda: edge_offset(TrailingEdge(0.0, "arc"), 0.1)),
            ("phi", lambda: edge_offset(TrailingEdge(0.3, "perpendicular", rad(46)), 0.1)),
            ("u_chord", lambda: edge_offset(edge, 0.1, OffsetUncertainty(chord=-1))),
            ("deflection", lambda: offset_for(edge, rad(91))),
            (
                "deflection",
                lambda: offset_for(TrailingEdge(0.3, "perpendicular", rad(30)), rad(61)),
            ),
            (
                "skin",
                lambda: included_angle(Included("trailing_edge_up", "right", rad(172)), rad(150)),
            ),
            (
                "neutral_included",
                lambda: included_angle(Included("trailing_edge_up", "upper", rad(80)), rad(90)),
            ),
            ("included", lambda: included_angle(up, rad(40))),
            ("included", lambda: included_angle(up, rad(270))),
            ("arm", lambda: included_angle(up, rad(150), Fit(gap=0.001))),
            ("sweep", lambda: swept_gauge(SweptGauge(rad(61), 0.1, "held_streamwise"))),
            ("practice", lambda: swept_gauge(SweptGauge(rad(10), 0.1, "by_eye"))),
            ("reading", lambda: swept_gauge(SweptGauge(rad(50), rad(60), "fixed_to_skin"))),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as caught:
                attempt()
            self.assertEqual(caught.exception.field, field)

    def test_a_rudder_and_a_neutral_have_ways_that_cannot_work(self):
        rudder = Surface("trailing_edge_right", chord=0.42)
        level = ReadingSet("gauge_difference", (0.1,), 0.01, 0.001)
        with self.assertRaises(Refused):
            suits(rudder, level)
        suits(rudder, replace(level, zero="neutral"))
        with self.assertRaises(Refused):
            suits(
                rudder,
                ReadingSet("edge_offset", (0.1,), 0.001, 0.001, practice="arc"),
                neutral=True,
            )


class Across(TestCase):
    def test_symmetry_is_opposite_when_the_sides_change_places(self):
        a = travel_checks.symmetry(rad(20), rad(21), rad(1), rad(0.1), rad(0.2))
        b = travel_checks.symmetry(rad(21), rad(20), rad(1), rad(0.2), rad(0.1))
        self.assertAlmostEqual(a.value, -b.value)
        self.assertEqual((a.verdict, a.U), (b.verdict, b.U))

    def test_few_approaches_and_negative_angles_are_refused(self):
        for field, attempt in (
            ("from_above", lambda: travel_checks.repeatability((0.1,), (0.1, 0.2), 0.1, 0.0)),
            ("from_below", lambda: travel_checks.repeatability((0.1, 0.2), (), 0.1, 0.0)),
            ("left", lambda: travel_checks.symmetry(-0.1, 0.1, 0.1, 0, 0)),
            ("down", lambda: travel_checks.ratio(0.3, 0.0, 1, 2, 0, 0)),
            ("lo", lambda: travel_checks.ratio(0.3, 0.2, 2, 1, 0, 0)),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as caught:
                attempt()
            self.assertEqual(caught.exception.field, field)

    def test_every_way_two_ranges_can_lie(self):
        for a, b, relation, gap in (
            ((35, 37), (35, 37), "same", 0),
            ((35, 37), (38, 40), "apart", 1),
            ((35, 37), (37, 40), "touch", 0),
            ((35, 37), (30, 40), "inside", 0),
            ((35, 38), (37, 40), "overlap", 0),
            ((None, 37), (35, None), "overlap", 0),
            ((None, 37), (None, 38), "inside", 0),
        ):
            with self.subTest(a=a, b=b):
                found = sources.compare([Range("a", *a), Range("b", *b)])
                self.assertEqual((found.relation, found.gap), (relation, gap))

    def test_a_decision_needs_a_known_source_and_a_reason(self):
        both = [Range("a", 1, 2), Range("b", 3, 4)]
        for field, attempt in (
            (
                "decision.source",
                lambda: sources.compare(both, y=1.5, decision=Decision("c", "why")),
            ),
            ("decision.reason", lambda: sources.compare(both, y=1.5, decision=Decision("a", " "))),
            ("ranges.1", lambda: sources.compare([both[0], Range("b", 4, 3)])),
            ("ranges", lambda: sources.compare(both[:1])),
            ("factor", lambda: sources.compare(both, factor=1.0)),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as caught:
                attempt()
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(
            sources.compare(both, y=1.5, U=0.1, decision=Decision("a", "asked")).verdict, "in"
        )

    def test_statements_in_other_units_are_compared_within_their_rounding(self):
        sheet = Statement("sheet", "range", rad(35), rad(37), "deg")
        manual = Statement("manual", "range", rad(37), rad(40), "deg")
        pair = compare_sources([sheet, manual])[0]
        self.assertEqual((pair.result, pair.both[0]), ("overlap", pair.both[1]))
        counts = [Statement("sheet", "count", 14, 14), Statement("manual", "count", 16, 16)]
        self.assertEqual(compare_sources(counts)[0].result, "conflict")
        with self.assertRaises(Refused):
            compare_sources([sheet, counts[0]])


class Words(TestCase):
    surface = Surface("trailing_edge_up", chord=0.281)
    rough = ReadingSet(
        "gauge_difference", (rad(-17.7), rad(-17.9)), rad(0.5), rad(0.5), -1, neutral=(0.0, 0.0)
    )

    def said(self, s, lo=17.5, hi=20.5, better=None):
        travel = judge_sets([measurement(self.surface, s)], rad(lo), rad(hi))
        return " ".join(next_step(travel, rad(lo), rad(hi), better=better))

    def test_short_and_over_say_by_how_much(self):
        sharp = replace(
            self.rough, accuracy=rad(0.02), resolution=rad(0.02), values=(rad(-15.0),) * 4
        )
        self.assertIn("2.5° short of the low limit", self.said(sharp))
        self.assertIn("over the high limit", self.said(replace(sharp, values=(rad(-22.0),) * 4)))
        self.assertIn("Inside by 1.5°", self.said(replace(sharp, values=(rad(-19.0),) * 4)))

    def test_a_better_instrument_at_hand_is_named(self):
        s = replace(self.rough, best_accuracy=rad(0.1), best_resolution=rad(0.05))
        U = with_best(self.surface, s, rad(17.5), rad(20.5))
        said = self.said(s, better=Better("Digital level", U))
        self.assertIn("with the digital level", said)
        self.assertIsNone(with_best(self.surface, self.rough, rad(17.5), rad(20.5)))

    def test_one_reading_play_and_a_range_too_narrow_are_said(self):
        self.assertIn(
            "One reading: spread not known", self.said(replace(self.rough, values=(rad(-17.8),)))
        )
        loose = replace(
            self.rough,
            accuracy=rad(0.05),
            resolution=rad(0.05),
            values=(rad(-17.0), rad(-19.5), rad(-18.2)),
        )
        self.assertIn("look for play", self.said(loose))
        self.assertIn("can never show it in", self.said(self.rough, 17.7, 17.9))

    def test_ranges_and_angles_are_written_plainly(self):
        self.assertEqual(asked(rad(17.5), rad(20.5)), "17.5° to 20.5°")
        self.assertEqual(
            (asked(None, rad(2)), asked(rad(2), None)), ("at most 2.0°", "at least 2.0°")
        )
        self.assertEqual(degrees(-1e-9), "0.0°")


class Shown(TestCase):
    def test_quantities_are_shown_in_the_user_s_units(self):
        self.assertEqual(format_quantity(0.108, "length", "in", fraction=32), "4-1/4 in")
        self.assertEqual(format_quantity(0.0301625, "length", "in", fraction=64), "1-3/16 in")
        self.assertEqual(format_quantity(rad(27.5), "angle", "deg"), "27.5°")
        self.assertEqual(format_quantity(287.15, "temperature", "F"), "57.2 °F")
        self.assertEqual(format_quantity(-1e-9, "length", "mm"), "0.0 mm")
        for unit, fraction in (("mm", 32), ("in", 10)):
            with self.assertRaises(Refused):
                format_quantity(0.1, "length", unit, fraction=fraction)

    def test_units_not_of_the_dimension_are_refused(self):
        for attempt in (
            lambda: to_si(1, "kg", "length"),
            lambda: from_si(1, "mm", "angle"),
            lambda: to_si(1, "mm", "taste"),
        ):
            with self.assertRaises(Refused):
                attempt()
        self.assertAlmostEqual(to_si(1, "kgf", "force"), 9.80665)
        self.assertIsNone(sample_deviation([1.0]))
