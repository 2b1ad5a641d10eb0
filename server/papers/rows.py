"""A worksheet's rows for a spreadsheet: as they were typed, so that they can be pasted back."""

from __future__ import annotations

import csv
import io
import re

from core.worksheets.kinds import Field
from server.config.cells import cell
from server.worksheets.models import Worksheet

NUMBER = re.compile(r"[-+−]?[0-9]+(?:[.,][0-9]+)?")


def rows_csv(w: Worksheet, table: str) -> bytes | None:
    """Its columns in words, then its rows; None where the sheet has no such table."""
    found = next((f for f in w.of.fields if f.key == table and f.of == "table"), None)
    if found is None:
        return None
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([cell(_head(c, w.aircraft.length_unit)) for c in found.columns])
    for row in w.typed.get(table, []):
        writer.writerow([_cell(c, str(row.get(c.key, ""))) for c in found.columns])
    return out.getvalue().encode("utf-8-sig")


def _head(c: Field, length_unit: str) -> str:
    unit = c.unit or (length_unit if c.of == "length" else "")
    return f"{c.label}, {unit}" if unit not in ("", "1") else c.label


def _cell(c: Field, typed: str) -> str:
    """A choice by its word; a number as it is; no word that a spreadsheet takes for a formula."""
    word = dict(c.choices).get(typed, typed)
    return word if NUMBER.fullmatch(word) else cell(word)
