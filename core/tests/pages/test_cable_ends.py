"""The page of cables, a second time: ends and forces."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import Agreeing, ask, field_refused, given, guarded, refusal, worst
from core.tests.pages.test_cable_runs import normal, unit


class Ends(Agreeing, TestCase):
    BORES = {"boot": 0.009, "tube": 0.005, "sleeve": 0.0036}
    steps = st.lists(
        st.one_of(
            st.tuples(st.just("slide"), st.sampled_from(sorted(BORES)), st.sampled_from("AB")),
            st.tuples(st.just("press"), st.sampled_from("AB")),
        ),
        max_size=6,
    )

    @given(steps)
    def test_what_is_on_the_cable_and_what_can_still_come_on(self, steps):
        required, ends = ["boot", "tube", "sleeve"], {"A": 0.0065, "B": 0.012}
        on, pressed, faults = [], set(), None
        for i, step in enumerate(steps):
            if step[0] == "press":
                if step[1] in pressed:
                    faults = i
                    break
                pressed.add(step[1])
                continue
            _, item, end = step
            if item in on or (end in pressed and self.BORES[item] < ends[end]):
                faults = i
                break
            on = [item, *on] if end == "A" else [*on, item]
        given_ = {
            "required": required, "bores_m": self.BORES, "ends_m": ends,
            "steps": [
                {"do": "press", "end": s[1]} if s[0] == "press"
                else {"do": "slide", "item": s[1], "end": s[2]}
                for s in steps
            ],
        }  # fmt: skip
        if faults is not None:
            found = refusal("cables.slide_on_order", **given_)
            self.assertIsNotNone(found, given_)
            self.assertIn(str(faults), found[0])
            return
        got = ask("cables.slide_on_order", **given_)
        missing = [x for x in required if x not in on]
        self.assertEqual(list(got["missing"]), missing)
        in_order = [x for x in required if x in on] == on
        self.assertEqual(got["complete"], not missing and in_order)
        if in_order and pressed != {"A", "B"}:
            self.assertTrue(got["possible"])
        elif not in_order:
            self.assertEqual(got["possible"], pressed != {"A", "B"})
        else:
            # Both ends pressed: an item passes its own end, if nothing lies in its way.
            def enters(item):
                place = required.index(item)
                before = [x for x in required[:place] if x in on]
                after = [x for x in required[place + 1 :] if x in on]
                return (not before and self.BORES[item] >= ends["A"]) or (
                    not after and self.BORES[item] >= ends["B"]
                )

            if len(missing) == 1:
                self.assertEqual(got["possible"], enters(missing[0]), given_)

    @given(
        st.booleans(), st.booleans(), st.integers(0, 4), st.lists(st.integers(860, 890), max_size=4),
        st.integers(0, 5), st.none() | st.integers(855, 870),
    )  # fmt: skip
    def test_a_sleeve_by_presses_and_gauge(self, thimble, deviates, presses, after, u, least):
        U, lo = 2 * u / 1e5, None if least is None else least / 1e5
        given_ = {
            "thimble": thimble, "presses": presses, "presses_required": 3,
            "after_m": [x / 1e5 for x in after], "go_max_m": 0.0088, "go_min_m": lo, "u_m": u / 1e5,
        }  # fmt: skip
        if deviates:
            given_ |= {"deviation_source": "drawing 27-20", "deviation_reason": "no room"}
        if field_refused("cables.sleeve_check", **given_):
            self.assertTrue(not after or (least and least / 1e5 > 0.0088))
            return
        got = ask("cables.sleeve_check", **given_)
        words = [guarded(x / 1e5, U, lo, 0.0088) for x in after]
        made = presses >= 3 and len(after) >= 3
        word = worst([*words, "in" if made else "out", "in" if thimble or deviates else "out"])
        self.assertEqual(got["verdict"], word)
        self.assertEqual(got["dimension"], worst(words))

    @given(
        st.floats(2000, 9000), st.floats(0.5, 0.79), st.integers(100, 260), st.floats(0.02, 0.08),
        st.floats(0, 0.012), st.floats(0, 0.001), st.floats(0, 0.0006),
    )  # fmt: skip
    def test_a_proof_load(self, breaking, share, held, stretch, set_, slip, u):
        L = 4.1
        assume(set_ < stretch)
        got = ask(
            "cables.proof_load", breaking_N=breaking, applied_N=share * breaking, held_s=held,
            hold_required_s=180, length_before_m=L, length_loaded_m=L + stretch,
            length_after_m=L + set_, set_limit_m=0.006, mark_slip_m=slip, slip_limit_m=0.0005,
            preload_N=50, u_length_m=u,
        )  # fmt: skip
        ae = L * (share * breaking - 50) / (stretch - set_)
        self.agrees(got, {"required_N": 0.6 * breaking, "set_m": set_, "ae_N": ae}, 1e-5)
        fine = (
            share >= 0.6 + 1e-9,
            held >= 180,
            slip <= 0.0005,
            guarded(set_, 2 * math.sqrt(2) * u, None, 0.006) == "in",
        )
        assume(abs(share - 0.6) > 1e-6 and abs(slip - 0.0005) > 1e-9)
        self.assertEqual(got["verdict"] == "in", all(fine), (got, fine))

    def test_proof_refusals(self):
        good = {
            "breaking_N": 8896, "applied_N": 5400, "held_s": 185, "hold_required_s": 180,
            "length_before_m": 4.1, "length_loaded_m": 4.15, "length_after_m": 4.104,
            "set_limit_m": 0.006, "mark_slip_m": 0,
        }  # fmt: skip
        for field, change in (
            ("applied_N", {"applied_N": 0.81 * 8896}),
            ("fraction", {"fraction": 0.81}),
            ("hold_required_s", {"hold_required_s": None}),
            ("set_limit_m", {"set_limit_m": None}),
            ("length_loaded_m", {"length_loaded_m": 4.1}),
        ):
            with self.subTest(change=change):
                self.refuses(field, "cables.proof_load", **(good | change))


class Forces(Agreeing, TestCase):
    @given(
        st.floats(0, 500),
        st.floats(0, 500),
        st.tuples(unit, unit, unit),
        st.tuples(unit, unit, unit),
    )
    def test_on_a_pulley(self, before, after, a, b):
        assume(np.linalg.norm(a) > 0.2 and np.linalg.norm(b) > 0.2)
        force = after * normal(b) - before * normal(a)
        got = ask("cables.pulley_force", tension_in_N=before, tension_out_N=after, d_in=a, d_out=b)
        self.same(got["force_N"], [float(x) for x in force], floor=1e-6)
        self.same(got["magnitude_N"], float(np.linalg.norm(force)), floor=1e-6)

    @given(
        st.lists(st.tuples(*[st.floats(-800, 800)] * 3, unit, unit, unit), min_size=1, max_size=4),
        st.tuples(unit, unit, unit), st.floats(100, 3000),
    )  # fmt: skip
    def test_on_a_bracket(self, loads, about, allowable):
        F = sum(np.array(x[:3]) for x in loads)
        M = sum(np.cross(np.subtract(x[3:], about), x[:3]) for x in loads)
        got = ask(
            "cables.bracket_load", about=about, allowable_N=allowable,
            loads=[{"force_N": x[:3], "point": x[3:]} for x in loads],
        )  # fmt: skip
        self.same(got["force_N"], [float(x) for x in F], floor=1e-6)
        self.same(got["moment_Nm"], [float(x) for x in M], floor=1e-6)
        size = float(np.linalg.norm(F))
        if size > 1e-6:
            self.same(got["margin"], allowable / size - 1)
        else:
            self.assertTrue(got["margin"] is None or got["margin"] > 1e6)
