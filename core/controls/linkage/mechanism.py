"""A mechanism: bodies that turn or slide, rods between ball joints, inputs and outputs.

All coordinates are aircraft axes (x aft, y right, z up), m, in the reference position, where
every body's q is 0. q is right-handed about the unit axis (rad) or along it (m). A carried
body's pivot, axis and points are given with its carrier at reference.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Any

from core.basis.refused import Refused
from core.controls.linkage.curve import Curve

Vector = tuple[float, float, float]
ORIGIN: Vector = (0.0, 0.0, 0.0)
KINDS = ("turn", "slide")
UNITS = ("rad", "m")
# Two points closer than this are one place; an axis shorter than this has no direction.
ONE_PLACE_M = 1e-9


@dataclass(frozen=True)
class ByInput:
    """Driven by hand: q = ratio x input."""

    input: str
    ratio: float = 1.0


@dataclass(frozen=True)
class ByRod:
    """Driven by a rod from another body."""

    rod: str


@dataclass(frozen=True)
class ByBody:
    """Driven by drum and cable, chain or gear: q = ratio x q of the body + offset.

    `through` says by what (cables). `curve`: points (q of the body, q), rising q of the body,
    where the ratio is not one number; beyond its ends it goes on straight.
    """

    body: str
    ratio: float
    offset: float = 0.0
    through: str = ""
    curve: tuple[tuple[float, float], ...] = ()

    def follow(self, q: Any) -> Any:
        """The driven q for the body's q; numbers or arrays."""
        return self._curve.at(q) if self.curve else self.ratio * q + self.offset

    def slope(self, q: Any) -> Any:
        """d driven q / d q of the body."""
        return self._curve.slope(q) if self.curve else self.ratio

    @cached_property
    def _curve(self) -> Curve:
        return Curve(self.curve)


Driver = ByInput | ByRod | ByBody


@dataclass(frozen=True)
class Body:
    """A lever, crank, surface or slider. `axis` is a unit vector; a slide needs no pivot."""

    id: str
    kind: str
    axis: Vector
    driven_by: Driver
    pivot: Vector = ORIGIN
    points: Mapping[str, Vector] = field(default_factory=dict)
    carried_by: str | None = None

    @property
    def unit(self) -> str:
        """The unit of its q: rad or m."""
        return "rad" if self.kind == "turn" else "m"


@dataclass(frozen=True)
class End:
    """Where a rod is held. `bore`: unit vector of the ball's bolt, fixed in the body;
    `cone`: greatest misalignment allowed by the rod end, rad."""

    body: str
    point: str
    bore: Vector | None = None
    cone: float | None = None


@dataclass(frozen=True)
class Rod:
    """A rigid rod between two ball joints; `length` None: as far apart as at reference."""

    id: str
    a: End
    b: End
    length: float | None = None


@dataclass(frozen=True)
class Output:
    """What is looked at: sign x q of a body."""

    body: str
    sign: int = 1


@dataclass(frozen=True)
class Mechanism:
    """One control's levers and rods. Inputs by name with their unit (rad or m)."""

    id: str
    inputs: Mapping[str, str]
    bodies: tuple[Body, ...]
    rods: tuple[Rod, ...] = ()
    outputs: Mapping[str, Output] = field(default_factory=dict)

    def body(self, name: str) -> Body:
        """The body of that id; refuses an unknown one."""
        for b in self.bodies:
            if b.id == name:
                return b
        raise Refused(f"bodies.{name}", "is not a body of this mechanism")

    def rod(self, name: str) -> Rod:
        """The rod of that id; refuses an unknown one."""
        for r in self.rods:
            if r.id == name:
                return r
        raise Refused(f"rods.{name}", "is not a rod of this mechanism")

    def at_reference(self, end: End) -> Vector:
        """Where an end lies in the reference position, m."""
        return self.body(end.body).points[end.point]

    def nominal(self, rod: Rod) -> float:
        """A rod's nominal length, m."""
        if rod.length is not None:
            return rod.length
        return math.dist(self.at_reference(rod.a), self.at_reference(rod.b))

    def with_lengths(self, lengths: Mapping[str, float]) -> Mechanism:
        """The same with these rod lengths, m, as nominal ones."""
        rods = (replace(r, length=lengths.get(r.id, r.length)) for r in self.rods)
        return replace(self, rods=tuple(rods))


