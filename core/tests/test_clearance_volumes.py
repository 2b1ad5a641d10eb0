"""Zones, doors, crossings and layers, each against plain sampling."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.clearance.crossing import StretchIn, cable_crossing
from core.clearance.distance import BoxIn
from core.clearance.fittings import Station, fitting_travel
from core.clearance.hinged import BodyIn, HingeIn, ObstacleIn, hinged_sweep
from core.clearance.keep_out import RunIn, Volume, away_of, keep_out
from core.clearance.layering import layering
from core.clearance.motion import MovingIn, RotateIn, StepIn
from core.clearance.search import moving_gap

seeds = st.integers(0, 10**6)


def along(points: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Points of a line and how far along it each lies."""
    legs = np.diff(points, axis=0)
    long = np.linalg.norm(legs, axis=1)
    share = np.linspace(0, 1, count)
    at = np.concatenate([p + share[:, None] * u for p, u in zip(points[:-1], legs, strict=True)])
    start = np.concatenate([[0], np.cumsum(long)[:-1]])
    return at, np.concatenate([s + share * d for s, d in zip(start, long, strict=True)])


class Zones(TestCase):
    VOLUMES = (
        Volume("box", centre=(0.1, 0, 0), half=(0.2, 0.1, 0.15)),
        Volume("cylinder", from_=(0, 0, -0.2), to=(0.1, 0.1, 0.3), radius=0.12),
        Volume("cone", from_=(-0.2, 0, 0), to=(0.4, 0.1, 0), radius_from=0.02, radius_to=0.15),
        Volume("cone", from_=(0, 0, 0), to=(0.4, 0, 0), radius_from=0.0, radius_to=0.2),
    )

    @settings(max_examples=20)
    @given(seeds, st.sampled_from(VOLUMES), st.floats(0, 0.1))
    def test_least_and_length_inside_are_as_sampled(self, seed, volume, margin):
        points = np.random.default_rng(seed).uniform(-0.5, 0.5, (3, 3))
        found = keep_out(
            volume, ["fuel"], margin, (RunIn("hose", "fuel", points.tolist(), 0.006),)
        ).runs["hose"]
        away = away_of(volume)
        at, s = along(points, 801)
        d = np.array([away(p) for p in at])
        step = float(np.max(np.linalg.norm(np.diff(points, axis=0), axis=1))) / 800
        self.assertAlmostEqual(found.gap_m, d.min() - 0.006, delta=step)
        self.assertLessEqual(found.gap_m, d.min() - 0.006 + 1e-9)
        inside = float(np.diff(s)[(d < margin + 0.006)[:-1]].sum())
        self.assertAlmostEqual(found.length_inside_m, inside, delta=6 * step)
        self.assertAlmostEqual(away(np.array(found.deepest)) - 0.006, found.gap_m, places=9)
        self.assertAlmostEqual(
            float(np.linalg.norm(at[np.argmin(np.abs(s - found.at_s_m))] - found.deepest)), 0,
            delta=step,
        )  # fmt: skip

    @given(seeds, st.sampled_from(VOLUMES))
    def test_a_signed_distance_changes_by_no_more_than_the_way_gone(self, seed, volume):
        p, q = np.random.default_rng(seed).uniform(-0.5, 0.5, (2, 3))
        away = away_of(volume)
        self.assertLessEqual(abs(away(p) - away(q)), float(np.linalg.norm(p - q)) + 1e-12)

    def test_only_the_kinds_asked_for_are_judged_and_the_rest_is_named(self):
        hose = RunIn("hose", "fuel", [[0, 0, 0], [1, 0, 0]], 0.005, 0.002)
        wire = RunIn("loom", "wire", [[0, 0, 0], [1, 0, 0]], 0.005)
        found = keep_out(self.VOLUMES[0], ["fuel"], 0.02, (hose, wire))
        self.assertEqual((found.skipped, found.verdict), (("loom",), "out"))
        both = keep_out(self.VOLUMES[0], ["any"], 0.02, (hose, wire))
        self.assertEqual(set(both.runs), {"hose", "loom"})


