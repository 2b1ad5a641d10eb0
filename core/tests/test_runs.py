"""Runs: length against an integrated centreline, spans, plates crossed, edges guarded."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines.line import drawn
from core.rulebook import rule
from core.runs.holes import Hole, check_holes, holes_checks
from core.runs.passing import crossings
from core.runs.path import along, distances

CORNERS = [[1.5, 0.2, 0.3], [1.9, 0.2, 0.3], [2.1, 0.35, 0.3], [2.1, 0.35, 0.62]]
WIDE = [[-9.0, -9.0], [9.0, -9.0], [9.0, 9.0], [-9.0, 9.0]]
steps = st.lists(
    st.tuples(*[st.floats(-0.5, 0.5).filter(lambda x: abs(x) > 0.05)] * 3), min_size=2, max_size=6
)


def walked(given: list[tuple[float, float, float]]) -> list[list[float]]:
    """Points from steps."""
    return np.cumsum([(0.0, 0.0, 0.0), *given], axis=0).tolist()  # type: ignore[no-any-return]


def asked(pts: list[list[float]], **more: Any) -> list[dict[str, Any]]:
    """The crossings of a run."""
    base = {"bulkheads": [], "supports": [], "radius": 0.004, "tol": 0.015, "edge_gap": 0.00635}
    return rule("clearance.pass_throughs").run({"pts": pts, **base, **more})["value"]  # type: ignore[no-any-return]


class Along(TestCase):
    """Length, radius and spans."""

    def test_the_page_s_run(self) -> None:
        found = rule("clearance.run_length").run({"pts": CORNERS, "radii": [0.04, 0.03]})
        self.assertAlmostEqual(found["corner_length"], 0.97, 9)
        self.assertAlmostEqual(found["length"], 0.956197267, 9)
        widest = rule("clearance.largest_equal_radius").run({"pts": CORNERS})["value"]
        self.assertAlmostEqual(widest, 0.1875, 9)
        spans = rule("clearance.spans").run(
            {"pts": CORNERS, "supports_s": [0.5, 0.15, 0.7], "limit": 0.3}
        )
        self.assertEqual([round(s, 9) for s in spans["spans"]], [0.15, 0.35, 0.2, 0.27])
        self.assertEqual((spans["over"], spans["least_supports"]), ([1], 3))

    @given(steps, st.floats(0.1, 1.0))
    def test_length_is_that_of_the_drawn_arcs_and_the_widest_radius_just_fits(
        self, given: list[tuple[float, float, float]], share: float
    ) -> None:
        pts = walked(given)
        try:
            widest = rule("clearance.largest_equal_radius").run({"pts": pts})["value"]
        except Refused:
            return
        if widest is None or widest > 10.0:
            return
        radii = [widest * share] * (len(pts) - 2)
        length = rule("clearance.run_length").run({"pts": pts, "radii": radii})["length"]
        try:
            line = drawn(pts, radii)
        except Refused:
            return  # Points in line: no tube has a bend there.
        chords = math.fsum(math.dist(a, b) for a, b in pairwise(line.tolist()))
        # Each arc is drawn as eight chords: shorter by at most (turn / 8)² / 24 of itself.
        self.assertLessEqual(chords, length + 1e-9)
        self.assertGreaterEqual(chords, length * (1.0 - (math.pi / 8) ** 2 / 24) - 1e-9)
        with self.assertRaises(Refused):
            rule("clearance.run_length").run({"pts": pts, "radii": [widest * 1.001] * len(radii)})

    @given(st.floats(0.05, 2.0), st.floats(0.3, 2.5), st.integers(3, 9))
    def test_a_circle_traced_by_points_has_its_radius(self, r: float, turn: float, n: int) -> None:
        at = [a * turn / n for a in range(n + 1)]
        pts = [[r * math.cos(a), r * math.sin(a), 0.3] for a in at]
        found = rule("clearance.traced_radius").run({"pts": pts})["value"]
        self.assertAlmostEqual(found / r, 1.0, 6)
        straight = [[0.1 * k, 0.2 * k, 0.0] for k in range(4)]
        self.assertIsNone(rule("clearance.traced_radius").run({"pts": straight})["value"])

    @given(steps, st.floats(0.02, 1.0), st.lists(st.floats(0.0, 1.0), max_size=5))
    def test_spans_fill_the_run_and_fewer_supports_cannot_do(
        self, given: list[tuple[float, float, float]], limit: float, shares: list[float]
    ) -> None:
        pts = walked(given)
        total = distances([tuple(p) for p in pts])[-1]
        try:
            found = rule("clearance.spans").run(
                {"pts": pts, "supports_s": [s * total for s in shares], "limit": limit}
            )
        except Refused:
            return
        self.assertAlmostEqual(math.fsum(found["spans"]), total, 9)
        self.assertEqual(
            found["over"], [n for n, s in enumerate(found["spans"]) if s > limit + 1e-9]
        )
        least = found["least_supports"]
        self.assertLessEqual(total / (least + 1), limit + 1e-6)
        self.assertTrue(least == 0 or total / least > limit - 1e-6)

    def test_what_is_no_run_is_refused(self) -> None:
        for inputs, field in (
            ({"pts": [[0, 0, 0], [1, 0, 0], [0.2, 0, 0]], "radii": [0.1]}, "pts"),
            ({"pts": CORNERS, "radii": [0.1]}, "radii"),
            ({"pts": CORNERS, "radii": [0.1, -0.1]}, "radii"),
            ({"pts": CORNERS, "radii": [0.9, 0.1]}, "radii"),
        ):
            with self.assertRaises(Refused) as caught:
                rule("clearance.run_length").run(inputs)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaises(Refused) as caught:
            rule("clearance.spans").run({"pts": CORNERS, "supports_s": [0.98], "limit": 0.3})
        self.assertEqual(caught.exception.field, "supports_s")


class Through(TestCase):
    """Plates, their holes and what guards the edges."""

    def test_the_page_s_bulkheads(self) -> None:
        outline = [[-0.5, 0.0], [0.5, 0.0], [0.5, 0.8], [-0.5, 0.8]]
        holes = {1.6: (0.2, 0.3, 0.012), 1.8: (0.2, 0.3, 0.025), 2.05: (0.3, 0.3, 0.04)}
        plates = [
            {"id": str(x), "station": x, "outline": outline, "holes": [{"y": y, "z": z, "d": d}]}
            for x, (y, z, d) in holes.items()
        ]
        plates.append({"id": "2.1", "station": 2.1, "outline": outline, "holes": []})
        found = asked(CORNERS, bulkheads=plates, supports=[{"s": 0.105, "kind": "grommet"}])
        self.assertEqual(
            [(c["bulkhead"], round(c["s"], 9), round(c["edge_gap"], 9), c["state"]) for c in found],
            [
                ("1.6", 0.1, 0.002, "protected"),
                ("1.8", 0.3, 0.0085, "clearance only"),
                ("2.05", 0.5875, 0.0035, "unprotected"),
            ],
        )

    @given(steps, st.floats(-1.0, 1.0))
    def test_crossings_are_where_finely_stepped_points_change_side(
        self, given: list[tuple[float, float, float]], station: float
    ) -> None:
        line = [tuple(p) for p in walked(given)]
        if any(abs(p[0] - station) < 1e-4 for p in line):
            return
        total = distances(line)[-1]
        points = [along(line, total * k / 6000) for k in range(6001)]
        flips = [
            total * (k + 0.5) / 6000
            for k, (a, b) in enumerate(pairwise(points))
            if (a[0] - station) * (b[0] - station) < 0
        ]
        found = crossings(line, station)
        self.assertEqual(len(found), len(flips))
        for (s, p), flip in zip(found, flips, strict=True):
            self.assertAlmostEqual(s, flip, delta=total / 5000)
            self.assertLess(math.dist(p, along(line, s)), 1e-9)

    def test_a_run_along_a_plate_crosses_once_or_not_at_all(self) -> None:
        goes_on = [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (1.0, 0.5, 0.0), (2.0, 0.5, 0.0)]
        self.assertEqual(crossings(goes_on, 1.0), [(1.0, (1.0, 0.0, 0.0))])
        comes_back = [*goes_on[:3], (0.0, 0.5, 0.0)]
        self.assertEqual(crossings(comes_back, 1.0), [])
        self.assertEqual(crossings(goes_on[1:], 1.0), [])

    def test_the_edge_of_an_outline_counts_and_outside_it_is_none(self) -> None:
        square = [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]
        for y, z, many in ((0.5, 0.5, 1), (1.0, 0.5, 1), (1.001, 0.5, 0), (0.5, -0.001, 0)):
            plate = {"id": "p", "station": 0.5, "outline": square, "holes": []}
            found = asked([[0, y, z], [1, y, z]], bulkheads=[plate])
            self.assertEqual([c["state"] for c in found], ["no hole"] * many, (y, z))
        notch = [[0, 0], [1, 0], [1, 1], [0.5, 0.2], [0, 1]]
        plate = {"id": "p", "station": 0.5, "outline": notch, "holes": []}
        self.assertEqual(asked([[0, 0.5, 0.5], [1, 0.5, 0.5]], bulkheads=[plate]), [])


def said(holes: list[Hole] | None, gap: float | None = None) -> list[tuple[str, Verdict, str]]:
    """What is said of a straight run at butt line 0, water line 0, 8 mm thick."""
    line = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0]]
    return [(c.key, c.verdict, c.said) for c in holes_checks(line, 0.004, holes, gap, {})]


class Holes(TestCase):
    """What a builder says of holes, and what stands then."""

    def hole(self, guard: str = "", d: float = 0.020, y: float = 0.0, x: float = 0.5) -> Hole:
        return Hole("F3", x, y, 0.0, d, guard)

    def test_nothing_is_assumed(self) -> None:
        self.assertEqual(said(None)[0][1], Verdict.NOT_MEASURED)
        self.assertEqual(said([])[0][1], Verdict.IN)
        self.assertEqual(said([self.hole()])[0][1], Verdict.NOT_MEASURED)
        self.assertEqual(said([self.hole("none")])[0][1], Verdict.NOT_MEASURED)

    def test_a_guard_a_gap_or_neither(self) -> None:
        self.assertEqual(said([self.hole("grommet")])[0][1], Verdict.IN)
        self.assertEqual(said([self.hole("none")], 0.006)[0][1], Verdict.IN)
        key, verdict, words = said([self.hole("none")], 0.0061)[0]
        self.assertEqual((key, verdict), ("holes", Verdict.OUT))
        self.assertIn("6.0 mm from the edge of F3, which has no guard", words)
        self.assertEqual(said([self.hole("")], 0.0061)[0][1], Verdict.NOT_MEASURED)

    def test_an_edge_that_is_cut_and_a_hole_that_is_missed(self) -> None:
        self.assertEqual(
            said([self.hole("grommet", y=0.007)])[0][1:], (Verdict.OUT, "It cuts the edge of F3.")
        )
        _, verdict, words = said([self.hole("grommet", y=0.05)])[0]
        self.assertEqual(verdict, Verdict.OUT)
        self.assertIn("does not go through F3", words)

    def test_a_second_passage_needs_its_own_hole(self) -> None:
        back = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 0.3, 0.0], [0.0, 0.3, 0.0]]
        (found,) = holes_checks(back, 0.004, [self.hole("grommet")], None, {})
        self.assertEqual(found.verdict, Verdict.NOT_MEASURED)
        self.assertIn("o hole is said where it passes F3’s plate 1800 mm along it", found.said)

    @given(st.floats(-0.012, 0.012), st.sampled_from(["", "none", "grommet"]), st.floats(0, 0.01))
    def test_a_rib_is_a_bulkhead_with_span_and_length_changed_over(
        self, off: float, guard: str, gap: float
    ) -> None:
        along_x, along_y = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0]], [[0.0, 0.0, 0.0], [0.0, 1.0, 0.0]]
        plate = Hole("R", 0.5, off, 0.0, 0.02, guard)
        rib = Hole("R", off, 0.5, 0.0, 0.02, guard, True)
        (a,) = holes_checks(along_x, 0.004, [plate], gap, {})
        (b,) = holes_checks(along_y, 0.004, [rib], gap, {})
        self.assertEqual((a.verdict, a.said, b.key), (b.verdict, b.said, "ribs"))

    def test_holes_that_cannot_be_are_refused(self) -> None:
        line = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0]]
        check_holes(line, [self.hole("grommet")])
        for holes in (
            [self.hole(), self.hole()],
            [self.hole(d=0.0)],
            [self.hole(x=1.2)],
            [self.hole("tape")],
            [Hole("R", 0.5, 0.4, 0.0, 0.02, "", True)],
        ):
            with self.assertRaises(Refused) as caught:
                check_holes(line, holes)
            self.assertEqual(caught.exception.field, "holes")
