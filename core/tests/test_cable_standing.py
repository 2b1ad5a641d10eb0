"""What stands of a loop after all that was measured and done: readings, locks, steps, thread."""

import json
import math
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.cables import done as standing
from core.cables.done import Did, Done, Read, best, left_showing
from core.cables.judging import (
    agreeing,
    judge,
    overdue,
    reached,
    size_check,
    tension_check,
    turnbuckle_checks,
)
from core.cables.learning import learnt_from
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.cables.setting import advise, judged, today
from core.cables.turnbuckle import turnbuckle_threads

DEMO = Path(__file__).parents[2] / "demo" / "cables" / "fenlark-rudder.json"
FILE = json.loads(DEMO.read_text())
RIGGED = Rigged(rigging_from(FILE))
BEGIN = datetime(2027, 3, 1, 9, tzinfo=UTC)
WARM = 294.15


def at(hour):
    return BEGIN + timedelta(hours=hour)


def read(hour, side="A", value=130.0, u=3.0, method="card", temperature=WARM, **more):
    return Read(hour, side, method, value, u, at(hour), temperature, **more)


happenings = st.lists(
    st.one_of(
        st.tuples(
            st.just("read"), st.sampled_from("AB"), st.sampled_from(["card", "pull", "pluck"])
        ),
        st.tuples(st.just("straight"), st.just(""), st.just("straight")),
        st.tuples(
            st.sampled_from(["turned", "safetied", "unsafetied"]),
            st.sampled_from("AB"),
            st.just(""),
        ),
        st.tuples(st.just("step"), st.just(""), st.sampled_from(standing.RIGGING)),
    ),
    max_size=14,
)


def told(listed):
    """The happenings an hour apart, as readings and events."""
    readings = [
        read(n, side, 100.0 + n, method=way)
        for n, (what, side, way) in enumerate(listed)
        if what in ("read", "straight")
    ]
    events = [
        Did(what, side, at(n), {"step": way} if what == "step" else {})
        for n, (what, side, way) in enumerate(listed)
        if what not in ("read", "straight")
    ]
    return Done(readings, events)


class Folding(TestCase):
    @given(happenings)
    def test_only_what_was_read_since_the_last_turn_counts_the_last_of_each_way(self, listed):
        done = told(listed)
        turned = max((n for n, x in enumerate(listed) if x[0] == "turned"), default=-1)
        for side in "AB":
            last = {}
            for n, (what, whose, way) in enumerate(listed):
                if what == "read" and whose == side and n > turned:
                    last[way] = n
            self.assertEqual({r.method: r.key for r in done.current(side)}, last)
        straight = [n for n, x in enumerate(listed) if x[0] == "straight" and n > turned]
        found = done.straight()
        self.assertEqual(found.key if found else None, straight[-1] if straight else None)

    @given(happenings)
    def test_a_lock_is_on_until_it_is_taken_off_or_turned(self, listed):
        done = told(listed)
        for side in "AB":
            on = False
            for what, whose, _ in listed:
                if whose == side and what in ("turned", "safetied", "unsafetied"):
                    on = what == "safetied"
            self.assertEqual(done.safetied(side), on)

    @given(happenings)
    def test_a_step_counts_until_the_next_turn_and_a_lock_of_neutral_for_ever(self, listed):
        done = told(listed)
        turned = max((n for n, x in enumerate(listed) if x[0] == "turned"), default=-1)
        for step in standing.RIGGING:
            made = [n for n, x in enumerate(listed) if x[0] == "step" and x[2] == step]
            holds = bool(made) and (step == "neutral locked" or made[-1] > turned)
            self.assertEqual(done.step_holds(step) is not None, holds, step)

    def test_a_step_in_the_very_moment_of_the_turn_counts(self):
        events = [Did("turned", "A", at(1)), Did("step", "", at(1), {"step": "tension set"})]
        self.assertIsNotNone(Done((), events).step_holds("tension set"))
        events[1] = Did("step", "", at(0), {"step": "tension set"})
        self.assertIsNone(Done((), events[::-1]).step_holds("tension set"))

    def test_a_reading_in_the_very_moment_of_the_turn_does_not_count(self):
        done = Done([read(1)], [Did("turned", "B", at(1))])
        self.assertEqual(done.current("A"), [])

    def test_what_was_done_by_side_and_the_last_of_it(self):
        events = [Did("sleeve", "A", at(1)), Did("sleeve", "B", at(2)), Did("proof", "A", at(3))]
        done = Done((), events)
        self.assertEqual([e.at for e in done.did("sleeve")], [at(1), at(2)])
        self.assertEqual([e.at for e in done.did("sleeve", "B")], [at(2)])
        self.assertEqual(done.last("sleeve").side, "B")
        self.assertIsNone(done.last("stretch"))

    @given(st.lists(st.tuples(st.integers(1, 9), st.integers(1, 9)), min_size=1, max_size=6))
    def test_the_most_certain_reading_speaks_and_the_last_among_equals(self, us):
        rows = [read(n, u=float(u)) for n, (u, _) in enumerate(us)]
        least = min(r.u for r in rows)
        self.assertEqual(best(rows).key, max(r.key for r in rows if r.u == least))
        self.assertIsNone(best([]))

    @given(st.integers(0, 8), st.integers(0, 8), st.integers(-6, 6), st.integers(-6, 6))
    def test_thread_showing_is_what_was_counted_less_what_was_turned_since(self, a, b, now, then):
        counted = (a / 2, b / 2)
        found = left_showing(counted, now / 2, then / 2)
        self.assertEqual(found, (a / 2 - (now - then) / 2, b / 2 - (now - then) / 2))
        self.assertIsNone(left_showing(None, now, then))

    def test_the_figures_taken_where_the_user_gives_none(self):
        self.assertAlmostEqual(standing.U_FORCE_N, 0.2 * 4.4482216152605 / math.sqrt(3))
        self.assertEqual((standing.U_MASS_REL, standing.U_SPAN_M), (0.02, 0.002))
        self.assertEqual((standing.U_DEFLECTION_M, standing.U_PLUCKED_SPAN_M), (0.0005, 0.003))
        self.assertEqual((standing.LOWEST_SHARE, standing.HIGHEST_SHARE), (0.3, 3.0))
        self.assertEqual((standing.SAME_K, standing.SAME_N), (1.5, 2.0))
        self.assertAlmostEqual(
            standing.u_of_card(0.5, 0.5), math.hypot(0.5 / 3**0.5, 0.5 / 12**0.5)
        )


