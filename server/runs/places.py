"""Which bays a run passes: geometry alone says it."""

from __future__ import annotations

from collections.abc import Sequence

from core.runs.bays import Box, run_in_bays
from server.kit.placing import passed
from server.runs.models import Run


def stretches(r: Run, boxes: Sequence[Box]) -> dict[str, list[tuple[float, float]]]:
    """Bay -> stretches along its corners, m; what lies outside all of them too. None of what
    was measured on the bench alone."""
    if not r.placed:
        return {}
    return dict(run_in_bays(r.points_m, boxes))


def bays_of_run(r: Run, boxes: Sequence[Box]) -> tuple[str, ...]:
    """The bays that it passes, in their order."""
    return passed([r.points_m] if r.placed else [], boxes)
