"""Bays as boxes, what lies in them, what an arm reaches, templates, ranges, and closing gates."""

import itertools
import math
import random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from core.aircraft.bays import PARTS, Limits, checked_limits, gaps, overlaps
from core.aircraft.template import ENGINES, GEARS, TAILS, WINGS, Described, airframe
from core.basis.quantities import parse, parse_range
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.clearance.reach import Item, Opening, reach
from core.runs.bays import OUTSIDE, Box, bays_of, run_in_bays
from core.signoff.closing import Concern, Lot, closing_gate, not_described
from core.signoff.documents import questioned
from core.signoff.gate import Override

FOOTWELL = Box("footwell", (1.5, -0.55, 0.0), (2.05, 0.55, 1.0))
CABIN = Box("cabin floor", (2.05, -0.55, 0.0), (3.05, 0.55, 0.45))
BAGGAGE = Box("baggage", (3.05, -0.5, 0.0), (3.75, 0.5, 0.9))
AFT = Box("aft", (3.75, -0.4, 0.1), (5.35, 0.4, 0.9))
CONE = Box("cone", (5.35, -0.3, 0.2), (6.2, 0.3, 0.8))
RUN = [(1.5, 0.2, 0.3), (1.9, 0.2, 0.3), (2.1, 0.35, 0.3), (2.1, 0.35, 0.62)]


def opening(name, a, b, lo, hi, width, closure=None, is_open=True):
    return Opening(name, (a, b), Box(name, lo, hi), width, closure, is_open)


OPENINGS = [
    opening(
        "aft top skin", "outside", "aft", (3.75, -0.35, 0.9), (5.35, 0.35, 0.9), 0.7, "permanent"
    ),
    opening(
        "left hatch",
        "outside",
        "aft",
        (4.12, -0.4, 0.42),
        (4.28, -0.4, 0.58),
        0.16,
        "removable",
        False,
    ),
    opening("tail fairing", "outside", "cone", (6.2, -0.2, 0.3), (6.2, 0.2, 0.7), 0.4, "removable"),
    opening("hole 5350", "aft", "cone", (5.35, -0.09, 0.41), (5.35, 0.09, 0.59), 0.18),
    opening("hole 3750", "aft", "baggage", (3.75, -0.045, 0.355), (3.75, 0.045, 0.445), 0.09),
]
BAYS = [BAGGAGE, AFT, CONE]


class Behind(TestCase):
    def test_the_page_s_run_leaves_the_footwell_at_0_5875(self):
        found = run_in_bays(RUN, [FOOTWELL, CABIN])
        self.assertAlmostEqual(found["footwell"][0][1], 0.5875)
        self.assertAlmostEqual(found["cabin floor"][0][1], 0.8)
        self.assertAlmostEqual(found[OUTSIDE][0][0], 0.8)

    def test_what_lies_on_a_shared_wall_belongs_to_both(self):
        self.assertEqual(bays_of((2.05, 0.0, 0.2), [FOOTWELL, CABIN]), ("footwell", "cabin floor"))
        self.assertEqual(bays_of((9.0, 0.0, 0.2), [FOOTWELL, CABIN]), ())

    @given(st.lists(st.tuples(*[st.floats(-1, 4)] * 3), min_size=2, max_size=6))
    def test_stretches_in_and_outside_of_a_bay_make_up_the_run(self, points):
        total = sum(math.dist(a, b) for a, b in itertools.pairwise(points))
        found = run_in_bays(points, [FOOTWELL])
        covered = sum(b - a for stretches in found.values() for a, b in stretches)
        self.assertAlmostEqual(covered, total, 6)

    def test_a_box_inside_out_is_refused(self):
        with self.assertRaises(Refused):
            Box("x", (1, 0, 0), (0, 1, 1))


