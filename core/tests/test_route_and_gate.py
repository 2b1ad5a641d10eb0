"""Checks of a route and of ends from a changed drawing, and gates made from concerns."""

import itertools
import json
import random
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from core.basis.checks import STEPS
from core.basis.verdicts import Verdict, worst
from core.cables.document import Cable
from core.cables.done import Did, Done
from core.cables.judging_ends import end_checks, inspection_checks, slide_inputs, steps_of, unsized
from core.cables.judging_route import geometry_checks
from core.cables.reading import rigging_from
from core.cables.rigging import Rigged
from core.rulebook import rule
from core.signoff.closing import Concern, Lot, closing_gate, not_described
from core.signoff.gate import Override

DEMO = Path(__file__).parents[2] / "demo" / "cables" / "fenlark-rudder.json"
FILE = json.loads(DEMO.read_text())
PEDALS = ("full right pedal", "full left pedal")
NOON = datetime(2027, 3, 1, 12, tzinfo=UTC)


def drawn(change=None):
    """The demo's rudder cables with something changed."""
    file = json.loads(json.dumps(FILE))
    if change:
        change(file)
    return Rigged(rigging_from(file))


def route(rigged, ends=PEDALS):
    return {c.key: c for c in geometry_checks(rigged, ends)}


def ends_of(rigged, done=Done(), side="A"):
    return {c.key: c for c in end_checks(rigged, rigged.rigging.cables[side], done)}


class Gaps(TestCase):
    def test_a_gap_is_that_of_the_rule_at_the_worst_position(self):
        for key, check in route(drawn()).items():
            if key.startswith("gap "):
                again = rule("cables.travel_gap").run(check.inputs)
                self.assertEqual(again["verdict"], check.verdict.value, key)
                self.assertIn("mm", check.said)

    def test_moving_a_fairlead_away_opens_the_gap_by_as_much(self):
        def gap(shift):
            def move(file):
                for s in file["sides"]["A"]["supports"]:
                    if s["id"] == "Right fairlead 4265":
                        s["centre"][0] += shift

            check = route(drawn(move))["gap A turnbuckle"]
            return rule("cables.travel_gap").run(check.inputs)["gap_m"]

        for shift in (0.01, 0.02, 0.03):
            self.assertAlmostEqual(gap(shift) - gap(0.0), shift, 4)

    def test_what_fouls_says_which_pedal_and_how_far_to_move(self):
        def near(file):
            for s in file["sides"]["A"]["supports"]:
                if s["id"] == "Right fairlead 4265":
                    s["centre"][0] -= 0.06

        check = route(drawn(near))["gap A turnbuckle"]
        self.assertIs(check.verdict, Verdict.OUT)
        self.assertIn("Meets Right fairlead 4265", check.said)
        self.assertTrue(any(p in check.said for p in PEDALS))
        short = int(check.said.rpartition("by ")[2].split()[0])

        def mended(file):
            near(file)
            for s in file["sides"]["A"]["supports"]:
                if s["id"] == "Right fairlead 4265":
                    s["centre"][0] += short / 1e3 + 0.001

        self.assertIs(route(drawn(mended))["gap A turnbuckle"].verdict, Verdict.IN)

    def test_without_words_for_the_ends_the_angle_is_told(self):
        check = route(drawn(), ("", ""))["gap A turnbuckle"]
        self.assertRegex(check.said, r"with the \w+ at [+-]\d+\.\d°")


