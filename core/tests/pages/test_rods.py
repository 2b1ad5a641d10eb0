"""Rods, templates, hinge lines, balance and inserts: pages 4 and 7 to 10."""

import math
from fractions import Fraction
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import Agreeing, ask, field_refused, given, guarded, worst

rad, deg = math.radians, math.degrees
G = 9.80665
pitches = st.sampled_from([25.4 / 28, 25.4 / 32, 25.4 / 24, 1.0])


class RodSteps(Agreeing, TestCase):
    @given(
        pitches, pitches, st.sampled_from(["tube", "end_a", "end_b"]), st.integers(-9, 9),
        st.sampled_from(["opposite", "same"]),
    )  # fmt: skip
    def test_what_a_half_turn_does_to_length_and_threads(self, pa, pb, turned, n, hands):
        got = ask(
            "controls.rod_step", pitch_a_mm=pa, pitch_b_mm=pb, turned=turned, half_turns=n,
            hands=hands,
        )  # fmt: skip
        a = pa * n / 2 if turned in ("tube", "end_a") else 0.0
        b = pb * n / 2 if turned in ("tube", "end_b") else 0.0
        if turned == "tube" and hands == "same":
            b = -b
        want = {
            "length_change_mm": a + b, "engaged_change_a_mm": -a, "engaged_change_b_mm": -b,
        }  # fmt: skip
        self.agrees(got, {k: float(v) for k, v in want.items()})

    @given(pitches, pitches, st.integers(-9, 9))
    def test_turning_there_and_back_leaves_all_as_it_was(self, pa, pb, n):
        there, back = (
            ask(
                "controls.rod_step", pitch_a_mm=pa, pitch_b_mm=pb, turned="tube", half_turns=k,
                hands="opposite",
            )
            for k in (n, -n)
        )  # fmt: skip
        for name in there:
            self.assertAlmostEqual(there[name] + back[name], 0.0)

    def test_refusals(self):
        good = {"pitch_a_mm": 0.9, "pitch_b_mm": 0.9, "turned": "tube", "half_turns": 1}
        for field, change in (
            ("hands", {}),
            ("hands", {"hands": "left"}),
            ("turned", {"turned": "eye", "hands": "same"}),
            ("half_turns", {"half_turns": 0.5, "hands": "same"}),
            ("pitch_a_mm", {"pitch_a_mm": 0, "hands": "same"}),
            ("pitch_b_mm", {"pitch_b_mm": -1, "hands": "same"}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "controls.rod_step", **(good | change))

    @given(
        st.integers(20, 260), st.integers(60, 200), st.integers(0, 8),
        st.none() | st.integers(60, 120), st.integers(180, 320),
    )  # fmt: skip
    def test_engagement_counts_its_half_turns_exactly(self, e, dia, u, hole, most):
        """All in tenths of a millimetre and exact fractions: no rounding decides."""
        pitch = Fraction(8, 10)
        engaged, diameter, U = Fraction(e, 10), Fraction(dia, 20), Fraction(u, 10)
        required, by = diameter * 3 / 2, "minimum engagement"
        given_ = {
            "engaged_mm": float(engaged), "pitch_mm": 0.8, "thread_dia_mm": float(diameter),
            "max_engaged_mm": most / 10, "U_mm": float(U),
        }  # fmt: skip
        if hole is not None:
            given_ |= {"hole_depth_mm": hole / 10, "hole_dia_mm": 1.6}
            blocked = Fraction(hole, 10) + Fraction(8, 10)
            if blocked > required:
                required, by = blocked, "inspection hole"
        most = Fraction(most, 10)
        if most < required:
            self.refuses("max_engaged_mm", "controls.engagement", **given_)
            return
        got = ask("controls.engagement", **given_)
        half = pitch / 2
        self.agrees(
            got,
            {
                "required_mm": float(required),
                "set_by": by,
                "half_turns_out": max(0, (engaged - U - required) // half),
                "half_turns_in": max(0, (most - U - engaged) // half),
                "half_turns_to_mend": max(0, -((engaged - required - U) // half)),
                "verdict": guarded(float(engaged), float(U), float(required), float(most)),
            },
        )

    @given(
        st.floats(12, 40), st.floats(0.6, 2.0), st.floats(200, 1400), st.floats(1.0, 2.0),
        st.floats(500, 6000), st.floats(1.5, 2.0), st.floats(1.0, 1.5),
    )  # fmt: skip
    def test_a_strut_by_euler_or_johnson(self, od, wall, length, K, load, ultimate, special):
        assume(od / wall <= 50)
        E, Fcy = 70e9, 240e6
        D, d = od / 1e3, (od - 2 * wall) / 1e3
        area, inertia = math.pi * (D**2 - d**2) / 4, math.pi * (D**4 - d**4) / 64
        slender = K * length / 1e3 / math.sqrt(inertia / area)
        limit = math.pi * math.sqrt(2 * E / Fcy)
        if slender >= limit:
            regime, stress = "Euler", math.pi**2 * E / slender**2
        else:
            regime = "Johnson"
            stress = Fcy * (1 - Fcy * slender**2 / (4 * math.pi**2 * E))
        reserve = stress * area / (load * ultimate * special)
        got = ask(
            "controls.rod_strength", od_mm=od, wall_mm=wall, length_mm=length, E_GPa=70,
            Fcy_MPa=240, K=K, rod_limit_N=load, ultimate_factor=ultimate, special_factor=special,
        )  # fmt: skip
        self.agrees(
            got,
            {
                "area_mm2": area * 1e6, "inertia_mm4": inertia * 1e12, "slenderness": slender,
                "slenderness_limit": limit, "regime": regime, "critical_N": stress * area,
                "reserve": reserve, "verdict": "in" if reserve >= 1 else "out",
            },
        )  # fmt: skip

    @given(st.floats(100, 900), st.floats(200, 600), st.floats(20, 120))
    def test_the_pilot_s_force_reaches_the_rod_by_its_arms(self, force, grip, arm):
        tube = {"od_mm": 25.4, "wall_mm": 0.889, "length_mm": 700, "E_GPa": 70, "Fcy_MPa": 240}
        by_arms = ask(
            "controls.rod_strength", **tube, pilot_force_N=force, grip_arm_mm=grip, rod_arm_mm=arm
        )  # fmt: skip
        plain = ask("controls.rod_strength", **tube, rod_limit_N=force * grip / arm)
        self.agrees(by_arms, plain)

    def test_strength_refusals(self):
        good = {
            "od_mm": 25.4, "wall_mm": 0.889, "length_mm": 700, "E_GPa": 70, "Fcy_MPa": 240,
            "rod_limit_N": 1000,
        }  # fmt: skip
        for change in (
            {"wall_mm": 13}, {"wall_mm": 0.5}, {"K": 0.9}, {"ultimate_factor": 1.4},
            {"special_factor": 0.9}, {"rod_limit_N": 0}, {"E_GPa": 0}, {"Fcy_MPa": -1},
            {"pilot_force_N": 100}, {"length_mm": 0}, {"rod_limit_N": None},
        ):  # fmt: skip
            with self.subTest(change=change):
                self.assertIsNotNone(field_refused("controls.rod_strength", **(good | change)))


class Templates(Agreeing, TestCase):
    @staticmethod
    def polygon(points):
        """Area and first moments by the shoelace."""
        pairs = zip(points, [*points[1:], points[0]], strict=True)
        return abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs)) / 2

    @given(st.floats(80, 280), st.floats(90, 200), st.floats(90, 200), st.floats(15, 40))
    def test_a_plain_card_is_a_polygon_of_six_corners(self, beta, fixed, moving, w):
        b = rad(beta)
        assume(min(fixed, moving) > w / math.tan(b / 2) + 12)
        got = ask(
            "controls.template", included_deg=beta, arm_fixed_mm=fixed, arm_moving_mm=moving,
            width_mm=w,
        )  # fmt: skip
        alpha = math.pi - b
        m = np.array([math.cos(alpha), math.sin(alpha)])
        outward = np.array([-math.sin(alpha), math.cos(alpha)])
        apex = (
            w / math.sin(b / 2) * np.array([math.cos(math.pi - b / 2), math.sin(math.pi - b / 2)])
        )
        ring = [
            m * moving, m * moving + w * outward, apex, np.array([-fixed, w]),
            np.array([-fixed, 0.0]), np.array([0.0, 0.0]),
        ]  # fmt: skip
        xs, ys = zip(*ring, strict=True)
        self.agrees(
            got,
            {
                "moving_end": list(map(float, ring[0])),
                "moving_outer": list(map(float, ring[1])),
                "outer_apex": list(map(float, apex)),
                "area_mm2": float(self.polygon(ring)),
                "bbox_mm": [float(max(xs) - min(xs)), float(max(ys) - min(ys))],
                "vertex_count": 6,
                "arc_segments": 0,
            },
            floor=1e-6,
        )

    @given(st.floats(100, 260), st.floats(6, 20), st.floats(-3, 3), st.floats(-3, 3))
    def test_a_notch_is_a_circle_that_takes_the_corner_away(self, beta, r, aft, up):
        assume(math.hypot(aft, up) < 0.8 * r)
        given_ = {
            "included_deg": beta, "arm_fixed_mm": 160, "arm_moving_mm": 150, "width_mm": 45,
            "notch_radius_mm": r, "notch_aft_mm": aft, "notch_up_mm": up,
        }  # fmt: skip
        if field_refused("controls.template", **given_):
            return
        got = ask("controls.template", **given_)
        for point in (got["notch_fixed"], got["notch_moving"]):
            self.assertAlmostEqual(math.dist(point, (aft, up)), r, 6)
        # On the fixed arm's edge, and on the moving arm's.
        self.assertAlmostEqual(got["notch_fixed"][1], 0.0, 9)
        alpha = math.pi - rad(beta)
        x, y = got["notch_moving"]
        self.assertAlmostEqual(x * math.sin(alpha) - y * math.cos(alpha), 0.0, 6)
        self.assertAlmostEqual(got["contact_fixed_mm"], 160 - math.hypot(*got["notch_fixed"]), 6)
        self.assertAlmostEqual(got["contact_moving_mm"], 150 - math.hypot(x, y), 6)
        plain = ask("controls.template", **(given_ | {"notch_radius_mm": 0}))
        self.assertLess(got["area_mm2"], plain["area_mm2"])
        self.assertEqual(got["vertex_count"], 5 + got["arc_segments"] + 1)
        # The arc runs clockwise through the card; no chord leaves it by more than 0.02 mm.
        begin, end = (
            math.atan2(p[1] - up, p[0] - aft) for p in (got["notch_fixed"], got["notch_moving"])
        )
        span = (begin - end) % (2 * math.pi)
        n = max(2, math.ceil(span / (2 * math.acos(1 - 0.02 / r)) - 1e-9))
        self.assertEqual(got["arc_segments"], n)

    @given(st.floats(0.98, 1.02), st.floats(0.98, 1.02), st.floats(100, 200))
    def test_a_print_that_stretches_turns_the_angle(self, sx, sy, beta):
        alpha = math.pi - rad(beta)
        printed = (math.pi - math.atan2(sy * math.sin(alpha), sx * math.cos(alpha))) % (2 * math.pi)
        error = deg(printed) - beta
        assume(abs(abs(error) - 0.1) > 1e-6)
        got = ask(
            "controls.print_check", across_mm=100 * sx, down_mm=100 * sy, included_deg=beta
        )  # fmt: skip
        self.agrees(
            got,
            {
                "included_printed_deg": deg(printed), "error_deg": error, "scale_across": sx,
                "scale_down": sy,
                "usable": abs(error) <= 0.1 and abs(sx - 1) <= 0.01 and abs(sy - 1) <= 0.01,
            },
            floor=1e-7,
        )  # fmt: skip


class HingesAndBalance(Agreeing, TestCase):
    @given(
        st.lists(st.tuples(st.floats(40, 90), st.floats(250, 400)), min_size=1, max_size=4),
        st.floats(0, 1.5),
    )
    def test_where_the_hinge_lies_on_the_chord(self, stations, accuracy):
        u = accuracy / math.sqrt(3)
        rows = []
        for b, c in stations:
            U = 2 * math.sqrt((u / c) ** 2 + (b * u / c**2) ** 2)
            word = guarded(b / c, U, 0.19, 0.22)
            rows.append({"fraction": b / c, "overhang": b / (c - b), "U": U, "verdict": word})
        got = ask(
            "controls.hinge_fraction", lo=0.19, hi=0.22, accuracy_mm=accuracy,
            stations=[{"ahead_mm": b, "chord_mm": c} for b, c in stations],
        )  # fmt: skip
        self.agrees(got, {"rows": rows, "worst": worst([r["verdict"] for r in rows])})

    def test_a_hinge_behind_its_chord_is_refused(self):
        for b, c in ((300, 300), (310, 300), (-1, 300), (0, 0)):
            found = field_refused(
                "controls.hinge_fraction", stations=[{"ahead_mm": b, "chord_mm": c}], lo=0.1
            )
            self.assertIsNotNone(found)

    @given(
        st.lists(st.tuples(*[st.floats(-3, 3)] * 3), min_size=3, max_size=6),
        st.tuples(*[st.floats(-1, 1)] * 3),
    )
    def test_hinges_in_one_line_by_least_squares(self, off, direction):
        assume(np.linalg.norm(direction) > 0.3)
        along = np.array(direction) / np.linalg.norm(direction)
        points = np.array([along * 400 * i + np.array(o) for i, o in enumerate(off)])
        got = ask("controls.hinge_straightness", points_mm=points.tolist())
        centred = points - points.mean(axis=0)
        _, vectors = np.linalg.eigh(centred.T @ centred)
        line = vectors[:, -1]
        fit = np.linalg.norm(centred - np.outer(centred @ line, line), axis=1)
        ends = (points[-1] - points[0]) / np.linalg.norm(points[-1] - points[0])
        from_first = points - points[0]
        off_line = np.linalg.norm(from_first - np.outer(from_first @ ends, ends), axis=1)
        self.same(got["fit_deviation_mm"], [float(x) for x in fit], rel=1e-5, floor=1e-5)
        self.same(got["off_end_line_mm"], [float(x) for x in off_line], rel=1e-5, floor=1e-5)
        self.same(got["max_fit_mm"], float(max(fit)), rel=1e-5, floor=1e-5)
        self.same(got["max_off_mm"], float(max(off_line)), rel=1e-5, floor=1e-5)

    @given(st.tuples(*[st.floats(-500, 500)] * 3), st.permutations([0, 1, 2]))
    def test_where_the_axes_lie_says_nothing_about_straightness(self, shift, order):
        points = [
            [5800, -1210, 780],
            [5800.6, -420, 780.4],
            [5799.8, 415, 780.1],
            [5800, 1205, 780],
        ]
        moved = [[p[i] + shift[i] for i in order] for p in points]
        one, other = (
            ask("controls.hinge_straightness", points_mm=p) for p in (points, moved)
        )  # fmt: skip
        self.agrees(other, one, rel=1e-4, floor=1e-4)

    @given(
        st.floats(-1, 2), st.floats(0, 0.3), st.floats(100, 400), st.floats(1, 8),
        st.floats(80, 250), st.floats(-0.5, 0.5), st.floats(0, 0.02), st.floats(0, 2),
    )  # fmt: skip
    def test_balance_is_mass_times_arm(self, scale, tare, arm, mass, b, aim, ua, ub):
        m = scale - tare
        moment = m * G * arm / 1e3
        U = 2 / math.sqrt(3) * math.hypot(G * arm / 1e3 * ua, m * G * ub / 1e3)
        got = ask(
            "controls.mass_balance", scale_kg=scale, tare_kg=tare, arm_mm=arm,
            surface_mass_kg=mass, weight_arm_mm=b, aim_Nm=aim, scale_accuracy_kg=ua,
            arm_accuracy_mm=ub, lo_Nm=0, hi_Nm=0.6,
        )  # fmt: skip
        self.agrees(
            got,
            {
                "moment_Nm": moment, "U_Nm": U, "cg_aft_mm": m * arm / mass,
                "weight_change_kg": (moment - aim) / (G * b / 1e3),
                "verdict": guarded(moment, U, 0, 0.6),
            },
        )  # fmt: skip


class Inserts(Agreeing, TestCase):
    rivets = st.lists(
        st.tuples(st.integers(8, 26), st.sampled_from([0, 60, 90, 120, 180, 240, 300])),
        min_size=1, max_size=5, unique=True,
    )  # fmt: skip

    def given_(self, kind, rivets, **more):
        return {
            "rivet_dia_mm": 3.2, "tube_od_mm": 25.4, "wall_mm": 0.889, "insert_len_mm": 34,
            "tapped_dia_mm": 6.35, "tapped_depth_mm": 20, "kind": kind,
            "rivets": [{"x_mm": x, "phi_deg": p} for x, p in rivets], "pitch_min_D": 3,
            "clear_min_mm": 1.5, "U_mm": 0.2,
        } | more  # fmt: skip

    @given(rivets, st.floats(3, 9))
    def test_radial_rivets(self, rivets, reach):
        got = ask("controls.insert_rivets", **self.given_("radial", rivets, reach_mm=reach))
        d, surface, tip = 3.2, 25.4 / 2 - 0.889, 25.4 / 2 - reach

        def apart(radius):
            spots = [(x, radius * math.cos(rad(p)), radius * math.sin(rad(p))) for x, p in rivets]
            gaps = [math.dist(a, b) for i, a in enumerate(spots) for b in spots[i + 1 :]]
            return min(gaps, default=None)

        tube, insert = min(x for x, _ in rivets), min(34 - x for x, _ in rivets)
        clear = min(max(x - d / 2 - 20, tip - 6.35 / 2) for x, _ in rivets)
        want = {
            "tube_edge_mm": float(tube), "insert_edge_mm": float(insert), "clearance_mm": clear,
            "tube_edge": guarded(tube, 0.2, 6.4, None),
            "insert_edge": guarded(insert, 0.2, 6.4, None),
            "clearance": guarded(clear, 0.2, 1.5, None),
        }  # fmt: skip
        if (pitch := apart(surface)) is not None:
            gap = apart(tip) - d
            want |= {"pitch_mm": pitch, "tip_gap_mm": gap}
            want["pitch"] = "out" if gap <= 0 else guarded(pitch, 0.2, 9.6, None)
        self.agrees(got, want)

    @given(rivets)
    def test_rivets_right_through_meet_at_the_axis(self, rivets):
        got = ask("controls.insert_rivets", **self.given_("through", rivets))
        gaps = [abs(a[0] - b[0]) for i, a in enumerate(rivets) for b in rivets[i + 1 :]]
        if gaps:
            self.same(got["pitch_mm"], float(min(gaps)))
            self.assertEqual(got["pitch"], guarded(min(gaps), 0.2, 9.6, None))
        else:
            self.assertIsNone(got["pitch_mm"])
            self.assertNotIn("pitch", got)

    def test_refusals(self):
        one = [(10, 0)]
        for change in (
            {"reach_mm": 12.7}, {"reach_mm": 0}, {"tapped_dia_mm": 24}, {"pitch_min_D": None},
            {"clear_min_mm": None}, {"kind": "sideways"}, {"rivets": []},
            {"rivets": [{"x_mm": 35, "phi_deg": 0}]}, {"wall_mm": 13}, {"U_mm": -1},
        ):  # fmt: skip
            with self.subTest(change=change):
                asked = self.given_("radial", one, reach_mm=6) | change
                self.assertIsNotNone(field_refused("controls.insert_rivets", **asked))
