"""The gate of a closure: may it be closed over what is behind it?

Every step is evaluated, in one fixed order, from the items behind the closure; what does
not pass is a blocker with its owner. An override covers exactly the blockers it lists.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from core.basis.checks import STEPS
from core.basis.refused import Refused, choice
from core.signoff.canonical import canonical_hash

LEAST_REASON = 10
CRITICAL = ("flight control", "fuel line")


@dataclass(frozen=True, slots=True)
class Item:
    """One thing behind the closure, with who owns it ("nobody" if no one).

    critical: flight control or fuel line, where one person's decision does not suffice;
    workers: who did the work on it.
    """

    step: str
    id: str
    state: str
    owner: str = "nobody"
    critical: str = ""
    workers: tuple[str, ...] = ()

    @property
    def passes(self) -> bool:
        """Whether this item stands in the way of nothing."""
        return self.state in STEPS[self.step]

    @property
    def hash(self) -> str:
        """SHA-256 of the canonical `{id, owner, state, step}`: what an override covers."""
        return _hash(self)


@lru_cache(maxsize=16384)
def _hash(item: Item) -> str:
    """The same item has the same hash: a large gate asks for hundreds again and again."""
    covered = {"id": item.id, "owner": item.owner, "state": item.state, "step": item.step}
    return canonical_hash(covered, "items")


@dataclass(frozen=True)
class Override:
    """A named person's decision to close over these blockers (by hash), and why."""

    person: str
    reason: str
    blockers: tuple[str, ...]
    second: str = ""


@dataclass(frozen=True)
class Gate:
    """State (blocked, overridden, carried, ready) and the items that make it."""

    state: str
    blockers: tuple[Item, ...]
    overridden: tuple[tuple[Item, str], ...]
    carried: tuple[Item, ...]


def gate(
    kind: str, purpose: str, items: Sequence[Item], overrides: Sequence[Override] = ()
) -> Gate:
    """The gate of a closure of `kind` (permanent, removable) for `purpose` (final, temporary).

    Refuses a permanent closure put on temporarily, an unknown step, no tool count at all,
    an override without a named person or with a reason under 10 characters, and one of a
    flight control or fuel line that does not name two persons, one of them not a worker.
    """
    _check(kind, purpose, items, overrides)
    rank = {step: n for n, step in enumerate(STEPS)}
    failing = sorted((i for i in items if not i.passes), key=lambda i: rank[i.step])
    carried: list[Item] = []
    if purpose == "temporary":
        carried = [i for i in failing if i.step != "count"]
        failing = [i for i in failing if i.step == "count"]
    by = {h: o.person for o in overrides for h in o.blockers}
    # Hashing is only needed where there is an override to match.
    covered = {i: by[i.hash] for i in failing if i.hash in by} if by else {}
    for item in covered:
        _two_persons(item, [o for o in overrides if item.hash in o.blockers])
    blockers = tuple(i for i in failing if i not in covered) if covered else tuple(failing)
    overridden = tuple((i, covered[i]) for i in failing if i in covered) if covered else ()
    state = "ready"
    if blockers:
        state = "blocked"
    elif overridden:
        state = "overridden"
    elif carried:
        state = "carried"
    return Gate(state, blockers, overridden, tuple(carried))


def _two_persons(item: Item, overrides: Sequence[Override]) -> None:
    """What is critical is taken on by two, of whom one did none of the work."""
    if not item.critical:
        return
    if not item.workers:
        raise Refused("items.workers", "nobody is recorded as having done the work")
    for o in overrides:
        pair = {o.person.strip(), o.second.strip()} - {""}
        if len(pair) == 2 and pair - set(item.workers):
            return
    raise Refused(
        "override.person",
        "a flight control or fuel line needs two persons, one of whom did none of the work",
    )


def _check(kind: str, purpose: str, items: Sequence[Item], overrides: Sequence[Override]) -> None:
    choice(kind, ("permanent", "removable"), "closure.kind")
    choice(purpose, ("final", "temporary"), "closure.purpose")
    if kind == "permanent" and purpose == "temporary":
        raise Refused("closure.purpose", "a permanent closure cannot be put on temporarily")
    for item in items:
        if item.step not in STEPS:
            raise Refused("items.step", f"{item.step!r} is not a step of the gate")
        if item.critical:
            choice(item.critical, CRITICAL, "items.critical")
    for override in overrides:
        if not override.person.strip():
            raise Refused("override.person", "must be a named person")
        if len(override.reason.strip()) < LEAST_REASON:
            raise Refused("override.reason", f"must say why, in {LEAST_REASON} characters or more")
    if not any(i.step == "count" for i in items):
        raise Refused("items.count", "tools and loose objects have not been counted")
