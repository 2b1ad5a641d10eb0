"""The first power of a bus, out of the harness: what stands in its way, which breaker comes next.

What nobody said stands in the way: a connector of which nobody said that it is mated, capped or
covered, a circuit without its expected current, breakers of which nobody said that they are out.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from core.basis.checks import Check
from core.basis.verdicts import Verdict, judge
from core.wiring.harness import (
    BUS,
    CIRCUIT,
    CONNECTOR,
    INSULATED,
    POLARITY,
    PULLED,
    PUT_IN,
    Harness,
    Row,
)
from core.wiring.power import MASTER
from core.wiring.sheets.power import BLOCKS, FIRST
from core.wiring.sheets.tests import INSULATED as INSULATION
from core.worksheets.kinds import run, said, unsaid

SHUT = ("mated", "capped", "covered")


@dataclass(frozen=True)
class Blocker:
    """What stands in the way: of which row, in words."""

    code: str
    row: str
    said: str


@dataclass(frozen=True)
class Step:
    """A breaker in its order, A: what it should draw more, and what it drew when it was put in
    (None: it is not in). rise_U_A: None where nobody said how well the meter knows it."""

    breaker: str
    circuits: tuple[str, ...]
    low_A: float
    high_A: float
    total_A: float
    read_A: float | None = None
    rise_A: float | None = None
    rise_U_A: float | None = None

    @property
    def verdict(self) -> Verdict:
        """Of what was read; `not measured` before."""
        if self.rise_A is None or self.rise_U_A is None:
            return Verdict.NOT_MEASURED
        return judge(self.rise_A, self.rise_U_A, self.low_A, self.high_A)


@dataclass(frozen=True)
class FirstPower:
    """How far it is. steps: empty while something stands in the way. stay_out: breakers of what
    is only planned."""

    blockers: tuple[Blocker, ...]
    steps: tuple[Step, ...]
    stay_out: tuple[str, ...]
    inputs: Mapping[str, Any]

    @property
    def now(self) -> Step | None:
        """The first breaker that is not in as it should be; None once all are."""
        return next((s for s in self.steps if s.verdict is not Verdict.IN), None)

    @property
    def done(self) -> bool:
        """Every breaker is in and draws what it should."""
        return bool(self.steps) and self.now is None


def breaker_of(h: Harness, c: Row) -> str | None:
    """As said; else where its way begins. None where nobody said that it has a protector."""
    if "protector" not in c.values:
        return None
    if c.values.get("breaker"):
        return str(c.values["breaker"])
    starts, _ = h.way_of(c)
    return ".".join(starts[0]) if starts else None


def insulation_holds(h: Harness, c: Row) -> bool:
    """Whether its last insulation test was of the wires that it has now, as they lie now: none was
    run or terminated since, none is of another gauge or length, none came or went."""
    test = [e for e in c.log if e["doing"] == INSULATED][-1]
    wires = h.wires_of(c)
    laid = (e for w in wires for e in w.log if e["doing"] in ("run", "end_a", "end_b"))
    return bool(test["of"] == made_of(h, c)) and all(e["nr"] < test["nr"] for e in laid)


def made_of(h: Harness, c: Row) -> list[list[Any]]:
    """A circuit's wires by name of address, gauge and length, as an insulation test keeps them."""
    return [[w.slug, w.values.get("awg"), h.length_m(w)] for w in h.wires_of(c)]


def insulation_of(h: Harness, c: Row) -> tuple[Verdict, dict[str, Any]]:
    """Of its last insulation test against its limit, and the rule's inputs."""
    tests = [e for e in c.log if e["doing"] == INSULATED]
    if not tests or "insulation_ohm" not in c.values:
        return Verdict.NOT_MEASURED, {}
    read = {k: tests[-1][k] for k in ("measured_ohm", "U_rel", "over_range") if k in tests[-1]}
    inputs = read | {"limit_ohm": c.values["insulation_ohm"]}
    if not insulation_holds(h, c):
        return Verdict.STALE, inputs
    if "U_rel" not in read and not read.get("over_range"):
        return Verdict.NOT_MEASURED, inputs
    return Verdict(run(INSULATION, inputs)["verdict"]), inputs


