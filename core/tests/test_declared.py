"""What every form asks: kept line by line, and held to what its words say.

A changed question is changed on purpose: keep it with ASHLANE_KEEP_PRINTS=1.
"""

import json
import os
from pathlib import Path
from unittest import TestCase

import core.lines.sheets
import core.wiring.sheets  # noqa: F401
from core.weight.rows import ROWS as WEIGHT
from core.wiring.harness import ROWS as HARNESS
from core.worksheets.kinds import KINDS

KEPT = Path(__file__).with_name("asked.json")
EVERY = {**{f"sheet {k}": v for k, v in KINDS.items()}, **{f"row {k}": v for k, v in HARNESS.items()},
         **{f"weight {k}": v for k, v in WEIGHT.items()}}  # fmt: skip


def fields_of(kind):
    """Every field and every column, with the way to it."""
    for f in kind.fields:
        yield f.key, f
        for c in f.columns:
            yield f"{f.key}.{c.key}", c


class Asked(TestCase):
    def test_every_form_asks_what_it_asked(self):
        asked = {
            name: {
                at: [f.name, f.of, f.unit, f.needed, f.limit, f.many, f.scale, len(f.choices)]
                for at, f in fields_of(kind)
            }
            for name, kind in EVERY.items()
        }
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            lines = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in sorted(asked.items()))
            KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n")
        kept = json.loads(KEPT.read_text())
        for name, fields in asked.items():
            with self.subTest(form=name):
                self.assertEqual(fields, kept.get(name))
        self.assertEqual(set(asked), set(kept))

    def test_what_is_asked_in_per_cent_is_a_hundredth(self):
        count = 0
        for name, kind in EVERY.items():
            for at, f in fields_of(kind):
                if "%" in f.label and f.of == "number":
                    count += 1
                    self.assertEqual(f.scale, 0.01, f"{name} {at}")
        self.assertGreater(count, 20)

    def test_a_place_is_three_lengths_and_a_limit_is_a_figure(self):
        for name, kind in EVERY.items():
            for at, f in fields_of(kind):
                if f.label.endswith("station; butt line; water line"):
                    self.assertEqual((f.of, f.many), ("length", 3), f"{name} {at}")
                if f.limit:
                    self.assertNotIn(f.of, ("text", "date", "thing"), f"{name} {at}")

    def test_no_form_asks_two_things_by_one_name(self):
        for name, kind in EVERY.items():
            keys = [f.key for f in kind.fields]
            self.assertEqual(len(set(keys)), len(keys), name)
