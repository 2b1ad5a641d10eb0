"""The page of linkages, a second time: limits of travel and advice."""

import itertools
import math
from functools import cache
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.tests.pages.asking import Agreeing, ask, given
from core.tests.pages.test_linkages import Chain, chains, deg, rad


class LimitsOfTravel(Agreeing, TestCase):
    @given(chains, times=10)
    def test_it_locks_where_a_rod_can_reach_no_further(self, chain):
        got = ask("controls.lockup", mechanism=chain.file, input="pitch", limit_deg=80)
        for way, sign in (("plus", 1), ("minus", -1)):
            lock = got[way]
            reach = 80 if lock is None else abs(lock["input_deg"])
            # All the way there it can be assembled, and just beyond the lock it cannot.
            inside = chain.solved(rad(sign * (reach - 0.6)))
            if lock is None:
                self.assertIsNotNone(inside)
                continue
            beyond = chain.solved(rad(sign * (reach + 0.3)))
            self.assertIsNone(beyond, (way, lock))
            i = int(lock["rod"][3:])
            assume(inside is not None)
            # The rod that is named lies nearly along its arm: next to dead centre.
            a, b = chain.end(i - 1, inside[i - 1]), chain.end(i, inside[i])
            e = (b - a) / np.linalg.norm(b - a)
            v = np.cross(chain.axes[i], b - chain.pivots[i])
            self.assertLess(abs(float(e @ v)) / float(np.linalg.norm(v)), 0.35)

    @given(chains, st.floats(8, 18), st.floats(5, 24), st.floats(5, 24), times=12)
    def test_the_first_stop_met_ends_the_travel(self, chain, at, stick_plus, stick_minus):
        turns = {s: chain.solved(s * rad(at)) for s in (1, -1)}
        assume(None not in turns.values())
        # One stop for each end of the surface, where it stands when the stick is at ± at.
        high, low = sorted((deg(turns[1][-1]), deg(turns[-1][-1])), reverse=True)
        assume(high > 0.5 and low < -0.5)
        assume(min(abs(stick_plus - at), abs(stick_minus - at)) > 0.4)
        stops = [
            {"id": "high", "body": "surface", "side": "max", "at_deg": high, "kind": "surface"},
            {"id": "low", "body": "surface", "side": "min", "at_deg": low, "kind": "surface"},
            {"id": "aft", "body": "stick", "side": "max", "at_deg": stick_plus, "kind": "input"},
            {"id": "fwd", "body": "stick", "side": "min", "at_deg": -stick_minus, "kind": "input"},
        ]
        got = ask(
            "controls.stops", mechanism=chain.file, input="pitch", output="surface", limit_deg=25,
            stops=stops,
        )  # fmt: skip
        for way, sign, own, stick in (
            ("plus", 1, stick_plus, "aft"), ("minus", -1, stick_minus, "fwd"),
        ):  # fmt: skip
            first = got[way]
            surface = "high" if deg(turns[sign][-1]) > 0 else "low"
            want, where = (surface, at) if at < own else (stick, own)
            self.assertEqual(first["first"], want)
            self.assertAlmostEqual(first["input_deg"], sign * where, 4)
            if abs(where - at) < 1e-9:
                self.assertAlmostEqual(first["output_deg"], -deg(turns[sign][-1]), 4)

    @given(
        st.integers(60, 100), st.integers(60, 100), st.integers(400, 600), st.integers(-3, 3),
        st.integers(10, 20),
    )  # fmt: skip
    def test_two_sticks_and_their_link(self, a1, a2, gap, longer, reach):
        link = gap + longer

        def second(q1, near):
            """Of two circles about the pivots, by a root on the link's length."""
            x1, y1 = a1 * math.sin(q1), -a1 * math.cos(q1)

            def off(q):
                return math.hypot(gap + a2 * math.sin(q) - x1, -a2 * math.cos(q) - y1) - link

            return brentq(off, near - 0.3, near + 0.3, xtol=1e-13)

        near, table = 0.0, {}
        for side in (range(0, -reach - 1, -1), range(reach + 1)):
            near = second(0.0, 0.0)
            for d in side:
                near = second(rad(d), near)
                table[d] = deg(near)
        got = ask(
            "controls.twin_sticks", arm1_mm=a1, arm2_mm=a2, pivot_gap_mm=gap, link_mm=link,
            range_deg=[-reach, reach], tol_deg=0.5,
        )  # fmt: skip
        worst = max(abs(q - d) for d, q in table.items())
        ratio = (table[reach] - table[-reach]) / (2 * reach)
        self.agrees(
            got,
            {
                "neutral_difference_deg": table[0], "max_difference_deg": worst,
                "at_min_deg": table[-reach], "at_max_deg": table[reach], "travel_ratio": ratio,
                "parallel": worst <= 0.5,
            },
            rel=1e-5, floor=1e-6,
        )  # fmt: skip

    def test_unequal_arms_are_never_parallel_and_equal_ones_always_are(self):
        for a1, a2, parallel in ((80, 80, True), (80, 76, False)):
            got = ask(
                "controls.twin_sticks", arm1_mm=a1, arm2_mm=a2, pivot_gap_mm=500,
                link_mm=math.hypot(500, a1 - a2), range_deg=[-20, 20], tol_deg=0.5,
            )  # fmt: skip
            self.assertEqual(got["parallel"], parallel)
        self.refuses(
            "link_mm", "controls.twin_sticks", arm1_mm=80, arm2_mm=80, pivot_gap_mm=500,
            link_mm=700, range_deg=[-20, 20], tol_deg=0.5,
        )  # fmt: skip


