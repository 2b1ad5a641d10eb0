"""What things are fixed to, as tables: levers of linkages, and what rows say turns or slides."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np

from core.basis.quantities import parse
from core.basis.refused import Refused
from core.clearance.distance import Array
from core.runs.moved import Axis, Carrier, Deflected

# Movers carried by movers, at most so many deep.
CARRIED, NODES = 4, 33


@dataclass(frozen=True)
class Frame:
    """Where a body lies at each node of its axes: turn (…, 3, 3) and shift (…, 3). axis: its own,
    of a mover of rows. control: of which control it is a part."""

    body: str
    axes: tuple[str, ...]
    turn: Array
    shift: Array
    axis: Axis | None = None
    control: str = ""

    def carry(self, points: Array) -> Array:
        """Points given at reference, at each node: (…, points, 3)."""
        return np.einsum("...ij,pj->...pi", self.turn, points) + self.shift[..., None, :]

    def on(self, carrier: Frame, axes: Mapping[str, Axis]) -> Frame:
        """Carried by another, each at every node of the axes of both."""
        names = tuple(dict.fromkeys((*carrier.axes, *self.axes)))
        outer, far = _spread(carrier, names, axes)
        inner, near = _spread(self, names, axes)
        turn = outer @ inner
        shift = np.einsum("...ij,...j->...i", outer, near) + far
        return replace(
            self, axes=names, turn=turn, shift=shift, control=self.control or carrier.control
        )


def _spread(f: Frame, names: Sequence[str], axes: Mapping[str, Axis]) -> tuple[Array, Array]:
    kept = [n for n in names if n in f.axes]
    order = [f.axes.index(n) for n in kept]
    shape = [len(axes[n].nodes) if n in f.axes else 1 for n in names]
    turn = np.moveaxis(f.turn, order, range(len(order))).reshape(*shape, 3, 3)
    shift = np.moveaxis(f.shift, order, range(len(order))).reshape(*shape, 3)
    full = [len(axes[n].nodes) for n in names]
    return np.broadcast_to(turn, (*full, 3, 3)), np.broadcast_to(shift, (*full, 3))


def still() -> Frame:
    """Of what stands where it is."""
    return Frame("", (), np.eye(3), np.zeros(3))


def framed(c: Carrier) -> Frame:
    """A lever of a linkage."""
    return Frame(c.id, c.axes, c.turn, c.shift, control=c.control)


def rotations(axis: Array, angles: Array) -> Array:
    """Right-handed about an axis of length one: (…, 3, 3)."""
    x, y, z = axis
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    s, c = np.sin(angles)[..., None, None], np.cos(angles)[..., None, None]
    turned: Array = np.eye(3) + s * k + (1.0 - c) * (k @ k)
    return turned


def _direction(given: Sequence[float], key: str) -> Array:
    long = math.sqrt(sum(x * x for x in given))
    if long < 1e-9:
        raise Refused(key, "has no length: it gives no direction")
    return np.array(given) / long


def _hinge(v: Mapping[str, Any]) -> tuple[Array, Array]:
    for key, name in (("origin", "origin_m"), ("axis", "axis")):
        if name not in v:
            raise Refused(key, "is needed of what turns")
    return np.array(v["origin_m"]), _direction(v["axis"], "axis")


def _turning(origin: Array, axis: Array, angles: Array) -> tuple[Array, Array]:
    turn = rotations(axis, angles)
    return turn, origin - np.einsum("...ij,j->...i", turn, origin)


def frame_of_surface(r: Any, surface: Deflected) -> Frame:
    """A mover that follows a surface, by a ratio of its angle."""
    origin, axis = _hinge(r.values)
    ratio = r.values.get("ratio", 1.0)
    if ratio == 0.0:
        raise Refused("ratio", "of zero moves nothing")
    turn, shift = _turning(origin, axis, ratio * np.asarray(surface.values))
    return Frame(f"mover {r.slug}", surface.axes, turn, shift, control=surface.control)


def frame_of_mover(r: Any) -> Frame:
    """A mover over a range of its own: a door, a canopy, an adjustment."""
    v = r.values
    slides = "slide" in v
    if slides and ("axis" in v or "origin_m" in v):
        raise Refused("slide", "give a hinge or a slide, not both")
    nodes, notches = _nodes(v, slides)
    unit = "m" if slides else "rad"
    axis = Axis(f"mover/{r.slug}", r.name, unit, nodes, notches, "its own range")
    q = np.array(nodes)
    if slides:
        shift = q[:, None] * _direction(v["slide"], "slide")
        turn = np.broadcast_to(np.eye(3), (len(q), 3, 3))
    else:
        turn, shift = _turning(*_hinge(v), q)
    return Frame(f"mover {r.slug}", (axis.id,), turn, shift, axis)


def _nodes(v: Mapping[str, Any], slides: bool) -> tuple[tuple[float, ...], tuple[str, ...]]:
    if "notches" in v:
        read = [(_notch(text, slides), str(text).strip()) for text in v["notches"]]
        read.sort()
        if len(read) < 2 or any(a[0] == b[0] for a, b in pairwise(read)):
            raise Refused("notches", "needs two places or more, each once")
        return tuple(q for q, _ in read), tuple(t for _, t in read)
    low_key, high_key = ("slide_from", "slide_to") if slides else ("from", "to")
    low, high = (v.get("from_m", 0.0), v.get("to_m")) if slides else (
        v.get("from_rad", 0.0), v.get("to_rad")
    )  # fmt: skip
    if high is None:
        raise Refused(high_key, "how far does it go?")
    if high <= low:
        raise Refused(high_key, f"must be more than {low_key.replace('_', ' ')}")
    if not slides and high - low > 2.0 * math.pi:
        raise Refused(high_key, "is more than a full turn")
    return tuple(float(q) for q in np.linspace(low, high, NODES)), ()


def _notch(text: str, slides: bool) -> float:
    if slides:
        return parse(text, "length", "mm", "notches").si
    return parse(text, "angle", "deg", "notches").si
