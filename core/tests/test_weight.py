"""Weight and balance held to laws, to a general library, and to counting everything out."""

import itertools
import math
import random
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import linprog

from core.basis.refused import Refused
from core.rulebook import rule
from core.weight.burn import FuelIn, Step, burn_track
from core.weight.envelope import Envelope, envelope_check, outline
from core.weight.worst import Empty, Group, Station, worst_cases
from testkit.laws import rounded

ENVELOPE = [[2.2, 380], [2.2, 480], [2.27, 620], [2.395, 620], [2.395, 380]]
MOMENT = [[836.0, 380], [1056.0, 480], [1407.4, 620], [1484.9, 620], [910.1, 380]]
EMPTY = {"mass_kg": 355.0, "x_m": 2.254, "y_m": 0.002, "U_mass_kg": 0.5, "U_x_m": 0.003}


def run(name, **inputs):
    return rule(f"weight.{name}").run(inputs)


def loadings(seed, count=5, groups=2, tanks=2):
    """A made-up aircraft: stations, tanks and crossing groups."""
    chance = random.Random(seed)
    stations = []
    for n in range(count):
        most = chance.uniform(5.0, 110.0)
        stations.append({
            "name": f"s{n}", "x_m": chance.uniform(1.2, 3.8), "y_m": chance.uniform(-0.6, 0.6),
            "min_kg": chance.choice([0.0, 0.0, most * 0.3]), "max_kg": most,
            "u_x_m": chance.uniform(0.0, 0.03), "u_mass_kg": chance.uniform(0.0, 1.0),
        })  # fmt: skip
    full = [
        {"name": f"t{n}", "x_m": chance.uniform(2.0, 2.6), "y_m": chance.uniform(-1.0, 1.0),
         "max_kg": chance.uniform(10.0, 40.0)}
        for n in range(tanks)
    ]  # fmt: skip
    names = [x["name"] for x in stations + full]
    least = {x["name"]: x.get("min_kg", 0.0) for x in stations + full}
    most = {x["name"]: x["max_kg"] for x in stations + full}
    limits = []
    for _ in range(groups):
        some = chance.sample(names, chance.randint(2, min(4, len(names))))
        low, high = sum(least[n] for n in some), sum(most[n] for n in some)
        limits.append({"names": some, "max_kg": low + chance.uniform(0.2, 0.9) * (high - low)})
    room = sum(most.values()) - sum(least.values())
    gross = 355.0 + sum(least.values()) + chance.uniform(0.4, 1.1) * room
    return stations, full, limits, gross


def worst_of(seed, plane="arm", **shape):
    stations, tanks, groups, gross = loadings(seed, **shape)
    points = ENVELOPE if plane == "arm" else MOMENT
    asked = {
        "empty": EMPTY, "envelope": {"plane": plane, "points": points}, "max_mass_kg": gross,
        "stations": stations, "tanks": tanks, "groups": groups,
    }  # fmt: skip
    return asked, run("worst_cases", **asked)


def possible(asked, chance):
    """A loading that is allowed, at random."""
    every = asked["stations"] + asked["tanks"]
    load = {x["name"]: x.get("min_kg", 0.0) for x in every}
    room = asked["max_mass_kg"] - 355.0 - sum(load.values())
    for x in chance.sample(every, len(every)):
        name = x["name"]
        most = min(x["max_kg"] - load[name], room)
        for g in asked["groups"]:
            if name in g["names"]:
                most = min(most, g["max_kg"] - sum(load[n] for n in set(g["names"])))
        more = chance.choice([0.0, 1.0, chance.random()]) * max(0.0, most)
        load[name] += more
        room -= more
    return load


def arm_of(asked, load, axis="x_m"):
    every = {x["name"]: x for x in asked["stations"] + asked["tanks"]}
    mass = 355.0 + sum(load.values())
    moment = 355.0 * EMPTY[axis] + sum(kg * every[n][axis] for n, kg in load.items())
    return mass, moment / mass


