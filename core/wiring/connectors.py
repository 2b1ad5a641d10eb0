"""Connectors, their conductors, and ends that nobody reaches (`wiring.connector_check`,
`wiring.captive_end`)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import SEVERITY, Verdict, worst
from core.wiring.tables import GAUGES, at_most, gauge
from core.wiring.words import CAPTIVE, CAUTION, CHAPTER_11

CLEAR_M = 0.3048
ROUND_M = 1e-9


@dataclass(frozen=True)
class Connector:
    """A connector with its pins."""

    id: Annotated[str, "Its name."]
    contacts: Annotated[Literal["pin", "socket"], "What its contacts are."]
    pins: Annotated[dict[str, tuple[str, str]], "Each pin's [thinnest, thickest] gauge."]
    mate: Annotated[str | None, "The connector it goes with."] = None


@dataclass(frozen=True)
class Place:
    """A pin of a connector."""

    connector: Annotated[str, "Which."]
    pin: Annotated[str, "Its pin."]

    @property
    def name(self) -> str:
        """As findings name it."""
        return f"{self.connector}.{self.pin}"


@dataclass(frozen=True)
class Shield:
    """Where a shield is grounded."""

    a: Annotated[bool, "At end a."]
    b: Annotated[bool, "At end b."]


@dataclass(frozen=True)
class Conductor:
    """A wire between two pins; an end that is null goes nowhere yet."""

    id: Annotated[str, "Its name."]
    awg: Annotated[str, "Gauge."]
    length_m: Annotated[float, "Its length."]
    a: Annotated[Place | None, "One end."] = None
    b: Annotated[Place | None, "The other."] = None
    splices_m: Annotated[Sequence[float], "From end a."] = ()
    shield: Annotated[Shield | None, "Null: not shielded."] = None


@dataclass(frozen=True)
class Joined:
    """What is wrong with connectors and conductors."""

    findings: Annotated[tuple[tuple[str, str], ...], "[code, where], sorted."]
    spare_pins: Annotated[dict[str, int], "Unused pins by connector."]


@rule(
    "wiring.connector_check",
    title="Connectors, pins and splices",
    purpose="Does every wire end where it belongs, on a pin that takes its gauge?",
    source=f"Splices: at most one between two disconnects, not within 12 in of a termination:"
    f" {CHAPTER_11} The rest follows from what is connected.",
    validity="A permitted double crimp is an exception with a reason. Stagger splices in a bundle.",
    caution=CAUTION,
)
def connector_check(
    connectors: Annotated[tuple[Connector, ...], "All of them."],
    conductors: Annotated[tuple[Conductor, ...], "All wires."],
    max_splices: Annotated[int, "In one wire."] = 1,
    splice_clear_m: Annotated[float, "From a termination."] = CLEAR_M,
) -> Joined:
    """Findings. Refuses names twice, unknown gauges, splices outside the wire."""
    _once(connectors, conductors)
    clear = not_negative(splice_clear_m, "splice_clear_m")
    if max_splices < 0:
        raise Refused("max_splices", "must not be negative")
    by = {c.id: c for c in connectors}
    ends: dict[str, list[Conductor]] = {}
    found: set[tuple[str, str]] = set()
    for w in conductors:
        found.update(_wire(w, max_splices, clear))
        for side, at in (("a", w.a), ("b", w.b)):
            if at is None:
                found.add(("unterminated", f"{w.id}.{side}"))
                continue
            if at.connector not in by or at.pin not in by[at.connector].pins:
                found.add(("unknown_pin", at.name))
                continue
            ends.setdefault(at.name, []).append(w)
            thin, thick = (GAUGES.index(g) for g in by[at.connector].pins[at.pin])
            if not thin <= GAUGES.index(w.awg) <= thick:
                found.add(("contact_gauge", at.name))
    found.update(("duplicate_pin", name) for name, ws in ends.items() if len(ws) > 1)
    for c in connectors:
        found.update(_mated(c, by, ends))
    spare = {c.id: sum(1 for p in c.pins if f"{c.id}.{p}" not in ends) for c in connectors}
    return Joined(tuple(sorted(found)), spare)


def _once(connectors: Sequence[Connector], conductors: Sequence[Conductor]) -> None:
    for field, rows in (("connectors", connectors), ("conductors", conductors)):
        if len({r.id for r in rows}) < len(rows):
            raise Refused(field, "two have the same name")
    for c in connectors:
        for pin, (thin, thick) in c.pins.items():
            if GAUGES.index(gauge(thin, "pins")) > GAUGES.index(gauge(thick, "pins")):
                raise Refused("pins", f"{c.id}.{pin}: the thinnest gauge comes first")
    for w in conductors:
        gauge(w.awg)
        long = positive(w.length_m, "length_m")
        if any(not 0.0 < finite(s, "splices_m") < long for s in w.splices_m):
            raise Refused("splices_m", f"{w.id}: a splice lies outside the wire")


def _wire(w: Conductor, most: int, clear: float) -> Iterable[tuple[str, str]]:
    if len(w.splices_m) > most:
        yield "too_many_splices", w.id
    if any(min(s, w.length_m - s) < clear - ROUND_M for s in w.splices_m):
        yield "splice_near_end", w.id
    if w.shield is not None and w.shield.a == w.shield.b:
        yield ("shield_both_ends" if w.shield.a else "shield_floating"), w.id


def _mated(
    c: Connector, by: Mapping[str, Connector], ends: Mapping[str, Sequence[Conductor]]
) -> Iterable[tuple[str, str]]:
    if c.mate is None:
        return
    other = by.get(c.mate)
    if other is None or other.mate != c.id:
        yield "mate_not_mutual", c.id
    if other is None:
        return
    if other.contacts == c.contacts:
        yield "same_contacts_mated", "+".join(sorted((c.id, other.id)))
    for pin in c.pins:
        if f"{c.id}.{pin}" in ends and f"{other.id}.{pin}" not in ends:
            yield "no_wire_opposite", f"{c.id}.{pin}"


@dataclass(frozen=True)
class End:
    """An end that may slip out of reach once its unit is out, m."""

    id: Annotated[str, "Its name."]
    end_m: Annotated[float, "Wire from its nearest support to the end."]
    support_m: Annotated[float, "From that support forward to the opening, along the wire."]
    reach_m: Annotated[float, "How far behind the opening a hand reaches."]
    held: Annotated[Literal["tie", "bracket", "connector"] | None, "What keeps it."] = None
    connector_m: Annotated[float | None, "Least width of its connector."] = None
    hole_m: Annotated[float | None, "Widest hole that it would slip through."] = None
    U_m: Annotated[float, "Of the lengths."] = 0.0


@dataclass(frozen=True)
class Slips:
    """Where an end goes when it is let go, m."""

    id: Annotated[str, "Which."]
    slips_back_m: Annotated[float, "What goes back through the opening."]
    farthest_m: Annotated[float, "How far behind the opening it can lie."]
    verdict: Annotated[Verdict, "In where it stays in reach."]


@dataclass(frozen=True)
class Captive:
    """All ends."""

    ends: Annotated[tuple[Slips, ...], "In their order."]
    must_be_held: Annotated[tuple[str, ...], "Those not in, sorted."]
    verdict: Annotated[Verdict, "The worst."]


@rule(
    "wiring.captive_end",
    title="Ends that would vanish",
    purpose="Which wire ends slip out of reach once the unit is out?",
    source="Geometry of a wire let go at its opening.",
    validity="Along the wire; a connector holds where it is wider than the hole.",
    caution=CAUTION + CAPTIVE,
)
def captive_end(
    ends: Annotated[tuple[End, ...], "All ends at the opening."],
) -> Captive:
    """Refuses no end, names twice, a connector without its widths."""
    if not ends or len({e.id for e in ends}) < len(ends):
        raise Refused("ends", "needs at least one, each with a name of its own")
    found = tuple(_slips(e) for e in ends)
    held = tuple(sorted(f.id for f in found if f.verdict is not Verdict.IN))
    return Captive(found, held, worst(f.verdict for f in found))


def _slips(e: End) -> Slips:
    end, support = positive(e.end_m, "end_m"), not_negative(e.support_m, "support_m")
    U, farthest = not_negative(e.U_m, "U_m"), support + end
    reach = at_most(farthest, U, not_negative(e.reach_m, "reach_m"))
    kept = None
    if e.held in ("tie", "bracket"):
        kept = Verdict.IN
    elif e.held == "connector":
        for name in ("connector_m", "hole_m"):
            if getattr(e, name) is None:
                raise Refused(name, f"{e.id}: is needed where the connector holds it")
        wide = positive(e.connector_m or 0.0, "connector_m")
        hole = positive(e.hole_m or 0.0, "hole_m")
        kept = Verdict.TOO_CLOSE
        if wide - U > hole:
            kept = Verdict.IN
        elif wide + U <= hole:
            kept = Verdict.OUT
    back = 0.0 if kept is Verdict.IN else max(0.0, end - support)
    better = max((v for v in (kept, reach) if v is not None), key=SEVERITY.index)
    return Slips(e.id, back, farthest, better)
