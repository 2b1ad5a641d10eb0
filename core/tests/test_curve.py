"""Couplings given by points, and the vectors everything is built of: laws for all inputs."""

import itertools
import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.basis import vectors as v
from core.basis.refused import Refused
from core.controls.linkage.curve import LEAST_POINTS, Curve, points_from

number = st.floats(-50, 50, allow_nan=False).map(lambda x: round(x, 3))
step = st.floats(0.5, 20).map(lambda x: round(x, 3))


@st.composite
def rising(draw):
    """Points that rise in x, three to seven of them."""
    x = draw(number)
    found = []
    for _ in range(draw(st.integers(LEAST_POINTS, 7))):
        found.append((x, draw(number)))
        x += draw(step)
    return found


def divided(points):
    """The cubic through four points by Newton's divided differences: a plain second way."""
    xs = [x for x, _ in points]
    table = [y for _, y in points]
    for level in range(1, len(xs)):
        for i in range(len(xs) - 1, level - 1, -1):
            table[i] = (table[i] - table[i - 1]) / (xs[i] - xs[i - level])

    def at(x):
        value = table[-1]
        for i in range(len(xs) - 2, -1, -1):
            value = value * (x - xs[i]) + table[i]
        return value

    return at


class Curves(unittest.TestCase):
    @given(rising())
    def test_it_goes_through_every_point(self, points):
        curve = Curve(points)
        for x, y in points:
            self.assertAlmostEqual(float(curve.at(x)), y, delta=1e-6 * (1 + abs(y)))

    @given(rising(), st.floats(0.1, 30))
    def test_beyond_an_end_it_runs_straight_on_along_that_end(self, points, far):
        curve = Curve(points)
        for (x, y), way in ((points[0], -1), (points[-1], 1)):
            slope = float(curve.slope(x))
            scale = 1e-6 * (1 + abs(y) + abs(slope) * far)
            self.assertAlmostEqual(
                float(curve.at(x + way * far)), y + slope * way * far, delta=scale
            )
            self.assertEqual(float(curve.slope(x + way * far)), slope)

    @given(rising())
    def test_its_slope_is_that_of_its_values(self, points):
        curve = Curve(points)
        for (a, _), (b, _) in itertools.pairwise(points):
            x, h = (a + b) / 2, (b - a) * 1e-5
            measured = float(curve.at(x + h) - curve.at(x - h)) / (2 * h)
            self.assertAlmostEqual(
                measured, float(curve.slope(x)), delta=1e-3 * (1 + abs(measured))
            )

    @given(number, st.floats(-5, 5), rising())
    def test_a_straight_coupling_stays_straight_everywhere(self, start, gear, points):
        line = [(x, start + gear * x) for x, _ in points]
        curve = Curve(line)
        for x in np.linspace(line[0][0] - 30, line[-1][0] + 30, 41):
            self.assertAlmostEqual(float(curve.at(x)), start + gear * x, delta=1e-6)

    @given(rising().filter(lambda p: len(p) == 4))
    def test_through_four_points_it_is_the_one_cubic(self, points):
        curve, plain = Curve(points), divided(points)
        most = 1 + max(abs(y) for _, y in points)
        for x in np.linspace(points[0][0], points[-1][0], 17):
            self.assertAlmostEqual(float(curve.at(x)) / most, plain(x) / most, delta=1e-4)

    def test_many_at_once_are_each_alone(self):
        curve = Curve([(-1, 2), (0, 0), (2, 5), (3, 4)])
        asked = np.array([-9.0, -1.0, 0.3, 2.9, 3.0, 44.0])
        for x, together in zip(asked, curve.at(asked), strict=True):
            self.assertEqual(float(curve.at(x)), float(together))

    def test_what_is_no_curve_is_refused(self):
        for thing, why in (
            ([(0, 0), (1, 1)], "at least 3"),
            ([1, 2, 3], "pairs"),
            ({}, "at least 3"),
            ([(0, 0), (1, 1), (1, 2)], "rise"),
            ([(0, 0), (2, 1), (1, 2)], "rise"),
            ([(0, 0), (1, 1, 1), (2, 2)], "pairs"),
            ([(0, 0), (1, math.nan), (2, 2)], "finite"),
        ):
            with self.subTest(thing=thing), self.assertRaises(Refused) as refused:
                points_from(thing, "coupling")
            self.assertEqual(refused.exception.field, "coupling")
            self.assertIn(why, refused.exception.reason)


vector = st.tuples(number, number, number)


class Vectors(unittest.TestCase):
    @given(vector, vector)
    def test_the_cross_product_is_square_to_both_and_as_large_as_their_parallelogram(self, a, b):
        c = v.cross(a, b)
        self.assertAlmostEqual(v.dot(c, a), 0, delta=1e-6)
        self.assertAlmostEqual(v.dot(c, b), 0, delta=1e-6)
        # Lagrange's identity.
        area2 = v.dot(a, a) * v.dot(b, b) - v.dot(a, b) ** 2
        self.assertAlmostEqual(v.dot(c, c), area2, delta=1e-6 * (1 + abs(area2)))

    def test_aft_right_up_is_right_handed(self):
        self.assertEqual(v.cross((1, 0, 0), (0, 1, 0)), (0, 0, 1))
        self.assertEqual(v.cross((0, 1, 0), (0, 0, 1)), (1, 0, 0))

    @given(vector, vector, number)
    def test_sums_and_products_agree_with_numpy(self, a, b, k):
        x, y = np.array(a), np.array(b)
        np.testing.assert_allclose(v.plus(a, b), x + y)
        np.testing.assert_allclose(v.minus(a, b), x - y)
        np.testing.assert_allclose(v.times(k, a), k * x)
        np.testing.assert_allclose(v.cross(a, b), np.cross(x, y), atol=1e-9)
        self.assertAlmostEqual(float(v.size(a)), float(np.linalg.norm(x)), places=9)

    @given(vector.filter(lambda a: max(map(abs, a)) > 1e-2))
    def test_a_direction_has_length_one_and_keeps_its_way(self, a):
        u = v.unit(a, "axis")
        self.assertAlmostEqual(math.hypot(*u), 1.0, places=12)
        self.assertAlmostEqual(v.dot(u, a), math.hypot(*a), places=6)

    def test_what_is_no_vector_is_refused_by_its_field(self):
        for thing in ((0, 0), (0, 0, 0, 0), "abc", (0, None, 0), (0, math.inf, 0), (0, 0, 0)):
            with self.subTest(thing=thing), self.assertRaises(Refused) as refused:
                v.unit(thing, "hinge")
            self.assertTrue(refused.exception.field.startswith("hinge"))


if __name__ == "__main__":
    unittest.main()