class Supports(TestCase):
    def pulley(self, **values):
        def change(file):
            for s in file["sides"]["A"]["supports"]:
                if s["id"] == "Right pulley 3150":
                    for k, v in values.items():
                        if v is None:
                            s.pop(k, None)
                        else:
                            s[k] = v

        return route(drawn(change))

    def test_a_pulley_is_in_only_if_both_its_line_and_its_size_are(self):
        for values, verdict in (
            ({}, Verdict.IN), ({"ratio_min": 30}, Verdict.OUT), ({"misalignment_limit": 1e-6}, None),
            ({"ratio_min": None}, Verdict.NOT_MEASURED),
        ):  # fmt: skip
            check = self.pulley(**values)["pulley A Right pulley 3150"]
            with self.subTest(values=values):
                if verdict is None:
                    self.assertIsNot(check.verdict, Verdict.IN)
                else:
                    self.assertIs(check.verdict, verdict)
        self.assertIn(
            "enter the least that the maker asks",
            self.pulley(ratio_min=None)["pulley A Right pulley 3150"].said,
        )

    def test_a_guard_by_its_gap(self):
        for guard, gap, verdict in (
            ("yes", 0.0012, Verdict.IN), ("yes", 0.0032, Verdict.OUT), ("yes", 0.00305, Verdict.TOO_CLOSE),
            ("yes", None, Verdict.NOT_MEASURED), ("no", None, Verdict.OUT), ("not looked", None, Verdict.NOT_MEASURED),
        ):  # fmt: skip
            check = self.pulley(guard=guard, guard_gap=gap)["guard A Right pulley 3150"]
            with self.subTest(guard=guard, gap=gap):
                self.assertIs(check.verdict, verdict)

    def test_a_fairlead_that_bends_too_far_is_out(self):
        def lifted(file):
            for s in file["sides"]["A"]["supports"]:
                if s["id"] == "Right fairlead 4265":
                    s["centre"][2] += 0.04

        words = route(drawn(lifted))
        key = "fairlead A Right fairlead 4265"
        self.assertIs(words[key].verdict, Verdict.OUT)
        self.assertIs(route(drawn())[key].verdict, Verdict.IN)

    def test_cables_that_change_places_between_banks_are_told_unless_the_drawing_shows_it(self):
        def crossed(file):
            for side, other in (("A", "B"), ("B", "A")):
                for s in file["sides"][side]["supports"]:
                    if s.get("bank") == "4900":
                        mate = next(
                            x for x in FILE["sides"][other]["supports"] if x.get("bank") == "4900"
                        )
                        s["place"] = mate["place"]

        found = [c for k, c in route(drawn(crossed)).items() if k.startswith("crossing")]
        self.assertEqual(len(found), 1)
        self.assertIs(found[0].verdict, Verdict.TOO_CLOSE)
        self.assertIn("cross between bank 1 and the next", found[0].said)

        def shown(file):
            crossed(file)
            file["crossing_source"] = "Drawing 27-01"

        accepted = [c for k, c in route(drawn(shown)).items() if k.startswith("crossing")]
        self.assertIs(accepted[0].verdict, Verdict.ACCEPTED)
        self.assertIn("Drawing 27-01", accepted[0].said)