def first_power(h: Harness, bus: Row, wrong: Mapping[str, str]) -> FirstPower:
    """wrong: what is out of circuits and connectors, by slug, as their checks say (of the whole
    harness: others are not looked at)."""
    circuits = h.circuits_of(bus)
    begun = {c.slug for c in circuits if any(h.done(w) for w in h.wires_of(c))}
    own = tuple(_own(h, bus, circuits, begun, wrong))
    if not circuits:
        none = Blocker("circuits", bus.slug, f"Nobody said which circuits {bus.name} feeds.")
        return FirstPower((none, *own), (), (), {})
    inputs = _asked(h, bus, circuits, begun)
    found = run(FIRST, inputs)
    rows = {c.name: c.slug for c in circuits} | {"battery": bus.slug}
    blockers = tuple(
        Blocker(code, rows.get(subject, _row_at(h, subject) or bus.slug), _words(code, subject))
        for code, subject in found["blockers"]
        if code != "insulation" or _told_apart(h, subject)
    )
    blockers = (*blockers, *own)
    steps = () if blockers else tuple(_steps(found["sequence"], bus))
    return FirstPower(blockers, steps, tuple(found["stay_out"]), inputs)


def _told_apart(h: Harness, circuit: str) -> bool:
    """Whether the rule's word on its insulation stands: a limit that nobody said has its own."""
    row = h.named(CIRCUIT, circuit)
    return row is not None and "insulation_ohm" in row.values


def _asked(h: Harness, bus: Row, circuits: Sequence[Row], begun: set[str]) -> dict[str, Any]:
    rows = []
    for c in circuits:
        one: dict[str, Any] = {"id": c.name, "done": _steps_of(h, c) if c.slug in begun else []}
        one["expected_A"] = c.values.get("expected_A", 0.0)
        one["insulation"] = insulation_of(h, c)[0].value
        if (breaker := breaker_of(h, c)) is not None:
            one["breaker"] = breaker
        rows.append(one)
    read = [e["measured_V"] for e in bus.log if e["doing"] == POLARITY]
    polarity = Verdict.NOT_MEASURED
    if read:
        polarity = Verdict.IN if read[-1] > 0.0 else Verdict.OUT
    used = _used(h, circuits, begun)
    return {
        "circuits": rows,
        "polarity": polarity.value,
        "bare_pins": [f"{x.name}.{p}" for x in used for p in x.values.get("bare", ())],
        "unmated": [x.name for x in used if x.values.get("state") not in SHUT],
    } | {k: bus.values[k] for k in ("bus_A", "window_rel", "window_A") if k in bus.values}


def _steps_of(h: Harness, c: Row) -> list[str]:
    """The rule's steps that hold for all wires of a circuit that is begun; it is not only planned,
    even if none does."""
    done = [set(h.done(w)) for w in h.wires_of(c)]

    found = [s for s in ("run", "tested", "labelled") if all(s in d for d in done)]
    found += ["terminated"] * all({"end_a", "end_b"} <= d for d in done)
    return found or ["run"]


def _used(h: Harness, circuits: Sequence[Row], begun: set[str]) -> list[Row]:
    """The connectors at which a wire ends that is begun."""
    ends = (
        at
        for c in circuits
        if c.slug in begun
        for w in h.wires_of(c)
        for at in (w.end("a"), w.end("b"))
        if at
    )
    names = dict.fromkeys(at[0].casefold() for at in ends)
    return [x for x in h.of(CONNECTOR) if x.name.casefold() in names]


