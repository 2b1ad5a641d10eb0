"""Controls as they are described: patterns, surfaces, positions, and what can be none."""

import itertools
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.controls.asking import KINDS, askable, stands_on
from core.controls.patterns import (
    DOWN,
    LYING,
    PATTERNS,
    RIGHT,
    STANDING,
    UP,
    Part,
    allowed,
    checked_parts,
    checked_positions,
)
from core.controls.travel import POSITIONS, direction
from core.controls.verdict import without_tolerance


class Patterns(TestCase):
    def test_each_is_a_control_that_could_be_entered_as_it_is(self):
        for p in PATTERNS:
            with self.subTest(pattern=p.name):
                checked_parts(p.parts)
                self.assertEqual(checked_positions(p.positions, p.parts[0].positive), p.positions)
                self.assertTrue(p.sense)
                for part, position in itertools.product(p.parts, p.positions):
                    self.assertIn(direction(part.positive, position), (-1, 0, 1))

    def test_those_that_roll_have_a_left_and_a_right_side_and_names_are_apart(self):
        self.assertEqual(len({p.name for p in PATTERNS}), len(PATTERNS))
        for p in PATTERNS:
            sides = [x.side for x in p.parts]
            self.assertIn(sides, ([""], ["left", "right"]), p.name)

    def test_flight_controls_count_as_primary_and_the_others_say_why_not(self):
        why = {p.name: p.not_primary for p in PATTERNS}
        for name in ("Elevator", "Ailerons", "Rudder", "Flaperons"):
            self.assertEqual(why[name], "")
        for name in ("Flaps", "Trim", "Spoilers"):
            self.assertIn("23.689", why[name])

    def test_every_stop_that_a_travel_is_known_at_is_some_surface_s(self):
        self.assertEqual(set(LYING) | set(STANDING), set(POSITIONS))
        self.assertEqual((allowed(UP), allowed(DOWN), allowed(RIGHT)), (LYING, LYING, STANDING))


class Positions(TestCase):
    @given(st.sets(st.sampled_from(LYING)), st.sets(st.integers(1, 99), max_size=8), st.randoms())
    def test_they_stand_in_order_however_they_were_entered(self, stops, detents, chance):
        asked = [*stops, *(f"detent_{n}" for n in detents)]
        chance.shuffle(asked)
        if not asked:
            self.assertRaises(Refused, checked_positions, asked, UP)
            return
        found = checked_positions(asked, UP)
        self.assertEqual(set(found), set(asked))
        plain = [LYING.index(p) if p in LYING else 100 + int(p[7:]) for p in found]
        self.assertEqual(plain, sorted(plain))

    def test_what_such_a_surface_has_not_is_refused(self):
        for positions, positive in (
            (["left_stop"], UP), (["right_stop"], DOWN), (["up_stop"], RIGHT),
            (["detent_0"], UP), (["detent_100"], UP), (["detent_1.5"], UP), (["detent_01"], UP),
            (["detent_"], UP), (["wide open"], UP), (["neutral", "neutral"], UP),
            ([f"detent_{n}" for n in range(1, 10)], UP),
        ):  # fmt: skip
            with self.subTest(positions=positions), self.assertRaises(Refused) as told:
                checked_positions(positions, positive)
            self.assertEqual(told.exception.field, "positions")
        self.assertEqual(len(checked_positions([f"detent_{n}" for n in range(1, 9)], UP)), 8)


class Parts(TestCase):
    def told(self, *parts):
        with self.assertRaises(Refused) as told:
            checked_parts(parts)
        return told.exception.field

    def test_what_is_no_control_is_refused_by_the_surface_at_fault(self):
        left = Part("Left flap", "left", DOWN)
        self.assertEqual(self.told(), "surfaces")
        self.assertEqual(self.told(*(Part(f"s{n}") for n in range(9))), "surfaces")
        self.assertEqual(self.told(left, Part("  ")), "surfaces.1.name")
        self.assertEqual(self.told(left, Part(" left FLAP ")), "surfaces.1.name")
        self.assertEqual(self.told(left, Part("x", "middle")), "surfaces.1.side")
        self.assertEqual(self.told(left, Part("x", "left", "up")), "surfaces.1.positive")
        self.assertEqual(self.told(left, Part("x", "", RIGHT)), "surfaces")
        checked_parts([Part(f"s{n}", "", (UP, DOWN)[n % 2]) for n in range(8)])


class WithoutTolerance(TestCase):
    def test_nothing_is_sure_and_what_was_not_sure_stays_as_it_is(self):
        for word in Verdict:
            sure = word in (Verdict.IN, Verdict.OUT)
            self.assertIs(without_tolerance(word), Verdict.TOO_CLOSE if sure else word)


class Numbers(TestCase):
    def test_a_bare_number_has_no_unit(self):
        for text, value in (("1.3", 1.3), ("1 1/2", 1.5), ("−2", -2.0), ("3/4", 0.75)):
            self.assertAlmostEqual(parse(text, "number", "1").si, value, 12)
        for text in ("1.3 mm", "2°", "one", "", "1:2"):
            with self.assertRaises(Refused):
                parse(text, "number", "1")


class Asking(TestCase):
    PLACES = ("neutral", "up_stop", "down_stop", "left_stop", "right_stop", "detent_10")

    @given(st.sets(st.sampled_from(PLACES)), st.lists(st.sampled_from(("", "left", "right"))))
    def test_a_kind_can_be_asked_where_all_that_it_stands_on_can_be_measured(
        self, positions, sides
    ):
        kinds = askable(positions, sides)
        both = "left" in sides and "right" in sides
        self.assertEqual("ratio" in kinds, {"up_stop", "down_stop"} <= positions)
        for kind in ("neutral", "repeatability"):
            self.assertEqual(kind in kinds, "neutral" in positions)
        travels = positions - {"neutral"}
        self.assertEqual("travel" in kinds, bool(travels))
        self.assertEqual("symmetry" in kinds, bool(travels) and both)
        self.assertEqual(kinds, tuple(k for k in KINDS if k in kinds))

    def test_what_each_kind_stands_on(self):
        self.assertEqual(stands_on("travel", "detent_10"), {"detent_10"})
        self.assertEqual(stands_on("symmetry", "up_stop"), {"up_stop"})
        self.assertEqual(stands_on("neutral"), {"neutral"})
        self.assertEqual(stands_on("ratio"), {"up_stop", "down_stop"})
        self.assertRaises(Refused, stands_on, "colour")
