"""How near two cables of a loop come to each other, and that those that rub are told."""

import json
import math
from itertools import pairwise
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.basis.verdicts import Verdict
from core.cables.apart import apart
from core.cables.judging_route import geometry_checks
from core.cables.reading import rigging_from
from core.cables.rigging import U_STATION_M, Rigged

MOORHEN = Path(__file__).parents[2] / "demo" / "cables" / "moorhen-elevator.json"
at = st.integers(-9, 9).map(lambda n: n / 10.0)
places = st.lists(st.tuples(at, at, at), min_size=2, max_size=4)


def sampled(one, other, count=60):
    """Brute force: the least distance of many points of each run."""
    s = np.linspace(0.0, 1.0, count)[:, None]
    points = [
        np.concatenate([np.array(a) + s * (np.array(b) - np.array(a)) for a, b in pairwise(run)])
        for run in (one, other)
    ]
    return float(np.min(np.linalg.norm(points[0][:, None] - points[1][None], axis=2)))


class Runs(TestCase):
    @given(places, places)
    def test_no_two_sampled_points_are_nearer_and_some_are_nearly_as_near(self, one, other):
        found, brute = apart(one, other), sampled(one, other)
        longest = max(math.dist(a, b) for run in (one, other) for a, b in pairwise(run))
        self.assertLessEqual(found.distance_m, brute + 1e-9)
        self.assertLess(brute - found.distance_m, 2.0 * longest / 59 + 1e-9)

    @given(places, places, st.tuples(at, at, at))
    def test_it_does_not_matter_which_is_first_nor_where_both_lie(self, one, other, by):
        here = apart(one, other)
        self.assertAlmostEqual(apart(other, one).distance_m, here.distance_m, 9)
        moved = [
            [tuple(a + b for a, b in zip(p, by, strict=True)) for p in r] for r in (one, other)
        ]
        self.assertAlmostEqual(apart(*moved).distance_m, here.distance_m, 9)

    def test_two_that_cross_meet_where_they_cross(self):
        found = apart([(0, -1, 0), (2, 1, 0)], [(0, 1, 0.04), (2, -1, 0.04)])
        self.assertAlmostEqual(found.distance_m, 0.04)
        np.testing.assert_allclose(found.at, (1.0, 0.0, 0.02), atol=1e-12)


class Rubbing(TestCase):
    """The elevator's cables run from below to above, side by side."""

    def rubbing(self, beside_mm):
        file = json.loads(MOORHEN.read_text())
        for lever in ("driver", "driven"):
            for side, sign in (("A", 1.0), ("B", -1.0)):
                file[lever][side][1] = sign * beside_mm / 2e3
        for side in file["sides"].values():
            side["supports"], side["fittings"] = [], []
        rigged = Rigged(rigging_from(file))
        found = [c for c in geometry_checks(rigged, ("", "")) if c.key == "rubbing"]
        thick = sum(rigged.rigging.cables[s].data.diameter_m for s in ("A", "B")) / 2.0
        return (found[0] if found else None), thick

    def test_side_by_side_they_pass_and_in_one_plane_they_rub(self):
        self.assertIsNone(self.rubbing(60.0)[0])
        check, thick = self.rubbing(0.0)
        self.assertIs(check.verdict, Verdict.TOO_CLOSE)
        self.assertIn("come within 0 mm at station", check.said)
        U_mm = 2e3 * math.sqrt(2.0) * U_STATION_M
        near, _ = self.rubbing(thick * 1e3 + 0.9 * U_mm)
        self.assertIs(near.verdict, Verdict.TOO_CLOSE)
        self.assertIn("come within 4 mm", near.said)
        self.assertIsNone(self.rubbing(thick * 1e3 + 1.1 * U_mm)[0])
