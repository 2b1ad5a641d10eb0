"""What is append-only is never emptied as a whole either."""

from django.db import migrations

EACH = """
DO $$
DECLARE t text;
BEGIN
    FOR t IN SELECT DISTINCT event_object_table FROM information_schema.triggers
             WHERE trigger_name = 'append_only'
    LOOP
        EXECUTE format({what}, t);
    END LOOP;
END $$
"""
MADE = (
    "'CREATE TRIGGER never_emptied BEFORE TRUNCATE ON %I"
    " FOR EACH STATEMENT EXECUTE FUNCTION ashlane_append_only()'"
)
GONE = "'DROP TRIGGER IF EXISTS never_emptied ON %I'"


class Migration(migrations.Migration):
    dependencies = [
        ("cables", "0002_append_only"),
        ("closing", "0002_append_only"),
        ("controls", "0004_append_only"),
        ("hardware", "0002_append_only"),
        ("journal", "0002_append_only"),
        ("signoff", "0002_append_only"),
        ("sources", "0002_append_only"),
    ]
    operations = [migrations.RunSQL(EACH.format(what=MADE), EACH.format(what=GONE))]
