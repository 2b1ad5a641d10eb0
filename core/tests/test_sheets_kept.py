"""What every worksheet says, as typed, with each thing left out, and with each number more or
less: kept, so that no check, word or limit is lost.

A sheet that says otherwise was changed on purpose: ASHLANE_KEEP_PRINTS=1 keeps it anew.
"""

import hashlib
import json
import os
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from unittest import TestCase

from core.basis.refused import Refused
from core.tests.test_wire_sheets import EVERY
from core.tests.test_wire_sheets import sheet as of_wires
from core.tests.test_worksheets import DEMO, demo
from core.tests.test_worksheets import sheet as of_lines
from testkit.laws import rounded

KEPT = Path(__file__).with_name("sheets.json")
NUMBER = re.compile(r"-?\d+(\.\d+)?")
FACTORS = (8 / 7, 0.3, 4.0)
# Seconds each, and asked by their own tests: kept as typed alone.
LONG = ("moving hose",)


def changed(typed: Any) -> Iterator[tuple[str, Any]]:
    """Where, and the sheet with that left out, or its number more or less."""
    items = enumerate(typed) if isinstance(typed, list) else typed.items()
    for key, value in items:
        if isinstance(value, (dict, list)):
            # Rows are alike: the first and the last tell.
            if isinstance(typed, list) and key not in (0, len(typed) - 1):
                continue
            for at, inner in changed(value):
                yield f"{key}.{at}", _with(typed, key, inner)
        yield f"{key} left out", _with(typed, key, None)
        if isinstance(value, str) and (m := NUMBER.match(value)):
            for by in FACTORS:
                more = f"{float(m[0]) * by:.6g}{value[m.end() :]}"
                yield f"{key} times {by:.3g}", _with(typed, key, more)


def _with(typed: Any, key: Any, value: Any) -> Any:
    copy = typed.copy()
    if value is None:
        del copy[key]
    else:
        copy[key] = value
    return copy


def told(sheet: Any, kind: str, typed: dict[str, Any]) -> str:
    """Each check's verdict, with a digest of every word; or what is refused."""
    try:
        worked = sheet(kind, typed)
    except Refused as refusal:
        return f"refused: {refusal.field}"
    words = [(c.key, c.said, c.rule) for c in worked.checks]
    words += [list(worked.facts), rounded(worked.figure)]
    short = hashlib.sha256(json.dumps(words).encode()).hexdigest()[:8]
    return " ".join([*(c.verdict.value.replace(" ", "-") for c in worked.checks), short])


class Kept(TestCase):
    def test_every_sheet_says_what_it_said(self) -> None:
        lines = {s["kind"]: demo(s["kind"]) for s in DEMO["worksheets"]}
        made = {}
        for sheet, every in ((of_lines, lines), (of_wires, EVERY)):
            for kind, typed in every.items():
                made[kind] = told(sheet, kind, typed)
                for at, other in changed(typed) if kind not in LONG else ():
                    made[f"{kind}: {at}"] = told(sheet, kind, other)
        if os.environ.get("ASHLANE_KEEP_PRINTS"):
            rows = (f"{json.dumps(k)}: {json.dumps(v)}" for k, v in made.items())
            KEPT.write_text("{\n" + ",\n".join(rows) + "\n}\n")
        kept = json.loads(KEPT.read_text())
        self.assertEqual(set(made), set(kept))
        for place, came in made.items():
            self.assertEqual(came, kept[place], place)
