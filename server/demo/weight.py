"""The demo's weight and balance, as people enter it: rows, and what was done at weighings."""

from __future__ import annotations

from typing import Any

from server.accounts.models import Person
from server.aircraft.models import Aircraft
from server.aircraft.slugs import slug_for
from server.demo.lines import cited
from server.weight.api import ENTERED
from server.weight.forms import WeighIn
from server.weight.models import WeightRow
from server.weight.steps import record


def load_weight(aircraft: Aircraft, owner: Person, rows: list[dict[str, Any]]) -> None:
    """In their order: what others name comes first."""
    for given in rows:
        done = given.pop("done", [])
        row = WeightRow(aircraft=aircraft, changed_by=owner)
        ENTERED.put(row, {"page": "", "source": None} | cited(aircraft, given))
        row.slug = slug_for(WeightRow, aircraft, row.name)
        row.save()
        for step in done:
            asked = WeighIn(data=step)
            asked.is_valid(raise_exception=True)
            record(row, dict(asked.validated_data), owner)
