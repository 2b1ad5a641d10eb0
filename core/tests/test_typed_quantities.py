"""What people type, read a second time by a plain reader; every unit by its definition."""

import math
import re
from fractions import Fraction
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.quantities import (
    DIMENSIONS,
    format_quantity,
    from_si,
    parse,
    parse_many,
    parse_range,
    to_si,
)
from core.basis.refused import Refused

INCH, POUND = 0.0254, 0.45359237
G = 9.80665
LBF = POUND * G
# How many SI units one is, by definition.
EXACT = {
    ("length", "mm"): 1e-3, ("length", "cm"): 1e-2, ("length", "m"): 1.0, ("length", "in"): INCH,
    ("length", "ft"): 12 * INCH,
    ("angle", "deg"): math.pi / 180, ("angle", "rad"): 1.0, ("angle", "arcmin"): math.pi / 10800,
    ("angle", "arcsec"): math.pi / 648000,
    ("force", "N"): 1.0, ("force", "lbf"): LBF, ("force", "kgf"): G, ("force", "daN"): 10.0,
    ("mass", "kg"): 1.0, ("mass", "g"): 1e-3, ("mass", "lb"): POUND, ("mass", "oz"): POUND / 16,
    ("torque", "Nm"): 1.0, ("torque", "inlb"): LBF * INCH, ("torque", "ftlb"): LBF * 12 * INCH,
    ("pressure", "Pa"): 1.0, ("pressure", "kPa"): 1e3, ("pressure", "MPa"): 1e6,
    ("pressure", "GPa"): 1e9, ("pressure", "psi"): LBF / INCH**2,
    ("pressure", "ksi"): 1000 * LBF / INCH**2, ("number", "1"): 1.0,
    ("pressure", "hPa"): 100.0, ("volume", "l"): 1e-3, ("volume", "ml"): 1e-6,
    ("speed", "m/s"): 1.0, ("speed", "km/h"): 1 / 3.6, ("speed", "kt"): 1852 / 3600,
    ("speed", "mph"): 5280 * 12 * INCH / 3600, ("speed", "ft/min"): 12 * INCH / 60,
    ("flow", "l/h"): 1e-3 / 3600, ("flow", "l/min"): 1e-3 / 60, ("flow", "ml/min"): 1e-6 / 60,
    ("flow", "gal/h"): 231 * INCH**3 / 3600,
    ("current", "A"): 1.0, ("current", "mA"): 1e-3, ("voltage", "V"): 1.0, ("voltage", "mV"): 1e-3,
    ("resistance", "ohm"): 1.0, ("resistance", "mohm"): 1e-3, ("resistance", "kohm"): 1e3,
    ("volume", "gal"): 231 * INCH**3, ("volume", "impgal"): 4.54609e-3,
    ("moment", "kgm"): 1.0, ("moment", "kgmm"): 1e-3, ("moment", "lbin"): 0.011521246198,
    ("moment", "lbft"): POUND * 12 * INCH, ("density", "kg/m3"): 1.0, ("density", "kg/l"): 1e3,
    ("density", "lb/gal"): POUND / (231 * INCH**3),
    ("resistance", "Mohm"): 1e6, ("time", "s"): 1.0, ("time", "min"): 60.0, ("time", "h"): 3600.0,
}  # fmt: skip
# The ways each unit may be written.
SPELT = {
    "mm": ["mm", "millimetre", "millimeters"], "cm": ["cm"], "m": ["m", "metres", "meter"],
    "in": ["in", "inch", "inches", '"'], "ft": ["ft", "foot", "feet", "'"],
    "deg": ["deg", "°", "degrees"], "rad": ["rad"], "N": ["N", "newton"], "lbf": ["lb", "lbf", "lbs"],
    "kgf": ["kgf", "kp"], "daN": ["daN"], "kg": ["kg"], "g": ["g"], "oz": ["oz"], "Nm": ["Nm", "N m", "N·m"],
    "inlb": ["inlb", "in-lb", "in lb", "in·lbf"], "ftlb": ["ftlb", "ft-lb"], "psi": ["psi"],
    "hPa": ["hPa", "mbar"], "l": ["l", "litre"], "ml": ["ml", "cc"],
    "m/s": ["m/s"], "km/h": ["km/h", "kmh"], "kt": ["kt", "knots", "kn"], "mph": ["mph"],
    "ft/min": ["ft/min", "fpm"], "l/h": ["l/h"], "l/min": ["l/min"], "ml/min": ["ml/min"],
    "A": ["A", "amps"], "mA": ["mA"], "V": ["V", "volts"], "mV": ["mV"], "ohm": ["ohm", "Ω"],
    "mohm": ["mohm", "milliohm", "mΩ"], "kohm": ["kohm", "kΩ"], "Mohm": ["megohm", "MΩ", "Mohm", "MOHM"], "s": ["s", "seconds"],
    "gal": ["gal", "US gal", "us.gal"], "impgal": ["imp gal", "UK gal"],
    "kgm": ["kg m", "kg·m", "kgm"], "kgmm": ["kg mm", "kg·mm"], "lbin": ["lb in", "lb-in", "lbs in", "lb·in"],
    "lbft": ["lb ft", "lb-ft"], "kg/m3": ["kg/m3", "kg/m³"], "kg/l": ["kg/l", "g/ml"],
    "lb/gal": ["lb/gal", "lb/usgal"],
    "min": ["min", "minutes"], "h": ["h", "hours"], "gal/h": ["gal/h", "gph"], "kPa": ["kPa"], "MPa": ["MPa"], "GPa": ["GPa"], "ksi": ["ksi"],
}  # fmt: skip