class TensionOfADay(TestCase):
    def set_to(self, kelvin=WARM, side="A"):
        return today(RIGGED, side, kelvin)

    def check(self, *readings, events=()):
        return tension_check(RIGGED, "A", Done(readings, events))

    def test_nothing_measured_is_not_measured_and_says_what_to_do(self):
        self.assertIs(self.check().verdict, Verdict.NOT_MEASURED)
        self.assertIn("Measure the tension", self.check().said)
        turned = self.check(read(1), events=[Did("turned", "A", at(2))])
        self.assertIs(turned.verdict, Verdict.NOT_MEASURED)
        self.assertIn("a turnbuckle was turned", turned.said)
        cold = self.check(read(1, temperature=None))
        self.assertIn("Enter the temperature", cold.said)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(20, 300), st.floats(0.5, 12), st.floats(280, 315))
    def test_the_band_of_the_day_on_which_it_was_measured_decides(self, value, u, kelvin):
        band = self.set_to(kelvin)
        got = self.check(read(1, value=value, u=u, temperature=kelvin))
        if band.wanted.slack:
            self.assertIs(got.verdict, Verdict.NOT_MEASURED)
            return
        U = 2 * math.hypot(u, band.u_model_N)
        if band.low_N + U <= value <= band.high_N - U:
            want = Verdict.IN
        elif value < band.low_N - U or value > band.high_N + U:
            want = Verdict.OUT
        else:
            want = Verdict.TOO_CLOSE
        edges = [band.low_N + U, band.high_N - U, band.low_N - U, band.high_N + U]
        if min(abs(value - e) for e in edges) > 1e-6:
            self.assertIs(got.verdict, want)
            self.assertIs(judged(band, value, u), want)
        self.assertIn(f"{kelvin - 273.15:.1f} °C", got.said)

    @given(st.floats(285, 305), st.floats(0.5, 20))
    def test_a_warmer_day_asks_for_more_tension(self, kelvin, warmer):
        self.assertGreater(
            self.set_to(kelvin + warmer).wanted.tension_N, self.set_to(kelvin).wanted.tension_N
        )

    def test_the_band_is_the_maker_s_at_the_maker_s_temperature(self):
        target = RIGGED.rigging.target
        band = self.set_to(target.temperature_K)
        self.assertAlmostEqual(band.wanted.tension_N, target.tension_N)
        self.assertAlmostEqual(band.low_N, target.tension_N - target.minus_N)
        self.assertAlmostEqual(band.high_N, target.tension_N + target.plus_N)
        self.assertAlmostEqual(band.u_model_N, 0.0, 6)

    def test_a_gauge_past_its_calibration_makes_nothing_in_and_nothing_else_better(self):
        speaks = read(24, calibration_due=BEGIN.date())
        fine = replace(speaks, calibration_due=at(24).date())
        for given_, want in ((Verdict.IN, Verdict.TOO_CLOSE), (Verdict.OUT, Verdict.OUT)):
            self.assertIs(overdue(speaks, given_, "")[0], want)
        self.assertEqual(overdue(fine, Verdict.IN, "said"), (Verdict.IN, "said"))
        self.assertEqual(overdue(read(1), Verdict.IN, "said"), (Verdict.IN, "said"))
        self.assertIn(BEGIN.date().isoformat(), overdue(speaks, Verdict.IN, "")[1])
        self.assertIsInstance(speaks.calibration_due, date)

    def test_ways_that_contradict_each_other_are_never_in(self):
        a = read(1, value=130.0, u=2.0)
        for other, kelvin, want in (
            (133.0, WARM, Verdict.IN), (150.0, WARM, Verdict.TOO_CLOSE),
            (150.0, WARM + 1.5, Verdict.TOO_CLOSE), (150.0, WARM + 1.6, Verdict.IN),
            (150.0, None, Verdict.IN),
        ):  # fmt: skip
            b = read(2, value=other, u=2.5, method="pull", temperature=kelvin)
            with self.subTest(other=other, kelvin=kelvin):
                self.assertIs(agreeing([a, b], Verdict.IN, "")[0], want)
        worse = agreeing([a, read(2, value=170.0, u=2.5, method="pull")], Verdict.OUT, "")
        self.assertIs(worse[0], Verdict.OUT)
        agreed = agreeing([a, read(2, value=131.0, u=2.5, method="pull")], Verdict.IN, "")
        self.assertIn("2 ways of measuring agree", agreed[1])