class Reaching(TestCase):
    def statuses(self, closing):
        items = [
            Item("bellcrank", (5.1, 0, 0.42)),
            Item("beacon", (4.55, 0.05, 0.85)),
            Item("compass", (4.3, -0.2, 0.6)),
            Item("cone bolt", (5.5, 0, 0.5)),
            Item("cone plug", (5.6, 0.1, 0.45)),
            Item("battery", (3.4, 0.2, 0.3)),
        ]
        return reach(items, BAYS, OPENINGS, closing, 0.65, 0.12)

    def test_the_page_s_table_once_the_aft_top_skin_is_closed(self):
        found = self.statuses(["aft top skin"])
        for name, status, length in (
            ("bellcrank", "lost", 0.912359578),
            ("beacon", "by opening", 0.590169467),
            ("compass", "by opening", 0.201990099),
            ("cone bolt", "lost", 0.7),
            ("cone plug", "now", 0.6),
            ("battery", "never", None),
        ):
            with self.subTest(item=name):
                self.assertEqual(found[name].status, status)
                if length is None:
                    self.assertIsNone(found[name].reach)
                else:
                    self.assertAlmostEqual(found[name].reach, length, 8)
        self.assertEqual(found["beacon"].path, ("left hatch",))

    def test_before_closing_everything_but_the_battery_is_in_reach(self):
        found = self.statuses([])
        self.assertEqual({k for k, r in found.items() if r.status != "now"}, {"battery"})

    @settings(max_examples=25)
    @given(st.integers(0, 10_000))
    def test_the_way_through_two_openings_is_the_least_of_a_fine_sampling(self, seed):
        r = random.Random(seed)
        item = (r.uniform(5.4, 6.1), r.uniform(-0.25, 0.25), r.uniform(0.25, 0.75))
        top, hole = OPENINGS[0], OPENINGS[3]
        found = reach([Item("i", item)], BAYS, [top, hole], [], 5.0, 0.1)["i"].reach
        n = 60
        best = min(
            math.dist(b, item)
            + math.dist(
                b,
                [min(max(x, lo), hi) for x, lo, hi in zip(b, top.box.lo, top.box.hi, strict=True)],
            )
            for b in (
                (5.35, -0.09 + 0.18 * i / n, 0.41 + 0.18 * j / n)
                for i in range(n + 1)
                for j in range(n + 1)
            )
        )
        self.assertLessEqual(found, best + 1e-9)
        self.assertGreater(found, best - 2e-4)

    def test_two_hands_need_two_openings_and_some_may_be_ruled_out(self):
        one = Item("x", (4.3, -0.2, 0.6), two_hands=True)
        other = Item("y", (4.3, -0.2, 0.6), not_through=("left hatch",))
        found = reach([one, other], BAYS, OPENINGS, ["aft top skin"], 0.65, 0.12)
        self.assertEqual((found["x"].status, found["y"].status), ("lost", "lost"))

    def test_unknown_closures_and_arms_of_nothing_are_refused(self):
        for field, args in (
            ("closing", (["nowhere"], 0.6, 0.1)),
            ("closing", (["hole 5350"], 0.6, 0.1)),
            ("arm", ([], 0, 0.1)),
        ):
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                reach([], BAYS, OPENINGS, *args)
            self.assertEqual(refused.exception.field, field)


class Airframes(TestCase):
    def test_every_described_aircraft_has_bays_that_do_not_overlap_and_closures_over_them(self):
        for engine, wing, gear, tail in itertools.product(ENGINES, WINGS, GEARS, TAILS):
            with self.subTest(engine=engine, wing=wing, gear=gear, tail=tail):
                frame = airframe(Described(engine, wing, gear, tail=tail))
                bays = {b.slug: b.limits for b in frame.bays}
                self.assertEqual(overlaps(bays), ())
                self.assertEqual(gaps({b.slug: (b.part, b.limits) for b in frame.bays}), ())
                halves = [b for b in frame.bays if b.part in ("left tail", "right tail")]
                self.assertEqual(len(halves), 0 if tail == "none aft" else 2)
                closed = {b for c in frame.closures for b in c.bays}
                self.assertEqual(closed, set(bays))
                for b in frame.bays:
                    checked_limits([b.limits.x, b.limits.y, b.limits.z])

    def test_left_and_right_mirror_each_other(self):
        frame = airframe(Described("tractor", "high", "tailwheel", 5.2, 8.4, "on the fin"))
        bays = {b.slug: b.limits for b in frame.bays}
        self.assertEqual(bays["left-tailplane"].z[0], bays["fin"].z[1])
        for part in ("root", "mid", "tip", "tailplane"):
            left, right = bays[f"left-{part}"], bays[f"right-{part}"]
            self.assertEqual(left.y, (-right.y[1], -right.y[0]))
            self.assertEqual((left.x, left.z), (right.x, right.z))

    def test_inverted_thin_or_enormous_bays_are_refused(self):
        good = (0.0, 1.0)
        for bad in ((1.0, 0.5), (0.0, 0.001), (0.0, 4000.0), (math.nan, 1.0)):
            with self.assertRaises(Refused):
                checked_limits([bad, good, good])
        self.assertEqual(
            overlaps({"a": Limits(good, good, good), "b": Limits((0.9, 2), good, good)}),
            (("a", "b"),),
        )
        with self.assertRaises(Refused):
            airframe(Described("steam", "low", "tailwheel"))


cuts = st.lists(
    st.tuples(st.integers(0, 60), st.integers(1, 12), st.sampled_from(PARTS)),
    min_size=1,
    max_size=9,
)


