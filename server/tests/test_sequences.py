"""Things done to joints, readings and cables in any order: the same as a plain model says."""

import random

from core.basis.refused import Refused
from core.hardware.joint import Joint, joint_state
from server.hardware.models import Joint as Row
from server.hardware.models import JointEvent
from server.journal.models import Change
from server.tests.own import OwnPlane, Writing

DOINGS = (
    "installed", "run down", "torqued", "safetied", "sealed", "loosened", "disturbed", "mark broken",
)  # fmt: skip


class Joints(OwnPlane):
    def joint(self, **more):
        return self.post("joints", {"name": f"Bolt {Row.objects.count()}", "bay": "nose", **more})

    def did(self, slug, doing):
        return self.write("ansel", self.at(f"joints/{slug}/events"), {"doing": doing})

    def test_any_order_of_events_gives_a_state_that_the_rule_knows_or_is_refused_whole(self):
        chance = random.Random(3)
        for device, witness in (("cotter", True), ("none", False), ("self_locking", True)):
            slug = self.joint(device=device, witness_needed=witness)["slug"]
            for _ in range(14):
                doing = chance.choice(DOINGS)
                before = self.get(f"joints/{slug}")
                count = JointEvent.objects.filter(joint__slug=slug).count()
                answer = self.did(slug, doing)
                if answer.status_code != 201:
                    self.assertEqual(answer.status_code, 422)
                    self.assertEqual(self.get(f"joints/{slug}"), before)
                    self.assertEqual(JointEvent.objects.filter(joint__slug=slug).count(), count)
                    continue
                shown = answer.json()
                self.assertIn(
                    shown["state"],
                    ("finger-tight", "snug", "torqued", "safetied", "sealed", "open"),
                )
                # Nothing flies that is not torqued, or whose mark is broken.
                words = " ".join(shown["why"])
                if shown["state"] in ("open", "finger-tight", "snug"):
                    self.assertIn("not torqued", words)
                if doing == "disturbed" and shown["state"] not in ("open", "finger-tight", "snug"):
                    self.assertIn("disturbed since torque", words)
                if doing == "mark broken":
                    self.assertIn("witness mark broken", words)
                if doing == "loosened":
                    self.assertIn("not torqued", words)

    def test_what_cannot_follow_by_the_rule_is_refused_by_the_page(self):
        for device, witness in (("cotter", True), ("none", True)):
            for first in ("", "run down", "torqued"):
                for then in ("safetied", "sealed"):
                    slug = self.joint(device=device, witness_needed=witness)["slug"]
                    if first:
                        self.assertEqual(self.did(slug, first).status_code, 201)
                    torqued = first == "torqued"
                    try:
                        joint_state(
                            Joint(
                                True, bool(first), torqued, device == "cotter", then == "safetied",
                                witness, "whole" if then == "sealed" else "none",
                            )
                        )  # fmt: skip
                        allowed = True
                    except Refused:
                        allowed = False
                    with self.subTest(device=device, first=first, then=then):
                        got = self.did(slug, then).status_code
                        self.assertEqual(got == 201, allowed)

    def test_doing_and_taking_back_equals_nothing_but_stays_in_the_record(self):
        for doing in ("run down", "torqued", "disturbed", "loosened"):
            slug = self.joint(device="cotter", witness_needed=True)["slug"]
            self.did(slug, "torqued")
            before = self.get(f"joints/{slug}")
            event = self.did(slug, doing).json()["events"][-1]["id"]
            after = self.post(f"joints/{slug}/undo", {"event": event})
            with self.subTest(doing=doing):
                for key in ("state", "why", "verdict", "temporary"):
                    # What loosening left open stays a loose end until somebody ends it.
                    if doing != "loosened" or key == "state":
                        self.assertEqual(after[key], before[key], key)
                self.assertEqual(len(after["events"]), len(before["events"]) + 1)
                again = self.write("ansel", self.at(f"joints/{slug}/undo"), {"event": event})
                self.assertEqual(again.status_code, 422)

    def test_torque_is_read_in_every_unit_and_refused_in_any_other(self):
        slug = self.joint(torque="5 to 8 Nm", device="none")["slug"]
        for value, fine in (
            ("60 in-lb", True), ("6,8 Nm", True), ("5 ft-lb", True), ("60", True), ("0 Nm", False),
            ("-3 Nm", False), ("60 mm", False), ("tight", False), ("", True),
        ):  # fmt: skip
            answer = self.write(
                "ansel", self.at(f"joints/{slug}/events"), {"doing": "torqued", "value": value}
            )
            with self.subTest(value=value):
                self.assertEqual(answer.status_code == 201, fine, answer.content[:200])
                if not fine:
                    self.assertEqual(answer.json()["field"], "value")
        for doing in ("run down", "safetied"):
            lone = {"doing": doing, "value": "60 in-lb"}
            answer = self.write("ansel", self.at(f"joints/{slug}/events"), lone)
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, "value"))

    def test_every_event_is_one_line_of_the_journal_with_hands_in_its_bay(self):
        slug = self.joint(device="cotter")["slug"]
        for doing in ("run down", "torqued", "safetied", "disturbed"):
            last = Change.objects.order_by("-pk").first().pk
            self.did(slug, doing)
            (line,) = Change.objects.filter(pk__gt=last, kind="joint")
            self.assertEqual((line.bays, line.work), (["nose"], True))
            self.assertIn(slug.replace("-", " ").capitalize(), line.said)


