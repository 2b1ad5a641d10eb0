"""Wiring as a system: grounds against all rings and by superposition, fields against sums over
small pieces, connectors, the first power, switches, tests over time, antennas."""

from __future__ import annotations

import itertools
import math
import random
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.rulebook import rule

P = st.tuples(*[st.floats(-2, 2)] * 3)


def ask(name: str, **inputs: Any) -> dict[str, Any]:
    return rule(f"wiring.{name}").run(inputs)


class Refusing(TestCase):
    def no(self, name: str, field: str, **inputs: Any) -> None:
        with self.assertRaises(Refused) as caught:
            ask(name, **inputs)
        self.assertEqual(caught.exception.field, field, str(caught.exception))


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


class Fields(Refusing):
    @settings(max_examples=40, deadline=None)
    @given(P, P, P, st.floats(-20, 20))
    def test_a_straight_piece_is_the_sum_of_many_small_ones(
        self, at: Any, a: Any, b: Any, amps: float
    ) -> None:
        p, q, s = np.array(a), np.array(b), np.array(at)
        mids = p + (np.arange(20000)[:, None] + 0.5) / 20000 * (q - p)
        r = s - mids
        far = np.linalg.norm(r, axis=1)
        if np.linalg.norm(q - p) < 0.05 or far.min() < 0.05:
            return
        summed = 1e-7 * amps * (np.cross((q - p) / 20000, r) / far[:, None] ** 3).sum(axis=0)
        found = ask("dc_field", sensor_m=list(at), horizontal_T=2e-5,
                    circuits=[{"points_m": [list(a), list(b)], "current_A": amps}])  # fmt: skip
        self.assertTrue(np.allclose(found["B_T"], summed, rtol=1e-5, atol=1e-12))

    def test_a_small_ring_of_current_is_a_dipole(self) -> None:
        turn = np.linspace(0, 2 * math.pi, 721)
        ring = np.stack([0.01 * np.cos(turn), 0.01 * np.sin(turn), 0 * turn], axis=1).tolist()
        asked = {"sensor_m": [0.3, 0.2, 0.4], "horizontal_T": 2e-5}
        loop = ask("dc_field", **asked, circuits=[{"points_m": ring, "current_A": 5.0}])
        moment = [0.0, 0.0, 5.0 * math.pi * 0.01**2]
        magnet = ask("dc_field", **asked, dipoles=[{"moment_Am2": moment, "at_m": [0, 0, 0]}])
        for x, y in zip(loop["B_T"], magnet["B_T"], strict=True):
            self.assertAlmostEqual(x, y, delta=2e-3 * magnet["B_abs_T"])
        self.no("dc_field", "sensor_m", sensor_m=[0.5, 0, 0.0005], horizontal_T=2e-5,
                circuits=[{"points_m": [[0, 0, 0], [1, 0, 0]], "current_A": 1}])  # fmt: skip
        self.no("dc_field", "at_m", sensor_m=[0, 0, 0], horizontal_T=2e-5,
                dipoles=[{"moment_Am2": moment, "at_m": [0, 0, 0]}])  # fmt: skip

    @given(st.floats(-9e-6, 9e-6), st.floats(-9e-6, 9e-6))
    def test_the_worst_heading_is_the_arc_sine(self, x: float, y: float) -> None:
        found = ask("heading_table", horizontal_T=2e-5, states_T=[[x, y, 0]])
        worst = math.asin(math.hypot(x, y) / 2e-5)
        self.assertAlmostEqual(found["worst_error_rad"], worst, 5)
        self.assertLessEqual(found["worst_error_rad"], worst + 1e-12)
        self.assertEqual(found["swing_rad"], 0.0)
        field = ask("dc_field", sensor_m=[0, 0, 0], horizontal_T=2e-5, limit_rad=worst + 1e-9)
        self.assertEqual((field["worst_error_rad"], field["verdict"]), (0.0, "in"))

    def test_a_field_that_turns_the_needle_east_is_an_error_to_the_east(self) -> None:
        # Heading north, a field to the right: the needle goes right, the heading reads less.
        found = ask("heading_table", horizontal_T=2e-5, states_T=[[0, 2e-6, 0]], heading_rad=0.0)
        self.assertAlmostEqual(found["errors_rad"][0], -math.atan(0.1), 9)
        self.no("heading_table", "states_T", horizontal_T=2e-5, states_T=[[2e-5, 0, 0]])

    @given(st.floats(0.5, 30), st.floats(0.02, 0.5), st.floats(0.001, 0.005))
    def test_a_pair_is_two_long_wires_and_a_long_twist_gains_nothing(
        self, amps: float, r: float, s: float
    ) -> None:
        if r < 3.1 * s:
            return
        found = ask("pair_field", current_A=amps, distance_m=r, spacing_m=s, pitch_m=1e4 * r)
        two = [{"points_m": [[-300.0, y, 0], [300.0, y, 0]], "current_A": i}
               for y, i in ((s / 2, amps), (-s / 2, -amps))]  # fmt: skip
        field = ask("dc_field", sensor_m=[0, r, 0], horizontal_T=1.0, circuits=two)
        self.assertAlmostEqual(field["B_abs_T"] / found["pair_T"], 1.0, 4)
        self.assertAlmostEqual(found["twisted_T"] / found["pair_T"], 1.02, 2)
        tight = ask("pair_field", current_A=amps, distance_m=r, spacing_m=s, pitch_m=r / 3)
        self.assertLess(tight["twisted_T"], 0.01 * found["pair_T"])
        self.no("pair_field", "distance_m", current_A=1, distance_m=s / 2, spacing_m=s)

    @settings(max_examples=40)
    @given(st.lists(st.tuples(P, P, st.floats(0.05, 0.7)), min_size=1, max_size=4), P)
    def test_the_least_move_is_what_stepping_along_the_axis_finds(
        self, items: list[Any], axis: Any
    ) -> None:
        if math.hypot(*axis) < 0.1:
            return
        rows = [{"name": str(n), "class": str(n), "positions_m": [[list(a), list(b)]]}
                for n, (a, b, _) in enumerate(items)]  # fmt: skip
        required = {str(n): keep for n, (_, _, keep) in enumerate(items)}
        asked = {
            "required_m": required,
            "items": rows,
            "move_axis": list(axis),
            "move_limit_m": 1.0,
        }
        found = ask("sensor_siting", sensor_m=[0.0, 0.0, 0.0], **asked)
        unit = np.array(axis) / np.linalg.norm(axis)

        def margin(t: float) -> float:
            rule_ = ask("sensor_siting", sensor_m=list(t * unit), **asked)
            return float(rule_["margin_m"])

        steps = [k / 100 for k in range(101)]
        free = next((t for t in steps if max(margin(t), margin(-t)) >= -1e-9), None)
        move = found["move_m"]
        if move is not None:
            self.assertGreaterEqual(margin(move), -1e-6)
            self.assertLessEqual(abs(move), (free if free is not None else 1.0) + 1e-9)
        else:
            self.assertIsNone(free)
        if move is not None and abs(move) > 0.02:
            inner = [t for t in steps if t < abs(move) - 1e-3]
            self.assertTrue(all(max(margin(t), margin(-t)) < 0 for t in inner))


