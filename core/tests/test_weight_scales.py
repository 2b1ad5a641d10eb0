"""Weighing, scales, ledger and estimate: held to what is drawn at random, and to plain sums."""

import itertools
import json
import math
import random
from importlib import resources
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from core.basis.propagation import cosine, known, sine, total
from core.basis.refused import Refused
from core.rulebook import rule

CASES = {
    c["id"]: c["inputs"]
    for c in json.loads(
        resources.files("core.rulebook.cases").joinpath("weight.json").read_text(encoding="utf-8")
    )
}


def run(name, **inputs):
    return rule(f"weight.{name}").run(inputs)


def weighed(inputs, chance=None, each=None):
    """The weighing written out plainly; with `chance` every input is drawn about its value, with
    `each` (a name and a step) one of them is moved."""
    seen = []

    def draw(name, value, u):
        seen.append((name, u))
        if each and each[0] == name:
            return value + each[1]
        return value + (chance.gauss(0.0, u) if chance and u else 0.0)

    common = draw("common", 0.0, inputs.get("u_factor_common", 0.0))
    counts = "cg_z_m" in inputs
    pitch = draw("pitch", inputs.get("pitch_rad", 0.0), inputs.get("u_pitch_rad", 0.0) * counts)
    roll = draw("roll", inputs.get("roll_rad", 0.0), inputs.get("u_roll_rad", 0.0) * counts)
    h = draw("h", inputs.get("cg_z_m", 0.0), inputs.get("u_cg_z_m", 0.0))
    datum = draw("datum", 0.0, inputs.get("u_datum_m", 0.0))
    mass = mx = my = 0.0
    for n, s in enumerate(inputs["scales"]):
        k = draw(f"k{n}", s.get("factor", 1.0), s.get("u_factor", 0.0)) + common
        gross = draw(f"g{n}", s["gross_kg"], s.get("u_gross_kg", 0.0))
        tare = draw(f"t{n}", s.get("tare_kg", 0.0), s.get("u_tare_kg", 0.0))
        net = k * (gross - tare) + draw(f"o{n}", s.get("offset_kg", 0.0), s.get("u_offset_kg", 0.0))
        x = draw(f"x{n}", s["x_m"], s.get("u_x_m", 0.0))
        y = draw(f"y{n}", s.get("y_m", 0.0), s.get("u_y_m", 0.0))
        if inputs.get("arms") == "body":
            z = draw(f"z{n}", s["z_m"], s.get("u_z_m", 0.0))
            x = x * math.cos(pitch) + z * math.sin(pitch)
            y = y * math.cos(roll) + z * math.sin(roll)
        mass, mx, my = mass + net, mx + net * x, my + net * y
    x, y = mx / mass, my / mass
    if counts:
        x = (x - h * math.sin(pitch)) / math.cos(pitch)
        y = (y - h * math.sin(roll)) / math.cos(roll)
    moment, lateral = mass * (x + datum), mass * y
    for n, c in enumerate(inputs.get("corrections", [])):
        m = draw(f"cm{n}", c["mass_kg"], c.get("u_mass_kg", 0.0))
        moment += m * (draw(f"cx{n}", c["x_m"], c.get("u_x_m", 0.0)) + datum)
        lateral += m * draw(f"cy{n}", c.get("y_m", 0.0), c.get("u_y_m", 0.0))
        mass += m
    return {
        "mass_kg": mass,
        "moment_kg_m": moment,
        "x_m": moment / mass,
        "y_m": lateral / mass,
    }, seen


