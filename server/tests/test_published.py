"""What is published is what the program has: the API's schema, the database's tables."""

import json
from pathlib import Path

from django.core.management import call_command
from django.test import TestCase

from testkit.contract import schema


class Published(TestCase):
    def test_the_schema_that_is_published_is_that_of_the_program(self):
        """What an address takes, how long a text may be, and what it answers: all at once."""
        kept = json.loads((Path(__file__).parents[2] / "web" / "schema.json").read_text())
        made = json.loads(json.dumps(schema()))
        for name in ("paths", "components"):
            for key in sorted({*kept[name], *made[name]}):
                if key != "securitySchemes":
                    with self.subTest(key=key):
                        self.assertEqual(made[name].get(key), kept[name].get(key))

    def test_the_rows_of_the_database_are_those_of_the_program(self):
        call_command("makemigrations", "--check", "--dry-run", verbosity=0)
