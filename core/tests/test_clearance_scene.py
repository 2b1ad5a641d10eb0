"""What takes room in an aircraft, how near it comes over all positions, and what is said of it."""

import math
from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.clearance.apart import SHIPPED, Apart, Sorts, chosen
from core.clearance.checks import Done, checks_of, layers_told, pair_check
from core.clearance.distance import BoxIn
from core.clearance.entry import refuse
from core.clearance.figures import film
from core.clearance.motion import MovingIn, RotateIn, StepIn
from core.clearance.pairs import looked, meet, pieces
from core.clearance.rows import ROWS
from core.clearance.scene import Row, Scene, beyond_of, turned_axes
from core.clearance.search import moving_gap
from core.clearance.table import Pair, Thing, TooMany
from core.runs.beside import BUNDLE, TUBE, Beside
from core.runs.moved import Axis, Carrier, Moved, Movement
from core.worksheets.reading import read

TODAY = date(2026, 11, 20)
seeds = st.integers(0, 10**6)


def row(kind, name, source="", **typed):
    """A row as somebody types it, bare lengths in mm."""
    values, _ = read(ROWS[kind], typed, "mm", lambda *_: None)
    return Row(kind, name.casefold().replace(" ", "-"), name, values, source)


def corners(*points):
    return [dict(zip("xyz", map(str, p), strict=True)) for p in points]


def rotation(axis, angle):
    x, y, z = np.array(axis) / np.linalg.norm(axis)
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * (k @ k)


def swung(axis: Axis, points, origin, about, ratio=1.0, **more) -> Thing:
    """A line that turns with an axis, as a table."""
    poses = np.array(
        [(np.array(points) - origin) @ rotation(about, ratio * q).T + origin for q in axis.nodes]
    )
    given = {"key": f"rod {axis.id}", "kind": "control rod", "name": f"Rod of {axis.name}"}
    return Thing(
        **given | more, axes=(axis.id,), poses=poses, radius_m=0.008,
        allowance=np.zeros(len(points) - 1), control=axis.name, u_m=0.001,
    )  # fmt: skip


PITCH = Axis("elevator/pitch", "Elevator", "rad", tuple(np.linspace(-0.33, 0.45, 33)))
ROLL = Axis("ailerons/roll", "Ailerons", "rad", tuple(np.linspace(-0.25, 0.37, 33)))
SEAT = Axis("seat/notch", "Seat", "m", (0.0, 0.05, 0.12), ("near", "middle", "far"))
AXES = {a.id: a for a in (PITCH, ROLL, SEAT)}