class Gaps(TestCase):
    @given(cuts)
    def test_every_centimetre_between_a_part_s_ends_is_in_a_bay_or_in_a_gap_that_is_told(
        self, rows
    ):
        """Brute force: each centimetre of each part looked at by itself."""
        wide, bays = (0.0, 9.0), {}
        for i, (low, long, part) in enumerate(rows):
            span = (low / 100, (low + long) / 100)
            axis = "y" if "wing" in part or "tail" in part else "z" if part == "fin" else "x"
            ranges = {a: span if a == axis else wide for a in "xyz"}
            bays[str(i)] = (part, Limits(**ranges))
        told = gaps(bays)
        for part in PARTS:
            mine = [(low, low + long) for low, long, of in rows if of == part]
            if not mine:
                continue
            first, last = min(a for a, _ in mine), max(b for _, b in mine)
            bare = sum(not any(a <= cm < b for a, b in mine) for cm in range(first, last))
            said = sum(m for before, _, m in told if bays[before][0] == part)
            self.assertAlmostEqual(bare / 100, said)
        for before, after, m in told:
            self.assertEqual(bays[before][0], bays[after][0])
            self.assertGreater(m, 0.001)

    def test_what_is_less_than_a_millimetre_apart_touches(self):
        bay = lambda low, high: ("fuselage", Limits((low, high), (0.0, 1.0), (0.0, 1.0)))
        self.assertEqual(gaps({"a": bay(0.0, 1.0), "b": bay(1.0009, 2.0)}), ())
        ((before, after, m),) = gaps({"b": bay(1.04, 2.0), "a": bay(0.0, 1.0)})
        self.assertEqual((before, after), ("a", "b"))
        self.assertAlmostEqual(m, 0.04)


class Ranges(TestCase):
    def test_ranges_as_they_are_printed(self):
        for text, of, unit, lo, hi in (
            ("50 to 70 in-lb", "torque", "Nm", 5.649241, 7.908938),
            ("50-70 inlb", "torque", "Nm", 5.649241, 7.908938),
            ("4 Nm to 6 Nm", "torque", "Nm", 4.0, 6.0),
            ("26.9 .. 27.1 mm", "length", "mm", 0.0269, 0.0271),
            ("1-1/16 to 1-1/8 in", "length", "mm", 0.0269875, 0.028575),
            ("35 - 37", "angle", "deg", math.radians(35), math.radians(37)),
        ):
            with self.subTest(text=text):
                r = parse_range(text, of, unit)
                self.assertAlmostEqual(r.lo, lo, 6)
                self.assertAlmostEqual(r.hi, hi, 6)
        self.assertAlmostEqual(parse_range("1.06 to 1.07 in", "length", "mm").resolution, 0.000254)

    def test_one_number_reversed_limits_and_units_that_are_no_torque_are_refused(self):
        for text in ("50", "70 to 50 in-lb", "50 to 70 mm", "50 to 70 lb", "", "a to b"):
            with self.subTest(text=text), self.assertRaises(Refused):
                parse_range(text, "torque", "Nm")

    def test_torque_is_understood_however_its_unit_is_written(self):
        for text in ("42 inlb", "42 in-lb", "42 in·lbf", "42 in lb", "3.5 ftlb", "42 IN-LB"):
            with self.subTest(text=text):
                self.assertAlmostEqual(parse(text, "torque", "Nm").si, 42 * 0.1129848290276167, 9)
        self.assertAlmostEqual(parse("4.7 N·m", "torque", "inlb").si, 4.7)

    def test_a_tolerance_much_wider_than_its_neighbours_is_questioned(self):
        widths = {"up": 3.0, "down": 3.0, "tab": 2.0, "flap": 20.0}
        self.assertEqual([w.name for w in questioned(widths)], ["flap"])
        self.assertEqual(questioned({"a": 1.0, "b": 30.0}), ())


class Gates(TestCase):
    def concern(self, name, bay, state="final", step="joint", **more):
        return Concern(name, name, (bay,), step, state, Verdict.IN, **more)

    def lot(self, *more):
        count = Concern("c", "count", ("aft",), "count", "in", Verdict.IN, closure="skin")
        return Lot([count, *more])

    def test_only_what_lies_behind_a_closure_blocks_it(self):
        lot = self.lot(
            self.concern("here", "aft", "not safetied"),
            self.concern("there", "nose", "not torqued"),
        )
        gate, items = closing_gate("skin", "permanent", "final", ["aft"], lot)
        self.assertEqual([b.id for b in gate.blockers], ["here"])
        self.assertEqual(len(items), 2)

    def test_a_bay_that_a_capability_knows_nothing_of_blocks_until_someone_says_none(self):
        for known, state in (({"aft"}, "ready"), (set(), "blocked")):
            missing = [
                self.concern(c.concern, c.bays[0], c.word, c.step)
                for c in not_described(["aft"], {"joints": known})
            ]
            gate, _ = closing_gate("skin", "permanent", "final", ["aft"], self.lot(*missing))
            self.assertEqual(gate.state, state)

    def test_an_override_holds_until_the_thing_changes_state_or_hands(self):
        left = self.concern("pin", "aft", "not safetied", owner="Ansel")
        override = Override("Ansel", "agreed with the counselor", (left.item.hash,))
        for state, owner, wanted in (
            ("not safetied", "Ansel", "overridden"),
            ("not torqued", "Ansel", "blocked"),
            ("not safetied", "Ines", "blocked"),
        ):
            now = self.concern("pin", "aft", state, owner=owner)
            gate, _ = closing_gate("skin", "permanent", "final", ["aft"], self.lot(now), [override])
            self.assertEqual(gate.state, wanted)

    def test_a_gate_without_a_count_is_refused(self):
        with self.assertRaises(Refused):
            closing_gate("skin", "permanent", "final", ["aft"], Lot([]))
