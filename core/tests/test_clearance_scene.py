"""How near things come over all positions, and what is said of it."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from core.clearance.checks import layers_told
from core.clearance.figures import film
from core.clearance.pairs import looked, meet
from core.clearance.scene import beyond_of
from core.clearance.standing import Done, pair_check, stands
from core.runs.beside import TUBE, Beside
from core.runs.moved import Axis, Moved, Movement
from core.tests.clearing import FUEL, KEY, SURE, WIRE, corners, lever, row, said, scene


class Pairs(TestCase):
    KEY = KEY

    def test_a_wire_beside_fuel_keeps_two_inches_and_less_only_where_it_is_clamped(self):
        check = said(scene(SURE))[self.KEY]
        self.assertEqual(check.verdict, "in")
        self.assertIn("91.0 mm apart", check.said)
        near = replace(WIRE, ways=(((0, 0, 0.05), (1, 0, 0.05)),))
        self.assertEqual(said(scene(SURE, beside=(near, FUEL)))[self.KEY].verdict, "out")
        held = replace(near, held_to=("Feed",), supports_m=(0.0, 0.5, 1.0))
        self.assertEqual(said(scene(SURE, beside=(held, FUEL)))[self.KEY].verdict, "in")
        proof = row("pair", "Both", a="Feed", b="loom", condition="clamped", proof="clamp at 500")
        self.assertEqual(said(scene(SURE, proof, beside=(near, FUEL)))[self.KEY].verdict, "in")

    def test_a_clamp_holds_from_the_first_support_to_the_last_and_no_farther(self):
        near = replace(WIRE, ways=(((0, 0, 0.05), (1, 0, 0.05)),), held_to=("Feed",))
        for supports, verdict in (((), "out"), ((0.2, 0.8), "out"), ((0.0, 1.0), "in")):
            s = scene(SURE, beside=(replace(near, supports_m=supports), FUEL))
            self.assertEqual(said(s)[self.KEY].verdict, verdict, supports)
        # Beyond its supports it is far enough away by itself.
        bent = replace(
            near, ways=(((0, 0.3, 0.05), (0.3, 0, 0.05), (0.7, 0, 0.05), (1, 0.3, 0.05)),)
        )
        for supports, verdict in (((0.3, 0.95), "in"), ((0.5, 0.95), "out")):
            s = scene(SURE, beside=(replace(bent, supports_m=supports), FUEL))
            self.assertEqual(said(s)[self.KEY].verdict, verdict, supports)

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

    def test_the_film_leaves_out_what_is_meant_to_touch(self):
        meets = row("contact", "Tied", a="Loom", b="Elevator: aft rod", reason="tied there",
                    protection="sleeve", a_from="50", a_to="150", b_from="0", b_to="150")  # fmt: skip
        s = self.scene(0.25, meets)
        met = looked(s).met[0]
        gaps = [f["gap"] for f in film(s, met)["reels"][0]["frames"]]
        self.assertAlmostEqual(min(gaps), met.near.gap_m * 1e3, delta=0.05)

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
        check = said(after, {KEY: [given]})[KEY]
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

    def test_nothing_is_accepted_over_what_nobody_said(self):
        given = self.done("accepted", mitigation="sleeve", reason="no room")
        self.assertTrue(stands(self.scene, self.met, []).may_be_accepted)
        thick = replace(self.NEAR, radius_m=None)
        s = scene(SURE, beside=(thick, FUEL))
        met = meet(s, *(s.thing(n) for n in ("loom", "feed")))
        same = replace(given, inputs={**given.inputs, "digest": met.digest})
        self.assertFalse(stands(s, met, []).may_be_accepted)
        self.assertEqual(pair_check(s, met, [same]).verdict, "out")
        # A gap measured between the two settles how thick they are.
        sure = replace(self.done("measured", gap_m=0.041, U_m=0.0005),
                       inputs={"gap_m": 0.041, "U_m": 0.0005, "digest": met.digest})  # fmt: skip
        self.assertEqual(pair_check(s, met, [sure, same]).verdict, "accepted")

    def test_touching_can_t_be_accepted(self):
        touch = replace(WIRE, ways=(((0, 0, 0.005), (1, 0, 0.005)),))
        s = scene(SURE, beside=(touch, FUEL))
        met = meet(s, *(s.thing(n) for n in ("loom", "feed")))
        given = Done("accepted", 1, {"digest": met.digest, "least": met.rule.least_m,
                                     "mitigation": "x", "reason": "y"}, "A", "1 May 2026")  # fmt: skip
        self.assertEqual(pair_check(s, met, [given]).verdict, "out")
