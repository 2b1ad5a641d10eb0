"""A fuel system as it is joined: every state of its selectors (`lines.fuel_topology`)."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

from core.basis.by_name import rule
from core.basis.refused import Refused, choice
from core.lines.plumbing import Graph, Passage, Passing, named_once
from core.lines.tables import FINDINGS_OF, Findings, sorted_findings
from core.lines.words import PART_23

PORTS: dict[str, tuple[str, ...]] = {
    "tank": ("outlet", "vent", "drain"),
    "engine": ("in",),
    "filter": ("in", "out"),
    "gascolator": ("in", "out"),
    "pump": ("in", "out"),
    "check_valve": ("in", "out"),
    "tee": ("a", "b", "c"),
    "vent_opening": ("a",),
    "drain_valve": ("a",),
    "cap": ("a",),
    "sensor": ("a",),
    "selector": (),
}
ONE_WAY = ("pump", "check_valve", "filter", "gascolator")
MOUNTS = ("airframe", "engine")
Pairs = Sequence[Sequence[str]]
State = Mapping[str, Pairs]


@dataclass(frozen=True)
class Component:
    """A part of the fuel system. What nobody said is null."""

    id: Annotated[str, "Its name."]
    kind: Annotated[str, "tank, selector, filter, gascolator, pump, check_valve, tee, engine …"]
    mount: Annotated[str, "airframe or engine."] = "airframe"
    z: Annotated[float | None, "Water line, m, parked."] = None
    has_return: Annotated[bool, "A return port."] = False
    outlet_screen: Annotated[bool | None, "A screen at a tank's outlet."] = None
    drain_at_low_point: Annotated[bool | None, "A tank's drain is at its lowest point."] = None
    has_drain: Annotated[bool | None, "A gascolator's drain."] = None
    engine_driven: Annotated[bool, "A pump driven by the engine."] = False
    ports: Annotated[tuple[str, ...], "A selector's ports."] = ()
    positions: (
        Annotated[
            dict[str, tuple[tuple[str, ...], ...]], "A selector's positions: pairs of ports joined."
        ]
        | None
    ) = None

    @property
    def all_ports(self) -> tuple[str, ...]:
        """By its kind."""
        own = self.ports if self.kind == "selector" else PORTS[self.kind]
        back = self.has_return and self.kind in ("tank", "engine")
        return (*own, "return") if back else own


@dataclass(frozen=True)
class Connection:
    """A line between two ports."""

    id: Annotated[str, "Its name."]
    a: Annotated[str, "component.port"]
    b: Annotated[str, "component.port"]
    flexible: Annotated[bool, "A hose."] = False
    fire_resistant: Annotated[bool, "Fire sleeve, or made so."] = False
    engine_zone: Annotated[bool | None, "Null: where an end is on the engine."] = None


@dataclass(frozen=True)
class Pumps:
    """How pumps stand to each other."""

    arrangement: Annotated[Literal["series", "parallel"], "One after or beside the other."]
    ids: Annotated[tuple[str, ...], "Which pumps."]


@dataclass(frozen=True)
class Design:
    """What the system is meant to be."""

    pumps: Annotated[Pumps | None, "Null: not said."] = None
    return_to: Annotated[str, "feeding, or a tank."] = "feeding"
    vents_interconnected: Annotated[bool, "Tanks' air spaces are joined by design."] = False


@dataclass(frozen=True)
class Joined:
    """What is wrong with how a system is joined."""

    findings: Annotated[Findings, FINDINGS_OF]


@rule(
    "lines.fuel_topology",
    title="Is the fuel system joined right?",
    purpose="Feed, return, vents, drains, filters and off in every state of the selectors.",
    source=f"{PART_23}, 23.951 to 23.999 and 23.1183.",
    validity="A clean graph does not show a mis-drilled passage.",
    caution="In the engine bay every fuel and oil hose wears fire sleeve. Prove each position by"
    " flow at the engine, each vent by blowing gently, each return by filling.",
)
def fuel_topology(
    components: Annotated[tuple[Component, ...], "All parts."],
    connections: Annotated[tuple[Connection, ...], "All lines."],
    design: Annotated[Design, "What it is meant to be."],
) -> Joined:
    """Findings of the graph. Refuses ports that there are not, no tank, and not one engine."""
    system = System(components, connections, design)
    return Joined(sorted_findings(sorted(set(system.findings()))))


class System:
    """The graph with its states; every way from a tank in each of them, found once."""

    def __init__(
        self, components: Sequence[Component], connections: Sequence[Connection], design: Design
    ) -> None:
        """Refuses by `components`, `connections` or `design` what cannot be."""
        named_once((c.id for c in components), "components")
        for c in components:
            choice(c.kind, tuple(PORTS), "kind")
            choice(c.mount, MOUNTS, "mount")
            _selector(c)
        self.by = {c.id: c for c in components}
        self.tanks = [c for c in components if c.kind == "tank"]
        engines = [c for c in components if c.kind == "engine"]
        if not self.tanks:
            raise Refused("components", "needs at least one tank")
        if len(engines) != 1:
            raise Refused("components", "needs exactly one engine")
        self.engine = engines[0]
        self.graph = Graph({c.id: c.all_ports for c in components})
        named_once((c.id for c in connections), "connections")
        for line in connections:
            self.graph.join(line.id, line.a, line.b)
        self.connections = connections
        self.design = design
        for id_ in design.pumps.ids if design.pumps else ():
            if id_ not in self.by or self.by[id_].kind != "pump":
                raise Refused("design", f"{id_}: is no pump of this system")
        if design.return_to != "feeding" and design.return_to not in {t.id for t in self.tanks}:
            raise Refused("design", f"{design.return_to}: is no tank of this system")
        self.selectors = [c for c in components if c.kind == "selector"]

    @cached_property
    def states(self) -> dict[str, State]:
        """Every choice of positions, by its name."""
        if not self.selectors:
            return {"always": {}}
        choices = itertools.product(*((c.positions or {}).items() for c in self.selectors))
        return {
            ",".join(
                f"{s.id}={name}" for s, (name, _) in zip(self.selectors, chosen, strict=True)
            ): {s.id: pairs for s, (_, pairs) in zip(self.selectors, chosen, strict=True)}
            for chosen in choices
        }

    @cached_property
    def open(self) -> State:
        """Every selector with all its passages at once."""
        return {s.id: _all_pairs(s) for s in self.selectors}

    def passing(self, state: State, possible: bool) -> Passing:
        """What each component lets pass in a state; possible: one-way ones both ways."""

        def through(id_: str, port: str) -> Iterable[str]:
            c = self.by[id_]
            if c.kind == "tee":
                return [p for p in c.all_ports if p != port]
            if c.kind == "selector":
                return [
                    q for pair in state[id_] for p, q in (pair, (pair[1], pair[0])) if p == port
                ]
            if c.kind in ONE_WAY:
                if port == "in":
                    return ["out"]
                return ["in"] if possible else []
            return []

        return through

    def ways(self, begin: str, end: str, state: State, possible: bool) -> list[list[Passage]]:
        """From a port to one port."""
        return self.graph.ways(begin, self.passing(state, possible), lambda at: at == end)

    @cached_property
    def feeds(self) -> dict[str, dict[str, list[list[Passage]]]]:
        """Flow paths to the engine: state -> tank -> ways; tanks that do not feed left out."""
        return {name: self._to_engine(state, False) for name, state in self.states.items()}

    @cached_property
    def could(self) -> list[list[Passage]]:
        """Possible paths from any tank to the engine in any state."""
        return [
            way
            for state in self.states.values()
            for ways in self._to_engine(state, True).values()
            for way in ways
        ]

    def _to_engine(self, state: State, possible: bool) -> dict[str, list[list[Passage]]]:
        into = f"{self.engine.id}.in"
        found = {t.id: self.ways(f"{t.id}.outlet", into, state, possible) for t in self.tanks}
        return {tank: ways for tank, ways in found.items() if ways}

    def findings(self) -> Iterable[tuple[str, str]]:
        """All of them."""
        yield from self.graph.loose()
        yield from self._feeding()
        yield from self._dead()
        yield from self._air_and_drains()
        yield from self._strained()
        yield from self._returns()
        yield from self._pumps()
        yield from self._lines()

    def _feeding(self) -> Iterable[tuple[str, str]]:
        for t in self.tanks:
            if not any(t.id in by_tank for by_tank in self.feeds.values()):
                yield "tank_cannot_feed", t.id
        met: dict[str, set[str]] = {}
        for way in self.could:
            for p in way:
                if self.by[p.id].kind in ONE_WAY:
                    met.setdefault(p.id, set()).add(p.into)
        yield from (("opposed", id_) for id_, into in met.items() if into == {"out"})
        if all(self._to_engine(state, True) for state in self._cut_off()):
            yield "no_off", self.engine.id

    def _cut_off(self) -> Iterable[State]:
        """Every choice of the airframe's selectors, those on the engine standing open."""
        own = [s for s in self.selectors if s.mount == "airframe"]
        fixed = {s.id: _all_pairs(s) for s in self.selectors if s.mount == "engine"}
        for chosen in itertools.product(*((s.positions or {}).values() for s in own)):
            yield fixed | {s.id: pairs for s, pairs in zip(own, chosen, strict=True)}

    def _dead(self) -> Iterable[tuple[str, str]]:
        alive = {p.id for way in self.could for p in way}
        for state in self.states.values():
            for t in self.tanks:
                if self.engine.has_return and t.has_return:
                    back = self.ways(f"{self.engine.id}.return", f"{t.id}.return", state, False)
                    alive |= {p.id for way in back for p in way}
                alive |= self._met(f"{t.id}.vent", "vent_opening", state)
        for t in self.tanks:
            for port in ("outlet", "drain"):
                alive |= self._met(f"{t.id}.{port}", "drain_valve", self.open)
        for c in self.by.values():
            if c.kind in ("tank", "engine", "sensor", "selector") or c.id in alive:
                continue
            if c.kind == "cap" and self._on(c, ("tank", "selector")):
                continue
            yield "dead_branch", c.id

    def _met(self, begin: str, kind: str, state: State) -> set[str]:
        """What lies on possible paths from a port to anything of a kind."""
        ways = self.graph.ways(
            begin,
            self.passing(state, True),
            lambda at: self.by[at.rpartition(".")[0]].kind == kind,
        )
        return {p.id for way in ways for p in way}

    def _on(self, c: Component, kinds: tuple[str, ...]) -> bool:
        """Whether a component's port is joined to one of these kinds."""
        return any(
            self.by[other.rpartition(".")[0]].kind in kinds
            for port in c.all_ports
            for _, other in self.graph.lines.get(f"{c.id}.{port}", ())
        )

    def _air_and_drains(self) -> Iterable[tuple[str, str]]:
        openings = [c for c in self.by.values() if c.kind == "vent_opening"]
        served: dict[str, set[str]] = {o.id: set() for o in openings}
        for state in self.states.values():
            for o in openings:
                for id_, port in self.graph.reached(f"{o.id}.a", self.passing(state, False)):
                    if self.by[id_].kind == "tank" and port == "vent":
                        served[o.id].add(id_)
        for t in self.tanks:
            if not any(t.id in tanks for tanks in served.values()):
                yield "vent_missing", t.id
            drained = any(
                self._met(f"{t.id}.{port}", "drain_valve", self.open)
                for port in ("outlet", "drain")
            )
            if not drained:
                yield "drain_missing", t.id
            elif t.drain_at_low_point is not True:
                yield "drain_not_low", t.id
            if t.outlet_screen is not True:
                yield "outlet_screen_missing", t.id
        if not self.design.vents_interconnected:
            yield from (("vent_shared", o) for o, tanks in served.items() if len(tanks) > 1)

    def _flowing(self) -> Iterable[tuple[str, str, list[Passage]]]:
        """State, tank and way of every flow path."""
        for state, by_tank in self.feeds.items():
            for tank, ways in by_tank.items():
                for way in ways:
                    yield state, tank, way

    def _strained(self) -> Iterable[tuple[str, str]]:
        for _, tank, way in self._flowing():
            for p in way:
                c = self.by[p.id]
                if c.kind in ("filter", "gascolator"):
                    break
                if c.kind == "engine" or (c.kind == "pump" and c.engine_driven):
                    yield "strainer_missing", tank
                    break
            for p in way:
                g = self.by[p.id]
                if g.kind == "gascolator" and g.z is not None:
                    others = (self.by[tank], *(self.by[q.id] for q in way))
                    if any(_lower(c, g.z) for c in others):
                        yield "gascolator_not_low", g.id
        for c in self.by.values():
            if c.kind == "gascolator" and c.has_drain is not True:
                yield "gascolator_no_drain", c.id

    def _returns(self) -> Iterable[tuple[str, str]]:
        if not self.engine.has_return:
            return
        for name, by_tank in self.feeds.items():
            if not by_tank:
                continue
            passing = self.passing(self.states[name], False)
            back = {
                id_
                for id_, port in self.graph.reached(f"{self.engine.id}.return", passing)
                if self.by[id_].kind == "tank" and port == "return"
            }
            meant = set(by_tank) if self.design.return_to == "feeding" else {self.design.return_to}
            if not back:
                yield "return_blocked", name
            elif back - meant:
                yield "return_wrong_tank", name

    def _pumps(self) -> Iterable[tuple[str, str]]:
        for name, by_tank in self.feeds.items():
            if len(by_tank) < 2:
                continue
            drawn = [self._pumps_of(ways) for ways in by_tank.values()]
            if any(a & b for a, b in itertools.combinations(drawn, 2)):
                yield "pump_draws_two_tanks", name
            if not any(drawn) and not self.design.vents_interconnected:
                yield "vents_not_interconnected", name
        pumps = self.design.pumps
        if pumps is None:
            return
        every = [{p.id for p in way} for _, _, way in self._flowing()]
        for id_ in pumps.ids:
            with_it = [way for way in every if id_ in way]
            if pumps.arrangement == "series":
                if len(with_it) < len(every):
                    yield "pump_not_in_series", id_
                continue
            others = set(pumps.ids) - {id_}
            if not with_it or any(way & others for way in with_it):
                yield "pump_not_in_parallel", id_
            without = set().union(*(way for way in every if id_ not in way))
            if any(not self._checks(way) - without for way in with_it):
                yield "parallel_pump_without_check", id_

    def _checks(self, way: set[str]) -> set[str]:
        return {id_ for id_ in way if self.by[id_].kind == "check_valve"}

    def _pumps_of(self, ways: list[list[Passage]]) -> set[str]:
        return {p.id for way in ways for p in way if self.by[p.id].kind == "pump"}

    def _lines(self) -> Iterable[tuple[str, str]]:
        for line in self.connections:
            on = [self.by[at.rpartition(".")[0]].mount for at in (line.a, line.b)]
            zone = "engine" in on if line.engine_zone is None else line.engine_zone
            if zone and not line.fire_resistant:
                yield "not_fire_resistant", line.id
            if on[0] != on[1] and not line.flexible:
                yield "no_flex", line.id


def _lower(c: Component, z: float) -> bool:
    return c.mount != "engine" and c.z is not None and c.z < z


def _all_pairs(s: Component) -> Pairs:
    return [pair for pairs in (s.positions or {}).values() for pair in pairs]


def _selector(c: Component) -> None:
    """Refuses a selector without ports or positions, and pairs of ports that it has not."""
    if c.kind != "selector":
        if c.ports or c.positions:
            raise Refused("ports", f"{c.id}: only a selector has ports of its own")
        return
    if not c.ports or not c.positions:
        raise Refused("positions", f"{c.id}: a selector needs its ports and positions")
    named_once(c.ports, "ports")
    for name, pairs in c.positions.items():
        for pair in pairs:
            if len(pair) != 2 or pair[0] == pair[1] or not set(pair) <= set(c.ports):
                raise Refused("positions", f"{c.id}, {name}: joins two of its ports")
