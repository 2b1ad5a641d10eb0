"""Wiring as a system: grounds against all rings and by superposition, connectors, the first power,
switches, tests over time."""

from __future__ import annotations

import itertools
import random
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from core.tests.test_wiring import Refusing, ask

PINS = {"1": ["24", "20"], "2": ["24", "20"]}


def rings(edges: list[dict[str, Any]]) -> list[tuple[str, ...]]:
    """All simple rings, as sorted names: sets of conductors in which every place has two."""
    found = []
    for many in range(2, len(edges) + 1):
        for some in itertools.combinations(edges, many):
            at: dict[str, int] = {}
            for e in some:
                for n in (e["a"], e["b"]):
                    at[n] = at.get(n, 0) + 1
            if set(at.values()) != {2}:
                continue
            seen, more = {some[0]["a"]}, True
            while more:
                more = False
                for e in some:
                    if (e["a"] in seen) != (e["b"] in seen):
                        seen |= {e["a"], e["b"]}
                        more = True
            if seen == set(at):
                found.append(tuple(sorted(e["id"] for e in some)))
    return found


class Grounds(Refusing):
    def test_loops_are_the_shortest_ring_through_each_conductor_of_all_there_are(self) -> None:
        random.seed(11)
        for _ in range(60):
            nodes = "ABCDE"[: random.randrange(3, 6)]
            edges = []
            for n in range(random.randrange(3, 9)):
                a, b = random.sample(nodes, 2)
                kind = random.choice(["wire", "shield", "case", "structure"])
                edges.append({"id": f"e{random.randrange(100)}-{n}", "a": a, "b": b, "kind": kind})
            found = ask("ground_loops", edges=edges)
            every = rings(edges)
            wanted = {
                min((r for r in every if e["id"] in r), key=lambda r: (len(r), r))
                for e in edges
                if any(e["id"] in r for r in every)
            }
            self.assertEqual([tuple(x["edges"]) for x in found["loops"]], sorted(wanted))
            # As many as must be cut until no ring is left.
            left, cut = list(edges), 0
            while rest := rings(left):
                left = [e for e in left if e["id"] != rest[0][0]]
                cut += 1
            self.assertEqual(found["independent"], cut)
            for x in found["loops"]:
                kinds = {e["kind"] for e in edges if e["id"] in x["edges"]}
                word = "shield" if "shield" in kinds else "case" if "case" in kinds else "return"
                self.assertEqual(x["class"], word)
        wire = {"id": "a", "a": "x", "b": "x", "kind": "wire"}
        self.no("ground_loops", "edges", edges=[wire])
        self.no("ground_loops", "edges", edges=[])

    @settings(max_examples=40)
    @given(st.lists(st.floats(0.001, 0.1), min_size=3, max_size=3), st.floats(0.1, 20))
    def test_a_shared_return_couples_by_ohm_s_law_and_its_own_return_by_nothing(
        self, ohms: list[float], amps: float
    ) -> None:
        strap, noisy, quiet = ohms
        edges = [
            {"id": "strap", "a": "battery", "b": "block", "kind": "wire", "ohm": strap},
            {"id": "n", "a": "strobe", "b": "block", "kind": "wire", "ohm": noisy},
            {"id": "q", "a": "audio", "b": "block", "kind": "wire", "ohm": quiet},
        ]
        asked = {"return_node": "battery", "noisy_node": "strobe", "noise_A": amps,
                 "victim_node": "audio", "victim_reference_node": "battery"}  # fmt: skip
        found = ask("ground_coupling", edges=edges, **asked)
        self.assertAlmostEqual(found["coupled_V"], amps * strap, 9)
        self.assertAlmostEqual(found["noisy_node_V"], amps * (strap + noisy), 9)
        self.assertEqual(found["shared_edges"], ["strap"])
        own = [*edges[:2], edges[2] | {"b": "battery"}]
        self.assertAlmostEqual(ask("ground_coupling", edges=own, **asked)["coupled_V"], 0.0, 12)
        # Two equal straps side by side halve it.
        two = [*edges, edges[0] | {"id": "strap 2"}]
        half = ask("ground_coupling", edges=two, **asked)
        self.assertAlmostEqual(half["coupled_V"], amps * strap / 2, 9)
        self.assertEqual(half["shared_edges"], [])
        self.no("ground_coupling", "ohm", edges=[edges[0] | {"ohm": 0}, *edges[1:]], **asked)
        self.no("ground_coupling", "victim_node", edges=edges, **asked | {"victim_node": "lamp"})

    def test_a_bond(self) -> None:
        for m, U, verdict in (
            (0.003, 0, "in"),
            (0.0029, 0.0002, "too close"),
            (0.0034, 0.0003, "out"),
        ):
            self.assertEqual(ask("bond_check", measured_ohm=m, U_ohm=U)["verdict"], verdict)


