"""Worksheets: what is typed is read by its field, what the rules say is said of the right thing,
and nothing that nobody said counts for it."""

import itertools
import json
import unittest
from datetime import date, timedelta
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

import core.lines.sheets  # noqa: F401
from core.basis.refused import Refused
from core.basis.verdicts import Verdict
from core.lines.line import Line
from core.rulebook import RULES, rule
from core.worksheets.kinds import KINDS, Asked, Worked, kind_of, work
from core.worksheets.reading import clean, read
from core.worksheets.things import Turning

TODAY = date(2030, 5, 1)
DEMO = json.loads((Path(__file__).parents[2] / "demo" / "fenlark-lines.json").read_text("utf-8"))
TUBE = Line(
    "Feed",
    "aluminium",
    0.009525,
    (
        (2.05, -0.1, 0.18),
        (1.86, -0.1, 0.18),
        (1.78, -0.16, 0.22),
        (1.62, -0.16, 0.22),
        (1.62, -0.16, 0.08),
    ),
    (0.03, 0.03, 0.03),
)


PEDALS = Turning("Rudder: pedals", -0.20, 0.30, "by its linkage")
THINGS = {("", "feed"): TUBE, ("turning", "rudder/pedals"): PEDALS}


def sheet(kind: str, typed: dict, today: date = TODAY, cited: str = "the manual") -> Worked:
    """A sheet as typed, worked out."""
    k = kind_of(kind)
    values, things = read(k, typed, "mm", lambda f, at: THINGS.get((f.things, at)))
    return work(k, Asked("A", values, today, cited, things))


def demo(kind: str) -> dict:
    """What the demo types on the first sheet of a kind, days ago as days."""
    typed = next(s["typed"] for s in DEMO["worksheets"] if s["kind"] == kind)
    ago = "days ago: "
    return {
        k: (TODAY - timedelta(int(v[len(ago) :]))).isoformat()
        if isinstance(v, str) and v.startswith(ago)
        else v
        for k, v in typed.items()
    }


def verdicts(worked: Worked) -> dict[str, str]:
    """Key -> verdict."""
    return {c.key: c.verdict.value for c in worked.checks}


