"""The page of cables, a second time: turnbuckles and the ways of measuring tension."""

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.tests.pages.asking import (
    Agreeing,
    ask,
    derivative,
    field_refused,
    given,
    spread,
)
from core.tests.pages.test_cable_data import INCH

rounded = st.floats(20, 300)


compliances = st.floats(5e-6, 3e-5)


TURN = 2 * INCH / 32


def to_step(turns, step=0.5):
    return math.floor(turns / step + 0.5) * step


class Turnbuckles(Agreeing, TestCase):
    @given(rounded, rounded, compliances, compliances, st.floats(-0.05, 0.05))
    def test_both_free(self, target, present, ca, cb, psi):
        r = 0.085
        da = (target - present) * ca + r * psi
        db = (target - present) * cb - r * psi
        a, b = to_step(da / TURN), to_step(db / TURN)
        change = (a + b) * TURN / (ca + cb)
        given_ = {
            "mode": "free", "target_N": target, "present_A_N": present, "present_B_N": present,
            "compliance_A_m_per_N": ca, "compliance_B_m_per_N": cb, "travel_per_turn_A_m": TURN,
            "travel_per_turn_B_m": TURN, "driven_arm_m": r, "recentre_rad": psi,
        }  # fmt: skip
        assume(all(abs((x / TURN / 0.5 + 0.5) % 1) > 1e-6 for x in (da, db)))
        if present + change <= 0:
            self.refuses("target_N", "cables.turnbuckle_turns", **given_)
            return
        got = ask("cables.turnbuckle_turns", **given_)
        self.agrees(
            got,
            {
                "turns_A": da / TURN, "turns_B": db / TURN, "rounded_A": a, "rounded_B": b,
                "after_A_N": present + change, "after_B_N": present + change,
                "shift_rad": (a * TURN - change * ca) / r,
            },
            floor=1e-7,
        )  # fmt: skip

    @given(rounded, rounded, rounded, compliances, compliances)
    def test_both_pinned_are_two_cables_of_their_own(self, target, pa, pb, ca, cb):
        turns = [(target - p) * c / TURN for p, c in ((pa, ca), (pb, cb))]
        assume(all(abs((x / 0.5 + 0.5) % 1) > 1e-6 for x in turns))
        done = [to_step(x) for x in turns]
        after = [p + x * TURN / c for p, x, c in zip((pa, pb), done, (ca, cb), strict=True)]
        given_ = {
            "mode": "pinned", "target_N": target, "present_A_N": pa, "present_B_N": pb,
            "compliance_A_m_per_N": ca, "compliance_B_m_per_N": cb, "travel_per_turn_A_m": TURN,
            "travel_per_turn_B_m": TURN, "driven_arm_m": 0.085,
        }  # fmt: skip
        if min(after) <= 0:
            self.refuses("target_N", "cables.turnbuckle_turns", **given_)
            return
        got = ask("cables.turnbuckle_turns", **given_)
        self.agrees(
            got,
            {
                "turns_A": turns[0], "turns_B": turns[1], "rounded_A": done[0],
                "rounded_B": done[1], "after_A_N": after[0], "after_B_N": after[1],
                "shift_rad": 0.0,
            },
            floor=1e-7,
        )  # fmt: skip

    @given(rounded, rounded, compliances, compliances)
    def test_one_turnbuckle_takes_the_stretch_of_both(self, target, present, ca, cb):
        given_ = {
            "mode": "free", "target_N": target, "present_A_N": present, "present_B_N": present,
            "compliance_A_m_per_N": ca, "compliance_B_m_per_N": cb, "driven_arm_m": 0.085,
        }  # fmt: skip
        want = (target - present) * (ca + cb) / TURN
        assume(present + to_step(want) * TURN / (ca + cb) > 0)
        for mine, other in (("A", "B"), ("B", "A")):
            got = ask("cables.turnbuckle_turns", **given_, **{f"travel_per_turn_{mine}_m": TURN})
            self.same(got[f"turns_{mine}"], want, floor=1e-7)
            self.assertIn(got[f"turns_{other}"], (0, 0.0, None))

    def test_refusals(self):
        good = {
            "mode": "free", "target_N": 130, "present_A_N": 100, "present_B_N": 100,
            "compliance_A_m_per_N": 1e-5, "compliance_B_m_per_N": 1e-5,
            "travel_per_turn_A_m": TURN, "travel_per_turn_B_m": TURN, "driven_arm_m": 0.085,
        }  # fmt: skip
        pinned = {"mode": "pinned"}
        for field, change in (
            ("mode", {"mode": "loose"}),
            ("present_A_N", {"present_A_N": 0}),
            ("present_B_N", {"present_B_N": 0}),
            ("present_B_N", {"present_B_N": 101}),
            ("recentre_rad", pinned | {"recentre_rad": 0.01}),
            ("recentre_rad", {"recentre_rad": 0.01, "travel_per_turn_B_m": None}),
            ("target_N", {"target_N": 0}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "cables.turnbuckle_turns", **(good | change))
        for change in (
            pinned | {"travel_per_turn_A_m": None},
            {"travel_per_turn_A_m": None, "travel_per_turn_B_m": None},
        ):
            self.assertIsNotNone(field_refused("cables.turnbuckle_turns", **(good | change)))

    @given(
        st.lists(st.integers(0, 12).map(lambda n: n / 2), min_size=2, max_size=2),
        st.integers(-8, 8).map(lambda n: n / 2), st.booleans(), st.booleans(),
    )  # fmt: skip
    def test_threads_showing(self, showing, turns, safetied, final):
        def state(ends):
            return "bottomed" if min(ends) < 0 else "out" if max(ends) > 3 else "in"

        after = [x - turns for x in showing]
        got = ask(
            "cables.turnbuckle_threads", showing=showing, turns=turns, safetied=safetied,
            final=final,
        )  # fmt: skip
        self.agrees(
            got,
            {
                "before": state(showing), "after": state(after), "after_threads": after,
                "uneven": abs(showing[0] - showing[1]) > 1,
                "may_fly": state(after) == "in" and safetied and final,
            },
        )  # fmt: skip

    @given(st.floats(-2, 2), st.floats(-2, 2), rounded, rounded, st.floats(0.1, 5))
    def test_what_turning_teaches(self, a, b, before, after, u):
        drawn, change = (a + b) * TURN, after - before
        given_ = {
            "turns_A": a, "turns_B": b, "travel_per_turn_A_m": TURN, "travel_per_turn_B_m": TURN,
            "before_N": before, "after_N": after, "u_tension_N": u,
        }  # fmt: skip
        if drawn == 0:
            self.refuses("turns_A", "cables.learn_compliance", **given_)
            return
        if drawn * change <= 0 or abs(change) < 4 * math.sqrt(2) * u:
            self.refuses("after_N", "cables.learn_compliance", **given_)
            return
        c = drawn / change
        got = ask("cables.learn_compliance", **given_)
        self.same(list(got.values()), [c, c * math.sqrt(2) * u / abs(change)], floor=0)


class Measuring(Agreeing, TestCase):
    @given(
        st.lists(st.tuples(st.floats(1, 8), st.floats(10, 80)), min_size=2, max_size=5),
        st.lists(st.floats(0.02, 0.98), min_size=1, max_size=4), st.floats(0, 1), st.floats(0, 5),
    )  # fmt: skip
    def test_a_card_is_read_between_its_points(self, steps, shares, ur, uc):
        xs, ys = np.cumsum([s[0] for s in steps]), np.cumsum([s[1] for s in steps])
        readings = [float(xs[0] + s * (xs[-1] - xs[0])) for s in shares]
        forces = [float(np.interp(r, xs, ys)) for r in readings]
        mean = sum(readings) / len(readings)
        assume(min(abs(mean - x) for x in xs) > 1e-6)
        i = min(int(np.searchsorted(xs, mean, side="right")) - 1, len(xs) - 2)
        slope = (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i])
        s = spread(forces) or 0.0
        u = math.sqrt((slope * ur) ** 2 + uc**2 + s**2 / len(forces))
        points = np.column_stack([xs, ys]).tolist()
        table = {"riser": "2", "diameter_m": 0.003175, "points": points}
        got = ask(
            "cables.card_tension", tables=[table], riser="2", diameter_m=0.0032, readings=readings,
            u_reading=ur, u_card_N=uc,
        )  # fmt: skip
        self.same(got["tension_N"], sum(forces) / len(forces))
        self.same(got["u_N"] if "u_N" in got else got["u_tension_N"], u, floor=1e-7)
        self.assertEqual(got["single"], len(forces) == 1)

    def test_a_card_does_not_guess(self):
        table = {"riser": "2", "diameter_m": 0.003175, "points": [[12, 44], [19, 89], [25, 133]]}
        other = table | {"riser": "3", "diameter_m": 0.0024}
        good = {
            "tables": [table, other], "riser": "2", "diameter_m": 0.003175, "readings": [20],
            "u_reading": 0.3, "u_card_N": 4,
        }  # fmt: skip
        for field, change in (
            ("readings", {"readings": [11.9]}),
            ("readings", {"readings": [25.1]}),
            ("readings", {"readings": []}),
            ("diameter_m", {"diameter_m": 0.004}),
            ("riser", {"riser": "3"}),
            ("u_reading", {"u_reading": -1}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "cables.card_tension", **(good | change))
        falls = table | {"points": [[12, 89], [19, 44]]}
        found = field_refused("cables.card_tension", **(good | {"tables": [falls]}))
        self.assertEqual(found.partition(".")[0], "tables")

    @staticmethod
    def pulled(L, F, h, C):
        s = math.sqrt(L * L / 4 + h * h)
        under = F * s / (2 * h)
        return under - (2 * s - L) / C, under

    @given(
        st.floats(0.6, 2), st.floats(2, 20), st.floats(0.004, 0.03), st.floats(1e-5, 4e-5),
    )  # fmt: skip
    def test_a_sideways_pull(self, L, F, h, C):
        tension, under = self.pulled(L, F, h, C)
        given_ = {"span_m": L, "force_N": F, "deflection_m": h, "compliance_m_per_N": C}
        if h > L / 10 or tension <= 0:
            self.refuses("deflection_m", "cables.sideways_pull", **given_)
            return
        us = {"L": 0.002, "F": 0.2, "h": 0.0004, "C": 4e-6}
        at = {"L": L, "F": F, "h": h, "C": C}
        slopes = {
            k: derivative(lambda x, k=k: self.pulled(**(at | {k: x}))[0], at[k], at[k] * 1e-5)
            for k in at
        }
        u = math.sqrt(sum((slopes[k] * us[k]) ** 2 for k in at))
        got = ask(
            "cables.sideways_pull", **given_, u_span_m=0.002, u_force_N=0.2, u_deflection_m=0.0004,
            u_compliance_m_per_N=4e-6,
        )  # fmt: skip
        share = (under - tension) / tension
        self.agrees(
            got,
            {
                "tension_N": tension, "tension_under_pull_N": under,
                "small_angle_N": F * L / (4 * h), "stretch_share": share, "pull_less": share > 0.1,
                "small_angle_error": F * L / (4 * h) / tension - 1,
            },
        )  # fmt: skip
        self.same(got["u_tension_N"], u, rel=1e-4)

    @given(st.floats(0.8, 2), st.floats(2, 15), st.floats(60, 300), st.floats(1e-5, 4e-5))
    def test_how_far_it_will_move_is_where_the_pull_gives_that_tension(self, L, F, T, C):
        given_ = {"span_m": L, "force_N": F, "tension_N": T, "compliance_m_per_N": C}

        def off(h):
            return self.pulled(L, F, h, C)[0] - T

        if off(L / 10) > 0:
            self.refuses("force_N", "cables.expected_deflection", **given_)
            return
        got = ask("cables.expected_deflection", **given_)
        self.same(next(iter(got.values())), brentq(off, 1e-6, L / 10), rel=1e-6)

    @given(st.floats(15, 60), st.floats(0.7, 1.6))
    def test_a_plucked_string_lies_between_its_bounds(self, f, L):
        mu, low_ei, high_ei = 0.0431567543635, 0.00262096618378, 0.399056881365
        ideal = 4 * mu * L**2 * f**2
        given_ = {
            "frequency_Hz": f, "span_m": L, "mass_per_length_kg_m": mu, "ei_low_Nm2": low_ei,
            "ei_high_Nm2": high_ei, "u_frequency_Hz": 0.05, "u_span_m": 0.005, "u_mass_rel": 0.02,
        }  # fmt: skip
        high = ideal - low_ei * math.pi**2 / L**2
        # A clamped beam under tension, its first mode at f, by the field's own equation.
        omega = 2 * math.pi * f

        def frequency_off(tension):
            a, b = tension / (2 * high_ei), mu * omega**2 / high_ei
            y = math.sqrt(math.sqrt(a * a + b) + a)
            x = math.sqrt(max(math.sqrt(a * a + b) - a, 0.0))
            first = 2 * x * y * (1 / math.cosh(y * L) - math.cos(x * L))
            return first + (y * y - x * x) * math.tanh(y * L) * math.sin(x * L)

        grid = np.linspace(1e-6, ideal, 4000)
        values = [frequency_off(t) for t in grid]
        roots = [
            brentq(frequency_off, grid[i], grid[i + 1])
            for i in range(len(grid) - 1)
            if values[i] * values[i + 1] < 0
        ]
        assume(roots)
        # The first mode has the greatest tension of all that ring at f.
        low = max(roots)
        half = (high - low) / 2
        u = math.sqrt(
            (2 * ideal * 0.05 / f) ** 2
            + (2 * ideal * 0.005 / L) ** 2
            + (ideal * 0.02) ** 2
            + half**2 / 3
        )
        got = ask("cables.plucked_tension", **given_)
        self.agrees(
            got,
            {"low_N": low, "high_N": high, "tension_N": (low + high) / 2, "ideal_N": ideal},
            rel=1e-5,
        )
        self.same(got["u_tension_N"], u, rel=1e-4)

    @given(st.lists(st.tuples(st.floats(80, 140), st.floats(1, 12)), min_size=2, max_size=4))
    def test_ways_that_agree_are_weighed(self, readings):
        ratio = max(
            abs(a - b) / (2 * math.hypot(ua, ub))
            for (a, ua), (b, ub) in itertools.combinations(readings, 2)
        )
        got = ask("cables.compare_readings", readings=[list(r) for r in readings])
        self.same(got["worst_ratio"], ratio)
        self.assertEqual(got["agree"], ratio <= 1)
        weight = sum(1 / u**2 for _, u in readings)
        want = sum(t / u**2 for t, u in readings) / weight
        combined = [v for k, v in got.items() if k not in ("worst_ratio", "agree")]
        if ratio <= 1:
            self.same(combined, [want, 1 / math.sqrt(weight)])
        else:
            self.assertTrue(all(v is None for v in combined))
