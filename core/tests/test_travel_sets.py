"""Sets of readings turned into travel: every way, by plain formulas, and what is needed for it."""

import itertools
import math
from dataclasses import replace
from unittest import TestCase

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.controls import sources
from core.controls.travel import (
    Missing,
    ReadingSet,
    Surface,
    check_set,
    direction,
    judge_conflict,
    judge_sets,
    measurement,
    neutral_alignment,
    suits,
    with_best,
)
from core.controls.verdict import Judged

rad, deg = math.radians, math.degrees
WAYS = ("trailing_edge_up", "trailing_edge_down", "trailing_edge_right")
ROOT3, ROOT12 = math.sqrt(3), math.sqrt(12)


def value(form):
    """The travel that a straight-line form gives at the mean of its readings, °."""
    mean = sum(form.readings) / len(form.readings)
    return deg(form.sensitivity * mean + form.offset)


def u_of(form):
    """Its combined standard uncertainty, rad."""
    n = len(form.readings)
    mean = sum(form.readings) / n
    parts = [
        abs(form.sensitivity) * form.accuracy / ROOT3,
        abs(form.sensitivity) * form.resolution / ROOT12,
        *(p.u for p in form.other),
    ]
    if n > 1:
        s = math.sqrt(sum((v - mean) ** 2 for v in form.readings) / (n - 1))
        parts.append(abs(form.sensitivity) * s / math.sqrt(n))
    return math.sqrt(sum(p * p for p in parts))


class Directions(TestCase):
    def test_which_way_each_position_lies(self):
        for positive, position, way in (
            ("trailing_edge_up", "up_stop", 1), ("trailing_edge_up", "down_stop", -1),
            ("trailing_edge_down", "down_stop", 1), ("trailing_edge_down", "up_stop", -1),
            ("trailing_edge_right", "right_stop", 1), ("trailing_edge_right", "left_stop", -1),
            ("trailing_edge_down", "detent_24", 1), ("trailing_edge_up", "neutral", 0),
        ):  # fmt: skip
            self.assertEqual(direction(positive, position), way, (positive, position))
        for position in ("sideways", "", "up"):
            with self.assertRaises(Refused) as caught:
                direction("trailing_edge_up", position)
            self.assertEqual(caught.exception.field, "position")


class ByGauge(TestCase):
    @settings(max_examples=60)
    @given(
        st.floats(-35, 35), st.floats(-8, 8), st.sampled_from([1, -1]), st.sampled_from([1, -1]),
        st.lists(st.floats(-0.3, 0.3), min_size=1, max_size=4),
        st.lists(st.floats(-0.3, 0.3), min_size=1, max_size=3),
    )  # fmt: skip
    def test_against_level_the_neutral_reading_is_taken_off(self, turn, start, way, sense, e, f):
        s = ReadingSet(
            "gauge_difference", tuple(rad(start + sense * turn + x) for x in e), rad(0.2), rad(0.1),
            way, neutral=tuple(rad(start + x) for x in f), sense=sense,
        )  # fmt: skip
        form = measurement(Surface("trailing_edge_up"), s)
        want = way * (turn + sense * (sum(e) / len(e) - sum(f) / len(f)))
        self.assertAlmostEqual(value(form), want, 6)
        # The gauge errs at neutral too, and its display rounds there too.
        both = math.hypot(rad(0.2) / ROOT3, rad(0.1) / ROOT12) * math.sqrt(2)
        self.assertGreaterEqual(u_of(form), both - 1e-12)

    @given(
        st.floats(-35, 35), st.sampled_from(["fixed surface", "neutral"]), st.sampled_from([1, -1])
    )
    def test_set_to_zero_it_shows_travel_itself(self, reading, zero, way):
        s = ReadingSet("gauge_difference", (rad(reading),), rad(0.2), rad(0.1), way, zero=zero)
        form = measurement(Surface("trailing_edge_up"), s)
        self.assertAlmostEqual(value(form), way * reading, 6)
        want = math.sqrt((rad(0.2) / ROOT3) ** 2 + 2 * (rad(0.1) / ROOT12) ** 2)
        self.assertAlmostEqual(u_of(form), want, 9)

    def test_against_level_a_neutral_reading_is_needed(self):
        s = ReadingSet("gauge_difference", (rad(20),), rad(0.2), rad(0.1))
        found = measurement(Surface("trailing_edge_up"), s)
        self.assertIsInstance(found, Missing)
        self.assertIn("neutral", found.reason)

    def test_a_face_without_sign_gives_two_candidates_until_the_side_is_said(self):
        s = ReadingSet(
            "gauge_difference", (rad(17),), rad(0.2), rad(0.5), neutral=(rad(3.5),), face="quadrant_90"
        )  # fmt: skip
        found = measurement(Surface("trailing_edge_up"), s)
        self.assertEqual([round(deg(c), 6) for c in found.candidates], [13.5, 20.5])
        for side, before, want in ((1, -1, 20.5), (1, 1, 13.5), (-1, 1, -20.5), (-1, -1, -13.5)):
            said = measurement(
                Surface("trailing_edge_up"), replace(s, side=side, neutral_side=before)
            )
            self.assertAlmostEqual(value(said), want, 6)

    @given(st.floats(-3, 3), st.sampled_from([1, -1]))
    def test_neutral_is_judged_from_the_fixed_surface_alone(self, off, sense):
        s = ReadingSet(
            "gauge_difference", (rad(off),), rad(0.2), rad(0.1), zero="fixed surface", sense=sense
        )
        self.assertAlmostEqual(value(neutral_alignment(s)), sense * off, 6)
        for other in (
            replace(s, zero="level"),
            replace(s, zero="neutral"),
            replace(s, method="swept_gauge"),
        ):
            self.assertIsInstance(neutral_alignment(other), Missing)


