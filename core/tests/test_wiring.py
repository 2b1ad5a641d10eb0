"""Wiring: the table's own sense, sizes against a second reckoning, batteries by small steps,
bundles, separation and ties against brute force."""

from __future__ import annotations

import math
import random
from itertools import pairwise
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.rulebook import rule
from core.wiring.tables import GAUGES, MIL_M2, PROTECTORS, WIRES

amps = st.floats(0.05, 60.0)
metres = st.floats(0.1, 12.0)


def ask(name: str, **inputs: Any) -> dict[str, Any]:
    return rule(f"wiring.{name}").run(inputs)


class Refusing(TestCase):
    def no(self, name: str, field: str, **inputs: Any) -> None:
        with self.assertRaises(Refused) as caught:
            ask(name, **inputs)
        self.assertEqual(caught.exception.field, field, str(caught.exception))


class Wires(Refusing):
    """The table and what is made of it."""

    def test_the_table_is_monotone_and_copper(self) -> None:
        for a, b in pairwise(GAUGES):
            thin, thick = WIRES[a], WIRES[b]
            self.assertGreater(thin[0], thick[0])
            self.assertLess(thin[1], thick[1])
            for x, y in zip(thin[2], thick[2], strict=True):
                self.assertLess(x, y)
        for awg, (per_1000_ft, mils, _) in WIRES.items():
            pure = 1.0 / (58e6 * mils * MIL_M2)
            over = per_1000_ft / 304.8 / pure - 1.0
            low, high = (0.29, 0.31) if awg == "24" else (0.12, 0.21)
            self.assertTrue(low < over < high, f"{awg}: {over}")

    @given(st.sampled_from(GAUGES), st.floats(-65, 260), st.floats(-65, 260), metres)
    def test_resistance_is_a_straight_line_through_minus_234_5(
        self, awg: str, a: float, b: float, long: float
    ) -> None:
        one = ask("resistance", awg=awg, t_C=a, length_m=long)["ohm"]
        two = ask("resistance", awg=awg, t_C=b, length_m=2 * long)["ohm"]
        self.assertAlmostEqual(two / one, 2 * (234.5 + b) / (234.5 + a), 9)
        self.assertAlmostEqual(ask("resistance", awg=awg)["ohm"], WIRES[awg][0] / 304.8, 12)

    @settings(max_examples=200)
    @given(
        amps, metres, st.floats(0.0, 0.05), st.floats(-20, 100), st.sampled_from([105, 150, 200]),
        st.sampled_from(["ac", "joule"]), st.booleans(), st.sampled_from([None, *GAUGES]),
    )  # fmt: skip
    def test_a_size_is_the_thinnest_of_all_gauges_tried_by_hand(
        self, current: float, feed: float, contacts: float, ambient: float, rated: int,
        method: str, wired: bool, least: str | None,
    ) -> None:  # fmt: skip
        back = {"kind": "wire", "length_m": feed} if wired else {"kind": "structure", "ohm": 0.003}
        inputs = {
            "current_A": current, "system_V": 14, "feed_m": feed, "return": back,
            "contacts_ohm": contacts, "ambient_C": ambient, "rating_C": rated,
            "temperature_method": method, "least_awg": least,
        }  # fmt: skip
        found = ask("size_wire", **inputs)
        good = []
        for awg in GAUGES:
            allow = WIRES[awg][2][(105, 150, 200).index(rated)]
            allow *= min(1.0, ((rated - ambient) / (rated - 70)) ** 0.625)
            warm = ambient
            if method == "ac":
                warm += (rated - ambient) * math.sqrt(current / allow)
            else:  # The fixed point of temperature and resistance, walked to.
                for _ in range(4000):
                    heat = (234.5 + warm) / (234.5 + rated)
                    warm = ambient + (rated - ambient) * (current / allow) ** 2 * heat
                    if warm > 1e6:
                        break
            if warm > 1e6:
                continue
            ohm = WIRES[awg][0] / 304.8 * (234.5 + warm) / 254.5 * feed * (2 if wired else 1)
            drop = current * (ohm + contacts + (0.0 if wired else 0.003))
            thick = least is None or GAUGES.index(awg) >= GAUGES.index(least)
            if abs(drop - 0.5) < 1e-6 or abs(current - allow) < 1e-6:
                return
            if drop <= 0.5 and current <= allow and thick:
                good.append(awg)
        self.assertEqual(found["awg"], good[0] if good else None)
        if good and found["next_smaller"] and found["governing"] != "least size":
            smaller = found["next_smaller"]
            margins = [smaller["thermal_margin_A"], smaller["drop_margin_V"] or -1.0]
            self.assertLess(min(margins), 0.0)

    def test_governing_says_which_school_asked_for_it(self) -> None:
        base = {"system_V": 14, "return": {"kind": "structure", "ohm": 0}, "rating_C": 150}
        both = ask("size_wire", current_A=5.5, feed_m=3.5, ambient_C=20, **base)
        self.assertEqual((both["by_drop"], both["by_thermal"]), ("16", "20"))
        self.assertEqual(both["governing"], "voltage drop")
        short = ask("size_wire", current_A=5.5, feed_m=0.5, ambient_C=20, **base)
        self.assertEqual((short["governing"], short["awg"]), ("thermal", "20"))
        same = ask("size_wire", current_A=5.5, feed_m=1.9, ambient_C=20, **base)
        self.assertEqual((same["governing"], same["awg"]), ("both", "20"))
        used = ask("size_wire", current_A=10, feed_m=1, ambient_C=20, contacts_ohm=0.05, **base)
        self.assertEqual((used["awg"], used["reason"]),
                         (None, "contacts and structure alone use up the drop"))  # fmt: skip
        own = ask("size_wire", current_A=5, feed_m=1, ambient_C=20, **base,
                  allowable_A={"12": 30, "14": 4})  # fmt: skip
        self.assertEqual((own["awg"], own["allowable_A"], own["by_thermal"]), ("12", 30, "12"))

    def test_what_flows_nowhere_is_refused(self) -> None:
        base = {"current_A": 5, "feed_m": 1, "return": {"kind": "structure", "ohm": 0},
                "ambient_C": 20, "rating_C": 150, "system_V": 14}  # fmt: skip
        for field, more in (
            ("system_V", {"system_V": 12}), ("system_V", {"system_V": None}),
            ("ambient_C", {"ambient_C": 150}), ("table_factor", {"table_factor": 0}),
            ("table_factor", {"table_factor": 1.1}), ("least_awg", {"least_awg": "13"}),
            ("length_m", {"return": {"kind": "wire"}}), ("ohm", {"return": {"kind": "structure"}}),
            ("rating_C", {"rating_C": 120}), ("allowable_A", {"allowable_A": {"9": 5}}),
            ("feed_m", {"feed_m": 0}), ("drop_limit_V", {"drop_limit_V": 0}),
            ("return", {"return": None}),
        ):  # fmt: skip
            with self.subTest(field=field, more=more):
                self.no("size_wire", field, **base | more)


