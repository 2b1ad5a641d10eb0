"""What people type is understood as they mean it, or refused with what is accepted."""

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.quantities import format_quantity, from_si, parse, parse_many
from core.basis.refused import Refused

UNDERSTOOD = [
    ("4 1/4", "length", "in", 0.10795),
    ("4-1/4 in", "length", "mm", 0.10795),
    ('1-3/16"', "length", "mm", 0.0301625),
    ("2' 3-1/2\"", "length", "mm", 0.6985),
    ("4½ in", "length", "mm", 0.1143),
    ("108 mm", "length", "in", 0.108),
    ("27.5°", "angle", "deg", math.radians(27.5)),
    ("27 30'", "angle", "deg", math.radians(27.5)),
    ("27°30'15\"", "angle", "deg", math.radians(27.504166667)),
    ("−3,2", "angle", "deg", math.radians(-3.2)),
    ("0,125", "length", "in", 0.003175),
    ("36 lb", "force", "N", 160.135978149),
    ("160 N", "force", "lbf", 160.0),
    ("36 lb", "mass", "kg", 16.32932532),
    ("14C", "temperature", "F", 287.15),
    ("57F", "temperature", "C", 287.038888889),
    ("14 °C", "temperature", "F", 287.15),
]
REFUSED = [
    "",
    "   ",
    "up",
    "nan",
    "inf",
    "1,234",
    "26.4.1",
    "4 mm 3 in",
    "12 kg",
    "27 75'",
    "--3",
    "3/0 in",
    "4 5/4 in",
    "26 4",
    "2' 30 mm",
    "9" * 61,
]


class Typed(TestCase):
    def test_each_way_of_typing_is_understood_and_kept_as_typed(self):
        for text, of, unit, si in UNDERSTOOD:
            with self.subTest(text=text, of=of):
                got = parse(text, of, unit)
                self.assertAlmostEqual(got.si, si, delta=1e-9 * max(1, abs(si)))
                self.assertEqual(got.as_typed, text)

    def test_what_could_mean_two_things_or_nothing_is_refused_by_field(self):
        for text in REFUSED:
            for of, unit in (("length", "mm"), ("angle", "deg")):
                if (text, of) in (("3/0 in", "angle"), ("27 75'", "length")):
                    continue
                with self.subTest(text=text, of=of), self.assertRaises(Refused) as caught:
                    parse(text, of, unit, "chord")
                self.assertEqual(caught.exception.field, "chord")

    def test_repeats_on_one_line_are_parted_by_semicolons_not_by_fractions(self):
        self.assertEqual(
            [q.as_typed for q in parse_many("26.4; 26,5 ;4 1/4", "angle", "deg")],
            ["26.4", "26,5", "4 1/4"],
        )

    @given(st.text(alphabet="0123456789 .,-+/'\"−½mincft°;N·lb", max_size=14))
    def test_whatever_is_typed_is_a_finite_quantity_or_refused_with_a_reason(self, text):
        for of, unit in (("length", "mm"), ("torque", "Nm"), ("temperature", "C")):
            try:
                self.assertTrue(math.isfinite(parse(text, of, unit).si))
            except Refused as refusal:
                self.assertEqual(refusal.field, "value")
                self.assertTrue(refusal.reason)

    @given(st.integers(-4000, 4000), st.sampled_from(["mm", "in", "ft", "m"]))
    def test_parse_of_format_gives_the_same_length(self, steps, unit):
        si = parse(f"{steps / 8}", "length", unit).si
        self.assertAlmostEqual(
            parse(format_quantity(si, "length", unit, 3), "length", "cm").si, si, delta=1e-9
        )

    @given(st.integers(-9000, 9000), st.sampled_from([32, 64]))
    def test_parse_of_a_fraction_gives_the_same_length(self, steps, fraction):
        si = parse(f"{abs(steps)}/{fraction} in", "length", "in").si * (-1 if steps < 0 else 1)
        shown = format_quantity(si, "length", "in", fraction=fraction)
        self.assertAlmostEqual(parse(shown, "length", "mm").si, si, delta=1e-12)

    @given(st.floats(-80, 140), st.sampled_from(["C", "F"]))
    def test_temperatures_come_back(self, value, unit):
        si = parse(f"{value:.4f}", "temperature", unit).si
        self.assertAlmostEqual(from_si(si, unit, "temperature"), value, delta=1e-4)
