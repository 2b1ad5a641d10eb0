"""The demo's tubes and worksheets, as people enter them."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Source
from server.aircraft.slugs import slug_for
from server.lines.entering import put as put_tube
from server.lines.forms import LineIn
from server.lines.testing import record
from server.runs.models import Run
from server.worksheets.keeping import put
from server.worksheets.models import Worksheet

AGO = "days ago: "


def load_lines(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    """Tubes with what was done to them, then the sheets."""
    for t in data.get("tubes", []):
        done = t.pop("done", [])
        run = Run(aircraft=aircraft, changed_by=owner)
        asked = LineIn(data=cited(aircraft, t))
        asked.is_valid(raise_exception=True)
        put_tube(run, dict(asked.validated_data))
        run.slug = slug_for(Run, aircraft, run.name)
        run.save()
        for d in done:
            record(run, d["doing"], d.get("typed", {}), owner, d.get("note", ""))
    for s in data["worksheets"]:
        sheet = Worksheet(aircraft=aircraft, changed_by=owner, changed_at=datetime.now(UTC))
        put(sheet, {"bays": [], "page": ""} | cited(aircraft, s))
        sheet.slug = slug_for(Worksheet, aircraft, sheet.name)
        sheet.save()


def cited(aircraft: Aircraft, given: dict[str, Any]) -> dict[str, Any]:
    """With its document's key, and days before today as days."""
    named = given.get("source")
    found = Source.objects.get(aircraft=aircraft, slug=named).pk if named else None
    return {k: _dated(v) for k, v in given.items()} | {"source": found}


def _dated(given: Any) -> Any:
    """Days before today as their day, wherever they stand."""
    if isinstance(given, dict):
        return {k: _dated(v) for k, v in given.items()}
    if isinstance(given, list):
        return [_dated(v) for v in given]
    if isinstance(given, str) and given.startswith(AGO):
        return (date.today() - timedelta(days=int(given.removeprefix(AGO)))).isoformat()
    return given