class Protectors(Refusing):
    """Breakers, fuses, links, shorts."""

    @given(st.floats(0.1, 20.0), st.lists(st.sampled_from(["22", "20", "18", "16", "14"]),
           min_size=1, max_size=4), st.sampled_from(["breaker", "fuse"]))  # fmt: skip
    def test_what_is_in_protects_every_wire_and_carries_the_load(
        self, load: float, wires: list[str], kind: str
    ) -> None:
        found = ask("protect", load_A=load, wires=wires, kind=kind)
        limit = min(PROTECTORS[kind][w] for w in wires)
        if found["verdict"] == "in":
            self.assertGreaterEqual(found["rating_A"], 1.25 * load - 1e-9)
            self.assertLessEqual(found["rating_A"], limit)
        elif found["wire_needed"]:
            again = ask("protect", load_A=load, wires=[found["wire_needed"]], kind=kind)
            self.assertEqual(again["verdict"], "in")
        self.assertEqual(found["wire_limit_A"], limit)

    def test_reasons_come_in_their_order(self) -> None:
        for more, reason in (
            ({"load_A": 60}, "no rating in the list is large enough"),
            ({"load_A": 3, "rating_A": 15}, "protector is larger than the wire allows"),
            ({"load_A": 3, "rating_A": 10, "allowable_A": {"18": 9}},
             "protector above the wire's rating here"),
            ({"load_A": 9, "rating_A": 10}, "protector is below the load rule"),
        ):  # fmt: skip
            found = ask("protect", wires=["18"], **more)
            self.assertEqual((found["verdict"], found["reason"]), ("out", reason))
        picked = ask("protect", load_A=12, wires=["18"])
        self.assertEqual((picked["rating_A"], picked["wire_needed"]), (None, "16"))
        self.no("protect", "wire_limit_A", load_A=3, wires=["24"])
        self.no("protect", "wires", load_A=3, wires=["13"])
        self.no("protect", "allowable_A", load_A=3, wires=["18", "16"], allowable_A={"18": 9})
        self.no("protect", "factor", load_A=3, wires=["18"], factor=0.9)

    def test_a_curve_holds_between_its_points_alone(self) -> None:
        curve = [[1.5, 30], [2, 10], [4, 1.2]]
        for amps_, lasts, verdict in (
            (10, 99, "in"), (12, 29, "in"), (12, 31, "not measured"), (20, 9.9, "in"),
            (20, 10.001, "out"), (40, 1.1, "in"), (41, 0.01, "not measured"),
        ):  # fmt: skip
            found = ask("trip_check", inrush_A=amps_, inrush_s=lasts, rating_A=10, curve=curve)
            self.assertEqual(found["verdict"], verdict, (amps_, lasts))
        middle = ask("trip_check", inrush_A=10 * math.sqrt(8), inrush_s=1, rating_A=10, curve=curve)
        self.assertAlmostEqual(middle["least_trip_s"], math.sqrt(12), 9)
        for wrong in ([[1.5, 30]], [[2, 10], [1.5, 5]], [[1.5, 10], [2, 10]], [[1, 9], [2, 3]]):
            self.no("trip_check", "curve", inrush_A=20, inrush_s=1, rating_A=10, curve=wrong)

    def test_links_are_four_numbers_thinner(self) -> None:
        for awg, link in (("16", "20"), ("8", "12"), ("0", "4"), ("20", "24")):
            self.assertEqual(ask("fusible_link", awg=awg)["link_awg"], link)
        self.no("fusible_link", "awg", awg="22")
        self.no("fusible_link", "awg", awg="00")
        self.assertEqual(ask("fusible_link", awg="00", steps=5)["link_awg"], "4")

    @given(st.floats(6, 30), st.floats(0.001, 0.05), st.floats(0, 0.05), st.floats(0, 0.5))
    def test_a_short_is_broken_only_with_its_uncertainty(
        self, emf: float, inside: float, loop: float, U: float
    ) -> None:
        i = emf / (inside + loop)
        for rated, verdict in ((i * (1 + U) * 1.001, "in"), (i * (1 - U) * 0.999, "out")):
            found = ask("fault_current", emf_V=emf, battery_ohm=inside, loop_ohm=loop,
                        interrupting_A=rated, U_rel=U)  # fmt: skip
            self.assertEqual(found["verdict"], verdict)
        self.no("fault_current", "battery_ohm", emf_V=12, battery_ohm=0, interrupting_A=9)

    def test_a_load_fed_past_its_breaker_is_told(self) -> None:
        wire = {"id": "w", "a": "battery", "b": "bus", "kind": "wire"}
        breaker = {"id": "cb", "a": "bus", "b": "radio", "kind": "protector"}
        around = {"id": "x", "a": "battery", "b": "radio", "kind": "switch"}
        asked = {"source": "battery", "loads": ["radio"]}
        self.assertEqual(ask("coverage", edges=[wire, breaker], **asked)["unprotected"], [])
        found = ask("coverage", edges=[wire, breaker, around], **asked)
        self.assertEqual(found["unprotected"], ["radio"])
        why = ask(
            "coverage", edges=[wire, breaker, around], exempt={"radio": "kept short"}, **asked
        )
        self.assertEqual((why["unprotected"], why["exempt"]), ([], ["radio"]))
        self.assertEqual(ask("coverage", edges=[wire], **asked)["unfed"], ["radio"])
        self.no("coverage", "exempt", edges=[wire], exempt={"radio": " "}, **asked)
        self.no("coverage", "edges", edges=[wire, wire], **asked)


