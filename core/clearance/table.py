"""Things of which it is known where they lie at each position of their controls, and how near two
of them come over all positions, with a bound.

Between the nodes of its table a thing's corners go straight; how far they really are from that is
an allowance of its own (`bend`), from how their way curves at the nodes.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from core.clearance.distance import Array, between, to_box
from core.clearance.search import Found, Pairs, least_of
from core.runs.moved import Axis

# What a way departs from straight within a step is an eighth of its second difference; this much
# more is allowed.
SAFE, TOL_M, MOST = 1.5, 2e-5, 200_000
MOST_CONTINUOUS = 2


@dataclass(frozen=True)
class Thing:
    """Something that takes room.

    poses: (a node of each axis …, corners, 3), m; of a box its middle and the tips of its three
    axes there, `half` its half sizes. radius_m: of each straight, with its allowance: bare, and
    what is added. u_m: standard uncertainty of its corners; None: not said. body: what it is
    fixed to; joined: bodies that it is held by. control: of which control it is a part.
    """

    key: str
    kind: str
    name: str
    axes: tuple[str, ...]
    poses: Array
    radius_m: float
    allowance: Array
    half: Array | None = None
    u_m: float | None = None
    unsure: tuple[str, ...] = ()
    body: str = ""
    joined: tuple[str, ...] = ()
    control: str = ""
    link: str = ""
    pushed: bool = False
    held_to: frozenset[str] = frozenset()
    guarded: frozenset[str] = frozenset()
    supports_m: tuple[float, ...] = ()
    row: str = ""

    @property
    def rest(self) -> Array:
        """Its corners at the first node of everything: as told where nothing moves it."""
        return self.poses.reshape(-1, *self.poses.shape[-2:])[0]

    @property
    def straights(self) -> int:
        """How many; a box counts as one."""
        return 1 if self.half is not None else int(self.poses.shape[-2]) - 1

    @cached_property
    def radii(self) -> Array:
        """Of each straight, with allowance."""
        return self.radius_m + self.allowance

    def bend(self, axes: Mapping[str, Axis]) -> float:
        """How far it may be from where its table has it between nodes, m."""
        total = 0.0
        for n, name in enumerate(self.axes):
            if axes[name].notched or self.poses.shape[n] < 3:
                continue
            q = np.array(axes[name].nodes)
            shape = [1] * self.poses.ndim
            shape[n] = -1
            steps = np.diff(q)
            slope = np.diff(self.poses, axis=n) / steps.reshape(shape)
            curve = np.diff(slope, axis=n) / ((steps[1:] + steps[:-1]) / 2.0).reshape(shape)
            far = float(np.linalg.norm(curve, axis=-1).max())
            total += SAFE * far * float(steps.max()) ** 2 / 8.0
        return total * (1.0 if self.half is None else 1.0 + float(np.linalg.norm(self.half)))

    def box_of(self) -> tuple[Array, Array]:
        """Low and high corner over all its positions, with radius."""
        points = self.poses.reshape(-1, *self.poses.shape[-2:])
        if self.half is not None:
            far = np.linalg.norm(self.half)
            return points[:, 0].min(axis=0) - far, points[:, 0].max(axis=0) + far
        grown = float(self.radii.max())
        flat = points.reshape(-1, 3)
        return flat.min(axis=0) - grown, flat.max(axis=0) + grown


@dataclass(frozen=True)
class Nearest:
    """How near two things come. gap_m: attained, with allowances; low_m: nowhere less; bare_m:
    without allowances, there. at: by axis. Shares s, t along straights i of a and j of b."""

    gap_m: float
    low_m: float
    bare_m: float
    at: Mapping[str, float]
    on_a: tuple[float, ...]
    on_b: tuple[float, ...]
    i: int
    j: int
    s: float
    t: float
    evaluations: int


class TooMany(Exception):
    """More controls move the pair than one search can take; their names."""


def axes_of(a: Thing, b: Thing, axes: Mapping[str, Axis]) -> tuple[Axis, ...]:
    """Those that move the pair, notches last. Things fixed to one body do not move against each
    other."""
    named = dict.fromkeys((*a.axes, *b.axes))
    found = [axes[n] for n in named]
    return tuple(sorted(found, key=lambda x: x.notched))


def spread(thing: Thing, over: Sequence[Axis]) -> Array:
    """Its poses on the grid of these axes: (…, corners, 3), one where it does not move."""
    kept = [x.id for x in over if x.id in thing.axes]
    order = [thing.axes.index(n) for n in kept]
    poses = np.moveaxis(thing.poses, order, range(len(order)))
    shape = [len(x.nodes) if x.id in thing.axes else 1 for x in over]
    return poses.reshape(*shape, *poses.shape[-2:])


@dataclass(frozen=True)
class Cells:
    """Cells of the grid: the corner nodes of each, (cells, 2 ** axes, axes)."""

    corners: Array
    shares: tuple[tuple[int, ...], ...]

    @classmethod
    def of(cls, over: Sequence[Axis]) -> Cells:
        """Of continuous axes between neighbours, of notched ones at each notch."""
        ways = tuple(itertools.product((0, 1), repeat=len(over)))
        sizes = [len(x.nodes) if x.notched or len(x.nodes) == 1 else len(x.nodes) - 1 for x in over]
        low = np.zeros((1, 0), dtype=int)
        if over:
            grid = np.stack(np.meshgrid(*map(np.arange, sizes), indexing="ij"), axis=-1)
            low = grid.reshape(-1, len(over))
        step = np.array([0 if x.notched or len(x.nodes) == 1 else 1 for x in over], dtype=int)
        corners = low[:, None, :] + np.array(ways, dtype=int).reshape(len(ways), -1) * step
        return cls(corners, ways)


class Pair:
    """Two things over all positions of what moves them."""

    def __init__(self, a: Thing, b: Thing, axes: Mapping[str, Axis]) -> None:
        """Refuses more continuous controls than can be searched (`TooMany`)."""
        if a.half is not None:
            raise ValueError("a box comes second")
        self.a, self.b = a, b
        self.over = axes_of(a, b, axes)
        continuous = [x for x in self.over if not x.notched]
        if len(continuous) > MOST_CONTINUOUS:
            raise TooMany(", ".join(x.name for x in continuous))
        pa, pb = spread(a, self.over), spread(b, self.over)
        if b.half is not None:
            pa, pb = _inside(pa, pb), np.zeros((*(1 for _ in self.over), 2, 3))
        self.pa, self.pb = pa, pb
        self.cells = Cells.of(self.over)
        self.bend = a.bend(axes) + b.bend(axes)
        self.weights = np.array(self.cells.shares, dtype=float).reshape(len(self.cells.shares), -1)

    def _corners(self, poses: Array, cell: Array, straight: Array, end: int) -> Array:
        """(N, 2 ** axes, 3): an end of straights at the corner nodes of cells."""
        at = self.cells.corners[cell]
        index = tuple(np.minimum(at[..., n], poses.shape[n] - 1) for n in range(len(self.over)))
        return poses[(*index, straight[:, None] + end)]

    def _weights(self, q: Array) -> Array:
        """Of each corner at shares q (N, axes) of the cells: (N, 2 ** axes)."""
        w = np.ones((len(q), len(self.weights)))
        for n in range(len(self.over)):
            w = w * np.where(self.weights[:, n] > 0, q[:, n, None], 1.0 - q[:, n, None])
        return w

    def _speed(self, poses: Array, straight: Array, cell: Array) -> Array:
        """Greatest way of a straight across a cell along each axis: (N, axes)."""
        found = np.zeros((len(cell), len(self.over)))
        ways = self.cells.shares
        for end in (0, 1):
            at = self._corners(poses, cell, straight, end)
            for n in range(len(self.over)):
                for k, way in enumerate(ways):
                    if way[n]:
                        back = ways.index((*way[:n], 0, *way[n + 1 :]))
                        moved = np.linalg.norm(at[:, k] - at[:, back], axis=-1)
                        found[:, n] = np.maximum(found[:, n], moved)
        return found

    def least(self, tol: float = TOL_M, most: int = MOST) -> Nearest:
        """Branch and bound in every cell at once."""
        na, nb = self.a.straights, self.b.straights
        i, j = (x.ravel() for x in np.meshgrid(np.arange(na), np.arange(nb), indexing="ij"))
        i, j = self._likely(i, j)
        cells = len(self.cells.corners)
        cell = np.repeat(np.arange(cells), len(i))
        si, sj = np.tile(i, cells), np.tile(j, cells)
        L = self._speed(self.pa, si, cell)
        if self.b.half is None:
            L = L + self._speed(self.pb, sj, cell)
        radii = self.a.radii[si] + self.b.radii[sj]
        if not self.over:
            L = np.zeros((len(cell), 1))

        def gap(which: Array, q: Array) -> Array:
            return self._at(cell[which], si[which], sj[which], q)[0] - radii[which]

        width = max(1, len(self.over))
        found = least_of(
            Pairs(len(cell), L, -radii, gap), np.zeros(width), np.ones(width), tol, most
        )
        return self._nearest(found, int(cell[found.pair]), int(si[found.pair]), int(sj[found.pair]))

    def _likely(self, i: Array, j: Array) -> tuple[Array, Array]:
        """Only straights that can be the nearest: boxes over all positions against what is
        attained somewhere."""
        if len(i) < 8:
            return i, j
        lo_a, hi_a = _extent(self.pa)
        apart = None
        if self.b.half is None:
            lo_b, hi_b = _extent(self.pb)
            apart = np.maximum(lo_a[i] - hi_b[j], lo_b[j] - hi_a[i])
        else:
            apart = np.maximum(lo_a[i] - self.b.half, -self.b.half - hi_a[i])
        low = np.linalg.norm(np.maximum(apart, 0.0), axis=1) - self.a.radii[i] - self.b.radii[j]
        middle = np.full(len(i), len(self.cells.corners) // 2)
        width = max(1, len(self.over))
        here = self._at(middle, i, j, np.full((len(i), width), 0.5))[0]
        best = float((here - self.a.radii[i] - self.b.radii[j]).min())
        keep = low <= best + 1e-12
        return i[keep], j[keep]

    def _at(self, cell: Array, i: Array, j: Array, q: Array) -> tuple[Array, Array, Array]:
        """Distance of middle lines and shares, at shares q of the cells."""
        w = self._weights(q)
        p0, p1 = (np.einsum("nk,nkc->nc", w, self._corners(self.pa, cell, i, e)) for e in (0, 1))
        if self.b.half is not None:
            d, s = to_box(p0, p1, self.b.half)
            return d, s, np.zeros_like(d)
        r0, r1 = (np.einsum("nk,nkc->nc", w, self._corners(self.pb, cell, j, e)) for e in (0, 1))
        return between(p0, p1, r0, r1)

    def _nearest(self, found: Found, cell: int, i: int, j: int) -> Nearest:
        one = (np.array([cell]), np.array([i]), np.array([j]))
        q = found.at[None, :]
        d, s, t = (float(x[0]) for x in self._at(*one, q))
        at = {}
        for n, x in enumerate(self.over):
            lo = self.cells.corners[cell, 0, n]
            hi = self.cells.corners[cell, -1, n]
            at[x.id] = float(x.nodes[lo] + found.at[n] * (x.nodes[hi] - x.nodes[lo]))
        on_a, on_b = self.places(at, i, j, s, t)
        bare = d - self.a.radius_m - self.b.radius_m
        return Nearest(
            found.least, found.not_below - self.bend, bare, at, on_a, on_b, i, j, s, t,
            found.evaluations,
        )  # fmt: skip

    def places(
        self, at: Mapping[str, float], i: int, j: int, s: float, t: float
    ) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """The nearest points in the aircraft."""
        a, b = posed(self.a, self.over, at), posed(self.b, self.over, at)
        on_a = a[i] + s * (a[i + 1] - a[i])
        if self.b.half is None:
            on_b = b[j] + t * (b[j + 1] - b[j])
        else:
            turn = b[1:] - b[0]
            inside = turn @ (on_a - b[0])
            on_b = b[0] + np.clip(inside, -self.b.half, self.b.half) @ turn
        return tuple(float(x) for x in on_a), tuple(float(x) for x in on_b)

    def gap_at(self, at: Mapping[str, float]) -> float:
        """At one position of everything, with allowances."""
        a, b = posed(self.a, self.over, at), posed(self.b, self.over, at)
        if self.b.half is not None:
            turn = b[1:] - b[0]
            inside = (a - b[0]) @ turn.T
            d, _ = to_box(inside[:-1], inside[1:], self.b.half)
            return float((d - self.a.radii).min())
        d, _, _ = between(a[:-1, None], a[1:, None], b[None, :-1], b[None, 1:])
        return float((d - self.a.radii[:, None] - self.b.radii[None, :]).min())


def _inside(pa: Array, pb: Array) -> Array:
    """Corners as they lie in a box's own frame."""
    centre, turn = pb[..., :1, :], pb[..., 1:, :] - pb[..., :1, :]
    return np.einsum("...ij,...pj->...pi", turn, pa - centre)


def _extent(poses: Array) -> tuple[Array, Array]:
    flat = poses.reshape(-1, *poses.shape[-2:])
    lo, hi = flat.min(axis=0), flat.max(axis=0)
    return np.minimum(lo[:-1], lo[1:]), np.maximum(hi[:-1], hi[1:])


def posed(thing: Thing, over: Sequence[Axis], at: Mapping[str, float]) -> Array:
    """Its corners where the axes stand so; what is not said stands nearest to 0."""
    axes = {x.id: x for x in over}
    poses = thing.poses
    for name in thing.axes:
        x = axes[name]
        q = at.get(name, min(x.nodes, key=abs))
        nodes = np.array(x.nodes)
        if x.notched or len(nodes) == 1:
            poses = poses[int(np.argmin(np.abs(nodes - q)))]
            continue
        n = int(np.clip(np.searchsorted(nodes, q) - 1, 0, len(nodes) - 2))
        share = (q - nodes[n]) / (nodes[n + 1] - nodes[n])
        poses = (1.0 - share) * poses[n] + share * poses[n + 1]
    return poses
