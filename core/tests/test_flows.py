"""Fuel and air in lines: against a general library, by laws, and by working it backwards."""

import math
from unittest import TestCase

import fluids
import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from core.basis.verdicts import Verdict
from core.lines.air import (
    airspeed_of,
    altitude_of,
    aoa_pressure,
    column_pressure,
    impact_pressure,
    pitot_column,
    pressure_at,
    static_suction,
)
from core.lines.flow import Candidate, Element, friction_factor, line_compare, pressure_drop
from core.lines.fuel_flow import Attitude, earth_height, fuel_flow
from core.lines.leak import leak_decay, leak_wait, pitot_leak, static_leak
from core.lines.pitot import Instrument, Segment, line_lag, low_points, probe_rigidity
from core.lines.pitot import test_point as at_point
from core.lines.vapour import Piece, true_vapour_pressure, vapour_margin
from core.tests.test_tubes import refused

RHO, MU = 720.0, 0.00052
LINE = (
    Element("screen", dp_ref_Pa=300.0, q_ref_m3_s=1e-5),
    Element("tube", 0.0078, 1.45, 2.6, 1.5e-6),
    Element("valve", 0.0062, k=4.2),
)
flows = st.floats(1e-7, 3e-4)
bores = st.floats(0.002, 0.02)


class Friction(TestCase):
    @given(st.floats(4000, 1e8), st.floats(0, 0.05))
    def test_turbulent_is_colebrook_s(self, Re, eD):
        self.assertAlmostEqual(friction_factor(Re, eD) / fluids.friction.Colebrook(Re, eD), 1.0, 9)

    @given(st.floats(1e-3, 2000))
    def test_laminar_is_poiseuille_s_whatever_the_wall(self, Re):
        self.assertAlmostEqual(friction_factor(Re, 0.03) * Re, 64.0)

    @given(st.floats(0, 0.05))
    def test_between_them_it_neither_jumps_nor_bends(self, eD):
        low, high = friction_factor(2000, eD), friction_factor(4000, eD)
        self.assertAlmostEqual(friction_factor(2000.0001, eD), low, 6)
        self.assertAlmostEqual(friction_factor(3999.9999, eD), high, 6)
        self.assertAlmostEqual(friction_factor(3000, eD), (low + high) / 2)
        refused("eD", friction_factor, 3000, eD + 0.0501)

    @given(bores, st.floats(0.01, 5), st.floats(0, 10), flows)
    def test_a_drop_is_that_of_a_direct_calculation(self, bore, long, k, flow):
        (e,) = pressure_drop((Element("x", bore, long, k),), flow, RHO, MU).elements
        speed = flow / (math.pi * bore**2 / 4)
        Re = fluids.Reynolds(V=speed, D=bore, rho=RHO, mu=MU)
        assume(not 1999 < Re < 4001)
        f = 64 / Re if Re < 2000 else fluids.friction.Colebrook(Re, 0.0)
        direct = fluids.dP_from_K(fluids.K_from_f(f, long, bore) + k, rho=RHO, V=speed)
        self.assertAlmostEqual(e.loss_Pa / direct, 1.0, 9)

    @given(flows, st.floats(1.01, 3))
    def test_more_flow_loses_more_and_a_wider_bore_less(self, flow, more):
        self.assertGreater(
            pressure_drop(LINE, flow * more, RHO, MU).total_Pa,
            pressure_drop(LINE, flow, RHO, MU).total_Pa,
        )
        wide = Element("tube", 0.0078 * more, 1.45, 2.6, 1.5e-6)
        one, other = (pressure_drop((e,), flow, RHO, MU).total_Pa for e in (LINE[1], wide))
        self.assertLess(other, one)

    def test_an_element_says_what_it_is(self):
        for field, e in (
            ("elements", Element("x")),
            ("bore_m", Element("x", length_m=1.0, dp_ref_Pa=1.0, q_ref_m3_s=1.0)),
            ("q_ref_m3_s", Element("x", dp_ref_Pa=1.0)),
            ("dp_ref_Pa", Element("x", 0.01, q_ref_m3_s=1.0)),
            ("roughness_m", Element("x", 0.01, roughness_m=0.000501)),
        ):
            refused(field, pressure_drop, (e,), 1e-5, RHO, MU)
        refused("elements", pressure_drop, (LINE[0], LINE[0]), 1e-5, RHO, MU)

    def test_a_line_that_is_replaced_costs_each_time(self):
        def cost(life, horizon):
            one = Candidate("a", 0.008, 0.01, 0.1, 0.05, price=10.0, life_months=life)
            found = line_compare((one,), 1.0, 1e-5, RHO, MU, horizon).candidates[0]
            return found.fits, found.cost

        self.assertEqual(cost(60, 240), (4, 40.0))
        self.assertEqual(cost(60, 241), (5, 50.0))
        self.assertEqual(cost(None, 999), (1, 10.0))