BATTERY = {"capacity_Ah": 18, "rate_h": 20, "peukert": 1.18, "temperature_factor": 0.85,
           "age_factor": 0.9, "reserve_fraction": 0.1}  # fmt: skip


def lasts(amps_: float) -> float:
    """By Peukert's rule in another form: t = H (I_n / I)^n, no bonus below the rated current."""
    whole = 18 * 0.85 * 0.9
    rated = whole / 20
    hours = 20 * (rated / amps_) ** (1.18 if amps_ > rated else 1.0)
    return hours * 3600 * 0.9


class Batteries(Refusing):
    """Endurance and shedding."""

    @given(st.floats(0.1, 40))
    def test_a_constant_draw_lasts_as_by_the_other_form(self, amps_: float) -> None:
        found = ask("battery_endurance", **BATTERY, steps=[{"current_A": amps_}])
        self.assertAlmostEqual(found["endurance_s"] / lasts(amps_), 1.0, 9)

    @settings(max_examples=40)
    @given(st.lists(st.tuples(st.floats(0.0, 30.0), st.floats(30.0, 900.0)), min_size=1, max_size=5),
           st.floats(0.5, 20.0), st.booleans())  # fmt: skip
    def test_small_steps_in_time_end_where_the_rule_says(
        self, steps: list[tuple[float, float]], last: float, volts: bool
    ) -> None:
        given_ = [{"current_A": a, "duration_s": t} for a, t in steps] + [{"current_A": last}]
        limit = {"emf_full_V": 12.8, "emf_end_V": 10.6, "resistance_ohm": 0.02,
                 "least_bus_V": 11.4} if volts else {}  # fmt: skip
        found = ask("battery_endurance", **BATTERY, steps=given_, **limit)
        used, time, dt = 0.0, 0.0, 2.0
        ended = None
        for n, (a, t) in enumerate([*steps, (last, 1e7)]):
            stop = 1.0
            if volts:
                stop = min(1.0, (12.8 - 11.4 - a * 0.02) / (12.8 - 10.6))
            while t > 1e-9 and ended is None:
                if used >= stop:
                    ended = n
                    break
                step = min(dt, t)
                used += step / lasts(a) if a else 0.0
                time, t = time + step, t - step
            if ended is not None:
                break
        self.assertEqual(found["step"], ended)
        self.assertAlmostEqual(found["endurance_s"], time, delta=2.1)

    def test_steps_that_end_first_say_what_was_used(self) -> None:
        found = ask("battery_endurance", **BATTERY, steps=[{"current_A": 5, "duration_s": 60}])
        self.assertIsNone(found["endurance_s"])
        self.assertAlmostEqual(found["used_fraction"], 60 / lasts(5), 9)
        self.no("battery_endurance", "current_A", **BATTERY, steps=[{"current_A": 0}])
        self.no("battery_endurance", "duration_s", **BATTERY,
                steps=[{"current_A": 3}, {"current_A": 3}])  # fmt: skip
        self.no("battery_endurance", "current_A", **BATTERY, steps=[{"current_A": 9}], valid_to_A=8)
        self.no("battery_endurance", "least_bus_V", **BATTERY, steps=[{"power_W": 9}])
        self.no("battery_endurance", "age_factor", **BATTERY | {"age_factor": 0},
                steps=[{"current_A": 9}])  # fmt: skip

    @given(st.floats(0.5, 8), st.lists(st.floats(0.5, 8), min_size=1, max_size=4),
           st.floats(0, 900), st.floats(600, 4000))  # fmt: skip
    def test_shedding_is_the_same_as_two_steps_of_the_battery(
        self, keep: float, shed: list[float], decide: float, required: float
    ) -> None:
        rows = [{"name": str(n), "current_A": a} for n, a in enumerate(shed)]
        found = ask("shed_plan", **BATTERY, required_s=required, keep_A=keep, shed=rows,
                    decide_s=decide)  # fmt: skip
        full = keep + sum(shed)
        for n, row in enumerate(found["after"]):
            steps = [{"current_A": full, "duration_s": decide}] if decide else []
            steps.append({"current_A": keep + sum(shed[n + 1 :])})
            two = ask("battery_endurance", **BATTERY, steps=steps)
            self.assertAlmostEqual(row["endurance_s"] / two["endurance_s"], 1.0, 6)
        latest = found["latest_shed_s"]
        if latest is not None and latest > 1.0:
            steps = [{"current_A": full, "duration_s": latest}, {"current_A": keep}]
            two = ask("battery_endurance", **BATTERY, steps=steps)
            self.assertAlmostEqual(two["endurance_s"] / required, 1.0, 6)
            self.assertEqual(found["verdict"], "in" if decide <= latest else "out")
        elif latest is None:
            self.assertEqual(found["verdict"] == "in", lasts(full) >= required)

    @given(st.lists(st.tuples(st.floats(0, 20), st.floats(0, 1)), min_size=1, max_size=6),
           st.floats(5, 60), st.floats(0, 1), st.floats(60, 3600))  # fmt: skip
    def test_a_phase_is_the_sum_of_its_loads(
        self, loads: list[tuple[float, float]], rated: float, factor: float, lasts_: float
    ) -> None:
        found = ask(
            "load_analysis",
            alternator_A=rated,
            phases=[{"name": "climb", "duration_s": lasts_, "alternator_factor": factor}],
            loads=[{"name": str(n), "current_A": a, "duty": {"climb": d}}
                   for n, (a, d) in enumerate(loads)],
        )["phases"][0]  # fmt: skip
        average = sum(a * d for a, d in loads)
        self.assertAlmostEqual(found["average_A"], average, 9)
        self.assertAlmostEqual(found["peak_A"], sum(a for a, d in loads if d > 0), 9)
        self.assertAlmostEqual(found["margin_A"], 0.8 * rated * factor - average, 9)
        short = max(0.0, average - rated * factor) * lasts_ / 3600
        self.assertAlmostEqual(found["battery_Ah"], short, 9)
        if factor:
            self.assertEqual(found["verdict"], "in" if found["margin_A"] >= -1e-12 else "out")

    def test_what_is_no_analysis_is_refused(self) -> None:
        phase = {"name": "climb", "duration_s": 60}
        load = {"name": "lamp", "current_A": 2, "duty": {"climb": 1}}
        base = {"alternator_A": 20, "phases": [phase], "loads": [load]}
        for field, more in (
            ("phases", {"phases": []}), ("phases", {"phases": [phase | {"duration_s": 0}]}),
            ("phases", {"phases": [phase, phase]}),
            ("duty", {"loads": [load | {"duty": {"taxi": 1}}]}),
            ("duty", {"loads": [load | {"duty": {"climb": 1.2}}]}),
            ("current_A", {"loads": [load | {"power_W": 9}]}),
            ("bus_V", {"loads": [{"name": "m", "power_W": 9, "duty": {}}]}),
            ("charge_A", {"phases": [phase | {"alternator_factor": 0, "charge_A": 1}]}),
            ("usable_fraction", {"usable_fraction": 0}),
        ):  # fmt: skip
            with self.subTest(field=field):
                self.no("load_analysis", field, **base | more)


