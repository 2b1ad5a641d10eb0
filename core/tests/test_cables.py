"""Cables: the pages' own figures, what must hold for every loop, and what is refused."""

import copy
import json
import math
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.lever import Lever
from core.cables.loop import Loop, Side, loop_solve, loop_sweep
from core.cables.path import Path as CablePath
from core.cables.path import Pulley
from core.cables.quadrant import quadrant_loop
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import advise, judged, today
from core.cables.temperature import Line, Segment, tension_at_temperature, tension_curve
from core.cables.turnbuckle import Buckles, learn_compliance, turnbuckle_turns
from core.controls.linkage.document import document_from
from core.controls.linkage.solving import gear, solve
from core.rulebook import rule

DEMO = Path(__file__).parents[2] / "demo"
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


def demo(name="fenlark-rudder"):
    return json.loads((DEMO / "cables" / f"{name}.json").read_text())


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


class TheDemoLoop(TestCase):
    def test_it_keeps_its_tension_within_a_quarter_and_the_page_s_loop_does_not(self):
        rigged = Rigged(rigging_from(demo()))
        self.assertLess(rigged.through.share, 0.25)
        self.assertIs(rigged.through.verdict, Verdict.IN)
        self.assertTrue(all(s.status == "taut" for s in rigged.states))
        states = rule("cables.loop_solve").run({"loop": page_loop(), "driver_rad": 0.349})
        self.assertGreater(states["tension_A_N"] / T0 - 1, 0.25)

    def test_the_surface_goes_the_way_the_pilot_means_and_crossed_cables_are_seen(self):
        for name, control in (("fenlark-rudder", "rudder"), ("moorhen-elevator", "elevator")):
            data = demo(name)
            self.assertTrue(Rigged(rigging_from(data)).sense(control).correct)
            data["driven"]["axis"] = [-v for v in data["driven"]["axis"]]
            self.assertTrue(Rigged(rigging_from(data)).sense(control).correct, "axis turned only")
            driven = data["driven"]
            driven["A"], driven["B"] = driven["B"], driven["A"]
            for side in ("A", "B"):
                data["sides"][side]["supports"] = []
                data["sides"][side]["fittings"] = []
            self.assertFalse(Rigged(rigging_from(data)).sense(control).correct, name)
            self.assertIsNone(Rigged(rigging_from(data)).sense("flaps"))

    def test_a_cable_that_skips_a_stack_and_cables_that_cross_are_named(self):
        data = demo()
        self.assertEqual(Rigged(rigging_from(data)).skipped(), [])
        self.assertEqual(Rigged(rigging_from(data)).order(), [])
        del data["sides"]["B"]["supports"][2]["bank"]
        self.assertEqual(Rigged(rigging_from(data)).skipped(), [("4900", "Left cable")])
        data = demo()
        for side, place in (("A", 1), ("B", 2)):
            data["sides"][side]["supports"][2]["place"] = place
        self.assertEqual(Rigged(rigging_from(data)).order(), [(0, "Left cable", "Right cable")])

    def test_right_turnbuckle_comes_too_near_its_fairlead_only_at_full_left_pedal(self):
        near = {(n.side, n.fitting): n for n in Rigged(rigging_from(demo())).nearest()}
        right = near["A", "turnbuckle"]
        self.assertIs(right.gap.verdict, Verdict.OUT)
        self.assertEqual(right.support, "Right fairlead 4265")
        self.assertLess(right.driver_rad, 0)
        self.assertIs(near["B", "turnbuckle"].gap.verdict, Verdict.IN)

    def test_advice_keeps_the_rudder_straight_and_the_thread_in_hand(self):
        rigged = Rigged(rigging_from(demo()))
        now = {"A": 73.0, "B": 73.0}
        a = advise(rigged, 287.35, now, {"A": (2, 2), "B": (2, 2)}, math.radians(-0.78))
        self.assertEqual((a.turns.rounded_A, a.turns.rounded_B), (1.0, -0.5))
        self.assertGreater(math.degrees(a.turns.shift_rad), 0.7)
        self.assertEqual(a.threads["A"].after_threads, (1.0, 1.0))
        band = today(rigged, "A", 287.35)
        self.assertIs(judged(band, a.turns.after_A_N, 2.0), Verdict.IN)
        self.assertIs(judged(band, 60.0, 2.0), Verdict.OUT)
        with self.assertRaises(Refused) as slack:
            advise(rigged, 250.0, now, {})
        self.assertEqual(slack.exception.field, "temperature")

    def test_tension_set_by_the_curve_is_the_maker_s_at_the_maker_s_temperature(self):
        rigged = Rigged(rigging_from(demo()))
        self.assertAlmostEqual(rigged.wanted("A", 294.15).tension_N, T0, 4)
        cold, warm = (rigged.wanted("A", t).tension_N for t in (280.0, 300.0))
        self.assertLess(cold, warm)
        steel = copy.deepcopy(demo("moorhen-elevator"))
        frame = Rigged(rigging_from(steel))
        self.assertGreater(frame.wanted("A", 270).tension_N, frame.wanted("A", 300).tension_N)

    def test_a_linkage_driven_through_the_loop_follows_its_curve(self):
        rigged = Rigged(rigging_from(demo()))
        data = json.loads((DEMO / "mechanisms" / "fenlark-rudder.json").read_text())
        for b in data["bodies"]:
            if b["id"] == "rudder":
                b["driven_by"]["curve"] = rigged.curve()
        plan = document_from(data).plan
        motion = solve(plan, {"pedals": np.array([-0.25, 0.0, 0.25])})
        bar, rudder = motion.q["bar"], motion.q["rudder"]
        for q, followed in zip(bar, rudder, strict=True):
            self.assertAlmostEqual(loop_solve(rigged.loop, float(q)).driven_rad, followed, 5)
        step = 1e-5
        two = solve(plan, {"pedals": np.array([0.2 - step, 0.2 + step])}).q["rudder"]
        exact = gear(solve(plan, {"pedals": 0.2}), "pedals")["rudder"]
        self.assertAlmostEqual((two[1] - two[0]) / (2 * step), float(exact), 5)