class Connectors(Refusing):
    def joint(self, **more: Any) -> dict[str, Any]:
        """Two mated connectors with a wire on pin 1 of each."""
        connectors = [
            {"id": "P1", "contacts": "pin", "mate": "J1", "pins": PINS},
            {"id": "J1", "contacts": "socket", "mate": "P1", "pins": PINS},
            {"id": "T", "contacts": "pin", "pins": {"a": ["24", "16"], "b": ["24", "16"]}},
        ]
        wires = [
            {"id": "W1", "awg": "20", "length_m": 2, "a": {"connector": "P1", "pin": "1"},
             "b": {"connector": "T", "pin": "a"}},
            {"id": "W2", "awg": "20", "length_m": 2, "a": {"connector": "J1", "pin": "1"},
             "b": {"connector": "T", "pin": "b"}},
        ]  # fmt: skip
        wires[0] |= more
        return {"connectors": connectors, "conductors": wires}

    def test_each_fault_alone_is_found_by_its_name(self) -> None:
        self.assertEqual(ask("connector_check", **self.joint())["findings"], [])
        self.assertEqual(
            ask("connector_check", **self.joint())["spare_pins"], {"P1": 1, "J1": 1, "T": 0}
        )
        for more, findings in (
            ({"b": None}, [["unterminated", "W1.b"]]),
            ({"awg": "18"}, [["contact_gauge", "P1.1"]]),
            ({"splices_m": [1.0]}, []),
            ({"splices_m": [0.3]}, [["splice_near_end", "W1"]]),
            ({"splices_m": [1.75]}, [["splice_near_end", "W1"]]),
            ({"splices_m": [0.8, 1.2]}, [["too_many_splices", "W1"]]),
            ({"shield": {"a": True, "b": False}}, []),
            ({"shield": {"a": False, "b": False}}, [["shield_floating", "W1"]]),
            ({"shield": {"a": True, "b": True}}, [["shield_both_ends", "W1"]]),
            ({"b": {"connector": "T", "pin": "b"}}, [["duplicate_pin", "T.b"]]),
            ({"b": {"connector": "T", "pin": "z"}}, [["unknown_pin", "T.z"]]),
        ):  # fmt: skip
            with self.subTest(more=more):
                self.assertEqual(ask("connector_check", **self.joint(**more))["findings"], findings)
        moved = self.joint(a={"connector": "P1", "pin": "2"})
        self.assertEqual(
            ask("connector_check", **moved)["findings"],
            [["no_wire_opposite", "J1.1"], ["no_wire_opposite", "P1.2"]],
        )
        same = self.joint()
        same["connectors"][1]["contacts"] = "pin"
        self.assertEqual(
            ask("connector_check", **same)["findings"], [["same_contacts_mated", "J1+P1"]]
        )
        alone = self.joint()
        alone["connectors"][1].pop("mate")
        self.assertEqual(ask("connector_check", **alone)["findings"], [["mate_not_mutual", "P1"]])
        self.no("connector_check", "splices_m", **self.joint(splices_m=[2.0]))
        self.no("connector_check", "awg", **self.joint(awg="19"))

    def test_an_end_that_is_let_go(self) -> None:
        base = {"id": "W", "end_m": 0.3, "support_m": 0.2, "reach_m": 0.5}
        for more, verdict, back in (
            ({}, "in", 0.1), ({"reach_m": 0.499}, "out", 0.1), ({"U_m": 0.001}, "too close", 0.1),
            ({"held": "tie", "reach_m": 0.1}, "in", 0.0),
            ({"held": "connector", "connector_m": 0.03, "hole_m": 0.02, "reach_m": 0.1}, "in", 0.0),
            ({"held": "connector", "connector_m": 0.02, "hole_m": 0.03, "reach_m": 0.1}, "out", 0.1),
            ({"held": "connector", "connector_m": 0.02, "hole_m": 0.03}, "in", 0.1),
            ({"held": "connector", "connector_m": 0.03, "hole_m": 0.03, "U_m": 0.001,
              "reach_m": 0.1}, "too close", 0.1),
        ):  # fmt: skip
            with self.subTest(more=more):
                found = ask("captive_end", ends=[base | more])
                self.assertEqual(found["verdict"], verdict)
                self.assertAlmostEqual(found["ends"][0]["slips_back_m"], back, 9)
                self.assertEqual(found["must_be_held"], [] if verdict == "in" else ["W"])
        self.no("captive_end", "hole_m", ends=[base | {"held": "connector", "connector_m": 0.1}])

    @given(st.lists(st.sets(st.sampled_from(["run", "end_a", "end_b"])), min_size=1, max_size=8))
    def test_a_hundred_is_shown_only_where_nothing_is_open(self, done: list[set[str]]) -> None:
        rows = [{"id": str(n), "done": sorted(d)} for n, d in enumerate(done)]
        found = ask("completeness", conductors=rows)
        share = {"run": 0.25, "end_a": 0.15, "end_b": 0.15}
        self.assertAlmostEqual(
            found["percent"], 100 * sum(share[s] for d in done for s in d) / len(done), 9
        )
        self.assertEqual(len(found["open"]), len(done))
        every = [{"id": "a", "done": ["run", "end_a", "end_b", "tested", "labelled"]}]
        self.assertEqual(ask("completeness", conductors=every)["shown"], 100)
        self.no("completeness", "done", conductors=[{"id": "a", "done": ["run", "tested"]}])
        self.no("completeness", "weights", conductors=every, weights={"run": 1})

    @given(st.floats(-0.02, 0.02), st.floats(0, 0.01))
    def test_continuity_is_in_only_between_both_bounds(self, off: float, U: float) -> None:
        base = ask("continuity", awg="20", length_m=5, measured_ohm=0.15)
        for edge, side, sign in (("low_ohm", "low", -1), ("high_ohm", "high", 1)):
            at = base[edge] + sign * off
            found = ask("continuity", awg="20", length_m=5, measured_ohm=at, U_ohm=U)
            if abs(off) < 1e-9 or abs(abs(off) - U) < 1e-9:
                continue
            verdict = "too close" if abs(off) < U else "out" if off > 0 else "in"
            if off > 0 or abs(off) + U < base["high_ohm"] - base["low_ohm"]:
                self.assertEqual(found["verdict"], verdict)
                self.assertEqual(found["side"], side if off > 0 else None)
        self.no("continuity", "leads_ohm", awg="20", length_m=5, measured_ohm=0.1, leads_ohm=0.2)
        for m, over, verdict in (
            (9e6, True, "not measured"),
            (1e7, True, "in"),
            (9e6, False, "out"),
        ):
            found = ask("insulation", measured_ohm=m, limit_ohm=1e7, over_range=over)
            self.assertEqual(found["verdict"], verdict)


