"""Many runs at once: which pairs come near each other (`clearance.many_runs`).

Every straight gets a box over all its poses; boxes that meet are found with a tree over the plan,
then in height; only those pairs are measured, exactly, at every pose of the controls that either
of them has. A pair may be found that is far, never one missed that is near.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
import shapely

from core.basis.forms import Unit
from core.basis.refused import Refused, not_negative
from core.basis.rules import rule
from core.clearance.distance import Array, between
from core.clearance.words import CAUTION

BLOCK = 200_000
MOST_STRAIGHTS, MOST_RUNS = 60_000, 10_000
NODES = 9


@dataclass(frozen=True)
class Posed:
    """A run at every pose. controls: which move it, rising; points: (poses, corners, 3), the last
    control's poses next to each other; radii: of each straight, with its allowance."""

    controls: tuple[int, ...]
    points: Array
    radii: Array


@dataclass(frozen=True)
class Near:
    """Pairs of runs that come near: least gap at the poses looked at, m, and where. spread: a gap
    between poses may be less by that."""

    a: Array
    b: Array
    gap: Array
    straight_a: Array
    straight_b: Array
    pose_a: Array
    pose_b: Array
    spread: Array


@dataclass(frozen=True)
class _Flat:
    """All straights of all runs in one row."""

    points: Array
    base: Array
    corners: Array
    run: Array
    first: Array
    radius: Array
    spread: Array

    def ends(self, straight: Array, pose: Array) -> tuple[Array, Array]:
        """Both ends of straights at poses that broadcast with them."""
        run = self.run[straight]
        at = self.base[run] + pose * self.corners[run] + self.first[straight]
        return self.points[at], self.points[at + 1]


def spreads(r: Posed, nodes: Sequence[int]) -> Array:
    """Half of the longest way of each straight from pose to pose, over all its controls, m."""
    sizes = [nodes[c] for c in r.controls]
    if not sizes:
        return np.zeros(r.points.shape[1] - 1)
    grid = r.points.reshape(*sizes, *r.points.shape[1:])
    total = np.zeros(r.points.shape[1])
    for axis in range(len(sizes)):
        moved = np.linalg.norm(np.diff(grid, axis=axis), axis=-1)
        total += moved.reshape(-1, r.points.shape[1]).max(axis=0, initial=0.0)
    half: Array = np.maximum(total[:-1], total[1:]) / 2.0
    return half


def _flat(runs: Sequence[Posed], nodes: Sequence[int]) -> _Flat:
    corners = np.array([r.points.shape[1] for r in runs])
    sizes = np.array([r.points.shape[0] * r.points.shape[1] for r in runs])
    straights = corners - 1
    return _Flat(
        np.concatenate([r.points.reshape(-1, 3) for r in runs]),
        np.concatenate([[0], np.cumsum(sizes)[:-1]]),
        corners,
        np.repeat(np.arange(len(runs)), straights),
        np.concatenate([np.arange(n) for n in straights]),
        np.concatenate([r.radii for r in runs]),
        np.concatenate([spreads(r, nodes) for r in runs]),
    )


def _boxes(runs: Sequence[Posed], f: _Flat) -> tuple[Array, Array]:
    """Low and high corners over all poses, without radius."""
    low, high = [], []
    for r in runs:
        lo, hi = r.points.min(axis=0), r.points.max(axis=0)
        low.append(np.minimum(lo[:-1], lo[1:]))
        high.append(np.maximum(hi[:-1], hi[1:]))
    return np.concatenate(low), np.concatenate(high)


def candidates(
    runs: Sequence[Posed], f: _Flat, reach: float, samples_only: bool
) -> tuple[Array, Array]:
    """Pairs of straights of different runs whose boxes meet, a's run before b's."""
    low, high = _boxes(runs, f)
    grown = f.radius + reach / 2.0 + (0.0 if samples_only else f.spread)
    low, high = low - grown[:, None], high + grown[:, None]
    plan = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    left, right = shapely.STRtree(plan).query(plan)
    keep = f.run[left] < f.run[right]
    left, right = left[keep], right[keep]
    meet = (low[left, 2] <= high[right, 2]) & (low[right, 2] <= high[left, 2])
    return left[meet], right[meet]


def _poses(a: tuple[int, ...], b: tuple[int, ...], nodes: Sequence[int]) -> tuple[Array, Array]:
    """For every pose of the controls of both: which pose of a, which of b."""
    union = sorted({*a, *b})
    grids = np.meshgrid(*(np.arange(nodes[c]) for c in union), indexing="ij")
    at = {c: g.ravel() for c, g in zip(union, grids, strict=True)}

    def own(controls: tuple[int, ...]) -> Array:
        index = np.zeros(1 if not union else len(at[union[0]]), dtype=int)
        for c in controls:
            index = index * nodes[c] + at[c]
        return index

    return own(a), own(b)