class ByOffsetAndAngle(TestCase):
    @settings(max_examples=60)
    @given(
        st.sampled_from(["straight", "perpendicular", "arc"]), st.floats(2, 40), st.floats(0.15, 0.6),
        st.floats(-12, 12), st.sampled_from([1, -1]),
    )  # fmt: skip
    def test_an_offset_means_what_its_practice_says(self, practice, turn, chord, phi, way):
        p = rad(phi) * way
        d = {
            "straight": 2 * chord * math.sin(rad(turn) / 2), "arc": chord * rad(turn),
            "perpendicular": chord * (math.sin(p + rad(turn)) - math.sin(p)),
        }[practice]  # fmt: skip
        assume(d > 0)
        s = ReadingSet("edge_offset", (d,), 0.0003, 0.0005, way, practice=practice)
        form = measurement(Surface("trailing_edge_up", chord=chord, phi=rad(phi)), s)
        self.assertAlmostEqual(value(form), turn, 5)

    def test_an_offset_needs_the_chord_and_its_uncertainty_counts(self):
        s = ReadingSet("edge_offset", (0.1,), 0.0003, 0.0005, practice="straight")
        self.assertIsInstance(measurement(Surface("trailing_edge_up"), s), Missing)
        sure = measurement(Surface("trailing_edge_up", chord=0.3), s)
        rough = measurement(Surface("trailing_edge_up", chord=0.3, u_chord=0.002), s)
        half = math.asin(0.1 / 0.6)
        want = math.hypot(u_of(sure), 2 * math.tan(half) / 0.3 * 0.002)
        self.assertAlmostEqual(u_of(rough), want, 7)

    @given(
        st.floats(160, 190), st.floats(2, 40), st.sampled_from(
            [
                ("trailing_edge_up", "upper", -1), ("trailing_edge_up", "lower", 1),
                ("trailing_edge_down", "upper", 1), ("trailing_edge_down", "lower", -1),
                ("trailing_edge_right", "right", -1), ("trailing_edge_right", "left", 1),
            ]
        ), st.sampled_from([1, -1]),
    )  # fmt: skip
    def test_an_included_angle_closes_or_opens_by_the_skin(self, neutral, turn, pair, way):
        positive, skin, opens = pair
        included = neutral + way * opens * turn
        s = ReadingSet("included_angle", (rad(included),), rad(0.2), rad(0.1), way, skin=skin)
        form = measurement(Surface(positive, neutral_included=rad(neutral)), s)
        self.assertAlmostEqual(value(form), turn, 6)
        self.assertIsInstance(measurement(Surface(positive), s), Missing)
        own = replace(s, neutral=(rad(neutral),))
        self.assertAlmostEqual(value(measurement(Surface(positive), own)), turn, 6)

    def test_a_gap_under_the_template_adds_its_angle(self):
        s = ReadingSet("included_angle", (rad(146),), rad(0.2), rad(0.1), skin="upper")
        surface = Surface("trailing_edge_up", neutral_included=rad(172))
        plain = measurement(surface, s)
        gap = measurement(surface, replace(s, gap=0.0004, arm=0.14))
        seen = math.atan(0.0004 / 0.14) / ROOT3
        self.assertAlmostEqual(u_of(gap), math.hypot(u_of(plain), seen), 9)

    @given(st.floats(5, 30), st.floats(0, 40))
    def test_a_swept_hinge_turns_more_than_a_gauge_shows(self, turn, sweep):
        shown = math.asin(math.sin(rad(turn)) * math.cos(rad(sweep)))
        s = ReadingSet(
            "swept_gauge", (shown,), rad(0.2), rad(0.1), practice="fixed_to_skin", zero="fixed surface"
        )  # fmt: skip
        form = measurement(Surface("trailing_edge_up", sweep=rad(sweep)), s)
        self.assertAlmostEqual(value(form), turn, 5)
        self.assertIsInstance(measurement(Surface("trailing_edge_up"), s), Missing)


