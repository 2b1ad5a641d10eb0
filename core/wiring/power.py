"""The first power, and what a switch does (`wiring.power_up`, `wiring.switch_logic`)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, choice, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.words import CAUTION, CIRCUIT, FIRST_POWER, HOUSE, IGNITION

STEPS = ("run", "terminated", "tested", "labelled")
MASTER = "bus"
SAME_A = 1e-9


@dataclass(frozen=True)
class Circuit:
    """A circuit and what of it is done; none of it: only planned."""

    id: Annotated[str, "Its name."]
    breaker: Annotated[str | None, "Null: no protection."] = None
    done: Annotated[Sequence[str], "run, terminated, tested, labelled."] = ()
    expected_A: Annotated[float, "With everything switched as for the first power."] = 0.0
    insulation: Annotated[Verdict, "Of its insulation test."] = Verdict.NOT_MEASURED


@dataclass(frozen=True)
class PowerStep:
    """A breaker that goes in, A."""

    breaker: Annotated[str, "Which; the bus first."]
    circuits: Annotated[tuple[str, ...], "Behind it, sorted."]
    rise_A: Annotated[float, "What is expected more."]
    low_A: Annotated[float, "At least."]
    high_A: Annotated[float, "At most: more, and it is pulled."]
    total_A: Annotated[float, "All so far."]


@dataclass(frozen=True)
class PowerUp:
    """Whether power may be applied, and in which order."""

    ready: Annotated[bool, "Nothing stands in its way."]
    blockers: Annotated[tuple[tuple[str, str], ...], "[code, what]."]
    sequence: Annotated[tuple[PowerStep, ...], "Empty unless ready."]
    stay_out: Annotated[tuple[str, ...], "Breakers of what is only planned, sorted."]


@rule(
    "wiring.power_up",
    title="May power be applied?",
    purpose="What stands in the way of the first power, and which breaker goes in when?",
    source="Order and windows: " + HOUSE,
    validity="Outside its window: pull it, stop, find out.",
    caution=CAUTION + FIRST_POWER,
)
def power_up(
    circuits: Annotated[tuple[Circuit, ...], "All of them."],
    polarity: Annotated[Verdict, "Of the battery at the lugs."],
    breakers_in: Annotated[Sequence[str], "Not pulled; bus: the master."] = (),
    bare_pins: Annotated[Sequence[str], "Pins without cover."] = (),
    unmated: Annotated[Sequence[str], "Connectors open and uncapped."] = (),
    bus_A: Annotated[float, "The bus alone."] = 0.0,
    window_rel: Annotated[float, "Of what is expected."] = 0.2,
    window_A: Annotated[float, "At least."] = 0.2,
) -> PowerUp:
    """Blockers in their order; the least current first. Refuses unknown breakers and steps."""
    _checked(circuits, breakers_in)
    least, share = positive(window_A, "window_A"), not_negative(window_rel, "window_rel")
    bus = not_negative(bus_A, "bus_A")
    begun = [c for c in circuits if c.done]
    blockers = tuple(_blockers(begun, polarity, breakers_in, bare_pins, unmated))
    names = {c.breaker for c in begun}
    out = {c.breaker for c in circuits if c.breaker is not None} - names
    steps: tuple[PowerStep, ...] = ()
    if not blockers:
        steps = tuple(_sequence(begun, bus, least, share))
    return PowerUp(not blockers, blockers, steps, tuple(sorted(x for x in out if x)))


def _checked(circuits: Sequence[Circuit], breakers_in: Sequence[str]) -> None:
    if not circuits or len({c.id for c in circuits}) < len(circuits):
        raise Refused("circuits", "needs at least one, each with a name of its own")
    for c in circuits:
        not_negative(c.expected_A, "expected_A")
        for step in c.done:
            if step not in STEPS:
                raise Refused("done", f"{step} is not a step: " + ", ".join(STEPS))
        if "tested" in c.done and not {"run", "terminated"} <= set(c.done):
            raise Refused("done", f"{c.id} is tested before it is run and terminated")
    known = {c.breaker for c in circuits} | {MASTER}
    for b in breakers_in:
        if b not in known:
            raise Refused("breakers_in", f"{b} is not a breaker here")


def _blockers(
    begun: Sequence[Circuit],
    polarity: Verdict,
    breakers_in: Sequence[str],
    bare: Sequence[str],
    unmated: Sequence[str],
) -> Iterable[tuple[str, str]]:
    if polarity is not Verdict.IN:
        yield "battery_polarity", "battery"
    rows: tuple[tuple[str, Iterable[str]], ...] = (
        ("breaker_in", breakers_in),
        ("no_protection", (c.id for c in begun if c.breaker is None)),
        ("bare_pin", bare),
        ("unmated_connector", unmated),
        ("not_terminated", (c.id for c in begun if not {"run", "terminated"} <= set(c.done))),
        ("not_tested", (c.id for c in begun if "tested" not in c.done)),
        ("insulation", (c.id for c in begun if c.insulation is not Verdict.IN)),
        ("not_labelled", (c.id for c in begun if "labelled" not in c.done)),
    )
    for code, subjects in rows:
        for subject in sorted(set(subjects)):
            yield code, subject


def _sequence(
    begun: Sequence[Circuit], bus: float, least: float, share: float
) -> Iterable[PowerStep]:
    behind: dict[str, list[Circuit]] = {}
    for c in begun:
        behind.setdefault(c.breaker or "", []).append(c)
    rises = {b: sum(c.expected_A for c in cs) for b, cs in behind.items()}
    total = 0.0
    order = sorted(behind, key=lambda b: (round(rises[b] / SAME_A), b))
    for name in (MASTER, *order):
        rise = bus if name == MASTER else rises[name]
        window = max(least, share * rise)
        total += rise
        circuits = tuple(sorted(c.id for c in behind.get(name, ())))
        yield PowerStep(name, circuits, rise, max(0.0, rise - window), rise + window, total)


GROUND, BUS = "ground", "bus"
NEEDS = (GROUND, BUS, "open", "any")


@dataclass(frozen=True)
class Switched:
    """What a switch does to each device."""

    table: Annotated[dict[str, dict[str, str]], "By device and position."]
    mismatches: Annotated[
        tuple[tuple[str, str, str, str], ...], "[device, position, needed, found]."
    ]
    shorts: Annotated[tuple[str, ...], "Positions that join bus and ground."]
    verdict: Annotated[Verdict, "In with neither."]


@rule(
    "wiring.switch_logic",
    title="What a switch really does",
    purpose="Does each position do to each device what it needs?",
    source=CIRCUIT,
    validity="Terminals that are joined through closed contacts are one place.",
    caution=CAUTION + IGNITION,
)
def switch_logic(
    positions: Annotated[Sequence[str], "In their order."],
    terminals: Annotated[dict[str, str], "Terminal: device, ground or bus."],
    contacts: Annotated[
        dict[str, tuple[tuple[str, str], ...]], "Position: pairs of terminals closed."
    ],
    needs: Annotated[dict[str, dict[str, str]], "Device: position: ground, bus, open or any."],
) -> Switched:
    """Refuses positions without contacts, unknown terminals, devices without needs or terminal."""
    _switch(positions, terminals, contacts, needs)
    table: dict[str, dict[str, str]] = {d: {} for d in needs}
    shorts = []
    for position in positions:
        node = _nodes(terminals, contacts[position])
        kinds = {t: {terminals[x] for x in group} for t, group in node.items()}
        if any({GROUND, BUS} <= found for found in kinds.values()):
            shorts.append(position)
        for device in needs:
            met = {k for t, name in terminals.items() if name == device for k in kinds[t]}
            grounded, fed = GROUND in met, BUS in met
            table[device][position] = (
                "short" if grounded and fed else GROUND if grounded else BUS if fed else "open"
            )
    wrong = tuple(
        (device, p, needs[device][p], table[device][p])
        for device in needs
        for p in positions
        if table[device][p] == "short" or needs[device][p] not in ("any", table[device][p])
    )
    verdict = Verdict.OUT if wrong or shorts else Verdict.IN
    return Switched(table, wrong, tuple(shorts), verdict)


def _switch(
    positions: Sequence[str],
    terminals: Mapping[str, str],
    contacts: Mapping[str, Sequence[tuple[str, str]]],
    needs: Mapping[str, Mapping[str, str]],
) -> None:
    if not positions or len(set(positions)) < len(positions):
        raise Refused("positions", "needs at least one, each once")
    for p in positions:
        if p not in contacts:
            raise Refused("contacts", f"{p} has none: say which are closed, or an empty list")
    for p, pairs in contacts.items():
        if p not in positions:
            raise Refused("contacts", f"{p} is not a position")
        for pair in pairs:
            for t in pair:
                if t not in terminals:
                    raise Refused("contacts", f"{p}: {t} is not a terminal")
    devices = {d for d in terminals.values() if d not in (GROUND, BUS)}
    for d in sorted(devices):
        if d not in needs:
            raise Refused("terminals", f"{d} has no needs")
    for d, wanted in needs.items():
        if d not in devices:
            raise Refused("terminals", f"{d} has no terminal")
        for p in positions:
            if p not in wanted:
                raise Refused("needs", f"{d} has none for {p}")
        for p in wanted:
            if p not in positions:
                raise Refused("needs", f"{d}: {p} is not a position")
            choice(wanted[p], NEEDS, "needs")


def _nodes(terminals: Mapping[str, str], closed: Sequence[tuple[str, str]]) -> dict[str, set[str]]:
    """Terminal -> all terminals joined to it, itself among them. Those of one device, of ground
    or of the bus are one place."""
    group: dict[str, set[str]] = {t: {t} for t in terminals}
    places: dict[str, list[str]] = {}
    for t, name in terminals.items():
        places.setdefault(name, []).append(t)
    pairs = [*closed, *(p for same in places.values() for p in pairwise(same))]
    for a, b in pairs:
        if group[a] is not group[b]:
            both = group[a] | group[b]
            for t in both:
                group[t] = both
    return group
