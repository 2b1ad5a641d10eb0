"""Parts of a cable, one by one: threads, fairleads, pulleys, ends, proof loads, forces, agreement."""

import itertools
import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.cable import bending_bounds, cable_data, cable_size_check, stiffness_from_stretch
from core.cables.card import Table, card_tension
from core.cables.compare import compare_readings
from core.cables.ends import ProofLimits, Step, proof_load, sleeve_check, slide_on_order
from core.cables.forces import Load, bracket_load, pulley_force
from core.cables.pull import expected_deflection, sideways_pull
from core.cables.route import (
    Groove,
    fairlead_check,
    guard_check,
    order_check,
    pair_gap,
    pulley_check,
    travel_gap,
)
from core.cables.sense import MEANT, sense_check
from core.cables.temperature import chart_tension
from core.cables.turnbuckle import turnbuckle_threads

D = 0.003175
ITEMS = ("boot", "chafe tube", "sleeve B")
BORES = {"boot": 0.009, "chafe tube": 0.005, "sleeve B": 0.0036}
ENDS = {"A": 0.0065, "B": 0.012}


def slide(item, end):
    return Step("slide", end, item)


def press(end):
    return Step("press", end)


class Refusing(TestCase):
    def refused(self, field, call, *args, **more):
        with self.assertRaises(Refused) as caught:
            call(*args, **more)
        self.assertEqual(caught.exception.field, field, caught.exception)


class CableItself(Refusing):
    def test_thicker_cable_is_stronger_heavier_and_stiffer(self):
        rows = [cable_data("7x19", n / 32, "galvanised") for n in (3, 4, 5, 6, 8)]
        for name in ("breaking_N", "mass_per_length_kg_m", "ae_N"):
            values = [getattr(r, name) for r in rows]
            self.assertEqual(values, sorted(values), name)
        weak = cable_data("7x19", 0.125, "corrosion-resistant")
        self.assertLess(weak.breaking_N, cable_data("7x19", 0.125, "galvanised").breaking_N)
        low, high = bending_bounds("7x19", D)
        self.assertLess(low * 50, high)

    def test_what_is_not_shipped_is_asked_for(self):
        self.refused("diameter_in", cable_data, "7x19", 0.0625, "galvanised")
        self.refused("construction", cable_data, "1x19", 0.125, "galvanised")
        self.refused("material", cable_data, "7x7", 0.0625, "titanium")

    def test_a_primary_cable_is_an_eighth_of_an_inch_at_least(self):
        self.assertIs(cable_size_check(D, True), Verdict.IN)
        self.assertIs(cable_size_check(D - 0.5e-6, True), Verdict.IN)
        self.assertIs(cable_size_check(0.00238125, True), Verdict.OUT)
        self.assertIs(cable_size_check(0.00238125, False), Verdict.IN)

    def test_stiffness_from_a_stretch_does_not_hang_on_where_the_loads_begin(self):
        one = stiffness_from_stretch(4.0, 0.0, 1000.0, 0.01)
        other = stiffness_from_stretch(4.0, 500.0, 1500.0, 0.01)
        self.assertEqual(one.ae_N, other.ae_N)
        self.refused("stretch_m", stiffness_from_stretch, 1.0, 0.0, 100.0, 0.06)
        self.refused("load_high_N", stiffness_from_stretch, 1.0, 100.0, 100.0, 0.001)

    def test_a_chart_meets_its_own_points_and_ends_at_its_ends(self):
        points = [[263.15, 80], [294.15, 133], [313.15, 175]]
        for k, n in points:
            self.assertEqual(chart_tension(points, k), n)
        for outside in (263.0, 313.2):
            self.refused("temperature_K", chart_tension, points, outside)
        self.refused("points", chart_tension, points[:1], 263.15)
        self.refused("points", chart_tension, points[::-1], 280)
        for n, bad in ((0, math.nan), (2, math.inf)):
            unknown = [*points]
            unknown[n] = [bad, 90]
            self.refused(f"points.{n}", chart_tension, unknown, 280)


