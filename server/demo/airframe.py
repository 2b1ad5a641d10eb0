"""The demo's bays, closures and openings."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.utils.text import slugify

from server.accounts.models import Person
from server.aircraft.models import Aircraft, Bay, Closure, NoneHere, Opening
from server.closing.models import ClosureEvent


def load_airframe(aircraft: Aircraft, owner: Person, data: dict[str, Any]) -> None:
    """From the open file."""
    by = {"aircraft": aircraft, "changed_by": owner}
    bays: dict[str, Bay] = {}
    for order, b in enumerate(data["bays"]):
        limits = {f"{axis}{i}_m": b[f"{axis}_mm"][i] / 1e3 for axis in "xyz" for i in (0, 1)}
        given = {k: b[k] for k in ("slug", "name", "part")}
        bays[b["slug"]] = Bay.objects.create(**by, order=order, **given, **limits)
    closures = {slugify(c["name"]): _closure(by, bays, c) for c in data["closures"]}
    for o in data["openings"]:
        Opening.objects.create(
            **by,
            slug=slugify(o["name"]),
            name=o["name"],
            bay_a=bays[o["bay"]],
            bay_b=bays[o["other"]] if o["other"] else None,
            closure=closures[o["closure"]] if o["closure"] else None,
            lo_m=[v / 1e3 for v in o["lo_mm"]],
            hi_m=[v / 1e3 for v in o["hi_mm"]],
            width_m=o["width_mm"] / 1e3,
        )
    for n in data["none_here"]:
        NoneHere.objects.create(
            bay=bays[n["bay"]], capability=n["capability"], by=owner, at=datetime.now(UTC)
        )


def _closure(by: dict[str, Any], bays: dict[str, Bay], c: dict[str, Any]) -> Closure:
    plan = c.get("plan_in_days")
    closure = Closure.objects.create(
        **by,
        slug=slugify(c["name"]),
        name=c["name"],
        permanent=c["permanent"],
        above=c["above"],
        closed=c.get("closed", False),
        planned_on=None if plan is None else date.today() + timedelta(days=plan),
        inspection_needed=c["inspection_needed"],
        photo_needed=c["photo_needed"],
    )
    closure.bays.set([bays[b] for b in c["bays"]])
    if closure.closed:
        ClosureEvent.objects.create(
            closure=closure,
            doing="closed",
            purpose="final",
            gate={"state": "ready", "passing": 0, "overridden": [], "carried": []},
            counted=[{"name": "torch", "in": 1, "out": 1}],
            by=by["changed_by"],
            at=datetime.now(UTC) - timedelta(days=30),
        )
    return closure