class Ends(TestCase):
    RIGGED = drawn()
    CABLE = RIGGED.rigging.cables["A"]

    def with_end(self, **values):
        end = replace(self.CABLE.ends["B"], **values)
        return replace(self.CABLE, ends=dict(self.CABLE.ends) | {"B": end})

    def checks(self, cable, *events):
        return {c.key: c for c in end_checks(self.RIGGED, cable, Done((), events))}

    def test_what_nobody_said_of_an_end_is_told_and_not_taken_for_granted(self):
        for name in ("kind", "made_by", "pin"):
            found = self.checks(self.with_end(**{name: "not said"}))
            self.assertIs(found["end A B"].verdict, Verdict.NOT_MEASURED, name)
            self.assertIn("Not said", found["end A B"].said)
        self.assertNotIn("end A B", self.checks(self.CABLE))

    def test_a_pin_kept_by_a_cotter_alone_asks_the_maker(self):
        bare = self.checks(self.with_end(pin="cotter only", pin_source=""))["pin A B"]
        told = self.checks(self.with_end(pin="cotter only", pin_source="Drawing 3"))["pin A B"]
        self.assertEqual((bare.verdict, told.verdict), (Verdict.TOO_CLOSE, Verdict.ACCEPTED))
        self.assertIn("23.689(d)", bare.said)
        self.assertIn("Drawing 3", told.said)
        self.assertNotIn("pin A B", self.checks(self.with_end(pin="nut and cotter")))

    def test_what_we_made_ourselves_is_proof_loaded(self):
        ours = self.with_end(made_by="builder")
        self.assertIs(self.checks(ours)["proof A"].verdict, Verdict.NOT_MEASURED)
        self.assertNotIn("proof A", self.checks(self.with_end(made_by="supplier")))
        words = {"force": "in", "time": "in", "set": "in", "slip": "in"}
        for verdict in (Verdict.IN, Verdict.OUT):
            proof = Did("proof", "A", NOON, {}, {}, words | {"verdict": verdict.value})
            self.assertIs(self.checks(ours, proof)["proof A"].verdict, verdict)
        other = Did("proof", "B", NOON, {}, {}, words | {"verdict": "in"})
        self.assertIs(self.checks(ours, other)["proof A"].verdict, Verdict.NOT_MEASURED)

    def test_a_sleeve_by_its_last_gauging_at_that_end(self):
        sleeve = self.with_end(kind="sleeve with thimble")
        self.assertIs(self.checks(sleeve)["sleeve A B"].verdict, Verdict.NOT_MEASURED)

        def gauged(end, verdict, thimble="in", **inputs):
            result = {"thimble": thimble, "presses": "in", "dimension": verdict, "verdict": verdict}
            return Did("sleeve", "A", NOON, {"end": end}, inputs, result)

        for events, want in (
            ([gauged("B", "in")], Verdict.IN), ([gauged("B", "out")], Verdict.OUT),
            ([gauged("A", "in")], Verdict.NOT_MEASURED),
            ([gauged("B", "out"), gauged("B", "in")], Verdict.IN),
            ([gauged("B", "in"), gauged("B", "too close")], Verdict.TOO_CLOSE),
        ):  # fmt: skip
            self.assertIs(self.checks(sleeve, *events)["sleeve A B"].verdict, want)
        told = {"deviation_source": "Drawing 9", "deviation_reason": "no room"}
        found = self.checks(sleeve, gauged("B", "in", "deviation", **told))["sleeve A B"]
        self.assertEqual((found.verdict, found.state), (Verdict.ACCEPTED, "passed"))
        self.assertIn("Drawing 9", found.said)

    def test_what_must_be_slid_on_first_is_counted_in_its_order(self):
        file = json.loads(json.dumps(FILE))
        file["sides"]["A"]["slide_on"] = [
            {"name": "boot", "bore": 0.009},
            {"name": "tube", "bore": 0.005},
        ]
        rigged = Rigged(rigging_from(file))

        def slid(*listed):
            events = [Did(d, "A", NOON, x) for d, x in listed]
            done = Done((), events)
            check = ends_of(rigged, done)["slide on A"]
            inputs = slide_inputs(rigged.rigging.cables["A"], done)
            again = rule("cables.slide_on_order").run(inputs)
            self.assertEqual(len(steps_of(inputs["steps"])), len(listed))
            self.assertEqual(check.verdict is Verdict.IN, again["complete"])
            return check

        boot = ("slid on", {"item": "boot", "end": "A"})
        tube = ("slid on", {"item": "tube", "end": "B"})
        self.assertIs(slid().verdict, Verdict.NOT_MEASURED)
        self.assertIn("tube", slid(boot).said)
        self.assertIs(slid(boot, tube).verdict, Verdict.IN)
        pressed = [("pressed", {"end": e}) for e in "AB"]
        self.assertIs(
            slid(*pressed).state == "cannot be put on", slid(*pressed).verdict is Verdict.OUT
        )

    def test_what_passes_an_end_is_not_told_while_nobody_said_how_large_it_is(self):
        file = json.loads(json.dumps(FILE))
        file["sides"]["A"]["slide_on"] = [{"name": "boot", "bore": 0.009}]
        for end in "AB":
            del file["sides"]["A"]["ends"][end]["size"]
            rigged = Rigged(rigging_from(file))
            check = ends_of(rigged, Done((), ()))["slide on A"]
            self.assertEqual((check.verdict, check.rule), (Verdict.NOT_MEASURED, ""))
            self.assertIn(f"outer size of end A{' and end B' if end == 'B' else ''}.", check.said)
        # Where nothing must pass, no size is asked for.
        file["sides"]["A"]["slide_on"] = []
        rigged = Rigged(rigging_from(file))
        self.assertNotIn("slide on A", ends_of(rigged, Done((), ())))
        cable = rigged.rigging.cables["A"]
        self.assertEqual(unsized(cable), "")
        self.assertTrue(
            rule("cables.slide_on_order").run(slide_inputs(cable, Done((), ())))["complete"]
        )

    def test_wear_is_looked_for_again_on_the_day_after_it_is_due(self):
        day = date(2027, 6, 1)
        for fit, verdict, later in (
            (True, Verdict.IN, Verdict.TOO_CLOSE),
            (False, Verdict.OUT, Verdict.OUT),
        ):
            data = {"fit": fit, "found": "nothing", "next_due": day.isoformat()}
            (check,) = inspection_checks(Done((), [Did("inspected", "A", NOON, data)]))
            self.assertIs(check.verdict, verdict)
            self.assertIs(check.on(day)[2], verdict)
            self.assertIs(check.on(day + timedelta(days=1))[2], later)
        self.assertEqual(list(inspection_checks(Done())), [])
        self.assertIsInstance(self.CABLE, Cable)


