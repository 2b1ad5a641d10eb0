"""What holds of every trade alike: checks kept are checks judged, dates pass, marks are settled."""

from datetime import date, timedelta
from unittest import mock

from django.db import transaction

from core.basis.checks import STEPS, Check, Later, state_of
from core.basis.verdicts import Verdict
from server.kit import dirty, standing
from server.kit.models import Check as Row
from server.kit.trade import trades
from testkit.base import OnTheDemo

TODAY = date(2027, 3, 1)


class Calendar(OnTheDemo):
    """What the calendar alone makes of a check."""

    tampered = True

    def kept(self, **more):
        row = Row.objects.filter(aircraft=self.fenlark, trade="joints").first()
        values = {
            "aircraft": self.fenlark, "trade": row.trade, "subject": "made-up", "key": "k",
            "concern": "made up", "what": "oil hose", "said": "", "verdict": "in", "step": "task",
            "state": "done", "bays": ["nose"], "quiet": False, "rank": 1, "order": 1, "place": 0,
        }  # fmt: skip
        return Row.objects.create(**(values | more))

    def concern(self, today):
        with mock.patch.object(standing, "date") as clock:
            clock.today.return_value = today
            found = [c for c in standing.concerns(self.fenlark.pk) if c.id == "made up"]
        return found[0] if found else None

    def later(self, *days):
        words = ("due soon", "overdue")
        return [
            {
                "on": (TODAY + timedelta(days=d)).isoformat(), "state": w,
                "verdict": "too close" if w == "due soon" else "out", "what": f"oil hose {w}",
            }
            for d, w in zip(days, words, strict=False)
        ]  # fmt: skip

    def test_a_day_makes_of_a_check_what_was_said_it_would(self):
        self.kept(later=self.later(0, 10), due_on=TODAY)
        for day, state, verdict in (
            (-1, "done", Verdict.IN), (0, "due soon", Verdict.TOO_CLOSE),
            (9, "due soon", Verdict.TOO_CLOSE), (10, "overdue", Verdict.OUT), (99, "overdue", Verdict.OUT),
        ):  # fmt: skip
            one = self.concern(TODAY + timedelta(days=day))
            self.assertEqual((one.state, one.verdict), (state, verdict), day)

    def test_a_quiet_check_is_heard_only_when_its_day_comes(self):
        self.kept(quiet=True, later=self.later(5), due_on=TODAY + timedelta(days=5))
        self.assertIsNone(self.concern(TODAY))
        self.assertEqual(self.concern(TODAY + timedelta(days=5)).state, "due soon")

    def test_a_quiet_check_that_does_not_pass_is_heard_at_once(self):
        self.kept(quiet=True, verdict="out", state="open")
        self.assertFalse(self.concern(TODAY).passes)

    def test_the_counts_of_the_list_follow_the_calendar_too(self):
        self.kept(later=self.later(0, 10), due_on=TODAY)

        def counted(day):
            with mock.patch.object(standing, "date") as clock:
                clock.today.return_value = TODAY + timedelta(days=day)
                return standing.counts([self.fenlark.pk])[self.fenlark.pk]

        before, soon, late = counted(-1), counted(0), counted(10)
        self.assertEqual(soon["too close"], before["too close"] + 1)
        self.assertEqual(soon["in"], before["in"] - 1)
        self.assertEqual(late["out"], before["out"] + 1)

    def test_nobody_s_concern_is_the_builder_s(self):
        self.kept(owner="")
        self.assertEqual(self.concern(TODAY).owner, "Ansel Tarnfield")
        Row.objects.filter(subject="made-up").update(owner="Ines Calloway")
        self.assertEqual(self.concern(TODAY).owner, "Ines Calloway")

    def test_of_whom_it_is_stands_before_what_it_is(self):
        self.kept(about="Rudder")
        self.assertEqual(self.concern(TODAY).subject, "Rudder, oil hose")


class Checks(OnTheDemo):
    def test_a_check_on_a_day_is_what_the_kept_row_says(self):
        later = (
            Later(TODAY, "due soon", Verdict.TOO_CLOSE),
            Later(TODAY + timedelta(days=10), "overdue", Verdict.OUT, "hose overdue"),
        )
        check = Check("k", "hose", "", Verdict.IN, step="task", later=later)
        self.assertEqual(check.on(TODAY - timedelta(days=1)), ("hose", "done", Verdict.IN))
        self.assertEqual(check.on(TODAY), ("hose", "due soon", Verdict.TOO_CLOSE))
        last = check.on(TODAY + timedelta(days=10))
        self.assertEqual(last, ("hose overdue", "overdue", Verdict.OUT))

    def test_the_word_of_a_step_is_its_passing_word_or_the_verdict_s(self):
        for step, passing in STEPS.items():
            self.assertEqual(state_of(step, Verdict.IN), passing[0])
            for verdict in Verdict:
                if verdict is not Verdict.IN:
                    self.assertEqual(state_of(step, verdict), verdict.value)

    def test_changes_by_the_calendar_stand_in_their_order_without_those_that_have_no_day(self):
        found = standing.later(
            (TODAY, "b", Verdict.OUT, ""), (None, "c", Verdict.OUT, ""),
            (TODAY - timedelta(days=3), "a", Verdict.TOO_CLOSE, ""),
        )  # fmt: skip
        self.assertEqual([x.state for x in found], ["a", "b"])


