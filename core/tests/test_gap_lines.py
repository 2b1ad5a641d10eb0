"""Lines of the entry bar about a gap: two things by a few letters each, and a figure."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.entry.completion import complete
from core.entry.gaps import GapMeasured, plain
from core.entry.grammar import understand
from core.entry.names import Ambiguous, Names

PAIRS = (
    ("Panel bundle", "Selector to gascolator", "Panel bundle W30 W31", "Selector to gascolator"),
    ("Aft bundle", "Elevator: mid rod", "Aft bundle W10", "Elevator: mid rod"),
    ("Aft bundle", "Elevator: aft rod", "Aft bundle W10", "Elevator: aft rod"),
)
NAMES = Names(gaps=PAIRS)


class Lines(TestCase):
    def test_a_wire_stands_for_its_bundle_and_u_may_be_left_out(self):
        self.assertEqual(
            understand("gap w31 gascolator 18 mm", NAMES),
            GapMeasured("Panel bundle", "Selector to gascolator", "18 mm"),
        )
        found = understand("GAP selector panel 0.7 in ± 0.5 mm", NAMES)
        self.assertEqual((found.gap, found.u), ("0.7 in", "0.5 mm"))
        self.assertEqual(understand("gap selector panel 12,5 +- 0,3", NAMES).u, "0,3")

    def test_what_could_be_two_is_asked_and_its_options_mean_one_each(self):
        with self.assertRaises(Ambiguous) as asked:
            understand("gap w10 elevator 12 mm ± 1 mm", NAMES)
        self.assertEqual(len(asked.exception.options), 2)
        said = {understand(line, NAMES).b for line in asked.exception.options}
        self.assertEqual(said, {"Elevator: mid rod", "Elevator: aft rod"})

    def test_what_is_no_pair_no_gap_or_no_length_is_refused(self):
        for line in ("gap panel 18 mm", "gap panel nothing 18 mm", "gap panel selector", "gap",
                     "gap panel selector 18 kg", "gap panel selector 18 mm ± 1 kg",
                     "gap w10 gascolator 5 mm"):  # fmt: skip
            with self.subTest(line), self.assertRaises(Refused) as refused:
                understand(line, NAMES)
            self.assertEqual(refused.exception.field, "entry")
        with self.assertRaisesRegex(Refused, "nothing comes near"):
            understand("gap a b 1 mm", Names())

    @given(st.sampled_from(PAIRS), st.booleans())
    def test_full_names_mean_their_pair_in_either_order(self, pair, turned):
        a, b = (plain(x) for x in (pair[:2][::-1] if turned else pair[:2]))
        found = understand(f"gap {a} {b} 3.5 mm", NAMES)
        self.assertEqual({found.a, found.b}, set(pair[:2]))

    def test_completed_from_what_comes_near(self):
        self.assertIn("gap panel bundle selector to gascolator ", complete("gap pan", NAMES))
        self.assertIn("gap ", complete("ga", NAMES))
