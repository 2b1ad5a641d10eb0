"""Faults that are sown, and which tests are asked about each."""

import ast
import tempfile
from pathlib import Path
from unittest import TestCase

from testkit.faults import ROOT, Fault, faults, field
from testkit.reach import LEFT_OUT, LONG_ENOUGH, Reach, digest, file_of, modules
from testkit.sowing import ASIDE, FELL


class Sowing(TestCase):
    SOURCE = '''"""Words."""
LIMIT = 3
SHARE = 0.5
FINE = True


def f(a, b):
    tell(a)
    if a < b and not b:
        return a + b if a in (1, 2) else -a
    return a == b or f"{a}" + "text"
'''

    def sown(self):
        return list(faults("core/a.py", self.SOURCE))

    def test_every_kind_of_fault_is_sown(self):
        kinds = {}
        for f in self.sown():
            kinds.setdefault(f.kind, []).append((f.was, f.now))
        self.assertIn(("a < b", "(a <= b)"), kinds["comparison"])
        self.assertIn(("a == b", "(a != b)"), kinds["comparison"])
        self.assertIn(("a in (1, 2)", "(a not in (1, 2))"), kinds["comparison"])
        self.assertIn(("a + b", "(a - b)"), kinds["sign"])
        self.assertIn(("-a", "(a)"), kinds["sign"])
        self.assertIn(("3", "4"), kinds["constant"])
        self.assertTrue(any(was == "0.5" for was, _ in kinds["constant"]))
        self.assertIn(("tell(a)", "None"), kinds["dropped call"])
        whole = {was for was, _ in kinds["inverted condition"]}
        self.assertIn("a < b and not b", whole)
        self.assertIn("a + b if a in (1, 2) else -a", whole)
        # Words are put together, not added; truth is no number.
        self.assertFalse(any('"text"' in was for was, _ in kinds["sign"]))
        self.assertFalse(any(was == "True" for was, _ in kinds["constant"]))

    def test_each_fault_changes_one_place_and_leaves_a_program(self):
        text = self.SOURCE.encode()
        for f in self.sown():
            changed = f.sown(text).decode()
            with self.subTest(fault=f.name):
                self.assertNotEqual(ast.dump(ast.parse(changed)), ast.dump(ast.parse(self.SOURCE)))
                self.assertEqual(text[f.begin : f.end].decode(), f.was)

    def test_with_an_allowance_for_rounding_the_comparison_is_turned_round(self):
        text = "SLACK = 1e-9\nif a - b < SLACK:\n    c = d <= e + 1e-12\nf = g > 0.5\n"
        sown = {(f.was, f.now) for f in faults("core/a.py", text)}
        self.assertIn(("a - b < SLACK", "(a - b > SLACK)"), sown)
        self.assertIn(("d <= e + 1e-12", "(d >= e + 1e-12)"), sown)
        self.assertIn(("g > 0.5", "(g >= 0.5)"), sown)
        self.assertTrue(any(was == "1e-9" and float(now) > 1e-3 for was, now in sown))

    def test_nothing_is_sown_where_it_says_nothing(self):
        for part in ("core", "server"):
            every = field(part)
            self.assertGreater(len(every), 1000)
            for f in every:
                self.assertTrue(f.file.startswith(part))
                self.assertNotIn("/tests/", f.file)
                self.assertNotIn("/migrations/", f.file)

    def test_what_is_set_aside_is_named_without_its_line(self):
        one = Fault("core/a.py", 3, range(3, 4), "sign", "a + b", "(a - b)", 0, 5)
        moved = Fault("core/a.py", 9, range(8, 10), "sign", "a + b", "(a - b)", 50, 55)
        self.assertEqual(one.name, moved.name)

    def test_a_fault_s_lines_are_those_of_its_statement_up_to_itself(self):
        text = "x = {\n    1: 2,\n    3: (\n        4.5\n    ),\n}\nif x == 7:\n    y(8)\n"
        lines = {f.was: f.lines for f in faults("core/a.py", text)}
        self.assertEqual(lines["2"], range(1, 3))
        self.assertEqual(lines["4.5"], range(1, 5))
        self.assertEqual(lines["x == 7"], range(7, 8))
        self.assertEqual(lines["y(8)"], range(8, 9))
        for f in faults("core/a.py", text):
            self.assertIn(f.line, f.lines)

    def test_what_is_set_aside_is_still_there_and_has_its_reason(self):
        known = {f.name for part in ("core", "server") for f in field(part)}
        for line in ASIDE.read_text().splitlines():
            name, _, why = line.rpartition(" | ")
            with self.subTest(fault=name):
                self.assertIn(name, known)
                self.assertGreater(len(why), 20)

    def test_the_test_that_fell_is_read_from_what_the_runner_says(self):
        said = "...\n====\nFAIL: test_a (core.tests.x.Y.test_a) [deflection=3]\n----\n"
        self.assertEqual(FELL.search(said).group(1), "test_a (core.tests.x.Y.test_a)")
        self.assertEqual(FELL.search("ERROR: setUpClass (a.B)\n").group(1), "setUpClass (a.B)")
        self.assertIsNone(FELL.search("Ran 3 tests\n\nOK\n"))


