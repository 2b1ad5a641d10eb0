"""The pages of documents, directives and reach, a second time."""

import calendar
import itertools
from datetime import date, timedelta
from unittest import TestCase

from hypothesis import assume
from hypothesis import strategies as st

from core.tests.pages.asking import Agreeing, ask, field_refused, given, refusal

statement = st.tuples(st.integers(0, 8), st.integers(0, 4), st.sampled_from(["mm", "in"]))


class Documents(Agreeing, TestCase):
    @given(st.lists(statement, min_size=2, max_size=3))
    def test_every_pair_of_statements(self, listed):
        """Limits on a grid of 1 mm; where units differ, half the sum of the resolutions counts."""
        asked = [
            {
                "source": f"s{n}", "kind": "range", "lo": lo / 1e3, "hi": (lo + more) / 1e3,
                "unit": unit, "resolution": 1e-4,
            }
            for n, (lo, more, unit) in enumerate(listed)
        ]  # fmt: skip
        got = ask("signoff.compare_sources", statements=asked)["value"]
        pairs = list(itertools.combinations(range(len(listed)), 2))
        self.assertEqual(len(got), len(pairs))
        for (i, j), pair in zip(pairs, got, strict=True):
            (a, am, _), (b, bm, _) = listed[i], listed[j]
            low, high = max(a, b), min(a + am, b + bm)
            if (a, am) == (b, bm):
                want = "agree"
            elif low > high:
                want = "disjoint"
            elif (low, high) in ((a, a + am), (b, b + bm)):
                want = "narrower"
            else:
                want = "overlap"
            self.assertEqual(pair["result"], want, (listed[i], listed[j]))
            if want != "disjoint":
                self.same(pair["both"], [low / 1e3, high / 1e3], floor=1e-9)

    def test_counts_and_refusals(self):
        def count(n, source="a"):
            return {"source": source, "kind": "count", "lo": n, "hi": n}

        for a, b, want in ((14, 14, "agree"), (14, 16, "conflict")):
            got = ask("signoff.compare_sources", statements=[count(a), count(b, "b")])["value"]
            self.assertEqual(got[0]["result"], want)
        turned = {"source": "c", "kind": "range", "lo": 2, "hi": 1, "unit": "mm", "resolution": 0}
        for listed in ([count(1)], [count(1), turned], [turned, turned]):
            self.assertIsNotNone(field_refused("signoff.compare_sources", statements=listed))


class Directives(Agreeing, TestCase):
    TODAY = date(2027, 3, 1)

    @staticmethod
    def months_on(day, months):
        year, month = divmod(day.month - 1 + months, 12)
        year, month = day.year + year, month + 1
        return date(year, month, min(day.day, calendar.monthrange(year, month)[1]))

    @given(
        st.integers(0, 120), st.integers(-500, 200), st.none() | st.integers(1, 100),
        st.none() | st.integers(1, 24), st.integers(0, 20), st.integers(0, 60), st.integers(0, 200),
    )  # fmt: skip
    def test_when_it_is_due_again(self, at, days, every, months, warn_h, warn_d, hours):
        done = self.TODAY + timedelta(days=days)
        assume(done <= self.TODAY and at <= hours)
        interval = {}
        if every:
            interval["hours"] = every
        if months:
            interval["months"] = months
        d = {
            "applies": [{"model": "Fenlark"}], "warn_hours": warn_h, "warn_days": warn_d,
            "done": {"hours": at, "date": done.isoformat()},
        }  # fmt: skip
        if interval:
            d["interval"] = interval
        given_ = {
            "d": d, "aircraft": {"model": "Fenlark"}, "today": self.TODAY.isoformat(),
            "hours": hours,
        }  # fmt: skip
        got = ask("signoff.directive", **given_)
        due_h = None if not every else at + every
        due_d = None if not months else self.months_on(done, months)
        if not interval:
            self.assertEqual(got["state"], "complied")
            return
        left_h = None if due_h is None else due_h - hours
        left_d = None if due_d is None else (due_d - self.TODAY).days
        over = (left_h is not None and left_h < 0) or (left_d is not None and left_d < 0)
        soon = (left_h is not None and left_h <= warn_h) or (
            left_d is not None and left_d <= warn_d
        )
        state = "overdue" if over else "due soon" if soon else "complied until due"
        self.assertEqual((got["applies"], got["state"]), ("yes", state))
        if left_h is not None:
            self.agrees(got, {"due_hours": due_h, "left_hours": left_h})
        if left_d is not None:
            self.agrees(got, {"due_date": due_d.isoformat(), "left_days": left_d})

    @given(
        st.sampled_from(["Fenlark", "Moorhen"]), st.none() | st.integers(1, 100),
        st.none() | st.sampled_from(["P-30", "Q"]),
    )  # fmt: skip
    def test_whom_it_concerns(self, model, serial, pump):
        """A model with a range of serials, or a part whatever the model."""
        aircraft = {"model": model}
        if serial is not None:
            aircraft["serial"] = serial
        if pump is not None:
            aircraft["pump"] = pump
        d = {
            "applies": [{"model": "Fenlark", "serial": [12, 88]}, {"pump": "P-30"}],
            "first": {"hours": 500},
        }  # fmt: skip
        first = False if model != "Fenlark" else None if serial is None else 12 <= serial <= 88
        second = None if pump is None else pump == "P-30"
        rows = (first, second)
        want = "yes" if True in rows else "not known" if None in rows else "no"
        got = ask(
            "signoff.directive", d=d, aircraft=aircraft, today=self.TODAY.isoformat(), hours=10
        )  # fmt: skip
        self.assertEqual(got["applies"], want)
        self.assertEqual(got["state"] == "does not apply", want == "no")

    def test_a_misspelt_limit_is_not_passed_over(self):
        base = {"applies": [{"model": "Fenlark"}], "first": {"hours": 5}}
        rest = {"aircraft": {"model": "Fenlark"}, "today": "2027-03-01", "hours": 1}
        for change in (
            {"frist": {"hours": 3}}, {"first": {"hour": 3}}, {"interval": {"month": 3}},
            {"done": {"at": 3}}, {"warn": 3}, {"first": {}}, {"first": None},
            {"deviation": {"approved_by": "maker"}},
        ):  # fmt: skip
            with self.subTest(change=change):
                found = refusal("signoff.directive", d=base | change, **rest)
                self.assertIsNotNone(found)
                self.assertEqual(found[0].partition(".")[0], "d")


