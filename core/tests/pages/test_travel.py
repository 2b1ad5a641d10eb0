"""Requirements against readings, and what was measured turned into angles: pages 1 to 3."""

import math
from unittest import TestCase

from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.stats import norm
from scipy.stats import t as student

from core.tests.pages.asking import (
    Agreeing,
    ask,
    expanded,
    field_refused,
    given,
    guarded,
    refusal,
    spread,
)

ROOT3, ROOT12 = math.sqrt(3), math.sqrt(12)


few = st.lists(st.floats(17.0, 21.0), min_size=1, max_size=6)


small = st.floats(0.0, 0.6)


hundredths = st.integers(-100, 100).map(lambda n: n / 100)


def parts_of(readings, accuracy, resolution, c=1.0, other=(), pooled=None):
    """The contributions of rule 1, step 1."""
    n, s = len(readings), spread(readings)
    parts = [(abs(c) * accuracy / ROOT3, None), (abs(c) * resolution / ROOT12, None)]
    if pooled and pooled[1] > n - 1:
        parts.append((abs(c) * pooled[0] / math.sqrt(n), pooled[1]))
    elif s is not None:
        parts.append((abs(c) * s / math.sqrt(n), n - 1))
    return [*parts, *other]


class Verdict(Agreeing, TestCase):
    @given(few, small, small, st.floats(-2, 2), st.floats(-5, 5))
    def test_value_uncertainty_and_word(self, readings, a, r, c, offset):
        assume(abs(c) > 0.05)
        y = c * sum(readings) / len(readings) + offset
        u, nu, k, U = expanded(parts_of(readings, a, r, c))
        lo, hi = y - 1.0, y + 0.4
        got = ask(
            "controls.verdict", lo=lo, hi=hi, readings=readings, accuracy=a, resolution=r,
            sensitivity=c, offset=offset,
        )  # fmt: skip
        self.agrees(got, {"y": y, "n": len(readings), "u": u, "k": k, "U": U}, floor=1e-7)
        self.assertEqual(got["verdict"], guarded(y, U, lo, hi))
        self.assertAlmostEqual(got["margin"], 0.4, 6)
        self.assertEqual(got["single"], len(readings) == 1)
        if nu is None:
            self.assertIsNone(got["nu_eff"])
        else:
            self.same(got["nu_eff"], nu)

    @given(few, st.floats(0.05, 0.6), st.floats(0.01, 0.5))
    def test_the_share_inside_is_that_of_student_or_of_the_normal(self, readings, a, r):
        y = sum(readings) / len(readings)
        u, nu, _, _ = expanded(parts_of(readings, a, r))
        share = norm(0, 1) if nu is None else student(nu)
        want = share.cdf((20.5 - y) / u) - share.cdf((17.5 - y) / u)
        got = ask("controls.verdict", lo=17.5, hi=20.5, readings=readings, accuracy=a, resolution=r)
        self.assertAlmostEqual(got["p_inside"], want, 9)

    @given(few, small, st.floats(0.01, 0.4), st.integers(1, 30))
    def test_what_is_known_of_the_spread_counts_only_if_it_knows_more(self, readings, a, s, dof):
        got = ask(
            "controls.verdict", lo=17.5, hi=20.5, readings=readings, accuracy=a, resolution=0.1,
            pooled_s=s, pooled_dof=dof,
        )  # fmt: skip
        u, _, _, U = expanded(parts_of(readings, a, 0.1, pooled=(s, dof)))
        self.agrees(got, {"u": u, "U": U})

    @given(few, st.lists(st.tuples(st.floats(0.01, 0.5), st.none() | st.integers(1, 40))))
    def test_other_uncertainties_add_in_quadrature(self, readings, other):
        assume(len(other) < 5)
        got = ask(
            "controls.verdict", lo=17.5, hi=20.5, readings=readings, accuracy=0.2, resolution=0.1,
            other=[{"u": u, "nu": nu} for u, nu in other],
        )  # fmt: skip
        u, _, k, U = expanded(parts_of(readings, 0.2, 0.1, other=other))
        self.agrees(got, {"u": u, "k": k, "U": U})

    @given(st.floats(5, 40), st.floats(0, 3), st.floats(0, 3), few)
    def test_nominal_and_tolerances_are_limits(self, nominal, plus, minus, readings):
        same = {"readings": readings, "accuracy": 0.2, "resolution": 0.1}
        one = ask(
            "controls.verdict", nominal=nominal, tol_plus=plus, tol_minus=minus, **same
        )  # fmt: skip
        other = ask("controls.verdict", lo=nominal - minus, hi=nominal + plus, **same)
        self.assertEqual(one["verdict"], other["verdict"])
        self.assertAlmostEqual(one["margin"], other["margin"], 9)

    @given(few, st.permutations(range(6)))
    def test_the_order_of_the_readings_says_nothing(self, readings, order):
        mixed = [readings[i] for i in order if i < len(readings)]
        one, other = (
            ask("controls.verdict", lo=17.5, hi=20.5, readings=r, accuracy=0.2, resolution=0.1)
            for r in (readings, mixed)
        )
        self.agrees(other, {k: v for k, v in one.items() if isinstance(v, float)}, floor=1e-9)

    @given(few, st.floats(0.1, 5.0))
    def test_another_unit_gives_the_same_word(self, readings, per):
        def word(x):
            return ask(
                "controls.verdict", lo=17.5 * x, hi=20.5 * x, readings=[v * x for v in readings],
                accuracy=0.2 * x, resolution=0.1 * x,
            )  # fmt: skip

        one, other = word(1.0), word(per)
        self.assertEqual(one["verdict"], other["verdict"])
        self.assertAlmostEqual(one["U"] * per, other["U"], 9)
        self.assertAlmostEqual(one["p_inside"], other["p_inside"], 6)

    @given(few)
    def test_the_other_sign_gives_the_same_word(self, readings):
        tools = {"accuracy": 0.2, "resolution": 0.1}
        up = ask("controls.verdict", lo=17.5, hi=20.5, readings=readings, **tools)
        down = ask("controls.verdict", lo=-20.5, hi=-17.5, readings=[-v for v in readings], **tools)
        self.assertEqual(up["verdict"], down["verdict"])
        self.assertAlmostEqual(up["p_inside"], down["p_inside"], 9)

    def test_readings_that_spread_more_than_the_instrument_explains_are_flagged(self):
        explained = 3 * math.sqrt(0.2**2 / 3 + 0.1**2 / 12)
        for factor, flagged in ((0.99, False), (1.01, True)):
            half = factor * explained / math.sqrt(2)
            got = ask(
                "controls.verdict", lo=17.5, hi=20.5, readings=[19 - half, 19 + half],
                accuracy=0.2, resolution=0.1,
            )  # fmt: skip
            self.assertEqual(got["spread_flag"], flagged)

    def test_a_range_under_twice_U_can_never_be_in(self):
        U = 2 * 0.3 / ROOT3
        for width, never in ((2 * U * 1.01, False), (2 * U * 0.99, True)):
            got = ask(
                "controls.verdict", lo=19 - width / 2, hi=19 + width / 2, readings=[19.0],
                accuracy=0.3, resolution=0.0,
            )  # fmt: skip
            self.assertEqual(got.get("can_never_be_in", False), never)

    def test_how_many_more_readings_settle_it_is_the_least_that_does(self):
        readings, a, r = [17.9, 17.5, 17.8, 17.7], 0.05, 0.05
        lo = 17.55
        got = ask(
            "controls.verdict", lo=lo, hi=20.5, readings=readings, accuracy=a, resolution=r
        )  # fmt: skip
        self.assertEqual(got["verdict"], "too close")
        s, W = spread(readings), sum(readings) / 4 - lo

        def enough(n):
            fixed = [(a / ROOT3, None), (r / ROOT12, None)]
            return expanded([*fixed, (s / math.sqrt(n), n - 1)])[3] <= W

        want = next((n for n in range(5, 31) if enough(n)), None)
        self.assertEqual((got["repeats_total"], got["settles"]), (want, "repeats"))

    def test_the_accuracy_that_is_needed_gives_U_at_the_margin(self):
        readings = [17.9, 17.9]
        got = ask(
            "controls.verdict", lo=17.7, hi=20.5, readings=readings, accuracy=0.4, resolution=0.1
        )  # fmt: skip

        def U(a):
            return expanded([(a / ROOT3, None), (min(0.1, a) / ROOT12, None)])[3]

        self.same(got["accuracy_needed"], brentq(lambda a: U(a) - 0.2, 1e-6, 0.4))
        self.assertEqual(got["settles"], "instrument")
        better = ask(
            "controls.verdict", lo=17.7, hi=20.5, readings=readings, accuracy=0.4, resolution=0.1,
            best_accuracy=0.3, best_resolution=0.1,
        )  # fmt: skip
        self.assertIsNone(better["accuracy_needed"])

    def test_at_the_limit_itself_nothing_settles(self):
        got = ask(
            "controls.verdict", lo=18, hi=20, readings=[18.0, 18.0], accuracy=0.2, resolution=0.1,
            best_accuracy=0.01, best_resolution=0.01,
        )  # fmt: skip
        self.assertEqual((got["verdict"], got["settles"]), ("too close", "none"))

    def test_no_reading_is_not_measured_and_nothing_else(self):
        got = ask(
            "controls.verdict", lo=18, hi=20, readings=[], accuracy=0.2, resolution=0.1
        )  # fmt: skip
        self.assertEqual(got["verdict"], "not measured")
        self.assertNotIn("y", got)

    def test_refusals(self):
        good = {"lo": 18, "hi": 20, "readings": [19.0], "accuracy": 0.2, "resolution": 0.1}
        for change in (
            {"lo": None, "hi": None},
            {"lo": 21},
            {"accuracy": -0.1},
            {"resolution": -0.1},
            {"readings": [math.nan]},
            {"readings": [True]},
            {"other": [{"u": -1}]},
            {"pooled_s": 0.1},
            {"pooled_dof": 3},
            {"nominal": 19},
            {"tol_plus": -1, "nominal": 19, "lo": None, "hi": None},
        ):
            with self.subTest(change=change):
                found = refusal("controls.verdict", **(good | change))
                self.assertIsNotNone(found)
                self.assertTrue(found[0] and found[1])