class Units(TestCase):
    def test_every_unit_is_what_its_definition_says(self):
        for (of, unit), si in EXACT.items():
            with self.subTest(of=of, unit=unit):
                self.assertTrue(math.isclose(to_si(1.0, unit, of), si, rel_tol=1e-12))
                self.assertTrue(math.isclose(from_si(si, unit, of), 1.0, rel_tol=1e-12))
        known = {(d, u) for d, of in DIMENSIONS.items() for u in of.pint_names}
        self.assertEqual(known - set(EXACT), {("temperature", u) for u in ("C", "F", "K")})

    def test_temperatures_have_their_zeros(self):
        for value, unit, kelvin in (
            (0, "C", 273.15),
            (32, "F", 273.15),
            (212, "F", 373.15),
            (5, "K", 5),
        ):
            self.assertAlmostEqual(to_si(value, unit, "temperature"), kelvin)

    def test_every_spelling_is_understood(self):
        for (of, unit), si in EXACT.items():
            for spelt in SPELT.get(unit, []):
                if unit == "lb" or (of == "mass" and spelt in ("lbs",)):
                    continue
                with self.subTest(of=of, spelt=spelt):
                    found = parse(f"3 {spelt}", of, next(iter(DIMENSIONS[of].pint_names)))
                    self.assertTrue(math.isclose(found.si, 3 * si, rel_tol=1e-12))
                    self.assertEqual(found.unit, unit)

    @given(st.sampled_from(sorted(EXACT)), st.floats(-1e6, 1e6))
    def test_there_and_back(self, which, value):
        of, unit = which
        self.assertTrue(
            math.isclose(from_si(to_si(value, unit, of), unit, of), value, abs_tol=1e-9)
        )

    @given(st.sampled_from(sorted(EXACT)), st.integers(-4000, 4000))
    def test_what_is_shown_is_read_again_as_the_same(self, which, steps):
        of, unit = which
        si = to_si(steps / 8, unit, of)
        again = parse(format_quantity(si, of, unit, 3), of, unit)
        self.assertTrue(math.isclose(again.si, si, rel_tol=1e-9, abs_tol=1e-12))


def plain(text):
    """A number as an exact fraction: decimal, fraction or mixed."""
    sign = -1 if text.startswith("-") else 1
    body = text.lstrip("+-")
    mixed = re.fullmatch(r"(\d+)[ -](\d+)/(\d+)", body)
    if mixed:
        whole, over, under = map(int, mixed.groups())
        return sign * (whole + Fraction(over, under))
    return sign * Fraction(body.replace(",", "."))


decimals = st.tuples(st.integers(0, 400), st.integers(0, 99)).map(lambda x: f"{x[0]}.{x[1]:02d}")
fractions = st.tuples(st.integers(1, 63), st.sampled_from([2, 4, 8, 16, 32, 64])).map(
    lambda x: f"{x[0]}/{x[1]}"
)
mixed = st.tuples(st.integers(1, 40), st.integers(1, 15)).map(lambda x: f"{x[0]} {x[1]}/16")
signs = st.sampled_from(["", "-", "+"])


