"""Answers that are known without the program: by geometry, by symmetry, or as drawn before."""

import json
import math
import os
from dataclasses import asdict, replace
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from core.aircraft.template import ENGINES, GEARS, TAILS, WINGS, Described, airframe
from core.basis.quantities import INCH
from core.basis.refused import Refused
from core.cables.done import Done
from core.cables.forces import pulley_force
from core.cables.judging import _on_cable, judge, turnbuckle_checks
from core.cables.lever import Lever
from core.cables.quadrant import quadrant_loop
from core.cables.reading import rigging_from
from core.cables.rigging import POSITIONS, Rigged
from core.clearance.reach import _through
from core.controls.gauge import FACES, on_face
from core.controls.linkage.contact import Bench, Stop, check
from core.controls.linkage.lockup import first_lock, lockup
from core.controls.linkage.mechanism import (
    Body,
    ByInput,
    ByRod,
    End,
    Mechanism,
    Output,
    Rod,
)
from core.controls.linkage.solving import plan
from core.controls.linkage.twin_sticks import twin_sticks
from core.entry.grammar import understand
from core.rulebook import rule
from core.runs.bays import Box
from core.tests.test_entry import NAMES

DEMO = Path(__file__).parents[2] / "demo"
CABLES = [json.loads(p.read_text()) for p in sorted((DEMO / "cables").glob("*.json"))]
OUTLINES = Path(__file__).with_name("airframes.json")
ENDS = ("full left", "full right")
place = st.floats(-0.9, 0.9)
point = st.tuples(place, place, place)


def refused(do, *args):
    try:
        do(*args)
    except Refused as refusal:
        return refusal.field
    return ""


def crank(a, b, gap):
    """A crank of arm `a` drives one of arm `b` by a rod: all upright at reference, `gap` apart."""
    along = (1.0, 0.0, 0.0)
    one = Body("one", "turn", along, ByInput("in"), points={"end": (0.0, 0.0, a)})
    two = Body("two", "turn", along, ByRod("rod"), (0.0, gap, 0.0), {"end": (0.0, gap, b)})
    rod = Rod("rod", End("one", "end"), End("two", "end"))
    return plan(Mechanism("crank", {"in": "rad"}, (one, two), (rod,), {"out": Output("two")}))


class Turning(TestCase):
    @given(point, point, point, st.floats(-1.2, 1.2))
    def test_a_lever_turns_its_attachments_as_any_rotation_does(self, pivot, axis, end, angle):
        assume(math.hypot(*axis) > 0.1)
        k = np.array(axis) / math.hypot(*axis)
        r = np.array(end) - np.array(pivot)
        assume(np.linalg.norm(np.cross(k, r)) > 0.01)
        lever = Lever(pivot, axis, end, end)
        want = np.array(pivot) + Rotation.from_rotvec(angle * k).apply(r)
        np.testing.assert_allclose(lever.attachment("A", angle), want, atol=1e-12)

    @given(st.floats(0.05, 0.2), st.floats(0.05, 0.2), st.floats(0.3, 0.6))
    def test_a_crank_locks_where_its_rod_is_stretched_or_folded(self, a, b, gap):
        rod = math.hypot(gap, b - a)
        p = crank(a, b, gap)
        angles = np.linspace(0.0, math.pi, 200_001)
        for side in (1, -1):
            reach = np.hypot(-a * np.sin(side * angles) - gap, a * np.cos(angles))
            left = np.minimum(rod + b - reach, reach - abs(rod - b))
            assume(abs(left.min()) > 1e-4)
            found = first_lock(p, "in", side * math.pi)
            if left.min() > 0:
                self.assertIsNone(found)
                continue
            self.assertEqual(found.rod, "rod")
            self.assertAlmostEqual(abs(found.input), float(angles[(left < 0).argmax()]), 3)

    def test_lockup_asks_for_an_input_that_is_there_and_a_limit(self):
        p = crank(0.1, 0.1, 0.4)
        for name, limit, field in (
            ("none", 1.0, "input"), ("in", 0.0, "limit"), ("in", -1.0, "limit"), ("in", 3.2, "limit"),
        ):  # fmt: skip
            self.assertEqual(refused(lockup, p, name, limit), field)
        self.assertEqual(refused(lockup, p, "in", math.pi), "")

    def test_stops_at_one_place_leave_nothing_to_move_between(self):
        p = crank(0.1, 0.1, 0.4)
        stops = lambda low, high: (
            Stop("low", "one", "min", low),
            Stop("high", "one", "max", high),
        )
        bench = lambda low, high: Bench(p, "in", "out", 0.5, stops(low, high))
        self.assertEqual(refused(check, bench(-0.1, 0.1)), "")
        self.assertEqual(refused(check, bench(0.1, 0.1)), "stops.high")

    def test_two_sticks_are_compared_over_both_sides_of_upright(self):
        for low, high, field in ((-0.3, 0.3, ""), (0.0, 0.3, "range"), (-0.3, 0.0, "range")):
            self.assertEqual(refused(twin_sticks, 0.2, 0.2, 0.5, 0.5, low, high, 0.01), field)


