"""Tools at a bolt: arcs against plain sampling, turned aircraft, what takes access away."""

import math
from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

import core.plan.sheets  # noqa: F401
from core.basis.refused import Refused
from core.clearance.distance import Block, BoxIn, block_of
from core.plan.swing import Handle, Thing, boxes_apart
from core.plan.tool_access import AroundIn, BarrelIn, HandleIn, ToolIn, tool_access
from core.worksheets.kinds import Asked, kind_of, work
from core.worksheets.reading import read

HEAD, NUT = (0.0, 0.0, 0.03), (0.0, 0.0, 0.0)
ROD = ToolIn(handle=HandleIn(0.12, math.radians(60), radius=0.008, standoff=0.01))
BAR = ToolIn(handle=HandleIn(0.12, math.radians(60), width=0.02, thickness=0.012, standoff=0.01))
seeds = st.integers(0, 10**6)


def turned(seed):
    q, r = np.linalg.qr(np.random.default_rng(seed).normal(size=(3, 3)))
    q = q * np.sign(np.diag(r))
    return q if np.linalg.det(q) > 0 else -q


def around(seed, count=3):
    rng = np.random.default_rng(seed)
    found = []
    for n in range(count):
        middle = rng.normal([0, 0, 0.05], 0.09)
        if n % 2:
            axes = turned(seed + n).tolist()
            found.append(AroundIn(f"box {n}", box=BoxIn(tuple(middle), (0.05, 0.02, 0.01), axes)))
        else:
            way = rng.normal(0, 0.1, 3)
            found.append(
                AroundIn(f"line {n}", [(middle - way).tolist(), (middle + way).tolist()], 0.005)
            )
    return tuple(found)


class Arcs(TestCase):
    @settings(max_examples=20, deadline=None)
    @given(seeds, st.sampled_from((ROD, BAR)))
    def test_the_widest_free_arc_is_as_sampled(self, seed, tool):
        found = tool_access(HEAD, NUT, around(seed), tool, gap_m=0.001).head
        h = tool.handle
        handle = Handle(
            np.array([0, 0, 0.04]), np.array([0, 0, 1.0]), np.array([1.0, 0, 0]),
            np.array([0, 1.0, 0]), h.length, h.radius or 0.0, h.width or 0.0, h.thickness or 0.0,
        )  # fmt: skip
        angles = np.linspace(0, 2 * math.pi, 1441)[:-1]
        free = np.ones(len(angles), dtype=bool)
        for a in around(seed):
            box = None if a.box is None else block_of(a.box, "b")
            points = None if a.points is None else np.array(a.points)
            free &= handle.gap(Thing(a.id, points, a.radius, box))(angles) >= 0.001
        if free.all():
            self.assertGreater(found.free_arc_rad, 2 * math.pi - 0.02)
            return
        double = np.concatenate([free, free])
        best = run = 0
        for x in double:
            run = run + 1 if x else 0
            best = max(best, run)
        step = angles[1]
        self.assertAlmostEqual(found.free_arc_rad, min(best, len(angles)) * step, delta=2.1 * step)
        self.assertAlmostEqual(found.swing_left_rad, found.free_arc_rad - math.radians(60))
        self.assertEqual(found.reachable, found.swing_left_rad >= -1e-9)

    @settings(max_examples=10, deadline=None)
    @given(seeds, seeds)
    def test_turning_the_whole_aircraft_changes_nothing(self, seed, other):
        m, d = turned(other), np.array([2.0, -1.0, 0.5])

        def moved(p):
            return tuple(m @ np.array(p) + d)

        def placed(a):
            if a.box is None:
                return replace(a, points=[moved(p) for p in a.points])
            axes = (np.array(a.box.axes) @ m.T).tolist()
            return replace(a, box=BoxIn(moved(a.box.centre), a.box.half, axes))

        one = tool_access(HEAD, NUT, around(seed), BAR).head
        two = tool_access(moved(HEAD), moved(NUT), tuple(placed(a) for a in around(seed)), BAR).head
        self.assertAlmostEqual(one.free_arc_rad, two.free_arc_rad, delta=1e-5)
        self.assertEqual(set(one.limited_by), set(two.limited_by))

    @settings(max_examples=10, deadline=None)
    @given(seeds, st.floats(0, 0.01))
    def test_more_around_or_a_wider_gap_never_frees_it(self, seed, gap):
        few = tool_access(HEAD, NUT, around(seed, 2), ROD).head
        many = tool_access(HEAD, NUT, around(seed, 3), ROD, gap_m=gap).head
        self.assertLessEqual(many.free_arc_rad, few.free_arc_rad + 1e-6)

    @settings(max_examples=30, deadline=None)
    @given(seeds)
    def test_boxes_are_as_far_apart_as_their_nearest_points(self, seed):
        rng = np.random.default_rng(seed)
        a, b = (
            Block(rng.normal(0, 0.08, 3), rng.uniform(0.01, 0.06, 3), turned(seed + n))
            for n in (0, 1)
        )
        far = boxes_apart(a, b)
        grid = np.stack(np.meshgrid(*[np.linspace(-1, 1, 13)] * 3), -1).reshape(-1, 3)
        inside = b.inside(a.centre + (grid * a.half) @ a.axes)
        sampled = np.linalg.norm(np.maximum(np.abs(inside) - b.half, 0), axis=1).min()
        if far > 0:
            self.assertLessEqual(far, sampled + 1e-9)
            self.assertGreater(far, sampled - 0.012)
        else:
            self.assertLess(sampled, 0.012)
            apart = Block(a.centre + 2 * (abs(far) + 0.3) * np.eye(3)[0], a.half, a.axes)
            self.assertGreater(boxes_apart(apart, b), 0)