class Reaching(Agreeing, TestCase):
    """The arm through skin and one inner opening, by trying many points of both."""

    BAYS = (
        {"id": "aft", "lo": [0, 0, 0], "hi": [2, 1, 1]},
        {"id": "cone", "lo": [2, 0, 0], "hi": [4, 1, 1]},
    )

    @staticmethod
    def nearest(point, lo, hi):
        gaps = [max(a - p, 0, p - b) for p, a, b in zip(point, lo, hi, strict=True)]
        return sum(g * g for g in gaps) ** 0.5

    @given(
        st.tuples(st.floats(0.05, 1.95), st.floats(0.05, 0.95), st.floats(0.05, 0.95)),
        st.floats(0.05, 1.2), st.floats(0.05, 0.3), st.booleans(),
        st.sampled_from(["permanent", "removable"]),
    )  # fmt: skip
    def test_through_one_opening(self, point, arm, width, is_open, kind):
        opening = {
            "id": "lid", "between": ["outside", "aft"], "lo": [0.5, 0.2, 1], "hi": [0.9, 0.6, 1],
            "width": 0.2, "closure": kind, "open": is_open,
        }  # fmt: skip
        got = ask(
            "clearance.reach", items=[{"id": "x", "point": point}], bays=self.BAYS,
            openings=[opening], arm=arm, arm_width=width,
        )["x"]  # fmt: skip
        far = self.nearest(point, opening["lo"], opening["hi"])
        assume(abs(far - arm) > 1e-6 and abs(width - 0.2) > 1e-6)
        if far > arm or width > 0.2 or (kind == "permanent" and not is_open):
            want = "never"
        else:
            want = "now" if is_open else "by opening"
        self.assertEqual(got["status"], want, (far, arm, width))
        # Closing it for good loses what it gave.
        if is_open:
            after = ask(
                "clearance.reach", items=[{"id": "x", "point": point}], bays=self.BAYS,
                openings=[opening | {"closure": "permanent"}], arm=arm, arm_width=width,
                closing=["lid"],
            )["x"]  # fmt: skip
            self.assertEqual(after["status"], "lost" if want == "now" else "never")

    @given(st.tuples(st.floats(2.05, 3.0), st.floats(0.05, 0.95), st.floats(0.05, 0.95)))
    def test_through_two_openings_the_shortest_way(self, point):
        lid = {
            "id": "lid", "between": ["outside", "aft"], "lo": [1.2, 0.3, 1], "hi": [1.8, 0.7, 1],
            "width": 0.4, "closure": "removable", "open": True,
        }  # fmt: skip
        hole = {
            "id": "hole", "between": ["aft", "cone"], "lo": [2, 0.4, 0.4], "hi": [2, 0.6, 0.6],
            "width": 0.2,
        }  # fmt: skip
        got = ask(
            "clearance.reach", items=[{"id": "x", "point": point}], bays=self.BAYS,
            openings=[lid, hole], arm=3.0, arm_width=0.1,
        )["x"]  # fmt: skip
        n = 40
        best = min(
            self.nearest((2, y, z), lid["lo"], lid["hi"])
            + ((point[0] - 2) ** 2 + (point[1] - y) ** 2 + (point[2] - z) ** 2) ** 0.5
            for y in (0.4 + 0.2 * i / n for i in range(n + 1))
            for z in (0.4 + 0.2 * i / n for i in range(n + 1))
        )
        self.assertEqual(got["status"], "now")
        self.assertLessEqual(got["reach"], best + 1e-9)
        self.assertAlmostEqual(got["reach"], best, 3)

    @given(
        st.lists(
            st.tuples(st.integers(0, 40), st.integers(-3, 13), st.integers(-3, 13)),
            min_size=2, max_size=4, unique=True,
        )
    )  # fmt: skip
    def test_where_a_run_lies_by_walking_along_it(self, points):
        pts = [[x / 10, y / 10, z / 10] for x, y, z in points]
        got = ask("clearance.run_in_bays", pts=pts, bays=self.BAYS)
        legs = list(itertools.pairwise(pts))
        lengths = [sum((b - a) ** 2 for a, b in zip(p, q, strict=True)) ** 0.5 for p, q in legs]
        walked, n, at = {b["id"]: 0.0 for b in self.BAYS}, 400, 0.0
        for (p, q), length in zip(legs, lengths, strict=True):
            for i in range(n):
                s = (i + 0.5) / n
                here = [a + (b - a) * s for a, b in zip(p, q, strict=True)]
                for bay in self.BAYS:
                    if self.nearest(here, bay["lo"], bay["hi"]) <= 1e-12:
                        walked[bay["id"]] += length / n
            at += length
        for bay, way in walked.items():
            told = sum(b - a for a, b in got.get(bay, []))
            self.assertAlmostEqual(told, way, delta=at * 3 / n + 1e-9)