class Suiting(TestCase):
    GOOD = ReadingSet("gauge_difference", (0.1,), 0.003, 0.001)

    def test_what_a_way_cannot_show_is_refused(self):
        for field, change in (
            ("method", {"method": "by_eye"}), ("zero", {"zero": "the wall"}),
            ("instrument", {"accuracy": 0.0}), ("instrument", {"accuracy": -1.0}),
            ("value", {"values": (4.0,)}), ("value", {"method": "edge_offset", "values": (-0.01,)}),
            ("value", {"method": "included_angle", "values": (-0.01,)}),
        ):  # fmt: skip
            with self.subTest(change=change), self.assertRaises(Refused) as caught:
                check_set(replace(self.GOOD, **change))
            self.assertEqual(caught.exception.field, field)
        check_set(self.GOOD)
        check_set(replace(self.GOOD, method="edge_offset", values=(0.0,)))

    def test_level_is_no_use_on_a_hinge_that_stands_up_and_no_offset_measures_neutral(self):
        for positive, method, zero, neutral in itertools.product(
            WAYS, ("gauge_difference", "edge_offset", "included_angle"), ("level", "fixed surface"), (False, True)
        ):  # fmt: skip
            s = replace(self.GOOD, method=method, zero=zero)
            bad = (
                positive == "trailing_edge_right"
                and method == "gauge_difference"
                and zero == "level"
            ) or (neutral and method == "edge_offset")
            try:
                suits(Surface(positive), s, neutral)
                refused = False
            except Refused as refusal:
                refused = True
                self.assertEqual(refusal.field, "method")
            self.assertEqual(refused, bad, (positive, method, zero, neutral))


sets = st.lists(
    st.tuples(st.floats(16, 22), st.sampled_from([0.05, 0.1, 0.2, 0.4]), st.integers(1, 4)),
    min_size=1, max_size=3,
)  # fmt: skip


class Several(TestCase):
    SURFACE = Surface("trailing_edge_up")

    def forms(self, listed):
        return [
            measurement(
                self.SURFACE,
                ReadingSet(
                    "gauge_difference", tuple(rad(v + 0.01 * i) for i in range(n)), rad(a), rad(0.05),
                    zero="fixed surface",
                ),
            )
            for v, a, n in listed
        ]  # fmt: skip

    @settings(max_examples=60)
    @given(sets)
    def test_the_most_certain_speaks_unless_they_disagree(self, listed):
        travel = judge_sets(self.forms(listed), rad(17.5), rad(20.5))
        known = [j for j in travel.sets if isinstance(j, Judged)]
        best = min(known, key=lambda j: j.combined.U)
        self.assertIs(travel.sets[travel.governing], best)
        apart = any(abs(j.y - best.y) > math.hypot(j.combined.U, best.combined.U) for j in known)
        self.assertEqual(travel.disagree, apart)
        self.assertIs(travel.verdict, Verdict.TOO_CLOSE if apart else best.verdict)

    @given(sets, st.randoms())
    def test_the_order_of_the_ways_says_nothing(self, listed, chance):
        mixed = list(listed)
        chance.shuffle(mixed)
        one, other = (judge_sets(self.forms(x), rad(17.5), rad(20.5)) for x in (listed, mixed))
        self.assertEqual(one.disagree, other.disagree)
        us = sorted(j.combined.U for j in one.sets)
        if len(us) < 2 or us[1] - us[0] > 1e-9:
            self.assertIs(one.verdict, other.verdict)

    def test_nothing_known_is_not_measured(self):
        missing = Missing("Read neutral")
        travel = judge_sets([missing], rad(17.5), rad(20.5))
        self.assertEqual((travel.governing, travel.verdict), (None, Verdict.NOT_MEASURED))
        mixed = judge_sets([missing, *self.forms([(19.0, 0.1, 3)])], rad(17.5), rad(20.5))
        self.assertEqual((mixed.governing, mixed.verdict), (1, Verdict.IN))

    @given(st.floats(17, 21))
    def test_documents_that_disagree_are_judged_by_each(self, measured):
        travel = judge_sets(self.forms([(measured, 0.1, 3)]), rad(17.5), rad(20.5))
        ranges = [
            sources.Range("a", rad(17.5), rad(18.5)),
            sources.Range("b", rad(19.5), rad(20.5)),
        ]
        found = judge_conflict(travel, ranges)
        for name, r in zip("ab", ranges, strict=True):
            alone = judge_sets(self.forms([(measured, 0.1, 3)]), r.lo, r.hi).verdict
            self.assertEqual(found.verdicts["ab".index(name)], alone.value)
            chosen = judge_conflict(travel, ranges, sources.Decision(name, "asked the maker"))
            self.assertEqual(chosen.verdict, alone.value)

    @given(st.floats(0.05, 0.39), st.floats(17.6, 20.4))
    def test_the_best_instrument_at_hand_would_be_surer(self, better, measured):
        s = ReadingSet(
            "gauge_difference", (rad(measured),), rad(0.4), rad(0.1), zero="fixed surface",
            best_accuracy=rad(better), best_resolution=rad(0.05),
        )  # fmt: skip
        U = with_best(self.SURFACE, s, rad(17.5), rad(20.5))
        want = 2 * math.sqrt((rad(better) / ROOT3) ** 2 + 2 * (rad(0.05) / ROOT12) ** 2)
        self.assertAlmostEqual(U, want, 9)
        for same in (0.0, rad(0.4), rad(0.5)):
            self.assertIsNone(
                with_best(self.SURFACE, replace(s, best_accuracy=same), rad(17.5), rad(20.5))
            )