class Bundles(Refusing):
    """Thickness, load, bends, ties, distances."""

    def test_the_factor_covers_the_closest_packing_of_equal_circles(self) -> None:
        # Least enclosing circle over the circles' own, of 3 to 7 and 19 equal ones.
        for n, ratio in ((3, 2.1547), (4, 2.4142), (5, 2.7013), (6, 3.0), (7, 3.0), (19, 4.8637)):
            found = ask("bundle_diameter", od_m=[0.002] * n)["diameter_m"]
            self.assertGreaterEqual(found, 0.002 * ratio - 1e-7, n)
        self.assertEqual(ask("bundle_diameter", od_m=[0.002])["diameter_m"], 0.002)
        self.no("bundle_diameter", "od_m", od_m=[])

    @given(st.lists(st.tuples(st.sampled_from(GAUGES), st.floats(0, 5)), min_size=1, max_size=6))
    def test_a_bundle_s_share_is_of_all_its_wires(self, wires: list[tuple[str, float]]) -> None:
        rows = [{"awg": g, "rating_C": 105, "current_A": a} for g, a in wires]
        found = ask("bundle_load", wires=rows)
        most = sum(WIRES[g][2][0] for g, _ in wires)
        self.assertAlmostEqual(found["share"], sum(a for _, a in wires) / most, 9)
        self.assertEqual(found["enter"], "table_factor" if found["verdict"] == "out" else None)
        self.no("bundle_load", "rating_C", wires=[*rows, rows[0] | {"rating_C": 150}])

    def test_bends_and_their_multiples(self) -> None:
        for kind, times in (("wire", 10), ("supported", 3), ("coax", 6), ("coax semi-rigid", 10)):
            least = 0.004 * times
            for off, verdict in ((0.0, "in"), (-0.0005, "too close"), (-0.002, "out")):
                found = ask("bend_radius", largest_od_m=0.004, radius_m=least + 0.001 + off,
                            U_m=0.001, kind=kind)  # fmt: skip
                self.assertEqual(found["verdict"], verdict if off > -0.002 else "too close")
            far = ask(
                "bend_radius", largest_od_m=0.004, radius_m=least - 0.0011, U_m=0.001, kind=kind
            )
            self.assertEqual(far["verdict"], "out")
        own = ask("bend_radius", largest_od_m=0.004, radius_m=0.02, kind="coax", coax_multiple=4)
        self.assertEqual((own["least_m"], own["verdict"]), (0.016, "in"))
        self.no("bend_radius", "coax_multiple", largest_od_m=0.004, radius_m=1, coax_multiple=4)

    def test_distances_to_fluid_and_cable(self) -> None:
        for parallel, clamped, needs in ((True, False, 0.1524), (False, False, 0.0508),
                                         (True, True, 0.0127), (False, True, 0.0127)):  # fmt: skip
            asked = {"above": True, "parallel": parallel, "clamped": clamped, "U_m": 0.002}
            found = ask("fluid_separation", distance_m=needs + 0.002, **asked)
            self.assertEqual(found["verdict"], "in")
            self.assertAlmostEqual(found["required_m"], needs, 9)
            near = ask("fluid_separation", distance_m=needs + 0.0019, **asked)
            self.assertEqual(near["verdict"], "too close")
        for guard, far, verdict in ((False, 0.0762, "in"), (False, 0.076, "out"),
                                    (True, 0.001, "in"), (True, 0.0, "out")):  # fmt: skip
            found = ask("control_cable_separation", distance_m=far, guard=guard)
            self.assertEqual(found["verdict"], verdict)

    @settings(max_examples=30)
    @given(st.lists(st.tuples(*[st.floats(-1, 1)] * 3), min_size=2, max_size=4),
           st.lists(st.tuples(*[st.floats(-1, 1)] * 3), min_size=2, max_size=4),
           st.floats(0.05, 0.6))  # fmt: skip
    def test_what_is_exposed_is_what_many_points_along_it_say(
        self, a: list[tuple[float, ...]], b: list[tuple[float, ...]], least: float
    ) -> None:
        runs = [{"id": "loud", "class": "strobe", "points_m": a, "radius_m": 0.003},
                {"id": "quiet", "class": "audio", "points_m": b, "radius_m": 0.002}]  # fmt: skip
        pairs = [{"classes": ["audio", "strobe"], "least_m": least}]
        found = ask("segregation", runs=runs, pairs=pairs, sensitive=["audio"])["pairs"][0]
        nearest, exposed = 9.0, 0.0
        for p, q in pairwise(b):
            long, n = math.dist(p, q), 400
            for k in range(n):
                at = [x + (k + 0.5) / n * (y - x) for x, y in zip(p, q, strict=True)]
                far = min(_to(at, u, v) for u, v in pairwise(a))
                nearest = min(nearest, far)
                exposed += long / n if far <= least + 0.005 else 0.0
        self.assertAlmostEqual(found["exposed_m"], exposed, delta=0.06)
        self.assertAlmostEqual(found["distance_m"], nearest - 0.005, delta=0.01)
        self.assertLessEqual(found["distance_m"], nearest - 0.005 + 1e-9)

    def test_ties_by_walking_along_the_bundle(self) -> None:
        random.seed(5)
        for _ in range(60):
            long, d = random.uniform(0.05, 1.5), random.uniform(0.003, 0.04)
            at = [random.uniform(0, long) for _ in range(random.randrange(6))]
            held = random.random() < 0.5
            fitted = [{"id": str(n), "at_m": x, "kind": "tie"} for n, x in enumerate(at)]
            found = ask("ties", length_m=long, diameter_m=d, school="ties", fitted=fitted,
                        ends_held=held)  # fmt: skip
            add = 0
            for a, b in pairwise([0.0, *sorted(at), long]):
                while b - a > found["spacing_m"] + 1e-9:
                    a, add = a + found["spacing_m"], add + 1
            if not held:
                add += sum(1 for e in (0.0, long) if all(abs(x - e) > 0.01 for x in at))
            self.assertEqual(found["to_add"], add)
        self.no("ties", "source", length_m=1, diameter_m=0.01, school="ties", spacing_m=0.05)
        beyond = [{"id": "t", "at_m": 1.1, "kind": "tie"}]
        self.no("ties", "at_m", length_m=1, diameter_m=0.01, school="ties", fitted=beyond)


def _to(p: Any, a: Any, b: Any) -> float:
    """From a point to a piece, by many steps along it and then closer."""
    low, high = 0.0, 1.0
    for _ in range(60):
        x, y = low + (high - low) / 3, high - (high - low) / 3
        dx, dy = (
            math.dist(p, [u + t * (v - u) for u, v in zip(a, b, strict=True)]) for t in (x, y)
        )
        low, high = (low, y) if dx < dy else (x, high)
    return math.dist(p, [u + low * (v - u) for u, v in zip(a, b, strict=True)])
