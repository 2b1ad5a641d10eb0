"""Two aircraft are two worlds: nothing of one is read or written from the other, in any role."""

import json
import uuid

from django.apps import apps
from django.test import Client

from server.accounts.models import Person, User
from server.aircraft.access import MAY
from server.aircraft.models import Aircraft, Member
from server.journal.models import Change
from server.kit.models import Check
from server.signoff.models import LedgerEntry
from server.tests.every_write import WRITES, filled
from server.tests.test_every_write import EveryWrite
from testkit.contract import PLACES, UNKNOWN, operations

# A part of an address that is the same for everyone, and is nobody's own.
COMMON = {"slug", "which", "kind", "rule", "token", "scope", "made", "listed", "paper"}
FOREIGN = ("{level}", "{gauge}", "{source}", "{nut}", "{directive}", "{travel}")


def rows_of(aircraft):
    """How many rows of every table lie under an aircraft, by whatever way leads to it."""
    counts = {}
    for model in apps.get_models():
        for field in model._meta.fields:
            if field.related_model is Aircraft:
                counts[model.__name__] = model.objects.filter(**{field.name: aircraft}).count()
    return counts


class Apart(EveryWrite):
    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        cls.elsewhere = Aircraft.objects.create(
            slug="elsewhere", name="Elsewhere", outline=cls.fenlark.outline
        )
        for role in MAY:
            who = Person.objects.create(slug=f"{role}-there", name=f"{role} there")
            Member.objects.create(aircraft=cls.elsewhere, person=who, role=role)
            User.objects.create(username=who.slug, person=who)
        # What only the Fenlark has, and what its people wrote.
        # A check's words are the product's own, but for the names of things, which have rows.
        names = []
        for model in (m for m in apps.get_models() if m is not Check):
            if any(f.related_model is Aircraft for f in model._meta.fields):
                for field in ("name", "text", "what", "title"):
                    if any(f.name == field for f in model._meta.fields):
                        mine = model.objects.filter(aircraft=cls.fenlark)
                        names += mine.values_list(field, flat=True)
        cls.names = sorted({n for n in names if len(n) > 9})

    def signed_in(self, who):
        client = Client(raise_request_exception=False)
        client.force_login(
            User.objects.get(username=who), backend="django.contrib.auth.backends.ModelBackend"
        )
        return client

    def sent_by(self, client, op, address):
        if op.method == "get":
            return client.get(address)
        send, headers = getattr(client, op.method), {"Idempotency-Key": uuid.uuid4().hex}
        body = json.dumps({UNKNOWN: 1})
        return send(address, body, content_type="application/json", headers=headers)

    def test_no_role_on_one_aircraft_reads_or_writes_anything_of_another(self):
        self.assertGreater(len(self.names), 40)
        before, asked, refused = rows_of(self.fenlark), 0, 0
        for role in MAY:
            client = self.signed_in(f"{role}-there")
            for op in operations():
                if not op.of_aircraft:
                    continue
                own = {n for n in PLACES if f"{{{n}}}" in op.path} - COMMON
                # Theirs by its own address, and through the address of the other aircraft.
                for slug in ("fenlark", "elsewhere"):
                    with self.subTest(role=role, op=op.name, slug=slug):
                        got = self.sent_by(client, op, op.at(slug=slug))
                        asked += 1
                        refused += got.status_code in (403, 404)
                        if slug == "fenlark":
                            self.assertEqual(got.status_code, 404)
                        elif own:
                            self.assertIn(got.status_code, (403, 404, 422))
                        if not got.streaming:
                            text = got.content.decode(errors="replace")
                            told = [n for n in self.names if n in text]
                            self.assertEqual(told, [])
        self.assertEqual(rows_of(self.fenlark), before)
        # So many askings there were; most are refused for want of the aircraft or its thing.
        self.assertGreater(asked, 700)
        self.assertGreater(refused, asked * 0.7)

    def test_a_thing_of_one_aircraft_is_not_used_in_a_write_on_another(self):
        before = rows_of(self.fenlark), Change.objects.count(), LedgerEntry.objects.count()
        tried = 0
        for one in WRITES:
            if not any(name in json.dumps([one.path, one.body]) for name in FOREIGN):
                continue
            ids = self.ids()
            path = f"/api/aircraft/moorhen/{filled(one.path, ids)}"
            body = filled(one.body, ids)
            with self.subTest(write=one.name):
                got = self.write("corin", path, body, method=one.method)
                tried += 1
                self.assertIn(got.status_code, (404, 422), got.content[:300])
        self.assertGreaterEqual(tried, 8)
        after = rows_of(self.fenlark), Change.objects.count(), LedgerEntry.objects.count()
        self.assertEqual(after, before)