class Reached(TestCase):
    def fault(self, *lines):
        return Fault("core/a.py", lines[-1], range(lines[0], lines[-1] + 1), "sign", "", "", 0, 0)

    def reach(self):
        one = Reach()
        text = lambda m: digest([file_of("core.tests." + m)])
        one.add(
            "core.tests.test_entry",
            1.0,
            {"core/a.py": [1, 5], "core/b.py": [2]},
            text("test_entry"),
        )
        one.add("core.tests.test_laws", 60.0, {"core/a.py": [1, 5, 6, 7]}, text("test_laws"))
        one.add("core.tests.test_curve", 2.0, {"core/a.py": [1, 5, 6]}, text("test_curve"))
        return one

    def test_only_those_that_run_the_statement_are_asked_the_likeliest_for_its_time_first(self):
        reach = self.reach()
        short = lambda *lines: [m[16:] for m in reach.of(self.fault(*lines))]
        self.assertEqual(short(7), ["laws"])
        self.assertEqual(short(6, 7), ["curve", "laws"])
        self.assertEqual(short(5), ["curve", "entry", "laws"])
        self.assertEqual(short(4), [])

    def test_who_takes_long_is_not_asked_once_others_took_long_enough(self):
        reach = self.reach()
        reach.seconds["core.tests.test_curve"] = LONG_ENOUGH
        reach.seconds["core.tests.test_entry"] = LONG_ENOUGH
        self.assertEqual(len(reach.of(self.fault(5))), 2)

    def test_it_holds_as_long_as_sources_and_the_test_s_own_text_do(self):
        with tempfile.TemporaryDirectory() as folder:
            kept = Path(folder, "reach.json")
            first = self.reach()
            first.kept_in, first.sources = kept, "as they are"
            first.texts["core.tests.test_laws"] = "another"
            first.keep()
            again = Reach(kept, "as they are")
            again.read()
            self.assertTrue(again.knows("core.tests.test_entry"))
            self.assertFalse(again.knows("core.tests.test_laws"))
            self.assertEqual(again.ran, first.ran)
            changed = Reach(kept, "changed")
            changed.read()
            self.assertFalse(changed.knows("core.tests.test_entry"))

    def test_every_module_of_tests_is_asked_but_those_that_take_minutes(self):
        asked = modules("core") + modules("server")
        self.assertEqual(len(asked), len(set(asked)))
        every = {p for part in ("core", "server") for p in (ROOT / part).rglob("test_*.py")}
        left = {p for p in every if p.stem.endswith(LEFT_OUT)}
        self.assertEqual({file_of(m) for m in asked}, every - left)
        self.assertIn(
            "server.tests.test_lane_in_the_browser",
            {".".join(p.relative_to(ROOT).with_suffix("").parts) for p in left},
        )

    def test_a_digest_tells_any_change_and_passes_over_what_is_gone(self):
        with tempfile.TemporaryDirectory() as folder:
            a, b = Path(folder, "a"), Path(folder, "b")
            a.write_text("x")
            one = digest([a, b])
            a.write_text("y")
            self.assertNotEqual(digest([a, b]), one)
            self.assertEqual(digest([a, b]), digest([a]))