WEIGHINGS = ("weighing-1", "weighing-2", "weighing-3", "weighing-4", "h-w3")
BODY = {
    "arms": "body", "pitch_rad": 0.02, "u_pitch_rad": 0.001, "roll_rad": -0.01,
    "u_roll_rad": 0.002, "cg_z_m": 0.3, "u_cg_z_m": 0.05, "u_datum_m": 0.001,
    "scales": [
        {"wheel": w, "gross_kg": g, "factor": 1.01, "u_factor": 0.001, "offset_kg": 0.2,
         "u_offset_kg": 0.1, "x_m": x, "u_x_m": 0.002, "y_m": y, "u_y_m": 0.001, "z_m": -0.6,
         "u_z_m": 0.01}
        for w, g, x, y in (("nose", 100.0, 1.0, 0.0), ("left", 120.0, 2.8, -1.0), ("right", 118.0, 2.8, 1.0))
    ],
}  # fmt: skip


class Weighing(TestCase):
    def test_the_uncertainty_is_that_of_each_input_moved_by_itself(self):
        """Against differences of the sum written out plainly."""
        for inputs in (*(CASES[c] for c in WEIGHINGS), BODY):
            found = run("weighing", **inputs)
            value, seen = weighed(inputs)
            for name in ("mass_kg", "moment_kg_m", "x_m", "y_m"):
                self.assertAlmostEqual(value[name], found[name], 9)
                squares = 0.0
                for each, u in seen:
                    if u:
                        up, _ = weighed(inputs, each=(each, u * 1e-3))
                        down, _ = weighed(inputs, each=(each, -u * 1e-3))
                        squares += ((up[name] - down[name]) / 2e-3) ** 2
                U = 2.0 * math.sqrt(squares)
                self.assertTrue(math.isclose(U, found[f"U_{name}"], rel_tol=1e-5, abs_tol=1e-12))

    def test_drawn_at_random_it_lies_within_its_U_as_often_as_it_should(self):
        chance = random.Random(7)
        for inputs in (CASES["weighing-1"], BODY):
            found = run("weighing", **inputs)
            drawn = [weighed(inputs, chance)[0] for _ in range(4000)]
            for name in ("mass_kg", "x_m", "y_m"):
                off = [abs(d[name] - found[name]) <= found[f"U_{name}"] for d in drawn]
                self.assertTrue(0.943 < sum(off) / len(off) < 0.966, name)

    def test_a_common_error_moves_the_mass_and_hardly_the_arm(self):
        scales = [s | {"factor": 1.005} for s in CASES["weighing-1"]["scales"]]
        plain = CASES["weighing-1"] | {"corrections": []}
        one, other = run("weighing", **plain), run("weighing", **plain | {"scales": scales})
        self.assertAlmostEqual(other["mass_kg"] / one["mass_kg"], 1.005, 12)
        self.assertAlmostEqual(other["x_m"], one["x_m"], 12)

    def test_the_order_of_the_scales_and_a_shifted_datum_change_nothing(self):
        inputs = CASES["weighing-1"]
        found = run("weighing", **inputs)
        turned = run("weighing", **inputs | {"scales": inputs["scales"][::-1]})
        for name in ("mass_kg", "x_m", "U_x_m", "main_imbalance"):
            self.assertAlmostEqual(turned[name], found[name], 12)
        moved = {
            "scales": [s | {"x_m": s["x_m"] - 1.5} for s in inputs["scales"]],
            "corrections": [c | {"x_m": c["x_m"] - 1.5} for c in inputs["corrections"]],
        }
        other = run("weighing", **inputs | moved)
        self.assertAlmostEqual(other["x_m"], found["x_m"] - 1.5, 12)
        self.assertAlmostEqual(other["U_x_m"], found["U_x_m"], 12)

    def test_a_height_puts_a_tilted_aircraft_where_it_is_level(self):
        """A body turned about its datum mark: the same masses at their own arms."""
        parts = [(100.0, 1.0, 0.4), (150.0, 2.6, -0.2), (60.0, 3.1, 0.9)]
        mass = sum(m for m, _, _ in parts)
        x = sum(m * a for m, a, _ in parts) / mass
        h = sum(m * z for m, _, z in parts) / mass
        for pitch in (0.0, 0.01, -0.03):
            on_floor = x * math.cos(pitch) + h * math.sin(pitch)
            nose = mass * (3.0 - on_floor) / 2.0
            scales = [
                {"wheel": "nose", "gross_kg": nose, "x_m": 1.0},
                {"wheel": "left", "gross_kg": (mass - nose) / 2, "x_m": 3.0},
                {"wheel": "right", "gross_kg": (mass - nose) / 2, "x_m": 3.0},
            ]
            found = run("weighing", scales=scales, pitch_rad=pitch, cg_z_m=h)
            self.assertAlmostEqual(found["x_m"], x, 12)

    def test_a_bounded_height_adds_to_U_and_a_level_aircraft_needs_none(self):
        inputs = CASES["weighing-5"]
        bound = run("weighing", **inputs)
        none = {k: v for k, v in inputs.items() if k != "h_bound_m"}
        without = run("weighing", **none)
        self.assertFalse(without["attitude_in_budget"])
        self.assertAlmostEqual(bound["U_x_m"] - without["U_x_m"], 0.4 * (0.003 + 2 * 0.0005), 12)

    def test_what_cannot_be_is_refused(self):
        good = CASES["weighing-3"]
        left, right, tail = good["scales"]
        for change, field in (
            ({"scales": [left, right]}, "scales"),
            ({"scales": [left, right, tail | {"gross_kg": 0.0}]}, "scales[2].gross_kg"),
            ({"scales": [left, right, tail | {"factor": 0.0}]}, "scales[2].factor"),
            ({"scales": [left, right, tail | {"tare_kg": -1.0}]}, "scales[2].tare_kg"),
            ({"scales": [left, right, tail | {"u_x_m": -1.0}]}, "scales[2].u_x_m"),
            ({"scales": [s | {"x_m": 2.0, "wheel": "other"} for s in (left, right, tail)]}, "scales"),
            ({"scales": [left, right, tail | {"x_m": 1.5}]}, "scales[2].x_m"),
            ({"scales": [left, right, tail | {"wheel": "nose"}]}, "scales[2].x_m"),
            ({"scales": [left | {"y_m": 0.1}, right, tail]}, "scales[0].y_m"),
            ({"scales": [left, right | {"y_m": -0.1}, tail]}, "scales[1].y_m"),
            ({"pitch_rad": 0.01}, "pitch_rad"), ({"roll_rad": -0.01}, "roll_rad"),
            ({"pitch_rad": 0.04, "cg_z_m": 0.1}, "pitch_rad"),
            ({"arms": "body"}, "scales[0].z_m"),
            ({"arms": "body", "pitch_rad": 0.001}, "cg_z_m"),
            ({"corrections": [{"mass_kg": -400.0, "x_m": 2.0}]}, "corrections"),
            ({"u_factor_common": -0.1}, "u_factor_common"), ({"h_bound_m": -0.1}, "h_bound_m"),
            ({"scales": [left, right, tail | {"gros_kg": 1.0}]}, "scales[2].gros_kg"),
        ):  # fmt: skip
            with self.subTest(change=str(change)[:80]), self.assertRaises(Refused) as caught:
                run("weighing", **good | change)
            self.assertEqual(caught.exception.field, field)

    def test_one_lateral_place_that_nobody_measured_leaves_all_of_it_unmeasured(self):
        left, right, tail = CASES["weighing-3"]["scales"]
        found = run("weighing", scales=[left, right, {k: v for k, v in tail.items() if k != "y_m"}])
        self.assertEqual((found["y_m"], found["lateral_moment_kg_m"], found["U_y_m"]), (None,) * 3)


