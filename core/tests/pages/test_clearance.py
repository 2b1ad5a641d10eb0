"""Distances, allowances and verdicts of clearances: the page written a second time."""

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st
from scipy.optimize import linprog, minimize, minimize_scalar

from core.tests.pages.asking import Agreeing, ask, field_refused, given

u = st.floats(-1, 1).map(lambda x: round(x, 3))
point = st.tuples(u, u, u).map(list)
radius = st.floats(0, 0.02)
ORIGIN, X, Y, Z = [0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]


def turned(points, origin, axis, angle):
    """Right-handed about an axis, by Rodrigues' formula."""
    k = np.asarray(axis, float) / np.linalg.norm(axis)
    r = np.asarray(points, float) - origin
    along = np.outer(r @ k, k)
    return origin + along + (r - along) * math.cos(angle) + np.cross(k, r) * math.sin(angle)


def to_segment(p, a, b):
    """Of a point from a straight piece."""
    v = b - a
    t = 0.0 if v @ v == 0 else min(1.0, max(0.0, float((p - a) @ v / (v @ v))))
    return float(np.linalg.norm(p - a - t * v))


def apart(a0, a1, b0, b1):
    """C2a as the page says it: four ends, and the stationary point where it lies inside."""
    a0, a1, b0, b1 = (np.asarray(x, float) for x in (a0, a1, b0, b1))
    found = [
        to_segment(a0, b0, b1), to_segment(a1, b0, b1), to_segment(b0, a0, a1),
        to_segment(b1, a0, a1),
    ]  # fmt: skip
    v, w, d = a1 - a0, b1 - b0, a0 - b0
    det = (v @ v) * (w @ w) - (v @ w) ** 2
    if det > 1e-14 * (v @ v) * (w @ w):
        s, t = np.linalg.solve([[v @ v, -(v @ w)], [-(v @ w), w @ w]], [-(v @ d), w @ d])
        if 0 <= s <= 1 and 0 <= t <= 1:
            found.append(float(np.linalg.norm(d + s * v - t * w)))
    return min(found)


class Straight(Agreeing, TestCase):
    @given(point, point, radius, point, point, radius, times=80)
    def test_two_pieces(self, a0, a1, ra, b0, b1, rb):
        got = ask("clearance.capsule_gap", a0=a0, a1=a1, ra=ra, b0=b0, b1=b1, rb=rb)
        want = apart(a0, a1, b0, b1)
        self.agrees(got, {"distance": want, "gap": want - ra - rb}, 1e-6, 1e-7)

    @given(point, point, radius, point, st.tuples(radius, radius, radius), st.floats(-3, 3))
    def test_a_piece_and_a_box(self, a0, a1, ra, centre, half, angle):
        axes = [[math.cos(angle), math.sin(angle), 0], [-math.sin(angle), math.cos(angle), 0], Z]
        half = [10 * h for h in half]

        def far(t):
            p = np.asarray(a0) + t * (np.asarray(a1) - a0) - centre
            inside = np.asarray(axes) @ p
            return float(np.linalg.norm(inside - np.clip(inside, [-h for h in half], half)))

        best = minimize_scalar(far, bounds=(0, 1), method="bounded", options={"xatol": 1e-12})
        want = min(best.fun, far(0.0), far(1.0))
        box = {"centre": centre, "half": half, "axes": axes}
        got = ask("clearance.capsule_box_gap", a0=a0, a1=a1, ra=ra, b=box)
        self.agrees(got, {"distance": want, "gap": want - ra}, 1e-5, 2e-6)

    def test_what_is_no_point_radius_or_box_is_refused(self):
        good = {"a0": ORIGIN, "a1": X, "ra": 0.1}
        for field, more in (
            ("a0", {"a0": [0, 1]}), ("a1", {"a1": [0, 1, math.nan]}), ("ra", {"ra": -0.1}),
            ("b0", {"b0": "x"}), ("rb", {"rb": -1.0}),
        ):  # fmt: skip
            asked = {**good, "b0": Y, "b1": Z, "rb": 0.1} | more
            self.assertEqual(field_refused("clearance.capsule_gap", **asked), field)
        box = {"centre": ORIGIN, "half": [1, 1, 1]}
        for field, more in (("b.half", {"half": [1, -1, 1]}), ("b.axes", {"axes": [X, Y, Y]})):
            self.assertEqual(
                field_refused("clearance.capsule_box_gap", **good, b=box | more), field
            )