class TravelChecks(Agreeing, TestCase):
    @given(st.floats(5, 40), st.floats(5, 40), st.floats(0.1, 2), small, small)
    def test_symmetry(self, left, right, tol, ul, ur):
        U = 2 * math.hypot(ul, ur)
        got = ask(
            "controls.symmetry", left_deg=left, right_deg=right, tol_deg=tol, u_left_deg=ul,
            u_right_deg=ur,
        )  # fmt: skip
        self.agrees(got, {"difference_deg": left - right, "U_deg": U}, floor=1e-7)
        self.assertEqual(got["verdict"], guarded(left - right, U, -tol, tol))

    @given(st.floats(5, 40), st.floats(5, 40), small, small)
    def test_ratio(self, up, down, uu, ud):
        U = 2 * math.sqrt((uu / down) ** 2 + (up * ud / down**2) ** 2)
        got = ask(
            "controls.ratio", up_deg=up, down_deg=down, lo=1.3, hi=1.7, u_up_deg=uu, u_down_deg=ud
        )  # fmt: skip
        self.agrees(got, {"ratio": up / down, "U": U})
        self.assertEqual(got["verdict"], guarded(up / down, U, 1.3, 1.7))

    @given(
        st.lists(hundredths, min_size=2, max_size=5),
        st.lists(hundredths, min_size=2, max_size=5),
        st.floats(0.0, 0.3),
        st.floats(0.2, 2.0),
    )
    def test_repeatability(self, above, below, r, limit):
        a, b = sum(above) / len(above), sum(below) / len(below)
        parts = [(spread(g) / math.sqrt(len(g)), len(g) - 1) for g in (above, below)]
        u, _, k, U = expanded([*parts, (r / ROOT12, None), (r / ROOT12, None)])
        got = ask(
            "controls.repeatability", from_above_deg=above, from_below_deg=below, limit_deg=limit,
            resolution_deg=r,
        )  # fmt: skip
        want = {"hysteresis_deg": a - b, "U_deg": U, "neutral_deg": (a + b) / 2}
        self.agrees(got, want | ({"k": k} if u else {}), floor=1e-7)
        self.assertEqual(got["verdict"], guarded(a - b, U, -limit, limit))


