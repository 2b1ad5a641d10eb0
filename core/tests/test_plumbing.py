"""Fuel, brakes and air data as they are joined: a sound system, each fault alone, any order."""

import copy
import itertools
import json
import random
from unittest import TestCase

from core.basis.verdicts import Verdict
from core.lines.brakes import BrakeHose, brake_displacement
from core.lines.fittings import (
    SEALING,
    clamp_size,
    flare_torque,
    sealant,
    support_spacing,
)
from core.lines.tables import INCH_M, SIXTEENTH_M
from core.lines.tank import Edge, Second, hole_layout, hole_size, washer_seat
from core.rulebook import RULES, rule
from core.tests.test_tubes import refused

CASES = {c.id: c.inputs for r in RULES.values() if r.id.startswith("lines.") for c in r.cases}


def sound():
    """The fuel system of the page, mended."""
    system = copy.deepcopy(CASES["W22"])
    by = {c["id"]: c for c in system["components"]}
    lines = {c["id"]: c for c in system["connections"]}
    by["gasc"]["z"] = 0.05
    lines["h1"]["flexible"] = True
    lines["l5"]["b"], lines["l6"]["b"] = "tank_l.return", "tank_r.return"
    return system, by, lines


def findings(system, of="fuel_topology"):
    return [tuple(f) for f in rule(f"lines.{of}").run(system)["findings"]]


