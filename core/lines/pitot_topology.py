"""Pitot, static and angle lines as they are joined (`lines.pitot_static_topology`), and ends that
must not stay open (`lines.caps`)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated

from core.basis.by_name import rule
from core.basis.refused import Refused, choice
from core.basis.verdicts import Verdict
from core.lines.plumbing import Graph, named_once
from core.lines.tables import FINDINGS_OF, Findings, sorted_findings
from core.lines.words import INSTRUMENTS

PORTS: dict[str, tuple[str, ...]] = {
    "pitot_probe": ("pitot",),
    "static_port": ("static",),
    "aoa_port": ("aoa",),
    "airspeed": ("pitot", "static"),
    "altimeter": ("static",),
    "vertical_speed": ("static",),
    "encoder": ("static",),
    "air_data": ("pitot", "static", "aoa"),
    "tee": ("a", "b", "c"),
    "drain": ("a",),
    "cap": ("a",),
    "spare": ("a", "b"),
}
SOURCES = {"pitot_probe": "pitot", "static_port": "static", "aoa_port": "aoa"}
ASKING = ("airspeed", "altimeter", "vertical_speed", "encoder", "air_data")


@dataclass(frozen=True)
class AirPart:
    """A part of the pitot-static system."""

    id: Annotated[str, "Its name."]
    kind: Annotated[str, "pitot_probe, static_port, airspeed, altimeter, tee, drain, cap …"]


@dataclass(frozen=True)
class AirLine:
    """A line between two ports."""

    id: Annotated[str, "Its name."]
    a: Annotated[str, "component.port"]
    b: Annotated[str, "component.port"]


@dataclass(frozen=True)
class AirJoined:
    """What is wrong with how the air lines are joined."""

    findings: Annotated[Findings, FINDINGS_OF]


@rule(
    "lines.pitot_static_topology",
    title="Are pitot and static joined right?",
    purpose="Does each instrument get its own source, and does each line drain?",
    source="Lines and tees join ports to nets.",
    validity="An air data box without angle-of-attack port is listed as an airspeed indicator.",
    caution=INSTRUMENTS,
)
def pitot_static_topology(
    components: Annotated[tuple[AirPart, ...], "All parts."],
    connections: Annotated[tuple[AirLine, ...], "All lines."],
) -> AirJoined:
    """Findings of the nets. Refuses unknown kinds and ports."""
    if not components:
        raise Refused("components", "needs at least one")
    named_once((c.id for c in components), "components")
    by = {c.id: c.kind for c in components}
    for c in components:
        choice(c.kind, tuple(PORTS), "kind")
    graph = Graph({c.id: PORTS[c.kind] for c in components})
    named_once((c.id for c in connections), "connections")
    for line in connections:
        graph.join(line.id, line.a, line.b)
    found = [
        ("spare_end_open" if code == "port_open" and by[_of(at)] == "spare" else code, at)
        for code, at in graph.loose()
    ]
    for net in _nets(graph, by):
        found += _net(net, by)
    return AirJoined(sorted_findings(sorted(set(found))))


def _of(at: str) -> str:
    return at.rpartition(".")[0]


def _nets(graph: Graph, by: Mapping[str, str]) -> Iterable[set[str]]:
    """Ports that lines and tees join."""
    ahead = dict.fromkeys(graph.every_port())
    while ahead:
        first = next(iter(ahead))
        net, more = set(), [first]
        while more:
            at = more.pop()
            if at in net:
                continue
            net.add(at)
            more += [other for _, other in graph.lines.get(at, ())]
            if by[_of(at)] == "tee":
                more += [f"{_of(at)}.{p}" for p in PORTS["tee"]]
        for at in net:
            ahead.pop(at, None)
        yield net


def _net(net: set[str], by: Mapping[str, str]) -> Iterable[tuple[str, str]]:
    sources = {SOURCES[by[_of(at)]] for at in net if by[_of(at)] in SOURCES}
    kinds = "+".join(sorted(sources))
    if len(sources) > 1:
        yield "sources_joined", kinds
    for at in net:
        id_, _, port = at.rpartition(".")
        if by[id_] in ASKING:
            if not sources:
                yield "no_source", at
            elif len(sources) == 1 and port not in sources:
                yield "wrong_source", at
        if by[id_] == "spare" and any(by[_of(x)] not in ("spare", "cap") for x in net):
            yield "spare_connected", id_
    if sources and not any(by[_of(at)] == "drain" for at in net):
        yield "no_drain", kinds


@dataclass(frozen=True)
class Closed:
    """What an end is closed with: a cap, or what it is joined to."""

    cap: Annotated[str | None, "Name of the cap."] = None
    mate: Annotated[str | None, "item.end"] = None


@dataclass(frozen=True)
class Item:
    """A line, probe or tank with its ends."""

    id: Annotated[str, "Its name."]
    kind: Annotated[str, "line, probe or tank."]
    ends: Annotated[dict[str, Closed | None], "By name; null: open."]


@dataclass(frozen=True)
class Caps:
    """Which ends are open, and which lines may be fitted."""

    open_ends: Annotated[tuple[str, ...], "item.end"]
    caps_fitted: Annotated[tuple[str, ...], "Caps in use: to be counted out again."]
    may_fit: Annotated[tuple[str, ...], "Lines of those to be fitted."]
    findings: Annotated[Findings, FINDINGS_OF]
    verdict: Annotated[Verdict, "In without findings."]


@rule(
    "lines.caps",
    title="Is every end closed?",
    purpose="Every open end has a cap or a mate, before a line is fitted.",
    source="Practice.",
    validity="Ends as entered.",
    caution="A cap left in a vent, static or return line is as dangerous as an open end: count"
    " them out.",
)
def caps(
    items: Annotated[tuple[Item, ...], "Lines, probes and tanks."],
    fit: Annotated[tuple[str, ...], "Lines to be fitted now."] = (),
) -> Caps:
    """Open ends and findings. Refuses mates that there are not."""
    if not items:
        raise Refused("items", "needs at least one")
    named_once((i.id for i in items), "items")
    ends = {f"{i.id}.{name}": end for i in items for name, end in i.ends.items()}
    for i in items:
        choice(i.kind, ("line", "probe", "tank"), "kind")
        if not i.ends:
            raise Refused("ends", f"{i.id}: has no ends")
        for name, end in i.ends.items():
            _closed(f"{i.id}.{name}", end, ends)
    lines = {i.id for i in items if i.kind == "line"}
    for name in fit:
        if name not in lines:
            raise Refused("fit", f"{name}: is no line here")
    found: list[tuple[str, str]] = []
    used: dict[str, int] = {}
    open_ends = set()
    for at, end in ends.items():
        if end is None:
            open_ends.add(at)
            continue
        if end.cap is not None:
            used[end.cap] = used.get(end.cap, 0) + 1
            continue
        back = ends[end.mate or ""]
        if back is None or back.mate != at:
            open_ends.add(at)
            found.append(("mate_not_mutual", at))
    found += [("open_end", at) for at in open_ends]
    found += [("cap_used_twice", cap) for cap, n in used.items() if n > 1]
    shut = [name for name in dict.fromkeys(fit) if not any(_of(at) == name for at in open_ends)]
    found += [("cannot_fit", name) for name in dict.fromkeys(fit) if name not in shut]
    return Caps(
        tuple(sorted(open_ends)),
        tuple(sorted(used)),
        tuple(sorted(shut)),
        sorted_findings(found),
        Verdict.OUT if found else Verdict.IN,
    )


def _closed(at: str, end: Closed | None, ends: Mapping[str, Closed | None]) -> None:
    if end is None:
        return
    if (end.cap is None) == (end.mate is None):
        raise Refused("ends", f"{at}: has a cap or a mate, one of them")
    if end.mate is not None and (end.mate == at or end.mate not in ends):
        raise Refused("mate", f"{at}: {end.mate} is no other end here")
