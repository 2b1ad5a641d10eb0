"""The first power of a bus: what nobody said stands in its way, and one breaker at a time."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.tests.test_harness import LAMP, row, wire
from core.wiring.first_power import breaker_of, first_power, insulation_of, made_of
from core.wiring.harness import Harness, Row
from core.wiring.harness_checks import judged, what_is_out
from core.wiring.harness_entry import may_go_in, refuse, steps_allowed

DONE = ("run", "end_a", "end_b", "tested", "labelled")
GOOD = {"doing": "insulated", "measured_ohm": 60e6, "U_rel": 0.1}
LUGS, PULLED = {"doing": "polarity", "measured_V": 12.6}, {"doing": "pulled"}


def lamp(name: str = "Lamp", **more: Any) -> Row:
    said = LAMP | {"expected": "2", "insulation": "5 Mohm", "current": "2"} | more
    return replace(row("circuit", name, **said), log=(GOOD,))


def feed(name: str = "W1", circuit: str = "Lamp", at: str = "CB1.1", **more: Any) -> Row:
    said: dict[str, Any] = {"awg": "12", "length": "2 m", "from": at, "to": "P3.1", "done": DONE}
    found = wire(name, circuit, **said | more)
    test = {"awg": found.values.get("awg"), "length_m": found.values.get("length_m"),
            "measured_ohm": 0.0125, "U_ohm": 1e-4, "contacts_ohm_max": 0.004}  # fmt: skip
    return replace(found, test=test)


def board(**states: str) -> tuple[Row, ...]:
    return (
        row("connector", "CB1", contacts="terminal", pins="1-6 22 10",
            state=states.get("CB1", "covered")),
        row("connector", "P3", contacts="terminal", pins="1-6 22 10",
            state=states.get("P3", "mated")),
    )  # fmt: skip


def bus(*log: dict[str, Any], **more: Any) -> Row:
    return replace(row("bus", "Main", **{"alone": "0.5"} | more), log=log)


def tested(*rows: Row) -> Harness:
    """With every insulation test made of the wires that are there, after all that was done."""
    h = Harness(rows)
    of = lambda c: {"nr": 99, "of": made_of(h, c)}
    return Harness(tuple(
        replace(r, log=tuple(of(r) | e for e in r.log)) if r.kind == "circuit" else r for r in rows
    ))  # fmt: skip


def whole(*log: dict[str, Any], of: Any = None, rows: Any = None, **more: Any) -> Harness:
    rest = rows or (lamp(), feed())
    return tested(bus(*log, **more), *(of or board()), *rest)


def power(h: Harness) -> Any:
    b = h.of("bus")[0]
    return first_power(h, b, what_is_out(h))


def codes(h: Harness) -> list[str]:
    return [b.code for b in power(h).blockers]


def put(breaker: str, amps: float, u: float | None = 0.02) -> dict[str, Any]:
    return {"doing": "in", "breaker": breaker, "measured_A": amps} | (
        {} if u is None else {"U_A": u}
    )


READY = (LUGS, PULLED)


class Blocked(TestCase):
    def test_with_everything_said_and_done_nothing_stands_in_its_way(self) -> None:
        found = power(whole(*READY))
        self.assertEqual(found.blockers, ())
        self.assertEqual([s.breaker for s in found.steps], ["bus", "CB1.1"])
        self.assertEqual((found.now.breaker, found.done), ("bus", False))
        self.assertEqual([(s.low_A, s.high_A) for s in found.steps], [(0.3, 0.7), (1.6, 2.4)])
        self.assertAlmostEqual(found.steps[-1].total_A, 2.5)

    def test_each_thing_that_nobody_said_or_did_stands_in_its_way_by_its_name(self) -> None:
        unsaid = lambda *keys: lamp(**dict.fromkeys(keys, ""))
        for word, h in (
            ("battery_polarity", whole(PULLED)),
            ("battery_polarity", whole({"doing": "polarity", "measured_V": -12.6}, PULLED)),
            ("breaker_in", whole(LUGS)),
            ("expected", whole(*READY, alone="")),
            ("expected", whole(*READY, rows=(unsaid("expected"), feed()))),
            ("insulation", whole(*READY, rows=(unsaid("insulation"), feed()))),
            ("insulation", whole(*READY, rows=(replace(lamp(), log=()), feed()))),
            ("no_protection", whole(*READY, rows=(unsaid("protector", "protector_A"), feed()))),
            ("no_return", whole(*READY, rows=(unsaid("back", "structure"), feed()))),
            ("no_return", whole(*READY, rows=(lamp(back="wire", structure=""), feed()))),
            ("unmated_connector", whole(*READY, of=board(P3="open"))),
            ("unmated_connector", whole(*READY, of=board(P3=""))),
            ("not_labelled", whole(*READY, rows=(lamp(), feed(done=DONE[:-1])))),
            ("not_tested", whole(*READY, rows=(lamp(), feed(done=DONE[:3])))),
            ("not_terminated", whole(*READY, rows=(lamp(), feed(done=("run",))))),
            ("not_terminated", whole(*READY, rows=(lamp(), feed(done=("labelled",))))),
            ("wrong", whole(*READY, rows=(lamp(), feed(awg="22")))),
        ):  # fmt: skip
            with self.subTest(word=word):
                self.assertIn(word, codes(h))
                self.assertEqual(power(h).steps, ())
                (check,) = [c for c in judged(h, h.of("bus")[0]) if c.key == "power"]
                self.assertIs(check.verdict, Verdict.NOT_MEASURED)

    def test_what_stands_in_its_way_is_said_in_words_and_the_rest_is_counted(self) -> None:
        h = whole(rows=(lamp(), feed(done=DONE[:-1])))
        said = [b.said for b in power(h).blockers]
        self.assertEqual(said[:2], ["The battery’s polarity is not checked at the lugs.",
                                    "Lamp is not labelled."])  # fmt: skip
        check = next(c for c in judged(h, h.of("bus")[0]) if c.key == "power")
        self.assertEqual(check.said, f"No power yet. {said[0]} {said[1]} And {len(said) - 2} more.")
        dead = whole({"doing": "polarity", "measured_V": 0.0}, PULLED)
        self.assertIn("battery_polarity", codes(dead))

    def test_a_pin_that_is_bare_stands_in_its_way_and_names_its_connector(self) -> None:
        first, second = board()
        bare = row("connector", "P3", contacts="terminal", pins="1-6 22 10", state="mated",
                   bare="2; 4")  # fmt: skip
        found = power(whole(*READY, of=(first, bare)))
        self.assertEqual([(b.code, b.row) for b in found.blockers], [("bare_pin", "p3")] * 2)
        self.assertEqual(second.name, bare.name)
        with self.assertRaises(Refused) as caught:
            refuse(Harness(()), row("connector", "P3", contacts="pin", pins="1-6 22 10", bare="9"))
        self.assertEqual(caught.exception.field, "bare")

    def test_what_is_only_planned_stays_out_and_asks_nothing(self) -> None:
        planned = (
            lamp("Heat", expected="", insulation=""),
            feed("W2", "Heat", "CB1.2", to="P3.2", done=()),
        )
        found = power(whole(*READY, rows=(lamp(), feed(), *planned)))
        self.assertEqual((found.blockers, found.stay_out), ((), ("CB1.2",)))

    def test_a_circuit_with_one_wire_done_and_one_not_begun_is_not_only_planned(self) -> None:
        rows = (lamp(), feed(), feed("W2", done=(), at="P3.2", to="P3.3"))
        self.assertIn("not_terminated", codes(whole(*READY, rows=rows)))

    def test_of_two_buses_each_circuit_names_its_own(self) -> None:
        other = row("bus", "Night", alone="0.1")
        h = tested(bus(*READY), other, *board(), lamp(), feed())
        self.assertEqual(h.circuits_of(other), [])
        self.assertIn("bus", codes(h))
        named = tested(bus(*READY), other, *board(), lamp(bus="main"), feed())
        self.assertEqual([c.name for c in named.circuits_of(named.rows[0])], ["Lamp"])
        self.assertEqual(codes(named), [])
        with self.assertRaises(Refused) as caught:
            refuse(h, lamp("Other", bus="Nowhere"))
        self.assertEqual(caught.exception.field, "bus")

    def test_its_breaker_is_where_its_way_begins_unless_it_is_said(self) -> None:
        rows = (lamp(), feed("W2", at="P3.2", to="P3.3"), feed("W1", to="P3.2"))
        h = whole(*READY, rows=rows)
        self.assertEqual(breaker_of(h, rows[0]), "CB1.1")
        # Through what is mated it leads on, in whichever order its wires were entered.
        mated = (row("connector", "P4", contacts="pin", pins="1-2 22 10", mate="J4"),
                 row("connector", "J4", contacts="socket", pins="1-2 22 10", mate="P4"))  # fmt: skip
        over = (feed("W2", at="J4.1", to="L1.1"), feed("W1", to="P4.1"))
        both = Harness((bus(), *board(), *mated, lamp(), *over))
        self.assertEqual(breaker_of(both, lamp()), "CB1.1")
        self.assertEqual(both.way_of(lamp())[1], [("L1", "1")])
        self.assertEqual(breaker_of(h, lamp(breaker="CB9")), "CB9")
        self.assertIsNone(breaker_of(h, lamp(protector="", protector_A="")))


class Insulation(TestCase):
    def test_it_is_judged_with_what_the_tester_knows_and_not_without(self) -> None:
        for read, word in (
            (GOOD, Verdict.IN),
            (GOOD | {"measured_ohm": 4e6}, Verdict.OUT),
            (GOOD | {"measured_ohm": 5.2e6}, Verdict.TOO_CLOSE),
            ({"doing": "insulated", "measured_ohm": 60e6}, Verdict.NOT_MEASURED),
            ({"doing": "insulated", "measured_ohm": 60e6, "over_range": True}, Verdict.IN),
            ({"doing": "insulated", "measured_ohm": 1e6, "over_range": True}, Verdict.NOT_MEASURED),
        ):
            h = tested(replace(lamp(), log=(GOOD, read)), feed())
            c = h.rows[0]
            self.assertIs(insulation_of(h, c)[0], word)
            check = next(x for x in judged(h, c) if x.key == "insulation")
            self.assertIs(check.verdict, word)
            self.assertEqual(set(check.origins), set(check.inputs))
        h = tested(replace(lamp(insulation=""), log=(GOOD,)))
        self.assertIs(insulation_of(h, h.rows[0])[0], Verdict.NOT_MEASURED)

    def test_of_other_wires_than_it_was_made_of_it_says_nothing_any_more(self) -> None:
        h = whole(*READY)
        c, w = h.named("circuit", "Lamp"), h.named("wire", "W1")
        assert c is not None and w is not None
        one = {"doing": "end_a", "nr": 100}
        for rows in (
            (replace(w, values={**w.values, "awg": "10"}),),
            (replace(w, values={**w.values, "length_m": 2.5}),),
            (w, feed("W2", at="P3.2", to="P3.3")), (), (replace(w, log=(one,)),),
        ):  # fmt: skip
            other = Harness((*h.rows[:-1], *rows))
            self.assertIs(insulation_of(other, c)[0], Verdict.STALE)
            if rows:
                self.assertIn("insulation", codes(other))
                check = next(x for x in judged(other, c) if x.key == "insulation")
                self.assertIn("test it again", check.said)
        before = Harness((*h.rows[:-1], replace(w, log=(one | {"nr": 98},))))
        self.assertIs(insulation_of(before, c)[0], Verdict.IN)


class OneByOne(TestCase):
    def told(self, h: Harness) -> tuple[Verdict, str]:
        check = next(c for c in judged(h, h.of("bus")[0]) if c.key == "power")
        return check.verdict, check.said

    def test_each_breaker_is_judged_by_what_it_draws_more(self) -> None:
        h = whole(*READY, put("bus", 0.55))
        self.assertEqual(power(h).now.breaker, "CB1.1")
        done = power(whole(*READY, put("bus", 0.55), put("CB1.1", 2.6)))
        self.assertTrue(done.done)
        self.assertAlmostEqual(done.steps[1].rise_A, 2.05)
        self.assertAlmostEqual(done.steps[1].rise_U_A, 0.04)
        self.assertEqual(self.told(whole(*READY, put("bus", 0.55), put("CB1.1", 2.6)))[0], "in")

    def test_too_much_is_out_and_stops_the_work(self) -> None:
        for amps in (3.3, 1.9):
            h = whole(*READY, put("bus", 0.55), put("CB1.1", amps))
            verdict, words = self.told(h)
            self.assertIs(verdict, Verdict.OUT)
            self.assertIn("pull it", words)
            self.assertEqual(power(h).now.breaker, "CB1.1")

    def test_without_the_meter_s_word_nothing_is_in_and_too_close_is_said(self) -> None:
        h = whole(*READY, put("bus", 0.55, None))
        self.assertIn("Not said", self.told(h)[1])
        close = whole(*READY, put("bus", 0.69))
        self.assertIs(self.told(close)[0], Verdict.TOO_CLOSE)

    def test_a_rise_is_over_what_was_read_before_it_whatever_is_expected_now(self) -> None:
        """Fan went in after the lamp; by what is expected now it would come first."""
        rows = (lamp(), feed(), lamp("Fan", expected="1"), feed("W2", "Fan", "CB1.2", to="P3.2"))
        h = whole(*READY, put("bus", 0.5), put("CB1.1", 2.5), put("CB1.2", 3.5), rows=rows)
        self.assertEqual([s.rise_A for s in power(h).steps], [0.5, 1.0, 2.0])
        self.assertTrue(power(h).done)

    def test_read_again_a_breaker_is_still_over_what_was_before_it(self) -> None:
        h = whole(*READY, put("bus", 0.5), put("CB1.1", 3.9), put("CB1.1", 2.6))
        self.assertAlmostEqual(power(h).steps[1].rise_A, 2.1)
        self.assertTrue(power(h).done)

    def test_pulled_again_all_begin_anew(self) -> None:
        h = whole(*READY, put("bus", 0.55), put("CB1.1", 9.0), PULLED)
        self.assertEqual([s.read_A for s in power(h).steps], [None, None])

    def test_a_breaker_of_another_name_that_is_in_must_be_pulled_first(self) -> None:
        self.assertIn("breaker_in", codes(whole(*READY, put("bus", 0.5), put("CB7.7", 1.0))))

    def test_out_of_its_turn_none_goes_in(self) -> None:
        def refused(h: Harness, breaker: str) -> str:
            with self.assertRaises(Refused) as caught:
                may_go_in(h, h.of("bus")[0], breaker)
            self.assertEqual(caught.exception.field, "breaker")
            return caught.exception.reason

        ready = whole(*READY)
        self.assertIn("bus is next", refused(ready, "CB1.1"))
        self.assertIn("must be one of", refused(ready, "CB9"))
        self.assertIn("no power yet", refused(whole(LUGS), "bus"))
        may_go_in(ready, ready.of("bus")[0], "bus")
        begun = whole(*READY, put("bus", 0.55))
        for breaker in ("bus", "CB1.1"):
            may_go_in(begun, begun.of("bus")[0], breaker)
        rows = (lamp(), feed(), lamp("Fan", expected="1"), feed("W2", "Fan", "CB1.2", to="P3.2"))
        bad = whole(*READY, put("bus", 0.55), put("CB1.2", 4.0), rows=rows)
        self.assertIn("draws what it should not", refused(bad, "CB1.1"))
        all_in = whole(*READY, put("bus", 0.55), put("CB1.1", 2.6))
        self.assertIn("is in already", refused(all_in, "bus"))

    @given(st.lists(st.floats(0.3, 9.0), min_size=1, max_size=5), st.floats(0.0, 1.0))
    def test_the_least_goes_first_and_every_rise_is_the_difference_of_the_totals(
        self, expected: list[float], idle: float
    ) -> None:
        rows: list[Row] = []
        for n, amps in enumerate(expected, 1):
            rows += [lamp(f"C{n}", expected=f"{amps:.6f}"), feed(f"W{n}", f"C{n}", f"CB1.{n}",
                                                             to=f"P3.{n}")]  # fmt: skip
        found = power(whole(*READY, rows=tuple(rows), alone=f"{idle:.6f}"))
        rises = [s.total_A for s in found.steps]
        more = [b - a for a, b in zip([0.0, *rises], rises, strict=False)][1:]
        self.assertEqual([round(x, 6) for x in more], sorted(round(x, 6) for x in more))
        self.assertAlmostEqual(rises[-1], idle + sum(expected), 5)
        log, total = [], 0.0
        for s in found.steps:
            total = s.total_A
            log.append(put(s.breaker, total, 0.0))
        self.assertTrue(power(whole(*READY, *log, rows=tuple(rows), alone=f"{idle:.6f}")).done)


class Steps(TestCase):
    def test_each_kind_of_row_has_its_own_steps(self) -> None:
        for kind, good, bad in (
            (lamp(), "insulated", "run"),
            (bus(), "pulled", "insulated"),
            (feed(done=()), "run", "polarity"),
        ):
            steps_allowed(kind, good)
            with self.assertRaises(Refused):
                steps_allowed(kind, bad)
        with self.assertRaises(Refused) as caught:
            steps_allowed(row("bundle", "Aft"), "run")
        self.assertIn("nothing is done", caught.exception.reason)
