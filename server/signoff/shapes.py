"""What the API says of signatures and the ledger."""

from __future__ import annotations

from typing import Literal, TypedDict


class FieldChange(TypedDict):
    """One field of a fact, from what was signed to what is there now."""

    field: str
    was: str
    now: str


class FactChange(TypedDict):
    """A fact that changed, went or came since a signature."""

    id: str
    name: str
    change: Literal["changed", "removed", "added"]
    fields: list[FieldChange]


class EntryShown(TypedDict):
    """One entry of the ledger; `fresh` and `changes` for signatures."""

    seq: int
    kind: str
    scope: str
    person: str
    name: str
    role: str
    statement: str
    reason: str
    at: str
    hash: str
    facts: int
    fresh: bool
    changes: list[FactChange]


class Head(TypedDict):
    """Number and hash of the last entry: write it down, it witnesses the ledger."""

    seq: int
    hash: str


class SignState(TypedDict):
    """Signatures on one scope, and what you may do here now.

    `seen`: the state of every fact here, to be sent back with a signature.
    """

    scope: str
    entries: list[EntryShown]
    can: list[Literal["done", "inspected", "refuse"]]
    why_not: list[str]
    dual_ok: bool
    dual: str
    head: Head
    seen: dict[str, str]


class LedgerShown(TypedDict):
    """The ledger of an aircraft, newest first."""

    count: int
    results: list[EntryShown]
    head: Head


class Fault(TypedDict):
    """Something that does not hold, named."""

    where: str
    fault: str


class Checked(TypedDict):
    """The check of a ledger and of the facts that its signatures cover."""

    ok: bool
    entries: int
    facts: int
    head: Head
    faults: list[Fault]
