"""Small things that only one word or one call holds, and the schema as it is kept."""

import contextlib
import json
from io import StringIO
from pathlib import Path

from django.core.management import call_command

from core.basis.refused import Refused
from server.accounts.models import Person
from server.accounts.security import _one_word
from server.aircraft.models import Aircraft, Member
from server.hardware.entering import _pitch
from server.runs.holes import told
from server.tests.own import Writing

SCHEMA = Path(__file__).resolve().parents[2] / "web" / "schema.json"


class Kept(Writing):
    def test_the_schema_that_the_web_is_typed_by_is_the_servers(self):
        out = StringIO()
        with contextlib.redirect_stderr(StringIO()):
            call_command("spectacular", format="openapi-json", stdout=out)
        made, kept = json.loads(out.getvalue()), json.loads(SCHEMA.read_text())
        self.assertEqual(made["paths"], kept["paths"])
        self.assertEqual(made["components"]["schemas"], kept["components"]["schemas"])

    def test_an_aircraft_of_which_nothing_is_told_yet_has_no_last_change(self):
        own = Aircraft.objects.create(slug="new", name="New", outline=self.fenlark.outline)
        Member.objects.create(aircraft=own, person=Person.objects.get(slug="ansel"), role="owner")
        self.slug = "new"
        self.assertEqual(self.get("pulse")["last"], 0)

    def test_a_name_cannot_write_a_line_of_its_own(self):
        self.assertEqual(_one_word("a b\nc\u200bd\x00e"), "a_b_c_d_e")
        self.assertEqual(len(_one_word("x" * 200)), 120)

    def test_threads_there_must_be(self):
        for typed in ("0", "-28", "nan", "inf"):
            with self.assertRaises(Refused) as caught:
                _pitch({"pitch": "", "threads_per_inch": typed}, "mm")
            self.assertEqual(caught.exception.field, "threads_per_inch")
        self.assertAlmostEqual(_pitch({"pitch": "", "threads_per_inch": "28"}, "mm"), 0.0254 / 28)

    def test_no_holes_is_said_only_where_somebody_said_it(self):
        self.assertEqual((told({}), told({"no_holes": True})), ("", "none"))
