"""What lies exactly on a border, and small sums that have one right answer."""

import json
import math
from contextlib import redirect_stdout
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import numpy as np

from core.basis.refused import Refused, numbers
from core.basis.uncertainty import Contribution, combine
from core.basis.vectors import minus, size
from core.basis.verdicts import judge
from core.cables.done import Did, Done, Read
from core.cables.judging import tension_check
from core.cables.learning import learnt_from
from core.cables.lever import SIDES
from core.cables.path import Pulley
from core.cables.pluck import (
    AFTER_PEAK_S,
    LEAST_PERIODS,
    LEAST_S,
    after_the_pluck,
    pluck_frequency,
)
from core.cables.pluck_check import _sudden
from core.cables.pluck_signal import Signal, made
from core.cables.quadrant import quadrant_loop
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import today
from core.cables.temperature import tension_at_temperature
from core.controls.advice import next_step
from core.controls.gauge import GaugeReadings, gauge_difference
from core.controls.linkage.advising import Aim
from core.controls.linkage.arm_holes import arm_holes
from core.controls.linkage.contact import Stop
from core.controls.linkage.document import document_from
from core.controls.linkage.mechanism import Body, ByInput, ByRod, End, Mechanism, Rod
from core.controls.linkage.solving import _wrapped, plan, solve
from core.controls.template import Card, template
from core.controls.travel import ReadingSet, Surface, judge_sets, measurement
from core.controls.verdict import MOST_REPEATS, Measurement, judge_readings
from core.hardware.fit import fit
from core.rulebook import RULES, rule
from core.rulebook.__main__ import main, table

DEMO = Path(__file__).parents[2] / "demo"
RUDDER = json.loads((DEMO / "cables" / "fenlark-rudder.json").read_text())
ELEVATOR = json.loads((DEMO / "mechanisms" / "fenlark-elevator.json").read_text())
THEN = datetime(2026, 3, 4, 10, tzinfo=UTC)
WARM = 288.15


def told(do, *args):
    try:
        do(*args)
    except Refused as refusal:
        return refusal.field, refusal.reason
    return "", ""


class Numbers(TestCase):
    def test_how_many_are_needed_is_said_as_one_would(self):
        self.assertEqual(told(numbers, [], "readings", 1), ("readings", "needs a value"))
        self.assertEqual(told(numbers, [1], "readings", 2), ("readings", "needs at least 2 values"))

    def test_a_card_s_arm_is_forty_millimetres_at_least(self):
        for arm, field in ((0.040, ""), (0.0399, "arm_fixed")):
            card = Card(math.radians(150), arm, 0.140, 0.060)
            self.assertEqual(told(template, card)[0], field)


class Plucked(TestCase):
    def heard(self, *loud):
        partials = [(0.3 if n in loud else 0.0, 2.0, 0.0) for n in range(1, 7)]
        sound = made(Signal(8000, 3.0, 40.0, partials, onset_s=0.3))
        return pluck_frequency(sound, 8000, 25.0, 60.0)

    def test_a_fundamental_that_is_not_heard_is_said_to_be_inferred(self):
        for loud, inferred in (((1, 2, 3), False), ((2, 3), True), ((2, 3, 5), True)):
            found = self.heard(*loud)
            self.assertAlmostEqual(found.frequency_Hz, 40.0, 1)
            self.assertEqual((found.inferred, found.partials), (inferred, loud))


class Quadrants(TestCase):
    def test_a_side_that_still_pulls_half_a_newton_is_not_slack(self):
        """Both cables give alike: a moment at the driven lever takes half of it from either."""
        rigged, r, give = 100.0, 0.05, 1e-5
        for left, slack in ((0.5, False), (-0.5, True)):
            moment = 2.0 * (rigged - left) * r
            for sign, side in ((1, "A"), (-1, "B")):
                q = quadrant_loop(r, r, 0.1, rigged, give, give, sign * moment)
                loose = q.tension_A_N if side == "A" else q.tension_B_N
                self.assertEqual(q.slack, (side,) if slack else ())
                self.assertAlmostEqual(loose, max(left, 0.0), 9)