class Turning(TestCase):
    @settings(max_examples=30, deadline=None)
    @given(st.floats(60, 130), st.sampled_from([0.5, 0.25, 1.0]), st.floats(285, 305))
    def test_what_is_advised_brings_the_loop_nearer_than_any_other_turn(
        self, present, step, kelvin
    ):
        both = {"A": present, "B": present}
        try:
            advice = advise(RIGGED, kelvin, both, {}, step_turns=step)
        except Refused:
            return
        a, b = RIGGED.compliance
        travel = {s: RIGGED.rigging.cables[s].turnbuckle.travel_per_turn_m for s in "AB"}
        drawn = advice.turns.rounded_A * travel["A"] + advice.turns.rounded_B * travel["B"]
        after = present + drawn / (a + b)
        self.assertAlmostEqual(advice.turns.after_A_N, after, 6)
        # Each side is off by half a step at most, so the loop by that of both.
        most = step / 2 * (travel["A"] + travel["B"]) / (a + b)
        self.assertLessEqual(abs(after - advice.target_N), most + 1e-6)

    def test_thread_after_the_turns_is_told_where_it_was_counted(self):
        both = {"A": 90.0, "B": 90.0}
        advice = advise(RIGGED, WARM, both, {"A": (2.5, 2.5), "B": None})
        self.assertIsNone(advice.threads["B"])
        want = turnbuckle_threads((2.5, 2.5), advice.turns.rounded_A, 3.0)
        self.assertEqual(advice.threads["A"].after_threads, want.after_threads)

    def test_a_surface_that_stands_askew_is_turned_back(self):
        both = {"A": 120.0, "B": 120.0}
        straight = advise(RIGGED, WARM, both, {})
        for off in (0.02, -0.02):
            askew = advise(RIGGED, WARM, both, {}, straight_rad=off)
            self.assertAlmostEqual(askew.recentre_rad, -off * RIGGED.pulls_positive("A"))
            change = askew.turns.turns_A - straight.turns.turns_A
            back = askew.turns.turns_B - straight.turns.turns_B
            self.assertGreater(change * askew.recentre_rad, 0)
            self.assertLess(back * askew.recentre_rad, 0)

    def test_what_was_learnt_of_the_loop_counts_instead_of_the_model(self):
        both = {"A": 90.0, "B": 90.0}
        a, b = RIGGED.compliance
        soft = advise(RIGGED, WARM, both, {}, loop_compliance=2 * (a + b))
        plain = advise(RIGGED, WARM, both, {})
        self.assertAlmostEqual(soft.turns.turns_A, 2 * plain.turns.turns_A, 6)