class Tables(TestCase):
    """Things known at positions alone, against the exact movement."""

    @settings(max_examples=25, deadline=None)
    @given(seeds)
    def test_the_least_of_tables_is_that_of_the_movement_itself(self, seed):
        rng = np.random.default_rng(seed)
        a, b = rng.normal(0, 0.2, (2, 3)), rng.normal([0.2, 0, 0], 0.2, (2, 3))
        about, other = rng.normal(0, 1, 3), rng.normal(0, 1, 3)
        one = swung(PITCH, a, a[0], about)
        two = swung(ROLL, b, b[0], other, 0.8)
        near = Pair(one, two, AXES).least()
        exact = moving_gap(
            MovingIn(a.tolist(), 0.008, (StepIn(0, RotateIn(tuple(a[0]), tuple(about), 1.0)),)),
            MovingIn(b.tolist(), 0.008, (StepIn(1, RotateIn(tuple(b[0]), tuple(other), 0.8)),)),
            [-0.33, -0.25], [0.45, 0.37], 1e-5,
        )  # fmt: skip
        bend = one.bend(AXES) + two.bend(AXES)
        self.assertLessEqual(near.low_m, exact.least + 1e-9)
        self.assertAlmostEqual(near.gap_m, exact.least, delta=bend + 5e-5)
        self.assertLess(bend, 3e-4)
        self.assertAlmostEqual(math.dist(near.on_a, near.on_b) - 0.016, near.gap_m, places=7)

    @settings(max_examples=15, deadline=None)
    @given(seeds)
    def test_a_box_on_a_lever_is_met_as_by_the_movement_itself(self, seed):
        rng = np.random.default_rng(seed)
        run = rng.normal([0.3, 0, 0], 0.25, (3, 3))
        half, centre = np.array([0.05, 0.02, 0.03]), np.array([0.25, 0.0, 0.02])
        box = swung(
            PITCH, np.vstack([centre, centre + np.eye(3)]), np.zeros(3), [0, 1, 0], key="shape box"
        )
        box = replace(box, half=half, radius_m=0.0, allowance=np.zeros(1))
        line = Thing("tube t", "fuel", "Tube", (), run, 0.004, np.zeros(2), u_m=0.001)
        near = Pair(line, box, AXES).least()
        turn = StepIn(0, RotateIn((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), 1.0))
        exact = moving_gap(
            MovingIn(run.tolist(), 0.004),
            MovingIn(box=BoxIn(tuple(centre), tuple(half)), steps=(turn,)), [-0.33], [0.45], 1e-6,
        )  # fmt: skip
        self.assertLessEqual(near.low_m, exact.least + 1e-9)
        self.assertAlmostEqual(near.gap_m, exact.least, delta=6e-4)

    def test_a_setting_is_only_at_its_notches(self):
        slide = np.array([[[0.1 + q, 0, 0], [0.1 + q, 0.1, 0]] for q in SEAT.nodes])
        seat = Thing("shape s", "structure", "Seat", (SEAT.id,), slide, 0.01, np.zeros(1))
        post = Thing("shape p", "structure", "Post", (), np.array([[0.2, 0, 0], [0.2, 0.1, 0]]),
                     0.005, np.zeros(1))  # fmt: skip
        near = Pair(seat, post, AXES).least()
        self.assertAlmostEqual(near.gap_m, 0.02 - 0.015)
        self.assertAlmostEqual(near.at[SEAT.id], 0.12)
        gliding = {SEAT.id: replace(SEAT, notches=())}
        self.assertAlmostEqual(Pair(seat, post, gliding).least().gap_m, -0.015, places=5)

    def test_three_that_move_at_will_are_not_worked_out(self):
        third = Axis("x/y", "Flap", "rad", (0.0, 0.5))
        thing = swung(third, [[0, 0, 0], [0, 0.1, 0]], np.zeros(3), [0, 0, 1])
        both = replace(
            swung(PITCH, [[0, 0, 0], [0.1, 0, 0]], np.zeros(3), [0, 1, 0]),
            axes=(PITCH.id, ROLL.id), poses=np.zeros((33, 33, 2, 3)),
        )  # fmt: skip
        with self.assertRaises(TooMany):
            Pair(thing, both, {**AXES, third.id: third})


class Distances(TestCase):
    def test_exact_kinds_come_before_any_and_the_house_s_own_before_what_is_shipped(self):
        wire, fuel = Sorts("wire", False), Sorts("fuel", False)
        self.assertAlmostEqual(chosen(SHIPPED, wire, fuel).rule.least_m, 0.0508)
        self.assertAlmostEqual(chosen(SHIPPED, fuel, wire, ["clamped"]).rule.least_m, 0.0127)
        own = Apart("fuel", "wire", 0.03, "manual", row="r")
        self.assertAlmostEqual(chosen([own, *SHIPPED], wire, fuel).rule.least_m, 0.03)
        general = Apart("any", "wire", 0.2, "manual", row="g")
        self.assertAlmostEqual(chosen([general, *SHIPPED], wire, fuel).rule.least_m, 0.0508)
        vent = Sorts("vent", False)
        self.assertAlmostEqual(chosen([general, *SHIPPED], wire, vent).rule.least_m, 0.2)
        self.assertIsNone(chosen(SHIPPED, fuel, vent).rule)

    def test_of_several_that_fit_the_largest_and_what_moves_by_itself(self):
        rules = [
            Apart("moving", "any", 0.01, "m", row="1"),
            Apart("any", "moving", 0.02, "m", row="2"),
        ]
        rod, frame = Sorts("control rod", True), Sorts("structure", False)
        self.assertEqual(chosen(rules, rod, frame).rule.least_m, 0.02)
        self.assertIsNone(chosen(rules, frame, frame).rule)
        self.assertEqual(chosen(SHIPPED, Sorts("wire", False), rod).rule.least_m, 0.0127)
        cable = Sorts("control cable", True)
        self.assertEqual(chosen(SHIPPED, Sorts("wire", False), cable).rule.least_m, 0.0762)

    @given(
        st.permutations(SHIPPED[:12]),
        st.sampled_from(("wire", "coax")),
        st.sampled_from(("fuel", "oil")),
    )
    def test_neither_order_of_rules_nor_of_the_two_matters(self, rules, a, b):
        one = chosen(rules, Sorts(a, False), Sorts(b, False)).rule
        two = chosen(SHIPPED[:12], Sorts(b, False), Sorts(a, False)).rule
        self.assertEqual(one, two)


