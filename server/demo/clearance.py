"""The demo's clearances, as people enter them: rows, and what was done to pairs."""

from __future__ import annotations

from typing import Any

from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.aircraft.slugs import slug_for
from server.clearance.api import ENTERED
from server.clearance.forms import PairIn
from server.clearance.models import ClearanceRow
from server.clearance.steps import record
from server.demo.lines import cited


def load_clearance(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    """In their order: what others name comes first."""
    for given in data["rows"]:
        row = ClearanceRow(aircraft=aircraft, changed_by=owner)
        ENTERED.put(row, {"page": "", "source": None} | cited(aircraft, given))
        row.slug = slug_for(ClearanceRow, aircraft, row.name)
        row.save()
    for step in data["pairs"]:
        asked = PairIn(data=step)
        asked.is_valid(raise_exception=True)
        record(aircraft, dict(asked.validated_data), owner)
