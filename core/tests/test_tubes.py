"""Tubes: a route and its card are one thing, and errors go where the card says."""

import math
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.lines.again import as_removed, laid_flat, tube_template
from core.lines.bend import bend_card, lra_to_xyz
from core.lines.shaping import closing_error, min_bend_radius, tube_checks
from core.lines.tables import INCH_M, SIXTEENTH_M
from core.lines.threading import Hole, thread_through
from core.lines.tube import Tube

lengths = st.floats(0.08, 0.6)
angles = st.floats(0.1, 2.2)
turns = st.floats(-3.1, 3.1)


@st.composite
def tubes(draw, least=2, most=5):
    """Straights, angles, rotations and radii of a tube that can be bent."""
    n = draw(st.integers(least, most))
    bent = [draw(angles) for _ in range(n)]
    return (
        [draw(lengths) for _ in range(n + 1)],
        bent,
        [draw(turns) for _ in range(n - 1)],
        [draw(st.floats(0.02, 0.05)) for _ in range(n)],
    )


def walked(tube, normal=(0, 0, 1)):
    straights, bent, rotated, radii = tube
    return lra_to_xyz(straights, bent, rotated, radii, (0, 0, 0), (1, 0, 0), normal)


def refused(field, do, *args, **more):
    try:
        do(*args, **more)
    except Refused as refusal:
        assert refusal.field == field, refusal
        return refusal.reason
    raise AssertionError(f"{field} was taken")


