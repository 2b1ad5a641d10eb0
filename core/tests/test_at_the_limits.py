"""Limits, messages and pieces that only one number or one call holds."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np

from core.basis.refused import Refused
from core.hardware.compound import _time
from core.hardware.torque import shipped_range
from core.hardware.washer import washer_cover
from core.lines.bend import bend_card
from core.lines.fuel_flow import _rise
from core.lines.hose_moving import Obstacle, hose_moving
from core.lines.pitot import Segment, line_lag
from core.lines.sheets.tubes import _needs
from core.lines.threading import _chains
from core.lines.tube import Tube
from core.rulebook import rule
from core.tests.test_hoses import ENDS, FIXED, HOSE
from core.wiring.tables import PROTECTORS


class Wires(TestCase):
    def test_the_protectors_are_those_of_the_table(self) -> None:
        self.assertEqual(list(PROTECTORS["breaker"].values()), [5, 7.5, 10, 15, 20])
        self.assertEqual(list(PROTECTORS["fuse"].values()), [5, 5, 10, 10, 15, 20, 30])

    def test_an_alternator_gives_no_more_than_it_is_rated_for(self) -> None:
        phase = {"name": "climb", "duration_s": 60, "alternator_factor": 1.0}
        asked: dict[str, Any] = {"alternator_A": 30, "loads": [
            {"name": "radio", "current_A": 2, "duty": {"climb": 1}}]}  # fmt: skip
        rule("wiring.load_analysis").run(asked | {"phases": [phase]})
        with self.assertRaises(Refused):
            more = phase | {"alternator_factor": 1.01}
            rule("wiring.load_analysis").run(asked | {"phases": [more]})

    def test_a_battery_never_gives_more_than_it_holds(self) -> None:
        """At 0.5 A the voltage would allow 1.04 of its capacity: the capacity ends it."""
        battery = {"capacity_Ah": 18, "rate_h": 20, "peukert": 1.18, "temperature_factor": 1.0,
                   "age_factor": 1.0, "reserve_fraction": 0.0}  # fmt: skip
        volts = {"emf_full_V": 12.8, "emf_end_V": 10.6, "least_bus_V": 10.5}
        plain = rule("wiring.battery_endurance").run(battery | {"steps": [{"current_A": 0.5}]})
        held = rule("wiring.battery_endurance").run(
            battery | volts | {"steps": [{"current_A": 0.5}], "resistance_ohm": 0.02}
        )
        self.assertEqual(held["endurance_s"], plain["endurance_s"])


class Runs(TestCase):
    def test_the_leg_on_which_bends_do_not_fit_is_counted_from_one(self) -> None:
        pts = [[0, 0, 0], [1, 0, 0], [1, 0.1, 0], [2, 0.1, 0]]
        with self.assertRaises(Refused) as caught:
            rule("clearance.run_length").run({"pts": pts, "radii": [0.06, 0.06]})
        self.assertIn("leg 2", caught.exception.reason)


class Joints(TestCase):
    def test_what_a_washer_may_shift_is_taken_off_what_it_covers(self) -> None:
        for bore in (0.005, 0.0056, 0.006):
            found = washer_cover(0.016, 0.008, 0.001, bolt_m=0.005, washer_id_m=bore)
            shift = (bore - 0.005) / 2
            self.assertAlmostEqual(found.overlap_m, 0.008 - 0.004 - 0.001 - shift)

    def test_at_the_warmest_point_a_compound_takes_what_that_point_says(self) -> None:
        points = [(283.15, 5400.0), (303.15, 1200.0)]
        self.assertEqual(_time(points, 303.15 + 5e-10, "temp_K"), 1200.0)

    def test_a_nut_of_no_known_kind_has_no_shipped_torque(self) -> None:
        low, high = shipped_range("10-32", "shear")
        self.assertLess(low, high)
        with self.assertRaises(Refused) as caught:
            shipped_range("10-32", "wing")
        self.assertEqual(caught.exception.field, "nut_type")

    def test_a_twist_is_bounded_from_three_spacings_on_and_no_nearer(self) -> None:
        asked = {"current_A": 3.0, "spacing_m": 0.01, "pitch_m": 0.05}
        self.assertIn("twisted_T", rule("wiring.pair_field").run(asked | {"distance_m": 0.03}))
        with self.assertRaises(Refused):
            rule("wiring.pair_field").run(asked | {"distance_m": 0.03 - 1e-6})

    def test_leads_that_read_more_by_just_their_uncertainty_are_no_refusal(self) -> None:
        asked = {"awg": "18", "length_m": 1.0, "leads_ohm": 0.5, "U_ohm": 0.25}
        self.assertEqual(
            rule("wiring.continuity").run(asked | {"measured_ohm": 0.25})["verdict"], "out"
        )
        with self.assertRaises(Refused):
            rule("wiring.continuity").run(asked | {"measured_ohm": 0.24})


class Lines(TestCase):
    def test_the_mark_that_is_off_the_tube_is_named_by_its_number(self) -> None:
        corner = [(0, 0, 0), (0.1, 0, 0), (0.1, 0.1, 0)]
        with self.assertRaises(Refused) as caught:
            bend_card(corner, radii_m=[0.02], bender_offset_m=-0.1)
        self.assertIn("bend 1 ", caught.exception.reason)

    def test_two_pieces_of_a_line_by_one_name_are_refused(self) -> None:
        for pieces, words in (((), "at least one"), ((Segment("a", 1.0, 0.004),) * 2, "same name")):
            with self.assertRaises(Refused) as caught:
                line_lag(pieces, 0.0)
            self.assertIn(words, caught.exception.reason)

    def test_which_end_of_a_tube_leads_is_told(self) -> None:
        need = {"id": "rib 2", "width_m": 0.02, "length_m": 0.03}
        for lead, words in (("end", "far end first"), ("start", "start first")):
            (told,) = _needs({"holes": [], "ways": [{"lead": lead, "needs": [need]}]})
            self.assertEqual(told, (f"rib 2, {words}", "the bent tube needs 20.0 mm × 30.0 mm"))

    def test_beyond_its_last_point_a_pump_gives_what_it_gives_there(self) -> None:
        curve = [(0.0, 30e3), (1e-5, 20e3), (2e-5, 5e3)]
        for q, rise in ((0.0, 30e3), (1.5e-5, 12.5e3), (2e-5, 5e3), (3e-5, 5e3)):
            self.assertAlmostEqual(_rise(curve, q), rise, 6)

    def test_three_bends_in_a_row_with_little_between_are_one_chain(self) -> None:
        pts = ((0, 0, 0), (0.2, 0, 0), (0.2, 0.08, 0), (0.28, 0.08, 0), (0.28, 0.4, 0))
        tube = Tube(pts, (0.03, 0.03, 0.03))
        self.assertEqual(_chains(tube, [1, 2, 3], 0.02), [[1, 2, 3]])
        self.assertEqual(_chains(tube, [1, 2, 3], 0.005), [])

    def test_a_hose_with_a_little_too_little_slack_is_told(self) -> None:
        slack = hose_moving(*FIXED, ENDS[1:2], **HOSE).positions[0].slack
        for least, finding in ((slack - 1e-4, "none"), (slack + 1e-3, "too_little_slack")):
            found = hose_moving(*FIXED, ENDS[1:2], **HOSE, slack_min=least)
            self.assertEqual(found.positions[0].finding, finding)

    def test_beside_its_straight_fitting_an_obstacle_is_as_far_as_from_that_line(self) -> None:
        fixed, angle = FIXED
        along = np.array((math.cos(angle), math.sin(angle)))
        side = np.array((-along[1], along[0]))
        for s in (0.003, 0.007):
            for way in (-1, 1):
                at = np.array(fixed) + s * along + way * 0.004 * side
                found = hose_moving(*FIXED, ENDS[1:2], **HOSE, hose_od_m=0.004,
                                    obstacles=(Obstacle(tuple(map(float, at)), 0.001),))  # fmt: skip
                self.assertAlmostEqual(found.positions[0].clearance_m, 0.004 - 0.001 - 0.002, 9)