WIRE = Beside(BUNDLE, "loom", "Loom", 0.004, (((0, 0, 0.1), (1, 0, 0.1)),), U_m=0.002,
              supports_m=(0.5,))  # fmt: skip
FUEL = Beside(TUBE, "feed", "Feed", 0.005, (((0, 0, 0), (1, 0, 0)),), "fuel")
SURE = row("sureness", "Sure", tubes="2", linkages="2", cables="2", shapes="2")


def lever() -> Movement:
    """A rod that swings up by 20 mm per 0.1 rad at its end, and its lever."""
    axis = Axis(
        "elevator/pitch", "Elevator", "rad", tuple(np.linspace(-0.3, 0.4, 33)), said="stops"
    )
    turn = np.array([rotation([0, 1, 0], -q) for q in axis.nodes])
    rod = np.array([[[0.3, 0.2, 0.2], [0.5, 0.2, 0.2 + 0.2 * q]] for q in axis.nodes])
    return Movement(
        (axis,),
        (Moved("control rod", "elevator/aft", "Elevator: aft rod", 0.01, (axis.id,), rod,
               ("elevator/idler",), "elevator"),),
        (Carrier("elevator/idler", "Elevator: idler", (axis.id,), turn, np.zeros((33, 3)),
                 "elevator"),),
    )  # fmt: skip


def scene(*rows, beside=(WIRE, FUEL), moves=None) -> Scene:
    return Scene(tuple(rows), tuple(beside), moves or Movement(), {"elevator": "elevator"})


def said(s, log=None):
    return {c.key: c for c in checks_of(s, log or {}, TODAY)}


