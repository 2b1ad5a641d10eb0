"""Facts of bolts, torque, securing, fits, metals and compounds."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.hardware.bolt import Bolt, Limits, Nut, bolt_check
from core.hardware.bolt_choice import choose_bolt
from core.hardware.bulkhead import bulkhead_washers
from core.hardware.compound import Tin, cure_ready, may_use
from core.hardware.fit import PlayJoint, clamped_bushing, fit, free_play, tilt_play
from core.hardware.joint import Joint, Securing, joint_state, safety_choice
from core.hardware.metals import CARBON, galvanic, rivet_layout
from core.hardware.stack import layers, thickness
from core.hardware.torque import Castle, castle_align, castle_washer_swap, torque_setting

PITCH = 0.0254 / 28
B11 = Bolt(0.0111, 0.0222, PITCH, "B-11")
B13 = Bolt(0.0127, 0.0238, PITCH, "B-13")
B14 = Bolt(0.0143, 0.0254, PITCH, "B-14")
B16 = Bolt(0.0159, 0.0270, PITCH, "B-16")
LOCK = Nut("self_locking", 0.0072)
CASTLE = Nut("castellated", 0.0058, slot_depth_m=0.0026, pin_diameter_m=0.0016)
DRILLED = Bolt(0.0127, 0.0225, PITCH, "D-13", drilled=True, hole_from_head_m=0.0195)


class Bolts(TestCase):
    def test_the_page_s_three_cases(self):
        a = bolt_check(0.0125, B13, LOCK, (), (0.0016, 0.0008))
        self.assertAlmostEqual(a.threads_in_bearing_m, -0.0002, 9)
        self.assertAlmostEqual(a.bottom_margin_m, 0.000385714, 8)
        self.assertAlmostEqual(a.protrusion_threads, 1.87402, 5)
        self.assertIs(a.verdict, Verdict.IN)
        b = bolt_check(0.0134, B13, LOCK, (), (0.0016,))
        self.assertEqual(b.failing, ("bearing",))
        c = bolt_check(0.0125, DRILLED, CASTLE, (), (0.0016, 0.0008))
        self.assertAlmostEqual(c.hole_below_top_m, 0.0012, 9)
        self.assertIs(c.verdict, Verdict.IN)

    def test_a_castellated_nut_on_an_undrilled_bolt_is_out_for_the_pin(self):
        check = bolt_check(0.0125, B13, CASTLE, (), (0.0016, 0.0008))
        self.assertIs(check.checks["cotter"], Verdict.OUT)

    def test_tolerances_make_a_sure_bolt_too_close_and_never_the_other_way(self):
        sure = bolt_check(0.0125, B13, LOCK, (), (0.0016, 0.0008))
        loose = bolt_check(0.0125, B13, LOCK, (), (0.0016, 0.0008), Limits(stack_tol_m=0.0005))
        self.assertIs(sure.verdict, Verdict.IN)
        self.assertIs(loose.verdict, Verdict.TOO_CLOSE)

    def test_a_nutplate_without_counterbore_can_never_pass_both_bearing_and_bottoming(self):
        plate = Nut("nutplate", 0.0055)
        for grip in (0.0030, 0.0034, 0.0038, 0.0042, 0.0050):
            bolt = Bolt(grip, grip + 0.009, 0.00079375)
            check = bolt_check(0.003, bolt, plate, (0.0008,), (), Limits(turned="head"))
            self.assertIs(check.verdict, Verdict.OUT)

    def test_what_cannot_be_is_refused_by_name(self):
        for field, call in (
            ("bolt.length_m", lambda: bolt_check(0.01, Bolt(0.01, 0.01, PITCH), LOCK)),
            ("stack_m", lambda: bolt_check(0, B13, LOCK)),
            ("stack_m", lambda: bolt_check(math.nan, B13, LOCK)),
            ("turned", lambda: bolt_check(0.003, B13, Nut("nutplate", 0.005))),
            (
                "nut.slot_depth_m",
                lambda: bolt_check(
                    0.01, B13, Nut("castellated", 0.0058, slot_depth_m=0.001, pin_diameter_m=0.002)
                ),
            ),
            ("nut.kind", lambda: bolt_check(0.01, B13, Nut("wing", 0.005))),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                call()
            self.assertEqual(refused.exception.field, field)

    def test_the_chooser_takes_b_14_for_the_page_s_stack(self):
        c = choose_bolt(0.0134, [B11, B13, B14, B16], LOCK, [0.0008, 0.0016])
        self.assertEqual(
            (c.bolt, c.head_washers_m, c.nut_washers_m), ("B-14", (), (0.0016, 0.0016))
        )
        self.assertAlmostEqual(c.check.protrusion_threads, 1.76378, 5)

    @given(st.floats(0.009, 0.018), st.sampled_from([0.0, 0.0002]))
    def test_what_the_chooser_takes_passes_and_nothing_in_stock_passes_with_fewer(self, stack, tol):
        stock, washers = [B11, B13, B14, B16], [0.0008, 0.0016]
        limits = Limits(stack_tol_m=tol)
        c = choose_bolt(stack, stock, LOCK, washers, limits)
        if not c.fits:
            self.assertTrue(c.nearest and all(n.said for n in c.nearest))
            return
        bolt = next(b for b in stock if b.name == c.bolt)
        again = bolt_check(stack, bolt, LOCK, c.head_washers_m, c.nut_washers_m, limits)
        self.assertIsNot(again.verdict, Verdict.OUT)
        fewer = len(c.head_washers_m) + len(c.nut_washers_m) - 1
        if again.verdict is Verdict.IN and fewer == 1:
            for b in stock:
                for w in washers:
                    one = bolt_check(stack, b, LOCK, (), (w,), limits)
                    self.assertIsNot(one.verdict, Verdict.IN)

    def test_bulkhead_washers_of_the_page_and_none_that_would_do(self):
        page = (0.0022, 0.0008, 0.0008, 0.0105, 0.0060, 0.00127, 0.0110, 0.0113)
        found = bulkhead_washers(*page)
        self.assertEqual(found.washers, 2)
        self.assertAlmostEqual(found.clamp_excess_m, 0.0002, 9)
        self.assertAlmostEqual(found.threads_beyond_nut, 3.38583, 5)
        none = bulkhead_washers(*page, max_washers=1)
        self.assertEqual((none.washers, none.verdict), (None, Verdict.OUT))
        with self.assertRaisesRegex(Refused, "washer_bore_m: the washer does not pass"):
            bulkhead_washers(*page[:-1], 0.0110)


class Torque(TestCase):
    def test_the_page_s_two_settings(self):
        a = torque_setting(0.28, "1/4-28", "tension", 0.9, 0.05)
        self.assertAlmostEqual(a.at_nut_low_Nm, 6.54924, 5)
        self.assertAlmostEqual(a.set_high_Nm, 7.47425, 5)
        b = torque_setting(0.22, "10-32", "shear", 0, 0.04, math.pi / 4)
        self.assertAlmostEqual(b.set_low_Nm, 1.20136, 5)

    @given(st.floats(0, 0.2), st.floats(0.1, 0.5))
    def test_an_extension_at_a_right_angle_needs_no_correction(self, extension, wrench):
        s = torque_setting(wrench, "", "tension", 0.5, extension, math.pi / 2, 5.0, 6.0)
        self.assertAlmostEqual(s.set_low_Nm, 5.5, 9)

    def test_half_a_range_negative_drag_and_an_unknown_thread_are_refused(self):
        for field, call in (
            ("high_Nm", lambda: torque_setting(0.3, "M6", low_Nm=5.0)),
            ("drag_Nm", lambda: torque_setting(0.3, "1/4-28", "shear", -1)),
            ("thread", lambda: torque_setting(0.3, "M6")),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                call()
            self.assertEqual(refused.exception.field, field)

    def test_a_castellated_nut_is_never_backed_off_to_line_up(self):
        self.assertEqual(castle_align(8.4, 5.6, 7.9), Castle(Verdict.OUT, "change washer"))
        self.assertEqual(castle_align(None, 5.6, 7.9), Castle(Verdict.OUT, "change washer"))
        self.assertEqual(castle_align(6.0, 5.6, 7.9), Castle(Verdict.IN, "fit the pin"))

    def test_a_washer_one_pitch_over_six_thicker_moves_the_slot_by_nothing(self):
        options = castle_washer_swap(0.3, 0.0012, 0.0010, [0.0010, 0.0012])
        self.assertAlmostEqual(options[0][1], 0.3, 9)
        self.assertAlmostEqual(options[1][1], 0.3, 9)


class Securing_(TestCase):
    DONE = Joint(True, True, True, True, True, True, "whole")

    def test_every_reason_against_flying_stands_in_its_order(self):
        worst = Joint(True, True, True, True, False, True, "broken", True, True, True)
        self.assertEqual(
            joint_state(worst).why,
            (
                "left temporary",
                "not safetied",
                "no whole witness mark",
                "witness mark broken",
                "disturbed since torque",
                "re-torque due",
            ),
        )
        self.assertTrue(joint_state(self.DONE).may_fly)

    def test_what_cannot_follow_is_refused(self):
        for bad in (
            Joint(True, True, False, True, True),
            Joint(True, True, False, False, False, True, "whole"),
            Joint(False, False, True, False, False),
            Joint(True, True, True, False, False, True, "smudged"),
        ):
            with self.assertRaises(Refused):
                joint_state(bad)

    def test_a_pivot_is_never_held_by_friction_alone(self):
        for device in ("self_locking", "adhesive"):
            s = Securing(True, device, "self_locking", True, False, True, 300.0)
            self.assertIn("bolt is a pivot: castellated nut and cotter pin", safety_choice(s).why)
        good = Securing(True, "cotter", "castellated", True, False, True, 300.0)
        self.assertIs(safety_choice(good).verdict, Verdict.IN)

    def test_heat_reuse_and_the_second_device(self):
        hot = Securing(
            False, "self_locking", "self_locking", False, False, True, 395.0, "nonmetallic"
        )
        self.assertEqual(safety_choice(hot).why, ("too hot for a nonmetallic insert",))
        self.assertEqual(safety_choice(hot).note, "a second retaining device may be required")
        for run, said in (
            (None, "measure the drag of the reused nut"),
            (True, "reused nut runs down by hand: replace"),
        ):
            s = Securing(
                False,
                "self_locking",
                "self_locking",
                False,
                False,
                False,
                300.0,
                reused=True,
                finger_run=run,
            )
            self.assertEqual(safety_choice(s).why, (said,))


class Fits(TestCase):
    A = ((0.012700, 0.012705), (0.012715, 0.012718))
    U = (2e-6, 2e-6)

    def test_a_bushing_that_would_be_pressed_where_it_must_turn(self):
        f = fit(*self.A, "turn", *self.U, 0.000013, 0.000060)
        self.assertTrue(f.do_not_press)
        self.assertEqual((f.fit_class, f.verdict), ("interference", Verdict.OUT))
        self.assertAlmostEqual(f.remove_min_m, 3.66569e-05, 10)
        self.assertAlmostEqual(f.remove_max_m, 6.43431e-05, 10)

    def test_the_same_parts_are_right_where_they_must_clamp(self):
        f = fit(*self.A, "press", *self.U)
        self.assertFalse(f.do_not_press)
        self.assertIs(f.verdict, Verdict.IN)

    @given(st.floats(1e-6, 6e-5))
    def test_taking_off_between_both_limits_makes_the_page_s_bushing_fit(self, off):
        least, most = 3.66569e-05, 6.43431e-05
        shaft = tuple(d - off for d in self.A[1])
        f = fit(self.A[0], shaft, "turn", *self.U, 0.000013, 0.000060)
        if least + 1e-9 <= off <= most - 1e-9:
            self.assertIs(f.verdict, Verdict.IN)
        elif off < least - 1e-7:
            self.assertIsNot(f.verdict, Verdict.IN)

    def test_wrong_units_and_contradicting_limits_are_refused(self):
        for field, call in (
            ("shaft_m", lambda: fit([12.7], [0.0127], "turn")),
            ("clear_max_m", lambda: fit([0.0127], [0.0127], "press", clear_max_m=1e-5)),
            ("clear_min_m", lambda: fit([0.0127], [0.0127], "turn", 0, 0, 2e-5, 1e-5)),
            ("hole_m", lambda: fit([], [0.0127], "turn")),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                call()
            self.assertEqual(refused.exception.field, field)

    def test_floats_tilts_and_free_play_of_the_page(self):
        side = clamped_bushing(0.02030, 0.02018, 0, 1e-5, 0.00005, 0.00025)
        self.assertAlmostEqual(side.float_m, 0.00012, 9)
        self.assertIs(side.verdict, Verdict.IN)
        pin = tilt_play(0.006385, 0.006350, 0.0203, 0.110)
        self.assertAlmostEqual(pin.tilt_rad, 0.00344734, 8)
        self.assertAlmostEqual(pin.end_play_m, 0.000379208, 9)
        joints = [PlayJoint(3e-5, 1), PlayJoint(5e-5, 0.8), PlayJoint(1.2e-4, 1.25)]
        f = free_play(joints, 0.055, 0.28, math.radians(0.5), math.radians(0.05))
        self.assertEqual((f.largest, f.verdict), (2, Verdict.IN))
        self.assertAlmostEqual(f.worst_rad, 0.004, 8)
        self.assertIs(free_play(joints, 0.055, 0.28, None).verdict, Verdict.NOT_MEASURED)
        with self.assertRaisesRegex(Refused, "clearance_m"):
            free_play([PlayJoint(0.06, 1)], 0.055, 0.28, 0.01)

    @given(st.floats(0.005, 0.02), st.floats(1e-6, 4e-4), st.floats(0.01, 0.05))
    def test_a_tilted_pin_touches_both_corners(self, bore, gap, length):
        a = tilt_play(bore, bore - gap, length, 0.1).tilt_rad / 2
        self.assertAlmostEqual(bore * math.cos(a) - length * math.sin(a), bore - gap, 12)


class Metals(TestCase):
    def test_edge_and_pitch_of_the_page(self):
        r = rivet_layout(0.0032, [0.0070, 0.0065], [0.0120, 0.0128], 0.0001)
        self.assertEqual((r.edge, r.pitch), (Verdict.TOO_CLOSE, Verdict.IN))
        self.assertIs(rivet_layout(0.0032, [0.01]).pitch, Verdict.NOT_MEASURED)

    def test_which_corrodes_does_not_depend_on_the_order(self):
        names = ["aluminium 2000 series", "stainless 18 % chromium", "cadmium plate", "zinc"]
        for a in names:
            for b in names:
                one, two = galvanic(a, b), galvanic(b, a)
                self.assertEqual((one.anode, one.verdict), (two.anode, two.verdict))

    def test_carbon_against_aluminium_asks_for_a_barrier_and_nothing_less(self):
        for remedy, verdict in (("wet sealant", Verdict.OUT), ("barrier", Verdict.IN)):
            g = galvanic(CARBON, "aluminium 2000 series", remedy=remedy)
            self.assertEqual((g.verdict, g.difference_V), (verdict, None))
        self.assertFalse(galvanic(CARBON, "silver").remedy_needed)


class Compounds(TestCase):
    POT = [[283.15, 5400], [293.15, 2700], [303.15, 1200]]
    CURE = [[283.15, 86400], [293.15, 43200], [303.15, 18000]]

    def test_a_tin_is_good_through_its_last_day(self):
        self.assertEqual(may_use(Tin(740256), 740256).decision, "use")
        self.assertEqual(may_use(Tin(740256), 740257).decision, "expired")
        with self.assertRaisesRegex(Refused, "life_open_days"):
            may_use(Tin(740300, opened_day=740200), 740256)

    def test_the_page_s_sealant_gels_before_the_work_is_done(self):
        tin = Tin(740300, 740200, 90, 298.15, 294.15, self.POT)
        m = may_use(tin, 740256, 297.15, 300, 1500, 120, 0.25, 1.0)
        self.assertEqual(m.decision, "will gel before you finish")
        self.assertAlmostEqual(m.pot_life_s, 1952.05, 2)
        smaller = may_use(tin, 740256, 297.15, 300, m.work_that_fits_s * 0.8, 0, 0.25, 0)
        self.assertEqual(smaller.decision, "use")

    def test_cure_adds_up_over_a_changing_temperature(self):
        c = cure_ready(self.CURE, [[14400, 293.15], [36000, 285.15], [None, 293.15]])
        self.assertEqual(c.share, 1.0)
        self.assertAlmostEqual(c.ready_after_s, 58523.4, 1)
        c = cure_ready(self.CURE, [[3600, 293.15]])
        self.assertAlmostEqual(c.share, 3600 / 43200)
        self.assertIsNone(c.ready_after_s)

    def test_colder_than_the_coldest_row_counts_nothing_while_the_clock_runs_on(self):
        warm = cure_ready(self.CURE, [[14400, 293.15], [None, 293.15]])
        night = cure_ready(self.CURE, [[14400, 293.15], [28800, 280.15], [None, 293.15]])
        self.assertAlmostEqual(night.ready_after_s, warm.ready_after_s + 28800, 6)
        never = cure_ready(self.CURE, [[3600, 293.15], [None, 270.0]])
        self.assertAlmostEqual(never.share, 3600 / 43200, 12)
        self.assertIsNone(never.ready_after_s)

    @given(st.floats(283.15, 303.15))
    def test_a_constant_temperature_cures_in_the_maker_s_time(self, kelvin):
        ready = cure_ready(self.CURE, [[None, kelvin]]).ready_after_s
        self.assertLessEqual(18000 - 1e-6, ready)
        self.assertLessEqual(ready, 86400 + 1e-6)

    def test_no_answer_outside_the_maker_s_data(self):
        with self.assertRaisesRegex(Refused, r"history\[0\]: outside the maker's data"):
            cure_ready(self.CURE, [[100, 310.0]])
        with self.assertRaisesRegex(Refused, "a warmer point cannot take longer"):
            cure_ready([[283, 10], [293, 20]], [])


class Layers(TestCase):
    def test_layers_are_read_with_or_without_names_and_in_any_unit(self):
        stack = layers("lug 3.2 mm; bushing 0.25 in; 3.2; skin-2 1/16 in", "mm")
        self.assertEqual([s.name for s in stack], ["lug", "bushing", "", "skin-2"])
        self.assertEqual([s.typed for s in stack], ["3.2 mm", "0.25 in", "3.2", "1/16 in"])
        self.assertAlmostEqual(thickness(stack), 0.0032 + 0.00635 + 0.0032 + 0.0015875, 12)
        self.assertEqual(layers("bracket, left 1-1/16 in", "mm")[0].name, "bracket, left")
        self.assertEqual(layers("frame 4900 9.6 mm", "mm")[0].name, "frame 4900")
        self.assertEqual(layers(" ; ", "mm"), ())

    def test_a_layer_without_thickness_is_refused_with_its_words(self):
        for text in ("lug", "lug 3.2 kg", "lug 0 mm", "3.2 mm; spacer"):
            with self.subTest(text=text), self.assertRaises(Refused) as refused:
                layers(text, "mm")
            self.assertEqual(refused.exception.field, "layers")