class Numbers(TestCase):
    @given(signs, decimals | fractions | mixed, st.sampled_from(["mm", "in", "m"]))
    def test_decimals_fractions_and_mixed_numbers(self, sign, number, unit):
        found = parse(f"{sign}{number} {unit}", "length", "mm")
        want = float(plain(sign + number)) * EXACT["length", unit]
        self.assertTrue(math.isclose(found.si, want, rel_tol=1e-12, abs_tol=1e-15))

    @given(signs, decimals)
    def test_a_bare_number_is_in_the_unit_of_the_field_and_a_comma_is_a_point(self, sign, number):
        for of, unit in (("length", "in"), ("angle", "deg"), ("torque", "inlb")):
            dotted = parse(sign + number, of, unit)
            self.assertTrue(
                math.isclose(
                    dotted.si, float(plain(sign + number)) * EXACT[of, unit], abs_tol=1e-15
                )
            )
            comma = number.replace(".", ",")
            if not re.fullmatch(r"[1-9]\d{0,2},\d{3}", comma):
                self.assertEqual(parse(sign + comma, of, unit).si, dotted.si)

    @given(st.integers(0, 40), st.integers(0, 11), st.integers(0, 15), signs)
    def test_feet_and_inches_belong_together(self, feet, inches, sixteenths, sign):
        text = (
            f"{sign}{feet}' {inches} {sixteenths}/16\""
            if sixteenths
            else f"{sign}{feet}' {inches}\""
        )
        if sixteenths and not inches:
            text = f"{sign}{feet}' {sixteenths}/16\""
        whole = feet * 12 + inches + sixteenths / 16
        want = whole * INCH * (-1 if sign == "-" else 1)
        self.assertTrue(math.isclose(parse(text, "length", "mm").si, want, abs_tol=1e-12), text)

    @given(st.integers(0, 89), st.integers(0, 59), signs)
    def test_degrees_and_minutes_belong_together(self, degrees, minutes, sign):
        found = parse(f"{sign}{degrees}° {minutes}'", "angle", "deg").si
        want = math.radians(degrees + minutes / 60) * (-1 if sign == "-" else 1)
        self.assertTrue(math.isclose(found, want, abs_tol=1e-12))

    def test_what_cannot_be_meant_is_refused_and_named(self):
        for text, of in (
            ("", "length"), ("three", "length"), ("3 kg", "length"), ("3 mm 4 mm", "length"),
            ("1' 13\"", "length"), ("1.5' 2\"", "length"), ("3/0 in", "length"), ("1 5/4 in", "length"),
            ("1,234", "length"), ("1.2.3", "length"), ("nan", "angle"), ("inf", "angle"),
            ("27° 61'", "angle"), ("1e999", "length"), ("- -3", "length"), ("3 mm apart", "length"),
            ("9" * 61, "length"), ("3 °", "length"), ("5 lb ft", "force"),
        ):  # fmt: skip
            with self.subTest(text=text[:20]), self.assertRaises(Refused) as caught:
                parse(text, of, "mm" if of == "length" else "deg" if of == "angle" else "N", "here")
            self.assertEqual(caught.exception.field, "here")
            self.assertTrue(caught.exception.reason)

    @given(st.lists(decimals, min_size=1, max_size=5), st.sampled_from([";", " ; ", "; ", " / "]))
    def test_several_readings_on_one_line_are_read_one_by_one(self, numbers, between):
        found = parse_many(between.join(numbers), "angle", "deg")
        self.assertEqual([q.as_typed for q in found], numbers)
        self.assertEqual([q.si for q in found], [parse(n, "angle", "deg").si for n in numbers])

    @given(
        decimals,
        decimals,
        st.sampled_from([" to ", " - ", " .. ", "..."]),
        st.sampled_from(["mm", "in"]),
    )
    def test_a_range_is_two_limits_with_one_unit(self, a, b, between, unit):
        low, high = sorted((plain(a), plain(b)))
        text = f"{float(low):.2f}{between}{float(high):.2f} {unit}"
        found = parse_range(text, "length", "mm")
        self.assertTrue(math.isclose(found.lo, float(low) * EXACT["length", unit], abs_tol=1e-12))
        self.assertTrue(math.isclose(found.hi, float(high) * EXACT["length", unit], abs_tol=1e-12))
        self.assertTrue(math.isclose(found.resolution, 0.01 * EXACT["length", unit], rel_tol=1e-6))
        if low != high:
            with self.assertRaises(Refused):
                parse_range(f"{float(high):.2f}{between}{float(low):.2f} {unit}", "length", "mm")
