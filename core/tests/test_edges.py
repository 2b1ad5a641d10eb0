"""Just inside and just outside of what a rule takes, and which of several is named."""

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.aircraft.template import ENGINES, GEARS, WINGS, Described, airframe
from core.basis.checks import STEPS, state_of
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.pluck import Peak, Spectrum, spectrum
from core.cables.pluck_check import QUIET_BEFORE_S, _mains, _sudden
from core.cables.pluck_signal import Signal, made
from core.cables.pull import sideways_pull
from core.controls.edge_offset import TrailingEdge, offset_for
from core.controls.gauge import FACES, on_face
from core.controls.linkage.advising import _ways
from core.controls.template import print_check
from core.rulebook import rule
from core.signoff.dual import Work, work_since
from core.signoff.own import photo_state
from core.signoff.signature import Fact, signature_body

SIGNED = ("control:elevator", "ansel", "builder", "2027-03-06T14:05:00Z", "I did this work.")


def told(do, *args, **more):
    try:
        do(*args, **more)
    except Refused as refusal:
        return refusal.field, refusal.reason
    raise AssertionError("not refused")


class Signatures(TestCase):
    def test_of_many_facts_the_one_that_is_there_twice_is_named(self):
        facts = [Fact(i, 1, i) for i in ("reading/1", "reading/2", "reading/3", "reading/2")]
        self.assertEqual(
            told(signature_body, facts, *SIGNED), ("facts", "reading/2 is there twice")
        )
        self.assertEqual(len(signature_body(facts[:3], *SIGNED)["facts"]), 3)

    def test_a_time_that_does_not_exist_is_refused(self):
        facts = [Fact("reading/1", 1, "x")]
        for at in (
            "2027-02-29T10:00:00Z",
            "2027-13-01T10:00:00Z",
            "2027-01-01T24:00:00Z",
            "2027-01-01 10:00:00Z",
        ):
            scope, by, role, _, statement = SIGNED
            self.assertEqual(
                told(signature_body, facts, scope, by, role, at, statement)[0], "at", at
            )


class States(TestCase):
    def test_a_photo_of_the_very_moment_of_the_work_shows_it(self):
        at = datetime(2027, 3, 6, 14, tzinfo=UTC)
        second = timedelta(seconds=1)
        for taken, want in (
            ([at], "present"), ([at + second], "present"), ([at - second], "older than the last work"),
            ([at - second, at], "present"), ([], "missing"),
        ):  # fmt: skip
            self.assertEqual(photo_state(taken, at), want)
        self.assertEqual(photo_state([at], None), "present")

    def test_the_last_work_is_the_last_whoever_told_of_it_first(self):
        at = lambda h: datetime(2027, 3, 6, h, tzinfo=UTC)
        told = [("b", at(9)), ("a", at(14)), ("c", at(11)), ("a", at(8))]
        self.assertEqual(work_since(told, None), Work(("a", "b", "c"), at(14)))
        self.assertEqual(work_since(told, at(9)), Work(("a", "c"), at(14)))
        self.assertEqual(work_since(told, at(14)), Work((), at(14)))
        self.assertEqual(work_since([], None), Work((), None))

    def test_a_step_says_its_passing_word_only_where_it_is_in(self):
        for step, words in STEPS.items():
            for verdict in Verdict:
                want = words[0] if verdict is Verdict.IN else verdict.value
                self.assertEqual(state_of(step, verdict), want)