class Pairs(TestCase):
    KEY = "bundle loom|tube feed"

    def test_a_wire_beside_fuel_keeps_two_inches_and_less_only_where_it_is_clamped(self):
        check = said(scene(SURE))[self.KEY]
        self.assertEqual(check.verdict, "in")
        self.assertIn("91.0 mm apart", check.said)
        near = replace(WIRE, ways=(((0, 0, 0.05), (1, 0, 0.05)),))
        self.assertEqual(said(scene(SURE, beside=(near, FUEL)))[self.KEY].verdict, "out")
        held = replace(near, held_to=("Feed",))
        self.assertEqual(said(scene(SURE, beside=(held, FUEL)))[self.KEY].verdict, "in")
        proof = row("pair", "Both", a="Feed", b="loom", condition="clamped", proof="clamp at 500")
        self.assertEqual(said(scene(SURE, proof, beside=(near, FUEL)))[self.KEY].verdict, "in")

    def test_what_nobody_said_is_never_in(self):
        unsure = said(scene())[self.KEY]
        self.assertEqual(unsure.verdict, "not measured")
        self.assertIn("how well the place of Feed is known", unsure.said)
        thick = replace(WIRE, radius_m=None)
        self.assertIn("how thick Loom is", said(scene(SURE, beside=(thick, FUEL)))[self.KEY].said)
        touching = replace(WIRE, ways=(((0, 0, 0.006), (1, 0, 0.006)),))
        self.assertEqual(said(scene(beside=(touching, FUEL)))[self.KEY].verdict, "out")

    def test_the_gap_of_a_bundle_is_what_is_left_when_it_is_pushed(self):
        pushed = row("about", "Pushed", of="Loom", push="45", slack="")
        check = said(scene(SURE, pushed))[self.KEY]
        self.assertEqual(check.verdict, "out")
        self.assertIn("46.0 mm apart", check.said)
        self.assertIn("91.0 mm without sag", check.said)

    def test_slack_swings_each_span_as_the_rule_says(self):
        slack = row("about", "Slack", of="Loom", slack="1")
        thing = scene(SURE, slack).thing("loom")
        swing = 0.5 * math.sqrt(0.501**2 - 0.5**2)
        np.testing.assert_allclose(thing.allowance, [swing], rtol=1e-9)

    def test_what_flexes_comes_nearer_by_that(self):
        flexes = row("pair", "Both", a="Loom", b="Feed", motion="50")
        check = said(scene(SURE, flexes))[self.KEY]
        self.assertEqual(check.verdict, "out")
        self.assertAlmostEqual(check.inputs["relative_motion_m"], 0.05)

    def test_a_missing_distance_is_told_once_for_its_kinds(self):
        vent = Beside(TUBE, "vent", "Vent", 0.004, (((0, 0.02, 0), (1, 0.02, 0)),), "vent")
        other = replace(vent, slug="v2", name="Vent 2", ways=(((0, 0.04, 0), (1, 0.04, 0)),))
        found = said(scene(SURE, beside=(FUEL, vent, other)))
        self.assertIn("2 pairs", found["rule fuel vent"].said)
        self.assertEqual(found["rule fuel vent"].verdict, "not measured")
        own = row("rule", "Own", "manual", a="fuel", b="vent", least="5")
        found = said(scene(SURE, own, beside=(FUEL, vent, other)))
        self.assertNotIn("rule fuel vent", found)
        self.assertEqual(found["tube feed|tube vent"].verdict, "in")

    def test_bundles_among_themselves_are_left_to_the_wire_bench(self):
        other = replace(WIRE, slug="two", name="Loom 2", ways=(((0, 0.02, 0.1), (1, 0.02, 0.1)),))
        found = looked(scene(SURE, beside=(WIRE, other, FUEL)))
        (left,) = found.left
        self.assertEqual(left.pairs, ("Loom – Loom 2",))
        self.assertEqual(len(found.met), 2)
        own = row("rule", "Apart", "manual", a="wire", b="wire", least="30")
        self.assertEqual(len(looked(scene(SURE, own, beside=(WIRE, other))).met), 1)

    def test_a_wire_under_fuel_is_told(self):
        low = replace(WIRE, ways=(((0, 0, -0.1), (1, 0, -0.1)),))
        check = said(scene(SURE, beside=(low, FUEL)))[f"layer {self.KEY}"]
        self.assertIn("lies 100.0 mm lower", check.said)
        self.assertNotIn(f"layer {self.KEY}", said(scene(SURE)))

    def test_custom_is_told_and_stands_in_nobody_s_way(self):
        axis = Axis("rudder/p", "Rudder", "rad", (-0.3, 0.3))
        way = np.array([[[0, 0.05, -0.05], [1, 0.05, -0.05]]] * 2)
        cable = Moved("control cable", "rudder-a", "Rudder: Left cable", 0.002, (axis.id,), way)
        s = scene(SURE, beside=(FUEL,), moves=Movement((axis,), (cable,)))
        (told,) = layers_told(looked(s))
        self.assertIn("Left cable lies 50.0 mm lower than Feed", told)
        self.assertFalse(any(k.startswith("layer") for k in said(s)))


class Moving(TestCase):
    KEY = "bundle loom|rod elevator/aft"

    def scene(self, z, *rows):
        loom = replace(WIRE, ways=(((0.4, 0.1, z), (0.4, 0.3, z)),))
        return scene(SURE, *rows, beside=(loom,), moves=lever())

    def test_what_touches_only_at_one_end_of_the_travel_is_found_there(self):
        s = self.scene(0.25)
        check = said(s)[self.KEY]
        self.assertEqual(check.verdict, "out")
        self.assertIn("Touch", check.said)
        self.assertIn("Elevator 22.9°", check.said)
        met = looked(s).met[0]
        reel = film(s, met)["reels"][0]["frames"]
        gaps = [f["gap"] for f in reel]
        self.assertEqual(gaps, sorted(gaps, reverse=True))
        self.assertGreater(gaps[0], 30)
        self.assertAlmostEqual(gaps[-1], met.near.gap_m * 1e3, delta=0.03)

    def test_a_wire_beside_what_moves_must_be_pushed_first(self):
        check = said(self.scene(0.32))[self.KEY]
        self.assertEqual(check.verdict, "not measured")
        self.assertIn("gives under light hand pressure", check.said)
        pushed = row("about", "Pushed", of="Loom", push="10")
        check = said(self.scene(0.32, pushed))[self.KEY]
        self.assertEqual(check.verdict, "in")

    def test_what_is_fixed_to_one_lever_is_not_compared_with_what_it_holds(self):
        arm = row("shape", "Arm", sort="control rod", form="line", od="10", on="Elevator: idler",
                  corners=corners((300, 200, 200), (300, 200, 150)))  # fmt: skip
        found = looked(self.scene(0.25, arm))
        self.assertTrue(any("Arm" in p for x in found.left for p in x.pairs))
        self.assertFalse(any("Arm" in m.name and "aft rod" in m.name for m in found.met))

    def test_a_shape_on_a_lever_goes_where_the_lever_goes(self):
        arm = row("shape", "Arm", sort="structure", form="line", od="10", on="elevator: IDLER",
                  corners=corners((100, 0, 0), (300, 0, 0)))  # fmt: skip
        thing = self.scene(0.25, arm).thing("Arm")
        np.testing.assert_allclose(
            thing.poses[-1][1], [0.3 * math.cos(0.4), 0, 0.3 * math.sin(0.4)], atol=1e-12
        )
        self.assertEqual(thing.control, "elevator")

    def test_how_far_a_control_goes_beyond_is_summed_by_its_name(self):
        rows = [row("range", "R", control="Elevator", stretch="1.5", settled="trim wheel")]
        beyond = beyond_of(rows, {"elevator": "elevator"})
        self.assertAlmostEqual(beyond.stretch["elevator"], math.radians(1.5))
        self.assertIn(("elevator", "trim_wheel"), beyond.settled)