class Moving(Agreeing, TestCase):
    """Against plain minimising from many starts; never better than what is found so."""

    @given(point, point, point, point, st.floats(0.3, 2), times=12)
    def test_one_control(self, a0, a1, b0, b1, ratio):
        assume(math.dist(a0, a1) > 0.05)
        step = {"control": 0, "rotate": {"origin": a0, "axis": [0.2, 1, 0.4], "ratio": ratio}}
        got = ask(
            "clearance.moving_gap", a={"points": [a0, a1], "radius": 0.01, "steps": [step]},
            b={"points": [b0, b1], "radius": 0.005}, lo=[-0.4], hi=[0.6], tol=1e-6,
        )  # fmt: skip

        def gap(q):
            p = turned([a0, a1], np.asarray(a0), [0.2, 1, 0.4], ratio * q)
            return apart(p[0], p[1], b0, b1) - 0.015

        grid = np.linspace(-0.4, 0.6, 201)
        low = min(grid, key=gap)
        found = minimize_scalar(gap, bounds=(max(-0.4, low - 0.01), min(0.6, low + 0.01)),
                                method="bounded", options={"xatol": 1e-10})  # fmt: skip
        want = min(found.fun, gap(low))
        self.assertLessEqual(got["least"], want + 2e-6)
        self.assertLessEqual(got["not_below"], want + 1e-9)
        self.assertAlmostEqual(gap(got["at"][0]), got["least"], places=8)
        axis = np.asarray([0.2, 1, 0.4]) / np.linalg.norm([0.2, 1, 0.4])
        arm = np.linalg.norm(np.cross(np.subtract(a1, a0), axis))
        self.agrees(got, {"L": [ratio * arm]})

    def test_a_slide_s_speed_is_its_vector_and_a_turn_after_it_counts_it(self):
        slide = {"control": 0, "translate": [0.3, 0.4, 0]}
        turn = {"control": 1, "rotate": {"origin": ORIGIN, "axis": Z, "ratio": 2.0}}
        run = {"points": [X, [1.5, 0, 0]], "radius": 0, "steps": [slide, turn]}
        got = ask("clearance.moving_gap", a=run, b={"points": [[9, 9, 9], [9, 9, 8]]},
                  lo=[-0.2, -0.1], hi=[0.1, 0.3])  # fmt: skip
        # "Already moved" by the slide: 0.5 m per unit, at most 0.2 of it.
        self.agrees(got, {"L": [0.5, 2.0 * (1.5 + 0.1)]})

    def test_ranges_that_cannot_be_are_refused(self):
        run = {"points": [ORIGIN, X], "radius": 0}
        for field, lo, hi in (
            ("lo", [0, 0, 0], [1, 1, 1]),
            ("lo", [0], [1, 1]),
            ("lo[0]", [1], [0]),
        ):
            self.assertEqual(
                field_refused("clearance.moving_gap", a=run, b=run, lo=lo, hi=hi), field
            )

    @given(
        st.lists(st.floats(-0.1, 0.1), min_size=4, max_size=4), st.floats(0.1, 1), st.floats(0.1, 1)
    )
    def test_a_cell_by_linear_programming(self, gaps, h0, h1):
        """The least g with g ≥ g_c − L·|q − c| at every corner, over the cell: never below the
        rule's bound, which is the mean of the corners less half of L times the steps."""
        spread = max(gaps) - min(gaps)
        L = [spread / h0, spread / h1]
        got = ask("clearance.cell_bound", corner_gaps=gaps, steps=[h0, h1], L=L)["value"]
        self.assertAlmostEqual(got, sum(gaps) / 4 - (L[0] * h0 + L[1] * h1) / 2)
        corners = list(itertools.product((0, h0), (0, h1)))
        for q in itertools.product(np.linspace(0, h0, 5), np.linspace(0, h1, 5)):
            rows = [L[0] * abs(q[0] - c[0]) + L[1] * abs(q[1] - c[1]) for c in corners]
            least = linprog([1], A_ub=[[-1]] * 4, bounds=[(None, None)],
                            b_ub=[r - g for r, g in zip(rows, gaps, strict=True)]).fun  # fmt: skip
            self.assertGreaterEqual(least, got - 1e-9)