class Reading(unittest.TestCase):
    """What was typed, by its fields."""

    def refused(self, kind: str, typed: dict, field: str, reason: str):
        with self.assertRaises(Refused) as caught:
            sheet(kind, typed)
        self.assertEqual(caught.exception.field, field)
        self.assertIn(reason, caught.exception.reason)

    def test_refusals_name_the_field_and_in_a_table_the_row_and_the_column(self):
        clamp = {"od": "3/8 in"}
        self.refused("clamp", {}, "od", "is needed")
        self.refused("clamp", clamp | {"colour": "red"}, "colour", "is not asked here")
        self.refused("clamp", clamp | {"bore": 3}, "bore", "must be text")
        self.refused("clamp", clamp | {"bore": "3 Nm"}, "bore", "is not a unit of length")
        self.refused("clamp", clamp | {"bore": "-3"}, "bore", "must be greater than zero")
        row = {"id": "A", "fitting": "pipe", "system": "fuel", "compound": "glue"}
        self.refused("sealing", {"fittings": [row]}, "fittings", "row 1, On its thread: must be")
        self.refused(
            "sealing", {"fittings": [{}, {"id": "A"}]}, "fittings", "row 2, Kind: is needed"
        )
        self.refused("sealing", {"fittings": [{}]}, "fittings", "at least one row")
        self.refused("sealing", {"fittings": "pipe"}, "fittings", "must be rows")
        self.refused("sealing", {"fittings": [row | {"x": "1"}]}, "x", "in fittings")
        self.refused("hose", {"cure": "31.3.2029"}, "cure", "must be a day")
        self.refused("hose", {"life_in": "five"}, "life_in", "a whole number")
        self.refused("water", {"line": "other"}, "line", "is not one of this aircraft")
        self.refused("selector", demo("selector") | {"first": "4"}, "first", "needs 2 values")
        self.refused("nothing", {}, "kind", "is not a kind")

    def test_a_refusal_of_a_rule_comes_back_under_the_forms_own_name(self):
        flare = {"od": "1/4 in", "material": "steel", "fitting": "37", "tube": "45"}
        self.refused("flare", flare, "tube", "")
        wandered = demo("tank hole") | {"wandered": "3"}
        self.refused("tank hole", wandered, "wandered", "does not pass")
        self.refused("hose", demo("hose") | {"cure": "2031-01-01"}, "cure", "in the future")
        high = demo("tank leak") | {"start": "5 kPa"}
        self.refused("tank leak", high, "start", "")

    def test_what_moves_a_hose_gives_its_travel_and_is_not_typed_beside(self):
        typed = {k: v for k, v in demo("moving hose").items() if k not in ("from", "to")}
        self.refused("moving hose", typed, "from", "or choose what moves it")
        chosen = typed | {"driver": "rudder/pedals"}
        self.refused("moving hose", chosen, "sense", "which way it turns")
        self.refused("moving hose", chosen | {"sense": "1", "to": "20"}, "to", "leave it empty")
        self.refused("moving hose", typed | {"driver": "feed", "sense": "1"}, "driver", "is not")
        for sense, ends in (("1", (-0.20, 0.30)), ("-1", (-0.30, 0.20))):
            moved = sheet("moving hose", chosen | {"sense": sense})
            ends_typed = {k: f"{a} rad" for k, a in zip(("from", "to"), ends, strict=True)}
            same = sheet("moving hose", typed | ends_typed)
            self.assertEqual(moved.figure, same.figure)
            self.assertEqual(verdicts(moved), verdicts(same))
            self.assertEqual(moved.facts[0], ("Moved by", "Rudder: pedals, by its linkage"))

    def test_rows_without_anything_in_them_and_blanks_are_not_kept(self):
        kept = clean(kind_of("hose"), {"route": " 620 mm ", "hose": " ", "spans": [{"id": " "}]})
        self.assertEqual(kept, {"route": "620 mm", "spans": []})

    def test_every_field_of_every_kind_is_of_its_own_and_the_rules_take_its_name(self):
        known = {n for r in RULES.values() for n in names(r.input_schema())}
        sheets_own = {
            "spans", "edge_margin_m", "flat", "left_m", "on_condition", "adjustments_m", "ends",
            "pedal_from_rad", "pedal_to_rad", "u_m", "w_m", "is", "bleed", "arrangement", "line",
            "pumps", "rated", "steps_up", "q", "p", "t", "fittings", "pitot_joined", "end", "allowed_m",
            "bare", "hose_length_m", "driver", "sense", "vents_interconnected", "return_to",
            "tested_on", "opened_on",
        }  # fmt: skip
        for k in (k for k in KINDS.values() if k.trade == "lines"):
            keys = [f.key for f in k.fields]
            self.assertEqual(len(keys), len(set(keys)), k.id)
            for f in k.fields:
                self.assertIn(f.name, known | sheets_own, f"{k.id} {f.key}")
            for typed in k.starters.values():
                sheet(k.id, dict(typed))

    @given(st.dictionaries(st.text(max_size=8), st.text(max_size=12) | st.integers(), max_size=4))
    def test_whatever_is_typed_is_worked_out_or_refused(self, typed):
        for kind in ("clamp", "hose", "flare"):
            try:
                sheet(kind, typed)
            except Refused as refusal:
                self.assertTrue(refusal.field or refusal.reason)


def names(schema: dict) -> set[str]:
    """Every name in a schema, at any depth."""
    found = set(schema.get("properties", {}))
    for part in [*schema.get("properties", {}).values(), schema.get("items")]:
        if isinstance(part, dict):
            found |= names(part)
    return found


