"""What happens at a rod's ends: arms, transmission, dead centre, misalignment of the balls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from core.basis.vectors import Num, Point, cross, dot, minus, size, times
from core.controls.linkage.mechanism import ByInput, End, Rod, Vector
from core.controls.linkage.solving import Motion, Placed, circle


@dataclass(frozen=True)
class RodEnd:
    """At one end. `arm`: rod force x arm = moment, m (turn); `lead`: movement along the rod
    per movement of the slide. `transmission`: 90° best, 0° dead centre, rad. `misalign` and
    `cone_left`, rad: None where bores or cone are not given."""

    turns: bool
    arm: Num
    transmission: Num
    misalign: Num | None = None
    cone_left: Num | None = None


@dataclass(frozen=True)
class RodState:
    """Both ends; `to_dead_centre` of the driven turn and `twist` between the bores, rad."""

    a: RodEnd
    b: RodEnd
    to_dead_centre: Num | None
    twist: Num | None


def rod_states(m: Motion) -> dict[str, RodState]:
    """Every rod of a solved motion, for all its positions."""
    return {r.id: _state(m, r) for r in m.plan.mechanism.rods if r.b.body in m.placed}


def _state(m: Motion, r: Rod) -> RodState:
    a, b = m.at(r.a), m.at(r.b)
    along = minus(b, a)
    e = times(1.0 / size(along), along)
    twist = _twist(m, r, e)
    return RodState(
        _end(m, r.a, a, e, twist), _end(m, r.b, b, e, twist), _to_dead_centre(m, r), twist
    )


def _end(m: Motion, end: End, point: Point, e: Point, twist: Num | None) -> RodEnd:
    placed = m.placed[end.body]
    v = placed.per_q(point)
    arm = np.abs(dot(e, v))
    misalign = cone_left = None
    if twist is not None and end.bore is not None:
        misalign = _misalign(placed, end.bore, e, twist)
        cone_left = None if end.cone is None else end.cone - misalign
    turns = placed.body.kind == "turn"
    return RodEnd(turns, arm, np.arctan2(arm, size(cross(e, v))), misalign, cone_left)


def _misalign(placed: Placed, bore: Vector, e: Point, twist: Num) -> Num:
    """acos(cos ξ cos(τ/2)) without its loss of digits near zero; the twist shared evenly."""
    b = placed.turn(bore)
    sin, cos = np.abs(dot(b, e)), size(cross(b, e))
    half = twist / 2.0
    return np.arctan2(np.hypot(sin, cos * np.sin(half)), cos * np.cos(half))


def _twist(m: Motion, r: Rod, e: Point) -> Num | None:
    """Change from reference of the angle between the bores about the rod, into ±90°."""
    if r.a.bore is None or r.b.bore is None:
        return None
    start = _reference_twist(m, r)
    now = _between(m.placed[r.a.body].turn(r.a.bore), m.placed[r.b.body].turn(r.b.bore), e)
    return (now - start + np.pi / 2) % np.pi - np.pi / 2


def _reference_twist(m: Motion, r: Rod) -> Num:
    assert r.a.bore is not None and r.b.bore is not None
    mechanism = m.plan.mechanism
    along = minus(mechanism.at_reference(r.b), mechanism.at_reference(r.a))
    return _between(r.a.bore, r.b.bore, times(1.0 / size(along), along))


def _between(a: Point, b: Point, e: Point) -> Num:
    pa, pb = minus(a, times(dot(e, a), e)), minus(b, times(dot(e, b), e))
    return np.arctan2(dot(e, cross(pa, pb)), dot(pa, pb))


def _to_dead_centre(m: Motion, r: Rod) -> Num | None:
    """Turn of the driven arm to line up with the rod, far end held, rad."""
    name = next((n for n, d in m.plan.drives.items() if d.rod == r.id), None)
    if name is None or name not in m.placed:
        return None
    placed = m.placed[name]
    if placed.body.kind != "turn":
        return None
    drive = m.plan.drives[name]
    far = m.at(drive.far)
    if placed.carrier:
        far = placed.carrier.back(far)
    a, b, c = circle(placed.body, far, placed.body.points[drive.near.point], m.lengths[r.id])
    with np.errstate(invalid="ignore"):
        turn = np.arccos(c / np.sqrt(a * a + b * b))
    return np.minimum(turn, np.pi - turn)


def hand_force(m: Motion, name: str, gears: dict[str, Num]) -> dict[str, Num] | None:
    """Force at the grip per hinge moment of each output, N per N m, by virtual work.

    None where the input's body does not turn or has no point `grip` off its axis. No
    friction, no stretch.
    """
    for body in m.plan.mechanism.bodies:
        d = body.driven_by
        if not (isinstance(d, ByInput) and d.input == name and body.kind == "turn"):
            continue
        if "grip" not in body.points:
            continue
        reach = float(size(cross(body.axis, minus(body.points["grip"], body.pivot))))
        if reach > 0.0:
            return {o: np.abs(g) / (abs(d.ratio) * reach) for o, g in gears.items()}
    return None