DONE = ["run", "terminated", "tested", "labelled"]


class Power(Refusing):
    def circuit(self, name: str, breaker: str | None, amps: float = 1.0, **more: Any) -> Any:
        return {"id": name, "breaker": breaker, "done": DONE, "expected_A": amps,
                "insulation": "in"} | more  # fmt: skip

    def test_one_thing_in_the_way_is_enough(self) -> None:
        good = {"circuits": [self.circuit("radio", "CB1")], "polarity": "in"}
        self.assertTrue(ask("power_up", **good)["ready"])
        for more, blocker in (
            ({"polarity": "not measured"}, ["battery_polarity", "battery"]),
            ({"breakers_in": ["bus"]}, ["breaker_in", "bus"]),
            ({"bare_pins": ["P1.3"]}, ["bare_pin", "P1.3"]),
            ({"unmated": ["P9"]}, ["unmated_connector", "P9"]),
            ({"circuits": [self.circuit("radio", None)]}, ["no_protection", "radio"]),
            ({"circuits": [self.circuit("radio", "CB1", insulation="out")]}, ["insulation", "radio"]),
            ({"circuits": [self.circuit("radio", "CB1", done=DONE[:3])]}, ["not_labelled", "radio"]),
        ):  # fmt: skip
            found = ask("power_up", **good | more)
            self.assertEqual((found["blockers"], found["sequence"]), ([blocker], []))
        planned = [self.circuit("radio", "CB1"), self.circuit("heat", "CB2", done=[])]
        self.assertEqual(ask("power_up", circuits=planned, polarity="in")["stay_out"], ["CB2"])
        self.no("power_up", "breakers_in", **good | {"breakers_in": ["CB9"]})
        self.no("power_up", "done", polarity="in",
                circuits=[self.circuit("radio", "CB1", done=["tested"])])  # fmt: skip

    @given(st.lists(st.tuples(st.sampled_from("ABCD"), st.floats(0, 9)), min_size=1, max_size=8),
           st.floats(0, 2))  # fmt: skip
    def test_breakers_go_in_by_their_current_and_it_adds_up(
        self, rows: list[tuple[str, float]], bus: float
    ) -> None:
        circuits = [self.circuit(str(n), b, a) for n, (b, a) in enumerate(rows)]
        steps = ask("power_up", circuits=circuits, polarity="in", bus_A=bus)["sequence"]
        self.assertEqual(steps[0]["breaker"], "bus")
        rises = [s["rise_A"] for s in steps[1:]]
        self.assertTrue(all(a <= b + 1e-8 for a, b in itertools.pairwise(rises)))
        self.assertAlmostEqual(steps[-1]["total_A"], bus + sum(a for _, a in rows), 9)
        for s in steps:
            window = max(0.2, 0.2 * s["rise_A"])
            self.assertAlmostEqual(s["high_A"] - s["rise_A"], window, 9)
            self.assertAlmostEqual(s["low_A"], max(0.0, s["rise_A"] - window), 9)

    def test_every_way_of_closing_two_contacts_of_a_switch(self) -> None:
        terminals = {"1": "ground", "2": "bus", "3": "lamp"}
        ways = [list(c) for k in range(4) for c in itertools.combinations(
            [["1", "2"], ["1", "3"], ["2", "3"]], k)]  # fmt: skip
        for closed in ways:
            found = ask("switch_logic", positions=["on"], terminals=terminals,
                        contacts={"on": closed}, needs={"lamp": {"on": "any"}})  # fmt: skip
            g, b = ["1", "3"] in closed, ["2", "3"] in closed
            short = ["1", "2"] in closed
            state = "short" if (g or b) and (short or (g and b)) else (
                "ground" if g else "bus" if b else "open")  # fmt: skip
            self.assertEqual(found["table"]["lamp"]["on"], state, closed)
            self.assertEqual(found["shorts"], ["on"] if short or (g and b) else [])
            self.assertEqual(found["verdict"], "out" if short or (g and b) else "in")
        base = {"positions": ["on"], "terminals": terminals, "contacts": {"on": []},
                "needs": {"lamp": {"on": "open"}}}  # fmt: skip
        self.assertEqual(ask("switch_logic", **base)["verdict"], "in")
        for field, more in (
            ("positions", {"positions": ["on", "on"]}), ("contacts", {"contacts": {}}),
            ("contacts", {"contacts": {"on": [["1", "9"]]}}), ("needs", {"needs": {"lamp": {}}}),
            ("terminals", {"needs": {}}), ("needs", {"needs": {"lamp": {"on": "hot"}}}),
            ("terminals", {"needs": {"lamp": {"on": "open"}, "fan": {"on": "open"}}}),
        ):  # fmt: skip
            self.no("switch_logic", field, **base | more)


