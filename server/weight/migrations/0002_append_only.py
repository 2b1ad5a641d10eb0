"""What was done at a weighing is never changed, deleted or emptied, by anyone."""

from django.db import migrations

TABLE = "weight_weightevent"
MADE = [
    f"CREATE TRIGGER append_only BEFORE UPDATE OR DELETE ON {TABLE}"
    " FOR EACH ROW EXECUTE FUNCTION ashlane_append_only();",
    f"CREATE TRIGGER never_emptied BEFORE TRUNCATE ON {TABLE}"
    " FOR EACH STATEMENT EXECUTE FUNCTION ashlane_append_only();",
]
GONE = [f"DROP TRIGGER {name} ON {TABLE};" for name in ("append_only", "never_emptied")]


class Migration(migrations.Migration):
    dependencies = [
        ("weight", "0001_weight"),
        ("controls", "0002_append_only"),
        # It makes the same for every table that is append-only by then.
        ("signoff", "0003_never_emptied"),
    ]
    operations = [migrations.RunSQL(MADE, GONE)]