class Demo(unittest.TestCase):
    """The faults of the demo are found from what was typed, and go when they are mended."""

    def test_a_brake_hose_too_short_at_one_adjustment_and_a_longer_one_or_another_tie(self):
        typed = demo("moving hose")
        short = sheet("moving hose", typed)
        self.assertEqual(verdicts(short), {"travel near": "in", "travel far": "out"})
        self.assertIn("At pedal 20.0° the hose is too short", short.checks[1].said)
        self.assertEqual(short.figure["shapes"][short.figure["worst"]]["finding"], "hose_too_short")
        would = dict(short.facts)["A hose that would do here"].partition(" mm")[0]
        self.assertEqual(
            set(verdicts(sheet("moving hose", typed | {"length": would})).values()), {"in"}
        )
        just = str(float(would) - 2)
        self.assertIn("out", verdicts(sheet("moving hose", typed | {"length": just})).values())
        nearer = sheet("moving hose", typed | {"fixed": "90; 0"})
        self.assertNotIn("too short", nearer.checks[1].said)

    def test_a_hose_past_its_life_and_what_the_calendar_makes_of_one_that_is_not(self):
        self.assertEqual(verdicts(sheet("hose", demo("hose")))["life"], "out")
        typed = demo("hose") | {"cure": "2029-01-31", "installed": "2029-06-01", "life_cure": "25"}
        life = sheet("hose", typed).checks[-1]
        self.assertIs(life.verdict, Verdict.IN)
        last = date(2031, 2, 28)
        for day, verdict in (
            (last - timedelta(91), Verdict.IN),
            (last - timedelta(90), Verdict.TOO_CLOSE),
            (last, Verdict.TOO_CLOSE),
            (last + timedelta(1), Verdict.OUT),
        ):
            self.assertIs(life.on(day)[2], verdict, day)
            same = sheet("hose", typed, day).checks[-1]
            self.assertIs(same.verdict, verdict, day)

    def test_a_return_to_the_other_tank_is_found_in_both_positions_and_mended(self):
        typed = demo("fuel system")
        found = sheet("fuel system", typed)
        self.assertEqual(
            [c.key for c in found.checks],
            ["return_wrong_tank selector=left", "return_wrong_tank selector=right"],
        )
        self.assertEqual({b["at"] for b in found.figure["bad"]}, {"selector"})
        lines = [dict(x) for x in typed["lines"]]
        for x in lines:
            if x["id"] in ("L5", "L6"):
                x["b"] = "left tank.return" if x["id"] == "L5" else "right tank.return"
        self.assertEqual(verdicts(sheet("fuel system", typed | {"lines": lines})), {"joined": "in"})

    def test_what_nobody_said_of_a_fuel_line_is_not_measured_and_what_is_denied_is_out(self):
        typed = demo("fuel system")
        for said, verdict in ((None, "not measured"), ("no", "out")):
            lines = [dict(x) for x in typed["lines"]]
            for x in lines:
                if x["id"] == "H1":
                    x.pop("fire") if said is None else x.update(fire=said)
            found = verdicts(sheet("fuel system", typed | {"lines": lines}))
            self.assertEqual(found["not_fire_resistant H1"], verdict)

    def test_a_tank_that_looks_leaky_is_not_and_says_what_the_gauge_alone_suggests(self):
        found = sheet("tank leak", demo("tank leak"))
        self.assertEqual(verdicts(found), {"leak": "in"})
        alone = float(dict(found.facts)["The gauge alone suggests"].split()[0])
        self.assertGreater(alone, 1.2)
        relief = float(
            dict(found.facts)["Relief column of water for the highest pressure"].split()[0]
        )
        self.assertAlmostEqual(relief / 1e3 * 998.2 * 9.80665, 3400.0, delta=6.0)
        for tested, opened, word in (
            ("2031-05-02", "2031-05-01", "in"),
            ("2031-05-02", "2031-05-02", "stale"),
            ("2031-05-02", "2031-06-09", "stale"),
            ("", "2031-05-01", "stale"),
        ):
            typed = demo("tank leak") | {"on": tested, "opened": opened}
            self.assertEqual(verdicts(sheet("tank leak", typed)), {"leak": word})
        still = demo("tank leak") | {"end_t": "21.5", "end_b": "1011.2", "end": "2.15"}
        self.assertEqual(verdicts(sheet("tank leak", still)), {"leak": "out"})

    def test_a_washer_that_covers_a_wandered_hole_no_more(self):
        typed = demo("tank hole")
        self.assertEqual(verdicts(sheet("tank hole", typed))["cover"], "out")
        wide = verdicts(sheet("tank hole", typed | {"washer": "26"}))
        self.assertEqual(wide["cover"], "in")
        self.assertEqual(verdicts(sheet("tank hole", typed | {"margin": "33"}))["margin"], "out")
        one = {k: v for k, v in typed.items() if k not in ("a", "b", "along", "left")}
        self.assertEqual(verdicts(sheet("tank hole", one))["place"], "not measured")

    def test_a_selector_that_suits_only_when_it_is_turned(self):
        found = sheet("selector", demo("selector"))
        self.assertEqual(verdicts(found), {"place": "in"})
        self.assertIn("turned 180", found.checks[0].said)
        self.assertIn("does not suit", dict(found.facts).popitem()[1])
        unturned = sheet("selector", demo("selector") | {"turns": "360", "last": "-40; 0"})
        self.assertEqual(verdicts(unturned), {"place": "out"})
        over = sheet(
            "selector", demo("selector") | {"steps": "2", "steps_up": "1", "last": "80; 20"}
        )
        # 3 by 2 places, 8 turns each; more places are never worse.
        self.assertEqual(dict(over.facts)["Places and turns looked at"], "48")
        room = [float(x.checks[0].said.split(": ")[1].split(" %")[0]) for x in (found, over)]
        self.assertGreaterEqual(room[1], room[0] - 1)

    def test_water_in_the_static_line_cannot_drain(self):
        found = sheet("air data", demo("air data"))
        self.assertEqual(verdicts(found), {"no_drain static": "out"})
        self.assertEqual([b["at"] for b in found.figure["bad"]], ["static port"])

    def test_warmer_fuel_or_more_height_leaves_less_and_the_profile_says_so(self):
        typed = demo("fuel path")
        found = sheet("fuel path", typed)
        self.assertEqual(verdicts(found), {"flow": "in", "vapour": "too close"})
        rows = [[float(x.split()[0].replace("−", "-")) for x in t.split(": ")[1:] if "kPa" in x]
                for label, t in found.facts if label.startswith("Least margin")]  # fmt: skip
        for row in rows:
            self.assertEqual(row, sorted(row, reverse=True))
        for cooler, warmer in itertools.pairwise(rows):
            self.assertTrue(all(a > b for a, b in zip(cooler, warmer, strict=True)))