class Feeding(TestCase):
    def feed(self, feed="gravity", attitudes=(Attitude(),), **more):
        asked = {"takeoff_flow_m3_s": 8e-6, "fuel_surface_m": (2.3, -0.6, 0.96)}
        asked |= {"outlet_m": (1.2, -0.1, 0.15), "density_kg_m3": RHO, "viscosity_Pa_s": MU}
        return fuel_flow(LINE, feed=feed, attitudes=attitudes, **asked | more)

    @given(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3))
    def test_what_drives_is_what_is_lost(self, pitch, roll):
        found = self.feed(attitudes=(Attitude(pitch, roll),)).attitudes[0]
        if found.head_m <= 0:
            self.assertEqual(found.flow_m3_s, 0)
        else:
            lost = pressure_drop(LINE, found.flow_m3_s, RHO, MU).total_Pa
            self.assertAlmostEqual(lost / (RHO * 9.80665 * found.head_m), 1.0, 9)

    def test_the_factor_of_its_feed_and_what_returns_is_required(self):
        for feed, factor in (("gravity", 1.5), ("pump", 1.25)):
            for back in (0.0, 1e-5):
                found = self.feed(feed, return_flow_m3_s=back)
                self.assertAlmostEqual(found.required_m3_s, factor * 8e-6 + back)
                self.assertAlmostEqual(found.achieved_m3_s / found.required_m3_s - 1, found.margin)

    def test_a_pump_adds_what_its_curve_says_and_no_more(self):
        curve = [[0, 40000], [1e-5, 30000], [4e-5, 5000]]
        more = {"pump_curve": curve, "inlet_pressure_needed_Pa": 10000.0}
        found = self.feed("pump", **more).attitudes[0]
        q = found.flow_m3_s
        rise = np.interp(q, [c[0] for c in curve], [c[1] for c in curve])
        lost = pressure_drop(LINE, q, RHO, MU).total_Pa
        self.assertAlmostEqual((RHO * 9.80665 * found.head_m - 10000 + rise) / lost, 1.0, 9)
        short = self.feed("pump", pump_curve=[[0, 40000], [1e-6, 39000]]).attitudes[0]
        self.assertEqual((short.flow_m3_s, short.limited_by), (1e-6, "end of pump curve"))
        for bad in ([[0, 1]], [[1, 1], [2, 1]], [[0, 1], [0, 1]], [[0, 1], [1, 2]]):
            refused("pump_curve", self.feed, "pump", pump_curve=bad)

    def test_the_worst_attitude_is_the_first_of_least_flow(self):
        found = self.feed(attitudes=(Attitude(0.1), Attitude(0.3), Attitude(0.3), Attitude(-0.2)))
        self.assertEqual(found.worst, 1)
        own = self.feed(attitudes=(Attitude(), Attitude(0, 0, (2.3, -0.6, 0.5))))
        self.assertEqual(own.worst, 1)
        refused("pitch_rad", self.feed, attitudes=(Attitude(1.6),))

    @given(st.floats(-1.5, 1.5), st.floats(-1.5, 1.5))
    def test_height_turns_with_the_aircraft(self, pitch, roll):
        self.assertAlmostEqual(earth_height((1, 0, 0), pitch, roll), -math.sin(pitch))
        self.assertAlmostEqual(earth_height((0, 1, 0), 0, roll), -math.sin(roll))