class Allowed(Agreeing, TestCase):
    @given(st.floats(0.1, 2), st.floats(1.0001, 1.2), st.floats(0, 1))
    def test_a_slack_line_on_its_ellipse(self, span, longer, share):
        a, f = span * longer / 2, span / 2
        b2 = a * a - f * f
        want = math.sqrt(b2 * (1 - ((share * span - f) / a) ** 2))
        got = ask("clearance.slack_reach", span=span, length=span * longer, x=share * span)
        self.agrees(got, {"value": want}, 1e-6, 1e-9)
        self.assertEqual(
            field_refused("clearance.slack_reach", span=span, length=span * 0.9, x=0), "length"
        )

    @given(
        st.floats(0.2, 1), st.floats(150, 300), st.floats(0, 8), st.floats(0, 1), st.floats(1, 4)
    )
    def test_a_taut_cable(self, span, tension, force, weight, n):
        want = force * span / (4 * tension) + n * weight * span**2 / (8 * tension)
        assume(want < 0.05 * span)
        given = {"span": span, "force": force, "weight_per_m": weight, "load_factor": n}
        self.agrees(ask("clearance.taut_push", tension=tension, **given), {"value": want})
        self.assertTrue(
            field_refused("clearance.taut_push", tension=0.01, **given | {"force": 9.0})
        )

    @given(st.floats(0.2, 1), st.floats(0.1, 2), st.floats(0.006, 0.02), st.floats(0.1, 0.9))
    def test_a_tube_under_its_weight_by_integrating_its_bending(self, span, weight, outer, share):
        inner, E, n = outer * share, 68.9e9, 2.0
        inertia = math.pi * (outer**4 - inner**4) / 64
        x = np.linspace(0, span, 20001)
        moment = n * weight * x * (span - x) / 2
        # Deflection at mid-span by virtual work: a unit force there.
        unit = np.where(x < span / 2, x / 2, (span - x) / 2)
        want = float(np.trapezoid(moment * unit, x)) / (E * inertia)
        assume(want < 0.05 * span)
        got = ask("clearance.beam_sag", span=span, weight_per_m=weight, E=E, outer_d=outer,
                  inner_d=inner, load_factor=n)  # fmt: skip
        self.agrees(got, {"value": want}, 1e-5)

    @given(st.floats(0.02, 1.15), times=60)
    def test_a_table_and_the_shape_over_a_span(self, at):
        table = [[0, 0], [0.3, 0.004], [0.6, 0.012], [1.2, 0.03]]
        own = float(np.interp(at, *np.array(table).T))
        self.agrees(ask("clearance.span_allowance", table=table, span=at), {"value": own})
        pts = [[0, 0, 0], [at / 3, 0, 0], [at, 0, 0]]
        got = ask("clearance.segment_allowances", pts=pts, support_s=[], table=table)["value"]
        share = np.linspace(0, 1, 3001)
        shape = 4 * own * share * (1 - share)
        self.same(got[0], float(shape[share <= 1 / 3 + 1e-12].max()), 1e-3)
        self.same(got[1], float(shape[share >= 1 / 3].max()), 1e-6)

    def test_tables_that_are_none_are_refused(self):
        for field, table, span in (("table", [[0, 0]], 0.1), ("table", [[0, 0], [0, 1]], 0.1),
                                   ("span", [[0, 0], [1, 1]], 1.5)):  # fmt: skip
            self.assertEqual(
                field_refused("clearance.span_allowance", table=table, span=span), field
            )


