"""A working shown to a person ends at the rule's own number, and can be done with a calculator."""

import ast
import math
import re
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.rulebook import RULES, rule
from core.rulebook.workings import WORKINGS, working

small = st.floats(0.01, 2.0)
readings = st.lists(st.floats(-30.0, 30.0).map(lambda v: round(v, 2)), min_size=1, max_size=5)


def typed(text):
    """What a calculator says of what is written."""
    for said, instead in (
        ("−", "-"), ("×", "*"), ("π", "pi"), ("²", "**2"), ("√(", "sqrt("), ("°", ""),
        ("arcsin(", "asin("), (" + sin ", " + sind "),
    ):  # fmt: skip
        text = text.replace(said, instead)
    while "√" in text:
        before, _, after = text.partition("√")
        digits = after[: next((i for i, c in enumerate(after) if not c.isdigit()), len(after))]
        text = f"{before}sqrt({digits}){after[len(digits) :]}"
    if "sind" in text:
        before, _, after = text.partition("sind ")
        angle, _, rest = after.partition(")")
        text = f"{before}sin(radians({angle})){rest and ')' + rest}"
    names = {"sqrt": math.sqrt, "pi": math.pi, "sin": math.sin, "radians": math.radians}
    names["asin"] = lambda x: math.degrees(math.asin(x))
    ast.parse(text, mode="eval")
    return eval(text, {"__builtins__": {}}, names)


