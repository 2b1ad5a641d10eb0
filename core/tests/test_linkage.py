"""Facts of linkages: rigid rods stay rigid, mirrors mirror, advice is inside and smallest."""

import copy
import dataclasses
import itertools
import json
import math
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import jsonschema
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq, fsolve

from core.basis.refused import Refused
from core.basis.vectors import minus, size
from core.controls.linkage.advising import Aim, Item, advise, predict
from core.controls.linkage.arm_holes import STEP_M, _margin, arm_holes
from core.controls.linkage.contact import Bench, Stop, at_stops, met, places
from core.controls.linkage.document import document_from, document_to, schema
from core.controls.linkage.fitting import fit, wrong_way
from core.controls.linkage.loads import rod_loads
from core.controls.linkage.lockup import lockup
from core.controls.linkage.mechanism import Body, ByInput, ByRod, End, Mechanism, Rod
from core.controls.linkage.reading import mechanism_from
from core.controls.linkage.rod_ends import rod_states
from core.controls.linkage.solving import gear, plan, rates, solve
from core.controls.linkage.stops import stops
from core.controls.linkage.surface_travel import reached
from core.controls.linkage.turning import levers, turns
from core.rulebook import rule

FOLDER = Path(__file__).parents[2] / "demo" / "mechanisms"
FILES = {p.stem: json.loads(p.read_text(encoding="utf-8")) for p in FOLDER.glob("*.json")}
DOCUMENTS = {name: document_from(data) for name, data in FILES.items()}
r = math.radians


def swept(d, count=201):
    """All inputs of a document over their whole range at once, one after the other."""
    names = list(d.mechanism.inputs)
    ends = {n: lockup(d.plan, n, d.inputs[n].limit) for n in names}
    for n in names:
        plus, minus_ = (lock.input if lock else None for lock in ends[n])
        limit = d.inputs[n].limit
        high = plus if plus is not None else limit
        low = minus_ if minus_ is not None else -limit
        yield n, np.linspace(low, high, count)


def ailerons(measured, U=0.25, **limits):
    d = DOCUMENTS["fenlark-ailerons"]
    required = {"neutral": (-0.5, 0.5), "minus": (19.5, 22.5), "plus": (-15.5, -12.5)} | limits
    aim = Aim(
        {k: r(v) for k, v in measured.items()},
        {k: (r(lo), r(hi)) for k, (lo, hi) in required.items()},
        r(U),
    )
    return d.bench("left"), aim