class Verdicts(Agreeing, TestCase):
    @given(
        st.floats(-0.02, 0.08), st.floats(0, 0.003), st.floats(0, 0.01),
        st.one_of(st.none(), st.floats(0.001, 0.06)), st.floats(0, 0.02), st.booleans(), times=150,
    )  # fmt: skip
    def test_touch_clear_or_close(self, low, more, u, rule, flex, estimated):
        best, U = low + more, 2 * u
        net_low, net_best = low - flex - U, best - flex + U
        edges = [best - flex, net_low, net_best] + (
            [] if rule is None else [net_low - rule, net_best - rule]
        )
        assume(all(abs(x) > 1e-9 for x in edges))
        if best - flex <= 0:
            word, sure, judged = "touch", net_best <= 0, "out"
        elif rule is None:
            word, sure, judged = "not measured", False, "not measured"
        elif net_low >= rule and net_low > 0:
            word, sure = "clear", not estimated
            judged = "in" if sure else "too close"
        else:
            word, sure = "close", net_low > 0 and net_best < rule and not estimated
            judged = "out" if sure else "too close"
        asked = {"gap_low": low, "gap_best": best, "u": u, "relative_motion_m": flex,
                 "estimated": estimated}  # fmt: skip
        got = ask("clearance.gap_verdict", **asked, **({} if rule is None else {"rule": rule}))
        self.agrees(got, {"verdict": word, "sure": sure, "judged": judged, "low": net_low,
                          "high": net_best, "may_be_accepted": word == "close" and sure})  # fmt: skip

    def test_bounds_above_what_was_attained_and_negatives_are_refused(self):
        good = {"gap_low": 0.01, "gap_best": 0.02, "u": 0.001}
        for field, more in (("gap_low", {"gap_low": 0.03}), ("u", {"u": -1.0}), ("rule", {"rule": -1.0}),
                            ("relative_motion_m", {"relative_motion_m": -1.0})):  # fmt: skip
            self.assertEqual(field_refused("clearance.gap_verdict", **good | more), field)

    @given(
        st.lists(st.floats(0.0001, 0.01), min_size=4, max_size=4), st.floats(0, 1), st.floats(0, 1)
    )
    def test_uncertainty_by_throwing_ends_about(self, us, s, t):
        rng = np.random.default_rng(5)
        ends = rng.normal(0, 1, (4, 20000)) * np.array(us)[:, None]
        gap = (1 - s) * ends[0] + s * ends[1] - (1 - t) * ends[2] - t * ends[3]
        got = ask("clearance.gap_uncertainty", u_a=us[:2], s=s, u_b=us[2:], t=t)["value"]
        self.assertAlmostEqual(got / float(gap.std()), 1.0, delta=0.03)