class Tension(TestCase):
    RIGGED = Rigged(rigging_from(RUDDER))

    def read(self, key, side, value, hours, u=2.0):
        return Read(key, side, "gauge", value, u, THEN + timedelta(hours=hours), WARM)

    def test_both_uncertainties_are_said(self):
        band = today(self.RIGGED, "A", WARM)
        done = Done((self.read(1, "A", band.wanted.tension_N, 1),))
        said = tension_check(self.RIGGED, "A", done).said
        U = 2.0 * math.hypot(2.0, band.u_model_N)
        self.assertIn(f"± {self.RIGGED.said(U)} at", said)

    def test_what_a_turn_gives_is_learnt_from_the_mean_of_both_sides(self):
        turned = Did("turned", "A", THEN + timedelta(hours=2), {"turns": 2.0})
        buckle = self.RIGGED.rigging.cables["A"].turnbuckle
        for before, after in (((100, 110), (150, 162)), ((90, 90), (140, 141))):
            readings = [
                self.read(n, side, value, hours, 0.1)
                for n, (side, value, hours) in enumerate(
                    [
                        *zip(SIDES, before, (0, 1), strict=True),
                        *zip(SIDES, after, (3, 4), strict=True),
                    ]
                )
            ]
            learnt = learnt_from(self.RIGGED, Done(readings, [turned]))
            more = (sum(after) - sum(before)) / 2.0
            self.assertAlmostEqual(
                learnt.loop_compliance_m_per_N, 2.0 * buckle.travel_per_turn_m / more, 12
            )


class Linkages(TestCase):
    def test_holes_are_sought_only_between_stops_that_leave_a_way(self):
        d = document_from(ELEVATOR)
        b = d.bench(next(iter(d.outputs)))
        aim = Aim({"neutral": 0.0, "plus": 0.1, "minus": -0.1}, {})
        self.assertEqual(aim.U, 0.0)
        closed = replace(
            b,
            stops=(
                Stop("low", b.stops[0].body, "min", 0.1),
                Stop("high", b.stops[0].body, "max", 0.1),
            ),
        )
        self.assertEqual(told(arm_holes, closed, aim)[0], "stops.high")

    def test_a_member_is_named_by_its_id_or_its_place(self):
        file = json.loads(json.dumps(ELEVATOR))
        body = file["bodies"][1]
        body["weight"] = 3
        self.assertEqual(told(document_from, file)[0], f"bodies.{body['id']}.weight")
        del body["id"]
        self.assertEqual(told(document_from, file)[0], "bodies.1.weight")

    def test_an_output_is_moved_by_an_input_that_there_is(self):
        for moved, field in (("", ""), ("pitch", ""), ("yaw", "outputs.elevator.input")):
            file = json.loads(json.dumps(ELEVATOR))
            file["outputs"]["elevator"]["input"] = moved
            self.assertEqual(told(document_from, file)[0], field, moved)

    def test_sixty_rods_may_be_told_and_no_more(self):
        file = json.loads(json.dumps(ELEVATOR))
        file["stops"] = [{"id": f"s{n}", "body": "stick", "side": "min"} for n in range(60)]
        self.assertNotEqual(told(document_from, file), ("stops", "must be at most 60"))
        file["stops"].append({"id": "s60", "body": "stick", "side": "min"})
        self.assertEqual(told(document_from, file), ("stops", "must be at most 60"))

    def test_a_slide_pushed_from_either_side_stands_at_its_place_and_keeps_its_rod(self):
        for ahead in (0.3, -0.3):
            ends = {"end": (2.0, 0.0, 0.0)}
            slide = Body("slide", "slide", (1.0, 0.0, 0.0), ByRod("rod"), points=ends)
            at = (2.0 + ahead, 0.0, 0.1)
            tip = {"tip": (2.0 + ahead, 0.0, 0.05)}
            lever = Body("lever", "turn", (0.0, 1.0, 0.0), ByInput("pull"), at, tip)
            rod = Rod("rod", End("slide", "end"), End("lever", "tip"))
            p = plan(Mechanism("m", {"pull": "rad"}, (slide, lever), (rod,)))
            motion = solve(p, {"pull": np.array([-0.3, 0.0, 0.3])})
            self.assertAlmostEqual(float(motion.q["slide"][1]), 0.0, 12)
            length = size(minus(motion.at(rod.a), motion.at(rod.b)))
            np.testing.assert_allclose(length, p.lengths["rod"], atol=1e-12)

    def test_an_angle_is_told_within_half_a_turn(self):
        for turns in range(-3, 4):
            for rest in (-3.1, -1.0, 0.0, 2.0, math.pi):
                self.assertAlmostEqual(float(_wrapped(rest + turns * 2.0 * math.pi)), rest, 9)


