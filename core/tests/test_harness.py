"""The harness row by row: what follows from the others, and what nobody said."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import SEVERITY, Verdict
from core.entry.grammar import understand
from core.entry.names import Names
from core.entry.wires import WireDone
from core.wiring.finishing import STEPS
from core.wiring.harness import ROWS, Harness, Row
from core.wiring.harness_checks import judged
from core.wiring.harness_entry import refuse, steps_allowed
from core.wiring.tables import GAUGES
from core.worksheets.kinds import run
from core.worksheets.reading import read

LAMP = {"current": "7.2", "duty": "continuous", "system": "14", "ambient": "45", "rating": "150",
        "back": "structure", "structure": "3 mohm", "contacts": "8 mohm",
        "protector": "breaker", "protector_A": "10"}  # fmt: skip
WAY = "0; 0; 0; 1000; 0; 0; 1000; 500; 0"


def row(kind: str, name: str, done: Any = (), test: Any = None, **typed: Any) -> Row:
    """A row as typed, in mm."""
    words = {k.rstrip("_").replace("klass", "class"): v for k, v in typed.items()}
    values, _ = read(ROWS[kind], words, "mm", lambda *_: None)
    return Row(kind, name.lower().replace(" ", "-"), name, values, tuple(done), test or {})


def wire(name: str = "W1", circuit: str = "Lamp", part: str = "feed", **more: Any) -> Row:
    return row("wire", name, circuit=circuit, part=part, **more)


def said(h: Harness, r: Row) -> dict[str, str]:
    return {c.key.partition(" ")[0]: c.verdict.value for c in judged(h, r)}


class Circuits(TestCase):
    def lamp(self, **wires: Any) -> tuple[Harness, Row]:
        c = row("circuit", "Lamp", **LAMP)
        return Harness((c, wire(**({"length": "6.4 m", "awg": "12"} | wires)))), c

    def test_its_gauge_is_what_the_rule_says_of_the_length_of_its_wires(self) -> None:
        h, c = self.lamp()
        own = {"kind": "structure", "ohm": 0.003}
        found = run("wiring.size_wire", {
            "current_A": 7.2, "feed_m": 6.4, "return": own, "ambient_C": 45.0, "rating_C": 150,
            "system_V": 14.0, "duty": "continuous", "contacts_ohm": 0.008,
        })  # fmt: skip
        for awg, good in ((found["awg"], True), (found["next_smaller"]["awg"], False)):
            h, c = self.lamp(awg=awg)
            check = next(x for x in judged(h, c) if x.key == "gauge Lamp")
            self.assertEqual(check.verdict is Verdict.IN, good)
            self.assertIn(f"Needs AWG {found['awg']}", check.said)
            self.assertEqual(set(check.origins), set(check.inputs))

    @given(st.permutations(GAUGES[3:9]), st.floats(0.2, 9.0))
    def test_a_thicker_wire_is_never_worse_and_the_thinnest_of_several_counts(
        self, gauges: list[str], metres: float
    ) -> None:
        c = row("circuit", "Lamp", **LAMP)
        word = {}
        for awg in sorted(gauges, key=GAUGES.index):
            one = Harness((c, wire(awg=awg, length=f"{metres} m")))
            word[awg] = SEVERITY.index(next(iter(judged(one, c))).verdict)
        for thin, thick in itertools.pairwise(sorted(gauges, key=GAUGES.index)):
            self.assertGreaterEqual(word[thick], word[thin])
        a, b = gauges[0], gauges[1]
        half = f"{metres / 2} m"
        two = Harness((c, wire(awg=a, length=half), wire("W2", awg=b, length=half)))
        found = SEVERITY.index(next(iter(judged(two, c))).verdict)
        self.assertEqual(found, word[min(a, b, key=GAUGES.index)])

    def test_each_thing_that_nobody_said_is_named_and_nothing_is_in(self) -> None:
        whole, c = self.lamp()
        self.assertEqual(said(whole, c)["gauge"], "in")
        for key, word in (("current", "current"), ("ambient", "hottest"), ("rating", "rated"),
                          ("back", "returns"), ("system", "voltage")):  # fmt: skip
            less = row("circuit", "Lamp", **{k: v for k, v in LAMP.items() if k != key})
            found = judged(Harness((less, *whole.of("wire"))), less)
            gauge = next(x for x in found if x.key == "gauge Lamp")
            self.assertIs(gauge.verdict, Verdict.NOT_MEASURED)
            self.assertIn(word, gauge.said)
        for lacking in ({"length": ""}, {"awg": ""}):
            h, c = self.lamp(**lacking)
            self.assertEqual(said(h, c)["gauge"], "not measured")
        alone = Harness((c,))
        self.assertEqual(said(alone, c)["wires"], "not measured")
        by_wire = row("circuit", "Lamp", **LAMP | {"back": "wire", "structure": ""})
        found = next(x for x in judged(Harness((by_wire, wire(length="1 m"))), by_wire))
        self.assertIn("return", found.said)

    def test_a_wire_is_as_long_as_its_bundles_and_what_lies_beside_them(self) -> None:
        b = row("bundle", "Aft", points=WAY)
        of = wire(bundles="aft", beside="250")
        h = Harness((b, of))
        self.assertAlmostEqual(h.length_m(of) or 0.0, 1.75, 9)
        self.assertIsNone(h.length_m(wire(bundles="aft")))
        self.assertIsNone(h.length_m(wire(bundles="aft; nose", beside="250")))
        self.assertEqual(h.length_m(wire(bundles="aft", beside="250", length="3 m")), 3.0)


class Steps(TestCase):
    TEST = {"awg": "20", "length_m": 4.0, "measured_ohm": 0.115, "U_ohm": 0.002}

    def test_a_hundred_is_never_shown_while_anything_is_open(self) -> None:
        for done in itertools.chain.from_iterable(
            itertools.combinations(STEPS, n) for n in range(6)
        ):
            if "tested" in done and not {"run", "end_a", "end_b"} <= set(done):
                continue
            w = replace(wire("Last", awg="20", length="4 m"), done=done, test=self.TEST)
            many = [replace(w, slug=f"w{n}", done=STEPS) for n in range(300)]
            h = Harness((*many, w))
            found = h.progress(h.of("wire")) or {}
            self.assertEqual(found["shown"] == 100, set(done) == set(STEPS))
            self.assertEqual(h.missing(w) == (), set(done) == set(STEPS))

    def test_a_test_of_another_gauge_or_length_says_nothing_any_more(self) -> None:
        c = row("circuit", "Lamp", **LAMP)
        w = replace(wire(awg="20", length="4 m"), done=STEPS, test=self.TEST)
        for change, verdict in (({}, "in"), ({"awg": "18"}, "stale"), ({"length_m": 4.1}, "stale")):
            now = replace(w, values={**w.values, **change})
            h = Harness((c, now))
            self.assertEqual(said(h, c)["test"], verdict)
            self.assertEqual("tested" in h.done(now), verdict == "in")
        blind = replace(w, test={k: v for k, v in self.TEST.items() if k != "U_ohm"})
        self.assertEqual(said(Harness((c, blind)), c)["test"], "not measured")

    def test_its_splices_its_shield_and_where_it_goes(self) -> None:
        c = row("circuit", "Lamp", **LAMP)
        p = row("connector", "P3", contacts="socket", pins="1-4 24 18")
        to = {"from_": "P3.1", "to": "P3.2", "length": "2 m", "awg": "20"}
        for more, key, word in (
            ({}, "made", None),
            ({"shield": "a"}, "made", "in"),
            ({"shield": "both"}, "made", "out"),
            ({"shield": "none"}, "made", "out"),
            ({"splices": "1000"}, "made", "in"),
            ({"splices": "100"}, "made", "out"),
            ({"splices": "900; 1100"}, "made", "out"),
            ({"splices": "900", "length": ""}, "made", "not measured"),
            ({"to": ""}, "ends", "not measured"),
            ({"to": "J9.1"}, "at", "not measured"),
        ):
            w = wire(**(to | more))
            self.assertEqual(said(Harness((c, p, w)), c).get(key), word, more)
        with self.assertRaises(Refused) as refusal:
            beyond = wire(**(to | {"splices": "2100"}))
            refuse(Harness((c, p, beyond)), beyond)
        self.assertEqual(refusal.exception.field, "splices")

    def test_the_order_of_steps(self) -> None:
        w = wire()
        steps_allowed(w, "labelled")
        for done in ((), ("run",), ("run", "end_a"), ("end_a", "end_b")):
            with self.assertRaises(Refused):
                steps_allowed(replace(w, done=done), "tested")
        steps_allowed(replace(w, done=("run", "end_a", "end_b")), "tested")
        with self.assertRaises(Refused):
            steps_allowed(replace(w, done=("run",)), "run")
        with self.assertRaises(Refused):
            steps_allowed(w, "soldered")


class Connectors(TestCase):
    def at(self, *wires: Row, **more: Any) -> tuple[Harness, Row]:
        p = row("connector", "P3", **{"contacts": "socket", "pins": "1-4 24 18"} | more)
        return Harness((p, *wires)), p

    def test_what_is_wrong_at_a_pin_is_told_of_its_connector(self) -> None:
        one = wire(awg="20", length="1 m", to="P3.1")
        for other, word in (
            (wire("W2", awg="20", length="1 m", to="p3.1"), "duplicate_pin"),
            (wire("W2", awg="20", length="1 m", to="P3.9"), "unknown_pin"),
            (wire("W2", awg="12", length="1 m", to="P3.2"), "contact_gauge"),
        ):
            h, p = self.at(one, other)
            found = said(h, p)
            if word == "duplicate_pin":
                other = replace(other, values={**other.values, "b": "P3.1"})
                found = said(Harness((p, one, other)), p)
            self.assertEqual(found, {word: "out"})
        h, p = self.at(one)
        self.assertEqual(said(h, p), {"pins": "in"})

    def test_a_mate_without_a_wire_opposite_is_open_and_the_same_contacts_are_wrong(self) -> None:
        one = wire(awg="20", length="1 m", to="P3.1")
        for contacts, words in (
            ("pin", {"no_wire_opposite": "not measured"}),
            ("socket", {"no_wire_opposite": "not measured", "same_contacts_mated": "out"}),
        ):
            j = row("connector", "J3", contacts=contacts, pins="1-4 24 18", mate="P3")
            h, p = self.at(one, j, mate="J3")
            self.assertEqual(said(h, p), words)
            both = Harness((*h.rows, wire("W2", awg="20", length="1 m", from_="J3.1")))
            self.assertNotIn("no_wire_opposite", said(both, p))

    def test_it_is_not_closed_up_before_its_last_wire(self) -> None:
        on = replace(wire(awg="20", length="1 m", to="P3.1"), done=("run", "end_b"))
        off = wire("W2", awg="20", length="1 m", from_="P3.2")
        h, p = self.at(on, closed="yes")
        self.assertEqual(said(h, p)["closed"], "in")
        h, p = self.at(on, off, closed="yes")
        check = next(c for c in judged(h, p) if c.key == "closed")
        self.assertIs(check.verdict, Verdict.OUT)
        self.assertIn("W2", check.said)
        self.assertNotIn("W1", check.said)


class Bundles(TestCase):
    def test_classes_that_must_stay_apart_do_not_share_it(self) -> None:
        b = row("bundle", "Aft", points=WAY, apart="strobe/audio")
        loud, quiet = (
            wire(n, klass=k, bundles="Aft") for n, k in (("W1", "Strobe"), ("W2", "audio"))
        )
        self.assertEqual(said(Harness((b, loud, quiet)), b)["apart"], "out")
        moved = replace(quiet, values={**quiet.values, "bundles": ["Nose"]})
        self.assertEqual(said(Harness((b, loud, moved)), b)["apart"], "in")
        nameless = replace(quiet, values={k: v for k, v in quiet.values.items() if k != "class"})
        self.assertEqual(said(Harness((b, loud, nameless)), b)["apart"], "not measured")
        silent = row("bundle", "Aft", points=WAY)
        self.assertEqual(said(Harness((silent, loud)), silent)["apart"], "not measured")

    @given(st.lists(st.integers(10, 1490), max_size=5, unique=True), st.integers(100, 1500))
    def test_no_span_is_longer_than_allowed(self, at: list[int], most: int) -> None:
        held = "; ".join(map(str, at))
        b = row("bundle", "Aft", points=WAY, supports=held, span=str(most))
        marks = [0, *sorted(at), 1500]
        longest = max(y - x for x, y in itertools.pairwise(marks))
        if at and not math.isclose(longest, most):
            word = "in" if longest < most else "out"
            self.assertEqual(said(Harness((b,)), b)["supports"], word)

    def test_its_load_and_its_conduit_are_what_the_rules_say(self) -> None:
        c = row("circuit", "Lamp", **LAMP)
        wires = [wire(f"W{n}", awg="12", od="2.6", bundles="Aft") for n in range(3)]
        for inside, word in (("4", "out"), ("30", "in")):
            b = row("bundle", "Aft", points=WAY, conduit=inside)
            self.assertEqual(said(Harness((c, b, *wires)), b)["conduit"], word)
        b = row("bundle", "Aft", points=WAY)
        full = said(Harness((c, b, *wires)), b)["load"]
        spare = [wire(f"S{n}", "Idle", awg="12", od="2.6", bundles="Aft") for n in range(9)]
        idle = row("circuit", "Idle", **LAMP | {"current": "0.01"})
        self.assertEqual(
            (full, said(Harness((c, idle, b, *wires, *spare)), b)["load"]), ("out", "in")
        )

    def test_the_holes_that_it_goes_through(self) -> None:
        hole = {"id": "rib", "station": "500", "y": "0", "z": "0", "d": "20"}
        wires = [wire("W1", od="2.6", bundles="Aft")]
        for more, word in (
            ({}, "not measured"), ({"no_holes": "yes"}, "in"),
            ({"holes": [hole | {"guard": "grommet"}]}, "in"),
            ({"holes": [hole | {"guard": "none"}], "edge_gap": "12"}, "out"),
        ):  # fmt: skip
            b = row("bundle", "Aft", points=WAY, **more)
            self.assertEqual(said(Harness((b, *wires)), b)["holes"], word)


class Entered(TestCase):
    def test_what_cannot_be_among_the_others_is_refused_by_its_field(self) -> None:
        c, p = (
            row("circuit", "Lamp", **LAMP),
            row("connector", "P3", contacts="pin", pins="1 24 18"),
        )
        h = Harness((c, p))
        for one, field in (
            (wire(circuit="Radio"), "circuit"),
            (wire(bundles="Aft"), "bundles"),
            (wire(from_="P3"), "from"),
            (wire(from_="P3.1", to="P3.1"), "to"),
            (replace(row("circuit", "LAMP"), slug="lamp-2"), "name"),
            (row("bundle", "Aft", points="1; 2; 3"), "points"),
            (row("bundle", "Aft", apart="strobe"), "apart"),
        ):
            with self.assertRaises(Refused) as refusal:
                refuse(Harness((*h.rows, one)), one)
            self.assertEqual(refusal.exception.field, field)
        refuse(Harness((*h.rows, wire())), wire())

    def test_a_line_in_the_entry_bar(self) -> None:
        ends = (
            ("P3.7", "w12", "b"),
            ("CB1.1", "w12", "a"),
            ("GB1.2", "w1", "b"),
            ("GB1.2", "w2", "a"),
        )
        names = Names(wires=(("w12", "W12"), ("w1", "W1")), ends=ends)
        for line, meant in (
            ("run w12", WireDone("w12", "run")),
            ("label w12", WireDone("w12", "labelled")),
            ("test w12 0.2 ohm", WireDone("w12", "tested", "0.2 ohm")),
            ("pin p3-7 terminated", WireDone("w12", "end_b")),
            ("pin CB1.1 terminated", WireDone("w12", "end_a")),
        ):
            self.assertEqual(understand(line, names), meant)
        for line in (
            "run w7",
            "test w12",
            "test w12 0.2 kg",
            "pin P9.1 terminated",
            "pin GB1.2 terminated",
        ):
            with self.assertRaises(Refused):
                understand(line, names)
