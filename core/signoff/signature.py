"""What a signature covers, and whether it still does.

A fact is `{"id", "rev", "v"}`; `rev` counts up when the canonical `v` changes. A signature
holds the hash of each fact of its scope; it is fresh while the scope has exactly those.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from core.basis.refused import Refused
from core.signoff.canonical import canonical_hash


@dataclass(frozen=True)
class Fact:
    """One thing that a signature can cover: stable id, revision, and its value."""

    id: str
    rev: int
    v: Any

    @property
    def hash(self) -> str:
        """SHA-256 of the canonical `{"id", "rev", "v"}`."""
        return canonical_hash({"id": self.id, "rev": self.rev, "v": self.v}, "facts")


@dataclass(frozen=True)
class Freshness:
    """Ids of facts that changed, went, or came since; stale if there are any."""

    changed: tuple[str, ...]
    removed: tuple[str, ...]
    added: tuple[str, ...]

    @property
    def stale(self) -> bool:
        """True when what was signed is no longer exactly what is there."""
        return bool(self.changed or self.removed or self.added)


def signature_body(
    facts: Sequence[Fact], scope: str, by: str, role: str, at: str, statement: str
) -> dict[str, Any]:
    """The body that is hashed and kept in the ledger.

    Refuses no facts, a fact id twice, blank scope, person, role or statement, and a time
    that is not UTC to the second (RFC 3339, `YYYY-MM-DDThh:mm:ssZ`).
    """
    if not facts:
        raise Refused("facts", "there is nothing to sign")
    ids = [f.id for f in facts]
    twice = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
    if twice is not None:
        raise Refused("facts", f"{twice} is there twice")
    for field, text in (("scope", scope), ("by", by), ("role", role), ("statement", statement)):
        if not isinstance(text, str) or not text.strip():
            raise Refused(field, "must not be blank")
    _check_time(at)
    return {
        "at": at,
        "by": by,
        "facts": [{"hash": f.hash, "id": f.id} for f in sorted(facts, key=lambda f: f.id)],
        "role": role,
        "scope": scope,
        "statement": statement,
    }


def freshness(body: Mapping[str, Any], facts: Sequence[Fact]) -> Freshness:
    """Compare a signature's body with the facts of its scope as they are today.

    Refuses a body whose facts have no id and hash.
    """
    covered = body.get("facts")
    if not isinstance(covered, list):
        raise Refused("body.facts", "must be a list of facts")
    for i, f in enumerate(covered):
        if not isinstance(f, Mapping) or not all(isinstance(f.get(k), str) for k in ("id", "hash")):
            raise Refused(f"body.facts.{i}", "must have an id and a hash")
    signed = {f["id"]: f["hash"] for f in covered}
    today = {f.id: f.hash for f in facts}
    return Freshness(
        tuple(sorted(i for i in signed if i in today and today[i] != signed[i])),
        tuple(sorted(i for i in signed if i not in today)),
        tuple(sorted(i for i in today if i not in signed)),
    )


def _check_time(at: str) -> None:
    if not re.fullmatch(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ", at or "", re.ASCII):
        raise Refused("at", "must be UTC as YYYY-MM-DDThh:mm:ssZ")
    try:
        datetime.fromisoformat(at.replace("Z", "+00:00"))
    except ValueError:
        raise Refused("at", "is not a time that exists") from None
