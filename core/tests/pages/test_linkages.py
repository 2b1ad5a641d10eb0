"""Linkages by constraints alone: no closed form, every rod simply keeps its length."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import brentq

from core.tests.pages.asking import Agreeing, ask, field_refused, given

rad, deg = math.radians, math.degrees


def spun(point, pivot, axis, q):
    """A point turned right-handed about an axis."""
    k = np.asarray(axis, float) / np.linalg.norm(axis)
    r = np.asarray(point, float) - np.asarray(pivot, float)
    return (
        np.asarray(pivot, float)
        + r * math.cos(q)
        + np.cross(k, r) * math.sin(q)
        + k * (k @ r) * (1 - math.cos(q))
    )


class Chain:
    """A stick, cranks one behind the other, and a surface, each driven by a rod from the last."""

    def __init__(self, arms, drops, ways, lean):
        """arms: mm of each body; ways: up or down; lean: of the last body's axis."""
        self.ids = ["stick", *[f"crank{i}" for i in range(len(arms) - 2)], "surface"]
        self.pivots = [np.array([2.5 + i * 1.0, 0.0, 0.5 + 0.05 * i]) for i in range(len(arms))]
        self.axes = [np.array([0.0, 1.0, 0.0])] * (len(arms) - 1)
        self.axes.append(np.array([lean, 1.0, 0.3 * lean]))
        self.points = []
        for i, (arm, drop, way) in enumerate(zip(arms, drops, ways, strict=True)):
            self.points.append(self.pivots[i] + np.array([drop / 1e3, 0.01 * i, way * arm / 1e3]))
        self.bodies = [
            {
                "id": name, "kind": "turn", "pivot": p.tolist(), "axis": a.tolist(),
                "points": {"end": x.tolist()} | ({} if i else {"grip": [p[0], p[1], p[2] + 0.46]}),
                "driven_by": {"rod": f"rod{i}"} if i else {"input": "pitch"},
            }
            for i, (name, p, a, x) in enumerate(
                zip(self.ids, self.pivots, self.axes, self.points, strict=True)
            )
        ]  # fmt: skip
        self.rods = [
            {
                "id": f"rod{i}", "a": {"body": self.ids[i - 1], "point": "end"},
                "b": {"body": self.ids[i], "point": "end"},
            }
            for i in range(1, len(arms))
        ]  # fmt: skip
        self.lengths = [
            float(np.linalg.norm(self.points[i] - self.points[i - 1])) for i in range(1, len(arms))
        ]

    @property
    def file(self):
        return {
            "id": "chain", "inputs": {"pitch": {"unit": "rad"}}, "bodies": self.bodies,
            "rods": self.rods, "outputs": {"surface": {"body": "surface", "sign": -1}},
        }  # fmt: skip

    def end(self, i, q):
        return spun(self.points[i], self.pivots[i], self.axes[i], q)

    def solved(self, input_rad, lengths=None):
        """Every body's turn, followed in small steps from the reference; None where it locks."""
        lengths = lengths or self.lengths
        turns = [0.0] * len(self.ids)
        if lengths != self.lengths:
            turns = self.step(0.0, turns, lengths)
        steps = max(1, math.ceil(abs(input_rad) / 0.02))
        for s in range(1, steps + 1):
            if turns is None:
                return None
            turns = self.step(input_rad * s / steps, turns, lengths)
        return turns

    def step(self, input_rad, before, lengths):
        turns = [input_rad]
        for i in range(1, len(self.ids)):
            far = self.end(i - 1, turns[i - 1])

            def off(q, i=i, far=far):
                return float(np.linalg.norm(self.end(i, q) - far)) - lengths[i - 1]

            at, width = before[i], 0.08
            low, high = off(at - width), off(at + width)
            if low * high > 0:
                return None
            turns.append(brentq(off, at - width, at + width, xtol=1e-13))
        return turns