class Zones(Agreeing, TestCase):
    @given(point, point, st.floats(0.05, 0.3), st.floats(0, 0.3), point, point, times=25)
    def test_a_cone_by_minimising_over_its_points(self, start, end, r0, r1, p, q):
        assume(math.dist(start, end) > 0.2 and math.dist(p, q) > 0.1)
        volume = {"kind": "cone", "from": start, "to": end, "radius_from": r0, "radius_to": r1}
        run = {"id": "hose", "kind": "fuel", "points": [p, q], "radius": 0.0}
        got = ask("clearance.keep_out", volume=volume, kinds=["any"], margin_m=0.0, runs=[run])
        axis = np.subtract(end, start)
        long = np.linalg.norm(axis)
        axis = axis / long

        def outside(t):
            """Distance of a point of the run from the cone, 0 inside; by its profile alone."""
            x = np.asarray(p) + t * np.subtract(q, p) - start
            h = float(x @ axis)
            r = float(np.linalg.norm(x - h * axis))

            def to(w):
                level, share = w
                edge = (r0 + (r1 - r0) * level) * share
                return (h - level * long) ** 2 + (r - edge) ** 2

            starts = [(0.1, 1), (0.9, 1), (0.5, 1), (0.5, 0.2)]
            return math.sqrt(min(
                minimize(to, w, bounds=[(0, 1), (0, 1)], options={"ftol": 1e-15, "gtol": 1e-12}).fun
                for w in starts
            ))  # fmt: skip

        least = min(outside(t) for t in np.linspace(0, 1, 33))
        gap = got["runs"]["hose"]["gap_m"]
        if gap > 1e-4:
            self.assertLessEqual(gap, least + 1e-6)
            self.assertGreater(gap, least - math.dist(p, q) / 32)
        else:
            self.assertLess(least, math.dist(p, q) / 32 + 1e-4)

    def test_what_is_no_volume_is_refused(self):
        run = {"id": "a", "kind": "fuel", "points": [ORIGIN, X], "radius": 0.01}
        cone = {"kind": "cone", "from": ORIGIN, "to": Z, "radius_from": 0.1, "radius_to": 0.2}
        good = {"volume": cone, "kinds": ["any"], "margin_m": 0.0, "runs": [run]}
        for field, more in (
            ("volume.to", {"volume": cone | {"to": ORIGIN}}),
            ("volume.radius_to", {"volume": cone | {"radius_from": 0.0, "radius_to": 0.0}}),
            ("margin_m", {"margin_m": -0.1}), ("kinds", {"kinds": []}),
            ("runs.a.id", {"runs": [run, run]}), ("runs.a.points", {"runs": [run | {"points": [ORIGIN]}]}),
            ("runs.a.radius", {"runs": [run | {"radius": -1.0}]}),
            ("runs.a.u_m", {"runs": [run | {"u_m": -1.0}]}),
        ):  # fmt: skip
            self.assertEqual(field_refused("clearance.keep_out", **good | more), field, more)


class Doors(Agreeing, TestCase):
    @given(point, st.floats(0.5, 3), st.floats(0, 0.1), times=12)
    def test_a_flap_and_a_ball_in_closed_form(self, ball, hi, rule):
        """A spoke of the hinge meets a point where the point's own angle is; before that, by
        trigonometry."""
        out = math.hypot(ball[0], ball[2])
        spot = [ball[0], 0.0, ball[2]]
        assume(0.3 < out < 0.9)
        got = ask(
            "clearance.hinged_sweep", body={"points": [ORIGIN, X], "radius": 0.0},
            hinge={"origin": ORIGIN, "axis": [0, -1, 0]}, hi_rad=hi, rule_m=rule,
            obstacles=[{"id": "ball", "points": [spot, spot], "radius": 0.0}],
        )  # fmt: skip
        angle = math.atan2(ball[2], ball[0]) % (2 * math.pi)

        def gap(q):
            off = abs((angle - q + math.pi) % (2 * math.pi) - math.pi)
            return out if off >= math.pi / 2 else out * math.sin(off)

        near = [q for q in (0.0, hi, angle) if 0 <= q <= hi]
        self.assertAlmostEqual(got["least"]["gap_m"], min(gap(q) for q in near), delta=2e-5)
        largest = got["largest_angle_rad"]
        if gap(0.0) < rule - 1e-6:
            self.assertIsNone(largest)
        elif rule > 1e-3 and largest is not None and largest < hi - 1e-6:
            self.assertAlmostEqual(gap(largest), rule, delta=1e-5)
