"""How what is required was changed: from the history of its rows, oldest first."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime
from itertools import pairwise
from typing import Any

from server.aircraft.models import Source
from server.controls import shapes
from server.controls.models import Requirement

ASKED = ("as_typed", "source_id", "page")


def changed_limits(requirements: Sequence[Requirement]) -> dict[int, list[shapes.LimitChange]]:
    """For each requirement every change of its limits or source, by its key."""
    changed = [r.pk for r in requirements if r.version > 1]
    if not changed:
        return {}
    rows = list(
        Requirement.history.filter(id__in=changed)
        .select_related("changed_by")
        .order_by("id", "history_date", "history_id")
    )
    documents = _Documents({r.source_id for r in rows})
    found: dict[int, list[shapes.LimitChange]] = {}
    for before, after in pairwise(rows):
        same = all(getattr(before, f) == getattr(after, f) for f in ASKED)
        if before.id == after.id and not same:
            found.setdefault(after.id, []).append(_change(before, after, documents))
    return found


class _Documents:
    """Documents as they were: what was entered from revision A still says so under B."""

    def __init__(self, keys: Iterable[int]) -> None:
        self.rows: dict[int, list[Any]] = {}
        for row in Source.history.filter(id__in=keys).order_by("history_date", "history_id"):
            self.rows.setdefault(row.id, []).append(row)

    def cited(self, key: int, at: datetime) -> str:
        """The document as it was cited at a time."""
        rows = self.rows[key]
        known = [r for r in rows if r.history_date <= at] or rows[:1]
        return str(known[-1].instance.cited)


def _change(before: Any, after: Any, documents: _Documents) -> shapes.LimitChange:
    return shapes.LimitChange(
        was=_asked(before, documents),
        became=_asked(after, documents),
        by=after.changed_by.name,
        at=after.history_date.isoformat(),
        reason=after.history_change_reason or "",
    )


def _asked(row: Any, documents: _Documents) -> str:
    page = f", page {row.page}" if row.page else ""
    return f"{row.as_typed} ({documents.cited(row.source_id, row.history_date)}{page})"