def near_pairs(
    runs: Sequence[Posed], nodes: Sequence[int], reach: float, samples_only: bool = False
) -> Near:
    """Every pair of runs that comes within `reach` at a pose (or may between poses).

    nodes: how many positions of each control. samples_only: nothing is added for what lies
    between poses.
    """
    f = _flat(runs, nodes)
    left, right = candidates(runs, f, reach, samples_only)
    kinds = sorted({r.controls for r in runs})
    kind = np.array([kinds.index(r.controls) for r in runs])
    group = kind[f.run[left]] * len(kinds) + kind[f.run[right]]
    gaps = np.full(len(left), np.inf)
    pa, pb = np.zeros(len(left), dtype=int), np.zeros(len(left), dtype=int)
    for g in np.unique(group):
        a, b = kinds[int(g) // len(kinds)], kinds[int(g) % len(kinds)]
        at_a, at_b = _poses(a, b, nodes)
        members = np.flatnonzero(group == g)
        step = max(1, BLOCK // len(at_a))
        for start in range(0, len(members), step):
            some = members[start : start + step]
            p = f.ends(left[some][:, None], at_a[None, :])
            q = f.ends(right[some][:, None], at_b[None, :])
            d = between(*p, *q)[0]
            best = np.argmin(d, axis=1)
            gaps[some] = np.take_along_axis(d, best[:, None], axis=1)[:, 0]
            pa[some], pb[some] = at_a[best], at_b[best]
    gaps -= f.radius[left] + f.radius[right]
    return _of_runs(f, left, right, gaps, pa, pb, reach, samples_only, len(runs))


def _of_runs(
    f: _Flat, left: Array, right: Array, gaps: Array, pa: Array, pb: Array, reach: float,
    samples_only: bool, count: int,
) -> Near:  # fmt: skip
    """The least of each pair of runs, and only those within reach."""
    spread = f.spread[left] + f.spread[right]
    low = gaps if samples_only else gaps - spread
    key = f.run[left] * count + f.run[right]
    order = np.lexsort((low, key))
    first = np.ones(len(order), dtype=bool)
    first[1:] = key[order][1:] != key[order][:-1]
    one = order[first]
    one = one[low[one] < reach]
    return Near(
        f.run[left[one]], f.run[right[one]], gaps[one], f.first[left[one]], f.first[right[one]],
        pa[one], pb[one], spread[one],
    )  # fmt: skip


@dataclass(frozen=True)
class Crowd:
    """What was found among them."""

    pairs: Annotated[int, "Pairs of runs under the rule."]
    touching: Annotated[int, "Of them those that touch."]
    sum_gap: Annotated[float, "Of their gaps.", Unit("m")]
    least: Annotated[float, "The least.", Unit("m")]


def crowd(seed: int, count: int, segments: int, moving: int) -> list[Posed]:
    """Made-up runs of the benchmark; the first `moving` turn about their own first point."""
    rng = np.random.default_rng(seed)
    start = rng.uniform([0.0, -4.4, 0.0], [5.0, 4.4, 1.0], (count, 3))
    main = rng.integers(0, 2, count)
    step = rng.normal(0.0, 0.05, (count, segments, 3))
    step[np.arange(count)[:, None], np.arange(segments)[None, :], main[:, None]] += 0.15
    points = np.concatenate(
        [start[:, None, :], start[:, None, :] + np.cumsum(step, axis=1)], axis=1
    )
    radii = rng.uniform(0.001, 0.008, count)
    runs = []
    for n in range(count):
        posed: Array = points[n][None]
        controls: tuple[int, ...] = ()
        if n < moving:
            posed, controls = _turned(points[n], n % 2), (n % 2,)
        runs.append(Posed(controls, posed, np.full(segments, radii[n])))
    return runs


def _turned(points: Array, control: int) -> Array:
    q = np.linspace(-1.0, 1.0, NODES)[:, None] * (0.35, 0.40)[control]
    c, s = np.cos(q), np.sin(q)
    x, y, z = (points - points[0]).T
    if control == 0:
        turned = [c * x + s * z, np.broadcast_to(y, (NODES, len(y))), -s * x + c * z]
    else:
        turned = [c * x - s * y, s * x + c * y, np.broadcast_to(z, (NODES, len(z)))]
    return np.stack(turned, axis=-1) + points[0]


@rule(
    "clearance.many_runs",
    title="Many runs at once",
    purpose="Of thousands of made-up runs, how many pairs come too near, and how near?",
    source="Boxes in a tree, then exact distances; a benchmark with made-up runs.",
    validity="At sampled poses only; judged pairs are searched between them too.",
    caution=CAUTION,
)
def many_runs(
    seed: Annotated[int, "Of the made-up runs."],
    runs: Annotated[int, "How many."],
    segments: Annotated[int, "Straights of each."],
    moving: Annotated[int, "How many of them move."],
    rule: Annotated[float, "Least distance.", Unit("m")],
) -> Crowd:
    """Counts of the benchmark. Refuses none, too many, more that move than there are."""
    for name, value in (("runs", runs), ("segments", segments)):
        if value < 1:
            raise Refused(name, "needs at least one")
    if runs > MOST_RUNS or runs * segments > MOST_STRAIGHTS:
        raise Refused("runs", f"at most {MOST_RUNS}, with {MOST_STRAIGHTS} straights together")
    if not 0 <= moving <= runs:
        raise Refused("moving", "must be among the runs")
    if seed < 0:
        raise Refused("seed", "must not be negative")
    least = not_negative(rule, "rule")
    if least > 1.0:
        raise Refused("rule", "at most 1 m")
    found = near_pairs(crowd(seed, runs, segments, moving), (NODES, NODES), least, True)
    if not len(found.gap):
        raise Refused("runs", "none comes under the rule: there is no least gap to tell")
    return Crowd(
        len(found.gap), int((found.gap <= 0.0).sum()), float(found.gap.sum()),
        float(found.gap.min()),
    )  # fmt: skip


def every_pair(runs: Sequence[Posed], nodes: Sequence[int]) -> dict[tuple[int, int], float]:
    """The same by brute force: each straight against each, at every pose."""
    found = {}
    for (n, a), (m, b) in itertools.combinations(enumerate(runs), 2):
        at_a, at_b = _poses(a.controls, b.controls, nodes)
        p, q = a.points[at_a], b.points[at_b]
        d, _, _ = between(p[:, :-1, None], p[:, 1:, None], q[:, None, :-1], q[:, None, 1:])
        found[n, m] = float((d - a.radii[:, None] - b.radii).min())
    return found