class OverTime(Refusing):
    def seen(self, values: list[float], rule_: str, U: float = 0.0, **more: Any) -> dict[str, Any]:
        window = {"name": "w", "from_s": 0, "to_s": len(values) - 1, "rule": rule_, "low": 10,
                  "high": 20} | more  # fmt: skip
        found = ask("functional_test", t_s=list(range(len(values))), value=values, U=U,
                    max_gap_s=1.5, windows=[window])  # fmt: skip
        return dict(found["windows"][0])

    def test_each_rule_of_a_window(self) -> None:
        for values, rule_, U, verdict in (
            ([12, 15, 18], "every", 0, "in"), ([12, 25, 18], "every", 0, "out"),
            ([12, 19.5, 18], "every", 1, "too close"), ([9, 25, 18], "any", 0, "in"),
            ([9, 25, 30], "any", 0, "out"), ([9, 9.5, 9], "any", 1, "too close"),
            ([9, 9, 15], "last", 0, "in"), ([15, 15, 9], "last", 0, "out"),
            ([5, 15, 25], "mean", 0, "in"), ([5, 5, 5], "mean", 0, "out"),
        ):  # fmt: skip
            self.assertEqual(self.seen(values, rule_, U)["verdict"], verdict, (values, rule_))
        self.assertEqual(self.seen([12, 25, 18], "every")["first_out_s"], 1.0)
        for values, by, U, verdict, at in (
            ([9, 9, 15, 16], 2, 0, "in", 2.0), ([9, 9, 15, 16], 1, 0, "out", 2.0),
            ([9, 15, 9, 15], 2, 0, "out", 3.0), ([9, 9, 9.5, 15], 2, 1, "too close", 3.0),
            ([15, 15, 15, 9], 3, 0, "out", None),
        ):  # fmt: skip
            found = self.seen(values, "settles", U, by_s=by)
            self.assertEqual((found["verdict"], found["settled_s"]), (verdict, at), (values, by))

    def test_a_gap_is_not_measured_and_the_worst_counts(self) -> None:
        window = {"name": "w", "from_s": 0, "to_s": 4, "rule": "every", "low": 0}
        for t, verdict in (([0, 1, 2, 3, 4], "in"), ([0, 1, 3.1, 4], "not measured"),
                           ([2.1, 3, 4], "not measured"), ([0, 1, 1.9], "not measured"),
                           ([1.9, 3, 4], "in")):  # fmt: skip
            found = ask("functional_test", t_s=t, value=[1.0] * len(t), max_gap_s=2.0,
                        windows=[window])  # fmt: skip
            self.assertEqual(found["verdict"], verdict, t)
        low = {"name": "low", "from_s": 0, "to_s": 4, "rule": "any", "low": 9}
        both = ask("functional_test", t_s=[0, 1, 2], value=[1.0] * 3, max_gap_s=2.0,
                   windows=[window, low | {"to_s": 2}])  # fmt: skip
        self.assertEqual(both["verdict"], "out")
        for field, t, v, w in (
            ("t_s", [0, 0], [1, 1], window), ("value", [0, 1], [1], window),
            ("to_s", [0], [1], window | {"to_s": -1}), ("by_s", [0], [1], window | {"rule": "settles"}),
            ("low", [0], [1], window | {"low": None}), ("low", [0], [1], window | {"high": -1}),
        ):  # fmt: skip
            self.no("functional_test", field, t_s=t, value=v, max_gap_s=2, windows=[w])