class Edges(TestCase):
    def test_every_face_shows_from_its_first_to_its_last_mark_and_no_further(self):
        spans = {
            "full_360": (0, 360), "plus_minus_180": (-180, 180), "plus_minus_90": (-90, 90),
            "quadrant_90": (0, 90),
        }  # fmt: skip
        self.assertEqual(set(spans), set(FACES))
        for face, (low, high) in spans.items():
            for value in (low, high):
                self.assertEqual(len(on_face([math.radians(value)], face, "readings")), 1)
            for value in (low - 0.01, high + 0.01):
                self.assertEqual(
                    told(on_face, [math.radians(value)], face, "readings")[0], "readings"
                )

    def test_a_square_is_believed_from_50_to_150_millimetres(self):
        for across, down, field in (
            (0.05, 0.15, ""), (0.0499, 0.1, "across"), (0.1501, 0.1, "across"), (0.1, 0.0499, "down"),
            (0.1, 0.1501, "down"),
        ):  # fmt: skip
            if field:
                self.assertEqual(told(print_check, across, down, 2.0)[0], field)
            else:
                self.assertFalse(print_check(across, down, 2.0).usable)

    def test_a_bolt_may_be_allowed_no_washer_at_all_and_a_pin_has_a_size(self):
        run = rule("hardware.bolt_check").run
        good = next(c.inputs for c in rule("hardware.bolt_check").cases)
        self.assertTrue(run(good | {"max_washers": 0}))
        self.assertEqual(told(run, good | {"max_washers": -1})[0], "max_washers")
        nut = {"kind": "castellated", "height_m": 0.0072, "slot_depth_m": 0.0026}
        for size in (0.0, -0.0016):
            field, _ = told(run, good | {"nut": nut | {"pin_diameter_m": size}})
            self.assertEqual(field, "nut.pin_diameter_m")

    @given(st.sampled_from(ENGINES), st.sampled_from(WINGS), st.sampled_from(GEARS))
    def test_a_fin_stands_on_the_back_of_the_fuselage_with_both_feet(self, engine, wing, gear):
        outline = airframe(Described(engine, wing, gear)).outline
        fin, top = outline["fin"], outline["top"]
        self.assertEqual(len(fin), 4)
        self.assertEqual(fin[0][1], top[-1][1])
        self.assertEqual(fin[-1][1], top[-1][1])
        self.assertLess(fin[0][0], fin[1][0])
        self.assertTrue(all(z > top[-1][1] for _, z in fin[1:3]))

    def test_an_edge_at_neutral_is_offset_by_what_the_page_says_of_zero(self):
        edge = TrailingEdge(0.4, "straight")
        self.assertEqual(offset_for(edge, 0.0), 0.0)
        self.assertEqual(told(offset_for, edge, -1e-6)[0], "deflection")

    def test_what_would_not_end_while_one_waits_is_refused(self):
        good = lambda name: next(c.inputs for c in rule(name).cases if "refused" not in c.expect)
        asked = good("controls.advise")
        many = [dict(asked["rods"][0], min=-201, max=201), *asked["rods"][1:]]
        self.assertIn("rods.", told(rule("controls.advise").run, asked | {"rods": many})[0])
        self.assertEqual(_ways([401] * 3, 3), sum(math.comb(3, k) * 401**k for k in range(4)))
        self.assertEqual(_ways([], 3), 1)
        self.assertEqual(_ways([200], 0), 1)
        sticks = good("controls.twin_sticks")
        for wide in ([-181, 20], [-20, 181]):
            said = told(rule("controls.twin_sticks").run, sticks | {"range_deg": wide})
            self.assertEqual(said, ("range_deg", "must be at most 180 degrees each way"))
        curve = good("cables.tension_curve")
        for n, fine in ((1, False), (2, True), (500, True), (501, False)):
            run = rule("cables.tension_curve").run
            if fine:
                self.assertEqual(len(run(curve | {"n": n})["curve"]), n)
            else:
                self.assertEqual(told(run, curve | {"n": n})[0], "n")
        for partials in ([[1.0, 1.0]], [[1.0, 1.0, 0.0, 0.0]], [[1.0, 1.0, 0.0]] * 65):
            signal = Signal(1000.0, 0.1, 50.0, partials)
            self.assertIn("signal.partials", told(made, signal)[0])


