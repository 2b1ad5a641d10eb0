"""CSV files to take away, and words in them that a spreadsheet must not take for a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from django.http import HttpResponse

STARTS = ("=", "+", "-", "@", "\t", "\r")
MARK = "'"


def cell(text: str) -> str:
    """A word as it is written: one that begins as a formula does gets a mark before it."""
    return MARK + text if text.startswith((*STARTS, MARK)) else text


def plain(written: str) -> str:
    """The word as it was."""
    marked = written.startswith(MARK) and written[1:].startswith((*STARTS, MARK))
    return written[1:] if marked else written


def csv_file(name: str, lines: Iterable[Sequence[object]]) -> HttpResponse:
    """Lines as a file of that name; every word is safe in a spreadsheet."""
    out = io.StringIO()
    table = csv.writer(out)
    for line in lines:
        table.writerow([cell(x) if isinstance(x, str) else x for x in line])
    return HttpResponse(
        "\ufeff" + out.getvalue(),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}.csv"'},
    )