class Refusals(TestCase):
    def refused(self, field, change, name="fenlark-rudder"):
        data = copy.deepcopy(demo(name))
        change(data)
        with self.assertRaises(Refused) as caught:
            rigged = Rigged(rigging_from(data))
            rigged.nearest()
        self.assertEqual(caught.exception.field, field, caught.exception)

    def test_a_file_is_refused_by_member(self):
        right = lambda d: d["sides"]["A"]
        for field, change in (
            ("format", lambda d: d.update(format="other")),
            ("driver.A", lambda d: d["driver"].update(A=[1.98, 0, 0.7])),
            ("driver.axis", lambda d: d["driver"].update(axis=[0, 0, 0])),
            ("driver.range", lambda d: d["driver"].update(range=[0.1, 0.2])),
            ("sides.A.diameter_in", lambda d: right(d).update(diameter_in=0.11)),
            ("sides.A.colour", lambda d: right(d).update(colour="red")),
            ("sides.A.supports.0.radius", lambda d: right(d)["supports"][0].update(radius=-1)),
            ("sides.A.supports.0.sense", lambda d: right(d)["supports"][0].update(sense=3)),
            ("sides.A.supports.0.sense", lambda d: right(d)["supports"][0].update(sense=1)),
            ("sides.A.supports.0.radius_m", lambda d: right(d)["supports"][0].update(radius=1.3)),
            ("sides.A.fittings.turnbuckle",
             lambda d: right(d)["fittings"][1].update(at=[4.20, 4.27])),
            ("sides.A.turnbuckle.showing",
             lambda d: right(d)["turnbuckle"].update(showing=[-1, 2])),
            ("target.tension", lambda d: d["target"].update(tension="thirty")),
            ("target.chart.0", lambda d: d["target"].update(chart=[[280]])),
            ("airframe.0.material", lambda d: d["airframe"][0].update(material="brass")),
        ):  # fmt: skip
            with self.subTest(field=field):
                self.refused(field, change)

    def test_own_figures_need_their_source(self):
        own = {"diameter": 0.004, "breaking": 9000, "mass_per_length": 0.06}
        self.refused("sides.A.figures.source", lambda d: d["sides"]["A"].update(figures=own))
        data = demo()
        data["sides"]["A"]["figures"] = own | {"source": "maker's sheet 3"}
        self.assertEqual(rigging_from(data).cables["A"].data.breaking_N, 9000)

    def test_rules_refuse_by_the_page_s_names(self):
        free = TURNS | {"mode": "free", "present_A_N": 90, "present_B_N": 90}
        for rule_id, inputs, field in (
            ("cables.turnbuckle_turns", free | {"present_A_N": 0}, "present_A_N"),
            ("cables.turnbuckle_turns", free | {"present_B_N": 80}, "present_B_N"),
            ("cables.turnbuckle_turns", free | {"mode": "tied"}, "mode"),
            ("cables.turnbuckle_turns", free | {"target_N": 1, "step_turns": 1}, "target_N"),
            ("cables.turnbuckle_threads", {"showing": [2], "turns": 1}, "showing"),
            ("cables.sideways_pull", PULL | {"deflection_m": 0.2}, "deflection_m"),
            ("cables.sideways_pull", PULL | {"deflection_m": 0.119}, "deflection_m"),
            ("cables.expected_deflection",
             {"span_m": 1.2, "force_N": 900, "tension_N": 50, "compliance_m_per_N": 2e-5},
             "force_N"),
            ("cables.card_tension", CARD | {"readings": [40]}, "readings"),
            ("cables.card_tension", CARD | {"readings": [20], "diameter_m": 0.004}, "diameter_m"),
            ("cables.loop_solve", {"loop": page_loop(), "driver_rad": 1.6}, "driver_rad"),
            ("cables.loop_solve",
             {"loop": page_loop(), "driver_rad": 0.2, "driven_range_rad": [0.5, 0.6]},
             "driven_range_rad"),
            ("cables.tension_at_temperature", LINE | {"temperature_K": 200}, "temperature_K"),
            ("cables.tension_at_temperature",
             LINE | {"temperature_K": 280, "airframe": []}, "airframe"),
            ("cables.compare_readings", {"readings": [[100, 3]]}, "readings"),
        ):  # fmt: skip
            with self.subTest(rule=rule_id, field=field), self.assertRaises(Refused) as caught:
                rule(rule_id).run(inputs)
            self.assertEqual(caught.exception.field, field)