limits = st.tuples(st.integers(30, 40), st.integers(0, 6)).map(lambda x: (x[0], x[0] + x[1]))


class Sources(Agreeing, TestCase):
    @given(
        st.lists(limits, min_size=2, max_size=4),
        st.lists(st.integers(1, 6), max_size=6),
        st.floats(28, 48),
        st.floats(0, 1),
    )
    def test_how_ranges_lie_to_each_other(self, ranges, widths, y, U):
        got = ask(
            "controls.sources",
            ranges=[{"source": f"s{i}", "lo": a, "hi": b} for i, (a, b) in enumerate(ranges)],
            other_widths=widths, y=y, U=U,
        )  # fmt: skip
        low, high = max(a for a, _ in ranges), min(b for _, b in ranges)
        if len(set(ranges)) == 1:
            relation = "same"
        elif low > high:
            relation = "apart"
        elif low == high:
            relation = "touch"
        else:
            relation = "inside" if (low, high) in ranges else "overlap"
        words = [guarded(y, U, a, b) for a, b in ranges]
        self.agrees(
            got,
            {
                "relation": relation,
                "common": None if low > high else [low, high],
                "gap": max(0, low - high),
                "verdicts": words,
                "verdict": words[0] if len(set(words)) == 1 else "conflict open",
            },
        )
        if len(widths) < 4:
            self.assertNotIn("median_width", got)
            return
        ordered = sorted(widths)
        n = len(ordered)
        median = (ordered[(n - 1) // 2] + ordered[n // 2]) / 2
        ratios = [(b - a) / median for a, b in ranges]
        self.agrees(got, {"median_width": float(median), "width_ratio": ratios})
        self.assertEqual(got["implausible"], [f"s{i}" for i, r in enumerate(ratios) if r > 3])

    def test_a_decision_names_the_word_and_needs_its_reason(self):
        ranges = [{"source": "a", "lo": 35, "hi": 37}, {"source": "b", "lo": 38, "hi": 40}]
        same = {"ranges": ranges, "y": 36.2, "U": 0.3}
        for chosen, word in (("a", "in"), ("b", "out")):
            decision = {"source": chosen, "reason": "asked the maker"}
            self.assertEqual(ask("controls.sources", **same, decision=decision)["verdict"], word)
        for bad in ({"source": "c", "reason": "x"}, {"source": "a", "reason": "  "}):
            self.assertIsNotNone(field_refused("controls.sources", **same, decision=bad))
        self.refuses("factor", "controls.sources", ranges=ranges, factor=1)
        wrong = [ranges[0], {"source": "b", "lo": 40, "hi": 38}]
        self.refuses("ranges.1", "controls.sources", ranges=wrong)
