"""Rule book: sign-off, whose pages speak of plain JSON rather than of the core's own shapes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from core.basis.forms import ABSENT
from core.basis.refused import Refused
from core.basis.rules import rule
from core.signoff.canonical import canonical_bytes, canonical_hash
from core.signoff.dual import Signed, dual_inspection
from core.signoff.gate import Item, Override, gate
from core.signoff.ledger import verify
from core.signoff.signature import Fact, freshness, signature_body

LOCAL_RULES = "Who may sign, and which work needs it, is set by local regulations."
FACTS = "{id, rev, v}: the facts of the scope."


@dataclass(frozen=True)
class Canonical:
    """The bytes that stand for a value."""

    text: Annotated[str, "Canonical JSON."]
    sha256: Annotated[str, "Its hash."]


@rule(
    "signoff.canonical_hash",
    title="Canonical form and hash",
    purpose="The exact bytes that stand for a value, and their SHA-256.",
    source="RFC 8785 (JCS), FIPS 180-4.",
    validity="Whole numbers within 2^53 - 1; no NaN; text in Unicode NFC when entered.",
)
def canonical(value: Annotated[Any, "Any JSON value."] = None) -> Canonical:
    """Text and hash of any JSON value."""
    return Canonical(canonical_bytes(value).decode(), canonical_hash(value))


@dataclass(frozen=True)
class FactIn:
    """A fact: what it is called, its revision, its value."""

    id: Annotated[str, "What it is called."]
    rev: Annotated[int, "Revision."]
    v: Annotated[Any, "Its value."]


def _facts(facts: tuple[FactIn, ...]) -> list[Fact]:
    return [Fact(f.id, f.rev, f.v) for f in facts]


@dataclass(frozen=True)
class SignatureBody:
    """What is signed."""

    sha256: Annotated[str, "Hash of the body."]
    body: Annotated[dict[str, Any], "The body."]


@rule(
    "signoff.sign",
    title="The body of a signature",
    purpose="Which facts a signature covers, and the hash that stands for them.",
    source="RFC 8785, FIPS 180-4, RFC 3339.",
    validity="The order of the facts does not matter.",
    caution=LOCAL_RULES,
)
def sign(
    facts: Annotated[tuple[FactIn, ...], FACTS],
    scope: Annotated[str, "What chose the facts."],
    by: Annotated[str, "Person."],
    role: Annotated[str, "In which role."],
    at: Annotated[str, "UTC, YYYY-MM-DDThh:mm:ssZ."],
    statement: Annotated[str, "What the person says."],
) -> SignatureBody:
    """`signature_body` with its hash."""
    body = signature_body(_facts(facts), scope, by, role, at, statement)
    return SignatureBody(canonical_hash(body), body)


@dataclass(frozen=True)
class Fresh:
    """Whether a signature still holds, and what differs."""

    stale: Annotated[bool, "Something differs."]
    changed: Annotated[tuple[str, ...], "Facts with another value or revision."]
    removed: Annotated[tuple[str, ...], "Facts that are gone."]
    added: Annotated[tuple[str, ...], "Facts that came since."]


@rule(
    "signoff.freshness",
    title="Is a signature still true?",
    purpose="What changed, went or came since it was signed.",
    source="RFC 8785, FIPS 180-4.",
    validity="A value changed and changed back is stale: it was disturbed in between.",
)
def still_true(
    body: Annotated[dict, "The signature's body."],  # type: ignore[type-arg]
    facts: Annotated[tuple[FactIn, ...], FACTS],
) -> Fresh:
    """`freshness` as the page has it."""
    f = freshness(body, _facts(facts))
    return Fresh(f.stale, f.changed, f.removed, f.added)


@dataclass(frozen=True)
class Whole:
    """The chain holds."""

    head: Annotated[str, "Hash of the last entry."]
    entries: Annotated[int, "How many."]
    ok: Annotated[bool, "The chain holds."] = True


@dataclass(frozen=True)
class Broken:
    """The first fault of the chain."""

    seq: Annotated[int | None, "Where the first fault is."]
    fault: Annotated[str | None, "What it is."]
    ok: Annotated[bool, "The chain holds."] = False


@rule(
    "signoff.verify_ledger",
    title="Check of the ledger",
    purpose="Is the chain whole, and does it hold the entry that was witnessed?",
    source="FIPS 180-4 hash chain.",
    validity="Order and integrity, not identity. Without a witness a cut end goes unseen.",
)
def verified(
    ledger: Annotated[list, "Entries {body, kind, prev, seq, hash}."],  # type: ignore[type-arg]
    witness: Annotated[
        dict | None, "{seq, hash} of a head seen earlier."  # type: ignore[type-arg]
    ] = None,
) -> Whole | Broken:
    """`verify` as the page has it."""
    v = verify(ledger, witness)
    return Whole(v.head, v.entries) if v.ok else Broken(v.seq, v.fault)


@dataclass(frozen=True)
class SignatureIn:
    """A signature: by whom, when, and whether it still holds."""

    at: Annotated[str, "When."]
    person: Annotated[str | None, "Who."] = None
    by: Annotated[str | None, "Who, by another name."] = None
    fresh: Annotated[bool | None, "It still holds."] = None
    stale: Annotated[bool, "It holds no more."] = False


def _time(text: str, at: str) -> datetime:
    try:
        return datetime.fromisoformat(text.replace("Z", "+00:00"))
    except ValueError:
        raise Refused(at, "must be a date and time") from None


def _signed(s: SignatureIn, at: str) -> Signed:
    person = s.person or s.by
    if not person:
        raise Refused(f"{at}.person", "is needed")
    fresh = not s.stale if s.fresh is None else s.fresh
    return Signed(person, _time(s.at, f"{at}.at"), fresh)


@dataclass(frozen=True)
class Both:
    """Two persons have signed, one independent."""

    first: Annotated[str | None, "Person."]
    second: Annotated[str | None, "The independent person."]
    ok: Annotated[bool, "Both inspections stand."] = True


@dataclass(frozen=True)
class NotBoth:
    """Why both inspections do not stand."""

    reason: Annotated[str | None, "Why not."]
    ok: Annotated[bool, "Both inspections stand."] = False


@rule(
    "signoff.dual_inspection",
    title="Two persons for flight controls",
    purpose="Have two persons signed after the work, one of them independent of it?",
    source="Common practice, and law in some places.",
    validity="Persons, not accounts.",
    caution=LOCAL_RULES,
)
def dual(
    signatures: Annotated[tuple[SignatureIn, ...], "{person, at, fresh}."],
    workers: Annotated[tuple[str, ...], "Persons who did the work."],
    work_done_at: Annotated[str, "When the last work ended."],
) -> Both | NotBoth:
    """`dual_inspection` as the page has it."""
    signed = [_signed(s, f"signatures.{i}") for i, s in enumerate(signatures)]
    done = _time(work_done_at, "work_done_at")
    for i, one in enumerate(signed):
        if (one.at.tzinfo is None) != (done.tzinfo is None):
            raise Refused(f"signatures.{i}.at", "needs a zone, like the time of the work")
    d = dual_inspection(signed, workers, done)
    return Both(d.first, d.second) if d.ok else NotBoth(d.reason)


@dataclass(frozen=True)
class ClosureIn:
    """The closure: its kind, and what it is put on for."""

    kind: Annotated[str, "permanent or removable."]
    purpose: Annotated[str, "final or temporary."]
    id: Annotated[str, "What it is called."] = ""


@dataclass(frozen=True)
class ItemIn:
    """One thing behind the closure."""

    step: Annotated[str, "The gate's step."]
    id: Annotated[str, "What it is called."]
    state: Annotated[str, "How it stands."]
    owner: Annotated[str, "Whose it is."] = "nobody"
    critical: Annotated[str, "flight control or fuel line."] = ""
    workers: Annotated[tuple[str, ...], "Who did the work."] = ()


@dataclass(frozen=True)
class OverrideIn:
    """A decision to close over blockers."""

    person: Annotated[str, "Who decides."] = ""
    reason: Annotated[str, "Why."] = ""
    blockers: Annotated[tuple[str, ...], "Hashes of what it covers."] = ()
    second: Annotated[str, "A second person, where it is critical."] = ""


@dataclass(frozen=True)
class ItemOut:
    """One thing that does not pass; `by`: who took it on."""

    step: str
    id: str
    state: str
    owner: str
    by: Annotated[str | None, "Who took it on.", ABSENT] = None


@dataclass(frozen=True)
class GateOut:
    """The gate's answer."""

    state: Annotated[str, "blocked, overridden, carried or ready."]
    blockers: Annotated[tuple[ItemOut, ...], "What stands in the way, in order."]
    overridden: Annotated[tuple[ItemOut, ...], "What was taken on by a named person."]
    carried: Annotated[tuple[ItemOut, ...], "What a temporary closing carries."]


