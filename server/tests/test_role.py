"""The role that the server works as may read and write rows, and nothing that bends the record."""

import psycopg
from django.db import connection
from django.test import TransactionTestCase

from server.config import role
from testkit.database import mark_used, renew


class Serves(TransactionTestCase):
    @classmethod
    def _pre_setup(cls):
        renew()
        mark_used()
        super()._pre_setup()

    def _fixture_teardown(self):
        """The next test gets a clone."""

    def setUp(self):
        self.role = role.made()
        # Made a second time, its grants are made anew.
        self.assertEqual(role.made(), self.role)
        at = connection.settings_dict
        self.other = psycopg.connect(
            host=at["HOST"], port=at["PORT"], dbname=at["NAME"], user=self.role,
            password=role.password_of(self.role), autocommit=True,
        )  # fmt: skip
        self.addCleanup(self.gone)

    def gone(self):
        self.other.close()
        with connection.cursor() as cursor:
            cursor.execute(f'DROP OWNED BY "{self.role}"')
            cursor.execute(f'DROP ROLE "{self.role}"')

    def asked(self, statement):
        return self.other.execute(statement).fetchall()

    def test_it_owns_nothing_and_is_no_superuser(self):
        rights = self.asked(
            "SELECT rolsuper, rolcreaterole, rolcreatedb, rolreplication, rolbypassrls"
            " FROM pg_roles WHERE rolname = current_user"
        )
        self.assertEqual(rights, [(False,) * 5])
        owned = self.asked("SELECT count(*) FROM pg_class WHERE relowner = current_user::regrole")
        self.assertEqual(owned, [(0,)])
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM pg_class c JOIN pg_roles r ON r.oid = c.relowner"
                           " WHERE r.rolname = %s", [self.role])  # fmt: skip
            self.assertEqual(cursor.fetchone(), (0,))

    def test_what_would_bend_the_record_is_refused(self):
        kept = self.asked("SELECT count(*) FROM signoff_ledgerentry")
        self.assertGreater(kept[0][0], 0)
        for statement in (
            "TRUNCATE signoff_ledgerentry",
            "TRUNCATE controls_reading CASCADE",
            "ALTER TABLE signoff_ledgerentry DISABLE TRIGGER append_only",
            "ALTER TABLE signoff_ledgerentry DISABLE TRIGGER ALL",
            "DROP TRIGGER append_only ON signoff_ledgerentry",
            "DROP TABLE signoff_ledgerentry",
            "SET session_replication_role = replica",
            "CREATE OR REPLACE FUNCTION ashlane_append_only() RETURNS trigger LANGUAGE plpgsql"
            " AS $$ BEGIN RETURN NEW; END $$",
            "UPDATE signoff_ledgerentry SET body = '{}'",
            "DELETE FROM signoff_ledgerentry",
            "DELETE FROM django_migrations",
            "CREATE TABLE mine (x int)",
        ):
            with self.subTest(statement=statement), self.assertRaises(psycopg.Error):
                self.other.execute(statement)
        self.assertEqual(self.asked("SELECT count(*) FROM signoff_ledgerentry"), kept)

    def test_rows_are_read_and_written(self):
        with self.other.transaction(force_rollback=True):
            self.other.execute(
                "INSERT INTO journal_change (aircraft_id, at, by_id, kind, said, bays, link, work)"
                " SELECT aircraft_id, now(), by_id, kind, 'x', bays, link, work"
                " FROM journal_change LIMIT 1"
            )
            self.other.execute("UPDATE aircraft_aircraft SET summary = 'x'")
            self.assertTrue(self.asked("SELECT 1 FROM aircraft_aircraft WHERE summary = 'x'"))