class Measuring(Refusing):
    CARD = (Table("2", D, ((12, 44.48), (19, 88.96), (25, 133.45), (30, 177.93))),)

    def test_a_card_meets_its_points_and_more_readings_make_it_surer(self):
        for reading, force in self.CARD[0].points:
            self.assertAlmostEqual(card_tension(self.CARD, "2", D, [reading]).tension_N, force)
        few = card_tension(self.CARD, "2", D, [20, 22], 0.3)
        many = card_tension(self.CARD, "2", D, [20, 22] * 4, 0.3)
        self.assertLess(many.u_tension_N, few.u_tension_N)
        self.assertTrue(card_tension(self.CARD, "2", D, [20]).single)

    def test_a_card_that_does_not_rise_or_has_one_point_is_refused(self):
        for points, field in (
            (((12, 44), (11, 60)), "tables"),
            (((12, 44), (13, 44)), "tables"),
            (((12, 44),), "tables.0.points"),
        ):
            self.refused(field, card_tension, [Table("2", D, points)], "2", D, [12])

    @given(st.floats(30, 400), st.floats(0.5, 3.0), st.floats(1, 40), st.floats(5e-6, 5e-5))
    def test_the_deflection_to_expect_gives_back_the_tension(self, tension, span, force, give):
        try:
            h = expected_deflection(span, force, tension, give)
        except Refused:
            return
        pulled = sideways_pull(span, force, h, give)
        self.assertAlmostEqual(pulled.tension_N, tension, 5)
        self.assertGreater(pulled.tension_under_pull_N, tension)
        self.assertGreater(pulled.small_angle_N, pulled.tension_N)

    def test_the_uncertainty_of_a_pull_is_that_of_simulation(self):
        given_u = {"u_span_m": 0.002, "u_force_N": 0.2, "u_deflection_m": 0.0003,
                   "u_compliance_m_per_N": 2e-6}  # fmt: skip
        base = {
            "span_m": 1.2,
            "force_N": 6.0,
            "deflection_m": 0.0123,
            "compliance_m_per_N": 2.35e-5,
        }
        exact = sideways_pull(**base, **given_u)
        squares = 0.0
        for name, u in given_u.items():
            key = name.removeprefix("u_")
            more, less = (
                sideways_pull(**(base | {key: base[key] + s * u * 0.01})).tension_N for s in (1, -1)
            )
            squares += ((more - less) / 0.02) ** 2
        self.assertAlmostEqual(exact.u_tension_N, math.sqrt(squares), 3)

    def test_ways_that_agree_are_surer_together_and_those_that_do_not_give_nothing(self):
        both = compare_readings([[130, 5], [126, 4]])
        self.assertTrue(both.agree)
        self.assertLess(both.u_tension_N, 4)
        self.assertTrue(126 < both.tension_N < 130)
        apart = compare_readings([[130, 2], [110, 2]])
        self.assertFalse(apart.agree)
        self.assertIsNone(apart.tension_N)


class Threads(Refusing):
    def test_three_threads_may_show_and_none_may_vanish(self):
        for showing, turns, before, after in (
            ([3, 3], 0, "in", "in"),
            ([3.5, 3], 0.5, "out", "in"),
            ([1, 0.5], 1, "in", "bottomed"),
            ([2, 2], -2, "in", "out"),
        ):
            t = turnbuckle_threads(showing, turns, safetied=True)
            self.assertEqual((t.before, t.after), (before, after))
            self.assertEqual(t.may_fly, after == "in")
        self.assertFalse(turnbuckle_threads([1, 1], 0, safetied=True, final=False).may_fly)
        self.assertTrue(turnbuckle_threads([1, 2.5], 0).uneven)
        self.refused("showing.1", turnbuckle_threads, [1, -1], 0)