class Vapour(TestCase):
    LINE = (Piece("tube", 0.0078, 1.0, 1.0, end_m=(1, 0, 0.2), temperature_K=300.0),)

    def margin(self, **more):
        asked = {"fuel_surface_m": (1, 0, 0.5), "flow_m3_s": 8e-6, "density_kg_m3": RHO}
        asked |= {"viscosity_Pa_s": MU, "altitude_m": 1000.0}
        curve = {"vapour_curve": [[290, 3e4], [310, 6e4]], "vapour_rel_U": 0.05}
        return vapour_margin(self.LINE, **asked | (more if "rvp_Pa" in more else curve | more))

    @given(st.floats(-900, 10000), st.floats(10, 900))
    def test_higher_there_is_less_left_by_what_the_air_is_thinner(self, altitude, climb):
        low, high = (
            self.margin(altitude_m=a).least_margin_Pa for a in (altitude, altitude + climb)
        )
        self.assertAlmostEqual(low - high, pressure_at(altitude) - pressure_at(altitude + climb), 5)

    def test_a_measured_curve_is_met_at_its_points_and_straight_in_between(self):
        for t, p in ((290.0, 3e4), (310.0, 6e4), (2 / (1 / 290 + 1 / 310), math.sqrt(18e8))):
            line = (Piece("tube", 0.0078, 1.0, 1.0, end_m=(1, 0, 0.2), temperature_K=t),)
            found = vapour_margin(
                line, (1, 0, 0.5), 8e-6, RHO, MU, 1000.0,
                vapour_curve=[[290, 3e4], [310, 6e4]], vapour_rel_U=0.05,
            ).points[0]  # fmt: skip
            self.assertAlmostEqual(found.vapour_Pa, p, 4)
            self.assertAlmostEqual(found.U_Pa, 0.05 * p, 4)

    def test_the_verdict_is_of_what_is_wanted(self):
        (point,) = self.margin().points
        for wanted, verdict in (
            (point.margin_Pa - point.U_Pa - 1, Verdict.IN),
            (point.margin_Pa - point.U_Pa + 1, Verdict.TOO_CLOSE),
            (point.margin_Pa + point.U_Pa + 1, Verdict.OUT),
        ):
            self.assertIs(self.margin(margin_wanted_Pa=wanted).verdict, verdict)

    def test_one_source_of_vapour_pressure_and_its_own_uncertainty(self):
        refused(
            "rvp_Pa", self.margin, rvp_Pa=5e4, fuel="motor gasoline", vapour_curve=[[1, 1], [2, 2]]
        )
        refused("vapour_rel_U", self.margin, rvp_Pa=5e4, fuel="motor gasoline", vapour_rel_U=0.1)
        refused("vapour_rel_U", self.margin, vapour_rel_U=None)
        refused("fuel", self.margin, rvp_Pa=5e4)
        refused("vapour_curve", self.margin, vapour_curve=[[301, 1], [310, 2]])
        refused("vapour_curve", self.margin, vapour_curve=[[290, 2], [310, 1]])

    @given(
        st.floats(2.1, 14.9),
        st.floats(256, 333),
        st.sampled_from(["motor gasoline", "aviation gasoline"]),
    )
    def test_warmer_fuel_and_lighter_fuel_boil_more(self, psi, t, fuel):
        p = true_vapour_pressure(psi * 6894.757293, t, fuel)
        self.assertGreater(true_vapour_pressure(psi * 6894.757293, min(t + 0.1, 333.2), fuel), p)
        self.assertGreater(true_vapour_pressure((psi + 0.1) * 6894.757293, t, fuel), p)


