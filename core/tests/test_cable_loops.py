"""The demo's loop as one, and what no loop can be."""

import copy
import json
import math
from pathlib import Path
from unittest import TestCase

import numpy as np

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables.loop import loop_solve
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import advise, judged, today
from core.controls.linkage.document import document_from
from core.controls.linkage.solving import gear, solve
from core.rulebook import rule
from core.tests.test_cables import CARD, LINE, PULL, T0, TURNS, page_loop

DEMO = Path(__file__).parents[2] / "demo"


def demo(name="fenlark-rudder"):
    return json.loads((DEMO / "cables" / f"{name}.json").read_text())


class TheDemoLoop(TestCase):
    def test_it_keeps_its_tension_within_a_quarter_and_the_page_s_loop_does_not(self):
        rigged = Rigged(rigging_from(demo()))
        self.assertLess(rigged.through.share, 0.25)
        self.assertIs(rigged.through.verdict, Verdict.IN)
        self.assertTrue(all(s.status == "taut" for s in rigged.states))
        states = rule("cables.loop_solve").run({"loop": page_loop(), "driver_rad": 0.349})
        self.assertGreater(states["tension_A_N"] / T0 - 1, 0.25)

    def test_the_surface_goes_the_way_the_pilot_means_and_crossed_cables_are_seen(self):
        for name, control in (("fenlark-rudder", "rudder"), ("moorhen-elevator", "elevator")):
            data = demo(name)
            self.assertTrue(Rigged(rigging_from(data)).sense(control).correct)
            data["driven"]["axis"] = [-v for v in data["driven"]["axis"]]
            self.assertTrue(Rigged(rigging_from(data)).sense(control).correct, "axis turned only")
            driven = data["driven"]
            driven["A"], driven["B"] = driven["B"], driven["A"]
            for side in ("A", "B"):
                data["sides"][side]["supports"] = []
                data["sides"][side]["fittings"] = []
            self.assertFalse(Rigged(rigging_from(data)).sense(control).correct, name)
            self.assertIsNone(Rigged(rigging_from(data)).sense("flaps"))

    def test_a_cable_that_skips_a_stack_and_cables_that_cross_are_named(self):
        data = demo()
        self.assertEqual(Rigged(rigging_from(data)).skipped(), [])
        self.assertEqual(Rigged(rigging_from(data)).order(), [])
        del data["sides"]["B"]["supports"][2]["bank"]
        self.assertEqual(Rigged(rigging_from(data)).skipped(), [("4900", "Left cable")])
        data = demo()
        for side, place in (("A", 1), ("B", 2)):
            data["sides"][side]["supports"][2]["place"] = place
        self.assertEqual(Rigged(rigging_from(data)).order(), [(0, "Left cable", "Right cable")])

    def test_right_turnbuckle_comes_too_near_its_fairlead_only_at_full_left_pedal(self):
        near = {(n.side, n.fitting): n for n in Rigged(rigging_from(demo())).nearest()}
        right = near["A", "turnbuckle"]
        self.assertIs(right.gap.verdict, Verdict.OUT)
        self.assertEqual(right.support, "Right fairlead 4265")
        self.assertLess(right.driver_rad, 0)
        self.assertIs(near["B", "turnbuckle"].gap.verdict, Verdict.IN)

    def test_advice_keeps_the_rudder_straight_and_the_thread_in_hand(self):
        rigged = Rigged(rigging_from(demo()))
        now = {"A": 73.0, "B": 73.0}
        a = advise(rigged, 287.35, now, {"A": (2, 2), "B": (2, 2)}, math.radians(-0.78))
        self.assertEqual((a.turns.rounded_A, a.turns.rounded_B), (1.0, -0.5))
        self.assertGreater(math.degrees(a.turns.shift_rad), 0.7)
        self.assertEqual(a.threads["A"].after_threads, (1.0, 1.0))
        band = today(rigged, "A", 287.35)
        self.assertIs(judged(band, a.turns.after_A_N, 2.0), Verdict.IN)
        self.assertIs(judged(band, 60.0, 2.0), Verdict.OUT)
        with self.assertRaises(Refused) as slack:
            advise(rigged, 250.0, now, {})
        self.assertEqual(slack.exception.field, "temperature")

    def test_tension_set_by_the_curve_is_the_maker_s_at_the_maker_s_temperature(self):
        rigged = Rigged(rigging_from(demo()))
        self.assertAlmostEqual(rigged.wanted("A", 294.15).tension_N, T0, 4)
        cold, warm = (rigged.wanted("A", t).tension_N for t in (280.0, 300.0))
        self.assertLess(cold, warm)
        steel = copy.deepcopy(demo("moorhen-elevator"))
        frame = Rigged(rigging_from(steel))
        self.assertGreater(frame.wanted("A", 270).tension_N, frame.wanted("A", 300).tension_N)

    def test_a_linkage_driven_through_the_loop_follows_its_curve(self):
        rigged = Rigged(rigging_from(demo()))
        data = json.loads((DEMO / "mechanisms" / "fenlark-rudder.json").read_text())
        for b in data["bodies"]:
            if b["id"] == "rudder":
                b["driven_by"]["curve"] = rigged.curve()
        plan = document_from(data).plan
        motion = solve(plan, {"pedals": np.array([-0.25, 0.0, 0.25])})
        bar, rudder = motion.q["bar"], motion.q["rudder"]
        for q, followed in zip(bar, rudder, strict=True):
            self.assertAlmostEqual(loop_solve(rigged.loop, float(q)).driven_rad, followed, 5)
        step = 1e-5
        two = solve(plan, {"pedals": np.array([0.2 - step, 0.2 + step])}).q["rudder"]
        exact = gear(solve(plan, {"pedals": 0.2}), "pedals")["rudder"]
        self.assertAlmostEqual((two[1] - two[0]) / (2 * step), float(exact), 5)