class Route(Refusing):
    def test_a_fairlead_bends_a_cable_by_three_degrees_at_most(self):
        def at(degrees, u=0.0):
            a = math.radians(degrees)
            return fairlead_check([1, 0, 0], [math.cos(a), 0, math.sin(a)], u).verdict

        self.assertEqual([at(d).value for d in (0, 2.99, 3.01, 6)], ["in", "in", "out", "out"])
        self.assertIs(at(2.9, math.radians(0.1)), Verdict.TOO_CLOSE)

    def test_a_cable_in_the_pulley_s_plane_is_not_out_of_line_however_it_wraps(self):
        for degrees in (10, 90, 170):
            a = math.radians(degrees)
            out = [math.cos(a), math.sin(a), 0]
            check = pulley_check([1, 0, 0], out, [0, 0, 1], D, Groove(0.03))
            self.assertAlmostEqual(check.wrap_rad, a)
            self.assertAlmostEqual(check.misalignment_rad, 0)
            self.assertEqual((check.alignment, check.diameter), ("not judged", "not judged"))
        flange = Groove(0.03, 0.0345, 0.0055, ratio_min=20)
        tilted = pulley_check([1, 0, 0.2], [1, 0, 0], [0, 0, 1], D, flange)
        self.assertEqual((tilted.alignment, tilted.diameter), ("out", "out"))
        alone = Groove(0.03, flange_radius_m=0.0345)
        self.refused("rim_width_m", pulley_check, [1, 0, 0], [1, 0, 0], [0, 0, 1], D, alone)

    @given(st.floats(0, 1), st.floats(0.01, 0.3), st.floats(0, 0.2), st.floats(0, 0.2))
    def test_a_gap_is_the_same_seen_from_either_side(self, start, length, low, high):
        item, far = (start, start + length), start + length + 0.5
        ahead = travel_gap(item, (far, far + 0.02), (-low, high))
        mirrored = travel_gap((-item[1], -item[0]), (-far - 0.02, -far), (-high, low))
        self.assertAlmostEqual(ahead.gap_m, mirrored.gap_m)
        self.assertTrue((ahead.at, mirrored.at) == ("high", "low"))

    def test_two_turnbuckles_pass_each_other_only_if_there_is_room_beside(self):
        ends = {"item_A": (1.0, 1.1), "item_B": (1.15, 1.25), "relative_travel": (-0.3, 0.3)}
        sizes = {"radius_A_m": 0.007, "radius_B_m": 0.007, "required_m": 0.003}
        self.assertLess(pair_gap(**ends, lateral_m=0.012, **sizes).gap_m, 0)
        self.assertAlmostEqual(pair_gap(**ends, lateral_m=0.02, **sizes).gap_m, 0.006)

    def test_every_pair_that_changes_its_order_is_named_once(self):
        cables = ["a", "b", "c", "d"]
        for other in itertools.permutations(cables):
            found = order_check([cables, list(other)])
            inverted = sum(
                other.index(p) > other.index(q) for p, q in itertools.combinations(cables, 2)
            )
            self.assertEqual(len(found), inverted)
            self.assertEqual(len(set(found)), inverted)
        self.refused("banks[1]", order_check, [["a", "b"], ["a", "a"]])

    def test_a_guard_is_there_and_closer_than_the_cable_is_thick(self):
        self.assertIs(guard_check(True, D, 0.001).verdict, Verdict.IN)
        self.assertEqual(guard_check(True, D, D).why, "gap")
        self.assertEqual(guard_check(False, D).why, "no guard")
        self.refused("limit_m", guard_check, True, D, 0.001, 2 * D)
        self.refused("gap_m", guard_check, True, D)

    def test_sense_of_every_control_turns_with_one_crossed_stage(self):
        for control, (motion, _, _) in MEANT.items():
            axis = [0, 0, 1] if control == "rudder" else [0, -1, 0]
            at = {"surface_axis": axis, "hinge_point": [5, 0, 1], "trailing_edge": [5.4, 0, 1]}
            one = sense_check(control, motion, [1.0, 0.7], **at)
            crossed = sense_check(control, motion, [1.0, -0.7], **at)
            self.assertNotEqual(one.correct, crossed.correct)
        at["trailing_edge"] = [5, 3, 1]
        self.refused("trailing_edge", sense_check, control, motion, [1], **at)
        at["trailing_edge"] = [5.4, 0, 1]
        self.refused("gains", sense_check, control, motion, [1, 0], **at)
        self.refused("pilot_motion", sense_check, control, "stick left", [1], **at)

    def test_the_force_on_a_pulley_is_two_T_sine_of_half_the_wrap(self):
        for degrees in (5, 60, 120, 180):
            a = math.radians(degrees)
            f = pulley_force(100, 100, [1, 0, 0], [math.cos(a), math.sin(a), 0])
            self.assertAlmostEqual(f.magnitude_N, 200 * math.sin(a / 2))
        both = [Load((10, 0, 0), (0, 1, 0)), Load((10, 0, 0), (0, -1, 0))]
        b = bracket_load(both, [0, 0, 0], 40)
        self.assertEqual((b.magnitude_N, b.moment_Nm, b.margin), (20, (0, 0, 0), 1.0))


