"""What nobody said is not said, what is near trouble is told, and like is compared with like."""

import json
import math
from datetime import date
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.cables.document import End
from core.cables.done import Done
from core.cables.judging_ends import end_checks
from core.cables.loop import loop_solve, loop_sweep
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.controls.linkage.cautions import DEAD_CENTRE, TRANSMISSION, rod_cautions
from core.signoff.directive import Directive, Limits, standing

DEMO = Path(__file__).parents[2] / "demo" / "cables"
rad = math.radians


def rudder():
    return json.loads((DEMO / "fenlark-rudder.json").read_text())


def checks(document, side):
    rigged = Rigged(rigging_from(document))
    return {c.key: c for c in end_checks(rigged, rigged.rigging.cables[side], Done())}


class Ends(TestCase):
    def test_an_end_of_which_nothing_is_said_is_not_measured_and_needs_no_proof(self):
        document = rudder()
        document["sides"]["A"]["ends"] = {}
        found = checks(document, "A")
        self.assertEqual(found["end A A"].verdict, "not measured")
        self.assertIn("what it is, who made it.", found["end A A"].said)
        self.assertNotIn("proof A", found)
        self.assertNotIn("pin A A", found)

    def test_only_an_end_with_a_pin_must_say_what_keeps_it(self):
        self.assertEqual(End("fork terminal", 0.006, "supplier").open, ("what keeps its pin",))
        self.assertEqual(End("threaded terminal", 0.006, "supplier").open, ())
        self.assertEqual(End("eye terminal", 0.006, "supplier", "nut and cotter").open, ())

    def test_said_in_full_nothing_stays_open(self):
        for side in "AB":
            self.assertFalse([k for k in checks(rudder(), side) if k.startswith("end ")])


class NearTrouble(TestCase):
    def test_the_limits_are_thirty_and_fifteen_degrees_and_themselves_still_good(self):
        self.assertAlmostEqual(math.degrees(TRANSMISSION), 30.0)
        self.assertAlmostEqual(math.degrees(DEAD_CENTRE), 15.0)
        self.assertEqual(rod_cautions("fwd", TRANSMISSION, DEAD_CENTRE), [])
        (flat,) = rod_cautions("fwd", rad(29.4), rad(16))
        self.assertIn("only 29° between rod and arm", flat)
        self.assertIn("under 30°", flat)
        (near,) = rod_cautions("fwd", rad(31), rad(14.6))
        self.assertIn("within 15° of dead centre (under 15°)", near)

    def test_half_of_what_the_ends_are_turned_against_each_other_comes_off_the_cone(self):
        self.assertEqual(rod_cautions("fwd", 1.0, None, rad(2), rad(4)), [])
        (bent,) = rod_cautions("fwd", 1.0, None, rad(2), rad(-5))
        self.assertIn("0.5° past its cone", bent)


class Directives(TestCase):
    def applies(self, asked, has):
        d = Directive(({"serial": asked},), first=Limits(hours=100.0))
        return standing(d, {"serial": has}, date(2026, 1, 1), 0.0).applies

    @given(st.integers(0, 500), st.integers(0, 500), st.integers(0, 500))
    def test_a_number_written_as_text_is_that_number(self, a, b, own):
        low, high = sorted((a, b))
        want = "yes" if low <= own <= high else "no"
        for asked in ([low, high], [str(low), str(high)]):
            for has in (own, str(own), f" {own} "):
                self.assertEqual(self.applies(asked, has), want)

    def test_a_number_against_words_is_not_known_and_so_counts_as_applying(self):
        self.assertEqual(self.applies([10, 20], "prototype"), "not known")
        self.assertEqual(self.applies("prototype", 12), "not known")
        self.assertEqual(self.applies("prototype", "prototype"), "yes")
        self.assertEqual(self.applies("prototype", "series"), "no")
        self.assertEqual(self.applies([10, 20], None), "not known")

    def test_a_range_has_two_ends(self):
        for wrong in ([], [1], [1, 2, 3], [None, 2], [[1], 2], True):
            with self.assertRaises(Refused) as caught:
                self.applies(wrong, 1)
            self.assertEqual(caught.exception.field, "applies.serial")


class Sweeps(TestCase):
    def test_a_sweep_is_what_each_angle_gives_alone_however_close_and_in_whatever_order(self):
        for path in DEMO.glob("*.json"):
            loop = Rigged(rigging_from(json.loads(path.read_text()))).loop
            for angles in ([0.2, -0.15, 0.0], [0.01 * k for k in range(-9, 10)], [0.24]):
                swept = loop_sweep(loop, angles)
                for angle, state in zip(angles, swept, strict=True):
                    alone = loop_solve(loop, angle)
                    self.assertEqual((state.driver_rad, state.status), (angle, alone.status))
                    self.assertAlmostEqual(state.middle_rad, alone.middle_rad, 9)
                    self.assertAlmostEqual(state.tension_A_N, alone.tension_A_N, 4)
