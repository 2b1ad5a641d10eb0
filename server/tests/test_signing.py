"""Signing through the API, and every way a record can be tampered with is found and named."""

import io
from datetime import UTC, datetime, timedelta

from axes.models import AccessAttempt
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction
from pypdf import PdfReader

from server.signoff.models import FactRevision, LedgerEntry
from testkit.base import ELEVATOR, PASSWORD, OnTheDemo

SIGN = "/api/aircraft/fenlark/signatures/control:elevator"
CHECK = "/api/aircraft/fenlark/ledger/check"


class Signing(OnTheDemo):
    def sign(self, person, doing, **more):
        return self.write(person, SIGN, {"doing": doing, "password": PASSWORD[person]} | more)

    def signed(self):
        self.mend_elevator()
        self.assertEqual(self.sign("ansel", "done").status_code, 201)
        return self.sign("odile", "inspected").json()

    def tamper(self, statement, args=()):
        with connection.cursor() as c:
            # As one who owns the database can: past the append-only triggers.
            c.execute("SET LOCAL session_replication_role = replica")
            c.execute(statement, args)
            self.assertEqual(c.rowcount, 1)
            c.execute("SET LOCAL session_replication_role = origin")

    def check(self, **witness):
        found = self.write("odile", CHECK, witness).json()
        return found["ok"], "; ".join(f"{f['where']}: {f['fault']}" for f in found["faults"])

    def test_nobody_signs_what_is_not_in_not_seen_or_their_own_work(self):
        self.assertIn("Not everything is in", self.sign("ansel", "done").json()["reason"])
        reading = self.reading("-18.6; -18.55; -18.6; -18.6")
        self.write("ansel", f"{ELEVATOR}/readings", reading)
        self.assertIn("sense check", self.sign("ansel", "done").json()["reason"])
        self.write("ines", f"{ELEVATOR}/sense-checks", {"right_way": False, "free": True})
        self.assertIn("not correct", self.sign("ansel", "done").json()["reason"])
        self.write("ines", f"{ELEVATOR}/sense-checks", {"right_way": True, "free": True})
        self.assertIn("someone else", self.sign("ansel", "inspected").json()["reason"])
        # Ines took readings here: she is named second inspector, but not independent.
        self.assertIn("some of this work", self.sign("ines", "inspected").json()["reason"])
        self.assertIn("Only the builder", self.sign("odile", "done").json()["reason"])
        wrong = self.write("ansel", SIGN, {"doing": "done", "password": "guess"})
        self.assertEqual((wrong.status_code, wrong.json()["field"]), (422, "password"))

    def test_a_day_that_is_typed_makes_nobody_independent(self):
        self.signed()
        # Inspected by another since Ines measured: what she did before is no longer in her way.
        self.assertNotIn(
            "some of this work", self.sign("ines", "inspected").json().get("reason", "")
        )
        past = (datetime.now(UTC) - timedelta(days=40)).isoformat()
        late = self.reading("-18.6", taken_at=past)
        self.assertEqual(self.write("ines", f"{ELEVATOR}/readings", late).status_code, 201)
        self.assertIn("some of this work", self.sign("ines", "inspected").json()["reason"])

    def test_what_was_not_looked_at_is_not_signed_and_what_changed_is_named(self):
        self.mend_elevator()
        looked = self.as_("odile").get(SIGN).json()["seen"]
        self.assertGreater(len(looked), 10)
        surface = {"version": 1, "chord": "282 mm", "u_chord": "0.6 mm", "neutral_included": "172"}
        self.write("ansel", "/api/aircraft/fenlark/surfaces/elevator", surface, method="patch")
        late = self.sign("odile", "refuse", seen=looked, reason="I would rather look again")
        self.assertEqual(late.status_code, 409)
        self.assertIn("surface: Elevator changed", late.json()["title"])
        self.assertIn("Look again", late.json()["title"])
        self.assertFalse(
            LedgerEntry.objects.filter(scope="control:elevator", by__slug="odile").exists()
        )
        for wrong in (
            {},
            {k: v for k, v in list(looked.items())[1:]},
            looked | {"reading/0": "0" * 16},
        ):
            self.assertEqual(self.sign("odile", "refuse", seen=wrong).status_code, 409)
        without = self.as_("odile").post(
            SIGN, {"doing": "done", "password": "x"}, content_type="application/json",
            headers={"Idempotency-Key": "k" * 20},
        )  # fmt: skip
        self.assertEqual((without.status_code, without.json()["field"]), (422, "seen"))
        fresh = self.as_("odile").get(SIGN).json()["seen"]
        signed = self.sign("odile", "refuse", seen=fresh, reason="I would rather look again")
        self.assertEqual(signed.status_code, 201)

    def test_wrong_passwords_at_signing_and_overriding_are_counted_and_locked(self):
        override = {
            "blockers": ["0" * 64],
            "reason": "long enough to be a reason",
            "password": "guess",
        }
        for n in range(10):
            path, body = (
                (SIGN, {"doing": "done", "password": "guess"})
                if n % 2
                else ("/api/aircraft/fenlark/closures/aft-top-skin/override", override)
            )
            self.assertEqual(self.write("ansel", path, body).json()["field"], "password")
        attempts = AccessAttempt.objects.get(username="ansel")
        self.assertEqual(attempts.failures_since_start, 10)
        # Now the right one is refused too, and it is said for how long.
        late = self.sign("ansel", "done")
        self.assertEqual((late.status_code, late.json()["field"]), (429, "password"))
        self.assertIn("quarter of an hour", late.json()["reason"])
        self.assertFalse(LedgerEntry.objects.filter(kind="override").exists())

    def test_what_is_append_only_is_neither_changed_nor_deleted_nor_emptied(self):
        with connection.cursor() as c:
            c.execute(
                "SELECT DISTINCT event_object_table FROM information_schema.triggers WHERE trigger_name = 'append_only'"
            )
            tables = sorted(t for (t,) in c.fetchall())
        self.assertGreaterEqual(len(tables), 10)
        for must in (
            "controls_reading",
            "signoff_ledgerentry",
            "signoff_factrevision",
            "journal_change",
        ):
            self.assertIn(must, tables)
        for table in tables:
            for statement in (
                f"TRUNCATE {table} CASCADE",
                f"DELETE FROM {table}",
                f"UPDATE {table} SET id = id",
            ):
                with self.subTest(statement=statement), connection.cursor() as c:
                    c.execute(f"SELECT count(*) FROM {table}")
                    if not c.fetchone()[0] and not statement.startswith("TRUNCATE"):
                        continue
                    with self.assertRaisesRegex(DatabaseError, "append-only"), transaction.atomic():
                        c.execute(statement)

    def test_a_helper_signs_only_if_named_second_inspector(self):
        self.fenlark.members.filter(person__slug="ines").update(second_inspector=False)
        self.mend_elevator()
        self.assertIn("named second inspector", self.sign("ines", "inspected").json()["reason"])

    def test_two_persons_sign_and_a_later_correction_makes_both_stale_naming_the_change(self):
        state = self.signed()
        self.assertTrue(state["dual_ok"])
        old = next(r for r in self.sheet()["readings"] if r["position"] == "up_stop")
        body = {"value": "26.1", "reason": "read again"}
        self.write("ansel", f"/api/aircraft/fenlark/readings/{old['id']}/corrections", body)
        state = self.as_("odile").get(SIGN).json()
        self.assertEqual([e["fresh"] for e in state["entries"]], [False, False])
        self.assertFalse(state["dual_ok"])
        change = next(
            c for c in state["entries"][0]["changes"] if c["id"] == f"reading/{old['id']}"
        )
        self.assertIn(
            {"field": "as_typed", "was": old["as_typed"], "now": "26.1"}, change["fields"]
        )
        self.assertEqual(self.check(), (True, ""))

    def test_a_refusal_needs_a_reason_and_stays_in_the_ledger(self):
        self.mend_elevator()
        self.assertEqual(self.sign("odile", "refuse", reason="no").json()["field"], "reason")
        state = self.sign("odile", "refuse", reason="aft jam nut has no witness mark").json()
        self.assertEqual(
            (state["entries"][-1]["kind"], state["entries"][-1]["reason"]),
            ("refusal", "aft jam nut has no witness mark"),
        )

    def test_a_changed_byte_anywhere_and_a_cut_end_are_found_and_named(self):
        self.tampered = True
        head = self.signed()["head"]
        last = LedgerEntry.objects.get(aircraft=self.fenlark, seq=head["seq"])
        reading = next(r for r in self.sheet()["readings"] if r["as_typed"] == "26.6")
        fact = f"reading/{reading['id']}"
        for name, statement, args, said in [
            (
                "body",
                "UPDATE signoff_ledgerentry SET body = replace(body, 'odile', 'corin') WHERE id = %s",
                [last.pk],
                f"ledger entry {head['seq']}: altered",
            ),
            (
                "reading",
                "UPDATE controls_reading SET as_typed = '26.7' WHERE id = %s",
                [reading["id"]],
                f"{fact}: changed outside the application (as_typed: 26.6 → 26.7)",
            ),
            (
                "history",
                "UPDATE signoff_factrevision SET v = replace(v, '26.6', '26.7') WHERE fact = %s",
                [fact],
                f"history of {fact} rev 1: altered",
            ),
        ]:
            with self.subTest(name), connection.cursor() as c:
                c.execute("SAVEPOINT before")
                self.tamper(statement, args)
                ok, faults = self.check()
                self.assertFalse(ok)
                self.assertIn(said, faults)
                with self.assertRaises(CommandError):
                    call_command("verify_ledger", "fenlark", stdout=io.StringIO())
                c.execute("ROLLBACK TO SAVEPOINT before")
        self.assertEqual(self.check(**head), (True, ""))
        self.tamper("DELETE FROM signoff_ledgerentry WHERE id = %s", [last.pk])
        self.assertTrue(self.check()[0])
        self.assertIn("ledger ends before the witnessed entry", self.check(**head)[1])

    def test_a_decision_between_sources_is_a_ledger_entry_and_settles_the_verdict(self):
        sheet = self.sheet("flaps")
        q = next(q for q in sheet["requirements"] if q["result"]["conflict"] and q["lo"] < 36)
        path = "/api/aircraft/fenlark/controls/flaps/decisions"
        body = {"requirement": q["id"], "reason": "maker confirmed the drawing in writing"}
        after = self.write("ansel", path, body).json()
        chosen = next(r for r in after["requirements"] if r["id"] == q["id"])
        self.assertEqual(
            (chosen["result"]["verdict"], chosen["result"]["conflict"]["decided"]), ("in", q["id"])
        )
        self.assertEqual(
            LedgerEntry.objects.filter(aircraft=self.fenlark).last().kind, "resolution"
        )
        self.assertEqual(self.check(), (True, ""))

    def test_every_fact_has_one_revision_for_each_value_it_had(self):
        self.signed()
        rows = FactRevision.objects.filter(aircraft=self.fenlark, fact__startswith="reading/")
        self.assertEqual({r.rev for r in rows}, {1, 2})
        self.assertEqual(rows.filter(rev=2).count(), 1)

    def test_the_printed_sheet_is_one_page_with_everything_on_it(self):
        head = self.signed()["head"]
        pdf = self.as_("odile").get(f"{ELEVATOR}/sheet.pdf")
        pages = PdfReader(io.BytesIO(pdf.content)).pages
        self.assertEqual(len(pages), 1)
        text = " ".join(pages[0].extract_text().split())
        for wanted in (
            "Fenlark: Elevator",
            "25° to 28°",
            "Drawing 27-01 rev C",
            "26.6; 26.5; 26.65",
            "gauge difference",
            "±",
            "Stick back: trailing edge up",
            "Odile Harrowgate as independent",
            "Caution.",
            head["hash"],
        ):
            self.assertIn(wanted, text)

    def test_templates_print_with_a_calibration_square_and_refuse_by_field(self):
        ask = "included=146&arm_fixed=160&arm_moving=140&width=40&notch_radius=14&notch_aft=2&notch_up=-3&title=Elevator"
        client = self.as_("ansel")
        text = (
            PdfReader(io.BytesIO(client.get(f"/api/template.pdf?{ask}").content))
            .pages[0]
            .extract_text()
        )
        self.assertIn("100 mm × 100 mm", text)
        self.assertIn("146.0°", text)
        page = PdfReader(io.BytesIO(client.get(f"/api/template.pdf?{ask}").content)).pages[0]
        size = sorted(round(float(x) / 72 * 25.4) for x in page.mediabox[2:])
        self.assertEqual(size, [210, 297], "an ordinary card must fit an ordinary printer")
        self.assertIn('viewBox="0 0', client.get(f"/api/template.svg?{ask}").content.decode())
        self.assertIn("LWPOLYLINE", client.get(f"/api/template.dxf?{ask}").content.decode())
        bad = client.get(
            "/api/template.pdf?included=150&arm_fixed=150&arm_moving=130&width=25&notch_radius=20"
        )
        self.assertEqual((bad.status_code, bad.json()["field"]), (422, "notch_radius"))
