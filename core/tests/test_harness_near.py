"""What a bundle comes near to, sections, and sheets begun from the harness."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.runs.beside import CABLE, TUBE, Beside, at_station
from core.tests.test_harness import LAMP, row, wire
from core.tests.test_wire_sheets import sheet
from core.wiring.harness import Harness, Row
from core.wiring.harness_checks import judged
from core.wiring.harness_lists import cut_list, end_labels
from core.wiring.harness_near import nearest_to
from core.wiring.harness_sheets import BEGUN, begun
from core.wiring.section import section
from core.wiring.spans import distance, line, nearest

STRAIGHT = "0; 0; 500; 2000; 0; 500"
POINT = st.tuples(*(st.floats(-2.0, 2.0) for _ in range(3)))
WAYS = st.lists(POINT, min_size=2, max_size=4, unique=True)


def tube(*way: tuple[float, float, float], service: str = "fuel") -> Beside:
    return Beside(TUBE, "feed", "Feed", 0.005, (way,), service)


def cable(*ways: Any) -> Beside:
    return Beside(CABLE, "rudder-a", "Rudder: Right cable", 0.0016, ways,
                  moves=("at neutral", "at one end of its travel")[: len(ways)])  # fmt: skip


def bundle(name: str = "Aft", points: str = STRAIGHT, **more: Any) -> Row:
    return row("bundle", name, **{"points": points, "way_u": "2", "apart": "strobe/audio"} | more)


def of(b: Row, *beside: Beside, od: str = "4", rows: tuple[Row, ...] = ()) -> Harness:
    held = wire(bundles=b.name, od=od, klass="strobe")
    return Harness((b, held, row("circuit", "Lamp", **LAMP), *rows), beside)


def near(h: Harness, start: str = "near") -> Any:
    found = [c for c in judged(h, h.of("bundle")[0]) if c.key.startswith(start)]
    return found[0] if found else None


class Distances(TestCase):
    @given(WAYS, WAYS)
    def test_the_nearest_is_no_farther_than_any_two_points_and_lies_on_both(
        self, a: list[Any], b: list[Any]
    ) -> None:
        far, p, q, _ = nearest(line(a), line(b))
        self.assertAlmostEqual(far, math.dist(p, q), 9)
        least = min(distance(x, y) for x in line(a) for y in line(b))
        self.assertAlmostEqual(far, least, 9)
        for s in (0.0, 0.3, 0.7, 1.0):
            for x in line(a):
                for y in line(b):
                    at = [u + s * (v - u) for u, v in zip(*x, strict=True)]
                    to = [u + s * (v - u) for u, v in zip(*y, strict=True)]
                    self.assertLessEqual(far, math.dist(at, to) + 1e-9)

    def test_of_a_cable_that_moves_the_nearest_position_counts_and_is_named(self) -> None:
        one = cable(((0.0, 0.3, 0.5), (2.0, 0.3, 0.5)), ((0.0, 0.2, 0.5), (2.0, 0.2, 0.5)))
        found = nearest_to(bundle(), 0.002, one)
        self.assertAlmostEqual(found.gap_m, 0.2 - 0.002 - 0.0016)
        self.assertEqual(found.where, "at one end of its travel")


class Beside_(TestCase):
    def test_side_by_side_and_crossing_ask_different_distances(self) -> None:
        along = tube((0.0, 0.1, 0.4), (2.0, 0.1, 0.4))
        across = tube((1.0, -1.0, 0.4), (1.0, 1.0, 0.4))
        self.assertAlmostEqual(near(of(bundle(), along)).inputs["distance_m"],
                               math.hypot(0.1, 0.1) - 0.005 - 0.002)  # fmt: skip
        self.assertIs(near(of(bundle(), along)).verdict, Verdict.OUT)
        self.assertIs(near(of(bundle(), across)).verdict, Verdict.IN)
        held = near(of(bundle(held_to="feed"), along))
        self.assertEqual((held.verdict, held.inputs["clamped"]), (Verdict.IN, True))

    def test_a_wire_below_fuel_is_told_and_above_it_not(self) -> None:
        for z, told in ((0.4, False), (0.6, True)):
            found = near(of(bundle(), tube((1.0, -1.0, z), (1.0, 1.0, z))))
            self.assertEqual("wire below" in found.said, told)

    def test_dry_lines_and_those_far_away_are_not_told_and_unknown_ones_are_as_wet(self) -> None:
        way = ((0.0, 0.1, 0.5), (2.0, 0.1, 0.5))
        for service, told in (("pitot", False), ("other", True), ("vent", True)):
            self.assertEqual(near(of(bundle(), tube(*way, service=service))) is not None, told)
        self.assertIsNone(near(of(bundle(), tube((0.0, 0.4, 0.5), (2.0, 0.4, 0.5)))))

    def test_what_nobody_said_of_it_is_not_measured_unless_it_is_out_anyhow(self) -> None:
        at = lambda y: tube((0.0, y, 0.5), (2.0, y, 0.5))
        for y, thick, u, word in (
            (0.17, "4", "2", "in"), (0.17, "4", "", "not measured"),
            (0.17, "", "2", "not measured"), (0.1, "", "2", "out"),
        ):  # fmt: skip
            found = near(of(bundle(way_u=u), at(y), od=thick))
            self.assertEqual(found.verdict.value, word, (y, thick, u))
            self.assertEqual(set(found.origins), set(found.inputs))

    def test_a_control_cable_asks_three_inches_or_ones_own_or_a_guard(self) -> None:
        one = cable(((0.0, 0.07, 0.5), (2.0, 0.07, 0.5)))
        for more, word in (
            ({}, "out"), ({"cable_gap": "50"}, "in"), ({"guarded": "Right cable"}, "in"),
            ({"guarded": "Rudder: right cable"}, "in"), ({"guarded": "Left cable"}, "out"),
        ):  # fmt: skip
            self.assertEqual(near(of(bundle(**more), one)).verdict.value, word)
        touching = cable(((0.0, 0.001, 0.5), (2.0, 0.001, 0.5)))
        self.assertEqual(near(of(bundle(guarded="right cable"), touching)).verdict.value, "out")

    def test_bundles_whose_classes_stay_apart_are_kept_apart_by_their_ways(self) -> None:
        other = bundle("Panel", "0; 100; 500; 2000; 100; 500")
        loud = wire("W2", bundles="Panel", od="4", klass="audio")
        for more, word in (
            ({}, "not measured"), ({"apart_by": "150"}, "out"), ({"apart_by": "90"}, "in"),
        ):  # fmt: skip
            h = of(bundle(**more), rows=(other, loud))
            found = near(h, "class panel")
            self.assertEqual(found.verdict.value, word)
            if more:
                self.assertIn(f"at least {more['apart_by']} mm", found.said)
        calm = replace(loud, values={**loud.values, "class": "power"})
        self.assertIsNone(near(of(bundle(apart_by="150"), rows=(other, calm)), "class"))


class Sections(TestCase):
    @given(WAYS, st.floats(0.0, 1.0))
    def test_it_passes_a_station_where_its_line_does(self, way: list[Any], share: float) -> None:
        xs = [p[0] for p in way]
        x = min(max(xs), min(xs) + share * (max(xs) - min(xs)))
        for y, z in at_station(way, x):
            least = min(distance(((x, y, z), (x, y, z)), leg) for leg in pairwise(way))
            self.assertLess(least, 1e-6)
        self.assertTrue(at_station(way, x))
        self.assertEqual(at_station(way, max(xs) + 0.1), [])

    def test_each_bundle_with_its_wires_and_what_passes_beside_it(self) -> None:
        one = cable(((0.0, 0.3, 0.5), (2.0, 0.3, 0.5)))
        cuts = section(of(bundle(), tube((0.0, 0.1, 0.4), (0.5, 0.1, 0.4)), one), 1.0)
        self.assertEqual([c.name for c in cuts], ["Aft", "Rudder: Right cable"])
        self.assertEqual([w.name for w in cuts[0].wires], ["W1"])
        self.assertEqual((cuts[0].y_m, cuts[0].z_m, cuts[0].radius_m), (0.0, 0.5, 0.002))
        self.assertIsNone(section(of(bundle(), od=""), 1.0)[0].radius_m)


class FromTheHarness(TestCase):
    def harness(self) -> Harness:
        c = row("circuit", "Lamp", **LAMP | {"back": "wire", "bus": "Main"})
        rows = (
            row("bus", "Main"), c, bundle(),
            row("connector", "CB1", contacts="terminal", pins="1-4 22 10"),
            row("connector", "P3", contacts="socket", pins="1-4 22 10", mate="J3"),
            row("connector", "J3", contacts="pin", pins="1-4 22 10", mate="P3"),
            wire("W1", awg="16", length="2 m", from_="CB1.1", to="P3.1", bundles="Aft", od="2"),
            wire("W2", awg="16", length="1 m", from_="J3.1", to="L1.1"),
            wire("W3", part="return", awg="16", length="3 m", from_="L1.2", to="CB1.4",
                 bundles="Aft", shield="both", od="2"),
        )  # fmt: skip
        return Harness(rows, (cable(((0.0, 0.3, 0.5), (2.0, 0.3, 0.5))),))

    def test_each_sheet_takes_what_it_is_begun_with(self) -> None:
        h = self.harness()
        for kind in BEGUN:
            self.assertTrue(begun(h, kind), kind)
        self.assertEqual(begun(h, "coax"), {})
        self.assertEqual(begun(Harness(()), "grounds"), {})
        covered = sheet("coverage", begun(h, "coverage"))
        self.assertEqual([c.verdict for c in covered.checks], [Verdict.IN])
        bare = replace(h, rows=tuple(
            replace(r, values={k: v for k, v in r.values.items() if k != "protector"})
            for r in h.rows
        ))  # fmt: skip
        self.assertEqual(sheet("coverage", begun(bare, "coverage")).checks[0].verdict, "out")

    def test_only_what_is_mated_on_a_way_is_an_edge_and_a_load_is_where_its_way_ends(self) -> None:
        h = self.harness()
        edges = {e["id"] for e in begun(h, "coverage")["edges"]}
        self.assertEqual({e for e in edges if "mated" in e}, {"J3.1 mated"})
        c = row("circuit", "Lamp", **LAMP)
        by_structure = replace(h, rows=tuple(c if r.kind == "circuit" else r for r in h.rows))
        ring = {e["id"]: e for e in begun(by_structure, "grounds")["edges"]}
        self.assertEqual(ring["return of Lamp"]["a"], "L1")
        bare = Harness((c,))
        self.assertEqual(begun(bare, "grounds")["edges"][0]["a"], "Lamp")

    def test_what_is_ordered_is_a_tenth_more_up_to_the_next_half_metre(self) -> None:
        for metres, ordered in (("1 m", "1.5"), ("10 m", "11.0"), ("4.6 m", "5.5")):
            (*_, last) = cut_list(Harness((wire("W1", awg="16", length=metres),)))
            self.assertEqual(last, ["AWG 16", "", ordered, "0"])

    def test_currents_there_and_back_in_one_bundle_make_no_field(self) -> None:
        typed = begun(self.harness(), "field")
        self.assertEqual([r["current"] for r in typed["circuits"]], ["7.2 A", "-7.2 A"])
        worked = sheet("field", {**typed, "at": "1000; 0; 800", "earth": "20", "limit": "1"})
        check = next(c for c in worked.checks if c.key == "field")
        self.assertIs(check.verdict, Verdict.IN)
        alone = {"circuits": typed["circuits"][:1]}
        worked = sheet("field", {**alone, "at": "1000; 0; 800", "earth": "20", "limit": "1"})
        self.assertIs(worked.checks[0].verdict, Verdict.OUT)

    def test_a_shield_at_both_ends_rings_with_its_return_and_the_ring_is_walked(self) -> None:
        typed = begun(self.harness(), "grounds")
        worked = sheet("grounds", {**typed, "school": "single"})
        (ring,) = worked.figure["rings"]
        self.assertEqual({e["id"] for e in ring["edges"]}, {"W3", "shield of W3"})
        self.assertEqual(set(ring["nodes"]), {"L1", "CB1"})

    def test_a_label_for_both_ends_says_where_each_goes(self) -> None:
        ends = [x for x in end_labels(self.harness()) if x.wire == "W1"]
        self.assertEqual([x.lines()[0] for x in ends], ["CB1.1 → P3.1", "P3.1 → CB1.1"])
        self.assertEqual(ends[0].lines()[1], "Lamp, AWG 16")


class Accepted(TestCase):
    def test_what_is_out_is_accepted_with_its_reason_and_nothing_else(self) -> None:
        why = [{"what": "apart", "why": "twisted and shielded as its maker says"}]
        loud = wire("W2", bundles="Aft", klass="audio", od="4")
        for more, word in (({}, "out"), ({"accepted": why}, "accepted")):
            h = of(bundle(**more), rows=(loud,))
            found = next(c for c in judged(h, h.of("bundle")[0]) if c.key == "apart")
            self.assertEqual(found.verdict.value, word)
        self.assertIn("as its maker says", found.said)
        free = of(bundle(accepted=why))
        found = next(c for c in judged(free, free.of("bundle")[0]) if c.key == "apart")
        self.assertEqual(found.verdict.value, "in")

    def test_what_is_odd_is_told_as_accepted(self) -> None:
        c = row("connector", "P3", contacts="pin", pins="1-2 22 18", odd="a rivet nut holds it")
        found = {x.key: x for x in judged(Harness((c,)), c)}
        self.assertEqual(found["odd p3"].verdict.value, "accepted")
        self.assertIn("rivet nut", found["odd p3"].said)


class MadeUp(TestCase):
    """Its tightest bend, its ties: thin as it is, one every 19 mm."""

    TIED = {"school": "ties", "ends_held": "yes", "ties": "; ".join(str(n) for n in range(19, 200, 19))}  # fmt: skip
    SHORT = "0; 0; 500; 200; 0; 500"

    def verdict(self, key: str, od: str = "4", **more: Any) -> tuple[str, str]:
        said = {"bend": "45", "bend_u": "1", "points": self.SHORT} | self.TIED | more
        h = of(bundle(**said), od=od)
        found = next(c for c in judged(h, h.of("bundle")[0]) if c.key == key)
        self.assertEqual(set(found.origins), set(found.inputs))
        return found.verdict.value, found.said

    def test_it_bends_no_tighter_than_ten_of_its_thickest_wire(self) -> None:
        for bend, word in (("45", "in"), ("38", "out"), ("40.5", "too close")):
            self.assertEqual(self.verdict("bend", bend=bend)[0], word)
        for more in ({"bend": ""}, {"bend_u": ""}, {"od": ""}):
            self.assertEqual(self.verdict("bend", **more)[0], "not measured")

    def test_room_for_one_more_in_its_conduit_is_told_with_its_cord(self) -> None:
        for inside, room, cord, told in (
            ("12", "there is room", "yes", "A spare cord lies in it."),
            ("6", "no room", "no", "No spare cord"), ("6", "no room", "", "Not said"),
        ):  # fmt: skip
            word, words = self.verdict("conduit", conduit=inside, cord=cord)
            self.assertEqual(word, "in")
            self.assertIn(room, words)
            self.assertIn(told, words)
        self.assertEqual(self.verdict("conduit", conduit="4.5")[0], "out")

    def test_ties_that_lack_are_counted_and_what_nobody_said_is_named(self) -> None:
        self.assertEqual(self.verdict("ties")[0], "in")
        word, words = self.verdict("ties", ties="19; 38; 57; 95; 114; 133; 152; 171; 190")
        self.assertEqual((word, "1 more are wanted" in words), ("out", True))
        for key, told in (
            ("school", "tied or laced"), ("ties", "where its ties"), ("ends_held", "each end"),
            ("od", "how thick"),
        ):  # fmt: skip
            word, words = self.verdict("ties", **{key: ""})
            self.assertEqual((word, told in words), ("not measured", True), words)
        self.assertEqual(self.verdict("ties", school="lacing")[0], "in")
        for every, word in (("19", "in"), ("18", "in"), ("25", "out")):
            self.assertEqual(self.verdict("ties", ties="", every=every)[0], word)
        with self.assertRaises(Refused) as caught:
            self.verdict("ties", every="19")
        self.assertIn("one of both", caught.exception.reason)
        with self.assertRaises(Refused) as caught:
            self.verdict("ties", ties="50; 300")
        self.assertEqual(caught.exception.field, "ties")
        for every in ("0", "0.05"):
            with self.assertRaises(Refused) as caught:
                self.verdict("ties", ties="", every=every)
            self.assertEqual(caught.exception.field, "every")


class Sensor(TestCase):
    def test_a_short_distance_is_accepted_with_its_reason_alone(self) -> None:
        typed = {"at": "1000; 0; 500", "required": [{"id": "steel", "least": "300"}],
                 "items": [{"id": "bolt", "class": "steel", "points": "1000; 200; 500"}]}  # fmt: skip
        self.assertEqual([c.verdict.value for c in sheet("sensor place", typed).checks], ["out"])
        why = [{"item": "bolt", "why": "the error was swung"}]
        (check,) = sheet("sensor place", {**typed, "excepted": why}).checks
        self.assertEqual(check.verdict.value, "accepted")
        self.assertIn("the error was swung", check.said)
        far = {**typed, "required": [{"id": "steel", "least": "100"}], "excepted": why}
        self.assertEqual(sheet("sensor place", far).checks[0].verdict.value, "in")