class LearningFromTurns(TestCase):
    def learnt(self, warmer):
        """From readings before and after both sides were turned, the last so much warmer."""
        before = [read(n, side, 100.0, 1.0) for n, side in enumerate("AB")]
        turned = [Did("turned", side, at(5 + n), {"turns": 1.0}) for n, side in enumerate("AB")]
        after = [
            read(10 + n, side, 150.0, 1.0, temperature=288.0 + (warmer if side == "B" else 0.0))
            for n, side in enumerate("AB")
        ]
        before = [replace(r, temperature_K=288.0) for r in before]
        return learnt_from(RIGGED, Done([*before, *after], turned))

    def test_all_four_at_one_temperature_show_it_and_at_two_they_do_not(self):
        self.assertIsNotNone(self.learnt(0.0))
        self.assertIsNotNone(self.learnt(standing.SAME_K))
        self.assertIsNone(self.learnt(standing.SAME_K + 1e-6))

    def test_half_as_stiff_is_learnt_from_half_the_rise(self):
        one = self.learnt(0.0).loop_compliance_m_per_N
        travel = RIGGED.rigging.cables["A"].turnbuckle.travel_per_turn_m
        self.assertAlmostEqual(one, 2 * travel / 50.0, delta=one * 0.2)


class ChecksOfACable(TestCase):
    CABLE = RIGGED.rigging.cables["A"]

    def test_the_size_of_a_primary_cable(self):
        self.assertIs(size_check(self.CABLE, True).verdict, Verdict.IN)
        thin = replace(self.CABLE, data=replace(self.CABLE.data, diameter_m=0.00238))
        self.assertIs(size_check(thin, True).verdict, Verdict.OUT)
        self.assertIs(size_check(thin, False).verdict, Verdict.IN)
        self.assertIn("No cable under 1/8 in", size_check(thin, True).said)

    def test_a_turnbuckle_by_its_thread_and_its_lock(self):
        lock = [Did("safetied", "A", at(1))]
        for showing, events, verdict, state in (
            ((2.0, 2.0), lock, Verdict.IN, "final"),
            ((2.0, 2.0), [], Verdict.NOT_MEASURED, "not safetied"),
            ((0.0, 0.0), lock, Verdict.IN, "final"),
            ((-0.5, 1.0), lock, Verdict.OUT, "bottomed"),
            ((3.0, 3.0), lock, Verdict.IN, "final"),
            ((3.5, 3.0), lock, Verdict.OUT, "too many threads outside"),
        ):
            done = Done((), events, {"A": showing})
            (check,) = turnbuckle_checks(self.CABLE, done)
            with self.subTest(showing=showing):
                self.assertEqual((check.verdict, check.state), (verdict, state))
        uneven = next(iter(turnbuckle_checks(self.CABLE, Done((), lock, {"A": (0.5, 2.0)}))))
        self.assertIn("differ by more than one thread", uneven.said)
        even = next(iter(turnbuckle_checks(self.CABLE, Done((), lock, {"A": (1.0, 2.0)}))))
        self.assertNotIn("differ", even.said)
        self.assertEqual(list(turnbuckle_checks(self.CABLE, Done((), lock, {"A": None}))), [])

    def test_hands_must_get_at_the_turnbuckle_or_at_the_middle_support(self):
        buckle = next(f for f in self.CABLE.fittings if f.kind == "turnbuckle")
        self.assertAlmostEqual(reached(self.CABLE)[0], buckle.low_m)
        without = replace(self.CABLE, fittings=())
        middle = self.CABLE.supports[len(self.CABLE.supports) // 2]
        self.assertEqual(reached(without), list(middle.centre))
        self.assertEqual(reached(replace(without, supports=())), [])

    def test_every_check_has_a_key_of_its_own_and_none_is_in_for_want_of_a_word(self):
        bare = Done((), (), {"A": None, "B": None})
        checks = list(judge(RIGGED, bare, "rudder", True, ("left", "right")))
        keys = [c.key for c in checks]
        self.assertEqual(len(keys), len(set(keys)))
        words = {c.key: c.verdict for c in checks}
        for side in "AB":
            self.assertIs(words[f"tension {side}"], Verdict.NOT_MEASURED)

    def test_a_loop_with_its_sides_exchanged_says_the_same_of_each(self):
        other = json.loads(json.dumps(FILE))
        other["sides"] = {"A": FILE["sides"]["B"], "B": FILE["sides"]["A"]}
        for lever in ("driver", "driven"):
            other[lever]["A"], other[lever]["B"] = FILE[lever]["B"], FILE[lever]["A"]
        turned = Rigged(rigging_from(other))
        for mine, theirs in (("A", "B"), ("B", "A")):
            one, two = today(RIGGED, mine, 285.0), today(turned, theirs, 285.0)
            self.assertAlmostEqual(one.wanted.tension_N, two.wanted.tension_N, 6)
        self.assertAlmostEqual(RIGGED.through.share, turned.through.share, 6)
        self.assertAlmostEqual(RIGGED.through.highest_N, turned.through.highest_N, 4)