class Ends(Refusing):
    def test_all_items_on_in_order_before_both_presses_is_complete(self):
        steps = [slide(i, "B") for i in ITEMS] + [press("A"), press("B")]
        self.assertTrue(slide_on_order(ITEMS, BORES, ENDS, steps).complete)
        back = [slide(i, "A") for i in reversed(ITEMS)]
        self.assertTrue(slide_on_order(ITEMS, BORES, ENDS, back).complete)

    def test_a_forgotten_item_is_only_lost_when_it_passes_no_end(self):
        for forgotten, possible in (("boot", True), ("chafe tube", False), ("sleeve B", False)):
            steps = [slide(i, "B") for i in ITEMS if i != forgotten] + [press("A"), press("B")]
            t = slide_on_order(ITEMS, BORES, ENDS, steps)
            self.assertEqual((t.possible, t.complete), (possible, False), forgotten)
            self.assertEqual(t.missing, (forgotten,))
        wrong = [slide("boot", "A"), slide("sleeve B", "A")]
        self.assertTrue(slide_on_order(ITEMS, BORES, ENDS, wrong).possible)
        wrong += [press("A"), press("B")]
        self.assertFalse(slide_on_order(ITEMS, BORES, ENDS, wrong).possible)

    def test_what_does_not_pass_a_pressed_end_is_refused_at_its_step(self):
        steps = [press("A"), slide("sleeve B", "A")]
        self.refused("steps[1]", slide_on_order, ITEMS, BORES, ENDS, steps)
        twice = [slide("boot", "A"), slide("boot", "B")]
        self.refused("steps[1]", slide_on_order, ITEMS, BORES, ENDS, twice)
        self.refused("ends_m", slide_on_order, ITEMS, BORES, {"A": 0.006}, [])
        self.refused("bores_m", slide_on_order, ITEMS, {}, ENDS, [])

    def test_no_thimble_needs_both_source_and_reason(self):
        gauge = {"presses": 3, "presses_required": 3, "after_m": [0.0086] * 3, "go_max_m": 0.0088}
        self.assertEqual(sleeve_check(True, **gauge).verdict, "in")
        for source, reason, word in (("", "", "out"), ("M-27", "", "out"), ("M-27", "x", "in")):
            s = sleeve_check(False, deviation_source=source, deviation_reason=reason, **gauge)
            self.assertEqual(s.verdict, word)
        self.assertEqual(sleeve_check(True, **(gauge | {"presses": 2})).presses, "out")
        big = sleeve_check(True, **(gauge | {"after_m": [0.0086, 0.0086, 0.0089]}))
        self.assertEqual((big.dimension, big.verdict), ("out", "out"))

    def test_a_proof_load_is_held_without_slip_or_set(self):
        def loaded(limits=(180, 0.006), slip=0.0, **change):
            given_ = {"breaking_N": 8896.443, "applied_N": 5400, "held_s": 185,
                      "length_before_m": 4.1, "length_loaded_m": 4.1535,
                      "length_after_m": 4.104}  # fmt: skip
            return proof_load(**(given_ | change), mark_slip_m=slip, limits=ProofLimits(*limits))

        self.assertEqual(loaded().verdict, "in")
        for change, part in (
            ({"applied_N": 5000}, "force"),
            ({"held_s": 100}, "time"),
            ({"length_after_m": 4.12}, "set_verdict"),
        ):
            result = loaded(**change)
            self.assertEqual((getattr(result, part), result.verdict), ("out", "out"))
        self.assertEqual(loaded(slip=0.001).slip, "out")
        self.refused("applied_N", loaded, applied_N=7200)
        self.refused("hold_required_s", loaded, (None, 0.006))
        self.refused("set_limit_m", loaded, (180, None))
        self.refused("length_loaded_m", loaded, length_loaded_m=4.1)
        self.refused("length_after_m", loaded, length_after_m=4.09)
