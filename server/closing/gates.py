"""The gates of an aircraft's closures, made from concerns alone."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import Q

from core.basis.checks import STEPS
from core.signoff.closing import Concern, Lot, closing_gate
from core.signoff.gate import Gate, Item, Override
from server.aircraft.models import Closure
from server.kit.standing import concerns
from server.signoff.models import LedgerEntry


@dataclass(frozen=True)
class Closing:
    """A closure's gate with the concerns behind it and the overrides that stand for ever."""

    closure: Closure
    bays: list[str]
    gate: Gate
    concerns: list[Concern]
    overrides: list[LedgerEntry]

    @property
    def subjects(self) -> dict[tuple[str, str], Concern]:
        """Concerns by step and id, for the words of an item."""
        return {(c.step, c.id): c for c in self.concerns}

    def steps(self) -> list[tuple[str, int, int]]:
        """Each step in order: how many pass, how many do not."""
        passing = Counter(c.step for c in self.concerns if c.passes)
        failing = Counter(c.step for c in self.concerns if not c.passes)
        return [(s, passing[s], failing[s]) for s in STEPS]


def override_scope(closure: Closure) -> str:
    """The ledger's scope of a closure's overrides."""
    return f"closure:{closure.slug}"


def closures_of(aircraft: int, slug: str | None = None) -> list[Closure]:
    """The closures of an aircraft (or one of them) with `behind`, their bays in order."""
    rows = Closure.objects.filter(aircraft=aircraft)
    if slug is not None:
        rows = rows.filter(slug=slug)
    bays = ArrayAgg("bays__slug", order_by="bays__order", filter=Q(bays__isnull=False), default=[])
    return list(rows.annotate(behind=bays).order_by("id"))


def closings(aircraft: int, lot: Lot, closures: Sequence[Closure]) -> list[Closing]:
    """The gate of every closure, for closing it for good."""
    entries: dict[str, list[LedgerEntry]] = {}
    for e in LedgerEntry.objects.filter(aircraft=aircraft, kind="override").select_related("by"):
        entries.setdefault(e.scope, []).append(e)
    return [_closing(c, "final", lot, entries) for c in closures]


def closing(aircraft: int, slug: str, purpose: str = "final") -> Closing | None:
    """One closure's gate."""
    found = closures_of(aircraft, slug)
    if not found:
        return None
    c = found[0]
    rows = LedgerEntry.objects.filter(aircraft=aircraft, kind="override", scope=override_scope(c))
    entries = {override_scope(c): list(rows.select_related("by"))}
    return _closing(c, purpose, Lot(concerns(aircraft)), entries)


def _closing(c: Closure, purpose: str, lot: Lot, entries: dict[str, list[LedgerEntry]]) -> Closing:
    mine = entries.get(override_scope(c), [])
    overrides = [_override(e) for e in mine]
    kind = "permanent" if c.permanent else "removable"
    bays = list(c.behind)  # type: ignore[attr-defined]
    gate, items = closing_gate(c.slug, kind, purpose, bays, lot, overrides)
    return Closing(c, bays, gate, items, mine)


def _override(e: LedgerEntry) -> Override:
    body = json.loads(e.body)
    return Override(e.by.name, body["reason"], tuple(b["hash"] for b in body["blockers"]))


def as_stood(closing: Closing) -> dict[str, object]:
    """The gate as it is kept with the event."""
    subjects = closing.subjects

    def told(i: Item) -> dict[str, str]:
        return {
            "step": i.step,
            "id": i.id,
            "state": i.state,
            "owner": i.owner,
            "subject": subjects[i.step, i.id].subject,
        }

    g = closing.gate
    return {
        "state": g.state,
        "passing": sum(p for _, p, _ in closing.steps()),
        "overridden": [told(i) | {"by": by} for i, by in g.overridden],
        "carried": [told(i) for i in g.carried],
    }
