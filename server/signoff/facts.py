"""Facts and their revisions, scopes and whether what was signed in them still holds."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from core.signoff.canonical import canonical_bytes
from core.signoff.signature import Fact, Freshness
from server.aircraft.models import Aircraft
from server.config.bounds import AT_ONCE
from server.signoff.models import FactRevision, LedgerEntry, ScopeState

Values = Sequence[tuple[str, Any]]
Whole = Callable[[], Values] | None


@dataclass(frozen=True)
class ScopeKind:
    """How a capability answers for its scopes (`control:elevator` is of kind `control`).

    `today`: scope -> facts (id, value) of one aircraft, recomputed from its rows.
    `earlier`: facts' earlier revisions that still stand as rows: (id, rev, value).
    """

    today: Callable[[Aircraft], dict[str, Values]]
    earlier: Callable[[Aircraft], Iterable[tuple[str, int, Any]]]


_kinds: dict[str, ScopeKind] = {}


def register(kind: str, answers: ScopeKind) -> None:
    """Let sign-off know a kind of scope."""
    _kinds[kind] = answers


def kinds() -> Iterable[ScopeKind]:
    """All kinds of scope known."""
    return _kinds.values()


def keep(aircraft: Aircraft, scope: str, values: Values, whole: Whole = None) -> None:
    """Write new revisions of what changed and the scope's state, in the caller's transaction.

    `values`: all facts of the scope. Or, with `whole`, those alone that may have changed: the
    others stay as they were kept; where nothing was kept yet, `whole` tells all of them.
    """
    kept = ScopeState.objects.filter(aircraft=aircraft, scope=scope).first()
    if whole is not None and kept is None:
        values = whole()
    ids = [i for i, _ in values]
    revisions = FactRevision.objects.filter(aircraft=aircraft, fact__in=ids)
    newest = revisions.order_by("fact", "-rev").distinct("fact")
    latest = {r.fact: r for r in newest.values_list("fact", "rev", "v", "hash", named=True)}
    fresh: list[FactRevision] = []
    state: dict[str, str] = dict(kept.facts) if kept and whole else {}
    for fact_id, v in values:
        known = latest.get(fact_id)
        if known is not None and known.v in _texts(v):
            state[fact_id] = known.hash
            continue
        text = canonical_bytes(v).decode()
        rev = known.rev + 1 if known else 1
        digest = Fact(fact_id, rev, v).hash
        state[fact_id] = digest
        fresh.append(FactRevision(aircraft=aircraft, fact=fact_id, rev=rev, v=text, hash=digest))
    if fresh:
        FactRevision.objects.bulk_create(fresh, batch_size=AT_ONCE)
    if kept is None:
        ScopeState.objects.create(aircraft=aircraft, scope=scope, facts=state)
    elif kept.facts != state:
        # Only a change is saved: who follows the scope is not called for nothing.
        kept.facts = state
        kept.save(update_fields=["facts"])


def _texts(v: Any) -> Iterator[str]:
    """The canonical text; before it a plain one, nearly always the same and much sooner made.
    Where that differs it equals no text that was ever kept."""
    yield json.dumps(v, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    yield canonical_bytes(v).decode()


# As much of a fact's hash as tells one state of it from another.
SEEN = 16


def seen(aircraft: Aircraft, scope: str) -> dict[str, str]:
    """The state of a scope as it is shown: it comes back with a signature, and must still hold."""
    state = ScopeState.objects.filter(aircraft=aircraft, scope=scope).first()
    return {} if state is None else {i: h[:SEEN] for i, h in sorted(state.facts.items())}


def facts_now(aircraft: Aircraft, scope: str) -> list[Fact]:
    """The scope's facts as last kept, with their revisions."""
    state = ScopeState.objects.filter(aircraft=aircraft, scope=scope).first()
    if state is None:
        return []
    rows = FactRevision.objects.filter(aircraft=aircraft, hash__in=state.facts.values())
    return [Fact(r.fact, r.rev, json.loads(r.v)) for r in rows]


def compare(body: dict[str, Any], state: dict[str, str]) -> Freshness:
    """A signature's body against a scope's state (id to hash)."""
    signed = {f["id"]: f["hash"] for f in body["facts"]}
    return Freshness(
        tuple(sorted(i for i in signed if i in state and state[i] != signed[i])),
        tuple(sorted(i for i in signed if i not in state)),
        tuple(sorted(i for i in state if i not in signed)),
    )


def stale_scopes(aircraft: list[int]) -> set[tuple[int, str]]:
    """Scopes with a last signature that no longer holds: (aircraft, scope)."""
    last: dict[tuple[int, str], LedgerEntry] = {}
    for entry in LedgerEntry.objects.filter(aircraft__in=aircraft, kind="signature"):
        last[entry.aircraft_id, entry.scope] = entry
    states = {
        (s.aircraft_id, s.scope): s.facts for s in ScopeState.objects.filter(aircraft__in=aircraft)
    }
    return {
        key
        for key, entry in last.items()
        if compare(json.loads(entry.body), states.get(key, {})).stale
    }
