"""Positions and rates of a mechanism, exact and for whole sweeps at once.

A body on a rod is where its point lies at the rod's length from the far end: for a turn
A cos q + B sin q = C, for a slide a quadratic. The branch is the one of the reference
position for ever, because a rigid rod cannot change it without passing dead centre.
Source: plane and spatial four-bar geometry (any machine kinematics text).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import cast

import numpy as np

from core.basis.refused import Refused
from core.basis.vectors import Num, Point, cross, dot, minus, plus, size, times
from core.controls.linkage.mechanism import Body, ByBody, ByInput, ByRod, End, Mechanism, ordered

# Sine of the angle between arm and rod under which the reference position is dead centre.
DEAD = 1e-6


@dataclass(frozen=True)
class Drive:
    """How a rod drives its body: the far end, its own point, and the branch at reference."""

    rod: str
    far: End
    near: End
    branch: int


@dataclass(frozen=True)
class Plan:
    """A mechanism ready to be solved: order, nominal lengths (m) and branches."""

    mechanism: Mechanism
    order: tuple[str, ...]
    lengths: Mapping[str, float]
    drives: Mapping[str, Drive]

    def upstream(self, bodies: Collection[str]) -> tuple[str, ...]:
        """These bodies and all that they depend on, in solving order."""
        wanted: set[str] = set()
        todo = list(bodies)
        while todo:
            name = todo.pop()
            if name in wanted:
                continue
            wanted.add(name)
            b = self.mechanism.body(name)
            if b.carried_by:
                todo.append(b.carried_by)
            if isinstance(b.driven_by, ByBody):
                todo.append(b.driven_by.body)
            if name in self.drives:
                todo.append(self.drives[name].far.body)
        return tuple(n for n in self.order if n in wanted)


@dataclass(frozen=True)
class Placed:
    """A body where it is: q, and its carrier likewise."""

    body: Body
    q: Num
    cos: Num
    sin: Num
    carrier: Placed | None

    def move(self, point: Point) -> Point:
        """Where a point given at reference is now."""
        own = self._own(point)
        return self.carrier.move(own) if self.carrier else own

    def back(self, point: Point) -> Point:
        """Where a point of space lies in the reference position of this body."""
        p = self.carrier.back(point) if self.carrier else point
        if self.body.kind == "slide":
            return minus(p, times(self.q, self.body.axis))
        return self._turned(p, -self.sin)

    def turn(self, direction: Point) -> Point:
        """A direction given at reference as it points now."""
        if self.body.kind == "turn":
            u = self.body.axis
            along = times(dot(u, direction), u)
            across = minus(direction, along)
            direction = plus(
                along, plus(times(self.cos, across), times(self.sin, cross(u, across)))
            )
        return self.carrier.turn(direction) if self.carrier else direction

    def per_q(self, point: Point) -> Point:
        """Movement of a point of space per unit of this body's own q, its carrier held."""
        u = self.carrier.turn(self.body.axis) if self.carrier else self.body.axis
        if self.body.kind == "slide":
            return u
        pivot = self.carrier.move(self.body.pivot) if self.carrier else self.body.pivot
        return cross(u, minus(point, pivot))

    def _own(self, point: Point) -> Point:
        if self.body.kind == "slide":
            return plus(point, times(self.q, self.body.axis))
        return self._turned(point, self.sin)

    def _turned(self, point: Point, sin: Num) -> Point:
        u, pivot = self.body.axis, self.body.pivot
        w = minus(point, pivot)
        along = times(dot(u, w), u)
        across = minus(w, along)
        turned = plus(times(self.cos, across), times(sin, cross(u, across)))
        return plus(pivot, plus(along, turned))


