"""Every loading that is possible, as mass and moment: a convex figure.

For every mass the least moment of a possible loading is a linear programme; over all masses it is
convex and piecewise linear. Its corners are walked from the least loading on: what is paid for
mass (a price) rises, and each time one more load becomes worth moving, the loading steps along an
edge of the polytope to the next corner (the simplex method with a parametric objective and
bounded variables). Exact: no sampling, no tolerance but rounding.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

SLACK = 1e-12
MOST_STEPS = 10_000


@dataclass(frozen=True)
class Reach:
    """A corner: kg of all loads together, their moment, and each load."""

    mass: float
    moment: float
    loads: tuple[float, ...]


def between(a: Reach, b: Reach, mass: float) -> Reach:
    """On the edge of two corners."""
    t = 0.0 if b.mass == a.mass else (mass - a.mass) / (b.mass - a.mass)
    mix = tuple(u + t * (v - u) for u, v in zip(a.loads, b.loads, strict=True))
    return Reach(mass, a.moment + t * (b.moment - a.moment), mix)


@dataclass
class Tableau:
    """The simplex tableau: rows of the basic variables in terms of the others.

    Variables: a load each (0 to its room), then a slack of each group. `value` is each variable's;
    `up`: a variable outside the basis that stands at its upper bound.
    """

    room: list[float]
    rows: list[list[float]]
    basis: list[int]
    value: list[float]
    mass: list[float]
    cost: list[float]
    up: list[bool] = field(default_factory=list)

    def next_in(self, price: float) -> tuple[int, float] | None:
        """The variable that becomes worth moving first as the price of mass rises, and the
        price."""
        best: tuple[float, int] | None = None
        basic = set(self.basis)
        for j, w in enumerate(self.mass):
            if j in basic or self.room[j] <= 0.0:
                continue
            gains = -w if self.up[j] else w
            if gains > SLACK:
                ratio = max(price, self.cost[j] / w)
                if best is None or ratio < best[0] - SLACK:
                    best = (ratio, j)
        return None if best is None else (best[1], best[0])

    def step(self, j: int) -> None:
        """Move a variable until something meets its bound."""
        way = -1.0 if self.up[j] else 1.0
        most, leaving, to_upper = self.room[j], -1, False
        for i, row in enumerate(self.rows):
            rate, b = -row[j] * way, self.basis[i]
            if rate > SLACK:
                limit, upper = (self.room[b] - self.value[b]) / rate, True
            elif rate < -SLACK:
                limit, upper = self.value[b] / -rate, False
            else:
                continue
            if limit < most - SLACK or (limit <= most and leaving >= 0 and b < self.basis[leaving]):
                most, leaving, to_upper = max(limit, 0.0), i, upper
        for i, row in enumerate(self.rows):
            self.value[self.basis[i]] -= row[j] * way * most
        self.value[j] += way * most
        if leaving < 0:
            self.up[j] = not self.up[j]
            return
        self._pivot(leaving, j, to_upper)

    def _pivot(self, i: int, j: int, to_upper: bool) -> None:
        out = self.basis[i]
        pivot = self.rows[i][j]
        self.rows[i] = [a / pivot for a in self.rows[i]]
        for k, row in enumerate(self.rows):
            if k != i and row[j]:
                self.rows[k] = _less(row, row[j], self.rows[i])
        if self.mass[j]:
            self.mass = _less(self.mass, self.mass[j], self.rows[i])
        if self.cost[j]:
            self.cost = _less(self.cost, self.cost[j], self.rows[i])
        self.basis[i], self.up[j] = j, False
        self.up[out] = to_upper
        self.value[out] = self.room[out] if to_upper else 0.0


def _less(row: list[float], by: float, other: list[float]) -> list[float]:
    return [a - by * b for a, b in zip(row, other, strict=True)]


def corners(
    arms: Sequence[float],
    least: Sequence[float],
    most: Sequence[float],
    groups: Sequence[tuple[Sequence[int], float]],
) -> list[Reach]:
    """The corners of the least moment over mass, by rising mass.

    arms of the loads, m; their least and greatest, kg; groups: which loads, and how much they may
    be together (at least their least loads).
    """
    count = len(arms)
    room = [b - a for a, b in zip(least, most, strict=True)]
    rows, basis = [], []
    for g, (names, _) in enumerate(groups):
        row = [1.0 if i in names else 0.0 for i in range(count)]
        rows.append(row + [1.0 if k == g else 0.0 for k in range(len(groups))])
        basis.append(count + g)
    slack = [limit - math.fsum(least[i] for i in names) for names, limit in groups]
    t = Tableau(
        room=room + [math.inf] * len(groups),
        rows=rows,
        basis=basis,
        value=[0.0] * count + slack,
        mass=[1.0] * count + [0.0] * len(groups),
        cost=[float(a) for a in arms] + [0.0] * len(groups),
        up=[False] * (count + len(groups)),
    )
    found, price = [_corner(t, arms, least)], -math.inf
    for _ in range(MOST_STEPS):
        following = t.next_in(price)
        if following is None:
            break
        j, price = following
        t.step(j)
        here = _corner(t, arms, least)
        if here.mass > found[-1].mass + SLACK * max(1.0, here.mass):
            found.append(here)
    return found


def _corner(t: Tableau, arms: Sequence[float], least: Sequence[float]) -> Reach:
    # Rounding must not carry a load past its bounds.
    loads = tuple(
        low + min(max(v, 0.0), room) for low, v, room in zip(least, t.value, t.room, strict=False)
    )
    moment = math.fsum(m * x for m, x in zip(loads, arms, strict=True))
    return Reach(math.fsum(loads), moment, loads)
