"""Can a tool get there, and turn far enough (`plan.tool_access`)?"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np

from core.basis.forms import Unit
from core.basis.refused import Refused, finite, not_negative, positive
from core.basis.rules import rule
from core.clearance.distance import (
    Array,
    BoxIn,
    between,
    block_of,
    coordinates,
    line_of,
    listed,
    to_box,
)
from core.clearance.words import GEOMETRY
from core.plan.swing import Handle, Thing, blocked, widest

CAUTION = (
    "Computed from what was entered around it. Try the tool in your hand before the skin is on:"
    " sight, two hands and the torque that must be felt are not in it."
)
TURN = 2.0 * math.pi


@dataclass(frozen=True)
class BarrelIn:
    """A socket, an extension, a hand: round, from the seat along its direction."""

    radius: Annotated[float, "Of it.", Unit("m")]
    length: Annotated[float, "From the seat; at least its radius.", Unit("m")]
    direction: Annotated[Sequence[float] | None, "Default: outward."] = None


@dataclass(frozen=True)
class HandleIn:
    """At right angles to the axis, swinging round it: a rod (radius) or a flat bar (width and
    thickness)."""

    length: Annotated[float, "From the axis.", Unit("m")]
    swing_rad: Annotated[float, "It must turn by; at most a full turn."]
    radius: Annotated[float | None, "Of a rod.", Unit("m")] = None
    width: Annotated[float | None, "Of a flat bar.", Unit("m")] = None
    thickness: Annotated[float | None, "Of a flat bar, from its standoff on.", Unit("m")] = None
    standoff: Annotated[float, "From the seat, outward.", Unit("m")] = 0.0


@dataclass(frozen=True)
class ToolIn:
    """A tool: barrel, handle, or both."""

    barrel: Annotated[BarrelIn | None, "radius, length, direction."] = None
    handle: Annotated[HandleIn | None, "length, radius or width and thickness, swing_rad."] = None


@dataclass(frozen=True)
class AroundIn:
    """What stands around: a line or a box; closure: there only when that closure is on."""

    id: Annotated[str, "What it is called."]
    points: Annotated[Sequence[Sequence[float]] | None, "Corners, m."] = None
    radius: Annotated[float, "Of it.", Unit("m")] = 0.0
    box: Annotated[BoxIn | None, "Instead: centre, half, axes."] = None
    closure: Annotated[str | None, "Only when that is on."] = None


@dataclass(frozen=True)
class Side:
    """A tool on one side of the bolt."""

    reachable: Annotated[bool, "It gets there and turns far enough."]
    barrel_free: Annotated[bool | None, "Null: no barrel."]
    free_arc_rad: Annotated[float | None, "Widest arc in which the handle is free; null: none."]
    swing_left_rad: Annotated[float | None, "Beyond what it must turn; below 0: not enough."]
    direction: Annotated[tuple[float, ...] | None, "To the middle of that arc."]
    blocked_by: Annotated[tuple[str, ...], "What is in its way."]
    limited_by: Annotated[tuple[str, ...], "What ends that arc."]


@dataclass(frozen=True)
class Access:
    """Both sides, and which closures take it away."""

    head: Annotated[Side | None, "Null: no tool is needed there."]
    nut: Annotated[Side | None, "Null: no tool is needed there."]
    reachable: Annotated[bool, "Both."]
    taken_by: Annotated[tuple[str, ...], "Later closures after which it is not."]


@dataclass(frozen=True)
class Tool:
    """A tool, checked, at its seat."""

    seat: Array
    outward: Array
    barrel: tuple[Array, Array, float] | None
    handle: Handle | None
    swing: float


@rule(
    "plan.tool_access",
    title="Can a tool get there?",
    purpose="Do the tools fit, turn far enough, and which closure takes that away?",
    source=GEOMETRY,
    validity="Rigid tools at right angles to the bolt. An arm’s way is clearance.reach.",
    caution=CAUTION,
)
def tool_access(
    head: Annotated[Sequence[float], "Seat of the head, on the bolt’s axis, m."],
    nut: Annotated[Sequence[float], "Seat of the nut, m."],
    around: Annotated[tuple[AroundIn, ...], "id; points and radius, or box; closure."] = (),
    head_tool: Annotated[ToolIn | None, "barrel, handle; null: none is needed."] = None,
    nut_tool: Annotated[ToolIn | None, "The same."] = None,
    gap_m: Annotated[float, "Free from this distance on."] = 0.0,
    closed: Annotated[tuple[str, ...], "Closures that are on."] = (),
    later: Annotated[tuple[str, ...], "Tested one by one, on top."] = (),
) -> Access:
    """Refuses both seats at one point (`nut`), no tool (`head_tool`), a tool of no part, sizes
    that are not above zero, closures that no item has (`closed`, `later`)."""
    top, low = np.array(coordinates(head, "head")), np.array(coordinates(nut, "nut"))
    axis = top - low
    long = float(np.linalg.norm(axis))
    if long < 1e-12:
        raise Refused("nut", "is at the head’s point: there is no axis")
    if head_tool is None and nut_tool is None:
        raise Refused("head_tool", "is needed, or a tool for the nut")
    outward = axis / long
    tools: dict[str, Tool | None] = {
        "head": _tool(head_tool, "head_tool", top, outward) if head_tool else None,
        "nut": _tool(nut_tool, "nut_tool", low, -outward) if nut_tool else None,
    }
    items = [(_thing(a), a.closure) for a in around]
    known = {c for _, c in items if c}
    for name, asked in (("closed", closed), ("later", later)):
        for c in asked:
            if c not in known:
                raise Refused(name, f"{c}: no item has that closure")
    least = not_negative(gap_m, "gap_m")

    def sides(on: Sequence[str]) -> dict[str, Side | None]:
        there = [t for t, c in items if c is None or c in on]
        return {n: None if t is None else _side(t, there, least) for n, t in tools.items()}

    now = sides(closed)
    reachable = all(s.reachable for s in now.values() if s is not None)
    taken = [
        c for c in later
        if reachable and not all(s.reachable for s in sides([*closed, c]).values() if s)
    ]  # fmt: skip
    return Access(now["head"], now["nut"], reachable, tuple(taken))


def _thing(a: AroundIn) -> Thing:
    at = f"around.{a.id}"
    if (a.points is None) == (a.box is None):
        raise Refused(f"{at}.points", "needs points, or a box instead")
    if a.box is not None:
        return Thing(a.id, box=block_of(a.box, f"{at}.box"))
    return Thing(a.id, line_of(a.points or (), f"{at}.points"),
                 not_negative(a.radius, f"{at}.radius"))  # fmt: skip


def _tool(t: ToolIn, at: str, seat: Array, outward: Array) -> Tool:
    if t.barrel is None and t.handle is None:
        raise Refused(at, "has neither barrel nor handle")
    barrel = None
    if t.barrel is not None:
        radius = positive(t.barrel.radius, f"{at}.barrel.radius")
        length = positive(t.barrel.length, f"{at}.barrel.length")
        if length < radius:
            raise Refused(f"{at}.barrel.length", "must be at least its radius")
        way = outward
        if t.barrel.direction is not None:
            way = np.array(coordinates(t.barrel.direction, f"{at}.barrel.direction"))
            far = float(np.linalg.norm(way))
            if far < 1e-12:
                raise Refused(f"{at}.barrel.direction", "has no length: it gives no direction")
            way = way / far
        barrel = (seat + way * radius, seat + way * length, radius)
    handle, swing = None, 0.0
    if t.handle is not None:
        handle, swing = _handle(t.handle, f"{at}.handle", seat, outward)
    return Tool(seat, outward, barrel, handle, swing)


def _handle(h: HandleIn, at: str, seat: Array, outward: Array) -> tuple[Handle, float]:
    length = positive(h.length, f"{at}.length")
    swing = positive(h.swing_rad, f"{at}.swing_rad")
    if swing > TURN + 1e-12:
        raise Refused(f"{at}.swing_rad", "is more than a full turn")
    standoff = finite(h.standoff, f"{at}.standoff")
    helper = np.array([1.0, 0.0, 0.0]) if abs(outward[0]) < 0.9 else np.array([0.0, 1.0, 0.0])
    e1 = np.cross(outward, helper)
    e1 = e1 / np.linalg.norm(e1)
    place = (seat + outward * standoff, outward, e1, np.cross(outward, e1), length)
    if h.radius is not None:
        return Handle(*place, radius=positive(h.radius, f"{at}.radius")), swing
    if h.width is None or h.thickness is None:
        raise Refused(f"{at}.radius", "needs a radius, or width and thickness of a flat bar")
    width = positive(h.width, f"{at}.width")
    return Handle(*place, width=width, thickness=positive(h.thickness, f"{at}.thickness")), swing


def _side(t: Tool, there: Sequence[Thing], least: float) -> Side:
    in_barrel = [x.id for x in there if t.barrel is not None and _near(t.barrel, x) < least]
    barrel_free = None if t.barrel is None else not in_barrel
    if t.handle is None:
        return Side(not in_barrel, barrel_free, None, None, None, tuple(in_barrel), ())
    handle = t.handle
    arcs = {x.id: blocked(handle.gap(x), handle.reach, least) for x in there}
    arc = widest(arcs)
    left = arc.width - t.swing
    enough = left >= -1e-9
    names = in_barrel + ([] if enough else list(arc.ends))
    way = None if arc.middle is None else listed(handle.along(np.array([arc.middle]))[0])
    return Side(
        not in_barrel and enough, barrel_free, arc.width, left, way, tuple(dict.fromkeys(names)),
        arc.ends,
    )  # fmt: skip


def _near(barrel: tuple[Array, Array, float], x: Thing) -> float:
    a, b, radius = barrel
    if x.box is not None:
        return float(to_box(x.box.inside(a), x.box.inside(b), x.box.half)[0]) - radius
    assert x.points is not None
    return float(between(a, b, x.points[:-1], x.points[1:])[0].min()) - radius - x.radius