def unit(vector: Iterable[float], name: str) -> Vector:
    """The vector's direction; refuses one without length."""
    x, y, z = vector
    size = math.hypot(x, y, z)
    if size < ONE_PLACE_M:
        raise Refused(name, "has no length: it gives no direction")
    return (x / size, y / size, z / size)


def ordered(m: Mechanism) -> tuple[str, ...]:
    """Bodies in an order in which each can be solved, after checking the whole.

    Refuses doubled ids, unknown names, a rod that is not on the body that it drives or
    drives none, both ends on one body or at one place, and bodies in a circle.
    """
    _names_once("bodies", (b.id for b in m.bodies))
    _names_once("rods", (r.id for r in m.rods))
    names = {b.id for b in m.bodies}
    needs: dict[str, set[str]] = {}
    for b in m.bodies:
        if b.kind not in KINDS:
            raise Refused(f"bodies.{b.id}.kind", "must be turn or slide")
        if b.carried_by is not None and b.carried_by not in names:
            raise Refused(f"bodies.{b.id}.carried_by", f"{b.carried_by} is not a body")
        needs[b.id] = {b.carried_by} if b.carried_by else set()
        needs[b.id] |= _driver(m, b, names)
    for r in m.rods:
        _check_rod(m, r, names)
    for name, o in m.outputs.items():
        if o.body not in names:
            raise Refused(f"outputs.{name}", f"{o.body} is not a body")
        if o.sign not in (1, -1):
            raise Refused(f"outputs.{name}.sign", "must be 1 or -1")
    try:
        return tuple(TopologicalSorter(needs).static_order())
    except CycleError as circle:
        named = ", ".join(dict.fromkeys(circle.args[1]))
        raise Refused("bodies", f"drive each other in a circle: {named}") from None


def _names_once(field_name: str, ids: Iterable[str]) -> None:
    seen: set[str] = set()
    for name in ids:
        if not name.strip():
            raise Refused(field_name, "every one needs an id")
        if name in seen:
            raise Refused(f"{field_name}.{name}", "is there twice")
        seen.add(name)


def _driver(m: Mechanism, b: Body, names: set[str]) -> set[str]:
    """The bodies that b's driver depends on."""
    at = f"bodies.{b.id}.driven_by"
    d = b.driven_by
    if isinstance(d, ByInput):
        if d.input not in m.inputs:
            raise Refused(at, f"{d.input} is not an input")
        if d.ratio == 0.0:
            raise Refused(at, "a ratio of zero moves nothing")
        return set()
    if isinstance(d, ByBody):
        if d.body not in names:
            raise Refused(at, f"{d.body} is not a body")
        return {d.body}
    rod = next((r for r in m.rods if r.id == d.rod), None)
    if rod is None:
        raise Refused(at, f"{d.rod} is not a rod")
    if b.id not in (rod.a.body, rod.b.body):
        raise Refused(f"rods.{rod.id}", f"is not on {b.id}, which it drives")
    far = rod.b if rod.a.body == b.id else rod.a
    return {far.body} if far.body != b.id else set()


def _check_rod(m: Mechanism, r: Rod, names: set[str]) -> None:
    at = f"rods.{r.id}"
    for side, end in (("a", r.a), ("b", r.b)):
        if end.body not in names:
            raise Refused(f"{at}.{side}", f"{end.body} is not a body")
        if end.point not in m.body(end.body).points:
            raise Refused(f"{at}.{side}", f"{end.body} has no point {end.point}")
        if end.cone is not None and not 0.0 < end.cone < math.pi / 2:
            raise Refused(f"{at}.{side}.cone_rad", "must be over 0 and under a right angle")
    if r.a.body == r.b.body:
        raise Refused(at, f"has both ends on {r.a.body}")
    if math.dist(m.at_reference(r.a), m.at_reference(r.b)) < ONE_PLACE_M:
        raise Refused(at, "has both ends at one place")
    if r.length is not None and r.length <= 0.0:
        raise Refused(f"{at}.length_m", "must be greater than zero")
    driven = [b for b in m.bodies if b.driven_by == ByRod(r.id)]
    if not driven:
        held = next(
            (
                b
                for b in m.bodies
                if b.id in (r.a.body, r.b.body) and isinstance(b.driven_by, ByRod)
            ),
            None,
        )
        said = f": {held.id} is driven by another rod already" if held else ""
        raise Refused(at, f"drives no body{said}")