class Doors(TestCase):
    ROWS = (
        row("mover", "Door", origin="0; 0; 500", axis="-1; 0; 0", to="120"),
        row("shape", "Door edge", sort="structure", form="line", od="10", on="Door",
            corners=corners((0, -10, 500), (0, -10, 100), (400, -10, 100), (400, -10, 500))),
        row("shape", "Wing", sort="structure", form="box", centre="200; -600; 700",
            size="600; 1000; 2"),
    )  # fmt: skip

    def test_a_door_may_open_until_it_meets_the_wing(self):
        found = said(scene(SURE, *self.ROWS, beside=()))
        check = found["door door door-edge"]
        self.assertEqual(check.verdict, "out")
        # Its lower edge, 400 mm from the hinge, rises to the skin 200 mm above: 90° and 30° less
        # what is thick; turned outward from straight down.
        angle = 90 + math.degrees(math.asin((199 - 5) / math.hypot(400, 10))) - math.degrees(
            math.atan2(10, 400)
        )  # fmt: skip
        self.assertIn(f"It may open to {angle:.1f}°", check.said)
        pair = found["shape door-edge|shape wing"]
        self.assertIn("Touch", pair.said)

    def test_a_door_without_anything_on_it_is_not_said(self):
        found = said(scene(SURE, self.ROWS[0], beside=()))
        self.assertEqual(found["door door"].verdict, "not measured")


class Zones(TestCase):
    JET = row("zone", "Jet", "manual", form="cone", **{"from": "0; 0; 0"}, to="1000; 0; -100",
              radius="30", radius_to="120", kinds="fuel", margin="20")  # fmt: skip

    def test_a_tube_in_it_is_out_and_a_wire_is_not_asked(self):
        check = said(scene(SURE, self.JET))["zone jet"]
        self.assertEqual(check.verdict, "out")
        self.assertIn("Feed", check.said)
        self.assertNotIn("Loom", check.said)

    def test_what_moves_is_as_thick_as_it_goes_between_two_positions(self):
        box = row("zone", "Box", form="box", centre="500; 200; 290", half="30; 30; 10",
                  kinds="control rod", margin="1")  # fmt: skip
        (run,) = said(scene(SURE, box, moves=lever()))["zone box"].inputs["runs"]
        step = 0.2 * 0.7 / 32
        self.assertAlmostEqual(run["radius"], 0.01 + step / 2, places=9)

    def test_what_moves_counts_at_every_position(self):
        box = row("zone", "Box", form="box", centre="500; 200; 290", half="30; 30; 10",
                  kinds="control rod", margin="1")  # fmt: skip
        self.assertEqual(said(scene(SURE, box, moves=lever()))["zone box"].verdict, "out")
        far = replace(box, values={**box.values, "centre_m": [0.5, 0.2, 0.4]})
        self.assertEqual(said(scene(SURE, far, moves=lever()))["zone box"].verdict, "in")


