"""What may be entered of a harness, and what may be done to a wire: refused by the form's field."""

from __future__ import annotations

from core.basis.refused import Refused
from core.wiring.first_power import first_power
from core.wiring.harness import (
    BUNDLE,
    BUS,
    CIRCUIT,
    CONNECTOR,
    DOINGS,
    ROWS,
    WIRE,
    Harness,
    Row,
)
from core.wiring.harness_checks import judged, made_checks, what_is_out

DONE_WORDS = {
    "run": "run", "end_a": "terminated at its start", "end_b": "terminated at its end",
    "tested": "tested", "labelled": "labelled",
}  # fmt: skip


def refuse(h: Harness, row: Row) -> None:
    """Refuses a row that cannot be among the others: by the form's field."""
    if any(r.slug != row.slug and r.name.casefold() == row.name.casefold()
           for r in h.of(row.kind)):  # fmt: skip
        raise Refused("name", f"there is a {row.kind} of that name")
    if row.kind == WIRE:
        if h.named(CIRCUIT, row.values["circuit"]) is None:
            raise Refused("circuit", "is not a circuit here: enter it first")
        start, end = row.end("a"), row.end("b")
        if start is not None and start == end:
            raise Refused("to", "is where it starts")
        for name in row.values.get("bundles", ()):
            if h.named(BUNDLE, name) is None:
                raise Refused("bundles", f"{name} is not a bundle here: enter it first")
    if row.kind == CIRCUIT and row.values.get("bus") and h.named(BUS, row.values["bus"]) is None:
        raise Refused("bus", "is not a bus here: enter it first")
    if row.kind == CONNECTOR and not row.pins:
        raise Refused("pins", "needs at least one")
    for pin in row.values.get("bare", ()) if row.kind == CONNECTOR else ():
        if pin not in row.pins:
            raise Refused("bare", f"{pin} is not a pin of it")
    if row.kind == BUNDLE:
        if row.way_m and len(row.way_m) < 2:
            raise Refused("points", "needs two corners or more")
        for pair in row.values.get("apart", ()):
            if len([p for p in pair.split("/") if p.strip()]) != 2:
                raise Refused("apart", f"{pair}: write two classes, as strobe/audio")
    # What a rule refuses of it, it refuses here.
    try:
        if row.kind == WIRE:
            list(made_checks(h, row))
        judged(h, row)
    except Refused as refusal:
        keys = {f.name: f.key for f in ROWS[row.kind].fields}
        raise Refused(keys.get(refusal.field, refusal.field), refusal.reason) from None


def steps_allowed(row: Row, step: str) -> None:
    """Refuses a step that is none of its kind, one that is done, and a test before the wire is run
    and both ends are on."""
    may = DOINGS.get(row.kind, ())
    if step not in may:
        said = f"must be one of: {', '.join(may)}" if may else f"nothing is done to a {row.kind}"
        raise Refused("doing", said)
    if row.kind != WIRE:
        return
    if step in row.done:
        raise Refused("doing", f"{row.name} is {DONE_WORDS[step]} already")
    if step == "tested" and not {"run", "end_a", "end_b"} <= set(row.done):
        raise Refused("doing", f"{row.name} is not run with both ends on: test it then")


def may_go_in(h: Harness, bus: Row, breaker: str) -> None:
    """Refuses a breaker that is not the next one: while something stands in the way, while the
    last one draws what it should not, or out of its turn. The last one may be read again."""
    found = first_power(h, bus, what_is_out(h))
    if found.blockers:
        raise Refused("breaker", f"no power yet: {found.blockers[0].said}")
    steps = [s.breaker for s in found.steps]
    if breaker not in steps:
        raise Refused("breaker", "must be one of: " + ", ".join(steps))
    last = [s.breaker for s in found.steps if s.rise_A is not None][-1:]
    now = found.now
    if breaker in last:
        return
    if now is None or breaker != now.breaker:
        why = "draws what it should not: pull it" if now and now.rise_A is not None else "is next"
        raise Refused("breaker", f"{now.breaker} {why}" if now else "is in already")