class Travel(TestCase):
    def test_readings_are_numbers(self):
        for value in (math.nan, math.inf):
            m = Measurement((0.1, value), 0.001, 0.001)
            self.assertEqual(told(judge_readings, m, 0.0, 0.2)[0], "readings")

    def test_repeats_are_advised_up_to_the_most_and_no_further(self):
        """Brute force: the fewest of n + 1 to the most that brings U within the margin."""
        seen = set()
        for margin in np.linspace(0.00115, 0.0013, 120):
            readings = (0.1 - 0.003, 0.1 + 0.003, 0.1)
            m = Measurement(readings, 0.0004, 0.0001)
            judged = judge_readings(m, 0.1 - margin, 0.5)
            if judged.advice is None:
                continue
            settled = [n for n in range(4, 60) if self.U_of(n) <= margin * (1 + 1e-9)]
            fewest = min(settled, default=None)
            fits = fewest if fewest is not None and fewest <= MOST_REPEATS else None
            self.assertEqual(judged.advice.repeats_total, fits, margin)
            seen.add(fewest)
        self.assertTrue({MOST_REPEATS, MOST_REPEATS + 1} <= seen, seen)

    def U_of(self, n):
        dof = n - 1
        repeats = Contribution(0.003 / math.sqrt(n), float(dof), "repeats")
        parts = (
            Contribution(0.0004 / math.sqrt(3.0), None, "accuracy"),
            Contribution(0.0001 / math.sqrt(12.0), None, "resolution"),
            repeats,
        )
        return combine(parts).U

    def test_with_no_word_of_a_better_instrument_the_accuracy_that_would_do_is_still_told(self):
        rough = ReadingSet(
            "gauge_difference", (0.4,), 0.004, 0.0001, neutral=(0.0,), zero="fixed surface"
        )
        judged = judge_readings(measurement(Surface("trailing_edge_up"), rough), 0.397, None)
        self.assertEqual(judged.advice.settles, "instrument")
        self.assertLess(judged.advice.accuracy_needed, 0.004)

    def test_the_wrong_way_is_told_where_no_travel_that_way_is_asked(self):
        said = "The surface moved the wrong way."
        for reading, lo, hi, wrong in (
            (-0.2, 0.3, 0.4, True), (-0.2, None, 0.4, True), (-0.2, -0.3, -0.1, False),
            (0.35, 0.3, 0.4, False), (-0.01, 0.0, 0.1, False),
        ):  # fmt: skip
            form = Measurement((reading,), 0.001, 0.001)
            words = " ".join(next_step(judge_sets([form], lo, hi), lo, hi))
            self.assertEqual(said in words, wrong, (reading, lo, hi))

    def test_a_face_that_does_not_exist_is_refused(self):
        case = next(c for c in rule("controls.gauge_difference").cases if "refused" not in c.expect)
        asked = case.inputs | {"face": "round"}
        self.assertEqual(told(rule("controls.gauge_difference").run, asked)[0], "face")
        g = GaugeReadings(face="round", readings=(0.1,), neutral=(0.0,), sense=1, accuracy=0.001)
        self.assertEqual(told(gauge_difference, g, 0.0, 1.0)[0], "face")

    def test_a_wall_of_half_the_tube_is_no_tube(self):
        case = next(c for c in rule("controls.insert_rivets").cases if "refused" not in c.expect)
        wide = case.inputs["tube_od_mm"]
        for wall in (wide / 2.0, wide / 2.0 + 1.0):
            asked = case.inputs | {"wall_mm": wall}
            self.assertEqual(told(rule("controls.insert_rivets").run, asked)[0], "wall_mm")


class Book(TestCase):
    def test_the_table_has_a_row_for_every_rule(self):
        rows = table().splitlines()
        self.assertEqual(len(rows), 2 + len(RULES))
        for name in RULES:
            self.assertEqual(sum(f"| `{name}` |" in row for row in rows), 1, name)
        out = StringIO()
        with patch("sys.argv", ["rulebook", "table"]), redirect_stdout(out):
            main()
        self.assertEqual(out.getvalue().strip(), table())

    def test_the_one_value_that_a_rule_gives_has_words(self):
        single = [r for r in RULES.values() if [o.name for o in r.entry.outputs] == ["value"]]
        self.assertTrue(all(r.entry.outputs[0].doc for r in single))