class Kinematics(TestCase):
    def test_every_rod_keeps_its_length_through_every_sweep(self):
        for name, d in DOCUMENTS.items():
            for moved, values in swept(d):
                motion = solve(d.plan, {moved: values})
                for rod in d.mechanism.rods:
                    length = size(minus(motion.at(rod.a), motion.at(rod.b)))
                    with self.subTest(mechanism=name, rod=rod.id):
                        off = np.nanmax(np.abs(length - d.plan.lengths[rod.id]))
                        self.assertLess(off, 1e-9)

    def test_a_mirrored_linkage_gives_mirrored_travel(self):
        for name in ("fenlark-elevator", "fenlark-ailerons", "moorhen-mixer", "fenlark-rudder"):
            data = copy.deepcopy(FILES[name])
            for b in data["bodies"]:
                for key in ("pivot",):
                    if key in b:
                        b[key][1] = -b[key][1]
                for p in b.get("points", {}).values():
                    p[1] = -p[1]
                # A mirrored rotation axis keeps y and turns x and z; a sliding one turns y.
                flip = (-1, 1, -1) if b.get("kind", "turn") == "turn" else (1, -1, 1)
                b["axis"] = [a * f for a, f in zip(b["axis"], flip, strict=True)]
            mirrored, d = document_from(data), DOCUMENTS[name]
            for moved, values in swept(d, 41):
                one, other = solve(d.plan, {moved: values}), solve(mirrored.plan, {moved: values})
                for o in d.outputs:
                    np.testing.assert_allclose(one.output(o), other.output(o), atol=1e-12)

    def test_left_and_right_aileron_change_places_when_the_stick_goes_the_other_way(self):
        d = DOCUMENTS["fenlark-ailerons"]
        x = np.linspace(-0.35, 0.35, 41)
        one, other = solve(d.plan, {"roll": x}), solve(d.plan, {"roll": -x})
        np.testing.assert_allclose(one.output("right"), other.output("left"), atol=1e-12)

    def test_closed_form_and_a_general_root_finder_agree(self):
        d = DOCUMENTS["moorhen-mixer"]
        driven = [b for b in d.mechanism.bodies if isinstance(b.driven_by, ByRod)]
        for roll, flap in itertools.product((-0.3, 0.1, 0.3), (-0.1, 0.15)):
            motion = solve(d.plan, {"roll": roll, "flap": flap})

            def off(q, roll=roll, flap=flap, motion=motion):
                placed = dict(solve(d.plan, {"roll": roll, "flap": flap}).placed)
                for b, value in zip(driven, q, strict=True):
                    carrier = placed[b.carried_by] if b.carried_by else None
                    placed[b.id] = replace(
                        placed[b.id], q=value, cos=np.cos(value), sin=np.sin(value), carrier=carrier
                    )
                m = replace(motion, placed=placed)
                return [
                    float(size(minus(m.at(x.a), m.at(x.b)))) - d.plan.lengths[x.id]
                    for x in d.mechanism.rods
                ]

            found = fsolve(off, [0.0] * len(driven), xtol=1e-13)
            for b, value in zip(driven, found, strict=True):
                self.assertAlmostEqual(float(motion.q[b.id]), value, places=9)

    @given(st.floats(-0.3, 0.3), st.floats(-0.12, 0.12))
    @settings(max_examples=30, deadline=None)
    def test_gear_and_rod_sensitivity_are_the_slopes(self, roll, flap):
        p, h = DOCUMENTS["moorhen-mixer"].plan, 1e-6
        at = {"roll": roll, "flap": flap}
        motion = solve(p, at)
        up, down = (solve(p, at | {"roll": roll + s * h}).output("left") for s in (1, -1))
        self.assertAlmostEqual(float(gear(motion, "roll")["left"]), float(up - down) / (2 * h), 6)
        length = p.lengths["lift_left"]
        up, down = (solve(p, at, {"lift_left": length + s * h}).output("left") for s in (1, -1))
        slope = -float(rates(motion, {}, {"lift_left": 1.0})["flaperon_left"])
        self.assertAlmostEqual(slope, float(up - down) / (2 * h), places=4)

    def test_pedal_adjustment_does_not_change_rudder_travel(self):
        d = DOCUMENTS["fenlark-rudder"]
        for detent in d.inputs["adjust"].detents.values():
            found = {x.position: x.value for x in reached(d, "rudder", others={"adjust": detent})}
            self.assertAlmostEqual(math.degrees(found["left_stop"]), -24.0, places=6)
            self.assertAlmostEqual(math.degrees(found["right_stop"]), 24.0, places=6)

    def test_the_demo_meets_its_travels_by_geometry(self):
        wanted = {
            ("fenlark-elevator", "elevator"): {"up_stop": 26, "down_stop": -19},
            ("fenlark-flaps", "left"): {"detent_12": 12, "detent_24": 24, "detent_36": 36},
            ("fenlark-trim", "tab"): {"up_stop": -8, "down_stop": 16},
        }
        for (name, output), positions in wanted.items():
            found = {x.position: math.degrees(x.value) for x in reached(DOCUMENTS[name], output)}
            for position, value in positions.items():
                self.assertAlmostEqual(found[position], value, places=3)

    def test_the_pilots_force_times_its_travel_is_the_rods(self):
        d = DOCUMENTS["fenlark-elevator"]
        motion = solve(d.plan, {"pitch": np.array([0.0])})
        arm = rod_states(motion)["fwd"].a.arm
        load = rod_loads(motion, "pitch", 450.0)["fwd"]
        np.testing.assert_allclose(load, 450.0 * 0.46 / arm)

    def test_a_grip_on_its_lever_s_own_axis_moves_nothing(self):
        d = DOCUMENTS["fenlark-elevator"]
        m = d.plan.mechanism
        stick = next(b for b in m.bodies if "grip" in b.points)
        on_axis = replace(stick, points=stick.points | {"grip": stick.pivot})
        m = replace(m, bodies=tuple(on_axis if b is stick else b for b in m.bodies))
        with self.assertRaises(Refused) as refused:
            rod_loads(solve(plan(m), {"pitch": np.array([0.0])}), "pitch", 450.0)
        self.assertEqual(refused.exception.field, "input")

    @given(st.floats(-1.5, 1.5))
    def test_a_ball_joint_s_bores_share_the_twist_of_their_rod_between_them(self, turn):
        """The near body turns about the rod itself: all that its bore does is twist."""
        here, there, below = (0.0, 0.0, 0.0), (0.3, 0.0, 0.0), (0.3, 0.0, -0.1)
        along, side, up = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)
        near = Body("near", "turn", along, ByInput("roll"), here, {"end": here})
        far = Body("far", "turn", side, ByRod("rod"), below, {"end": there})
        rod = Rod("rod", End("near", "end", up), End("far", "end", up))
        m = Mechanism("pair", {"roll": "rad"}, (near, far), (rod,))
        state = rod_states(solve(plan(m), {"roll": np.array([turn])}))["rod"]
        np.testing.assert_allclose(np.abs(state.twist), abs(turn), atol=1e-12)
        for end in (state.a, state.b):
            np.testing.assert_allclose(end.misalign, abs(turn) / 2, atol=1e-12)

    def test_where_two_inputs_lock_it_the_greater_is_told_with_the_other_held(self):
        mixer = next(c for c in rule("controls.linkage").cases if c.id == "k-mixer")
        for roll, flap, told in ((1.0, 80.0, "flap"), (60.0, 30.0, "roll"), (-60.0, 30.0, "roll")):
            at = {"roll_deg": roll, "flap_deg": flap}
            found = rule("controls.linkage").run(mixer.inputs | {"at": at})
            self.assertEqual((found["locked"], found["input"]), (True, told))
            self.assertLess(0, found["lock_at_deg"] / at[f"{told}_deg"])
            for short, locked in ((0.999, False), (1.001, True)):
                near = at | {f"{told}_deg": found["lock_at_deg"] * short}
                answer = rule("controls.linkage").run(mixer.inputs | {"at": near})
                self.assertEqual(answer.get("locked", False), locked, near)