class Contacts(TestCase):
    TOUCHING = replace(WIRE, ways=(((0, 0, 0.05), (0.5, 0, 0.006), (1, 0, 0.05)),))

    def contact(self, **more):
        return row("contact", "Meets", a="Loom", b="Feed", reason="clamped there",
                   protection="sleeve", **more)  # fmt: skip

    def test_only_the_stretch_that_is_meant_to_touch_is_left_out(self):
        whole = said(scene(SURE, self.contact(), beside=(self.TOUCHING, FUEL)))
        self.assertNotIn(Pairs.KEY, whole)
        part = self.contact(a_from="400", a_to="600")
        check = said(scene(SURE, part, beside=(self.TOUCHING, FUEL)))[Pairs.KEY]
        self.assertEqual(check.verdict, "out")
        self.assertNotIn("Touch", check.said)

    @settings(max_examples=25, deadline=None)
    @given(st.floats(0, 0.4), st.floats(0.05, 0.6), st.floats(0, 0.4), st.floats(0.05, 0.6))
    def test_what_is_left_has_the_length_of_both_less_what_meets(self, a0, a1, b0, b1):
        one = scene(SURE, beside=(self.TOUCHING, FUEL))
        a, b = one.thing("loom"), one.thing("feed")
        long = [float(np.linalg.norm(np.diff(t.rest, axis=0), axis=1).sum()) for t in (a, b)]
        left = pieces(a, b, [(a0, a0 + a1, b0, b0 + b1)])
        area = sum(
            math.prod(float(np.linalg.norm(np.diff(t.rest, axis=0), axis=1).sum()) for t in pair)
            for pair in left
        )
        cut = (min(a0 + a1, long[0]) - a0) * (min(b0 + b1, long[1]) - b0)
        self.assertAlmostEqual(area, math.prod(long) - cut, places=9)

    def test_it_is_looked_at_again_on_its_day_and_needs_protection(self):
        check = said(scene(SURE, self.contact(due="2027-03-01")))["contact meets"]
        self.assertEqual(check.verdict, "in")
        self.assertEqual(check.on(date(2027, 3, 2))[2], "too close")
        bare = replace(check_row := self.contact(), values={
            k: v for k, v in check_row.values.items() if k != "protection"})  # fmt: skip
        self.assertEqual(said(scene(SURE, bare))["contact meets"].verdict, "not measured")


class DoneByHand(TestCase):
    NEAR = replace(WIRE, ways=(((0, 0, 0.05), (1, 0, 0.05)),))

    def setUp(self):
        self.scene = scene(SURE, beside=(self.NEAR, FUEL))
        self.met = meet(self.scene, *(self.scene.thing(n) for n in ("loom", "feed")))

    def done(self, doing, **inputs):
        given = {"digest": self.met.digest, "least": self.met.rule.least_m} | inputs
        return Done(doing, 1, given, "A. Builder", "1 May 2026")

    def test_accepted_holds_until_anything_of_it_changes(self):
        given = self.done("accepted", mitigation="sleeve", reason="no room")
        check = pair_check(self.scene, self.met, [given])
        self.assertEqual((check.verdict, check.word), ("accepted", "accepted"))
        moved = replace(self.NEAR, ways=(((0, 0, 0.05), (1, 0, 0.051)),))
        after = scene(SURE, beside=(moved, FUEL))
        check = said(after, {Pairs.KEY: [given]})[Pairs.KEY]
        self.assertEqual(check.verdict, "out")
        self.assertIn("changed since", check.said)

    def test_a_surer_reading_overrules_the_drawing_and_says_when_they_disagree(self):
        near = self.done("measured", gap_m=0.0405, U_m=0.0005)
        check = pair_check(self.scene, self.met, [near])
        self.assertEqual(check.verdict, "out")
        self.assertIn("counts before the model", check.said)
        self.assertAlmostEqual(check.inputs["gap_best"], 0.0405)
        far = pair_check(self.scene, self.met, [self.done("measured", gap_m=0.06, U_m=0.0005)])
        self.assertEqual(far.verdict, "too close")
        self.assertIn("disagree", far.said)
        rough = pair_check(self.scene, self.met, [self.done("measured", gap_m=0.042, U_m=0.02)])
        self.assertIn("less sure than the model", rough.said)
        self.assertAlmostEqual(rough.inputs["gap_best"], self.met.near.gap_m)

    def test_touching_can_t_be_accepted(self):
        touch = replace(WIRE, ways=(((0, 0, 0.005), (1, 0, 0.005)),))
        s = scene(SURE, beside=(touch, FUEL))
        met = meet(s, *(s.thing(n) for n in ("loom", "feed")))
        given = Done("accepted", 1, {"digest": met.digest, "least": met.rule.least_m,
                                     "mitigation": "x", "reason": "y"}, "A", "1 May 2026")  # fmt: skip
        self.assertEqual(pair_check(s, met, [given]).verdict, "out")


