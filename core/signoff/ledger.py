"""The ledger: entries chained by hash, and the check of the chain.

It proves order and integrity, not identity: who was at the keyboard rests on sign-in. A
chain cannot see its own end cut off, nor a whole chain built anew; a witness (the head
that was printed or handed over) can.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from core.basis.refused import Refused, choice
from core.signoff.canonical import canonical_hash

START = "0" * 64
KINDS = (
    "signature",
    "refusal",
    "override",
    "withdrawal",
    "resolution",
    "deviation",
    "acceptance",
)
OUT_OF_ORDER = "missing or out of order"
BROKEN = "does not follow the entry before"
ALTERED = "altered"
CUT_OFF = "ledger ends before the witnessed entry"
REBUILT = "not the witnessed entry"


@dataclass(frozen=True)
class Verified:
    """Whether the chain holds: its head and length, or the first fault and where."""

    ok: bool
    head: str
    entries: int
    seq: int | None = None
    fault: str | None = None


def entry_hash(body: Any, kind: str, prev: str, seq: int) -> str:
    """SHA-256 of the canonical `{"body","kind","prev","seq"}`. Refuses an unknown kind."""
    choice(kind, KINDS, "kind")
    return canonical_hash({"body": body, "kind": kind, "prev": prev, "seq": seq}, "body")


def verify(
    entries: Sequence[Mapping[str, Any]], witness: Mapping[str, Any] | None = None
) -> Verified:
    """Check the chain from its start; the first fault only.

    entries: `{"body","kind","prev","seq","hash"}` in order. witness: `{"seq","hash"}` of a
    head seen earlier. Refuses entries or a witness without these fields.
    """
    prev = START
    for i, entry in enumerate(entries):
        _has(entry, ("body", "kind", "prev", "seq", "hash"), f"ledger.{i}")
        fault = _fault(entry, i + 1, prev)
        if fault:
            return Verified(False, prev, i, i + 1, fault)
        prev = str(entry["hash"])
    if witness is not None:
        _has(witness, ("seq", "hash"), "witness")
        seq = witness["seq"]
        if isinstance(seq, bool) or not isinstance(seq, int):
            raise Refused("witness.seq", "must be a whole number")
        if seq > len(entries):
            return Verified(False, prev, len(entries), seq, CUT_OFF)
        if seq < 1 or entries[seq - 1]["hash"] != witness["hash"]:
            return Verified(False, prev, len(entries), seq, REBUILT)
    return Verified(True, prev, len(entries))


def _fault(entry: Mapping[str, Any], seq: int, prev: str) -> str | None:
    if entry["seq"] != seq:
        return OUT_OF_ORDER
    if entry["prev"] != prev:
        return BROKEN
    try:
        same = entry_hash(entry["body"], entry["kind"], prev, seq) == entry["hash"]
    except Refused:
        same = False
    return None if same else ALTERED


def _has(thing: Any, fields: Sequence[str], where: str) -> None:
    if not isinstance(thing, Mapping):
        raise Refused(where, f"must have {', '.join(fields)}")
    for field in fields:
        if field not in thing:
            raise Refused(f"{where}.{field}", "is missing")