class Advice(TestCase):
    def test_what_it_proposes_is_inside_when_solved_again(self):
        rods = [Item("rod_left", 0.0009071428571 / 2, -8, 8)]
        for neutral in (-2.4, -1.1, 0.9, 2.4):
            measured = {"neutral": neutral, "minus": 20.5 + neutral, "plus": -15.0 + neutral}
            b, aim = ailerons(measured)
            found = advise(b, aim, rods, [])
            turned = [replace(rods[0], least=n, most=n) for n in (found.changes or {}).values()]
            after = predict(b, aim.measured, turned, []) if turned else aim.measured
            for key, (lo, hi) in aim.required.items():
                self.assertTrue(
                    lo + aim.U - 1e-9 <= after[key] <= hi - aim.U + 1e-9, (neutral, key)
                )

    def test_it_is_the_smallest_against_brute_force_with_a_general_root_finder(self):
        d = DOCUMENTS["fenlark-ailerons"]
        b, aim = ailerons({"neutral": 0.9, "minus": 21.4, "plus": -12.6})
        b = replace(b, stops=tuple(s for s in b.stops if s.kind == "input" and s.body == "stick"))
        step, shim = 0.0009071428571 / 2, r(0.35)
        rods, shims = [Item("rod_left", step, -4, 4)], [Item("stick_right", shim, -3, 3)]
        found = advise(b, aim, rods, shims)
        length = d.plan.lengths["rod_left"]

        def left(roll, rod):
            """The left aileron by a root finder on its rod alone; crank by its ratio."""
            crank = solve(d.plan, {"roll": roll}).placed["crank_left"]
            end = crank.move(d.mechanism.body("crank_left").points["out"])
            body = d.mechanism.body("aileron_left")

            def off(q):
                placed = replace(crank, body=body, q=q, cos=math.cos(q), sin=math.sin(q))
                return float(size(minus(placed.move(body.points["horn"]), end))) - rod

            return -brentq(off, -0.9, 0.9, xtol=1e-14)

        def model(n_rod, n_stop):
            rod = length + n_rod * step
            at = {"neutral": 0.0, "plus": r(20) + n_stop * shim, "minus": -r(20)}
            return {k: left(v, rod) for k, v in at.items()}

        base, best = model(0, 0), None
        for n_rod, n_stop in itertools.product(range(-4, 5), range(-3, 4)):
            now = model(n_rod, n_stop)
            y = {k: aim.measured[k] + now[k] - base[k] for k in now}
            margin = min(min(y[k] - lo, hi - y[k]) for k, (lo, hi) in aim.required.items())
            if margin < aim.U:
                continue
            items = (n_rod != 0) + (n_stop != 0)
            key = (-items, -(n_stop != 0), -abs(n_rod) - abs(n_stop), round(margin, 9))
            if best is None or key > best[0]:
                best = key, {"rod_left": n_rod, "stick_right": n_stop}
        self.assertEqual(found.changes, {k: n for k, n in best[1].items() if n})
        self.assertAlmostEqual(found.worst_margin, best[0][3], places=8)

    def test_the_other_side_must_stay_inside_too(self):
        b, aim = ailerons({"neutral": 0.0, "minus": 20.5, "plus": -12.2}, U=0.1)
        stick = [Item("stick_right", r(0.35), -5, 5)]
        alone = advise(b, aim, [], stick)
        self.assertEqual(alone.changes, {"stick_right": 2})
        right = DOCUMENTS["fenlark-ailerons"].bench("right")
        other = Aim(
            {"neutral": 0.0, "plus": r(22.3), "minus": r(-15)}, {"plus": (None, r(22.5))}, 0.0
        )
        self.assertFalse(advise(b, aim, [], stick, beside=[(right, other)]).found)

    def test_only_geometry_mends_a_range_that_is_too_small_and_the_hole_is_named(self):
        b, aim = ailerons({"neutral": 0.1, "minus": 15.0, "plus": -10.0})
        b = replace(b, stops=tuple(s for s in b.stops if s.kind == "input"))
        self.assertFalse(advise(b, aim, [Item("rod_left", 0.00045, -6, 6)], []).found)
        holes = arm_holes(b, aim)
        self.assertEqual({h.body for h in holes}, {"aileron_left", "crank_left"})
        horn = next(h for h in holes if h.body == "aileron_left")
        self.assertLess(horn.outward, 0.0)
        self.assertGreaterEqual(horn.worst_margin, aim.U)

    def test_the_hole_is_proposed_for_what_was_measured_and_in_the_least_steps(self):
        b, aim = ailerons({"neutral": 0.4, "minus": 15.0, "plus": -10.0})
        b = replace(b, stops=tuple(s for s in b.stops if s.kind == "input"))
        base = at_stops(b, {}, np.zeros(1, dtype=int), places(b.stops))
        base = {k: float(getattr(base, k)[0]) for k in ("neutral", "plus", "minus")}
        for hole in arm_holes(b, aim):
            body = next(x for x in b.plan.mechanism.bodies if x.id == hole.body)
            mark = hole.rod, body, hole.point
            steps = round(abs(hole.outward) / STEP_M)
            side = math.copysign(STEP_M, hole.outward)
            margins = [_margin(b, aim, base, mark, side * i) for i in range(steps + 1)]
            self.assertGreaterEqual(margins[-1], aim.U)
            self.assertTrue(all(m < aim.U for m in margins[:-1]), hole)
            # The rod is set again: neutral, 0.4 off as measured, comes to the middle.
            wide = replace(aim, required={"neutral": aim.required["neutral"]})
            room = _margin(b, wide, base, mark, hole.outward)
            self.assertAlmostEqual(room, r(0.5), delta=r(0.01))

    def test_readings_that_this_linkage_cannot_give_are_named(self):
        b, _ = ailerons({})
        good = {"neutral": r(1.0), "minus": r(21.6), "plus": r(-14.0)}
        tolerance = {"rod_left": 0.003}, {"stick_left": r(1), "stick_right": r(1)}
        self.assertTrue(fit(b, good, r(0.2), *tolerance).explained)
        found = fit(b, good | {"plus": r(-6.0)}, r(0.2), *tolerance)
        self.assertEqual((found.explained, found.suspicious), (False, "plus"))

    def test_a_reversed_control_is_met_both_ways(self):
        b, _ = ailerons({})
        self.assertEqual(
            wrong_way(b, {"neutral": 0.0, "plus": r(12), "minus": r(-20)}, 0.01), ("plus", "minus")
        )
        self.assertEqual(wrong_way(b, {"neutral": 0.0, "plus": r(-12), "minus": r(20)}, 0.01), ())


