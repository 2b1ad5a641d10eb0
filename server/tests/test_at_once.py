"""Several people at once: nothing is lost, nothing is kept twice, the chain stays whole."""

import threading
import uuid

from django.db import connection
from django.test import TransactionTestCase, override_settings

from server.aircraft.models import Aircraft
from server.controls.models import Reading
from server.record.models import LooseEnd
from server.signoff.ledger import check
from server.signoff.models import FactRevision, LedgerEntry
from testkit.base import ELEVATOR, PASSWORD, OnTheDemo
from testkit.database import ON_THE_DEMO, mark_used, renew

REFUSE = "/api/aircraft/fenlark/signatures/control:elevator"


@override_settings(**ON_THE_DEMO)
class AtOnce(TransactionTestCase):
    as_, write, instrument, reading = (
        OnTheDemo.as_,
        OnTheDemo.write,
        OnTheDemo.instrument,
        OnTheDemo.reading,
    )

    @classmethod
    def _pre_setup(cls):
        renew()
        mark_used()
        super()._pre_setup()

    def _fixture_teardown(self):
        """Nothing is emptied: the next test gets a clone."""

    def setUp(self):
        self.fenlark = Aircraft.objects.get(slug="fenlark")

    def together(self, *jobs):
        """Run all jobs at the same moment; their answers' statuses, sorted."""
        ready = threading.Barrier(len(jobs))
        statuses = []

        def run(job):
            try:
                ready.wait()
                statuses.append(job().status_code)
            finally:
                connection.close()

        threads = [threading.Thread(target=run, args=(job,)) for job in jobs]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        return sorted(statuses)

    def test_the_same_write_sent_twice_at_once_is_kept_once(self):
        before, body, key = Reading.objects.count(), self.reading("-18.5"), uuid.uuid4().hex
        job = lambda: self.write("ansel", f"{ELEVATOR}/readings", body, key=key)
        self.assertEqual(self.together(job, job, job), [201, 201, 201])
        self.assertEqual(Reading.objects.count(), before + 1)

    def test_readings_of_several_people_at_once_are_all_kept_with_their_revisions(self):
        before = Reading.objects.count()
        body = self.reading("-18.5")
        jobs = [
            lambda p=p: self.write(p, f"{ELEVATOR}/readings", body)
            for p in ("ansel", "ines", "odile", "ansel", "ines")
        ]
        self.assertEqual(self.together(*jobs), [201] * 5)
        self.assertEqual(Reading.objects.count(), before + 5)
        self.assertEqual(check(self.fenlark)["faults"], [])

    def test_two_corrections_at_once_keep_one_and_show_the_other_both_sides(self):
        old = Reading.objects.filter(surface__slug="elevator", position="down_stop").first()
        path = f"/api/aircraft/fenlark/readings/{old.pk}/corrections"
        jobs = [
            lambda p=p, v=v: self.write(p, path, {"value": v, "reason": "misread it"})
            for p, v in (("ansel", "-18.4"), ("ines", "-18.6"))
        ]
        self.assertEqual(self.together(*jobs), [201, 409])
        self.assertEqual(Reading.objects.filter(corrects=old).count(), 1)

    def test_work_in_a_bay_that_is_being_inspected_and_closed_at_once_keeps_its_revisions(self):
        at = "/api/aircraft/fenlark"
        look = lambda: self.as_("odile").get(f"{at}/signatures/bay:aft-fuselage")
        self.assertEqual(look().status_code, 200)
        end = LooseEnd.objects.get(what="Cotter pin left out")
        joint = f"{at}/joints/elevator-bellcrank-bolt/events"
        jobs = [
            look,
            lambda: self.write("ansel", joint, {"doing": "safetied"}),
            lambda: self.write("ines", f"{at}/loose-ends/{end.pk}/end", {"how": "pin is in"}),
            lambda: self.write(
                "ines", f"{at}/joints/rudder-cable-fairlead/events", {"doing": "sealed"}
            ),
            lambda: self.write("odile", f"{at}/findings", {"text": "rag", "bay": "aft-fuselage"}),
            look,
        ]
        for status in self.together(*jobs):
            self.assertIn(status, (200, 201))
        self.assertEqual(check(self.fenlark)["faults"], [])

    def test_ledger_entries_written_at_once_stand_in_one_chain(self):
        body = {
            "doing": "refuse",
            "password": PASSWORD["odile"],
            "reason": "not safetied yet, see photo",
        }
        jobs = [lambda: self.write("odile", REFUSE, body) for _ in range(4)]
        self.assertEqual(self.together(*jobs), [201] * 4)
        seqs = list(LedgerEntry.objects.filter(aircraft=self.fenlark).values_list("seq", flat=True))
        self.assertEqual(seqs, list(range(1, 7)))
        self.assertTrue(check(self.fenlark)["ok"])
        self.assertTrue(FactRevision.objects.exists())