def _out(i: Item, by: str | None = None) -> ItemOut:
    return ItemOut(i.step, i.id, i.state, i.owner, by)


@rule(
    "signoff.gate",
    title="The gate of a closure",
    purpose="May it be closed over what is behind it, and what stands in the way?",
    source="Inspection before closing is common practice, and law in some places.",
    validity="An override covers exactly the blockers it lists.",
    caution="You are closing over something that is not done. If it is a flight control or a fuel"
    " line, get a second person to look before you do.",
)
def closing(
    closure: Annotated[ClosureIn, "{id, kind, purpose}."],
    items: Annotated[tuple[ItemIn, ...], "{step, id, state, owner}."],
    overrides: Annotated[tuple[OverrideIn, ...], "{person, reason, blockers}."] = (),
) -> GateOut:
    """`gate` as the page has it."""
    made = [Item(i.step, i.id, i.state, i.owner, i.critical, i.workers) for i in items]
    taken = [Override(o.person, o.reason, o.blockers, o.second) for o in overrides]
    g = gate(closure.kind, closure.purpose, made, taken)
    return GateOut(
        g.state,
        tuple(_out(i) for i in g.blockers),
        tuple(_out(i, by) for i, by in g.overridden),
        tuple(_out(i) for i in g.carried),
    )
