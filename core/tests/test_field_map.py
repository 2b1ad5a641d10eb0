"""A map of the compass error agrees with the sum at each place, and with what is known of a wire."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.wiring.field import Current, Dipole, dc_field
from core.wiring.field_map import error_map, field_at

at = st.floats(-1.0, 1.0).map(lambda v: round(v, 3))
place = st.tuples(at, at, at)
EARTH = 20e-6


class Map(TestCase):
    @given(
        st.lists(st.tuples(st.lists(place, min_size=2, max_size=4, unique=True),
                           st.floats(-30, 30)), max_size=3),
        st.lists(st.tuples(place, place), max_size=2),
        st.lists(place, min_size=1, max_size=6),
    )  # fmt: skip
    @settings(max_examples=80)
    def test_each_place_is_the_sum_over_all_pieces_there(self, ways, magnets, places):
        circuits = tuple(Current(points, amps) for points, amps in ways)
        dipoles = tuple(Dipole(m, p) for m, p in magnets)
        found = field_at(np.array(places, float), circuits, dipoles)
        for p, B in zip(places, found, strict=True):
            try:
                one = dc_field(p, EARTH, circuits, dipoles)
            except Refused:
                self.assertTrue(np.isnan(B).all())
                continue
            if not np.isnan(B).any():  # Within a millimetre of a magnet there is no place.
                np.testing.assert_allclose(B, one.B_T, rtol=1e-9, atol=1e-18)

    def test_a_long_wire_turns_the_needle_by_its_distance(self):
        wire = Current([(-100.0, 0.0, 0.0), (100.0, 0.0, 0.0)], 5.0)
        for z in (0.1, 0.2, 0.5):
            found = error_map([0.0, 0.3], [0.0], z, EARTH, [wire])
            expected = math.asin(min(1.0, 2e-7 * 5.0 / z / EARTH))
            np.testing.assert_allclose(found, [[expected, expected]], rtol=2e-5)

    def test_there_and_back_in_one_way_is_nothing_and_on_the_wire_is_a_right_angle(self):
        way = [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0)]
        pair = [Current(way, 5.0), Current(way[::-1], 5.0)]
        self.assertLess(float(error_map([0.5], [0.3], 0.1, EARTH, pair)[0, 0]), 1e-12)
        self.assertEqual(float(error_map([0.5], [0.0], 0.0, EARTH, pair)[0, 0]), math.pi / 2)
