"""Linkages and cables as tables: the range that counts, and where everything lies at its nodes."""

import json
import math
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from core.cables.moving import along_arcs
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.controls.linkage.document import document_from
from core.controls.linkage.moving import Linked, Travelled, axis_of, movement_of
from core.controls.linkage.solving import solve
from core.runs.moved import Beyond

DEMO = Path(__file__).parents[2] / "demo"


def document(name):
    return document_from(json.loads((DEMO / "mechanisms" / f"{name}.json").read_text()))


def degrees(up, down):
    return {
        ("elevator", "up_stop"): Travelled(math.radians(up), "permitted"),
        ("elevator", "down_stop"): Travelled(math.radians(down), "permitted"),
    }


def linked(wanted=None, name="fenlark-elevator", **more):
    return Linked("elevator", "Elevator", document(name), wanted or {}, **more)


class Range(TestCase):
    def surface(self, one, q):
        return float(solve(one.document.plan, {"pitch": np.array([q])}).output("elevator")[0])

    @settings(max_examples=12, deadline=None)
    @given(st.floats(10, 27), st.floats(8, 19), st.floats(0, 1.5))
    def test_its_ends_are_where_the_surface_has_gone_so_far(self, up, down, stretch):
        one = linked(degrees(up, down))
        axis = axis_of(one, "pitch", Beyond({"elevator": math.radians(stretch)}))
        ends = [abs(self.surface(one, q)) for q in (axis.nodes[0], axis.nodes[-1])]
        wanted = sorted(math.radians(x + stretch) for x in (up, down))
        np.testing.assert_allclose(sorted(ends), wanted, atol=2e-5)
        self.assertEqual(axis.unsure, ())
        self.assertTrue(all(a < b for a, b in zip(axis.nodes, axis.nodes[1:], strict=False)))

    def test_farther_permitted_never_makes_it_shorter(self):
        near = axis_of(linked(degrees(20, 15)), "pitch", Beyond())
        far = axis_of(linked(degrees(26, 19)), "pitch", Beyond())
        self.assertLess(far.nodes[0], near.nodes[0])
        self.assertGreater(far.nodes[-1], near.nodes[-1])

    def test_without_a_travel_its_stops_count_and_that_is_told(self):
        axis = axis_of(linked(names={"elevator": "Elevator"}), "pitch", Beyond())
        self.assertEqual(axis.said, "its stops")
        self.assertEqual(axis.unsure, ("travel of Elevator",))
        # The surface meets its own stop at 19°, before the stick meets the floor's at 18°.
        self.assertAlmostEqual(axis.nodes[0], -0.2916, delta=1e-3)

    def test_what_the_linkage_cannot_reach_is_told(self):
        axis = axis_of(linked(degrees(80, 19)), "pitch", Beyond())
        self.assertTrue(any("reaches less than 80.0°" in x for x in axis.unsure))

    def test_a_setting_stays_at_its_notches_only_where_somebody_said_so(self):
        one = Linked("rudder", "Rudder", document("fenlark-rudder"))
        gliding = axis_of(one, "adjust", Beyond())
        self.assertFalse(gliding.notched)
        self.assertAlmostEqual(gliding.nodes[0], -0.04)
        still = axis_of(one, "adjust", Beyond(settled=frozenset({("rudder", "adjust")})))
        self.assertEqual(still.notches, ("far", "middle", "near"))
        self.assertEqual(still.words(0.04), "Rudder adjust near")


class Poses(TestCase):
    def test_rods_and_levers_lie_where_the_solved_linkage_has_them(self):
        one = linked(degrees(26, 19), od={"aft": 0.03})
        moves = movement_of(one, Beyond())
        (axis,) = moves.axes
        motion = solve(one.document.plan, {"pitch": np.array(axis.nodes)})
        aft = next(m for m in moves.moved if m.slug == "elevator/aft")
        rod = one.document.mechanism.rod("aft")
        np.testing.assert_allclose(aft.poses[:, 0], np.stack(motion.at(rod.a), -1), atol=1e-12)
        self.assertEqual((aft.radius_m, aft.name), (0.015, "Elevator: aft rod"))
        self.assertEqual(aft.joined, ("elevator/bellcrank", "elevator/elevator"))
        long = np.linalg.norm(aft.poses[:, 1] - aft.poses[:, 0], axis=1)
        np.testing.assert_allclose(long, long[0], atol=1e-9)
        crank = next(c for c in moves.carriers if c.id == "elevator/bellcrank")
        at = one.document.mechanism.body("bellcrank").points["top"]
        carried = np.einsum("nij,j->ni", crank.turn, np.array(at)) + crank.shift
        np.testing.assert_allclose(carried, aft.poses[:, 0], atol=1e-9)
        self.assertIsNone(next(m for m in moves.moved if m.slug == "elevator/mid").radius_m)

    def test_only_what_moves_a_thing_is_among_its_axes(self):
        moves = movement_of(Linked("rudder", "Rudder", document("fenlark-rudder")), Beyond())
        by = {c.id: c.axes for c in moves.carriers}
        self.assertEqual(by["rudder/pad_left"], ("rudder/pedals", "rudder/adjust"))
        self.assertEqual(by["rudder/bar"], ("rudder/pedals",))

    def test_a_surface_is_told_with_its_sign(self):
        moves = movement_of(linked(degrees(26, 19)), Beyond())
        (surface,) = moves.surfaces
        self.assertAlmostEqual(max(abs(surface.values)), math.radians(26), places=4)


class Cables(TestCase):
    def test_a_cable_keeps_its_length_round_its_pulleys_and_its_ends_their_levers(self):
        rigged = Rigged(rigging_from(json.loads((DEMO / "cables/fenlark-rudder.json").read_text())))
        angles = (-0.24, 0.0, 0.1, 0.24)
        ways, bulge = along_arcs(rigged, "A", angles)
        self.assertEqual(ways.shape[0], 4)
        driver = rigged.rigging.driver
        for way, angle in zip(ways, angles, strict=True):
            np.testing.assert_allclose(way[0], driver.attachment("A", angle), atol=1e-12)
        self.assertLess(bulge, 2e-3)
        whole = float(np.linalg.norm(np.diff(ways[1], axis=0), axis=1).sum())
        self.assertAlmostEqual(whole, rigged.laid["A"].length_m, delta=2e-3)
