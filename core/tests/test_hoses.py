"""Hoses: the shape of least energy by a second way, and laws of length, life and place."""

import math
from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize

from core.basis.verdicts import Verdict
from core.lines.elastic import solve
from core.lines.hose import after_months, hose_due, hose_length, hose_twist
from core.lines.hose_moving import (
    End,
    Obstacle,
    hose_free_length,
    hose_moving,
    pedal_positions,
)
from core.lines.selector import Along, Handle, HoseTo, Over, Port, selector_place
from core.tests.test_tubes import refused

DAY = date(2031, 3, 2)
HOSE = {"length_m": 0.42, "min_radius_m": 0.05, "end_fitting_m": 0.015}
FIXED = ((0.2, 0.0), math.pi / 2)
ENDS = (End((0.056, 0.045), 4.2), End((0.0, 0.06), 4.5), End((-0.06, 0.07), 4.85))


def least_energy(x, y, turning, pieces=80):
    """A chain of straight pieces by general minimisation: its energy."""
    s = (np.arange(pieces) + 0.5) / pieces

    def energy(theta):
        full = np.concatenate([[0.0], theta, [turning]])
        gaps = np.concatenate([[0.5], np.ones(pieces - 1), [0.5]]) / pieces
        return float(np.sum(np.diff(full) ** 2 / gaps) / 2)

    ends = [
        {"type": "eq", "fun": lambda t: np.cos(t).mean() - x},
        {"type": "eq", "fun": lambda t: np.sin(t).mean() - y},
    ]
    best = math.inf
    for a in (-2.0, 0.0, 2.0):
        for b in (-1.5, 0.0, 1.5):
            begin = turning * s + a * np.sin(np.pi * s) + b * np.sin(2 * np.pi * s)
            found = minimize(energy, begin, constraints=ends, options={"maxiter": 150})
            if found.success:
                best = min(best, found.fun)
    return best


class Curve(TestCase):
    def test_no_chain_of_pieces_bends_less(self):
        for x, y, turning in ((0.3, 0.2, 2.4), (0.5, 0.0, 0.0), (0.6, -0.3, -1.0), (0.2, 0.1, 3.1)):
            (shape,) = solve(np.array([[x, y, turning]]))
            self.assertAlmostEqual(shape.energy / least_energy(x, y, turning), 1.0, delta=4e-3)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0.1, 0.9), st.floats(-3.1, 3.1), st.floats(-3.3, 3.3))
    def test_it_ends_where_it_must_and_is_as_long_as_it_is(self, chord, way, turning):
        x, y = chord * math.cos(way), chord * math.sin(way)
        (shape,) = solve(np.array([[x, y, turning]]))
        assume(shape is not None)
        np.testing.assert_allclose(shape.nodes[-1], (x, y), atol=1e-7)
        steps = np.linalg.norm(np.diff(shape.nodes, axis=0), axis=1)
        self.assertAlmostEqual(float(steps.sum()), 1.0, 3)
        # It turns as a whole by its turning: its sharpest is no less than the mean.
        self.assertGreaterEqual(shape.sharpest, abs(turning) - 1e-6)
        # Between two equal forces curvature is linear in position: so is its fit.
        d = np.diff(np.unwrap(np.arctan2(*np.diff(shape.nodes, axis=0).T[::-1])))
        at = shape.nodes[1:-1]
        k = d / steps[:-1]
        fit = np.linalg.lstsq(np.c_[np.ones(len(at)), at], k, rcond=None)[0]
        self.assertLess(
            np.abs(np.c_[np.ones(len(at)), at] @ fit - k).max(), 0.02 * shape.sharpest + 1e-3
        )

    def test_a_quarter_and_a_half_circle_bend_by_their_radius(self):
        for turning in (math.pi / 2, math.pi, -math.pi / 2):
            r = 1.0 / abs(turning)
            end = [r * math.sin(abs(turning)), math.copysign(r * (1 - math.cos(turning)), turning)]
            (shape,) = solve(np.array([[*end, turning]]))
            self.assertAlmostEqual(shape.sharpest, abs(turning), 6)

    @settings(max_examples=25, deadline=None)
    @given(st.floats(-3, 3), st.floats(-1, 1), st.floats(-1, 1), st.booleans())
    def test_a_turned_moved_or_mirrored_hose_is_the_same_hose(self, turn, dx, dy, mirror):
        c, s, sign = math.cos(turn), math.sin(turn), -1.0 if mirror else 1.0

        def moved(p):
            x, y = p[0], sign * p[1]
            return (c * x - s * y + dx, s * x + c * y + dy)

        one = hose_moving(*FIXED, ENDS, **HOSE)
        other = hose_moving(
            moved(FIXED[0]), sign * FIXED[1] + turn,
            tuple(End(moved(e.point_m), sign * e.angle_rad + turn) for e in ENDS), **HOSE,
        )  # fmt: skip
        for a, b in zip(one.positions, other.positions, strict=True):
            self.assertEqual(a.finding, b.finding)
            self.assertAlmostEqual(a.min_radius_m, b.min_radius_m, 7)
            self.assertAlmostEqual(a.slack, b.slack)

    def test_beyond_its_fittings_an_obstacle_is_as_far_as_from_their_ends(self):
        fixed, angle = FIXED
        end = ENDS[1]
        for at, way in (
            (fixed, (-math.cos(angle), -math.sin(angle))),
            (end.point_m, (math.cos(end.angle_rad), math.sin(end.angle_rad))),
        ):
            beyond = (at[0] + 0.02 * way[0], at[1] + 0.02 * way[1])
            found = hose_moving(
                *FIXED, (end,), **HOSE, obstacles=(Obstacle(beyond, 0.002),), hose_od_m=0.01
            )
            self.assertAlmostEqual(found.positions[0].clearance_m, 0.02 - 0.002 - 0.005, 9)

    def test_scaled_twice_as_large_it_bends_half_as_much(self):
        small = hose_moving(*FIXED, ENDS, **HOSE)
        twice = hose_moving(
            (0.4, 0.0), FIXED[1],
            tuple(End((2 * e.point_m[0], 2 * e.point_m[1]), e.angle_rad) for e in ENDS),
            **{k: 2 * v for k, v in HOSE.items()},
        )  # fmt: skip
        self.assertAlmostEqual(twice.tightest_radius_m, 2 * small.tightest_radius_m, 7)


