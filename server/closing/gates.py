"""The gates of an aircraft's closures, made from concerns alone."""

from __future__ import annotations

import json
from collections import Counter
from dataclasses import dataclass, replace

from core.signoff.closing import Concern, Lot, closing_gate
from core.signoff.gate import STEPS, Gate, Item, Override
from server.aircraft import concerns
from server.aircraft.models import Aircraft, Closure
from server.closing.own import Behind, gather, own_concerns
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


def all_concerns(aircraft: Aircraft, behind: Behind | None = None) -> list[Concern]:
    """Every concern, the closures' own among them; nobody's are the builder's."""
    behind = behind or gather(aircraft)
    found = [*concerns.of(aircraft.pk), *own_concerns(behind)]
    owner = concerns.owners([aircraft.pk]).get(aircraft.pk)
    return [replace(c, owner=owner) if owner and c.owner == "nobody" else c for c in found]


def closings(aircraft: Aircraft, lot: Lot, behind: Behind) -> list[Closing]:
    """The gate of every closure, for closing it for good."""
    entries: dict[str, list[LedgerEntry]] = {}
    for e in LedgerEntry.objects.filter(aircraft=aircraft, kind="override").select_related("by"):
        entries.setdefault(e.scope, []).append(e)
    return [_closing(c, "final", lot, behind, entries) for c in behind.closures]


def closing(aircraft: Aircraft, slug: str, purpose: str = "final") -> Closing | None:
    """One closure's gate."""
    behind = gather(aircraft)
    c = next((c for c in behind.closures if c.slug == slug), None)
    if c is None:
        return None
    rows = LedgerEntry.objects.filter(aircraft=aircraft, kind="override", scope=override_scope(c))
    entries = {override_scope(c): list(rows.select_related("by"))}
    return _closing(c, purpose, Lot(all_concerns(aircraft, behind)), behind, entries)


def _closing(
    c: Closure,
    purpose: str,
    lot: Lot,
    behind: Behind,
    entries: dict[str, list[LedgerEntry]],
) -> Closing:
    mine = entries.get(override_scope(c), [])
    overrides = [_override(e) for e in mine]
    kind = "permanent" if c.permanent else "removable"
    bays = behind.bays[c.slug]
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
