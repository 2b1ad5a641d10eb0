"""Brake plumbing from both seats, and what a pedal moves (`lines.brake_topology`,
`lines.brake_displacement`)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, choice, not_negative, positive
from core.basis.verdicts import Verdict
from core.lines.plumbing import Graph, named_once
from core.lines.tables import FINDINGS_OF, Findings, sorted_findings

PORTS: dict[str, tuple[str, ...]] = {
    "cylinder": ("in", "out"),
    "caliper": ("in",),
    "reservoir": (),
    "tee": ("a", "b", "c"),
    "shuttle": ("a", "b", "out"),
    "park_valve": ("in", "out"),
    "cap": ("a",),
}
SIDES = ("left", "right")
ONE_PEDAL = (
    "After bleeding, press one pedal at a time from each seat with the wheels off the ground and"
    " see which wheel stops; only the fluid that the seals are made for."
)


@dataclass(frozen=True)
class Part:
    """A part of the brake system."""

    id: Annotated[str, "Its name."]
    kind: Annotated[str, "cylinder, caliper, reservoir, tee, shuttle, park_valve or cap."]
    station: Annotated[str, "A cylinder's seat."] = ""
    side: Annotated[str, "left or right, of a cylinder or caliper."] = ""
    bleed_point: Annotated[bool | None, "A caliper's bleed point; null: not said."] = None
    ports: Annotated[tuple[str, ...], "A reservoir's ports."] = ()


@dataclass(frozen=True)
class Pipe:
    """A line between two ports."""

    id: Annotated[str, "Its name."]
    a: Annotated[str, "component.port"]
    b: Annotated[str, "component.port"]


@dataclass(frozen=True)
class Brakes:
    """What is wrong with how brakes are joined."""

    findings: Annotated[Findings, FINDINGS_OF]


@rule(
    "lines.brake_topology",
    title="Are the brakes joined right?",
    purpose="Does each pedal of each seat brake its own wheel, and only that?",
    source="A walk of pressure and feed; a released cylinder is open between its ports.",
    validity="Series and shuttle layouts.",
    caution=ONE_PEDAL,
)
def brake_topology(
    components: Annotated[tuple[Part, ...], "All parts."],
    connections: Annotated[tuple[Pipe, ...], "All lines."],
) -> Brakes:
    """Findings of the graph. Refuses no cylinder, no caliper, and sides that are neither."""
    named_once((c.id for c in components), "components")
    by = {c.id: c for c in components}
    for c in components:
        choice(c.kind, tuple(PORTS), "kind")
        if c.kind in ("cylinder", "caliper"):
            choice(c.side, SIDES, "side")
    cylinders = [c for c in components if c.kind == "cylinder"]
    calipers = [c for c in components if c.kind == "caliper"]
    for kind, found in (("cylinder", cylinders), ("caliper", calipers)):
        if not found:
            raise Refused("components", f"needs at least one {kind}")
    graph = Graph({c.id: c.ports if c.kind == "reservoir" else PORTS[c.kind] for c in components})
    named_once((c.id for c in connections), "connections")
    for line in connections:
        graph.join(line.id, line.a, line.b)
    findings = [*graph.loose(), *_pressed(graph, by, cylinders, calipers)]
    findings += [("no_bleed_point", c.id) for c in calipers if c.bleed_point is not True]
    return Brakes(sorted_findings(findings))


def _pressed(
    graph: Graph, by: Mapping[str, Part], cylinders: Sequence[Part], calipers: Sequence[Part]
) -> Iterable[tuple[str, str]]:
    sides: dict[str, set[str]] = {c.id: {c.side} for c in cylinders}
    braked: set[tuple[str, str]] = set()
    for c in cylinders:
        met = set(graph.reached(f"{c.id}.out", lambda id_, port: _pressure(by[id_], port)))
        wheels = [by[id_] for id_, _ in met if by[id_].kind == "caliper"]
        for id_, _ in met:
            if by[id_].kind != "reservoir":
                sides.setdefault(id_, set()).add(c.side)
        if not wheels:
            yield "no_caliper", c.id
        yield from (("wrong_wheel", f"{c.id}>{w.id}") for w in wheels if w.side != c.side)
        braked |= {(w.id, c.station) for w in wheels if w.side == c.side}
        if any(by[id_].kind == "reservoir" for id_, _ in met):
            yield "pressure_to_reservoir", c.id
        fed = graph.reached(f"{c.id}.in", lambda id_, port: _feed(by[id_], port))
        if not any(by[id_].kind == "reservoir" for id_, _ in fed):
            yield "no_reservoir", c.id
    yield from (("sides_share", id_) for id_, both in sides.items() if len(both) > 1)
    for w in calipers:
        for station in {c.station for c in cylinders}:
            if (w.id, station) not in braked:
                yield "not_braked_from", f"{w.id}<{station}"


def _pressure(c: Part, port: str) -> Iterable[str]:
    """Where pressure goes on: a released cylinder either way, a shuttle from its ends."""
    if c.kind in ("tee", "cylinder", "park_valve"):
        return [p for p in PORTS[c.kind] if p != port]
    return ["out"] if c.kind == "shuttle" and port != "out" else []


def _feed(c: Part, port: str) -> Iterable[str]:
    """Where fluid comes from: other cylinders from out to in."""
    if c.kind == "tee":
        return [p for p in PORTS["tee"] if p != port]
    return ["in"] if c.kind == "cylinder" and port == "out" else []


@dataclass(frozen=True)
class BrakeHose:
    """A hose that swells under pressure."""

    length_m: Annotated[float, "Of the hose."]
    swell_m3_per_m_Pa: Annotated[float, "The maker's, for each metre and pascal."]


@dataclass(frozen=True)
class Displaced:
    """What the pedal moves."""

    pressure_Pa: Annotated[float, "At the pistons."]
    volume_m3: Annotated[float, "That they and the hoses take."]
    stroke_m: Annotated[float, "Of the master cylinder."]
    pedal_travel_m: Annotated[float, "Where the foot is."]
    weakest: Annotated[str | None, "Part of least rating."]
    rated_Pa: Annotated[float | None, "Its rating."]
    verdict: Annotated[Verdict, "Against rating and stroke; not measured without a rating."]


@rule(
    "lines.brake_displacement",
    title="Does the pedal reach, does everything hold?",
    purpose="Pressure, stroke and pedal travel of one circuit.",
    source="Hydrostatics; ratings and swelling from the makers.",
    validity="No air in it: trapped air adds far more travel than this.",
    caution="Bleed first; the pedal's stop must not be reached. " + ONE_PEDAL,
)
def brake_displacement(
    pistons: Annotated[int, "Moved pistons of one circuit."],
    piston_m: Annotated[float, "Diameter of each."],
    gap_m: Annotated[float, "Pad travel to the disc, both sides of a floating caliper."],
    pedal_N: Annotated[float, "Force of the foot."],
    pedal_ratio: Annotated[float, "Foot travel over cylinder travel."],
    bore_m: Annotated[float, "Of the master cylinder."],
    hoses: Annotated[tuple[BrakeHose, ...], "None for hard tube."],
    rated_Pa: Annotated[dict[str, float] | None, "Part: rated pressure."] = None,
    stroke_available_m: Annotated[float | None, "Of the master cylinder."] = None,
) -> Displaced:
    """p = F ratio/A; V = n π d²/4 gap + Σ swell × length × p; stroke = V/A."""
    count = int(positive(pistons, "pistons"))
    area = math.pi * positive(bore_m, "bore_m") ** 2 / 4.0
    ratio = positive(pedal_ratio, "pedal_ratio")
    pressure = positive(pedal_N, "pedal_N") * ratio / area
    moved = math.pi * positive(piston_m, "piston_m") ** 2 / 4.0 * not_negative(gap_m, "gap_m")
    swollen = math.fsum(
        positive(h.length_m, "length_m")
        * not_negative(h.swell_m3_per_m_Pa, "swell_m3_per_m_Pa")
        * pressure
        for h in hoses
    )
    volume = count * moved + swollen
    stroke = volume / area
    rated = {name: positive(p, "rated_Pa") for name, p in (rated_Pa or {}).items()}
    weakest = min(rated, key=lambda name: (rated[name], name), default=None)
    room = None
    if stroke_available_m is not None:
        room = positive(stroke_available_m, "stroke_available_m")
    least = rated[weakest] if weakest is not None else None
    verdict = Verdict.NOT_MEASURED if least is None else Verdict.IN
    if (least is not None and pressure > least * (1 + 1e-9)) or (
        room is not None and stroke > room + 1e-9
    ):
        verdict = Verdict.OUT
    return Displaced(pressure, volume, stroke, stroke * ratio, weakest, least, verdict)