class Leaks(TestCase):
    TANK = {"volume_m3": 0.052, "max_test_Pa": 3400.0, "duration_s": 3600.0}
    SURE = {"u_gauge_Pa": 5.0, "u_temp_K": 0.05, "u_baro_Pa": 5.0}

    def decay(self, end, t2=294.0, b2=101000.0, **more):
        return leak_decay(
            start_gauge_Pa=2400.0, end_gauge_Pa=end, start_temp_K=294.0, end_temp_K=t2,
            start_baro_Pa=101000.0, end_baro_Pa=b2, allowed_std_m3_s=2e-8,
            **self.TANK | self.SURE | more,
        )  # fmt: skip

    @given(st.floats(-1.5, 1.5), st.floats(-300, 300), st.floats(0, 8e-8))
    def test_neither_warmth_nor_weather_alone_changes_what_leaks(self, warmer, weather, leak):
        """Air is taken out, then warmed and weighed down: the rule finds what was taken."""
        t2, b2 = 294.0 + warmer, 101000.0 + weather
        left = (2400.0 + 101000.0) / 294.0 - leak * 3600.0 * 101325.0 / 288.15 / 0.052
        end = left * t2 - b2
        assume(end < 3400.0)
        found = self.decay(end, t2, b2)
        self.assertAlmostEqual(found.leak_std_m3_s, leak, 14)
        still = self.decay(left * 294.0 - 101000.0)
        self.assertIs(found.verdict, still.verdict) if abs(leak - 2e-8) > 1.2e-8 else None
        self.assertAlmostEqual(found.no_leak_end_gauge_Pa, 103400.0 * t2 / 294.0 - b2)

    def test_air_that_did_not_settle_is_not_measured(self):
        self.assertIs(self.decay(2900.0).verdict, Verdict.NOT_MEASURED)
        self.assertTrue(self.decay(1900.0).large_drop)
        self.assertFalse(self.decay(1950.0).large_drop)

    def test_what_a_tank_does_not_endure_is_refused(self):
        refused("end_gauge_Pa", self.decay, 3401.0)
        refused("start_gauge_Pa", self.decay, 2000.0, max_test_Pa=2399.0)
        refused("end_temp_K", self.decay, 2400.0, t2=21.0)
        refused("end_baro_Pa", self.decay, 2400.0, b2=1013.0)

    @given(st.floats(0.01, 1), st.floats(0.1, 0.5))
    def test_after_the_wait_the_uncertainty_is_the_share_that_was_asked(self, volume, share):
        wait = leak_wait(volume, 2400.0, 294.0, 101000.0, 2e-8, 5.0, 0.05, 5.0, share)
        still = leak_decay(
            volume, 2400.0, 2400.0, 294.0, 294.0, 101000.0, 101000.0, wait.wait_s, 3400.0, 2e-8,
            5.0, 0.05, 5.0,
        )  # fmt: skip
        self.assertAlmostEqual(still.U_std_m3_s / (share * 2e-8), 1.0, 9)
        leaked = leak_decay(
            volume, 2400.0, 2400.0 - wait.gauge_drop_at_allowed_Pa, 294.0, 294.0, 101000.0,
            101000.0, wait.wait_s, 1e9,
        )  # fmt: skip
        self.assertAlmostEqual(leaked.leak_std_m3_s / 2e-8, 1.0, 9)
        refused("u_gauge_Pa", leak_wait, volume, 2400.0, 294.0, 101000.0, 2e-8, 0, 0, 0)

    @given(st.floats(60, 600), st.floats(0.001, 0.3))
    def test_the_first_minute_of_a_leak_counts_however_long_it_was_watched(self, seconds, rate):
        high = 305.0 * math.exp(-rate * seconds / 60)
        assume(high > 1e-6)
        found = static_leak(100.0, 405.0, 100.0 + high, seconds)
        self.assertAlmostEqual(found.loss_m_per_min, 305.0 * (1 - math.exp(-rate)), 6)
        q = impact_pressure(60.0)
        end = airspeed_of(q * math.exp(-rate * seconds / 60))
        told = pitot_leak(60.0, end, seconds, 1.0)
        self.assertAlmostEqual(told.drop_m_s_per_min, 60.0 - airspeed_of(q * math.exp(-rate)), 6)

    def test_readings_of_a_minute_count_each_once(self):
        self.assertAlmostEqual(
            static_leak(100, 410, 400, 60, 1.5).U_m_per_min, 2 * math.sqrt(2) * 1.5, 6
        )
        for field, asked in (
            ("duration_s", (100, 410, 400, 59)), ("end_altitude_m", (100, 410, 411, 60)),
            ("end_altitude_m", (100, 410, 100, 60)), ("start_altitude_m", (100, 380, 370, 60)),
        ):  # fmt: skip
            refused(field, static_leak, *asked)
        refused("end_airspeed_m_s", pitot_leak, 60, 0, 60, 1)
        refused("end_airspeed_m_s", pitot_leak, 60, 61, 60, 1)


