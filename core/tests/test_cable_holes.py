"""Holes that a cable goes through: judged wherever its levers stand, refused where it cannot be."""

from __future__ import annotations

import copy
import json
import math
from pathlib import Path
from typing import Any
from unittest import TestCase

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.judging_holes import hole_checks, refuse_holes
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.runs.passing import crossings

FILE = Path(__file__).parents[2] / "demo/cables/fenlark-rudder.json"
NEAR_DRIVER_M = 2.2


def loop(holes: Any = "none said", **side: Any) -> Rigged:
    """The demo's loop with these holes of side A, and none said of side B."""
    data: dict[str, Any] = copy.deepcopy(json.loads(FILE.read_text()))
    for s in data["sides"].values():
        del s["holes"]
    data["sides"]["A"] |= side | ({} if holes == "none said" else {"holes": holes})
    return Rigged(rigging_from(data))


def across(rigged: Rigged) -> list[tuple[float, float]]:
    """Butt line and water line of side A at a station, at every position of the sweep."""
    ways = (rigged.way("A", s.driver_rad, s.middle_rad) for s in rigged.states)
    return [crossings(w, NEAR_DRIVER_M)[0][1][1:] for w in ways]


class CableHoles(TestCase):
    def of_a(self, rigged: Rigged) -> Any:
        return next(c for c in hole_checks(rigged) if c.side == "A")

    def hole(self, rigged: Rigged, d: float, **more: Any) -> dict[str, Any]:
        y, z = across(rigged)[50]
        return {"id": "frame", "centre": [NEAR_DRIVER_M, y, z], "d": d} | more

    def test_what_nobody_said_is_not_measured_and_none_is_in(self) -> None:
        self.assertIs(self.of_a(loop()).verdict, Verdict.NOT_MEASURED)
        self.assertIs(self.of_a(loop([])).verdict, Verdict.IN)

    def test_the_worst_position_speaks(self) -> None:
        """A hole that is wide enough at neutral and not at the end of the pedals' travel: by the
        greatest movement across the hole, found here over the whole sweep."""
        still = loop()
        y, z = across(still)[50]
        moved = max(math.dist((y, z), p) for p in across(still))
        radius = still.rigging.cables["A"].data.diameter_m / 2.0
        self.assertGreater(moved, 0.002)
        for gap, verdict in ((-0.0005, Verdict.OUT), (0.0005, Verdict.IN)):
            hole = self.hole(still, 2 * (moved + radius + gap), guard="none")
            found = self.of_a(loop([hole], edge_gap=1e-5))
            self.assertIs(found.verdict, verdict, found.said)
            self.assertEqual("bar at" in found.said, verdict is Verdict.OUT, found.said)
            self.assertEqual(found.key, "holes A")

    def test_a_guard_counts_only_where_the_cable_goes_through(self) -> None:
        still = loop()
        fits = self.hole(still, 0.06, guard="fairlead")
        self.assertIs(self.of_a(loop([fits])).verdict, Verdict.IN)
        beside = fits | {"centre": [NEAR_DRIVER_M, 0.4, 0.2]}
        self.assertIs(self.of_a(loop([beside])).verdict, Verdict.OUT)
        behind = fits | {"centre": [9.0, 0.1, 0.2]}
        self.assertIs(self.of_a(loop([behind])).verdict, Verdict.OUT)
        with self.assertRaises(Refused) as refusal:
            refuse_holes(loop([behind]))
        self.assertEqual(refusal.exception.field, "sides.A.holes")
        self.assertIn("does not pass station 9000 mm", refusal.exception.reason)

    def test_a_bare_edge_without_a_limit_is_not_measured(self) -> None:
        hole = self.hole(loop(), 0.06, guard="none")
        self.assertIs(self.of_a(loop([hole])).verdict, Verdict.NOT_MEASURED)
        self.assertIs(self.of_a(loop([hole], edge_gap=0.001)).verdict, Verdict.IN)
        self.assertIs(self.of_a(loop([hole], edge_gap=0.025)).verdict, Verdict.OUT)

    def test_a_hole_that_cannot_be_is_refused_by_its_member(self) -> None:
        good = self.hole(loop(), 0.06)
        for change, field in (
            ({"d": 0.0}, "0.d"),
            ({"centre": [1, 2]}, "0.centre"),
            ({"plate": "skin"}, "0.plate"),
            ({"guard": "tape"}, "0.guard"),
            ({"id": " "}, "0.id"),
            ({"colour": "red"}, "0.colour"),
        ):
            with self.assertRaises(Refused) as refusal:
                loop([good | change])
            self.assertEqual(refusal.exception.field, f"sides.A.holes.{field}")
        with self.assertRaises(Refused) as refusal:
            loop([good, good])
        self.assertEqual(refusal.exception.field, "sides.A.holes.frame")