class Moving(TestCase):
    def test_the_first_finding_that_applies_is_told(self):
        def finding(**more):
            return hose_moving(*FIXED, ENDS[1:2], **HOSE | more).positions[0].finding

        self.assertEqual(finding(), "none")
        self.assertEqual(finding(length_m=0.2), "hose_too_short")
        self.assertEqual(finding(min_radius_m=0.2), "bend_too_tight")
        self.assertEqual(finding(slack_min=0.6), "too_little_slack")
        near = {"obstacles": (Obstacle((0.1, 0.19), 0.02),), "hose_od_m": 0.012}
        self.assertEqual(finding(**near), "chafe")
        refused("hose_od_m", finding, obstacles=near["obstacles"])
        refused("end_fitting_m", finding, end_fitting_m=0.21)
        refused("positions", hose_moving, *FIXED, (), **HOSE)

    def test_an_obstacle_further_off_is_cleared_by_as_much(self):
        def gap(radius, y):
            around = (Obstacle((0.1, y), radius),)
            return (
                hose_moving(*FIXED, ENDS[1:2], **HOSE, obstacles=around, hose_od_m=0.012)
                .positions[0]
                .clearance_m
            )

        self.assertAlmostEqual(gap(0.002, 0.3) - gap(0.005, 0.3), 0.003)
        self.assertAlmostEqual(gap(0.002, 1.3) - gap(0.002, 1.2), 0.1, 3)

    @settings(max_examples=8, deadline=None)
    @given(st.floats(0.03, 0.055), st.floats(0.0, 0.2))
    def test_the_shortest_hose_does_and_one_a_little_shorter_does_not(self, radius, slack):
        found = hose_free_length(*FIXED, ENDS, radius, 1.5, 0.015, slack)

        def verdict(length):
            return hose_moving(
                *FIXED, ENDS, length_m=length, min_radius_m=radius, end_fitting_m=0.015,
                slack_min=slack,
            ).verdict  # fmt: skip

        self.assertIs(verdict(found.length_m), Verdict.IN)
        self.assertIs(verdict(found.length_m - 1e-4), Verdict.OUT)
        refused(
            "max_length_m",
            hose_free_length,
            *FIXED,
            ENDS,
            radius,
            found.length_m - 1e-3,
            0.015,
            slack,
        )

    @given(st.floats(-0.5, 0.5), st.floats(-0.1, 0.1))
    def test_a_pedal_takes_the_end_round_its_pivot(self, angle, moved):
        (end,) = pedal_positions((0.1, 0.2), (0.1, 0.5), 4.0, [angle], [(moved, 0)]).positions
        self.assertAlmostEqual(math.dist(end.point_m, (0.1 + moved, 0.2)), 0.3)
        self.assertAlmostEqual(end.angle_rad, 4.0 + angle)