class Small(TestCase):
    """One border each."""

    def test_the_sides_of_a_loop_turn_its_driven_lever_opposite_ways(self):
        for turned in (1, -1):
            file = json.loads(json.dumps(RUDDER))
            if turned < 0:
                file["driven"]["axis"] = [-x for x in file["driven"]["axis"]]
            rigged = Rigged(rigging_from(file))
            ways = [rigged.pulls_positive(side) for side in SIDES]
            self.assertEqual(sorted(ways), [-1, 1])
            if turned > 0:
                before = ways
        self.assertEqual(ways, [-way for way in before])

    def test_an_airframe_s_part_needs_its_material_and_its_length(self):
        for left_out in ("material", "length"):
            file = json.loads(json.dumps(RUDDER))
            part = {"material": "aluminium", "length": 1.0}
            file["airframe"] = [{k: v for k, v in part.items() if k != left_out}]
            self.assertEqual(told(rigging_from, file)[0], f"airframe.0.{left_out}")

    def test_a_point_without_a_pulley_is_touched_at_itself_and_without_an_angle(self):
        stop = Pulley((1.0, 2.0, 3.0), (0.0, 1.0, 0.0), 0.0)
        angle, at, length = stop.touched((1.0, 2.0, 3.5), True)
        self.assertEqual((angle, at), (0.0, (1.0, 2.0, 3.0)))
        self.assertAlmostEqual(float(length), 0.5)

    def test_a_cable_may_be_slack_from_twice_its_uncertainty_down(self):
        line = Rigged(rigging_from(RUDDER)).line("A")
        for times, may in ((1.95, True), (2.05, False)):
            low, high = 200.0, line.temperature_ref_K
            for _ in range(80):
                middle = (low + high) / 2.0
                found = tension_at_temperature(line, middle)
                over = found.tension_N > times * found.u_tension_N
                low, high = (low, middle) if over else (middle, high)
            self.assertEqual(tension_at_temperature(line, high).may_be_slack, may, times)

    def test_no_number_is_no_value(self):
        for value in (math.nan, math.inf):
            self.assertEqual(told(judge, value, 0.1, 0.0, 1.0)[0], "value")

    def test_a_part_with_no_room_and_no_doubt_is_neither_loose_nor_pressed(self):
        for hole, kind in ((0.012, "transition"), (0.0120001, "clearance")):
            self.assertEqual(fit([hole], [0.012], "slip").fit_class, kind)

    def test_a_pull_that_stretches_by_a_tenth_is_named(self):
        cases = rule("cables.sideways_pull").cases
        base = next(c for c in cases if "refused" not in c.expect).inputs
        shares = []
        for softer in np.geomspace(0.02, 50.0, 4000):
            asked = base | {"compliance_m_per_N": base["compliance_m_per_N"] / softer}
            try:
                found = rule("cables.sideways_pull").run(asked)
            except Refused:
                continue
            shares.append((found["stretch_share"], found["pull_less"]))
        self.assertTrue(any(0.10 < share < 0.105 for share, _ in shares))
        self.assertEqual([much for share, much in shares], [share > 0.10 for share, _ in shares])

    def test_a_pluck_just_long_enough_is_heard(self):
        rate, low = 8000, 25.0
        least = round(max(LEAST_S, LEAST_PERIODS / low) * rate)
        peak = np.zeros(round(AFTER_PEAK_S * rate))
        peak[0] = 0.9
        for more, field in ((0, ""), (-1, "samples")):
            tone = 0.2 * np.sin(np.arange(least + more) * 0.05)
            sound = np.concatenate([peak, tone])
            self.assertEqual(told(after_the_pluck, sound, rate, low)[0], field)

    def test_what_is_before_the_pluck_ends_before_the_pluck(self):
        rate = 8000
        wave = np.sin(np.arange(rate) * 0.3)
        # A third as loud as the pluck would be too loud before it; this is less, all the way.
        self.assertTrue(_sudden(np.concatenate([0.14 * wave, 0.5 * wave]), rate))
        self.assertFalse(_sudden(np.concatenate([0.24 * wave, 0.5 * wave]), rate))
