"""The page of travel, a second time: each way of measuring it."""

import itertools
import math
from unittest import TestCase

from hypothesis import strategies as st
from scipy.optimize import brentq

from core.tests.pages.asking import (
    Agreeing,
    ask,
    expanded,
    field_refused,
    given,
    spread,
)
from core.tests.pages.test_travel import ROOT3, ROOT12

rad, deg = math.radians, math.degrees


FACES = {
    "full_360": (0, 360, 360),
    "plus_minus_180": (-180, 180, 360),
    "plus_minus_90": (-90, 90, 180),
}


class GaugeDifference(Agreeing, TestCase):
    @given(
        st.sampled_from(sorted(FACES)),
        st.floats(-30, 30),
        st.lists(st.floats(-0.4, 0.4), min_size=1, max_size=4),
        st.lists(st.floats(-0.4, 0.4), min_size=1, max_size=4),
        st.floats(-50, 50),
        st.sampled_from([1, -1]),
    )
    def test_the_difference_of_the_means_wherever_the_face_turns_over(
        self, face, start, first, second, turn, sense
    ):
        low, high, period = FACES[face]

        def shown(angle):
            return min(max((angle - low) % period + low, low), high)

        neutral = [shown(start + e) for e in first]
        readings = [shown(start + sense * turn + e) for e in second]
        got = ask(
            "controls.gauge_difference", face=face, neutral_deg=neutral, readings_deg=readings,
            sense=sense, accuracy_deg=0.2, resolution_deg=0.1,
        )  # fmt: skip
        want = turn + sense * (sum(second) / len(second) - sum(first) / len(first))
        parts = [(0.2 / ROOT3, None)] * 2 + [(0.1 / ROOT12, None)] * 2
        for group in (first, second):
            if len(group) > 1:
                parts.append((spread(group) / math.sqrt(len(group)), len(group) - 1))
        u, _, k, U = expanded(parts)
        self.agrees(got, {"deflection_deg": want, "u_deg": u, "k": k, "U_deg": U}, floor=1e-6)

    @given(st.floats(0, 60), st.floats(0, 20), st.sampled_from([1, -1]), st.sampled_from([1, -1]))
    def test_a_face_without_sign_asks_which_side(self, reading, neutral, side, before):
        given_ = {
            "face": "quadrant_90", "neutral_deg": [neutral], "readings_deg": [reading],
            "accuracy_deg": 0.2, "resolution_deg": 0.1,
        }  # fmt: skip
        got = ask("controls.gauge_difference", **given_, side=side, neutral_side=before)
        self.same(got["deflection_deg"], side * reading - before * neutral, floor=1e-6)
        unknown = ask("controls.gauge_difference", **given_)
        self.assertEqual(unknown["verdict"], "not measured")
        self.assertNotIn("deflection_deg", unknown)
        candidates = sorted({abs(reading - neutral), reading + neutral})
        if len(candidates) == 2 and candidates[1] - candidates[0] > 1e-6:
            self.same(unknown["candidates_deg"], candidates, floor=1e-6)

    @given(st.floats(-60, 60))
    def test_set_to_zero_the_gauge_errs_once_and_is_read_twice(self, reading):
        got = ask(
            "controls.gauge_difference", face="plus_minus_180", readings_deg=[reading], zeroed=True,
            accuracy_deg=0.3, resolution_deg=0.2,
        )  # fmt: skip
        self.same(got["deflection_deg"], reading)
        # Setting to zero is itself a reading of the display.
        once = math.hypot(0.3 / ROOT3, 0.2 / ROOT12)
        self.assertLessEqual(got["u_deg"], math.hypot(once, 0.2 / ROOT12) + 1e-9)
        self.assertGreaterEqual(got["u_deg"], once - 1e-9)

    def test_refusals(self):
        good = {
            "face": "full_360", "neutral_deg": [10.0], "readings_deg": [30.0],
            "accuracy_deg": 0.2, "resolution_deg": 0.1,
        }  # fmt: skip
        for field, change in (
            ("face", {"face": "half_circle"}),
            ("readings_deg", {"readings_deg": [361.0]}),
            ("readings_deg", {"readings_deg": []}),
            ("neutral_deg", {"neutral_deg": [-1.0]}),
            ("sense", {"sense": 2}),
            ("accuracy_deg", {"accuracy_deg": -0.2}),
            ("resolution_deg", {"resolution_deg": -0.2}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "controls.gauge_difference", **(good | change))
        self.assertIsNotNone(
            field_refused("controls.gauge_difference", **(good | {"readings_deg": [110.0]}))
        )


class SweptAndIncluded(Agreeing, TestCase):
    @given(st.floats(1, 40), st.floats(0, 45))
    def test_held_and_fixed_of_a_level_hinge_have_their_closed_forms(self, delta, sweep):
        d, s = rad(delta), rad(sweep)
        held = deg(math.atan(math.tan(d) * math.cos(s)))
        fixed = deg(math.asin(math.sin(d) * math.cos(s)))
        for practice, reading in (("held_streamwise", held), ("fixed_to_skin", fixed)):
            got = ask(
                "controls.swept_gauge", sweep_deg=sweep, reading_deg=reading, practice=practice
            )  # fmt: skip
            self.same(got["deflection_deg"], delta, floor=1e-6)
            self.assertAlmostEqual(got["naive_deg"], reading, 9)

    @given(
        st.floats(5, 35), st.floats(5, 25), st.floats(-8, 8), st.floats(-8, 8),
        st.sampled_from(["held_streamwise", "fixed_to_skin"]),
    )  # fmt: skip
    def test_its_uncertainty_is_by_the_slope_of_each_measured_angle(
        self, sweep, reading, dihedral, neutral, practice
    ):
        given_ = {
            "sweep_deg": sweep, "dihedral_deg": dihedral, "neutral_deg": neutral,
            "reading_deg": reading, "practice": practice,
        }  # fmt: skip
        us = {"u_reading_deg": 0.2, "u_neutral_deg": 0.15, "u_sweep_deg": 0.5}
        got = ask("controls.swept_gauge", **given_, **us)

        def slope(name):
            step = 1e-3
            up, down = (
                ask("controls.swept_gauge", **(given_ | {name: given_[name] + s}))["deflection_deg"]
                for s in (step, -step)
            )
            return (up - down) / (2 * step)

        u = math.sqrt(
            sum((slope(n[2:]) * v) ** 2 for n, v in us.items())
        )  # u_reading_deg belongs to reading_deg
        self.same(got["u_deg"], u, rel=1e-4)
        self.same(got["U_deg"], 2 * u, rel=1e-4)

    @given(
        st.sampled_from(
            [
                ("trailing_edge_up", "upper", -1),
                ("trailing_edge_up", "lower", 1),
                ("trailing_edge_down", "upper", 1),
                ("trailing_edge_down", "lower", -1),
                ("trailing_edge_right", "right", -1),
                ("trailing_edge_right", "left", 1),
            ]
        ),
        st.floats(150, 200),
        st.floats(-40, 40),
        st.floats(0, 2),
    )
    def test_a_skin_opens_or_closes_the_angle(self, pair, neutral, delta, gap):
        positive, skin, opens = pair
        included = neutral + opens * delta
        given_ = {"positive": positive, "skin": skin, "neutral_included_deg": neutral}
        got = ask(
            "controls.included_angle", **given_, included_deg=included, accuracy_deg=0.2,
            neutral_u_deg=0.15, gap_mm=gap, arm_mm=140,
        )  # fmt: skip
        seen = deg(math.atan(gap / 140)) / ROOT3
        u = math.sqrt((0.2 / ROOT3) ** 2 + 0.15**2 + seen**2)
        self.agrees(
            got, {"deflection_deg": delta, "u_deg": u, "U_deg": 2 * u, "k": 2.0}, 1e-6, 1e-6
        )
        back = ask("controls.included_angle", **given_, deflection_deg=delta)
        self.assertAlmostEqual(back["included_deg"], included, 7)

    def test_other_pairs_of_skin_are_refused(self):
        ways = ("trailing_edge_up", "trailing_edge_down", "trailing_edge_right")
        fine = {(w, s) for w in ways[:2] for s in ("upper", "lower")}
        fine |= {("trailing_edge_right", "left"), ("trailing_edge_right", "right")}
        for way, skin in itertools.product(ways, ("upper", "lower", "left", "right", "top")):
            found = field_refused(
                "controls.included_angle", positive=way, skin=skin, neutral_included_deg=170,
                included_deg=150,
            )  # fmt: skip
            self.assertEqual(found, None if (way, skin) in fine else "skin")


class EdgeOffset(Agreeing, TestCase):
    @staticmethod
    def offset(practice, c, delta, phi):
        if practice == "straight":
            return 2 * c * math.sin(delta / 2)
        if practice == "arc":
            return c * delta
        return c * (math.sin(phi + delta) - math.sin(phi))

    @given(
        st.sampled_from(["straight", "perpendicular", "arc"]), st.floats(80, 600),
        st.floats(1, 45), st.floats(-20, 20),
    )  # fmt: skip
    def test_each_practice_and_back(self, practice, chord, delta, phi):
        d = self.offset(practice, chord, rad(delta), rad(phi))
        got = ask(
            "controls.edge_offset", chord_mm=chord, offset_mm=d, practice=practice, phi_deg=phi,
            u_offset_mm=0.5, u_chord_mm=0.6, u_phi_deg=0.3,
        )  # fmt: skip
        self.same(got["deflection_deg"], delta, floor=1e-6)

        def delta_of(d_, c_, p_):
            return brentq(
                lambda x: self.offset(practice, c_, x, p_) - d_, -0.3, math.pi / 2 - max(p_, 0)
            )

        slopes = (
            (delta_of(d + 1e-4, chord, rad(phi)) - delta_of(d - 1e-4, chord, rad(phi))) / 2e-4,
            (delta_of(d, chord + 1e-4, rad(phi)) - delta_of(d, chord - 1e-4, rad(phi))) / 2e-4,
            (delta_of(d, chord, rad(phi) + 1e-6) - delta_of(d, chord, rad(phi) - 1e-6)) / 2e-6,
        )
        uphi = rad(0.3) if practice == "perpendicular" else 0.0
        u = math.sqrt(sum((s * x) ** 2 for s, x in zip(slopes, (0.5, 0.6, uphi), strict=True)))
        self.same(got["u_deg"], deg(u), rel=1e-4)
        self.same(got["per_mm_offset_deg"], deg(slopes[0]), rel=1e-4)
        back = ask(
            "controls.edge_offset", chord_mm=chord, deflection_deg=delta, practice=practice,
            phi_deg=phi,
        )  # fmt: skip
        self.same(back["offset_mm"], d, floor=1e-6)

    def test_refusals(self):
        good = {"chord_mm": 310, "offset_mm": 137, "practice": "straight"}
        for field, change in (
            ("practice", {"practice": "by eye"}),
            ("chord_mm", {"chord_mm": 0}),
            ("offset_mm", {"offset_mm": -1}),
            ("offset_mm", {"offset_mm": 310 * math.sqrt(2) + 0.1}),
            ("offset_mm", {"offset_mm": 310.0, "practice": "perpendicular"}),
            ("offset_mm", {"offset_mm": 488, "practice": "arc"}),
            ("phi_deg", {"phi_deg": 46, "practice": "perpendicular"}),
            ("u_offset_mm", {"u_offset_mm": -0.1}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "controls.edge_offset", **(good | change))