class LengthAndLife(TestCase):
    @given(st.floats(0.1, 3), st.floats(0.5, 1.5))
    def test_a_hose_between_shortest_and_longest_is_right(self, route, share):
        bounds = hose_length(route)
        hose = bounds.shortest_m * share
        found = hose_length(route, hose)
        right = bounds.shortest_m <= hose <= bounds.longest_m
        if abs(hose - bounds.shortest_m) > 1e-6 and abs(hose - bounds.longest_m) > 1e-6:
            self.assertEqual(found.finding == "none", right)
        self.assertAlmostEqual(hose * (1 - found.slack), route)

    @given(st.floats(-2, 2), st.floats(0, 0.2))
    def test_a_twist_counts_either_way(self, turn, u):
        one, other = hose_twist(turn, 0.6, 1.0, u), hose_twist(-turn, 0.6, 1.0, u)
        self.assertEqual(one, other)
        if abs(turn) + 2 * u < 0.599:
            self.assertIs(one.verdict, Verdict.IN)

    @given(st.integers(1, 200), st.integers(1, 200), st.integers(0, 4000))
    def test_the_earlier_end_governs_and_the_days_are_counted_to_it(self, cure, install, ago):
        made = DAY - timedelta(days=ago + 30)
        put = DAY - timedelta(days=ago)
        found = hose_due(DAY, made, put, cure, install)
        ends = {"cure": after_months(made, cure), "install": after_months(put, install)}
        self.assertEqual(found.due, min(ends.values()))
        self.assertEqual(found.due, ends[found.basis])
        self.assertEqual(DAY + timedelta(days=found.days_left), found.due)
        self.assertEqual(found.status == "past life", found.due < DAY)

    def test_months_end_on_their_last_day_and_lives_need_their_dates(self):
        self.assertEqual(after_months(date(2024, 8, 31), 6), date(2025, 2, 28))
        self.assertEqual(after_months(date(2023, 8, 31), 6), date(2024, 2, 29))
        self.assertEqual(hose_due(DAY).status, "on condition")
        self.assertEqual(hose_due(DAY, DAY, DAY, 12, 12).basis, "cure")
        refused("cure_date", hose_due, DAY, None, DAY, 12)
        refused("install_date", hose_due, DAY, DAY, DAY - timedelta(days=1))
        refused("life_from_cure_months", hose_due, DAY, DAY, None, 1.5)
        for days, status in ((90, "due soon"), (91, "in life"), (0, "due soon")):
            put = after_months(DAY + timedelta(days=days), -12)
            self.assertEqual(hose_due(DAY, None, put, None, 12).status, status)


class Selector(TestCase):
    PORTS = (Port("left", 2.4, 0.03), Port("out", -1.57, 0.035))
    HOSES = (
        HoseTo("one", "left", (-0.35, 0.22), 0.0, 0.46, 0.045, 0.02),
        HoseTo("feed", "out", (0.25, -0.25), math.pi / 2, 0.44, 0.045, 0.02),
    )
    HANDLE = Handle(0.05, 0.3, 2.0)
    PANEL = (-0.12, -0.1, 0.16, 0.12)

    def place(self, **more):
        return selector_place(self.PORTS, self.HOSES, self.HANDLE, self.PANEL, **more)

    def test_the_best_of_all_is_the_best_of_each_alone(self):
        grid = Over((-0.04, 0.0), (0.08, 0.04), (2, 1))
        best = self.place(rectangle=grid, rotation_step_rad=math.pi / 2).best
        alone = [
            self.place(line=Along((u, w), (u, w), 0), rotation_step_rad=math.pi / 2).best
            for u in (-0.04, 0.02, 0.08)
            for w in (0.0, 0.04)
        ]
        self.assertAlmostEqual(best.margin, max(b.margin for b in alone if b), 6)

    def test_what_cannot_be_placed_is_refused_or_out(self):
        here = Along((0, 0), (0, 0), 0)
        refused("line", self.place)
        refused("line", self.place, line=here, rectangle=Over((0, 0), (0, 0), (0, 0)))
        refused("rotation_step_rad", self.place, line=here, rotation_step_rad=1.0)
        tight = tuple(
            HoseTo(h.id, h.port, h.fixed_point_m, h.fixed_angle_rad, 0.3, 0.045, 0.02)
            for h in self.HOSES
        )
        found = selector_place(self.PORTS, tight, self.HANDLE, self.PANEL, line=here)
        self.assertEqual((found.best, found.verdict), (None, Verdict.OUT))
