"""What changed since a signature, fact by fact and field by field, from and to."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from server.aircraft.models import Aircraft
from server.signoff.facts import compare, seen
from server.signoff.models import FactRevision, LedgerEntry, ScopeState
from server.signoff.shapes import EntryShown, FactChange, FieldChange


def entries_shown(aircraft: Aircraft, entries: list[LedgerEntry]) -> list[EntryShown]:
    """Ledger entries with freshness and changes, in a bounded number of queries."""
    states = {s.scope: s.facts for s in ScopeState.objects.filter(aircraft=aircraft)}
    bodies = {e.seq: json.loads(e.body) for e in entries}
    wanted: set[str] = set()
    for e in entries:
        if e.kind == "signature":
            state = states.get(e.scope, {})
            found = compare(bodies[e.seq], state)
            signed = {f["id"]: f["hash"] for f in bodies[e.seq]["facts"]}
            wanted |= {signed[i] for i in (*found.changed, *found.removed)}
            wanted |= {state[i] for i in (*found.changed, *found.added)}
    values = {
        r.hash: json.loads(r.v)
        for r in FactRevision.objects.filter(aircraft=aircraft, hash__in=wanted)
    }
    return [_shown(e, bodies[e.seq], states.get(e.scope, {}), values) for e in entries]


def _shown(
    e: LedgerEntry, body: dict[str, Any], state: dict[str, str], values: dict[str, Any]
) -> EntryShown:
    changes: list[FactChange] = []
    if e.kind == "signature":
        changes = _changes(body, state, values)
    return EntryShown(
        seq=e.seq,
        kind=e.kind,
        scope=e.scope,
        person=e.by.slug,
        name=e.by.name,
        role=body.get("role", ""),
        statement=body.get("statement", ""),
        reason=body.get("reason", ""),
        at=body.get("at", ""),
        hash=e.hash,
        facts=len(body.get("facts", [])),
        fresh=not changes,
        changes=changes,
    )


def _changes(
    body: dict[str, Any], state: dict[str, str], values: dict[str, Any]
) -> list[FactChange]:
    found = compare(body, state)
    signed = {f["id"]: f["hash"] for f in body["facts"]}
    changes = []
    for fact in found.changed:
        was, now = values.get(signed[fact]), values.get(state[fact])
        changes.append(
            FactChange(
                id=fact, name=_name(fact, now or was), change="changed", fields=_fields(was, now)
            )
        )
    for fact in found.removed:
        was = values.get(signed[fact])
        changes.append(
            FactChange(id=fact, name=_name(fact, was), change="removed", fields=_fields(was, None))
        )
    for fact in found.added:
        now = values.get(state[fact])
        changes.append(
            FactChange(id=fact, name=_name(fact, now), change="added", fields=_fields(None, now))
        )
    return changes


def since_seen(aircraft: Aircraft, scope: str, looked_at: Mapping[str, str]) -> list[str]:
    """What of a scope is not as it was looked at, each in words; empty where all is."""
    now = seen(aircraft, scope)
    other = [i for i in sorted({*now, *looked_at}) if now.get(i) != looked_at.get(i)]
    if not other:
        return []
    rows = FactRevision.objects.filter(aircraft=aircraft, fact__in=other).order_by("rev")
    values = {r.fact: json.loads(r.v) for r in rows}
    said = []
    for i in other:
        word = "is new" if i not in looked_at else "changed" if i in now else "is gone"
        said.append(f"{_name(i, values.get(i))} {word}")
    return said


def _name(fact: str, value: Any) -> str:
    kind = fact.partition("/")[0]
    name = value.get("name", fact) if isinstance(value, dict) else fact
    return f"{kind}: {name}"


def _fields(was: Any, now: Any) -> list[FieldChange]:
    """Fields that differ; for one side alone, those that tell most."""
    if was is None or now is None:
        one = was or now or {}
        keys = [k for k in ("as_typed", "asked", "verdict", "right_way") if k in one]
        return [FieldChange(field=k, was=_text(was, k), now=_text(now, k)) for k in keys]
    keys = [k for k in sorted({*was, *now}) if was.get(k) != now.get(k)]
    return [FieldChange(field=k, was=_text(was, k), now=_text(now, k)) for k in keys]


def _text(value: Any, key: str) -> str:
    return "" if value is None else in_words(value.get(key))


def in_words(item: Any) -> str:
    """Anything a fact may hold as a person reads it; empty members are left out."""
    if item is None:
        return ""
    if isinstance(item, bool):
        return "yes" if item else "no"
    if isinstance(item, Mapping):
        told = ((str(k).replace("_", " "), in_words(v)) for k, v in item.items())
        return ", ".join(f"{k} {v}" for k, v in told if v)
    if isinstance(item, list | tuple):
        return ", ".join(in_words(i) for i in item)
    return str(item)