@dataclass(frozen=True)
class Motion:
    """A solved sweep. `q` by body (rad or m); where `lock` is not -1 the values are not.

    `lock`: for each position the index in `plan.order` of the first body that its rod
    cannot hold any more, -1 where the mechanism closes.
    """

    plan: Plan
    placed: Mapping[str, Placed]
    lengths: Mapping[str, Num]
    lock: Num

    @property
    def q(self) -> dict[str, Num]:
        """Every body's q."""
        return {name: p.q for name, p in self.placed.items()}

    def at(self, end: End) -> Point:
        """Where a rod's end is, m."""
        return self.placed[end.body].move(self.plan.mechanism.body(end.body).points[end.point])

    def output(self, name: str) -> Num:
        """An output: sign x q."""
        o = self.plan.mechanism.outputs[name]
        return o.sign * self.placed[o.body].q

    def rod_locked(self, position: int | tuple[int, ...] = ()) -> str | None:
        """The rod that locks at this position, None if it closes."""
        index = int(np.asarray(self.lock)[position])
        return None if index < 0 else self.plan.drives[self.plan.order[index]].rod


def plan(mechanism: Mechanism) -> Plan:
    """Check a mechanism and find its branches.

    Refuses what `mechanism.ordered` refuses, a rod that cannot reach at its nominal length,
    and one at dead centre in the reference position.
    """
    order = ordered(mechanism)
    lengths = {r.id: mechanism.nominal(r) for r in mechanism.rods}
    drives: dict[str, Drive] = {}
    for name in order:
        body = mechanism.body(name)
        if isinstance(body.driven_by, ByRod):
            drives[name] = _drive(mechanism, body, lengths)
    return Plan(mechanism, order, lengths, drives)


def _drive(m: Mechanism, body: Body, lengths: Mapping[str, float]) -> Drive:
    rod = m.rod(cast(ByRod, body.driven_by).rod)
    near, far = (rod.a, rod.b) if rod.a.body == body.id else (rod.b, rod.a)
    at, length = f"rods.{rod.id}", lengths[rod.id]
    start, end = m.at_reference(far), m.at_reference(near)
    if body.kind == "slide":
        e = minus(start, end)
        along = dot(body.axis, e)
        root = length**2 - dot(e, e) + along**2
        if root < 0.0:
            raise Refused(at, "can never reach: it is too short for this place")
        if math.sqrt(root) < DEAD * length:
            raise Refused(at, "is at dead centre in the reference position")
        return Drive(rod.id, far, near, -1 if along > 0 else 1)
    a, b, c = circle(body, start, end, length)
    reach = math.hypot(a, b)
    if reach == 0.0:
        raise Refused(at, "is at dead centre in the reference position: an arm has no length")
    if abs(c) > reach * (1.0 + 1e-12):
        raise Refused(at, f"can never reach: {length * 1e3:.1f} mm does not close the linkage here")
    if math.sqrt(max(0.0, 1.0 - (c / reach) ** 2)) < DEAD:
        raise Refused(at, "is at dead centre in the reference position")
    return Drive(rod.id, far, near, -1 if b > 0 else 1)


def circle(body: Body, far: Point, near: Point, length: Num) -> tuple[Num, Num, Num]:
    """A, B, C (m²) of A cos q + B sin q = C for a turn; `far` in its carrier's frame, m."""
    u = body.axis
    d, w = minus(far, body.pivot), minus(near, body.pivot)
    along = dot(u, w)
    across = minus(w, times(along, u))
    a, b = dot(d, across), dot(d, cross(u, across))
    c = (dot(d, d) + dot(w, w) - length * length) / 2.0 - dot(u, d) * along
    return a, b, c