class Air(TestCase):
    @given(st.floats(0, 299), st.floats(-1000, 11000))
    def test_speed_and_height_come_back(self, speed, height):
        self.assertAlmostEqual(airspeed_of(impact_pressure(speed)), speed, 6)
        self.assertAlmostEqual(altitude_of(pressure_at(height)), height, 6)
        self.assertAlmostEqual(column_pressure(1.0), 998.2 * 9.80665)
        told = pitot_column(speed)
        if speed > 1:
            self.assertAlmostEqual(column_pressure(told.column_m), told.impact_Pa, 6)

    def test_slow_air_presses_with_half_its_density_times_its_speed_squared(self):
        self.assertAlmostEqual(impact_pressure(10.0) / (0.5 * 1.225 * 100), 1.0, 3)
        self.assertAlmostEqual(aoa_pressure(35.0, 1.0).pitot_minus_port_Pa, 0.0)

    def test_suction_makes_the_climb_that_was_asked(self):
        found = static_suction(98900.0, 304.8)
        self.assertAlmostEqual(
            altitude_of(98900.0 - found.suction_Pa) - altitude_of(98900.0), 304.8
        )
        self.assertAlmostEqual(impact_pressure(found.asi_if_pitot_open_m_s), found.suction_Pa, 6)

    def test_each_limit_of_each_instrument_holds(self):
        one = Instrument("one", 60.0, 3000.0, -300.0, 10.0, 2000.0)
        cap = at_point((one,)).pitot_cap_Pa
        self.assertAlmostEqual(cap, impact_pressure(60.0))
        self.assertTrue(at_point((one,), cap - 1, aoa_Pa=cap - 1).ok)
        low = pressure_at(3001) - 101325
        for field, point in (
            ("pitot_Pa", {"pitot_Pa": cap + 1, "aoa_Pa": cap}), ("pitot_Pa", {"pitot_Pa": -1}),
            ("static_Pa", {"pitot_Pa": low, "static_Pa": low, "aoa_Pa": low}),
            ("static_Pa", {"pitot_Pa": 4000, "static_Pa": 4000, "aoa_Pa": 4000}),
            ("rate_m_s", {"rate_m_s": -10.1}), ("aoa_Pa", {"aoa_Pa": -2001}),
        ):  # fmt: skip
            self.assertIn("one", refused(field, at_point, (one,), **point))

    def test_a_line_lags_as_one_of_two_pieces_does(self):
        whole = line_lag((Segment("a", 2.0, 0.004, end_volume_m3=1e-5),), 1500.0, 5.0)
        split = line_lag(
            (Segment("b", 1.0, 0.004), Segment("a", 1.0, 0.004, "b", 1e-5)), 1500.0, 5.0
        )
        self.assertAlmostEqual(split.segments["a"].lag_s, whole.segments["a"].lag_s)
        self.assertAlmostEqual(split.total_volume_m3, whole.total_volume_m3)
        self.assertAlmostEqual(whole.segments["a"].altitude_error_m, 5 * whole.segments["a"].lag_s)
        refused("parent", line_lag, (Segment("a", 1, 0.004, "b"), Segment("b", 1, 0.004, "a")), 0.0)
        refused("parent", line_lag, (Segment("a", 1, 0.004, "x"),), 0.0)

    @settings(max_examples=60)
    @given(st.permutations(range(9)), st.sampled_from([0.0, 0.01]))
    def test_water_stands_where_it_can_run_nowhere(self, heights, slack):
        heights = [h * 0.007 for h in heights]
        line = [(float(i), 0.0, h) for i, h in enumerate(heights)]
        told = low_points(line, tolerance_m=slack).low_points

        def stands(i):
            left = next(
                (h for h in heights[:i][::-1] if h < heights[i] or h > heights[i] + slack), -1
            )
            right = next(
                (h for h in heights[i + 1 :] if h < heights[i] or h > heights[i] + slack), -1
            )
            return left > heights[i] and right > heights[i]

        self.assertEqual(list(told), [i for i in range(len(heights)) if stands(i)])
        self.assertEqual(low_points(line, told, slack).undrained, ())

    def test_a_probe_gives_twice_as_much_under_twice_the_load(self):
        asked = (20.0, 0.18, 0.0011, 0.2)
        one, two = (probe_rigidity(*asked, load, 0.12, 0.005) for load in (6.5, 13.0))
        self.assertAlmostEqual(two.angle_rad, 2 * one.angle_rad)
        self.assertAlmostEqual(one.stiffness_Nm_per_rad * one.angle_rad, 6.5 * 0.12)
        self.assertAlmostEqual(one.margin_rad, 0.005 - one.angle_rad)