class Readings(Writing):
    """Readings of a surface in any order, corrected and withdrawn, mean what stands."""

    PATH = "controls/elevator"

    def keep(self, value, position="down_stop"):
        body = self.reading(value, position)
        return self.post(f"{self.PATH}/readings", body)

    def standing(self, sheet, position="down_stop"):
        return [
            r for r in sheet["readings"]
            if r["position"] == position and r["current"] and not r["withdrawn"]
        ]  # fmt: skip

    def test_corrections_and_withdrawals_leave_exactly_what_stands(self):
        chance = random.Random(9)
        sheet = self.keep("-18.6; -18.7; -18.5; -18.65")
        for n in range(8):
            rows = self.standing(sheet)
            old = chance.choice(rows)
            withdraw = chance.random() < 0.4
            body = {
                "value": "" if withdraw else f"-18.{50 + n}",
                "withdraw": withdraw,
                "reason": "read again",
            }
            self.post(f"readings/{old['id']}/corrections", body)
            sheet = self.get(self.PATH)
            after = self.standing(sheet)
            ids = {r["id"] for r in after}
            self.assertNotIn(old["id"], ids)
            self.assertEqual(len(after), len(rows) - withdraw)
            # The old row stays where it can be seen, and is not corrected twice.
            kept = next(r for r in sheet["readings"] if r["id"] == old["id"])
            self.assertEqual((kept["as_typed"], kept["current"]), (old["as_typed"], False))
            self.post(f"readings/{old['id']}/corrections", body | {"value": "-1"}, status=409)
        result = next(
            q["result"] for q in sheet["requirements"]
            if q["position"] == "down_stop" and q["kind"] == "travel"
        )  # fmt: skip
        ids = {i for s in result["sets"] for i in s["readings"]}
        self.assertEqual(ids, {r["id"] for r in self.standing(sheet)})

    def test_several_on_one_line_are_the_same_as_one_by_one(self):
        def value(sheet):
            q = next(
                q for q in sheet["requirements"]
                if q["position"] == "up_stop" and q["kind"] == "travel"
            )  # fmt: skip
            return q["result"]["value"], q["result"]["U"], q["result"]["verdict"]

        before = self.get(self.PATH)
        for r in self.standing(before, "up_stop"):
            self.post(
                f"readings/{r['id']}/corrections",
                {"value": "", "withdraw": True, "reason": "again"},
            )
        together = value(self.keep("26.4; 26.5; 26.3", "up_stop"))
        for r in self.standing(self.get(self.PATH), "up_stop"):
            self.post(
                f"readings/{r['id']}/corrections",
                {"value": "", "withdraw": True, "reason": "again"},
            )
        for one in ("26.3", "26.4", "26.5"):
            sheet = self.keep(one, "up_stop")
        alone = value(sheet)
        self.assertAlmostEqual(together[0], alone[0], 9)
        self.assertAlmostEqual(together[1], alone[1], 9)
        self.assertEqual(together[2], alone[2])

    def test_the_same_angle_in_another_unit_is_the_same_reading(self):
        first = self.keep("-18.6", "down_stop")["readings"][-1]["value"]
        for typed in ("-18° 36'", "-18,6", "−18.6°", "-0.324631 rad"):
            again = self.keep(typed, "down_stop")["readings"][-1]["value"]
            self.assertAlmostEqual(again, first, 4, typed)


class Turns(Writing):
    """Turning there and back, and taking back, leave a cable's thread as it was."""

    RUDDER = "controls/rudder/cables"

    def showing(self):
        return {s["side"]: s["showing"] for s in self.get(self.RUDDER)["sides"]}

    def turn(self, **turns):
        return self.post(f"{self.RUDDER}/events", {"doing": "turned", "typed": turns})

    def test_there_and_back(self):
        before = self.showing()
        self.turn(A="0.5", B="-0.5")
        between = self.showing()
        self.assertEqual(between["A"], [x - 0.5 for x in before["A"]])
        self.assertEqual(between["B"], [x + 0.5 for x in before["B"]])
        self.turn(A="-0.5", B="0.5")
        self.assertEqual(self.showing(), before)

    def test_taken_back_is_as_if_never_done_and_no_reading_comes_back_wrong(self):
        def seen():
            page = self.get(self.RUDDER)
            return self.showing(), {c["key"]: c["verdict"] for c in page["checks"]}

        before = seen()
        event = self.turn(A="0.5")["events"][0]["id"]
        self.assertNotEqual(seen(), before)
        self.post(f"{self.RUDDER}/events/{event}/undo", {})
        self.assertEqual(seen(), before)

    def test_a_step_of_the_rigging_is_undone_by_a_turn_and_not_by_looking(self):
        def done():
            return {s["step"] for s in self.get(self.RUDDER)["steps"] if s["done"]}

        self.post(f"{self.RUDDER}/events", {"doing": "step", "typed": {"step": "stops set"}})
        held = done()
        self.assertIn("stops set", held)
        self.post(
            f"{self.RUDDER}/events",
            {"doing": "inspected", "side": "A", "typed": {"found": "nothing", "fit": "yes"}},
        )
        self.assertEqual(done(), held)
        self.turn(A="0.5")
        self.assertNotIn("stops set", done())