class Stopping(TestCase):
    def bench(self, *more):
        d = DOCUMENTS["fenlark-elevator"]
        p, own = (
            d.plan,
            (Stop("up", "elevator", "min", r(-26)), Stop("down", "elevator", "max", r(19))),
        )
        return Bench(p, "pitch", "elevator", r(35), (*own, *more))

    def test_a_servo_that_stops_first_and_a_stop_too_near_are_found(self):
        said = stops(self.bench(Stop("servo", "servo", "max", r(18), "servo"))).findings
        self.assertEqual(said, ("plus: required stop not first", "plus: servo stop first"))
        near = stops(self.bench(Stop("stick", "stick", "max", r(24.2), "input"))).findings
        self.assertEqual(near, ("plus: up and stick together",))

    @given(st.floats(1e-6, 25.0), st.booleans())
    def test_a_stop_of_the_lever_is_met_where_it_stands(self, degrees, up):
        place = r(degrees) * (1 if up else -1)
        b = replace(self.bench(), stops=(Stop("one", "stick", "max" if up else "min", place),))
        found = met(b, 1 if up else -1, {}, np.zeros(1, dtype=int), places(b.stops))
        self.assertAlmostEqual(float(found.inputs[0, 0]), place, 9)

    def test_it_locks_before_any_stop_where_there_is_none(self):
        d = DOCUMENTS["fenlark-elevator"]
        found = stops(Bench(d.plan, "pitch", "elevator", r(60), ()))
        self.assertEqual(found.findings, ("plus: no stop", "minus: lock before stop"))

    def test_a_lever_without_any_stop_is_known_at_rest_and_nowhere_else(self):
        data = copy.deepcopy(FILES["fenlark-elevator"])
        data["stops"] = []
        found = {x.position: x.value for x in reached(document_from(data), "elevator")}
        self.assertAlmostEqual(found.pop("neutral"), 0.0)
        self.assertEqual(found, {"up_stop": None, "down_stop": None})

    def test_stops_that_cross_or_are_passed_are_refused_by_name(self):
        for extra in (Stop("low", "stick", "max", r(-2)), Stop("up", "stick", "max", 0.3)):
            with self.assertRaises(Refused) as refused:
                stops(self.bench(extra))
            self.assertEqual(refused.exception.field, f"stops.{extra.id}")