class Fuel(TestCase):
    def test_a_sound_system_has_no_finding_and_each_fault_has_its_own(self):
        system, *_ = sound()
        self.assertEqual(findings(system), [])
        faults = {
            ("outlet_screen_missing", "tank_l"): lambda b, c, s: b["tank_l"].pop("outlet_screen"),
            ("drain_not_low", "tank_r"): lambda b, c, s: b["tank_r"].pop("drain_at_low_point"),
            ("gascolator_no_drain", "gasc"): lambda b, c, s: b["gasc"].pop("has_drain"),
            ("gascolator_not_low", "gasc"): lambda b, c, s: b["pump_e"].update(z=0.04),
            ("not_fire_resistant", "h2"): lambda b, c, s: c["h2"].pop("fire_resistant"),
            ("no_flex", "h3"): lambda b, c, s: c["h3"].pop("flexible"),
            ("no_off", "eng"): lambda b, c, s: b["sel"]["positions"].pop("off"),
            ("return_wrong_tank", "sel=right"): lambda b, c, s: s["design"].update(return_to="tank_l"),
            ("return_blocked", "sel=left"): lambda b, c, s: b["sel"]["positions"]["left"].pop(),
            ("tank_cannot_feed", "tank_l"): lambda b, c, s: b["sel"]["positions"]["left"].pop(0),
            ("strainer_missing", "tank_l"): lambda b, c, s: b["pump_e"].update(engine_driven=True)
            or self.swap(c),
            ("pump_not_in_series", "pump_x"): lambda b, c, s: self.spare(s),
        }  # fmt: skip
        for wanted, do in faults.items():
            system, by, lines = sound()
            do(by, lines, system)
            with self.subTest(wanted=wanted):
                self.assertIn(wanted, findings(system))

    def swap(self, lines):
        """The pump before the gascolator."""
        lines["l3"]["b"], lines["l4"]["a"], lines["l4"]["b"] = "pump_e.in", "pump_e.out", "gasc.in"
        lines["h1"]["a"] = "gasc.out"

    def spare(self, system):
        system["components"].append({"id": "pump_x", "kind": "pump"})
        system["design"]["pumps"]["ids"].append("pump_x")

    def test_an_only_pump_the_wrong_way_round_is_opposed(self):
        system, _, lines = sound()
        lines["l4"]["b"], lines["h1"]["a"] = "pump_e.out", "pump_e.in"
        found = findings(system)
        self.assertIn(("opposed", "pump_e"), found)
        self.assertIn(("tank_cannot_feed", "tank_l"), found)

    def test_two_tanks_at_once_without_pump_need_their_air_joined(self):
        system, by, _lines = sound()
        by["sel"]["positions"]["both"] = [["in_l", "out"], ["in_r", "out"], ["ret", "ret_l"]]
        self.assertIn(("pump_draws_two_tanks", "sel=both"), findings(system))
        for pump in ("pump_e", "pump_m"):
            by[pump] |= {"kind": "filter"}
            by[pump].pop("engine_driven", None)
        system["design"]["pumps"] = None
        self.assertIn(("vents_not_interconnected", "sel=both"), findings(system))
        system["design"]["vents_interconnected"] = True
        self.assertNotIn(("vents_not_interconnected", "sel=both"), findings(system))

    def test_pumps_beside_each_other_need_a_check_valve_each(self):
        system, _by, lines = sound()
        parts = [{"id": n, "kind": "tee"} for n in ("t1", "t2")]
        parts += [{"id": "pump_b", "kind": "pump", "z": 0.08}]
        parts += [{"id": f"cv_{p}", "kind": "check_valve"} for p in ("e", "b")]
        system["components"] += parts
        lines["l4"]["b"], lines["h1"]["a"] = "t1.a", "t2.c"
        system["connections"] += [
            {"id": f"x{n}", "a": a, "b": b}
            for n, (a, b) in enumerate(
                (("t1.b", "pump_e.in"), ("t1.c", "pump_b.in"), ("pump_e.out", "cv_e.in"),
                 ("pump_b.out", "cv_b.in"), ("cv_e.out", "t2.a"), ("cv_b.out", "t2.b"))
            )
        ]  # fmt: skip
        system["design"]["pumps"] = {"arrangement": "parallel", "ids": ["pump_e", "pump_b"]}
        self.assertEqual(findings(system), [])
        next(c for c in system["components"] if c["id"] == "cv_b")["kind"] = "filter"
        self.assertEqual(findings(system), [("parallel_pump_without_check", "pump_b")])
        system["design"]["pumps"]["arrangement"] = "series"
        self.assertEqual(
            findings(system), [("pump_not_in_series", "pump_b"), ("pump_not_in_series", "pump_e")]
        )

    def test_neither_order_nor_names_nor_which_end_is_first_matter(self):
        chance = random.Random(3)
        for case in ("W22c", "fuel-open-ports", "fuel-shared-vent"):
            system = copy.deepcopy(CASES[case])
            told = findings(system)
            chance.shuffle(system["components"])
            chance.shuffle(system["connections"])
            for c in system["connections"]:
                c["a"], c["b"] = c["b"], c["a"]
            self.assertEqual(findings(system), told)
            renamed = json.loads(json.dumps(system).replace("tank_l", "a tank"))
            again = {(code, what.replace("a tank", "tank_l")) for code, what in findings(renamed)}
            self.assertEqual(again, set(told))

    def test_what_is_no_system_is_refused(self):
        def broken(do):
            system, by, lines = sound()
            do(system, by, lines)
            return system

        for field, do in (
            ("components", lambda s, b, c: s["components"].append(dict(b["gasc"]))),
            ("components", lambda s, b, c: s["components"].remove(b["eng"])),
            ("kind", lambda s, b, c: b["gasc"].update(kind="bucket")),
            ("connections", lambda s, b, c: c["l1"].update(a="tank_l.top")),
            ("connections", lambda s, b, c: s["connections"].append(dict(c["l1"]))),
            ("design", lambda s, b, c: s["design"].update(return_to="gasc")),
            ("design", lambda s, b, c: s["design"]["pumps"]["ids"].append("gasc")),
            ("positions", lambda s, b, c: b["sel"]["positions"].update(x=[["in_l", "up"]])),
            ("ports", lambda s, b, c: b["gasc"].update(ports=["a"])),
        ):
            with self.subTest(field=field):
                refused(field, rule("lines.fuel_topology").run, broken(do))