class Reaching(TestCase):
    @given(point, point, point, st.sampled_from([0, 1, 2]))
    def test_a_mirrored_airframe_is_reached_into_by_the_same_length(self, item, skin, inner, over):
        """Mirrored over any plane; so that no side of a box is better known than the other."""
        flip = lambda p: tuple(-x if i == over else x for i, x in enumerate(p))

        def box(name, p, mirrored):
            lo, hi = p, (p[0] + 0.2, p[1] + 0.1, p[2])
            if mirrored:
                a, b = flip(lo), flip(hi)
                lo = tuple(min(x, y) for x, y in zip(a, b, strict=True))
                hi = tuple(max(x, y) for x, y in zip(a, b, strict=True))
            return Box(name, lo, hi)

        ways = [
            _through(flip(item) if m else item, box("skin", skin, m), box("inner", inner, m))
            for m in (False, True)
        ]
        self.assertAlmostEqual(*ways, 6)


class Rigging(TestCase):
    def test_each_cable_bears_half_of_the_frame_s_give(self):
        rigging = rigging_from(CABLES[0])
        stiff = Rigged(replace(rigging, frame_compliance_m_per_N=0.0)).compliance
        soft = Rigged(replace(rigging, frame_compliance_m_per_N=3e-6)).compliance
        for a, b in zip(stiff, soft, strict=True):
            self.assertAlmostEqual(b - a, 1.5e-6, 12)

    @given(
        st.floats(0.03, 0.2), st.floats(0.03, 0.2), st.floats(-0.6, 0.6), st.floats(20, 300),
        st.floats(1e-6, 1e-4), st.floats(1e-6, 1e-4), st.floats(-60, 60),
    )  # fmt: skip
    def test_between_quadrants_moments_balance_and_each_cable_gives_by_its_pull(
        self, r1, r2, at, rigged, a, b, moment
    ):
        q = quadrant_loop(r1, r2, at, rigged, a, b, moment)
        drawn = r1 * at - r2 * q.driven_rad
        scale = 1e-6 * (rigged + abs(moment) / r2 + abs(r1 * at) / min(a, b))
        self.assertAlmostEqual((q.tension_A_N - q.tension_B_N) * r2 + moment, 0.0, delta=scale * r2)
        self.assertAlmostEqual(q.tension_A_N, max(0.0, rigged + drawn / a), delta=scale)
        self.assertAlmostEqual(q.tension_B_N, max(0.0, rigged - drawn / b), delta=scale)
        for side, pull in (("A", q.tension_A_N), ("B", q.tension_B_N)):
            self.assertEqual(side in q.slack, pull == 0.0)

    def test_each_end_of_a_turnbuckle_has_its_own_thread(self):
        file = json.loads(json.dumps(CABLES[0]))
        side = next(s for s in file["sides"] if file["sides"][s].get("turnbuckle"))
        file["sides"][side]["turnbuckle"]["threads_per_inch"] = [28, 40]
        made = rigging_from(file).cables[side].turnbuckle
        self.assertEqual(made.pitches_m, (INCH / 28, INCH / 40))

    def test_what_is_said_of_a_turnbuckle_lies_where_it_lies(self):
        for file in CABLES:
            rigged = Rigged(rigging_from(file))
            for side, cable in rigged.rigging.cables.items():
                buckle = next(f for f in cable.fittings if f.kind == "turnbuckle")
                checks = list(turnbuckle_checks(cable, Done(showing={side: (1.0, 1.0)})))
                self.assertTrue(checks)
                for c in checks:
                    self.assertEqual(c.at, tuple(_on_cable(cable, buckle.low_m)))

    def test_what_a_check_was_worked_out_from_works_it_out_again(self):
        for file in CABLES:
            rigged = Rigged(rigging_from(file))
            told = [c for c in judge(rigged, Done(), "rudder", True, ENDS) if c.rule]
            self.assertGreaterEqual(len(told), 3)
            for c in told:
                with self.subTest(check=c.what, rule=c.rule):
                    self.assertTrue(rule(c.rule).run(c.inputs))

    def test_a_support_is_judged_where_it_is_worst_of_neutral_and_both_ends(self):
        for file in CABLES:
            rigged = Rigged(rigging_from(file))
            last = POSITIONS - 1
            ways = [rigged.states[i] for i in (0, POSITIONS // 2, last)]
            for s in rigged.supports():
                found = []
                for state in ways:
                    towards = rigged._directions(s.side, state.driver_rad, state.middle_rad)
                    i = rigged.rigging.cables[s.side].supports.index(s.support)
                    found.append(
                        (pulley_force(1.0, 1.0, *towards[i]).magnitude_N, state.driver_rad)
                    )
                most = max(found)[0] * rigged.through.highest_N
                self.assertAlmostEqual(s.force.magnitude_N, most, 6)
                self.assertIn(s.worst_at_rad, [at for _, at in found])

    def test_a_card_is_for_a_cable_within_a_twentieth_of_a_millimetre(self):
        case = rule("cables.card_tension").cases[0].inputs
        for off, fine in ((0.0, True), (0.049e-3, True), (-0.049e-3, True), (0.0515e-3, False)):
            asked = case | {"diameter_m": case["diameter_m"] + off}
            self.assertEqual(refused(rule("cables.card_tension").run, asked) == "", fine, off)

    def test_a_balance_that_is_no_number_is_refused_by_its_field(self):
        case = rule("controls.mass_balance").cases[0].inputs
        for name in ("scale_kg", "tare_kg"):
            with self.assertRaises(Refused) as caught:
                rule("controls.mass_balance").run(case | {name: math.inf})
            self.assertEqual(caught.exception.field, name)

    def test_one_limit_is_enough_to_judge_a_balance(self):
        case = rule("controls.mass_balance").cases[0].inputs
        for left_out in ("lo_Nm", "hi_Nm"):
            asked = {k: v for k, v in case.items() if k != left_out}
            verdict = rule("controls.mass_balance").run(asked)["verdict"]
            self.assertEqual(verdict, "in" if left_out == "hi_Nm" else "out")


class Words(TestCase):
    def test_a_word_that_is_begun_is_answered_with_those_that_begin_so(self):
        with self.assertRaises(Refused) as refusal:
            understand("torq 5", NAMES)
        self.assertEqual(refusal.exception.reason, "torq is no control or word here: torque")

    def test_a_recording_says_how_often_it_was_sampled(self):
        good = {"f_low_Hz": 20.0, "f_high_Hz": 200.0, "samples": [0.0, 0.1] * 40}
        with self.assertRaises(Refused) as refusal:
            rule("cables.pluck_frequency").run(good)
        self.assertEqual(refusal.exception.field, "rate_Hz")

    def test_a_face_shows_its_very_ends(self):
        for name, face in FACES.items():
            for mark in (face.low, face.high):
                if (name, mark) != ("full_360", 2 * math.pi):
                    self.assertEqual(len(on_face([mark], name, "readings")), 1)


class Drawn(TestCase):
    def test_the_templates_are_drawn_as_they_were(self):
        """Looked at once, then kept: ASHLANE_KEEP_PRINTS=1 keeps what was changed on purpose."""
        made = {
            f"{e}, {w} wing, {g}, {t}": asdict(airframe(Described(e, w, g, tail=t)))
            for e in ENGINES for w in WINGS for g in GEARS for t in TAILS
        }  # fmt: skip
        text = json.dumps(made)
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            OUTLINES.write_text(text + "\n")
        kept = json.loads(OUTLINES.read_text())
        for name, frame in json.loads(text).items():
            self.assertEqual(frame, kept[name], name)