class Sound(TestCase):
    RATE = 8000.0

    def test_the_hum_of_the_mains_is_told_at_its_first_tone_too(self):
        for f, mains in ((50.0, True), (60.0, True), (150.0, True), (57.0, False), (25.0, False)):
            peaks = (Peak(f, 1.0), Peak(77.7, 0.19))
            tone = Spectrum(np.zeros(1), np.zeros(1), (30.0, 300.0), 0.0, peaks, 0.5)
            self.assertEqual(_mains(tone), mains, f)
            loud = replace(tone, peaks=(Peak(f, 1.0), Peak(77.7, 0.21)))
            self.assertFalse(_mains(loud), f)

    def test_a_pluck_begins_out_of_a_quiet_of_three_spans(self):
        span = round(QUIET_BEFORE_S * self.RATE)
        gap = round(0.01 * self.RATE)
        x = np.zeros(20 * span)
        x[10 * span : 12 * span] = np.tile([0.3, -0.3], span)
        x[10 * span] = 0.5
        # Over three spans, 0.17 in two fifths of them is more than 0.35 of what comes after.
        for begins, ends, sudden in ((0, 0, True), (0, 6.9, True), (7, 8.2, False), (7, 7.9, True)):
            noisy = x.copy()
            where = slice(round(begins * span) - gap, round(ends * span) - gap)
            noisy[where] = np.resize([0.17, -0.17], noisy[where].size)
            self.assertEqual(_sudden(noisy, self.RATE), sudden, begins)

    @given(st.floats(40.0, 200.0))
    def test_a_tone_between_two_lines_of_the_spectrum_is_found_where_it_is(self, f):
        t = np.arange(int(2 * self.RATE)) / self.RATE
        tone = 0.4 * np.exp(-t / 1.5) * np.sin(2 * np.pi * f * t)
        found = spectrum(tone, self.RATE, 30.0, 300.0)
        tallest = max(found.peaks, key=lambda p: p.amplitude)
        line = float(found.frequencies_Hz[1] - found.frequencies_Hz[0])
        # The top between the lines is worked out: the nearest line alone could be half of one off.
        self.assertAlmostEqual(tallest.frequency_Hz, f, delta=0.2 * line)

    def test_the_stand_in_s_sound_is_the_sum_that_its_page_says(self):
        s = Signal(1000.0, 0.5, 50.0, [[0.3, 0.2, 0.1], [0.1, 3.0, 0.4]], 0.1, 1e-3)
        t = np.arange(500) / 1000.0 - 0.1
        want = np.zeros(500)
        for i, (a, decay, phase) in enumerate(s.partials, 1):
            f = i * 50.0 * math.sqrt((1 + 1e-3 * i * i) / (1 + 1e-3))
            want += np.where(
                t >= 0, a * np.exp(-t / decay) * np.sin(2 * np.pi * f * t + phase), 0.0
            )
        self.assertLess(float(np.abs(made(s) - want).max()), 1e-12)

    def test_its_noise_is_the_page_s_sequence(self):
        u, values = 7, []
        for _ in range(100):
            u = (1664525 * u + 1013904223) % 2**32
            values.append(2 * u / 2**32 - 1)
        x = made(Signal(100.0, 1.0, 10.0, [[0.0, 1.0, 0.0]], noise=0.1, seed=7))
        self.assertLess(float(np.abs(x - 0.1 * math.sqrt(3) * np.array(values)).max()), 1e-12)

    def test_a_pull_may_move_the_cable_by_a_tenth_of_its_span_and_no_more(self):
        given = {"span_m": 1.5, "force_N": 40.0, "compliance_m_per_N": 1e-5}
        for share, fine in ((0.1, True), (0.1001, False)):
            try:
                sideways_pull(deflection_m=share * 1.5, **given)
                why = ""
            except Refused as refusal:
                why = refusal.reason
            self.assertEqual("over a tenth" in why, not fine)