def _own(
    h: Harness, bus: Row, circuits: Sequence[Row], begun: set[str], wrong: Mapping[str, str]
) -> Iterable[Blocker]:
    """What the rule does not ask."""
    if "bus_A" not in bus.values:
        yield Blocker("expected", bus.slug, "Nobody said what the bus draws alone.")
    if not any(e["doing"] == PULLED for e in bus.log):
        yield Blocker("breaker_in", bus.slug, "Nobody said that every breaker is pulled.")
    known = {breaker_of(h, c) for c in circuits} | {MASTER}
    for name in _standing(bus):
        if name not in known:
            words = f"{name} was put in and is no breaker here now: pull all of them, and say so."
            yield Blocker("breaker_in", bus.slug, words)
    for c in h.of(CIRCUIT):
        if c not in circuits and not h.named(BUS, str(c.values.get("bus", ""))):
            yield Blocker("bus", c.slug, f"Nobody said which bus feeds {c.name}.")
    for c in (c for c in circuits if c.slug in begun):
        if "expected_A" not in c.values:
            yield Blocker("expected", c.slug, f"Nobody said what {c.name} draws then.")
        if "insulation_ohm" not in c.values:
            words = f"Nobody said which insulation {c.name} needs at least."
            yield Blocker("insulation", c.slug, words)
        parts = {w.values["part"] for w in h.wires_of(c)}
        if "feed" not in parts or (c.values.get("back") == "wire" and "return" not in parts):
            yield Blocker("no_return", c.slug, f"{c.name} has no way to it, or none back.")
        elif "back" not in c.values:
            yield Blocker("no_return", c.slug, f"Nobody said how {c.name} returns.")
    used = [*circuits, *_used(h, circuits, begun)]
    for row in used:
        if row.slug in wrong and (row.kind == CONNECTOR or row.slug in begun):
            yield Blocker("wrong", row.slug, wrong[row.slug])


def _row_at(h: Harness, subject: str) -> str:
    """The connector of a pin, or of that name."""
    for name in (subject, subject.rpartition(".")[0]):
        if (found := h.named(CONNECTOR, name)) is not None:
            return found.slug
    return ""


def _words(code: str, subject: str) -> str:
    if code == "unmated_connector":
        return f"{subject}: nobody said that it is mated, capped or covered."
    words = BLOCKS[code] if code == "battery_polarity" else f"{subject} {BLOCKS[code]}"
    return f"{words[:1].upper()}{words[1:]}."


def _standing(bus: Row) -> dict[str, tuple[float, float, float | None]]:
    """Breakers that are in: what was read in all with it, how much that was more than just before
    it was put in, and the U of that. In the order of the work, which what is expected now does
    not change; of one that is read again the last reading counts."""
    found: dict[str, tuple[float, float, float | None]] = {}
    before: dict[str, tuple[float, float | None]] = {}
    last: tuple[float, float | None] = (0.0, 0.0)
    for e in bus.log:
        if e["doing"] == PULLED:
            found, before, last = {}, {}, (0.0, 0.0)
        elif e["doing"] == PUT_IN:
            was, U_was = before.setdefault(e["breaker"], last)
            read, U = last = float(e["measured_A"]), e.get("U_A")
            # Both readings may be off, each its own way.
            both = None if U is None or U_was is None else U + U_was
            found[e["breaker"]] = read, read - was, both
    return found


def _steps(sequence: Sequence[Mapping[str, Any]], bus: Row) -> Iterable[Step]:
    standing = _standing(bus)
    for s in sequence:
        asked = (s["breaker"], tuple(s["circuits"]), s["low_A"], s["high_A"], s["total_A"])
        yield Step(*asked, *standing.get(s["breaker"], ()))


def power_check(h: Harness, bus: Row, wrong: Mapping[str, str]) -> Check:
    """How far the first power of a bus is."""
    what = f"{bus.name}: first power"
    if not h.circuits_of(bus):
        return unsaid("power", what, "which circuits it feeds")
    found = first_power(h, bus, wrong)
    verdict, words = _told(found)
    return said("power", what, words, verdict, FIRST, dict(found.inputs), step="test")


def _told(p: FirstPower) -> tuple[Verdict, str]:
    if p.blockers:
        first = " ".join(b.said for b in p.blockers[:2])
        more = f" And {len(p.blockers) - 2} more." if len(p.blockers) > 2 else ""
        return Verdict.NOT_MEASURED, f"No power yet. {first}{more}"
    now = p.now
    if now is None:
        return Verdict.IN, f"Every breaker is in; {p.steps[-1].total_A:.1f} A expected in all."
    expected = f"{now.low_A:.1f} to {now.high_A:.1f} A more are right"
    if now.rise_A is None:
        return Verdict.NOT_MEASURED, f"Nothing stands in its way. Next: {now.breaker}, {expected}."
    drew = f"{now.breaker} draws {now.rise_A:.2f} A more, {expected}"
    if now.rise_U_A is None:
        return Verdict.NOT_MEASURED, f"{drew}. Not said: how well the meter knows it."
    if now.verdict is Verdict.OUT:
        return Verdict.OUT, f"{drew}: pull it, stop, find out why."
    return now.verdict, f"{drew}: too close to tell; read it with a better meter."