def solve(
    p: Plan,
    inputs: Mapping[str, Num],
    lengths: Mapping[str, Num] | None = None,
    bodies: Collection[str] | None = None,
) -> Motion:
    """Positions for these inputs (rad or m; numbers or arrays that broadcast; absent: 0).

    `lengths`: built rod lengths, m, instead of the nominal ones. `bodies`: only these and
    what they depend on. Refuses unknown names.
    """
    for name in inputs:
        if name not in p.mechanism.inputs:
            raise Refused(f"at.{name}", "names no input")
    for name in lengths or {}:
        if name not in p.lengths:
            raise Refused(f"lengths.{name}", "names no rod")
    built = {**p.lengths, **(lengths or {})}
    placed: dict[str, Placed] = {}
    lock: Num = np.full((), -1)
    order = p.order if bodies is None else p.upstream(bodies)
    with np.errstate(invalid="ignore"):
        for name in order:
            body = p.mechanism.body(name)
            carrier = placed[body.carried_by] if body.carried_by else None
            d = body.driven_by
            if isinstance(d, ByInput):
                q = d.ratio * np.asarray(inputs.get(d.input, 0.0), dtype=float)
            elif isinstance(d, ByBody):
                q = d.follow(placed[d.body].q)
            else:
                q, fails = _on_rod(p, body, placed, carrier, built[d.rod])
                index = p.order.index(name)
                lock = np.where((lock < 0) & fails, index, lock)
            placed[name] = Placed(body, q, np.cos(q), np.sin(q), carrier)
    return Motion(p, placed, built, lock)


def _on_rod(
    p: Plan, body: Body, placed: Mapping[str, Placed], carrier: Placed | None, length: Num
) -> tuple[Num, Num]:
    drive = p.drives[body.id]
    far = placed[drive.far.body].move(p.mechanism.at_reference(drive.far))
    if carrier:
        far = carrier.back(far)
    near = body.points[drive.near.point]
    if body.kind == "slide":
        e = minus(far, near)
        along = dot(body.axis, e)
        root = length * length - dot(e, e) + along * along
        return along + drive.branch * np.sqrt(root), root < 0.0
    a, b, c = circle(body, far, near, length)
    reach = np.sqrt(a * a + b * b)
    q = np.arctan2(b, a) + drive.branch * np.arccos(c / reach)
    return _wrapped(q), np.abs(c) > reach


def _wrapped(q: Num) -> Num:
    """Into (-π, π]."""
    return q - 2.0 * np.pi * np.ceil((q - np.pi) / (2.0 * np.pi))


def rates(m: Motion, inputs: Mapping[str, float], lengths: Mapping[str, float]) -> dict[str, Num]:
    """dq of every solved body per unit, moving inputs and rod lengths at these rates. Exact."""
    found: dict[str, Num] = {}
    mechanism = m.plan.mechanism
    for name, placed in m.placed.items():
        d = placed.body.driven_by
        if isinstance(d, ByInput):
            found[name] = d.ratio * inputs.get(d.input, 0.0) * np.ones_like(placed.q)
        elif isinstance(d, ByBody):
            found[name] = d.slope(m.placed[d.body].q) * found[d.body]
        else:
            rod, drive = mechanism.rod(d.rod), m.plan.drives[name]
            near, far = m.at(drive.near), m.at(drive.far)
            away = minus(near, far)
            e = times(1.0 / size(away), away)
            held = _velocity(m, placed.carrier, near, found)
            moved = _velocity(m, m.placed[drive.far.body], far, found)
            grows = lengths.get(rod.id, 0.0)
            with np.errstate(divide="ignore", invalid="ignore"):
                found[name] = (grows + dot(e, minus(moved, held))) / dot(e, placed.per_q(near))
    return found


def _velocity(m: Motion, placed: Placed | None, point: Point, found: Mapping[str, Num]) -> Point:
    """Of a point of space that moves with a body and all that carry it."""
    total: Point = (0.0, 0.0, 0.0)
    while placed is not None:
        total = plus(total, times(found[placed.body.id], placed.per_q(point)))
        placed = placed.carrier
    return total


def gear(m: Motion, name: str) -> dict[str, Num]:
    """d output / d input (rad or m) for every output."""
    moved = rates(m, {name: 1.0}, {})
    outputs = m.plan.mechanism.outputs
    return {o: out.sign * moved[out.body] for o, out in outputs.items()}
