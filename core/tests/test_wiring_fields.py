"""Fields against sums over small pieces and the move that brings a sensor clear; antennas."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.tests.test_wiring import Refusing, ask

P = st.tuples(*[st.floats(-2, 2)] * 3)


class Fields(Refusing):
    @settings(max_examples=40, deadline=None)
    @given(P, P, P, st.floats(-20, 20))
    def test_a_straight_piece_is_the_sum_of_many_small_ones(
        self, at: Any, a: Any, b: Any, amps: float
    ) -> None:
        p, q, s = np.array(a), np.array(b), np.array(at)
        mids = p + (np.arange(20000)[:, None] + 0.5) / 20000 * (q - p)
        r = s - mids
        far = np.linalg.norm(r, axis=1)
        if np.linalg.norm(q - p) < 0.05 or far.min() < 0.05:
            return
        summed = 1e-7 * amps * (np.cross((q - p) / 20000, r) / far[:, None] ** 3).sum(axis=0)
        found = ask("dc_field", sensor_m=list(at), horizontal_T=2e-5,
                    circuits=[{"points_m": [list(a), list(b)], "current_A": amps}])  # fmt: skip
        self.assertTrue(np.allclose(found["B_T"], summed, rtol=1e-5, atol=1e-12))

    def test_a_small_ring_of_current_is_a_dipole(self) -> None:
        turn = np.linspace(0, 2 * math.pi, 721)
        ring = np.stack([0.01 * np.cos(turn), 0.01 * np.sin(turn), 0 * turn], axis=1).tolist()
        asked = {"sensor_m": [0.3, 0.2, 0.4], "horizontal_T": 2e-5}
        loop = ask("dc_field", **asked, circuits=[{"points_m": ring, "current_A": 5.0}])
        moment = [0.0, 0.0, 5.0 * math.pi * 0.01**2]
        magnet = ask("dc_field", **asked, dipoles=[{"moment_Am2": moment, "at_m": [0, 0, 0]}])
        for x, y in zip(loop["B_T"], magnet["B_T"], strict=True):
            self.assertAlmostEqual(x, y, delta=2e-3 * magnet["B_abs_T"])
        self.no("dc_field", "sensor_m", sensor_m=[0.5, 0, 0.0005], horizontal_T=2e-5,
                circuits=[{"points_m": [[0, 0, 0], [1, 0, 0]], "current_A": 1}])  # fmt: skip
        self.no("dc_field", "at_m", sensor_m=[0, 0, 0], horizontal_T=2e-5,
                dipoles=[{"moment_Am2": moment, "at_m": [0, 0, 0]}])  # fmt: skip

    @given(st.floats(-9e-6, 9e-6), st.floats(-9e-6, 9e-6))
    def test_the_worst_heading_is_the_arc_sine(self, x: float, y: float) -> None:
        found = ask("heading_table", horizontal_T=2e-5, states_T=[[x, y, 0]])
        worst = math.asin(math.hypot(x, y) / 2e-5)
        self.assertAlmostEqual(found["worst_error_rad"], worst, 5)
        self.assertLessEqual(found["worst_error_rad"], worst + 1e-12)
        self.assertEqual(found["swing_rad"], 0.0)
        field = ask("dc_field", sensor_m=[0, 0, 0], horizontal_T=2e-5, limit_rad=worst + 1e-9)
        self.assertEqual((field["worst_error_rad"], field["verdict"]), (0.0, "in"))

    def test_a_field_that_turns_the_needle_east_is_an_error_to_the_east(self) -> None:
        # Heading north, a field to the right: the needle goes right, the heading reads less.
        found = ask("heading_table", horizontal_T=2e-5, states_T=[[0, 2e-6, 0]], heading_rad=0.0)
        self.assertAlmostEqual(found["errors_rad"][0], -math.atan(0.1), 9)
        self.no("heading_table", "states_T", horizontal_T=2e-5, states_T=[[2e-5, 0, 0]])

    @given(st.floats(0.5, 30), st.floats(0.02, 0.5), st.floats(0.001, 0.005))
    def test_a_pair_is_two_long_wires_and_a_long_twist_gains_nothing(
        self, amps: float, r: float, s: float
    ) -> None:
        if r < 3.1 * s:
            return
        found = ask("pair_field", current_A=amps, distance_m=r, spacing_m=s, pitch_m=1e4 * r)
        two = [{"points_m": [[-300.0, y, 0], [300.0, y, 0]], "current_A": i}
               for y, i in ((s / 2, amps), (-s / 2, -amps))]  # fmt: skip
        field = ask("dc_field", sensor_m=[0, r, 0], horizontal_T=1.0, circuits=two)
        self.assertAlmostEqual(field["B_abs_T"] / found["pair_T"], 1.0, 4)
        self.assertAlmostEqual(found["twisted_T"] / found["pair_T"], 1.02, 2)
        tight = ask("pair_field", current_A=amps, distance_m=r, spacing_m=s, pitch_m=r / 3)
        self.assertLess(tight["twisted_T"], 0.01 * found["pair_T"])
        self.no("pair_field", "distance_m", current_A=1, distance_m=s / 2, spacing_m=s)

    @settings(max_examples=40)
    @given(st.lists(st.tuples(P, P, st.floats(0.05, 0.7)), min_size=1, max_size=4), P)
    def test_the_least_move_is_what_stepping_along_the_axis_finds(
        self, items: list[Any], axis: Any
    ) -> None:
        if math.hypot(*axis) < 0.1:
            return
        rows = [{"name": str(n), "class": str(n), "positions_m": [[list(a), list(b)]]}
                for n, (a, b, _) in enumerate(items)]  # fmt: skip
        required = {str(n): keep for n, (_, _, keep) in enumerate(items)}
        asked = {
            "required_m": required,
            "items": rows,
            "move_axis": list(axis),
            "move_limit_m": 1.0,
        }
        found = ask("sensor_siting", sensor_m=[0.0, 0.0, 0.0], **asked)
        unit = np.array(axis) / np.linalg.norm(axis)

        def margin(t: float) -> float:
            rule_ = ask("sensor_siting", sensor_m=list(t * unit), **asked)
            return float(rule_["margin_m"])

        steps = [k / 100 for k in range(101)]
        free = next((t for t in steps if max(margin(t), margin(-t)) >= -1e-9), None)
        move = found["move_m"]
        if move is not None:
            self.assertGreaterEqual(margin(move), -1e-6)
            self.assertLessEqual(abs(move), (free if free is not None else 1.0) + 1e-9)
        else:
            self.assertIsNone(free)
        if move is not None and abs(move) > 0.02:
            inner = [t for t in steps if t < abs(move) - 1e-3]
            self.assertTrue(all(max(margin(t), margin(-t)) < 0 for t in inner))


class Antennas(Refusing):
    @given(st.floats(0.1, 30), st.floats(0, 1), st.floats(1, 5))
    def test_losses_multiply(self, long: float, per_m: float, vswr: float) -> None:
        found = ask("coax_loss", length_m=long, loss_dB_per_m=per_m, vswr=vswr)
        arrives = 10 ** (-long * per_m / 10) * 4 * vswr / (vswr + 1) ** 2
        self.assertAlmostEqual(found["delivered_fraction"], arrives, 9)
        self.no("coax_loss", "vswr", length_m=1, loss_dB_per_m=1, vswr=0.9)
        plane = ask("antenna", frequency_Hz=1e9, ground_plane_radius_m=0.074948115)
        self.assertEqual(plane["ground_plane"], "in")
        self.no("antenna", "between", frequency_Hz=1e9,
                separations=[{"between": ["a", "b"], "least_m": 1}])  # fmt: skip

    def test_a_wall_beside_hides_half_and_turning_the_aircraft_turns_the_sky(self) -> None:
        wall = {"id": "w", "min_m": [-90, 0.1, -90], "max_m": [90, 0.2, 90]}
        asked = {"antenna_m": [0, 0, 0], "boxes": [wall]}
        level = ask("sky_view", attitudes=[{"pitch_rad": 0}], **asked)
        self.assertAlmostEqual(level["free"], 0.5, delta=0.01)
        worst = level["attitudes"][0]["worst_azimuth_rad"]
        self.assertTrue(0 < worst < math.pi)  # To the right.
        # Right wing down by 90°: the wall is below, and hides nothing of the sky.
        down = ask("sky_view", attitudes=[{"pitch_rad": 0, "roll_rad": math.pi / 2}], **asked)
        self.assertEqual((down["free"], down["attitudes"][0]["worst_azimuth_rad"]), (1.0, None))
        up = ask("sky_view", attitudes=[{"pitch_rad": 0, "roll_rad": -math.pi / 2}], **asked)
        self.assertLess(up["free"], 0.01)
        tail = {"id": "t", "min_m": [1, -9, -9], "max_m": [1.1, 9, 9]}
        nose_up = [{"pitch_rad": p} for p in (-0.4, 0.0, 0.4)]
        free = [a["free"] for a in ask("sky_view", antenna_m=[0, 0, 0], boxes=[tail],
                                       attitudes=nose_up)["attitudes"]]  # fmt: skip
        self.assertTrue(free[0] < free[1] < free[2])

    @settings(max_examples=15)
    @given(P, P, st.floats(0.02, 0.3))
    def test_a_rod_hides_the_rays_whose_points_come_near(self, a: Any, b: Any, r: float) -> None:
        rod = {"id": "r", "a_m": list(a), "b_m": list(b), "radius_m": r}
        asked = {"antenna_m": [0, 0, 0], "attitudes": [{"pitch_rad": 0.0}], "segments": [rod],
                 "azimuths": 24, "bands": 6}  # fmt: skip
        try:
            found = ask("sky_view", **asked)
        except Refused as refusal:
            self.assertEqual(refusal.field, "antenna_m")
            return
        line = np.array(a) + np.linspace(0, 1, 801)[:, None] * (np.array(b) - np.array(a))
        hidden = 0
        for k in range(24):
            psi = (k + 0.5) * 2 * math.pi / 24
            for j in range(6):
                z = (j + 0.5) / 6
                c = math.sqrt(1 - z * z)
                d = np.array([-c * math.cos(psi), c * math.sin(psi), z])
                t = np.maximum(0.0, line @ d)
                hidden += np.linalg.norm(line - t[:, None] * d, axis=1).min() < r
        self.assertAlmostEqual(found["free"], 1 - hidden / 144, delta=1.01 / 144)

    def test_an_antenna_inside_and_boxes_inside_out_are_refused(self) -> None:
        box = {"id": "b", "min_m": [-1, -1, -1], "max_m": [1, 1, 1]}
        level = [{"pitch_rad": 0}]
        self.no("sky_view", "antenna_m", antenna_m=[0, 0, 0], attitudes=level, boxes=[box])
        self.no("sky_view", "boxes", antenna_m=[5, 0, 0], attitudes=level,
                boxes=[box | {"min_m": [2, -1, -1]}])  # fmt: skip
        self.no("sky_view", "attitudes", antenna_m=[5, 0, 0], attitudes=[])
        self.no("sky_view", "azimuths", antenna_m=[5, 0, 0], attitudes=level, azimuths=3)
        least = ask("sky_view", antenna_m=[5, 0, 0], attitudes=level, boxes=[box], least_free=0.99)
        self.assertEqual(least["verdict"], "out" if least["free"] < 0.99 else "in")
