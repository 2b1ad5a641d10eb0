"""What an arm can still reach once closures are on (`clearance.reach`).

The arm goes through one opening of the skin and at most one inner opening, each wide
enough; its length is the least |ab| + |b item|, a in the one and b in the other. For fixed
b the nearest a is found directly, and the rest is convex in b, so that nested golden
sections find the least. Says nothing of tools, sight or two hands.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from core.basis.refused import Refused, choice, not_negative, positive
from core.runs.bays import Box, Point, bays_of

OUTSIDE = "outside"
_TIE = 1e-9
_GOLDEN = (math.sqrt(5.0) - 1.0) / 2.0
_STEPS = 44


@dataclass(frozen=True)
class Opening:
    """A hole between two spaces; `closure` None is a plain hole, always open."""

    id: str
    between: tuple[str, str]
    box: Box
    width: float
    closure: str | None = None
    open: bool = True


@dataclass(frozen=True)
class Item:
    """Something to reach. `two_hands` asks for two openings of the skin."""

    id: str
    point: Point
    two_hands: bool = False
    not_through: tuple[str, ...] = field(default=())


@dataclass(frozen=True)
class Reach:
    """now, by opening, lost, never; the arm's length, m (None: no way); the openings."""

    status: str
    reach: float | None
    path: tuple[str, ...]


@dataclass(frozen=True)
class _Way:
    path: tuple[str, ...]
    length: float
    openings: tuple[Opening, ...]


def reach(
    items: Sequence[Item],
    bays: Sequence[Box],
    openings: Sequence[Opening],
    closing: Sequence[str],
    arm: float,
    arm_width: float,
) -> dict[str, Reach]:
    """For each item, its status after closing these openings, and the way to it.

    arm, arm_width: the user's own, m. Refuses an unknown closure, one without a closure,
    unknown bays, and an arm that is not positive.
    """
    positive(arm, "arm")
    not_negative(arm_width, "arm_width")
    known = {o.id: o for o in openings}
    for name in closing:
        if name not in known:
            raise Refused("closing", f"there is no opening {name}")
        if known[name].closure is None:
            raise Refused("closing", f"{name} has no closure")
    _check(openings, {b.id for b in bays})
    wide = [o for o in openings if o.width >= arm_width]
    return {i.id: _status(i, _ways(i, bays, wide), set(closing), arm) for i in items}


def _check(openings: Sequence[Opening], bays: set[str]) -> None:
    for o in openings:
        where = f"openings.{o.id}"
        if len(set(o.between)) != 2 or not set(o.between) <= bays | {OUTSIDE}:
            raise Refused(where, "must lie between two bays, or a bay and outside")
        if o.closure is not None:
            choice(o.closure, ("removable", "permanent"), where)
        not_negative(o.width, where)


def _status(item: Item, ways: Sequence[_Way], closing: set[str], arm: float) -> Reach:
    def least(allowed: Sequence[_Way]) -> _Way | None:
        return _least(allowed, item.two_hands)

    stays = [w for w in ways if all(_stays_open(o, closing) for o in w.openings)]
    opens = [w for w in ways if all(_can_open(o, closing) for o in w.openings)]
    before = [w for w in ways if all(_can_open(o, set()) for o in w.openings)]
    now, after, was = least(stays), least(opens), least(before)
    if now is not None and now.length <= arm + _TIE:
        return Reach("now", now.length, now.path)
    if after is not None and after.length <= arm + _TIE:
        return Reach("by opening", after.length, after.path)
    status = "lost" if was is not None and was.length <= arm + _TIE else "never"
    if after is None:
        return Reach(status, None, ())
    return Reach(status, after.length, after.path)


def _stays_open(o: Opening, closing: set[str]) -> bool:
    return o.closure is None or (o.open and o.id not in closing)


def _can_open(o: Opening, closing: set[str]) -> bool:
    """Open after closing these, or removable so that it can be opened again."""
    return _stays_open(o, closing) or o.closure == "removable"


def _least(ways: Sequence[_Way], two_hands: bool) -> _Way | None:
    """The shortest way; on a tie the smallest path. For two hands, the second skin opening."""
    best: dict[str, _Way] = {}
    for w in sorted(ways, key=lambda w: (round(w.length / _TIE), w.path)):
        best.setdefault(w.path[0], w)
    ranked = list(best.values())
    wanted = 2 if two_hands else 1
    return ranked[wanted - 1] if len(ranked) >= wanted else None


def _ways(item: Item, bays: Sequence[Box], openings: Sequence[Opening]) -> list[_Way]:
    inside = set(bays_of(item.point, bays))
    usable = [o for o in openings if o.id not in item.not_through]
    skin = [o for o in usable if OUTSIDE in o.between]
    inner = [o for o in usable if OUTSIDE not in o.between]
    ways = []
    for s in skin:
        first = s.between[0] if s.between[1] == OUTSIDE else s.between[1]
        if first in inside:
            ways.append(_Way((s.id,), _to_box(item.point, s.box), (s,)))
        for o in inner:
            if first in o.between and (set(o.between) - {first}) & inside:
                ways.append(_Way((s.id, o.id), _through(item.point, s.box, o.box), (s, o)))
    return ways


def _to_box(p: Sequence[float], box: Box) -> float:
    nearest = [min(max(x, a), b) for x, a, b in zip(p, box.lo, box.hi, strict=True)]
    return math.dist(p, nearest)


@lru_cache(maxsize=65536)
def _through(item: Point, skin: Box, inner: Box) -> float:
    """Least |ab| + |b item| with a in the skin opening and b in the inner one."""
    free = [i for i in range(3) if inner.hi[i] > inner.lo[i]]
    if len(free) > 2:
        raise Refused("openings", "an inner opening must be flat: no thickness on one axis")
    (ax, ay, az), (bx, by, bz) = skin.lo, skin.hi
    ix, iy, iz = item
    at = list(inner.lo)

    def length() -> float:
        x, y, z = at
        dx = ax - x if x < ax else x - bx if x > bx else 0.0
        dy = ay - y if y < ay else y - by if y > by else 0.0
        dz = az - z if z < az else z - bz if z > bz else 0.0
        return math.hypot(dx, dy, dz) + math.hypot(x - ix, y - iy, z - iz)

    def over(axes: Sequence[int]) -> float:
        """The least over these coordinates of b, the others held."""
        if not axes:
            return length()
        axis, rest = axes[0], axes[1:]

        def moved(value: float) -> float:
            at[axis] = value
            return over(rest)

        return _golden(moved, inner.lo[axis], inner.hi[axis])

    return over(free)


def _golden(f: Callable[[float], float], left: float, right: float) -> float:
    """The least value of a convex function between left and right, ends included."""
    best = min(f(left), f(right))
    c, d = right - _GOLDEN * (right - left), left + _GOLDEN * (right - left)
    fc, fd = f(c), f(d)
    for _ in range(_STEPS):
        if fc <= fd:
            right, d, fd = d, c, fc
            c = right - _GOLDEN * (right - left)
            fc = f(c)
        else:
            left, c, fc = c, d, fd
            d = left + _GOLDEN * (right - left)
            fd = f(d)
    return min(best, fc, fd)