class Propagated(TestCase):
    @given(st.floats(0.5, 5.0), st.floats(0.5, 5.0), st.floats(0.0, 0.1), st.floats(0.0, 0.1))
    def test_what_is_common_cancels_and_what_is_not_adds_in_squares(self, a, b, ua, ub):
        x, y = known("a", a, ua), known("b", b, ub)
        self.assertAlmostEqual((x - x).u, 0.0, 12)
        self.assertAlmostEqual((x / x).u, 0.0, 12)
        self.assertAlmostEqual((x + y - y).u, ua, 12)
        self.assertAlmostEqual((x * y).u, math.hypot(b * ua, a * ub), 12)
        self.assertAlmostEqual((x / y).u, math.hypot(ua / b, a * ub / b**2), 12)
        self.assertAlmostEqual(total([x, x]).u, 2 * ua, 12)
        self.assertAlmostEqual((sine(x) * sine(x) + cosine(x) * cosine(x)).u, 0.0, 12)
        self.assertAlmostEqual((2.0 * x + 1.0).U, 4.0 * ua, 12)


class Swapped(TestCase):
    def weigh(self, factors, rotations, loads=(108.0, 124.0, 123.5), u=0.05, noise=None):
        wheels = [
            {"wheel": w, "x_m": x} for w, x in (("nose", 1.05), ("left", 2.78), ("right", 2.78))
        ]
        weighings = []
        for rotation in rotations:
            placed = []
            for n, (w, load) in enumerate(zip(wheels, loads, strict=True)):
                scale = f"S{(n + rotation) % 3 + 1}"
                shown = load / factors[scale] + (noise.gauss(0.0, u) if noise else 0.0)
                placed.append(
                    {"wheel": w["wheel"], "scale": scale, "gross_kg": shown, "u_gross_kg": u}
                )
            weighings.append(placed)
        scales = {s: {"u_factor": 0.0005} for s in factors}
        return run("swap_test", scales=scales, wheels=wheels, weighings=weighings)

    def test_a_full_rotation_finds_every_scales_factor(self):
        factors = {"S1": 1.004, "S2": 0.997, "S3": 1.0}
        found = self.weigh(factors, (0, 1, 2))
        mean = math.exp(sum(math.log(f) for f in factors.values()) / 3)
        for s, f in factors.items():
            self.assertAlmostEqual(found["relative_factor"][s], f / mean, 10)
        self.assertFalse(found["consistent"])
        self.assertEqual(found["suspect_scale"], "S1")

    def test_an_error_that_all_share_is_not_seen(self):
        found = self.weigh(dict.fromkeys(("S1", "S2", "S3"), 1.02), (0, 1))
        self.assertTrue(found["consistent"])
        self.assertIsNone(found["suspect_scale"])

    def test_good_scales_agree_nearly_always(self):
        chance = random.Random(3)
        agree = sum(
            self.weigh(dict.fromkeys(("S1", "S2", "S3"), 1.0), (0, 1), noise=chance)["consistent"]
            for _ in range(300)
        )
        self.assertGreater(agree, 255)

    def test_a_scale_that_stays_under_its_wheel_leaves_the_factors_unknown(self):
        wheels = [{"wheel": w, "x_m": x} for w, x in (("nose", 1.0), ("left", 2.8), ("right", 2.8))]
        one = [{"wheel": "nose", "scale": "A", "gross_kg": 100.0},
               {"wheel": "left", "scale": "B", "gross_kg": 120.0},
               {"wheel": "right", "scale": "C", "gross_kg": 121.0}]  # fmt: skip
        two = [one[0], one[1] | {"scale": "C"}, one[2] | {"scale": "B"}]
        scales = {s: {"u_factor": 0.01} for s in "ABC"}
        found = run("swap_test", scales=scales, wheels=wheels, weighings=[one, two])
        self.assertIsNone(found["relative_factor"])
        none = run("swap_test", scales={s: {} for s in "ABC"}, wheels=wheels,
                   weighings=[one, [two[0] | {"gross_kg": 100.1}, *two[1:]]])  # fmt: skip
        self.assertEqual((none["compare"][0]["En_mass"], none["consistent"]), (None, False))
        for change, field in (
            ({"weighings": [one]}, "weighings"), ({"weighings": [one, one]}, "weighings"),
            ({"wheels": wheels[:2]}, "wheels"), ({"weighings": [one, two[:2]]}, "weighings[1]"),
            ({"weighings": [one, [*two[:2], two[2] | {"scale": "C"}]]}, "weighings[1]"),
            ({"weighings": [one, [*two[:2], two[2] | {"scale": "D"}]]}, "weighings[1]"),
            ({"weighings": [one, [*two[:2], two[2] | {"gross_kg": 0.0}]]}, "weighings[1][2].gross_kg"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run(
                    "swap_test",
                    **{"scales": scales, "wheels": wheels, "weighings": [one, two]} | change,
                )
            self.assertEqual(caught.exception.field, field)


class Settled(TestCase):
    def again(self, t, kg, window, least, gap, most, drift):
        """The definition word for word, without a window that moves along."""
        why = None
        for k in range(len(t)):
            here = [
                (a, v) for a, v in zip(t[: k + 1], kg, strict=False) if a >= t[k] - window - 1e-9
            ]
            times, values = zip(*here, strict=True)
            slope = np.polyfit(times, values, 1)[0] if len(times) > 1 else 0.0
            if t[k] - t[0] < window - 1e-9:
                why = "short"
            elif len(times) < least:
                why = "few"
            elif any(b - a > gap for a, b in itertools.pairwise(times)):
                why = "gap"
            elif abs(slope) > drift:
                why = "drift"
            elif max(values) - min(values) > most:
                why = "noise"
            else:
                return k, sum(values) / len(values)
        return why, None

    def test_it_settles_when_the_definition_does(self):
        seen = set()
        for seed in range(150):
            chance = random.Random(seed)
            t, at = [], 0.0
            for _ in range(chance.randint(12, 60)):
                at += chance.choice([0.3, 0.5, 0.5, chance.choice([0.5, 1.6])])
                t.append(at)
            tau, noise = chance.choice([0.5, 2.0, 8.0]), chance.choice([0.005, 0.02, 0.2])
            kg = [100.0 + 3.0 * math.exp(-x / tau) + chance.gauss(0.0, noise) for x in t]
            limits = (5.0, 8, 1.0, chance.choice([0.1, 0.4]), chance.choice([0.01, 0.05]))
            found = run("settle", t_s=t, kg=kg, window_s=5.0, min_samples=8, range_kg=limits[3],
                        drift_kg_per_s=limits[4])  # fmt: skip
            k, mean = self.again(t, kg, *limits)
            seen.add(found.get("reason", "settled"))
            if mean is None:
                self.assertEqual((found["settled"], found["reason"]), (False, k))
            else:
                self.assertEqual(found["t_settled_s"], t[k])
                self.assertAlmostEqual(found["value_kg"], mean, 9)
        self.assertGreaterEqual(seen, {"settled", "noise", "drift", "few", "gap"})

    def test_ten_samples_in_five_seconds_are_enough_and_nine_are_few(self):
        limits = {"range_kg": 0.1, "drift_kg_per_s": 0.1}
        for count, settled in ((10, True), (9, False)):
            t = [5.0 * n / (count - 1) for n in range(count)]
            found = run("settle", t_s=t, kg=[100.0] * count, **limits)
            self.assertEqual(found["settled"], settled)
            self.assertEqual(found.get("reason"), None if settled else "few")

    def test_creep_is_told_and_a_lost_line_leaves_what_was_taken(self):
        t = [n * 0.5 for n in range(60)]
        creeping = [100.0 + 0.004 * x for x in t]
        limits = {"range_kg": 0.1, "drift_kg_per_s": 0.01, "creep_kg": 0.05}
        self.assertTrue(run("settle", t_s=t, kg=creeping, **limits)["creeping"])
        lost = t[:30] + [x + 20.0 for x in t[30:33]]
        found = run("settle", t_s=lost, kg=creeping[:33], **limits)
        self.assertEqual(
            (found["settled"], found["creep_kg"], found["creeping"]), (True, None, None)
        )

    def test_refusals(self):
        good = {"t_s": [0.0, 1.0], "kg": [1.0, 1.0], "range_kg": 0.1, "drift_kg_per_s": 0.1}
        for change, field in (
            ({"kg": [1.0]}, "kg"), ({"t_s": [0.0], "kg": [1.0]}, "t_s"),
            ({"t_s": [1.0, 1.0]}, "t_s[1]"), ({"range_kg": 0.0}, "range_kg"),
            ({"window_s": 0.0}, "window_s"), ({"min_samples": 1}, "min_samples"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("settle", **good | change)
            self.assertEqual(caught.exception.field, field)


class Ledger(TestCase):
    BASE = {"date": "2031-04-02", "mass_kg": 355.0, "x_m": 2.254, "U_mass_kg": 0.5, "U_x_m": 0.003}

    def entry(self, kind, day="2031-05-01", **more):
        return {"date": day, "kind": kind, "mass_kg": 4.0, "x_m": 3.0, "y_m": 0.2} | more

    def test_added_and_removed_again_is_as_before(self):
        found = run("ledger", base=self.BASE, entries=[self.entry("add"), self.entry("remove")])
        for name in ("mass_kg", "x_m", "moment_kg_m"):
            self.assertAlmostEqual(found[name], run("ledger", base=self.BASE)[name], 12)

    def test_a_move_is_a_removal_and_an_addition(self):
        moved = run("ledger", base=self.BASE, entries=[self.entry("move", x_to_m=1.2, y_to_m=-0.1)])
        both = run("ledger", base=self.BASE, entries=[
            self.entry("remove"), self.entry("add", x_m=1.2, y_m=-0.1)])  # fmt: skip
        for name in ("mass_kg", "x_m", "y_m"):
            self.assertAlmostEqual(moved[name], both[name], 12)

    def test_days_decide_not_the_order_of_entering(self):
        early, late = self.entry("add", "2031-05-01"), self.entry("move", "2031-06-01", x_to_m=1.0)
        one = run("ledger", base=self.BASE, entries=[early, late])
        other = run("ledger", base=self.BASE, entries=[late, early])
        self.assertEqual(one["rows"], other["rows"])

    def test_a_single_forgotten_thing_is_found_where_it_sits(self):
        truth = run("ledger", base=self.BASE, entries=[self.entry("add", mass_kg=3.0, x_m=4.4)])
        weighed = {
            "mass_kg": truth["mass_kg"],
            "x_m": truth["x_m"],
            "U_mass_kg": 0.3,
            "U_x_m": 0.002,
        }
        found = run("ledger", base=self.BASE, next_weighing=weighed)["compare"]
        self.assertFalse(found["agrees"])
        self.assertAlmostEqual(found["single_item_arm_m"], 4.4, 9)
        same = run(
            "ledger", base=self.BASE, next_weighing=weighed | {"mass_kg": 355.1, "x_m": 2.254}
        )
        self.assertTrue(same["compare"]["agrees"])
        self.assertIsNone(same["compare"]["single_item_arm_m"])

    def test_refusals(self):
        for entry, field in (
            (self.entry("add", "2031-04-01"), "entries[0].date"),
            (self.entry("add", mass_kg=0.0), "entries[0].mass_kg"),
            (self.entry("move"), "entries[0].x_to_m"),
            (self.entry("remove", mass_kg=400.0), "entries[0].mass_kg"),
            (self.entry("sell"), "entries[0].kind"),
        ):
            with self.assertRaises(Refused) as caught:
                run("ledger", base=self.BASE, entries=[entry])
            self.assertEqual(caught.exception.field, field)
        sure = self.BASE | {"U_mass_kg": 0.0}
        exact = {"mass_kg": 355.0, "x_m": 2.2, "U_mass_kg": 0.0, "U_x_m": 0.001}
        with self.assertRaises(Refused) as caught:
            run("ledger", base=sure, next_weighing=exact)
        self.assertEqual(caught.exception.field, "next_weighing.U_mass_kg")


class Estimated(TestCase):
    def test_no_three_parts_are_better_to_weigh(self):
        asked = CASES["estimate-1"]
        for by in ("mass", "arm"):
            found = run("estimate", **asked | {"by": by})
            best = found["weigh_next"][-1]["U_mass_kg" if by == "mass" else "U_x_m"]
            open_ = [p for p in asked["parts"] if p["class"] != "measured"]
            for three in itertools.combinations([p["name"] for p in open_], 3):
                parts = [
                    p | {"u_mass_kg": asked["u_weigh_kg"]} if p["name"] in three else p
                    for p in asked["parts"]
                ]
                after = run("estimate", **asked | {"parts": parts, "by": by})
                known_to = after["U_mass_kg" if by == "mass" else "U_x_m"]
                self.assertGreaterEqual(known_to, best - 1e-12)

    def test_its_sums_are_plain(self):
        asked = CASES["estimate-1"]
        found = run("estimate", **asked)
        self.assertAlmostEqual(found["mass_kg"], sum(p["mass_kg"] for p in asked["parts"]), 9)
        self.assertAlmostEqual(sum(found["share"].values()), 1.0, 12)

    def test_a_part_of_which_nobody_said_how_sure_it_is_is_refused(self):
        part = {"name": "a", "mass_kg": 3.0, "x_m": 1.0, "class": "guessed"}
        good = {
            "parts": [part],
            "classes": {"guessed": {"u_mass_rel": 0.1, "u_x_m": 0.1}},
            "u_weigh_kg": 0.1,
        }
        for change, field in (
            ({"parts": []}, "parts"), ({"parts": [part, part]}, "parts[1].name"),
            ({"parts": [part | {"mass_kg": 0.0}]}, "parts[0].mass_kg"),
            ({"parts": [part | {"class": "heard"}]}, "parts[0].class"),
            ({"classes": {}}, "parts[0].u_mass_kg"),
            ({"classes": {"guessed": {"u_mass_rel": 0.1}}}, "parts[0].u_x_m"),
            ({"classes": good["classes"] | {"heard": {}}}, "classes.heard"), ({"by": "moment"}, "by"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("estimate", **good | change)
            self.assertEqual(caught.exception.field, field)


class Frames(TestCase):
    @given(st.floats(-3.0, 8.0), st.floats(0.3, 3.0), st.floats(-2.0, 9.0))
    def test_per_cent_of_the_chord_and_back(self, lemac, mac, x):
        percent = run("percent_mac", x_m=x, lemac_m=lemac, mac_m=mac)["percent"]
        self.assertAlmostEqual(
            run("percent_mac", percent=percent, lemac_m=lemac, mac_m=mac)["x_m"], x, 9
        )

    @given(st.floats(-0.9, 0.9), st.floats(1.0, 2.0))
    def test_level_is_the_angle_of_the_line(self, rise, spacing):
        found = run("level_angle", rise_m=rise, spacing_m=spacing, u_rise_m=1e-3, u_spacing_m=2e-3)
        self.assertAlmostEqual(math.sin(found["angle_rad"]) * spacing, rise, 12)
        moved = [run("level_angle", rise_m=rise + a, spacing_m=spacing + b)["angle_rad"]
                 for a, b in ((1e-6, 0.0), (-1e-6, 0.0), (0.0, 1e-6), (0.0, -1e-6))]  # fmt: skip
        slopes = (moved[0] - moved[1]) / 2e-6 * 1e-3, (moved[2] - moved[3]) / 2e-6 * 2e-3
        self.assertAlmostEqual(found["u_rad"], math.hypot(*slopes), 6)

    def test_gravity_is_greatest_at_the_poles_and_less_up_high(self):
        def g(latitude, height=0.0):
            here = {"latitude_rad": latitude, "height_m": height}
            return run("local_gravity", calibrated_at=here, here={"g_m_s2": 9.8})[
                "g_calibrated_m_s2"
            ]

        self.assertAlmostEqual(g(0.0), 9.780327, 9)
        self.assertAlmostEqual(g(math.pi / 2), 9.780327 * 1.0053024, 9)
        self.assertAlmostEqual(g(-0.8), g(0.8), 12)
        self.assertAlmostEqual(g(0.5) - g(0.5, 1000.0), 3.086e-3, 9)
        for here, field in (({"latitude_rad": 1.6}, "here.latitude_rad"), ({"g_m_s2": 0.0}, "here.g_m_s2"),
                            ({}, "here.latitude_rad")):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("local_gravity", calibrated_at={"g_m_s2": 9.8}, here=here)
            self.assertEqual(caught.exception.field, field)

    def test_lateral_limits_in_arm_and_moment_say_the_same(self):
        for y in (-0.15, -0.1205, -0.1195, 0.0, 0.11, 0.1215):
            arm = run("lateral_check", y_m=y, U_y_m=0.001, left_limit=-0.12, right_limit=0.12)
            moment = run("lateral_check", y_m=y, U_y_m=0.001, left_limit=-60.0, right_limit=60.0,
                         plane="moment", mass_kg=500.0, U_mass_kg=0.0)  # fmt: skip
            self.assertEqual(arm["verdict"], moment["verdict"])
            self.assertAlmostEqual(moment["right_margin"], 500.0 * arm["right_margin"], 9)
        one = run("lateral_check", y_m=0.2, U_y_m=0.0, right_limit=0.3)
        self.assertEqual((one["verdict"], one["left_margin"]), ("in", None))


class Changed(TestCase):
    def test_no_change_cancels_another(self):
        asked = CASES["change-1"]
        there = {"kind": "move", "mass_kg": 3.0, "x_m": 1.0, "x_to_m": 2.0}
        back = there | {"x_m": 2.0, "x_to_m": 1.0}
        found = run("change_effect", **asked | {"changes": [there, back]})
        self.assertAlmostEqual(found["change"]["x_m"], 0.0, 12)
        self.assertAlmostEqual(found["accumulated"]["moment_kg_m"], 9.0, 12)
        self.assertAlmostEqual(found["accumulated"]["mass_kg"], 1.2, 12)

    def test_a_thing_lies_in_the_middle_unless_it_is_said_and_any_limit_above_zero_will_do(self):
        asked = CASES["change-1"]
        add = {"kind": "add", "mass_kg": 3.0, "x_m": 2.254}
        found = run(
            "change_effect", **asked | {"changes": [add], "reweigh_limit": {"mass_kg": 0.5}}
        )
        self.assertAlmostEqual(found["after"]["y_m"], 0.002 * 355.0 / 358.0, 12)
        self.assertEqual(found["over"], ["mass_kg"])

    def test_at_the_limit_is_not_over(self):
        asked = CASES["change-1"]
        add = {"kind": "add", "mass_kg": 3.8, "x_m": 2.254}
        found = run("change_effect", **asked | {"changes": [add]})
        self.assertEqual((found["over"], found["reweigh_due"]), ([], False))
        more = run("change_effect", **asked | {"changes": [add | {"mass_kg": 3.81}]})
        self.assertEqual(more["over"], ["mass_kg"])

    def test_refusals(self):
        asked = CASES["change-1"]
        for change, field in (
            ({"changes": []}, "changes"), ({"reweigh_limit": {}}, "reweigh_limit"),
            ({"reweigh_limit": {"mass_kg": 0.0}}, "reweigh_limit"),
            ({"changes": [{"kind": "move", "mass_kg": 3.0, "x_m": 1.0}]}, "changes[0].x_to_m"),
            ({"changes": [{"kind": "add", "mass_kg": 900.0, "x_m": 1.0}]}, "max_mass_kg"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("change_effect", **asked | change)
            self.assertEqual(caught.exception.field, field)
