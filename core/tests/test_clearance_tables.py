"""Things known at positions alone, against the exact movement; which distance counts."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.clearance.apart import SHIPPED, Apart, Sorts, chosen
from core.clearance.distance import BoxIn
from core.clearance.motion import MovingIn, RotateIn, StepIn
from core.clearance.scene import turned_axes
from core.clearance.search import moving_gap
from core.clearance.table import Pair, Thing, TooMany
from core.runs.moved import Axis
from core.tests.clearing import rotation, seeds


def swung(axis: Axis, points, origin, about, ratio=1.0, **more) -> Thing:
    """A line that turns with an axis, as a table."""
    poses = np.array(
        [(np.array(points) - origin) @ rotation(about, ratio * q).T + origin for q in axis.nodes]
    )
    given = {"key": f"rod {axis.id}", "kind": "control rod", "name": f"Rod of {axis.name}"}
    return Thing(
        **given | more, axes=(axis.id,), poses=poses, radius_m=0.008,
        allowance=np.zeros(len(points) - 1), control=axis.name, u_m=0.001,
    )  # fmt: skip


PITCH = Axis("elevator/pitch", "Elevator", "rad", tuple(np.linspace(-0.33, 0.45, 33)))
ROLL = Axis("ailerons/roll", "Ailerons", "rad", tuple(np.linspace(-0.25, 0.37, 33)))
SEAT = Axis("seat/notch", "Seat", "m", (0.0, 0.05, 0.12), ("near", "middle", "far"))
AXES = {a.id: a for a in (PITCH, ROLL, SEAT)}


class Tables(TestCase):
    """Things known at positions alone, against the exact movement."""

    @settings(max_examples=25, deadline=None)
    @given(seeds)
    def test_the_least_of_tables_is_that_of_the_movement_itself(self, seed):
        rng = np.random.default_rng(seed)
        a, b = rng.normal(0, 0.2, (2, 3)), rng.normal([0.2, 0, 0], 0.2, (2, 3))
        about, other = rng.normal(0, 1, 3), rng.normal(0, 1, 3)
        one = swung(PITCH, a, a[0], about)
        two = swung(ROLL, b, b[0], other, 0.8)
        near = Pair(one, two, AXES).least()
        exact = moving_gap(
            MovingIn(a.tolist(), 0.008, (StepIn(0, RotateIn(tuple(a[0]), tuple(about), 1.0)),)),
            MovingIn(b.tolist(), 0.008, (StepIn(1, RotateIn(tuple(b[0]), tuple(other), 0.8)),)),
            [-0.33, -0.25], [0.45, 0.37], 1e-5,
        )  # fmt: skip
        bend = one.bend(AXES) + two.bend(AXES)
        self.assertLessEqual(near.low_m, exact.least + 1e-9)
        self.assertAlmostEqual(near.gap_m, exact.least, delta=bend + 5e-5)
        self.assertLess(bend, 3e-4)
        self.assertAlmostEqual(math.dist(near.on_a, near.on_b) - 0.016, near.gap_m, places=7)

    @settings(max_examples=15, deadline=None)
    @given(seeds)
    def test_a_box_on_a_lever_is_met_as_by_the_movement_itself(self, seed):
        rng = np.random.default_rng(seed)
        run = rng.normal([0.3, 0, 0], 0.25, (3, 3))
        half, centre = np.array([0.05, 0.02, 0.03]), np.array([0.25, 0.0, 0.02])
        box = swung(
            PITCH, np.vstack([centre, centre + np.eye(3)]), np.zeros(3), [0, 1, 0], key="shape box"
        )
        box = replace(box, half=half, radius_m=0.0, allowance=np.zeros(1))
        line = Thing("tube t", "fuel", "Tube", (), run, 0.004, np.zeros(2), u_m=0.001)
        near = Pair(line, box, AXES).least()
        turn = StepIn(0, RotateIn((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), 1.0))
        exact = moving_gap(
            MovingIn(run.tolist(), 0.004),
            MovingIn(box=BoxIn(tuple(centre), tuple(half)), steps=(turn,)), [-0.33], [0.45], 1e-6,
        )  # fmt: skip
        self.assertLessEqual(near.low_m, exact.least + 1e-9)
        self.assertAlmostEqual(near.gap_m, exact.least, delta=6e-4)

    def test_a_setting_is_only_at_its_notches(self):
        slide = np.array([[[0.1 + q, 0, 0], [0.1 + q, 0.1, 0]] for q in SEAT.nodes])
        seat = Thing("shape s", "structure", "Seat", (SEAT.id,), slide, 0.01, np.zeros(1))
        post = Thing("shape p", "structure", "Post", (), np.array([[0.2, 0, 0], [0.2, 0.1, 0]]),
                     0.005, np.zeros(1))  # fmt: skip
        near = Pair(seat, post, AXES).least()
        self.assertAlmostEqual(near.gap_m, 0.02 - 0.015)
        self.assertAlmostEqual(near.at[SEAT.id], 0.12)
        gliding = {SEAT.id: replace(SEAT, notches=())}
        self.assertAlmostEqual(Pair(seat, post, gliding).least().gap_m, -0.015, places=5)

    def test_three_that_move_at_will_are_not_worked_out(self):
        third = Axis("x/y", "Flap", "rad", (0.0, 0.5))
        thing = swung(third, [[0, 0, 0], [0, 0.1, 0]], np.zeros(3), [0, 0, 1])
        both = replace(
            swung(PITCH, [[0, 0, 0], [0.1, 0, 0]], np.zeros(3), [0, 1, 0]),
            axes=(PITCH.id, ROLL.id), poses=np.zeros((33, 33, 2, 3)),
        )  # fmt: skip
        with self.assertRaises(TooMany):
            Pair(thing, both, {**AXES, third.id: third})


class Distances(TestCase):
    def test_exact_kinds_come_before_any_and_the_house_s_own_before_what_is_shipped(self):
        wire, fuel = Sorts("wire", False), Sorts("fuel", False)
        self.assertAlmostEqual(chosen(SHIPPED, wire, fuel).rule.least_m, 0.0508)
        self.assertAlmostEqual(chosen(SHIPPED, fuel, wire, ["clamped"]).rule.least_m, 0.0127)
        own = Apart("fuel", "wire", 0.03, "manual", row="r")
        self.assertAlmostEqual(chosen([own, *SHIPPED], wire, fuel).rule.least_m, 0.03)
        general = Apart("any", "wire", 0.2, "manual", row="g")
        self.assertAlmostEqual(chosen([general, *SHIPPED], wire, fuel).rule.least_m, 0.0508)
        vent = Sorts("vent", False)
        self.assertAlmostEqual(chosen([general, *SHIPPED], wire, vent).rule.least_m, 0.2)
        self.assertIsNone(chosen(SHIPPED, fuel, vent).rule)

    def test_of_several_that_fit_the_largest_and_what_moves_by_itself(self):
        rules = [
            Apart("moving", "any", 0.01, "m", row="1"),
            Apart("any", "moving", 0.02, "m", row="2"),
        ]
        rod, frame = Sorts("control rod", True), Sorts("structure", False)
        self.assertEqual(chosen(rules, rod, frame).rule.least_m, 0.02)
        self.assertIsNone(chosen(rules, frame, frame).rule)
        self.assertEqual(chosen(SHIPPED, Sorts("wire", False), rod).rule.least_m, 0.0127)
        cable = Sorts("control cable", True)
        self.assertEqual(chosen(SHIPPED, Sorts("wire", False), cable).rule.least_m, 0.0762)

    @given(
        st.permutations(SHIPPED[:12]),
        st.sampled_from(("wire", "coax")),
        st.sampled_from(("fuel", "oil")),
    )
    def test_neither_order_of_rules_nor_of_the_two_matters(self, rules, a, b):
        one = chosen(rules, Sorts(a, False), Sorts(b, False)).rule
        two = chosen(SHIPPED[:12], Sorts(b, False), Sorts(a, False)).rule
        self.assertEqual(one, two)


class Boxes(TestCase):
    @given(st.lists(st.floats(-3, 3), min_size=3, max_size=3))
    def test_axes_stay_square(self, angles):
        axes = turned_axes(angles)
        np.testing.assert_allclose(axes @ axes.T, np.eye(3), atol=1e-12)
        self.assertGreater(np.linalg.det(axes), 0)

    def test_turned_about_the_up_axis_its_length_points_to_the_right(self):
        np.testing.assert_allclose(turned_axes((math.pi / 2, 0, 0))[0], [0, 1, 0], atol=1e-12)
        np.testing.assert_allclose(turned_axes((0, math.pi / 2, 0))[0], [0, 0, -1], atol=1e-12)