class Worst(TestCase):
    def test_no_loading_at_random_goes_beyond_the_worst(self):
        for seed in range(20):
            plane = "arm" if seed % 2 else "moment"
            asked, found = worst_of(seed, plane)
            o = outline(Envelope(plane, tuple(tuple(p) for p in asked["envelope"]["points"])))
            chance = random.Random(seed)
            for _ in range(500):
                load = possible(asked, chance)
                mass, x = arm_of(asked, load)
                _, y = arm_of(asked, load, "y_m")
                self.assertGreaterEqual(x, found["most_forward"]["x_m"] - 1e-9)
                self.assertLessEqual(x, found["most_aft"]["x_m"] + 1e-9)
                self.assertGreaterEqual(y, found["most_left"]["y_m"] - 1e-9)
                self.assertLessEqual(y, found["most_right"]["y_m"] + 1e-9)
                self.assertLessEqual(mass, found["max_mass_kg"] + 1e-9)
                limits = o.limits(mass)
                if limits:
                    self.assertGreaterEqual(
                        x - limits[0], found["forward_worst"]["margin_m"] - 1e-9
                    )
                    self.assertGreaterEqual(limits[1] - x, found["aft_worst"]["margin_m"] - 1e-9)

    def test_the_worst_are_possible_themselves(self):
        for seed in range(30):
            asked, found = worst_of(seed)
            for name, axis in (("most_forward", "x_m"), ("most_aft", "x_m"), ("most_left", "y_m"),
                               ("most_right", "y_m"), ("forward_worst", "x_m"), ("aft_worst", "x_m")):  # fmt: skip
                one = found[name]
                if one is None:
                    continue
                for x in asked["stations"] + asked["tanks"]:
                    kg = one["loads"][x["name"]]
                    self.assertGreaterEqual(kg, x.get("min_kg", 0.0) - 1e-9)
                    self.assertLessEqual(kg, x["max_kg"] + 1e-9)
                for g in asked["groups"]:
                    total = sum(one["loads"][n] for n in set(g["names"]))
                    self.assertLessEqual(total, g["max_kg"] + 1e-9)
                mass, arm = arm_of(asked, one["loads"], axis)
                self.assertLessEqual(mass, asked["max_mass_kg"] + 1e-6)
                self.assertAlmostEqual(mass, one["mass_kg"], 8)
                self.assertAlmostEqual(arm, one[axis], 10)

    def test_a_general_solver_finds_the_same_least_moment_at_every_mass(self):
        for seed in range(12):
            asked, _ = worst_of(seed, count=6, groups=3)
            every = asked["stations"] + asked["tanks"]
            from core.basis.forms import read
            from core.weight.worst import hull

            forms = [tuple(read(Station, s) for s in asked[k]) for k in ("stations", "tanks")]
            groups = tuple(read(Group, g) for g in asked["groups"])
            bounds = [(x.get("min_kg", 0.0), x["max_kg"]) for x in every]
            rows = [[1.0 if x["name"] in g["names"] else 0.0 for x in every]
                    for g in asked["groups"]]  # fmt: skip
            limits = [g["max_kg"] for g in asked["groups"]]
            for sign in (1.0, -1.0):
                track = hull(355.0, 2.254, asked["max_mass_kg"], *forms, groups, sign)
                for a, b in itertools.pairwise(track):
                    mass = (a.mass + b.mass) / 2.0
                    moment = (a.moment + b.moment) / 2.0 - 355.0 * 2.254
                    solved = linprog(
                        [sign * x["x_m"] for x in every], A_ub=rows, b_ub=limits,
                        A_eq=[[1.0] * len(every)], b_eq=[mass - 355.0], bounds=bounds,
                    )  # fmt: skip
                    self.assertTrue(math.isclose(sign * solved.fun, moment, rel_tol=1e-7))

    def test_moving_the_datum_changes_no_margin(self):
        for seed, d in ((3, -1.5), (4, 0.7), (5, 2.3)):
            for plane in ("arm", "moment"):
                asked, found = worst_of(seed, plane)
                points = run("datum_shift", mass_kg=1.0, x_m=0.0, new_datum_at_m=d,
                             envelope=asked["envelope"])["points"]  # fmt: skip
                moved = {
                    **asked, "empty": EMPTY | {"x_m": EMPTY["x_m"] - d},
                    "envelope": {"plane": plane, "points": points},
                }  # fmt: skip
                for key in ("stations", "tanks"):
                    moved[key] = [x | {"x_m": x["x_m"] - d} for x in asked[key]]
                other = run("worst_cases", **moved)
                self.assertEqual(other["verdict"], found["verdict"])
                for side in ("forward_worst", "aft_worst"):
                    if found[side] is not None:
                        for name in ("margin_m", "mass_kg", "U_x_m"):
                            self.assertAlmostEqual(other[side][name], found[side][name], 7)

    def test_the_order_of_stations_and_groups_changes_nothing(self):
        asked, found = worst_of(8, groups=3)
        turned = asked | {k: asked[k][::-1] for k in ("stations", "tanks", "groups")}
        other = run("worst_cases", **turned)
        for name in ("forward_worst", "aft_worst"):
            self.assertAlmostEqual(other[name]["margin_m"], found[name]["margin_m"], 10)

    def test_its_uncertainty_is_that_of_the_loading(self):
        asked, found = worst_of(2)
        worst = found["aft_worst"]
        every = {x["name"]: x for x in asked["stations"] + asked["tanks"]}
        loads = [
            {"name": n, "mass_kg": kg, "x_m": every[n]["x_m"],
             "u_mass_kg": every[n].get("u_mass_kg", 0.0) if kg else 0.0,
             "u_x_m": every[n].get("u_x_m", 0.0)}
            for n, kg in worst["loads"].items()
        ]  # fmt: skip
        one = run("loading_case", empty=EMPTY, loads=loads)["takeoff"]
        self.assertAlmostEqual(one["U_x_m"], worst["U_x_m"], 9)

    def test_the_least_difference_decides_which_is_farthest(self):
        """A load a hair ahead of the empty arm is on board in the most forward loading."""
        asked = {
            "empty": EMPTY, "envelope": {"plane": "arm", "points": ENVELOPE}, "max_mass_kg": 600.0,
            "stations": [{"name": "s", "x_m": 2.254 - 1e-6, "max_kg": 100.0}],
        }  # fmt: skip
        found = run("worst_cases", **asked)
        self.assertEqual(found["most_forward"]["loads"], {"s": 100.0})
        self.assertEqual(found["most_aft"]["loads"], {"s": 0.0})

    def test_a_bound_that_is_entered_counts_instead(self):
        asked, _ = worst_of(2)
        self.assertEqual(run("worst_cases", **asked, U_x_m=0.05)["aft_worst"]["U_x_m"], 0.05)

    def test_a_tank_whose_arm_varies_is_bounded_by_both_its_ends(self):
        asked, _ = worst_of(6)
        tank = dict(asked["tanks"][0])
        tank["x_range_m"] = [tank.pop("x_m") - 0.1, asked["tanks"][0]["x_m"] + 0.1]
        both = run("worst_cases", **asked | {"tanks": [tank, *asked["tanks"][1:]]})
        self.assertTrue(both["bounded"])
        for at, side in ((0, "forward_worst"), (1, "aft_worst")):
            fixed = {k: v for k, v in tank.items() if k != "x_range_m"}
            fixed["x_m"] = tank["x_range_m"][at]
            one = run("worst_cases", **asked | {"tanks": [fixed, *asked["tanks"][1:]]})
            self.assertAlmostEqual(both[side]["margin_m"], one[side]["margin_m"], 10)

    def test_what_is_not_possible_is_out(self):
        asked, _ = worst_of(1)
        light = asked | {"empty": EMPTY | {"mass_kg": 200.0}}
        found = run("worst_cases", **light)
        self.assertEqual((found["verdict"], found["below_envelope_possible"]), ("out", True))
        heavy = asked | {
            "envelope": {"plane": "arm", "points": [[2.2, 100], [2.4, 100], [2.3, 300]]}
        }
        none = run("worst_cases", **heavy)
        self.assertEqual((none["forward_worst"], none["verdict"]), (None, "out"))

    def test_refusals_name_what_is_wrong(self):
        asked, _ = worst_of(1)
        first = asked["stations"][0]
        for change, field in (
            ({"stations": [first, first]}, "stations[1].name"),
            ({"stations": [first | {"max_kg": -1.0}]}, "stations[0].max_kg"),
            ({"stations": [first | {"min_kg": 200.0, "max_kg": 100.0}]}, "stations[0].max_kg"),
            ({"groups": [{"names": ["nobody"], "max_kg": 5.0}]}, "groups[0].names"),
            ({"max_mass_kg": 355.0 - 1e-3, "stations": [], "groups": []}, "max_mass_kg"),
            ({"stations": [first | {"min_kg": 4.0}], "groups": [{"names": ["s0"], "max_kg": 3.0}]},
             "groups"),
            ({"empty": {"mass_kg": 355.0, "x_m": 2.2}}, "U_x_m"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("worst_cases", **asked | change)
            self.assertEqual(caught.exception.field, field)


class InTheEnvelope(TestCase):
    @given(
        plane=st.sampled_from(["arm", "moment"]),
        m=st.floats(340.0, 660.0),
        x=st.floats(2.15, 2.45),
        um=st.sampled_from([0.0, 1.0, 20.0, 90.0]),
        ux=st.sampled_from([0.0, 0.003, 0.05]),
    )
    def test_the_rectangle_is_judged_as_its_points_are(self, plane, m, x, um, ux):
        """In only if every point of a fine grid is inside, out only if none is."""
        points = ENVELOPE if plane == "arm" else MOMENT
        e = Envelope(plane, tuple(tuple(p) for p in points))
        found, o = envelope_check(e, m, x, um, ux), outline(e)
        grid = [
            o.holds(mm, xx)
            for mm in np.linspace(m - um, m + um, 25)
            for xx in np.linspace(x - ux, x + ux, 25)
        ]
        if found.verdict == "in":
            self.assertTrue(all(grid))
        if found.verdict == "out":
            self.assertFalse(any(grid))
        if all(grid) and o.holds(m - um, x) and o.holds(m + um, x) and plane == "arm":
            # Convex, so its corners decide.
            self.assertEqual(found.verdict, "in")
        self.assertEqual(found.inside, o.holds(m, x))

    def test_a_step_counts_wide_at_its_mass_and_narrow_beside_it(self):
        stepped = Envelope("arm", ((2.0, 300.0), (2.0, 400.0), (2.1, 400.0), (2.1, 500.0),
                                   (2.4, 500.0), (2.4, 300.0)))  # fmt: skip
        at = envelope_check(stepped, 400.0, 2.05, 0.0, 0.0)
        self.assertEqual((at.verdict, at.forward_limit_m), ("in", 2.0))
        self.assertEqual(envelope_check(stepped, 400.001, 2.05, 0.0, 0.0).verdict, "out")
        self.assertEqual(envelope_check(stepped, 399.0, 2.05, 2.0, 0.0).verdict, "too close")
        self.assertEqual(envelope_check(stepped, 390.0, 2.05, 10.0, 0.0).verdict, "in")

    def test_the_masses_at_an_arm_are_the_outlines(self):
        e = Envelope("arm", tuple(tuple(p) for p in ENVELOPE))
        found = envelope_check(e, 500.0, 2.235, 0.0, 0.0)
        self.assertAlmostEqual(found.heavy_margin_kg, 50.0)
        self.assertAlmostEqual(found.light_margin_kg, 120.0)
        beside = envelope_check(e, 500.0, 2.5, 0.0, 0.0)
        self.assertIsNone(beside.heavy_margin_kg)

    def test_an_outline_that_is_none_is_refused(self):
        for points in (
            [[2.0, 300], [2.4, 600], [2.0, 600], [2.4, 300]],
            [[2.0, 300], [2.2, 400]],
            [[2.0, 300], [2.2, 400], [2.4, 500]],
            [[2.0, 300], [2.4, 300], [2.4, 600], [2.3, 350], [2.0, 600]],
            [[2.0, 0], [2.4, 300], [2.2, 500]],
            [[2.0, 300], [2.2, 500], [2.1, 400], [2.4, 300]],
        ):
            with self.subTest(points=points), self.assertRaises(Refused) as caught:
                run("envelope_check", envelope={"plane": "arm", "points": points}, mass_kg=400.0,
                    x_m=2.2, U_mass_kg=0.0, U_x_m=0.0)  # fmt: skip
            self.assertEqual(caught.exception.field, "envelope.points")

    def test_the_direction_of_the_corners_and_a_closing_one_change_nothing(self):
        for turned in (ENVELOPE[::-1], [*ENVELOPE, ENVELOPE[0]], ENVELOPE[2:] + ENVELOPE[:2]):
            asked = {"mass_kg": 550.0, "x_m": 2.3, "U_mass_kg": 2.0, "U_x_m": 0.004}
            one = run("envelope_check", envelope={"plane": "arm", "points": turned}, **asked)
            same = run("envelope_check", envelope={"plane": "arm", "points": ENVELOPE}, **asked)
            self.assertEqual(rounded(one), rounded(same))


class Burned(TestCase):
    @given(
        plane=st.sampled_from(["arm", "moment"]),
        m=st.floats(430.0, 650.0),
        x=st.floats(2.19, 2.42),
        nose=st.floats(1.0, 30.0),
        wing=st.floats(5.0, 60.0),
        U=st.sampled_from([0.0, 0.004]),
    )
    def test_between_crossings_a_finely_followed_track_stays_on_one_side(
        self, plane, m, x, nose, wing, U
    ):
        e = Envelope(plane, tuple(tuple(p) for p in (ENVELOPE if plane == "arm" else MOMENT)))
        tanks = (FuelIn("nose", nose, 1.7), FuelIn("wing", wing, 2.35))
        steps = (Step({"wing": 1.0}, wing * 0.5), Step({"nose": 0.5, "wing": 0.5}))
        found = burn_track(m, x, tanks, steps, e, U)
        o = outline(e)
        at = [c.burned_kg for c in found.crossings]
        inside, z, mass, moment = o.holds(m, x), 0.0, m, m * x
        for burn, arm in ((wing * 0.5, 2.35), (2.0 * min(nose, wing * 0.5), (1.7 + 2.35) / 2.0)):
            for n in range(200):
                t = burn * (n + 0.5) / 200
                now = o.holds(mass - t, (moment - arm * t) / (mass - t))
                state = inside ^ (sum(a < z + t for a in at) % 2 == 1)
                near = any(abs(a - z - t) < 1e-6 for a in at)
                if not near:
                    self.assertEqual(now, state)
            z, mass, moment = z + burn, mass - burn, moment - arm * burn
        self.assertAlmostEqual(found.end_mass_kg, mass, 9)
        self.assertAlmostEqual(found.end_x_m, moment / mass, 12)

    def test_a_crossing_lies_on_the_outline(self):
        found = run(
            "burn_track", mass_kg=617.68, x_m=2.385634, envelope={"plane": "arm", "points": ENVELOPE},
            tanks=[{"name": "a", "mass_kg": 67.68, "x_m": 2.3}], steps=[{"shares": {"a": 1.0}}],
        )["crossings"]  # fmt: skip
        self.assertEqual([(c["kind"], c["side"]) for c in found], [("exit", "aft")])
        self.assertAlmostEqual(found[0]["x_m"], 2.395, 12)

    def test_one_that_takes_off_outside_comes_in_from_that_side(self):
        e = {"plane": "arm", "points": ENVELOPE}
        for x, tank, side in ((2.19, 1.0, "forward"), (2.41, 3.4, "aft")):
            found = run("burn_track", mass_kg=450.0, x_m=x, envelope=e,
                        tanks=[{"name": "a", "mass_kg": 30.0, "x_m": tank}],
                        steps=[{"shares": {"a": 1.0}}])  # fmt: skip
            self.assertEqual(
                [(c["kind"], c["side"]) for c in found["crossings"]], [("entry", side)]
            )
        heavy = run("burn_track", mass_kg=640.0, x_m=2.3, envelope=e,
                    tanks=[{"name": "a", "mass_kg": 60.0, "x_m": 2.3}],
                    steps=[{"shares": {"a": 1.0}}])["crossings"]  # fmt: skip
        self.assertEqual(
            [(c["kind"], c["side"], c["burned_kg"]) for c in heavy], [("entry", "heavy", 20.0)]
        )

    def test_the_verdict_is_of_the_whole_track(self):
        e = {"plane": "arm", "points": ENVELOPE}
        tank = [{"name": "a", "mass_kg": 40.0, "x_m": 2.0}]
        for x, U, verdict in (
            (2.3, 0.01, "in"), (2.361, 0.003, "too close"), (2.38, 0.003, "out"),
            (2.393, 0.0, "out"), (2.36, 0.0, "in"),
        ):  # fmt: skip
            found = run("burn_track", mass_kg=500.0, x_m=x, envelope=e, tanks=tank,
                        steps=[{"shares": {"a": 1.0}}], U_x_m=U)  # fmt: skip
            self.assertEqual(found["verdict"], verdict, x)

    def test_refusals(self):
        tank = [{"name": "a", "mass_kg": 40.0, "x_m": 2.0}]
        good = {"mass_kg": 500.0, "x_m": 2.3, "envelope": {"plane": "arm", "points": ENVELOPE},
                "tanks": tank, "steps": [{"shares": {"a": 1.0}}]}  # fmt: skip
        for change, field in (
            ({"steps": [{"shares": {"b": 1.0}}]}, "steps[0].shares"),
            ({"steps": [{"shares": {"a": 0.9}}]}, "steps[0].shares"),
            ({"steps": [{"shares": {"a": 1.0}, "burn_kg": 41.0}]}, "steps[0].burn_kg"),
            ({"mass_kg": 40.0}, "tanks"),
            ({"U_x_m": -0.1}, "U_x_m"),
        ):
            with self.assertRaises(Refused) as caught:
                run("burn_track", **good | change)
            self.assertEqual(caught.exception.field, field)


class Ballasted(TestCase):
    def case(self, seed):
        chance = random.Random(seed)
        plane = chance.choice(["arm", "moment"])
        cases = [{"mass_kg": chance.uniform(400.0, 580.0), "x_m": chance.uniform(2.21, 2.41)}
                 for _ in range(chance.randint(1, 3))]  # fmt: skip
        places = [{"name": f"p{n}", "x_m": x, "max_kg": chance.uniform(3.0, 25.0)}
                  for n, x in enumerate(chance.sample([0.6, 1.48, 3.7, 5.6], chance.randint(1, 3)))]  # fmt: skip
        return {
            "envelope": {"plane": plane, "points": ENVELOPE if plane == "arm" else MOMENT},
            "cases": cases, "stations": places, "U_x_m": chance.choice([0.0, 0.003]),
        }  # fmt: skip

    def allowed(self, asked, split):
        o = outline(Envelope(asked["envelope"]["plane"],
                             tuple(tuple(p) for p in asked["envelope"]["points"])))  # fmt: skip
        at = {p["name"]: p["x_m"] for p in asked["stations"]}
        B, mu = sum(split.values()), sum(kg * at[n] for n, kg in split.items())
        for c in asked["cases"]:
            m = c["mass_kg"] + B
            x = (c["mass_kg"] * c["x_m"] + mu) / m
            limits = o.limits(m)
            if limits is None:
                return False
            low, high = limits[0] + asked["U_x_m"], limits[1] - asked["U_x_m"]
            if not low - 1e-7 <= x <= high + 1e-7:
                return False
        return True

    def test_what_is_found_is_allowed_and_nothing_lighter_is(self):
        """Against a fine search over all masses and every spread between front and back."""
        from core.weight.ballast import Place, fill

        some = none = 0
        for seed in range(60):
            asked = self.case(seed)
            found = run("ballast", **asked)
            places = tuple(Place(**p) for p in asked["stations"])
            top = sum(p.max_kg for p in places)

            def fits(B, asked=asked, places=places):
                front, back = fill(places, B, False), fill(places, B, True)
                return any(
                    self.allowed(asked, {n: front[n] + t * (back[n] - front[n]) for n in front})
                    for t in np.linspace(0.0, 1.0, 21)
                )

            searched = [B for B in np.linspace(0.0, top, 120) if fits(B)]
            if not found["feasible"]:
                none += 1
                self.assertEqual(searched, [])
                self.assertTrue(found["conflict"]["needs"] and found["conflict"]["forbids"])
                continue
            some += 1
            self.assertTrue(self.allowed(asked, found["split_kg"]), seed)
            self.assertAlmostEqual(sum(found["split_kg"].values()), found["least_kg"], 9)
            for B in searched:
                inside = any(a - 1e-6 <= B <= b + 1e-6 for a, b in found["feasible_kg"])
                self.assertTrue(inside, (seed, B))
            if found["least_kg"] > 0.05:
                self.assertFalse(min(searched) < found["least_kg"] - 1e-6)
        self.assertGreater(min(some, none), 5)

    def test_none_is_needed_where_all_are_inside(self):
        found = run("ballast", envelope={"plane": "arm", "points": ENVELOPE},
                    cases=[{"mass_kg": 500.0, "x_m": 2.3}],
                    stations=[{"name": "a", "x_m": 1.0, "max_kg": 5.0}])  # fmt: skip
        self.assertEqual((found["least_kg"], found["split_kg"]), (0.0, {"a": 0.0}))

    def test_why_there_is_none_is_said(self):
        e = {"plane": "arm", "points": ENVELOPE}
        shelf = [{"name": "shelf", "x_m": 1.48, "max_kg": 2.0}]
        full = run("ballast", envelope=e, cases=[{"mass_kg": 550.0, "x_m": 2.41, "name": "two up"}],
                   stations=shelf)["conflict"]  # fmt: skip
        self.assertIn("two up at the aft limit", full["needs"])
        self.assertIn("take no more", full["forbids"])
        heavy = run("ballast", envelope=e, cases=[{"mass_kg": 630.0, "x_m": 2.3, "name": "full"}],
                    stations=shelf)["conflict"]  # fmt: skip
        self.assertIn("full, over the greatest mass", heavy["needs"])

    def test_refusals(self):
        good = self.case(1)
        for change, field in (
            ({"stations": []}, "stations"), ({"cases": []}, "cases"),
            ({"stations": [{"name": "a", "x_m": 1.0, "max_kg": -1.0}]}, "stations[0].max_kg"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                run("ballast", **good | change)
            self.assertEqual(caught.exception.field, field)


class Loaded(TestCase):
    def test_an_arm_by_contents_is_straight_in_the_moment(self):
        tank = {"name": "t", "volume_m3": 0.04, "capacity_m3": 0.05,
                "table": [[0.01, 2.2], [0.03, 2.3], [0.05, 2.35]]}  # fmt: skip
        fuel = {"density_ref_kg_m3": 720}
        found = run("loading_case", empty=EMPTY, tanks=[tank], fuel=fuel)["ramp"]
        moment = (0.03 * 2.3 + 0.05 * 2.35) / 2.0 * 720
        self.assertAlmostEqual(found["moment_kg_m"], 355 * 2.254 + moment, 9)
        with self.assertRaises(Refused) as caught:
            run("loading_case", empty=EMPTY, tanks=[tank | {"volume_m3": 0.005}], fuel=fuel)
        self.assertEqual(caught.exception.field, "tanks[0].table")

    def test_what_is_unsure_of_fuel_stays_till_the_tank_is_empty(self):
        tank = {"name": "t", "volume_m3": 0.04, "capacity_m3": 0.05, "burn_m3": 0.03, "x_m": 2.3,
                "u_rel": 0.05}  # fmt: skip
        found = run("loading_case", empty=EMPTY, tanks=[tank], fuel={"density_ref_kg_m3": 700})
        U = 2.0 * math.hypot(0.25, 0.05 * 28.0)
        self.assertAlmostEqual(found["landing"]["U_mass_kg"], U, 9)
        self.assertAlmostEqual(found["zero_fuel"]["U_mass_kg"], 0.5, 12)

    def test_a_limit_that_is_exceeded_is_out_whatever_the_arm(self):
        seat = {"name": "seat", "mass_kg": 90.0, "x_m": 2.4, "max_kg": 80.0}
        e = {"plane": "arm", "points": ENVELOPE}
        found = run("loading_case", empty=EMPTY, loads=[seat], envelope=e)
        self.assertEqual(
            {found[s]["verdict"] for s in ("takeoff", "landing", "zero_fuel")}, {"out"}
        )
        only = run("loading_case", empty=EMPTY, loads=[seat | {"max_kg": 95.0}], envelope=e,
                   limits={"takeoff": 440.0})  # fmt: skip
        self.assertEqual((only["takeoff"]["verdict"], only["landing"]["verdict"]), ("out", "in"))
        self.assertEqual((only["verdict"], only["exceeded"]),
                         ("out", [{"limit": "takeoff", "over_kg": 5.0}]))  # fmt: skip


class Frozen(TestCase):
    def test_forms_of_the_rules_are_values(self):
        one = Station("a", 5.0, 1.0)
        self.assertEqual(replace(one, max_kg=5.0), one)
        self.assertEqual(Empty(1.0, 2.0), Empty(1.0, 2.0))
        self.assertRaises(Refused, worst_cases, Empty(355.0, 2.2, 0.0, 0.5, 0.003),
                          Envelope("arm", ((2.2, 380.0), (2.3, 480.0), (2.4, 380.0))), 300.0)  # fmt: skip