class Workings(TestCase):
    def check(self, rule_id, inputs, *ends, unit=""):
        """Every step can be typed, and the rule's own answers are among the results."""
        made, answer = working(rule_id, inputs, unit), rule(rule_id).run(inputs)
        for step in made.steps:
            if step.worked in ("given", "Student's t", "by trial"):
                continue
            got = typed(step.worked)
            # What is typed is rounded as it is shown: as good as its greatest number.
            numbers = [float(x) for x in re.findall(r"\d+(?:\.\d+)?", step.worked)]
            scale = max(abs(step.value), 1e-3, *numbers)
            self.assertLess(abs(got - step.value) / scale, 2e-4, step)
        values = [s.value for s in made.steps]
        for end in ends:
            near = min(abs(v - answer[end]) for v in values)
            self.assertLess(near, 1e-9 * max(1.0, abs(answer[end])), end)
        if made.shares:
            self.assertAlmostEqual(math.fsum(s.share for s in made.shares), 1.0)
            self.assertEqual(made.shares, tuple(sorted(made.shares, key=lambda s: -s.share)))
        return made

    @given(readings, small, small, st.sampled_from([1.0, -1.0, 0.19]), st.floats(-5, 5), small)
    def test_a_verdict(self, values, accuracy, resolution, c, offset, other):
        inputs = {
            "lo": -3.0, "hi": 4.0, "readings": values, "accuracy": accuracy, "resolution": resolution,
            "sensitivity": c, "offset": offset, "other": [{"u": other, "nu": 4, "name": "chord"}],
        }  # fmt: skip
        made = self.check("controls.verdict", inputs, "y", "u", "k", "U", unit="°")
        room = [s for s in made.steps if s.says.startswith("Room to the")]
        answer = rule("controls.verdict").run(inputs)
        self.assertAlmostEqual(min(s.value for s in room), answer["margin"])
        word = {"in": "inside", "too close": "too close to call", "out": "outside"}
        self.assertTrue(any(word[answer["verdict"]] in s.says for s in room), answer["verdict"])
        self.assertIn("chord", [s.name for s in made.shares])

    @given(st.floats(1, 40), st.floats(1, 40), small, small)
    def test_left_against_right_and_up_over_down(self, a, b, u, v):
        sides = {"left_deg": a, "right_deg": b, "u_left_deg": u, "u_right_deg": v, "tol_deg": 0.5}
        rooms = self.rooms(self.check("controls.symmetry", sides, "difference_deg", "U_deg"))
        self.assertAlmostEqual(rooms["low"] - 0.5, a - b)
        self.assertAlmostEqual(0.5 - rooms["high"], a - b)
        ways = {"up_deg": a, "down_deg": b, "u_up_deg": u, "u_down_deg": v, "lo": 1.2, "hi": 1.6}
        rooms = self.rooms(self.check("controls.ratio", ways, "ratio", "U"))
        self.assertAlmostEqual(rooms["low"], a / b - 1.2)
        self.assertAlmostEqual(rooms["high"], 1.6 - a / b)

    def rooms(self, made):
        """How far each limit is away, as told."""
        return {s.says.split()[3]: s.value for s in made.steps if s.says.startswith("Room to")}

    @given(
        st.lists(st.floats(-1, 1), min_size=2, max_size=5),
        st.lists(st.floats(-1, 1), min_size=2, max_size=5),
        small,
    )
    def test_neutral_from_both_sides(self, above, below, step):
        inputs = {"from_above_deg": above, "from_below_deg": below, "limit_deg": 0.7}
        inputs["resolution_deg"] = step
        self.check("controls.repeatability", inputs, "hysteresis_deg", "U_deg", "k")

    @given(
        st.sampled_from(["straight", "perpendicular", "arc"]), st.floats(100, 400), st.floats(1, 60)
    )
    def test_an_offset(self, practice, chord, offset):
        inputs = {"chord_mm": chord, "offset_mm": offset, "practice": practice, "u_offset_mm": 0.5}
        self.check("controls.edge_offset", inputs | {"phi_deg": 3.0}, "deflection_deg")

    @given(st.floats(9.9, 10.1), st.floats(9.9, 10.1), small, st.sampled_from(["turn", "press"]))
    def test_a_fit(self, hole, shaft, u, need):
        inputs = {"hole_m": [hole / 1e3], "shaft_m": [shaft / 1e3, shaft / 1.001e3], "need": need}
        inputs |= {"u_hole_m": u / 1e5, "u_shaft_m": u / 1e5}
        made = self.check("hardware.fit", inputs)
        self.ends(made, rule("hardware.fit").run(inputs), "clearance_m", "tightest_m", "loosest_m")
        self.judged(made, rule("hardware.fit").run(inputs)["verdict"])

    def ends(self, made, answer, *names):
        """The rule's lengths, m, are among the steps', mm."""
        for name in names:
            near = min(abs(s.value - answer[name] * 1e3) for s in made.steps if s.unit == "mm")
            self.assertLess(near, 1e-9, name)

    def judged(self, made, verdict):
        """The worst that a step says of a limit is the rule's verdict."""
        said = " ".join(s.says for s in made.steps)
        word = {"in": "inside by it", "too close": "too close to call", "out": "outside by more"}
        self.assertIn(word[verdict], said)
        if verdict != "out":
            self.assertNotIn("outside by more", said)
        if verdict == "in":
            self.assertNotIn("too close", said)

    @given(st.floats(0, 6), st.floats(-0.2, 0.2), st.floats(0, 0.2), st.booleans(), small)
    def test_a_fitting_near_a_fairlead(self, apart, low, high, behind, u):
        item = [5.0 + apart, 5.3 + apart] if behind else [1.0, 1.3]
        place = [4.5, 5.0] if behind else [1.3 + apart, 1.4 + apart]
        inputs = {"item": item, "obstacle": place, "travel": [-abs(low), high], "u_m": u / 1e3}
        made, answer = (
            self.check("cables.travel_gap", inputs),
            rule("cables.travel_gap").run(inputs),
        )
        self.ends(made, answer, "gap_m")
        self.judged(made, answer["verdict"])

    @given(st.floats(0.1, 3.0), small)
    def test_a_guard(self, gap, u):
        inputs = {"present": True, "cable_diameter_m": 3.2e-3, "gap_m": gap / 1e3, "u_m": u / 1e4}
        self.judged(
            self.check("cables.guard_check", inputs),
            rule("cables.guard_check").run(inputs)["verdict"],
        )

    @given(*[st.floats(1e-6, 0.02)] * 3, st.floats(15, 60), st.floats(0.4, 2.0))
    def test_a_plucked_cable(self, u_f, u_span, u_mass, frequency, span):
        inputs = {
            "frequency_Hz": frequency, "span_m": span, "mass_per_length_kg_m": 0.043,
            "ei_low_Nm2": 0.0, "ei_high_Nm2": 0.003, "u_frequency_Hz": u_f * frequency,
            "u_span_m": u_span * span, "u_mass_rel": u_mass,
        }  # fmt: skip
        made = self.check("cables.plucked_tension", inputs, "ideal_N", "tension_N", "u_tension_N")
        ideal = 4 * 0.043 * (span * frequency) ** 2
        for name, by in (("requency", 2 * u_f), ("pan", 2 * u_span), ("ass", u_mass)):
            told = [s.u for s in made.shares if name in s.name]
            if told and by:
                self.assertAlmostEqual(told[0] / (by * ideal), 1.0, 9)

    def test_a_proof_load_and_a_bolt_end_at_the_rule_s_own_lengths(self):
        for name, ends in (
            ("cables.proof_load", ("set_m",)),
            ("hardware.bolt_check", ("threads_in_bearing_m", "bottom_margin_m")),
        ):
            for case in RULES[name].cases:
                if "refused" not in case.expect:
                    made = working(name, case.inputs)
                    self.ends(made, rule(name).run(case.inputs), *ends)

    def test_every_worked_case_of_a_rule_with_steps_is_worked_to_its_answer(self):
        ends = {
            "controls.verdict": ("y", "U"), "controls.symmetry": ("difference_deg",),
            "controls.ratio": ("ratio",), "controls.repeatability": ("hysteresis_deg",),
            "controls.edge_offset": ("deflection_deg",),
            "hardware.torque_setting": ("at_nut_low_Nm", "at_nut_high_Nm"),
            "hardware.fit": (), "hardware.bolt_check": ("protrusion_threads",), "cables.cable_size_check": (),
            "cables.guard_check": (), "cables.travel_gap": (), "cables.proof_load": ("required_N", "ae_N"),
            "cables.tension_at_temperature": ("slope_N_per_K", "stiffness_N_per_m", "tension_N"),
            "cables.sideways_pull": ("tension_under_pull_N", "tension_N"),
            "cables.plucked_tension": ("ideal_N", "low_N", "high_N", "tension_N", "u_tension_N"),
            "cables.chart_tension": ("value",), "cables.turnbuckle_threads": (),
        }  # fmt: skip
        self.assertEqual(set(ends), set(WORKINGS))
        for rule_id in WORKINGS:
            for case in RULES[rule_id].cases:
                if "refused" in case.expect or rule(rule_id).run(case.inputs).get("y", 0) is None:
                    continue
                made = working(rule_id, case.inputs)
                with self.subTest(rule=rule_id, case=case.id):
                    self.check(rule_id, case.inputs, *(ends[rule_id] if made.steps else ()))

    def test_a_rule_without_written_steps_has_none_and_refuses_as_before(self):
        case = next(c for c in RULES["cables.pulley_check"].cases if "refused" not in c.expect)
        self.assertEqual(working("cables.pulley_check", case.inputs).steps, ())
