"""The ledger and the history of facts are never changed or deleted, by anyone."""

from django.db import migrations

TABLES = ("signoff_ledgerentry", "signoff_factrevision")


class Migration(migrations.Migration):
    dependencies = [("signoff", "0001_initial"), ("controls", "0002_append_only")]
    operations = [
        migrations.RunSQL(
            [
                f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON {t}"
                " FOR EACH ROW EXECUTE FUNCTION ashlane_append_only();"
                for t in TABLES
            ],
            [f"DROP TRIGGER append_only ON {t}" for t in TABLES],
        )
    ]
