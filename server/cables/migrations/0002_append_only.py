"""Readings of cables and what was done to them are never changed or deleted, by anyone."""

from django.db import migrations

TABLES = ("cables_cablereading", "cables_cableevent")


def statements(tables):
    function = """
        CREATE OR REPLACE FUNCTION ashlane_append_only() RETURNS trigger AS $$
        BEGIN
            RAISE EXCEPTION '% is append-only: correct it by a new row', TG_TABLE_NAME;
        END $$ LANGUAGE plpgsql;
    """
    triggers = [
        f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON {t}"
        " FOR EACH ROW EXECUTE FUNCTION ashlane_append_only();"
        for t in tables
    ]
    return [function, *triggers]


class Migration(migrations.Migration):
    dependencies = [("cables", "0001_cables")]
    operations = [
        migrations.RunSQL(
            statements(TABLES), [f"DROP TRIGGER append_only ON {t}" for t in TABLES]
        )
    ]