class Boxes(TestCase):
    def test_two_edges_that_cross_are_as_far_apart_as_they_are(self):
        h = math.sqrt(0.5)
        tall = Block(np.zeros(3), np.array([0.01, 0.01, 0.5]),
                     np.array([[h, h, 0], [-h, h, 0], [0, 0, 1.0]]))  # fmt: skip
        across = Block(np.array([0.1, 0, 0]), np.array([0.01, 0.01, 0.5]),
                       np.array([[h, 0, -h], [-h, 0, -h], [0, 1.0, 0]]))  # fmt: skip
        want = 0.1 - 2 * 0.01 * math.sqrt(2)
        self.assertAlmostEqual(boxes_apart(tall, across), want, places=12)
        near = replace(across, centre=np.array([0.02, 0, 0]))
        self.assertAlmostEqual(boxes_apart(tall, near), 0.02 - 2 * 0.01 * math.sqrt(2), places=12)


class Both(TestCase):
    SOCKET = ToolIn(barrel=BarrelIn(0.01, 0.08))

    def test_a_wall_over_the_head_blocks_the_socket_and_a_closure_takes_it_away(self):
        skin = AroundIn("skin", box=BoxIn((0, 0, 0.07), (0.2, 0.2, 0.001)), closure="top skin")
        free = tool_access(HEAD, NUT, (skin,), self.SOCKET, later=("top skin",))
        self.assertEqual((free.reachable, free.taken_by), (True, ("top skin",)))
        shut = tool_access(HEAD, NUT, (skin,), self.SOCKET, closed=("top skin",))
        self.assertEqual((shut.reachable, shut.head.blocked_by), (False, ("skin",)))
        self.assertIsNone(shut.nut)
        below = tool_access(HEAD, NUT, (skin,), None, self.SOCKET, closed=("top skin",))
        self.assertTrue(below.reachable)

    def test_nothing_around_is_a_full_turn(self):
        found = tool_access(HEAD, NUT, (), ROD).head
        self.assertAlmostEqual(found.free_arc_rad, 2 * math.pi)
        self.assertIsNone(found.barrel_free)

    def test_what_cannot_be_is_refused_by_its_field(self):
        line = AroundIn("tube", ((0, 0, 0.1), (1, 0, 0.1)), 0.01)
        for field, more in (
            ("nut", {"nut": HEAD}), ("head_tool", {"head_tool": None}),
            ("head_tool", {"head_tool": ToolIn()}),
            ("head_tool.handle.swing_rad", {"head_tool": ToolIn(handle=HandleIn(0.1, 0.0, 0.01))}),
            ("head_tool.handle.radius", {"head_tool": ToolIn(handle=HandleIn(0.1, 1.0))}),
            ("head_tool.barrel.length", {"head_tool": ToolIn(barrel=BarrelIn(0.02, 0.01))}),
            ("around.tube.radius", {"around": (replace(line, radius=-1.0),)}),
            ("around.tube.points", {"around": (replace(line, points=None),)}),
            ("closed", {"closed": ("lid",)}), ("later", {"later": ("lid",)}),
        ):  # fmt: skip
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                tool_access(
                    **{"head": HEAD, "nut": NUT, "around": (line,), "head_tool": ROD} | more
                )
            self.assertEqual(refused.exception.field, field)


class Sheet(TestCase):
    TYPED = {
        "head": "4600; 0; 515", "nut": "4600; 0; 490", "head_handle": "140", "head_thick": "16",
        "head_standoff": "6", "head_swing": "75", "gap": "1", "later": "side panel",
        "around": [
            {"id": "rib web", "from": "4600; 60; 500", "half": "150; 2; 80"},
            {"id": "fuel tube", "from": "4500; 20; 560", "to": "4750; 20; 560", "od": "9.6"},
            {"id": "side panel", "from": "4600; -110; 500", "half": "300; 1; 100",
             "closure": "side panel"},
        ],
    }  # fmt: skip

    def test_the_page_s_spanner(self):
        kind = kind_of("tool access")
        values, _ = read(kind, self.TYPED, "mm", lambda *_: None)
        found = work(kind, Asked("Bolt", values, date(2026, 11, 1)))
        (check,) = found.checks
        self.assertEqual(check.verdict, "in")
        self.assertIn("221°, 146° more than it must", check.said)
        self.assertEqual(found.facts, (("Taken away by", "side panel"),))

    def test_what_the_rule_refuses_is_refused_by_the_form_s_field(self):
        kind = kind_of("tool access")
        for field, more in (
            ("head_swing", {"head_swing": ""}), ("head_thick", {"head_thick": ""}),
            ("head_barrel_od", {"head_barrel_length": "40"}), ("nut", {"nut": self.TYPED["head"]}),
            ("later", {"later": "no such lid"}), ("head_handle", {"head_handle": ""}),
        ):  # fmt: skip
            values, _ = read(kind, self.TYPED | more, "mm", lambda *_: None)
            with self.subTest(field), self.assertRaises(Refused) as refused:
                work(kind, Asked("Bolt", values, date(2026, 11, 1)))
            self.assertEqual(refused.exception.field, field)