class Layers(TestCase):
    @settings(max_examples=40)
    @given(seeds, st.floats(0.05, 0.4))
    def test_the_lowest_place_is_as_sampled(self, seed, near):
        rng = np.random.default_rng(seed)
        a = np.cumsum(rng.normal(0, 0.2, (2, 3)), axis=0)
        b = np.cumsum(rng.normal(0, 0.2, (2, 3)), axis=0)
        found = layering(a.tolist(), b.tolist(), near)
        at, _ = along(a, 2001)
        u = b[1] - b[0]
        t = np.clip(((at - b[0])[:, :2] @ u[:2]) / (u[:2] @ u[:2]), 0, 1)
        under = b[0] + t[:, None] * u
        beside = np.linalg.norm((at - under)[:, :2], axis=1)
        heights = (at - under)[:, 2][beside <= near]
        if not len(heights):
            return
        self.assertLessEqual(found["height"], heights.min() + 1e-9)
        slope = np.linalg.norm(a[1] - a[0]) * (1 + abs(u[2]) / np.linalg.norm(u[:2]))
        self.assertGreaterEqual(found["height"], heights.min() - slope / 1000)
        self.assertLessEqual(found["plan_distance"], near * (1 + 1e-9))

    @given(seeds, st.floats(0.01, 0.5))
    def test_lifting_the_upper_line_lifts_the_answer(self, seed, up):
        rng = np.random.default_rng(seed)
        a, b = rng.normal(0, 0.3, (3, 3)), rng.normal(0, 0.3, (3, 3))
        low = layering(a.tolist(), b.tolist(), 1.0)
        high = layering((a + np.array([0, 0, up])).tolist(), b.tolist(), 1.0)
        if "height" in low:
            self.assertAlmostEqual(high["height"] - low["height"], up, places=9)


