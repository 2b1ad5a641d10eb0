"""How what is required was changed: from the history of its rows, oldest first."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from server.controls import shapes
from server.controls.models import Requirement

ASKED = ("as_typed", "source_id", "page")


def changed_limits(requirements: Sequence[Requirement]) -> dict[int, list[shapes.LimitChange]]:
    """For each requirement every change of its limits or source, by its key."""
    changed = [r.pk for r in requirements if r.version > 1]
    if not changed:
        return {}
    rows = (
        Requirement.history.filter(id__in=changed)
        .select_related("source", "changed_by")
        .order_by("id", "history_date", "history_id")
    )
    found: dict[int, list[shapes.LimitChange]] = {}
    for before, after in pairwise(rows):
        same = all(getattr(before, f) == getattr(after, f) for f in ASKED)
        if before.id == after.id and not same:
            found.setdefault(after.id, []).append(_change(before, after))
    return found


def _change(before: Any, after: Any) -> shapes.LimitChange:
    return shapes.LimitChange(
        was=_asked(before),
        became=_asked(after),
        by=after.changed_by.name,
        at=after.history_date.isoformat(),
        reason=after.history_change_reason or "",
    )


def _asked(row: Any) -> str:
    page = f", page {row.page}" if row.page else ""
    return f"{row.as_typed} ({row.source.cited}{page})"
