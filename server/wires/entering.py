"""Rows of the harness from what was typed."""

from __future__ import annotations

import re

from core.basis.refused import Refused
from core.wiring.harness import BUNDLE, BUS, CIRCUIT, CONNECTOR, Row
from core.wiring.harness_entry import refuse
from server.accounts.models import Person
from server.wires.models import HarnessRow
from server.wires.reading import harness_of, row_of
from server.wires.trade import naming


def read(r: HarnessRow) -> Row:
    """As the core takes it. Refuses names by which pins and lists could not be told apart."""
    if r.kind in (CONNECTOR, BUNDLE) and re.search(r"[.;]", r.name):
        raise Refused(
            "name", "must have no point and no semicolon: pins and lists are read by them"
        )
    return row_of(r, r.events.all().order_by("id") if r.pk else ())


def refuse_among(r: HarnessRow, row: Row) -> None:
    """What cannot be among the other rows."""
    refuse(harness_of(r.aircraft, r), row)


def follow(r: HarnessRow, was: str, by: Person) -> int:
    """Rows that name it under its old name name it under its new one; how many."""
    if was.casefold() == r.name.casefold():
        return 0
    old = HarnessRow(aircraft=r.aircraft, kind=r.kind, name=was, pk=r.pk)
    rows = naming(old)
    for other in rows:
        other.typed = other.typed | _renamed(other, r.kind, was, r.name)
        other.version, other.changed_by = other.version + 1, by
        other.save()
    return len(rows)


def _renamed(other: HarnessRow, kind: str, was: str, now: str) -> dict[str, str]:
    typed, low = other.typed, was.casefold()
    if kind in (CIRCUIT, BUS):
        return {kind: now}
    if kind == BUNDLE:
        rows = [b.strip() for b in str(typed.get("bundles", "")).split(";")]
        return {"bundles": "; ".join(now if b.casefold() == low else b for b in rows)}
    found = {}
    for key in ("from", "to"):
        connector, _, pin = str(typed.get(key, "")).rpartition(".")
        if connector.casefold() == low:
            found[key] = f"{now}.{pin}"
    if str(typed.get("mate", "")).casefold() == low:
        found["mate"] = now
    return found