class Doors(TestCase):
    FRAME = ((0.0, -0.3, 0.0), (0.8, -0.3, 0.1), (0.8, 0.3, 0.1), (0.0, 0.3, 0.0))

    @settings(max_examples=20)
    @given(seeds, st.floats(0.0, 0.2))
    def test_up_to_the_angle_it_names_the_rule_is_kept_and_a_little_on_no_more(self, seed, rule):
        rng = np.random.default_rng(seed)
        mast = rng.uniform([-0.6, -0.3, 0.1], [0.9, 0.3, 0.9], (2, 3))
        hinge = HingeIn((0, 0, 0), (0, -1, 0))
        found = hinged_sweep(
            BodyIn(self.FRAME, 0.01), hinge, (ObstacleIn("mast", mast.tolist(), 0.005),), 2.5, rule
        )
        angles = np.linspace(0, 2.5, 1501)

        def gap(angle: float) -> float:
            step = StepIn(0, RotateIn(hinge.origin, hinge.axis, 1.0))
            frame = MovingIn(self.FRAME, 0.01, (step,))
            return moving_gap(
                frame, MovingIn(mast.tolist(), 0.005), [angle], [angle + 1e-9], 1e-5
            ).least

        some = [gap(x) for x in angles[:: 1500 // 30]]
        self.assertLessEqual(found.least.gap_m, min(some) + 2e-6)
        self.assertEqual(found.keeps_rule, found.obstacles["mast"].not_below >= rule - 1e-6)
        if found.largest_angle_rad is None:
            self.assertLess(gap(0.0), rule + 1e-6)
            return
        before = np.linspace(0, found.largest_angle_rad, 12)
        self.assertGreaterEqual(min(gap(x) for x in before), rule - 1e-6)
        if found.largest_angle_rad < 2.5:
            self.assertAlmostEqual(gap(found.largest_angle_rad), rule, delta=1e-4)

    def test_a_box_opens_as_its_obstacle_turned_back(self):
        mast = ObstacleIn("mast", ((-0.2, 0.0, 0.4), (-0.2, 0.0, 0.9)), 0.01)
        box = BodyIn(box=BoxIn((0.4, 0.0, 0.0), (0.4, 0.3, 0.0)))
        edges = BodyIn(((0.0, 0.0, 0.0), (0.8, 0.0, 0.0)), 0.0)
        hinge = HingeIn((0, 0, 0), (0, -1, 0))
        one = hinged_sweep(box, hinge, (mast,), 2.5, 0.05)
        two = hinged_sweep(edges, hinge, (mast,), 2.5, 0.05)
        self.assertAlmostEqual(one.least.gap_m, two.least.gap_m, places=5)
        self.assertAlmostEqual(one.largest_angle_rad, two.largest_angle_rad, places=5)
        self.assertLess(one.largest_angle_rad, math.pi / 2 + 0.4)


class Crossings(TestCase):
    def stretches(self, seed: int, slack: float):
        rng = np.random.default_rng(seed)
        a = StretchIn(
            (0, -0.4, 0), (0, 0.4, 0.02), 0.0016, 1.0, (0, 0, 0), tuple(rng.normal(0, 0.3, 3)),
            slack,
        )  # fmt: skip
        b = StretchIn(
            tuple(rng.uniform([-0.4, -0.2, -0.03], [-0.3, 0.2, 0.05])), (0.4, 0.1, 0.03), 0.0048,
        )  # fmt: skip
        return a, b

    @settings(max_examples=15)
    @given(seeds, st.floats(0.0, 0.002))
    def test_slack_and_taut_are_as_sampled(self, seed, slack):
        a, b = self.stretches(seed, slack)
        found = cable_crossing(a, b, -0.05, 0.06, 0.01, 0.02)
        least = {"taut": math.inf, "slack": math.inf}
        share = np.linspace(0, 1, 121)
        for q in np.linspace(-0.05, 0.06, 23):
            a1 = np.array(a.to) + q * np.array(a.to_move)
            p = np.array(a.from_) + share[:, None] * (a1 - a.from_)
            r = np.array(b.from_) + share[:, None] * np.subtract(b.to, b.from_)
            d = np.linalg.norm(p[:, None] - r[None], axis=2) - a.radius - b.radius
            span = float(np.linalg.norm(a1 - a.from_))
            half, across = (span + slack) / 2, 0.5 * math.sqrt(slack * (2 * span + slack))
            reach = across * np.sqrt(1 - ((share - 0.5) * span / half) ** 2)
            least["taut"] = min(least["taut"], float(d.min()))
            least["slack"] = min(least["slack"], float((d - reach[:, None]).min()))
        for way, value in least.items():
            side = getattr(found, way)
            self.assertLessEqual(side.gap_m, value + 1e-9)
            self.assertGreaterEqual(side.gap_m, value - 0.012)
            self.assertEqual(side.first_touch is None, side.gap_m > 0)
        said = (
            "touch" if found.slack.gap_m <= 0 else "clear" if found.slack.gap_m >= 0.01 else "close"
        )
        self.assertEqual(found.verdict, said)
        self.assertEqual(found.sleeve_a is None, found.slack.gap_m >= 0.01)

    def test_a_longer_margin_makes_a_longer_sleeve_and_reaches_the_end(self):
        a, b = self.stretches(3, 0.001)
        short = cable_crossing(a, b, -0.05, 0.06, 0.03, 0.01).sleeve_a
        long = cable_crossing(a, b, -0.05, 0.06, 0.03, 0.41).sleeve_a
        self.assertAlmostEqual(long.length_m - short.length_m, 0.8, places=9)
        self.assertTrue(long.meets_end)


class Fittings(TestCase):
    @given(st.floats(0, 0.1), st.floats(0, 0.1), st.floats(0, 0.02), st.floats(1.2, 2.0))
    def test_a_gap_is_what_is_left_at_the_stop_that_takes_most(self, plus, minus, extra, at):
        found = fitting_travel(1.0, 0.05, plus, minus, (Station("f", at, at + 0.01),), extra)[0]
        self.assertAlmostEqual(found.gap, at - 1.05 - plus - extra, places=12)
        behind = fitting_travel(
            1.0, 0.05, plus, minus, (Station("f", 2.0 - at - 0.01, 2.0 - at),), extra
        )[0]
        self.assertAlmostEqual(behind.gap, 0.95 - minus - extra - (2.0 - at), places=12)