class Marks(OnTheDemo):
    """What changed is judged anew once, and a change that is taken back never."""

    tampered = True

    def tearDown(self):
        dirty.forget()
        super().tearDown()

    def test_marks_of_one_trade_are_settled_together_and_gone(self):
        dirty.mark(1, "joints", "a")
        dirty.mark(1, "joints", "b")
        dirty.mark(1, "joints", "a")
        dirty.mark(2, "cables")
        self.assertEqual(dirty.taken(), {(1, "joints"): {"a", "b"}, (2, "cables"): {""}})
        self.assertEqual(dirty.taken(), {})

    def test_what_was_taken_back_is_forgotten(self):
        dirty.mark(1, "joints", "a")
        dirty.forget()
        self.assertEqual(dirty.taken(), {})

    def test_a_row_that_went_out_of_its_trade_s_judging_is_taken_away(self):
        row = Row.objects.filter(aircraft=self.fenlark, trade="joints").first()
        Row.objects.filter(pk=row.pk).update(subject="nowhere", said="left over")
        self.assertTrue(standing.differences(self.fenlark.pk))
        standing.keep_all(self.fenlark.pk)
        self.assertEqual(standing.differences(self.fenlark.pk), [])
        self.assertFalse(Row.objects.filter(said="left over").exists())

    def test_every_field_that_a_check_holds_is_compared(self):
        row = Row.objects.filter(aircraft=self.fenlark, trade="joints", quiet=False).first()
        for name, value in (
            ("what", "another"), ("said", "another"), ("verdict", "accepted"), ("step", "finding"),
            ("state", "odd"), ("bays", ["attic"]), ("owner", "nobody at all"), ("link", "elsewhere"),
            ("quiet", True), ("rule", "no.rule"), ("edition", 99), ("inputs", {"a": 1}),
            ("due_on", TODAY), ("concern", "another"), ("about", "another"), ("part", "x"), ("side", "Q"),
            ("place", 77), ("rank", 77), ("order", 77), ("closure", "lid"), ("later", [1]),
        ):  # fmt: skip
            with self.subTest(name=name), transaction.atomic():
                Row.objects.filter(pk=row.pk).update(**{name: value})
                told = standing.differences(self.fenlark.pk)
                self.assertTrue(any(f": {name} is " in line for line in told), told)
                standing.keep(self.fenlark.pk, "joints")
                self.assertEqual(standing.differences(self.fenlark.pk), [])

    def test_judging_part_of_a_trade_leaves_the_rest_alone(self):
        rows = Row.objects.filter(aircraft=self.fenlark, trade="joints")
        one, other = rows.order_by("subject").values_list("subject", flat=True).distinct()[:2]
        rows.update(said="old word")
        standing.keep(self.fenlark.pk, "joints", [one])
        self.assertFalse(rows.filter(subject=one, said="old word").exists())
        self.assertTrue(rows.filter(subject=other, said="old word").exists())


class Trades(OnTheDemo):
    def test_keys_are_unique_within_their_subject_and_concerns_within_an_aircraft(self):
        for name, trade in trades().items():
            for judged in trade.judge(self.fenlark.pk, None):
                keys = [c.key for c in judged.checks]
                self.assertEqual(len(keys), len(set(keys)), (name, judged.subject))
        named = [(c.id, c.closure) for c in standing.concerns(self.fenlark.pk)]
        self.assertEqual(len(named), len(set(named)))

    def test_every_check_lies_in_a_bay_that_there_is_and_leads_to_a_page(self):
        bays = {b.slug for b in self.fenlark.bays.all()} if hasattr(self.fenlark, "bays") else None
        for row in Row.objects.filter(aircraft=self.fenlark):
            self.assertIn(row.step, STEPS)
            self.assertIn(row.verdict, {v.value for v in Verdict})
            if bays is not None:
                self.assertLessEqual(set(row.bays), bays)

    def test_judging_one_subject_says_of_it_what_judging_all_says(self):
        for name, trade in trades().items():
            every = {j.subject: j.checks for j in trade.judge(self.fenlark.pk, None)}
            for subject in list(every)[:3]:
                alone = {j.subject: j.checks for j in trade.judge(self.fenlark.pk, [subject])}
                with self.subTest(trade=name, subject=subject):
                    self.assertEqual(alone.get(subject), every[subject])

    def test_a_subject_that_is_not_there_says_nothing(self):
        for name, trade in trades().items():
            if name in ("reach", "bays"):
                continue  # Judged as a whole: what one closing loses another may give.
            found = [j for j in trade.judge(self.fenlark.pk, ["999999"]) if j.checks]
            self.assertEqual(found, [], name)
