"""How each scope of an aircraft stands, in two queries: fresh, stale, one of two, not signed."""

from __future__ import annotations

import json
from collections import defaultdict

from server.signoff.facts import compare
from server.signoff.models import LedgerEntry, ScopeState


def standing(aircraft: list[int], scopes: list[str] | None = None) -> dict[tuple[int, str], str]:
    """(Aircraft, scope) to state, of these scopes or all.

    `fresh`: two persons' signatures hold, one of them independent.
    Who may sign as independent is decided when signing; any work after it changes a fact
    and makes the signature stale, so that two that hold are two after the last work.
    """
    signed: dict[tuple[int, str], list[LedgerEntry]] = defaultdict(list)
    rows = LedgerEntry.objects.filter(aircraft__in=aircraft, kind="signature").select_related("by")
    kept = ScopeState.objects.filter(aircraft__in=aircraft)
    if scopes is not None:
        rows, kept = rows.filter(scope__in=scopes), kept.filter(scope__in=scopes)
    for entry in rows:
        signed[entry.aircraft_id, entry.scope].append(entry)
    states = {(s.aircraft_id, s.scope): s.facts for s in kept}
    return {key: _state(entries, states.get(key, {})) for key, entries in signed.items()}


def _state(entries: list[LedgerEntry], facts: dict[str, str]) -> str:
    bodies = [(e.by_id, json.loads(e.body)) for e in entries]
    fresh = [(by, b["role"]) for by, b in bodies if not compare(b, facts).stale]
    if len({by for by, _ in fresh}) >= 2 and any(role == "independent" for _, role in fresh):
        return "fresh"
    if fresh:
        return "inspected" if fresh[-1][1] == "independent" else "signed by the builder alone"
    return "stale"