class CardAndRoute(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(tubes())
    def test_a_card_walked_gives_its_route_back_to_a_billionth_of_a_metre(self, tube):
        there = walked(tube)
        card = bend_card(there.vertices_m, radii_m=tube[3])
        for was, now in zip(
            tube[:3], (card.straights_m, card.angles_rad, card.rotations_rad), strict=True
        ):
            np.testing.assert_allclose(now, was, atol=1e-9)
        again = lra_to_xyz(
            card.straights_m, card.angles_rad, card.rotations_rad, card.radii_m,
            there.vertices_m[0], card.first_direction, card.first_normal,
        )  # fmt: skip
        np.testing.assert_allclose(again.vertices_m, there.vertices_m, atol=1e-9)

    @settings(max_examples=60, deadline=None)
    @given(tubes(), st.sampled_from([0, 1, 2]))
    def test_a_mirrored_tube_turns_the_other_way_and_is_as_long(self, tube, axis):
        at = np.array(walked(tube).vertices_m)
        mirrored = at.copy()
        mirrored[:, axis] *= -1
        one, other = (bend_card(v.tolist(), radii_m=tube[3]) for v in (at, mirrored))
        np.testing.assert_allclose(other.rotations_rad, [-r for r in one.rotations_rad], atol=1e-9)
        np.testing.assert_allclose(other.marks_m, one.marks_m)

    @settings(max_examples=60, deadline=None)
    @given(tubes())
    def test_from_the_other_end_the_signs_stay_and_the_order_turns(self, tube):
        at = walked(tube).vertices_m
        one = bend_card(at, radii_m=tube[3])
        other = bend_card(at[::-1], radii_m=tube[3][::-1])
        np.testing.assert_allclose(other.rotations_rad, one.rotations_rad[::-1], atol=1e-9)
        np.testing.assert_allclose(other.angles_rad, one.angles_rad[::-1], atol=1e-9)

    @settings(max_examples=60, deadline=None)
    @given(tubes(), st.floats(0, 0.02), st.floats(0, 0.02), st.floats(-0.003, 0.003), st.data())
    def test_a_tube_bent_at_its_marks_is_its_centreline(self, tube, first, last, stretch, data):
        at = walked(tube).vertices_m
        more = [stretch] * len(tube[1])
        card = bend_card(
            at, radii_m=tube[3], start_allowance_m=first, end_allowance_m=last, stretch_m=more
        )
        ends = [m + arc - s for m, arc, s in zip(card.marks_m, card.arcs_m, more, strict=True)]
        gaps = [
            b - a
            for a, b in zip([first, *ends], [*card.marks_m, card.cut_length_m - last], strict=True)
        ]
        np.testing.assert_allclose(gaps, card.straights_m, atol=1e-12)
        corners = math.fsum(math.dist(a, b) for a, b in pairwise(at))
        self.assertAlmostEqual(card.developed_m + card.gain_m, corners)
        self.assertGreaterEqual(card.gain_m, 0)

    @given(st.floats(0.2, 2.0), st.floats(0, 0.05), st.floats(0, 0.2), st.floats(0.02, 0.05))
    def test_what_is_bent_to_comes_back_to_what_is_asked(self, beta, a, b, former):
        at = lra_to_xyz([0.3, 0.3], [beta], [], [0.1], (0, 0, 0), (1, 0, 0), (0, 0, 1)).vertices_m
        card = bend_card(at, former_radii_m=[former], springback_a_rad=a, springback_b=b)
        self.assertAlmostEqual(card.bend_to_rad[0] - (a + b * card.bend_to_rad[0]), beta)
        # The length that was bent stays.
        self.assertAlmostEqual(card.arcs_m[0], former * card.bend_to_rad[0])

    def test_what_cannot_be_bent_is_refused_by_its_field(self):
        corner = [(0, 0, 0), (0.1, 0, 0), (0.1, 0.1, 0)]
        for field, at, more in (
            ("radii_m", corner, {}),
            ("radii_m", corner, {"radii_m": [0.02], "former_radii_m": [0.02]}),
            ("radii_m", corner, {"radii_m": [0.101]}),
            ("former_radii_m", corner, {"former_radii_m": [0.101]}),
            ("radii_m", corner, {"radii_m": [0.02, 0.02]}),
            ("vertices_m", corner[:1], {"radii_m": []}),
            ("vertices_m", [corner[0], *corner], {"radii_m": [0.02, 0.02]}),
            ("vertices_m", [(0, 0, 0), (0.1, 0, 0), (0.05, 0, 0)], {"radii_m": [0.02]}),
            ("bender_offset_m", corner, {"radii_m": [0.02], "bender_offset_m": -0.1}),
            ("springback_b", corner, {"radii_m": [0.02], "springback_b": 1.0}),
            ("stretch_m", corner, {"radii_m": [0.02], "stretch_m": [0, 0]}),
        ):
            refused(field, bend_card, at, **more)
        self.assertIn("straight 0", refused("radii_m", bend_card, corner, radii_m=[0.101]))
        refused("first_normal", lra_to_xyz, [1, 1], [1], [], [0.1], (0, 0, 0), (1, 0, 0), (2, 0, 0))

    def test_the_least_radius_is_that_of_the_row_or_the_next_larger(self):
        for od, row, inches in ((2, 2, 3 / 8), (2.5, 3, 7 / 16), (9, 10, 1.5), (16, 16, 3)):
            found = min_bend_radius(od * SIXTEENTH_M, "aluminium")
            self.assertAlmostEqual(found.radius_m, inches * INCH_M)
            self.assertAlmostEqual(found.row_od_m, row * SIXTEENTH_M)
        refused("od_m", min_bend_radius, 2 * SIXTEENTH_M, "steel")
        refused("od_m", min_bend_radius, 17 * SIXTEENTH_M, "aluminium")

    def test_each_fault_of_a_shape_is_found_alone(self):
        at = walked(([0.1, 0.1, 0.1], [1.0, 1.0], [0.5], [0.03, 0.03])).vertices_m
        well = {"min_radius_m": 0.03, "min_between_m": 0.1, "min_start_m": 0.1, "min_end_m": 0.1}
        radii = [0.03, 0.03]
        self.assertEqual(tube_checks(at, radii, 0.0095, **well).findings, ())
        for name, more, code, where in (
            ("min_radius_m", 2e-6, "radius_below_minimum", [1, 2]),
            ("min_between_m", 2e-6, "straight_too_short", [1]),
            ("min_start_m", 2e-6, "start_straight_too_short", [0]),
            ("min_end_m", 2e-6, "end_straight_too_short", [2]),
        ):
            found = tube_checks(at, radii, 0.0095, **well | {name: well[name] + more}).findings
            self.assertEqual(found, tuple((code, n) for n in where))


class Errors(TestCase):
    @settings(max_examples=50, deadline=None)
    @given(tubes())
    def test_the_far_end_moves_with_each_error_as_told(self, tube):
        there = walked(tube)
        told = closing_error(there.vertices_m, tube[3])
        step = 1e-7
        for s in told.shifts:
            parts = [list(x) for x in tube]
            which = ("straight", "angle", "rotation").index(s.kind)
            parts[which][s.index - (s.kind != "straight")] += step
            moved = (np.array(walked(parts).end_m) - there.end_m) / step
            np.testing.assert_allclose(s.shift_per_unit, moved, atol=1e-5)

    @settings(max_examples=40, deadline=None)
    @given(tubes(), st.data())
    def test_a_single_error_is_named_first_or_as_good(self, tube, data):
        there = walked(tube)
        shifts = closing_error(there.vertices_m, tube[3]).shifts
        cause = data.draw(st.sampled_from(shifts))
        assume(np.linalg.norm(cause.shift_per_unit) > 1e-3)
        end = np.array(there.end_m) + 0.002 * np.array(cause.shift_per_unit)
        told = closing_error(there.vertices_m, tube[3], end.tolist()).single_causes
        self.assertAlmostEqual(told[0].left_over_m, 0, 9)
        mine = next(c for c in told if (c.kind, c.index) == (cause.kind, cause.index))
        self.assertAlmostEqual(mine.change, 0.002)

    def test_uncertainty_of_a_straight_tube_is_that_of_its_length(self):
        self.assertAlmostEqual(
            closing_error([(0, 0, 0), (1, 0, 0)], [], u_length_m=0.001).u_end_m, 0.001
        )


class Again(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(tubes(), st.data())
    def test_a_tube_measured_along_its_straights_is_that_tube(self, tube, data):
        there = walked(tube)
        shape = Tube.of(there.vertices_m, tube[3])
        measured = []
        for n, s in enumerate(shape.straights):
            begin = shape.ends(n) if n else shape.vertices[0]
            shares = sorted(data.draw(st.sets(st.sampled_from([0.1, 0.3, 0.6, 0.9]), min_size=2)))
            measured.append([(begin + s * k * shape.directions[n]).tolist() for k in shares])
        ends = there.vertices_m[0], there.vertices_m[-1]
        found = as_removed(measured, tube[3], *ends, 0.001)
        np.testing.assert_allclose(found.vertices_m, there.vertices_m, atol=1e-6)
        self.assertEqual(found.findings, ())
        self.assertAlmostEqual(found.end_distance_m, math.dist(*ends), 6)

    def test_what_is_bent_out_of_line_is_found(self):
        straights = [[[0, 0, 0], [0.1, 0, 0]], [[0.2, 0.05, 0], [0.2, 0.1, 0.004], [0.2, 0.15, 0]]]
        found = as_removed(straights, [0.03], (0, 0, 0), (0.2, 0.2, 0), 0.001)
        self.assertEqual(found.findings, (("lines_miss_at_bend", 1), ("straight_not_straight", 1)))
        refused(
            "straights_points_m",
            as_removed,
            [[[0, 0, 0], [1e-4, 0, 0]]],
            [],
            (0, 0, 0),
            (1, 0, 0),
            0.001,
        )
        line = [[[0, 0, 0], [0.1, 0, 0]], [[0.2, 0, 0], [0.3, 0, 0]]]
        refused("straights_points_m", as_removed, line, [0.03], (0, 0, 0), (0.4, 0, 0), 0.001)
        back = [line[0], [[0.3, 0.001, 0], [0.2, 0.001, 0]]]
        refused("straights_points_m", as_removed, back, [0.03], (0, 0, 0), (0.1, 0, 0), 0.001)

    @settings(max_examples=60, deadline=None)
    @given(tubes(), st.data())
    def test_a_flat_tube_laid_flat_keeps_every_distance(self, tube, data):
        flat = [data.draw(st.sampled_from([0.0, math.pi])) for _ in tube[2]]
        tube = (*tube[:2], flat, tube[3])
        there = walked(tube)
        shape = Tube.of(there.vertices_m, tube[3])
        laid = tube_template(there.vertices_m, tube[3], 0.0095)
        solid = [p for n in range(1, len(tube[1]) + 1) for p in (shape.begins(n), shape.ends(n))]
        solid.append(shape.vertices[-1])
        drawn = [*laid.tangent_points_m, laid.end_m]
        for (p, q), (a, b) in zip(pairwise(solid), pairwise(drawn), strict=True):
            self.assertAlmostEqual(math.dist(p, q), math.dist(a, b), 9)
        self.assertAlmostEqual(math.dist(solid[0], solid[-1]), math.dist(drawn[0], drawn[-1]), 9)
        # The sheet holds the centreline, arcs too: walk it in small steps.
        seen = np.array([_point_at(shape, s) for s in np.linspace(0, shape.developed_m, 4000)])
        u, v = shape.directions[0], np.cross(shape.normals[0], shape.directions[0])
        wide = [np.ptp(seen @ axis) for axis in (u, v)]
        np.testing.assert_allclose(laid.centreline_size_m, wide, atol=2e-5)
        self.assertAlmostEqual(laid.sheet_size_m[0] - laid.centreline_size_m[0], 0.0095)

    def test_a_tube_that_leaves_its_plane_is_no_template(self):
        at = walked(([0.2, 0.2, 0.2], [1.0, 1.0], [0.3], [0.03, 0.03])).vertices_m
        refused("vertices_m", tube_template, at, [0.03, 0.03], 0.0095)
        self.assertEqual(len(laid_flat(Tube.of(at, [0.03, 0.03]))[0]), 4)


def _point_at(shape, s):
    """A point of a tube so far along its centreline."""
    at = shape.vertices[0]
    for n, long in enumerate(shape.straights):
        begin = shape.ends(n) if n else at
        if s <= long or n == len(shape.arcs):
            return begin + s * shape.directions[n]
        s -= long
        if s <= shape.arcs[n]:
            c, k = shape.centre(n + 1), shape.normals[n]
            r = shape.begins(n + 1) - c
            turn = s / shape.radii[n]
            return c + r * math.cos(turn) + np.cross(k, r) * math.sin(turn)
        s -= shape.arcs[n]


class Through(TestCase):
    TUBE = (((0, 0, 0), (0.3, 0, 0), (0.3, 0.3, 0), (0.6, 0.3, 0)), (0.03, 0.03))

    def through(self, *holes, **more):
        return thread_through(*self.TUBE, 0.0095, holes, **more)

    def hole(self, x=0.1, name="frame", wide=0.012, thick=0.002, slot=None):
        return Hole(name, (x, 0, 0), (1, 0, 0), wide, thick, slot)

    def test_a_bare_tube_passes_a_thin_plate_from_both_ends(self):
        found = self.through(self.hole())
        self.assertEqual((found.lead, found.answer), ("end", "passes whole"))
        self.assertEqual([w.before for w in found.ways], [2, 2])
        self.assertEqual((found.holes[0].station_m, found.holes[0].in_place_m), (0.1, 0.0095))

    def test_a_fitting_wider_than_the_hole_never_passes_from_its_end(self):
        found = self.through(self.hole(), end_fitting_m=0.015)
        self.assertEqual([w.answer for w in found.ways], ["never: fit a union", "passes whole"])
        self.assertEqual(found.lead, "start")
        both = self.through(self.hole(), end_fitting_m=0.015, start_fitting_m=0.015)
        self.assertEqual((both.lead, both.answer), (None, "never: fit a union"))

    def test_a_bend_bows_in_a_thick_plate_by_its_sagitta(self):
        thick, inner = 0.02, 0.03 - 0.0095 / 2
        bow = inner - math.sqrt(inner**2 - thick**2 / 4)
        need = self.through(self.hole(thick=thick)).ways[0].needs[0]
        self.assertAlmostEqual(need.length_m, 0.0095 + bow)
        for wide, passes in ((0.0095 + bow + 2e-6, 2), (0.0095 + bow - 2e-6, 0)):
            found = self.through(self.hole(thick=thick, wide=wide))
            self.assertEqual(found.ways[0].before, passes)
        slot = self.through(self.hole(thick=thick, wide=0.0096, slot=0.02))
        self.assertEqual(slot.ways[0].before, 2)
        self.assertIsNone(slot.holes[0].in_place_m)

    def test_two_holes_hold_it_in_line(self):
        pair = self.hole(0.1, "front"), self.hole(0.2, "rear")
        found = self.through(*pair)
        self.assertEqual(found.ways[0].before, 0)
        self.assertEqual(found.ways[0].answer, "bend 1 and later in place")
        # From its start only the straight that is in the holes goes through.
        self.assertEqual(found.ways[1].before, 2)
        self.assertEqual(found.lead, "start")
        wide = self.through(*(self.hole(h.centre_m[0], h.id, 1.0) for h in pair))
        self.assertEqual(wide.answer, "passes whole")

    def test_a_bend_made_in_place_needs_room_for_the_bender(self):
        pair = self.hole(0.1, "front"), self.hole(0.2, "rear")
        self.assertEqual(self.through(*pair, bender_grip_m=0.0699).ways[0].before, 0)
        self.assertIsNone(self.through(*pair, bender_grip_m=0.0701).ways[0].before)

    def test_what_rubs_and_what_is_missed_is_told(self):
        self.assertEqual(
            self.through(self.hole(wide=0.0094)).findings, (("rubs_in_place", "frame"),)
        )
        off = Hole("frame", (0.1, 0.01, 0), (1, 0, 0), 0.012, 0.002)
        refused("holes", self.through, off)
        refused("holes", self.through, self.hole(), self.hole())
        refused("holes", self.through)
        refused("slot_m", self.through, self.hole(slot=0.01))
        refused("radii_m", thread_through, self.TUBE[0], (0.03, 0.03), 0.06, (self.hole(wide=0.1),))