class Brakes(TestCase):
    def shuttle(self):
        """The page's layout with a shuttle where its tees are."""
        system = copy.deepcopy(CASES["W24"])
        for c in system["components"]:
            if c["id"].startswith("sh_"):
                c["kind"] = "shuttle"
        for c in system["connections"]:
            c["a"] = c["a"].replace("sh_l.c", "sh_l.out").replace("sh_r.c", "sh_r.out")
        return system

    def test_series_and_shuttle_brake_from_both_seats(self):
        self.assertEqual(findings(self.shuttle(), "brake_topology"), [])
        series = copy.deepcopy(CASES["W23"])
        for c in series["connections"]:
            if c["id"] in ("xl", "xr"):
                c["b"] = c["b"].replace("_r", "_X").replace("_l", "_r").replace("_X", "_l")
        self.assertEqual(findings(series, "brake_topology"), [])

    def test_a_lost_line_and_an_unsaid_bleed_point_are_found(self):
        system = self.shuttle()
        system["connections"] = [c for c in system["connections"] if c["id"] != "r1l"]
        next(c for c in system["components"] if c["id"] == "cal_l").pop("bleed_point")
        found = findings(system, "brake_topology")
        for wanted in (
            ("no_reservoir", "cop_l"),
            ("port_open", "cop_l.in"),
            ("no_bleed_point", "cal_l"),
        ):
            self.assertIn(wanted, found)

    def test_a_harder_push_presses_more_and_swells_more(self):
        asked = (2, 0.038, 0.0004), (2.5, 0.016, (BrakeHose(0.9, 3e-13),))
        one, two = (brake_displacement(*asked[0], force, *asked[1]) for force in (300.0, 600.0))
        self.assertAlmostEqual(two.pressure_Pa, 2 * one.pressure_Pa)
        self.assertAlmostEqual(two.volume_m3 - one.volume_m3, 0.9 * 3e-13 * one.pressure_Pa)
        self.assertIs(one.verdict, Verdict.NOT_MEASURED)
        for rated, room, verdict in (
            (one.pressure_Pa, one.stroke_m, Verdict.IN),
            (one.pressure_Pa - 1, one.stroke_m, Verdict.OUT),
            (one.pressure_Pa, one.stroke_m - 1e-6, Verdict.OUT),
        ):
            found = brake_displacement(
                *asked[0], 300.0, *asked[1], {"b": rated, "a": rated, "c": 9e9}, room
            )
            self.assertEqual((found.weakest, found.verdict), ("a", verdict))