class Files(TestCase):
    def test_a_file_comes_back_the_same_and_fits_its_schema(self):
        for name, data in FILES.items():
            jsonschema.validate(data, schema())
            self.assertEqual(document_from(document_to(DOCUMENTS[name])), DOCUMENTS[name])
            jsonschema.validate(document_to(DOCUMENTS[name]), schema())

    def test_what_cannot_be_is_refused_by_the_members_name(self):
        base = FILES["fenlark-elevator"]

        def changed(path, value):
            data = copy.deepcopy(base)
            at = data
            for key in path[:-1]:
                at = at[key]
            if value is None:
                del at[path[-1]]
            else:
                at[path[-1]] = value
            return data

        wrong = {
            "bodies.idler.axis": (["bodies", 1, "axis"], [0, 0, 0]),
            "bodies.stick": (["bodies", 1, "id"], "stick"),
            "bodies.idler.driven_by": (["bodies", 1, "driven_by"], {"rod": "nothing"}),
            "bodies": (["bodies", 0, "driven_by"], {"body": "elevator", "ratio": 1}),
            "rods.fwd.a": (["rods", 0, "a", "point"], "nowhere"),
            "rods.mid": (["bodies", 2, "driven_by"], {"input": "pitch"}),
            "rods.aft": (["rods", 2, "length_m"], 3.0),
            "stops.elevator_up.body": (["stops", 0, "body"], "nobody"),
            "inputs.pitch.unit": (["inputs", "pitch", "unit"], "deg"),
            "rods.fwd.record.colour": (["rods", 0, "record", "colour"], "blue"),
        }
        for field, (path, value) in wrong.items():
            with self.subTest(field=field), self.assertRaises(Refused) as refused:
                document_from(changed(path, value))
            self.assertEqual(refused.exception.field, field)

    def test_a_lever_turns_as_far_as_both_stops_let_it_or_until_something_locks(self):
        for name, d in DOCUMENTS.items():
            for output, o in d.outputs.items():
                body = d.mechanism.outputs[output].body
                ways = {
                    x.position: x for x in reached(d, output) if x.position in (o.plus, o.minus)
                }
                if body not in {b.id for b in levers(d)} or len(d.mechanism.inputs) > 1:
                    continue
                low, high = turns(d, body)
                sign = d.mechanism.outputs[output].sign
                for x in ways.values():
                    if x.value is None:
                        continue
                    with self.subTest(name=name, output=output, position=x.position):
                        self.assertGreaterEqual(sign * x.value, low - 1e-9)
                        self.assertLessEqual(sign * x.value, high + 1e-9)
                if d.stops and len(ways) == 2 and all(x.value is not None for x in ways.values()):
                    ends = sorted(sign * x.value for x in ways.values())
                    self.assertAlmostEqual(ends[0], low, 6, name)
                    self.assertAlmostEqual(ends[1], high, 6, name)
        d = DOCUMENTS["fenlark-elevator"]
        free = dataclasses.replace(d, stops=())
        narrow, wide = turns(d, "stick"), turns(free, "stick")
        self.assertLess(wide[0], narrow[0])
        self.assertGreater(wide[1], narrow[1])
        with self.assertRaises(Refused):
            turns(d, "nobody")

    def test_dead_centre_at_reference_is_refused(self):
        data = copy.deepcopy(FILES["fenlark-elevator"])
        stick, pivot = (2.5, 0.225), (3.55, 0.4325)
        x, z = (p + 0.1 * (p - s) for p, s in zip(pivot, stick, strict=True))
        data["bodies"][1]["points"]["low"] = [x, 0, z]
        with self.assertRaises(Refused) as refused:
            plan(mechanism_from(data))
        self.assertEqual(refused.exception.field, "rods.fwd")
