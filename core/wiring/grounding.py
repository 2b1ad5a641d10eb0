"""Grounds: loops, what a shared return couples, bonds (`wiring.ground_loops`,
`wiring.ground_coupling`, `wiring.bond_check`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np

from core.basis.by_name import rule
from core.basis.forms import Named
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.verdicts import Verdict
from core.wiring.tables import at_most
from core.wiring.words import CAUTION, CHAPTER_11, CIRCUIT

BOND_OHM = 0.003


@dataclass(frozen=True)
class Ground:
    """A ground conductor between two places; structure is one place, or several with bonds."""

    id: Annotated[str, "Its name."]
    a: Annotated[str, "From."]
    b: Annotated[str, "To."]
    kind: Annotated[Literal["wire", "shield", "case", "structure"], "What it is."]
    ohm: Annotated[float | None, "Its resistance."] = None


@dataclass(frozen=True)
class Loop:
    """A ring of ground conductors."""

    edges: Annotated[tuple[str, ...], "Sorted."]
    nodes: Annotated[tuple[str, ...], "Sorted."]
    of: Annotated[str, "shield, case or return.", Named("class")]


@dataclass(frozen=True)
class Loops:
    """All loops."""

    independent: Annotated[int, "How many must be broken."]
    loops: Annotated[tuple[Loop, ...], "The shortest through each conductor."]


def checked(edges: Sequence[Ground]) -> None:
    """Refuses none, ids twice, an edge to itself (`edges`)."""
    if not edges:
        raise Refused("edges", "needs at least one")
    if len({e.id for e in edges}) < len(edges):
        raise Refused("edges", "two conductors have the same name")
    for e in edges:
        if e.a == e.b:
            raise Refused("edges", f"{e.id} goes to itself")


def joined(edges: Sequence[Ground], without: str = "") -> dict[str, list[Ground]]:
    """The conductors at each place."""
    found: dict[str, list[Ground]] = {}
    for e in edges:
        if e.id != without:
            found.setdefault(e.a, []).append(e)
            found.setdefault(e.b, []).append(e)
    return found


def steps_from(start: str, at: dict[str, list[Ground]]) -> dict[str, int]:
    """How many conductors away each place is."""
    found, ring = {start: 0}, [start]
    while ring:
        ahead = []
        for node in ring:
            for e in at.get(node, ()):
                other = e.b if e.a == node else e.a
                if other not in found:
                    found[other] = found[node] + 1
                    ahead.append(other)
        ring = ahead
    return found


@rule(
    "wiring.ground_loops",
    title="Ground loops by name",
    purpose="Which ground conductors form a ring, and what kind of ring?",
    source="Graph theory: shortest cycle through each edge.",
    validity="Breaking: lift one end of a shield (leave the source's or maker's end), isolate the"
    " case, take the wire return off.",
    caution=CAUTION,
)
def ground_loops(
    edges: Annotated[tuple[Ground, ...], "All ground conductors."],
) -> Loops:
    """Removing any conductor of a loop breaks it. At equal length the ring whose sorted names
    come first counts."""
    checked(edges)
    at = joined(edges)
    parts, ahead = 0, set(at)
    while ahead:
        parts += 1
        ahead -= steps_from(min(ahead), at).keys()
    rings = {ring for e in edges if (ring := _through(e, edges)) is not None}
    by = {e.id: e for e in edges}
    loops = []
    for ring in sorted(rings):
        members = [by[name] for name in ring]
        kinds = {e.kind for e in members}
        word = "shield" if "shield" in kinds else "case" if "case" in kinds else "return"
        nodes = {n for e in members for n in (e.a, e.b)}
        loops.append(Loop(ring, tuple(sorted(nodes)), word))
    return Loops(len(edges) - len(at) + parts, tuple(loops))


def _through(edge: Ground, edges: Sequence[Ground]) -> tuple[str, ...] | None:
    """The names of the shortest ring through an edge, the first by its sorted names."""
    at = joined(edges, edge.id)
    near, far = steps_from(edge.a, at), steps_from(edge.b, at)
    if edge.b not in near:
        return None
    long = near[edge.b]
    # The shortest ways in layers: from a to b, a conductor for each step.
    layers: list[list[tuple[str, str, str]]] = [[] for _ in range(long)]
    for e in edges:
        for a, b in ((e.a, e.b), (e.b, e.a)):
            if e.id != edge.id and a in near and b in far and near[a] + 1 + far[b] == long:
                layers[near[a]].append((e.id, a, b))
    # Names in order: each is taken that some way with all taken before still holds.
    for name in sorted(n for layer in layers for n, _, _ in layer):
        for k, layer in enumerate(layers):
            if not any(n == name for n, _, _ in layer):
                continue
            tried = [*layers[:k], [x for x in layer if x[0] == name], *layers[k + 1 :]]
            if _passes(tried, edge.a, edge.b):
                layers = tried
            break
    return tuple(sorted([edge.id, *(layer[0][0] for layer in layers)]))


def _passes(layers: Sequence[Sequence[tuple[str, str, str]]], start: str, end: str) -> bool:
    reached = {start}
    for layer in layers:
        reached = {b for _, a, b in layer if a in reached}
    return end in reached


@dataclass(frozen=True)
class Coupled:
    """What a shared return couples into a quiet circuit."""

    shared_edges: Annotated[tuple[str, ...], "Without which neither reaches the return."]
    coupled_V: Annotated[float, "Between the victim and its reference."]
    noisy_node_V: Annotated[float, "Of the noisy place against the return."]


@rule(
    "wiring.ground_coupling",
    title="Noise through a shared ground",
    purpose="What voltage does a noisy return put into a quiet circuit?",
    source=CIRCUIT,
    validity="Direct current and low frequency: inductance is not in it.",
    caution=CAUTION,
)
def ground_coupling(
    edges: Annotated[tuple[Ground, ...], "All ground conductors with their resistance."],
    return_node: Annotated[str, "Battery negative."],
    noisy_node: Annotated[str, "Where the noisy current comes in."],
    noise_A: Annotated[float, "That current."],
    victim_node: Annotated[str, "The quiet circuit's ground."],
    victim_reference_node: Annotated[str, "Where its signal is referred to."],
) -> Coupled:
    """Refuses places without a way to the return, and conductors of no resistance (`ohm`)."""
    checked(edges)
    for e in edges:
        if e.ohm is None:
            raise Refused("ohm", f"{e.id} needs its resistance")
        positive(e.ohm, "ohm")
    amps = finite(noise_A, "noise_A")
    at = joined(edges)
    known = steps_from(return_node, at)
    named = {
        "return_node": return_node,
        "noisy_node": noisy_node,
        "victim_node": victim_node,
        "victim_reference_node": victim_reference_node,
    }
    for field, node in named.items():
        if node not in at or node not in known:
            raise Refused(field, "has no way to the return")
    volts = _volts([e for e in edges if e.a in known], return_node, noisy_node, amps)
    shared = []
    for e in edges:
        left = steps_from(return_node, joined(edges, e.id))
        if noisy_node not in left and victim_node not in left:
            shared.append(e.id)
    coupled = abs(volts[victim_node] - volts[victim_reference_node])
    return Coupled(tuple(sorted(shared)), coupled, volts[noisy_node])


def _volts(edges: Sequence[Ground], zero: str, source: str, amps: float) -> dict[str, float]:
    """Every place's voltage against the return."""
    nodes = sorted({n for e in edges for n in (e.a, e.b)} - {zero})
    place = {n: k for k, n in enumerate(nodes)}
    matrix, into = np.zeros((len(nodes), len(nodes))), np.zeros(len(nodes))
    for e in edges:
        g = 1.0 / (e.ohm or 1.0)
        ends = [place[n] for n in (e.a, e.b) if n != zero]
        for k in ends:
            matrix[k, k] += g
        if len(ends) == 2:
            matrix[ends[0], ends[1]] -= g
            matrix[ends[1], ends[0]] -= g
    if source != zero:
        into[place[source]] = amps
    found = np.linalg.solve(matrix, into)
    return {zero: 0.0} | {n: float(found[k]) for n, k in place.items()}


@dataclass(frozen=True)
class Bond:
    """A bond against its limit."""

    margin_ohm: Annotated[float, "To the limit."]
    verdict: Annotated[Verdict, "In where it conducts well enough."]


@rule(
    "wiring.bond_check",
    title="Is the bond good enough?",
    purpose="Does this bond conduct well enough?",
    source=f"{CHAPTER_11} 3 mΩ.",
    validity="Measured with four wires.",
    caution=CAUTION,
)
def bond_check(
    measured_ohm: Annotated[float, "Across the bond."],
    U_ohm: Annotated[float, "Of that."] = 0.0,
    limit_ohm: Annotated[float, "Greatest."] = BOND_OHM,
) -> Bond:
    """In where measured and its uncertainty stay under the limit."""
    m, limit = not_negative(measured_ohm, "measured_ohm"), positive(limit_ohm, "limit_ohm")
    return Bond(limit - m, at_most(m, not_negative(U_ohm, "U_ohm"), limit))