PINS = {"1": ["24", "20"], "2": ["24", "20"]}


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


class Antennas(Refusing):
    @given(st.floats(0.1, 30), st.floats(0, 1), st.floats(1, 5))
    def test_losses_multiply(self, long: float, per_m: float, vswr: float) -> None:
        found = ask("coax_loss", length_m=long, loss_dB_per_m=per_m, vswr=vswr)
        arrives = 10 ** (-long * per_m / 10) * 4 * vswr / (vswr + 1) ** 2
        self.assertAlmostEqual(found["delivered_fraction"], arrives, 9)
        self.no("coax_loss", "vswr", length_m=1, loss_dB_per_m=1, vswr=0.9)
        plane = ask("antenna", frequency_Hz=1e9, ground_plane_radius_m=0.074948115)
        self.assertEqual(plane["ground_plane"], "in")
        self.no("antenna", "between", frequency_Hz=1e9,
                separations=[{"between": ["a", "b"], "least_m": 1}])  # fmt: skip

    def test_a_wall_beside_hides_half_and_turning_the_aircraft_turns_the_sky(self) -> None:
        wall = {"id": "w", "min_m": [-90, 0.1, -90], "max_m": [90, 0.2, 90]}
        asked = {"antenna_m": [0, 0, 0], "boxes": [wall]}
        level = ask("sky_view", attitudes=[{"pitch_rad": 0}], **asked)
        self.assertAlmostEqual(level["free"], 0.5, delta=0.01)
        worst = level["attitudes"][0]["worst_azimuth_rad"]
        self.assertTrue(0 < worst < math.pi)  # To the right.
        # Right wing down by 90°: the wall is below, and hides nothing of the sky.
        down = ask("sky_view", attitudes=[{"pitch_rad": 0, "roll_rad": math.pi / 2}], **asked)
        self.assertEqual((down["free"], down["attitudes"][0]["worst_azimuth_rad"]), (1.0, None))
        up = ask("sky_view", attitudes=[{"pitch_rad": 0, "roll_rad": -math.pi / 2}], **asked)
        self.assertLess(up["free"], 0.01)
        tail = {"id": "t", "min_m": [1, -9, -9], "max_m": [1.1, 9, 9]}
        nose_up = [{"pitch_rad": p} for p in (-0.4, 0.0, 0.4)]
        free = [a["free"] for a in ask("sky_view", antenna_m=[0, 0, 0], boxes=[tail],
                                       attitudes=nose_up)["attitudes"]]  # fmt: skip
        self.assertTrue(free[0] < free[1] < free[2])

    @settings(max_examples=15)
    @given(P, P, st.floats(0.02, 0.3))
    def test_a_rod_hides_the_rays_whose_points_come_near(self, a: Any, b: Any, r: float) -> None:
        rod = {"id": "r", "a_m": list(a), "b_m": list(b), "radius_m": r}
        asked = {"antenna_m": [0, 0, 0], "attitudes": [{"pitch_rad": 0.0}], "segments": [rod],
                 "azimuths": 24, "bands": 6}  # fmt: skip
        try:
            found = ask("sky_view", **asked)
        except Refused as refusal:
            self.assertEqual(refusal.field, "antenna_m")
            return
        line = np.array(a) + np.linspace(0, 1, 801)[:, None] * (np.array(b) - np.array(a))
        hidden = 0
        for k in range(24):
            psi = (k + 0.5) * 2 * math.pi / 24
            for j in range(6):
                z = (j + 0.5) / 6
                c = math.sqrt(1 - z * z)
                d = np.array([-c * math.cos(psi), c * math.sin(psi), z])
                t = np.maximum(0.0, line @ d)
                hidden += np.linalg.norm(line - t[:, None] * d, axis=1).min() < r
        self.assertAlmostEqual(found["free"], 1 - hidden / 144, delta=1.01 / 144)

    def test_an_antenna_inside_and_boxes_inside_out_are_refused(self) -> None:
        box = {"id": "b", "min_m": [-1, -1, -1], "max_m": [1, 1, 1]}
        level = [{"pitch_rad": 0}]
        self.no("sky_view", "antenna_m", antenna_m=[0, 0, 0], attitudes=level, boxes=[box])
        self.no("sky_view", "boxes", antenna_m=[5, 0, 0], attitudes=level,
                boxes=[box | {"min_m": [2, -1, -1]}])  # fmt: skip
        self.no("sky_view", "attitudes", antenna_m=[5, 0, 0], attitudes=[])
        self.no("sky_view", "azimuths", antenna_m=[5, 0, 0], attitudes=level, azimuths=3)
        least = ask("sky_view", antenna_m=[5, 0, 0], attitudes=level, boxes=[box], least_free=0.99)
        self.assertEqual(least["verdict"], "out" if least["free"] < 0.99 else "in")
