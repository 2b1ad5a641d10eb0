"""What happened is never changed or deleted, by anyone."""

from django.db import migrations

TABLES = ("journal_change",)


class Migration(migrations.Migration):
    dependencies = [("journal", "0001_initial"), ("controls", "0002_append_only")]
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