class Entered(TestCase):
    """What cannot be is refused by its field, in words."""

    LINE = {"sort": "structure", "form": "line", "od": "10"}

    def refused(self, field, kind, name="New", rows=(), moves=None, **typed):
        with self.assertRaises(Refused) as caught:
            one = row(kind, name, **typed)
            refuse(scene(*rows, one, moves=moves), one)
        self.assertEqual(caught.exception.field, field, caught.exception.reason)
        return caught.exception.reason

    def test_shapes(self):
        same = corners((0, 0, 0), (0, 0, 0))
        self.assertIn("no length", self.refused("corners", "shape", corners=same, **self.LINE))
        two = corners((0, 0, 0), (100, 0, 0))
        thin = {**self.LINE, "od": "-1"}
        self.refused("od", "shape", corners=two, **thin)
        said = self.refused("on", "shape", corners=two, on="Nothing", moves=lever(), **self.LINE)
        self.assertIn("Elevator: idler", said)
        self.refused("size", "shape", sort="structure", form="box", centre="0; 0; 0")
        self.refused("name", "shape", "Loom", corners=two, **self.LINE)

    def test_movers(self):
        hinge = {"origin": "0; 0; 0", "axis": "0; 1; 0"}
        self.refused("to", "mover", **hinge, **{"from": "30"}, to="10")
        self.refused("axis", "mover", origin="0; 0; 0", axis="0; 0; 0", to="10")
        self.refused("slide", "mover", **hinge, slide="1; 0; 0", slide_to="5")
        self.refused("follows", "mover", **hinge, follows="No such surface")
        self.refused("notches", "mover", **hinge, notches="10; 10")
        self.refused("carried", "mover", "Door", **hinge, to="10", carried="Frame")

    def test_zones_and_distances(self):
        zone = {"kinds": "fuel", "margin": "5"}
        self.refused("half", "zone", form="box", centre="0; 0; 0", half="-1; 1; 1", **zone)
        self.refused(
            "to", "zone", form="cylinder", **{"from": "0; 0; 0"}, to="0; 0; 0", radius="5", **zone
        )
        self.refused("kinds", "zone", form="box", centre="0; 0; 0", half="1; 1; 1", kinds="water",
                     margin="5")  # fmt: skip
        own = row("rule", "One", a="oil", b="fuel", least="5")
        self.refused("b", "rule", rows=(own,), a="fuel", b="oil", least="7")
        self.refused("condition", "rule", a="fuel", b="vent", least="7", condition="sleeved")

    def test_what_names_another(self):
        self.refused("a", "contact", a="Nobody", b="Feed", reason="x")
        self.refused("b", "contact", a="Feed", b="Feed", reason="x")
        self.refused("a_to", "contact", a="Loom", b="Feed", reason="x", a_from="50", a_to="40")
        one = row("contact", "New", a="Loom", b="Feed", reason="x", a_to="400")
        refuse(scene(one), one)
        self.refused("proof", "pair", a="Loom", b="Feed", condition="guarded")
        self.refused("of", "about", of="Nobody", push="5")
        self.refused("E", "about", of="Loom", E="70 GPa", inner="20", weight="1")
        self.refused("swings", "about", of="Loom", swings=[{"span": "100", "sways": "1"}])
        self.refused("control", "range", control="Rudder")
        self.refused("settled", "range", control="Elevator", settled="adjust", moves=lever())
        self.refused("kind", "sureness", rows=(SURE,), tubes="1")


class Boxes(TestCase):
    @given(st.lists(st.floats(-3, 3), min_size=3, max_size=3))
    def test_axes_stay_square(self, angles):
        axes = turned_axes(angles)
        np.testing.assert_allclose(axes @ axes.T, np.eye(3), atol=1e-12)
        self.assertGreater(np.linalg.det(axes), 0)

    def test_turned_about_the_up_axis_its_length_points_to_the_right(self):
        np.testing.assert_allclose(turned_axes((math.pi / 2, 0, 0))[0], [0, 1, 0], atol=1e-12)
        np.testing.assert_allclose(turned_axes((0, math.pi / 2, 0))[0], [0, 0, -1], atol=1e-12)
