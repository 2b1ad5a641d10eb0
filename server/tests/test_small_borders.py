"""Small sums and orders of the server, each with one right answer."""

import json
from datetime import UTC, date, datetime
from itertools import pairwise
from pathlib import Path
from types import SimpleNamespace
from unittest import TestCase

from core.basis.refused import Refused
from core.controls.travel import ReadingSet
from core.rulebook import rule
from core.signoff.directive import Limits
from server.aircraft.models import Aircraft, Closure, Person
from server.cables import providers, rows
from server.config.bounds import MOST_THINGS, bounded
from server.controls.linkage.models import Mechanism
from server.controls.models import Rod, Stop
from server.controls.recording import _inches
from server.controls.why import SURFACE, method_why
from server.hardware.models import Joint
from server.journal.models import Change
from server.kit.ports import WantedJoint, joints
from server.record.places import place_of
from server.signoff.scope import Scope
from server.signoff.signing import _dual
from server.sources.directives import _limits
from server.tests.own import Writing
from testkit.base import OnTheDemo

RUDDER = json.loads((Path(__file__).parents[2] / "demo/cables/fenlark-rudder.json").read_text())
AT = "/api/aircraft/fenlark"


class Alone(TestCase):
    def test_a_new_support_stands_in_order_of_station(self):
        stations = lambda file: [s["centre"][0] for s in file["sides"]["A"]["supports"]]
        first, *_, last = stations(RUDDER)
        middle = (first + last) / 2.0 * 1e3
        # Far out to the side, so that only its station can put it between the others.
        text = f"A,between,fairlead,{middle:.1f},{9000:.1f},0"
        found = rows.from_csv(RUDDER, text)
        self.assertEqual(stations(found), sorted(stations(found)))
        names = [s["id"] for s in found["sides"]["A"]["supports"]]
        self.assertNotIn("between", (names[0], names[-1]))
        self.assertTrue(all(a <= b for a, b in pairwise(stations(found))))

    def test_inches_are_a_fraction_where_they_are_one(self):
        for metres, said in ((0.0254 * 4.25, "4-1/4 in"), (0.0254 * 0.1, "0.100 in")):
            self.assertEqual(_inches(metres), said)

    def test_one_limit_of_a_directive_is_enough(self):
        day = date(2026, 3, 4)
        for given in ((5.0, None, None), (None, day, None), (None, None, 6)):
            self.assertEqual(_limits(*given), Limits(*given))
        self.assertIsNone(_limits(None, None, None))

    def test_a_list_inside_of_a_list_is_bounded_too(self):
        long = [{"x": "y"}] * (MOST_THINGS + 1)
        for given, path in (
            ({"a": long}, "a"), ({"a": [{"b": long}]}, "a.0.b"), ({"a": [[1], long]}, "a.1"),
        ):  # fmt: skip
            with self.assertRaises(Refused) as refusal:
                bounded(given)
            self.assertEqual(refusal.exception.field, path)
        self.assertEqual(bounded({"a": long[:-1]}), {"a": long[:-1]})

    def test_where_nothing_was_worked_on_nobody_can_be_independent(self):
        now = datetime(2026, 3, 4, tzinfo=UTC)
        for workers, at in (((), now), (("ansel",), None), ((), None)):
            found = _dual(Scope("control:x", workers, at, ()), [])
            self.assertEqual((found.ok, found.reason), (False, "nothing has been measured yet"))
        self.assertNotEqual(
            _dual(Scope("control:x", ("ansel",), now, ()), []).reason,
            "nothing has been measured yet",
        )