class AirData(TestCase):
    def sound(self):
        system = copy.deepcopy(CASES["W35"])
        for c in system["connections"]:
            if c["id"] == "p2":
                c["a"], c["b"] = "t1.b", "asi.pitot"
            if c["id"] == "s2":
                c["a"], c["b"] = "t2.b", "asi.static"
        return system

    def test_each_fault_of_the_air_lines_is_found(self):
        self.assertEqual(findings(self.sound(), "pitot_static_topology"), [])

        def without(line):
            system = self.sound()
            system["connections"] = [c for c in system["connections"] if c["id"] != line]
            return findings(system, "pitot_static_topology")

        self.assertIn(("no_drain", "pitot"), without("p3"))
        self.assertIn(("no_source", "alt.static"), without("s3"))
        self.assertIn(("spare_end_open", "sp.a"), without("q1"))
        joined = self.sound()
        joined["components"] += [{"id": n, "kind": "tee"} for n in ("x", "y")]
        for c in joined["connections"]:
            if c["id"] == "p3":
                c["b"] = "x.a"
            if c["id"] == "s7":
                c["b"] = "y.a"
        joined["connections"] += [
            {"id": "j1", "a": "x.b", "b": "dr_p.a"}, {"id": "j2", "a": "y.b", "b": "dr_s.a"},
            {"id": "j3", "a": "x.c", "b": "y.c"},
        ]  # fmt: skip
        self.assertEqual(
            findings(joined, "pitot_static_topology"), [("sources_joined", "pitot+static")]
        )

    def test_an_end_is_closed_by_one_thing_that_closes_it_back(self):
        caps = rule("lines.caps").run

        def items(**ends):
            return {"items": [{"id": "tube", "kind": "line", "ends": ends}], "fit": ["tube"]}

        good = caps(items(a={"cap": "1"}, b={"cap": "2"}))
        self.assertEqual(
            (good["verdict"], good["may_fit"], good["caps_fitted"]), ("in", ["tube"], ["1", "2"])
        )
        twice = caps(items(a={"cap": "1"}, b={"cap": "1"}))
        self.assertEqual(twice["findings"], [["cap_used_twice", "1"]])
        mate = items(a={"mate": "tank.out"}, b={"cap": "1"})
        mate["items"].append({"id": "tank", "kind": "tank", "ends": {"out": {"mate": "tube.a"}}})
        self.assertEqual(caps(mate)["verdict"], "in")
        mate["items"][1]["ends"]["out"] = {"cap": "9"}
        self.assertIn(["mate_not_mutual", "tube.a"], caps(mate)["findings"])
        for field, bad in (
            ("ends", items(a={"cap": "1", "mate": "tube.b"}, b=None)), ("ends", items()),
            ("mate", items(a={"mate": "tube.a"})), ("fit", items(a=None) | {"fit": ["hose"]}),
            ("items", {"items": []}),
        ):  # fmt: skip
            refused(field, caps, bad)


class Fittings(TestCase):
    def test_a_span_over_the_limit_is_cut_into_equal_ones_that_are_not(self):
        found = support_spacing(0.0095, "steel", [0.2, 1.5], 2.0)
        self.assertAlmostEqual(found.max_spacing_m, 18 * INCH_M)
        every = sorted([0, 0.2, 1.5, 2.0, *found.add_at_m])
        self.assertTrue(
            all(b - a <= found.max_spacing_m + 1e-9 for a, b in itertools.pairwise(every))
        )
        self.assertEqual(len(found.add_at_m), 3)
        again = support_spacing(0.0095, "steel", every[1:-1], 2.0)
        self.assertEqual((again.add_at_m, again.verdict), ((), Verdict.IN))
        self.assertEqual(support_spacing(0.01, "hose", [0.6096], 1.2192).verdict, Verdict.IN)
        for bad in ([0.5, 0.4], [2.1], [0.4, 0.4]):
            refused("support_positions_m", support_spacing, 0.0095, "steel", bad, 2.0)
        refused("od_m", support_spacing, 0.03, "steel", [], 2.0)

    def test_a_clamp_is_loose_or_crushes_beyond_its_tolerance(self):
        for bore, finding in (
            (0.0104, "none"),
            (0.01041, "loose"),
            (0.0096, "none"),
            (0.00959, "crushes"),
        ):
            self.assertEqual(clamp_size(0.008, 0.001, bore).finding, finding)
        self.assertAlmostEqual(clamp_size(3 * SIXTEENTH_M).sixteenths, 3)

    def test_flares_match_and_a_window_has_a_source(self):
        asked = {
            "od_m": 4 * SIXTEENTH_M,
            "material": "steel",
            "fitting_flare_deg": 37,
            "tube_flare_deg": 37,
        }
        self.assertAlmostEqual(flare_torque(**asked).min_Nm / 0.112984829, 135)
        refused("tube_flare_deg", flare_torque, **asked | {"tube_flare_deg": 45})
        refused("fitting_flare_deg", flare_torque, **asked | {"fitting_flare_deg": 40})
        for more in (
            {"od_m": 0.0065},
            {"material": "aluminium"},
            {"fitting_flare_deg": 45, "tube_flare_deg": 45},
        ):
            refused("material", flare_torque, **asked | more)
        refused("source", flare_torque, **asked, min_Nm=1.0, max_Nm=2.0)
        refused("max_Nm", flare_torque, **asked, min_Nm=1.0)
        own = flare_torque(
            **asked | {"material": "aluminium"},
            min_Nm=1.0,
            max_Nm=2.0,
            source="Manual",
            measured_Nm=1.5,
        )
        self.assertIs(own.verdict, Verdict.IN)

    def test_compound_belongs_on_a_tapered_thread_alone(self):
        for fitting, (used, *_) in SEALING.items():
            self.assertEqual(used, fitting == "pipe")
            for compound in ("tape", "paste"):
                verdict = sealant(fitting, "oil", compound, ("oil",)).verdict
                self.assertIs(verdict, Verdict.IN if used else Verdict.OUT)
        self.assertEqual(sealant("pipe", "oil", "paste").reason, "not_named_for_system")
        self.assertEqual(sealant("flare", "fuel").not_allowed, ("paste", "tape"))
        refused("rated_for", sealant, "pipe", "oil", "paste", ("oxygen",))