chains = st.builds(
    Chain,
    st.lists(st.integers(50, 120), min_size=3, max_size=3),
    st.lists(st.integers(-15, 15), min_size=3, max_size=3),
    st.sampled_from([(-1, -1, -1), (-1, 1, 1), (1, 1, -1), (1, -1, -1)]),
    st.floats(-0.1, 0.1),
)


class Positions(Agreeing, TestCase):
    @given(chains, st.floats(-20, 20), times=20)
    def test_where_every_body_stands(self, chain, at):
        turns = chain.solved(rad(at))
        assume(turns is not None)
        got = ask("controls.linkage", mechanism=chain.file, at={"pitch_deg": at})
        for name, q in zip(chain.ids, turns, strict=True):
            self.assertAlmostEqual(got["bodies"][name], deg(q), 6)
        self.assertAlmostEqual(got["outputs"]["surface"], -deg(turns[-1]), 6)

    @given(chains, st.floats(-15, 15), times=15)
    def test_gear_arms_and_angles_at_the_rods(self, chain, at):
        h = 1e-5
        here, up, down = (chain.solved(rad(at) + s) for s in (0.0, h, -h))
        assume(None not in (here, up, down))
        got = ask("controls.linkage", mechanism=chain.file, at={"pitch_deg": at})
        gear = -(up[-1] - down[-1]) / (2 * h)
        self.same(got["gear"]["pitch"]["surface"], gear, rel=1e-4, floor=1e-5)
        self.same(
            got["hand_force_per_hinge_moment"]["pitch"]["surface"],
            abs(gear) / 0.46, rel=1e-4, floor=1e-4,
        )  # fmt: skip
        for i in range(1, len(chain.ids)):
            a, b = chain.end(i - 1, here[i - 1]), chain.end(i, here[i])
            e = (b - a) / np.linalg.norm(b - a)
            for side, k in (("a", i - 1), ("b", i)):
                axis = chain.axes[k] / np.linalg.norm(chain.axes[k])
                v = np.cross(axis, chain.end(k, here[k]) - chain.pivots[k])
                rod = got["rods"][f"rod{i}"]
                self.same(rod[f"arm_{side}_mm"], float(abs(e @ v)) * 1e3, rel=1e-5, floor=1e-4)
                angle = math.atan2(abs(float(e @ v)), float(np.linalg.norm(np.cross(e, v))))
                self.same(rod[f"transmission_{side}_deg"], deg(angle), rel=1e-5, floor=1e-4)

    @given(chains, st.floats(-3, 3), st.floats(-10, 10), times=15)
    def test_a_rod_built_longer_moves_the_surface(self, chain, longer, at):
        lengths = list(chain.lengths)
        lengths[-1] += longer / 1e3
        turns = chain.solved(rad(at), lengths)
        assume(turns is not None)
        got = ask(
            "controls.linkage", mechanism=chain.file, at={"pitch_deg": at},
            lengths_mm={"rod2": lengths[-1] * 1e3},
        )  # fmt: skip
        self.assertAlmostEqual(got["outputs"]["surface"], -deg(turns[-1]), 5)
        slope = ask(
            "controls.rod_sensitivity", mechanism=chain.file, rod="rod2", at={"pitch_deg": at},
            output="surface",
        )["deg_per_mm"]  # fmt: skip
        nominal = chain.solved(rad(at))
        assume(nominal is not None)
        change = -deg(turns[-1] - nominal[-1])
        self.assertAlmostEqual(change, slope * longer, delta=0.25 * abs(slope * longer) + 0.05)

    @given(chains, st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1))
    def test_where_the_datum_lies_says_nothing(self, chain, x, y, z):
        moved = Chain([60, 60, 60], [0, 0, 0], (-1, -1, -1), 0.0).file | chain.file
        shifted = {
            **moved,
            "bodies": [
                b
                | {
                    "pivot": [p + s for p, s in zip(b["pivot"], (x, y, z), strict=True)],
                    "points": {
                        k: [p + s for p, s in zip(v, (x, y, z), strict=True)]
                        for k, v in b["points"].items()
                    },
                }
                for b in moved["bodies"]
            ],
        }
        one, other = (
            ask("controls.linkage", mechanism=m, at={"pitch_deg": 8}) for m in (moved, shifted)
        )
        self.agrees(other["bodies"], one["bodies"], rel=1e-6, floor=1e-6)
        self.agrees(other["gear"], one["gear"], rel=1e-5, floor=1e-6)

    @given(chains, st.permutations(range(3)))
    def test_the_order_of_entry_says_nothing(self, chain, order):
        mixed = chain.file | {
            "bodies": [chain.bodies[i] for i in order], "rods": chain.rods[::-1],
        }  # fmt: skip
        one, other = (
            ask("controls.linkage", mechanism=m, at={"pitch_deg": 12}) for m in (chain.file, mixed)
        )
        self.agrees(other, {k: v for k, v in one.items() if k in ("bodies", "outputs", "gear")})

    @given(chains)
    def test_a_linkage_mirrored_left_to_right_moves_alike(self, chain):
        mirrored = chain.file | {
            "bodies": [
                b
                | {
                    "pivot": [b["pivot"][0], -b["pivot"][1], b["pivot"][2]],
                    # An axis is a turning: its mirror image keeps y and changes x and z.
                    "axis": [-b["axis"][0], b["axis"][1], -b["axis"][2]],
                    "points": {k: [v[0], -v[1], v[2]] for k, v in b["points"].items()},
                }
                for b in chain.bodies
            ]
        }
        one, other = (
            ask("controls.linkage", mechanism=m, at={"pitch_deg": 10})
            for m in (chain.file, mirrored)
        )
        self.agrees(other["bodies"], one["bodies"], floor=1e-6)

    def test_what_is_no_linkage_is_refused(self):
        chain = Chain([80, 80, 70], [0, 0, 0], (-1, -1, -1), 0.0)
        good = chain.file
        stick, crank, surface = chain.bodies

        def with_bodies(*bodies):
            return good | {"bodies": list(bodies)}

        circle = crank | {"driven_by": {"body": "surface", "ratio": 1}}
        for bad in (
            with_bodies(stick, crank, surface, crank),
            with_bodies(stick, crank | {"axis": [0, 0, 0]}, surface),
            with_bodies(stick, crank | {"driven_by": {"rod": "none such"}}, surface),
            with_bodies(stick, crank | {"driven_by": {}}, surface),
            with_bodies(stick, crank | {"driven_by": {"rod": "rod1", "input": "pitch"}}, surface),
            with_bodies(stick, circle, surface | {"driven_by": {"body": "crank0", "ratio": 1}}),
            good | {"rods": [chain.rods[0] | {"a": {"body": "stick", "point": "nowhere"}}, chain.rods[1]]},
            good | {"rods": [chain.rods[0] | {"a": chain.rods[0]["b"]}, chain.rods[1]]},
            good | {"outputs": {"surface": {"body": "wing", "sign": 1}}},
            good | {"colour": "red"},
            good | {"inputs": {"pitch": {"unit": "rad", "limitt": 1}}},
            with_bodies(stick, crank, surface | {"carried": "stick"}),
            with_bodies(stick | {"driven_by": {"input": "pitch", "offset": 1}}, crank, surface),
            good | {"rods": [chain.rods[0] | {"lenght_m": 1}, chain.rods[1]]},
            good | {"stops": [{"id": "s", "body": "stick", "side": "max", "at": 1, "first": True}]},
        ):  # fmt: skip
            self.assertIsNotNone(
                field_refused("controls.linkage", mechanism=bad, at={"pitch_deg": 0}), bad
            )
        for at in ({"roll_deg": 3}, {"pitch_mm": 3}, {"pitch": 0.1}):
            self.assertIsNotNone(field_refused("controls.linkage", mechanism=good, at=at), at)
        self.assertIsNotNone(
            field_refused(
                "controls.linkage", mechanism=good, at={"pitch_deg": 0}, lengths_mm={"no": 1}
            )
        )