class Rules(unittest.TestCase):
    """Every kind says what its rule says."""

    def test_each_check_with_a_rule_can_be_worked_again_and_knows_where_its_inputs_are_from(self):
        holes = [{"id": "B1", "centre": "1950; -100; 180", "axis": "1; 0; 0", "d": "12", "t": "20"}]
        speeds = [{"id": "airspeed", "speed": "160 kt"}]
        every = [(s["kind"], demo(s["kind"])) for s in DEMO["worksheets"]]
        every += [
            ("through", {"line": "feed", "holes": holes, "end": "11.5", "bare": "yes"}),
            ("far end", {"line": "feed", "end": "1622; -161; 81", "allowed": "2"}),
            ("water", {"line": "feed", "pitch": "8"}),
            ("flare", {"od": "1/4 in", "material": "steel", "fitting": "37", "tube": "37"}),
            ("pitot test", {"speed": "100 kt", "instruments": speeds}),
            ("static test", {"station": "989", "climb": "1000 ft", "instruments": speeds}),
        ]
        for kind, typed in every:
            for c in sheet(kind, typed).checks:
                self.assertEqual(set(c.origins) >= set(c.inputs), True, f"{kind} {c.key}")
                if c.rule:
                    rule(c.rule).run(dict(c.inputs))

    def test_a_limit_says_which_document_it_stands_in(self):
        found = sheet("moving hose", demo("moving hose"), cited="Manual, p. 44")
        self.assertEqual(found.checks[0].origins["min_radius_m"], "Manual, p. 44")
        self.assertEqual(found.checks[0].origins["length_m"], "entered on this sheet")

    def test_a_pitot_test_over_an_instruments_limit_is_out_with_its_name(self):
        typed = {"speed": "100 kt", "instruments": [{"id": "small gauge", "speed": "90 kt"}]}
        found = sheet("pitot test", typed)
        self.assertEqual(verdicts(found), {"endures": "out", "leak": "not measured"})
        self.assertIn("small gauge", found.checks[0].said)
        high = [s["mm"] for s in found.figure["ladder"]]
        self.assertEqual(high, sorted(high))

    def test_a_static_test_with_the_pitot_open_shows_the_airspeed_gauge_its_suction(self):
        typed = {"station": "989", "climb": "1000 ft"}
        typed["instruments"] = [{"id": "airspeed", "speed": "100 kt"}]
        self.assertEqual(verdicts(sheet("static test", typed))["endures"], "out")
        joined = sheet("static test", typed | {"joined": "yes"})
        self.assertEqual(verdicts(joined)["endures"], "in")

    def test_readings_whose_uncertainty_nobody_said_settle_nothing(self):
        probe = {"push": "20 N", "arm": "180", "moved": "1.1", "read": "200", "load": "6.5 N",
                 "load_arm": "120", "allowed": "0.3"}  # fmt: skip
        self.assertEqual(verdicts(sheet("probe", probe)), {"probe": "not measured"})
        sure = {"u_push": "0.3 N", "u_moved": "0.03", "u_arm": "1", "u_load": "0.6 N"}
        self.assertEqual(verdicts(sheet("probe", probe | sure)), {"probe": "in"})
        flare = {"od": "1/4 in", "material": "steel", "fitting": "37", "tube": "37"}
        told = sheet("flare", flare | {"measured": "16 Nm"})
        self.assertEqual(verdicts(told), {"torque": "not measured"})
        self.assertEqual(
            verdicts(sheet("flare", flare | {"measured": "16 Nm", "u": "0.1"})), {"torque": "in"}
        )

    def test_without_an_uncertainty_or_a_clearance_nothing_of_it_is_in(self):
        hose = {k: v for k, v in demo("hose").items() if k != "u_turn"}
        self.assertEqual(verdicts(sheet("hose", hose))["twist"], "not measured")
        self.assertEqual(verdicts(sheet("hose", demo("hose")))["twist"], "in")
        hole = demo("tank hole") | {"washer": "26"}
        for field, keys in (
            ("u", ("place", "margin")),
            ("u_hole", ("cover",)),
            ("u_wandered", ("cover",)),
        ):
            found = verdicts(sheet("tank hole", {k: v for k, v in hole.items() if k != field}))
            for key in keys:
                self.assertEqual(found[key], "not measured", (field, key))
        near = {k: v for k, v in demo("moving hose").items() if k != "clearance"}
        self.assertEqual(verdicts(sheet("moving hose", near))["clearance"], "not measured")
        self.assertNotIn("clearance", verdicts(sheet("moving hose", demo("moving hose"))))

    def test_brakes_crossed_over_are_named_by_wheel_and_seat(self):
        typed = demo("brake system")
        lines = [dict(x) for x in typed["lines"]]
        for x in lines:
            if x["id"] == "B12":
                x["b"] = "first right.in"
            if x["id"] == "B22":
                x["b"] = "first left.in"
        found = sheet("brake system", typed | {"lines": lines})
        self.assertIn("wrong_wheel second left>right caliper", verdicts(found))
        self.assertIn("out", verdicts(found).values())

    def test_ends_that_are_open_say_so_and_a_cap_closes_them(self):
        ends = [
            {"id": "static tube", "kind": "line", "end": "port", "mate": "port.out"},
            {"id": "port", "kind": "probe", "end": "out", "mate": "static tube.port"},
            {"id": "static tube", "kind": "line", "end": "panel"},
        ]
        found = sheet("ends", {"ends": ends, "fit": "static tube"})
        self.assertEqual(
            set(verdicts(found)), {"open_end static tube.panel", "cannot_fit static tube"}
        )
        ends[2] = ends[2] | {"cap": "red 1"}
        shut = sheet("ends", {"ends": ends, "fit": "static tube"})
        self.assertEqual(verdicts(shut), {"closed": "in"})
        self.assertEqual(dict(shut.facts)["Caps to be counted out again"], "red 1")
