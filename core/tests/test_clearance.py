"""Laws of the least distance: what moves, what turns with the whole aircraft, what is missed."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.clearance.allowance import segment_allowances, slack_reach, span_allowance, taut_push
from core.clearance.distance import BoxIn, between, capsule_box_gap, capsule_gap
from core.clearance.grid import cell_bound, grid_bound
from core.clearance.many import Posed, every_pair, near_pairs
from core.clearance.motion import MovingIn, RotateIn, StepIn, body_of
from core.clearance.search import MOST_EVALUATIONS, moving_gap
from core.clearance.verdict import gap_uncertainty, gap_verdict

coordinate = st.floats(-1.0, 1.0).map(lambda x: round(x, 4))
point = st.tuples(coordinate, coordinate, coordinate)
seeds = st.integers(0, 10**6)


def turned(seed: int) -> np.ndarray:
    """Any rotation."""
    q, r = np.linalg.qr(np.random.default_rng(seed).normal(size=(3, 3)))
    q = q * np.sign(np.diag(r))
    return q if np.linalg.det(q) > 0 else -q


def line(rng, corners: int = 3) -> np.ndarray:
    return np.cumsum(rng.normal(0, 0.15, (corners, 3)), axis=0)


def moving(seed: int) -> tuple[MovingIn, MovingIn]:
    """An arm that turns (and slides), beside a run that turns or stands."""
    rng = np.random.default_rng(seed)
    a, b = line(rng), line(rng) + rng.normal(0, 0.3, 3)
    arm = (
        StepIn(0, RotateIn(tuple(a[0]), tuple(rng.normal(0, 1, 3)), float(rng.uniform(-2, 2)))),
        StepIn(1, translate=tuple(rng.normal(0, 0.2, 3))),
    )
    other = (
        (StepIn(1, RotateIn(tuple(b[0]), tuple(rng.normal(0, 1, 3)), float(rng.uniform(-2, 2)))),)
        if seed % 2
        else ()
    )
    return MovingIn(a.tolist(), 0.008, arm), MovingIn(b.tolist(), 0.005, other)


def densely(a: MovingIn, b: MovingIn, lo, hi, count: int, seed: int) -> float:
    """The least gap of many random positions: a second way to it."""
    rng = np.random.default_rng(seed)
    q = rng.uniform(lo, hi, (count, 2))
    p, r = body_of(a, "a", 2).at(q), body_of(b, "b", 2).at(q)
    d, _, _ = between(p[:, :-1, None], p[:, 1:, None], r[:, None, :-1], r[:, None, 1:])
    return float(d.min()) - a.radius - b.radius


class Straight(TestCase):
    @given(point, point, point, point)
    def test_no_point_of_two_pieces_is_nearer_than_their_distance(self, a0, a1, b0, b1):
        found = capsule_gap(a0, a1, 0.0, b0, b1, 0.0)
        shares = np.linspace(0, 1, 41)
        p = np.array(a0) + shares[:, None] * np.subtract(a1, a0)
        q = np.array(b0) + shares[:, None] * np.subtract(b1, b0)
        least = np.linalg.norm(p[:, None] - q[None], axis=2).min()
        self.assertLessEqual(found.distance, least + 1e-12)
        self.assertGreaterEqual(
            found.distance, least - math.dist(a0, a1) / 40 - math.dist(b0, b1) / 40 - 1e-9
        )
        self.assertAlmostEqual(math.dist(found.on_a, found.on_b), found.distance, places=9)

    @given(point, point, point, point)
    def test_it_is_the_same_from_the_other_and_from_either_end(self, a0, a1, b0, b1):
        one = capsule_gap(a0, a1, 0.002, b0, b1, 0.003).gap
        self.assertAlmostEqual(one, capsule_gap(b0, b1, 0.003, a0, a1, 0.002).gap, places=9)
        self.assertAlmostEqual(one, capsule_gap(a1, a0, 0.002, b0, b1, 0.003).gap, places=9)

    @given(point, point, point, seeds)
    def test_a_box_is_as_near_as_its_nearest_point(self, a0, a1, centre, seed):
        axes, half = turned(seed), np.array([0.3, 0.1, 0.2])
        found = capsule_box_gap(a0, a1, 0.004, BoxIn(centre, tuple(half), axes.tolist()))
        p = np.array(a0) + np.linspace(0, 1, 201)[:, None] * np.subtract(a1, a0)
        inside = (p - centre) @ axes.T
        sampled = np.linalg.norm(inside - np.clip(inside, -half, half), axis=1).min()
        self.assertLessEqual(found.distance, sampled + 1e-9)
        self.assertGreaterEqual(found.distance, sampled - math.dist(a0, a1) / 200 - 1e-9)
        self.assertAlmostEqual(found.gap, found.distance - 0.004, places=12)
        self.assertAlmostEqual(math.dist(found.on_a, found.on_b), found.distance, places=7)


class Moving(TestCase):
    LO, HI = [-0.4, -0.3], [0.5, 0.2]

    @settings(max_examples=25)
    @given(seeds)
    def test_no_position_has_less_than_the_bound(self, seed):
        a, b = moving(seed)
        found = moving_gap(a, b, self.LO, self.HI, tol=1e-4)
        sampled = densely(a, b, self.LO, self.HI, 3000, seed)
        self.assertLessEqual(found.not_below, sampled + 1e-12)
        self.assertLessEqual(found.least, sampled + 1e-4)
        self.assertGreaterEqual(found.least, found.not_below)
        if found.evaluations < MOST_EVALUATIONS:
            self.assertLessEqual(found.least - found.not_below, 1.1e-4)

    @settings(max_examples=15)
    @given(seeds)
    def test_what_it_says_is_attained_where_it_says(self, seed):
        a, b = moving(seed)
        found = moving_gap(a, b, self.LO, self.HI, tol=1e-4)
        there = densely(a, b, found.at, found.at, 1, seed)
        self.assertAlmostEqual(found.least, there, places=9)
        self.assertAlmostEqual(math.dist(found.on_a, found.on_b), there + 0.013, places=9)

    @settings(max_examples=15)
    @given(seeds, seeds, st.booleans())
    def test_turning_or_mirroring_the_whole_aircraft_changes_nothing(self, seed, other, mirrored):
        r, d = turned(other), np.array([1.3, -0.4, 0.7])
        flip = np.diag([1.0, -1.0, 1.0]) if mirrored else np.eye(3)
        hand = -1.0 if mirrored else 1.0
        m = r @ flip

        def placed(x: MovingIn) -> MovingIn:
            def step(s: StepIn) -> StepIn:
                if s.rotate is None:
                    return replace(s, translate=tuple(m @ np.array(s.translate)))
                # A mirror turns a right-handed turn into a left-handed one.
                origin, axis = m @ np.array(s.rotate.origin) + d, m @ np.array(s.rotate.axis)
                return replace(
                    s, rotate=RotateIn(tuple(origin), tuple(axis), s.rotate.ratio * hand)
                )

            points = (np.array(x.points) @ m.T + d).tolist()
            return replace(x, points=points, steps=tuple(step(s) for s in x.steps))

        a, b = moving(seed)
        one = moving_gap(a, b, self.LO, self.HI, tol=1e-6)
        two = moving_gap(placed(a), placed(b), self.LO, self.HI, tol=1e-6)
        self.assertAlmostEqual(one.least, two.least, delta=2.1e-6)
        for x, y in zip(one.L, two.L, strict=True):
            self.assertAlmostEqual(x, y, places=9)

    @settings(max_examples=15)
    @given(seeds, st.floats(0, 0.3), st.floats(0, 0.3))
    def test_a_wider_range_never_raises_the_least(self, seed, down, up):
        a, b = moving(seed)
        narrow = moving_gap(a, b, self.LO, self.HI, tol=1e-6)
        lo, hi = [x - down for x in self.LO], [x + up for x in self.HI]
        wide = moving_gap(a, b, lo, hi, tol=1e-6)
        self.assertLessEqual(wide.least, narrow.least + 1.1e-6)

    @settings(max_examples=10)
    @given(seeds)
    def test_a_thicker_run_is_nearer_by_as_much(self, seed):
        a, b = moving(seed)
        thin = moving_gap(a, b, self.LO, self.HI, tol=1e-6).least
        thick = moving_gap(replace(a, radius=a.radius + 0.004), b, self.LO, self.HI, tol=1e-6).least
        self.assertAlmostEqual(thin - 0.004, thick, delta=2.1e-6)

    def test_a_box_that_turns_is_met_as_the_run_that_turns_the_other_way(self):
        box = BoxIn((0.3, 0.0, 0.0), (0.05, 0.02, 0.04))
        run = [[0.32, -0.3, 0.1], [0.25, 0.3, 0.12]]
        turn = RotateIn((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), 1.0)
        back = RotateIn((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), -1.0)
        one = moving_gap(
            MovingIn(run, 0.004), MovingIn(box=box, steps=(StepIn(0, turn),)), [-0.6], [0.6], 1e-7
        )
        two = moving_gap(
            MovingIn(run, 0.004, (StepIn(0, back),)), MovingIn(box=box), [-0.6], [0.6], 1e-7
        )
        self.assertAlmostEqual(one.least, two.least, delta=2e-7)
        self.assertLess(one.least, 0.03)

    def test_two_boxes_and_a_body_of_neither_are_refused(self):
        box = MovingIn(box=BoxIn((0, 0, 0), (1, 1, 1)))
        for a, b, field in (
            (box, box, "b.box"),
            (MovingIn(), box, "a.points"),
            (MovingIn([[0, 0, 0], [1, 0, 0]], -0.1), box, "a.radius"),
            (MovingIn([[0, 0, 0], [1, 0, 0]], 0, (StepIn(3, translate=(1, 0, 0)),)), box,
             "a.steps[0].control"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as refused:
                moving_gap(a, b, [-1.0], [1.0])
            self.assertEqual(refused.exception.field, field)


class Sampled(TestCase):
    @settings(max_examples=30)
    @given(seeds, st.integers(2, 9))
    def test_a_grid_s_bound_holds_between_its_samples(self, seed, count):
        a, b = moving(seed)
        exact = moving_gap(a, b, Moving.LO, Moving.HI, tol=1e-4)
        axes = [np.linspace(x, y, count) for x, y in zip(Moving.LO, Moving.HI, strict=True)]
        gaps = [[densely(a, b, (x, y), (x, y), 1, 0) for y in axes[1]] for x in axes[0]]
        found = grid_bound(gaps, [x.tolist() for x in axes], list(exact.L))
        self.assertLessEqual(found.not_below, exact.least + 1e-9)
        self.assertGreaterEqual(found.least_sample, exact.not_below)
        corners = [gaps[0][0], gaps[0][1], gaps[1][0], gaps[1][1]]
        steps = [float(x[1] - x[0]) for x in axes]
        self.assertGreaterEqual(cell_bound(corners, steps, list(exact.L)) + 1e-12, found.not_below)

    def test_a_speed_that_the_samples_exceed_is_refused(self):
        with self.assertRaisesRegex(Refused, "speed bound is wrong"):
            cell_bound([0.0, 0.2], [0.1], [1.0])
        with self.assertRaisesRegex(Refused, "speed bound is wrong"):
            grid_bound([0.0, 0.2], [[0.0, 0.1]], [1.0])


class Many(TestCase):
    @settings(max_examples=25)
    @given(seeds, st.integers(2, 12), st.floats(0.005, 0.2), st.booleans())
    def test_the_broad_phase_loses_no_pair(self, seed, count, reach, samples_only):
        rng = np.random.default_rng(seed)
        nodes = (4, 3)
        runs = []
        for n in range(count):
            controls = ((), (0,), (1,), (0, 1))[n % 4]
            poses = math.prod(nodes[c] for c in controls)
            points = line(rng, 4)[None] + rng.normal(0, 0.03, (poses, 4, 3))
            runs.append(Posed(controls, points, rng.uniform(0.001, 0.01, 3)))
        found = near_pairs(runs, nodes, reach, samples_only)
        near = {
            (int(a), int(b)): float(g) for a, b, g in zip(found.a, found.b, found.gap, strict=True)
        }
        for pair, gap in every_pair(runs, nodes).items():
            if gap < reach - 1e-12:
                self.assertIn(pair, near)
                if samples_only:
                    self.assertAlmostEqual(near[pair], gap, places=12)
                else:
                    self.assertGreaterEqual(near[pair], gap - 1e-12)
            elif samples_only:
                self.assertNotIn(pair, near)


class Allowances(TestCase):
    @given(st.floats(0.1, 2.0), st.floats(0, 0.05), st.floats(0, 1), st.floats(-1, 1))
    def test_a_slack_line_stays_within_its_length(self, span, more, share, angle):
        x = share * span
        y = slack_reach(span, span + more, x)
        self.assertAlmostEqual(
            math.hypot(x, y) + math.hypot(span - x, y), span + more, delta=1e-7 * (1 + span)
        )

    @given(st.floats(0.2, 1.5), st.floats(100, 400), st.floats(0, 10), st.floats(0, 1))
    def test_a_cable_gives_more_with_less_tension(self, span, tension, push, weight):
        given = {"span": span, "force": push, "weight_per_m": weight, "load_factor": 2.0}
        self.assertAlmostEqual(
            taut_push(tension=tension, **given), 2 * taut_push(tension=2 * tension, **given)
        )

    @given(st.floats(0.05, 0.95))
    def test_a_support_never_makes_a_straight_swing_more(self, at):
        table = [[0.0, 0.0], [0.3, 0.004], [0.6, 0.012], [1.2, 0.03]]
        pts = [[0, 0, 0], [0.4, 0, 0], [1.0, 0, 0]]
        free, held = segment_allowances(pts, [], table), segment_allowances(pts, [at], table)
        for x, y in zip(held, free, strict=True):
            self.assertLessEqual(x, y + 1e-12)
        whole = segment_allowances([pts[0], pts[2]], [], table, 0.001)
        self.assertAlmostEqual(whole[0], span_allowance(table, 1.0) + 0.001)


class Judging(TestCase):
    bounds = st.tuples(st.floats(-0.02, 0.1), st.floats(0, 0.003))

    @given(bounds, st.floats(0, 0.01), st.floats(0, 0.06), st.floats(0, 0.01))
    def test_clear_and_sure_means_that_no_truth_within_u_is_short(self, gap, u, rule, flex):
        low, best = gap[0], gap[0] + gap[1]
        found = gap_verdict(low, best, u, rule, relative_motion_m=flex)
        if found.verdict == "clear":
            self.assertGreaterEqual(low - 2 * u - flex, rule - 1e-9)
            self.assertGreater(low - 2 * u - flex, 0)
        if found.verdict == "touch":
            self.assertLessEqual(best - flex, 0)
            self.assertFalse(found.may_be_accepted)
        if found.may_be_accepted:
            self.assertEqual(found.judged, "out")
            self.assertGreater(found.low, 0)
            self.assertLess(found.high, rule)

    @given(bounds, st.floats(0, 0.01), st.floats(0, 0.06), st.floats(0, 0.05))
    def test_more_rule_less_gap_or_less_certainty_never_makes_it_clear(self, gap, u, rule, more):
        low, best = gap[0], gap[0] + gap[1]
        first = gap_verdict(low, best, u, rule).verdict
        for then in (
            gap_verdict(low, best, u, rule + more),
            gap_verdict(low - more, best - more, u, rule),
            gap_verdict(low, best, u + more, rule),
            gap_verdict(low, best, u, rule, relative_motion_m=more),
        ):
            if first != "clear":
                self.assertNotEqual(then.verdict, "clear")
        self.assertFalse(gap_verdict(low, best, u, rule, estimated=True).judged == "in")
        self.assertNotIn(gap_verdict(low, best, u, None).judged, ("in", "too close"))

    @given(st.lists(st.floats(0, 0.01), min_size=6, max_size=6), st.floats(0, 1), st.floats(0, 1))
    def test_uncertainty_is_the_root_of_the_squares_of_its_shares(self, u, s, t):
        found = gap_uncertainty(u[:2], s, u[2:4], t, u[4], u[5])
        shares = [(1 - s) * u[0], s * u[1], (1 - t) * u[2], t * u[3], u[4], u[5]]
        self.assertAlmostEqual(found**2, sum(x * x for x in shares), places=12)
