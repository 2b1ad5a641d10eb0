"""Plumbing as a graph: components with ports, and lines that join them.

A port is written "component.port". A way begins at a port, goes along a line to another, passes
through that component, and so on; it never comes to a port twice.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from core.basis.refused import Refused

MOST_WAYS = 50_000
# What a component lets pass: its name, the port that was come to -> the ports that follow.
Passing = Callable[[str, str], Iterable[str]]


@dataclass(frozen=True)
class Passage:
    """Through one component, or into it (`out` is empty)."""

    id: str
    into: str
    out: str


@dataclass
class Graph:
    """Ports by component, and for each port the lines that end there."""

    ports: Mapping[str, Sequence[str]]
    lines: dict[str, list[tuple[str, str]]] = field(default_factory=dict)

    def join(self, line: str, a: str, b: str) -> None:
        """One line. Refuses a port that there is not."""
        for at in (a, b):
            id_, _, port = at.rpartition(".")
            if port not in self.ports.get(id_, ()):
                raise Refused("connections", f"{line}: no port {at}")
        if a == b:
            raise Refused("connections", f"{line}: joins a port to itself")
        self.lines.setdefault(a, []).append((line, b))
        self.lines.setdefault(b, []).append((line, a))

    def every_port(self) -> list[str]:
        """In the order of the components."""
        return [f"{id_}.{p}" for id_, ports in self.ports.items() for p in ports]

    def loose(self) -> list[tuple[str, str]]:
        """Ports that no line, or more than one, comes to."""
        count = Counter({at: len(self.lines.get(at, ())) for at in self.every_port()})
        return [("port_open", at) for at, n in count.items() if n == 0] + [
            ("port_multiple", at) for at, n in count.items() if n > 1
        ]

    def ways(
        self, begin: str, passing: Passing, goal: Callable[[str], bool]
    ) -> list[list[Passage]]:
        """Every way from a port to a port that is a goal, as the components it passes."""
        found: list[list[Passage]] = []
        budget = [MOST_WAYS]
        self._walk(begin, passing, goal, {begin}, [], found, budget)
        return found

    def _walk(
        self,
        at: str,
        passing: Passing,
        goal: Callable[[str], bool],
        seen: set[str],
        way: list[Passage],
        found: list[list[Passage]],
        budget: list[int],
    ) -> None:
        for _, other in self.lines.get(at, ()):
            if other in seen:
                continue
            budget[0] -= 1
            if budget[0] < 0:
                raise Refused("connections", "branch in more ways than can be followed")
            id_, _, port = other.rpartition(".")
            seen.add(other)
            if goal(other):
                found.append([*way, Passage(id_, port, "")])
            for out in passing(id_, port):
                leave = f"{id_}.{out}"
                if leave in seen:
                    continue
                seen.add(leave)
                step = Passage(id_, port, out)
                self._walk(leave, passing, goal, seen, [*way, step], found, budget)
                seen.discard(leave)
            seen.discard(other)

    def reached(self, begin: str, passing: Passing) -> Iterator[tuple[str, str]]:
        """Every (component, port) that can be come to from a port, each once."""
        seen, ahead = {begin}, [begin]
        while ahead:
            for _, other in self.lines.get(ahead.pop(), ()):
                if other in seen:
                    continue
                seen.add(other)
                id_, _, port = other.rpartition(".")
                yield id_, port
                for out in passing(id_, port):
                    leave = f"{id_}.{out}"
                    if leave not in seen:
                        seen.add(leave)
                        ahead.append(leave)


def named_once(ids: Iterable[str], name: str) -> None:
    """Refuses a second one of the same name, and one without."""
    for id_, n in Counter(ids).items():
        if not id_.strip():
            raise Refused(name, "each needs a name")
        if n > 1:
            raise Refused(name, f"{id_}: is there twice")