class Advice(Agreeing, TestCase):
    """The least turning that brings all inside, by trying every combination."""

    CHAIN, AT, STEP = Chain([75, 85, 65], [0, 0, 0], (-1, -1, -1), 0.0), 20.0, 0.45

    @classmethod
    @cache
    def model(cls, n_rod, n_aft, n_fwd):
        """The surface at rest and at both stops, with these half-turns; None: it locks."""
        lengths = [cls.CHAIN.lengths[0], cls.CHAIN.lengths[1] + n_rod * cls.STEP / 1e3]
        ends = {"neutral": 0.0, "plus": cls.AT + 0.35 * n_aft, "minus": -cls.AT + 0.35 * n_fwd}
        turns = {k: cls.CHAIN.solved(rad(x), lengths) for k, x in ends.items()}
        return None if None in turns.values() else {k: -deg(q[-1]) for k, q in turns.items()}

    @given(
        st.floats(-1.5, 1.5), st.floats(18, 24), st.floats(-24, -18), st.integers(1, 2),
    )  # fmt: skip
    def test_the_fewest_items_and_half_turns(self, neutral, plus, minus, most):
        chain, at, step = self.CHAIN, self.AT, self.STEP
        stops = [
            {"id": "aft", "body": "stick", "side": "max", "at_deg": at, "kind": "input"},
            {"id": "fwd", "body": "stick", "side": "min", "at_deg": -at, "kind": "input"},
        ]
        U, model = 0.2, self.model
        required = {"neutral": (-0.5, 0.5), "plus": (19.0, 23.0), "minus": (-23.0, -19.0)}
        measured = {"neutral": neutral, "plus": plus, "minus": minus}

        sign = 1 if model(0, 0, 0)["plus"] > 0 else -1
        if sign < 0:
            required = {"neutral": (-0.5, 0.5), "minus": (19.0, 23.0), "plus": (-23.0, -19.0)}
            measured = {"neutral": neutral, "minus": plus, "plus": minus}
        base = model(0, 0, 0)
        options = []
        for n in itertools.product(range(-3, 4), range(-2, 3), range(-2, 3)):
            items = sum(x != 0 for x in n)
            if items > most or (changed := model(*n)) is None:
                continue
            told = {k: measured[k] + changed[k] - base[k] for k in measured}
            margin = min(min(told[k] - lo, hi - told[k]) for k, (lo, hi) in required.items())
            options.append((items, sum(x != 0 for x in n[1:]), sum(map(abs, n)), -margin, n))
        got = ask(
            "controls.advise", mechanism=chain.file, input="pitch", output="surface",
            limit_deg=30, stops=stops, measured_deg=measured, U_deg=U, max_items=most,
            required_deg={k: list(v) for k, v in required.items()},
            rods=[{"rod": "rod2", "step_mm": step, "min": -3, "max": 3}],
            adjustable_stops=[
                {"stop": s, "step_deg": 0.35, "min": -2, "max": 2} for s in ("aft", "fwd")
            ],
        )  # fmt: skip
        for guard in (U, 0.0):
            fine = [o for o in options if -o[3] >= guard]
            near = [o for o in options if abs(-o[3] - guard) < 1e-7]
            assume(not near)
            if fine:
                best = min(fine, key=lambda o: (o[0], o[1], o[2], round(o[3], 9)))
                changes = dict(zip(("rod2", "aft", "fwd"), best[4], strict=True))
                self.assertTrue(got["found"])
                self.assertEqual(got["guarded"], guard > 0)
                self.assertEqual(got["changes"], {k: v for k, v in changes.items() if v})
                self.assertAlmostEqual(got["worst_margin_deg"], -best[3], 5)
                return
        self.assertFalse(got["found"])
