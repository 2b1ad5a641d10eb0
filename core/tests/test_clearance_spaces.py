"""Doors, zones, and what is meant to touch."""

import math
from dataclasses import replace
from datetime import date
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.clearance.keep_out import Volume, away_of
from core.clearance.pairs import pieces
from core.clearance.spaces import nearest_pose
from core.runs.moved import Axis, Moved, Movement
from core.tests.clearing import FUEL, KEY, SURE, WIRE, corners, lever, row, said, scene, seeds


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

    def test_each_obstacle_keeps_the_door_off_by_its_own_distance(self):
        near = row("rule", "Wing", "manual", a="structure", b="steel part", least="5")
        hot = row("rule", "Hot", "manual", a="structure", b="exhaust", least="300")
        wing = replace(self.ROWS[2], values={**self.ROWS[2].values, "sort": "steel part"})
        pipe = row("shape", "Pipe", sort="exhaust", form="line", od="40",
                   corners=corners((5000, 0, 0), (6000, 0, 0)))  # fmt: skip
        rows = (*self.ROWS[:2], wing, pipe, near, hot)
        check = said(scene(SURE, *rows, beside=()))["door door door-edge"]
        self.assertEqual(check.inputs["rule_m"], 0.005)
        self.assertIn("to stay 5.0 mm away", check.said)

    def test_a_door_that_opens_freely_is_not_in_while_places_are_unsure(self):
        short = replace(self.ROWS[0], values={**self.ROWS[0].values, "to_rad": 0.5})
        own = row("rule", "Apart", "manual", a="structure", b="structure", least="5")
        for sure, verdict in (
            ((SURE, own), "in"),
            ((own,), "not measured"),
            ((SURE,), "not measured"),
        ):
            found = said(scene(*sure, short, *self.ROWS[1:], beside=()))
            self.assertEqual(found["door door door-edge"].verdict, verdict)

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

    def test_a_straight_s_middle_counts_at_the_position_where_its_ends_are_far(self):
        axis = Axis("flaps/m", "Flaps", "rad", tuple(np.linspace(0.0, 0.3, 31)))
        # Its one end comes nearer to the zone while its middle goes away from it.
        poses = np.array([[[-1, 0, 0.05 + q], [1, 0, 0.05 + q]] for q in axis.nodes])
        poses[:, 0, 0] += np.linspace(0.0, 0.9, 31)
        rod = Moved(
            "control rod", "flaps/r", "Flaps: rod", 0.01, (axis.id,), poses, control="flaps"
        )
        s = scene(SURE, row("zone", "Ball", form="box", centre="0; 0; 0", half="20; 20; 20",
                            kinds="control rod", margin="1"),
                  beside=(), moves=Movement((axis,), (rod,)))  # fmt: skip
        (run,) = said(s)["zone ball"].inputs["runs"]
        self.assertAlmostEqual(run["points"][0][2], 0.05)

    @settings(max_examples=20, deadline=None)
    @given(seeds)
    def test_the_nearest_position_is_the_one_that_sampling_finds(self, seed):
        rng = np.random.default_rng(seed)
        poses = rng.normal(0, 0.4, (6, 1, 3)) + np.cumsum(rng.normal(0, 0.5, (6, 4, 3)), axis=1)
        away = away_of(Volume("cylinder", from_=(0, 0, 0), to=(0, 0, 0.3), radius=0.1))
        share = np.linspace(0, 1, 60)[:, None]

        def sampled(pose):
            return min(away(p) for a, b in pairwise(pose) for p in a + share * (b - a))

        near = sampled(nearest_pose(away, poses))
        self.assertLessEqual(near, min(map(sampled, poses)) + 0.03)

    def test_out_by_the_way_between_two_positions_alone_is_in_doubt(self):
        coarse = Axis("x/y", "Slide", "m", (0.0, 0.1))
        poses = np.array([[[0, q, 0], [1, q, 0]] for q in coarse.nodes])
        rod = Moved("control rod", "x/r", "Rod", 0.005, (coarse.id,), poses, control="x")
        zone = row("zone", "Post", form="box", centre="500; -60; 0", half="10; 10; 10",
                   kinds="control rod", margin="10")  # fmt: skip
        check = said(scene(SURE, zone, beside=(), moves=Movement((coarse,), (rod,))))["zone post"]
        self.assertEqual(check.verdict, "too close")

    def test_what_moves_is_as_thick_as_it_goes_between_two_positions(self):
        box = row("zone", "Box", form="box", centre="500; 200; 290", half="30; 30; 10",
                  kinds="control rod", margin="1")  # fmt: skip
        (run,) = said(scene(SURE, box, moves=lever()))["zone box"].inputs["runs"]
        step = 0.2 * 0.7 / 32
        self.assertAlmostEqual(run["radius"], 0.01 + step / 2, places=6)

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
        self.assertNotIn(KEY, whole)
        part = self.contact(a_from="400", a_to="600")
        check = said(scene(SURE, part, beside=(self.TOUCHING, FUEL)))[KEY]
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
