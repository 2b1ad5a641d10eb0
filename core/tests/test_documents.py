"""What documents say of one thing: laws of the four relations, in any unit, in any order."""

import unittest
from fractions import Fraction

from hypothesis import assume, given
from hypothesis import strategies as st

from core.basis.quantities import INCH, parse_range
from core.basis.refused import Refused
from core.signoff.documents import Statement, compare_sources, questioned

grid = st.integers(-40, 40)


@st.composite
def limits(draw):
    """Two limits in whole millimetres, the low first."""
    a, b = draw(grid), draw(grid)
    return min(a, b), max(a, b)


def said(name, pair, unit="mm", resolution=0.0):
    return Statement(name, "range", pair[0] / 1000, pair[1] / 1000, unit, resolution)


def relation(a, b):
    """The relation of two sets of whole numbers, counted out one by one."""
    first, second = set(range(a[0], a[1] + 1)), set(range(b[0], b[1] + 1))
    if first == second:
        return "agree"
    if not first & second:
        return "disjoint"
    return "narrower" if first <= second or second <= first else "overlap"


class Relations(unittest.TestCase):
    @given(limits(), limits())
    def test_each_pair_is_what_counting_says(self, a, b):
        (pair,) = compare_sources([said("a", a), said("b", b)])
        self.assertEqual(pair.result, relation(a, b))
        common = sorted(set(range(a[0], a[1] + 1)) & set(range(b[0], b[1] + 1)))
        if common:
            self.assertAlmostEqual(pair.both[0], common[0] / 1000, places=12)
            self.assertAlmostEqual(pair.both[1], common[-1] / 1000, places=12)
        else:
            self.assertIsNone(pair.both)

    @given(limits(), limits(), st.integers(-1000, 1000))
    def test_order_place_and_sign_change_no_relation(self, a, b, far):
        result = lambda x, y: compare_sources([said("a", x), said("b", y)])[0].result
        moved = lambda x: (x[0] + far, x[1] + far)
        turned = lambda x: (-x[1], -x[0])
        self.assertEqual(result(a, b), result(b, a))
        self.assertEqual(result(a, b), result(moved(a), moved(b)))
        self.assertEqual(result(a, b), result(turned(a), turned(b)))

    @given(st.lists(limits(), min_size=2, max_size=5))
    def test_of_many_every_pair_is_told_once(self, many):
        pairs = compare_sources([said(str(i), p) for i, p in enumerate(many)])
        told = {(p.a, p.b) for p in pairs}
        self.assertEqual(len(told), len(pairs))
        self.assertEqual(len(pairs), len(many) * (len(many) - 1) // 2)
        for p in pairs:
            self.assertEqual(p.result, relation(many[int(p.a)], many[int(p.b)]))

    @given(st.integers(100, 4000), st.integers(1, 400))
    def test_a_limit_printed_again_in_inches_still_agrees(self, low, wide):
        """Converted and rounded to a tenth of a thousandth: no document is blamed for it."""
        metric = parse_range(f"{low} to {low + wide} mm", "length", "mm")
        printed = [
            f"{float(Fraction(x, 1000) / Fraction('0.0254')):.4f}" for x in (low, low + wide)
        ]
        inches = parse_range(f"{printed[0]} to {printed[1]} in", "length", "in")
        row = lambda name, t: Statement(name, "range", t.lo, t.hi, t.unit, t.resolution)
        (pair,) = compare_sources([row("a", metric), row("b", inches)])
        self.assertEqual(pair.result, "agree")

    @given(st.integers(100, 4000), st.integers(10, 400), st.floats(0.52, 9.0))
    def test_more_than_rounding_is_a_difference_between_units_too(self, low, wide, off):
        metric = Statement("a", "range", low / 1000, (low + wide) / 1000, "mm", 0.001)
        inches = Statement(
            "b", "range", (low + off) / 1000, (low + wide) / 1000, "in", 0.001 * INCH
        )
        self.assertNotEqual(compare_sources([metric, inches])[0].result, "agree")

    def test_the_same_unit_is_taken_to_its_last_digit(self):
        a, b = said("a", (10, 12), resolution=1.0), said("b", (10, 13), resolution=1.0)
        self.assertEqual(compare_sources([a, b])[0].result, "narrower")

    @given(st.integers(0, 50), st.integers(0, 50))
    def test_counts_agree_or_conflict_and_nothing_between(self, n, m):
        rows = [Statement(name, "count", x, x) for name, x in (("a", n), ("b", m))]
        self.assertEqual(compare_sources(rows)[0].result, "agree" if n == m else "conflict")

    def test_what_cannot_be_compared_is_refused(self):
        count = Statement("count", "count", 3, 3)
        for rows, field in (
            ([said("a", (1, 2))], "statements"),
            ([said("a", (1, 2)), count], "statements"),
            ([said("a", (2, 1)), said("b", (1, 2))], "statements.a"),
            ([said("a", (1, 2)), said("b", (1, 2), resolution=-1.0)], "statements.b"),
            ([said("a", (1, 2)), Statement("b", "colour", 1, 2)], "statements.b"),
            ([said("a", (1, 2)), Statement("b", "range", 1, float("nan"))], "statements.b"),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                compare_sources(rows)
            self.assertEqual(refused.exception.field, field)


class Ranges(unittest.TestCase):
    @given(
        st.integers(0, 900), st.integers(0, 900),
        st.sampled_from((" to ", " .. ", "..", " - ", "…", "–")), st.sampled_from(("mm", "cm")),
    )  # fmt: skip
    def test_every_way_to_write_two_limits_is_one_range(self, low, wide, between, unit):
        per = {"mm": 0.001, "cm": 0.01}[unit]
        typed = parse_range(f"{low}{between}{low + wide} {unit}", "length", "in")
        self.assertAlmostEqual(typed.lo, low * per, places=12)
        self.assertAlmostEqual(typed.hi, (low + wide) * per, places=12)
        self.assertEqual((typed.unit, typed.resolution), (unit, per))

    @given(st.integers(0, 900), st.integers(1, 900))
    def test_the_wrong_way_round_and_one_alone_are_refused(self, low, wide):
        for typed in (f"{low + wide} to {low} mm", f"{low} mm", f"to {low} mm", f"{low} to mm", ""):
            with self.assertRaises(Refused) as refused:
                parse_range(typed, "length", "mm", "travel")
            self.assertEqual(refused.exception.field, "travel")

    @given(st.integers(0, 999), st.integers(0, 3))
    def test_the_last_printed_digit_is_the_coarser_doubt_of_both(self, n, places):
        fine = f"{n}.{'5' * places}" if places else str(n)
        typed = parse_range(f"{fine} to {n + 9} mm", "length", "mm")
        self.assertAlmostEqual(typed.resolution, 0.001)
        both = parse_range(f"{fine} to {n + 9}.{'0' * places or '0'} mm", "length", "mm")
        self.assertAlmostEqual(both.resolution, 0.001 * 10.0**-places)


class Questioned(unittest.TestCase):
    @given(st.lists(st.integers(1, 60), min_size=3, max_size=7), st.integers(2, 5))
    def test_one_is_questioned_where_it_is_over_so_many_middles_of_the_others(self, widths, factor):
        named = {f"w{i}": float(w) for i, w in enumerate(widths)}
        told = {q.name: q.ratio for q in questioned(named, float(factor))}
        for i, w in enumerate(widths):
            others = sorted(widths[:i] + widths[i + 1 :])
            half = len(others) // 2
            middle = (
                Fraction(others[half])
                if len(others) % 2
                else Fraction(others[half - 1] + others[half], 2)
            )
            self.assertEqual(f"w{i}" in told, w > factor * middle)
            if f"w{i}" in told:
                self.assertAlmostEqual(told[f"w{i}"], float(w / middle))

    @given(st.floats(0.1, 10), st.floats(0.1, 10))
    def test_two_alone_question_nothing(self, a, b):
        assume(a != b)
        self.assertEqual(questioned({"a": a, "b": b}), ())

    def test_widths_and_factor_that_cannot_be_are_refused(self):
        for widths, factor, field in (
            ({"a": -1.0, "b": 1.0, "c": 1.0}, 3.0, "widths.a"),
            ({"a": 1.0}, 1.0, "factor"),
            ({"a": float("inf")}, 3.0, "widths.a"),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                questioned(widths, factor)
            self.assertEqual(refused.exception.field, field)


if __name__ == "__main__":
    unittest.main()
