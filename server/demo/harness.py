"""The demo's harness, as people enter it: rows, and what was done to wires."""

from __future__ import annotations

from typing import Any

from core.wiring.harness import WIRE
from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.aircraft.slugs import slug_for
from server.demo.lines import cited
from server.wires.api import ENTERED
from server.wires.forms import StepIn
from server.wires.models import HarnessRow
from server.wires.steps import record


def load_harness(aircraft: Aircraft, owner: Person, rows: list[dict[str, Any]]) -> None:
    """Circuits, connectors and bundles before the wires that name them; a circuit is tested once
    its wires are run."""
    steps = []
    for given in rows:
        done = given.pop("done", [])
        row = HarnessRow(aircraft=aircraft, changed_by=owner)
        ENTERED.put(row, {"page": ""} | cited(aircraft, given))
        row.slug = slug_for(HarnessRow, aircraft, row.name)
        row.save()
        steps.append((row, done))
    for row, done in sorted(steps, key=lambda one: one[0].kind != WIRE):
        for step in done:
            asked = StepIn(data={"doing": step} if isinstance(step, str) else step)
            asked.is_valid(raise_exception=True)
            record(row, dict(asked.validated_data), owner)
