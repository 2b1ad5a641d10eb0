"""The kit keeps its promises: no write goes untold, what is kept is what judging says."""

from dataclasses import replace
from datetime import date, timedelta
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.db import transaction

from core.basis.verdicts import Verdict
from core.signoff.closing import Lot
from server.closing.frame import frame
from server.controls.models import Requirement
from server.hardware.models import Joint
from server.kit import standing
from server.kit.models import Check, JudgedBy
from server.kit.trade import trades
from testkit.base import ELEVATOR, OnTheDemo


class Untold(OnTheDemo):
    def test_a_write_that_the_journal_does_not_tell_fails_and_leaves_nothing(self):
        before = self.sheet()["readings"]
        with (
            mock.patch("server.kit.writing.journal.lines", return_value=3),
            self.assertRaisesRegex(AssertionError, "journal does not tell"),
            transaction.atomic(),
        ):
            self.write("ansel", f"{ELEVATOR}/readings", self.reading("-18.6"))
        self.assertEqual(self.sheet()["readings"], before)


class Kept(OnTheDemo):
    tampered = True

    def verified(self, *options):
        out = StringIO()
        try:
            call_command("verify_checks", "fenlark", *options, stdout=out)
        except SystemExit as end:
            return end.code, out.getvalue()
        return 0, out.getvalue()

    def test_what_was_changed_behind_its_back_is_named_and_mended(self):
        self.assertEqual(self.verified(), (0, "0 differences\n"))
        row = Check.objects.filter(aircraft=self.fenlark, verdict="out").first()
        Check.objects.filter(pk=row.pk).update(verdict="in")
        gone = Check.objects.filter(aircraft=self.fenlark).exclude(pk=row.pk).last()
        Check.objects.filter(pk=gone.pk).delete()
        code, said = self.verified()
        self.assertEqual(code, 1)
        self.assertIn(
            f"{row.trade} {row.subject} {row.key}: verdict is 'in', should be 'out'", said
        )
        self.assertIn(f"{gone.trade} {gone.subject} {gone.key}: is not kept", said)
        self.assertIn("mended", self.verified("--mend")[1])
        self.assertEqual(self.verified(), (0, "0 differences\n"))

    def test_another_program_judges_everything_anew_when_it_starts_and_the_same_does_not(self):
        call_command("prepare", stdout=StringIO())
        row = Check.objects.filter(aircraft=self.fenlark, verdict="out").first()
        Check.objects.filter(pk=row.pk).update(verdict="in")
        call_command("prepare", stdout=StringIO())
        self.assertEqual(Check.objects.get(pk=row.pk).verdict, "in")
        JudgedBy.objects.update(digest="another")
        call_command("prepare", stdout=StringIO())
        self.assertEqual(Check.objects.get(pk=row.pk).verdict, "out")

    def test_a_saved_row_puts_its_own_subject_in_question_and_no_other(self):
        joint = Joint.objects.filter(aircraft=self.fenlark).order_by("slug").first()
        asked = []
        trade = trades()["joints"]

        def judge(aircraft, subjects):
            asked.append(subjects)
            return trade.judge(aircraft, subjects)

        with mock.patch.dict("server.kit.trade._trades", joints=replace(trade, judge=judge)):
            joint.name = f"{joint.name} again"
            joint.save()
            standing.settle()
        self.assertEqual([set(s) for s in asked], [{joint.slug}])
        self.assertEqual(standing.differences(self.fenlark.pk), [])

    def test_what_the_calendar_makes_of_a_check_is_told_from_its_day_on(self):
        row = Check.objects.filter(aircraft=self.fenlark, verdict="in", due_on=None, quiet=True)[0]
        day = date.today() + timedelta(days=3)
        told = {"on": day.isoformat(), "state": "out", "verdict": "out", "what": "over its day"}
        Check.objects.filter(pk=row.pk).update(due_on=day, later=[told])

        def listed(on):
            with mock.patch("server.kit.standing.date", wraps=date) as today:
                today.today.return_value = on
                return {c.id: c for c in standing.concerns(self.fenlark.pk)}.get(row.concern)

        self.assertIsNone(listed(day - timedelta(days=1)))
        self.assertEqual(listed(day).verdict, Verdict.OUT)
        self.assertIn("over its day", listed(day).subject)

    def test_the_frame_of_an_aircraft_takes_six_queries_at_most(self):
        who = self.fenlark.members.select_related("aircraft", "person").get(role="owner")
        with self.assertNumQueries(6):
            frame(who)

    def test_counts_of_the_list_are_those_of_the_concerns(self):
        lot = Lot(standing.concerns(self.fenlark.pk))
        counted = standing.counts([self.fenlark.pk])[self.fenlark.pk]
        mine = [c for c in lot.concerns if not c.closure]
        for verdict in ("out", "too close"):
            want = sum(1 for c in mine if c.verdict.value == verdict)
            self.assertEqual(counted[verdict], want)
        self.assertTrue(Requirement.objects.filter(control__aircraft=self.fenlark).exists())