steps = st.sampled_from(sorted(STEPS))
concerns = st.lists(
    st.builds(
        lambda n, step, good, bays, closure: Concern(
            f"c{n}", "thing", tuple(sorted(bays)), step, STEPS[step][0] if good else "open",
            Verdict.IN if good else Verdict.OUT, closure=closure,
        ),
        st.integers(0, 99), steps, st.booleans(), st.sets(st.sampled_from(["nose", "aft", "tail"])),
        st.sampled_from(["", "", "lid", "door"]),
    ),
    max_size=10, unique_by=lambda c: c.id,
)  # fmt: skip
COUNT = Concern("tools", "tools", (), "count", "in", Verdict.IN, closure="lid")


class Gates(TestCase):
    @given(concerns)
    def test_a_bay_holds_what_lies_in_it_and_a_closure_what_is_its_own(self, listed):
        lot = Lot(listed)
        for bay in ("nose", "aft", "tail", "attic"):
            want = [c for c in listed if bay in c.bays and not c.closure]
            self.assertEqual(lot.in_bay(bay), want)
        for closure, bays in (("lid", ("nose", "aft")), ("door", ("tail",)), ("none", ())):
            found, items = lot.behind(closure, bays)
            want = [
                c for c in listed
                if c.closure == closure or (not c.closure and set(bays) & set(c.bays))
            ]  # fmt: skip
            self.assertEqual(found, want)
            self.assertEqual([i.id for i in items], [c.id for c in want])

    @given(concerns)
    def test_a_gate_is_ready_exactly_when_all_behind_it_passes(self, listed):
        lot = Lot([*listed, COUNT])
        found, told = closing_gate("lid", "permanent", "final", ("nose", "aft"), lot)
        behind, _ = lot.behind("lid", ("nose", "aft"))
        self.assertEqual(told, behind)
        self.assertEqual(found.state == "ready", all(c.passes for c in behind))
        self.assertEqual({i.id for i in found.blockers}, {c.id for c in behind if not c.passes})

    @given(concerns, st.randoms())
    def test_the_order_in_which_trades_tell_says_nothing_of_the_blockers(self, listed, chance):
        mixed = list(listed)
        chance.shuffle(mixed)
        one, other = (
            closing_gate("lid", "removable", "final", ("nose",), Lot([*x, COUNT]))[0]
            for x in (listed, mixed)
        )
        self.assertEqual(one.state, other.state)
        self.assertEqual({i.hash for i in one.blockers}, {i.hash for i in other.blockers})

    def test_an_override_of_all_that_blocks_lets_it_be_closed_and_of_less_does_not(self):
        chance = random.Random(4)
        open_ = [
            Concern(f"c{n}", "x", ("nose",), step, "open", Verdict.OUT) for n, step in enumerate(STEPS) if step != "count"
        ]  # fmt: skip
        lot = Lot([*open_, COUNT])
        hashes = [c.item.hash for c in open_]
        for k in (0, 3, len(hashes)):
            covered = tuple(chance.sample(hashes, k))
            overrides = [Override("Ansel", "seen with the counselor", covered)] if k else []
            state = closing_gate("lid", "permanent", "final", ("nose",), lot, overrides)[0].state
            self.assertEqual(state, "overridden" if k == len(hashes) else "blocked")

    def test_a_bay_of_which_a_trade_knows_nothing_is_told_once_for_each(self):
        known = {"controls": {"nose"}, "joints": {"nose", "aft"}}
        checks = not_described(["nose", "aft", "tail"], known)
        told = {(c.bays[0], c.key): c for c in checks}
        self.assertEqual(set(told), {("aft", "controls"), ("tail", "controls"), ("tail", "joints")})
        self.assertEqual({c.verdict for c in checks}, {Verdict.NOT_MEASURED})
        self.assertEqual(told["tail", "controls"].step, "reading")
        self.assertEqual(told["tail", "joints"].step, "task")

    def test_of_several_words_the_worst_is_said(self):
        order = [Verdict.OUT, Verdict.TOO_CLOSE, Verdict.NOT_MEASURED]
        for a, b in itertools.product([*order, Verdict.IN], repeat=2):
            found = worst([a, b])
            self.assertIs(worst([b, a]), found)
            self.assertIn(found, (a, b))
            for word in order:
                if word in (a, b):
                    self.assertIs(found, word)
                    break
        self.assertIs(worst([]), Verdict.NOT_MEASURED)
