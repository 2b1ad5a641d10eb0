"""Worksheets of clearances: lines that cross, and fittings that travel."""

from datetime import date
from unittest import TestCase

import core.clearance.sheets  # noqa: F401
from core.basis.refused import Refused
from core.worksheets.kinds import Asked, kind_of, work
from core.worksheets.reading import read

CROSSES = {
    "a_from": "2000; -400; 300", "a_to": "2000; 400; 320", "a_od": "3.2", "a_along": "1",
    "b_from": "1700; -100; 312", "b_to": "2300; 100; 340", "b_od": "9.5", "lo": "-40", "hi": "50",
    "rule": "10", "margin": "20", "a_slack": "1", "b_slack": "0",
}  # fmt: skip
TURNBUCKLE = {
    "s": "1250", "length": "110", "plus": "62", "minus": "60", "extra": "4", "U": "1", "rule": "10",
    "stations": [{"id": "fairlead", "from": "1360", "to": "1372"},
                 {"id": "bulkhead", "from": "1050", "to": "1060"},
                 {"id": "pulley", "from": "1600", "to": "1660"}],
}  # fmt: skip


def worked(kind, **typed):
    of = kind_of(kind)
    values, _ = read(of, typed, "mm", lambda *_: None)
    return work(of, Asked("Sheet", values, date(2026, 11, 1), "Manual, page 3"))


class Crossings(TestCase):
    def test_slack_they_come_nearer_and_the_sleeve_covers_the_rub(self):
        taut = worked("crossing", **CROSSES | {"a_slack": "0"})
        slack = worked("crossing", **CROSSES)
        self.assertIn("Taut", taut.checks[0].said)
        self.assertEqual(slack.checks[0].verdict, "out")
        (name, said), *_ = slack.facts
        self.assertEqual(name, "A sleeve on a would be")
        self.assertRegex(said, r"\d+\.\d mm long, from \d+\.\d mm to \d+\.\d mm")

    def test_clear_says_nothing_while_nobody_said_how_slack_it_gets(self):
        far = CROSSES | {"b_from": "1700; -100; 512", "b_to": "2300; 100; 540"}
        clear = worked("crossing", **far)
        self.assertEqual(clear.checks[0].verdict, "in")
        self.assertEqual(clear.facts, ())
        unsaid = worked("crossing", **{k: v for k, v in far.items() if k != "a_slack"})
        self.assertEqual(unsaid.checks[0].verdict, "not measured")
        self.assertIn("how slack a can get", unsaid.checks[0].said)

    def test_a_sleeve_that_would_meet_an_end_is_out(self):
        checks = worked("crossing", **CROSSES | {"margin": "500"}).checks
        self.assertEqual({c.verdict for c in checks if c.key.startswith("sleeve")}, {"out"})

    def test_what_the_rule_refuses_is_refused(self):
        for field, more in (("lo", {"lo": "10"}), ("a_od", {"a_od": "-1"}), ("b_slack", {"b_slack": "-1"}),
                            ("a_to", {"a_to": CROSSES["a_from"]})):  # fmt: skip
            with self.subTest(field), self.assertRaises(Refused) as refused:
                worked("crossing", **CROSSES | more)
            self.assertEqual(refused.exception.field, field)
        with self.assertRaises(Refused) as refused:
            worked("crossing", **{k: v for k, v in CROSSES.items() if k != "rule"})
        self.assertEqual(refused.exception.field, "rule")


class Fittings(TestCase):
    def test_the_page_s_turnbuckle_enters_its_fairlead_and_nothing_else(self):
        found = {c.key: c for c in worked("travelling fitting", **TURNBUCKLE).checks}
        self.assertEqual(found["at fairlead"].verdict, "out")
        self.assertIn("runs into it by 11.0 mm at the plus stop", found["at fairlead"].said)
        self.assertEqual(found["at bulkhead"].verdict, "in")
        self.assertIn("71.0 mm left at the minus stop", found["at bulkhead"].said)
        self.assertEqual(found["at pulley"].verdict, "in")

    def test_without_its_distance_or_how_sure_nothing_is_in(self):
        for key, words in (("rule", "how near it may come"), ("U", "where the fitting")):
            typed = {k: v for k, v in TURNBUCKLE.items() if k != key}
            found = {c.key: c for c in worked("travelling fitting", **typed).checks}
            self.assertEqual(found["at pulley"].verdict, "not measured")
            self.assertIn(words, found["at pulley"].said)
            self.assertEqual(found["at fairlead"].verdict, "out")
