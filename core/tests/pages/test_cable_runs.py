"""Loops, routes, ends and forces of cables: pages 5 to 8 written a second time."""

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq, minimize_scalar

from core.tests.pages.asking import Agreeing, ask, field_refused, given, guarded

unit = st.floats(-1, 1)


T0 = 133.446647


def normal(v):
    return np.asarray(v, float) / np.linalg.norm(v)


def turned(point, pivot, axis, angle):
    """A point turned right-handed about an axis, by Rodrigues' formula."""
    k, r = normal(axis), np.asarray(point, float) - pivot
    return (
        np.asarray(pivot)
        + r * math.cos(angle)
        + np.cross(k, r) * math.sin(angle)
        + k * (k @ r) * (1 - math.cos(angle))
    )


class Loops(Agreeing, TestCase):
    @given(
        st.floats(0.03, 0.15), st.floats(0.03, 0.15), st.floats(-0.4, 0.4), st.floats(50, 300),
        st.floats(5e-6, 3e-5), st.floats(5e-6, 3e-5), st.floats(-15, 15),
    )  # fmt: skip
    def test_quadrants_balance_their_moments(self, r1, r2, angle, tension, ca, cb, moment):
        """By a root finder on the moments, without the closed form."""

        def pulls(driven):
            d = r1 * angle - r2 * driven
            return max(0.0, tension + d / ca), max(0.0, tension - d / cb)

        def left(driven):
            a, b = pulls(driven)
            return (a - b) * r2 + moment

        low, high = -6.0, 6.0
        assume(left(low) > 0 > left(high))
        driven = brentq(left, low, high, xtol=1e-13)
        a, b = pulls(driven)
        got = ask(
            "cables.quadrant_loop", driver_radius_m=r1, driven_radius_m=r2, driver_rad=angle,
            tension_N=tension, compliance_A_m_per_N=ca, compliance_B_m_per_N=cb,
            hinge_moment_Nm=moment,
        )  # fmt: skip
        self.agrees(got, {"driven_rad": driven, "tension_A_N": a, "tension_B_N": b}, 1e-5, 1e-5)
        self.assertEqual(sorted(got["slack"]), [s for s, t in (("A", a), ("B", b)) if t < 1e-6])

    @given(
        st.floats(0.05, 0.15), st.floats(0.05, 0.15), st.floats(-0.03, 0.03),
        st.floats(-0.35, 0.35), st.floats(-6, 6),
    )  # fmt: skip
    def test_two_straight_cables_by_energy(self, r1, r2, offset, angle, moment):
        """A loop rests where its stretch and the surface's moment store least."""
        c = 1.1e-5
        pivots, axis = (np.array([1.8, 0, 0.5]), np.array([5.9, 0, 0.5])), (0, 0, 1)
        at = {
            s: (pivots[0] + (0, w * r1, 0), pivots[1] + (offset, w * r2, 0))
            for s, w in (("A", 1), ("B", -1))
        }

        def lever(i):
            return {
                "pivot": pivots[i].tolist(), "axis": list(axis),
                "A": at["A"][i].tolist(), "B": at["B"][i].tolist(),
            }  # fmt: skip

        def length(side, driven):
            a = turned(at[side][0], pivots[0], axis, angle)
            b = turned(at[side][1], pivots[1], axis, driven)
            return float(np.linalg.norm(a - b))

        def tension(side, driven):
            rest = float(np.linalg.norm(at[side][0] - at[side][1]))
            return max(0.0, T0 + (length(side, driven) - rest) / c)

        def energy(driven):
            return sum(c * tension(s, driven) ** 2 / 2 for s in "AB") - moment * driven

        side = {"pulleys": [], "compliance_m_per_N": c, "tension_N": T0}
        given_ = {
            "loop": {"driver": lever(0), "driven": lever(1), "sides": {"A": side, "B": side}},
            "driver_rad": angle, "hinge_moment_Nm": moment,
        }  # fmt: skip
        if field_refused("cables.loop_solve", **given_):
            return
        got = ask("cables.loop_solve", **given_)
        if got["status"] == "both slack":
            return
        near = got["driven_rad"]
        found = minimize_scalar(
            energy, bounds=(near - 0.05, near + 0.05), method="bounded", options={"xatol": 1e-10}
        )
        self.assertAlmostEqual(near, found.x, 5)
        for s in "AB":
            self.same(got[f"tension_{s}_N"], tension(s, near), rel=1e-6, floor=1e-3)

    @given(st.floats(-0.5, 0.5), st.floats(0.2, 0.8))
    def test_a_fitting_moves_with_its_cable(self, low, reach):
        """Without pulleys: how far the attachment comes nearer to a fixed point of the run."""
        pivot, far = (1.8, 0.0, 0.5), (1.8 + 3 * reach, 0.12, 0.5)
        at = (1.8, 0.12, 0.5)
        angles = [low, 0.1, 0.3]
        moved = [
            float(np.linalg.norm(np.subtract(at, far)))
            - float(np.linalg.norm(turned(at, pivot, (0, 0, 1), a) - far))
            for a in angles
        ]
        got = ask(
            "cables.item_travel", lever={"pivot": pivot, "axis": [0, 0, 1], "A": at, "B": [1.8, -0.12, 0.5]},
            side="A", far_point=far, angles=angles,
        )  # fmt: skip
        self.agrees(got, {"low_m": min(0.0, *moved), "high_m": max(0.0, *moved)}, floor=1e-9)

    @given(
        st.lists(st.sampled_from([-2.0, -0.7, 0.5, 1.0, 1.4]), min_size=1, max_size=3),
        st.sampled_from(
            [
                ("rudder", "right pedal forward", (0, 0, 1), (0, 1, 0)),
                ("elevator", "stick aft", (0, 1, 0), (0, 0, 1)),
                ("right aileron", "stick right", (0, 1, 0), (0, 0, 1)),
                ("left aileron", "stick right", (0, 1, 0), (0, 0, -1)),
            ]
        ),
        st.floats(0.1, 0.6),
    )
    def test_which_way_the_edge_goes(self, gains, case, chord):
        control, motion, axis, wanted = case
        gain = math.prod(gains)
        hinge, edge = (5.9, 0.2, 0.9), (5.9 + chord, 0.2, 0.9)
        way = np.cross(normal(axis), np.subtract(edge, hinge)) * gain
        correct = float(way @ np.array(wanted)) > 0
        got = ask(
            "cables.sense_check", control=control, pilot_motion=motion, gains=gains,
            surface_axis=axis, hinge_point=hinge, trailing_edge=edge,
        )  # fmt: skip
        self.agrees(got, {"correct": correct, "overall_gain": gain})

    def test_sense_refusals(self):
        good = {
            "control": "rudder", "pilot_motion": "right pedal forward", "gains": [1.0],
            "surface_axis": [0, 0, 1], "hinge_point": [5.9, 0, 0.9], "trailing_edge": [6.3, 0, 0.9],
        }  # fmt: skip
        for field, change in (
            ("pilot_motion", {"pilot_motion": "stick aft"}),
            ("control", {"control": "spoiler"}),
            ("gains", {"gains": [1.0, 0.0]}),
            ("trailing_edge", {"trailing_edge": [5.9, 0, 1.3]}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "cables.sense_check", **(good | change))
        self.assertIsNotNone(
            field_refused("cables.sense_check", **(good | {"surface_axis": [0, 1, 0]}))
        )


class Routes(Agreeing, TestCase):
    @given(
        st.tuples(unit, unit, unit), st.tuples(unit, unit, unit), st.floats(0.01, 0.05),
        st.floats(0.0016, 0.0064), st.floats(0.001, 0.01), st.floats(0, 0.004), st.floats(0, 0.01),
    )  # fmt: skip
    def test_a_pulley_in_line_and_large_enough(self, a, b, groove, d, rim, wider, u):
        assume(np.linalg.norm(a) > 0.2 and np.linalg.norm(b) > 0.2)
        a, b, n = normal(a), normal(b), np.array([0.0, 0.0, 1.0])
        flange, width = groove + d / 2 + 0.001 + wider, d + rim
        wrap = math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b))
        off = max(abs(math.asin(float(np.clip(x @ n, -1, 1)))) for x in (a, b))
        rub = math.atan((rim / 2) / math.sqrt(flange**2 - (groove + d / 2) ** 2))
        got = ask(
            "cables.pulley_check", d_in=a.tolist(), d_out=b.tolist(), axis=n.tolist(),
            groove_radius_m=groove, cable_diameter_m=d, flange_radius_m=flange,
            rim_width_m=width, misalignment_limit_rad=0.035, ratio_min=16, u_angle_rad=u,
        )  # fmt: skip
        assume(abs(2 * groove / d - 16) > 1e-6)
        self.agrees(
            got,
            {
                "wrap_rad": wrap, "misalignment_rad": off, "ratio": 2 * groove / d,
                "alignment": guarded(off, 2 * u, None, min(0.035, rub)),
                "diameter": "in" if 2 * groove / d >= 16 else "out",
            },
            floor=1e-6,
        )  # fmt: skip
        bare = ask(
            "cables.pulley_check", d_in=a.tolist(), d_out=b.tolist(), axis=n.tolist(),
            groove_radius_m=groove, cable_diameter_m=d,
        )  # fmt: skip
        self.assertEqual((bare["alignment"], bare["diameter"]), ("not judged", "not judged"))

    @given(st.tuples(unit, unit), st.floats(0, 0.01))
    def test_a_fairlead_bends_three_degrees_at_most(self, side, u):
        a, b = np.array([1.0, 0, 0]), np.array([1.0, side[0] * 0.08, side[1] * 0.08])
        bend = math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b))
        got = ask("cables.fairlead_check", d_in=a.tolist(), d_out=b.tolist(), u_angle_rad=u)
        self.same(got["deflection_rad"], bend, floor=1e-7)
        self.assertEqual(got["verdict"], guarded(bend, 2 * u, None, math.radians(3)))

    @given(
        st.integers(0, 400), st.integers(1, 150), st.integers(1, 300), st.integers(1, 100),
        st.integers(-80, 0), st.integers(0, 80), st.integers(0, 4), st.booleans(),
    )  # fmt: skip
    def test_what_moves_keeps_its_distance(self, start, long, apart, thick, lo, hi, u, before):
        """In thousandths of a metre, so that every edge is exact."""
        item = (start, start + long)
        fixed = (item[1] + apart, item[1] + apart + thick)
        if not before:
            fixed = (item[0] - apart - thick, item[0] - apart)
        gap = fixed[0] - (item[1] + hi) if before else (item[0] + lo) - fixed[1]
        got = ask(
            "cables.travel_gap", item=[x / 1e3 for x in item], obstacle=[x / 1e3 for x in fixed],
            travel=[lo / 1e3, hi / 1e3], u_m=u / 1e3,
        )  # fmt: skip
        self.same(got["gap_m"], gap / 1e3, floor=1e-9)
        self.assertEqual(got["fouls"], gap < 0)
        self.assertEqual(got["verdict"], guarded(gap / 1e3, 2 * u / 1e3, 0.0508, None))

    @given(
        st.tuples(st.integers(0, 100), st.integers(1, 100)),
        st.tuples(st.integers(0, 300), st.integers(1, 100)),
        st.tuples(st.integers(-120, 0), st.integers(0, 120)), st.integers(8, 40), st.integers(1, 9),
        st.integers(1, 9),
    )  # fmt: skip
    def test_two_turnbuckles_that_pass_each_other(self, a, b, travel, lateral, ra, rb):
        A, B = (a[0], sum(a)), (b[0], sum(b))

        def long_gap(r):
            return max(B[0] + r - A[1], A[0] - B[1] - r)

        # Every half of a millimetre: the least lies at an end or where both sides are equal.
        steps = range(2 * travel[0], 2 * travel[1] + 1)
        along = min(long_gap(r / 2) for r in steps)
        across = lateral - ra - rb
        gap = math.hypot(across, along) if min(across, along) > 0 else max(across, along)
        got = ask(
            "cables.pair_gap", item_A=[x / 1e3 for x in A], item_B=[x / 1e3 for x in B],
            relative_travel=[x / 1e3 for x in travel], lateral_m=lateral / 1e3,
            radius_A_m=ra / 1e3, radius_B_m=rb / 1e3, required_m=0.006, u_m=0.0005,
        )  # fmt: skip
        self.same(got["gap_m"], gap / 1e3, floor=1e-9)
        self.assertEqual(got["verdict"], guarded(gap / 1e3, 0.001, 0.006, None))

    @given(st.lists(st.permutations(["a", "b", "c", "d"]), min_size=1, max_size=4))
    def test_cables_that_change_places_between_two_banks(self, banks):
        crossed = {
            (i, frozenset((p, q)))
            for i, (one, other) in enumerate(itertools.pairwise(banks))
            for p, q in itertools.combinations(one, 2)
            if (one.index(p) < one.index(q)) != (other.index(p) < other.index(q))
        }
        got = ask("cables.order_check", banks=banks)
        pairs = next(v for v in got.values() if isinstance(v, (list, tuple)))
        self.assertEqual({(i, frozenset((p, q))) for i, p, q in pairs}, crossed)
        self.assertEqual(len(pairs), len(crossed))

    @given(st.booleans(), st.integers(0, 50), st.none() | st.integers(5, 31), st.integers(0, 4))
    def test_a_guard_nearer_than_the_cable_is_thick(self, present, gap, limit, u):
        d = 0.0032
        most = d if limit is None else limit / 1e4
        got = ask(
            "cables.guard_check", present=present, gap_m=gap / 1e4, cable_diameter_m=d,
            limit_m=None if limit is None else most, u_m=u / 1e4,
        )  # fmt: skip
        word = guarded(gap / 1e4, 2 * u / 1e4, None, most)
        self.assertEqual(got["verdict"], "out" if not present or gap >= 32 else word)
        self.refuses(
            "limit_m", "cables.guard_check", present=True, gap_m=0.001, cable_diameter_m=d,
            limit_m=d * 1.01,
        )  # fmt: skip
