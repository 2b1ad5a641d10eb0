"""What a control moves, as others meet it: plain tables of where it lies at each position.

A trade that solves linkages or cables tells this; nothing here is solved. Between the positions
of a table everything is taken as straight, with an allowance for what that leaves out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

Array = Any


@dataclass(frozen=True)
class Axis:
    """A control, or a setting of it, and where it is looked at.

    id: its own in the aircraft. nodes: rising, rad or m. notches: their names, of a setting that
    is only ever at one of them. said: where the range comes from, in words. unsure: what of that
    nobody said. control: whose it is.
    """

    id: str
    name: str
    unit: str
    nodes: tuple[float, ...]
    notches: tuple[str, ...] = ()
    said: str = ""
    unsure: tuple[str, ...] = ()
    positive: str = ""
    control: str = ""

    @property
    def notched(self) -> bool:
        """Whether it is only ever at its nodes."""
        return bool(self.notches)

    def words(self, q: float) -> str:
        """A position of it in words."""
        if self.notched:
            nearest = min(range(len(self.nodes)), key=lambda n: abs(self.nodes[n] - q))
            return f"{self.name} {self.notches[nearest]}"
        shown = f"{math.degrees(q):.1f}°" if self.unit == "rad" else f"{q * 1e3:.0f} mm"
        way = f" ({self.positive})" if self.positive and q > 0.0 else ""
        return f"{self.name} {shown.replace('-', '−')}{way}"


@dataclass(frozen=True)
class Moved:
    """A rod or a cable. poses: (a node of each axis …, corners, 3), m. joined: bodies that its
    ends are held by. radius_m: None while nobody said how thick it is."""

    kind: str
    slug: str
    name: str
    radius_m: float | None
    axes: tuple[str, ...]
    poses: Array
    joined: tuple[str, ...] = ()
    control: str = ""
    link: str = ""


@dataclass(frozen=True)
class Carrier:
    """A body to which things are fixed. turn: (a node of each axis …, 3, 3), shift: (…, 3): a
    point p given at reference lies at turn p + shift."""

    id: str
    name: str
    axes: tuple[str, ...]
    turn: Array
    shift: Array
    control: str = ""


@dataclass(frozen=True)
class Deflected:
    """How far a surface is deflected, rad, at each node of its axes."""

    slug: str
    name: str
    axes: tuple[str, ...]
    values: Array
    control: str = ""


@dataclass(frozen=True)
class Movement:
    """All that is known to move. unsaid: what could not be worked out, in words."""

    axes: tuple[Axis, ...] = ()
    moved: tuple[Moved, ...] = ()
    carriers: tuple[Carrier, ...] = ()
    surfaces: tuple[Deflected, ...] = ()
    unsaid: tuple[str, ...] = ()

    def __add__(self, other: Movement) -> Movement:
        """Both. An axis that both tell is one."""
        axes = {a.id: a for a in (*self.axes, *other.axes)}
        return Movement(
            tuple(axes.values()),
            self.moved + other.moved,
            self.carriers + other.carriers,
            self.surfaces + other.surfaces,
            self.unsaid + other.unsaid,
        )


@dataclass(frozen=True)
class Beyond:
    """What is said of controls besides what their trades know, by their addresses.

    stretch: how far a surface goes beyond its travel when pushed, rad: cables stretch, stops give.
    settled: settings that stay at their notches in use, as (control, input).
    """

    stretch: Mapping[str, float] = field(default_factory=dict)
    settled: frozenset[tuple[str, str]] = frozenset()
