"""Cables: the pages' own figures, what must hold for every loop, and what is refused."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.basis.refused import Refused
from core.cables.lever import Lever
from core.cables.loop import Loop, Side, loop_solve, loop_sweep
from core.cables.path import Path as CablePath
from core.cables.path import Pulley
from core.cables.quadrant import quadrant_loop
from core.cables.temperature import Line, Segment, tension_at_temperature, tension_curve
from core.cables.turnbuckle import Buckles, learn_compliance, turnbuckle_turns
from core.rulebook import rule

T0 = 133.446647


TURN = 0.0015875


LINE = {
    "tension_ref_N": T0, "temperature_ref_K": 294.15, "cable_length_m": 4.10, "ae_N": 439814,
    "cable_alpha_per_K": 11.7e-6, "frame_compliance_m_per_N": 2e-6, "u_tension_ref_N": 4.4,
    "u_ae_N": 87962.8, "u_cable_alpha_per_K": 5e-7, "u_temperature_K": 1.0,
    "airframe": [
        {"length_m": 3.90, "alpha_per_K": 23.2e-6, "u_alpha_per_K": 5e-7},
        {"length_m": 0.40, "alpha_per_K": 11.7e-6, "u_alpha_per_K": 5e-7},
    ],
    "fittings": [{"length_m": 0.20, "alpha_per_K": 11.7e-6}],
}  # fmt: skip


CARD = {
    "tables": [
        {
            "riser": "2",
            "diameter_m": 0.003175,
            "points": [[12, 44.48], [19, 88.96], [25, 133.45], [30, 177.93], [34, 222.41]],
        }
    ],
    "riser": "2",
    "diameter_m": 0.003175,
}


PULL = {
    "span_m": 1.2, "force_N": 6.0, "deflection_m": 0.0123, "compliance_m_per_N": 2.35e-5,
    "u_span_m": 0.002, "u_force_N": 0.4, "u_deflection_m": 0.0005, "u_compliance_m_per_N": 4.7e-6,
}  # fmt: skip


TURNS = {
    "target_N": T0, "compliance_A_m_per_N": 1.1e-5, "compliance_B_m_per_N": 1.25e-5,
    "travel_per_turn_A_m": TURN, "travel_per_turn_B_m": TURN, "driven_arm_m": 0.085,
}  # fmt: skip


def page_loop():
    def side(way):
        pulleys = [
            {"centre": [3.2, 0.13 * way, 0.5], "axis": [0, 0, 1], "radius_m": 0.032, "sense": way},
            {"centre": [4.9, 0.16 * way, 0.5], "axis": [0, 0, 1], "radius_m": 0.032, "sense": -way},
        ]
        return {"pulleys": pulleys, "compliance_m_per_N": 1.1e-5, "tension_N": T0}

    return {
        "driver": {
            "pivot": [1.8, 0, 0.5],
            "axis": [0, 0, 1],
            "A": [1.8, 0.12, 0.5],
            "B": [1.8, -0.12, 0.5],
        },
        "driven": {
            "pivot": [5.9, 0, 0.5],
            "axis": [0, 0, 1],
            "A": [5.88, 0.085, 0.5],
            "B": [5.88, -0.085, 0.5],
        },
        "sides": {"A": side(1), "B": side(-1)},
    }


def straight_loop(tension=T0, r1=0.12, r2=0.085, offset=0.0, compliance=1.1e-5):
    """Two straight cables; `offset` puts the driven attachments aft of their pivot."""
    side = Side((), compliance, tension)
    driver = Lever((1.8, 0, 0.5), (0, 0, 1), (1.8, r1, 0.5), (1.8, -r1, 0.5))
    driven = Lever((5.9, 0, 0.5), (0, 0, 1), (5.9 + offset, r2, 0.5), (5.9 + offset, -r2, 0.5))
    return Loop(driver, driven, {"A": side, "B": side})


class PageFigures(TestCase):
    def assert_gives(self, rule_id, inputs, rel=1e-5, **expected):
        got = rule(rule_id).run(inputs)
        for name, value in expected.items():
            if isinstance(value, float):
                self.assertTrue(math.isclose(got[name], value, rel_tol=rel), (name, got[name]))
            else:
                self.assertEqual(got[name], value, name)

    def test_data_and_temperature(self):
        self.assert_gives(
            "cables.cable_data",
            {"construction": "7x19", "diameter_in": 0.125, "material": "galvanised"},
            breaking_N=8896.44, mass_per_length_kg_m=0.0431568, ae_N=439814.0,
        )  # fmt: skip
        self.assert_gives(
            "cables.tension_at_temperature", LINE | {"temperature_K": 273.15},
            tension_N=50.2599, slope_N_per_K=3.96127, slack_temperature_K=260.462,
            u_tension_N=15.8232, stiffness_N_per_m=88322.7, slack=False, may_be_slack=False,
        )  # fmt: skip
        curve = rule("cables.tension_curve").run(LINE | {"n": 5})
        self.assertEqual(
            [round(n, 3) for _, n in curve["curve"]], [0, 10.647, 89.873, 169.098, 248.324]
        )
        chart = {"points": [[263.15, 80], [294.15, 133], [313.15, 175]], "temperature_K": 287.15}
        self.assertAlmostEqual(rule("cables.chart_tension").run(chart)["value"], 121.032, 3)

    def test_turns_and_what_they_teach(self):
        free = TURNS | {"mode": "free", "present_A_N": 97.86, "present_B_N": 97.86}
        self.assert_gives(
            "cables.turnbuckle_turns", free | {"recentre_rad": 0.0209439510239},
            turns_A=1.36799, turns_B=-0.841199, rounded_A=1.5, rounded_B=-1.0, after_A_N=131.637,
            shift_rad=0.0236436,
        )  # fmt: skip
        pinned = TURNS | {"mode": "pinned", "present_A_N": 80.07, "present_B_N": 111.21}
        self.assert_gives(
            "cables.turnbuckle_turns", pinned,
            turns_A=0.369854, turns_B=0.175092, after_A_N=152.229, after_B_N=111.21,
        )  # fmt: skip
        self.assert_gives(
            "cables.learn_compliance",
            {"turns_A": 0.5, "turns_B": 0.5, "travel_per_turn_A_m": TURN, "before_N": 60,
             "travel_per_turn_B_m": TURN, "after_N": 122, "u_tension_N": 3},
            loop_compliance_m_per_N=2.56048e-05, u_m_per_N=1.75213e-06,
        )  # fmt: skip

    def test_three_ways_of_measuring(self):
        card = CARD | {"readings": [24.5, 25.5, 24.0], "u_reading": 0.3, "u_card_N": 4.4}
        self.assert_gives("cables.card_tension", card, tension_N=131.225, u_tension_N=6.04860)
        self.assert_gives(
            "cables.sideways_pull", PULL, tension_N=135.644, tension_under_pull_N=146.372,
            small_angle_N=146.341, stretch_share=0.0790945, u_tension_N=12.0997, pull_less=False,
        )  # fmt: skip
        hard = PULL | {"force_N": 20.0, "deflection_m": 0.031}
        self.assert_gives(
            "cables.sideways_pull", hard, tension_N=125.696, small_angle_error=0.539814,
            u_tension_N=15.1330, pull_less=True,
        )  # fmt: skip
        self.assert_gives(
            "cables.plucked_tension",
            {"frequency_Hz": 24.6, "span_m": 1.15, "mass_per_length_kg_m": 0.0431567543635,
             "ei_low_Nm2": 0.00262096618378, "ei_high_Nm2": 0.399056881365,
             "u_frequency_Hz": 0.05, "u_span_m": 0.005, "u_mass_rel": 0.02},
            ideal_N=138.158, low_N=107.442, high_N=138.138, tension_N=122.790, u_tension_N=9.37615,
        )  # fmt: skip

    def test_the_loop_that_changes_its_tension(self):
        for driver, hinge, driven, a, b, held in (
            (0.174532925199, 0, 0.253266818, 239.0185, 197.4469, 4.781520),
            (0.349065850399, 0, 0.508670497, 575.3174, 374.4426, 22.24147),
            (0.174532925199, -12, 0.243067029, 305.9246, 116.7864, 22.22346),
        ):
            self.assert_gives(
                "cables.loop_solve",
                {"loop": page_loop(), "driver_rad": driver, "hinge_moment_Nm": hinge}, rel=1e-6,
                driven_rad=driven, tension_A_N=a, tension_B_N=b, driver_moment_Nm=held,
                status="taut",
            )  # fmt: skip

    def test_route_ends_and_forces(self):
        self.assert_gives(
            "cables.pulley_check",
            {"d_in": [1, 0.02, 0], "d_out": [0.8, -0.6, 0.03], "axis": [0, 0, 1],
             "groove_radius_m": 0.030, "cable_diameter_m": 0.003175, "flange_radius_m": 0.0345,
             "rim_width_m": 0.0055, "misalignment_limit_rad": 0.0349065850399, "ratio_min": 16,
             "u_angle_rad": 0.00349065850399},
            wrap_rad=0.664073, misalignment_rad=0.0299910, rub_angle_rad=0.0835963,
            alignment="too close", diameter="in",
        )  # fmt: skip
        self.assert_gives(
            "cables.travel_gap",
            {"item": [4.020, 4.150], "obstacle": [4.255, 4.275], "travel": [-0.041, 0.046],
             "u_m": 0.0015},
            gap_m=0.059, verdict="in",
        )  # fmt: skip
        self.assert_gives(
            "cables.pair_gap",
            {"item_A": [4.02, 4.15], "item_B": [4.30, 4.43], "relative_travel": [-0.09, 0.09],
             "lateral_m": 0.018, "radius_A_m": 0.0065, "radius_B_m": 0.0065, "required_m": 0.006,
             "u_m": 0.0005},
            gap_m=0.0602080, verdict="in",
        )  # fmt: skip
        self.assert_gives(
            "cables.item_travel",
            {"lever": page_loop()["driver"], "side": "A", "far_point": [4.0, 0.115, 0.5],
             "pulleys": page_loop()["sides"]["A"]["pulleys"][:1],
             "angles": [-math.radians(20), 0, math.radians(20)]},
            low_m=-0.0409452, high_m=0.0411351,
        )  # fmt: skip
        slid = {"required": ["boot", "chafe tube", "sleeve B"], "ends_m": {"A": 0.0065, "B": 0.012},
                "bores_m": {"boot": 0.009, "chafe tube": 0.005, "sleeve B": 0.0036}}  # fmt: skip
        put_on = [{"do": "press", "end": "A"}]
        put_on += [{"do": "slide", "item": i, "end": "B"} for i in ("chafe tube", "sleeve B")]
        put_on += [{"do": "press", "end": "B"}]
        self.assert_gives(
            "cables.slide_on_order", slid | {"steps": put_on},
            possible=True, complete=False, missing=["boot"],
        )  # fmt: skip
        wrong = rule("cables.slide_on_order").run(
            slid | {"steps": [put_on[0], {"do": "slide", "item": "boot", "end": "B"},
                              *put_on[2:]]})  # fmt: skip
        self.assertEqual(
            (wrong["possible"], wrong["why"]), (False, "chafe tube can no longer be put on")
        )
        self.assert_gives(
            "cables.bracket_load",
            {"loads": [{"force_N": [-404, s * 648, 0], "point": [3.2, s * 0.13, 0.5]}
                       for s in (1, -1)],
             "about": [3.2, 0, 0.46], "allowable_N": 1500},
            force_N=[-808.0, 0.0, 0.0], margin=0.856436,
        )  # fmt: skip


class Laws(TestCase):
    def test_at_the_reference_temperature_the_tension_is_the_reference_tension(self):
        given_line = {k: v for k, v in LINE.items() if k not in ("airframe", "fittings")}
        pieces = {k: tuple(Segment(**s) for s in LINE[k]) for k in ("airframe", "fittings")}
        line = Line(**given_line, **pieces)
        self.assertEqual(tension_at_temperature(line, 294.15).tension_N, T0)
        slack = tension_at_temperature(line, 294.15).slack_temperature_K
        self.assertAlmostEqual(tension_at_temperature(line, slack + 1e-6).tension_N, 0, 4)
        self.assertTrue(tension_at_temperature(line, slack - 1).slack)
        self.assertEqual(tension_curve(line, n=2).extra_at_lo_N, -T0)

    @given(st.floats(20, 300), st.floats(40, 300), st.floats(-0.04, 0.04))
    def test_turning_there_and_back_returns_the_tension(self, present, target, recentre):
        buckles = Buckles(1.1e-5, 1.25e-5, TURN, TURN, 0.085)
        there = turnbuckle_turns("free", target, present, present, buckles, recentre, 1e-9)
        back = turnbuckle_turns("free", present, target, target, buckles, -recentre, 1e-9)
        self.assertAlmostEqual(there.turns_A, -back.turns_A)
        self.assertAlmostEqual(there.turns_B, -back.turns_B)
        self.assertAlmostEqual(there.after_A_N, target, 3)
        self.assertAlmostEqual(there.shift_rad, recentre, 6)
        drawn = abs(there.turns_A + there.turns_B)
        if drawn > 0.05:
            learnt = learn_compliance(there.turns_A, there.turns_B, TURN, TURN, present, target)
            self.assertAlmostEqual(learnt.loop_compliance_m_per_N, 2.35e-5)

    @given(st.floats(-1.0, 1.0), st.floats(0.03, 0.2), st.floats(-3, 3))
    def test_equal_quadrants_give_equal_angles_but_for_the_load(self, angle, radius, moment):
        q = quadrant_loop(radius, radius, angle, 200.0, 1e-5, 1e-5)
        self.assertAlmostEqual(q.driven_rad, angle)
        loaded = quadrant_loop(radius, radius, angle, 200.0, 1e-5, 1e-5, moment)
        pulled = loaded.tension_A_N - loaded.tension_B_N
        self.assertAlmostEqual(pulled * radius, -moment, 6)
        if abs(moment) > 1e-6:
            self.assertGreater((loaded.driven_rad - angle) * moment, 0)

    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.02, 0.4), st.floats(-10, 10))
    def test_a_mirrored_loop_gives_the_mirrored_result(self, angle, moment):
        data = page_loop()
        run = rule("cables.loop_solve").run
        one = run({"loop": data, "driver_rad": angle, "hinge_moment_Nm": moment})
        other = run({"loop": data, "driver_rad": -angle, "hinge_moment_Nm": -moment})
        self.assertAlmostEqual(one["driven_rad"], -other["driven_rad"], 9)
        self.assertAlmostEqual(one["tension_A_N"], other["tension_B_N"], 4)

    def test_the_sweep_is_what_each_position_gives_alone(self):
        loop = straight_loop(offset=-0.01)
        angles = [-0.4, -0.1, 0.0, 0.25, 0.4]
        for angle, swept in zip(angles, loop_sweep(loop, angles), strict=True):
            alone = loop_solve(loop, angle)
            self.assertAlmostEqual(alone.driven_rad, swept.driven_rad, 10)

    def test_a_general_root_finder_finds_the_same_equilibrium(self):
        loop = straight_loop(offset=-0.01)
        for angle, moment in ((0.1, 0.0), (0.3, 4.0), (-0.35, -9.0)):
            found = loop_solve(loop, angle, moment).driven_rad
            other = brentq(
                lambda t, a=angle, m=moment: float(loop.moment(a, t)) - m, found - 0.3, found + 0.3
            )
            self.assertAlmostEqual(found, other, 9)

    @settings(max_examples=12, deadline=None)
    @given(
        st.floats(-0.02, 0.02), st.floats(0.05, 0.14), st.floats(-6, 6), st.floats(0.2, 0.8),
        st.integers(1, 60), st.sampled_from([5.0, 40.0, T0]),
    )  # fmt: skip
    def test_a_sweep_is_what_the_whole_grid_gives_angle_by_angle(
        self, offset, radius, hinge, far, count, tension
    ):
        loop = straight_loop(tension, r1=radius, offset=offset)
        angles = np.linspace(-far, far, count)
        try:
            swept = loop_sweep(loop, angles, hinge)
        except Refused:
            swept = None
        grid = np.linspace(-1.2, 1.2, 481)

        def rest(angle, driven):
            return float(loop.moment(angle, driven)) - hinge

        def nearest(angle, near):
            left = np.broadcast_to(loop.moment(angle, grid), grid.shape) - hinge
            ups = [i for i in range(480) if left[i] < 0 <= left[i + 1]]
            roots = [brentq(lambda t: rest(angle, t), grid[i], grid[i + 1]) for i in ups]
            return min(roots, key=lambda r: abs(r - near), default=None)

        for sign in (1, -1):
            near = 0.0
            for step in np.linspace(0, far, int(np.ceil(far / 0.02)) + 1):
                near = None if near is None else nearest(sign * step, near)
            if near is None:
                self.assertIsNone(swept)
            elif swept is not None and count > 1:
                state = swept[-1 if sign == 1 else 0]
                if state.status != "both slack":
                    self.assertAlmostEqual(state.driven_rad, near, 7)

    def test_a_cable_leaves_a_pulley_square_to_its_radius_on_the_side_that_its_sense_says(self):
        for sense, above in ((-1, True), (1, False)):
            path = CablePath([Pulley((1.0, 0.0, 0.0), (0, 0, 1), 0.1, sense)])
            lean = -0.2 if above else 0.2
            for a, b in (((0.0, 0.0, 0.0), (2.0, lean, 0.0)), ((0.2, lean, 0.0), (1.6, lean, 0.0))):
                ((p, q),) = path.shape(a, b)
                for on, off in ((p, a), (q, b)):
                    radius = np.array(on) - np.array([1.0, 0.0, 0.0])
                    self.assertAlmostEqual(float(np.linalg.norm(radius)), 0.1)
                    self.assertAlmostEqual(float(radius @ (np.array(off) - np.array(on))), 0)
                    self.assertEqual(bool(radius[1] > 0), above)
                chord = math.dist(p, q)
                whole = math.dist(a, p) + 0.2 * math.asin(chord / 0.2) + math.dist(q, b)
                self.assertAlmostEqual(float(path.length(a, b)), whole)

    def test_slack_is_named_and_lost_motion_given(self):
        loop = straight_loop(tension=5.0, offset=0.03)
        lost = loop_solve(loop, 0.5)
        self.assertEqual(lost.status, "both slack")
        self.assertIsNone(lost.driven_rad)
        self.assertLess(lost.driven_low_rad, lost.driven_high_rad)
        for at, pulls in ((lost.driven_low_rad - 1e-4, "B"), (lost.driven_high_rad + 1e-4, "A")):
            tension = {s: float(t) for s, (t, _, _) in loop.pulls(loop.held(0.5), at).items()}
            self.assertGreater(max(tension.values()), 0, pulls)
        loaded = loop_solve(loop, 0.5, hinge_moment_Nm=3.0)
        self.assertIn(loaded.status, ("slack A", "slack B"))
        pulling = max(loaded.tension_A_N, loaded.tension_B_N)
        self.assertGreater(pulling, 10)