class OnDemo(OnTheDemo):
    def test_what_is_noted_at_a_closure_of_one_bay_lies_in_that_bay(self):
        aircraft = Aircraft.objects.get(slug="fenlark")
        for closure in Closure.objects.filter(aircraft=aircraft):
            bays = list(closure.bays.all())
            found = place_of(aircraft, "closure", closure.slug)
            self.assertEqual(found, bays[0] if len(bays) == 1 else None)

    def test_a_turnbuckle_draws_its_cable_by_its_turns(self):
        name, drawn = providers.turned("fenlark", "rudder")
        self.assertEqual(name, "fenlark-rudder-cables")
        side = next(s for s, file in RUDDER["sides"].items() if file.get("turnbuckle"))
        before = drawn["cables"][side]
        body = {"doing": "turned", "side": side, "typed": {"turns": "2"}}
        answer = self.write("ansel", f"{AT}/controls/rudder/cables/events", body)
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        after = providers.turned("fenlark", "rudder")[1]["cables"][side]
        per_inch = RUDDER["sides"][side]["turnbuckle"]["threads_per_inch"]
        threads = per_inch if isinstance(per_inch, list) else [per_inch] * 2
        self.assertAlmostEqual(after - before, 2 * sum(0.0254 / n for n in threads), 9)

    def test_what_is_turned_is_told_in_the_bays_of_what_it_moves_as_work(self):
        at = f"{AT}/controls/elevator/linkage"
        version = self.as_("ansel").get(at).json()["version"]
        body = {"version": version, "changes": {"mid": 2}, "note": "a turn out"}
        self.assertEqual(self.write("ansel", f"{at}/adjustments", body).status_code, 201)
        told = Change.objects.filter(kind="rigging", link="controls/elevator/linkage").latest("pk")
        self.assertTrue(told.work)
        self.assertTrue(told.bays)

    def test_a_joint_s_long_name_is_cut_as_long_as_names_are(self):
        aircraft = Aircraft.objects.get(slug="fenlark")
        long = WantedJoint("Guard " + "x" * 100, "part", "rudder", (4.9, 0.0, 0.3))
        for _ in range(2):
            joints().keep(aircraft, Person.objects.get(slug="ansel"), [long])
        self.assertEqual(Joint.objects.filter(name=long.name[:80]).count(), 1)

    def test_a_linkage_kept_as_it_is_changes_no_rod_and_no_stop(self):
        at = f"{AT}/controls/elevator/linkage"
        m = Mechanism.objects.get(control__slug="elevator", aircraft__slug="fenlark")
        versions = lambda: [
            list(model.objects.filter(mechanism=m).order_by("pk").values_list("slug", "version"))
            for model in (Rod, Stop)
        ]
        shown, before = self.as_("ansel").get(at).json(), versions()
        document = shown["document"]
        for change in (None, 0.004):
            if change:
                document["stops"][0]["at"] += change
            body = {"version": shown["version"], "document": document}
            answer = self.write("ansel", at, body, method="put")
            self.assertEqual(answer.status_code, 200, answer.content[:300])
            shown = answer.json()
            if change is None:
                self.assertEqual(versions(), before)
        after = versions()
        self.assertEqual(after[0], before[0])
        more = [a[1] - b[1] for a, b in zip(after[1], before[1], strict=True)]
        self.assertEqual(sorted(more), [0] * (len(more) - 1) + [1])


class Reasons(Writing):
    def test_the_inputs_of_a_verdict_give_its_value_by_hand(self):
        """Readings from a level, neutral not at zero: mean times sensitivity and offset."""
        level = self.instrument("Digital level")
        for position, value in (("neutral", "1.5; 1.7"), ("down_stop", "-16.2; -16.4")):
            body = {
                "surface": "elevator", "position": position, "method": "gauge_difference",
                "value": value, "zero": "level", "skin": "upper", "instrument": level,
            }  # fmt: skip
            self.post("controls/elevator/readings", body)
        tried = 0
        for asked in self.get("controls/elevator")["requirements"]:
            for one in asked["result"]["sets"]:
                if not one["why"] or one["value_deg"] is None:
                    continue
                i = one["why"]["inputs"]
                mean = sum(i["readings"]) / len(i["readings"])
                y = mean * i["sensitivity"] + i["offset"]
                self.assertAlmostEqual(y, one["value_deg"], 9)
                self.assertAlmostEqual(rule("controls.verdict").run(i)["y"], y, 9)
                tried += abs(i["offset"]) > 0.1
        self.assertGreaterEqual(tried, 1)


class Origins(TestCase):
    def test_without_a_reading_at_neutral_its_angle_is_the_surface_s_own(self):
        row = SimpleNamespace(
            taken_by=SimpleNamespace(name="Ansel"), taken_at=datetime(2026, 3, 4, tzinfo=UTC),
            as_typed="171", instrument_was={"name": "Level"},
        )  # fmt: skip
        surface = SimpleNamespace(
            positive="trailing_edge_up", neutral_included_rad=3.1, u_neutral_included_rad=0.01
        )
        for neutral, origin in (((), SURFACE), ((3.1,), "the readings at neutral")):
            s = ReadingSet("included_angle", (2.98,), 0.002, 0.001, neutral=neutral, skin="upper")
            found = method_why(surface, SimpleNamespace(core=s, rows=[row]))
            self.assertEqual(found["origins"]["neutral_included_deg"], origin)
            self.assertEqual(found["origins"]["included_deg"], "typed 171; Ansel 2026-03-04")
