"""Rule book: canonical form, signatures, the ledger, gates, documents and directives."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date, datetime
from typing import Any

from core.basis.refused import Refused
from core.rulebook.fields import Field
from core.rulebook.rules.entry import Entry
from core.signoff.canonical import canonical_bytes, canonical_hash
from core.signoff.directive import Directive, Limits, standing
from core.signoff.documents import Statement, compare_sources
from core.signoff.dual import Signed, dual_inspection
from core.signoff.gate import Gate, Item, Override, gate
from core.signoff.ledger import verify
from core.signoff.signature import Fact, freshness, signature_body


def _need(thing: Any, field: str, *names: str) -> dict[str, Any]:
    if not isinstance(thing, dict):
        raise Refused(field, "must be an object")
    for name in names:
        if thing.get(name) is None:
            raise Refused(f"{field}.{name}", "is needed")
    return thing


def _only(thing: dict[str, Any], field: str, names: tuple[str, ...]) -> dict[str, Any]:
    """The object, if it has no other keys: a misspelt limit must not be passed over."""
    for name in thing:
        if name not in names:
            raise Refused(f"{field}.{name}", f"is not known here; known are {', '.join(names)}")
    return thing


def _facts(items: list[Any]) -> list[Fact]:
    kept = (_need(f, f"facts.{i}", "id", "rev", "v") for i, f in enumerate(items))
    return [Fact(f["id"], f["rev"], f["v"]) for f in kept]


def _canonical(x: dict[str, Any]) -> dict[str, Any]:
    value = x.get("value")
    return {"text": canonical_bytes(value).decode(), "sha256": canonical_hash(value)}


def _sign(x: dict[str, Any]) -> dict[str, Any]:
    body = signature_body(
        _facts(x["facts"]), x["scope"], x["by"], x["role"], x["at"], x["statement"]
    )
    return {"sha256": canonical_hash(body), "body": body}


def _freshness(x: dict[str, Any]) -> dict[str, Any]:
    f = freshness(_need(x["body"], "body", "facts"), _facts(x["facts"]))
    return {"stale": f.stale} | {k: list(v) for k, v in asdict(f).items()}


def _verify(x: dict[str, Any]) -> dict[str, Any]:
    v = verify(x["ledger"], x.get("witness"))
    if v.ok:
        return {"ok": True, "head": v.head, "entries": v.entries}
    return {"ok": False, "seq": v.seq, "fault": v.fault}


def _time(text: Any, field: str) -> datetime:
    try:
        return datetime.fromisoformat(str(text).replace("Z", "+00:00"))
    except ValueError:
        raise Refused(field, "must be a date and time") from None


def _dual(x: dict[str, Any]) -> dict[str, Any]:
    signed = []
    for i, s in enumerate(x["signatures"]):
        _need(s, f"signatures.{i}", "at")
        person = s.get("person") or s.get("by")
        if not person:
            raise Refused(f"signatures.{i}.person", "is needed")
        fresh = s.get("fresh", not s.get("stale", False))
        signed.append(Signed(str(person), _time(s["at"], f"signatures.{i}.at"), bool(fresh)))
    done = _time(x["work_done_at"], "work_done_at")
    for i, one in enumerate(signed):
        if (one.at.tzinfo is None) != (done.tzinfo is None):
            raise Refused(f"signatures.{i}.at", "needs a zone, like the time of the work")
    d = dual_inspection(signed, x["workers"], done)
    if d.ok:
        return {"ok": True, "first": d.first, "second": d.second}
    return {"ok": False, "reason": d.reason}


def _gate(x: dict[str, Any]) -> dict[str, Any]:
    closure = _need(x["closure"], "closure", "kind", "purpose")
    items = [
        Item(
            i["step"],
            i["id"],
            i["state"],
            i.get("owner") or "nobody",
            i.get("critical") or "",
            tuple(i.get("workers") or ()),
        )
        for i in (_need(t, f"items.{n}", "step", "id", "state") for n, t in enumerate(x["items"]))
    ]
    overrides = [
        Override(
            str(o.get("person") or ""),
            str(o.get("reason") or ""),
            tuple(o.get("blockers", ())),
            str(o.get("second") or ""),
        )
        for o in x.get("overrides", [])
    ]
    return _shown_gate(gate(closure["kind"], closure["purpose"], items, overrides))


def _shown_gate(g: Gate) -> dict[str, Any]:
    return {
        "state": g.state,
        "blockers": [_shown_item(i) for i in g.blockers],
        "overridden": [_shown_item(i) | {"by": by} for i, by in g.overridden],
        "carried": [_shown_item(i) for i in g.carried],
    }


def _shown_item(i: Item) -> dict[str, str]:
    return {"step": i.step, "id": i.id, "state": i.state, "owner": i.owner}


def _compare(x: dict[str, Any]) -> dict[str, Any]:
    statements = []
    for i, s in enumerate(x["statements"]):
        _need(s, f"statements.{i}", "source", "kind")
        counted = s.get("value")
        lo, hi = (counted, counted) if counted is not None else (s.get("lo"), s.get("hi"))
        if lo is None or hi is None:
            raise Refused(f"statements.{s['source']}", "needs both limits")
        statements.append(
            Statement(s["source"], s["kind"], lo, hi, s.get("unit", ""), s.get("resolution", 0.0))
        )
    return {
        "value": [
            asdict(p) | {"both": None if p.both is None else list(p.both)}
            for p in compare_sources(statements)
        ]
    }


def _day(text: Any, field: str) -> date | None:
    try:
        return None if text is None else date.fromisoformat(text)
    except (ValueError, TypeError):
        raise Refused(field, "must be a date, YYYY-MM-DD") from None


def _limits(thing: Any, field: str) -> Limits | None:
    if thing is None:
        return None
    _only(_need(thing, field), field, ("hours", "date", "months"))
    return Limits(thing.get("hours"), _day(thing.get("date"), f"{field}.date"), thing.get("months"))


DIRECTIVE = ("applies", "first", "interval", "done", "warn_hours", "warn_days", "deviation")
DEVIATION = ("approved_by", "reference", "date", "reason")


def _directive(x: dict[str, Any]) -> dict[str, Any]:
    d = _only(x["d"], "d", DIRECTIVE)
    if d.get("deviation") is not None:
        _only(_need(d["deviation"], "d.deviation"), "d.deviation", DEVIATION)
    today = _day(x["today"], "today")
    assert today is not None
    s = standing(
        Directive(
            d.get("applies", ()),
            _limits(d.get("first"), "d.first"),
            _limits(d.get("interval"), "d.interval"),
            _limits(d.get("done"), "d.done"),
            d.get("warn_hours", 0.0),
            d.get("warn_days", 0),
            d.get("deviation"),
        ),
        x["aircraft"],
        today,
        x["hours"],
    )
    if s.applies == "no":
        return {"applies": s.applies, "state": s.state}
    return asdict(s) | {"due_date": s.due_date.isoformat() if s.due_date else None}


FACTS = Field("facts", "list", "{id, rev, v}: the facts of the scope.", True)
LOCAL_RULES = "Who may sign, and which work needs it, is set by local regulations."

ENTRIES = (
    Entry(
        "signoff.canonical_hash",
        "Canonical form and hash",
        "The exact bytes that stand for a value, and their SHA-256.",
        (Field("value", "any", "Any JSON value."),),
        (Field("text", "text", "Canonical JSON."), Field("sha256", "text", "Its hash.")),
        _canonical,
        "RFC 8785 (JCS), FIPS 180-4.",
        "Whole numbers within 2^53 - 1; no NaN; text in Unicode NFC when entered.",
    ),
    Entry(
        "signoff.sign",
        "The body of a signature",
        "Which facts a signature covers, and the hash that stands for them.",
        (
            FACTS,
            Field("scope", "text", "What chose the facts.", True),
            Field("by", "text", "Person.", True),
            Field("role", "text", "In which role.", True),
            Field("at", "text", "UTC, YYYY-MM-DDThh:mm:ssZ.", True),
            Field("statement", "text", "What the person says.", True),
        ),
        (Field("sha256", "text", "Hash of the body."), Field("body", "object", "The body.")),
        _sign,
        "RFC 8785, FIPS 180-4, RFC 3339.",
        "The order of the facts does not matter.",
        LOCAL_RULES,
    ),
    Entry(
        "signoff.freshness",
        "Is a signature still true?",
        "What changed, went or came since it was signed.",
        (Field("body", "object", "The signature's body.", True), FACTS),
        (
            Field("stale", "flag", "Something differs."),
            Field("changed", "list", "Facts with another value or revision."),
            Field("removed", "list", "Facts that are gone."),
            Field("added", "list", "Facts that came since."),
        ),
        _freshness,
        "RFC 8785, FIPS 180-4.",
        "A value changed and changed back is stale: it was disturbed in between.",
    ),
    Entry(
        "signoff.verify_ledger",
        "Check of the ledger",
        "Is the chain whole, and does it hold the entry that was witnessed?",
        (
            Field("ledger", "list", "Entries {body, kind, prev, seq, hash}.", True),
            Field("witness", "object", "{seq, hash} of a head seen earlier."),
        ),
        (
            Field("ok", "flag", "The chain holds."),
            Field("head", "text", "Hash of the last entry."),
            Field("entries", "integer", "How many."),
            Field("seq", "integer", "Where the first fault is."),
            Field("fault", "text", "What it is."),
        ),
        _verify,
        "FIPS 180-4 hash chain.",
        "Order and integrity, not identity. Without a witness a cut end goes unseen.",
    ),
    Entry(
        "signoff.dual_inspection",
        "Two persons for flight controls",
        "Have two persons signed after the work, one of them independent of it?",
        (
            Field("signatures", "list", "{person, at, fresh}.", True),
            Field("workers", "list", "Persons who did the work.", True),
            Field("work_done_at", "text", "When the last work ended.", True),
        ),
        (
            Field("ok", "flag", "Both inspections stand."),
            Field("reason", "text", "Why not."),
            Field("first", "text", "Person."),
            Field("second", "text", "The independent person."),
        ),
        _dual,
        "Common practice, and law in some places.",
        "Persons, not accounts.",
        LOCAL_RULES,
    ),
    Entry(
        "signoff.gate",
        "The gate of a closure",
        "May it be closed over what is behind it, and what stands in the way?",
        (
            Field("closure", "object", "{id, kind, purpose}.", True),
            Field("items", "list", "{step, id, state, owner}.", True),
            Field("overrides", "list", "{person, reason, blockers}."),
        ),
        (
            Field("state", "text", "blocked, overridden, carried or ready."),
            Field("blockers", "list", "What stands in the way, in order."),
            Field("overridden", "list", "What was taken on by a named person."),
            Field("carried", "list", "What a temporary closing carries."),
        ),
        _gate,
        "Inspection before closing is common practice, and law in some places.",
        "An override covers exactly the blockers it lists.",
        "You are closing over something that is not done. If it is a flight control or a fuel"
        " line, get a second person to look before you do.",
    ),
    Entry(
        "signoff.compare_sources",
        "Do documents agree?",
        "Every pair of statements on one quantity.",
        (Field("statements", "list", "{source, kind, lo, hi, unit, resolution}, SI.", True),),
        (Field("value", "list", "{a, b, result, both} for each pair."),),
        _compare,
        "Comparison of closed ranges; rounding in conversion allowed for.",
        "All but agree are conflicts.",
    ),
    Entry(
        "signoff.directive",
        "Bulletins and directives",
        "Does it apply, and when is it due?",
        (
            Field(
                "d",
                "object",
                "applies, first, interval, done, warn_hours, warn_days, deviation.",
                True,
            ),
            Field("aircraft", "object", "The aircraft's facts.", True),
            Field("today", "text", "YYYY-MM-DD.", True),
            Field("hours", doc="Hours run.", required=True),
        ),
        (
            Field("applies", "text", "yes, no or not known."),
            Field("state", "text", "Where it stands."),
            Field("due_hours", doc="Due at these hours."),
            Field("due_date", "text", "Due on this day."),
            Field("left_hours", doc="Hours left."),
            Field("left_days", "integer", "Days left."),
        ),
        _directive,
        "The directive's own text stands above this.",
        "Wordings by calendar month run to the month's last day: enter that date.",
        "Compliance is the owner's and the authority's matter.",
    ),
)