class Tank(TestCase):
    def test_a_hole_is_as_far_from_both_edges_as_was_asked(self):
        edges = (Edge((0, 0), (2, 0), 0.04), Edge((0.3, 0), (0.1, 1.0), 0.07))
        x, y = hole_layout(edges, 0.001).point_m
        self.assertAlmostEqual(y, 0.04)
        self.assertAlmostEqual(((0.1 * y) - (x - 0.3)) / (1.01**0.5), 0.07)
        square = (edges[0], Edge((0.3, 0), (0, 1), 0.07))
        self.assertAlmostEqual(hole_layout(square, 0.001).u_position_m, 0.001)
        refused("edges", hole_layout, (edges[0], Edge((0, 0), (1, 0.3), 0.07)))
        for off, verdict in ((0.0009, Verdict.IN), (0.0011, Verdict.OUT)):
            second = Second((0.0, 0.04), (1.0, 0.04), 0.23 + off, 0.0)
            self.assertIs(hole_layout(square, check=second).verdict, verdict)
        self.assertIs(hole_layout(square).verdict, Verdict.NOT_MEASURED)

    def test_a_fitting_pushed_aside_still_overlaps_up_to_the_largest_hole(self):
        asked = (0.016, 0.034, 0.0003, 0.006)
        size = hole_size(*asked)
        for drilled, verdict in (
            (size.smallest_m, Verdict.IN), (size.largest_m, Verdict.IN),
            (size.smallest_m - 1e-4, Verdict.OUT), (size.largest_m + 1e-4, Verdict.OUT),
        ):  # fmt: skip
            self.assertIs(hole_size(*asked, drilled).verdict, verdict)
        self.assertAlmostEqual(hole_size(*asked, size.largest_m).worst_overlap_m, 0.006)
        refused("flange_m", hole_size, 0.02, 0.02, 0, 0)
        refused("min_overlap_m", hole_size, 0.016, 0.034, 0.0003, 0.02)

    def test_a_washer_on_a_curve_or_over_a_bend_stands_off(self):
        self.assertAlmostEqual(
            washer_seat(0.03, 1, 0.4).rim_gap_m, 0.4 - (0.4**2 - 0.015**2) ** 0.5
        )
        for away, verdict in ((0.0151, Verdict.IN), (0.0149, Verdict.OUT)):
            self.assertIs(
                washer_seat(0.03, 1, distance_to_bend_m=away, bend_radius_m=0.02).verdict, verdict
            )
        refused("surface_radius_m", washer_seat, 0.03, 1)
        refused("surface_radius_m", washer_seat, 0.03, 1, 0.015)
        refused("bend_radius_m", washer_seat, 0.03, 1, distance_to_bend_m=0.01)
        refused(
            "distance_to_bend_m", washer_seat, 0.03, 1, distance_to_bend_m=-0.01, bend_radius_m=0.02
        )