class Refusals(TestCase):
    def refused(self, field, change, name="fenlark-rudder"):
        data = copy.deepcopy(demo(name))
        change(data)
        with self.assertRaises(Refused) as caught:
            rigged = Rigged(rigging_from(data))
            rigged.nearest()
        self.assertEqual(caught.exception.field, field, caught.exception)

    def test_a_file_is_refused_by_member(self):
        right = lambda d: d["sides"]["A"]
        for field, change in (
            ("format", lambda d: d.update(format="other")),
            ("driver.A", lambda d: d["driver"].update(A=[1.98, 0, 0.7])),
            ("driver.axis", lambda d: d["driver"].update(axis=[0, 0, 0])),
            ("driver.range", lambda d: d["driver"].update(range=[0.1, 0.2])),
            ("sides.A.diameter_in", lambda d: right(d).update(diameter_in=0.11)),
            ("sides.A.colour", lambda d: right(d).update(colour="red")),
            ("sides.A.supports.0.radius", lambda d: right(d)["supports"][0].update(radius=-1)),
            ("sides.A.supports.0.sense", lambda d: right(d)["supports"][0].update(sense=3)),
            ("sides.A.supports.0.sense", lambda d: right(d)["supports"][0].update(sense=1)),
            ("sides.A.supports.0.radius_m", lambda d: right(d)["supports"][0].update(radius=1.3)),
            ("sides.A.fittings.turnbuckle",
             lambda d: right(d)["fittings"][1].update(at=[4.20, 4.27])),
            ("sides.A.turnbuckle.showing",
             lambda d: right(d)["turnbuckle"].update(showing=[-1, 2])),
            ("target.tension", lambda d: d["target"].update(tension="thirty")),
            ("target.chart.0", lambda d: d["target"].update(chart=[[280]])),
            ("airframe.0.material", lambda d: d["airframe"][0].update(material="brass")),
        ):  # fmt: skip
            with self.subTest(field=field):
                self.refused(field, change)

    def test_own_figures_need_their_source(self):
        own = {"diameter": 0.004, "breaking": 9000, "mass_per_length": 0.06}
        self.refused("sides.A.figures.source", lambda d: d["sides"]["A"].update(figures=own))
        data = demo()
        data["sides"]["A"]["figures"] = own | {"source": "maker's sheet 3"}
        self.assertEqual(rigging_from(data).cables["A"].data.breaking_N, 9000)
        for name in ("breaking", "mass_per_length"):
            short = {k: v for k, v in own.items() if k != name} | {"source": "maker's sheet 3"}
            self.refused(f"sides.A.figures.{name}", lambda d: d["sides"]["A"].update(figures=short))  # noqa: B023

    def test_who_says_how_a_pin_is_secured_is_kept(self):
        data = demo()
        ends = data["sides"]["A"].setdefault("ends", {})
        ends["A"] = (ends.get("A") or {}) | {"pin_source": "Drawing 27-01"}
        self.assertEqual(rigging_from(data).cables["A"].ends["A"].pin_source, "Drawing 27-01")

    def test_rules_refuse_by_the_page_s_names(self):
        free = TURNS | {"mode": "free", "present_A_N": 90, "present_B_N": 90}
        for rule_id, inputs, field in (
            ("cables.turnbuckle_turns", free | {"present_A_N": 0}, "present_A_N"),
            ("cables.turnbuckle_turns", free | {"present_B_N": 80}, "present_B_N"),
            ("cables.turnbuckle_turns", free | {"mode": "tied"}, "mode"),
            ("cables.turnbuckle_turns", free | {"target_N": 1, "step_turns": 1}, "target_N"),
            ("cables.turnbuckle_threads", {"showing": [2], "turns": 1}, "showing"),
            ("cables.sideways_pull", PULL | {"deflection_m": 0.2}, "deflection_m"),
            ("cables.sideways_pull", PULL | {"deflection_m": 0.119}, "deflection_m"),
            ("cables.expected_deflection",
             {"span_m": 1.2, "force_N": 900, "tension_N": 50, "compliance_m_per_N": 2e-5},
             "force_N"),
            ("cables.card_tension", CARD | {"readings": [40]}, "readings"),
            ("cables.card_tension", CARD | {"readings": [20], "diameter_m": 0.004}, "diameter_m"),
            ("cables.loop_solve", {"loop": page_loop(), "driver_rad": 1.6}, "driver_rad"),
            ("cables.loop_solve",
             {"loop": page_loop(), "driver_rad": 0.2, "driven_range_rad": [0.5, 0.6]},
             "driven_range_rad"),
            ("cables.tension_at_temperature", LINE | {"temperature_K": 200}, "temperature_K"),
            ("cables.tension_at_temperature",
             LINE | {"temperature_K": 280, "airframe": []}, "airframe"),
            ("cables.compare_readings", {"readings": [[100, 3]]}, "readings"),
        ):  # fmt: skip
            with self.subTest(rule=rule_id, field=field), self.assertRaises(Refused) as caught:
                rule(rule_id).run(inputs)
            self.assertEqual(caught.exception.field, field)
